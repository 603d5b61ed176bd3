//! Every kind of kit is described as files tell it, and its description is what refuses a figure.

use bavrek_core::kit::{
    ASKED, AdjustableDumbbell, Barbell, Bench, Kettlebells, Kind, KitItem, PlateDumbbell, Plates, Step, Told, TubeBand,
    full_room, read_plates,
};
use bavrek_core::units::{MassUnit, Metres};
use rstest::rstest;
use serde_json::{Value, json};

/// What bands carry besides: readings of a scale, which no form asks for.
const READINGS: &str = "measured";

/// At least one piece of every kind.
fn one_of_each() -> Vec<KitItem> {
    let mut all = full_room();
    let plates = vec![Plates { weight: 2.5, count: 4 }];
    all.extend([
        KitItem::AdjustableDumbbell(AdjustableDumbbell {
            unit: MassUnit::Kg,
            count: 2,
            min: 2.5,
            max: 24.0,
            step: 1.5,
        }),
        KitItem::PlateDumbbell(PlateDumbbell { unit: MassUnit::Kg, count: 1, handle: 2.0, plates }),
        KitItem::Kettlebells(Kettlebells { unit: MassUnit::Lb, pairs: vec![18.0], singles: vec![53.0] }),
        KitItem::TubeBand(TubeBand {
            label: Some("grey".into()),
            count: 1,
            rest_length_m: Metres(1.2),
            rated_kg: Some([5.0, 15.0]),
            ..TubeBand::default()
        }),
        KitItem::Step(Step { height_m: Metres(0.2) }),
    ]);
    all
}

#[test]
fn every_kind_is_described_as_files_tell_it() {
    let pieces = one_of_each();
    for kind in Kind::ALL {
        let own: Vec<&KitItem> = pieces.iter().filter(|p| p.kind() == kind.id).collect();
        assert!(!own.is_empty(), "{}", kind.id);
        for item in own {
            item.validate().unwrap();
            let told = serde_json::to_value(item).unwrap();
            assert_eq!(told["kind"], kind.id);
            for path in told.as_object().unwrap().keys().filter(|path| *path != "kind" && *path != READINGS) {
                assert!(kind.measures.iter().any(|m| m.path == path), "{}: {path} is not described", kind.id);
            }
        }
    }
}

#[test]
fn what_can_be_put_up_at_once_is_of_its_kind_and_legal() {
    let usual: Vec<_> = Kind::ALL.iter().filter_map(|kind| Some((kind.id, (kind.usual?.piece)()))).collect();
    assert!(usual.len() > 15);
    for (id, item) in usual {
        assert_eq!(item.kind(), id);
        item.validate().unwrap();
    }
}

#[test]
fn forms_ask_for_all_that_is_told() {
    let asked: Vec<&str> = ASKED.iter().map(|m| m.name).collect();
    for kind in Kind::ALL {
        for measure in kind.measures {
            assert!(asked.contains(&measure.name), "{}: {}", kind.id, measure.name);
        }
    }
    let of_one = |name: &&str| Kind::ALL.iter().any(|kind| kind.measure(name).is_some());
    assert!(asked.len() > 20 && asked.iter().all(of_one), "{asked:?}");
}

/// The same piece with another figure in a field, where the figure is one that it can have.
fn with(item: &KitItem, path: &str, value: Value) -> Option<KitItem> {
    let mut told = serde_json::to_value(item).unwrap();
    told[path] = value;
    serde_json::from_value(told).ok()
}

#[test]
fn what_is_out_of_its_range_is_refused_by_name() {
    let pieces = one_of_each();
    let mut refused = 0;
    for item in &pieces {
        let kg = item.fixed_weights().map_or(1.0, |(.., unit)| unit.in_kilograms());
        for measure in item.described().measures {
            let (path, of): (&str, fn(f64) -> Value) = match measure.told {
                Told::Figures(_) => (measure.path, |v| json!([v])),
                Told::From(_) => (measure.path, |v| json!([v, 1000.0])),
                Told::To(_) => (measure.path, |v| json!([1.0, v])),
                Told::Stamped(_) | Told::Figure(_) | Told::Millimetres(_) => (measure.path, |v| json!(v)),
                Told::Count(_) => (measure.path, |v| json!(v as u8)),
                _ => continue,
            };
            let [least, most] = match measure.told {
                Told::Figures(r)
                | Told::From(r)
                | Told::To(r)
                | Told::Stamped(r)
                | Told::Figure(r)
                | Told::Millimetres(r) => [r.min - 0.01, r.max + 0.01],
                Told::Count(most) => [0.0, f64::from(most) + 1.0],
                _ => continue,
            };
            for beyond in [least, most] {
                let wrong = with(item, path, of(beyond / kg)).unwrap();
                let error = wrong.validate().expect_err(&format!("{}: {path} {beyond}", item.kind()));
                assert_eq!(error.path.split('[').next(), Some(path), "{}: {}", item.kind(), error.message);
                refused += 1;
            }
        }
    }
    assert!(refused > 60, "{refused}");
}

#[test]
fn no_figure_at_all_is_refused() {
    let rings = KitItem::Rings(bavrek_core::kit::Rings { max_height_m: Metres(f64::NAN) });
    assert_eq!(rings.validate().unwrap_err().path, "max_height_m");
}

#[rstest]
#[case(None, None, "bench 0, 30°")]
#[case(Some(0.48), None, "bench 0, 30°, 0.48 m high")]
#[case(Some(0.48), Some(2), "2 benches 0, 30°, 0.48 m high")]
fn a_bench_says_what_was_told_of_it(#[case] height: Option<f64>, #[case] count: Option<u8>, #[case] words: &str) {
    let bench = Bench { angles_deg: vec![0.0, 30.0], height_m: height.map(Metres), count };
    assert_eq!(KitItem::Bench(bench).text(), words);
}

#[rstest]
#[case(20.0, "2x10", None)]
#[case(60.0, "2x10", Some("bar"))]
#[case(20.0, "20x25", Some("plates"))]
#[case(20.0, "2x60", Some("plates[0].weight"))]
fn a_bar_has_its_bounds(#[case] bar: f64, #[case] on: &str, #[case] refused: Option<&str>) {
    let barbell = Barbell { unit: MassUnit::Kg, bar, plates: read_plates(on).unwrap() };
    assert_eq!(KitItem::Barbell(barbell).validate().err().map(|e| e.path).as_deref(), refused);
}
