//! Further reference numbers of the load model: sensitivities, published studies, uncertainties, limits, holds.

use bavrek_core::holds::{HoldingJoint, progress, seconds_to_failure};
use bavrek_core::kit::{KitItem, LoopBand};
use bavrek_core::mechanics::MechanicsError;
use bavrek_core::mechanics::band::{Rubber, choked, hooked, stood_on, tube_stood_on};
use bavrek_core::mechanics::lever::{LeverLoad, PUSH_UP_SHARE, PushUp, Support, inverted_row, moved_share};
use bavrek_core::mechanics::path::{AnchoredPath, kilogram_force};
use bavrek_core::mechanics::profile::{SAMPLES, share_distance};
use bavrek_core::mechanics::ring_curl::RingCurl;
use bavrek_core::mechanics::single_joint::{BandPull, JointAction, SingleJoint};
use bavrek_core::movement::Hands;
use bavrek_core::person::Sex;
use bavrek_core::ranges::{self, LegalRange};
use bavrek_core::reps;
use bavrek_core::rigging::{BandFix, BandInUse};
use bavrek_core::units::{Degrees, GRAVITY, Kilograms, Metres};
use proptest::prelude::*;
use rstest::rstest;

fn within(actual: f64, expected: f64, tolerance: f64) {
    assert!((actual - expected).abs() <= tolerance, "{actual} is not {expected} within {tolerance}");
}

fn loop_of(width_mm: f64) -> Rubber {
    Rubber::from_geometry(Metres(width_mm / 1000.0), Metres(0.0045))
}

// Bands.

#[rstest]
#[case::narrow(13.0, [5.0, 16.0], [0.48, 2.73])]
#[case::light(22.0, [11.0, 29.0], [0.71, 3.00])]
#[case::medium(32.0, [16.0, 39.0], [0.71, 2.69])]
#[case::heavy(45.0, [23.0, 54.0], [0.73, 2.63])]
#[case::widest(64.0, [29.0, 79.0], [0.61, 2.74])]
fn printed_ranges_are_met_near_the_stated_elongations(
    #[case] width: f64,
    #[case] printed: [f64; 2],
    #[case] elongation: [f64; 2],
) {
    for (kg, e) in printed.into_iter().zip(elongation) {
        let force = 2.0 * loop_of(width).strand_force(1.0 + e) / GRAVITY;
        // The elongation is stated to a hundredth, which is up to 2 % of the force where the band is short.
        within(force, kg, 0.02 * kg);
    }
}

#[rstest]
#[case(1.25, 3.96)]
#[case(1.5, 2.10)]
#[case(2.0, 1.30)]
#[case(2.5, 1.10)]
#[case(3.0, 1.03)]
fn sensitivity_to_length(#[case] stretch: f64, #[case] expected: f64) {
    within(loop_of(22.0).sensitivity(stretch), expected, 0.006);
    assert_eq!(loop_of(22.0).sensitivity(1.0), f64::INFINITY);
}

#[rstest]
#[case::at_half(1.5, 2.4)]
#[case::at_twice(2.0, 3.9)]
#[case::at_three_times(3.0, 4.9)]
fn a_force_error_of_five_percent_allows_so_much_of_the_rest_length(#[case] stretch: f64, #[case] percent: f64) {
    within(5.0 / loop_of(22.0).sensitivity(stretch), percent, 0.06);
}

/// Rubber with one coefficient and G = 0.40 `MPa`.
fn neo_hookean(stretch: f64, area: f64) -> f64 {
    0.40e6 * area * (stretch - stretch.powi(-2))
}

#[rstest]
#[case::half(1.5, -0.03, 0.03)]
#[case::twice(2.0, -0.03, 0.03)]
#[case::two_and_a_half(2.5, 0.045, 0.075)]
#[case::three_times(3.0, 0.045, 0.075)]
fn one_coefficient_agrees_up_to_twice_and_overshoots_beyond(
    #[case] stretch: f64,
    #[case] least: f64,
    #[case] most: f64,
) {
    let two = loop_of(22.0).strand_force(stretch);
    let off = neo_hookean(stretch, 0.022 * 0.0045) / two - 1.0;
    assert!((least..=most).contains(&off), "{off}");
    let legal = Rubber { p: 39.6, q: 0.0, source_sd: 0.2 };
    within(legal.strand_force(stretch), 39.6 * (stretch - stretch.powi(-2)), 1e-9);
}

