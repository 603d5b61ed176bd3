//! What is typed or dragged on the rig page: a set-up and its loads, with the errors beside their fields.

use std::collections::BTreeMap;

use bavrek_core::anatomy::{Implement, Surface};
use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::example::Example;
use bavrek_core::fit::ruled_out;
use bavrek_core::kit::{KitItem, LoopBand};
use bavrek_core::ladder::{LadderStep, absent};
use bavrek_core::mechanics::MechanicsError;
use bavrek_core::movement::{
    AdjustmentUnit, DipOn, Hands, Mount, Movement, PushUpHands, RaisedFeet, RigModel, SupportKind,
};
use bavrek_core::person::Person;
use bavrek_core::ranges::{self, LegalRange};
use bavrek_core::rigging::Setup;
use bavrek_core::rigging::{Assembly, BandFix, BandInUse, Loads, Rigged};
use bavrek_core::units::{Degrees, Kilograms, MassUnit, Metres};
use bavrek_store::kit::Piece;

use super::Setting;
use crate::features::fields::{Field, Reader};
use crate::state::App;

/// A band that can be chosen.
#[derive(Debug, Clone)]
pub(super) struct Band {
    pub(super) id: String,
    pub(super) item: KitItem,
}

/// Common widths of a metre-long loop, mm.
const WIDTHS: [f64; 5] = [13.0, 22.0, 32.0, 45.0, 64.0];

/// Loops in the usual widths, two of each, for where no room is chosen.
pub(super) fn common_bands() -> Vec<Band> {
    let of = |width: f64| Band {
        id: format!("loop{width:.0}"),
        item: KitItem::LoopBand(LoopBand {
            count: 2,
            flat_length_m: Metres(1.04),
            width_m: Some(Metres(width / 1000.0)),
            thickness_m: Some(Metres(0.0045)),
            ..LoopBand::default()
        }),
    };
    WIDTHS.into_iter().map(of).collect()
}

/// The bands among the pieces of a place.
pub(super) fn bands_of(pieces: &[Piece]) -> Vec<Band> {
    let bands = pieces.iter().filter(|p| p.item.is_band());
    bands.map(|p| Band { id: p.id.to_string(), item: p.item.clone() }).collect()
}

/// The rig as typed.
pub(super) struct RigForm {
    pub(super) fields: Vec<Field>,
    pub(super) setup: Setup,
    pub(super) loads: Loads,
    pub(super) result: Result<Assembly, MechanicsError>,
    weight: Option<(StampedLoad, Implement)>,
    band: Option<KitItem>,
    /// Why it cannot be taken in this slot, though it can be worked out: a limit, or something that the room has not.
    pub(super) barred: bool,
}

impl RigForm {
    /// Reads the address over the step in force, or over what is usual for the movement in this room. What the room does
    /// not have is refused beside its field, and drawn all the same.
    pub(super) fn read(app: &App, movement: &Movement, setting: &Setting, asked: &BTreeMap<String, String>) -> Self {
        let (person, bands, step) = (&setting.person, &setting.bands[..], setting.step_of(movement));
        let room = setting.slot.as_ref().map(|_| &setting.kit[..]);
        let example = Example::of(&app.catalogue, movement, person);
        // In a room, what is usual is something that the room has.
        let here = room.and_then(|kit| Example::among(&app.catalogue, movement, person, kit).step);
        let step = step.or(here.as_ref());
        // The line's part of the range goes along to whatever movement is tried.
        let range = setting.slot.as_ref().and_then(|placed| placed.slot.intent.part_for(movement));
        let usual = Setup { range, ..step.map_or(example.setup, |s| s.setup) };
        let mut reader = Reader::new(asked);
        let weight = weight(&mut reader, movement, step, &example);
        let band = band(&mut reader, movement, bands, step, &example);
        let setup = setup(&mut reader, movement, person, &usual);
        let in_use = band.as_ref().and_then(BandInUse::of);
        let loads =
            Loads { weight: weight.map_or(Kilograms(0.0), |(load, _)| load.kilograms()), bands: [in_use, None] };
        let result = Rigged::new(movement, person, setup).load(&loads);
        let mut form = Self { fields: reader.fields, setup, loads, result, weight, band, barred: false };
        if let Err(error) = &form.result {
            let (field, text) = (form.field_of(error), error.to_string());
            form.refuse(field, text);
        }
        if let Some(kit) = room {
            form.refuse_what_is_not_here(movement, person, kit);
        }
        form
    }

