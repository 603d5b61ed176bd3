//! The clock of a session, a session made shorter, and a page of a written plan.
#![allow(missing_docs, reason = "the benchmark macros generate undocumented items")]

use std::collections::BTreeMap;
use std::hint::black_box;

use bavrek_catalogue::load;
use bavrek_core::aims::Aim;
use bavrek_core::clock::Clock;
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Prescription, Tempo};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::Ladder;
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::{Person, Side};
use bavrek_core::plan::BlockKind;
use bavrek_core::reading::{Names, read_text};
use bavrek_core::script::{Block, Script, Station};
use bavrek_core::shorten::{Blocks, Line, Means, shorten};
use bavrek_core::units::Seconds;
use bavrek_core::warm_up::{Ahead, WarmUp, cool_down};
use criterion::{Criterion, criterion_group, criterion_main};

const SESSION: [(&str, &str); 6] = [
    ("dumbbell_bench_press", "4 x 6-10"),
    ("dumbbell_row", "4 x 8-12"),
    ("incline_dumbbell_press", "3 x 8-12"),
    ("side_raise", "3 x 12-15"),
    ("dumbbell_curl", "3 x 10-15"),
    ("overhead_extension", "3 x 10-15"),
];

const PAGE: &str = "Day 1: Push\nBench press 3 x 8-12 @ 2 RIR, rest 90 s\nIncline DB press 4 sets of 8-10 reps, 22,5 kg
A1) Weighted dips +10kg 4x6\nA2) Lateral raises 3x15 (rest 60s)\nSkull crushers 3 x 10-12, tempo 3-0-1-0\nPlank 3x45s\n
Day 2: Pull\nPull-ups: 3 sets to failure\nDB row 3 x 10 each side, 24kg\nFace pulls 3x15-20\nHammer curls 3x12 @ RPE 8
Barbell curl 12/10/8 30kg\nSuperset:\nCurl 3x12\nTricep pushdown 3x12\n
Day 3: Whole\nDB curls + Overhead triceps extension 3x12\nPreacher curl 4 sets x 8 reps x 20 kg\n3 rounds of:
10 push-ups\n12 DB rows each side\n30s plank\n\nCable fly 3x12-15, 90s rest\nLat pulldown: 10-12 reps x 3 sets
OHP 3x5 @8\nDips 18-9-9-14\nChin ups 3 x max\nDead hang 3 x 30-45 sec\nDrink water and sleep eight hours";

fn dose(line: &str) -> Prescription {
    let usual = Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 };
    read(line).map_or_else(|_| Prescription::of(Vec::new()), |written| written.filled(usual))
}

/// A session with the ladder of each of its movements.
fn stations(catalogue: &Catalogue) -> Vec<(usize, &Movement, Ladder)> {
    let person = Person::default_figure();
    let of = |(key, (id, _)): (usize, &(&str, &str))| {
        let movement = catalogue.movement(id)?;
        Some((key, movement, Ladder::of(movement, &person, &full_room())))
    };
    SESSION.iter().enumerate().filter_map(of).collect()
}

/// Script, warm-up and clock of a session as it lies.
fn long(
    stations: &[(usize, &Movement, Ladder)],
    blocks: &Blocks<usize>,
    doses: &BTreeMap<usize, Prescription>,
) -> Seconds {
    let of = |key: &usize| stations.iter().find(|(k, ..)| k == key);
    let station = |key: &usize| {
        let (_, movement, ladder) = of(key)?;
        Some(Station::of(*key, movement, ladder.steps.get(5)?, doses.get(key)?.clone(), Side::Left))
    };
    let block = |(kind, keys): &(BlockKind, Vec<usize>)| Block {
        kind: *kind,
        stations: keys.iter().filter_map(station).collect(),
    };
    let ahead: Vec<Ahead<'_, usize>> = stations
        .iter()
        .filter_map(|(key, movement, ladder)| {
            Some(Ahead { key: *key, movement, ladder, step: ladder.steps.get(5)?, dose: doses.get(key)? })
        })
        .collect();
    let script = Script::of(&blocks.iter().map(block).collect::<Vec<_>>());
    Clock::of(&script, Some(&WarmUp::of(&Person::default_figure(), &ahead)), cool_down()).total()
}

fn boards(c: &mut Criterion) {
    let Ok(catalogue) = load() else { return };
    let stations = stations(&catalogue);
    let doses: BTreeMap<usize, Prescription> =
        SESSION.iter().enumerate().map(|(i, (_, line))| (i, dose(line))).collect();
    let blocks: Blocks<usize> = (0..SESSION.len()).map(|i| (BlockKind::Straight, vec![i])).collect();
    c.bench_function("clock of six movements", |b| b.iter(|| long(&stations, black_box(&blocks), &doses)));
    let line = |(i, (_, movement, _)): (usize, &(usize, &Movement, Ladder))| Line {
        key: i,
        pattern: movement.pattern,
        aim: Aim::ALL[i % Aim::ALL.len()],
        works: 2.0,
        spare: false,
        optional: None,
        dose: doses[&i].clone(),
    };
    let lines: Vec<Line<usize>> = stations.iter().enumerate().map(line).collect();
    c.bench_function("six movements in twenty-five minutes", |b| {
        let measure = |blocks: &Blocks<usize>, doses: &BTreeMap<usize, Prescription>| long(&stations, blocks, doses);
        b.iter(|| shorten(black_box(&lines), &blocks, Seconds(1500.0), Means::ALL, measure));
    });
    let names = Names::of(&catalogue);
    c.bench_function("names of the catalogue", |b| b.iter(|| Names::of(black_box(&catalogue))));
    c.bench_function("a page of a written plan", |b| b.iter(|| read_text(&names, black_box(PAGE))));
}

criterion_group!(benches, boards);
criterion_main!(benches);
