//! Every sentence with a figure is true of the data beside it: each is recognised, and its figures are worked out again
//! from the sets, the dose and the ladder. A sentence with a figure that nothing here recognises fails.

use std::sync::LazyLock;

use crate::common::asked::the_day_after;
use crate::common::{day, dumbbell_set, grid, intent, kit, person};
use bavrek_catalogue::load;
use bavrek_core::anatomy::Joint;
use bavrek_core::fit::{Candidate, FitQuestion, fit};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::Catalogue;
use bavrek_core::person::{Person, Side};
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, CallKind, NextQuestion, next};
use bavrek_core::units::Kilograms;
use bavrek_core::wording::told;
use chrono::{Days, NaiveDate};
use proptest::prelude::*;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

/// Numbers of a text in their order, signs and decimal points kept.
fn numbers(text: &str) -> Vec<f64> {
    let digit = |c: char| c.is_ascii_digit() || c == '.';
    let found = text.split(|c: char| !digit(c)).map(|n| n.trim_matches('.'));
    found.filter_map(|n| n.parse().ok()).collect()
}

fn has_figure(text: &str) -> bool {
    text.chars().any(|c| c.is_ascii_digit())
}

fn near(a: f64, b: f64) -> bool {
    (a - b).abs() < 0.51
}

/// The largest jump between neighbours within 0.7 to 1.5 of a load, in whole percent.
fn largest_jump(steps: &[LadderStep], around: f64) -> f64 {
    let load = |s: &LadderStep| s.effective_kg.value();
    let inside = |s: &LadderStep| (0.7 * around..=1.5 * around).contains(&load(s));
    let jumps = steps.windows(2).filter(|w| inside(&w[0])).map(|w| load(&w[1]) / load(&w[0]) - 1.0);
    (jumps.fold(0.0, f64::max) * 100.0).round()
}

/// Whether a sentence of a fit is true; none where it is not one that is known.
fn is_true(text: &str, candidate: &Candidate<'_>, intent: &Intent, person: &Person) -> Option<bool> {
    let (start, steps) = (&candidate.start, &candidate.ladder.steps);
    let (step, figures) = (&steps[start.step], numbers(text));
    let middle = f64::from(u16::midpoint(intent.dose.reps[0], intent.dose.reps[1]));
    let reserve = f64::from(intent.dose.reserve());
    if text.contains(" likely for ") {
        let [low, high, reps, rir] = figures[..4] else { return Some(false) };
        let shown = |kg: Kilograms| numbers(&format!("{:.1}", kg.two_figures()))[0];
        let ends = near(low, shown(start.low)) && near(high, shown(start.high)) && low <= high;
        return Some(ends && near(reps, middle) && near(rir, reserve));
    }
    if text.starts_with("on a step that exists") || text.starts_with("even the lightest ") {
        // Where weights carry a movement it is done with one, though a band alone may be lighter.
        let weight = text.contains("lightest weight");
        let lightest = steps
            .iter()
            .filter(|s| !weight || s.load.is_some())
            .all(|s| s.effective_kg.value() >= step.effective_kg.value() - 1e-9);
        let above = !text.starts_with("even") || (lightest && step.effective_kg > start.expected);
        let reps = match (text.contains("over 40"), text.contains("fewer than 2")) {
            (true, _) => start.reps > 40.0,
            (_, true) => start.reps < 2.0,
            _ => near(figures[0], start.reps) && (1.5..=40.5).contains(&start.reps),
        };
        let kept = text.starts_with("even") || near(*figures.last()?, reserve);
        return Some(above && reps && kept);
    }
    if let Some(rest) = text.strip_prefix("first 8 on ") {
        let feeler = steps.iter().find(|s| rest.starts_with(s.label.as_str()))?;
        return Some(feeler.effective_kg.value() <= step.effective_kg.value() && rest.ends_with("5 or more left"));
    }
    if let Some(rest) = text.strip_prefix("the first set is a test set: over ") {
        let next = steps.get(start.step + 1)?;
        return Some(near(numbers(rest)[0], f64::from(intent.dose.reps[1] + 4)) && rest.ends_with(&next.label));
    }
    if text.contains("the largest jump nearby is") {
        let above = if text.starts_with("one") { 1.0 } else { figures[0] };
        let there = (steps.len() - start.step - 1) as f64;
        return Some(near(above, there) && near(*figures.last()?, largest_jump(steps, step.effective_kg.value())));
    }
    if text.contains("% lengthened") {
        return Some(near(figures[0], (step.thirds[0] * 100.0).round()));
    }
    if let Some(rest) = text.strip_prefix("less work ") {
        let third = if rest.starts_with("lengthened") { 0 } else { 2 };
        return Some(near(figures[0], (step.thirds[third] * 100.0).round()) && figures[1] > figures[0]);
    }
    if text.starts_with("too light: over 40") {
        let kept = !text.ends_with("in reserve") || near(*figures.last()?, reserve);
        return Some(start.reps > 40.0 && kept);
    }
    if text.starts_with("nearly out of reach: fewer than 2") {
        return Some(start.reps < 2.0);
    }
    if text.starts_with("resist as much as leaves ") {
        let resisted = candidate.movement.rig.is_resisted() && near(start.reps, middle);
        return Some(resisted && near(figures[0], reserve) && near(figures[1], middle));
    }
    if text.starts_with("held for ") {
        return Some(candidate.prescription.sets[0].seconds.is_some_and(|s| near(figures[0], f64::from(s))));
    }
    if text.contains("from 50 on") {
        let angle = step.setup.bench_deg.map_or(0.0, bavrek_core::units::Degrees::value);
        let steep = !text.contains("is steep") || near(figures[0], angle);
        return Some(person.age_years.is_some_and(|age| age >= 50) && steep);
    }
    None
}

