//! How a fit answers: limits, starting loads, what is left out, and why a movement has its place.

use std::sync::LazyLock;

use crate::common::{dumbbell_set, intent, kit, limited, person};
use bavrek_catalogue::load;
use bavrek_core::anatomy::{Pattern, Region};
use bavrek_core::fit::{Basis, ExclusionCode, FitAnswer, FitQuestion, Note, PutAside, Verdict, Why, fit};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::{Missing, Piece};
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::Person;
use bavrek_core::plan::Intent;
use bavrek_core::units::Kilograms;
use bavrek_core::wording::told;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

fn ask<'a>(person: &Person, kit: &[KitItem], intent: &Intent, history: &[LoggedSet]) -> FitAnswer<'a> {
    fit(&CATALOGUE, &FitQuestion { history, ..FitQuestion::plain(person, kit, intent) })
}

fn leader(answer: &FitAnswer<'_>) -> &'static str {
    CATALOGUE.movement(&answer.candidates[0].movement.id).unwrap().id.as_str()
}

fn excluded(answer: &FitAnswer<'_>, id: &str) -> Option<ExclusionCode> {
    answer.excluded.iter().find(|e| e.movement.id == id).map(|e| e.why[0].code())
}

const DUMBBELLS: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16,20]}"#;
const BANDS: &str = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
const ANCHOR: &str = r#"{"kind":"anchor","heights_m":[0.1,1.2,2.0]}"#;
const BENCH: &str = r#"{"kind":"bench","angles_deg":[0,30,45,60,75]}"#;
const FLY: &str = r#"{"pattern":"fly","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3,"reference_exercise":"dumbbell_bench_fly"}"#;
const PRESS: &str = r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
const INCLINE: &str =
    r#"{"pattern":"incline_press","regions":{"chest_clavicular":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
const LONG_HEAD_CURL: &str = r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"arm_position":"behind","reps":[8,12],"rir":2,"sets":3}"#;
const BRACHIALIS: &str =
    r#"{"pattern":"elbow_flexion","regions":{"brachialis":1.0},"grip":"neutral","reps":[8,12],"rir":2,"sets":3}"#;
const LONG_HEAD_EXTENSION: &str = r#"{"pattern":"elbow_extension","regions":{"triceps_long":1.0},"arm_position":"overhead","reps":[8,12],"rir":2,"sets":3}"#;
const PULL: &str = r#"{"pattern":"vertical_pull","regions":{"lats":1.0},"reps":[6,10],"rir":2,"sets":3}"#;
const WIDE_ROW: &str =
    r#"{"pattern":"wide_row","regions":{"traps_middle":1.0,"delt_rear":0.6},"reps":[8,12],"rir":2,"sets":3}"#;
const SIDE: &str = r#"{"pattern":"side_raise","regions":{"delt_side":1.0},"reps":[12,20],"rir":2,"sets":3}"#;

#[test]
fn a_shoulder_that_hurts_in_deep_stretch_gets_the_floor_fly() {
    let sore = limited(r#"{"joint":"shoulder","what":"pain_deep_stretch","side":"left","severity":"moderate"}"#);
    let kit = kit(&format!("[{DUMBBELLS},{BENCH},{BANDS},{ANCHOR}]"));
    let answer = ask(&sore, &kit, &intent(FLY), &[]);
    assert_eq!(leader(&answer), "dumbbell_floor_fly");
    assert_eq!(excluded(&answer, "dumbbell_bench_fly"), Some(ExclusionCode::Limit));
    let why = &answer.excluded.iter().find(|e| e.movement.id == "dumbbell_bench_fly").unwrap().why[0];
    assert!(why.to_string().contains("left shoulder"), "{why}");
    assert!(told(&answer.candidates[0].lost).iter().any(|l| l.starts_with("less work lengthened")));
}

#[test]
fn a_mild_limit_eases_and_does_not_exclude() {
    let mild = limited(r#"{"joint":"shoulder","what":"pain_deep_stretch","side":"both","severity":"mild"}"#);
    let kit = kit(&format!("[{DUMBBELLS},{BENCH}]"));
    let answer = ask(&mild, &kit, &intent(FLY), &[]);
    let bench = answer.candidates.iter().find(|c| c.movement.id == "dumbbell_bench_fly").unwrap();
    assert!(bench.parts.joints < 1.0);
    assert!(told(&bench.reasons).iter().any(|r| r.starts_with("go easy")));
}

#[test]
fn a_step_far_above_the_evidence_is_out_of_reach() {
    let weak: Vec<LoggedSet> =
        (1..=6).map(|i| dumbbell_set("dumbbell_curl", &format!("2026-03-{i:02}"), 3.0, 8, 1)).collect();
    let kit = kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[20]}]"#);
    let wanted = intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let answer = ask(&person(), &kit, &wanted, &weak);
    assert_eq!(excluded(&answer, "dumbbell_curl"), Some(ExclusionCode::OutOfReach));
}

