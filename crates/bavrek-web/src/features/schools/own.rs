//! Schools of a trainer's own: copied from another, changed, saved as versions.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::dose::{Prescription, SetPlan, notation};
use bavrek_core::person::Experience;
use bavrek_core::ranges::RangeError;
use bavrek_core::school::{Disagreement, LONGEST_NAME, LONGEST_TEXT, MOVEMENTS, Order, Pairing, School, Topic};
use bavrek_formats::methods;
use bavrek_store::own_schools::{self, Follows, OwnSchool};
use bavrek_store::{TrainerId, new_id};
use serde::Deserialize;
use uuid::Uuid;

use super::{Chosen, choices};
use crate::chrome::Chrome;
use crate::downloads;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dosing;
use crate::features::typed::{Input, Typed, focus_first};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/methods/new", get(fresh).post(add))
        .route("/methods/own/{school}/edit", get(edit).post(save))
        .route("/methods/own/{school}/away", post(away))
        .route("/methods/own/{school}/back", post(bring_back))
        .route("/methods/document", get(to_methods).post(load))
        .route("/methods/{school}/document", get(document))
}

#[derive(Deserialize, Default)]
struct From {
    #[serde(default)]
    from: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "schools/own.html")]
struct Page {
    chrome: Chrome,
    title: &'static str,
    action: String,
    id: Uuid,
    version: i32,
    /// The school it is made from.
    from: String,
    inputs: Vec<Input>,
    disagreements: Vec<Disagreement>,
    meanwhile: bool,
}

/// The lines of a school's sets: one for each run of sets that are alike.
fn lines_of(sets: &[SetPlan]) -> String {
    let runs = sets.chunk_by(|a, b| a == b);
    runs.map(|run| Prescription::of(run.to_vec()).text()).collect::<Vec<_>>().join("\n")
}

/// Sets written a line for each run. The error names the line.
fn read_lines(text: &str) -> Result<Vec<SetPlan>, RangeError> {
    let mut sets = Vec::new();
    for (i, line) in text.lines().map(str::trim).filter(|l| !l.is_empty()).enumerate() {
        let wrong = |message: String| RangeError::new("text", format!("line {}: {message}", i + 1));
        let written = notation::read(line).map_err(|e| wrong(e.message))?;
        if let Some(relation) = &written.relation {
            return Err(wrong(format!("a method goes by reps and reserve: {:?} is said of a line", relation.text())));
        }
        sets.extend(dosing::with_usual(&written).sets);
    }
    if sets.is_empty() {
        return Err(RangeError::new("text", "write a line such as 3 x 8-12, 2 in reserve, rest 90 s"));
    }
    Ok(sets)
}

fn typed_of(name: &str, school: &School) -> Typed {
    let [least, most] = school.movements;
    Typed::usual([
        ("name", name.to_owned()),
        ("logic", school.logic.clone()),
        ("trades", school.trades.clone()),
        ("progression", school.progression.clone()),
        ("order", school.order.id().to_owned()),
        ("pairing", school.pairing.id().to_owned()),
        ("least", least.to_string()),
        ("most", most.to_string()),
        ("experience", school.least_experience.id().to_owned()),
        ("compound", lines_of(&school.compound)),
        ("isolation", lines_of(&school.isolation)),
    ])
}

fn inputs(typed: &Typed) -> Vec<Input> {
    let text = |name, label, hint| Input::text(typed, name, label, hint);
    let mut inputs = vec![
        text("name", "Name", "My reserve-based").wide(),
        text("compound", "Sets of presses and pulls, a line for each run of equal sets", "").area(),
        text("isolation", "Sets of what one joint carries", "").area(),
        text("order", "What comes first", "").select(None, Order::ALL.iter().map(|o| (o.id(), o.label()))),
        text("pairing", "What is done together", "").select(None, Pairing::ALL.iter().map(|p| (p.id(), p.label()))),
        text("least", "Fewest movements of a session", "4"),
        text("most", "Most movements of a session", "7"),
        text("experience", "From which experience its hardest sets are asked", "")
            .select(None, Experience::ALL.iter().map(|e| (e.id(), e.label()))),
        text("progression", "How it goes on", "").wide(),
        text("logic", "How it reasons", "").wide(),
        text("trades", "What it trades", "").wide(),
    ];
    focus_first(&mut inputs);
    inputs
}

