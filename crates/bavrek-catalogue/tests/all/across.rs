//! Across clients: what logs say of movements, how they are pooled, and how far that leans the order of fits.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use bavrek_catalogue::load;
use bavrek_core::across::{
    Across, Came, FEWEST_CLIENTS, Hurt, Lessons, MOST_TILT, Outcome, Reader, TrackRecord, Went, lessons,
};
use bavrek_core::aims::{Aim, Aims, RegionAim};
use bavrek_core::anatomy::{Joint, Region};
use bavrek_core::fit::{FitAnswer, FitQuestion, Fitter, Room, fit};
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::{Limit, LimitKind, Person, Severity, Side};
use bavrek_core::plan::Intent;
use bavrek_core::review::{Done, Verdict};
use bavrek_core::strength::Ledger;
use bavrek_core::wording;
use chrono::Days;
use proptest::prelude::*;
use rstest::rstest;

use crate::common::{day, dumbbell_set, intent, person};

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());
static FULL: LazyLock<Vec<KitItem>> = LazyLock::new(full_room);

const fn went(kept: u16, still: u16, lost: u16, hurt: u16) -> Went {
    Went { kept, still, lost, hurt }
}

/// A record in which `id` went so, and others as they mostly do.
fn record_of(id: &str, own: Went) -> TrackRecord {
    let others = ["push_up", "dumbbell_row", "dumbbell_curl"].map(|other| (other.to_owned(), went(8, 1, 1, 0)));
    TrackRecord::of(others.into_iter().chain([(id.to_owned(), own)]).collect())
}

/// Too few clients say nothing, and neither does what is about as usual.
#[rstest]
#[case::nobody(went(0, 0, 0, 0), None)]
#[case::three_of_three(went(3, 0, 0, 0), None)]
#[case::three_of_four(went(3, 1, 0, 0), None)]
#[case::eight_of_ten(went(8, 2, 0, 0), None)]
#[case::ten_of_ten(went(10, 0, 0, 0), Some(0.011))]
#[case::half_stand_still(went(3, 3, 0, 0), Some(-0.013))]
#[case::hurts_half(went(3, 0, 0, 3), Some(-0.013))]
#[case::nobody_kept(went(0, 2, 2, 2), Some(-MOST_TILT))]
fn a_record_leans_a_score_a_little(#[case] own: Went, #[case] expected: Option<f64>) {
    let tilt = record_of("ring_dip", own).tilt("ring_dip");
    match (tilt, expected) {
        (Some(tilt), Some(expected)) => assert!((tilt - expected).abs() < 0.002, "{tilt}"),
        (tilt, expected) => assert_eq!(tilt, expected),
    }
}

#[rstest]
#[case::all(went(4, 0, 0, 0), "kept or raised strength in 4 of 4 of your clients")]
#[case::mixed(went(4, 1, 0, 1), "kept or raised strength in 4 of 6 of your clients, stood still in 1, hurt 1")]
#[case::bad(went(0, 0, 5, 0), "kept or raised strength in 0 of 5 of your clients, lost strength in 5")]
fn a_record_is_told_in_figures(#[case] own: Went, #[case] words: &str) {
    assert_eq!(own.text(), words);
}

proptest! {
    /// However it went: the lean is small, says nothing of few, and one client more with whom it went well never lowers it.
    #[test]
    fn a_lean_is_small_and_follows_what_happened(kept in 0u16..60, still in 0u16..30, lost in 0u16..30, hurt in 0u16..30) {
        let tilt = |own: Went| record_of("ring_dip", own).tilt("ring_dip");
        let own = went(kept, still, lost, hurt);
        let found = tilt(own);
        prop_assert!(found.is_none_or(|t| t.abs() <= MOST_TILT));
        prop_assert!(own.known() >= FEWEST_CLIENTS || found.is_none());
        if own.known() >= FEWEST_CLIENTS {
            // The trainer's usual share rises a little with it.
            let better = tilt(went(kept + 1, still, lost, hurt)).unwrap_or(0.0);
            prop_assert!(better >= found.unwrap_or(0.0) - 0.0021, "{better} after {found:?}");
        }
    }
}

