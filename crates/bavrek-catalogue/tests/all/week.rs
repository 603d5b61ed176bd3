//! Proposed weeks: what they keep to in unlike rooms, against a greedy week of the same pool, and what they say of the rest.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::LazyLock;

use crate::common::{day, dumbbell_set, kit, limited, person};
use bavrek_catalogue::Intake;
use bavrek_core::aims::{Aim, Aims, RegionAim};
use bavrek_core::anatomy::Region;
use bavrek_core::fit::Room;
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::method::Method;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::{Experience, Person};
use bavrek_core::school::{Pairing, School};
use bavrek_core::units::Seconds;
use bavrek_core::volume::Volume;
use bavrek_core::week::{
    Binds, Day, DayPlan, Help, Lately, Model, Pick, Pin, Proposal, Timing, Week, WeekQuestion, Wish, balance, choices,
    helps, lay_days, propose,
};
use chrono::Days;
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| bavrek_catalogue::load().unwrap());
static INTAKE: LazyLock<Intake> = LazyLock::new(|| bavrek_catalogue::intake().unwrap());

const HOME: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16]},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},{"kind":"chair"}]"#;
const BARE: &str = "[]";
const BANDS: &str = r#"[{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.032,"thickness_m":0.0045},{"kind":"anchor","heights_m":[0.1,1.2,2.0],"door":true}]"#;
const RINGS: &str =
    r#"[{"kind":"rings","max_height_m":2.4},{"kind":"dip_bars"},{"kind":"pull_up_bar","height_m":2.3}]"#;
const GYM: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,14,16,18,20,24,28,32]},{"kind":"bench","angles_deg":[0,30,45,75]},{"kind":"pull_up_bar","height_m":2.3}]"#;

/// A week that is asked for, with what it needs.
struct Asked {
    person: Person,
    kits: Vec<Vec<KitItem>>,
    days: Vec<Day>,
    aims: Aims,
    method: Method,
    wish: Wish,
}

impl Asked {
    fn of(person: Person, kits: &[&str], days: &[(usize, u16, u8)], focus: &[(&str, Aim)], method: Method) -> Self {
        let days =
            days.iter().map(|(room, minutes, weekday)| Day { room: *room, minutes: *minutes, weekday: Some(*weekday) });
        let aim = |(id, aim): &(&str, Aim)| (Region::from_id(id).unwrap(), RegionAim { aim: *aim, sets: None });
        Self {
            person,
            kits: kits.iter().map(|k| kit(k)).collect(),
            days: days.collect(),
            aims: Aims { goal: None, regions: focus.iter().map(aim).collect() },
            method,
            wish: Wish::Balanced,
        }
    }

