//! Dips, pull-ups and hangs, from the side: the hands stay, the body rises.

use super::scene::{ARM, BandLine, Body, Figure, PATH, Prop, Sight, Trunk, head_on, plus, reach, share};
use crate::anatomy::{Implement, Surface};
use crate::mechanics::single_joint::TRUNK;
use crate::movement::{DipOn, RigModel, Style, SupportKind};
use crate::posture::{Leg, Point, SHANK, THIGH, between, upward};
use crate::rigging::{Loads, Rigged};

/// Rise of a shrug under straight arms over stature.
const SHRUG: f64 = 0.045;
/// Height of a bar to hang from over stature: reached with the feet off the floor.
const BAR_HEIGHT: f64 = 1.28;
/// Height of the box under a helping foot, m.
const FOOT_BOX: f64 = 0.50;
/// Height of dip bars over stature.
const DIP_BARS: f64 = 0.72;

pub(super) fn draw(rigged: &Rigged<'_>, loads: &Loads) -> Figure {
    let h = rigged.person.height_m.value();
    let hanger = Hanger::of(rigged, h);
    let path: Vec<Point> = (0..PATH).map(|i| hanger.shoulder(share(i))).collect();
    let (start, end) = (hanger.body(0.0), hanger.body(1.0));
    let mut figure = Figure {
        sight: Sight::Side,
        joint: end.arms[0][usize::from(!hanger.girdle)],
        start,
        end,
        path,
        ribbon: Vec::new(),
        props: hanger.props(rigged),
        bands: Vec::new(),
        measures: Vec::new(),
        floor: Some(0.0),
    };
    let hip = figure.end.legs[0][0];
    if loads.weight.value() > 0.0 {
        figure.props.push(Prop::Weight([hip[0], hip[1] - THIGH * h]));
    }
    if loads.band().is_some() {
        let knee = |b: &Body| b.legs[0][1];
        let line = BandLine { from: hanger.hand, start: knee(&figure.start), end: knee(&figure.end), anchored: false };
        figure.bands.push(line);
    }
    figure
}

struct Hanger {
    h: f64,
    hand: Point,
    /// Shoulder low and high.
    low: Point,
    high: Point,
    lean: f64,
    girdle: bool,
    legs: Legs,
}

#[derive(Clone, Copy, PartialEq)]
enum Legs {
    Hanging,
    /// Heels here.
    Heels(Point),
}

impl Hanger {
    fn of(rigged: &Rigged<'_>, h: f64) -> Self {
        let straight = 0.985 * ARM * h;
        let hold = rigged.movement.style == Style::Hold;
        match rigged.movement.rig {
            RigModel::ChinUp { girdle } => {
                let hand = [0.0, BAR_HEIGHT * h];
                let low = [-0.01 * h, hand[1] - straight];
                let rise = match (hold, girdle) {
                    (true, _) => 0.004,
                    (_, true) => SHRUG,
                    _ => 0.27,
                };
                let high = [-0.06 * h * (rise / 0.27), low[1] + rise * h];
                let foot = rigged.movement.needs.iter().flatten().any(|s| s.kit == SupportKind::Box);
                let legs = if foot { Legs::Heels([0.10 * h, FOOT_BOX]) } else { Legs::Hanging };
                Self { h, hand, low, high, lean: if girdle { 0.0 } else { -8.0 }, girdle, legs }
            }
            RigModel::Dip { on: DipOn::Bars | DipOn::Rings, girdle } => {
                let hand = [0.0, DIP_BARS * h];
                let high = [0.02 * h, hand[1] + straight];
                let low = if girdle { [0.02 * h, high[1] - SHRUG * h] } else { [0.05 * h, hand[1] + 0.17 * h] };
                let lean = if rigged.movement.pattern == crate::anatomy::Pattern::DeclinePress && !girdle {
                    20.0
                } else {
                    4.0
                };
                Self { h, hand, low, high, lean, girdle, legs: Legs::Hanging }
            }
            RigModel::Dip { on, girdle } => Self::at_edge(rigged, on, girdle, h),
            _ => {
                Self { h, hand: [0.0; 2], low: [0.0; 2], high: [0.0; 2], lean: 0.0, girdle: true, legs: Legs::Hanging }
            }
        }
    }

