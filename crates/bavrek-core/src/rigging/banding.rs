//! How a band is put to use: its free length and the strands that pull at the hand.

use crate::anatomy::vocabulary;
use crate::kit::KitItem;
use crate::mechanics::MechanicsError;
use crate::mechanics::band::{self, Rubber};
use crate::movement::Hands;
use crate::units::Metres;

/// Rubber inside the hands of a loop held at both sides, m.
const IN_HANDS: f64 = 0.10;
/// Thickness assumed for wraps, m; it changes a free length by millimetres.
const THICKNESS: f64 = 0.0045;
/// Diameter of a grip and of a bar or hook, m.
const BAR: f64 = 0.03;
/// Rubber pinned between the outer edges of the feet where the set-up does not say, m.
pub const USUAL_STANCE: f64 = 0.20;

/// Diameter of a pole round which a band is choked, m.
const POLE: f64 = 0.05;

vocabulary!(
    /// How a band is fixed at its far end.
    BandFix {
        Hung => "hung", "hung over or stood on";
        Choked => "choked", "choked, passed through itself";
        Doubled => "doubled", "doubled, folded once more";
        Shared => "shared", "one loop for both hands, though there are two";
    }
);

impl BandFix {
    /// In one word, for a step's label.
    pub const fn short(self) -> &'static str {
        match self {
            Self::Hung => "hung",
            Self::Choked => "choked",
            Self::Doubled => "doubled",
            Self::Shared => "one for both hands",
        }
    }
}

/// One physical band, or several alike, as a set-up sees it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BandInUse {
    /// Force law of a strand.
    pub rubber: Rubber,
    /// Flat length of a loop, rest length of a tube.
    pub flat: Metres,
    /// A tube with handles; otherwise a closed loop.
    pub tube: bool,
    /// How many of the same there are.
    pub count: u8,
}

/// A band fixed at one end: free length of a strand and strands in parallel at the hand.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Strands {
    /// Free length of a strand.
    pub free: Metres,
    /// Strands at one hand, or at both together where they share the load.
    pub strands: f64,
}

impl BandInUse {
    /// The band that a piece of kit is; none where it is something else or nothing is known of its force.
    pub fn of(item: &KitItem) -> Option<Self> {
        match item {
            KitItem::LoopBand(b) => {
                Some(Self { rubber: b.rubber().ok()?, flat: b.flat_length_m, tube: false, count: b.count })
            }
            KitItem::TubeBand(b) => {
                Some(Self { rubber: b.rubber().ok()?, flat: b.rest_length_m, tube: true, count: b.count })
            }
            _ => None,
        }
    }

    /// Stood on with the feet so far apart, one side for each hand, gripped `nearer` to the foot. A doubled band has
    /// twice the strands at half the length.
    pub fn stood_on(&self, hands: Hands, stance: Metres, nearer: Metres, fix: BandFix) -> Strands {
        let whole = if self.tube {
            band::tube_stood_on(self.flat, stance)
        } else {
            band::stood_on(self.flat, stance, Metres(IN_HANDS))
        };
        let single = Strands { free: whole, strands: if hands == Hands::Shared { 2.0 } else { 1.0 } };
        single.folded(fix).shortened(nearer)
    }

    /// Fixed to an anchor: a loop to itself for each hand where there are two, else one threaded through for both.
    pub fn anchored(&self, hands: Hands, nearer: Metres, fix: BandFix) -> Strands {
        let both_on_one = hands == Hands::Each && (self.count < 2 || fix == BandFix::Shared);
        let free = match (self.tube, both_on_one) {
            (true, true) => self.flat * 0.5,
            (true, false) => self.flat,
            (false, true) => (self.flat - Metres(IN_HANDS)) * 0.5,
            (false, false) if fix == BandFix::Choked => {
                band::choked(self.flat, Metres(THICKNESS), Metres(POLE), Metres(BAR))
            }
            (false, false) => self.hooked(),
        };
        Strands { free, strands: if self.tube { 1.0 } else { 2.0 } }.folded(fix).shortened(nearer)
    }

    /// From hand to hand, taken `nearer` on either side: each hand pulls against the middle of it.
    pub fn between_hands(&self, nearer: Metres) -> Strands {
        let whole = if self.tube { self.flat } else { self.flat - Metres(IN_HANDS) };
        Strands { free: whole * 0.5, strands: if self.tube { 1.0 } else { 2.0 } }.shortened(nearer)
    }

    /// Free length of a loop hung over a bar or hook.
    pub fn hooked(&self) -> Metres {
        band::hooked(self.flat, Metres(THICKNESS), Metres(BAR), Metres(BAR))
    }
}

impl Strands {
    fn folded(self, fix: BandFix) -> Self {
        match fix {
            BandFix::Doubled => Self { free: self.free * 0.5, strands: self.strands * 2.0 },
            _ => self,
        }
    }

    fn shortened(self, nearer: Metres) -> Self {
        Self { free: self.free - nearer, ..self }
    }
}

/// Why a band cannot be used here, for what gives no strands.
pub(super) fn usable(strands: Strands) -> Result<Strands, MechanicsError> {
    if strands.free.value() <= band::MIN_FREE {
        return Err(MechanicsError::TooShort(strands.free.value()));
    }
    Ok(strands)
}
