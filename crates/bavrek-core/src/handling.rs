//! Handling: how one gets into a lying movement with weights and out again, and how a band is fixed, stood at and held.
//! It follows from how a movement lies, moves and is loaded, so that no entry of the catalogue can forget it. Coaching
//! practice throughout.

use crate::anatomy::{Surface, vocabulary};
use crate::ladder::LadderStep;
use crate::mechanics::single_joint::JointAction;
use crate::movement::{Hands, Mount, Movement, RigModel, Stance, View};
use crate::rigging::BandFix;
use crate::units::Metres;

vocabulary!(
    /// What a fact is about.
    HandlingKind {
        WayIn => "way_in", "Way in";
        WayOut => "way_out", "Way out";
        ChangingHands => "changing_hands", "Changing hands";
        FailedRep => "failed_rep", "If a rep fails";
        BandFixed => "band_fixed", "Band fixed";
        Feet => "feet", "Feet";
        BandRuns => "band_runs", "Band runs";
    }
);

/// One fact of handling. Its sentence is made where it is shown.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Handling {
    /// How one gets into a lying movement.
    WayIn {
        /// How one lies.
        lying: Lying,
        /// Whether both hands share one weight, or one hand has it.
        one: bool,
        /// Whether the hips are raised.
        raised: bool,
    },
    /// How one gets out of it.
    WayOut {
        /// How one lies.
        lying: Lying,
        /// Whether there is one weight.
        one: bool,
    },
    /// How a weight changes hands.
    ChangingHands(Hands),
    /// What is done where a repetition fails.
    FailedRep(Rescue),
    /// How a band hangs on an anchor.
    OnAnchor {
        /// How it is fixed; hung where that is not told.
        fix: Option<BandFix>,
        /// At what height.
        height: Metres,
    },
    /// A band under both soles, so far apart.
    UnderSoles(Metres),
    /// A band under the front foot.
    UnderFrontFoot,
    /// A band round the back.
    RoundBack,
    /// A band wound round each palm.
    RoundPalms,
    /// How one stands, kneels or lies to an anchor.
    Feet(Footing),
    /// How a band runs from an anchor to the hand.
    Runs(Path),
}

impl Handling {
    /// What it is about.
    pub const fn kind(&self) -> HandlingKind {
        match self {
            Self::WayIn { .. } => HandlingKind::WayIn,
            Self::WayOut { .. } => HandlingKind::WayOut,
            Self::ChangingHands(_) => HandlingKind::ChangingHands,
            Self::FailedRep(_) => HandlingKind::FailedRep,
            Self::OnAnchor { .. } | Self::UnderSoles(_) | Self::UnderFrontFoot | Self::RoundBack | Self::RoundPalms => {
                HandlingKind::BandFixed
            }
            Self::Feet(_) => HandlingKind::Feet,
            Self::Runs(_) => HandlingKind::BandRuns,
        }
    }
}

/// Everything about handling a movement on a step: four facts where weights are held lying, three where a band hangs on
/// an anchor, how it is held underfoot or round the back otherwise. Empty where there is nothing to handle.
pub fn handling(movement: &Movement, step: &LadderStep) -> Vec<Handling> {
    let mut facts = Vec::new();
    let held = step.load.is_some() && !movement.rig.is_lever();
    if let (true, Some(lying)) = (held, Lying::of(movement, step)) {
        let one = movement.hands != Hands::Each;
        facts.push(Handling::WayIn { lying, one, raised: movement.pose.stance == Stance::HipsRaised });
        facts.push(Handling::WayOut { lying, one });
        facts.push(Handling::ChangingHands(movement.hands));
        facts.push(Handling::FailedRep(Rescue::of(movement, lying)));
    }
    if step.bands.is_empty() || movement.rig.is_lever() {
        return facts;
    }
    match movement.rig.mount() {
        Some(Mount::Anchor { facing, .. }) => {
            let height = step.setup.anchor_height_m.unwrap_or(Metres(0.0));
            facts.push(Handling::OnAnchor { fix: step.setup.band_fix, height });
            facts.push(Handling::Feet(Footing::of(movement, facing)));
            facts.push(Handling::Runs(Path::of(movement, facing)));
        }
        Some(Mount::StoodOn) if movement.pose.stance == Stance::HalfKneeling => facts.push(Handling::UnderFrontFoot),
        Some(Mount::StoodOn) => facts.push(Handling::UnderSoles(step.setup.stance_m.unwrap_or(Metres(0.2)))),
        Some(Mount::UnderBack) => facts.push(Handling::RoundBack),
        Some(Mount::BetweenHands) => facts.push(Handling::RoundPalms),
        None => {}
    }
    facts
}

/// How one lies with a weight.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Lying {
    /// On the floor.
    Floor,
    /// Along a bench.
    Bench,
    /// Against a raised backrest.
    Backrest,
    /// With the shoulder blades on an edge.
    Edge,
    /// On the side.
    Side,
}

impl Lying {
    fn of(movement: &Movement, step: &LadderStep) -> Option<Self> {
        let floor = matches!(step.setup.surface, None | Some(Surface::Floor));
        match movement.pose.stance {
            Stance::Supine | Stance::HipsRaised if floor => Some(Self::Floor),
            // Across a chair or sofa only the shoulder blades lie on it.
            Stance::Supine if step.setup.surface != Some(Surface::Bench) => Some(Self::Edge),
            Stance::Supine | Stance::HipsRaised => Some(Self::Bench),
            Stance::LyingBack => Some(Self::Backrest),
            Stance::ShouldersOnEdge => Some(Self::Edge),
            Stance::SideLying => Some(Self::Side),
            _ => None,
        }
    }
}

