//! Postures, planks, body extensions and set-ups: what must hold of them for everybody.

use bavrek_core::anatomy::{ArmPosition, Implement, Pattern, Region, Surface};
use bavrek_core::kit::LoopBand;
use bavrek_core::mechanics::MechanicsError;
use bavrek_core::mechanics::body_extension::{BodyExtension, ELBOW_RANGE};
use bavrek_core::mechanics::bridge::{Base, Bridge, Rest};
use bavrek_core::mechanics::lever::{DipSupport, edge_dip_share, pike_share};
use bavrek_core::mechanics::profile::{Profile, SAMPLES};
use bavrek_core::mechanics::single_joint::{FOREARM, JointAction, SingleJoint, TRUNK, UPPER_ARM};
use bavrek_core::movement::{CarryOver, Cues, Hands, Mount, Movement, Pose, RigModel, Stance, Style, View};
use bavrek_core::person::{Experience, Person};
use bavrek_core::posture::{Posture, SHANK, THIGH};
use bavrek_core::rigging::Setup;
use bavrek_core::rigging::{BandInUse, Loads, Notice, Rigged, anchor_distance, anchor_point, trunk_lean};
use bavrek_core::units::{Degrees, GRAVITY, Kilograms, Metres};
use proptest::prelude::*;
use rstest::rstest;

fn within(actual: f64, expected: f64, tolerance: f64) {
    assert!((actual - expected).abs() <= tolerance, "{actual} is not {expected} within {tolerance}");
}

fn apart(a: [f64; 2], b: [f64; 2]) -> f64 {
    (a[0] - b[0]).hypot(a[1] - b[1])
}

fn movement(rig: RigModel, pose: Pose, implement: Implement) -> Movement {
    Movement {
        id: "m".into(),
        name: "M".into(),
        synonyms: vec![],
        pattern: Pattern::Fly,
        arm_position: ArmPosition::OutToSide,
        grip: None,
        implements: vec![implement],
        hands: Hands::Each,
        heaviest_kg: None,
        views: None,
        direct: [(Region::ChestSternal, 1.0)].into(),
        assisting: [].into(),
        confidence: 1.0,
        disputed: None,
        name_note: None,
        pose,
        rig,
        style: Style::Reps,
        needs: vec![],
        carry_over: CarryOver { pattern: "p".into(), ratio: 1.0, log_sd: 0.0, basis: 1.0 },
        experience: Experience::Novice,
        stability: 1.0,
        set_up_s: 10,
        change_s: 10,
        limits: vec![],
        drop: vec![],
        variant_of: None,
        yields_to: vec![],
        cautions: vec![],
        easier: None,
        harder: None,
        cues: Cues {
            set_up: String::new(),
            action: String::new(),
            feel: String::new(),
            avoid: String::new(),
            breathing: String::new(),
            range: String::new(),
        },
    }
}

fn pose(stance: Stance, trunk_deg: f64) -> Pose {
    Pose { stance, trunk_deg, trunk_to_deg: None, view: View::Side }
}

// Postures.

#[rstest]
fn segments_keep_their_lengths_in_every_stance(
    #[values(1.45, 1.75, 2.05)] stature: f64,
    #[values(
        (Stance::Standing, 0.0), (Stance::Standing, 70.0), (Stance::Split, 5.0), (Stance::HandSupported, 70.0),
        (Stance::HalfKneeling, 0.0), (Stance::Kneeling, 15.0), (Stance::Seated, 0.0), (Stance::Seated, 45.0),
        (Stance::LyingBack, -45.0), (Stance::SeatedFloor, -5.0), (Stance::Supine, -90.0), (Stance::HipsRaised, -115.0),
        (Stance::ShouldersOnEdge, -62.0), (Stance::ChestSupported, 60.0)
    )]
    stance: (Stance, f64),
) {
    for support in [0.0, 0.44] {
        let found = Posture::of(&pose(stance.0, stance.1), Degrees(stance.1), Metres(stature), Metres(support));
        within(apart(found.hip, found.shoulder), TRUNK * stature, 0.01 * stature);
        for [hip, knee, ankle, toe] in found.legs {
            assert!(apart(hip, found.hip) < 0.03 * stature);
            within(apart(hip, knee), THIGH * stature, 0.03 * stature);
            within(apart(knee, ankle), SHANK * stature, 0.05 * stature);
            assert!([hip, knee, ankle, toe].iter().all(|p| p[1] > -0.01 && p[1] < stature), "{stance:?} {support}");
        }
    }
}

