//! The fits of a block chosen together: what each station does best alone may be in the others' way every round.

use super::answer::Candidate;
use super::beside::Mate;
use super::together::{block_conflicts, fits_together, may_stand_for};
use crate::kit::KitItem;
use crate::plan::BlockKind;
use crate::units::Seconds;

/// What a second that stations cost each other every round is worth, in score: forty of them, a pair of dumbbells loaded anew there and
/// back, are worth a movement that does its job a little worse. Assumed.
const A_SECOND: f64 = 0.0015;
/// What going on with what is done there is worth, in score: a movement that is known is not given up for a trifle. Assumed.
const GOES_ON: f64 = 0.02;
/// Share of the best score from which a candidate is looked at, and how many of them.
const GOOD: f64 = 0.85;
const MOST: usize = 8;
/// Most rounds of changes, and stations up to which two are changed at once: in a circuit of many one after the other is enough.
const ROUNDS: usize = 10;
const TWO_AT_ONCE: usize = 4;

/// A station for which candidates were found, each judged alone.
#[derive(Debug, Clone, Copy)]
pub struct Seat<'c, 'a> {
    /// Best first. What is done there now may be any of them, on its own step.
    pub candidates: &'c [Candidate<'a>],
    /// The place of what is done there now; none where nothing is.
    pub today: Option<usize>,
    /// Whether that stays whatever comes: it is pinned, or begun.
    pub stays: bool,
    /// Repetitions that are asked; none where none are.
    pub zone: Option<[u16; 2]>,
}

/// What the stations of a block are to be done with.
#[derive(Debug, Clone, PartialEq)]
pub struct Chosen {
    /// Of each station the place of its candidate.
    pub picks: Vec<usize>,
    /// What they cost each other a round: with what is done now, or does best alone where nothing is; and so.
    pub added: [Seconds; 2],
}

impl Seat<'_, '_> {
    /// What may be done there: what is now, and what does the job nearly as well as the best, suits the repetitions, is as kind to the
    /// joints as what is now, and takes no longer for being done one side after the other.
    fn options(&self) -> Vec<usize> {
        let now = self.today.unwrap_or(0);
        if self.stays && self.today.is_some() {
            return vec![now];
        }
        let best = self.candidates.iter().map(|c| c.score).fold(0.0, f64::max);
        let own = &self.candidates[now];
        let may = |c: &Candidate<'_>| {
            c.score >= GOOD * best
                && c.parts.joints >= own.parts.joints - 1e-9
                && !c.movement.rig.is_resisted()
                && (own.movement.unilateral() || !c.movement.unilateral())
                && self.zone.is_none_or(|zone| c.start.misses(zone).is_none())
                && (self.today.is_none() || may_stand_for(own.movement, c.movement))
        };
        let others = (0..self.candidates.len()).filter(|i| *i != now && may(&self.candidates[*i]));
        [now].into_iter().chain(others.take(MOST)).collect()
    }
}

/// The movements of a block that do their jobs well and spare each other the changes. What is done now is changed for less changing over
/// alone: what would do a job better is for the bench. None where no other choice costs less a round than what is done now, and nothing is
/// open; where a station has no candidates, the block cannot be chosen.
pub fn chosen(kind: BlockKind, seats: &[Seat<'_, '_>], kit: &[KitItem]) -> Option<Chosen> {
    if seats.is_empty() || seats.iter().any(|seat| seat.candidates.is_empty()) {
        return None;
    }
    let block = Whole { kind, seats, kit };
    let now: Vec<usize> = seats.iter().map(|seat| seat.today.unwrap_or(0)).collect();
    let mut options: Vec<Vec<usize>> = seats.iter().map(Seat::options).collect();
    // What fills rests gives way to what is rested from.
    if kind == BlockKind::FilledRest && seats[0].today.is_some() {
        options[0] = vec![now[0]];
    }
    let clashes = block.clashes(&now);
    let (mut picks, mut worth) = (now.clone(), block.worth(&now));
    for _ in 0..ROUNDS {
        let mut best: Option<(f64, Vec<usize>)> = None;
        for (i, j) in (0..seats.len()).flat_map(|i| (i..seats.len()).map(move |j| (i, j))) {
            if i != j && seats.len() > TWO_AT_ONCE {
                continue;
            }
            for (a, b) in options[i].iter().flat_map(|a| options[j].iter().map(move |b| (*a, *b))) {
                let mut tried = picks.clone();
                (tried[i], tried[j]) = (a, b);
                let value = block.worth(&tried);
                let leads = value > best.as_ref().map_or(worth + 1e-9, |(known, _)| *known);
                if leads && block.clashes(&tried) <= clashes {
                    best = Some((value, tried));
                }
            }
        }
        let Some((value, better)) = best else { break };
        (worth, picks) = (value, better);
    }
    for (i, seat) in seats.iter().enumerate().filter(|(_, seat)| seat.today.is_some()) {
        let mut kept = picks.clone();
        kept[i] = now[i];
        let spares_nothing = block.added(&kept).value() <= block.added(&picks).value();
        if seat.today != Some(picks[i]) && spares_nothing && block.clashes(&kept) <= clashes {
            picks = kept;
        }
    }
    let added = [block.added(&now), block.added(&picks)];
    let open = seats.iter().any(|seat| seat.today.is_none());
    (open || added[1].value() < added[0].value()).then_some(Chosen { picks, added })
}

struct Whole<'s, 'c, 'a> {
    kind: BlockKind,
    seats: &'s [Seat<'c, 'a>],
    kit: &'s [KitItem],
}

impl<'c, 'a> Whole<'_, 'c, 'a> {
    fn picked(&self, picks: &[usize]) -> impl Iterator<Item = &'c Candidate<'a>> {
        self.seats.iter().zip(picks.to_vec()).map(|(seat, i)| &seat.candidates[i])
    }

    /// What the stations cost each other a round.
    fn added(&self, picks: &[usize]) -> Seconds {
        let mates: Vec<Mate<'_>> = self.picked(picks).map(|c| Mate { movement: c.movement, step: c.step() }).collect();
        let added = block_conflicts(self.kind, &mates, self.kit).into_iter().map(|c| c.added().value());
        Seconds(added.fold(0.0, |sum, s| sum + s))
    }

    fn worth(&self, picks: &[usize]) -> f64 {
        let scores: f64 = self.picked(picks).map(|c| c.score).sum();
        let going_on = self.seats.iter().zip(picks).filter(|(seat, pick)| seat.today == Some(**pick)).count();
        scores + GOES_ON * going_on as f64 - A_SECOND * self.added(picks).value()
    }

    /// Pairs of stations that the kind of block does not want beside each other; a movement that is there twice is one.
    fn clashes(&self, picks: &[usize]) -> usize {
        let movements: Vec<_> = self.picked(picks).map(|c| c.movement).collect();
        let pairs = (0..movements.len()).flat_map(|i| (i + 1..movements.len()).map(move |j| (i, j)));
        pairs
            .filter(|(i, j)| {
                let (a, b) = (movements[*i], movements[*j]);
                a.id == b.id || !fits_together(self.kind, *i == 0, a, b)
            })
            .count()
    }
}
