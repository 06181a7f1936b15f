//! From three numbers of light to XYZ.

use colour::{Conditions, Lab, Xyz};
use nalgebra::{SMatrix, SVector};

use super::Anchor;

/// Linear sRGB to XYZ (IEC 61966-2-1), rows scaled so that white is 1 each.
pub(crate) const SRGB: [[f64; 3]; 3] = [
    [0.4124 / 0.9505, 0.3576 / 0.9505, 0.1805 / 0.9505],
    [0.2126, 0.7152, 0.0722],
    [0.0193 / 1.0890, 0.1192 / 1.0890, 0.9505 / 1.0890],
];
/// How strongly the map is drawn to sRGB's, in columns of root mean square 1.
const RIDGE: f64 = 0.15;
/// Darker than this share of white, errors are no dearer.
const DARKEST: f64 = 0.012;

/// Factors for X, Y and Z beside white of a root polynomial of degree 2. Each has a constant: gloss that a meter sees and
/// the device does not, and light that strays everywhere, are the same for all colours.
pub(super) struct Map([Terms; 3]);

/// r, g, b, the roots of their products, and 1.
type Terms = SVector<f64, 7>;

/// A colour to be met: its terms, X, Y and Z beside white, and its weight.
struct Row {
    terms: Terms,
    wanted: [f64; 3],
    trust: f64,
}

fn terms(x: [f64; 3]) -> Terms {
    let [r, g, b] = x.map(|value| value.max(0.0));
    Terms::from([r, g, b, (r * g).sqrt(), (g * b).sqrt(), (r * b).sqrt(), 1.0])
}

impl Map {
    /// The map of least squares, each anchor weighed by the cube root's slope, so that errors count as they are seen.
    pub fn of(anchors: &[&Anchor], conditions: Conditions) -> Self {
        let white = Xyz::white(conditions);
        let row = |anchor: &&Anchor| {
            let xyz = anchor.lab.to_xyz(conditions);
            Row {
                terms: terms(anchor.sample.x),
                wanted: [xyz.x / white.x, xyz.y / white.y, xyz.z / white.z],
                // A colour that is hardly known says less.
                trust: 1.0 / (1.0 + (anchor.sigma / 2.0).powi(2)).sqrt(),
            }
        };
        let rows: Vec<Row> = anchors.iter().map(row).collect();
        Self([0, 1, 2].map(|channel| fit(&rows, channel)))
    }

    /// The colour of light.
    pub fn lab(&self, x: [f64; 3], conditions: Conditions) -> Lab {
        let (white, terms) = (Xyz::white(conditions), terms(x));
        let [x, y, z] = self.0.map(|factors| factors.dot(&terms).max(1e-4));
        Lab::from_xyz(Xyz { x: x * white.x, y: y * white.y, z: z * white.z }, conditions)
    }
}

fn fit(rows: &[Row], channel: usize) -> Terms {
    let mut start = Terms::zeros();
    for (factor, srgb) in start.iter_mut().zip(SRGB[channel]) {
        *factor = srgb;
    }
    let weight = |wanted: f64| wanted.max(DARKEST).powf(-2.0 / 3.0);
    let (mut normal, mut right) = (SMatrix::<f64, 7, 7>::zeros(), Terms::zeros());
    for Row { terms, wanted, trust } in rows {
        let weight = (weight(wanted[channel]) * trust).powi(2);
        normal.ger(weight, terms, terms, 1.0);
        right.axpy((wanted[channel] - start.dot(terms)) * weight, terms, 1.0);
    }
    let all: f64 = rows.iter().map(|row| row.trust * row.trust).sum();
    for at in 0..start.len() {
        // A column's root mean square is 1 after its mean square is divided out.
        normal[(at, at)] += RIDGE * (normal[(at, at)] / all.max(1.0)).max(1e-9);
    }
    normal.cholesky().map_or(start, |cholesky| start + cholesky.solve(&right))
}
