//! A movement before it is judged, and what it is judged against.

use super::start::Start;
use crate::anatomy::LengthEmphasis;
use crate::ladder::Ladder;
use crate::mechanics::profile::emphasis;
use crate::method::Method;
use crate::movement::{Movement, Style};
use crate::person::Person;
use crate::plan::Intent;
use crate::reference::Reference;

/// What candidates are held against.
#[derive(Debug, Clone)]
pub(super) struct Yardstick {
    /// Shares of work in thirds that are wanted; `None` where the intent does not say.
    pub(super) thirds: Option<[f64; 3]>,
    /// Stretch tag wanted, where a reference movement sets one.
    pub(super) tag: Option<i8>,
    /// How its sets go.
    pub(super) style: Style,
    /// What steps count that only long sets use.
    pub(super) long_sets: f64,
}

impl Yardstick {
    pub(super) fn of(intent: &Intent, reference: Option<&Reference>, method: Option<Method>) -> Self {
        let stated = intent.length_emphasis.map(|emphasis| match emphasis {
            LengthEmphasis::Lengthened => [0.45, 0.38, 0.17],
            LengthEmphasis::Middle => [0.22, 0.56, 0.22],
            LengthEmphasis::Shortened => [0.17, 0.38, 0.45],
        });
        // The reference's own curve says more than the word for it, unless something else is asked for than what it is.
        let own = |r: &&Reference| intent.length_emphasis.is_none() || intent.length_emphasis == emphasis(&r.thirds);
        Self {
            thirds: reference.filter(own).map(|r| r.thirds).or(stated),
            tag: reference.and_then(|r| r.tag),
            style: reference.map_or(Style::Reps, |r| r.style),
            long_sets: method.unwrap_or(Method::ReserveBased).long_sets(),
        }
    }
}

/// One movement with where it would start, before it is judged.
#[derive(Clone, Copy)]
pub(super) struct Case<'c> {
    pub(super) movement: &'c Movement,
    pub(super) person: &'c Person,
    pub(super) intent: &'c Intent,
    pub(super) yardstick: &'c Yardstick,
    pub(super) ladder: &'c Ladder,
    pub(super) start: &'c Start,
}
