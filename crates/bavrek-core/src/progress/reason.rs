//! What a call rests on: facts, which are said in words where they are shown.

use chrono::NaiveDate;

use super::kind::{Alternative, CallKind};
use crate::anatomy::{Joint, Region};
use crate::dose::{Count, Prescription, Relation};
use crate::fit::{Compared, Related};
use crate::ladder::Missing;
use crate::log::Observation;
use crate::person::{Limit, Side};
use crate::units::Kilograms;

/// A fact that a call rests on. Steps and movements are told by the names under which they are shown.
#[derive(Debug, Clone, PartialEq)]
pub enum Reason {
    /// Nothing is logged of anything that could be called.
    FirstSession,
    /// Nothing is logged of the movement; or not in the part of the range that is asked, where the rest is.
    NoSetYet {
        /// Whether another part of the range is logged.
        in_part: bool,
    },
    /// The place cannot carry the movement.
    NotHere {
        /// The movement.
        movement: String,
        /// What is missing.
        missing: Missing,
    },
    /// A limit in force rules the movement out.
    RulesOut {
        /// The limit.
        limit: Limit,
        /// The movement.
        movement: String,
    },
    /// A limit in force asks for care.
    GoEasy(Limit),
    /// What was cut went well, and the line's own sets come back.
    WentWell {
        /// The sets that went well.
        with: Prescription,
        /// Those that come back.
        own: Prescription,
    },
    /// Some weeks without it.
    Away {
        /// Days since it was last trained.
        days: i64,
        /// Whether the same step is tried first, rather than a lighter one.
        same_step: bool,
    },
    /// Days on which the line was planned and missed, since it was last done.
    Missed(Vec<NaiveDate>),
    /// Pain or time away forbids that anything is added.
    NothingAdded,
    /// The trainer refused the same before.
    Refused {
        /// What.
        call: CallKind,
        /// Sessions until it is proposed again.
        sessions: usize,
    },
    /// Something that was seen or felt decides.
    Seen(Seen),
    /// What is said beside whatever is called.
    Beside(Beside),
    /// Of repetitions to a total, against the clock, or of a kind that no zone judges.
    OtherKind(OtherKind),
    /// What a relation asks, and where that leads.
    InRelation {
        /// What it comes to.
        asks: Asks,
        /// Where it leads.
        to: Toward,
    },
    /// A relation asks a step on which the fewest repetitions cannot be done.
    TooHeavyForReps {
        /// What it comes to.
        asks: Asks,
        /// The step.
        step: String,
        /// Those repetitions.
        reps: u16,
    },
    /// A relation has nothing to go by.
    NothingToCompare {
        /// The relation.
        asked: Relation,
        /// Why.
        why: Related,
    },
    /// It hurt.
    Pain(Pain),
    /// How the sets went.
    Went(Went),
    /// How the holds went.
    Held(Held),
    /// What follows.
    Next(Next),
}

/// How it hurt.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Pain {
    /// It hurt on several days.
    OnDays(usize),
    /// It hurt in this movement the last time.
    Here {
        /// How much, 4 to 10.
        of_ten: u8,
        /// Where, if it was told.
        at: Option<Joint>,
    },
    /// It hurt lately in another movement of the same joints.
    Elsewhere {
        /// The movement, where it is known.
        movement: Option<String>,
    },
    /// It hurt a little, 1 to 3 of ten.
    Mild(u8),
    /// Nothing here does the job and spares the joint.
    NothingSpares(Joint),
}

/// How sets went that are counted in repetitions.
#[derive(Debug, Clone, PartialEq)]
pub enum Went {
    /// What was done, and nothing else of it.
    Done(Done),
    /// Half of the zone's bottom or less, with nothing left.
    FarBelow {
        /// What was done.
        done: Done,
        /// The bottom of the zone.
        bottom: u16,
    },
    /// Far above what was asked.
    FarAbove(Done),
    /// The last repetitions were easy.
    Easy(Done),
    /// The top of the zone in every set.
    AtTop(Done),
    /// Below the bottom of a zone.
    Below {
        /// What was done.
        done: Done,
        /// The bottom.
        bottom: u16,
        /// Whether the session before was below as well.
        again: bool,
    },
    /// So many sessions without progress and with less in reserve than asked.
    Worn(usize),
    /// So many sessions without credible change.
    Stalled(usize),
    /// Inside the zone.
    Inside(Done),
    /// Less in reserve than was asked.
    LessReserve(f64),
}

