//! The client as the computation sees one: body, experience and limits.

use serde::{Deserialize, Serialize};

use crate::anatomy::{Joint, vocabulary};
use crate::ranges::{self, RangeError};
use crate::units::{Kilograms, Metres};

vocabulary!(
    /// How long someone has trained with purpose; sets default volumes, priors and skill gates.
    Experience {
        Novice => "novice", "novice";
        Intermediate => "intermediate", "intermediate";
        Advanced => "advanced", "advanced";
    }
);

vocabulary!(
    /// Age where the year of birth is not given.
    AgeBand {
        Under18 => "under_18", "under 18";
        From18To39 => "18_to_39", "18 to 39";
        From40To59 => "40_to_59", "40 to 59";
        From60 => "60_and_over", "60 and over";
    }
);

vocabulary!(
    /// Sex, where a published segment mass differs by it.
    Sex {
        Female => "female", "female";
        Male => "male", "male";
    }
);

vocabulary!(
    /// What a joint must be spared.
    LimitKind {
        PainOverhead => "pain_overhead", "pain overhead";
        PainDeepStretch => "pain_deep_stretch", "pain in deep stretch";
        Stiff => "stiff", "stiff";
        PoorExtension => "poor_extension", "poor extension";
        PainLoaded => "pain_loaded", "pain under load";
        PainGripping => "pain_gripping", "pain when gripping";
    }
);

vocabulary!(
    /// Which side a limit or a set concerns.
    Side {
        Left => "left", "left";
        Right => "right", "right";
        Both => "both", "both sides";
    }
);

vocabulary!(
    /// How strongly a limit weighs: mild eases, moderate and severe exclude.
    Severity {
        Mild => "mild", "mild";
        Moderate => "moderate", "moderate";
        Severe => "severe", "severe";
    }
);

impl LimitKind {
    /// Whether it is about how far a joint moves, not about pain: training within the range that is there stays possible.
    pub const fn is_of_range(self) -> bool {
        matches!(self, Self::Stiff | Self::PoorExtension)
    }
}

/// What a client must avoid or go easy on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Limit {
    /// The joint concerned.
    pub joint: Joint,
    /// What it must be spared.
    pub what: LimitKind,
    /// The side concerned.
    pub side: Side,
    /// How strongly it weighs.
    pub severity: Severity,
}

impl Limit {
    /// The limit in words, for example `left shoulder: pain in deep stretch (moderate)`.
    pub fn text(&self) -> String {
        let side = match self.side {
            Side::Both => String::new(),
            side => format!("{} ", side.label()),
        };
        format!("{side}{}: {} ({})", self.joint, self.what, self.severity)
    }
}

/// Age from which shoulders get a flatter incline and everything a longer warm-up. Coaching practice, assumed.
const EASED_AGE: u8 = 50;

/// The client as the computation sees one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Person {
    /// Body mass, 30 to 250 kg.
    pub body_mass_kg: Kilograms,
    /// Stature, 1.2 to 2.3 m.
    pub height_m: Metres,
    /// Training experience.
    pub experience: Experience,
    /// Age in years, where known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub age_years: Option<u8>,
    /// Sex, where known; shared values are used otherwise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sex: Option<Sex>,
    /// Limits in force.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub limits: Vec<Limit>,
}

impl Person {
    /// The figure that is drawn where no client is chosen: 1.75 m, 75 kg, with some experience.
    pub const fn default_figure() -> Self {
        Self {
            body_mass_kg: Kilograms(75.0),
            height_m: Metres(1.75),
            experience: Experience::Intermediate,
            age_years: None,
            sex: None,
            limits: Vec::new(),
        }
    }

    /// Whether age asks for a longer warm-up and a flatter incline.
    pub fn is_eased_by_age(&self) -> bool {
        self.age_years.is_some_and(|age| age >= EASED_AGE)
    }

    /// Whether weight may rest on the knees: no limit of theirs says that load hurts them beyond a mild one, or that a bend hurts
    /// them severely.
    pub fn kneels(&self) -> bool {
        let against = |limit: &Limit| {
            limit.joint == Joint::Knee
                && match limit.what {
                    LimitKind::PainLoaded => limit.severity > Severity::Mild,
                    LimitKind::PainDeepStretch => limit.severity > Severity::Moderate,
                    _ => false,
                }
        };
        !self.limits.iter().any(against)
    }

    /// Minutes of general warm-up, least and most: five to ten, longer from 50 on.
    pub fn warm_up_minutes(&self) -> [u8; 2] {
        if self.is_eased_by_age() { [10, 15] } else { [5, 10] }
    }

    /// Checks body mass, stature and age against their legal ranges.
    pub fn validate(&self) -> Result<(), RangeError> {
        ranges::BODY_MASS.check("body_mass_kg", self.body_mass_kg.value())?;
        ranges::STATURE.check("height_m", self.height_m.value())?;
        if let Some(age) = self.age_years {
            ranges::AGE.check("age_years", f64::from(age))?;
        }
        Ok(())
    }
}
