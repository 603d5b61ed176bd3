//! What an intent may ask: shares of regions, sides, when a set stops, a yardstick, and what an empty room answers.

use std::sync::LazyLock;

use crate::common::{intent, kit, person};
use bavrek_catalogue::load;
use bavrek_core::anatomy::{LengthEmphasis, Pattern, Region};
use bavrek_core::dose::{Dose, StopRule};
use bavrek_core::fit::{Candidate, FitAnswer, FitQuestion, Fitter, Parts, Room, Weights, fit};
use bavrek_core::kit::KitItem;
use bavrek_core::method::Method;
use bavrek_core::movement::Catalogue;
use bavrek_core::plan::{Intent, Sides};
use bavrek_core::wording::told;
use proptest::prelude::*;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const HOME: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16,20]},{"kind":"rings","max_height_m":2.2},
    {"kind":"bench","angles_deg":[0,30,45]}]"#;
const CURL: &str =
    r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0,"brachialis":0.5},"reps":[8,12],"rir":2,"sets":3}"#;
const PRESS: &str = r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#;

fn ask(room: &[KitItem], wanted: &Intent) -> FitAnswer<'static> {
    fit(&CATALOGUE, &FitQuestion::plain(&person(), room, wanted))
}

fn order(answer: &FitAnswer<'_>) -> Vec<String> {
    answer.candidates.iter().map(|c| c.movement.id.clone()).collect()
}

fn find<'a>(answer: &'a FitAnswer<'static>, id: &str) -> &'a Candidate<'static> {
    answer.candidates.iter().find(|c| c.movement.id == id).unwrap()
}

/// Weights need not sum to anything: only the shares between them count.
#[rstest]
#[case(0.1)]
#[case(0.5)]
#[case(0.9)]
fn only_the_shares_of_regions_count(#[case] scale: f64) {
    let room = kit(HOME);
    let whole = intent(CURL);
    let scaled = Intent { regions: whole.regions.iter().map(|(r, w)| (*r, w * scale)).collect(), ..whole.clone() };
    let (a, b) = (ask(&room, &whole), ask(&room, &scaled));
    assert_eq!(order(&a), order(&b));
    for (a, b) in a.candidates.iter().zip(&b.candidates) {
        assert!((a.score - b.score).abs() < 1e-12);
    }
}

#[rstest]
#[case::no_region(|i: &mut Intent| i.regions.clear(), "regions")]
#[case::nothing(|i: &mut Intent| { i.regions.insert(Region::Lats, 0.0); }, "regions.lats")]
#[case::too_much(|i: &mut Intent| { i.regions.insert(Region::Lats, 1.2); }, "regions.lats")]
#[case::no_number(|i: &mut Intent| { i.regions.insert(Region::Lats, f64::NAN); }, "regions.lats")]
#[case::falling_reps(|i: &mut Intent| i.dose.reps = [12, 8], "reps")]
#[case::no_reps(|i: &mut Intent| i.dose.reps = [0, 8], "reps")]
#[case::reserve(|i: &mut Intent| i.dose.rir = 7, "rir")]
#[case::sets(|i: &mut Intent| i.dose.sets = 0, "sets")]
fn an_intent_that_is_none_names_its_field(#[case] spoil: fn(&mut Intent), #[case] path: &str) {
    let mut wanted = intent(CURL);
    spoil(&mut wanted);
    assert_eq!(wanted.validate().unwrap_err().path, path);
}

#[test]
fn a_reference_that_works_none_of_the_regions_is_left_out_with_a_note() {
    let room = kit(HOME);
    let plain = intent(CURL);
    let odd = Intent { reference_exercise: Some("side_raise".into()), ..plain.clone() };
    let (without, with) = (ask(&room, &plain), ask(&room, &odd));
    assert_eq!(order(&without), order(&with));
    assert!(without.notes.is_empty());
    assert!(with.reference.is_none() && with.notes[0].to_string().contains("works none of: "), "{:?}", with.notes);
    let fair = ask(&room, &Intent { reference_exercise: Some("incline_bench_curl".into()), ..plain });
    assert!(fair.notes.is_empty() && fair.reference.is_some());
}

