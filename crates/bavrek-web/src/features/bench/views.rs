//! What the swap bench shows, ready to be written down.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::anatomy::Implement;
use bavrek_core::dose::StopRule;
use bavrek_core::fit::{Candidate, Excluded, ExclusionCode, FitAnswer, JointCurves, Parts, Verdict};
use bavrek_core::plan::Intent;
use bavrek_core::reference::{Named, Reference};
use bavrek_core::safety::cautions;
use bavrek_core::units::trim_number;
use bavrek_core::volume::RegionSets;
use bavrek_core::wording::told;
use bavrek_store::fits::Fit;
use bavrek_store::new_id;
use bavrek_store::slots::{PlacedSlot, Slot};
use uuid::Uuid;

use super::Asked;
use crate::chrome::Chrome;
use crate::features::catalogue::{gym_named, named};
use crate::features::scene::{Scene, capital, handled, movements, purpose};
use crate::pictures::curves::{self, Curves, Joints, Shape};
use crate::pictures::glyph;
use crate::pictures::ladder::{self, Excerpt};
use crate::pictures::rig::{self, RigPicture};
use crate::pictures::torso::{self, Torso};
use crate::state::App;

/// Candidates shown as rows; the rest would not be taken anyway.
const MOST: usize = 8;

#[derive(Template, WebTemplate)]
#[template(path = "bench/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    slot: Uuid,
    /// For the anchor as it would be moved.
    anchor_id: Uuid,
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
    beside: Option<Beside>,
    filters: Vec<Filter>,
    /// Addresses of the row before and after the picked one.
    around: [Option<String>; 2],
    movements: Vec<String>,
    why: String,
    because: Vec<String>,
    /// The movement that was just put aside.
    put_aside: Option<(String, String)>,
    /// A reason that could not be taken, as typed, and what is wrong with it.
    refused: Option<(String, String)>,
    notes: Vec<String>,
    /// New fits wait for a clearance.
    stopped: bool,
    /// Whether a candidate can be taken for every second week of a plan.
    pub(super) alternates: bool,
    /// What the limits changed here.
    limited: Option<String>,
}

struct Row {
    rank: usize,
    name: String,
    how: String,
    warning: Option<String>,
    glyph: &'static str,
    words: String,
    bars: [(&'static str, &'static str, String); 3],
    start: String,
    address: String,
    /// Where it is set beside the picked one.
    compare: Option<String>,
    on: bool,
    current: bool,
    /// A limit counts against it.
    eased: bool,
}

struct RuledOut {
    id: String,
    name: String,
    why: String,
    put_aside: bool,
    /// Where an anchor that is here would have to be, and that in words.
    move_to: Option<(String, String)>,
}

/// A choice of implement: its words, where it leads, and whether it is on.
type Filter = (String, String, bool);

