//! The form that adds or changes a piece of kit: what was typed, what is wrong with it, and the item it makes.

use bavrek_core::kit::{
    AdjustableDumbbell, Anchor, AnchorOn, Backpack, Barbell, Bench, Boxes, Dumbbells, Heads, Kettlebells, KitItem,
    LoopBand, Plain, PlateDumbbell, Plates, PullUpBar, Rings, Step, Table, TubeBand, plates_text, read_plates,
};
use bavrek_core::quantity;
use bavrek_core::ranges::{self, LegalRange};
use bavrek_core::units::{Kilograms, MassUnit, Metres, trim_number};

use crate::extract::Fields;
use crate::features::typed::Typed;

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
    "plate_dumbbell", "Dumbbell handle with plates";
    "kettlebells", "Kettlebells";
    "barbell", "Barbell with plates";
    "rack", "Rack that catches a bar";
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
    "table", "Heavy table";
    "towel", "Towel";
    "anchor", "Band anchor";
    "backpack", "Backpack";
    "parallettes", "Push-up handles";
    "ab_wheel", "Roll-out wheel";
    "wedge", "Wedge";
    "helper", "Helper";
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
    field("pairs", "Pairs", "dumbbells kettlebells", "5, 8, 12"),
    field("singles", "Singles", "dumbbells kettlebells", "20"),
    field("bar", "Bar alone, with collars", "barbell", "10"),
    field("handle", "Handle alone, with collars", "plate_dumbbell", "2"),
    field("plates", "Plates in all, how many of each", "barbell plate_dumbbell", "4x5, 4x2.5, 2x1.25"),
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
    field("height_m", "Height, m", "rings pull_up_bar box step table", "0.45"),
    field("heights", "Heights, m", "anchor", "0.1, 1.2, 2"),
    field("max_kg", "Carries up to, kg", "backpack", "15"),
    field("weight_kg", "Weight of the dumbbell that holds it, kg", "anchor", "20"),
    field("count", "How many", "adjustable_dumbbell plate_dumbbell loop_band tube_band bench box", "1"),
];

/// Longest list of figures, characters.
const LONGEST_LIST: usize = 300;

/// A mass of any size in a unit: its legal range is the core's to check.
const fn any(unit: &'static str) -> LegalRange {
    LegalRange { min: -1e6, max: 1e6, unit }
}

