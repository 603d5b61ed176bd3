//! Trunk work without a load: on the back, on the belly, on hands and knees, hanging from a bar.

use super::scene::{ARM, Arm, Body, Figure, PATH, Prop, Sight, Trunk, head_on, plus, reach, share};
use crate::mechanics::single_joint::TRUNK;
use crate::movement::TrunkWork;
use crate::posture::{HALF_DEPTH, Leg, Point, SHANK, THIGH, between, upward};
use crate::rigging::Rigged;

/// Height of a bar to hang from over stature.
const BAR_HEIGHT: f64 = 1.28;

pub(super) fn draw(rigged: &Rigged<'_>, work: TrunkWork) -> Figure {
    let h = rigged.person.height_m.value();
    let body = |s: f64| body(work, h, s);
    let (start, end) = (body(0.0), body(1.0));
    let joint = end.legs[0][0];
    let path = (0..PATH).map(|i| body(share(i)).arms[0][2]).collect();
    let props = if work.hangs() { vec![Prop::Bar(end.arms[0][2])] } else { Vec::new() };
    Figure {
        sight: Sight::Side,
        joint,
        path,
        start,
        end,
        ribbon: Vec::new(),
        props,
        bands: Vec::new(),
        measures: Vec::new(),
        floor: Some(0.0),
    }
}

fn between_angles(from: f64, to: f64, s: f64) -> f64 {
    from + (to - from) * s
}

/// The body at a share of the way from lengthened to shortened.
fn body(work: TrunkWork, h: f64, s: f64) -> Body {
    let floor = HALF_DEPTH * h;
    let (hip, lean): (Point, f64) = match work {
        TrunkWork::CurlUp => ([0.0, floor], between_angles(-88.0, -62.0, s)),
        // The hips rise while the shoulders stay down.
        TrunkWork::ReverseCrunch => ([0.0, floor + between_angles(0.0, 0.05, s) * h], between_angles(-88.0, -98.0, s)),
        TrunkWork::HollowHold => ([0.0, floor], -78.0),
        TrunkWork::BackExtension => ([0.0, floor], between_angles(88.0, 70.0, s)),
        TrunkWork::BirdDog => ([0.0, (THIGH + 0.03) * h], 75.0),
        TrunkWork::KneeRaise | TrunkWork::LegRaise => ([0.0, BAR_HEIGHT * h - (0.98 * ARM + TRUNK) * h], 0.0),
        _ => ([0.0, floor], -88.0),
    };
    let shoulder = upward(hip, TRUNK * h, lean);
    Body {
        head: head_on(hip, shoulder, h),
        trunk: Trunk::Side([hip, shoulder]),
        arms: vec![arm(work, shoulder, h, s)],
        idle: idle(work, shoulder, h).into_iter().collect(),
        legs: legs(work, hip, h, s),
    }
}

fn arm(work: TrunkWork, shoulder: Point, h: f64, s: f64) -> Arm {
    let length = 0.97 * ARM * h;
    let pointing = |degrees: f64, bend: Point| reach(shoulder, upward(shoulder, length, degrees), h, bend);
    match work {
        // Towards the knees, sliding up the thighs.
        TrunkWork::CurlUp => pointing(between_angles(84.0, 76.0, s), [0.0, 1.0]),
        TrunkWork::DeadBug => pointing(between_angles(-80.0, 0.0, s), [-1.0, 0.0]),
        TrunkWork::HollowHold => pointing(-78.0, [0.0, 1.0]),
        TrunkWork::BackExtension => pointing(-90.0, [0.0, 1.0]),
        TrunkWork::BirdDog => pointing(between_angles(170.0, 88.0, s), [0.0, -1.0]),
        TrunkWork::KneeRaise | TrunkWork::LegRaise => reach(shoulder, [shoulder[0], BAR_HEIGHT * h], h, [1.0, 0.0]),
        _ => pointing(92.0, [0.0, 1.0]),
    }
}

/// The arm that carries a body on hands and knees.
fn idle(work: TrunkWork, shoulder: Point, h: f64) -> Option<Arm> {
    (work == TrunkWork::BirdDog).then(|| reach(shoulder, [shoulder[0], 0.0], h, [-1.0, 0.0]))
}

fn legs(work: TrunkWork, hip: Point, h: f64, s: f64) -> Vec<Leg> {
    let bent_on_floor = || {
        let ankle = [0.26 * h, 0.04 * h];
        [hip, between(hip, ankle, THIGH * h, SHANK * h, [0.3, 1.0]), ankle, plus(ankle, [0.09 * h, -0.04 * h])]
    };
    // Thigh and shin at angles from straight up, forward positive.
    let raised = |thigh: f64, shin: f64| {
        let knee = upward(hip, THIGH * h, thigh);
        let ankle = upward(knee, SHANK * h, shin);
        // A shin that lies on the floor has its toes behind it.
        let toes = if shin < -80.0 { shin } else { shin - 60.0 };
        [hip, knee, ankle, upward(ankle, 0.06 * h, toes)]
    };
    match work {
        TrunkWork::DeadBug => vec![raised(between_angles(70.0, 0.0, s), 90.0), raised(0.0, 90.0)],
        TrunkWork::ReverseCrunch => vec![raised(between_angles(10.0, -35.0, s), between_angles(80.0, 40.0, s))],
        TrunkWork::HollowHold => vec![raised(72.0, 72.0)],
        TrunkWork::BackExtension => vec![raised(-91.0, -91.0)],
        TrunkWork::BirdDog => {
            let kneeling = raised(180.0, -91.0);
            vec![raised(between_angles(-175.0, -92.0, s), -92.0), kneeling]
        }
        TrunkWork::KneeRaise => vec![raised(between_angles(176.0, 75.0, s), between_angles(184.0, 178.0, s))],
        TrunkWork::LegRaise => vec![raised(between_angles(178.0, 88.0, s), between_angles(178.0, 86.0, s))],
        // The curl-up keeps its feet on the floor.
        _ => vec![bent_on_floor()],
    }
}
