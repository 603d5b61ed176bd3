//! Limits of joints, asked of every movement of the catalogue: what must be spared is spared, class by class.

use std::sync::LazyLock;

use crate::common::{intent, kit, person};
use bavrek_catalogue::{load, load_from};
use bavrek_core::anatomy::{ArmPosition, Implement, Joint, Pattern};
use bavrek_core::fit::{Bearing, FitQuestion, bearing, fit, kindness};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::movement::{
    Catalogue, DipOn, LimitEffect, Movement, PushUpHands, RaisedFeet, RigModel, Stance, SupportKind, TrunkWork,
};
use bavrek_core::person::{Limit, LimitKind, Person, Severity, Side};
use bavrek_core::wording::told;
use rstest::rstest;

use Joint::{Elbow, Fingers, Hip, Knee, LowBack, Neck, Shoulder, Wrist};
use LimitKind::{PainDeepStretch, PainGripping, PainLoaded, PainOverhead, PoorExtension, Stiff};

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

fn limit(joint: Joint, what: LimitKind, severity: Severity) -> Limit {
    Limit { joint, what, side: Side::Both, severity }
}

/// A class of movements by what can be seen of them, not by the rules under test.
type Class = fn(&Movement) -> bool;

fn presses(m: &Movement) -> bool {
    let pattern = matches!(m.pattern, Pattern::HorizontalPress | Pattern::InclinePress | Pattern::DeclinePress);
    let blades_only = matches!(
        m.rig,
        RigModel::Line { girdle: true, .. }
            | RigModel::PushUp { girdle: true, .. }
            | RigModel::Dip { girdle: true, .. }
    );
    pattern && !blades_only
}

fn kneels(m: &Movement) -> bool {
    let stance = matches!(m.pose.stance, Stance::Kneeling | Stance::HalfKneeling | Stance::KneeAndForearm);
    let trunk = matches!(
        m.rig,
        RigModel::Trunk {
            work: TrunkWork::KneePlank | TrunkWork::WheelKnees | TrunkWork::RingsKnees | TrunkWork::BirdDog
        }
    );
    let room = m.needs.iter().flatten().any(|s| s.kit == SupportKind::Kneeling);
    let push_up = matches!(m.rig, RigModel::PushUp { feet: RaisedFeet::Knees, .. });
    stance || trunk || room || push_up || m.name.to_lowercase().contains("kneel")
}

fn legs_lifted(m: &Movement) -> bool {
    matches!(
        m.rig,
        RigModel::Trunk {
            work: TrunkWork::DeadBug | TrunkWork::LegRaise | TrunkWork::KneeRaise | TrunkWork::HollowHold
        }
    )
}

/// Over every movement in a room that has everything: who must not kneel is offered no step on the knees.
#[test]
fn nobody_is_sent_to_a_knee_that_hurts() {
    let (mut offered, mut asked) = (0, 0);
    for severity in [Severity::Mild, Severity::Moderate, Severity::Severe] {
        for what in [PainLoaded, PainDeepStretch] {
            let spared = Person { limits: vec![limit(Knee, what, severity)], ..person() };
            for movement in &CATALOGUE.movements {
                let steps = Ladder::of(movement, &spared, &full_room()).steps;
                // Bent knees under a dip carry nothing.
                let knees =
                    |s: &&LadderStep| s.setup.knees == Some(true) && !matches!(movement.rig, RigModel::Dip { .. });
                let on_knees = steps.iter().filter(knees).count();
                let out = bearing(movement, &spared.limits[0]) == Bearing::Excludes;
                let bends = what == PainDeepStretch && severity == Severity::Moderate;
                if severity == Severity::Mild || bends {
                    offered += on_knees;
                } else {
                    assert!(on_knees == 0 || out, "{}: {what} {severity}", movement.id);
                    asked += steps.len();
                }
            }
        }
    }
    assert!(offered > 10 && asked > 1_000, "{offered} on the knees where they bear it, {asked} steps looked at");
}

fn push_ups(m: &Movement) -> bool {
    matches!(m.rig, RigModel::PushUp { girdle: false, .. })
}

fn dips(m: &Movement) -> bool {
    matches!(m.rig, RigModel::Dip { girdle: false, .. })
}

