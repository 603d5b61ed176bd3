//! What of a step is not in a room: a weight that nobody owns, an anchor where there is none.

use super::Ladder;
use super::levers::{HEAVIEST_HUNG, LOWEST_HANGING_BAR};
use super::missing::Missing;
use super::step::LadderStep;
use super::supports::{self, DUMBBELL_HANDLES, HANDLE_HEIGHT};
use super::weights::{dumbbells, held};
use crate::anatomy::{Implement, Surface};
use crate::dose::StampedLoad;
use crate::kit::{Anchor, Heads, KitItem, NamedBand, same_bands};
use crate::movement::{ExtensionOn, Hands, Movement, PushUpHands, RigModel};
use crate::person::Person;
use crate::rigging::Setup;
use crate::rigging::{BandFix, handle_height};
use crate::units::{Degrees, Kilograms, Metres};

/// Something of a step that the room does not have.
#[derive(Debug, Clone, PartialEq)]
pub struct Absent {
    /// The measure it is about: `weight`, `band`, `band_fix`, `surface`, or the field of an adjustment.
    pub field: &'static str,
    /// What is not here, and what is.
    pub lack: Lack,
}

/// What of a step is not in a room.
#[derive(Debug, Clone, PartialEq)]
pub enum Lack {
    /// More than the backpack here carries.
    PackCarries(Kilograms),
    /// There is no backpack.
    Pack,
    /// More than so many kg can be held this way by anybody.
    CannotBeHeld(f64),
    /// A weight that nobody owns.
    Weight {
        /// The weight.
        wanted: StampedLoad,
        /// In what it is wanted.
        held: HeldAs,
        /// What is here, lightest first.
        here: Vec<StampedLoad>,
    },
    /// A band by its name.
    Band(String),
    /// Its like, where two are taken.
    SecondBand(String),
    /// An anchor at a height.
    Anchor {
        /// The height.
        wanted: Metres,
        /// The anchors that are here.
        here: Vec<Anchor>,
    },
    /// The dumbbell that serves as an anchor does not hold a pull as hard as this.
    AnchorHolds,
    /// A bench at an angle, with the angles that are here, degrees.
    BenchAngle(f64, Vec<f64>),
    /// What the body rests on.
    Surface(Surface),
    /// Rings as low or high as this takes.
    Rings {
        /// The highest they hang.
        highest: Metres,
        /// What this takes.
        wanted: Metres,
    },
    /// Something to hold at the height that the body's angle asks for, with the heights that are here.
    Handle(Vec<Metres>),
    /// A height to rest on, with those that are here.
    Height(Metres, Vec<Metres>),
    /// What the movement needs beside its measures.
    Missing(Missing),
}

/// In what a weight is held.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum HeldAs {
    /// On a bar.
    Bar,
    /// One in each hand.
    Pair,
    /// One.
    One,
}

/// A height that is as good as another, m: a box is never measured closer.
const SAME_HEIGHT: f64 = 0.02;
/// Bench angles that are alike, degrees.
const SAME_ANGLE: f64 = 0.5;
/// Body angles under a handle that cannot be moved which are alike, degrees.
const SAME_LEAN: f64 = 5.0;

/// What a step needs and a room has not. Empty where all of it is there: the weight in as many hands, the band, the
/// anchor at its height, the bench at its angle, what hands and feet rest on. Distances, grips, stances and the height of
/// rings below their highest are the trainer's own.
pub fn absent(movement: &Movement, person: &Person, kit: &[KitItem], step: &LadderStep) -> Vec<Absent> {
    let room = Look { movement, person, kit, setup: &step.setup };
    let mut found: Vec<Absent> = [
        step.load.and_then(|load| room.weight(load, step.implements.contains(&Implement::Backpack))),
        room.bands(&step.bands),
        room.anchor(step),
        room.bench(),
        room.rests(),
        room.hands(),
        room.feet(),
    ]
    .into_iter()
    .flatten()
    .collect();
    if found.is_empty() {
        // What nobody rests on, like a rack that catches the bar, is in no measure of the step.
        let missing = supports::resolve(movement, person, kit).err().unwrap_or_default();
        found.extend(missing.into_iter().map(|missing| not_here("surface", Lack::Missing(missing))));
    }
    found
}

struct Look<'a> {
    movement: &'a Movement,
    person: &'a Person,
    kit: &'a [KitItem],
    setup: &'a Setup,
}

