//! What comes between two sets: over every movement on every step of a full room, and every thing that can be seen.

use crate::common::{kit, person};
use bavrek_core::anatomy::{Implement, Joint, Pattern, Surface};
use bavrek_core::between::{Advice, Doing, HeldBack, Next, When, between, due, held_back, observable};
use bavrek_core::dose::{SetKind, SetPlan, Tempo};
use bavrek_core::fit::{Bearing, bearing};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::Ladder;
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::RigModel;
use bavrek_core::spot::sparing;
use chrono::NaiveDate;
use rstest::rstest;

fn straight(reps: [u16; 2], rir: u8) -> SetPlan {
    SetPlan::straight(reps, Some(rir), Tempo::USUAL, 90)
}

/// Every movement on every step of it.
fn everywhere(look: impl Fn(&str, &Doing<'_>, &[Advice])) {
    let (catalogue, kit, mut looked) = (bavrek_catalogue::load().unwrap(), full_room(), 0);
    for movement in &catalogue.movements {
        let ladder = Ladder::of(movement, &person(), &kit);
        for at in 0..ladder.steps.len() {
            for may_rise in [true, false] {
                let doing = Doing { pattern: movement.pattern, steps: &ladder.steps, at, half: false, may_rise };
                look(&movement.id, &doing, &between(&doing, &straight([8, 12], 2), 2));
                looked += 1;
            }
        }
    }
    assert!(looked > 2000, "{looked}");
}

#[test]
fn a_lighter_or_heavier_step_is_there_and_near() {
    everywhere(|id, doing, all| {
        let load = |at: usize| doing.steps[at].effective_kg.value();
        for advice in all {
            match advice.next {
                Next::Lighter => {
                    let below = &doing.steps[doing.at - 1];
                    assert!(advice.to_string().contains(&below.label), "{id}: {advice}");
                    assert!(load(doing.at - 1) >= 0.7 * load(doing.at), "{id}: another exercise");
                }
                Next::Heavier => {
                    assert!(doing.may_rise, "{id}: it may not rise");
                    let above = &doing.steps[doing.at + 1];
                    assert!(advice.to_string().contains(&above.label), "{id}: {advice}");
                    assert!(load(doing.at + 1) <= 1.1 * load(doing.at), "{id}: that needs a bridge");
                }
                Next::Same | Next::Stop => assert!(!advice.to_string().contains("step up"), "{id}: {advice}"),
            }
        }
    });
}

/// Whatever is wrong is never answered with more load, and what moved stops before anything else.
#[test]
fn what_is_seen_never_makes_it_heavier() {
    everywhere(|id, doing, all| {
        let seen: Vec<_> = all.iter().filter(|a| matches!(a.when, When::Seen { .. })).collect();
        assert!(seen.len() >= 10, "{id}: {}", seen.len());
        assert!(seen.iter().all(|a| a.next != Next::Heavier), "{id}");
        assert_eq!(all[0].when, When::Seen { what: Observation::AnchorMoved }, "{id}");
        assert_eq!(all[0].next, Next::Stop, "{id}");
        for what in Observation::ALL {
            let of = seen.iter().filter(|a| a.when == When::Seen { what: *what }).count();
            assert!(of <= 1, "{id}: {what} twice");
        }
        // Nothing is said of what the movement has not.
        let says = |what| seen.iter().any(|a| a.when == When::Seen { what });
        let presses = [Pattern::HorizontalPress, Pattern::InclinePress, Pattern::DeclinePress, Pattern::OverheadPress];
        assert_eq!(says(Observation::ForearmTips), presses.contains(&doing.pattern), "{id}");
        assert_eq!(says(Observation::BandSlack), doing.steps[doing.at].band_share > 0.0, "{id}");
    });
}

/// Only what a movement has on a step is asked about: over every movement on every step of a full room.
#[test]
fn only_what_can_be_seen_is_asked_about() {
    let (catalogue, mut asked, mut banded, mut trusted) = (bavrek_catalogue::load().unwrap(), 0, 0, 0);
    for movement in &catalogue.movements {
        for step in Ladder::anywhere(movement, &person()).steps {
            let seen: Vec<Observation> = observable(movement, &step).collect();
            let can = |what| seen.contains(&what);
            assert!(seen.len() >= 10 && seen.len() < Observation::ALL.len(), "{}: {}", movement.id, seen.len());
            assert!(can(Observation::RangeShort) && can(Observation::Impossible) && can(Observation::FeltElsewhere));
            assert_eq!(can(Observation::BandSlack), !step.bands.is_empty(), "{}: {}", movement.id, step.label);
            assert_eq!(can(Observation::RingsShook), step.implements.contains(&Implement::Rings), "{}", movement.id);
            // Whoever hangs, leans or pulls on something is always asked whether it moved.
            let hangs = matches!(
                movement.rig,
                RigModel::InvertedRow
                    | RigModel::Dip { .. }
                    | RigModel::ChinUp { .. }
                    | RigModel::RingCurl { .. }
                    | RigModel::BodyArc { .. }
                    | RigModel::BodyExtension { .. }
            );
            // A dip on the floor trusts the floor.
            let hangs = hangs && step.setup.surface != Some(Surface::Floor);
            let trusts = hangs || step.setup.anchor_height_m.is_some() || step.setup.bench_deg.is_some();
            assert!(can(Observation::AnchorMoved) || !trusts, "{}: {}", movement.id, step.label);
            trusted += usize::from(trusts);
            let flies = [Pattern::Fly, Pattern::FlyLowToHigh, Pattern::FlyHighToLow].contains(&movement.pattern);
            assert_eq!(can(Observation::FlyBecamePress), flies, "{}", movement.id);
            asked += 1;
            banded += usize::from(can(Observation::BandSlack));
        }
    }
    assert!(asked > 1_000 && banded > 100 && trusted > 300, "{asked} {banded} {trusted}");
}

/// Of a set of 8 to 12 with 2 in reserve: repetitions, reserve, what was seen, and what comes of it.
#[rstest]
#[case(9, Some(2), None, None)]
#[case(7, Some(0), None, None)]
#[case(6, Some(0), None, Some(Next::Lighter))]
#[case(12, Some(3), None, None)]
#[case(12, Some(4), None, Some(Next::Heavier))]
#[case(14, Some(4), None, Some(Next::Heavier))]
#[case(12, None, None, None)]
#[case(12, Some(4), Some(Observation::Swinging), Some(Next::Lighter))]
#[case(12, Some(4), Some(Observation::HipsSagged), Some(Next::Lighter))]
#[case(6, Some(0), Some(Observation::AnchorMoved), Some(Next::Stop))]
#[case(9, Some(2), Some(Observation::Easy), None)]
#[case(9, Some(2), Some(Observation::FeltOnTarget), None)]
fn one_advice_is_due(
    #[case] reps: u16,
    #[case] rir: Option<u8>,
    #[case] seen: Option<Observation>,
    #[case] next: Option<Next>,
) {
    let catalogue = bavrek_catalogue::load().unwrap();
    let kit = kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[9,10,11]}]"#);
    let ladder = Ladder::of(catalogue.movement("dumbbell_curl").unwrap(), &person(), &kit);
    let doing = Doing { pattern: Pattern::ElbowFlexion, steps: &ladder.steps, at: 1, half: false, may_rise: true };
    let all = between(&doing, &straight([8, 12], 2), 2);
    let mut set = LoggedSet::of("dumbbell_curl", NaiveDate::MIN);
    (set.reps, set.rir, set.seen) = (Some(reps), rir, seen.into_iter().collect());
    assert_eq!(due(&all, &set).map(|a| a.next), next);
}

