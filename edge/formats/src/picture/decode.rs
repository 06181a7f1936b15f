//! From a file's bytes to pixels, within limits, a piece at a time: memory holds the file and the picture once.

use ::picture::Raster;

use super::file::PictureFile;
use super::header::PictureError;
use super::{jpeg, png, rows, tiff};

/// Pixels that are read, at most.
pub const MAX_PIXELS: u64 = 80_000_000;
/// Bytes of a file that are read, at most.
pub const MAX_BYTES: u64 = 128 * 1024 * 1024;
/// Smallest side of a picture that can hold a sheet.
const LEAST_SIDE: u32 = 200;

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
    let format = Format::of(bytes).ok_or(PictureError::OtherFormat)?;
    let header = match format {
        Format::Png => png::header(bytes)?,
        Format::Jpeg => jpeg::header(bytes)?,
        Format::Tiff => tiff::header(bytes)?,
    };
    if header.pixels() > MAX_PIXELS {
        return Err(PictureError::TooLarge(header.pixels() / 1_000_000));
    }
    if header.width < LEAST_SIDE || header.height < LEAST_SIDE {
        return Err(PictureError::TooSmall(header.width, header.height));
    }
    let size = header.size();
    let mut rgb = match format {
        Format::Png => png::rgb(bytes, size)?,
        Format::Jpeg => jpeg::rgb(bytes, size)?,
        Format::Tiff => tiff::rgb(bytes, size)?,
    };
    let (mirrored, turns) = header.note.turns();
    if mirrored {
        rows::mirror(&mut rgb, size[0]);
    }
    let raster = Raster::new(size[0], size[1], rgb);
    let raster = raster.ok_or_else(|| PictureError::Broken("no pixels".into()))?;
    Ok(PictureFile { raster, device: header.note.device, turns })
}

/// The formats that are read, by the bytes that a file begins with.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Format {
    Png,
    Jpeg,
    Tiff,
}

impl Format {
    pub fn of(bytes: &[u8]) -> Option<Self> {
        let begins: [(&[u8], Self); 4] = [
            (b"\x89PNG\r\n\x1a\n", Self::Png),
            (b"\xff\xd8\xff", Self::Jpeg),
            (b"II*\0", Self::Tiff),
            (b"MM\0*", Self::Tiff),
        ];
        begins.into_iter().find(|(begin, _)| bytes.starts_with(begin)).map(|it| it.1)
    }
}
