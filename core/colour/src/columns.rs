//! CIEDE2000 of many pairs at once.
//!
//! Pairs are worked on some dozens at a time in plain arrays, which the compiler turns into vector instructions.

use crate::Lab;
use crate::difference::ciede2000;
use crate::lanes::differences;

/// Pairs that are worked on at once, and what is left over.
const LANES: usize = 32;
const FEW: usize = 8;

/// Colours as three columns.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct LabColumns {
    l: Vec<f64>,
    a: Vec<f64>,
    b: Vec<f64>,
}

impl LabColumns {
    /// How many colours.
    #[must_use]
    pub fn len(&self) -> usize {
        self.l.len()
    }

    /// There is none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.l.is_empty()
    }

    /// One of them; `None` beyond the last.
    #[must_use]
    pub fn get(&self, at: usize) -> Option<Lab> {
        Some(Lab::new(*self.l.get(at)?, *self.a.get(at)?, *self.b.get(at)?))
    }
}

impl FromIterator<Lab> for LabColumns {
    fn from_iter<T: IntoIterator<Item = Lab>>(colours: T) -> Self {
        let mut columns = Self::default();
        for Lab { l, a, b } in colours {
            columns.l.push(l);
            columns.a.push(a);
            columns.b.push(b);
        }
        columns
    }
}

/// CIEDE2000 of each colour from the one at the same place, as far as both columns go; within 1e-7 of
/// [`crate::ciede2000`].
///
/// ```
/// # use colour::*;
/// // Sharma, Wu and Dalal (2005), pairs 1 and 25.
/// let one: LabColumns = [Lab::new(50.0, 2.6772, -79.7751), Lab::new(60.2574, -34.0099, 36.2677)].into_iter().collect();
/// let other: LabColumns = [Lab::new(50.0, 0.0, -82.7485), Lab::new(60.4626, -34.1751, 39.4387)].into_iter().collect();
/// let found = ciede2000_columns(&one, &other);
/// assert_eq!(format!("{:.4} {:.4}", found[0], found[1]), "2.0425 1.2644");
/// ```
#[must_use]
pub fn ciede2000_columns(one: &LabColumns, other: &LabColumns) -> Vec<f64> {
    let count = one.len().min(other.len());
    let mut found = Vec::with_capacity(count.next_multiple_of(FEW));
    let mut start = 0;
    while start < count {
        let left = count - start;
        // A few pairs that are left over are not worth a whole block.
        let done = if left >= LANES {
            block::<LANES>(one, other, start, LANES, &mut found)
        } else {
            block::<FEW>(one, other, start, left.min(FEW), &mut found)
        };
        start += done;
    }
    // Hues that lie right across from each other have no bisector, and grey has none either.
    for (at, value) in found.iter_mut().enumerate() {
        if value.is_nan()
            && let (Some(one), Some(other)) = (one.get(at), other.get(at))
        {
            *value = ciede2000(one, other).value();
        }
    }
    found
}

/// So many pairs from `start` on, in one block; how many they were.
fn block<const N: usize>(
    one: &LabColumns,
    other: &LabColumns,
    start: usize,
    take: usize,
    found: &mut Vec<f64>,
) -> usize {
    let lane = |column: &[f64]| {
        let mut lane = [0.0; N];
        lane[..take].copy_from_slice(&column[start..start + take]);
        lane
    };
    let of_lanes = differences(
        [lane(&one.l), lane(&one.a), lane(&one.b)],
        [lane(&other.l), lane(&other.a), lane(&other.b)],
    );
    found.extend_from_slice(&of_lanes[..take]);
    take
}
