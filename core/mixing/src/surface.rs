//! What the surface of the film adds to a reading, and how it is taken off again.

use std::fmt;
use std::str::FromStr;

use colour::{BANDS, Reflectance, UnknownName};

use crate::KsRatio;

/// Measuring geometry of the instrument.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub enum Geometry {
    /// Sphere, gloss included (d:8 included).
    SphereIncluded,
    /// Sphere, gloss excluded (d:8 excluded).
    SphereExcluded,
    /// Lit at 45°, read at 0° (45:0).
    #[default]
    FortyFive,
    /// The reading is already free of the surface.
    Internal,
}

/// How shiny the dry film is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub enum Sheen {
    /// A mirror-like film: a directional instrument loses the whole surface reflection.
    #[default]
    Gloss,
    /// Between the two: half of it is lost.
    Satin,
    /// A dull film keeps its surface light in every geometry.
    Matt,
}

impl FromStr for Geometry {
    type Err = UnknownName;

    fn from_str(text: &str) -> Result<Self, UnknownName> {
        match text.trim().to_ascii_lowercase().as_str() {
            "d:8 included" => Ok(Self::SphereIncluded),
            "d:8 excluded" => Ok(Self::SphereExcluded),
            "45:0" => Ok(Self::FortyFive),
            "internal" => Ok(Self::Internal),
            _ => Err(UnknownName {
                what: "geometry",
                found: text.into(),
                expected: "d:8 included, d:8 excluded, 45:0 or internal",
            }),
        }
    }
}

impl fmt::Display for Geometry {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::SphereIncluded => "d:8 included",
            Self::SphereExcluded => "d:8 excluded",
            Self::FortyFive => "45:0",
            Self::Internal => "internal",
        })
    }
}

impl FromStr for Sheen {
    type Err = UnknownName;

    fn from_str(text: &str) -> Result<Self, UnknownName> {
        match text.trim().to_ascii_lowercase().as_str() {
            "gloss" => Ok(Self::Gloss),
            "satin" => Ok(Self::Satin),
            "matt" => Ok(Self::Matt),
            _ => Err(UnknownName {
                what: "sheen",
                found: text.into(),
                expected: "gloss, satin or matt",
            }),
        }
    }
}

impl fmt::Display for Sheen {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Gloss => "gloss",
            Self::Satin => "satin",
            Self::Matt => "matt",
        })
    }
}

/// The surface between film and air (Saunderson 1942).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Surface {
    /// Share of the light falling on the film that its surface reflects, 0–1. 0.04 for n = 1.5.
    pub k1: f64,
    /// Share of the diffuse light inside that the surface throws back, 0–1. About 0.6 for n = 1.5.
    pub k2: f64,
    /// Share of k1 that the instrument does not see, 0–1: m·k1 is missing from the reading.
    pub lost: f64,
}

impl Surface {
    /// The nominal surface of a paint film (k1 0.04, k2 0.6) as a geometry sees it; `None` where
    /// the readings are already free of it.
    #[must_use]
    pub fn nominal(geometry: Geometry, sheen: Sheen) -> Option<Self> {
        let lost = match (geometry, sheen) {
            (Geometry::Internal, _) => return None,
            (Geometry::SphereIncluded, _) | (_, Sheen::Matt) => 0.0,
            (_, Sheen::Satin) => 0.5,
            (_, Sheen::Gloss) => 1.0,
        };
        Some(Self { k1: 0.04, k2: 0.6, lost })
    }

    /// Takes the surface off: measured factor to internal reflectance. Below 0 or above 1 where
    /// the reading does not fit the surface.
    #[must_use]
    pub fn correct(self, measured: f64) -> f64 {
        let through = measured - self.k1 * (1.0 - self.lost);
        let y = through / ((1.0 - self.k1) * (1.0 - self.k2));
        y / (1.0 + self.k2 * y)
    }

    /// Puts the surface on: internal reflectance to what the instrument reads.
    #[must_use]
    pub fn apply(self, internal: f64) -> f64 {
        self.k1 * (1.0 - self.lost)
            + (1.0 - self.k1) * (1.0 - self.k2) * internal / (1.0 - self.k2 * internal)
    }
}

/// Reflectance inside the film, its surface taken off; 36 bands as in [`Reflectance`].
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct InternalReflectance([f64; BANDS]);

impl InternalReflectance {
    /// Below this a band shows nothing but the surface, and its K/S is left out.
    pub const SURFACE_FLOOR: f64 = 0.002;

    /// From a measured reflectance; `None` for the surface when it is already off.
    #[must_use]
    pub fn from_measured(measured: &Reflectance, surface: Option<Surface>) -> Self {
        Self(measured.bands().map(|r| surface.map_or(r, |surface| surface.correct(r))))
    }

    /// Builds a spectrum band by band.
    #[must_use]
    pub fn from_fn(value: impl FnMut(usize) -> f64) -> Self {
        Self(std::array::from_fn(value))
    }

    /// Puts a surface on again; `None` leaves it off.
    #[must_use]
    pub fn to_measured(&self, surface: Option<Surface>) -> Reflectance {
        Reflectance::from_fn(|band| {
            surface.map_or(self.0[band], |surface| surface.apply(self.0[band]))
        })
    }

    /// The 36 factors.
    #[must_use]
    pub fn bands(&self) -> &[f64; BANDS] {
        &self.0
    }

    /// K/S of a hiding film in one band; `None` at the surface floor and above 1.
    #[must_use]
    pub fn ks(&self, band: usize) -> Option<KsRatio> {
        ks_above_floor(*self.0.get(band)?)
    }
}

/// K/S of one internal reflectance; `None` at the surface floor (below 0.002) and above 1.
pub(crate) fn ks_above_floor(internal: f64) -> Option<KsRatio> {
    (internal >= InternalReflectance::SURFACE_FLOOR)
        .then(|| KsRatio::of_hiding_film(internal))
        .flatten()
}

impl KsRatio {
    /// K/S of a single corrected factor (a tristimulus value taken as a reflectance); `None` at
    /// the surface floor (below 0.002) and above 1.
    #[must_use]
    pub fn of_corrected(measured: f64, surface: Option<Surface>) -> Option<Self> {
        ks_above_floor(surface.map_or(measured, |surface| surface.correct(measured)))
    }
}
