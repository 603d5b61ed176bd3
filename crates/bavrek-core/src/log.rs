//! What was done: logged sets and what was seen in them.

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use crate::anatomy::{Joint, Region, vocabulary};
use crate::dose::{SetKind, StampedLoad, Tempo};
use crate::execution::RangePart;
use crate::kit::{KitItem, NamedBand};
use crate::ladder::LadderStep;
use crate::movement::Movement;
use crate::person::Side;
use crate::ranges::{self, RangeError};
use crate::reps;
use crate::rigging::Setup;
use crate::units::Kilograms;

vocabulary!(
    /// What a trainer saw or a client felt; each decides something.
    Observation {
        RangeShort => "range_short", "range cut short";
        Easy => "easy", "last reps easy";
        Hard => "hard", "last reps hard";
        Impossible => "impossible", "last reps impossible";
        BandTooEasy => "band_too_easy", "band too easy by rep five";
        BandSlack => "band_slack", "band slack at the start";
        ElbowDrift => "elbow_drift", "elbow drifts";
        Swinging => "swinging", "swinging";
        FlyBecamePress => "fly_became_press", "fly became a press";
        ForearmTips => "forearm_tips", "forearm tips";
        FeltInTriceps => "felt_in_triceps", "felt in the triceps first";
        FeltInFrontShoulder => "felt_in_front_shoulder", "felt in the front shoulder";
        FeltOnTarget => "felt_on_target", "felt where it should be";
        FeltElsewhere => "felt_elsewhere", "felt somewhere else";
        ShoulderRolled => "shoulder_rolled", "shoulder rolls forward";
        BackLifted => "back_lifted", "lower back lifts";
        HipsSagged => "hips_sagged", "hips sag";
        SpeedLost => "speed_lost", "lowering speed lost";
        SideGap => "side_gap", "left and right differ";
        RingsShook => "rings_shook", "ring straps shake";
        AnchorMoved => "anchor_moved", "anchor or furniture moved";
    }
);

/// One logged set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct LoggedSet {
    /// The movement's identifier.
    pub exercise: String,
    /// The day, in the client's time zone.
    pub date: NaiveDate,
    /// Load as stamped.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub load: Option<StampedLoad>,
    /// The band used.
    // Boxed: few sets name one in full, and logs are kept by the ten thousands.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub band: Option<Box<KitItem>>,
    /// The set-up it was done with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setup: Option<Setup>,
    /// The bands in it, where it was done on a step of a ladder.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub bands: Vec<NamedBand>,
    /// Effective load, where it was computed when logged.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub effective_kg: Option<Kilograms>,
    /// What the set was made of, where it was not a plain one: mixed, to a total, an extension.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kind: Option<SetKind>,
    /// Repetitions, all of them where something was changed within the set; of a mixed set those that moved.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reps: Option<u16>,
    /// What was changed within the set. What is said of its load, bands and set-up elsewhere is how it began.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub changed: Option<Box<Changed>>,
    /// Seconds, for holds and timed stations; of a mixed set those that were held.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub seconds: Option<u16>,
    /// Repetitions in reserve.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rir: Option<u8>,
    /// Tempo.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tempo: Option<Tempo>,
    /// Side, for one-sided work.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub side: Option<Side>,
    /// Whether form was kept.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub form_kept: Option<bool>,
    /// Pain, 0 to 10.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pain: Option<u8>,
    /// The joint that hurt, where it was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pain_at: Option<Joint>,
    /// Its side, where it was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pain_side: Option<Side>,
    /// Where it was felt, where that was somewhere else than it should be.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub felt_at: Option<Region>,
    /// What was seen.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub seen: Vec<Observation>,
    /// Whether the trainer set it aside: it was done, and counts as work and for pain, but says nothing of strength or of the
    /// next step.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub set_aside: bool,
}

/// What was changed within a set, and after how much of it: five repetitions as it began, ten more after a step back.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Changed {
    /// Repetitions before the change: at least one, and fewer than the set has.
    pub after: u16,
    /// Load as stamped, from there on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub load: Option<StampedLoad>,
    /// Set-up from there on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setup: Option<Setup>,
    /// The bands in it from there on.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub bands: Vec<NamedBand>,
    /// Effective load from there on.
    pub effective_kg: Kilograms,
}

