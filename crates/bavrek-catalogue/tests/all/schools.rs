//! Every school: its doses, its order and pairs, and what is eased for whom.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use bavrek_catalogue::{intake, load, schools, schools_from};
use bavrek_core::aims::{Aim, Aims, RegionAim};
use bavrek_core::anatomy::{Pattern, Region};
use bavrek_core::arrangement::Arrangement;
use bavrek_core::dose::{Prescription, SetKind, Tempo};
use bavrek_core::method::Method;
use bavrek_core::person::Experience;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::school::{Asked, Emphasis, Laid, School, taken_over};
use bavrek_core::volume::Volume;
use rstest::rstest;

static SCHOOLS: LazyLock<Vec<School>> = LazyLock::new(|| schools().unwrap());

fn school(id: Method) -> &'static School {
    SCHOOLS.iter().find(|s| s.id == id).unwrap()
}

const PRESS: Asked = Asked {
    pattern: Pattern::HorizontalPress,
    aim: Aim::Grow,
    experience: Experience::Advanced,
    emphasis: Emphasis::Size,
};
const CURL: Asked = Asked { pattern: Pattern::ElbowFlexion, ..PRESS };

#[rstest]
#[case::reserve(Method::ReserveBased, PRESS, "3 × 6–10 @ 2-0-1-0, 2 in reserve, rest 120 s")]
#[case::heavy(Method::HeavyCompound, PRESS, "4 × 4–6 @ 2-0-X-0, 2 in reserve, last 1 in reserve, rest 150 s")]
#[case::pairs(Method::AntagonistPairs, CURL, "3 × 10–14 @ 2-0-1-0, 2 in reserve, last 1 in reserve, rest 60 s")]
#[case::sweep(Method::RegionSweep, CURL, "2 × 10–15 @ 3-0-1-0, 1 in reserve, rest 75 s")]
fn straight_schools_write_their_line(#[case] method: Method, #[case] asked: Asked, #[case] line: &str) {
    let dosed = school(method).dose(&asked);
    let text = dosed.dose.text();
    // The last set's own reserve is written where the notation has words for it.
    let [count, rest] = [line.split(',').next().unwrap(), line.rsplit(", ").next().unwrap()];
    assert!(text.starts_with(count) && text.ends_with(rest), "{text}");
    assert_eq!(dosed.why, Vec::<String>::new());
}

#[test]
fn the_lowering_slows_while_the_repetitions_fall() {
    for asked in [PRESS, CURL] {
        let sets = school(Method::SlowTempo).dose(&asked).dose.sets;
        assert!(sets.windows(2).all(|w| w[0].tempo.lowering < w[1].tempo.lowering && w[0].reps > w[1].reps));
        assert!(sets.iter().all(|s| (45..=75).contains(&s.rest_s)), "{sets:?}");
    }
}

#[test]
fn many_few_few_more_and_none_shorter_than_the_floor() {
    let school = school(Method::HighRepBand);
    let floor = school.id.least_seconds_under_load().unwrap().value();
    for asked in [PRESS, CURL] {
        let sets = school.dose(&asked).dose.sets;
        let most: Vec<u16> = sets.iter().map(|s| s.reps.unwrap()[1]).collect();
        let [many, few, again, more] = most[..] else { panic!("{most:?}") };
        assert!(many > more && more > few && few == again);
        assert!(sets.iter().all(|s| s.expected_seconds().value() >= floor), "{sets:?}");
    }
    // The floor belongs to this school alone.
    assert_eq!(SCHOOLS.iter().filter(|s| s.id.least_seconds_under_load().is_some()).count(), 1);
}

#[test]
fn a_set_past_failure_goes_on_at_once_and_is_eased_for_who_is_not_there_yet() {
    let school = school(Method::PastFailure);
    let sets = school.dose(&PRESS).dose.sets;
    let kinds: Vec<SetKind> = sets.iter().map(|s| s.kind).collect();
    assert_eq!(kinds, [SetKind::Straight, SetKind::Extension, SetKind::Straight, SetKind::Extension]);
    assert!(sets[0].rest_s <= 15 && sets[0].rir == Some(0) && sets[1].rest_s >= 120);
    let eased = school.dose(&Asked { experience: Experience::Intermediate, ..PRESS });
    assert!(eased.dose.sets.iter().all(|s| s.kind == SetKind::Straight && s.rir >= Some(1) && s.rest_s >= 150));
    assert!(eased.why.iter().any(|w| w.contains("made for the advanced")), "{:?}", eased.why);
}

