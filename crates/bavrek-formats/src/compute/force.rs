//! `force`: what one rig asks of the limb.

mod rigs;

use bavrek_core::kit::KitItem;
use bavrek_core::mechanics::profile::{Profile, SAMPLES, Thirds};
use bavrek_core::mechanics::two_joint::{JointWay, TwoJoint};
use bavrek_core::person::Person;
use bavrek_core::rigging::Notice;
use bavrek_core::units::GRAVITY;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::parts::check_person;
use crate::RequestError;

/// Points of a curve in an answer.
const POINTS: usize = 13;

/// What is asked.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ForceRequest {
    client: Person,
    rig: Rig,
}

/// A mass as stamped.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub(super) struct Mass {
    value: f64,
    unit: bavrek_core::units::MassUnit,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
enum PushUpSupport {
    Toes,
    Knees,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
enum HandsOn {
    Floor,
    Handles,
    Rings,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
enum JointMovement {
    Curl,
    Fly,
    Extension,
    Raise,
    Pullover,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
enum ArmMovement {
    Press,
    PushUp,
    Row,
}

/// A rig by kind.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
enum Rig {
    PushUp {
        support: PushUpSupport,
        hands_height_m: f64,
        feet_height_m: f64,
        hands_on: HandsOn,
    },
    InvertedRow {
        handle_height_m: f64,
        body_angle_deg: f64,
    },
    RingCurl {
        handle_height_m: f64,
        body_angle_deg: f64,
    },
    Dip {
        added: Option<Mass>,
        assist_band: Option<KitItem>,
        bar_height_m: Option<f64>,
    },
    ChinUp {
        added: Option<Mass>,
        assist_band: Option<KitItem>,
        bar_height_m: Option<f64>,
    },
    BandPull {
        band: KitItem,
        anchor: [f64; 2],
        hand_start: [f64; 2],
        hand_end: [f64; 2],
        strands: Option<u8>,
        wrapped_m: Option<f64>,
    },
    Press {
        dumbbell: Option<Mass>,
        band: Option<KitItem>,
        bench_deg: f64,
    },
    TwoJoint {
        movement: ArmMovement,
        bottom_deg: Option<f64>,
        hands_end_m: Option<f64>,
        hands_outside_m: Option<f64>,
        bottom_m: Option<f64>,
        from_deg: Option<f64>,
        to_deg: Option<f64>,
        dumbbell: Option<Mass>,
        band: Option<KitItem>,
        anchor: Option<[f64; 2]>,
    },
    SingleJoint {
        movement: JointMovement,
        upper_arm_deg: f64,
        torso_deg: f64,
        dumbbell: Option<Mass>,
        band: Option<KitItem>,
        anchor: Option<[f64; 2]>,
        floor: Option<bool>,
    },
}

/// What is answered.
#[derive(Debug, Clone, Serialize, JsonSchema)]
pub struct ForceAnswer {
    effective_kg: f64,
    peak_kg: f64,
    start_kg: f64,
    end_kg: f64,
    curve: Vec<CurvePoint>,
    thirds: [f64; 3],
    #[serde(skip_serializing_if = "Option::is_none")]
    body_mass_fraction: Option<f64>,
    log_sd: f64,
    /// What the shoulder meets, where both joints are asked about.
    #[serde(skip_serializing_if = "Option::is_none")]
    shoulder: Option<JointAnswer>,
    /// What the elbow meets.
    #[serde(skip_serializing_if = "Option::is_none")]
    elbow: Option<JointAnswer>,
    /// The elbow's part of the work of both, 0 to 1.
    #[serde(skip_serializing_if = "Option::is_none")]
    elbow_part: Option<f64>,
    warnings: Vec<Warning>,
}

/// One joint along the way.
#[derive(Debug, Clone, Serialize, JsonSchema)]
struct JointAnswer {
    /// Shares of its work in the lengthened, middle and shortened third.
    thirds: [f64; 3],
    /// Its work, N·m.
    work_nm: f64,
    curve: Vec<CurvePoint>,
}

#[derive(Debug, Clone, Copy, Serialize, JsonSchema)]
struct CurvePoint {
    at: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    n_m: Option<f64>,
    #[serde(skip_serializing_if = "Option::is_none")]
    kg: Option<f64>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct Warning {
    code: String,
    text: String,
}

impl From<Notice> for Warning {
    fn from(notice: Notice) -> Self {
        Self { code: notice.code().into(), text: notice.text() }
    }
}

/// What a rig comes to before it is worded.
struct Loading {
    profile: Profile,
    /// Resistance at the two ends, in the profile's unit.
    ends: [f64; 2],
    /// Whether the profile is a moment in N·m; otherwise a force in N.
    moment: bool,
    /// What the profile's unit is divided by to give kilograms: mean, and peak.
    per_kilogram: [f64; 2],
    thirds: Thirds,
    log_sd: f64,
    body_mass_fraction: Option<f64>,
    joints: Option<TwoJoint>,
    warnings: Vec<Warning>,
}

impl Loading {
    fn of_force(profile: Profile, ends: [f64; 2], log_sd: f64) -> Self {
        Self {
            profile,
            ends,
            moment: false,
            per_kilogram: [GRAVITY; 2],
            thirds: Thirds::of_path(),
            log_sd,
            body_mass_fraction: None,
            joints: None,
            warnings: Vec::new(),
        }
    }
}

pub(super) fn answer(request: &ForceRequest) -> Result<ForceAnswer, RequestError> {
    check_person(&request.client)?;
    let mut loading = rigs::loading(&request.client, &request.rig)?;
    let Some(thirds) = loading.profile.shares(&loading.thirds) else {
        return Err(RequestError::new("rig", "the resistance does not oppose the movement anywhere"));
    };
    let [mean, top] = loading.per_kilogram;
    let effective_kg = loading.profile.work() / mean;
    let largest = loading.profile.peak().max(loading.ends[0]).max(loading.ends[1]);
    if loading.ends.iter().any(|e| *e < -1e-9) {
        loading.warnings.push(Notice::PartWithoutLoad.into());
    }
    let numbers = [effective_kg, largest / top, loading.ends[0] / top, loading.ends[1] / top];
    if numbers.iter().chain(&thirds).any(|n| !n.is_finite()) {
        return Err(RequestError::new("rig", "these measures give no finite load"));
    }
    Ok(ForceAnswer {
        effective_kg,
        peak_kg: numbers[1],
        start_kg: numbers[2],
        end_kg: numbers[3],
        curve: curve(&loading),
        thirds,
        body_mass_fraction: loading.body_mass_fraction,
        log_sd: loading.log_sd,
        shoulder: loading.joints.as_ref().and_then(|both| joint(&both.shoulder, &loading.profile)),
        elbow: loading.joints.as_ref().and_then(|both| joint(both.elbow.as_ref()?, &loading.profile)),
        elbow_part: loading
            .joints
            .as_ref()
            .filter(|both| both.elbow.is_some())
            .map(|both| both.elbow_part(&loading.profile)),
        warnings: loading.warnings,
    })
}

/// What one joint meets; none where it does no work.
fn joint(way: &JointWay, force: &Profile) -> Option<JointAnswer> {
    let moment = way.moment(force);
    let point = |i: usize| {
        let at = i as f64 / (POINTS - 1) as f64;
        CurvePoint { at, n_m: Some(moment.at(at)), kg: None }
    };
    let thirds = way.shares(force)?;
    Some(JointAnswer { thirds, work_nm: way.work(force, false), curve: (0..POINTS).map(point).collect() })
}

/// The resistance at equal distances from the lengthened to the shortened end.
fn curve(loading: &Loading) -> Vec<CurvePoint> {
    (0..POINTS)
        .map(|i| {
            let at = i as f64 / (POINTS - 1) as f64;
            let value = match i {
                0 => loading.ends[0],
                _ if i == POINTS - 1 => loading.ends[1],
                // Samples lie at midpoints: interpolate between the two around the point.
                _ => {
                    let place = at * SAMPLES as f64 - 0.5;
                    let low = place.floor() as usize;
                    let share = place - low as f64;
                    loading.profile.0[low] * (1.0 - share) + loading.profile.0[(low + 1).min(SAMPLES - 1)] * share
                }
            };
            if loading.moment {
                CurvePoint { at, n_m: Some(value), kg: None }
            } else {
                CurvePoint { at, n_m: None, kg: Some(value / GRAVITY) }
            }
        })
        .collect()
}