/// How sets went that are held.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Held {
    /// Held, without its seconds.
    Uncounted,
    /// Held for so many seconds or more in every set.
    Lasted(u16),
    /// Held for less than asked.
    Short {
        /// Seconds.
        seconds: u16,
        /// Seconds that were asked.
        asked: u16,
    },
    /// Held longer.
    Longer(u16),
}

/// What follows, and why that.
#[derive(Debug, Clone, PartialEq)]
pub enum Next {
    /// The dose is cut, for want of a lighter step.
    Cut(Lighter),
    /// The lighter step to come back on.
    LighterFirst(String),
    /// Two more repetitions in each set.
    TwoMore,
    /// The load that would be right now.
    RightNow(Kilograms),
    /// The step that the estimate takes.
    ByEstimate {
        /// The step.
        step: String,
        /// How much heavier it is, as a share.
        jump: f64,
    },
    /// The next step.
    NextStep {
        /// The step.
        step: String,
        /// How much heavier it is, as a share.
        jump: f64,
    },
    /// What the next step is expected to allow.
    Expected {
        /// Repetitions.
        reps: f64,
        /// The reserve that is kept with them.
        reserve: f64,
    },
    /// So many repetitions come before too large a jump.
    RepsFirst(u16),
    /// Neither repetitions nor tempo reach over the gap.
    GapTooBig,
    /// A slower way down.
    Slower {
        /// From.
        from: Count,
        /// To.
        to: Count,
        /// The load that it is worth, as a share.
        gain: f64,
    },
    /// Nothing heavier is here.
    HardestStep,
    /// More repetitions, up to so many.
    MoreReps(u16),
    /// The step below is far too light, so repetitions grow on this one.
    TooLightBelow {
        /// The step below.
        step: String,
        /// Repetitions expected on it.
        reps: f64,
        /// Where the repetitions begin on this step, and where they go.
        grow: [u16; 2],
    },
    /// Another step, over whose repetitions it goes back up.
    AnotherStep(String),
    /// Another movement for the same job.
    AnotherMovement,
    /// Nothing else does the job.
    NothingElse,
    /// One repetition more in each set; in those below the top of the zone, where one has reached it.
    OneMore {
        /// That top.
        below: Option<u16>,
    },
    /// A total was done in one set: the next step.
    AllInOne(String),
    /// A harder position.
    HarderPosition(String),
    /// A movement that is harder here.
    Harder(Target),
    /// A movement that is easier, where nothing lighter is here.
    Easier(Target),
    /// Repetitions come down to what was done, and grow from there.
    RepsDown([u16; 2]),
    /// What would help.
    LighterWouldHelp,
    /// The step of the last sets was not logged.
    StepUnknown,
}

/// Why no lighter step is taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Lighter {
    /// Nothing is lighter.
    Nothing,
    /// Nothing is a little lighter.
    NothingLittle,
    /// The step of the last sets was not logged.
    Unknown,
}

