//! Each rig of the contract as a load of the core.

use bavrek_core::kit::KitItem;
use bavrek_core::mechanics::band::{Rubber, stood_on};
use bavrek_core::mechanics::lever::{self, PUSH_UP_SHARE, PushUp, RING_PUSH_UP_SD, Support};
use bavrek_core::mechanics::path::{AnchoredPath, BandUnderBack, Trapped, kilogram_force};
use bavrek_core::mechanics::profile::Profile;
use bavrek_core::mechanics::ring_curl::{ELBOW_RANGE, RingCurl};
use bavrek_core::mechanics::single_joint::{BandPull, JointAction, SingleJoint};
use bavrek_core::mechanics::two_joint::{ArmWay, TwoJoint};
use bavrek_core::person::Person;
use bavrek_core::ranges::{self, LegalRange};
use bavrek_core::rigging::{BandInUse, Notice, helping_band};
use bavrek_core::units::{Degrees, GRAVITY, Kilograms, Metres};

use super::{ArmMovement, HandsOn, JointMovement, Loading, Mass, PushUpSupport, Rig};
use crate::RequestError;

/// Log-SD of the convention that equal work is equal load.
const EQUAL_WORK_SD: f64 = 0.08;
/// Log-SD of a weighed load.
const WEIGHED_SD: f64 = 0.01;

fn check(range: LegalRange, field: &str, value: f64) -> Result<f64, RequestError> {
    range.check(field, value).map_err(RequestError::at("rig"))
}

fn mass(field: &str, given: Option<Mass>, range: LegalRange) -> Result<Kilograms, RequestError> {
    let kg = given.map_or(0.0, |m| m.value * m.unit.in_kilograms());
    if given.is_some() {
        check(range, &format!("{field}.value"), kg)?;
    }
    Ok(Kilograms(kg))
}

/// A band of the kit: its force law, its whole length, and the strands at the hand when fixed at one end.
struct Band {
    rubber: Rubber,
    whole: Metres,
    tube: bool,
}

fn band(field: &str, item: &KitItem) -> Result<Band, RequestError> {
    let path = format!("rig.{field}");
    item.validate().map_err(RequestError::at(&path))?;
    match item {
        KitItem::LoopBand(b) => {
            Ok(Band { rubber: b.rubber().map_err(RequestError::refused(&path))?, whole: b.flat_length_m, tube: false })
        }
        KitItem::TubeBand(b) => {
            Ok(Band { rubber: b.rubber().map_err(RequestError::refused(&path))?, whole: b.rest_length_m, tube: true })
        }
        _ => Err(RequestError::new(format!("{path}.kind"), "must be a loop_band or a tube_band")),
    }
}

pub(super) fn loading(person: &Person, rig: &Rig) -> Result<Loading, RequestError> {
    match rig {
        Rig::PushUp { support, hands_height_m, feet_height_m, hands_on } => {
            push_up(person, *support, *hands_height_m, *feet_height_m, *hands_on)
        }
        Rig::InvertedRow { handle_height_m, body_angle_deg } => inverted_row(person, *handle_height_m, *body_angle_deg),
        Rig::RingCurl { handle_height_m, body_angle_deg } => ring_curl(person, *handle_height_m, *body_angle_deg),
        Rig::Dip { added, assist_band, bar_height_m } | Rig::ChinUp { added, assist_band, bar_height_m } => {
            hanging(person, *added, assist_band.as_ref(), *bar_height_m)
        }
        Rig::BandPull { band, anchor, hand_start, hand_end, strands, wrapped_m } => {
            band_pull(band, *anchor, [*hand_start, *hand_end], *strands, *wrapped_m)
        }
        Rig::Press { dumbbell, band, bench_deg } => press(person, *dumbbell, band.as_ref(), *bench_deg),
        Rig::TwoJoint {
            movement,
            bottom_deg,
            hands_end_m,
            hands_outside_m,
            bottom_m,
            from_deg,
            to_deg,
            dumbbell,
            band,
            anchor,
        } => {
            let asked = [*bottom_deg, *hands_end_m, *hands_outside_m, *bottom_m, *from_deg, *to_deg];
            two_joint(person, arm_way(*movement, asked)?, *dumbbell, band.as_ref(), *anchor)
        }
        Rig::SingleJoint { movement, upper_arm_deg, torso_deg, dumbbell, band, anchor, floor } => {
            check(ranges::LIMB_ANGLE, "upper_arm_deg", *upper_arm_deg)?;
            check(ranges::LIMB_ANGLE, "torso_deg", *torso_deg)?;
            let action = match movement {
                JointMovement::Curl => JointAction::Curl,
                JointMovement::Fly => JointAction::Fly,
                JointMovement::Extension => JointAction::Extension,
                JointMovement::Raise => JointAction::Raise,
                JointMovement::Pullover => JointAction::Pullover,
            };
            let joint = SingleJoint::new(
                action,
                Degrees(*upper_arm_deg),
                Degrees(*torso_deg),
                person.height_m,
                floor.unwrap_or(false),
            );
            single_joint(person, &joint, *dumbbell, band.as_ref(), *anchor)
        }
    }
}

