//! How a band can load a movement: stances, grips and distances, each with its resistance along the movement.

use super::missing::Missing;
use super::step::FAR_OUT;
use crate::anatomy::Implement;
use crate::kit::{Anchor, KitItem};
use crate::mechanics::band::Rubber;
use crate::mechanics::profile::Profile;
use crate::movement::{Hands, Mount, Movement};
use crate::person::Person;
use crate::posture::{Point, Posture};
use crate::rigging::Setup;
use crate::rigging::{self, BandFix, BandInUse, Loaded, Strands, TRAPPED_SD, Way};
use crate::units::{GRAVITY, Kilograms, Metres};

/// Stances offered on a stood-on band, m between the outer edges of the feet. Assumed useful.
const STANCES: [f64; 2] = [0.20, 0.40];
/// How much nearer a stood-on band may be gripped, m.
const GRIPS: [f64; 4] = [0.0, 0.15, 0.30, 0.45];
/// Extension ratio at the start from which a band pulls in earnest.
const PULLS: f64 = 1.06;
/// A step back from an anchor, m.
const STEP_BACK: f64 = 0.20;
/// Steps back offered with one band.
const MOST_STEPS_BACK: usize = 9;
/// Extension ratio at the start beyond which nobody walks.
const FARTHEST: f64 = 2.3;
/// Distances to an anchor that a room allows, m.
const ROOM: (f64, f64) = (0.3, 3.2);
/// Least distance to an anchor that is faced, m: it lies beyond the hands.
const FACED: f64 = 0.75;

/// Which band is used, and how.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct BandUse {
    pub(super) item: u16,
    setup: Setup,
}

impl BandUse {
    pub(super) const fn new(item: u16) -> Self {
        Self { item, setup: EMPTY }
    }

    /// Whether it is gripped nearer, or pulled from farther out than a first day asks.
    pub(super) fn is_odd(&self) -> bool {
        self.setup.grip_shorter_m.is_some_and(|m| m.value() > 0.0)
            || self.setup.anchor_distance_m.is_some_and(|m| m.value() > FAR_OUT)
    }

    /// Whether it is folded once more.
    pub(super) fn is_doubled(&self) -> bool {
        self.setup.band_fix == Some(BandFix::Doubled)
    }

    /// The band's part of the set-up laid over another.
    pub(super) fn merge(&self, base: Setup) -> Setup {
        Setup {
            anchor_height_m: self.setup.anchor_height_m.or(base.anchor_height_m),
            anchor_distance_m: self.setup.anchor_distance_m.or(base.anchor_distance_m),
            stance_m: self.setup.stance_m.or(base.stance_m),
            grip_shorter_m: self.setup.grip_shorter_m.or(base.grip_shorter_m),
            band_fix: self.setup.band_fix.or(base.band_fix),
            ..base
        }
    }
}

const EMPTY: Setup = Setup {
    support_height_m: None,
    surface: None,
    bench_deg: None,
    anchor_height_m: None,
    anchor_distance_m: None,
    body_angle_deg: None,
    feet_height_m: None,
    hands_height_m: None,
    knees: None,
    stance_m: None,
    grip_shorter_m: None,
    strap_m: None,
    band_fix: None,
    foot_in_loop: None,
    range: None,
};

/// One configuration of one band.
pub(super) struct BandOption {
    pub(super) used: BandUse,
    pub(super) profile: Profile,
    pub(super) cost: u8,
    pub(super) log_sd: f64,
    /// The plainest configuration of its band.
    pub(super) plain: bool,
    /// Whether a second band can join it.
    pub(super) joins: bool,
    /// Whether that can be its own like.
    pub(super) twice: bool,
}

/// A band of the kit.
struct OwnBand {
    item: u16,
    band: BandInUse,
}

pub(super) const fn implement_of(item: &KitItem) -> Implement {
    match item {
        KitItem::TubeBand(_) => Implement::TubeBand,
        _ => Implement::LoopBand,
    }
}

