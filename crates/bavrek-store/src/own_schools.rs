//! Schools of a trainer's own, version by version: what was once saved is never changed.

use bavrek_core::school::School;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId, document};

/// A version of a trainer's own school.
#[derive(Debug, Clone, PartialEq)]
pub struct OwnSchool {
    /// Which, and in which version.
    pub which: Follows,
    /// Its name.
    pub name: String,
    /// Its rules; the identifier is that of the school it was copied from.
    pub school: School,
    /// Whether it is no longer offered.
    pub archived: bool,
}

/// A school of a trainer's own in a version, as a session follows it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Follows {
    /// The school.
    pub id: Uuid,
    /// Its version, from 1.
    pub version: i32,
}

impl Follows {
    /// Both columns as one, where both are there.
    pub(crate) fn of(id: Option<Uuid>, version: Option<i32>) -> Option<Self> {
        id.zip(version).map(|(id, version)| Self { id, version })
    }
}

/// The latest version of each of a trainer's schools, by name; those that are put away last.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<OwnSchool>, StoreError> {
    let rows = sqlx::query!(
        "select * from (
           select distinct on (id) id, version, name, school, archived from own_schools
           where trainer_id = $1 order by id, version desc) latest
         order by archived, lower(name), id",
        trainer.0
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|row| {
            let which = Follows { id: row.id, version: row.version };
            let school = document::read(row.school, "own_schools.school", row.id)?;
            Ok(OwnSchool { which, name: row.name, school, archived: row.archived })
        })
        .collect()
}

/// One version. `NotFound` where it is not this trainer's.
pub async fn one(pool: &Pool, trainer: TrainerId, which: Follows) -> Result<OwnSchool, StoreError> {
    let row = sqlx::query!(
        "select name, school, archived from own_schools where trainer_id = $1 and id = $2 and version = $3",
        trainer.0,
        which.id,
        which.version
    )
    .fetch_one(pool)
    .await?;
    let school = document::read(row.school, "own_schools.school", which.id)?;
    Ok(OwnSchool { which, name: row.name, school, archived: row.archived })
}

/// Saves a version. Sent twice it is stored once; `Conflict` where that version is something else already.
pub async fn save(pool: &Pool, trainer: TrainerId, own: &OwnSchool) -> Result<(), StoreError> {
    let school = serde_json::to_value(&own.school)?;
    let done = sqlx::query!(
        "insert into own_schools (trainer_id, id, version, name, school, archived) values ($1, $2, $3, $4, $5, $6)
         on conflict (trainer_id, id, version) do nothing",
        trainer.0,
        own.which.id,
        own.which.version,
        own.name,
        school,
        own.archived
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 || one(pool, trainer, own.which).await? == *own {
        return Ok(());
    }
    Err(StoreError::Conflict)
}
