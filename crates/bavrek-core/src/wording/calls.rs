//! Why a call, in a sentence.

use std::fmt::{self, Display, Formatter};

use super::relations::{asked_in_figures, nothing_to_compare};
use super::{change, counted, list, told};
use crate::anatomy::Region;
use crate::log::Observation;
use crate::progress::{
    Alternative, Asks, Beside, Call, CallKind, Difference, Done, DoneSet, Held, Lighter, Next, Other, OtherKind, Pain,
    Reason, Seen, Target, Then, Toward, Went,
};
use crate::reps::reserve_text;
use crate::units::{Kilograms, trim_number};

/// What a dose is cut to where nothing lighter is there.
const CUT: &str = "the bottom of the zone, one more in reserve, one set fewer";

impl Call {
    /// Its reasons in words, in the order in which they count.
    pub fn told(&self) -> Vec<String> {
        told(&self.reasons)
    }
}

impl Display for Reason {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::FirstSession => f.write_str("no set is logged yet: the first session is the test"),
            Self::NoSetYet { in_part: true } => f.write_str("no set is logged yet in this part of the range"),
            Self::NoSetYet { in_part: false } => f.write_str("no set is logged yet"),
            Self::NotHere { movement, missing } => write!(f, "{movement} cannot be done here: {missing}"),
            Self::RulesOut { limit, movement } => write!(f, "{}: it rules {movement} out", limit.text()),
            Self::GoEasy(limit) => write!(f, "{}: go easy", limit.text()),
            Self::WentWell { with, own } => write!(f, "went well with {}: back to {}", with.text(), own.text()),
            Self::Away { days, same_step } => {
                let then = if *same_step { ": the same step first" } else { "" };
                write!(f, "{days} days since this was last trained{then}")
            }
            Self::Missed(days) => {
                let told: Vec<String> = days.iter().map(|d| d.format("%a %-d %b").to_string()).collect();
                let count = days.len();
                write!(f, "but {count} workouts in a row were missed ({}): the same once more first", told.join(", "))
            }
            Self::NothingAdded => f.write_str("nothing is added for now: the same step"),
            Self::Refused { call, sessions } => {
                let more = counted(*sessions, "more session");
                write!(f, "{} was refused: proposed again after {more}", call.label())
            }
            Self::Seen(seen) => seen.fmt(f),
            Self::Beside(beside) => beside.fmt(f),
            Self::Pain(pain) => pain.fmt(f),
            Self::Went(went) => went.fmt(f),
            Self::Held(held) => held.fmt(f),
            Self::OtherKind(kind) => kind.fmt(f),
            Self::Next(next) => next.fmt(f),
            Self::InRelation { asks, to } => write!(f, "{asks}: {to}"),
            Self::TooHeavyForReps { asks, step, reps } => {
                write!(f, "{asks} would be {step}, on which {reps} reps cannot be done: the reps decide")
            }
            Self::NothingToCompare { asked, why } => {
                write!(f, "{} was asked, {}: the reps decide", asked.text(), nothing_to_compare(*why, asked))
            }
        }
    }
}

impl Display for Pain {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::OnDays(days) => write!(
                f,
                "joint pain on {days} days within two weeks: stop, and have it looked at by a doctor or physiotherapist"
            ),
            Self::Here { of_ten, at } => {
                let place = at.map_or_else(String::new, |joint| format!(", {joint}"));
                write!(f, "pain {of_ten} of 10{place}: swap within what does not hurt")
            }
            Self::Elsewhere { movement } => {
                let name = movement.as_deref().unwrap_or("another movement");
                write!(f, "it hurt in {name} within two weeks: the same step, nothing is added")
            }
            Self::Mild(of_ten) => write!(f, "pain {of_ten} of 10: the same step once more, and watch it"),
            Self::NothingSpares(joint) => {
                write!(f, "nothing here does this job as it is asked and spares the {joint}: leave it out for now")
            }
        }
    }
}

