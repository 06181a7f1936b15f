//! The workshop's records in one SQLite file. The only crate that knows SQL.
//!
//! One file an aggregate: [`Store`]'s functions for the shelf in `tubes`, for reference palettes in
//! `palettes`, for trials in `trials` with their `plans`, for what was measured in `readings`, for
//! what else was done at the bench in `log`, and for whole files in `import`.

mod error;
mod import;
mod log;
mod palettes;
mod plans;
mod readings;
mod trials;
mod tubes;

use std::path::Path;
use std::time::Duration;

pub use error::StoreError;
pub use log::Last;
pub use palettes::{NewPalette, Palette, PaletteId};
pub use plans::TrialPlan;
pub use readings::{BY_HAND, FROM_FILE, ReadingId, StoredReading};
use sqlx::SqlitePool;
use sqlx::sqlite::{SqliteConnectOptions, SqliteJournalMode, SqlitePoolOptions, SqliteSynchronous};
pub use trials::{
    Circumstances, NewTrial, PlannedSwatch, Role, SwatchId, Trial, TrialId, TrialSummary, TrialTube,
};
pub use tubes::{ShelfTube, TubeId};

/// An open workshop file.
#[derive(Debug, Clone)]
pub struct Store {
    pool: SqlitePool,
}

impl Store {
    /// Opens the file, making it and bringing it up to date where needed.
    ///
    /// # Errors
    /// When the file cannot be opened, or was made by a later release.
    pub async fn open(path: &Path) -> Result<Self, StoreError> {
        let options = SqliteConnectOptions::new().filename(path).create_if_missing(true);
        Self::connect(options, 4).await
    }

    /// A workshop that is gone when the program ends.
    ///
    /// # Errors
    /// When SQLite cannot start.
    pub async fn in_memory() -> Result<Self, StoreError> {
        // Every connection would have a memory of its own.
        Self::connect(SqliteConnectOptions::new().filename(":memory:"), 1).await
    }

    async fn connect(options: SqliteConnectOptions, connections: u32) -> Result<Self, StoreError> {
        let options = options
            .journal_mode(SqliteJournalMode::Wal)
            // What was shown as recorded survives a power cut.
            .synchronous(SqliteSynchronous::Full)
            .foreign_keys(true)
            .busy_timeout(Duration::from_secs(5));
        let pool = SqlitePoolOptions::new()
            .max_connections(connections)
            // No second connection may turn a new file to WAL while the first one does.
            .min_connections(0)
            .idle_timeout(None)
            .max_lifetime(None)
            .connect_with(options)
            .await?;
        sqlx::migrate!().run(&pool).await?;
        Ok(Self { pool })
    }
}
