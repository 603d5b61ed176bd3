//! What the swap bench shows, ready to be written down.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::figure::Figure;
use bavrek_core::fit::{Candidate, Excluded, ExclusionCode, FitAnswer, Parts};
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::movement::Movement;
use bavrek_core::rigging::Rigged;
use bavrek_core::units::trim_number;
use bavrek_store::fits::Fit;
use bavrek_store::sessions::PlacedSlot;
use uuid::Uuid;

use crate::chrome::Chrome;
use crate::features::scene::{Scene, capital, purpose};
use crate::pictures::curves::{self, Curves, Shape};
use crate::pictures::glyph;
use crate::pictures::ladder::{self, Excerpt};
use crate::pictures::rig::{self, RigPicture};
use crate::pictures::torso::{self, Torso, Work};
use crate::state::App;

/// Candidates shown as rows; the rest would not be taken anyway.
const MOST: usize = 8;

#[derive(Template, WebTemplate)]
#[template(path = "bench/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    slot: Uuid,
    session: (Uuid, String),
    client: String,
    place: String,
    heading: String,
    asked: Vec<(&'static str, String)>,
    torso: Torso,
    found: String,
    rows: Vec<Row>,
    ruled_out: Vec<RuledOut>,
    picked: Option<Picked>,
    /// New fits wait for a clearance.
    stopped: bool,
    /// What the limits changed here.
    limited: Option<String>,
}

struct Row {
    rank: usize,
    id: String,
    name: String,
    how: String,
    warning: Option<String>,
    glyph: &'static str,
    words: String,
    bars: [(&'static str, &'static str, String); 3],
    start: String,
    on: bool,
    current: bool,
    /// A limit counts against it.
    eased: bool,
}

struct RuledOut {
    name: String,
    why: String,
}

