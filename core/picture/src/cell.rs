//! What one square looks like: its colour as the device saw it, and whether it is all of one kind.

use crate::calibrate::SRGB;
use crate::camera::Camera;
use crate::raster::{Raster, encoded, linear, luminance};
use crate::target::TargetCell;

/// The inner share of a square's side that is looked at.
pub(crate) const INNER: f64 = 0.6;
/// Places that are looked at, per mm.
pub(crate) const PER_MM: f64 = 5.0;
/// Percentiles of r + g + b between which pixels count: dark specks and glints are left out.
const KEPT: [f64; 2] = [0.05, 0.80];
/// Blur before two tones are told apart, mm.
const BLUR_MM: f64 = 0.8;
/// Grain is what lies between these, mm.
const GRAIN_MM: [f64; 2] = [0.3, 1.2];
/// Places that are looked at for it, per mm, at most.
const FINEST_PER_MM: f64 = 10.0;
/// Neighbouring pixels share some of their noise: so many times what single ones would leave (ours).
const NOISE_LEAVES: f64 = 2.5;

/// A square as the device saw it.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct CellLook {
    /// Mean of the pixels that count, encoded, 0 to 1.
    pub v: [f64; 3],
    /// How far two groups of its pixels lie apart in L*, a* and b*, and the share of each variance that lies between them.
    pub tones: [(f64, f64); 3],
    /// Spread of L* between 0.3 and 1.2 mm, the pixels' own noise left out.
    pub grain: f64,
    /// Spread of the means of its lines, along or across, L*, slopes left out.
    pub streaks: f64,
    /// How much lighter its lightest spot is than most of it, linear light.
    pub glint: f64,
}

impl CellLook {
    /// `None` where the square does not lie wholly in the picture.
    pub fn of(picture: &Raster, camera: &Camera, cell: &TargetCell) -> Option<Self> {
        let (centre, side_mm) = cell.as_painted();
        let pixels = Patch::of(picture, camera, centre, INNER * side_mm)?;
        let lightness = pixels.map(|pixel| lightness_of(luminance(pixel.map(linear))));
        let blurred = lightness.blurred(BLUR_MM * PER_MM / 2.0);
        let light = pixels.map(|pixel| luminance(pixel.map(linear)));
        let light = light.blurred(BLUR_MM * PER_MM / 2.0);
        let tones = [0, 1, 2].map(|axis| {
            let values = pixels.map(|pixel| axes_of(pixel)[axis]);
            two_groups(&values.blurred(BLUR_MM * PER_MM / 2.0).values)
        });
        Some(Self {
            v: trimmed_mean(&pixels.values),
            tones,
            grain: grain(picture, camera, centre, INNER * side_mm)?,
            streaks: blurred.line_spread(),
            glint: percentile(&light.values, 0.99) - percentile(&light.values, 0.5),
        })
    }
}

/// Values in a square of places.
pub(crate) struct Patch<T> {
    side: usize,
    values: Vec<T>,
}

impl Patch<[u8; 3]> {
    /// The nearest pixels to places of a square about a middle, [`PER_MM`] each way.
    pub fn of(picture: &Raster, camera: &Camera, middle: [f64; 2], side_mm: f64) -> Option<Self> {
        Self::at(picture, camera, middle, side_mm, PER_MM)
    }

    fn at(
        picture: &Raster,
        camera: &Camera,
        [x, y]: [f64; 2],
        side_mm: f64,
        per_mm: f64,
    ) -> Option<Self> {
        let side = (side_mm * per_mm).round().max(4.0) as usize;
        let at = |place: usize| (place as f64 + 0.5) / side as f64 * side_mm - side_mm / 2.0;
        let values = (0..side * side).map(|place| {
            picture.nearest(camera.to_pixels([x + at(place % side), y + at(place / side)]))
        });
        Some(Self { side, values: values.collect::<Option<_>>()? })
    }
}

impl<T: Copy> Patch<T> {
    fn map<U>(&self, of: impl Fn(T) -> U) -> Patch<U> {
        Patch { side: self.side, values: self.values.iter().map(|value| of(*value)).collect() }
    }
}

