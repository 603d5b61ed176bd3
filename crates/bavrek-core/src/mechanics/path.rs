//! Presses and rows: the hand travels a straight path and meets `E(s) = −F·t̂`.

use super::MechanicsError;
use super::band::Rubber;
use super::profile::{Profile, SAMPLES};
use crate::units::{Degrees, GRAVITY, Metres};

/// Whether the rubber trapped under the back or the bench stays put. The two bound the truth until measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Trapped {
    /// The user lies on it: each side stretches alone (default).
    Pinned,
    /// It slides: the whole loop stretches evenly.
    Slipping,
}

/// A loop under the bench or round the back, one side to each hand.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BandUnderBack {
    /// Force law of a strand.
    pub rubber: Rubber,
    /// Flat length of the loop.
    pub flat: Metres,
    /// Trapped width.
    pub trapped_width: Metres,
    /// Lateral distance of the point where the band leaves the bench from the midline.
    pub exit: Metres,
    /// Lateral distance of the hand from the midline.
    pub hand: Metres,
    /// Pinned or slipping.
    pub trapped: Trapped,
}

impl BandUnderBack {
    /// The usual geometry for a person of this stature, scaled from 0.30 m trapped, 0.15 m exit and 0.25 m hand at
    /// 1.75 m.
    pub fn usual(rubber: Rubber, flat: Metres, stature: Metres, trapped: Trapped) -> Self {
        let scale = stature.value() / 1.75;
        Self {
            rubber,
            flat,
            trapped_width: Metres(0.30 * scale),
            exit: Metres(0.15 * scale),
            hand: Metres(0.25 * scale),
            trapped,
        }
    }

    /// Vertical force on one hand at a height above the exit point, N.
    pub fn force_at(&self, height: Metres) -> Result<f64, MechanicsError> {
        let y = height.value();
        let out = self.hand.value() - self.exit.value();
        let free_reach = (out * out + y * y).sqrt();
        let width = self.trapped_width.value();
        let (distance, free) = match self.trapped {
            Trapped::Pinned => (free_reach, (self.flat.value() - width) / 2.0),
            Trapped::Slipping => (free_reach + 0.5 * width, self.flat.value() / 2.0),
        };
        let tension = self.rubber.force(2.0, Metres(distance), Metres(free))?.value();
        Ok(if free_reach > 1e-9 { tension * y / free_reach } else { 0.0 })
    }

    /// Force along a press from `bottom` to `top` above the exit point, N.
    pub fn profile(&self, bottom: Metres, top: Metres) -> Result<Profile, MechanicsError> {
        sample(|s| self.force_at(Metres(bottom.value() + (top.value() - bottom.value()) * s)))
    }
}

/// A band from an anchor to a hand on a straight path, in the plane of the pull.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AnchoredPath {
    /// Force law of a strand.
    pub rubber: Rubber,
    /// Strands in parallel at the hand.
    pub strands: f64,
    /// Free length of a strand.
    pub free: Metres,
    /// Fixed end, m.
    pub anchor: [f64; 2],
    /// Hand in the lengthened position, m.
    pub start: [f64; 2],
    /// Hand in the shortened position, m.
    pub end: [f64; 2],
}

impl AnchoredPath {
    /// Force along the path at a share of the way, N. Negative where the band helps.
    pub fn force_at(&self, share: f64) -> Result<f64, MechanicsError> {
        self.force_on(self.path()?, share)
    }

    fn force_on(&self, (path, length): ([f64; 2], f64), share: f64) -> Result<f64, MechanicsError> {
        let hand = [self.start[0] + path[0] * share, self.start[1] + path[1] * share];
        let away = [hand[0] - self.anchor[0], hand[1] - self.anchor[1]];
        // Not `hypot`: a ladder asks for thousands of these, and no length here is near the ends of the number range.
        let distance = (away[0] * away[0] + away[1] * away[1]).sqrt();
        if distance < 0.05 {
            return Err(MechanicsError::AnchorAtHand);
        }
        let tension = self.rubber.force(self.strands, Metres(distance), self.free)?.value();
        Ok(tension * (away[0] * path[0] + away[1] * path[1]) / (distance * length))
    }

    /// The way of the hand, and its length.
    fn path(&self) -> Result<([f64; 2], f64), MechanicsError> {
        let path = [self.end[0] - self.start[0], self.end[1] - self.start[1]];
        let length = (path[0] * path[0] + path[1] * path[1]).sqrt();
        if length < 0.01 { Err(MechanicsError::NoLoad) } else { Ok((path, length)) }
    }

    /// Force along the whole path, N.
    pub fn profile(&self) -> Result<Profile, MechanicsError> {
        let path = self.path()?;
        sample(|s| self.force_on(path, s))
    }

    /// Largest extension ratio on the path.
    pub fn largest_stretch(&self) -> f64 {
        [self.start, self.end]
            .iter()
            .map(|h| (h[0] - self.anchor[0]).hypot(h[1] - self.anchor[1]) / self.free.value())
            .fold(0.0, f64::max)
    }
}

/// Force of one held kilogram along a straight path at an angle to the vertical, N.
pub fn kilogram_force(path_from_vertical: Degrees) -> f64 {
    GRAVITY * path_from_vertical.radians().cos()
}

fn sample(mut f: impl FnMut(f64) -> Result<f64, MechanicsError>) -> Result<Profile, MechanicsError> {
    // The ends are checked too: a refusal there must not hide between midpoints.
    f(0.0)?;
    f(1.0)?;
    let mut profile = Profile::ZERO;
    for (i, value) in profile.0.iter_mut().enumerate() {
        *value = f((i as f64 + 0.5) / SAMPLES as f64)?;
    }
    Ok(profile)
}
