//! Pixels as three bytes each, whatever a file holds.

use super::turns::Turns;

/// A picture that is filled piece by piece.
pub(super) struct Rows {
    width: usize,
    height: usize,
    rgb: Vec<u8>,
}

/// How the samples of a pixel make a colour.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Samples {
    Grey,
    GreyAlpha,
    Rgb,
    Rgba,
}

impl Samples {
    /// Samples of one pixel.
    pub fn count(self) -> usize {
        match self {
            Self::Grey => 1,
            Self::GreyAlpha => 2,
            Self::Rgb => 3,
            Self::Rgba => 4,
        }
    }

    fn is_grey(self) -> bool {
        matches!(self, Self::Grey | Self::GreyAlpha)
    }
}

impl Rows {
    pub fn new([width, height]: [usize; 2]) -> Self {
        Self { width, height, rgb: vec![0; 3 * width * height] }
    }

    /// Puts samples, `across` pixels to a line, where the left top pixel of them belongs.
    pub fn put<T: Copy>(
        &mut self,
        [left, top]: [usize; 2],
        across: usize,
        samples: Samples,
        values: &[T],
        byte: impl Fn(T) -> u8,
    ) {
        let kept = across.min(self.width.saturating_sub(left));
        let lines = values.chunks_exact((samples.count() * across).max(1));
        for (line, y) in lines.zip(top..self.height) {
            let from = 3 * (y * self.width + left);
            let out = self.rgb[from..from + 3 * kept].chunks_exact_mut(3);
            for (out, pixel) in out.zip(line.chunks_exact(samples.count())) {
                let colour =
                    if samples.is_grey() { [pixel[0]; 3] } else { [pixel[0], pixel[1], pixel[2]] };
                out.copy_from_slice(&colour.map(&byte));
            }
        }
    }

    pub fn into_rgb(self) -> Vec<u8> {
        self.rgb
    }
}

/// The nearest of 256 steps to one of 65,536.
pub(super) fn byte(wide: u16) -> u8 {
    ((u32::from(wide) * 255 + 0x8000) >> 16) as u8
}

/// Mirrors each line.
pub(super) fn mirror(rgb: &mut [u8], width: usize) {
    for line in rgb.chunks_exact_mut(3 * width) {
        for at in 0..width / 2 {
            let other = width - 1 - at;
            for channel in 0..3 {
                line.swap(3 * at + channel, 3 * other + channel);
            }
        }
    }
}

/// The pixels turned as they are shown, with their size then.
pub(super) fn turned(
    rgb: &[u8],
    [width, height]: [usize; 2],
    turns: Turns,
) -> (Vec<u8>, [usize; 2]) {
    let size = match turns {
        Turns::None | Turns::Half => [width, height],
        Turns::Quarter | Turns::ThreeQuarters => [height, width],
    };
    let from = |x: usize, y: usize| match turns {
        Turns::None => [x, y],
        Turns::Quarter => [y, height - 1 - x],
        Turns::Half => [width - 1 - x, height - 1 - y],
        Turns::ThreeQuarters => [width - 1 - y, x],
    };
    let mut out = Vec::with_capacity(rgb.len());
    for y in 0..size[1] {
        for x in 0..size[0] {
            let [column, row] = from(x, y);
            let at = 3 * (row * width + column);
            out.extend_from_slice(&rgb[at..at + 3]);
        }
    }
    (out, size)
}
