//! Resistance over the working muscle's length: what is wanted, and what is found here.

use askama::Template;
use bavrek_core::fit::JointCurves;
use bavrek_core::mechanics::profile::share_distance;

use super::path;

const LEFT: f64 = 34.0;
const WIDTH: f64 = 240.0;
const BASE: f64 = 86.0;
const HEIGHT: f64 = 70.0;

/// A curve with its shares of work in thirds.
pub(crate) struct Shape<'a> {
    pub(crate) name: String,
    pub(crate) curve: &'a [f64],
    pub(crate) thirds: [f64; 3],
}

#[derive(Template)]
#[template(path = "pictures/curves.svg", escape = "html")]
pub(crate) struct Curves {
    title: String,
    found: String,
    found_name: String,
    wanted: Option<(String, String)>,
    shares: [String; 3],
    verdict: Option<String>,
    /// Width of the picture: the legend needs room only beside a second curve.
    width: u16,
}

/// Draws the curve found here, over the wanted one where there is one.
pub(crate) fn draw(found: &Shape<'_>, wanted: Option<&Shape<'_>>) -> Curves {
    let words = ["lengthened", "middle", "shortened"];
    let verdict = wanted.map(|w| {
        let distance = share_distance(&found.thirds, &w.thirds);
        let word = match distance {
            d if d <= 0.12 => "same",
            d if d <= 0.25 => "close",
            _ => "different",
        };
        format!("match {:.2}: {word}", 1.0 - distance)
    });
    Curves {
        title: format!("Resistance over muscle length: {}", found.name),
        found: line(found.curve),
        found_name: found.name.clone(),
        wanted: wanted.map(|w| (line(w.curve), w.name.clone())),
        shares: std::array::from_fn(|i| format!("{} {:.0} %", words[i], found.thirds[i] * 100.0)),
        verdict,
        width: if wanted.is_some() { 410 } else { 290 },
    }
}

/// Both joints of a press or push-up: their curves on one scale, and the shares of each in words.
#[derive(Template)]
#[template(path = "pictures/joints.html")]
pub(crate) struct Joints {
    curves: Curves,
    words: [String; 2],
}

/// Draws what the shoulder and the elbow meet; none where a step loads one of them alone.
pub(crate) fn joints(both: &JointCurves) -> Option<Joints> {
    let shares = both.shares;
    let (shoulder, elbow) = (shares.shoulder?, shares.elbow?);
    let words = |name: &str, part: f64, thirds: [f64; 3]| {
        let [lengthened, middle, shortened] = thirds.map(|t| (t * 100.0).round());
        let part = (part * 100.0).round();
        format!("{name}: {part} % of the work; {lengthened} % lengthened, {middle} % middle, {shortened} % shortened")
    };
    let name = |name: &str| name.to_owned();
    let found = Shape { name: name("shoulder"), curve: &both.shoulder, thirds: shoulder };
    let beside = Shape { name: name("elbow"), curve: &both.elbow, thirds: elbow };
    let drawn = draw(&found, Some(&beside));
    Some(Joints {
        curves: Curves { title: name("Moments of shoulder and elbow from bottom to top"), verdict: None, ..drawn },
        words: [words("Shoulder", 1.0 - shares.elbow_part, shoulder), words("Elbow", shares.elbow_part, elbow)],
    })
}

fn line(curve: &[f64]) -> String {
    let last = curve.len().saturating_sub(1).max(1) as f64;
    let points: Vec<_> = curve
        .iter()
        .enumerate()
        .map(|(i, v)| (LEFT + WIDTH * i as f64 / last, BASE - HEIGHT * v.clamp(0.0, 1.0)))
        .collect();
    path(&points)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn peaks_touch_the_top_and_the_verdict_follows_the_shares() {
        let shape = |curve: &'static [f64], thirds| Shape { name: "x".into(), curve, thirds };
        let found = shape(&[0.0, 1.0, 0.5], [0.2, 0.4, 0.4]);
        let picture = draw(&found, Some(&shape(&[1.0, 1.0], [0.5, 0.3, 0.2])));
        assert_eq!(picture.found, "M34.0 86.0L154.0 16.0L274.0 51.0");
        assert_eq!(picture.verdict.as_deref(), Some("match 0.70: different"));
        assert_eq!(picture.shares[0], "lengthened 20 %");
    }
}
