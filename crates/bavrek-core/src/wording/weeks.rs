//! What keeps a week from what was asked.

use std::fmt::{self, Display, Formatter};

use crate::anatomy::Region;
use crate::week::{Lacking, Unmet, Why};

impl Display for Unmet {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match &self.why {
            Why::Lacking(what) => lacking(f, what, self.region),
            Why::Full { shorter, minutes } => {
                let days = if *shorter { "the shorter days" } else { "the days" };
                write!(f, "{days} are full: about {minutes:.0} min more a week would do")
            }
            Why::TrainedBefore => f.write_str("trained just before, another day apart would do"),
            Why::Borne => f.write_str("each day has as much of it as it bears: another day apart would do"),
            Why::MostMovements(most) => write!(f, "each day has the {most} movements that the school allows"),
            Why::NotWorthIt => {
                f.write_str("what would train it gives others more than is asked, or is not worth its set-up")
            }
        }
    }
}

fn lacking(f: &mut Formatter<'_>, what: &Lacking, region: Region) -> fmt::Result {
    match what {
        Lacking::Unsuited { movement, step } => {
            write!(f, "what trains it here does not suit the dose: {movement}, {step}")
        }
        Lacking::RuledOut(why) => write!(f, "what trains it is ruled out for this client: {why}"),
        Lacking::Untrained(untrained) => untrained.fmt(f),
        Lacking::Nothing => write!(f, "nothing here trains the {region} for this client"),
    }
}
