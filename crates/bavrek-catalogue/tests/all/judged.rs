//! Judged cases: kit, limits and intent, and what must lead, must not appear, or must be said. Each is a judgement that
//! an experienced trainer would make; the engine has to come to the same one.

use std::sync::LazyLock;

use crate::common::{intent, kit, person};
use bavrek_catalogue::load;
use bavrek_core::fit::{ExclusionCode, FitAnswer, FitQuestion, Weights, fit};
use bavrek_core::kit::KitItem;
use bavrek_core::method::Method;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::{Experience, Limit, Person};
use bavrek_core::safety::cautions;
use bavrek_core::wording::told;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const DUMBBELLS: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16,20]}"#;
const LIGHT_PAIR: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[4]}"#;
const ONE_HEAVY: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[],"singles":[16]}"#;
const BANDS: &str = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
const PAIRED_BANDS: &str = r#"{"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
const STRONG_BAND: &str = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.045,"thickness_m":0.0045}"#;
const ANCHOR: &str = r#"{"kind":"anchor","heights_m":[0.1,1.2,2.0]}"#;
const LOW_ANCHOR: &str = r#"{"kind":"anchor","heights_m":[0.1]}"#;
const HIGH_ANCHOR: &str = r#"{"kind":"anchor","heights_m":[2.0]}"#;
const BENCH: &str = r#"{"kind":"bench","angles_deg":[0,30,45,60,75]}"#;
const FLAT_BENCH: &str = r#"{"kind":"bench","angles_deg":[0]}"#;
const CHAIR: &str = r#"{"kind":"chair"}"#;
const RINGS: &str = r#"{"kind":"rings","max_height_m":2.2}"#;
const BAR: &str = r#"{"kind":"pull_up_bar","height_m":2.2}"#;
const LOW_BAR: &str = r#"{"kind":"pull_up_bar","height_m":0.9}"#;
const DIP_BARS: &str = r#"{"kind":"dip_bars"}"#;
const BOXES: &str = r#"{"kind":"box","height_m":0.3,"count":2}"#;
const TABLE: &str = r#"{"kind":"table","height_m":0.74}"#;
const BACKPACK: &str = r#"{"kind":"backpack","max_kg":20}"#;
const WHEEL: &str = r#"{"kind":"ab_wheel"}"#;

const FLY: &str = r#"{"pattern":"fly","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3,"reference_exercise":"dumbbell_bench_fly"}"#;
const UPPER_FLY: &str = r#"{"pattern":"fly","regions":{"chest_clavicular":1.0},"reps":[10,15],"rir":2,"sets":3}"#;
const LOWER_FLY: &str = r#"{"pattern":"fly","regions":{"chest_costal":1.0},"reps":[10,15],"rir":2,"sets":3}"#;
const PRESS: &str = r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
const STRETCH_PRESS: &str = r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3,"length_emphasis":"lengthened","reference_exercise":"ring_push_up"}"#;
const INCLINE: &str =
    r#"{"pattern":"incline_press","regions":{"chest_clavicular":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
const DECLINE: &str = r#"{"pattern":"decline_press","regions":{"chest_costal":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
const OVERHEAD: &str = r#"{"pattern":"overhead_press","regions":{"delt_front":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
const SIDE: &str = r#"{"pattern":"side_raise","regions":{"delt_side":1.0},"reps":[12,20],"rir":2,"sets":3}"#;
const REAR: &str = r#"{"pattern":"rear_fly","regions":{"delt_rear":1.0},"reps":[12,20],"rir":2,"sets":3}"#;
const LONG_HEAD_CURL: &str = r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"arm_position":"behind","reps":[8,12],"rir":2,"sets":3}"#;
const SHORT_HEAD_CURL: &str = r#"{"pattern":"elbow_flexion","regions":{"biceps_short":1.0},"arm_position":"in_front","reps":[8,12],"rir":2,"sets":3}"#;
const BRACHIALIS: &str =
    r#"{"pattern":"elbow_flexion","regions":{"brachialis":1.0},"grip":"neutral","reps":[8,12],"rir":2,"sets":3}"#;
