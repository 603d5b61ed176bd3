//! A client's data as tables for a spreadsheet: log, plan, volume, strength and kit, each as CSV and all as one workbook.

use axum::Router;
use axum::response::Response;
use axum::routing::get;
use bavrek_core::dose::{PerHand, SetKind};
use bavrek_core::log::LoggedSet;
use bavrek_core::review::{self, Done};
use bavrek_core::strength::Ledger;
use bavrek_core::units::Kilograms;
use bavrek_core::volume::ASSISTING_COUNTS;
use bavrek_formats::tables::{Cell, Table, workbook};
use bavrek_store::deeds::{self, What};
use bavrek_store::log::{RecordedSet, Source};
use bavrek_store::{TrainerId, clients, fits, kit, places, sessions};
use uuid::Uuid;

use super::strength;
use crate::downloads;
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::features::rooms::Rooms;
use crate::features::scene::purpose;
use crate::features::who::Who;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/clients/{client}/data/tables/{file}", get(one)).route("/tables/{file}", get(of_all))
}

/// The tables of a client, by the names of their files.
const TABLES: [&str; 5] = ["log", "plan", "volume", "strength", "kit"];

/// Everything that the tables are made of.
struct Desk {
    who: Who,
    records: Vec<RecordedSet>,
    sets: Vec<LoggedSet>,
    /// Places by identifier and name.
    places: Vec<(Uuid, String)>,
}

impl Desk {
    async fn load(app: &App, trainer: TrainerId, client: Uuid) -> Result<Self, WebError> {
        let who = Who::load(app, trainer, client).await?;
        let log = app.logs.of_client(&app.pool, trainer, &who.client, who.today).await?;
        let places = places::of_client(&app.pool, trainer, client).await?;
        Ok(Self {
            records: log.records.clone(),
            sets: log.sets.clone(),
            places: places.into_iter().map(|p| (p.id, p.name)).collect(),
            who,
        })
    }

    fn place(&self, id: Option<Uuid>) -> Cell {
        let found = self.places.iter().find(|(known, _)| Some(*known) == id);
        Cell::text(found.map_or("", |(_, name)| name))
    }
}

/// A file: `all.xlsx`, or a table's name with `.csv`. That it was taken out is noted.
async fn one(Mine(app): Mine, Me(trainer): Me, Ids((client, file)): Ids<(Uuid, String)>) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    let content = if file == "all.xlsx" {
        let mut all = Vec::new();
        for name in TABLES {
            all.extend(table(&app, trainer, &desk, name).await?);
        }
        workbook(&all).map_err(|_| WebError::Failed)?
    } else {
        let name = file.strip_suffix(".csv").ok_or(WebError::NotFound)?;
        let found = table(&app, trainer, &desk, name).await?.ok_or(WebError::NotFound)?;
        found.csv().map_err(|_| WebError::Failed)?
    };
    deeds::note(&app.pool, trainer, What::TakenOut, (Some(client), &file), app.clock.now()).await?;
    Ok(downloads::file(&format!("{}-{file}", downloads::part(&desk.who.client.name)), content))
}

/// All clients: `clients.csv` or `clients.xlsx`.
async fn of_all(Mine(app): Mine, Me(trainer): Me, Ids(file): Ids<String>) -> Result<Response, WebError> {
    let table = clients_table(&app, trainer).await?;
    let content = match file.as_str() {
        "clients.csv" => table.csv().map_err(|_| WebError::Failed)?,
        "clients.xlsx" => workbook(&[table]).map_err(|_| WebError::Failed)?,
        _ => return Err(WebError::NotFound),
    };
    deeds::note(&app.pool, trainer, What::TakenOut, (None, &file), app.clock.now()).await?;
    Ok(downloads::file(&file, content))
}

async fn table(app: &App, trainer: TrainerId, desk: &Desk, name: &str) -> Result<Option<Table>, WebError> {
    Ok(match name {
        "log" => Some(log(app, desk)),
        "plan" => Some(plan(app, trainer, desk).await?),
        "volume" => Some(volume(app, desk)),
        "strength" => Some(levels(app, desk)),
        "kit" => Some(pieces(app, trainer, desk).await?),
        _ => None,
    })
}

