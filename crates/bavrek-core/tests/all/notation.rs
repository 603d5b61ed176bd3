//! Doses in one line, both ways.

use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Part, Prescription, SetKind, Tempo};
use proptest::prelude::*;
use rstest::rstest;

const USUAL: Usual = Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 };

fn dose(text: &str) -> Prescription {
    read(text).unwrap_or_else(|e| panic!("{text}: {}", e.message)).filled(USUAL)
}

fn reps(text: &str) -> Vec<[u16; 2]> {
    dose(text).sets.iter().map(|s| s.reps.unwrap()).collect()
}

#[rstest]
#[case("4 x 8-10 @ 3-1-1-0, 2 in reserve, last to failure, rest 90 s", vec![[8, 10]; 4])]
#[case("4 × 8–10 @ 3-1-1-0", vec![[8, 10]; 4])]
#[case("3x12", vec![[12, 12]; 3])]
#[case("3 x 8-12 a side", vec![[8, 12]; 3])]
#[case("18-9-9-14", vec![[18, 18], [9, 9], [9, 9], [14, 14]])]
fn repetitions_are_read(#[case] text: &str, #[case] expected: Vec<[u16; 2]>) {
    assert_eq!(reps(text), expected);
}

#[rstest]
#[case::hold("3 x 45 s", SetKind::Hold, 3)]
#[case::station("4 x 30 s, as a station", SetKind::Station, 4)]
#[case::max("2 x max", SetKind::Amrap, 2)]
#[case::amrap("2 x as many as possible", SetKind::Amrap, 2)]
#[case::total("50 in as few sets as possible", SetKind::ToTotal, 1)]
#[case::lowering("3 x 5, lowering only", SetKind::LoweringOnly, 3)]
#[case::mixed("2 x mixed", SetKind::Mixed, 2)]
#[case::parts("2 x 4 at 1-0-X-0 + 2 held 8 s + 3 slow", SetKind::Mixed, 2)]
fn kinds_are_read(#[case] text: &str, #[case] kind: SetKind, #[case] sets: usize) {
    let dose = dose(text);
    assert_eq!((dose.sets.len(), dose.sets[0].kind), (sets, kind));
    dose.validate().unwrap();
}

#[test]
fn what_a_line_says_of_a_set_is_in_the_set() {
    let found = dose("3 x 6-8 @ 4-0-1-0.5, 3 in reserve, last 1 in reserve, rest 2 min");
    let set = &found.sets[0];
    assert_eq!((set.tempo.to_string().as_str(), set.rir, set.rest_s), ("4-0-1-0.5", Some(3), 120));
    assert_eq!(found.sets[2].rir, Some(1));
    assert_eq!(dose("50 in all").sets[0].total, Some(50));
    assert_eq!(dose("3 x 45 s").sets[0].seconds, Some(45));
    let mixed = dose("1 x 4 fast + 2 held 8 s + 3 slow");
    assert_eq!(mixed.sets[0].parts[1], Part::Holds { holds: 2, seconds: 8 });
    let extended = dose("3 x 8-12, then max");
    assert_eq!((extended.sets.len(), extended.sets[3].kind), (4, SetKind::Extension));
    // What is said of the last set is said of the last that is counted, not of what follows it at once.
    let dropped = dose("3 x 10, 2 in reserve, last to failure, then max a step down");
    assert_eq!(dropped.sets.iter().map(|s| s.rir).collect::<Vec<_>>(), [Some(2), Some(2), Some(0), Some(2)]);
    assert!(dropped.text().contains("last to failure"), "{}", dropped.text());
}

#[rstest]
#[case("3 x 8-12", &["tempo", "rest", "reserve", "load"])]
#[case("3 x 8-12 @ 2-0-1-0, rest 60 s", &["reserve", "load"])]
#[case("3 x 45 s, rest 60 s @ 2-0-1-0", &["load"])]
fn gaps_stay_visible(#[case] text: &str, #[case] open: &[&str]) {
    assert_eq!(read(text).unwrap().not_stated(), open);
}

#[rstest]
#[case("", "write a dose")]
#[case("8-10", "how many sets")]
#[case("three of eight", "three of eight")]
#[case("3 x 8-12, with gusto", "with gusto")]
#[case("3 x 8-12 @ fast", "fast")]
#[case("3 x 12-8", "rise")]
#[case("0 x 8", "1 to 20 sets")]
#[case("40 x 8", "1 to 20 sets")]
#[case("3 x 8-12, 9 in reserve", "9 in reserve")]
#[case("3 x 8-12, rest long", "rest long")]
#[case("3 x 4000 s", "1 to 900")]
#[case("9000 in all", "1 to 500")]
#[case("3 x 4 fast + 2 hung", "4 fast + 2 hung")]
fn what_cannot_be_read_is_named(#[case] text: &str, #[case] says: &str) {
    let error = read(text).unwrap_err();
    assert_eq!(error.path, "text");
    assert!(error.message.contains(says), "{}", error.message);
}

