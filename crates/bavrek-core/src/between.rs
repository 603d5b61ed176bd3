//! Between two sets: what the last one says about the next, at once and without a trainer beside it.
//!
//! What each outcome leads to is worked out before the workout, so that a phone without a signal knows it too.

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use crate::anatomy::{Implement, Pattern, Surface, vocabulary};
use crate::dose::{SetKind, SetPlan};
use crate::fit::{Bearing, bearing};
use crate::ladder::LadderStep;
use crate::log::{LoggedSet, Observation};
use crate::movement::{Movement, RigModel, SupportKind};
use crate::person::Person;

/// Repetitions below the zone from which the load is too heavy, not the set a bad one. Assumed.
const TOO_FEW_BY: u16 = 2;
/// Repetitions in reserve above those asked for, at the top of the zone, from which the load is too light. Assumed.
const EASY_BY: u8 = 2;
/// Largest rise of the load from one set to the next, as a share: a larger one needs a bridge.
const MOST_RISE: f64 = 0.10;
/// Smallest share of the load that a lighter step may have: below it the next set is another exercise. Assumed.
const LEAST_LEFT: f64 = 0.70;
/// Most in reserve that can be told.
const MOST_RESERVE: u8 = 4;

/// When an advice is due.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "when", rename_all = "snake_case")]
pub enum When {
    /// Something was seen or felt.
    Seen {
        /// What.
        what: Observation,
    },
    /// Form was lost.
    Broken,
    /// Fewer repetitions than this were done.
    Fewer {
        /// Repetitions.
        than: u16,
    },
    /// At least so many repetitions were done with at least so many in reserve, in form and without any pain.
    Easy {
        /// Repetitions.
        from: u16,
        /// In reserve.
        reserve: u8,
    },
}

/// What the next set is done on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Next {
    /// The same step.
    Same,
    /// The step below.
    Lighter,
    /// The step above.
    Heavier,
    /// None before something was changed.
    Stop,
}

/// What an outcome leads to.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Advice {
    /// When.
    pub when: When,
    /// On what to go on.
    pub next: Next,
    /// What is said of the set, where more is said than what is done in the next.
    pub told: Option<Told>,
    /// What is done in the next.
    pub then: Then,
}

/// What is said of a set that is over.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Told {
    /// Range or form was lost.
    FormFirst,
    /// What it hangs on or stands on moved.
    Moved,
    /// The set ends where the back lifts or the hips sag.
    Ends,
    /// A fly has become a press.
    BecamePress,
    /// It was more than can be done.
    TooMuch,
    /// Fewer repetitions than asked for.
    TooFew,
    /// There was more in reserve than asked for.
    Easy,
}

/// What is done in the next set.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Then {
    /// The step below, by its label.
    StepDown(String),
    /// The step above, by its label.
    StepUp(String),
    /// The set-up is changed first.
    ChangeSetUp,
    /// It ends where range and form end.
    EndsWithForm,
    /// Two repetitions fewer, braced.
    FewerBraced,
    /// Two repetitions fewer.
    Fewer,
    /// The elbows keep their angle.
    KeepElbows,
    /// The same after a longer rest.
    LongerRest,
    /// The same, lowered more slowly.
    SlowerDown,
    /// The forearms stand upright.
    ForearmUpright,
    /// Half a step further from the anchor.
    StepBack,
    /// The band is held shorter: it was too easy.
    HoldShorter,
    /// Away from the anchor until nothing hangs.
    StepAway,
    /// The band is held shorter until nothing hangs.
    TakeUpSlack,
    /// The hands go wider.
    HandsWider,
    /// The elbows are tucked.
    TuckElbows,
    /// Slower, with the mind on the muscle.
    Slower,
    /// A set of speed ends with it.
    EndsWithSpeed,
    /// The weaker side leads.
    WeakerFirst,
    /// Rings shake; more upright helps.
    MoreUpright,
}

/// A station as it is done, for what comes between its sets.
#[derive(Debug, Clone, Copy)]
pub struct Doing<'s> {
    /// What the arms do.
    pub pattern: Pattern,
    /// Its steps by rising load, and which of them is asked for.
    pub steps: &'s [LadderStep],
    /// The one asked for.
    pub at: usize,
    /// Whether a half of the range was chosen: that it is short is no fault.
    pub half: bool,
    /// Whether the load may rise within this workout: not in a lighter week, nor where a joint is spared.
    pub may_rise: bool,
}

