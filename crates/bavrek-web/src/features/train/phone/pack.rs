//! What a phone is given of a workout, so that it can go through all of it without a signal: every turn with what it asks, what each
//! outcome leads to, and for every station what can be done instead.

use std::collections::BTreeMap;

use askama::Template;
use bavrek_core::anatomy::{Joint, Region};
use bavrek_core::between::{Advice, Doing, HeldBack, Next, When, between, held_back, observable};
use bavrek_core::dose::{Part, Prescription, SetKind, SetPlan};
use bavrek_core::execution::RangePart;
use bavrek_core::ladder::{Ladder, LadderStep, beside};
use bavrek_core::log::Observation;
use bavrek_core::movement::Movement;
use bavrek_core::person::Side;
use bavrek_core::plan::BlockKind;
use bavrek_core::safety::cautions;
use bavrek_core::script::{self, Script, Station, Turn};
use bavrek_core::spare::{Done, instead};
use bavrek_core::stepped::{Short, landing};
use bavrek_core::warm_up::cool_down;
use bavrek_store::StoreError;
use bavrek_store::fits::Fit;
use bavrek_store::handed::{self, Choice, Handed};
use bavrek_store::links::Admitted;
use serde::Serialize;
use uuid::Uuid;

use super::super::asked::Asked;
use super::super::floor::{Floor, Post};
use super::super::views::{big_load, how, last_time, remembered, rep_choices, second_choices, stop_text};
use super::super::warm;
use super::standing::Standing;
use crate::budget::aside;
use crate::error::WebError;
use crate::features::scene::{cue, handled, headline, purpose};
use crate::pictures::rig;
use crate::state::App;

/// Steps below and above the one asked for that can be told: what was done may have been lighter or heavier.
const STEPS_AROUND: usize = 3;

/// A workout for a phone.
#[derive(Serialize)]
pub(super) struct Pack {
    /// The name by which the phone speaks of what it was given.
    given: String,
    session: Uuid,
    name: String,
    place: String,
    client: String,
    light: bool,
    /// What is said before every workout.
    cautions: Vec<String>,
    warm_up: WarmUp,
    /// Minutes of walking after the last set.
    cool_down: String,
    stations: Vec<StationView>,
    turns: Vec<TurnView>,
    joints: Vec<(&'static str, &'static str)>,
    regions: Vec<(&'static str, &'static str)>,
    seen: Vec<(&'static str, &'static str)>,
    /// What was done of it already.
    standing: Standing,
}