/// What is done with the weight where a repetition fails.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Rescue {
    /// A fly becomes a press.
    BecomesPress,
    /// The elbows come forward, the weight to the chest.
    ElbowsForward,
    /// It sinks to the floor behind the head.
    BehindHead,
    /// It is pulled to the chest, or sinks to the floor behind the head.
    PulledToChest,
    /// The arm sinks the way it came.
    ArmSinks,
    /// The arms hang.
    ArmsHang,
    /// The elbows bend.
    ElbowsBend,
    /// The elbows come to the floor.
    ElbowsToFloor,
    /// A repetition less; else to the chest and the belly.
    StopEarly,
}

impl Rescue {
    const fn of(movement: &Movement, lying: Lying) -> Self {
        let floor = matches!(lying, Lying::Floor);
        match movement.rig {
            RigModel::SingleJoint { action: JointAction::Fly, .. } => Self::BecomesPress,
            RigModel::SingleJoint { action: JointAction::Extension, .. } => Self::ElbowsForward,
            RigModel::SingleJoint { action: JointAction::Pullover, .. } if floor => Self::BehindHead,
            RigModel::SingleJoint { action: JointAction::Pullover, .. } => Self::PulledToChest,
            RigModel::SingleJoint { action: JointAction::Raise | JointAction::Rotation, .. } => Self::ArmSinks,
            RigModel::SingleJoint { .. } => Self::ArmsHang,
            RigModel::Line { girdle: true, .. } => Self::ElbowsBend,
            RigModel::Line { .. } if floor => Self::ElbowsToFloor,
            _ => Self::StopEarly,
        }
    }
}

/// How one stands, kneels or lies to an anchor.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Footing {
    /// On the back, the head towards it.
    HeadTowards,
    /// On both knees.
    Kneeling,
    /// On the knee of the working side.
    HalfKneeling,
    /// Sitting on the floor.
    Seated,
    /// One foot ahead, that of the working side back.
    SplitOneSided,
    /// One foot ahead.
    Split,
    /// Side on, the hips square.
    SideOnSquare,
    /// Side on, on the foot away from it.
    SideOn,
    /// Facing it, the foot of the working side back.
    FacingOneSided,
    /// Facing it.
    Facing,
    /// The back to it.
    BackTo,
}

impl Footing {
    const fn of(movement: &Movement, facing: bool) -> Self {
        match (movement.pose.stance, movement.pose.view, movement.hands) {
            (Stance::Supine, ..) => Self::HeadTowards,
            (Stance::Kneeling, ..) => Self::Kneeling,
            (Stance::HalfKneeling, ..) => Self::HalfKneeling,
            (Stance::SeatedFloor, ..) => Self::Seated,
            (Stance::Split, _, Hands::One) => Self::SplitOneSided,
            (Stance::Split, ..) => Self::Split,
            _ if matches!(
                movement.rig,
                RigModel::SingleJoint { action: JointAction::Rotation | JointAction::Twist, .. }
            ) =>
            {
                Self::SideOnSquare
            }
            (_, View::Front, _) => Self::SideOn,
            (_, _, Hands::One) if facing => Self::FacingOneSided,
            (..) if facing => Self::Facing,
            _ => Self::BackTo,
        }
    }
}

/// How a band runs from an anchor to the hand.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Path {
    /// Behind the head, over the shoulder.
    OverShoulder,
    /// Down in front of the body.
    DownInFront,
    /// Straight to the palm, the wrist straight.
    ToPalm,
    /// From behind past the hip.
    PastHip,
    /// Along the back of the hand and outside the arm.
    BackOfHand,
    /// From ahead to the thumb side, below the chin.
    BelowChin,
    /// From above in front.
    FromAbove,
    /// From behind the head beside the face.
    BesideFace,
    /// From low ahead outside the knee.
    OutsideKnee,
    /// In front of the shins.
    BeforeShins,
    /// Level in front of the belly.
    Level,
    /// In line with the forearm.
    InLine,
    /// Outside the arm.
    OutsideArm,
}

impl Path {
    const fn of(movement: &Movement, facing: bool) -> Self {
        let RigModel::SingleJoint { action, .. } = movement.rig else {
            return if facing { Self::InLine } else { Self::OutsideArm };
        };
        match (action, facing) {
            (JointAction::Extension, false) => Self::OverShoulder,
            (JointAction::Extension, true) => Self::DownInFront,
            (JointAction::Curl, true) => Self::ToPalm,
            (JointAction::Curl, false) => Self::PastHip,
            (JointAction::Fly, _) => Self::BackOfHand,
            (JointAction::RearFly, _) => Self::BelowChin,
            (JointAction::Pullover, true) => Self::FromAbove,
            (JointAction::Pullover, false) => Self::BesideFace,
            (JointAction::Raise, true) => Self::OutsideKnee,
            (JointAction::Raise, false) => Self::BeforeShins,
            (JointAction::Rotation | JointAction::Twist, _) => Self::Level,
            (_, true) => Self::InLine,
            (_, false) => Self::OutsideArm,
        }
    }
}
