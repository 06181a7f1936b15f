//! How far a colour may be off.

use colour::Lab;

use super::LeftOut;

/// What is added for a square, per axis L*, a*, b*: always, with chroma, and with darkness.
#[derive(Clone, Copy)]
struct Terms {
    always: [f64; 3],
    chroma: [f64; 3],
    dark: [f64; 3],
    /// Variance of the process at which what comes with chroma and darkness is half of itself: beside an anchor of the same
    /// paint little of it is left.
    near: Option<f64>,
    /// Anchors that stand for what is expected beforehand.
    beforehand: f64,
}

/// Where all tubes of a square have anchors, and where one has none (found by simulation).
const ANCHORED: Terms = Terms {
    always: [0.5, 0.5, 0.65],
    chroma: [0.4, 1.6, 1.9],
    dark: [0.0, 1.3, 0.0],
    near: Some(4.0),
    beforehand: 5.0,
};
const UNANCHORED: Terms = Terms {
    always: [0.7, 0.7, 0.7],
    chroma: [1.0, 3.5, 3.5],
    dark: [1.0, 4.0, 2.0],
    near: None,
    beforehand: 4.0,
};
/// The least and the largest factor.
const FACTORS: [f64; 2] = [0.5, 2.5];

/// How wide intervals are, from anchors that were left out.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Interval {
    anchored: [f64; 3],
    unanchored: [f64; 3],
}

impl Interval {
    /// From each anchor left out, and from each tube left out.
    pub fn of(one_out: &[LeftOut], tube_out: &[LeftOut]) -> Self {
        Self { anchored: factors(one_out, ANCHORED), unanchored: factors(tube_out, UNANCHORED) }
    }

    /// One standard deviation per axis of a colour with its variance.
    pub fn sigma(&self, lab: Lab, variance: f64, is_anchored: bool) -> [f64; 3] {
        let (terms, factors) =
            if is_anchored { (ANCHORED, self.anchored) } else { (UNANCHORED, self.unanchored) };
        let plain = plain(lab, variance, terms);
        std::array::from_fn(|axis| factors[axis] * plain[axis])
    }
}

fn plain(lab: Lab, variance: f64, terms: Terms) -> [f64; 3] {
    let chroma = lab.chroma() / 50.0;
    let dark = ((40.0 - lab.l) / 40.0).clamp(0.0, 1.0);
    let far = terms.near.map_or(1.0, |near| variance / (variance + near));
    std::array::from_fn(|axis| {
        let of_paint = (terms.chroma[axis] * chroma).powi(2) + (terms.dark[axis] * dark).powi(2);
        (variance + terms.always[axis].powi(2) + far * of_paint).sqrt()
    })
}

/// What lies beyond a device's end tells nothing of what it records.
fn factors(left_out: &[LeftOut], terms: Terms) -> [f64; 3] {
    let left_out: Vec<&LeftOut> = left_out.iter().filter(|it| !it.is_clipped).collect();
    std::array::from_fn(|axis| {
        let squares = left_out.iter().map(|it| {
            let off = it.told.lab.axes()[axis] - it.known.axes()[axis];
            let sigma = plain(it.told.lab, it.told.variance, terms)[axis].hypot(it.sigma);
            (off / sigma).powi(2)
        });
        let count = left_out.len() as f64 + terms.beforehand;
        let square = (squares.sum::<f64>() + terms.beforehand) / count;
        square.sqrt().clamp(FACTORS[0], FACTORS[1])
    })
}

/// The half-width as ΔE00 at 95 %: each axis weighed as CIEDE2000 does (ISO/CIE 11664-6).
pub(crate) fn u95(lab: Lab, sigma: [f64; 3]) -> f64 {
    let (l, a, b, chroma) = (lab.l, lab.a, lab.b, lab.chroma());
    let off = (l - 50.0).powi(2);
    let weight_l = 1.0 + 0.015 * off / (20.0 + off).sqrt();
    let weight_c = 1.0 + 0.045 * chroma;
    let hue = b.atan2(a);
    let degrees = |d: f64| d.to_radians();
    let t = 1.0 - 0.17 * (hue - degrees(30.0)).cos()
        + 0.24 * (2.0 * hue).cos()
        + 0.32 * (3.0 * hue + degrees(6.0)).cos()
        - 0.20 * (4.0 * hue - degrees(63.0)).cos();
    let weight_h = 1.0 + 0.015 * chroma * t;
    let (cos, sin) = (hue.cos(), hue.sin());
    let along = (cos * sigma[1]).hypot(sin * sigma[2]);
    let across = (sin * sigma[1]).hypot(cos * sigma[2]);
    let parts = [sigma[0] / weight_l, along / weight_c, across / weight_h];
    colour::NORMAL_95 * parts.iter().map(|part| part * part).sum::<f64>().sqrt()
}
