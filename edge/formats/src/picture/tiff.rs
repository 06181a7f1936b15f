//! A TIFF, strip by strip or tile by tile.

use std::io::Cursor;

use tiff::decoder::{ChunkType, Decoder, DecodingResult, Limits};
use tiff::tags::{ByteOrder, Tag};
use tiff::{ColorType, TiffError};

use super::header::{Header, PictureError};
use super::note::Note;
use super::rows::{Rows, Samples, byte};

/// One strip or tile, unpacked, takes no more bytes.
const MOST_PIECE: usize = 200 * 1024 * 1024;
const UNCOMPRESSED: u16 = 1;
const BLACK_IS_ZERO_OR_RGB: [u16; 2] = [1, 2];

type Open<'a> = Decoder<Cursor<&'a [u8]>>;

/// What it says before its pixels.
pub(super) fn header(bytes: &[u8]) -> Result<Header, PictureError> {
    let mut file = Decoder::new(Cursor::new(bytes)).map_err(why)?;
    let (width, height) = file.dimensions().map_err(why)?;
    let names = [Tag::Make, Tag::Model].map(|tag| file.get_tag_ascii_string(tag).ok());
    let orientation = file.find_tag_unsigned::<u32>(Tag::Orientation).ok().flatten();
    Ok(Header { width, height, note: Note::of(names, orientation.unwrap_or_default()) })
}

/// The pixels, three bytes each.
pub(super) fn rgb(bytes: &[u8], size: [usize; 2]) -> Result<Vec<u8>, PictureError> {
    let mut limits = Limits::default();
    limits.decoding_buffer_size = MOST_PIECE;
    limits.intermediate_buffer_size = MOST_PIECE;
    let mut file = Decoder::new(Cursor::new(bytes)).map_err(why)?.with_limits(limits);
    let (samples, bits) = match file.colortype().map_err(why)? {
        ColorType::Gray(bits) => (Samples::Grey, bits),
        ColorType::GrayA(bits) => (Samples::GreyAlpha, bits),
        ColorType::RGB(bits) => (Samples::Rgb, bits),
        ColorType::RGBA(bits) => (Samples::Rgba, bits),
        ColorType::CMYK(_) | ColorType::CMYKA(_) => return Err(PictureError::Cmyk),
        other => return Err(PictureError::Broken(format!("colour type {other:?}"))),
    };
    if number(&mut file, Tag::PlanarConfiguration)?.unwrap_or(1) != 1 {
        return Err(PictureError::Planes);
    }
    let mut rows = Rows::new(size);
    if let Some(plain) = Plain::of(&mut file, bits)? {
        plain.put(bytes, samples, size, &mut rows)?;
        return Ok(rows.into_rgb());
    }
    let (across, down) = file.chunk_dimensions();
    let count = match file.get_chunk_type() {
        ChunkType::Strip => file.strip_count(),
        ChunkType::Tile => file.tile_count(),
    };
    let in_a_row = (size[0] as u32).div_ceil(across.max(1)).max(1);
    for piece in 0..count.map_err(why)? {
        let place = [(piece % in_a_row * across) as usize, (piece / in_a_row * down) as usize];
        let width = file.chunk_data_dimensions(piece).0 as usize;
        let values = file.read_chunk(piece).map_err(why)?;
        put(&values, place, width, samples, bits, &mut rows)?;
    }
    Ok(rows.into_rgb())
}

fn put(
    values: &DecodingResult,
    place: [usize; 2],
    width: usize,
    samples: Samples,
    bits: u8,
    rows: &mut Rows,
) -> Result<(), PictureError> {
    match values {
        DecodingResult::U8(values) if bits == 8 => {
            rows.put(place, width, samples, values, |it| it);
        }
        DecodingResult::U16(values) => {
            rows.put(place, width, samples, values, byte);
        }
        DecodingResult::U32(values) => {
            rows.put(place, width, samples, values, |it| byte((it >> 16) as u16));
        }
        DecodingResult::F32(values) => {
            rows.put(place, width, samples, values, |it| (255.0 * it).round() as u8);
        }
        _ => return Err(PictureError::Broken(format!("samples of {bits} bits"))),
    }
    Ok(())
}

/// Strips as they are, which need no unpacking: a file of one strip is read like one of many.
struct Plain {
    offsets: Vec<u64>,
    rows_in_each: usize,
    is_wide: bool,
    order: ByteOrder,
}

impl Plain {
    fn of(file: &mut Open<'_>, bits: u8) -> Result<Option<Self>, PictureError> {
        let compression = number(file, Tag::Compression)?.unwrap_or(UNCOMPRESSED);
        let meant = number(file, Tag::PhotometricInterpretation)?;
        let is_float = number(file, Tag::SampleFormat)?.is_some_and(|it| it != 1);
        let is_plain = compression == UNCOMPRESSED
            && meant.is_some_and(|it| BLACK_IS_ZERO_OR_RGB.contains(&it))
            && matches!(file.get_chunk_type(), ChunkType::Strip)
            && matches!(bits, 8 | 16)
            && !is_float;
        if !is_plain {
            return Ok(None);
        }
        let offsets = file.get_tag_u64_vec(Tag::StripOffsets).map_err(why)?;
        let (rows_in_each, order) = (file.chunk_dimensions().1 as usize, file.byte_order());
        Ok(Some(Self { offsets, rows_in_each, is_wide: bits == 16, order }))
    }

    fn put(
        &self,
        bytes: &[u8],
        samples: Samples,
        [width, height]: [usize; 2],
        rows: &mut Rows,
    ) -> Result<(), PictureError> {
        let line = width * samples.count() * if self.is_wide { 2 } else { 1 };
        for (at, offset) in self.offsets.iter().enumerate() {
            let top = at * self.rows_in_each;
            let lines = self.rows_in_each.min(height.saturating_sub(top));
            let from = usize::try_from(*offset).map_err(|_| PictureError::Truncated)?;
            let strip = bytes.get(from..).and_then(|rest| rest.get(..lines * line));
            let strip = strip.ok_or(PictureError::Truncated)?;
            if self.is_wide {
                let (pairs, _) = strip.as_chunks::<2>();
                let wide = match self.order {
                    ByteOrder::LittleEndian => u16::from_le_bytes,
                    ByteOrder::BigEndian => u16::from_be_bytes,
                };
                rows.put([0, top], width, samples, pairs, |pair| byte(wide(pair)));
            } else {
                rows.put([0, top], width, samples, strip, |it| it);
            }
        }
        Ok(())
    }
}

fn number(file: &mut Open<'_>, tag: Tag) -> Result<Option<u16>, PictureError> {
    // One for each sample, or one for all: they are all the same where they can be read.
    let all = file.find_tag_unsigned_vec::<u16>(tag).map_err(why)?;
    Ok(all.and_then(|all| all.first().copied()))
}

fn why(error: TiffError) -> PictureError {
    match error {
        TiffError::IoError(error) if error.kind() == std::io::ErrorKind::UnexpectedEof => {
            PictureError::Truncated
        }
        TiffError::LimitsExceeded => PictureError::OnePiece,
        error => PictureError::Broken(error.to_string()),
    }
}
