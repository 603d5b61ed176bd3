//! What phones say, made into the log: each thing once, in whatever order it comes, whatever the plan is by then.

use std::collections::HashMap;

use bavrek_core::person::Side;
use bavrek_store::entries::{self, Entry, State};
use bavrek_store::links::Admitted;
use bavrek_store::log::{self, RecordedSet};
use bavrek_store::notes::{self, Note};
use bavrek_store::skips::{self, Skip};
use bavrek_store::spot_swaps::{self, InTheWay, SpotSwap};
use bavrek_store::{StoreError, sessions, workouts};
use chrono::{DateTime, NaiveDate, Utc};
use chrono_tz::Tz;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::super::LONGEST_REASON;
use super::super::asked::Asked;
use super::super::course::Course;
use super::super::floor::Floor;
use super::super::forms::{Basis, SetForm};
use super::super::record::{self, New};
use super::super::within::Around;
use crate::error::WebError;
use crate::extract::Fields;
use crate::state::App;

/// How far ahead of the server a thing may have been done, once the phone's clock is set right, s.
const AHEAD_S: i64 = 1;
/// How late a thing may come and be taken without a word, days: what is said to be older is more likely wrong than late.
const LATEST_DAYS: i64 = 60;
/// What is said of it.
const TOO_LATE: &str = "said to have been done more than 60 days ago: your trainer decides";
/// How far a phone's clock may be wrong without its being told, s.
pub(super) const WRONG_CLOCK_S: f64 = 300.0;

/// What a phone said.
#[derive(Debug, Clone, Deserialize, Serialize)]
pub(super) struct Statement {
    pub(super) id: Uuid,
    pub(super) session: Uuid,
    /// When, by the phone's clock.
    pub(super) at: DateTime<Utc>,
    /// What.
    pub(super) said: serde_json::Value,
}

/// What can be said.
#[derive(Debug, Deserialize)]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
enum What {
    /// A set was done, or corrected.
    Set {
        given: String,
        slot: Uuid,
        choice: usize,
        /// The movement that was shown.
        exercise: String,
        /// Steps above the one that was asked for.
        rung: i32,
        /// Which set of the slot it was, from 0.
        turn: usize,
        fields: Vec<(String, String)>,
        supersedes: Option<Uuid>,
    },
    /// A set was logged that should not have been.
    Undo { set: Uuid },
    /// A slot is left out today.
    Skip { slot: Uuid, reason: String },
    /// It is done after all.
    TakeUp { slot: Uuid },
    /// Something else is done today.
    Swap { given: String, slot: Uuid, choice: usize, reason: String },
    /// The plan's own is done after all.
    Unswap { slot: Uuid },
    /// Something was noted.
    Note { slot: Option<Uuid>, text: String },
    /// The workout ends here.
    Finish { why: String },
}

/// What became of it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub(super) struct Answer {
    id: Uuid,
    state: &'static str,
    why: String,
}

/// Takes what a phone says, one thing after another.
pub(super) struct Taker {
    app: App,
    who: Admitted,
    /// The client's time zone: days are theirs.
    zone: Tz,
    /// By how much the phone's clock is ahead, s.
    ahead_s: f64,
    /// The workout on the days that were spoken of.
    courses: HashMap<NaiveDate, Course>,
}

/// Nothing can be made of it, for a reason that is told.
struct Refusal(State, String);

impl Answer {
    /// Of something about a session that the link does not reach.
    pub(super) fn unreached(id: Uuid) -> Self {
        Self { id, state: State::Refused.id(), why: "this link does not reach that workout".to_owned() }
    }
}

impl From<StoreError> for Unmade {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::Conflict => Self::Refused(Refusal(State::Conflict, entries::SENT_BEFORE.to_owned())),
            StoreError::NotFound => refused("what it is about is not there"),
            StoreError::ClearanceNeeded => refused("new movements wait for a doctor's or physiotherapist's word"),
            other => Self::Failed(other.into()),
        }
    }
}

/// Why nothing was made of an entry: it is refused, or the machine failed and it is sent again.
enum Unmade {
    Refused(Refusal),
    Failed(WebError),
}

impl From<WebError> for Unmade {
    fn from(error: WebError) -> Self {
        match error {
            WebError::NotFound => refused("what it is about is not there"),
            other => Self::Failed(other),
        }
    }
}

