//! What would help: gaps around today's load, and what closes them.

use std::sync::LazyLock;

use crate::common::{kit, person};
use bavrek_catalogue::{intake, load};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::Ladder;
use bavrek_core::movement::Catalogue;
use bavrek_core::purchase::{AN_END, InUse, gaps, pairs_between, worth_measuring, would_help};
use bavrek_core::units::Kilograms;
use proptest::prelude::*;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

fn curl_on(room: &[KitItem]) -> Ladder {
    Ladder::of(CATALOGUE.movement("dumbbell_curl").unwrap(), &person(), room)
}

#[rstest]
#[case::kilograms(r#"[{"kind":"dumbbells","unit":"kg","pairs":[5,8,12]}]"#, &["a pair of 6 kg dumbbells", "a pair of 10 kg dumbbells", "a pair of 14 kg dumbbells"])]
#[case::pounds_stay_pounds(r#"[{"kind":"dumbbells","unit":"lb","pairs":[10,20]}]"#, &["a pair of 15 lb dumbbells", "a pair of 25 lb dumbbells"])]
#[case::close_steps_need_nothing_between(r#"[{"kind":"dumbbells","unit":"kg","pairs":[10,11,12]}]"#, &["a pair of 14 kg dumbbells"])]
#[case::nothing_to_lie_between(r#"[{"kind":"chair"}]"#, &[])]
fn pairs_that_would_lie_between(#[case] room: &str, #[case] expected: &[&str]) {
    let found: Vec<String> = pairs_between(&kit(room)).into_iter().map(|offer| offer.name).collect();
    assert_eq!(found, expected);
}

/// 5, 8, 12: from 8 a jump by half to 12, and the ladder ends within reach.
#[test]
fn gaps_are_counted_where_the_next_weeks_take_place() {
    let ladder = curl_on(&kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[5,8,12]}]"#));
    let near_eight = gaps(&ladder, Kilograms(8.0));
    assert_eq!(near_eight.count, 2);
    let jump = (1.5f64 / 1.1).ln();
    assert!((near_eight.excess - jump - AN_END).abs() < 1e-9, "{near_eight:?}");
    assert_eq!(gaps(&ladder, Kilograms(5.0)).count, 1);
}

#[test]
fn the_pair_in_the_gap_helps_most_and_a_wheel_not_at_all() {
    let room = kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[5,8,12]}]"#);
    let movement = CATALOGUE.movement("dumbbell_curl").unwrap();
    let ladder = curl_on(&room);
    let today = InUse { movement, step: &ladder.steps[1] };
    let offers: Vec<_> = pairs_between(&room).into_iter().chain(intake().unwrap().cheap).collect();
    let help = would_help(&person(), (&room, None), &[today], &offers);
    assert!(help.windows(2).all(|w| w[0].eases >= w[1].eases));
    assert!(help.iter().all(|h| h.offer.id != "wheel"));
    // Of the pairs the one in the gap, and one of each kind of thing.
    let pairs: Vec<_> = help.iter().filter(|h| h.offer.name.contains("dumbbells")).collect();
    let [best] = pairs[..] else { panic!("{help:?}") };
    assert!(best.offer.name.contains("10 kg") || best.offer.name.contains("14 kg"), "{best:?}");
    assert!(best.eases > 0.05 && best.movements == ["Standing dumbbell curl"]);
    let bands = help.iter().filter(|h| matches!(h.offer.kit[..], [KitItem::LoopBand(_)]));
    assert!(bands.count() <= 1);
}

#[test]
fn a_band_that_steps_rest_on_is_worth_measuring_until_it_was() {
    let band = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
    let room = kit(&format!("[{{\"kind\":\"chair\"}},{band}]"));
    let movement = CATALOGUE.movement("band_curl").unwrap();
    let ladder = Ladder::of(movement, &person(), &room);
    let today = InUse { movement, step: &ladder.steps[0] };
    assert_eq!(worth_measuring(&room, &[today]), Some((1, 1)));
    assert_eq!(worth_measuring(&room, &[]), None);
    let measured = band.replace(
        "\"count\":1",
        r#""count":1,"measured":[{"length_m":1.3,"kg":4.9},{"length_m":1.82,"kg":10.4},{"length_m":2.34,"kg":14.8}]"#,
    );
    let room = kit(&format!("[{measured}]"));
    let ladder = Ladder::of(movement, &person(), &room);
    assert_eq!(worth_measuring(&room, &[InUse { movement, step: &ladder.steps[0] }]), None);
}

proptest! {
    /// More dumbbells never make the gaps worse, but by what is taken as one load: within 3 % two pairs are one step, and
    /// the step above them is then counted from the lighter.
    #[test]
    fn another_pair_never_widens_a_gap(
        mut pairs in proptest::collection::vec(2u16..40, 1..6), more in 2u16..40, around in 4.0f64..30.0,
    ) {
        let room = |pairs: &[u16]| {
            let list: Vec<String> = pairs.iter().map(u16::to_string).collect();
            kit(&format!("[{{\"kind\":\"dumbbells\",\"unit\":\"kg\",\"pairs\":[{}]}}]", list.join(",")))
        };
        pairs.sort_unstable();
        pairs.dedup();
        let widest = |pairs: &[u16]| {
            let ladder = curl_on(&room(pairs));
            ladder.largest_jump(None)
        };
        let inside = pairs[0] < more && more < pairs[pairs.len() - 1];
        let before = widest(&pairs);
        pairs.push(more);
        pairs.sort_unstable();
        pairs.dedup();
        prop_assert!(!inside || widest(&pairs) <= (1.0 + before) * 1.03 - 1.0 + 1e-9);
        prop_assert!(gaps(&curl_on(&room(&pairs)), Kilograms(around)).excess.is_finite());
    }
}
