//! What a phone is given of a workout, so that it can go through all of it without a signal: every turn with what it asks, what each
//! outcome leads to, and for every station what can be done instead.

use askama::Template;
use bavrek_core::anatomy::{Joint, Region};
use bavrek_core::between::{Advice, Doing, between};
use bavrek_core::calendar::light_dose;
use bavrek_core::dose::{Part, Prescription, SetKind, SetPlan};
use bavrek_core::execution::RangePart;
use bavrek_core::fit::{Bearing, Candidate, bearing};
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::log::Observation;
use bavrek_core::movement::Movement;
use bavrek_core::person::Side;
use bavrek_core::plan::BlockKind;
use bavrek_core::safety::cautions;
use bavrek_core::script::{self, Script, Station, Turn};
use bavrek_core::spot::{are_twins, in_use, kit_without};
use bavrek_core::warm_up::cool_down;
use bavrek_store::fits::Fit;
use bavrek_store::handed::{self, Choice, Handed};
use bavrek_store::links::Admitted;
use serde::Serialize;
use uuid::Uuid;

use super::super::asked::Asked;
use super::super::floor::{Floor, Post};
use super::super::views::{big_load, how, last_time, remembered, rep_choices, second_choices, stop_text};
use super::super::warm;
use super::state::State;
use crate::error::WebError;
use crate::features::scene::{cue, handled, headline, purpose};
use crate::pictures::rig;
use crate::state::App;

/// Steps below and above the one asked for that can be told: what was done may have been lighter or heavier.
const STEPS_AROUND: usize = 3;
/// What can be done instead of a station.
const INSTEAD: usize = 3;
/// Score, as a share of the best, below which a movement does another job. Assumed.
const GOOD_ENOUGH: f64 = 0.6;

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
    state: State,
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
    one_sided: bool,
    /// Steps that can be told, each with its figure and its label.
    steps: Vec<(String, String)>,
    at: usize,
    /// Its turns in the place of the station's, where it is not the plan's way.
    turns: Vec<TurnView>,
    /// Why it is among the answers.
    why: String,
}

/// One set of one side as the phone asks it.
#[derive(Serialize)]
struct TurnView {
    slot: Uuid,
    /// Its place among all turns.
    order: [usize; 4],
    round: usize,
    rounds: usize,
    side: Option<Side>,
    kind: SetKind,
    amount: String,
    stop: String,
    /// Repetitions to tap, and the question; none where they are not counted.
    reps: Option<(Vec<String>, &'static str)>,
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
    advice: Vec<Advice>,
}

#[derive(Serialize)]
struct PartView {
    text: String,
    seconds: f64,
    held: bool,
}

/// Puts a pack together and keeps what it gives.
pub(super) async fn of(app: &App, who: &Admitted, floor: &Floor) -> Result<Pack, WebError> {
    let warm_up = warm::of(app, floor);
    let (mut stations, mut given) = (Vec::new(), Vec::new());
    for post in &floor.posts {
        let ways = ways(app, floor, post);
        let Some(own) = ways.first() else { continue };
        let call = if post.done.is_empty() {
            floor.scene.open_call(app, who.trainer, &post.slot, &post.fit).await?
        } else {
            None
        };
        let movement = own.movement;
        let together = floor.script.turns.iter().find(|t| t.key == post.slot.id).is_some_and(|own| {
            post.kind != BlockKind::Straight
                && floor.script.turns.iter().any(|t| t.block == own.block && t.key != own.key)
        });
        stations.push(StationView {
            slot: post.slot.id,
            job: purpose(&post.slot.intent),
            together: together.then(|| post.kind.to_string()),
            last: last_time(floor, post),
            call: call.map(|(call, _)| headline(&call)),
            remembered: remembered(&floor.scene, post, movement).map(|(text, _)| text),
            ramp: warm::ramp(&warm_up, post.slot.id),
            choices: ways.iter().enumerate().map(|(i, way)| way.view(app, floor, post, i > 0)).collect(),
        });
        given.push(handed::Station {
            slot: post.slot.id,
            planned: post.swap.as_ref().map_or_else(|| post.fit.exercise.clone(), |s| s.of.clone()),
            choices: ways.into_iter().map(Way::given).collect(),
        });
    }
    let script = serde_json::to_value(&floor.script).map_err(bavrek_store::StoreError::from)?;
    let handed = Handed { stations: given, place: floor.scene.place_head.id, script };
    Ok(Pack {
        given: handed::keep(&app.pool, who, &handed).await?,
        session: floor.session.id,
        name: floor.session.name.clone(),
        place: floor.scene.place_head.name.clone(),
        client: floor.scene.client.name.clone(),
        light: floor.scene.light,
        cautions: app.cautions.0.clone(),
        warm_up: WarmUp { seconds: warm_up.general.value().round() as u32, joints: warm::drills(&warm_up) },
        cool_down: format!("{:.0}", cool_down().value() / 60.0),
        turns: floor
            .script
            .turns
            .iter()
            .filter_map(|turn| Some(turn_view(floor, floor.post(turn.key)?, turn, &advice(app, floor, turn)?)))
            .collect(),
        stations,
        joints: Joint::ALL.iter().map(|j| (j.id(), j.label())).collect(),
        regions: Region::ALL.iter().map(|r| (r.id(), r.label())).collect(),
        seen: Observation::ALL.iter().map(|o| (o.id(), o.label())).collect(),
        state: State::of(app, who, floor).await?,
    })
}

/// A way to do a station.
pub(super) struct Way<'a> {
    pub(super) movement: &'a Movement,
    steps: Vec<LadderStep>,
    at: usize,
    dose: Prescription,
    why: String,
}

