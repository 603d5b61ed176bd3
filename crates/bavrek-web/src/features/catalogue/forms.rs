//! The form of an own movement: a copy of another with what was typed laid over it.

use bavrek_core::anatomy::{ArmPosition, Grip, Pattern, Region};
use bavrek_core::mechanics::single_joint::SingleJoint;
use bavrek_core::movement::{Catalogue, Movement, RigModel, Stance, View};
use bavrek_core::person::Experience;
use bavrek_core::ranges::LegalRange;
use serde::Deserialize;
use serde_json::{Map, Value, json};

use crate::extract::Fields;

/// How a field is typed.
#[derive(Clone, Copy)]
enum Kind {
    Line,
    Text,
    Number(f64, f64, &'static str),
    Choice(fn() -> Vec<(&'static str, &'static str)>),
}

/// A field: where it lies in the movement as JSON, its words, how it is typed, its group.
struct Spec {
    path: &'static str,
    label: &'static str,
    kind: Kind,
    group: &'static str,
}

const WORDS: &str = "Name and kind";
const POSTURE: &str = "Posture and path";
const NUMBERS: &str = "Load and time";
const CUES: &str = "Cues";

const fn spec(path: &'static str, label: &'static str, kind: Kind, group: &'static str) -> Spec {
    Spec { path, label, kind, group }
}

fn patterns() -> Vec<(&'static str, &'static str)> {
    Pattern::ALL.iter().map(|p| (p.id(), p.label())).collect()
}
fn arms() -> Vec<(&'static str, &'static str)> {
    ArmPosition::ALL.iter().map(|a| (a.id(), a.label())).collect()
}
fn grips() -> Vec<(&'static str, &'static str)> {
    std::iter::once(("", "does not matter")).chain(Grip::ALL.iter().map(|g| (g.id(), g.label()))).collect()
}
fn experiences() -> Vec<(&'static str, &'static str)> {
    Experience::ALL.iter().map(|e| (e.id(), e.label())).collect()
}
fn stances() -> Vec<(&'static str, &'static str)> {
    Stance::ALL.iter().map(|s| (s.id(), s.label())).collect()
}
fn views() -> Vec<(&'static str, &'static str)> {
    View::ALL.iter().map(|v| (v.id(), v.label())).collect()
}

const DEGREES: &str = "degrees";
const STATURES: &str = "statures";

const SPECS: &[Spec] = &[
    spec("name", "Name", Kind::Line, WORDS),
    spec("synonyms", "Other names, between commas", Kind::Line, WORDS),
    spec("pattern", "Pattern", Kind::Choice(patterns), WORDS),
    spec("arm_position", "Arm position", Kind::Choice(arms), WORDS),
    spec("grip", "Grip", Kind::Choice(grips), WORDS),
    spec("pose/stance", "Stance", Kind::Choice(stances), POSTURE),
    spec("pose/view", "Seen", Kind::Choice(views), POSTURE),
    spec(
        "pose/trunk_deg",
        "Trunk lean: 0 upright, forward positive, −90 on the back",
        Kind::Number(-130.0, 110.0, DEGREES),
        POSTURE,
    ),
    spec(
        "rig/upper_arm_deg",
        "Upper arm from straight down, forward positive",
        Kind::Number(-180.0, 270.0, DEGREES),
        POSTURE,
    ),
    spec("rig/range/0", "Joint angle, lengthened", Kind::Number(-60.0, 200.0, DEGREES), POSTURE),
    spec("rig/range/1", "Joint angle, shortened", Kind::Number(-60.0, 200.0, DEGREES), POSTURE),
    spec("rig/start/0", "Hand at the start, forward of the shoulder", Kind::Number(-0.4, 0.4, STATURES), POSTURE),
    spec("rig/start/1", "Hand at the start, above the shoulder", Kind::Number(-0.4, 0.4, STATURES), POSTURE),
    spec("rig/end/0", "Hand at the end, forward of the shoulder", Kind::Number(-0.4, 0.4, STATURES), POSTURE),
    spec("rig/end/1", "Hand at the end, above the shoulder", Kind::Number(-0.4, 0.4, STATURES), POSTURE),
    spec("rig/mount/height/0", "Anchor not below", Kind::Number(0.0, 1.9, STATURES), POSTURE),
    spec("rig/mount/height/1", "Anchor not above", Kind::Number(0.0, 1.9, STATURES), POSTURE),
    spec("carry_over/ratio", "Load over the pattern's yardstick", Kind::Number(0.05, 5.0, "times"), NUMBERS),
    spec("carry_over/log_sd", "How unsure that is", Kind::Number(0.0, 0.6, "log-SD"), NUMBERS),
    spec("confidence", "Confidence in the regions", Kind::Number(0.05, 1.0, "of 1"), NUMBERS),
    spec("stability", "Steadiness", Kind::Number(0.05, 1.0, "of 1"), NUMBERS),
    spec("experience", "Least experience", Kind::Choice(experiences), NUMBERS),
    spec("set_up_s", "Time to set up", Kind::Number(0.0, 900.0, "seconds"), NUMBERS),
    spec("change_s", "Time to change the load", Kind::Number(0.0, 900.0, "seconds"), NUMBERS),
    spec("cues/set_up", "Set up", Kind::Text, CUES),
    spec("cues/do", "Do", Kind::Text, CUES),
    spec("cues/feel", "Feel", Kind::Text, CUES),
    spec("cues/avoid", "Avoid", Kind::Text, CUES),
    spec("cues/breathing", "Breathe", Kind::Text, CUES),
    spec("cues/range", "Range and tempo", Kind::Text, CUES),
];

/// A region with how it is trained and how much.
pub(super) struct RegionRow {
    pub(super) id: &'static str,
    pub(super) label: &'static str,
    pub(super) direct: bool,
    pub(super) assisting: bool,
    pub(super) weight: String,
}

/// A field ready to be written down.
pub(super) struct FieldView {
    pub(super) name: &'static str,
    pub(super) label: String,
    pub(super) value: String,
    pub(super) options: Vec<(&'static str, &'static str, bool)>,
    pub(super) long: bool,
    pub(super) error: Option<String>,
}

/// What was typed, with what is wrong.
#[derive(Debug, Clone, Default)]
pub(super) struct OwnForm {
    values: Vec<(&'static str, String)>,
    regions: Vec<(&'static str, String, String)>,
    cautions: Vec<String>,
    errors: Vec<(&'static str, String)>,
    typed: bool,
}

impl OwnForm {
    /// The form of a movement as it is.
    pub(super) fn of(base: &Movement) -> Self {
        let json = as_json(base);
        let values = SPECS.iter().filter_map(|s| Some((s.path, shown(s, read(&json, s.path)?)))).collect();
        let regions = Region::ALL
            .iter()
            .map(|r| match (base.direct.get(r), base.assisting.get(r)) {
                (Some(w), _) => (r.id(), "direct".to_owned(), w.to_string()),
                (_, Some(w)) => (r.id(), "assisting".to_owned(), w.to_string()),
                _ => (r.id(), String::new(), String::new()),
            })
            .collect();
        Self { values, regions, cautions: base.cautions.clone(), errors: Vec::new(), typed: false }
    }

    /// The form as it was sent.
    pub(super) fn typed(base: &Movement, fields: &Fields) -> Self {
        let json = as_json(base);
        let known = SPECS.iter().filter(|s| read(&json, s.path).is_some());
        let long = |text: &str| text.chars().take(2000).collect::<String>();
        Self {
            values: known.map(|s| (s.path, long(fields.text(s.path)))).collect(),
            regions: Region::ALL
                .iter()
                .map(|r| {
                    let text = |part: &str| long(fields.text(&format!("{part}-{}", r.id())));
                    (r.id(), text("how"), text("weight"))
                })
                .collect(),
            cautions: fields.all("caution").map(str::to_owned).collect(),
            errors: Vec::new(),
            typed: true,
        }
    }

    pub(super) fn set_name(&mut self, name: &str) {
        for (_, value) in self.values.iter_mut().filter(|(path, _)| *path == "name") {
            name.clone_into(value);
        }
    }

    pub(super) const fn was_typed(&self) -> bool {
        self.typed
    }

    pub(super) fn error(&self, field: &str) -> Option<&str> {
        self.errors.iter().find(|(f, _)| *f == field).map(|(_, e)| e.as_str())
    }

    pub(super) fn has_caution(&self, code: &str) -> bool {
        self.cautions.iter().any(|c| c == code)
    }

    fn value(&self, path: &str) -> Option<&str> {
        self.values.iter().find(|(p, _)| *p == path).map(|(_, v)| v.as_str())
    }

    /// The movement that was typed; none with the errors beside their fields.
    pub(super) fn movement(&mut self, catalogue: &Catalogue, base: &Movement, id: &str) -> Option<Movement> {
        self.errors.clear();
        let mut json = as_json(base);
        for spec in SPECS {
            let Some(text) = self.value(spec.path).map(str::to_owned) else { continue };
            match typed(spec, &text) {
                Ok(value) => write(&mut json, spec.path, value),
                Err(why) => self.errors.push((spec.path, why)),
            }
        }
        let (direct, assisting) = self.weights();
        json["direct"] = Value::Object(direct);
        json["assisting"] = Value::Object(assisting);
        json["cautions"] = json!(self.cautions);
        json["id"] = json!(id);
        if !self.errors.is_empty() {
            return None;
        }
        let checked = Movement::deserialize(&json).map_err(|e| ("name", e.to_string())).and_then(|m| {
            bavrek_catalogue::check(catalogue, &m).map_err(|(path, why)| (field_of(&path), why)).map(|()| m)
        });
        match checked {
            Ok(movement) => Some(movement),
            Err(error) => {
                self.errors.push(error);
                None
            }
        }
    }

    /// Puts what is wrong beside a field.
    pub(super) fn refuse(&mut self, field: &'static str, why: String) {
        self.errors.push((field, why));
    }

    fn weights(&mut self) -> (Map<String, Value>, Map<String, Value>) {
        let (mut direct, mut assisting) = (Map::new(), Map::new());
        let mut wrong = None;
        for (id, how, weight) in self.regions.iter().filter(|(_, how, _)| !how.is_empty()) {
            match weight.replace(',', ".").parse::<f64>().ok().filter(|w| *w > 0.0 && *w <= 1.0) {
                Some(w) if how == "direct" => drop(direct.insert((*id).to_owned(), json!(w))),
                Some(w) => drop(assisting.insert((*id).to_owned(), json!(w))),
                None => {
                    let label = Region::from_id(id).map_or(*id, Region::label);
                    wrong = Some(format!("{label}: the share must be above 0 and at most 1, not {weight:?}"));
                }
            }
        }
        self.errors.extend(wrong.map(|w| ("regions", w)));
        (direct, assisting)
    }

    pub(super) fn groups(&self, base: &Movement) -> Vec<(&'static str, Vec<FieldView>)> {
        [WORDS, POSTURE, NUMBERS, CUES]
            .into_iter()
            .map(|group| {
                let views = SPECS.iter().filter(|s| s.group == group && applies(base, s.path));
                (group, views.filter_map(|s| self.view(s)).collect())
            })
            .collect()
    }

    fn view(&self, spec: &Spec) -> Option<FieldView> {
        let value = self.value(spec.path)?.to_owned();
        let (options, unit) = match spec.kind {
            Kind::Choice(all) => (all().into_iter().map(|(id, label)| (id, label, id == value)).collect(), ""),
            Kind::Number(_, _, unit) => (Vec::new(), unit),
            _ => (Vec::new(), ""),
        };
        Some(FieldView {
            name: spec.path,
            label: if unit.is_empty() { spec.label.to_owned() } else { format!("{}, {unit}", spec.label) },
            value,
            options,
            long: matches!(spec.kind, Kind::Text),
            error: self.error(spec.path).map(str::to_owned),
        })
    }

    pub(super) fn regions(&self) -> Vec<RegionRow> {
        self.regions
            .iter()
            .map(|(id, how, weight)| RegionRow {
                id,
                label: Region::from_id(id).map_or(*id, Region::label),
                direct: how == "direct",
                assisting: how == "assisting",
                weight: weight.clone(),
            })
            .collect()
    }
}

/// A number, a text or an identifier, as the movement holds it.
fn typed(spec: &Spec, text: &str) -> Result<Value, String> {
    match spec.kind {
        Kind::Number(min, max, unit) => {
            let number = text.replace(',', ".").replace('−', "-").parse::<f64>().ok().filter(|n| n.is_finite());
            let number = number.ok_or_else(|| format!("{text:?} is not a number"))?;
            LegalRange { min, max, unit }.check(spec.path, number).map_err(|e| e.message)?;
            // Times are whole seconds.
            Ok(if unit == "seconds" { json!(number.round() as u16) } else { json!(number) })
        }
        Kind::Choice(all) if text.is_empty() => {
            if all().iter().any(|(id, _)| id.is_empty()) {
                Ok(Value::Null)
            } else {
                Err("choose one".into())
            }
        }
        Kind::Choice(all) => {
            let known = all().iter().any(|(id, _)| *id == text);
            if known { Ok(json!(text)) } else { Err(format!("{text:?} is not one of the choices")) }
        }
        _ if spec.path == "synonyms" => {
            let names: Vec<&str> = text.split(',').map(str::trim).filter(|n| !n.is_empty()).collect();
            Ok(json!(names))
        }
        Kind::Line if text.chars().count() > 120 => Err("may have at most 120 characters".into()),
        _ => Ok(json!(text)),
    }
}

fn shown(spec: &Spec, value: &Value) -> String {
    match value {
        Value::Array(names) if spec.path == "synonyms" => {
            names.iter().filter_map(Value::as_str).collect::<Vec<_>>().join(", ")
        }
        Value::String(text) => text.clone(),
        Value::Number(number) => number.as_f64().map_or_else(String::new, |n| n.to_string()),
        _ => String::new(),
    }
}

/// The movement as JSON, with the range that a joint has by its action written out.
fn as_json(base: &Movement) -> Value {
    let mut json = serde_json::to_value(base).unwrap_or_default();
    if let RigModel::SingleJoint { action, range: None, floor, .. } = base.rig {
        let (from, to) = SingleJoint::usual_range(action, floor);
        json["rig"]["range"] = json!([from, to]);
    }
    json
}

fn read<'a>(json: &'a Value, path: &str) -> Option<&'a Value> {
    json.pointer(&format!("/{path}"))
}

fn write(json: &mut Value, path: &str, value: Value) {
    if let Some(place) = json.pointer_mut(&format!("/{path}")) {
        *place = value;
    }
}

/// Whether a field belongs to movements of this kind: the body's own levers set their posture themselves.
fn applies(base: &Movement, path: &str) -> bool {
    !(base.rig.is_lever() && path.starts_with("pose/"))
}

/// The form's field for a path of the check.
fn field_of(path: &str) -> &'static str {
    if path.starts_with("direct") || path.starts_with("assisting") {
        return "regions";
    }
    let wanted = path.replace('.', "/");
    SPECS.iter().map(|s| s.path).find(|p| *p == wanted).unwrap_or("name")
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    fn catalogue() -> Catalogue {
        bavrek_catalogue::load().unwrap()
    }

