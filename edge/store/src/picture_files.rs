//! Pictures as files: received into a folder beside the workshop file, and carried along with its copies.

use std::fmt;
use std::fs::{self, File};
use std::io::{Read as _, Write as _};
use std::path::{Path, PathBuf};

use sha2::{Digest as _, Sha256};
use tempfile::NamedTempFile;

use crate::paths::{beside, not_written, ordinary};
use crate::{Store, StoreError};

/// A picture that is being received.
#[derive(Debug)]
pub struct PictureDraft {
    file: NamedTempFile,
    hash: Sha256,
    bytes: u64,
    folder: PathBuf,
}

/// A picture's file name: sixty-four hexadecimal letters and a known ending. Whatever else a file's records say would
/// lead out of the folder.
fn file_name(content: &str, ending: &str) -> Result<String, StoreError> {
    let is_hash = content.len() == 64 && content.bytes().all(|it| it.is_ascii_hexdigit());
    if is_hash && ENDINGS.contains(&ending) {
        return Ok(format!("{content}.{ending}"));
    }
    let found = format!("{content}.{ending}").chars().take(80).collect();
    Err(StoreError::Corrupt { what: "name of a picture", found })
}

/// How the files of pictures end.
pub(crate) const ENDINGS: [&str; 3] = ["png", "jpg", "tif"];
/// What a file is called while it is received or copied.
const UNFINISHED: &str = ".unfinished-";
/// What earlier releases called it.
const UNFINISHED_BEFORE: &str = ".tmp";

impl PictureDraft {
    /// What it will be called: the hash of its content; and its size.
    pub(crate) fn content(&self) -> (String, u64) {
        (hex(&self.hash.clone().finalize()), self.bytes)
    }

    /// Waits until the disk has it: long before anybody waits for the write that names it.
    pub(crate) fn settle(&self) -> Result<(), StoreError> {
        self.file.as_file().sync_all().map_err(|error| not_written(&self.folder, &error))
    }

    /// Gives it its name. Called within the write that adds its row, so that no other one deletes it meanwhile.
    pub(crate) fn keep(self, ending: &str) -> Result<(), StoreError> {
        let (content, _) = self.content();
        let path = self.folder.join(file_name(&content, ending)?);
        self.file.persist(&path).map_err(|error| not_written(&path, &error.error))?;
        Ok(())
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
        let path = self.picture_folder()?.join(file_name(content, ending)?);
        fs::read(&path).map_err(|error| not_read(&path, &error))
    }

    /// Deletes a picture's file; one that is gone already is no error.
    pub(crate) fn remove_picture_file(
        &self,
        content: &str,
        ending: &str,
    ) -> Result<(), StoreError> {
        let path = self.picture_folder()?.join(file_name(content, ending)?);
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
        let file = unfinished(&folder)?;
        Ok(PictureDraft { file, hash: Sha256::new(), bytes: 0, folder })
    }
}

fn unfinished(folder: &Path) -> Result<NamedTempFile, StoreError> {
    let file = tempfile::Builder::new().prefix(UNFINISHED).tempfile_in(folder);
    file.map_err(|error| not_written(folder, &error))
}

/// Takes away what a program that was cut off left half received. Only who holds the workshop file may: nobody is
/// receiving anything then.
pub(crate) fn sweep(workshop: &Path) {
    let Ok(files) = fs::read_dir(picture_folder(workshop)) else { return };
    for file in files.filter_map(Result::ok) {
        let name = file.file_name();
        let name = name.to_string_lossy();
        if name.starts_with(UNFINISHED) || name.starts_with(UNFINISHED_BEFORE) {
            // One that cannot be deleted is in nobody's way.
            let _ = fs::remove_file(file.path());
        }
    }
}

/// The folder of a workshop file's pictures.
pub(crate) fn picture_folder(workshop: &Path) -> PathBuf {
    beside(workshop, "pictures")
}

/// What became of the pictures of a workshop that was copied.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Carried {
    /// So many are whole in the copy.
    pub whole: usize,
    /// File names of those that are not there.
    pub missing: Vec<String>,
    /// File names of those whose content is not what was received; they were left out of the copy.
    pub damaged: Vec<String>,
}

/// So many file names are told.
const NAMED: usize = 5;

impl Carried {
    /// All that belong to the workshop are in the copy.
    #[must_use]
    pub fn is_whole(&self) -> bool {
        self.missing.is_empty() && self.damaged.is_empty()
    }
}

impl fmt::Display for Carried {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let pictures = |count| if count == 1 { "picture" } else { "pictures" };
        for (names, what) in [(&self.missing, "missing"), (&self.damaged, "damaged")] {
            if !names.is_empty() {
                let listed = names.iter().take(NAMED).map(String::as_str).collect::<Vec<_>>();
                let more = if names.len() > NAMED { " …" } else { "" };
                let (count, listed) = (names.len(), listed.join(", "));
                write!(f, "{count} {} {what}: {listed}{more}. ", pictures(count))?;
            }
        }
        write!(f, "{} {} whole", self.whole, pictures(self.whole))
    }
}

/// Copies pictures from one folder to another, each checked by the hash that is its name; one that is whole there
/// already stays. Links and devices are left alone.
pub(crate) fn carry_pictures(
    from: &Path,
    to: &Path,
    wanted: &[(String, String)],
) -> Result<Carried, StoreError> {
    let mut carried = Carried::default();
    for (content, ending) in wanted {
        let name = file_name(content, ending)?;
        let (old, new) = (from.join(&name), to.join(&name));
        if hash_of(&new).is_ok_and(|hash| hash == *content) {
            carried.whole += 1;
            continue;
        }
        match ordinary(&old) {
            Err(_) => carried.missing.push(name),
            Ok(source) => {
                fs::create_dir_all(to).map_err(|error| not_written(to, &error))?;
                let is_whole = copy_whole(source, to, (content, &new))?;
                match is_whole {
                    true => carried.whole += 1,
                    false => carried.damaged.push(name),
                }
            }
        }
    }
    Ok(carried)
}

/// A copy appears under its name when it is whole; tells whether it is.
fn copy_whole(
    mut source: File,
    folder: &Path,
    (content, to): (&str, &Path),
) -> Result<bool, StoreError> {
    let failed = |error: &std::io::Error| not_written(to, error);
    let mut fresh = unfinished(folder)?;
    std::io::copy(&mut source, fresh.as_file_mut()).map_err(|error| failed(&error))?;
    if !hash_of(fresh.path()).is_ok_and(|hash| hash == content) {
        return Ok(false);
    }
    fresh.as_file().sync_all().map_err(|error| failed(&error))?;
    fresh.persist(to).map_err(|error| failed(&error.error))?;
    Ok(true)
}

fn hash_of(path: &Path) -> std::io::Result<String> {
    let mut file = ordinary(path)?;
    let mut hash = Sha256::new();
    let mut piece = vec![0; 1 << 16];
    loop {
        match file.read(&mut piece)? {
            0 => return Ok(hex(&hash.finalize())),
            count => hash.update(&piece[..count]),
        }
    }
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
