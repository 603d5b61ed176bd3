//! What a phone works out by itself, without a signal, it works out as the core does: cases that both are held to. The phone's own
//! test reads the same file.

use bavrek_core::between::{Advice, Next, Then, When, due};
use bavrek_core::dose::{Prescription, SetKind, SetPlan, Tempo};
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::person::Side;
use bavrek_core::plan::BlockKind;
use bavrek_core::script::{Block, DoneTurn, Script, Station, Turn};
use bavrek_core::units::Seconds;
use chrono::NaiveDate;
use rand::seq::IndexedRandom;
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use serde_json::{Value, json};

const FILE: &str = "tests/data/phone_cases.json";
const SEED: u64 = 11;

fn station(draw: &mut ChaCha8Rng, key: u8) -> Station<u8> {
    let mut sets = vec![SetPlan::straight([8, 12], Some(2), Tempo::USUAL, 90); draw.random_range(1..=4)];
    if draw.random_bool(0.2) {
        sets.truncate(1);
        sets[0] = SetPlan { kind: SetKind::ToTotal, total: Some(draw.random_range(20..60)), ..sets[0].clone() };
    }
    let first = if draw.random_bool(0.5) { Side::Left } else { Side::Right };
    let one_sided = draw.random_bool(0.4);
    Station { key, dose: Prescription::of(sets), one_sided, first, set_up: Seconds(20.0), change: Seconds(8.0) }
}

fn blocks(draw: &mut ChaCha8Rng) -> Vec<Block<u8>> {
    let kinds = [BlockKind::Straight, BlockKind::Superset, BlockKind::Antagonist, BlockKind::Circuit];
    let mut key = 0;
    (0..draw.random_range(1..=3))
        .map(|_| {
            let stations = (0..draw.random_range(1..=3))
                .map(|_| {
                    key += 1;
                    station(draw, key)
                })
                .collect();
            Block { kind: *kinds.choose(draw).unwrap(), stations }
        })
        .collect()
}

/// Turns as a phone is given them.
fn turns(script: &Script<u8>) -> Vec<Value> {
    script.turns.iter().map(|t| json!({ "slot": t.key, "side": t.side, "total": t.work.total })).collect()
}

fn script_case(draw: &mut ChaCha8Rng) -> Value {
    let script = Script::of(&blocks(draw));
    let keys: Vec<u8> = script.turns.iter().map(|t| t.key).collect();
    // Done in whatever order, some with a side that was not told, some of what is not there at all.
    let done: Vec<DoneTurn<u8>> = (0..draw.random_range(0..=keys.len() + 2))
        .map(|_| DoneTurn {
            key: if draw.random_bool(0.95) { *keys.choose(draw).unwrap() } else { 99 },
            side: *[None, Some(Side::Left), Some(Side::Right)].choose(draw).unwrap(),
            reps: draw.random_range(0..30),
        })
        .collect();
    let closed: Vec<u8> = keys.iter().copied().filter(|_| draw.random_bool(0.1)).collect();
    let mut stations = keys.clone();
    stations.dedup();
    let mut optional: Vec<(u8, u8)> = Vec::new();
    for key in stations {
        if draw.random_bool(0.6) && optional.iter().all(|(other, _)| *other != key) {
            optional.push((key, draw.random_range(0..3)));
        }
    }
    let at = |turn: &Turn<u8>| script.turns.iter().position(|t| std::ptr::eq(t, turn));
    json!({
        "turns": turns(&script),
        "done": done.iter().map(|d| json!({ "slot": d.key, "side": d.side, "reps": d.reps })).collect::<Vec<_>>(),
        "closed": closed,
        "taken": script.taken(&done),
        "open": script.open(&done).into_iter().map(at).collect::<Vec<_>>(),
        "left": script.turns.iter().map(|t| Script::left_of_total(t, &done)).collect::<Vec<_>>(),
        "next": script.next(&done, &closed).map(at),
        "optional": optional,
        "enough": script.is_enough(&done, &closed, &optional),
    })
}

fn advice_case(draw: &mut ChaCha8Rng) -> Value {
    let mut advice = Vec::new();
    for _ in 0..draw.random_range(0..6) {
        let when = match draw.random_range(0..4) {
            0 => When::Seen { what: *Observation::ALL.choose(draw).unwrap() },
            1 => When::Broken,
            2 => When::Fewer { than: draw.random_range(3..10) },
            _ => When::Easy { from: draw.random_range(8..15), reserve: draw.random_range(2..5) },
        };
        advice.push(Advice { when, next: Next::Same, told: None, then: Then::Slower });
    }
    let told = |draw: &mut ChaCha8Rng| draw.random_bool(0.8);
    let mut set = LoggedSet::of("x", NaiveDate::MIN);
    set.reps = told(draw).then(|| draw.random_range(0..20));
    set.rir = told(draw).then(|| draw.random_range(0..6));
    set.form_kept = draw.random_bool(0.2).then_some(false);
    set.pain = draw.random_bool(0.2).then(|| draw.random_range(0..4));
    set.seen = Observation::ALL.iter().copied().filter(|_| draw.random_bool(0.25)).collect();
    let due = due(&advice, &set).map(|one| advice.iter().position(|a| std::ptr::eq(a, one)));
    let broken = set.form_kept == Some(false);
    let told = json!({ "reps": set.reps, "rir": set.rir, "seen": set.seen, "broken": broken, "pain": set.pain });
    let advice: Vec<When> = advice.iter().map(|a| a.when).collect();
    json!({ "advice": advice, "set": told, "due": due })
}

#[test]
fn the_cases_of_the_phone_are_those_of_the_core() {
    let mut draw = ChaCha8Rng::seed_from_u64(SEED);
    let scripts: Vec<Value> = (0..60).map(|_| script_case(&mut draw)).collect();
    let advice: Vec<Value> = (0..200).map(|_| advice_case(&mut draw)).collect();
    // The cases reach what they should: some workouts are over, some go on, some advice is due.
    assert!(scripts.iter().filter(|c| c["next"].is_null()).count() > 5);
    assert!(scripts.iter().filter(|c| !c["next"].is_null()).count() > 30);
    assert!(scripts.iter().filter(|c| c["enough"] == true && !c["next"].is_null()).count() > 3);
    assert!(advice.iter().filter(|c| !c["due"].is_null()).count() > 30);
    let path = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join(FILE);
    let lines = |cases: &[Value]| cases.iter().map(Value::to_string).collect::<Vec<_>>().join(",\n");
    let text = format!("{{\"scripts\":[\n{}\n],\"advice\":[\n{}\n]}}\n", lines(&scripts), lines(&advice));
    if std::env::var_os("BAVREK_WRITE_CASES").is_some() {
        std::fs::write(&path, &text).unwrap();
    }
    assert!(std::fs::read_to_string(&path).unwrap() == text, "{FILE} is old: write it anew with BAVREK_WRITE_CASES=1");
}
