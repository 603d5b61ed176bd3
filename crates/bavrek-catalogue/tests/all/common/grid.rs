//! Eight people, ten rooms and twenty jobs: every answer a trainer might get on a first day. All invented.
#![allow(dead_code, reason = "each test file uses its part")]

use bavrek_core::fit::{Candidate, FitQuestion, fit};
use bavrek_core::kit::KitItem;
use bavrek_core::movement::{Catalogue, Style};
use bavrek_core::person::Person;
use bavrek_core::plan::Intent;
use bavrek_core::wording::told;

const PEOPLE: [(&str, &str); 8] = [
    (
        "novice woman, 52 kg, 29",
        r#"{"body_mass_kg":52,"height_m":1.62,"experience":"novice","sex":"female","age_years":29}"#,
    ),
    (
        "intermediate woman, 62 kg, 36",
        r#"{"body_mass_kg":62,"height_m":1.68,"experience":"intermediate","sex":"female","age_years":36}"#,
    ),
    (
        "advanced woman, 68 kg, 31",
        r#"{"body_mass_kg":68,"height_m":1.71,"experience":"advanced","sex":"female","age_years":31}"#,
    ),
    (
        "novice woman, 70 kg, 66",
        r#"{"body_mass_kg":70,"height_m":1.63,"experience":"novice","sex":"female","age_years":66}"#,
    ),
    (
        "novice man, 80 kg, 18",
        r#"{"body_mass_kg":80,"height_m":1.82,"experience":"novice","sex":"male","age_years":18}"#,
    ),
    (
        "intermediate man, 78 kg, 32",
        r#"{"body_mass_kg":78,"height_m":1.78,"experience":"intermediate","sex":"male","age_years":32}"#,
    ),
    (
        "intermediate man, 88 kg, 58",
        r#"{"body_mass_kg":88,"height_m":1.76,"experience":"intermediate","sex":"male","age_years":58}"#,
    ),
    (
        "advanced man, 95 kg, 34",
        r#"{"body_mass_kg":95,"height_m":1.86,"experience":"advanced","sex":"male","age_years":34}"#,
    ),
];

const LOOPS: &str = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.045,"thickness_m":0.0045}"#;
const PAIRS: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,16,20,24]}"#;
const BENCH: &str = r#"{"kind":"bench","angles_deg":[0,30,45,75]}"#;
const DOOR: &str = r#"{"kind":"anchor","heights_m":[0.1,1.2,2.0],"door":true}"#;

fn rooms() -> [(&'static str, String); 10] {
    [
        ("nothing", String::new()),
        ("chair and backpack", r#"{"kind":"chair"},{"kind":"backpack","max_kg":15}"#.into()),
        ("three loops", LOOPS.into()),
        ("three loops and a door", format!("{LOOPS},{DOOR}")),
        ("dumbbells", PAIRS.into()),
        ("dumbbells and bench", format!("{PAIRS},{BENCH}")),
        ("three pairs and a chair", r#"{"kind":"dumbbells","unit":"kg","pairs":[4,8,14]},{"kind":"chair"}"#.into()),
        ("rings, bar, low box", r#"{"kind":"rings","max_height_m":2.2},{"kind":"pull_up_bar","height_m":2.2},{"kind":"box","height_m":0.4,"count":1}"#.into()),
        ("adjustables, bench, loops", format!(r#"{{"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":2.5,"max":24,"step":1.5}},{BENCH},{LOOPS}"#)),
        ("all of it", format!(r#"{PAIRS},{BENCH},{LOOPS},{DOOR},{{"kind":"rings","max_height_m":2.2}},{{"kind":"pull_up_bar","height_m":2.2}},{{"kind":"dip_bars"}},{{"kind":"box","height_m":0.4,"count":2}}"#)),
    ]
}

const INTENTS: [(&str, &str); 20] = [
    ("horizontal_press", r#"{"chest_sternal":1}"#),
    ("incline_press", r#"{"chest_clavicular":1}"#),
    ("decline_press", r#"{"chest_costal":1}"#),
    ("fly", r#"{"chest_sternal":1}"#),
    ("fly_low_to_high", r#"{"chest_clavicular":1}"#),
    ("pullover", r#"{"lats":1}"#),
    ("overhead_press", r#"{"delt_front":1}"#),
    ("side_raise", r#"{"delt_side":1}"#),
    ("front_raise", r#"{"delt_front":1}"#),
    ("rear_fly", r#"{"delt_rear":1}"#),
    ("vertical_pull", r#"{"lats":1}"#),
    ("wide_row", r#"{"traps_middle":1,"delt_rear":0.6}"#),
    ("close_row", r#"{"lats":1}"#),
    ("shrug", r#"{"traps_upper":1}"#),
    ("elbow_flexion", r#"{"biceps_long":1,"biceps_short":1}"#),
    ("elbow_flexion", r#"{"brachialis":1}"#),
    ("elbow_extension", r#"{"triceps_long":1}"#),
    ("elbow_extension", r#"{"triceps_lateral":1,"triceps_medial":1}"#),
    ("forearm", r#"{"forearm_flexors":1}"#),
    ("trunk", r#"{"trunk_front":1}"#),
];

/// One of the first three answers to a question of the grid.
pub(crate) struct Answer<'a> {
    pub(crate) person: &'static str,
    pub(crate) room: &'static str,
    pub(crate) pattern: &'static str,
    pub(crate) candidate: Candidate<'a>,
}

impl Answer<'_> {
    /// Repetitions expected; none where the sets are held.
    pub(crate) fn reps(&self) -> Option<f64> {
        (self.candidate.movement.style != Style::Hold).then_some(self.candidate.start.reps)
    }

    /// Whether it says that the load is too light, or nearly out of reach.
    pub(crate) fn says(&self, words: &str) -> bool {
        told(&self.candidate.lost).iter().any(|lost| lost.contains(words))
    }
}

pub(crate) fn people() -> impl Iterator<Item = (&'static str, Person)> {
    PEOPLE.into_iter().map(|(name, json)| (name, serde_json::from_str(json).expect("a person")))
}

pub(crate) fn kits() -> impl Iterator<Item = (&'static str, Vec<KitItem>)> {
    rooms().into_iter().map(|(name, items)| (name, serde_json::from_str(&format!("[{items}]")).expect("a kit")))
}

pub(crate) fn intents() -> impl Iterator<Item = (&'static str, Intent)> {
    INTENTS.into_iter().map(|(pattern, regions)| {
        let json = format!(r#"{{"pattern":"{pattern}","regions":{regions},"reps":[8,12],"rir":2,"sets":3}}"#);
        (pattern, serde_json::from_str(&json).expect("an intent"))
    })
}

/// The first three answers to every question.
pub(crate) fn first_three(catalogue: &Catalogue) -> Vec<Answer<'_>> {
    let mut found = Vec::new();
    for (name, person) in people() {
        for (room, kit) in kits() {
            for (pattern, intent) in intents() {
                let answer = fit(catalogue, &FitQuestion::plain(&person, &kit, &intent));
                let three = answer.candidates.into_iter().take(3);
                found.extend(three.map(|candidate| Answer { person: name, room, pattern, candidate }));
            }
        }
    }
    found
}