#[test]
fn the_default_ratio_is_that_of_the_default_coefficients() {
    let rubber = loop_of(22.0);
    within(rubber.q / rubber.p, 0.294, 0.0005);
}

#[test]
fn the_largest_residual_of_the_worked_fit() {
    let points = [(1.30, 4.9), (1.56, 8.0), (1.82, 10.4), (2.08, 12.9), (2.34, 14.8), (2.60, 17.1)];
    let readings: Vec<_> = points.iter().map(|(d, kg)| (Metres(*d), Kilograms(*kg))).collect();
    let fit = Rubber::from_measurements(&readings, Metres(1.04), 2).unwrap();
    let off = |(d, kg): &(f64, f64)| (2.0 * fit.rubber.strand_force(d / 1.04) / GRAVITY / kg - 1.0).abs();
    within(points.iter().map(off).fold(0.0, f64::max), 0.0236, 0.0003);
    assert!(!fit.measure_again);
}

#[rstest]
#[case::scattered(&[(1.30, 4.9), (1.56, 9.6), (1.82, 10.4), (2.08, 15.2)])]
#[case::straight_line(&[(1.30, 2.0), (1.56, 4.0), (1.82, 6.0), (2.08, 8.0), (2.60, 12.0)])]
fn readings_off_any_rubber_advise_to_measure_again(#[case] points: &[(f64, f64)]) {
    let readings: Vec<_> = points.iter().map(|(d, kg)| (Metres(*d), Kilograms(*kg))).collect();
    assert!(Rubber::from_measurements(&readings, Metres(1.04), 2).unwrap().measure_again);
}

#[test]
fn measurements_win_over_geometry_and_geometry_over_a_rating() {
    let all = LoopBand {
        count: 1,
        flat_length_m: Metres(1.04),
        width_m: Some(Metres(0.022)),
        thickness_m: Some(Metres(0.0045)),
        rated_kg: Some([11.0, 29.0]),
        measured: Some(vec![bavrek_core::kit::MeasuredPoint {
            length_m: Metres(1.56),
            kg: Kilograms(8.0),
            simulated: false,
        }]),
        ..LoopBand::default()
    };
    let sd = |b: &LoopBand| b.rubber().unwrap().source_sd;
    assert_eq!(sd(&all), 0.10);
    let sized = LoopBand { measured: None, ..all.clone() };
    assert_eq!(sd(&sized), 0.20);
    let rated = LoopBand { width_m: None, ..sized };
    assert!(sd(&rated) >= 0.15 && sd(&rated) < 0.20);
    assert_eq!(LoopBand { rated_kg: None, ..rated }.rubber(), Err(MechanicsError::BandUnknown));
}

#[test]
fn wrapped_and_stood_on_rubber_counts_as_frozen() {
    // Twice the pole takes a full turn more rubber; a band gripped nearer is as much shorter.
    let (thin, thick) = (
        choked(Metres(1.04), Metres(0.0045), Metres(0.05), Metres(0.03)),
        choked(Metres(1.04), Metres(0.0045), Metres(0.10), Metres(0.03)),
    );
    within(thin.value() - thick.value(), std::f64::consts::PI * 0.05, 1e-9);
    within(tube_stood_on(Metres(1.2), Metres(0.2)).value(), 0.5, 1e-9);
    within(stood_on(Metres(1.04), Metres(0.2), Metres(0.1)).value(), 0.89, 1e-9);
    assert!(hooked(Metres(1.04), Metres(0.0045), Metres(0.03), Metres(0.03)) > thin);
}

#[rstest]
#[case::hung(BandFix::Hung, 0.986, 2.0)]
#[case::choked(BandFix::Choked, 0.842, 2.0)]
#[case::doubled(BandFix::Doubled, 0.493, 4.0)]
fn a_loop_on_an_anchor_by_how_it_is_fixed(#[case] fix: BandFix, #[case] free: f64, #[case] strands: f64) {
    let band = BandInUse { rubber: loop_of(22.0), flat: Metres(1.04), tube: false, count: 2 };
    let found = band.anchored(Hands::Each, Metres(0.0), fix);
    within(found.free.value(), free, 0.0006);
    assert_eq!(found.strands, strands);
    // Gripped nearer, it is as much shorter.
    within(band.anchored(Hands::Each, Metres(0.1), fix).free.value(), free - 0.1, 0.0006);
}

