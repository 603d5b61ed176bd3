//! The log: what was done, and sets that are told.

use std::collections::HashSet;

use axum::Json;
use axum::extract::State;
use axum::http::Method;
use bavrek_core::log::LoggedSet;
use bavrek_core::strength::ledger::effective_load;
use bavrek_core::units::Kilograms;
use bavrek_store::log::{self, RecordedSet, Source, ToldSet};
use bavrek_store::tokens::Scope;
use chrono::{DateTime, Utc};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::door::Caller;
use super::given::{Asked, At, Paging, PartOf, Refusal, Sent};
use super::operations::Operations;
use crate::features::who::Who;
use crate::problem::{FieldProblem, Problem};
use crate::state::App;

/// Sets that may be told at once.
const MOST_AT_ONCE: usize = 200;
/// How far back a set may have been done, days: fifty years.
const LONGEST_BACK: i64 = 18_263;

pub(super) fn describe(all: &mut Operations) {
    all.describe(Method::GET, "/clients/{client}/log", "readLog", "A client's sets in force, the oldest first")
        .asks::<Paging>()
        .answers::<PartOf<SetView>>()
        .by(read);
    all.describe(
        Method::POST,
        "/clients/{client}/log",
        "tellSets",
        "Tells sets that were done outside of a planned session: all or none, the same identifier once",
    )
    .needs(Scope::Write)
    .takes::<Told>()
    .answers::<Kept>()
    .by(tell);
}

/// A set on record.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Set")]
struct SetView {
    id: Uuid,
    /// The line it was done for; none for what was told or tested.
    line: Option<Uuid>,
    place: Option<Uuid>,
    /// `session`, `told` or `test`.
    source: String,
    /// When it was done, where that is known.
    done_at: Option<DateTime<Utc>>,
    /// Whether it was done in a lighter week.
    light: bool,
    set: LoggedSet,
}

impl From<&RecordedSet> for SetView {
    fn from(record: &RecordedSet) -> Self {
        let source = match record.source {
            Source::Session => "session",
            Source::Told => "told",
            Source::Test => "test",
        };
        Self {
            id: record.id,
            line: record.slot_id,
            place: record.place_id,
            source: source.into(),
            done_at: record.done_at,
            light: record.light,
            set: record.set.clone(),
        }
    }
}

/// Sets that are told.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct Told {
    #[schemars(length(min = 1, max = 200))]
    sets: Vec<TellSet>,
}

/// One of them.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct TellSet {
    /// Given by whoever tells it: the same twice is kept once.
    id: Uuid,
    /// What was done. Its effective load is reckoned where it is left out.
    set: LoggedSet,
}

/// What became of them.
#[derive(Debug, Serialize, JsonSchema)]
struct Kept {
    /// How many were new.
    kept: u64,
    /// How many were there already.
    known: u64,
}

async fn read(
    State(app): State<App>,
    caller: Caller,
    At(client): At,
    Asked(paging): Asked<Paging>,
) -> Result<Json<PartOf<SetView>>, Refusal> {
    let limit = paging.limit()?;
    let who = Who::load(&app, caller.trainer, client).await?;
    let log = app.logs.of_client(&app.pool, caller.trainer, &who.client, who.today).await?;
    let mut records: Vec<&RecordedSet> = log.records.iter().collect();
    records.sort_by_key(|r| (r.set.date, r.id));
    let from = match paging.cursor {
        // What was corrected or withdrawn since says nowhere to go on: rather than to leave sets out it is asked to begin again.
        Some(cursor) => {
            let at = records.iter().position(|r| r.id == cursor);
            at.map(|at| at + 1)
                .ok_or_else(|| Problem::field("cursor", "is no set of this log any more: begin again"))?
        }
        None => 0,
    };
    let found: Vec<SetView> = records.into_iter().skip(from).take(limit + 1).map(SetView::from).collect();
    Ok(Json(PartOf::of(found, limit, |s| s.id)))
}

/// A set as it is kept, or what is wrong with it.
fn checked(app: &App, who: &Who, told: TellSet) -> Result<(Uuid, LoggedSet, Kilograms), (String, String)> {
    let mut set = told.set;
    let field = |name: &str, why: String| (format!("set.{name}"), why);
    let movement = app.catalogue.movement(&set.exercise);
    let movement = movement.ok_or_else(|| field("exercise", format!("{:?} is no movement", set.exercise)))?;
    set.validate_as(movement).map_err(|e| field(&e.path, e.message))?;
    if set.date > who.today {
        return Err(field("date", format!("{} is still to come", set.date)));
    }
    if (who.today - set.date).num_days() > LONGEST_BACK {
        return Err(field("date", format!("must be at most {LONGEST_BACK} days back")));
    }
    // A trainer's word on the screen, no property of what was done.
    set.set_aside = false;
    let effective = set.effective_kg.or_else(|| effective_load(&set, movement, &who.person));
    match effective {
        Some(kg) if kg.value().is_finite() && (0.0..=500.0).contains(&kg.value()) => Ok((told.id, set, kg)),
        Some(_) => Err(field("effective_kg", "must be 0 to 500".into())),
        None => Err(field("load", "how heavy it was cannot be told without it".into())),
    }
}

async fn tell(
    State(app): State<App>,
    caller: Caller,
    At(client): At,
    Sent(told): Sent<Told>,
) -> Result<Json<Kept>, Refusal> {
    let app = app.of(caller.trainer).await?;
    let who = Who::load(&app, caller.trainer, client).await?;
    if told.sets.is_empty() || told.sets.len() > MOST_AT_ONCE {
        return Err(Problem::field("sets", format!("must be 1 to {MOST_AT_ONCE}")).into());
    }
    let ids: Vec<Uuid> = told.sets.iter().map(|t| t.id).collect();
    let owners = log::owners(&app.pool, caller.trainer, &ids).await?;
    let (mut sets, mut wrong, mut seen) = (Vec::new(), Vec::new(), HashSet::new());
    for (nth, set) in told.sets.into_iter().enumerate() {
        let id = set.id;
        let known = match owners.get(&id) {
            Some(owner) if *owner == client => continue,
            Some(_) => Err(("id".to_owned(), "is that of another client's set".to_owned())),
            None if !seen.insert(id) => Err(("id".to_owned(), "is told twice".to_owned())),
            None => checked(&app, &who, set),
        };
        match known {
            Ok(set) => sets.push(set),
            Err((path, message)) => wrong.push(FieldProblem { path: format!("sets[{nth}].{path}"), message }),
        }
    }
    if !wrong.is_empty() {
        return Err(Problem::fields(wrong).into());
    }
    let all: Vec<ToldSet<'_>> = sets.iter().map(|(id, set, kg)| ToldSet::told(client, *id, set, *kg)).collect();
    let kept = log::append_all_told(&app.pool, caller.trainer, &all).await?;
    Ok(Json(Kept { kept, known: ids.len() as u64 - kept }))
}
