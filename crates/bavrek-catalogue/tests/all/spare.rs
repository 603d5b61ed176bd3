//! What a line hangs on, and what stands ready for it: over every movement, and in unlike rooms.

use std::sync::LazyLock;

use crate::common::{kit, person};
use bavrek_core::anatomy::Joint;
use bavrek_core::fit::{Fitter, Room};
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::ladder::Ladder;
use bavrek_core::movement::Catalogue;
use bavrek_core::plan::Intent;
use bavrek_core::spare::{Done, Loss, Merit, breaks, instead, risk, stands};
use bavrek_core::spot::{are_twins, in_use, kit_without};
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| bavrek_catalogue::load().unwrap());

const HOME: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16]},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},{"kind":"chair"}]"#;
const RINGS: &str =
    r#"[{"kind":"rings","max_height_m":2.4},{"kind":"dip_bars"},{"kind":"pull_up_bar","height_m":2.3}]"#;
const GYM: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,14,16,18,20,24]},{"kind":"bench","angles_deg":[0,30,45,75]},{"kind":"pull_up_bar","height_m":2.3}]"#;

fn intent(movement: &bavrek_core::movement::Movement) -> Option<Intent> {
    let regions = movement.main_region().map(|r| (r, 1.0)).into_iter().collect();
    let intent = Intent::of(movement.pattern, regions);
    intent.validate().is_ok().then_some(intent)
}

/// Whether a movement goes on without a thing, for the usual person.
fn goes_on(
    movement: &bavrek_core::movement::Movement,
    step: &bavrek_core::ladder::LadderStep,
    kit: &[KitItem],
    loss: Loss,
) -> bool {
    stands(movement, step, (&person(), kit), loss)
}

#[test]
fn what_stops_a_movement_is_the_same_as_what_it_cannot_be_done_without_for_all_of_them() {
    let (person, kit) = (person(), full_room());
    let (mut asked, mut pieces, mut joints) = (0, 0, 0);
    for movement in &CATALOGUE.movements {
        let ladder = Ladder::of(movement, &person, &kit);
        let Some(step) = ladder.steps.get(ladder.steps.len() / 2) else { continue };
        let found = breaks(movement, step, &person, &kit);
        asked += 1;
        for loss in &found {
            assert!(!goes_on(movement, step, &kit, *loss), "{}: {loss:?} does not stop it", movement.id);
        }
        // Whatever else is taken away, it goes on: the shelf of dumbbells aside, of which one weight is taken at a time.
        for index in 0..kit.len() {
            let named = found.iter().any(|l| matches!(l, Loss::Piece { index: i, .. } if *i == index));
            let weight = match &kit[index] {
                KitItem::Dumbbells(_) => step.load.map(|l| l.value),
                _ => None,
            };
            let loss = Loss::Piece { index, weight };
            assert!(named || goes_on(movement, step, &kit, loss), "{}: {loss:?} is not named", movement.id);
            let left = kit_without(&kit, index, weight);
            let gone = Ladder::of(movement, &person, &left).steps.is_empty();
            assert!(named || !gone, "{}: nothing is left of it, and {loss:?} is not named", movement.id);
        }
        pieces += found.iter().filter(|l| matches!(l, Loss::Piece { .. })).count();
        joints += found.iter().filter(|l| matches!(l, Loss::Sore(_))).count();
    }
    assert!(asked > 150 && pieces > 100 && joints > 100, "{asked} movements, {pieces} pieces, {joints} joints");
}

#[rstest]
#[case::home(HOME)]
#[case::rings(RINGS)]
#[case::gym(GYM)]
fn what_stands_ready_is_another_movement_and_goes_on_as_it_says(#[case] room: &str) {
    let (person, kit) = (person(), kit(room));
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &kit), &[], None);
    let (mut lines, mut ready, mut whole) = (0, 0, 0);
    for movement in &CATALOGUE.movements {
        let Some(intent) = intent(movement) else { continue };
        let Some(candidate) = fitter.alone(movement, &intent) else { continue };
        lines += 1;
        let step = candidate.step().clone();
        let risk = risk(&fitter, (&person, &kit), &Done { intent: &intent, movement, step: &step });
        let Some((spare, still)) = &risk.spare else { continue };
        ready += 1;
        assert!(spare.movement.id != movement.id && !are_twins(spare.movement, movement), "{}", movement.id);
        for loss in &risk.breaks {
            let on = goes_on(spare.movement, spare.step(), &kit, *loss);
            assert_eq!(on, !still.contains(loss), "{} for {}: {loss:?}", spare.movement.id, movement.id);
        }
        whole += usize::from(still.is_empty());
    }
    assert!(lines > 20 && ready * 2 > lines && whole > 0, "{lines} lines, {ready} with a spare, {whole} through all");
}

