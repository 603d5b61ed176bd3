//! A session made to fit the minutes there are: pairs, shorter rests, fewer sets, lines left out, the least harmful first, as
//! one proposal.

use std::collections::BTreeMap;

use crate::aims::Aim;
use crate::anatomy::{Pattern, vocabulary};
use crate::dose::{Prescription, SetPlan};
use crate::plan::BlockKind;
use crate::school::work_against_each_other;
use crate::units::Seconds;

/// A line of a session as cutting sees it.
#[derive(Debug, Clone, PartialEq)]
pub struct Line<K> {
    /// Whose it is.
    pub key: K,
    /// Its pattern.
    pub pattern: Pattern,
    /// What its main region is to do.
    pub aim: Aim,
    /// What a set of it works: all regions by their weights, those that assist by half.
    pub works: f64,
    /// Whether the week has enough for that region without one set of it.
    pub spare: bool,
    /// That it may be left out, as its intent says.
    pub optional: Option<u8>,
    /// Its sets.
    pub dose: Prescription,
}

/// Blocks in order, by the lines in them.
pub type Blocks<K> = Vec<(BlockKind, Vec<K>)>;

vocabulary!(
    /// What may be done to make it shorter.
    Means {
        Pairs => "pairs", "let what works against each other take turns";
        Rests => "rests", "shorten rests";
        Sets => "sets", "take sets away";
        Lines => "lines", "leave movements out";
    }
);

/// One cut.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Cut<K> {
    /// Two lines take turns.
    Pair(K, K),
    /// Every rest of a line is shorter, none shorter than its repetitions ask for.
    Rest(K),
    /// One set fewer; the last stays the last.
    Set(K),
    /// The line is left out today.
    Leave(K),
}

/// A shorter session.
#[derive(Debug, Clone, PartialEq)]
pub struct Shorter<K> {
    /// Its blocks.
    pub blocks: Blocks<K>,
    /// Its doses.
    pub doses: BTreeMap<K, Prescription>,
    /// What was cut, in order, with the time that it saves.
    pub cuts: Vec<(Cut<K>, Seconds)>,
    /// How long it takes.
    pub total: Seconds,
}

/// Shortening of a rest at once, s.
const REST_STEP: u16 = 30;
/// Fewest sets of a line that is kept: with one set less it had better be left out.
const FEWEST_SETS: usize = 2;
/// Fewest lines of a session.
const FEWEST_LINES: usize = 2;
/// Most cuts: more would be another session.
const MOST_CUTS: usize = 60;
/// Harm of a pair, of a shortened rest and of a set of a region that grows; the others are relative to that set. Coaching
/// practice puts them in this order; the figures are assumed.
const PAIR_HARM: f64 = 0.2;
const REST_HARM: f64 = 0.35;
const SET_HARM: f64 = 1.0;
/// A line that is left out is missed more than its sets: as one set more, and each of its sets by so much.
const LINE_HARM: f64 = 1.0;
const SET_OF_LINE: f64 = 1.3;
/// What is left of the harm where the line may be left out and enough like it stay. Assumed.
const OPTIONAL: f64 = 0.3;

/// Shortest rest after a set by its repetitions, s: heavy sets need theirs. Schools differ; these lie at the lower end.
const fn least_rest(set: &SetPlan) -> u16 {
    match set.reps {
        Some([_, most]) if most <= 6 => 120,
        Some([_, most]) if most <= 10 => 75,
        _ => 45,
    }
}

const fn weight(aim: Aim) -> f64 {
    match aim {
        Aim::Keep => 0.6,
        Aim::Grow => 1.0,
        Aim::Focus => 2.5,
    }
}

impl<K> Line<K> {
    /// What a set of it is worth: one that works twice as much half as much more.
    fn worth(&self) -> f64 {
        SET_HARM * weight(self.aim) * (0.5 + 0.25 * self.works) * if self.spare { 0.5 } else { 1.0 }
    }
}

/// A session while it is cut.
#[derive(Debug, Clone, PartialEq)]
struct State<K> {
    blocks: Blocks<K>,
    doses: BTreeMap<K, Prescription>,
}

impl<K: Copy + Ord> State<K> {
    fn alone(&self, key: K) -> bool {
        self.blocks.iter().any(|(_, keys)| keys[..] == [key])
    }

    /// The session after a cut; none where it cannot be made.
    fn after(&self, cut: Cut<K>) -> Option<Self> {
        let mut cutting = self.clone();
        match cut {
            Cut::Pair(first, second) => {
                if !(self.alone(first) && self.alone(second)) {
                    return None;
                }
                cutting.blocks.retain(|(_, keys)| keys[..] != [second]);
                let block = cutting.blocks.iter_mut().find(|(_, keys)| keys[..] == [first])?;
                *block = (BlockKind::Antagonist, vec![first, second]);
            }
            Cut::Rest(key) => {
                let sets = &mut cutting.doses.get_mut(&key)?.sets;
                let mut shorter = false;
                for set in sets.iter_mut() {
                    let rest = set.rest_s.saturating_sub(REST_STEP).max(least_rest(set));
                    shorter |= rest < set.rest_s;
                    set.rest_s = set.rest_s.min(rest);
                }
                shorter.then_some(())?;
            }
            Cut::Set(key) => {
                let sets = &mut cutting.doses.get_mut(&key)?.sets;
                // A ladder of sets loses one in its middle; what belongs to the last set stays with it.
                (sets.len() > FEWEST_SETS).then(|| sets.remove(sets.len() - 2))?;
            }
            Cut::Leave(key) => {
                (cutting.doses.len() > FEWEST_LINES).then_some(())?;
                cutting.doses.remove(&key)?;
                for (kind, keys) in &mut cutting.blocks {
                    keys.retain(|k| *k != key);
                    if keys.len() == 1 {
                        *kind = BlockKind::Straight;
                    }
                }
                cutting.blocks.retain(|(_, keys)| !keys.is_empty());
            }
        }
        Some(cutting)
    }

