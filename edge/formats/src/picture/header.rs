//! What a file says before its pixels, and why it cannot be read.

use thiserror::Error;

use super::note::Note;

/// Pixels of a file that can only be read as a whole, at most.
pub(super) const MOST_WHOLE: u64 = 40_000_000;

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

    pub fn pixels(&self) -> u64 {
        u64::from(self.width) * u64::from(self.height)
    }
}
