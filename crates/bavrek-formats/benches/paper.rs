//! A workout and a week's booklet as PDF. `cargo bench -p bavrek-formats`; needs built assets.

use std::fmt::Write;
use std::hint::black_box;
use std::path::Path;

use bavrek_formats::paper::{self, Booklet, Letters, Line, Paper, Sheet};
use criterion::{Criterion, criterion_group, criterion_main};

fn letters() -> Letters {
    let dist = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../assets/dist");
    let files = (0..6).map(|nth| std::fs::read(dist.join(format!("printed-{nth}.ttf"))).expect("assets are built"));
    Letters::new(files.collect()).expect("they are fonts")
}

/// A drawing with as many shapes as a rig's.
fn drawing() -> String {
    let mut shapes = String::new();
    for n in 0..60 {
        let _ = write!(shapes, r#"<path class="a" d="M{n} 10H100V{n}Z"/><text x="{n}" y="20">1.2 m</text>"#);
    }
    let head = r#"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 236 190"><style>.a{fill:#c98a1b}</style>"#;
    format!("{head}{shapes}</svg>")
}

fn sheet() -> Sheet {
    let line = Line {
        name: "Dumbbell press on a flat bench".into(),
        load: "12 kg".into(),
        how: "pair of 12 kg, on the bench".into(),
        dose: "3 × 8–12 @ 2-0-1-0, 2 in reserve, rest 90 s".into(),
        picture: Some(drawing()),
        facts: vec![("Do".into(), "Lower until the elbows are level with the bench, then press. ".repeat(4))],
        sets: (1..=3).map(|n| (n.to_string(), "8–12".into())).collect(),
        ..Line::default()
    };
    Sheet { name: "Push".into(), client: "Odalys Finch".into(), lines: vec![line; 6], ..Sheet::default() }
}

fn printed(c: &mut Criterion) {
    let letters = letters();
    let one = sheet();
    c.bench_function("a workout as PDF", |b| b.iter(|| paper::sheet(&letters, black_box(&one), Paper::A4)));
    let week = Booklet { title: "Week".into(), sheets: vec![sheet(); 5], ..Booklet::default() };
    c.bench_function("a week of five as PDF", |b| b.iter(|| paper::booklet(&letters, black_box(&week), Paper::A4)));
}

criterion_group!(benches, printed);
criterion_main!(benches);
