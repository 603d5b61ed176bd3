//! The schools side by side, and a session dosed and laid as one of them does: proposed, reviewed, taken as one change.

mod own;

use std::collections::BTreeMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::response::Redirect;
use axum::routing::get;
use bavrek_core::aims::{Aim, Aims, Goal};
use bavrek_core::anatomy::Region;
use bavrek_core::arrangement::Arrangement;
use bavrek_core::dose::Prescription;
use bavrek_core::fit::{Candidate, Miss, Worked};
use bavrek_core::ladder::LadderStep;
use bavrek_core::method::Method;
use bavrek_core::movement::Style;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::school::{Asked, Disagreement, Emphasis, Laid, School};
use bavrek_store::boards::{self, Change, LaidBlock, LaidSlot, Layout};
use bavrek_store::fits::Fit;
use bavrek_store::health::PlanChange;
use bavrek_store::own_schools::{self, Follows};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::slots::Slot;
use bavrek_store::{TrainerId, aims, fits, new_id};
use serde::Deserialize;
use uuid::Uuid;

use super::dosing;
use super::scene::{Scene, capital, purpose};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/methods", get(side_by_side))
        .route("/sessions/{session}/school", get(propose).post(take))
        .merge(own::routes())
}

#[derive(Template, WebTemplate)]
#[template(path = "schools/page.html")]
struct SideBySide {
    chrome: Chrome,
    schools: Vec<SchoolView>,
    /// The trainer's own that are put away.
    away: Vec<(Uuid, String)>,
    removed: Option<Uuid>,
    disagreements: Vec<Disagreement>,
    /// For the document that is loaded.
    id: Uuid,
    loading: Loading,
    /// The field that a file is loaded into, and what files it takes.
    file: (&'static str, &'static str),
}

/// A document as it was pasted, and what is wrong with it.
#[derive(Default)]
struct Loading {
    typed: String,
    wrong: Option<String>,
}

struct SchoolView {
    key: String,
    /// Whether it is the trainer's own, which can be changed.
    own: bool,
    name: String,
    logic: String,
    trades: String,
    rows: Vec<(&'static str, String)>,
}

/// Sets in a line where they are alike, otherwise one by one.
fn sets_text(sets: &[bavrek_core::dose::SetPlan]) -> String {
    let alike = sets.windows(2).all(|w| (w[0].kind, w[0].reps, w[0].tempo) == (w[1].kind, w[1].reps, w[1].tempo));
    if alike {
        return Prescription::of(sets.to_vec()).text();
    }
    let one = |set: &bavrek_core::dose::SetPlan| match set.kind {
        bavrek_core::dose::SetKind::Extension => "at once an easier one to its end".to_owned(),
        _ => format!("{} @ {}", set.amount(), set.tempo),
    };
    let rests = [sets.iter().map(|s| s.rest_s).filter(|r| *r > 30).min(), sets.iter().map(|s| s.rest_s).max()];
    let rest = match rests {
        [Some(a), Some(b)] if a == b => format!("rest {a} s"),
        [Some(a), Some(b)] => format!("rest {a} to {b} s"),
        _ => String::new(),
    };
    format!("{}; {rest}", sets.iter().map(one).collect::<Vec<_>>().join(", then "))
}

fn view(chosen: &Chosen) -> SchoolView {
    let school = &chosen.school;
    let [least, most] = school.movements;
    let mut rows = vec![
        ("Presses and pulls", sets_text(&school.compound)),
        ("One joint", sets_text(&school.isolation)),
        ("Order", capital(school.order.label())),
        ("Together", capital(school.pairing.label())),
        ("Goes on by", capital(&school.progression)),
        ("A session", format!("{least} to {most} movements")),
        ("For", format!("{} and up", school.least_experience)),
    ];
    rows.extend(school.id.least_seconds_under_load().map(|s| ("A set lasts", format!("{s} at least"))));
    rows.push(("In a choice", capital(school.id.says())));
    SchoolView {
        key: chosen.key.clone(),
        own: chosen.follows.is_some(),
        name: chosen.name.clone(),
        logic: school.logic.clone(),
        trades: school.trades.clone(),
        rows,
    }
}

async fn side_by_side(
    Mine(app): Mine,
    Me(trainer): Me,
    Query(shown): Query<Removed>,
    chrome: Chrome,
) -> Result<SideBySide, WebError> {
    page(&app, trainer, chrome, (shown.removed, Loading::default())).await
}

async fn page(
    app: &App,
    trainer: TrainerId,
    chrome: Chrome,
    (removed, loading): (Option<Uuid>, Loading),
) -> Result<SideBySide, WebError> {
    let schools = choices(app, trainer).await?;
    let away = own_schools::all(&app.pool, trainer).await?.into_iter().filter(|o| o.archived);
    Ok(SideBySide {
        schools: schools.iter().map(view).collect(),
        away: away.map(|o| (o.which.id, o.name)).collect(),
        removed,
        disagreements: app.intake.disagreements.clone(),
        id: new_id(),
        loading,
        file: ("f-document", ".json,application/json"),
        chrome: chrome.titled("Methods"),
    })
}

#[derive(Deserialize, Default)]
struct Removed {
    /// The own school that was put away just now.
    removed: Option<Uuid>,
}

#[derive(Deserialize, Default)]
struct Wanted {
    #[serde(default)]
    method: String,
    #[serde(default, rename = "for")]
    emphasis: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "schools/propose.html")]
