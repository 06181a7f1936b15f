//! How far two squares that were painted alike lie apart: more than two readings of one.

use colour::Lab;
use mixing::{Constants, predict};
use study::{Averaged, Averages, FittedTubes, Part, RatioError, Study, SwatchColour};

/// One standard deviation per axis where nothing tells (found by simulation).
const UNTOLD: f64 = 0.35;
/// No hand is surer than this.
const LEAST: f64 = 0.1;
/// Without white less of a mixture's colour hangs on its amounts (found by simulation).
const WITHOUT_WHITE: f64 = 0.75;
/// From the median absolute deviation to σ of a normal distribution.
const OF_MAD: f64 = 1.48;
/// Squares with white that tell, at least, and as many as are looked at.
const FEWEST: usize = 6;
const MOST: usize = 400;

/// Of what is left, so much is not said already by the weighing and by the readings.
const OWN: f64 = 0.9;
/// A fit takes some of what a ladder's squares are off by.
const TAKEN: f64 = 1.1;
/// For the slope of a tint's colour, a share of its white.
const NUDGE: f64 = 0.02;

/// What nobody measures.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Between {
    /// One standard deviation per axis of a square with white.
    sigma: [f64; 3],
    /// The same of ln of a tint's ratio, beyond what its weighing tells.
    pub hand: f64,
}

impl Between {
    /// What K and S of a study's tubes leave of its squares with white. Amounts that were put out by eye say nothing of
    /// it: their ratio is meant and not known.
    pub fn of(study: &Study, averages: &Averages) -> Self {
        let with_white = |it: &&Averaged| {
            let weighed = !study.protocol.is_by_eye(it.ratio_error)
                && !matches!(it.ratio_error, RatioError::Estimated(_));
            let white = study.white_per_colour(&it.mixture).is_some_and(|parts| parts > 0.0);
            weighed && white && it.colour.in_pictures.is_none()
        };
        let squares: Vec<&Averaged> = averages.dry_on_paper().filter(with_white).collect();
        if squares.len() < FEWEST {
            return Self::UNTOLD;
        }
        let fitted = FittedTubes::quickly(study, averages);
        let step = squares.len().div_ceil(MOST);
        let left: Vec<Left> =
            squares.iter().step_by(step).filter_map(|it| left(study, &fitted, it)).collect();
        if left.len() < FEWEST {
            return Self::UNTOLD;
        }
        let of = |pick: &dyn Fn(&Left) -> Option<f64>| {
            OF_MAD * median(left.iter().filter_map(pick).map(f64::abs).collect())
        };
        Self {
            sigma: [0, 1, 2].map(|axis| (OWN * of(&|it| Some(it.axes[axis]))).max(LEAST)),
            hand: TAKEN * of(&|it| it.ratio),
        }
    }

    const UNTOLD: Self = Self { sigma: [UNTOLD; 3], hand: 0.0 };

    /// A colour as one square of many that could have been painted alike.
    pub fn square(self, colour: &SwatchColour, with_white: bool) -> SwatchColour {
        let more = if with_white { 1.0 } else { WITHOUT_WHITE };
        colour.as_square(self.sigma.map(|sigma| more * sigma))
    }
}

/// What K and S leave of a square.
struct Left {
    /// Read less predicted.
    axes: [f64; 3],
    /// Of a tint: the error in ln of its ratio that would explain it.
    ratio: Option<f64>,
}

fn left(study: &Study, fitted: &FittedTubes, square: &Averaged) -> Option<Left> {
    let is_white = |part: &Part| Some(part.tube) == study.white;
    let told = |white: f64| -> Option<[f64; 3]> {
        let of = |part: &Part| if is_white(part) { white * part.parts } else { part.parts };
        let total: f64 = square.mixture.parts().iter().map(of).sum();
        let share = |part: &Part| -> Option<(f64, &Constants)> {
            Some((of(part) / total, fitted.tubes.get(part.tube.0)?.constants.as_ref()?))
        };
        let shares: Vec<_> = square.mixture.parts().iter().map(share).collect::<Option<_>>()?;
        let film = predict(&shares, fitted.paper.as_ref()).to_measured(fitted.surface);
        Some(Lab::from_reflectance(&film, study.conditions).axes())
    };
    let (here, there, read) = (told(1.0)?, told(1.0 + NUDGE)?, square.colour.lab.axes());
    let axes = [0, 1, 2].map(|axis| read[axis] - here[axis]);
    let way = [0, 1, 2].map(|axis| (there[axis] - here[axis]) / NUDGE.ln_1p());
    let dot =
        |one: [f64; 3], other: [f64; 3]| (0..3).map(|axis| one[axis] * other[axis]).sum::<f64>();
    let is_tint = square.mixture.parts().len() == 2;
    Some(Left { axes, ratio: is_tint.then(|| dot(axes, way) / dot(way, way)) })
}

fn median(mut values: Vec<f64>) -> f64 {
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied().unwrap_or_default()
}
