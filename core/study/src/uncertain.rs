//! How far an averaged colour may be off.

use colour::Lab;

/// An averaged colour with what may be wrong with it, each a 95 % half-width in Lab units.
#[derive(Debug, Clone, Copy)]
pub struct Uncertain {
    /// The colour.
    pub lab: Lab,
    /// Reading part, one per axis, independent of each other.
    pub reading: [f64; 3],
    /// Ratio part: where the colour would be if the ratio were off by its half-width.
    pub ratio: [f64; 3],
}

/// What `each`, a part of ΔE00 in lightness, in chroma and in hue, is in L*, a* and b* of a colour: weighed as CIEDE2000
/// does.
pub(crate) fn per_axis(lab: Lab, each: f64) -> [f64; 3] {
    let chroma = lab.chroma();
    let off = (lab.l - 50.0).powi(2);
    let lightness = each * (1.0 + 0.015 * off / (20.0 + off).sqrt());
    let (along, across) = (each * (1.0 + 0.045 * chroma), each * (1.0 + 0.015 * chroma));
    let (sin, cos) = if chroma > 0.0 { (lab.b / chroma, lab.a / chroma) } else { (0.0, 1.0) };
    [lightness, (along * cos).hypot(across * sin), (along * sin).hypot(across * cos)]
}

/// Student's t, 97.5 % point, for `repeats` − 1 degrees of freedom (standard table; from memory,
/// checked against scipy in the tests). Needs two repeats or more.
pub(crate) fn student_t(repeats: usize) -> f64 {
    const T: [f64; 30] = [
        12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.160,
        2.145, 2.131, 2.120, 2.110, 2.101, 2.093, 2.086, 2.080, 2.074, 2.069, 2.064, 2.060, 2.056,
        2.052, 2.048, 2.045, 2.042,
    ];
    let freedom = repeats.saturating_sub(1).max(1);
    // Beyond the table the approach to 1.96 goes as 2.37/ν.
    T.get(freedom - 1).copied().unwrap_or(1.96 + 2.372 / freedom as f64)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// scipy, `stats.t.ppf(0.975, repeats - 1)`, made by colour's `make_reference.py`.
    #[test]
    fn student_t_agrees_with_the_reference_library() {
        let rows = include_str!("../tests/published/student_t.csv").lines().skip(1);
        for (repeats, t) in rows.filter_map(|line| line.split_once(',')) {
            let found = student_t(repeats.parse().expect("a count"));
            let expected: f64 = t.parse().expect("a number");
            assert!((found - expected).abs() < 0.003, "{repeats}: {found} for {expected}");
        }
    }
}