impl Changed {
    /// What a set goes on with on a step, after so many repetitions.
    pub fn to(step: &LadderStep, after: u16) -> Self {
        Self {
            after,
            load: step.load,
            setup: Some(step.setup),
            bands: step.bands.clone(),
            effective_kg: step.effective_kg,
        }
    }
}

/// Pain, of 10, from which a movement is stopped.
pub const PAIN_THAT_STOPS: u8 = 4;
/// Most repetitions that one set may log.
pub const MOST_REPS: u16 = 100;
/// Most repetitions in reserve that anyone can judge.
pub const MOST_RIR: u8 = 6;
/// Longest hold, s.
pub const LONGEST_HOLD: u16 = 900;

impl LoggedSet {
    /// A set of a movement on a day of which nothing else is stated yet.
    pub fn of(exercise: impl Into<String>, date: NaiveDate) -> Self {
        Self {
            exercise: exercise.into(),
            date,
            load: None,
            band: None,
            setup: None,
            bands: Vec::new(),
            effective_kg: None,
            kind: None,
            reps: None,
            changed: None,
            seconds: None,
            rir: None,
            tempo: None,
            side: None,
            form_kept: None,
            pain: None,
            pain_at: None,
            pain_side: None,
            felt_at: None,
            seen: Vec::new(),
            set_aside: false,
        }
    }

    /// Checks the figures; the path names the field.
    pub fn validate(&self) -> Result<(), RangeError> {
        if self.reps.is_none() && self.seconds.is_none() {
            return Err(RangeError::new("reps", "give the repetitions or the seconds"));
        }
        if self.reps.is_some_and(|r| r > MOST_REPS) {
            return Err(RangeError::new("reps", format!("must be 0 to {MOST_REPS}")));
        }
        if self.seconds.is_some_and(|s| s == 0 || s > LONGEST_HOLD) {
            return Err(RangeError::new("seconds", format!("must be 1 to {LONGEST_HOLD}")));
        }
        if self.rir.is_some_and(|r| r > MOST_RIR) {
            return Err(RangeError::new("rir", format!("must be 0 to {MOST_RIR}")));
        }
        if self.pain.is_some_and(|p| p > 10) {
            return Err(RangeError::new("pain", "must be 0 to 10"));
        }
        if let Some(load) = self.load {
            ranges::HELD.check("load.value", load.kilograms().value())?;
        }
        self.changed.as_deref().map_or(Ok(()), |changed| self.validate_changed(changed))?;
        if let Some(band) = &self.band {
            band.validate().map_err(|e| e.under("band"))?;
        }
        Ok(())
    }

    fn validate_changed(&self, changed: &Changed) -> Result<(), RangeError> {
        let Some(reps) = self.reps else {
            return Err(RangeError::new("changed", "only what is counted in repetitions can be changed within a set"));
        };
        if changed.after == 0 || changed.after >= reps {
            return Err(RangeError::new(
                "changed.after",
                format!("must be at least 1 and fewer than the {reps} repetitions of the set"),
            ));
        }
        ranges::EFFECTIVE.check("changed.effective_kg", changed.effective_kg.value())?;
        changed.load.map_or(Ok(()), |load| ranges::HELD.check("changed.load.value", load.kilograms().value()).map(drop))
    }

    /// The same of a set of a movement: nobody holds as much in one hand as a bar weighs in both.
    pub fn validate_as(&self, movement: &Movement) -> Result<(), RangeError> {
        self.validate()?;
        let within = |path: &str, load: Option<StampedLoad>| {
            let kilograms = load.map(|load| load.kilograms().value());
            kilograms.map_or(Ok(()), |kg| movement.load_range().check(path, kg).map(drop))
        };
        within("load.value", self.load)?;
        within("changed.load.value", self.changed.as_ref().and_then(|changed| changed.load))
    }

