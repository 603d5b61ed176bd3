//! The session's clock as a strip to scale: what comes when, how long it takes, and what runs over.

use askama::Template;
use bavrek_core::clock::{Clock, SpanKind};
use bavrek_core::units::{Seconds, trim_number};

/// Width of the strip.
const WIDTH: f64 = 1210.0;
/// Room to the left and right of it.
const MARGIN: f64 = 8.0;
/// Top and height of the bar.
const BAR: (f64, f64) = (20.0, 20.0);
/// Narrowest block whose name is written above it.
const NARROWEST: f64 = 46.0;
/// Width of a letter of a name.
const LETTER: f64 = 5.6;
/// Room that the figure of the budget takes among the ticks, to each side.
const BUDGET_NAME: f64 = 28.0;

/// The strip.
#[derive(Template)]
#[template(path = "pictures/strip.svg", escape = "html")]
pub(crate) struct Strip {
    title: String,
    /// Left end, width, class, words.
    spans: Vec<(String, String, &'static str, String)>,
    /// Left end and words of each part.
    names: Vec<(String, String)>,
    /// Place and minutes.
    ticks: Vec<(String, String)>,
    /// The budget: place and words.
    budget: (String, String),
    /// What runs over: left end and width.
    over: Option<(String, String)>,
    /// Top and height of the bar.
    bar: (f64, f64),
}

/// A part of the session that is named on the strip.
pub(crate) struct Part {
    /// Its block.
    pub(crate) block: usize,
    /// What it is called.
    pub(crate) name: String,
}

/// Minutes to one decimal, as they are said of parts.
pub(crate) fn minutes(seconds: Seconds) -> String {
    trim_number(seconds.value() / 60.0, 1)
}

/// Draws a clock against the minutes there are.
pub(crate) fn draw<K: Copy + PartialEq>(clock: &Clock<K>, parts: &[Part], budget: u16) -> Strip {
    let there = 60.0 * f64::from(budget);
    let total = clock.total().value();
    let scale = (WIDTH - 2.0 * MARGIN) / (total.max(there) + 90.0);
    let at = |seconds: f64| MARGIN + seconds * scale;
    let number = |value: f64| format!("{value:.1}");
    let spans = clock.spans.iter().map(|span| {
        let (class, words) = words(span.kind);
        let long = (span.long.value() * scale - 0.6).max(0.4);
        let words = format!("{words}, {:.0} s", span.long.value());
        (number(at(span.from.value())), number(long), class, words)
    });
    let warm = clock.spans.first().filter(|s| s.kind == SpanKind::WarmUp);
    let warm = warm.map(|s| (number(at(0.0)), format!("warm-up {}", minutes(s.long))));
    let named = parts.iter().filter_map(|part| {
        let from = clock.spans.iter().find(|s| s.block == Some(part.block))?.from;
        let long = clock.of_block(part.block);
        let letters = (long.value() * scale / LETTER) as usize;
        let figures = format!(" {}", minutes(long));
        let room = letters.checked_sub(figures.len() + 1).filter(|_| long.value() * scale > NARROWEST)?;
        let name: String = part.name.chars().take(room).collect();
        Some((number(at(from.value())), format!("{}{figures}", name.trim_end())))
    });
    let last = ((total.max(there) / 60.0) as u16 / 5 + 1) * 5;
    // The budget's own figure stands among the ticks.
    let free = |x: f64| x <= WIDTH - 2.0 && (x - at(there)).abs() > BUDGET_NAME;
    let ticks = (0..=last).step_by(5).map(|m| (at(60.0 * f64::from(m)), m)).filter(|(x, _)| free(*x));
    let over = (total > there).then(|| (number(at(there)), number((total - there) * scale)));
    let title = if total > there {
        format!("{} minutes of {budget}: {} over", minutes(clock.total()), minutes(Seconds(total - there)))
    } else {
        format!("{} minutes of {budget}", minutes(clock.total()))
    };
    Strip {
        title,
        spans: spans.collect(),
        names: warm.into_iter().chain(named).collect(),
        ticks: ticks.map(|(x, m)| (number(x), m.to_string())).collect(),
        budget: (number(at(there)), format!("{budget} min")),
        over,
        bar: BAR,
    }
}

const fn words(kind: SpanKind) -> (&'static str, &'static str) {
    match kind {
        SpanKind::WarmUp => ("warm", "warm-up"),
        SpanKind::Ramp => ("ramp", "sets on the way up"),
        SpanKind::SetUp => ("change", "setting up"),
        SpanKind::Change => ("change", "changing over"),
        SpanKind::Rest => ("rest", "rest"),
        SpanKind::Work => ("work", "work"),
        SpanKind::CoolDown => ("warm", "cool-down"),
    }
}
