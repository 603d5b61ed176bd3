//! Loads in two parts: a weight with a band for a share of the whole, on every movement, and where that cannot be had.

use crate::common::asked::{Asked, CATALOGUE, PRESS, session, set_on};
use crate::common::{intent, kit, person};
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Prescription, Relation, Tempo};
use bavrek_core::fit::{FitQuestion, Related, fit};
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Person;
use bavrek_core::plan::Intent;
use bavrek_core::progress::CallKind;
use bavrek_core::units::Kilograms;
use bavrek_core::wording::told;
use rstest::rstest;

const ROOM: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[6,8,10,12,14,16,18,20,22,24,26,28,30]},{"kind":"bench","angles_deg":[0,30]},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}]"#;

fn dose(line: &str) -> Prescription {
    read(line).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 120 })
}

fn wanted(line: &str) -> Intent {
    intent(PRESS).dosed(dose(line))
}

#[rstest]
#[case::a_third("3 x 8-12, a third from a band", [33, 33])]
#[case::percent("3 x 8-12, with 20-30 % of it from a band, rest 2 min", [20, 30])]
#[case::at("3 x 8-12 at 40 % from a band", [40, 40])]
#[case::half("3 x 8-12, half from the band", [50, 50])]
fn two_parts_are_read_and_written(#[case] line: &str, #[case] percent: [u8; 2]) {
    let once = dose(line);
    assert_eq!(once.relation, Some(Relation::PartBand { percent }));
    assert_eq!(dose(&once.text()), once, "what is written is read back: {}", once.text());
}

#[rstest]
#[case::all_of_it("3 x 8, 100 % from a band", "10 to 90 %")]
#[case::hardly_any("3 x 8, 5 % from a band", "10 to 90 %")]
#[case::turned_about("3 x 8, 40-30 % from a band", "the lower one first")]
#[case::no_share("3 x 8, some from a band", "some from a band")]
fn what_is_no_part_is_refused(#[case] line: &str, #[case] says: &str) {
    let error = read(line).unwrap_err();
    assert!(error.message.contains(says), "{error}");
}

/// Whatever movement: a weight with a band near the share on every step, or the usual ladder.
#[rstest]
fn every_movement_takes_both_or_stays_as_it_is(#[values("20 %", "a third", "60 %")] share: &str) {
    let (person, room) = (person(), full_room());
    let line = wanted(&format!("3 x 8-12, {share} from a band"));
    let wanted = f64::from(line.dose.band_percent().unwrap()[0]) / 100.0;
    let mut mixed = 0;
    for movement in &CATALOGUE.movements {
        let ladder = Ladder::of_line(movement, &person, &room, &line);
        let usual = Ladder::of(movement, &person, &room);
        if ladder == usual {
            continue;
        }
        mixed += 1;
        assert!(ladder.steps.windows(2).all(|p| p[0].effective_kg < p[1].effective_kg), "{}", movement.id);
        // Who cannot begin with both begins with a weight alone, as light as any.
        let first = ladder.steps.iter().position(LadderStep::is_mixed).unwrap();
        let (alone, both) = ladder.steps.split_at(first);
        assert!(alone.iter().all(|step| usual.steps.contains(step)) && both.len() <= 25, "{}", movement.id);
        for step in both {
            let told = format!("{}: {}, {:.2}", movement.id, step.label, step.band_share);
            assert!(step.is_mixed() && (step.band_share - wanted).abs() < 0.13, "{told}");
            assert_eq!(step.bands.len(), 1, "{told}");
            assert!(Ladder::can_set_up(movement, &person, &room, step), "{told}");
        }
    }
    assert!(mixed >= 15, "{mixed}");
}

/// A press on a step in two parts, with so many repetitions in each of its sets.
fn done(step: &LadderStep, reps: u16) -> Vec<LoggedSet> {
    let set = LoggedSet { reps: Some(reps), rir: Some(2), ..set_on("dumbbell_bench_press", "2026-03-02", step) };
    vec![set; 3]
}

