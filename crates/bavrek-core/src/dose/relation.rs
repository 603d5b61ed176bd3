//! A load that is said by what it is compared with, and becomes a step that exists where a line is fitted.

use serde::{Deserialize, Serialize};

use crate::ranges::RangeError;

/// A load as a relation.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(rename_all = "snake_case", deny_unknown_fields)]
pub enum Relation {
    /// A share of what the client could do once with the movement, as it is known on the day.
    OfMaximum {
        /// The least and the most of it, percent: 30 to 100.
        percent: [u8; 2],
    },
}

/// Shares of a maximum that can be asked, percent: below the least nobody says it so, and more than all of it is not done once.
const PERCENT: [u8; 2] = [30, 100];

impl Relation {
    /// One share, or two that it lies between.
    pub fn of_maximum(percent: [u8; 2]) -> Result<Self, RangeError> {
        let [least, most] = percent;
        if least < PERCENT[0] || most > PERCENT[1] || least > most {
            return Err(RangeError::new(
                "relation",
                format!("must be {} to {} % of the maximum, the lower one first", PERCENT[0], PERCENT[1]),
            ));
        }
        Ok(Self::OfMaximum { percent })
    }

    /// Checks its figures.
    pub fn validate(self) -> Result<(), RangeError> {
        let Self::OfMaximum { percent } = self;
        Self::of_maximum(percent).map(drop)
    }

    /// For example `80 %` or `75–80 %`.
    pub fn share_text(self) -> String {
        let Self::OfMaximum { percent: [least, most] } = self;
        if least == most { format!("{least} %") } else { format!("{least}–{most} %") }
    }

    /// For example `at 80 % of the maximum`.
    pub fn text(self) -> String {
        format!("at {} of the maximum", self.share_text())
    }

    /// The least and the most as shares, 0 to 1.
    pub fn shares(self) -> [f64; 2] {
        let Self::OfMaximum { percent } = self;
        percent.map(|p| f64::from(p) / 100.0)
    }

    /// Reads `80 % of the maximum`, `75-80%`, `80 % of max`; none where it is something else.
    pub(super) fn read(text: &str) -> Option<Result<Self, RangeError>> {
        let (share, of) = text.split_once('%')?;
        let of = of.trim();
        let known =
            ["", "of the maximum", "of maximum", "of the max", "of max", "of 1rm", "of the one-repetition maximum"];
        if !known.contains(&of) {
            return None;
        }
        let (least, most) = share.split_once('-').unwrap_or((share, share));
        Some(Self::of_maximum([least.trim().parse().ok()?, most.trim().parse().ok()?]))
    }
}
