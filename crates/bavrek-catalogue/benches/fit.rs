//! How long one slot takes to fit over the whole catalogue.
#![allow(missing_docs, reason = "the benchmark macros generate undocumented items")]

use std::hint::black_box;

use bavrek_catalogue::load;
use bavrek_core::fit::{FitQuestion, Fitter, Room, fit};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::Ladder;
use bavrek_core::log::LoggedSet;
use bavrek_core::person::{Experience, Person};
use bavrek_core::plan::Intent;
use bavrek_core::strength::Ledger;
use bavrek_core::units::{Kilograms, Metres};
use chrono::NaiveDate;
use criterion::{BatchSize, Criterion, criterion_group, criterion_main};

fn person() -> Person {
    Person {
        body_mass_kg: Kilograms(71.0),
        height_m: Metres(1.68),
        experience: Experience::Intermediate,
        age_years: None,
        sex: None,
        limits: vec![],
    }
}

fn rich_kit() -> Vec<KitItem> {
    serde_json::from_str(
        r#"[{"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,14,16,20,24]},
            {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
            {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
            {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.032,"thickness_m":0.0045},
            {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.045,"thickness_m":0.0045},
            {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.0064,"thickness_m":0.0045},
            {"kind":"rings","max_height_m":2.2},{"kind":"pull_up_bar","height_m":2.2},
            {"kind":"anchor","heights_m":[0.1,1.2,2.0]},{"kind":"bench","angles_deg":[0,30,45,60,75]}]"#,
    )
    .unwrap_or_default()
}

/// As much as a place takes, each piece a little unlike the last: 160 bands and 40 adjustable pairs.
fn crowded_kit() -> Vec<KitItem> {
    let band = |i: u32| {
        let width = 0.006 + 0.094 * f64::from(i) / 160.0;
        format!(r#"{{"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":{width:.5},"thickness_m":0.0045}}"#)
    };
    let pair = |i: u32| {
        let (min, step) = (1.0 + 0.1 * f64::from(i), 0.5 + 0.05 * f64::from(i));
        format!(r#"{{"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":{min},"max":50,"step":{step}}}"#)
    };
    let all: Vec<String> = (0..160).map(band).chain((0..40).map(pair)).collect();
    serde_json::from_str(&format!("[{}]", all.join(","))).unwrap_or_default()
}

/// Three sessions a week of five movements, three sets each.
fn a_year_of_sets() -> Vec<LoggedSet> {
    let exercises = ["dumbbell_curl", "hammer_curl", "dumbbell_bench_press", "dumbbell_bench_fly", "dumbbell_row"];
    let days = NaiveDate::from_ymd_opt(2026, 1, 5).into_iter().flat_map(|d| d.iter_days().step_by(2).take(156));
    days.flat_map(|day| exercises.iter().flat_map(move |e| (0..3).map(move |set| (*e, day, set))))
        .map(|(exercise, day, set)| LoggedSet {
            reps: Some(12 - set),
            rir: Some(2),
            effective_kg: Some(Kilograms(10.0)),
            ..LoggedSet::of(exercise, day)
        })
        .collect()
}

/// Four sessions of seven slots over all patterns.
fn week() -> Vec<Intent> {
    let slots = [
        ("horizontal_press", "chest_sternal"),
        ("wide_row", "traps_middle"),
        ("fly", "chest_sternal"),
        ("vertical_pull", "lats"),
        ("side_raise", "delt_side"),
        ("elbow_flexion", "biceps_long"),
        ("elbow_extension", "triceps_long"),
        ("incline_press", "chest_clavicular"),
        ("close_row", "lats"),
        ("overhead_press", "delt_front"),
        ("rear_fly", "delt_rear"),
        ("elbow_flexion", "brachialis"),
        ("elbow_extension", "triceps_lateral"),
        ("trunk", "trunk_front"),
    ];
    slots
        .iter()
        .chain(&slots)
        .filter_map(|(pattern, region)| {
            let json =
                format!(r#"{{"pattern":"{pattern}","regions":{{"{region}":1.0}},"reps":[8,12],"rir":2,"sets":3}}"#);
            serde_json::from_str(&json).ok()
        })
        .collect()
}

fn fit_one_slot(criterion: &mut Criterion) {
    let Ok(catalogue) = load() else { return };
    let (person, kit) = (person(), rich_kit());
    let wanted = [
        (
            "fly",
            r#"{"pattern":"fly","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3,"reference_exercise":"dumbbell_bench_fly"}"#,
        ),
        (
            "curl",
            r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0,"brachialis":0.4},"reps":[8,12],"rir":2,"sets":3}"#,
        ),
    ];
    for (name, json) in wanted {
        let Ok(intent) = serde_json::from_str::<Intent>(json) else { continue };
        let question = FitQuestion::plain(&person, &kit, &intent);
        criterion.bench_function(&format!("fit/{name}"), |b| b.iter(|| fit(&catalogue, black_box(&question))));
    }
    let week = week();
    criterion.bench_function("fit/week_of_28_slots", |b| {
        b.iter(|| {
            let room = Room::plain(&person, &kit);
            let fitter = Fitter::new(&catalogue, room, &[], None);
            week.iter().map(|intent| fitter.fit(black_box(intent)).candidates.len()).sum::<usize>()
        });
    });
    if let Some(curl) = catalogue.movement("dumbbell_curl") {
        criterion.bench_function("ladder/dumbbell_curl", |b| b.iter(|| Ladder::of(curl, &person, black_box(&kit))));
    }
    let crowded = crowded_kit();
    if let Ok(intent) = serde_json::from_str::<Intent>(wanted[1].1) {
        let question = FitQuestion::plain(&person, &crowded, &intent);
        criterion
            .bench_function("fit/curl_in_a_room_of_200_pieces", |b| b.iter(|| fit(&catalogue, black_box(&question))));
    }
    let log = a_year_of_sets();
    criterion.bench_function("ledger/a_year_of_sets", |b| {
        b.iter(|| Ledger::replay(&catalogue, &person, black_box(&log), None));
    });
    let busy: Vec<LoggedSet> = log.iter().cycle().take(4_000).cloned().collect();
    let known = Ledger::replay(&catalogue, &person, &busy, None);
    criterion.bench_function("ledger/4000_sets", |b| {
        b.iter(|| Ledger::replay(&catalogue, &person, black_box(&busy), None));
    });
    criterion.bench_function("ledger/one_more_set", |b| {
        b.iter_batched_ref(
            || known.clone(),
            |ledger| ledger.take(black_box(&busy[3_999]), None),
            BatchSize::SmallInput,
        );
    });
    criterion.bench_function("ledger/trace_of_4000_sets", |b| b.iter(|| black_box(&known).trace()));
    criterion.bench_function("catalogue/load", |b| b.iter(load));
}

criterion_group!(benches, fit_one_slot);
criterion_main!(benches);
