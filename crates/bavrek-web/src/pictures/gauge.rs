//! Force of a band over its stretch: the readings, the fitted curve, and how far off it may be.

use askama::Template;

use super::path;

const LEFT: f64 = 40.0;
const WIDTH: f64 = 400.0;
const BASE: f64 = 190.0;
const HEIGHT: f64 = 170.0;
/// Stretch shown: from the resting length to 250 %.
const SHOWN: (f64, f64) = (1.0, 3.5);

#[derive(Template)]
#[template(path = "pictures/gauge.svg", escape = "html")]
pub(crate) struct GaugePicture {
    curve: String,
    spread: String,
    points: Vec<(String, String)>,
    across: Vec<(String, String)>,
    up: Vec<(String, String)>,
}

/// Draws `points` of (stretch, kg) with the fitted law and its log-SD.
pub(crate) fn draw(points: &[(f64, f64)], force: &dyn Fn(f64) -> f64, log_sd: f64) -> GaugePicture {
    let spread = log_sd.exp();
    let read = points.iter().map(|(_, kg)| *kg).fold(0.0, f64::max);
    let most = read.max(force(SHOWN.1) * spread).max(1.0);
    let x = |stretch: f64| LEFT + WIDTH * (stretch - SHOWN.0) / (SHOWN.1 - SHOWN.0);
    let y = |kg: f64| BASE - HEIGHT * kg / most;
    let steps: Vec<f64> = (0..=50).map(|i| SHOWN.0 + (SHOWN.1 - SHOWN.0) * f64::from(i) / 50.0).collect();
    let line = |factor: f64| steps.iter().map(|s| (x(*s), y(force(*s) * factor))).collect::<Vec<_>>();
    let mut around = line(spread);
    around.extend(line(1.0 / spread).into_iter().rev());
    let step = [1.0, 2.0, 5.0, 10.0, 20.0, 50.0].into_iter().find(|s| most / s <= 6.0).unwrap_or(50.0);
    GaugePicture {
        curve: path(&line(1.0)),
        spread: path(&around) + "Z",
        points: points
            .iter()
            .map(|(s, kg)| (format!("{:.1}", x(s.clamp(SHOWN.0, SHOWN.1))), format!("{:.1}", y(*kg))))
            .collect(),
        across: (0..=5).map(|i| (format!("{:.1}", x(1.0 + 0.5 * f64::from(i))), format!("{} %", 50 * i))).collect(),
        up: (1..=(most / step) as u32)
            .map(|i| (format!("{:.1}", y(step * f64::from(i))), format!("{:.0} kg", step * f64::from(i))))
            .collect(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_reading_on_the_law_lies_on_the_curve() {
        let force = |stretch: f64| 10.0 * (stretch - 1.0);
        let picture = draw(&[(2.0, 10.0)], &force, 0.0);
        let (x, y) = &picture.points[0];
        assert!(picture.curve.contains(&format!("L{x} {y}")), "{} {x} {y}", picture.curve);
    }
}
