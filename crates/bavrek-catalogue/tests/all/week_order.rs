//! The order in which the movements of a proposed day are done.

use crate::week_rooms::{by_every_school, drawn};
use bavrek_core::school::{Pairing, is_compound};
use bavrek_core::week::{Choice, DayPlan, Pick, Timing, lay_days};
use rand::SeedableRng;
use rand::seq::SliceRandom;
use rand_chacha::ChaCha8Rng;

/// A day is what its picks are: the order in which a search came to them changes neither what is done after what nor how long it takes. Of
/// weeks drawn by lot in every room and by every school.
#[test]
fn how_a_search_came_to_a_day_says_nothing_about_it() {
    let mut draw = ChaCha8Rng::seed_from_u64(3);
    let (mut weeks, mut lines) = (0, 0);
    by_every_school(|name, question, pool| {
        let mut timing = Timing::of(question, pool);
        for _ in 0..6 {
            let picks = drawn(&mut draw, question, pool);
            let mut shuffled = picks.clone();
            shuffled.shuffle(&mut draw);
            let (laid, other) = (lay_days(question, pool, &picks), lay_days(question, pool, &shuffled));
            for (one, other) in laid.iter().zip(&other) {
                assert_eq!(movements(one), movements(other), "{name}");
                assert_eq!(one.total, other.total, "{name}: {:?}", movements(one));
                lines += one.lines().count();
            }
            assert_eq!(timing.week(&picks), timing.week(&shuffled), "{name}");
            weeks += 1;
        }
    });
    assert!(weeks > 400 && lines > 3000, "{weeks} weeks, {lines} lines");
}

fn movements<'d>(day: &'d DayPlan<'_>) -> Vec<&'d str> {
    day.lines().map(|line| line.candidate.movement.id.as_str()).collect()
}

/// Of two movements that no school orders, what is led up to comes before what is not, then the torso before the arms and the trunk last:
/// two alone are set up no faster the other way round. All pairs of every room, by every school that pairs nothing.
#[test]
fn heavy_comes_before_light_and_the_torso_before_the_arms() {
    let (mut heavy, mut regions) = (0, 0);
    by_every_school(|name, question, pool| {
        if question.school.pairing != Pairing::Alone {
            return;
        }
        let sort = |c: &Choice<'_>| (c.room, is_compound(c.candidate.movement.pattern), question.aims.of(c.region).aim);
        let rank = |c: &Choice<'_>| (!c.led_up, c.region);
        for (i, first) in pool.iter().enumerate() {
            for (j, second) in pool.iter().enumerate() {
                if sort(first) != sort(second) || rank(first) >= rank(second) {
                    continue;
                }
                let day = question.days.iter().position(|day| day.room == first.room).unwrap();
                let pick = |choice: usize| Pick { day, choice, sets: pool[choice].sets[0] };
                let laid = lay_days(question, pool, &[pick(j), pick(i)]);
                let done = laid[day].lines().next().unwrap().candidate.movement;
                let [one, other] = [first, second].map(|c| &c.candidate.movement.id);
                assert_eq!(&done.id, one, "{name}: {one} and {other}");
                heavy += usize::from(first.led_up && !second.led_up);
                regions += usize::from(first.region != second.region);
            }
        }
    });
    assert!(heavy > 100 && regions > 1000, "{heavy} of weight, {regions} of regions");
}
