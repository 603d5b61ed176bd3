//! Links by letter or from the command line: invitations, and new passwords for those that were forgotten.

use axum::Router;
use axum::extract::State as Shared;
use axum::http::{HeaderMap, StatusCode};
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_store::accounts::{self, AccountLink, LinkKind};
use bavrek_store::outbox::Kind;
use bavrek_store::trainers::{self, Trainer};
use bavrek_store::tries::{self, Counted};
use bavrek_store::{Pool, StoreError, new_id};
use chrono::{DateTime, Utc};
use uuid::Uuid;

use super::door::{FormPage, let_in, shut};
use super::password;
use crate::auth::AuthSession;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids};
use crate::features::outbox::{self, Letter};
use crate::features::typed::{Input, Typed};
use crate::source::Source;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/forgotten", get(show_forgotten).post(forgotten))
        .route("/reset/{secret}", get(show_reset).post(reset))
        .route("/join/{secret}", get(show_join).post(join))
}

/// A link of a kind, where it opens.
async fn opened(app: &App, secret: &str, kind: LinkKind) -> Result<Option<AccountLink>, WebError> {
    let link = accounts::open(&app.pool, secret, app.clock.now()).await?;
    Ok(link.filter(|l| l.kind == kind))
}

fn forgotten_page(chrome: Chrome, form: &Typed, text: &str) -> FormPage {
    FormPage {
        chrome: chrome.titled("New password"),
        heading: "New password",
        text: text.to_owned(),
        error: None,
        action: "/forgotten".into(),
        button: "Send a link",
        inputs: vec![Input::text(form, "email", "E-mail address", "").kind("email")],
    }
    .focused()
}

async fn show_forgotten(chrome: Chrome) -> FormPage {
    let text = "A link by which a new password is set goes to the address of your account. It opens for an hour.";
    forgotten_page(chrome, &Typed::default(), text)
}

async fn forgotten(
    Shared(app): Shared<App>,
    chrome: Chrome,
    source: Source,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut form = Typed::of(&fields);
    let email = form.needed("email", password::LONGEST);
    if !form.fine() {
        let page = forgotten_page(chrome, &form, "To which address is the link to go?");
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let now = app.clock.now();
    for counted in [Counted::Source(&source.0), Counted::Letters(&email)] {
        if let Some(until) = tries::count(&app.pool, counted, now).await? {
            return Ok(shut((until, now), |text| forgotten_page(chrome, &form, &text)).await);
        }
    }
    // Whether there is an account is told to nobody, nor shown by how long the answer takes: the letter is written aside.
    tokio::spawn(async move {
        if let Err(error) = send_reset(&app, &email, now).await {
            tracing::warn!(%error, "a link to a new password was not sent");
        }
    });
    let text = "If there is an account with this address, a link is on its way. It opens for an hour, and once.";
    Ok(forgotten_page(chrome, &Typed::default(), text).into_response())
}

/// Keeps an invitation and gives its link.
pub async fn invite(pool: &Pool, address: &str, whom: (&str, &str)) -> Result<String, StoreError> {
    let secret = new_secret();
    accounts::invite(pool, &secret, whom, Utc::now()).await?;
    Ok(format!("{address}/join/{secret}"))
}

/// A secret that nobody guesses: 244 random bits.
pub fn new_secret() -> String {
    format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple())
}

async fn send_reset(app: &App, email: &str, now: DateTime<Utc>) -> Result<(), WebError> {
    let Some(trainer) = trainers::by_email(&app.pool, email).await? else { return Ok(()) };
    let secret = new_secret();
    accounts::allow_reset(&app.pool, &secret, (trainer.id, &trainer.email), now).await?;
    let text = |link: &str| {
        format!(
            "Somebody asked for a new password for this account. This link sets one, once, within the hour:\n\n{link}\n\nIf it was not you, nothing needs doing: the password stays as it is.\n"
        )
    };
    let letter = Letter {
        client: None,
        recipient: &trainer.email,
        kind: Kind::Reset,
        subject: "A new password for Bavrek",
        whole: text(&format!("{}/reset/{secret}", app.address)),
        shown: text("(the link itself was only in the letter)"),
        pictures: Vec::new(),
    };
    outbox::post(app, trainer.id, new_id(), letter).await
}

