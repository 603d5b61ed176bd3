//! The first facts of a review: what grew, what fell, what stands still, what was left out, what hurt.

use chrono::NaiveDate;

use super::{HeldLine, Line, PainfulDay, Verdict};
use crate::anatomy::Region;
use crate::strength::Change;

/// Log change below which growth is not worth a word.
const WORTH_A_WORD: f64 = 0.02;

/// What the story is made of.
#[derive(Debug, Clone, Copy)]
pub struct Told<'a> {
    /// The lines of strength.
    pub lines: &'a [Line<'a>],
    /// What was held.
    pub held: &'a [HeldLine<'a>],
    /// Regions with an aim that have had nothing, each with the last week in which it had, if it had.
    pub left_out: &'a [(Region, Option<NaiveDate>)],
    /// The last day that was painful enough to stop a movement.
    pub pain: Option<PainfulDay>,
}

/// A pattern or a movement by its name, with a share of its load: 0.1 for a tenth more, or less.
pub type ByShare = (String, f64);

/// A fact of the story. None of them is empty.
#[derive(Debug, Clone, PartialEq)]
pub enum Fact {
    /// What grew, the most first, and through how many swaps.
    Grew {
        /// By how much each.
        by: Vec<ByShare>,
        /// Swaps that kept or raised the strength.
        swaps: usize,
    },
    /// What was held longer or with more: the share is one of the load that can be held.
    HeldLonger(Vec<ByShare>),
    /// What fell.
    Fell(Vec<ByShare>),
    /// What stands still, each for so many weeks, the longest first.
    StandsStill(Vec<(String, i64)>),
    /// What nobody can see growing, because no set comes near its end, each on so many last days.
    TooLight(Vec<(String, usize)>),
    /// Nothing was logged often enough to see a change.
    TooLittle,
    /// No change is more than chance.
    AsItWas {
        /// Whether something that is held did change.
        but_held: bool,
    },
    /// Regions that got nothing, each since the week from a Monday, if it had something before.
    GotNothing(Vec<(Region, Option<NaiveDate>)>),
    /// It hurt, this day the last.
    Hurt(PainfulDay),
}

/// The story in one to seven facts, what became of strength first.
pub fn story(told: &Told<'_>) -> Vec<Fact> {
    let strength = [grown(told), held_longer(told), fallen(told), stood_still(told), too_light(told)];
    let mut facts: Vec<Fact> = strength.into_iter().flatten().collect();
    let only_held = matches!(facts[..], [Fact::HeldLonger(_)]);
    if told.lines.is_empty() && told.held.iter().all(|line| line.change.is_none()) {
        facts.push(Fact::TooLittle);
    } else if facts.is_empty() || only_held && !told.lines.is_empty() {
        facts.push(Fact::AsItWas { but_held: only_held });
    }
    facts.extend((!told.left_out.is_empty()).then(|| Fact::GotNothing(told.left_out.to_vec())));
    facts.extend(told.pain.map(Fact::Hurt));
    facts
}

/// A list as a fact; none where it is empty.
fn some<T>(all: Vec<T>, fact: impl FnOnce(Vec<T>) -> Fact) -> Option<Fact> {
    (!all.is_empty()).then(|| fact(all))
}

/// The change of a line, where its sets say more than "at least": nothing is claimed of what was too light to tell.
fn known(line: &Line<'_>) -> Option<Change> {
    line.change.filter(|_| line.too_light_days.is_none())
}

fn share(change: Change) -> f64 {
    change.mean.exp() - 1.0
}

/// A change that is growth and more than chance.
fn is_growth(change: &Change) -> bool {
    change.mean >= WORTH_A_WORD && change.bounds()[0] > 0.0
}

/// The same the other way.
fn is_loss(change: &Change) -> bool {
    change.mean <= -WORTH_A_WORD && change.bounds()[1] < 0.0
}

fn grown(told: &Told<'_>) -> Option<Fact> {
    let mut by: Vec<ByShare> = Vec::new();
    let mut swaps = 0;
    for line in told.lines {
        let Some(change) = known(line).filter(is_growth) else { continue };
        by.push((line.pattern.name.clone(), share(change)));
        swaps += line.swaps.iter().filter(|s| matches!(s.verdict, Verdict::Kept | Verdict::Gained)).count();
    }
    by.sort_by(|a, b| b.1.total_cmp(&a.1));
    some(by, |by| Fact::Grew { by, swaps })
}

fn held_longer(told: &Told<'_>) -> Option<Fact> {
    let grown = |line: &HeldLine<'_>| Some((line.movement.name.clone(), share(line.change.filter(is_growth)?)));
    some(told.held.iter().filter_map(grown).collect(), Fact::HeldLonger)
}

fn fallen(told: &Told<'_>) -> Option<Fact> {
    let lines = told.lines.iter().map(|line| (known(line), &line.pattern.name));
    let held = told.held.iter().map(|line| (line.change, &line.movement.name));
    let fell = |(change, name): (Option<Change>, &String)| Some((name.clone(), share(change.filter(is_loss)?)));
    some(lines.chain(held).filter_map(fell).collect(), Fact::Fell)
}

fn stood_still(told: &Told<'_>) -> Option<Fact> {
    let still = told.lines.iter().filter_map(|l| Some((l.pattern.name.clone(), l.still_weeks?)));
    let mut still: Vec<(String, i64)> = still.collect();
    still.sort_by_key(|(_, weeks)| -weeks);
    some(still, Fact::StandsStill)
}

fn too_light(told: &Told<'_>) -> Option<Fact> {
    let light = told.lines.iter().filter_map(|l| Some((l.pattern.name.clone(), l.too_light_days?)));
    some(light.collect(), Fact::TooLight)
}
