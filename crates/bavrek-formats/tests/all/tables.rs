//! Tables, read back by other readers than the one that wrote them.

use bavrek_formats::tables::{Cell, Table, workbook};
use calamine::{Data, DataType, Reader, Xlsx};
use chrono::NaiveDate;
use rstest::rstest;

fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

fn table() -> Table {
    Table {
        name: "log",
        heads: vec!["day", "movement", "load (kg)", "reps", "done at (UTC)"],
        rows: vec![
            vec![
                Cell::Day(day("2026-03-09")),
                Cell::text("Row, \"one-arm\"\nin a \u{2013} sling"),
                Cell::rounded(Some(12.5), 3),
                Cell::whole(Some(9_u16)),
                Cell::Moment(day("2026-03-09").and_hms_opt(17, 5, 30).unwrap()),
            ],
            vec![
                Cell::Day(day("1999-12-31")),
                Cell::text("=1+1"),
                Cell::Nothing,
                Cell::whole(None::<u16>),
                Cell::Nothing,
            ],
        ],
    }
}

#[test]
fn a_csv_is_what_its_standard_says() {
    let bytes = table().csv().unwrap();
    assert!(bytes.starts_with("\u{feff}day,movement,load (kg),reps,done at (UTC)\r\n".as_bytes()));
    let mut reader = csv::Reader::from_reader(&bytes[3..]);
    let rows: Vec<Vec<String>> = reader.records().map(|r| r.unwrap().iter().map(str::to_owned).collect()).collect();
    assert_eq!(rows[0], ["2026-03-09", "Row, \"one-arm\"\nin a \u{2013} sling", "12.5", "9", "2026-03-09 17:05:30"]);
    assert_eq!(rows[1], ["1999-12-31", "'=1+1", "", "", ""]);
}

#[rstest]
#[case("=SUM(A1)", "'=SUM(A1)")]
#[case("+1", "'+1")]
#[case("-1", "'-1")]
#[case("@x", "'@x")]
#[case("\tx", "'\tx")]
#[case("8-12", "8-12")]
fn no_text_is_taken_for_a_formula(#[case] text: &str, #[case] written: &str) {
    let table = Table { name: "t", heads: vec!["x"], rows: vec![vec![Cell::text(text)]] };
    let bytes = table.csv().unwrap();
    let mut reader = csv::Reader::from_reader(&bytes[3..]);
    assert_eq!(reader.records().next().unwrap().unwrap().get(0), Some(written));
    // In a workbook it is a text by its type, and stays as it is.
    let book = workbook(&[table]).unwrap();
    let mut read: Xlsx<_> = Xlsx::new(std::io::Cursor::new(book)).unwrap();
    let sheet = read.worksheet_range("t").unwrap();
    assert_eq!(sheet.get_value((1, 0)), Some(&Data::String(text.into())));
    assert!(read.worksheet_formula("t").unwrap().is_empty());
}

#[test]
fn a_workbook_holds_every_table_with_its_types() {
    let kit = Table { name: "kit", heads: vec!["place"], rows: Vec::new() };
    let bytes = workbook(&[table(), kit]).unwrap();
    let mut book: Xlsx<_> = Xlsx::new(std::io::Cursor::new(bytes)).unwrap();
    assert_eq!(book.sheet_names(), ["log", "kit"]);
    let sheet = book.worksheet_range("log").unwrap();
    let at = |row, column| sheet.get_value((row, column)).cloned().unwrap_or_default();
    assert_eq!(at(0, 2), Data::String("load (kg)".into()));
    assert_eq!(at(1, 0).as_date(), Some(day("2026-03-09")));
    assert_eq!((at(1, 2), at(1, 3)), (Data::Float(12.5), Data::Float(9.0)));
    assert_eq!(at(1, 4).as_datetime().map(|t| t.to_string()).as_deref(), Some("2026-03-09 17:05:30"));
    assert_eq!(at(2, 2), Data::Empty);
}

#[rstest]
#[case(Some(2.0 / 3.0), 2, Cell::Number(0.67))]
#[case(Some(-0.001), 1, Cell::Number(0.0))]
#[case(Some(f64::NAN), 1, Cell::Nothing)]
#[case(Some(f64::INFINITY), 1, Cell::Nothing)]
#[case(None, 1, Cell::Nothing)]
fn numbers_are_rounded_and_never_nonsense(#[case] number: Option<f64>, #[case] decimals: i32, #[case] cell: Cell) {
    assert_eq!(Cell::rounded(number, decimals), cell);
}

/// More than a spreadsheet takes of a cell does not break the workbook.
#[test]
fn a_novel_in_a_cell_is_cut() {
    let table = Table { name: "t", heads: vec!["x"], rows: vec![vec![Cell::text("é".repeat(40_000))]] };
    let book = workbook(&[table]).unwrap();
    let mut read: Xlsx<_> = Xlsx::new(std::io::Cursor::new(book)).unwrap();
    let sheet = read.worksheet_range("t").unwrap();
    assert_eq!(sheet.get_value((1, 0)).unwrap().as_string().unwrap().chars().count(), 32_767);
}
