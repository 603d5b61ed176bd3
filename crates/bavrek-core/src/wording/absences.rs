//! What of a step is not in a room.

use std::fmt::{self, Display, Formatter};

use crate::anatomy::Surface;
use crate::dose::StampedLoad;
use crate::kit::Anchor;
use crate::ladder::{Absent, HeldAs, Lack};
use crate::units::{Metres, trim_number};

impl Display for Absent {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        // What nobody can hold is no matter of the room.
        let room = if matches!(self.lack, Lack::CannotBeHeld(_)) { "" } else { "not in this room: " };
        write!(f, "{room}{}", self.lack)
    }
}

impl Display for Lack {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::PackCarries(most) => write!(f, "the backpack here carries up to {most}"),
            Self::Pack => f.write_str("there is no backpack to load"),
            Self::CannotBeHeld(most) => write!(f, "more than {} kg cannot be held this way", trim_number(*most, 1)),
            Self::Weight { wanted, held, here } => {
                let what = match held {
                    HeldAs::Bar => "bar",
                    HeldAs::Pair => "pair",
                    HeldAs::One => "dumbbell",
                };
                let value = trim_number(wanted.value, 2);
                write!(f, "no {what} of {value} {}; {}", wanted.unit.symbol(), weights(here))
            }
            Self::Band(name) => write!(f, "there is no {name}"),
            Self::SecondBand(name) => write!(f, "there is one {name}, and this takes two"),
            Self::Anchor { here, .. } if here.is_empty() => f.write_str("there is no anchor for a band"),
            Self::Anchor { wanted, here } => {
                let here: Vec<_> = here.iter().map(Anchor::where_text).collect();
                write!(f, "no anchor at {wanted}; there is one {}", here.join(" and "))
            }
            Self::AnchorHolds => {
                f.write_str("the dumbbell that serves as an anchor does not hold a pull as hard as this")
            }
            Self::BenchAngle(_, here) if here.is_empty() => f.write_str("there is no bench"),
            Self::BenchAngle(wanted, here) => {
                let here: Vec<_> = here.iter().map(|deg| format!("{}°", trim_number(*deg, 0))).collect();
                write!(f, "no bench at {}°; there is {}", trim_number(*wanted, 0), here.join(", "))
            }
            Self::Surface(Surface::Rings) => f.write_str("there are no rings"),
            Self::Surface(Surface::Parallettes) => f.write_str("there are no push-up handles"),
            Self::Surface(Surface::Dumbbells) => f.write_str("there are no dumbbells with flat heads"),
            Self::Surface(other) => write!(f, "there is no {}", other.id().replace('_', " ")),
            Self::Rings { highest, wanted } => {
                write!(f, "the rings hang at {highest} at most; this takes {wanted}")
            }
            Self::Handle(here) => write!(f, "nothing to hold at this height; {}", heights(here)),
            Self::Height(wanted, here) => write!(f, "nothing of {wanted}; {}", heights(here)),
            Self::Missing(missing) => missing.fmt(f),
        }
    }
}

fn heights(here: &[Metres]) -> String {
    if here.is_empty() {
        return "nothing here is high enough to rest on".into();
    }
    let list: Vec<_> = here.iter().map(ToString::to_string).collect();
    format!("there is {}", list.join(", "))
}

/// The weights of a shelf in a few words.
fn weights(here: &[StampedLoad]) -> String {
    /// So many are named one by one.
    const NAMED: usize = 8;
    let text = |w: &StampedLoad| trim_number(w.value, 2);
    let (Some(first), Some(last)) = (here.first(), here.last()) else { return "there is none at all".into() };
    if here.len() > NAMED {
        return format!("there are {} from {} to {} {}", here.len(), text(first), text(last), last.unit.symbol());
    }
    let list: Vec<_> = here.iter().map(text).collect();
    format!("there is {} {}", list.join(", "), first.unit.symbol())
}
