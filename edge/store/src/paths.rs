//! Paths and files beside the records.

use std::fs::{self, File};
use std::path::{Path, PathBuf};

use crate::StoreError;

/// `name.db` → `name.db.ending`.
pub(crate) fn beside(path: &Path, ending: &str) -> PathBuf {
    let mut name = path.as_os_str().to_owned();
    name.push(".");
    name.push(ending);
    name.into()
}

/// Why a file could not be written.
pub(crate) fn not_written(path: &Path, error: &std::io::Error) -> StoreError {
    StoreError::File(format!(
        "{} cannot be written ({error}): make room, or give a path that can be written",
        path.display()
    ))
}

/// The folder that a file stands in, where there is one.
pub(crate) fn folder(path: &Path) -> Result<&Path, StoreError> {
    let folder = path.parent().filter(|it| !it.as_os_str().is_empty()).unwrap_or(Path::new("."));
    if folder.is_dir() {
        return Ok(folder);
    }
    Err(StoreError::File(format!(
        "there is no folder {}: make it first, or give another path",
        folder.display()
    )))
}

/// The text of a file that stands in somebody's folder: a link, a device or a pipe is left alone.
///
/// # Errors
/// What it is instead, or why it cannot be read.
pub(crate) fn ordinary(path: &Path) -> std::io::Result<File> {
    let about = fs::symlink_metadata(path)?;
    if !about.is_file() {
        return Err(std::io::Error::other("it is no ordinary file"));
    }
    File::open(path)
}
