//! The swatches of a trial.

use std::collections::HashMap;

use plan::{CellNumber, Swatch};
use sqlx::SqliteConnection;
use study::{FilmKind, Mixture, Part, TubeRef};

use crate::StoreError;
use crate::error::parse;
use crate::ids::TrialId;
use crate::trial::{PlannedSwatch, SwatchId};

pub(crate) async fn swatches(
    connection: &mut SqliteConnection,
    id: TrialId,
) -> Result<Vec<PlannedSwatch>, StoreError> {
    let parts = sqlx::query!(
        "SELECT swatch_id, position, parts FROM swatch_part
         JOIN swatch ON swatch.id = swatch_part.swatch_id WHERE trial_id = ?",
        id.0
    )
    .fetch_all(&mut *connection)
    .await?;
    let mut mixtures: HashMap<i64, Vec<Part>> = HashMap::new();
    for row in parts {
        let tube = TubeRef(usize::try_from(row.position).unwrap_or_default());
        mixtures.entry(row.swatch_id).or_default().push(Part { tube, parts: row.parts });
    }
    let rows = sqlx::query!(
        r#"SELECT id AS "id!", number, backing, film FROM swatch WHERE trial_id = ? ORDER BY number"#,
        id.0
    )
    .fetch_all(connection)
    .await?;
    rows.into_iter()
        .map(|row| {
            Ok(PlannedSwatch {
                id: SwatchId(row.id),
                swatch: Swatch {
                    number: CellNumber(u32::try_from(row.number).unwrap_or_default()),
                    mixture: Mixture::new(mixtures.remove(&row.id).unwrap_or_default()),
                    backing: parse("backing", &row.backing)?,
                    film: parse::<FilmKind>("film", &row.film)?,
                },
            })
        })
        .collect()
}

pub(crate) async fn insert_swatch(
    connection: &mut SqliteConnection,
    trial: TrialId,
    swatch: &Swatch,
) -> Result<SwatchId, StoreError> {
    let (backing, film) = (swatch.backing.to_string(), swatch.film.to_string());
    let done = sqlx::query!(
        "INSERT INTO swatch (trial_id, number, backing, film) VALUES (?, ?, ?, ?)",
        trial.0,
        swatch.number.0,
        backing,
        film
    )
    .execute(&mut *connection)
    .await?;
    let id = SwatchId(done.last_insert_rowid());
    for part in swatch.mixture.parts() {
        let position = i64::try_from(part.tube.0).unwrap_or(i64::MAX);
        sqlx::query!(
            "INSERT INTO swatch_part (swatch_id, position, parts) VALUES (?, ?, ?)",
            id.0,
            position,
            part.parts
        )
        .execute(&mut *connection)
        .await?;
    }
    Ok(id)
}
