//! How long a proposed week takes: four days in two rooms, some thirty lines.

use bavrek_core::aims::{Aim, Aims, RegionAim};
use bavrek_core::anatomy::Region;
use bavrek_core::fit::Room;
use bavrek_core::kit::full_room;
use bavrek_core::method::Method;
use bavrek_core::person::Person;
use bavrek_core::week::{Day, Lately, WeekQuestion, Wish, choices, propose};
use criterion::{Criterion, criterion_group, criterion_main};

fn weeks(c: &mut Criterion) {
    let catalogue = bavrek_catalogue::load().expect("the catalogue");
    let intake = bavrek_catalogue::intake().expect("the intake");
    let (person, gym) = (Person::default_figure(), full_room());
    let home: Vec<_> = gym.iter().take(6).cloned().collect();
    let rooms = [Room::plain(&person, &home), Room::plain(&person, &gym)];
    let day = |room, weekday| Day { room, minutes: 60, weekday: Some(weekday) };
    let days = [day(0, 1), day(1, 2), day(0, 4), day(1, 6)];
    let grow = [Region::ChestSternal, Region::Lats, Region::DeltSide, Region::BicepsLong];
    let aims = Aims { goal: None, regions: grow.map(|r| (r, RegionAim { aim: Aim::Grow, sets: None })).into() };
    let school = intake.schools.iter().find(|s| s.id == Method::ReserveBased).expect("the school");
    let question = WeekQuestion {
        rooms: &rooms,
        days: &days,
        aims: &aims,
        volumes: &intake.volumes,
        school,
        history: &[],
        today: None,
        lately: Lately::default(),
        wish: Wish::Balanced,
        pins: &[],
    };
    c.bench_function("what could be done in two rooms", |b| {
        b.iter(|| choices(&catalogue, &question).expect("a pool").len());
    });
    let mut group = c.benchmark_group("week");
    group.sample_size(10);
    group.bench_function("four days", |b| b.iter(|| propose(&catalogue, &question).expect("a week").objective));
    group.finish();
}

criterion_group!(benches, weeks);
criterion_main!(benches);
