//! Names and lines as people write them, read against the catalogue that ships.

use bavrek_core::dose::notation;
use bavrek_core::plan::BlockKind;
use bavrek_core::reading::{LONGEST_TEXT, MOST_LINES, Names, WrittenPlan, chosen, read_text};
use proptest::prelude::*;
use rstest::rstest;
use std::sync::LazyLock;

/// What was written, the movement of the catalogue and the reference of a gym that are meant; `-` for none.
const NAMES: &[(&str, &str, &str)] = &[
    ("Bench press", "dumbbell_bench_press", "barbell_bench_press"),
    ("DB bench press", "dumbbell_bench_press", "-"),
    ("Dumbbell Bench", "dumbbell_bench_press", "-"),
    ("flat db press", "dumbbell_bench_press", "-"),
    ("BB bench press", "bar_bench_press", "barbell_bench_press"),
    ("Barbell bench", "bar_bench_press", "barbell_bench_press"),
    ("Incline DB press", "incline_dumbbell_press", "-"),
    ("Incline dumbbell bench press", "incline_dumbbell_press", "-"),
    ("Incline barbell press", "bar_incline_press", "incline_barbell_press"),
    ("incline bench", "incline_dumbbell_press", "incline_barbell_press"),
    ("Decline DB press", "decline_bench_press", "-"),
    ("DB floor press", "dumbbell_floor_press", "-"),
    ("Single arm DB floor press", "one_arm_floor_press", "-"),
    ("One-arm dumbbell bench press", "one_arm_bench_press", "-"),
    ("Squeeze press", "pressed_together_bench_press", "-"),
    ("Close grip bench press", "close_bench_press", "close_grip_barbell_press"),
    ("Close-grip dumbbell press", "close_bench_press", "-"),
    ("Neutral grip DB bench", "neutral_bench_press", "-"),
    ("Machine chest press", "-", "chest_press_machine"),
    ("Push-ups", "push_up", "-"),
    ("pushups", "push_up", "-"),
    ("Press ups", "push_up", "-"),
    ("Decline push-ups", "feet_raised_push_up", "-"),
    ("Feet-elevated pushups", "feet_raised_push_up", "-"),
    ("Incline push up", "incline_push_up", "-"),
    ("Knee push-ups", "knee_push_up", "-"),
    ("Diamond pushups", "diamond_push_up", "-"),
    ("Close grip push-up", "close_push_up", "-"),
    ("Wide push ups", "wide_push_up", "-"),
    ("Pike push-ups", "pike_push_up", "-"),
    ("Ring push-ups", "ring_push_up", "-"),
    ("Archer push-up", "side_to_side_push_up", "-"),
    ("Handstand push-ups", "wall_handstand_push_up", "-"),
    ("Scapular push-ups", "push_up_reach", "-"),
    ("Negative push-ups", "slow_lowering_push_up", "-"),
    ("Wall push-up", "wall_push_up", "-"),
    ("Dips", "bar_dip", "-"),
    ("Weighted dips", "bar_dip", "-"),
    ("Parallel bar dips", "bar_dip", "-"),
    ("Ring dips", "ring_dip", "-"),
    ("Bench dips", "edge_dip", "-"),
    ("Chair dips", "edge_dip", "-"),
    ("Negative dips", "slow_lowering_dip", "-"),
    ("DB fly", "dumbbell_bench_fly", "-"),
    ("Dumbbell flyes", "dumbbell_bench_fly", "-"),
    ("Chest flys", "dumbbell_bench_fly", "-"),
    ("Incline flies", "incline_dumbbell_fly", "-"),
    ("Floor fly", "dumbbell_floor_fly", "-"),
    ("Cable crossover", "-", "cable_fly"),
    ("Cable fly", "-", "cable_fly"),
    ("Low to high cable fly", "-", "low_to_high_cable_fly"),
    ("Low-to-high band fly", "low_to_high_band_fly", "-"),
    ("Butterfly machine", "-", "fly_machine"),
    ("DB pullover", "dumbbell_pullover", "-"),
    ("Pull-over", "dumbbell_pullover", "barbell_pullover"),
    ("Overhead press", "overhead_dumbbell_press", "barbell_overhead_press"),
    ("OHP", "overhead_dumbbell_press", "barbell_overhead_press"),
    ("Military press", "overhead_dumbbell_press", "barbell_overhead_press"),
    ("DB shoulder press", "overhead_dumbbell_press", "-"),
    ("Seated DB shoulder press", "seated_dumbbell_press", "-"),
    ("Single-arm shoulder press", "one_arm_overhead_press", "-"),
    ("Half kneeling shoulder press", "half_kneeling_dumbbell_press", "-"),
    ("Push press", "leg_driven_press", "push_press"),
    ("Machine shoulder press", "-", "shoulder_press_machine"),
    ("Lateral raises", "side_raise", "-"),
    ("DB lateral raise", "side_raise", "-"),
    ("Side raises", "side_raise", "-"),
    ("Lat raises", "side_raise", "-"),
    ("Seated lateral raise", "seated_side_raise", "-"),
    ("Cable lateral raise", "-", "cable_side_raise"),
    ("Band lateral raise", "band_side_raise", "-"),
    ("Front raise", "front_raise", "barbell_front_raise"),
    ("Plate front raise", "one_weight_front_raise", "-"),
    ("Upright row", "wide_upright_pull", "barbell_upright_row"),
    ("Reverse fly", "bent_over_rear_fly", "-"),
    ("Rear delt raise", "bent_over_rear_fly", "-"),
    ("Rear delt fly", "bent_over_rear_fly", "-"),
    ("Incline rear delt fly", "chest_supported_rear_fly", "-"),
    ("Band pull aparts", "band_pull_apart", "-"),
    ("Face pulls", "band_face_pull", "cable_face_pull"),
    ("Cable face pull", "-", "cable_face_pull"),
    ("Pull-ups", "pull_up", "-"),
    ("Pullups", "pull_up", "-"),
    ("Wide grip pull-ups", "wide_pull_up", "-"),
    ("Neutral grip pull up", "neutral_ring_pull_up", "-"),
    ("Chin-ups", "chin_up", "-"),
    ("Weighted chins", "chin_up", "-"),
    ("Ring chin-ups", "ring_chin_up", "-"),
    ("Negative pull-ups", "slow_lowering_pull_up", "-"),
    ("Lat pulldown", "-", "lat_pulldown"),
    ("Lat pull-down", "-", "lat_pulldown"),
    ("Close grip pulldown", "-", "close_pulldown"),
    ("Band pulldown", "band_pulldown", "-"),
    ("Straight arm pulldown", "straight_arm_band_pulldown", "straight_arm_cable_pulldown"),
    ("Bent over row", "bent_over_dumbbell_row", "barbell_row"),
    ("Barbell row", "bar_row", "barbell_row"),
    ("One arm DB row", "dumbbell_row", "-"),
    ("Single-arm dumbbell row", "dumbbell_row", "-"),
    ("DB row", "dumbbell_row", "-"),
    ("Chest supported row", "chest_supported_row", "-"),
    ("Chest supported DB row", "chest_supported_row", "-"),
    ("Seated cable row", "-", "seated_cable_row"),
    ("T-bar row", "-", "bar_end_row"),
    ("Inverted rows", "inverted_row", "-"),
    ("Australian pull-ups", "inverted_row", "-"),
    ("Ring rows", "inverted_row", "-"),
    ("Table row", "table_row", "-"),
    ("Band row", "band_row", "-"),
    ("Renegade rows", "plank_row", "-"),
    ("Shrugs", "dumbbell_shrug", "barbell_shrug"),
    ("DB shrugs", "dumbbell_shrug", "-"),
    ("Bicep curls", "dumbbell_curl", "-"),
    ("DB curl", "dumbbell_curl", "-"),
    ("Barbell curl", "bar_curl", "barbell_curl"),
    ("EZ bar curl", "bar_curl", "barbell_curl"),
    ("Hammer curls", "hammer_curl", "-"),
    ("Incline DB curl", "incline_bench_curl", "-"),
    ("Preacher curl", "supported_front_curl", "sloped_pad_curl"),
    ("Concentration curls", "thigh_supported_curl", "-"),
    ("Spider curl", "chest_supported_curl", "prone_bench_curl"),
    ("Reverse curls", "reverse_curl", "reverse_barbell_curl"),
    ("Cross-body hammer curl", "cross_body_curl", "-"),
    ("Cable curl", "-", "cable_curl"),
    ("Band curls", "band_curl", "-"),
    ("Ring curls", "ring_curl", "-"),
    ("Drag curl", "elbows_back_curl", "drag_curl"),
    ("Zottman style turn-over curl", "turn_over_curl", "-"),
    ("Skull crushers", "supine_dumbbell_extension", "lying_barbell_extension"),
    ("DB skullcrushers", "supine_dumbbell_extension", "-"),
    ("Lying triceps extension", "supine_dumbbell_extension", "lying_barbell_extension"),
    ("Overhead triceps extension", "overhead_extension", "-"),
    ("French press", "overhead_extension", "lying_barbell_extension"),
    ("Tricep kickbacks", "dumbbell_kickback", "-"),
    ("Tricep pushdown", "band_pushdown", "cable_pushdown"),
    ("Rope pushdown", "-", "cable_pushdown"),
    ("Band pushdowns", "band_pushdown", "-"),
    ("Wrist curls", "wrist_curl", "barbell_wrist_curl"),
    ("Farmer carry", "dumbbell_hold", "-"),
    ("Dead hang", "bar_hang", "-"),
    ("Plank", "forearm_plank", "-"),
    ("Side plank", "side_plank", "-"),
    ("Ab wheel rollout", "wheel_rollout", "-"),
    ("Hanging knee raises", "hanging_knee_raise", "-"),
    ("Hanging leg raise", "hanging_leg_raise", "-"),
    ("Dead bugs", "dead_bug", "-"),
    ("Crunches", "curl_up", "-"),
    ("Dumbell curl", "dumbbell_curl", "-"),
    ("Latteral raise", "side_raise", "-"),
    ("Inclne dumbbell press", "incline_dumbbell_press", "-"),
    ("Back squat", "-", "-"),
    ("Deadlift", "-", "-"),
    ("Leg press", "-", "-"),
    ("Leg curl", "-", "-"),
    ("Calf raises", "-", "-"),
    ("Walking lunges", "-", "-"),
    ("Treadmill", "-", "-"),
    ("Foam rolling", "-", "-"),
    ("Stretching", "-", "-"),
];

