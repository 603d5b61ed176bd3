//! What taking a client in needs to know is complete, and a bad entry is refused by name.

use bavrek_catalogue::{intake, intake_from};
use bavrek_core::aims::{Aim, Aims, Goal, RegionAim};
use bavrek_core::anatomy::Region;
use bavrek_core::feasibility::{Feasibility, Reach};
use bavrek_core::kit::KitItem;
use bavrek_core::person::{Experience, Limit, Person};
use bavrek_core::screening::{Answers, referrals, unanswered};
use rstest::rstest;

fn kit(json: &str) -> Vec<KitItem> {
    serde_json::from_str(json).unwrap()
}

#[test]
fn what_ships_is_complete() {
    let intake = intake().unwrap();
    assert!(intake.questions.len() >= 8 && intake.starting_kits.len() >= 5 && intake.cheap.len() >= 6);
    assert!(!intake.volumes.source.is_empty() && !intake.volumes.note.is_empty());
    let catalogue = bavrek_catalogue::load().unwrap();
    let improvised = r#"[{"kind":"chair"},{"kind":"sofa"},{"kind":"table","height_m":0.7},{"kind":"towel"},
        {"kind":"backpack","max_kg":10},{"kind":"wedge"},{"kind":"anchor","heights_m":[1],"door":true}]"#;
    for item in kit(improvised) {
        assert!(item.improvised(), "{item:?}");
        let code = item.improvised_caution().unwrap();
        assert!(catalogue.cautions.contains_key(code), "{code}");
        assert!(item.stability_questions().iter().all(|q| q.ends_with('?')));
    }
}

#[test]
fn a_yes_calls_for_somebody_and_a_gap_is_seen() {
    let intake = intake().unwrap();
    let mut answers: Answers = intake.questions.iter().map(|q| (q.id.clone(), false)).collect();
    assert!(referrals(&intake.questions, &answers).is_empty() && unanswered(&intake.questions, &answers).is_empty());
    answers.insert("heart".into(), true);
    answers.remove("nerve");
    assert_eq!(referrals(&intake.questions, &answers)[0].id, "heart");
    assert_eq!(unanswered(&intake.questions, &answers)[0].id, "nerve");
}

#[rstest]
#[case(Region::ChestSternal, Aim::Grow, Experience::Intermediate, [8.0, 14.0])]
#[case(Region::Lats, Aim::Focus, Experience::Advanced, [14.0, 20.0])]
#[case(Region::Lats, Aim::Keep, Experience::Novice, [2.0, 5.0])]
#[case(Region::RotatorCuff, Aim::Grow, Experience::Intermediate, [4.0, 7.0])]
fn an_aim_becomes_weekly_sets(
    #[case] region: Region,
    #[case] aim: Aim,
    #[case] experience: Experience,
    #[case] expected: [f64; 2],
) {
    assert_eq!(intake().unwrap().volumes.sets(region, aim, experience), expected);
}

#[test]
fn a_trainers_range_wins_over_the_usual_one() {
    let intake = intake().unwrap();
    let mut aims = intake.volumes.preset(Goal::SizeFirst);
    assert_eq!(aims.of(Region::Lats).aim, Aim::Grow);
    assert_eq!(aims.of(Region::PecMinor).aim, Aim::Keep, "what a goal does not name is kept");
    aims.regions.insert(Region::Lats, RegionAim { aim: Aim::Focus, sets: Some([9.0, 11.0]) });
    assert_eq!(aims.weekly_sets(Region::Lats, &intake.volumes, Experience::Novice), [9.0, 11.0]);
    assert!(aims.validate().is_ok());
    for wrong in [[11.0, 9.0], [-1.0, 3.0], [3.0, 60.0], [f64::NAN, 3.0]] {
        aims.regions.insert(Region::Lats, RegionAim { aim: Aim::Focus, sets: Some(wrong) });
        assert_eq!(aims.validate().unwrap_err().path, "regions.lats", "{wrong:?}");
    }
}

