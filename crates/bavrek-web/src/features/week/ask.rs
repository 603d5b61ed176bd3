//! What is asked of a week: its form, and the answer of the core.

use bavrek_core::aims::Aims;
use bavrek_core::anatomy::Region;
use bavrek_core::fit::Room;
use bavrek_core::log::LoggedSet;
use bavrek_core::method::Method;
use bavrek_core::movement::Style;
use bavrek_core::ranges::{RangeError, SESSION_MINUTES};
use bavrek_core::school::School;
use bavrek_core::script::WorkoutState;
use bavrek_core::week::{self, Day, DayPlan, Help, Lately, Pin, WeekQuestion, Wish};
use bavrek_store::log::Source;
use bavrek_store::own_schools::{self, Follows, OwnSchool};
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions::SessionHead;
use bavrek_store::weeks::{Asked, AskedDay, Draft, DraftDay, DraftFit, DraftLine, DraftSets, DraftUnmet};
use bavrek_store::{TrainerId, aims, new_id, sessions};
use uuid::Uuid;

use super::{DAYS, weekday};
use crate::budget::aside;
use crate::error::WebError;
use crate::features::scene::Scene;
use crate::features::typed::Typed;
use crate::features::who::{Who, usual_minutes};
use crate::state::App;

/// Weekdays that are usual for so many days a week, 1 Monday.
const USUAL: [&[u8]; 7] =
    [&[3], &[2, 5], &[1, 3, 5], &[1, 2, 4, 5], &[1, 2, 3, 5, 6], &[1, 2, 3, 4, 5, 6], &[1, 2, 3, 4, 5, 6, 7]];
/// Days a week where the profile says nothing.
const USUAL_DAYS: i16 = 3;

pub(in crate::features) struct Desk {
    pub(in crate::features) who: Who,
    pub(in crate::features) places: Vec<PlaceHead>,
    pub(super) aims: Option<Aims>,
    /// Sessions that are planned from today on.
    pub(super) planned: Vec<SessionHead>,
    own: Vec<OwnSchool>,
}

/// The form as it is shown.
pub(super) struct Form {
    pub(super) days: Vec<DayInput>,
    pub(super) schools: Vec<(String, String, bool)>,
    pub(super) wishes: Vec<(&'static str, &'static str, bool)>,
    pub(super) error: Option<String>,
    pub(super) placeless: bool,
}

pub(super) struct DayInput {
    pub(super) number: u8,
    pub(super) name: &'static str,
    pub(super) places: Vec<(String, String, bool)>,
    pub(super) minutes: String,
    pub(super) error: Option<String>,
}

fn field(what: &str, day: u8) -> String {
    format!("{what}_{day}")
}

/// A school as its select names it.
fn school_id(method: Method, follows: Option<Follows>) -> String {
    follows.map_or_else(|| method.id().to_owned(), |f| format!("{}@{}", f.id, f.version))
}

impl Desk {
    pub(in crate::features) async fn load(app: &App, trainer: TrainerId, client: Uuid) -> Result<Self, WebError> {
        let who = Who::load(app, trainer, client).await?;
        let (places, aims, own, mut planned) = tokio::try_join!(
            places::in_use(&app.pool, trainer, client),
            aims::of_client(&app.pool, trainer, client),
            own_schools::all(&app.pool, trainer),
            sessions::of_client(&app.pool, trainer, client),
        )?;
        planned.retain(|s| s.state == WorkoutState::Planned && s.planned_on >= who.today);
        let aims = aims.into_iter().next().map(|a| a.aims);
        Ok(Self { who, places, aims, planned, own })
    }

    /// The aims, each region kept where nobody said so yet.
    pub(in crate::features) fn aims_or_kept(&self) -> Aims {
        self.aims.clone().unwrap_or_default()
    }

    /// What the profile says of days and minutes, at the first place.
    pub(super) fn usual(&self) -> Typed {
        let days = self.who.client.days_a_week.unwrap_or(USUAL_DAYS).clamp(1, 7) as usize;
        let place = self.places.first().map_or_else(String::new, |p| p.id.to_string());
        let minutes = usual_minutes(&self.who.client).to_string();
        let mut values: Vec<(String, String)> = (1..=7).map(|day| (field("minutes", day), minutes.clone())).collect();
        values.extend(USUAL[days - 1].iter().map(|day| (field("place", *day), place.clone())));
        values.push(("school".to_owned(), Method::ReserveBased.id().to_owned()));
        Typed::from_map(values.into_iter().collect())
    }

