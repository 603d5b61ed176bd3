//! Tempo: the counts of a repetition.

use std::fmt;
use std::str::FromStr;

use serde::{Deserialize, Serialize};

use crate::ranges::RangeError;
use crate::units::{Seconds, trim_number};

/// A count of a tempo: 0 to 20 seconds, whole or half.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Count {
    halves: u8,
}

impl Count {
    /// The longest count, s.
    pub const LONGEST: u8 = 20;

    /// Whole seconds; 20 at most.
    pub const fn whole(seconds: u8) -> Self {
        let seconds = if seconds > Self::LONGEST { Self::LONGEST } else { seconds };
        Self { halves: 2 * seconds }
    }

    /// This count and so many seconds more; 20 at most.
    #[must_use]
    pub const fn longer(self, seconds: u8) -> Self {
        let halves = self.halves.saturating_add(seconds.saturating_mul(2));
        Self { halves: if halves > 2 * Self::LONGEST { 2 * Self::LONGEST } else { halves } }
    }

    /// Seconds.
    pub fn seconds(self) -> f64 {
        0.5 * f64::from(self.halves)
    }
}

impl fmt::Display for Count {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&trim_number(self.seconds(), 1))
    }
}

impl FromStr for Count {
    type Err = RangeError;

    fn from_str(text: &str) -> Result<Self, RangeError> {
        let refusal = || RangeError::new("tempo", format!("must count 0 to 20 whole or half seconds, not {text:?}"));
        let halves = text.parse::<f64>().ok().filter(|s| (0.0..=f64::from(Self::LONGEST)).contains(s)).map(|s| 2.0 * s);
        match halves.filter(|h| h.fract() == 0.0) {
            Some(halves) => Ok(Self { halves: halves as u8 }),
            None => Err(refusal()),
        }
    }
}

/// Four counts: lowering, pause at the bottom, lifting, pause at the top. Written `3-1-1-0` or `2-0-1-0.5`; `X` lifts as
/// fast as control allows.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Tempo {
    /// Lowering.
    pub lowering: Count,
    /// Pause at the bottom.
    pub bottom: Count,
    /// Lifting; `None` is `X`.
    pub lifting: Option<Count>,
    /// Pause at the top.
    pub top: Count,
}

impl Tempo {
    /// The usual tempo: two seconds down, one up.
    pub const USUAL: Self = Self::whole(2, 0, Some(1), 0);

    /// Whole seconds of lowering, the pause below, lifting, and the pause above.
    pub const fn whole(lowering: u8, bottom: u8, lifting: Option<u8>, top: u8) -> Self {
        let lifting = match lifting {
            Some(seconds) => Some(Count::whole(seconds)),
            None => None,
        };
        Self { lowering: Count::whole(lowering), bottom: Count::whole(bottom), lifting, top: Count::whole(top) }
    }

    /// Seconds of a repetition; `X` counts as one.
    pub fn seconds(&self) -> Seconds {
        let lifting = self.lifting.map_or(1.0, Count::seconds);
        Seconds(self.lowering.seconds() + self.bottom.seconds() + lifting + self.top.seconds())
    }

    /// What the counts ask for, in words that hold whichever way a movement goes: `1 s for the effort, 3 s for the way back, 1 s still
    /// where it is stretched`.
    pub fn in_words(&self) -> String {
        let effort = match self.lifting {
            Some(count) if count == Count::whole(0) => None,
            Some(count) => Some(format!("{count} s for the effort")),
            None => Some("the effort as fast as you control it".to_owned()),
        };
        let still = |count: Count, text: &str| (count > Count::whole(0)).then(|| format!("{count} s {text}"));
        let parts = [
            effort,
            still(self.top, "still at its end"),
            still(self.lowering, "for the way back"),
            still(self.bottom, "still where it is stretched"),
        ];
        parts.into_iter().flatten().collect::<Vec<_>>().join(", ")
    }
}

impl fmt::Display for Tempo {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let lifting = self.lifting.map_or_else(|| "X".to_owned(), |s| s.to_string());
        write!(f, "{}-{}-{lifting}-{}", self.lowering, self.bottom, self.top)
    }
}

impl FromStr for Tempo {
    type Err = RangeError;

    fn from_str(text: &str) -> Result<Self, RangeError> {
        let refusal = || {
            RangeError::new(
                "tempo",
                format!("must be four counts of 0 to 20 seconds such as 3-1-1-0 or 3-0-X-0, not {text:?}"),
            )
        };
        let counts: Vec<Option<Count>> = text
            .split('-')
            .map(|part| match part.trim() {
                "X" | "x" => Ok(None),
                count => count.parse().map(Some).map_err(|_| refusal()),
            })
            .collect::<Result<_, _>>()?;
        match counts[..] {
            [Some(lowering), Some(bottom), lifting, Some(top)]
                if lowering.seconds() + lifting.map_or(1.0, Count::seconds) > 0.0 =>
            {
                Ok(Self { lowering, bottom, lifting, top })
            }
            _ => Err(refusal()),
        }
    }
}

impl Serialize for Tempo {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}

impl<'de> Deserialize<'de> for Tempo {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        String::deserialize(deserializer)?.parse().map_err(serde::de::Error::custom)
    }
}

#[cfg(feature = "schema")]
impl schemars::JsonSchema for Tempo {
    fn schema_name() -> std::borrow::Cow<'static, str> {
        "Tempo".into()
    }

    fn json_schema(_: &mut schemars::SchemaGenerator) -> schemars::Schema {
        schemars::json_schema!({ "type": "string", "pattern": "^\\d+(\\.5)?-\\d+(\\.5)?-(\\d+(\\.5)?|X)-\\d+(\\.5)?$" })
    }
}
