//! Voids: a row beside a reading that does not count.

use bench::ReadingId;
use sqlx::SqliteConnection;

use crate::StoreError;

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
