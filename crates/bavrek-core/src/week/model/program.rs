//! The choice of movements and sets as a mixed-integer program, which proves how good any choice can be.

use std::collections::{BTreeMap, BTreeSet};

use good_lp::solvers::WithInitialSolution;
use good_lp::{Expression, ProblemVariables, Solution, SolverModel, Variable, coin_cbc, constraint, variable};

use super::{BALANCED, DAYS_OF_IT, FIRST, FIRST_LINES, HALF_A_SET, Model, Pick, Proposal, WELL_DONE};
use crate::anatomy::{Pattern, Region};
use crate::week::cover::{BELOW_LEAST, BEYOND_LEAST, BEYOND_MOST, DIRECT};
use crate::week::pool::Choice;

/// Share of the best value within which the search ends, and its longest time, s, each time it is solved.
const GAP: &str = "0.01";
const LONGEST: &str = "0.45";
/// The same where many rooms took their time to look through, and how many those are: a week is there within two seconds.
const LONGEST_OF_MANY: &str = "0.25";
const MANY_ROOMS: usize = 4;

/// A choice on a day: the day's and the choice's place, whether it is picked, and its sets.
type Column = (usize, usize, Variable, Variable);

impl Model<'_, '_> {
    /// The best picks within the gap or the time, with the bound that was proven; the search starts from picks that are
    /// allowed.
    pub fn solve(&self, from: &[Pick]) -> Proposal {
        let mut vars = ProblemVariables::new();
        let mut columns: Vec<Column> = Vec::new();
        for (day, one) in self.question.days.iter().enumerate() {
            let here = |c: &Choice<'_>| c.room == one.room && c.pin.is_none_or(|pin| pin == day);
            for (i, choice) in self.choices.iter().enumerate().filter(|(_, c)| here(c)) {
                let shortest = Pick { day, choice: i, sets: choice.sets[0] };
                if choice.pin.is_some() || self.seconds(&shortest) <= self.budget(day) {
                    let sets = variable().integer().min(0.0).max(choice.sets[1] as f64);
                    columns.push((day, i, vars.add(variable().binary()), vars.add(sets)));
                }
            }
        }
        if columns.is_empty() {
            return Proposal { picks: Vec::new(), objective: self.value(&[]), bound: self.value(&[]) };
        }
        let mut objective = Expression::from(0.0);
        let (a_line, a_movement) = self.costs();
        for (_, i, used, sets) in &columns {
            objective += WELL_DONE * self.choices[*i].candidate.score * *sets;
            objective += -a_line * *used;
        }
        let mut rows = Vec::new();
        self.cover(&columns, &mut vars, &mut objective, &mut rows);
        self.often(&columns, &mut vars, &mut objective, &mut rows);
        self.limit(&columns, &mut rows);
        // Each movement of the week once, whatever the days.
        let ids: BTreeSet<&str> = columns.iter().map(|c| self.choices[c.1].candidate.movement.id.as_str()).collect();
        for id in ids {
            let known = vars.add(variable().binary());
            objective += -a_movement * known;
            let own = || columns.iter().filter(|c| self.choices[c.1].candidate.movement.id == id);
            rows.extend(own().map(|(_, _, used, _)| constraint!(*used <= known)));
            let sum: Expression = own().map(|(_, _, used, _)| *used).sum();
            rows.push(constraint!(known <= sum));
        }
        for day in 0..self.question.days.len() {
            let first = vars.add(variable().min(0.0).max(FIRST));
            let lines: Expression = columns.iter().filter(|c| c.0 == day).map(|(_, _, used, _)| *used).sum();
            rows.push(constraint!(first <= lines));
            objective += FIRST_LINES * first;
        }
        let (push, pull) = (self.side(&columns, 1), self.side(&columns, -1));
        let unbalanced = vars.add(variable().min(0.0));
        objective += -self.unbalanced * unbalanced;
        rows.push(constraint!(push.clone() - BALANCED * pull.clone() - HALF_A_SET <= unbalanced));
        rows.push(constraint!(pull - BALANCED * push - HALF_A_SET <= unbalanced));
        let mut problem = vars.maximise(objective).using(coin_cbc).with_initial_solution(columns.iter().flat_map(
            |(day, choice, used, sets)| {
                let own = from.iter().find(|p| p.day == *day && p.choice == *choice).map_or(0, |p| p.sets);
                [(*used, if own > 0 { 1.0 } else { 0.0 }), (*sets, own as f64)]
            },
        ));
        let rooms: BTreeSet<usize> = self.question.days.iter().map(|d| d.room).collect();
        let longest = if rooms.len() < MANY_ROOMS { LONGEST } else { LONGEST_OF_MANY };
        for (key, value) in [("ratioGap", GAP), ("sec", longest), ("heur", "off")] {
            problem.set_parameter(key, value);
        }
        for row in rows {
            problem.add_constraint(row);
        }
        let start = || Proposal { picks: from.to_vec(), objective: self.value(from), bound: self.everything() };
        let Ok(solved) = problem.solve() else { return start() };
        // Nothing at all is worth nothing, so the most is never below that.
        let bound = solved.model().best_possible_value().abs().min(self.everything());
        let picks: Vec<Pick> = columns
            .iter()
            .filter(|(_, _, used, _)| solved.value(*used) > 0.5)
            .map(|(day, choice, _, sets)| Pick {
                day: *day,
                choice: *choice,
                sets: solved.value(*sets).round() as usize,
            })
            .filter(|p| p.sets > 0)
            .collect();
        // Stopped before it had found any better.
        let found = self.allowed_value(&picks).filter(|value| *value > self.value(from));
        let Some(objective) = found else { return Proposal { bound, ..start() } };
        Proposal { picks, objective, bound: bound.max(objective) }
    }