/// All schools, for all patterns, aims and ends.
#[test]
fn a_novice_never_goes_near_failure_and_every_dose_is_legal() {
    let mut asked = 0;
    for school in SCHOOLS.iter() {
        for pattern in Pattern::ALL {
            for aim in Aim::ALL {
                for experience in Experience::ALL {
                    for emphasis in Emphasis::ALL {
                        let (pattern, aim) = (*pattern, *aim);
                        let of = Asked { pattern, aim, experience: *experience, emphasis: *emphasis };
                        let dosed = school.dose(&of);
                        dosed.dose.validate().unwrap_or_else(|e| panic!("{} {of:?}: {e}", school.id));
                        let novice = *experience == Experience::Novice;
                        assert!(!novice || dosed.dose.sets.iter().all(|s| s.rir.is_none_or(|r| r >= 2)), "{of:?}");
                        let extends = dosed.dose.sets.iter().any(|s| s.kind == SetKind::Extension);
                        assert!(!extends || *experience >= school.least_experience, "{of:?}");
                        asked += 1;
                    }
                }
            }
        }
    }
    assert_eq!(asked, 9 * Pattern::ALL.len() * 27);
}

#[rstest]
#[case::focus(Aim::Focus, 4, "one set more: the region is a focus")]
#[case::keep(Aim::Keep, 2, "one set fewer: the region is only kept")]
fn the_aim_moves_the_number_of_sets(#[case] aim: Aim, #[case] sets: usize, #[case] why: &str) {
    let dosed = school(Method::ReserveBased).dose(&Asked { aim, ..PRESS });
    assert_eq!((dosed.dose.sets.len(), &dosed.why[..]), (sets, &[why.to_owned()][..]));
    // A ladder of sets is one thing.
    let ladder = school(Method::SlowTempo).dose(&Asked { aim, ..PRESS });
    assert_eq!((ladder.dose.sets.len(), ladder.why.len()), (3, 0));
}

#[test]
fn what_a_session_is_for_bends_the_doses() {
    let of = |emphasis| school(Method::ReserveBased).dose(&Asked { emphasis, ..PRESS }).dose.sets;
    let strong = of(Emphasis::Strength);
    assert!(strong.iter().all(|s| s.reps == Some([4, 6]) && s.rest_s == 150));
    let general = of(Emphasis::General);
    assert!(general.len() == 2 && general.iter().all(|s| s.rest_s == 75 && s.reps == Some([6, 10])));
    // Stations by the clock have no repetitions to bend.
    let timed = school(Method::TimedCircuit).dose(&Asked { emphasis: Emphasis::Strength, ..PRESS }).dose.sets;
    assert!(timed.iter().all(|s| s.kind == SetKind::Station && s.seconds == Some(40) && s.reps.is_none()));
}

fn laid(key: char, pattern: Pattern, region: Region, aim: Aim) -> Laid<char> {
    Laid { key, pattern, region, aim }
}

fn session() -> Vec<Laid<char>> {
    vec![
        laid('c', Pattern::ElbowFlexion, Region::BicepsLong, Aim::Focus),
        laid('p', Pattern::HorizontalPress, Region::ChestSternal, Aim::Grow),
        laid('f', Pattern::Fly, Region::ChestSternal, Aim::Keep),
        laid('r', Pattern::WideRow, Region::TrapsMiddle, Aim::Grow),
        laid('t', Pattern::ElbowExtension, Region::TricepsLong, Aim::Grow),
    ]
}

#[rstest]
#[case::heavy_first(Method::HeavyCompound, "p r c f t")]
#[case::lagging_first(Method::ReserveBased, "c p r t f")]
#[case::the_fly_tires_the_chest_and_is_sewn_to_the_press(Method::SlowTempo, "f+p r c t")]
#[case::press_and_row_by_turns(Method::AntagonistPairs, "p=r c=t f")]
#[case::one_circuit(Method::TimedCircuit, "p*r*c*f*t")]
fn a_school_lays_a_session_its_way(#[case] method: Method, #[case] expected: &str) {
    let laid: Arrangement<u8, char> = school(method).lay(&session());
    let joint = |kind| match kind {
        BlockKind::Superset => "+",
        BlockKind::Antagonist => "=",
        BlockKind::Circuit => "*",
        _ => "-",
    };
    let block = |b: &bavrek_core::arrangement::Joined<u8, char>| {
        b.keys.iter().map(char::to_string).collect::<Vec<_>>().join(joint(b.kind))
    };
    assert_eq!(laid.blocks.iter().map(block).collect::<Vec<_>>().join(" "), expected);
}

#[rstest]
#[case::one_is_missing("[[method]]", "")]
#[case::an_unknown_field("logic =", "magic = true\nlogic =")]
#[case::no_sets_at_all("rest_s = 120", "rest_s = 12000")]
fn a_file_that_does_not_read_is_refused(#[case] from: &str, #[case] to: &str) {
    let text = include_str!("../../data/methods.toml").replacen(from, to, 1);
    assert!(schools_from(("methods.toml", &text)).is_err());
}

