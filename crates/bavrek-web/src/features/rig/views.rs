//! What the rig page shows, ready to be written down.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::anatomy::Pattern;
use bavrek_core::figure::Figure;
use bavrek_core::fit::JointCurves;
use bavrek_core::movement::{Movement, RigModel};
use bavrek_core::rigging::{Assembly, Rigged};
use bavrek_core::units::{GRAVITY, Kilograms, trim_number};
use uuid::Uuid;

use super::Setting;
use super::forms::RigForm;
use crate::chrome::Chrome;
use crate::features::fields::Field;
use crate::features::scene::{capital, likely};
use crate::pictures::curves::{self, Curves, Joints, Shape};
use crate::pictures::rig::{self, RigPicture};
use crate::state::App;

#[derive(Template, WebTemplate)]
#[template(path = "rig/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    name: String,
    movement: String,
    groups: Vec<Group>,
    client: Option<(Uuid, String)>,
    person: String,
    place: Option<String>,
    slot: Option<Uuid>,
    session: Option<(Uuid, String)>,
    fields: Vec<Field>,
    general: Option<String>,
    picture: Option<RigPicture>,
    load: Option<Load>,
    cautions: Vec<String>,
    wrong: bool,
    barred: bool,
}

/// Movements of a pattern: identifier, name, whether it is the chosen one.
type Group = (String, Vec<(String, String, bool)>);