fn refused(why: &str) -> Unmade {
    Unmade::Refused(Refusal(State::Refused, why.to_owned()))
}

impl Taker {
    /// One who takes what is said of a session by a phone whose clock showed a time when it was sent.
    pub(super) fn new(app: App, who: Admitted, time_zone: &str, phone: DateTime<Utc>) -> Self {
        let ahead_s = (phone - app.clock.now()).as_seconds_f64();
        Self { app, who, zone: time_zone.parse().unwrap_or(Tz::UTC), ahead_s, courses: HashMap::new() }
    }

    /// When something was done, the phone's clock set right.
    fn done_at(&self, at: DateTime<Utc>) -> DateTime<Utc> {
        let millis = (self.ahead_s * 1000.0).clamp(-1e14, 1e14) as i64;
        let right = at.checked_sub_signed(chrono::Duration::milliseconds(millis)).unwrap_or(at);
        right.min(self.app.clock.now() + chrono::Duration::seconds(AHEAD_S))
    }

    /// Keeps what was said and makes of it what can be made. `waits` says why the trainer has to decide first, where so.
    pub(super) async fn take(&mut self, said: &Statement, waits: Option<&str>) -> Result<Answer, WebError> {
        let app = self.app.clone();
        let now = app.clock.now();
        let done_at = self.done_at(said.at);
        let said = &Statement { said: plain(said.said.clone()), ..said.clone() };
        let waits = waits.or_else(|| ((now - done_at).num_days() > LATEST_DAYS).then_some(TOO_LATE));
        let body = serde_json::json!({ "at": said.at, "said": said.said });
        let entry = Entry { id: said.id, body, done_at, ahead_s: self.ahead_s };
        let received = entries::receive(&app.pool, &self.who, &entry, now).await?;
        let answer = |state: State, why: &str| Answer { id: said.id, state: state.id(), why: why.to_owned() };
        if received.state != State::Arrived {
            return Ok(answer(received.state, &received.why));
        }
        let (state, why) = match waits {
            Some(why) => (State::Waiting, why.to_owned()),
            None => self.make(said.id, &said.said, done_at).await?,
        };
        entries::settle(&app.pool, self.who.trainer, (said.id, &received.digest), (state, &why), now).await?;
        Ok(answer(state, &why))
    }

    /// Makes of something that was said what can be made.
    pub(super) async fn make(
        &mut self,
        id: Uuid,
        said: &serde_json::Value,
        done_at: DateTime<Utc>,
    ) -> Result<(State, String), WebError> {
        let made = match serde_json::from_value::<What>(said.clone()) {
            Ok(what) => self.of(id, what, done_at).await,
            Err(error) => Err(refused(&format!("it could not be read: {error}"))),
        };
        match made {
            Ok(mut note) => {
                if self.ahead_s.abs() > WRONG_CLOCK_S {
                    let wrong = format!("the phone's clock was {}", ahead(self.ahead_s));
                    note = if note.is_empty() { wrong } else { format!("{note}; {wrong}") };
                }
                Ok((State::Taken, note))
            }
            Err(Unmade::Refused(Refusal(state, why))) => Ok((state, why)),
            Err(Unmade::Failed(error)) => Err(error),
        }
    }

