//! What is said beside an answer.

use std::fmt::{self, Display, Formatter};

use super::{counted, told};
use crate::fit::{Note, Untrained, Why};
use crate::strength;

impl Display for strength::Note {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::LeftOut { sets, why } => write!(f, "{} left out: {why}", counted(*sets, "set")),
            Self::Torn(pattern) => write!(
                f,
                "sets disagree ({}): was one typed wrong? Starts are kept low until more are logged",
                pattern.to_lowercase()
            ),
        }
    }
}

impl Display for Note {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::Log(note) => note.fmt(f),
            Self::WarmUp([least, most]) => write!(f, "from 50 on, warm up for {least} to {most} minutes"),
            Self::NotMeasured { reference, asked } => {
                let asked: Vec<_> = asked.iter().map(|r| r.label()).collect();
                write!(f, "{reference} works none of: {}. Nothing is measured against it.", asked.join(", "))
            }
            Self::Untrained(untrained) => untrained.fmt(f),
        }
    }
}

impl Display for Untrained {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        write!(f, "nothing here trains the {} directly", self.region)?;
        match &self.would {
            Some((movement, why)) if why.iter().all(Why::is_of_load) => {
                write!(f, "; {movement} would, but {}", told(why).join(" and "))
            }
            Some((movement, why)) => write!(f, "; {movement} would: it {}", told(why).join(" and ")),
            None => Ok(()),
        }
    }
}
