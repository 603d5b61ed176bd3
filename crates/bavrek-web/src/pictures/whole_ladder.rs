//! The whole ladder of a movement: a rung a step on a scale of effective load, past rungs ticked, jumps that are no
//! ordinary step hatched with the way over them.

use std::ops::Range;

use askama::Template;
use bavrek_core::ladder::{Bridge, Ladder};

use super::glyph;
use super::ladder::{brief, distinct, spread};

/// Least distance between two rungs.
const LEAST: f64 = 27.0;
/// Least height of the scale.
const SHORTEST: f64 = 360.0;
const MARGIN: f64 = 18.0;

#[derive(Template)]
#[template(path = "pictures/whole_ladder.svg", escape = "html")]
pub(crate) struct WholeLadder {
    title: String,
    height: String,
    bottom: String,
    rungs: Vec<Rung>,
    gaps: Vec<Gap>,
}

struct Rung {
    y: String,
    text_y: String,
    glyph_y: String,
    load: String,
    label: String,
    glyph: &'static str,
    words: String,
    on: bool,
    past: Option<String>,
}

struct Gap {
    from: String,
    to: String,
    text_y: String,
    text: String,
    bridged: bool,
}

/// Draws the rungs of a range; `at` is today's, `past` the days on which rungs were used, by their place.
pub(crate) fn draw(
    ladder: &Ladder,
    shown: Range<usize>,
    at: usize,
    past: &[Option<String>],
    bridges: &[Bridge],
) -> WholeLadder {
    let first = shown.start;
    let steps = &ladder.steps[shown.clone()];
    let height = SHORTEST.max(LEAST * steps.len() as f64) + 2.0 * MARGIN;
    let logs: Vec<f64> = steps.iter().map(|s| s.effective_kg.value().ln()).collect();
    let ys = spread(&logs, MARGIN, height - MARGIN, LEAST);
    let labels = distinct(&steps.iter().map(|s| s.label.as_str()).collect::<Vec<_>>());
    let rungs = steps.iter().zip(&ys).enumerate().map(|(i, (step, y))| Rung {
        y: format!("{y:.1}"),
        text_y: format!("{:.1}", y + 4.5),
        glyph_y: format!("{:.1}", y - 10.0),
        load: format!("{:.1}", step.effective_kg),
        label: brief(&labels[i]),
        glyph: glyph::path(&step.implements),
        words: glyph::words(&step.implements),
        on: first + i == at,
        past: past.get(first + i).cloned().flatten(),
    });
    let inside = |b: &&Bridge| shown.contains(&b.from) && shown.contains(&b.to);
    let gaps = bridges.iter().filter(inside).map(|bridge| Gap {
        from: format!("{:.1}", ys[bridge.from - first] - 5.0),
        to: format!("{:.1}", ys[bridge.to - first] + 5.0),
        text_y: format!("{:.1}", f64::midpoint(ys[bridge.from - first], ys[bridge.to - first]) + 4.0),
        text: format!("+{:.0} %", bridge.jump * 100.0),
        bridged: !bridge.ways.is_empty(),
    });
    WholeLadder {
        title: format!("Ladder: {} steps here, {} above today's", ladder.steps.len(), ladder.headroom(at)),
        gaps: gaps.collect(),
        rungs: rungs.collect(),
        bottom: format!("{:.1}", height - 4.0),
        height: format!("{height:.0}"),
    }
}