/// Sets of a curl on days of a spring, three a day: kilograms in each hand and repetitions.
fn days(movement: &str, from: &str, every: u64, work: &[(f64, u16)]) -> Vec<LoggedSet> {
    let sets = work.iter().enumerate().flat_map(|(i, (kg, reps))| {
        let date = day(from).checked_add_days(Days::new(every * i as u64)).unwrap();
        std::iter::repeat_n(dumbbell_set(movement, &date.to_string(), *kg, *reps, 2), 3)
    });
    sets.collect()
}

fn told(sets: &[LoggedSet], limits: &[Limit]) -> Lessons {
    told_with(sets, limits, None)
}

fn told_with(sets: &[LoggedSet], limits: &[Limit], aims: Option<&Aims>) -> Lessons {
    let (person, today) = (person(), day("2026-06-30"));
    let ledger = Ledger::replay(&CATALOGUE, &person, sets, Some(today));
    let done: Vec<Done<'_>> = sets.iter().map(|set| Done { set, place: None }).collect();
    lessons(&CATALOGUE, &ledger, &done, Reader { aims, limits, today })
}

/// What a log says of a movement.
#[rstest]
#[case::grows(&[(10.0, 8), (10.0, 9), (10.0, 11), (12.0, 8), (12.0, 10), (12.0, 12)], 4, Some(Outcome::Kept))]
#[case::stands_still(&[(10.0, 10); 18], 3, Some(Outcome::Still))]
#[case::not_long_enough_to_stand_still(&[(10.0, 10); 5], 3, Some(Outcome::Kept))]
#[case::loses(&[(14.0, 12), (14.0, 11), (12.0, 9), (10.0, 8), (8.0, 7), (8.0, 6)], 7, Some(Outcome::Lost))]
#[case::too_few_days(&[(10.0, 8), (10.0, 12)], 4, None)]
fn a_log_says_how_a_movement_went(#[case] work: &[(f64, u16)], #[case] every: u64, #[case] expected: Option<Outcome>) {
    let found = told(&days("dumbbell_curl", "2026-05-01", every, work), &[]);
    assert_eq!(found.outcomes.get("dumbbell_curl").copied(), expected, "{found:?}");
}

/// Who is only to keep a region stands still rightly; who was never asked is taken to grow.
#[rstest]
#[case::never_said(None, Outcome::Still)]
#[case::to_grow(Some(Aim::Grow), Outcome::Still)]
#[case::in_focus(Some(Aim::Focus), Outcome::Still)]
#[case::to_be_kept(Some(Aim::Keep), Outcome::Kept)]
fn standing_still_counts_where_something_is_to_grow(#[case] aim: Option<Aim>, #[case] expected: Outcome) {
    let wanted = RegionAim { aim: aim.unwrap_or(Aim::Keep), sets: None };
    let aims = Aims { goal: None, regions: [(Region::BicepsShort, wanted)].into() };
    let sets = days("dumbbell_curl", "2026-05-01", 3, &[(10.0, 10); 18]);
    assert!(CATALOGUE.movement("dumbbell_curl").unwrap().direct.contains_key(&Region::BicepsShort));
    let found = told_with(&sets, &[], aim.map(|_| &aims));
    assert_eq!(found.outcomes["dumbbell_curl"], expected);
}

/// What stands out is named where it is alone in that, of several clients.
#[rstest]
#[case::one_client(&["push_up"], None)]
#[case::two_of_one(&["push_up", "push_up"], Some("push_up"))]
#[case::as_many_of_another(&["push_up ring_dip", "push_up ring_dip"], None)]
#[case::more_than_another(&["push_up ring_dip", "push_up ring_dip", "push_up"], Some("push_up"))]
#[case::nobody(&[], None)]
fn what_stands_still_most_is_named_where_it_is_alone(#[case] clients: &[&str], #[case] most: Option<&str>) {
    let still = |ids: &&str| client(&ids.split(' ').map(|id| (id, Outcome::Still)).collect::<Vec<_>>(), vec![]);
    let all: Vec<Lessons> = clients.iter().map(still).collect();
    assert_eq!(Across::of(&all).most_still().map(|row| row.movement.as_str()), most);
}

