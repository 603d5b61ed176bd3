//! What the board shows, ready to be written down.

use bavrek_core::clock::SpanKind;
use bavrek_core::dose::Prescription;
use bavrek_core::figure::Figure;
use bavrek_core::fit::{Basis, Mate, Worked, tired};
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::progress::{Call, CallKind};
use bavrek_core::rigging::Rigged;
use bavrek_core::safety::cautions;
use bavrek_core::school::mirror;
use bavrek_core::units::{Seconds, trim_number};
use bavrek_core::volume::{self, share_of_set};
use bavrek_core::warm_up::drill;
use bavrek_core::wording;
use bavrek_store::fits::Fit;
use uuid::Uuid;

use super::better::{self, PartnerView, TurnsView};
use super::table::{Done, Piece, Table, Together, asked as asked_of_optional};
use super::whole::{self, WholeView};
use crate::features::dates::day;
use crate::features::scene::{capital, dose_text, purpose};
use crate::features::typed::Typed;
use crate::pictures::rig::{self, RigPicture};
use crate::pictures::strip::{self, Part, Strip, minutes};
use crate::state::App;

/// Regions that are listed as short.
const MOST_OWED: usize = 6;
/// Cuts that are offered where a session runs over.
const MOST_CUTS: usize = 3;

/// A region that is short of what the week aims at.
pub(super) struct Owed {
    pub(super) region: String,
    pub(super) id: &'static str,
    /// `3.5 of 8`.
    pub(super) sets: String,
    /// Width of the bar and place of its notch, of a hundred.
    pub(super) bar: (u8, u8),
}

/// Blocks on the board.
pub(super) struct BlockView {
    /// How its pieces are joined, for example `superset, 3 rounds`; none of a piece alone.
    pub(super) seam: Option<String>,
    pub(super) kind: &'static str,
    pub(super) conflicts: Vec<ConflictView>,
    pub(super) pieces: Vec<PieceView>,
    /// An order of its stations in which less is changed over.
    pub(super) turns: Option<TurnsView>,
    /// The slot by which it can be chosen as a whole, where it can.
    pub(super) whole: Option<Uuid>,
    /// What is offered for it as a whole, where that was asked for.
    pub(super) offered: Option<WholeView>,
}

pub(super) struct ConflictView {
    pub(super) text: String,
    /// The slot, the step's place and words, and what the button says.
    pub(super) repair: Option<(Uuid, usize, String, String)>,
    /// Where no step spares it, a partner that does.
    pub(super) partner: Option<PartnerView>,
}

pub(super) struct PieceView {
    pub(super) id: Uuid,
    pub(super) on: bool,
    pub(super) purpose: String,
    pub(super) asked: String,
    /// That it may be left out, where it may.
    pub(super) may: Option<String>,
    pub(super) fit: Option<FitView>,
    pub(super) call: Option<CallView>,
}

pub(super) struct FitView {
    pub(super) name: String,
    pub(super) load: String,
    pub(super) dose: String,
    /// What was done today, or the last time.
    pub(super) told: String,
}

pub(super) struct CallView {
    pub(super) what: &'static str,
    pub(super) to: String,
    pub(super) stopping: bool,
}

/// The piece that is picked, at large.
pub(super) struct Picked {
    pub(super) slot: Uuid,
    pub(super) purpose: String,
    pub(super) name: Option<String>,
    pub(super) expected: Option<String>,
    /// What a load that is asked as a relation came to.
    pub(super) compared: Option<String>,
    pub(super) rig: Option<RigPicture>,
    pub(super) kept: String,
    pub(super) lost: String,
    pub(super) cautions: Vec<String>,
    pub(super) ramps: Vec<String>,
    /// What it shares with what was done before it.
    pub(super) tired: Option<String>,
    /// Its dose in one line, as stored or as typed, and what is wrong with that.
    pub(super) line: (String, Option<String>),
    /// Other ways in which its block can be done.
    pub(super) kinds: Vec<(&'static str, &'static str, bool)>,
    pub(super) joined: bool,
    /// Whether it is a press on its own, so that the pull that mirrors it can be added.
    pub(super) mirrored: bool,
    pub(super) acts: Vec<Act>,
    pub(super) pinned: bool,
}

