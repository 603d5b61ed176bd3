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
mod side;

use crate::mechanics::single_joint::{FOREARM, UPPER_ARM};
use crate::movement::{RigModel, View};
use crate::posture::{Leg, Point, between};
use crate::rigging::{Assembly, Loads, Rigged};
use crate::units::Metres;

/// Points of a hand's path.
pub const PATH: usize = 25;
/// Radius of the head over stature.
pub const HEAD: f64 = 0.062;
/// Shoulder to the middle of the head over stature.
const NECK: f64 = 0.115;
/// Shoulder to grip over stature.
const ARM: f64 = UPPER_ARM + FOREARM;

/// From where a figure is seen.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sight {
    /// From the side.
    Side,
    /// From the front.
    Front,
    /// Along the trunk, the floor below.
    AlongTrunk,
    /// From above; there is no floor line.
    Above,
}

impl Sight {
    /// In words.
    pub const fn label(self) -> &'static str {
        match self {
            Self::Side => "from the side",
            Self::Front => "from the front",
            Self::AlongTrunk => "along the trunk",
            Self::Above => "from above",
        }
    }
}

/// The trunk's outline.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Trunk {
    /// From the side: hip and shoulder.
    Side([Point; 2]),
    /// From the front: both hips, both shoulders.
    Front([Point; 4]),
    /// Cut across: its middle and half axes.
    Section(Point, [f64; 2]),
}

/// Shoulder, elbow and hand.
pub type Arm = [Point; 3];

/// One pose of the body.
#[derive(Debug, Clone, PartialEq)]
pub struct Body {
    /// Middle of the head.
    pub head: Point,
    /// The trunk.
    pub trunk: Trunk,
    /// Arms that work, the one with the ribbon first.
    pub arms: Vec<Arm>,
    /// Arms that rest or hold on.
    pub idle: Vec<Arm>,
    /// Legs.
    pub legs: Vec<Leg>,
}

/// What stands in the room.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Prop {
    /// A pad seen from its side, with legs to the floor.
    Pad([Point; 2]),
    /// A block from one corner to the opposite one: a box, a seat.
    Block(Point, Point),
    /// A bar seen along its axis.
    Bar(Point),
    /// A post from one point to another.
    Post([Point; 2]),
    /// A table's edge with its top going away from the body.
    Table([Point; 2]),
    /// A ring.
    Ring(Point),
    /// A strap or towel.
    Strap([Point; 2]),
    /// A wheel with its radius.
    Wheel(Point, f64),
    /// A wall along x, the room on this side of it (−1 left, +1 right).
    Wall(f64, f64),
    /// Handles under the hands.
    Handle(Point),
    /// A dumbbell in the hand.
    Weight(Point),
    /// A loaded pack.
    Pack(Point),
}

/// A band in the two positions of the hand.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BandLine {
    /// Where it is fixed.
    pub from: Point,
    /// The hand in the lengthened position.
    pub start: Point,
    /// The hand in the shortened position.
    pub end: Point,
    /// Whether it is fixed to an anchor rather than under foot or back.
    pub anchored: bool,
}

/// What a measure is of: it names the field that is typed or dragged.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Quantity {
    /// Height of the anchor.
    AnchorHeight,
    /// Distance from the anchor.
    AnchorDistance,
    /// Height of the hands.
    HandHeight,
    /// Height of the feet.
    FootHeight,
    /// Angle of the body to the floor.
    BodyAngle,
    /// Angle of the bench.
    BenchAngle,
}