#[test]
fn the_start_rests_on_the_best_evidence_and_on_a_step_that_exists() {
    let kit = kit(&format!("[{DUMBBELLS}]"));
    let wanted = intent(r#"{"pattern":"elbow_flexion","regions":{"brachialis":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let curls: Vec<LoggedSet> =
        (1..=9).map(|i| dumbbell_set("dumbbell_curl", &format!("2026-03-{i:02}"), 10.0, 10, 2)).collect();
    let hammer = |history: &[LoggedSet]| {
        let answer = ask(&person(), &kit, &wanted, history);
        let found = answer.candidates.into_iter().find(|c| c.movement.id == "hammer_curl").unwrap();
        (found.start, found.step().clone())
    };
    let (guess, _) = hammer(&[]);
    assert_eq!(guess.basis, Basis::Prior);
    let (carried, step) = hammer(&curls);
    assert_eq!(carried.basis, Basis::Pattern);
    assert!(carried.sd < guess.sd);
    // Ten kilograms for ten repetitions carry over at 1.08; the uncertain side rounds down to the pair of ten.
    assert_eq!(step.effective_kg, Kilograms(10.0));
    let own: Vec<LoggedSet> =
        (1..=3).map(|i| dumbbell_set("hammer_curl", &format!("2026-04-{i:02}"), 12.0, 10, 2)).collect();
    let (known, step) = hammer(&[curls, own].concat());
    assert_eq!(known.basis, Basis::ThisExercise);
    assert_eq!(step.effective_kg, Kilograms(12.0));
}

#[test]
fn sets_that_cannot_be_are_not_averaged_in() {
    let kit = kit(&format!("[{DUMBBELLS}]"));
    let wanted = intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let impossible = [
        dumbbell_set("dumbbell_curl", "2026-03-01", 10.0, 60, 2),
        dumbbell_set("nobody_knows", "2026-03-01", 10.0, 10, 2),
        dumbbell_set("dumbbell_curl", "2026-03-01", 300.0, 10, 2),
    ];
    let answer = ask(&person(), &kit, &wanted, &impossible);
    assert_eq!(
        told(&answer.notes),
        [
            "1 set left out: of a movement that the catalogue does not hold",
            "1 set left out: heavier than anyone of this body mass lifts",
        ]
    );
    let curl = answer.candidates.iter().find(|c| c.movement.id == "dumbbell_curl").unwrap();
    assert_eq!(curl.start.basis, Basis::ThisExercise, "sixty repetitions say that the load is light");
    let future = [dumbbell_set("dumbbell_curl", "2026-05-01", 10.0, 10, 2)];
    let person = person();
    let question = FitQuestion {
        history: &future,
        today: Some(crate::common::day("2026-04-01")),
        ..FitQuestion::plain(&person, &kit, &wanted)
    };
    let answer = fit(&CATALOGUE, &question);
    assert_eq!(told(&answer.notes), ["1 set left out: dated after today"]);
    let curl = answer.candidates.into_iter().find(|c| c.movement.id == "dumbbell_curl").unwrap();
    assert_eq!(curl.start.basis, Basis::Prior);
}

#[test]
fn every_candidate_can_be_shown() {
    let kit = kit(&format!("[{DUMBBELLS},{BENCH},{BANDS},{ANCHOR},{{\"kind\":\"rings\",\"max_height_m\":2.2}}]"));
    for wanted in [FLY, PRESS, INCLINE, LONG_HEAD_CURL, BRACHIALIS, LONG_HEAD_EXTENSION, PULL, WIDE_ROW, SIDE] {
        let answer = ask(&person(), &kit, &intent(wanted), &[]);
        assert!(answer.candidates.windows(2).all(|w| w[0].score >= w[1].score));
        for candidate in &answer.candidates {
            assert!(candidate.parts.values().iter().all(|p| (0.0..=1.0).contains(p)), "{:?}", candidate.parts);
            assert!((0.0..=1.0).contains(&candidate.score) && !candidate.kept.is_empty());
            assert!(
                candidate.start.low <= candidate.start.expected && candidate.start.expected <= candidate.start.high
            );
            // Nobody knows a resistance by hand, so there is little to say of it.
            let least = if candidate.movement.rig.is_resisted() { 1 } else { 3 };
            assert!(candidate.reasons.len() >= least, "{}: {:?}", candidate.movement.id, candidate.reasons);
        }
    }
}

#[test]
fn what_a_trainer_put_aside_is_ruled_out_with_the_reason() {
    let (person, kit, wanted) = (person(), kit(&format!("[{DUMBBELLS}]")), intent(BRACHIALIS));
    let aside = [PutAside { exercise: "hammer_curl".into(), reason: "wrists ached last spring".into() }];
    let answer = fit(&CATALOGUE, &FitQuestion { put_aside: &aside, ..FitQuestion::plain(&person, &kit, &wanted) });
    assert!(answer.candidates.iter().all(|c| c.movement.id != "hammer_curl"));
    let why = &answer.excluded.iter().find(|e| e.movement.id == "hammer_curl").unwrap().why[0];
    assert_eq!(
        (why.code(), why.to_string().as_str()),
        (ExclusionCode::PutAside, "put aside: wrists ached last spring")
    );
}

#[test]
fn every_movement_can_be_asked_why_not() {
    let (person, kit, wanted) = (person(), kit(&format!("[{DUMBBELLS},{BANDS}]")), intent(BRACHIALIS));
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&person, &kit, &wanted));
    let of = |id: &str| answer.verdict(CATALOGUE.movement(id).unwrap(), &wanted);
    assert_eq!(of(&answer.candidates[0].movement.id), Verdict::Ranked(0, vec![]));
    // The palm down costs the grip, so the target is what it is behind in first.
    let Verdict::Ranked(place, behind) = of("reverse_curl") else { panic!("{:?}", of("reverse_curl")) };
    assert!(place > 0 && behind[0] == "target kept", "{behind:?}");
    assert!(
        matches!(of("neutral_ring_curl"), Verdict::Excluded(why) if why[0] == Why::Missing(Missing::Piece(Piece::Rings)))
    );
    let Verdict::OffTarget(instead) = of("side_raise") else { panic!("{:?}", of("side_raise")) };
    assert_eq!(instead.to_string(), "a side raise for side shoulder; it does not work brachialis");
    let verdicts: Vec<_> = CATALOGUE.movements.iter().map(|m| answer.verdict(m, &wanted)).collect();
    let ranked = verdicts.iter().filter(|v| matches!(v, Verdict::Ranked(..))).count();
    let out = verdicts.iter().filter(|v| matches!(v, Verdict::Excluded(why) if !why.is_empty())).count();
    assert_eq!((ranked, out), (answer.candidates.len(), answer.excluded.len()));
}