/// A move of the picked piece: what it is called to the server, on its button, and its key.
pub(super) type Act = (&'static str, &'static str, &'static str);

fn acts(joined: bool) -> Vec<Act> {
    let mut acts = vec![
        ("earlier", "Earlier", "["),
        ("later", "Later", "]"),
        ("more", "+ set", "+"),
        ("fewer", "− set", "-"),
        ("join", "Join with the next", "j"),
    ];
    acts.extend(joined.then_some(("part", "Part", "p")));
    acts.extend([("copy", "Copy", "y"), ("out", "Take out", "x")]);
    acts
}

/// A cut that would help.
pub(super) struct Cut {
    pub(super) slot: Uuid,
    pub(super) text: String,
}

pub(super) fn owed(app: &App, table: &Table<'_>) -> Vec<Owed> {
    let Some(aims) = &table.aims else { return Vec::new() };
    let short = table.week.owed(aims, &app.intake.volumes, table.scene.client.experience);
    let view = |owed: volume::Owed| {
        let share = |n: f64| (100.0 * n / owed.asked[1].max(1.0)).clamp(0.0, 100.0) as u8;
        Owed {
            region: owed.region.label().to_owned(),
            id: owed.region.id(),
            sets: format!("{} of {}", trim_number(owed.sets, 1), trim_number(owed.asked[0], 1)),
            bar: (share(owed.sets), share(owed.asked[0])),
        }
    };
    short.into_iter().take(MOST_OWED).map(view).collect()
}

pub(super) fn blocks(app: &App, table: &Table<'_>, picked: Option<Uuid>, whole: Option<Uuid>) -> Vec<BlockView> {
    let asked = |block: &Together<'_>| whole.filter(|slot| block.pieces.iter().any(|p| p.slot.id == *slot));
    let view = |block: &Together<'_>| BlockView {
        seam: block.alternates().then(|| {
            let rounds = if block.rounds == 1 { "1 round".to_owned() } else { format!("{} rounds", block.rounds) };
            format!("{}, {rounds}", block.kind)
        }),
        kind: block.kind.id(),
        conflicts: conflicts(table, block),
        turns: better::turns_view(table, block),
        whole: block.pieces.first().map(|p| p.slot.id).filter(|_| whole::is_open(block)),
        offered: asked(block).and_then(|slot| whole::view(app, table, slot)),
        pieces: block.pieces.iter().map(|p| piece(app, table, p, picked)).collect(),
    };
    table.blocks.iter().map(view).collect()
}