    /// Repetitions as if all of them had been done the way the set began, which came to so much, `arm` of it being lifted besides; those
    /// that were counted where nothing was changed within it. What is left in reserve, where that is not told, is taken to be so much.
    pub fn reps_as_begun(&self, (began, arm): (Kilograms, Kilograms), reserve: f64) -> Option<f64> {
        let reps = f64::from(self.reps?);
        let Some(changed) = self.changed.as_deref() else { return Some(reps) };
        let before = f64::from(changed.after);
        let reserve = self.rir.map_or(reserve, f64::from);
        let ratio = ((changed.effective_kg + arm).value() / (began + arm).value()).ln();
        Some(if ratio.is_finite() { reps::as_begun([before, reps - before], reserve, ratio) } else { reps })
    }

    /// Its repetitions as they are told: `12`, and `5 + 10` where something was changed after five; none where none were counted.
    pub fn reps_told(&self) -> Option<String> {
        let reps = self.reps?;
        Some(match self.changed.as_deref() {
            Some(changed) => format!("{} + {}", changed.after, reps.saturating_sub(changed.after)),
            None => reps.to_string(),
        })
    }

    /// What was done from a change within the set on, as a set by itself; none where nothing was changed.
    pub fn from_the_change(&self) -> Option<Self> {
        let changed = self.changed.as_deref()?;
        Some(Self {
            load: changed.load,
            setup: changed.setup.or(self.setup),
            bands: changed.bands.clone(),
            band: None,
            effective_kg: Some(changed.effective_kg),
            reps: self.reps.map(|reps| reps.saturating_sub(changed.after)),
            // Nobody knows how the seconds divide.
            seconds: None,
            changed: None,
            ..self.clone()
        })
    }

    /// What it was done with, as a trainer says it: `12 kg each hand`, `body weight + 10 kg`, `body weight, loop 22 mm helping`;
    /// empty where nothing was told.
    pub fn load_told(&self, movement: &Movement) -> String {
        let body = movement.rig.is_lever() && !movement.rig.is_resisted();
        let mut parts: Vec<String> = body.then(|| "body weight".to_owned()).into_iter().collect();
        parts.extend(self.load.map(|load| movement.told(&load)));
        let own = self.bands.iter().map(|band| band.name.clone());
        let bands: Vec<String> = own.chain(self.band.as_deref().map(KitItem::name)).collect();
        if movement.rig.is_helped_by_bands() {
            let helping = bands.iter().map(|band| format!(", {band} helping"));
            return parts.join(" + ") + &helping.collect::<String>();
        }
        parts.extend(bands);
        parts.join(" + ")
    }

    /// What it came to, to two figures, where what it was done with does not say that: a share of the body, a band, or nothing
    /// that was told. A weight in the hands says it itself; what the other hand resists nobody can state.
    pub fn comes_to(&self, movement: Option<&Movement>) -> Option<Kilograms> {
        if movement.is_some_and(|m| m.rig.is_resisted()) {
            return None;
        }
        let body = movement.is_some_and(|m| m.rig.is_lever());
        let says_itself = self.load.is_some() && !body && self.bands.is_empty() && self.band.is_none();
        self.effective_kg.filter(|kg| !says_itself && kg.value() > 0.0).map(Kilograms::two_figures)
    }

    /// Whether it was done in the part of the range that is asked, as far as they can be compared: a half is compared with the
    /// same half alone, and short of lock-out with the whole.
    pub fn is_of_part(&self, asked: Option<RangePart>) -> bool {
        let half = |part: Option<RangePart>| part.filter(|p| p.is_half());
        half(self.setup.and_then(|setup| setup.range)) == half(asked)
    }

    /// Whether its repetitions tell of strength: those of a mixed set were in part held, those of a timed station were done
    /// against the clock. Of an extension they say at least.
    pub const fn tells_strength(&self) -> bool {
        self.reps.is_some() && !matches!(self.kind, Some(SetKind::Mixed | SetKind::Station))
    }

    /// Whether something went wrong in it that a person should look at: something was seen, form was lost, anything hurt.
    pub fn shows_trouble(&self) -> bool {
        !self.seen.is_empty() || self.form_kept == Some(false) || self.pain.is_some_and(|p| p > 0)
    }

    /// Whether this set reports joint pain that must change something: 4 of 10 or more.
    pub fn hurt(&self) -> bool {
        self.pain.is_some_and(|p| p >= PAIN_THAT_STOPS)
    }
}