impl Display for Held {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::Uncounted => f.write_str("held, but without its seconds"),
            Self::Lasted(seconds) => write!(f, "held for {seconds} s or more in every set"),
            Self::Short { seconds, asked } => write!(f, "held for {seconds} s of {asked}: the same once more"),
            Self::Longer(seconds) => write!(f, "{seconds} s in each set"),
        }
    }
}

impl Display for Went {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::Done(done) => done.fmt(f),
            Self::FarBelow { done, bottom } => write!(f, "{done}: half of {bottom} or less with nothing left"),
            Self::FarAbove(done) => write!(f, "{done}: far above what was asked"),
            Self::Easy(done) => write!(f, "{done}: the last repetitions were easy"),
            Self::AtTop(done) => write!(f, "{done}: the top of the zone in every set"),
            Self::Below { done, bottom, again: false } => {
                write!(f, "{done}: below {bottom} for the first time, once more before going down")
            }
            Self::Below { done, bottom, again: true } => write!(f, "{done}: below {bottom} in two sessions running"),
            Self::Worn(sessions) => write!(
                f,
                "{sessions} sessions without progress and less in reserve than asked: half the sets for a week"
            ),
            Self::Stalled(sessions) => write!(f, "{sessions} sessions without credible change"),
            Self::Inside(done) => write!(f, "{done}: inside the zone"),
            Self::LessReserve(asked) => {
                write!(f, "less than the {} in reserve that were asked", trim_number(*asked, 1))
            }
        }
    }
}

impl Display for Next {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::Cut(Lighter::Nothing) => write!(f, "no lighter step here: {CUT}"),
            Self::Cut(Lighter::NothingLittle) => write!(f, "no step is a little lighter here: {CUT}"),
            Self::Cut(Lighter::Unknown) => write!(f, "the load of the last sets was not logged: {CUT}"),
            Self::StepUnknown => {
                f.write_str("the load of these sets was not logged: with it, a lighter or heavier step can follow")
            }
            Self::LighterFirst(step) => write!(f, "a lighter step first: {step}"),
            Self::TwoMore => f.write_str("two more reps in each set, the same load"),
            Self::RightNow(kg) => write!(f, "about {} kg is right now", trim_number(kg.two_figures().value(), 1)),
            Self::ByEstimate { step, jump } => write!(f, "by the estimate {step} ({})", change(*jump)),
            Self::NextStep { step, jump } => write!(f, "the next step is {step} ({})", change(*jump)),
            Self::Expected { reps, reserve } => {
                let reserve = trim_number(*reserve, 1);
                write!(f, "about {reps:.0} reps are expected on it with {reserve} in reserve")
            }
            Self::RepsFirst(reps) => {
                write!(f, "too large a jump at once: first {reps} reps here with the same reserve")
            }
            Self::GapTooBig => f.write_str("the gap is too big for reps or tempo: a weight in between would halve it"),
            Self::Slower { from, to, gain } => {
                write!(f, "lower in {to} s instead of {from}: like {:.0} % more load", 100.0 * gain)
            }
            Self::HardestStep => f.write_str("this is the hardest step here"),
            Self::MoreReps(most) => write!(f, "more reps, up to {most}"),
            Self::TooLightBelow { step, reps, grow: [from, to] } => {
                write!(f, "{step} would give about {reps:.0}: on here, from {from} up to {to}")
            }
            Self::AnotherStep(step) => write!(f, "another step: {step}, back up over its repetitions"),
            Self::AnotherMovement => f.write_str("another movement for the same job"),
            Self::NothingElse => f.write_str("nothing else does the job here: half the sets for a week"),
            Self::OneMore { below: Some(top) } => {
                write!(f, "one more rep in each set that was below {top}, the same load")
            }
            Self::OneMore { below: None } => f.write_str("one more rep in each set, the same load"),
            Self::AllInOne(step) => write!(f, "all in one: the next step is {step}"),
            Self::HarderPosition(step) => write!(f, "a harder position: {step}"),
            Self::Harder(target) => write!(f, "harder here: {target}"),
            Self::Easier(target) => write!(f, "no lighter step here; easier: {target}"),
            Self::RepsDown([least, most]) => {
                write!(f, "nothing lighter here: {least} to {most} reps, and from there back into the zone")
            }
            Self::LighterWouldHelp => f.write_str("a lighter weight or band would help"),
        }
    }
}

