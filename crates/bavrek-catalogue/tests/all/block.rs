//! A block as a whole: what gets in the way, what it costs a round, the step that spares it; and what a session warms up
//! for.

use std::sync::LazyLock;

use crate::common::{kit, person};
use bavrek_catalogue::load;
use bavrek_core::dose::{Prescription, Tempo};
use bavrek_core::fit::{BlockConflict, ConflictCode, Mate, block_conflicts, may_replace, repair};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::Person;
use bavrek_core::plan::BlockKind;
use bavrek_core::units::Kilograms;
use bavrek_core::warm_up::{Ahead, WarmUp};
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

fn movement(id: &str) -> &'static Movement {
    CATALOGUE.movement(id).unwrap()
}

/// The step of a movement nearest to a load.
fn on(ladder: &Ladder, kg: f64) -> &LadderStep {
    let off = |s: &&LadderStep| (s.effective_kg.value() - kg).abs();
    ladder.steps.iter().min_by(|a, b| off(a).total_cmp(&off(b))).unwrap()
}

const ONE_ADJUSTABLE_PAIR: &str = r#"[
    {"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":4,"max":24,"step":2},
    {"kind":"bench","angles_deg":[0,30,45]}
]"#;
const FIXED_PAIRS: &str =
    r#"[{"kind":"dumbbells","unit":"kg","pairs":[6,8,10,12,16]},{"kind":"bench","angles_deg":[0,30,45]}]"#;

#[rstest]
#[case::one_pair_two_loads(
    ONE_ADJUSTABLE_PAIR,
    &[("dumbbell_bench_press", 16.0), ("dumbbell_curl", 8.0)],
    &[(ConflictCode::OnePairTwoLoads, 40.0)]
)]
#[case::two_pairs_lie_ready(FIXED_PAIRS, &[("dumbbell_bench_press", 16.0), ("dumbbell_curl", 8.0)], &[])]
#[case::the_bench_turns_there_and_back(
    FIXED_PAIRS,
    &[("dumbbell_bench_press", 12.0), ("incline_dumbbell_press", 10.0)],
    &[(ConflictCode::BenchAngleFlip, 30.0)]
)]
#[case::a_third_that_needs_no_bench_changes_nothing(
    FIXED_PAIRS,
    &[("dumbbell_bench_press", 12.0), ("dumbbell_curl", 8.0), ("incline_dumbbell_press", 10.0)],
    &[(ConflictCode::BenchAngleFlip, 30.0)]
)]
#[case::three_loads_on_one_pair_are_three_changes(
    ONE_ADJUSTABLE_PAIR,
    &[("dumbbell_floor_press", 20.0), ("dumbbell_curl", 8.0), ("side_raise", 4.0)],
    &[(ConflictCode::OnePairTwoLoads, 60.0)]
)]
fn a_block_costs_what_its_changes_cost(
    #[case] room: &str,
    #[case] stations: &[(&str, f64)],
    #[case] expected: &[(ConflictCode, f64)],
) {
    let room = kit(room);
    let ladders: Vec<Ladder> = stations.iter().map(|(id, _)| Ladder::of(movement(id), &person(), &room)).collect();
    let mates: Vec<Mate<'_>> = stations
        .iter()
        .zip(&ladders)
        .map(|((id, kg), ladder)| Mate { movement: movement(id), step: on(ladder, *kg) })
        .collect();
    let found = block_conflicts(BlockKind::Superset, &mates, &room);
    let found: Vec<_> = found.iter().map(|c| (c.code(), c.added().value())).collect();
    assert_eq!(found, expected);
}

/// What fills a rest must neither need what lies there nor work what rests; in turns it may.
#[rstest]
#[case::other_region(FIXED_PAIRS, "dumbbell_curl", None)]
#[case::the_same_region(FIXED_PAIRS, "push_up", Some(ConflictCode::NoRest))]
#[case::what_assists_both(FIXED_PAIRS, "overhead_extension", Some(ConflictCode::NoRest))]
#[case::what_assists(FIXED_PAIRS, "dumbbell_kickback", Some(ConflictCode::NoRest))]
#[case::the_same_pair(ONE_ADJUSTABLE_PAIR, "dumbbell_curl", Some(ConflictCode::OnePairTwoLoads))]
fn what_fills_a_rest_lets_it_be_one(#[case] room: &str, #[case] filler: &str, #[case] expected: Option<ConflictCode>) {
    let room = kit(room);
    let ids = ["dumbbell_bench_press", filler];
    let ladders = ids.map(|id| Ladder::of(movement(id), &person(), &room));
    let mates = [0, 1].map(|i| Mate { movement: movement(ids[i]), step: on(&ladders[i], [16.0, 8.0][i]) });
    let found = block_conflicts(BlockKind::FilledRest, &mates, &room);
    assert_eq!(found.iter().map(BlockConflict::code).collect::<Vec<_>>(), expected.into_iter().collect::<Vec<_>>());
    let in_turns = block_conflicts(BlockKind::Superset, &mates, &room);
    assert!(in_turns.iter().all(|c| c.code() != ConflictCode::NoRest));
    let movements = ids.map(movement);
    let may = may_replace(movement("side_raise"), movements[1], BlockKind::FilledRest, &movements);
    assert_eq!(may, filler == "dumbbell_curl", "{filler}");
}