#[test]
fn written_names_mean_what_a_coach_means() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let names = Names::of(&catalogue);
    let mut wrong = Vec::new();
    for (written, home, gym) in NAMES {
        let matches = names.matches(written);
        let (found, reference) = chosen(&matches);
        if (found.unwrap_or("-"), reference.unwrap_or("-")) != (*home, *gym) {
            wrong.push(format!("{written}: wanted {home} {gym}, got {matches:.2?}"));
        }
    }
    assert!(NAMES.len() >= 120);
    assert!(wrong.is_empty(), "{} of {}:\n{}", wrong.len(), NAMES.len(), wrong.join("\n"));
}

/// Every name of every movement of a gym finds it: in the plural, its words the other way round, with a letter too few, and near it.
#[test]
fn a_gyms_movement_is_found_however_its_name_is_written() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let names = Names::of(&catalogue);
    let mut lost = Vec::new();
    let mut asked = 0;
    for gym in catalogue.gym.values() {
        for name in std::iter::once(&gym.name).chain(&gym.synonyms) {
            let words: Vec<&str> = name.split([' ', '-']).collect();
            let mut written = vec![name.clone()];
            if !name.contains(',') {
                written.push(format!("{name}{}", if name.ends_with("ss") { "es" } else { "s" }));
            }
            if let (Some((rest, last)), 2) = (name.rsplit_once(' '), words.len()) {
                // As a list has it: the last word first.
                written.push(format!("{last}, {rest}"));
            }
            let longest = words.iter().max_by_key(|w| w.len()).unwrap();
            if longest.len() >= 6 {
                written.push(name.replacen(longest, &[&longest[..2], &longest[3..]].concat(), 1));
            }
            for written in written {
                // What several are called finds any of them.
                let near = names.nearest(&written, 5);
                let alike = |id: &str| {
                    let other = catalogue.gym_movement(id).map(|g| &g.direct);
                    other.or_else(|| catalogue.movement(id).map(|m| &m.direct)).is_some_and(|d| *d == gym.direct)
                };
                asked += 1;
                if !near.iter().any(|m| m.id == gym.id || alike(m.id)) {
                    lost.push(format!(
                        "{written:?} of {}: {:?}",
                        gym.id,
                        near.iter().map(|m| m.id).collect::<Vec<_>>()
                    ));
                }
            }
        }
    }
    assert!(catalogue.gym.len() >= 120 && asked > 1_000, "{} movements, {asked} names", catalogue.gym.len());
    assert!(lost.is_empty(), "{} of {asked}:\n{}", lost.len(), lost.join("\n"));
}

