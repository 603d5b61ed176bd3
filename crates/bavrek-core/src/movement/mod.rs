//! Movements as data: what each trains, its posture and rig, what it needs and whom it does not suit.

mod demands;
mod gym;
mod pose;
mod prior;
mod rig;

pub use gym::{Arc as GymArc, GymMovement, Resistance, Station};
pub use pose::{Pose, Stance, View};
pub(crate) use prior::covariance;
pub use prior::{Group, PatternPrior, log_of_age};
pub use rig::{
    Adjustment, AdjustmentUnit, DipOn, ExtensionOn, Mount, PikeFeet, PushUpHands, RaisedFeet, RigModel, TrunkWork,
};

use std::collections::BTreeMap;
use std::sync::Arc;

use serde::{Deserialize, Serialize};

use crate::anatomy::{ArmPosition, Grip, Implement, Joint, Pattern, Region, vocabulary};
use crate::dose::{PerHand, Prescription, StampedLoad};
use crate::person::{Experience, LimitKind};
use crate::ranges::{self, LegalRange};

vocabulary!(
    /// How the hands share the implement.
    Hands {
        Each => "each", "one in each hand";
        One => "one", "one side at a time";
        Shared => "shared", "one in both hands";
    }
);

vocabulary!(
    /// What a movement may rest on or needs in the room besides its load.
    SupportKind {
        Floor => "floor", "floor";
        Bench => "bench", "bench";
        Chair => "chair", "sturdy chair";
        Box => "box", "box";
        Sofa => "sofa", "sofa";
        Standing => "standing", "standing room";
        Kneeling => "kneeling", "room to kneel";
        Parallettes => "parallettes", "push-up handles";
        FlatDumbbells => "flat_dumbbells", "dumbbells with flat heads";
        Wedge => "wedge", "wedge under a bench";
        Table => "table", "sturdy table";
        LowTable => "low_table", "low sturdy table";
        AnotherEdge => "another_edge", "second edge to rest on";
        Helper => "helper", "helper";
        Towel => "towel", "towel";
        Wheel => "wheel", "roll-out wheel";
        Bar => "bar", "bar to hang from";
        DoorAnchor => "door_anchor", "anchor to hold on to";
        Rack => "rack", "rack that catches the bar";
    }
);

vocabulary!(
    /// What a set of the movement is made of.
    Style {
        Reps => "reps", "repetitions";
        LoweringOnly => "lowering_only", "slow lowering only";
        Hold => "hold", "a hold, in seconds";
    }
);

/// One way to meet a need.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Support {
    /// What supports.
    pub kit: SupportKind,
    /// For a bench: the angles that will do, degrees.
    #[serde(default)]
    pub deg: Option<[f64; 2]>,
}

vocabulary!(
    /// Whether a limit rules a movement out or makes it less suitable.
    LimitEffect {
        Exclude => "exclude", "ruled out";
        Ease => "ease", "go easy";
    }
);

/// How a client's limit bears on a movement.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct LimitRule {
    /// The joint.
    pub joint: Joint,
    /// The kind of limit.
    pub what: LimitKind,
    /// What it does.
    pub effect: LimitEffect,
}

/// A class rule that does not hold for a movement.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DroppedRule {
    /// The joint.
    pub joint: Joint,
    /// The kind of limit.
    pub what: LimitKind,
}

/// How a movement carries strength over to others of its pattern.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CarryOver {
    /// Identifier of the strength pattern.
    pub pattern: String,
    /// Load for the same repetitions over the anchor's.
    pub ratio: f64,
    /// Log-SD of the ratio; 0 for the anchor.
    pub log_sd: f64,
    /// Turns an effective load into the pattern's unit: 0.5 where a total load is compared with a load per hand.
    #[serde(default = "unity")]
    pub basis: f64,
}

const fn reps_style() -> Style {
    Style::Reps
}

const fn usual_change() -> u16 {
    10
}

const fn unity() -> f64 {
    1.0
}

