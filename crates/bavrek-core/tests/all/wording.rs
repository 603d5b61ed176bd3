//! Facts in words: every figure of a fact stands in its sentence, each in its place.

use bavrek_core::anatomy::{Implement, Region, Surface};
use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::fit::{self, BlockConflict, Clash, Conflict, Lighter, Note, Untrained};
use bavrek_core::kit::Anchor;
use bavrek_core::ladder::{Absent, HandsOn, HeldAs, Lack, Missing, Piece, Rolling, Way};
use bavrek_core::movement::{Hands, Support, SupportKind};
use bavrek_core::person::Experience;
use bavrek_core::review::{Fact, PainfulDay};
use bavrek_core::units::{Degrees, Kilograms, MassUnit, Metres, Seconds};
use bavrek_core::week::{Lacking, Unmet, Why};
use bavrek_core::wording::sentence;
use chrono::NaiveDate;
use rstest::rstest;

fn weight(value: f64) -> StampedLoad {
    StampedLoad { value, unit: MassUnit::Kg, per: PerHand::Hand }
}

fn anchor(height: f64) -> Anchor {
    Anchor { heights_m: vec![height], ..Anchor::default() }
}

const fn support(kit: SupportKind) -> Support {
    Support { kit, deg: None }
}

const BETWEEN: [Metres; 2] = [Metres(0.3), Metres(0.9)];

#[rstest]
#[case(Missing::Piece(Piece::RingsToHang), "needs rings to hang from")]
#[case(
    Missing::Support { any_of: vec![support(SupportKind::Parallettes), support(SupportKind::Box)], dumbbells: Some(Rolling::Round) },
    "needs push-up handles or a box; the round ones here roll"
)]
#[case(
    Missing::Load { any_of: vec![Implement::Dumbbell, Implement::Kettlebell], hands: Hands::Each },
    "needs a pair of dumbbells or a pair of kettlebells"
)]
#[case(Missing::Pull, "no band here will do: each hangs slack or is stretched too far")]
#[case(Missing::Anchor { between: BETWEEN, here: vec![], move_to: None }, "needs a band anchor at 0.3 to 0.9 m")]
#[case(
    Missing::Anchor { between: BETWEEN, here: vec![anchor(2.0)], move_to: Some(Metres(0.6)) },
    "needs a band anchor at 0.3 to 0.9 m; the one here is at 2 m: move it to 0.6 m"
)]
fn what_a_room_lacks_for_a_movement(#[case] missing: Missing, #[case] says: &str) {
    assert_eq!(missing.to_string(), says);
}

#[rstest]
#[case(Lack::CannotBeHeld(40.0), "more than 40 kg cannot be held this way")]
#[case(
    Lack::Weight { wanted: weight(12.5), held: HeldAs::Pair, here: vec![weight(5.0), weight(10.0)] },
    "not in this room: no pair of 12.5 kg; there is 5, 10 kg"
)]
#[case(
    Lack::Weight { wanted: weight(12.5), held: HeldAs::Bar, here: (1..=9).map(|n| weight(f64::from(n))).collect() },
    "not in this room: no bar of 12.5 kg; there are 9 from 1 to 9 kg"
)]
#[case(
    Lack::Anchor { wanted: Metres(1.5), here: vec![anchor(2.0)] },
    "not in this room: no anchor at 1.5 m; there is one at 2 m"
)]
#[case(Lack::BenchAngle(30.0, vec![0.0, 45.0]), "not in this room: no bench at 30°; there is 0°, 45°")]
#[case(Lack::Surface(Surface::Rings), "not in this room: there are no rings")]
#[case(Lack::Height(Metres(0.3), vec![Metres(0.45)]), "not in this room: nothing of 0.3 m; there is 0.45 m")]
fn what_of_a_step_is_not_here(#[case] lack: Lack, #[case] says: &str) {
    assert_eq!(Absent { field: "any", lack }.to_string(), says);
}

#[rstest]
#[case(Way::MoreReps { reps: 17, reserve: 2 }, "first 17 clean reps here with 2 in reserve, then the next step")]
#[case(Way::SlowerLowering { seconds: 5.0, like: 0.114 }, "lower in 5 s instead of 2: like 11 % more load")]
#[case(Way::Pause(0.08), "pause 2 s in the lengthened position: like 8 % more load")]
#[case(Way::AddBand("pair of 5 kg + loop 13 mm".into(), Kilograms(7.36)), "pair of 5 kg + loop 13 mm: 7.4 kg")]
#[case(Way::Deficit(HandsOn::TwoBoxes), "hands on two boxes: a deeper stretch before the next lever")]
fn a_way_over_a_jump(#[case] way: Way, #[case] says: &str) {
    assert_eq!(way.to_string(), says);
}