    fn at_edge(rigged: &Rigged<'_>, on: DipOn, girdle: bool, h: f64) -> Self {
        let top = match on {
            DipOn::Floor => 0.0,
            _ => rigged.support.map_or(0.44, crate::units::Metres::value),
        };
        let hand = [-0.02 * h, top];
        let high = [0.02 * h, top + 0.985 * ARM * h];
        let drop = if girdle {
            SHRUG
        } else if on == DipOn::Floor {
            0.06
        } else {
            0.18
        };
        let low = [0.03 * h, high[1] - drop * h];
        let reach = match (on, rigged.setup.knees) {
            (DipOn::Floor, _) => [0.52 * h, 0.04 * h],
            (DipOn::EdgeFeetRaised, _) => [0.47 * h, top + 0.04 * h],
            (_, Some(true)) => [0.34 * h, 0.04 * h],
            _ => [0.47 * h, 0.03 * h],
        };
        // On the floor the trunk leans back over the hands.
        let lean = if on == DipOn::Floor { -35.0 } else { 0.0 };
        Self { h, hand, low, high, lean, girdle, legs: Legs::Heels(reach) }
    }

    fn shoulder(&self, s: f64) -> Point {
        [self.low[0] + (self.high[0] - self.low[0]) * s, self.low[1] + (self.high[1] - self.low[1]) * s]
    }

    fn body(&self, s: f64) -> Body {
        let shoulder = self.shoulder(s);
        let hip = upward(shoulder, -TRUNK * self.h, self.lean);
        let hanging = self.hand[1] > shoulder[1];
        let side = if hanging { [1.0, -0.6] } else { [-1.0, 0.3] };
        let leg = self.leg(hip);
        Body {
            head: head_on(hip, shoulder, self.h),
            trunk: Trunk::Side([hip, shoulder]),
            arms: vec![reach(shoulder, self.hand, self.h, side)],
            idle: vec![],
            legs: vec![leg],
        }
    }

    fn leg(&self, hip: Point) -> Leg {
        let h = self.h;
        match self.legs {
            Legs::Hanging => {
                // Knees slightly bent, the shins behind.
                let knee = plus(hip, [0.05 * h, -0.985 * THIGH * h]);
                let ankle = plus(knee, [-0.13 * h, -0.85 * SHANK * h]);
                [hip, knee, ankle, plus(ankle, [-0.02 * h, -0.06 * h])]
            }
            Legs::Heels(heel) => {
                let knee = between(hip, heel, THIGH * h, SHANK * h, [0.2, 1.0]);
                [hip, knee, heel, plus(heel, [0.03 * h, 0.10 * h])]
            }
        }
    }

    fn props(&self, rigged: &Rigged<'_>) -> Vec<Prop> {
        let (hand, h) = (self.hand, self.h);
        let rings = rigged.setup.surface == Some(Surface::Rings);
        match rigged.movement.rig {
            _ if rings => vec![Prop::Strap([hand, [hand[0], hand[1] + 1.0]]), Prop::Ring(hand)],
            RigModel::ChinUp { .. } if rigged.movement.uses(Implement::Towel) => {
                let bar = plus(hand, [0.0, 0.18]);
                vec![Prop::Strap([hand, bar]), Prop::Bar(bar)]
            }
            RigModel::ChinUp { .. } => {
                let mut props = vec![Prop::Bar(hand)];
                if let Legs::Heels([x, top]) = self.legs {
                    props.push(Prop::Block([x - 0.08 * h, 0.0], [x + 0.16 * h, top - 0.02 * h]));
                }
                props
            }
            RigModel::Dip { on: DipOn::Bars, .. } => {
                vec![
                    Prop::Post([[hand[0] - 0.12 * h, 0.0], [hand[0] - 0.12 * h, hand[1]]]),
                    Prop::Post([[hand[0] + 0.22 * h, 0.0], [hand[0] + 0.22 * h, hand[1]]]),
                    Prop::Post([[hand[0] - 0.16 * h, hand[1]], [hand[0] + 0.26 * h, hand[1]]]),
                ]
            }
            RigModel::Dip { on: DipOn::Floor, .. } => Vec::new(),
            RigModel::Dip { on: DipOn::EdgeFeetRaised, .. } => {
                let Legs::Heels(heel) = self.legs else { return vec![self.edge()] };
                vec![self.edge(), Prop::Block([heel[0] - 0.06 * h, 0.0], [heel[0] + 0.14 * h, heel[1] - 0.02 * h])]
            }
            _ => vec![self.edge()],
        }
    }

    fn edge(&self) -> Prop {
        Prop::Block([self.hand[0] - 0.22 * self.h, 0.0], [self.hand[0] + 0.01 * self.h, self.hand[1]])
    }
}