/// What the trainer says.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Cues {
    /// Getting into place.
    pub set_up: String,
    /// Doing it.
    #[serde(rename = "do")]
    pub action: String,
    /// Where it should be felt.
    pub feel: String,
    /// What to avoid.
    pub avoid: String,
    /// When to breathe.
    #[serde(default = "usual_breathing")]
    pub breathing: String,
    /// How far to go, and how fast.
    #[serde(default = "usual_range")]
    pub range: String,
}

fn usual_breathing() -> String {
    "Breathe out on the effort, in on the way back; do not hold the breath.".into()
}

fn usual_range() -> String {
    "The whole range that stays controlled, slower on the way back.".into()
}

/// Confidence below which a claim counts as doubted.
const DOUBTED: f64 = 0.85;

/// One movement of the catalogue.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Movement {
    /// Identifier: lower case with underscores.
    pub id: String,
    /// Descriptive name.
    pub name: String,
    /// Other names it is searched by.
    #[serde(default)]
    pub synonyms: Vec<String>,
    /// Movement pattern.
    pub pattern: Pattern,
    /// Where the upper arm is.
    pub arm_position: ArmPosition,
    /// How the palm is turned, where it matters.
    #[serde(default)]
    pub grip: Option<Grip>,
    /// What may carry the load.
    pub implements: Vec<Implement>,
    /// How the hands share it.
    pub hands: Hands,
    /// The heaviest weight that can be held this way, kg, where that ends before strength does: between the palms.
    #[serde(default)]
    pub heaviest_kg: Option<f64>,
    /// Regions it trains directly, with weights 0 to 1.
    pub direct: BTreeMap<Region, f64>,
    /// Regions that assist, with weights 0 to 1.
    #[serde(default)]
    pub assisting: BTreeMap<Region, f64>,
    /// How far practitioners agree on the regions, 0 to 1.
    pub confidence: f64,
    /// Both views, where they do not.
    #[serde(default)]
    pub disputed: Option<String>,
    /// Both views where trainers differ about how it is done, not about what it trains.
    #[serde(default)]
    pub views: Option<String>,
    /// What a common name gets wrong about its geometry.
    #[serde(default)]
    pub name_note: Option<String>,
    /// Posture of trunk and legs, and from where it is looked at.
    #[serde(default)]
    pub pose: Pose,
    /// How it is loaded.
    pub rig: RigModel,
    /// What its sets are made of.
    #[serde(default = "reps_style")]
    pub style: Style,
    /// All that must be met, each by one of several supports.
    #[serde(default)]
    pub needs: Vec<Vec<Support>>,
    /// How strength carries over.
    pub carry_over: CarryOver,
    /// Least experience.
    pub experience: Experience,
    /// How steady it is, 0 to 1: bench 1, rings lower.
    pub stability: f64,
    /// Time to set it up, s.
    pub set_up_s: u16,
    /// Time to change its load between sets, s.
    #[serde(default = "usual_change")]
    pub change_s: u16,
    /// The plainer movement of which it is a variant.
    #[serde(default)]
    pub variant_of: Option<String>,
    /// Movements that lead it where both are possible and nothing is said about length: the supported before the
    /// unsupported, the plain before the special.
    #[serde(default)]
    pub yields_to: Vec<String>,
    /// How limits bear on it where it differs from its class; see [`Movement::rule`].
    #[serde(default)]
    pub limits: Vec<LimitRule>,
    /// Rules of its class that do not hold for it.
    #[serde(default)]
    pub drop: Vec<DroppedRule>,
    /// Codes of cautions.
    #[serde(default)]
    pub cautions: Vec<String>,
    /// An easier neighbour.
    #[serde(default)]
    pub easier: Option<String>,
    /// A harder neighbour.
    #[serde(default)]
    pub harder: Option<String>,
    /// Cues.
    pub cues: Cues,
}