const BRACHIORADIALIS: &str = r#"{"pattern":"elbow_flexion","regions":{"brachioradialis":1.0},"grip":"pronated","reps":[10,15],"rir":2,"sets":3}"#;
const TRICEPS_LONG: &str = r#"{"pattern":"elbow_extension","regions":{"triceps_long":1.0},"reps":[8,15],"rir":2,"sets":3,"length_emphasis":"lengthened"}"#;
const TRICEPS_OVERHEAD: &str = r#"{"pattern":"elbow_extension","regions":{"triceps_long":1.0},"arm_position":"overhead","reps":[8,12],"rir":2,"sets":3}"#;
const TRICEPS_LATERAL: &str = r#"{"pattern":"elbow_extension","regions":{"triceps_lateral":1.0},"arm_position":"at_side","reps":[10,15],"rir":2,"sets":3}"#;
const PULL: &str = r#"{"pattern":"vertical_pull","regions":{"lats":1.0},"reps":[6,10],"rir":2,"sets":3}"#;
const CLOSE_ROW: &str = r#"{"pattern":"close_row","regions":{"lats":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
const WIDE_ROW: &str =
    r#"{"pattern":"wide_row","regions":{"traps_middle":1.0,"delt_rear":0.6},"reps":[8,12],"rir":2,"sets":3}"#;
const PULLOVER: &str = r#"{"pattern":"pullover","regions":{"lats":1.0},"reps":[10,15],"rir":2,"sets":3}"#;
const SHRUG: &str = r#"{"pattern":"shrug","regions":{"traps_upper":1.0},"reps":[10,15],"rir":2,"sets":3}"#;
const ROLL_OUT: &str = r#"{"pattern":"trunk","regions":{"trunk_front":1.0},"reps":[8,15],"rir":2,"sets":3}"#;
const FOREARM: &str = r#"{"pattern":"forearm","regions":{"forearm_flexors":1.0},"reps":[12,20],"rir":2,"sets":3}"#;

const SORE_STRETCH: &str = r#"{"joint":"shoulder","what":"pain_deep_stretch","side":"left","severity":"moderate"}"#;
const SORE_OVERHEAD: &str = r#"{"joint":"shoulder","what":"pain_overhead","side":"both","severity":"moderate"}"#;
const STIFF_BEHIND: &str = r#"{"joint":"shoulder","what":"poor_extension","side":"both","severity":"moderate"}"#;
const SORE_ELBOW: &str = r#"{"joint":"elbow","what":"pain_loaded","side":"right","severity":"moderate"}"#;
const SORE_WRIST: &str = r#"{"joint":"wrist","what":"pain_loaded","side":"both","severity":"moderate"}"#;
const SORE_GRIP: &str = r#"{"joint":"wrist","what":"pain_gripping","side":"both","severity":"moderate"}"#;

