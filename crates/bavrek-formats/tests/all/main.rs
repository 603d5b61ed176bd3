//! All tests of the crate as one program: linking one takes a fraction of linking one a file.

mod archive;
mod asked;
mod calendar;
mod client_table;
mod clock;
mod contract;
mod log_table;
mod paper;
mod plans;
mod tables;
mod week;
