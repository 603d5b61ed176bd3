//! What the clock says of days that were laid: what is reckoned comes right by it.

use super::{Model, Pick};
use crate::anatomy::Joint;
use crate::school::Pairing;
use crate::units::Seconds;
use crate::warm_up::{A_JOINT, cool_down, is_to_be_moved};
use crate::week::question::limit;

/// Time for joints that are moved before the work, s, until a day was read: three or so.
const JOINTS: f64 = 3.0 * A_JOINT;
/// Least and most that a movement takes of what was reckoned.
const SCALED: [f64; 2] = [0.6, 1.6];

impl Model<'_, '_> {
    /// Takes all days to be so many seconds longer.
    pub(in crate::week) fn loosen(&mut self, seconds: f64) {
        self.readings.looser = seconds;
    }

    /// How long a day with picks is reckoned to take, from the first minute to the last.
    pub fn reckoned(&self, day: usize, picks: &[Pick]) -> Seconds {
        let own: f64 = picks.iter().filter(|p| p.day == day).map(|p| self.seconds(p)).sum();
        Seconds(own - self.readings.spared[day] + self.around(day))
    }

    /// Reckons the next time as the clock read these.
    pub fn correct(&mut self, totals: &[Seconds], picks: &[Pick]) {
        if self.reads_lines() {
            self.spare(totals, picks);
            return;
        }
        for (day, over) in self.read_over(totals, picks) {
            self.readings.scale[day].iter_mut().for_each(|scale| *scale *= over);
        }
    }

    /// The same of these alone: what another week takes is not told by one that pairs well.
    pub(in crate::week) fn correct_picked(&mut self, totals: &[Seconds], picks: &[Pick]) {
        if self.reads_lines() {
            self.spare(totals, picks);
            return;
        }
        for (day, over) in self.read_over(totals, picks) {
            for pick in picks.iter().filter(|p| p.day == day) {
                self.readings.scale[day][pick.choice] *= over;
            }
        }
    }

    /// Reckons one that could be picked as the clock read it, where that is longer.
    pub(in crate::week) fn correct_open(&mut self, pick: &Pick, read: Seconds) {
        let reckoned = self.seconds(pick);
        if reckoned > 0.0 {
            self.readings.scale[pick.day][pick.choice] *= (read.value() / reckoned).clamp(1.0, SCALED[1]);
        }
    }

    /// Reckons what is not among known picks as long as it takes for days with it to come to what the clock read, where they run over
    /// their minutes. Whether there were any.
    pub fn correct_over(&mut self, totals: &[Seconds], picks: &[Pick], known: &[Pick]) -> bool {
        let mut any = false;
        for (day, total) in totals.iter().enumerate().filter(|(day, total)| total.value() > limit(self.question, *day))
        {
            let own = || picks.iter().filter(|p| p.day == day);
            let is_known = |p: &Pick| known.iter().any(|k| k.day == day && k.choice == p.choice);
            let new: Vec<Pick> =
                own().filter(|p| !is_known(p) && self.choices[p.choice].pin.is_none()).copied().collect();
            let seconds: f64 = new.iter().map(|p| self.seconds(p)).sum();
            // Joints that are moved besides are reckoned by themselves.
            let besides = |joint: &&Joint| {
                !self.readings.moved[day].contains(*joint) && own().any(|p| self.moves(p.choice, **joint))
            };
            let joints = A_JOINT * Joint::ALL.iter().filter(besides).count() as f64;
            let over = total.value() - joints - self.reckoned(day, picks).value();
            if seconds > 0.0 && over > 0.0 {
                for pick in &new {
                    self.readings.scale[day][pick.choice] *= (1.0 + over / seconds).min(SCALED[1]);
                }
                any = true;
            }
        }
        any
    }

    /// Whether what is reckoned of each movement is what the clock reads of it: where nothing is paired. What is left then is told by the
    /// day: joints that it moves, and its first movement, which has no rest before it to be set up in.
    fn reads_lines(&self) -> bool {
        self.question.school.pairing == Pairing::Alone
    }

    /// Reckons days as the clock read them with these.
    fn spare(&mut self, totals: &[Seconds], picks: &[Pick]) {
        for (day, total) in totals.iter().enumerate() {
            let own: Vec<&Pick> = picks.iter().filter(|p| p.day == day).collect();
            if own.is_empty() {
                continue;
            }
            let moved = |joint: &Joint| own.iter().any(|p| self.moves(p.choice, *joint));
            self.readings.moved[day] = Joint::ALL.iter().copied().filter(moved).collect();
            self.readings.spared[day] += self.reckoned(day, picks).value() - total.value();
        }
    }

    /// Whether a joint is moved before a choice.
    pub(super) fn moves(&self, choice: usize, joint: Joint) -> bool {
        is_to_be_moved(self.choices[choice].candidate.movement, joint)
    }

    /// Seconds of what goes before a day's movements and after them.
    pub(super) fn around(&self, day: usize) -> f64 {
        let person = self.question.rooms[self.question.days[day].room].person;
        60.0 * f64::from(person.warm_up_minutes()[0]) + JOINTS + cool_down().value()
    }

    /// What the clock read over what was reckoned, by day.
    fn read_over(&self, totals: &[Seconds], picks: &[Pick]) -> Vec<(usize, f64)> {
        let over = |(day, total): (usize, &Seconds)| {
            let reckoned: f64 = picks.iter().filter(|p| p.day == day).map(|p| self.seconds(p)).sum();
            let real = total.value() - self.around(day);
            (reckoned > 60.0 && real > 60.0).then(|| (day, (real / reckoned).clamp(SCALED[0], SCALED[1])))
        };
        totals.iter().enumerate().filter_map(over).collect()
    }
}