struct Proposal {
    chrome: Chrome,
    id: Uuid,
    name: String,
    seen: i32,
    methods: Vec<(String, String, bool)>,
    emphases: Vec<(&'static str, String, bool)>,
    method: String,
    emphasis: &'static str,
    school: SchoolView,
    lines: Vec<Line>,
    /// The order now and as the school has it.
    order: [String; 2],
    /// Whether the order would change.
    moves: bool,
}

/// A slot with its dose now and as the school has it.
struct Line {
    slot: Uuid,
    purpose: String,
    movement: String,
    now: String,
    /// The step now.
    on: String,
    then: String,
    /// Another step, where the dose asks for one.
    onto: String,
    why: String,
    changes: bool,
    /// Why it is not ticked.
    doubt: Option<String>,
}

/// What a school asks of a slot.
#[derive(Debug, Clone)]
struct Asking {
    slot: Uuid,
    intent: Intent,
    why: Vec<String>,
    /// The step for it with what is expected there.
    step: Option<(LadderStep, String)>,
    /// Why it had better not be taken.
    doubt: Option<String>,
}

/// What is wrong with a dose that no step of the movement suits. Where only a careful start misses it, that is said among
/// the reasons.
fn unmet(intent: &Intent, candidate: &Candidate<'_>, why: &mut Vec<String>) -> Option<String> {
    let start = &candidate.start;
    let miss = start.misses(intent.dose.prescription().zone().unwrap_or(intent.dose.reps))?;
    if candidate.is_at_its_end(miss) {
        let end = if miss == Miss::TooLight { "heaviest" } else { "lightest" };
        return Some(format!("{miss} even on the {end} step here: {} expected", start.reps_text()));
    }
    why.push(format!("a careful start: {} expected, the steps beyond it are there", start.reps_text()));
    None
}

/// A session on the desk of a school.
struct Desk {
    head: SessionHead,
    scene: Scene,
    blocks: Vec<sessions::Block>,
    fits: BTreeMap<Uuid, Fit>,
    aims: Aims,
    chosen: Chosen,
    /// All that may be chosen.
    choices: Vec<Chosen>,
    emphasis: Emphasis,
}

/// A school that a session may follow.
#[derive(Debug, Clone)]
pub(super) struct Chosen {
    /// How addresses name it: a shipped one by its word, an own one by its identifier.
    pub(super) key: String,
    pub(super) name: String,
    pub(super) school: School,
    /// The version, of an own one.
    pub(super) follows: Option<Follows>,
}

/// The schools that ship, and the trainer's own in their latest versions; those that are put away are left out.
pub(super) async fn choices(app: &App, trainer: TrainerId) -> Result<Vec<Chosen>, WebError> {
    let shipped = app.intake.schools.iter().map(|school| Chosen {
        key: school.id.id().to_owned(),
        name: capital(school.id.label()),
        school: school.clone(),
        follows: None,
    });
    let own = own_schools::all(&app.pool, trainer).await?.into_iter().filter(|o| !o.archived);
    let own = own.map(|o| Chosen {
        key: o.which.id.to_string(),
        name: format!("{} (version {})", o.name, o.which.version),
        school: o.school,
        follows: Some(o.which),
    });
    Ok(shipped.chain(own).collect())
}

/// How addresses and forms name a school: a shipped one by its word, an own one by its identifier.
pub(super) fn key(method: Method, follows: Option<Follows>) -> String {
    follows.map_or_else(|| method.id().to_owned(), |own| own.id.to_string())
}

impl Desk {
    async fn load(
        app: &App,
        trainer: TrainerId,
        session: Uuid,
        (method, emphasis): (&str, &str),
    ) -> Result<Self, WebError> {
        let head = sessions::head(&app.pool, trainer, session).await?;
        let scene = Scene::load(app, trainer, &head).await?;
        let choices = choices(app, trainer).await?;
        let stands = head.follows.map(|f| f.id.to_string()).or(head.method.map(|m| m.id().to_owned()));
        let named = |key: &str| choices.iter().find(|c| c.key == key).cloned();
        // An address that names a school which is no longer offered shows the session's own.
        let usual = || named(head.method.unwrap_or(Method::ReserveBased).id());
        let chosen = named(method).or_else(|| stands.as_deref().and_then(named)).or_else(usual);
        let chosen = chosen.ok_or(WebError::NotFound)?;
        let emphasis = Emphasis::from_id(emphasis).unwrap_or(match scene.client.aim {
            Some(Goal::StrengthWithSize) => Emphasis::Strength,
            Some(Goal::GeneralShape) => Emphasis::General,
            _ => Emphasis::Size,
        });
        let stored = aims::of_client(&app.pool, trainer, head.client_id).await?;
        let aims = match stored.into_iter().next() {
            Some(dated) => dated.aims,
            None => scene.client.aim.map_or_else(Aims::default, |goal| app.intake.volumes.preset(goal)),
        };
        Ok(Self {
            blocks: sessions::blocks(&app.pool, trainer, session).await?,
            fits: scene.all_now(app, fits::of_session(&app.pool, trainer, session, head.place_id).await?),
            head,
            scene,
            aims,
            chosen,
            choices,
            emphasis,
        })
    }

