//! What rules a movement out.

use std::fmt::{self, Display, Formatter};

use crate::fit::{Lighter, MOST_REPS, Why};

impl Display for Why {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::PutAside(reason) => write!(f, "put aside: {reason}"),
            Self::Limit(limit) => f.write_str(&limit.text()),
            Self::Experience { asks, has } => write!(f, "for {asks} clients; this one is {has}"),
            Self::Missing(missing) => missing.fmt(f),
            Self::OutOfReach { lightest, about, lighter } => {
                let [lightest, about] = [lightest, about].map(|load| load.two_figures());
                let helps = match lighter {
                    Lighter::HigherHands => "higher hands would help",
                    Lighter::FeetRaisedFirst => "push-ups with the feet raised come first",
                    Lighter::Help => "a band that helps, or a foot on a box, would do",
                    Lighter::HigherHandles => "higher handles would help",
                    Lighter::Load => "a lighter weight or band would help",
                };
                write!(f, "the lightest step here is {lightest:.0}; about {about:.0} is in reach: {helps}")
            }
            Self::TooLight { heaviest, about, by_weight } => {
                let [heaviest, about] = [heaviest, about].map(|load| load.two_figures());
                let helps =
                    if *by_weight { "a heavier weight or band" } else { "a loaded backpack or a harder variation" };
                write!(
                    f,
                    "over {MOST_REPS:.0} reps on the heaviest step here, {heaviest:.0}; about {about:.0} would be right: {helps} would help"
                )
            }
        }
    }
}
