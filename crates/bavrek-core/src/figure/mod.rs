//! The figure: where the joints, the supports, the bands and the hand are when a movement is drawn.
//!
//! Metres, x to the right, y up, the floor at 0; seen from above, y points to the front of the body. A picture only
//! scales and inks what stands here, and the tests hold it against the load model: the ribbon runs along the hand's
//! path, bands run from where they are fixed to the hand, and nobody floats.

mod across;
mod front;
mod hung;
mod leaning;
mod lying;
mod planks;
mod pressing;
mod props;
mod pulling;
mod scene;
mod side;

pub(crate) use scene::share;
pub use scene::{Arm, BandLine, Body, Figure, HEAD, Measure, PATH, Prop, Quantity, Sight, Trunk};

use crate::execution::RangePart;
use crate::movement::{RigModel, View};
use crate::rigging::{Assembly, Loads, Rigged};

impl Figure {
    /// Draws a rig with what loads it. Without an assembly the ribbon stays bare: the load is refused, the posture is
    /// not. None where the posture itself has no solution.
    pub fn of(rigged: &Rigged<'_>, loads: &Loads, assembly: Option<&Assembly>) -> Option<Self> {
        let mut figure = match (&rigged.movement.rig, rigged.movement.pose.view) {
            (RigModel::SingleJoint { .. } | RigModel::Line { .. } | RigModel::Limb { .. }, View::Side) => {
                side::draw(rigged, loads)?
            }
            (RigModel::SingleJoint { .. } | RigModel::Line { .. } | RigModel::Limb { .. }, View::Front) => {
                front::draw(rigged, loads)?
            }
            (RigModel::SingleJoint { .. } | RigModel::Line { .. } | RigModel::Limb { .. }, View::Across) => {
                across::draw(rigged, loads)?
            }
            (RigModel::Trunk { work }, _) if work.share_of_body().is_some() => lying::draw(rigged, *work),
            (RigModel::BodyArc { .. }, View::Front | View::Across) => across::under_rings(rigged)?,
            (RigModel::Dip { .. } | RigModel::ChinUp { .. }, _) => hung::draw(rigged, loads),
            _ => leaning::draw(rigged, loads)?,
        };
        if let Some(assembly) = assembly {
            let peak = assembly.profile.peak();
            // Outside the part that is gone through there is no ribbon.
            let [from, to] = rigged.setup.range.map_or([0.0, 1.0], RangePart::window);
            let along = |whole: f64| {
                let own = (whole - from) / (to - from);
                if (-1e-9..=1.0 + 1e-9).contains(&own) { (assembly.profile.at(own) / peak).max(0.0) } else { 0.0 }
            };
            figure.ribbon = (0..PATH).map(|i| along(share(i))).collect();
        }
        let adjustable = rigged.movement.adjustments();
        for measure in &mut figure.measures {
            measure.movable = adjustable.iter().any(|a| a.field == measure.quantity.field());
        }
        figure.finite().then_some(figure)
    }
}
