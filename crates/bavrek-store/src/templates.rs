//! Templates of a trainer.

use bavrek_core::template::Template;
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId, document};

/// Most that one trainer keeps: a list that nobody reads to its end.
pub const MOST: i64 = 500;

/// A template on record.
#[derive(Debug, Clone, PartialEq)]
pub struct Kept {
    /// Identifier.
    pub id: Uuid,
    /// The template.
    pub template: Template,
    /// Whether it was put away.
    pub archived: bool,
}

/// Keeps a template. Sent twice it is kept once. `Conflict` where there are [`MOST`] already.
pub async fn keep(pool: &Pool, trainer: TrainerId, id: Uuid, template: &Template) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "insert into templates (trainer_id, id, name, template)
         select $1, $2, $3, $4 where (select count(*) from templates where trainer_id = $1) < $5
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        id,
        template.name.trim(),
        serde_json::to_value(template)?,
        MOST
    );
    if done.execute(pool).await?.rows_affected() == 0 {
        return one(pool, trainer, id).await.map(|_| ()).map_err(|_| StoreError::Conflict);
    }
    Ok(())
}

/// A template. `NotFound` where it is not this trainer's.
pub async fn one(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<Kept, StoreError> {
    let row = sqlx::query!(
        r#"select template, archived_at is not null as "archived!" from templates where trainer_id = $1 and id = $2"#,
        trainer.0,
        id
    );
    let row = row.fetch_one(pool).await?;
    Ok(Kept { id, template: document::read(row.template, "templates.template", id)?, archived: row.archived })
}

/// All of a trainer, the latest first.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<Kept>, StoreError> {
    let rows = sqlx::query!(
        r#"select id, template, archived_at is not null as "archived!" from templates
           where trainer_id = $1 order by archived_at is not null, made_at desc, id desc"#,
        trainer.0
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    rows.map(|row| {
        Ok(Kept {
            id: row.id,
            template: document::read(row.template, "templates.template", row.id)?,
            archived: row.archived,
        })
    })
    .collect()
}

/// Puts a template away, or brings it back.
pub async fn set_archived(pool: &Pool, trainer: TrainerId, id: Uuid, archived: bool) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update templates set archived_at = case when $3 then coalesce(archived_at, now()) end
         where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        archived
    );
    if done.execute(pool).await?.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}
