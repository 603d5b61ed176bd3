//! Proposed weeks: what they keep to in unlike rooms, against a greedy week of the same pool, and what they say of the rest.

use std::collections::{BTreeMap, BTreeSet};

use crate::common::{day, dumbbell_set, limited, person};
use crate::week_rooms::{Asked, BARE, CATALOGUE, GYM, HOME, INTAKE, greedy, twelve};
use bavrek_core::aims::Aim;
use bavrek_core::anatomy::Region;
use bavrek_core::kit::full_room;
use bavrek_core::method::Method;
use bavrek_core::person::{Experience, Person};
use bavrek_core::school::School;
use bavrek_core::volume::Volume;
use bavrek_core::week::{
    Binds, DayPlan, Help, Lately, Model, Pick, Pin, Week, WeekQuestion, Wish, balance, choices, helps, lay_days,
    propose,
};
use chrono::Days;
use rstest::rstest;

fn direct(day: &DayPlan<'_>, region: Region) -> f64 {
    let mut volume = Volume::default();
    for line in day.lines() {
        volume.plan(line.candidate.movement, &line.candidate.prescription);
    }
    volume.of(region).direct
}

/// What every proposal keeps to.
fn assert_kept(name: &str, question: &WeekQuestion<'_>, school: &School, week: &Week<'_>) {
    assert_eq!(week.days.len(), question.days.len(), "{name}");
    assert!(week.objective <= week.bound + 1e-6, "{name}: {} of {}", week.objective, week.bound);
    for (i, (day, asked)) in week.days.iter().zip(question.days).enumerate() {
        let minutes = day.total.value() / 60.0;
        assert!(minutes <= f64::from(asked.minutes) + 1e-6, "{name}, day {i}: {minutes} of {}", asked.minutes);
        assert!(day.lines().count() <= usize::from(school.movements[1]), "{name}, day {i}");
        for line in day.lines() {
            let zone = line.candidate.prescription.zone().unwrap_or_default();
            let reps = line.candidate.start.reps;
            let id = &line.candidate.movement.id;
            assert!(reps >= 0.55 * f64::from(zone[0]), "{name}, day {i}: {reps} of {zone:?} left of {id}");
            assert!(!line.candidate.start.is_too_light(), "{name}, day {i}: {reps} for {zone:?} on {id}");
        }
        let movements: BTreeSet<&str> = day.lines().map(|l| l.candidate.movement.id.as_str()).collect();
        assert_eq!(movements.len(), day.lines().count(), "{name}, day {i}: a movement twice");
        for line in day.lines() {
            let person = question.rooms[asked.room].person;
            let kit = question.rooms[asked.room].kit;
            let why = bavrek_core::fit::ruled_out(line.candidate.movement, person, kit);
            assert!(why.is_empty(), "{name}: {} is ruled out: {:?}", line.candidate.movement.id, why);
            assert_eq!(line.intent.dose.prescription().sets.len(), line.candidate.prescription.sets.len(), "{name}");
            let stamped = line.candidate.prescription.sets.iter().all(|s| s.load == line.candidate.step().load);
            assert!(stamped, "{name}: {} is dosed on another step", line.candidate.movement.id);
        }
        for region in Region::ALL {
            assert!(direct(day, *region) <= 10.0 + 1e-6, "{name}, day {i}: {region}");
            for (other, _) in week.days.iter().enumerate().filter(|(j, _)| question.follows(i, *j)) {
                let both = direct(day, *region) + direct(&week.days[other], *region);
                assert!(both <= 6.0 + 1e-6, "{name}: {both} sets of {region} on days {i} and {other}");
            }
        }
    }
    for unmet in &week.unmet {
        let sets = week.volume.of(unmet.region).total();
        assert!((sets - unmet.sets).abs() < 1e-9 && sets < unmet.least, "{name}: {unmet:?}");
        assert!(!unmet.to_string().is_empty(), "{name}: {unmet:?}");
    }
}