/// Invites a colleague by letter. Whether the address has an account already is told to nobody.
pub(super) async fn invite_by_letter(app: &App, from: &Trainer, email: &str) -> Result<(), WebError> {
    let secret = new_secret();
    match accounts::invite(&app.pool, &secret, (email, ""), app.clock.now()).await {
        Err(StoreError::Conflict) => return Ok(()),
        other => other?,
    }
    let text = |link: &str| {
        format!(
            "{} invites you to Bavrek. This link makes an account for {email}, once, within seven days:\n\n{link}\n\nIf you do not want one, nothing needs doing.\n",
            from.name
        )
    };
    let letter = Letter {
        client: None,
        recipient: email,
        kind: Kind::Invitation,
        subject: "An invitation to Bavrek",
        whole: text(&format!("{}/join/{secret}", app.address)),
        shown: text("(the link itself was only in the letter)"),
        pictures: Vec::new(),
    };
    outbox::post(app, from.id, new_id(), letter).await
}

/// What stands where a link opens no more.
fn ended(chrome: Chrome) -> Response {
    let page = FormPage {
        chrome: chrome.titled("This link opens no more"),
        heading: "This link opens no more",
        text: "It was used, or its time is over. Ask for a new one.".into(),
        error: None,
        action: String::new(),
        button: "",
        inputs: Vec::new(),
    };
    (StatusCode::GONE, page).into_response()
}

fn reset_page(chrome: Chrome, form: &Typed, secret: &str) -> FormPage {
    FormPage {
        chrome: chrome.titled("New password"),
        heading: "New password",
        text: "It takes the place of the old one, and signs the account out everywhere.".into(),
        error: None,
        action: format!("/reset/{secret}"),
        button: "Set it",
        inputs: password::inputs(form).into(),
    }
    .focused()
}

async fn show_reset(Shared(app): Shared<App>, Ids(secret): Ids<String>, chrome: Chrome) -> Result<Response, WebError> {
    Ok(match opened(&app, &secret, LinkKind::Reset).await? {
        Some(_) => reset_page(chrome, &Typed::default(), &secret).into_response(),
        None => ended(chrome),
    })
}

async fn reset(
    Shared(app): Shared<App>,
    Ids(secret): Ids<String>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let Some(link) = opened(&app, &secret, LinkKind::Reset).await? else { return Ok(ended(chrome)) };
    let mut form = Typed::default();
    let Some(password) = password::chosen(&fields, &mut form, &link.email) else {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, reset_page(chrome, &form, &secret)).into_response());
    };
    let hash = app.hashing.hash(password).await?;
    match accounts::reset(&app.pool, &secret, &hash, app.clock.now()).await {
        Ok(_) => {}
        Err(StoreError::NotFound) => return Ok(ended(chrome)),
        Err(other) => return Err(other.into()),
    }
    tries::forget(&app.pool, Counted::Address(&link.email)).await?;
    Ok(Redirect::to("/sign-in").into_response())
}

fn join_page(chrome: Chrome, form: &Typed, (secret, email): (&str, &str)) -> FormPage {
    let mut inputs = vec![Input::text(form, "name", "Your name", "as it is shown")];
    inputs.extend(password::inputs(form));
    FormPage {
        chrome: chrome.titled("Welcome"),
        heading: "Welcome",
        text: format!("An account for {email}: with this address and the password you choose, you sign in."),
        error: None,
        action: format!("/join/{secret}"),
        button: "Make the account",
        inputs,
    }
    .focused()
}

async fn show_join(Shared(app): Shared<App>, Ids(secret): Ids<String>, chrome: Chrome) -> Result<Response, WebError> {
    Ok(match opened(&app, &secret, LinkKind::Invitation).await? {
        Some(link) => {
            let form = Typed::usual([("name", link.name)]);
            join_page(chrome, &form, (&secret, &link.email)).into_response()
        }
        None => ended(chrome),
    })
}

async fn join(
    Shared(app): Shared<App>,
    Ids(secret): Ids<String>,
    chrome: Chrome,
    auth: AuthSession,
    headers: HeaderMap,
    fields: Fields,
) -> Result<Response, WebError> {
    let Some(link) = opened(&app, &secret, LinkKind::Invitation).await? else { return Ok(ended(chrome)) };
    let mut form = Typed::usual([("name", fields.text("name").to_owned())]);
    let name = form.needed("name", 120);
    let Some(password) = password::chosen(&fields, &mut form, &link.email) else {
        let page = join_page(chrome, &form, (&secret, &link.email));
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let hash = app.hashing.hash(password).await?;
    let id = match accounts::join(&app.pool, &secret, (&name, &hash), app.clock.now()).await {
        Ok(id) => id,
        Err(StoreError::NotFound | StoreError::Conflict) => return Ok(ended(chrome)),
        Err(other) => return Err(other.into()),
    };
    if let Some(trainer) = trainers::by_id(&app.pool, id).await? {
        let_in(&app, auth, trainer, &headers).await?;
    }
    Ok(Redirect::to("/").into_response())
}
