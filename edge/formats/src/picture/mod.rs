//! Pictures from scanners and cameras: PNG, JPEG and TIFF, within limits.

mod decode;
mod jpeg;
mod png;
mod rows;
mod tiff;

use std::fmt;

use ::picture::{CellReading, Estimates, Flag, PictureReading, Raster, Refusal, square_named};
use image::codecs::jpeg::JpegEncoder;
use image::codecs::png::{CompressionType, FilterType, PngEncoder};
use image::metadata::Orientation;
use image::{DynamicImage, ExtendedColorType, ImageEncoder as _, ImageFormat};
use serde_json::{Value, json};

use self::decode::why;
pub use self::decode::{MAX_BYTES, MAX_PIXELS, PictureError, read};
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

impl Turns {
    /// Whether a picture is mirrored before it is turned, and how it is turned then.
    fn undoing(orientation: Orientation) -> (bool, Self) {
        match orientation {
            Orientation::NoTransforms => (false, Self::None),
            Orientation::Rotate90 => (false, Self::Quarter),
            Orientation::Rotate180 => (false, Self::Half),
            Orientation::Rotate270 => (false, Self::ThreeQuarters),
            Orientation::FlipHorizontal => (true, Self::None),
            Orientation::FlipVertical => (true, Self::Half),
            // Turned by a quarter, then mirrored: the same as mirrored, then turned the other way.
            Orientation::Rotate90FlipH => (true, Self::ThreeQuarters),
            Orientation::Rotate270FlipH => (true, Self::Quarter),
        }
    }
}

/// Letters of a device's name that are kept.
const DEVICE_LETTERS: usize = 60;

/// Maker and model, the maker once.
fn device(raw: Vec<u8>) -> Option<String> {
    let exif = exif::Reader::new().read_raw(raw).ok()?;
    let text = |tag: exif::Tag| {
        let exif::Value::Ascii(lines) = &exif.get_field(tag, exif::In::PRIMARY)?.value else {
            return None;
        };
        let line = String::from_utf8_lossy(lines.first()?).into_owned();
        let plain = study::names::tidied(line.trim_matches('\0'));
        (!plain.is_empty()).then_some(plain)
    };
    let [maker, model] = [exif::Tag::Make, exif::Tag::Model].map(text);
    let name = match (maker, model) {
        (Some(maker), Some(model)) if !model.starts_with(&maker) => format!("{maker} {model}"),
        (maker, model) => model.or(maker)?,
    };
    Some(name.chars().take(DEVICE_LETTERS).collect())
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
        let [width, height] = [raster.width(), raster.height()].map(|it| it as u32);
        let Some(image) = image::RgbImage::from_raw(width, height, raster.rgb().to_vec()) else {
            return Vec::new();
        };
        let image = DynamicImage::from(image);
        let image = match self.turns {
            Turns::None => image,
            Turns::Quarter => image.rotate90(),
            Turns::Half => image.rotate180(),
            Turns::ThreeQuarters => image.rotate270(),
        }
        .into_rgb8();
        let size = (image.width() as usize, image.height() as usize);
        write(size, image.as_raw(), true).unwrap_or_default()
    }
}

/// A drawn page: width, height and grey values, row by row.
///
/// # Errors
/// As [`read`].
pub fn grey(bytes: &[u8]) -> Result<(usize, usize, Vec<u8>), PictureError> {
    let page = image::load_from_memory_with_format(bytes, ImageFormat::Png).map_err(why)?;
    let page = page.into_luma8();
    Ok((page.width() as usize, page.height() as usize, page.into_raw()))
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
    match image::guess_format(bytes) {
        Ok(ImageFormat::Png) => "png",
        Ok(ImageFormat::Tiff) => "tif",
        _ => "jpg",
    }
}

/// A picture's bytes as PNG, or as JPEG of good quality.
///
/// # Errors
/// Where the bytes are not three for each pixel.
pub fn write(
    (width, height): (usize, usize),
    rgb: &[u8],
    as_jpeg: bool,
) -> Result<Vec<u8>, PictureError> {
    let broken = |error: &dyn fmt::Display| PictureError::Broken(error.to_string());
    let [width, height] = [width, height].map(|side| u32::try_from(side).unwrap_or(u32::MAX));
    let mut bytes = Vec::new();
    let done = if as_jpeg {
        JpegEncoder::new_with_quality(&mut bytes, 92).encode(
            rgb,
            width,
            height,
            ExtendedColorType::Rgb8,
        )
    } else {
        PngEncoder::new_with_quality(&mut bytes, CompressionType::Fast, FilterType::Sub)
            .write_image(rgb, width, height, ExtendedColorType::Rgb8)
    };
    done.map_err(|error| broken(&error))?;
    Ok(bytes)
}
