//! Voids: a row beside a reading that does not count; those of one picture go together.

use bench::ReadingId;
use sqlx::SqliteConnection;

use crate::StoreError;
use crate::ids::TrialId;

pub(crate) async fn insert_void(
    connection: &mut SqliteConnection,
    reading: ReadingId,
    reason: &str,
    from_source: bool,
) -> Result<(), StoreError> {
    sqlx::query!(
        "INSERT INTO void (reading_id, reason, from_source) VALUES (?, ?, ?)",
        reading.0,
        reason,
        from_source
    )
    .execute(connection)
    .await?;
    Ok(())
}

/// Voids every reading of a picture that counts.
pub(crate) async fn void_picture(
    connection: &mut SqliteConnection,
    trial: TrialId,
    picture: &str,
    reason: &str,
) -> Result<usize, StoreError> {
    let counting = sqlx::query_scalar!(
        r#"SELECT reading.id AS "id!" FROM reading LEFT JOIN void ON void.reading_id = reading.id
           WHERE trial_id = ? AND picture = ? AND void.reading_id IS NULL"#,
        trial.0,
        picture
    )
    .fetch_all(&mut *connection)
    .await?;
    for id in &counting {
        insert_void(connection, ReadingId(*id), reason, false).await?;
    }
    set_unread(connection, trial, picture, &[]).await?;
    Ok(counting.len())
}

/// Says which squares a picture cannot tell; the trial is another one then.
pub(crate) async fn set_unread(
    connection: &mut SqliteConnection,
    trial: TrialId,
    picture: &str,
    unread: &[u32],
) -> Result<(), StoreError> {
    let text = serde_json::to_string(unread).unwrap_or_else(|_| "[]".into());
    sqlx::query!(
        "UPDATE picture SET unread = ? WHERE trial_id = ? AND substr(content, 1, 12) = ?",
        text,
        trial.0,
        picture
    )
    .execute(&mut *connection)
    .await?;
    sqlx::query!("UPDATE trial SET revision = revision + 1 WHERE id = ?", trial.0)
        .execute(connection)
        .await?;
    Ok(())
}

/// The picture that a reading comes from.
pub(crate) async fn picture_of(
    connection: &mut SqliteConnection,
    reading: ReadingId,
) -> Result<Option<String>, StoreError> {
    let found = sqlx::query_scalar!("SELECT picture FROM reading WHERE id = ?", reading.0);
    Ok(found.fetch_optional(connection).await?.flatten())
}
