//! The workshop file as a file: whether it is one, of which release, who has it, and what keeps it from being
//! opened, in words.

use std::fs::{self, File, OpenOptions, TryLockError};
use std::io::Read as _;
use std::path::Path;
use std::time::Duration;

use sqlx::migrate::Migrator;
use sqlx::sqlite::SqliteConnectOptions;
use sqlx::{ConnectOptions as _, Connection as _, SqliteConnection};

use crate::StoreError;
use crate::paths::{beside, folder};
use crate::picture_files::sweep;

pub(crate) static MIGRATOR: Migrator = sqlx::migrate!();

/// "USW1", at byte 68 of every workshop file since the release that brought it.
const APPLICATION_ID: u32 = u32::from_be_bytes(*b"USW1");

/// The table that SQLx keeps of what was brought up to date, in every workshop file.
const HISTORY: &str = "SELECT max(version) FROM _sqlx_migrations WHERE success";

/// What that name stands for.
const HISTORY_IS: &str = "SELECT type FROM sqlite_schema WHERE name = '_sqlx_migrations'";

/// What stands at a path.
pub(crate) enum Found {
    /// Nothing, or an empty file.
    Nothing,
    /// A workshop of this schema.
    Workshop(i64),
    /// A workshop file that cannot be read any more.
    Damaged,
}

/// The schema of this release.
pub(crate) fn newest() -> i64 {
    MIGRATOR.iter().map(|migration| migration.version).max().unwrap_or_default()
}

/// A workshop file that this program has for itself, as long as this lives. It must outlive every [`crate::Store`] of
/// the file: closing the file lets go of SQLite's own locks on it too.
#[derive(Debug)]
pub struct Hold {
    _beside: Option<File>,
    _itself: Option<File>,
}

impl Hold {
    /// Takes a workshop file for this program alone; where there is none, an empty one is made. The lock is on the
    /// file itself, whatever names lead to it, and on a file beside it whose name ends with `.lock`: that one stays
    /// while a copy takes the file's place.
    ///
    /// # Errors
    /// [`StoreError::File`] where another program has it, where it is no workshop, and where the folder
    /// cannot be written.
    pub async fn of(path: &Path) -> Result<Self, StoreError> {
        let there = fs::metadata(path).is_ok_and(|about| about.is_file());
        // What another program has is not looked into.
        let itself = if there { locked(path, path)? } else { None };
        // Nothing is put beside a file that is left alone.
        found(path).await?;
        let beside = locked(&beside(path, "lock"), path)?;
        let hold =
            Self { _beside: beside, _itself: if there { itself } else { locked(path, path)? } };
        if hold._itself.is_some() {
            sweep(path);
        }
        Ok(hold)
    }
}

/// Opens and locks a file that stands for a workshop. `None` on a drive that knows no locks: SQLite's own still hold
/// there.
fn locked(file: &Path, workshop: &Path) -> Result<Option<File>, StoreError> {
    let opened = match file.exists() {
        true => File::open(file),
        false => OpenOptions::new().create(true).truncate(false).write(true).open(file),
    };
    let lock = opened.map_err(|error| {
        StoreError::File(format!(
            "{} cannot be opened ({error}): choose another folder with --db, or allow reading and writing there",
            file.display()
        ))
    })?;
    match lock.try_lock() {
        Ok(()) => Ok(Some(lock)),
        Err(TryLockError::WouldBlock) => Err(StoreError::File(format!(
            "{} is open in another upright-swatch already: go on there, or stop it and start again",
            workshop.display()
        ))),
        Err(TryLockError::Error(_)) => Ok(None),
    }
}

/// Looks at what stands at a path, without changing it.
pub(crate) async fn found(path: &Path) -> Result<Found, StoreError> {
    folder(path)?;
    if path.is_dir() {
        return Err(StoreError::File(format!(
            "{0} is a folder: give the path of a file, such as {0}/workshop.db",
            path.display()
        )));
    }
    let mut head = [0; 100];
    let unreadable = |error: std::io::Error| {
        StoreError::File(format!("{} cannot be read: {error}; allow reading it", path.display()))
    };
    match fs::metadata(path) {
        Err(error) if error.kind() == std::io::ErrorKind::NotFound => return Ok(Found::Nothing),
        Err(error) => return Err(unreadable(error)),
        Ok(about) if !about.is_file() => return Err(no_file(path)),
        Ok(about) if about.len() == 0 => return Ok(Found::Nothing),
        Ok(_) => {}
    }
    let is_sqlite = File::open(path).map_err(unreadable)?.read_exact(&mut head).is_ok()
        && head.starts_with(b"SQLite format 3\0");
    let id = u32::from_be_bytes([head[68], head[69], head[70], head[71]]);
    if !is_sqlite || !(id == 0 || id == APPLICATION_ID) {
        return Err(foreign(path));
    }
    let mut connection = read_only(path).await?;
    let schema = schema_of(path, &mut connection, id).await;
    connection.close().await.map_err(|error| in_words(path, error.into()))?;
    schema
}

