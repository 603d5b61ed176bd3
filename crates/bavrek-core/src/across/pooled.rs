//! The lessons of all clients together.

use std::collections::{BTreeMap, BTreeSet};

use super::lessons::{Lessons, Outcome};
use super::record::{TrackRecord, Went};
use crate::anatomy::Joint;
use crate::review::Verdict;
use crate::strength::Change;

/// SD of log load by which what a swap does differs from client to client. Assumed.
const BETWEEN_CLIENTS: f64 = 0.06;
/// SD of log load within which swaps change strength on the whole, around nothing. Assumed.
const OF_SWAPS: f64 = 0.05;

/// How a movement went.
#[derive(Debug, Clone, PartialEq)]
pub struct MovementRow {
    /// The movement.
    pub movement: String,
    /// With how many clients how.
    pub went: Went,
    /// By which share its score is leaned, where it is.
    pub tilt: Option<f64>,
    /// In whom it stands still, as places among the clients.
    pub still_in: Vec<usize>,
}

/// What came of one movement in another's place.
#[derive(Debug, Clone, PartialEq)]
pub struct SwapRow {
    /// What was done before.
    pub from: String,
    /// What came.
    pub to: String,
    /// With how many clients.
    pub clients: usize,
    /// In how many of them it kept or gained strength.
    pub kept: usize,
    /// In how many it lost some.
    pub lost: usize,
    /// What it changes on the whole, log load: drawn towards nothing where little is known.
    pub change: Change,
}

/// A joint that is limited or hurt.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct JointRow {
    /// The joint.
    pub joint: Joint,
    /// In whom it is limited now, as places among the clients.
    pub limited: Vec<usize>,
    /// In whom it hurt within a year.
    pub hurt: Vec<usize>,
    /// Movements in which it did, with how many clients.
    pub movements: Vec<(String, usize)>,
}

/// What the logs of all clients show together.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Across {
    /// By how many clients did them, most first.
    pub movements: Vec<MovementRow>,
    /// By how many clients, most first.
    pub swaps: Vec<SwapRow>,
    /// By how many clients, most first.
    pub joints: Vec<JointRow>,
}

impl TrackRecord {
    /// The record of clients, one [`Lessons`] each.
    pub fn across(all: &[Lessons]) -> Self {
        let mut went: BTreeMap<String, Went> = BTreeMap::new();
        for (movement, outcome) in all.iter().flat_map(|l| &l.outcomes) {
            went.entry(movement.clone()).or_default().add(*outcome);
        }
        Self::of(went)
    }
}

impl Across {
    /// Pools the lessons of clients, one of each.
    pub fn of(all: &[Lessons]) -> Self {
        let record = TrackRecord::across(all);
        let still_in = |id: &str| places(all, |l| l.outcomes.get(id) == Some(&Outcome::Still));
        let row = |(id, went): (&str, Went)| MovementRow {
            movement: id.to_owned(),
            went,
            tilt: record.tilt(id),
            still_in: still_in(id),
        };
        let mut movements: Vec<MovementRow> = record.movements().map(row).collect();
        movements.sort_by_key(|row| std::cmp::Reverse(row.went.known()));
        Self { movements, swaps: swaps(all), joints: joints(all) }
    }

    /// Movements that stand still in clients, those in most of them first.
    pub fn stalls(&self) -> Vec<&MovementRow> {
        let mut still: Vec<&MovementRow> = self.movements.iter().filter(|row| row.went.still > 0).collect();
        still.sort_by_key(|row| std::cmp::Reverse(row.went.still));
        still
    }

    /// The movement that stands still in more clients than any other, where they are several.
    pub fn most_still(&self) -> Option<&MovementRow> {
        alone_first(&self.stalls(), |row| usize::from(row.went.still))
    }

    /// The joint that is limited or hurt in more clients than any other, where they are several.
    pub fn most_spared(&self) -> Option<&JointRow> {
        alone_first(&self.joints.iter().collect::<Vec<_>>(), |row| row.all().count())
    }

