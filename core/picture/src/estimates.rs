//! What one picture tells besides colours: estimates, and never readings.

use colour::{Conditions, Lab};

use crate::target::Target;
use crate::told::{PictureReading, Status};

/// A contrast ratio from the same film over black and over something light.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ContrastEstimate {
    /// Number of the square over black.
    pub over_black: u32,
    /// Number of the square over white, or over paper where there is none over white.
    pub over_light: u32,
    /// 100 times the luminance over black by that over light.
    pub ratio: f64,
    /// Half-width of its 95 % interval: 6 from a calibrated picture, 8 from another, which is indicative only (found
    /// by simulation).
    pub half_width: f64,
}

const CALIBRATED: f64 = 6.0;
const UNCALIBRATED: f64 = 8.0;
/// Below this luminance over light the ratio says nothing (ASTM D2805 is for light films).
const DARK: f64 = 15.0;

/// Every contrast ratio that a picture tells; none for films that are dark anyway.
#[must_use]
pub fn contrast_ratios(
    target: &Target,
    reading: &PictureReading,
    conditions: Conditions,
) -> Vec<ContrastEstimate> {
    let Some(told) = &reading.calibration else { return Vec::new() };
    let half_width = if told.is_calibrated { CALIBRATED } else { UNCALIBRATED };
    let luminance = |lab: Lab| lab.to_xyz(conditions).y;
    // A square that was forgotten shows the paper, and no film.
    let squares = || {
        let all = target.cells.iter().zip(&reading.cells);
        all.filter(|(cell, read)| !cell.is_bare && read.status == Status::Read)
    };
    let light = |film: usize, is_white: bool| {
        let mut same = squares()
            .filter(|(cell, _)| cell.film == film && !cell.on_black && cell.on_white == is_white);
        same.find_map(|(_, read)| Some((read.number, luminance(read.lab?))))
    };
    let over_black = squares().filter(|(cell, _)| cell.on_black);
    over_black
        .filter_map(|(cell, read)| {
            let black = luminance(read.lab?);
            let (over_light, light) = light(cell.film, true).or_else(|| light(cell.film, false))?;
            let ratio = 100.0 * black / light;
            let estimate =
                ContrastEstimate { over_black: read.number, over_light, ratio, half_width };
            (light >= DARK).then_some(estimate)
        })
        .collect()
}
