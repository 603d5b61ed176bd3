//! The form that logs a set: what was tapped and typed, and the set it makes.

use bavrek_core::anatomy::{Joint, Region};
use bavrek_core::dose::{Prescription, SetKind};
use bavrek_core::ladder::LadderStep;
use bavrek_core::log::{Changed, LONGEST_HOLD, LoggedSet, MOST_REPS, Observation, PAIN_THAT_STOPS};
use bavrek_core::movement::Movement;
use bavrek_core::person::Side;
use bavrek_store::fits::Fit;
use chrono::NaiveDate;

use super::asked::Asked;
use super::floor::{Floor, Post};
use super::phone::pack::Way;
use super::within::{self, AS_LOGGED, Around};
use crate::extract::Fields;
use crate::state::App;

/// What a form was filled in against: a movement on a step, with its dose, on a day.
pub(super) struct Basis {
    pub(super) exercise: String,
    pub(super) step: LadderStep,
    pub(super) dose: Prescription,
    pub(super) day: NaiveDate,
    /// Whether one side works at a time: of nothing else a side is kept.
    pub(super) one_sided: bool,
    /// To what the step can be changed within a set.
    pub(super) around: Around,
}

impl Basis {
    /// What a fit asks for on a day.
    pub(super) fn of(app: &App, fit: Fit, day: NaiveDate) -> Self {
        let Fit { exercise, step, prescription: dose, .. } = fit;
        let one_sided = app.catalogue.movement(&exercise).is_some_and(Movement::unilateral);
        Self { exercise, step, dose, day, one_sided, around: Around::default() }
    }

    /// The step of the set that is asked, where that is another one than the line's own.
    pub(super) fn step_of(&self, app: &App, floor: &Floor, post: &Post, asked: Option<&Asked>) -> Option<LadderStep> {
        let sets = &self.dose.sets;
        let work = sets.get(asked?.round.min(sets.len().checked_sub(1)?))?;
        if work.step == 0 {
            return None;
        }
        let way = Way::on(app, floor, post, (&self.exercise, &self.step, &self.dose))?;
        Some(way.step_of(floor, work).clone())
    }

    /// A set of it of which only the load is stated.
    fn set(&self, asked: Option<&Asked>) -> LoggedSet {
        let sets = &self.dose.sets;
        let round = asked.map_or(0, |a| a.round).min(sets.len().saturating_sub(1));
        LoggedSet {
            load: self.step.load,
            setup: Some(self.step.setup),
            bands: self.step.bands.clone(),
            effective_kg: Some(self.step.effective_kg),
            kind: asked.and_then(Asked::logged_kind),
            // The parts of a mixed set have tempos of their own.
            tempo: sets.get(round).filter(|s| s.kind != SetKind::Mixed && !s.kind.is_timed()).map(|s| s.tempo),
            ..LoggedSet::of(self.exercise.clone(), self.day)
        }
    }
}

/// What was given, with what is wrong.
#[derive(Debug, Clone, Default)]
pub(super) struct SetForm {
    pub(super) reps: String,
    pub(super) seconds: String,
    pub(super) rir: String,
    pub(super) pain: String,
    pub(super) pain_at: String,
    pub(super) pain_side: String,
    pub(super) side: String,
    pub(super) form: String,
    pub(super) seen: Vec<String>,
    pub(super) felt_at: String,
    /// After how many repetitions something was changed, and to what.
    pub(super) changed_after: String,
    pub(super) changed_to: String,
    pub(super) errors: Vec<String>,
}

