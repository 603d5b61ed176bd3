//! The pattern-piece torso: every region a flat panel whose level rises with the sets it gets.

use std::collections::BTreeMap;
use std::fmt::Write;

use askama::Template;
use bavrek_core::anatomy::Region;

/// Hard sets that fill a panel.
pub(crate) const FULL: f64 = 10.0;
/// How far corners are rounded.
const CORNER: f64 = 4.2;

type Piece = (Region, &'static [(f64, f64)]);

/// Half a body seen from the front, x outward from the midline, y down.
const FRONT: &[Piece] = &[
    (Region::TrapsUpper, &[(9.0, 43.0), (13.0, 47.0), (40.0, 57.0), (24.0, 60.0), (8.0, 59.0)]),
    (Region::ChestClavicular, &[(2.5, 64.0), (22.0, 62.0), (41.0, 61.0), (46.0, 73.0), (24.0, 79.0), (2.5, 83.0)]),
    (
        Region::ChestSternal,
        &[(2.5, 86.0), (24.0, 82.0), (47.0, 76.0), (50.0, 90.0), (40.0, 104.0), (20.0, 108.0), (2.5, 108.0)],
    ),
    (Region::ChestCostal, &[(2.5, 111.0), (20.0, 111.0), (37.0, 107.0), (30.0, 118.0), (14.0, 123.0), (2.5, 122.0)]),
    (Region::PecMinor, &[(42.0, 106.0), (51.0, 94.0), (53.0, 106.0), (46.0, 118.0), (40.0, 115.0)]),
    (Region::Serratus, &[(34.0, 119.0), (45.0, 121.0), (44.0, 134.0), (38.0, 142.0), (29.0, 134.0)]),
    (Region::DeltFront, &[(44.0, 60.0), (55.0, 60.0), (62.0, 72.0), (60.0, 88.0), (53.0, 89.0), (48.0, 74.0)]),
    (Region::DeltSide, &[(58.0, 61.0), (68.0, 66.0), (73.0, 80.0), (70.0, 93.0), (63.0, 89.0), (65.0, 73.0)]),
    (Region::BicepsShort, &[(53.0, 93.0), (60.0, 92.0), (61.0, 110.0), (61.0, 130.0), (55.0, 128.0), (52.0, 110.0)]),
    (Region::BicepsLong, &[(63.0, 93.0), (69.0, 96.0), (72.0, 112.0), (70.0, 130.0), (64.0, 131.0), (64.0, 110.0)]),
    (Region::Brachialis, &[(55.0, 132.0), (63.0, 134.0), (71.0, 134.0), (72.0, 144.0), (64.0, 147.0), (57.0, 143.0)]),
    (
        Region::Brachioradialis,
        &[(68.0, 149.0), (75.0, 147.0), (80.0, 164.0), (79.0, 188.0), (74.0, 190.0), (71.0, 170.0)],
    ),
    (
        Region::ForearmFlexors,
        &[(59.0, 148.0), (66.0, 150.0), (69.0, 172.0), (71.0, 192.0), (64.0, 193.0), (59.0, 170.0)],
    ),
    (
        Region::TrunkFront,
        &[(2.5, 126.0), (14.0, 127.0), (27.0, 122.0), (28.0, 150.0), (25.0, 178.0), (16.0, 198.0), (2.5, 203.0)],
    ),
    (Region::TrunkBack, &[(31.0, 139.0), (38.0, 146.0), (41.0, 160.0), (40.0, 182.0), (27.0, 190.0), (30.0, 164.0)]),
];

/// Half a body seen from behind.
const BACK: &[Piece] = &[
    (Region::TrapsUpper, &[(2.5, 36.0), (9.0, 40.0), (14.0, 47.0), (44.0, 57.0), (22.0, 63.0), (2.5, 64.0)]),
    (Region::TrapsMiddle, &[(2.5, 67.0), (22.0, 66.0), (42.0, 61.0), (38.0, 76.0), (20.0, 90.0), (2.5, 96.0)]),
    (Region::TrapsLower, &[(2.5, 99.0), (18.0, 94.0), (29.0, 90.0), (20.0, 112.0), (2.5, 140.0)]),
    (Region::DeltRear, &[(47.0, 59.0), (60.0, 62.0), (70.0, 72.0), (72.0, 90.0), (62.0, 86.0), (52.0, 76.0)]),
    (Region::RotatorCuff, &[(43.0, 66.0), (49.0, 77.0), (58.0, 87.0), (50.0, 93.0), (36.0, 86.0), (38.0, 77.0)]),
    (
        Region::Lats,
        &[
            (33.0, 90.0),
            (49.0, 96.0),
            (53.0, 104.0),
            (50.0, 126.0),
            (40.0, 150.0),
            (22.0, 164.0),
            (5.0, 158.0),
            (6.0, 142.0),
            (22.0, 116.0),
        ],
    ),
    (Region::TricepsLong, &[(54.0, 96.0), (60.0, 90.0), (63.0, 106.0), (62.0, 126.0), (56.0, 128.0), (53.0, 110.0)]),
    (Region::TricepsLateral, &[(63.0, 90.0), (71.0, 94.0), (75.0, 108.0), (72.0, 126.0), (65.0, 126.0), (65.0, 106.0)]),
    (
        Region::TricepsMedial,
        &[(56.0, 131.0), (64.0, 129.0), (72.0, 129.0), (72.0, 140.0), (64.0, 145.0), (58.0, 142.0)],
    ),
    (
        Region::ForearmExtensors,
        &[(60.0, 147.0), (68.0, 147.0), (75.0, 145.0), (80.0, 164.0), (79.0, 190.0), (67.0, 193.0), (61.0, 170.0)],
    ),
    (Region::TrunkBack, &[(2.5, 162.0), (20.0, 167.0), (36.0, 160.0), (38.0, 184.0), (20.0, 198.0), (2.5, 203.0)]),
];

/// Sets a region gets: directly, and by assisting.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub(crate) struct Work {
    pub(crate) direct: f64,
    pub(crate) assisting: f64,
}

