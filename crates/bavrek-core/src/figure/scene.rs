//! What a drawing is made of: bodies, props, bands and measures, and the small geometry that its parts share.

use crate::mechanics::single_joint::{FOREARM, UPPER_ARM};
use crate::posture::{Leg, Point, between};
use crate::units::Metres;

/// Points of a hand's path.
pub const PATH: usize = 25;
/// Radius of the head over stature.
pub const HEAD: f64 = 0.062;
/// Shoulder to the middle of the head over stature.
pub(super) const NECK: f64 = 0.115;
/// Shoulder to grip over stature.
pub(super) const ARM: f64 = UPPER_ARM + FOREARM;

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
    /// A barbell seen from its end.
    BarEnd(Point),
    /// A barbell across, from hand to hand.
    Barbell([Point; 2]),
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
    pub(super) const fn new(quantity: Quantity, value: f64, from: Point, to: Point) -> Self {
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
    pub(super) fn finite(&self) -> bool {
        let arms = [&self.start, &self.end].into_iter().flat_map(|b| b.arms.iter().chain(&b.idle)).flatten();
        arms.chain(&self.path).flatten().all(|v| v.is_finite())
    }
}

/// Share of the way at a point of the path.
pub(crate) fn share(i: usize) -> f64 {
    i as f64 / (PATH - 1) as f64
}

pub(super) fn plus(a: Point, b: Point) -> Point {
    [a[0] + b[0], a[1] + b[1]]
}

pub(super) fn toward(from: Point, direction: Point, length: f64) -> Point {
    let norm = direction[0].hypot(direction[1]).max(1e-9);
    [from[0] + direction[0] / norm * length, from[1] + direction[1] / norm * length]
}

/// The head on top of a trunk.
pub(super) fn head_on(hip: Point, shoulder: Point, stature: f64) -> Point {
    toward(shoulder, [shoulder[0] - hip[0], shoulder[1] - hip[1]], NECK * stature)
}

/// An arm from shoulder to hand with the elbow bent to one side.
pub(super) fn reach(shoulder: Point, hand: Point, stature: f64, side: Point) -> Arm {
    [shoulder, between(shoulder, hand, UPPER_ARM * stature, FOREARM * stature, side), hand]
}

pub(super) fn anchor_measures(anchor: Point, height: f64, distance: f64, body_x: f64) -> [Measure; 2] {
    [
        Measure::new(Quantity::AnchorHeight, height, [anchor[0], 0.0], anchor),
        Measure::new(Quantity::AnchorDistance, distance, [anchor[0], 0.0], [body_x, 0.0]),
    ]
}

pub(super) fn height_of(value: Option<Metres>) -> f64 {
    value.map_or(0.0, Metres::value)
}
