//! Templates: sessions, weeks and plans as lines without exercises, to be fitted to any client and place.

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::calendar::{Every, Missed};
use crate::dose::Dose;
use crate::method::Method;
use crate::plan::{BlockKind, Intent};
use crate::ranges::{RangeError, SESSION_MINUTES};

/// The version that is written. A later one is refused, not guessed at.
pub const VERSION: u16 = 1;
/// Most days.
pub const MOST_DAYS: usize = 7;
/// Most lines of a day.
pub const MOST_LINES: usize = 20;
/// Longest name.
pub const LONGEST_NAME: usize = 80;

vocabulary!(
    /// What a template holds.
    Kind {
        Session => "session", "session";
        Week => "week", "week";
        Plan => "plan", "plan over weeks";
    }
);

/// A template.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Template {
    /// Of the format: 1.
    pub version: u16,
    /// What it holds.
    pub kind: Kind,
    /// What it is called.
    pub name: String,
    /// The school that it was made with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub method: Option<Method>,
    /// The days in order; one of a session.
    pub days: Vec<TemplateDay>,
    /// How a plan goes on over weeks.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weeks: Option<TemplateWeeks>,
}

/// A day of a template.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct TemplateDay {
    /// What its session is called.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// 1 Monday to 7 Sunday.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weekday: Option<u8>,
    /// Minutes there are.
    pub minutes: u16,
    /// In which weeks of a plan it is due.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub every: Option<Every>,
    /// Its blocks in order.
    pub blocks: Vec<TemplateBlock>,
}

/// Lines that are done together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct TemplateBlock {
    /// How.
    pub kind: BlockKind,
    /// What each is for, with its dose; no movement and no load.
    pub lines: Vec<Intent>,
}

/// How a plan goes on over weeks.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct TemplateWeeks {
    /// How many weeks it has.
    pub weeks: u8,
    /// Every how many weeks one is lighter.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub light_every: Option<u8>,
    /// Lighter weeks by hand.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub light_weeks: Vec<u8>,
    /// Schools by the week from which they count.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub phases: Vec<(u8, Method)>,
    /// What becomes of what was missed.
    pub missed: Missed,
}

/// A line as a template keeps it: without any load, which is of one client alone.
pub fn line(intent: &Intent) -> Intent {
    let written = intent.dose.written.as_ref().map(|dose| dose.loaded(None));
    Intent { dose: Dose { written, ..intent.dose.clone() }, ..intent.clone() }
}

impl Template {
    /// Its lines in order.
    pub fn lines(&self) -> impl Iterator<Item = &Intent> {
        self.days.iter().flat_map(|d| &d.blocks).flat_map(|b| &b.lines)
    }

    /// Checks version, days and lines; the path names the field.
    pub fn validate(&self) -> Result<(), RangeError> {
        if self.version != VERSION {
            return Err(RangeError::new(
                "version",
                format!("is {}: only version {VERSION} is known here", self.version),
            ));
        }
        let letters = self.name.trim().chars().count();
        if letters == 0 || letters > LONGEST_NAME {
            return Err(RangeError::new("name", format!("must have 1 to {LONGEST_NAME} characters")));
        }
        let most = if self.kind == Kind::Session { 1 } else { MOST_DAYS };
        if self.days.is_empty() || self.days.len() > most {
            return Err(RangeError::new("days", format!("of a {} must be 1 to {most}", self.kind)));
        }
        if (self.kind == Kind::Plan) != self.weeks.is_some() {
            return Err(RangeError::new("weeks", "belongs to a plan, and to nothing else"));
        }
        for (d, day) in self.days.iter().enumerate() {
            day.validate().map_err(|e| e.under(&format!("days[{d}]")))?;
        }
        if self.lines().next().is_none() {
            return Err(RangeError::new("days", "hold no line"));
        }
        if let Some(weeks) = &self.weeks {
            weeks.validate().map_err(|e| e.under("weeks"))?;
        }
        Ok(())
    }
}

impl TemplateDay {
    fn validate(&self) -> Result<(), RangeError> {
        SESSION_MINUTES.check("minutes", f64::from(self.minutes))?;
        if self.weekday.is_some_and(|w| !(1..=7).contains(&w)) {
            return Err(RangeError::new("weekday", "must be 1 to 7"));
        }
        if self.name.as_ref().is_some_and(|n| n.chars().count() > LONGEST_NAME) {
            return Err(RangeError::new("name", format!("must have at most {LONGEST_NAME} characters")));
        }
        let lines: usize = self.blocks.iter().map(|b| b.lines.len()).sum();
        if lines > MOST_LINES {
            return Err(RangeError::new("blocks", format!("hold {lines} lines; at most {MOST_LINES} are a day")));
        }
        for (b, block) in self.blocks.iter().enumerate() {
            for (l, line) in block.lines.iter().enumerate() {
                line.validate().map_err(|e| e.under(&format!("blocks[{b}].lines[{l}]")))?;
            }
        }
        Ok(())
    }
}

impl TemplateWeeks {
    fn validate(&self) -> Result<(), RangeError> {
        let [fewest, most] = crate::calendar::WEEKS;
        if !(fewest..=most).contains(&self.weeks) {
            return Err(RangeError::new("weeks", format!("must be {fewest} to {most}")));
        }
        let [rarest, often] = [crate::calendar::LIGHT_EVERY[1], crate::calendar::LIGHT_EVERY[0]];
        if self.light_every.is_some_and(|n| !(often..=rarest).contains(&n)) {
            return Err(RangeError::new("light_every", format!("must be {often} to {rarest}")));
        }
        let within = |week: &u8| (1..=self.weeks).contains(week);
        if !self.light_weeks.iter().all(within) {
            return Err(RangeError::new("light_weeks", format!("must be weeks from 1 to {}", self.weeks)));
        }
        if !self.phases.iter().all(|(week, _)| within(week)) || !self.phases.is_sorted_by(|a, b| a.0 < b.0) {
            return Err(RangeError::new(
                "phases",
                format!("must begin one after the other with weeks from 1 to {}", self.weeks),
            ));
        }
        Ok(())
    }
}