#[test]
fn the_repetitions_decide_how_heavy_both_are_together() {
    let (person, room) = (person(), kit(ROOM));
    let line = wanted("3 x 8-12, 2 in reserve, 25-35 % from a band");
    let history = session("dumbbell_bench_press", "2026-03-01", 24.0, &[10, 10, 10], 2);
    let answer = fit(&CATALOGUE, &FitQuestion { history: &history, ..FitQuestion::plain(&person, &room, &line) });
    let press = answer.candidates.iter().find(|c| c.movement.id == "dumbbell_bench_press").unwrap();
    assert_eq!(press.start.related, Some(Related::Parts));
    let step = press.step();
    assert!(step.is_mixed() && (0.2..0.45).contains(&step.band_share), "{step:?}");
    assert!((step.effective_kg.value() / 24.0 - 1.0).abs() < 0.12, "{} for what was 24 kg", step.effective_kg);
    assert!(
        answer.candidates[0].step().is_mixed(),
        "what is asked so comes first: {}",
        answer.candidates[0].movement.id
    );
    let reason = &told(&press.reasons)[0];
    let share = format!("25–35 % from a band was asked: of this step it is {:.0} %", 100.0 * step.band_share);
    assert_eq!(*reason, share);
    // All of the zone done: the next of these steps, in two parts as well.
    let call = Asked {
        intent: line.clone(),
        prescription: Some(dose("3 x 8-12, 2 in reserve, 25-35 % from a band")),
        room: ROOM.to_owned(),
        ..Asked::of(PRESS, done(step, 12))
    }
    .call();
    let next = call.step.clone().unwrap();
    assert_eq!(call.call, CallKind::AddLoad, "{:?}", call.reasons);
    assert!(next.is_mixed() && next.effective_kg > step.effective_kg, "{}", next.label);
}

/// On a first day nothing is heavier for being in two parts, and who is too weak for both begins with a weight alone and says so.
#[rstest]
#[case::strong(1.0, "half", 0.013, Related::Parts)]
#[case::weak(0.45, "half", 0.045, Related::MixTooHeavy)]
fn a_first_day_is_no_heavier_for_it(
    #[case] share: f64,
    #[case] part: &str,
    #[case] width_m: f64,
    #[case] expected: Related,
) {
    let usual = person();
    let weak = Person { body_mass_kg: Kilograms(usual.body_mass_kg.value() * share), ..usual };
    let room = kit(&format!(
        r#"[{{"kind":"dumbbells","unit":"kg","pairs":[2,3,4,6,8,10,12,14,16,18,20]}},{{"kind":"bench","angles_deg":[0]}},
        {{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":{width_m},"thickness_m":0.0045}}]"#
    ));
    let on = |line: &str| {
        let wanted = wanted(line);
        let found = fit(&CATALOGUE, &FitQuestion::plain(&weak, &room, &wanted)).candidates;
        found.into_iter().find(|c| c.movement.id == "dumbbell_bench_press").unwrap()
    };
    let (plain, both) = (on("3 x 8-12"), on(&format!("3 x 8-12, {part} from a band")));
    assert!(both.step().effective_kg.value() <= 1.001 * plain.step().effective_kg.value(), "{}", both.step().label);
    assert_eq!(both.start.related, Some(expected), "{}", both.step().label);
    let says =
        if expected == Related::Parts { "of this step it is" } else { "less than the lightest step of both here" };
    assert!(told(&both.reasons).iter().any(|r| r.contains(says)), "{:?}", both.reasons);
}

#[rstest]
#[case::no_band(r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,12,16,20]},{"kind":"bench","angles_deg":[0]}]"#)]
fn without_a_band_the_usual_steps_say_so(#[case] room: &str) {
    let (person, room): (_, Vec<KitItem>) = (person(), kit(room));
    let line = wanted("3 x 8-12, a third from a band");
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&person, &room, &line));
    let press = answer.candidates.iter().find(|c| c.movement.id == "dumbbell_bench_press").unwrap();
    assert_eq!(press.start.related, Some(Related::NoMix));
    let says = "33 % from a band was asked, and nothing here adds a band to a weight in it: the usual steps";
    assert!(told(&press.reasons).iter().any(|r| r == says), "{:?}", press.reasons);
}