#[rstest]
#[case::a_flat_bench(pose(Stance::Supine, -90.0), Some(0.0), -90.0)]
#[case::an_incline(pose(Stance::LyingBack, -55.0), Some(30.0), -60.0)]
#[case::a_decline(pose(Stance::HipsRaised, -105.0), Some(-20.0), -110.0)]
#[case::chest_on_a_bench(pose(Stance::ChestSupported, 60.0), Some(45.0), 45.0)]
#[case::upright_on_a_bench(pose(Stance::Seated, -8.0), Some(75.0), -8.0)]
#[case::without_a_bench(pose(Stance::Standing, 20.0), None, 20.0)]
fn a_bench_tips_whoever_lies_on_it(#[case] pose: Pose, #[case] bench: Option<f64>, #[case] lean: f64) {
    let press = RigModel::Line {
        start: [0.05, 0.06],
        end: [0.05, 0.34],
        pull: false,
        girdle: false,
        hands_end: None,
        bottom_deg: None,
        mount: None,
    };
    let movement = movement(press, pose, Implement::Dumbbell);
    within(trunk_lean(&movement, bench.map(Degrees)).value(), lean, 1e-9);
}

// Planks and roll-outs.

fn plank(base: Base, rest: Rest) -> Bridge {
    Bridge { stature: Metres(1.75), body_mass: Kilograms(75.0), base, rest, hands: Metres(0.0), feet: Metres(0.0) }
}

#[test]
fn a_plank_is_about_as_hard_as_an_even_beam() {
    let point = plank(Base::Toes, Rest::Forearms).point(Degrees(90.0)).unwrap();
    // An even beam between two supports meets m·g·L/8 in its middle.
    let beam = 75.0 * GRAVITY * point.hand[0] / 8.0;
    assert!((0.5..1.1).contains(&(point.moment / beam)), "{} of {beam}", point.moment);
    within(apart(point.hip, point.shoulder), TRUNK * 1.75, 1e-9);
    within(apart(point.shoulder, point.hand), UPPER_ARM * 1.75, 1e-9);
    within(point.hand[1], 0.0, 1e-9);
}

#[rstest]
#[case::on_toes(Base::Toes)]
#[case::on_knees(Base::Knees)]
fn rolling_out_grows_harder_all_the_way(#[case] base: Base) {
    let wheel = Bridge { hands: Metres(0.09), ..plank(base, Rest::Hands) };
    let moments: Vec<f64> = (85..=150).step_by(5).map(|a| wheel.point(Degrees(f64::from(a))).unwrap().moment).collect();
    assert!(moments.windows(2).all(|w| w[0] < w[1]), "{moments:?}");
}

#[test]
fn toes_are_harder_than_knees_and_hands_below_the_floor_have_no_posture() {
    let at = |base| plank(base, Rest::Forearms).point(Degrees(90.0)).unwrap().moment;
    assert!(at(Base::Toes) > at(Base::Knees));
    let sunk = Bridge { hands: Metres(-3.0), ..plank(Base::Toes, Rest::Hands) };
    assert_eq!(sunk.point(Degrees(90.0)), Err(MechanicsError::NoRingPosture));
    let none = Bridge { stature: Metres(f64::NAN), ..plank(Base::Toes, Rest::Hands) };
    assert_eq!(none.point(Degrees(90.0)), Err(MechanicsError::NotFinite));
}

// Elbow extensions with the body's weight.

fn extension(hands: f64) -> BodyExtension {
    BodyExtension { stature: Metres(1.75), body_mass: Kilograms(75.0), hands: Metres(hands) }
}

#[rstest]
#[case::floor(0.0)]
#[case::bench(0.44)]
#[case::bar(1.0)]
fn the_hands_stay_and_the_arm_keeps_its_length(#[case] hands: f64) {
    let posture = extension(hands);
    let hand = posture.hand().unwrap();
    within(hand[1], hands, 1e-9);
    for angle in [ELBOW_RANGE.0, 60.0, ELBOW_RANGE.1] {
        let point = posture.point(Degrees(angle)).unwrap();
        within(apart(point.hand, hand), 0.0, 1e-9);
        within(apart(point.shoulder, point.elbow), UPPER_ARM * 1.75, 1e-6);
        within(apart(point.elbow, point.hand), FOREARM * 1.75, 1e-6);
        assert!(point.moment > 0.0);
    }
}

