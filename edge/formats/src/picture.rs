//! Pictures from scanners and cameras: PNG, JPEG and TIFF, within limits.

use std::fmt;
use std::io::Cursor;

use ::picture::{CellReading, Estimates, Flag, PictureReading, Raster, Refusal};
use image::codecs::jpeg::JpegEncoder;
use image::codecs::png::{CompressionType, FilterType, PngEncoder};
use image::metadata::Orientation;
use image::{
    DynamicImage, ExtendedColorType, ImageDecoder, ImageEncoder as _, ImageError, ImageFormat,
    ImageReader, Limits,
};
use serde_json::{Value, json};
use thiserror::Error;

pub use crate::drawn_mark::is_drawn;
use crate::drawn_mark::{put_comment, put_pattern};

/// Pixels that are read, at most.
pub const MAX_PIXELS: u64 = 80_000_000;
/// Bytes of a file that are read, at most.
pub const MAX_BYTES: u64 = 100 * 1024 * 1024;
/// Smallest side of a picture that can hold a sheet.
const LEAST_SIDE: u32 = 200;
/// Memory for a header alone.
const HEADER_BYTES: u64 = 8 * 1024 * 1024;
/// Memory beyond the pixels themselves.
const MORE_BYTES: u64 = 16 * 1024 * 1024;

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

/// Why a file is no picture that can be read.
#[derive(Debug, Error)]
pub enum PictureError {
    /// A phone's own format.
    #[error(
        "this is a HEIC picture, which cannot be read: set the phone's camera to “Most compatible” \
         (JPEG), or save the picture as JPEG"
    )]
    Heic,
    /// No PNG, JPEG or TIFF.
    #[error("this is no PNG, JPEG or TIFF picture")]
    OtherFormat,
    /// Too many pixels.
    #[error("the picture has {0} megapixels; up to 80 are read: scan at 300 or 600 dpi")]
    TooLarge(u64),
    /// Too many bytes.
    #[error("the file is larger than 100 MB; save it as JPEG or PNG")]
    TooManyBytes,
    /// Too few pixels.
    #[error("the picture is {0} × {1} pixels, too small to hold a sheet")]
    TooSmall(u32, u32),
    /// Colours for printing.
    #[error("the picture holds printing colours (CMYK): save it as RGB")]
    Cmyk,
    /// The end is missing.
    #[error("the picture ends too early: it was not sent or saved to its end; send it again")]
    Truncated,
    /// Its bytes are not what its kind of file holds; what the library said of it is for the log alone.
    #[error(
        "the picture is damaged, or saved in a way that cannot be read: send it again, or save it anew as PNG or JPEG"
    )]
    Broken(String),
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