#[rstest]
#[case::too_short(Metres(0.10), Metres(0.2), MechanicsError::TooShort(0.10))]
#[case::not_finite(Metres(f64::NAN), Metres(0.2), MechanicsError::NotFinite)]
#[case::infinite(Metres(1.0), Metres(f64::INFINITY), MechanicsError::NotFinite)]
fn a_band_that_gives_no_force(#[case] free: Metres, #[case] distance: Metres, #[case] error: MechanicsError) {
    let found = loop_of(22.0).force(2.0, distance, free).unwrap_err();
    assert_eq!(format!("{found:?}"), format!("{error:?}"));
}

#[test]
fn an_anchor_at_the_hand_has_no_direction() {
    let path = AnchoredPath {
        rubber: loop_of(22.0),
        strands: 2.0,
        free: Metres(0.9),
        anchor: [0.3, 0.0],
        start: [0.0, 0.0],
        end: [0.6, 0.0],
    };
    assert_eq!(path.profile(), Err(MechanicsError::AnchorAtHand));
    assert_eq!(AnchoredPath { start: [0.6, 0.0], ..path }.force_at(0.5), Err(MechanicsError::NoLoad));
    let joint = SingleJoint::new(JointAction::Curl, Degrees(0.0), Degrees(0.0), Metres(1.75), false);
    let (hand, _) = joint.hand(70.0);
    let pull = BandPull { rubber: loop_of(13.0), strands: 2.0, free: Metres(0.9), anchor: hand };
    assert_eq!(joint.moment_of_band(&pull, 70.0), Err(MechanicsError::AnchorAtHand));
}

// Single joints and presses.

#[rstest]
#[case::same(0.05, "same")]
#[case::close(0.2, "close")]
#[case::different(0.3, "different")]
fn match_of_two_curves(#[case] moved: f64, #[case] word: &str) {
    let (a, b) = ([0.4, 0.4, 0.2], [0.4 - moved, 0.4, 0.2 + moved]);
    let distance = share_distance(&a, &b);
    within(distance, moved, 1e-12);
    let said = if distance <= 0.12 {
        "same"
    } else if distance <= 0.25 {
        "close"
    } else {
        "different"
    };
    assert_eq!(said, word);
}

#[test]
fn an_incline_curl_has_the_curve_of_a_standing_one_and_another_stretch() {
    let curl = |torso| SingleJoint::new(JointAction::Curl, Degrees(0.0), Degrees(torso), Metres(1.75), false);
    assert_eq!(curl(0.0).kilogram_profile(), curl(-45.0).kilogram_profile());
    assert_eq!((curl(0.0).stretch_tag(), curl(-45.0).stretch_tag()), (0, 1));
}

#[rstest]
#[case::straight_up(0.0, 1.0)]
#[case::thirty_off(30.0, 0.8660)]
#[case::straight_out(90.0, 0.0)]
fn a_dumbbell_on_a_slanted_path(#[case] degrees: f64, #[case] share: f64) {
    within(kilogram_force(Degrees(degrees)) / GRAVITY, share, 1e-4);
}

#[rstest]
#[case(10.0, 9.1)]
#[case(40.0, 59.6)]
#[case(70.0, 73.9)]
#[case(100.0, 68.4)]
#[case(130.0, 55.1)]
fn ring_curl_over_its_peak(#[case] elbow: f64, #[case] moment: f64) {
    let table = [(10.0, 0.124), (40.0, 0.805), (70.0, 0.999), (100.0, 0.924), (130.0, 0.745)];
    let curl =
        RingCurl { stature: Metres(1.75), body_mass: Kilograms(75.0), start_angle: Degrees(50.0), strap: Metres(1.2) };
    let peak = (0..=400)
        .filter_map(|i| curl.point(Degrees(10.0 + 0.3 * f64::from(i))).ok())
        .map(|p| p.moment)
        .fold(0.0, f64::max);
    within(peak, 74.0, 0.37);
    let normalised = table.iter().find(|(a, _)| *a == elbow).unwrap().1;
    within(curl.point(Degrees(elbow)).unwrap().moment / peak, normalised, 0.004);
    within(curl.point(Degrees(elbow)).unwrap().moment, moment, 0.4);
}

// Body-weight levers.