/// The word for where a movement is hard does not blur its own curve; another word replaces it.
#[test]
fn a_reference_says_more_than_the_word_for_it() {
    let room = kit(HOME);
    let of = |length: Option<LengthEmphasis>| {
        let reference_exercise = Some("dumbbell_bench_fly".into());
        let wanted = Intent {
            length_emphasis: length,
            reference_exercise,
            ..Intent::of(Pattern::Fly, [(Region::ChestSternal, 1.0)].into())
        };
        find(&ask(&room, &wanted), "dumbbell_bench_fly").parts.tension
    };
    assert!((of(None) - 1.0).abs() < 1e-9);
    assert!((of(Some(LengthEmphasis::Middle)) - 1.0).abs() < 1e-9);
    assert!(of(Some(LengthEmphasis::Shortened)) < 0.8);
}

#[test]
fn one_side_at_a_time_is_kept_where_it_is_asked_for() {
    let room = kit(HOME);
    let one = Intent { sides: Some(Sides::One), ..intent(PRESS) };
    let both = Intent { sides: Some(Sides::Both), ..intent(PRESS) };
    let answer = ask(&room, &one);
    assert!(answer.candidates[0].movement.unilateral(), "{:?}", order(&answer));
    assert!(told(&answer.candidates[0].kept).iter().any(|k| k == "one side at a time"));
    assert!(told(&find(&answer, "dumbbell_bench_press").lost).iter().any(|l| l.starts_with("both sides together")));
    assert!(!ask(&room, &both).candidates[0].movement.unilateral());
    // It costs no set-up where it is what is asked for.
    let cost = |wanted: &Intent| find(&ask(&room, wanted), "one_arm_bench_press").parts.setup;
    assert!(cost(&one) > cost(&both));
}

#[rstest]
#[case(None, &[2, 2, 2], "3 × 8–12 @ 2-0-1-0, 2 in reserve,")]
#[case(Some(StopRule::LastToFailure), &[2, 2, 0], "3 × 8–12 @ 2-0-1-0, 2 in reserve, last to failure,")]
#[case(Some(StopRule::Failure), &[0, 0, 0], "3 × 8–12 @ 2-0-1-0, to failure,")]
#[case(Some(StopRule::SpeedLost), &[2, 2, 2], "3 × 8–12 @ 2-0-1-0, 2 in reserve,")]
fn a_stop_rule_is_prescribed(#[case] stop: Option<StopRule>, #[case] reserves: &[u8], #[case] words: &str) {
    let dose = Dose { stop, ..intent(PRESS).dose }.prescription();
    assert_eq!(dose.sets.iter().map(|s| s.rir.unwrap()).collect::<Vec<_>>(), reserves);
    assert!(dose.text().starts_with(words), "{}", dose.text());
    dose.validate().unwrap();
}

#[test]
fn what_is_unsteady_ranks_lower_to_failure() {
    let room = kit(HOME);
    let mut wanted = intent(PRESS);
    let reserve = ask(&room, &wanted);
    wanted.dose.stop = Some(StopRule::Failure);
    let failure = ask(&room, &wanted);
    let ratio = |answer: &FitAnswer<'static>| {
        find(answer, "ring_push_up").parts.stability / find(answer, "dumbbell_bench_press").parts.stability
    };
    assert!(ratio(&failure) < ratio(&reserve));
    assert!(told(&find(&failure, "ring_push_up").lost).iter().any(|l| l.contains("balance ends them first")));
    // To failure the same load gives more repetitions than with some in reserve: the start is heavier or the same.
    let start = |answer: &FitAnswer<'static>| find(answer, "dumbbell_bench_press").start.expected.value();
    assert!(start(&failure) > start(&reserve));
}

