//! A PNG, line by line.

use std::io::{BufReader, Cursor};

use png::{
    BitDepth, ColorType, Compression, Decoder, DecodingError, Encoder, EncodingError, Filter,
    Limits, Transformations,
};

use super::header::{Header, MOST_WHOLE, PictureError};
use super::note::Note;
use super::rows::{Rows, Samples, byte};

/// Memory for a header alone.
const HEADER_BYTES: usize = 8 * 1024 * 1024;

/// What it says before its pixels.
pub(super) fn header(bytes: &[u8]) -> Result<Header, PictureError> {
    let limits = Limits { bytes: HEADER_BYTES };
    let decoder = Decoder::new_with_limits(BufReader::new(Cursor::new(bytes)), limits);
    let reader = decoder.read_info().map_err(why)?;
    let info = reader.info();
    let note = info.exif_metadata.as_ref().map(|raw| Note::of_exif(raw.to_vec()));
    Ok(Header { width: info.width, height: info.height, note: note.unwrap_or_default() })
}

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

/// A picture as PNG, quickly packed.
pub(super) fn write(size: [usize; 2], rgb: &[u8]) -> Result<Vec<u8>, PictureError> {
    let [width, height] = size.map(|side| u32::try_from(side).unwrap_or_default());
    let mut bytes = Vec::new();
    let mut encoder = Encoder::new(&mut bytes, width, height);
    encoder.set_color(ColorType::Rgb);
    encoder.set_depth(BitDepth::Eight);
    encoder.set_compression(Compression::Fast);
    encoder.set_filter(Filter::Sub);
    let broken = |error: EncodingError| PictureError::Broken(error.to_string());
    let mut writer = encoder.write_header().map_err(broken)?;
    writer.write_image_data(rgb).map_err(broken)?;
    writer.finish().map_err(broken)?;
    Ok(bytes)
}
