//! What a fit keeps and loses of a job, and what its score and load rest on.

use std::fmt::{self, Display, Formatter};

use super::percent;
use crate::dose::SetPlan;
use crate::fit::{Asked, Basis, Care, FEELER_REPS, FEELER_RESERVE, Kept, Lasts, Likely, Lost, Miss, OffTarget, Reason};
use crate::person::Limit;
use crate::units::Kilograms;

/// The word with its article: `a fly`, `an incline press`.
fn one(word: &str) -> String {
    format!("{} {word}", if word.starts_with(['a', 'e', 'i', 'o', 'u']) { "an" } else { "a" })
}

impl Display for Kept {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::Direct(region) => write!(f, "{region} worked directly"),
            Self::Pattern(pattern) => write!(f, "pattern: {pattern}"),
            Self::Arm(arm) => write!(f, "arm {arm}"),
            Self::Length { lengthened, nearly } => {
                let part = if *nearly { "nearly the same part" } else { "the same part of the length" };
                write!(f, "hard in {part}: {:.0} % lengthened", percent(*lengthened))
            }
            Self::OneSide => f.write_str("one side at a time"),
        }
    }
}

impl Display for Lost {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::OnlyAssists(region) => write!(f, "{region} only assists"),
            Self::NotWorked(region) => write!(f, "{region} not worked"),
            Self::OtherPattern { is, asked } => write!(f, "{} instead of {}", one(is.label()), one(asked.label())),
            Self::OtherArm(arm) => write!(f, "arm {arm}"),
            Self::LessLengthened { is, asked } => {
                write!(f, "less work lengthened: {:.0} % instead of {:.0} %", percent(*is), percent(*asked))
            }
            Self::LessShortened { is, asked } => {
                write!(f, "less work shortened: {:.0} % instead of {:.0} %", percent(*is), percent(*asked))
            }
            Self::LessStretched => f.write_str("the two-joint head is less stretched at the shoulder"),
            Self::TooLight => f.write_str("too light: over 40 reps expected"),
            Self::OutOfReach => f.write_str("nearly out of reach: fewer than 2 reps expected"),
            Self::NothingHeavier => f.write_str("no heavier step here"),
            Self::OtherStyle { is, asked } => write!(f, "{is} instead of {asked}"),
            Self::BothSides => f.write_str("both sides together instead of one at a time"),
            Self::TwiceTheTime => f.write_str("one side at a time: twice the time"),
            Self::Unsteady => f.write_str("too unsteady for sets to failure: balance ends them first"),
            Self::InTheWay(conflict) => write!(f, "{conflict}: {:.0} s a round", conflict.added_s.value()),
            Self::NoBandBeside => f.write_str("no band beside a weight"),
            Self::TooHeavyWithBand => f.write_str("too heavy with a band to begin with"),
        }
    }
}

impl Display for OffTarget {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let [direct, asked] = [&self.direct, &self.asked].map(|regions| {
            let labels: Vec<_> = regions.iter().map(|region| region.label()).collect();
            labels.join(", ")
        });
        let how = if self.hardly { "hardly works" } else { "does not work" };
        write!(f, "{} for {direct}; it {how} {asked}", one(self.pattern.label()))
    }
}