async fn schema_of(
    path: &Path,
    connection: &mut SqliteConnection,
    id: u32,
) -> Result<Found, StoreError> {
    let tables = sqlx::query_scalar::<_, i64>("SELECT count(*) FROM sqlite_schema");
    let tables = tables.fetch_one(&mut *connection).await;
    let tables = match tables.map_err(StoreError::from) {
        Err(StoreError::Database(_)) if id == APPLICATION_ID => return Ok(Found::Damaged),
        tables => tables.map_err(|error| in_words(path, error))?,
    };
    // A view of this name could say anything, and go on for ever.
    let kind = sqlx::query_scalar::<_, String>(HISTORY_IS).fetch_optional(&mut *connection).await;
    if kind.is_ok_and(|kind| kind.is_some_and(|kind| kind != "table")) {
        return Err(foreign(path));
    }
    let history = sqlx::query_scalar::<_, Option<i64>>(HISTORY).fetch_one(connection).await;
    match history {
        Ok(Some(schema)) if MIGRATOR.version_exists(schema) => Ok(Found::Workshop(schema)),
        Ok(Some(schema)) if schema > newest() => Err(StoreError::File(format!(
            "{} was made by a later release of upright-swatch and was left alone: start that release, \
             or the copy of before it was brought up to date, whose name begins with {}.before-",
            path.display(),
            path.display()
        ))),
        _ if tables == 0 => Ok(Found::Nothing),
        // A start that was cut off before its first step was finished.
        Ok(None) if id == APPLICATION_ID || tables == 1 => Ok(Found::Nothing),
        Ok(_) => Err(foreign(path)),
        Err(error) => match StoreError::from(error) {
            StoreError::Database(_) if id == APPLICATION_ID => Ok(Found::Damaged),
            StoreError::Database(_) => Err(foreign(path)),
            other => Err(in_words(path, other)),
        },
    }
}

/// The schema of a workshop that must be there.
pub(crate) async fn workshop(path: &Path) -> Result<i64, StoreError> {
    match found(path).await? {
        Found::Workshop(schema) => Ok(schema),
        Found::Damaged => Err(damaged(path)),
        Found::Nothing => Err(StoreError::File(format!(
            "there is no workshop file at {}: give the path of one",
            path.display()
        ))),
    }
}

/// A device, a pipe or a folder: reading it may never end.
pub(crate) fn no_file(path: &Path) -> StoreError {
    StoreError::File(format!(
        "{} is no ordinary file and was left alone: give the path of one",
        path.display()
    ))
}

pub(crate) fn damaged(path: &Path) -> StoreError {
    StoreError::File(format!(
        "{} is damaged: `upright-swatch restore` puts a copy in its place, and keeps it as it is",
        path.display()
    ))
}

/// A connection that changes nothing.
pub(crate) async fn read_only(path: &Path) -> Result<SqliteConnection, StoreError> {
    let options = SqliteConnectOptions::new()
        .filename(path)
        .read_only(true)
        .pragma("trusted_schema", "OFF")
        .busy_timeout(Duration::from_secs(5));
    options.connect().await.map_err(|error| in_words(path, error.into()))
}

fn foreign(path: &Path) -> StoreError {
    StoreError::File(format!(
        "{} is not a workshop file of upright-swatch and was left alone: give another path with --db",
        path.display()
    ))
}

/// What keeps a file from being opened, in words that say what to do.
pub(crate) fn in_words(path: &Path, error: StoreError) -> StoreError {
    let name = path.display();
    let migration = |error: sqlx::migrate::MigrateError| match error {
        sqlx::migrate::MigrateError::Execute(error)
        | sqlx::migrate::MigrateError::ExecuteMigration(error, _) => StoreError::from(error),
        other => StoreError::Migration(other),
    };
    let error = match error {
        StoreError::Migration(error) => migration(error),
        other => other,
    };
    match error {
        StoreError::Busy => StoreError::File(format!(
            "{name} is locked by another program: close that program, and start again"
        )),
        StoreError::NotWritten(why) => StoreError::File(format!(
            "{name} cannot be written ({why}): make room on the disk, or allow writing there, and \
             start again"
        )),
        StoreError::Migration(why) => StoreError::File(format!(
            "{name} is not as this release made it ({why}): open a copy of before, or restore a backup"
        )),
        StoreError::Database(why) => StoreError::File(format!(
            "{name} cannot be opened ({why}): check that it can be written, or restore a backup"
        )),
        other => other,
    }
}
