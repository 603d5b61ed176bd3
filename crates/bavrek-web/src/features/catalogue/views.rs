//! One movement: its drawing, its numbers, its words; and the form of an own one.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::example::Example;
use bavrek_core::figure::Figure;
use bavrek_core::fit::JointCurves;
use bavrek_core::mechanics::single_joint::JointAction;
use bavrek_core::movement::{AdjustmentUnit, Movement, SupportKind};
use bavrek_core::person::Person;
use bavrek_core::rigging::Setup;
use bavrek_core::rigging::{Assembly, Loaded, Rigged};
use bavrek_core::units::trim_number;
use bavrek_core::volume::RegionSets;
use bavrek_store::movements;
use bavrek_store::places::ClientPlace;
use uuid::Uuid;

use super::forms::{FieldView, OwnForm, RegionRow};
use crate::chrome::Chrome;
use crate::features::scene::{capital, handled, likely};
use crate::pictures::curves::{self, Curves, Joints, Shape};
use crate::pictures::rig::{self, RigPicture};
use crate::pictures::torso::{self, Torso};
use crate::state::App;

/// The drawing with what it says.
pub(super) struct Drawing {
    picture: Option<RigPicture>,
    curves: Option<Curves>,
    joints: Option<Joints>,
    refusal: Option<String>,
    load: Option<(String, String)>,
    notices: Vec<String>,
}

impl Drawing {
    fn of(app: &App, movement: &Movement, person: &Person) -> (Self, Example) {
        let example = Example::of(&app.catalogue, movement, person);
        let (rigged, result) = example.rig(movement, person);
        let assembly = result.as_ref().ok();
        let figure = Figure::of(&rigged, &example.loads, assembly);
        let stature = person.height_m.value();
        let drawing = Self {
            picture: figure.map(|f| rig::draw(&movement.name, &f, assembly, stature, rig::Detail::Whole)),
            curves: assembly.map(curve),
            joints: example
                .step
                .as_ref()
                .and_then(|step| JointCurves::of(movement, person, step))
                .as_ref()
                .and_then(curves::joints),
            refusal: result.as_ref().err().map(|e| capital(&e.to_string())),
            load: assembly
                .zip(example.step.as_ref())
                .map(|(a, step)| (format!("{:.1}", a.effective().two_figures()), step.label.clone())),
            notices: assembly.map(|a| a.notices.iter().map(|n| capital(&n.text())).collect()).unwrap_or_default(),
        };
        (drawing, example)
    }
}

fn curve(assembly: &Assembly) -> Curves {
    let line = assembly.curve();
    curves::draw(&Shape { name: "resistance".into(), curve: &line, thirds: assembly.thirds }, None)
}