fn movement(app: &App, id: &str) -> Cell {
    Cell::text(app.catalogue.movement(id).map_or(id, |m| &m.name))
}

/// What a set was made of: where nothing else is kept, repetitions or a hold.
fn kind(set: &LoggedSet) -> &'static str {
    match set.kind {
        Some(kind) => kind.label(),
        None if set.reps.is_none() && set.seconds.is_some() => SetKind::Hold.label(),
        None => SetKind::Straight.label(),
    }
}

fn log(app: &App, desk: &Desk) -> Table {
    let heads = vec![
        "day",
        "done at (UTC)",
        "movement",
        "place",
        "kind",
        "side",
        "reps",
        "seconds",
        "reps in reserve (5: or more)",
        "load (kg)",
        "load of",
        "effective load (kg)",
        "changed after (reps)",
        "load then (kg)",
        "effective load then (kg)",
        "tempo",
        "pain (0-10)",
        "pain at",
        "form kept",
        "seen",
        "source",
        "set aside",
        "id",
    ];
    let row = |record: &RecordedSet| {
        let set = &record.set;
        let changed = set.changed.as_deref();
        vec![
            Cell::Day(set.date),
            record.done_at.map_or(Cell::Nothing, |at| Cell::Moment(at.naive_utc())),
            movement(app, &set.exercise),
            desk.place(record.place_id),
            Cell::text(kind(set)),
            Cell::text(set.side.map_or("", |s| s.label())),
            Cell::whole(set.reps),
            Cell::whole(set.seconds),
            Cell::whole(set.rir),
            Cell::rounded(set.load.map(|l| l.kilograms().value()), 3),
            Cell::text(set.load.map_or("", |l| if l.per == PerHand::Hand { "each hand" } else { "all of it" })),
            Cell::rounded(set.effective_kg.map(Kilograms::value), 2),
            Cell::whole(changed.map(|c| c.after)),
            Cell::rounded(changed.and_then(|c| c.load).map(|l| l.kilograms().value()), 3),
            Cell::rounded(changed.map(|c| c.effective_kg.value()), 2),
            Cell::text(set.tempo.map_or_else(String::new, |t| t.to_string())),
            Cell::whole(set.pain),
            Cell::text(set.pain_at.map_or("", |j| j.label())),
            Cell::text(set.form_kept.map_or("", |kept| if kept { "yes" } else { "no" })),
            Cell::text(set.seen.iter().map(|s| s.label()).collect::<Vec<_>>().join("; ")),
            Cell::text(match record.source {
                Source::Session => "session",
                Source::Told => "told",
                Source::Test => "test",
            }),
            Cell::text(if set.set_aside { "yes" } else { "" }),
            Cell::text(record.id.to_string()),
        ]
    };
    Table { name: "log", heads, rows: desk.records.iter().map(row).collect() }
}

async fn plan(app: &App, trainer: TrainerId, desk: &Desk) -> Result<Table, WebError> {
    let heads = vec!["session", "minutes", "block", "kind", "line", "for", "place", "movement", "step", "dose"];
    let mut rows = Vec::new();
    let rooms = Rooms::of_client(app, trainer, desk.who.client.id).await?;
    for head in sessions::of_client(&app.pool, trainer, desk.who.client.id).await? {
        let fits = fits::for_turn(&app.pool, trainer, head.id, head.turn).await?;
        let fits: Vec<_> = fits.into_iter().map(|fit| rooms.now(app, &desk.who.person, fit)).collect();
        let mut line = 0_u16;
        for (block, nth) in sessions::blocks(&app.pool, trainer, head.id).await?.iter().zip(1_u16..) {
            for slot in &block.slots {
                line += 1;
                let own: Vec<_> = fits.iter().filter(|f| f.slot_id == slot.id).collect();
                let front = || {
                    vec![
                        Cell::text(&head.name),
                        Cell::whole(Some(head.minutes)),
                        Cell::whole(Some(nth)),
                        Cell::text(block.kind.to_string()),
                        Cell::whole(Some(line)),
                        Cell::text(purpose(&slot.intent)),
                    ]
                };
                if own.is_empty() {
                    rows.push([front(), vec![Cell::Nothing; 4]].concat());
                }
                for fit in own {
                    let back = vec![
                        desk.place(Some(fit.place_id)),
                        movement(app, &fit.exercise),
                        Cell::text(&fit.step.label),
                        Cell::text(fit.prescription.text()),
                    ];
                    rows.push([front(), back].concat());
                }
            }
        }
    }
    Ok(Table { name: "plan", heads, rows })
}