/// A study of suspension straps, by the angle from the vertical; the model is known to read lower.
#[rstest]
#[case(30.0, 0.356, 0.37)]
#[case(45.0, 0.504, 0.53)]
#[case(60.0, 0.617, 0.68)]
#[case(75.0, 0.689, 0.79)]
fn strap_rows_against_a_study(#[case] from_vertical: f64, #[case] model: f64, #[case] published: f64) {
    let LeverLoad { fraction, log_sd, .. } = inverted_row(Degrees(90.0 - from_vertical), Degrees(90.0)).unwrap();
    within(fraction, model, 0.0012);
    assert_eq!(log_sd, 0.10);
    assert!((published - fraction) > 0.0 && (published - fraction) < 0.105, "{published} {fraction}");
}

#[rstest]
#[case::peak_flat(0.64, Support::Toes, 0.0, 0.0, 0.64)]
#[case::feet_raised(0.64, Support::Toes, 0.0, 0.3048, 0.70)]
#[case::hands_raised(0.64, Support::Toes, 0.6096, 0.0, 0.41)]
#[case::on_knees(0.64, Support::Knees, 0.0, 0.0, 0.49)]
fn push_ups_against_the_published_study(
    #[case] flat: f64,
    #[case] support: Support,
    #[case] hands: f64,
    #[case] feet: f64,
    #[case] published: f64,
) {
    let posture = PushUp { support, hands: Metres(hands), feet: Metres(feet) };
    within(posture.load(Metres(1.75), flat).unwrap().fraction, published, 0.011);
}

#[test]
fn the_bottom_of_a_flat_push_up_against_the_static_study() {
    let posture = PushUp { support: Support::Toes, hands: Metres(0.0), feet: Metres(0.0) };
    within(0.69 * posture.bottom_over_top(), 0.748, 0.002);
}

#[rstest]
#[case::toes(Support::Toes, 0.0, 0.06)]
#[case::toes_hands_raised(Support::Toes, 0.4, 0.06)]
#[case::knees(Support::Knees, 0.0, 0.06)]
#[case::knees_hands_raised(Support::Knees, 0.4, 0.12)]
fn certainty_of_a_push_up(#[case] support: Support, #[case] hands: f64, #[case] sd: f64) {
    let posture = PushUp { support, hands: Metres(hands), feet: Metres(0.0) };
    assert_eq!(posture.load(Metres(1.75), PUSH_UP_SHARE).unwrap().log_sd, sd);
}

#[rstest]
#[case::within_the_data(0.60, Ok(false))]
#[case::beyond_the_data(0.70, Ok(true))]
#[case::last_stated(0.979, Ok(true))]
#[case::wall(0.99, Err(MechanicsError::WallPushUp))]
fn how_high_a_push_up_is_stated(#[case] hands: f64, #[case] expected: Result<bool, MechanicsError>) {
    let posture = PushUp { support: Support::Toes, hands: Metres(hands), feet: Metres(0.0) };
    assert_eq!(posture.load(Metres(1.75), PUSH_UP_SHARE).map(|l| l.beyond_data), expected);
}

#[rstest]
#[case::man(Some(Sex::Male), 0.9554)]
#[case::woman(Some(Sex::Female), 0.9612)]
#[case::not_known(None, 0.958)]
fn what_a_chin_up_moves(#[case] sex: Option<Sex>, #[case] share: f64) {
    within(moved_share(sex), share, 1e-9);
}

#[test]
fn a_strap_that_would_be_slack_is_refused() {
    assert_eq!(inverted_row(Degrees(95.0), Degrees(90.0)), Err(MechanicsError::SlackStrap));
    assert_eq!(inverted_row(Degrees(f64::NAN), Degrees(90.0)), Err(MechanicsError::NotFinite));
}

// Repetitions, tempo, holds.

/// Percent of the maximum on the usual chart.
const CHART: [(f64, f64); 12] = [
    (1.0, 100.0),
    (2.0, 95.0),
    (3.0, 93.0),
    (4.0, 90.0),
    (5.0, 87.0),
    (6.0, 85.0),
    (7.0, 83.0),
    (8.0, 80.0),
    (9.0, 77.0),
    (10.0, 75.0),
    (11.0, 70.0),
    (12.0, 67.0),
];

fn epley(n: f64) -> f64 {
    100.0 / (1.0 + n / 30.0)
}
fn brzycki(n: f64) -> f64 {
    100.0 * (37.0 - n) / 36.0
}
fn wathan(n: f64) -> f64 {
    48.8 + 53.8 * (-0.075 * n).exp()
}
fn mayhew(n: f64) -> f64 {
    52.2 + 41.9 * (-0.055 * n).exp()
}
fn ours(n: f64) -> f64 {
    100.0 * reps::share_of_maximum(n)
}

