//! How weights and bands are handled.

use std::fmt::{self, Display, Formatter};

use crate::handling::{Footing, Handling, Lying, Path, Rescue};
use crate::movement::Hands;
use crate::rigging::BandFix;
use crate::units::Metres;

impl Display for Handling {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(match *self {
            Self::WayIn { lying, one, raised } => way_in(lying, one, raised),
            Self::WayOut { lying, one } => way_out(lying, one),
            Self::ChangingHands(hands) => changing_hands(hands),
            Self::FailedRep(rescue) => failed_rep(rescue),
            Self::OnAnchor { fix, height } => return on_anchor(f, fix, height),
            Self::UnderSoles(stance) => {
                return write!(
                    f,
                    "Under the middle of both soles, shoes on, {stance} between the outer edges; check that it cannot slip forward off the toes."
                );
            }
            Self::UnderFrontFoot => {
                "Under the sole of the front foot, shoe on; check that it cannot slip forward off the toes."
            }
            Self::RoundBack => {
                "Round the back below the armpits, one end in each palm, flat over the heel of the hand; never across the neck."
            }
            Self::RoundPalms => "Wound once round each palm, wrists straight, before it is pulled.",
            Self::Feet(footing) => feet(footing),
            Self::Runs(path) => runs(path),
        })
    }
}

fn on_anchor(f: &mut Formatter<'_>, fix: Option<BandFix>, height: Metres) -> fmt::Result {
    let how = match fix {
        Some(BandFix::Choked) => "Passed round the anchor and through itself, pulled tight",
        Some(BandFix::Doubled) => "Folded once more and hung over the anchor, both bights even",
        Some(BandFix::Shared) => "One loop hung over the anchor, a side to each hand",
        _ => "Hung over the anchor or through its eye so that neither side can slip",
    };
    write!(f, "{how}, at {height}. Pull it slowly once, from where nothing can hit you, before the first set.")
}

const fn way_in(lying: Lying, one: bool, raised: bool) -> &'static str {
    match lying {
        Lying::Floor if one => {
            "Lie on the side beside the weight, take it to the chest with both hands, then roll onto the back."
        }
        Lying::Floor if raised => {
            "Sit with the weights on the hips, roll back with them held close, elbows to the floor first; then raise the hips."
        }
        Lying::Floor => {
            "Sit with the weights on the hips, roll back with them held close until the elbows are on the floor, then press them up."
        }
        Lying::Bench if one => {
            "Sit at the end of the bench with the weight on the thighs, hold it to the chest with both hands and lie back."
        }
        Lying::Bench if raised => {
            "Fix the feet first. Sit with the weights upright on the thighs, hold them to the chest and lie back slowly."
        }
        Lying::Bench => {
            "Sit at the end of the bench, weights upright on the thighs; lie back in one move and let the knees bring them to the chest."
        }
        Lying::Backrest => {
            "Sit down with the weights upright on the thighs, lean back, and bring them up with one knee after the other."
        }
        Lying::Edge => {
            "Weights beside the edge. Sit on the floor, take them to the chest, lay the shoulder blades on the edge, feet flat, and only then raise the hips to where they stay."
        }
        Lying::Side => "Lie down first, the weight in front of the belly; take it from there with the upper hand.",
    }
}

const fn way_out(lying: Lying, one: bool) -> &'static str {
    match lying {
        Lying::Floor if one => "Bring it to the chest, both hands on it, roll to the side and set it down.",
        Lying::Floor => {
            "Elbows to the floor, then set the weights down beside the hips; or knees to the weights and rock up to sitting."
        }
        Lying::Bench | Lying::Backrest if one => "Bring it to the chest with both hands, sit up with it held close.",
        Lying::Bench | Lying::Backrest => {
            "Bring them to the chest, turn them upright on the raised thighs and rock up to sitting. Never drop them sideways with straight arms."
        }
        Lying::Edge => "Weights to the chest, hips to the floor first, then set them down beside you.",
        Lying::Side => "Lower it to the floor in front of the belly, then sit up without it.",
    }
}