fn push_up(
    person: &Person,
    support: PushUpSupport,
    hands: f64,
    feet: f64,
    on: HandsOn,
) -> Result<Loading, RequestError> {
    check(ranges::HANGING_HEIGHT, "hands_height_m", hands)?;
    check(ranges::HANGING_HEIGHT, "feet_height_m", feet)?;
    let support = match support {
        PushUpSupport::Toes => Support::Toes,
        PushUpSupport::Knees => Support::Knees,
    };
    let posture = PushUp { support, hands: Metres(hands), feet: Metres(feet) };
    let load = posture.load(person.height_m, PUSH_UP_SHARE).map_err(RequestError::refused("rig"))?;
    let mean = load.fraction * person.body_mass_kg.weight().value();
    let ends = posture.ends(mean);
    let log_sd = if on == HandsOn::Rings { load.log_sd.max(RING_PUSH_UP_SD) } else { load.log_sd };
    let profile = Profile::sample(|s| ends[0] + (ends[1] - ends[0]) * s);
    let mut loading = Loading { body_mass_fraction: Some(load.fraction), ..Loading::of_force(profile, ends, log_sd) };
    if load.beyond_data {
        loading.warnings.push(Notice::BeyondData.into());
    }
    if on == HandsOn::Rings {
        loading.warnings.push(Notice::Unstable.into());
    }
    Ok(loading)
}

fn inverted_row(person: &Person, handle: f64, body: f64) -> Result<Loading, RequestError> {
    check(ranges::HANGING_HEIGHT, "handle_height_m", handle)?;
    check(ranges::BODY_ANGLE, "body_angle_deg", body)?;
    let load = lever::inverted_row(Degrees(body), Degrees(90.0)).map_err(RequestError::refused("rig"))?;
    let force = load.fraction * person.body_mass_kg.weight().value();
    let loading = Loading::of_force(Profile([force; 60]), [force; 2], load.log_sd);
    Ok(Loading { body_mass_fraction: Some(load.fraction), ..loading })
}

fn ring_curl(person: &Person, handle: f64, body: f64) -> Result<Loading, RequestError> {
    check(ranges::HANGING_HEIGHT, "handle_height_m", handle)?;
    check(ranges::BODY_ANGLE, "body_angle_deg", body)?;
    // The strap length is not part of the request: 1.2 m, as in the reference posture.
    let curl = RingCurl {
        stature: person.height_m,
        body_mass: person.body_mass_kg,
        start_angle: Degrees(body),
        strap: Metres(1.2),
    };
    let refused = RequestError::refused("rig");
    let profile = curl.profile().map_err(&refused)?;
    let end = |angle: f64| curl.point(Degrees(angle)).map(|p| p.moment).map_err(&refused);
    let reference = SingleJoint::new(JointAction::Curl, Degrees(0.0), Degrees(0.0), person.height_m, false);
    let unit = reference.kilogram_profile();
    // Both arms together; an effective load is each hand's.
    Ok(Loading {
        ends: [end(ELBOW_RANGE.0)?, end(ELBOW_RANGE.1)?],
        moment: true,
        per_kilogram: [2.0 * unit.work(), 2.0 * unit.peak()],
        thirds: reference.thirds(),
        ..Loading::of_force(profile, [0.0; 2], 0.15)
    })
}