#[rstest]
#[case::epley(epley, [96.8, 93.8, 90.9, 85.7, 83.3, 78.9, 75.0, 71.4, 66.7, 60.0, 54.5, 50.0])]
#[case::brzycki(brzycki, [100.0, 97.2, 94.4, 88.9, 86.1, 80.6, 75.0, 69.4, 61.1, 47.2, 33.3, 19.4])]
#[case::wathan(wathan, [98.7, 95.1, 91.8, 85.8, 83.1, 78.3, 74.2, 70.7, 66.3, 60.8, 57.1, 54.5])]
#[case::mayhew(mayhew, [91.9, 89.7, 87.7, 84.0, 82.3, 79.2, 76.4, 73.9, 70.6, 66.1, 62.8, 60.2])]
fn the_relation_stays_near_the_published_ones_where_they_agree(#[case] theirs: fn(f64) -> f64, #[case] row: [f64; 12]) {
    let ns = [1.0, 2.0, 3.0, 5.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 25.0, 30.0];
    for (n, expected) in ns.into_iter().zip(row) {
        within(theirs(n), expected, 0.06);
        // Between five and twelve repetitions all of them are within a few percent; ours never collapses beyond.
        if (5.0..=12.0).contains(&n) {
            within(ours(n), theirs(n), 4.0);
        }
    }
    assert!(ours(30.0) > 50.0);
}

fn root_mean_square(law: fn(f64) -> f64, points: &[(f64, f64)]) -> f64 {
    let squares: f64 = points.iter().map(|(n, percent)| (law(*n) / percent).ln().powi(2)).sum();
    (squares / points.len() as f64).sqrt()
}

#[rstest]
#[case::ours(ours, 0.027, 0.024)]
#[case::epley(epley, 0.028, 0.038)]
#[case::brzycki(brzycki, 0.025, 0.295)]
#[case::wathan(wathan, 0.023, 0.023)]
#[case::mayhew(mayhew, 0.056, 0.060)]
fn log_errors_against_the_chart(#[case] law: fn(f64) -> f64, #[case] chart: f64, #[case] with_long_sets: f64) {
    let points: Vec<_> = CHART.iter().copied().chain([(15.0, 65.0)]).collect();
    within(root_mean_square(law, &points), chart, 0.0016);
    // Beyond the chart the mean of three published relations stands in for it.
    let long = [15.0, 20.0, 25.0, 30.0].map(|n| (n, (epley(n) + wathan(n) + mayhew(n)) / 3.0));
    let points: Vec<_> = CHART.iter().copied().chain(long).collect();
    within(root_mean_square(law, &points), with_long_sets, 0.01);
}

#[rstest]
#[case::five_to_failure(5.0, 0.0, 0.055)]
#[case::eight_with_one(8.0, 1.0, 0.077)]
#[case::eight_with_three(8.0, 3.0, 0.091)]
#[case::ten_with_two(10.0, 2.0, 0.093)]
#[case::twelve_to_failure(12.0, 0.0, 0.090)]
#[case::twelve_with_four(12.0, 4.0, 0.112)]
#[case::twenty_with_two(20.0, 2.0, 0.131)]
#[case::twenty_eight_with_one(28.0, 1.0, 0.152)]
fn certainty_of_a_maximum(#[case] done: f64, #[case] rir: f64, #[case] sd: f64) {
    let far = if rir >= 4.0 { 0.06f64.powi(2) } else { 0.0 };
    let found = (reps::maximum_log_sd(done, rir).unwrap().powi(2) - far).sqrt();
    within(found, sd, 0.0011);
    assert_eq!(reps::maximum(2.0, done, rir).is_some(), done + rir <= 12.0);
}

#[test]
fn reporting_far_from_failure_adds_its_own_doubt() {
    let without = (reps::reference_log_sd(12.0, 4.0).unwrap().powi(2) - 0.06f64.powi(2)).sqrt();
    within(without, 0.052, 0.0006);
}