/// The best swap is one of several clients with which strength surely rose.
#[rstest]
#[case::one_client(&[0.2], None)]
#[case::several_who_gained(&[0.15, 0.12, 0.14, 0.13], Some("ring_dip"))]
#[case::several_who_did_not(&[0.01, -0.02, 0.0, 0.01], None)]
fn the_best_swap_is_one_that_surely_gained(#[case] changes: &[f64], #[case] best: Option<&str>) {
    let all: Vec<Lessons> = changes.iter().map(|c| client(&[], vec![came(*c, 0.03, Verdict::Gained)])).collect();
    assert_eq!(Across::of(&all).best_swap().map(|row| row.to.as_str()), best);
}

/// Pain weighs more than strength, a swap is told with what came of it, and limits are those in force.
#[test]
fn a_log_says_what_hurt_and_what_took_anothers_place() {
    let mut sets = days("dumbbell_curl", "2026-05-01", 4, &[(10.0, 9), (10.0, 10), (10.0, 11), (10.0, 12)]);
    sets.extend(days("hammer_curl", "2026-05-17", 4, &[(12.0, 9), (12.0, 10), (12.0, 11), (12.0, 12)]));
    let last = sets.len() - 1;
    sets[last].pain = Some(6);
    sets[last].pain_at = Some(Joint::Elbow);
    let stiff =
        Limit { joint: Joint::Shoulder, what: LimitKind::PainOverhead, side: Side::Left, severity: Severity::Mild };
    let found = told(&sets, &[stiff]);
    assert_eq!(found.outcomes["dumbbell_curl"], Outcome::Kept);
    assert_eq!(found.outcomes["hammer_curl"], Outcome::Hurt, "however strong it made");
    assert_eq!(found.hurt, [Hurt { movement: "hammer_curl".into(), joint: Some(Joint::Elbow), days: 1 }]);
    let swap = found.swaps.first().unwrap();
    assert_eq!((swap.from.as_str(), swap.to.as_str(), found.swaps.len()), ("dumbbell_curl", "hammer_curl", 1));
    assert!(matches!(swap.verdict, Verdict::Kept | Verdict::Gained), "{swap:?}");
    assert!(found.limited.contains(&Joint::Shoulder) && found.limited.len() == 1);
    // What lies more than a year back is no lesson any more.
    let old = told(&days("dumbbell_curl", "2024-05-01", 4, &[(10.0, 10); 10]), &[]);
    assert_eq!(old, Lessons::default());
}

fn client(outcomes: &[(&str, Outcome)], swaps: Vec<Came>) -> Lessons {
    let outcomes = outcomes.iter().map(|(id, outcome)| ((*id).to_owned(), *outcome)).collect();
    Lessons { outcomes, swaps, ..Lessons::default() }
}

fn came(mean: f64, sd: f64, verdict: Verdict) -> Came {
    Came { from: "bar_dip".into(), to: "ring_dip".into(), mean, sd, verdict }
}

