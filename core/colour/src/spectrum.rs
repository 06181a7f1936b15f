//! Spectral reflectance as an instrument gives it.

use std::fmt;

/// Number of bands: 380 to 730 nm at 10 nm.
pub const BANDS: usize = 36;

/// Centre wavelength of a band in nm: 380 for band 0, 730 for band 35.
#[must_use]
pub fn wavelength(band: usize) -> u16 {
    u16::try_from(380 + 10 * band).unwrap_or(u16::MAX)
}

/// Spectral reflectance factor, 380–730 nm at 10 nm, each band within 0–1.2 (1 is the perfect
/// diffuser; fluorescent and glossy films may exceed it).
///
/// This is the *measured* factor, surface reflection included as the geometry had it. The factor
/// inside the film is another type, `mixing::InternalReflectance`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Reflectance([f64; BANDS]);

/// Why a list of numbers is not a reflectance.
#[derive(Debug, Clone, PartialEq)]
pub enum ReflectanceError {
    /// Another number of bands than 36.
    BandCount(usize),
    /// A band outside 0–1.2, or not a number.
    Band {
        /// Wavelength in nm.
        wavelength: u16,
        /// The value found.
        value: f64,
    },
}

impl fmt::Display for ReflectanceError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::BandCount(found) => {
                write!(f, "a spectrum needs 36 bands (380 to 730 nm at 10 nm), found {found}")
            }
            Self::Band { wavelength, value } => {
                write!(
                    f,
                    "reflectance at {wavelength} nm is {value}; it must lie between 0 and 1.2"
                )
            }
        }
    }
}

impl std::error::Error for ReflectanceError {}

impl Reflectance {
    /// The largest factor accepted in any band.
    pub const MAX: f64 = 1.2;

    /// Checks and takes over 36 bands.
    ///
    /// # Errors
    /// When there are not 36, or one is outside 0–1.2 or not finite.
    pub fn new(bands: &[f64]) -> Result<Self, ReflectanceError> {
        let array: [f64; BANDS] =
            bands.try_into().map_err(|_| ReflectanceError::BandCount(bands.len()))?;
        match array.iter().position(|r| !(0.0..=Self::MAX).contains(r)) {
            Some(band) => {
                Err(ReflectanceError::Band { wavelength: wavelength(band), value: array[band] })
            }
            None => Ok(Self(array)),
        }
    }

    /// The same factor in every band, held within 0–1.2.
    #[must_use]
    pub fn flat(value: f64) -> Self {
        Self([value.clamp(0.0, Self::MAX); BANDS])
    }

    /// Builds a spectrum band by band; each value is held within 0–1.2.
    #[must_use]
    pub fn from_fn(mut value: impl FnMut(usize) -> f64) -> Self {
        Self(std::array::from_fn(|band| value(band).clamp(0.0, Self::MAX)))
    }

    /// The 36 factors.
    #[must_use]
    pub fn bands(&self) -> &[f64; BANDS] {
        &self.0
    }

    /// Mean of repeats, band by band. `None` for an empty list.
    #[must_use]
    pub fn mean<'a>(repeats: impl IntoIterator<Item = &'a Self>) -> Option<Self> {
        let mut sum = [0.0; BANDS];
        let mut count = 0.0;
        for repeat in repeats {
            count += 1.0;
            for (total, value) in sum.iter_mut().zip(repeat.0) {
                *total += value;
            }
        }
        (count > 0.0).then(|| Self(sum.map(|total| total / count)))
    }
}
