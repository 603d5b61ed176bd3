//! What a week is reckoned by: the program and the search alike, the minutes of its days, and what is left out of the program.

use crate::week_rooms::{CATALOGUE, by_every_school, drawn, greedy, twelve};
use bavrek_core::school::Pairing;
use bavrek_core::units::Seconds;
use bavrek_core::week::{Day, DayPlan, Model, Pick, Proposal, Timing, WeekQuestion, choices, lay_days};
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rstest::rstest;

/// The program and the search reckon alike: from nothing the solver comes to a week that is worth what it proves, within the share at
/// which it stops, and to more than a greedy one. A program that left a cost out would prove too much, one that allowed less too little.
#[rstest]
#[case::a_day("one short day")]
#[case::two_days("past failure")]
#[case::a_bare_room("bare")]
fn what_is_proven_is_reached_and_nothing_is_above_it(#[case] name: &str) {
    let (_, asked) = twelve().into_iter().find(|(known, _)| *known == name).unwrap();
    asked.ask(|question, _| {
        let pool = choices(&CATALOGUE, question).unwrap();
        let model = Model::of(question, &pool);
        let Proposal { picks, objective, bound } = model.solve(&[], Seconds(30.0));
        assert!(model.allows(&picks) && (model.value(&picks) - objective).abs() < 1e-6, "{objective}");
        assert!(objective > 0.98 * bound, "{objective} of {bound}");
        let mut by_hand = greedy(question, &pool, &model);
        // By the clock a day may hold more than is reckoned.
        while !model.allows(&by_hand) {
            by_hand.pop().expect("nothing at all is allowed");
        }
        assert!(model.value(&by_hand) <= bound + 1e-6, "{} is above {bound}", model.value(&by_hand));
    });
}

/// What the program does not weigh is needed by no week: with what outdoes it in its place every week that is allowed is allowed as well,
/// and worth no less. Of weeks drawn by lot in every room and by every school.
#[test]
fn what_is_outdone_is_needed_by_no_week() {
    let mut draw = ChaCha8Rng::seed_from_u64(5);
    let (mut outdone, mut weeks) = (0, 0);
    by_every_school(|name, question, pool| {
        let model = Model::of(question, pool);
        let movement = |choice: usize| &pool[choice].candidate.movement.id;
        let by: Vec<Option<usize>> = (0..pool.len()).map(|choice| model.outdone_by(choice)).collect();
        outdone += by.iter().flatten().count();
        for _ in 0..20 {
            let mut picks = drawn(&mut draw, question, pool);
            picks.retain(|_| draw.random_bool(0.7));
            while !model.allows(&picks) {
                picks.pop();
            }
            let before = model.value(&picks);
            // One movement after the other, in all rooms: what outdoes one may be outdone itself.
            while let Some(at) = picks.iter().position(|p| by[p.choice].is_some()) {
                let out = movement(picks[at].choice);
                for pick in picks.iter_mut().filter(|p| movement(p.choice) == out) {
                    pick.choice = by[pick.choice].unwrap();
                }
                assert!(model.allows(&picks), "{name}: {out} is needed");
                weeks += 1;
            }
            let after = model.value(&picks);
            assert!(after >= before - 1e-9, "{name}: {after} for {before}");
        }
    });
    assert!(outdone > 300 && weeks > 300, "{outdone} choices, {weeks} weeks");
}

/// What is told of a day without laying it is what the session's clock reads of it once it is laid: of weeks drawn by lot, in every room
/// and by every school.
#[test]
fn a_day_is_timed_as_it_is_read() {
    let mut draw = ChaCha8Rng::seed_from_u64(7);
    let (mut alone, mut lighter, mut tired) = (0, 0, 0);
    by_every_school(|name, question, pool| {
        let mut timing = Timing::of(question, pool);
        for _ in 0..12 {
            let picks = drawn(&mut draw, question, pool);
            let laid = lay_days(question, pool, &picks);
            for (day, (laid, timed)) in laid.iter().zip(timing.week(&picks)).enumerate() {
                let [read, told] = [laid.total, timed.total].map(Seconds::value);
                assert!((read - told).abs() < 1e-6, "{name}, day {day}: {told} of {read}");
                assert_eq!(laid.too_tired, timed.too_tired, "{name}, day {day}");
                tired += usize::from(laid.too_tired.is_some());
            }
            for line in laid.iter().flat_map(DayPlan::lines) {
                let movement = &line.candidate.movement.id;
                let choice = pool.iter().find(|c| &c.candidate.movement.id == movement).unwrap();
                lighter += usize::from(line.candidate.start.step < choice.candidate.start.step);
            }
            alone += usize::from(question.school.pairing == Pairing::Alone);
        }
    });
    assert!(alone > 300 && lighter > 30 && tired > 30, "{alone} weeks, {lighter} lines, {tired} days");
}

