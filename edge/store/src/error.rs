//! What can go wrong with the records.

use bench::Refused;
use mixing::Geometry;
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
    /// It is not as it was when the page that changes it was opened.
    #[error(
        "this {0} was changed on another page meanwhile, and nothing of what you sent was stored: look at it again"
    )]
    Changed(&'static str),
    /// What stands in the file cannot be understood.
    #[error("the workshop file holds a {what} that cannot be read: {found}")]
    Corrupt {
        /// Which fact.
        what: &'static str,
        /// What stands there.
        found: String,
    },
    /// It cannot have been done to the paint as it stands.
    #[error(transparent)]
    Refused(#[from] Refused),
    /// The meter measures at another geometry than the trial is read with.
    #[error(
        "the meter measures at {meter}, and this trial is read at {trial}: the two do not compare, so \
         the reading was not recorded. Connect the meter that the trial was begun with, or plan a copy \
         of the trial for this one?"
    )]
    OtherGeometry {
        /// The meter's.
        meter: Geometry,
        /// The trial's.
        trial: Geometry,
    },
    /// Another program holds the file.
    #[error(
        "another program is writing to the workshop file and does not let go of it; nothing was \
         recorded: close the other program, and send it again"
    )]
    Busy,
    /// The file as a whole cannot be opened, copied or read; the sentence says what to do.
    #[error("{0}")]
    File(String),
    /// Nothing more can be written.
    #[error(
        "it could not be recorded, because the disk is full or does not take what is written ({0}); \
         what was recorded before is safe: make room, and send it again"
    )]
    NotWritten(String),
    /// SQLite refused.
    #[error("the workshop file cannot be used: {0}")]
    Database(sqlx::Error),
    /// The file could not be brought up to date.
    #[error("the workshop file cannot be brought up to date: {0}")]
    Migration(#[from] sqlx::migrate::MigrateError),
}

impl From<sqlx::Error> for StoreError {
    fn from(error: sqlx::Error) -> Self {
        // SQLite's primary codes: 5 and 6 locked, 8 read-only, 10 input or output failed, 13 full.
        let code = error.as_database_error().and_then(|it| it.code()?.parse::<u32>().ok());
        match code.map(|code| code & 0xff) {
            Some(5 | 6) => Self::Busy,
            Some(8 | 10 | 13) => {
                let said = error.as_database_error().map(|it| it.message().to_owned());
                Self::NotWritten(said.unwrap_or_default())
            }
            _ => Self::Database(error),
        }
    }
}

/// Reads a stored word back into its type.
pub(crate) fn parse<T: std::str::FromStr>(what: &'static str, text: &str) -> Result<T, StoreError> {
    text.parse().map_err(|_| StoreError::Corrupt { what, found: text.to_owned() })
}