/// What was typed, with what is wrong.
#[derive(Debug, Clone, Default)]
pub(super) struct KitForm {
    pub(super) typed: Typed,
    /// Readings of a scale, which the form does not show but keeps.
    measured: Option<Vec<bavrek_core::kit::MeasuredPoint>>,
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
        let list = |values: &[f64]| {
            // A blank after each comma keeps decimal points and separators apart.
            values.iter().map(|v| trim_number(*v, 3)).collect::<Vec<_>>().join(", ")
        };
        let text = |value: f64| trim_number(value, 3);
        let mm = |m: Option<Metres>| m.map_or_else(String::new, |m| text(m.value() * 1000.0));
        let rated = |r: Option<[f64; 2]>, i: usize| r.map_or_else(String::new, |r| text(r[i]));
        let mut values = vec![("kind", item.kind().to_owned())];
        values.extend(match item {
            KitItem::Dumbbells(d) => {
                vec![
                    ("unit", d.unit.symbol().to_owned()),
                    ("pairs", list(&d.pairs)),
                    ("singles", list(&d.singles)),
                    ("heads", d.heads.map_or_else(String::new, |h| h.id().to_owned())),
                ]
            }
            KitItem::Kettlebells(k) => {
                vec![("unit", k.unit.symbol().to_owned()), ("pairs", list(&k.pairs)), ("singles", list(&k.singles))]
            }
            KitItem::Barbell(b) => {
                vec![("unit", b.unit.symbol().to_owned()), ("bar", text(b.bar)), ("plates", plates_text(&b.plates))]
            }
            KitItem::PlateDumbbell(d) => vec![
                ("unit", d.unit.symbol().to_owned()),
                ("count", d.count.to_string()),
                ("handle", text(d.handle)),
                ("plates", plates_text(&d.plates)),
            ],
            KitItem::AdjustableDumbbell(a) => vec![
                ("unit", a.unit.symbol().to_owned()),
                ("count", a.count.to_string()),
                ("min", text(a.min)),
                ("max", text(a.max)),
                ("step", text(a.step)),
            ],
            KitItem::LoopBand(b) => vec![
                ("label", b.label.clone().unwrap_or_default()),
                ("count", b.count.to_string()),
                ("length_m", text(b.flat_length_m.value())),
                ("width_mm", mm(b.width_m)),
                ("thickness_mm", mm(b.thickness_m)),
                ("rated_min", rated(b.rated_kg, 0)),
                ("rated_max", rated(b.rated_kg, 1)),
            ],
            KitItem::TubeBand(b) => vec![
                ("label", b.label.clone().unwrap_or_default()),
                ("count", b.count.to_string()),
                ("length_m", text(b.rest_length_m.value())),
                ("rated_min", rated(b.rated_kg, 0)),
                ("rated_max", rated(b.rated_kg, 1)),
            ],
            KitItem::Rings(r) => vec![("height_m", text(r.max_height_m.value()))],
            KitItem::PullUpBar(b) => vec![("height_m", text(b.height_m.value()))],
            KitItem::Bench(b) => {
                vec![("angles", list(&b.angles_deg)), ("count", b.count.unwrap_or(1).to_string())]
            }
            KitItem::Box(b) => vec![("height_m", text(b.height_m.value())), ("count", b.count.to_string())],
            KitItem::Step(s) => vec![("height_m", text(s.height_m.value()))],
            KitItem::Table(t) => vec![("height_m", text(t.height_m.value()))],
            KitItem::Anchor(a) => {
                let weight = a.weight_kg.map_or_else(String::new, |kg| text(kg.value()));
                vec![
                    ("heights", list(&a.heights_m)),
                    ("door", if a.is_in_door() { "on" } else { "" }.to_owned()),
                    ("on", a.on.map_or_else(String::new, |on| on.id().to_owned())),
                    ("weight_kg", weight),
                ]
            }
            KitItem::Backpack(b) => vec![("max_kg", text(b.max_kg.value()))],
            _ => Vec::new(),
        });
        Self { typed: Typed::usual(values), measured: readings(item) }
    }

    /// The item, or the form as it was typed with the errors beside their fields. What the form does not show of the
    /// piece that is changed is kept.
    pub(super) fn read(fields: &Fields, changed: Option<&KitItem>) -> Result<KitItem, Self> {
        let mut form = Self { typed: Typed::of(fields), measured: changed.and_then(readings) };
        for field in FIELDS {
            form.typed.text(field.name, LONGEST_LIST);
        }
        let item = form.item();
        if let (Some(item), false) = (item, form.wrong()) {
            let item = with_hidden(item, changed);
            match item.validate() {
                Ok(()) => return Ok(item),
                Err(error) => form.typed.refuse(form_field(&error.path), error.message),
            }
        }
        Err(form)
    }

    fn item(&mut self) -> Option<KitItem> {
        let unit = if self.value("unit") == "lb" { MassUnit::Lb } else { MassUnit::Kg };
        let door = self.value("door") == "on";
        let kind = self.value("kind").to_owned();
        Some(match kind.as_str() {
            "dumbbells" => {
                let heads = Heads::from_id(self.value("heads"));
                KitItem::Dumbbells(Dumbbells { unit, pairs: self.list("pairs"), singles: self.list("singles"), heads })
            }
            "kettlebells" => {
                KitItem::Kettlebells(Kettlebells { unit, pairs: self.list("pairs"), singles: self.list("singles") })
            }
            "barbell" => {
                KitItem::Barbell(Barbell { unit, bar: self.number("bar", any(unit.symbol())), plates: self.plates() })
            }
            "plate_dumbbell" => KitItem::PlateDumbbell(PlateDumbbell {
                unit,
                count: self.count(),
                handle: self.number("handle", any(unit.symbol())),
                plates: self.plates(),
            }),
            "rack" => KitItem::Rack(Plain {}),
            "adjustable_dumbbell" => KitItem::AdjustableDumbbell(AdjustableDumbbell {
                unit,
                count: self.count(),
                min: self.number("min", any(unit.symbol())),
                max: self.number("max", any(unit.symbol())),
                step: self.number("step", any(unit.symbol())),
            }),
            "loop_band" => KitItem::LoopBand(LoopBand {
                label: self.label(),
                count: self.count(),
                flat_length_m: Metres(self.number("length_m", ranges::BAND_LENGTH)),
                width_m: self.millimetres("width_mm", ranges::BAND_WIDTH),
                thickness_m: self.millimetres("thickness_mm", ranges::BAND_THICKNESS),
                rated_kg: self.rated(),
                measured: self.measured.clone(),
                piece: None,
            }),
            "tube_band" => KitItem::TubeBand(TubeBand {
                label: self.label(),
                count: self.count(),
                rest_length_m: Metres(self.number("length_m", ranges::BAND_LENGTH)),
                rated_kg: self.rated(),
                measured: self.measured.clone(),
                piece: None,
            }),
            "rings" => KitItem::Rings(Rings { max_height_m: Metres(self.number("height_m", ranges::HANGING_HEIGHT)) }),
            "pull_up_bar" => {
                KitItem::PullUpBar(PullUpBar { height_m: Metres(self.number("height_m", ranges::HANGING_HEIGHT)) })
            }
            "dip_bars" => KitItem::DipBars(Plain {}),
            "bench" => {
                let count = Some(self.count()).filter(|n| *n > 1);
                KitItem::Bench(Bench {
                    angles_deg: self.measures("angles", ranges::BENCH_ANGLE),
                    height_m: None,
                    count,
                })
            }
            "box" => KitItem::Box(Boxes {
                height_m: Metres(self.number("height_m", ranges::SUPPORT_HEIGHT)),
                count: self.count(),
            }),
            "step" => KitItem::Step(Step { height_m: Metres(self.number("height_m", ranges::SUPPORT_HEIGHT)) }),
            "chair" => KitItem::Chair(Plain {}),
            "sofa" => KitItem::Sofa(Plain {}),
            "anchor" => {
                let on = AnchorOn::from_id(self.value("on")).filter(|_| !door);
                let weight = self
                    .optional("weight_kg", ranges::DUMBBELL)
                    .map(Kilograms)
                    .filter(|_| on == Some(AnchorOn::Dumbbell));
                KitItem::Anchor(Anchor {
                    heights_m: self.measures("heights", ranges::HANGING_HEIGHT),
                    door: door.then_some(true),
                    on,
                    weight_kg: weight,
                })
            }
            "backpack" => KitItem::Backpack(Backpack { max_kg: Kilograms(self.number("max_kg", ranges::ADDED_LOAD)) }),
            "parallettes" => KitItem::Parallettes(Plain {}),
            "ab_wheel" => KitItem::AbWheel(Plain {}),
            "wedge" => KitItem::Wedge(Plain {}),
            "helper" => KitItem::Helper(Plain {}),
            "towel" => KitItem::Towel(Plain {}),
            "table" => KitItem::Table(Table { height_m: Metres(self.number("height_m", ranges::SUPPORT_HEIGHT)) }),
            _ => {
                self.typed.refuse("kind", "choose what to add");
                return None;
            }
        })
    }

    fn label(&self) -> Option<String> {
        Some(self.value("label").to_owned()).filter(|l| !l.is_empty())
    }

    /// A figure with its unit or without.
    fn number(&mut self, name: &'static str, range: LegalRange) -> f64 {
        if self.value(name).is_empty() {
            self.typed.refuse(name, "is needed");
        }
        self.typed.number(name, range).unwrap_or(f64::NAN)
    }

    fn optional(&mut self, name: &'static str, range: LegalRange) -> Option<f64> {
        if self.value(name).is_empty() { None } else { Some(self.number(name, range)) }
    }

    /// A length that is typed in millimetres, and said to be out of range in them.
    fn millimetres(&mut self, name: &'static str, range: LegalRange) -> Option<Metres> {
        let [min, max] = [range.min, range.max].map(|metres| (metres * 1e5).round() / 100.0);
        let millimetres = self.typed.number(name, LegalRange { min, max, unit: "mm" });
        millimetres.map(|mm| Metres(mm / 1000.0))
    }

    fn rated(&mut self) -> Option<[f64; 2]> {
        match (self.optional("rated_min", ranges::BAND_FORCE), self.optional("rated_max", ranges::BAND_FORCE)) {
            (None, None) => None,
            (Some(min), Some(max)) => Some([min, max]),
            _ => {
                self.typed.refuse("rated_min", "give both ends of the printed range");
                None
            }
        }
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

/// The readings of a band that was measured.
fn readings(item: &KitItem) -> Option<Vec<bavrek_core::kit::MeasuredPoint>> {
    match item {
        KitItem::LoopBand(b) => b.measured.clone(),
        KitItem::TubeBand(b) => b.measured.clone(),
        _ => None,
    }
}

/// What the form does not ask for is taken over from the piece that is changed.
fn with_hidden(item: KitItem, changed: Option<&KitItem>) -> KitItem {
    match (item, changed) {
        (KitItem::Bench(bench), Some(KitItem::Bench(old))) => {
            KitItem::Bench(Bench { height_m: bench.height_m.or(old.height_m), ..bench })
        }
        (item, _) => item,
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
