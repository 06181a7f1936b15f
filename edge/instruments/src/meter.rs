//! The face of every colour meter.

use colour::Reflectance;
use mixing::Geometry;
use serde::{Deserialize, Serialize};
use study::{Backing, FilmKind, State, TubeLabel};

use crate::DeviceError;

/// What lies under the instrument. A real driver reads the paper and ignores this; a simulated one
/// makes up the paint from it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Specimen {
    /// Tells one swatch from another.
    pub swatch: u64,
    /// How often it was mixed anew: the same swatch and pile are the same paint.
    pub pile: u64,
    /// Tells one reading of a swatch from the next.
    pub occasion: u64,
    /// The tubes in the mixture with their parts; empty for the bare backing.
    pub paints: Vec<(TubeLabel, f64)>,
    /// The parts were put out by eye, and are not quite these.
    pub by_eye: bool,
    /// What is under the film.
    pub backing: Backing,
    /// Full or thin.
    pub film: FilmKind,
    /// Wet, dry or lifted.
    pub state: State,
}

/// A tile: never painted, and always the same.
pub const WHITE_TILE: u64 = u64::MAX;
/// Another.
pub const CHECK_TILE: u64 = u64::MAX - 1;

impl Specimen {
    /// One of the two tiles, read for the nth time.
    #[must_use]
    pub fn tile(tile: bench::Tile, occasion: u64) -> Self {
        let (swatch, backing) = match tile {
            bench::Tile::White => (WHITE_TILE, Backing::White),
            bench::Tile::Check => (CHECK_TILE, Backing::Paper),
        };
        Self {
            swatch,
            pile: 0,
            occasion,
            paints: Vec::new(),
            by_eye: false,
            backing,
            film: FilmKind::Full,
            state: State::Dry,
        }
    }
}

/// A colour meter that gives spectra.
pub trait Meter: Send {
    /// What stands in the record of each reading.
    fn name(&self) -> &str;

    /// It makes its readings up: each is marked as simulated for ever.
    fn simulated(&self) -> bool;

    /// It has answered once, so that what it says of itself is its own.
    fn met(&self) -> bool {
        true
    }

    /// Its measuring geometry.
    fn geometry(&self) -> Geometry;

    /// Its stated repeatability: MCDM of readings of one spot, in ΔE00.
    fn repeatability(&self) -> f64;

    /// Takes one reading.
    ///
    /// # Errors
    /// When the device gives none; nothing is recorded then.
    fn read(&mut self, specimen: &Specimen) -> Result<Reflectance, DeviceError>;
}