impl Quantity {
    /// The field of a set-up.
    pub const fn field(self) -> &'static str {
        match self {
            Self::AnchorHeight => "anchor_height",
            Self::AnchorDistance => "anchor_distance",
            Self::HandHeight => "hands_height",
            Self::FootHeight => "feet_height",
            Self::BodyAngle => "body_angle",
            Self::BenchAngle => "bench_angle",
        }
    }

    /// In words.
    pub const fn label(self) -> &'static str {
        match self {
            Self::AnchorHeight => "anchor",
            Self::AnchorDistance => "step out",
            Self::HandHeight => "hands",
            Self::FootHeight => "feet",
            Self::BodyAngle => "body",
            Self::BenchAngle => "bench",
        }
    }

    /// Whether it is an angle in degrees rather than a length in metres.
    pub const fn is_angle(self) -> bool {
        matches!(self, Self::BodyAngle | Self::BenchAngle)
    }
}

/// A measure to be drawn with its figure.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Measure {
    /// Of what.
    pub quantity: Quantity,
    /// Its value, m or degrees.
    pub value: f64,
    /// From here; of an angle its corner.
    pub from: Point,
    /// To here; of an angle a point on its upper leg.
    pub to: Point,
    /// Whether the movement lets it be set; otherwise it follows from the rest.
    pub movable: bool,
}

impl Measure {
    const fn new(quantity: Quantity, value: f64, from: Point, to: Point) -> Self {
        Self { quantity, value, from, to, movable: false }
    }
}

/// A drawn movement.
#[derive(Debug, Clone, PartialEq)]
pub struct Figure {
    /// From where it is seen.
    pub sight: Sight,
    /// The lengthened position.
    pub start: Body,
    /// The shortened position.
    pub end: Body,
    /// The joint at work, at the shortened position.
    pub joint: Point,
    /// The hand's path from lengthened to shortened; where the hand stays, that of the shoulder that it moves.
    pub path: Vec<Point>,
    /// Load along the path over its peak; empty where no load is known.
    pub ribbon: Vec<f64>,
    /// What stands in the room.
    pub props: Vec<Prop>,
    /// Bands.
    pub bands: Vec<BandLine>,
    /// Measures.
    pub measures: Vec<Measure>,
    /// Height of the floor, where it is seen.
    pub floor: Option<f64>,
}

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
            figure.ribbon = (0..PATH).map(|i| (assembly.profile.at(share(i)) / peak).max(0.0)).collect();
        }
        let adjustable = rigged.movement.adjustments();
        for measure in &mut figure.measures {
            measure.movable = adjustable.iter().any(|a| a.field == measure.quantity.field());
        }
        figure.finite().then_some(figure)
    }

    fn finite(&self) -> bool {
        let arms = [&self.start, &self.end].into_iter().flat_map(|b| b.arms.iter().chain(&b.idle)).flatten();
        arms.chain(&self.path).flatten().all(|v| v.is_finite())
    }
}

/// Share of the way at a point of the path.
pub(crate) fn share(i: usize) -> f64 {
    i as f64 / (PATH - 1) as f64
}

fn plus(a: Point, b: Point) -> Point {
    [a[0] + b[0], a[1] + b[1]]
}

fn toward(from: Point, direction: Point, length: f64) -> Point {
    let norm = direction[0].hypot(direction[1]).max(1e-9);
    [from[0] + direction[0] / norm * length, from[1] + direction[1] / norm * length]
}

/// The head on top of a trunk.
fn head_on(hip: Point, shoulder: Point, stature: f64) -> Point {
    toward(shoulder, [shoulder[0] - hip[0], shoulder[1] - hip[1]], NECK * stature)
}

/// An arm from shoulder to hand with the elbow bent to one side.
fn reach(shoulder: Point, hand: Point, stature: f64, side: Point) -> Arm {
    [shoulder, between(shoulder, hand, UPPER_ARM * stature, FOREARM * stature, side), hand]
}

fn anchor_measures(anchor: Point, height: f64, distance: f64, body_x: f64) -> [Measure; 2] {
    [
        Measure::new(Quantity::AnchorHeight, height, [anchor[0], 0.0], anchor),
        Measure::new(Quantity::AnchorDistance, distance, [anchor[0], 0.0], [body_x, 0.0]),
    ]
}

fn height_of(value: Option<Metres>) -> f64 {
    value.map_or(0.0, Metres::value)
}
