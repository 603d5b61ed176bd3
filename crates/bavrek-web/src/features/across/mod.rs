//! Across clients: which movements go well with whom, what stands still, which swaps keep progress and which limits recur, on the
//! trainer's own data; and whether that leans the order of fits.

mod reading;

pub(crate) use self::reading::{pool_again, read_all};

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::response::Redirect;
use axum::routing::get;
use bavrek_core::across::{Across, FEWEST_CLIENTS, JointRow, Lessons, MOST_TILT, MovementRow, SwapRow, Went};
use bavrek_store::lessons::{self, OfClient, Standing};
use uuid::Uuid;

use super::dates::day;
use super::scene::capital;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Me, Mine};
use crate::features::review::change;
use crate::state::App;

/// Movements, swaps and joints that are shown, those of most clients first.
const SHOWN: usize = 40;
/// Clients that are named beside one of them.
const NAMED: usize = 6;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/across", get(show)).route("/across/heed", get(back).post(heed))
}

#[derive(Template, WebTemplate)]
#[template(path = "across/page.html")]
struct Page {
    chrome: Chrome,
    /// From how many logs, read when.
    from: String,
    story: Vec<String>,
    movements: Vec<MovementLine>,
    /// What one client alone did, each with how it went.
    of_one: Vec<(String, String)>,
    stalls: Vec<Named>,
    swaps: Vec<SwapLine>,
    joints: Vec<Named>,
    /// What is not shown of the movements.
    more: usize,
    heeded: bool,
    most: String,
    fewest: u16,
}

struct MovementLine {
    name: String,
    /// One for every client, by how it went.
    marks: Vec<Mark>,
    /// How wide the marks are.
    wide: usize,
    words: String,
    lean: String,
}

/// A client of a movement as a mark.
struct Mark {
    kind: &'static str,
    at: usize,
}

struct SwapLine {
    names: String,
    /// With how many clients how.
    went: String,
    change: String,
}

/// Something with the clients whom it concerns.
struct Named {
    name: String,
    words: String,
    clients: Vec<(Uuid, String)>,
    /// How many are not named.
    others: usize,
}

/// Most marks beside a movement; the words tell them all.
const MARKS: usize = 16;
/// Width of a mark, in units of the picture.
const MARK: usize = 12;

async fn show(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    let (standing, clients) =
        tokio::try_join!(lessons::standing(&app.pool, trainer), lessons::of_trainer(&app.pool, trainer))?;
    Ok(page(&app, chrome.titled("Across clients"), standing, &clients))
}

fn page(app: &App, chrome: Chrome, standing: Standing, clients: &[OfClient]) -> Page {
    let told: Vec<Lessons> = clients.iter().map(|c| c.told.clone()).collect();
    let found = Across::of(&told);
    let whom = |name: String, words: String, places: &[usize]| {
        let named = places.iter().take(NAMED).filter_map(|at| clients.get(*at));
        let clients = named.map(|c| (c.client, c.name.clone())).collect();
        Named { name, words, clients, others: places.len().saturating_sub(NAMED) }
    };
    let stall = |row: &MovementRow| {
        let words = format!("{} of {}", row.went.still, clients_of(row.went.known()));
        whom(name(app, &row.movement), words, &row.still_in)
    };
    let joint = |row: &JointRow| {
        let concerned: Vec<usize> = row.all().collect();
        whom(capital(row.joint.label()), joint_words(app, row), &concerned)
    };
    let (several, of_one): (Vec<_>, Vec<_>) = found.movements.iter().partition(|row| row.went.known() > 1);
    Page {
        chrome,
        from: from(app, standing),
        story: story(app, &found),
        stalls: found.stalls().into_iter().take(SHOWN).map(stall).collect(),
        swaps: found.swaps.iter().take(SHOWN).map(|row| swap(app, row)).collect(),
        joints: found.joints.iter().map(joint).collect(),
        more: several.len().saturating_sub(SHOWN),
        movements: several.iter().take(SHOWN).map(|row| movement(app, row)).collect(),
        of_one: of_one.iter().map(|row| (name(app, &row.movement), words(row.went))).collect(),
        heeded: standing.heeded,
        most: percent(MOST_TILT),
        fewest: FEWEST_CLIENTS,
    }
}

/// A movement's name; one that is no longer there keeps its identifier.
fn name(app: &App, id: &str) -> String {
    app.catalogue.movement(id).map_or_else(|| id.to_owned(), |m| m.name.clone())
}