/// Sets that the aims ask for: those of each region up to its least, less those beyond its most, counted by what its aim counts.
fn covered(question: &WeekQuestion<'_>, volume: &Volume) -> f64 {
    let of = |region: &Region| {
        let [least, most] = question.aims.weekly_sets(*region, question.volumes, question.rooms[0].person.experience);
        let weight = match question.aims.of(*region).aim {
            Aim::Focus => 3.0,
            Aim::Grow => 2.0,
            Aim::Keep => 1.0,
        };
        let sets = volume.of(*region).total();
        weight * (sets.min(least) - (sets - most).max(0.0))
    };
    Region::ALL.iter().map(of).sum()
}

#[test]
fn twelve_weeks_keep_their_rules_and_are_worth_more_than_greedy_ones() {
    let mut twice = 0;
    for (name, asked) in twelve() {
        asked.ask(|question, school| {
            let week = propose(&CATALOGUE, question).unwrap();
            twice += trained_twice(&week);
            assert_kept(name, question, school, &week);
            assert!(week.days.iter().any(|d| d.lines().count() > 0), "{name}: nothing at all");
            let pool = choices(&CATALOGUE, question).unwrap();
            let model = Model::of(question, &pool);
            let by_hand = greedy(question, &pool, &model);
            let worth = model.value(&by_hand);
            assert!(week.objective > worth - 1e-6, "{name}: {} against {worth} by hand", week.objective);
            let mut theirs = Volume::default();
            for day in lay_days(question, &pool, &by_hand) {
                day.lines().for_each(|line| theirs.plan(line.candidate.movement, &line.candidate.prescription));
            }
            let [own, theirs] = [&week.volume, &theirs].map(|volume| covered(question, volume));
            assert!(own > theirs, "{name}: covers {own} sets, {theirs} by hand");
            // How near it is to the bound hangs on the time there was; far off it is never, and a single short day, which has
            // few lines, is proved at once.
            let least = if question.days.len() == 1 { 0.95 } else { 0.7 };
            assert!(week.objective > least * week.bound, "{name}: {} of {}", week.objective, week.bound);
        });
    }
    // Where a second day of a region counts for nothing these are 56.
    assert!(twice >= 66, "{twice} regions are trained on two days");
}

#[rstest]
fn every_school_doses_its_own_week(
    #[values(
        Method::ReserveBased,
        Method::HeavyCompound,
        Method::SlowTempo,
        Method::HighRepBand,
        Method::PastFailure,
        Method::AntagonistPairs,
        Method::RegionSweep,
        Method::TimedCircuit,
        Method::MixedContractions
    )]
    method: Method,
) {
    let asked = Asked::of(
        Person { experience: Experience::Advanced, ..person() },
        &[GYM],
        &[(0, 60, 1), (0, 60, 4)],
        &[("lats", Aim::Grow)],
        method,
    );
    asked.ask(|question, school| {
        let week = propose(&CATALOGUE, question).unwrap();
        assert_kept(method.id(), question, school, &week);
        let kinds: BTreeSet<&str> = school
            .compound
            .iter()
            .chain(&school.isolation)
            .map(|s| s.kind.id())
            .chain(["hold", "lowering_only"])
            .collect();
        let lines: Vec<_> = week.days.iter().flat_map(DayPlan::lines).collect();
        assert!(lines.len() >= 2, "{}", lines.len());
        for line in lines {
            for set in &line.candidate.prescription.sets {
                assert!(kinds.contains(set.kind.id()), "{}: {}", line.candidate.movement.id, set.kind);
            }
        }
    });
}

/// Direct sets of the middle chest on a Wednesday and a Friday, asked on that Wednesday after so many on an earlier day.
fn chest_after(done: u64, days_ago: u64) -> [f64; 2] {
    let asked =
        Asked::of(person(), &[GYM], &[(0, 60, 3), (0, 60, 5)], &[("chest_sternal", Aim::Focus)], Method::ReserveBased);
    let today = day("2026-03-11");
    let on = (today - Days::new(days_ago)).to_string();
    let log: Vec<_> = (0..done).map(|_| dumbbell_set("dumbbell_bench_press", &on, 20.0, 10, 2)).collect();
    let lately = Lately::of(&CATALOGUE, &log.iter().collect::<Vec<_>>(), today);
    asked.ask(|question, school| {
        let question = WeekQuestion { today: Some(today), lately, ..*question };
        let week = propose(&CATALOGUE, &question).unwrap();
        assert_kept("after a day", &question, school, &week);
        [0, 1].map(|i| direct(&week.days[i], Region::ChestSternal))
    })
}