    pub(super) fn typed_of(&self, asked: &Asked) -> Typed {
        let mut values = self.usual().into_map();
        values.retain(|name, _| !name.starts_with("place"));
        for day in &asked.days {
            values.insert(field("place", day.weekday), day.place.to_string());
            values.insert(field("minutes", day.weekday), day.minutes.to_string());
        }
        values.insert("school".to_owned(), school_id(asked.method, asked.follows));
        values.insert("wish".to_owned(), asked.wish.id().to_owned());
        Typed::from_map(values)
    }

    pub(super) fn form(&self, typed: &Typed) -> Form {
        let day = |(i, name): (usize, &&'static str)| {
            let number = i as u8 + 1;
            let place = typed.value(&field("place", number)).to_owned();
            let none = (String::new(), "no training".to_owned(), place.is_empty());
            let options = self.places.iter().map(|p| (p.id.to_string(), p.name.clone(), p.id.to_string() == place));
            let error = [field("place", number), field("minutes", number)];
            DayInput {
                number,
                name,
                places: std::iter::once(none).chain(options).collect(),
                minutes: typed.value(&field("minutes", number)).to_owned(),
                error: error.iter().find_map(|f| typed.error(f)).map(str::to_owned),
            }
        };
        let chosen = typed.value("school");
        let shipped = Method::ALL.iter().map(|m| (m.id().to_owned(), m.label().to_owned()));
        let own = self.own.iter().filter(|o| !o.archived);
        let own = own.map(|o| (school_id(o.school.id, Some(o.which)), format!("{}, your own", o.name)));
        let wish = Wish::from_id(typed.value("wish")).unwrap_or(Wish::Balanced);
        Form {
            days: DAYS.iter().enumerate().map(day).collect(),
            schools: shipped.chain(own).map(|(id, name)| (id.clone(), name, id == chosen)).collect(),
            wishes: Wish::ALL.iter().map(|w| (w.id(), w.label(), *w == wish)).collect(),
            error: typed.error("days").or_else(|| typed.error("school")).map(str::to_owned),
            placeless: self.places.is_empty(),
        }
    }

    /// What was typed; none where any of it is refused.
    pub(super) fn read(&self, typed: &mut Typed) -> Option<Asked> {
        let mut days = Vec::new();
        for weekday in 1..=7 {
            let name = field("place", weekday);
            if typed.value(&name).is_empty() {
                continue;
            }
            let known = |id: &str| self.places.iter().find(|p| p.id.to_string() == id).map(|p| p.id);
            let place = typed.needed_word(&name, known);
            let minutes = typed.whole(&field("minutes", weekday), SESSION_MINUTES);
            if minutes.is_none() {
                typed.refuse(&field("minutes", weekday), "minutes are needed");
            }
            if let (Some(place), Some(minutes)) = (place, minutes) {
                days.push(AskedDay { place, minutes: minutes.unsigned_abs(), weekday });
            }
        }
        if days.is_empty() && typed.fine() {
            typed.refuse("days", "choose a place for at least one day");
        }
        let school = typed.needed_word("school", |id| self.school(id));
        let wish = typed.word("wish", Wish::from_id).unwrap_or(Wish::Balanced);
        let (method, follows) = school?;
        typed.fine().then_some(Asked { days, method, follows, wish })
    }

    /// A school by what the select calls it. One of the trainer's own that has a later version by now is still its own.
    fn school(&self, id: &str) -> Option<(Method, Option<Follows>)> {
        if let Some(method) = Method::from_id(id) {
            return Some((method, None));
        }
        let (id, _) = id.split_once('@')?;
        let own = self.own.iter().find(|o| o.which.id.to_string() == id)?;
        Some((own.school.id, Some(own.which)))
    }

    fn rules(&self, app: &App, asked: &Asked) -> Option<School> {
        match asked.follows {
            Some(which) => self.own.iter().find(|o| o.which == which).map(|o| o.school.clone()),
            None => app.intake.schools.iter().find(|s| s.id == asked.method).cloned(),
        }
    }
}

