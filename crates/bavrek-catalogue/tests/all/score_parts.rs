//! Each part of a score against its definition, worked out here once more: by hand, or over every candidate of unlike rooms.

use std::collections::BTreeMap;

use crate::common::asked::{CATALOGUE, CURL, curls};
use crate::common::{intent, kit, person};
use bavrek_core::anatomy::{Region, Surface};
use bavrek_core::dose::Dose;
use bavrek_core::fit::{Candidate, FitAnswer, FitQuestion, Parts, Weights, fit, kindness};
use bavrek_core::kit::full_room;
use bavrek_core::log::LoggedSet;
use bavrek_core::mechanics::profile::share_distance;
use bavrek_core::method::Method;
use bavrek_core::movement::{Movement, Style};
use bavrek_core::person::{Person, Severity};
use bavrek_core::plan::{Intent, Sides};
use bavrek_core::reference::{Named, Reference};
use bavrek_core::reps;
use rstest::rstest;

const IMPROVISED: &str = r#"[{"kind":"chair"},{"kind":"chair"},{"kind":"sofa"},{"kind":"table","height_m":0.74},{"kind":"backpack","max_kg":12},
    {"kind":"dumbbells","unit":"kg","pairs":[3,8,14]},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}]"#;

fn near(found: f64, expected: f64, of: &dyn std::fmt::Display) {
    assert!((found - expected).abs() < 1e-9, "{of}: {found} for {expected}");
}

/// Every candidate for the job of every sixth movement, in a room that has everything and in one of chairs and three pairs.
fn over_all(check: impl Fn(&Intent, &FitAnswer<'_>, &Candidate<'_>) -> bool) -> usize {
    let person = person();
    let mut held = 0;
    for room in [full_room(), kit(IMPROVISED)] {
        for movement in CATALOGUE.movements.iter().step_by(6) {
            let job = Named::Movement(movement).intent(&person, &Dose::USUAL);
            let answer = fit(&CATALOGUE, &FitQuestion::plain(&person, &room, &job));
            held += answer.candidates.iter().filter(|c| check(&job, &answer, c)).count();
        }
    }
    held
}

