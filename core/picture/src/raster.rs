//! A picture in memory: 8 bits a channel, sRGB-encoded, as it came from the device.

use std::sync::LazyLock;

use palette::encoding::{FromLinear, IntoLinear, Srgb};

/// A picture. Row by row from the top left, three bytes a pixel.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Raster {
    width: usize,
    height: usize,
    rgb: Vec<u8>,
}

/// Linear light of each of the 256 codes (IEC 61966-2-1).
static LINEAR: LazyLock<[f32; 256]> = LazyLock::new(|| {
    let mut linear = [0.0; 256];
    for (code, value) in (0..=255_u8).zip(&mut linear) {
        *value = Srgb::into_linear(code);
    }
    linear
});

impl Raster {
    /// `None` where the bytes are not three for each pixel, or there is no pixel.
    #[must_use]
    pub fn new(width: usize, height: usize, rgb: Vec<u8>) -> Option<Self> {
        let fits = width.checked_mul(height)?.checked_mul(3)? == rgb.len() && !rgb.is_empty();
        fits.then_some(Self { width, height, rgb })
    }

    /// Pixels across.
    #[must_use]
    pub fn width(&self) -> usize {
        self.width
    }

    /// Pixels down.
    #[must_use]
    pub fn height(&self) -> usize {
        self.height
    }

    /// The bytes.
    #[must_use]
    pub fn rgb(&self) -> &[u8] {
        &self.rgb
    }

    /// A pixel that lies inside.
    pub(crate) fn pixel(&self, x: usize, y: usize) -> [u8; 3] {
        let at = 3 * (y * self.width + x);
        [self.rgb[at], self.rgb[at + 1], self.rgb[at + 2]]
    }

    /// The pixel that a place falls on; `None` outside. Pixel centres lie at halves.
    pub(crate) fn nearest(&self, [x, y]: [f64; 2]) -> Option<[u8; 3]> {
        let inside = x >= 0.0 && y >= 0.0 && x < self.width as f64 && y < self.height as f64;
        inside.then(|| self.pixel(x as usize, y as usize))
    }

    /// Linear light of green, mostly, between the pixels; the nearest edge outside.
    pub(crate) fn light(&self, [x, y]: [f64; 2]) -> f64 {
        let clamp = |value: f64, count: usize| (value - 0.5).clamp(0.0, (count - 1) as f64);
        let (x, y) = (clamp(x, self.width), clamp(y, self.height));
        let (left, top) = (x as usize, y as usize);
        let (right, below) = ((left + 1).min(self.width - 1), (top + 1).min(self.height - 1));
        let (to_right, down) = (x - left as f64, y - top as f64);
        let at = |x: usize, y: usize| luminance(self.pixel(x, y).map(linear));
        let upper = at(left, top) * (1.0 - to_right) + at(right, top) * to_right;
        let lower = at(left, below) * (1.0 - to_right) + at(right, below) * to_right;
        upper * (1.0 - down) + lower * down
    }
}

/// Linear light of a code, 0 to 1.
pub(crate) fn linear(code: u8) -> f64 {
    f64::from(LINEAR[usize::from(code)])
}

/// Linear light of an encoded value between the codes, 0 to 1.
pub(crate) fn decoded(value: f64) -> f64 {
    Srgb::into_linear(value)
}

/// The encoded value, 0 to 1, of linear light.
pub(crate) fn encoded(light: f64) -> f64 {
    Srgb::from_linear(light)
}

/// Luminance of linear sRGB (IEC 61966-2-1).
pub(crate) fn luminance([r, g, b]: [f64; 3]) -> f64 {
    0.2126 * r + 0.7152 * g + 0.0722 * b
}