#[rstest]
#[case::another_weight_is_near(HOME, "dumbbell_curl", &[], None)]
#[case::the_only_pair_is_taken(r#"[{"kind":"dumbbells","unit":"kg","pairs":[8]},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}]"#, "dumbbell_curl", &["8"], Some("band"))]
#[case::the_bar_is_taken(RINGS, "chin_up", &["bar"], Some("ring"))]
fn what_is_named_and_what_stands_ready(
    #[case] room: &str,
    #[case] movement: &str,
    #[case] missing: &[&str],
    #[case] ready: Option<&str>,
) {
    let (person, kit) = (person(), kit(room));
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &kit), &[], None);
    let movement = CATALOGUE.movement(movement).unwrap();
    let intent = intent(movement).unwrap();
    let step = fitter.alone(movement, &intent).unwrap().step().clone();
    let risk = risk(&fitter, (&person, &kit), &Done { intent: &intent, movement, step: &step });
    let named: Vec<String> = risk
        .breaks
        .iter()
        .filter_map(|l| match l {
            Loss::Piece { weight: Some(w), .. } => Some(w.to_string()),
            Loss::Piece { index, .. } => Some(kit[*index].text()),
            Loss::Sore(_) => None,
        })
        .collect();
    assert_eq!(named.len(), missing.len(), "{named:?}");
    assert!(missing.iter().all(|m| named.iter().any(|n| n.contains(m))), "{named:?}");
    if let Some(ready) = ready {
        let (spare, _) = risk.spare.expect("something stands ready");
        assert!(spare.movement.id.contains(ready), "{}", spare.movement.id);
    }
}

/// For every movement in unlike rooms: what goes along is another movement of the same kind of work, that can be set up here and holds
/// what it says.
#[rstest]
#[case(HOME)]
#[case(RINGS)]
#[case(GYM)]
fn what_goes_along_holds_what_it_says(#[case] room: &str) {
    let (person, kit) = (person(), kit(room));
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &kit), &[], None);
    let mut merits = Vec::new();
    for movement in &CATALOGUE.movements {
        let ladder = Ladder::of(movement, &person, &kit);
        let (Some(step), Some(intent)) = (ladder.steps.get(ladder.steps.len() / 2), intent(movement)) else { continue };
        let done = Done { intent: &intent, movement, step };
        let bare = in_use(movement, &person, &kit, step)
            .iter()
            .rev()
            .fold(kit.clone(), |kit, index| kit_without(&kit, *index, None));
        let joints = |m: &bavrek_core::movement::Movement| {
            Joint::ALL.iter().filter(|j| movement.loads_joint(**j) && m.loads_joint(**j)).count()
        };
        let found = instead(&fitter, (&person, &kit), &done, None);
        assert!(found.len() <= 3, "{}", movement.id);
        for (i, (candidate, merit)) in found.iter().enumerate() {
            let (own, other) = (&movement.id, candidate.movement);
            assert!(
                other.id != *own && !are_twins(other, movement) && other.style == movement.style,
                "{own}: {}",
                other.id
            );
            assert!(Ladder::can_set_up(other, &person, &kit, candidate.step()), "{own}: {}", other.id);
            assert!(found[..i].iter().all(|(c, _)| c.movement.id != other.id), "{own}: {} twice", other.id);
            match merit {
                Merit::OtherKit => {
                    assert!(Ladder::can_set_up(other, &person, &bare, candidate.step()), "{own}: {}", other.id);
                }
                Merit::SparesJoint => assert!(joints(other) < joints(movement), "{own}: {}", other.id),
                Merit::Ready => panic!("{own}: nothing was kept"),
                Merit::SameJob => {}
            }
            merits.push(*merit);
        }
        // What was kept for it comes first.
        if let Some((last, _)) = found.last() {
            let kept = instead(&fitter, (&person, &kit), &done, Some(&last.movement.id));
            assert_eq!((kept[0].0.movement.id.as_str(), kept[0].1), (last.movement.id.as_str(), Merit::Ready));
        }
    }
    assert!(merits.len() > 20 && merits.contains(&Merit::SameJob), "{}", merits.len());
}
