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

/// One fact of handling.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Handling {
    /// What it is about.
    pub kind: HandlingKind,
    /// A sentence or two.
    pub text: String,
}

/// Everything about handling a movement on a step: four facts where weights are held lying, three where a band hangs on
/// an anchor, how it is held underfoot or round the back otherwise. Empty where there is nothing to handle.
pub fn handling(movement: &Movement, step: &LadderStep) -> Vec<Handling> {
    let mut facts = Vec::new();
    let mut say = |kind, text: String| facts.push(Handling { kind, text });
    let held = step.load.is_some() && !movement.rig.is_lever();
    if let (true, Some(lying)) = (held, Lying::of(movement, step)) {
        say(HandlingKind::WayIn, lying.way_in(movement).into());
        say(HandlingKind::WayOut, lying.way_out(movement).into());
        say(HandlingKind::ChangingHands, changing_hands(movement).into());
        say(HandlingKind::FailedRep, lying.failed_rep(movement).into());
    }
    if step.bands.is_empty() || movement.rig.is_lever() {
        return facts;
    }
    match movement.rig.mount() {
        Some(Mount::Anchor { facing, .. }) => {
            say(HandlingKind::BandFixed, fixed(step));
            say(HandlingKind::Feet, feet(movement, facing).into());
            say(HandlingKind::BandRuns, runs(movement, facing).into());
        }
        Some(Mount::StoodOn) => {
            say(HandlingKind::BandFixed, underfoot(movement, step));
        }
        Some(Mount::UnderBack) => say(
            HandlingKind::BandFixed,
            "Round the back below the armpits, one end in each palm, flat over the heel of the hand; never across the neck.".into(),
        ),
        Some(Mount::BetweenHands) => say(
            HandlingKind::BandFixed,
            "Wound once round each palm, wrists straight, before it is pulled.".into(),
        ),
        None => {}
    }
    facts
}

/// How one lies with a weight.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Lying {
    Floor,
    Bench,
    Backrest,
    Edge,
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

    fn way_in(self, movement: &Movement) -> &'static str {
        let one = movement.hands != Hands::Each;
        let raised = movement.pose.stance == Stance::HipsRaised;
        match self {
            Self::Floor if one => {
                "Lie on the side beside the weight, take it to the chest with both hands, then roll onto the back."
            }
            Self::Floor if raised => {
                "Sit with the weights on the hips, roll back with them held close, elbows to the floor first; then raise the hips."
            }
            Self::Floor => {
                "Sit with the weights on the hips, roll back with them held close until the elbows are on the floor, then press them up."
            }
            Self::Bench if one => {
                "Sit at the end of the bench with the weight on the thighs, hold it to the chest with both hands and lie back."
            }
            Self::Bench if raised => {
                "Fix the feet first. Sit with the weights upright on the thighs, hold them to the chest and lie back slowly."
            }
            Self::Bench => {
                "Sit at the end of the bench, weights upright on the thighs; lie back in one move and let the knees bring them to the chest."
            }
            Self::Backrest => {
                "Sit down with the weights upright on the thighs, lean back, and bring them up with one knee after the other."
            }
            Self::Edge => {
                "Weights beside the edge. Sit on the floor, take them to the chest, lay the shoulder blades on the edge, feet flat, and only then raise the hips to where they stay."
            }
            Self::Side => "Lie down first, the weight in front of the belly; take it from there with the upper hand.",
        }
    }

    fn way_out(self, movement: &Movement) -> &'static str {
        let one = movement.hands != Hands::Each;
        match self {
            Self::Floor if one => "Bring it to the chest, both hands on it, roll to the side and set it down.",
            Self::Floor => {
                "Elbows to the floor, then set the weights down beside the hips; or knees to the weights and rock up to sitting."
            }
            Self::Bench | Self::Backrest if one => "Bring it to the chest with both hands, sit up with it held close.",
            Self::Bench | Self::Backrest => {
                "Bring them to the chest, turn them upright on the raised thighs and rock up to sitting. Never drop them sideways with straight arms."
            }
            Self::Edge => "Weights to the chest, hips to the floor first, then set them down beside you.",
            Self::Side => "Lower it to the floor in front of the belly, then sit up without it.",
        }
    }

    fn failed_rep(self, movement: &Movement) -> &'static str {
        let floor = self == Self::Floor;
        match movement.rig {
            RigModel::SingleJoint { action: JointAction::Fly, .. } => {
                "Bend the elbows: it becomes a press. Bring the weights to the chest and get up as described."
            }
            RigModel::SingleJoint { action: JointAction::Extension, .. } => {
                "Bring the elbows forward to the ribs and the weight down to the chest; never let it sink towards the face."
            }
            RigModel::SingleJoint { action: JointAction::Pullover, .. } if floor => {
                "Let it sink to the floor behind the head, elbows bent, and let go there."
            }
            RigModel::SingleJoint { action: JointAction::Pullover, .. } => {
                "Bend the elbows and pull it to the chest; if that fails, lower it to the floor behind the head and let go there."
            }
            RigModel::SingleJoint { action: JointAction::Raise | JointAction::Rotation, .. } => {
                "Let the arm sink the way it came and set the weight down."
            }
            RigModel::SingleJoint { .. } => "Let the arms hang, then set the weights down one after the other.",
            RigModel::Line { girdle: true, .. } => "Bend the elbows and bring the weights to the chest.",
            RigModel::Line { .. } if floor => {
                "Let the elbows come to the floor: they carry the weight. Then tip it outwards, away from the head."
            }
            _ => {
                "Stop a repetition early. If one sticks, lower to the chest with the elbows in, then to the belly, and sit up; never towards the face."
            }
        }
    }
}