#[derive(Template, WebTemplate)]
#[template(path = "catalogue/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    id: String,
    name: String,
    also: String,
    own: bool,
    /// Whose proportions can be drawn.
    figures: Vec<(Uuid, String, bool)>,
    name_note: Option<String>,
    disputed: Option<String>,
    /// Both views of how it is done.
    views: Option<String>,
    drawing: Drawing,
    torso: Torso,
    regions: Vec<(String, String, String)>,
    facts: Vec<(&'static str, String)>,
    cues: Vec<(&'static str, String)>,
    cautions: Vec<String>,
    limits: Vec<String>,
    easier: Option<(String, String)>,
    harder: Option<(String, String)>,
    like: Vec<(String, String)>,
    rig: String,
}

impl Page {
    pub(super) fn new(
        chrome: Chrome,
        app: &App,
        movement: &Movement,
        person: &Person,
        client: Option<Uuid>,
        places: &[ClientPlace],
    ) -> Self {
        let (drawing, example) = Drawing::of(app, movement, person);
        let work =
            movement.direct.iter().map(|(r, w)| (*r, RegionSets { direct: w * torso::FULL * 0.8, assisting: 0.0 }));
        let helps =
            movement.assisting.iter().map(|(r, w)| (*r, RegionSets { direct: 0.0, assisting: w * torso::FULL * 0.4 }));
        let neighbour = |id: &Option<String>| {
            id.as_deref().and_then(|id| app.catalogue.movement(id)).map(|m| (m.id.clone(), m.name.clone()))
        };
        Self {
            id: movement.id.clone(),
            name: movement.name.clone(),
            also: movement.synonyms.join(", "),
            own: movements::row_id(&movement.id).is_some(),
            name_note: movement.name_note.clone(),
            views: movement.views.clone(),
            disputed: movement
                .disputed
                .as_ref()
                .map(|views| format!("{views} Confidence {:.0} %.", movement.confidence * 100.0)),
            torso: torso::draw("t", "Regions it trains", &work.chain(helps).collect(), &[]),
            regions: regions(movement),
            facts: facts(movement, &example, person),
            cues: [
                ("Set up", movement.cues.set_up.clone()),
                ("Do", movement.cues.action.clone()),
                ("Feel", movement.cues.feel.clone()),
                ("Avoid", movement.cues.avoid.clone()),
                ("Breathe", movement.cues.breathing.clone()),
                ("Range and tempo", movement.cues.range.clone()),
            ]
            .into_iter()
            .chain(example.step.iter().flat_map(|step| handled(movement, step)))
            .collect(),
            cautions: cautions(app, movement, &example),
            limits: movement
                .rules()
                .iter()
                .map(|rule| format!("{}: {}: {}", rule.joint, rule.what, rule.effect))
                .collect(),
            easier: neighbour(&movement.easier),
            harder: neighbour(&movement.harder),
            like: alike(
                app,
                movement,
                drawing.curves.is_some().then(|| example.step.as_ref().map(|s| s.thirds)).flatten(),
            ),
            figures: figures(places, client),
            rig: rig_address(movement, client),
            drawing,
            chrome,
        }
    }
}

/// Every client once, in the order of their names.
fn figures(places: &[ClientPlace], chosen: Option<Uuid>) -> Vec<(Uuid, String, bool)> {
    let mut figures: Vec<_> =
        places.iter().map(|p| (p.place.client_id, p.client.clone(), Some(p.place.client_id) == chosen)).collect();
    figures.dedup_by_key(|(id, ..)| *id);
    figures
}

fn rig_address(movement: &Movement, client: Option<Uuid>) -> String {
    let client = client.map_or_else(String::new, |id| format!("&client={id}"));
    format!("/rig?movement={}{client}", movement.id)
}

fn regions(movement: &Movement) -> Vec<(String, String, String)> {
    let row = |r: &bavrek_core::anatomy::Region, w: &f64, how: &str| {
        (capital(r.label()), how.to_owned(), format!("{:.0} %", w * 100.0))
    };
    let direct = movement.direct.iter().map(|(r, w)| row(r, w, "direct"));
    let assisting = movement.assisting.iter().map(|(r, w)| row(r, w, "assisting"));
    let mut rows: Vec<_> = direct.collect();
    rows.extend(assisting);
    rows
}

fn facts(movement: &Movement, example: &Example, person: &Person) -> Vec<(&'static str, String)> {
    let list = |words: Vec<&str>| words.join(", ");
    let mut facts = vec![
        ("Pattern", movement.pattern.label().to_owned()),
        ("Arm", movement.arm_position.label().to_owned()),
        ("Implements", list(movement.implements.iter().map(|i| i.label()).collect())),
        ("Hands", movement.hands.label().to_owned()),
        ("Sets are", movement.style.label().to_owned()),
    ];
    if let Some(grip) = movement.grip {
        facts.push(("Grip", grip.label().to_owned()));
    }
    facts.extend(posture(movement, person));
    let needs: Vec<String> =
        movement.needs.iter().map(|need| need.iter().map(support).collect::<Vec<_>>().join(" or ")).collect();
    if !needs.is_empty() {
        facts.push(("Needs", needs.join("; ")));
    }
    for adjustment in movement.adjustments() {
        let scale = if adjustment.unit == AdjustmentUnit::Statures { person.height_m.value() } else { 1.0 };
        let unit = if adjustment.unit == AdjustmentUnit::Degrees { "°" } else { " m" };
        let figure = |v: f64| trim_number(v * scale, if unit == "°" { 0 } else { 2 });
        facts.push((adjustment.name, format!("{} to {}{unit}", figure(adjustment.least), figure(adjustment.most))));
    }
    facts.push(("Experience", movement.experience.label().to_owned()));
    facts.push((
        "Load",
        format!(
            "{} of the pattern's yardstick, give or take {:.0} %",
            // As the load is told: what is shared by both hands counts by half.
            trim_number(movement.carry_over.ratio / movement.carry_over.basis, 2),
            movement.carry_over.log_sd * 100.0
        ),
    ));
    if let Some(step) = &example.step {
        facts.push(("Nine times in ten", likely(step.effective_kg, step.log_sd)));
    }
    facts.push(("Time", format!("{} s to set up, {} s to change the load", movement.set_up_s, movement.change_s)));
    facts.push(("Regions", format!("confidence {:.0} %", movement.confidence * 100.0)));
    facts
}

/// Stance and angles at the start and at the end.
fn posture(movement: &Movement, person: &Person) -> Vec<(&'static str, String)> {
    let mut facts = Vec::new();
    if !movement.rig.is_lever() {
        let lean = match movement.pose.trunk_to_deg {
            Some(to) => format!("{}° to {to}°", movement.pose.trunk_deg),
            None => format!("{}°", movement.pose.trunk_deg),
        };
        facts.push(("Stance", format!("{}, trunk at {lean}", movement.pose.stance.label())));
    }
    if let Some(Loaded::Joint(joint)) = Rigged::new(movement, person, Setup::default()).loaded {
        let angles = format!("{}, {}° to {}°", joint.action.label(), joint.from.value(), joint.to.value());
        facts.push(("Joint", angles));
        if matches!(joint.action, JointAction::Curl | JointAction::Extension) {
            facts.push(("Upper arm", format!("{}° from straight down", joint.upper_arm.value())));
        }
    }
    facts
}

fn support(support: &bavrek_core::movement::Support) -> String {
    match (support.kit, support.deg) {
        (SupportKind::Bench, Some([low, high])) if high > 1.0 || low < -1.0 => {
            format!("bench at {} to {}°", trim_number(low, 0), trim_number(high, 0))
        }
        (SupportKind::Bench, _) => "flat bench".to_owned(),
        (kit, _) => kit.label().to_owned(),
    }
}

fn cautions(app: &App, movement: &Movement, example: &Example) -> Vec<String> {
    let kit = bavrek_core::kit::full_room();
    match &example.step {
        Some(step) => {
            bavrek_core::safety::cautions(&app.catalogue, movement, step, &kit).into_iter().map(|c| c.text).collect()
        }
        None => movement.cautions.iter().filter_map(|code| app.catalogue.cautions.get(code).cloned()).collect(),
    }
}

/// Movements of the same pattern that are hard in the same part of the length.
fn alike(app: &App, movement: &Movement, thirds: Option<[f64; 3]>) -> Vec<(String, String)> {
    let Some(thirds) = thirds else { return Vec::new() };
    let mut near: Vec<_> = app
        .catalogue
        .movements
        .iter()
        .filter(|m| m.pattern == movement.pattern && m.id != movement.id)
        .filter_map(|m| {
            let other = app.library.thirds(&app.catalogue, m)?;
            Some((bavrek_core::mechanics::profile::share_distance(&thirds, &other), m))
        })
        .filter(|(distance, _)| *distance <= 0.12)
        .collect();
    near.sort_by(|a, b| a.0.total_cmp(&b.0));
    near.into_iter().take(6).map(|(_, m)| (m.id.clone(), m.name.clone())).collect()
}

#[derive(Template, WebTemplate)]
#[template(path = "catalogue/form.html")]
pub(super) struct FormPage {
    chrome: Chrome,
    base: (String, String),
    action: String,
    fresh: Option<Uuid>,
    groups: Vec<(&'static str, Vec<FieldView>)>,
    regions: Vec<RegionRow>,
    regions_error: Option<String>,
    caution_boxes: Vec<(String, String, bool)>,
    drawing: Drawing,
    problem: bool,
}

impl FormPage {
    /// `fresh` is the identifier that a new movement will have; without it the base itself is changed.
    pub(super) fn new(chrome: Chrome, app: &App, base: &Movement, form: &OwnForm, fresh: Option<Uuid>) -> Self {
        let mut checked = form.clone();
        let typed = checked.movement(&app.catalogue, base, "own_preview");
        let (drawing, _) = Drawing::of(app, typed.as_ref().unwrap_or(base), &Person::default_figure());
        let what = if fresh.is_some() { "copy" } else { "edit" };
        // A form that was not typed yet has nothing wrong with it.
        let problem = form.was_typed() && typed.is_none();
        let shown = if form.was_typed() { &checked } else { form };
        Self {
            base: (base.id.clone(), base.name.clone()),
            action: format!("/catalogue/{}/{what}", base.id),
            fresh,
            groups: shown.groups(base),
            regions: shown.regions(),
            regions_error: shown.error("regions").map(str::to_owned),
            caution_boxes: app
                .catalogue
                .cautions
                .iter()
                .map(|(code, text)| (code.clone(), text.clone(), shown.has_caution(code)))
                .collect(),
            drawing,
            problem,
            chrome,
        }
    }
}
