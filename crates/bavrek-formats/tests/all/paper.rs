//! Printed pages, read by a reader that is not the writer's.

use std::path::Path;
use std::sync::LazyLock;

use bavrek_formats::paper::{self, Booklet, Letters, Line, Paper, PaperError, Sheet};
use lopdf::{Document, Object};
use proptest::prelude::*;
use rstest::rstest;

static LETTERS: LazyLock<Letters> = LazyLock::new(|| {
    let dist = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../assets/dist");
    let files = (0..6).map(|nth| std::fs::read(dist.join(format!("printed-{nth}.ttf"))).expect("assets are built"));
    Letters::new(files.collect()).expect("they are fonts")
});

const DRAWING: &str = r#"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 236 190"><style>.a{fill:#c98a1b}</style>
    <path class="a" d="M10 10H100V90Z"/><text x="20" y="120">anchor 1.2 m</text></svg>"#;

fn line(name: &str) -> Line {
    Line {
        name: name.into(),
        job: "middle chest".into(),
        load: "10 kg".into(),
        how: "pair of 10 kg, bench 30°".into(),
        dose: "3 × 8–12 @ 2-0-1-0, 2 in reserve, rest 90 s".into(),
        tempo: "1 s for the effort, 2 s for the way back.".into(),
        ramp: vec!["8 × pair of 6 kg".into()],
        picture: Some(DRAWING.into()),
        pictured: "seen from the side".into(),
        facts: vec![("Set up".into(), "Feet flat.".into()), ("Avoid".into(), "Bouncing.".into())],
        ahead: Some(("after 12 clean in every set: ".into(), vec!["pair of 12 kg".into(), "pair of 14 kg".into()])),
        sets: (1..=3).map(|n| (n.to_string(), "8–12".into())).collect(),
        ..Line::default()
    }
}

fn sheet(lines: usize) -> Sheet {
    Sheet {
        name: "Push".into(),
        client: "Odalys Finch".into(),
        place: "Canal flat".into(),
        day: "Fri 27 Nov 2026".into(),
        minutes: "5".into(),
        joints: vec![("Shoulder".into(), "arm circles, ten times".into())],
        cool_down: "2".into(),
        lines: (1..=lines).map(|n| line(&format!("Movement {n}"))).collect(),
        cautions: vec!["Sharp pain stops the exercise.".into()],
        ..Sheet::default()
    }
}

fn read(bytes: &[u8]) -> Document {
    Document::load_mem(bytes).expect("it is a PDF")
}

/// A text without its spaces: a reader sees one between two fonts.
fn close(text: &str) -> String {
    text.split_whitespace().collect()
}

/// Pages, and what stands on them without spaces.
fn said(bytes: &[u8]) -> (usize, String) {
    let document = read(bytes);
    let pages: Vec<u32> = document.get_pages().into_keys().collect();
    let text = document.extract_text(&pages).expect("its letters can be read");
    (pages.len(), close(&text))
}

#[rstest]
#[case::one(1, 1)]
#[case::usual(5, 1)]
#[case::long(12, 3)]
fn a_workout_is_one_page_where_it_fits_and_whole_where_not(#[case] lines: usize, #[case] pages: usize) {
    let (found, text) = said(&paper::sheet(&LETTERS, &sheet(lines), Paper::A4).unwrap());
    assert_eq!(found, pages);
    for n in 1..=lines {
        assert!(text.contains(&format!("{n}.Movement{n}")), "{n}: {text}");
    }
    for what in [
        "Odalys Finch · Canal flat · Fri 27 Nov 2026",
        "8–12 @ 2-0-1-0",
        "Cool down:",
        "Sharp pain stops",
        "anchor 1.2 m",
    ] {
        assert!(text.contains(&close(what)), "{what}: {text}");
    }
    let boxes = text.matches("18–12").count();
    assert_eq!(boxes, lines, "space for the first set of each: {text}");
}

#[rstest]
#[case(Paper::A4, [595.28, 841.89])]
#[case(Paper::Letter, [612.0, 792.0])]
fn pages_have_the_size_that_was_asked_for(#[case] size: Paper, #[case] points: [f32; 2]) {
    let document = read(&paper::sheet(&LETTERS, &sheet(2), size).unwrap());
    let (_, page) = document.get_pages().into_iter().next().unwrap();
    let found = document.get_dictionary(page).unwrap().get(b"MediaBox").unwrap().as_array().unwrap();
    let found: Vec<f32> = found.iter().map(|n| n.as_float().unwrap()).collect();
    assert!((found[2] - points[0]).abs() < 0.01 && (found[3] - points[1]).abs() < 0.01, "{found:?}");
}