    async fn of(&mut self, id: Uuid, what: What, done_at: DateTime<Utc>) -> Result<String, Unmade> {
        let (app, who) = (self.app.clone(), self.who);
        let (pool, trainer, session) = (&app.pool, who.trainer, who.session);
        let on = done_at.with_timezone(&self.zone).date_naive();
        match what {
            What::Set { given, slot, choice, exercise, rung, turn, fields, supersedes } => {
                let told = Told { given, slot, choice, exercise, rung, turn, fields, supersedes };
                return self.set(id, told, (on, done_at)).await;
            }
            What::Undo { set } => {
                log::take_back(pool, trainer, session, id, set).await?;
            }
            What::Skip { slot, reason } => {
                let reason: String = reason.chars().filter(|c| !c.is_control()).take(LONGEST_REASON).collect();
                skips::add(pool, trainer, session, &Skip { id, slot_id: slot, on, reason }).await?;
            }
            What::TakeUp { slot } => {
                self.own(slot).await?;
                skips::take_up(pool, trainer, slot, on).await?;
            }
            What::Swap { given, slot, choice, reason } => {
                self.swap((id, on), (&given, slot, choice), &reason).await?;
            }
            What::Unswap { slot } => {
                self.own(slot).await?;
                spot_swaps::take_back(pool, trainer, slot, on).await?;
            }
            What::Note { slot, text } => {
                if let Some(slot) = slot {
                    self.own(slot).await?;
                }
                let text: String = text.trim().chars().filter(|c| *c != '\0').take(notes::LONGEST).collect();
                if text.is_empty() {
                    return Err(refused("the note is empty"));
                }
                notes::add(pool, trainer, session, &Note { id, slot_id: slot, on, at: done_at, text }).await?;
                return Ok(String::new());
            }
            What::Finish { why } => {
                // What was done before may come after.
                let floor = self.floor(on).await?;
                let workout = record::begin(&app, trainer, &floor, (on, done_at), None).await?;
                let why: String = why.chars().filter(|c| !c.is_control()).take(LONGEST_REASON).collect();
                workouts::end_early(pool, trainer, workout, done_at, &why).await?;
                return Ok(String::new());
            }
        }
        // What is done now may be another thing than before.
        self.courses.remove(&on);
        let course = self.course(on).await?;
        record::say_done(&app, trainer, course).await?;
        Ok(String::new())
    }

    /// The workout on a day.
    async fn course(&mut self, on: NaiveDate) -> Result<&mut Course, Unmade> {
        if let std::collections::hash_map::Entry::Vacant(free) = self.courses.entry(on) {
            free.insert(Course::on(&self.app, self.who.trainer, self.who.session, on).await?);
        }
        self.courses.get_mut(&on).ok_or_else(|| refused("that day is not there"))
    }

    /// The same with all that is known around it.
    async fn floor(&self, on: NaiveDate) -> Result<Floor, Unmade> {
        let head = sessions::head(&self.app.pool, self.who.trainer, self.who.session).await?;
        Ok(Floor::on(&self.app, self.who.trainer, head, on).await?)
    }

    /// The set that another one corrects, whenever it was done. One that was corrected so before finds the correction in the log.
    async fn corrected(&mut self, on: NaiveDate, slot: Uuid, ids: [Uuid; 2]) -> Result<RecordedSet, Unmade> {
        let own = |r: &&RecordedSet| r.slot_id == Some(slot) && ids.contains(&r.id);
        let of_the_day = self.course(on).await?.posts.iter().flat_map(|p| &p.done).find(own).cloned();
        let found = match of_the_day {
            Some(found) => Some(found),
            None => self.floor(on).await?.scene.records().iter().find(own).cloned(),
        };
        found.ok_or_else(|| refused("the set that it corrects is not there, or was corrected elsewhere"))
    }

    /// A slot of this session, taken out since or not; of another there is nothing to say.
    async fn own(&self, slot: Uuid) -> Result<(), Unmade> {
        let placed = bavrek_store::slots::one(&self.app.pool, self.who.trainer, slot).await?;
        if placed.session.id == self.who.session { Ok(()) } else { Err(refused("that job is of another session")) }
    }

