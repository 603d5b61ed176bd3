//! A proposed week, ready to be written down.

use std::collections::BTreeMap;

use bavrek_core::anatomy::Region;
use bavrek_core::plan::BlockKind;
use bavrek_core::units::{Seconds, trim_number};
use bavrek_core::volume::{Owed, RegionSets};
use bavrek_store::boards::Standing;
use bavrek_store::weeks::{Draft, DraftDay, DraftLine, DraftSets, DraftUnmet, Kept};
use uuid::Uuid;

use super::ask::Desk;
use super::{next, weekday};
use crate::features::dates::day;
use crate::features::scene::{dose_text, purpose};
use crate::pictures::strip::minutes;
use crate::pictures::torso::Torso;
use crate::state::App;

pub(super) struct WeekView {
    pub(super) id: Uuid,
    pub(super) taken: bool,
    /// Whether it is of sessions that stand already.
    pub(super) open: bool,
    pub(super) standing: Standing,
    pub(super) days: Vec<DayView>,
    pub(super) picked: Option<Picked>,
    /// What the last move did to minutes and sets.
    pub(super) change: Vec<String>,
    /// Regions with an aim, what is most short first.
    pub(super) sets: Vec<SetsView>,
    pub(super) unmet: Vec<(String, String)>,
    pub(super) torso: Torso,
    /// How near to the best it is, and how pushing and pulling stand.
    pub(super) facts: Vec<String>,
    /// How it came about.
    pub(super) notes: Vec<String>,
}

pub(super) struct DayView {
    pub(super) at: usize,
    pub(super) name: String,
    pub(super) when: String,
    pub(super) place: String,
    /// `43 of 45 min`.
    pub(super) time: String,
    pub(super) minutes: u16,
    /// How much it runs over.
    pub(super) over: Option<String>,
    /// Width of the clock's bar, of what runs over, and where the minutes end, of 100.
    pub(super) bar: (String, String, String),
    pub(super) blocks: Vec<BlockView>,
}

pub(super) struct BlockView {
    pub(super) seam: Option<&'static str>,
    pub(super) kind: &'static str,
    pub(super) lines: Vec<LineView>,
}

pub(super) struct LineView {
    pub(super) id: Uuid,
    pub(super) on: bool,
    pub(super) pinned: bool,
    pub(super) purpose: String,
    /// What does it; nothing where it is open.
    pub(super) name: Option<String>,
    pub(super) load: String,
    pub(super) dose: String,
    pub(super) expected: Option<String>,
}

/// A button of the picked line: what it is called to the server, on the button, and its key.
type Act = (String, String, String);

pub(super) struct Picked {
    pub(super) id: Uuid,
    pub(super) name: String,
    pub(super) acts: Vec<Act>,
    /// The lines before and after it: key, words, line.
    pub(super) around: Vec<(&'static str, &'static str, Uuid)>,
}

pub(super) struct SetsView {
    pub(super) region: &'static str,
    pub(super) direct: String,
    pub(super) assisting: String,
    pub(super) all: String,
    pub(super) aim: String,
    pub(super) class: &'static str,
    /// Widths of direct and assisting work and the least, of 100.
    pub(super) bar: (String, String, String),
}

pub(super) fn week(
    app: &App,
    desk: &Desk,
    (id, kept): (Uuid, &Kept),
    (before, pick): (Option<&Draft>, Option<Uuid>),
) -> WeekView {
    let draft = &kept.draft;
    let lines: Vec<&DraftLine> = draft.lines().collect();
    let pick = pick.filter(|p| lines.iter().any(|l| l.slot == *p)).or_else(|| lines.first().map(|l| l.slot));
    let pick = pick.filter(|_| !kept.taken);
    let days = (0..draft.days.len()).map(|at| day_view(app, desk, draft, at, pick));
    let work: BTreeMap<Region, RegionSets> =
        draft.sets.iter().map(|s| (s.region, RegionSets { direct: s.direct, assisting: s.assisting })).collect();
    let aims = desk.aims_or_kept();
    let mut aimed: Vec<&DraftSets> = draft.sets.iter().filter(|s| s.aim[1] > 0.0).collect();
    aimed.sort_by(|a, b| (b.aim[0] - b.direct - b.assisting).total_cmp(&(a.aim[0] - a.direct - a.assisting)));
    WeekView {
        id,
        taken: kept.taken,
        open: !draft.opened.is_empty(),
        standing: kept.standing,
        days: days.collect(),
        picked: pick.and_then(|pick| picked(app, draft, pick)),
        change: before.map_or_else(Vec::new, |before| changes(before, draft)),
        sets: aimed.into_iter().map(sets_view).collect(),
        unmet: grouped(&draft.unmet),
        torso: crate::features::clients::aims::draw(app, desk.who.client.experience, &aims, &work, false),
        facts: facts(draft),
        notes: draft.notes.clone(),
    }
}

