//! The fits of a block chosen together: what spares the changes of a round, and what it may not cost.

use bavrek_core::dose::Dose;
use std::sync::LazyLock;

use bavrek_core::anatomy::{Joint, Pattern, Region};
use bavrek_core::fit::{Candidate, Chosen, Fitter, Mate, Room, Seat, block_conflicts, chosen, may_replace};
use bavrek_core::kit::KitItem;
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::{Limit, LimitKind, Person, Severity, Side};
use bavrek_core::plan::{BlockKind, Intent};
use rstest::rstest;

use crate::common::{kit, person};

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| bavrek_catalogue::load().unwrap());

const ONE_ADJUSTABLE_PAIR: &str = r#"[{"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":4,"max":24,"step":2},
    {"kind":"bench","angles_deg":[0,30,45]}]"#;
const AND_A_BAND: &str = r#"[{"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":4,"max":24,"step":2},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
    {"kind":"bench","angles_deg":[0,30,45]},{"kind":"anchor","heights_m":[0.1,1.2,2.0],"door":true}]"#;
const RINGS_AND_A_BAR: &str = r#"[{"kind":"rings","max_height_m":2.4},{"kind":"pull_up_bar","height_m":2.3},
    {"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":4,"max":24,"step":2}]"#;
const FIXED_PAIRS: &str =
    r#"[{"kind":"dumbbells","unit":"kg","pairs":[6,8,10,12,16]},{"kind":"bench","angles_deg":[0,30,45]}]"#;
const BANDS: &str = r#"[{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.032,"thickness_m":0.0045},
    {"kind":"anchor","heights_m":[0.1,1.2,2.0],"door":true}]"#;
const ONE_BAND_AND_A_PAIR: &str = r#"[{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.032,"thickness_m":0.0045},
    {"kind":"anchor","heights_m":[0.1,1.2,2.0],"door":true},{"kind":"dumbbells","unit":"kg","pairs":[8]}]"#;
const ROOMS: [&str; 6] = [ONE_ADJUSTABLE_PAIR, AND_A_BAND, RINGS_AND_A_BAR, FIXED_PAIRS, BANDS, ONE_BAND_AND_A_PAIR];

type Job = (Pattern, Region);
const PRESS: Job = (Pattern::HorizontalPress, Region::ChestSternal);
const INCLINE: Job = (Pattern::InclinePress, Region::ChestClavicular);
const ROW: Job = (Pattern::WideRow, Region::TrapsMiddle);
const PULL: Job = (Pattern::VerticalPull, Region::Lats);
const OVERHEAD: Job = (Pattern::OverheadPress, Region::DeltFront);
const SIDES: Job = (Pattern::SideRaise, Region::DeltSide);
const CURL: Job = (Pattern::ElbowFlexion, Region::BicepsLong);
const EXTENSION: Job = (Pattern::ElbowExtension, Region::TricepsLong);
const FLY: Job = (Pattern::Fly, Region::ChestSternal);
const REAR: Job = (Pattern::RearFly, Region::DeltRear);

const BLOCKS: [(BlockKind, &[Job]); 7] = [
    (BlockKind::Antagonist, &[PRESS, ROW]),
    (BlockKind::Antagonist, &[OVERHEAD, PULL]),
    (BlockKind::Antagonist, &[CURL, EXTENSION]),
    (BlockKind::Antagonist, &[FLY, REAR]),
    (BlockKind::Superset, &[INCLINE, SIDES]),
    (BlockKind::Circuit, &[PRESS, ROW, SIDES, CURL]),
    (BlockKind::FilledRest, &[PRESS, SIDES, CURL]),
];

fn intent((pattern, region): Job) -> Intent {
    Intent::of(pattern, [(region, 1.0)].into())
}

/// Whoever is asked first, and the same with a joint that has to be spared.
fn people() -> Vec<Person> {
    let sore = |joint| Limit { joint, what: LimitKind::PainLoaded, side: Side::Both, severity: Severity::Moderate };
    let with = |joint| Person { limits: vec![sore(joint)], ..person() };
    std::iter::once(person()).chain([Joint::Shoulder, Joint::Elbow, Joint::Wrist, Joint::LowBack].map(with)).collect()
}