impl SetForm {
    /// The form filled in from a set that is to be corrected.
    pub(super) fn of(set: &LoggedSet) -> Self {
        let number = |n: Option<u8>| n.map_or_else(String::new, |n| n.to_string());
        let count = |n: Option<u16>| n.map_or_else(String::new, |n| n.to_string());
        Self {
            reps: count(set.reps),
            seconds: count(set.seconds),
            rir: number(set.rir),
            pain: number(set.pain),
            pain_at: set.pain_at.map_or_else(String::new, |j| j.id().to_owned()),
            pain_side: set.pain_side.map_or_else(String::new, |s| s.id().to_owned()),
            side: set.side.map_or_else(String::new, |s| s.id().to_owned()),
            form: if set.form_kept == Some(false) { "broken".into() } else { "kept".into() },
            seen: set.seen.iter().map(|s| s.id().to_owned()).collect(),
            felt_at: set.felt_at.map_or_else(String::new, |r| r.id().to_owned()),
            changed_after: set.changed.as_ref().map_or_else(String::new, |changed| changed.after.to_string()),
            changed_to: set.changed.as_ref().map_or_else(String::new, |_| AS_LOGGED.to_owned()),
            errors: Vec::new(),
        }
    }

    /// The same with something to say.
    pub(super) fn with(mut self, error: &str) -> Self {
        self.errors.push(error.to_owned());
        self
    }

    /// The set, or the form as it was given with its errors. A correction keeps the day, movement and load of the set it
    /// corrects.
    pub(super) fn read(
        fields: &Fields,
        basis: &Basis,
        asked: Option<&Asked>,
        corrected: Option<&LoggedSet>,
    ) -> Result<LoggedSet, Box<Self>> {
        // "More" stands for the number typed beside it.
        let tapped = fields.text("reps");
        let reps = if tapped.is_empty() || tapped == "more" { fields.text("reps_typed") } else { tapped };
        let tapped = fields.text("seconds");
        let seconds = if tapped.is_empty() || tapped == "more" { fields.text("seconds_typed") } else { tapped };
        // Whoever stops because it hurts has not counted: what is not told is none.
        let stopped = !fields.text("stop").is_empty();
        let uncounted = stopped && reps.is_empty();
        let reps = if uncounted { "0" } else { reps };
        let mut form = Self {
            reps: reps.chars().take(20).collect(),
            seconds: seconds.chars().take(20).collect(),
            rir: fields.text("rir").chars().take(20).collect(),
            pain: fields.text("pain").chars().take(20).collect(),
            pain_at: fields.text("pain_at").to_owned(),
            pain_side: fields.text("pain_side").to_owned(),
            side: fields.text("side").to_owned(),
            form: fields.text("form").to_owned(),
            seen: fields.all("seen").map(str::to_owned).collect(),
            felt_at: fields.text("felt_at").to_owned(),
            changed_after: fields.text("changed_after").chars().take(20).collect(),
            changed_to: fields.text("changed_to").chars().take(20).collect(),
            errors: Vec::new(),
        };
        let base = corrected.cloned().unwrap_or_else(|| basis.set(asked));
        let by_clock =
            corrected.map_or(asked.is_some_and(Asked::may_be_uncounted), |c| c.kind == Some(SetKind::Station));
        let counts_reps = match corrected {
            _ if by_clock => !form.reps.is_empty(),
            Some(corrected) => corrected.reps.is_some(),
            None => asked.is_none_or(|a| a.reps.is_some()),
        };
        let counts_seconds = corrected.map_or(asked.is_some_and(|a| a.seconds.is_some()), |c| c.seconds.is_some());
        let pain = form.small("pain", "Pain", 10).filter(|p| *p > 0);
        let pain_at = form.joint(pain.map_or(stopped, |p| p >= PAIN_THAT_STOPS));
        if stopped && pain.is_none() {
            form.errors.push("Pain: say how strong, from 1 to 10".into());
        }
        let reps = if counts_reps || uncounted { form.reps() } else { None };
        let set = LoggedSet {
            reps,
            changed: if uncounted { None } else { form.changed(&basis.around, corrected, reps) },
            seconds: if counts_seconds && !uncounted { form.seconds() } else { None },
            // Nor is anything known of what was left.
            rir: form.small("rir", "Left in the tank", 6).filter(|_| !uncounted),
            pain,
            pain_at,
            pain_side: form.pain_side().filter(|_| pain_at.is_some()),
            side: form.side().filter(|_| basis.one_sided).or(base.side),
            form_kept: (!form.form.is_empty()).then(|| form.form != "broken"),
            felt_at: form.felt_at(),
            seen: form.seen(),
            ..base
        };
        if form.errors.is_empty()
            && let Err(error) = set.validate()
        {
            form.errors.push(format!("{}: {}", error.path, error.message));
        }
        if form.errors.is_empty() { Ok(set) } else { Err(Box::new(form)) }
    }

