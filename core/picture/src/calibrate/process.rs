//! What the map leaves, by a Gaussian process: squares that look alike, and squares of the same pigments, are off alike.

use colour::Lab;
use nalgebra::{Cholesky, DMatrix, DVector, Dyn};

use super::{Anchor, Sample};

/// Noise of a square, one σ per axis.
const NOISE: f64 = 0.4;
/// How much of what is left goes with colour, as variance, and how far colours reach, squared and doubled.
const LOCAL: f64 = 4.0;
const REACH: f64 = 800.0;
/// The same for squares of one pigment: what a device does not see of it is alike from its mass tone to its tints.
const PIGMENT: f64 = 16.0;
const PIGMENT_REACH: f64 = 3000.0;

/// How much of what tubes of one pigment share is each tube's own: another maker's is not quite the same (ours).
const OWN: f64 = 0.2;

struct Place {
    lab: [f64; 3],
    colours: Vec<(usize, f64)>,
    tubes: Vec<(usize, f64)>,
}

impl Place {
    fn of(lab: Lab, Sample { colours, tubes, .. }: &Sample) -> Self {
        Self { lab: lab.axes(), colours: colours.clone(), tubes: tubes.clone() }
    }
}

/// The process, ready to be asked.
pub(super) struct Process {
    places: Vec<Place>,
    factors: [DVector<f64>; 3],
    cholesky: Option<Cholesky<f64, Dyn>>,
}

impl Process {
    pub fn of(points: &[(Lab, &Anchor)]) -> Self {
        let places: Vec<Place> =
            points.iter().map(|(lab, anchor)| Place::of(*lab, &anchor.sample)).collect();
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
    pub fn at(&self, lab: Lab, sample: &Sample) -> ([f64; 3], f64) {
        let here = Place::of(lab, sample);
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
    let tubes = shared(&one.tubes, &other.tubes);
    let shared = (1.0 - OWN) * shared(&one.colours, &other.colours) + OWN * tubes;
    let local = LOCAL * (-far / REACH).exp() * (0.5 + 0.5 * shared);
    1.0 + slope + local + PIGMENT * (-far / PIGMENT_REACH).exp() * shared
}

/// 1 where two squares hold the same in the same shares, 0 where they have nothing in common.
fn shared(one: &[(usize, f64)], other: &[(usize, f64)]) -> f64 {
    let shared = one.iter().map(|(which, share)| {
        let same = other.iter().find(|it| it.0 == *which);
        same.map_or(0.0, |(_, theirs)| (share * theirs).sqrt())
    });
    shared.sum()
}
