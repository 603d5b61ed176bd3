//! What is expected of a step.

use std::fmt::{self, Display, Formatter};

use crate::fit::Likely;

impl Display for Likely {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::TooLight => f.write_str("too light: over 40 reps"),
            Self::NearlyNone => f.write_str("fewer than 2 reps"),
            Self::About(reps) => write!(f, "about {reps:.0} reps"),
        }
    }
}