const fn changing_hands(movement: &Movement) -> &'static str {
    match movement.hands {
        Hands::One => "At the belly or on the floor, both hands on the weight for a moment; never over the face.",
        Hands::Each => "Nothing is passed from hand to hand: both come down to the chest first; never over the face.",
        Hands::Shared => "Both hands stay on it; a new grip is taken at the chest, never over the face.",
    }
}

fn fixed(step: &LadderStep) -> String {
    let height = step.setup.anchor_height_m.unwrap_or(Metres(0.0));
    let how = match step.setup.band_fix {
        Some(BandFix::Choked) => "Passed round the anchor and through itself, pulled tight",
        Some(BandFix::Doubled) => "Folded once more and hung over the anchor, both bights even",
        Some(BandFix::Shared) => "One loop hung over the anchor, a side to each hand",
        _ => "Hung over the anchor or through its eye so that neither side can slip",
    };
    format!("{how}, at {height}. Pull it slowly once, from where nothing can hit you, before the first set.")
}

fn underfoot(movement: &Movement, step: &LadderStep) -> String {
    if movement.pose.stance == Stance::HalfKneeling {
        return "Under the sole of the front foot, shoe on; check that it cannot slip forward off the toes.".into();
    }
    let stance = step.setup.stance_m.unwrap_or(Metres(0.2));
    format!(
        "Under the middle of both soles, shoes on, {stance} between the outer edges; check that it cannot slip forward off the toes."
    )
}

const fn feet(movement: &Movement, facing: bool) -> &'static str {
    match (movement.pose.stance, movement.pose.view, movement.hands) {
        (Stance::Supine, ..) => "Head towards the anchor, knees bent, both feet flat on the floor.",
        (Stance::Kneeling, ..) => "Both knees down on something soft, toes tucked, hips over the knees.",
        (Stance::HalfKneeling, ..) => "The knee of the working side down, the other foot ahead.",
        (Stance::SeatedFloor, ..) => "Sitting, legs ahead, heels dug in against the pull.",
        (Stance::Split, _, Hands::One) => {
            "The foot of the working side back, the other a long step ahead; weight over the front foot."
        }
        (Stance::Split, ..) => "One foot a long step ahead, the other back on its ball; change after each set.",
        _ if matches!(
            movement.rig,
            RigModel::SingleJoint { action: JointAction::Rotation | JointAction::Twist, .. }
        ) =>
        {
            "Side on to the anchor, feet hip wide, knees soft; the hips stay square."
        }
        (_, View::Front, _) => "Side on to the anchor, feet hip wide, weight on the foot away from it.",
        (_, _, Hands::One) if facing => "Facing the anchor, the foot of the working side back, knees soft.",
        (..) if facing => "Facing the anchor, feet hip wide or one a step back, knees soft, weight on the heels.",
        _ => "Back to the anchor, one foot a step ahead, weight over it.",
    }
}

const fn runs(movement: &Movement, facing: bool) -> &'static str {
    match (movement.rig, facing) {
        (RigModel::SingleJoint { action: JointAction::Extension, .. }, false) => {
            "Behind the head, over the shoulder and along the back of the hand; not against the ear or neck."
        }
        (RigModel::SingleJoint { action: JointAction::Extension, .. }, true) => {
            "Down in front of the body to the palm, on the thumb side; the forearm stays in its line."
        }
        (RigModel::SingleJoint { action: JointAction::Curl, .. }, true) => {
            "Straight from the anchor to the palm; the wrist stays straight."
        }
        (RigModel::SingleJoint { action: JointAction::Curl, .. }, false) => "From behind past the hip to the palm.",
        (RigModel::SingleJoint { action: JointAction::Fly, .. }, _) => {
            "Along the back of the hand and outside the arm; the wrist stays straight."
        }
        (RigModel::SingleJoint { action: JointAction::RearFly, .. }, _) => {
            "From the anchor ahead to the thumb side of the hand, below the chin."
        }
        (RigModel::SingleJoint { action: JointAction::Pullover, .. }, true) => {
            "From above in front to the palms, outside the thighs at the end."
        }
        (RigModel::SingleJoint { action: JointAction::Pullover, .. }, false) => {
            "From behind the head to the palms, beside the face, never over it."
        }
        (RigModel::SingleJoint { action: JointAction::Raise, .. }, true) => {
            "From low ahead to the palm, outside the knee; the wrist stays straight."
        }
        (RigModel::SingleJoint { action: JointAction::Raise, .. }, false) => {
            "In front of the shins to the palm side of the hand; it does not rub along the legs."
        }
        (RigModel::SingleJoint { action: JointAction::Rotation | JointAction::Twist, .. }, _) => {
            "Level in front of the belly to the hand."
        }
        (_, true) => "Straight from the anchor to the palm, in line with the forearm.",
        (_, false) => "Outside the arm, along the forearm to the palm; never across the neck or face.",
    }
}
