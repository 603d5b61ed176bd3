//! Every drawing of the catalogue on default figures: no label covers another.

use askama::Template;
use bavrek_core::example::Example;
use bavrek_core::figure::Figure;
use bavrek_core::person::Person;
use bavrek_core::units::Metres;
use rstest::rstest;

use super::rig;

#[rstest]
#[case::usual(1.75)]
#[case::short(1.45)]
#[case::tall(2.05)]
fn no_label_covers_another_and_none_leaves_the_picture(#[case] stature: f64) {
    let catalogue = bavrek_catalogue::load().unwrap();
    let person = Person { height_m: Metres(stature), ..Person::default_figure() };
    let mut complaints = Vec::new();
    for movement in &catalogue.movements {
        let example = Example::of(&catalogue, movement, &person);
        let (rigged, assembly) = example.rig(movement, &person);
        let Some(figure) = Figure::of(&rigged, &example.loads, assembly.as_ref().ok()) else {
            complaints.push(format!("{}: is not drawn", movement.id));
            continue;
        };
        let picture = rig::draw(&movement.name, &figure, assembly.as_ref().ok(), stature, rig::Detail::Movable);
        complaints.extend(picture.overlap().map(|(a, b)| format!("{}: {a} over {b}", movement.id)));
        complaints.extend(picture.outside().map(|text| format!("{}: {text} outside", movement.id)));
        let svg = picture.render().unwrap();
        if svg.contains("NaN") || svg.contains("inf") {
            complaints.push(format!("{}: a number is not finite", movement.id));
        }
    }
    assert!(complaints.is_empty(), "\n{}", complaints.join("\n"));
}
