//! People who move: everything that is kept of them as one document, out and in.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::body::to_bytes;
use axum::extract::Request;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use bavrek_core::movement::Movement;
use bavrek_store::deeds::{self, About};
use bavrek_store::moving::{self, Arrived, People, Refused};
use bavrek_store::{TrainerId, clients};
use uuid::Uuid;

use crate::chrome::Chrome;
use crate::csrf::LARGEST_FILE;
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::state::App;
use crate::{downloads, upload};

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/account/people", get(show).post(bring))
        .route("/account/people/document", get(take_all_out))
        .route("/clients/{client}/data/document", get(take_out))
}

#[derive(Template, WebTemplate)]
#[template(path = "account/people.html")]
struct Page {
    chrome: Chrome,
    /// What is wrong with the file: where, and what.
    refused: Option<(String, String)>,
    /// What the file would come to, or came to.
    arrived: Option<Arrived>,
    /// Whether it was taken in.
    kept: bool,
}

impl Page {
    fn of(chrome: Chrome) -> Self {
        Self { chrome: chrome.titled("People from a file"), refused: None, arrived: None, kept: false }
    }
}

async fn show(Mine(_): Mine, chrome: Chrome) -> Page {
    Page::of(chrome)
}

async fn take_out(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids) -> Result<Response, WebError> {
    let name = clients::one(&app.pool, trainer, client).await?.name;
    document(&app, trainer, Some(client), &downloads::part(&name)).await
}

async fn take_all_out(Mine(app): Mine, Me(trainer): Me) -> Result<Response, WebError> {
    if moving::is_too_much(&app.pool, trainer).await? {
        let why = "there is more than one file takes: take it out client by client, from each one's data page";
        return Err(WebError::bad("Everything", why));
    }
    document(&app, trainer, None, "people").await
}

async fn document(app: &App, trainer: TrainerId, client: Option<Uuid>, name: &str) -> Result<Response, WebError> {
    let now = app.clock.now();
    let people = moving::out(&app.pool, trainer, client, now).await?;
    let text = serde_json::to_vec(&people).map_err(|_| WebError::Failed)?;
    Ok(downloads::file(&format!("{name}-{}.json", now.format("%Y-%m-%d")), text))
}

/// Looks at a file, or takes it in.
async fn bring(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, request: Request) -> Result<Response, WebError> {
    let headers = request.headers().clone();
    let body = to_bytes(request.into_body(), LARGEST_FILE).await.map_err(|_| WebError::bad("file", "is too large"))?;
    let fields = upload::fields(&headers, body).await.ok_or_else(|| WebError::bad("file", "was not sent as a file"))?;
    let field = |name: &str| fields.iter().find(|(n, _)| n == name).map(|(_, value)| value.clone());
    let keep = field("keep").is_some_and(|keep| keep.as_ref() == b"yes");
    let file = field("file").unwrap_or_default();
    let read = if file.is_empty() {
        Err(Refused::Wrong { path: "File".into(), why: "choose one".into() })
    } else {
        moving::read(&file).and_then(|people| checked(&app, &people).map(|()| people))
    };
    let arrived = match read {
        Ok(people) => moving::take(&app.pool, trainer, &people, keep).await,
        Err(refused) => Err(refused),
    };
    let page = Page::of(chrome);
    if keep && arrived.as_ref().is_ok_and(|a| !a.new.is_empty() || a.own > 0) {
        deeds::changed(&app.pool, trainer, About::default(), "people taken in from a file", app.clock.now()).await?;
    }
    match arrived {
        Ok(arrived) => Ok(Page { arrived: Some(arrived), kept: keep, ..page }.into_response()),
        Err(Refused::Wrong { path, why }) => {
            let page = Page { refused: Some((path, why)), ..page };
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
        Err(Refused::Store(error)) => Err(error.into()),
    }
}

/// Own movements have to satisfy what those of the catalogue do.
fn checked(app: &App, people: &People) -> Result<(), Refused> {
    for (nth, row) in people.own.get("own_movements").into_iter().flatten().enumerate() {
        let at = format!("own.own_movements[{nth}].movement");
        let wrong = |at: String, why: String| Refused::Wrong { path: at, why };
        let value = row.get("movement").cloned().unwrap_or_default();
        let movement: Movement = serde_json::from_value(value).map_err(|e| wrong(at.clone(), e.to_string()))?;
        bavrek_catalogue::check(&app.catalogue, &movement).map_err(|(path, why)| wrong(format!("{at}.{path}"), why))?;
    }
    Ok(())
}
