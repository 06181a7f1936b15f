//! Opening a workshop: what an earlier release made is copied before it is brought up to date.

use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::Duration;

use sqlx::sqlite::{SqliteConnectOptions, SqliteJournalMode, SqlitePoolOptions, SqliteSynchronous};

use crate::file::{Found, MIGRATOR, damaged, found, in_words, newest};
use crate::writing::take_back;
use crate::{Store, StoreError, backup};

impl Store {
    /// Opens the file, making it and bringing it up to date where needed; one that is brought up to
    /// date is copied first, to a file beside it whose name ends with `.before-` and its schema.
    ///
    /// # Errors
    /// [`StoreError::File`] when there is no such folder, the file is no workshop, a later release
    /// made it, or another program holds it.
    pub async fn open(path: &Path) -> Result<Self, StoreError> {
        match found(path).await? {
            Found::Workshop(schema) if schema < newest() => {
                let copy = backup::free_name(path, &format!("before-{schema}"));
                backup::copy_file(path, &copy).await?;
            }
            Found::Damaged => return Err(damaged(path)),
            Found::Workshop(_) | Found::Nothing => {}
        }
        let options = SqliteConnectOptions::new().filename(path).create_if_missing(true);
        let options = options.pragma("trusted_schema", "OFF");
        let store = Self::connect(options, 4, Some(path.to_owned())).await;
        store.map_err(|error| in_words(path, error))
    }

    /// A workshop that is gone when the program ends.
    ///
    /// # Errors
    /// When SQLite cannot start.
    pub async fn in_memory() -> Result<Self, StoreError> {
        // Every connection would have a memory of its own.
        Self::connect(SqliteConnectOptions::new().filename(":memory:"), 1, None).await
    }

    /// Lets go of the file: what stands in the write-ahead log is written into it.
    pub async fn close(self) {
        self.pool.close().await;
    }

    async fn connect(
        options: SqliteConnectOptions,
        connections: u32,
        file: Option<PathBuf>,
    ) -> Result<Self, StoreError> {
        let options = options
            .journal_mode(SqliteJournalMode::Wal)
            // What was shown as recorded survives a power cut.
            .synchronous(SqliteSynchronous::Full)
            .foreign_keys(true)
            .busy_timeout(Duration::from_secs(5));
        let mut pool = SqlitePoolOptions::new()
            .max_connections(connections)
            // No second connection may turn a new file to WAL while the first one does.
            .min_connections(0)
            .idle_timeout(None)
            .max_lifetime(None);
        if file.is_none() {
            pool = pool.after_release(|connection, _| {
                Box::pin(async move {
                    take_back(connection).await;
                    Ok(true)
                })
            });
        }
        let pool = pool.connect_with(options).await?;
        MIGRATOR.run(&pool).await?;
        Ok(Self { pool, file, passing: Arc::default(), token: None })
    }
}
