//! Plans: sessions with their lines and what does them, and the workouts that are due.

use axum::Json;
use axum::extract::State;
use axum::http::{Method, StatusCode};
use bavrek_core::dose::Prescription;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::script::WorkoutState;
use bavrek_store::tokens::Scope;
use bavrek_store::workouts::{self, Listed};
use bavrek_store::{TrainerId, clients, fits, plans, sessions};
use chrono::NaiveDate;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::door::Caller;
use super::given::{Asked, At, Refusal, Sent};
use super::operations::Operations;
use crate::features::rooms::Rooms;
use crate::features::who::Who;
use crate::problem::Problem;
use crate::state::App;

/// Days in which workouts may be asked for at once.
const MOST_DAYS: i64 = 731;
/// How far from today any of them may lie, days: fifty years.
const FARTHEST: i64 = 18_263;

fn near(day: NaiveDate, today: NaiveDate) -> bool {
    (day - today).num_days().abs() <= FARTHEST
}

pub(super) fn describe(all: &mut Operations) {
    all.describe(
        Method::GET,
        "/clients/{client}/plan",
        "readPlan",
        "A client's sessions with their lines, and the plan over weeks",
    )
    .answers::<PlanView>()
    .by(plan);
    all.describe(
        Method::GET,
        "/clients/{client}/workouts",
        "listWorkouts",
        "A client's workouts in a range of days, in order of time",
    )
    .asks::<Days>()
    .answers::<Vec<WorkoutView>>()
    .by(list);
    all.describe(Method::GET, "/workouts/{workout}", "readWorkout", "One workout").answers::<WorkoutView>().by(one);
    all.describe(
        Method::POST,
        "/sessions/{session}/workouts",
        "planWorkout",
        "Plans a session for a day; the same identifier twice plans it once",
    )
    .needs(Scope::Write)
    .takes::<NewWorkout>()
    .answers::<WorkoutView>()
    .done(201)
    .by(add);
    all.describe(Method::DELETE, "/workouts/{workout}", "takeWorkoutOut", "Takes a day out that was not begun")
        .needs(Scope::Write)
        .done(204)
        .by(take_out);
}

/// What a client trains.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Plan")]
struct PlanView {
    /// The plan over weeks, where one runs.
    weeks: Option<WeeksView>,
    sessions: Vec<SessionView>,
}

/// A plan over weeks.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Weeks")]
struct WeeksView {
    id: Uuid,
    name: String,
    /// Its first Monday.
    starts_on: NaiveDate,
    weeks: u8,
    /// Weeks that are lighter, 1 the first.
    lighter: Vec<u8>,
}

/// A session.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Session")]
struct SessionView {
    id: Uuid,
    name: String,
    place: Uuid,
    minutes: i16,
    /// The next day on which it is planned, else the last there was.
    on: NaiveDate,
    blocks: Vec<BlockView>,
}

/// Lines that are done together.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Block")]
struct BlockView {
    kind: BlockKind,
    lines: Vec<LineView>,
}

/// A line: what it is for, and what does it at which place.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Line")]
struct LineView {
    id: Uuid,
    intent: Intent,
    fits: Vec<FitView>,
}

/// What does a line at a place.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Fit")]
struct FitView {
    id: Uuid,
    place: Uuid,
    /// The movement.
    exercise: String,
    /// What to take and how to set it up.
    step: String,
    /// Its mean load over the range, kg.
    effective_kg: f64,
    prescription: Prescription,
    /// The same in one line.
    dose: String,
}

/// A workout.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Workout")]
struct WorkoutView {
    id: Uuid,
    session: Uuid,
    client: Uuid,
    place: Uuid,
    on: NaiveDate,
    state: WorkoutState,
    /// Whether it lies in a lighter week.
    light: bool,
    /// Whether it was let go.
    let_go: bool,
}

impl From<Listed> for WorkoutView {
    fn from(found: Listed) -> Self {
        let Listed { id, session, client, place, on, state, light, let_go } = found;
        Self { id, session, client, place, on, state, light, let_go }
    }
}

/// A range of days.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct Days {
    /// The first; four weeks before today where it is left out.
    from: Option<NaiveDate>,
    /// The last; eight weeks after today where it is left out.
    until: Option<NaiveDate>,
}

/// A day for a session.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct NewWorkout {
    /// Made up where it is left out.
    id: Option<Uuid>,
    on: NaiveDate,
}

