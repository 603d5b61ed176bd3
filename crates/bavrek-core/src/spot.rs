//! Swaps on the spot: what is left of a room when a piece of it is taken or broken, and whom to spare when it hurts.

use std::cmp::Reverse;

use chrono::NaiveDate;

use crate::anatomy::Joint;
use crate::fit::Candidate;
use crate::kit::KitItem;
use crate::ladder::{Ladder, LadderStep};
use crate::log::LoggedSet;
use crate::mechanics::single_joint::JointAction;
use crate::movement::{Movement, RigModel};
use crate::person::{Limit, LimitKind, Person, Severity, Side};

/// The kit without the piece at `index`, or without one stamped weight of it. A piece that does not exist changes
/// nothing.
pub fn kit_without(kit: &[KitItem], index: usize, weight: Option<f64>) -> Vec<KitItem> {
    let mut left = kit.to_vec();
    let Some(piece) = kit.get(index) else { return left };
    let other = |weight: f64| move |v: f64| (v - weight).abs() > 1e-9;
    // A weight that is not one of a set takes the piece away whole.
    let kept = weight.filter(|_| piece.fixed_weights().is_some()).and_then(|weight| piece.with_weights(other(weight)));
    match kept {
        Some(piece) => left[index] = piece,
        None => {
            left.remove(index);
        }
    }
    left
}

/// Places in the kit of the pieces that a step cannot do without.
pub fn in_use(movement: &Movement, person: &Person, kit: &[KitItem], step: &LadderStep) -> Vec<usize> {
    let needed = |i: &usize| !Ladder::can_set_up(movement, person, &kit_without(kit, *i, None), step);
    (0..kit.len()).filter(needed).collect()
}

/// Pain, of 10, from which whatever loads the joint is left out, not only eased.
pub const PAIN_THAT_EXCLUDES: u8 = 7;

/// A joint that hurt during training.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Pain {
    /// The day.
    pub on: NaiveDate,
    /// The movement that was planned or done.
    pub exercise: String,
    /// The joint, where it was told.
    pub joint: Option<Joint>,
    /// Its side, where it was told.
    pub side: Option<Side>,
    /// How strong, 0 to 10, where it was told.
    pub strength: Option<u8>,
}

impl Pain {
    /// What hurt, in words: `left shoulder, 6 of 10`.
    pub fn text(&self) -> String {
        let side = match self.side {
            Some(Side::Both) => "both sides, ".to_owned(),
            Some(side) => format!("{side} "),
            None => String::new(),
        };
        let joint = self.joint.map_or("a place that was not told", Joint::label);
        let strength = self.strength.map_or_else(String::new, |n| format!(", {n} of 10"));
        format!("{side}{joint}{strength}")
    }

    /// The person with that joint spared; unchanged where the joint was not told.
    pub fn spared(&self, person: &Person) -> Person {
        self.joint.map_or_else(|| person.clone(), |joint| sparing(person, joint, self.side, self.strength))
    }
}

/// The person with a joint spared: everything that loads, stretches or raises it counts as painful, and from 7 of 10 on
/// whatever loads it is left out.
pub fn sparing(person: &Person, joint: Joint, side: Option<Side>, strength: Option<u8>) -> Person {
    let whats: &[LimitKind] = match joint {
        Joint::Shoulder => &[LimitKind::PainLoaded, LimitKind::PainDeepStretch, LimitKind::PainOverhead],
        Joint::Wrist => &[LimitKind::PainLoaded, LimitKind::PainGripping],
        _ => &[LimitKind::PainLoaded],
    };
    let severe = strength.is_some_and(|n| n >= PAIN_THAT_EXCLUDES);
    let severity = if severe { Severity::Severe } else { Severity::Moderate };
    let side = side.unwrap_or(Side::Both);
    let mut spared = person.clone();
    for what in whats {
        let limit = Limit { joint, what: *what, side, severity };
        // What stands in the client's limits already is not said twice.
        let known = |l: &Limit| l.joint == joint && l.what == *what && l.severity >= severity;
        if !spared.limits.iter().any(known) {
            spared.limits.push(limit);
        }
    }
    spared
}

/// The set of a day that stopped a movement: the last in which it hurt. None where it goes on.
pub fn stopping<'s>(mut sets: impl DoubleEndedIterator<Item = &'s LoggedSet>, exercise: &str) -> Option<&'s LoggedSet> {
    sets.rfind(|set| set.hurt() && set.exercise == exercise)
}

/// Puts first what asks least of a joint that hurts: by the rules of its limits, and among equals what leaves an elbow at
/// its angle before what bends it.
pub fn kindest_first(candidates: &mut [Candidate<'_>], joint: Joint) {
    candidates.sort_by_key(|c| (Reverse(c.kindness()), joint == Joint::Elbow && !is_straight_armed(c.movement)));
}

/// Whether the arm keeps its angle at the elbow from start to end.
const fn is_straight_armed(movement: &Movement) -> bool {
    use JointAction::{Fly, Pullover, Raise, RearFly};
    match movement.rig {
        RigModel::SingleJoint { action, .. } => matches!(action, Fly | RearFly | Raise | Pullover),
        RigModel::BodyArc { .. } => true,
        _ => false,
    }
}

/// Whether two movements are the same one, with both arms or with one: they ask the same of a joint.
pub fn are_twins(a: &Movement, b: &Movement) -> bool {
    let root = |m: &Movement| m.variant_of.clone().unwrap_or_else(|| m.id.clone());
    let related = a.variant_of.as_deref() == Some(b.id.as_str())
        || b.variant_of.as_deref() == Some(a.id.as_str())
        || root(a) == root(b);
    related && a.unilateral() != b.unilateral() && a.pattern == b.pattern
}