/// Reads a picture.
///
/// # Errors
/// With what is wrong with it and what to do.
pub fn read(bytes: &[u8]) -> Result<PictureFile, PictureError> {
    if bytes.len() as u64 > MAX_BYTES {
        return Err(PictureError::TooManyBytes);
    }
    if bytes.get(4..8) == Some(b"ftyp") {
        return Err(PictureError::Heic);
    }
    let mut reader = ImageReader::new(Cursor::new(bytes))
        .with_guessed_format()
        .map_err(|error| PictureError::Broken(error.to_string()))?;
    let format = reader
        .format()
        .filter(|it| matches!(it, ImageFormat::Png | ImageFormat::Jpeg | ImageFormat::Tiff));
    let format = format.ok_or(PictureError::OtherFormat)?;
    // The library turns them into RGB of its own making, and tells nobody.
    if format == ImageFormat::Jpeg && components(bytes) == Some(4) {
        return Err(PictureError::Cmyk);
    }
    let mut limits = Limits::no_limits();
    limits.max_alloc = Some(HEADER_BYTES);
    reader.limits(limits);
    let mut decoder = reader.into_decoder().map_err(why)?;
    let (width, height) = decoder.dimensions();
    let pixels = u64::from(width) * u64::from(height);
    if pixels > MAX_PIXELS {
        return Err(PictureError::TooLarge(pixels / 1_000_000));
    }
    if width < LEAST_SIDE || height < LEAST_SIDE {
        return Err(PictureError::TooSmall(width, height));
    }
    if decoder.original_color_type() == ExtendedColorType::Cmyk8 {
        return Err(PictureError::Cmyk);
    }
    if format == ImageFormat::Jpeg && !has_end(bytes) {
        return Err(PictureError::Truncated);
    }
    let mut limits = Limits::no_limits();
    limits.max_alloc = Some(decoder.total_bytes() + MORE_BYTES);
    decoder.set_limits(limits).map_err(why)?;
    let device = decoder.exif_metadata().ok().flatten().and_then(device);
    let orientation = decoder.orientation().unwrap_or(Orientation::NoTransforms);
    let image = DynamicImage::from_decoder(decoder).map_err(why)?;
    let (mirrored, turns) = undone(orientation);
    let image = if mirrored { image.fliph() } else { image };
    let image = image.into_rgb8();
    let (width, height) = (image.width() as usize, image.height() as usize);
    let raster = Raster::new(width, height, image.into_raw());
    let raster = raster.ok_or_else(|| PictureError::Broken("no pixels".into()))?;
    Ok(PictureFile { raster, device, turns })
}

/// Whether a picture is mirrored before it is turned, and how it is turned then.
fn undone(orientation: Orientation) -> (bool, Turns) {
    match orientation {
        Orientation::NoTransforms => (false, Turns::None),
        Orientation::Rotate90 => (false, Turns::Quarter),
        Orientation::Rotate180 => (false, Turns::Half),
        Orientation::Rotate270 => (false, Turns::ThreeQuarters),
        Orientation::FlipHorizontal => (true, Turns::None),
        Orientation::FlipVertical => (true, Turns::Half),
        // Turned by a quarter, then mirrored: the same as mirrored, then turned the other way.
        Orientation::Rotate90FlipH => (true, Turns::ThreeQuarters),
        Orientation::Rotate270FlipH => (true, Turns::Quarter),
    }
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
        })
    });
    let reasons: Vec<String> = reading.refused.iter().map(Refusal::to_string).collect();
    json!({
        "cells": reading.cells.iter().map(cell).collect::<Vec<_>>(),
        "calibration": calibration,
        "simulated": simulated,
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

/// How many components the frame of a JPEG has (ISO/IEC 10918-1, B.2.2).
fn components(bytes: &[u8]) -> Option<u8> {
    let mut at = 2;
    loop {
        let [mark, kind] = [*bytes.get(at)?, *bytes.get(at + 1)?];
        if mark != 0xff {
            return None;
        }
        let is_frame = (0xc0..=0xcf).contains(&kind) && ![0xc4, 0xc8, 0xcc].contains(&kind);
        if is_frame {
            return bytes.get(at + 9).copied();
        }
        let length = u16::from_be_bytes([*bytes.get(at + 2)?, *bytes.get(at + 3)?]);
        at += 2 + usize::from(length);
    }
}

/// A JPEG's end stands after the beginning of its last scan (ISO/IEC 10918-1).
fn has_end(bytes: &[u8]) -> bool {
    let last = |marker: u8| bytes.windows(2).rposition(|pair| pair == [0xff, marker]);
    match (last(0xda), last(0xd9)) {
        (Some(scan), Some(end)) => end > scan,
        _ => false,
    }
}

fn why(error: ImageError) -> PictureError {
    match error {
        ImageError::IoError(error) if error.kind() == std::io::ErrorKind::UnexpectedEof => {
            PictureError::Truncated
        }
        ImageError::Limits(_) => {
            PictureError::Broken("it would take more memory than its size tells".into())
        }
        error => PictureError::Broken(error.to_string()),
    }
}
