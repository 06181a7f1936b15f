//! Copies of a workshop file: each is whole, is checked before it counts, and stands in nobody's place.

use std::path::{Path, PathBuf};
use std::time::Duration;

use sqlx::sqlite::SqliteConnectOptions;
use sqlx::{ConnectOptions as _, Connection as _, SqliteConnection};
use tempfile::NamedTempFile;

use crate::file::{
    Found, Hold, beside, damaged, folder, found, in_words, not_written, read_only, workshop,
};
use crate::picture_files::{carry_pictures, picture_folder};
use crate::{Store, StoreError};

impl Store {
    /// Writes a checked copy of everything that is stored now.
    ///
    /// # Errors
    /// [`StoreError::File`] where a file of this name exists, or it cannot be written.
    pub async fn save_copy(&self, to: &Path) -> Result<(), StoreError> {
        let place = folder(to)?.to_owned();
        if to.exists() {
            return Err(taken(to));
        }
        keep(self.fresh_copy(place).await?, to)?;
        if let Some(file) = &self.file {
            carry_pictures(&picture_folder(file), &picture_folder(to))?;
        }
        Ok(())
    }

    /// The same as a file that is gone once nobody holds it, to be sent away.
    ///
    /// # Errors
    /// [`StoreError::File`] where there is no room beside the workshop file.
    pub async fn copy_to_send(&self) -> Result<NamedTempFile, StoreError> {
        let place = self.file.as_deref().map(folder).transpose()?;
        self.fresh_copy(place.map_or_else(std::env::temp_dir, Path::to_owned)).await
    }

    async fn fresh_copy(&self, place: PathBuf) -> Result<NamedTempFile, StoreError> {
        let mut connection = self.pool.acquire().await?;
        let copy = fresh_copy(&mut connection, place).await;
        if copy.is_err() && self.file.is_some() {
            // As after any write that failed.
            connection.close_on_drop();
        }
        copy
    }
}

/// Copies a workshop file, also one that is open elsewhere.
///
/// # Errors
/// [`StoreError::File`] where there is none, where the copy's name is taken, and where the copy
/// cannot be written or is not sound.
pub async fn copy_file(from: &Path, to: &Path) -> Result<(), StoreError> {
    workshop(from).await?;
    let mut connection = read_only(from).await?;
    let done = copy(&mut connection, to).await;
    connection.close().await?;
    done?;
    // Pictures never change once they are there: those that came meanwhile are no harm.
    carry_pictures(&picture_folder(from), &picture_folder(to))?;
    Ok(())
}

/// Puts a copy in a workshop's place. The workshop that stands there is copied first, or set aside as it
/// is where it is damaged; tells where to.
///
/// # Errors
/// [`StoreError::File`] where the copy is no sound workshop file of this release or an earlier one,
/// and where the workshop is open in another program.
pub async fn restore(copy_of: &Path, to: &Path) -> Result<Option<PathBuf>, StoreError> {
    workshop(copy_of).await?;
    let _hold = Hold::of(to).await?;
    let before = match found(to).await? {
        Found::Nothing => None,
        Found::Workshop(_) | Found::Damaged => Some(free_name(to, "before-restore")),
    };
    let fresh = free_name(to, "restored");
    copy_file(copy_of, &fresh).await?;
    match &before {
        Some(before) if check(to).await.is_ok() => {
            copy_file(to, before).await?;
            fold_in(to).await?;
        }
        Some(before) => set_aside(to, before)?,
        None => {}
    }
    carry_pictures(&picture_folder(copy_of), &picture_folder(to))?;
    std::fs::rename(&fresh, to).map_err(|error| not_written(to, &error))?;
    // They were linked for the copy that has its name now.
    let _ = std::fs::remove_dir_all(picture_folder(&fresh));
    Ok(before)
}

