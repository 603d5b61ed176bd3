//! Tokens for programs: made, shown once, revoked.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_store::TrainerId;
use bavrek_store::tokens::{self, MOST_TOKENS, Scope, Token};
use chrono::NaiveDate;
use uuid::Uuid;

use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::account::new_secret;
use crate::features::dates::{day, written};
use crate::features::typed::{Input, Typed};
use crate::state::App;

/// What a token begins with, so that it is known for one wherever it turns up.
const MARK: &str = "bavrek_";
/// Longest name, characters.
const LONGEST_NAME: usize = 80;

/// A token that nobody guesses.
pub fn new_token() -> String {
    format!("{MARK}{}", new_secret())
}

pub(super) fn routes() -> Router<App> {
    Router::new().route("/account/tokens", get(show).post(make)).route("/account/tokens/{token}/revoke", post(revoke))
}

#[derive(Template, WebTemplate)]
#[template(path = "account/tokens.html")]
struct Page {
    chrome: Chrome,
    /// Where programs send their requests.
    address: String,
    inputs: Vec<Input>,
    /// Scopes: word, what it means, whether it is chosen.
    scopes: Vec<(&'static str, &'static str, bool)>,
    scopes_error: Option<String>,
    /// A token just made, the one time it is shown.
    fresh: Option<String>,
    tokens: Vec<Row>,
}

struct Row {
    id: Uuid,
    name: String,
    may: String,
    used: String,
    opens: bool,
    /// When it was made, ends or ended.
    when: String,
}

const fn meaning(scope: Scope) -> &'static str {
    match scope {
        Scope::Read => "read clients, places, plans, workouts, log and calls",
        Scope::Write => "add and change them",
        Scope::Compute => "have fits, ladders, doses and weeks computed",
    }
}

fn row(token: Token, today: NaiveDate) -> Row {
    let ended = token.ends_on.filter(|on| *on < today);
    let when = match (token.revoked_at, token.ends_on) {
        (Some(at), _) => format!("revoked {}", day(at.date_naive(), today)),
        (None, Some(on)) if on < today => format!("ended {}", day(on, today)),
        (None, Some(on)) => format!("until {}", day(on, today)),
        (None, None) => format!("made {}", day(token.made_at.date_naive(), today)),
    };
    Row {
        id: token.id,
        name: token.name,
        may: token.scopes.iter().map(|s| s.id()).collect::<Vec<_>>().join(", "),
        used: token.used_at.map_or_else(|| "never used".into(), |at| format!("used {}", day(at.date_naive(), today))),
        opens: token.revoked_at.is_none() && ended.is_none(),
        when,
    }
}

async fn page(
    app: &App,
    trainer: TrainerId,
    chrome: Chrome,
    (typed, chosen): (&Typed, &[Scope]),
    fresh: Option<String>,
) -> Result<Page, WebError> {
    let today = app.clock.now().date_naive();
    Ok(Page {
        chrome: chrome.titled("Programs"),
        address: format!("{}/api/v1", app.address),
        inputs: vec![
            Input::text(typed, "name", "What it is for", "the studio's booking program"),
            Input::text(typed, "ends_on", "Opens until", "empty: until it is revoked").kind("date"),
        ],
        scopes: Scope::ALL.into_iter().map(|s| (s.id(), meaning(s), chosen.contains(&s))).collect(),
        scopes_error: typed.error("scopes").map(str::to_owned),
        fresh,
        tokens: tokens::all(&app.pool, trainer).await?.into_iter().map(|t| row(t, today)).collect(),
    })
}

async fn show(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    page(&app, trainer, chrome, (&Typed::default(), &[Scope::Read]), None).await
}

async fn make(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Response, WebError> {
    let mut typed = Typed::of(&fields);
    let name = typed.needed("name", LONGEST_NAME);
    let ends_on = typed.day("ends_on");
    let today = app.clock.now().date_naive();
    if ends_on.is_some_and(|on| on < today) {
        typed.refuse("ends_on", format!("must be today, {}, or later", written(today)));
    }
    let scopes: Vec<Scope> = Scope::ALL.into_iter().filter(|s| fields.all("scopes").any(|w| w == s.id())).collect();
    if scopes.is_empty() {
        typed.refuse("scopes", "choose at least one");
    }
    if typed.fine() {
        let secret = new_token();
        if tokens::make(&app.pool, trainer, (&name, &scopes, ends_on), &secret, app.clock.now()).await? {
            let empty = (&Typed::default(), [Scope::Read].as_slice());
            return Ok(page(&app, trainer, chrome, empty, Some(secret)).await?.into_response());
        }
        typed.refuse("name", format!("there are {MOST_TOKENS} tokens that open already: revoke one first"));
    }
    let page = page(&app, trainer, chrome, (&typed, &scopes), None).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

async fn revoke(Mine(app): Mine, Me(trainer): Me, Ids(token): Ids) -> Result<Redirect, WebError> {
    tokens::revoke(&app.pool, trainer, token, app.clock.now()).await?;
    Ok(Redirect::to("/account/tokens"))
}