impl Display for Seen {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::AnchorMoved => f.write_str("the anchor or furniture moved: change the set-up first"),
            Self::EndsTheSet(seen) => write!(f, "{seen}: the set ends there, and the next is easier"),
            Self::BecamePress => f.write_str("elbows open and close: it has become a press, so lighter"),
            Self::FormBroken { signs, sets } => {
                let signs: Vec<&str> = signs.iter().map(|sign| sign.label()).collect();
                let what = if signs.is_empty() { "form was lost".to_owned() } else { signs.join(", ") };
                match sets {
                    1 => write!(f, "{what} in one set: the same load once more, clean"),
                    _ => write!(f, "{what} in {sets} sets: the load is too heavy, the range comes first"),
                }
            }
            Self::FeltElsewhere { place, then } => felt_elsewhere(f, *place, then),
            Self::FeltFirst { sign, again } => felt_first(f, *sign, *again),
            Self::ForearmsTip => {
                f.write_str("the forearms tip: hands nearer or a shorter range until they stay upright")
            }
            Self::BandSlack => {
                f.write_str("the band is slack at the start: step away or grip nearer until it pulls at once")
            }
            Self::BandTooEasy(step) => write!(f, "the band was too easy by about the fifth repetition: {step}"),
            Self::Impossible { below: true } => {
                f.write_str("the last repetitions were impossible, below the zone: a lighter step")
            }
            Self::Impossible { below: false } => {
                f.write_str("the last repetitions were impossible inside the zone: enough for size, the same step")
            }
            Self::Hard => f.write_str("the last repetitions were hard: the same step once more"),
            Self::SpeedLost => {
                f.write_str("the lowering speed was lost: the set ends there; the same step until it is held")
            }
            Self::StrapsShake => f.write_str("the straps still shake: higher rings until the path is kept"),
        }
    }
}

fn felt_elsewhere(f: &mut Formatter<'_>, place: Option<Region>, then: &Then) -> fmt::Result {
    match place {
        Some(region) => write!(f, "felt in the {region}")?,
        None => f.write_str("felt somewhere else")?,
    }
    match then {
        Then::Advice => f.write_str(": lighter and slower, the cue first; twice, and another variant is better"),
        Then::AnotherMovement => f.write_str(" on two days running: another movement for the job"),
        Then::Variant { variant, differs } => write!(f, " on two days running: {variant}, with {differs}"),
    }
}

fn felt_first(f: &mut Formatter<'_>, sign: Observation, again: bool) -> fmt::Result {
    let (what, advice) = match sign {
        Observation::FeltInTriceps => ("felt in the triceps before the chest", "wider hands, or tire the chest first"),
        _ => ("felt in the front shoulder", "tuck the elbows a little, a lower incline, or the floor"),
    };
    if again {
        return write!(f, "{what} on two days running: another movement for the job");
    }
    write!(f, "{what}: {advice}")
}

impl Display for Difference {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Handle => "another handle angle",
            Self::Elbow => "another elbow path",
            Self::Hands => "another width of the hands",
        })
    }
}

impl Display for Beside {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let policy = "the weaker side first, the stronger matches it";
        match self {
            Self::SideGap { weaker: Some((side, share)) } => {
                write!(f, "the {side} side does {:.0} % less: {policy}", 100.0 * share)
            }
            Self::SideGap { weaker: None } => write!(f, "left and right differ: {policy}"),
            Self::OnTarget => f.write_str("felt where it should be: this variant fits, keep it"),
        }
    }
}

