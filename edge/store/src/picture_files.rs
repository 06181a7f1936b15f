//! Pictures as files: received into a folder beside the workshop file, and carried along with its copies.

use std::fs;
use std::io::Write as _;
use std::path::{Path, PathBuf};

use sha2::{Digest as _, Sha256};
use tempfile::NamedTempFile;

use crate::file::{beside, not_written};
use crate::{Store, StoreError};

/// A picture that is being received.
#[derive(Debug)]
pub struct PictureDraft {
    file: NamedTempFile,
    hash: Sha256,
    bytes: u64,
    folder: PathBuf,
}

impl PictureDraft {
    /// Gives it its name: the hash of its content, which is told with its size.
    pub(crate) fn keep(self, ending: &str) -> Result<(String, u64), StoreError> {
        let content = hex(&self.hash.finalize());
        let path = self.folder.join(file_name(&content, ending));
        self.file.as_file().sync_all().map_err(|error| not_written(&path, &error))?;
        self.file.persist(&path).map_err(|error| not_written(&path, &error.error))?;
        Ok((content, self.bytes))
    }

    /// Takes a piece.
    ///
    /// # Errors
    /// [`StoreError::File`] where there is no room for it.
    pub fn write(&mut self, piece: &[u8]) -> Result<(), StoreError> {
        self.hash.update(piece);
        self.bytes += piece.len() as u64;
        self.file.write_all(piece).map_err(|error| not_written(&self.folder, &error))
    }

    /// What was received so far.
    #[must_use]
    pub fn bytes(&self) -> u64 {
        self.bytes
    }

    /// All of it.
    ///
    /// # Errors
    /// [`StoreError::File`] where it cannot be read again.
    pub fn read(&self) -> Result<Vec<u8>, StoreError> {
        fs::read(self.file.path()).map_err(|error| not_read(self.file.path(), &error))
    }
}

impl Store {
    /// The bytes of a picture's file.
    pub(crate) fn read_picture_file(
        &self,
        content: &str,
        ending: &str,
    ) -> Result<Vec<u8>, StoreError> {
        let path = self.picture_folder()?.join(file_name(content, ending));
        fs::read(&path).map_err(|error| not_read(&path, &error))
    }

    /// Deletes a picture's file; one that is gone already is no error.
    pub(crate) fn remove_picture_file(
        &self,
        content: &str,
        ending: &str,
    ) -> Result<(), StoreError> {
        let path = self.picture_folder()?.join(file_name(content, ending));
        match fs::remove_file(&path) {
            Err(error) if error.kind() != std::io::ErrorKind::NotFound => {
                Err(not_written(&path, &error))
            }
            _ => Ok(()),
        }
    }

    /// The folder of the pictures.
    fn picture_folder(&self) -> Result<PathBuf, StoreError> {
        let folder = match &self.file {
            Some(file) => picture_folder(file),
            None => self.passing.get_or_make()?,
        };
        fs::create_dir_all(&folder).map_err(|error| not_written(&folder, &error))?;
        Ok(folder)
    }

    /// Begins to receive a picture.
    ///
    /// # Errors
    /// [`StoreError::File`] where the folder of the pictures cannot be written.
    pub fn picture_draft(&self) -> Result<PictureDraft, StoreError> {
        let folder = self.picture_folder()?;
        let file = NamedTempFile::new_in(&folder).map_err(|error| not_written(&folder, &error))?;
        Ok(PictureDraft { file, hash: Sha256::new(), bytes: 0, folder })
    }
}

/// The folder of a workshop file's pictures.
pub(crate) fn picture_folder(workshop: &Path) -> PathBuf {
    beside(workshop, "pictures")
}

/// Brings the pictures of one folder to another that may have some of them already. What cannot be linked is copied.
pub(crate) fn carry_pictures(from: &Path, to: &Path) -> Result<usize, StoreError> {
    let Ok(files) = fs::read_dir(from) else { return Ok(0) };
    let mut carried = 0;
    for file in files.filter_map(Result::ok).filter(|file| is_picture(&file.path())) {
        fs::create_dir_all(to).map_err(|error| not_written(to, &error))?;
        let (old, new) = (file.path(), to.join(file.file_name()));
        if !new.exists() && fs::hard_link(&old, &new).is_err() {
            copy_whole(&old, to, &new)?;
        }
        carried += 1;
    }
    Ok(carried)
}

/// A copy appears under its name when it is whole.
fn copy_whole(from: &Path, folder: &Path, to: &Path) -> Result<(), StoreError> {
    let failed = |error: &std::io::Error| not_written(to, error);
    let fresh = NamedTempFile::new_in(folder).map_err(|error| failed(&error))?;
    fs::copy(from, fresh.path()).map_err(|error| failed(&error))?;
    fresh.persist(to).map_err(|error| failed(&error.error))?;
    Ok(())
}

/// Sixty-four hexadecimal letters and a known ending: nothing else is taken along.
fn is_picture(path: &Path) -> bool {
    let text = |part: Option<&std::ffi::OsStr>| part.and_then(|it| it.to_str()).map(str::to_owned);
    let (stem, ending) = (text(path.file_stem()), text(path.extension()));
    let is_hash = |stem: String| stem.len() == 64 && stem.bytes().all(|it| it.is_ascii_hexdigit());
    stem.is_some_and(is_hash) && ending.is_some_and(|it| ["png", "jpg", "tif"].contains(&&*it))
}

fn file_name(content: &str, ending: &str) -> String {
    format!("{content}.{ending}")
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|byte| format!("{byte:02x}")).collect()
}

fn not_read(path: &Path, error: &std::io::Error) -> StoreError {
    StoreError::File(format!(
        "the picture {} cannot be read ({error}); what was read from it before is kept",
        path.display()
    ))
}