#[derive(Serialize)]
struct WarmUp {
    /// Seconds until warm.
    seconds: u32,
    /// Joints that will be loaded, each with how to move it.
    joints: Vec<(String, &'static str)>,
}

#[derive(Serialize)]
struct StationView {
    slot: Uuid,
    /// What it is for.
    job: String,
    /// How its block is done, where that is together with another.
    together: Option<String>,
    /// How many of the lines that may be left out are wanted, and that in words, where this is one of them.
    optional: Option<(u8, String)>,
    last: Option<String>,
    call: Option<String>,
    /// What hurt lately and is loaded here.
    remembered: Option<String>,
    /// Sets on the way up, before the first one.
    ramp: Vec<String>,
    /// The plan's way first.
    choices: Vec<ChoiceView>,
}

#[derive(Serialize)]
struct ChoiceView {
    exercise: String,
    name: String,
    /// The figure to read from the floor.
    load: String,
    /// Of which hands it is said, where a weight is held.
    hands: &'static str,
    how: String,
    /// Drawn small without words, and with its measures.
    thumb: Option<String>,
    picture: Option<String>,
    /// What to do, where to feel it, what to avoid.
    cue: String,
    facts: Vec<(&'static str, String)>,
    cautions: Vec<String>,
    /// Joints that it loads.
    joints: Vec<&'static str>,
    /// What can be seen or felt in it.
    sees: Vec<&'static str>,
    one_sided: bool,
    /// Steps that can be told, each with its figure and its label.
    steps: Vec<(String, String)>,
    /// For each of them the places of the lighter and the heavier one to which it can be changed within a set.
    beside: Vec<[Option<usize>; 2]>,
    at: usize,
    /// Its turns in the place of the station's, where it is not the plan's way.
    turns: Vec<TurnView>,
    /// Why it is among the answers.
    why: String,
}

/// What a set leads to, with its sentence: the phone shows it without asking anybody.
#[derive(Serialize)]
struct AdviceView {
    #[serde(flatten)]
    when: When,
    next: Next,
    text: String,
}

impl AdviceView {
    fn of(advice: &Advice) -> Self {
        Self { when: advice.when, next: advice.next, text: advice.to_string() }
    }
}

/// One set of one side as the phone asks it.
#[derive(Serialize)]
struct TurnView {
    slot: Uuid,
    /// Its place among all turns.
    order: [usize; 4],
    round: usize,
    rounds: usize,
    /// How many steps above the choice's own it is done on; below it where negative.
    rung: i32,
    side: Option<Side>,
    kind: SetKind,
    amount: String,
    stop: String,
    /// Repetitions to tap, and the question; none where they are not counted.
    reps: Option<(Vec<String>, &'static str)>,
    /// Whether they may be left open.
    uncounted: bool,
    /// The repetitions asked for.
    zone: Option<[u16; 2]>,
    seconds: Option<(Vec<String>, &'static str)>,
    /// Seconds that are asked for.
    timed: Option<u16>,
    /// The reserve that is asked for; none where nobody asks what was left.
    reserve: Option<u8>,
    total: Option<u16>,
    /// Parts of a mixed set: words, repetitions or holds, seconds of one.
    parts: Vec<PartView>,
    /// Seconds down, below, up and above; none of what is held or mixed.
    tempo: Option<[f64; 4]>,
    tempo_text: String,
    rest_s: u32,
    change_s: u32,
    advice: Vec<AdviceView>,
}

#[derive(Serialize)]
struct PartView {
    text: String,
    seconds: f64,
    held: bool,
}

/// Puts a pack together and keeps what it gives.
pub(super) async fn of(app: &App, who: &Admitted, floor: Floor) -> Result<Pack, WebError> {
    let mut calls = BTreeMap::new();
    for post in floor.posts.iter().filter(|post| post.done.is_empty()) {
        if let Some((call, _)) = floor.scene.open_call(app, who.trainer, &post.slot, &post.fit).await? {
            calls.insert(post.slot.id, headline(&call));
        }
    }
    // What can be done instead is weighed over the whole catalogue: not on the threads that serve.
    let laid = aside(|| Laid::of(app, &floor, &calls));
    let script = serde_json::to_value(&floor.script).map_err(StoreError::from)?;
    let handed = Handed { stations: laid.given, place: floor.scene.place_head.id, script };
    Ok(Pack {
        given: handed::keep(&app.pool, who, &handed).await?,
        session: floor.session.id,
        name: floor.session.name.clone(),
        place: floor.scene.place_head.name.clone(),
        client: floor.scene.client.name.clone(),
        light: floor.scene.light,
        cautions: app.cautions.0.clone(),
        warm_up: laid.warm_up,
        cool_down: format!("{:.0}", cool_down().value() / 60.0),
        turns: laid.turns,
        stations: laid.stations,
        joints: Joint::ALL.iter().map(|j| (j.id(), j.label())).collect(),
        regions: Region::ALL.iter().map(|r| (r.id(), r.label())).collect(),
        seen: Observation::ALL.iter().map(|o| (o.id(), o.label())).collect(),
        standing: Standing::of(app, who, &floor).await?,
    })
}

/// What is worked out of a workout, without asking anybody.
struct Laid {
    warm_up: WarmUp,
    stations: Vec<StationView>,
    turns: Vec<TurnView>,
    given: Vec<handed::Station>,
}

impl Laid {
    fn of(app: &App, floor: &Floor, calls: &BTreeMap<Uuid, String>) -> Self {
        let warm_up = warm::of(app, floor);
        let seconds = warm_up.general.value().round() as u32;
        let head = WarmUp { seconds, joints: warm::drills(&warm_up) };
        let mut laid = Self { warm_up: head, stations: Vec::new(), turns: Vec::new(), given: Vec::new() };
        for post in &floor.posts {
            let ways = ways(app, floor, post);
            let Some(own) = ways.first() else { continue };
            let slot = post.slot.id;
            laid.turns.extend(own.turns_of(floor, post, floor.script.turns.iter().filter(|t| t.key == slot)));
            laid.stations.push(StationView {
                slot,
                job: purpose(&post.slot.intent),
                together: floor.script.is_shared(slot).then(|| post.kind.to_string()),
                optional: post.slot.intent.optional.zip(post.slot.intent.optional_text()),
                last: last_time(app, floor, post),
                call: calls.get(&slot).cloned(),
                remembered: remembered(&floor.scene, post, own.movement).map(|(text, _)| text),
                ramp: warm::ramp(&warm_up, slot),
                choices: ways.iter().enumerate().map(|(i, way)| way.view(app, floor, post, i > 0)).collect(),
            });
            laid.given.push(handed::Station {
                slot,
                planned: post.swap.as_ref().map_or_else(|| post.fit.exercise.clone(), |s| s.of.clone()),
                choices: ways.into_iter().map(Way::given).collect(),
            });
        }
        laid.turns.sort_by_key(|turn| turn.order);
        laid
    }
}

/// A way to do a station.
pub(in crate::features::train) struct Way<'a> {
    pub(in crate::features::train) movement: &'a Movement,
    steps: Vec<LadderStep>,
    at: usize,
    dose: Prescription,
    why: String,
}

impl<'a> Way<'a> {
    /// What is done now.
    pub(in crate::features::train) fn own(app: &'a App, floor: &Floor, post: &Post) -> Option<Self> {
        let Fit { exercise, step, prescription, .. } = &post.fit;
        Self::on(app, floor, post, (exercise, step, prescription))
    }

