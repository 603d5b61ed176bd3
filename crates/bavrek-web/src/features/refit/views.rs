//! What the re-fit shows, ready to be written down.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::fit::{Because, Candidate, Refit};
use bavrek_core::ladder::LadderStep;
use bavrek_core::wording::told;
use uuid::Uuid;

use super::plan::{Move, MovedSlot, choice, choices};
use crate::chrome::Chrome;
use crate::features::dates::day;
use crate::features::scene::{capital, purpose};
use crate::state::App;

#[derive(Template, WebTemplate)]
#[template(path = "refit/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    client: (Uuid, String),
    from: (Uuid, String),
    to: (Uuid, String),
    only: Option<Uuid>,
    /// Where to is only thought about: nothing can be taken there before it is kept.
    proposal: bool,
    places: Vec<(Uuid, String)>,
    sessions: Vec<SessionView>,
    /// Slots, and those of them that find a movement for their job there.
    count: (usize, usize),
    stopped: bool,
}

struct SessionView {
    name: String,
    when: String,
    slots: Vec<SlotView>,
}

struct SlotView {
    name: String,
    purpose: String,
    today: Option<(String, String)>,
    pinned: bool,
    choices: Vec<(String, String)>,
    start: String,
    because: &'static str,
    bars: [(&'static str, &'static str, String); 3],
    kept: Vec<String>,
    lost: Vec<String>,
    /// What is said first where the job is not done there, or a pinned movement is impossible.
    warning: Option<String>,
    /// Left open unless the trainer chooses.
    open: bool,
}

impl Page {
    pub(super) fn new(chrome: Chrome, app: &App, plan: &Move) -> Self {
        let answers = plan.answers(app);
        let done = answers.iter().filter(|a| a.proposed.is_some_and(|(_, why)| why != Because::Nearest)).count();
        let mut rest = answers.iter();
        let scene = &plan.scene;
        let sessions = plan.sessions.iter().map(|moved| SessionView {
            name: moved.head.name.clone(),
            when: day(moved.head.planned_on, scene.today),
            slots: moved.slots.iter().zip(rest.by_ref()).map(|(slot, there)| slot_view(app, slot, there)).collect(),
        });
        Self {
            client: (scene.client.id, scene.client.name.clone()),
            from: (plan.from.id, plan.from.name.clone()),
            to: (scene.place_head.id, scene.place_head.name.clone()),
            only: plan.only,
            proposal: scene.place_head.is_proposal(),
            places: plan.places.iter().map(|p| (p.id, p.name.clone())).collect(),
            sessions: sessions.collect(),
            count: (answers.len(), done),
            stopped: scene.stopped,
            chrome: chrome.titled(format!("Re-fit to {}", scene.place_head.name)),
        }
    }
}

fn slot_view(app: &App, moved: &MovedSlot, there: &Refit<'_>) -> SlotView {
    let name = |id: &str| app.catalogue.movement(id).map_or(id.to_owned(), |m| m.name.clone());
    let proposed = there.proposed.map(|(i, why)| (&there.candidates[i], why));
    let nearest = proposed.is_some_and(|(_, why)| why == Because::Nearest);
    let asked = purpose(&moved.slot.intent);
    let pinned = moved.today.as_ref().filter(|_| there.unpinned);
    let warning = match (pinned, proposed) {
        (_, None) => Some(format!("Nothing here works {asked}. Leave it open and make up for it on the return.")),
        (_, Some((_, Because::Nearest))) => Some(format!("Nothing here does this job. Nearest for {asked}:")),
        (Some(fit), _) => Some(format!("{} is pinned and impossible there.", name(&fit.exercise))),
        _ => None,
    };
    let percent = |part: f64| format!("{:.0}", part * 100.0);
    let parts = proposed.map(|(c, _)| c.parts);
    let bar = |label, class, value: Option<f64>| (label, class, percent(value.unwrap_or(0.0)));
    SlotView {
        name: choice(moved.slot.id),
        purpose: capital(&asked),
        today: moved.today.as_ref().map(|f| (name(&f.exercise), f.step.label.clone())),
        pinned: moved.today.as_ref().is_some_and(|f| f.pinned),
        choices: choices(there)
            .into_iter()
            .map(|c| (c.movement.id.clone(), label(&c.movement.name, step_of(moved, there, c))))
            .collect(),
        start: proposed
            .map_or_else(String::new, |(c, _)| format!("{:.1}", step_of(moved, there, c).effective_kg.two_figures())),
        because: proposed.map_or("", |(_, why)| because(why)),
        bars: [
            bar("target kept", "t", parts.map(|p| p.targeting)),
            bar("tension kept", "f", parts.map(|p| p.tension)),
            bar("room to grow", "r", parts.map(|p| p.steps)),
        ],
        kept: proposed.map_or_else(Vec::new, |(c, _)| told(&c.kept)),
        lost: proposed.map_or_else(Vec::new, |(c, _)| told(&c.lost)),
        warning,
        open: nearest || proposed.is_none(),
    }
}

/// The step that choosing a candidate puts in force: as it was taken there before, or its start.
fn step_of<'s>(moved: &'s MovedSlot, there: &Refit<'_>, candidate: &'s Candidate<'_>) -> &'s LadderStep {
    moved.kept(there, &candidate.movement.id).map_or_else(|| candidate.step(), |fit| &fit.step)
}

/// A movement with its step in a list: `Dumbbell fly on the floor: pair of 8 kg, on the floor`.
fn label(name: &str, step: &LadderStep) -> String {
    let surface = step.setup.surface.map_or_else(String::new, |s| format!(", {}", s.label()));
    format!("{name}: {}{surface}", step.label)
}

const fn because(why: Because) -> &'static str {
    match why {
        Because::Before => "as it was taken there before",
        Because::Pinned => "pinned: it stays",
        Because::Same => "the movement goes on",
        Because::Best => "does the job best there",
        Because::Nearest => "the nearest there is",
    }
}
