//! What the body rests on: which of the supports a movement accepts are in the room.

use super::missing::{Missing, Rolling};
use crate::anatomy::Surface;
use crate::kit::{Heads, KitItem};
use crate::movement::{Movement, Support, SupportKind};
use crate::person::Person;
use crate::rigging::Setup;
use crate::rigging::usual_height;
use crate::units::{Degrees, Metres};

/// Seat height of a chair where none is given.
pub(super) const CHAIR_HEIGHT: f64 = 0.45;
/// Seat height of a sofa.
pub(super) const SOFA_HEIGHT: f64 = 0.42;
/// Height of a flat bench where none is given.
pub(super) const BENCH_HEIGHT: f64 = 0.44;
/// Highest table that serves as a seat or an edge to lean on, m. Assumed.
const LOW_TABLE: f64 = 0.55;
/// Height of the handles of dumbbells that stand on the floor.
pub(super) const DUMBBELL_HANDLES: f64 = 0.08;
/// Height of push-up handles.
pub(super) const HANDLE_HEIGHT: f64 = 0.12;

/// The supports chosen for a movement.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Resting {
    pub(super) setup: Setup,
    /// Height of what the body rests on, where it rests on something.
    pub(super) height: Option<Metres>,
    /// Added trouble of improvised supports.
    pub(super) cost: u8,
}

impl Resting {
    pub(super) fn on_floor(&self) -> bool {
        self.setup.surface.is_none_or(|s| s == Surface::Floor)
    }
}

/// Chooses for every need the first acceptable support in the room.
pub(super) fn resolve(movement: &Movement, person: &Person, kit: &[KitItem]) -> Result<Resting, Vec<Missing>> {
    let mut resting = Resting::default();
    let mut missing = Vec::new();
    for need in &movement.needs {
        if let Some(met) = need.iter().find_map(|support| meet(support, person, kit)) {
            resting.setup.surface = met.surface.or(resting.setup.surface);
            resting.setup.bench_deg = met.bench_deg.or(resting.setup.bench_deg);
            resting.height = met.height.or(resting.height);
            if let Some(height) = met.height {
                let usual = met.surface.and_then(usual_height);
                resting.setup.support_height_m = Some(height).filter(|h| usual != Some(*h));
            }
            resting.cost += met.cost;
        } else {
            let dumbbells = need.iter().find(|s| s.kit == SupportKind::FlatDumbbells).and_then(|_| rolling(kit));
            missing.push(Missing::Support { any_of: need.clone(), dumbbells });
        }
    }
    if missing.is_empty() { Ok(resting) } else { Err(missing) }
}

/// Why hands cannot rest on the dumbbells that are here.
fn rolling(kit: &[KitItem]) -> Option<Rolling> {
    let heads: Vec<Option<Heads>> =
        kit.iter().filter_map(|k| if let KitItem::Dumbbells(d) = k { Some(d.heads) } else { None }).collect();
    Rolling::of(&heads)
}

/// How a need is met.
struct Met {
    surface: Option<Surface>,
    bench_deg: Option<Degrees>,
    height: Option<Metres>,
    cost: u8,
}

impl Met {
    const fn on(surface: Surface, height: Option<Metres>, cost: u8) -> Self {
        Self { surface: Some(surface), bench_deg: None, height, cost }
    }

    /// Met by something that the body does not rest on.
    const BESIDE: Self = Self { surface: None, bench_deg: None, height: None, cost: 0 };
}