    /// A movement on a step with a dose, in the place of what is done now.
    pub(in crate::features::train) fn on(
        app: &'a App,
        floor: &Floor,
        post: &Post,
        (exercise, step, dose): (&str, &LadderStep, &Prescription),
    ) -> Option<Self> {
        let movement = app.catalogue.movement(exercise)?;
        let ladder = floor.scene.ladder(app, movement, &post.slot.intent);
        Some(Self::of(movement, (&ladder, step), dose.clone(), ""))
    }

    /// The place of the step on which a set is done, and why that is not as far off the line's own as the set says.
    fn landing(&self, floor: &Floor, work: &SetPlan) -> (usize, Option<Short>) {
        landing(&self.steps, self.at, work, self.held_back(floor))
    }

    /// The same in words that follow what is asked; empty where it is as far.
    pub(in crate::features::train) fn falls_short(&self, floor: &Floor, work: &SetPlan) -> String {
        self.landing(floor, work).1.map_or_else(String::new, |why| format!("; {}", why.text()))
    }

    /// The step on which a set is done.
    pub(in crate::features::train) fn step_of(&self, floor: &Floor, work: &SetPlan) -> &LadderStep {
        &self.steps[self.landing(floor, work).0]
    }

    /// A movement on a step, with the steps around it.
    fn of(movement: &'a Movement, (ladder, step): (&Ladder, &LadderStep), dose: Prescription, why: &str) -> Self {
        let at = ladder.steps.iter().position(|s| s.is_alike(step));
        let (steps, at) = match at {
            Some(at) => {
                let off = dose.sets.iter().map(|set| usize::from(set.step.unsigned_abs())).max().unwrap_or(0);
                let around = STEPS_AROUND + 2 * off;
                let from = at.saturating_sub(around);
                let until = (at + around + 1).min(ladder.steps.len());
                let mut around = ladder.steps[from..until].to_vec();
                // As it was taken: a ladder of today may reckon it a little otherwise.
                around[at - from] = step.clone();
                (around, at - from)
            }
            None => (vec![step.clone()], 0),
        };
        Self { movement, steps, at, dose, why: why.to_owned() }
    }

    fn step(&self) -> &LadderStep {
        &self.steps[self.at]
    }

    fn given(self) -> Choice {
        let one_sided = self.movement.unilateral();
        Choice { exercise: self.movement.id.clone(), steps: self.steps, at: self.at, dose: self.dose, one_sided }
    }

    fn fit(&self, post: &Post) -> Fit {
        Fit {
            exercise: self.movement.id.clone(),
            step: self.step().clone(),
            prescription: self.dose.clone(),
            ..post.fit.clone()
        }
    }

    /// The figure to read from the floor, and how it is set up.
    pub(in crate::features::train) fn figure(&self, post: &Post) -> (String, String) {
        let fit = self.fit(post);
        let (load, how) = (big_load(&fit, self.movement), how(&fit));
        // What stands in the figure is not said twice.
        let how = how.strip_prefix(&format!("{load}, ")).map_or(how.clone(), str::to_owned);
        (load, how)
    }

    pub(in crate::features::train) fn drawn(&self, floor: &Floor, detail: rig::Detail) -> Option<String> {
        floor.scene.drawing(self.movement, self.step(), detail).and_then(|picture| picture.render().ok())
    }