    /// Refuses what limits or experience rule out and what the room does not have, each beside its field.
    fn refuse_what_is_not_here(&mut self, movement: &Movement, person: &Person, kit: &[KitItem]) {
        let fine = !self.wrong();
        if let Some(why) = ruled_out(movement, person, kit).first() {
            self.refuse("movement", why.to_string());
        }
        let Ok(assembly) = &self.result else {
            return;
        };
        let step = self.as_step(movement, person, assembly);
        for absent in absent(movement, person, kit, &step) {
            let known = self.fields.iter().any(|f| f.name == absent.field);
            self.refuse(if known { absent.field } else { "movement" }, absent.to_string());
        }
        self.barred = fine && self.wrong();
    }

    /// The field that a refusal is about, as far as the page has it.
    fn field_of(&self, error: &MechanicsError) -> &'static str {
        let has = |name: &str| self.fields.iter().any(|f| f.name == name);
        let wanted = match error {
            MechanicsError::WallPushUp => &["hands_height", "feet_height"][..],
            MechanicsError::NoRingPosture | MechanicsError::SlackStrap => &["body_angle", "hands_height"],
            MechanicsError::TooShort(_) => &["grip_shorter", "band"],
            MechanicsError::AnchorAtHand => &["anchor_distance", "anchor_height"],
            MechanicsError::Overstretched(_) | MechanicsError::SlackBand => {
                &["anchor_distance", "grip_shorter", "band"]
            }
            MechanicsError::NoLoad => &["weight", "band"],
            _ => &["band"],
        };
        wanted.iter().copied().find(|n| has(n)).unwrap_or("movement")
    }

    /// Puts a sentence beside a field; beside the movement where there is no such field.
    pub(super) fn refuse(&mut self, field: &'static str, text: String) {
        match self.fields.iter_mut().find(|f| f.name == field) {
            Some(found) => found.error = found.error.take().or(Some(text)),
            None => self.fields.push(Field {
                name: field,
                label: "Movement".into(),
                value: String::new(),
                hint: String::new(),
                error: Some(text),
                options: Vec::new(),
                step: "",
            }),
        }
    }

    /// Whether anything typed cannot be used.
    pub(super) fn wrong(&self) -> bool {
        self.fields.iter().any(|f| f.error.is_some())
    }

    /// The set-up as a step; none where it is refused.
    pub(super) fn step(&self, movement: &Movement, person: &Person) -> Option<LadderStep> {
        let assembly = self.result.as_ref().ok().filter(|_| !self.wrong())?;
        Some(self.as_step(movement, person, assembly))
    }

    /// The set-up as a step, refused or not.
    pub(super) fn as_step(&self, movement: &Movement, person: &Person, assembly: &Assembly) -> LadderStep {
        let rigged = Rigged::new(movement, person, self.setup);
        LadderStep::of_rig(&rigged, assembly, self.weight, self.band.as_ref())
    }
}

/// Dumbbells in the hand, or a weight that the body takes along.
fn weight(
    reader: &mut Reader<'_>,
    movement: &Movement,
    step: Option<&LadderStep>,
    example: &Example,
) -> Option<(StampedLoad, Implement)> {
    let held = movement.is_weighed();
    let added = matches!(movement.rig, RigModel::PushUp { added: true, .. }) || movement.uses(Implement::Backpack);
    if !held && !added {
        return None;
    }
    let lever = movement.rig.is_lever();
    let (label, range) = match movement.hands {
        _ if lever => ("Added weight", ranges::ADDED_LOAD),
        _ if movement.uses(Implement::Barbell) => ("Bar with its plates, in all", BARBELL),
        Hands::Each => ("Dumbbell in each hand", WEIGHT),
        Hands::One => ("Dumbbell", WEIGHT),
        Hands::Shared => ("Dumbbell in both hands", WEIGHT),
    };
    let usual = match step {
        Some(step) => step.load.map(|l| l.kilograms().value()),
        None => Some(example.loads.weight.value()).filter(|w| *w > 0.0),
    };
    let per = if !lever && movement.hands != Hands::Shared { PerHand::Hand } else { PerHand::Total };
    let kg = reader.number("weight", label, "kg", range, usual.or(lever.then_some(0.0)));
    let stamped = kg.filter(|v| *v > 0.0).map(|value| StampedLoad { value, unit: MassUnit::Kg, per });
    let with = match step.and_then(LadderStep::in_hands) {
        _ if lever && !held => Implement::Backpack,
        _ if movement.uses(Implement::Barbell) => Implement::Barbell,
        Some((with, load)) if Some(load) == stamped => with,
        _ => Implement::Dumbbell,
    };
    stamped.map(|load| (load, with))
}

