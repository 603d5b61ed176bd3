//! A change within a set: what it can be changed to, what asks for it, and what was typed of it.

use bavrek_core::kit::same_bands;
use bavrek_core::ladder::{Ladder, LadderStep, beside};
use bavrek_core::log::{Changed, LoggedSet};
use bavrek_core::movement::Movement;
use bavrek_store::fits::Fit;
use bavrek_store::log::RecordedSet;

use super::floor::Floor;
use super::forms::{Basis, SetForm};
use crate::state::App;

/// The steps beside one, to which it can be changed within a set.
#[derive(Debug, Clone, Default)]
pub(super) struct Around {
    pub(super) lighter: Option<LadderStep>,
    pub(super) heavier: Option<LadderStep>,
}

/// A change to what the corrected set was changed to.
pub(super) const AS_LOGGED: &str = "logged";

impl Around {
    /// Those of a step among steps by rising load.
    pub(super) fn of(steps: &[LadderStep], at: usize) -> Self {
        let [lighter, heavier] = beside(steps, at).map(|place| place.map(|i| steps[i].clone()));
        Self { lighter, heavier }
    }

    /// What can be said, each with the words for it.
    pub(super) fn options(&self, corrected: Option<&LoggedSet>, movement: &Movement) -> Vec<(&'static str, String)> {
        let logged = corrected.and_then(LoggedSet::from_the_change).map(|after| after.load_told(movement));
        let step = |word: &str, step: &LadderStep| format!("{word}: {}", step.label);
        let lighter = self.lighter.as_ref().map(|s| ("lighter", step("lighter", s)));
        let heavier = self.heavier.as_ref().map(|s| ("heavier", step("heavier", s)));
        logged.map(|told| (AS_LOGGED, format!("as logged: {told}"))).into_iter().chain(lighter).chain(heavier).collect()
    }
}

/// The steps beside the one that a set was begun on: of a correction beside what it was logged with.
pub(super) fn around(app: &App, floor: &Floor, basis: &Basis, corrected: Option<&LoggedSet>) -> Around {
    let exercise = corrected.map_or(&basis.exercise, |set| &set.exercise);
    let Some(movement) = app.catalogue.movement(exercise) else { return Around::default() };
    let part = corrected.map_or(basis.step.setup, |set| set.setup.unwrap_or_default()).range;
    let ladder = Ladder::of_part(movement, &floor.scene.person, &floor.scene.place.kit, part);
    let begun = |step: &LadderStep| match corrected {
        Some(set) => same_bands(&step.bands, &set.bands) && (step.load, Some(step.setup)) == (set.load, set.setup),
        None => step.is_alike(&basis.step),
    };
    ladder.steps.iter().position(begun).map_or_else(Around::default, |at| Around::of(&ladder.steps, at))
}

/// What asks for a change within a set. To what is read off a ladder, which is only made where somebody asks.
pub(super) struct ChangeFields {
    /// Whether it can be changed: only what is counted in repetitions.
    pub(super) may: bool,
    /// To what, each with its words and whether it is chosen; none before somebody asked.
    pub(super) to: Option<Vec<(&'static str, String, bool)>>,
    /// After how many repetitions it was.
    pub(super) after: String,
}

impl ChangeFields {
    pub(super) fn of(
        app: &App,
        floor: &Floor,
        (fit, movement): (&Fit, &Movement),
        correcting: Option<&RecordedSet>,
        (form, may, asked): (&SetForm, bool, bool),
    ) -> Self {
        let typed = !form.changed_after.is_empty() || !form.changed_to.is_empty();
        let options = || {
            let corrected = correcting.map(|r| &r.set);
            let of = corrected.and_then(|set| app.catalogue.movement(&set.exercise)).unwrap_or(movement);
            let basis = Basis::of(app, fit.clone(), floor.scene.today);
            let all = around(app, floor, &basis, corrected).options(corrected, of).into_iter();
            all.map(|(id, told)| (id, told, form.changed_to == id)).collect()
        };
        Self { may, to: (may && (asked || typed)).then(options), after: form.changed_after.clone() }
    }
}

/// What was typed: after how many repetitions, and to what. Nothing where both are empty; otherwise the change, or what is wrong.
pub(super) fn read(
    [after, to]: [&str; 2],
    around: &Around,
    corrected: Option<&LoggedSet>,
    reps: Option<u16>,
) -> Result<Option<Box<Changed>>, Vec<String>> {
    if after.is_empty() && to.is_empty() {
        return Ok(None);
    }
    let Some(reps) = reps else {
        return Err(vec!["Changed: only a set that is counted in repetitions can be changed within itself".into()]);
    };
    let most = reps.saturating_sub(1);
    let counted = after.parse::<u16>().ok().filter(|after| (1..reps).contains(after));
    let to = match to {
        AS_LOGGED => corrected.and_then(|set| set.changed.as_deref()).cloned(),
        "lighter" => around.lighter.as_ref().map(|step| Changed::to(step, 1)),
        "heavier" => around.heavier.as_ref().map(|step| Changed::to(step, 1)),
        _ => None,
    };
    match (counted, to) {
        (Some(after), Some(to)) => Ok(Some(Box::new(Changed { after, ..to }))),
        (counted, to) => {
            let wrong_count = match (after, most) {
                (_, 0) => "Changed: a set of so few repetitions cannot be changed within itself".to_owned(),
                ("", _) => "Changed: say after how many repetitions".to_owned(),
                _ => format!("Changed: must be after 1 to {most} of the {reps} repetitions, not {after:?}"),
            };
            let wrong_step = "Changed: say to what: lighter or heavier".to_owned();
            let wrong = [counted.is_none().then_some(wrong_count), to.is_none().then_some(wrong_step)];
            Err(wrong.into_iter().flatten().collect())
        }
    }
}