    /// How it is got into, done, felt and got out of.
    pub(in crate::features::train) fn facts(&self, post: &Post) -> Vec<(&'static str, String)> {
        let (intent, cues) = (&post.slot.intent, &self.movement.cues);
        let part = intent.part_for(self.movement).is_some();
        [
            ("Set up", cues.set_up.clone()),
            ("Do", intent.execution.cue(&cues.action, part)),
            ("Feel", cues.feel.clone()),
            ("Avoid", cues.avoid.clone()),
            ("Breathe", cues.breathing.clone()),
        ]
        .into_iter()
        .chain(handled(self.movement, self.step()))
        .collect()
    }

    pub(in crate::features::train) fn cautions(&self, app: &App, floor: &Floor) -> Vec<String> {
        let all = cautions(&app.catalogue, self.movement, self.step(), &floor.scene.place.kit);
        all.into_iter().map(|c| c.text).collect()
    }

    fn view(&self, app: &App, floor: &Floor, post: &Post, instead: bool) -> ChoiceView {
        let movement = self.movement;
        let fit = self.fit(post);
        let told = |step: &LadderStep| big_load(&Fit { step: step.clone(), ..fit.clone() }, movement);
        let (load, how) = self.figure(post);
        ChoiceView {
            exercise: movement.id.clone(),
            name: movement.name.clone(),
            load,
            hands: if movement.is_weighed() { movement.of_hands().trim_start() } else { "" },
            how,
            thumb: self.drawn(floor, rig::Detail::Card),
            picture: self.drawn(floor, rig::Detail::Whole),
            cue: cue(&post.slot.intent, movement),
            facts: self.facts(post),
            cautions: self.cautions(app, floor),
            joints: Joint::ALL.iter().filter(|j| movement.loads_joint(**j)).map(|j| j.id()).collect(),
            sees: observable(movement, self.step()).map(Observation::id).collect(),
            one_sided: movement.unilateral(),
            steps: self.steps.iter().map(|s| (told(s), s.label.clone())).collect(),
            beside: (0..self.steps.len()).map(|at| beside(&self.steps, at)).collect(),
            at: self.at,
            turns: if instead { self.turns(floor, post) } else { Vec::new() },
            why: self.why.clone(),
        }
    }

    /// Its turns in the station's place.
    fn turns(&self, floor: &Floor, post: &Post) -> Vec<TurnView> {
        let (slot, movement) = (post.slot.id, self.movement);
        let Some(at) = floor.blocks.iter().position(|b| b.stations.iter().any(|s| s.key == slot)) else {
            return Vec::new();
        };
        let mut block = floor.blocks[at].clone();
        let first = script::first_side(floor.scene.history().iter(), &movement.id, floor.scene.today);
        for station in block.stations.iter_mut().filter(|s| s.key == slot) {
            *station = Station::of(slot, movement, self.step(), self.dose.clone(), first);
        }
        let own = Script::of(&[block]);
        let before = floor.script.turns.iter().find(|t| t.key == slot).map(|t| t.rest_before);
        let turns = own.turns.into_iter().filter(|t| t.key == slot).enumerate();
        // What goes before the first one is the end of the block before, whatever is done here.
        let rest = |i: usize, turn: &Turn<Uuid>| before.filter(|_| i == 0).unwrap_or(turn.rest_before);
        let turns: Vec<Turn<Uuid>> =
            turns.map(|(i, turn)| Turn { block: at, rest_before: rest(i, &turn), ..turn }).collect();
        self.turns_of(floor, post, turns.iter())
    }

    /// Turns of it with what each outcome leads to.
    fn turns_of<'t>(&self, floor: &Floor, post: &Post, turns: impl Iterator<Item = &'t Turn<Uuid>>) -> Vec<TurnView> {
        // What comes next is asked on a step of its own: lighter and heavier are said of that.
        let advice = |turn: &Turn<Uuid>| {
            let after = self.dose.sets.get(turn.round + 1).unwrap_or(&turn.work);
            let doing = self.doing(floor, post, self.landing(floor, after).0);
            between(&doing, &turn.work, post.slot.intent.dose.reserve())
        };
        let view = |turn: &Turn<Uuid>| {
            let rung = self.landing(floor, &turn.work).0 as i32 - self.at as i32;
            let view = turn_view(floor, (post, self.movement), turn, &advice(turn));
            TurnView { rung, stop: view.stop + &self.falls_short(floor, &turn.work), ..view }
        };
        turns.map(view).collect()
    }

