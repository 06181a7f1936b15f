//! What one picture tells besides colours: estimates, and never readings.

use colour::{Conditions, Lab, ciede2000};

use crate::target::Target;
use crate::told::{CellReading, PictureReading, Status};

/// What a picture tells besides colours.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Estimates {
    /// Of films that are seen over black and over something light.
    pub contrast_ratios: Vec<ContrastEstimate>,
    /// Of squares of which half was lifted.
    pub staining: Vec<StainingEstimate>,
}

impl Estimates {
    /// All that a picture of a sheet tells.
    #[must_use]
    pub fn of(target: &Target, reading: &PictureReading, conditions: Conditions) -> Self {
        Self {
            contrast_ratios: contrast_ratios(target, reading, conditions),
            staining: staining(reading),
        }
    }

    /// There is none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.contrast_ratios.is_empty() && self.staining.is_empty()
    }
}

/// How much of a dry paint is left where it was lifted.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StainingEstimate {
    /// Number of the square.
    pub number: u32,
    /// 100 times ΔE00 of its lifted half from the paper by that of its other half.
    pub percent: f64,
    /// Half-width of its 95 % interval: both halves share most of their error, 0.4 of it is left (ours).
    pub half_width: f64,
}

/// A contrast ratio from the same film over black and over something light.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ContrastEstimate {
    /// Number of the square over black.
    pub over_black: u32,
    /// Number of the square over white, or over paper where there is none over white.
    pub over_light: u32,
    /// 100 times the luminance over black by that over light.
    pub ratio: f64,
    /// Half-width of its 95 % interval: 6 from a calibrated picture (found by simulation) or what both colours' U leave
    /// (ours), the larger; 8 from another picture, which is indicative only.
    pub half_width: f64,
}

const CALIBRATED: f64 = 6.0;
const UNCALIBRATED: f64 = 8.0;
/// Below this luminance over light the ratio says nothing (ASTM D2805 is for light films).
const DARK: f64 = 15.0;

/// What is left of the error of two colours of one paint in one picture (found by simulation).
const LEFT: f64 = 0.4;
/// Paint this near to the paper tells no staining, ΔE00.
const NEAR_PAPER: f64 = 5.0;

fn staining(reading: &PictureReading) -> Vec<StainingEstimate> {
    let Some(told) = &reading.calibration else { return Vec::new() };
    let cells = reading.cells.iter().filter(|cell| cell.status == Status::Read);
    let estimate = |cell: &CellReading| {
        let off = |lab: Lab| ciede2000(lab, told.paper).value();
        let (dry, lifted) = (off(cell.lab?), off(cell.lifted?));
        let share = lifted / dry;
        let half_width = 100.0 * LEFT * cell.u? / dry * (1.0 + share * share).sqrt();
        let estimate = StainingEstimate { number: cell.number, percent: 100.0 * share, half_width };
        (dry >= NEAR_PAPER).then_some(estimate)
    };
    cells.filter_map(estimate).collect()
}

/// Every contrast ratio that a picture tells; none for films that are dark anyway.
fn contrast_ratios(
    target: &Target,
    reading: &PictureReading,
    conditions: Conditions,
) -> Vec<ContrastEstimate> {
    let Some(told) = &reading.calibration else { return Vec::new() };
    let luminance = |lab: Lab| lab.to_xyz(conditions).y;
    // U is three equal parts, and lightness one of them.
    let off = |lab: Lab, u: f64| {
        let at = |sign: f64| luminance(Lab { l: lab.l + sign * u / 3.0_f64.sqrt(), ..lab });
        (at(1.0) - at(-1.0)) / 2.0
    };
    // A square that was forgotten shows the paper, and no film.
    let squares = || {
        let all = target.cells.iter().zip(&reading.cells);
        all.filter(|(cell, read)| !cell.is_bare && read.status == Status::Read)
    };
    let light = |film: usize, is_white: bool| {
        let mut same = squares()
            .filter(|(cell, _)| cell.film == film && !cell.on_black && cell.on_white == is_white);
        same.find_map(|(_, read)| Some((read.number, read.lab?, read.u?)))
    };
    let over_black = squares().filter(|(cell, _)| cell.on_black);
    over_black
        .filter_map(|(cell, read)| {
            let black = luminance(read.lab?);
            let (over_light, lab, u) =
                light(cell.film, true).or_else(|| light(cell.film, false))?;
            let light = luminance(lab);
            let ratio = 100.0 * black / light;
            // Films over black and over white are colours far apart, whose errors need not cancel.
            let shares = (off(read.lab?, read.u?) / black).hypot(off(lab, u) / light);
            let half_width =
                if told.is_calibrated { CALIBRATED.max(ratio * shares) } else { UNCALIBRATED };
            let estimate =
                ContrastEstimate { over_black: read.number, over_light, ratio, half_width };
            (light >= DARK).then_some(estimate)
        })
        .collect()
}