impl Doing<'_> {
    fn ratio(&self, to: usize) -> Option<f64> {
        let [own, other] = [self.at, to].map(|i| self.steps.get(i).map(|s| s.effective_kg.value()));
        Some(other? / own?.max(f64::MIN_POSITIVE))
    }

    /// The step below, where it is still the same exercise.
    fn below(&self) -> Option<&LadderStep> {
        let at = self.at.checked_sub(1)?;
        (self.ratio(at)? >= LEAST_LEFT).then(|| &self.steps[at])
    }

    /// The step above, where it can be made at once.
    fn above(&self) -> Option<&LadderStep> {
        let at = self.at + 1;
        (self.may_rise && self.ratio(at)? <= 1.0 + MOST_RISE).then(|| &self.steps[at])
    }

    fn lighter(&self, when: When, told: Told, otherwise: Then) -> Advice {
        let told = Some(told);
        match self.below() {
            Some(step) => Advice { when, next: Next::Lighter, told, then: Then::StepDown(step.label.clone()) },
            None => Advice { when, next: Next::Same, told, then: otherwise },
        }
    }

    const fn presses(&self) -> bool {
        use Pattern::{DeclinePress, HorizontalPress, InclinePress, OverheadPress};
        matches!(self.pattern, HorizontalPress | InclinePress | DeclinePress | OverheadPress)
    }

    const fn flies(&self) -> bool {
        matches!(self.pattern, Pattern::Fly | Pattern::FlyLowToHigh | Pattern::FlyHighToLow)
    }

    fn in_rings(&self) -> bool {
        self.steps.get(self.at).is_some_and(|s| s.implements.contains(&Implement::Rings))
    }

    fn anchored(&self) -> bool {
        self.steps.get(self.at).is_some_and(|s| s.setup.anchor_distance_m.is_some())
    }

    fn banded(&self) -> bool {
        self.steps.get(self.at).is_some_and(|s| s.band_share > 0.0)
    }
}

/// Whether a support can move, tip or come loose under a body: neither the ground, nor what slides on purpose.
const fn gives_way(kit: SupportKind) -> bool {
    use SupportKind::{Floor, Helper, Kneeling, Standing, Towel, Wheel};
    !matches!(kit, Floor | Standing | Kneeling | Towel | Wheel | Helper)
}

/// What can be seen or felt in a set of a movement on a step: no slack band where there is none, no straps that shake without rings.
pub fn observable(movement: &Movement, step: &LadderStep) -> impl Iterator<Item = Observation> + use<> {
    use Observation as O;
    use Pattern as P;
    let pattern = movement.pattern;
    let presses = matches!(pattern, P::HorizontalPress | P::InclinePress | P::DeclinePress | P::OverheadPress);
    let flies = matches!(pattern, P::Fly | P::FlyLowToHigh | P::FlyHighToLow);
    let pushes = presses || flies || pattern == P::Pullover;
    let raises = matches!(pattern, P::SideRaise | P::FrontRaise);
    let banded = !step.bands.is_empty();
    let rings = step.implements.contains(&Implement::Rings);
    let planked = matches!(
        movement.rig,
        RigModel::PushUp { .. }
            | RigModel::Pike { .. }
            | RigModel::InvertedRow
            | RigModel::BodyExtension { .. }
            | RigModel::BodyArc { .. }
            | RigModel::Trunk { .. }
    );
    let rests =
        step.setup.surface.is_some_and(|s| !matches!(s, Surface::Floor | Surface::Standing | Surface::Kneeling));
    // What cannot be done without something that can give way: a towel round an anchor, dumbbells under the hands.
    let leans = movement.needs.iter().any(|any| any.iter().all(|support| gives_way(support.kit)));
    let hangs = rings || step.setup.anchor_height_m.is_some() || step.implements.contains(&Implement::Bar);
    let arms = !matches!(pattern, P::Trunk | P::Shrug);
    let can = move |what: &Observation| match what {
        O::BandTooEasy | O::BandSlack => banded,
        O::RingsShook => rings,
        O::AnchorMoved => rests || hangs || leans,
        O::FlyBecamePress => flies,
        O::ForearmTips => presses,
        O::FeltInTriceps => pushes,
        O::FeltInFrontShoulder => pushes || raises,
        O::ElbowDrift | O::ShoulderRolled => arms,
        O::HipsSagged => planked,
        O::RangeShort
        | O::Easy
        | O::Hard
        | O::Impossible
        | O::Swinging
        | O::FeltOnTarget
        | O::FeltElsewhere
        | O::BackLifted
        | O::SpeedLost
        | O::SideGap => true,
    };
    Observation::ALL.iter().copied().filter(can)
}

vocabulary!(
    /// Why the load of a movement may not rise.
    HeldBack {
        Clearance => "clearance", "nothing gets heavier before the clearance that is missing";
        LighterWeek => "lighter_week", "this week is lighter: nothing gets heavier in it";
        Spared => "spared", "a joint is spared here: this gets heavier with your trainer alone";
    }
);

/// What holds the load of a movement back, if anything does: a clearance that is missing, a lighter week, or that a joint which it
/// asks is spared.
pub fn held_back(
    movement: &Movement,
    person: &Person,
    (clearance_missing, lighter_week): (bool, bool),
) -> Option<HeldBack> {
    if clearance_missing {
        return Some(HeldBack::Clearance);
    }
    if lighter_week {
        return Some(HeldBack::LighterWeek);
    }
    let spared = person.limits.iter().any(|limit| bearing(movement, limit) != Bearing::Free);
    spared.then_some(HeldBack::Spared)
}