const fn changing_hands(hands: Hands) -> &'static str {
    match hands {
        Hands::One => "At the belly or on the floor, both hands on the weight for a moment; never over the face.",
        Hands::Each => "Nothing is passed from hand to hand: both come down to the chest first; never over the face.",
        Hands::Shared => "Both hands stay on it; a new grip is taken at the chest, never over the face.",
    }
}

const fn failed_rep(rescue: Rescue) -> &'static str {
    match rescue {
        Rescue::BecomesPress => {
            "Bend the elbows: it becomes a press. Bring the weights to the chest and get up as described."
        }
        Rescue::ElbowsForward => {
            "Bring the elbows forward to the ribs and the weight down to the chest; never let it sink towards the face."
        }
        Rescue::BehindHead => "Let it sink to the floor behind the head, elbows bent, and let go there.",
        Rescue::PulledToChest => {
            "Bend the elbows and pull it to the chest; if that fails, lower it to the floor behind the head and let go there."
        }
        Rescue::ArmSinks => "Let the arm sink the way it came and set the weight down.",
        Rescue::ArmsHang => "Let the arms hang, then set the weights down one after the other.",
        Rescue::ElbowsBend => "Bend the elbows and bring the weights to the chest.",
        Rescue::ElbowsToFloor => {
            "Let the elbows come to the floor: they carry the weight. Then tip it outwards, away from the head."
        }
        Rescue::StopEarly => {
            "Stop a repetition early. If one sticks, lower to the chest with the elbows in, then to the belly, and sit up; never towards the face."
        }
    }
}

const fn feet(footing: Footing) -> &'static str {
    match footing {
        Footing::HeadTowards => "Head towards the anchor, knees bent, both feet flat on the floor.",
        Footing::Kneeling => "Both knees down on something soft, toes tucked, hips over the knees.",
        Footing::HalfKneeling => "The knee of the working side down, the other foot ahead.",
        Footing::Seated => "Sitting, legs ahead, heels dug in against the pull.",
        Footing::SplitOneSided => {
            "The foot of the working side back, the other a long step ahead; weight over the front foot."
        }
        Footing::Split => "One foot a long step ahead, the other back on its ball; change after each set.",
        Footing::SideOnSquare => "Side on to the anchor, feet hip wide, knees soft; the hips stay square.",
        Footing::SideOn => "Side on to the anchor, feet hip wide, weight on the foot away from it.",
        Footing::FacingOneSided => "Facing the anchor, the foot of the working side back, knees soft.",
        Footing::Facing => "Facing the anchor, feet hip wide or one a step back, knees soft, weight on the heels.",
        Footing::BackTo => "Back to the anchor, one foot a step ahead, weight over it.",
    }
}

const fn runs(path: Path) -> &'static str {
    match path {
        Path::OverShoulder => {
            "Behind the head, over the shoulder and along the back of the hand; not against the ear or neck."
        }
        Path::DownInFront => "Down in front of the body to the palm, on the thumb side; the forearm stays in its line.",
        Path::ToPalm => "Straight from the anchor to the palm; the wrist stays straight.",
        Path::PastHip => "From behind past the hip to the palm.",
        Path::BackOfHand => "Along the back of the hand and outside the arm; the wrist stays straight.",
        Path::BelowChin => "From the anchor ahead to the thumb side of the hand, below the chin.",
        Path::FromAbove => "From above in front to the palms, outside the thighs at the end.",
        Path::BesideFace => "From behind the head to the palms, beside the face, never over it.",
        Path::OutsideKnee => "From low ahead to the palm, outside the knee; the wrist stays straight.",
        Path::BeforeShins => "In front of the shins to the palm side of the hand; it does not rub along the legs.",
        Path::Level => "Level in front of the belly to the hand.",
        Path::InLine => "Straight from the anchor to the palm, in line with the forearm.",
        Path::OutsideArm => "Outside the arm, along the forearm to the palm; never across the neck or face.",
    }
}