    fn doing(&self, floor: &Floor, post: &Post, at: usize) -> Doing<'_> {
        Doing {
            pattern: self.movement.pattern,
            steps: &self.steps,
            at,
            half: post.slot.intent.part_for(self.movement).is_some_and(RangePart::is_half),
            may_rise: self.held_back(floor).is_none(),
        }
    }

    /// What holds its load back in the workout.
    pub(in crate::features::train) fn held_back(&self, floor: &Floor) -> Option<HeldBack> {
        held_back(self.movement, &floor.scene.person, (floor.scene.stopped, floor.scene.light))
    }
}

/// What is done now, and what came along to be done instead.
fn ways<'a>(app: &'a App, floor: &Floor, post: &Post) -> Vec<Way<'a>> {
    let Some(own) = Way::own(app, floor, post) else { return Vec::new() };
    let scene = &floor.scene;
    let here = (&scene.person, &scene.place.kit[..]);
    let ready = floor.spares.get(&post.slot.id).filter(|s| s.instead_of == post.fit.exercise);
    let done = Done { intent: &post.slot.intent, movement: own.movement, step: &post.fit.step };
    let answers = instead(&scene.fitter(app), here, &done, ready.map(|s| s.exercise.as_str()));
    let mut ways = vec![own];
    for (candidate, merit) in answers {
        let (movement, step) = (candidate.movement, candidate.step());
        let ladder = scene.ladder(app, movement, &post.slot.intent);
        let (step, dose) = scene.of_the_day(&ladder, step, &candidate.prescription);
        ways.push(Way::of(movement, (&ladder, &step), dose, merit.label()));
    }
    ways
}

fn order(floor: &Floor, turn: &Turn<Uuid>) -> [usize; 4] {
    let nth =
        usize::from(turn.side.is_some_and(|side| {
            floor.blocks[turn.block].stations.iter().any(|s| s.key == turn.key && s.first != side)
        }));
    match floor.blocks[turn.block].kind {
        BlockKind::Straight => [turn.block, turn.station, turn.round, nth],
        _ => [turn.block, turn.round, turn.station, nth],
    }
}

fn turn_view(floor: &Floor, (post, movement): (&Post, &Movement), turn: &Turn<Uuid>, advice: &[Advice]) -> TurnView {
    let work = &turn.work;
    let asked = Asked::from_turn(turn);
    let reserve = work.rir.unwrap_or(post.slot.intent.dose.reserve());
    TurnView {
        slot: turn.key,
        order: order(floor, turn),
        round: turn.round,
        rounds: floor.script.sets_of(turn.key),
        rung: 0,
        side: turn.side,
        kind: work.kind,
        amount: work.amount(),
        stop: stop_text(floor, post, movement, (turn, reserve)),
        reps: asked.reps.map(|[low, high]| (rep_choices(low, high), asked.reps_legend())),
        uncounted: asked.may_be_uncounted(),
        zone: asked.reps,
        seconds: asked.seconds.map(|s| (second_choices(s), asked.seconds_legend())),
        timed: work.seconds.filter(|_| work.kind.is_timed()),
        reserve: asked.asks_reserve().then_some(reserve.min(5)),
        total: work.total,
        parts: parts(work),
        tempo: tempo(work),
        tempo_text: work.tempo.to_string(),
        rest_s: turn.rest_before.value().round() as u32,
        change_s: turn.change_over.value().round() as u32,
        advice: advice.iter().map(AdviceView::of).collect(),
    }
}

fn parts(work: &SetPlan) -> Vec<PartView> {
    if work.kind != SetKind::Mixed {
        return Vec::new();
    }
    let part = |part: &Part| PartView {
        text: part.text(),
        seconds: part.seconds().value(),
        held: matches!(part, Part::Holds { .. }),
    };
    work.mix().iter().map(part).collect()
}

/// Seconds down, below, up and above. What is lifted as fast as control allows takes a second.
fn tempo(work: &SetPlan) -> Option<[f64; 4]> {
    if work.kind == SetKind::Mixed || matches!(work.kind, SetKind::Hold) {
        return None;
    }
    let tempo = work.tempo;
    let lifting = tempo.lifting.map_or(1.0, |up| up.seconds().max(0.5));
    Some([tempo.lowering.seconds().max(0.5), tempo.bottom.seconds(), lifting, tempo.top.seconds()])
}
