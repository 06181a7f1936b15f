//! A repeat that does not belong with the others.

use colour::{Lab, ciede2000};

/// A repeat this many times farther from the others than they lie from each other is pointed out.
const TIMES: f64 = 4.0;
/// Nearer than this, ΔE00, it is let pass whatever the others do.
const LEAST: f64 = 0.4;

/// A repeat that stands apart.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Outlier {
    /// Its place among the repeats.
    pub place: usize,
    /// ΔE00 from the mean of the others.
    pub off: f64,
}

/// The repeat that stands apart: of three or more, the one that lies farthest from the mean of the
/// others, where that is more than ΔE00 0.4, four times the others' own spread and four times the
/// instrument's repeatability (MCDM, ΔE00). The rule is ours.
#[must_use]
pub fn outlier(repeats: &[Lab], repeatability: f64) -> Option<Outlier> {
    if repeats.len() < 3 {
        return None;
    }
    let one = |place: usize| {
        let others: Vec<Lab> =
            repeats.iter().enumerate().filter(|(at, _)| *at != place).map(|(_, it)| *it).collect();
        let mean = Lab::mean(&others)?;
        let spread =
            others.iter().map(|it| ciede2000(*it, mean).value()).sum::<f64>() / others.len() as f64;
        let off = ciede2000(repeats[place], mean).value();
        let most = LEAST.max(TIMES * spread).max(TIMES * repeatability);
        (off > most).then_some(Outlier { place, off })
    };
    (0..repeats.len()).filter_map(one).max_by(|one, other| one.off.total_cmp(&other.off))
}