#[test]
fn a_long_line_is_refused() {
    assert!(read(&"3 x 8, ".repeat(100)).unwrap_err().message.contains("at most"));
}

/// The old word for a mixed set is still read, and written as the new one.
#[test]
fn the_old_word_for_a_mixed_set_is_read() {
    let json = r#"{"sets":[{"kind":"mixed_nine","tempo":"2-0-1-0","rest_s":90}]}"#;
    let old: Prescription = serde_json::from_str(json).unwrap();
    old.validate().unwrap();
    assert_eq!(old.sets[0].kind, SetKind::Mixed);
    assert!(serde_json::to_string(&old).unwrap().contains(r#""kind":"mixed""#));
    assert_eq!(old.sets[0].seconds_under_load().unwrap().value(), 4.0 * 2.0 + 16.0 + 3.0 * 9.0);
}

#[rstest]
#[case(r#"{"kind":"hold","tempo":"2-0-1-0","rest_s":60}"#, "sets[0].seconds")]
#[case(r#"{"kind":"to_total","reps":[5,8],"tempo":"2-0-1-0","rest_s":60}"#, "sets[0].total")]
#[case(r#"{"kind":"straight","tempo":"2-0-1-0","rest_s":60}"#, "sets[0].reps")]
#[case(r#"{"kind":"straight","reps":[5,8],"tempo":"2-0-1-0","rest_s":6000}"#, "sets[0].rest_s")]
#[case(r#"{"kind":"station","seconds":0,"tempo":"2-0-1-0","rest_s":60}"#, "sets[0].seconds")]
fn a_set_without_what_its_kind_needs(#[case] set: &str, #[case] path: &str) {
    let dose: Prescription = serde_json::from_str(&format!(r#"{{"sets":[{set}]}}"#)).unwrap();
    assert_eq!(dose.validate().unwrap_err().path, path);
}

proptest! {
    /// What is written is read back as it was.
    #[test]
    fn a_dose_survives_its_line(
        count in 1u8..10,
        low in 1u16..30,
        wide in 0u16..10,
        rir in 0u8..5,
        last_to_failure: bool,
        tempo in (0u8..6, 0u8..4, proptest::option::of(1u8..5), 0u8..4),
        rest in 0u16..300,
    ) {
        let tempo = Tempo::whole(tempo.0, tempo.1, tempo.2, tempo.3);
        let mut asked = Prescription::straight(count, [low, low + wide], rir, tempo, rest);
        if last_to_failure && count > 1 {
            asked.sets.last_mut().unwrap().rir = Some(0);
        }
        prop_assert_eq!(read(&asked.text()).unwrap().filled(USUAL), asked.clone(), "{}", asked.text());
        prop_assert_eq!(read(&asked.text_a_side()).unwrap().filled(USUAL), asked);
    }

    /// So is every kind.
    #[test]
    fn other_kinds_survive_their_line(kind in 0usize..6, count in 1usize..6, n in 1u16..100, rest in 0u16..300) {
        let line = match kind {
            0 => format!("{count} × {n} s, rest {rest} s"),
            1 => format!("{count} × {n} s, as a station, rest {rest} s"),
            2 => format!("{n} in all @ 2-0-1-0, rest {rest} s"),
            3 => format!("{count} × max @ 2-0-1-0, rest {rest} s"),
            4 => format!("{count} × {n} at 1-0-X-0 + 2 held 8 s + 3 at 5-0-4-0, rest {rest} s"),
            _ => format!("{count} × {n} @ 5-0-1-0, lowering only, 2 in reserve, rest {rest} s"),
        };
        let asked = dose(&line);
        prop_assert_eq!(asked.text(), line);
        prop_assert_eq!(dose(&asked.text()), asked);
    }

    /// Whatever is typed, the answer is a dose that holds or an error that names the line.
    #[test]
    fn nothing_typed_breaks_it(text in "[0-9x×@, a-z–-]{0,60}") {
        match read(&text) {
            Ok(line) => prop_assert!(line.filled(USUAL).validate().is_ok()),
            Err(error) => prop_assert_eq!(error.path, "text"),
        }
    }
}