/// Slots in short: session, block and kind, name; then what was not read.
fn lines(plan: &WrittenPlan<'_>) -> Vec<String> {
    let mut found = Vec::new();
    for session in &plan.sessions {
        for slot in &session.slots {
            let together =
                slot.block.zip(slot.kind).map_or("-".to_owned(), |(b, k): (usize, BlockKind)| format!("{b} {k}"));
            found.push(format!("{} | {together} | {}", session.name.as_deref().unwrap_or("-"), slot.name));
        }
    }
    found.extend(plan.unread.iter().map(|u| format!("{}: {}", u.number, u.text)));
    found
}

/// A line of a plan, its dose and its load as they are read; `-` for what is not stated.
const LINES: &[(&str, &str, &str)] = &[
    ("Bench Press 3x8-12 @ 2 RIR", "3 × 8–12, 2 in reserve", "-"),
    ("2. Incline DB Press – 4 sets of 8-10 reps, 22,5kg", "4 × 8–10", "22.5 kg"),
    ("3) Weighted dips +10kg 4x6", "4 × 6", "10 kg added"),
    ("Weighted dips +10 4x6", "4 × 6", "10 kg added"),
    ("4 x 6 - 8 Weighted Chin Ups @ 7kg", "4 × 6–8", "7 kg"),
    ("Lateral raises 3×15 (rest 60s)", "3 × 15, rest 60 s", "-"),
    ("Skull crushers 3 x 10-12, rest 90 sec, tempo 3-0-1-0", "3 × 10–12 @ 3-0-1-0, rest 90 s", "-"),
    ("Row 3x8-10 @ 3110", "3 × 8–10 @ 3-1-1-0", "-"),
    ("Seated DB Press: 3x8-10 @ 3-1-X-0, RIR 2, 2 min rest", "3 × 8–10 @ 3-1-X-0, 2 in reserve, rest 120 s", "-"),
    ("Curl 3 x 10 tempo 301", "3 × 10 @ 3-0-1-0", "-"),
    ("- Plank 3x45s", "3 × 45 s", "-"),
    ("Side plank 2 x 30s per side", "2 × 30 s a side", "-"),
    ("Plank 3 x 1 min", "3 × 60 s", "-"),
    ("Pull-ups: 3 sets to failure", "3 × max", "-"),
    ("Chin ups 3 x max", "3 × max", "-"),
    ("Push-ups 2-3 sets AMRAP", "2 × max", "-"),
    ("Ring row 3x8-12, last set AMRAP", "3 × 8–12, last to failure", "-"),
    ("DB Row 3 x 10 each side, 24kg", "3 × 10 a side", "24 kg"),
    ("Incline curl 3x10 ea", "3 × 10 a side", "-"),
    ("Hammer curls 3x12 @ RPE 8", "3 × 12, 2 in reserve", "-"),
    ("OHP 3x5 @8", "3 × 5, 2 in reserve", "-"),
    ("Curl 4 sets x 10-12 reps RPE 7-8", "4 × 10–12, 3 in reserve", "-"),
    ("DB row 4x8-10, 2-3 RIR", "4 × 8–10, 3 in reserve", "-"),
    ("Barbell curl 12/10/8 30kg", "12-10-8", "30 kg"),
    ("Concentration curls 12, 10, 8 reps", "12-10-8", "-"),
    ("Dips 18-9-9-14", "18-9-9-14", "-"),
    ("Inverted row 5, 5, 5", "3 × 5", "-"),
    ("Preacher curl 4 sets x 8 reps x 20 kg", "4 × 8", "20 kg"),
    ("Bench press 5x5 100kg", "5 × 5", "100 kg"),
    ("Bench press 5x5x100kg", "5 × 5", "100 kg"),
    ("Bench press – 100 kg – 3 × 5", "3 × 5", "100 kg"),
    ("Bench press 12/10/8 increasing weight each set", "12-10-8, each a step up", "-"),
    ("Dumbbell row 4x8, pyramid up", "4 × 8, each a step up", "-"),
    ("Bench press 6-8-10 reverse pyramid", "6-8-10, each a step down", "-"),
    ("Curl 3x10, last set drop set", "3 × 10, then max a step down", "-"),
    ("Lateral raise 3x12 then dropset", "3 × 12, then max a step down", "-"),
    ("Curl 3x10 + drop set", "3 × 10, then max a step down", "-"),
    ("Curl 3x12, double drop set on last set", "3 × 12, then max a step down, then max a step down", "-"),
    ("Curl 3x12 + Triple Drop Set", "3 × 12, then max a step down, then max a step down, then max a step down", "-"),
    ("Bench press pyramid 12/10/8", "12-10-8, each a step up", "-"),
    // The word in a name is no shape of its sets.
    ("Pyramid push-up 3x10", "3 × 10", "-"),
    // How it goes on from week to week is a note, no shape of its sets.
    ("Curl 3x10, add weight next week", "3 × 10", "-"),
    ("Curl 3x10, drop sets if time", "3 × 10", "-"),
    ("Bench 5x5 @ 75-80%", "5 × 5, at 75–80 % of the maximum", "75 % of the maximum"),
    ("Bench 5x5 @ 80%", "5 × 5, at 80 % of the maximum", "80 % of the maximum"),
    ("DB Bench Press 4x8 60 % 1RM", "4 × 8, at 60 % of the maximum", "60 % of the maximum"),
    ("DB shoulder press 2x20kg 3x10", "3 × 10", "20 kg each hand"),
    ("Curl 3x10 12 kg per hand", "3 × 10", "12 kg each hand"),
    ("Chest press machine 3 x 10 50 lbs", "3 × 10", "50 lb"),
    ("Dips 3x8 bodyweight", "3 × 8", "body weight"),
    ("Lat pulldown: 10-12 reps x 3 sets, 2 min rest", "3 × 10–12, rest 120 s", "-"),
    ("Cable fly 3x12-15, 90s rest", "3 × 12–15, rest 90 s", "-"),
    ("Bench 3x5 rest 2:30", "3 × 5, rest 150 s", "-"),
    ("Bench 3x5 rest 2-3 min", "3 × 5, rest 150 s", "-"),
    ("Pullups 50 reps total", "50 in all", "-"),
    ("100 push-ups in total", "100 in all", "-"),
    ("Triceps pushdown 3x12 to failure", "3 × 12, to failure", "-"),
    ("Curls 12 reps, 3 sets, last set to failure", "3 × 12, last to failure", "-"),
    ("Lateral Raises 3x12+12+12", "3 × 12", "-"),
    ("* Curl 3*10", "3 × 10", "-"),
    ("**Curl** 3 x 10", "3 × 10", "-"),
    ("Face pull", "-", "-"),
    ("Curls 3 sets", "-", "-"),
    ("Push-ups 40s on / 20s off", "-", "-"),
];

