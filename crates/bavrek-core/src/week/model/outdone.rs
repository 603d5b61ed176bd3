//! Choices that another one outdoes in everything: the program need not weigh them.

use super::{Model, Pick};
use crate::anatomy::Joint;
use crate::week::question::Wish;

impl Model<'_, '_> {
    /// What could stand in the place of a choice wherever it does, and the week would be worth no less: another movement that does the
    /// same job for the same regions as well, in no more time on any day, with as many sets, and for no more joints, in every room in
    /// which the first can be done. Of one job there is one a day, so it is not there yet; and since it is in the place of the first in
    /// all rooms there are no more movements than before. Of movements that are quite alike the first is needed.
    pub fn outdone_by(&self, choice: usize) -> Option<usize> {
        // Who wants variety is served by what is no better as well.
        if self.question.wish == Wish::MoreVariety {
            return None;
        }
        let movement = |of: usize| self.counted[of].movement;
        let all = || 0..self.choices.len();
        let same: Vec<usize> = all().filter(|own| movement(*own) == movement(choice)).collect();
        // What stands for one of its rooms has to be found in the others.
        all().filter(|other| movement(*other) != movement(choice) && self.outdoes(*other, choice)).find(|other| {
            same.iter().all(|own| all().any(|c| movement(c) == movement(*other) && self.outdoes(c, *own)))
        })
    }

    fn outdoes(&self, one: usize, other: usize) -> bool {
        let (a, b) = (&self.counted[one], &self.counted[other]);
        let [own, others] = [one, other].map(|i| &self.choices[i]);
        let free = own.pin.is_none() && others.pin.is_none();
        if !free || own.room != others.room || (a.job, a.side, &a.gives) != (b.job, b.side, &b.gives) {
            return false;
        }
        let holds = own.sets[0] <= others.sets[0] && own.sets[1] >= others.sets[1];
        if !holds || a.score < b.score || Joint::ALL.iter().any(|j| self.moves(one, *j) && !self.moves(other, *j)) {
            return false;
        }
        let (mut longer, mut better) = (false, a.score > b.score);
        for day in (0..self.question.days.len()).filter(|day| self.question.days[*day].room == own.room) {
            for sets in others.sets[0]..=others.sets[1] {
                let [mine, theirs] = [one, other].map(|choice| self.seconds(&Pick { day, choice, sets }));
                longer |= mine > theirs;
                better |= mine < theirs;
            }
        }
        !longer && (better || a.movement < b.movement)
    }
}