/// Whether a set goes on past the top of its zone until only its reserve is left: the first of a movement that the client never
/// did tells most where it is not cut short. Not where the load may not rise, and only of plain sets that keep a reserve.
/// What was done today counts as now: the other side goes on as well.
pub fn goes_on(
    movement: &Movement,
    may_rise: bool,
    (history, today): (&[LoggedSet], NaiveDate),
    (work, round): (&SetPlan, usize),
) -> bool {
    let plain = work.kind == SetKind::Straight && work.reps.is_some() && work.rir.is_some_and(|rir| rir > 0);
    let new = || history.iter().all(|set| set.exercise != movement.id || set.date >= today);
    may_rise && plain && round == 0 && new()
}

/// What each outcome of a set leads to, the most pressing first.
pub fn between(doing: &Doing<'_>, work: &SetPlan, reserve: u8) -> Vec<Advice> {
    let mut all: Vec<Advice> = Observation::ALL.iter().filter_map(|what| seen(doing, *what)).collect();
    all.push(doing.lighter(When::Broken, Told::FormFirst, Then::EndsWithForm));
    all.sort_by_key(|a| match a.next {
        Next::Stop => 0,
        Next::Lighter => 1,
        Next::Same => 2,
        Next::Heavier => 3,
    });
    if let Some([low, high]) = work.reps.filter(|_| work.kind == SetKind::Straight) {
        let reserve = work.rir.unwrap_or(reserve);
        let than = low.saturating_sub(TOO_FEW_BY - 1);
        if than > 1 {
            let few = When::Fewer { than };
            all.push(doing.lighter(few, Told::TooFew, Then::LongerRest));
        }
        let easy = When::Easy { from: high, reserve: reserve.saturating_add(EASY_BY).min(MOST_RESERVE) };
        let easy = |next, then| Advice { when: easy, next, told: Some(Told::Easy), then };
        match doing.above() {
            Some(step) => all.push(easy(Next::Heavier, Then::StepUp(step.label.clone()))),
            None if doing.may_rise => all.push(easy(Next::Same, Then::SlowerDown)),
            None => {}
        }
    }
    all
}

/// What is seen, and what it decides at once. What only the next session can answer leads to nothing here.
fn seen(doing: &Doing<'_>, what: Observation) -> Option<Advice> {
    use Observation as O;
    let when = When::Seen { what };
    let same = |then| Some(Advice { when, next: Next::Same, told: None, then });
    match what {
        O::AnchorMoved => Some(Advice { when, next: Next::Stop, told: Some(Told::Moved), then: Then::ChangeSetUp }),
        O::BackLifted | O::HipsSagged => Some(doing.lighter(when, Told::Ends, Then::FewerBraced)),
        O::RangeShort if doing.half => None,
        O::RangeShort | O::Swinging | O::ElbowDrift | O::ShoulderRolled => {
            Some(doing.lighter(when, Told::FormFirst, Then::EndsWithForm))
        }
        O::FlyBecamePress if doing.flies() => Some(doing.lighter(when, Told::BecamePress, Then::KeepElbows)),
        O::ForearmTips if doing.presses() => same(Then::ForearmUpright),
        O::Impossible => Some(doing.lighter(when, Told::TooMuch, Then::Fewer)),
        O::BandTooEasy if doing.banded() && doing.anchored() => same(Then::StepBack),
        O::BandTooEasy if doing.banded() => same(Then::HoldShorter),
        O::BandSlack if doing.anchored() => same(Then::StepAway),
        O::BandSlack if doing.banded() => same(Then::TakeUpSlack),
        O::FeltInTriceps if doing.presses() => same(Then::HandsWider),
        O::FeltInFrontShoulder if doing.presses() => same(Then::TuckElbows),
        O::FeltElsewhere | O::FeltInTriceps | O::FeltInFrontShoulder => same(Then::Slower),
        O::SpeedLost => same(Then::EndsWithSpeed),
        O::SideGap => same(Then::WeakerFirst),
        O::RingsShook if doing.in_rings() => same(Then::MoreUpright),
        // What was told of something that this movement has not, and what the numbers tell better.
        O::BandTooEasy
        | O::BandSlack
        | O::FlyBecamePress
        | O::ForearmTips
        | O::RingsShook
        | O::Easy
        | O::Hard
        | O::FeltOnTarget => None,
    }
}

/// The advice that a set leads to: the first that is due. The repetitions of one that was changed within itself say nothing of
/// either load.
pub fn due<'a>(all: &'a [Advice], set: &LoggedSet) -> Option<&'a Advice> {
    let clean = set.form_kept != Some(false) && set.pain.is_none_or(|pain| pain == 0);
    all.iter().find(|advice| match advice.when {
        When::Seen { what } => set.seen.contains(&what),
        When::Broken => set.form_kept == Some(false),
        When::Fewer { than } => set.changed.is_none() && set.reps.is_some_and(|reps| reps < than),
        When::Easy { from, reserve } => {
            clean
                && set.changed.is_none()
                && set.reps.is_some_and(|r| r >= from)
                && set.rir.is_some_and(|r| r >= reserve)
        }
    })
}
