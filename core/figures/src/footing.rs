//! What figures from pictures may say: given, indicative or refused.
//!
//! Squares of one picture share its calibration's error, and part of it cancels where they are compared. The shares,
//! and the half-widths of what is given and indicative, were found by simulation (docs/science.md, "A picture of a
//! sheet"); they are ours.

use study::{Calibration, SwatchColour, Uncertain};

use crate::interval::{Figure, Outcome, WhyNot};

/// Of a propagated half-width this is left between tints of one tube whose pigments have a known square.
const ONE_TUBE: f64 = 0.4;
/// The same where none of its pigments has one.
const ONE_TUBE_GUESSED: f64 = 0.6;

/// What the colours that a figure is worked out from were read with.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Footing {
    /// The least that a colour from a picture rests on; `None` where none is from one.
    pub calibration: Option<Calibration>,
    /// All of them come from the same picture, or the same pictures.
    pub in_one: bool,
    /// One of them is a photo.
    pub is_photo: bool,
}

/// Half-widths for a scan and for a photo.
#[derive(Debug, Clone, Copy)]
pub(crate) struct ByDevice(pub f64, pub f64);

impl Footing {
    /// Of colours that stand in one figure.
    pub fn of<'a>(colours: impl IntoIterator<Item = &'a SwatchColour>) -> Self {
        let mut colours = colours.into_iter();
        let Some(first) = colours.next() else {
            return Self { calibration: None, in_one: true, is_photo: false };
        };
        let one = |colour: &SwatchColour| {
            let from = colour.in_pictures.as_ref();
            (from.map(|it| it.calibration), from.is_some_and(|it| it.is_photo))
        };
        let names = |colour: &'a SwatchColour| colour.in_pictures.as_ref().map(|it| &it.pictures);
        let (calibration, is_photo) = one(first);
        let mut footing = Self { calibration, in_one: true, is_photo };
        for colour in colours {
            let (calibration, is_photo) = one(colour);
            footing.calibration = footing.calibration.max(calibration);
            footing.is_photo |= is_photo;
            footing.in_one &= names(colour) == names(first);
        }
        footing
    }

    /// Some of the colours come from a picture.
    pub fn is_picture(self) -> bool {
        self.calibration.is_some()
    }

    /// No known square stands behind some of them.
    pub fn is_uncalibrated(self) -> bool {
        self.calibration == Some(Calibration::Uncalibrated)
    }

    /// Some of the colours have no known square of their pigments.
    pub fn is_guessed(self) -> bool {
        self.calibration == Some(Calibration::Guessed)
    }

    /// What is left of a propagated half-width between colours of one tube, or of the same pigments.
    pub fn left_of_one_tube(self) -> f64 {
        match self.calibration {
            Some(Calibration::Calibrated) if self.in_one => ONE_TUBE,
            Some(Calibration::Guessed) if self.in_one => ONE_TUBE_GUESSED,
            _ => 1.0,
        }
    }

    /// For the device at hand.
    pub fn half_width(self, ByDevice(scan, photo): ByDevice) -> f64 {
        if self.is_photo { photo } else { scan }
    }

    /// A figure of one tube's colours: given where its pigments are known, else indicative, and uncalibrated with a
    /// half-width of `uncalibrated`.
    pub fn of_one_tube(self, figure: Outcome, uncalibrated: f64) -> Outcome {
        let figure = figure?;
        Ok(match self.calibration {
            None | Some(Calibration::Calibrated) => figure,
            Some(Calibration::Guessed) => figure.as_indicative(),
            Some(Calibration::Uncalibrated) => {
                Figure { half_width: Ok(uncalibrated), ..figure }.as_indicative()
            }
        })
    }

    /// A figure of mixtures: given with its interval, indicative where nothing is calibrated.
    pub fn of_mixtures(self, figure: Outcome) -> Outcome {
        figure.map(|figure| if self.is_uncalibrated() { figure.as_indicative() } else { figure })
    }

    /// Refused without calibration.
    pub fn calibrated(self) -> Result<(), WhyNot> {
        if self.is_uncalibrated() { Err(WhyNot::Uncalibrated) } else { Ok(()) }
    }
}

/// A colour's own part of what may be wrong with it, where `left` of it does not cancel.
pub(crate) fn own_part(colour: Uncertain, left: f64) -> Uncertain {
    Uncertain { reading: colour.reading.map(|half| half * left), ..colour }
}

#[cfg(test)]
mod tests {
    use std::sync::Arc;

    use colour::Lab;
    use study::InPictures;

    use super::*;

    fn read(pictures: &[&str], calibration: Calibration, is_photo: bool) -> SwatchColour {
        SwatchColour {
            lab: Lab::new(50.0, 20.0, 30.0),
            reflectance: None,
            repeats: 1,
            spread: None,
            half_width: [1.0; 3],
            band_half_width: None,
            between: [0.0; 3],
            in_pictures: (!pictures.is_empty()).then(|| InPictures {
                pictures: pictures.iter().map(|name| Arc::from(*name)).collect(),
                uncertainty: 2.0,
                calibration,
                is_photo,
            }),
            line: None,
        }
    }

    /// What each footing leaves of a half-width, and whether the figure is only indicative.
    #[test]
    fn errors_cancel_within_one_picture_and_never_between_two() {
        use Calibration::{Calibrated, Guessed, Uncalibrated};
        let meter = read(&[], Calibrated, false);
        let one = read(&["a"], Calibrated, false);
        let cases = [
            ([meter.clone(), meter.clone()], 1.0, false, 2.0),
            ([one.clone(), one.clone()], 0.4, false, 2.0),
            ([one.clone(), meter], 1.0, false, 2.0),
            ([one.clone(), read(&["b"], Calibrated, true)], 1.0, false, 2.0),
            ([one.clone(), read(&["a"], Guessed, false)], 0.6, true, 2.0),
            ([one, read(&["a"], Uncalibrated, true)], 1.0, true, 15.0),
        ];
        for (colours, left, indicative, half) in cases {
            let footing = Footing::of(&colours);
            assert!((footing.left_of_one_tube() - left).abs() < 1e-12, "{footing:?}");
            let shift = footing.of_one_tube(Ok(Figure::with(10.0, Some(2.0))), 15.0);
            let shift = shift.expect("a shift");
            assert_eq!((shift.indicative, shift.half_width), (indicative, Ok(half)), "{footing:?}");
        }
    }
}
