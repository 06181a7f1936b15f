//! One write, or one look at the records, from its beginning to its end.
//!
//! A connection on which anything failed is closed and never used again: after a full disk nobody can
//! tell what SQLite still holds open there.

use std::ops::{Deref, DerefMut};

use sqlx::pool::PoolConnection;
use sqlx::{Sqlite, SqliteConnection};

use crate::{Store, StoreError};

/// A write under way. It counts once [`Writing::commit`] has said so; dropped before, nothing of it
/// stays.
pub(crate) struct Writing {
    connection: PoolConnection<Sqlite>,
    ended: bool,
    /// The records live in this very connection.
    in_memory: bool,
}

impl Writing {
    /// Makes it count.
    pub async fn commit(mut self) -> Result<(), StoreError> {
        sqlx::raw_sql("COMMIT").execute(&mut *self.connection).await?;
        self.ended = true;
        Ok(())
    }

    /// Ends it where there was nothing to write.
    pub async fn leave(mut self) -> Result<(), StoreError> {
        sqlx::raw_sql("ROLLBACK").execute(&mut *self.connection).await?;
        self.ended = true;
        Ok(())
    }
}

impl Drop for Writing {
    fn drop(&mut self) {
        if !self.ended && !self.in_memory {
            self.connection.close_on_drop();
        }
    }
}

impl Deref for Writing {
    type Target = SqliteConnection;

    fn deref(&self) -> &SqliteConnection {
        &self.connection
    }
}

impl DerefMut for Writing {
    fn deref_mut(&mut self) -> &mut SqliteConnection {
        &mut self.connection
    }
}

impl Store {
    /// Begins a write; it waits for the one before it, so that what is read within it decides.
    pub(crate) async fn write(&self) -> Result<Writing, StoreError> {
        self.begin("BEGIN IMMEDIATE").await
    }

    /// One state of the records, however long it is looked at. Ends with [`Writing::leave`].
    pub(crate) async fn look(&self) -> Result<Writing, StoreError> {
        self.begin("BEGIN").await
    }

    async fn begin(&self, how: &'static str) -> Result<Writing, StoreError> {
        let connection = self.pool.acquire().await?;
        let in_memory = self.file.is_none();
        let mut writing = Writing { connection, ended: false, in_memory };
        sqlx::raw_sql(how).execute(&mut *writing.connection).await?;
        Ok(writing)
    }
}

/// What an in-memory workshop's only connection was left with is taken back before it is used again.
pub(crate) async fn take_back(connection: &mut SqliteConnection) {
    // It fails where nothing is open, which is the usual case.
    let _ = sqlx::raw_sql("ROLLBACK").execute(connection).await;
}