fn hanging(
    person: &Person,
    added: Option<Mass>,
    assist: Option<&KitItem>,
    bar: Option<f64>,
) -> Result<Loading, RequestError> {
    let added = mass("added", added, ranges::ADDED_LOAD)?;
    if let Some(height) = bar {
        check(ranges::HANGING_HEIGHT, "bar_height_m", height)?;
    }
    let weight = lever::hanging_load(person.body_mass_kg, person.sex, added).weight().value();
    let share = Some(lever::moved_share(person.sex));
    let Some(item) = assist else {
        let loading = Loading::of_force(Profile([weight; 60]), [weight; 2], lever::HANG_SD);
        return Ok(Loading { body_mass_fraction: share, ..loading });
    };
    let band = band("assist_band", item)?;
    if band.tube {
        return Err(RequestError::new("rig.assist_band.kind", "must be a loop_band"));
    }
    let in_use = BandInUse { rubber: band.rubber, flat: band.whole, tube: false, count: 1 };
    let help = helping_band(person, &in_use, false);
    let refused = RequestError::refused("rig.assist_band");
    let profile = Profile([weight; 60]).plus(&help.profile().map_err(&refused)?);
    let ends = [weight + help.force_at(0.0).map_err(&refused)?, weight + help.force_at(1.0).map_err(&refused)?];
    let mut loading = Loading::of_force(profile, ends, lever::HANG_SD.hypot(0.05));
    loading.body_mass_fraction = share;
    loading.warnings.push(Notice::HelpAtBottom.into());
    Ok(loading)
}

fn band_pull(
    item: &KitItem,
    anchor: [f64; 2],
    hands: [[f64; 2]; 2],
    strands: Option<u8>,
    wrapped: Option<f64>,
) -> Result<Loading, RequestError> {
    let band = band("band", item)?;
    for (field, point) in [("anchor", anchor), ("hand_start", hands[0]), ("hand_end", hands[1])] {
        for (i, value) in point.into_iter().enumerate() {
            check(ranges::COORDINATE, &format!("{field}[{i}]"), value)?;
        }
    }
    let strands = strands.unwrap_or(if band.tube { 1 } else { 2 });
    if !(1..=8).contains(&strands) {
        return Err(RequestError::new("rig.strands", "must be 1 to 8"));
    }
    let wrapped = check(LegalRange { min: 0.0, max: 3.0, unit: "m" }, "wrapped_m", wrapped.unwrap_or(0.0))?;
    // More strands at the hand than the band has by nature fold it: each is as much shorter.
    let natural = if band.tube { 1.0 } else { 2.0 };
    let free = Metres((band.whole.value() - wrapped) * natural / f64::from(strands).max(natural));
    let path =
        AnchoredPath { rubber: band.rubber, strands: f64::from(strands), free, anchor, start: hands[0], end: hands[1] };
    let refused = RequestError::refused("rig");
    let ends = [path.force_at(0.0).map_err(&refused)?, path.force_at(1.0).map_err(&refused)?];
    let mut loading = Loading::of_force(path.profile().map_err(&refused)?, ends, band.rubber.log_sd());
    let first = (hands[0][0] - anchor[0]).hypot(hands[0][1] - anchor[1]) / free.value();
    loading.warnings.extend(Notice::of_stretch(first, path.largest_stretch()).into_iter().map(Into::into));
    Ok(loading)
}

