//! The load model: one force, the ring curl, the whole catalogue for a client, and loading it.
#![allow(missing_docs, reason = "the benchmark macros generate undocumented items")]

use std::hint::black_box;

use bavrek_catalogue::load;
use bavrek_core::example::Example;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::rigging::Setup;
use bavrek_core::rigging::{Loads, Rigged};
use criterion::{Criterion, criterion_group, criterion_main};

fn examples<'a>(catalogue: &'a Catalogue, person: &Person) -> Vec<(&'a str, Setup, Loads)> {
    let of = |m: &'a std::sync::Arc<bavrek_core::movement::Movement>| {
        let example = Example::of(catalogue, m, person);
        (m.id.as_str(), example.setup, example.loads)
    };
    catalogue.movements.iter().map(of).collect()
}

fn one_force(criterion: &mut Criterion) {
    let Ok(catalogue) = load() else { return };
    let person = Person::default_figure();
    let all = examples(&catalogue, &person);
    for id in [
        "push_up",
        "dumbbell_curl",
        "band_fly",
        "band_row",
        "dumbbell_floor_press",
        "chin_up",
        "ring_curl",
        "wheel_rollout",
    ] {
        let Some((_, setup, loads)) = all.iter().find(|(name, ..)| *name == id) else { continue };
        let Some(movement) = catalogue.movement(id) else { continue };
        criterion.bench_function(&format!("force, {id}"), |b| {
            b.iter(|| Rigged::new(black_box(movement), &person, *setup).load(loads));
        });
    }
}

fn whole_catalogue(criterion: &mut Criterion) {
    let Ok(catalogue) = load() else { return };
    let person = Person::default_figure();
    let all = examples(&catalogue, &person);
    criterion.bench_function("curves and shares of the whole catalogue for one client", |b| {
        b.iter(|| {
            let loaded = all.iter().filter_map(|(id, setup, loads)| {
                let assembly = Rigged::new(catalogue.movement(id)?, black_box(&person), *setup).load(loads).ok()?;
                Some(assembly.curve().len() as f64 + assembly.thirds[0])
            });
            loaded.sum::<f64>()
        });
    });
    criterion.bench_function("usual steps of the whole catalogue for one client", |b| {
        b.iter(|| examples(&catalogue, black_box(&person)).len());
    });
}

fn loading(criterion: &mut Criterion) {
    criterion.bench_function("load and check the catalogue", |b| b.iter(|| load().map(|c| c.movements.len())));
}

criterion_group!(benches, one_force, whole_catalogue, loading);
criterion_main!(benches);
