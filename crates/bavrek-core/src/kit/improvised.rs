//! Things that were not made for training: what must be asked before one is used.

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use super::band::is_simulated;
use super::{KitItem, LoopBand, MeasuredPoint, TubeBand};

/// The answers to the two questions that furniture and the like must pass. It is used only when both are good.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct StabilityCheck {
    /// Will it hold? Tested with part of the body weight or a slow pull.
    pub holds: bool,
    /// Will it slip or tip?
    pub slips: bool,
    /// When it was looked at.
    pub on: NaiveDate,
}

impl StabilityCheck {
    /// Whether the thing may be used.
    pub const fn passes(self) -> bool {
        self.holds && !self.slips
    }
}

/// How well the force of a band is known.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum BandKnowledge {
    /// Readings of a hanging scale.
    Measured,
    /// Readings of the simulated scale: a curve to try things out with.
    Simulated,
    /// From its width and thickness.
    Size,
    /// Only what is printed on it.
    Printed,
}

impl BandKnowledge {
    /// In words.
    pub const fn label(self) -> &'static str {
        match self {
            Self::Measured => "measured",
            Self::Simulated => "not measured: simulated readings",
            Self::Size => "not measured: by its size",
            Self::Printed => "not measured: by its print",
        }
    }
}

fn knowledge(measured: Option<&[MeasuredPoint]>, sized: bool) -> BandKnowledge {
    match (measured, sized) {
        (Some([_, ..]), _) if is_simulated(measured) => BandKnowledge::Simulated,
        (Some([_, ..]), _) => BandKnowledge::Measured,
        (_, true) => BandKnowledge::Size,
        (_, false) => BandKnowledge::Printed,
    }
}

impl KitItem {
    /// Whether it needs a [`StabilityCheck`] before it is used.
    pub const fn improvised(&self) -> bool {
        match self {
            Self::Chair(_) | Self::Sofa(_) | Self::Table(_) | Self::Towel(_) | Self::Backpack(_) | Self::Wedge(_) => {
                true
            }
            Self::Anchor(a) => a.is_in_door() || a.on.is_some(),
            _ => false,
        }
    }

    /// The questions of the check, put for this thing: will it hold, will it slip.
    pub const fn stability_questions(&self) -> [&'static str; 2] {
        match self {
            Self::Anchor(a) if a.on.is_some() => [
                "Does it stand a hard, slow pull from where you will stand, without lifting, bending or creaking?",
                "Can the band slip off it, or can it slide or tip towards you?",
            ],
            Self::Anchor(_) => [
                "Does the closed door hold a hard, slow pull on the hinge side, or close towards the puller?",
                "Can it slip out, or can somebody open the door?",
            ],
            Self::Towel(_) => [
                "Is it free of worn spots, and does it hold part of the body weight?",
                "Can it slip off what it runs round?",
            ],
            Self::Backpack(_) => {
                ["Do the seams and straps hold the load when it is lifted by one strap?", "Can the load shift in it?"]
            }
            Self::Wedge(_) => [
                "Does the bench stand firm on it with the body weight pressed down?",
                "Can it slide from under the bench?",
            ],
            Self::Table(_) => {
                ["Does it hold a slow pull with half the body weight at its edge?", "Can it tip or slide towards you?"]
            }
            _ => ["Does it hold the body weight where it will be loaded?", "Can it slip or tip over?"],
        }
    }

    /// Code of the caution that belongs to an improvised thing.
    pub const fn improvised_caution(&self) -> Option<&'static str> {
        match self {
            Self::Chair(_) | Self::Sofa(_) => Some("furniture"),
            Self::Table(_) => Some("table_check"),
            Self::Towel(_) => Some("towel_check"),
            Self::Backpack(_) => Some("backpack_check"),
            Self::Wedge(_) => Some("wedge_check"),
            Self::Anchor(a) if a.is_in_door() => Some("door_anchor"),
            Self::Anchor(a) if a.on.is_some() => Some("improvised_anchor"),
            _ => None,
        }
    }

    /// For a band: how well its force is known, and the log-SD that follows; none for anything else or a band of
    /// which nothing is known.
    pub fn band_knowledge(&self) -> Option<(BandKnowledge, f64)> {
        match self {
            Self::LoopBand(b @ LoopBand { measured, width_m, thickness_m, .. }) => Some((
                knowledge(measured.as_deref(), width_m.is_some() && thickness_m.is_some()),
                b.rubber().ok()?.log_sd(),
            )),
            Self::TubeBand(b @ TubeBand { measured, .. }) => {
                Some((knowledge(measured.as_deref(), false), b.rubber().ok()?.log_sd()))
            }
            _ => None,
        }
    }

    /// Heights above the floor that can be moved on the wall, in metres; empty for what does not hang.
    pub fn heights(&self) -> Vec<f64> {
        match self {
            Self::Anchor(a) => a.heights_m.clone(),
            Self::Rings(r) => vec![r.max_height_m.value()],
            Self::PullUpBar(b) => vec![b.height_m.value()],
            _ => Vec::new(),
        }
    }

    /// The same item with one of its heights moved; unchanged where it has no such height.
    #[must_use]
    pub fn at_height(mut self, index: usize, height_m: f64) -> Self {
        match &mut self {
            Self::Anchor(a) => {
                if let Some(height) = a.heights_m.get_mut(index) {
                    *height = height_m;
                }
            }
            Self::Rings(r) => r.max_height_m.0 = height_m,
            Self::PullUpBar(b) => b.height_m.0 = height_m,
            _ => {}
        }
        self
    }
}
