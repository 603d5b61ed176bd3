//! Planks and roll-outs.

use super::leaning::{Leaner, moving};
use super::scene::{Figure, PATH, Prop, Quantity, Trunk, plus, reach, share};
use crate::mechanics::bridge::{Base, Rest};
use crate::mechanics::single_joint::FOREARM;
use crate::movement::TrunkWork;
use crate::rigging::trunk_postures;
use crate::units::Degrees;

impl Leaner<'_> {
    pub(super) fn plank(&self, work: TrunkWork) -> Option<Figure> {
        let h = self.h;
        let setup = &self.rigged.setup;
        let (bridge, [from, to]) = trunk_postures(self.rigged.person, work, setup);
        let feet = bridge.feet.value();
        let body = |s: f64| {
            let arms = Degrees(from.value() + (to.value() - from.value()) * s);
            let p = bridge.point(arms).ok()?;
            let arm = match bridge.rest {
                Rest::Hands => reach(p.shoulder, p.hand, h, [0.2, -1.0]),
                Rest::Forearms => [p.shoulder, p.hand, plus(p.hand, [(FOREARM + 0.02) * h, 0.0])],
            };
            Some(match bridge.base {
                Base::Knees => self.on_knees([0.0, 0.0], p.shoulder, arm),
                Base::Toes => self.straight([0.0, feet], p.shoulder, arm, true),
            })
        };
        let mut figure = moving(body, 0)?;
        let hand = figure.start.arms[0][2];
        figure.path = (0..PATH).map(|i| body(share(i)).map(|b| b.arms[0][2])).collect::<Option<_>>()?;
        figure.joint = match figure.end.trunk {
            Trunk::Side([hip, _]) => hip,
            _ => figure.joint,
        };
        match work {
            TrunkWork::WheelKnees | TrunkWork::WheelToes => {
                figure.props.push(Prop::Wheel(figure.end.arms[0][2], bridge.hands.value()));
                figure.props.push(Prop::Wheel(hand, bridge.hands.value()));
            }
            TrunkWork::RingsKnees | TrunkWork::RingsToes => {
                let top = [0.5 * (hand[0] + figure.end.arms[0][2][0]), 1.6];
                for at in [hand, figure.end.arms[0][2]] {
                    figure.props.push(Prop::Strap([at, top]));
                    figure.props.push(Prop::Ring(at));
                }
            }
            _ => {}
        }
        if feet > 0.0 {
            figure.props.push(Prop::Block([-0.24 * h, 0.0], [0.04 * h, feet]));
        }
        self.measure_height(Quantity::FootHeight, [-0.28 * h, feet], &mut figure);
        Some(figure)
    }
}
