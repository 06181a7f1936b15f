//! Which paints have known squares.

use super::{Anchor, Sample};

/// A tube with this share of an anchor is anchored by it.
const MOSTLY: f64 = 0.45;
/// A pigment with this share of an anchor is anchored in every tube that holds nothing else: half of a convenience
/// mixture tells little of it.
const ALONE: f64 = 0.9;

/// The tubes and pigments that have known squares.
#[derive(Debug, Clone, Default)]
pub(crate) struct Anchored {
    tubes: Vec<usize>,
    pigments: Vec<usize>,
}

impl Anchored {
    pub fn by<'a>(anchors: impl Iterator<Item = &'a Anchor>) -> Self {
        let mut known = Self::default();
        for Sample { tubes, colours, .. } in anchors.filter(|it| it.counts).map(|it| &it.sample) {
            known.tubes.extend(with_share(tubes, MOSTLY));
            known.pigments.extend(with_share(colours, ALONE));
        }
        known
    }

    /// Every tube of it has known squares, or every pigment has.
    pub fn knows(&self, Sample { tubes, colours, .. }: &Sample) -> bool {
        tubes.iter().all(|(tube, _)| self.tubes.contains(tube))
            || colours.iter().all(|(pigment, _)| self.pigments.contains(pigment))
    }
}

fn with_share(shares: &[(usize, f64)], least: f64) -> impl Iterator<Item = usize> {
    shares.iter().filter(move |(_, share)| *share >= least).map(|(which, _)| *which)
}
