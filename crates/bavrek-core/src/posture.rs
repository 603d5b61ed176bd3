//! Where trunk and legs are for a stance: the joints in metres, x forward, y up, the floor at 0.
//!
//! Segment lengths are shares of stature after Drillis and Contini (1966), rounded. The drawing stands on these joints,
//! and the load model takes from them how high the shoulder is above a band that is stood on.

use crate::mechanics::single_joint::TRUNK;
use crate::movement::{Pose, Stance};
use crate::units::{Degrees, Metres};

/// A point, m.
pub type Point = [f64; 2];

/// Hip to knee over stature.
pub const THIGH: f64 = 0.245;
/// Knee to ankle over stature.
pub const SHANK: f64 = 0.246;
/// Ankle above the sole over stature.
pub const ANKLE: f64 = 0.04;
/// Heel to toe over stature.
pub const FOOT: f64 = 0.13;
/// Half the depth of the trunk over stature: how high the joints lie above a support.
pub const HALF_DEPTH: f64 = 0.055;
/// Height of a flat bench or seat where none is given, m.
pub const SEAT: f64 = 0.44;

/// Hip, knee, ankle and toe of one leg.
pub type Leg = [Point; 4];

/// Joints of trunk and legs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Posture {
    /// The hip.
    pub hip: Point,
    /// The shoulder.
    pub shoulder: Point,
    /// Both legs, the nearer first.
    pub legs: [Leg; 2],
}

/// A point at a distance and an angle from straight up, forward positive.
pub fn upward(from: Point, length: f64, lean: f64) -> Point {
    let a = lean.to_radians();
    [from[0] + length * a.sin(), from[1] + length * a.cos()]
}

/// The middle joint of two links between two points, on the side that `forward` points to; on the straight line where
/// they do not reach.
pub fn between(from: Point, to: Point, first: f64, second: f64, forward: Point) -> Point {
    let (dx, dy) = (to[0] - from[0], to[1] - from[1]);
    let d = dx.hypot(dy).max(1e-6);
    let along = ((first * first - second * second + d * d) / (2.0 * d)).clamp(-first, first);
    let off = (first * first - along * along).max(0.0).sqrt();
    let (ex, ey) = (dx / d, dy / d);
    let side = if -ey * forward[0] + ex * forward[1] >= 0.0 { 1.0 } else { -1.0 };
    [from[0] + along * ex - side * off * ey, from[1] + along * ey + side * off * ex]
}

impl Posture {
    /// The joints for a pose at a trunk lean. `support` is the height of the bench, chair or edge in use.
    pub fn of(pose: &Pose, trunk: Degrees, stature: Metres, support: Metres) -> Self {
        let h = stature.value();
        let lean = trunk.value();
        let frame = Frame { h, lean, support: support.value() };
        match pose.stance {
            Stance::Standing => frame.standing([0.0, 0.0]),
            Stance::Split => frame.standing([0.16, -0.24]),
            Stance::HandSupported => frame.standing([0.06, -0.14]),
            Stance::HalfKneeling => frame.half_kneeling(),
            Stance::Kneeling => frame.kneeling(),
            Stance::Seated | Stance::LyingBack => frame.seated(),
            Stance::SeatedFloor => frame.seated_floor(),
            Stance::Supine => frame.supine(),
            Stance::HipsRaised => frame.hips_raised(),
            Stance::ShouldersOnEdge => frame.shoulders_on_edge(),
            Stance::ChestSupported => frame.chest_supported(),
            Stance::SideLying => frame.side_lying(),
            Stance::Prone => frame.prone(),
            Stance::Plank => frame.plank(),
            Stance::KneeAndForearm => frame.knee_and_forearm(),
        }
    }
}

struct Frame {
    h: f64,
    lean: f64,
    support: f64,
}

/// Height of the shoulders over straight arms on a dumbbell's handle, shares of stature.
const PLANK_SHOULDER: f64 = 0.39;

