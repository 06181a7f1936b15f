//! Copies of a workshop file: each is whole, is checked before it counts, and stands in nobody's place.

use std::path::{Path, PathBuf};
use std::time::Duration;

use sqlx::sqlite::SqliteConnectOptions;
use sqlx::{ConnectOptions as _, Connection as _, SqliteConnection};
use tempfile::NamedTempFile;

use crate::file::{Found, Hold, damaged, found, in_words, read_only, workshop};
use crate::paths::{beside, folder, not_written};
use crate::picture_files::{Carried, carry_pictures, picture_folder};
use crate::schema::check_schema;
use crate::{Store, StoreError};

impl Store {
    /// Writes a checked copy of everything that is stored now, but for the phones that were paired; tells what became
    /// of the pictures.
    ///
    /// # Errors
    /// [`StoreError::File`] where a file of this name exists, or it cannot be written.
    pub async fn save_copy(&self, to: &Path) -> Result<Carried, StoreError> {
        let place = folder(to)?.to_owned();
        if to.exists() {
            return Err(taken(to));
        }
        keep(self.fresh_copy(place).await?, to)?;
        match &self.file {
            Some(file) => carry(file, to).await,
            None => Ok(Carried::default()),
        }
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

/// Copies a workshop file, also one that is open elsewhere; tells what became of its pictures. Phones that were paired
/// stay behind: nobody gets in by a copy.
///
/// # Errors
/// [`StoreError::File`] where there is none, where the copy's name is taken, and where the copy
/// cannot be written or is not sound.
pub async fn copy_file(from: &Path, to: &Path) -> Result<Carried, StoreError> {
    workshop(from).await?;
    let mut connection = read_only(from).await?;
    let done = copy(&mut connection, to).await;
    connection.close().await?;
    done?;
    carry(from, to).await
}

/// Brings the pictures that a copy's records name from beside the file it is a copy of.
async fn carry(from: &Path, copy: &Path) -> Result<Carried, StoreError> {
    let mut connection = read_only(copy).await?;
    let wanted = pictures_of(&mut connection).await;
    connection.close().await?;
    let wanted = wanted.map_err(|error| in_words(copy, error))?;
    carry_pictures(&picture_folder(from), &picture_folder(copy), &wanted)
}

/// Content and ending of every picture whose file should be there.
pub(crate) async fn pictures_of(
    connection: &mut SqliteConnection,
) -> Result<Vec<(String, String)>, StoreError> {
    // Earlier schemas had none.
    let known = "SELECT count(*) FROM sqlite_schema WHERE type = 'table' AND name = 'picture'";
    if sqlx::query_scalar::<_, i64>(known).fetch_one(&mut *connection).await? == 0 {
        return Ok(Vec::new());
    }
    let wanted =
        "SELECT DISTINCT content, ending FROM picture WHERE deleted_at IS NULL ORDER BY 1, 2";
    Ok(sqlx::query_as(wanted).fetch_all(connection).await?)
}

/// What a restored workshop is.
#[derive(Debug)]
pub struct Restored {
    /// Where the workshop is that was there before.
    pub before: Option<PathBuf>,
    /// What became of the copy's pictures.
    pub pictures: Carried,
}

/// Puts a copy in a workshop's place. The workshop that stands there is copied first, or set aside as it
/// is where it is damaged.
///
/// # Errors
/// [`StoreError::File`] where the copy is no sound workshop file of this release or an earlier one, where its schema is
/// not as that release made it, and where the workshop is open in another program.
pub async fn restore(copy_of: &Path, to: &Path) -> Result<Restored, StoreError> {
    let schema = workshop(copy_of).await?;
    check_schema(copy_of, schema).await?;
    let was_there = to.exists();
    let restored = put_in_place(copy_of, to).await;
    let is_empty = std::fs::metadata(to).is_ok_and(|about| about.len() == 0);
    if restored.is_err() && !was_there && is_empty {
        // The empty file that was held meanwhile.
        let _ = std::fs::remove_file(to);
    }
    restored
}

async fn put_in_place(copy_of: &Path, to: &Path) -> Result<Restored, StoreError> {
    let _hold = Hold::of(to).await?;
    let before = match found(to).await? {
        Found::Nothing => None,
        Found::Workshop(_) | Found::Damaged => Some(free_name(to, "before-restore")),
    };
    let fresh = free_name(to, "restored");
    let mut connection = read_only(copy_of).await?;
    let done = copy(&mut connection, &fresh).await;
    let wanted = pictures_of(&mut connection).await;
    connection.close().await?;
    let carried =
        done.and_then(|()| carry_pictures(&picture_folder(copy_of), &picture_folder(to), &wanted?));
    // Last, so that what is refused leaves the workshop in its place.
    let placed = match &carried {
        Ok(_) => set_before_aside(to, before.as_deref()).await,
        Err(_) => Ok(()),
    };
    let pictures = carried.and_then(|carried| {
        placed?;
        std::fs::rename(&fresh, to).map_err(|error| not_written(to, &error))?;
        Ok(carried)
    });
    if pictures.is_err() {
        let _ = std::fs::remove_file(&fresh);
    }
    Ok(Restored { before, pictures: pictures? })
}

async fn set_before_aside(workshop: &Path, before: Option<&Path>) -> Result<(), StoreError> {
    match before {
        Some(before) if check(workshop).await.is_ok() => {
            copy_file(workshop, before).await?;
            fold_in(workshop).await
        }
        Some(before) => set_aside(workshop, before),
        None => Ok(()),
    }
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
    forget_phones(fresh.path()).await.map_err(|error| in_words(&place, error))?;
    check(fresh.path()).await?;
    Ok(fresh)
}

/// Takes the phones that were paired out of a copy, so that nothing of them is left in its pages.
async fn forget_phones(copy: &Path) -> Result<(), StoreError> {
    let options = SqliteConnectOptions::new().filename(copy).pragma("secure_delete", "ON");
    let mut connection = options.connect().await?;
    let known = "SELECT count(*) FROM sqlite_schema WHERE type = 'table' AND name = 'session'";
    let done = match sqlx::query_scalar::<_, i64>(known).fetch_one(&mut connection).await {
        Ok(0) => Ok(()),
        Ok(_) => sqlx::raw_sql("DELETE FROM session").execute(&mut connection).await.map(|_| ()),
        Err(error) => Err(error),
    };
    connection.close().await?;
    Ok(done?)
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
