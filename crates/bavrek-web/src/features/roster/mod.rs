//! The roster: who needs me today?

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::routing::get;
use bavrek_store::clients::{self, RosterLine};
use chrono::NaiveDate;
use uuid::Uuid;

use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::Me;
use crate::state::App;

/// Pain from which a line asks for attention.
const PAIN: u8 = 4;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/", get(show))
}

#[derive(Template, WebTemplate)]
#[template(path = "roster/page.html")]
struct Page {
    chrome: Chrome,
    summary: String,
    lines: Vec<Line>,
}

struct Line {
    id: Uuid,
    name: String,
    goal: String,
    place: String,
    session: Option<(Uuid, String)>,
    logged: String,
    pain: Option<String>,
    calls: Option<String>,
}

async fn show(State(app): State<App>, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    let today = app.clock.today("UTC");
    let lines: Vec<Line> =
        clients::roster(&app.pool, trainer, today).await?.into_iter().map(|l| line(l, today)).collect();
    let waiting = lines.iter().filter(|l| l.calls.is_some()).count();
    let summary = format!("{} clients, {waiting} with calls waiting", lines.len());
    Ok(Page { chrome: chrome.titled("Roster"), summary, lines })
}

fn line(line: RosterLine, today: NaiveDate) -> Line {
    Line {
        id: line.id,
        name: line.name,
        goal: line.goal,
        place: line.place.unwrap_or_default(),
        session: line.session.map(|(id, name, on)| (id, format!("{name}, {}", day(on, today)))),
        logged: line.last_logged.map_or_else(|| "nothing yet".into(), |d| day(d, today)),
        pain: line.pain.filter(|p| *p >= PAIN).map(|p| format!("pain {p} of 10 reported")),
        calls: (line.calls_waiting > 0).then(|| match line.calls_waiting {
            1 => "1 call".into(),
            n => format!("{n} calls"),
        }),
    }
}

/// A day as people say it near today.
pub(super) fn day(date: NaiveDate, today: NaiveDate) -> String {
    match (date - today).num_days() {
        0 => "today".into(),
        1 => "tomorrow".into(),
        -1 => "yesterday".into(),
        _ => date.format("%a %-d %b").to_string(),
    }
}