#[test]
fn the_repair_is_a_step_within_reach_that_spares_the_change() {
    let room = kit(ONE_ADJUSTABLE_PAIR);
    let ids = ["dumbbell_floor_press", "dumbbell_row"];
    let ladders = ids.map(|id| Ladder::of(movement(id), &person(), &room));
    let at = |a: f64, b: f64| {
        [
            Mate { movement: movement(ids[0]), step: on(&ladders[0], a) },
            Mate { movement: movement(ids[1]), step: on(&ladders[1], b) },
        ]
    };
    let near = at(18.0, 20.0);
    let [conflict] = &block_conflicts(BlockKind::Superset, &near, &room)[..] else { panic!() };
    let repaired = repair(conflict, (BlockKind::Superset, &near), &[&ladders[0], &ladders[1]], &room).unwrap();
    assert!(repaired.change.abs() < 0.12);
    let mut after = near;
    after[repaired.station].step = &ladders[repaired.station].steps[repaired.step];
    assert!(block_conflicts(BlockKind::Superset, &after, &room).is_empty());
    // Loads that lie far apart are not forced together.
    let far = at(8.0, 24.0);
    let [conflict] = &block_conflicts(BlockKind::Superset, &far, &room)[..] else { panic!() };
    assert_eq!(repair(conflict, (BlockKind::Superset, &far), &[&ladders[0], &ladders[1]], &room), None);
}

fn warm(person: &Person, room: &[KitItem], stations: &[(&str, f64, [u16; 2])]) -> WarmUp<usize> {
    let ladders: Vec<Ladder> = stations.iter().map(|(id, ..)| Ladder::of(movement(id), person, room)).collect();
    let doses: Vec<Prescription> =
        stations.iter().map(|(.., reps)| Prescription::straight(3, *reps, 2, Tempo::USUAL, 120)).collect();
    let ahead: Vec<Ahead<'_, usize>> = (0..stations.len())
        .map(|i| Ahead {
            key: i,
            movement: movement(stations[i].0),
            ladder: &ladders[i],
            step: on(&ladders[i], stations[i].1),
            dose: &doses[i],
        })
        .collect();
    WarmUp::of(person, &ahead)
}

#[rstest]
#[case::heavy_fives(&[("dumbbell_bench_press", 20.0, [4, 6])], &[(10.0, 8), (14.0, 5), (16.0, 3)])]
#[case::eights(&[("dumbbell_bench_press", 20.0, [6, 10])], &[(10.0, 8), (14.0, 4)])]
#[case::twelves(&[("dumbbell_bench_press", 20.0, [8, 12])], &[(12.0, 6)])]
#[case::a_curl_begins_light_enough(&[("dumbbell_curl", 8.0, [8, 12])], &[])]
#[case::six_kilograms_are_light(&[("dumbbell_bench_press", 6.0, [6, 8])], &[])]
#[case::long_sets_warm_up_by_themselves(&[("dumbbell_bench_press", 12.0, [15, 20])], &[])]
#[case::the_second_press_is_warm(
    &[("dumbbell_bench_press", 20.0, [8, 12]), ("dumbbell_floor_press", 20.0, [4, 6])],
    &[(12.0, 6)]
)]
#[case::the_lightest_has_nothing_below(&[("dumbbell_bench_press", 4.0, [4, 6])], &[])]
fn heavy_sets_are_ramped_up_to_on_steps_that_exist(
    #[case] stations: &[(&str, f64, [u16; 2])],
    #[case] expected: &[(f64, u16)],
) {
    let room = kit(ONE_ADJUSTABLE_PAIR);
    let found = warm(&person(), &room, stations);
    let ramps: Vec<(f64, u16)> =
        found.ramps.iter().map(|r| (r.step.load.map_or(0.0, |l| l.kilograms().value()), r.reps)).collect();
    assert_eq!(ramps, expected);
    assert!(found.ramps.iter().all(|r| r.share < 1.0 && r.seconds.value() > 45.0));
}

#[test]
fn from_fifty_on_it_takes_longer_to_get_warm() {
    let room = kit(ONE_ADJUSTABLE_PAIR);
    let older = Person { age_years: Some(56), ..person() };
    let stations = [("dumbbell_curl", 8.0, [8, 12])];
    let [young, old] = [&person(), &older].map(|p| warm(p, &room, &stations).general.value());
    assert_eq!((young, old), (300.0, 600.0));
}

/// Every movement of the catalogue: ramps rise, stay below the work, and never come before a long set.
#[test]
fn no_ramp_is_as_heavy_as_the_work() {
    let room = bavrek_core::kit::full_room();
    let mut ramped = 0;
    for movement in &CATALOGUE.movements {
        let ladder = Ladder::of(movement, &person(), &room);
        for step in &ladder.steps {
            for reps in [[4, 6], [8, 10], [12, 15]] {
                let dose = movement_dose(reps);
                let ahead = [Ahead { key: (), movement: movement.as_ref(), ladder: &ladder, step, dose: &dose }];
                let ramps = WarmUp::of(&person(), &ahead).ramps;
                let loads: Vec<Kilograms> = ramps.iter().map(|r| r.step.effective_kg).collect();
                assert!(loads.windows(2).all(|w| w[0] < w[1]), "{}: {loads:?}", movement.id);
                assert!(
                    loads.iter().all(|l| l.value() < 0.96 * step.effective_kg.value()),
                    "{}: {loads:?}",
                    movement.id
                );
                assert!(reps[1] <= 12 || ramps.is_empty());
                ramped += usize::from(!ramps.is_empty());
            }
        }
    }
    assert!(ramped > 1000, "{ramped}");
}

fn movement_dose(reps: [u16; 2]) -> Prescription {
    Prescription::straight(3, reps, 2, Tempo::USUAL, 120)
}
