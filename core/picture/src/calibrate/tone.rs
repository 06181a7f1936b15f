//! The device's tone curve beside sRGB's, by one number.

use std::f64::consts::TAU;

use crate::raster::decoded;

/// The bends that are tried.
pub(crate) const TONES: [f64; 5] = [-0.1, 0.0, 0.1, 0.2, 0.3];

/// Linear light beside bare paper's, which is 0.9, of encoded values on paper of an encoded value.
pub(crate) fn toned(v: [f64; 3], paper: [f64; 3], bend: f64) -> [f64; 3] {
    let light = |v: f64| decoded((v + bend * (TAU * v).sin() / TAU).clamp(0.0, 1.0));
    std::array::from_fn(|channel| 0.9 * light(v[channel]) / light(paper[channel]).max(1e-4))
}