/// What is expected of an answer.
#[derive(Debug, Clone, Copy)]
enum Judged {
    /// It ranks first.
    First(&'static str),
    /// It is among the first three.
    Three(&'static str),
    /// The first of these ranks before the second.
    Before(&'static str, &'static str),
    /// It is ruled out for this reason.
    Out(&'static str, ExclusionCode),
    /// It is not offered, for whatever reason.
    Never(&'static str),
    /// It is offered and this is said of it.
    Says(&'static str, &'static str),
    /// It is offered, and there are steps above its start.
    Climbs(&'static str),
    /// It is offered and starts on this step.
    Starts(&'static str, &'static str),
    /// Nothing is offered.
    Nothing,
}

use ExclusionCode::{Experience as TooSoon, Kit, Limit as ByLimit, NoLoadOnTarget, OutOfReach, TooLight};
use Judged::{Before, Climbs, First, Never, Nothing, Out, Says, Starts, Three};

fn place(answer: &FitAnswer<'_>, id: &str) -> Option<usize> {
    answer.candidates.iter().position(|c| c.movement.id == id)
}

fn check(answer: &FitAnswer<'_>, kit: &[KitItem], judged: Judged) {
    let order: Vec<_> = answer.candidates.iter().take(6).map(|c| format!("{} {:.3}", c.movement.id, c.score)).collect();
    let at = |id: &str| answer.candidates.iter().find(|c| c.movement.id == id);
    let code = |id: &str| answer.excluded.iter().find(|e| e.movement.id == id).map(|e| e.why[0].code());
    let holds = match judged {
        First(id) => place(answer, id) == Some(0),
        Three(id) => place(answer, id).is_some_and(|p| p < 3),
        Before(a, b) => match (place(answer, a), place(answer, b)) {
            (Some(a), Some(b)) => a < b,
            (a, b) => a.is_some() && b.is_none(),
        },
        Out(id, why) => code(id) == Some(why),
        Never(id) => CATALOGUE.movement(id).is_some() && place(answer, id).is_none(),
        Says(id, text) => at(id).is_some_and(|c| {
            let cautions = cautions(&CATALOGUE, c.movement, c.step(), kit).into_iter().map(|c| c.text);
            [told(&c.kept), told(&c.lost), told(&c.reasons)]
                .concat()
                .into_iter()
                .chain(cautions)
                .any(|t| t.contains(text))
        }),
        Climbs(id) => at(id).is_some_and(|c| c.ladder.headroom(c.start.step) > 0),
        Starts(id, label) => at(id).is_some_and(|c| c.step().label == label),
        Nothing => answer.candidates.is_empty(),
    };
    assert!(holds, "{judged:?} does not hold; the order is {}", order.join(", "));
}

fn judge(person: &Person, wanted: &str, items: &[&str], judged: Judged) {
    let (kit, wanted) = (kit(&format!("[{}]", items.join(","))), intent(wanted));
    check(&fit(&CATALOGUE, &FitQuestion::plain(person, &kit, &wanted)), &kit, judged);
}

#[rstest]
// Chest.
#[case::fly_on_a_bench(FLY, &[DUMBBELLS, BENCH], First("dumbbell_bench_fly"))]
#[case::fly_without_a_bench(FLY, &[DUMBBELLS], First("dumbbell_floor_fly"))]
#[case::floor_fly_says_what_is_lost(FLY, &[DUMBBELLS], Says("dumbbell_floor_fly", "less work lengthened"))]
#[case::fly_with_paired_bands(FLY, &[PAIRED_BANDS, ANCHOR], First("band_fly"))]
#[case::fly_with_one_loop_for_one_hand(FLY, &[BANDS, ANCHOR], First("band_fly"))]
#[case::fly_needs_an_anchor(FLY, &[BANDS], Out("band_fly", Kit))]
#[case::standing_fly_is_not_loaded(FLY, &[DUMBBELLS], Out("standing_dumbbell_fly", NoLoadOnTarget))]
#[case::upper_fly_with_a_low_anchor(UPPER_FLY, &[PAIRED_BANDS, LOW_ANCHOR], Three("low_to_high_band_fly"))]
#[case::upper_fly_on_an_incline(UPPER_FLY, &[DUMBBELLS, BENCH], First("incline_dumbbell_fly"))]
#[case::lower_fly_with_a_high_anchor(LOWER_FLY, &[PAIRED_BANDS, HIGH_ANCHOR], Three("high_to_low_band_fly"))]
#[case::low_to_high_is_not_for_the_lower_chest(LOWER_FLY, &[PAIRED_BANDS, ANCHOR], Before("high_to_low_band_fly", "low_to_high_band_fly"))]
#[case::press_on_a_bench(PRESS, &[DUMBBELLS, BENCH], First("dumbbell_bench_press"))]
#[case::press_with_nothing_but_a_floor(PRESS, &[], First("push_up"))]
#[case::pressing_out_loads_no_chest(PRESS, &[DUMBBELLS], Out("standing_dumbbell_press_out", NoLoadOnTarget))]
#[case::no_rings_but_two_boxes(STRETCH_PRESS, &[BOXES], Three("box_push_up"))]
#[case::two_boxes_are_not_one(PRESS, &[r#"{"kind":"box","height_m":0.3,"count":1}"#], Out("box_push_up", Kit))]
#[case::a_backpack_keeps_push_ups_going(PRESS, &[BACKPACK], Climbs("push_up"))]
#[case::a_light_pair_is_too_light(PRESS, &[LIGHT_PAIR, FLAT_BENCH], Out("dumbbell_bench_press", TooLight))]
#[case::a_light_pair_loses_to_the_push_up(PRESS, &[LIGHT_PAIR, FLAT_BENCH], Before("push_up", "dumbbell_bench_press"))]
#[case::one_weight_makes_no_pair(PRESS, &[ONE_HEAVY, FLAT_BENCH], Out("dumbbell_bench_press", Kit))]
#[case::one_weight_presses_with_one_arm(PRESS, &[ONE_HEAVY, FLAT_BENCH], Says("one_arm_bench_press", "one side at a time"))]
#[case::incline_on_a_bench(INCLINE, &[DUMBBELLS, BENCH], First("incline_dumbbell_press"))]
#[case::incline_with_a_chair(INCLINE, &[CHAIR], First("feet_raised_push_up"))]
#[case::incline_with_dumbbells_and_a_chair(INCLINE, &[DUMBBELLS, CHAIR], Three("chair_edge_press"))]
#[case::hands_raised_is_no_incline_press(INCLINE, &[CHAIR], Before("feet_raised_push_up", "incline_push_up"))]
#[case::a_flat_bench_is_no_incline(INCLINE, &[DUMBBELLS, FLAT_BENCH], Out("incline_dumbbell_press", Kit))]
#[case::lower_chest_on_bars(DECLINE, &[DIP_BARS], First("bar_dip"))]
#[case::lowering_alone_is_the_second_choice(DECLINE, &[DIP_BARS], Before("bar_dip", "slow_lowering_dip"))]
#[case::lower_chest_without_bars(DECLINE, &[DUMBBELLS], Three("hips_raised_floor_press"))]
// Shoulders.
#[case::overhead_with_dumbbells(OVERHEAD, &[DUMBBELLS], Three("overhead_dumbbell_press"))]
#[case::overhead_with_nothing(OVERHEAD, &[], First("pike_push_up"))]
#[case::overhead_with_a_band(OVERHEAD, &[STRONG_BAND], Three("standing_band_overhead_press"))]
#[case::side_raise_with_dumbbells(SIDE, &[DUMBBELLS], Three("side_raise"))]
#[case::side_raise_with_bands(SIDE, &[BANDS], First("band_side_raise"))]
#[case::rear_fly_in_rings(REAR, &[RINGS], First("ring_rear_fly"))]
#[case::rear_fly_bent_over(REAR, &[DUMBBELLS], Three("bent_over_rear_fly"))]
#[case::rear_fly_with_an_anchor(REAR, &[PAIRED_BANDS, ANCHOR], Three("band_rear_fly"))]
// Back.
#[case::pull_on_a_bar(PULL, &[BAR], Three("pull_up"))]
#[case::pull_with_a_high_anchor(PULL, &[BANDS, STRONG_BAND, ANCHOR], Three("band_pulldown"))]
#[case::pull_with_a_low_anchor_only(PULL, &[BANDS, LOW_ANCHOR], Out("band_pulldown", Kit))]
#[case::no_bar_no_chin_up(PULL, &[DUMBBELLS], Out("chin_up", Kit))]
#[case::a_bar_with_a_band_helps(PULL, &[BAR, STRONG_BAND], Three("chin_up"))]
#[case::a_floor_pulls_nothing(PULL, &[], Nothing)]
#[case::close_row_with_dumbbells(CLOSE_ROW, &[DUMBBELLS, BENCH], Three("dumbbell_row"))]
#[case::close_row_at_a_low_bar(CLOSE_ROW, &[LOW_BAR], Three("underhand_inverted_row"))]
#[case::wide_row_in_rings(WIDE_ROW, &[RINGS], Three("inverted_row"))]
#[case::row_at_a_table_warns(WIDE_ROW, &[TABLE], Says("table_row", "table"))]
#[case::wide_row_with_a_band(WIDE_ROW, &[BANDS, ANCHOR], Three("wide_band_row"))]
#[case::pullover_for_the_lats(PULLOVER, &[DUMBBELLS, BENCH], Before("lat_pullover", "dumbbell_pullover"))]
#[case::pullover_with_a_band(PULLOVER, &[BANDS, HIGH_ANCHOR], First("straight_arm_band_pulldown"))]
#[case::shrug_with_dumbbells(SHRUG, &[r#"{"kind":"dumbbells","unit":"kg","pairs":[16,20,24,28,32]}"#], First("dumbbell_shrug"))]
// Arms.
#[case::long_head_with_bands_only(LONG_HEAD_CURL, &[BANDS, LOW_ANCHOR], First("arm_behind_band_curl"))]
#[case::long_head_on_a_bench(LONG_HEAD_CURL, &[DUMBBELLS, BENCH], First("incline_bench_curl"))]
#[case::short_head_arm_in_front(SHORT_HEAD_CURL, &[DUMBBELLS, BENCH], Three("supported_front_curl"))]
#[case::short_head_is_not_a_curl_behind(SHORT_HEAD_CURL, &[DUMBBELLS, BENCH], Before("supported_front_curl", "incline_bench_curl"))]
#[case::short_head_in_rings(SHORT_HEAD_CURL, &[RINGS], First("ring_curl"))]
#[case::brachialis_with_dumbbells(BRACHIALIS, &[DUMBBELLS], First("hammer_curl"))]
#[case::brachialis_with_bands(BRACHIALIS, &[BANDS], First("band_hammer_curl"))]
#[case::palm_down_for_the_forearm(BRACHIORADIALIS, &[DUMBBELLS], First("reverse_curl"))]
#[case::triceps_long_head_with_dumbbells(TRICEPS_OVERHEAD, &[DUMBBELLS], First("overhead_extension"))]
#[case::triceps_long_head_with_bands(TRICEPS_OVERHEAD, &[BANDS], First("overhead_band_extension"))]
#[case::triceps_long_head_with_a_chair(TRICEPS_LONG, &[CHAIR], First("edge_body_extension"))]
#[case::triceps_long_head_with_a_floor_only(TRICEPS_LONG, &[], First("floor_dip"))]
#[case::a_narrow_push_up_is_not_for_the_long_head(TRICEPS_LONG, &[], Never("close_push_up"))]
#[case::triceps_long_head_in_rings(TRICEPS_LONG, &[RINGS], First("ring_extension"))]
#[case::triceps_pushed_down(TRICEPS_LATERAL, &[BANDS, HIGH_ANCHOR], Three("band_pushdown"))]
#[case::a_kickback_is_for_the_shortened_end(TRICEPS_LONG, &[DUMBBELLS], Before("overhead_extension", "dumbbell_kickback"))]
#[case::forearms_with_dumbbells(FOREARM, &[DUMBBELLS, BENCH], First("wrist_curl"))]
// Trunk.
#[case::roll_out_with_a_wheel(ROLL_OUT, &[WHEEL], First("wheel_rollout"))]
#[case::a_plank_has_no_repetitions(ROLL_OUT, &[WHEEL], Says("forearm_plank", "a hold, in seconds"))]
#[case::roll_out_without_one(ROLL_OUT, &[], Three("curl_up"))]
fn without_limits(#[case] wanted: &str, #[case] items: &[&str], #[case] judged: Judged) {
    judge(&person(), wanted, items, judged);
}

#[rstest]
#[case::floor_fly_leads(SORE_STRETCH, FLY, &[DUMBBELLS, BENCH, BANDS, ANCHOR], First("dumbbell_floor_fly"))]
#[case::bench_fly_is_out(SORE_STRETCH, FLY, &[DUMBBELLS, BENCH], Out("dumbbell_bench_fly", ByLimit))]
#[case::no_deep_dips(SORE_STRETCH, DECLINE, &[DIP_BARS, DUMBBELLS], Never("bar_dip"))]
#[case::floor_press_before_bench_press(SORE_STRETCH, PRESS, &[DUMBBELLS, BENCH], Before("dumbbell_floor_press", "dumbbell_bench_press"))]
#[case::nothing_pressed_overhead(SORE_OVERHEAD, OVERHEAD, &[DUMBBELLS], Out("overhead_dumbbell_press", ByLimit))]
#[case::long_head_not_overhead(SORE_OVERHEAD, TRICEPS_LONG, &[DUMBBELLS, BANDS, ANCHOR], Never("overhead_extension"))]
#[case::long_head_behind_the_body_instead(SORE_OVERHEAD, TRICEPS_LONG, &[DUMBBELLS, BANDS, ANCHOR], Three("band_kickback"))]
#[case::no_pulling_from_overhead(SORE_OVERHEAD, PULL, &[BAR], Never("wide_pull_up"))]
#[case::no_arm_behind_the_body(STIFF_BEHIND, LONG_HEAD_CURL, &[BANDS, LOW_ANCHOR, DUMBBELLS, BENCH], Never("arm_behind_band_curl"))]
#[case::no_edge_dips(STIFF_BEHIND, DECLINE, &[CHAIR, DUMBBELLS], Never("edge_dip"))]
#[case::sore_elbow_spares_the_lying_extension(SORE_ELBOW, TRICEPS_LONG, &[DUMBBELLS, BANDS, ANCHOR, BENCH], Out("supine_dumbbell_extension", ByLimit))]
#[case::brachialis_with_a_sore_wrist(SORE_WRIST, BRACHIALIS, &[DUMBBELLS], First("hammer_curl"))]
#[case::sore_wrist_not_palm_down(SORE_WRIST, BRACHIALIS, &[DUMBBELLS], Before("hammer_curl", "reverse_curl"))]
#[case::sore_wrist_presses_dumbbells(SORE_WRIST, PRESS, &[DUMBBELLS], Before("dumbbell_floor_press", "push_up"))]
#[case::sore_grip_hangs_nowhere(SORE_GRIP, FOREARM, &[BAR, DUMBBELLS], Never("bar_hang"))]
fn with_a_limit(#[case] limit: &str, #[case] wanted: &str, #[case] items: &[&str], #[case] judged: Judged) {
    let limit: Limit = serde_json::from_str(limit).unwrap();
    judge(&Person { limits: vec![limit], ..person() }, wanted, items, judged);
}

#[rstest]
#[case::rings_are_not_for_a_first_week(Experience::Novice, PRESS, &[RINGS], Out("ring_push_up", TooSoon))]
#[case::a_first_week_on_the_floor(Experience::Novice, PRESS, &[CHAIR], First("push_up"))]
#[case::a_first_week_starts_on_a_short_lever(Experience::Novice, PRESS, &[CHAIR], Starts("push_up", "body weight, hands at 0.45 m"))]
#[case::walls_are_for_the_advanced(Experience::Novice, OVERHEAD, &[], Never("wall_handstand_push_up"))]
#[case::a_novice_cannot_start_with_twenties(Experience::Novice, SIDE, &[r#"{"kind":"dumbbells","unit":"kg","pairs":[20]}"#], Out("side_raise", OutOfReach))]
#[case::advanced_rings(Experience::Advanced, PRESS, &[RINGS], Three("ring_push_up"))]
fn by_experience(#[case] experience: Experience, #[case] wanted: &str, #[case] items: &[&str], #[case] judged: Judged) {
    judge(&Person { experience, ..person() }, wanted, items, judged);
}

/// Limits that contradict each other leave what both allow, or nothing; both are named.
#[test]
fn limits_that_leave_nothing_are_answered_with_both() {
    let limits = [SORE_OVERHEAD, SORE_STRETCH].map(|l| serde_json::from_str::<Limit>(l).unwrap()).to_vec();
    let kit = kit(&format!("[{DIP_BARS},{DUMBBELLS}]"));
    let (sore, dips) = (Person { limits, ..person() }, intent(DECLINE));
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&sore, &kit, &dips));
    let why = |answer: &FitAnswer<'_>, id: &str| {
        let out = answer.excluded.iter().find(|e| e.movement.id == id).unwrap();
        told(&out.why).join("; ")
    };
    assert!(why(&answer, "bar_dip").contains("pain in deep stretch"));
    let wanted = intent(OVERHEAD);
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&sore, &kit, &wanted));
    assert!(why(&answer, "overhead_dumbbell_press").contains("pain overhead"));
}

