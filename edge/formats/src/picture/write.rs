//! Pictures as files.

use super::header::PictureError;
use super::{jpeg, png};
use crate::drawn_mark::{put_comment, put_pattern};

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
