//! An excerpt of the ladder round today's rung: loads to scale, too-large jumps hatched.

use askama::Template;
use bavrek_core::ladder::Ladder;

/// Rungs shown on either side of today's.
const AROUND: usize = 3;
const TOP: f64 = 12.0;
const BOTTOM: f64 = 150.0;
/// Least distance between two rungs, so that labels stay apart.
const LEAST: f64 = 17.0;
/// Jumps above this are hatched.
const LARGE: f64 = 0.15;

#[derive(Template)]
#[template(path = "pictures/ladder.svg", escape = "html")]
pub(crate) struct Excerpt {
    title: String,
    rungs: Vec<Rung>,
    gaps: Vec<(String, String)>,
}

struct Rung {
    y: String,
    text_y: String,
    load: String,
    label: String,
    on: bool,
}

/// Draws the rungs round `at`.
pub(crate) fn draw(ladder: &Ladder, at: usize) -> Excerpt {
    let from = at.saturating_sub(AROUND);
    let to = (at + AROUND).min(ladder.steps.len().saturating_sub(1));
    let shown = &ladder.steps[from..=to];
    let logs: Vec<f64> = shown.iter().map(|s| s.effective_kg.value().ln()).collect();
    let ys = spread(&logs, TOP, BOTTOM, LEAST);
    let labels = distinct(&shown.iter().map(|s| s.label.as_str()).collect::<Vec<_>>());
    let rungs = shown.iter().zip(&ys).enumerate().map(|(i, (step, y))| Rung {
        y: format!("{y:.1}"),
        text_y: format!("{:.1}", y + 3.5),
        load: format!("{:.1}", step.effective_kg),
        label: shorten(&labels[i]),
        on: from + i == at,
    });
    let gaps = (0..shown.len().saturating_sub(1))
        .filter(|i| ladder.jump(from + i).is_some_and(|j| j > LARGE))
        .map(|i| (format!("{:.1}", ys[i] - 3.0), format!("{:.1}", ys[i + 1] + 3.0)));
    Excerpt {
        title: format!("Ladder: {} steps here, {} above the start", ladder.steps.len(), ladder.headroom(at)),
        gaps: gaps.collect(),
        rungs: rungs.collect(),
    }
}

/// Heights on a logarithmic scale, lightest at the bottom, pushed apart where labels would touch.
pub(super) fn spread(logs: &[f64], top: f64, bottom: f64, least: f64) -> Vec<f64> {
    let (low, high) = (logs.first().copied().unwrap_or(0.0), logs.last().copied().unwrap_or(0.0));
    let span = (high - low).max(1e-6);
    let mut ys: Vec<f64> = logs.iter().map(|l| bottom - (bottom - top) * (l - low) / span).collect();
    for i in 1..ys.len() {
        ys[i] = ys[i].min(ys[i - 1] - least);
    }
    // Whatever was pushed over the top comes down again, from the top on.
    let mut ceiling = top;
    for y in ys.iter_mut().rev() {
        *y = y.max(ceiling);
        ceiling = *y + least;
    }
    ys
}

/// Labels without the parts that all of them share.
pub(super) fn distinct(labels: &[&str]) -> Vec<String> {
    let shared = |part: &str| labels.len() > 1 && labels.iter().all(|l| l.split(", ").any(|p| p == part));
    labels
        .iter()
        .map(|l| {
            let own: Vec<_> = l.split(", ").filter(|p| !shared(p)).collect();
            brief(&if own.is_empty() { (*l).to_owned() } else { own.join(", ") })
        })
        .collect()
}

/// The same in fewer words, for a narrow column.
pub(super) fn brief(label: &str) -> String {
    label
        .replace(" loop", "")
        .replace("stand on it, ", "")
        .replace("step out", "out")
        .replace("body weight + ", "+ ")
        .replace("body weight, ", "")
}

fn shorten(label: &str) -> String {
    const MOST: usize = 24;
    if label.chars().count() <= MOST {
        label.to_owned()
    } else {
        label.chars().take(MOST - 1).collect::<String>() + "…"
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[test]
    fn labels_say_what_differs() {
        let labels = distinct(&["loop, anchor at 1 m, step out 0.5 m", "loop, anchor at 1 m, step out 0.7 m"]);
        assert_eq!(labels, ["out 0.5 m", "out 0.7 m"]);
    }

    #[rstest]
    #[case::even(&[0.0, 0.5, 1.0])]
    #[case::crowded(&[0.0, 0.01, 0.02, 0.03, 0.04, 0.05, 1.0])]
    #[case::one(&[2.0])]
    fn rungs_keep_apart_and_inside(#[case] logs: &[f64]) {
        let ys = spread(logs, TOP, BOTTOM, LEAST);
        assert!(ys.windows(2).all(|w| w[0] - w[1] >= LEAST - 1e-9), "{ys:?}");
        assert!(ys.iter().all(|y| *y >= TOP - 1e-9 && *y <= BOTTOM + 1e-9), "{ys:?}");
    }
}