#[test]
fn clients_are_pooled_each_once() {
    let hurt = |joint| Hurt { movement: "ring_dip".into(), joint: Some(joint), days: 9 };
    let all = [
        client(&[("ring_dip", Outcome::Kept), ("push_up", Outcome::Still)], vec![came(0.08, 0.03, Verdict::Gained)]),
        client(&[("ring_dip", Outcome::Still)], vec![came(-0.10, 0.03, Verdict::Lost)]),
        Lessons {
            hurt: vec![hurt(Joint::Shoulder), hurt(Joint::Elbow)],
            ..client(&[("ring_dip", Outcome::Hurt)], vec![])
        },
        Lessons { limited: [Joint::Shoulder].into(), ..Lessons::default() },
        Lessons::default(),
    ];
    let found = Across::of(&all);
    assert_eq!(found.most_still(), None, "two movements in one client each");
    assert_eq!(found.most_spared().unwrap().joint, Joint::Shoulder);
    assert_eq!(found.best_swap(), None, "it gained in one and lost in the other");
    assert_eq!((found.movements[0].movement.as_str(), found.movements[0].went), ("ring_dip", went(1, 1, 0, 1)));
    assert_eq!(found.movements[0].still_in, [1]);
    let stalls: Vec<&str> = found.stalls().iter().map(|row| row.movement.as_str()).collect();
    assert_eq!(stalls.len(), 2);
    let swap = &found.swaps[0];
    assert_eq!((swap.clients, swap.kept, swap.lost), (2, 1, 1));
    assert!(swap.change.mean.abs() < 0.01 && swap.change.sd < 0.05, "{:?}", swap.change);
    let shoulder = found.joints.iter().find(|row| row.joint == Joint::Shoulder).unwrap();
    assert_eq!((shoulder.limited.as_slice(), shoulder.hurt.as_slice()), ([3].as_slice(), [2].as_slice()));
    assert_eq!(shoulder.movements, [("ring_dip".to_owned(), 1)]);
    assert_eq!(shoulder.all().collect::<Vec<_>>(), [2, 3]);
    assert_eq!(Across::of(&[]), Across::default());
}

/// What one client of whom little is known did is drawn towards nothing; many who agree are believed.
#[rstest]
#[case::one_unsure(1, 0.3, 0.01)]
#[case::one_sure(1, 0.02, 0.05)]
#[case::twenty(20, 0.05, 0.09)]
fn few_swaps_say_little(#[case] clients: usize, #[case] sd: f64, #[case] most: f64) {
    let all: Vec<Lessons> = (0..clients).map(|_| client(&[], vec![came(0.10, sd, Verdict::Gained)])).collect();
    let change = Across::of(&all).swaps[0].change;
    assert!(change.mean > 0.0 && change.mean < most, "{change:?}");
    assert_eq!(change.bounds()[0] > 0.0, clients > 1, "{change:?}");
}