impl Patch<f64> {
    /// The mean of a box of `2·half + 1` places about each.
    fn blurred(&self, half: f64) -> Self {
        let half = half.round().max(0.0) as usize;
        let pass = |values: &[f64], step: usize, other: usize| -> Vec<f64> {
            let mut out = vec![0.0; values.len()];
            for line in 0..self.side {
                let at = |place: usize| line * other + place * step;
                let mut sums = vec![0.0; self.side + 1];
                for place in 0..self.side {
                    sums[place + 1] = sums[place] + values[at(place)];
                }
                for place in 0..self.side {
                    let (from, to) =
                        (place.saturating_sub(half), (place + half + 1).min(self.side));
                    out[at(place)] = (sums[to] - sums[from]) / (to - from) as f64;
                }
            }
            out
        };
        let across = pass(&self.values, 1, self.side);
        Self { side: self.side, values: pass(&across, self.side, 1) }
    }

    /// Variance of what is finer than the second size and coarser than the first, in places each way from the middle of a
    /// box, and of what is finer than the first.
    fn between(&self, [fine, coarse]: [f64; 2]) -> [f64; 2] {
        let (fine, coarse) = (self.blurred(fine), self.blurred(coarse));
        let off = |one: &Self, other: &Self| {
            let off = one.values.iter().zip(&other.values).map(|(one, other)| one - other);
            spread(&off.collect::<Vec<_>>()).powi(2)
        };
        [off(&fine, &coarse), off(self, &fine)]
    }

    /// Standard deviation of the lines' means, the larger of both ways, less what a plain slope does.
    fn line_spread(&self) -> f64 {
        let mean = |line: usize, step: usize, other: usize| -> f64 {
            let values = (0..self.side).map(|place| self.values[line * other + place * step]);
            values.sum::<f64>() / self.side as f64
        };
        let of = |step: usize, other: usize| {
            let means: Vec<f64> = (0..self.side).map(|line| mean(line, step, other)).collect();
            spread(&without_slope(&means))
        };
        of(1, self.side).max(of(self.side, 1))
    }
}

fn without_slope(values: &[f64]) -> Vec<f64> {
    let count = values.len() as f64;
    let (middle, mean) = ((count - 1.0) / 2.0, values.iter().sum::<f64>() / count);
    let (mut run, mut rise) = (0.0, 0.0);
    for (at, value) in values.iter().enumerate() {
        let x = at as f64 - middle;
        (run, rise) = (run + x * x, rise + x * (value - mean));
    }
    let slope = rise / run.max(1e-9);
    let line = |at: usize| mean + slope * (at as f64 - middle);
    values.iter().enumerate().map(|(at, value)| value - line(at)).collect()
}

fn spread(values: &[f64]) -> f64 {
    let count = values.len().max(1) as f64;
    let mean = values.iter().sum::<f64>() / count;
    (values.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / count).sqrt()
}

fn percentile(values: &[f64], share: f64) -> f64 {
    let mut sorted = values.to_vec();
    sorted.sort_by(f64::total_cmp);
    let at = (share * (sorted.len().saturating_sub(1)) as f64).round() as usize;
    sorted.get(at).copied().unwrap_or_default()
}

/// The middle one; `None` where there is none.
pub(crate) fn median(values: impl Iterator<Item = f64>) -> Option<f64> {
    let mut values: Vec<f64> = values.collect();
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied()
}

/// L* of luminance, 0 to 100 (CIE 1976).
pub(crate) fn lightness_of(y: f64) -> f64 {
    if y > 216.0 / 24389.0 { 116.0 * y.cbrt() - 16.0 } else { y * 24389.0 / 27.0 }
}

