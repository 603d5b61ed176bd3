//! How a slot is dosed: repetitions, tempo, rest, stop rule and load.

use std::fmt;
use std::str::FromStr;

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::ranges::RangeError;
use crate::units::{Kilograms, MassUnit, Seconds, trim_number};

vocabulary!(
    /// Whether a stamped load is held in each hand or counts once.
    PerHand {
        Hand => "hand", "each hand";
        Total => "total", "in total";
    }
);

/// A load as it is stamped on the weight. Never converted: pounds stay pounds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct StampedLoad {
    /// The figure on the weight.
    pub value: f64,
    /// Its unit.
    pub unit: MassUnit,
    /// Each hand, or in total.
    pub per: PerHand,
}

impl StampedLoad {
    /// The load in kilograms, of the one weight that is stamped.
    pub fn kilograms(&self) -> Kilograms {
        Kilograms(self.value * self.unit.in_kilograms())
    }

    /// For example `12 kg each hand`.
    pub fn text(&self) -> String {
        format!("{} {}", self.short(), self.per)
    }

    /// For example `12 kg`.
    pub fn short(&self) -> String {
        format!("{} {}", trim_number(self.value, 2), self.unit.symbol())
    }
}

/// Four counts in seconds: lowering, pause at the bottom, lifting, pause at the top. Written `3-1-1-0`; `X` lifts as
/// fast as control allows.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Tempo {
    /// Lowering, 0 to 20 s.
    pub lowering: u8,
    /// Pause at the bottom.
    pub bottom: u8,
    /// Lifting; `None` is `X`.
    pub lifting: Option<u8>,
    /// Pause at the top.
    pub top: u8,
}

impl Tempo {
    /// The usual tempo: two seconds down, one up.
    pub const USUAL: Self = Self { lowering: 2, bottom: 0, lifting: Some(1), top: 0 };

    /// Seconds of a repetition; `X` counts as one.
    pub fn seconds(&self) -> Seconds {
        Seconds(f64::from(self.lowering + self.bottom + self.lifting.unwrap_or(1) + self.top))
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
        let counts: Vec<Option<u8>> = text
            .split('-')
            .map(|part| match part.trim() {
                "X" | "x" => Ok(None),
                digits => digits.parse::<u8>().ok().filter(|s| *s <= 20).map(Some).ok_or_else(refusal),
            })
            .collect::<Result<_, _>>()?;
        match counts[..] {
            [Some(lowering), Some(bottom), lifting, Some(top)] if lowering + lifting.unwrap_or(1) > 0 => {
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
        schemars::json_schema!({ "type": "string", "pattern": "^\\d+-\\d+-(\\d+|X)-\\d+$" })
    }
}

vocabulary!(
    /// What kind of set it is.
    SetKind {
        Straight => "straight", "straight set";
        Amrap => "amrap", "as many as possible";
        Hold => "hold", "hold";
        LoweringOnly => "lowering_only", "lowering only";
        MixedNine => "mixed_nine", "nine mixed";
        Extension => "extension", "extension of the set before";
    }
);

/// One prescribed set.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct SetPlan {
    /// Fewest and most repetitions.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reps: Option<[u16; 2]>,
    /// Seconds, for holds and timed stations.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub seconds: Option<u16>,
    /// As many as possible.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max: Option<bool>,
    /// Tempo.
    pub tempo: Tempo,
    /// Load as stamped.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub load: Option<StampedLoad>,
    /// Repetitions in reserve at which to stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rir: Option<u8>,
    /// Kind of set.
    pub kind: SetKind,
    /// Rest after it, s.
    pub rest_s: u16,
}

/// Sets x reps, tempo, rest, stop rule and load of a slot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Prescription {
    /// The sets in order.
    pub sets: Vec<SetPlan>,
}

impl Prescription {
    /// `count` straight sets.
    pub fn straight(count: u8, reps: [u16; 2], rir: u8, tempo: Tempo, rest_s: u16) -> Self {
        let set = SetPlan {
            reps: Some(reps),
            seconds: None,
            max: None,
            tempo,
            load: None,
            rir: Some(rir),
            kind: SetKind::Straight,
            rest_s,
        };
        Self { sets: vec![set; usize::from(count)] }
    }

    /// For example `3 × 8–12, 2 in reserve, 2-0-1-0, rest 90 s`.
    pub fn text(&self) -> String {
        self.text_with("")
    }

    /// The same for one side at a time: `3 × 8–12 a side, 2 in reserve, ...`.
    pub fn text_a_side(&self) -> String {
        self.text_with(" a side")
    }

    fn text_with(&self, side: &str) -> String {
        let Some(first) = self.sets.first() else { return "no sets".into() };
        let amount = match (first.reps, first.seconds) {
            (Some([a, b]), _) if a == b => a.to_string(),
            (Some([a, b]), _) => format!("{a}–{b}"),
            (None, Some(s)) => format!("{s} s"),
            (None, None) => "max".into(),
        };
        let in_reserve = |rir: u8| if rir == 0 { "to failure".to_owned() } else { format!("{rir} in reserve") };
        let reserve = first.rir.map_or_else(String::new, |r| format!(", {}", in_reserve(r)));
        let last = self.sets.last().and_then(|s| s.rir).filter(|r| first.rir.is_some_and(|f| f != *r));
        let last = last.map_or_else(String::new, |r| format!(", the last {}", in_reserve(r)));
        format!("{} × {amount}{side}{reserve}{last}, {}, rest {} s", self.sets.len(), first.tempo, first.rest_s)
    }

    /// Checks counts and orders; the path starts with `sets[i]`.
    pub fn validate(&self) -> Result<(), RangeError> {
        if self.sets.is_empty() || self.sets.len() > 20 {
            return Err(RangeError::new("sets", "must hold 1 to 20 sets"));
        }
        for (i, set) in self.sets.iter().enumerate() {
            let path = |field: &str| format!("sets[{i}].{field}");
            if let Some([low, high]) = set.reps
                && (low == 0 || high > 100 || low > high)
            {
                return Err(RangeError::new(path("reps"), "must rise within 1 to 100"));
            }
            if set.reps.is_none() && set.seconds.is_none() && set.max != Some(true) {
                return Err(RangeError::new(path("reps"), "give reps, seconds or max"));
            }
            if set.rir.is_some_and(|r| r > 6) {
                return Err(RangeError::new(path("rir"), "must be 0 to 6"));
            }
            if set.rest_s > 900 {
                return Err(RangeError::new(path("rest_s"), "must be at most 900 s"));
            }
        }
        Ok(())
    }
}
