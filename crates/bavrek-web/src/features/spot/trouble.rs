//! What is in the way of a planned movement, and what that leaves.

use bavrek_core::anatomy::Joint;
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::LadderStep;
use bavrek_core::movement::Movement;
use bavrek_core::person::{Person, Side};
use bavrek_core::spot::{in_use, kit_without, sparing};
use bavrek_core::units::trim_number;
use bavrek_store::kit::Piece;
use bavrek_store::spot_swaps::{Broken, InTheWay};
use serde::Deserialize;
use uuid::Uuid;

use crate::error::WebError;
use crate::extract::Fields;

/// The sides on which a joint can hurt: none to tell for the neck and the back.
pub(super) fn sides(joint: Joint) -> Vec<(&'static str, &'static str)> {
    match joint {
        Joint::Neck | Joint::LowBack => vec![("", "here")],
        _ => Side::ALL.iter().map(|s| (s.id(), if *s == Side::Both { "both" } else { s.label() })).collect(),
    }
}

/// What is in the way, as the address or a form says it.
#[derive(Debug, Clone, Deserialize, Default)]
pub(super) struct Told {
    /// The piece of kit.
    #[serde(default)]
    piece: String,
    /// One weight of it.
    #[serde(default)]
    weight: String,
    /// `broken`, or anything else for taken.
    #[serde(default)]
    why: String,
    /// The joint that hurts.
    #[serde(default)]
    hurts: String,
    /// Its side, where it was told.
    #[serde(default)]
    side: String,
    /// How strong, 0 to 10, where it was told.
    #[serde(default)]
    pain: String,
}

/// What is in the way.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Trouble {
    /// A piece of the kit by its place, or one weight of it.
    Kit { index: usize, weight: Option<f64>, broken: bool },
    /// A joint, on which side, and how strong.
    Pain(Joint, Option<Side>, Option<u8>),
}

/// A piece that can be in the way.
pub(super) struct Choice {
    pub(super) piece: Uuid,
    pub(super) weight: String,
    pub(super) text: String,
}

impl Told {
    pub(super) fn of(fields: &Fields) -> Self {
        let text = |name: &str| fields.text(name).to_owned();
        Self {
            piece: text("piece"),
            weight: text("weight"),
            why: text("why"),
            hurts: text("hurts"),
            side: text("side"),
            pain: text("pain"),
        }
    }

    /// What was told, as hidden fields.
    pub(super) fn fields(&self) -> Vec<(&'static str, String)> {
        vec![
            ("piece", self.piece.clone()),
            ("weight", self.weight.clone()),
            ("why", self.why.clone()),
            ("hurts", self.hurts.clone()),
            ("side", self.side.clone()),
            ("pain", self.pain.clone()),
        ]
    }

    /// The trouble; none where nothing was said yet.
    pub(super) fn read(&self, pieces: &[Piece]) -> Result<Option<Trouble>, WebError> {
        if !self.hurts.is_empty() {
            let joint = Joint::from_id(&self.hurts).ok_or(WebError::bad("hurts", "is no joint that is asked for"))?;
            let side = match self.side.as_str() {
                "" => None,
                text => Some(Side::from_id(text).ok_or(WebError::bad("side", "is no side"))?),
            };
            let strength = match self.pain.as_str() {
                "" => None,
                text => {
                    let number = text.parse().ok().filter(|n| *n <= 10);
                    Some(number.ok_or(WebError::bad("pain", "must be 0 to 10"))?)
                }
            };
            return Ok(Some(Trouble::Pain(joint, side, strength)));
        }
        if self.piece.is_empty() {
            return Ok(None);
        }
        let index = pieces.iter().position(|p| p.id.to_string() == self.piece);
        let index = index.ok_or(WebError::bad("piece", "is not in the kit any more"))?;
        let weight = match self.weight.as_str() {
            "" => None,
            text => Some(text.parse().map_err(|_| WebError::bad("weight", "is no number"))?),
        };
        Ok(Some(Trouble::Kit { index, weight, broken: self.why == "broken" }))
    }
}

impl Trouble {
    /// Who trains with what, under these circumstances.
    pub(super) fn leaves(self, person: &Person, pieces: &[Piece]) -> (Person, Vec<KitItem>) {
        let kit: Vec<KitItem> = pieces.iter().map(|p| p.item.clone()).collect();
        match self {
            Self::Kit { index, weight, .. } => (person.clone(), kit_without(&kit, index, weight)),
            Self::Pain(joint, side, strength) => (sparing(person, joint, side, strength), kit),
        }
    }