/// Whatever was easy: with pain or out of form it is never answered with more load.
#[rstest]
#[case(None, None, Some(Next::Heavier))]
#[case(Some(0), Some(true), Some(Next::Heavier))]
#[case(Some(1), None, None)]
#[case(Some(3), Some(true), None)]
#[case(None, Some(false), Some(Next::Lighter))]
fn pain_and_lost_form_take_no_more_load(
    #[case] pain: Option<u8>,
    #[case] form_kept: Option<bool>,
    #[case] next: Option<Next>,
) {
    let catalogue = bavrek_catalogue::load().unwrap();
    let kit = kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[9,10,11]}]"#);
    let ladder = Ladder::of(catalogue.movement("dumbbell_curl").unwrap(), &person(), &kit);
    let doing = Doing { pattern: Pattern::ElbowFlexion, steps: &ladder.steps, at: 1, half: false, may_rise: true };
    let all = between(&doing, &straight([8, 12], 2), 2);
    let easy = LoggedSet { reps: Some(12), rir: Some(4), ..LoggedSet::of("dumbbell_curl", NaiveDate::MIN) };
    assert_eq!(due(&all, &LoggedSet { pain, form_kept, ..easy }).map(|a| a.next), next);
}

/// Over every movement, every joint and every kind of day: a load is held back by a clearance that is missing before all else, by a
/// lighter week, and where a limit touches the movement; by nothing else.
#[test]
fn no_load_rises_where_a_joint_is_spared() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let (mut free, mut held) = (0, 0);
    for movement in &catalogue.movements {
        for (day, reason) in [
            ((false, false), None),
            ((false, true), Some(HeldBack::LighterWeek)),
            ((true, false), Some(HeldBack::Clearance)),
            ((true, true), Some(HeldBack::Clearance)),
        ] {
            assert_eq!(held_back(movement, &person(), day), reason, "{}: {day:?}", movement.id);
        }
        for joint in Joint::ALL {
            let spared = sparing(&person(), *joint, None, Some(6));
            let touched = spared.limits.iter().any(|limit| bearing(movement, limit) != Bearing::Free);
            let reason = touched.then_some(HeldBack::Spared);
            assert_eq!(held_back(movement, &spared, (false, false)), reason, "{}: {joint:?}", movement.id);
            *(if touched { &mut held } else { &mut free }) += 1;
        }
    }
    assert!(free > 100 && held > 300, "{free} {held}");
}