#[test]
fn lines_are_read_as_they_are_meant() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let names = Names::of(&catalogue);
    let mut wrong = Vec::new();
    for (written, dose, load) in LINES {
        let plan = read_text(&names, written).unwrap();
        let slots: Vec<_> = plan.slots().collect();
        let [slot] = slots[..] else {
            wrong.push(format!("{written}: {} slots", slots.len()));
            continue;
        };
        let read = slot.dose.as_ref().map_or("-".to_owned(), notation::Written::text);
        let stated = slot.load.map_or("-".to_owned(), |l| l.text());
        if (read.as_str(), stated.as_str()) != (*dose, *load) {
            wrong.push(format!("{written}: read {read} | {stated}, remarks {:?}", slot.remarks));
        }
        assert!(!slot.matches.is_empty(), "{written}: {:?}", slot.name);
    }
    assert!(wrong.is_empty(), "{} of {}:\n{}", wrong.len(), LINES.len(), wrong.join("\n"));
}

/// A line may say that it is optional, and a head that some of the lines beneath are enough; name and dose are read as ever.
#[rstest]
#[case::nothing_said("Curl 3x10", &[None])]
#[case::in_brackets("Curl 3x10 (optional)", &[Some(0)])]
#[case::before_the_name("Optional: curl 3x10\nCurl 3x10", &[Some(0), None])]
#[case::with_a_bullet("- curl 3x10 - optional", &[Some(0)])]
#[case::where_there_is_time("Curl 3x10, if there is time\nCurl 3x10 if time allows", &[Some(0), Some(0)])]
#[case::of_both_of_a_pair("Curl + curl 3x10, optional", &[Some(0), Some(0)])]
#[case::any_two("Curl 3x10\n\nAny two of these three:\nCurl 3x10\nCurl 3x10\nCurl 3x10\n\nCurl 3x10", &[None, Some(2), Some(2), Some(2), None])]
#[case::a_head_alone("Curl 3x10\n\nOptional:\nCurl 3x10\nCurl 3x10\n\nCurl 3x10", &[None, Some(0), Some(0), None])]
#[case::a_head_with_a_word("Optional extras:\nCurl 3x10\n\nCurl 3x10", &[Some(0), None])]
#[case::any_four("Any 4 of these 5:\nCurl 3x10", &[Some(4)])]
#[case::choose("Choose 1 of the following\nA1) Curl 3x10\nA2) Curl 3x10", &[Some(1), Some(1)])]
#[case::a_session_ends_it("Pick any two of these\nCurl 3x10\nDay 2\nCurl 3x10", &[Some(2), None])]
#[case::none_of_them("Any 0 of these\nCurl 3x10", &[None])]
fn what_may_be_left_out_is_read(#[case] text: &str, #[case] expected: &[Option<u8>]) {
    let catalogue = bavrek_catalogue::load().unwrap();
    let plan = read_text(&Names::of(&catalogue), text).unwrap();
    assert_eq!(plan.slots().map(|s| s.optional).collect::<Vec<_>>(), expected);
    for slot in plan.slots() {
        assert_eq!((slot.name.as_str(), slot.dose.as_ref().unwrap().text().as_str()), ("curl", "3 × 10"));
    }
}

