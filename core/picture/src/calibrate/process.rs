//! What the map leaves, by a Gaussian process: squares that look alike, and squares of the same pigments, are off alike.

use colour::Lab;
use nalgebra::{Cholesky, DMatrix, DVector, Dyn};

use super::Anchor;

/// Noise of a square, one σ per axis.
pub(super) const NOISE: f64 = 0.4;
/// How much of what is left goes with colour, as variance, and how far colours reach, squared and doubled.
const LOCAL: f64 = 4.0;
const REACH: f64 = 800.0;

struct Place {
    lab: [f64; 3],
    colours: Vec<(usize, f64)>,
}

/// The process, ready to be asked.
pub(super) struct Process {
    places: Vec<Place>,
    factors: [DVector<f64>; 3],
    cholesky: Option<Cholesky<f64, Dyn>>,
}

impl Process {
    pub fn of(points: &[(Lab, &Anchor)]) -> Self {
        let places: Vec<Place> = points
            .iter()
            .map(|(lab, anchor)| Place { lab: lab.axes(), colours: anchor.sample.colours.clone() })
            .collect();
        let noise = |at: usize| NOISE * NOISE + points[at].1.sigma.powi(2);
        let kernel = DMatrix::from_fn(places.len(), places.len(), |row, column| {
            let own = if row == column { noise(row) } else { 0.0 };
            alike(&places[row], &places[column]) + own
        });
        let cholesky = kernel.cholesky();
        let left = |axis: usize| {
            let off = points.iter().map(|(lab, anchor)| anchor.lab.axes()[axis] - lab.axes()[axis]);
            DVector::from_iterator(points.len(), off)
        };
        let factors = [0, 1, 2].map(|axis| match &cholesky {
            Some(cholesky) => cholesky.solve(&left(axis)),
            None => DVector::zeros(points.len()),
        });
        Self { places, factors, cholesky }
    }

    /// What is left at a colour of the map, per axis, and its variance.
    pub fn at(&self, lab: Lab, colours: &[(usize, f64)]) -> ([f64; 3], f64) {
        let here = Place { lab: lab.axes(), colours: colours.to_vec() };
        let near = self.places.iter().map(|place| alike(place, &here));
        let near = DVector::from_iterator(self.places.len(), near);
        let off = [0, 1, 2].map(|axis| near.dot(&self.factors[axis]));
        let known = self.cholesky.as_ref().map_or(0.0, |it| near.dot(&it.solve(&near)));
        (off, (alike(&here, &here) - known).max(0.0))
    }
}

/// Covariance of what is left at two squares.
fn alike(one: &Place, other: &Place) -> f64 {
    let unit = |place: &Place| {
        let [l, a, b] = place.lab;
        [(l - 50.0) / 50.0, a / 50.0, b / 50.0]
    };
    let (u, v) = (unit(one), unit(other));
    let slope: f64 = u.iter().zip(v).map(|(one, other)| one * other).sum();
    let far: f64 = one.lab.iter().zip(other.lab).map(|(one, other)| (one - other).powi(2)).sum();
    let shared: f64 = one
        .colours
        .iter()
        .map(|(tube, share)| {
            let same = other.colours.iter().find(|it| it.0 == *tube);
            same.map_or(0.0, |(_, theirs)| (share * theirs).sqrt())
        })
        .sum();
    1.0 + slope + LOCAL * (-far / REACH).exp() * (0.5 + 0.5 * shared)
}