/// Every answer of eight people, ten rooms and twenty jobs.
#[test]
fn every_figure_of_a_fit_is_true() {
    let (mut sentences, mut candidates) = (0, 0);
    for (who, person) in grid::people() {
        for (room, kit) in grid::kits() {
            for (pattern, intent) in grid::intents() {
                let answer = fit(&CATALOGUE, &FitQuestion::plain(&person, &kit, &intent));
                for candidate in &answer.candidates {
                    candidates += 1;
                    let said = [told(&candidate.reasons), told(&candidate.kept), told(&candidate.lost)].concat();
                    for text in said.iter().filter(|t| has_figure(t)) {
                        let at = || format!("{who}, {room}, {pattern}, {}: {text}", candidate.movement.id);
                        let Some(verdict) = is_true(text, candidate, &intent, &person) else {
                            panic!("nobody checks this: {}", at())
                        };
                        assert!(verdict, "{} {:?}", at(), candidate.start);
                        sentences += 1;
                    }
                }
            }
        }
    }
    assert!(candidates > 10_000 && sentences > 2 * candidates, "{candidates} {sentences}");
}

const RACK: &str =
    r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16,20]},{"kind":"bench","angles_deg":[0,30]}]"#;

/// What a call was decided from.
struct Case<'a> {
    question: &'a NextQuestion<'a>,
    call: &'a Call,
    ladder: &'a Ladder,
    /// The sets of the last day.
    last: Vec<&'a LoggedSet>,
}

