//! From a file's bytes to pixels, within limits, a piece at a time: memory holds the file and the picture once.

use ::picture::Raster;
use thiserror::Error;

use super::note::Note;
use super::{PictureFile, jpeg, png, rows, tiff};

/// Pixels that are read, at most.
pub const MAX_PIXELS: u64 = 80_000_000;
/// The same of a file that can only be read as a whole.
pub(super) const MOST_WHOLE: u64 = 40_000_000;
/// Bytes of a file that are read, at most.
pub const MAX_BYTES: u64 = 128 * 1024 * 1024;
/// Smallest side of a picture that can hold a sheet.
const LEAST_SIDE: u32 = 200;

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

/// What a file says before its pixels.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Header {
    pub width: u32,
    pub height: u32,
    pub note: Note,
}

impl Header {
    pub fn size(&self) -> [usize; 2] {
        [self.width as usize, self.height as usize]
    }

    fn pixels(&self) -> u64 {
        u64::from(self.width) * u64::from(self.height)
    }
}