fn candidates(person: &Person, kit: &[KitItem], jobs: &[Job]) -> Vec<Vec<Candidate<'static>>> {
    let fitter = Fitter::new(&CATALOGUE, Room::plain(person, kit), &[], None);
    jobs.iter().map(|job| fitter.fit(&intent(*job)).candidates).collect()
}

/// Seats on which the best of each job lies.
fn seats<'c>(found: &'c [Vec<Candidate<'static>>]) -> Vec<Seat<'c, 'static>> {
    let zone = Some(Dose::USUAL.reps);
    found.iter().map(|candidates| Seat { candidates, today: Some(0), stays: false, zone }).collect()
}

/// What stations cost each other a round, s.
fn costs(kind: BlockKind, seats: &[Seat<'_, '_>], picks: &[usize], kit: &[KitItem]) -> f64 {
    let picked = seats.iter().zip(picks).map(|(seat, i)| &seat.candidates[*i]);
    let mates: Vec<Mate<'_>> = picked.map(|c| Mate { movement: c.movement, step: c.step() }).collect();
    block_conflicts(kind, &mates, kit).iter().map(|c| c.added().value()).sum()
}

fn names(seats: &[Seat<'_, '_>], picks: &[usize]) -> Vec<String> {
    let one = |(seat, i): (&Seat<'_, '_>, &usize)| {
        let c = &seat.candidates[*i];
        format!("{} ({}) {:.2}", c.movement.name, c.step().label, c.score)
    };
    seats.iter().zip(picks).map(one).collect()
}

#[test]
fn in_every_room_and_block_it_costs_less_a_round_and_nothing_that_counts_more() {
    let (mut offered, mut asked) = (0, 0);
    for (person, room) in people().iter().flat_map(|p| ROOMS.map(|room| (p, kit(room)))) {
        for (kind, jobs) in BLOCKS {
            let found = candidates(person, &room, jobs);
            if found.iter().any(Vec::is_empty) {
                continue;
            }
            asked += 1;
            let seats = seats(&found);
            let Some(Chosen { picks, added }) = chosen(kind, &seats, &room) else { continue };
            offered += 1;
            assert!(added[1].value() < added[0].value());
            for (i, (seat, pick)) in seats.iter().zip(&picks).enumerate() {
                let mut kept = picks.clone();
                kept[i] = 0;
                let spares = costs(kind, &seats, &kept, &room) > added[1].value();
                assert!(*pick == 0 || spares, "{kind}: {:?} for nothing", names(&seats, &picks));
                let (now, then) = (&seat.candidates[0], &seat.candidates[*pick]);
                assert!(then.parts.joints >= now.parts.joints - 1e-9, "{} for {}", then.movement.id, now.movement.id);
                assert!(then.score >= 0.85 * now.score);
            }
        }
    }
    assert!(offered > 3 && offered < asked, "{offered} of {asked}");
}

/// The only band between a press and a row: with the press pinned the row gives way, with both nothing does.
#[rstest]
#[case::neither([false, false], true)]
#[case::the_press([true, false], false)]
#[case::the_row([false, true], true)]
#[case::both([true, true], false)]
fn what_is_pinned_stays(#[case] pinned: [bool; 2], #[case] changes: bool) {
    let room = kit(ONE_BAND_AND_A_PAIR);
    let found = candidates(&person(), &room, &[PRESS, ROW]);
    let mut seats = seats(&found);
    for (seat, stays) in seats.iter_mut().zip(pinned) {
        seat.stays = stays;
    }
    let chosen = chosen(BlockKind::Antagonist, &seats, &room);
    assert_eq!(chosen.is_some(), changes, "{:?}", chosen.map(|c| names(&seats, &c.picks)));
    for (i, _) in pinned.iter().enumerate().filter(|(_, stays)| **stays) {
        assert!(chosen.as_ref().is_none_or(|c| c.picks[i] == 0));
    }
}