#[rstest]
#[case(Clash::TwoLoads(weight(8.0), weight(16.0)), "8 kg here and 16 kg for Row are not there at once")]
#[case(Clash::BenchAngles(Degrees(30.0), Degrees(0.0)), "the bench stands at 0° for Row and at 30° here")]
#[case(Clash::BandMoves("loop 13 mm".into()), "the loop 13 mm moves to another anchor between this and Row")]
#[case(Clash::BandRefixed("loop 13 mm".into()), "the loop 13 mm is fixed another way for Row")]
#[case(Clash::RingHeights, "the rings hang at another height for Row")]
#[case(Clash::Tires(Region::Lats), "it works the lats as well, which should rest from Row")]
fn what_is_in_the_way(#[case] clash: Clash, #[case] says: &str) {
    let conflict = Conflict { clash, with: "Row".into(), added_s: Seconds(40.0) };
    assert_eq!(conflict.to_string(), says);
    let block = BlockConflict { stations: vec![0, 1], own: "Press".into(), conflict };
    assert_eq!((block.to_string(), block.added()), (format!("Press: {says}"), Seconds(40.0)));
}

#[rstest]
#[case(
    fit::Why::Experience { asks: Experience::Advanced, has: Experience::Novice },
    "for advanced clients; this one is novice"
)]
#[case(
    fit::Why::OutOfReach { lightest: Kilograms(34.4), about: Kilograms(18.2), lighter: Lighter::Help },
    "the lightest step here is 34 kg; about 18 kg is in reach: a band that helps, or a foot on a box, would do"
)]
#[case(
    fit::Why::TooLight { heaviest: Kilograms(6.0), about: Kilograms(21.3), by_weight: true },
    "over 60 reps on the heaviest step here, 6 kg; about 21 kg would be right: a heavier weight or band would help"
)]
fn what_rules_a_movement_out(#[case] why: fit::Why, #[case] says: &str) {
    assert_eq!(why.to_string(), says);
}

fn untrained() -> Untrained {
    let needs = [Piece::Rings, Piece::DipBars].map(|piece| fit::Why::Missing(Missing::Piece(piece)));
    Untrained { region: Region::Lats, would: Some(("Ring dip".into(), needs.to_vec())) }
}

fn too_heavy() -> Untrained {
    let [lightest, about] = [20.0, 9.0].map(Kilograms);
    let why = fit::Why::OutOfReach { lightest, about, lighter: Lighter::Load };
    Untrained { region: Region::Lats, would: Some(("Row".into(), vec![why])) }
}

#[rstest]
#[case(
    Why::Lacking(Lacking::Untrained(untrained())),
    "nothing here trains the lats directly; Ring dip would: it needs rings and needs dip bars"
)]
#[case(
    Why::Lacking(Lacking::Untrained(too_heavy())),
    "nothing here trains the lats directly; Row would, but the lightest step here is 20 kg; about 9 kg is in reach: a lighter weight or band would help"
)]
#[case(
    Why::Lacking(Lacking::Unsuited { movement: "Row".into(), step: "pair of 5 kg".into() }),
    "what trains it here does not suit the dose: Row, pair of 5 kg"
)]
#[case(Why::Full { shorter: true, minutes: 12.0 }, "the shorter days are full: about 12 min more a week would do")]
#[case(Why::TrainedBefore, "trained just before, another day apart would do")]
#[case(Why::MostMovements(6), "each day has the 6 movements that the school allows")]
fn what_keeps_a_week_from_its_aims(#[case] why: Why, #[case] says: &str) {
    assert_eq!(Unmet { region: Region::Lats, sets: 2.0, least: 6.0, why }.to_string(), says);
}

#[test]
fn what_is_said_beside_an_answer() {
    assert_eq!(Note::WarmUp([10, 15]).to_string(), "from 50 on, warm up for 10 to 15 minutes");
    let note = Note::NotMeasured { reference: "Row".into(), asked: vec![Region::Lats, Region::DeltSide] };
    assert_eq!(note.to_string(), "Row works none of: lats, side shoulder. Nothing is measured against it.");
}

#[rstest]
#[case(
    Fact::Grew { by: vec![("Horizontal press".into(), 0.12), ("Row".into(), 0.091)], swaps: 2 },
    "Horizontal press grew by 12 % and row by 9 %, through 2 swaps."
)]
#[case(Fact::Grew { by: vec![("Row".into(), 0.05)], swaps: 1 }, "Row grew by 5 %, through a swap.")]
#[case(Fact::HeldLonger(vec![("Hang from a bar".into(), 0.12)]), "Held longer or with more: hang from a bar by 12 %.")]
#[case(Fact::Fell(vec![("Row".into(), -0.1), ("Curl".into(), -0.05)]), "Weaker: row by 10 % and curl by 5 %.")]
#[case(Fact::StandsStill(vec![("Row".into(), 9)]), "Stands still: row for 9 weeks.")]
#[case(
    Fact::TooLight(vec![("Row".into(), 4)]),
    "Too light to tell, five or more left in every set: row on the last 4 days."
)]
#[case(Fact::AsItWas { but_held: true }, "All else is as it was: no change is more than chance yet.")]
#[case(
    Fact::Hurt(PainfulDay { on: NaiveDate::from_ymd_opt(2026, 3, 2).unwrap(), pain: 5, joint: None }),
    "It hurt (somewhere, 5 of 10), last 2026-03-02."
)]
fn the_story_of_a_review(#[case] fact: Fact, #[case] says: &str) {
    assert_eq!(sentence(&fact, |day| day.to_string()), says);
}
