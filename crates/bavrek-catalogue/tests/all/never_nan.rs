//! Whatever is typed into a rig, the core answers with finite numbers or with a refusal.

use std::sync::LazyLock;

use bavrek_catalogue::load;
use bavrek_core::anatomy::Surface;
use bavrek_core::figure::Figure;
use bavrek_core::kit::{LoopBand, TubeBand};
use bavrek_core::movement::Catalogue;
use bavrek_core::person::{Experience, Person};
use bavrek_core::rigging::Setup;
use bavrek_core::rigging::{BandInUse, Loads, Rigged};
use bavrek_core::units::{Degrees, Kilograms, Metres};
use proptest::prelude::*;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

/// Numbers that a form could send: sensible ones, absurd ones, and those that are none.
fn number() -> impl Strategy<Value = f64> {
    prop_oneof![4 => -1.0f64..4.0, 2 => -400.0f64..400.0, 1 => Just(0.0), 1 => Just(f64::NAN), 1 => Just(f64::INFINITY)]
}

fn length() -> impl Strategy<Value = Option<Metres>> {
    proptest::option::of(number().prop_map(Metres))
}

fn angle() -> impl Strategy<Value = Option<Degrees>> {
    proptest::option::of((-200.0f64..200.0).prop_map(Degrees))
}

fn setups() -> impl Strategy<Value = Setup> {
    let lengths = (length(), length(), length(), length(), length(), length(), length());
    let surfaces = proptest::option::of(proptest::sample::select(Surface::ALL));
    (lengths, angle(), angle(), surfaces, proptest::option::of(any::<bool>())).prop_map(
        |(l, bench, body, surface, knees)| Setup {
            range: None,
            surface,
            support_height_m: l.6,
            bench_deg: bench,
            anchor_height_m: l.0,
            anchor_distance_m: l.1,
            body_angle_deg: body,
            feet_height_m: l.2,
            hands_height_m: l.3,
            knees,
            stance_m: l.4,
            grip_shorter_m: l.5,
            strap_m: l.6,
            band_fix: None,
            foot_in_loop: Some(true),
        },
    )
}

fn bands() -> impl Strategy<Value = Option<BandInUse>> {
    let of = |width: f64, tube: bool| {
        let loop_band = LoopBand {
            count: 1,
            flat_length_m: Metres(1.04),
            width_m: Some(Metres(width)),
            thickness_m: Some(Metres(0.0045)),
            ..LoopBand::default()
        };
        let tube_band =
            TubeBand { count: 1, rest_length_m: Metres(1.2), rated_kg: Some([5.0, 16.0]), ..TubeBand::default() };
        BandInUse::of(&if tube { tube_band.into() } else { loop_band.into() })
    };
    proptest::option::of((0.005f64..0.1, any::<bool>())).prop_map(move |b| b.and_then(|(w, t)| of(w, t)))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(4000))]

    #[test]
    fn a_rig_answers_with_numbers_or_a_refusal(
        which in 0usize..1000, setup in setups(), weight in prop_oneof![Just(0.0), 0.5f64..200.0], band in bands(),
        stature in 1.2f64..2.3, mass in 30.0f64..250.0,
    ) {
        let movement = &CATALOGUE.movements[which % CATALOGUE.movements.len()];
        let person = Person {
            body_mass_kg: Kilograms(mass),
            height_m: Metres(stature),
            experience: Experience::Novice,
            age_years: None,
            sex: None,
            limits: vec![],
        };
        let rigged = Rigged::new(movement, &person, setup);
        let loads = Loads { weight: Kilograms(weight), bands: [band, None] };
        let answer = rigged.load(&loads);
        if let Ok(a) = &answer {
            let numbers = [a.effective().value(), a.peak().value(), a.log_sd, a.band_share];
            prop_assert!(numbers.iter().chain(&a.thirds).chain(&a.profile.0).all(|v| v.is_finite()), "{} {a:?}", movement.id);
            prop_assert!((a.thirds.iter().sum::<f64>() - 1.0).abs() < 1e-9);
            prop_assert!(a.log_sd > 0.0, "{}", movement.id);
        }
        if let Some(figure) = Figure::of(&rigged, &loads, answer.as_ref().ok()) {
            prop_assert!(figure.path.iter().flatten().all(|v| v.is_finite()), "{}", movement.id);
        }
    }
}