/// What was trained hard the day before or the same day is not crushed again; what lies further back changes nothing.
#[rstest]
#[case::four_yesterday(4, 1, 2.0)]
#[case::six_yesterday(6, 1, 0.0)]
#[case::many_yesterday(11, 1, 0.0)]
#[case::six_today(6, 0, 4.0)]
#[case::all_of_a_day_today(10, 0, 0.0)]
#[case::two_days_ago(6, 2, 10.0)]
#[case::a_week_ago(6, 7, 10.0)]
fn what_was_done_just_before_is_not_crushed_again(#[case] done: u64, #[case] days_ago: u64, #[case] most: f64) {
    let fresh = chest_after(0, 1);
    assert!(fresh[0] >= 3.0 && fresh[1] >= 3.0, "{fresh:?}");
    let [wednesday, friday] = chest_after(done, days_ago);
    assert!(wednesday <= most + 1e-9, "{wednesday} of {most}");
    assert!(days_ago > 1 || fresh[0] > most, "{} is not more than {most} anyway", fresh[0]);
    assert!(friday >= 3.0, "{friday}");
    assert!(days_ago < 2 || wednesday >= 3.0, "{wednesday}");
}

/// Two places that hold the same offer the same, each for its own days; one with less does not.
#[test]
fn places_that_hold_the_same_offer_the_same() {
    let asked =
        Asked::of(person(), &[GYM, HOME, GYM], &[(0, 60, 1), (1, 60, 3), (2, 60, 5)], &[], Method::ReserveBased);
    asked.ask(|question, _| {
        let pool = choices(&CATALOGUE, question).unwrap();
        let of = |room: usize| -> BTreeSet<(String, String)> {
            let here = pool.iter().filter(|c| c.room == room);
            here.map(|c| (c.candidate.movement.id.clone(), c.candidate.step().label.clone())).collect()
        };
        assert!(of(0).len() > 20, "{}", of(0).len());
        assert_eq!(of(0), of(2));
        assert_ne!(of(0), of(1));
    });
}

/// What lags lies on both sides, on one, on the other.
#[rstest]
#[case::both(&[("chest_sternal", Aim::Grow), ("lats", Aim::Grow)])]
#[case::chest(&[("chest_clavicular", Aim::Focus), ("chest_sternal", Aim::Focus), ("delt_front", Aim::Grow)])]
#[case::back(&[("lats", Aim::Focus), ("traps_middle", Aim::Focus), ("delt_rear", Aim::Grow)])]
fn where_both_can_be_done_pushing_and_pulling_are_even(#[case] aims: &[(&str, Aim)]) {
    let days: &[(usize, u16, u8)] = &[(0, 60, 1), (0, 60, 3), (0, 60, 5)];
    Asked::of(person(), &[GYM], days, aims, Method::ReserveBased).ask(|question, _| {
        let [push, pull] = propose(&CATALOGUE, question).unwrap().balance.map(|sets| sets as f64);
        assert!(push >= 8.0 && pull >= 8.0, "{push} {pull}");
        assert!(push <= 1.2 * pull && pull <= 1.2 * push, "{push} to {pull}");
    });
}

/// Regions that have direct sets on two days or more.
fn trained_twice(week: &Week<'_>) -> usize {
    let days = |region: Region| week.days.iter().filter(|day| direct(day, region) > 0.0).count();
    Region::ALL.iter().filter(|region| days(**region) > 1).count()
}