#[rstest]
#[case::elbow_half(HoldingJoint::Elbow, 0.5, 83.0)]
#[case::shoulder_half(HoldingJoint::Shoulder, 0.5, 53.0)]
#[case::elbow_whole(HoldingJoint::Elbow, 1.0, 17.98)]
#[case::shoulder_whole(HoldingJoint::Shoulder, 1.0, 14.86)]
fn endurance_of_a_hold(#[case] joint: HoldingJoint, #[case] fraction: f64, #[case] seconds: f64) {
    within(seconds_to_failure(joint, fraction).unwrap(), seconds, 0.6);
}

#[rstest]
#[case::longer(30.0, 45.0, Some(0.2027))]
#[case::shorter(45.0, 30.0, Some(-0.2027))]
#[case::nothing_before(0.0, 30.0, None)]
fn progress_of_a_hold(#[case] before: f64, #[case] after: f64, #[case] expected: Option<f64>) {
    match (progress(before, after), expected) {
        (Some(a), Some(e)) => within(a, e, 1e-3),
        (a, e) => assert_eq!(a, e),
    }
}

// What is legal.

#[rstest]
#[case::stature(ranges::STATURE, 1.2, 2.3)]
#[case::body_mass(ranges::BODY_MASS, 30.0, 250.0)]
#[case::band_width(ranges::BAND_WIDTH, 0.003, 0.110)]
#[case::band_thickness(ranges::BAND_THICKNESS, 0.001, 0.008)]
#[case::band_length(ranges::BAND_LENGTH, 0.15, 3.0)]
fn legal_ranges(#[case] range: LegalRange, #[case] min: f64, #[case] max: f64) {
    for inside in [min, max, 0.5 * (min + max)] {
        assert!(range.check("field", inside).is_ok());
    }
    for outside in [min - 1e-6, max + 1e-6, -1.0, 0.0, f64::NAN, f64::INFINITY] {
        let error = range.check("field", outside).unwrap_err();
        assert!(error.path == "field" && error.message.starts_with("must be between"), "{error:?}");
    }
}

#[rstest]
#[case::cracked_by_overload(r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"rated_kg":[5,60]}"#, "rated_kg")]
#[case::slack_points(
    r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"measured":[{"length_m":1.05,"kg":1}]}"#,
    "measured"
)]
#[case::absurd_width(
    r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.5,"thickness_m":0.004}"#,
    "width_m"
)]
#[case::negative_length(r#"{"kind":"tube_band","count":1,"rest_length_m":-1,"rated_kg":[5,10]}"#, "rest_length_m")]
#[case::nothing_known(r#"{"kind":"loop_band","count":1,"flat_length_m":1.04}"#, "width_m")]
fn a_band_that_cannot_be_used_names_its_field(#[case] json: &str, #[case] field: &str) {
    let item: KitItem = serde_json::from_str(json).unwrap();
    assert_eq!(item.validate().unwrap_err().path, field);
}

proptest! {
    #[test]
    fn a_dumbbell_moment_over_its_mass_does_not_depend_on_the_mass(kg in 0.1f64..80.0, angle in 10.0f64..130.0) {
        let joint = SingleJoint::new(JointAction::Curl, Degrees(20.0), Degrees(0.0), Metres(1.7), false);
        let profile = joint.kilogram_profile().times(kg);
        let place = (((angle - 10.0) / 120.0) * (SAMPLES as f64 - 1.0)) as usize;
        prop_assert!((profile.0[place] / kg - joint.kilogram_profile().0[place]).abs() < 1e-9);
    }

    #[test]
    fn a_fit_gives_back_the_rubber_that_was_measured(width in 8.0f64..80.0, rest in 0.4f64..1.4) {
        let rubber = loop_of(width);
        let points: Vec<_> = [1.25, 1.5, 2.0, 2.5, 3.0]
            .map(|s| (Metres(rest * s), Kilograms(2.0 * rubber.strand_force(s) / GRAVITY)))
            .to_vec();
        let fit = Rubber::from_measurements(&points, Metres(rest), 2).unwrap();
        prop_assert!((fit.rubber.p / rubber.p - 1.0).abs() < 1e-4 && (fit.rubber.q / rubber.q - 1.0).abs() < 1e-3);
        prop_assert!(!fit.measure_again);
    }

    #[test]
    fn a_hold_lasts_shorter_the_harder_it_is(a in 0.1f64..0.95, more in 0.01f64..0.05) {
        for joint in [HoldingJoint::Elbow, HoldingJoint::Shoulder] {
            prop_assert!(seconds_to_failure(joint, a + more) < seconds_to_failure(joint, a));
        }
    }
}
