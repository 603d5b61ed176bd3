//! The form that adds or changes a piece of kit: what was typed, what is wrong with it, and the item it makes. What it asks for
//! follows from the description of the kinds.

use bavrek_core::kit::{ASKED, Kind, KitItem, Measure, Plates, Told, plates_text, read_plates};
use bavrek_core::quantity;
use bavrek_core::ranges::{self, LegalRange};
use bavrek_core::units::{MassUnit, trim_number};
use serde_json::{Map, Value, json};

use crate::features::typed::Typed;

/// Longest list of figures, characters.
const LONGEST_LIST: usize = 300;

/// A weight of any size: its legal range is the core's to check.
const fn any(unit: MassUnit) -> LegalRange {
    LegalRange { min: -1e6, max: 1e6, unit: unit.symbol() }
}

/// Millimetres of a metre, rounded to what is typed.
fn in_millimetres(metres: f64) -> f64 {
    (metres * 1e5).round() / 100.0
}

/// What was typed, with what is wrong.
#[derive(Debug, Clone, Default)]
pub(super) struct KitForm {
    pub(super) typed: Typed,
}

impl KitForm {
    pub(super) fn value(&self, name: &str) -> &str {
        self.typed.value(name)
    }

    pub(super) fn error(&self, name: &str) -> Option<&str> {
        self.typed.error(name)
    }

    pub(super) fn wrong(&self) -> bool {
        !self.typed.fine()
    }

    /// The form with what to do about a band of the same name in the room.
    pub(super) fn mistaken(mut self, name: &str) -> Self {
        self.typed
            .refuse("label", format!("another band here is called {name}: name this one so that they are told apart"));
        self
    }

    /// The form of a piece that is there.
    pub(super) fn of(item: &KitItem) -> Self {
        let told = serde_json::to_value(item).unwrap_or_default();
        let values =
            item.described().measures.iter().map(|m| (m.name, written(m, told.get(m.path).unwrap_or(&Value::Null))));
        Self { typed: Typed::usual([("kind", item.kind().to_owned())].into_iter().chain(values)) }
    }

    /// The item, or the form as it was typed with the errors beside their fields. What the form does not show of the
    /// piece that is changed is kept.
    pub(super) fn read(typed: Typed, changed: Option<&KitItem>) -> Result<KitItem, Self> {
        let mut form = Self { typed };
        for measure in ASKED {
            form.typed.text(measure.name, LONGEST_LIST);
        }
        let Some(kind) = Kind::of(form.value("kind")) else {
            form.typed.refuse("kind", "choose what to add");
            return Err(form);
        };
        let told = form.told(kind, changed);
        if form.wrong() {
            return Err(form);
        }
        let read = serde_json::from_value::<KitItem>(told).map(tidied);
        let item = read.map_err(|error| form.typed.refuse("kind", error.to_string()));
        if let Ok(item) = item {
            match item.validate() {
                Ok(()) => return Ok(item),
                Err(error) => form.typed.refuse(form_field(kind, &error.path), error.message),
            }
        }
        Err(form)
    }

    /// The piece as files tell it.
    fn told(&mut self, kind: &Kind, changed: Option<&KitItem>) -> Value {
        let mut told = changed.filter(|old| old.kind() == kind.id).map_or_else(Map::new, hidden);
        told.insert("kind".into(), kind.id.into());
        for measure in kind.measures {
            if let Some(value) = self.measured(measure, told.get(measure.path)) {
                told.insert(measure.path.into(), value);
            }
        }
        Value::Object(told)
    }

