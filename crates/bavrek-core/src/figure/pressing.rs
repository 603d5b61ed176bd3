//! Push-ups, pikes, handstands and body extensions: the hands push the body away.

use super::leaning::{Leaner, SHOULDER, hang_rings, moving};
use super::scene::{ARM, Body, Figure, Prop, Quantity, Trunk, head_on, height_of, plus, reach, toward};
use crate::anatomy::Surface;
use crate::mechanics::body_extension::BodyExtension;
use crate::mechanics::single_joint::TRUNK;
use crate::movement::{PikeFeet, PushUpHands};
use crate::posture::{Point, SHANK, THIGH, between};
use crate::units::Metres;

/// Knees to shoulder over stature.
const KNEES: f64 = 0.535;
/// Toes to hands of a push-up over stature, as in the load model.
const TOES_TO_HANDS: f64 = 0.80;
/// Knees to hands over stature.
const KNEES_TO_HANDS: f64 = 0.50;
/// Height of the ankle above the toes' support in a push-up over stature.
const ON_TOES: f64 = 0.055;

/// Toes from the wall and hands up it in a push-up against a wall, statures; assumed.
const FROM_WALL: f64 = 0.42;
const AT_WALL: f64 = 0.79;

impl Leaner<'_> {
    pub(super) fn push_up(&self, hands: PushUpHands, girdle: bool, back: f64) -> Option<Figure> {
        let (h, setup) = (self.h, &self.rigged.setup);
        let (hand_height, foot_height) = (height_of(setup.hands_height_m), height_of(setup.feet_height_m));
        let knees = setup.knees == Some(true);
        let foot = if knees { [0.0, 0.03 * h] } else { [0.0, foot_height] };
        let (radius, apart) = if knees { (KNEES, KNEES_TO_HANDS) } else { (SHOULDER, TOES_TO_HANDS) };
        // Only the blades move in a reach; deep hands let the chest sink below them.
        let deep = matches!(hands, PushUpHands::Handles | PushUpHands::Boxes | PushUpHands::Rings);
        let top = if girdle { ARM * 1.01 } else { ARM * 0.99 };
        let bottom = if girdle { 0.94 * ARM } else { [0.085, 0.045][usize::from(deep)] };
        // Hands and feet stand as far apart as in the load model.
        let rise = ((hand_height - foot[1]) / (apart * h)).clamp(-0.99, 0.99).asin();
        let hand = match hands {
            PushUpHands::Wall => [foot[0] + FROM_WALL * h, AT_WALL * h],
            _ => [foot[0] + (apart - back) * h * rise.cos(), hand_height],
        };
        let body = |s: f64| {
            let shoulder = between(foot, hand, radius * h, (bottom + (top - bottom) * s) * h, [0.0, 1.0]);
            let arm = reach(shoulder, hand, h, [-1.0, 0.6]);
            Some(if knees { self.on_knees(foot, shoulder, arm) } else { self.straight(foot, shoulder, arm, true) })
        };
        let mut figure = moving(body, usize::from(!girdle))?;
        self.under_hands(hands, hand, &mut figure);
        if foot_height > 0.0 {
            figure.props.push(Prop::Block([foot[0] - 0.24 * h, 0.0], [foot[0] + 0.04 * h, foot_height]));
        }
        self.measure_height(Quantity::FootHeight, [foot[0] - 0.28 * h, foot_height], &mut figure);
        Some(figure)
    }

    pub(super) fn under_hands(&self, hands: PushUpHands, hand: Point, figure: &mut Figure) {
        let h = self.h;
        match hands {
            PushUpHands::Rings => hang_rings(hand, figure),
            PushUpHands::Handles => figure.props.push(Prop::Handle(hand)),
            PushUpHands::Boxes => {
                figure.props.push(Prop::Block([hand[0] - 0.09 * h, 0.0], [hand[0] + 0.09 * h, hand[1]]));
            }
            PushUpHands::Wall => figure.props.push(Prop::Block([hand[0], 0.0], [hand[0] + 0.05 * h, 1.1 * h])),
            _ if hand[1] > 0.02 => {
                figure.props.push(Prop::Block([hand[0] - 0.04 * h, 0.0], [hand[0] + 0.24 * h, hand[1]]));
            }
            _ => {}
        }
        self.measure_height(Quantity::HandHeight, [hand[0] + 0.28 * h, hand[1]], figure);
    }

    /// Hips high: trunk and arms in one line, legs in another.
    pub(super) fn pike(&self, feet: PikeFeet) -> Option<Figure> {
        let h = self.h;
        if feet == PikeFeet::Wall {
            return self.handstand();
        }
        let foot_height = if feet == PikeFeet::Raised { height_of(self.rigged.setup.feet_height_m) } else { 0.0 };
        let leg = (THIGH + SHANK + ON_TOES) * h;
        // The hands stand so that trunk and arms lean by the same angle as in an even inverted V.
        let foot = [0.0, foot_height];
        let spread = if feet == PikeFeet::Raised { 0.58 } else { 0.74 } * h;
        let hand = [spread, 0.0];
        let body = |s: f64| {
            let arm_reach = (0.22 + (0.985 * ARM - 0.22) * s) * h;
            let hip = between(foot, hand, leg * 0.99, TRUNK * h + arm_reach, [0.0, 1.0]);
            let shoulder = toward(hip, [hand[0] - hip[0], hand[1] - hip[1]], TRUNK * h);
            let knee = toward(foot, [hip[0] - foot[0], hip[1] - foot[1]], (SHANK + ON_TOES) * h);
            let ankle = toward(foot, [hip[0] - foot[0], hip[1] - foot[1]], ON_TOES * h);
            Some(Body {
                head: head_on(hip, shoulder, h * 0.8),
                trunk: Trunk::Side([hip, shoulder]),
                arms: vec![reach(shoulder, hand, h, [-1.0, 0.4])],
                idle: vec![],
                legs: vec![[hip, knee, ankle, foot]],
            })
        };
        let mut figure = moving(body, 1)?;
        if foot_height > 0.0 {
            figure.props.push(Prop::Block([foot[0] - 0.24 * h, 0.0], [foot[0] + 0.04 * h, foot_height]));
            self.measure_height(Quantity::FootHeight, [foot[0] - 0.28 * h, foot_height], &mut figure);
        }
        Some(figure)
    }

    pub(super) fn handstand(&self) -> Option<Figure> {
        let h = self.h;
        let hand = [0.0, 0.0];
        let lean = 0.05_f64;
        let body = |s: f64| {
            let shoulder_height = (0.12 + (0.985 * ARM - 0.12) * s) * h;
            let at = |above: f64| [-(shoulder_height + above) * lean, shoulder_height + above];
            let (shoulder, hip) = (at(0.0), at(TRUNK * h));
            let (knee, ankle) = (at((TRUNK + THIGH) * h), at((TRUNK + THIGH + SHANK) * h));
            Some(Body {
                head: head_on(hip, shoulder, h * 0.8),
                trunk: Trunk::Side([hip, shoulder]),
                arms: vec![reach(shoulder, hand, h, [1.0, 0.2])],
                idle: vec![],
                legs: vec![[hip, knee, ankle, plus(ankle, [0.07 * h, 0.05 * h])]],
            })
        };
        let mut figure = moving(body, 1)?;
        let heel = figure.end.legs[0][2];
        figure.props.push(Prop::Wall(heel[0] - 0.03 * h, 1.0));
        Some(figure)
    }

    pub(super) fn extension(&self) -> Option<Figure> {
        let setup = &self.rigged.setup;
        let posture = BodyExtension {
            stature: self.rigged.person.height_m,
            body_mass: self.rigged.person.body_mass_kg,
            hands: setup.hands_height_m.unwrap_or(Metres(0.6)),
        };
        let body = |s: f64| {
            let p = posture.point(BodyExtension::angle_at(s)).ok()?;
            Some(self.straight([0.0, 0.0], p.shoulder, [p.shoulder, p.elbow, p.hand], true))
        };
        let mut figure = moving(body, 1)?;
        let hand = figure.end.arms[0][2];
        match setup.surface {
            Some(Surface::Bar) => figure.props.push(Prop::Bar(hand)),
            Some(Surface::Rings) => hang_rings(hand, &mut figure),
            _ if hand[1] > 0.02 => {
                figure.props.push(Prop::Block([hand[0] - 0.04 * self.h, 0.0], [hand[0] + 0.24 * self.h, hand[1]]));
            }
            _ => {}
        }
        if hand[1] > 0.02 {
            self.measure_height(Quantity::HandHeight, [hand[0] + 0.28 * self.h, hand[1]], &mut figure);
        }
        Some(figure)
    }
}