fn conflicts(table: &Table<'_>, block: &Together<'_>) -> Vec<ConflictView> {
    let slots: Vec<(Uuid, &Done<'_>)> =
        block.pieces.iter().filter_map(|p| Some((p.slot.id, p.done.as_ref()?))).collect();
    let again = block.rounds.saturating_sub(1);
    block
        .conflicts
        .iter()
        .map(|(conflict, spared)| ConflictView {
            text: format!(
                "{conflict}: {:.0} s a round, {} min in all",
                conflict.added().value(),
                minutes(conflict.added() * again as f64)
            ),
            partner: if spared.is_none() { better::partner(table, block, conflict) } else { None },
            repair: spared.as_ref().and_then(|repair| {
                let (slot, done) = slots.get(repair.station)?;
                let label = done.ladder.steps.get(repair.step)?.label.clone();
                let change = 100.0 * repair.change;
                let way = if change > 0.0 { "heavier" } else { "lighter" };
                let words = format!("{}: {label}, {:.0} % {way}", done.movement.name, change.abs());
                Some((*slot, repair.step, label, words))
            }),
        })
        .collect()
}

fn piece(app: &App, table: &Table<'_>, piece: &Piece<'_>, picked: Option<Uuid>) -> PieceView {
    let slot = &piece.slot;
    PieceView {
        id: slot.id,
        on: picked == Some(slot.id),
        purpose: purpose(&slot.intent),
        asked: asked(&slot.intent),
        may: slot.intent.optional_text().map(|text| match asked_of_optional(&table.blocks) {
            0.0 => format!("{text}; its sets are not counted in the week"),
            1.0 => text,
            share => format!("{text}; counted by {share:.1} of its sets"),
        }),
        fit: piece.done.as_ref().map(|Done { fit, movement, .. }| FitView {
            name: movement.name.clone(),
            load: fit.step.label.clone(),
            dose: dose_text(app, &fit.exercise, &fit.prescription),
            told: told(table, fit),
        }),
        call: piece.call.as_ref().map(call),
    }
}

fn call(call: &Call) -> CallView {
    CallView {
        what: call.call.label(),
        to: call.step.as_ref().map_or_else(String::new, |s| s.label.clone()),
        stopping: matches!(call.call, CallKind::Swap | CallKind::Refer),
    }
}

/// `2 of 3 sets logged today`, `Thu 19 Nov: 10, 10, 9`, or that it was never done.
fn told(table: &Table<'_>, fit: &Fit) -> String {
    let (scene, slot, exercise) = (&table.scene, fit.slot_id, &fit.exercise);
    let sets = fit.prescription.sets.len();
    let done: f64 = scene.done_today(slot).map(|r| share_of_set(r.set.side)).sum();
    if done > 0.0 {
        return format!("{} of {sets} sets logged today", done.floor());
    }
    let own = || scene.records().iter().filter(|r| r.slot_id == Some(slot) && r.set.exercise == *exercise);
    let Some(last) = own().map(|r| r.set.date).max() else { return "first time here".to_owned() };
    let figure = |set: &bavrek_core::log::LoggedSet| match (set.reps_told(), set.seconds) {
        (Some(reps), _) => reps,
        (None, Some(seconds)) => format!("{seconds} s"),
        (None, None) => "–".to_owned(),
    };
    let figures: Vec<String> = own().filter(|r| r.set.date == last).map(|r| figure(&r.set)).collect();
    let part = own().filter(|r| r.set.date == last).any(|r| !r.set.is_of_part(fit.step.setup.range));
    let part = if part { ", in another part of the range" } else { "" };
    format!("{}: {}{part}", day(last, scene.today), figures.join(", "))
}

/// What the intent asks for: `fly, hardest lengthened, 3 × 8–12, 2 in reserve`.
fn asked(intent: &Intent) -> String {
    let dose: Prescription = intent.dose.prescription();
    format!("{}: {}", intent.pattern, dose.text())
}

/// The clock as a strip, each block by the names of its movements.
pub(super) fn strip(table: &Table<'_>) -> Strip {
    let named = |(block, together): (usize, &Together<'_>)| {
        let names: Vec<String> = together.done().map(|d| d.movement.name.to_lowercase()).collect();
        Part { block, name: names.join(" + ") }
    };
    let parts: Vec<Part> = table.blocks.iter().enumerate().map(named).collect();
    strip::draw(&table.clock, &parts, table.head.minutes.unsigned_abs())
}

/// `47 min: warm-up 7, work 18, rest 16, changes 4, cool-down 2`.
pub(super) fn spent(table: &Table<'_>) -> String {
    let clock = &table.clock;
    let sum = |kinds: &[SpanKind]| Seconds(kinds.iter().map(|k| clock.of_kind(*k).value()).sum());
    let parts = [
        ("warm-up", sum(&[SpanKind::WarmUp, SpanKind::Ramp])),
        ("work", sum(&[SpanKind::Work])),
        ("rest", sum(&[SpanKind::Rest])),
        ("setting up and changing", sum(&[SpanKind::SetUp, SpanKind::Change])),
        ("cool-down", sum(&[SpanKind::CoolDown])),
    ];
    let parts: Vec<String> = parts.iter().map(|(name, time)| format!("{name} {}", minutes(*time))).collect();
    format!("{} min: {}", minutes(clock.total()), parts.join(", "))
}

/// What it runs over, in minutes; none where it does not.
pub(super) fn over(table: &Table<'_>) -> Option<String> {
    let over = table.clock.total().value() - 60.0 * f64::from(table.head.minutes);
    (over >= 30.0).then(|| minutes(Seconds(over)))
}

/// One set fewer here or there, and what that saves and costs: what the week can spare first, then the most time.
pub(super) fn cuts(app: &App, table: &Table<'_>) -> Vec<Cut> {
    if over(table).is_none() {
        return Vec::new();
    }
    let mut cuts: Vec<(bool, f64, Cut)> = Vec::new();
    for piece in table.pieces() {
        let Some(done) = piece.done.as_ref().filter(|d| d.fit.prescription.sets.len() > 1) else { continue };
        let fewer = table.clock_of(&table.script.without_last_set(piece.slot.id));
        let saved = table.clock.total().value() - fewer.total().value();
        let Some((region, left, least)) = table.left_of(app, piece, 1) else { continue };
        let kept = least.map_or_else(String::new, |least| {
            let (left, least) = (trim_number(left, 1), trim_number(least, 1));
            format!("; {region} then {left} of {least} this week")
        });
        let text = format!("One set fewer of {} saves {} min{kept}.", done.movement.name, minutes(Seconds(saved)));
        let spared = least.is_none_or(|least| left >= least);
        cuts.push((spared, saved, Cut { slot: piece.slot.id, text }));
    }
    cuts.sort_by(|a, b| b.0.cmp(&a.0).then(b.1.total_cmp(&a.1)));
    cuts.into_iter().take(MOST_CUTS).map(|(.., cut)| cut).collect()
}

/// What goes before the first set: `5 min until warm; shoulder: arm circles ...`.
pub(super) fn warm_up(table: &Table<'_>) -> Vec<String> {
    let general = format!("{} min of walking, skipping or cycling until warm", minutes(table.warm_up.general));
    let joints = table.warm_up.joints.iter().map(|joint| format!("{}: {}", capital(joint.label()), drill(*joint)));
    std::iter::once(general).chain(joints).collect()
}

/// The piece that is picked.
pub(super) fn picked<'a>(app: &'a App, table: &Table<'a>, slot: Uuid, typed: &Typed) -> Option<Picked> {
    let (block, piece) = table.find(slot)?;
    let stored = match &piece.done {
        Some(done) => done.fit.prescription.text(),
        None => piece.slot.intent.dose.prescription().text(),
    };
    let error = typed.error("line").map(str::to_owned);
    let line = if error.is_some() { typed.value("line").to_owned() } else { stored };
    let joined = block.pieces.len() > 1;
    let kinds =
        [BlockKind::Superset, BlockKind::Antagonist, BlockKind::FilledRest, BlockKind::Circuit, BlockKind::Straight];
    let mut picked = Picked {
        slot,
        purpose: purpose(&piece.slot.intent),
        name: None,
        expected: None,
        compared: None,
        rig: None,
        kept: String::new(),
        lost: String::new(),
        cautions: Vec::new(),
        ramps: ramps(table, slot),
        tired: None,
        line: (line, error),
        kinds: kinds.map(|k| (k.id(), k.label(), k == block.kind)).to_vec(),
        joined,
        mirrored: !joined && mirror(piece.slot.intent.pattern).is_some(),
        acts: acts(joined),
        pinned: false,
    };
    if let Some(done) = &piece.done {
        let step = &done.fit.step;
        picked.name = Some(done.movement.name.clone());
        picked.pinned = done.fit.pinned;
        let rigged = Rigged::new(done.movement, &table.scene.person, step.setup);
        let loads = step.loads(&table.scene.place.kit);
        let assembly = rigged.load(&loads).ok();
        let stature = table.scene.person.height_m.value();
        picked.rig = Figure::of(&rigged, &loads, assembly.as_ref())
            .map(|figure| rig::draw(&done.movement.name, &figure, assembly.as_ref(), stature, rig::Detail::Whole));
        judged(app, table, block, piece, done, &mut picked);
    }
    Some(picked)
}