    /// What was typed of one measure; none where it may be left out and was. `begun` is what another field told of it.
    fn measured(&mut self, measure: &Measure, begun: Option<&Value>) -> Option<Value> {
        let name = measure.name;
        let text = self.value(name).to_owned();
        match measure.told {
            Told::Unit => Some(self.unit().symbol().into()),
            Told::Whether => (text == "on").then_some(true.into()),
            Told::Name => (!text.is_empty()).then(|| text.into()),
            // What is none of the words is none at all: a form sends only those.
            Told::Word(words, _) => words().iter().any(|(id, _)| *id == text).then(|| text.into()),
            Told::Stamped(_) => self.number(measure, any(self.unit())).map(Value::from),
            Told::Figure(range) => self.number(measure, range).map(Value::from),
            Told::Millimetres(range) => {
                let [min, max] = [range.min, range.max].map(in_millimetres);
                self.number(measure, LegalRange { min, max, unit: "mm" }).map(|mm| (mm / 1000.0).into())
            }
            Told::AllStamped => Some(self.list(name).into()),
            Told::Figures(range) => Some(self.measures(name, range).into()),
            Told::Plates => Some(json!(self.plates())),
            Told::Count(_) => Some(self.count()).filter(|n| measure.is_needed || *n > 1).map(Value::from),
            Told::From(range) => self.number(measure, range).map(|from| json!([from])),
            Told::To(range) => {
                let from = begun.and_then(|ends| ends.get(0)).cloned();
                let to = self.number(measure, range).map(Value::from);
                if self.value("rated_min").is_empty() != text.is_empty() {
                    self.typed.refuse("rated_min", "give both ends of the printed range");
                }
                from.zip(to).map(|(from, to)| json!([from, to]))
            }
        }
    }

    /// The unit that weights are stamped in.
    fn unit(&self) -> MassUnit {
        if self.value("unit") == MassUnit::Lb.symbol() { MassUnit::Lb } else { MassUnit::Kg }
    }

    /// A figure with its unit or without.
    fn number(&mut self, measure: &Measure, range: LegalRange) -> Option<f64> {
        if measure.is_needed && self.value(measure.name).is_empty() {
            self.typed.refuse(measure.name, "is needed");
        }
        self.typed.number(measure.name, range)
    }

    fn count(&mut self) -> u8 {
        if self.value("count").is_empty() {
            return 1;
        }
        self.typed.whole("count", ranges::COUNT).map_or(1, |count| count as u8)
    }

    /// Figures between commas, semicolons or spaces, with their unit or without.
    fn measures(&mut self, name: &'static str, range: LegalRange) -> Vec<f64> {
        let found = quantity::read_list(name, self.value(name), range);
        self.typed.take(name, found).unwrap_or_default()
    }

    /// Plates, how many of each.
    fn plates(&mut self) -> Vec<Plates> {
        let found = read_plates(self.value("plates"));
        self.typed.take("plates", found).unwrap_or_default()
    }

    /// Numbers between commas, semicolons or spaces; `12,5` is one number and `5, 8` are two.
    fn list(&mut self, name: &'static str) -> Vec<f64> {
        let found = quantity::numbers(self.value(name));
        self.typed.take(name, found).unwrap_or_default()
    }
}

/// What the form does not ask for, of the piece that is changed.
fn hidden(item: &KitItem) -> Map<String, Value> {
    let Value::Object(mut told) = serde_json::to_value(item).unwrap_or_default() else { return Map::new() };
    for measure in item.described().measures {
        told.remove(measure.path);
    }
    told
}

fn tidied(item: KitItem) -> KitItem {
    match item {
        KitItem::Anchor(anchor) => KitItem::Anchor(anchor.tidied()),
        other => other,
    }
}

/// A measure as it is typed.
fn written(measure: &Measure, told: &Value) -> String {
    let figure = |value: &Value| value.as_f64().map_or_else(String::new, |v| trim_number(v, 3));
    match measure.told {
        Told::Unit | Told::Name | Told::Word(..) => told.as_str().unwrap_or_default().to_owned(),
        Told::Whether => if told.as_bool() == Some(true) { "on" } else { "" }.to_owned(),
        Told::Stamped(_) | Told::Figure(_) => figure(told),
        Told::Millimetres(_) => told.as_f64().map_or_else(String::new, |m| trim_number(m * 1000.0, 3)),
        Told::AllStamped | Told::Figures(_) => {
            // A blank after each comma keeps decimal points and separators apart.
            told.as_array().into_iter().flatten().map(figure).collect::<Vec<_>>().join(", ")
        }
        Told::Plates => plates_text(&serde_json::from_value::<Vec<Plates>>(told.clone()).unwrap_or_default()),
        Told::Count(_) => told.as_u64().unwrap_or(1).to_string(),
        Told::From(_) => figure(&told[0]),
        Told::To(_) => figure(&told[1]),
    }
}

