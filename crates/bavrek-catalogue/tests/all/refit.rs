//! What is proposed for a slot at another place, and why.

use std::sync::LazyLock;

use crate::common::{intent, kit, person};
use bavrek_catalogue::load;
use bavrek_core::fit::{Because, Fitter, Known, Refit, Room};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::movement::Catalogue;
use bavrek_core::plan::Intent;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const GYM: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[6,8,10,12]},{"kind":"bench","angles_deg":[0,45,60]}]"#;

fn curl() -> Intent {
    intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#)
}

fn refit(room: &[KitItem], wanted: &Intent, known: &Known<'_>) -> Refit<'static> {
    let person = person();
    let room = Room::plain(&person, room);
    Fitter::new(&CATALOGUE, room, &[], None).refit(wanted, known)
}

/// The movement that is proposed, and why.
fn proposed(answer: &Refit<'static>) -> Option<(&'static str, Because)> {
    answer.proposed.map(|(i, why)| (answer.candidates[i].movement.id.as_str(), why))
}

fn step(id: &str, kg: f64) -> LadderStep {
    let ladder = Ladder::whole(CATALOGUE.movement(id).unwrap(), &person(), &kit(GYM));
    ladder.steps.into_iter().find(|s| s.load.is_some_and(|l| l.value == kg)).unwrap()
}

#[test]
fn a_pinned_movement_comes_before_what_was_there_and_that_before_the_best() {
    let room = kit(GYM);
    let plain = refit(&room, &curl(), &Known::default());
    assert_eq!((plain.proposed, plain.stands, plain.unpinned), (Some((0, Because::Best)), false, false));
    // The two that score least would never be proposed for themselves.
    let [.., pinned, old] = &plain.candidates[..] else { panic!("too few candidates") };
    let before = Some((old.movement.id.as_str(), old.step()));
    let there = refit(&room, &curl(), &Known { today: None, before });
    assert_eq!((proposed(&there), there.stands), (Some((&*old.movement.id, Because::Before)), true));
    let today = Some((pinned.movement.id.as_str(), true));
    let both = refit(&room, &curl(), &Known { today, before });
    assert_eq!((proposed(&both), both.stands), (Some((&*pinned.movement.id, Because::Pinned)), true));
}

#[test]
fn a_step_that_is_gone_does_not_stand() {
    let ten = step("dumbbell_curl", 10.0);
    let light = kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6]}]"#);
    let answer = refit(&light, &curl(), &Known { today: None, before: Some(("dumbbell_curl", &ten)) });
    assert!(!answer.stands && proposed(&answer).unwrap().1 != Because::Before);
}

#[test]
fn todays_movement_goes_on_where_it_is_nearly_as_good() {
    let room = kit(GYM);
    let answer = refit(&room, &curl(), &Known::default());
    let best = answer.candidates[0].score;
    for candidate in &answer.candidates[1..] {
        let id = candidate.movement.id.as_str();
        let why = proposed(&refit(&room, &curl(), &Known { today: Some((id, false)), before: None })).unwrap();
        let expected = if candidate.score >= 0.93 * best {
            (id, Because::Same)
        } else {
            (answer.candidates[0].movement.id.as_str(), Because::Best)
        };
        assert_eq!(why, expected, "{} of {best}", candidate.score);
    }
}

#[test]
fn what_nothing_does_is_named_with_the_nearest_or_left_open() {
    let rows = intent(r#"{"pattern":"close_row","regions":{"lats":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let answer = refit(&[], &rows, &Known { today: Some(("dumbbell_row", true)), before: None });
    assert!(answer.unpinned && !answer.stands);
    assert!(answer.candidates.len() <= 1);
    assert_eq!(proposed(&answer).map(|(_, why)| why), answer.candidates.first().map(|_| Because::Nearest));
}
