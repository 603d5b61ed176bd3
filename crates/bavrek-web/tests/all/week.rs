//! A client's week over HTTP: asked for, shown as it is kept, taken once, refused with what was typed.

use crate::common::{DESK, LIMIT, Page, Visitor, World, assert_refused, desk, now, start, with, world};
use bavrek_store::{Pool, fits, new_id, sessions, weeks};
use reqwest::StatusCode;
use uuid::Uuid;

/// Tuesday and Friday in the world's room.
async fn ask(visitor: &Visitor, world: &World, changed: &[(&str, &str)]) -> Page {
    let (place, id) = (world.place.to_string(), new_id().to_string());
    let usual = [
        ("id", id.as_str()),
        ("place_2", place.as_str()),
        ("minutes_2", "40"),
        ("place_5", place.as_str()),
        ("minutes_5", "25 min"),
        ("school", "reserve_based"),
        ("wish", "balanced"),
    ];
    visitor.post(&format!("/clients/{}/week", world.client), &with(&usual, changed)).await
}

/// The state of a week that nobody moved.
const SEEN: [(&str, &str); 1] = [("seen", "0")];

fn id_of(page: &Page) -> Uuid {
    page.address.rsplit('/').next().unwrap().parse().unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_week_is_proposed_shown_again_and_taken_once_as_it_was_shown(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let form = visitor.get(&format!("/clients/{}/week", world.client)).await;
    assert_eq!(form.status, StatusCode::OK);
    assert!(form.text.contains("Propose a week") && form.text.contains("Set the aims first"));
    let shown = ask(&visitor, &world, &[]).await;
    assert_eq!(shown.status, StatusCode::OK);
    assert!(shown.address.starts_with(&format!("/clients/{}/week/", world.client)), "{}", shown.address);
    let week = id_of(&shown);
    let kept = weeks::one(&pool, world.trainer, week).await.unwrap();
    assert!(!kept.taken);
    let draft = kept.draft;
    let minutes: Vec<(u8, u16)> = draft.asked.days.iter().map(|d| (d.weekday, d.minutes)).collect();
    assert_eq!(minutes, [(2, 40), (5, 25)]);
    for (day, asked) in draft.days.iter().zip(&draft.asked.days) {
        assert!(!day.blocks.is_empty() && day.seconds <= 60.0 * f64::from(asked.minutes));
    }
    // A page that is loaded again shows the same.
    let again = visitor.get(&shown.address).await;
    let first = &draft.days[0].blocks[0].1[0];
    for page in [&shown, &again] {
        let step = &first.done.as_ref().unwrap().step.label;
        assert!(page.text.contains(step), "{step}");
        assert!(page.text.contains("Take this week"));
    }
    let before = sessions_of(&pool, &world).await.len();
    for _ in 0..2 {
        let taken = visitor.post(&format!("{}/take", shown.address), &SEEN).await;
        assert_eq!((taken.status, taken.address), (StatusCode::OK, format!("/clients/{}", world.client)));
    }
    let made = sessions_of(&pool, &world).await;
    assert_eq!(made.len(), before + 2);
    // 10 March 2026 is a Tuesday.
    let today = now().date_naive();
    let on: Vec<i64> =
        made.iter().filter(|(_, n, ..)| n != "Session").map(|(.., on)| (*on - today).num_days()).collect();
    assert_eq!(on, [0, 3]);
    let (tuesday, ..) = made.iter().find(|(_, name, _)| name == "Tuesday, Room").unwrap();
    let blocks = sessions::blocks(&pool, world.trainer, *tuesday).await.unwrap();
    let lines: Vec<_> = draft.days[0].blocks.iter().flat_map(|(_, lines)| lines).collect();
    let slots: Vec<_> = blocks.iter().flat_map(|b| &b.slots).collect();
    assert_eq!(slots.len(), lines.len());
    for (slot, line) in slots.into_iter().zip(lines) {
        let fit = fits::of_slot(&pool, world.trainer, slot.id, world.place).await.unwrap().unwrap();
        let done = line.done.as_ref().unwrap();
        assert_eq!((&fit.exercise, &fit.step.label, &fit.prescription), (&done.exercise, &done.step.label, &line.dose));
        assert_eq!(slot.id, line.slot);
        assert_eq!(slot.intent, line.intent);
    }
    let after = visitor.get(&shown.address).await;
    assert!(after.text.contains("This week is taken") && !after.text.contains("Take this week"));
}

/// A client's sessions by identifier, name and next day, in the order of the days.
async fn sessions_of(pool: &Pool, world: &World) -> Vec<(Uuid, String, chrono::NaiveDate)> {
    sqlx::query_as(
        "select s.id, s.name, w.planned_on from sessions s
         join workouts w on w.trainer_id = s.trainer_id and w.session_id = s.id
         where s.trainer_id = $1 and s.client_id = $2 order by w.planned_on, s.name",
    )
    .bind(world.trainer.0)
    .bind(world.client)
    .fetch_all(pool)
    .await
    .unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn wrong_figures_stand_beside_their_day_and_are_kept(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let minutes = ask(&visitor, &world, &[("minutes_2", "three")]).await;
    assert_refused(&minutes, "Tuesday: ", "value=\"three\"");
    assert!(minutes.text.contains("value=\"25 min\""), "the other day stays as typed");
    let short = ask(&visitor, &world, &[("minutes_5", "5")]).await;
    assert_refused(&short, "Friday: must be between 10 and 240", "value=\"5\"");
    let none = ask(&visitor, &world, &[("place_2", ""), ("place_5", "")]).await;
    assert_refused(&none, "Days: choose a place for at least one day", "value=\"40\"");
    let strange = ask(&visitor, &world, &[("place_2", &new_id().to_string())]).await;
    assert_eq!(strange.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(strange.text.contains("Tuesday: "));
    let school = ask(&visitor, &world, &[("school", "no_such")]).await;
    assert_eq!(school.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(sessions_of(&pool, &world).await.len(), 1, "nothing was made");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_week_is_its_trainers_and_its_clients_alone(pool: Pool) {
    let (mine, theirs) = (world(&pool, DESK).await, world(&pool, "b@bavrek.example").await);
    let base = start(pool.clone()).await;
    let me = Visitor::signed_in(&base, DESK).await;
    let them = Visitor::signed_in(&base, "b@bavrek.example").await;
    let address = ask(&them, &theirs, &[]).await.address;
    assert_eq!(them.get(&address).await.status, StatusCode::OK);
    assert_eq!(me.get(&address).await.status, StatusCode::NOT_FOUND);
    assert_eq!(me.post(&format!("{address}/take"), &[]).await.status, StatusCode::NOT_FOUND);
    // Nor under a client of one's own.
    let week = address.rsplit('/').next().unwrap();
    let under = format!("/clients/{}/week/{week}", mine.client);
    assert_eq!(me.get(&under).await.status, StatusCode::NOT_FOUND);
    assert_eq!(me.post(&format!("{under}/take"), &[]).await.status, StatusCode::NOT_FOUND);
    assert_eq!(sessions_of(&pool, &theirs).await.len(), 1);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_asked_again_begins_from_the_last_and_a_shorter_week_is_shorter(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let plain = id_of(&ask(&visitor, &world, &[("school", "slow_tempo")]).await);
    let shorter = id_of(&ask(&visitor, &world, &[("school", "slow_tempo"), ("wish", "shorter")]).await);
    let seconds = async |week| {
        let days = weeks::one(&pool, world.trainer, week).await.unwrap().draft.days;
        days.iter().map(|d| d.seconds).sum::<f64>()
    };
    assert!(seconds(shorter).await < seconds(plain).await);
    let form = visitor.get(&format!("/clients/{}/week", world.client)).await;
    assert!(form.text.contains("<option value=\"slow_tempo\" selected>"));
    assert!(form.text.contains("<option value=\"shorter\" selected>"));
    assert!(form.text.contains("name=\"minutes_5\" value=\"25\""));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_was_planned_stays_unless_it_is_ticked_and_comes_back(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let shown = ask(&visitor, &world, &[]).await;
    let own = world.session.to_string();
    assert!(shown.text.contains(&format!("name=\"instead\" value=\"{own}\"")), "what is planned already is said");
    let taken = visitor.post(&format!("{}/take", shown.address), &with(&SEEN, &[("instead", &own)])).await;
    assert_eq!((taken.status, &taken.address), (StatusCode::OK, &shown.address));
    assert!(taken.text.contains("Session went out of the plan for this week"));
    let heads = async || sessions::of_client(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!((heads().await.len(), heads().await.iter().any(|s| s.id == world.session)), (2, false));
    assert_eq!(visitor.post(&format!("/sessions/{own}/restore"), &[]).await.status, StatusCode::OK);
    assert_eq!(heads().await.len(), 3);
    let back = visitor.get(&shown.address).await;
    assert!(back.status == StatusCode::OK && !back.text.contains("went out of the plan"));
    // A session of somebody else is not touched by its name.
    let theirs = crate::common::world(&pool, "b@bavrek.example").await;
    let again = ask(&visitor, &world, &[]).await;
    visitor.post(&format!("{}/take", again.address), &with(&SEEN, &[("instead", &theirs.session.to_string())])).await;
    assert_eq!(sessions::of_client(&pool, theirs.trainer, theirs.client).await.unwrap().len(), 1);
}

/// What changed while a proposal waited is said, and it is not taken as if nothing had.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_week_that_can_no_longer_be_done_is_not_taken(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let shown = ask(&visitor, &world, &[]).await;
    let take = format!("{}/take", shown.address);
    let refused = async |why: &str| {
        let page = visitor.get(&shown.address).await;
        assert!(page.status == StatusCode::OK && page.text.contains("something changed"), "{why}");
        assert!(page.text.contains(why), "{why} is not said");
        assert_eq!(visitor.post(&take, &[]).await.status, StatusCode::CONFLICT, "{why}");
        assert_eq!(sessions_of(&pool, &world).await.len(), 1, "{why}: sessions were made all the same");
    };
    // The dumbbells are gone.
    let draft = weeks::one(&pool, world.trainer, id_of(&shown)).await.unwrap().draft;
    let loaded = |l: &weeks::DraftLine| l.done.as_ref().is_some_and(|d| d.step.load.is_some());
    assert!(draft.lines().any(loaded), "the room's dumbbells are used");
    bavrek_store::kit::remove(&pool, world.trainer, world.place, world.dumbbells).await.unwrap();
    refused("dumbbell").await;
    bavrek_store::kit::restore(&pool, world.trainer, world.place, world.dumbbells).await.unwrap();
    let page = visitor.get(&shown.address).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("something changed"));
    // A limit has come up.
    let id = new_id().to_string();
    let elbow = with(&LIMIT, &[("id", &id), ("joint", "elbow"), ("what", "pain_loaded"), ("side", "both")]);
    let limited = visitor.post(&format!("/clients/{}/limits", world.client), &elbow).await;
    assert_eq!(limited.status, StatusCode::OK);
    refused("elbow").await;
}

/// A week on the page, with what stands of it.
struct Desktop<'v> {
    visitor: &'v Visitor,
    pool: Pool,
    world: World,
    address: String,
    week: Uuid,
}

impl Desktop<'_> {
    async fn kept(&self) -> weeks::Kept {
        weeks::one(&self.pool, self.world.trainer, self.week).await.unwrap()
    }

    async fn post(&self, way: &str, fields: &[(&str, &str)]) -> Page {
        let seen = self.kept().await.standing.seq.to_string();
        self.visitor.post(&format!("{}/{way}", self.address), &with(&[("seen", seen.as_str())], fields)).await
    }

    async fn act(&self, act: &str, line: Uuid) -> weeks::Draft {
        let done = self.post("move", &[("act", act), ("slot", &line.to_string())]).await;
        assert_eq!(done.status, StatusCode::OK, "{act}");
        self.kept().await.draft
    }
}

async fn desktop<'v>(pool: &Pool, world: World, visitor: &'v Visitor) -> Desktop<'v> {
    let shown = ask(visitor, &world, &[]).await;
    Desktop { visitor, pool: pool.clone(), world, week: id_of(&shown), address: shown.address }
}

/// The slots of a day, by block.
fn blocks(draft: &weeks::Draft, day: usize) -> Vec<Vec<Uuid>> {
    draft.days[day].blocks.iter().map(|(_, lines)| lines.iter().map(|l| l.slot).collect()).collect()
}

fn sets(draft: &weeks::Draft) -> f64 {
    draft.sets.iter().map(|s| s.direct + s.assisting).sum()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn lines_go_to_other_days_and_together_and_every_move_is_undone(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let desktop = desktop(&pool, world, &visitor).await;
    let first = desktop.kept().await.draft;
    let line = first.days[0].lines().next().unwrap().clone();
    assert!(!first.by_hand && first.days[0].lines().count() > 1);
    // To Friday: minutes move along, sets stay, nothing is proven any more.
    let moved = desktop.act("day-1", line.slot).await;
    assert_eq!(blocks(&moved, 1).last().unwrap(), &vec![line.slot]);
    assert!(
        moved.by_hand && moved.days[0].seconds < first.days[0].seconds && moved.days[1].seconds > first.days[1].seconds
    );
    assert!((sets(&moved) - sets(&first)).abs() < 1e-9);
    let page = visitor.get(&desktop.address).await;
    assert!(page.text.contains("Last change:") && page.text.contains("nothing is proven"), "{}", page.text);
    // Together with the one before it, and a set more.
    let joined = desktop.act("join", line.slot).await;
    let block = joined.days[1].blocks.last().unwrap();
    assert!(block.1.len() > 1 && block.1.iter().any(|l| l.slot == line.slot));
    let more = desktop.act("more", line.slot).await;
    let dose = |draft: &weeks::Draft| draft.lines().find(|l| l.slot == line.slot).unwrap().dose.sets.len();
    assert_eq!(dose(&more), dose(&joined) + 1);
    assert!(sets(&more) > sets(&joined));
    // A copy is a line of its own; taken out it is gone.
    let copied = desktop.act("copy-0", line.slot).await;
    let copy = blocks(&copied, 0).last().unwrap()[0];
    assert!(copy != line.slot && copied.lines().count() == more.lines().count() + 1);
    assert_eq!(desktop.act("out", copy).await.lines().count(), more.lines().count());
    // All of it undone, done again, and undone.
    for states in [["undo"; 5], ["redo"; 5], ["undo"; 5]] {
        for way in states {
            assert_eq!(desktop.post(way, &[]).await.status, StatusCode::OK, "{way}");
        }
    }
    assert_eq!(desktop.kept().await.draft, first);
    assert_eq!(desktop.post("undo", &[]).await.status, StatusCode::NOT_FOUND, "there is nothing before");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_move_against_another_state_is_refused_and_so_is_one_of_a_taken_week(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let desktop = desktop(&pool, world, &visitor).await;
    let line = desktop.kept().await.draft.lines().next().unwrap().slot.to_string();
    desktop.act("day-1", line.parse().unwrap()).await;
    let stale = [("seen", "0"), ("act", "out"), ("slot", line.as_str())];
    let refused = visitor.post(&format!("{}/move", desktop.address), &stale).await;
    assert_eq!(refused.status, StatusCode::CONFLICT);
    assert_eq!(visitor.post(&format!("{}/take", desktop.address), &SEEN).await.status, StatusCode::CONFLICT);
    let unknown = desktop.post("move", &[("act", "fly"), ("slot", &line)]).await;
    assert_eq!(unknown.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(desktop.post("take", &[]).await.status, StatusCode::OK);
    let after = desktop.post("move", &[("act", "out"), ("slot", &line)]).await;
    assert_eq!(after.status, StatusCode::CONFLICT, "what is taken is no draft any more");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn ten_minutes_less_stick_out_until_the_day_is_proposed_anew_around_its_pin(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let desktop = desktop(&pool, world, &visitor).await;
    let wrong = desktop.post("minutes", &[("day", "0"), ("minutes", "a while")]).await;
    assert_refused(&wrong, "Tuesday: ", "value=\"a while\"");
    let first = desktop.kept().await.draft;
    let pinned = first.days[0].lines().last().unwrap().slot;
    desktop.act("pin", pinned).await;
    let shorter = desktop.post("minutes", &[("day", "0"), ("minutes", "30")]).await;
    assert!(shorter.status == StatusCode::OK && shorter.text.contains("min over"), "a full day sticks out");
    let anew = desktop.post("anew", &[("day", "0")]).await;
    assert!(anew.status == StatusCode::OK && !anew.text.contains("min over"));
    let draft = desktop.kept().await.draft;
    assert!(draft.days[0].seconds <= 30.0 * 60.0);
    let stays = draft.days[0].lines().find(|l| l.slot == pinned).expect("the pinned line stays");
    assert_eq!((&stays.done, &stays.dose), (&first.lines().find(|l| l.slot == pinned).unwrap().done, &stays.dose));
    assert_eq!(draft.days[1], first.days[1], "the other day lies as it did");
    // The whole anew: the pin stays, and what is proposed is proven again.
    desktop.post("anew", &[]).await;
    let draft = desktop.kept().await.draft;
    assert!(!draft.by_hand && draft.objective <= draft.bound + 1e-6);
    assert!(draft.days[0].lines().any(|l| l.slot == pinned && l.pinned));
}

/// The sessions that stand are laid side by side: a line goes to another day with its history, and the rest is as it was.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_stands_is_moved_as_one_week_and_its_lines_go_on(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let desktop = desktop(&pool, world, &visitor).await;
    assert_eq!(desktop.post("take", &[]).await.status, StatusCode::OK);
    let (world, open) = (&desktop.world, format!("/clients/{}/week/open", desktop.world.client));
    let opened = visitor.post(&open, &[("id", &new_id().to_string())]).await;
    assert!(opened.status == StatusCode::OK && opened.text.contains("The week as it stands"), "{}", opened.text);
    let week = id_of(&opened);
    let kept = weeks::one(&pool, world.trainer, week).await.unwrap();
    let heads = sessions::of_client(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!(kept.draft.opened.len(), heads.len());
    let line = kept.draft.days.iter().find(|d| d.lines().count() > 2).unwrap().lines().next().unwrap().clone();
    let to = kept.draft.days.iter().position(|d| d.lines().all(|l| l.slot != line.slot)).unwrap();
    let fit = fits::of_slot(&pool, world.trainer, line.slot, world.place).await.unwrap().unwrap();
    let moved = [("seen", "0"), ("act", &format!("day-{to}")), ("slot", &line.slot.to_string())];
    assert_eq!(visitor.post(&format!("{}/move", opened.address), &moved).await.status, StatusCode::OK);
    let laid = visitor.post(&format!("{}/take", opened.address), &[("seen", "1")]).await;
    assert_eq!(laid.status, StatusCode::OK);
    let there = sessions::blocks(&pool, world.trainer, kept.draft.days[to].session).await.unwrap();
    assert!(there.iter().flat_map(|b| &b.slots).any(|s| s.id == line.slot), "it stands in the other session");
    let after = fits::of_slot(&pool, world.trainer, line.slot, world.place).await.unwrap().unwrap();
    assert_eq!(after.id, fit.id, "the fit in force is the one of before");
    assert_eq!(sessions::of_client(&pool, world.trainer, world.client).await.unwrap().len(), heads.len());
    // A session that was changed after it was opened is not laid over.
    let second = visitor.post(&open, &[("id", &new_id().to_string())]).await;
    let head = sessions::head(&pool, world.trainer, heads[0].id).await.unwrap();
    sessions::change(&pool, world.trainer, &sessions::SessionHead { name: "Renamed".to_owned(), ..head })
        .await
        .unwrap();
    assert_eq!(visitor.post(&format!("{}/take", second.address), &SEEN).await.status, StatusCode::CONFLICT);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_would_help_most_is_told_on_demand_and_changes_nothing(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let desktop = desktop(&pool, world, &visitor).await;
    let before = desktop.kept().await;
    assert!(!before.draft.unmet.is_empty(), "a room with dumbbells alone meets no week");
    let page = visitor.get(&format!("{}/helps", desktop.address)).await;
    assert!(page.status == StatusCode::OK && page.text.contains("more of the sets that are owed"), "{}", page.status);
    assert_eq!(desktop.kept().await, before);
}
