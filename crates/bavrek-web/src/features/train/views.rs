//! What the phone page shows, ready to be written down.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::anatomy::{Joint, Region};
use bavrek_core::between::{goes_on, held_back, observable};
use bavrek_core::dose::{Count, Part, SetKind, StopRule, Tempo};
use bavrek_core::ladder::LadderStep;
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::Movement;
use bavrek_core::person::Side;
use bavrek_core::plan::BlockKind;
use bavrek_core::safety::cautions;
use bavrek_core::script::{Script, Turn};
use bavrek_core::spot::{PAIN_THAT_EXCLUDES, Pain};
use bavrek_core::warm_up::cool_down;
use bavrek_store::TrainerId;
use bavrek_store::fits::Fit;
use bavrek_store::log::RecordedSet;
use uuid::Uuid;

use super::asked::Asked;
use super::floor::{Floor, Post, Shown};
use super::forms::{Basis, SetForm};
use super::phone::pack::Way;
use super::told::what;
use super::within::ChangeFields;
use super::{pain_free, warm};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::features::dates::day;
use crate::features::scene::{Scene, capital, cue, handled, headline};
use crate::state::App;

/// Pixels between the ends of the tempo lift.
const TRAVEL: u16 = 190;
/// Sets that are given space where a total is written down; few take more.
pub(super) const SETS_TO_A_TOTAL: usize = 5;
/// Sets of the last time that are told.
const LAST_SETS: usize = 8;

/// What is special about this look at the page.
#[derive(Default)]
pub(super) struct Showing<'a> {
    /// A slot other than the next one.
    pub(super) slot: Option<Uuid>,
    /// A set that is to be corrected.
    pub(super) correcting: Option<&'a RecordedSet>,
    /// The form as it was given.
    pub(super) form: Option<SetForm>,
    /// What changed while the form was filled in.
    pub(super) stale: Option<Stale>,
    /// The turn that the form was about.
    pub(super) turn: &'a str,
    /// Whether the steps are shown to which it can be changed within the set.
    pub(super) change: bool,
}

/// Two things that one form could mean: what it was filled in against, and what stands now.
pub(super) struct Stale {
    /// What the page showed, and the way to log it so.
    then: (String, String),
    /// What stands now.
    now: (String, String),
}

impl Stale {
    pub(super) fn between(app: &App, post: &Post, (shown, basis): (Shown, &Basis), now: Shown) -> Self {
        let named = |id: &str| app.catalogue.movement(id).map_or(id.to_owned(), |m| m.name.clone());
        let on =
            |shown: Shown| if shown.day == now.day { String::new() } else { format!(", {}", day(shown.day, now.day)) };
        let then = format!("{}, {}{}", named(&basis.exercise), basis.step.label, on(shown));
        let stands = format!("{}, {}", named(&post.fit.exercise), post.fit.step.label);
        Self { then: (shown.text(), then), now: (now.text(), stands) }
    }
}

#[derive(Template, WebTemplate)]
#[template(path = "train/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    session: (Uuid, String),
    client: String,
    segments: Vec<Segment>,
    /// Whether it is a lighter week.
    light: bool,
    segments_width: usize,
    nothing_chosen: bool,
    /// Minutes of walking after the last set.
    cool_down: String,
    now: Option<Now>,
    logged: Vec<Logged>,
    calls: Vec<(Uuid, String)>,
    /// Movements that were stopped because they hurt, with what can be done instead.
    stopped: Vec<(String, String)>,
    /// What is left out today: slot, movement, why.
    skipped: Vec<(Uuid, String, String)>,
    /// For the next thing that is left out.
    skip: Uuid,
}

struct Segment {
    x: usize,
    class: &'static str,
}

/// Whether what is to be done now has to be done.
enum Needed {
    Yes,
    /// It may be left out, as these words say.
    Optional(String),
    /// It may, and so may all that is left.
    NothingMore,
}

