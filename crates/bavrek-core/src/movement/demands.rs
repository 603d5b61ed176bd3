//! What a movement asks of the joints, read off its pattern, its rig and its posture.
//!
//! These are rules of the trade that hold for a whole class of movements, so that no entry can forget one. What an entry
//! states itself stands before them, and what it must not take over it drops by name.

use super::{
    DipOn, Hands, LimitEffect, LimitRule, Movement, PikeFeet, PushUpHands, RaisedFeet, RigModel, Stance, Style,
    SupportKind,
};
use super::{ExtensionOn, TrunkWork};
use crate::anatomy::{ArmPosition, Grip, Implement, Joint, Pattern};
use crate::mechanics::single_joint::JointAction;
use crate::person::LimitKind;

use LimitEffect::{Ease, Exclude};
use LimitKind::{PainDeepStretch, PainGripping, PainLoaded, PainOverhead, PoorExtension, Stiff};

/// Forward lean from which a trunk without support counts as bent over, degrees. Assumed.
const BENT_OVER: f64 = 35.0;

/// The class rule for a joint and a kind of limit; none where the movement does not touch it.
pub(super) fn usual_rule(movement: &Movement, joint: Joint, what: LimitKind) -> Option<LimitEffect> {
    let asked = Asked(movement);
    match joint {
        Joint::Shoulder => asked.shoulder(what),
        Joint::Elbow => asked.elbow(what),
        Joint::Wrist => asked.wrist(what),
        Joint::Neck => asked.neck(what),
        Joint::LowBack => asked.low_back(what),
        Joint::Hip => asked.hip(what),
        Joint::Knee => asked.knee(what),
        Joint::Fingers => asked.fingers(what),
    }
}

/// Whether a joint carries any of the load, so that a severe limit of it is never passed over.
pub(super) fn loads(movement: &Movement, joint: Joint) -> bool {
    let asked = Asked(movement);
    match joint {
        Joint::Shoulder => asked.loads_shoulder(),
        Joint::Elbow => asked.loads_elbow(),
        Joint::Wrist => asked.loads_wrist(),
        Joint::Neck => asked.loads_neck(),
        Joint::LowBack => asked.loads_low_back(),
        Joint::Hip => asked.loads_hip(),
        Joint::Knee => asked.loads_knee(),
        Joint::Fingers => asked.holds_on(),
    }
}

/// A movement as the rules ask about it.
#[derive(Clone, Copy)]
struct Asked<'a>(&'a Movement);

/// The effect where the condition holds.
const fn when(holds: bool, effect: LimitEffect) -> Option<LimitEffect> {
    if holds { Some(effect) } else { None }
}