/// What is not counted towards a zone leads to nothing by its number.
#[rstest]
#[case(SetKind::Amrap)]
#[case(SetKind::ToTotal)]
#[case(SetKind::Station)]
#[case(SetKind::Extension)]
#[case(SetKind::LoweringOnly)]
fn only_straight_sets_are_read_by_their_number(#[case] kind: SetKind) {
    let catalogue = bavrek_catalogue::load().unwrap();
    let ladder = Ladder::of(catalogue.movement("dumbbell_curl").unwrap(), &person(), &full_room());
    let doing = Doing { pattern: Pattern::ElbowFlexion, steps: &ladder.steps, at: 3, half: false, may_rise: true };
    let work = SetPlan { kind, ..straight([8, 12], 2) };
    let all = between(&doing, &work, 2);
    let by_number = |a: &Advice| matches!(a.when, When::Fewer { .. } | When::Easy { .. });
    assert!(!all.is_empty() && !all.iter().any(by_number));
}

/// Half of the range is no fault where it was chosen.
#[test]
fn a_chosen_half_is_not_cut_short() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let ladder = Ladder::of(catalogue.movement("dumbbell_curl").unwrap(), &person(), &full_room());
    let short = When::Seen { what: Observation::RangeShort };
    for half in [false, true] {
        let doing = Doing { pattern: Pattern::ElbowFlexion, steps: &ladder.steps, at: 3, half, may_rise: true };
        let all = between(&doing, &straight([8, 12], 2), 2);
        assert_eq!(all.iter().any(|a| a.when == short), !half);
    }
}