fn facts(draft: &Draft) -> Vec<String> {
    let sets: usize = draft.lines().map(|l| l.dose.sets.len()).sum();
    let days = draft.days.iter().filter(|d| !d.blocks.is_empty()).count();
    let mut facts = vec![
        format!("{sets} sets on {days} days"),
        format!("{} sets of pushing to {} of pulling", draft.balance[0], draft.balance[1]),
    ];
    if draft.by_hand {
        facts.push("laid by hand: nothing is proven about it".to_owned());
    } else {
        let share = if draft.bound > 0.0 { 100.0 * (1.0 - draft.objective / draft.bound) } else { 0.0 };
        facts.push(proven(share));
    }
    facts
}

/// How near to its bound a week is, of which it lacks so many percent.
fn proven(lacks: f64) -> String {
    let most = match lacks.ceil() {
        share if share > 0.0 => format!("within {} % of the most that these minutes can hold", trim_number(share, 0)),
        _ => "these minutes can hold no more".to_owned(),
    };
    format!("{most}, as proven by the times reckoned")
}

fn day_view(app: &App, desk: &Desk, draft: &Draft, at: usize, pick: Option<Uuid>) -> DayView {
    let (asked, done) = (&draft.asked.days[at], &draft.days[at]);
    let place = desk.places.iter().find(|p| p.id == asked.place);
    let budget = 60.0 * f64::from(asked.minutes);
    let most = done.seconds.max(budget).max(1.0);
    let wide = |seconds: f64| trim_number(100.0 * seconds / most, 1);
    let over = (done.seconds > budget + 1.0).then_some(Seconds(done.seconds - budget));
    DayView {
        at,
        name: weekday(asked.weekday).to_owned(),
        when: day(next(asked.weekday, desk.who.today), desk.who.today),
        place: place.map_or_else(|| "a place no longer in use".to_owned(), |p| p.name.clone()),
        time: format!("{} of {} min", minutes(Seconds(done.seconds)), asked.minutes),
        minutes: asked.minutes,
        over: over.map(|over| format!("{} min over", minutes(over))),
        bar: (wide(done.seconds.min(budget)), wide((done.seconds - budget).max(0.0)), wide(budget)),
        blocks: blocks(app, done, pick),
    }
}

fn sets_view(s: &DraftSets) -> SetsView {
    let all = s.direct + s.assisting;
    let wide = |sets: f64| trim_number((100.0 * sets / s.aim[1]).min(100.0), 1);
    let owed = Owed { region: s.region, sets: all, asked: s.aim };
    SetsView {
        region: s.region.label(),
        direct: trim_number(s.direct, 1),
        assisting: trim_number(s.assisting, 1),
        all: trim_number(all, 1),
        aim: format!("{}–{}", trim_number(s.aim[0], 0), trim_number(s.aim[1], 0)),
        class: if owed.is_short() { "short" } else { "met" },
        bar: (wide(s.direct), wide(all), wide(s.aim[0])),
    }
}

/// What became of minutes and sets from one state to the next.
fn changes(before: &Draft, now: &Draft) -> Vec<String> {
    let mut said = Vec::new();
    for ((then, now), asked) in before.days.iter().zip(&now.days).zip(&now.asked.days) {
        let [a, b] = [then, now].map(|d| minutes(Seconds(d.seconds)));
        if a != b {
            said.push(format!("{} {a} → {b} min", weekday(asked.weekday)));
        }
    }
    for now in &now.sets {
        let then = before.sets.iter().find(|s| s.region == now.region).map_or(0.0, |s| s.direct + s.assisting);
        let sets = now.direct + now.assisting;
        if (then - sets).abs() > 0.05 {
            said.push(format!("{} {} → {} sets", now.region, trim_number(then, 1), trim_number(sets, 1)));
        }
    }
    said
}