/// What is done before a piece, in the order of the session.
pub(super) fn before<'a>(table: &Table<'a>, slot: Uuid) -> Vec<Worked<'a>> {
    let earlier = table.pieces().take_while(|p| p.slot.id != slot).filter_map(|p| p.done.as_ref());
    earlier.map(|d| Worked { movement: d.movement, sets: d.fit.prescription.sets.len() }).collect()
}

/// What the engine says of the movement that is done there: repetitions, what is kept and lost.
fn judged(app: &App, table: &Table<'_>, block: &Together<'_>, piece: &Piece<'_>, done: &Done<'_>, picked: &mut Picked) {
    let others = block.pieces.iter().filter(|p| block.alternates() && p.slot.id != piece.slot.id);
    let mates: Vec<Mate<'_>> =
        others.filter_map(|p| p.done.as_ref()).map(|d| Mate { movement: d.movement, step: &d.fit.step }).collect();
    let on = (done.movement, &done.fit.step);
    // The dose in force, with its tempo and reserve: a call may have changed it since.
    let intent = piece.slot.intent.clone().dosed(done.fit.prescription.clone());
    let Some(candidate) = table.scene.on_step(app, on, &intent, &mates) else { return };
    let candidate = candidate.after(&before(table, piece.slot.id), true);
    picked.tired = tired(&before(table, piece.slot.id), done.movement)
        .filter(|_| candidate.start.basis != Basis::ThisExercise)
        .map(|(_, region)| format!("{region} is worked before it: fewer than fresh"));
    let start = &candidate.start;
    picked.expected = done.fit.prescription.zone().map(|_| {
        let reserve = trim_number(start.reserve, 0);
        if start.is_too_light() {
            "too light: more than 40 repetitions expected".to_owned()
        } else if start.reps < 1.0 {
            format!("too heavy: no repetition expected with {reserve} in reserve")
        } else {
            format!("about {:.0} repetitions expected with {reserve} in reserve", start.reps)
        }
    });
    picked.expected = picked.expected.take().or_else(|| candidate.lasts(&intent).map(|lasts| lasts.to_string()));
    picked.compared = candidate.in_relation(&intent).map(|comparison| comparison.to_string());
    picked.kept = wording::told(&candidate.kept).join(", ");
    picked.lost = wording::told(&candidate.lost).join(", ");
    let cautions = cautions(&app.catalogue, done.movement, candidate.step(), &table.scene.place.kit);
    picked.cautions = cautions.into_iter().map(|c| c.text).collect();
}

/// Sets on the way up to a piece.
fn ramps(table: &Table<'_>, slot: Uuid) -> Vec<String> {
    let own = table.warm_up.ramps.iter().filter(|r| r.key == slot);
    own.map(|r| format!("{} × {}", r.reps, r.step.label)).collect()
}
