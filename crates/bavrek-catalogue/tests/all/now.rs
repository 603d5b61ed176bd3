//! Steps as they are today: a band that is renamed or measured anew is the same band, with another name or another load.

use std::sync::LazyLock;

use crate::common::person;
use bavrek_catalogue::load;
use bavrek_core::execution::RangePart;
use bavrek_core::kit::{KitItem, MeasuredPoint, NamedBand, PieceState, full_room};
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::units::{Kilograms, Metres};
use rstest::rstest;
use uuid::Uuid;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

/// The full room with every band on record, each in its first state.
fn recorded() -> Vec<KitItem> {
    let piece = |n: usize| PieceState { piece: Uuid::from_u128(n as u128 + 1), state: Uuid::from_u128(n as u128 + 1) };
    full_room().into_iter().enumerate().map(|(n, item)| item.as_piece(Some(piece(n)))).collect()
}

/// The same bands a day later, each in another state, with something changed in them.
fn changed(kit: &[KitItem], change: impl Fn(KitItem) -> KitItem) -> Vec<KitItem> {
    let later = |item: &KitItem| {
        let piece = item.piece().map(|was| PieceState { state: Uuid::from_u128(was.state.as_u128() + 1000), ..was });
        change(item.clone()).as_piece(piece)
    };
    kit.iter().map(|item| if item.is_band() { later(item) } else { item.clone() }).collect()
}

fn renamed(item: KitItem) -> KitItem {
    match item {
        KitItem::LoopBand(mut b) => {
            b.label = Some(b.label.map_or_else(|| "old".to_owned(), |label| format!("old {label}")));
            KitItem::LoopBand(b)
        }
        KitItem::TubeBand(mut b) => {
            b.label = Some(b.label.map_or_else(|| "old".to_owned(), |label| format!("old {label}")));
            KitItem::TubeBand(b)
        }
        other => other,
    }
}

/// Two readings of a band that is a fifth stronger than its geometry or its print says.
fn measured(item: KitItem) -> KitItem {
    let KitItem::LoopBand(mut b) = item else { return item };
    let rubber = b.rubber().unwrap();
    let point = |stretch: f64| {
        let length_m = Metres(b.flat_length_m.value() * stretch);
        let pull = rubber.force(2.0, length_m, b.flat_length_m).unwrap();
        MeasuredPoint { length_m, kg: Kilograms(1.2 * pull.value() / 9.81), simulated: false }
    };
    b.measured = Some([1.3, 1.7, 2.1].map(point).to_vec());
    KitItem::LoopBand(b)
}

/// Every step of every movement that a band is in, in the whole range and in half of it.
fn banded(kit: &[KitItem], mut each: impl FnMut(&bavrek_core::movement::Movement, &LadderStep)) -> usize {
    let mut seen = 0;
    for movement in &CATALOGUE.movements {
        for part in [None, Some(RangePart::LengthenedHalf)] {
            let ladder = Ladder::of_part(movement, &person(), kit, part);
            for step in ladder.steps.iter().filter(|step| !step.bands.is_empty()) {
                each(movement, step);
                seen += 1;
            }
        }
    }
    seen
}

#[test]
fn what_did_not_change_stays_as_it_was_kept() {
    let kit = recorded();
    let seen = banded(&kit, |movement, step| {
        let kept = LadderStep { effective_kg: Kilograms(1.0), ..step.clone() };
        assert_eq!(kept.as_now(movement, &person(), &kit), kept, "{}", movement.id);
    });
    assert!(seen > 200, "{seen}");
}

#[test]
fn a_band_that_is_renamed_is_told_by_its_new_name_and_pulls_as_before() {
    let kit = recorded();
    let later = changed(&kit, renamed);
    let seen = banded(&kit, |movement, step| {
        let now = step.as_now(movement, &person(), &later);
        let told = format!("{}: {} is now {}", movement.id, step.label, now.label);
        assert!(now.bands.iter().all(|band| band.name.starts_with("old ")), "{told}");
        assert!(now.bands.iter().all(|band| now.label.contains(&band.name)), "{told}");
        assert!((now.effective_kg.value() / step.effective_kg.value() - 1.0).abs() < 0.03, "{told}: {now:?} {step:?}");
        assert!(now.is_alike(step) && Ladder::can_set_up(movement, &person(), &later, step), "{told}");
    });
    assert!(seen > 200, "{seen}");
}

#[test]
fn a_band_that_is_measured_anew_loads_as_it_was_measured() {
    let kit = recorded();
    let later = changed(&kit, measured);
    let mut changed = 0;
    banded(&kit, |movement, step| {
        let now = step.as_now(movement, &person(), &later);
        let ratio = now.effective_kg.value() / step.effective_kg.value();
        let told = format!("{}: {}, {ratio:.3}", movement.id, step.label);
        // A stronger band loads more by its share; one that helps leaves less to lift.
        let loop_band = step.implements.contains(&bavrek_core::anatomy::Implement::LoopBand);
        if loop_band && step.band_share.abs() > 0.3 {
            assert!(
                if step.band_share > 0.0 { ratio > 1.02 } else { ratio < 0.99 },
                "{told}, share {}",
                step.band_share
            );
            changed += 1;
        }
        assert!((0.3..=1.35).contains(&ratio), "{told}");
        // The ladder of the room says the same of what it still offers.
        let there = Ladder::of_part(movement, &person(), &later, step.setup.range);
        if let Some(other) = there.steps.iter().find(|other| other.is_alike(step)) {
            assert!((now.effective_kg.value() / other.effective_kg.value() - 1.0).abs() < 1e-9, "{told}");
            assert_eq!(now.label, other.label);
        }
    });
    assert!(changed > 50, "{changed}");
}

