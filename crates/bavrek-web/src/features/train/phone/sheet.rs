//! The workout on paper, for no phone at all: set-up, steps, what to do and to avoid, and space to write.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State as Shared;
use bavrek_core::person::Side;
use bavrek_core::warm_up::cool_down;
use uuid::Uuid;

use super::super::floor::{Floor, Post};
use super::super::views::SETS_TO_A_TOTAL;
use super::super::warm;
use super::pack::Way;
use super::{admitted, reached};
use crate::assets;
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::features::roster::day;
use crate::features::scene::{dose_text, purpose};
use crate::pictures::rig;
use crate::state::App;

#[derive(Template, WebTemplate)]
#[template(path = "go/sheet.html")]
pub(super) struct Sheet {
    css: String,
    js: String,
    /// Where it was opened from.
    back: String,
    name: String,
    client: String,
    place: String,
    day: String,
    light: bool,
    minutes: String,
    joints: Vec<(String, &'static str)>,
    cool_down: String,
    lines: Vec<Line>,
    cautions: Vec<String>,
}

struct Line {
    name: String,
    job: String,
    together: bool,
    load: String,
    how: String,
    dose: String,
    ramp: Vec<String>,
    picture: Option<String>,
    facts: Vec<(&'static str, String)>,
    /// What is asked, and of which side, with space to write.
    sets: Vec<(String, String)>,
}

fn line(app: &App, floor: &Floor, post: &Post, ramp: Vec<String>) -> Option<Line> {
    let way = Way::own(app, floor, post)?;
    let turns = || floor.script.turns.iter().filter(|t| t.key == post.slot.id);
    let set = |(nth, turn): (usize, &bavrek_core::script::Turn<Uuid>)| {
        let side = turn.side.map(Side::label);
        let label = match turn.work.total {
            Some(_) => format!("{}", nth + 1),
            None => format!("{}{}", turn.round + 1, side.map_or_else(String::new, |s| format!(" {s}"))),
        };
        // A total is asked once; there is space for as many sets as it takes.
        let asked = if turn.work.total.is_some() && nth > 0 { String::new() } else { turn.work.amount() };
        (label, asked)
    };
    let spare = turns().next().and_then(|t| t.work.total).map_or(usize::MAX, |_| SETS_TO_A_TOTAL);
    let (load, how) = way.figure(post);
    Some(Line {
        name: way.movement.name.clone(),
        job: purpose(&post.slot.intent),
        together: floor.script.is_shared(post.slot.id),
        load,
        how,
        dose: dose_text(app, &way.movement.id, &post.fit.prescription),
        ramp,
        picture: way.drawn(floor, rig::Detail::Whole),
        // Breathing is said once, for all.
        facts: way.facts(post).into_iter().filter(|(term, _)| *term != "Breathe").collect(),
        sets: turns().enumerate().take(spare).map(set).collect(),
    })
}

impl Sheet {
    fn of(app: &App, floor: &Floor, back: String) -> Self {
        let warm_up = warm::of(app, floor);
        let today = app.clock.today(&floor.scene.client.time_zone);
        let lines = floor.posts.iter().filter_map(|p| line(app, floor, p, warm::ramp(&warm_up, p.slot.id)));
        // What applies to several is said once.
        let mut cautions = app.cautions.0.clone();
        for way in floor.posts.iter().filter_map(|post| Way::own(app, floor, post)) {
            cautions.extend(way.cautions(app, floor));
        }
        let mut seen = std::collections::BTreeSet::new();
        cautions.retain(|text| seen.insert(text.clone()));
        Self {
            css: assets::url("app.css"),
            js: assets::url("app.js"),
            back,
            name: floor.session.name.clone(),
            client: floor.scene.client.name.clone(),
            place: floor.scene.place_head.name.clone(),
            day: day(floor.session.planned_on, today),
            light: floor.scene.light,
            minutes: format!("{:.0}", warm_up.general.value() / 60.0),
            joints: warm::drills(&warm_up),
            cool_down: format!("{:.0}", cool_down().value() / 60.0),
            lines: lines.collect(),
            cautions,
        }
    }
}

pub(super) async fn for_trainer(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids) -> Result<Sheet, WebError> {
    let floor = Floor::load(&app, trainer, session).await?;
    Ok(Sheet::of(&app, &floor, format!("/sessions/{session}")))
}

pub(super) async fn by_link(
    Shared(app): Shared<App>,
    Ids((link, session)): Ids<(String, Uuid)>,
) -> Result<Sheet, WebError> {
    let who = admitted(&app, &link, session).await?;
    let (app, floor) = reached(&app, &who).await?;
    Ok(Sheet::of(&app, &floor, format!("/go/{link}")))
}
