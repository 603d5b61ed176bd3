//! The roster: who needs me today? All clients, searched, filtered, sorted and a page at a time.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State};
use axum::routing::get;
use bavrek_core::log::PAIN_THAT_STOPS;
use bavrek_store::roster::{self, Order, PAGE, RosterLine, Show, Wanted};
use serde::Deserialize;
use uuid::Uuid;

use super::dates::day;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::Me;
use crate::state::App;

/// Longest search, characters.
const LONGEST_SEARCH: usize = 80;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/", get(show))
}

/// What is asked of the list, as it stands in the address.
#[derive(Deserialize, Default)]
struct Asked {
    #[serde(default)]
    q: String,
    #[serde(default)]
    show: String,
    #[serde(default)]
    order: String,
    #[serde(default)]
    page: String,
}

impl Asked {
    /// What cannot be understood is taken as if it was not said.
    fn wanted(&self) -> Wanted {
        let search: String = self.q.trim().chars().filter(|c| *c != '\0').take(LONGEST_SEARCH).collect();
        let page: i64 = self.page.parse().unwrap_or(1);
        Wanted {
            search,
            show: Show::ALL.iter().find(|(_, id, _)| *id == self.show).map_or(Show::All, |(s, ..)| *s),
            order: Order::ALL.iter().find(|(_, id, _)| *id == self.order).map_or(Order::Need, |(o, ..)| *o),
            page: page.clamp(1, 100_000) - 1,
        }
    }
}

#[derive(Template, WebTemplate)]
#[template(path = "roster/page.html")]
struct Page {
    chrome: Chrome,
    summary: String,
    q: String,
    shows: Vec<(&'static str, &'static str, bool)>,
    orders: Vec<(&'static str, &'static str, bool)>,
    lines: Vec<Line>,
    /// Whether the list is narrowed by anything.
    narrowed: bool,
    before: Option<String>,
    after: Option<String>,
    pages: String,
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
    stopped: bool,
}

async fn show(
    State(app): State<App>,
    Me(trainer): Me,
    Query(asked): Query<Asked>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let wanted = asked.wanted();
    let found = roster::page(&app.pool, trainer, app.clock.now(), &wanted).await?;
    let pages = ((found.total - 1).max(0)) / PAGE + 1;
    let page = wanted.page.min(pages - 1);
    let lines: Vec<Line> = found.lines.into_iter().map(line).collect();
    let narrowed = !wanted.search.is_empty() || wanted.show != Show::All;
    let link = |page: i64| {
        let fields = [
            ("q", wanted.search.as_str()),
            ("show", wanted.show.id()),
            ("order", wanted.order.id()),
            ("page", &(page + 1).to_string()),
        ];
        format!("/?{}", serde_urlencoded::to_string(fields).unwrap_or_default())
    };
    Ok(Page {
        chrome: chrome.titled("Roster"),
        summary: summary(found.total, narrowed),
        shows: Show::ALL.iter().map(|(s, id, label)| (*id, *label, *s == wanted.show)).collect(),
        orders: Order::ALL.iter().map(|(o, id, label)| (*id, *label, *o == wanted.order)).collect(),
        before: (page > 0).then(|| link(page - 1)),
        after: (page + 1 < pages).then(|| link(page + 1)),
        pages: if pages > 1 { format!("page {} of {pages}", page + 1) } else { String::new() },
        q: wanted.search,
        lines,
        narrowed,
    })
}

fn summary(total: i64, narrowed: bool) -> String {
    let clients = if total == 1 { "1 client".to_owned() } else { format!("{total} clients") };
    if narrowed { format!("{clients} found") } else { clients }
}

fn line(line: RosterLine) -> Line {
    let today = line.today;
    Line {
        id: line.id,
        name: line.name,
        goal: line.goal,
        place: line.place.unwrap_or_default(),
        session: line.session.map(|(id, name, on)| (id, format!("{name}, {}", day(on, today)))),
        logged: line.last_logged.map_or_else(|| "nothing yet".into(), |d| day(d, today)),
        pain: line.pain.filter(|p| *p >= PAIN_THAT_STOPS).map(|p| format!("pain {p} of 10 reported")),
        calls: (line.calls_waiting > 0).then(|| match line.calls_waiting {
            1 => "1 call".into(),
            n => format!("{n} calls"),
        }),
        stopped: line.stopped,
    }
}
