//! The order in which the movements of a proposed day are done.

use crate::week_rooms::{CATALOGUE, INTAKE, drawn, twelve};
use bavrek_core::fit::Mate;
use bavrek_core::school::{Pairing, is_compound};
use bavrek_core::set_ups::stands;
use bavrek_core::week::{Choice, DayPlan, Pick, Timing, WeekQuestion, choices, lay_days};
use rand::SeedableRng;
use rand::seq::SliceRandom;
use rand_chacha::ChaCha8Rng;

/// Least that another order has to spare for a session's blocks to change places, s.
const WORTH: f64 = 15.0;

/// A day is what its picks are: the order in which a search came to them changes neither what is done after what nor how long it takes. Of
/// weeks drawn by lot in every room and by every school.
#[test]
fn how_a_search_came_to_a_day_says_nothing_about_it() {
    let mut draw = ChaCha8Rng::seed_from_u64(3);
    let (mut weeks, mut lines) = (0, 0);
    for (name, asked) in twelve() {
        for school in &INTAKE.schools {
            asked.ask(|question, _| {
                let question = &WeekQuestion { school, ..*question };
                let pool = choices(&CATALOGUE, question).unwrap();
                let mut timing = Timing::of(question, &pool);
                for _ in 0..6 {
                    let picks = drawn(&mut draw, question, &pool);
                    let mut shuffled = picks.clone();
                    shuffled.shuffle(&mut draw);
                    let (laid, other) = (lay_days(question, &pool, &picks), lay_days(question, &pool, &shuffled));
                    for (one, other) in laid.iter().zip(&other) {
                        assert_eq!(movements(one), movements(other), "{name}, {}", school.id);
                        assert_eq!(one.total, other.total, "{name}, {}: {:?}", school.id, movements(one));
                        lines += one.lines().count();
                    }
                    assert_eq!(timing.week(&picks), timing.week(&shuffled), "{name}, {}", school.id);
                    weeks += 1;
                }
            });
        }
    }
    assert!(weeks > 400 && lines > 3000, "{weeks} weeks, {lines} lines");
}

fn movements<'d>(day: &'d DayPlan<'_>) -> Vec<&'d str> {
    day.lines().map(|line| line.candidate.movement.id.as_str()).collect()
}

/// Of two movements that no school orders, what is led up to comes before what is not, then the torso before the arms and the trunk last;
/// only where that spares setting up again it is the other way round. All pairs of every room, by every school that pairs nothing.
#[test]
fn heavy_comes_before_light_and_the_torso_before_the_arms() {
    let (mut heavy, mut regions, mut spared) = (0, 0, 0);
    for (name, asked) in twelve() {
        for school in INTAKE.schools.iter().filter(|s| s.pairing == Pairing::Alone) {
            asked.ask(|question, _| {
                let question = &WeekQuestion { school, ..*question };
                let pool = choices(&CATALOGUE, question).unwrap();
                let sort = |c: &Choice<'_>| {
                    (c.room, is_compound(c.candidate.movement.pattern), question.aims.of(c.region).aim)
                };
                let rank = |c: &Choice<'_>| (!c.led_up, c.region);
                for (i, first) in pool.iter().enumerate() {
                    for (j, second) in pool.iter().enumerate() {
                        if sort(first) != sort(second) || rank(first) >= rank(second) {
                            continue;
                        }
                        let day = question.days.iter().position(|day| day.room == first.room).unwrap();
                        let pick = |choice: usize| Pick { day, choice, sets: pool[choice].sets[0] };
                        let laid = lay_days(question, &pool, &[pick(j), pick(i)]);
                        let done = laid[day].lines().next().unwrap().candidate.movement;
                        let [a, b] =
                            [first, second].map(|c| Mate { movement: c.candidate.movement, step: c.candidate.step() });
                        let turned = stands(&b, &a).value() - stands(&a, &b).value() >= WORTH;
                        let expected = if turned { second } else { first }.candidate.movement;
                        assert_eq!(
                            done.id, expected.id,
                            "{name}, {}: {} and {}",
                            school.id, a.movement.id, b.movement.id
                        );
                        heavy += usize::from(first.led_up && !second.led_up);
                        regions += usize::from(first.region != second.region);
                        spared += usize::from(turned);
                    }
                }
            });
        }
    }
    assert!(heavy > 100 && regions > 1000, "{heavy} of weight, {regions} of regions, {spared} turned");
}