struct Load {
    effective: String,
    per: &'static str,
    facts: Vec<(&'static str, String)>,
    curves: Curves,
    /// Both joints, where two work.
    joints: Option<Joints>,
    notices: Vec<String>,
    why: Vec<(&'static str, String)>,
}

impl Page {
    pub(super) fn new(chrome: Chrome, app: &App, movement: &Movement, setting: &Setting, form: &RigForm) -> Self {
        let person = &setting.person;
        let rigged = Rigged::new(movement, person, form.setup);
        let assembly = form.result.as_ref().ok();
        let figure = Figure::of(&rigged, &form.loads, assembly);
        let title = movement.name.clone();
        let step = assembly.map(|a| form.as_step(movement, person, a));
        let cautions = step.map(|s| bavrek_core::safety::cautions(&app.catalogue, movement, &s, &setting.kit));
        Self {
            name: movement.name.clone(),
            movement: movement.id.clone(),
            groups: groups(app, movement),
            client: setting.client.clone(),
            person: format!("{}, {}", person.height_m, person.body_mass_kg),
            place: setting.place.clone(),
            slot: setting.slot.as_ref().map(|s| s.slot.id),
            session: setting.slot.as_ref().map(|s| (s.session.id, s.session.name.clone())),
            general: form.fields.iter().find(|f| f.name == "movement").and_then(|f| f.error.clone()),
            fields: form.fields.iter().filter(|f| f.name != "movement").cloned().collect(),
            picture: figure.map(|f| rig::draw(&title, &f, assembly, person.height_m.value(), rig::Detail::Movable)),
            load: assembly.map(|a| load(movement, &rigged, form, a)),
            cautions: cautions.unwrap_or_default().into_iter().map(|c| c.text).collect(),
            wrong: form.wrong(),
            barred: form.barred,
            chrome,
        }
    }

    /// The page without the choice of movements.
    pub(super) fn without_choice(mut self) -> Self {
        self.groups.clear();
        self
    }
}

/// All movements by pattern, for the choice at the top.
fn groups(app: &App, chosen: &Movement) -> Vec<Group> {
    Pattern::ALL
        .iter()
        .map(|pattern| {
            let of = app.catalogue.movements.iter().filter(|m| m.pattern == *pattern);
            let options = of.map(|m| (m.id.clone(), m.name.clone(), m.id == chosen.id)).collect();
            (capital(pattern.label()), options)
        })
        .collect()
}

fn load(movement: &Movement, rigged: &Rigged<'_>, form: &RigForm, assembly: &Assembly) -> Load {
    let line = assembly.curve();
    let kg = |v: f64| format!("{} kg", trim_number(Kilograms(v).two_figures().value(), 1));
    let mut facts = Vec::new();
    let (start, end) = (assembly.profile.at(0.0), assembly.profile.at(1.0));
    if assembly.moment {
        facts.push((
            "At the joint",
            format!("{start:.0} N·m at the start, {:.0} at most, {end:.0} at the end", assembly.profile.peak()),
        ));
    } else {
        facts.push(("From start to end", format!("{} to {}", kg(start / GRAVITY), kg(end / GRAVITY))));
    }
    facts.push(("Peak", kg(assembly.peak().value())));
    facts.push(("The peak, nine times in ten", likely(assembly.peak(), assembly.log_sd)));
    if let Some((first, longest)) = assembly.stretch {
        let percent = |l: f64| format!("{:.0} %", (l - 1.0) * 100.0);
        facts.push((
            "Band stretched by",
            format!("{} at the start, {} at most", percent(first.max(1.0)), percent(longest)),
        ));
    }
    if let Some(share) = assembly.body_mass_fraction {
        facts.push(("Share of body mass", format!("{:.0} %", share * 100.0)));
    }
    if assembly.band_share > 0.0 && form.loads.weight.value() > 0.0 {
        facts.push(("From the band", format!("{:.0} %", assembly.band_share * 100.0)));
    }
    Load {
        effective: format!("{:.1}", assembly.effective().two_figures()),
        per: per(movement),
        facts,
        curves: curves::draw(&Shape { name: "resistance".into(), curve: &line, thirds: assembly.thirds }, None),
        joints: JointCurves::of(movement, rigged.person, &form.as_step(movement, rigged.person, assembly))
            .as_ref()
            .and_then(curves::joints),
        notices: assembly.notices.iter().map(|n| capital(&n.text())).collect(),
        why: why(rigged, form),
    }
}

fn per(movement: &Movement) -> &'static str {
    use bavrek_core::movement::Hands;
    match movement.hands {
        // Arcs and curls under rings are stated for one hand, like a dumbbell.
        _ if matches!(movement.rig, RigModel::BodyArc { .. } | RigModel::RingCurl { .. }) => "effective, each hand",
        _ if movement.rig.is_lever() => "effective, in all",
        Hands::Each | Hands::One => "effective, each hand",
        Hands::Shared => "effective, both hands",
    }
}

/// The equation behind the load, with what goes in and where it is from.
fn why(rigged: &Rigged<'_>, form: &RigForm) -> Vec<(&'static str, String)> {
    let mut why = vec![(
        "Effective load",
        match rigged.movement.rig {
            RigModel::SingleJoint { .. } => {
                "work over the range, divided by the work of one kilogram of the reference dumbbell movement over the same range"
            }
            RigModel::Line { .. } => "mean over the path of the force against it, E = −F·t, over g",
            RigModel::PushUp { .. } => "f = f0·cos(α + 30°)/cos 30°, sin α = (hands − feet)/(0.80·stature), times body mass",
            RigModel::InvertedRow => "0.713·cos β of body mass, β the body's angle to the floor, straps square to the body",
            RigModel::RingCurl { .. } => "strap tension from moments about the heels, turned into the moment at the elbows",
            RigModel::ChinUp { .. } | RigModel::Dip { .. } => "body mass less forearms and hands, or its share on the hands, plus what is added",
            RigModel::Trunk { .. } => "moment at the waist of a straight body between its supports, over a trunk's length",
            _ => "share of body mass on the hands, times its lever about the joint at work",
        }
        .to_owned(),
    )];
    if let Some(band) = form.loads.band() {
        why.push(("Band", "F = n·[P(λ − 1/λ²) + Q(1 − 1/λ³)], λ the stretched over the free length".into()));
        why.push((
            "This band",
            format!(
                "P {:.1} N, Q {:.1} N a strand; known to about {:.0} % with hysteresis and ageing",
                band.rubber.p,
                band.rubber.q,
                (band.rubber.log_sd().exp() - 1.0) * 100.0
            ),
        ));
    }
    if matches!(rigged.movement.rig, RigModel::PushUp { .. }) {
        why.push((
            "Source",
            "shape after Ebben and others 2011; level 0.68, the studies range from 0.64 to 0.75".into(),
        ));
    }
    why.push(("Person", format!("stature {}, body mass {}", rigged.person.height_m, rigged.person.body_mass_kg)));
    why
}
