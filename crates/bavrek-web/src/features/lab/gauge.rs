//! The band gauge: readings of a hanging scale, the fit, its residual and its curve.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::kit::{KitItem, LoopBand, MOST_ENTRIES, MeasuredPoint, TubeBand, UNMEASURED_SD};
use bavrek_core::mechanics::MechanicsError;
use bavrek_core::mechanics::band::{Rubber, RubberFit};
use bavrek_core::ranges;
use bavrek_core::units::{Kilograms, Metres, trim_number};
use uuid::Uuid;

use super::{Tab, tabs};
use crate::chrome::Chrome;
use crate::devices::SimulatedScale;
use crate::error::WebError;
use crate::pictures::gauge::{self, GaugePicture};

/// A band of a client's kit.
#[derive(Debug, Clone)]
pub(super) struct HungBand {
    pub(super) id: Uuid,
    pub(super) place: Uuid,
    pub(super) client: Uuid,
    pub(super) label: String,
    pub(super) item: KitItem,
}

/// Empty rows that wait for readings.
const SPARE_ROWS: usize = 3;

/// What marks a reading of the simulated scale in the form.
const FROM_SCALE: &str = "scale";

/// One reading as typed.
#[derive(Debug, Clone, Default)]
struct Row {
    length: String,
    kg: String,
    /// Whether the simulated scale put it there.
    simulated: bool,
    error: Option<String>,
}

/// What was typed into the gauge.
#[derive(Debug, Default)]
pub(super) struct Readings {
    band: Option<Uuid>,
    kind: String,
    rest: String,
    rest_error: Option<String>,
    rows: Vec<Row>,
    points: Vec<MeasuredPoint>,
    fit: Option<RubberFit>,
    general: Option<String>,
}

impl Readings {
    /// Reads the form or the address, and fits what can be fitted.
    pub(super) fn read(pairs: &[(String, String)], bands: &[HungBand]) -> Self {
        let first = |name: &str| pairs.iter().find(|(n, _)| n == name).map(|(_, v)| v.trim().to_owned());
        let all = |name: &str| {
            pairs
                .iter()
                .filter(|(n, _)| n == name)
                .map(|(_, v)| v.trim().chars().take(40).collect::<String>())
                .collect::<Vec<_>>()
        };
        let band =
            first("band").and_then(|text| text.parse::<Uuid>().ok()).filter(|id| bands.iter().any(|b| b.id == *id));
        let chosen = bands.iter().find(|b| Some(b.id) == band);
        let (kind, rest) = chosen.map_or(("loop", 1.04), |b| nature(&b.item));
        let mut readings = Self {
            band,
            kind: if chosen.is_some() { kind.to_owned() } else { first("kind").unwrap_or_else(|| kind.to_owned()) },
            rest: first("rest").filter(|t| !t.is_empty()).unwrap_or_else(|| trim_number(rest, 3)),
            ..Self::default()
        };
        let (lengths, weights, sources) = (all("length"), all("kg"), all("from"));
        for (i, (length, kg)) in lengths.into_iter().zip(weights).take(MOST_ENTRIES).enumerate() {
            if !(length.is_empty() && kg.is_empty()) {
                let simulated = sources.get(i).is_some_and(|from| from == FROM_SCALE);
                readings.rows.push(Row { length, kg, simulated, error: None });
            }
        }
        readings.evaluate();
        readings
    }

    fn strands(&self) -> u8 {
        if self.kind == "tube" { 1 } else { 2 }
    }

    fn evaluate(&mut self) {
        let rest = number(&self.rest).and_then(|v| ranges::BAND_LENGTH.check("rest", v).map_err(|e| e.message));
        for row in &mut self.rows {
            let length = number(&row.length).and_then(|v| ranges::STRETCHED_LENGTH.check("", v).map_err(|e| e.message));
            let kg = number(&row.kg).and_then(|v| ranges::BAND_FORCE.check("", v).map_err(|e| e.message));
            match (length, kg) {
                (Ok(length), Ok(kg)) => self.points.push(MeasuredPoint {
                    length_m: Metres(length),
                    kg: Kilograms(kg),
                    simulated: row.simulated,
                }),
                (Err(why), _) => row.error = Some(format!("length: {why}")),
                (_, Err(why)) => row.error = Some(format!("reading: {why}")),
            }
        }
        match rest {
            Err(why) => self.rest_error = Some(why),
            Ok(rest) if self.rows.iter().all(|r| r.error.is_none()) && !self.points.is_empty() => {
                match Rubber::from_measurements(&self.counted(), Metres(rest), self.strands()) {
                    Ok(fit) => self.fit = Some(fit),
                    Err(error) => self.refuse(&error),
                }
            }
            Ok(_) => {}
        }
    }