impl<'a> Way<'a> {
    /// What is done now.
    pub(super) fn own(app: &'a App, floor: &Floor, post: &Post) -> Option<Self> {
        let movement = app.catalogue.movement(&post.fit.exercise)?;
        let (person, kit) = (&floor.scene.person, &floor.scene.place.kit);
        let ladder = Ladder::of_line(movement, person, kit, &post.slot.intent);
        Some(Self::of(movement, (&ladder, &post.fit.step), post.fit.prescription.clone(), ""))
    }

    /// A movement on a step, with the steps around it.
    fn of(movement: &'a Movement, (ladder, step): (&Ladder, &LadderStep), dose: Prescription, why: &str) -> Self {
        let at = ladder.steps.iter().position(|s| s.is_alike(step));
        let (steps, at) = match at {
            Some(at) => {
                let from = at.saturating_sub(STEPS_AROUND);
                let until = (at + STEPS_AROUND + 1).min(ladder.steps.len());
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
    pub(super) fn figure(&self, post: &Post) -> (String, String) {
        let fit = self.fit(post);
        let (load, how) = (big_load(&fit, self.movement), how(&fit));
        // What stands in the figure is not said twice.
        let how = how.strip_prefix(&format!("{load}, ")).map_or(how.clone(), str::to_owned);
        (load, how)
    }

    pub(super) fn drawn(&self, floor: &Floor, detail: rig::Detail) -> Option<String> {
        floor.scene.drawing(self.movement, self.step(), detail).and_then(|picture| picture.render().ok())
    }

    /// How it is got into, done, felt and got out of.
    pub(super) fn facts(&self, post: &Post) -> Vec<(&'static str, String)> {
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

    pub(super) fn cautions(&self, app: &App, floor: &Floor) -> Vec<String> {
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
            how,
            thumb: self.drawn(floor, rig::Detail::Card),
            picture: self.drawn(floor, rig::Detail::Whole),
            cue: cue(&post.slot.intent, movement),
            facts: self.facts(post),
            cautions: self.cautions(app, floor),
            joints: Joint::ALL.iter().filter(|j| movement.loads_joint(**j)).map(|j| j.id()).collect(),
            one_sided: movement.unilateral(),
            steps: self.steps.iter().map(|s| (told(s), s.label.clone())).collect(),
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
        let doing = self.doing(floor, post);
        turns
            .map(|(i, turn)| {
                // What goes before the first one is the end of the block before, whatever is done here.
                let rest_before = before.filter(|_| i == 0).unwrap_or(turn.rest_before);
                let turn = Turn { block: at, rest_before, ..turn };
                turn_view(floor, post, &turn, &between(&doing, &turn.work, post.slot.intent.reserve()))
            })
            .collect()
    }

    fn doing(&self, floor: &Floor, post: &Post) -> Doing<'_> {
        Doing {
            pattern: self.movement.pattern,
            steps: &self.steps,
            at: self.at,
            half: post.slot.intent.part_for(self.movement).is_some_and(RangePart::is_half),
            may_rise: may_rise(floor, self.movement),
        }
    }
}

/// Whether a load may rise within a workout: not in a lighter week, not where a joint is spared, not while new plans wait for a
/// clearance.
fn may_rise(floor: &Floor, movement: &Movement) -> bool {
    let spared = |limit| !matches!(bearing(movement, limit), Bearing::Free);
    !floor.scene.light && !floor.scene.stopped && !floor.scene.person.limits.iter().any(spared)
}

/// What is done now, and what came along to be done instead.
fn ways<'a>(app: &'a App, floor: &Floor, post: &Post) -> Vec<Way<'a>> {
    let Some(own) = Way::own(app, floor, post) else { return Vec::new() };
    let scene = &floor.scene;
    let movement = own.movement;
    let ladder = |m: &Movement| Ladder::of_line(m, &scene.person, &scene.place.kit, &post.slot.intent);
    let mut ways = vec![own];
    for (candidate, why) in instead(app, floor, (post, movement)) {
        let dose = &candidate.prescription;
        let dose = if scene.light { light_dose(dose) } else { dose.clone() };
        let step = candidate.step();
        ways.push(Way::of(candidate.movement, (&ladder(candidate.movement), step), dose.loaded(step.load), why));
    }
    ways
}

/// What can be done instead: what stands ready, what needs none of the kit that is used, what asks least of the joints.
fn instead<'a>(app: &'a App, floor: &Floor, (post, own): (&Post, &Movement)) -> Vec<(Candidate<'a>, &'static str)> {
    let (scene, intent) = (&floor.scene, post.slot.intent.counted());
    let found = scene.fit_here(app, &intent, &[]).candidates;
    let best = found.first().map_or(0.0, |c| c.score);
    let fine = |c: &Candidate<'_>| {
        let same = c.movement.id == own.id || are_twins(c.movement, own);
        let alike = c.movement.style == own.style;
        !same && alike && c.score >= GOOD_ENOUGH * best && c.is_bearable(intent.reps) && !c.movement.rig.is_resisted()
    };
    let mut left: Vec<Candidate<'a>> = found.into_iter().filter(fine).collect();
    let mut taken = Vec::new();
    let ready = floor.spares.get(&post.slot.id).filter(|s| s.instead_of == post.fit.exercise);
    if let Some(at) = left.iter().position(|c| ready.is_some_and(|r| r.exercise == c.movement.id)) {
        taken.push((left.remove(at), "stands ready"));
    }
    let used = in_use(own, &scene.person, &scene.place.kit, &post.fit.step);
    let mut bare = scene.place.kit.clone();
    for index in used.iter().rev() {
        bare = kit_without(&bare, *index, None);
    }
    let without =
        |c: &Candidate<'_>| !used.is_empty() && Ladder::can_set_up(c.movement, &scene.person, &bare, c.step());
    if let Some(at) = left.iter().position(without) {
        taken.push((left.remove(at), "without that kit"));
    }
    let asks =
        |c: &Candidate<'_>| Joint::ALL.iter().filter(|j| own.loads_joint(**j) && c.movement.loads_joint(**j)).count();
    let fewest =
        left.iter().map(asks).min().filter(|n| *n < Joint::ALL.iter().filter(|j| own.loads_joint(**j)).count());
    if let Some(at) = fewest.and_then(|fewest| left.iter().position(|c| asks(c) == fewest)) {
        taken.push((left.remove(at), "spares a joint"));
    }
    taken.extend(left.into_iter().take(INSTEAD.saturating_sub(taken.len())).map(|c| (c, "does the same job")));
    taken
}

