//! Outside devices, each behind a trait. Only stand-ins ship: nothing here talks to hardware.

use std::time::Duration;

use bavrek_core::mechanics::band::Rubber;
use bavrek_core::units::{Kilograms, Metres};

/// A scale on which a band hangs.
pub(crate) trait HangingScale: Send + Sync {
    /// What it shows when the band has been held at a length for so long.
    fn read(&self, length: Metres, held: Duration) -> Reading;
}

/// What a scale shows.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Reading {
    /// The figure on the display.
    pub(crate) kg: Kilograms,
    /// Whether it has settled.
    pub(crate) steady: bool,
}

/// Resolution of the display, kg.
const RESOLUTION: f64 = 0.1;
/// Time until the display has settled.
const SETTLES_IN: Duration = Duration::from_millis(1500);

/// A simulated scale with a band on it that is a little weaker than its size says, as real ones are.
#[derive(Debug, Clone, Copy)]
pub(crate) struct SimulatedScale {
    rubber: Rubber,
    strands: f64,
    rest: Metres,
}

impl SimulatedScale {
    /// Hangs up a band that by its size or rating would follow `rubber`. The same `name` always hangs up the same band.
    pub(crate) fn with(name: &str, rubber: Rubber, strands: f64, rest: Metres) -> Self {
        // Nominally equal bands differ by a tenth and more; this one lies between 0.80 and 0.95 of its label.
        let seed = name.bytes().fold(7_u32, |sum, b| sum.wrapping_mul(31).wrapping_add(u32::from(b)));
        let factor = 0.80 + 0.15 * f64::from(seed % 1000) / 1000.0;
        let rubber = Rubber { p: rubber.p * factor, q: rubber.q * (0.9 + 0.2 * factor), ..rubber };
        Self { rubber, strands, rest }
    }
}

impl HangingScale for SimulatedScale {
    fn read(&self, length: Metres, held: Duration) -> Reading {
        let pull = self.strands * self.rubber.strand_force(length.value() / self.rest.value());
        let true_kg = bavrek_core::units::Newtons(pull).as_kilograms().value();
        let t = held.as_secs_f64();
        // The display creeps up, swings a little, and comes to rest.
        let shown = true_kg * (1.0 - (-t / 0.3).exp()) + 0.15 * true_kg * (-t / 0.4).exp() * (9.0 * t).sin();
        let steady = held >= SETTLES_IN;
        let settled = if steady { true_kg } else { shown };
        Reading { kg: Kilograms((settled.max(0.0) / RESOLUTION).round() * RESOLUTION), steady }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn scale() -> SimulatedScale {
        SimulatedScale::with("green", Rubber::from_geometry(Metres(0.022), Metres(0.0045)), 2.0, Metres(1.04))
    }

    #[test]
    fn it_settles_below_the_label_and_stays_there() {
        let label = Rubber::from_geometry(Metres(0.022), Metres(0.0045));
        let nominal = label.force(2.0, Metres(1.82), Metres(1.04)).unwrap().as_kilograms().value();
        let first = scale().read(Metres(1.82), Duration::from_millis(100));
        let last = scale().read(Metres(1.82), Duration::from_secs(3));
        assert!(!first.steady && last.steady);
        assert!(last.kg.value() < nominal && last.kg.value() > 0.75 * nominal, "{last:?} of {nominal}");
        assert_eq!(last, scale().read(Metres(1.82), Duration::from_secs(9)));
    }

    #[test]
    fn a_slack_band_weighs_nothing() {
        assert_eq!(scale().read(Metres(1.0), Duration::from_secs(3)).kg, Kilograms(0.0));
    }
}