/// A bar with its plates, or none.
const BARBELL: LegalRange = LegalRange { min: 0.0, max: 300.0, unit: "kg" };

/// A dumbbell, or none.
const WEIGHT: LegalRange = LegalRange { min: 0.0, max: 100.0, unit: "kg" };

fn band(
    reader: &mut Reader<'_>,
    movement: &Movement,
    bands: &[Band],
    step: Option<&LadderStep>,
    example: &Example,
) -> Option<KitItem> {
    let fits = |item: &KitItem| match item {
        KitItem::TubeBand(_) => movement.uses(Implement::TubeBand),
        _ => movement.uses(Implement::LoopBand) || matches!(movement.rig, RigModel::PushUp { added: true, .. }),
    };
    let offered: Vec<&Band> = bands.iter().filter(|b| fits(&b.item)).collect();
    if offered.is_empty() {
        return None;
    }
    let carried = match step {
        Some(step) => step.bands.first().cloned(),
        None => example.step.as_ref().and_then(|s| s.bands.first().cloned()),
    };
    let named = carried.and_then(|band| offered.iter().find(|b| b.item.named().is(&band)));
    // A movement that only bands load starts with one.
    let needs_one = !movement.is_weighed() && !movement.rig.is_lever();
    let usual = named.or_else(|| offered.first().filter(|_| needs_one)).map_or("", |b| b.id.as_str()).to_owned();
    let mut options: Vec<(String, String)> = vec![(String::new(), "none".into())];
    options.extend(offered.iter().map(|b| (b.id.clone(), b.item.text())));
    // A link from a candidate names the band as the ladder does.
    let by_name = reader.asked("band").and_then(|text| offered.iter().find(|b| b.item.name() == text));
    let chosen = match by_name {
        Some(band) => reader.chosen("band", "Band", options, &band.id.clone()),
        None => reader.choice("band", "Band", options, &usual),
    };
    offered.into_iter().find(|b| b.id == chosen).map(|b| b.item.clone())
}

fn setup(reader: &mut Reader<'_>, movement: &Movement, person: &Person, usual: &Setup) -> Setup {
    let mut setup = Setup { surface: surface(reader, movement, usual), ..*usual };
    for adjustment in movement.adjustments() {
        let scale = if adjustment.unit == AdjustmentUnit::Statures { person.height_m.value() } else { 1.0 };
        let (unit, range) = if adjustment.unit == AdjustmentUnit::Degrees {
            ("°", LegalRange { min: adjustment.least, max: adjustment.most, unit: "degrees" })
        } else {
            // Wider than what makes sense, so that what does not is refused by the load model with its reason.
            ("m", wide(adjustment.field))
        };
        let (given, least) = (value_of(usual, adjustment.field), adjustment.least * scale);
        let fallback = given.or_else(|| start_of(movement, adjustment.field, least, adjustment.most * scale));
        let mut label: String = adjustment.name.to_owned();
        label[..1].make_ascii_uppercase();
        let value = reader.number(adjustment.field, &label, unit, range, fallback);
        put(&mut setup, adjustment.field, value);
    }
    if movement.rig.mount().is_some_and(|m| m != Mount::UnderBack) && reader.fields.iter().any(|f| f.name == "band") {
        let options = BandFix::ALL.iter().map(|f| (f.id().to_owned(), f.label().to_owned())).collect();
        let first = setup.band_fix.unwrap_or(BandFix::Hung);
        let chosen = BandFix::from_id(&reader.choice("band_fix", "Band is", options, first.id()));
        setup.band_fix = chosen.filter(|f| *f != BandFix::Hung);
    }
    if can_kneel(movement) {
        let words = if matches!(movement.rig, RigModel::Dip { .. }) {
            ["legs straight", "knees bent"]
        } else {
            ["on the toes", "on the knees"]
        };
        let options = vec![(String::new(), words[0].to_owned()), ("on".to_owned(), words[1].to_owned())];
        let usual = if setup.knees == Some(true) { "on" } else { "" };
        setup.knees = (reader.choice("knees", "Feet", options, usual) == "on").then_some(true);
    }
    setup
}

fn wide(field: &str) -> LegalRange {
    match field {
        "anchor_height" => ranges::HANGING_HEIGHT,
        "anchor_distance" => LegalRange { min: 0.0, max: 6.0, unit: "m" },
        "strap" => LegalRange { min: 0.1, max: 4.0, unit: "m" },
        "grip_shorter" | "stance" => LegalRange { min: 0.0, max: 1.5, unit: "m" },
        _ => LegalRange { min: 0.0, max: 1.6, unit: "m" },
    }
}