fn in_kit<'a>(kit: &'a [KitItem], movement: &'a Movement) -> impl Iterator<Item = OwnBand> + 'a {
    let uses = |item: &u16| movement.uses(implement_of(&kit[usize::from(*item)]));
    chosen(kit)
        .into_iter()
        .filter(move |item| uses(item))
        .filter_map(|item| Some(OwnBand { item, band: BandInUse::of(&kit[usize::from(item)])? }))
}

/// Whether a kit holds a band that could load a movement.
pub(super) fn is_any_in(kit: &[KitItem], movement: &Movement) -> bool {
    in_kit(kit, movement).next().is_some()
}

/// Bands that ladders are made of at most: more would be nearer to each other than any of them is known.
pub const MOST_BANDS: usize = 24;

/// The bands of a kit that ladders are made of: all, or where there are too many the lightest, the heaviest and what lies evenly
/// between them by how stiff they are at double length.
fn chosen(kit: &[KitItem]) -> Vec<u16> {
    let stiffness = |band: &BandInUse| band.rubber.strand_force(2.0) / band.flat.value();
    let mut bands: Vec<(u16, f64)> = kit
        .iter()
        .enumerate()
        .filter_map(|(i, k)| Some((i as u16, BandInUse::of(k).map(|b| stiffness(&b))?)))
        .collect();
    if bands.len() > MOST_BANDS {
        bands.sort_by(|a, b| a.1.total_cmp(&b.1));
        let last = bands.len() - 1;
        bands = (0..MOST_BANDS).map(|k| bands[k * last / (MOST_BANDS - 1)]).collect();
        bands.sort_by_key(|(item, _)| *item);
    }
    bands.into_iter().map(|(item, _)| item).collect()
}

/// The bands of a kit that no ladder is made of, because there are too many; their places in the kit.
pub fn bands_left_out(kit: &[KitItem]) -> Vec<usize> {
    let chosen = chosen(kit);
    (0..kit.len()).filter(|i| kit[*i].is_band() && !chosen.contains(&(*i as u16))).collect()
}

/// Loop bands in the kit.
pub(super) fn loops(kit: &[KitItem]) -> impl Iterator<Item = (u16, BandInUse)> + '_ {
    let bands = chosen(kit).into_iter().filter_map(|item| Some((item, BandInUse::of(&kit[usize::from(item)])?)));
    bands.filter(|(_, b)| !b.tube)
}

/// Every configuration of every band that pulls from the first third on and stays within its limits.
pub(super) fn options(
    loaded: &Loaded,
    mount: Mount,
    movement: &Movement,
    person: &Person,
    kit: &[KitItem],
    posture: &Posture,
) -> Result<Vec<BandOption>, Vec<Missing>> {
    let mut found = Vec::new();
    let way = loaded.way();
    let anchor = match mount {
        Mount::Anchor { height, facing } => match anchor_for(height, person.height_m, kit) {
            Some(fixed) => Some((fixed, facing)),
            // A movement that dumbbells can load too does without the anchor.
            None if movement.is_weighed() => return Ok(found),
            None => return Err(vec![lacking_anchor(height, person.height_m, kit)]),
        },
        _ => None,
    };
    for band in in_kit(kit, movement) {
        let before = found.len();
        match (mount, anchor) {
            (Mount::UnderBack, _) => under_back(&band, person, &mut found),
            (Mount::BetweenHands, _) => between_hands(&way, &band, rigging::midline(person), &mut found),
            (Mount::StoodOn, _) => {
                let anchor = rigging::stood_on_anchor(movement, person, posture);
                stood_on(&way, &band, movement.hands, anchor, &mut found);
            }
            (_, Some((Fixed { height, holds }, facing))) => {
                let rise = height - rigging::origin_height(movement, posture);
                let wall = Wall { height, holds, rise, facing, way: &way };
                anchored(loaded, &band, movement.hands, person, wall, &mut found);
            }
            _ => {}
        }
        if let Some(first) = found.get_mut(before) {
            first.plain = true;
        }
    }
    let limited = anchor.and_then(|(fixed, _)| fixed.holds).filter(|_| found.is_empty() && !movement.is_weighed());
    match limited {
        Some(most) => Err(vec![Missing::WeakAnchor { holds: Kilograms(most / GRAVITY) }]),
        None => Ok(found),
    }
}

