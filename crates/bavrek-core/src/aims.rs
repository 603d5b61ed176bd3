//! Aims: what each region is to do, and the weekly hard sets that follow.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::anatomy::{Region, vocabulary};
use crate::person::Experience;
use crate::ranges::RangeError;

vocabulary!(
    /// What a region is to do.
    Aim {
        Keep => "keep", "keep";
        Grow => "grow", "grow";
        Focus => "focus", "focus";
    }
);

vocabulary!(
    /// What someone trains for; each brings aims for every region.
    Goal {
        SizeFirst => "size_first", "size first";
        StrengthWithSize => "strength_with_size", "strength with size";
        GeneralShape => "general_shape", "general shape";
    }
);

/// Most weekly sets that may be planned for a region.
pub const MOST_WEEKLY_SETS: f64 = 40.0;

/// What a trainer wants of a region.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct RegionAim {
    /// Keep, grow or focus.
    pub aim: Aim,
    /// Weekly hard sets, least and most, where the trainer has set them; the usual ones otherwise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sets: Option<[f64; 2]>,
}

/// What a trainer wants of every region. A region that is not listed is kept.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Aims {
    /// The preset that they come from.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub goal: Option<Goal>,
    /// By region.
    #[serde(default)]
    pub regions: BTreeMap<Region, RegionAim>,
}

impl Aims {
    /// The aim of a region.
    pub fn of(&self, region: Region) -> RegionAim {
        self.regions.get(&region).copied().unwrap_or(RegionAim { aim: Aim::Keep, sets: None })
    }

    /// Weekly hard sets of a region, least and most: the trainer's, or the usual ones.
    pub fn weekly_sets(&self, region: Region, volumes: &Volumes, experience: Experience) -> [f64; 2] {
        let wanted = self.of(region);
        wanted.sets.unwrap_or_else(|| volumes.sets(region, wanted.aim, experience))
    }

    /// Regions with an aim.
    pub fn with(&self, aim: Aim) -> impl Iterator<Item = Region> + '_ {
        Region::ALL.iter().copied().filter(move |r| self.of(*r).aim == aim)
    }

    /// Checks the ranges that a trainer has set; the path is `regions.ID`.
    pub fn validate(&self) -> Result<(), RangeError> {
        for (region, wanted) in &self.regions {
            let path = || format!("regions.{}", region.id());
            let Some([least, most]) = wanted.sets else { continue };
            if !(0.0..=MOST_WEEKLY_SETS).contains(&least) || !(0.0..=MOST_WEEKLY_SETS).contains(&most) {
                return Err(RangeError::new(path(), format!("weekly sets are 0 to {MOST_WEEKLY_SETS}")));
            }
            if most < least {
                return Err(RangeError::new(path(), "the larger number of sets comes second"));
            }
        }
        Ok(())
    }
}

/// Usual weekly hard sets, and the aims of each goal: knowledge that the catalogue carries.
#[derive(Debug, Clone, PartialEq, Default, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Volumes {
    /// Where the ranges come from.
    pub source: String,
    /// What the trainer should know about them.
    pub note: String,
    /// Least and most by experience and aim.
    pub sets: BTreeMap<Experience, BTreeMap<Aim, [f64; 2]>>,
    /// Share of the range for regions that get most of their work by assisting.
    pub small_share: f64,
    /// Those regions.
    pub small: Vec<Region>,
    /// What each goal asks for; regions that are not listed are kept.
    pub goals: BTreeMap<Goal, BTreeMap<Region, Aim>>,
}

impl Volumes {
    /// Usual weekly hard sets, least and most.
    pub fn sets(&self, region: Region, aim: Aim, experience: Experience) -> [f64; 2] {
        let [least, most] = self.sets.get(&experience).and_then(|by| by.get(&aim)).copied().unwrap_or_default();
        let share = if self.small.contains(&region) { self.small_share } else { 1.0 };
        [(least * share).round(), (most * share).round()]
    }

    /// The aims that a goal brings.
    pub fn preset(&self, goal: Goal) -> Aims {
        let regions = self.goals.get(&goal).into_iter().flatten();
        Aims { goal: Some(goal), regions: regions.map(|(r, aim)| (*r, RegionAim { aim: *aim, sets: None })).collect() }
    }

    /// Checks that every experience and aim has a rising range, and that more is asked of a higher aim.
    pub fn validate(&self) -> Result<(), RangeError> {
        for experience in Experience::ALL {
            let mut before = [0.0, 0.0];
            for aim in Aim::ALL {
                let path = || format!("sets.{}.{}", experience.id(), aim.id());
                let Some(range) = self.sets.get(experience).and_then(|by| by.get(aim)) else {
                    return Err(RangeError::new(path(), "is missing"));
                };
                if !(range[0] > 0.0 && range[0] < range[1] && range[1] <= MOST_WEEKLY_SETS) {
                    return Err(RangeError::new(path(), "must rise"));
                }
                if range[0] < before[0] || range[1] < before[1] {
                    return Err(RangeError::new(path(), "asks for less than the aim below it"));
                }
                before = *range;
            }
        }
        for goal in Goal::ALL {
            if !self.goals.contains_key(goal) {
                return Err(RangeError::new(format!("goals.{}", goal.id()), "is missing"));
            }
        }
        if !(self.small_share > 0.0 && self.small_share <= 1.0) {
            return Err(RangeError::new("small_share", "must be above 0 and at most 1"));
        }
        Ok(())
    }
}
