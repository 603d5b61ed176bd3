//! Which kinds of kit a movement needs, whatever its name says: hidden kit is what a plan from elsewhere forgets.

use crate::anatomy::Implement;
use crate::kit::KitItem;
use crate::movement::{
    DipOn, ExtensionOn, Mount, Movement, PikeFeet, PushUpHands, RaisedFeet, RigModel, Support, SupportKind, TrunkWork,
};

/// One thing that is needed: the kinds of kit of which any one will do, the usual one first.
pub type Need = Vec<&'static str>;

const EDGES: &[&str] = &["bench", "box", "chair", "sofa", "step", "table"];
const HANGING: &[&str] = &["pull_up_bar", "rings"];

/// What a support is in a room; nothing for the floor and room to stand.
const fn kinds(support: SupportKind) -> &'static [&'static str] {
    match support {
        SupportKind::Floor | SupportKind::Standing | SupportKind::Kneeling => &[],
        SupportKind::AnotherEdge => EDGES,
        SupportKind::Bench => &["bench"],
        SupportKind::Chair => &["chair"],
        SupportKind::Box => &["box"],
        SupportKind::Sofa => &["sofa"],
        SupportKind::Parallettes => &["parallettes"],
        SupportKind::FlatDumbbells => &["dumbbells"],
        SupportKind::Wedge => &["wedge"],
        SupportKind::Table | SupportKind::LowTable => &["table"],
        SupportKind::Helper => &["helper"],
        SupportKind::Towel => &["towel"],
        SupportKind::Wheel => &["ab_wheel"],
        SupportKind::Bar => &["pull_up_bar"],
        SupportKind::DoorAnchor => &["anchor"],
        SupportKind::Rack => &["rack"],
    }
}

/// All that a movement needs, each by its alternatives. Room to lie, stand or kneel is taken as there.
pub fn needs(movement: &Movement) -> Vec<Need> {
    let mut found: Vec<Need> = Vec::new();
    found.extend(carried(movement));
    found.extend(hung(movement));
    let everywhere = |group: &&Vec<Support>| group.iter().all(|s| !kinds(s.kit).is_empty());
    for group in movement.needs.iter().filter(everywhere) {
        found.push(group.iter().flat_map(|s| kinds(s.kit)).copied().collect());
    }
    for need in &mut found {
        let mut seen = Vec::new();
        need.retain(|kind| {
            !seen.contains(kind) && {
                seen.push(kind);
                true
            }
        });
    }
    found.dedup();
    found
}

/// What gives the load.
fn carried(movement: &Movement) -> Option<Need> {
    if movement.rig.is_lever() {
        return None;
    }
    let kinds = movement.implements.iter().flat_map(|implement| match implement {
        Implement::Dumbbell => &["dumbbells", "adjustable_dumbbell", "plate_dumbbell"][..],
        Implement::Kettlebell => &["kettlebells"],
        Implement::Barbell => &["barbell"],
        Implement::LoopBand => &["loop_band"],
        Implement::TubeBand => &["tube_band"],
        Implement::Backpack => &["backpack"],
        Implement::Towel => &["towel"],
        Implement::Rings | Implement::Bar | Implement::Bodyweight => &[],
    });
    Some(kinds.copied().collect()).filter(|k: &Need| !k.is_empty())
}

/// What holds the body, or the band.
fn hung(movement: &Movement) -> Option<Need> {
    let of = |kinds: &[&'static str]| Some(kinds.to_vec());
    let rings_alone = movement.uses(Implement::Rings) && !movement.uses(Implement::Bar);
    match movement.rig {
        RigModel::Dip { on: DipOn::Bars, .. } => of(&["dip_bars"]),
        RigModel::Dip { on: DipOn::Rings, .. }
        | RigModel::RingCurl { .. }
        | RigModel::BodyArc { .. }
        | RigModel::PushUp { hands: PushUpHands::Rings, .. }
        | RigModel::BodyExtension { on: ExtensionOn::Rings }
        | RigModel::Trunk { work: TrunkWork::RingsKnees | TrunkWork::RingsToes } => of(&["rings"]),
        RigModel::ChinUp { .. } | RigModel::InvertedRow if rings_alone => of(&["rings"]),
        RigModel::ChinUp { .. } => of(HANGING),
        RigModel::InvertedRow if movement.uses(Implement::Bar) => of(HANGING),
        RigModel::Dip { on: DipOn::Edge | DipOn::EdgeFeetRaised, .. }
        | RigModel::PushUp { hands: PushUpHands::Raised, .. }
        | RigModel::PushUp { feet: RaisedFeet::Only, .. }
        | RigModel::BodyExtension { on: ExtensionOn::Surface }
        | RigModel::Pike { feet: PikeFeet::Raised } => of(EDGES),
        RigModel::PushUp { hands: PushUpHands::Boxes, .. } => of(&["box", "chair"]),
        RigModel::BodyExtension { on: ExtensionOn::Bar } => of(&["pull_up_bar"]),
        RigModel::Trunk { work } if work.hangs() => of(HANGING),
        RigModel::SingleJoint { mount: Some(Mount::Anchor { .. }), .. }
        | RigModel::Line { mount: Some(Mount::Anchor { .. }), .. }
            if !movement.uses(Implement::Dumbbell) =>
        {
            of(&["anchor"])
        }
        _ => None,
    }
}

/// The needs of which a room has none of the kinds.
pub fn lacking(movement: &Movement, kit: &[KitItem]) -> Vec<Need> {
    let there = |need: &Need| kit.iter().any(|item| need.contains(&item.kind()));
    needs(movement).into_iter().filter(|need| !there(need)).collect()
}

/// A need in words: `dumbbells, or a loop band`.
pub fn in_words(need: &Need) -> String {
    let words = |kind: &&'static str| match *kind {
        // Fixed ones are named; adjustable ones are dumbbells as well.
        "adjustable_dumbbell" | "plate_dumbbell" => None,
        "kettlebells" => Some("kettlebells"),
        "barbell" => Some("a barbell"),
        "rack" => Some("a rack that catches the bar"),
        "dumbbells" => Some("dumbbells"),
        "loop_band" => Some("a loop band"),
        "tube_band" => Some("a tube with handles"),
        "rings" => Some("rings"),
        "pull_up_bar" => Some("a bar to hang from"),
        "dip_bars" => Some("parallel bars"),
        "bench" => Some("a bench"),
        "box" => Some("a box"),
        "chair" => Some("a chair"),
        "sofa" => Some("a sofa"),
        "step" => Some("a step"),
        "table" => Some("a table"),
        "anchor" => Some("an anchor"),
        "backpack" => Some("a backpack"),
        "ab_wheel" => Some("a wheel"),
        "parallettes" => Some("push-up handles"),
        "wedge" => Some("a wedge"),
        "towel" => Some("a towel"),
        "helper" => Some("a helper"),
        other => Some(other),
    };
    need.iter().filter_map(words).collect::<Vec<_>>().join(", or ")
}
