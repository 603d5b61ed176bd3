//! The calculators: fields in, an answer with its equation and uncertainty out.

use std::collections::BTreeMap;

use bavrek_core::dose::Tempo;
use bavrek_core::mechanics::band::Rubber;
use bavrek_core::mechanics::lever::{self, PUSH_UP_SHARE, PushUp, Support};
use bavrek_core::mechanics::path::{BandUnderBack, Trapped};
use bavrek_core::ranges::{self, LegalRange};
use bavrek_core::reps;
use bavrek_core::units::{Degrees, GRAVITY, Kilograms, Metres, Seconds, trim_number};

use crate::features::fields::{Field, Reader};

/// What a calculator answers.
#[derive(Debug, Default)]
pub(super) struct Answer {
    pub(super) result: Option<(String, String)>,
    pub(super) rows: Vec<(String, String)>,
    pub(super) notes: Vec<String>,
    /// Equation, source and what is uncertain.
    pub(super) why: Vec<(&'static str, String)>,
}

impl Answer {
    fn row(&mut self, term: impl Into<String>, text: impl Into<String>) {
        self.rows.push((term.into(), text.into()));
    }
}

fn kg(value: f64) -> String {
    format!("{} kg", trim_number(Kilograms(value).two_figures().value(), 1))
}

/// What a log-SD is in percent.
fn percent_of(log_sd: f64) -> String {
    format!("about {:.0} %", (log_sd.exp() - 1.0) * 100.0)
}

fn options(pairs: &[(&str, &str)]) -> Vec<(String, String)> {
    pairs.iter().map(|(id, label)| ((*id).to_owned(), (*label).to_owned())).collect()
}

const METRE: LegalRange = LegalRange { min: 0.0, max: 1.6, unit: "m" };

/// Load of a push-up or an inverted row.
pub(super) fn levers(asked: &BTreeMap<String, String>) -> (Vec<Field>, Answer) {
    let mut reader = Reader::new(asked);
    let kinds = options(&[("push_up", "push-up"), ("row", "inverted row")]);
    let kind = reader.choice("kind", "Movement", kinds, "push_up");
    let mass = reader.number("mass", "Body mass", "kg", ranges::BODY_MASS, Some(75.0)).unwrap_or(75.0);
    let mut answer = Answer::default();
    if kind == "row" {
        let angle = reader.number("angle", "Body to the floor", "°", ranges::BODY_ANGLE, Some(30.0)).unwrap_or(30.0);
        row(&mut reader, &mut answer, mass, angle);
    } else {
        push_up(&mut reader, &mut answer, mass);
    }
    (reader.fields, answer)
}

fn row(reader: &mut Reader<'_>, answer: &mut Answer, mass: f64, angle: f64) {
    match lever::inverted_row(Degrees(angle), Degrees(90.0)) {
        Ok(load) => {
            answer.result =
                Some((kg(load.fraction * mass), format!("in the straps, {:.0} % of body mass", load.fraction * 100.0)));
            answer.row("Each hand", kg(load.fraction * mass / 2.0));
            answer.row("Known to", percent_of(load.log_sd));
        }
        Err(error) => reader.refuse("angle", error.to_string()),
    }
    answer.why = vec![
        (
            "Equation",
            "T = m·0.713·cos β/sin χ, β the body's angle to the floor, straps square to the body (χ = 90°)".into(),
        ),
        ("Where 0.713 is from", "mass centre at 0.585 of the stature over the shoulder at 0.82".into()),
        (
            "Uncertain",
            "a study of straps reports 2 to 10 points more, most near the horizontal; a scale reading is better".into(),
        ),
    ];
}

fn push_up(reader: &mut Reader<'_>, answer: &mut Answer, mass: f64) {
    let stature = reader.number("stature", "Stature", "m", ranges::STATURE, Some(1.75)).unwrap_or(1.75);
    let hands = reader.number("hands", "Hands above the floor", "m", METRE, Some(0.0)).unwrap_or(0.0);
    let feet = reader.number("feet", "Feet above the floor", "m", METRE, Some(0.0)).unwrap_or(0.0);
    let supports = options(&[("toes", "toes"), ("knees", "knees")]);
    let support =
        if reader.choice("support", "On the", supports, "toes") == "knees" { Support::Knees } else { Support::Toes };
    let posture = PushUp { support, hands: Metres(hands), feet: Metres(feet) };
    match posture.load(Metres(stature), PUSH_UP_SHARE) {
        Ok(load) => {
            let whole = load.fraction * mass;
            let [bottom, top] = posture.ends(whole);
            answer.result = Some((kg(whole), format!("on both hands, {:.0} % of body mass", load.fraction * 100.0)));
            answer.row("Each hand", kg(whole / 2.0));
            answer.row("At the bottom", kg(bottom));
            answer.row("At the top", kg(top));
            answer.row("Known to", percent_of(load.log_sd));
            if let Ok(flat) = (PushUp { support: Support::Toes, hands: Metres(0.0), feet: Metres(0.0) })
                .load(Metres(stature), PUSH_UP_SHARE)
            {
                answer
                    .row("Against a flat push-up", format!("{:+.0} %", (load.fraction / flat.fraction - 1.0) * 100.0));
            }
            if load.beyond_data {
                answer.notes.push("No study went this high: the load is a guess.".into());
            }
        }
        Err(error) => reader.refuse("hands", error.to_string()),
    }
    answer.why = vec![
        ("Equation", "f = f0·cos(α + 30°)/cos 30°, sin α = (hands − feet)/(0.80·stature); knees 0.78 of it".into()),
        ("Level", "f0 = 0.68, the mean over a repetition; the studies range from 0.64 to 0.75. Ratios between set-ups do not depend on it".into()),
        ("Source", "shape fitted to Ebben and others 2011; level between it and Suprak and others 2011".into()),
    ];
}

/// Two numbers, at the bottom and at the top: a dumbbell with a loop under the bench or round the back.
pub(super) fn dumbbell_and_band(asked: &BTreeMap<String, String>) -> (Vec<Field>, Answer) {
    const MILLIMETRES: LegalRange = LegalRange { min: 3.0, max: 110.0, unit: "mm" };
    const THICKNESS: LegalRange = LegalRange { min: 1.0, max: 8.0, unit: "mm" };
    const REACH: LegalRange = LegalRange { min: 0.05, max: 1.2, unit: "m" };
    let mut reader = Reader::new(asked);
    let dumbbell = LegalRange { min: 0.0, max: 100.0, unit: "kg" };
    let mass = reader.number("dumbbell", "Dumbbell in each hand", "kg", dumbbell, Some(12.0)).unwrap_or(0.0);
    let width = reader.number("width", "Width of the loop", "mm", MILLIMETRES, Some(13.0)).unwrap_or(13.0);
    let thick = reader.number("thickness", "Its thickness", "mm", THICKNESS, Some(4.5)).unwrap_or(4.5);
    let flat = reader.number("flat", "Its flat length", "m", ranges::BAND_LENGTH, Some(1.04)).unwrap_or(1.04);
    let trapped = reader
        .number("trapped", "Width that is pinned", "m", LegalRange { min: 0.0, max: 1.0, unit: "m" }, Some(0.30))
        .unwrap_or(0.3);
    let bottom = reader.number("bottom", "Hand above the bench, at the bottom", "m", REACH, Some(0.5)).unwrap_or(0.5);
    let top = reader.number("top", "Hand above the bench, at the top", "m", REACH, Some(0.9)).unwrap_or(0.9);
    let mut answer = Answer::default();
    if bottom >= top {
        reader.refuse("top", "must be above the bottom");
    }
    let rubber = Rubber::from_geometry(Metres(width / 1000.0), Metres(thick / 1000.0));
    let band = |trapped_how| BandUnderBack {
        rubber,
        flat: Metres(flat),
        trapped_width: Metres(trapped),
        exit: Metres(0.15),
        hand: Metres(0.25),
        trapped: trapped_how,
    };
    let at = |how, height| band(how).force_at(Metres(height)).map(|n| mass + n / GRAVITY);
    let mean = |how| band(how).profile(Metres(bottom), Metres(top)).map(|p| mass + p.work() / GRAVITY);
    let all = (at(Trapped::Pinned, bottom), at(Trapped::Pinned, top), mean(Trapped::Pinned), mean(Trapped::Slipping));
    match all {
        (Ok(low), Ok(high), Ok(pinned), Ok(slipping)) if !reader.wrong() => {
            answer.result =
                Some((format!("{} to {}", kg(low), kg(high)), "each hand, from the bottom to the top".into()));
            answer.row("Effective, if the band is pinned", kg(pinned));
            answer.row("Effective, if it slips", kg(slipping));
            answer.row("Known to", percent_of(rubber.log_sd() * (pinned - mass) / pinned));
        }
        (Err(error), ..) | (_, Err(error), ..) | (_, _, Err(error), _) | (.., Err(error)) => {
            let field =
                if matches!(error, bavrek_core::mechanics::MechanicsError::TooShort(_)) { "trapped" } else { "top" };
            reader.refuse(field, error.to_string());
        }
        _ => {}
    }
    answer.why = vec![
        ("Equation", "each side 2·[P(λ − 1/λ²) + Q(1 − 1/λ³)], its vertical part, plus the dumbbell; pinned λ = ℓ/((L0 − w)/2), slipping λ = (2ℓ + w)/L0".into()),
        ("This band", format!("P {:.1} N, Q {:.1} N a strand from its size, with hysteresis and ageing {}", rubber.p, rubber.q, percent_of(rubber.log_sd()))),
        ("Not a sum", "a dumbbell and a band are two numbers: the band adds little at the bottom and most at the top".into()),
    ];
    (reader.fields, answer)
}

/// What another number of repetitions allows.
pub(super) fn reps(asked: &BTreeMap<String, String>) -> (Vec<Field>, Answer) {
    const LOAD: LegalRange = LegalRange { min: 0.25, max: 400.0, unit: "kg" };
    const REPS: LegalRange = LegalRange { min: 0.0, max: 40.0, unit: "repetitions" };
    const RESERVE: LegalRange = LegalRange { min: 0.0, max: 6.0, unit: "in reserve" };
    let mut reader = Reader::new(asked);
    let load = reader.number("load", "Load", "kg", LOAD, Some(12.0)).unwrap_or(12.0);
    let done = reader.number("reps", "Repetitions done", "reps", REPS, Some(10.0)).unwrap_or(10.0);
    let rir = reader.number("rir", "In reserve", "reps", RESERVE, Some(2.0)).unwrap_or(2.0);
    let target = reader.number("target", "Wanted repetitions", "reps", REPS, Some(8.0)).unwrap_or(8.0);
    let target_rir = reader.number("target_rir", "Wanted in reserve", "reps", RESERVE, Some(2.0)).unwrap_or(2.0);
    let mut answer = Answer::default();
    match (reps::reference_log_load(load.ln(), done, rir), reps::reference_log_sd(done, rir)) {
        (Ok(reference), Ok(sd)) => {
            let wanted = reps::log_load_for(reference, target, target_rir).exp();
            answer.result = Some((kg(wanted), format!("for {target:.0} repetitions with {target_rir:.0} in reserve")));
            answer
                .row("Likely", format!("{} to {}", kg(wanted * (-1.645 * sd).exp()), kg(wanted * (1.645 * sd).exp())));
            answer.row("Strength, twelve to failure", kg(reference.exp()));
            match reps::maximum(load.ln(), done, rir) {
                Some((one, sd)) => answer.row("One repetition", format!("{}, known to {}", kg(one.exp()), percent_of(sd))),
                None => answer.notes.push("No single-repetition maximum is stated from more than 12 repetitions to failure, or from a failed set.".into()),
            }
            for n in [5.0, 8.0, 12.0, 15.0, 20.0, 30.0] {
                answer.row(format!("{n:.0} to failure"), kg(reps::log_load_for(reference, n, 0.0).exp()));
            }
        }
        (Err(error), _) | (_, Err(error)) => reader.refuse("reps", error.to_string()),
    }
    answer.why = vec![
        ("Equation", "load/maximum = (1 + (n − 1)/10)^(−0.45), n = repetitions + reserve".into()),
        ("Yardstick", "the load for twelve to failure, so that eight from twelve hardly depends on the curve".into()),
        ("Uncertain", "how many were left is judged worse the farther from failure; people differ in the curve".into()),
    ];
    (reader.fields, answer)
}

/// How long a set is, and what slowing it down is worth.
pub(super) fn tempo(asked: &BTreeMap<String, String>) -> (Vec<Field>, Answer) {
    const REPS: LegalRange = LegalRange { min: 1.0, max: 100.0, unit: "repetitions" };
    const SETS: LegalRange = LegalRange { min: 1.0, max: 20.0, unit: "sets" };
    const REST: LegalRange = LegalRange { min: 0.0, max: 900.0, unit: "s" };
    let mut reader = Reader::new(asked);
    let first = reader.text("tempo", "Tempo: lower, pause, lift, pause", "3-1-1-0");
    let second = reader.text("other", "Compared with", "2-0-1-0");
    let n = reader.number("reps", "Repetitions", "reps", REPS, Some(10.0)).unwrap_or(10.0);
    let sets = reader.number("sets", "Sets", "sets", SETS, Some(3.0)).unwrap_or(3.0);
    let rest = reader.number("rest", "Rest between sets", "s", REST, Some(90.0)).unwrap_or(90.0);
    let mut answer = Answer::default();
    match (first.parse::<Tempo>(), second.parse::<Tempo>()) {
        (Ok(one), Ok(other)) => {
            let (a, b) = (one.seconds().value(), other.seconds().value());
            let gain = reps::tempo_gain(n, Seconds(b), Seconds(a));
            answer.result = Some((format!("{:.0} s", a * n), format!("under tension in a set of {n:.0}")));
            answer.row("A repetition", format!("{} s, compared with {} s", trim_number(a, 1), trim_number(b, 1)));
            answer.row(
                "All sets",
                format!(
                    "{:.0} s under tension, {:.0} min with the rests",
                    a * n * sets,
                    (a * n * sets + rest * (sets - 1.0)) / 60.0
                ),
            );
            answer
                .row("As hard as", format!("{:.1} repetitions at three seconds", reps::effective_reps(n, Seconds(a))));
            answer.row("Slower is like", format!("{:+.0} % load against the other tempo", (gain.exp() - 1.0) * 100.0));
            answer.notes.push(
                "Time under tension alone is no measure of load; a set of five heavy ones is short by design.".into(),
            );
        }
        (Err(error), _) => reader.refuse("tempo", error.to_string()),
        (_, Err(error)) => reader.refuse("other", error.to_string()),
    }
    answer.why = vec![
        (
            "Equation",
            "n at three seconds = n·(τ/3)^0.6, τ the seconds of a repetition, pauses counted; then the rep-load curve"
                .into(),
        ),
        ("Uncertain", "the exponent is 0.6 give or take 0.2; very slow lifting may cost more".into()),
        ("X", "lifting as fast as control allows counts as one second".into()),
    ];
    (reader.fields, answer)
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    fn asked(pairs: &[(&str, &str)]) -> BTreeMap<String, String> {
        pairs.iter().map(|(k, v)| ((*k).to_owned(), (*v).to_owned())).collect()
    }

    fn row<'a>(answer: &'a Answer, term: &str) -> &'a str {
        answer.rows.iter().find(|(t, _)| t == term).map_or("", |(_, v)| v)
    }

    #[test]
    fn a_dumbbell_with_a_loop_is_two_numbers() {
        let (_, answer) = dumbbell_and_band(&asked(&[]));
        assert_eq!(answer.result.as_ref().unwrap().0, "16 kg to 22 kg");
        assert_eq!(row(&answer, "Effective, if the band is pinned"), "19 kg");
        assert_eq!(row(&answer, "Effective, if it slips"), "18 kg");
    }

    #[test]
    fn raised_hands_make_a_push_up_lighter() {
        let (_, answer) = levers(&asked(&[("mass", "80"), ("hands", "0.6")]));
        assert_eq!(row(&answer, "Against a flat push-up"), "-34 %");
    }

    #[rstest]
    #[case::wall(levers(&asked(&[("hands", "1,4")])), "hands", "count reps only")]
    #[case::letters(levers(&asked(&[("mass", "heavy")])), "mass", "is not a number")]
    #[case::too_many(reps(&asked(&[("reps", "39"), ("rir", "3")])), "reps", "more than 40")]
    #[case::no_tempo(tempo(&asked(&[("tempo", "3-1")])), "tempo", "four counts")]
    #[case::upside_down(dumbbell_and_band(&asked(&[("bottom", "0.9"), ("top", "0.5")])), "top", "above the bottom")]
    #[case::overstretched(dumbbell_and_band(&asked(&[("flat", "0.6"), ("top", "1.2")])), "top", "250 %")]
    #[case::nothing_left(dumbbell_and_band(&asked(&[("trapped", "1"), ("flat", "1")])), "trapped", "free band")]
    fn what_cannot_be_used_is_said_beside_its_field(
        #[case] result: (Vec<Field>, Answer),
        #[case] field: &str,
        #[case] says: &str,
    ) {
        let found = result.0.iter().find(|f| f.name == field).unwrap();
        assert!(found.error.as_ref().unwrap().contains(says), "{:?}", found.error);
    }

    #[test]
    fn a_maximum_is_only_stated_from_few_repetitions() {
        assert!(!row(&reps(&asked(&[("reps", "5"), ("rir", "1")])).1, "One repetition").is_empty());
        assert!(row(&reps(&asked(&[("reps", "15"), ("rir", "1")])).1, "One repetition").is_empty());
    }

    #[test]
    fn time_under_tension_counts_pauses() {
        let (_, answer) = tempo(&asked(&[("tempo", "3-1-X-1"), ("reps", "8")]));
        assert_eq!(answer.result.unwrap().0, "48 s");
    }
}