/// Nothing chosen yet: the best of each, unless they are in each other's way.
#[rstest]
#[case::in_the_way(ONE_BAND_AND_A_PAIR)]
#[case::not_in_the_way(FIXED_PAIRS)]
fn what_is_open_is_chosen_at_once(#[case] room: &str) {
    let room = kit(room);
    let found = candidates(&person(), &room, &[PRESS, ROW]);
    let mut seats = seats(&found);
    for seat in &mut seats {
        seat.today = None;
    }
    let Chosen { picks, added } = chosen(BlockKind::Antagonist, &seats, &room).unwrap();
    assert_eq!(added[1].value(), 0.0, "{:?}", names(&seats, &picks));
    assert_eq!(picks == [0, 0], added[0].value() == 0.0, "{:?}", names(&seats, &picks));
}

/// What is done already stays as it is beside what is open, however much better another would do its job.
#[test]
fn what_is_in_nobodys_way_is_not_changed() {
    let room = kit(FIXED_PAIRS);
    let found = candidates(&person(), &room, &[CURL, EXTENSION]);
    let mut seats = seats(&found);
    let last = seats[0].candidates.len() - 1;
    assert!(seats[0].candidates[last].score < seats[0].candidates[0].score - 0.05, "it does the job much less well");
    (seats[0].today, seats[1].today) = (Some(last), None);
    let Chosen { picks, added } = chosen(BlockKind::Antagonist, &seats, &room).unwrap();
    assert!(picks[0] == last || added[1].value() < costs(BlockKind::Antagonist, &seats, &[last, picks[1]], &room));
    (seats[0].today, seats[1].today) = (Some(last), Some(0));
    let alone = costs(BlockKind::Antagonist, &seats, &[last, 0], &room);
    assert_eq!(chosen(BlockKind::Antagonist, &seats, &room).is_some(), alone > 0.0);
}

#[test]
fn a_station_for_which_nothing_is_here_is_not_chosen() {
    let room = kit(BANDS);
    let mut found = candidates(&person(), &room, &[PRESS, ROW]);
    found[1].clear();
    assert_eq!(chosen(BlockKind::Antagonist, &seats(&found), &room), None);
    assert_eq!(chosen(BlockKind::Antagonist, &[], &room), None);
}

/// A movement may take a place where every pair of the block, in its order, is what the block is for: one that clashes anywhere may not.
#[rstest]
#[case::all_apart(BlockKind::Circuit, &["dumbbell_bench_press", "side_raise", "dumbbell_curl"], true)]
#[case::the_first_two(BlockKind::Circuit, &["dumbbell_bench_press", "dumbbell_bench_fly", "dumbbell_curl"], false)]
#[case::the_last_two(BlockKind::Circuit, &["side_raise", "dumbbell_curl", "hammer_curl"], false)]
#[case::first_and_last(BlockKind::Circuit, &["dumbbell_curl", "side_raise", "hammer_curl"], false)]
#[case::fills_rests_of_another(BlockKind::FilledRest, &["dumbbell_bench_press", "dumbbell_curl", "hammer_curl"], true)]
#[case::fills_rests_of_its_own(BlockKind::FilledRest, &["dumbbell_curl", "side_raise", "hammer_curl"], false)]
#[case::against_each_other(BlockKind::Antagonist, &["dumbbell_curl", "supine_dumbbell_extension"], true)]
#[case::beside_each_other(BlockKind::Antagonist, &["dumbbell_curl", "side_raise"], false)]
#[case::one_after_the_other(BlockKind::Straight, &["side_raise"], false)]
fn who_may_stand_in_a_block(#[case] kind: BlockKind, #[case] ids: &[&str], #[case] expected: bool) {
    let block: Vec<&Movement> = ids.iter().map(|id| CATALOGUE.movement(id).unwrap()).collect();
    for movement in &block {
        assert_eq!(may_replace(movement, movement, kind, &block), expected, "{ids:?}");
    }
    // What one joint carries is no press, whatever the block.
    let press = CATALOGUE.movement("dumbbell_bench_press").unwrap();
    let raise = CATALOGUE.movement("side_raise").unwrap();
    assert!(!may_replace(press, raise, kind, &block) && !may_replace(raise, press, kind, &block));
}