impl Hands {
    /// What a load is of where it is not said: of one weight in both hands all of it, of anything else that of each hand.
    pub const fn stated_per(self) -> PerHand {
        match self {
            Self::Shared => PerHand::Total,
            _ => PerHand::Hand,
        }
    }
}

impl Movement {
    /// Weight with which a region is trained: direct in full, assisting at half.
    pub fn region_weight(&self, region: Region) -> f64 {
        let assisting = 0.5 * self.assisting.get(&region).copied().unwrap_or(0.0);
        self.direct.get(&region).copied().unwrap_or(0.0).max(assisting)
    }

    /// Whether this implement may load it.
    pub fn uses(&self, implement: Implement) -> bool {
        self.implements.contains(&implement)
    }

    /// Whether a weight in the hands carries it: a dumbbell, a barbell, or a backpack held like one.
    pub fn is_weighed(&self) -> bool {
        self.uses(Implement::Dumbbell) || self.uses(Implement::Barbell) || self.holds_pack()
    }

    /// Whether a backpack is held in the hands, rather than worn.
    pub fn holds_pack(&self) -> bool {
        self.uses(Implement::Backpack) && !self.rig.is_lever()
    }

    /// Whether it trains a region directly: with at least half of its work.
    pub fn trains_directly(&self, region: Region) -> bool {
        self.direct.get(&region).is_some_and(|weight| *weight >= 0.5)
    }

    /// The region that it trains most; the first of equals. None where it trains none directly.
    pub fn main_region(&self) -> Option<Region> {
        let most = self.direct.values().copied().fold(0.0, f64::max);
        self.direct.iter().find(|(_, w)| **w >= most).map(|(region, _)| *region)
    }

    /// Whether it trains one side at a time.
    pub const fn unilateral(&self) -> bool {
        matches!(self.hands, Hands::One)
    }

    /// What can be held in it, kg: a bar in both hands, or one dumbbell.
    pub fn load_range(&self) -> LegalRange {
        if self.uses(Implement::Barbell) { ranges::BARBELL } else { ranges::DUMBBELL }
    }

    /// A load that is held in it, told of the hands: `12 kg each hand`, `40 kg in all`, of one side at a time `12 kg`.
    pub fn told(&self, load: &StampedLoad) -> String {
        format!("{}{}", load.short(), self.of_hands())
    }

    /// What is said after a load that is held; nothing of one side at a time, nor of what the body takes along.
    pub const fn of_hands(&self) -> &'static str {
        match self.hands {
            _ if self.rig.is_lever() => "",
            Hands::Each => " each hand",
            Hands::One => "",
            Hands::Shared => " in all",
        }
    }

    /// Hands that hold what its load tells: 2 where that is told in all, otherwise 1; 1 of what the body takes along.
    pub const fn hands_on_a_load(&self) -> f64 {
        match self.hands {
            Hands::Shared if !self.rig.is_lever() => 2.0,
            _ => 1.0,
        }
    }

    /// A dose of it in words; of one side at a time it says so.
    pub fn dose_text(&self, dose: &Prescription) -> String {
        if self.unilateral() { dose.text_a_side() } else { dose.text() }
    }

    /// Whether its claim is doubted: practitioners disagree, or are not sure enough.
    pub fn is_doubted(&self) -> bool {
        self.disputed.is_some() || self.confidence < DOUBTED
    }

    /// What can be adjusted in its set-up, with the range that makes sense: name, least and most, unit.
    pub fn adjustments(&self) -> Vec<Adjustment> {
        let mut found = self.rig.adjustments();
        for support in self.needs.iter().flatten() {
            if let Some([least, most]) = support.deg.filter(|d| d[1] - d[0] > 2.0) {
                let unit = AdjustmentUnit::Degrees;
                found.push(Adjustment { field: "bench_angle", name: "bench angle", least, most, unit });
            }
        }
        found.dedup();
        found
    }

    /// Log prior ratio to the anchor of its strength pattern, and its SD.
    pub fn log_ratio(&self) -> (f64, f64) {
        (self.carry_over.ratio.ln(), self.carry_over.log_sd)
    }
}

