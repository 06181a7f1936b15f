//! What a reading from a scan or a photo rests on, and how far it may be off.

use std::sync::Arc;

use colour::Lab;
use serde::{Deserialize, Serialize};

use crate::short_names;
use crate::uncertain::per_axis;

/// What the colours of a picture rest on, the best first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub enum Calibration {
    /// Squares of known colour, some of them with every pigment of this one.
    Calibrated,
    /// Squares of known colour, none of them of a tube of this one: its colour is a guess, helped by what is typical of
    /// its pigments; comparisons hold.
    Guessed,
    /// Nothing: colours are good for comparing squares of one picture.
    Uncalibrated,
}

short_names!(
    Calibration,
    "calibration",
    "calibrated, guessed or uncalibrated",
    Calibrated = "calibrated",
    Guessed = "guessed",
    Uncalibrated = "uncalibrated"
);

/// What a reading from a picture rests on.
#[derive(Debug, Clone, PartialEq)]
pub struct FromPicture {
    /// Which picture: readings of one share their error.
    pub picture: Arc<str>,
    /// Half-width of its 95 % interval, ΔE00, above 0.
    pub uncertainty: f64,
    /// What it rests on.
    pub calibration: Calibration,
}

/// What a mean of readings from pictures rests on.
#[derive(Debug, Clone, PartialEq)]
pub struct InPictures {
    /// The pictures, in order, each once.
    pub pictures: Vec<Arc<str>>,
    /// Half-width of its 95 % interval, ΔE00. Pictures by one device err alike, so a mean of two is no surer (ours).
    pub uncertainty: f64,
    /// The least that one of them rests on.
    pub calibration: Calibration,
    /// One of them is a photo.
    pub is_photo: bool,
}

impl InPictures {
    /// Of one reading or more, each with whether it is from a photo.
    pub(crate) fn of(readings: &[(&FromPicture, bool)]) -> Option<Self> {
        let mut pictures: Vec<Arc<str>> =
            readings.iter().map(|(from, _)| Arc::clone(&from.picture)).collect();
        pictures.sort();
        pictures.dedup();
        let squares: f64 = readings.iter().map(|(from, _)| from.uncertainty.powi(2)).sum();
        Some(Self {
            pictures,
            uncertainty: (squares / readings.len() as f64).sqrt(),
            calibration: readings.iter().map(|(from, _)| from.calibration).max()?,
            is_photo: readings.iter().any(|(_, is_photo)| *is_photo),
        })
    }

    /// Half-widths of L*, a* and b* that give this ΔE00: a third of its square each in lightness, chroma and hue
    /// (ours), weighed as CIEDE2000 does.
    pub(crate) fn half_width(&self, lab: Lab) -> [f64; 3] {
        per_axis(lab, self.uncertainty / 3.0_f64.sqrt())
    }
}

#[cfg(test)]
mod tests {
    use colour::ciede2000;

    use super::*;

    /// A ΔE00 that is turned into half-widths comes out again, when each axis is moved by its own.
    #[test]
    fn half_widths_give_the_difference_back() {
        let from = FromPicture {
            picture: "a".into(),
            uncertainty: 2.0,
            calibration: Calibration::Calibrated,
        };
        let told = InPictures::of(&[(&from, false)]).expect("one reading");
        // Greys, a dark and a light colour, vivid ones; CIEDE2000 turns blues, so they come out less alike.
        for (lab, within) in [
            ([50.0, 0.0, 0.0], 0.25),
            ([20.0, 5.0, -8.0], 0.3),
            ([90.0, -3.0, 60.0], 0.3),
            ([50.0, 65.0, 40.0], 0.3),
            ([60.0, -50.0, 20.0], 0.3),
            ([35.0, 25.0, -55.0], 0.5),
        ] {
            let middle = Lab::from_axes(lab);
            let moved = (0..3).map(|axis| {
                let mut axes = lab;
                axes[axis] += told.half_width(middle)[axis];
                ciede2000(middle, Lab::from_axes(axes)).value().powi(2)
            });
            let whole = moved.sum::<f64>().sqrt();
            assert!((whole / 2.0).ln().abs() < within, "{lab:?}: {whole}");
        }
    }
}
