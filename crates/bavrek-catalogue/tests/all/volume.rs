//! Weekly work by region: one rule, planned or done.

use std::sync::LazyLock;

use crate::common::day;
use bavrek_catalogue::{intake, load};
use bavrek_core::aims::{Aim, Aims, RegionAim};
use bavrek_core::anatomy::Region::{self, BicepsLong, ChestSternal, TricepsLateral};
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Prescription, SetKind, Tempo};
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::{Experience, Side};
use bavrek_core::volume::{ASSISTING_COUNTS, Owed, Volume, asked_of};
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

fn dose(line: &str) -> Prescription {
    read(line).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 })
}

fn set(exercise: &str) -> LoggedSet {
    LoggedSet { reps: Some(10), ..LoggedSet::of(exercise, day("2026-03-02")) }
}

fn done(sets: &[LoggedSet]) -> Volume {
    let mut volume = Volume::default();
    for set in sets {
        volume.done(&CATALOGUE, set);
    }
    volume
}

fn planned(exercise: &str, line: &str) -> Volume {
    let mut volume = Volume::default();
    volume.plan(CATALOGUE.movement(exercise).unwrap(), &dose(line));
    volume
}

#[rstest]
#[case::one_sided_work("one_arm_dumbbell_curl")]
#[case::both_arms("dumbbell_curl")]
#[case::disputed("palms_bench_press")]
fn what_is_done_as_planned_counts_as_planned(#[case] exercise: &str) {
    let movement = CATALOGUE.movement(exercise).unwrap();
    let sides: &[Option<Side>] = if movement.unilateral() { &[Some(Side::Left), Some(Side::Right)] } else { &[None] };
    let sets: Vec<_> = (0..3).flat_map(|_| sides.iter().map(|s| LoggedSet { side: *s, ..set(exercise) })).collect();
    let (asked, did) = (planned(exercise, "3 x 8-12"), done(&sets));
    assert!(!asked.regions().is_empty());
    for region in Region::ALL {
        let (asked, did) = (asked.of(*region), did.of(*region));
        assert!((asked.direct - did.direct).abs() < 1e-9 && (asked.assisting - did.assisting).abs() < 1e-9, "{region}");
    }
}

/// Over all movements: a set counts by the movement's weight of each region, assisting by half, and where its effect is disputed by how
/// sure it is.
#[test]
fn a_set_counts_by_weight_and_certainty() {
    let mut unsure = 0;
    for movement in &CATALOGUE.movements {
        let sure = if movement.disputed.is_some() { movement.confidence } else { 1.0 };
        let mut volume = Volume::default();
        volume.plan(movement, &dose("3 x 8-12"));
        for region in Region::ALL {
            let weight = |of: &std::collections::BTreeMap<Region, f64>| of.get(region).copied().unwrap_or(0.0);
            let (counted, id) = (volume.of(*region), &movement.id);
            let expected = [3.0 * weight(&movement.direct) * sure, 1.5 * weight(&movement.assisting) * sure];
            assert!((counted.direct - expected[0]).abs() < 1e-9, "{id}, {region}: {}", counted.direct);
            assert!((counted.assisting - expected[1]).abs() < 1e-9, "{id}, {region}: {}", counted.assisting);
            unsure += usize::from(sure < 1.0 && counted.assisting > 0.0);
        }
    }
    assert!(unsure > 0, "no disputed movement assists anything");
}

#[test]
fn a_press_is_a_whole_set_for_the_chest_and_half_of_what_assists() {
    let press = CATALOGUE.movement("dumbbell_bench_press").unwrap();
    let did = done(&[set("dumbbell_bench_press"), set("dumbbell_bench_press")]);
    assert_eq!(did.of(ChestSternal).direct, 2.0 * press.direct[&ChestSternal]);
    assert_eq!(did.of(TricepsLateral).assisting, 2.0 * ASSISTING_COUNTS * press.assisting[&TricepsLateral]);
    assert_eq!(did.of(BicepsLong).total(), 0.0);
    let mut full = Volume::counting(1.0);
    full.done(&CATALOGUE, &set("dumbbell_bench_press"));
    assert_eq!(full.of(TricepsLateral).assisting, press.assisting[&TricepsLateral]);
}

#[test]
fn a_disputed_claim_counts_by_its_confidence() {
    let disputed = CATALOGUE.movements.iter().find(|m| m.disputed.is_some() && m.confidence < 0.9).unwrap();
    let region = *disputed.direct.keys().next().unwrap();
    let counted = planned(&disputed.id, "1 x 8").of(region).direct;
    assert!(
        (counted - disputed.direct[&region] * disputed.confidence).abs() < 1e-9 && counted < disputed.direct[&region]
    );
}

