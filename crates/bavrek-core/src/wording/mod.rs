//! Facts in words. What is decided is a fact, told by its type; the sentence that a trainer reads of it is made here, and only where it
//! is shown.

mod absences;
mod between;
mod bridges;
mod calls;
mod conflicts;
mod exclusions;
mod fits;
mod handling;
mod lacks;
mod likely;
mod notes;
mod relations;
mod story;
mod weeks;

pub use story::sentence;

use std::fmt::Display;

/// Facts in words, in their order.
pub fn told<T: Display>(facts: &[T]) -> Vec<String> {
    facts.iter().map(ToString::to_string).collect()
}

/// `1 set`, `3 sets`.
fn counted(count: usize, one: &str) -> String {
    if count == 1 { format!("1 {one}") } else { format!("{count} {one}s") }
}

/// `12, 11 and 10`.
fn list(figures: &[String]) -> String {
    match figures {
        [] => "no".into(),
        [one] => one.clone(),
        [head @ .., last] => format!("{} and {last}", head.join(", ")),
    }
}

/// A share of a whole, percent.
fn percent(share: f64) -> f64 {
    (share * 100.0).round()
}

/// A share as a change of load: `+8 %`.
fn change(share: f64) -> String {
    format!("{:+.0} %", 100.0 * share)
}