/// A strong client with light bands only: the high-rep school is content, the heavy one is not.
#[test]
fn the_method_in_force_decides_what_a_light_band_is_worth() {
    let (strong, wanted) = (Person { experience: Experience::Advanced, ..person() }, intent(CLOSE_ROW));
    let kit = kit(&format!("[{BANDS},{ANCHOR}]"));
    let reach = |method: Option<Method>| {
        let answer = fit(&CATALOGUE, &FitQuestion { method, ..FitQuestion::plain(&strong, &kit, &wanted) });
        answer.candidates.iter().map(|c| (c.movement.id.clone(), c.parts.reach)).collect::<Vec<_>>()
    };
    let (heavy, high) = (reach(Some(Method::HeavyCompound)), reach(Some(Method::HighRepBand)));
    let of = |found: &[(String, f64)], id: &str| found.iter().find(|(m, _)| m == id).unwrap().1;
    for (id, usual) in reach(None) {
        assert!(of(&heavy, &id) <= usual + 1e-12 && usual <= of(&high, &id) + 1e-12, "{id}");
    }
    assert!(heavy.iter().any(|(id, reach)| *reach < of(&high, id) - 0.05), "{heavy:?} {high:?}");
}

#[test]
fn every_method_weighs_all_parts_and_says_what_it_holds_dear() {
    let wanted = intent(FLY);
    let kit = kit(&format!("[{DUMBBELLS},{BENCH}]"));
    for method in Method::ALL {
        let weights = Weights::of(*method).values();
        assert!((weights.iter().sum::<f64>() - 1.0).abs() < 1e-9, "{method}: {weights:?}");
        assert!(weights.iter().all(|w| *w > 0.0) && weights[4] >= Weights::USUAL.values()[4], "{method}");
        let person = person();
        let question = FitQuestion { method: Some(*method), ..FitQuestion::plain(&person, &kit, &wanted) };
        let answer = fit(&CATALOGUE, &question);
        check(&answer, &kit, First("dumbbell_bench_fly"));
        check(&answer, &kit, Says("dumbbell_bench_fly", method.says()));
    }
}
