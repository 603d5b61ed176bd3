//! Bands as steps and logs speak of them: by the piece that they are, whatever it is called by now, and by a name.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::KitItem;
use super::piece::PieceState;

/// A band that something was set up with.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema), schemars(with = "Written"))]
#[serde(from = "Written", into = "Written")]
pub struct NamedBand {
    /// What it was called then. Within a kit no other kind of band has the name.
    pub name: String,
    /// The piece of kit as it was then; none where no record of pieces is kept.
    pub piece: Option<PieceState>,
}

/// A band as it is written: by its name alone where its piece is not known.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(untagged)]
enum Written {
    /// By its name.
    Name(String),
    /// By its name and its piece.
    Piece(WithPiece),
}

/// A band with the piece of kit that it is.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
struct WithPiece {
    /// What it was called.
    name: String,
    /// The piece of kit.
    piece: Uuid,
    /// Its state then.
    state: Uuid,
}

impl From<Written> for NamedBand {
    fn from(written: Written) -> Self {
        match written {
            Written::Name(name) => Self { name, piece: None },
            Written::Piece(WithPiece { name, piece, state }) => Self { name, piece: Some(PieceState { piece, state }) },
        }
    }
}

impl From<NamedBand> for Written {
    fn from(band: NamedBand) -> Self {
        match band {
            NamedBand { name, piece: Some(PieceState { piece, state }) } => {
                Self::Piece(WithPiece { name, piece, state })
            }
            NamedBand { name, piece: None } => Self::Name(name),
        }
    }
}

impl NamedBand {
    /// A band of which no more than the name is known.
    pub fn called(name: impl Into<String>) -> Self {
        Self { name: name.into(), piece: None }
    }

    /// Whether another is the same band: the same piece, or the same name where the piece of one is not known.
    pub fn is(&self, other: &Self) -> bool {
        match (self.piece, other.piece) {
            (Some(own), Some(others)) => own.piece == others.piece,
            _ => self.name == other.name,
        }
    }

    /// The band in a kit: the piece itself, or what has its name where the piece is not there.
    pub fn in_kit<'k>(&self, kit: &'k [KitItem]) -> Option<&'k KitItem> {
        let bands = || kit.iter().filter(|item| item.is_band());
        let is = |own: PieceState, item: &KitItem| item.piece().is_some_and(|other| other.piece == own.piece);
        let own = self.piece.and_then(|own| bands().find(|item| is(own, item)));
        own.or_else(|| bands().find(|item| item.name() == self.name))
    }
}

/// Whether two lists name the same bands, in their order.
pub fn same_bands(one: &[NamedBand], other: &[NamedBand]) -> bool {
    one.len() == other.len() && one.iter().zip(other).all(|(a, b)| a.is(b))
}

impl KitItem {
    /// The piece of kit that a band is, as it is now, where a record of pieces is kept.
    pub const fn piece(&self) -> Option<PieceState> {
        match self {
            Self::LoopBand(b) => b.piece,
            Self::TubeBand(b) => b.piece,
            _ => None,
        }
    }

    /// The same, told to be such a piece where it is a band.
    #[must_use]
    pub fn as_piece(mut self, piece: Option<PieceState>) -> Self {
        match &mut self {
            Self::LoopBand(b) => b.piece = piece,
            Self::TubeBand(b) => b.piece = piece,
            _ => {}
        }
        self
    }

    /// The band as a step speaks of it.
    pub fn named(&self) -> NamedBand {
        NamedBand { name: self.name(), piece: self.piece() }
    }
}