const WEEK: &str = "Day 1: Push
1. Bench press 3x8
A1) Lateral raise 3x12
A2) Push-ups 3x15
B1. Curl 3x10
Warm up well

## Pull
Superset:
Curl 3x12
Tricep pushdown 3x12

DB row 3 x 10

Arms:
DB curls + Overhead triceps extension 3x12
Push up superset with band row 3x15
3 rounds of:
10 push-ups
12 DB rows each side
30s plank
Rest 90 sec between rounds
Remember that progress takes its time";

/// What is done in the rests of a movement, in the ways in which it is written; and what only looks like it.
#[rstest]
#[case::rest_filled_with("Bench press 4x6, rest filled with band curl x 15", &["- | 1 filled rests | bench press", "- | 1 filled rests | band curl"])]
#[case::between_sets("Bench press 4x6 - between sets: band curl 15", &["- | 1 filled rests | bench press", "- | 1 filled rests | band curl"])]
#[case::in_the_rests("Curl 3x10, in the rests: push-ups 8", &["- | 1 filled rests | curl", "- | 1 filled rests | push-ups"])]
#[case::with_a_head("Filled rests:\nBench press 4x6\nBand curl 4x15\n", &["- | 1 filled rests | bench press", "- | 1 filled rests | band curl"])]
#[case::a_rest_between_sets("Curl 3x10, rest 90 s between sets", &["- | - | curl"])]
#[case::a_walk_between_sets("Curl 3x10, between sets walk around", &["- | - | curl"])]
#[case::rest_pause("Curl 3x10, in rest-pause style", &["- | - | curl"])]
#[case::the_rest_itself("Curl 3x10, 60 sec rest", &["- | - | curl"])]
fn what_fills_a_rest_is_read(#[case] text: &str, #[case] expected: &[&str]) {
    let catalogue = bavrek_catalogue::load().unwrap();
    assert_eq!(lines(&read_text(&Names::of(&catalogue), text).unwrap()), expected);
}