/// What each outcome of a turn of the plan leads to.
fn advice(app: &App, floor: &Floor, turn: &Turn<Uuid>) -> Option<Vec<Advice>> {
    let post = floor.post(turn.key)?;
    let way = Way::own(app, floor, post)?;
    Some(between(&way.doing(floor, post), &turn.work, post.slot.intent.reserve()))
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

fn turn_view(floor: &Floor, post: &Post, turn: &Turn<Uuid>, advice: &[Advice]) -> TurnView {
    let work = &turn.work;
    let asked = Asked::from_turn(turn);
    let reserve = work.rir.unwrap_or(post.slot.intent.reserve());
    TurnView {
        slot: turn.key,
        order: order(floor, turn),
        round: turn.round,
        rounds: floor.script.sets_of(turn.key),
        side: turn.side,
        kind: work.kind,
        amount: work.amount(),
        stop: stop_text(turn, post.slot.intent.stop, reserve),
        reps: asked.reps.map(|[low, high]| (rep_choices(low, high), asked.reps_legend())),
        zone: asked.reps,
        seconds: asked.seconds.map(|s| (second_choices(s), asked.seconds_legend())),
        timed: work.seconds.filter(|_| work.kind.is_timed()),
        reserve: asked.asks_reserve().then_some(reserve.min(4)),
        total: work.total,
        parts: parts(work),
        tempo: tempo(work),
        tempo_text: work.tempo.to_string(),
        rest_s: turn.rest_before.value().round() as u32,
        change_s: turn.change_over.value().round() as u32,
        advice: advice.to_vec(),
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
