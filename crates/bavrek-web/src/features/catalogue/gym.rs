//! Movements of a gym: what a slot can be measured against, and what does the job of each at home.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::dose::Dose;
use bavrek_core::fit::{Fitter, Room};
use bavrek_core::kit::full_room;
use bavrek_core::mechanics::profile::emphasis;
use bavrek_core::movement::GymMovement;
use bavrek_core::person::Person;
use bavrek_core::reference::{Named, Reference};
use bavrek_core::volume::RegionSets;

use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Ids, Mine};
use crate::pictures::curves::{self, Curves, Shape};
use crate::pictures::torso::{self, Torso};
use crate::state::App;

/// Movements named as doing the job.
const NAMED: usize = 8;

#[derive(Template, WebTemplate)]
#[template(path = "catalogue/gym_list.html")]
pub(super) struct GymList {
    chrome: Chrome,
    rows: Vec<GymRow>,
}

struct GymRow {
    id: String,
    name: String,
    also: String,
    station: &'static str,
    pattern: &'static str,
    regions: String,
    hardest: &'static str,
}

#[derive(Template, WebTemplate)]
#[template(path = "catalogue/gym.html")]
pub(super) struct GymPage {
    chrome: Chrome,
    name: String,
    also: String,
    facts: Vec<(&'static str, String)>,
    torso: Torso,
    curve: Option<Curves>,
    /// Identifier, name and how well it does the job in percent.
    instead: Vec<(String, String, String)>,
}

fn regions(gym: &GymMovement) -> String {
    gym.direct.keys().map(|r| r.label()).collect::<Vec<_>>().join(", ")
}

fn hardest(gym: &GymMovement, person: &Person) -> &'static str {
    let reference = Reference::of(Named::Gym(gym), person);
    reference.and_then(|r| emphasis(&r.thirds)).map_or("evenly", bavrek_core::anatomy::LengthEmphasis::label)
}

pub(super) async fn list(Mine(app): Mine, chrome: Chrome) -> GymList {
    let person = Person::default_figure();
    let mut rows: Vec<&GymMovement> = app.catalogue.gym.values().collect();
    rows.sort_by_key(|g| (g.pattern, g.station, g.name.as_str()));
    let row = |g: &GymMovement| GymRow {
        id: g.id.clone(),
        name: g.name.clone(),
        also: g.synonyms.join(", "),
        station: g.station.label(),
        pattern: g.pattern.label(),
        regions: regions(g),
        hardest: hardest(g, &person),
    };
    GymList { chrome: chrome.titled("Movements of a gym"), rows: rows.into_iter().map(row).collect() }
}

pub(super) async fn show(Mine(app): Mine, Ids(id): Ids<String>, chrome: Chrome) -> Result<GymPage, WebError> {
    let gym = app.catalogue.gym_movement(&id).ok_or(WebError::NotFound)?;
    Ok(page(&app, gym, chrome))
}

fn page(app: &App, gym: &GymMovement, chrome: Chrome) -> GymPage {
    let (person, kit) = (Person::default_figure(), full_room());
    let reference = Reference::of(Named::Gym(gym), &person);
    let intent = Named::Gym(gym).intent(&person, &Dose::USUAL);
    let fitter = Fitter::new(&app.catalogue, Room::plain(&person, &kit), &[], None);
    let found = fitter.fit(&intent);
    let direct = gym.direct.iter().map(|(r, w)| (*r, RegionSets { direct: w * torso::FULL * 0.8, assisting: 0.0 }));
    let assisting =
        gym.assisting.iter().map(|(r, w)| (*r, RegionSets { direct: 0.0, assisting: w * torso::FULL * 0.4 }));
    let mut facts = vec![
        ("Done on", format!("a {}", gym.station)),
        ("Pattern", gym.pattern.label().to_owned()),
        ("Arm", gym.arm_position.label().to_owned()),
        ("Regions", regions(gym)),
        ("Hardest", hardest(gym, &person).to_owned()),
    ];
    facts.extend(gym.grip.map(|grip| ("Grip", grip.label().to_owned())));
    if gym.one_side {
        facts.push(("Sides", "one at a time".to_owned()));
    }
    GymPage {
        chrome: chrome.titled(gym.name.clone()),
        name: gym.name.clone(),
        also: gym.synonyms.join(", "),
        facts,
        torso: torso::draw("t", "Regions it trains", &direct.chain(assisting).collect(), &[]),
        curve: reference.map(|r| curves::draw(&Shape { name: r.name, curve: &r.curve, thirds: r.thirds }, None)),
        instead: found
            .candidates
            .iter()
            .take(NAMED)
            .map(|c| (c.movement.id.clone(), c.movement.name.clone(), format!("{:.0}", c.score * 100.0)))
            .collect(),
    }
}
