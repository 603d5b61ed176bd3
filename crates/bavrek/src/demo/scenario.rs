//! Three invented clients with different rooms. Any likeness to a person is accidental.

use bavrek_core::kit::KitItem;
use bavrek_core::person::{Experience, Limit, Sex};
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::units::{Kilograms, Metres};
use bavrek_store::clients::Client;

use super::{Blocks, read_kit};

/// What is loaded for one client.
pub(super) struct ClientPlan {
    pub(super) client: Client,
    pub(super) limits: Vec<(Limit, &'static str)>,
    pub(super) place: &'static str,
    pub(super) kit: Vec<KitItem>,
    pub(super) session: &'static str,
    pub(super) minutes: i16,
    pub(super) blocks: Blocks,
}

const FLAT: &str = r#"[
    {"kind":"dumbbells","unit":"kg","pairs":[3,5,8,12],"singles":[20]},
    {"kind":"loop_band","label":"green","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","label":"grey","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
    {"kind":"anchor","heights_m":[0.12,1.2,2.0],"door":true},
    {"kind":"chair"}]"#;
const PARK: &str = r#"[
    {"kind":"pull_up_bar","height_m":2.3},
    {"kind":"rings","max_height_m":2.4},
    {"kind":"dip_bars"},
    {"kind":"loop_band","label":"black","count":1,"flat_length_m":1.04,"rated_kg":[16,39]},
    {"kind":"backpack","max_kg":20},
    {"kind":"step","height_m":0.4}]"#;
const HOTEL: &str = r#"[
    {"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,16]},
    {"kind":"bench","angles_deg":[0,30,45,75]},
    {"kind":"parallettes"}]"#;

fn intents(json: &str) -> anyhow::Result<Vec<Intent>> {
    let intents: Vec<Intent> = serde_json::from_str(json)?;
    for intent in &intents {
        intent.validate()?;
    }
    Ok(intents)
}

fn client(name: &str, mass: f64, height: f64, experience: Experience, sex: Sex, born: i16, goal: &str) -> Client {
    Client {
        id: bavrek_store::new_id(),
        name: name.to_owned(),
        body_mass: Kilograms(mass),
        height: Metres(height),
        experience,
        birth_year: Some(born),
        sex: Some(sex),
        goal: goal.to_owned(),
        time_zone: "Europe/Lisbon".to_owned(),
        note: String::new(),
    }
}

/// The three clients of the demo.
pub(super) fn clients() -> anyhow::Result<Vec<ClientPlan>> {
    Ok(vec![flat()?, park()?, hotel()?])
}

fn flat() -> anyhow::Result<ClientPlan> {
    let sore: Limit =
        serde_json::from_str(r#"{"joint":"shoulder","what":"pain_deep_stretch","side":"left","severity":"moderate"}"#)?;
    Ok(ClientPlan {
        client: client(
            "Odalys Finch",
            71.0,
            1.68,
            Experience::Intermediate,
            Sex::Female,
            1987,
            "Size: upper chest and long head of the biceps",
        ),
        limits: vec![(sore, "Since a fall in spring; fine under load with elbows at floor level.")],
        place: "Canal flat",
        kit: read_kit(FLAT)?,
        session: "Chest and arms",
        minutes: 45,
        blocks: vec![
            (
                BlockKind::Straight,
                intents(
                    r#"[{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[6,10],"rir":2,"sets":3,"reference_exercise":"dumbbell_bench_press"}]"#,
                )?,
            ),
            (
                BlockKind::Superset,
                intents(
                    r#"[
                {"pattern":"fly_low_to_high","regions":{"chest_clavicular":1.0},"reps":[10,14],"rir":2,"sets":3,"tempo":"3-0-1-1","reference_exercise":"incline_dumbbell_fly"},
                {"pattern":"wide_row","regions":{"traps_middle":1.0,"delt_rear":0.6},"reps":[10,14],"rir":2,"sets":3}]"#,
                )?,
            ),
            (
                BlockKind::Straight,
                intents(
                    r#"[{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":1,"sets":3,"reference_exercise":"incline_bench_curl"}]"#,
                )?,
            ),
            (
                BlockKind::Straight,
                intents(
                    r#"[{"pattern":"elbow_extension","regions":{"triceps_long":1.0},"arm_position":"overhead","reps":[8,12],"rir":2,"sets":3,"reference_exercise":"overhead_extension"}]"#,
                )?,
            ),
        ],
    })
}

fn park() -> anyhow::Result<ClientPlan> {
    Ok(ClientPlan {
        client: client(
            "Bramwell Tarn",
            84.0,
            1.82,
            Experience::Advanced,
            Sex::Male,
            1991,
            "Strength with size, outdoors",
        ),
        limits: vec![],
        place: "Quarry park",
        kit: read_kit(PARK)?,
        session: "Bar and rings",
        minutes: 40,
        blocks: vec![
            (
                BlockKind::Straight,
                intents(
                    r#"[{"pattern":"vertical_pull","regions":{"lats":1.0},"reps":[5,8],"rir":2,"sets":4,"reference_exercise":"chin_up"}]"#,
                )?,
            ),
            (
                BlockKind::Antagonist,
                intents(
                    r#"[
                {"pattern":"decline_press","regions":{"chest_costal":1.0,"triceps_lateral":0.5},"reps":[6,10],"rir":2,"sets":3},
                {"pattern":"wide_row","regions":{"traps_middle":1.0,"delt_rear":0.6},"reps":[8,12],"rir":2,"sets":3}]"#,
                )?,
            ),
            (
                BlockKind::Straight,
                intents(
                    r#"[{"pattern":"elbow_flexion","regions":{"biceps_short":1.0},"arm_position":"in_front","reps":[8,12],"rir":2,"sets":3}]"#,
                )?,
            ),
        ],
    })
}

fn hotel() -> anyhow::Result<ClientPlan> {
    let tired: Limit =
        serde_json::from_str(r#"{"joint":"low_back","what":"pain_loaded","side":"both","severity":"mild"}"#)?;
    Ok(ClientPlan {
        client: client(
            "Ysolde Quarry",
            62.0,
            1.60,
            Experience::Novice,
            Sex::Female,
            1979,
            "General shape between trips",
        ),
        limits: vec![(tired, "Tired by long standing; supported rows are fine.")],
        place: "Harbour hotel",
        kit: read_kit(HOTEL)?,
        session: "Hotel gym, whole upper body",
        minutes: 35,
        blocks: vec![
            (
                BlockKind::Straight,
                intents(
                    r#"[{"pattern":"incline_press","regions":{"chest_clavicular":1.0},"reps":[8,12],"rir":3,"sets":3,"reference_exercise":"incline_dumbbell_press"}]"#,
                )?,
            ),
            (
                BlockKind::Straight,
                intents(
                    r#"[{"pattern":"close_row","regions":{"lats":1.0},"reps":[8,12],"rir":3,"sets":3,"reference_exercise":"dumbbell_row"}]"#,
                )?,
            ),
            (
                BlockKind::Superset,
                intents(
                    r#"[
                {"pattern":"side_raise","regions":{"delt_side":1.0},"reps":[12,16],"rir":3,"sets":2},
                {"pattern":"elbow_extension","regions":{"triceps_long":1.0},"reps":[10,14],"rir":3,"sets":2}]"#,
                )?,
            ),
        ],
    })
}