/// Nothing but a floor: what cannot be trained is said, what can be is.
#[test]
fn an_empty_room_is_honest() {
    let (person, room) = (person(), Vec::new());
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &room), &[], None);
    let of = |pattern: Pattern, region: Region| {
        let wanted = Intent::of(pattern, [(region, 1.0)].into());
        (fitter.fit(&wanted), fitter.nearest(&wanted))
    };
    let (press, _) = of(Pattern::HorizontalPress, Region::ChestSternal);
    assert_eq!(press.candidates[0].movement.id, "push_up");
    for (pattern, region) in [(Pattern::VerticalPull, Region::Lats), (Pattern::Shrug, Region::TrapsUpper)] {
        let (answer, nearest) = of(pattern, region);
        assert!(answer.candidates.is_empty(), "{pattern}: {:?}", order(&answer));
        assert!(!answer.excluded.is_empty() && answer.excluded.iter().all(|e| !e.why.is_empty()));
        assert!(nearest.is_none_or(|n| n.parts.targeting < 0.3), "{pattern} has no honest answer on a floor");
    }
    // Whatever is offered needs nothing: bodyweight alone.
    for pattern in Pattern::ALL {
        for region in Region::ALL {
            let (answer, _) = of(*pattern, *region);
            let bare = |c: &Candidate<'_>| c.step().load.is_none() && c.step().bands.is_empty();
            assert!(answer.candidates.iter().all(bare), "{pattern} {region}: {:?}", order(&answer));
        }
    }
}

#[rstest]
#[case::negative([50.0, 14.0, 14.0, -5.0, 17.0, 5.0, 5.0], "steps")]
#[case::too_much([101.0, 14.0, 14.0, 5.0, 30.0, 5.0, 5.0], "targeting")]
#[case::no_number([f64::NAN, 14.0, 14.0, 5.0, 15.0, 5.0, 5.0], "targeting")]
#[case::nothing([0.0; 7], "targeting")]
#[case::joints_for_less([60.0, 14.0, 14.0, 5.0, 5.0, 5.0, 5.0], "joints")]
fn weights_that_cannot_be_used_name_the_part(#[case] percent: [f64; 7], #[case] path: &str) {
    assert_eq!(Weights::from_percent(percent).unwrap_err().path, path);
}

proptest! {
    /// Whatever a trainer weighs and whatever school bends it: the shares sum to one and joints keep theirs.
    #[test]
    fn weights_stay_shares(parts in proptest::array::uniform7(0.0..60.0_f64), school in 0..9_usize) {
        let mut percent = parts;
        percent[4] = 20.0 + parts.iter().sum::<f64>() * 0.2;
        prop_assume!(percent[4] <= 100.0);
        let own = Weights::from_percent(percent).unwrap();
        let bent = own.bent_by(Some(Method::ALL[school]));
        prop_assert!((bent.values().iter().sum::<f64>() - 1.0).abs() < 1e-9);
        prop_assert!(bent.values().iter().all(|w| (0.0..=1.0).contains(w)));
        // Each by as much as the school differs from the usual one; joints for no less than they count for either way.
        let by = |i: usize| own.values()[i] * Weights::of(Method::ALL[school]).values()[i] / Weights::USUAL.values()[i];
        let natural = by(4) / (0..7).map(by).sum::<f64>();
        let least = own.values()[4].min(Weights::USUAL.values()[4]);
        prop_assert!((bent.values()[4] - natural.max(least)).abs() < 1e-9);
        let others = (0..7).filter(|i| *i != 4).map(by).sum::<f64>();
        for i in (0..7).filter(|i| *i != 4 && others > 0.0) {
            prop_assert!((bent.values()[i] - by(i) / others * (1.0 - bent.values()[4])).abs() < 1e-9);
        }
    }
}

/// With all else alike, what counts for more decides.
#[test]
fn a_trainers_weights_change_the_order() {
    let (room, person, wanted) = (kit(HOME), person(), intent(PRESS));
    let weighed = |percent: [f64; 7]| {
        let weights = Weights::from_percent(percent).unwrap();
        fit(&CATALOGUE, &FitQuestion { weights, ..FitQuestion::plain(&person, &room, &wanted) })
    };
    let quick = weighed([5.0, 5.0, 5.0, 5.0, 15.0, 5.0, 60.0]);
    let usual = ask(&room, &wanted);
    assert_ne!(order(&quick), order(&usual));
    let best = |answer: &FitAnswer<'static>| answer.candidates[0].parts.setup;
    assert!(best(&quick) >= best(&usual));
    assert_eq!(Parts::FIELDS.len(), Weights::USUAL.values().len());
    // The usual weights bent by the usual school are the usual weights.
    let bent = Weights::USUAL.bent_by(Some(Method::ReserveBased)).values();
    assert!(bent.iter().zip(Weights::USUAL.values()).all(|(a, b)| (a - b).abs() < 1e-12));
}
