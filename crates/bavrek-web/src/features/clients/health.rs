//! Health screening: asked in plain words, dated, repeatable; and the clearance that answers a referral.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::notes::LONGEST_NOTE;
use bavrek_core::screening::{Answers, referrals, unanswered};
use bavrek_store::health::{self, Clearance, Screening};
use bavrek_store::{TrainerId, new_id};
use uuid::Uuid;

use super::steps::{Step, StepView, steps};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dates::day;
use crate::features::typed::{Input, Typed};
use crate::features::who::Who;
use crate::state::App;
use chrono::NaiveDate;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/health", get(show).post(answer))
        .route("/clients/{client}/health/{screening}/clearance", post(clear))
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/health.html")]
struct Page {
    chrome: Chrome,
    client: Uuid,
    name: String,
    steps: Vec<StepView>,
    id: Uuid,
    questions: Vec<QuestionView>,
    inputs: Vec<Input>,
    past: Vec<Past>,
    /// The form for a clearance, where one is waited for.
    clearance: Option<ClearanceForm>,
}

struct QuestionView {
    id: String,
    text: String,
    answer: Option<bool>,
    error: Option<String>,
}

struct Past {
    on: String,
    outcome: String,
    yes: Vec<String>,
    note: String,
    clearance: Option<String>,
    stops: bool,
}

struct ClearanceForm {
    screening: Uuid,
    id: Uuid,
    who: String,
    inputs: Vec<Input>,
}

async fn show(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let (asked, cleared) = (usual(&who), usual(&who));
    page(&app, trainer, &who, chrome, &asked, &cleared).await
}

fn usual(who: &Who) -> Typed {
    Typed::usual([("on", who.today.to_string()), ("given_on", who.today.to_string())])
}

async fn page(
    app: &App,
    trainer: TrainerId,
    who: &Who,
    chrome: Chrome,
    asked: &Typed,
    cleared: &Typed,
) -> Result<Page, WebError> {
    let client = who.client.id;
    let past = health::of_client(&app.pool, trainer, client).await?;
    let waiting = past.first().filter(|s| s.stops());
    Ok(Page {
        chrome: who.frame(chrome, format!("{}: health", who.client.name)),
        client,
        name: who.client.name.clone(),
        steps: steps(app, trainer, client, Step::Health).await?,
        id: new_id(),
        questions: questions(app, asked),
        inputs: vec![
            Input::text(asked, "on", "Answered on", "").kind("date"),
            Input::text(asked, "note", "Note", "").area(),
        ],
        clearance: waiting.map(|screening| clearance_form(app, screening, cleared)),
        past: past.iter().map(|s| past_view(app, s, who.today)).collect(),
    })
}

fn field(id: &str) -> String {
    format!("q_{id}")
}

fn questions(app: &App, asked: &Typed) -> Vec<QuestionView> {
    let answer = |name: &str| match asked.value(name) {
        "yes" => Some(true),
        "no" => Some(false),
        _ => None,
    };
    app.intake
        .questions
        .iter()
        .map(|q| QuestionView {
            id: q.id.clone(),
            text: q.text.clone(),
            answer: answer(&field(&q.id)),
            error: asked.error(&field(&q.id)).map(str::to_owned),
        })
        .collect()
}

fn clearance_form(app: &App, screening: &Screening, typed: &Typed) -> ClearanceForm {
    let called = referrals(&app.intake.questions, &screening.answers);
    let who = called.iter().map(|q| q.refer.label()).max_by_key(|label| label.len()).unwrap_or("doctor");
    ClearanceForm {
        screening: screening.id,
        id: new_id(),
        who: who.to_owned(),
        inputs: vec![
            Input::text(typed, "given_by", "Given by", "name and profession"),
            Input::text(typed, "given_on", "On", "").kind("date"),
            Input::text(typed, "clearance_note", "What was said", "").area(),
        ],
    }
}

fn past_view(app: &App, screening: &Screening, today: NaiveDate) -> Past {
    let called = referrals(&app.intake.questions, &screening.answers);
    Past {
        on: day(screening.on, today),
        outcome: if screening.refers {
            "see a doctor or physiotherapist first".into()
        } else {
            "nothing that calls for a doctor first".into()
        },
        yes: called.iter().map(|q| q.text.clone()).collect(),
        note: screening.note.clone(),
        clearance: screening.clearance.as_ref().map(|c| {
            let note = if c.note.is_empty() { String::new() } else { format!(": {}", c.note) };
            format!("cleared by {}, {}{note}", c.given_by, day(c.given_on, today))
        }),
        stops: screening.stops(),
    }
}

async fn answer(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let id = fields.id("id")?;
    let mut asked = Typed::of(&fields);
    let mut answers = Answers::new();
    for question in &app.intake.questions {
        match asked.value(&field(&question.id)) {
            "yes" => answers.insert(question.id.clone(), true),
            "no" => answers.insert(question.id.clone(), false),
            _ => None,
        };
    }
    for question in unanswered(&app.intake.questions, &answers) {
        asked.refuse(&field(&question.id), "Answer yes or no");
    }
    let on = asked.past_day("on", who.today);
    if on.is_none() {
        asked.refuse("on", "is needed");
    }
    let note = asked.text("note", LONGEST_NOTE);
    let Some(on) = on.filter(|_| asked.fine()) else {
        let page = page(&app, trainer, &who, chrome, &asked, &usual(&who)).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let refers = !referrals(&app.intake.questions, &answers).is_empty();
    let screening = Screening { id, on, answers, refers, note, clearance: None };
    health::add(&app.pool, trainer, client, &screening).await?;
    let next = if refers { Step::Health } else { Step::Limits };
    Ok(Redirect::to(&next.href(client)).into_response())
}

async fn clear(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, screening)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let id = fields.id("id")?;
    let mut typed = Typed::of(&fields);
    let given_by = typed.needed("given_by", 200);
    let given_on = typed.past_day("given_on", who.today);
    if given_on.is_none() {
        typed.refuse("given_on", "is needed");
    }
    let note = typed.text("clearance_note", LONGEST_NOTE);
    let Some(given_on) = given_on.filter(|_| typed.fine()) else {
        let page = page(&app, trainer, &who, chrome, &usual(&who), &typed).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let clearance = Clearance { given_by, given_on, note };
    health::clear(&app.pool, trainer, client, screening, id, &clearance).await?;
    Ok(Redirect::to(&Step::Health.href(client)).into_response())
}
