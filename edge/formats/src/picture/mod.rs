//! Pictures from scanners and cameras: PNG, JPEG and TIFF, within limits.

mod decode;
mod header;
mod jpeg;
mod note;
mod png;
mod rows;
mod tiff;

use ::picture::{CellReading, Estimates, Flag, PictureReading, Raster, Refusal, square_named};
use serde_json::{Value, json};

use self::decode::Format;
pub use self::decode::{MAX_BYTES, MAX_PIXELS, read};
pub use self::header::PictureError;
pub use crate::drawn_mark::is_drawn;
use crate::drawn_mark::{put_comment, put_pattern};

/// A picture that was read.
#[derive(Debug, Clone)]
pub struct PictureFile {
    /// As the sensor saw it, not turned.
    pub raster: Raster,
    /// Which scanner or phone took it, as the file says.
    pub device: Option<String>,
    turns: Turns,
}

/// How a picture is turned when it is shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Turns {
    None,
    Quarter,
    Half,
    ThreeQuarters,
}

impl PictureFile {
    /// A place of the raster in the picture as it is shown.
    #[must_use]
    pub fn shown(&self, [x, y]: [f64; 2]) -> [f64; 2] {
        let (width, height) = (self.raster.width() as f64, self.raster.height() as f64);
        match self.turns {
            Turns::None => [x, y],
            Turns::Quarter => [height - y, x],
            Turns::Half => [width - x, height - y],
            Turns::ThreeQuarters => [y, width - x],
        }
    }

    /// The other way round: a place of the picture as it is shown, in the raster.
    #[must_use]
    pub fn seen(&self, [x, y]: [f64; 2]) -> [f64; 2] {
        let (width, height) = (self.raster.width() as f64, self.raster.height() as f64);
        match self.turns {
            Turns::None => [x, y],
            Turns::Quarter => [y, height - x],
            Turns::Half => [width - x, height - y],
            Turns::ThreeQuarters => [width - y, x],
        }
    }

    /// Width and height of the picture as it is shown, pixels.
    #[must_use]
    pub fn size_shown(&self) -> [usize; 2] {
        let size = [self.raster.width(), self.raster.height()];
        match self.turns {
            Turns::None | Turns::Half => size,
            Turns::Quarter | Turns::ThreeQuarters => [size[1], size[0]],
        }
    }
}

impl PictureFile {
    /// A raster of this picture, turned as it is shown, as JPEG; empty where it cannot be written.
    #[must_use]
    pub fn as_shown(&self, raster: &Raster) -> Vec<u8> {
        let size = [raster.width(), raster.height()];
        let (rgb, [width, height]) = rows::turned(raster.rgb(), size, self.turns);
        write((width, height), &rgb, true).unwrap_or_default()
    }
}

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

/// A picture that a simulated device drew, which says so in its file and in its pixels.
///
/// # Errors
/// As [`write`].
pub fn write_drawn(
    (width, height): (usize, usize),
    rgb: &[u8],
    as_jpeg: bool,
) -> Result<Vec<u8>, PictureError> {
    let mut rgb = rgb.to_vec();
    put_pattern(width.max(1), &mut rgb);
    Ok(put_comment(&write((width, height), &rgb, as_jpeg)?, as_jpeg))
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

/// A picture's bytes as PNG, or as JPEG of good quality.
///
/// # Errors
/// Where the bytes are not three for each pixel, or a side is longer than the format has numbers for.
pub fn write(
    (width, height): (usize, usize),
    rgb: &[u8],
    as_jpeg: bool,
) -> Result<Vec<u8>, PictureError> {
    if rgb.len() != 3 * width * height {
        return Err(PictureError::Broken("not three bytes for each pixel".into()));
    }
    if as_jpeg { jpeg::write([width, height], rgb) } else { png::write([width, height], rgb) }
}
