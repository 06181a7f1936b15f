//! Typical paints by Colour Index name: what is expected of a tube that nobody has read.
//!
//! From memory, and no measurement of any product. A real tube lies about its typical paint with a load of
//! 0.5 to 1.6 times ([`LOAD_SIGMA`]) and a hue of ± 8° ([`HUE_SIGMA`]) (ours). Where paints of different colours
//! share a name (raw and burnt earths, light and deep yellows), the words of the tube's name tell which is meant.

mod chips;
mod curves;
mod look;

use colour::{BANDS, wavelength};

use crate::{Constants, FitKind};
pub use look::{HUE_WORDS, Look, hue_of_name, seen_as};

/// One standard deviation of ln of a tube's load beside the typical paint's.
pub const LOAD_SIGMA: f64 = 0.45;
/// One standard deviation of its hue, degrees.
pub const HUE_SIGMA: f64 = 8.0;

/// Scattering of a full film of the typical white at 550 nm; the unit of [`TypicalPaint::constants`].
const WHITE_SCATTERING: f64 = 15.0;
const WHITE_FALL: f64 = 0.9;

/// One feature of an absorption curve; wavelengths and widths in nm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Feature {
    /// A bell: centre, width, height.
    Bell(f64, f64, f64),
    /// Absorbs all that is shorter: edge, softness, height.
    Below(f64, f64, f64),
    /// Absorbs all that is longer: edge, softness, height.
    Above(f64, f64, f64),
    /// Absorbs between two edges: lower, upper, their softnesses, height.
    Band(f64, f64, f64, f64, f64),
    /// The same at every wavelength: height.
    Flat(f64),
}

impl Feature {
    /// What it adds to K at a wavelength in nm.
    #[must_use]
    pub fn at(&self, nm: f64) -> f64 {
        let short_of = |edge: f64, softness: f64| 1.0 / (1.0 + ((nm - edge) / softness).exp());
        match *self {
            Self::Bell(centre, width, height) => {
                height * (-((nm - centre) / width).powi(2) / 2.0).exp()
            }
            Self::Below(edge, softness, height) => height * short_of(edge, softness),
            Self::Above(edge, softness, height) => height * short_of(edge, -softness),
            Self::Band(lower, upper, soft, softer, height) => {
                height * short_of(lower, -soft) * short_of(upper, softer)
            }
            Self::Flat(height) => height,
        }
    }
}

/// A pigment in full load. K and S are those of a full film (150 µm wet) of neat paint.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TypicalPaint {
    /// Its Colour Index name.
    pub name: &'static str,
    /// What painters call it.
    pub common: &'static str,
    /// Its absorption, added up.
    pub absorption: &'static [Feature],
    /// Scattering at 550 nm.
    pub scattering: f64,
    /// Scattering falls with wavelength to this power.
    pub fall: f64,
    /// Share of a dry film that lifting leaves, 0 to 1.
    pub staining: f64,
}

impl TypicalPaint {
    /// Every name that is known, each in its usual form.
    pub const ALL: &'static [Self] = curves::PAINTS;

    /// The usual form of a Colour Index name, in its usual spelling.
    #[must_use]
    pub fn named(name: &str) -> Option<&'static Self> {
        Self::ALL.iter().find(|paint| paint.name == name)
    }

    /// The form of a Colour Index name that a tube's own name tells ("Burnt Umber"); else the usual one.
    #[must_use]
    pub fn of_tube(name: &str, tube: &str) -> Option<&'static Self> {
        let tube = tube.to_lowercase();
        let says = |word: &&str| tube.split(|it: char| !it.is_alphabetic()).any(|it| it == *word);
        let form = curves::FORMS
            .iter()
            .find(|(words, paint)| paint.name == name && words.iter().all(says));
        form.map(|(_, paint)| paint).or_else(|| Self::named(name))
    }

    /// K of a full film at a wavelength in nm.
    #[must_use]
    pub fn k(&self, nm: f64) -> f64 {
        self.absorption.iter().map(|feature| feature.at(nm)).sum()
    }

    /// S of a full film at a wavelength in nm.
    #[must_use]
    pub fn s(&self, nm: f64) -> f64 {
        self.scattering * (nm / 550.0).powf(-self.fall)
    }

    /// K and S with the white's S as unit, as a fit gives them.
    #[must_use]
    pub fn constants(&self) -> Constants {
        let nm = |band| f64::from(wavelength(band));
        let unit = |band| WHITE_SCATTERING * (nm(band) / 550.0).powf(-WHITE_FALL);
        Constants {
            k: std::array::from_fn(|band: usize| self.k(nm(band)) / unit(band)),
            s: std::array::from_fn(|band: usize| (self.s(nm(band)) / unit(band)).max(0.001)),
            thickness: Some(WHITE_SCATTERING),
            kind: FitKind::TwoConstants,
            residual: 0.0,
        }
    }
}

/// K and S of a tube of this name that declares these pigments; `None` where it declares none, or one that is not known.
///
/// Nobody knows the shares in a tube of several: each pigment has 0.6 of the one before it on the label (makers name the
/// largest part first, common practice, no source), as far as the hue that its name tells has no more of another.
#[must_use]
pub fn typical_constants<'a>(
    tube: &str,
    pigments: impl IntoIterator<Item = &'a str>,
) -> Option<Constants> {
    constants_as_seen(tube, pigments, Look::default())
}

/// The same as somebody saw the tube. One that declares no pigment, or one that is not known, is then of the typical paint
/// that comes nearest.
#[must_use]
pub fn constants_as_seen<'a>(
    tube: &str,
    pigments: impl IntoIterator<Item = &'a str>,
    look: Look,
) -> Option<Constants> {
    let of = |name: &str| Some(TypicalPaint::of_tube(name, tube)?.constants());
    let known: Option<Vec<Constants>> = pigments.into_iter().map(of).collect();
    let white = TypicalPaint::named("PW6")?.constants();
    let pigments = match known {
        Some(known) if !known.is_empty() => known,
        _ => vec![look.nearest(&white)?],
    };
    seen_as(&pigments, tube, &white, look, Look::light())
}

/// Vivid pigments in common use all around the hue circle: what colours can be reached at all (ours).
pub const VIVID: [&str; 12] = [
    "PY3", "PY74", "PY83", "PO73", "PR254", "PR122", "PV19", "PV23", "PB29", "PB15:3", "PG7",
    "PG36",
];

const _: () = assert!(TypicalPaint::ALL.len() >= 45 && BANDS == 36);