fn volume(app: &App, desk: &Desk) -> Table {
    let heads = vec!["week of", "region", "direct sets", "assisting sets", "sets in all"];
    let trained = desk.records.iter().filter(|r| r.source == Source::Session);
    let done: Vec<Done<'_>> = trained.map(|r| Done { set: &r.set, place: None }).collect();
    let first = done.iter().map(|d| d.set.date).min().unwrap_or(desk.who.today);
    let weeks = review::weeks(&app.catalogue, &done, [first, desk.who.today], ASSISTING_COUNTS);
    let rows = weeks.iter().flat_map(|week| {
        week.volume.regions().iter().map(|(region, sets)| {
            vec![
                Cell::Day(week.monday),
                Cell::text(region.label()),
                Cell::rounded(Some(sets.direct), 2),
                Cell::rounded(Some(sets.assisting), 2),
                Cell::rounded(Some(sets.total()), 2),
            ]
        })
    });
    Table { name: "volume", heads, rows: rows.collect() }
}

fn levels(app: &App, desk: &Desk) -> Table {
    let heads = vec![
        "pattern",
        "yardstick",
        "load for 10 reps, 2 in reserve (kg)",
        "likely from (kg)",
        "likely to (kg)",
        "known from",
    ];
    let ledger = Ledger::replay(&app.catalogue, &desk.who.person, &desk.sets, Some(desk.who.today));
    let row = |level: strength::Level<'_>| {
        let [low, now, high] = level.range.map(|kg| Cell::rounded(Some(kg), 1));
        let known = if level.known { "sets" } else { "first guess" };
        vec![Cell::text(level.pattern), Cell::text(level.yardstick), now, low, high, Cell::text(known)]
    };
    Table { name: "strength", heads, rows: strength::levels(app, &ledger).into_iter().map(row).collect() }
}

async fn pieces(app: &App, trainer: TrainerId, desk: &Desk) -> Result<Table, WebError> {
    let heads = vec!["place", "kind", "piece", "goes along"];
    let mut rows = Vec::new();
    for (id, name) in &desk.places {
        for piece in kit::pieces(&app.pool, trainer, *id).await? {
            rows.push(vec![
                Cell::text(name),
                Cell::text(piece.item.kind().replace('_', " ")),
                Cell::text(piece.item.text()),
                Cell::text(if piece.travels { "yes" } else { "" }),
            ]);
        }
    }
    Ok(Table { name: "kit", heads, rows })
}

async fn clients_table(app: &App, trainer: TrainerId) -> Result<Table, WebError> {
    let heads = vec![
        "name",
        "body mass (kg)",
        "height (m)",
        "experience",
        "year of birth",
        "sex",
        "goal",
        "days a week",
        "minutes",
        "time zone",
        "address",
        "archived",
        "id",
    ];
    let row = |client: clients::Client| {
        vec![
            Cell::text(client.name),
            Cell::rounded(Some(client.body_mass.value()), 2),
            Cell::rounded(Some(client.height.value()), 3),
            Cell::text(client.experience.label()),
            Cell::whole(client.birth_year),
            Cell::text(client.sex.map_or("", |s| s.label())),
            Cell::text(client.goal),
            Cell::whole(client.days_a_week),
            Cell::whole(client.minutes),
            Cell::text(client.time_zone),
            Cell::text(client.contact),
            Cell::text(if client.archived { "yes" } else { "" }),
            Cell::text(client.id.to_string()),
        ]
    };
    let all = clients::all(&app.pool, trainer).await?;
    Ok(Table { name: "clients", heads, rows: all.into_iter().map(row).collect() })
}
