//! A log from elsewhere taken in: read, shown with what cannot be read and what is there already, and only then kept.

use std::collections::{BTreeMap, HashMap, HashSet};

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Movement;
use bavrek_core::reading::{Names, chosen};
use bavrek_core::strength::ledger::effective_load;
use bavrek_core::units::{Kilograms, MassUnit};
use bavrek_formats::log_table::{self, Refusal, RowSet};
use bavrek_store::TrainerId;
use bavrek_store::id_of;
use bavrek_store::log::{self, ToldSet};
use uuid::Uuid;

use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dates::written;
use crate::features::typed::{Input, Typed};
use crate::features::who::Who;
use crate::state::App;

/// Longest table, characters: what a form may carry.
const LONGEST: usize = 400_000;
/// Rows shown before they are kept.
const SHOWN: usize = 12;
/// Refusals shown; how many more there are is said.
const REFUSALS: usize = 50;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/data/bring-in", get(show).post(check))
        .route("/clients/{client}/data/bring-in/take", get(back).post(take))
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/bring_in.html")]
struct Page {
    chrome: Chrome,
    client: (Uuid, String),
    inputs: Vec<Input>,
    /// What was read, where something was.
    read: Option<ReadView>,
    /// How many sets were just kept.
    kept: Option<u64>,
}

struct ReadView {
    text: String,
    new: usize,
    known: usize,
    refused: usize,
    refusals: Vec<Refusal>,
    passed_over: String,
    /// Names as they are written there, and the movements they are taken for, where these differ.
    taken_for: Vec<(String, String)>,
    /// The first sets that are new: line, day, movement, what was done.
    rows: Vec<(u64, String, String, String)>,
}

/// What a table comes to for a client.
struct Sorted {
    /// Sets with their identifiers and effective loads.
    new: Vec<(u64, Uuid, LoggedSet, Kilograms)>,
    known: usize,
    refusals: Vec<Refusal>,
    passed_over: Vec<String>,
    taken_for: BTreeMap<String, String>,
}

/// The identifiers of rows by what they say: the same rows of the same client are the same sets, however often they come, and alike
/// rows of one file are as many sets.
fn by_content(client: Uuid, rows: &[RowSet]) -> Vec<Uuid> {
    let mut times: HashMap<String, usize> = HashMap::new();
    let identifier = |row: &RowSet| {
        let said = format!(
            "{client} {} {} {:?} {:?} {:?} {:?} {:?} {:?}",
            row.day, row.movement, row.reps, row.seconds, row.rir, row.load, row.side, row.each_hand
        );
        let nth = times.entry(said.clone()).or_default();
        let id = id_of(&format!("{said} {nth}"));
        *nth += 1;
        id
    };
    rows.iter().map(identifier).collect()
}

/// The movement that a name means, or what may be meant.
fn meant<'a>(app: &'a App, names: &Names<'_>, name: &str) -> Result<&'a Movement, String> {
    let matches = names.matches(name);
    let movement = |id: &str| app.catalogue.movement(id);
    match chosen(&matches) {
        (Some(home), None) => {
            if let Some(found) = movement(home) {
                return Ok(found);
            }
        }
        // A barbell's 80 kg are not 80 kg in each hand.
        (Some(home), Some(_)) => {
            let own = movement(home).map_or(home, |m| &m.name);
            return Err(format!("{name:?} may be done with a gym's barbell or machine: if it was not, write {own:?}"));
        }
        (None, Some(_)) => {
            return Err(format!("{name:?} is done on a gym's machine or barbell, of which no strength is kept here"));
        }
        (None, None) => {}
    }
    let near: Vec<&str> = matches.iter().filter_map(|m| movement(m.id)).map(|m| m.name.as_str()).take(3).collect();
    Err(match near.as_slice() {
        [] => format!("{name:?} is no movement known here"),
        near => format!("{name:?} is no movement known here; near to it: {}", near.join("; ")),
    })
}

/// Effective loads that were reckoned: by movement, load and what it is of.
type Reckoned = HashMap<(String, Option<(u64, MassUnit, PerHand)>), Option<Kilograms>>;

/// What a row states as a set, with its effective load.
fn set(
    movement: &Movement,
    row: &RowSet,
    who: &Who,
    reckoned: &mut Reckoned,
) -> Result<(LoggedSet, Kilograms), (&'static str, String)> {
    if row.day > who.today {
        return Err(("day", format!("{} is still to come", row.day)));
    }
    let per =
        row.each_hand.map_or(movement.hands.stated_per(), |each| if each { PerHand::Hand } else { PerHand::Total });
    let set = LoggedSet {
        load: row.load.map(|(value, unit)| StampedLoad { value, unit, per }),
        effective_kg: row.effective_kg.map(Kilograms),
        reps: row.reps,
        seconds: row.seconds,
        rir: row.rir,
        side: row.side.filter(|_| movement.unilateral()),
        pain: row.pain,
        ..LoggedSet::of(movement.id.clone(), row.day)
    };
    set.validate_as(movement).map_err(|e| ("load", e.message))?;
    if row.load.is_none() && row.effective_kg.is_none() && row.movement.to_lowercase().contains("weighted") {
        return Err(("load", format!("{:?} without a load: with how much?", row.movement)));
    }
    let effective = set.effective_kg.or_else(|| {
        let load = set.load.map(|l| (l.value.to_bits(), l.unit, l.per));
        *reckoned.entry((movement.id.clone(), load)).or_insert_with(|| effective_load(&set, movement, &who.person))
    });
    match effective {
        Some(effective) => Ok((set, effective)),
        None if row.load.is_none() => Err(("load", format!("how heavy was {}? It needs a load", movement.name))),
        None => Err(("load", format!("how heavy {} is with this cannot be told", movement.name))),
    }
}