    async fn set(&mut self, id: Uuid, told: Told, (on, done_at): (NaiveDate, DateTime<Utc>)) -> Result<String, Unmade> {
        let (app, who) = (self.app.clone(), self.who);
        // What was given was of this session: its slots are its own.
        let given = app.handed.of(&app.pool, &who, &told.given).await?;
        let (_, choice) = given
            .choice(told.slot, told.choice)
            .ok_or_else(|| refused("that was not among what the phone was given"))?;
        if choice.exercise != told.exercise {
            return Err(refused("the phone showed another movement than it was given"));
        }
        let at = usize::try_from(choice.at as i64 + i64::from(told.rung)).ok();
        let step = at.and_then(|at| Some((at, choice.steps.get(at)?.clone())));
        let (at, step) = step.ok_or_else(|| refused("that step was not among what the phone was given"))?;
        let basis = Basis {
            exercise: choice.exercise.clone(),
            step,
            dose: choice.dose.clone(),
            day: on,
            one_sided: choice.one_sided,
            around: Around::of(&choice.steps, at),
        };
        let sets = &basis.dose.sets;
        let plan = sets.get(told.turn.min(sets.len().saturating_sub(1)));
        let asked = plan.map(|plan| Asked::from_plan(plan, told.turn));
        let corrected = match told.supersedes {
            Some(old) => Some(self.corrected(on, told.slot, [old, id]).await?),
            None => None,
        };
        let course = self.course(on).await?;
        let fields = Fields::from(told.fields);
        let set = SetForm::read(&fields, &basis, asked.as_ref(), corrected.as_ref().map(|r| &r.set))
            .map_err(|form| refused(&form.errors.join("; ")))?;
        let done = course.posts.iter().find(|p| p.slot.id == told.slot).map_or(&[][..], |p| &p.done);
        // A total goes on for as many sets as it takes.
        let one_more = corrected.is_none() && plan.is_some_and(|plan| plan.total.is_none());
        let own = done.iter().filter(|r| r.id != id && (set.side.is_none() || r.set.side == set.side)).count();
        let more = own >= sets.len();
        let position = corrected.as_ref().map_or(done.len() as i16 + 1, |r| r.position);
        let script = Some(&given.script);
        let new = New { id, slot: told.slot, position, set: &set, done_at, supersedes: told.supersedes, script };
        record::store(&app, who.trainer, course, &new).await?;
        course.add(told.slot, new.recorded(given.place), told.supersedes);
        record::say_done(&app, who.trainer, course).await?;
        let turn = (told.slot, told.turn, set.side.map(Side::id));
        Ok(match one_more {
            true if more => format!("more sets than the {} that were asked for", sets.len()),
            true if entries::another_stands(&app.pool, &who, id, turn, done_at).await? => {
                format!("another set stands for set {} of this job", told.turn + 1)
            }
            _ => String::new(),
        })
    }

    async fn swap(
        &self,
        (id, on): (Uuid, NaiveDate),
        (given, slot, choice): (&str, Uuid, usize),
        reason: &str,
    ) -> Result<(), Unmade> {
        let (app, who) = (self.app.clone(), self.who);
        self.own(slot).await?;
        let given = app.handed.of(&app.pool, &who, given).await?;
        let (station, choice) =
            given.choice(slot, choice).ok_or_else(|| refused("that was not among what the phone was given"))?;
        let step = choice.steps.get(choice.at).ok_or_else(|| refused("that step is not there"))?;
        let reason: String = reason.trim().chars().filter(|c| !c.is_control()).take(LONGEST_REASON).collect();
        let swap = SpotSwap {
            id,
            slot_id: slot,
            place_id: given.place,
            on,
            instead_of: station.planned.clone(),
            exercise: choice.exercise.clone(),
            step: step.clone(),
            prescription: choice.dose.clone(),
            reason: if reason.is_empty() { "chosen on the spot".into() } else { reason },
            trouble: InTheWay::default(),
        };
        Ok(spot_swaps::add(&app.pool, who.trainer, &swap, None).await?)
    }
}

/// A set as it was told.
struct Told {
    given: String,
    slot: Uuid,
    choice: usize,
    exercise: String,
    rung: i32,
    turn: usize,
    fields: Vec<(String, String)>,
    supersedes: Option<Uuid>,
}

/// The same without the one character that no text of the database may hold.
fn plain(said: serde_json::Value) -> serde_json::Value {
    use serde_json::Value;
    match said {
        Value::String(text) => Value::String(text.replace('\0', "")),
        Value::Array(all) => all.into_iter().map(plain).collect(),
        Value::Object(all) => all.into_iter().map(|(name, value)| (name.replace('\0', ""), plain(value))).collect(),
        other => other,
    }
}

/// By how much a clock was ahead or behind, in words.
pub(super) fn ahead(seconds: f64) -> String {
    let minutes = (seconds.abs() / 60.0).round();
    let much = match minutes {
        m if m < 120.0 => format!("{m:.0} min"),
        m if m < 48.0 * 60.0 => format!("{:.0} h", m / 60.0),
        m => format!("{:.0} days", m / (24.0 * 60.0)),
    };
    format!("{much} {}", if seconds > 0.0 { "ahead" } else { "behind" })
}

#[cfg(test)]
mod tests {
    use super::ahead;
    use rstest::rstest;

    #[rstest]
    #[case(600.0, "10 min ahead")]
    #[case(-86_400.0, "24 h behind")]
    #[case(3.0 * 86_400.0, "3 days ahead")]
    fn a_wrong_clock_is_told_in_words(#[case] seconds: f64, #[case] words: &str) {
        assert_eq!(ahead(seconds), words);
    }
}
