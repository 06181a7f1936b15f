//! Whether a card of known colours should be read again: what pictures say of it grows when its paint changes.

/// Pictures that are compared: the first ones since the card was read, and the last ones.
const COMPARED: usize = 3;
/// A card is due where its squares lie so much farther off than at first, ΔE00, and so many times as far (ours).
const FARTHER: f64 = 1.0;
const TIMES: f64 = 1.5;

/// How far the squares of a card lay from their colours, median ΔE00.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CardOff {
    /// In the first pictures by one device.
    pub first: f64,
    /// In its last ones.
    pub last: f64,
}

impl CardOff {
    /// From the pictures by one device since the card was read, oldest first; `None` while they are too few to compare.
    #[must_use]
    pub fn of(pictures: &[f64]) -> Option<Self> {
        let (first, last) =
            (pictures.first_chunk::<COMPARED>()?, pictures.last_chunk::<COMPARED>()?);
        (pictures.len() >= 2 * COMPARED)
            .then(|| Self { first: median(*first), last: median(*last) })
    }

    /// The card should be read again.
    #[must_use]
    pub fn is_due(self) -> bool {
        self.last > self.first + FARTHER && self.last > TIMES * self.first
    }
}

fn median(mut values: [f64; COMPARED]) -> f64 {
    values.sort_by(f64::total_cmp);
    values[COMPARED / 2]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_card_is_due_when_its_squares_lie_farther_off_than_at_first() {
        for (pictures, told, why) in [
            (&[0.8, 0.9, 0.7, 3.0, 3.1][..], None, "too few"),
            (&[0.8, 0.9, 0.7, 0.8, 1.0, 0.9], Some(false), "as at first"),
            (&[0.8, 0.9, 0.7, 0.8, 4.0, 0.9], Some(false), "one bad picture"),
            (&[0.8, 0.9, 0.7, 1.2, 2.4, 2.2, 2.1], Some(true), "fading"),
            (&[3.0, 3.1, 3.2, 4.2, 4.3, 4.4], Some(false), "a poor device, not much poorer"),
            (&[0.2, 0.2, 0.2, 0.6, 0.6, 0.6], Some(false), "three times very little"),
        ] {
            assert_eq!(CardOff::of(pictures).map(CardOff::is_due), told, "{why}");
        }
    }
}
