//! One reading, kept as it came.

use std::fmt;
use std::str::FromStr;

use colour::{Conditions, ConversionError, Lab, Reflectance, StatedLab, UnknownName};
use serde::{Deserialize, Serialize};

use crate::{Calibration, FromPicture, Mixture, short_names};

/// State of the paint when it was read.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Default, Serialize, Deserialize,
)]
pub enum State {
    /// Just swatched.
    Wet,
    /// Dried.
    #[default]
    Dry,
    /// After an attempt to lift the dry paint with a damp brush.
    Lifted,
}

/// What lies under the film.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Default, Serialize, Deserialize,
)]
pub enum Backing {
    /// The sheet itself.
    #[default]
    Paper,
    /// The white of an opacity card.
    White,
    /// The black of an opacity card.
    Black,
}

/// How thick the paint stands.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Default, Serialize, Deserialize,
)]
pub enum FilmKind {
    /// A full film: mass tone, tint or mixture.
    #[default]
    Full,
    /// Scraped down, or a wash: undertone.
    Thin,
}

short_names!(State, "state", "wet, dry or lifted", Wet = "wet", Dry = "dry", Lifted = "lifted");
short_names!(
    Backing,
    "backing",
    "paper, white or black",
    Paper = "paper",
    White = "white",
    Black = "black"
);
short_names!(FilmKind, "film", "full or thin", Full = "full", Thin = "thin");

/// How a reading came to be.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
pub enum ReadingSource {
    /// A colour meter gave it here.
    #[default]
    Meter,
    /// It was typed.
    Typed,
    /// It came in a file that does not say more.
    File,
    /// Judged by eye.
    Eye,
    /// From a scan of the sheet.
    Scan,
    /// From a photo of the sheet.
    Photo,
}

short_names!(
    ReadingSource,
    "source",
    "meter, typed, file, eye, scan or photo",
    Meter = "meter",
    Typed = "typed",
    File = "file",
    Eye = "eye",
    Scan = "scan",
    Photo = "photo"
);

/// What the instrument gave.
#[derive(Debug, Clone, Copy, PartialEq)]
#[expect(clippy::large_enum_variant, reason = "most readings are spectra")]
pub enum Measured {
    /// A spectrum.
    Spectrum(Reflectance),
    /// A colour for one illuminant and observer.
    Lab(StatedLab),
}

impl Measured {
    /// CIELAB under `conditions`.
    ///
    /// # Errors
    /// For a Lab-only reading of another observer.
    pub fn lab(&self, conditions: Conditions) -> Result<Lab, ConversionError> {
        match self {
            Self::Spectrum(reflectance) => Ok(Lab::from_reflectance(reflectance, conditions)),
            Self::Lab(stated) => stated.under(conditions),
        }
    }
}

/// How far a mixture's ratio may be off.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub enum RatioError {
    /// As the study's protocol states it.
    #[default]
    AsStated,
    /// One standard deviation of ln of the ratio, 0 or more.
    Known(f64),
    /// The ratio was only meant: it was put out by eye.
    ByEye,
    /// It was put out by eye, and its ratio was estimated from its colour: one standard deviation of ln of
    /// the ratio, 0 or more. Such a mixture never feeds a fit of K and S, nor a strength.
    Estimated(f64),
}

/// What stands before the standard deviation of an estimated ratio.
const ESTIMATED: &str = "estimated ";

impl Measured {
    /// Something about a spectrum that no paint and no paper does, though every band is in range:
    /// all bands the same to the last digit, as a cap on the head or a broken cable gives. Not said
    /// of colours. `None` where nothing is odd.
    #[must_use]
    pub fn suspicion(&self) -> Option<String> {
        let Self::Spectrum(reflectance) = self else { return None };
        let [first, rest @ ..] = reflectance.bands().as_slice() else { return None };
        let constant = rest.iter().all(|band| (band - first).abs() < 1e-9);
        constant.then(|| {
            format!(
                "every band of this spectrum is {first}, which no paint gives: is the cap on, or the \
                 cable loose?"
            )
        })
    }
}

impl fmt::Display for RatioError {
    /// Nothing, `eye`, the standard deviation, or `estimated` and that.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::AsStated => Ok(()),
            Self::Known(sigma) => write!(f, "{sigma}"),
            Self::ByEye => f.write_str("eye"),
            Self::Estimated(sigma) => write!(f, "{ESTIMATED}{sigma}"),
        }
    }
}

impl FromStr for RatioError {
    type Err = UnknownName;

    fn from_str(text: &str) -> Result<Self, UnknownName> {
        let (estimated, number) = match text.trim().strip_prefix(ESTIMATED) {
            Some(number) => (true, number),
            None => (false, text.trim()),
        };
        match (text.trim(), number.trim().parse::<f64>()) {
            ("", _) => Ok(Self::AsStated),
            ("eye", _) => Ok(Self::ByEye),
            (_, Ok(sigma)) if (0.0..=10.0).contains(&sigma) && estimated => {
                Ok(Self::Estimated(sigma))
            }
            (_, Ok(sigma)) if (0.0..=10.0).contains(&sigma) => Ok(Self::Known(sigma)),
            _ => Err(UnknownName {
                what: "ratio error",
                found: text.into(),
                expected: "eye, or a standard deviation from 0 to 10 such as 0.02 or estimated 0.1",
            }),
        }
    }
}

/// One reading of one swatch.
#[derive(Debug, Clone, PartialEq)]
pub struct Reading {
    /// What was mixed.
    pub mixture: Mixture,
    /// How far its ratio may be off.
    pub ratio_error: RatioError,
    /// Full or thin film.
    pub film: FilmKind,
    /// What lies under it.
    pub backing: Backing,
    /// Wet, dry or lifted.
    pub state: State,
    /// Number of the repeat, from 1.
    pub repeat: u32,
    /// What the instrument gave.
    pub measured: Measured,
    /// How it came to be.
    pub source: ReadingSource,
    /// What it rests on, where it comes from a picture.
    pub from_picture: Option<FromPicture>,
    /// A simulated device made it up: it is no measurement, and says so wherever it goes.
    pub simulated: bool,
    /// Why it does not count; a void reading stays, and no figure uses it.
    pub void: Option<String>,
    /// Line of the file it came from, from 1.
    pub line: Option<usize>,
}

impl Reading {
    /// What a picture's colours rest on; nothing comes before everything, since a reading that is of no picture counts
    /// before those that are. Readings of unlike rank are never averaged.
    #[must_use]
    pub fn rank(&self) -> Option<Calibration> {
        self.from_picture.as_ref().map(|from| from.calibration)
    }
}