/// Mean in linear light of the pixels between two percentiles of r + g + b, encoded again.
fn trimmed_mean(pixels: &[[u8; 3]]) -> [f64; 3] {
    let sum_of = |pixel: &[u8; 3]| pixel.iter().map(|code| usize::from(*code)).sum::<usize>();
    let mut counts = [0_usize; 766];
    for pixel in pixels {
        counts[sum_of(pixel)] += 1;
    }
    let limit = |share: f64| {
        let wanted = share * pixels.len() as f64;
        let mut below = 0;
        counts.iter().position(|count| {
            below += count;
            below as f64 >= wanted
        })
    };
    let [low, high] = KEPT.map(|share| limit(share).unwrap_or_default());
    let kept = pixels.iter().filter(|pixel| (low..=high).contains(&sum_of(pixel)));
    let (mut sums, mut count) = ([0.0; 3], 0.0);
    for pixel in kept {
        for (sum, code) in sums.iter_mut().zip(pixel) {
            *sum += linear(*code);
        }
        count += 1.0;
    }
    sums.map(|sum| encoded(sum / count))
}

/// The two groups that explain most (Otsu 1979, doi 10.1109/TSMC.1979.4310076): how far they lie apart, and which
/// share of the variance lies between them.
fn two_groups(values: &[f64]) -> (f64, f64) {
    let mut sorted = values.to_vec();
    sorted.sort_by(f64::total_cmp);
    let count = sorted.len() as f64;
    let whole: f64 = sorted.iter().sum();
    let variance = spread(&sorted).powi(2);
    let (mut below, mut best) = (0.0, (0.0, 0.0));
    for (at, value) in sorted.iter().enumerate().take(sorted.len().saturating_sub(1)) {
        below += value;
        let (few, rest) = ((at + 1) as f64, count - (at + 1) as f64);
        // A group of a twentieth is a speck.
        if few.min(rest) < 0.05 * count {
            continue;
        }
        let apart = (whole - below) / rest - below / few;
        let share = few * rest / (count * count) * apart * apart / variance.max(1e-9);
        if share > best.1 {
            best = (apart, share);
        }
    }
    best
}

/// The picture's encoded value as a code between 0 and 255.
pub(crate) fn code_of(v: f64) -> f64 {
    255.0 * v
}

/// The mean colour of a patch about a place, encoded, 0 to 1.
pub(crate) fn mean_at(
    picture: &Raster,
    camera: &Camera,
    at: [f64; 2],
    side_mm: f64,
) -> Option<[f64; 3]> {
    Some(trimmed_mean(&Patch::of(picture, camera, at, side_mm)?.values))
}

/// Grain of bare paper about a place, L*.
pub(crate) fn paper_grain_at(picture: &Raster, camera: &Camera, at: [f64; 2]) -> Option<f64> {
    grain(picture, camera, at, 2.4)
}

/// Spread of L* between 0.3 and 1.2 mm about a place, without what the noise of single pixels leaves in it: that is told by
/// what is finer.
fn grain(picture: &Raster, camera: &Camera, at: [f64; 2], side_mm: f64) -> Option<f64> {
    let per_mm = camera.pixels_per_mm(at)[0].floor().clamp(PER_MM, FINEST_PER_MM);
    let pixels = Patch::at(picture, camera, at, side_mm, per_mm)?;
    let lightness = pixels.map(|pixel| lightness_of(luminance(pixel.map(linear))));
    let half = GRAIN_MM.map(|mm| ((mm * per_mm - 1.0) / 2.0).round().max(1.0));
    let [band, finer] = lightness.between(half);
    Some((band - NOISE_LEAVES * leaves(half) * finer).max(0.0).sqrt())
}

/// Of noise that is each pixel's own, the variance between two boxes over that within the smaller one.
fn leaves(half: [f64; 2]) -> f64 {
    let [fine, coarse] = half.map(|half| (2.0 * half + 1.0).powi(-2));
    (fine - coarse) / (1.0 - fine)
}

/// CIELAB of an sRGB pixel beside the picture's own white (IEC 61966-2-1, D65).
fn axes_of(pixel: [u8; 3]) -> [f64; 3] {
    let [r, g, b] = pixel.map(linear);
    let f =
        |t: f64| if t > 216.0 / 24389.0 { t.cbrt() } else { (24389.0 / 27.0 * t + 16.0) / 116.0 };
    let [x, y, z] = SRGB.map(|[of_r, of_g, of_b]| f(of_r * r + of_g * g + of_b * b));
    [116.0 * y - 16.0, 500.0 * (x - y), 200.0 * (y - z)]
}