fn deep_dips(m: &Movement) -> bool {
    matches!(m.rig, RigModel::Dip { girdle: false, on } if on != DipOn::Floor)
}

fn floor_dips(m: &Movement) -> bool {
    matches!(m.rig, RigModel::Dip { girdle: false, on: DipOn::Floor })
}

fn overhead_presses(m: &Movement) -> bool {
    m.pattern == Pattern::OverheadPress
}

fn pikes(m: &Movement) -> bool {
    matches!(m.rig, RigModel::Pike { .. })
}

fn pull_ups(m: &Movement) -> bool {
    matches!(m.rig, RigModel::ChinUp { girdle: false }) && m.pattern == Pattern::VerticalPull
}

fn rows(m: &Movement) -> bool {
    matches!(m.pattern, Pattern::WideRow | Pattern::CloseRow)
}

fn behind(m: &Movement) -> bool {
    m.arm_position == ArmPosition::Behind && m.pattern == Pattern::ElbowFlexion
}

fn flat_hands(m: &Movement) -> bool {
    let push_up =
        matches!(m.rig, RigModel::PushUp { hands: PushUpHands::Floor | PushUpHands::Raised | PushUpHands::Boxes, .. });
    push_up || pikes(m) || matches!(m.rig, RigModel::Dip { on: DipOn::Edge | DipOn::Floor | DipOn::EdgeFeetRaised, .. })
}

fn bar_support(m: &Movement) -> bool {
    matches!(m.rig, RigModel::Dip { on: DipOn::Bars | DipOn::Rings, .. })
}

fn shrugs(m: &Movement) -> bool {
    m.pattern == Pattern::Shrug
}

fn bent_over(m: &Movement) -> bool {
    m.pose.trunk_deg >= 40.0 && m.pose.stance == Stance::Standing && !m.rig.is_lever() && m.pattern != Pattern::Trunk
}

fn planks(m: &Movement) -> bool {
    matches!(m.rig, RigModel::Trunk { work } if work.share_of_body().is_none())
}

fn roll_outs(m: &Movement) -> bool {
    ["wheel_rollout", "wheel_rollout_toes", "ring_rollout", "ring_rollout_toes", "hand_walk_out", "towel_rollout"]
        .contains(&m.id.as_str())
}

fn bench_flies(m: &Movement) -> bool {
    let floor = m.needs.iter().flatten().any(|s| s.kit == SupportKind::Floor);
    matches!(m.pattern, Pattern::Fly | Pattern::FlyLowToHigh | Pattern::FlyHighToLow)
        && matches!(m.rig, RigModel::SingleJoint { mount: None, .. })
        && !floor
        && m.id != "standing_dumbbell_fly"
}

fn deep_push_ups(m: &Movement) -> bool {
    let deep = PushUpHands::Rings;
    matches!(m.rig, RigModel::PushUp { hands, girdle: false, .. }
        if hands == deep || hands == PushUpHands::Handles || hands == PushUpHands::Boxes)
}

fn overhead_extensions(m: &Movement) -> bool {
    m.pattern == Pattern::ElbowExtension && m.arm_position == ArmPosition::Overhead
}

fn curls(m: &Movement) -> bool {
    m.pattern == Pattern::ElbowFlexion
}

fn extensions(m: &Movement) -> bool {
    m.pattern == Pattern::ElbowExtension
}

fn pullovers(m: &Movement) -> bool {
    m.pattern == Pattern::Pullover
}

fn lying_pullovers(m: &Movement) -> bool {
    pullovers(m) && m.pose.stance == Stance::Supine && m.needs.iter().flatten().all(|s| s.kit != SupportKind::Floor)
}

fn hangs(m: &Movement) -> bool {
    matches!(m.rig, RigModel::ChinUp { .. })
}

fn grip_holds(m: &Movement) -> bool {
    ["bar_hang", "towel_hang", "dumbbell_hold"].contains(&m.id.as_str())
}

fn incline_presses(m: &Movement) -> bool {
    m.pattern == Pattern::InclinePress
}

