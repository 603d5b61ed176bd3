//! Presses, push-ups and rows about both joints: the reference table and what must hold for every way.

use bavrek_core::mechanics::profile::Profile;
use bavrek_core::mechanics::two_joint::{ArmWay, TwoJoint};
use bavrek_core::units::Metres;
use proptest::prelude::*;
use rstest::rstest;

const EVEN: Profile = Profile([1.0; 60]);

fn press(bottom_deg: f64, hands_end: f64) -> ArmWay {
    ArmWay::Press { bottom_deg, hands_end }
}

fn push_up(hands_out: f64) -> ArmWay {
    chest_at(hands_out, 0.13)
}

fn chest_at(hands_out: f64, bottom: f64) -> ArmWay {
    ArmWay::PushUp { hands_out, bottom }
}

/// Shares of the shoulder's work, works of both joints in N·m under one newton, the elbow's part.
#[rstest]
#[case::bench(press(-25.0, 0.10), [0.489, 0.388, 0.122], 0.2801, 0.1025, 0.268)]
#[case::deeper(press(-35.0, 0.10), [0.543, 0.342, 0.114], 0.2928, 0.1326, 0.312)]
#[case::floor(press(0.0, 0.10), [0.217, 0.614, 0.169], 0.2150, 0.0478, 0.182)]
#[case::hands_meet(press(-25.0, 0.0), [0.599, 0.348, 0.052], 0.2116, 0.1792, 0.459)]
#[case::hands_stay_wide(press(-25.0, 0.25), [0.451, 0.507, 0.042], 0.3460, 0.0176, 0.049)]
#[case::pressed_together(press(-60.0, 0.0), [0.770, 0.201, 0.029], 0.1806, 0.3359, 0.650)]
#[case::push_up(push_up(0.15), [0.519, 0.363, 0.118], 0.2896, 0.1757, 0.378)]
#[case::wide_push_up(chest_at(0.20, 0.12), [0.559, 0.365, 0.076], 0.3819, 0.0868, 0.185)]
#[case::narrow_push_up(chest_at(0.05, 0.16), [0.339, 0.421, 0.240], 0.0828, 0.3674, 0.816)]
#[case::on_handles(chest_at(0.10, 0.06), [0.605, 0.273, 0.122], 0.2564, 0.2884, 0.529)]
fn shares_and_works(
    #[case] way: ArmWay,
    #[case] shares: [f64; 3],
    #[case] shoulder: f64,
    #[case] elbow: f64,
    #[case] part: f64,
) {
    let both = TwoJoint::of(way, Metres(1.75));
    let found = both.shoulder.shares(&EVEN).unwrap();
    for (actual, expected) in found.iter().zip(shares) {
        assert!((actual - expected).abs() < 0.006, "{found:?}");
    }
    let works = [both.shoulder.work(&EVEN, false), both.elbow.unwrap().work(&EVEN, false)];
    assert!((works[0] - shoulder).abs() < 0.002 && (works[1] - elbow).abs() < 0.002, "{works:?}");
    assert!((both.elbow_part(&EVEN) - part).abs() < 0.004, "{}", both.elbow_part(&EVEN));
}

#[rstest]
#[case::level_trunk(ArmWay::Row { from_deg: 0.0, to_deg: 90.0, lean_deg: 0.0 }, [0.197, 0.516, 0.287], 0.2835)]
#[case::past_the_back(ArmWay::Row { from_deg: 10.0, to_deg: 100.0, lean_deg: 0.0 }, [0.158, 0.444, 0.398], 0.3284)]
fn rows_are_hardest_where_the_elbow_is_highest(#[case] way: ArmWay, #[case] shares: [f64; 3], #[case] work: f64) {
    let row = TwoJoint::of(way, Metres(1.75));
    let found = row.shoulder.shares(&EVEN).unwrap();
    for (actual, expected) in found.iter().zip(shares) {
        assert!((actual - expected).abs() < 0.006, "{found:?}");
    }
    assert!((row.shoulder.work(&EVEN, false) - work).abs() < 0.002 && row.elbow.is_none());
}

/// Moment of the shoulder at five equal steps of a bench press: the weight is nearly gone at the top.
#[test]
fn the_chest_is_nearly_unloaded_at_the_top_of_a_press() {
    let arm = TwoJoint::of(press(-25.0, 0.10), Metres(1.75)).shoulder.arm;
    for (sample, expected) in [(0, 0.257), (15, 0.218), (30, 0.178), (45, 0.139), (59, 0.100)] {
        assert!((arm[sample] - expected).abs() < 0.004, "{} at {sample}", arm[sample]);
    }
}

/// What the words must say of floor, handles, narrow hands and squeezes.
#[test]
fn the_ways_differ_as_they_do_in_life() {
    let lengthened = |way| TwoJoint::of(way, Metres(1.75)).shoulder.shares(&EVEN).unwrap()[0];
    assert!(lengthened(press(0.0, 0.1)) < 0.5 * lengthened(press(-25.0, 0.1)), "the floor takes the stretch away");
    assert!(lengthened(chest_at(0.15, 0.06)) > lengthened(push_up(0.15)), "handles add it");
    let elbow = |way| TwoJoint::of(way, Metres(1.75)).elbow_part(&EVEN);
    assert!(elbow(chest_at(0.05, 0.16)) > 0.8 && elbow(push_up(0.20)) < 0.2);
}

proptest! {
    /// The works of the two signed moments add up to the load times its way.
    #[test]
    fn the_works_add_up_to_the_way(bottom in -60.0f64..10.0, end in 0.0f64..0.28, stature in 1.4f64..2.1) {
        let (upper, lower) = (0.162 * stature, 0.195 * stature);
        let q = bottom.to_radians();
        let x = end * stature / 1.75;
        let top = ((0.98 * (upper + lower)).powi(2) - x * x).sqrt();
        let way = top - (upper * q.sin() + lower);
        let both = TwoJoint::of(press(bottom, end), Metres(stature));
        prop_assert!((both.way_of_load() - way).abs() < 0.002, "{} {way}", both.way_of_load());
    }

    #[test]
    fn push_ups_add_up_too(out in 0.05f64..0.25, bottom in 0.06f64..0.18, stature in 1.4f64..2.1) {
        let scale = stature / 1.75;
        let arm = 0.98 * (0.162 + 0.195) * stature;
        let way = (arm * arm - (out * scale).powi(2)).sqrt() - bottom * scale;
        let both = TwoJoint::of(ArmWay::PushUp { hands_out: out, bottom }, Metres(stature));
        prop_assert!((both.way_of_load() - way).abs() < 0.002, "{} {way}", both.way_of_load());
        let shares = both.shoulder.shares(&EVEN).unwrap();
        prop_assert!((shares.iter().sum::<f64>() - 1.0).abs() < 1e-9);
    }
}
