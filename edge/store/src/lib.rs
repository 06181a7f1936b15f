//! The workshop's records in one SQLite file. The only crate that knows SQL.
//!
//! One file an aggregate: [`Store`]'s functions for the shelf in `tubes`, for reference palettes in
//! `palettes`, for kept plans and settings in `presets`, for trials in `trials` with their `plans` and `swatches`, for what was measured in
//! `readings` and `voids`, for pictures of sheets in `pictures` and `picture_files`, for phones in `sessions`, for what else was done at the bench in `log`, and for whole files in `import`. The file itself is
//! known in `file`, opened in `opening`, copied in [`backup`], compared with what our releases made in `schema`, and turned into open files in [`archive`]. Every write
//! goes through `writing`; a form that is sent twice is recognised in `answers`.

mod answers;
pub mod archive;
pub mod backup;
mod charts;
mod error;
mod file;
mod ids;
mod import;
mod log;
mod opening;
mod palettes;
mod paths;
mod picture_files;
mod pictures;
mod plans;
mod presets;
mod readings;
pub mod records;
mod ruled_chart;
mod schema;
mod sessions;
mod swatches;
mod trial;
mod trials;
mod tubes;
mod voids;
mod writing;

use std::path::PathBuf;
use std::sync::{Arc, OnceLock};

pub use bench::ReadingId;
pub use charts::LaidOut;
pub use error::StoreError;
pub use file::Hold;
pub use ids::{PaletteId, TrialId};
pub use palettes::{NewPalette, Palette};
pub use picture_files::{Carried, PictureDraft};
pub use pictures::{Adjusted, NewPicture, PictureColour, PictureId, StoredPicture, picture_name};
pub use plans::TrialPlan;
pub use presets::Preset;
pub use readings::How;
pub use ruled_chart::{RuledChart, SidesHold, TypedChart};
pub use sessions::{StoredSession, session_key};
use sqlx::SqlitePool;
use tempfile::TempDir;
pub use trial::{
    Circumstances, Last, NewTrial, PlannedSwatch, Role, Stamp, StoredReading, SwatchId, Trial,
    TrialSummary, TrialTube,
};
pub use tubes::{ShelfTube, TubeId, called};

/// A folder that is made when it is needed, and gone with the workshop.
#[derive(Debug, Default)]
pub(crate) struct Passing(OnceLock<TempDir>);

impl Passing {
    pub fn get_or_make(&self) -> Result<PathBuf, StoreError> {
        if self.0.get().is_none() {
            let made = TempDir::new()
                .map_err(|error| paths::not_written(&std::env::temp_dir(), &error))?;
            // Somebody else may have made one meanwhile; this one is gone then.
            let _ = self.0.set(made);
        }
        Ok(self.0.get().map(|folder| folder.path().to_owned()).unwrap_or_default())
    }
}

/// An open workshop file.
#[derive(Debug, Clone)]
pub struct Store {
    pool: SqlitePool,
    /// `None` for a workshop that is gone when the program ends.
    file: Option<PathBuf>,
    /// Where the pictures of such a workshop stand.
    passing: Arc<Passing>,
    /// The form that is being answered; see [`Store::once`].
    token: Option<Arc<str>>,
}