    fn slots(&self) -> impl Iterator<Item = &Slot> {
        self.blocks.iter().flat_map(|b| &b.slots)
    }

    fn main(&self, intent: &Intent) -> (Option<Region>, Aim) {
        let region = intent.main_region();
        (region, region.map_or(Aim::Grow, |r| self.aims.of(r).aim))
    }

    /// The intent as the school doses it, with what was bent.
    fn dosed(&self, intent: &Intent) -> (Intent, Vec<String>) {
        let (_, aim) = self.main(intent);
        let experience = self.scene.client.experience;
        let asked = Asked { pattern: intent.pattern, aim, experience, emphasis: self.emphasis };
        let dosed = self.chosen.school.dose(&asked);
        (intent.clone().dosed(dosed.dose), dosed.why)
    }

    /// How the school lays the session; no block keeps its identity.
    fn laid(&self) -> Arrangement<Uuid, Uuid> {
        let slots: Vec<Laid<Uuid>> = self
            .slots()
            .filter_map(|slot| {
                let (region, aim) = self.main(&slot.intent);
                Some(Laid { key: slot.id, pattern: slot.intent.pattern, region: region?, aim })
            })
            .collect();
        self.chosen.school.lay(&slots)
    }

    fn movement(&self, app: &App, slot: &Slot) -> Option<(String, Style)> {
        let movement = app.catalogue.movement(&self.fits.get(&slot.id)?.exercise)?;
        Some((movement.name.clone(), movement.style))
    }

    /// What the school makes of every slot, in order.
    fn changes(&self, app: &App) -> Vec<Asking> {
        let fitter = self.scene.fitter(app);
        let mut before: Vec<Worked<'_>> = Vec::new();
        let asking = |slot: &Slot| {
            let (intent, mut why) = self.dosed(&slot.intent);
            let fit = self.fits.get(&slot.id);
            let movement = fit.and_then(|fit| app.catalogue.movement(&fit.exercise));
            let counted = intent.counted();
            let start = movement.zip(fit).and_then(|(m, fit)| fitter.kept_or_started(m, &fit.step, &counted));
            let start = start.map(|c| c.after(&before, false));
            before.extend(movement.map(|movement| Worked { movement, sets: intent.dose.prescription().sets.len() }));
            let doubt = match (&start, fit) {
                (_, None) => None,
                (None, Some(_)) => Some("ruled out here as things are: only the dose would change".to_owned()),
                (Some(candidate), Some(_)) => unmet(&counted, candidate, &mut why),
            };
            let step = start.as_ref().map(|c| (c.step().clone(), c.start.reps_text()));
            Asking { slot: slot.id, intent, why, step, doubt }
        };
        self.slots().map(asking).collect()
    }