impl Frame {
    fn with_legs(&self, hip: Point, feet: [Point; 2], toes: [f64; 2]) -> Posture {
        let leg = |ankle: Point, toe: f64| {
            let knee = between(hip, ankle, THIGH * self.h, SHANK * self.h, [1.0, 0.2]);
            [hip, knee, ankle, [ankle[0] + toe * self.h, (ankle[1] - ANKLE * self.h).max(0.0)]]
        };
        Posture {
            hip,
            shoulder: upward(hip, TRUNK * self.h, self.lean),
            legs: [leg(feet[0], toes[0]), leg(feet[1], toes[1])],
        }
    }

    /// Upright or bent forward; the hips go back as the trunk leans, so that the weight stays over the feet.
    fn standing(&self, feet: [f64; 2]) -> Posture {
        let h = self.h;
        let lean = self.lean.to_radians().sin();
        let x = -0.17 * lean * h;
        let leg = (THIGH + SHANK) * (1.0 - 0.05 * lean.abs()) * h;
        let spread = feet.iter().map(|f| (f * h - x).abs()).fold(0.0, f64::max);
        let hip = [x, ANKLE * h + (leg * leg - spread * spread).max(0.0).sqrt()];
        let ankle = |f: f64| [f * h, ANKLE * h];
        self.with_legs(hip, [ankle(feet[0]), ankle(feet[1])], [0.09, 0.09])
    }

    fn half_kneeling(&self) -> Posture {
        let h = self.h;
        let hip = [0.0, (THIGH + 0.03) * h];
        let front = [[0.0; 2], [0.235 * h, 0.29 * h], [0.235 * h, ANKLE * h], [0.33 * h, 0.0]];
        let knee = [-0.03 * h, 0.03 * h];
        let back = [hip, knee, [knee[0] - SHANK * h, 0.05 * h], [knee[0] - SHANK * h - 0.03 * h, 0.0]];
        let mut front = front;
        front[0] = hip;
        Posture { hip, shoulder: upward(hip, TRUNK * h, self.lean), legs: [front, back] }
    }

    fn kneeling(&self) -> Posture {
        let h = self.h;
        let back = -0.12 * self.lean.to_radians().sin() * h;
        let hip = [back, 0.03 * h + (THIGH * THIGH * h * h - back * back).max(0.0).sqrt()];
        let ankle = [-SHANK * h, 0.035 * h];
        let leg = [hip, [0.0, 0.03 * h], ankle, [ankle[0] - 0.07 * h, 0.01 * h]];
        Posture { hip, shoulder: upward(hip, TRUNK * h, self.lean), legs: [leg, leg] }
    }

    fn seated(&self) -> Posture {
        let h = self.h;
        let hip = [0.0, self.support + HALF_DEPTH * 0.9 * h];
        self.with_legs(hip, [[0.25 * h, ANKLE * h]; 2], [0.09; 2])
    }

    fn seated_floor(&self) -> Posture {
        let h = self.h;
        let hip = [0.0, HALF_DEPTH * h];
        let knee = [0.235 * h, 0.08 * h];
        let ankle = [0.47 * h, 0.035 * h];
        let leg = [hip, knee, ankle, [ankle[0] + 0.02 * h, 0.13 * h]];
        Posture { hip, shoulder: upward(hip, TRUNK * h, self.lean), legs: [leg, leg] }
    }

    /// On the floor or a bench, the head to the left.
    fn supine(&self) -> Posture {
        let h = self.h;
        let hip = [0.0, self.support + HALF_DEPTH * h];
        let ankle = if self.support > 0.2 { [0.30 * h, ANKLE * h] } else { [0.26 * h, ANKLE * h] };
        let knee = between(hip, ankle, THIGH * h, SHANK * h, [0.3, 1.0]);
        let leg = [hip, knee, ankle, [ankle[0] + 0.09 * h, 0.0]];
        Posture { hip, shoulder: upward(hip, TRUNK * h, self.lean), legs: [leg, leg] }
    }

