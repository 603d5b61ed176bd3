//! The pattern-piece torso: every region a flat panel whose level rises with the sets it gets.

use std::collections::BTreeMap;
use std::fmt::Write;
use std::sync::LazyLock;

use askama::Template;
use bavrek_core::aims::Aim;
use bavrek_core::anatomy::Region;
use bavrek_core::units::trim_number;
use bavrek_core::volume::RegionSets;

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

/// What is wanted of a region: the aim and its weekly sets, least and most.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Wanted {
    pub(crate) aim: Aim,
    pub(crate) sets: [f64; 2],
}

/// What the torso shows.
#[derive(Template)]
#[template(path = "pictures/torso.svg", escape = "html")]
pub(crate) struct Torso {
    id: &'static str,
    title: String,
    panels: Vec<Panel>,
    /// Whether panels can be chosen.
    choosing: bool,
}

struct Panel {
    clip: String,
    region: &'static str,
    label: String,
    shape: &'static str,
    edge: &'static str,
    levels: Vec<Level>,
    /// The notches at the least.
    least: Option<String>,
    /// Height of the dashed line at the most, and its ends.
    most: Option<String>,
    across: (String, String),
    /// One dart for a region that is to grow, two for one in focus.
    darts: Option<String>,
    /// The one panel of a region that the keyboard stops at.
    stop: bool,
}

struct Level {
    y: String,
    height: String,
    hatched: bool,
}

/// Draws the torso against aims: a panel's level rises towards its own most, a notch marks the least, a dashed line the
/// most, and darts tell what is to grow. Panels can be chosen where `choosing` is set.
pub(crate) fn draw_aims(
    id: &'static str,
    title: &str,
    work: &BTreeMap<Region, RegionSets>,
    wanted: &BTreeMap<Region, Wanted>,
    choosing: bool,
) -> Torso {
    let mut torso = draw(id, title, &BTreeMap::new(), &[]);
    torso.choosing = choosing;
    let mut seen = Vec::new();
    for (panel, at) in torso.panels.iter_mut().zip(placed()) {
        let region = at.region;
        let Some(aimed) = wanted.get(&region) else { continue };
        aim_at(panel, &at, work.get(&region).copied().unwrap_or_default(), *aimed);
        panel.label =
            format!("{region}: {}; {}", aimed_text(*aimed), panel.label.split(": ").nth(1).unwrap_or_default());
        panel.stop = choosing && !seen.contains(&region);
        seen.push(region);
    }
    torso
}

/// Draws the torso as a choice of regions by weight, 0 to 1: a panel's level is its weight, and every panel can be pressed.
pub(crate) fn draw_choice(id: &'static str, title: &str, weights: &BTreeMap<Region, f64>) -> Torso {
    let work = weights.iter().map(|(region, weight)| (*region, RegionSets { direct: weight * FULL, assisting: 0.0 }));
    let chosen: Vec<Region> = weights.keys().copied().collect();
    let mut torso = draw(id, title, &work.collect(), &chosen);
    torso.choosing = true;
    let mut seen = Vec::new();
    for (panel, Placed { region, .. }) in torso.panels.iter_mut().zip(placed()) {
        panel.label = match weights.get(&region) {
            Some(weight) if *weight >= 1.0 => format!("{region}: leads"),
            Some(weight) => format!("{region}: counts {}", trim_number(*weight, 2)),
            None => format!("{region}: not asked for"),
        };
        panel.stop = !seen.contains(&region);
        seen.push(region);
    }
    torso
}

/// `grow, 8 to 14 sets a week`.
fn aimed_text(wanted: Wanted) -> String {
    format!("{}, {} to {} sets a week", wanted.aim, trim_number(wanted.sets[0], 1), trim_number(wanted.sets[1], 1))
}

/// A panel where it is drawn.
struct Placed {
    region: Region,
    points: &'static [(f64, f64)],
    /// Where the midline of its body is, and on which side of it, 1 or -1.
    centre: f64,
    sign: f64,
    /// Which body and side, for the clip's name.
    part: &'static str,
}