#[rstest]
#[case::gone(|_: KitItem| None)]
#[case::another_piece_of_another_name(|item: KitItem| Some(renamed(item).as_piece(Some(PieceState {
    piece: Uuid::from_u128(777),
    state: Uuid::from_u128(777),
}))))]
fn a_band_that_is_gone_leaves_the_step_as_it_was_kept(#[case] left: fn(KitItem) -> Option<KitItem>) {
    let kit = recorded();
    let bare: Vec<KitItem> =
        kit.iter().filter_map(|item| if item.is_band() { left(item.clone()) } else { Some(item.clone()) }).collect();
    let movement = CATALOGUE.movement("band_fly").unwrap();
    let step = &Ladder::of(movement, &person(), &kit).steps[0];
    assert_eq!(step.as_now(movement, &person(), &bare), *step);
    assert!(!Ladder::can_set_up(movement, &person(), &bare, step));
}

#[test]
fn a_new_band_under_an_old_name_is_not_taken_for_it() {
    let kit = recorded();
    let movement = CATALOGUE.movement("band_fly").unwrap();
    let step = Ladder::of(movement, &person(), &kit).steps[0].clone();
    let own = step.bands[0].in_kit(&kit).unwrap();
    let other = own.clone().as_piece(Some(PieceState { piece: Uuid::from_u128(900), state: Uuid::from_u128(900) }));
    let mut later = changed(&kit, renamed);
    later.push(other);
    let now = step.as_now(movement, &person(), &later);
    assert_eq!(now.bands[0].name, format!("old {}", step.bands[0].name));
    assert_ne!(now.bands[0].piece.unwrap().piece, Uuid::from_u128(900));
}

#[test]
fn a_name_alone_is_found_by_its_name_and_written_as_before() {
    let kit = recorded();
    let movement = CATALOGUE.movement("band_fly").unwrap();
    let step = Ladder::of(movement, &person(), &full_room()).steps[0].clone();
    let text = serde_json::to_value(&step).unwrap();
    assert_eq!(text["bands"][0], serde_json::json!(step.bands[0].name));
    let now = step.as_now(movement, &person(), &kit);
    assert!(now.bands[0].piece.is_some());
    assert_eq!((now.effective_kg, &now.label), (step.effective_kg, &step.label));
    let back: Vec<NamedBand> = serde_json::from_value(serde_json::to_value(&now.bands).unwrap()).unwrap();
    assert_eq!(back, now.bands);
}

#[rstest]
#[case::heavier(1.1)]
#[case::lighter(0.9)]
fn the_bodys_own_weight_is_what_the_body_weighs_now(#[case] share: f64) {
    let (kit, then) = (recorded(), person());
    let now = Person { body_mass_kg: Kilograms(then.body_mass_kg.value() * share), ..then.clone() };
    let mut seen = 0;
    for movement in CATALOGUE.movements.iter().filter(|m| m.rig.is_lever()) {
        let later = Ladder::whole(movement, &now, &kit);
        for step in &Ladder::of(movement, &then, &kit).steps {
            let found = step.as_now(movement, &now, &kit);
            let told = format!("{}: {}, {} then, {}", movement.id, step.label, step.effective_kg, found.effective_kg);
            let ratio = found.effective_kg.value() / step.effective_kg.value();
            // What is strapped on, or a band that helps, stays what it is; a band loads a heavier body by less of a share.
            assert!(
                if share > 1.0 { (0.999..=1.5).contains(&ratio) } else { (0.5..=1.001).contains(&ratio) },
                "{told}"
            );
            if let Some(same) = later.steps.iter().find(|other| other.is_alike(step)) {
                assert!((same.effective_kg.value() / found.effective_kg.value() - 1.0).abs() < 1e-9, "{told}");
            }
            assert!(found.is_alike(step) && found.label == step.label, "{told}: {}", found.label);
            seen += usize::from((ratio - 1.0).abs() > 0.05);
        }
    }
    assert!(seen > 100, "{seen}");
}

#[test]
fn what_is_held_weighs_the_same_whoever_holds_it() {
    let (kit, then) = (recorded(), person());
    let now = Person { body_mass_kg: Kilograms(90.0), ..then.clone() };
    let movement = CATALOGUE.movement("dumbbell_curl").unwrap();
    for step in &Ladder::of(movement, &then, &kit).steps {
        assert_eq!(step.as_now(movement, &now, &kit), *step);
    }
}