    /// The readings that count: those that were typed, the simulated ones where there are no others.
    fn counted(&self) -> Vec<(Metres, Kilograms)> {
        let own = !self.is_simulated();
        self.points.iter().filter(|p| !(own && p.simulated)).map(|p| (p.length_m, p.kg)).collect()
    }

    /// Whether nothing but the simulated scale was read.
    fn is_simulated(&self) -> bool {
        self.points.iter().all(|p| p.simulated)
    }

    /// A refusal beside the reading or the length that it is about.
    fn refuse(&mut self, error: &MechanicsError) {
        if let MechanicsError::SlackPoint(length) = error {
            let slack = self.rows.iter_mut().find(|r| number(&r.length).is_ok_and(|l| (l - length).abs() < 1e-9));
            if let Some(row) = slack {
                row.error = Some(error.to_string());
                return;
            }
        }
        self.rest_error = Some(error.to_string());
    }

    /// The chosen band with the readings in it; none with the reason said.
    pub(super) fn measured<'a>(&mut self, bands: &'a [HungBand]) -> Option<(&'a HungBand, KitItem)> {
        let Some(band) = bands.iter().find(|b| Some(b.id) == self.band) else {
            self.general = Some("choose the band of the kit that was measured".into());
            return None;
        };
        self.fit?;
        let rest = Metres(number(&self.rest).ok()?);
        let own = !self.is_simulated();
        let points = self.points.iter().filter(|p| !(own && p.simulated)).copied().collect();
        let item = match &band.item {
            KitItem::LoopBand(b) => {
                KitItem::LoopBand(LoopBand { flat_length_m: rest, measured: Some(points), ..b.clone() })
            }
            KitItem::TubeBand(b) => {
                let mut tube = b.clone();
                (tube.rest_length_m, tube.measured) = (rest, Some(points));
                KitItem::TubeBand(tube)
            }
            other => other.clone(),
        };
        match item.validate() {
            Ok(()) => Some((band, item)),
            Err(error) => {
                self.general = Some(format!("{}: {}", error.path, error.message));
                None
            }
        }
    }
}

fn number(text: &str) -> Result<f64, String> {
    let value = text.replace(',', ".").parse::<f64>().ok().filter(|v| v.is_finite());
    value.ok_or_else(|| if text.is_empty() { "is missing".to_owned() } else { format!("{text:?} is not a number") })
}

/// Whether a band is a loop or a tube, and its resting length.
fn nature(item: &KitItem) -> (&'static str, f64) {
    match item {
        KitItem::TubeBand(b) => ("tube", b.rest_length_m.value()),
        KitItem::LoopBand(b) => ("loop", b.flat_length_m.value()),
        _ => ("loop", 1.04),
    }
}

/// Hangs a band on the simulated scale: a client's, or a loop of 22 mm.
pub(super) fn on_the_scale(bands: &[HungBand], id: Option<Uuid>) -> Result<SimulatedScale, WebError> {
    let spare = KitItem::LoopBand(LoopBand {
        count: 1,
        flat_length_m: Metres(1.04),
        width_m: Some(Metres(0.022)),
        thickness_m: Some(Metres(0.0045)),
        ..LoopBand::default()
    });
    let item = match id {
        Some(id) => &bands.iter().find(|b| b.id == id).ok_or(WebError::NotFound)?.item,
        None => &spare,
    };
    let (kind, rest) = nature(item);
    let rubber = match item {
        // What hangs there is the band itself, whatever was measured of it before.
        KitItem::LoopBand(b) => LoopBand { measured: None, ..b.clone() }.rubber().or_else(|_| b.rubber()),
        KitItem::TubeBand(b) => TubeBand { measured: None, ..b.clone() }.rubber().or_else(|_| b.rubber()),
        _ => Err(MechanicsError::BandUnknown),
    };
    let rubber = rubber.map_err(|e| WebError::bad("band", e.to_string()))?;
    let strands = if kind == "tube" { 1.0 } else { 2.0 };
    Ok(SimulatedScale::with(&item.text(), rubber, strands, Metres(rest)))
}

#[derive(Template, WebTemplate)]
#[template(path = "lab/gauge.html")]
pub(super) struct GaugePage {
    chrome: Chrome,
    tabs: Vec<Tab>,
    bands: Vec<(Uuid, String, bool)>,
    chosen: bool,
    tube: bool,
    rest: String,
    rest_error: Option<String>,
    rows: Vec<Row>,
    spare: std::ops::Range<usize>,
    general: Option<String>,
    result: Option<Fitted>,
    stretches: [String; 5],
}

struct Fitted {
    p: String,
    q: String,
    residual: String,
    known: String,
    centimetre: String,
    again: bool,
    /// Whether nothing was really measured.
    simulated: bool,
    /// Whether simulated readings stand beside typed ones and do not count.
    left_out: bool,
    picture: GaugePicture,
    table: Vec<(String, String)>,
}

