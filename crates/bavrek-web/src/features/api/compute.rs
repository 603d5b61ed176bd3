//! The computing commands: the same documents as on the command line.

use axum::extract::{Request, State};
use axum::http::{Method, StatusCode};
use axum::response::{IntoResponse, Response};
use bavrek_formats::compute::{
    self, ClockAnswer, ClockRequest, DoseAnswer, DoseRequest, FitAnswer, FitRequest, ForceAnswer, ForceRequest,
    Knowledge, LadderAnswer, LadderRequest, NextAnswer, NextRequest, ReadAnswer, ReadRequest, WeekAnswer, WeekRequest,
};
use bavrek_store::tokens::Scope;
use schemars::JsonSchema;

use super::door::{self, Caller};
use super::operations::Operations;
use crate::problem::Problem;
use crate::state::App;

pub(super) fn describe(all: &mut Operations) {
    one::<ForceRequest, ForceAnswer>(all, "/compute/force", "computeForce", "How hard it pulls over the range");
    one::<LadderRequest, LadderAnswer>(all, "/compute/ladder", "computeLadder", "Every step of a movement with a kit");
    one::<FitRequest, FitAnswer>(
        all,
        "/compute/fit",
        "computeFit",
        "Which movements do a job in a room, the best first",
    );
    one::<DoseRequest, DoseAnswer>(all, "/compute/dose", "computeDose", "How many repetitions are to be expected");
    one::<ReadRequest, ReadAnswer>(all, "/compute/read", "computeRead", "What a written line asks for");
    one::<ClockRequest, ClockAnswer>(all, "/compute/clock", "computeClock", "How long a session takes");
    one::<NextRequest, NextAnswer>(all, "/compute/next", "computeNext", "What comes next after what was done");
    one::<WeekRequest, WeekAnswer>(all, "/compute/week", "computeWeek", "A whole week");
}

fn one<Q: JsonSchema, A: JsonSchema>(
    all: &mut Operations,
    path: &'static str,
    id: &'static str,
    summary: &'static str,
) {
    all.describe(Method::POST, path, id, summary).needs(Scope::Compute).takes::<Q>().answers::<A>().by(run);
}

async fn run(State(app): State<App>, caller: Caller, request: Request) -> Response {
    let name = request.uri().path().rsplit('/').next().unwrap_or_default().to_owned();
    let body = match door::body(request).await {
        Ok(body) => body,
        Err(problem) => return problem.into_response(),
    };
    let app = match app.of(caller.trainer).await {
        Ok(app) => app,
        Err(error) => return error.into_json(),
    };
    let knowledge = Knowledge { catalogue: &app.catalogue, volumes: &app.intake.volumes, schools: &app.intake.schools };
    match compute::run(&knowledge, &name, &body) {
        Ok(answer) => (StatusCode::OK, axum::Json(answer)).into_response(),
        Err(error) => Problem::field(error.path, error.message).into_response(),
    }
}
