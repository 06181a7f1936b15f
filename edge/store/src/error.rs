//! What can go wrong with the records.

use thiserror::Error;

/// Why the store did not answer.
#[derive(Debug, Error)]
pub enum StoreError {
    /// There is no such tube, palette, trial, swatch or reading.
    #[error("there is no such {0}; it may belong to another workshop file")]
    NotFound(&'static str),
    /// The reading is void already.
    #[error("this reading is void already; its first reason stays")]
    AlreadyVoid,
    /// A reading of the trial has been taken, so its plan stays as it is.
    #[error("the bench has begun, so this plan stays as it is; copy it to plan another")]
    Frozen,
    /// A later version of the palette exists.
    #[error("this palette has a later version; change that one")]
    Replaced,
    /// What stands in the file cannot be understood.
    #[error("the workshop file holds a {what} that cannot be read: {found}")]
    Corrupt {
        /// Which fact.
        what: &'static str,
        /// What stands there.
        found: String,
    },
    /// SQLite refused.
    #[error("the workshop file cannot be used: {0}")]
    Database(#[from] sqlx::Error),
    /// The file could not be brought up to date.
    #[error("the workshop file cannot be brought up to date: {0}")]
    Migration(#[from] sqlx::migrate::MigrateError),
}

/// Reads a stored word back into its type.
pub(crate) fn parse<T: std::str::FromStr>(what: &'static str, text: &str) -> Result<T, StoreError> {
    text.parse().map_err(|_| StoreError::Corrupt { what, found: text.to_owned() })
}