/// A head under which nothing stands is told among what was not read.
#[rstest]
#[case::at_the_end("Curl 3x10\n\nSuperset:", &["- | - | curl", "3: Superset:"])]
#[case::before_a_gap("Any two of these three:\n\nCurl 3x10", &["- | - | curl", "1: Any two of these three:"])]
#[case::before_a_day("Day 1\nCurl 3x10\nOptional:\nDay 2\nCurl 3x10", &["Day 1 | - | curl", "Day 2 | - | curl", "3: Optional:"])]
#[case::one_head_beneath_another("Optional:\nSuperset:\nCurl 3x10\nCurl 3x12", &["- | 1 superset | curl", "- | 1 superset | curl"])]
fn a_head_with_nothing_beneath_is_told(#[case] text: &str, #[case] expected: &[&str]) {
    let catalogue = bavrek_catalogue::load().unwrap();
    assert_eq!(lines(&read_text(&Names::of(&catalogue), text).unwrap()), expected);
}

#[test]
fn sessions_and_blocks_are_told_apart() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let plan = read_text(&Names::of(&catalogue), WEEK).unwrap();
    assert_eq!(
        lines(&plan),
        [
            "Day 1: Push | - | bench press",
            "Day 1: Push | 1 superset | lateral raise",
            "Day 1: Push | 1 superset | push-ups",
            "Day 1: Push | - | curl",
            "Pull | 3 superset | curl",
            "Pull | 3 superset | tricep pushdown",
            "Pull | - | db row",
            "Arms | 4 superset | db curls",
            "Arms | 4 superset | overhead triceps extension",
            "Arms | 5 superset | push up",
            "Arms | 5 superset | band row",
            "Arms | 6 circuit | push-ups",
            "Arms | 6 circuit | db rows",
            "Arms | 6 circuit | plank",
            "6: Warm up well",
            "22: Rest 90 sec between rounds",
            "23: Remember that progress takes its time",
        ]
    );
    let rounds: Vec<_> = plan.sessions[2].slots[4..].iter().map(|s| s.dose.as_ref().unwrap().text()).collect();
    assert_eq!(rounds, ["3 × 10", "3 × 12 a side", "3 × 30 s"]);
}

