//! Why a movement has no step in a room.

use crate::anatomy::Implement;
use crate::kit::{Anchor, Heads};
use crate::movement::{Hands, Support};
use crate::units::{Kilograms, Metres};

/// Why a movement has no step here.
#[derive(Debug, Clone, PartialEq)]
pub enum Missing {
    /// Nothing that it can rest on.
    Support {
        /// Any of these would do.
        any_of: Vec<Support>,
        /// What speaks against the dumbbells that are here, where the hands could rest on some.
        dumbbells: Option<Rolling>,
    },
    /// A piece that its body's weight needs.
    Piece(Piece),
    /// Nothing to load it with.
    Load {
        /// Any of these would do.
        any_of: Vec<Implement>,
        /// Whether that is one, or one for each hand.
        hands: Hands,
    },
    /// No band anchor at a height that will do.
    Anchor {
        /// Lowest and highest that would.
        between: [Metres; 2],
        /// The anchors that are here.
        here: Vec<Anchor>,
        /// Where one of them would have to be, where one can be moved.
        move_to: Option<Metres>,
    },
    /// An anchor that holds less than every band here pulls.
    WeakAnchor {
        /// The hardest pull that it holds.
        holds: Kilograms,
    },
    /// Bands that are here, of which none pulls through the movement.
    Pull,
    /// No lack: the resistance does not oppose the target.
    NoLoad,
}

/// Why hands cannot rest on dumbbells.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Rolling {
    /// Nobody said whether their heads are flat.
    NotTold,
    /// They are round.
    Round,
}

impl Rolling {
    /// What speaks against dumbbells with these heads; nothing where there are none.
    pub(super) fn of(heads: &[Option<Heads>]) -> Option<Self> {
        if heads.contains(&None) {
            return Some(Self::NotTold);
        }
        heads.contains(&Some(Heads::Round)).then_some(Self::Round)
    }
}

/// What a movement of the body's own weight is done on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Piece {
    /// Rings.
    Rings,
    /// Rings that can hang at chest height.
    RingsAtChest,
    /// Rings that can hang high enough to hang from.
    RingsToHang,
    /// A bar high enough to hang from.
    BarToHang,
    /// Either.
    BarOrRingsToHang,
    /// Rings or a bar at hip height.
    RingsOrLowBar,
    /// A bar at knee to chest height.
    LowBar,
    /// Dip bars.
    DipBars,
    /// Two boxes or benches of one height.
    TwoAlike,
    /// Something to raise the hands on.
    EdgeForHands,
    /// Something to raise the feet on.
    EdgeForFeet,
}

impl Missing {
    /// Where an anchor that is there would have to be.
    pub const fn move_anchor_to(&self) -> Option<Metres> {
        if let Self::Anchor { move_to, .. } = self { *move_to } else { None }
    }
}
