//! Sets that change within themselves, sets on other steps, loads as a share of the maximum, over HTTP.

use crate::common::lines::{log_as_shown, logged, now_shows, take};
use crate::common::{desk, now, with};
use bavrek_core::log::LoggedSet;
use bavrek_store::{Pool, fits, log, new_id};
use reqwest::StatusCode;

/// The last set on another step is shown, logged and told as that, on the trainer's phone and on paper.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_on_another_step_is_asked_and_logged_on_it(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12, last a step up").await;
    let path = format!("/sessions/{}/train", world.session);
    let mut shown = Vec::new();
    for _ in 0..2 {
        let page = visitor.get(&path).await;
        shown.push(page.text.split("class=\"big").nth(1).unwrap().split(['>', '<']).nth(1).unwrap().trim().to_owned());
        assert_eq!(log_as_shown(&visitor, &world, &[("reps", "10"), ("rir", "2")]).await.status, StatusCode::OK);
    }
    let sets = logged(&pool, &world).await;
    let loads: Vec<String> = sets.iter().map(|set| set.load.unwrap().short()).collect();
    assert_eq!(loads, shown, "what is shown is what is stored");
    assert!(sets[1].effective_kg > sets[0].effective_kg, "{loads:?}");
    let paper = visitor.get(&format!("/sessions/{}/sheet", world.session)).await;
    now_shows(&paper, &format!(" on pair of {}", loads[1]));
}

/// Where there is no such step the set is done without it, and says so.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_step_that_is_not_there_is_told_and_done_without(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    // The lightest there is, and no weight below it.
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12, last 5 steps down").await;
    let path = format!("/sessions/{}/train", world.session);
    log_as_shown(&visitor, &world, &[("reps", "10"), ("rir", "2")]).await;
    now_shows(&visitor.get(&path).await, "no lighter step within reach here: no lighter than that");
    log_as_shown(&visitor, &world, &[("reps", "10"), ("rir", "2")]).await;
    let sets = logged(&pool, &world).await;
    assert!(sets[1].effective_kg <= sets[0].effective_kg);
}

/// Five with what was asked and seven with less are logged as one set, told so everywhere, and corrected without losing the change.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_changed_within_a_set_is_logged_told_and_corrected(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let path = format!("/sessions/{}/train", world.session);
    let typed = |after, to| [("reps", "12"), ("rir", "1"), ("changed_after", after), ("changed_to", to)];
    // The steps beside it are looked up where somebody asks.
    let plain = visitor.get(&path).await;
    assert!(plain.text.contains("Changed within the set") && !plain.text.contains("name=\"changed_to\""));
    let asked = visitor.get(&format!("{path}?change=true&slot={}", world.slot)).await;
    now_shows(&asked, "<option value=\"heavier\"");
    let refused = log_as_shown(&visitor, &world, &typed("twelve", "lighter")).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("Changed: must be after 1 to 11 of the 12 repetitions"), "{}", refused.text);
    assert!(refused.text.contains("value=\"twelve\""), "what was typed is kept");
    let page = log_as_shown(&visitor, &world, &typed("5", "heavier")).await;
    assert_eq!(page.status, StatusCode::OK);
    let set = logged(&pool, &world).await.remove(0);
    let changed = set.changed.as_deref().unwrap();
    let (from, to) = (set.load.unwrap().short(), changed.load.unwrap().short());
    assert!(changed.effective_kg > set.effective_kg.unwrap());
    now_shows(&page, &format!("{from} each hand × 5, then {to} each hand × 7, 1 in reserve"));
    // As a correction it is shown filled in; what it went on with stays, however many there were before it.
    let id = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap()[0].id.to_string();
    let page = visitor.get(&format!("{path}?correct={id}")).await;
    now_shows(&page, "as logged: ");
    let names = ["id", "slot", "shown", "turn", "supersedes"];
    let hidden: Vec<(&str, String)> = names.iter().map(|n| (*n, page.hidden(n))).collect();
    let hidden: Vec<(&str, &str)> = hidden.iter().map(|(n, v)| (*n, v.as_str())).collect();
    let page = visitor.post(&path, &with(&hidden, &typed("6", "logged"))).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    let corrected = logged(&pool, &world).await.remove(0);
    let again = corrected.changed.as_deref().unwrap();
    assert_eq!((again.after, again.load, again.effective_kg), (6, changed.load, changed.effective_kg));
    let call = visitor.get(&format!("/slots/{}/call", world.slot)).await;
    now_shows(&call, "6 + 6");
}

