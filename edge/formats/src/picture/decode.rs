//! From a file's bytes to pixels, within limits, a piece at a time: memory holds the file and the picture once.

use std::io::Cursor;

use ::picture::Raster;
use image::metadata::Orientation;
use image::{
    DynamicImage, ExtendedColorType, ImageDecoder, ImageError, ImageFormat, ImageReader, Limits,
};
use thiserror::Error;

use super::{PictureFile, Turns, jpeg, png, rows, tiff};

/// Pixels that are read, at most.
pub const MAX_PIXELS: u64 = 80_000_000;
/// The same of a file that can only be read as a whole.
pub(super) const MOST_WHOLE: u64 = 40_000_000;
/// Bytes of a file that are read, at most.
pub const MAX_BYTES: u64 = 128 * 1024 * 1024;
/// Smallest side of a picture that can hold a sheet.
const LEAST_SIDE: u32 = 200;
/// Memory for a header alone.
const HEADER_BYTES: u64 = 8 * 1024 * 1024;
/// Memory beyond the pixels themselves.
const MORE_BYTES: u64 = 16 * 1024 * 1024;

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
    /// Too many pixels for the way that it is stored.
    #[error(
        "the picture has {0} megapixels and is stored coarse first (progressive, or interlaced), of which up to 40 are \
         read: save it as a plain JPEG or PNG"
    )]
    OnlyWhole(u64),
    /// A TIFF in one piece that takes too much memory.
    #[error("the picture is packed as one large piece: save it as PNG, or as TIFF in strips")]
    OnePiece,
    /// A TIFF that holds red, green and blue apart.
    #[error(
        "the picture holds red, green and blue apart (planar TIFF): save it as PNG or plain TIFF"
    )]
    Planes,
    /// Too many bytes.
    #[error("the file is larger than 128 MB; save it with 8 bits a channel, or as JPEG or PNG")]
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
    let (frame, has_end) = match format {
        ImageFormat::Jpeg => jpeg::frame_and_end(bytes),
        _ => (None, true),
    };
    // The library turns them into RGB of its own making, and tells nobody.
    if frame.is_some_and(|it| it.components == 4) {
        return Err(PictureError::Cmyk);
    }
    if let Some(large) = frame.filter(|it| it.is_progressive && it.pixels > MOST_WHOLE) {
        return Err(PictureError::OnlyWhole(large.pixels / 1_000_000));
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
    if !has_end {
        return Err(PictureError::Truncated);
    }
    let device = decoder.exif_metadata().ok().flatten().and_then(super::device);
    let orientation = decoder.orientation().unwrap_or(Orientation::NoTransforms);
    let size = [width as usize, height as usize];
    let mut rgb = match format {
        ImageFormat::Png => png::rgb(bytes, size)?,
        ImageFormat::Tiff => tiff::rgb(bytes, size)?,
        _ => whole(decoder)?,
    };
    let (mirrored, turns) = Turns::undoing(orientation);
    if mirrored {
        rows::mirror(&mut rgb, size[0]);
    }
    let raster = Raster::new(size[0], size[1], rgb);
    let raster = raster.ok_or_else(|| PictureError::Broken("no pixels".into()))?;
    Ok(PictureFile { raster, device, turns })
}

/// A JPEG, which the library unpacks into three bytes a pixel, or one.
fn whole(mut decoder: impl ImageDecoder) -> Result<Vec<u8>, PictureError> {
    let mut limits = Limits::no_limits();
    limits.max_alloc = Some(decoder.total_bytes() + MORE_BYTES);
    decoder.set_limits(limits).map_err(why)?;
    let image = DynamicImage::from_decoder(decoder).map_err(why)?;
    Ok(image.into_rgb8().into_raw())
}

pub(super) fn why(error: ImageError) -> PictureError {
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