fn name_of(app: &App, line: &DraftLine) -> Option<String> {
    let exercise = &line.done.as_ref()?.exercise;
    Some(app.catalogue.movement(exercise).map_or_else(|| exercise.clone(), |m| m.name.clone()))
}

fn picked(app: &App, draft: &Draft, pick: Uuid) -> Option<Picked> {
    let lines: Vec<&DraftLine> = draft.lines().collect();
    let at = lines.iter().position(|l| l.slot == pick)?;
    let own = draft.days.iter().position(|d| d.lines().any(|l| l.slot == pick))?;
    let block = draft.days[own].blocks.iter().find(|(_, lines)| lines.iter().any(|l| l.slot == pick))?;
    let plain = |act: &str, words: &str, key: &str| (act.to_owned(), words.to_owned(), key.to_owned());
    let mut acts = vec![
        plain("earlier", "Earlier", "["),
        plain("later", "Later", "]"),
        plain("more", "+ set", "+"),
        plain("fewer", "− set", "-"),
        plain("join", "Join with the next", "j"),
    ];
    acts.extend((block.1.len() > 1).then(|| plain("part", "Part", "p")));
    acts.push((format!("copy-{own}"), "Copy".to_owned(), "y".to_owned()));
    acts.push(plain("pin", if lines[at].pinned { "Unpin" } else { "Pin" }, "i"));
    acts.push(plain("out", "Take out", "x"));
    for (to, asked) in draft.asked.days.iter().enumerate().filter(|(to, _)| *to != own) {
        acts.push((format!("day-{to}"), format!("To {}", weekday(asked.weekday)), (to + 1).to_string()));
    }
    let neighbour = |i: Option<usize>| i.and_then(|i| lines.get(i)).map(|l| l.slot);
    let around = [
        ("ArrowLeft", "Line before", neighbour(at.checked_sub(1))),
        ("ArrowRight", "Line after", neighbour(Some(at + 1))),
    ];
    Some(Picked {
        id: pick,
        name: name_of(app, lines[at]).unwrap_or_else(|| purpose(&lines[at].intent)),
        acts,
        around: around.into_iter().filter_map(|(key, words, line)| Some((key, words, line?))).collect(),
    })
}

/// What is unmet, regions with the same reason together; what differs by its figure stands alone.
fn grouped(unmet: &[DraftUnmet]) -> Vec<(String, String)> {
    let mut found: Vec<(String, String)> = Vec::new();
    for one in unmet {
        // A move by hand leaves no reason but itself.
        let region = format!("{} {} of {}", one.region, trim_number(one.sets, 1), trim_number(one.least, 0));
        match found.iter_mut().find(|(_, why)| *why == one.why) {
            Some((regions, _)) => {
                regions.push_str(", ");
                regions.push_str(&region);
            }
            None => found.push((region, one.why.clone())),
        }
    }
    found
}

fn blocks(app: &App, day: &DraftDay, pick: Option<Uuid>) -> Vec<BlockView> {
    let view = |(kind, lines): &(BlockKind, Vec<DraftLine>)| BlockView {
        seam: (lines.len() > 1 && *kind != BlockKind::Straight).then(|| kind.label()),
        kind: kind.id(),
        lines: lines.iter().map(|line| line_view(app, line, pick)).collect(),
    };
    day.blocks.iter().map(view).collect()
}

fn line_view(app: &App, line: &DraftLine, pick: Option<Uuid>) -> LineView {
    let exercise = line.done.as_ref().map_or("", |done| done.exercise.as_str());
    LineView {
        id: line.slot,
        on: pick == Some(line.slot),
        pinned: line.pinned,
        purpose: purpose(&line.intent),
        name: name_of(app, line),
        load: line.done.as_ref().map_or_else(String::new, |done| done.step.label.clone()),
        dose: dose_text(app, exercise, &line.dose),
        expected: line.dose.zone().and(line.expected).map(|reps| {
            if reps > 40 { "more than 40 reps expected".to_owned() } else { format!("about {reps} reps expected") }
        }),
    }
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    #[rstest]
    #[case(0.0, "these minutes can hold no more,")]
    #[case(0.2, "within 1 % of the most")]
    #[case(2.01, "within 3 % of the most")]
    fn what_is_proven_is_never_said_too_well(#[case] lacks: f64, #[case] words: &str) {
        assert!(super::proven(lacks).starts_with(words), "{}", super::proven(lacks));
    }
}
