//! Across clients: logs are read beside the pages, pooled for their trainer alone, and lean the order of fits where that is wanted.

use bavrek_core::across::{Outcome, TrackRecord};
use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Experience;
use bavrek_core::units::{Kilograms, MassUnit, Metres};
use bavrek_store::clients::Client;
use bavrek_store::log::{self, Source, ToldSet};
use bavrek_store::{Pool, TrainerId, clients, lessons, new_id, trainers};
use chrono::Days;
use reqwest::StatusCode;
use uuid::Uuid;

use crate::common::{app_at, desk, now, world};

/// A client with seven weeks of a curl behind: so many repetitions on each of eighteen days.
async fn curls(pool: &Pool, trainer: TrainerId, (name, exercise): (&str, &str), reps: impl Fn(u16) -> u16) -> Uuid {
    let client = Client::new(name, Kilograms(75.0), Metres(1.75), Experience::Intermediate);
    let client = clients::add(pool, trainer, &client, now().date_naive()).await.unwrap();
    for i in 0..18 {
        let on = now().date_naive().checked_sub_days(Days::new(3 * u64::from(18 - i))).unwrap();
        for _ in 0..2 {
            let load = StampedLoad { value: 10.0, unit: MassUnit::Kg, per: PerHand::Hand };
            let mut set = LoggedSet { load: Some(load), ..LoggedSet::of(exercise, on) };
            (set.reps, set.rir) = (Some(reps(i)), Some(1));
            let told = ToldSet {
                id: new_id(),
                client_id: client,
                source: Source::Told,
                set: &set,
                effective: Kilograms(10.0),
            };
            log::append_told(pool, trainer, &told).await.unwrap();
        }
    }
    client
}

async fn learn(pool: &Pool) {
    bavrek_web::learn(&app_at(pool.clone(), now())).await.unwrap();
}

