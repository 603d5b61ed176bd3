//! A load that is said by what it is compared with, and becomes a step that exists where a line is fitted.

use serde::{Deserialize, Serialize};

use super::MOST_STEPS;
use super::steps::{read_count, steps_text};
use crate::ranges::RangeError;

/// A load as a relation.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(rename_all = "snake_case", deny_unknown_fields)]
pub enum Relation {
    /// A share of what the client could do once with the movement, as it is known on the day.
    OfMaximum {
        /// The least and the most of it, percent: 30 to 100.
        percent: [u8; 2],
    },
    /// A share of what another movement is done with: of its heaviest set on the latest day.
    OfMovement {
        /// The other movement.
        other: Other,
        /// The least and the most of it, percent: 10 to 200.
        percent: [u8; 2],
    },
    /// So many steps of its own above what another movement is done with.
    StepsFrom {
        /// The other movement.
        other: Other,
        /// 1 to 5, or below it where negative.
        steps: i8,
    },
    /// In two parts: a weight, and a band for so much of the whole. How heavy both are together the repetitions decide.
    PartBand {
        /// The least and the most of it that the band gives, percent: 10 to 90.
        percent: [u8; 2],
    },
}

/// Another movement, with what it is called where its identifier does not say so.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Other {
    /// Its identifier.
    pub movement: String,
    /// Its name.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub called: Option<String>,
}

impl Other {
    /// As it was written, before it is looked up.
    fn written(name: &str) -> Self {
        Self { movement: name.split_whitespace().collect::<Vec<_>>().join("_"), called: None }
    }

    /// What it is called.
    pub fn name(&self) -> String {
        self.called.clone().unwrap_or_else(|| self.movement.replace('_', " "))
    }
}

/// Shares of a maximum that can be asked, percent: below the least nobody says it so, and more than all of it is not done once.
const PERCENT: [u8; 2] = [30, 100];
/// The same of what another movement is done with.
const PERCENT_OF_OTHER: [u8; 2] = [10, 200];
/// The same of what a band gives beside a weight: less is not felt, and with more the weight is not.
const PERCENT_OF_BAND: [u8; 2] = [10, 90];
/// Longest name of a movement, characters.
const LONGEST_NAME: usize = 80;
/// Shares that have a word.
const SHARES: [(&str, u8); 7] = [
    ("half", 50),
    ("a third", 33),
    ("two thirds", 67),
    ("a quarter", 25),
    ("three quarters", 75),
    ("the same", 100),
    ("twice", 200),
];
/// What a maximum is called.
const MAXIMUM: [&str; 7] = ["", "the maximum", "maximum", "the max", "max", "1rm", "the one-repetition maximum"];

fn within(percent: [u8; 2], [least, most]: [u8; 2], of: &str) -> Result<[u8; 2], RangeError> {
    let [low, high] = percent;
    if low < least || high > most || low > high {
        return Err(RangeError::new("relation", format!("must be {least} to {most} % of {of}, the lower one first")));
    }
    Ok(percent)
}

impl Relation {
    /// One share of the maximum, or two that it lies between.
    pub fn of_maximum(percent: [u8; 2]) -> Result<Self, RangeError> {
        Ok(Self::OfMaximum { percent: within(percent, PERCENT, "the maximum")? })
    }

    /// Checks its figures and names.
    pub fn validate(&self) -> Result<(), RangeError> {
        match self {
            Self::OfMaximum { percent } => within(*percent, PERCENT, "the maximum").map(drop)?,
            Self::OfMovement { percent, .. } => within(*percent, PERCENT_OF_OTHER, "another movement").map(drop)?,
            Self::PartBand { percent } => within(*percent, PERCENT_OF_BAND, "the load").map(drop)?,
            Self::StepsFrom { steps, .. } if (1..=MOST_STEPS.unsigned_abs()).contains(&steps.unsigned_abs()) => {}
            Self::StepsFrom { .. } => {
                return Err(RangeError::new("relation", format!("must be 1 to {MOST_STEPS} steps above or below")));
            }
        }
        let named = |name: &str| (1..=LONGEST_NAME).contains(&name.chars().count());
        if self.other().is_some_and(|o| !named(&o.movement) || o.called.as_deref().is_some_and(|c| !named(c))) {
            return Err(RangeError::new("relation", format!("names a movement with 1 to {LONGEST_NAME} characters")));
        }
        Ok(())
    }