struct Now {
    slot: Uuid,
    id: Uuid,
    supersedes: Option<Uuid>,
    /// What the form is filled in against.
    shown: String,
    /// Which set of the slot it is, from 0.
    turn: usize,
    stale: Option<Stale>,
    count: String,
    name: String,
    instead: Option<String>,
    needed: Needed,
    load: String,
    /// Of which hands it is said; empty where that is plain.
    hands: &'static str,
    how: String,
    amount: String,
    /// The parts of a mixed set, in order.
    parts: Vec<String>,
    stop: String,
    cue: String,
    /// What was done the last time, and what it asks for next.
    last: Option<String>,
    call: Option<String>,
    /// Easy sets on the way up, before the first one.
    ramp: Vec<String>,
    /// What stands ready, should something be missing.
    ready: Option<String>,
    /// What comes after this set.
    then: Option<String>,
    cautions: Vec<String>,
    /// How it is got into, out of and fixed.
    handled: Vec<(&'static str, String)>,
    /// The tempo; none for what is held or mixed.
    lift: Option<Lift>,
    /// Seconds of a hold or station, to be counted down.
    timer: Option<u16>,
    rest_until: Option<i64>,
    reps: Option<Choices>,
    seconds: Option<Choices>,
    rir_choices: Option<Vec<(u8, &'static str, bool)>>,
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
    change: ChangeFields,
    pain_open: bool,
    errors: Vec<String>,
}

/// Numbers to tap, and one to type.
struct Choices {
    legend: &'static str,
    options: Vec<(String, bool)>,
    typed: String,
    more: bool,
}

impl Choices {
    fn of(legend: &'static str, options: Vec<String>, given: &str) -> Self {
        let more = !given.is_empty() && options.iter().all(|o| o != given);
        let typed = if more { given.to_owned() } else { String::new() };
        let options = options.into_iter().map(|o| (o == given, o)).map(|(on, o)| (o, on)).collect();
        Self { legend, options, typed, more }
    }
}

struct Lift {
    lowering: Count,
    bottom: Count,
    lifting: Count,
    top: Count,
    travel: u16,
    text: String,
}

struct Logged {
    id: Uuid,
    name: String,
    what: String,
}

impl Page {
    pub(super) async fn of(
        app: &App,
        trainer: TrainerId,
        chrome: Chrome,
        floor: &Floor,
        showing: Showing<'_>,
    ) -> Result<Self, WebError> {
        let turn = match showing.slot {
            Some(slot) => floor.turn_of(slot),
            None => floor.next(),
        };
        let post = turn.and_then(|t| floor.post(t.key));
        let mut now = None;
        if let (Some(turn), Some(post)) = (turn, post)
            && let Some(movement) = app.catalogue.movement(&post.fit.exercise)
        {
            // Once a set of today is logged, the call is of the session that goes on.
            let call = if post.done.is_empty() {
                floor.scene.open_call(app, trainer, &post.slot, &post.fit).await?
            } else {
                None
            };
            let call = call.map(|(call, _)| headline(&call));
            // What leads up to a movement is told until its first set of today is logged.
            let ramp = if post.done.is_empty() { warm::ramp(&warm::of(app, floor), post.slot.id) } else { Vec::new() };
            now = Some(Now { call, ramp, ..self::now(app, floor, (turn, post), movement, showing) });
        }
        let name = |fit: &Fit| app.catalogue.movement(&fit.exercise).map_or(fit.exercise.clone(), |m| m.name.clone());
        let named = |id: &str| app.catalogue.movement(id).map_or(id.to_owned(), |m| m.name.clone());
        let mut logged: Vec<&RecordedSet> = floor.posts.iter().flat_map(|p| p.done.iter()).collect();
        logged.sort_by_key(|r| (r.done_at, r.id));
        let finished = floor.posts.iter().filter(|p| !p.done.is_empty());
        let stopped = floor.posts.iter().filter(|p| p.is_stopped());
        let segments = segments(floor, turn);
        Ok(Self {
            session: (floor.session.id, floor.session.name.clone()),
            client: floor.scene.client.name.clone(),
            light: floor.scene.light,
            segments_width: segments.len() * 10,
            segments,
            nothing_chosen: floor.posts.is_empty(),
            cool_down: format!("{:.0}", cool_down().value() / 60.0),
            logged: logged
                .into_iter()
                .map(|r| Logged {
                    id: r.id,
                    name: named(&r.set.exercise),
                    what: what(&r.set, app.catalogue.movement(&r.set.exercise)),
                })
                .collect(),
            skipped: floor
                .posts
                .iter()
                .filter_map(|p| Some((p.slot.id, name(&p.fit), floor.skips.get(&p.slot.id)?.reason.clone())))
                .collect(),
            skip: bavrek_store::new_id(),
            stopped: stopped.map(|p| (p.without_pain(), name(&p.fit))).collect(),
            calls: finished.map(|p| (p.slot.id, name(&p.fit))).collect(),
            now,
            chrome: chrome.titled(floor.session.name.clone()),
        })
    }
}

/// One part of the progress line a turn: done, the one now, open.
fn segments(floor: &Floor, current: Option<&Turn<Uuid>>) -> Vec<Segment> {
    let done = floor.done();
    let taken = floor.script.taken(&done);
    let turns = floor.script.turns.iter().zip(taken);
    // What goes on to a total is one part until it is done.
    let shown = turns.filter(|(turn, taken)| *taken || turn.work.total.is_none() || turn.round == 0);
    shown
        .enumerate()
        .map(|(i, (turn, taken))| {
            let class = match () {
                () if taken => "done",
                () if current.is_some_and(|c| std::ptr::eq(c, turn)) => "now",
                () => "open",
            };
            Segment { x: i * 10, class }
        })
        .collect()
}

/// What is done in a turn: the fit, on the step of its set, and why that is not as many steps off as the set says.
fn fit_of(app: &App, floor: &Floor, (turn, post): (&Turn<Uuid>, &Post)) -> (Fit, String) {
    let way = (turn.work.step != 0).then(|| Way::own(app, floor, post)).flatten();
    way.map_or_else(
        || (post.fit.clone(), String::new()),
        |way| {
            let step = way.step_of(floor, &turn.work).clone();
            (Fit { step, ..post.fit.clone() }, way.falls_short(floor, &turn.work))
        },
    )
}

fn now(app: &App, floor: &Floor, (turn, post): (&Turn<Uuid>, &Post), movement: &Movement, showing: Showing<'_>) -> Now {
    let (fit, short) = fit_of(app, floor, (turn, post));
    let (fit, scene) = (&fit, &floor.scene);
    let Showing { correcting, form, stale, .. } = showing;
    let asked = match correcting {
        Some(r) => Asked {
            reps: match r.set.reps {
                None if r.set.kind != Some(SetKind::Station) => None,
                _ => Asked::from_turn(turn).reps.or(Some([5, 20])),
            },
            seconds: r.set.seconds,
            ..Asked::from_turn(turn)
        },
        None => Asked::from_turn(turn),
    };
    let wanted = turn.work.rir.unwrap_or(post.slot.intent.dose.reserve());
    let kept = form.is_some();
    let form = form.or_else(|| correcting.map(|r| SetForm::of(&r.set))).unwrap_or_default();
    Now {
        slot: post.slot.id,
        id: bavrek_store::new_id(),
        supersedes: correcting.map(|r| r.id),
        shown: post.shown(scene.today).text(),
        turn: showing.turn.parse().unwrap_or(turn.round),
        stale,
        count: count(floor, turn, post, correcting),
        name: movement.name.clone(),
        needed: match post.slot.intent.optional_text() {
            _ if correcting.is_some() => Needed::Yes,
            _ if floor.is_enough() => Needed::NothingMore,
            text => text.map_or(Needed::Yes, Needed::Optional),
        },
        instead: post.swap.as_ref().map(|swap| {
            let planned = app.catalogue.movement(&swap.of).map_or(swap.of.as_str(), |m| &m.name);
            format!("Instead of {planned}: {}.", swap.reason)
        }),
        load: big_load(fit, movement),
        hands: if fit.step.in_hands().is_some() { movement.of_hands().trim_start() } else { "" },
        how: how(fit),
        amount: amount(floor, turn),
        parts: if turn.work.kind == SetKind::Mixed {
            turn.work.mix().iter().map(Part::text).collect()
        } else {
            Vec::new()
        },
        stop: stop_text(floor, post, movement, (turn, wanted)) + &short,
        cue: cue(&post.slot.intent, movement),
        last: last_time(app, floor, post),
        call: None,
        ramp: Vec::new(),
        ready: floor.ready(app, post),
        then: then(app, floor, turn),
        cautions: cautions(&app.catalogue, movement, &fit.step, &scene.place.kit).into_iter().map(|c| c.text).collect(),
        handled: handled(movement, &fit.step).collect(),
        lift: (turn.work.kind != SetKind::Mixed && !turn.work.kind.is_timed()).then(|| lift(turn.work.tempo)),
        timer: turn.work.seconds.filter(|_| turn.work.kind.is_timed()),
        rest_until: rest_until(app, floor, turn),
        reps: asked.reps.map(|[low, high]| Choices::of(asked.reps_legend(), rep_choices(low, high), &form.reps)),
        seconds: asked.seconds.map(|s| Choices::of(asked.seconds_legend(), second_choices(s), &form.seconds)),
        // The prescribed reserve is filled in: a set that went as planned is logged in two taps.
        rir_choices: asked.asks_reserve().then(|| {
            let choices = [(0, "none"), (1, "1"), (2, "2"), (3, "3"), (4, "4"), (5, "5 +")];
            let on = |n: u8| {
                if form.rir.is_empty() && !kept { n == wanted.min(5) } else { form.rir == n.to_string() }
            };
            choices.into_iter().map(|(n, text)| (n, text, on(n))).collect()
        }),
        sides: movement.unilateral().then(|| sides(turn, &form)),
        pain: (0..=10).map(|n: u8| (n, form.pain == n.to_string())).collect(),
        pain_at: Joint::ALL.iter().map(|j| (j.id(), j.label(), form.pain_at == j.id())).collect(),
        pain_side: Side::ALL.iter().map(|s| (s.id(), s.label(), form.pain_side == s.id())).collect(),
        stopped: (post.is_stopped() && correcting.is_none()).then(|| post.without_pain()),
        remembered: remembered(scene, post, movement),
        broken: form.form == "broken",
        seen: seen(movement, &post.fit.step, &form.seen),
        felt_at: Region::ALL.iter().map(|r| (r.id(), r.label(), form.felt_at == r.id())).collect(),
        change: ChangeFields::of(
            app,
            floor,
            (fit, movement),
            correcting,
            (&form, asked.reps.is_some(), showing.change),
        ),
        more_open: kept && (!form.seen.is_empty() || form.form == "broken"),
        pain_open: !matches!(form.pain.as_str(), "" | "0") || form.errors.iter().any(|e| e.starts_with("Pain")),
        errors: form.errors,
    }
}

/// What can be seen in a set, and what was said of it already, whatever that is.
fn seen(movement: &Movement, step: &LadderStep, said: &[String]) -> Vec<(&'static str, &'static str, bool)> {
    let can: Vec<Observation> = observable(movement, step).collect();
    let all = Observation::ALL.iter().map(|o| (*o, said.iter().any(|s| s == o.id())));
    all.filter(|(o, on)| *on || can.contains(o)).map(|(o, on)| (o.id(), o.label(), on)).collect()
}

/// `Slot 2 of 5 · superset · set 1 of 3 · left side`.
fn count(floor: &Floor, turn: &Turn<Uuid>, post: &Post, correcting: Option<&RecordedSet>) -> String {
    let place = floor.posts.iter().position(|p| p.slot.id == post.slot.id).map_or(1, |i| i + 1);
    let kind = if floor.script.is_shared(turn.key) && post.kind != BlockKind::Straight {
        format!(" · {}", post.kind)
    } else {
        String::new()
    };
    let set = match (correcting, turn.work.total) {
        (Some(r), _) => format!("correcting set {}", r.position.max(1)),
        (None, Some(_)) => format!("set {}", turn.round + 1),
        (None, None) => format!("set {} of {}", turn.round + 1, floor.script.sets_of(turn.key)),
    };
    let side = turn.side.filter(|_| correcting.is_none()).map_or_else(String::new, |s| format!(" · {s} side"));
    format!("Slot {place} of {}{kind} · {set}{side}", floor.posts.len())
}

/// What is asked; of a total what is still to be done.
fn amount(floor: &Floor, turn: &Turn<Uuid>) -> String {
    match (turn.work.total, Script::left_of_total(turn, &floor.done())) {
        (Some(total), Some(left)) => format!("{left} of {total}"),
        _ => turn.work.amount(),
    }
}

/// Repetitions to tap: every number of the zone where it is short, else six from end to end.
pub(super) fn rep_choices(low: u16, high: u16) -> Vec<String> {
    const MOST: u16 = 6;
    let from = low.min(high).max(1);
    let wide = high.saturating_sub(from);
    if wide < MOST {
        return (from..=from + wide.max(3)).map(|n| n.to_string()).collect();
    }
    (0..MOST).map(|i| (from + (wide * i + (MOST - 1) / 2) / (MOST - 1)).to_string()).collect()
}

/// Seconds to tap: those asked for, less and more in steps of five.
pub(super) fn second_choices(asked: u16) -> Vec<String> {
    let around = [-10_i32, -5, 0, 5, 10].map(|off| i32::from(asked) + off);
    around.into_iter().filter(|s| *s > 0).map(|s| s.to_string()).collect()
}

/// The sets of the latest earlier day of a slot, whatever movement it was done with.
pub(super) fn last_time(app: &App, floor: &Floor, post: &Post) -> Option<String> {
    let scene = &floor.scene;
    let earlier = || scene.records().iter().filter(|r| r.slot_id == Some(post.slot.id) && r.set.date < scene.today);
    let on = earlier().map(|r| r.set.date).max()?;
    let sets: Vec<&LoggedSet> = earlier().map(|r| &r.set).filter(|s| s.date == on).collect();
    let other = sets.iter().all(|s| s.exercise != post.fit.exercise);
    let part = sets.iter().any(|s| !s.is_of_part(post.fit.step.setup.range));
    let told: Vec<String> = sets.iter().take(LAST_SETS).map(|s| what(s, app.catalogue.movement(&s.exercise))).collect();
    let with = match (other, part) {
        (true, _) => " (another movement)",
        (false, true) => " (another part of the range)",
        (false, false) => "",
    };
    Some(format!("Last time, {}{with}: {}", day(on, scene.today), told.join(" · ")))
}

/// What comes after this set: the other side, another station, the next set.
fn then(app: &App, floor: &Floor, turn: &Turn<Uuid>) -> Option<String> {
    let open = floor.script.open(&floor.done());
    let after = open.iter().skip_while(|t| !std::ptr::eq(**t, turn)).nth(1)?;
    let fit = &floor.post(after.key)?.fit;
    let name = app.catalogue.movement(&fit.exercise).map_or(fit.exercise.as_str(), |m| &m.name);
    let what = match (after.key == turn.key, after.round == turn.round, after.side) {
        (true, true, Some(side)) => format!("the {side} side, without a rest"),
        (true, ..) => return None,
        _ => name.to_owned(),
    };
    let rest = after.rest_before.value();
    let rest = if rest > 0.0 && after.key != turn.key { format!(", after {rest:.0} s of rest") } else { String::new() };
    Some(format!("Then: {what}{rest}"))
}

/// What hurt lately, on another day or today in another movement, and is asked for again here.
pub(super) fn remembered(scene: &Scene, post: &Post, movement: &Movement) -> Option<(String, String)> {
    let elsewhere = |p: &Pain| p.on < scene.today || p.exercise != post.fit.exercise;
    let again = |p: &&Pain| elsewhere(p) && p.joint.is_some_and(|j| movement.loads_joint(j));
    let pain = scene.pains.iter().find(again)?;
    let advice = if pain.strength.is_some_and(|n| n >= PAIN_THAT_EXCLUDES) {
        "this loads it: swap it or leave it out."
    } else {
        "a light set first, and stop at once if it comes back."
    };
    let text = format!("{} hurt {}: {advice}", capital(&pain.text()), day(pain.on, scene.today));
    Some((text, pain_free(post.slot.id, pain.joint?, pain.side, pain.strength)))
}

/// What is read from the floor: the stamped weight, the body, the band by its name. A weight and a band are two things, not a sum.
pub(super) fn big_load(fit: &Fit, movement: &Movement) -> String {
    let step = &fit.step;
    match (step.load, step.bands.is_empty()) {
        (Some(load), _) if movement.rig.is_lever() => format!("body + {}", load.short()),
        (Some(load), true) => load.short(),
        (Some(load), false) => format!("{} + band", load.short()),
        (None, true) => "body".into(),
        (None, false) if step.band_share < 0.0 => "body, band helps".into(),
        (None, false) if step.band_share > 0.99 => step.label.split(',').next().map_or_else(String::new, str::to_owned),
        (None, false) => "body + band".into(),
    }
}

pub(super) fn how(fit: &Fit) -> String {
    let surface = fit.step.setup.surface.map_or_else(String::new, |s| format!(" · {s}"));
    format!("{}{surface}", fit.step.label)
}

fn sides(turn: &Turn<Uuid>, form: &SetForm) -> Vec<(&'static str, &'static str, bool)> {
    let next = turn.side.map_or("left", Side::id);
    let chosen = if form.side.is_empty() { next } else { form.side.as_str() };
    vec![("left", "left", chosen == "left"), ("right", "right", chosen == "right")]
}

fn lift(tempo: Tempo) -> Lift {
    let second = Count::whole(1);
    Lift {
        lowering: tempo.lowering.max(second),
        bottom: tempo.bottom,
        lifting: tempo.lifting.unwrap_or(second).max(Count::whole(0).longer(1)),
        top: tempo.top,
        travel: TRAVEL,
        text: tempo.to_string(),
    }
}

/// When the rest before a turn ends, as seconds since 1970: counted from when the set before was done.
fn rest_until(app: &App, floor: &Floor, turn: &Turn<Uuid>) -> Option<i64> {
    let done_at = floor.latest()?.done_at?;
    let until = done_at.timestamp() + turn.rest_before.value().max(turn.change_over.value()).round() as i64;
    (until > app.clock.now().timestamp()).then_some(until)
}

/// When to stop a set, after what is asked.
pub(super) fn stop_text(floor: &Floor, post: &Post, movement: &Movement, (turn, reserve): (&Turn<Uuid>, u8)) -> String {
    let (scene, rule) = (&floor.scene, post.slot.intent.dose.stop);
    let rises = held_back(movement, &scene.person, (scene.stopped, scene.light)).is_none();
    let unit = match turn.work.kind {
        SetKind::Hold => return "held".into(),
        SetKind::Station => return "as many clean reps as the time allows".into(),
        SetKind::Mixed => return "fast, held and slow in turn, without putting it down".into(),
        SetKind::ToTotal => return "still to do, in as few sets as possible".into(),
        SetKind::Amrap | SetKind::Extension => return "as many as possible with clean form".into(),
        SetKind::LoweringOnly => "reps, only lowered",
        SetKind::Straight => "reps",
    };
    let reps = if turn.side.is_some() { format!("{unit} a side") } else { unit.to_owned() };
    match rule {
        Some(rule @ (StopRule::RangeLost | StopRule::SpeedLost)) => {
            format!("{reps}, stop {rule} or with {reserve} in reserve")
        }
        _ if reserve == 0 => format!("{reps}, to failure"),
        _ if goes_on(movement, rises, (scene.history(), scene.today), (&turn.work, turn.round)) => {
            format!("{reps} or more: it is new, go on until {reserve} are in reserve")
        }
        _ => format!("{reps}, stop with {reserve} in reserve"),
    }
}

#[cfg(test)]
mod tests {
    use super::{rep_choices, second_choices};
    use rstest::rstest;

    #[rstest]
    #[case(10, 15, "10 11 12 13 14 15")]
    #[case(8, 10, "8 9 10 11")]
    #[case(6, 6, "6 7 8 9")]
    #[case(8, 20, "8 10 13 15 18 20")]
    fn the_numbers_to_tap_are_those_of_the_zone(#[case] low: u16, #[case] high: u16, #[case] offered: &str) {
        assert_eq!(rep_choices(low, high).join(" "), offered);
    }

    #[rstest]
    #[case(30, "20 25 30 35 40")]
    #[case(8, "3 8 13 18")]
    fn the_seconds_to_tap_lie_around_what_is_asked(#[case] asked: u16, #[case] offered: &str) {
        assert_eq!(second_choices(asked).join(" "), offered);
    }
}
