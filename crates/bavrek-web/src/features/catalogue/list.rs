//! The list: filters, counts, and a card with a drawing for everything found.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::anatomy::{ArmPosition, Implement, LengthEmphasis, Pattern, Region};
use bavrek_core::example::Example;
use bavrek_core::figure::Figure;
use bavrek_core::mechanics::profile::emphasis;
use bavrek_core::movement::Movement;
use bavrek_core::person::Person;
use bavrek_store::movements;
use bavrek_store::places::ClientPlace;

use super::wanted::{Found, Search, Wanted};
use crate::chrome::Chrome;
use crate::features::scene::capital;
use crate::pictures::rig::{self, RigPicture};
use crate::state::App;

/// Cards on a page.
const CARDS: usize = 24;

#[derive(Template, WebTemplate)]
#[template(path = "catalogue/list.html")]
pub(super) struct ListPage {
    chrome: Chrome,
    q: String,
    choices: Vec<Choice>,
    show_all: bool,
    count: String,
    out: Option<String>,
    cards: Vec<Card>,
    before: Option<String>,
    after: Option<String>,
    where_we_are: String,
    removed: Option<String>,
    /// Movements of a gym that the words name as well.
    gym: Vec<(String, String)>,
    /// Whether what was found is only near what was typed.
    only_near: bool,
}

struct Choice {
    name: &'static str,
    label: &'static str,
    any: &'static str,
    options: Vec<(String, String, bool)>,
}

struct Card {
    link: String,
    name: String,
    synonym: Option<String>,
    regions: String,
    implements: String,
    thirds: Option<[String; 3]>,
    /// Whether no third is harder than another, so that its shares say nothing.
    even: bool,
    picture: Option<RigPicture>,
    why_not: Option<String>,
    own: bool,
}

impl ListPage {
    pub(super) fn new(
        chrome: Chrome,
        app: &App,
        wanted: &Wanted,
        places: &[ClientPlace],
        person: &Person,
        search: &Search<'_>,
    ) -> Self {
        let pages = search.found.len().div_ceil(CARDS).max(1);
        let page = wanted.page.parse::<usize>().unwrap_or(1).clamp(1, pages);
        let shown = search.found.iter().skip((page - 1) * CARDS).take(CARDS);
        let link = |n: usize| {
            let mut query = wanted.query();
            let number = n.to_string();
            query.push(("page", &number));
            format!("/catalogue?{}", serde_urlencoded::to_string(query).unwrap_or_default())
        };
        // A movement opened from a client's room is drawn at the client's proportions.
        let room = places.iter().find(|p| Some(p.place.id) == wanted.place_id());
        let whose = room.map_or_else(String::new, |p| format!("?client={}", p.place.client_id));
        Self {
            chrome,
            q: wanted.q.clone(),
            choices: choices(wanted, places),
            show_all: wanted.show_all(),
            count: match search.found.len() {
                0 => "No movement".into(),
                1 => "1 movement".into(),
                n => format!("{n} movements"),
            },
            out: (wanted.place_id().is_some() && search.ruled_out > 0)
                .then(|| format!("{} ruled out by this room's kit or the client's limits", search.ruled_out)),
            cards: shown.map(|f| card(app, person, f, &whose)).collect(),
            before: (page > 1).then(|| link(page - 1)),
            after: (page < pages).then(|| link(page + 1)),
            where_we_are: format!("page {page} of {pages}"),
            removed: wanted.removed.map(movements::movement_id),
            only_near: search.only_near,
            gym: search.gym.iter().map(|g| (g.id.clone(), g.name.clone())).collect(),
        }
    }
}

fn choices(wanted: &Wanted, places: &[ClientPlace]) -> Vec<Choice> {
    let options = |all: Vec<(&'static str, &'static str)>, chosen: &str| {
        all.into_iter().map(|(id, label)| (id.to_owned(), capital(label), id == chosen)).collect()
    };
    let patterns = Pattern::ALL.iter().map(|p| (p.id(), p.label())).collect();
    let regions = Region::ALL.iter().map(|r| (r.id(), r.label())).collect();
    let implements = Implement::ALL.iter().map(|i| (i.id(), i.label())).collect();
    let arms = ArmPosition::ALL.iter().map(|a| (a.id(), a.label())).collect();
    let mut emphasis: Vec<_> = LengthEmphasis::ALL.iter().map(|e| (e.id(), e.label())).collect();
    emphasis.push(("even", "evenly"));
    let rooms = places.iter().map(|p| {
        let id = p.place.id.to_string();
        let on = id == wanted.place;
        (id, format!("{}, {}", p.client, p.place.name), on)
    });
    let choice = |name, label, any, options| Choice { name, label, any, options };
    vec![
        choice("pattern", "Pattern", "any pattern", options(patterns, &wanted.pattern)),
        choice("region", "Region, trained directly", "any region", options(regions, &wanted.region)),
        choice("implement", "Implement", "any implement", options(implements, &wanted.implement)),
        choice("arm", "Arm position", "any position", options(arms, &wanted.arm)),
        choice("emphasis", "Hardest", "anywhere", options(emphasis, &wanted.emphasis)),
        choice("place", "Possible here", "anywhere", rooms.collect()),
    ]
}

fn card(app: &App, person: &Person, found: &Found<'_>, whose: &str) -> Card {
    let movement = found.movement;
    Card {
        link: format!("/catalogue/{}{whose}", movement.id),
        name: movement.name.clone(),
        synonym: found.synonym.map(str::to_owned),
        regions: movement.direct.keys().map(|r| r.label()).collect::<Vec<_>>().join(", "),
        implements: movement.implements.iter().map(|i| i.label()).collect::<Vec<_>>().join(", "),
        even: found.thirds.is_some_and(|t| emphasis(&t).is_none()),
        thirds: found.thirds.map(|t| t.map(|share| format!("{:.0}", share * 100.0))),
        picture: picture(app, movement, person),
        why_not: found.why_not.first().map(ToString::to_string),
        own: movements::row_id(&movement.id).is_some(),
    }
}

/// The drawing of a movement at a usual difficulty.
fn picture(app: &App, movement: &Movement, person: &Person) -> Option<RigPicture> {
    let example = Example::of(&app.catalogue, movement, person);
    let (rigged, assembly) = example.rig(movement, person);
    let assembly = assembly.ok();
    let figure = Figure::of(&rigged, &example.loads, assembly.as_ref())?;
    Some(rig::draw(&movement.name, &figure, assembly.as_ref(), person.height_m.value(), rig::Detail::Card))
}