/// The rig page of a slot with a step's set-up, as an address.
pub(in crate::features) fn address(slot: uuid::Uuid, movement: &Movement, step: &LadderStep) -> String {
    let mut query = vec![("slot", slot.to_string()), ("movement", movement.id.clone())];
    query.extend(step.load.map(|l| ("weight", l.kilograms().value().to_string())));
    query.extend(step.bands.first().map(|band| ("band", band.name.clone())));
    let measures = movement.adjustments();
    query.extend(measures.iter().filter_map(|a| Some((a.field, value_of(&step.setup, a.field)?.to_string()))));
    query.extend(step.setup.surface.map(|s| ("surface", s.id().to_owned())));
    query.extend(step.setup.band_fix.map(|f| ("band_fix", f.id().to_owned())));
    query.extend(step.setup.knees.map(|_| ("knees", "on".to_owned())));
    format!("/rig?{}", serde_urlencoded::to_string(query).unwrap_or_default())
}

fn value_of(setup: &Setup, field: &str) -> Option<f64> {
    let metres = |m: Option<Metres>| m.map(Metres::value);
    match field {
        "anchor_height" => metres(setup.anchor_height_m),
        "anchor_distance" => metres(setup.anchor_distance_m),
        "stance" => metres(setup.stance_m),
        "grip_shorter" => metres(setup.grip_shorter_m),
        "hands_height" => metres(setup.hands_height_m),
        "feet_height" => metres(setup.feet_height_m),
        "strap" => metres(setup.strap_m),
        "body_angle" => setup.body_angle_deg.map(Degrees::value),
        "bench_angle" => setup.bench_deg.map(Degrees::value),
        _ => None,
    }
}

/// Where a measure starts that the usual set-up leaves open.
fn start_of(movement: &Movement, field: &str, least: f64, most: f64) -> Option<f64> {
    match field {
        "anchor_height" => Some(((least + most) * 0.5 * 20.0).round() / 20.0),
        "anchor_distance" => Some(1.4),
        "stance" => Some(0.2),
        "grip_shorter" | "feet_height" => Some(0.0),
        "hands_height" if matches!(movement.rig, RigModel::PushUp { hands: PushUpHands::Floor, .. }) => Some(0.0),
        _ => None,
    }
}

fn put(setup: &mut Setup, field: &str, value: Option<f64>) {
    let metres = value.map(Metres);
    // A height of nothing is the floor, and a grip no nearer is the whole band.
    let raised = value.filter(|v| *v > 0.0).map(Metres);
    match field {
        "anchor_height" => setup.anchor_height_m = metres,
        "anchor_distance" => setup.anchor_distance_m = metres,
        "stance" => setup.stance_m = metres,
        "grip_shorter" => setup.grip_shorter_m = raised,
        "hands_height" => setup.hands_height_m = raised,
        "feet_height" => setup.feet_height_m = raised,
        "strap" => setup.strap_m = metres,
        "body_angle" => setup.body_angle_deg = value.map(Degrees),
        "bench_angle" => setup.bench_deg = value.map(Degrees),
        _ => {}
    }
}

const fn can_kneel(movement: &Movement) -> bool {
    matches!(
        movement.rig,
        RigModel::PushUp {
            hands: PushUpHands::Floor | PushUpHands::Rings,
            feet: RaisedFeet::None | RaisedFeet::Knees,
            ..
        } | RigModel::Dip { on: DipOn::Edge, .. }
    )
}

/// What the body rests on, where there is a choice.
fn surface(reader: &mut Reader<'_>, movement: &Movement, usual: &Setup) -> Option<Surface> {
    let of = |kind: SupportKind| match kind {
        SupportKind::Floor => Some(Surface::Floor),
        SupportKind::Bench => Some(Surface::Bench),
        SupportKind::Chair => Some(Surface::Chair),
        SupportKind::Box => Some(Surface::Box),
        SupportKind::Sofa => Some(Surface::Sofa),
        _ => None,
    };
    let mut surfaces: Vec<Surface> = movement.needs.first().into_iter().flatten().filter_map(|s| of(s.kit)).collect();
    surfaces.dedup();
    if surfaces.len() < 2 {
        return usual.surface;
    }
    let options = surfaces.iter().map(|s| (s.id().to_owned(), s.label().to_owned())).collect();
    let first = usual.surface.filter(|s| surfaces.contains(s)).unwrap_or(surfaces[0]);
    Surface::from_id(&reader.choice("surface", "Resting on", options, first.id()))
}