async fn record(pool: &Pool, trainer: TrainerId) -> TrackRecord {
    trainers::judging(pool, trainer).await.unwrap().record
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn logs_are_read_pooled_and_shown_to_their_trainer(pool: Pool) {
    let (mine, visitor) = desk(&pool).await;
    let other = world(&pool, "b@bavrek.example").await;
    let empty = visitor.get("/across").await;
    assert_eq!(empty.status, StatusCode::OK);
    assert!(empty.text.contains("0 of 1 client") && empty.text.contains("Nothing can be said yet"), "{}", empty.text);

    for name in ["Ada Reed", "Bo Fern", "Cy Moss", "Di Sedge"] {
        curls(&pool, mine.trainer, (name, "dumbbell_curl"), |i| 8 + i / 2).await;
    }
    let still = curls(&pool, mine.trainer, ("Eve Rush", "hammer_curl"), |_| 10).await;
    curls(&pool, other.trainer, ("Not Mine", "push_up"), |_| 10).await;
    learn(&pool).await;

    let page = visitor.get("/across").await;
    assert!(page.text.contains("the last year of 6 of 6 clients, the oldest read today"), "{}", page.text);
    assert!(page.text.contains("Standing dumbbell curl") && page.text.contains("4 of 4 kept or gained"));
    assert!(
        page.text.contains(&format!("<a href=\"/clients/{still}/review\">Eve Rush</a>")),
        "who stands still is named"
    );
    assert!(!page.text.contains("Not Mine"), "another trainer's clients are nobody's business");
    let kept = record(&pool, mine.trainer).await.went("dumbbell_curl").unwrap();
    assert_eq!((kept.kept, kept.known()), (4, 4));
    assert!(record(&pool, other.trainer).await.went("dumbbell_curl").is_none());

    // Read again on the same day only what was never read.
    assert_eq!(lessons::due(&pool, now().date_naive(), 50).await.unwrap(), []);
    let new = curls(&pool, mine.trainer, ("Fay Holt", "dumbbell_curl"), |i| 8 + i / 2).await;
    assert_eq!(lessons::due(&pool, now().date_naive(), 50).await.unwrap(), [(mine.trainer, new)]);
    // A week later everybody: standing still is a matter of time.
    let later = now().date_naive().checked_add_days(Days::new(8)).unwrap();
    assert_eq!(lessons::due(&pool, later, 50).await.unwrap().len(), 9);

    // Who is erased leaves nothing behind in what is pooled either.
    learn(&pool).await;
    assert_eq!(record(&pool, mine.trainer).await.went("dumbbell_curl").unwrap().kept, 5);
    let erased = visitor.post(&format!("/clients/{new}/data/erase"), &[("erase_name", "Fay Holt")]).await;
    assert_eq!(erased.status, StatusCode::OK, "{}", erased.text);
    assert_eq!(record(&pool, mine.trainer).await.went("dumbbell_curl").unwrap().kept, 4);
    let told = lessons::of_trainer(&pool, mine.trainer).await.unwrap();
    assert_eq!(told.len(), 6);
    assert_eq!(told.iter().filter(|c| c.told.outcomes.get("hammer_curl") == Some(&Outcome::Still)).count(), 1);

    // Who was put away is neither counted nor named.
    clients::set_archived(&pool, mine.trainer, still, true).await.unwrap();
    let page = visitor.get("/across").await;
    assert!(page.text.contains("the last year of 5 of 5 clients") && !page.text.contains("Eve Rush"), "{}", page.text);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn it_counts_on_the_bench_until_it_is_switched_off(pool: Pool) {
    let (mine, visitor) = desk(&pool).await;
    for name in ["Ada Reed", "Bo Fern", "Cy Moss", "Di Sedge", "Ed Flax"] {
        curls(&pool, mine.trainer, (name, "dumbbell_curl"), |i| 22 - i).await;
    }
    learn(&pool).await;
    let bench = format!("/slots/{}/bench?pick=dumbbell_curl", mine.slot);
    let says = "kept or raised strength in 0 of 5 of your clients, lost strength in 5: that counts";
    let page = visitor.get(&bench).await;
    assert!(page.status == StatusCode::OK && page.text.contains(says), "{}", page.text);

    let wrong = visitor.post("/across/heed", &[("heeded", "maybe")]).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    let off = visitor.post("/across/heed", &[("heeded", "no")]).await;
    assert_eq!((off.status, off.address.as_str()), (StatusCode::OK, "/across"));
    assert!(off.text.contains("value=\"no\" checked"));
    let page = visitor.get(&bench).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("of your clients"));
    visitor.post("/across/heed", &[("heeded", "yes")]).await;
    assert!(visitor.get(&bench).await.text.contains(says));
}

/// What cannot be read is put off, keeps what it said before, and keeps nobody else waiting.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_log_that_cannot_be_read_keeps_nobody_waiting(pool: Pool) {
    let (mine, other) = (world(&pool, "a@bavrek.example").await, world(&pool, "b@bavrek.example").await);
    let broken = curls(&pool, mine.trainer, ("Ada Reed", "dumbbell_curl"), |i| 8 + i / 2).await;
    learn(&pool).await;
    sqlx::query("insert into limits (trainer_id, id, client_id, rule, since) values ($1, $2, $3, '{}', '2026-03-01')")
        .bind(mine.trainer.0)
        .bind(new_id())
        .bind(broken)
        .execute(&pool)
        .await
        .unwrap();
    for (trainer, name) in [(mine.trainer, "Bo Fern"), (other.trainer, "Cy Moss")] {
        curls(&pool, trainer, (name, "dumbbell_curl"), |i| 8 + i / 2).await;
    }
    let later = now() + chrono::Duration::days(8);
    bavrek_web::learn(&app_at(pool.clone(), later)).await.unwrap();
    assert_eq!(record(&pool, mine.trainer).await.went("dumbbell_curl").unwrap().kept, 2, "its earlier word stands");
    assert_eq!(record(&pool, other.trainer).await.went("dumbbell_curl").unwrap().kept, 1);
    assert_eq!(lessons::due(&pool, later.date_naive(), 50).await.unwrap(), [], "it is not tried again today");
    let tomorrow = later.date_naive() + chrono::Duration::days(1);
    assert_eq!(lessons::due(&pool, tomorrow, 50).await.unwrap(), [(mine.trainer, broken)]);
}