/// What a week owes: only what is below the least of its aim, the most short first.
#[test]
fn the_most_short_region_is_owed_first() {
    let (catalogue, volumes) = (load().unwrap(), intake().unwrap().volumes);
    let mut aims = Aims::default();
    for (region, sets) in
        [(Region::Lats, [8.0, 12.0]), (Region::BicepsLong, [4.0, 8.0]), (Region::TricepsLong, [6.0, 9.0])]
    {
        aims.regions.insert(region, RegionAim { aim: Aim::Grow, sets: Some(sets) });
    }
    let mut week = Volume::default();
    let curl = catalogue.movement("dumbbell_curl").unwrap();
    week.plan(curl, &Prescription::straight(6, [8, 12], 2, Tempo::USUAL, 90));
    let owed = week.owed(&aims, &volumes, Experience::Novice);
    let asked: Vec<_> = owed.iter().filter(|o| aims.regions.contains_key(&o.region)).collect();
    let names: Vec<Region> = asked.iter().map(|o| o.region).collect();
    assert_eq!(names, [Region::Lats, Region::TricepsLong], "the curls gave the biceps its sets");
    assert_eq!((asked[0].sets, asked[0].asked), (week.of(Region::Lats).total(), [8.0, 12.0]));
    assert!(owed.windows(2).all(|w| w[0].asked[0] - w[0].sets >= w[1].asked[0] - w[1].sets));
}

#[rstest]
#[case::lats(Region::Lats, Pattern::CloseRow)]
#[case::upper_chest(Region::ChestClavicular, Pattern::InclinePress)]
#[case::side(Region::DeltSide, Pattern::SideRaise)]
#[case::biceps(Region::BicepsLong, Pattern::ElbowFlexion)]
#[case::triceps(Region::TricepsLong, Pattern::ElbowExtension)]
#[case::rear(Region::DeltRear, Pattern::RearFly)]
fn a_region_has_its_usual_pattern(#[case] region: Region, #[case] pattern: Pattern) {
    assert_eq!(load().unwrap().usual_pattern(region), Some(pattern));
}

/// Every region can be asked for by itself.
#[test]
fn no_region_is_without_a_pattern() {
    let catalogue = load().unwrap();
    assert!(Region::ALL.iter().all(|r| catalogue.usual_pattern(*r).is_some()));
}

/// The step for a dose is found by its first set.
#[rstest]
#[case::many_few_few_more(Method::HighRepBand, [18, 20])]
#[case::slower_and_fewer(Method::SlowTempo, [12, 15])]
// 40 s at four seconds each.
#[case::a_station(Method::TimedCircuit, [10, 10])]
// 4 at two seconds are as hard as 3.1, 3 at nine as 5.8; 16 s of a shoulder that could hold 33 are half of a set of 17.
#[case::mixed(Method::MixedContractions, [17, 17])]
fn a_dose_is_counted_by_its_first_set(#[case] method: Method, #[case] zone: [u16; 2]) {
    let intent = Intent::of(PRESS.pattern, BTreeMap::new());
    let dosed = intent.dosed(school(method).dose(&PRESS).dose);
    assert_eq!(dosed.counted().dose.reps, zone);
}

/// Whatever a school asks of whoever is advanced: a novice takes it over with a reserve that can be judged and without an
/// extension, everybody else as it is.
#[test]
fn what_a_novice_takes_over_is_eased_in_every_school() {
    let mut eased = 0;
    for school in SCHOOLS.iter() {
        for asked in [PRESS, CURL] {
            let dose = school.dose(&asked).dose;
            assert_eq!(taken_over(&dose, Experience::Intermediate), None);
            let taken = taken_over(&dose, Experience::Novice);
            eased += usize::from(taken.is_some());
            let taken = taken.unwrap_or(dose);
            assert!(!taken.sets.is_empty(), "{}", school.id);
            for set in &taken.sets {
                assert!(set.kind != SetKind::Extension && set.rir.is_none_or(|rir| rir >= 2), "{}: {set:?}", school.id);
            }
        }
    }
    assert!(eased >= 8, "{eased}");
}

#[test]
fn every_press_has_a_pull_that_works_against_it_and_nothing_else_has() {
    use bavrek_core::anatomy::Pattern;
    use bavrek_core::school::{mirror, work_against_each_other};
    let mut mirrored = 0;
    for pattern in Pattern::ALL {
        let press = pattern.id().ends_with("_press");
        assert_eq!(mirror(*pattern).is_some(), press, "{pattern}");
        if let Some((pull, region)) = mirror(*pattern) {
            assert!(work_against_each_other(*pattern, pull), "{pattern}: {pull}");
            let catalogue = bavrek_catalogue::load().unwrap();
            let does = catalogue.movements.iter().any(|m| m.pattern == pull && m.trains_directly(region));
            assert!(does, "nothing of {pull} trains the {region}");
            mirrored += 1;
        }
    }
    assert_eq!(mirrored, 4);
}
