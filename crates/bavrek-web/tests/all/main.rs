//! All tests of the crate as one program: linking one takes a fraction of linking one a file.

mod accounts;
mod board;
mod calls;
mod catalogue;
mod choosing;
mod common;
mod copying;
mod health_and_limits;
mod intents;
mod links;
mod logbook;
mod pages;
mod pain;
mod phone;
mod places;
mod plan;
mod queries;
mod reading;
mod round_the_sets;
mod routes;
mod schools;
mod taking_in;
mod templates;
mod train;
mod walls;
mod week;
