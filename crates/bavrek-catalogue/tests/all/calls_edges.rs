//! Where one call ends and the next begins: each limit is met from both sides.

use crate::common::asked::{Asked, CATALOGUE, CURL, curls, kg, session, set_on, the_day_after};
use crate::common::{dumbbell_set, intent, kit, person};
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Count, Dose, Tempo};
use bavrek_core::fit::{Fitter, Room};
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::ladder::Ladder;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Style;
use bavrek_core::person::{Person, Sex};
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, CallKind, next};
use bavrek_core::units::Kilograms;
use rstest::rstest;

use CallKind::{AddLoad, AddReps, AddTempo, Deload, Ease, HarderVariation, Hold, Swap};

const USUAL: Usual = Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 };

fn pairs(kg: &[f64]) -> String {
    format!(r#"[{{"kind":"dumbbells","unit":"kg","pairs":{kg:?}}}]"#)
}

/// Three curls, one a set, with what was left in each.
fn three(date: &str, kg: f64, reps: [u16; 3], rirs: [u8; 3]) -> Vec<LoggedSet> {
    reps.iter().zip(rirs).map(|(n, rir)| dumbbell_set("dumbbell_curl", date, kg, *n, rir)).collect()
}

/// A curl that is asked as it is written.
fn written(line: &str) -> Intent {
    intent(CURL).dosed(read(line).unwrap().filled(USUAL))
}

fn says(call: &Call, words: &str) -> bool {
    call.told().iter().any(|reason| reason.contains(words))
}

/// Eight to twelve with two in reserve are asked.
#[rstest]
#[case::half_of_the_bottom_to_failure([4, 4, 4], [0, 0, 0], Ease, "half of 8 or less with nothing left")]
#[case::one_set_at_half([9, 7, 4], [0, 0, 0], Ease, "half of 8 or less with nothing left")]
#[case::more_than_half([5, 5, 5], [0, 0, 0], Hold, "below 8")]
#[case::half_with_one_left([4, 4, 4], [1, 1, 1], Hold, "below 8")]
#[case::three_more_left_than_asked([8, 8, 8], [5, 5, 5], AddLoad, "far above what was asked")]
#[case::two_more_left([8, 8, 8], [4, 4, 4], AddReps, "inside the zone")]
#[case::one_set_with_two_more_left([8, 8, 8], [5, 5, 4], AddReps, "inside the zone")]
#[case::below_the_zone_with_much_left([7, 7, 7], [5, 5, 5], Hold, "below 8")]
#[case::below_the_zone_with_very_much_left([7, 7, 7], [6, 6, 6], Hold, "below 8")]
#[case::five_over_the_top([17, 17, 17], [2, 2, 2], AddLoad, "far above what was asked")]
#[case::one_set_four_over([17, 17, 16], [2, 2, 2], AddLoad, "the next step is")]
#[case::five_over_with_less_left([17, 17, 17], [0, 0, 0], Hold, "less than the 2 in reserve")]
#[case::at_the_top([12, 12, 12], [2, 2, 2], AddLoad, "the next step is")]
#[case::one_set_below_the_top([12, 12, 11], [2, 2, 2], AddReps, "one more rep")]
#[case::at_the_top_with_less_left([12, 12, 12], [1, 1, 1], Hold, "less than the 2 in reserve")]
#[case::at_the_top_with_half_of_one_less([12, 12, 12], [2, 1, 2], AddLoad, "the next step is")]
#[case::at_the_top_with_more_than_half_less([12, 12, 12], [2, 1, 1], Hold, "less than the 2 in reserve")]
#[case::inside_with_less_left([10, 10, 10], [0, 0, 0], Hold, "less than the 2 in reserve")]
fn what_the_repetitions_say(
    #[case] reps: [u16; 3],
    #[case] rirs: [u8; 3],
    #[case] expected: CallKind,
    #[case] words: &str,
) {
    let call = Asked::of(CURL, three("2026-03-02", 10.0, reps, rirs)).call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    assert!(says(&call, words), "{:?}", call.told());
    if words != "far above what was asked" {
        assert!(!says(&call, "far above"), "{:?}", call.told());
    }
}

/// Load for ten repetitions with two left, from repetitions to failure: `((n + 9) / 21) ^ 0.45` of it.
#[rstest]
#[case::four_to_failure([4, 4, 4], [0, 0, 0], 14.0, 11.0)]
#[case::two_to_failure([2, 2, 2], [0, 0, 0], 14.0, 10.0)]
#[case::eighteen_and_two_left([18, 18, 18], [2, 2, 2], 10.0, 11.0)]
#[case::thirty_and_two_left([30, 30, 30], [2, 2, 2], 10.0, 13.0)]
fn far_off_the_step_follows_the_sets(
    #[case] reps: [u16; 3],
    #[case] rirs: [u8; 3],
    #[case] from: f64,
    #[case] to: f64,
) {
    let call = Asked::of(CURL, three("2026-03-02", from, reps, rirs)).call();
    assert_eq!(kg(&call), to, "{:?}", call.told());
}

/// One set at the top is no three; of a line of one set it is all.
#[rstest]
#[case::one_of_three(None, 1, AddReps)]
#[case::two_of_three(None, 2, AddLoad)]
#[case::all_three(None, 3, AddLoad)]
#[case::the_only_one(Some("1 x 8-12"), 1, AddLoad)]
#[case::one_of_two(Some("2 x 8-12"), 1, AddReps)]
fn enough_sets_carry_a_step_up(#[case] line: Option<&str>, #[case] sets: usize, #[case] expected: CallKind) {
    let wanted = line.map_or_else(|| intent(CURL), written);
    let history = curls("2026-03-02", 14.0, &vec![12; sets], 2);
    let call = Asked { intent: wanted, ..Asked::of(CURL, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
}

/// On average and to half a repetition: a single judgement of what was left is too noisy.
#[rstest]
#[case::half_of_one_less(&[(12, 2), (12, 1)], AddLoad)]
#[case::one_less(&[(12, 1), (12, 1)], Hold)]
fn the_reserve_is_kept_on_average(#[case] sets: &[(u16, u8)], #[case] expected: CallKind) {
    let history = sets.iter().map(|(n, rir)| dumbbell_set("dumbbell_curl", "2026-03-02", 10.0, *n, *rir)).collect();
    let call = Asked { intent: written("2 x 8-12"), ..Asked::of(CURL, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
}

/// Twice below the zone on a step whose neighbour is far too light: it stays as long as the set is still work.
#[rstest]
#[case::far_too_light_below([11, 11, 11], 4.0, Hold)]
#[case::a_near_one_below([11, 11, 11], 9.0, Ease)]
#[case::half_of_the_bottom([6, 6, 6], 4.0, Hold)]
#[case::less_than_half([5, 5, 5], 4.0, Ease)]
fn between_two_steps_the_heavier_stays(#[case] reps: [u16; 3], #[case] below: f64, #[case] expected: CallKind) {
    let history = ["2026-02-27", "2026-03-02"].into_iter().flat_map(|d| three(d, 10.0, reps, [1, 1, 1])).collect();
    let asked = Asked { room: pairs(&[below, 10.0]), intent: written("3 x 12-16"), ..Asked::of(CURL, history) };
    let call = asked.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    if expected == Hold {
        assert!(call.prescription.sets.iter().all(|s| s.reps == Some([reps[0], 12])), "{:?}", call.prescription);
    }
}

/// Of a line of few repetitions, three are no work for growth any more.
#[rstest]
#[case::four(4, Hold)]
#[case::three(3, Ease)]
fn fewer_than_four_are_a_test(#[case] reps: u16, #[case] expected: CallKind) {
    let history = ["2026-02-27", "2026-03-02"].into_iter().flat_map(|d| three(d, 10.0, [reps; 3], [1; 3])).collect();
    let call = Asked { room: pairs(&[4.0, 10.0]), intent: written("3 x 5-8"), ..Asked::of(CURL, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
}

/// Six days, each on the load that is named, with as many repetitions as show the same strength.
fn six(loads: [f64; 6], reps: [u16; 6]) -> Vec<LoggedSet> {
    let dates = ["2026-02-12", "2026-02-15", "2026-02-18", "2026-02-22", "2026-02-26", "2026-03-02"];
    let days = dates.iter().zip(loads.iter().zip(reps));
    days.flat_map(|(date, (load, n))| session("dumbbell_curl", date, *load, &[n; 3], 2)).collect()
}

/// What a stall is answered with: slower lowering up to five seconds, then another step, then another movement.
#[rstest]
#[case::usual("3 x 8-12", [10.0; 6], [10; 6], AddTempo, 4)]
#[case::a_gain_that_is_noise("3 x 8-12", [10.0; 6], [9, 9, 9, 10, 10, 10], AddTempo, 4)]
#[case::four_seconds("3 x 8-12 @ 4-0-1-0", [10.0; 6], [10; 6], AddTempo, 5)]
#[case::five_seconds("3 x 8-12 @ 5-0-1-0", [10.0; 6], [10; 6], Ease, 5)]
#[case::five_on_two_steps("3 x 8-12 @ 5-0-1-0", [10.0, 11.0, 10.0, 11.0, 10.0, 11.0], [11, 8, 11, 8, 11, 8], Swap, 5)]
fn a_stall_is_answered_in_this_order(
    #[case] line: &str,
    #[case] loads: [f64; 6],
    #[case] reps: [u16; 6],
    #[case] expected: CallKind,
    #[case] lowering: u8,
) {
    let call = Asked { intent: written(line), ..Asked::of(CURL, six(loads, reps)) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    assert!(says(&call, "6 sessions"), "{:?}", call.told());
    if expected == AddTempo {
        let slow: Vec<Count> = call.prescription.sets.iter().map(|s| s.tempo.lowering).collect();
        assert_eq!(slow, [Count::whole(lowering); 3], "{:?}", call.told());
    }
}

/// What is no stall: five days only, much left in reserve, a change that is more than noise.
#[rstest]
#[case::five_days(1, 10, 2)]
#[case::five_left(0, 10, 5)]
#[case::a_change(0, 8, 2)]
fn this_is_no_stall(#[case] skipped: usize, #[case] at_first: u16, #[case] rir: u8) {
    let mut history = six([10.0; 6], [at_first, at_first, at_first, 10, 10, 10]);
    for set in &mut history {
        set.rir = Some(rir);
    }
    history.drain(..3 * skipped);
    let call = Asked::of(CURL, history).call();
    assert!(!says(&call, "6 sessions"), "{:?}", call.told());
    assert!(matches!(call.call, AddReps | AddLoad), "{:?}", call.told());
}

/// Three days with less in reserve than asked and no gain: half the sets. Any of them otherwise, and nothing of it.
#[rstest]
#[case::worn([0, 0, 0], [10, 10, 10], true)]
#[case::the_first_day_as_asked([2, 0, 0], [10, 10, 10], false)]
#[case::the_last_day_as_asked([0, 0, 2], [10, 10, 10], false)]
#[case::a_gain([0, 0, 0], [9, 10, 11], false)]
#[case::a_gain_on_the_last_day([0, 0, 0], [10, 10, 11], false)]
fn three_hard_days_without_gain(#[case] rirs: [u8; 3], #[case] reps: [u16; 3], #[case] worn: bool) {
    let dates = ["2026-02-24", "2026-02-27", "2026-03-02"];
    let days = dates.iter().zip(rirs.iter().zip(reps));
    let history = days.flat_map(|(date, (rir, n))| curls(date, 10.0, &[n; 3], *rir)).collect();
    let call = Asked::of(CURL, history).call();
    assert_eq!(call.call == Deload, worn, "{:?}", call.told());
    if worn {
        assert_eq!((call.prescription.sets.len(), kg(&call)), (2, 9.0), "{:?}", call.told());
    }
}

/// A hold of thirty seconds grows by five or to what was held, and at a minute goes on to the next step.
#[rstest]
#[case::a_second_short(29, Hold, None)]
#[case::just_held(30, AddReps, Some(35))]
#[case::held_for_longer(42, AddReps, Some(40))]
#[case::nearly_a_minute(59, AddReps, Some(55))]
#[case::a_minute(60, AddLoad, None)]
fn holds_grow(#[case] held: u16, #[case] expected: CallKind, #[case] seconds: Option<u16>) {
    let one = LoggedSet {
        reps: None,
        rir: None,
        seconds: Some(held),
        ..dumbbell_set("dumbbell_curl", "2026-03-02", 10.0, 0, 0)
    };
    let call = Asked { intent: written("2 x 30 s"), ..Asked::of(CURL, vec![one.clone(), one]) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    if let Some(seconds) = seconds {
        assert!(call.prescription.sets.iter().all(|s| s.seconds == Some(seconds)), "{:?}", call.prescription);
    }
}

/// On the only pair: slower; a harder movement, where that gives what the line asks for; a few of one, where sets are as long as may be.
#[rstest]
#[case::at_first("3 x 8-12", 12, AddTempo, [8, 12])]
#[case::slow_and_harder_in_the_zone("3 x 8-12 @ 5-0-1-0", 30, HarderVariation, [8, 12])]
#[case::as_long_as_may_be("3 x 20-30 @ 5-0-1-0", 30, HarderVariation, [20, 30])]
fn beyond_the_heaviest_pair(#[case] line: &str, #[case] reps: u16, #[case] expected: CallKind, #[case] zone: [u16; 2]) {
    let history = curls("2026-03-02", 10.0, &[reps; 3], 2);
    let call = Asked { room: pairs(&[10.0]), intent: written(line), ..Asked::of(CURL, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    assert!(call.prescription.sets.iter().all(|s| s.reps == Some(zone)), "{:?}", call.prescription);
}

/// Over all movements, at the top of the zone on the hardest step of two rooms, as slow as may be: what is harder gives at least two
/// repetitions fewer, and three quarters of the bottom of the zone; else it is more repetitions, four at a time.
#[rstest]
#[case::a_full_room(full_room(), 12)]
#[case::a_pair_and_a_chair(kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[8]},{"kind":"chair"}]"#), 12)]
#[case::the_same_and_long_sets(kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[8]},{"kind":"chair"}]"#), 28)]
fn beyond_the_hardest_step(#[case] room: Vec<KitItem>, #[case] top: u16) {
    let light = Person { body_mass_kg: Kilograms(60.0), sex: Some(Sex::Female), ..person() };
    let mut counts = [0, 0];
    for who in [person(), light] {
        for (all, own) in counts.iter_mut().zip(beyond(&who, &room, top)) {
            *all += own;
        }
    }
    assert!(counts.iter().all(|n| *n > 10), "{counts:?}");
}

/// How often a harder movement is called there, and how often more repetitions are.
fn beyond(who: &Person, room: &[KitItem], top: u16) -> [usize; 2] {
    let (mut harder, mut more, mut believed) = (0, 0, 0);
    for movement in CATALOGUE.movements.iter().filter(|m| m.style == Style::Reps) {
        let Some(step) = Ladder::of(movement, who, room).steps.pop() else { continue };
        let regions = movement.direct.keys().map(|region| (*region, 1.0)).collect();
        let slow: Tempo = "5-0-1-0".parse().unwrap();
        let dose = Dose { reps: [top - 4, top], tempo: Some(slow), ..Dose::USUAL };
        let job = Intent { dose, ..Intent::of(movement.pattern, regions) };
        let set =
            LoggedSet { reps: Some(top), rir: Some(2), tempo: Some(slow), ..set_on(&movement.id, "2026-03-02", &step) };
        let dose = job.dose.prescription();
        let history = [set.clone(), set.clone(), set];
        let question = the_day_after(&movement.id, (who, room), (&job, &dose), &history);
        let call = next(&CATALOGUE, &question);
        let zone = call.prescription.sets[0].reps;
        match call.call {
            HarderVariation => {
                let fitter = Fitter::new(&CATALOGUE, Room::plain(who, room), question.history, Some(question.today));
                let other = CATALOGUE.movement(call.exercise.as_deref().unwrap()).unwrap();
                let there = fitter.on_step(other, call.step.as_ref().unwrap(), &job, &[]).unwrap().start.reps;
                let [low, most] = [0.75 * f64::from(top - 4), f64::from(top - 2)];
                assert!((low..=most).contains(&there), "{} to {}: {there} reps", movement.id, other.id);
                // Fewer than of this one, by all that is known: also where nobody believes what was logged.
                let here = fitter.on_step(movement, &step, &job, &[]).map(|own| own.start.reps);
                assert!(
                    here.is_none_or(|here| there <= here - 2.0),
                    "{} to {}: {there} of {here:?}",
                    movement.id,
                    other.id
                );
                believed += usize::from(here.is_some());
                // Of the same strength, and no one arm alone with the weight of both.
                let kin = other.carry_over.pattern == movement.carry_over.pattern;
                let hands = other.unilateral() == movement.unilateral() || !other.is_weighed();
                let told = movement.harder.as_deref() == Some(&*other.id);
                assert!(kin && hands || told, "{} to {}", movement.id, other.id);
                harder += 1;
            }
            AddReps => {
                assert_eq!(zone, Some([top, (top + 4).min(30)]), "{}: {:?}", movement.id, call.told());
                more += 1;
            }
            _ => {}
        }
    }
    // What it is not ready for is no candidate itself.
    assert!(2 * believed > harder, "{believed} of {harder}");
    [harder, more]
}

/// The next pair is too far: more repetitions first; too far even for these, slower; as slow as may be, the same again.
#[rstest]
#[case::a_fifth(12.0, "3 x 8-12", AddReps, "first")]
#[case::twice_as_heavy(20.0, "3 x 8-12", AddTempo, "lower")]
#[case::twice_as_heavy_and_slow(20.0, "3 x 8-12 @ 5-0-1-0", Hold, "gap")]
fn a_gap_is_bridged(#[case] next: f64, #[case] line: &str, #[case] expected: CallKind, #[case] words: &str) {
    let history = session("dumbbell_curl", "2026-03-02", 10.0, &[12; 3], 2);
    let call = Asked { room: pairs(&[10.0, next]), intent: written(line), ..Asked::of(CURL, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    assert!(says(&call, words), "{:?}", call.told());
}