#[test]
fn higher_hands_lighten_an_extension_and_a_wall_has_no_number() {
    let work = |h: f64| extension(h).profile().unwrap().work();
    assert!(work(0.0) > work(0.44) && work(0.44) > work(1.0));
    assert_eq!(extension(1.8).profile(), Err(MechanicsError::WallPushUp));
}

// Dips and pikes with the feet supported: moments of segment masses about the feet.

#[rstest]
#[case::hanging(DipSupport::Free, None)]
#[case::legs_straight(DipSupport::EdgeStraightLegs, Some(0.70))]
#[case::knees_bent(DipSupport::EdgeBentLegs, Some(0.61))]
#[case::feet_raised(DipSupport::EdgeFeetRaised, Some(0.72))]
fn share_on_the_hands_of_a_supported_dip(#[case] support: DipSupport, #[case] share: Option<f64>) {
    assert_eq!(edge_dip_share(support), share);
}

#[rstest]
#[case::floor(0.0, 0.50)]
#[case::half_way(0.4638, 0.61)]
#[case::hip_height(0.9275, 0.72)]
#[case::never_more(1.5, 0.72)]
fn share_on_the_hands_of_a_pike(#[case] feet: f64, #[case] share: f64) {
    within(pike_share(Metres(feet), Metres(1.75)), share, 1e-3);
}

// Further joints.

#[rstest]
#[case::wrist(JointAction::Wrist, 0.0)]
#[case::side_bend(JointAction::SideBend, 0.0)]
#[case::hinge(JointAction::Hinge, 0.0)]
#[case::rotation_lying(JointAction::Rotation, -90.0)]
#[case::raise(JointAction::Raise, 0.0)]
fn gravity_loads_these_joints_all_the_way(#[case] action: JointAction, #[case] torso: f64) {
    let joint = SingleJoint::new(action, Degrees(0.0), Degrees(torso), Metres(1.75), false);
    let profile = joint.kilogram_profile();
    let working = profile.0.iter().filter(|v| **v > 0.0).count();
    assert!(working * 10 >= SAMPLES * 9, "{action}: {working} of {SAMPLES}");
}

#[rstest]
#[case::rotation_standing(JointAction::Rotation)]
#[case::twist_standing(JointAction::Twist)]
#[case::fly_standing(JointAction::Fly)]
fn upright_gravity_does_nothing_across_the_body(#[case] action: JointAction) {
    let joint = SingleJoint::new(action, Degrees(0.0), Degrees(0.0), Metres(1.75), false);
    assert!(joint.kilogram_profile().work() < 1e-9);
    assert!(SingleJoint::is_across(action));
}

// Set-ups.

fn loop_band(width: f64) -> BandInUse {
    let band = LoopBand {
        count: 2,
        flat_length_m: Metres(1.04),
        width_m: Some(Metres(width)),
        thickness_m: Some(Metres(0.0045)),
        ..LoopBand::default()
    };
    BandInUse::of(&band.into()).unwrap()
}

fn band_fly(facing: bool) -> Movement {
    let rig = RigModel::SingleJoint {
        action: if facing { JointAction::RearFly } else { JointAction::Fly },
        upper_arm_deg: 0.0,
        range: None,
        floor: false,
        mount: Some(Mount::Anchor { height: [0.6, 0.9], facing }),
    };
    movement(rig, pose(Stance::Standing, 0.0), Implement::LoopBand)
}

fn one(weight: f64, band: Option<BandInUse>) -> Loads {
    Loads { weight: Kilograms(weight), bands: [band, None] }
}

#[test]
fn what_is_said_beside_a_load() {
    let person = Person::default_figure();
    let fly = band_fly(false);
    let at = |distance: f64| {
        let setup = Setup { anchor_distance_m: Some(Metres(distance)), ..Setup::default() };
        Rigged::new(&fly, &person, setup).load(&one(0.0, Some(loop_band(0.013))))
    };
    assert_eq!(at(0.3), Err(MechanicsError::SlackBand));
    assert!(at(0.8).unwrap().notices.contains(&Notice::Slack));
    assert_eq!(at(1.5).unwrap().notices, []);
    assert!(at(2.6).unwrap().notices.iter().any(|n| matches!(n, Notice::LongStretch(p) if *p > 200.0)));
    assert!(matches!(at(4.0), Err(MechanicsError::Overstretched(_))));
}