    /// What was changed within the set: nothing where neither field is filled in.
    fn changed(&mut self, around: &Around, corrected: Option<&LoggedSet>, reps: Option<u16>) -> Option<Box<Changed>> {
        let read = within::read([&self.changed_after, &self.changed_to], around, corrected, reps);
        read.unwrap_or_else(|wrong| {
            // Without repetitions something else is wrong already.
            if reps.is_some() || self.errors.is_empty() {
                self.errors.extend(wrong);
            }
            None
        })
    }

    fn seconds(&mut self) -> Option<u16> {
        match self.seconds.parse::<u16>() {
            Ok(seconds) if (1..=LONGEST_HOLD).contains(&seconds) => Some(seconds),
            _ if self.seconds.is_empty() => {
                self.errors.push("Seconds: tap or type how long it was held".into());
                None
            }
            _ => {
                let typed = &self.seconds;
                self.errors.push(format!("Seconds: must be a whole number from 1 to {LONGEST_HOLD}, not {typed:?}"));
                None
            }
        }
    }

    fn reps(&mut self) -> Option<u16> {
        match self.reps.parse::<u16>() {
            Ok(reps) if reps <= MOST_REPS => Some(reps),
            _ if self.reps.is_empty() => {
                self.errors.push("Reps: tap or type how many were done".into());
                None
            }
            _ => {
                self.errors.push(format!("Reps: must be a whole number from 0 to {MOST_REPS}, not {:?}", self.reps));
                None
            }
        }
    }

    fn small(&mut self, field: &str, label: &str, most: u8) -> Option<u8> {
        let text = if field == "rir" { &self.rir } else { &self.pain };
        if text.is_empty() {
            return None;
        }
        let number = text.parse::<u8>().ok().filter(|n| *n <= most);
        if number.is_none() {
            self.errors.push(format!("{label}: must be a whole number from 0 to {most}, not {text:?}"));
        }
        number
    }

    /// Where it hurts; needed for pain that stops a movement.
    fn joint(&mut self, needed: bool) -> Option<Joint> {
        let joint = Joint::from_id(&self.pain_at);
        if joint.is_none() && (needed || !self.pain_at.is_empty()) {
            self.errors.push("Pain: say where it hurts, so that it can be spared".into());
        }
        joint
    }

    fn pain_side(&mut self) -> Option<Side> {
        if self.pain_side.is_empty() {
            return None;
        }
        let side = Side::from_id(&self.pain_side);
        if side.is_none() {
            self.errors.push("Pain: the side must be left, right or both".into());
        }
        side
    }

    fn side(&mut self) -> Option<Side> {
        if self.side.is_empty() {
            return None;
        }
        let side = Side::from_id(&self.side);
        if side.is_none() {
            self.errors.push("Side: must be left or right".into());
        }
        side
    }

    /// Where it was felt instead; naming a place says that it was somewhere else.
    fn felt_at(&mut self) -> Option<Region> {
        if self.felt_at.is_empty() {
            return None;
        }
        let region = Region::from_id(&self.felt_at);
        if region.is_none() {
            self.errors.push("Felt: the place is not on the list".into());
        }
        let elsewhere = Observation::FeltElsewhere.id();
        if region.is_some() && self.seen.iter().all(|s| s != elsewhere) {
            self.seen.push(elsewhere.to_owned());
        }
        region
    }

    fn seen(&mut self) -> Vec<Observation> {
        let known: Vec<_> = self.seen.iter().filter_map(|id| Observation::from_id(id)).collect();
        if known.len() != self.seen.len() {
            self.errors.push("Seen: holds something that is not on the list".into());
        }
        known
    }
}
