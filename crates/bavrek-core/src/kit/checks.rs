//! Checks that several kinds of kit share.

use crate::ranges::{self, RangeError};

/// How many dumbbells, boxes or band readings one item may list; beyond it a typing error is likelier than a gym.
pub const MOST_ENTRIES: usize = 60;
/// How many pieces a place may hold; a hall of machines has fewer.
pub const MOST_PIECES: usize = 200;

pub(super) fn few(path: &str, count: usize) -> Result<(), RangeError> {
    if count == 0 {
        return Err(RangeError::new(path, "needs at least one value"));
    }
    if count > MOST_ENTRIES {
        return Err(RangeError::new(path, format!("lists {count} values; {MOST_ENTRIES} are the most")));
    }
    Ok(())
}

pub(super) fn each(path: &str, values: &[f64], range: ranges::LegalRange) -> Result<(), RangeError> {
    values.iter().enumerate().try_for_each(|(i, v)| range.check(&format!("{path}[{i}]"), *v).map(drop))
}