/// Half as many were, where sets counted alone.
/// The same sets are worth more on two days than on one, and no more on three than on two: another line costs its set-up.
#[test]
fn a_second_day_of_a_region_counts_and_a_third_does_not() {
    let days: &[(usize, u16, u8)] = &[(0, 60, 1), (0, 60, 3), (0, 60, 5)];
    Asked::of(person(), &[GYM], days, &[("lats", Aim::Focus)], Method::ReserveBased).ask(|question, _| {
        let pool = choices(&CATALOGUE, question).unwrap();
        let model = Model::of(question, &pool);
        let of_lats = |c: &bavrek_core::week::Choice<'_>| {
            c.sets[0] <= 2 && c.sets[1] >= 4 && c.gives.iter().any(|g| g.0 == Region::Lats && g.1 >= 1.0)
        };
        let choice = pool.iter().position(of_lats).unwrap();
        let worth = |sets: &[usize]| {
            let picks: Vec<Pick> = (0..).zip(sets).map(|(day, sets)| Pick { day, choice, sets: *sets }).collect();
            assert!(model.allows_but_time(&picks), "{sets:?}");
            model.value(&picks)
        };
        assert!(worth(&[2, 2]) > worth(&[4]), "{} {}", worth(&[2, 2]), worth(&[4]));
        assert!(worth(&[3, 3]) > worth(&[2, 2, 2]), "{} {}", worth(&[3, 3]), worth(&[2, 2, 2]));
    });
}

/// Nothing is taken from one side for want of the other.
#[test]
fn where_nothing_pulls_pushing_stands_for_itself() {
    let days: &[(usize, u16, u8)] = &[(0, 45, 1), (0, 45, 3)];
    Asked::of(person(), &[BARE], days, &[("chest_sternal", Aim::Grow)], Method::ReserveBased).ask(|question, _| {
        let pool = choices(&CATALOGUE, question).unwrap();
        let pushing: Vec<_> =
            pool.iter().filter(|c| balance([(c.candidate.movement, 1)].into_iter()) == [1, 0]).collect();
        assert!(!pushing.is_empty());
        assert!(pool.iter().all(|c| balance([(c.candidate.movement, 1)].into_iter())[1] == 0));
        let model = Model::of(question, &pool);
        let choice = pool.iter().position(|c| std::ptr::eq(c, pushing[0])).unwrap();
        let worth = |sets| model.value(&[Pick { day: 0, choice, sets }]);
        // A third set is worth 3.6 for the chest and what assists; with a set out of balance taken off it were 3.0 at most.
        assert!(worth(3) > worth(2) + 3.3, "{} {}", worth(3), worth(2));
    });
}

#[test]
fn wishes_differ_in_what_they_say() {
    let with = |wish| {
        let asked = Asked {
            wish,
            ..Asked::of(person(), &[GYM], &[(0, 60, 1), (0, 60, 4)], &[("lats", Aim::Grow)], Method::ReserveBased)
        };
        asked.ask(|question, _| {
            let week = propose(&CATALOGUE, question).unwrap();
            let lines: Vec<_> = week.days.iter().flat_map(DayPlan::lines).collect();
            let movements: BTreeSet<&str> = lines.iter().map(|l| l.candidate.movement.id.as_str()).collect();
            let minutes: f64 = week.days.iter().map(|d| d.total.value()).sum::<f64>() / 60.0;
            (minutes, movements.len())
        })
    };
    let plain = with(Wish::Balanced);
    assert!(with(Wish::Shorter).0 < 0.9 * plain.0);
    assert!(with(Wish::FewerMovements).1 < plain.1);
    assert!(with(Wish::MoreVariety).1 >= plain.1);
}

