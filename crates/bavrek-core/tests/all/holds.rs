//! Holds: how long a load can be held, and what a set of repetitions and holds needs.

use bavrek_core::anatomy::Pattern;
use bavrek_core::dose::{Part, Prescription, SetKind, SetPlan, Tempo};
use bavrek_core::holds::{HoldingJoint, MOST_NEEDED, repetitions_needed, seconds_to_failure};
use bavrek_core::movement::Style;
use bavrek_core::plan::Intent;
use bavrek_core::reps::share_of_maximum;
use proptest::prelude::*;
use rstest::rstest;
use std::collections::BTreeMap;

#[rstest]
#[case::repetitions_alone(HoldingJoint::Elbow, 10.0, 0.0, 10.0)]
#[case::a_hold_alone_at_seven_tenths(HoldingJoint::Elbow, 0.0, 39.5, 13.1)]
#[case::the_same_of_a_shoulder(HoldingJoint::Shoulder, 0.0, 28.5, 13.1)]
#[case::half_and_half(HoldingJoint::Elbow, 6.55, 19.75, 13.1)]
#[case::nothing(HoldingJoint::Shoulder, 0.0, 0.0, 1.0)]
#[case::no_load_is_light_enough(HoldingJoint::Shoulder, 0.0, 900.0, MOST_NEEDED)]
fn a_set_needs_what_its_parts_take(
    #[case] joint: HoldingJoint,
    #[case] reps: f64,
    #[case] seconds: f64,
    #[case] expected: f64,
) {
    let needed = repetitions_needed(joint, reps, seconds);
    assert!((needed - expected).abs() < 0.06, "{needed}");
}

/// Up to the last hold, and to the end.
#[rstest]
#[case::holds_in_the_middle(&[(4, 0), (0, 16), (3, 0)], true)]
#[case::holds_at_the_end(&[(4, 0), (3, 0), (0, 16)], false)]
#[case::two_rounds(&[(4, 0), (0, 16), (3, 0), (0, 8)], false)]
fn the_last_hold_needs_no_more_than_the_set(#[case] parts: &[(u16, u16)], #[case] less: bool) {
    let part = |(reps, seconds): &(u16, u16)| match reps {
        0 => Part::Holds { holds: 1, seconds: *seconds },
        _ => Part::Reps { reps: *reps, tempo: Tempo::USUAL },
    };
    let parts = parts.iter().map(part).collect();
    let set = SetPlan { kind: SetKind::Mixed, parts, ..SetPlan::straight([8, 12], Some(1), Tempo::USUAL, 90) };
    let needed = set.needed(HoldingJoint::Elbow).unwrap();
    assert_eq!(needed.last_hold < needed.whole, less, "{needed:?}");
    assert!(needed.last_hold <= needed.whole);
    assert!(SetPlan { kind: SetKind::Straight, ..set }.needed(HoldingJoint::Elbow).is_none());
}

proptest! {
    /// On a load that can be lifted as often as is needed, the parts take exactly all that can be done there; more of anything needs more.
    #[test]
    fn what_is_needed_is_enough_and_no_more(reps in 0.0f64..30.0, seconds in 0.0f64..40.0, shoulder in any::<bool>()) {
        let joint = if shoulder { HoldingJoint::Shoulder } else { HoldingJoint::Elbow };
        let needed = repetitions_needed(joint, reps, seconds);
        prop_assume!(needed > 1.01 && needed < MOST_NEEDED - 0.1);
        let held = seconds / seconds_to_failure(joint, share_of_maximum(needed)).unwrap();
        prop_assert!((reps / needed + held - 1.0).abs() < 0.01);
        prop_assert!(repetitions_needed(joint, reps + 1.0, seconds) > needed);
        prop_assert!(repetitions_needed(joint, reps, seconds + 5.0) > needed);
    }
}

/// What is only held or only lowered takes as long as the mix: 8 + 16 + 27 s, lowering for five of six seconds.
#[rstest]
#[case::whole_repetitions(Style::Reps, SetKind::Mixed, None, None)]
#[case::held(Style::Hold, SetKind::Hold, Some(50), None)]
#[case::lowered(Style::LoweringOnly, SetKind::LoweringOnly, None, Some([9, 9]))]
fn a_movement_of_another_style_answers_a_mixed_set_in_its_own(
    #[case] style: Style,
    #[case] kind: SetKind,
    #[case] seconds: Option<u16>,
    #[case] reps: Option<[u16; 2]>,
) {
    let set = SetPlan { kind: SetKind::Mixed, reps: None, ..SetPlan::straight([8, 12], Some(1), Tempo::USUAL, 90) };
    let dosed = Intent::of(Pattern::HorizontalPress, BTreeMap::new()).dosed(Prescription::of(vec![set]));
    let set = dosed.prescription_for(style).sets.remove(0);
    assert_eq!((set.kind, set.seconds, set.reps), (kind, seconds, reps));
    assert!(Prescription::of(vec![set]).validate().is_ok());
}
