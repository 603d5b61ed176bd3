//! What a set says about the next.

use std::fmt::{self, Display, Formatter};

use crate::between::{Advice, Then, Told};

impl Display for Advice {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self.told {
            Some(told) => write!(f, "{told} {}", self.then),
            None => self.then.fmt(f),
        }
    }
}

impl Display for Told {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::FormFirst => "The range and the form come first.",
            Self::Moved => "Stop: what it hangs on or stands on moved.",
            Self::Ends => "The set ends there.",
            Self::BecamePress => "It has become a press.",
            Self::TooMuch => "That was too much.",
            Self::TooFew => "Fewer than asked for.",
            Self::Easy => "That was easy.",
        })
    }
}

impl Display for Then {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::StepDown(step) => return write!(f, "Next set one step down: {step}."),
            Self::StepUp(step) => return write!(f, "Next set one step up: {step}."),
            Self::ChangeSetUp => "Change the set-up before the next set.",
            Self::EndsWithForm => "Next set ends where they end.",
            Self::FewerBraced => "Next set two reps fewer, braced.",
            Self::Fewer => "Next set two reps fewer.",
            Self::KeepElbows => "Next set with the elbows kept at one angle.",
            Self::LongerRest => "The same again, after a minute more of rest.",
            Self::SlowerDown => "The same again, a second slower on the way down.",
            Self::ForearmUpright => "Hands so that the forearm stands upright; if it tips further down, stop there.",
            Self::StepBack => "Step back by half a step, so that it pulls harder, and go on.",
            Self::HoldShorter => "Hold it a hand's width shorter, and go on.",
            Self::StepAway => "Step away until it pulls from the first degree.",
            Self::TakeUpSlack => "Hold it shorter until it pulls from the first degree.",
            Self::HandsWider => "Hands a hand's width wider, elbows under the hands.",
            Self::TuckElbows => "Tuck the elbows a little, blades back and down.",
            Self::Slower => "Slower, and think of where it should be felt.",
            Self::EndsWithSpeed => "That is the end of a slow set: the next one ends there too.",
            Self::WeakerFirst => "The weaker side first; the other does as many and no more.",
            Self::MoreUpright => "Normal at first. Stand more upright if the path is lost.",
        })
    }
}