    /// Shoulders on the floor or a declined bench, hips up: the trunk slopes to the head.
    fn hips_raised(&self) -> Posture {
        let h = self.h;
        let hip = [0.0, self.support + HALF_DEPTH * h - TRUNK * h * self.lean.to_radians().cos()];
        let ankle = [if self.support > 0.2 { 0.30 } else { 0.24 } * h, ANKLE * h];
        let knee = between(hip, ankle, THIGH * h, SHANK * h, [0.3, 1.0]);
        let leg = [hip, knee, ankle, [ankle[0] + 0.09 * h, 0.0]];
        Posture { hip, shoulder: upward(hip, TRUNK * h, self.lean), legs: [leg, leg] }
    }

    /// Shoulders on an edge, hips hanging low in front of it.
    fn shoulders_on_edge(&self) -> Posture {
        let h = self.h;
        let shoulder_y = self.support + HALF_DEPTH * h;
        let hip = [0.0, (shoulder_y - TRUNK * h * self.lean.to_radians().cos()).max(HALF_DEPTH * h)];
        let ankle = [0.30 * h, ANKLE * h];
        let knee = between(hip, ankle, THIGH * h, SHANK * h, [0.3, 1.0]);
        let leg = [hip, knee, ankle, [ankle[0] + 0.09 * h, 0.0]];
        Posture { hip, shoulder: upward(hip, TRUNK * h, self.lean), legs: [leg, leg] }
    }

    /// Chest on an inclined pad, the feet behind.
    fn chest_supported(&self) -> Posture {
        let h = self.h;
        let hip = [0.0, self.support + 0.08 * h];
        let ankle_y = 0.05 * h;
        let leg_length = (THIGH + SHANK) * h * 0.97;
        let back = (leg_length.powi(2) - (hip[1] - ankle_y).powi(2)).max(0.0).sqrt();
        let ankle = [-back, ankle_y];
        let knee = between(hip, ankle, THIGH * h, SHANK * h, [0.3, -1.0]);
        let leg = [hip, knee, ankle, [ankle[0] + 0.04 * h, 0.0]];
        Posture { hip, shoulder: upward(hip, TRUNK * h, self.lean), legs: [leg, leg] }
    }

    /// On the belly, the head to the right.
    fn prone(&self) -> Posture {
        let h = self.h;
        let hip = [0.0, self.support + HALF_DEPTH * h];
        let leg = [
            hip,
            [-THIGH * h, hip[1]],
            [-(THIGH + SHANK) * h, self.support + 0.04 * h],
            [-(THIGH + SHANK + 0.07) * h, 0.0],
        ];
        Posture { hip, shoulder: upward(hip, TRUNK * h, self.lean), legs: [leg, leg] }
    }

    /// In one line from the toes to the shoulders, the head to the right, as high as a straight arm on a low handle.
    fn plank(&self) -> Posture {
        let h = self.h;
        let lean = self.lean.to_radians();
        let hip = [0.0, PLANK_SHOULDER * h - TRUNK * h * lean.cos()];
        let back = |length: f64| [hip[0] - length * h * lean.sin(), hip[1] - length * h * lean.cos()];
        let ankle = back(THIGH + SHANK);
        let leg = [hip, back(THIGH), ankle, [ankle[0] + 0.02 * h, 0.0]];
        Posture { hip, shoulder: upward(hip, TRUNK * h, self.lean), legs: [leg, leg] }
    }

    /// One knee and the forearm on a bench, the other foot beside it on the floor: the trunk slopes to the head.
    fn knee_and_forearm(&self) -> Posture {
        let h = self.h;
        let hip = [0.0, self.support + (THIGH + 0.03) * h];
        let foot = [-0.12 * h, ANKLE * h];
        let behind =
            [hip, [0.0, self.support + 0.03 * h], [-SHANK * h, self.support + 0.035 * h], [-0.31 * h, self.support]];
        let standing = self.with_legs(hip, [foot, foot], [0.09; 2]);
        Posture { legs: [standing.legs[0], behind], ..standing }
    }

    fn side_lying(&self) -> Posture {
        let h = self.h;
        let hip = [0.0, 0.09 * h];
        let leg = [hip, [0.2 * h, 0.07 * h], [0.42 * h, 0.05 * h], [0.47 * h, 0.05 * h]];
        Posture { hip, shoulder: [-TRUNK * h, 0.11 * h], legs: [leg, leg] }
    }
}