fn press(
    person: &Person,
    dumbbell: Option<Mass>,
    item: Option<&KitItem>,
    bench_deg: f64,
) -> Result<Loading, RequestError> {
    check(ranges::BENCH_ANGLE, "bench_deg", bench_deg)?;
    let kg = mass("dumbbell", dumbbell, ranges::DUMBBELL)?.value();
    if dumbbell.is_none() && item.is_none() {
        return Err(RequestError::new("rig.dumbbell", "give a dumbbell, a band or both"));
    }
    let weight = kg * kilogram_force(Degrees(0.0));
    let mut loading = Loading::of_force(Profile([weight; 60]), [weight; 2], WEIGHED_SD);
    if let Some(item) = item {
        let found = band("band", item)?;
        if found.tube {
            return Err(RequestError::new("rig.band.kind", "must be a loop_band under the bench or back"));
        }
        let scale = person.height_m.value() / 1.75;
        let (bottom, top) = (Metres(0.5 * scale), Metres(0.9 * scale));
        let of = |trapped| BandUnderBack::usual(found.rubber, found.whole, person.height_m, trapped);
        let refused = RequestError::refused("rig");
        let pinned = of(Trapped::Pinned);
        let rubber = pinned.profile(bottom, top).map_err(&refused)?;
        let slipping = of(Trapped::Slipping).profile(bottom, top).map_err(&refused)?;
        let ends = [pinned.force_at(bottom).map_err(&refused)?, pinned.force_at(top).map_err(&refused)?];
        loading.profile = loading.profile.plus(&rubber);
        loading.ends = [weight + ends[0], weight + ends[1]];
        loading.log_sd = found.rubber.log_sd().hypot(0.10) * rubber.work() / loading.profile.work();
        loading.warnings.push(
            Notice::PinnedOrSlipping(
                Kilograms(kg + rubber.work() / GRAVITY),
                Kilograms(kg + slipping.work() / GRAVITY),
            )
            .into(),
        );
    }
    Ok(loading)
}

/// Angles of an upper arm in a press or row, degrees.
const ARM_ANGLE: LegalRange = LegalRange { min: -90.0, max: 180.0, unit: "degrees" };
/// Distances of the hand from the shoulder, m.
const HAND_OUT: LegalRange = LegalRange { min: -0.3, max: 0.5, unit: "m" };

/// The way of the arm; what is not given is usual.
fn arm_way(movement: ArmMovement, asked: [Option<f64>; 6]) -> Result<ArmWay, RequestError> {
    const FIELDS: [(&str, LegalRange); 6] = [
        ("bottom_deg", ARM_ANGLE),
        ("hands_end_m", HAND_OUT),
        ("hands_outside_m", HAND_OUT),
        ("bottom_m", HAND_OUT),
        ("from_deg", ARM_ANGLE),
        ("to_deg", ARM_ANGLE),
    ];
    for ((field, range), value) in FIELDS.into_iter().zip(asked) {
        value.map_or(Ok(0.0), |v| check(range, field, v))?;
    }
    let [bottom_deg, hands_end, hands_out, bottom, from, to] = asked;
    Ok(match movement {
        ArmMovement::Press => {
            ArmWay::Press { bottom_deg: bottom_deg.unwrap_or(-25.0), hands_end: hands_end.unwrap_or(0.10) }
        }
        ArmMovement::PushUp => ArmWay::PushUp { hands_out: hands_out.unwrap_or(0.15), bottom: bottom.unwrap_or(0.13) },
        ArmMovement::Row => ArmWay::Row { from_deg: from.unwrap_or(0.0), to_deg: to.unwrap_or(90.0), lean_deg: 0.0 },
    })
}

fn two_joint(
    person: &Person,
    way: ArmWay,
    dumbbell: Option<Mass>,
    item: Option<&KitItem>,
    anchor: Option<[f64; 2]>,
) -> Result<Loading, RequestError> {
    let kg = mass("dumbbell", dumbbell, ranges::DUMBBELL)?.value();
    let mut force = Profile([kg * GRAVITY; 60]);
    let mut log_sd = WEIGHED_SD;
    let mut share = None;
    if let Some(item) = item {
        let found = band("band", item)?;
        let Some([start, end]) = way.hand(person.height_m) else {
            return Err(RequestError::new("rig.band", "a band row is asked as band_pull"));
        };
        let anchor = anchor.ok_or_else(|| RequestError::new("rig.anchor", "say where the band is fixed"))?;
        for (i, value) in anchor.into_iter().enumerate() {
            check(ranges::COORDINATE, &format!("anchor[{i}]"), value)?;
        }
        let path = AnchoredPath {
            rubber: found.rubber,
            strands: if found.tube { 1.0 } else { 2.0 },
            free: found.whole,
            anchor,
            start,
            end,
        };
        let refused = RequestError::refused("rig.band");
        force = force.plus(&path.profile().map_err(&refused)?);
        log_sd = log_sd.hypot(found.rubber.log_sd());
    } else if dumbbell.is_none() {
        let ArmWay::PushUp { .. } = way else {
            return Err(RequestError::new("rig.dumbbell", "give a dumbbell, a band or both"));
        };
        // A flat push-up: each hand carries half.
        share = Some(PUSH_UP_SHARE);
        force = Profile([0.5 * PUSH_UP_SHARE * person.body_mass_kg.weight().value(); 60]);
        log_sd = 0.06;
    }
    let both = TwoJoint::of(way, person.height_m);
    let ends = [force.0[0], force.0[59]];
    Ok(Loading {
        thirds: both.shoulder.thirds(),
        joints: Some(both),
        body_mass_fraction: share,
        ..Loading::of_force(force, ends, log_sd)
    })
}