/// Where a band is fixed, m, and the hardest pull that holds there, N.
#[derive(Debug, Clone, Copy)]
struct Fixed {
    height: f64,
    holds: Option<f64>,
}

/// The anchor within the wanted shares of stature: one that holds anything first, then the nearest to their middle.
fn anchor_for(wanted: [f64; 2], stature: Metres, kit: &[KitItem]) -> Option<Fixed> {
    let (low, high) = (wanted[0] * stature.value(), wanted[1] * stature.value());
    let middle = 0.5 * (low + high);
    let anchors = kit.iter().filter_map(|k| if let KitItem::Anchor(a) = k { Some(a) } else { None });
    let found = anchors
        .filter_map(|a| Some(Fixed { height: a.within(low, high)?, holds: a.holds().map(|kg| kg.weight().value()) }));
    let off = |f: &Fixed| (f.height - middle).abs();
    found.min_by(|a, b| a.holds.is_some().cmp(&b.holds.is_some()).then(off(a).total_cmp(&off(b))))
}

/// No anchor is at a height that will do: where one would have to be, m by shares of stature, and where those here are.
fn lacking_anchor(wanted: [f64; 2], stature: Metres, kit: &[KitItem]) -> Missing {
    let between = wanted.map(|share| Metres(share * stature.value()));
    let here: Vec<Anchor> =
        kit.iter().filter_map(|k| if let KitItem::Anchor(a) = k { Some(a.clone()) } else { None }).collect();
    // In whole twentieths, which is as near as anybody measures on a wall.
    let middle = (0.5 * (between[0].value() + between[1].value()) * 20.0).round() / 20.0;
    let move_to = here.iter().any(Anchor::can_move).then_some(Metres(middle));
    Missing::Anchor { between, here, move_to }
}

fn under_back(own: &OwnBand, person: &Person, found: &mut Vec<BandOption>) {
    if let Ok((profile, _)) = rigging::under_back(&own.band, person) {
        found.push(BandOption {
            used: BandUse::new(own.item),
            profile,
            cost: 2,
            log_sd: own.band.rubber.log_sd().hypot(TRAPPED_SD),
            plain: false,
            joins: true,
            twice: own.band.count > 1,
        });
    }
}

fn stood_on(way: &Way, own: &OwnBand, hands: Hands, anchor: Point, found: &mut Vec<BandOption>) {
    let mut option = |stance: f64, grip: f64, fix: BandFix| {
        let strands = own.band.stood_on(hands, Metres(stance), Metres(grip), fix);
        let Some(profile) = along(way, own.band.rubber, strands, anchor) else { return };
        let doubled = fix == BandFix::Doubled;
        let setup = Setup {
            stance_m: Some(Metres(stance)),
            grip_shorter_m: Some(Metres(grip)),
            band_fix: doubled.then_some(fix),
            ..EMPTY
        };
        found.push(BandOption {
            used: BandUse { item: own.item, setup },
            profile,
            cost: if doubled { 2 } else { 1 },
            log_sd: own.band.rubber.log_sd(),
            plain: false,
            joins: !doubled,
            twice: own.band.count > 1,
        });
    };
    for stance in STANCES {
        for grip in GRIPS {
            option(stance, grip, BandFix::Hung);
        }
    }
    if !own.band.tube {
        option(STANCES[0], GRIPS[0], BandFix::Doubled);
    }
}

