//! The schools of training, as far as they weigh a choice of movement differently.

use crate::anatomy::vocabulary;
use crate::units::Seconds;

vocabulary!(
    /// A named school. None is better; each trades something.
    Method {
        ReserveBased => "reserve_based", "reserve-based";
        HeavyCompound => "heavy_compound", "heavy compound";
        SlowTempo => "slow_tempo", "slow tempo";
        HighRepBand => "high_rep_band", "high-rep band";
        PastFailure => "past_failure", "past failure";
        AntagonistPairs => "antagonist_pairs", "antagonist pairs";
        RegionSweep => "region_sweep", "region sweep";
        TimedCircuit => "timed_circuit", "timed circuit";
        MixedContractions => "mixed_contractions", "mixed contractions";
    }
);

impl Method {
    /// How much a step counts on which only long sets (up to 30 repetitions) reach the wanted reserve, against one that
    /// gives the wanted repetitions: nothing to a school of heavy loads, all to one of high repetitions. Assumed from
    /// what each school says of itself.
    pub const fn long_sets(self) -> f64 {
        match self {
            Self::HeavyCompound | Self::PastFailure => 0.1,
            Self::HighRepBand | Self::TimedCircuit => 1.0,
            Self::SlowTempo => 0.7,
            _ => 0.5,
        }
    }

    /// Least time under load of a set, where the school has one: a heavy set of five is short by design.
    pub const fn least_seconds_under_load(self) -> Option<Seconds> {
        match self {
            Self::HighRepBand => Some(Seconds(30.0)),
            _ => None,
        }
    }

    /// What the school holds dear in a choice, in a sentence.
    pub const fn says(self) -> &'static str {
        match self {
            Self::ReserveBased => "repetitions inside the zone with some in reserve count most",
            Self::HeavyCompound => "a step that is heavy enough counts most; long sets hardly count",
            Self::SlowTempo => {
                "tension in the wanted part of the length counts more than small steps: tempo makes steps"
            }
            Self::HighRepBand => "long sets count in full, and a missing heavy step does not matter",
            Self::PastFailure => "steadiness and a step that is heavy enough count more: sets go to failure",
            Self::AntagonistPairs | Self::TimedCircuit => "a quick set-up counts more: there is little rest",
            Self::RegionSweep => "the target counts most: one movement a region",
            Self::MixedContractions => "steadiness counts more: the set stops and holds midway",
        }
    }
}