/// What the torso shows.
#[derive(Template)]
#[template(path = "pictures/torso.svg", escape = "html")]
pub(crate) struct Torso {
    id: &'static str,
    title: String,
    panels: Vec<Panel>,
}

struct Panel {
    clip: String,
    label: String,
    shape: String,
    wanted: bool,
    levels: Vec<Level>,
}

struct Level {
    y: String,
    height: String,
    hatched: bool,
}

/// Draws the torso. `id` keeps the clip paths of several torsos on one page apart; `wanted` outlines regions.
pub(crate) fn draw(id: &'static str, title: &str, work: &BTreeMap<Region, Work>, wanted: &[Region]) -> Torso {
    let mut panels = Vec::new();
    for (side, pieces, centre) in [("f", FRONT, 92.0), ("b", BACK, 268.0)] {
        for (region, points) in pieces {
            for sign in [1.0, -1.0] {
                let clip = format!("{id}{side}{}{}", region.id(), if sign > 0.0 { "r" } else { "l" });
                panels.push(panel(clip, *region, points, centre, sign, work, wanted));
            }
        }
    }
    Torso { id, title: title.to_owned(), panels }
}

fn panel(
    clip: String,
    region: Region,
    points: &[(f64, f64)],
    centre: f64,
    sign: f64,
    work: &BTreeMap<Region, Work>,
    wanted: &[Region],
) -> Panel {
    let placed: Vec<_> = points.iter().map(|(x, y)| (centre + sign * x, *y)).collect();
    let top = points.iter().map(|p| p.1).fold(f64::MAX, f64::min);
    let bottom = points.iter().map(|p| p.1).fold(f64::MIN, f64::max);
    let done = work.get(&region).copied().unwrap_or_default();
    let direct = (done.direct / FULL).min(1.0);
    let both = ((done.direct + done.assisting) / FULL).min(1.0);
    let level = |from: f64, to: f64, hatched| Level {
        y: format!("{:.1}", bottom - (bottom - top) * to),
        height: format!("{:.1}", (bottom - top) * (to - from)),
        hatched,
    };
    let mut levels = Vec::new();
    if direct > 0.0 {
        levels.push(level(0.0, direct, false));
    }
    if both > direct {
        levels.push(level(direct, both, true));
    }
    let label = format!("{region}: {:.1} sets directly, {:.1} assisting", done.direct, done.assisting);
    Panel { clip, label, shape: rounded(&placed), wanted: wanted.contains(&region), levels }
}

/// A closed outline with rounded corners.
fn rounded(points: &[(f64, f64)]) -> String {
    let toward = |a: (f64, f64), b: (f64, f64)| {
        let length = (b.0 - a.0).hypot(b.1 - a.1);
        let share = CORNER.min(length * 0.45) / length;
        (a.0 + (b.0 - a.0) * share, a.1 + (b.1 - a.1) * share)
    };
    let n = points.len();
    let mut d = String::new();
    for i in 0..n {
        let (before, corner, after) = (points[(i + n - 1) % n], points[i], points[(i + 1) % n]);
        let (start, end) = (toward(corner, before), toward(corner, after));
        let command = if i == 0 { "M" } else { "L" };
        let _ = write!(
            d,
            "{command}{:.1} {:.1}Q{:.1} {:.1} {:.1} {:.1}",
            start.0, start.1, corner.0, corner.1, end.0, end.1
        );
    }
    d + "Z"
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_region_has_a_panel() {
        for region in Region::ALL {
            assert!(FRONT.iter().chain(BACK).any(|(r, _)| r == region), "{region}");
        }
    }

    #[test]
    fn a_level_rises_from_the_bottom_edge() {
        let work = [(Region::Lats, Work { direct: 5.0, assisting: 2.5 })].into();
        let torso = draw("t", "work", &work, &[Region::Lats]);
        let lats: Vec<_> = torso.panels.iter().filter(|p| p.label.starts_with("lats")).collect();
        assert_eq!(lats.len(), 2);
        // The panel spans 90 to 164: half of it is solid, a quarter more hatched.
        assert_eq!((lats[0].levels[0].y.as_str(), lats[0].levels[0].height.as_str()), ("127.0", "37.0"));
        assert_eq!((lats[0].levels[1].y.as_str(), lats[0].levels[1].hatched), ("108.5", true));
        assert!(lats[0].wanted);
    }

    #[test]
    fn a_full_panel_never_overflows() {
        let work = [(Region::Lats, Work { direct: 50.0, assisting: 50.0 })].into();
        let torso = draw("t", "work", &work, &[]);
        let lats = torso.panels.iter().find(|p| p.label.starts_with("lats")).unwrap();
        assert_eq!(lats.levels.len(), 1);
        assert_eq!(lats.levels[0].height, "74.0");
    }
}
