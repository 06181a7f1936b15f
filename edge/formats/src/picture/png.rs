//! A PNG, line by line.

use std::io::{BufReader, Cursor};

use png::{BitDepth, ColorType, Decoder, DecodingError, Transformations};

use super::decode::{MOST_WHOLE, PictureError};
use super::rows::{Rows, Samples, byte};

/// The pixels, three bytes each.
pub(super) fn rgb(bytes: &[u8], size: [usize; 2]) -> Result<Vec<u8>, PictureError> {
    let mut decoder = Decoder::new(BufReader::new(Cursor::new(bytes)));
    decoder.set_transformations(Transformations::EXPAND);
    let mut reader = decoder.read_info().map_err(why)?;
    let (kind, depth) = reader.output_color_type();
    let is_wide = depth == BitDepth::Sixteen;
    let samples = match kind {
        ColorType::Grayscale => Samples::Grey,
        ColorType::GrayscaleAlpha => Samples::GreyAlpha,
        ColorType::Rgba => Samples::Rgba,
        ColorType::Rgb | ColorType::Indexed => Samples::Rgb,
    };
    let mut rows = Rows::new(size);
    let [width, height] = size;
    if reader.info().interlaced {
        let pixels = (width * height) as u64;
        if pixels > MOST_WHOLE / if is_wide { 2 } else { 1 } {
            return Err(PictureError::OnlyWhole(pixels / 1_000_000));
        }
        let bytes = if is_wide { 2 } else { 1 };
        let mut all = vec![0; width * height * samples.count() * bytes];
        reader.next_frame(&mut all).map_err(why)?;
        put(&all, [0, 0], (width, samples, is_wide), &mut rows);
        return Ok(rows.into_rgb());
    }
    for y in 0..height {
        let row = reader.next_row().map_err(why)?.ok_or(PictureError::Truncated)?;
        put(row.data(), [0, y], (width, samples, is_wide), &mut rows);
    }
    Ok(rows.into_rgb())
}

fn put(
    values: &[u8],
    place: [usize; 2],
    (width, samples, is_wide): (usize, Samples, bool),
    rows: &mut Rows,
) {
    if is_wide {
        let (pairs, _) = values.as_chunks::<2>();
        rows.put(place, width, samples, pairs, |pair| byte(u16::from_be_bytes(pair)));
    } else {
        rows.put(place, width, samples, values, |it| it);
    }
}

fn why(error: DecodingError) -> PictureError {
    match error {
        DecodingError::IoError(error) if error.kind() == std::io::ErrorKind::UnexpectedEof => {
            PictureError::Truncated
        }
        error => PictureError::Broken(error.to_string()),
    }
}
