//! The form that adds a piece of kit: what was typed, what is wrong with it, and the item it makes.

use bavrek_core::kit::{
    AdjustableDumbbell, Anchor, Backpack, Bench, Boxes, Dumbbells, KitItem, LoopBand, Plain, PullUpBar, Rings, Step,
    TubeBand,
};
use bavrek_core::units::{Kilograms, MassUnit, Metres};

use crate::extract::Fields;

/// A kind that can be added, and the fields it takes.
pub(super) struct Kind {
    pub(super) id: &'static str,
    pub(super) label: &'static str,
}

macro_rules! kinds {
    ($($id:literal, $label:literal;)+) => { pub(super) const KINDS: &[Kind] = &[$(Kind { id: $id, label: $label }),+]; };
}
kinds! {
    "dumbbells", "Dumbbells";
    "adjustable_dumbbell", "Adjustable dumbbell";
    "loop_band", "Loop band";
    "tube_band", "Tube band";
    "rings", "Rings";
    "pull_up_bar", "Pull-up bar";
    "dip_bars", "Dip bars";
    "bench", "Bench";
    "box", "Box";
    "step", "Step";
    "chair", "Sturdy chair";
    "sofa", "Sofa";
    "anchor", "Band anchor";
    "backpack", "Backpack";
    "parallettes", "Push-up handles";
    "ab_wheel", "Roll-out wheel";
    "wedge", "Wedge";
}

/// A field of the form: its name, words, the kinds that take it, and an example.
pub(super) struct FieldSpec {
    pub(super) name: &'static str,
    pub(super) label: &'static str,
    pub(super) kinds: &'static str,
    pub(super) example: &'static str,
}

const fn field(name: &'static str, label: &'static str, kinds: &'static str, example: &'static str) -> FieldSpec {
    FieldSpec { name, label, kinds, example }
}

pub(super) const FIELDS: &[FieldSpec] = &[
    field("pairs", "Pairs", "dumbbells", "5, 8, 12"),
    field("singles", "Singles", "dumbbells", "20"),
    field("min", "Lightest", "adjustable_dumbbell", "2.5"),
    field("max", "Heaviest", "adjustable_dumbbell", "24"),
    field("step", "Increment", "adjustable_dumbbell", "1.5"),
    field("label", "Name or colour", "loop_band tube_band", "green"),
    field("length_m", "Flat or rest length, m", "loop_band tube_band", "1.04"),
    field("width_mm", "Width, mm", "loop_band", "22"),
    field("thickness_mm", "Thickness, mm", "loop_band", "4.5"),
    field("rated_min", "Printed from, kg", "loop_band tube_band", "11"),
    field("rated_max", "Printed to, kg", "loop_band tube_band", "29"),
    field("angles", "Angles, degrees", "bench", "0, 30, 45"),
    field("height_m", "Height, m", "rings pull_up_bar box step", "0.45"),
    field("heights", "Heights, m", "anchor", "0.1, 1.2, 2"),
    field("max_kg", "Carries up to, kg", "backpack", "15"),
    field("count", "How many", "adjustable_dumbbell loop_band tube_band box", "1"),
];

