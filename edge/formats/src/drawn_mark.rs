//! What a picture says of itself that a simulated device drew: a comment in its file, and a pattern in its pixels that
//! nobody sees, for files that were saved anew and lost the comment.
//!
//! The pattern is a spread spectrum (Cox, Kilian, Leighton and Shamoon 1997): blocks of 8 × 8 pixels are lighter or
//! darker by a quarter of a step, which of the two by their place. It is found again in every file with the same pixels,
//! saved as JPEG of usual quality, turned by quarters or mirrored as well. It is lost where a picture is cut, made
//! smaller or larger, or turned otherwise.

use ::picture::Raster;

/// What the comment says: in a JPEG (ISO/IEC 10918-1, B.2.4.5), in a PNG as a text (ISO/IEC 15948, 11.3.3.3).
const DRAWN: &[u8] = b"Upright Swatch: drawn by a simulated device, no picture of any paint";
/// Side of a block, pixels: that of a JPEG.
const BLOCK: usize = 8;
/// One pixel of so many is moved by one step.
const EVERY: usize = 4;
/// What stands out more than this from its neighbours is an edge, and counts as much, in steps.
const EDGE: f64 = 2.0;
/// By chance a picture agrees with the pattern this many standard deviations once in a thousand million.
const SURE: f64 = 6.5;

/// A simulated device drew it, as far as its file or its pixels say.
#[must_use]
pub fn is_drawn(bytes: &[u8], raster: &Raster) -> bool {
    bytes.windows(DRAWN.len()).any(|it| it == DRAWN) || has_pattern(raster)
}

/// Moves pixels of a picture, three bytes each, so that they say it.
pub(crate) fn put_pattern(width: usize, rgb: &mut [u8]) {
    for (row, line) in rgb.chunks_exact_mut(3 * width).enumerate() {
        for (column, pixel) in line.chunks_exact_mut(3).enumerate() {
            if !(row + 2 * column).is_multiple_of(EVERY) {
                continue;
            }
            let lighter = is_lighter(column / BLOCK, row / BLOCK);
            for value in pixel {
                *value = if lighter { value.saturating_add(1) } else { value.saturating_sub(1) };
            }
        }
    }
}

/// Puts the comment into an encoded picture.
pub(crate) fn put_comment(bytes: &[u8], as_jpeg: bool) -> Vec<u8> {
    let (at, said) = if as_jpeg {
        let length = u16::try_from(DRAWN.len() + 2).unwrap_or(u16::MAX);
        (2, [&[0xff, 0xfe], &length.to_be_bytes()[..], DRAWN].concat())
    } else {
        // After the signature and the header: 8 and 25 bytes.
        let text = [b"tEXtComment\0", DRAWN].concat();
        let length = u32::try_from(text.len() - 4).unwrap_or(u32::MAX);
        let check = crc32fast::hash(&text);
        (33, [&length.to_be_bytes()[..], &text, &check.to_be_bytes()].concat())
    };
    let (head, rest) = bytes.split_at(at.min(bytes.len()));
    [head, &said, rest].concat()
}

/// Whether the block at a place is a little lighter, else a little darker: by the bits of a mixed number (the finalizer
/// of Steele, Lea and Flood 2014).
fn is_lighter(column: usize, row: usize) -> bool {
    let mut bits = (column as u64) << 32 | row as u64;
    bits = (bits ^ bits >> 30).wrapping_mul(0xbf58_476d_1ce4_e5b9);
    bits = (bits ^ bits >> 27).wrapping_mul(0x94d0_49bb_1331_11eb);
    (bits ^ bits >> 31) & 1 == 1
}

fn has_pattern(raster: &Raster) -> bool {
    let blocks = Blocks::of(raster);
    (0..8).any(|way| blocks.agreement(way) > SURE)
}

/// How much each block stands out from those around it.
struct Blocks {
    columns: usize,
    rows: usize,
    /// Pixels left over at the right and at the bottom, which lie at the left and the top of a turned picture.
    rest: [usize; 2],
    out: Vec<f64>,
}

impl Blocks {
    fn of(raster: &Raster) -> Self {
        let (columns, rows) = (raster.width() / BLOCK, raster.height() / BLOCK);
        let rest = [raster.width() % BLOCK, raster.height() % BLOCK];
        let mut sums = vec![0_u32; columns * rows];
        for (row, line) in raster.rgb().chunks_exact(3 * raster.width()).enumerate() {
            let Some(sums) = sums.get_mut(row / BLOCK * columns..(row / BLOCK + 1) * columns)
            else {
                break;
            };
            for (sum, block) in sums.iter_mut().zip(line.chunks_exact(3 * BLOCK)) {
                *sum += block.iter().map(|value| u32::from(*value)).sum::<u32>();
            }
        }
        let mean = |column: usize, row: usize| {
            f64::from(sums[row * columns + column]) / (3 * BLOCK * BLOCK) as f64
        };
        let mut out = vec![0.0; columns * rows];
        for row in 1..rows.saturating_sub(1) {
            for column in 1..columns.saturating_sub(1) {
                let beside = mean(column - 1, row) + mean(column + 1, row);
                let around = (beside + mean(column, row - 1) + mean(column, row + 1)) / 4.0;
                out[row * columns + column] = (mean(column, row) - around).clamp(-EDGE, EDGE);
            }
        }
        Self { columns, rows, rest, out }
    }

    /// How far the blocks agree with the pattern, in standard deviations of what chance does; `way` is one of the eight
    /// in which a picture can be turned and mirrored.
    fn agreement(&self, way: usize) -> f64 {
        let (swapped, left, up) = (way & 1 != 0, way & 2 != 0, way & 4 != 0);
        // Turned round, blocks begin where the picture does only if nothing is left over.
        if (left && self.rest[0] != 0) || (up && self.rest[1] != 0) {
            return 0.0;
        }
        let (mut sum, mut squares) = (0.0, 0.0);
        for row in 0..self.rows {
            for column in 0..self.columns {
                let out = self.out[row * self.columns + column];
                let x = if left { self.columns - 1 - column } else { column };
                let y = if up { self.rows - 1 - row } else { row };
                let lighter = if swapped { is_lighter(y, x) } else { is_lighter(x, y) };
                sum += if lighter { out } else { -out };
                squares += out * out;
            }
        }
        if squares > 0.0 { sum / f64::sqrt(squares) } else { 0.0 }
    }
}