    fn line(&self, app: &App, slot: &Slot, asking: Asking) -> Line {
        let found = self.movement(app, slot);
        let style = found.as_ref().map_or(Style::Reps, |(_, style)| *style);
        let fit = self.fits.get(&slot.id);
        let now = fit.map_or_else(|| slot.intent.dose.prescription(), |f| f.prescription.clone());
        let then = asking.intent.prescription_for(style);
        let other = asking.step.as_ref().filter(|(step, _)| fit.is_some_and(|f| f.step.label != step.label));
        let counted = then.zone().is_some();
        Line {
            slot: slot.id,
            purpose: purpose(&slot.intent),
            movement: found.map_or_else(|| "nothing chosen yet".to_owned(), |(name, _)| name),
            changes: now.loaded(None) != then.loaded(None) || other.is_some(),
            now: sets_text(&now.sets),
            on: fit.map_or_else(String::new, |f| f.step.label.clone()),
            then: sets_text(&then.sets),
            onto: other.map_or_else(String::new, |(step, reps)| {
                if counted { format!("{}, {reps} expected", step.label) } else { step.label.clone() }
            }),
            why: asking.why.join("; "),
            doubt: asking.doubt,
        }
    }

    /// The session in a line: `press + row, curl`.
    fn order(&self, app: &App, blocks: &[(BlockKind, Vec<Uuid>)]) -> String {
        let name = |id: &Uuid| {
            let slot = self.slots().find(|s| s.id == *id);
            slot.map_or_else(String::new, |s| {
                self.movement(app, s).map_or_else(|| purpose(&s.intent), |(name, _)| name)
            })
        };
        let block = |(kind, keys): &(BlockKind, Vec<Uuid>)| {
            let names = keys.iter().map(name).collect::<Vec<_>>().join(" + ");
            if keys.len() > 1 { format!("{names} ({kind})") } else { names }
        };
        blocks.iter().map(block).collect::<Vec<_>>().join(" · ")
    }

