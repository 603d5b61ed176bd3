//! What the phone page shows, ready to be written down.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::anatomy::{Joint, Region};
use bavrek_core::dose::Tempo;
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::Movement;
use bavrek_core::person::Side;
use bavrek_core::plan::StopRule;
use bavrek_core::safety::cautions;
use bavrek_core::spot::{self, Pain};
use bavrek_store::fits::Fit;
use bavrek_store::log::RecordedSet;
use bavrek_store::sessions::SessionHead;
use bavrek_store::slots::Slot;
use uuid::Uuid;

use super::forms::SetForm;
use super::pain_free;
use crate::chrome::Chrome;
use crate::features::roster::day;
use crate::features::scene::{Scene, capital, handled};
use crate::state::App;

/// Pixels between the ends of the tempo lift.
const TRAVEL: u16 = 190;

/// A slot with its fit and what was done of it today.
pub(super) struct Turn {
    pub(super) slot: Slot,
    pub(super) fit: Fit,
    /// What the fit stands in for today.
    pub(super) swap: Option<Instead>,
    pub(super) done: Vec<RecordedSet>,
    pub(super) expected: usize,
}

impl Turn {
    /// The set of today that stopped the movement: it hurt.
    fn stopping(&self) -> Option<&LoggedSet> {
        spot::stopping(self.done.iter().map(|r| &r.set), &self.fit.exercise)
    }

    /// Whether it hurt today in the movement that stands here now.
    pub(super) fn is_stopped(&self) -> bool {
        self.stopping().is_some()
    }

    /// What does not hurt instead; the page that asks where, if that was not told.
    fn without_pain(&self) -> String {
        match self.stopping().and_then(|set| Some((set, set.pain_at?))) {
            Some((set, joint)) => pain_free(self.slot.id, joint, set.pain_side, set.pain),
            None => format!("/slots/{}/spot", self.slot.id),
        }
    }
}

/// A swap on the spot.
pub(super) struct Instead {
    /// The plan's movement.
    pub(super) of: String,
    /// Why, for example `the bench is taken`.
    pub(super) reason: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "train/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    session: (Uuid, String),
    client: String,
    segments: Vec<Segment>,
    segments_width: usize,
    nothing_chosen: bool,
    now: Option<Now>,
    logged: Vec<Logged>,
    calls: Vec<(Uuid, String)>,
    /// Movements that were stopped because they hurt, with what can be done instead.
    stopped: Vec<(String, String)>,
}

struct Segment {
    x: usize,
    class: &'static str,
}

