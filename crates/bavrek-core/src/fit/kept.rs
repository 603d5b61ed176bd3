//! What a movement keeps of a job, and what of it is lost.

use super::beside::Conflict;
use super::case::Case;
use super::exclude::is_nearly_out_of_reach;
use crate::anatomy::{ArmPosition, Pattern, Region};
use crate::mechanics::profile::share_distance;
use crate::movement::Style;
use crate::plan::Sides;
use crate::reference::stretch_tag;

/// What of a job a movement keeps.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Kept {
    /// It trains the region directly.
    Direct(Region),
    /// It is of the pattern.
    Pattern(Pattern),
    /// It holds the arm so, as asked.
    Arm(ArmPosition),
    /// It is hard in the same part of the length.
    Length {
        /// Share of its work that is done lengthened, 0 to 1.
        lengthened: f64,
        /// Whether only nearly so.
        nearly: bool,
    },
    /// One side works at a time, as asked.
    OneSide,
}

/// What of a job is lost in a movement.
#[derive(Debug, Clone, PartialEq)]
pub enum Lost {
    /// The region only assists.
    OnlyAssists(Region),
    /// The region is not worked.
    NotWorked(Region),
    /// It is of another pattern than the one that is asked.
    OtherPattern {
        /// Its own.
        is: Pattern,
        /// The job's.
        asked: Pattern,
    },
    /// It holds the arm so, otherwise than asked.
    OtherArm(ArmPosition),
    /// Less of its work is done lengthened, share.
    LessLengthened {
        /// Its own, 0 to 1.
        is: f64,
        /// What is wanted.
        asked: f64,
    },
    /// Less of its work is done shortened, share.
    LessShortened {
        /// Its own, 0 to 1.
        is: f64,
        /// What is wanted.
        asked: f64,
    },
    /// The head that crosses two joints is less stretched.
    LessStretched,
    /// More repetitions are expected on its step than are ever asked.
    TooLight,
    /// Hardly any are.
    OutOfReach,
    /// Its step is the heaviest here.
    NothingHeavier,
    /// Its sets go another way.
    OtherStyle {
        /// Its own.
        is: Style,
        /// What the job's sets are.
        asked: Style,
    },
    /// Both sides work together where one was asked.
    BothSides,
    /// One side works at a time where nobody asked: the sets are done twice.
    TwiceTheTime,
    /// Sets to failure are ended by balance first.
    Unsteady,
    /// What it gets in the way of when it alternates with others.
    InTheWay(Conflict),
    /// No band comes beside its weight, which was asked in two parts.
    NoBandBeside,
    /// With a band it begins too heavy, which was asked in two parts.
    TooHeavyWithBand,
}

/// Steadiness below which failure is one of balance. Assumed; rings lie below it.
const STEADY: f64 = 0.7;

pub(super) fn kept_and_lost(case: &Case<'_>) -> (Vec<Kept>, Vec<Lost>) {
    let Case { movement, intent, yardstick, ladder, start, .. } = *case;
    let (mut kept, mut lost) = (Vec::new(), Vec::new());
    for region in intent.regions.keys() {
        if movement.direct.contains_key(region) {
            kept.push(Kept::Direct(*region));
        } else if movement.assisting.contains_key(region) {
            lost.push(Lost::OnlyAssists(*region));
        } else {
            lost.push(Lost::NotWorked(*region));
        }
    }
    if movement.pattern == intent.pattern {
        kept.push(Kept::Pattern(intent.pattern));
    } else {
        lost.push(Lost::OtherPattern { is: movement.pattern, asked: intent.pattern });
    }
    match intent.arm_position {
        Some(arm) if arm == movement.arm_position => kept.push(Kept::Arm(arm)),
        Some(_) => lost.push(Lost::OtherArm(movement.arm_position)),
        None => {}
    }
    if let Some(wanted) = yardstick.thirds {
        length(&ladder.steps[start.step].thirds, &wanted, &mut kept, &mut lost);
    }
    if let (Some(wanted), Some(tag)) = (yardstick.tag, stretch_tag(movement))
        && wanted > tag
    {
        lost.push(Lost::LessStretched);
    }
    if is_nearly_out_of_reach(movement, start) {
        lost.push(Lost::OutOfReach);
    } else if movement.style != Style::Hold && start.is_too_light() {
        lost.push(Lost::TooLight);
    }
    if ladder.headroom(start.step) == 0 {
        lost.push(Lost::NothingHeavier);
    }
    if movement.style != yardstick.style {
        lost.push(Lost::OtherStyle { is: movement.style, asked: yardstick.style });
    }
    match (intent.sides, movement.unilateral()) {
        (Some(Sides::One), true) => kept.push(Kept::OneSide),
        (Some(Sides::One), false) => lost.push(Lost::BothSides),
        (_, true) => lost.push(Lost::TwiceTheTime),
        (_, false) => {}
    }
    if intent.dose.to_failure() && movement.stability < STEADY {
        lost.push(Lost::Unsteady);
    }
    (kept, lost)
}

/// How far two shapes may lie apart and still be the same part of the length, and nearly the same.
const SAME_PART: [f64; 2] = [0.12, 0.25];
/// Share of work beyond which less of it lengthened is said.
const LESS_LENGTHENED: f64 = 0.08;
/// The same of the shortened end.
const LESS_SHORTENED: f64 = 0.12;

/// Where the movement is hard, beside where it should be: one word, and never one that the next takes back.
fn length(thirds: &[f64; 3], wanted: &[f64; 3], kept: &mut Vec<Kept>, lost: &mut Vec<Lost>) {
    let distance = share_distance(thirds, wanted);
    let [same, nearly] = SAME_PART.map(|most| distance <= most);
    let mut less = Vec::new();
    if !same {
        if wanted[0] - thirds[0] > LESS_LENGTHENED {
            less.push(Lost::LessLengthened { is: thirds[0], asked: wanted[0] });
        }
        if wanted[2] - thirds[2] > LESS_SHORTENED {
            less.push(Lost::LessShortened { is: thirds[2], asked: wanted[2] });
        }
    }
    if same || nearly && less.is_empty() {
        kept.push(Kept::Length { lengthened: thirds[0], nearly: !same });
    }
    lost.extend(less);
}
