//! A JPEG: what its segments say (ISO/IEC 10918-1, annex B), and its pixels.

use jpeg_encoder::{ColorType, Encoder};
use zune_core::bytestream::ZCursor;
use zune_core::colorspace::ColorSpace;
use zune_core::options::DecoderOptions;
use zune_jpeg::JpegDecoder;
use zune_jpeg::errors::DecodeErrors;

use super::header::{Header, MOST_WHOLE, PictureError};
use super::note::Note;

/// Of what is written, 0 to 100.
const QUALITY: u8 = 92;
/// The longest side that a frame has numbers for.
const LONGEST: usize = u16::MAX as usize;

type Open<'a> = JpegDecoder<ZCursor<&'a [u8]>>;

/// What it says before its pixels; refused where these cannot be read.
pub(super) fn header(bytes: &[u8]) -> Result<Header, PictureError> {
    let (frame, has_end) = frame_and_end(bytes);
    // The library turns them into RGB of its own making, and tells nobody.
    if frame.is_some_and(|it| it.components == 4) {
        return Err(PictureError::Cmyk);
    }
    if let Some(large) = frame.filter(|it| it.is_progressive && it.pixels > MOST_WHOLE) {
        return Err(PictureError::OnlyWhole(large.pixels / 1_000_000));
    }
    let (decoder, [width, height]) = opened(bytes)?;
    if !has_end {
        return Err(PictureError::Truncated);
    }
    let note = decoder.exif().map(|raw| Note::of_exif(raw.clone())).unwrap_or_default();
    Ok(Header { width, height, note })
}

/// The pixels, three bytes each.
pub(super) fn rgb(bytes: &[u8], [width, height]: [usize; 2]) -> Result<Vec<u8>, PictureError> {
    let rgb = opened(bytes)?.0.decode().map_err(|error| why(&error))?;
    let pixels = width * height;
    match rgb.len() / pixels.max(1) {
        3 => Ok(rgb),
        _ => Err(PictureError::Broken("not three bytes for each pixel".into())),
    }
}

fn opened(bytes: &[u8]) -> Result<(Open<'_>, [u32; 2]), PictureError> {
    let options = DecoderOptions::default()
        .set_strict_mode(false)
        .set_max_width(LONGEST)
        .set_max_height(LONGEST)
        .jpeg_set_out_colorspace(ColorSpace::RGB);
    let mut decoder = JpegDecoder::new_with_options(ZCursor::new(bytes), options);
    decoder.decode_headers().map_err(|error| why(&error))?;
    let info = decoder.info().ok_or_else(|| PictureError::Broken("no header".into()))?;
    Ok((decoder, [u32::from(info.width), u32::from(info.height)]))
}

fn why(error: &DecodeErrors) -> PictureError {
    PictureError::Broken(error.to_string())
}

/// A picture as JPEG of good quality.
pub(super) fn write(size: [usize; 2], rgb: &[u8]) -> Result<Vec<u8>, PictureError> {
    let [width, height] = size.map(|side| u16::try_from(side).unwrap_or_default());
    let mut bytes = Vec::new();
    let done = Encoder::new(&mut bytes, QUALITY).encode(rgb, width, height, ColorType::Rgb);
    done.map_err(|error| PictureError::Broken(error.to_string()))?;
    Ok(bytes)
}

/// The frame of a JPEG.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
struct Frame {
    /// How many pixels it has.
    pixels: u64,
    /// How many components it has.
    components: u8,
    /// It is stored coarse first, and can only be read as a whole.
    is_progressive: bool,
}

/// Its frame, and whether its picture ends where it should. What a camera puts after the end (a film) is no part of it.
fn frame_and_end(bytes: &[u8]) -> (Option<Frame>, bool) {
    let mut frame = None;
    let mut at = 2;
    while let Some((kind, from)) = marker(bytes, at) {
        match kind {
            0xd9 => return (frame, true),
            // Without a length.
            0x01 | 0xd0..=0xd8 => {
                at = from;
                continue;
            }
            _ => {}
        }
        let Some(length) = bytes.get(from..from + 2) else { break };
        let length = usize::from(u16::from_be_bytes([length[0], length[1]]));
        if (0xc0..=0xcf).contains(&kind) && ![0xc4, 0xc8, 0xcc].contains(&kind) {
            let is_progressive = matches!(kind, 0xc2 | 0xc6 | 0xca | 0xce);
            frame = bytes.get(from + 3..from + 8).map(|it| Frame {
                pixels: side([it[0], it[1]]) * side([it[2], it[3]]),
                components: it[4],
                is_progressive,
            });
        }
        at = from + length;
        if kind == 0xda {
            at = after_scan(bytes, at);
        }
    }
    (frame, false)
}

fn side(bytes: [u8; 2]) -> u64 {
    u64::from(u16::from_be_bytes(bytes))
}

/// The next marker's kind and the place after it; `None` where none stands there.
fn marker(bytes: &[u8], mut at: usize) -> Option<(u8, usize)> {
    if *bytes.get(at)? != 0xff {
        return None;
    }
    while *bytes.get(at)? == 0xff {
        at += 1;
    }
    Some((bytes[at], at + 1))
}

/// Where the coded data of a scan end: at the next marker that is no restart and no stuffed byte.
fn after_scan(bytes: &[u8], from: usize) -> usize {
    let is_end = |pair: &[u8]| pair[0] == 0xff && !matches!(pair[1], 0x00 | 0xd0..=0xd7 | 0xff);
    let rest = bytes.get(from..).unwrap_or_default();
    rest.windows(2).position(is_end).map_or(bytes.len(), |found| from + found)
}