struct Picked {
    id: String,
    name: String,
    how: String,
    rig: Option<RigPicture>,
    rig_page: String,
    curves: Curves,
    ladder: Excerpt,
    load: String,
    start: String,
    kept: Vec<String>,
    lost: Vec<String>,
    cautions: Vec<String>,
    reasons: Vec<String>,
    parts: Vec<(&'static str, String)>,
    cues: [(&'static str, String); 4],
    disputed: Option<String>,
    current: bool,
}

impl Page {
    pub(super) fn new(
        chrome: Chrome,
        app: &App,
        placed: &PlacedSlot,
        scene: &Scene,
        current: Option<&Fit>,
        answer: &FitAnswer<'_>,
        pick: Option<&str>,
    ) -> Self {
        let intent = &placed.slot.intent;
        let wanted: Vec<_> = intent.regions.keys().copied().collect();
        let chosen = answer.candidates.iter().find(|c| Some(c.movement.id.as_str()) == pick);
        let chosen = chosen.or_else(|| answer.candidates.first());
        let work = chosen.map(|c| work_of(c)).unwrap_or_default();
        let heading = capital(&format!("{}: {}", intent.pattern, purpose(intent)));
        let in_force = |c: &Candidate<'_>| current.is_some_and(|f| f.exercise == c.movement.id);
        let rows = answer
            .candidates
            .iter()
            .take(MOST)
            .enumerate()
            .map(|(i, c)| row(i + 1, c, chosen.is_some_and(|on| on.movement.id == c.movement.id), in_force(c)));
        Self {
            slot: placed.slot.id,
            session: (placed.session.id, placed.session.name.clone()),
            client: scene.client.name.clone(),
            place: scene.place.name.clone(),
            asked: asked(app, placed, scene),
            torso: torso::draw("t", "Regions this slot is for", &work, &wanted),
            found: match answer.candidates.len() {
                0 => "nothing fits this room".into(),
                1 => "1 fits this room".into(),
                n => format!("{n} fit this room"),
            },
            rows: rows.collect(),
            ruled_out: ruled_out(answer),
            stopped: scene.stopped,
            limited: limited(answer),
            picked: chosen.map(|c| picked(app, scene, placed, c, in_force(c))),
            chrome: chrome.titled(heading.clone()),
            heading,
        }
    }
}

/// The picked candidate's regions, at a level that shows direct and assisting work apart.
fn work_of(candidate: &Candidate<'_>) -> std::collections::BTreeMap<bavrek_core::anatomy::Region, Work> {
    let movement = candidate.movement;
    let direct = movement.direct.iter().map(|(r, w)| (*r, Work { direct: w * torso::FULL * 0.8, assisting: 0.0 }));
    let assisting =
        movement.assisting.iter().map(|(r, w)| (*r, Work { direct: 0.0, assisting: w * torso::FULL * 0.4 }));
    direct.chain(assisting).collect()
}

fn asked(app: &App, placed: &PlacedSlot, scene: &Scene) -> Vec<(&'static str, String)> {
    let intent = &placed.slot.intent;
    let mut asked = vec![("Pattern", intent.pattern.label().to_owned())];
    asked.push(("Region", intent.regions.keys().map(|r| r.label()).collect::<Vec<_>>().join(", ")));
    if let Some(arm) = intent.arm_position {
        asked.push(("Arm", arm.label().to_owned()));
    }
    if let Some(emphasis) = intent.length_emphasis {
        asked.push(("Hardest", emphasis.label().to_owned()));
    }
    asked.push(("Dose", intent.prescription().text()));
    if let Some(reference) = intent.reference_exercise.as_deref().and_then(|id| app.catalogue.movement(id)) {
        asked.push(("Replaces", reference.name.clone()));
    }
    if !scene.person.limits.is_empty() {
        asked.push((
            "Limits",
            scene.person.limits.iter().map(bavrek_core::person::Limit::text).collect::<Vec<_>>().join("; "),
        ));
    }
    asked
}

fn percent(part: f64) -> String {
    format!("{:.0}", part * 100.0)
}

fn row(rank: usize, candidate: &Candidate<'_>, on: bool, current: bool) -> Row {
    let step = candidate.step();
    let surface = step.setup.surface.map_or_else(String::new, |s| format!(", {}", s.label()));
    Row {
        rank,
        id: candidate.movement.id.clone(),
        name: candidate.movement.name.clone(),
        how: format!("{}{surface}", step.label),
        warning: candidate.lost.first().cloned(),
        glyph: glyph::path(&step.implements),
        words: glyph::words(&step.implements),
        bars: [
            ("target kept", "t", percent(candidate.parts.targeting)),
            ("tension kept", "f", percent(candidate.parts.tension)),
            ("room to grow", "r", percent(candidate.parts.steps)),
        ],
        start: format!("{:.1}", step.effective_kg.two_figures()),
        on,
        current,
        eased: candidate.parts.joints < 1.0,
    }
}

/// How many movements the limits rule out here and count against.
fn limited(answer: &FitAnswer<'_>) -> Option<String> {
    let by_limit = |e: &&Excluded<'_>| e.why.iter().any(|w| w.code == ExclusionCode::Limit);
    let out = answer.excluded.iter().filter(by_limit).count();
    let eased = answer.candidates.iter().filter(|c| c.parts.joints < 1.0).count();
    (out + eased > 0).then(|| format!("Limits rule out {out} movements for this slot and count against {eased}."))
}

fn ruled_out(answer: &FitAnswer<'_>) -> Vec<RuledOut> {
    answer
        .excluded
        .iter()
        .map(|e| RuledOut {
            name: e.movement.name.clone(),
            why: e.why.iter().map(|w| w.text.as_str()).collect::<Vec<_>>().join("; "),
        })
        .collect()
}

fn picked(app: &App, scene: &Scene, placed: &PlacedSlot, candidate: &Candidate<'_>, current: bool) -> Picked {
    let (movement, step) = (candidate.movement, candidate.step());
    let reference = placed.slot.intent.reference_exercise.as_deref().and_then(|id| app.catalogue.movement(id));
    let wanted = reference.and_then(|reference| {
        let ladder = Ladder::anywhere(reference, &scene.person);
        let plain = ladder.steps.iter().find(|s| s.bands.is_empty()).or_else(|| ladder.steps.first())?;
        Some((reference.name.clone(), plain.curve.clone(), plain.thirds))
    });
    let wanted = wanted.as_ref().map(|(_, curve, thirds)| Shape { name: "wanted".into(), curve, thirds: *thirds });
    let found = Shape { name: "here".into(), curve: &step.curve, thirds: step.thirds };
    Picked {
        id: movement.id.clone(),
        name: movement.name.clone(),
        how: step.setup.text(),
        rig: drawing(movement, scene, step),
        rig_page: crate::features::rig::forms::address(placed.slot.id, movement, step),
        curves: curves::draw(&found, wanted.as_ref()),
        ladder: ladder::draw(&candidate.ladder, candidate.start.step),
        load: format!("{:.1}", step.effective_kg.two_figures()),
        start: step.label.clone(),
        kept: candidate.kept.clone(),
        lost: candidate.lost.clone(),
        cautions: candidate.cautions.iter().map(|c| c.text.clone()).collect(),
        reasons: candidate.reasons.clone(),
        parts: Parts::NAMES.into_iter().zip(candidate.parts.values().map(percent)).collect(),
        cues: [
            ("Set up", movement.cues.set_up.clone()),
            ("Do", movement.cues.action.clone()),
            ("Feel", movement.cues.feel.clone()),
            ("Avoid", movement.cues.avoid.clone()),
        ],
        disputed: movement
            .disputed
            .as_ref()
            .map(|views| format!("{views} Confidence {} %.", trim_number(movement.confidence * 100.0, 0))),
        current,
    }
}

fn drawing(movement: &Movement, scene: &Scene, step: &LadderStep) -> Option<RigPicture> {
    let rigged = Rigged::new(movement, &scene.person, step.setup);
    let loads = step.loads(&scene.place.kit);
    let assembly = rigged.load(&loads).ok();
    let figure = Figure::of(&rigged, &loads, assembly.as_ref())?;
    let stature = scene.person.height_m.value();
    Some(rig::draw(&movement.name, &figure, assembly.as_ref(), stature, rig::Detail::Whole))
}