/// Share of the first region below which another is not a pattern's: assumed, so that a press is not asked for by its arms.
const USUAL_SHARE: f64 = 0.5;

/// All movements with the knowledge that goes with them. Built and checked by the loader; read only afterwards.
#[derive(Debug, Clone, Default)]
pub struct Catalogue {
    /// Movements in the order of the files.
    pub movements: Vec<Arc<Movement>>,
    /// Caution texts by code.
    pub cautions: BTreeMap<String, String>,
    /// First guesses by strength pattern.
    pub priors: BTreeMap<String, PatternPrior>,
    /// Movements of a gym, by identifier: only to be measured against.
    pub gym: BTreeMap<String, GymMovement>,
    index: BTreeMap<String, usize>,
    retired: BTreeMap<String, Arc<Movement>>,
}

impl Catalogue {
    /// Indexes movements, cautions and priors.
    pub fn new(
        movements: Vec<Movement>,
        cautions: BTreeMap<String, String>,
        priors: BTreeMap<String, PatternPrior>,
    ) -> Self {
        let mut catalogue = Self { cautions, priors, ..Self::default() };
        for movement in movements {
            catalogue.add(movement);
        }
        catalogue
    }

    /// Adds a movement; one with the same identifier is replaced.
    pub fn add(&mut self, movement: Movement) {
        if let Some(i) = self.index.get(&movement.id) {
            self.movements[*i] = Arc::new(movement);
        } else {
            self.index.insert(movement.id.clone(), self.movements.len());
            self.movements.push(Arc::new(movement));
        }
    }

    /// Adds a movement of a gym.
    pub fn add_gym(&mut self, movement: GymMovement) {
        self.gym.insert(movement.id.clone(), movement);
    }

    /// The movement of a gym with this identifier.
    pub fn gym_movement(&self, id: &str) -> Option<&GymMovement> {
        self.gym.get(id)
    }

    /// Adds a movement that is no longer offered, for logs that refer to it.
    pub fn add_retired(&mut self, movement: Movement) {
        self.retired.insert(movement.id.clone(), Arc::new(movement));
    }

    /// The pattern to which most movements belong that train a region before any other; none where nothing does.
    pub fn usual_pattern(&self, region: Region) -> Option<Pattern> {
        let first = |m: &Movement| {
            let most = m.direct.values().copied().fold(0.0, f64::max);
            m.direct.get(&region).is_some_and(|weight| *weight >= most)
        };
        let mut patterns: BTreeMap<Pattern, usize> = BTreeMap::new();
        for movement in self.movements.iter().filter(|m| first(m)) {
            *patterns.entry(movement.pattern).or_default() += 1;
        }
        patterns.into_iter().max_by_key(|(_, count)| *count).map(|(pattern, _)| pattern)
    }

    /// The regions that movements of a pattern usually train directly, with weights from the mean of them: the first one counts 1,
    /// and what counts less than half of that is left out.
    pub fn usual_regions(&self, pattern: Pattern) -> BTreeMap<Region, f64> {
        let mut sums: BTreeMap<Region, f64> = BTreeMap::new();
        for (region, weight) in self.movements.iter().filter(|m| m.pattern == pattern).flat_map(|m| &m.direct) {
            *sums.entry(*region).or_default() += weight;
        }
        let most = sums.values().copied().fold(0.0, f64::max);
        let share = |(region, sum): (Region, f64)| (region, (10.0 * sum / most).round() / 10.0);
        sums.into_iter().map(share).filter(|(_, share)| *share >= USUAL_SHARE).collect()
    }

    /// The movement with this identifier, offered or retired.
    pub fn movement(&self, id: &str) -> Option<&Movement> {
        let offered = self.index.get(id).map(|i| self.movements[*i].as_ref());
        offered.or_else(|| self.retired.get(id).map(Arc::as_ref))
    }
}