    /// All cuts that may be tried.
    fn cuts(&self, lines: &[Line<K>], allowed: &[Means]) -> Vec<(Cut<K>, f64)> {
        let here: Vec<&Line<K>> = lines.iter().filter(|l| self.doses.contains_key(&l.key)).collect();
        let may = |means: Means| allowed.contains(&means);
        let optional: Vec<u8> = here.iter().filter_map(|l| l.optional).collect();
        let enough_stay = optional.iter().max().is_some_and(|wanted| optional.len() > usize::from(*wanted));
        let missed = |line: &Line<K>| if line.optional.is_some() && enough_stay { OPTIONAL } else { 1.0 };
        let mut found = Vec::new();
        for (i, line) in here.iter().enumerate() {
            let sets = self.doses[&line.key].sets.len() as f64;
            let against = |other: &&&Line<K>| work_against_each_other(line.pattern, other.pattern);
            let pairs = here[i + 1..].iter().filter(against).map(|other| (Cut::Pair(line.key, other.key), PAIR_HARM));
            found.extend(pairs.filter(|_| may(Means::Pairs)));
            found.extend(may(Means::Rests).then_some((Cut::Rest(line.key), REST_HARM)));
            found.extend(may(Means::Sets).then_some((Cut::Set(line.key), line.worth())));
            let left = missed(line) * (LINE_HARM + SET_OF_LINE * line.worth() * sets);
            found.extend(may(Means::Lines).then_some((Cut::Leave(line.key), left)));
        }
        found
    }
}

/// Cuts a session down to a budget, by the time that each cut saves for its harm; then whatever turned out not to be needed
/// is put back, the most harmful first. Where even all cuts do not suffice, the total says so.
pub fn shorten<K: Copy + Ord>(
    lines: &[Line<K>],
    blocks: &Blocks<K>,
    budget: Seconds,
    allowed: &[Means],
    measure: impl Fn(&Blocks<K>, &BTreeMap<K, Prescription>) -> Seconds,
) -> Shorter<K> {
    let whole = State { blocks: blocks.clone(), doses: lines.iter().map(|l| (l.key, l.dose.clone())).collect() };
    let long = |state: &State<K>| measure(&state.blocks, &state.doses).value();
    let (mut state, mut total, mut made) = (whole.clone(), long(&whole), Vec::new());
    while total > budget.value() && made.len() < MOST_CUTS {
        let tried = state.cuts(lines, allowed).into_iter().filter_map(|(cut, harm)| {
            let after = state.after(cut)?;
            let saved = total - long(&after);
            // What saves next to nothing is not worth a word.
            (saved > 5.0).then_some((cut, harm, saved, after))
        });
        let Some((cut, harm, saved, after)) = tried.max_by(|a, b| (a.2 / a.1).total_cmp(&(b.2 / b.1))) else { break };
        total -= saved;
        state = after;
        made.push((cut, harm));
    }
    let needed = |cuts: &[(Cut<K>, f64)]| cuts.iter().try_fold(whole.clone(), |state, (cut, _)| state.after(*cut));
    let mut order: Vec<usize> = (0..made.len()).collect();
    order.sort_by(|a, b| made[*b].1.total_cmp(&made[*a].1));
    let mut kept = vec![true; made.len()];
    for place in order {
        kept[place] = false;
        let rest: Vec<_> = made.iter().zip(&kept).filter(|(_, kept)| **kept).map(|(cut, _)| *cut).collect();
        kept[place] = needed(&rest).is_none_or(|state| long(&state) > budget.value());
    }
    let cuts = made.into_iter().zip(kept).filter(|(_, kept)| *kept).map(|((cut, _), _)| cut);
    told(whole, cuts, long)
}

/// The cuts made one after another, each with what it saves.
fn told<K: Copy + Ord>(
    whole: State<K>,
    cuts: impl Iterator<Item = Cut<K>>,
    long: impl Fn(&State<K>) -> f64,
) -> Shorter<K> {
    let (mut state, mut list) = (whole, Vec::new());
    let mut total = long(&state);
    for cut in cuts {
        let Some(after) = state.after(cut) else { continue };
        let now = long(&after);
        list.push((cut, Seconds(total - now)));
        (state, total) = (after, now);
    }
    Shorter { blocks: state.blocks, doses: state.doses, cuts: list, total: Seconds(total) }
}
