//! Clients from a table: read, shown with what cannot be read and who is there already, and only then kept.

use std::collections::HashSet;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_formats::client_table::{self, RowClient};
use bavrek_formats::log_table::Refusal;
use bavrek_store::TrainerId;
use bavrek_store::clients::{self, Client};
use bavrek_store::id_of;
use uuid::Uuid;

use super::profile;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Me, Mine};
use crate::features::typed::{Input, Typed};
use crate::state::App;

/// Longest table, characters: what a form may carry.
const LONGEST: usize = 150_000;
/// Refusals shown; how many more there are is said.
const REFUSALS: usize = 50;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/from-table", get(show).post(check))
        .route("/clients/from-table/take", get(back).post(take))
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/table_in.html")]
struct Page {
    chrome: Chrome,
    inputs: Vec<Input>,
    read: Option<ReadView>,
    /// Names of those who were just kept.
    kept: Option<Vec<String>>,
}

struct ReadView {
    text: String,
    /// Who is new: line, name, what is known of them.
    new: Vec<(u64, String, String)>,
    known: Vec<String>,
    /// How many things cannot be read, and the first of them.
    refused: usize,
    refusals: Vec<Refusal>,
    passed_over: String,
}

/// What a table comes to for a trainer.
struct Sorted {
    new: Vec<(u64, Client)>,
    known: Vec<String>,
    refusals: Vec<Refusal>,
    passed_over: Vec<String>,
}

/// The identifier of a row without one, by whom it names: the same file twice adds nobody twice.
fn by_name(trainer: TrainerId, name: &str) -> Uuid {
    id_of(&format!("{} {}", trainer.0, name.to_lowercase()))
}

/// The fields of a row as the profile takes them; what was looked at is confirmed.
fn fields(row: &RowClient) -> Vec<(&'static str, String)> {
    let mut fields = row.fields.clone();
    if row.value("time_zone").is_empty() {
        fields.retain(|(name, _)| *name != "time_zone");
        fields.push(("time_zone", "UTC".into()));
    }
    if row.confirmed {
        fields.push(("body_mass_is_right", row.value("body_mass").to_owned()));
        fields.push(("height_is_right", row.value("height").to_owned()));
    }
    fields
}

async fn sorted(app: &App, trainer: TrainerId, text: &str) -> Result<Sorted, WebError> {
    let table = client_table::read(text);
    let there = clients::all(&app.pool, trainer).await?;
    let mut names: HashSet<String> = there.iter().map(|c| c.name.to_lowercase()).collect();
    let today = app.clock.now().date_naive();
    let mut sorted = Sorted {
        new: Vec::new(),
        known: Vec::new(),
        refusals: table.refused.clone(),
        passed_over: table.passed_over.clone(),
    };
    for row in &table.clients {
        let name = row.value("name").to_owned();
        let same = row.id.is_some_and(|id| there.iter().any(|c| c.id == id));
        if same || names.contains(&name.to_lowercase()) {
            sorted.known.push(name);
            continue;
        }
        match profile::described(fields(row), None, today) {
            Ok(client) => {
                let id = row.id.unwrap_or_else(|| by_name(trainer, &client.name));
                names.insert(name.to_lowercase());
                sorted.new.push((row.line, Client { id, ..client }));
            }
            Err(wrong) => {
                let told = "(say yes in a column \"confirmed\" if it is right)";
                let refusals = wrong.into_iter().map(|(field, why)| Refusal {
                    line: row.line,
                    column: table.head(&field).to_owned(),
                    why: why.replace("(tick below if it is right)", told),
                });
                sorted.refusals.extend(refusals);
            }
        }
    }
    sorted.refusals.sort_by_key(|r| r.line);
    Ok(sorted)
}

fn view(sorted: Sorted, text: String) -> ReadView {
    let row = |(line, client): (u64, Client)| {
        let measures =
            format!("{:.1} kg, {:.2} m, {}", client.body_mass.value(), client.height.value(), client.experience);
        (line, client.name, measures)
    };
    ReadView {
        new: sorted.new.into_iter().map(row).collect(),
        known: sorted.known,
        refused: sorted.refusals.len(),
        refusals: sorted.refusals.into_iter().take(REFUSALS).collect(),
        passed_over: sorted.passed_over.join(", "),
        text,
    }
}

fn page(chrome: Chrome, typed: &Typed, read: Option<ReadView>, kept: Option<Vec<String>>) -> Page {
    Page {
        chrome: chrome.titled("Clients from a table"),
        inputs: vec![Input::text(typed, "text", "The table", "its first line names the columns").area()],
        read,
        kept,
    }
}

async fn show(Mine(_): Mine, chrome: Chrome) -> Page {
    page(chrome, &Typed::default(), None, None)
}

async fn back() -> Redirect {
    Redirect::to("/clients/from-table")
}

async fn check(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Response, WebError> {
    let mut typed = Typed::of(&fields);
    let text = typed.needed("text", LONGEST);
    if !typed.fine() {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page(chrome, &typed, None, None)).into_response());
    }
    let read = view(sorted(&app, trainer, &text).await?, text);
    let nothing = read.new.is_empty() && read.known.is_empty();
    let status = if nothing { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK };
    Ok((status, page(chrome, &typed, Some(read), None)).into_response())
}

/// Keeps who is new of a table that was checked, all of them or nobody. It is read again: nothing is taken on the page's word.
async fn take(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Page, WebError> {
    let mut typed = Typed::of(&fields);
    let text = typed.needed("text", LONGEST);
    let sorted = sorted(&app, trainer, &text).await?;
    let new: Vec<Client> = sorted.new.into_iter().map(|(_, client)| client).collect();
    clients::add_all(&app.pool, trainer, &new, app.clock.now().date_naive()).await?;
    let names = new.into_iter().map(|client| client.name).collect();
    Ok(page(chrome, &Typed::default(), None, Some(names)))
}