/// The school that was typed; rules that contradict each other are refused beside their fields.
fn read(typed: &mut Typed, base: &School) -> Option<(String, School)> {
    let name = typed.needed("name", LONGEST_NAME);
    let sets = |typed: &mut Typed, field: &'static str| {
        let read = read_lines(typed.value(field)).and_then(|sets| base.id.check_sets(&sets).map(|()| sets));
        typed.take(field, read)
    };
    let (compound, isolation) = (sets(typed, "compound"), sets(typed, "isolation"));
    let (order, pairing) = (typed.needed_word("order", Order::from_id), typed.needed_word("pairing", Pairing::from_id));
    let (least, most) = (whole(typed, "least"), whole(typed, "most"));
    if let (Some(least), Some(most)) = (least, most) {
        if least > most {
            typed.refuse("most", format!("must be {least} or more, the fewest"));
        }
        if most < 2 && pairing.is_some_and(|p| p != Pairing::Alone) {
            typed.refuse("most", "one movement has nothing to be done together with");
        }
    }
    let experience = typed.needed_word("experience", Experience::from_id);
    let school = School {
        id: base.id,
        logic: typed.text("logic", LONGEST_TEXT),
        trades: typed.text("trades", LONGEST_TEXT),
        progression: typed.needed("progression", LONGEST_TEXT),
        order: order?,
        pairing: pairing?,
        movements: [least?, most?],
        least_experience: experience?,
        compound: compound?,
        isolation: isolation?,
    };
    let checked = school.validate();
    if let Err(error) = checked {
        let field = if error.path.starts_with("isolation") { "isolation" } else { "compound" };
        typed.refuse(field, error.message);
    }
    typed.fine().then_some((name, school))
}

fn whole(typed: &mut Typed, field: &'static str) -> Option<u8> {
    let value = typed.whole(field, MOVEMENTS);
    if value.is_none() {
        typed.refuse(field, "is needed");
    }
    value.and_then(|v| u8::try_from(v).ok())
}

struct Desk {
    /// What it is made from, or the latest version.
    base: Chosen,
    id: Uuid,
    version: i32,
}

impl Desk {
    async fn of_own(app: &App, trainer: TrainerId, id: Uuid) -> Result<Self, WebError> {
        let all = choices(app, trainer).await?;
        let base = all.into_iter().find(|c| c.follows.is_some_and(|f| f.id == id)).ok_or(WebError::NotFound)?;
        let version = base.follows.map_or(0, |f| f.version);
        Ok(Self { base, id, version })
    }

    async fn copy(app: &App, trainer: TrainerId, from: &str) -> Result<Self, WebError> {
        let all = choices(app, trainer).await?;
        let base = all.into_iter().find(|c| c.key == from).ok_or(WebError::NotFound)?;
        Ok(Self { base, id: new_id(), version: 0 })
    }

    fn page(&self, app: &App, chrome: Chrome, typed: &Typed, meanwhile: bool) -> Page {
        let new = self.version == 0;
        let title = if new { "A school of your own" } else { "Change your school" };
        let decided = [Topic::Order, Topic::Stop, Topic::Rest];
        Page {
            title,
            action: if new { "/methods/new".to_owned() } else { format!("/methods/own/{}/edit", self.id) },
            id: self.id,
            version: self.version,
            from: self.base.key.clone(),
            inputs: inputs(typed),
            disagreements: app.intake.disagreements.iter().filter(|d| decided.contains(&d.at)).cloned().collect(),
            meanwhile,
            chrome: chrome.titled(title),
        }
    }
}

async fn fresh(
    Mine(app): Mine,
    Me(trainer): Me,
    Query(From { from }): Query<From>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let from = if from.is_empty() { "reserve_based".to_owned() } else { from };
    let desk = Desk::copy(&app, trainer, &from).await?;
    let name = format!("{}, mine", desk.base.name.split(" (version").next().unwrap_or_default());
    Ok(desk.page(&app, chrome, &typed_of(&name, &desk.base.school), false))
}

