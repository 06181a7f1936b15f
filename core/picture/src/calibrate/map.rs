//! From three numbers of light to XYZ.

use colour::{Conditions, Lab, Xyz};
use nalgebra::{DMatrix, DVector};

use super::Anchor;

/// Linear sRGB to XYZ (IEC 61966-2-1), rows scaled so that white is 1 each.
const SRGB: [[f64; 3]; 3] = [
    [0.4124 / 0.9505, 0.3576 / 0.9505, 0.1805 / 0.9505],
    [0.2126, 0.7152, 0.0722],
    [0.0193 / 1.0890, 0.1192 / 1.0890, 0.9505 / 1.0890],
];
/// How strongly the map is drawn to sRGB's, in columns of root mean square 1.
const RIDGE: f64 = 0.15;
/// What trained mixtures weigh beside the anchors.
const TRAINED: f64 = 2.0;
/// Darker than this share of white, errors are no dearer.
const DARKEST: f64 = 0.012;

/// Factors for X, Y and Z beside white of a root polynomial: of degree 2 by the anchors alone, of degree 3 where many
/// mixtures train it. Each has a constant: gloss that a meter sees and the device does not, and light that strays
/// everywhere, are the same for all colours.
pub(super) struct Map {
    factors: [DVector<f64>; 3],
    is_trained: bool,
}

/// A colour to be met: its terms, X, Y and Z beside white, and its weight.
struct Row {
    terms: DVector<f64>,
    wanted: [f64; 3],
    trust: f64,
}

fn terms([r, g, b]: [f64; 3], is_trained: bool) -> DVector<f64> {
    let [r, g, b] = [r, g, b].map(|value| value.max(0.0));
    let mut terms = vec![r, g, b, (r * g).sqrt(), (g * b).sqrt(), (r * b).sqrt()];
    if is_trained {
        let cubes = [r * g * g, g * b * b, r * b * b, g * r * r, b * g * g, b * r * r, r * g * b];
        terms.extend(cubes.map(f64::cbrt));
    }
    terms.push(1.0);
    DVector::from_vec(terms)
}

impl Map {
    /// The map of least squares, each anchor weighed by the cube root's slope, so that errors count as they are seen.
    /// `trained` is what the device would see of other mixtures.
    pub fn of(anchors: &[&Anchor], trained: &[([f64; 3], Lab)], conditions: Conditions) -> Self {
        let white = Xyz::white(conditions);
        let share = |lab: Lab| {
            let xyz = lab.to_xyz(conditions);
            [xyz.x / white.x, xyz.y / white.y, xyz.z / white.z]
        };
        let is_trained = !trained.is_empty();
        let of_anchor = |anchor: &&Anchor| Row {
            terms: terms(anchor.sample.x, is_trained),
            wanted: share(anchor.lab),
            // A colour that is hardly known says less.
            trust: 1.0 / (1.0 + (anchor.sigma / 2.0).powi(2)).sqrt(),
        };
        let each = (TRAINED * anchors.len() as f64 / trained.len().max(1) as f64).sqrt();
        let of_mixture = |(x, lab): &([f64; 3], Lab)| Row {
            terms: terms(*x, is_trained),
            wanted: share(*lab),
            trust: each,
        };
        let rows: Vec<Row> =
            anchors.iter().map(of_anchor).chain(trained.iter().map(of_mixture)).collect();
        Self { factors: [0, 1, 2].map(|channel| fit(&rows, channel, is_trained)), is_trained }
    }

    /// The colour of light.
    pub fn lab(&self, x: [f64; 3], conditions: Conditions) -> Lab {
        let (white, terms) = (Xyz::white(conditions), terms(x, self.is_trained));
        let [x, y, z] = [0, 1, 2].map(|channel| self.factors[channel].dot(&terms).max(1e-4));
        Lab::from_xyz(Xyz { x: x * white.x, y: y * white.y, z: z * white.z }, conditions)
    }
}

fn fit(rows: &[Row], channel: usize, is_trained: bool) -> DVector<f64> {
    let mut start = DVector::zeros(terms([0.0; 3], is_trained).len());
    for (factor, srgb) in start.iter_mut().zip(SRGB[channel]) {
        *factor = srgb;
    }
    let weight = |wanted: f64| wanted.max(DARKEST).powf(-2.0 / 3.0);
    let count = start.len();
    let (mut normal, mut right) = (DMatrix::zeros(count, count), DVector::zeros(count));
    for Row { terms, wanted, trust } in rows {
        let weight = (weight(wanted[channel]) * trust).powi(2);
        normal.ger(weight, terms, terms, 1.0);
        right.axpy((wanted[channel] - start.dot(terms)) * weight, terms, 1.0);
    }
    let all: f64 = rows.iter().map(|row| row.trust * row.trust).sum();
    for at in 0..count {
        // A column's root mean square is 1 after its mean square is divided out.
        normal[(at, at)] += RIDGE * (normal[(at, at)] / all.max(1.0)).max(1e-9);
    }
    normal.cholesky().map_or(start.clone(), |cholesky| &start + cholesky.solve(&right))
}