/// Half for four steps above, half for jumps of at most a tenth; none is left at one of a half. A ladder of one step is one.
#[rstest]
#[case::the_only_one(&[10.0], 0.1)]
#[case::four_small_ones_above(&[10.0, 11.0, 12.0, 13.0, 14.0], 1.0)]
#[case::one_small_one_above(&[10.0, 11.0], 0.125 + 0.5)]
#[case::one_of_a_quarter_above(&[10.0, 12.5], 0.125 + 0.5 * 0.625)]
#[case::a_quarter_below(&[8.0, 10.0], 0.5 * 0.625)]
#[case::twice_as_heavy(&[10.0, 20.0], 0.125)]
#[case::two_above_and_one_far_below(&[5.0, 10.0, 11.0, 12.0], 0.25 + 0.5)]
#[case::seven_above(&[10.0, 11.0, 12.0, 13.0, 14.0, 15.0, 16.0, 17.0], 1.0)]
fn room_to_grow(#[case] pairs: &[f64], #[case] expected: f64) {
    let room = kit(&format!(r#"[{{"kind":"dumbbells","unit":"kg","pairs":{pairs:?}}}]"#));
    // Known so well that the start is the pair of ten.
    let known: Vec<LoggedSet> =
        (1..=9).flat_map(|i| curls(&format!("2026-03-{i:02}"), 10.0, &[10, 10, 10], 2)).collect();
    let job = intent(CURL);
    let who = person();
    let answer = fit(&CATALOGUE, &FitQuestion { history: &known, ..FitQuestion::plain(&who, &room, &job) });
    let curl = answer.candidates.iter().find(|c| c.movement.id == "dumbbell_curl").unwrap();
    assert_eq!(curl.step().effective_kg.value(), 10.0);
    near(curl.parts.steps, expected, &"pairs");
}

/// The whole less the time it takes, of four minutes; less for a contraption, for furniture, and for sides that take turns unasked.
#[test]
fn quick_to_set_up() {
    let of = |job: &Intent, c: &Candidate<'_>| {
        let step = c.step();
        let contraption = if step.is_plain() { 0.0 } else { 0.2 };
        let furniture = match step.setup.surface {
            Some(Surface::Chair | Surface::Sofa | Surface::Table) => 0.15,
            _ => 0.0,
        };
        let sides = if c.movement.unilateral() && job.sides != Some(Sides::One) { 0.75 } else { 1.0 };
        (sides * (1.0 - step.set_up_s.value() / 240.0 - contraption - furniture)).clamp(0.1, 1.0)
    };
    let told_apart = over_all(|job, _, c| {
        near(c.parts.setup, of(job, c), &c.movement.id);
        c.parts.setup < 0.9
    });
    assert!(told_apart > 200, "{told_apart}");
}

/// How far its thirds are from the wanted ones, of a half; less by 0.15 for each class of length of a two-joint muscle.
#[test]
fn hard_where_it_should_be() {
    let person = person();
    let off_class = over_all(|_, answer, c| {
        let Some(wanted) = &answer.reference else { return false };
        let apart = (share_distance(&c.step().thirds, &wanted.thirds) / 0.5).min(1.0);
        let own = Reference::of(Named::Movement(c.movement), &person).and_then(|r| r.tag);
        let classes = wanted.tag.zip(own).map_or(0.0, |(a, b)| f64::from((a - b).abs()));
        near(c.parts.tension, (1.0 - apart) * (1.0 - 0.15 * classes), &c.movement.id);
        classes > 0.0 && apart < 1.0
    });
    assert!(off_class > 20, "{off_class}");
}

/// The share of the wanted regions that it works, less for what it works beside them, and for each thing that differs from the job.
fn kept(job: &Intent, movement: &Movement, style: Style) -> f64 {
    let heads = |region: Region| job.regions.keys().filter(|asked| asked.same_muscle(region)).count();
    let given: f64 = job.regions.iter().map(|(region, weight)| weight * movement.region_weight(*region)).sum();
    let asked = |region: &Region| job.regions.contains_key(region);
    let beside: f64 = movement.direct.iter().filter(|(r, _)| !asked(r) && heads(**r) < 2).map(|(_, w)| w).sum();
    let direct: f64 = movement.direct.values().sum();
    let one_head = job.regions.keys().next().filter(|_| job.regions.len() == 1 && job.arm_position.is_none());
    let favoured = one_head.map(|head| head.arms_that_favour()).filter(|arms| !arms.is_empty());
    let factors = [
        (movement.pattern != job.pattern, 0.6),
        (job.arm_position.is_some_and(|arm| arm != movement.arm_position), 0.8),
        (favoured.is_some_and(|arms| !arms.contains(&movement.arm_position)), 0.85),
        (matches!((job.grip, movement.grip), (Some(a), Some(b)) if a != b), 0.85),
        (matches!(job.sides, Some(sides) if (sides == Sides::One) != movement.unilateral()), 0.88),
        (movement.style != style, if movement.style == Style::Hold { 0.5 } else { 0.75 }),
        (movement.disputed.is_some(), 0.96),
    ];
    let off: f64 = factors.iter().filter(|(differs, _)| *differs).map(|(_, factor)| factor).product();
    let wanted: f64 = job.regions.values().sum();
    given / wanted * (1.0 - 0.25 * beside / direct.max(0.01)) * off * (0.7 + 0.3 * movement.confidence)
}

#[test]
fn the_target_that_is_kept() {
    let person = person();
    let room = full_room();
    let (mut told_apart, mut left_out) = (0, 0);
    for movement in CATALOGUE.movements.iter().step_by(3) {
        let named = Named::Movement(movement).intent(&person, &Dose::USUAL);
        // As the movement is, and as a slot asks that knows nothing of arms and sides but both.
        let plain = Intent {
            sides: Some(Sides::Both),
            dose: named.dose.clone(),
            ..Intent::of(movement.pattern, movement.direct.clone())
        };
        let one = movement.main_region().map(|region| Intent::of(movement.pattern, BTreeMap::from([(region, 1.0)])));
        for job in [Some(named), Some(plain), one].into_iter().flatten() {
            let answer = fit(&CATALOGUE, &FitQuestion::plain(&person, &room, &job));
            let style = answer.reference.as_ref().map_or(Style::Reps, |r| r.style);
            for c in &answer.candidates {
                near(c.parts.targeting, kept(&job, c.movement, style), &c.movement.id);
                assert!(c.parts.targeting >= 0.22, "{}", c.movement.id);
                told_apart += usize::from(c.parts.targeting < 0.7);
            }
            let there = |m: &Movement| {
                answer.candidates.iter().any(|c| c.movement.id == m.id)
                    || answer.excluded.iter().any(|e| e.movement.id == m.id)
            };
            left_out += CATALOGUE
                .movements
                .iter()
                .filter(|m| !there(m))
                .inspect(|m| assert!(kept(&job, m, style) < 0.22, "{}", m.id))
                .count();
        }
    }
    assert!(told_apart > 2_000 && left_out > 2_000, "{told_apart} {left_out}");
}

/// What reach comes to: whole inside the zone, or within one SD of it where sets train size; else by what the school takes of long sets;
/// little beyond.
fn in_reach(job: &Intent, c: &Candidate<'_>) -> f64 {
    let long = Method::ReserveBased.long_sets().sqrt();
    let [low, high] = job.dose.reps.map(f64::from);
    let (start, n) = (&c.start, c.start.reps);
    // A stronger or weaker client by one SD: repetitions plus nine go with strength to the power of 1/p.
    let by = |sds: f64| (n + start.reserve + 9.0) * (sds * start.sd / reps::P).exp() - 9.0 - start.reserve;
    let trains = (5.0..=30.0).contains(&n);
    let likely = by(1.0) >= low - 0.5 && by(-1.0) <= high + 0.5;
    if (low - 0.5..=high + 0.5).contains(&n) || trains && likely {
        1.0
    } else if trains {
        0.4 + 0.58 * long
    } else if n < 5.0 {
        0.6 * (n / 5.0).max(0.05)
    } else {
        (0.7 * long * (60.0 - n) / 30.0).max(0.03)
    }
}

#[test]
fn a_step_in_reach() {
    let told_apart = over_all(|job, _, c| {
        near(c.parts.reach, in_reach(job, c), &c.movement.id);
        c.parts.reach < 1.0
    });
    assert!(told_apart > 100, "{told_apart}");
}

/// The same of a client who is known well, on single pairs from a set without end to one that can hardly be lifted.
#[test]
fn a_step_in_reach_of_who_is_known() {
    let known: Vec<LoggedSet> =
        (1..=9).flat_map(|i| curls(&format!("2026-03-{i:02}"), 10.0, &[10, 10, 10], 2)).collect();
    let (who, job) = (person(), intent(CURL));
    let (mut inside, mut trains, mut few, mut many) = (0, 0, 0, 0);
    for tenths in 50..130 {
        let kg = f64::from(tenths) / 10.0;
        let room = kit(&format!(r#"[{{"kind":"dumbbells","unit":"kg","pairs":[{kg}]}}]"#));
        let answer = fit(&CATALOGUE, &FitQuestion { history: &known, ..FitQuestion::plain(&who, &room, &job) });
        let Some(curl) = answer.candidates.iter().find(|c| c.movement.id == "dumbbell_curl") else { continue };
        near(curl.parts.reach, in_reach(&job, curl), &kg);
        match curl.start.reps {
            n if n < 5.0 => few += 1,
            n if n > 30.0 => many += 1,
            _ if curl.parts.reach < 1.0 => trains += 1,
            _ => inside += 1,
        }
    }
    let all = [inside, trains, few, many];
    assert!(all.iter().all(|n| *n > 3), "{all:?}");
}

/// Steadiness is the movement's own; to failure, what is unsteady ends with the balance.
#[test]
fn steady_and_to_failure() {
    let (person, room) = (person(), full_room());
    let mut unsteady = 0;
    for movement in CATALOGUE.movements.iter().step_by(6) {
        let job = Named::Movement(movement).intent(&person, &Dose::USUAL);
        let hard = Intent { dose: Dose { rir: 0, ..job.dose.clone() }, ..job.clone() };
        assert!(hard.dose.to_failure() && !job.dose.to_failure());
        for (job, power) in [(&job, 1), (&hard, 2)] {
            for c in fit(&CATALOGUE, &FitQuestion::plain(&person, &room, job)).candidates {
                near(c.parts.stability, c.movement.stability.powi(power), &c.movement.id);
                unsteady += usize::from(c.movement.stability < 1.0);
            }
        }
    }
    assert!(unsteady > 200, "{unsteady}");
}

/// A geometric mean by weight, in which nothing counts below 0.03.
#[rstest]
#[case::all_whole([1.0; 7], 1.0)]
#[case::all_a_half([0.5; 7], 0.5)]
#[case::nothing([0.0; 7], 0.03)]
fn one_figure_of_seven(#[case] parts: [f64; 7], #[case] expected: f64) {
    let [targeting, tension, reach, steps, joints, stability, setup] = parts;
    let parts = Parts { targeting, tension, reach, steps, joints, stability, setup };
    near(parts.score(&Weights::USUAL), expected, &"score");
    for (i, weight) in Weights::USUAL.values().into_iter().enumerate() {
        let mut values = parts.values();
        values[i] = 0.25;
        let [targeting, tension, reach, steps, joints, stability, setup] = values;
        let one = Parts { targeting, tension, reach, steps, joints, stability, setup };
        near(one.score(&Weights::USUAL), expected * (0.25 / parts.values()[i].max(0.03)).powf(weight), &i);
    }
}

/// A score is what its parts come to, or stands behind what it yields to: a doubted variant or one side at a time behind the plain one that
/// it comes from, and what the catalogue names, where joints are sound and it is no less hard where it should be.
#[test]
fn what_stands_behind_what() {
    let (person, room) = (person(), full_room());
    let (mut behind, mut free) = (0, 0);
    for movement in CATALOGUE.movements.iter().step_by(3) {
        let named = Named::Movement(movement).intent(&person, &Dose::USUAL);
        for sides in [None, Some(Sides::One)] {
            let job = Intent { sides, ..named.clone() };
            let answer = fit(&CATALOGUE, &FitQuestion::plain(&person, &room, &job));
            let here = |id: &str| answer.candidates.iter().find(|c| c.movement.id == id);
            let leader = |id: &str| here(id).filter(|c| (5.0..=30.0).contains(&c.start.reps));
            let yields = |c: &Candidate<'_>, l: &Candidate<'_>| {
                let hard = l.parts.tension >= c.parts.tension - 0.02;
                let other_sides = sides.is_some() && c.movement.unilateral() && !l.movement.unilateral();
                c.movement.yields_to.contains(&l.movement.id) && l.parts.joints >= 0.99 && hard && !other_sides
            };
            for c in answer.candidates.iter().filter(|c| !c.is_nearly_out_of_reach()) {
                let from = |id: &String| here(id)?.movement.variant_of.clone();
                let line = std::iter::successors(c.movement.variant_of.clone(), from);
                let plainer = line.filter_map(|id| leader(&id)).filter(|l| {
                    let doubted = c.movement.is_doubted() && !l.movement.is_doubted();
                    let one_side = c.movement.unilateral() && !l.movement.unilateral() && sides.is_none();
                    // What names another yields to it, and does not lead it besides.
                    l.movement.pattern == c.movement.pattern
                        && (doubted || one_side)
                        && !(yields(l, c) && leader(&c.movement.id).is_some())
                });
                let named = c.movement.yields_to.iter().filter_map(|id| leader(id)).filter(|l| yields(c, l));
                let most = plainer.chain(named).map(|l| 0.995 * l.score).fold(f64::INFINITY, f64::min);
                let own = c.parts.score(&answer.weights);
                near(c.score, own.min(most), &c.movement.id);
                behind += usize::from(most < own);
                free += usize::from(most >= own);
            }
        }
    }
    assert!(behind > 50 && free > 500, "{behind} {free}");
}

/// Over all movements: nothing stands behind what stands behind it, however far round, whether one side was asked or not.
#[test]
fn nothing_yields_in_a_circle() {
    let movement = |id: &str| CATALOGUE.movement(id).unwrap();
    for one_side_asked in [false, true] {
        let leaders = |m: &Movement| -> Vec<String> {
            let line = std::iter::successors(m.variant_of.clone(), |id| movement(id).variant_of.clone());
            let plainer = line.filter(|id| {
                let l = movement(id);
                let one_side = m.unilateral() && !l.unilateral() && !one_side_asked;
                let behind = m.is_doubted() && !l.is_doubted() || one_side;
                l.pattern == m.pattern && behind && !l.yields_to.contains(&m.id)
            });
            let named = m.yields_to.iter().filter(|id| {
                CATALOGUE.movement(id).is_some_and(|l| !(one_side_asked && m.unilateral() && !l.unilateral()))
            });
            plainer.chain(named.cloned()).collect()
        };
        let mut led = 0;
        for start in &CATALOGUE.movements {
            let mut next = leaders(start);
            led += next.len();
            let mut seen = std::collections::BTreeSet::new();
            while let Some(id) = next.pop() {
                assert_ne!(id, start.id, "it stands behind itself, by way of {seen:?}");
                if seen.insert(id.clone()) {
                    next.extend(leaders(movement(&id)));
                }
            }
        }
        assert!(led > 50, "{led}");
    }
}

/// From fifty on a press on a bench between forty and sixty-five degrees asks more of a shoulder, whatever the movement and limits.
#[test]
fn a_steep_bench_is_less_kind_with_age() {
    let young = person();
    let old = Person { age_years: Some(66), ..person() };
    assert!(old.is_eased_by_age() && !young.is_eased_by_age());
    let mut eased = 0;
    for movement in &CATALOGUE.movements {
        for (who, factor) in [(&young, 1.0), (&old, 0.8)] {
            let plain = kindness(movement, who, None);
            for (deg, steep) in
                [(0.0, false), (30.0, false), (39.9, false), (40.0, true), (60.0, true), (65.0, false), (80.0, false)]
            {
                let expected = if steep { factor * plain } else { plain };
                near(kindness(movement, who, Some(deg)), expected, &movement.id);
                eased += usize::from(expected < plain);
            }
        }
    }
    assert!(eased > 200, "{eased}");
}

/// What a client's weights come to in percent: a tenth is the finest that is told, and all are a hundred together.
#[test]
fn weights_in_percent() {
    let own = Weights::from_percent([30.0, 10.0, 10.0, 10.0, 20.0, 10.0, 10.0]).unwrap();
    assert_eq!(own.percent(), [30.0, 10.0, 10.0, 10.0, 20.0, 10.0, 10.0]);
    let doubled = Weights::from_percent([60.0, 20.0, 20.0, 20.0, 40.0, 20.0, 20.0]).unwrap();
    assert_eq!(doubled.percent(), own.percent());
    let thirds = Weights::from_percent([1.0, 1.0, 1.0, 0.0, 3.0, 0.0, 0.0]).map(|w| w.percent());
    assert_eq!(thirds.ok(), Some([16.7, 16.7, 16.7, 0.0, 50.0, 0.0, 0.0]));
}

#[test]
fn limits_that_ease_multiply() {
    let mild = |what: &str| -> bavrek_core::person::Limit {
        serde_json::from_str(&format!(r#"{{"joint":"shoulder","what":"{what}","side":"both","severity":"mild"}}"#))
            .unwrap()
    };
    let limits = [mild("pain_deep_stretch"), mild("pain_overhead")];
    assert!(limits.iter().all(|l| l.severity == Severity::Mild));
    let with = |limits: &[bavrek_core::person::Limit]| Person { limits: limits.to_vec(), ..person() };
    let mut both = 0;
    for movement in &CATALOGUE.movements {
        let [a, b] = [0, 1].map(|i| kindness(movement, &with(&limits[i..=i]), None));
        near(kindness(movement, &with(&limits), None), a * b, &movement.id);
        both += usize::from(a < 1.0 && b < 1.0);
    }
    assert!(both > 5, "{both}");
}
