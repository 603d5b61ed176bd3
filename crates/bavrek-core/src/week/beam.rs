//! The best of one day, the others being as they are: its beginnings are kept side by side, the most promising of each length, and each
//! goes on by every movement that is open to it. Where single moves lead nowhere another day as a whole often does.

use std::collections::BTreeSet;

use super::found::Found;
use super::model::{Model, Pick};
use super::question::{WeekQuestion, limit};
use super::search::Kicks;
use super::timing::{Reading, Timing};

/// Beginnings that are kept of each length. With forty of them a day takes four times as long and is hardly ever better.
const WIDTH: usize = 12;
/// What is reckoned of a day may be so many seconds more than the clock reads: a joint less to move.
const SLACK: f64 = 40.0;
/// How much a week may be looked for from starts that lines were torn out of, in ways on that are weighed: a quarter of a second.
const WORK: usize = 2_000_000;
/// What a day costs in that measure besides, and what a line of a week does of which it is asked whether it is allowed.
const A_DAY: usize = 300;
const A_LINE: usize = 4;

/// A beginning of a day.
#[derive(Debug)]
struct Begun {
    /// What is picked of the day, in order of places.
    own: Vec<Pick>,
    /// What the week is worth with it.
    value: f64,
}

/// A way on.
#[derive(Debug)]
struct Onward {
    /// What it is worth with the time that it leaves.
    promise: f64,
    value: f64,
    /// The place of the beginning that it goes on from.
    from: usize,
    pick: Pick,
}

/// A search day by day.
pub(super) struct Beam<'b, 'q, 'a> {
    question: &'b WeekQuestion<'b>,
    model: &'b Model<'b, 'b>,
    timing: &'b mut Timing<'q, 'a>,
    work: usize,
}

impl<'b, 'q, 'a> Beam<'b, 'q, 'a> {
    pub(super) fn of(question: &'b WeekQuestion<'b>, model: &'b Model<'b, 'b>, timing: &'b mut Timing<'q, 'a>) -> Self {
        Self { question, model, timing, work: 0 }
    }

    /// A week of which no day can be bettered, from one and a day to begin with.
    pub(super) fn swept(&mut self, mut found: Found, first: usize) -> Found {
        let days = self.question.days.len();
        let (mut day, mut idle) = (first % days, 0);
        while idle < days {
            match self.day(&found, day) {
                Some(better) => (found, idle) = (better, 1),
                None => idle += 1,
            }
            day = (day + 1) % days;
        }
        found
    }

    /// The best of such weeks from starts with some lines torn out.
    pub(super) fn shaken(&mut self, mut found: Found) -> Found {
        let mut draw = Kicks::new();
        let mut kick = 0;
        while self.work < WORK {
            let picks = draw.torn(self.question, self.model, &found.picks);
            let start = Found { objective: self.model.value(&picks), days: self.timing.week(&picks), picks };
            // Also where nothing can be weighed this comes to an end.
            self.work += A_DAY * start.days.len();
            let other = self.swept(start, kick);
            if self.stands(&other, &found) {
                found = found.or(other);
            }
            kick += 1;
        }
        found
    }

    /// Whether every day of a week keeps to its minutes, or to those of one that is known: what is pinned may run over.
    fn stands(&self, found: &Found, known: &Found) -> bool {
        found.days.iter().zip(&known.days).enumerate().all(|(day, (own, known))| {
            let most = limit(self.question, day).max(known.total.value());
            own.too_tired.is_none() && own.total.value() <= most
        })
    }

    /// The week with a better day in the place of one, where there is any.
    fn day(&mut self, found: &Found, day: usize) -> Option<Found> {
        let free = |p: &&Pick| p.day == day && self.model.choices()[p.choice].pin.is_none();
        let others: Vec<Pick> = found.picks.iter().filter(|p| !free(p)).copied().collect();
        let price = self.price(found, found.picks.iter().filter(free));
        let mut level = vec![Begun { own: Vec::new(), value: self.model.value(&others) }];
        let mut best: Option<(f64, Vec<Pick>, Reading)> = None;
        self.work += A_DAY;
        while !level.is_empty() {
            let onward = self.onward(day, &others, &level, price);
            let mut seen: BTreeSet<Vec<Pick>> = BTreeSet::new();
            let mut next = Vec::new();
            for Onward { value, from, pick, .. } in onward {
                let mut own = level[from].own.clone();
                own.push(pick);
                own.sort_unstable();
                if !seen.insert(own.clone()) {
                    continue;
                }
                let picks: Vec<Pick> = others.iter().chain(&own).copied().collect();
                let Some(read) = self.read(day, &picks) else { continue };
                if value > best.as_ref().map_or(found.objective + 1e-9, |b| b.0) {
                    best = Some((value, picks, read));
                }
                next.push(Begun { own, value });
                if next.len() == WIDTH {
                    break;
                }
            }
            level = next;
        }
        let (_, picks, read) = best?;
        let mut days = found.days.clone();
        days[day] = read;
        Some(Found { objective: self.model.value(&picks), picks, days })
    }

    /// What a second of a day is worth: what the line that is worth least for its time adds to the week.
    fn price<'p>(&self, found: &Found, own: impl Iterator<Item = &'p Pick>) -> f64 {
        let mut tally = self.model.tally(&found.picks);
        let least = own
            .map(|pick| {
                self.model.exchange(&mut tally, Some(pick), None);
                let lost = found.objective - self.model.worth(&tally);
                self.model.exchange(&mut tally, None, Some(pick));
                lost / self.model.seconds(pick).max(1.0)
            })
            .reduce(f64::min);
        least.map_or(0.0, |least| least.max(0.0))
    }

    /// All ways on from the beginnings of a day, the most promising first.
    fn onward(&mut self, day: usize, others: &[Pick], level: &[Begun], price: f64) -> Vec<Onward> {
        let (model, mut onward) = (self.model, Vec::new());
        let mut tally = model.tally(others);
        let room = model.left(others)[day] + SLACK;
        for (from, begun) in level.iter().enumerate() {
            for pick in &begun.own {
                model.exchange(&mut tally, None, Some(pick));
            }
            let left = room - begun.own.iter().map(|p| model.seconds(p)).sum::<f64>();
            let open = model.open_on(day).iter().filter(|choice| begun.own.iter().all(|p| p.choice != **choice));
            for choice in open.copied() {
                let [fewest, most] = model.choices()[choice].sets;
                for pick in (fewest..=most).map(|sets| Pick { day, choice, sets }) {
                    let (gain, seconds) = model.gain(&tally, &pick);
                    if seconds > left {
                        break;
                    }
                    let value = begun.value + gain;
                    onward.push(Onward { promise: value + price * (left - seconds), value, from, pick });
                }
            }
            for pick in &begun.own {
                model.exchange(&mut tally, Some(pick), None);
            }
        }
        self.work += onward.len();
        onward.sort_by(|a, b| b.promise.total_cmp(&a.promise));
        onward
    }

    /// What the clock says of a day where the week is allowed with it.
    fn read(&mut self, day: usize, picks: &[Pick]) -> Option<Reading> {
        self.work += A_LINE * picks.len();
        if !self.model.allows_but_time(picks) {
            return None;
        }
        self.work += self.timing.cost();
        let read = self.timing.day(day, picks);
        (read.too_tired.is_none() && read.total.value() <= limit(self.question, day)).then_some(read)
    }
}