/// What was seen or felt, with what follows from it.
#[derive(Debug, Clone, PartialEq)]
pub enum Seen {
    /// The anchor or furniture moved.
    AnchorMoved,
    /// What ends a set at once.
    EndsTheSet(Observation),
    /// A fly that became a press.
    BecamePress,
    /// Signs that the load is too heavy for the form, in so many sets; form lost without a sign, where none is named.
    FormBroken {
        /// The signs.
        signs: Vec<Observation>,
        /// Sets.
        sets: usize,
    },
    /// Felt somewhere else than where it should be.
    FeltElsewhere {
        /// Where, if it was told.
        place: Option<Region>,
        /// What is done about it.
        then: Then,
    },
    /// Felt in the triceps or the front shoulder before what it is for.
    FeltFirst {
        /// Which of them.
        sign: Observation,
        /// Whether on two days running.
        again: bool,
    },
    /// The forearms tip.
    ForearmsTip,
    /// The band is slack at the start.
    BandSlack,
    /// The band is too easy early: the step that stretches it further.
    BandTooEasy(String),
    /// The last repetitions were impossible.
    Impossible {
        /// Whether below the zone.
        below: bool,
    },
    /// The last repetitions were hard.
    Hard,
    /// The lowering speed was lost.
    SpeedLost,
    /// The straps still shake.
    StrapsShake,
}

/// What is done about a movement that is felt elsewhere.
#[derive(Debug, Clone, PartialEq)]
pub enum Then {
    /// Advice, the first day.
    Advice,
    /// A variant, with what is different about it, the second.
    Variant {
        /// What it is, on its step.
        variant: Box<Alternative>,
        /// What is different.
        differs: Difference,
    },
    /// Another movement, where no variant is there.
    AnotherMovement,
}

/// What is different about a variant.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Difference {
    /// The handle's angle.
    Handle,
    /// The elbow's path.
    Elbow,
    /// The width of the hands.
    Hands,
}

/// What is said beside whatever is called.
#[derive(Debug, Clone, PartialEq)]
pub enum Beside {
    /// A side does less, by so large a share where that is known.
    SideGap {
        /// The weaker side, with the share.
        weaker: Option<(Side, f64)>,
    },
    /// Felt where it should be.
    OnTarget,
}

/// Sets that no zone judges.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OtherKind {
    /// A total was reached in so many sets.
    Total {
        /// Repetitions.
        reps: u16,
        /// Sets.
        sets: usize,
        /// Whether fewer sets are what comes first.
        fewer_first: bool,
    },
    /// A total was not reached.
    ShortOfTotal {
        /// Repetitions.
        reps: u16,
        /// The total.
        total: u16,
        /// Sets.
        sets: usize,
    },
    /// Mixed sets.
    Mixed,
    /// Against the clock, not all counted.
    ClockUncounted {
        /// Sets.
        sets: usize,
    },
    /// Against the clock.
    Clock {
        /// Repetitions.
        reps: u16,
        /// Sets.
        sets: usize,
    },
    /// Nothing was counted.
    Uncounted,
}

/// What a relation comes to today.
#[derive(Debug, Clone, PartialEq)]
pub enum Asks {
    /// A share of the maximum.
    OfMaximum {
        /// The relation.
        asked: Relation,
        /// The maximum, with the bounds that it likely lies in.
        maximum: Kilograms,
        /// Those.
        within: [Kilograms; 2],
    },
    /// A share of what another movement was done with, or steps off it.
    OfOther {
        /// The relation.
        asked: Relation,
        /// What it was taken of.
        of: Compared,
        /// The least and the most that is asked.
        wanted: Option<[Kilograms; 2]>,
    },
}

/// Where a relation leads.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Toward {
    /// Nowhere before the sets keep what is asked.
    NotYet,
    /// Up to a step.
    Up(String),
    /// Down to a step.
    Down(String),
    /// The same step.
    Same,
}

/// A movement on a step.
#[derive(Debug, Clone, PartialEq)]
pub struct Target {
    /// The movement.
    pub movement: String,
    /// The step.
    pub step: String,
    /// Repetitions expected there; none of what is held.
    pub reps: Option<f64>,
}

/// What was done in a session, set by set.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Done(pub Vec<DoneSet>);

/// A set as it was done.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct DoneSet {
    /// Its repetitions in the notation of the log.
    pub reps: String,
    /// How many on the first step it is as good as, where something was changed within it.
    pub as_good_as: Option<u16>,
    /// Reserve, where it was told.
    pub rir: Option<u8>,
}