impl GaugePage {
    pub(super) fn new(chrome: Chrome, bands: &[HungBand], readings: &Readings) -> Self {
        let rest = number(&readings.rest).unwrap_or(1.04);
        Self {
            tabs: tabs(""),
            bands: bands.iter().map(|b| (b.id, b.label.clone(), Some(b.id) == readings.band)).collect(),
            chosen: readings.band.is_some(),
            tube: readings.kind == "tube",
            rest: readings.rest.clone(),
            rest_error: readings.rest_error.clone(),
            rows: readings.rows.clone(),
            spare: 0..SPARE_ROWS,
            general: readings.general.clone(),
            result: readings.fit.map(|fit| fitted(readings, &fit, rest)),
            stretches: [1.25, 1.5, 1.75, 2.0, 2.5].map(|s| trim_number(rest * s, 2)),
            chrome,
        }
    }
}

fn fitted(readings: &Readings, fit: &RubberFit, rest: f64) -> Fitted {
    let strands = f64::from(readings.strands());
    let force = |stretch: f64| Kilograms(strands * fit.rubber.strand_force(stretch) / bavrek_core::units::GRAVITY);
    // Simulated readings leave a band as uncertain as it was.
    let unmeasured = Rubber { source_sd: fit.rubber.source_sd.max(UNMEASURED_SD), ..fit.rubber };
    let known = if readings.is_simulated() { unmeasured } else { fit.rubber };
    let points: Vec<(f64, f64)> = readings.counted().iter().map(|(l, kg)| (l.value() / rest, kg.value())).collect();
    Fitted {
        p: format!("{:.1}", fit.rubber.p),
        q: format!("{:.1}", fit.rubber.q),
        residual: fit
            .residual
            .map_or_else(|| "not checked: three readings or more are needed".into(), |s| format!("{:.1} %", s * 100.0)),
        known: if readings.is_simulated() {
            "simulated: saved, it narrows nothing".to_owned()
        } else {
            format!("about {:.0} %, with hysteresis and ageing", (fit.rubber.log_sd().exp() - 1.0) * 100.0)
        },
        simulated: readings.is_simulated(),
        left_out: !readings.is_simulated() && readings.points.iter().any(|p| p.simulated),
        centimetre: format!("{:.1} % of the force at 50 %", fit.rubber.sensitivity(1.5) / rest),
        again: fit.measure_again,
        picture: gauge::draw(&points, &|stretch| force(stretch).value(), known.log_sd()),
        table: [1.5, 2.0, 2.5, 3.0]
            .map(|s| (format!("{:.0} %", (s - 1.0) * 100.0), format!("{:.1}", force(s).two_figures())))
            .to_vec(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn pairs(rest: &str, rows: &[(&str, &str)]) -> Vec<(String, String)> {
        let mut pairs = vec![("rest".to_owned(), rest.to_owned())];
        for (length, kg) in rows {
            pairs.push(("length".to_owned(), (*length).to_owned()));
            pairs.push(("kg".to_owned(), (*kg).to_owned()));
        }
        pairs
    }

    const SIX: [(&str, &str); 6] =
        [("1.30", "4.9"), ("1.56", "8.0"), ("1.82", "10.4"), ("2,08", "12,9"), ("2.34", "14.8"), ("2.60", "17.1")];

    #[test]
    fn six_readings_are_fitted() {
        let readings = Readings::read(&pairs("1.04", &SIX), &[]);
        let fit = readings.fit.unwrap();
        assert!((fit.rubber.p - 31.60).abs() < 0.1 && (fit.rubber.q - 8.88).abs() < 0.1, "{fit:?}");
        assert!((fit.residual.unwrap() - 0.0184).abs() < 0.001);
    }

    #[test]
    fn a_slack_reading_is_refused_beside_its_row_and_kept() {
        let readings = Readings::read(&pairs("1.04", &[("1.05", "0.4"), ("1.56", "8")]), &[]);
        assert!(readings.fit.is_none());
        assert!(readings.rows[0].error.as_ref().unwrap().contains("slack"), "{:?}", readings.rows);
        assert_eq!(readings.rows[0].length, "1.05");
    }

    #[test]
    fn a_typing_error_is_named_in_its_row() {
        let readings = Readings::read(&pairs("1.04", &[("1.3", "five"), ("", "8")]), &[]);
        assert!(readings.rows[0].error.as_ref().unwrap().starts_with("reading"));
        assert!(readings.rows[1].error.as_ref().unwrap().starts_with("length"));
    }

    #[test]
    fn one_reading_is_not_checked() {
        let fit = Readings::read(&pairs("1.04", &SIX[..1]), &[]).fit.unwrap();
        assert_eq!(fit.residual, None);
    }

    #[test]
    fn without_a_chosen_band_nothing_is_saved() {
        let mut readings = Readings::read(&pairs("1.04", &SIX), &[]);
        assert!(readings.measured(&[]).is_none());
        assert!(readings.general.unwrap().contains("choose"));
    }
}
