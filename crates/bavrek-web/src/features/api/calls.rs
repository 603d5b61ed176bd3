//! Calls: what is the next step of a line, and the trainer's word on it.

use axum::Json;
use axum::extract::State;
use axum::http::Method;
use bavrek_core::progress::CallKind;
use bavrek_store::decisions;
use bavrek_store::tokens::Scope;
use chrono::NaiveDate;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::door::Caller;
use super::given::{At, Refusal, Sent};
use super::operations::Operations;
use crate::features::calls::{self, TellCall};
use crate::state::App;

pub(super) fn describe(all: &mut Operations) {
    all.describe(Method::GET, "/calls", "listWaiting", "Clients whose calls wait, the worst first")
        .answers::<Vec<WaitingView>>()
        .by(waiting);
    all.describe(
        Method::GET,
        "/clients/{client}/calls",
        "readCalls",
        "A client's calls that wait or were decided lately",
    )
    .answers::<Vec<TellCall>>()
    .by(read);
    all.describe(
        Method::POST,
        "/clients/{client}/calls/{line}",
        "decideCall",
        "Decides about a call; the set it rests on must still be the last",
    )
    .needs(Scope::Write)
    .takes::<WordSent>()
    .answers::<Vec<TellCall>>()
    .by(decide);
}

/// A client whose calls wait.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "WaitingCalls")]
struct WaitingView {
    client: Uuid,
    name: String,
    /// How many lines.
    lines: i64,
    /// Highest pain in the sets that wait, where it must change something.
    pain: Option<u8>,
    /// Day of the oldest of those sets.
    since: NaiveDate,
}

/// The trainer's word.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct WordSent {
    /// The step that is chosen: the proposed one or one of the others. None refuses the proposal and keeps the step.
    decided: Option<CallKind>,
    /// The set that the call rested on as it was read.
    after_set: Uuid,
    /// Why.
    #[serde(default)]
    #[schemars(length(max = 300))]
    note: String,
}

async fn waiting(State(app): State<App>, caller: Caller) -> Result<Json<Vec<WaitingView>>, Refusal> {
    let found = decisions::waiting(&app.pool, caller.trainer, app.clock.now()).await?;
    let view = |w: decisions::Waiting| WaitingView {
        client: w.client,
        name: w.name,
        lines: w.lines,
        pain: w.pain,
        since: w.since,
    };
    Ok(Json(found.into_iter().map(view).collect()))
}

async fn read(State(app): State<App>, caller: Caller, At(client): At) -> Result<Json<Vec<TellCall>>, Refusal> {
    let app = app.of(caller.trainer).await?;
    Ok(Json(calls::told(&app, caller.trainer, client).await?))
}

async fn decide(
    State(app): State<App>,
    caller: Caller,
    At((client, line)): At<(Uuid, Uuid)>,
    Sent(word): Sent<WordSent>,
) -> Result<Json<Vec<TellCall>>, Refusal> {
    let app = app.of(caller.trainer).await?;
    let word = (word.decided, word.after_set, word.note);
    calls::decide_for(&app, caller.trainer, (client, line), word).await?;
    Ok(Json(calls::told(&app, caller.trainer, client).await?))
}