#[rstest]
#[case("[[question]]\nid = \"a\"\ntext = \"\"\nrefer = \"doctor\"", "screening.toml: a: text is empty")]
#[case("[[question]]\nid = \"a\"\ntext = \"?\"\nrefer = \"aunt\"", "screening.toml: a: ")]
#[case(
    "[[question]]\nid = \"a\"\ntext = \"?\"\nrefer = \"doctor\"\n[[question]]\nid = \"a\"\ntext = \"?\"\nrefer = \"doctor\"",
    "screening.toml: a: id is used twice"
)]
fn a_bad_question_is_refused_by_name(#[case] text: &str, #[case] expected: &str) {
    let aims = ("aims.toml", include_str!("../../data/aims.toml"));
    let error = intake_from(("screening.toml", text), aims, ("kits.toml", "")).unwrap_err().to_string();
    assert!(error.starts_with(expected), "{error}");
}

#[rstest]
#[case("grow = [8, 14]", "grow = [14, 8]", "sets.intermediate.grow")]
#[case("focus = [12, 18]", "focus = [4, 18]", "sets.intermediate.focus")]
#[case("small_share = 0.5", "small_share = 0.0", "small_share")]
#[case("[goals.general_shape]", "[goals.size_last]", "size_last")]
fn a_bad_range_is_refused_by_name(#[case] from: &str, #[case] to: &str, #[case] expected: &str) {
    let text = include_str!("../../data/aims.toml").replacen(from, to, 1);
    let error = intake_from(("screening.toml", ""), ("aims.toml", &text), ("kits.toml", "")).unwrap_err().to_string();
    assert!(error.starts_with("aims.toml: ") && error.contains(expected), "{error}");
}

#[test]
fn a_bad_starting_kit_is_refused_by_name() {
    let aims = ("aims.toml", include_str!("../../data/aims.toml"));
    let kits = "[[start]]\nid = \"steep\"\nname = \"x\"\nkit = [{ kind = \"bench\", angles_deg = [200] }]";
    let error = intake_from(("screening.toml", ""), aims, ("kits.toml", kits)).unwrap_err().to_string();
    assert!(error.contains("steep") && error.contains("between -45 and 90 degrees"), "{error}");
}

#[test]
fn a_bare_floor_presses_but_pulls_little() {
    let (catalogue, intake) = (bavrek_catalogue::load().unwrap(), intake().unwrap());
    let found = Feasibility::of(&catalogue, &Person::default_figure(), (&[], None), &Aims::default(), &intake.cheap);
    assert_eq!(found.reach(Region::ChestSternal), Reach::Direct);
    // One hand against the other is all there is for the arms.
    assert_eq!(found.reach(Region::BicepsLong), Reach::Direct);
    assert_ne!(found.reach(Region::Lats), Reach::Direct);
    let opening = found.opening.unwrap();
    assert_eq!(opening.item.id, "loop_and_anchor", "bands from an anchor open most");
    assert!(
        opening.regions.contains(&Region::Lats) && opening.regions.contains(&Region::TrapsUpper)
            || opening.regions.len() >= 3,
        "{:?}",
        opening.regions
    );
}

#[test]
fn a_garage_trains_everything_and_needs_nothing() {
    let intake = intake().unwrap();
    let garage = intake.starting_kits.iter().find(|k| k.id == "garage").unwrap();
    let catalogue = bavrek_catalogue::load().unwrap();
    let aims = intake.volumes.preset(Goal::SizeFirst);
    let found =
        Feasibility::of(&catalogue, &Person::default_figure(), (&garage.kit, garage.setting), &aims, &intake.cheap);
    assert!(found.regions.values().all(|r| r.reach() == Reach::Direct), "{:?}", found.regions);
    assert!(found.opening.is_none_or(|o| o.regions.is_empty()));
}

#[test]
fn a_limit_is_counted_where_it_holds_back() {
    let overhead: Limit =
        serde_json::from_str(r#"{"joint":"shoulder","what":"pain_overhead","side":"both","severity":"severe"}"#)
            .unwrap();
    let (catalogue, intake) = (bavrek_catalogue::load().unwrap(), intake().unwrap());
    let person = Person { limits: vec![overhead], ..Person::default_figure() };
    let room = kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,8,12]}]"#);
    let with = Feasibility::of(&catalogue, &person, (&room, None), &Aims::default(), &intake.cheap);
    let without =
        Feasibility::of(&catalogue, &Person::default_figure(), (&room, None), &Aims::default(), &intake.cheap);
    let (held, free) = (with.regions[&Region::DeltFront], without.regions[&Region::DeltFront]);
    assert!(held.held_back > 0 && free.held_back == 0);
    assert_eq!(held.direct + held.held_back, free.direct);
}
