//! A week read anew after it was moved by hand: what does each line, how long the days take, what the regions get.

use std::collections::BTreeSet;

use bavrek_core::aims::Aims;
use bavrek_core::anatomy::Region;
use bavrek_core::clock;
use bavrek_core::fit::{Candidate, Carried, Fitter, Known, Worked};
use bavrek_core::method::Method;
use bavrek_core::movement::Style;
use bavrek_core::plan::BlockKind;
use bavrek_core::script::WorkoutState;
use bavrek_core::volume::{self, Owed, Volume};
use bavrek_core::warm_up::Ahead;
use bavrek_core::week;
use bavrek_store::weeks::{Asked, AskedDay, Draft, DraftDay, DraftFit, DraftLine, DraftSets, DraftUnmet, Opened};
use bavrek_store::{TrainerId, boards, fits, sessions};
use chrono::{Datelike, Duration};
use uuid::Uuid;

use super::ask::Desk;
use crate::error::WebError;
use crate::features::dosing;
use crate::features::rooms::Rooms;
use crate::features::scene::Scene;
use crate::state::App;

/// The client in every room of a week.
pub(in crate::features) async fn scenes(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
    days: &[AskedDay],
) -> Result<Vec<Scene>, WebError> {
    let mut scenes: Vec<Scene> = Vec::new();
    for day in days {
        if scenes.iter().all(|s| s.place_head.id != day.place) {
            let scene = match scenes.first() {
                Some(known) => known.elsewhere(app, trainer, day.place).await?,
                None => Scene::at(app, trainer, client, day.place).await?,
            };
            scenes.push(scene);
        }
    }
    Ok(scenes)
}

/// Reads the named days anew, each line after those before it, and what the week makes of it. Lines in `refit` are fitted to
/// their day's room; the others keep movement and step, and what is open stays so. Days whose place is gone stay as they are.
pub(in crate::features) fn reread(
    app: &App,
    scenes: &[Scene],
    aims: &Aims,
    draft: &mut Draft,
    (days, refit): (&[usize], &BTreeSet<Uuid>),
) {
    let method = draft.asked.method;
    for scene in scenes {
        let here: Vec<usize> =
            days.iter().copied().filter(|day| draft.asked.days[*day].place == scene.place_head.id).collect();
        if here.is_empty() {
            continue;
        }
        let fitter = scene.fitter_by(app, Some(method));
        for day in here {
            read_day(app, scene, &fitter, &mut draft.days[day], refit);
        }
    }
    count(app, scenes, aims, draft);
}

fn read_day<'a>(app: &'a App, scene: &Scene, fitter: &Fitter<'a, '_>, day: &mut DraftDay, refit: &BTreeSet<Uuid>) {
    let mut before: Vec<Worked<'_>> = Vec::new();
    let mut read: Vec<Vec<Option<Candidate<'a>>>> = Vec::new();
    for (_, lines) in &mut day.blocks {
        let mut candidates = Vec::new();
        for line in lines {
            let candidate = if refit.contains(&line.slot) {
                fitted(fitter, line, &before)
            } else {
                stays(app, fitter, line, &before)
            };
            let movement = line.done.as_ref().and_then(|done| app.catalogue.movement(&done.exercise));
            before.extend(movement.map(|movement| Worked { movement, sets: line.dose.sets.len() }));
            line.expected =
                candidate.as_ref().filter(|c| c.movement.style != Style::Hold).map(|c| c.start.expected_reps());
            candidates.push(candidate);
        }
        read.push(candidates);
    }
    let mut keys = 0..;
    let blocks: Vec<(BlockKind, Vec<Ahead<'_, usize>>)> = day
        .blocks
        .iter()
        .zip(&read)
        .map(|((kind, lines), candidates)| {
            let done = lines.iter().zip(candidates).filter_map(|(line, c)| Some((line, c.as_ref()?)));
            let ahead = done.zip(&mut keys).map(|((line, c), key)| Ahead {
                key,
                movement: c.movement,
                ladder: &c.ladder,
                step: c.step(),
                dose: &line.dose,
            });
            (*kind, ahead.collect())
        })
        .collect();
    day.seconds = clock::of_session(&scene.person, &scene.place.kit, &blocks).total().value();
}

/// A line with what does it in this room. Nothing where the room has nothing for it.
fn fitted<'a>(fitter: &Fitter<'a, '_>, line: &mut DraftLine, before: &[Worked<'_>]) -> Option<Candidate<'a>> {
    let known = Known { today: line.done.as_ref().map(|done| (done.exercise.as_str(), line.pinned)), before: None };
    let found = fitter.carried(&line.intent, &known, before);
    line.kept = false;
    match &found {
        Some(Carried { candidate: c, intent, .. }) => {
            line.intent = intent.clone();
            line.done = Some(DraftFit { exercise: c.movement.id.clone(), step: c.step().clone() });
            line.dose = line.intent.prescription_for(c.movement.style).loaded(c.step().load);
        }
        None => line.done = None,
    }
    found.map(|found| found.candidate)
}

