//! The face of every colour meter.

use colour::Reflectance;
use mixing::Geometry;
use thiserror::Error;
use trial::{Backing, FilmKind, State, TubeLabel};

/// What lies under the instrument. A real driver reads the paper and ignores this; a simulated one
/// makes up the paint from it.
#[derive(Debug, Clone, PartialEq)]
pub struct Specimen {
    /// Tells one swatch from another.
    pub swatch: u64,
    /// How often it was mixed anew: the same swatch and pile are the same paint.
    pub pile: u64,
    /// Tells one reading of a swatch from the next.
    pub occasion: u64,
    /// The tubes in the mixture with their parts; empty for the bare backing.
    pub paints: Vec<(TubeLabel, f64)>,
    /// What is under the film.
    pub backing: Backing,
    /// Full or thin.
    pub film: FilmKind,
    /// Wet, dry or lifted.
    pub state: State,
}

/// Why a meter gave no reading.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum MeterError {
    /// The device cannot be reached.
    #[error("the meter does not answer; check its cable, or type the reading by hand")]
    Silent,
}

/// A colour meter that gives spectra.
pub trait Meter: Send {
    /// What stands in the record of each reading.
    fn name(&self) -> &str;

    /// Its measuring geometry.
    fn geometry(&self) -> Geometry;

    /// Its stated repeatability: MCDM of readings of one spot, in ΔE00.
    fn repeatability(&self) -> f64;

    /// Takes one reading.
    ///
    /// # Errors
    /// When the device gives none; nothing is recorded then.
    fn read(&mut self, specimen: &Specimen) -> Result<Reflectance, MeterError>;
}