    fn ask<T>(&self, then: impl FnOnce(&WeekQuestion<'_>, &School) -> T) -> T {
        let rooms: Vec<Room<'_>> =
            self.kits.iter().map(|k| Room { method: Some(self.method), ..Room::plain(&self.person, k) }).collect();
        let school = INTAKE.schools.iter().find(|s| s.id == self.method).unwrap();
        let question = WeekQuestion {
            rooms: &rooms,
            days: &self.days,
            aims: &self.aims,
            volumes: &INTAKE.volumes,
            school,
            history: &[],
            today: None,
            lately: Lately::default(),
            wish: self.wish,
            pins: &[],
        };
        then(&question, school)
    }
}

fn novice() -> Person {
    Person { experience: Experience::Novice, ..person() }
}

/// Twelve rooms, people and weeks that are not alike.
fn twelve() -> Vec<(&'static str, Asked)> {
    use Method::{
        AntagonistPairs, HeavyCompound, HighRepBand, PastFailure, RegionSweep, ReserveBased, SlowTempo, TimedCircuit,
    };
    let (three, two) = (&[(0, 45, 1), (0, 45, 3), (0, 45, 5)], &[(0, 60, 2), (0, 60, 5)]);
    let elbow = r#"{"joint":"elbow","what":"pain_loaded","side":"both","severity":"severe"}"#;
    let chest: &[(&str, Aim)] = &[("chest_sternal", Aim::Focus), ("chest_clavicular", Aim::Grow)];
    let back: &[(&str, Aim)] = &[("lats", Aim::Focus), ("biceps_long", Aim::Grow)];
    vec![
        ("home", Asked::of(person(), &[HOME], three, chest, ReserveBased)),
        ("bare", Asked::of(novice(), &[BARE], three, back, ReserveBased)),
        ("bands", Asked::of(person(), &[BANDS], three, back, HighRepBand)),
        ("rings", Asked::of(person(), &[RINGS], two, back, HeavyCompound)),
        ("gym", Asked::of(person(), &[GYM], two, chest, SlowTempo)),
        ("one short day", Asked::of(person(), &[HOME], &[(0, 20, 4)], chest, RegionSweep)),
        ("home and gym", Asked::of(person(), &[HOME, GYM], &[(0, 30, 1), (1, 60, 4), (0, 30, 6)], back, ReserveBased)),
        ("pairs", Asked::of(person(), &[GYM], three, chest, AntagonistPairs)),
        ("circuit", Asked::of(novice(), &[HOME], two, back, TimedCircuit)),
        ("sore elbow", Asked::of(limited(elbow), &[GYM], two, chest, ReserveBased)),
        ("past failure", Asked::of(person(), &[GYM], two, back, PastFailure)),
        ("days running", Asked::of(person(), &[GYM], &[(0, 45, 1), (0, 45, 2), (0, 45, 3)], chest, ReserveBased)),
    ]
}

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

/// The most worth for its time, one after the other, as long as the clock allows: what a patient person would do by hand.
fn greedy(question: &WeekQuestion<'_>, pool: &[bavrek_core::week::Choice<'_>], model: &Model<'_, '_>) -> Vec<Pick> {
    let in_time = |picks: &[Pick], day: usize| {
        let own: Vec<Pick> = picks.iter().copied().filter(|p| p.day == day).collect();
        let plan = &lay_days(question, pool, &own)[day];
        plan.too_tired.is_none() && plan.total.value() <= 60.0 * f64::from(question.days[day].minutes)
    };
    let mut picks: Vec<Pick> = Vec::new();
    let mut closed: BTreeSet<(usize, usize)> = BTreeSet::new();
    loop {
        let value = model.value(&picks);
        let mut best: Option<(f64, Pick)> = None;
        for day in 0..question.days.len() {
            for (choice, one) in pool.iter().enumerate() {
                if closed.contains(&(day, choice)) || picks.iter().any(|p| p.day == day && p.choice == choice) {
                    continue;
                }
                let added = Pick { day, choice, sets: one.sets[0].max(3).min(one.sets[1]) };
                let with: Vec<Pick> = picks.iter().copied().chain([added]).collect();
                let gain = model.value(&with) - value;
                let per_second = gain / (one.once.value() + added.sets as f64 * one.a_set.value());
                if gain > 0.0 && best.is_none_or(|(known, _)| per_second > known) && model.allows_but_time(&with) {
                    best = Some((per_second, added));
                }
            }
        }
        let Some((_, added)) = best else { return picks };
        picks.push(added);
        if !in_time(&picks, added.day) {
            picks.pop();
            closed.insert((added.day, added.choice));
        }
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
    for (name, asked) in twelve() {
        for school in &INTAKE.schools {
            asked.ask(|question, _| {
                let question = &WeekQuestion { school, ..*question };
                let pool = choices(&CATALOGUE, question).unwrap();
                let model = Model::of(question, &pool);
                let movement = |choice: usize| &pool[choice].candidate.movement.id;
                let by: Vec<Option<usize>> = (0..pool.len()).map(|choice| model.outdone_by(choice)).collect();
                outdone += by.iter().flatten().count();
                for _ in 0..20 {
                    let mut picks = drawn(&mut draw, question, &pool);
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
                        assert!(model.allows(&picks), "{name}, {}: {out} is needed", school.id);
                        weeks += 1;
                    }
                    let after = model.value(&picks);
                    assert!(after >= before - 1e-9, "{name}, {}: {after} for {before}", school.id);
                }
            });
        }
    }
    assert!(outdone > 300 && weeks > 300, "{outdone} choices, {weeks} weeks");
}

/// Picks drawn by lot, allowed or not.
fn drawn(draw: &mut ChaCha8Rng, question: &WeekQuestion<'_>, pool: &[bavrek_core::week::Choice<'_>]) -> Vec<Pick> {
    let mut picks: Vec<Pick> = Vec::new();
    for (day, one) in question.days.iter().enumerate() {
        let here: Vec<usize> = (0..pool.len()).filter(|c| pool[*c].room == one.room).collect();
        for _ in 0..draw.random_range(0..9) {
            let Some(choice) = here.get(draw.random_range(0..here.len().max(1))).copied() else { break };
            let [fewest, most] = pool[choice].sets;
            if picks.iter().all(|p| p.day != day || p.choice != choice) {
                picks.push(Pick { day, choice, sets: draw.random_range(fewest..=most) });
            }
        }
    }
    picks
}

/// What is told of a day without laying it is what the session's clock reads of it once it is laid: of weeks drawn by lot, in every room
/// and by every school.
#[test]
fn a_day_is_timed_as_it_is_read() {
    let mut draw = ChaCha8Rng::seed_from_u64(7);
    let (mut alone, mut lighter, mut tired) = (0, 0, 0);
    for (name, asked) in twelve() {
        for school in &INTAKE.schools {
            asked.ask(|question, _| {
                let question = &WeekQuestion { school, ..*question };
                let pool = choices(&CATALOGUE, question).unwrap();
                let mut timing = Timing::of(question, &pool);
                for _ in 0..12 {
                    let picks = drawn(&mut draw, question, &pool);
                    let laid = lay_days(question, &pool, &picks);
                    for (day, (laid, timed)) in laid.iter().zip(timing.week(&picks)).enumerate() {
                        let [read, told] = [laid.total, timed.total].map(Seconds::value);
                        assert!((read - told).abs() < 1e-6, "{name}, {}, day {day}: {told} of {read}", school.id);
                        assert_eq!(laid.too_tired, timed.too_tired, "{name}, {}, day {day}", school.id);
                        tired += usize::from(laid.too_tired.is_some());
                    }
                    for line in laid.iter().flat_map(DayPlan::lines) {
                        let movement = &line.candidate.movement.id;
                        let choice = pool.iter().find(|c| &c.candidate.movement.id == movement).unwrap();
                        lighter += usize::from(line.candidate.start.step < choice.candidate.start.step);
                    }
                    alone += usize::from(school.pairing == Pairing::Alone);
                }
            });
        }
    }
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