/// How much of a band either hand takes up, m.
const TAKEN: [f64; 5] = [0.0, 0.10, 0.18, 0.25, 0.32];

fn between_hands(way: &Way, own: &OwnBand, middle: Point, found: &mut Vec<BandOption>) {
    for taken in TAKEN {
        let strands = own.band.between_hands(Metres(taken));
        let Some(profile) = along(way, own.band.rubber, strands, middle) else { continue };
        found.push(BandOption {
            used: BandUse { item: own.item, setup: Setup { grip_shorter_m: Some(Metres(taken)), ..EMPTY } },
            profile,
            cost: 1,
            log_sd: own.band.rubber.log_sd(),
            plain: false,
            joins: false,
            twice: false,
        });
    }
}

/// Resistance of a band from a fixed end, or nothing where it is refused or slack for too long.
fn along(way: &Way, rubber: Rubber, strands: Strands, anchor: Point) -> Option<Profile> {
    let profile = way.band(rubber, strands.strands, strands.free, anchor).ok()?;
    (!profile.slack_beyond_first_third()).then_some(profile)
}

/// An anchor in the wall: its height, how far above the origin that is, and whether the client faces it.
#[derive(Clone, Copy)]
struct Wall<'a> {
    height: f64,
    holds: Option<f64>,
    rise: f64,
    facing: bool,
    way: &'a Way,
}

/// What a band asks of its anchor where it is stretched most, with both hands at it, N.
fn pull(loaded: &Loaded, own: &OwnBand, strands: Strands, hands: Hands, anchor: Point) -> f64 {
    let (_, longest) = loaded.stretches(strands.free, anchor);
    let each = strands.strands * own.band.rubber.strand_force(longest);
    if hands == Hands::Each { 2.0 * each } else { each }
}

fn anchored(
    loaded: &Loaded,
    own: &OwnBand,
    hands: Hands,
    person: &Person,
    wall: Wall<'_>,
    found: &mut Vec<BandOption>,
) {
    let mut walk_out = |fix: BandFix| {
        let strands = own.band.anchored(hands, Metres(0.0), fix);
        let doubled = fix == BandFix::Doubled;
        let away = |stretch: f64| {
            rigging::anchor_distance(loaded, person, wall.rise, strands.free.value() * stretch, wall.facing)
        };
        let least = if wall.facing { FACED } else { ROOM.0 };
        let (Some(farthest), first) = (away(FARTHEST), away(PULLS).unwrap_or(least).max(least)) else { return };
        for k in 0..MOST_STEPS_BACK {
            // Distances in whole twentieths, a step apart: what a client can pace out.
            let distance = (first / 0.05).ceil() * 0.05 + STEP_BACK * k as f64;
            if distance > ROOM.1.min(farthest) {
                break;
            }
            let anchor = rigging::anchor_point(loaded, person, wall.rise, distance, wall.facing);
            let Some(profile) = along(wall.way, own.band.rubber, strands, anchor) else { continue };
            if wall.holds.is_some_and(|most| pull(loaded, own, strands, hands, anchor) > most) {
                continue;
            }
            let setup = Setup {
                anchor_height_m: Some(Metres(wall.height)),
                anchor_distance_m: Some(Metres(distance)),
                band_fix: (fix != BandFix::Hung).then_some(fix),
                ..EMPTY
            };
            found.push(BandOption {
                used: BandUse { item: own.item, setup },
                profile,
                cost: if doubled { 3 } else { 2 },
                log_sd: own.band.rubber.log_sd(),
                plain: false,
                joins: false,
                twice: false,
            });
        }
    };
    // A loop for each hand is heavier than one for both: with two of them, both ways are there.
    if own.band.count > 1 && hands == Hands::Each {
        walk_out(BandFix::Shared);
    }
    walk_out(BandFix::Hung);
    if !own.band.tube {
        walk_out(BandFix::Doubled);
    }
}
