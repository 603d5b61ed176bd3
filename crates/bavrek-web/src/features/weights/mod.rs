//! How a trainer weighs the parts of a fit, and how the schools bend that.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::fit::{DISPUTES, Dispute, FlyEnd, Leanings, Parts, Squeeze, Weights};
use bavrek_core::method::Method;
use bavrek_core::ranges::LegalRange;
use bavrek_core::units::trim_number;
use bavrek_store::trainers::{self, Judging};

use super::typed::Typed;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Me, Mine};
use crate::state::App;

/// What a part may count.
const PERCENT: LegalRange = LegalRange { min: 0.0, max: 100.0, unit: "of a hundred" };

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/weights", get(show).post(save))
        .route("/weights/try", get(back).post(tried))
        .route("/weights/usual", get(back).post(usual))
        .route("/weights/leanings", get(back).post(lean))
}

/// What weighing each part more leads to, in the order of the parts.
const MEANS: [&str; 7] = [
    "the wanted regions get the work",
    "hard in the same part of the muscle's length",
    "a load exists for the wanted repetitions",
    "small steps, and some of them above today's",
    "kind to what must be spared",
    "steady, within the client's skill",
    "quick to set up, nothing improvised",
];

#[derive(Template, WebTemplate)]
#[template(path = "weights/page.html")]
struct Page {
    chrome: Chrome,
    rows: Vec<Row>,
    schools: Vec<(&'static str, Vec<String>)>,
    own: bool,
    /// Where schools differ, with the side that was taken.
    disputes: Vec<DisputeView>,
}

struct DisputeView {
    field: &'static str,
    question: &'static str,
    /// Identifier, words, what it says, whether it was chosen.
    sides: Vec<(&'static str, &'static str, &'static str, bool)>,
    undecided: bool,
}

fn disputes(leanings: Leanings) -> Vec<DisputeView> {
    let view = |d: &Dispute| {
        let taken = leanings.side(d.field);
        DisputeView {
            field: d.field,
            question: d.question,
            sides: d.sides.iter().map(|(id, label, says)| (*id, *label, *says, taken == Some(*id))).collect(),
            undecided: taken.is_none(),
        }
    };
    DISPUTES.iter().map(view).collect()
}

struct Row {
    field: &'static str,
    label: &'static str,
    means: &'static str,
    value: String,
    usual: String,
    error: Option<String>,
}

fn percent(value: f64) -> String {
    trim_number(value, 1)
}

fn typed_of(weights: &Weights) -> Typed {
    Typed::usual(Parts::FIELDS.into_iter().zip(weights.percent().map(percent)))
}

fn page(chrome: Chrome, typed: &Typed, weights: &Weights, own: bool, leanings: Leanings) -> Page {
    let usual = Weights::USUAL.percent();
    let rows = (0..Parts::FIELDS.len()).map(|i| Row {
        field: Parts::FIELDS[i],
        label: Parts::NAMES[i],
        means: MEANS[i],
        value: typed.value(Parts::FIELDS[i]).to_owned(),
        usual: percent(usual[i]),
        error: typed.error(Parts::FIELDS[i]).map(str::to_owned),
    });
    let school = |method: Option<Method>| {
        let bent = weights.bent_by(method).percent();
        (method.map_or("none in particular", Method::label), bent.iter().map(|v| format!("{v:.0}")).collect())
    };
    Page {
        chrome: chrome.titled("How fits are weighed"),
        rows: rows.collect(),
        schools: std::iter::once(None).chain(Method::ALL.iter().copied().map(Some)).map(school).collect(),
        own,
        disputes: disputes(leanings),
    }
}

/// The weights that were typed; none where any field is refused.
fn read(typed: &mut Typed) -> Option<Weights> {
    let mut values = [0.0; 7];
    for (value, field) in values.iter_mut().zip(Parts::FIELDS) {
        match typed.number(field, PERCENT) {
            Some(number) => *value = number,
            None => typed.refuse(field, "is needed"),
        }
    }
    if !typed.fine() {
        return None;
    }
    match Weights::from_percent(values) {
        Ok(weights) => Some(weights),
        Err(error) => {
            typed.refuse(&error.path, error.message);
            None
        }
    }
}

async fn show(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    let Judging { weights: stored, leanings, .. } = trainers::judging(&app.pool, trainer).await?;
    let weights = stored.unwrap_or_default();
    Ok(page(chrome, &typed_of(&weights), &weights, stored.is_some(), leanings))
}

async fn back() -> Redirect {
    Redirect::to("/weights")
}

/// The page with what is typed; nothing is stored.
async fn tried(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Page, WebError> {
    let Judging { weights: stored, leanings, .. } = trainers::judging(&app.pool, trainer).await?;
    let mut typed = Typed::of(&fields);
    let weights = read(&mut typed).or(stored).unwrap_or_default();
    Ok(page(chrome, &typed, &weights, stored.is_some(), leanings))
}

async fn save(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Response, WebError> {
    let mut typed = Typed::of(&fields);
    let Some(weights) = read(&mut typed) else {
        let Judging { weights: stored, leanings, .. } = trainers::judging(&app.pool, trainer).await?;
        let page = page(chrome, &typed, &stored.unwrap_or_default(), stored.is_some(), leanings);
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    trainers::set_weights(&app.pool, trainer, Some(&weights)).await?;
    Ok(Redirect::to("/weights").into_response())
}

/// Keeps one choice per dispute; none leaves it open.
async fn lean(Mine(app): Mine, Me(trainer): Me, fields: Fields) -> Result<Redirect, WebError> {
    let fly_end = match fields.text("fly_end") {
        "" => None,
        text => Some(FlyEnd::from_id(text).ok_or(WebError::bad("fly_end", "is no side of this dispute"))?),
    };
    let squeeze = match fields.text("squeeze") {
        "" => None,
        text => Some(Squeeze::from_id(text).ok_or(WebError::bad("squeeze", "is no side of this dispute"))?),
    };
    trainers::set_leanings(&app.pool, trainer, Leanings { fly_end, squeeze }).await?;
    Ok(Redirect::to("/weights#disputes"))
}

async fn usual(Mine(app): Mine, Me(trainer): Me) -> Result<Redirect, WebError> {
    trainers::set_weights(&app.pool, trainer, None).await?;
    Ok(Redirect::to("/weights"))
}