#[test]
fn what_is_not_met_says_what_stands_in_the_way() {
    let unmet = |asked: &Asked| -> BTreeMap<Region, (Binds, String)> {
        asked.ask(|question, _| {
            let week = propose(&CATALOGUE, question).unwrap();
            week.unmet.into_iter().map(|u| (u.region, (u.why.binds(), u.to_string()))).collect()
        })
    };
    let day: &[(usize, u16, u8)] = &[(0, 60, 1), (0, 60, 4)];
    let bare = unmet(&Asked::of(person(), &[BARE], day, &[("lats", Aim::Grow)], Method::ReserveBased));
    let (why, text) = &bare[&Region::Lats];
    assert_eq!(*why, Binds::Kit);
    assert!(text.starts_with("nothing here trains the lats directly") && text.contains("needs"), "{text}");
    let sore = limited(r#"{"joint":"elbow","what":"pain_loaded","side":"both","severity":"severe"}"#);
    let sore = unmet(&Asked::of(sore, &[GYM], day, &[("triceps_long", Aim::Grow)], Method::ReserveBased));
    assert!(sore[&Region::TricepsLong].1.contains("elbow"), "{:?}", sore[&Region::TricepsLong]);
    let short = unmet(&Asked::of(person(), &[GYM], &[(0, 20, 1)], &[("lats", Aim::Focus)], Method::ReserveBased));
    let (why, text) = &short[&Region::Lats];
    assert_eq!(*why, Binds::Minutes);
    assert!(text.starts_with("the days are full: about "), "{text}");
    let days: &[(usize, u16, u8)] = &[(0, 240, 1), (0, 240, 2)];
    let running = unmet(&Asked::of(person(), &[GYM], days, &[("lats", Aim::Focus)], Method::ReserveBased));
    assert_eq!(running[&Region::Lats].0, Binds::Days, "six sets on two days running: {}", running[&Region::Lats].1);
    let shorter = Asked {
        wish: Wish::Shorter,
        ..Asked::of(person(), &[GYM], &[(0, 25, 1)], &[("lats", Aim::Focus)], Method::ReserveBased)
    };
    assert!(unmet(&shorter)[&Region::Lats].1.starts_with("the shorter days are full: about "));
}

#[test]
fn nothing_is_proposed_where_there_is_no_time_and_nothing_breaks() {
    let asked = Asked::of(person(), &[HOME, BARE], &[(0, 10, 1), (1, 10, 2)], &[], Method::ReserveBased);
    asked.ask(|question, school| {
        let week = propose(&CATALOGUE, question).unwrap();
        assert_kept("ten minutes", question, school, &week);
        assert_eq!(week.days.iter().map(|d| d.lines().count()).sum::<usize>(), 0);
        assert!(!week.unmet.is_empty());
    });
    let seven: Vec<(usize, u16, u8)> = (1..=7).map(|w| (0, 30, w)).collect();
    let mut daily = Asked::of(person(), &[BARE], &seven, &[("chest_sternal", Aim::Focus)], Method::ReserveBased);
    daily.kits = vec![full_room()];
    daily.ask(|question, school| assert_kept("daily", question, school, &propose(&CATALOGUE, question).unwrap()));
}

#[rstest]
#[case::no_day(&[], "days", "1 to 7")]
#[case::eight_days(&[(0, 30, 1), (0, 30, 2), (0, 30, 3), (0, 30, 4), (0, 30, 5), (0, 30, 6), (0, 30, 7), (0, 30, 1)], "days", "1 to 7")]
#[case::no_such_room(&[(0, 30, 1), (3, 30, 2)], "days[1].place", "no place")]
#[case::no_minutes(&[(0, 0, 1)], "days[0].minutes", "")]
#[case::a_day_twice(&[(0, 30, 1), (0, 30, 1)], "days[1].weekday", "already")]
#[case::no_weekday(&[(0, 30, 9)], "days[0].weekday", "1 to 7")]
fn what_cannot_be_asked_names_its_field(#[case] days: &[(usize, u16, u8)], #[case] path: &str, #[case] says: &str) {
    let asked = Asked::of(person(), &[HOME], days, &[], Method::ReserveBased);
    let refused = asked.ask(|question, _| propose(&CATALOGUE, question).unwrap_err());
    assert_eq!(refused.path, path);
    assert!(refused.message.contains(says), "{}", refused.message);
}

/// A line of a week as a pin on another day.
fn pin<'a>(line: &'a bavrek_core::week::Line<'_>, day: usize) -> Pin<'a> {
    let candidate = &line.candidate;
    Pin {
        day,
        intent: &line.intent,
        exercise: &candidate.movement.id,
        step: Some(candidate.step()),
        dose: &candidate.prescription,
    }
}

/// What stands on a day, by movement, step and number of sets.
fn stands(day: &DayPlan<'_>) -> BTreeSet<(String, String, usize)> {
    let line = |l: &bavrek_core::week::Line<'_>| {
        let c = &l.candidate;
        (c.movement.id.clone(), c.step().label.clone(), c.prescription.sets.len())
    };
    day.lines().map(line).collect()
}

