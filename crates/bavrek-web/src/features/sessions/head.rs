//! A session's head: its name, day, place, minutes and school.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::method::Method;
use bavrek_core::ranges::SESSION_MINUTES;
use bavrek_core::script::WorkoutState;
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::{StoreError, TrainerId, new_id};
use uuid::Uuid;

use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::typed::{Input, Typed, focus_first, mark_meanwhile};
use crate::features::who::{Who, usual_minutes};
use crate::state::App;

/// Longest name.
const LONGEST_NAME: usize = 80;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/sessions/new", get(fresh).post(add))
        .route("/sessions/{session}/edit", get(edit).post(save))
        .route("/sessions/{session}/remove", post(remove))
        .route("/sessions/{session}/restore", post(restore))
}

#[derive(Template, WebTemplate)]
#[template(path = "sessions/head.html")]
struct Page {
    chrome: Chrome,
    client: (Uuid, String),
    /// The session that is changed; none for a new one.
    session: Option<(Uuid, String)>,
    id: Uuid,
    version: i32,
    inputs: Vec<Input>,
    methods: Vec<(&'static str, &'static str)>,
    meanwhile: bool,
    no_place: bool,
    stopped: bool,
}

struct Desk {
    who: Who,
    places: Vec<PlaceHead>,
    session: Option<SessionHead>,
}

impl Desk {
    async fn of_client(app: &App, trainer: TrainerId, client: Uuid) -> Result<Self, WebError> {
        let who = Who::load(app, trainer, client).await?;
        let places = places::in_use(&app.pool, trainer, client).await?;
        Ok(Self { who, places, session: None })
    }

    async fn of_session(app: &App, trainer: TrainerId, session: Uuid) -> Result<Self, WebError> {
        let head = sessions::head(&app.pool, trainer, session).await?;
        let desk = Self::of_client(app, trainer, head.client_id).await?;
        Ok(Self { session: Some(head), ..desk })
    }

    fn usual(&self) -> Typed {
        let minutes = usual_minutes(&self.who.client);
        let place = self.places.first().map_or_else(String::new, |p| p.id.to_string());
        Typed::usual([("planned_on", self.who.today.to_string()), ("minutes", minutes.to_string()), ("place", place)])
    }

    fn page(&self, chrome: Chrome, typed: &Typed) -> Page {
        let text = |name, label, hint| Input::text(typed, name, label, hint);
        let mut inputs = vec![
            text("name", "Name", "Upper body A"),
            text("planned_on", "Day", "").kind("date"),
            text("minutes", "Minutes there are", "45"),
        ];
        if self.session.is_none() {
            let places: Vec<_> = self.places.iter().map(|p| (p.id.to_string(), p.name.clone())).collect();
            let options = places.iter().map(|(id, name)| (id.as_str(), name.as_str()));
            inputs.push(text("place", "Place", "").select(None, options));
        }
        let schools = Method::ALL.iter().map(|m| (m.id(), m.label()));
        inputs.push(text("method", "School it follows", "").select(Some("none in particular"), schools));
        focus_first(&mut inputs);
        let title = if self.session.is_some() { "Change the session" } else { "A new session" };
        Page {
            chrome: self.who.frame(chrome, title),
            client: (self.who.client.id, self.who.client.name.clone()),
            session: self.session.as_ref().map(|s| (s.id, s.name.clone())),
            id: typed.value("id").parse().unwrap_or_else(|_| new_id()),
            version: typed.value("version").parse().unwrap_or(self.session.as_ref().map_or(0, |s| s.version)),
            inputs,
            methods: Method::ALL.iter().map(|m| (m.label(), m.says())).collect(),
            meanwhile: false,
            no_place: self.places.is_empty() && self.session.is_none(),
            stopped: self.who.stopped() && self.session.is_none(),
        }
    }

    /// The head that was typed; none where any field is refused.
    fn read(&self, typed: &mut Typed, id: Uuid) -> Option<SessionHead> {
        let name = typed.needed("name", LONGEST_NAME);
        let planned_on = typed.day("planned_on");
        if planned_on.is_none() {
            typed.refuse("planned_on", "is needed");
        }
        let minutes = typed.whole("minutes", SESSION_MINUTES);
        if minutes.is_none() {
            typed.refuse("minutes", "is needed");
        }
        let method = typed.word("method", Method::from_id);
        let place_id = match &self.session {
            Some(session) => Some(session.place_id),
            None => typed.needed_word("place", |id| self.places.iter().find(|p| p.id.to_string() == id).map(|p| p.id)),
        };
        let version = typed.value("version").parse().unwrap_or(0);
        let head = SessionHead {
            id,
            client_id: self.who.client.id,
            place_id: place_id?,
            name,
            planned_on: planned_on?,
            state: self.session.as_ref().map_or(WorkoutState::Planned, |s| s.state),
            turn: bavrek_core::calendar::Turn::Usual,
            light: false,
            minutes: minutes?,
            method,
            follows: None,
            version,
        };
        typed.fine().then_some(head)
    }
}

fn typed_of(head: &SessionHead) -> Typed {
    Typed::usual([
        ("name", head.name.clone()),
        ("planned_on", head.planned_on.to_string()),
        ("minutes", head.minutes.to_string()),
        ("method", head.method.map_or("", Method::id).to_owned()),
    ])
}

async fn fresh(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let desk = Desk::of_client(&app, trainer, client).await?;
    Ok(desk.page(chrome, &desk.usual()))
}

async fn edit(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let desk = Desk::of_session(&app, trainer, session).await?;
    let typed = desk.session.as_ref().map(typed_of).unwrap_or_default();
    Ok(desk.page(chrome, &typed))
}

async fn add(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::of_client(&app, trainer, client).await?;
    let mut typed = Typed::of(&fields);
    let Some(head) = desk.read(&mut typed, fields.id("id")?) else {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, desk.page(chrome, &typed)).into_response());
    };
    let (session, _) = sessions::add(&app.pool, trainer, &head, &[]).await?;
    Ok(Redirect::to(&format!("/sessions/{session}")).into_response())
}

async fn save(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::of_session(&app, trainer, session).await?;
    let mut typed = Typed::of(&fields);
    let Some(head) = desk.read(&mut typed, session) else {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, desk.page(chrome, &typed)).into_response());
    };
    match sessions::change(&app.pool, trainer, &head).await {
        Ok(()) => Ok(Redirect::to(&format!("/sessions/{session}")).into_response()),
        Err(StoreError::Conflict) => {
            let desk = Desk::of_session(&app, trainer, session).await?;
            let mut page = desk.page(chrome, &typed);
            if let Some(stored) = &desk.session {
                mark_meanwhile(&mut page.inputs, &typed.differing(&typed_of(stored)));
                page.version = stored.version;
            }
            page.meanwhile = true;
            Ok((StatusCode::CONFLICT, page).into_response())
        }
        Err(other) => Err(other.into()),
    }
}

async fn remove(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids) -> Result<Redirect, WebError> {
    let head = sessions::head(&app.pool, trainer, session).await?;
    sessions::set_removed(&app.pool, trainer, session, true).await?;
    Ok(Redirect::to(&format!("/clients/{}?removed={session}", head.client_id)))
}

async fn restore(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids) -> Result<Redirect, WebError> {
    sessions::set_removed(&app.pool, trainer, session, false).await?;
    Ok(Redirect::to(&format!("/sessions/{session}")))
}
