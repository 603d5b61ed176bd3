//! What of the aims a week does not meet, and what stands in the way.

use super::lay::DayPlan;
use super::model::{Model, Pick, TWO_DAYS};
use super::pool::{Lacking, Pool};
use super::question::{WeekQuestion, Wish, limit};
use crate::anatomy::{Region, vocabulary};
use crate::person::Experience;
use crate::volume::{Owed, Volume};

vocabulary!(
    /// Kind of what keeps a region from its aim.
    Binds {
        Kit => "kit", "nothing here trains it";
        Minutes => "minutes", "the minutes";
        Days => "days", "the days";
        Others => "others", "what else the movements train";
    }
);

/// What keeps a region from its aim.
#[derive(Debug, Clone, PartialEq)]
pub enum Why {
    /// No room has what trains it.
    Lacking(Lacking),
    /// No time is left.
    Full {
        /// Whether the days were to be shorter than they could be.
        shorter: bool,
        /// How much more a week would do, min.
        minutes: f64,
    },
    /// It was trained just before the week.
    TrainedBefore,
    /// Each day has as much of it as it bears.
    Borne,
    /// Each day has as many movements as the school allows.
    MostMovements(u8),
    /// What would train it gives others more than is asked, or is not worth its set-up.
    NotWorthIt,
}

/// A region that gets less than its aim asks.
#[derive(Debug, Clone, PartialEq)]
pub struct Unmet {
    /// The region.
    pub region: Region,
    /// Sets it has.
    pub sets: f64,
    /// Sets its aim asks at least.
    pub least: f64,
    /// What binds.
    pub why: Why,
}

impl Why {
    /// Its kind.
    pub const fn binds(&self) -> Binds {
        match self {
            Self::Lacking(_) => Binds::Kit,
            Self::Full { .. } => Binds::Minutes,
            Self::TrainedBefore | Self::Borne | Self::MostMovements(_) => Binds::Days,
            Self::NotWorthIt => Binds::Others,
        }
    }
}

pub(super) fn of(
    question: &WeekQuestion<'_>,
    pool: &Pool<'_>,
    picks: &[Pick],
    days: &[DayPlan<'_>],
    volume: &Volume,
) -> Vec<Unmet> {
    let experience = question.rooms.first().map_or(Experience::Novice, |r| r.person.experience);
    let mut short: Vec<Unmet> = volume
        .owed(question.aims, question.volumes, experience)
        .into_iter()
        .filter(Owed::is_short)
        .map(|owed| {
            let why = why(question, pool, picks, days, (owed.region, owed.asked[0] - owed.sets));
            Unmet { region: owed.region, sets: owed.sets, least: owed.asked[0], why }
        })
        .collect();
    short.sort_by(|a, b| (b.least - b.sets).total_cmp(&(a.least - a.sets)));
    short
}

fn why(
    question: &WeekQuestion<'_>,
    pool: &Pool<'_>,
    picks: &[Pick],
    days: &[DayPlan<'_>],
    (region, short): (Region, f64),
) -> Why {
    let gives = |i: usize| pool.choices[i].gives.iter().find(|g| g.0 == region).map_or(0.0, |g| g.2);
    let able: Vec<usize> = (0..pool.choices.len()).filter(|i| gives(*i) > 0.0).collect();
    // What nothing trains directly is not met by what assists.
    let direct = pool.choices.iter().any(|c| c.gives.iter().any(|g| g.0 == region && g.1 > 0.0));
    if let Some(lacking) = pool.lacking.get(&region).filter(|_| !direct) {
        return Why::Lacking(lacking.clone());
    }
    // The choice that covers it in the least time.
    let cheapest = able.iter().copied().min_by(|a, b| {
        let cost = |i: usize| pool.choices[i].a_set.value() / gives(i);
        cost(*a).total_cmp(&cost(*b))
    });
    let Some(cheapest) = cheapest else {
        return Why::Lacking(pool.lacking.get(&region).cloned().unwrap_or(Lacking::Nothing));
    };
    let need = |i: usize| pool.choices[i].once.value() + pool.choices[i].sets[0] as f64 * pool.choices[i].a_set.value();
    let left = |day: usize| limit(question, day) - days[day].total.value();
    let room_left = (0..days.len())
        .any(|day| able.iter().any(|i| pool.choices[*i].room == question.days[day].room && need(*i) <= left(day)));
    if !room_left {
        let choice = &pool.choices[cheapest];
        let minutes = ((short / gives(cheapest) * choice.a_set.value() + choice.once.value()) / 60.0).ceil().max(1.0);
        return Why::Full { shorter: question.wish == Wish::Shorter, minutes };
    }
    let model = Model::of(question, &pool.choices);
    let direct = |day: usize| -> f64 {
        let own = |p: &&Pick| p.day == day;
        let sets = |p: &Pick| pool.choices[p.choice].gives.iter().find(|g| g.0 == region).map_or(0.0, |g| g.1);
        picks.iter().filter(own).map(|p| sets(p) * p.sets as f64).sum()
    };
    let borne = |day: usize| {
        let beside = (0..days.len()).filter(|other| question.follows(day, *other) || question.follows(*other, day));
        let most = beside.map(|other| TWO_DAYS - direct(other)).fold(model.bearable_on(day, region), f64::min);
        direct(day) + 1.0 > most
    };
    if (0..days.len()).all(borne) {
        let lately = (0..days.len()).any(|day| question.done_around(day, region).iter().any(|sets| *sets > 0.0));
        return if lately { Why::TrainedBefore } else { Why::Borne };
    }
    let lines = |day: usize| days[day].lines().count() >= usize::from(question.school.movements[1]);
    if (0..days.len()).all(lines) {
        return Why::MostMovements(question.school.movements[1]);
    }
    Why::NotWorthIt
}