fn raises(m: &Movement) -> bool {
    matches!(m.pattern, Pattern::SideRaise | Pattern::FrontRaise | Pattern::RearFly)
}

/// What is expected of a class: out at moderate severity, or careful at moderate and out at severe.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Spared {
    Out,
    Careful,
}

use Spared::{Careful, Out};

#[rstest]
#[case::presses_shoulder(presses, Shoulder, PainLoaded, Careful)]
#[case::presses_elbow(presses, Elbow, PainLoaded, Careful)]
#[case::push_ups_shoulder(push_ups, Shoulder, PainLoaded, Careful)]
#[case::push_ups_elbow(push_ups, Elbow, PainLoaded, Careful)]
#[case::dips_shoulder(dips, Shoulder, PainLoaded, Careful)]
#[case::dips_elbow(dips, Elbow, PainLoaded, Careful)]
#[case::overhead_overhead(overhead_presses, Shoulder, PainOverhead, Careful)]
#[case::overhead_loaded(overhead_presses, Shoulder, PainLoaded, Careful)]
#[case::overhead_elbow(overhead_presses, Elbow, PainLoaded, Careful)]
#[case::pikes_overhead(pikes, Shoulder, PainOverhead, Out)]
#[case::pikes_loaded(pikes, Shoulder, PainLoaded, Careful)]
#[case::pikes_neck(pikes, Neck, PainLoaded, Careful)]
#[case::pull_ups_elbow(pull_ups, Elbow, PainLoaded, Careful)]
#[case::pull_ups_overhead(pull_ups, Shoulder, PainOverhead, Out)]
#[case::pull_ups_grip(pull_ups, Wrist, PainGripping, Careful)]
#[case::rows_elbow(rows, Elbow, PainLoaded, Careful)]
#[case::rows_shoulder(rows, Shoulder, PainLoaded, Careful)]
#[case::rows_grip(rows, Wrist, PainGripping, Careful)]
#[case::dips_extension(deep_dips, Shoulder, PoorExtension, Out)]
#[case::dips_stretch(deep_dips, Shoulder, PainDeepStretch, Out)]
#[case::curls_behind(behind, Shoulder, PoorExtension, Careful)]
#[case::flat_hands_wrist(flat_hands, Wrist, PainLoaded, Out)]
#[case::bar_support_wrist(bar_support, Wrist, PainLoaded, Careful)]
#[case::shrugs_neck(shrugs, Neck, PainLoaded, Out)]
#[case::bent_over_low_back(bent_over, LowBack, PainLoaded, Out)]
#[case::planks_low_back(planks, LowBack, PainLoaded, Careful)]
#[case::roll_outs_low_back(roll_outs, LowBack, PainLoaded, Out)]
#[case::bench_flies_stretch(bench_flies, Shoulder, PainDeepStretch, Careful)]
#[case::deep_push_ups_stretch(deep_push_ups, Shoulder, PainDeepStretch, Careful)]
#[case::overhead_extensions_overhead(overhead_extensions, Shoulder, PainOverhead, Careful)]
#[case::overhead_extensions_elbow(overhead_extensions, Elbow, PainLoaded, Careful)]
#[case::curls_elbow(curls, Elbow, PainLoaded, Careful)]
#[case::extensions_elbow(extensions, Elbow, PainLoaded, Careful)]
#[case::pullovers_overhead(pullovers, Shoulder, PainOverhead, Careful)]
#[case::lying_pullovers_stretch(lying_pullovers, Shoulder, PainDeepStretch, Out)]
#[case::hangs_overhead(hangs, Shoulder, PainOverhead, Out)]
#[case::grip_holds_grip(grip_holds, Wrist, PainGripping, Out)]
#[case::kneeling_knee(kneels, Knee, PainLoaded, Out)]
#[case::kneeling_bend(kneels, Knee, PainDeepStretch, Careful)]
#[case::bent_over_hip(bent_over, Hip, PainLoaded, Out)]
#[case::legs_lifted_hip(legs_lifted, Hip, PainLoaded, Careful)]
#[case::hangs_fingers(hangs, Fingers, PainGripping, Out)]
#[case::pull_ups_fingers(pull_ups, Fingers, PainLoaded, Out)]
#[case::grip_holds_fingers(grip_holds, Fingers, PainGripping, Out)]
#[case::rows_fingers(rows, Fingers, PainGripping, Careful)]
#[case::curls_fingers(curls, Fingers, PainLoaded, Careful)]
#[case::flat_hands_fingers(flat_hands, Fingers, Stiff, Careful)]
#[case::incline_overhead(incline_presses, Shoulder, PainOverhead, Careful)]
#[case::raises_loaded(raises, Shoulder, PainLoaded, Careful)]
fn a_class_is_spared(#[case] class: Class, #[case] joint: Joint, #[case] what: LimitKind, #[case] spared: Spared) {
    let members: Vec<_> = CATALOGUE.movements.iter().filter(|m| class(m)).collect();
    assert!(members.len() >= 2, "the class is empty");
    let at = |m: &Movement, severity| bearing(m, &limit(joint, what, severity));
    let mut complaints = Vec::new();
    for movement in members {
        let moderate = at(movement, Severity::Moderate);
        let severe = at(movement, Severity::Severe);
        let mild = at(movement, Severity::Mild);
        let held = match spared {
            Out => moderate == Bearing::Excludes,
            Careful => moderate != Bearing::Free,
        };
        // Range that a stiff joint lacks is not pain: such a movement stays possible within it.
        let severely = severe == Bearing::Excludes || what.is_of_range() && severe != Bearing::Free;
        if !held || !severely || mild == Bearing::Free {
            complaints.push(format!("{}: mild {mild:?}, moderate {moderate:?}, severe {severe:?}", movement.id));
        }
    }
    assert!(complaints.is_empty(), "\n{}", complaints.join("\n"));
}

