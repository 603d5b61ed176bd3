//! x
pub mod anatomy;
pub mod kit;
pub mod mechanics;
pub mod person;
pub mod ranges;
pub mod units;