async fn sorted(app: &App, trainer: TrainerId, who: &Who, text: &str) -> Result<Sorted, WebError> {
    let table = log_table::read(text);
    let client = who.client.id;
    let derived = by_content(client, &table.sets);
    let ids: Vec<Uuid> = table.sets.iter().filter_map(|row| row.id).chain(derived.iter().copied()).collect();
    let owners = log::owners(&app.pool, trainer, &ids).await?;
    let names = Names::of(&app.catalogue);
    let mut found: HashMap<String, Result<&Movement, String>> = HashMap::new();
    let (mut reckoned, mut taken) = (Reckoned::new(), HashSet::new());
    let mut sorted = Sorted {
        new: Vec::new(),
        known: 0,
        refusals: table.refused,
        passed_over: table.passed_over,
        taken_for: BTreeMap::new(),
    };
    for (row, derived) in table.sets.iter().zip(derived) {
        // What another client's log holds already is this one's under another name.
        let id = row.id.filter(|id| owners.get(id).is_none_or(|owner| *owner == client)).unwrap_or(derived);
        if owners.get(&id) == Some(&client) {
            sorted.known += 1;
            continue;
        }
        let movement =
            found.entry(row.movement.to_lowercase()).or_insert_with(|| meant(app, &names, &row.movement)).clone();
        let twice = || ("id", "stands in the file twice".to_owned());
        let read = movement
            .map_err(|why| ("movement", why))
            .and_then(|movement| Ok((movement, set(movement, row, who, &mut reckoned)?)))
            .and_then(|read| if taken.insert(id) { Ok(read) } else { Err(twice()) });
        match read {
            Ok((movement, (set, effective))) => {
                if !movement.name.eq_ignore_ascii_case(&row.movement) {
                    sorted.taken_for.insert(row.movement.clone(), movement.name.clone());
                }
                sorted.new.push((row.line, id, set, effective));
            }
            Err((column, why)) => {
                sorted.refusals.push(Refusal { line: row.line, column: column.to_owned(), why });
            }
        }
    }
    sorted.refusals.sort_by_key(|r| r.line);
    Ok(sorted)
}

fn view(app: &App, sorted: Sorted, text: String) -> ReadView {
    let row = |(line, _, set, _): &(u64, Uuid, LoggedSet, Kilograms)| {
        let movement = app.catalogue.movement(&set.exercise);
        let name = movement.map_or(set.exercise.as_str(), |m| &m.name);
        (*line, written(set.date), name.to_owned(), crate::features::train::what(set, movement))
    };
    ReadView {
        new: sorted.new.len(),
        known: sorted.known,
        refused: sorted.refusals.len(),
        rows: sorted.new.iter().take(SHOWN).map(row).collect(),
        refusals: sorted.refusals.into_iter().take(REFUSALS).collect(),
        passed_over: sorted.passed_over.join(", "),
        taken_for: sorted.taken_for.into_iter().collect(),
        text,
    }
}

fn page(who: &Who, chrome: Chrome, typed: &Typed, read: Option<ReadView>) -> Page {
    Page {
        chrome: who.frame(chrome, format!("{}: a log from elsewhere", who.client.name)),
        client: (who.client.id, who.client.name.clone()),
        inputs: vec![Input::text(typed, "text", "The table", "its first line names the columns").area()],
        read,
        kept: None,
    }
}

async fn show(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    Ok(page(&who, chrome, &Typed::default(), None))
}

async fn back(Ids(client): Ids) -> Redirect {
    Redirect::to(&format!("/clients/{client}/data/bring-in"))
}

async fn check(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let mut typed = Typed::of(&fields);
    let text = typed.needed("text", LONGEST);
    if !typed.fine() {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page(&who, chrome, &typed, None)).into_response());
    }
    let read = view(&app, sorted(&app, trainer, &who, &text).await?, text);
    let status = if read.new + read.known == 0 { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK };
    Ok((status, page(&who, chrome, &typed, Some(read))).into_response())
}

/// Keeps what can be read of a table that was checked, all of it or nothing. It is read again: nothing is taken on the page's word.
async fn take(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Page, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let mut typed = Typed::of(&fields);
    let text = typed.needed("text", LONGEST);
    let sorted = sorted(&app, trainer, &who, &text).await?;
    let told = |(_, id, set, effective): &(u64, Uuid, LoggedSet, Kilograms)| (*id, set.clone(), *effective);
    let sets: Vec<_> = sorted.new.iter().map(told).collect();
    let all: Vec<ToldSet<'_>> = sets.iter().map(|(id, set, kg)| ToldSet::told(client, *id, set, *kg)).collect();
    let kept = log::append_all_told(&app.pool, trainer, &all).await?;
    Ok(Page { kept: Some(kept), ..page(&who, chrome, &Typed::default(), None) })
}