/// Once the clock has read a week, its days are reckoned to take what it read, in every room and by every school.
#[test]
fn days_are_reckoned_as_the_clock_read_them() {
    let mut days = 0;
    for (name, asked) in twelve() {
        asked.ask(|question, _| {
            let pool = choices(&CATALOGUE, question).unwrap();
            let mut model = Model::of(question, &pool);
            let picks = greedy(question, &pool, &model);
            let totals: Vec<Seconds> = lay_days(question, &pool, &picks).iter().map(|d| d.total).collect();
            model.correct(&totals, &picks);
            for (day, total) in totals.iter().enumerate().filter(|(day, _)| picks.iter().any(|p| p.day == *day)) {
                let reckoned = model.reckoned(day, &picks).value();
                assert!((reckoned - total.value()).abs() < 1.0, "{name}, day {day}: {reckoned} of {}", total.value());
                days += 1;
            }
        });
    }
    assert!(days >= 25, "{days}");
}

/// What is proven is never less than what a week is worth that is allowed as its days were read: on days so short that their longest
/// line goes in only because less was read than was reckoned, and however little time there is to prove it.
#[test]
fn nothing_that_is_allowed_is_worth_more_than_what_is_proven() {
    let mut long = 0;
    for (name, asked) in twelve() {
        for minutes in [18, 22, 26] {
            let days: Vec<Day> = asked.days.iter().map(|day| Day { minutes, ..*day }).collect();
            asked.ask(|question, _| {
                let question = &WeekQuestion { days: &days, ..*question };
                let pool = choices(&CATALOGUE, question).unwrap();
                let mut model = Model::of(question, &pool);
                let picks = greedy(question, &pool, &model);
                let totals: Vec<Seconds> = lay_days(question, &pool, &picks).iter().map(|d| d.total).collect();
                model.correct(&totals, &picks);
                if model.allows(&picks) {
                    let value = model.value(&picks);
                    for time in [0.01, 0.05, 0.2] {
                        let Proposal { bound, .. } = model.solve(&picks, Seconds(time));
                        assert!(bound >= value - 1e-6, "{name}, {minutes} min, {time} s: {bound} for {value}");
                    }
                    long += picks.len();
                }
            });
        }
    }
    assert!(long > 60, "{long}");
}

/// A day that runs over with what is new in it is reckoned by what is new as long as the clock read it, but for joints that it moves besides,
/// which are paid for by themselves; what was known is reckoned as before.
#[test]
fn what_is_new_on_a_day_that_runs_over_takes_what_it_took() {
    let (mut over, mut longer) = (0, 0);
    for (name, asked) in twelve() {
        asked.ask(|question, _| {
            let pool = choices(&CATALOGUE, question).unwrap();
            let mut model = Model::of(question, &pool);
            let known = greedy(question, &pool, &model);
            let totals =
                |picks: &[Pick]| -> Vec<Seconds> { lay_days(question, &pool, picks).iter().map(|d| d.total).collect() };
            model.correct(&totals(&known), &known);
            assert!(!model.correct_over(&totals(&known), &known, &known), "{name}: no day runs over");
            let day = 0;
            let room = question.days[day].room;
            let open = |c: &usize| pool[*c].room == room && known.iter().all(|p| p.day != day || p.choice != *c);
            let new =
                (0..pool.len()).filter(open).take(3).map(|choice| Pick { day, choice, sets: pool[choice].sets[1] });
            let picks: Vec<Pick> = known.iter().copied().chain(new).collect();
            let all = totals(&picks);
            if all[day].value() <= 60.0 * f64::from(question.days[day].minutes) {
                return;
            }
            let own: Vec<Pick> = known.iter().copied().filter(|p| p.day == day).collect();
            let (as_known, before) = (model.reckoned(day, &own), model.reckoned(day, &picks));
            let any = model.correct_over(&all, &picks, &known);
            let (after, read) = (model.reckoned(day, &picks).value(), all[day].value());
            assert_eq!(model.reckoned(day, &own), as_known, "{name}");
            assert_eq!(any, after > before.value() + 1e-6, "{name}: {} became {after}", before.value());
            if any {
                assert!(after <= read + 1.0 && after >= read - 201.0, "{name}: {after} of {read}");
                longer += 1;
            }
            over += 1;
        });
    }
    // Mostly what is reckoned of a movement is what it takes.
    assert!(over >= 8 && longer >= 1, "{longer} of {over}");
}
