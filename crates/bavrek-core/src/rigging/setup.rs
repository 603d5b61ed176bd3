//! How one exercise is set up, stored with every fit and every logged set.

use std::fmt::{self, Write as _};

use serde::{Deserialize, Serialize};

use super::BandFix;
use crate::anatomy::Surface;
use crate::execution::RangePart;
use crate::units::{Degrees, Metres, Trimmed};

/// The geometry of one exercise. What does not apply is left out.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Setup {
    /// What the body rests on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub surface: Option<Surface>,
    /// Height of what the body rests on, where it is not the usual one of its kind.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub support_height_m: Option<Metres>,
    /// Angle of the bench.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bench_deg: Option<Degrees>,
    /// Height of the anchor.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub anchor_height_m: Option<Metres>,
    /// Horizontal distance from the anchor to the shoulder.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub anchor_distance_m: Option<Metres>,
    /// Body angle to the floor.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub body_angle_deg: Option<Degrees>,
    /// Height of the feet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub feet_height_m: Option<Metres>,
    /// Height of the hands.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hands_height_m: Option<Metres>,
    /// Whether the knees are down.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub knees: Option<bool>,
    /// Rubber pinned between the outer edges of the feet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stance_m: Option<Metres>,
    /// How much nearer to the anchor the band is gripped.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grip_shorter_m: Option<Metres>,
    /// Strap length from the anchor to the ring.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub strap_m: Option<Metres>,
    /// How the band is fixed; hung over or stood on where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub band_fix: Option<BandFix>,
    /// Whether a helping loop runs under a foot, the leg long, instead of under a knee.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub foot_in_loop: Option<bool>,
    /// The part of the range that is gone through, where it is chosen not to be the whole.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub range: Option<RangePart>,
}

impl Setup {
    /// How far two set-ups lie apart: metres, knees as one, ten degrees as 0.1. What either leaves open is alike.
    pub fn distance(&self, other: &Self) -> f64 {
        let metres = |a: Option<Metres>, b: Option<Metres>| a.zip(b).map_or(0.0, |(a, b)| (a.0 - b.0).abs());
        let degrees = |a: Option<Degrees>, b: Option<Degrees>| a.zip(b).map_or(0.0, |(a, b)| (a.0 - b.0).abs() / 100.0);
        // A height left out of a push-up is the floor; where the body hangs at an angle it is simply not stated.
        let hangs = self.body_angle_deg.is_some() || other.body_angle_deg.is_some();
        let floor = |h: Option<Metres>| if hangs { h } else { Some(h.unwrap_or(Metres(0.0))) };
        let knees = f64::from(u8::from(self.knees.unwrap_or(false) != other.knees.unwrap_or(false)));
        metres(self.anchor_height_m, other.anchor_height_m)
            + metres(self.anchor_distance_m, other.anchor_distance_m)
            + metres(floor(self.feet_height_m), floor(other.feet_height_m))
            + metres(floor(self.hands_height_m), floor(other.hands_height_m))
            + metres(self.stance_m, other.stance_m)
            + metres(self.grip_shorter_m, other.grip_shorter_m)
            + degrees(self.bench_deg, other.bench_deg)
            + degrees(self.body_angle_deg, other.body_angle_deg)
            + knees
            + f64::from(u8::from(self.foot_in_loop.unwrap_or(false) != other.foot_in_loop.unwrap_or(false)))
            + f64::from(u8::from(self.band_fix.unwrap_or(BandFix::Hung) != other.band_fix.unwrap_or(BandFix::Hung)))
    }

    /// The set-up in words; empty where nothing needs saying.
    pub fn text(&self) -> String {
        let mut text = String::new();
        if let Some(surface) = self.surface {
            match (surface, self.bench_deg) {
                (Surface::Bench, Some(deg)) => add(&mut text, format_args!("bench at {}°", Trimmed(deg.value(), 0))),
                (other, _) => add(&mut text, format_args!("{}", other.label())),
            }
        }
        self.add_geometry(&mut text);
        text
    }

    /// What has to be measured out, in words added to a text.
    pub(crate) fn add_geometry(&self, text: &mut String) {
        let above = |m: Option<Metres>| m.filter(|m| m.value() > 0.0);
        let metres = [
            ("anchor at ", self.anchor_height_m, ""),
            ("step out ", self.anchor_distance_m, ""),
            ("stand on it, feet ", self.stance_m, " wide"),
            ("grip ", above(self.grip_shorter_m), " nearer"),
        ];
        for part in &metres {
            add_metres(text, part);
        }
        if let Some(fix) = self.band_fix.filter(|f| *f != BandFix::Hung) {
            add(text, format_args!("{}", fix.short()));
        }
        if self.foot_in_loop == Some(true) {
            add(text, format_args!("foot in the loop"));
        }
        if self.knees == Some(true) {
            add(text, format_args!("on the knees"));
        }
        let heights = [("hands at ", above(self.hands_height_m), ""), ("feet at ", above(self.feet_height_m), "")];
        for part in &heights {
            add_metres(text, part);
        }
        if let Some(angle) = self.body_angle_deg {
            add(text, format_args!("body at {}° to the floor", Trimmed(angle.value(), 0)));
        }
        add_metres(text, &("straps ", self.strap_m, ""));
        if let Some(part) = self.range {
            add(text, format_args!("{part}"));
        }
    }
}

/// Adds words to a text, after a comma where there are some already.
pub(crate) fn add(text: &mut String, words: fmt::Arguments<'_>) {
    if !text.is_empty() {
        text.push_str(", ");
    }
    // Writing to a string cannot fail.
    let _ = text.write_fmt(words);
}

fn add_metres(text: &mut String, (before, length, after): &(&str, Option<Metres>, &str)) {
    if let Some(length) = length {
        add(text, format_args!("{before}{} m{after}", Trimmed(length.value(), 2)));
    }
}
