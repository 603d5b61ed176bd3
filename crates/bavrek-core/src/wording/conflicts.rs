//! What gets in the way of what in a block.

use std::fmt::{self, Display, Formatter};

use crate::fit::{BlockConflict, Clash, Conflict};

impl Display for Conflict {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let with = &self.with;
        match &self.clash {
            Clash::TwoLoads(own, other) => {
                write!(f, "{} here and {} for {with} are not there at once", own.short(), other.short())
            }
            Clash::BenchAngles(own, other) => {
                write!(f, "the bench stands at {:.0}° for {with} and at {:.0}° here", other.value(), own.value())
            }
            Clash::BandMoves(band) => write!(f, "the {band} moves to another anchor between this and {with}"),
            Clash::BandRefixed(band) => write!(f, "the {band} is fixed another way for {with}"),
            Clash::RingHeights => write!(f, "the rings hang at another height for {with}"),
            Clash::Tires(region) => write!(f, "it works the {region} as well, which should rest from {with}"),
        }
    }
}

impl Display for BlockConflict {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        write!(f, "{}: {}", self.own, self.conflict)
    }
}
