//! All tests of the crate as one program: linking one takes a fraction of linking one a file.

mod common;
mod latest_sets;
mod logs;
mod migrating;
mod moving;
mod pains;
mod people;
mod released;
mod roster;
mod slots;
mod store;
mod taking_in;
mod tenancy;
mod tries;