async fn plan(State(app): State<App>, caller: Caller, At(client): At) -> Result<Json<PlanView>, Refusal> {
    let trainer = caller.trainer;
    let who = Who::load(&app, trainer, client).await?;
    let running = plans::of_client(&app.pool, trainer, client).await?;
    let weeks = running.map(|plan| WeeksView {
        id: plan.id,
        name: plan.name,
        starts_on: plan.rules.starts_on,
        weeks: plan.rules.weeks,
        lighter: (1..=plan.rules.weeks).filter(|week| plan.rules.is_light(*week)).collect(),
    });
    let rooms = Rooms::of_client(&app, trainer, client).await?;
    let mut views = Vec::new();
    for head in sessions::of_client(&app.pool, trainer, client).await? {
        views.push(session(&app, trainer, (&who, &rooms), head).await?);
    }
    Ok(Json(PlanView { weeks, sessions: views }))
}

async fn session(
    app: &App,
    trainer: TrainerId,
    (who, rooms): (&Who, &Rooms),
    head: sessions::SessionHead,
) -> Result<SessionView, Refusal> {
    let all = fits::for_turn(&app.pool, trainer, head.id, head.turn).await?;
    let all: Vec<fits::Fit> = all.into_iter().map(|fit| rooms.now(app, &who.person, fit)).collect();
    let fit = |fit: &fits::Fit| FitView {
        id: fit.id,
        place: fit.place_id,
        exercise: fit.exercise.clone(),
        step: fit.step.label.clone(),
        effective_kg: fit.step.effective_kg.value(),
        dose: fit.prescription.text(),
        prescription: fit.prescription.clone(),
    };
    let blocks = sessions::blocks(&app.pool, trainer, head.id).await?;
    let block = |block: sessions::Block| BlockView {
        kind: block.kind,
        lines: block
            .slots
            .into_iter()
            .map(|slot| LineView {
                id: slot.id,
                fits: all.iter().filter(|f| f.slot_id == slot.id).map(fit).collect(),
                intent: slot.intent,
            })
            .collect(),
    };
    Ok(SessionView {
        id: head.id,
        name: head.name,
        place: head.place_id,
        minutes: head.minutes,
        on: head.planned_on,
        blocks: blocks.into_iter().map(block).collect(),
    })
}

async fn list(
    State(app): State<App>,
    caller: Caller,
    At(client): At,
    Asked(days): Asked<Days>,
) -> Result<Json<Vec<WorkoutView>>, Refusal> {
    let who = clients::one(&app.pool, caller.trainer, client).await?;
    let today = app.clock.today(&who.time_zone);
    let moved = |days: i64| today.checked_add_signed(chrono::Duration::days(days)).unwrap_or(today);
    let (from, until) = (days.from.unwrap_or_else(|| moved(-28)), days.until.unwrap_or_else(|| moved(56)));
    for (field, day) in [("from", from), ("until", until)] {
        if !near(day, today) {
            return Err(Problem::field(field, format!("must lie within {FARTHEST} days of today, {today}")).into());
        }
    }
    if (until - from).num_days() > MOST_DAYS {
        return Err(Problem::field("until", format!("must be at most {MOST_DAYS} days after from")).into());
    }
    let found = workouts::listed(&app.pool, caller.trainer, client, [from, until]).await?;
    Ok(Json(found.into_iter().map(WorkoutView::from).collect()))
}

async fn one(State(app): State<App>, caller: Caller, At(workout): At) -> Result<Json<WorkoutView>, Refusal> {
    Ok(Json(workouts::one(&app.pool, caller.trainer, workout).await?.into()))
}

async fn add(
    State(app): State<App>,
    caller: Caller,
    At(session): At,
    Sent(sent): Sent<NewWorkout>,
) -> Result<(StatusCode, Json<WorkoutView>), Refusal> {
    let head = sessions::head(&app.pool, caller.trainer, session).await?;
    let who = clients::one(&app.pool, caller.trainer, head.client_id).await?;
    let today = app.clock.today(&who.time_zone);
    if !(0..=MOST_DAYS).contains(&(sent.on - today).num_days()) {
        let why = format!("must be from today, {today}, to {MOST_DAYS} days after it");
        return Err(Problem::field("on", why).into());
    }
    let id = sent.id.unwrap_or_else(|| caller.new_id());
    workouts::plan(&app.pool, caller.trainer, session, id, sent.on).await?;
    Ok((StatusCode::CREATED, Json(workouts::one(&app.pool, caller.trainer, id).await?.into())))
}

async fn take_out(State(app): State<App>, caller: Caller, At(workout): At) -> Result<StatusCode, Refusal> {
    let found = workouts::one(&app.pool, caller.trainer, workout).await?;
    workouts::take_out(&app.pool, caller.trainer, found.session, workout).await?;
    Ok(StatusCode::NO_CONTENT)
}