    /// What a later swap of the day is to know.
    pub(super) fn kept(self, pieces: &[Piece]) -> InTheWay {
        match self {
            Self::Kit { index, weight, .. } => {
                InTheWay { piece: pieces.get(index).map(|p| p.id), weight, ..InTheWay::default() }
            }
            Self::Pain(joint, side, pain) => InTheWay { joint: Some(joint), side, pain, ..InTheWay::default() },
        }
    }

    /// The joint that hurts.
    pub(super) const fn joint(self) -> Option<Joint> {
        match self {
            Self::Pain(joint, ..) => Some(joint),
            Self::Kit { .. } => None,
        }
    }

    /// The piece that leaves the kit, with what is left of it.
    pub(super) fn broken(self, pieces: &[Piece]) -> Option<Broken> {
        let Self::Kit { index, weight, broken: true } = self else { return None };
        let piece = pieces.get(index)?;
        let left = kit_without(std::slice::from_ref(&piece.item), 0, weight);
        Some(Broken { piece: piece.id, left: left.into_iter().next() })
    }

    /// In words: `grey loop 22 mm is taken`.
    pub(super) fn reason(self, pieces: &[Piece]) -> String {
        match self {
            Self::Kit { index, weight, broken } => {
                let what = match (weight, pieces.get(index).map(|p| &p.item)) {
                    (Some(weight), Some(item)) if item.fixed_weights().is_some() => {
                        let unit = item.fixed_weights().map_or("", |(_, _, unit)| unit.symbol());
                        format!("{} {unit}", trim_number(weight, 2))
                    }
                    (_, item) => item.map_or_else(String::new, KitItem::text),
                };
                format!("{what} {}", if broken { "broken" } else { "taken" })
            }
            Self::Pain(joint, side, strength) => {
                let side = match side {
                    Some(Side::Both) => "both sides of the ".to_owned(),
                    Some(side) => format!("{side} "),
                    None => String::new(),
                };
                let strength = strength.map_or_else(String::new, |n| format!(", {n} of 10"));
                format!("{side}{joint} hurts{strength}")
            }
        }
    }

    pub(super) const fn advice(self) -> Option<&'static str> {
        match self {
            Self::Pain(..) => Some(
                "Sharp, radiating or joint pain ends the movement. If the next one hurts as well, stop for today and tell your trainer.",
            ),
            Self::Kit { broken: true, .. } => Some("It leaves the kit until it is put back there."),
            Self::Kit { .. } => None,
        }
    }
}

/// Who trains with what after what was in the way earlier today, and that in words: a joint that hurt is spared in every
/// slot, a piece that was taken is away for the slot in which it was.
pub(super) fn earlier(
    person: &Person,
    pieces: &[Piece],
    slot: Uuid,
    told: &[(Uuid, InTheWay)],
) -> (Person, Vec<Piece>, Vec<String>) {
    let (mut person, mut pieces, mut words) = (person.clone(), pieces.to_vec(), Vec::new());
    for (at, told) in told {
        let index = pieces.iter().position(|p| told.piece == Some(p.id));
        match (told.joint, index) {
            (Some(joint), _) => {
                words.push(Trouble::Pain(joint, told.side, told.pain).reason(&pieces));
                person = sparing(&person, joint, told.side, told.pain);
            }
            (None, Some(index)) if *at == slot => {
                words.push(Trouble::Kit { index, weight: told.weight, broken: false }.reason(&pieces));
                match kit_without(std::slice::from_ref(&pieces[index].item), 0, told.weight).pop() {
                    Some(left) => pieces[index].item = left,
                    None => drop(pieces.remove(index)),
                }
            }
            _ => {}
        }
    }
    words.dedup();
    (person, pieces, words)
}

/// What can be in the way: the weight and the pieces that the step uses, and the other pieces.
pub(super) fn choices(
    movement: &Movement,
    person: &Person,
    pieces: &[Piece],
    step: &LadderStep,
) -> (Vec<Choice>, Vec<Choice>) {
    let kit: Vec<KitItem> = pieces.iter().map(|p| p.item.clone()).collect();
    let using = in_use(movement, person, &kit, step);
    let (mut used, mut others) = (Vec::new(), Vec::new());
    for (i, piece) in pieces.iter().enumerate() {
        let whole = Choice { piece: piece.id, weight: String::new(), text: piece.item.text() };
        match (using.contains(&i), &piece.item, step.load) {
            (true, item, Some(load)) if item.fixed_weights().is_some() => {
                let weight = trim_number(load.value, 2);
                used.push(Choice { piece: piece.id, weight, text: load.short() });
                others.push(whole);
            }
            (true, ..) => used.push(whole),
            (false, ..) => others.push(whole),
        }
    }
    (used, others)
}