async fn add(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Response, WebError> {
    let mut desk = Desk::copy(&app, trainer, fields.text("from")).await?;
    desk.id = fields.id("id")?;
    keep(&app, trainer, chrome, &desk, &fields).await
}

async fn edit(Mine(app): Mine, Me(trainer): Me, Ids(school): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let desk = Desk::of_own(&app, trainer, school).await?;
    let name = desk.base.name.split(" (version").next().unwrap_or_default().to_owned();
    Ok(desk.page(&app, chrome, &typed_of(&name, &desk.base.school), false))
}

async fn save(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(school): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::of_own(&app, trainer, school).await?;
    keep(&app, trainer, chrome, &desk, &fields).await
}

/// Saves what was typed as the version after the one that it was typed against.
async fn keep(
    app: &App,
    trainer: TrainerId,
    chrome: Chrome,
    desk: &Desk,
    fields: &Fields,
) -> Result<Response, WebError> {
    let mut typed = Typed::of(fields);
    let Some((name, school)) = read(&mut typed, &desk.base.school) else {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, desk.page(app, chrome, &typed, false)).into_response());
    };
    let seen: i32 = fields.text("version").parse().map_err(|_| WebError::bad("version", "is no number"))?;
    let own = OwnSchool { which: Follows { id: desk.id, version: seen + 1 }, name, school, archived: false };
    match own_schools::save(&app.pool, trainer, &own).await {
        Ok(()) => Ok(Redirect::to(&format!("/methods#{}", desk.id)).into_response()),
        Err(bavrek_store::StoreError::Conflict) => {
            Ok((StatusCode::CONFLICT, desk.page(app, chrome, &typed, true)).into_response())
        }
        Err(other) => Err(other.into()),
    }
}

/// A school, shipped or own, as its open document.
async fn document(Mine(app): Mine, Me(trainer): Me, Ids(school): Ids<String>) -> Result<Response, WebError> {
    let found = choices(&app, trainer).await?.into_iter().find(|c| c.key == school).ok_or(WebError::NotFound)?;
    let name = found.name.split(" (version").next().unwrap_or_default();
    let text = methods::write(&methods::Document::of(name, found.school));
    Ok(downloads::file(&format!("method-{}.json", downloads::part(name)), text))
}

/// Keeps a school that somebody shared as one of one's own, or says what is wrong with its document.
async fn load(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Response, WebError> {
    let text = fields.text("text");
    let own = match methods::read(text) {
        Ok(document) => OwnSchool {
            which: Follows { id: fields.id("id")?, version: 1 },
            name: document.name,
            school: document.method,
            archived: false,
        },
        Err(error) => {
            let loading = super::Loading { typed: text.to_owned(), wrong: Some(error.to_string()) };
            let page = super::page(&app, trainer, chrome, (None, loading)).await?;
            return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
        }
    };
    match own_schools::save(&app.pool, trainer, &own).await {
        Err(bavrek_store::StoreError::Conflict) => Err(WebError::ChangedMeanwhile),
        done => Ok(done.map(|()| Redirect::to(&format!("/methods#{}", own.which.id)).into_response())?),
    }
}

async fn to_methods() -> Redirect {
    Redirect::to("/methods")
}

async fn archive(app: &App, trainer: TrainerId, id: Uuid, archived: bool) -> Result<(), WebError> {
    let all = own_schools::all(&app.pool, trainer).await?;
    let latest = all.into_iter().find(|o| o.which.id == id).ok_or(WebError::NotFound)?;
    if latest.archived == archived {
        return Ok(());
    }
    let which = Follows { id, version: latest.which.version + 1 };
    Ok(own_schools::save(&app.pool, trainer, &OwnSchool { which, archived, ..latest }).await?)
}

async fn away(Mine(app): Mine, Me(trainer): Me, Ids(school): Ids) -> Result<Redirect, WebError> {
    archive(&app, trainer, school, true).await?;
    Ok(Redirect::to(&format!("/methods?removed={school}")))
}

async fn bring_back(Mine(app): Mine, Me(trainer): Me, Ids(school): Ids) -> Result<Redirect, WebError> {
    archive(&app, trainer, school, false).await?;
    Ok(Redirect::to("/methods"))
}

#[cfg(test)]
mod tests {
    use super::{lines_of, read_lines};

    /// What ships can be written down and read again without a loss.
    #[test]
    fn every_school_survives_being_copied() {
        let schools = bavrek_catalogue::schools().unwrap();
        assert_eq!(schools.len(), 9);
        for school in &schools {
            for sets in [&school.compound, &school.isolation] {
                let text = lines_of(sets);
                let read = read_lines(&text).unwrap_or_else(|e| panic!("{}: {text}: {e}", school.id));
                assert_eq!(&read, sets, "{}: {text}", school.id);
            }
        }
    }
}
