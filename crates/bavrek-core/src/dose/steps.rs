//! Steps off a load in words: of sets off their line's own, of a load off what another movement is done with.

use super::MOST_STEPS;

/// How a set lies to another of its line, downwards first.
pub(super) const WAYS: [&str; 2] = ["down", "up"];

/// How the sets of a line lie to its own step, extensions aside.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) enum Steps {
    /// All on it.
    #[default]
    None,
    /// Each so much above the one before; below where negative.
    Each(i8),
    /// The last one alone.
    Last(i8),
    /// One by one.
    List(Vec<i8>),
}

impl Steps {
    /// Of a set among so many.
    pub(super) fn of(&self, set: usize, count: usize) -> i8 {
        let nth = i8::try_from(set).unwrap_or(i8::MAX);
        match self {
            Self::Each(by) => by.saturating_mul(nth),
            Self::Last(by) if set + 1 == count => *by,
            Self::List(all) => all.get(set).copied().unwrap_or(0),
            Self::None | Self::Last(_) => 0,
        }
    }

    /// The shortest that says so.
    pub(super) fn from_list(all: &[i8]) -> Self {
        let count = all.len();
        let said = |steps: &Self| (0..count).all(|i| steps.of(i, count) == all[i]);
        let by = all.last().copied().unwrap_or(0);
        [Self::None, Self::Each(1), Self::Each(-1), Self::Last(by)]
            .into_iter()
            .find(said)
            .unwrap_or_else(|| Self::List(all.to_vec()))
    }

    pub(super) fn text(&self) -> Option<String> {
        Some(match self {
            Self::None => return None,
            Self::Each(by) => format!("each {}", steps_text(*by, WAYS)),
            Self::Last(by) => format!("last {}", steps_text(*by, WAYS)),
            Self::List(all) => format!("steps {}", all.iter().map(i8::to_string).collect::<Vec<_>>().join("/")),
        })
    }
}

/// `a step up`, `2 steps down`, in whichever words the ways are told, downwards first.
pub(super) fn steps_text(by: i8, [down, up]: [&str; 2]) -> String {
    let way = if by < 0 { down } else { up };
    if by.unsigned_abs() == 1 { format!("a step {way}") } else { format!("{} steps {way}", by.unsigned_abs()) }
}

/// Reads `a step`, `2 steps`.
pub(super) fn read_count(words: &[&str]) -> Option<i8> {
    match words {
        ["a" | "one" | "1", "step"] => Some(1),
        ["two", "steps"] => Some(2),
        [n, "steps"] => n.parse::<i8>().ok().filter(|n| (1..=MOST_STEPS).contains(n)),
        _ => None,
    }
}

/// Reads `a step up`, `2 steps down`.
pub(super) fn read_steps(words: &[&str]) -> Option<i8> {
    let (way, count) = words.split_last()?;
    let count = read_count(count)?;
    match *way {
        "up" | "heavier" => Some(count),
        "down" | "lighter" => Some(-count),
        _ => None,
    }
}
