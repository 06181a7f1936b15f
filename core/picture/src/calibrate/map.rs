//! From three numbers of light to XYZ.

use colour::{Conditions, Lab, Xyz};
use nalgebra::{Matrix6, Vector6};

use super::Anchor;

/// Linear sRGB to XYZ (IEC 61966-2-1), rows scaled so that white is 1 each.
const SRGB: [[f64; 3]; 3] = [
    [0.4124 / 0.9505, 0.3576 / 0.9505, 0.1805 / 0.9505],
    [0.2126, 0.7152, 0.0722],
    [0.0193 / 1.0890, 0.1192 / 1.0890, 0.9505 / 1.0890],
];
/// How strongly the map is drawn to sRGB's, in columns of root mean square 1.
const RIDGE: f64 = 0.05;
/// Darker than this share of white, errors are no dearer.
const DARKEST: f64 = 0.012;

/// Factors of r, g, b, √rg, √gb and √rb for X, Y and Z beside white.
pub(super) struct Map([Vector6<f64>; 3]);

fn features([r, g, b]: [f64; 3]) -> Vector6<f64> {
    let [r, g, b] = [r, g, b].map(|value| value.max(0.0));
    Vector6::new(r, g, b, (r * g).sqrt(), (g * b).sqrt(), (r * b).sqrt())
}

fn srgb(channel: usize) -> Vector6<f64> {
    let [r, g, b] = SRGB[channel];
    Vector6::new(r, g, b, 0.0, 0.0, 0.0)
}

impl Map {
    /// The map of least squares, each anchor weighed by the cube root's slope, so that errors count as they are seen.
    pub fn of(anchors: &[&Anchor], conditions: Conditions) -> Self {
        let white = Xyz::white(conditions);
        let share = |lab: Lab| {
            let xyz = lab.to_xyz(conditions);
            [xyz.x / white.x, xyz.y / white.y, xyz.z / white.z]
        };
        let rows: Vec<(Vector6<f64>, [f64; 3], f64)> = anchors
            .iter()
            .map(|anchor| {
                // A colour that is hardly known says less.
                let trust = 1.0 / (1.0 + (anchor.sigma / 2.0).powi(2)).sqrt();
                (features(anchor.sample.x), share(anchor.lab), trust)
            })
            .collect();
        Self([0, 1, 2].map(|channel| fit(&rows, channel)))
    }

    /// The colour of light.
    pub fn lab(&self, x: [f64; 3], conditions: Conditions) -> Lab {
        let (white, features) = (Xyz::white(conditions), features(x));
        let [x, y, z] = [0, 1, 2].map(|channel| self.0[channel].dot(&features).max(1e-4));
        Lab::from_xyz(Xyz { x: x * white.x, y: y * white.y, z: z * white.z }, conditions)
    }
}

fn fit(rows: &[(Vector6<f64>, [f64; 3], f64)], channel: usize) -> Vector6<f64> {
    let start = srgb(channel);
    let weight = |wanted: f64| wanted.max(DARKEST).powf(-2.0 / 3.0);
    let (mut normal, mut right) = (Matrix6::zeros(), Vector6::zeros());
    for (features, wanted, trust) in rows {
        let weight = (weight(wanted[channel]) * trust).powi(2);
        normal += features * features.transpose() * weight;
        right += features * (wanted[channel] - start.dot(features)) * weight;
    }
    let count = rows.len().max(1) as f64;
    for at in 0..6 {
        // A column's root mean square is 1 after its mean square is divided out.
        normal[(at, at)] += RIDGE * (normal[(at, at)] / count).max(1e-9);
    }
    normal.cholesky().map_or(start, |cholesky| start + cholesky.solve(&right))
}
