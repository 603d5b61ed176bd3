//! Joints that hurt: read from the log and from swaps on the spot, remembered until they are settled or long past.

use bavrek_core::anatomy::Joint;
use bavrek_core::log::PAIN_THAT_STOPS;
use bavrek_core::person::Side;
use bavrek_core::spot::Pain;
use chrono::{Days, NaiveDate};
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document::word;
use crate::{Pool, StoreError, TrainerId};

/// Days for which pain is remembered without being settled: four weeks. Assumed.
const REMEMBERED_DAYS: u64 = 28;

/// What hurt a client by 4 of 10 or more in the last four weeks and was not settled since, the latest first. A set that was
/// corrected, and a swap that was taken back, count as they stand now.
pub async fn of_client(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client: Uuid,
    today: NaiveDate,
) -> Result<Vec<Pain>, StoreError> {
    let since = today.checked_sub_days(Days::new(REMEMBERED_DAYS)).unwrap_or(today);
    let rows = sqlx::query!(
        r#"select felt_on as "felt_on!", exercise as "exercise!", joint, side, strength from (
             select l.performed_on as felt_on, l.logged_at as told_at, l.exercise, l.entry->>'pain_at' as joint,
                    l.entry->>'pain_side' as side, (l.entry->>'pain')::smallint as strength
             from sets_in_force l
             where l.trainer_id = $1 and l.client_id = $2 and l.performed_on between $3 and $4
               and (l.entry->>'pain')::smallint >= $5
             union all
             select w.swapped_on, w.swapped_at, w.instead_of, w.trouble->>'joint', w.trouble->>'side',
                    (w.trouble->>'pain')::smallint
             from spot_swaps w
             join slots s on s.trainer_id = w.trainer_id and s.id = w.slot_id
             join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
             join sessions x on x.trainer_id = b.trainer_id and x.id = b.session_id
             where w.trainer_id = $1 and x.client_id = $2 and w.swapped_on between $3 and $4
               and w.taken_back_at is null and w.trouble->>'joint' is not null) told
           where not exists (
             select 1 from pain_settled p
             where p.trainer_id = $1 and p.client_id = $2 and p.joint is not distinct from told.joint
               and p.settled_at >= told.told_at)
           order by felt_on desc, told_at desc"#,
        trainer.0,
        client,
        since,
        today,
        i16::from(PAIN_THAT_STOPS)
    )
    .fetch_all(db)
    .await?;
    rows.into_iter()
        .map(|row| {
            Ok(Pain {
                on: row.felt_on,
                exercise: row.exercise,
                joint: row.joint.as_deref().map(|j| word(j, Joint::from_id)).transpose()?,
                side: row.side.as_deref().map(|s| word(s, Side::from_id)).transpose()?,
                strength: row.strength.and_then(|s| u8::try_from(s).ok()),
            })
        })
        .collect()
}

/// Declares what was told of a joint so far as settled; of pain whose place was not told without one. The same identifier
/// twice is stored once.
pub async fn settle(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    id: Uuid,
    joint: Option<Joint>,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into pain_settled (trainer_id, id, client_id, joint) values ($1, $2, $3, $4)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        id,
        client,
        joint.map(Joint::id)
    )
    .execute(pool)
    .await?;
    Ok(())
}