#[test]
fn farther_and_stronger_is_heavier_and_a_weight_adds_to_a_band() {
    let person = Person::default_figure();
    let fly = band_fly(true);
    let load = |distance: f64, width: f64| {
        let setup = Setup { anchor_distance_m: Some(Metres(distance)), ..Setup::default() };
        Rigged::new(&fly, &person, setup).load(&one(0.0, Some(loop_band(width)))).unwrap().effective().value()
    };
    assert!(load(1.6, 0.013) > load(1.3, 0.013));
    within(load(1.5, 0.026) / load(1.5, 0.013), 2.0, 1e-9);
    let curl = RigModel::SingleJoint {
        action: JointAction::Curl,
        upper_arm_deg: 0.0,
        range: None,
        floor: false,
        mount: Some(Mount::StoodOn),
    };
    let curl = movement(curl, pose(Stance::Standing, 0.0), Implement::Dumbbell);
    let of = |loads: Loads| Rigged::new(&curl, &person, Setup::default()).load(&loads).unwrap();
    let (weight, both) = (of(one(6.0, None)), of(one(6.0, Some(loop_band(0.013)))));
    within(weight.effective().value(), 6.0, 1e-9);
    assert!(both.effective() > weight.effective() && both.thirds[0] < weight.thirds[0]);
    assert!(both.log_sd > weight.log_sd && both.band_share > 0.0 && weight.band_share == 0.0);
}

#[test]
fn a_band_under_the_back_is_stated_between_its_bounds() {
    let person = Person::default_figure();
    let press = RigModel::Line {
        start: [0.05, 0.06],
        end: [0.05, 0.345],
        pull: false,
        girdle: false,
        hands_end: None,
        bottom_deg: None,
        mount: Some(Mount::UnderBack),
    };
    let press = movement(press, pose(Stance::Supine, -90.0), Implement::Dumbbell);
    let answer = Rigged::new(&press, &person, Setup { surface: Some(Surface::Bench), ..Setup::default() })
        .load(&one(12.0, Some(loop_band(0.013))))
        .unwrap();
    within(answer.effective().value(), 19.47, 0.1);
    let Some(Notice::PinnedOrSlipping(pinned, slipping)) = answer.notices.first() else {
        panic!("{:?}", answer.notices)
    };
    within(pinned.value(), 19.47, 0.1);
    within(slipping.value(), 17.95, 0.1);
}

proptest! {
    /// Walking to the distance that gives a length gives that length, to the 5 cm that a distance is stated in.
    #[test]
    fn the_distance_for_a_length_gives_that_length(length in 0.8f64..2.4, rise in -0.4f64..0.6, facing in any::<bool>()) {
        let person = Person::default_figure();
        let movement = band_fly(facing);
        let rigged = Rigged::new(&movement, &person, Setup::default());
        let loaded = rigged.loaded.unwrap();
        if let Some(distance) = anchor_distance(&loaded, &person, rise, length, facing) {
            let anchor = anchor_point(&loaded, &person, rise, distance, facing);
            prop_assert!((apart(loaded.hand(0.0), anchor) - length).abs() < 0.03);
        }
    }

    #[test]
    fn a_profile_between_its_samples_stays_between_them(a in -5.0f64..5.0, b in -5.0f64..5.0, share in 0.0f64..1.0) {
        let profile = Profile::sample(|s| a + (b - a) * s);
        let (low, high) = (a.min(b), a.max(b));
        prop_assert!((low - 1e-9..=high + 1e-9).contains(&profile.at(share)));
        prop_assert!((profile.at(0.5) - 0.5 * (a + b)).abs() < 1e-9);
    }

    #[test]
    fn a_heavier_body_loads_every_lever_in_proportion(mass in 40.0f64..150.0, hands in 0.0f64..0.9) {
        let of = |m: f64| BodyExtension { body_mass: Kilograms(m), ..extension(hands) }.profile().unwrap().work() / m;
        prop_assert!((of(mass) / of(75.0) - 1.0).abs() < 1e-9);
    }
}
