//! What weeks are asked for in the tests: twelve rooms, people and weeks that are not alike, and a greedy week to compare with.

use std::collections::BTreeSet;
use std::sync::LazyLock;

use crate::common::{kit, limited, person};
use bavrek_catalogue::Intake;
use bavrek_core::aims::{Aim, Aims, RegionAim};
use bavrek_core::anatomy::Region;
use bavrek_core::fit::Room;
use bavrek_core::kit::KitItem;
use bavrek_core::method::Method;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::{Experience, Person};
use bavrek_core::school::School;
use bavrek_core::week::{Choice, Day, Lately, Model, Pick, WeekQuestion, Wish, choices, lay_days};
use rand::Rng;
use rand_chacha::ChaCha8Rng;

pub(crate) static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| bavrek_catalogue::load().unwrap());
pub(crate) static INTAKE: LazyLock<Intake> = LazyLock::new(|| bavrek_catalogue::intake().unwrap());

pub(crate) const HOME: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16]},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},{"kind":"chair"}]"#;
pub(crate) const BARE: &str = "[]";
pub(crate) const BANDS: &str = r#"[{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.032,"thickness_m":0.0045},{"kind":"anchor","heights_m":[0.1,1.2,2.0],"door":true}]"#;
pub(crate) const RINGS: &str =
    r#"[{"kind":"rings","max_height_m":2.4},{"kind":"dip_bars"},{"kind":"pull_up_bar","height_m":2.3}]"#;
pub(crate) const GYM: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,14,16,18,20,24,28,32]},{"kind":"bench","angles_deg":[0,30,45,75]},{"kind":"pull_up_bar","height_m":2.3}]"#;

/// A week that is asked for, with what it needs.
pub(crate) struct Asked {
    pub(crate) person: Person,
    pub(crate) kits: Vec<Vec<KitItem>>,
    pub(crate) days: Vec<Day>,
    pub(crate) aims: Aims,
    pub(crate) method: Method,
    pub(crate) wish: Wish,
}

impl Asked {
    pub(crate) fn of(
        person: Person,
        kits: &[&str],
        days: &[(usize, u16, u8)],
        focus: &[(&str, Aim)],
        method: Method,
    ) -> Self {
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

    pub(crate) fn ask<T>(&self, then: impl FnOnce(&WeekQuestion<'_>, &School) -> T) -> T {
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

pub(crate) fn novice() -> Person {
    Person { experience: Experience::Novice, ..person() }
}

/// Twelve rooms, people and weeks that are not alike.
pub(crate) fn twelve() -> Vec<(&'static str, Asked)> {
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

/// The twelve weeks as every school asks them, by the names of both, with what could be done in their rooms.
pub(crate) fn by_every_school(mut then: impl FnMut(&str, &WeekQuestion<'_>, &[Choice<'_>])) {
    for (name, asked) in twelve() {
        for school in &INTAKE.schools {
            asked.ask(|question, _| {
                let question = &WeekQuestion { school, ..*question };
                then(&format!("{name}, {}", school.id), question, &choices(&CATALOGUE, question).unwrap());
            });
        }
    }
}

/// The most worth for its time, one after the other, as long as the clock allows: what a patient person would do by hand.
pub(crate) fn greedy(
    question: &WeekQuestion<'_>,
    pool: &[bavrek_core::week::Choice<'_>],
    model: &Model<'_, '_>,
) -> Vec<Pick> {
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

/// Picks drawn by lot, allowed or not.
pub(crate) fn drawn(draw: &mut ChaCha8Rng, question: &WeekQuestion<'_>, pool: &[Choice<'_>]) -> Vec<Pick> {
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
