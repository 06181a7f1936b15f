//! A mixture: a list of tubes with their parts.

use serde::{Deserialize, Serialize};

/// A tube of a study, by its place in [`crate::Study::tubes`].
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
pub struct TubeRef(pub usize);

/// One tube's share in a mixture.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Part {
    /// Which tube.
    pub tube: TubeRef,
    /// How many parts of it, above 0; only ratios matter.
    pub parts: f64,
}

/// A list of tubes with their parts, each tube once, in the order of the study. The empty list is
/// the bare backing.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Mixture(Vec<Part>);

impl Mixture {
    /// Merges repeated tubes, drops those without parts and sorts.
    #[must_use]
    pub fn new(parts: impl IntoIterator<Item = Part>) -> Self {
        let mut list: Vec<Part> = Vec::new();
        for part in parts.into_iter().filter(|part| part.parts > 0.0) {
            match list.iter_mut().find(|known| known.tube == part.tube) {
                Some(known) => known.parts += part.parts,
                None => list.push(part),
            }
        }
        list.sort_by_key(|part| part.tube);
        Self(list)
    }

    /// Nothing on the paper.
    #[must_use]
    pub fn bare() -> Self {
        Self::default()
    }

    /// One tube alone.
    #[must_use]
    pub fn neat(tube: TubeRef) -> Self {
        Self(vec![Part { tube, parts: 1.0 }])
    }

    /// Two tubes, or a tube and a white.
    #[must_use]
    pub fn of(parts: &[(TubeRef, f64)]) -> Self {
        Self::new(parts.iter().map(|&(tube, parts)| Part { tube, parts }))
    }

    /// The tubes and their parts.
    #[must_use]
    pub fn parts(&self) -> &[Part] {
        &self.0
    }

    /// True for the bare backing.
    #[must_use]
    pub fn is_bare(&self) -> bool {
        self.0.is_empty()
    }

    /// Parts of one tube; 0 where it is not in the mixture.
    #[must_use]
    pub fn parts_of(&self, tube: TubeRef) -> f64 {
        self.0.iter().find(|part| part.tube == tube).map_or(0.0, |part| part.parts)
    }

    /// Sum of all parts.
    #[must_use]
    pub fn total(&self) -> f64 {
        self.0.iter().map(|part| part.parts).sum()
    }

    /// The tubes other than the white, with their parts.
    pub fn colours(&self, white: Option<TubeRef>) -> impl Iterator<Item = &Part> {
        self.0.iter().filter(move |part| Some(part.tube) != white)
    }

    /// The one colour in it, alone or with white; `None` for a mixture of several and for bare paper.
    #[must_use]
    pub fn only_colour(&self, white: Option<TubeRef>) -> Option<TubeRef> {
        let mut colours = self.colours(white);
        colours.next().filter(|_| colours.next().is_none()).map(|part| part.tube)
    }

    /// Parts of white to one part of all the other tubes together; `None` where there is no other.
    #[must_use]
    pub fn white_per_colour(&self, white: Option<TubeRef>) -> Option<f64> {
        let colour: f64 = self.colours(white).map(|part| part.parts).sum();
        (colour > 0.0).then(|| white.map_or(0.0, |white| self.parts_of(white)) / colour)
    }

    /// The same tubes, each share within so much as ln.
    #[must_use]
    pub fn is_near(&self, other: &Self, within: f64) -> bool {
        let share = |whole: &Self, part: &Part| part.parts / whole.total();
        self.0.len() == other.0.len()
            && self.0.iter().zip(&other.0).all(|(one, two)| {
                let ratio = share(self, one) / share(other, two);
                one.tube == two.tube && ratio.ln().abs() < within
            })
    }

    /// Shares of the total in steps of a millionth: equal for 1:2 and 2:4.
    #[must_use]
    pub fn ratio_key(&self) -> Vec<(TubeRef, u32)> {
        let total = self.total();
        self.0.iter().map(|part| (part.tube, (part.parts / total * 1e6).round() as u32)).collect()
    }
}