impl Display for OtherKind {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let of = |sets: usize| counted(sets, "set");
        match *self {
            Self::Total { reps, sets, fewer_first } => {
                let then = if fewer_first { ": the same total in fewer sets comes first" } else { "" };
                write!(f, "{reps} reps in {}{then}", of(sets))
            }
            Self::ShortOfTotal { reps, total, sets } => {
                write!(f, "{reps} of {total} reps in {}: the same once more", of(sets))
            }
            Self::Mixed => f.write_str("a mixed set is judged by eye: up when every part was clean to its end"),
            Self::ClockUncounted { sets } => {
                let sets = of(sets);
                write!(f, "{sets} against the clock, not all of them counted: count one, then a step can follow")
            }
            Self::Clock { reps, sets } => {
                write!(f, "{reps} reps in {} against the clock: more in the same time comes first", of(sets))
            }
            Self::Uncounted => f.write_str("nothing was counted that a step could follow from"),
        }
    }
}

impl Display for Asks {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::OfMaximum { asked, maximum, within } => {
                let [low, high] = within.map(Kilograms::two_figures);
                let (share, maximum) = (asked.share_text(), maximum.two_figures());
                write!(f, "{share} of a maximum of about {maximum:.1} ({low:.1} to {high:.1})")
            }
            Self::OfOther { asked, of, wanted } => f.write_str(&asked_in_figures(asked, *of, *wanted)),
        }
    }
}

impl Display for Toward {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::NotYet => f.write_str("not before the sets keep what is asked on this step"),
            Self::Up(step) => write!(f, "up to {step}"),
            Self::Down(step) => write!(f, "down to {step}"),
            Self::Same => f.write_str("the same step"),
        }
    }
}

impl Display for Target {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        write!(f, "{} on {}", self.movement, self.step)?;
        self.reps.map_or(Ok(()), |reps| write!(f, ", about {reps:.0} reps expected"))
    }
}

/// `12, 12 and 11 reps with 2, 2 and 1 in reserve`, or `3 sets of 12 with 2 in reserve`; `5 + 10 (as good as 13 on the first step)` where
/// something was changed within a set.
impl Display for Done {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let told = |set: &DoneSet| {
            let worth = set.as_good_as.map(|reps| format!(" (as good as {reps} on the first step)"));
            format!("{}{}", set.reps, worth.unwrap_or_default())
        };
        if let [first, rest @ ..] = &self.0[..]
            && !rest.is_empty()
            && rest.iter().all(|set| set == first)
        {
            write!(f, "{} sets of {}", self.0.len(), told(first))?;
            return first.rir.map_or(Ok(()), |rir| write!(f, " with {} in reserve", reserve_text(rir)));
        }
        write!(f, "{} reps", list(&self.0.iter().map(told).collect::<Vec<_>>()))?;
        let reserves: Option<Vec<String>> = self.0.iter().map(|set| Some(set.rir?.to_string())).collect();
        reserves.map_or(Ok(()), |rir| write!(f, " with {} in reserve", list(&rir)))
    }
}

impl Display for Alternative {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let step = self.step.as_ref().map_or("", |step| step.label.as_str());
        match (&self.other, self.call) {
            (Some(Other { name, likely: Some(likely), .. }), _) => write!(f, "{name}: {step}, {likely}"),
            (Some(Other { name, likely: None, .. }), _) => write!(f, "{name}: {step}, held"),
            (None, CallKind::AddLoad) => write!(f, "up to {step}"),
            (None, CallKind::Ease) => write!(f, "down to {step}"),
            (None, CallKind::Swap) => f.write_str("another movement for the same job"),
            (None, _) => f.write_str("the same step once more"),
        }
    }
}