impl Display for Reason {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::Held { seconds, reps } => write!(f, "held for {seconds} s: seconds stand for {reps} reps"),
            Self::Resisted { reserve, reps } => write!(
                f,
                "resist as much as leaves {reserve} in reserve at {reps} reps: nobody can state the load, so it counts for no estimate"
            ),
            Self::LoadLikely { load, asked, reserve, basis } => likely_load(f, *load, asked, (*reserve, *basis)),
            Self::Expected { likely, reserve } => expected(f, *likely, *reserve),
            Self::LightestAbove { weight, likely } => {
                let lightest = if *weight { "weight" } else { "step" };
                write!(f, "even the lightest {lightest} here is above the estimate: {likely} expected")
            }
            Self::MixedOn { above: true, lasts } => {
                write!(f, "on the lightest step here, which is above the estimate: {lasts}")
            }
            Self::MixedOn { above: false, lasts } => write!(f, "on a step that exists: {lasts}"),
            Self::Torn => f.write_str("sets disagree: the start is a whole uncertainty lower until more are logged"),
            Self::FirstOn(step) => {
                write!(f, "first {FEELER_REPS} on {step}; go on only with {FEELER_RESERVE} or more left")
            }
            Self::TestSet { next: None, .. } => f.write_str("the first set is a test set"),
            Self::TestSet { next: Some(next), over: None } => {
                write!(f, "the first set is a test set: where its end is easy, take {next}")
            }
            Self::TestSet { next: Some(next), over: Some(over) } => {
                write!(f, "the first set is a test set: over {over} clean reps, take {next}")
            }
            Self::RoomToGrow { above: 0, .. } => f.write_str("no step above"),
            Self::RoomToGrow { above, jump } => {
                let steps = if *above == 1 { "one step above".to_owned() } else { format!("{above} steps above") };
                write!(f, "{steps}; the largest jump nearby is {:.0} %", percent(*jump))
            }
            Self::PartOfRange { chosen, done: None } => {
                write!(f, "{chosen} was asked for, which this cannot be cut to: the whole range")
            }
            Self::PartOfRange { done: Some(part), .. } if part.is_half() => {
                write!(f, "{part}: the repetitions are guessed from the whole range and count for no estimate of it")
            }
            Self::PartOfRange { done: Some(part), .. } => write!(f, "{part}, as chosen"),
            Self::Limited { care, limit } => limited(f, *care, *limit),
            Self::Age(Some(deg)) => {
                write!(f, "{:.0}° is steep from 50 on: 30° is kinder to the shoulder", deg.value())
            }
            Self::Age(None) => f.write_str("30° or less rather than 45° from 50 on: kinder to the shoulder"),
            Self::School(method) => write!(f, "{method}: {}", method.says()),
            Self::WithoutChanging { on, reps } => write!(f, "without changing over: {on}, about {reps:.0} reps"),
            Self::Leaned { went, tilt } => {
                let way = if *tilt > 0.0 { "for" } else { "against" };
                write!(f, "{}: that counts {:.1} % {way} it", went.text(), tilt.abs() * 100.0)
            }
            Self::Bent { miss, end, zone: [fewest, most] } => {
                let why = match (miss, end) {
                    (Miss::TooLight, true) => "nothing heavier here",
                    (Miss::TooLight, false) => "the next step would be too heavy to begin with",
                    (Miss::TooHeavy, true) => "nothing lighter here",
                    (Miss::TooHeavy, false) => "the next step down is too light",
                };
                write!(f, "{why}: {fewest} to {most} reps instead")
            }
            Self::Tired { less, region } => {
                write!(f, "{:.0} % less than fresh: the {region} is worked before it in this session", 100.0 * less)
            }
            Self::Compared(comparison) => comparison.fmt(f),
        }
    }
}

fn likely_load(
    f: &mut Formatter<'_>,
    load: [Kilograms; 2],
    asked: &Asked,
    (reserve, basis): (u8, Basis),
) -> fmt::Result {
    let source = match basis {
        Basis::ThisExercise => "from this exercise's own sets",
        Basis::Pattern => "from other sets of the pattern",
        Basis::Resisted => "whoever resists sets it",
        Basis::OtherPatterns => "from sets of other patterns",
        Basis::Prior => "a first guess from body mass, experience and age",
    };
    let asked = match asked {
        Asked::AsHardAs(set, reps) => as_hard_as(set, *reps),
        Asked::Reps(reps) => format!("{reps} reps"),
    };
    let [low, high] = load.map(Kilograms::two_figures);
    write!(f, "{low:.1} to {high:.1} likely for {asked} with {reserve} in reserve: {source}")
}

fn as_hard_as(set: &SetPlan, reps: f64) -> String {
    format!("{}, as hard as {reps} reps,", set.mix_text())
}

fn expected(f: &mut Formatter<'_>, likely: Likely, reserve: u8) -> fmt::Result {
    if likely != Likely::TooLight {
        f.write_str("on a step that exists: ")?;
    }
    write!(f, "{likely} expected with {reserve} in reserve")
}

fn limited(f: &mut Formatter<'_>, care: Care, limit: Limit) -> fmt::Result {
    let how = match care {
        Care::StopAtASign => "mind it, stop at the first sign",
        Care::AsFarAsItGoes => "only as far as it goes",
        Care::GoEasy => "go easy",
    };
    write!(f, "{how}: {}", limit.text())
}

impl Display for Lasts {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let what = if self.hold { "the last hold is expected to last" } else { "the set is expected to be finished" };
        match self.chance {
            sure if sure > 0.95 => write!(f, "{what} in nearly every set"),
            never if never < 0.05 => write!(f, "{what} in hardly any set"),
            some => write!(f, "{what} in about {:.0} of 10 sets", (10.0 * some).round().clamp(1.0, 9.0)),
        }
    }
}
