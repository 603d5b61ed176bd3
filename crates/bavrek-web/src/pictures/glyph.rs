//! A small mark for what carries the load: a line figure with a word beside it, never alone.

use bavrek_core::anatomy::Implement;

/// The path of an implement's mark in a box of 24 by 20.
pub(crate) fn path(implements: &[Implement]) -> &'static str {
    let has = |i| implements.contains(&i);
    let band = has(Implement::LoopBand) || has(Implement::TubeBand);
    if has(Implement::Rings) {
        "M7 2v5M17 2v5M7 7a4 4 0 1 0 .1 0M17 7a4 4 0 1 0 .1 0"
    } else if has(Implement::Bar) {
        "M2 5h20M6 5v11M18 5v11"
    } else if has(Implement::Dumbbell) && band {
        "M3 6h8M3 3v6M11 3v6M4 16c4-7 9 6 16-1"
    } else if has(Implement::Dumbbell) {
        "M6 10h12M5 5v10M19 5v10M2 7v6M22 7v6"
    } else if has(Implement::Barbell) {
        "M1 10h22M5 4v12M19 4v12"
    } else if has(Implement::Kettlebell) {
        "M9 8a5 5 0 1 0 6 0M9 8V4h6v4Z"
    } else if band {
        "M3 10c5-9 12 9 18 0"
    } else {
        "M2 15l16-6M19 9v7M20 5a2 2 0 1 0 .1 0"
    }
}

/// The words that go with the mark.
pub(crate) fn words(implements: &[Implement]) -> String {
    implements.iter().map(|i| i.label()).collect::<Vec<_>>().join(" + ")
}