/// What people with stiff shoulders are given stays possible.
#[rstest]
#[case::floor_dip(floor_dips as Class, Stiff)]
#[case::floor_dip_behind(floor_dips, PoorExtension)]
fn the_kinder_version_is_eased_not_excluded(#[case] class: Class, #[case] what: LimitKind) {
    let members: Vec<_> = CATALOGUE.movements.iter().filter(|m| class(m)).collect();
    assert!(!members.is_empty());
    for movement in members {
        let bears = bearing(movement, &limit(Shoulder, what, Severity::Moderate));
        assert!(matches!(bears, Bearing::Eases(_)), "{}: {bears:?}", movement.id);
    }
}

/// Stiffness has a rule wherever a movement goes to the end of that joint's range.
#[rstest]
#[case::overhead(overhead_presses as Class, Shoulder)]
#[case::pikes(pikes, Shoulder)]
#[case::dips(dips, Shoulder)]
#[case::bench_flies(bench_flies, Shoulder)]
#[case::pullovers(pullovers, Shoulder)]
#[case::hangs(hangs, Shoulder)]
#[case::deep_push_ups(deep_push_ups, Shoulder)]
#[case::behind(behind, Shoulder)]
#[case::curls(curls, Elbow)]
#[case::extensions(extensions, Elbow)]
#[case::pull_ups(pull_ups, Elbow)]
#[case::presses(presses, Elbow)]
#[case::flat_hands(flat_hands, Wrist)]
#[case::pikes_neck(pikes, Neck)]
#[case::bent_over(bent_over, LowBack)]
#[case::roll_outs(roll_outs, LowBack)]
fn stiffness_has_a_rule(#[case] class: Class, #[case] joint: Joint) {
    let members: Vec<_> = CATALOGUE.movements.iter().filter(|m| class(m)).collect();
    assert!(members.len() >= 2, "the class is empty");
    let free: Vec<_> = members.iter().filter(|m| m.rule(joint, Stiff).is_none()).map(|m| &m.id).collect();
    assert!(free.is_empty(), "{free:?}");
}

