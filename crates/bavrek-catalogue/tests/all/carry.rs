//! Lines that go elsewhere: what does them there suits the dose where anything does, else the dose is bent to what there is.

use bavrek_core::dose::Dose;
use std::collections::BTreeMap;
use std::sync::LazyLock;

use crate::common::{kit, person};
use bavrek_core::fit::{Because, Candidate, Carried, Fitter, Known, Miss, Reason, Room, Worked, bent};
use bavrek_core::movement::Catalogue;
use bavrek_core::plan::Intent;
use bavrek_core::safety::cautions;
use bavrek_core::units::Kilograms;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| bavrek_catalogue::load().unwrap());

const BANDS: &str = r#"[{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},{"kind":"anchor","heights_m":[0.1,1.2,2.0],"door":true}]"#;
const GYM: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,14,16,18,20,24]},{"kind":"bench","angles_deg":[0,30,45,75]},{"kind":"pull_up_bar","height_m":2.3}]"#;

const SPARSE: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[2,5]},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.032,"thickness_m":0.0045}]"#;

/// Every job that movements of the catalogue do, in a zone.
fn jobs(reps: [u16; 2]) -> Vec<Intent> {
    let mut jobs = BTreeMap::new();
    for movement in &CATALOGUE.movements {
        if let Some(region) = movement.main_region() {
            let intent = Intent {
                dose: Dose { reps, ..Dose::USUAL },
                ..Intent::of(movement.pattern, BTreeMap::from([(region, 1.0)]))
            };
            jobs.insert((movement.pattern, region), intent);
        }
    }
    jobs.into_values().collect()
}

#[rstest]
#[case::heavy_with_bands(BANDS, [4, 6])]
#[case::usual_with_bands(BANDS, [8, 12])]
#[case::heavy_in_a_gym(GYM, [4, 6])]
#[case::usual_in_a_gym(GYM, [8, 12])]
#[case::nothing("[]", [8, 12])]
fn a_line_is_done_in_its_zone_or_its_dose_is_bent(#[case] room: &str, #[case] reps: [u16; 2]) {
    let (person, kit) = (person(), kit(room));
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &kit), &[], None);
    let (mut carried, mut bent) = (0, 0);
    for intent in jobs(reps) {
        let answer = fitter.carried(&intent, &Known::default(), &[]);
        let Some(Carried { candidate, intent: then, bent: was_bent, because }) = answer else { continue };
        carried += 1;
        bent += usize::from(was_bent);
        let id = &candidate.movement.id;
        assert_eq!(because, Because::Best);
        assert!(!candidate.movement.rig.is_resisted(), "{id} for {:?}", intent.pattern);
        assert_eq!(was_bent, then != intent, "{id}");
        let zone = then.dose.prescription().zone().unwrap();
        let miss = candidate.start.misses(intent.dose.reps);
        let all = fitter.fit(&intent.counted()).candidates;
        let best = all.iter().map(|c| c.score).fold(0.0, f64::max);
        let suits = |c: &Candidate<'_>| c.start.misses(intent.dose.reps).is_none_or(|miss| !c.is_at_its_end(miss));
        // What suits the dose comes before what does the job a fifth better and does not.
        let usual = |c: &&Candidate<'_>| !c.movement.rig.is_resisted() && c.score >= 0.8 * best;
        let first = all.iter().filter(usual).find(|c| suits(c));
        assert!(first.is_none_or(|c| c.movement.id == *id), "{id} for {}", first.unwrap().movement.id);
        if was_bent {
            let most = candidate.start.reps.round() as u16;
            assert_eq!(zone, [most.saturating_sub(6).max(3), most], "{id}");
            // The zone it is bent to holds what is expected.
            let reps = candidate.start.reps;
            assert!(reps <= f64::from(zone[1]) + 0.5 && reps >= f64::from(zone[0]) - 1.0, "{id}: {reps} of {zone:?}");
            assert!(zone[0] >= 3 && zone[1] <= 35, "{id}: {zone:?}");
        } else {
            let at_its_end = miss.is_some_and(|miss| candidate.is_at_its_end(miss));
            let unbendable = candidate.start.reps > 35.0 || candidate.start.reps < 4.0;
            assert!(!at_its_end || unbendable, "{id}: {} of {:?}", candidate.start.reps, intent.dose.reps);
        }
    }
    assert!(carried > 4, "{carried} of the jobs are no test");
    println!("{carried} carried, {bent} bent");
}

