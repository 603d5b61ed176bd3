//! A question about a next step with everything usual, to be changed where a case differs. All invented.
#![allow(dead_code, reason = "each test file uses its part")]

use std::sync::LazyLock;

use bavrek_catalogue::load;
use bavrek_core::dose::Prescription;
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::LadderStep;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, CallKind, NextQuestion, next};
use chrono::{Days, NaiveDate};

use super::{day, dumbbell_set, intent, kit, person};

pub(crate) static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

pub(crate) const RACK: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,5,6,7,8,9,10,11,12,13,14,16,18,20,22,24]},{"kind":"bench","angles_deg":[0,30]}]"#;
pub(crate) const PRESS: &str =
    r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
pub(crate) const CURL: &str =
    r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
pub(crate) const FLY: &str = r#"{"pattern":"fly","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#;

/// A question with everything usual, to be changed where a case differs.
pub(crate) struct Asked {
    pub(crate) person: Person,
    pub(crate) room: String,
    pub(crate) intent: Intent,
    pub(crate) prescription: Option<Prescription>,
    pub(crate) history: Vec<LoggedSet>,
    pub(crate) today: &'static str,
    pub(crate) planned: Option<&'static str>,
    pub(crate) limits_since: Option<&'static str>,
}

impl Asked {
    pub(crate) fn of(wanted: &str, history: Vec<LoggedSet>) -> Self {
        Self {
            person: person(),
            room: RACK.into(),
            intent: intent(wanted),
            prescription: None,
            history,
            today: "2026-03-06",
            planned: None,
            limits_since: None,
        }
    }

    /// The call. Whatever is asked is asked again as if workouts had been missed since, which adds nothing and takes no care away.
    pub(crate) fn call(&self) -> Call {
        let call = self.call_missing(&[]);
        let last = self.history.iter().map(|s| s.date).filter(|d| *d < day(self.today)).max();
        let since = last.into_iter().flat_map(|d| d.iter_days().skip(1).take(2));
        let missed: Vec<NaiveDate> = since.filter(|d| *d < day(self.today)).collect();
        let after = self.call_missing(&missed);
        let far_too_light = call.told().iter().any(|r| r.contains("far above what was asked"));
        if missed.len() == 2 && !far_too_light && (call.call.rises() || call.call == CallKind::Deload) {
            assert_eq!(after.call, CallKind::Hold, "{:?}", after.reasons);
            assert!(after.told().iter().any(|r| r.contains("in a row were missed")), "{:?}", after.reasons);
        } else {
            assert_eq!(after, call, "missed workouts changed what asks for no more");
        }
        call
    }

    fn call_missing(&self, missed: &[NaiveDate]) -> Call {
        let prescription = self.prescription.clone().unwrap_or_else(|| self.intent.dose.prescription());
        next(
            &CATALOGUE,
            &NextQuestion {
                person: &self.person,
                kit: &kit(&self.room),
                intent: &self.intent,
                prescription: &prescription,
                history: &self.history,
                today: day(self.today),
                limits_since: self.limits_since.map(day),
                planned: self.planned,
                put_aside: &[],
                method: None,
                missed,
            },
        )
    }
}

/// What is asked of a line the day after its last set.
pub(crate) fn the_day_after<'q>(
    planned: &'q str,
    (person, kit): (&'q Person, &'q [KitItem]),
    (intent, prescription): (&'q Intent, &'q Prescription),
    history: &'q [LoggedSet],
) -> NextQuestion<'q> {
    NextQuestion {
        person,
        kit,
        intent,
        prescription,
        history,
        today: history.last().unwrap().date + Days::new(1),
        limits_since: None,
        planned: Some(planned),
        put_aside: &[],
        method: None,
        missed: &[],
    }
}

/// A set of a movement on one of its steps, without what was done of it.
pub(crate) fn set_on(id: &str, date: &str, step: &LadderStep) -> LoggedSet {
    LoggedSet {
        load: step.load,
        bands: step.bands.clone(),
        setup: Some(step.setup),
        effective_kg: Some(step.effective_kg),
        ..LoggedSet::of(id, day(date))
    }
}

pub(crate) fn session(exercise: &str, date: &str, kg: f64, reps: &[u16], rir: u8) -> Vec<LoggedSet> {
    reps.iter().map(|r| dumbbell_set(exercise, date, kg, *r, rir)).collect()
}

pub(crate) fn curls(date: &str, kg: f64, reps: &[u16], rir: u8) -> Vec<LoggedSet> {
    session("dumbbell_curl", date, kg, reps, rir)
}

pub(crate) fn kg(call: &Call) -> f64 {
    call.step.as_ref().map_or(0.0, |s| s.effective_kg.value())
}