/// A line as it stands; nothing where it can no longer be done so.
fn stays<'a>(app: &'a App, fitter: &Fitter<'a, '_>, line: &DraftLine, before: &[Worked<'_>]) -> Option<Candidate<'a>> {
    let done = line.done.as_ref()?;
    let movement = app.catalogue.movement(&done.exercise)?;
    let mut candidate = fitter.on_step(movement, &done.step, &line.intent.counted(), &[])?;
    candidate.prescription = line.dose.clone();
    Some(candidate.after(before, true))
}

/// What the regions get, what is short of its aim, and how pushing and pulling stand. A reason is kept where the figure that it
/// was given for still stands.
fn count(app: &App, scenes: &[Scene], aims: &Aims, draft: &mut Draft) {
    let Some(experience) = scenes.first().map(|s| s.client.experience) else { return };
    let mut volume = Volume::default();
    let work = |line: &DraftLine| {
        let movement = app.catalogue.movement(&line.done.as_ref()?.exercise)?;
        Some((movement, line.dose.sets.len()))
    };
    for day in &draft.days {
        let asked = volume::asked_of(day.lines().filter_map(|line| line.intent.optional));
        for line in day.lines() {
            if let Some((movement, _)) = work(line) {
                volume.plan_as_asked(movement, &line.dose, line.intent.optional, asked);
            }
        }
    }
    draft.balance = week::balance(draft.lines().filter_map(work));
    draft.sets = Region::ALL
        .iter()
        .map(|region| {
            let sets = volume.of(*region);
            let aim = aims.weekly_sets(*region, &app.intake.volumes, experience);
            DraftSets { region: *region, direct: sets.direct, assisting: sets.assisting, aim }
        })
        .collect();
    let before = std::mem::take(&mut draft.unmet);
    let owed = volume.owed(aims, &app.intake.volumes, experience);
    let reason = |owed: &Owed| {
        let same = |u: &&DraftUnmet| u.region == owed.region && (u.sets - owed.sets).abs() < 1e-9;
        before.iter().find(same).map_or_else(String::new, |u| u.why.clone())
    };
    draft.unmet = owed
        .iter()
        .filter(|owed| owed.is_short())
        .map(|owed| DraftUnmet { region: owed.region, sets: owed.sets, least: owed.asked[0], why: reason(owed) })
        .collect();
}

/// The week as it stands: the sessions whose next day lies within seven days, each as its board is. None where there are none.
pub(super) async fn standing(app: &App, trainer: TrainerId, desk: &Desk) -> Result<Option<Draft>, WebError> {
    let until = desk.who.today + Duration::days(6);
    let ahead = desk.planned.iter().filter(|s| s.state == WorkoutState::Planned && s.planned_on <= until);
    let ahead: Vec<_> = ahead.take(week::MOST_DAYS).collect();
    let places: Vec<Uuid> = ahead.iter().map(|head| head.place_id).collect();
    let rooms = Rooms::of(app, trainer, &places).await?;
    let mut days: Vec<(AskedDay, DraftDay)> = Vec::new();
    let mut opened = Vec::new();
    let mut first = None;
    for head in ahead {
        let (blocks, mut fits, standing) = tokio::try_join!(
            sessions::blocks(&app.pool, trainer, head.id),
            fits::of_session(&app.pool, trainer, head.id, head.place_id),
            boards::standing(&app.pool, trainer, head.id),
        )?;
        let mut line = |slot: bavrek_store::slots::Slot| {
            let fit = fits.remove(&slot.id).map(|fit| rooms.now(app, &desk.who.person, fit));
            let intent = fit.as_ref().map_or_else(|| slot.intent.clone(), |f| dosing::in_force(app, f, &slot.intent));
            DraftLine {
                slot: slot.id,
                dose: fit.as_ref().map_or_else(|| intent.dose.prescription(), |f| f.prescription.clone()),
                pinned: fit.as_ref().is_some_and(|f| f.pinned),
                kept: fit.is_some(),
                done: fit.map(|f| DraftFit { exercise: f.exercise, step: f.step }),
                expected: None,
                intent,
            }
        };
        let blocks = blocks.into_iter().map(|b| (b.kind, b.slots.into_iter().map(&mut line).collect()));
        let day = DraftDay { session: head.id, name: Some(head.name.clone()), blocks: blocks.collect(), seconds: 0.0 };
        let weekday = head.planned_on.weekday().number_from_monday() as u8;
        let minutes = head.minutes.unsigned_abs();
        days.push((AskedDay { place: head.place_id, minutes, weekday }, day));
        opened.push(Opened { session: head.id, version: head.version, board: standing.seq });
        first = first.or(Some((head.method.unwrap_or(Method::ReserveBased), head.follows)));
    }
    let Some((method, follows)) = first else { return Ok(None) };
    let (asked, days): (Vec<AskedDay>, Vec<DraftDay>) = days.into_iter().unzip();
    let mut draft = Draft {
        asked: Asked { days: asked, method, follows, wish: week::Wish::Balanced },
        days,
        sets: Vec::new(),
        unmet: Vec::new(),
        objective: 0.0,
        bound: 0.0,
        balance: [0; 2],
        by_hand: true,
        opened,
        notes: Vec::new(),
        weeks: None,
    };
    let scenes = scenes(app, trainer, desk.who.client.id, &draft.asked.days).await?;
    let all: Vec<usize> = (0..draft.days.len()).collect();
    reread(app, &scenes, &desk.aims_or_kept(), &mut draft, (&all, &BTreeSet::new()));
    Ok(Some(draft))
}
