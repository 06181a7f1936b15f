//! The header row: which column holds what.

use std::collections::HashMap;

use colour::{BANDS, wavelength};

use super::error::{FileError, Problem};

/// Columns that every file has, in the order in which they are written.
pub(super) const REQUIRED: [&str; 10] = [
    "tube",
    "maker",
    "code",
    "with",
    "parts",
    "with_parts",
    "white_parts",
    "state",
    "backing",
    "repeat",
];
/// A third to fifth tube.
pub(super) const MORE: [(&str, &str); 3] =
    [("with2", "with2_parts"), ("with3", "with3_parts"), ("with4", "with4_parts")];
/// CIELAB.
pub(super) const LAB: [&str; 3] = ["L", "a", "b"];
/// Full or thin film.
pub(super) const FILM: &str = "film";
/// How far the ratio may be off, where that is known of the mixture itself.
pub(super) const RATIO_ERROR: &str = "ratio_error";
/// Why a reading does not count.
pub(super) const VOID: &str = "void";

/// How a reading came to be.
pub(super) const SOURCE: &str = "source";
/// `yes` where a simulated device made it up.
pub(super) const SIMULATED: &str = "simulated";
/// Which picture it comes from.
pub(super) const PICTURE: &str = "picture";
/// How far a reading from a picture may be off.
pub(super) const UNCERTAINTY: &str = "uncertainty";
/// What a reading from a picture rests on.
pub(super) const CALIBRATION: &str = "calibration";

/// Name of a spectral column: `R380` to `R730`.
pub(super) fn band_name(band: usize) -> String {
    format!("R{}", wavelength(band))
}

/// Where each known column stands; other columns are kept, and not read.
#[derive(Debug)]
pub(super) struct Columns {
    pub required: [usize; 10],
    pub more: [Option<(usize, usize)>; 3],
    pub film: Option<usize>,
    pub ratio_error: Option<usize>,
    pub void: Option<usize>,
    pub source: Option<usize>,
    pub simulated: Option<usize>,
    /// Picture, uncertainty and what it rests on.
    pub picture: Option<(usize, usize, Option<usize>)>,
    pub lab: Option<[usize; 3]>,
    pub bands: Option<[usize; BANDS]>,
    pub names: Vec<String>,
}

impl Columns {
    /// Finds the columns of a header row that stands at `line`.
    pub fn find(names: Vec<String>, line: usize) -> Result<Self, FileError> {
        let mut places: HashMap<&str, usize> = HashMap::new();
        for (at, name) in names.iter().enumerate() {
            if places.insert(name, at).is_some() {
                let problem = Problem::RepeatedColumn(name.clone());
                return Err(FileError::named(line, at + 1, name, problem));
            }
        }
        let place = |name: &str| places.get(name).copied();
        let missing =
            |name: &str| FileError::at(line, names.len(), Problem::MissingColumn(name.to_owned()));
        let need = |name: &str| place(name).ok_or_else(|| missing(name));
        let mut required = [0; 10];
        for (at, name) in required.iter_mut().zip(REQUIRED) {
            *at = need(name)?;
        }
        let mut more = [None; 3];
        for (at, (with, parts)) in more.iter_mut().zip(MORE) {
            if let Some(with) = place(with) {
                *at = Some((with, need(parts)?));
            }
        }
        let lab = if LAB.iter().any(|name| place(name).is_some()) {
            Some([need("L")?, need("a")?, need("b")?])
        } else {
            None
        };
        let mut bands = None;
        if (0..BANDS).any(|band| place(&band_name(band)).is_some()) {
            let mut found = [0; BANDS];
            for (band, at) in found.iter_mut().enumerate() {
                *at = need(&band_name(band))?;
            }
            bands = Some(found);
        }
        if lab.is_none() && bands.is_none() {
            return Err(FileError::at(line, names.len(), Problem::NoColourColumns));
        }
        let (film, void) = (place(FILM), place(VOID));
        let (source, simulated) = (place(SOURCE), place(SIMULATED));
        let ratio_error = place(RATIO_ERROR);
        let picture = match place(PICTURE) {
            Some(at) => Some((at, need(UNCERTAINTY)?, place(CALIBRATION))),
            None => None,
        };
        Ok(Self {
            required,
            more,
            film,
            ratio_error,
            void,
            source,
            simulated,
            picture,
            lab,
            bands,
            names,
        })
    }
}