impl Look<'_> {
    fn weight(&self, load: StampedLoad, packed: bool) -> Option<Absent> {
        let kilograms = load.kilograms().value();
        if packed {
            let most = self.kit.iter().find_map(|k| if let KitItem::Backpack(b) = k { Some(b.max_kg) } else { None });
            return match most {
                Some(most) if kilograms <= most.value() + 1e-6 => None,
                Some(most) => Some(not_here("weight", Lack::PackCarries(most))),
                None => Some(not_here("weight", Lack::Pack)),
            };
        }
        let lever = self.movement.rig.is_lever();
        let there: Vec<StampedLoad> = if lever {
            let hung = dumbbells(self.kit, Hands::Shared).into_iter();
            hung.filter(|w| w.kilograms() <= HEAVIEST_HUNG).map(|w| w.load).collect()
        } else {
            held(self.movement, self.kit).into_iter().map(|w| w.load).collect()
        };
        let heaviest = self.movement.heaviest_kg.filter(|_| !lever);
        if let Some(most) = heaviest.filter(|most| kilograms > *most) {
            return Some(not_here("weight", Lack::CannotBeHeld(most)));
        }
        if there.iter().any(|w| (w.kilograms().value() - kilograms).abs() < 0.01) {
            return None;
        }
        let held = match self.movement.hands {
            _ if self.movement.uses(Implement::Barbell) => HeldAs::Bar,
            Hands::Each if !lever => HeldAs::Pair,
            _ => HeldAs::One,
        };
        Some(not_here("weight", Lack::Weight { wanted: load, held, here: there }))
    }

    /// Each band as often as it is used at once.
    fn bands(&self, bands: &[NamedBand]) -> Option<Absent> {
        for band in bands {
            let Some(item) = band.in_kit(self.kit) else {
                return Some(not_here("band", Lack::Band(band.name.clone())));
            };
            let name = item.name();
            let count = crate::kit::count_of(self.kit, &name);
            let used = bands.iter().filter(|other| other.is(band)).count();
            if count < used || (self.setup.band_fix == Some(BandFix::Shared) && count < 2) {
                return Some(not_here("band_fix", Lack::SecondBand(name)));
            }
        }
        None
    }

    fn anchor(&self, step: &LadderStep) -> Option<Absent> {
        let height = self.setup.anchor_height_m?.value();
        let anchors: Vec<_> =
            self.kit.iter().filter_map(|k| if let KitItem::Anchor(a) = k { Some(a) } else { None }).collect();
        let there: Vec<_> = anchors.iter().filter(|a| a.reaches(height)).collect();
        if !there.is_empty() {
            let limited = there.iter().all(|a| a.holds().is_some());
            return (limited && !self.within_what_holds(step)).then(|| not_here("anchor_distance", Lack::AnchorHolds));
        }
        let here = anchors.into_iter().cloned().collect();
        Some(not_here("anchor_height", Lack::Anchor { wanted: Metres(height), here }))
    }

    /// Whether the ladder here, which keeps to what the anchor holds, goes as far from it with the same band.
    fn within_what_holds(&self, step: &LadderStep) -> bool {
        let distance = |s: &Setup| s.anchor_distance_m.map_or(0.0, Metres::value);
        let taken = |s: &Setup| s.grip_shorter_m.map_or(0.0, Metres::value);
        let wanted = distance(self.setup) + taken(self.setup);
        let whole = Ladder::whole(self.movement, self.person, &step.own_kit(self.kit)).steps;
        whole.iter().any(|s| same_bands(&s.bands, &step.bands) && distance(&s.setup) + taken(&s.setup) >= wanted - 0.01)
    }

    fn bench(&self) -> Option<Absent> {
        let wanted = self.setup.bench_deg?.value();
        let angles: Vec<f64> = self
            .kit
            .iter()
            .filter_map(|k| if let KitItem::Bench(b) = k { Some(b.angles_deg.iter().copied()) } else { None })
            .flatten()
            .collect();
        if angles.iter().any(|a| (a - wanted).abs() <= SAME_ANGLE) {
            return None;
        }
        Some(not_here("bench_angle", Lack::BenchAngle(wanted, angles)))
    }

    /// What the body rests on, where it rests on a piece of kit.
    fn rests(&self) -> Option<Absent> {
        let surface = self.setup.surface?;
        let there = |test: fn(&KitItem) -> bool| self.kit.iter().any(test);
        let is_there = match surface {
            Surface::Bench => there(|k| matches!(k, KitItem::Bench(_))),
            Surface::Chair => there(|k| matches!(k, KitItem::Chair(_))),
            Surface::Box => there(|k| matches!(k, KitItem::Box(_) | KitItem::Step(_))),
            Surface::Sofa => there(|k| matches!(k, KitItem::Sofa(_))),
            Surface::Table => there(|k| matches!(k, KitItem::Table(_))),
            Surface::Parallettes => there(|k| matches!(k, KitItem::Parallettes(_))),
            Surface::Dumbbells => there(|k| matches!(k, KitItem::Dumbbells(d) if d.heads == Some(Heads::Flat))),
            Surface::Rings => there(|k| matches!(k, KitItem::Rings(_))),
            Surface::Bar => there(|k| matches!(k, KitItem::PullUpBar(_) | KitItem::DipBars(_))),
            _ => true,
        };
        (!is_there).then(|| not_here("surface", Lack::Surface(surface)))
    }

    fn hands(&self) -> Option<Absent> {
        if self.setup.surface == Some(Surface::Rings) {
            return self.rings();
        }
        let height = self.setup.hands_height_m?;
        match self.movement.rig {
            RigModel::PushUp { hands: PushUpHands::Handles, .. } => {
                among("hands_height", height, &[Metres(HANDLE_HEIGHT), Metres(DUMBBELL_HANDLES)])
            }
            RigModel::PushUp { .. } | RigModel::BodyExtension { on: ExtensionOn::Surface } => {
                among("hands_height", height, &self.heights())
            }
            RigModel::BodyExtension { on: ExtensionOn::Bar } => among("hands_height", height, &self.low_bars()),
            RigModel::InvertedRow if self.setup.surface != Some(Surface::Standing) => self.fixed_handle(),
            _ => None,
        }
    }

    /// Rings hang at their highest or lower.
    fn rings(&self) -> Option<Absent> {
        let highest = self.kit.iter().find_map(|k| if let KitItem::Rings(r) = k { Some(r.max_height_m) } else { None });
        let (field, handles) = match (self.movement.rig, self.setup.body_angle_deg) {
            (RigModel::InvertedRow | RigModel::BodyArc { .. }, Some(angle)) => {
                ("body_angle", handle_height(self.person.height_m, angle))
            }
            _ => ("hands_height", self.setup.hands_height_m?),
        };
        let highest = highest?;
        let fits = handles.value() <= highest.value() + SAME_HEIGHT;
        (!fits).then(|| not_here(field, Lack::Rings { highest, wanted: rounded(handles) }))
    }

    /// A low bar or a table cannot be moved: the body's angle follows from its height.
    fn fixed_handle(&self) -> Option<Absent> {
        let handles: Vec<Metres> = self.low_bars().into_iter().chain(supports::table_height(self.kit)).collect();
        let lean = self.setup.body_angle_deg?.value();
        let at = |angle: f64| handle_height(self.person.height_m, Degrees(angle)).value();
        let ends = [at(lean - SAME_LEAN), at(lean + SAME_LEAN)];
        let (low, high) = (ends[0].min(ends[1]), ends[0].max(ends[1]));
        let fits = handles.iter().any(|h| (low..=high).contains(&h.value()));
        (!fits).then(|| not_here("body_angle", Lack::Handle(handles)))
    }

    fn feet(&self) -> Option<Absent> {
        among("feet_height", self.setup.feet_height_m?, &self.heights())
    }

    /// Heights on which hands or feet can rest.
    fn heights(&self) -> Vec<Metres> {
        supports::heights(self.kit).into_iter().map(|(height, _)| height).collect()
    }

    fn low_bars(&self) -> Vec<Metres> {
        let bars = self.kit.iter().filter_map(|k| if let KitItem::PullUpBar(b) = k { Some(b.height_m) } else { None });
        bars.filter(|h| h.value() < LOWEST_HANGING_BAR).collect()
    }
}

fn among(field: &'static str, wanted: Metres, there: &[Metres]) -> Option<Absent> {
    let found = wanted.value() <= 0.0 || there.iter().any(|h| (h.value() - wanted.value()).abs() <= SAME_HEIGHT);
    (!found).then(|| not_here(field, Lack::Height(wanted, there.to_vec())))
}

const fn not_here(field: &'static str, lack: Lack) -> Absent {
    Absent { field, lack }
}

fn rounded(height: Metres) -> Metres {
    Metres((height.value() * 20.0).round() / 20.0)
}

impl Ladder {
    /// Whether a step can be set up with a kit: the kit carries the movement at all, and all that the step takes is there.
    /// Distances, grips and leans are the trainer's own.
    pub fn can_set_up(movement: &Movement, person: &Person, kit: &[KitItem], step: &LadderStep) -> bool {
        absent(movement, person, kit, step).is_empty() && Self::is_possible(movement, person, kit)
    }
}