/// What is said of a dose that was bent is true of the ladder: that nothing is heavier or lighter only at its end, and that the test set
/// leads on from beyond the zone that is asked now. Sets of a few repetitions are asked only where the step below lasts too long. All jobs in
/// three rooms, for people who are not alike.
#[rstest]
fn what_is_said_of_a_bent_dose_is_so(
    #[values(BANDS, GYM, SPARSE)] room: &str,
    #[values(48.0, 95.0)] body_mass: f64,
    #[values([4, 6], [8, 12], [10, 15])] reps: [u16; 2],
) {
    let (mut person, kit) = (person(), kit(room));
    person.body_mass_kg = Kilograms(body_mass);
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &kit), &[], None);
    let (mut all, mut long, mut lower) = (0, 0, 0);
    for intent in jobs(reps) {
        for candidate in fitter.fit(&intent.counted()).candidates {
            if candidate.start.misses(reps).is_none() {
                continue;
            }
            let Some((then, candidate)) = bent(&intent, candidate) else { continue };
            let zone = then.dose.reps;
            assert_bent(&candidate, zone, reps, 35.0);
            // What tires it may take it down its ladder: what was said is true of where it is then.
            let work = [Worked { movement: candidate.movement, sets: 6 }];
            let tired = candidate.clone().after(&work, false);
            assert_bent(&tired, zone, reps, 30.0);
            lower += usize::from(tired.start.step < candidate.start.step);
            all += 1;
            long += usize::from(zone[1] > reps[1]);
        }
    }
    assert!(all > 10 && long > 0 && lower > 0, "{all} bent, {long} of them long, {lower} lower when tired");
}

/// What is told of a dose that was bent to a zone, of another, is so on the step that it stands on; the one below lasts longer than so many
/// repetitions where it is called too light.
fn assert_bent(candidate: &Candidate<'_>, zone: [u16; 2], asked: [u16; 2], long: f64) {
    let id = &candidate.movement.id;
    let told: Vec<String> = candidate.reasons.iter().map(ToString::to_string).collect();
    let why = told.iter().find_map(|r| r.strip_suffix(&format!(": {} to {} reps instead", zone[0], zone[1])));
    let (light, down) = (zone[1] > asked[1], candidate.is_at_its_end(Miss::TooHeavy));
    let expected = match light {
        true if candidate.is_at_its_end(Miss::TooLight) => "nothing heavier here",
        true => "the next step would be too heavy to begin with",
        false if down => "nothing lighter here",
        false => "the next step down is too light",
    };
    assert_eq!(why, Some(expected), "{id}: {told:?}");
    if !light && !down {
        let below = &candidate.ladder.steps[candidate.start.step - 1];
        let lasts = candidate.start.reps_on(below.effective_kg.value());
        assert!(lasts > long, "{id}: {lasts} on {} for {zone:?}", below.label);
    }
    if let Some(test) = told.iter().find(|r| r.contains(" clean reps")) {
        assert!(test.contains(&format!("over {} clean reps", zone[1] + 4)), "{id}: {test} for {zone:?}");
    }
}

/// What age has to say of a bench is said of the step where a movement begins after others, not of the one where it would begin fresh; and
/// what it is then warned of may be something else. All jobs in two rooms, in three zones.
#[test]
fn what_is_said_after_others_is_of_the_step_where_it_begins() {
    let mut person = person();
    person.age_years = Some(66);
    let of_age = |c: &Candidate<'_>| c.reasons.iter().find(|r| matches!(r, Reason::Age(_))).map(ToString::to_string);
    let (mut moved, mut aged, mut warned) = (0, 0, 0);
    for (room, reps) in [GYM, SPARSE].into_iter().flat_map(|room| [[4, 6], [8, 12], [10, 15]].map(|reps| (room, reps)))
    {
        let kit = kit(room);
        let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &kit), &[], None);
        let warnings = |c: &Candidate<'_>| cautions(&CATALOGUE, c.movement, c.step(), &kit);
        for intent in jobs(reps) {
            for fresh in fitter.fit(&intent).candidates {
                let tired = fresh.clone().after(&[Worked { movement: fresh.movement, sets: 6 }], false);
                let there = fitter.on_step(tired.movement, tired.step(), &intent, &[]).unwrap();
                assert_eq!(of_age(&tired), of_age(&there), "{}: {}", tired.movement.id, tired.step().label);
                moved += usize::from(tired.start.step != fresh.start.step);
                aged += usize::from(of_age(&tired).is_some());
                warned += usize::from(warnings(&tired) != warnings(&fresh));
            }
        }
    }
    assert!(moved > 20 && aged > 40 && warned > 3, "{moved} moved, {aged} by age, {warned} warned of something else");
}

#[test]
fn what_goes_on_goes_on_where_it_suits_the_dose_and_a_pin_in_any_case() {
    let (person, kit) = (person(), kit(GYM));
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &kit), &[], None);
    let jobs = jobs([8, 12]);
    let press = jobs.iter().find(|i| i.pattern == bavrek_core::anatomy::Pattern::HorizontalPress).unwrap();
    let best = fitter.carried(press, &Known::default(), &[]).unwrap().candidate.movement.id.clone();
    let known = |pinned| Known { today: Some(("dumbbell_floor_press", pinned)), before: None };
    let pinned = fitter.carried(press, &known(true), &[]).unwrap();
    assert_eq!((pinned.because, pinned.candidate.movement.id.as_str()), (Because::Pinned, "dumbbell_floor_press"));
    let same = Known { today: Some((best.as_str(), false)), before: None };
    let goes_on = fitter.carried(press, &same, &[]).unwrap();
    assert_eq!((goes_on.because, &goes_on.candidate.movement.id), (Because::Same, &best));
}