    fn now(&self) -> Vec<(BlockKind, Vec<Uuid>)> {
        self.blocks.iter().map(|b| (b.kind, b.slots.iter().map(|s| s.id).collect())).collect()
    }
}

fn as_laid(laid: &Arrangement<Uuid, Uuid>) -> Vec<(BlockKind, Vec<Uuid>)> {
    laid.blocks.iter().map(|b| (b.kind, b.keys.clone())).collect()
}

async fn propose(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(wanted): Query<Wanted>,
    chrome: Chrome,
) -> Result<Proposal, WebError> {
    let mut desk = Desk::load(&app, trainer, session, (&wanted.method, &wanted.emphasis)).await?;
    let chrome = desk.scene.frame(chrome);
    let (now, then) = (desk.now(), as_laid(&desk.laid()));
    Ok(Proposal {
        id: session,
        name: desk.head.name.clone(),
        seen: boards::standing(&app.pool, trainer, session).await?.seq,
        methods: desk.choices.iter().map(|c| (c.key.clone(), c.name.clone(), c.key == desk.chosen.key)).collect(),
        emphases: Emphasis::ALL.iter().map(|e| (e.id(), capital(e.label()), *e == desk.emphasis)).collect(),
        method: desk.chosen.key.clone(),
        emphasis: desk.emphasis.id(),
        school: view(&desk.chosen),
        lines: desk.slots().zip(desk.changes(&app)).map(|(slot, asking)| desk.line(&app, slot, asking)).collect(),
        order: [desk.order(&app, &now), desk.order(&app, &then)],
        moves: now != then,
        chrome: chrome.titled(format!("{}: dosed by a school", desk.head.name)),
    })
}

/// Takes the lines that are ticked, and the order where that is: one change of the board, which can be undone.
async fn take(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let desk = Desk::load(&app, trainer, session, (fields.text("method"), fields.text("for"))).await?;
    if desk.chosen.key != fields.text("method") {
        return Err(WebError::NotFound);
    }
    let seen = fields.seen()?;
    let ticked = |name: &str| fields.text(name) == "on";
    let mut taken = desk.changes(&app);
    taken.retain(|asking| ticked(&format!("dose-{}", asking.slot)));
    lay(&app, trainer, &desk, seen, (&taken, ticked("order"))).await?;
    Ok(Redirect::to(&format!("/sessions/{session}")))
}

/// Doses a session by another school than it follows, as one change of its board; says what became of each line. Nothing where it
/// follows that school already, or where nobody offers it any more.
pub(super) async fn follow(
    app: &App,
    trainer: TrainerId,
    session: Uuid,
    school: &str,
) -> Result<Vec<String>, WebError> {
    let desk = Desk::load(app, trainer, session, (school, "")).await?;
    let stands = desk.head.follows.map(|f| f.id.to_string()).or(desk.head.method.map(|m| m.id().to_owned()));
    if desk.chosen.key != school || stands.as_deref() == Some(school) {
        return Ok(Vec::new());
    }
    let mut taken = desk.changes(app);
    let told = desk.slots().zip(&taken).map(|(slot, asking)| {
        let line = desk.line(app, slot, asking.clone());
        let step = if line.onto.is_empty() { line.on } else { line.onto };
        match line.doubt {
            Some(doubt) => format!("{}: {} stays {}: {doubt}", desk.head.name, line.movement, line.now),
            None => format!("{}: {}: {} on {step}, was {}", desk.head.name, line.movement, line.then, line.now),
        }
    });
    let told: Vec<String> = told.collect();
    // What no step here suits is not dosed so by itself: it is not ticked on the page either.
    taken.retain(|asking| asking.doubt.is_none());
    let seen = boards::standing(&app.pool, trainer, session).await?.seq;
    lay(app, trainer, &desk, seen, (&taken, false)).await?;
    Ok(told)
}

/// Lays what was taken, in the school's order where that is: one change of the board.
async fn lay(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    seen: i32,
    (taken, order): (&[Asking], bool),
) -> Result<(), WebError> {
    let session = desk.head.id;
    let before: BTreeMap<Uuid, Intent> = desk.slots().map(|s| (s.id, s.intent.clone())).collect();
    let mut now = before.clone();
    now.extend(taken.iter().map(|asking| (asking.slot, asking.intent.clone())));
    let lie = |blocks: &[(Uuid, BlockKind, Vec<Uuid>)], intents: &BTreeMap<Uuid, Intent>| {
        let slot = |id: &Uuid| Some(LaidSlot { id: *id, intent: intents.get(id)?.clone(), fits: BTreeMap::new() });
        let block = |(id, kind, keys): &(Uuid, BlockKind, Vec<Uuid>)| LaidBlock {
            id: *id,
            kind: *kind,
            slots: keys.iter().filter_map(slot).collect(),
        };
        blocks.iter().map(block).collect::<Vec<_>>()
    };
    let stand: Vec<_> =
        desk.blocks.iter().map(|b| (b.id, b.kind, b.slots.iter().map(|s| s.id).collect::<Vec<_>>())).collect();
    let then: Vec<_> = if order {
        as_laid(&desk.laid()).into_iter().map(|(kind, keys)| (new_id(), kind, keys)).collect()
    } else {
        stand.clone()
    };
    let from = Layout { method: desk.head.method, follows: desk.head.follows, blocks: lie(&stand, &before) };
    let layout = Layout { method: Some(desk.chosen.school.id), follows: desk.chosen.follows, blocks: lie(&then, &now) };
    let change = Change { seen, from: &from, kind: PlanChange::Hardens, layout: &layout, copied: None };
    boards::lay(&app.pool, trainer, session, change).await?;
    for asking in taken {
        let onto = asking.step.as_ref().map(|(step, _)| (desk.head.place_id, step));
        dosing::redose_onto(app, trainer, asking.slot, &asking.intent, onto).await?;
    }
    Ok(boards::settle(&app.pool, trainer, session).await?)
}
