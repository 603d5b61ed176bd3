//! Which workouts are near of whom who wants to be reminded of them.

use bavrek_core::reminding::Reminded;
use chrono::NaiveDate;
use uuid::Uuid;

use crate::document::word;
use crate::{Pool, StoreError, TrainerId};

/// A workout that comes.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Near {
    /// Whose client it is.
    pub trainer: TrainerId,
    /// The client.
    pub client: Uuid,
    /// What they are called.
    pub name: String,
    /// Their address.
    pub contact: String,
    /// Where their day is.
    pub time_zone: String,
    /// When they want to be reminded.
    pub reminded: Reminded,
    /// The workout.
    pub id: Uuid,
    /// Its session, and what that is called.
    pub session: (Uuid, String),
    /// Where it is done.
    pub place: String,
    /// How long it takes, min.
    pub minutes: u16,
    /// Its day.
    pub on: NaiveDate,
}

/// Workouts of all trainers' clients who want to be reminded and have an address, planned from one day to another. Who waits for a clearance is left
/// out: nothing calls them to train before it.
pub async fn near(pool: &Pool, [from, until]: [NaiveDate; 2]) -> Result<Vec<Near>, StoreError> {
    let rows = sqlx::query!(
        "select c.trainer_id, c.id as client_id, c.name, c.contact, c.time_zone, c.reminded, w.id, s.id as session_id,
                s.name as session, p.name as place, s.minutes, w.planned_on
         from clients c
         join trainers t on t.id = c.trainer_id and t.disabled_at is null
         join sessions s on s.trainer_id = c.trainer_id and s.client_id = c.id and s.removed_at is null
         join workouts w on w.trainer_id = s.trainer_id and w.session_id = s.id
         join places p on p.trainer_id = w.trainer_id and p.id = w.place_id
         left join lateral (
           select refers and not exists (select 1 from clearances g
                                         where g.trainer_id = h.trainer_id and g.screening_id = h.id) as stops
           from screenings h where h.trainer_id = c.trainer_id and h.client_id = c.id
           order by answered_on desc, recorded_at desc, id desc limit 1) health on true
         where c.reminded <> 'never' and c.contact <> '' and c.archived_at is null and w.state = 'planned' and not w.let_go
           and w.planned_on between $1 and $2 and not coalesce(health.stops, false)
         order by w.planned_on, w.id",
        from,
        until
    );
    let found = rows.fetch_all(pool).await?.into_iter().map(|row| {
        Ok(Near {
            trainer: TrainerId(row.trainer_id),
            client: row.client_id,
            name: row.name,
            contact: row.contact,
            time_zone: row.time_zone,
            reminded: word(&row.reminded, Reminded::from_id)?,
            id: row.id,
            session: (row.session_id, row.session),
            place: row.place,
            minutes: row.minutes.unsigned_abs(),
            on: row.planned_on,
        })
    });
    found.collect()
}

/// When a client wants to be reminded.
pub async fn of_client(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Reminded, StoreError> {
    let row = sqlx::query_scalar!("select reminded from clients where trainer_id = $1 and id = $2", trainer.0, client);
    word(&row.fetch_one(pool).await?, Reminded::from_id)
}

/// Says when a client wants to be reminded.
pub async fn set(pool: &Pool, trainer: TrainerId, client: Uuid, reminded: Reminded) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update clients set reminded = $3 where trainer_id = $1 and id = $2",
        trainer.0,
        client,
        reminded.id()
    );
    if done.execute(pool).await?.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}
