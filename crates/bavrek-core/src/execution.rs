//! How a repetition is done where schools differ: how much of the range, where the elbows are, and what the trainer says.

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::ranges::RangeError;

vocabulary!(
    /// A part of the range that is chosen, where it is not the whole.
    RangePart {
        LengthenedHalf => "lengthened_half", "the lengthened half";
        ShortenedHalf => "shortened_half", "the shortened half";
        ShortOfLockOut => "short_of_lock_out", "short of lock-out";
    }
);

/// Share of the way at which a press stops that is not locked out. Assumed.
const STOPS_AT: f64 = 0.9;

impl RangePart {
    /// Where it begins and ends on the way from lengthened to shortened, each 0 to 1.
    pub const fn window(self) -> [f64; 2] {
        match self {
            Self::LengthenedHalf => [0.0, 0.5],
            Self::ShortenedHalf => [0.5, 1.0],
            Self::ShortOfLockOut => [0.0, STOPS_AT],
        }
    }

    /// Whether so little is left that its repetitions say nothing sure of the whole range.
    pub const fn is_half(self) -> bool {
        matches!(self, Self::LengthenedHalf | Self::ShortenedHalf)
    }
}

vocabulary!(
    /// Where the elbows go.
    Elbows {
        Wide => "wide", "elbows out";
        Between => "between", "elbows halfway out";
        Tucked => "tucked", "elbows at the sides";
    }
);

/// Longest cue of a trainer's own, characters.
pub const LONGEST_CUE: usize = 240;

/// What a trainer has chosen for one line; it stays when the movement changes.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Execution {
    /// The part of the range; the whole of it where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub range: Option<RangePart>,
    /// Where the elbows go, where it is said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub elbows: Option<Elbows>,
    /// What the trainer says instead of the movement's own cue.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cue: Option<String>,
}

impl Execution {
    /// Nothing chosen.
    pub const USUAL: Self = Self { range: None, elbows: None, cue: None };

    /// Whether nothing is chosen.
    pub fn is_usual(&self) -> bool {
        *self == Self::USUAL
    }

    /// Checks the cue; the path names the field.
    pub fn validate(&self) -> Result<(), RangeError> {
        match &self.cue {
            Some(cue) if cue.trim().is_empty() => Err(RangeError::new("cue", "says nothing: leave it out")),
            Some(cue) if cue.chars().count() > LONGEST_CUE => {
                Err(RangeError::new("cue", format!("may have at most {LONGEST_CUE} characters")))
            }
            _ => Ok(()),
        }
    }

    /// What is said while it is done, in place of a movement's own cue: the trainer's words, else that cue; the chosen range
    /// and elbows with either. `cut` says whether the movement can be cut to the chosen range.
    pub fn cue(&self, own: &str, cut: bool) -> String {
        let mut said = vec![self.cue.clone().unwrap_or_else(|| own.to_owned())];
        said.extend(self.range.filter(|_| cut).map(|part| format!("Only {part}.").replace("Only short", "Stop short")));
        said.extend(self.elbows.map(|elbows| {
            let label = elbows.label();
            format!("{}{}.", label[..1].to_uppercase(), &label[1..])
        }));
        said.join(" ")
    }
}
