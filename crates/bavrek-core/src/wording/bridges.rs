//! Ways over a jump that is too large to make at once.

use std::fmt::{self, Display, Formatter};

use super::percent;
use crate::ladder::{HandsOn, Way};

impl Display for Way {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::MoreReps { reps, reserve } => {
                write!(f, "first {reps} clean reps here with {reserve} in reserve, then the next step")
            }
            Self::SlowerLowering { seconds, like } => {
                write!(f, "lower in {seconds:.0} s instead of 2: like {:.0} % more load", percent(*like))
            }
            Self::Pause(like) => {
                write!(f, "pause 2 s in the lengthened position: like {:.0} % more load", percent(*like))
            }
            Self::AddBand(step, load) => write!(f, "{step}: {:.1}", load.two_figures()),
            Self::Deficit(on) => {
                let on = match on {
                    HandsOn::Handles => "the handles",
                    HandsOn::TwoBoxes => "two boxes",
                };
                write!(f, "hands on {on}: a deeper stretch before the next lever")
            }
        }
    }
}