    /// The other movement that it is compared with; none of a maximum or of two parts.
    pub const fn other(&self) -> Option<&Other> {
        match self {
            Self::OfMaximum { .. } | Self::PartBand { .. } => None,
            Self::OfMovement { other, .. } | Self::StepsFrom { other, .. } => Some(other),
        }
    }

    /// The same for another one.
    #[must_use]
    pub fn with_other(self, now: Other) -> Self {
        match self {
            Self::OfMaximum { .. } | Self::PartBand { .. } => self,
            Self::OfMovement { percent, .. } => Self::OfMovement { other: now, percent },
            Self::StepsFrom { steps, .. } => Self::StepsFrom { other: now, steps },
        }
    }

    /// How much of what it is compared with, or how far off it: `80 %`, `75–80 %`, `a step above`.
    pub fn share_text(&self) -> String {
        match self {
            Self::OfMaximum { percent: [least, most] }
            | Self::OfMovement { percent: [least, most], .. }
            | Self::PartBand { percent: [least, most] } => {
                if least == most {
                    format!("{least} %")
                } else {
                    format!("{least}–{most} %")
                }
            }
            Self::StepsFrom { steps, .. } => steps_text(*steps, ["below", "above"]),
        }
    }

    /// For example `at 80 % of the maximum`, `at 50 % of dumbbell bench press`, `a step above floor press` or `30 % from a band`. A
    /// comma would end it where a dose is read, so a name is told without.
    pub fn text(&self) -> String {
        let share = self.share_text();
        let name = |other: &Other| other.name().replace(',', "");
        match self {
            Self::OfMaximum { .. } => format!("at {share} of the maximum"),
            Self::OfMovement { other, .. } => format!("at {share} of {}", name(other)),
            Self::StepsFrom { other, .. } => format!("{share} {}", name(other)),
            Self::PartBand { .. } => format!("{share} from a band"),
        }
    }

    /// Reads `80 % of the maximum`, `75-80%`, `half of dumbbell bench press`, `a step above floor press`, `a third from a band`; none
    /// where it is something else. Another movement is named as it was written.
    pub(super) fn read(text: &str) -> Option<Result<Self, RangeError>> {
        let read = part_band(text).or_else(|| stepped(text)).or_else(|| {
            let (percent, of) = worded(text).or_else(|| in_percent(text))?;
            Some(if MAXIMUM.contains(&of.trim()) {
                Self::OfMaximum { percent }
            } else {
                Self::OfMovement { other: Other::written(of), percent }
            })
        })?;
        Some(read.validate().map(|()| read))
    }
}

/// Reads `a step above floor press`.
fn stepped(text: &str) -> Option<Relation> {
    let at = |way: &'static str| text.split_once(&format!(" {way} ")).map(|(steps, other)| (steps, way, other));
    let (steps, way, other) = at("above").or_else(|| at("below"))?;
    let count = read_count(&steps.split_whitespace().collect::<Vec<_>>())?;
    Some(Relation::StepsFrom { other: Other::written(other), steps: if way == "below" { -count } else { count } })
}

/// Reads `a third from a band`, `with 20-30 % of it from a band`.
fn part_band(text: &str) -> Option<Relation> {
    let ends = [" of it from a band", " from a band", " from the band", " from bands"];
    let share = ends.iter().find_map(|end| text.strip_suffix(end))?.trim();
    let share = share.strip_prefix("with ").unwrap_or(share);
    let worded = SHARES.iter().find(|(word, _)| *word == share).map(|(_, percent)| [*percent; 2]);
    let (percent, rest) = worded.map(|percent| (percent, "")).or_else(|| in_percent(share))?;
    rest.is_empty().then_some(Relation::PartBand { percent })
}

/// Reads `half of floor press` into its share, percent, and what it is of.
fn worded(text: &str) -> Option<([u8; 2], &str)> {
    SHARES.iter().find_map(|(word, percent)| {
        let of = text.strip_prefix(word)?.trim_start();
        Some(([*percent; 2], of.strip_prefix("of ").or_else(|| of.strip_prefix("as "))?))
    })
}

/// Reads `70-80 % of floor press`. A figure that is too much for any share is still one, to be refused as that.
fn in_percent(text: &str) -> Option<([u8; 2], &str)> {
    let (share, of) = text.split_once('%')?;
    let (least, most) = share.split_once('-').unwrap_or((share, share));
    let figure = |text: &str| Some(u8::try_from(text.trim().parse::<u16>().ok()?).unwrap_or(u8::MAX));
    let of = of.trim();
    let of = if of.is_empty() { of } else { of.strip_prefix("of ")? };
    Some(([figure(least)?, figure(most)?], of))
}