/// The outlines of all panels in the order they are drawn: the same on every page.
static SHAPES: LazyLock<Vec<String>> = LazyLock::new(|| {
    let outline =
        |at: Placed| rounded(&at.points.iter().map(|(x, y)| (at.centre + at.sign * x, *y)).collect::<Vec<_>>());
    placed().map(outline).collect()
});

/// Every panel in the order it is drawn.
fn placed() -> impl Iterator<Item = Placed> {
    let front = FRONT.iter().flat_map(|piece| [("fr", 1.0), ("fl", -1.0)].map(|side| (piece, 92.0, side)));
    let back = BACK.iter().flat_map(|piece| [("br", 1.0), ("bl", -1.0)].map(|side| (piece, 268.0, side)));
    let placed = |((region, points), centre, (part, sign)): (&Piece, f64, (&'static str, f64))| Placed {
        region: *region,
        points,
        centre,
        sign,
        part,
    };
    front.chain(back).map(placed)
}

/// Height of a panel above its most, as a share: what goes over the most is still seen.
const ABOVE_MOST: f64 = 1.15;

fn aim_at(panel: &mut Panel, at: &Placed, done: RegionSets, wanted: Wanted) {
    let Placed { points, centre, sign, .. } = *at;
    let top = points.iter().map(|p| p.1).fold(f64::MAX, f64::min);
    let bottom = points.iter().map(|p| p.1).fold(f64::MIN, f64::max);
    let full = wanted.sets[1].max(1.0) * ABOVE_MOST;
    let at = |sets: f64| bottom - (bottom - top) * (sets / full).min(1.0);
    panel.levels = levels(done, full, top, bottom);
    panel.label = format!("x: {:.1} sets directly, {:.1} assisting this week", done.direct, done.assisting);
    panel.most = Some(format!("{:.1}", at(wanted.sets[1])));
    let ends = points.iter().map(|p| centre + sign * p.0);
    let (left, right) = (ends.clone().fold(f64::MAX, f64::min), ends.fold(f64::MIN, f64::max));
    panel.across = (format!("{left:.1}"), format!("{right:.1}"));
    let notch = ((right - left) * 0.2).min(6.0);
    let least = at(wanted.sets[0]);
    panel.least = Some(format!("M{left:.1} {least:.1}h{notch:.1}M{right:.1} {least:.1}h-{notch:.1}"));
    let x = points.iter().map(|p| centre + sign * p.0).sum::<f64>() / points.len() as f64;
    let y = points.iter().map(|p| p.1).sum::<f64>() / points.len() as f64;
    let dart = |x: f64, y: f64| format!("M{:.1} {:.1}l2.6-6 2.6 6Z", x - 2.6, y + 3.0);
    // Where two darts do not fit side by side they stand one above the other.
    let two =
        if right - left > 18.0 { dart(x - 3.2, y) + &dart(x + 3.2, y) } else { dart(x, y - 4.0) + &dart(x, y + 4.0) };
    (panel.edge, panel.darts) = match wanted.aim {
        Aim::Keep => ("edge kept-edge", None),
        Aim::Grow => ("edge grow-edge", Some(dart(x, y))),
        Aim::Focus => ("edge focus-edge", Some(two)),
    };
}

/// The solid and the hatched level of a panel.
fn levels(done: RegionSets, full: f64, top: f64, bottom: f64) -> Vec<Level> {
    let direct = (done.direct / full).min(1.0);
    let both = ((done.direct + done.assisting) / full).min(1.0);
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
    levels
}

/// Draws the torso. `id` keeps the clip paths of several torsos on one page apart; `wanted` outlines regions.
pub(crate) fn draw(id: &'static str, title: &str, work: &BTreeMap<Region, RegionSets>, wanted: &[Region]) -> Torso {
    let panels = placed().zip(&*SHAPES).map(|(at, shape)| {
        let clip = format!("{id}{}{}", at.part, at.region.id());
        panel((clip, shape), (at.region, at.points), work, wanted)
    });
    Torso { id, title: title.to_owned(), panels: panels.collect(), choosing: false }
}

fn panel(
    (clip, shape): (String, &'static str),
    (region, points): (Region, &[(f64, f64)]),
    work: &BTreeMap<Region, RegionSets>,
    wanted: &[Region],
) -> Panel {
    let top = points.iter().map(|p| p.1).fold(f64::MAX, f64::min);
    let bottom = points.iter().map(|p| p.1).fold(f64::MIN, f64::max);
    let done = work.get(&region).copied().unwrap_or_default();
    let label = format!("{region}: {:.1} sets directly, {:.1} assisting", done.direct, done.assisting);
    Panel {
        clip,
        region: region.id(),
        label,
        shape,
        edge: if wanted.contains(&region) { "edge wanted" } else { "edge" },
        levels: levels(done, FULL, top, bottom),
        least: None,
        most: None,
        across: (String::new(), String::new()),
        darts: None,
        stop: false,
    }
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
        let work = [(Region::Lats, RegionSets { direct: 5.0, assisting: 2.5 })].into();
        let torso = draw("t", "work", &work, &[Region::Lats]);
        let lats: Vec<_> = torso.panels.iter().filter(|p| p.label.starts_with("lats")).collect();
        assert_eq!(lats.len(), 2);
        // The panel spans 90 to 164: half of it is solid, a quarter more hatched.
        assert_eq!((lats[0].levels[0].y.as_str(), lats[0].levels[0].height.as_str()), ("127.0", "37.0"));
        assert_eq!((lats[0].levels[1].y.as_str(), lats[0].levels[1].hatched), ("108.5", true));
        assert_eq!(lats[0].edge, "edge wanted");
    }

    #[test]
    fn an_aim_sets_the_scale_of_its_panel() {
        let work = [(Region::Lats, RegionSets { direct: 5.75, assisting: 0.0 })].into();
        let wanted = [(Region::Lats, Wanted { aim: Aim::Focus, sets: [5.0, 10.0] })].into();
        let torso = draw_aims("t", "aims", &work, &wanted, true);
        let lats: Vec<_> = torso.panels.iter().filter(|p| p.region == "lats").collect();
        // 11.5 sets fill the panel from 164 up to 90: half is done, ten lie at 164 - 74/1.15.
        assert_eq!((lats[0].levels[0].y.as_str(), lats[0].most.as_deref()), ("127.0", Some("99.7")));
        assert!(lats[0].least.as_ref().unwrap().contains(" 131.8h"));
        assert!(lats[0].label.contains("lats: focus, 5 to 10 sets a week; 5.8 sets directly"), "{}", lats[0].label);
        assert_eq!(lats.iter().filter(|p| p.stop).count(), 1, "one stop of the keyboard for a region");
        assert!(lats[0].darts.as_ref().unwrap().matches('M').count() == 2);
    }

    #[test]
    fn every_region_can_be_chosen_once_by_keyboard() {
        let wanted = Region::ALL.iter().map(|r| (*r, Wanted { aim: Aim::Keep, sets: [2.0, 4.0] })).collect();
        let torso = draw_aims("t", "aims", &BTreeMap::new(), &wanted, true);
        assert_eq!(torso.panels.iter().filter(|p| p.stop).count(), Region::ALL.len());
    }

    #[test]
    fn a_full_panel_never_overflows() {
        let work = [(Region::Lats, RegionSets { direct: 50.0, assisting: 50.0 })].into();
        let torso = draw("t", "work", &work, &[]);
        let lats = torso.panels.iter().find(|p| p.label.starts_with("lats")).unwrap();
        assert_eq!(lats.levels.len(), 1);
        assert_eq!(lats.levels[0].height, "74.0");
    }
}
