//! Pictures from scanners and cameras: PNG, JPEG and TIFF, within limits.

mod decode;
mod file;
mod header;
mod jpeg;
mod note;
mod png;
mod rows;
mod tiff;
mod turns;
mod write;

use ::picture::{CellReading, Estimates, Flag, PictureReading, Refusal, square_named};
use serde_json::{Value, json};

use self::decode::Format;
pub use self::decode::{MAX_BYTES, MAX_PIXELS, read};
pub use self::file::PictureFile;
pub use self::header::PictureError;
pub use self::write::{write, write_drawn};
pub use crate::drawn_mark::is_drawn;

/// A drawn page: width, height and grey values, row by row.
///
/// # Errors
/// As [`read`].
pub fn grey(bytes: &[u8]) -> Result<(usize, usize, Vec<u8>), PictureError> {
    let [width, height] = png::header(bytes)?.size();
    let rgb = png::rgb(bytes, [width, height])?;
    let (pixels, _) = rgb.as_chunks::<3>();
    let grey = |[r, g, b]: &[u8; 3]| {
        ((54 * u32::from(*r) + 183 * u32::from(*g) + 19 * u32::from(*b)) >> 8) as u8
    };
    Ok((width, height, pixels.iter().map(grey).collect()))
}

/// What a picture told, for other programs; `simulated` where a simulated device read squares that calibrate it.
#[must_use]
pub fn to_json(
    reading: &PictureReading,
    estimates: &Estimates,
    file: &PictureFile,
    simulated: bool,
) -> Value {
    let rounded = |value: f64| (value * 100.0).round() / 100.0;
    let cell = |cell: &CellReading| {
        let [l, a, b] = cell.lab.map_or([None; 3], |lab| lab.axes().map(|it| Some(rounded(it))));
        let px = cell.px.map(|px| file.shown(px).map(rounded));
        json!({
            "number": cell.number,
            "status": cell.status.to_string(),
            "L": l, "a": a, "b": b,
            "U": cell.u.map(rounded),
            "px": px.map(|it| it[0]), "py": px.map(|it| it[1]),
            "grain": cell.grain.map(rounded),
            "flags": cell.flags.iter().map(Flag::to_string).collect::<Vec<_>>(),
        })
    };
    let calibration = reading.calibration.as_ref().map(|told| {
        json!({
            "anchors": told.anchors,
            "method": if told.is_calibrated { "calibrated" } else { "uncalibrated" },
            "loo": told.leave_one_out.map(rounded),
            "doubted": told.doubted.iter().map(|(number, why)| json!({
                "square": square_named(*number),
                "why": why.to_string(),
            })).collect::<Vec<_>>(),
        })
    });
    let reasons: Vec<String> = reading.refused.iter().map(Refusal::to_string).collect();
    json!({
        "cells": reading.cells.iter().map(cell).collect::<Vec<_>>(),
        "calibration": calibration,
        "simulated": simulated,
        "off_flat_mm": rounded(reading.off_flat_mm),
        "estimates": {
            "contrast_ratios": estimates.contrast_ratios.iter().map(|it| json!({
                "over_black": it.over_black,
                "over_light": it.over_light,
                "ratio": rounded(it.ratio),
                "half_width": it.half_width,
            })).collect::<Vec<_>>(),
            "staining": estimates.staining.iter().map(|it| json!({
                "number": it.number,
                "percent": rounded(it.percent),
                "half_width": rounded(it.half_width),
            })).collect::<Vec<_>>(),
        },
        "refused": if reasons.is_empty() { Value::Null } else { reasons.into() },
    })
}

/// How the name of a file with these bytes ends: `png`, `jpg` or `tif`.
#[must_use]
pub fn ending(bytes: &[u8]) -> &'static str {
    match Format::of(bytes) {
        Some(Format::Png) => "png",
        Some(Format::Tiff) => "tif",
        Some(Format::Jpeg) | None => "jpg",
    }
}