#[test]
fn what_is_pinned_stays_as_it_is_in_every_room_and_the_rest_keeps_to_the_rules() {
    let mut pinned = 0;
    for (name, asked) in twelve() {
        asked.ask(|question, school| {
            let first = propose(&CATALOGUE, question).unwrap();
            // The last line of each day is pinned: what the builder would put last.
            let last = first.days.iter().enumerate().filter_map(|(day, plan)| Some(pin(plan.lines().last()?, day)));
            let pins: Vec<Pin<'_>> = last.collect();
            pinned += pins.len();
            let question = WeekQuestion { pins: &pins, wish: Wish::FewerMovements, ..*question };
            let second = propose(&CATALOGUE, &question).unwrap();
            for pin in &pins {
                let wanted = (pin.exercise.to_owned(), pin.step.unwrap().label.clone(), pin.dose.sets.len());
                assert!(stands(&second.days[pin.day]).contains(&wanted), "{name}: {wanted:?} is gone");
            }
            assert_kept(name, &question, school, &second);
        });
    }
    assert!(pinned >= 20, "{pinned} pins are no test");
}

#[test]
fn pins_that_run_over_their_day_stay_and_nothing_is_put_beside_them() {
    let asked = Asked::of(person(), &[GYM], &[(0, 60, 1), (0, 15, 4)], &[("lats", Aim::Focus)], Method::ReserveBased);
    asked.ask(|question, _| {
        let first = propose(&CATALOGUE, question).unwrap();
        // All of a long day on the short one.
        let pins: Vec<Pin<'_>> = first.days[0].lines().map(|line| pin(line, 1)).collect();
        assert!(pins.len() >= 4);
        let question = WeekQuestion { pins: &pins, ..*question };
        let second = propose(&CATALOGUE, &question).unwrap();
        assert_eq!(stands(&second.days[1]), stands(&first.days[0]));
        assert!(second.days[1].total.value() > 15.0 * 60.0);
        assert!(second.days[0].total.value() <= 60.0 * 60.0 && second.days[0].lines().count() > 0);
    });
}

#[test]
fn a_pin_that_cannot_be_done_there_is_named() {
    let asked = Asked::of(person(), &[GYM, BARE], &[(0, 60, 1), (1, 30, 4)], &[], Method::ReserveBased);
    asked.ask(|question, _| {
        let first = propose(&CATALOGUE, question).unwrap();
        let line = first.days[0].lines().find(|l| l.candidate.step().load.is_some()).unwrap();
        let refused = |pins: &[Pin<'_>]| {
            propose(&CATALOGUE, &WeekQuestion { pins, ..*question }).map(|w| w.objective).unwrap_err()
        };
        let elsewhere = refused(&[pin(line, 1)]);
        assert_eq!(elsewhere.path, "pins[0].exercise");
        assert!(elsewhere.message.contains("can no longer be done there"), "{}", elsewhere.message);
        assert_eq!(refused(&[pin(line, 9)]).path, "pins[0].day");
        assert_eq!(refused(&[pin(line, 0), pin(line, 0)]).path, "pins[1].exercise");
    });
}

/// What would help a week, in the order of the answer.
fn helped(asked: &Asked) -> Vec<(Help<'static>, f64)> {
    let settings = vec![None; asked.kits.len()];
    asked.ask(|question, _| helps(&CATALOGUE, question, (&INTAKE.cheap, &settings)).unwrap())
}

#[test]
fn what_would_help_most_is_what_binds() {
    // Full days of a room that has all: minutes and another day help, the most first, and each covers a set more at least.
    let full = helped(&Asked::of(person(), &[GYM], &[(0, 20, 1), (0, 20, 4)], &[], Method::ReserveBased));
    assert!(full.iter().any(|(h, _)| *h == Help::Minutes(0)) && full.iter().any(|(h, _)| matches!(h, Help::Day(_))));
    assert!(full.windows(2).all(|pair| pair[0].1 >= pair[1].1) && full.iter().all(|(_, sets)| *sets >= 0.75));
    // A bare room with time to spare: things help, minutes do not.
    let back: &[(&str, Aim)] = &[("lats", Aim::Focus), ("biceps_long", Aim::Grow)];
    let bare = helped(&Asked::of(person(), &[BARE], &[(0, 120, 1), (0, 120, 4)], back, Method::ReserveBased));
    assert!(matches!(bare[0].0, Help::Thing(_, 0)), "{:?}", bare[0]);
    assert!(!bare.iter().any(|(h, _)| matches!(h, Help::Minutes(_))), "{bare:?}");
}