/// Whether a joint carries load, by what can be seen: written down apart from the rules.
fn carries(m: &Movement, joint: Joint) -> bool {
    let lever = m.rig.is_lever();
    match joint {
        Shoulder => {
            presses(m)
                || push_ups(m)
                || dips(m)
                || overhead_presses(m)
                || pull_ups(m)
                || rows(m)
                || raises(m)
                || pullovers(m)
        }
        Elbow => presses(m) || curls(m) || extensions(m) || pull_ups(m) || rows(m) || overhead_presses(m),
        Wrist => {
            push_ups(m) || dips(m) || curls(m) || m.uses(Implement::Dumbbell) && !lever && m.id != "dumbbell_hip_hinge"
        }
        Neck => shrugs(m) || pikes(m) || overhead_presses(m),
        LowBack => bent_over(m) || planks(m) || push_ups(m) && m.id != "wall_push_up",
        Hip => bent_over(m) || kneels(m) || legs_lifted(m),
        Knee => kneels(m),
        Fingers => {
            pull_ups(m) || hangs(m) || curls(m) || m.uses(Implement::Dumbbell) && !lever && m.id != "dumbbell_hip_hinge"
        }
    }
}

/// Every movement, joint, kind and severity: a worse limit is never kinder, a severe one of a joint that carries load is
/// never passed over, and what is ruled out is not offered.
#[test]
fn a_severe_limit_of_a_loaded_joint_is_never_passed_over() {
    let (mut asked, mut complaints) = (0, Vec::new());
    for movement in &CATALOGUE.movements {
        for joint in Joint::ALL {
            for what in LimitKind::ALL {
                let kind = |severity| {
                    let sore = Person { limits: vec![limit(*joint, *what, severity)], ..person() };
                    kindness(movement, &sore, None)
                };
                let steps: Vec<f64> = Severity::ALL.iter().map(|s| kind(*s)).collect();
                asked += 1;
                if steps.windows(2).any(|w| w[1] > w[0]) {
                    complaints.push(format!("{} {joint} {what}: {steps:?} gets kinder", movement.id));
                }
                if carries(movement, *joint) && steps[2] >= 1.0 {
                    complaints.push(format!("{} {joint} {what}: severe, and joints 1.0", movement.id));
                }
            }
        }
    }
    assert_eq!(asked, CATALOGUE.movements.len() * Joint::ALL.len() * LimitKind::ALL.len());
    assert!(complaints.is_empty(), "{}\n{}", complaints.len(), complaints[..complaints.len().min(40)].join("\n"));
}

