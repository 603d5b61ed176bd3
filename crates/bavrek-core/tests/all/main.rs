//! All tests of the crate as one program: linking one takes a fraction of linking one a file.

mod arrangement;
mod calendar;
mod clock;
mod dose;
mod holds;
mod kinds;
mod layers;
mod measures;
mod mechanics;
mod notation;
mod phone_cases;
mod postures;
mod reference;
mod script;
mod shorten;
mod strength;
mod two_joints;
mod wording;