/// What of a proposal can no longer be done as it was shown: limits, pain, kit and places change while it waits to be taken.
pub(super) async fn outdated(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    draft: &Draft,
) -> Result<Vec<String>, WebError> {
    let mut found: Vec<String> = Vec::new();
    let mut scenes: Vec<Scene> = Vec::new();
    for (asked, day) in draft.asked.days.iter().zip(&draft.days).filter(|(_, day)| !day.blocks.is_empty()) {
        if desk.places.iter().all(|p| p.id != asked.place) {
            found.push(format!("{}: its place is no longer in use", weekday(asked.weekday)));
            continue;
        }
        if scenes.iter().all(|s| s.place_head.id != asked.place) {
            let scene = match scenes.first() {
                Some(known) => known.elsewhere(app, trainer, asked.place).await?,
                None => Scene::at(app, trainer, desk.who.client.id, asked.place).await?,
            };
            scenes.push(scene);
        }
        let Some(scene) = scenes.iter().find(|s| s.place_head.id == asked.place) else { continue };
        let lines = day.lines().filter_map(|line| line.done.as_ref());
        found.extend(lines.filter_map(|done| scene.stands_no_more(app, &done.exercise, &done.step)));
    }
    found.sort_unstable();
    found.dedup();
    Ok(found)
}

/// Works the week out, on a thread that serves nobody else meanwhile. The lines of `pinned` stay on the days on which they are.
pub(super) async fn answer(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    (asked, pinned): (Asked, Vec<Pinned>),
) -> Result<Draft, WebError> {
    let scenes = super::table::scenes(app, trainer, desk.who.client.id, &asked.days).await?;
    let school = desk.rules(app, &asked).ok_or(WebError::NotFound)?;
    let aims = desk.aims_or_kept();
    aside(|| draft(app, &scenes, &school, &aims, (asked, pinned)))
}

/// A line that stays, with its day.
pub(super) struct Pinned {
    pub(super) day: usize,
    pub(super) line: DraftLine,
}

/// Asks the core about a week.
fn asked_of<T>(
    app: &App,
    scenes: &[Scene],
    (school, aims): (&School, &Aims),
    (asked, pinned): (&Asked, &[Pinned]),
    then: impl FnOnce(&WeekQuestion<'_>) -> T,
) -> T {
    let rooms: Vec<Room<'_>> =
        scenes.iter().map(|s| Room { method: Some(asked.method), ..s.room(&s.person, &s.place.kit) }).collect();
    let room = |place: Uuid| scenes.iter().position(|s| s.place_head.id == place).unwrap_or_default();
    let days: Vec<Day> =
        asked.days.iter().map(|d| Day { room: room(d.place), minutes: d.minutes, weekday: Some(d.weekday) }).collect();
    let pins: Vec<Pin<'_>> = pinned
        .iter()
        .filter_map(|p| {
            let done = p.line.done.as_ref()?;
            let (intent, dose) = (&p.line.intent, &p.line.dose);
            Some(Pin { day: p.day, intent, exercise: &done.exercise, step: Some(&done.step), dose })
        })
        .collect();
    let done = scenes.first().map_or(&[][..], |s| s.records()).iter();
    let trained: Vec<&LoggedSet> = done.filter(|r| r.source == Source::Session).map(|r| &r.set).collect();
    let lately = scenes.first().map(|s| Lately::of(&app.catalogue, &trained, s.today));
    then(&WeekQuestion {
        rooms: &rooms,
        days: &days,
        aims,
        volumes: &app.intake.volumes,
        school,
        history: scenes.first().map_or(&[], |s| s.history()),
        today: scenes.first().map(|s| s.today),
        lately: lately.unwrap_or_default(),
        wish: asked.wish,
        pins: &pins,
    })
}

/// What would help the week most: what, and how many more of the sets that are owed it would cover. On a thread that serves nobody
/// else meanwhile.
pub(super) async fn helps(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    (asked, pinned): (Asked, Vec<Pinned>),
) -> Result<Vec<(String, f64)>, WebError> {
    let scenes = super::table::scenes(app, trainer, desk.who.client.id, &asked.days).await?;
    let school = desk.rules(app, &asked).ok_or(WebError::NotFound)?;
    let aims = desk.aims_or_kept();
    let done = aside(|| {
        let settings: Vec<_> = scenes.iter().map(|s| s.place_head.setting).collect();
        let things = (app.intake.cheap.as_slice(), settings.as_slice());
        let found = asked_of(app, &scenes, (&school, &aims), (&asked, &pinned), |question| {
            week::helps(&app.catalogue, question, things)
        });
        let told = |help: Help<'_>| match help {
            Help::Minutes(day) => {
                format!("{} minutes more on {}", week::MORE_MINUTES, weekday(asked.days[day].weekday))
            }
            Help::Day(day) => format!("another day, on {}", weekday(day)),
            Help::Thing(thing, room) => format!("{} at {}", thing.name, scenes[room].place_head.name),
        };
        found.map(|found| found.into_iter().map(|(help, sets)| (told(help), sets)).collect())
    });
    done.map_err(|e: RangeError| WebError::bad("days", e.message))
}