/// A share of the maximum is no word alone: saved, it moves the step of the fit in force to where it lies, and back.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_share_of_the_maximum_moves_the_step_it_is_asked_of(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "3 x 8-12").await;
    // Ten with two in reserve on the lightest weight: a maximum of about 1.4 of it.
    let fit = || async { fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap() };
    let own = fit().await;
    for day in [2, 5] {
        let date = now().date_naive() - chrono::Days::new(day);
        let set = LoggedSet {
            load: own.step.load,
            setup: Some(own.step.setup),
            effective_kg: Some(own.step.effective_kg),
            reps: Some(10),
            rir: Some(2),
            ..LoggedSet::of("dumbbell_curl", date)
        };
        let told = log::ToldSet::told(world.client, new_id(), &set, own.step.effective_kg);
        assert!(log::append_told(&pool, world.trainer, &told).await.unwrap());
    }
    let (path, slot) = (format!("/sessions/{}/board/dose", world.session), world.slot.to_string());
    let say = async |line: &str| {
        let seen = visitor.get(&format!("/sessions/{}", world.session)).await.hidden("seen");
        visitor.post(&path, &[("seen", seen.as_str()), ("slot", &slot), ("line", line)]).await
    };
    let (heavy, light) = ("3 x 1-3 at 100 %", "3 x 8-12 at 30 %");
    assert_eq!(say(heavy).await.status, StatusCode::OK);
    let there = fit().await;
    assert!(there.step.effective_kg > own.step.effective_kg, "{} {}", there.step.label, own.step.label);
    assert!(there.prescription.text().contains("at 100 % of the maximum"), "{}", there.prescription.text());
    assert_eq!(there.prescription.sets[0].load, there.step.load);
    // Nothing here is so light: the lightest stands in.
    assert_eq!(say(light).await.status, StatusCode::OK);
    assert_eq!(fit().await.step.effective_kg, own.step.effective_kg);
    let seen = visitor.get(&format!("/sessions/{}", world.session)).await.hidden("seen");
    let undone = visitor.post(&format!("/sessions/{}/board/undo", world.session), &[("seen", &*seen)]).await;
    assert_eq!(undone.status, StatusCode::OK);
    assert_eq!(fit().await.step, there.step, "undo takes the step back as well");
    let refused = say("3 x 5 at 130 %").await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("must be 30 to 100 % of the maximum") && refused.text.contains("130 %"));
    assert_eq!(fit().await.step, there.step);
}

/// A load that is compared with another movement is read by its name as people write it, moves the step where it is saved, and says what
/// it came to; a name that means nothing is refused with what was typed.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_load_follows_another_movement(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "3 x 8-12").await;
    let fit = || async { fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap() };
    let own = fit().await;
    let on = now().date_naive() - chrono::Days::new(2);
    let heavier = own.step.effective_kg * 1.3;
    for (exercise, kg) in [("dumbbell_curl", own.step.effective_kg), ("hammer_curl", heavier)] {
        let set = LoggedSet { effective_kg: Some(kg), reps: Some(10), rir: Some(3), ..LoggedSet::of(exercise, on) };
        let told = log::ToldSet::told(world.client, new_id(), &set, kg);
        assert!(log::append_told(&pool, world.trainer, &told).await.unwrap());
    }
    let (path, slot) = (format!("/sessions/{}/board/dose", world.session), world.slot.to_string());
    let say = async |line: &str| {
        let seen = visitor.get(&format!("/sessions/{}", world.session)).await.hidden("seen");
        visitor.post(&path, &[("seen", seen.as_str()), ("slot", &slot), ("line", line)]).await
    };
    let refused = say("3 x 8 at half of the usual").await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    now_shows(&refused, "3 x 8 at half of the usual");
    assert!(refused.text.contains("no movement that can be logged is called"), "{}", refused.text);
    assert_eq!(fit().await.step, own.step);
    assert_eq!(say("3 x 4-12 at the same as hammer curls").await.status, StatusCode::OK);
    let there = fit().await;
    assert!(
        there.prescription.text().contains("at 100 % of dumbbell curl neutral grip"),
        "{}",
        there.prescription.text()
    );
    assert!(there.step.effective_kg > own.step.effective_kg, "{} {}", there.step.label, own.step.label);
    assert!(there.step.effective_kg <= heavier * 1.03, "{}", there.step.label);
    // Where the line was written it is said what it came to, also where that is nothing.
    let board = visitor.get(&format!("/sessions/{}?pick={}", world.session, world.slot)).await;
    now_shows(&board, "that dumbbell curl, neutral grip was done with on");
    let unlike = say("3 x 8-12 at half of push-up").await;
    now_shows(&unlike, "one of the two lifts the body, the other what is held: the reps decide");
    let bench = visitor.get(&format!("/slots/{}/bench", world.slot)).await;
    now_shows(&bench, "one of the two lifts the body");
}