/// The form's field for a path of the core, for example `heights_m[1]` -> `heights`.
fn form_field(kind: &Kind, path: &str) -> &'static str {
    let stem = path.split(['[', '.']).next().unwrap_or(path);
    kind.measures.iter().find(|m| m.path == stem).map_or("kind", |m| m.name)
}

#[cfg(test)]
mod tests {
    use bavrek_core::kit::{AdjustableDumbbell, Bench, LoopBand, MeasuredPoint, full_room};
    use bavrek_core::units::{Kilograms, Metres};

    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case::nothing(&[("kind", "piano")], "kind")]
    #[case::a_bench_as_high_as_a_door(&[("kind", "bench"), ("angles", "0"), ("height_m", "2")], "height_m")]
    #[case::no_angle(&[("kind", "bench"), ("height_m", "0.5")], "angles")]
    #[case::as_wide_as_a_mat(&[("kind", "loop_band"), ("length_m", "1"), ("width_mm", "600")], "width_mm")]
    #[case::one_end(&[("kind", "tube_band"), ("length_m", "1"), ("rated_max", "12")], "rated_min")]
    #[case::no_length(&[("kind", "tube_band"), ("rated_min", "5"), ("rated_max", "12")], "length_m")]
    #[case::falling(&[("kind", "tube_band"), ("length_m", "1"), ("rated_min", "12"), ("rated_max", "5")], "rated_min")]
    #[case::no_weight(&[("kind", "anchor"), ("heights", "0.1"), ("on", "dumbbell")], "weight_kg")]
    #[case::three(&[("kind", "plate_dumbbell"), ("handle", "2"), ("plates", "4x2"), ("count", "3")], "count")]
    #[case::in_pounds(&[("kind", "barbell"), ("unit", "lb"), ("bar", "70")], "bar")]
    fn what_is_wrong_stands_beside_its_field(#[case] typed: &[(&'static str, &str)], #[case] field: &str) {
        let typed = Typed::usual(typed.iter().map(|(name, value)| (*name, (*value).to_owned())));
        let form = KitForm::read(typed, None).unwrap_err();
        let errors = form.typed.into_errors();
        assert_eq!(errors.iter().map(|(name, _)| name.as_str()).collect::<Vec<_>>(), [field], "{errors:?}");
    }

    #[test]
    fn every_piece_comes_back_from_its_form_as_it_was() {
        let mut pieces = full_room();
        pieces.push(KitItem::Anchor(bavrek_core::kit::Anchor::in_door()));
        pieces.push(KitItem::AdjustableDumbbell(AdjustableDumbbell {
            unit: MassUnit::Lb,
            count: 1,
            min: 5.0,
            max: 52.5,
            step: 2.5,
        }));
        // Readings of a scale are not asked for: they stay.
        let reading = MeasuredPoint { length_m: Metres(1.5), kg: Kilograms(9.0), simulated: false };
        pieces.push(KitItem::LoopBand(LoopBand {
            label: Some("green".into()),
            count: 3,
            flat_length_m: Metres(1.04),
            rated_kg: Some([11.0, 29.0]),
            measured: Some(vec![reading, MeasuredPoint { length_m: Metres(2.0), kg: Kilograms(20.0), ..reading }]),
            ..LoopBand::default()
        }));
        pieces.push(KitItem::Bench(Bench { angles_deg: vec![0.0], height_m: Some(Metres(0.5)), count: Some(2) }));
        for item in pieces {
            let read = KitForm::read(KitForm::of(&item).typed, Some(&item));
            assert_eq!(read.map_err(|form| form.typed.into_errors()).unwrap(), item);
        }
    }
}
