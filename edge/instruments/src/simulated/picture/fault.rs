//! What goes wrong when a picture is taken or a sheet is painted.

use colour::Reflectance;
use rand::Rng;
use rand_chacha::ChaCha8Rng;

use super::{PaintedSheet, Spot};

/// What goes wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PictureFault {
    /// A lamp is mirrored in a square.
    Glare,
    /// A window is mirrored in the whole of a square.
    Veil,
    /// The hand shook.
    Blur,
    /// There was too little light.
    Dark,
    /// Seen from the side.
    Oblique,
    /// The paper bulges, a few millimetres high.
    Bent,
    /// It lies in waves, as paper does that was wet.
    Wavy,
    /// A corner is covered.
    CornerMissing,
    /// A hand's shadow lies over the sheet.
    Shadow,
    /// Two squares hold each other's paint.
    Swapped,
    /// A square was forgotten.
    Empty,
    /// Half of a square is another colour.
    TwoTone,
    /// The paint of a square is speckled.
    Granulates,
}

/// Does to some squares what the faults say; gives their numbers.
pub(super) fn paint(
    sheet: &mut PaintedSheet,
    faults: &[PictureFault],
    chance: &mut ChaCha8Rng,
) -> Vec<u32> {
    let mut faulty = Vec::new();
    for fault in faults {
        let painted: Vec<usize> = (0..sheet.squares.len())
            .filter(|at| {
                let square = &sheet.squares[*at];
                square.paint.as_ref().is_some_and(|it| contrast(it, &sheet.paper) > 0.12)
                    && !faulty.contains(&square.number)
            })
            .collect();
        if painted.len() < 2 {
            continue;
        }
        let at = painted[chance.random_range(0..painted.len())];
        match fault {
            PictureFault::Swapped => {
                let own = sheet.squares[at].paint;
                let far = |other: &usize| {
                    let pair = own.as_ref().zip(sheet.squares[*other].paint.as_ref());
                    pair.map_or(0.0, |(one, other)| contrast(one, other))
                };
                let other = painted.iter().copied().max_by(|a, b| far(a).total_cmp(&far(b)));
                let other = other.unwrap_or(at);
                sheet.squares[at].paint = sheet.squares[other].paint;
                sheet.squares[other].paint = own;
                faulty.push(sheet.squares[other].number);
            }
            PictureFault::Empty => sheet.squares[at].paint = None,
            PictureFault::TwoTone => {
                let other = sheet.squares[at]
                    .paint
                    .as_ref()
                    .map(|own| Reflectance::from_fn(|band| (own.bands()[band] * 0.72).max(0.01)));
                sheet.squares[at].other_half = other;
            }
            PictureFault::Granulates => sheet.squares[at].speckle = 0.12,
            _ => continue,
        }
        faulty.push(sheet.squares[at].number);
    }
    faulty
}

fn contrast(one: &Reflectance, other: &Reflectance) -> f64 {
    let squares = one.bands().iter().zip(other.bands()).map(|(a, b)| (a - b).powi(2));
    (squares.sum::<f64>() / one.bands().len() as f64).sqrt()
}

/// Spots of mirrored light, where there is glare.
pub(super) fn glare(
    sheet: &PaintedSheet,
    faults: &[PictureFault],
    chance: &mut ChaCha8Rng,
) -> Vec<Spot> {
    let painted: Vec<_> = sheet.squares.iter().filter(|square| square.paint.is_some()).collect();
    if painted.is_empty() {
        return Vec::new();
    }
    let mirrored = [(PictureFault::Glare, 3.0, 0.5), (PictureFault::Veil, 60.0, 0.1)];
    let mirrored = mirrored.into_iter().filter(|(fault, ..)| faults.contains(fault));
    mirrored
        .map(|(fault, radius_mm, strength)| {
            let square = painted[chance.random_range(0..painted.len())];
            let [x, y, side] = square.area_mm;
            Spot {
                number: square.number,
                at_mm: [x + 0.45 * side, y + 0.55 * side],
                radius_mm,
                strength,
                area_mm: (fault == PictureFault::Veil).then_some(square.area_mm),
            }
        })
        .collect()
}
