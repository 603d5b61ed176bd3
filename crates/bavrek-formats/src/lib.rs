//! Documents in and out: the JSON contract of the computing commands, written plans, templates, methods.

pub mod archive;
pub mod calendar;
pub mod client_table;
pub mod compute;
mod error;
pub mod log_table;
pub mod methods;
pub mod paper;
pub mod tables;
pub mod templates;
pub mod written;

pub use error::RequestError;