    fn side(&self, columns: &[Column], which: i8) -> Expression {
        let own = |c: &&Column| self.sides[c.1] == which;
        columns.iter().filter(own).map(|(_, _, _, sets)| *sets).sum()
    }

    /// What each region gets, up to its least, up to its most and beyond.
    fn cover(
        &self,
        columns: &[Column],
        vars: &mut ProblemVariables,
        objective: &mut Expression,
        rows: &mut Vec<good_lp::Constraint>,
    ) {
        for region in Region::ALL {
            let [least, most] = self.ranges(*region);
            let w = self.question.weight(*region);
            let (mut all, mut direct) = (Expression::from(0.0), Expression::from(0.0));
            for (_, i, _, sets) in columns {
                if let Some((_, own, total)) = self.choices[*i].gives.iter().find(|g| g.0 == *region) {
                    all += *total * *sets;
                    direct += *own * *sets;
                }
            }
            let [few, within] = [0, 1].map(|_| vars.add(variable().min(0.0).max(0.5 * least)));
            let more = vars.add(variable().min(0.0).max((most - least).max(0.0)));
            let beyond = vars.add(variable().min(0.0));
            let own = vars.add(variable().min(0.0).max(0.5 * least));
            *objective += w * BELOW_LEAST[0] * few + w * BELOW_LEAST[1] * within;
            *objective += w * BEYOND_LEAST * more - w * BEYOND_MOST * beyond + w * DIRECT * own;
            rows.push(constraint!(few + within + more + beyond == all));
            rows.push(constraint!(own <= direct));
        }
    }

    /// Days on which each region is trained directly. Such a day is whole as soon as a movement is, so it needs no choice of its own.
    fn often(
        &self,
        columns: &[Column],
        vars: &mut ProblemVariables,
        objective: &mut Expression,
        rows: &mut Vec<good_lp::Constraint>,
    ) {
        let worth = |region: Region| self.a_day_of_it(region as usize);
        for region in Region::ALL.iter().filter(|r| worth(**r) > 0.0) {
            let mut trained = Expression::from(0.0);
            for day in 0..self.question.days.len() {
                let gives = |i: usize| self.choices[i].gives.iter().any(|g| g.0 == *region && g.1 > 0.0);
                let own: Vec<Variable> =
                    columns.iter().filter(|c| c.0 == day && gives(c.1)).map(|(_, _, used, _)| *used).collect();
                if !own.is_empty() {
                    let this = vars.add(variable().min(0.0).max(1.0));
                    rows.push(constraint!(this <= own.iter().sum::<Expression>()));
                    trained += this;
                }
            }
            let counted = vars.add(variable().min(0.0).max(f64::from(DAYS_OF_IT)));
            rows.push(constraint!(counted <= trained));
            *objective += worth(*region) * counted;
        }
    }

    /// Minutes, movements of a day, sets of a movement, and what a region bears on a day and on two.
    fn limit(&self, columns: &[Column], rows: &mut Vec<good_lp::Constraint>) {
        for (_, i, used, sets) in columns {
            let [fewest, most] = self.choices[*i].sets.map(|n| n as f64);
            rows.push(constraint!(*sets <= most * *used));
            rows.push(constraint!(*sets >= fewest * *used));
            if self.choices[*i].pin.is_some() {
                rows.push(constraint!(*used >= 1.0));
            }
        }
        let days = 0..self.question.days.len();
        let direct = |day: usize, region: Region| {
            let mut sum = Expression::from(0.0);
            for (_, i, _, sets) in columns.iter().filter(|c| c.0 == day) {
                if let Some((_, own, _)) = self.choices[*i].gives.iter().find(|g| g.0 == region && g.1 > 0.0) {
                    sum += *own * *sets;
                }
            }
            sum
        };
        for day in days.clone() {
            let own = || columns.iter().filter(|c| c.0 == day);
            let (mut time, mut lines) = (Expression::from(0.0), Expression::from(0.0));
            let mut jobs: BTreeMap<(Pattern, Region), Expression> = BTreeMap::new();
            for (_, i, used, sets) in own() {
                let choice = &self.choices[*i];
                time += self.scale[day] * choice.once.value() * *used + self.scale[day] * choice.a_set.value() * *sets;
                lines += *used;
                *jobs.entry(self.jobs[*i]).or_insert_with(|| Expression::from(0.0)) += *used;
            }
            rows.push(constraint!(time <= self.allowed_seconds(day)));
            rows.push(constraint!(lines <= self.allowed_lines(day) as f64));
            let pins = |job| self.pins.iter().filter(|p| p.day == day && self.jobs[p.choice] == job).count();
            rows.extend(jobs.into_iter().map(|(job, sum)| constraint!(sum <= pins(job).max(1) as f64)));
            for region in Region::ALL {
                rows.push(constraint!(direct(day, *region) <= self.borne(day, *region)));
                for other in days.clone().filter(|other| self.question.follows(day, *other)) {
                    let most = self.borne_by_two(day, other, *region);
                    rows.push(constraint!(direct(day, *region) + direct(other, *region) <= most));
                }
            }
        }
    }
}