#[test]
fn a_paragraph_may_be_named_and_what_names_nothing_is_not_lost() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let plan =
        read_text(&Names::of(&catalogue), "Away day\nCurl 3x10\n\nDrink water\n\nEasy does it\nDB row 3x8").unwrap();
    assert_eq!(lines(&plan), ["Away day | - | curl", "Easy does it | - | db row", "4: Drink water"]);
    let plan = read_text(&Names::of(&catalogue), "Monday\n\nTuesday\nCurl 3x10").unwrap();
    assert_eq!(lines(&plan), ["Tuesday | - | curl", "1: Monday"]);
}

#[test]
fn what_is_not_stated_stays_open_and_what_was_bent_is_said() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let names = Names::of(&catalogue);
    let of = |text: &str| {
        let plan = read_text(&names, text).unwrap();
        let slot = plan.slots().next().unwrap().clone();
        (slot.not_stated.clone(), slot.remarks.clone(), slot.notes.clone())
    };
    assert_eq!(of("Face pull").0, ["sets", "reps", "tempo", "rest", "reserve", "load"]);
    assert_eq!(of("Curls 3 sets 10 kg").0, ["reps", "tempo", "rest", "reserve"]);
    assert_eq!(of("Curl 3x10 12kg, 2 RIR, tempo 2-0-1-0, rest 60s").0, [""; 0]);
    assert_eq!(of("Plank 3 x 45 s").0, ["tempo", "rest", "load"]);
    assert_eq!(of("Curl 2-3 sets x 10").1, ["2 to 3 sets written, 2 taken"]);
    assert_eq!(of("Curl 3x10 RPE 8.5").1, ["exertion 8.5 of 10 read as 2 in reserve"]);
    assert_eq!(of("Bench press 3 x 8 (pause on the chest), 60s").2, ["pause on the chest", "60s"]);
}