/// A limit that excludes or eases is said, and what it excludes is not among the candidates.
#[rstest]
#[case::overhead("overhead_press", "delt_front", Shoulder, PainOverhead)]
#[case::press("horizontal_press", "chest_sternal", Shoulder, PainLoaded)]
#[case::elbow("elbow_extension", "triceps_long", Elbow, PainLoaded)]
#[case::low_back("wide_row", "traps_middle", LowBack, PainLoaded)]
#[case::wrist("horizontal_press", "chest_sternal", Wrist, PainLoaded)]
#[case::neck("shrug", "traps_upper", Neck, PainLoaded)]
#[case::hip("wide_row", "traps_middle", Hip, PainLoaded)]
#[case::knee("close_row", "lats", Knee, PainLoaded)]
#[case::fingers("close_row", "lats", Fingers, PainGripping)]
fn what_is_ruled_out_is_not_offered(
    #[case] pattern: &str,
    #[case] region: &str,
    #[case] joint: Joint,
    #[case] what: LimitKind,
) {
    let room = kit(
        r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16,20,24]},{"kind":"bench","angles_deg":[0,30,75]},
        {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},{"kind":"anchor","heights_m":[0.1,1.2,2.0]}]"#,
    );
    let wanted =
        intent(&format!(r#"{{"pattern":"{pattern}","regions":{{"{region}":1.0}},"reps":[8,12],"rir":2,"sets":3}}"#));
    for severity in Severity::ALL {
        let sore = Person { limits: vec![limit(joint, what, *severity)], ..person() };
        let answer = fit(&CATALOGUE, &FitQuestion::plain(&sore, &room, &wanted));
        assert!(answer.candidates.len() + answer.excluded.len() > 3);
        for candidate in &answer.candidates {
            match bearing(candidate.movement, &sore.limits[0]) {
                Bearing::Excludes => panic!("{} is offered", candidate.movement.id),
                Bearing::Eases(_) => {
                    let said = told(&candidate.reasons).iter().any(|r| r.contains(&sore.limits[0].text()));
                    assert!(said && candidate.parts.joints < 1.0, "{}: {:?}", candidate.movement.id, candidate.reasons);
                }
                Bearing::Free => assert!((candidate.parts.joints - 1.0).abs() < 1e-9, "{}", candidate.movement.id),
            }
        }
    }
}

/// What an entry states adds to what it is like; only a named rule is left out.
#[test]
fn limits_add_up_and_leaving_one_out_is_explicit() {
    const CAUTIONS: &str = "[general]\n[caution]\nbreathing = \"Breathe.\"\n";
    const STRENGTH: &str = "[[pattern]]\nid = \"p\"\nname = \"P\"\nanchor = \"a\"\nshare = [0.1, 0.2, 0.3]\nfemale = 0.6\ngroup = \"push\"\n";
    let text = r#"
[[movement]]
id = "a"
name = "A"
pattern = "fly"
arm_position = "out_to_side"
implements = ["dumbbell"]
hands = "each"
direct = { chest_sternal = 1.0 }
confidence = 0.9
pose = { trunk_deg = -90, stance = "supine" }
rig = { kind = "single_joint", action = "fly" }
carry_over = { pattern = "p", ratio = 1.0, log_sd = 0.0 }
experience = "novice"
stability = 0.9
set_up_s = 10
limits = [{ joint = "neck", what = "stiff", effect = "ease" }, { joint = "wrist", what = "pain_loaded", effect = "exclude" }]
[movement.cues]
set_up = "s"
do = "d"
feel = "f"
avoid = "a"
[[movement]]
id = "b"
like = "a"
name = "B"
limits = [{ joint = "neck", what = "stiff", effect = "exclude" }]
drop = [{ joint = "wrist", what = "pain_loaded" }, { joint = "shoulder", what = "pain_loaded" }]
"#;
    let catalogue = load_from(&[("f.toml", text)], ("c.toml", CAUTIONS), ("s.toml", STRENGTH)).unwrap();
    let (a, b) = (catalogue.movement("a").unwrap(), catalogue.movement("b").unwrap());
    assert_eq!(a.rule(Neck, Stiff), Some(LimitEffect::Ease));
    assert_eq!(b.rule(Neck, Stiff), Some(LimitEffect::Exclude), "its own word stands first");
    assert_eq!((a.rule(Wrist, PainLoaded), b.rule(Wrist, PainLoaded)), (Some(LimitEffect::Exclude), None));
    assert_eq!((a.rule(Shoulder, PainLoaded), b.rule(Shoulder, PainLoaded)), (Some(LimitEffect::Ease), None));
    assert_eq!(b.rule(Shoulder, PainDeepStretch), Some(LimitEffect::Exclude), "the class holds for the rest");
}

/// From fifty on a flatter incline and a longer warm-up, each with its reason.
#[rstest]
#[case::young(49, 45.0, false)]
#[case::fifty(50, 30.0, true)]
#[case::seventy(70, 30.0, true)]
fn age_counts(#[case] years: u8, #[case] angle: f64, #[case] said: bool) {
    let old = Person { age_years: Some(years), ..person() };
    // 35 is nearer to the middle of the usual range than 30 is.
    let room = kit(
        r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16]},{"kind":"bench","angles_deg":[0,20,30,45]}]"#,
    );
    let steep =
        kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16]},{"kind":"bench","angles_deg":[0,18,45]}]"#);
    let wanted =
        intent(r#"{"pattern":"incline_press","regions":{"chest_clavicular":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&old, &room, &wanted));
    let press = answer.candidates.iter().find(|c| c.movement.id == "incline_dumbbell_press").unwrap();
    assert_eq!(told(&press.reasons).iter().any(|r| r.contains("from 50 on")), said, "{:?}", press.reasons);
    assert_eq!(told(&answer.notes).iter().any(|n| n.contains("warm up for 10 to 15 minutes")), said);
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&old, &steep, &wanted));
    let press = answer.candidates.iter().find(|c| c.movement.id == "incline_dumbbell_press").unwrap();
    let chosen = press.step().setup.bench_deg.unwrap().value();
    assert_eq!(chosen <= 30.0, angle <= 30.0, "{chosen}");
}