/// A bare room: every region has a direct movement, or the answer says that it has none and what would.
#[test]
fn a_bare_room_is_honest_about_every_region() {
    let catalogue = load().unwrap();
    let (mut said, mut trained) = (Vec::new(), 0);
    for region in Region::ALL {
        let direct = |m: &Movement| m.trains_directly(*region);
        for pattern in Pattern::ALL.iter().filter(|p| catalogue.movements.iter().any(|m| m.pattern == **p && direct(m)))
        {
            let wanted = intent(&format!(
                r#"{{"pattern":"{}","regions":{{"{}":1.0}},"reps":[8,15],"rir":2,"sets":3}}"#,
                pattern.id(),
                region.id()
            ));
            let answer = fit(&catalogue, &FitQuestion::plain(&person(), &[], &wanted));
            let note = answer.notes.iter().find(|n| matches!(n, Note::Untrained(u) if u.region == *region));
            let has = answer.candidates.iter().any(|c| c.movement.trains_directly(*region));
            assert_eq!(note.is_none(), has, "{region}, {pattern}: {:?}", answer.notes);
            trained += usize::from(has);
            said.extend(note.map(ToString::to_string));
        }
    }
    assert!(trained >= 20 && said.len() >= 5, "{trained} {}", said.len());
    let why = |n: &String| n.contains(" would: it needs ") || n.contains(" would, but over 60 reps on the heaviest");
    assert!(said.iter().all(|n| why(n) || !n.contains(" would")), "{said:?}");
}
