//! Presses, push-ups and rows about both joints: what the shoulder meets and what the elbow meets along the way.
//!
//! A press has an even *force* but not an even *moment*. In the plane of the arm the shoulder is the origin, x points
//! outward and y along the press; the hand goes in a straight line, the elbow is the outer solution of the two-link
//! triangle, and the load pulls the hand straight back along −y. Then the shoulder meets `M = x·F` and the elbow
//! `M = (x_elbow − x)·F`; the works of the two signed moments add up to the load times its way.
//!
//! Geometry choices are assumed; the rest is physics.

use super::profile::{Profile, SAMPLES, Thirds};
use super::single_joint::{FOREARM, UPPER_ARM};
use crate::units::{Degrees, Metres};

/// How nearly straight the arm is at the end of a press.
const NEARLY_STRAIGHT: f64 = 0.98;
/// Horizontal adduction of the upper arm, lengthened and shortened, degrees: the reference range of the chest.
const ADDUCTION: (f64, f64) = (-30.0, 90.0);
/// Elbow flexion, lengthened and shortened for the triceps, degrees.
const ELBOW: (f64, f64) = (130.0, 10.0);
/// Upper arm from hanging to beyond the back, degrees: the reference range of a row.
const ROWING: (f64, f64) = (0.0, 110.0);

/// The way of an arm through a press, a push-up or a row. Lengths are for a stature of 1.75 m and scale with it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum ArmWay {
    /// The forearm is upright at the bottom; the hand ends `hands_end` outside the shoulder.
    Press {
        /// Angle of the upper arm to the line between the shoulders at the bottom, degrees; negative below it.
        bottom_deg: f64,
        /// Where the hand ends, m outside the shoulder.
        hands_end: f64,
    },
    /// The hand stays so far outside the shoulder; the chest comes down to `bottom` above the hands.
    PushUp {
        /// Hand outside the shoulder, m.
        hands_out: f64,
        /// Height of the shoulder above the hand at the bottom, m; negative below it.
        bottom: f64,
    },
    /// The forearm hangs along the force while the upper arm turns.
    Row {
        /// Upper arm from the direction of the force at the start, degrees.
        from_deg: f64,
        /// At the end.
        to_deg: f64,
        /// What the trunk leans away from square to the force, degrees: so far the arm has come already at the start.
        lean_deg: f64,
    },
}

impl ArmWay {
    /// Where the hand starts and ends, m from the shoulder (outward, along the press), for a stature; none for a row, whose
    /// hand hangs along the force.
    pub fn hand(self, stature: Metres) -> Option<[[f64; 2]; 2]> {
        let h = stature.value();
        let scale = h / 1.75;
        let (upper, lower) = (UPPER_ARM * h, FOREARM * h);
        let straight = |x: f64| ((NEARLY_STRAIGHT * (upper + lower)).powi(2) - x * x).max(0.0).sqrt();
        match self {
            Self::Press { bottom_deg, hands_end } => {
                let (q, end) = (bottom_deg.to_radians(), hands_end * scale);
                Some([[upper * q.cos(), upper * q.sin() + lower], [end, straight(end)]])
            }
            Self::PushUp { hands_out, bottom } => {
                let out = hands_out * scale;
                Some([[out, bottom * scale], [out, straight(out)]])
            }
            Self::Row { .. } => None,
        }
    }
}

/// One joint along the way: how far the load acts from it, and how it turns.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct JointWay {
    /// Moment of one newton at the middle of each sample, N·m.
    pub arm: [f64; SAMPLES],
    /// Joint angles at the edges of the samples, degrees, measured from the lengthened to the shortened end.
    edges: [f64; SAMPLES + 1],
    reference: (f64, f64),
}

/// Both joints along a way. A row turns the shoulder alone, as far as this model goes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TwoJoint {
    /// The shoulder: chest, front of the shoulder, or back.
    pub shoulder: JointWay,
    /// The elbow: the triceps.
    pub elbow: Option<JointWay>,
}

impl JointWay {
    /// Moment along the way under a force, N·m.
    pub fn moment(&self, force: &Profile) -> Profile {
        Profile(std::array::from_fn(|i| force.0[i] * self.arm[i]))
    }

    /// Work against a force along the way, N·m; `signed` counts parts in which the load helps against it.
    pub fn work(&self, force: &Profile, signed: bool) -> f64 {
        let towards = (self.reference.1 - self.reference.0).signum();
        let moment = self.moment(force);
        let parts = (0..SAMPLES).map(|i| {
            let turned = (self.edges[i + 1] - self.edges[i]).to_radians() * towards;
            if signed { moment.0[i] * turned } else { moment.0[i].max(0.0) * turned }
        });
        parts.sum()
    }

    /// Thirds of the joint's reference range, with the moment arm and the turning folded in: the shares of a force under
    /// them are the shares of the joint's work.
    pub fn thirds(&self) -> Thirds {
        Thirds::of_turning(&self.edges, self.reference).weighted(&self.arm)
    }