    #[test]
    fn an_untouched_copy_is_the_same_movement_under_another_identifier() {
        let catalogue = catalogue();
        for base in &catalogue.movements {
            let copy = OwnForm::of(base).movement(&catalogue, base, "own_1").unwrap();
            let mut expected = base.as_ref().clone();
            expected.id = "own_1".into();
            if let (RigModel::SingleJoint { range, .. }, RigModel::SingleJoint { range: written, .. }) =
                (&mut expected.rig, &copy.rig)
            {
                *range = *written;
            }
            assert_eq!(copy, expected, "{}", base.id);
        }
    }

    #[rstest]
    #[case::not_a_number("rig/upper_arm_deg", "steep", "is not a number")]
    #[case::beyond_the_range("pose/trunk_deg", "400", "must be between")]
    #[case::no_name("name", "", "is empty")]
    #[case::not_a_choice("pattern", "dance", "is not one of the choices")]
    #[case::empty_cue("cues/do", " ", "is empty")]
    fn a_wrong_field_is_named_and_kept(#[case] field: &'static str, #[case] text: &str, #[case] says: &str) {
        let catalogue = catalogue();
        let base = catalogue.movement("dumbbell_curl").unwrap();
        let mut form = OwnForm::of(base);
        form.values.iter_mut().filter(|(p, _)| *p == field).for_each(|(_, v)| text.clone_into(v));
        assert!(form.movement(&catalogue, base, "own_1").is_none());
        assert!(form.error(field).unwrap().contains(says), "{:?}", form.errors);
        assert_eq!(form.value(field), Some(text));
    }

    #[test]
    fn regions_without_any_direct_one_are_refused() {
        let catalogue = catalogue();
        let base = catalogue.movement("dumbbell_curl").unwrap();
        let mut form = OwnForm::of(base);
        form.regions.iter_mut().for_each(|r| r.1.clear());
        assert!(form.movement(&catalogue, base, "own_1").is_none());
        assert!(form.error("regions").unwrap().contains("names no region"));
    }
}
