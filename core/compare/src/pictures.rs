//! What pictures leave of a comparison.

use crate::cells::Cell;
use crate::footing::Apart;

/// What pictures add to a half-width: a share of the distance, and ΔE00 within one sheet and across sheets.
const SHARE: f64 = 0.2;
const ONE_SHEET: f64 = 0.35;
const TWO_SHEETS: f64 = 0.6;
/// The share by which a use from scans or photos may be off (95 %).
const USE_SCAN: f64 = 0.05;
const USE_PHOTO: f64 = 0.12;

/// What pictures add to a half-width; `None` for readings of no picture.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Pictures {
    floor: f64,
    /// The share by which a use may be off besides.
    pub use_added: f64,
}

impl Pictures {
    /// # Errors
    /// Where nothing calibrates two pictures that have to be compared.
    pub fn of(pairs: &[(Cell<'_>, Cell<'_>)]) -> Result<Option<Self>, Apart> {
        let both = |pair: &(Cell<'_>, Cell<'_>)| (pair.0.pictures.clone(), pair.1.pictures.clone());
        let of_picture = |(one, other): &(Vec<_>, Vec<_>)| !one.is_empty() || !other.is_empty();
        let all: Vec<_> = pairs.iter().map(both).filter(of_picture).collect();
        if all.is_empty() {
            return Ok(None);
        }
        let in_one = all.iter().all(|(one, other)| one == other);
        let uncalibrated =
            pairs.iter().any(|(one, other)| one.is_uncalibrated || other.is_uncalibrated);
        if uncalibrated && !in_one {
            return Err(Apart::Uncalibrated);
        }
        let is_photo = pairs.iter().any(|(one, other)| one.is_photo || other.is_photo);
        Ok(Some(Self {
            floor: if in_one { ONE_SHEET } else { TWO_SHEETS },
            use_added: if is_photo { USE_PHOTO } else { USE_SCAN },
        }))
    }

    /// A half-width of a distance, with what pictures add.
    pub fn widened(self, half_width: f64, distance: f64) -> f64 {
        half_width.hypot(SHARE * distance).hypot(self.floor)
    }
}