/// Moves a damaged workshop, with whatever SQLite left beside it.
fn set_aside(path: &Path, to: &Path) -> Result<(), StoreError> {
    for ending in ["", "-wal", "-shm"] {
        let part = |path: &Path| {
            let mut name = path.as_os_str().to_owned();
            name.push(ending);
            PathBuf::from(name)
        };
        if part(path).exists() {
            std::fs::rename(part(path), part(to)).map_err(|error| not_written(to, &error))?;
        }
    }
    Ok(())
}

/// Ends the file's write-ahead log, so that nothing of it is taken for the copy's.
async fn fold_in(path: &Path) -> Result<(), StoreError> {
    let options = SqliteConnectOptions::new().filename(path).busy_timeout(Duration::from_secs(2));
    let mut connection = options.connect().await.map_err(|error| in_words(path, error.into()))?;
    let mode = sqlx::query_scalar::<_, String>("PRAGMA journal_mode = DELETE");
    let mode = mode.fetch_one(&mut connection).await;
    connection.close().await?;
    match mode.map_err(StoreError::from).map_err(|error| in_words(path, error))?.as_str() {
        "delete" => Ok(()),
        _ => Err(in_words(path, StoreError::Busy)),
    }
}

/// The first free name beside a file: `name.db.ending`, `name.db.ending-2` …
pub(crate) fn free_name(path: &Path, ending: &str) -> PathBuf {
    let first = beside(path, ending);
    if !first.exists() {
        return first;
    }
    let mut numbered = (2_u32..).map(|number| beside(path, &format!("{ending}-{number}")));
    numbered.find(|name| !name.exists()).unwrap_or(first)
}

async fn copy(connection: &mut SqliteConnection, to: &Path) -> Result<(), StoreError> {
    let place = folder(to)?;
    if to.exists() {
        return Err(taken(to));
    }
    let place = place.to_owned();
    keep(fresh_copy(connection, place).await?, to)
}

/// Gives a fresh copy its name, where nothing has it.
fn keep(fresh: NamedTempFile, to: &Path) -> Result<(), StoreError> {
    fresh.as_file().sync_all().map_err(|error| not_written(to, &error))?;
    fresh.persist_noclobber(to).map_err(|error| match error.error.kind() {
        std::io::ErrorKind::AlreadyExists => taken(to),
        _ => not_written(to, &error.error),
    })?;
    Ok(())
}

/// A checked copy in a folder, under a name of its own.
async fn fresh_copy(
    connection: &mut SqliteConnection,
    place: PathBuf,
) -> Result<NamedTempFile, StoreError> {
    let fresh = NamedTempFile::new_in(&place).map_err(|error| not_written(&place, &error))?;
    let name = fresh.path().to_str().ok_or_else(|| {
        StoreError::File(format!(
            "{} has letters that cannot be used: give another folder",
            place.display()
        ))
    })?;
    let copied = sqlx::query("VACUUM INTO ?").bind(name).execute(connection).await;
    copied.map_err(|error| match StoreError::from(error) {
        StoreError::NotWritten(why) => StoreError::File(format!(
            "no copy could be made in {} ({why}): make room there, and try again",
            place.display()
        )),
        other => in_words(&place, other),
    })?;
    check(fresh.path()).await?;
    Ok(fresh)
}

/// Whether every page and every reference of a file is sound.
pub(crate) async fn check(path: &Path) -> Result<(), StoreError> {
    let mut connection = read_only(path).await?;
    let sound = sqlx::query_scalar::<_, String>("PRAGMA integrity_check(1)");
    let sound = sound.fetch_one(&mut connection).await;
    let torn = sqlx::query("PRAGMA foreign_key_check").fetch_optional(&mut connection).await;
    connection.close().await?;
    match (sound, torn) {
        (Ok(sound), Ok(None)) if sound == "ok" => Ok(()),
        _ => Err(damaged(path)),
    }
}

fn taken(path: &Path) -> StoreError {
    StoreError::File(format!(
        "{} exists already and was left alone: give another name",
        path.display()
    ))
}
