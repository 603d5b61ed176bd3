//! A proposed week, ready to be written down.

use std::collections::BTreeMap;

use bavrek_core::anatomy::Region;
use bavrek_core::plan::BlockKind;
use bavrek_core::units::{Seconds, trim_number};
use bavrek_core::volume::RegionSets;
use bavrek_store::weeks::{DraftDay, DraftLine, DraftUnmet, Kept};
use uuid::Uuid;

use super::ask::Desk;
use super::{next, weekday};
use crate::features::roster::day;
use crate::features::scene::{dose_text, purpose};
use crate::pictures::strip::minutes;
use crate::pictures::torso::Torso;
use crate::state::App;

pub(super) struct WeekView {
    pub(super) id: Uuid,
    pub(super) taken: bool,
    pub(super) days: Vec<DayView>,
    /// Regions with an aim: name, direct, assisting, aim, and how it stands.
    pub(super) sets: Vec<SetsView>,
    pub(super) unmet: Vec<(String, String)>,
    pub(super) torso: Torso,
    /// How near to the best it is, and how pushing and pulling stand.
    pub(super) facts: Vec<String>,
}

pub(super) struct DayView {
    pub(super) name: &'static str,
    pub(super) when: String,
    pub(super) place: String,
    /// `43 of 45 min`.
    pub(super) time: String,
    pub(super) blocks: Vec<BlockView>,
}

pub(super) struct BlockView {
    pub(super) seam: Option<&'static str>,
    pub(super) kind: &'static str,
    pub(super) lines: Vec<LineView>,
}

pub(super) struct LineView {
    pub(super) purpose: String,
    pub(super) name: String,
    pub(super) load: String,
    pub(super) dose: String,
    pub(super) expected: Option<String>,
}

pub(super) struct SetsView {
    pub(super) region: &'static str,
    pub(super) direct: String,
    pub(super) assisting: String,
    pub(super) aim: String,
    pub(super) class: &'static str,
}

pub(super) fn week(app: &App, desk: &Desk, id: Uuid, kept: &Kept) -> WeekView {
    let draft = &kept.draft;
    let days = draft.asked.days.iter().zip(&draft.days).map(|(asked, done)| {
        let place = desk.places.iter().find(|p| p.id == asked.place);
        DayView {
            name: weekday(asked.weekday),
            when: day(next(asked.weekday, desk.who.today), desk.who.today),
            place: place.map_or_else(|| "a place no longer in use".to_owned(), |p| p.name.clone()),
            time: format!("{} of {} min", minutes(Seconds(done.seconds)), asked.minutes),
            blocks: blocks(app, done),
        }
    });
    let work: BTreeMap<Region, RegionSets> =
        draft.sets.iter().map(|s| (s.region, RegionSets { direct: s.direct, assisting: s.assisting })).collect();
    let aims = desk.aims.clone().unwrap_or_default();
    let sets = draft.sets.iter().filter(|s| s.aim[1] > 0.0).map(|s| {
        let all = s.direct + s.assisting;
        SetsView {
            region: s.region.label(),
            direct: trim_number(s.direct, 1),
            assisting: trim_number(s.assisting, 1),
            aim: format!("{}–{}", trim_number(s.aim[0], 0), trim_number(s.aim[1], 0)),
            class: if all + 0.5 < s.aim[0] { "short" } else { "met" },
        }
    });
    let share = if draft.bound > 0.0 { 100.0 * (1.0 - draft.objective / draft.bound) } else { 0.0 };
    let sets_in_all: usize =
        draft.days.iter().flat_map(|d| &d.blocks).flat_map(|(_, lines)| lines).map(|l| l.dose.sets.len()).sum();
    WeekView {
        id,
        taken: kept.taken,
        days: days.collect(),
        sets: sets.collect(),
        unmet: grouped(&draft.unmet),
        torso: crate::features::clients::aims::draw(app, desk.who.client.experience, &aims, &work, false),
        facts: vec![
            format!("{sets_in_all} sets on {} days", draft.days.iter().filter(|d| !d.blocks.is_empty()).count()),
            format!("{} sets of pushing to {} of pulling", draft.balance[0], draft.balance[1]),
            format!(
                "within {} % of the most that these minutes can hold, as proven by the times reckoned",
                trim_number(share.ceil(), 0)
            ),
        ],
    }
}

/// What is unmet, regions with the same reason together; what differs by its figure stands alone.
fn grouped(unmet: &[DraftUnmet]) -> Vec<(String, String)> {
    let mut found: Vec<(String, String)> = Vec::new();
    for one in unmet {
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

fn blocks(app: &App, day: &DraftDay) -> Vec<BlockView> {
    let view = |(kind, lines): &(BlockKind, Vec<DraftLine>)| BlockView {
        seam: (lines.len() > 1 && *kind != BlockKind::Straight).then(|| kind.label()),
        kind: kind.id(),
        lines: lines.iter().map(|line| line_view(app, line)).collect(),
    };
    day.blocks.iter().map(view).collect()
}

fn line_view(app: &App, line: &DraftLine) -> LineView {
    let name = app.catalogue.movement(&line.exercise).map_or(line.exercise.as_str(), |m| &m.name);
    LineView {
        purpose: purpose(&line.intent),
        name: name.to_owned(),
        load: line.step.label.clone(),
        dose: dose_text(app, &line.exercise, &line.dose),
        expected: line.dose.zone().and(line.expected).map(|reps| {
            if reps > 40 { "more than 40 reps expected".to_owned() } else { format!("about {reps} reps expected") }
        }),
    }
}
