//! What the page of an intent shows, ready to be written down.

use std::collections::BTreeMap;

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::anatomy::{Pattern, Region};
use bavrek_core::fit::{Candidate, Mate};
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::reference::Reference;
use bavrek_core::units::trim_number;
use bavrek_core::wording::told;
use bavrek_store::new_id;
use bavrek_store::sessions::{Block, SessionHead};
use bavrek_store::slots::Slot;
use uuid::Uuid;

use super::form;
use crate::chrome::Chrome;
use crate::features::scene::{Scene, capital, purpose};
use crate::features::typed::{Input, Typed, focus_first};
use crate::pictures::curves::{self, Curves, Shape};
use crate::pictures::torso::{self, Torso};
use crate::state::App;

/// Movements named as doing the job.
const NAMED: usize = 6;

/// Where the intent belongs.
pub(super) struct Seen<'a> {
    pub(super) scene: &'a Scene,
    pub(super) session: &'a SessionHead,
    pub(super) blocks: &'a [Block],
    pub(super) slot: Option<&'a Slot>,
}

#[derive(Template, WebTemplate)]
#[template(path = "intents/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    session: (Uuid, String),
    client: String,
    place: String,
    /// The slot that is changed; none for a new one.
    slot: Option<Uuid>,
    id: Uuid,
    version: i32,
    action: String,
    reference: Input,
    movements: Vec<String>,
    kind: Vec<Input>,
    dose: Vec<Input>,
    /// How its repetitions are done.
    execution: Vec<Input>,
    /// The dose in one line, which stands before the fields.
    line: Input,
    block: Vec<Input>,
    regions: Vec<RegionRow>,
    /// The regions as a picture in which they are chosen, and in words.
    chooser: Torso,
    chosen: String,
    /// What each pattern usually trains, as JSON: choosing one fills it in.
    usual: String,
    /// Whether a figure of a region is wrong, so that the figures are shown.
    wrong_figure: bool,
    regions_error: Option<String>,
    answer: Option<Answer>,
    /// What was saved in another window.
    meanwhile: Option<String>,
    stopped: bool,
}

struct RegionRow {
    field: String,
    label: &'static str,
    weight: String,
    wrong: bool,
}

/// What the intent leads to here.
struct Answer {
    heading: String,
    shares: String,
    found: String,
    /// Name, start, and how well it does the job in percent.
    best: Vec<(String, String, String)>,
    nearest: Option<String>,
    notes: Vec<String>,
    reference: Option<Curves>,
}