fn single_joint(
    person: &Person,
    joint: &SingleJoint,
    dumbbell: Option<Mass>,
    item: Option<&KitItem>,
    anchor: Option<[f64; 2]>,
) -> Result<Loading, RequestError> {
    let kg = mass("dumbbell", dumbbell, ranges::DUMBBELL)?.value();
    if dumbbell.is_none() && item.is_none() {
        return Err(RequestError::new("rig.dumbbell", "give a dumbbell, a band or both"));
    }
    let own = joint.kilogram_profile();
    let unit = if dumbbell.is_some() && own.work() > 1e-6 { own } else { joint.reference().kilogram_profile() };
    let ends_of = |f: &dyn Fn(f64) -> f64| [f(joint.from.value()), f(joint.to.value())];
    let gravity = ends_of(&|angle| kg * joint.moment_of_kilogram(angle));
    let mut loading = Loading {
        ends: gravity,
        moment: true,
        per_kilogram: [unit.work(), unit.peak()],
        thirds: joint.thirds(),
        ..Loading::of_force(own.times(kg), gravity, WEIGHED_SD)
    };
    if let Some(item) = item {
        let pull = joint_band(person, joint, item, anchor)?;
        let refused = RequestError::refused("rig");
        let rubber = joint.band_profile(&pull).map_err(&refused)?;
        let at = |angle: f64| joint.moment_of_band(&pull, angle).map_err(&refused);
        let ends = [at(joint.from.value())?, at(joint.to.value())?];
        loading.profile = loading.profile.plus(&rubber);
        loading.ends = [gravity[0] + ends[0], gravity[1] + ends[1]];
        loading.log_sd = pull.rubber.log_sd().hypot(EQUAL_WORK_SD);
        let (hand, _) = joint.hand(joint.from.value());
        let first = (pull.anchor[0] - hand[0]).hypot(pull.anchor[1] - hand[1]) / pull.free.value();
        loading.warnings.extend(Notice::of_stretch(first, joint.largest_stretch(&pull)).into_iter().map(Into::into));
    }
    Ok(loading)
}

/// The band of a single-joint rig: from the given anchor with its whole length, else stood on with feet hip-wide.
fn joint_band(
    person: &Person,
    joint: &SingleJoint,
    item: &KitItem,
    anchor: Option<[f64; 2]>,
) -> Result<BandPull, RequestError> {
    let found = band("band", item)?;
    if let Some(anchor) = anchor {
        for (i, value) in anchor.into_iter().enumerate() {
            check(ranges::COORDINATE, &format!("anchor[{i}]"), value)?;
        }
        let strands = if found.tube { 1.0 } else { 2.0 };
        return Ok(BandPull { rubber: found.rubber, strands, free: found.whole, anchor });
    }
    if matches!(joint.action, JointAction::Fly | JointAction::Pullover) {
        return Err(RequestError::new("rig.anchor", "a band needs an anchor for this movement"));
    }
    let stance = Metres(0.20);
    let free = if found.tube {
        bavrek_core::mechanics::band::tube_stood_on(found.whole, stance)
    } else {
        stood_on(found.whole, stance, Metres(0.10))
    };
    Ok(BandPull { rubber: found.rubber, strands: 1.0, free, anchor: [0.0, -0.80 * person.height_m.value()] })
}
