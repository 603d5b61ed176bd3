//! Pictures that do work: pure functions from core types to SVG.
//!
//! Each module turns values into a view of finished coordinates; its template only writes them down.

pub(crate) mod code;
#[cfg(test)]
mod contact;
pub(crate) mod curves;
pub(crate) mod gauge;
pub(crate) mod glyph;
mod label;
pub(crate) mod ladder;
pub(crate) mod review;
pub(crate) mod rig;
pub(crate) mod shelf;
pub(crate) mod strip;
pub(crate) mod torso;
pub(crate) mod whole_ladder;

use std::fmt::Write;

/// A polyline through points, one decimal.
fn path(points: &[(f64, f64)]) -> String {
    points.iter().enumerate().fold(String::new(), |mut d, (i, (x, y))| {
        let _ = write!(d, "{}{x:.1} {y:.1}", if i == 0 { "M" } else { "L" });
        d
    })
}