/// What was typed, with what is wrong.
#[derive(Debug, Clone, Default)]
pub(super) struct KitForm {
    pub(super) kind: String,
    pub(super) unit: String,
    pub(super) door: bool,
    typed: Vec<(&'static str, String)>,
    pub(super) errors: Vec<(&'static str, String)>,
}

impl KitForm {
    pub(super) fn value(&self, name: &str) -> &str {
        self.typed.iter().find(|(n, _)| *n == name).map_or("", |(_, v)| v)
    }

    pub(super) fn error(&self, name: &str) -> Option<&str> {
        self.errors.iter().find(|(n, _)| *n == name).map(|(_, e)| e.as_str())
    }

    /// The item, or the form as it was typed with the errors beside their fields.
    pub(super) fn read(fields: &Fields) -> Result<KitItem, Self> {
        let mut form = Self {
            kind: fields.text("kind").to_owned(),
            unit: fields.text("unit").to_owned(),
            door: fields.text("door") == "on",
            typed: FIELDS.iter().map(|f| (f.name, fields.text(f.name).chars().take(300).collect())).collect(),
            errors: Vec::new(),
        };
        let item = form.item();
        if let (Some(item), true) = (item, form.errors.is_empty()) {
            match item.validate() {
                Ok(()) => return Ok(item),
                Err(error) => form.errors.push((form_field(&error.path), error.message)),
            }
        }
        Err(form)
    }

    fn item(&mut self) -> Option<KitItem> {
        let unit = if self.unit == "lb" { MassUnit::Lb } else { MassUnit::Kg };
        let kind = self.kind.clone();
        Some(match kind.as_str() {
            "dumbbells" => {
                KitItem::Dumbbells(Dumbbells { unit, pairs: self.list("pairs"), singles: self.list("singles") })
            }
            "adjustable_dumbbell" => KitItem::AdjustableDumbbell(AdjustableDumbbell {
                unit,
                count: self.count(),
                min: self.number("min"),
                max: self.number("max"),
                step: self.number("step"),
            }),
            "loop_band" => KitItem::LoopBand(LoopBand {
                label: self.label(),
                count: self.count(),
                flat_length_m: Metres(self.number("length_m")),
                width_m: self.millimetres("width_mm"),
                thickness_m: self.millimetres("thickness_mm"),
                rated_kg: self.rated(),
                measured: None,
            }),
            "tube_band" => KitItem::TubeBand(TubeBand {
                label: self.label(),
                count: self.count(),
                rest_length_m: Metres(self.number("length_m")),
                rated_kg: self.rated(),
                measured: None,
            }),
            "rings" => KitItem::Rings(Rings { max_height_m: Metres(self.number("height_m")) }),
            "pull_up_bar" => KitItem::PullUpBar(PullUpBar { height_m: Metres(self.number("height_m")) }),
            "dip_bars" => KitItem::DipBars(Plain {}),
            "bench" => KitItem::Bench(Bench { angles_deg: self.list("angles"), height_m: None }),
            "box" => KitItem::Box(Boxes { height_m: Metres(self.number("height_m")), count: self.count() }),
            "step" => KitItem::Step(Step { height_m: Metres(self.number("height_m")) }),
            "chair" => KitItem::Chair(Plain {}),
            "sofa" => KitItem::Sofa(Plain {}),
            "anchor" => KitItem::Anchor(Anchor { heights_m: self.list("heights"), door: self.door.then_some(true) }),
            "backpack" => KitItem::Backpack(Backpack { max_kg: Kilograms(self.number("max_kg")) }),
            "parallettes" => KitItem::Parallettes(Plain {}),
            "ab_wheel" => KitItem::AbWheel(Plain {}),
            "wedge" => KitItem::Wedge(Plain {}),
            _ => {
                self.errors.push(("kind", "choose what to add".into()));
                return None;
            }
        })
    }

    fn label(&self) -> Option<String> {
        Some(self.value("label").to_owned()).filter(|l| !l.is_empty())
    }

    /// A number; `12,5` and `12.5` are the same.
    fn number(&mut self, name: &'static str) -> f64 {
        let text = self.value(name).to_owned();
        let number = text.replace(',', ".").parse::<f64>().ok().filter(|n| n.is_finite());
        number.unwrap_or_else(|| {
            let why = if text.is_empty() { "is needed".to_owned() } else { format!("{text:?} is not a number") };
            self.errors.push((name, why));
            f64::NAN
        })
    }

    fn optional(&mut self, name: &'static str) -> Option<f64> {
        if self.value(name).is_empty() { None } else { Some(self.number(name)) }
    }

    fn millimetres(&mut self, name: &'static str) -> Option<Metres> {
        self.optional(name).map(|mm| Metres(mm / 1000.0))
    }

    fn rated(&mut self) -> Option<[f64; 2]> {
        match (self.optional("rated_min"), self.optional("rated_max")) {
            (None, None) => None,
            (Some(min), Some(max)) => Some([min, max]),
            _ => {
                self.errors.push(("rated_min", "give both ends of the printed range".into()));
                None
            }
        }
    }

    fn count(&mut self) -> u8 {
        match self.value("count") {
            "" => 1,
            text => {
                if let Ok(count) = text.parse::<u8>() {
                    count
                } else {
                    let why = format!("{:?} is not a whole number up to 50", self.value("count"));
                    self.errors.push(("count", why));
                    1
                }
            }
        }
    }

    /// Numbers between commas, semicolons or spaces.
    fn list(&mut self, name: &'static str) -> Vec<f64> {
        let text = self.value(name).to_owned();
        let mut values = Vec::new();
        for part in text.split([',', ';', ' ']).filter(|p| !p.is_empty()) {
            match part.parse::<f64>() {
                Ok(value) if value.is_finite() => values.push(value),
                _ => self.errors.push((name, format!("{part:?} is not a number; write them as 5, 8, 12.5"))),
            }
        }
        values
    }
}

/// The form's field for a path of the core, for example `heights_m[1]` -> `heights`.
fn form_field(path: &str) -> &'static str {
    let stem = path.split(['[', '.']).next().unwrap_or(path);
    match stem {
        "flat_length_m" | "rest_length_m" => "length_m",
        "width_m" => "width_mm",
        "thickness_m" => "thickness_mm",
        "rated_kg" => "rated_min",
        "angles_deg" => "angles",
        "heights_m" => "heights",
        "max_height_m" => "height_m",
        other => FIELDS.iter().map(|f| f.name).find(|name| *name == other).unwrap_or("kind"),
    }
}