    /// The swap of several clients with which strength rose most, where it surely rose.
    pub fn best_swap(&self) -> Option<&SwapRow> {
        let sure = |row: &&SwapRow| row.clients > 1 && row.change.bounds()[0] > 0.0;
        self.swaps.iter().filter(sure).max_by(|a, b| a.change.mean.total_cmp(&b.change.mean))
    }
}

/// The first of what is sorted by clients, where they are several and more than those of the next.
fn alone_first<'r, T>(sorted: &[&'r T], clients: impl Fn(&T) -> usize) -> Option<&'r T> {
    let (first, next) = (*sorted.first()?, sorted.get(1).map_or(1, |row| clients(row)));
    (clients(first) > next.max(1)).then_some(first)
}

fn swaps(all: &[Lessons]) -> Vec<SwapRow> {
    let mut pairs: BTreeMap<(&str, &str), Vec<(Change, Verdict)>> = BTreeMap::new();
    for came in all.iter().flat_map(|l| &l.swaps) {
        let change = Change { mean: came.mean, sd: came.sd };
        pairs.entry((&came.from, &came.to)).or_default().push((change, came.verdict));
    }
    let row = |((from, to), found): ((&str, &str), Vec<(Change, Verdict)>)| {
        let count = |wanted: &[Verdict]| found.iter().filter(|(_, verdict)| wanted.contains(verdict)).count();
        SwapRow {
            from: from.to_owned(),
            to: to.to_owned(),
            clients: found.len(),
            kept: count(&[Verdict::Kept, Verdict::Gained]),
            lost: count(&[Verdict::Lost]),
            change: pooled(found.iter().map(|(change, _)| change)),
        }
    };
    let mut rows: Vec<SwapRow> = pairs.into_iter().map(row).collect();
    rows.sort_by_key(|row| std::cmp::Reverse(row.clients));
    rows
}

/// Changes of several clients as one: each weighs by how well it is known and by how much clients differ.
fn pooled<'c>(changes: impl Iterator<Item = &'c Change>) -> Change {
    let (mut weight, mut sum) = (OF_SWAPS.powi(-2), 0.0);
    for change in changes {
        let own = (change.sd.powi(2) + BETWEEN_CLIENTS.powi(2)).recip();
        weight += own;
        sum += own * change.mean;
    }
    Change { mean: sum / weight, sd: weight.recip().sqrt() }
}

/// The clients of whom something holds, as places among all.
fn places(all: &[Lessons], holds: impl Fn(&Lessons) -> bool) -> Vec<usize> {
    all.iter().enumerate().filter(|(_, l)| holds(l)).map(|(at, _)| at).collect()
}

fn joints(all: &[Lessons]) -> Vec<JointRow> {
    let row = |joint: Joint| {
        let hurt_in = |l: &Lessons| -> BTreeSet<String> {
            l.hurt.iter().filter(|h| h.joint == Some(joint)).map(|h| h.movement.clone()).collect()
        };
        let mut movements: BTreeMap<String, usize> = BTreeMap::new();
        for movement in all.iter().flat_map(hurt_in) {
            *movements.entry(movement).or_default() += 1;
        }
        let mut movements: Vec<(String, usize)> = movements.into_iter().collect();
        movements.sort_by_key(|(_, count)| std::cmp::Reverse(*count));
        let limited = places(all, |l| l.limited.contains(&joint));
        let hurt = places(all, |l| l.hurt.iter().any(|h| h.joint == Some(joint)));
        JointRow { joint, limited, hurt, movements }
    };
    let rows = Joint::ALL.iter().map(|joint| row(*joint));
    let mut rows: Vec<JointRow> = rows.filter(|row| row.all().next().is_some()).collect();
    rows.sort_by_key(|row| std::cmp::Reverse(row.all().count()));
    rows
}

impl JointRow {
    /// All whom it concerns, each once, as places among the clients.
    pub fn all(&self) -> impl Iterator<Item = usize> {
        self.limited.iter().chain(&self.hurt).copied().collect::<BTreeSet<usize>>().into_iter()
    }
}