impl Page {
    pub(super) fn new(
        chrome: Chrome,
        app: &App,
        seen: &Seen<'_>,
        typed: &Typed,
        intent: Option<&Intent>,
        beside: &[Mate<'_>],
    ) -> Self {
        let title = if seen.slot.is_some() { "What the slot is for" } else { "A new slot" };
        let action = match seen.slot {
            Some(slot) => format!("/slots/{}/intent", slot.id),
            None => format!("/sessions/{}/slots", seen.session.id),
        };
        let mut reference =
            [Input::text(typed, "reference", "In place of", "cable fly, pulldown, skull crusher").kind("movement")];
        let mut kind = form::kind_inputs(typed);
        let refused = kind.iter().any(|i| i.error.is_some());
        // What is filled in already waits for its key, not for a name.
        if refused {
            focus_first(&mut kind);
        } else if typed.value("pattern").is_empty() {
            focus_first(&mut reference);
        }
        let [reference] = reference;
        let weights = form::weights(typed);
        Self {
            chrome: chrome.titled(title),
            session: (seen.session.id, seen.session.name.clone()),
            client: seen.scene.client.name.clone(),
            place: seen.scene.place.name.clone(),
            slot: seen.slot.map(|s| s.id),
            id: typed.value("id").parse().unwrap_or_else(|_| new_id()),
            version: typed.value("version").parse().unwrap_or(seen.slot.map_or(0, |s| s.version)),
            action,
            reference,
            movements: names(app),
            kind,
            dose: form::dose_inputs(typed),
            execution: form::execution_inputs(typed),
            line: form::line_input(typed),
            block: session_inputs(seen, typed),
            chooser: torso::draw_choice("t", "Regions: press one until it counts as much as it should", &weights),
            chosen: chosen(&weights),
            usual: usual(app),
            wrong_figure: Region::ALL.iter().any(|r| typed.error(&form::region_field(*r)).is_some()),
            regions: Region::ALL.iter().map(|r| region_row(*r, typed)).collect(),
            regions_error: form::regions_error(typed),
            answer: intent.map(|intent| answer(app, seen.scene, intent, beside)),
            meanwhile: None,
            stopped: seen.scene.stopped,
        }
    }

    /// Says what somebody else saved meanwhile, and lets the next save win over that.
    pub(super) fn changed_meanwhile(mut self, version: i32, stored: &Intent) -> Self {
        let stored = format!("{}: {}, {}", stored.pattern, purpose(stored), stored.dose.prescription().text());
        self.meanwhile = Some(stored);
        self.version = version;
        self
    }
}

/// Every movement of the catalogue and of a gym by name.
fn names(app: &App) -> Vec<String> {
    let home = app.catalogue.movements.iter().map(|m| m.name.clone());
    home.chain(app.catalogue.gym.values().map(|g| g.name.clone())).collect()
}

/// The chosen regions in words, those that count most first.
fn chosen(weights: &BTreeMap<Region, f64>) -> String {
    let mut all: Vec<_> = weights.iter().collect();
    all.sort_by(|a, b| b.1.total_cmp(a.1));
    all.into_iter()
        .map(|(region, weight)| format!("{region} {}", trim_number(*weight, 2)))
        .collect::<Vec<_>>()
        .join(" · ")
}

/// What each pattern usually trains: `{"fly": {"region_chest_sternal": 1}}`.
fn usual(app: &App) -> String {
    let of = |pattern: &Pattern| {
        let regions = app.catalogue.usual_regions(*pattern);
        let fields = regions.into_iter().map(|(region, weight)| (form::region_field(region), weight));
        (pattern.id(), fields.collect::<BTreeMap<_, _>>())
    };
    let all: BTreeMap<_, _> = Pattern::ALL.iter().map(of).collect();
    serde_json::to_string(&all).unwrap_or_default()
}

fn region_row(region: Region, typed: &Typed) -> RegionRow {
    let field = form::region_field(region);
    RegionRow {
        label: region.label(),
        weight: typed.value(&field).to_owned(),
        wrong: typed.error(&field).is_some(),
        field,
    }
}

/// How the line stands in its session: a new one can join a block.
fn session_inputs(seen: &Seen<'_>, typed: &Typed) -> Vec<Input> {
    let joins = seen.slot.is_none() && !seen.blocks.is_empty();
    let mut inputs = if joins { form::block_inputs(typed, &blocks(seen.blocks)) } else { Vec::new() };
    inputs.push(form::optional_input(typed));
    inputs
}

/// The blocks a new slot can join, by what their slots are for.
fn blocks(blocks: &[Block]) -> Vec<(String, String)> {
    let words = |block: &Block| {
        let slots: Vec<_> = block.slots.iter().map(|s| purpose(&s.intent)).collect();
        let kind = (block.kind != BlockKind::Straight).then(|| format!(" ({})", block.kind));
        format!("with {}{}", slots.join(" and "), kind.unwrap_or_default())
    };
    blocks.iter().map(|b| (b.id.to_string(), words(b))).collect()
}

fn answer(app: &App, scene: &Scene, intent: &Intent, beside: &[Mate<'_>]) -> Answer {
    let fitter = scene.fitter(app);
    let found = fitter.fit_beside(intent, beside);
    let total: f64 = intent.regions.values().sum();
    let share = |(region, weight): (&Region, &f64)| format!("{region} {:.0} %", weight / total * 100.0);
    let nearest = if found.candidates.is_empty() { fitter.nearest(intent) } else { None };
    Answer {
        heading: capital(&format!("{}: {}", intent.pattern, purpose(intent))),
        shares: intent.regions.iter().map(share).collect::<Vec<_>>().join(", "),
        found: match found.candidates.len() {
            0 => format!("Nothing at {} does this job.", scene.place.name),
            1 => format!("1 movement does this at {}.", scene.place.name),
            n => format!("{n} movements do this at {}.", scene.place.name),
        },
        best: found.candidates.iter().take(NAMED).map(named).collect(),
        nearest: nearest.map(|c| format!("The nearest is {}: {}.", c.movement.name, told(&c.lost).join("; "))),
        notes: told(&found.notes),
        reference: found.reference.as_ref().map(curve),
    }
}

fn named(candidate: &Candidate<'_>) -> (String, String, String) {
    (candidate.movement.name.clone(), candidate.step().label.clone(), format!("{:.0}", candidate.score * 100.0))
}

fn curve(reference: &Reference) -> Curves {
    curves::draw(&Shape { name: reference.name.clone(), curve: &reference.curve, thirds: reference.thirds }, None)
}
