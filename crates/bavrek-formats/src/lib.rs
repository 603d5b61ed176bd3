//! Documents in and out: the JSON contract of the computing commands.

pub mod compute;
mod error;
pub mod written;

pub use error::RequestError;