#[test]
fn names_are_written_in_the_letters_they_have() {
    let client = "Łukasz Żółć, Дмитро, Ελένη, Nguyễn";
    let (_, text) = said(&paper::sheet(&LETTERS, &Sheet { client: client.into(), ..sheet(1) }, Paper::A4).unwrap());
    assert!(text.contains(&close(client)), "{text}");
    // What no font has is seen to be missing.
    let (_, text) = said(&paper::sheet(&LETTERS, &Sheet { client: "Li 李".into(), ..sheet(1) }, Paper::A4).unwrap());
    assert!(text.contains("Li?"), "{text}");
}

/// The kinds of parts in the tree that is read aloud, in order, each with what it says of a drawing.
fn parts(document: &Document, of: &Object, found: &mut Vec<(String, Option<String>)>) {
    let (_, of) = document.dereference(of).unwrap();
    match of {
        Object::Array(all) => all.iter().for_each(|one| parts(document, one, found)),
        Object::Dictionary(one) => {
            if let Ok(kind) = one.get(b"S").and_then(Object::as_name) {
                let shows = one.get(b"Alt").ok().map(|alt| lopdf::decode_text_string(alt).unwrap());
                found.push((String::from_utf8_lossy(kind).into_owned(), shows));
            }
            if let Ok(under) = one.get(b"K") {
                parts(document, under, found);
            }
        }
        _ => {}
    }
}

#[test]
fn what_stands_on_a_page_can_be_read_aloud_in_order() {
    let document = read(&paper::sheet(&LETTERS, &sheet(2), Paper::A4).unwrap());
    let catalog = document.catalog().unwrap();
    assert_eq!(catalog.get(b"Lang").map(|l| lopdf::decode_text_string(l).unwrap()).ok().as_deref(), Some("en"));
    let mut found = Vec::new();
    parts(&document, catalog.get(b"StructTreeRoot").unwrap(), &mut found);
    let kinds: Vec<&str> =
        found.iter().map(|(kind, _)| kind.as_str()).filter(|k| matches!(*k, "H1" | "H2" | "Figure" | "L")).collect();
    assert_eq!(kinds, ["H1", "H2", "Figure", "L", "H2", "Figure", "L"]);
    let shown = found.iter().filter_map(|(_, shows)| shows.as_deref()).collect::<Vec<_>>();
    assert_eq!(shown, ["seen from the side"; 2]);
}

#[test]
fn a_booklet_says_what_is_due_and_begins_a_page_with_each_workout() {
    let booklet = Booklet {
        title: "Week of 23 November 2026".into(),
        client: "Odalys Finch".into(),
        days: vec![("Tue 24 Nov 2026".into(), "Push, Canal flat".into())],
        notes: vec!["Write into the boxes.".into()],
        sheets: vec![sheet(2), Sheet { name: "Pull".into(), ..sheet(1) }],
    };
    let bytes = paper::booklet(&LETTERS, &booklet, Paper::A4).unwrap();
    let document = read(&bytes);
    let page = |n: u32| document.extract_text(&[n]).unwrap();
    assert_eq!(document.get_pages().len(), 3);
    assert!(page(1).contains("Tue 24 Nov 2026") && page(1).contains("Write into the boxes."));
    assert!(page(2).starts_with("Push") && page(3).starts_with("Pull"), "{}", page(2));
}

#[test]
fn what_is_no_drawing_is_refused() {
    let mut broken = sheet(1);
    broken.lines[0].picture = Some("<svg".into());
    assert!(matches!(paper::sheet(&LETTERS, &broken, Paper::A4), Err(PaperError::Drawing(_))));
    assert!(matches!(Letters::new(vec![b"no font".to_vec()]), Err(PaperError::Font)));
    assert!(matches!(Letters::new(Vec::new()), Err(PaperError::Font)));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(8))]

    #[test]
    fn whatever_was_typed_is_printed(name in "\\PC{0,60}", cue in "\\PC{0,3000}", word in "[a-z]{0,400}", sets in 0_usize..40) {
        let mut hostile = sheet(1);
        hostile.name = name;
        hostile.lines[0].facts = vec![("Do".into(), cue), (word.clone(), word)];
        hostile.lines[0].sets = (0..sets).map(|n| (n.to_string(), String::new())).collect();
        let bytes = paper::sheet(&LETTERS, &hostile, Paper::A4).unwrap();
        prop_assert!(!read(&bytes).get_pages().is_empty());
    }
}