#[rstest]
#[case::given_up(LoggedSet { reps: Some(0), ..set("dumbbell_curl") }, 0.0)]
#[case::nothing_counted(LoggedSet { reps: None, ..set("dumbbell_curl") }, 0.0)]
#[case::unknown(set("a_movement_of_long_ago"), 0.0)]
#[case::an_extension(LoggedSet { kind: Some(SetKind::Extension), ..set("dumbbell_curl") }, 0.0)]
#[case::one_side(LoggedSet { side: Some(Side::Left), ..set("dumbbell_curl") }, 0.5)]
#[case::both_told(LoggedSet { side: Some(Side::Both), ..set("dumbbell_curl") }, 1.0)]
#[case::mixed(LoggedSet { kind: Some(SetKind::Mixed), ..set("dumbbell_curl") }, 1.0)]
#[case::held(LoggedSet { reps: None, seconds: Some(30), ..set("dumbbell_curl") }, 1.0)]
fn a_hard_set_counts_once(#[case] set: LoggedSet, #[case] sets: f64) {
    let weight = CATALOGUE.movement("dumbbell_curl").unwrap().direct[&BicepsLong];
    assert!((done(&[set]).of(BicepsLong).direct - sets * weight).abs() < 1e-9);
}

#[test]
fn an_extension_is_part_of_the_set_before() {
    let plain = planned("dumbbell_curl", "3 x 8-12");
    assert_eq!(planned("dumbbell_curl", "3 x 8-12, then max"), plain);
}

/// A line that may be left out counts by the share of such lines that is asked.
#[rstest]
#[case::any_four_of_five(&[4, 4, 4, 4, 4], 0.8)]
#[case::more_than_there_are(&[4, 4], 1.0)]
#[case::any_number(&[0, 0], 0.0)]
#[case::the_highest_counts(&[0, 1], 0.5)]
#[case::none_of_that_kind(&[], 0.0)]
fn what_may_be_left_out_counts_by_what_is_asked(#[case] optional: &[u8], #[case] share: f64) {
    assert_eq!(asked_of(optional.iter().copied()), share);
    let mut volume = Volume::default();
    let curl = CATALOGUE.movement("dumbbell_curl").unwrap();
    volume.plan_as_asked(curl, &dose("5 x 10"), Some(1), asked_of(optional.iter().copied()));
    let mut whole = Volume::default();
    whole.plan(curl, &dose("5 x 10"));
    assert!(whole.of(BicepsLong).direct > 0.0);
    assert!((volume.of(BicepsLong).direct - share * whole.of(BicepsLong).direct).abs() < 1e-9);
    // What may not be left out is asked whole.
    let mut firm = Volume::default();
    firm.plan_as_asked(curl, &dose("5 x 10"), None, share);
    assert_eq!(firm.of(BicepsLong), whole.of(BicepsLong));
}

/// What was tried and not done is no work: no repetition, no second.
#[rstest]
#[case::one(Some(1), None, true)]
#[case::none(Some(0), None, false)]
#[case::a_second(None, Some(1), true)]
#[case::no_second(None, Some(0), false)]
#[case::nothing(None, None, false)]
fn only_what_was_done_is_work(#[case] reps: Option<u16>, #[case] seconds: Option<u16>, #[case] counts: bool) {
    let did = done(&[LoggedSet { reps, seconds, ..set("dumbbell_bench_press") }]);
    assert_eq!(did.of(ChestSternal).direct > 0.0, counts);
}

#[rstest]
#[case::a_whole_set_short(3.0, true)]
#[case::half_a_set(3.5, false)]
#[case::as_asked(4.0, false)]
#[case::more(9.0, false)]
fn half_a_set_short_is_no_word_worth(#[case] sets: f64, #[case] short: bool) {
    assert_eq!(Owed { region: ChestSternal, sets, asked: [4.0, 8.0] }.is_short(), short);
}

/// What has as much as is asked owes nothing, and the most short comes first.
#[test]
fn what_is_short_is_owed_the_most_short_first() {
    let volumes = intake().unwrap().volumes;
    let asks = |least: f64| RegionAim { aim: Aim::Grow, sets: Some([least, 20.0]) };
    let wanted = [(ChestSternal, 5.0), (BicepsLong, 2.0), (TricepsLateral, 3.0)];
    let nothing = Region::ALL.iter().map(|r| (*r, RegionAim { aim: Aim::Keep, sets: Some([0.0, 20.0]) }));
    let asked = wanted.map(|(region, least)| (region, asks(least)));
    let aims = Aims { regions: nothing.chain(asked).collect(), ..Aims::default() };
    let owed = |volume: &Volume| -> Vec<(Region, f64)> {
        volume.owed(&aims, &volumes, Experience::Novice).iter().map(|o| (o.region, o.asked[0] - o.sets)).collect()
    };
    assert_eq!(owed(&Volume::default()), [(ChestSternal, 5.0), (TricepsLateral, 3.0), (BicepsLong, 2.0)]);
    let mut curled = Volume::default();
    let curl = CATALOGUE.movement("dumbbell_curl").unwrap();
    // As many curls as give the biceps what is asked to the hair.
    for _ in 0..2 {
        curled.plan(curl, &dose("1 x 8-12"));
    }
    let has = curled.of(BicepsLong).total();
    let exactly = Aims {
        regions: [(BicepsLong, asks(has))]
            .into_iter()
            .chain(aims.regions.clone().into_iter().filter(|(r, _)| *r != BicepsLong))
            .collect(),
        ..Aims::default()
    };
    let regions: Vec<Region> = curled.owed(&exactly, &volumes, Experience::Novice).iter().map(|o| o.region).collect();
    assert_eq!(regions, [ChestSternal, TricepsLateral]);
}