    /// Shares of the joint's work in the lengthened, middle and shortened third. None where it does none.
    pub fn shares(&self, force: &Profile) -> Option<[f64; 3]> {
        force.shares(&self.thirds())
    }
}

impl TwoJoint {
    /// A way for a person of this stature.
    ///
    /// ```
    /// use bavrek_core::mechanics::two_joint::{ArmWay, TwoJoint};
    /// use bavrek_core::mechanics::profile::Profile;
    /// use bavrek_core::units::Metres;
    /// let press = TwoJoint::of(ArmWay::Press { bottom_deg: -25.0, hands_end: 0.10 }, Metres(1.75));
    /// let even = Profile([1.0; 60]);
    /// // Nearly half of the chest's work lies in its lengthened third; the triceps does about a quarter of the whole.
    /// assert!((press.shoulder.shares(&even).unwrap()[0] - 0.489).abs() < 0.005);
    /// assert!((press.elbow_part(&even) - 0.268).abs() < 0.005);
    /// ```
    pub fn of(way: ArmWay, stature: Metres) -> Self {
        let h = stature.value();
        let (upper, lower) = (UPPER_ARM * h, FOREARM * h);
        if let Some([bottom, top]) = way.hand(stature) {
            return Self::pressing(bottom, top, upper, lower);
        }
        let (from, to, lean) = match way {
            ArmWay::Row { from_deg, to_deg, lean_deg } => (from_deg, to_deg, lean_deg),
            ArmWay::Press { .. } | ArmWay::PushUp { .. } => (0.0, 90.0, 0.0),
        };
        let at = |share: f64| from + (to - from) * share;
        let arm = std::array::from_fn(|i| upper * at(middle(i)).to_radians().sin());
        let edges = std::array::from_fn(|i| at(edge(i)) + lean);
        Self { shoulder: JointWay { arm, edges, reference: ROWING }, elbow: None }
    }

    fn pressing(bottom: [f64; 2], top: [f64; 2], upper: f64, lower: f64) -> Self {
        let hand = |s: f64| [bottom[0] + (top[0] - bottom[0]) * s, bottom[1] + (top[1] - bottom[1]) * s];
        // Where the elbow is: along x and y as shares of the upper arm. It stays outside the line from shoulder to hand, also
        // where the hand is nearly out of reach.
        let elbow_at = |s: f64| {
            let [x, y] = hand(s);
            let far = (x * x + y * y).sqrt().max(1e-9);
            let d = far.clamp((upper - lower).abs() + 1e-9, upper + lower - 1e-9);
            let inner = ((upper * upper + d * d - lower * lower) / (2.0 * upper * d)).clamp(-1.0, 1.0);
            let (along, aside) = ([x / far, y / far], (1.0 - inner * inner).sqrt());
            [along[0] * inner + along[1] * aside, along[1] * inner - along[0] * aside]
        };
        let shoulder_angle = |s: f64| {
            let [x, y] = elbow_at(s);
            y.atan2(x)
        };
        let flexion = |s: f64| {
            let [x, y] = hand(s);
            let d2 = x * x + y * y;
            let opening = ((upper * upper + lower * lower - d2) / (2.0 * upper * lower)).clamp(-1.0, 1.0).acos();
            std::f64::consts::PI - opening
        };
        let shoulder = JointWay {
            arm: std::array::from_fn(|i| hand(middle(i))[0]),
            edges: std::array::from_fn(|i| shoulder_angle(edge(i)).to_degrees()),
            reference: ADDUCTION,
        };
        let elbow = JointWay {
            arm: std::array::from_fn(|i| upper * elbow_at(middle(i))[0] - hand(middle(i))[0]),
            edges: std::array::from_fn(|i| flexion(edge(i)).to_degrees()),
            reference: ELBOW,
        };
        Self { shoulder, elbow: Some(elbow) }
    }

    /// The elbow's part of the work of both joints, 0 to 1.
    pub fn elbow_part(&self, force: &Profile) -> f64 {
        let Some(elbow) = &self.elbow else { return 0.0 };
        let (elbow, shoulder) = (elbow.work(force, false), self.shoulder.work(force, false));
        if elbow + shoulder > 0.0 { elbow / (elbow + shoulder) } else { 0.0 }
    }

    /// How far the hand goes against the load over the whole way, m, from the works of both joints under one newton.
    pub fn way_of_load(&self) -> f64 {
        let one = Profile([1.0; SAMPLES]);
        self.shoulder.work(&one, true) + self.elbow.as_ref().map_or(0.0, |e| e.work(&one, true))
    }
}

/// A row for a trunk that leans so far from square to the force: the arm starts along the force and ends a little behind
/// the back.
pub fn row(lean: Degrees) -> ArmWay {
    ArmWay::Row { from_deg: 0.0, to_deg: 90.0 - lean.value(), lean_deg: lean.value() }
}

fn middle(i: usize) -> f64 {
    (i as f64 + 0.5) / SAMPLES as f64
}

fn edge(i: usize) -> f64 {
    i as f64 / SAMPLES as f64
}