impl Case<'_> {
    /// What a reason says first of the last session, and what follows.
    fn told<'t>(&self, text: &'t str) -> Option<&'t str> {
        let reps: Vec<f64> = self.last.iter().map(|s| f64::from(s.reps.unwrap_or(0))).collect();
        let rirs: Vec<f64> = self.last.iter().filter_map(|s| s.rir).map(f64::from).collect();
        let (head, rest) = text.split_once(": ").unwrap_or((text, ""));
        let found = numbers(head);
        let alike = reps.iter().all(|r| *r == reps[0]) && rirs.iter().all(|r| *r == rirs[0]);
        let expected =
            if alike && reps.len() > 1 { vec![reps.len() as f64, reps[0], rirs[0]] } else { [reps, rirs].concat() };
        (found == expected).then_some(rest)
    }

    fn step_named(&self, text: &str) -> Option<&LadderStep> {
        let named = self.ladder.steps.iter().filter(|s| text.contains(s.label.as_str()));
        named.max_by_key(|s| s.label.len())
    }

    fn load(&self) -> f64 {
        self.last[0].load.map_or(0.0, |l| l.kilograms().value())
    }

    /// Whether a jump in percent is that from the last load to a step.
    fn jumps(&self, text: &str, to: &LadderStep) -> bool {
        let percent = text.split_once("(+").and_then(|(_, p)| numbers(p).first().copied());
        percent.is_some_and(|p| near(p, (to.effective_kg.value() / self.load() - 1.0) * 100.0))
    }

    /// Whether the sets are to be what was done, from one number of repetitions to another.
    fn comes_down_to(&self, figures: &[f64]) -> bool {
        let fewest = self.last.iter().filter_map(|s| s.reps).min().map_or(0.0, |n| f64::from(n.max(1)));
        let zone = self.call.prescription.sets[0].reps.map(|z| z.map(f64::from));
        near(figures[0], fewest) && zone.is_some_and(|z| near(figures[0], z[0]) && near(figures[1], z[1]))
    }

    /// Of a sentence that names another step: whether it is the one, and lies where it is said to lie.
    fn names_a_step(&self, text: &str) -> Option<bool> {
        if let Some(rest) = text.strip_prefix("the next step is ") {
            let next = self.step_named(rest)?;
            return Some(next.effective_kg.value() > self.load() && self.jumps(rest, next));
        }
        if let Some(rest) = text.strip_prefix("by the estimate ") {
            let next = self.step_named(rest)?;
            return Some(self.call.step.as_ref().is_some_and(|t| t.label == next.label) && self.jumps(rest, next));
        }
        if let Some((_, rest)) = text.strip_prefix("went well with ").and_then(|t| t.split_once(": back to ")) {
            return Some(rest == self.question.intent.dose.prescription().text());
        }
        if let Some((below, rest)) = text.split_once(" would give about ") {
            let [there, from, to] = numbers(rest)[..] else { return Some(false) };
            let lighter = self.step_named(below)?.effective_kg.value() < self.load();
            return Some(
                lighter && there > f64::from(self.question.intent.dose.reps[1]) && self.comes_down_to(&[from, to]),
            );
        }
        None
    }

    fn is_true(&self, text: &str) -> Option<bool> {
        let (intent, figures) = (self.question.intent, numbers(text));
        let most_pain = self.last.iter().filter_map(|s| s.pain).max();
        let taken = self.call.step.as_ref();
        if let Some(verdict) = self.names_a_step(text) {
            return Some(verdict);
        }
        if text.contains("reps are expected on it with") {
            let asked: f64 = self.call.prescription.sets.iter().filter_map(|s| s.rir).map(f64::from).sum::<f64>()
                / self.call.prescription.sets.len() as f64;
            let fewest = self.last.iter().filter_map(|s| s.reps).min().map_or(0.0, f64::from);
            return Some(
                figures[0] < fewest + 4.0
                    && figures[0] >= f64::from(intent.dose.reps[0]) - 2.0
                    && near(figures[1], asked),
            );
        }
        if text.contains("days since this was last trained") {
            return Some(near(figures[0], (self.question.today - self.last[0].date).num_days() as f64));
        }
        if text.starts_with("a lighter step first: ") {
            let step = self.step_named(text)?;
            return Some(step.effective_kg.value() < self.load() && taken.is_some_and(|t| t.label == step.label));
        }
        if text.starts_with("nothing lighter here: ") {
            return Some(self.comes_down_to(&figures));
        }
        if text.starts_with("lower in ") {
            let [to, from] = figures[..2] else { return Some(false) };
            let (now, before) = (&self.call.prescription.sets[0].tempo, &self.question.prescription.sets[0].tempo);
            return Some(near(to, now.lowering.seconds()) && near(from, before.lowering.seconds()) && to > from);
        }
        if text.starts_with("pain ") {
            let told = most_pain.is_some_and(|p| near(figures[0], f64::from(p))) && near(figures[1], 10.0);
            return Some(told && (figures[0] < 4.0 || self.call.call == CallKind::Swap));
        }
        if text.starts_with("joint pain on ") {
            let days: std::collections::BTreeSet<NaiveDate> =
                self.question.history.iter().filter(|s| s.hurt()).map(|s| s.date).collect();
            return Some(figures[0] >= 2.0 && figures[0] <= days.len() as f64 && self.call.call == CallKind::Refer);
        }
        if text.starts_with("about ") && text.ends_with(" kg is right now") {
            return Some(figures[0] < self.load());
        }
        if text.starts_with("too large a jump at once: first ") {
            return Some(
                self.call
                    .prescription
                    .sets
                    .iter()
                    .all(|s| s.reps.is_some_and(|[_, top]| near(figures[0], f64::from(top)))),
            );
        }
        if text.starts_with("one more rep in each set that was below ") {
            let top = f64::from(intent.dose.reps[1]);
            return Some(near(figures[0], top) && self.last.iter().any(|s| f64::from(s.reps.unwrap_or(0)) >= top));
        }
        if text.starts_with("less than the ") {
            return Some(near(figures[0], f64::from(intent.dose.reserve())));
        }
        if text.starts_with("more reps, up to ") {
            return Some(
                self.call.prescription.sets.iter().all(|s| s.reps.is_some_and(|[_, top]| f64::from(top) <= figures[0])),
            );
        }
        if text.contains("sessions without") {
            let days: std::collections::BTreeSet<NaiveDate> = self.question.history.iter().map(|s| s.date).collect();
            return Some(days.len() as f64 >= figures[0]);
        }
        if text.starts_with("another step: ") || text.starts_with("a harder position: ") {
            let step = self.step_named(text)?;
            return Some(taken.is_some_and(|t| t.label == step.label));
        }
        if text.contains(" in ") && text.contains(" sets: the load is too heavy") {
            let seen = self.last.iter().filter(|s| !s.seen.is_empty() || s.form_kept == Some(false)).count();
            return Some(near(figures[0], seen as f64));
        }
        if text.contains(" side does ") {
            return Some((15.0..=100.0).contains(&figures[0]));
        }
        if text.contains("harder here: ") || text.contains("easier: ") || text.contains("on two days running: ") {
            // Another movement with its step: what is promised of it is what is prescribed.
            let other = self.call.exercise.as_deref().and_then(|id| CATALOGUE.movement(id));
            return Some(
                other.is_some_and(|m| text.contains(&m.name))
                    || self.call.alternatives.iter().any(|a| text.contains(&a.to_string())),
            );
        }
        self.says_of_the_last(text)
    }

    /// Whether what is said of the last session is true of it.
    fn says_of_the_last(&self, text: &str) -> Option<bool> {
        let rest = self.told(text)?;
        let [low, high] = self.question.intent.dose.reps.map(f64::from);
        let reps = |s: &&&LoggedSet| f64::from(s.reps.unwrap_or(0));
        let worst = self.last.iter().map(|s| reps(&s)).fold(f64::MAX, f64::min);
        Some(match rest {
            _ if rest.starts_with("half of ") => 2.0 * worst <= low && near(numbers(rest)[0], low),
            _ if rest.starts_with("below ") => worst < low && near(numbers(rest)[0], low),
            "the top of the zone in every set" => worst >= high,
            "" => true,
            "inside the zone" => {
                let best = self.last.iter().map(|s| reps(&s)).fold(0.0, f64::max);
                worst >= low && best <= high
            }
            "far above what was asked" | "the last repetitions were easy" => worst >= low,
            _ => return None,
        })
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 1500, ..ProptestConfig::default() })]

    /// Any log of a few days: sets that went well or badly, hurt or were seen to go wrong, after days or months.
    #[test]
    fn every_figure_of_a_call_is_true(
        days in proptest::collection::vec((proptest::collection::vec((3u16..18, 0u8..5), 1..4), 0usize..5), 1..8),
        seen in proptest::option::of(0usize..Observation::ALL.len()),
        pain in proptest::option::weighted(0.2, 1u8..9),
        hurt_before in proptest::bool::weighted(0.15),
        away in prop_oneof![1u64..5, 14u64..60],
        sides in proptest::bool::weighted(0.1),
    ) {
        let loads = [8.0, 10.0, 12.0, 16.0, 20.0];
        let first = day("2026-01-05");
        let mut history = Vec::new();
        let count = days.len();
        for (i, (sets, load)) in days.iter().enumerate() {
            let date = first.checked_add_days(Days::new(3 * i as u64)).unwrap();
            for (n, (reps, rir)) in sets.iter().enumerate() {
                let mut set = dumbbell_set("dumbbell_curl", &date.to_string(), loads[*load], *reps, *rir);
                if i + 1 == count {
                    set.seen.extend(seen.map(|s| Observation::ALL[s]).filter(|_| n == 0));
                    set.pain = pain.filter(|_| n == 0);
                    set.side = sides.then_some(if n % 2 == 0 { Side::Left } else { Side::Right });
                } else if hurt_before && i + 2 == count {
                    (set.pain, set.pain_at) = (Some(6), Some(Joint::Elbow));
                }
                history.push(set);
            }
        }
        let today = history.last().unwrap().date.checked_add_days(Days::new(away)).unwrap();
        let wanted = intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
        let (who, room): (Person, Vec<KitItem>) = (person(), kit(RACK));
        let prescription = wanted.dose.prescription();
        let question = NextQuestion { today, ..the_day_after("dumbbell_curl", (&who, &room), (&wanted, &prescription), &history) };
        let call = next(&CATALOGUE, &question);
        let movement = CATALOGUE.movement("dumbbell_curl").unwrap();
        let ladder = Ladder::of(movement, &who, &room);
        let last_day = history.last().unwrap().date;
        let last: Vec<&LoggedSet> = history.iter().filter(|s| s.date == last_day).collect();
        let case = Case { question: &question, call: &call, ladder: &ladder, last };
        prop_assert!(!call.reasons.is_empty());
        for text in call.told().iter().filter(|t| has_figure(t)) {
            match case.is_true(text) {
                Some(verdict) => prop_assert!(verdict, "{text}: {:?} {:?} {:?}", call.call, call.reasons, case.last),
                None => prop_assert!(false, "nobody checks this: {text} {:?}", case.last),
            }
        }
        // What a call adds it adds, and what it takes away it takes away.
        if call.call == CallKind::AddLoad {
            prop_assert!(call.step.as_ref().unwrap().effective_kg.value() > case.load());
        }
        }
}