fn clients_of(count: u16) -> String {
    format!("{count} {}", if count == 1 { "client" } else { "clients" })
}

fn percent(share: f64) -> String {
    format!("{:.1} %", share * 100.0)
}

fn from(app: &App, standing: Standing) -> String {
    let Standing { clients, read, since, .. } = standing;
    let when =
        since.map_or_else(String::new, |on| format!(", the oldest read {}", day(on, app.clock.now().date_naive())));
    format!("the last year of {read} of {clients} {}{when}", if clients == 1 { "client" } else { "clients" })
}

/// What stands out, in a sentence each.
fn story(app: &App, found: &Across) -> Vec<String> {
    let mut story = Vec::new();
    if let Some(row) = found.most_still() {
        let (name, still) = (name(app, &row.movement), row.went.still);
        story.push(format!("{name} stands still in more clients than anything else: {still}."));
    }
    if let Some(row) = found.most_spared() {
        let (joint, count) = (row.joint.label(), row.all().count());
        story.push(format!("The {joint} is limited or hurt in more clients than any other joint: {count}."));
    }
    if let Some(row) = found.best_swap() {
        let (from, to) = (name(app, &row.from), name(app, &row.to));
        story.push(format!(
            "{to} in place of {from} went with most progress: {} over {} clients.",
            change(&row.change),
            row.clients
        ));
    }
    story
}

fn movement(app: &App, row: &MovementRow) -> MovementLine {
    let went = row.went;
    let counts = [("kept", went.kept), ("still", went.still), ("lost", went.lost), ("hurt", went.hurt)];
    let kinds = counts.iter().flat_map(|(kind, count)| std::iter::repeat_n(*kind, usize::from(*count)));
    let marks: Vec<Mark> =
        kinds.take(MARKS).enumerate().map(|(i, kind)| Mark { kind, at: i * MARK + MARK / 2 }).collect();
    let lean = match row.tilt {
        Some(tilt) if tilt > 0.0 => format!("{} for it", percent(tilt)),
        Some(tilt) => format!("{} against it", percent(-tilt)),
        None if went.known() < FEWEST_CLIENTS => "too few to count".to_owned(),
        None => "as usual".to_owned(),
    };
    MovementLine { name: name(app, &row.movement), wide: marks.len() * MARK, marks, words: words(went), lean }
}

/// With how many clients how.
fn words(went: Went) -> String {
    let still = if went.still == 1 { "stands still" } else { "stand still" };
    let others = [(still, went.still), ("lost", went.lost), ("hurt", went.hurt)];
    let others = others.iter().filter(|(_, n)| *n > 0).map(|(words, n)| format!(", {n} {words}"));
    format!("{} of {} kept or gained{}", went.kept, went.known(), others.collect::<String>())
}

fn swap(app: &App, row: &SwapRow) -> SwapLine {
    let lost = if row.lost > 0 { format!(", {} lost", row.lost) } else { String::new() };
    SwapLine {
        names: format!("{} in place of {}", name(app, &row.to), name(app, &row.from)),
        went: format!("{} of {} kept or gained{lost}", row.kept, row.clients),
        change: change(&row.change),
    }
}

fn joint_words(app: &App, row: &JointRow) -> String {
    let count = |n: usize| clients_of(u16::try_from(n).unwrap_or(u16::MAX));
    let limited = (!row.limited.is_empty()).then(|| format!("limited in {}", count(row.limited.len())));
    let most = row.movements.iter().take(3).map(|(id, n)| format!("{} ({n})", name(app, id)));
    let most: Vec<String> = most.collect();
    let hurt = (!row.hurt.is_empty()).then(|| format!("hurt in {}: {}", count(row.hurt.len()), most.join(", ")));
    limited.into_iter().chain(hurt).collect::<Vec<_>>().join("; ")
}

async fn back() -> Redirect {
    Redirect::to("/across")
}

/// Whether it leans the order of fits.
async fn heed(Mine(app): Mine, Me(trainer): Me, fields: Fields) -> Result<Redirect, WebError> {
    let heeded = match fields.text("heeded") {
        "yes" => true,
        "no" => false,
        _ => return Err(WebError::bad("heeded", "must be yes or no")),
    };
    lessons::heed(&app.pool, trainer, heeded).await?;
    Ok(Redirect::to("/across"))
}
