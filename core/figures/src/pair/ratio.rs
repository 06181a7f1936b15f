//! Ratios that a pair's ladder passes through: where neither tube wins, and where grey is nearest.

use colour::{Lab, ciede2000};

use super::mixed::{Mixed, Parents};
use crate::interval::{Figure, WhyNot, propagate};
use crate::strength::Bound;

/// A mixture under this C*ab may count as a neutral.
const NEUTRAL_CHROMA: f64 = 10.0;
/// From a picture, such a ratio may be off by this factor either way.
const HOLDING_IN_A_PICTURE: f64 = 1.8;

/// How many parts of `b` one part of `a` holds against (ours).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Holding {
    /// Parts of `b` to one part of `a` where the mixture is equally far from both; the limit where
    /// there is a bound.
    pub ratio: Figure,
    /// Set where the mixtures that were made do not reach it.
    pub bound: Option<Bound>,
    /// A mixture that it rests on was put out by eye.
    pub by_eye: bool,
}

/// The greyest mixture of a pair, interpolated linearly in ln(b/a).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Neutral {
    /// Parts of `b` to one part of `a`.
    pub ratio: Figure,
    /// Its colour; what chroma is left is its cast.
    pub lab: Lab,
}

/// Where ΔE00(mix, a) = ΔE00(mix, b), between steps that were mixed.
pub(super) fn holding(mixed: &[Mixed], parents: &Parents<'_>) -> Result<Holding, WhyNot> {
    let [a, b] = parents.both()?;
    let footing = parents.footing(mixed.iter().map(|it| &it.colour));
    footing.calibrated()?;
    let lead = |lab: Lab, a: Lab, b: Lab| ciede2000(lab, a).value() - ciede2000(lab, b).value();
    let of = |mixed: &Mixed| lead(mixed.colour.lab, a.lab, b.lab);
    let (first, last) =
        (mixed.first().ok_or(WhyNot::MixturesUnread)?, mixed.last().ok_or(WhyNot::MixturesUnread)?);
    let crossing = mixed.windows(2).find(|pair| of(&pair[0]) <= 0.0 && of(&pair[1]) > 0.0);
    let Some([left, right]) = crossing else {
        let (limit, bound) =
            if of(first) > 0.0 { (first, Bound::Below) } else { (last, Bound::Above) };
        let ratio = Figure::limit(limit.ln_ratio().exp());
        return Ok(Holding { ratio, bound: Some(bound), by_eye: limit.by_eye });
    };
    let mut values = vec![left.ln_ratio(), right.ln_ratio()];
    let mut half_widths = [left, right].map(|m| m.ratio_half_width).to_vec();
    for input in [left.uncertain(), right.uncertain(), a, b] {
        values.extend(input.lab.axes());
        half_widths.extend(input.reading);
    }
    let ratio = |values: &[f64]| {
        let lab = |at: usize| Lab::new(values[2 + 3 * at], values[3 + 3 * at], values[4 + 3 * at]);
        let (left, right) = (lead(lab(0), lab(2), lab(3)), lead(lab(1), lab(2), lab(3)));
        let place = left / (left - right);
        place.is_finite().then(|| (values[0] + place * (values[1] - values[0])).exp())
    };
    let value = ratio(&values).ok_or(WhyNot::NotSteady)?;
    Ok(Holding {
        ratio: if footing.is_picture() {
            Figure::positive(value, Some((HOLDING_IN_A_PICTURE - 1.0) * value)).as_indicative()
        } else {
            Figure::positive(value, propagate(&values, &half_widths, ratio))
        },
        bound: None,
        by_eye: left.by_eye || right.by_eye,
    })
}

/// Reported where the lowest measured C* is under 10 and under a third of the duller parent's.
pub(super) fn neutral(mixed: &[Mixed], parents: &Parents<'_>) -> Option<Neutral> {
    let [a, b] = parents.both().ok()?;
    let duller = a.lab.chroma().min(b.lab.chroma());
    let lowest = mixed.iter().map(|m| m.colour.lab.chroma()).min_by(f64::total_cmp)?;
    if lowest >= NEUTRAL_CHROMA || lowest >= duller / 3.0 {
        return None;
    }
    let alone = [&mixed[0], &mixed[0]];
    let segments = mixed.windows(2).map(|pair| [&pair[0], &pair[1]]);
    let [left, right] = segments.chain([alone]).min_by(|one, other| {
        let chroma = |[l, r]: &[&Mixed; 2]| {
            let (from, to) = (l.colour.lab, r.colour.lab);
            from.lerp(to, greyest_place(from, to)).chroma()
        };
        chroma(one).total_cmp(&chroma(other))
    })?;
    let values: Vec<f64> = [left.ln_ratio(), right.ln_ratio()]
        .into_iter()
        .chain(left.colour.lab.axes())
        .chain(right.colour.lab.axes())
        .collect();
    let half_widths: Vec<f64> = [left, right]
        .map(|m| m.ratio_half_width)
        .into_iter()
        .chain(left.colour.square_half_width())
        .chain(right.colour.square_half_width())
        .collect();
    let ratio = |values: &[f64]| {
        let (from, to) =
            (Lab::new(values[2], values[3], values[4]), Lab::new(values[5], values[6], values[7]));
        Some((values[0] + greyest_place(from, to) * (values[1] - values[0])).exp())
    };
    let (from, to) = (left.colour.lab, right.colour.lab);
    let told = Figure::positive(ratio(&values)?, propagate(&values, &half_widths, ratio));
    let footing = parents.footing(mixed.iter().map(|it| &it.colour));
    Some(Neutral {
        ratio: if footing.is_picture() { told.as_indicative() } else { told },
        lab: from.lerp(to, greyest_place(from, to)),
    })
}

/// Where on the straight way between two colours the chroma is least, 0–1.
fn greyest_place(from: Lab, to: Lab) -> f64 {
    let (run_a, run_b) = (to.a - from.a, to.b - from.b);
    let length = run_a * run_a + run_b * run_b;
    if length <= 0.0 {
        return 0.0;
    }
    (-(from.a * run_a + from.b * run_b) / length).clamp(0.0, 1.0)
}