impl Asked<'_> {
    const fn pattern(self) -> Pattern {
        self.0.pattern
    }

    /// A press of the chest in which the elbow bends.
    const fn presses(self) -> bool {
        matches!(self.pattern(), Pattern::HorizontalPress | Pattern::InclinePress | Pattern::DeclinePress)
            && !self.girdle()
    }

    const fn flies(self) -> bool {
        matches!(self.pattern(), Pattern::Fly | Pattern::FlyLowToHigh | Pattern::FlyHighToLow)
    }

    const fn rows(self) -> bool {
        matches!(self.pattern(), Pattern::WideRow | Pattern::CloseRow)
    }

    /// Only the shoulder blade moves.
    const fn girdle(self) -> bool {
        match self.0.rig {
            RigModel::Line { girdle, .. }
            | RigModel::PushUp { girdle, .. }
            | RigModel::Dip { girdle, .. }
            | RigModel::ChinUp { girdle } => girdle,
            _ => false,
        }
    }

    const fn hangs(self) -> bool {
        matches!(self.0.rig, RigModel::ChinUp { .. })
    }

    fn overhead(self) -> bool {
        self.0.arm_position == ArmPosition::Overhead
            || matches!(self.pattern(), Pattern::OverheadPress | Pattern::VerticalPull)
            || self.hangs()
            || matches!(self.0.rig, RigModel::Pike { .. })
    }

    fn behind(self) -> bool {
        self.0.arm_position == ArmPosition::Behind
    }

    /// The floor stops the upper arms before the shoulder is stretched.
    fn floor_stops(self) -> bool {
        let floor = self.0.needs.iter().flatten().any(|s| s.kit == SupportKind::Floor);
        floor && matches!(self.0.pose.stance, Stance::Supine | Stance::HipsRaised)
    }

    /// Lies back on a bench or an edge.
    fn lies_on_bench(self) -> bool {
        let lies = matches!(
            self.0.pose.stance,
            Stance::Supine | Stance::LyingBack | Stance::HipsRaised | Stance::ShouldersOnEdge
        );
        lies && !self.floor_stops()
    }

    /// Flat hands on a floor or an edge, the wrist bent back.
    const fn flat_hands(self) -> bool {
        match self.0.rig {
            RigModel::PushUp { hands, .. } => {
                matches!(hands, PushUpHands::Floor | PushUpHands::Raised | PushUpHands::Boxes | PushUpHands::Wall)
            }
            RigModel::Pike { .. } => true,
            RigModel::Dip { on, .. } => matches!(on, DipOn::Edge | DipOn::EdgeFeetRaised | DipOn::Floor),
            RigModel::BodyExtension { on } => matches!(on, ExtensionOn::Surface | ExtensionOn::Floor),
            RigModel::Trunk { work } => matches!(work, TrunkWork::WalkOut),
            _ => false,
        }
    }

    /// The body rests on the hands, wherever they are.
    const fn carried_by_hands(self) -> bool {
        matches!(
            self.0.rig,
            RigModel::PushUp { .. } | RigModel::Pike { .. } | RigModel::Dip { .. } | RigModel::BodyExtension { .. }
        ) || matches!(
            self.0.rig,
            RigModel::Trunk {
                work: TrunkWork::WalkOut
                    | TrunkWork::WheelKnees
                    | TrunkWork::WheelToes
                    | TrunkWork::RingsKnees
                    | TrunkWork::RingsToes
            }
        )
    }

    fn holds_dumbbell(self) -> bool {
        (self.0.uses(Implement::Dumbbell) || self.0.uses(Implement::Barbell)) && !self.0.rig.is_lever()
    }

    fn stands(self) -> bool {
        matches!(self.0.pose.stance, Stance::Standing | Stance::Split) && !self.0.rig.is_lever()
    }

    /// Bent forward with nothing to lean on.
    fn bent_over(self) -> bool {
        self.stands() && self.0.pose.trunk_deg >= BENT_OVER
    }

    const fn action(self) -> Option<JointAction> {
        match self.0.rig {
            RigModel::SingleJoint { action, .. } | RigModel::BodyArc { action } | RigModel::Limb { action, .. } => {
                Some(action)
            }
            _ => None,
        }
    }

    /// An open arm under load with nothing that stops it.
    fn deep_fly(self) -> bool {
        self.action() == Some(JointAction::Fly) && !self.floor_stops() && self.0.rig.mount().is_none()
    }

    /// Hands lower than the chest at the bottom of a push-up.
    const fn deep_push_up(self) -> bool {
        matches!(
            self.0.rig,
            RigModel::PushUp {
                hands: PushUpHands::Rings | PushUpHands::Handles | PushUpHands::Boxes,
                girdle: false,
                ..
            }
        )
    }

    /// A dip in which the upper arms go behind the trunk.
    const fn dips(self) -> bool {
        matches!(self.0.rig, RigModel::Dip { girdle: false, .. })
    }

    const fn rolls_out(self) -> bool {
        matches!(
            self.0.rig,
            RigModel::Trunk {
                work: TrunkWork::WheelKnees
                    | TrunkWork::WheelToes
                    | TrunkWork::RingsKnees
                    | TrunkWork::RingsToes
                    | TrunkWork::WalkOut
            }
        )
    }

    fn is_held(self) -> bool {
        self.0.style == Style::Hold
    }

    fn shoulder(self, what: LimitKind) -> Option<LimitEffect> {
        match what {
            PainLoaded => when(self.loads_shoulder(), Ease),
            PainOverhead => when(self.overhead(), Exclude).or_else(|| {
                let raised = matches!(
                    self.pattern(),
                    Pattern::InclinePress | Pattern::FlyLowToHigh | Pattern::FrontRaise | Pattern::SideRaise
                );
                when(raised, Ease)
            }),
            PainDeepStretch => self.stretched_shoulder(),
            Stiff => self.stiff_shoulder(),
            PoorExtension => {
                let floor_dip = matches!(self.0.rig, RigModel::Dip { on: DipOn::Floor, .. });
                when(floor_dip, Ease).or_else(|| when(self.dips() || self.behind(), Exclude))
            }
            PainGripping => None,
        }
    }

    fn stretched_shoulder(self) -> Option<LimitEffect> {
        let pullover = self.action() == Some(JointAction::Pullover);
        if self.deep_fly() || self.deep_push_up() || (pullover && self.lies_on_bench()) {
            return Some(Exclude);
        }
        if self.dips() {
            return Some(if matches!(self.0.rig, RigModel::Dip { on: DipOn::Floor, .. }) { Ease } else { Exclude });
        }
        let eased = pullover
            || (self.flies() && !self.floor_stops())
            || (self.presses() && self.lies_on_bench())
            || self.hangs()
            || self.pattern() == Pattern::VerticalPull
            || self.behind()
            || self.rolls_out();
        when(eased, Ease)
    }

    fn stiff_shoulder(self) -> Option<LimitEffect> {
        let pullover = self.action() == Some(JointAction::Pullover);
        let upside_down = matches!(self.0.rig, RigModel::Pike { feet: PikeFeet::Wall });
        if self.deep_fly() || upside_down || (pullover && self.lies_on_bench()) {
            return Some(Exclude);
        }
        if self.dips() {
            return Some(if matches!(self.0.rig, RigModel::Dip { on: DipOn::Floor, .. }) { Ease } else { Exclude });
        }
        let turned =
            matches!(self.action(), Some(JointAction::Rotation)) || self.pattern() == Pattern::Shrug && self.overhead();
        let eased = self.overhead()
            || pullover
            || self.behind()
            || self.deep_push_up()
            || (self.presses() && self.lies_on_bench())
            || (self.flies() && !self.floor_stops())
            || turned
            || self.rolls_out();
        when(eased, Ease)
    }

    const fn loads_shoulder(self) -> bool {
        let lever = self.0.rig.is_lever();
        match self.pattern() {
            Pattern::ElbowFlexion => {
                lever || matches!(self.0.arm_position, ArmPosition::OutToSide | ArmPosition::Behind)
            }
            Pattern::ElbowExtension => {
                lever || matches!(self.0.arm_position, ArmPosition::Overhead | ArmPosition::InFront)
            }
            // Wrist curls rest on the thigh; hangs and holds do not.
            Pattern::Forearm => !matches!(self.0.rig, RigModel::SingleJoint { .. }),
            Pattern::Trunk => matches!(self.0.rig, RigModel::Trunk { .. } | RigModel::ChinUp { .. }) || self.girdle(),
            _ => true,
        }
    }

    fn elbow(self, what: LimitKind) -> Option<LimitEffect> {
        let single = matches!(self.pattern(), Pattern::ElbowFlexion | Pattern::ElbowExtension);
        let bends = single || self.presses() || self.pattern() == Pattern::OverheadPress || self.pulls();
        match what {
            PainLoaded => {
                let straight = self.flies() || self.pattern() == Pattern::Pullover;
                when(bends || straight || self.hangs() || self.pattern() == Pattern::Forearm, Ease)
            }
            Stiff | PoorExtension => when(bends || self.hangs() || self.carried_by_hands(), Ease),
            PainDeepStretch => {
                let folded = self.pattern() == Pattern::ElbowExtension
                    && matches!(self.0.arm_position, ArmPosition::Overhead | ArmPosition::InFront);
                when(folded || (self.pattern() == Pattern::ElbowFlexion && self.behind()), Ease)
            }
            PainGripping => self.gripping(self.pattern() == Pattern::ElbowFlexion),
            PainOverhead => when(self.pattern() == Pattern::ElbowExtension && self.overhead(), Ease),
        }
    }

    fn pulls(self) -> bool {
        (self.pattern() == Pattern::VerticalPull || self.rows()) && !self.girdle()
    }

    fn gripping(self, curls: bool) -> Option<LimitEffect> {
        if self.is_held() && self.pattern() == Pattern::Forearm {
            return Some(Exclude);
        }
        let gripped = self.pulls()
            || self.hangs()
            || curls
            || self.pattern() == Pattern::Shrug
            || self.pattern() == Pattern::Forearm
            || (self.pattern() == Pattern::Trunk && self.girdle())
            || matches!(self.0.rig, RigModel::InvertedRow | RigModel::RingCurl { .. });
        when(gripped, Ease)
    }

    const fn loads_elbow(self) -> bool {
        match self.pattern() {
            Pattern::Trunk => self.carried_by_hands() || self.girdle() || self.hangs(),
            _ => true,
        }
    }

    fn wrist(self, what: LimitKind) -> Option<LimitEffect> {
        let curls = self.action() == Some(JointAction::Wrist);
        match what {
            PainLoaded => {
                if curls {
                    return Some(Exclude);
                }
                let dumbbell_press = self.holds_dumbbell()
                    && (self.presses() || self.pattern() == Pattern::OverheadPress)
                    && self.0.grip != Some(Grip::Neutral);
                let bars = matches!(
                    self.0.rig,
                    RigModel::Dip { on: DipOn::Bars | DipOn::Rings, .. }
                        | RigModel::BodyExtension { on: ExtensionOn::Bar | ExtensionOn::Rings }
                        | RigModel::PushUp { hands: PushUpHands::Rings, .. }
                );
                // Handles, rings or dumbbells keep the wrist straight; a flat hand does not.
                if self.flat_hands() {
                    return Some(Exclude);
                }
                when(bars || dumbbell_press || self.pattern() == Pattern::ElbowFlexion, Ease)
            }
            PainGripping => self.gripping(self.pattern() == Pattern::ElbowFlexion),
            Stiff | PoorExtension | PainDeepStretch => when(self.flat_hands() || curls, Ease),
            PainOverhead => None,
        }
    }

    fn loads_wrist(self) -> bool {
        let forearms = matches!(
            self.0.rig,
            RigModel::Trunk {
                work: TrunkWork::Plank | TrunkWork::LongPlank | TrunkWork::KneePlank | TrunkWork::SidePlank
            }
        );
        let shouldered = self.action() == Some(JointAction::Hinge);
        !(forearms || shouldered) && (self.carried_by_hands() || !self.is_bare())
    }

    /// Nothing is held and nothing is leant on.
    fn is_bare(self) -> bool {
        self.0.implements == [Implement::Bodyweight] && !self.carried_by_hands() && self.0.hands != Hands::Shared
    }

    fn neck(self, what: LimitKind) -> Option<LimitEffect> {
        let on_the_head_side = matches!(self.0.pose.stance, Stance::HipsRaised | Stance::ShouldersOnEdge)
            || matches!(self.0.rig, RigModel::Pike { .. });
        match what {
            PainLoaded => {
                if self.pattern() == Pattern::Shrug || matches!(self.0.rig, RigModel::Pike { feet: PikeFeet::Wall }) {
                    return Some(Exclude);
                }
                let eased = matches!(self.pattern(), Pattern::OverheadPress | Pattern::SideRaise)
                    || on_the_head_side
                    || (self.girdle() && self.holds_dumbbell() && self.stands());
                when(eased, Ease)
            }
            Stiff | PoorExtension => when(on_the_head_side, Ease),
            PainOverhead => when(self.overhead(), Ease),
            PainDeepStretch | PainGripping => None,
        }
    }

    fn loads_neck(self) -> bool {
        matches!(
            self.pattern(),
            Pattern::Shrug | Pattern::OverheadPress | Pattern::SideRaise | Pattern::FrontRaise | Pattern::VerticalPull
        ) || matches!(self.0.pose.stance, Stance::HipsRaised | Stance::ShouldersOnEdge)
            || matches!(self.0.rig, RigModel::Pike { .. } | RigModel::ChinUp { .. } | RigModel::Trunk { .. })
            || self.bent_over()
            || (self.girdle() && self.holds_dumbbell() && self.stands())
    }

    fn low_back(self, what: LimitKind) -> Option<LimitEffect> {
        let hinges = self.bent_over()
            || matches!(self.action(), Some(JointAction::Hinge | JointAction::SideBend | JointAction::Twist));
        match what {
            PainLoaded => when(hinges || self.rolls_out(), Exclude).or_else(|| when(self.braced_low_back(), Ease)),
            Stiff => when(hinges || self.rolls_out(), Ease),
            PoorExtension => when(self.rolls_out() || self.action() == Some(JointAction::Pullover), Ease),
            PainDeepStretch => when(hinges, Ease),
            PainOverhead | PainGripping => None,
        }
    }

    /// The low back holds still against something that would bend it.
    fn braced_low_back(self) -> bool {
        let plank = matches!(
            self.0.rig,
            RigModel::PushUp { .. }
                | RigModel::BodyExtension { .. }
                | RigModel::BodyArc { .. }
                | RigModel::InvertedRow
                | RigModel::RingCurl { .. }
                | RigModel::Trunk { .. }
        );
        let standing = self.stands()
            && (matches!(self.pattern(), Pattern::OverheadPress | Pattern::FrontRaise | Pattern::Shrug)
                || (self.pattern() == Pattern::ElbowExtension && self.overhead())
                || (self.is_held() && self.holds_dumbbell()));
        let leaning = matches!(
            self.0.pose.stance,
            Stance::HandSupported | Stance::KneeAndForearm | Stance::Plank | Stance::HipsRaised
        ) || (matches!(self.0.pose.stance, Stance::Seated | Stance::HalfKneeling)
            && self.0.pose.trunk_deg >= BENT_OVER);
        plank || standing || leaning || self.pattern() == Pattern::Trunk || self.action() == Some(JointAction::Pullover)
    }

    fn loads_low_back(self) -> bool {
        self.braced_low_back() || self.stands() || self.bent_over() || self.rolls_out()
    }

    const fn trunk_work(self) -> Option<TrunkWork> {
        match self.0.rig {
            RigModel::Trunk { work } => Some(work),
            _ => None,
        }
    }

    /// Weight rests on one knee or both: by what is done, how one is placed, or what room it takes.
    fn kneels(self) -> bool {
        let on_knees = matches!(self.0.rig, RigModel::PushUp { feet: RaisedFeet::Knees, .. })
            || matches!(
                self.trunk_work(),
                Some(TrunkWork::KneePlank | TrunkWork::WheelKnees | TrunkWork::RingsKnees | TrunkWork::BirdDog)
            );
        on_knees
            || matches!(self.0.pose.stance, Stance::Kneeling | Stance::HalfKneeling | Stance::KneeAndForearm)
            || self.0.needs.iter().flatten().any(|s| s.kit == SupportKind::Kneeling)
    }

    /// The legs are lifted by the hips, hanging or lying.
    const fn lifts_legs(self) -> bool {
        matches!(
            self.trunk_work(),
            Some(
                TrunkWork::DeadBug
                    | TrunkWork::ReverseCrunch
                    | TrunkWork::HollowHold
                    | TrunkWork::BirdDog
                    | TrunkWork::KneeRaise
                    | TrunkWork::LegRaise
            )
        )
    }

    fn hip(self, what: LimitKind) -> Option<LimitEffect> {
        let hinges = self.bent_over() || matches!(self.action(), Some(JointAction::Hinge));
        let hanging_legs = matches!(self.trunk_work(), Some(TrunkWork::KneeRaise | TrunkWork::LegRaise));
        let bent =
            hinges || matches!(self.0.pose.stance, Stance::SeatedFloor | Stance::HalfKneeling | Stance::KneeAndForearm);
        match what {
            PainLoaded => when(hinges || hanging_legs, Exclude)
                .or_else(|| when(self.lifts_legs() || self.0.pose.stance == Stance::HipsRaised, Ease)),
            PainDeepStretch | Stiff => when(bent || self.lifts_legs(), Ease),
            PoorExtension => {
                let opened = matches!(self.0.pose.stance, Stance::HipsRaised | Stance::HalfKneeling | Stance::Split);
                when(opened || self.trunk_work() == Some(TrunkWork::BackExtension), Ease)
            }
            PainOverhead | PainGripping => None,
        }
    }

    fn loads_hip(self) -> bool {
        self.stands() || self.bent_over() || self.kneels() || self.lifts_legs() || self.braced_low_back()
    }

    fn knee(self, what: LimitKind) -> Option<LimitEffect> {
        match what {
            PainLoaded => when(self.kneels(), Exclude).or_else(|| when(self.0.pose.stance == Stance::HipsRaised, Ease)),
            PainDeepStretch | Stiff => when(self.kneels(), Ease),
            PoorExtension | PainOverhead | PainGripping => None,
        }
    }

    fn loads_knee(self) -> bool {
        self.kneels() || self.stands() || self.0.pose.stance == Stance::HipsRaised
    }

    /// Something is held, or held on to.
    fn holds_on(self) -> bool {
        let pulled = self.pulls() || self.pattern() == Pattern::ElbowFlexion;
        self.hangs() || pulled || (self.loads_wrist() && !self.flat_hands())
    }

    fn fingers(self, what: LimitKind) -> Option<LimitEffect> {
        let all_on_them = self.hangs() || (self.is_held() && self.pattern() == Pattern::Forearm);
        match what {
            PainLoaded | PainGripping => when(all_on_them, Exclude).or_else(|| when(self.holds_on(), Ease)),
            Stiff | PoorExtension => when(self.holds_on() || self.flat_hands(), Ease),
            PainDeepStretch => when(self.flat_hands(), Ease),
            PainOverhead => None,
        }
    }
}

impl Movement {
    /// How a kind of limit of a joint bears on it: as it states itself, else as for all of its class, else not at all.
    pub fn rule(&self, joint: Joint, what: LimitKind) -> Option<LimitEffect> {
        let own = self.limits.iter().find(|r| r.joint == joint && r.what == what).map(|r| r.effect);
        own.or_else(|| {
            let dropped = self.drop.iter().any(|d| d.joint == joint && d.what == what);
            if dropped { None } else { usual_rule(self, joint, what) }
        })
    }

    /// Every rule in force, its own and those of its class.
    pub fn rules(&self) -> Vec<LimitRule> {
        let pairs = Joint::ALL.iter().flat_map(|joint| LimitKind::ALL.iter().map(move |what| (*joint, *what)));
        pairs
            .filter_map(|(joint, what)| self.rule(joint, what).map(|effect| LimitRule { joint, what, effect }))
            .collect()
    }

    /// Whether a joint carries any of its load.
    pub fn loads_joint(&self, joint: Joint) -> bool {
        loads(self, joint) || self.limits.iter().any(|r| r.joint == joint)
    }
}