/// Two candidates side by side.
struct Beside {
    names: [String; 2],
    rows: Vec<(&'static str, [String; 2])>,
    alone: String,
}

struct Picked {
    id: String,
    name: String,
    how: String,
    rig: Option<RigPicture>,
    rig_page: String,
    curves: Curves,
    joints: Option<Joints>,
    ladder: Excerpt,
    load: String,
    start: String,
    kept: Vec<String>,
    lost: Vec<String>,
    cautions: Vec<String>,
    reasons: Vec<String>,
    parts: Vec<(&'static str, String)>,
    cues: Vec<(&'static str, String)>,
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
        asked_for: &Asked,
    ) -> Self {
        let intent = &placed.slot.intent;
        let wanted: Vec<_> = intent.regions.keys().copied().collect();
        let shown: Vec<(usize, &Candidate<'_>)> = shown(answer, asked_for);
        let called = |id: Option<&String>| answer.candidates.iter().find(|c| id.is_some_and(|id| *id == c.movement.id));
        let chosen = called(asked_for.pick.as_ref()).or_else(|| shown.first().map(|(_, c)| *c));
        let beside =
            called(asked_for.beside.as_ref()).filter(|b| chosen.is_some_and(|c| c.movement.id != b.movement.id));
        let address = |id: &str| address(placed.slot.id, id, known(&asked_for.with), None);
        let work = chosen.map(|c| work_of(c)).unwrap_or_default();
        let heading = capital(&format!("{}: {}", intent.pattern, purpose(intent)));
        let in_force = |c: &Candidate<'_>| current.is_some_and(|f| f.exercise == c.movement.id);
        let picked_id = chosen.map(|c| c.movement.id.as_str());
        let rows = shown.iter().map(|(rank, c)| {
            let on = picked_id == Some(c.movement.id.as_str());
            let compare =
                picked_id.filter(|_| !on).map(|id| beside_address(placed.slot.id, id, asked_for, &c.movement.id));
            Row { address: address(&c.movement.id), compare, ..row(rank + 1, c, on, in_force(c)) }
        });
        let at = shown.iter().position(|(_, c)| picked_id == Some(c.movement.id.as_str()));
        let around = [at.and_then(|i| i.checked_sub(1)), at.map(|i| i + 1)]
            .map(|i| i.and_then(|i| shown.get(i)).map(|(_, c)| address(&c.movement.id)));
        Self {
            slot: placed.slot.id,
            anchor_id: new_id(),
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
            around,
            beside: chosen.zip(beside).map(|(a, b)| compare(a, b, address(&a.movement.id))),
            filters: filters(answer, placed.slot.id, &asked_for.with),
            movements: app.catalogue.movements.iter().map(|m| m.name.clone()).collect(),
            because: because(app, intent, answer, &asked_for.why),
            why: asked_for.why.clone(),
            put_aside: app.catalogue.movement(&asked_for.aside).map(|m| (m.id.clone(), m.name.clone())),
            refused: asked_for
                .refused
                .as_ref()
                .map(|t| (t.value("reason").to_owned(), t.error("reason").unwrap_or_default().to_owned())),
            notes: told(&answer.notes),
            ruled_out: ruled_out(answer),
            stopped: scene.stopped,
            alternates: false,
            limited: limited(answer),
            picked: chosen.map(|c| picked(app, scene, &placed.slot, c, answer.reference.as_ref(), in_force(c))),
            chrome: chrome.titled(heading.clone()),
            heading,
        }
    }
}

/// The candidates with their ranks that the filter leaves, as many as are shown.
fn shown<'a, 'c>(answer: &'a FitAnswer<'c>, asked: &Asked) -> Vec<(usize, &'a Candidate<'c>)> {
    let wanted = Implement::from_id(&asked.with);
    let with = |c: &Candidate<'_>| wanted.is_none_or(|w| c.step().implements.contains(&w));
    answer.candidates.iter().enumerate().filter(|(_, c)| with(c)).take(MOST).collect()
}

/// Where a candidate is shown, with what else the address keeps.
fn address(slot: Uuid, pick: &str, with: &str, beside: Option<&str>) -> String {
    let with = if with.is_empty() { String::new() } else { format!("&with={with}") };
    let beside = beside.map_or_else(String::new, |id| format!("&beside={id}"));
    format!("/slots/{slot}/bench?pick={pick}{with}{beside}")
}

fn beside_address(slot: Uuid, pick: &str, asked: &Asked, beside: &str) -> String {
    address(slot, pick, known(&asked.with), Some(beside))
}

/// The identifier of an implement as it was asked for; nothing for what is none.
fn known(with: &str) -> &str {
    Implement::from_id(with).map_or("", Implement::id)
}

/// All, and every implement that some candidate uses.
fn filters(answer: &FitAnswer<'_>, slot: Uuid, with: &str) -> Vec<Filter> {
    let used = |i: &&Implement| answer.candidates.iter().any(|c| c.step().implements.contains(i));
    let each = Implement::ALL
        .iter()
        .filter(used)
        .map(|i| (i.label().to_owned(), format!("/slots/{slot}/bench?with={}", i.id()), i.id() == with));
    std::iter::once(("all".to_owned(), format!("/slots/{slot}/bench"), known(with).is_empty())).chain(each).collect()
}

fn compare(a: &Candidate<'_>, b: &Candidate<'_>, alone: String) -> Beside {
    let both = |name, value: &dyn Fn(&Candidate<'_>) -> String| (name, [value(a), value(b)]);
    let mut rows = vec![both("score", &|c| percent(c.score))];
    rows.extend(Parts::NAMES.into_iter().enumerate().map(|(i, name)| both(name, &|c| percent(c.parts.values()[i]))));
    rows.push(both("start", &|c| c.step().label.clone()));
    rows.push(both("set up", &|c| format!("{:.0} s", c.step().set_up_s.value())));
    rows.push(both("lost", &|c| told(&c.lost).join("; ")));
    Beside { names: [a, b].map(|c| c.movement.name.clone()), rows, alone }
}

/// Why the movement that was asked about has its place, or none.
fn because(app: &App, intent: &Intent, answer: &FitAnswer<'_>, why: &str) -> Vec<String> {
    if why.trim().is_empty() {
        return Vec::new();
    }
    if let Some(gym) = gym_named(&app.catalogue, why) {
        let station = gym.station;
        return vec![format!(
            "{} needs a {station}, which no room here has. A slot can be measured against it.",
            gym.name
        )];
    }
    let movement = match named(&app.catalogue, why) {
        Ok(movement) => movement,
        Err(unclear) => return vec![format!("{}.", capital(&unclear.says(why.trim())))],
    };
    let name = &movement.name;
    vec![match answer.verdict(movement, intent) {
        Verdict::Ranked(0, _) => format!("{name} ranks first here."),
        Verdict::Ranked(place, behind) => format!(
            "{name} ranks {} of {} here. It is behind the first in: {}.",
            place + 1,
            answer.candidates.len(),
            if behind.is_empty() { "nothing, by a hair".to_owned() } else { behind.join(", ") }
        ),
        Verdict::Excluded(why) => {
            format!("{name} is ruled out here: {}.", told(&why).join("; "))
        }
        Verdict::OffTarget(instead) => format!("{name} does another job: {instead}."),
    }]
}

/// The picked candidate's regions, at a level that shows direct and assisting work apart.
fn work_of(candidate: &Candidate<'_>) -> std::collections::BTreeMap<bavrek_core::anatomy::Region, RegionSets> {
    let movement = candidate.movement;
    let direct =
        movement.direct.iter().map(|(r, w)| (*r, RegionSets { direct: w * torso::FULL * 0.8, assisting: 0.0 }));
    let assisting =
        movement.assisting.iter().map(|(r, w)| (*r, RegionSets { direct: 0.0, assisting: w * torso::FULL * 0.4 }));
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
    asked.push(("Dose", intent.dose.prescription().text()));
    if let Some(sides) = intent.sides {
        asked.push(("Sides", sides.label().to_owned()));
    }
    if let Some(stop) = intent.dose.stop.filter(|s| *s != StopRule::Reserve) {
        asked.push(("Stop", stop.label().to_owned()));
    }
    if let Some(reference) = intent.reference_exercise.as_deref().and_then(|id| Named::find(&app.catalogue, id)) {
        asked.push(("Replaces", reference.name().to_owned()));
    }
    if let Some(method) = scene.method {
        asked.push(("School", method.label().to_owned()));
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
        name: candidate.movement.name.clone(),
        how: format!("{}{surface}", step.label),
        warning: candidate.lost.first().map(ToString::to_string),
        glyph: glyph::path(&step.implements),
        words: glyph::words(&step.implements),
        bars: [
            ("target kept", "t", percent(candidate.parts.targeting)),
            ("tension kept", "f", percent(candidate.parts.tension)),
            ("room to grow", "r", percent(candidate.parts.steps)),
        ],
        start: format!("{:.1}", step.effective_kg.two_figures()),
        address: String::new(),
        compare: None,
        on,
        current,
        eased: candidate.parts.joints < 1.0,
    }
}

/// How many movements the limits rule out here and count against.
fn limited(answer: &FitAnswer<'_>) -> Option<String> {
    let by_limit = |e: &&Excluded<'_>| e.why.iter().any(|w| w.code() == ExclusionCode::Limit);
    let out = answer.excluded.iter().filter(by_limit).count();
    let eased = answer.candidates.iter().filter(|c| c.parts.joints < 1.0).count();
    match (out, eased) {
        (0, 0) => None,
        (out, 0) => Some(format!("Limits rule out {} for this slot.", movements(out))),
        (0, eased) => Some(format!("Limits count against {} for this slot.", movements(eased))),
        (out, eased) => {
            Some(format!("Limits rule out {} for this slot and count against {eased} more.", movements(out)))
        }
    }
}

fn ruled_out(answer: &FitAnswer<'_>) -> Vec<RuledOut> {
    answer
        .excluded
        .iter()
        .map(|e| RuledOut {
            id: e.movement.id.clone(),
            put_aside: e.why.iter().any(|w| w.code() == ExclusionCode::PutAside),
            name: e.movement.name.clone(),
            why: told(&e.why).join("; "),
            // Worth it only where nothing else is in the way.
            move_to: match e.why.as_slice() {
                [one] => one.move_anchor_to().map(|h| (trim_number(h.value(), 2), h.to_string())),
                _ => None,
            },
        })
        .collect()
}

fn picked(
    app: &App,
    scene: &Scene,
    slot: &Slot,
    candidate: &Candidate<'_>,
    reference: Option<&Reference>,
    current: bool,
) -> Picked {
    let (movement, step) = (candidate.movement, candidate.step());
    let wanted = reference.map(|r| Shape { name: "wanted".into(), curve: &r.curve, thirds: r.thirds });
    let found = Shape { name: "here".into(), curve: &step.curve, thirds: step.thirds };
    Picked {
        id: movement.id.clone(),
        name: movement.name.clone(),
        how: step.setup.text(),
        rig: scene.drawing(movement, step, rig::Detail::Whole),
        rig_page: crate::features::rig::forms::address(slot.id, movement, step),
        curves: curves::draw(&found, wanted.as_ref()),
        joints: JointCurves::of(movement, &scene.person, step).as_ref().and_then(curves::joints),
        ladder: ladder::draw(&candidate.ladder, candidate.start.step),
        load: format!("{:.1}", step.effective_kg.two_figures()),
        start: step.label.clone(),
        kept: told(&candidate.kept),
        lost: told(&candidate.lost),
        cautions: cautions(&app.catalogue, movement, step, &scene.place.kit).into_iter().map(|c| c.text).collect(),
        reasons: told(&candidate.reasons),
        parts: Parts::NAMES.into_iter().zip(candidate.parts.values().map(percent)).collect(),
        cues: [
            ("Set up", movement.cues.set_up.clone()),
            ("Do", slot.intent.execution.cue(&movement.cues.action, slot.intent.part_for(movement).is_some())),
            ("Feel", movement.cues.feel.clone()),
            ("Avoid", movement.cues.avoid.clone()),
        ]
        .into_iter()
        .chain(movement.views.clone().map(|views| ("In two ways", views)))
        .chain(handled(movement, step))
        .collect(),
        disputed: movement
            .disputed
            .as_ref()
            .map(|disputed| format!("{disputed} Confidence {} %.", trim_number(movement.confidence * 100.0, 0))),
        current,
    }
}
