//! What would help a week most: ten minutes more on a day, another day, a cheap thing for a room.

use super::model::{Model, Pick};
use super::pool;
use super::question::{Day, MOST_DAYS, WeekQuestion};
use super::search::{self, Greed};
use crate::anatomy::Region;
use crate::fit::Room;
use crate::kit::offer::CheapItem;
use crate::kit::{KitItem, Setting};
use crate::movement::Catalogue;
use crate::ranges::{RangeError, SESSION_MINUTES};

/// Minutes that are tried on each day.
pub const MORE_MINUTES: u16 = 10;
/// Owed sets below which a thing is no help worth naming. Assumed.
const WORTH: f64 = 0.75;

/// Something that would help.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Help<'k> {
    /// [`MORE_MINUTES`] more on a day, by its place.
    Minutes(usize),
    /// Another day like the longest, 1 Monday.
    Day(u8),
    /// A cheap thing in a room, by its place.
    Thing(&'k CheapItem, usize),
}

/// How many of the sets that the aims ask at least picks cover, all regions alike.
fn covered(question: &WeekQuestion<'_>, model: &Model<'_, '_>, picks: &[Pick]) -> f64 {
    let mut sets = [0.0; Region::ALL.len()];
    for pick in picks {
        for (region, _, total) in &model.choices()[pick.choice].gives {
            sets[*region as usize] += total * pick.sets as f64;
        }
    }
    Region::ALL.iter().map(|r| sets[*r as usize].min(question.ranges(*r)[0])).sum()
}

/// Value of a good week of a question and the owed sets it covers, by the search alone.
fn good(question: &WeekQuestion<'_>, pool: &pool::Pool<'_>) -> (f64, f64) {
    let model = Model::of(question, &pool.choices);
    let best = [Greed::Gain, Greed::PerSecond]
        .map(|greed| search::improve(question, &model, model.pins(), greed))
        .into_iter()
        .max_by(|a, b| model.value(a).total_cmp(&model.value(b)))
        .unwrap_or_default();
    (model.value(&best), covered(question, &model, &best))
}

/// What would help, with how many more of the sets that are owed a good week then covers, the most first; without what is worth
/// less than a set. Each is tried alone, by the search without the proof, so the figures are of weeks that could be had and not the
/// most there is.
pub fn helps<'k>(
    catalogue: &Catalogue,
    question: &WeekQuestion<'_>,
    (things, settings): (&'k [CheapItem], &[Option<Setting>]),
) -> Result<Vec<(Help<'k>, f64)>, RangeError> {
    question.validate()?;
    let pool = pool::gather(catalogue, question)?;
    let (value, owed) = good(question, &pool);
    let mut found = Vec::new();
    let mut note = |help: Help<'k>, (then, sets): (f64, f64)| {
        if then > value && sets - owed >= WORTH {
            found.push((help, sets - owed));
        }
    };
    for day in 0..question.days.len() {
        let mut days = question.days.to_vec();
        days[day].minutes += MORE_MINUTES;
        if f64::from(days[day].minutes) <= SESSION_MINUTES.max {
            note(Help::Minutes(day), good(&WeekQuestion { days: &days, ..*question }, &pool));
        }
    }
    if let Some(more) = another_day(question) {
        let days: Vec<Day> = question.days.iter().copied().chain([more]).collect();
        let asked = WeekQuestion { days: &days, ..*question };
        note(Help::Day(more.weekday.unwrap_or(1)), good(&asked, &pool));
    }
    let used = (0..question.rooms.len()).filter(|room| question.days.iter().any(|d| d.room == *room));
    for room in used {
        let setting = settings.get(room).copied().flatten();
        for thing in things.iter().filter(|thing| thing.suits(setting, question.rooms[room].kit)) {
            let kit: Vec<KitItem> = question.rooms[room].kit.iter().cloned().chain(thing.kit.iter().cloned()).collect();
            let mut rooms = question.rooms.to_vec();
            rooms[room] = Room { kit: &kit, ..rooms[room] };
            let asked = WeekQuestion { rooms: &rooms, ..*question };
            // What is pinned can be done with more kit as well.
            if let Ok(pool) = pool::gather(catalogue, &asked) {
                note(Help::Thing(thing, room), good(&asked, &pool));
            }
        }
    }
    found.sort_by(|a, b| b.1.total_cmp(&a.1));
    Ok(found)
}

/// One more day where there is room for one: like the longest, on the free weekday that lies furthest from the others.
fn another_day(question: &WeekQuestion<'_>) -> Option<Day> {
    let longest = *question.days.iter().max_by_key(|d| d.minutes)?;
    let taken: Vec<i32> = question.days.iter().filter_map(|d| d.weekday.map(i32::from)).collect();
    if question.days.len() >= MOST_DAYS || taken.len() < question.days.len() {
        return None;
    }
    let apart =
        |day: i32| taken.iter().map(|t| (day - t).rem_euclid(7).min((t - day).rem_euclid(7))).min().unwrap_or(7);
    let free = (1..=7).filter(|day| !taken.contains(day));
    let weekday = free.max_by_key(|day| (apart(*day), -day))?;
    Some(Day { weekday: u8::try_from(weekday).ok(), ..longest })
}
