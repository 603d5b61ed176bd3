//! The story of a review.

use chrono::NaiveDate;

use super::{list, percent};
use crate::review::{ByShare, Fact};

/// A fact of a review in a sentence; `day` writes a day as everywhere else.
pub fn sentence(fact: &Fact, day: impl Fn(NaiveDate) -> String) -> String {
    match fact {
        Fact::Grew { by, swaps } => grew(by, *swaps),
        Fact::HeldLonger(by) => format!("Held longer or with more: {}.", list(&changes(by))),
        Fact::Fell(by) => format!("Weaker: {}.", list(&changes(by))),
        Fact::StandsStill(still) => {
            let still = still.iter().map(|(name, weeks)| format!("{} for {weeks} weeks", name.to_lowercase()));
            format!("Stands still: {}.", list(&still.collect::<Vec<_>>()))
        }
        Fact::TooLight(light) => {
            let light = light.iter().map(|(name, days)| format!("{} on the last {days} days", name.to_lowercase()));
            format!("Too light to tell, five or more left in every set: {}.", list(&light.collect::<Vec<_>>()))
        }
        Fact::TooLittle => "Nothing was logged often enough here to see a change.".to_owned(),
        Fact::AsItWas { but_held: false } => "Strength is as it was: no change is more than chance yet.".to_owned(),
        Fact::AsItWas { but_held: true } => "All else is as it was: no change is more than chance yet.".to_owned(),
        Fact::GotNothing(regions) => {
            let regions = regions.iter().map(|(region, last)| match last {
                Some(week) => format!("{region} since the week of {}", day(*week)),
                None => region.label().to_owned(),
            });
            format!("Got nothing: {}.", list(&regions.collect::<Vec<_>>()))
        }
        Fact::Hurt(last) => format!("It hurt ({}, {} of 10), last {}.", last.place(), last.pain, day(last.on)),
    }
}

/// `row by 9 %`, without the way.
fn changes(by: &[ByShare]) -> Vec<String> {
    by.iter().map(|(name, share)| format!("{} by {:.0} %", name.to_lowercase(), percent(share.abs()))).collect()
}

/// `Horizontal press grew by 12 % and row by 9 %, through 2 swaps.`
fn grew(by: &[ByShare], swaps: usize) -> String {
    let mut parts = changes(by);
    if let Some((part, (name, share))) = parts.first_mut().zip(by.first()) {
        *part = format!("{name} grew by {:.0} %", percent(share.abs()));
    }
    let through = match swaps {
        0 => String::new(),
        1 => ", through a swap".to_owned(),
        n => format!(", through {n} swaps"),
    };
    format!("{}{through}.", list(&parts))
}
