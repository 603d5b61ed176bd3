//! Reading plans in: a session or a week as people write it becomes slots with the movements that may be meant, their doses
//! and loads. What is not stated stays so; nothing is invented.

mod amounts;
mod line;
mod names;
mod plan;
mod words;

pub use amounts::{Stamp, WrittenLoad};
pub use names::{Match, Names, SURE_ENOUGH, chosen, resolve};
pub use plan::{
    LONGEST_TEXT, MOST_LINES, RawLine, Unread, WrittenPlan, WrittenSession, WrittenSlot, read_lines, read_text,
};
pub use words::same as plain_word;
