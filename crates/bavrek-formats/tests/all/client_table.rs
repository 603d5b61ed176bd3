//! Clients as tables from elsewhere.

use bavrek_formats::client_table::{MOST_ROWS, read};
use rstest::rstest;

#[rstest]
#[case::units_in_heads("name,body mass (kg),height (cm),level\nOdalys,\"68,5\",168,Novice\n", "68.5 kg", "168 cm")]
#[case::semicolons("Name;Weight [lb];Height (m);Experience\nOdalys;151;1,68;novice\n", "151 lb", "1.68 m")]
#[case::units_in_cells("client\tmass\tstature\texperience\nOdalys\t68 kg\t5'6\"\tnovice\n", "68 kg", "5'6\"")]
fn measures_come_with_their_units(#[case] text: &str, #[case] mass: &str, #[case] height: &str) {
    let table = read(text);
    assert_eq!(table.refused, []);
    let row = &table.clients[0];
    let said = ["name", "body_mass", "height", "experience"].map(|field| row.value(field));
    assert_eq!((row.line, said), (2, ["Odalys", mass, height, "novice"]));
}

#[test]
fn what_was_taken_out_comes_back_by_its_own_heads() {
    let text = "name,body mass (kg),height (m),experience,year of birth,sex,goal,days a week,minutes,time zone,address,archived,id\n\
                '=Odalys,68.5,1.68,novice,1987,F,size,3,45,Europe/Lisbon,o@bavrek.example,,0190a0b0-0000-7000-8000-000000000001\n";
    let table = read(text);
    let row = &table.clients[0];
    assert_eq!((row.value("name"), row.value("sex"), row.value("contact")), ("=Odalys", "female", "o@bavrek.example"));
    assert!(row.id.is_some());
    assert_eq!((table.passed_over, table.refused.len()), (vec!["archived".to_owned()], 0));
}

#[rstest]
#[case::no_mass("name,height,experience\nA,1.7,novice\n", "body mass")]
#[case::nothing("", "name")]
#[case::no_text("\u{fffd}\u{fffd}", "")]
fn a_table_that_is_none_says_so(#[case] text: &str, #[case] column: &str) {
    let table = read(text);
    assert_eq!((table.refused[0].column.as_str(), table.clients.len()), (column, 0));
}

#[test]
fn more_rows_than_are_read_are_told() {
    let row = "A,70,1.7,novice\n";
    let table = read(&format!("name,mass,height,experience\n{}", row.repeat(MOST_ROWS + 5)));
    assert_eq!((table.clients.len(), table.refused.len()), (MOST_ROWS, 1));
    assert!(table.refused[0].why.contains("more than 1000 rows"));
}
