//! What to say beside a load: stated, but with a reservation.

use crate::mechanics::band::{SLACK, WARN_STRETCH};
use crate::units::Kilograms;

/// A reservation about a load that was stated.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Notice {
    /// The band is slack in the lengthened position.
    Slack,
    /// The band is stretched by more than 200 %; the elongation in percent.
    LongStretch(f64),
    /// The load crosses the joint: part of the range is without load.
    PartWithoutLoad,
    /// Heights beyond what was ever measured.
    BeyondData,
    /// A band under the back: the load if it is pinned, and if it slips.
    PinnedOrSlipping(Kilograms, Kilograms),
    /// Rings: the load is no larger, the demand on stability is.
    Unstable,
    /// A helping band helps most at the bottom.
    HelpAtBottom,
}

impl Notice {
    /// A stable code.
    pub const fn code(&self) -> &'static str {
        match self {
            Self::Slack => "slack",
            Self::LongStretch(_) => "long_stretch",
            Self::PartWithoutLoad => "no_load",
            Self::BeyondData => "beyond_data",
            Self::PinnedOrSlipping(..) => "pinned_or_slipping",
            Self::Unstable => "unstable",
            Self::HelpAtBottom => "help_at_bottom",
        }
    }

    /// A sentence for a trainer.
    pub fn text(&self) -> String {
        match self {
            Self::Slack => "slack, no load in the lengthened position".into(),
            Self::LongStretch(percent) => format!("stretched by {percent:.0} %; 200 % is enough for one band"),
            Self::PartWithoutLoad => "part of the range is without load".into(),
            Self::BeyondData => "no study measured heights above 0.61 m; the load is a guess".into(),
            Self::PinnedOrSlipping(pinned, slipping) => format!(
                "{:.1} kg if the band is pinned, {:.1} kg if it slips: measure to know",
                pinned.value(),
                slipping.value()
            ),
            Self::Unstable => "rings ask for stability; the load itself is no larger".into(),
            Self::HelpAtBottom => "the band helps most at the bottom".into(),
        }
    }

    /// Notices on the extension ratios of a band at the start and at its longest.
    pub fn of_stretch(start: f64, longest: f64) -> Vec<Self> {
        let slack = (start < SLACK).then_some(Self::Slack);
        let long = (longest > WARN_STRETCH).then_some(Self::LongStretch((longest - 1.0) * 100.0));
        slack.into_iter().chain(long).collect()
    }
}
