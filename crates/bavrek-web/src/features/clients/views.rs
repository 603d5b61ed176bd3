//! What the client page shows, ready to be written down.

use std::collections::BTreeMap;

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::anatomy::Region;
use bavrek_core::strength::{Ledger, reps};
use bavrek_core::units::{Kilograms, trim_number};
use bavrek_store::clients::PlaceHead;
use bavrek_store::kit::Piece;
use bavrek_store::sessions::SessionHead;
use chrono::Duration;
use uuid::Uuid;

use super::forms::{FIELDS, KINDS, KitForm};
use crate::chrome::Chrome;
use crate::features::roster::day;
use crate::features::scene::Scene;
use crate::pictures::shelf::{self, Shelf};
use crate::pictures::torso::{self, Torso, Work};
use crate::state::App;

/// Days of work that the torso shows.
const TORSO_DAYS: i64 = 7;

#[derive(Template, WebTemplate)]
#[template(path = "clients/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    id: Uuid,
    name: String,
    goal: String,
    facts: Vec<(&'static str, String)>,
    limits: Vec<(String, String)>,
    torso: Torso,
    worked: Vec<(String, String)>,
    sessions: Vec<(Uuid, String, String)>,
    strength: Vec<(String, String, String)>,
    places: Vec<(Uuid, String, bool)>,
    place: Uuid,
    place_name: String,
    shelf: Shelf,
    pieces: Vec<(Uuid, String)>,
    removed: Option<Uuid>,
    form: FormView,
}

/// The kit form with what was typed.
pub(super) struct FormView {
    id: Uuid,
    kinds: Vec<(&'static str, &'static str, bool)>,
    fields: Vec<FieldView>,
    pounds: bool,
    door: bool,
    open: bool,
    kind_error: Option<String>,
}

struct FieldView {
    name: &'static str,
    label: &'static str,
    kinds: &'static str,
    example: &'static str,
    value: String,
    error: Option<String>,
}

impl Page {
    #[expect(clippy::too_many_arguments, reason = "a page is put together from what was loaded for it")]
    pub(super) fn new(
        chrome: Chrome,
        app: &App,
        scene: &Scene,
        places: &[PlaceHead],
        pieces: &[Piece],
        planned: &[SessionHead],
        ledger: &Ledger<'_>,
        removed: Option<Uuid>,
        form: &KitForm,
    ) -> Self {
        let client = &scene.client;
        let work = recent_work(app, scene);
        let mut worked: Vec<_> = work.iter().filter(|(_, w)| w.direct > 0.0).collect();
        worked.sort_by(|a, b| b.1.direct.total_cmp(&a.1.direct));
        let title = format!("Hard sets of the last seven days; a full panel is {} sets", torso::FULL);
        Self {
            chrome,
            id: client.id,
            name: client.name.clone(),
            goal: client.goal.clone(),
            facts: facts(scene),
            limits: scene.limits.iter().map(|l| (l.rule.text(), l.note.clone())).collect(),
            worked: worked.iter().map(|(r, w)| (r.label().to_owned(), trim_number(w.direct, 1))).collect(),
            torso: torso::draw("t", &title, &work, &[]),
            sessions: planned
                .iter()
                .map(|s| (s.id, s.name.clone(), format!("{}, {} min", day(s.planned_on, scene.today), s.minutes)))
                .collect(),
            strength: strength(app, ledger),
            places: places.iter().map(|p| (p.id, p.name.clone(), p.id == scene.place_head.id)).collect(),
            place: scene.place_head.id,
            place_name: scene.place.name.clone(),
            shelf: shelf::draw(&scene.place.name, &scene.place.kit),
            pieces: pieces.iter().map(|p| (p.id, p.item.text())).collect(),
            removed: removed.filter(|id| pieces.iter().all(|p| p.id != *id)),
            form: FormView::new(form),
        }
    }
}

impl FormView {
    fn new(form: &KitForm) -> Self {
        Self {
            id: bavrek_store::new_id(),
            kinds: KINDS.iter().map(|k| (k.id, k.label, k.id == form.kind)).collect(),
            fields: FIELDS
                .iter()
                .map(|f| FieldView {
                    name: f.name,
                    label: f.label,
                    kinds: f.kinds,
                    example: f.example,
                    value: form.value(f.name).to_owned(),
                    error: form.error(f.name).map(str::to_owned),
                })
                .collect(),
            pounds: form.unit == "lb",
            door: form.door,
            open: !form.errors.is_empty(),
            kind_error: form.error("kind").map(str::to_owned),
        }
    }
}

fn facts(scene: &Scene) -> Vec<(&'static str, String)> {
    let client = &scene.client;
    let mut facts = vec![
        ("Body mass", format!("{:.1}", client.body_mass)),
        ("Height", format!("{:.2}", client.height)),
        ("Experience", client.experience.label().to_owned()),
    ];
    if let Some(age) = scene.person.age_years {
        facts.push(("Age", age.to_string()));
    }
    if let Some(sex) = client.sex {
        facts.push(("Sex", sex.label().to_owned()));
    }
    facts.push(("Time zone", client.time_zone.clone()));
    if !client.note.is_empty() {
        facts.push(("Note", client.note.clone()));
    }
    facts
}

/// Sets of the last days by region: one hard set counts by the movement's weight of the region.
fn recent_work(app: &App, scene: &Scene) -> BTreeMap<Region, Work> {
    let mut work: BTreeMap<Region, Work> = BTreeMap::new();
    let since = scene.today - Duration::days(TORSO_DAYS - 1);
    for recorded in scene.log.iter().filter(|r| r.set.date >= since) {
        let Some(movement) = app.catalogue.movement(&recorded.set.exercise) else { continue };
        for (region, weight) in &movement.direct {
            work.entry(*region).or_default().direct += weight;
        }
        for (region, weight) in &movement.assisting {
            work.entry(*region).or_default().assisting += 0.5 * weight;
        }
    }
    work
}

/// Pattern, load for ten repetitions with two in reserve, and its likely range.
fn strength(app: &App, ledger: &Ledger<'_>) -> Vec<(String, String, String)> {
    ledger
        .anchors()
        .map(|(prior, predicted)| {
            let anchor = app.catalogue.movement(&prior.anchor).map_or(prior.anchor.as_str(), |m| m.name.as_str());
            let at = |z: f64| {
                let log = reps::log_load_for(predicted.mean + z * predicted.sd, 10.0, 2.0);
                Kilograms(log.exp()).two_figures()
            };
            let range = format!("{:.1} to {:.1}", at(-1.645), at(1.645));
            (format!("{}: {anchor}", prior.name), format!("{:.1}", at(0.0)), range)
        })
        .collect()
}
