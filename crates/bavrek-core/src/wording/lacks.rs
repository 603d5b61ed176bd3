//! What a room lacks for a movement.

use std::fmt::{self, Display, Formatter};

use crate::anatomy::Implement;
use crate::kit::Anchor;
use crate::ladder::{Missing, Piece, Rolling};
use crate::movement::{Hands, Support, SupportKind};
use crate::units::{Metres, trim_number};

impl Display for Missing {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::Support { any_of, dumbbells } => {
                let alternatives: Vec<_> = any_of.iter().map(support).collect();
                write!(f, "needs {}", alternatives.join(" or "))?;
                match dumbbells {
                    Some(Rolling::NotTold) => f.write_str("; whether the heads of those here are flat is not told"),
                    Some(Rolling::Round) => f.write_str("; the round ones here roll"),
                    None => Ok(()),
                }
            }
            Self::Piece(piece) => write!(f, "needs {}", self::piece(*piece)),
            Self::Load { any_of, hands } => {
                let what: Vec<_> = any_of.iter().map(|i| load(*i, *hands)).collect();
                write!(f, "needs {}", what.join(" or "))
            }
            Self::Anchor { between, here, move_to } => anchor(f, *between, here, *move_to),
            Self::WeakAnchor { holds } => write!(
                f,
                "the dumbbell that serves as an anchor holds a pull of {:.0} at most; every band here pulls harder or is slack",
                holds.two_figures()
            ),
            Self::Pull => f.write_str("no band here will do: each hangs slack or is stretched too far"),
            Self::NoLoad => f.write_str("gravity does not pull against this movement: the target is hardly loaded"),
        }
    }
}

const fn piece(piece: Piece) -> &'static str {
    match piece {
        Piece::Rings => "rings",
        Piece::RingsAtChest => "rings at chest height",
        Piece::RingsToHang => "rings to hang from",
        Piece::BarToHang => "a bar to hang from",
        Piece::BarOrRingsToHang => "a bar or rings to hang from",
        Piece::RingsOrLowBar => "rings or a bar at hip height",
        Piece::LowBar => "a bar at knee to chest height",
        Piece::DipBars => "dip bars",
        Piece::TwoAlike => "two boxes or benches of one height",
        Piece::EdgeForHands => "a box, step, bench, chair or sofa for the hands",
        Piece::EdgeForFeet => "a box, step, bench, chair or sofa for the feet",
    }
}

fn load(implement: Implement, hands: Hands) -> String {
    match (implement, hands) {
        (Implement::Dumbbell, Hands::Each) => "a pair of dumbbells".to_owned(),
        (Implement::Dumbbell, _) => "a dumbbell".to_owned(),
        (Implement::Kettlebell, Hands::Each) => "a pair of kettlebells".to_owned(),
        (Implement::Kettlebell, _) => "a kettlebell".to_owned(),
        (Implement::Barbell, _) => "a barbell".to_owned(),
        (Implement::Backpack, _) => "a backpack to load".to_owned(),
        (other, _) => format!("a {other} that works at this set-up"),
    }
}

fn anchor(f: &mut Formatter<'_>, between: [Metres; 2], here: &[Anchor], move_to: Option<Metres>) -> fmt::Result {
    let [low, high] = between.map(|height| trim_number(height.value(), 1));
    write!(f, "needs a band anchor at {low} to {high} m")?;
    if here.is_empty() {
        return Ok(());
    }
    let there: Vec<String> = here.iter().map(Anchor::where_text).collect();
    write!(f, "; the one here is {}", there.join(" and "))?;
    move_to.map_or(Ok(()), |height| write!(f, ": move it to {height}"))
}

fn support(support: &Support) -> String {
    match (support.kit, support.deg) {
        (SupportKind::Bench, Some([_, high])) if high < 0.0 => "a bench that declines".into(),
        (SupportKind::Bench, Some([low, high])) if high > 1.0 => {
            format!("a bench at {} to {}°", trim_number(low, 0), trim_number(high, 0))
        }
        (SupportKind::Bench, _) => "a flat bench".into(),
        (SupportKind::Floor, _) => "a floor".into(),
        (SupportKind::Standing | SupportKind::Kneeling | SupportKind::Parallettes | SupportKind::FlatDumbbells, _) => {
            support.kit.label().into()
        }
        (SupportKind::DoorAnchor, _) => "an anchor to hold on to".into(),
        (other, _) => format!("a {other}"),
    }
}
