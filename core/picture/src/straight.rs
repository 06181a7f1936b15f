//! A picture of a sheet seen straight from above, upright, for people to look at.

use crate::camera::Camera;
use crate::raster::Raster;

/// The paper of so many mm, with a little of what lies around it, `per_mm` pixels to a millimetre. Each pixel is the
/// mean of four places; what lies outside the picture is mid-grey.
#[must_use]
pub fn straighten(
    picture: &Raster,
    camera: &Camera,
    [width_mm, height_mm]: [f64; 2],
    (margin_mm, per_mm): (f64, f64),
) -> Option<Raster> {
    let pixels = |mm: f64| ((mm + 2.0 * margin_mm) * per_mm).round().clamp(1.0, 8000.0) as usize;
    let (width, height) = (pixels(width_mm), pixels(height_mm));
    let mut rgb = Vec::with_capacity(3 * width * height);
    for y in 0..height {
        for x in 0..width {
            let mut sums = [0_u32; 3];
            for (right, down) in [(0.25, 0.25), (0.75, 0.25), (0.25, 0.75), (0.75, 0.75)] {
                let mm = [x as f64 + right, y as f64 + down].map(|at| at / per_mm - margin_mm);
                let pixel = picture.nearest(camera.to_pixels(mm)).unwrap_or([OUTSIDE; 3]);
                for (sum, channel) in sums.iter_mut().zip(pixel) {
                    *sum += u32::from(channel);
                }
            }
            rgb.extend(sums.map(|sum| u8::try_from(sum / 4).unwrap_or(u8::MAX)));
        }
    }
    Raster::new(width, height, rgb)
}

/// The grey of the stage.
const OUTSIDE: u8 = 0x8e;

/// A picture made smaller, at most so many pixels wide or high, to be shown where it cannot be read.
#[must_use]
pub fn thumbnail(picture: &Raster, most: usize) -> Option<Raster> {
    let longer = picture.width().max(picture.height());
    let step = (longer as f64 / most.max(1) as f64).max(1.0);
    let count = |side: usize| ((side as f64 / step) as usize).max(1);
    let (width, height) = (count(picture.width()), count(picture.height()));
    let mut rgb = Vec::with_capacity(3 * width * height);
    for y in 0..height {
        for x in 0..width {
            let place = [x, y].map(|at| (at as f64 + 0.5) * step);
            rgb.extend(picture.nearest(place).unwrap_or([OUTSIDE; 3]));
        }
    }
    Raster::new(width, height, rgb)
}