#[expect(clippy::struct_excessive_bools, reason = "what is open and ticked on the page")]
struct Now {
    slot: Uuid,
    id: Uuid,
    supersedes: Option<Uuid>,
    count: String,
    name: String,
    instead: Option<String>,
    load: String,
    how: String,
    reps: String,
    stop: String,
    cue: String,
    cautions: Vec<String>,
    /// How it is got into, out of and fixed.
    handled: Vec<(&'static str, String)>,
    lift: Lift,
    rest_until: Option<i64>,
    rep_choices: Vec<(String, bool)>,
    reps_typed: String,
    more: bool,
    rir_choices: Vec<(u8, &'static str, bool)>,
    sides: Option<Vec<(&'static str, &'static str, bool)>>,
    pain: Vec<(u8, bool)>,
    pain_at: Vec<(&'static str, &'static str, bool)>,
    pain_side: Vec<(&'static str, &'static str, bool)>,
    /// Where what does not hurt is, after it hurt in this movement today.
    stopped: Option<String>,
    /// What hurt in an earlier session and is loaded here, with where to swap.
    remembered: Option<(String, String)>,
    broken: bool,
    seen: Vec<(&'static str, &'static str, bool)>,
    /// Regions in which it can be felt instead.
    felt_at: Vec<(&'static str, &'static str, bool)>,
    more_open: bool,
    pain_open: bool,
    errors: Vec<String>,
}

struct Lift {
    lowering: u8,
    bottom: u8,
    lifting: u8,
    top: u8,
    travel: u16,
    text: String,
}

struct Logged {
    id: Uuid,
    name: String,
    what: String,
}

impl Page {
    #[expect(clippy::too_many_arguments, reason = "a page is put together from what was loaded for it")]
    pub(super) fn new(
        chrome: Chrome,
        app: &App,
        session: &SessionHead,
        scene: &Scene,
        turns: &[Turn],
        turn: Option<&Turn>,
        correcting: Option<&RecordedSet>,
        form: Option<SetForm>,
    ) -> Self {
        let name = |fit: &Fit| app.catalogue.movement(&fit.exercise).map_or(fit.exercise.clone(), |m| m.name.clone());
        let named = |id: &str| app.catalogue.movement(id).map_or(id.to_owned(), |m| m.name.clone());
        let logged = turns.iter().flat_map(|t| t.done.iter()).map(|r| Logged {
            id: r.id,
            name: named(&r.set.exercise),
            what: what(r),
        });
        let finished = turns.iter().filter(|t| !t.done.is_empty());
        let segments = segments(turns, turn);
        Self {
            session: (session.id, session.name.clone()),
            client: scene.client.name.clone(),
            segments_width: segments.len() * 10,
            segments,
            nothing_chosen: turns.is_empty(),
            logged: logged.collect(),
            stopped: turns.iter().filter(|t| t.is_stopped()).map(|t| (t.without_pain(), name(&t.fit))).collect(),
            calls: finished.map(|t| (t.slot.id, name(&t.fit))).collect(),
            now: turn.and_then(|t| {
                let movement = app.catalogue.movement(&t.fit.exercise)?;
                Some(now(app, scene, turns, t, movement, correcting, form))
            }),
            chrome: chrome.titled(session.name.clone()),
        }
    }
}

fn what(recorded: &RecordedSet) -> String {
    let set = &recorded.set;
    let load = set.effective_kg.map_or_else(String::new, |kg| format!("{kg:.1} × "));
    let reps = set.reps.map_or_else(|| "–".into(), |r| r.to_string());
    let left = set.rir.map_or_else(String::new, |r| format!(", {r} left"));
    let side = set.side.map_or_else(String::new, |s| format!(" {s}"));
    format!("{load}{reps}{left}{side}")
}

fn segments(turns: &[Turn], current: Option<&Turn>) -> Vec<Segment> {
    let mut segments = Vec::new();
    for turn in turns {
        let on = current.is_some_and(|c| c.slot.id == turn.slot.id);
        for i in 0..turn.expected.max(turn.done.len()) {
            let class = match i {
                _ if i < turn.done.len() => "done",
                _ if on && i == turn.done.len() => "now",
                _ => "open",
            };
            segments.push(Segment { x: segments.len() * 10, class });
        }
    }
    segments
}

fn now(
    app: &App,
    scene: &Scene,
    turns: &[Turn],
    turn: &Turn,
    movement: &Movement,
    correcting: Option<&RecordedSet>,
    form: Option<SetForm>,
) -> Now {
    let fit = &turn.fit;
    let plan = fit.prescription.sets.get(turn.done.len().min(fit.prescription.sets.len().saturating_sub(1)));
    let [low, high] = plan.and_then(|p| p.reps).unwrap_or(turn.slot.intent.reps);
    let wanted = plan.and_then(|p| p.rir).unwrap_or(turn.slot.intent.reserve());
    let kept = form.is_some();
    let form = form.or_else(|| correcting.map(|r| SetForm::of(&r.set))).unwrap_or_default();
    let choices = rep_choices(low, high);
    let reps = form.reps.clone();
    let typed = !reps.is_empty() && !choices.contains(&reps);
    let place = turns.iter().position(|t| t.slot.id == turn.slot.id).map_or(1, |i| i + 1);
    let number = correcting.map_or(turn.done.len() + 1, |r| r.position.max(1) as usize);
    let set_text = if correcting.is_some() { "correcting set" } else { "set" };
    Now {
        slot: turn.slot.id,
        id: bavrek_store::new_id(),
        supersedes: correcting.map(|r| r.id),
        count: format!("Slot {place} of {} · {set_text} {number} of {}", turns.len(), turn.expected),
        name: movement.name.clone(),
        instead: turn.swap.as_ref().map(|swap| {
            let planned = app.catalogue.movement(&swap.of).map_or(swap.of.as_str(), |m| &m.name);
            format!("Instead of {planned}: {}.", swap.reason)
        }),
        load: big_load(fit, movement),
        how: how(fit),
        reps: if low == high { low.to_string() } else { format!("{low}–{high}") },
        stop: stop_text(movement.unilateral(), turn.slot.intent.stop, wanted),
        cue: format!("{} {}", movement.cues.action, movement.cues.feel),
        cautions: cautions(&app.catalogue, movement, &fit.step, &scene.place.kit).into_iter().map(|c| c.text).collect(),
        handled: handled(movement, &fit.step).collect(),
        lift: lift(plan.map_or(Tempo::USUAL, |p| p.tempo)),
        rest_until: rest_until(app, turns, plan.map_or(90, |p| p.rest_s)),
        rep_choices: choices
            .into_iter()
            .map(|c| {
                let on = c == reps;
                (c, on)
            })
            .collect(),
        reps_typed: if typed { reps } else { String::new() },
        more: typed,
        // The prescribed reserve is filled in: a set that went as planned is logged in two taps.
        rir_choices: [(0, "none"), (1, "1"), (2, "2"), (3, "3"), (4, "4 +")]
            .into_iter()
            .map(|(n, text)| {
                (n, text, if form.rir.is_empty() && !kept { n == wanted.min(4) } else { form.rir == n.to_string() })
            })
            .collect(),
        sides: movement.unilateral().then(|| sides(turn, &form)),
        pain: (0..=10).map(|n: u8| (n, form.pain == n.to_string())).collect(),
        pain_at: Joint::ALL.iter().map(|j| (j.id(), j.label(), form.pain_at == j.id())).collect(),
        pain_side: Side::ALL.iter().map(|s| (s.id(), s.label(), form.pain_side == s.id())).collect(),
        stopped: (turn.is_stopped() && correcting.is_none()).then(|| turn.without_pain()),
        remembered: remembered(scene, turn, movement),
        broken: form.form == "broken",
        seen: Observation::ALL.iter().map(|o| (o.id(), o.label(), form.seen.iter().any(|s| s == o.id()))).collect(),
        felt_at: Region::ALL.iter().map(|r| (r.id(), r.label(), form.felt_at == r.id())).collect(),
        more_open: kept && (!form.seen.is_empty() || form.form == "broken"),
        pain_open: !matches!(form.pain.as_str(), "" | "0") || form.errors.iter().any(|e| e.starts_with("Pain")),
        errors: form.errors,
    }
}

/// Repetitions to tap: every number of the zone where it is short, else six from end to end.
fn rep_choices(low: u16, high: u16) -> Vec<String> {
    const MOST: u16 = 6;
    let from = low.min(high).max(1);
    let wide = high.saturating_sub(from);
    if wide < MOST {
        return (from..=from + wide.max(3)).map(|n| n.to_string()).collect();
    }
    (0..MOST).map(|i| (from + (wide * i + (MOST - 1) / 2) / (MOST - 1)).to_string()).collect()
}

/// What hurt on an earlier day and is asked for again here.
fn remembered(scene: &Scene, turn: &Turn, movement: &Movement) -> Option<(String, String)> {
    let again = |p: &&Pain| p.on < scene.today && p.joint.is_some_and(|j| movement.loads_joint(j));
    let pain = scene.pains.iter().find(again)?;
    let text = format!(
        "{} hurt {}: a light set first, and stop at once if it comes back.",
        capital(&pain.text()),
        day(pain.on, scene.today)
    );
    Some((text, pain_free(turn.slot.id, pain.joint?, pain.side, pain.strength)))
}

/// The figure to read from the floor: the stamped weight, else the effective load.
fn big_load(fit: &Fit, movement: &Movement) -> String {
    match fit.step.load {
        Some(load) if !movement.rig.is_lever() => load.short(),
        _ if fit.step.bands.is_empty() && fit.step.load.is_none() => "body".into(),
        _ => format!("{:.1}", fit.step.effective_kg.two_figures()),
    }
}

fn how(fit: &Fit) -> String {
    let surface = fit.step.setup.surface.map_or_else(String::new, |s| format!(" · {s}"));
    format!("{}{surface}", fit.step.label)
}

fn sides(turn: &Turn, form: &SetForm) -> Vec<(&'static str, &'static str, bool)> {
    let next = if turn.done.len().is_multiple_of(2) { "left" } else { "right" };
    let chosen = if form.side.is_empty() { next } else { form.side.as_str() };
    vec![("left", "left", chosen == "left"), ("right", "right", chosen == "right")]
}

fn lift(tempo: Tempo) -> Lift {
    let lifting = tempo.lifting.unwrap_or(1).max(1);
    Lift {
        lowering: tempo.lowering.max(1),
        bottom: tempo.bottom,
        lifting,
        top: tempo.top,
        travel: TRAVEL,
        text: tempo.to_string(),
    }
}

/// When the rest after the latest set of today ends, as seconds since 1970. Identifiers carry the time of logging.
fn rest_until(app: &App, turns: &[Turn], rest: u16) -> Option<i64> {
    let latest = turns.iter().flat_map(|t| &t.done).map(|r| r.id).max()?;
    let (seconds, _) = latest.get_timestamp()?.to_unix();
    let until = i64::try_from(seconds).ok()? + i64::from(rest);
    (until > app.clock.now().timestamp()).then_some(until)
}

/// When to stop a set, after its repetitions.
fn stop_text(one_side: bool, rule: Option<StopRule>, reserve: u8) -> String {
    let reps = if one_side { "reps a side" } else { "reps" };
    match rule {
        Some(rule @ (StopRule::RangeLost | StopRule::SpeedLost)) => {
            format!("{reps}, stop {rule} or with {reserve} left")
        }
        _ if reserve == 0 => format!("{reps}, to failure"),
        _ => format!("{reps}, stop with {reserve} left"),
    }
}

#[cfg(test)]
mod tests {
    use super::rep_choices;
    use rstest::rstest;

    #[rstest]
    #[case(10, 15, "10 11 12 13 14 15")]
    #[case(8, 10, "8 9 10 11")]
    #[case(6, 6, "6 7 8 9")]
    #[case(8, 20, "8 10 13 15 18 20")]
    fn the_numbers_to_tap_are_those_of_the_zone(#[case] low: u16, #[case] high: u16, #[case] offered: &str) {
        assert_eq!(rep_choices(low, high).join(" "), offered);
    }
}
