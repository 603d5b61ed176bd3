//! Cautions: which of them apply to a movement with this kit.

use serde::{Deserialize, Serialize};

use crate::anatomy::{Implement, Surface};
use crate::kit::KitItem;
use crate::ladder::LadderStep;
use crate::movement::{Catalogue, Movement, RigModel, SupportKind};

/// A caution in plain words.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Caution {
    /// Its code.
    pub code: String,
    /// Its text.
    pub text: String,
}

/// Highest support for the feet with which push-ups were measured, m (Ebben and others 2011: 24 inches).
const HIGHEST_MEASURED_FEET: f64 = 0.61;

/// The caution of the anchor that is used at a height: of several the one that needs the most care.
fn anchor_caution(kit: &[KitItem], height: f64) -> &'static str {
    let anchors = kit.iter().filter_map(|k| if let KitItem::Anchor(a) = k { Some(a) } else { None });
    let there: Vec<_> = anchors.filter(|a| a.reaches(height)).collect();
    if there.iter().any(|a| a.on.is_some()) {
        "improvised_anchor"
    } else if there.iter().any(|a| a.is_in_door()) {
        "door_anchor"
    } else {
        "anchor_fixed"
    }
}

/// The movement's own cautions and those of what loads, anchors and supports it, each once.
pub fn cautions(catalogue: &Catalogue, movement: &Movement, step: &LadderStep, kit: &[KitItem]) -> Vec<Caution> {
    let mut codes: Vec<&str> = movement.cautions.iter().map(String::as_str).collect();
    if !step.bands.is_empty() {
        codes.push("band_check");
    }
    if let Some(height) = step.setup.anchor_height_m {
        codes.push(anchor_caution(kit, height.value()));
    }
    if step.implements.iter().any(|i| matches!(i, Implement::Dumbbell | Implement::Kettlebell)) {
        codes.push("dumbbell_hands");
    }
    if step.implements.contains(&Implement::Barbell) {
        codes.push("bar_collars");
    }
    if step.implements.contains(&Implement::Rings) {
        codes.push("rings_check");
    }
    if step.implements.contains(&Implement::Bar) {
        codes.push("bar_check");
    }
    if matches!(step.setup.surface, Some(Surface::Chair | Surface::Sofa | Surface::Box | Surface::Table)) {
        codes.push("furniture");
    }
    if matches!(movement.rig, RigModel::PushUp { .. } | RigModel::Pike { .. }) {
        match step.setup.surface {
            Some(Surface::Rings) => {}
            Some(Surface::Parallettes | Surface::Dumbbells) => codes.push("handles"),
            _ => codes.push("wrists"),
        }
    }
    if let Some(feet) = step.setup.feet_height_m {
        codes.push("furniture");
        if feet.value() > HIGHEST_MEASURED_FEET {
            codes.push("feet_high");
        }
    }
    if movement.needs.iter().flatten().any(|s| s.kit == SupportKind::Wedge) {
        codes.push("wedge_check");
    }
    let mut seen = Vec::new();
    codes.retain(|code| {
        !seen.contains(code) && {
            seen.push(code);
            true
        }
    });
    codes
        .into_iter()
        .filter_map(|code| Some(Caution { code: code.to_owned(), text: catalogue.cautions.get(code)?.clone() }))
        .collect()
}
