//! Invented clients with different rooms: five of their own kind, and five who train alike. Any likeness to a person is accidental.

use bavrek_core::aims::Goal;
use bavrek_core::anatomy::Region;
use bavrek_core::kit::{KitItem, Setting};
use bavrek_core::notes::NoteKind;
use bavrek_core::person::{AgeBand, Experience, Limit, Sex, Side};
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::units::{Kilograms, Metres};
use bavrek_store::clients::Client;

use super::{Blocks, Focus, read_kit};

/// A place: name, what it is, kit, and whether improvised things were looked at.
type PlacePlan = (&'static str, Setting, Vec<KitItem>, bool);

/// What is loaded for one client.
pub(super) struct ClientPlan {
    pub(super) client: Client,
    pub(super) limits: Vec<(Limit, &'static str)>,
    /// Plans are made for the first.
    pub(super) places: Vec<PlacePlan>,
    pub(super) focus: Focus,
    /// Movement, weight in each hand, repetitions.
    pub(super) told: Vec<(&'static str, Option<f64>, u16)>,
    pub(super) seen: Vec<(NoteKind, Option<Side>, &'static str)>,
    /// The question that was answered with yes, and who cleared it.
    pub(super) screening: Option<(Option<&'static str>, Option<&'static str>)>,
    /// Name and minutes.
    /// Weeks of training behind the client.
    pub(super) weeks: u64,
    pub(super) session: Option<(&'static str, i16)>,
    pub(super) blocks: Blocks,
}

const FLAT: &str = r#"[
    {"kind":"dumbbells","unit":"kg","pairs":[3,5,8,12],"singles":[20]},
    {"kind":"loop_band","label":"green","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","label":"grey","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
    {"kind":"anchor","heights_m":[0.1,1.1,2.0],"door":true},
    {"kind":"chair"}]"#;
const PARK: &str = r#"[
    {"kind":"pull_up_bar","height_m":2.3},
    {"kind":"rings","max_height_m":2.4},
    {"kind":"dip_bars"},
    {"kind":"loop_band","label":"black","count":1,"flat_length_m":1.04,"rated_kg":[16,39]},
    {"kind":"backpack","max_kg":20},
    {"kind":"step","height_m":0.4}]"#;
const GARAGE: &str = r#"[
    {"kind":"dumbbells","unit":"kg","pairs":[4,6,8,12,18]},
    {"kind":"bench","angles_deg":[0,30,45,60]},
    {"kind":"loop_band","label":"blue","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
    {"kind":"anchor","heights_m":[0.1,1.2,2.1]}]"#;
const HOTEL_ROOM: &str = r#"[
    {"kind":"loop_band","label":"travel","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"anchor","heights_m":[0.1,1.1,2.0],"door":true},
    {"kind":"chair"}]"#;
const HOTEL: &str = r#"[
    {"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,16]},
    {"kind":"bench","angles_deg":[0,30,45,75]},
    {"kind":"parallettes"}]"#;
const LOFT: &str = r#"[
    {"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,14,16,18,20,24]},
    {"kind":"bench","angles_deg":[0,30,45,60]},
    {"kind":"loop_band","label":"plum","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"anchor","heights_m":[0.1,1.1,2.0],"door":true}]"#;
const CABIN: &str = r#"[
    {"kind":"tube_band","label":"red","count":1,"rest_length_m":1.2,"rated_kg":[5,14]},
    {"kind":"backpack","max_kg":15},
    {"kind":"table","height_m":0.76},
    {"kind":"step","height_m":0.2}]"#;

fn intents(json: &str) -> anyhow::Result<Vec<Intent>> {
    let intents: Vec<Intent> = serde_json::from_str(json)?;
    for intent in &intents {
        intent.validate()?;
    }
    Ok(intents)
}

/// Body and experience.
fn client(name: &str, mass: f64, height: f64, experience: Experience, sex: Sex, born: i16) -> Client {
    Client {
        birth_year: Some(born),
        sex: Some(sex),
        time_zone: "Europe/Lisbon".to_owned(),
        ..Client::new(name, Kilograms(mass), Metres(height), experience)
    }
}

/// What for, and how often.
fn training(client: Client, aim: Goal, goal: &str, days: i16, minutes: i16) -> Client {
    let goal = goal.to_owned();
    Client { aim: Some(aim), goal, days_a_week: Some(days), minutes: Some(minutes), ..client }
}

/// The clients of the demo.
pub(super) fn clients() -> anyhow::Result<Vec<ClientPlan>> {
    let mut all = vec![flat()?, park()?, hotel()?, traveller()?, newcomer()?];
    for alike in ALIKE {
        all.push(alike.plan()?);
    }
    Ok(all)
}

/// Just taken in, and waiting for a doctor's word.
fn newcomer() -> anyhow::Result<ClientPlan> {
    let client = client("Merrin Oakes", 91.5, 1.77, Experience::Novice, Sex::Male, 1968);
    Ok(ClientPlan {
        client: Client {
            birth_year: None,
            age_band: Some(AgeBand::From40To59),
            goal: "carry the canoe again".to_owned(),
            ..client
        },
        limits: vec![],
        places: vec![("Boat shed", Setting::Doors, read_kit(r#"[{"kind":"chair"}]"#)?, false)],
        focus: vec![],
        told: vec![],
        seen: vec![],
        screening: Some((Some("heart"), None)),
        weeks: 0,
        session: None,
        blocks: vec![],
    })
}

fn flat() -> anyhow::Result<ClientPlan> {
    let sore: Limit =
        serde_json::from_str(r#"{"joint":"shoulder","what":"pain_deep_stretch","side":"left","severity":"moderate"}"#)?;
    Ok(ClientPlan {
        client: training(
            client("Odalys Finch", 71.0, 1.68, Experience::Intermediate, Sex::Female, 1987),
            Goal::SizeFirst,
            "upper chest and long head of the biceps",
            3,
            45,
        ),
        limits: vec![(sore, "Since a fall in spring; fine under load with elbows at floor level.")],
        places: vec![
            ("Canal flat", Setting::Doors, read_kit(FLAT)?, true),
            ("Dune cabin", Setting::Doors, read_kit(CABIN)?, false),
        ],
        focus: vec![Region::ChestClavicular, Region::BicepsLong],
        told: vec![("dumbbell_curl", Some(8.0), 10), ("push_up", None, 14)],
        seen: vec![
            (NoteKind::LeftRight, Some(Side::Left), "Left arm a rep or two behind in curls since the fall."),
            (NoteKind::Posture, None, "Shoulders rounded at the desk; stands well when reminded."),
        ],
        screening: Some((None, None)),
        weeks: 2,
        session: Some(("Chest and arms", 45)),
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
        client: training(
            client("Bramwell Tarn", 84.0, 1.82, Experience::Advanced, Sex::Male, 1991),
            Goal::StrengthWithSize,
            "outdoors, all year",
            4,
            40,
        ),
        limits: vec![],
        places: vec![("Quarry park", Setting::Outdoors, read_kit(PARK)?, true)],
        focus: vec![Region::Lats],
        told: vec![("chin_up", None, 9)],
        seen: vec![(NoteKind::Movement, None, "Shrugs in the last reps of rows.")],
        screening: Some((Some("surgery"), Some("the physiotherapist at the quarry practice"))),
        weeks: 8,
        session: Some(("Bar and rings", 40)),
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
            (
                BlockKind::Straight,
                intents(r#"[{"pattern":"forearm","regions":{"forearm_flexors":1.0},"reps":[8,12],"rir":2,"sets":2}]"#)?,
            ),
        ],
    })
}

fn traveller() -> anyhow::Result<ClientPlan> {
    Ok(ClientPlan {
        client: training(
            client("Perrin Vale", 77.0, 1.74, Experience::Intermediate, Sex::Male, 1983),
            Goal::SizeFirst,
            "every second week on the road",
            3,
            40,
        ),
        limits: vec![],
        places: vec![
            ("Lock house garage", Setting::Doors, read_kit(GARAGE)?, true),
            ("Hotel room", Setting::Hotel, read_kit(HOTEL_ROOM)?, true),
        ],
        focus: vec![Region::ChestClavicular],
        told: vec![("dumbbell_curl", Some(12.0), 9)],
        seen: vec![],
        screening: Some((None, None)),
        weeks: 13,
        session: Some(("Press, row, arms", 40)),
        blocks: vec![
            (
                BlockKind::Straight,
                intents(
                    r#"[{"pattern":"incline_press","regions":{"chest_clavicular":1.0},"reps":[8,12],"rir":2,"sets":3,"reference_exercise":"incline_dumbbell_press"}]"#,
                )?,
            ),
            (
                BlockKind::Straight,
                intents(r#"[{"pattern":"close_row","regions":{"lats":1.0},"reps":[8,12],"rir":2,"sets":3}]"#)?,
            ),
            (
                BlockKind::Superset,
                intents(
                    r#"[
                {"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"arm_position":"behind","reps":[8,12],"rir":2,"sets":3},
                {"pattern":"elbow_extension","regions":{"triceps_long":1.0},"arm_position":"overhead","reps":[8,12],"rir":2,"sets":3}]"#,
                )?,
            ),
        ],
    })
}

fn hotel() -> anyhow::Result<ClientPlan> {
    let tired: Limit =
        serde_json::from_str(r#"{"joint":"low_back","what":"pain_loaded","side":"both","severity":"mild"}"#)?;
    Ok(ClientPlan {
        client: training(
            client("Ysolde Quarry", 62.0, 1.60, Experience::Novice, Sex::Female, 1979),
            Goal::GeneralShape,
            "between trips",
            2,
            35,
        ),
        limits: vec![(tired, "Tired by long standing; supported rows are fine.")],
        places: vec![("Harbour hotel", Setting::Hotel, read_kit(HOTEL)?, true)],
        focus: vec![],
        told: vec![],
        seen: vec![],
        screening: Some((None, None)),
        weeks: 2,
        session: Some(("Hotel gym, whole upper body", 35)),
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

/// Somebody who does the same session in much the same room as others: what their logs show together is seen across clients.
struct Alike {
    name: &'static str,
    mass: f64,
    height: f64,
    experience: Experience,
    sex: Sex,
    born: i16,
    room: &'static str,
    /// A limit of theirs.
    limit: Option<&'static str>,
    weeks: u64,
}

const ALIKE: [Alike; 5] = [
    Alike {
        name: "Aldous Penn",
        mass: 88.0,
        height: 1.85,
        experience: Experience::Intermediate,
        sex: Sex::Male,
        born: 1986,
        room: "Kiln yard",
        limit: None,
        weeks: 9,
    },
    Alike {
        name: "Wren Castell",
        mass: 58.5,
        height: 1.64,
        experience: Experience::Novice,
        sex: Sex::Female,
        born: 1999,
        room: "Orchard room",
        limit: None,
        weeks: 7,
    },
    Alike {
        name: "Corwin Hask",
        mass: 81.0,
        height: 1.79,
        experience: Experience::Novice,
        sex: Sex::Male,
        born: 1995,
        room: "Mill loft",
        limit: None,
        weeks: 8,
    },
    Alike {
        name: "Ilva Rennick",
        mass: 64.0,
        height: 1.70,
        experience: Experience::Intermediate,
        sex: Sex::Female,
        born: 1990,
        room: "Weir house",
        limit: None,
        weeks: 9,
    },
    Alike {
        name: "Tamsel Brook",
        mass: 73.0,
        height: 1.73,
        experience: Experience::Intermediate,
        sex: Sex::Male,
        born: 1976,
        room: "Ferry cottage",
        limit: Some(r#"{"joint":"shoulder","what":"pain_overhead","side":"right","severity":"mild"}"#),
        weeks: 9,
    },
];

impl Alike {
    fn plan(&self) -> anyhow::Result<ClientPlan> {
        let limit = self.limit.map(serde_json::from_str::<Limit>).transpose()?;
        let body = client(self.name, self.mass, self.height, self.experience, self.sex, self.born);
        Ok(ClientPlan {
            client: training(body, Goal::SizeFirst, "two evenings that hold", 2, 35),
            limits: limit.into_iter().map(|l| (l, "Felt above the head now and then.")).collect(),
            places: vec![(self.room, Setting::Doors, read_kit(LOFT)?, true)],
            focus: vec![],
            told: vec![],
            seen: vec![],
            screening: Some((None, None)),
            weeks: self.weeks,
            session: Some(("Row, press, curl", 35)),
            blocks: vec![
                (
                    BlockKind::Straight,
                    intents(r#"[{"pattern":"close_row","regions":{"lats":1.0},"reps":[8,12],"rir":2,"sets":3}]"#)?,
                ),
                (
                    BlockKind::Straight,
                    intents(
                        r#"[{"pattern":"incline_press","regions":{"chest_clavicular":1.0},"reps":[8,12],"rir":2,"sets":3,"reference_exercise":"incline_dumbbell_press"}]"#,
                    )?,
                ),
                (
                    BlockKind::Straight,
                    intents(
                        r#"[{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":2}]"#,
                    )?,
                ),
            ],
        })
    }
}