fn press() -> Intent {
    intent(r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#)
}

/// Every movement that went with everybody so.
fn every(own: Went) -> TrackRecord {
    let mut all: BTreeMap<String, Went> = CATALOGUE.movements.iter().map(|m| (m.id.clone(), own)).collect();
    // Something must go otherwise, so that "as usual" is in the middle.
    all.extend((0..400).map(|i| (format!("another_{i}"), went(10, 10, 0, 0))));
    TrackRecord::of(all)
}

/// Whatever went well with others: nothing that a joint must be spared is lifted by it, nothing is let in or left out, and nothing is
/// moved by more than is said.
#[rstest]
fn what_others_did_lifts_nothing_that_a_joint_must_be_spared(
    #[values(Joint::Shoulder, Joint::Elbow, Joint::Wrist, Joint::Neck, Joint::LowBack)] joint: Joint,
    #[values(Severity::Mild, Severity::Moderate)] severity: Severity,
) {
    let limit = Limit { joint, what: LimitKind::PainLoaded, side: Side::Both, severity };
    let spared = Person { limits: vec![limit], ..person() };
    let good = every(went(10, 0, 0, 0));
    let plain = Fitter::new(&CATALOGUE, Room::plain(&spared, &FULL), &[], None);
    let leaned = Fitter::new(&CATALOGUE, Room { record: &good, ..Room::plain(&spared, &FULL) }, &[], None);
    let mut lifted = 0;
    for movement in &CATALOGUE.movements {
        let regions = movement.direct.clone();
        let wanted = Intent { pattern: movement.pattern, regions, ..press() };
        let (plain, leaned) = (plain.fit(&wanted), leaned.fit(&wanted));
        assert_eq!((ids(&plain).len(), plain.excluded.len()), (ids(&leaned).len(), leaned.excluded.len()));
        for candidate in &leaned.candidates {
            let before = plain.candidates.iter().find(|c| c.movement.id == candidate.movement.id).unwrap();
            assert_eq!(candidate.parts, before.parts);
            assert!(candidate.tilt <= MOST_TILT);
            if candidate.parts.joints < 0.99 {
                assert_eq!(candidate.tilt, 0.0, "{} is lifted", candidate.movement.id);
                assert!(!wording::told(&candidate.reasons).iter().any(|r| r.contains("of your clients")));
            } else {
                lifted += 1;
                assert!(
                    wording::told(&candidate.reasons)
                        .iter()
                        .any(|r| r.contains("10 of 10 of your clients: that counts"))
                );
            }
        }
    }
    assert!(lifted > 500, "{lifted}");
}

/// However badly what is kind to a joint went, nothing that is less kind passes it: over all movements, with every other one of them
/// gone badly.
#[rstest]
fn nothing_passes_what_is_kinder(
    #[values(Joint::Shoulder, Joint::Elbow, Joint::Wrist, Joint::Neck, Joint::LowBack)] joint: Joint,
    #[values(0, 1)] badly: usize,
) {
    let limit = Limit { joint, what: LimitKind::PainLoaded, side: Side::Both, severity: Severity::Moderate };
    let spared = Person { limits: vec![limit], ..person() };
    let gone = CATALOGUE.movements.iter().enumerate();
    let gone = gone.map(|(i, m)| (m.id.clone(), if i % 2 == badly { went(0, 3, 3, 4) } else { went(12, 0, 0, 0) }));
    let record = TrackRecord::of(gone.collect());
    let plain = Fitter::new(&CATALOGUE, Room::plain(&spared, &FULL), &[], None);
    let leaned = Fitter::new(&CATALOGUE, Room { record: &record, ..Room::plain(&spared, &FULL) }, &[], None);
    let (mut pairs, mut moved) = (0, 0);
    for movement in &CATALOGUE.movements {
        let wanted = Intent { pattern: movement.pattern, regions: movement.direct.clone(), ..press() };
        let (plain, leaned) = (plain.fit(&wanted), leaned.fit(&wanted));
        let place = |id: &str| leaned.candidates.iter().position(|c| c.movement.id == id).unwrap();
        for (i, kinder) in plain.candidates.iter().enumerate() {
            moved += usize::from(place(&kinder.movement.id) != i);
            for other in &plain.candidates[i + 1..] {
                if kinder.parts.joints > other.parts.joints {
                    pairs += 1;
                    let (ahead, behind) = (&kinder.movement.id, &other.movement.id);
                    assert!(place(ahead) < place(behind), "{behind} passes {ahead} for {}", movement.id);
                }
            }
        }
    }
    assert!(pairs > 500 && moved > 100, "{pairs} pairs, {moved} moved");
}

fn ids<'a>(answer: &'a FitAnswer<'a>) -> Vec<&'a str> {
    let mut ids: Vec<&str> = answer.candidates.iter().map(|c| c.movement.id.as_str()).collect();
    ids.sort_unstable();
    ids
}

/// Two that are as good as each other change places by it; what is far better stays ahead.
#[test]
fn what_went_badly_stands_behind_its_equal_and_says_why() {
    let who = person();
    let wanted = press();
    let plain = fit(&CATALOGUE, &FitQuestion::plain(&who, &FULL, &wanted));
    let first = &plain.candidates[0];
    let bad = record_of(&first.movement.id, went(0, 6, 2, 0));
    let leaned = fit(&CATALOGUE, &FitQuestion { record: &bad, ..FitQuestion::plain(&who, &FULL, &wanted) });
    let now = leaned.candidates.iter().position(|c| c.movement.id == first.movement.id).unwrap();
    let own = &leaned.candidates[now];
    assert_eq!(own.tilt, -MOST_TILT);
    assert!(own.score <= first.score * (1.0 - MOST_TILT) + 1e-9);
    let near = plain.candidates.iter().filter(|c| c.score > first.score * (1.0 - MOST_TILT)).count() - 1;
    assert!(now <= near, "at most behind what was within 2 % of it: {now} of {near}");
    let why = wording::told(&own.reasons).into_iter().find(|r| r.contains("of your clients")).unwrap();
    assert!(why.ends_with("stood still in 6, lost strength in 2: that counts 2.0 % against it"), "{why}");
}