fn meet(support: &Support, person: &Person, kit: &[KitItem]) -> Option<Met> {
    let has = |test: fn(&KitItem) -> bool| kit.iter().any(test);
    match support.kit {
        SupportKind::Floor => Some(Met::on(Surface::Floor, None, 0)),
        SupportKind::Standing => Some(Met::on(Surface::Standing, None, 0)),
        SupportKind::Kneeling => Some(Met::on(Surface::Kneeling, None, 0)),
        SupportKind::Bench => {
            let deg = bench_angle(support.deg, person, kit)?;
            let height = kit.iter().find_map(|k| if let KitItem::Bench(b) = k { b.height_m } else { None });
            let height = Some(height.unwrap_or(Metres(BENCH_HEIGHT)));
            Some(Met { bench_deg: Some(Degrees(deg)), ..Met::on(Surface::Bench, height, 0) })
        }
        SupportKind::Chair => {
            has(|k| matches!(k, KitItem::Chair(_))).then_some(Met::on(Surface::Chair, Some(Metres(CHAIR_HEIGHT)), 1))
        }
        SupportKind::Box => kit
            .iter()
            .find_map(|k| if let KitItem::Box(b) = k { Some(b.height_m) } else { None })
            .map(|height| Met::on(Surface::Box, Some(height), 1)),
        SupportKind::Sofa => {
            has(|k| matches!(k, KitItem::Sofa(_))).then_some(Met::on(Surface::Sofa, Some(Metres(SOFA_HEIGHT)), 1))
        }
        SupportKind::Parallettes => {
            has(|k| matches!(k, KitItem::Parallettes(_))).then_some(Met::on(Surface::Parallettes, None, 0))
        }
        SupportKind::FlatDumbbells => {
            let flat =
                |k: &KitItem| matches!(k, KitItem::Dumbbells(d) if d.heads == Some(Heads::Flat) && !d.pairs.is_empty());
            has(flat).then_some(Met::on(Surface::Dumbbells, None, 0))
        }
        SupportKind::Wedge => has(|k| matches!(k, KitItem::Wedge(_))).then_some(Met { cost: 1, ..Met::BESIDE }),
        SupportKind::Table => table_height(kit).map(|height| Met::on(Surface::Table, Some(height), 1)),
        SupportKind::LowTable => table_height(kit)
            .filter(|height| height.value() <= LOW_TABLE)
            .map(|height| Met::on(Surface::Table, Some(height), 1)),
        SupportKind::AnotherEdge => (edges(kit) > 1).then_some(Met { cost: 1, ..Met::BESIDE }),
        SupportKind::Helper => has(|k| matches!(k, KitItem::Helper(_))).then_some(Met { cost: 1, ..Met::BESIDE }),
        SupportKind::Towel => has(|k| matches!(k, KitItem::Towel(_))).then_some(Met::BESIDE),
        SupportKind::Wheel => has(|k| matches!(k, KitItem::AbWheel(_))).then_some(Met::BESIDE),
        SupportKind::Bar => has(|k| matches!(k, KitItem::PullUpBar(_))).then_some(Met::BESIDE),
        SupportKind::Rack => has(|k| matches!(k, KitItem::Rack(_))).then_some(Met::BESIDE),
        SupportKind::DoorAnchor => has(|k| matches!(k, KitItem::Anchor(_))).then_some(Met::BESIDE),
    }
}

/// Something that hands, feet or the back can rest on.
struct Edge {
    height: Metres,
    surface: Surface,
    /// How many there are at seat height.
    seats: usize,
}

fn edge(item: &KitItem) -> Option<Edge> {
    let edge = |height: Metres, surface, seats| Some(Edge { height, surface, seats });
    match item {
        KitItem::Bench(b) => {
            edge(b.height_m.unwrap_or(Metres(BENCH_HEIGHT)), Surface::Bench, usize::from(b.count.unwrap_or(1)))
        }
        KitItem::Box(b) => edge(b.height_m, Surface::Box, usize::from(b.count)),
        KitItem::Step(s) => edge(s.height_m, Surface::Box, 0),
        KitItem::Chair(_) => edge(Metres(CHAIR_HEIGHT), Surface::Chair, 1),
        KitItem::Sofa(_) => edge(Metres(SOFA_HEIGHT), Surface::Sofa, 1),
        KitItem::Table(t) => edge(t.height_m, Surface::Table, usize::from(t.height_m.value() <= LOW_TABLE)),
        _ => None,
    }
}

/// Edges at seat height, each of which can carry hands, feet or back.
fn edges(kit: &[KitItem]) -> usize {
    kit.iter().filter_map(edge).map(|e| e.seats).sum()
}

/// Height of a table's edge.
pub(super) fn table_height(kit: &[KitItem]) -> Option<Metres> {
    kit.iter().find_map(|k| if let KitItem::Table(t) = k { Some(t.height_m) } else { None })
}

/// Incline that is kind to a shoulder of fifty and more, degrees.
const KIND_INCLINE: f64 = 30.0;

/// The angle nearest to the middle of the wanted range; a flatter one where age asks for it and the range allows it.
fn bench_angle(wanted: Option<[f64; 2]>, person: &Person, kit: &[KitItem]) -> Option<f64> {
    let [low, high] = wanted.unwrap_or([-1.0, 1.0]);
    let angles = kit.iter().filter_map(|k| if let KitItem::Bench(b) = k { Some(&b.angles_deg) } else { None });
    let middle = 0.5 * (low + high);
    let aim = if person.is_eased_by_age() && low <= KIND_INCLINE { middle.min(KIND_INCLINE) } else { middle };
    let too_steep = |a: f64| person.is_eased_by_age() && low <= KIND_INCLINE && a > KIND_INCLINE + 5.0;
    angles
        .flatten()
        .copied()
        .filter(|a| *a >= low && *a <= high)
        .min_by(|a, b| too_steep(*a).cmp(&too_steep(*b)).then((a - aim).abs().total_cmp(&(b - aim).abs())))
}

/// Heights in the room on which hands or feet can be raised, rising, each once.
pub(super) fn heights(kit: &[KitItem]) -> Vec<(Metres, Surface)> {
    let mut found: Vec<(Metres, Surface)> = kit.iter().filter_map(edge).map(|e| (e.height, e.surface)).collect();
    found.sort_by(|a, b| a.0.value().total_cmp(&b.0.value()));
    found.dedup_by(|a, b| (a.0.value() - b.0.value()).abs() < 0.02);
    found
}
