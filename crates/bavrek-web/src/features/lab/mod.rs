//! The Lab: a band gauge on a hanging scale, and calculators that stand alone. Each shows its equation, what went in,
//! and how certain the answer is.

mod calculators;
mod gauge;

use std::collections::BTreeMap;
use std::convert::Infallible;
use std::time::Duration;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::sse::{Event, KeepAlive, Sse};
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post};
use bavrek_core::units::Metres;
use bavrek_store::{TrainerId, kit, new_id};
use futures_util::stream::{self, Stream};
use serde::Deserialize;
use uuid::Uuid;

use self::calculators::Answer;
use self::gauge::{GaugePage, HungBand, Readings};
use super::fields::Field;
use super::places::to_changed;
use crate::chrome::Chrome;
use crate::devices::{HangingScale, SimulatedScale};
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/lab", get(gauge))
        .route("/lab/save", post(save))
        .route("/lab/scale", get(scale))
        .route("/lab/{calculator}", get(calculate))
}

/// The calculators by their place in the address, with the words of their tabs.
const CALCULATORS: [(&str, &str); 4] = [
    ("levers", "Push-up and row levers"),
    ("dumbbell-and-band", "Dumbbell and band"),
    ("reps", "Reps and load"),
    ("tempo", "Tempo and time under tension"),
];

#[derive(Template, WebTemplate)]
#[template(path = "lab/calculator.html")]
struct CalculatorPage {
    chrome: Chrome,
    tabs: Vec<Tab>,
    at: String,
    heading: &'static str,
    fields: Vec<Field>,
    answer: Answer,
}

/// A tab: where it leads, its words, whether it is open.
type Tab = (String, &'static str, bool);

fn tabs(at: &str) -> Vec<Tab> {
    let calculators = CALCULATORS.into_iter().map(|(id, label)| (format!("/lab/{id}"), label, id == at));
    std::iter::once(("/lab".to_owned(), "Band gauge", at.is_empty())).chain(calculators).collect()
}

async fn calculate(
    Mine(_): Mine,
    Ids(at): Ids<String>,
    Query(asked): Query<BTreeMap<String, String>>,
    chrome: Chrome,
) -> Result<CalculatorPage, WebError> {
    let (_, heading) = CALCULATORS.into_iter().find(|(id, _)| *id == at).ok_or(WebError::NotFound)?;
    let (fields, answer) = match at.as_str() {
        "levers" => calculators::levers(&asked),
        "dumbbell-and-band" => calculators::dumbbell_and_band(&asked),
        "reps" => calculators::reps(&asked),
        _ => calculators::tempo(&asked),
    };
    Ok(CalculatorPage { chrome: chrome.titled(heading), tabs: tabs(&at), at, heading, fields, answer })
}

/// All bands of all clients, to hang on the scale.
async fn bands(app: &App, trainer: TrainerId) -> Result<Vec<HungBand>, WebError> {
    let bands = kit::bands(&app.pool, trainer).await?.into_iter();
    Ok(bands
        .map(|(at, piece)| {
            let label = format!("{}, {}: {}", at.client, at.place.name, piece.item.text());
            HungBand { id: piece.id, place: at.place.id, client: at.place.client_id, label, item: piece.item }
        })
        .collect())
}

async fn gauge(
    Mine(app): Mine,
    Me(trainer): Me,
    Query(asked): Query<Vec<(String, String)>>,
    chrome: Chrome,
) -> Result<GaugePage, WebError> {
    let bands = bands(&app, trainer).await?;
    let readings = Readings::read(&asked, &bands);
    Ok(GaugePage::new(chrome.titled("Band gauge"), &bands, &readings))
}

/// Puts the readings into the band of the kit; what cannot be fitted is refused with what was typed kept.
async fn save(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Response, WebError> {
    let bands = bands(&app, trainer).await?;
    let mut readings = Readings::read(fields.pairs(), &bands);
    if let Some((band, item)) = readings.measured(&bands) {
        let id = new_id();
        kit::replace(&app.pool, trainer, band.place, band.id, id, &item).await?;
        Ok(to_changed(band.client, band.place, id))
    } else {
        let page = GaugePage::new(chrome.titled("Band gauge"), &bands, &readings);
        Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
    }
}

#[derive(Deserialize)]
struct Held {
    /// The band on the scale; without one a loop of 22 mm hangs there.
    band: Option<Uuid>,
    length: f64,
}

/// Time between two readings that a scale sends.
const TICK: Duration = Duration::from_millis(150);
/// Longest time a connection stays open without a new length.
const LONGEST: Duration = Duration::from_secs(30);

/// Streams what the scale shows while the band is held at a length.
async fn scale(
    Mine(app): Mine,
    Me(trainer): Me,
    Query(held): Query<Held>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, WebError> {
    bavrek_core::ranges::STRETCHED_LENGTH
        .check("length", held.length)
        .map_err(|e| WebError::bad("length", e.message))?;
    let bands = bands(&app, trainer).await?;
    let scale: SimulatedScale = gauge::on_the_scale(&bands, held.band)?;
    let length = Metres(held.length);
    let readings = stream::unfold(Duration::ZERO, move |time| async move {
        if time > LONGEST {
            return None;
        }
        tokio::time::sleep(TICK).await;
        let reading = scale.read(length, time);
        let text = format!("{{\"kg\":{:.1},\"steady\":{}}}", reading.kg.value(), reading.steady);
        Some((Ok(Event::default().data(text)), time + TICK))
    });
    Ok(Sse::new(readings).keep_alive(KeepAlive::default()))
}