#[test]
fn a_novel_is_refused_or_left_unread_and_never_hangs() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let names = Names::of(&catalogue);
    let error = read_text(&names, &"It was a dark night. ".repeat(10_000)).unwrap_err();
    assert_eq!(error.path, "text");
    let prose = "Call it a curl of smoke, three times over.\n".repeat(LONGEST_TEXT / 50);
    let plan = read_text(&names, &prose).unwrap();
    assert_eq!((plan.sessions.len(), plan.unread.len()), (0, LONGEST_TEXT / 50));
    let plan = read_text(&names, &"Curl 3x10\n".repeat(MOST_LINES + 100)).unwrap();
    assert_eq!(plan.slots().count() + plan.unread.len(), MOST_LINES + 100);
}

static CATALOGUE: LazyLock<bavrek_core::movement::Catalogue> = LazyLock::new(|| bavrek_catalogue::load().unwrap());
static NAMED: LazyLock<Names<'static>> = LazyLock::new(|| Names::of(&CATALOGUE));

proptest! {
    /// Whatever stands in a text, every line of it is a slot, a heading or left unread, and nothing is asked that no dose may.
    #[test]
    fn any_text_is_read(text in "([0-9x@+%:/,. -]{0,12}(curl|row|kg|sets|rest|rpe|max|ü|\\n){1,3}){1,12}") {
        let plan = read_text(&NAMED, &text).unwrap();
        for slot in plan.slots() {
            prop_assert!(!slot.name.is_empty());
            if let Some(dose) = &slot.dose {
                let usual = notation::Usual { tempo: bavrek_core::dose::Tempo::USUAL, rir: 2, rest_s: 90 };
                prop_assert!(dose.filled(usual).validate().is_ok(), "{}", slot.written);
            }
        }
    }
}