fn draft(
    app: &App,
    scenes: &[Scene],
    school: &School,
    aims: &Aims,
    (asked, pinned): (Asked, Vec<Pinned>),
) -> Result<Draft, WebError> {
    asked_of(app, scenes, (school, aims), (&asked, &pinned), |question| {
        drafted(app, scenes, question, (&asked, &pinned))
    })
}

/// What the core refuses, with the day it is about.
fn refused(error: &RangeError, asked: &Asked) -> String {
    let day = error.path.strip_prefix("days[").and_then(|rest| rest.split(']').next()?.parse::<usize>().ok());
    match day.and_then(|day| asked.days.get(day)) {
        Some(day) => format!("{}: {}", weekday(day.weekday), error.message),
        None => error.message.clone(),
    }
}

fn drafted(
    app: &App,
    scenes: &[Scene],
    question: &WeekQuestion<'_>,
    (asked, pinned): (&Asked, &[Pinned]),
) -> Result<Draft, WebError> {
    let aims = question.aims;
    let week = week::propose(&app.catalogue, question).map_err(|e| WebError::bad("days", refused(&e, asked)))?;
    let mut days: Vec<DraftDay> = week.days.iter().map(kept_day).collect();
    for (day, draft) in days.iter_mut().enumerate() {
        own_again(pinned, day, draft);
    }
    let experience = scenes.first().map(|s| s.client.experience);
    let sets = |region: &Region| {
        let sets = week.volume.of(*region);
        let aim = experience.map_or([0.0; 2], |e| aims.weekly_sets(*region, &app.intake.volumes, e));
        DraftSets { region: *region, direct: sets.direct, assisting: sets.assisting, aim }
    };
    let unmet = week.unmet.iter();
    let unmet = unmet.map(|u| DraftUnmet { region: u.region, sets: u.sets, least: u.least, why: u.to_string() });
    Ok(Draft {
        days,
        sets: Region::ALL.iter().map(sets).collect(),
        unmet: unmet.collect(),
        objective: week.objective,
        bound: week.bound,
        balance: week.balance,
        by_hand: false,
        opened: Vec::new(),
        notes: Vec::new(),
        weeks: None,
        asked: asked.clone(),
    })
}

fn kept_day(day: &DayPlan<'_>) -> DraftDay {
    let line = |line: &week::Line<'_>| DraftLine {
        slot: new_id(),
        intent: line.intent.clone(),
        done: Some(DraftFit { exercise: line.candidate.movement.id.clone(), step: line.candidate.step().clone() }),
        pinned: false,
        kept: false,
        dose: line.candidate.prescription.clone(),
        expected: (line.candidate.movement.style != Style::Hold).then(|| line.candidate.start.expected_reps()),
    };
    let blocks = day.blocks.iter().map(|(kind, lines)| (*kind, lines.iter().map(line).collect()));
    DraftDay { session: new_id(), name: None, blocks: blocks.collect(), seconds: day.total.value() }
}

/// The pinned lines of a day as they were: with their slot, pin and dose, not as copies of them.
fn own_again(pinned: &[Pinned], day: usize, draft: &mut DraftDay) {
    for line in draft.blocks.iter_mut().flat_map(|(_, lines)| lines) {
        let exercise = |l: &DraftLine| l.done.as_ref().map(|done| done.exercise.clone());
        let own = pinned.iter().find(|p| p.day == day && exercise(&p.line) == exercise(line));
        if let Some(own) = own {
            *line = DraftLine { expected: line.expected, ..own.line.clone() };
        }
    }
}
