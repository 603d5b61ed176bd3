//! What was done before in the same session tires the regions it worked: what comes after starts lighter.

use super::answer::{Candidate, FitAnswer};
use super::reason::Reason;
use super::start::{Basis, FEW, Miss, Start, eligible};
use crate::anatomy::Region;
use crate::movement::Movement;

/// What a set that worked a region in full takes of the load for the next movement of that region, log: the same as a set of
/// the movement itself takes in the ledger. Assumed.
const A_SET: f64 = 0.03;
/// Most that is taken, log: who is more tired than this had better change the order.
const MOST: f64 = 0.15;
/// Less than this is not worth a word, log.
const WORTH_SAYING: f64 = 0.015;

/// What was done before.
#[derive(Debug, Clone, Copy)]
pub struct Worked<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// Its sets.
    pub sets: usize,
}

/// How much lighter a movement is to be taken after others, log, with the region that is most tired of it. Of each region
/// that it trains directly counts what it shares with what was done; nothing where they share none.
pub fn tired(before: &[Worked<'_>], movement: &Movement) -> Option<(f64, Region)> {
    let whole: f64 = movement.direct.values().sum();
    if whole <= 0.0 {
        return None;
    }
    let of = |region: &Region, weight: f64| -> f64 {
        let worked = before.iter().map(|b| b.sets as f64 * b.movement.region_weight(*region).min(1.0));
        A_SET * weight * worked.sum::<f64>()
    };
    let parts: Vec<(f64, Region)> = movement.direct.iter().map(|(r, w)| (of(r, *w), *r)).collect();
    let sum: f64 = parts.iter().map(|(part, _)| part).sum::<f64>() / whole;
    let most = parts.into_iter().max_by(|a, b| a.0.total_cmp(&b.0))?;
    (sum >= WORTH_SAYING).then_some((sum.min(MOST), most.1))
}

impl Candidate<'_> {
    /// The same after others in the session: with fewer repetitions expected, and on a lighter step where it is only begun
    /// with and the zone would not be reached. Where its own sets are known they were done as tired as this, and nothing is
    /// taken twice.
    #[must_use]
    pub fn after(mut self, before: &[Worked<'_>], keep_step: bool) -> Self {
        if self.is_known_tired() {
            return self;
        }
        let Some((less, region)) = tired(before, self.movement) else { return self };
        let zone = self.prescription.zone().filter(|_| !keep_step);
        self.start = self.start_when_tired(less, zone);
        if zone.is_some() {
            self.prescription = self.prescription.loaded(self.step().load);
        }
        self.retell();
        self.reasons.push(Reason::Tired { less: 1.0 - (-less).exp(), region });
        self
    }

    /// Where it begins as tired as that, log, in the zone of repetitions that is asked of it; on its own step without one.
    pub(crate) fn start_when_tired(&self, less: f64, zone: Option<[u16; 2]>) -> Start {
        if self.is_known_tired() {
            return self.start;
        }
        let start = self.start.after(less, self.step().effective_kg.value());
        zone.map_or(start, |zone| self.lighter(start, zone))
    }

    /// Whether its own sets are what it starts by, or whoever resists decides.
    const fn is_known_tired(&self) -> bool {
        matches!(self.start.basis, Basis::ThisExercise | Basis::Resisted)
    }

    /// Down the ladder from a start as long as fewer repetitions are expected than a zone asks. A gap is not crossed as long as the
    /// zone can nearly be reached above it: being a tenth more tired is no reason for a set without end.
    fn lighter(&self, from: Start, zone: [u16; 2]) -> Start {
        let mut start = from;
        for step in eligible(&self.ladder, self.movement).into_iter().rev().filter(|i| *i < from.step) {
            let (here, lighter) = (start, start.on(step, &self.ladder));
            let nearly = here.misses(zone) != Some(Miss::TooHeavy) || lighter.is_too_light() && here.reps >= FEW;
            let gap = lighter.misses(zone) == Some(Miss::TooLight);
            if here.reps >= f64::from(zone[0]) || gap && nearly {
                break;
            }
            start = lighter;
        }
        start
    }
}

impl<'a> FitAnswer<'a> {
    /// The best that is not too heavy for a zone even on its lightest step; none where all are.
    pub fn first_that_suits(&self, zone: [u16; 2]) -> Option<&Candidate<'a>> {
        self.candidates.iter().find(|c| c.is_bearable(zone))
    }

    /// The same after others in the session.
    #[must_use]
    pub fn after(mut self, before: &[Worked<'_>]) -> Self {
        if !before.is_empty() {
            self.candidates = self.candidates.into_iter().map(|c| c.after(before, false)).collect();
        }
        self
    }
}
