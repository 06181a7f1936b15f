//! A simulated scanner and phone: a painted sheet on a printed page, as a device would take its picture.
//!
//! The reader of pictures knows nothing of what is here: sensors that are no observer, a light of their own, stray
//! light, gloss, noise, a tone curve and an exposure that nobody tells, paper grain, brush marks, frayed edges, a
//! lens and a tilt.
//!
//! 1. [`PaintedSheet`]: what lies under the device. 2. `optics`: spectra to what the device's program writes.
//! 3. `view`: where the paper lies in the picture. 4. `texture`: grain, streaks and edges. 5. [`take`]: all of it.

mod device;
mod fault;
mod optics;
mod texture;
mod view;

use colour::Reflectance;
pub use device::{PictureDevice, Sensors};
pub use fault::PictureFault;
use optics::Optics;
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rayon::prelude::*;
use texture::Texture;
use view::{Field, View};

use super::hash::stable_hash;

/// A printed page as grey values: 255 is bare paper, 0 is black ink.
#[derive(Debug, Clone, PartialEq)]
pub struct PrintedPage {
    /// Pixels across.
    pub width: usize,
    /// Pixels down.
    pub height: usize,
    /// Row by row.
    pub grey: Vec<u8>,
}

/// A square with paint on it.
#[derive(Debug, Clone, PartialEq)]
pub struct PaintedSquare {
    /// Its number.
    pub number: u32,
    /// Left, top and side in mm.
    pub area_mm: [f64; 3],
    /// What it reflects, gloss included; `None` where nothing is painted.
    pub paint: Option<Reflectance>,
    /// What half of it reflects where it is of two tones.
    pub other_half: Option<Reflectance>,
    /// How much more it is speckled than other paint, as a share of its light.
    pub speckle: f64,
}

/// A painted sheet.
#[derive(Debug, Clone, PartialEq)]
pub struct PaintedSheet {
    /// The page before it was painted.
    pub page: PrintedPage,
    /// Width and height of the paper, mm.
    pub size_mm: [f64; 2],
    /// What bare paper and printed black reflect.
    pub paper: Reflectance,
    /// Likewise.
    pub black: Reflectance,
    /// The squares.
    pub squares: Vec<PaintedSquare>,
}

/// A picture with what only the simulation knows of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Shot {
    /// Pixels across.
    pub width: usize,
    /// Pixels down.
    pub height: usize,
    /// Three bytes a pixel, row by row.
    pub rgb: Vec<u8>,
    /// Where the middle of each square really lies, pixels.
    pub centres: Vec<[f64; 2]>,
    /// Numbers of the squares that a fault was put into.
    pub faulty: Vec<u32>,
}

/// Takes a picture; everything follows from the seed.
#[must_use]
pub fn take(
    sheet: &PaintedSheet,
    device: PictureDevice,
    faults: &[PictureFault],
    seed: u64,
) -> Shot {
    take_beside(sheet, None, device, faults, seed)
}

/// The same with a card that lies so far to the right of the sheet's left top corner, and so far below it, mm.
#[must_use]
pub fn take_beside(
    sheet: &PaintedSheet,
    card: Option<(&PaintedSheet, [f64; 2])>,
    device: PictureDevice,
    faults: &[PictureFault],
    seed: u64,
) -> Shot {
    let mut chance = ChaCha8Rng::seed_from_u64(stable_hash(&format!("{device:?}/{seed}")));
    let optics = Optics::of(device, &mut chance);
    let mut size_mm = sheet.size_mm;
    if let Some((card, at)) = card {
        for (axis, size) in size_mm.iter_mut().enumerate() {
            *size = size.max(at[axis] + card.size_mm[axis]);
        }
    }
    let view = View::of(device, size_mm, faults, &mut chance);
    let mut painted = sheet.clone();
    let faulty = fault::paint(&mut painted, faults, &mut chance);
    let scene = Scene::of(&painted, &optics, &mut chance);
    let beside = card.map(|(card, at)| (Scene::of(card, &optics, &mut chance), at));
    let glare = fault::glare(&painted, faults, &mut chance);
    let mut light = scene.light(beside.as_ref(), &view, &glare, faults);
    let dark = if faults.contains(&PictureFault::Dark) { 0.12 } else { 1.0 };
    let blur = optics.blur_px + if faults.contains(&PictureFault::Blur) { 9.0 } else { 0.0 };
    light.blur(blur);
    let rgb = optics.written(&light.values, dark, &mut chance);
    let centre = |square: &PaintedSquare| {
        let [x, y, side] = square.area_mm;
        view.to_pixels([x + side / 2.0, y + side / 2.0])
    };
    Shot {
        width: view.width,
        height: view.height,
        rgb,
        centres: sheet.squares.iter().map(centre).collect(),
        faulty: faulty.into_iter().chain(glare.iter().map(|spot| spot.number)).collect(),
    }
}

/// Light of every pixel as the device's program has it before its tone curve.
struct Light {
    width: usize,
    values: Vec<[f32; 3]>,
}

impl Light {
    /// About a Gaussian of this σ: one box each way where it is narrow, else three.
    fn blur(&mut self, sigma: f64) {
        let passes = if sigma < 1.1 { 1 } else { 3 };
        let wide = (12.0 * sigma * sigma / f64::from(passes) + 1.0).sqrt();
        let half = ((wide - 1.0) / 2.0).round() as usize;
        for _ in 0..if half == 0 { 0 } else { passes } {
            self.across(half);
            self.down(half);
        }
    }

    /// The mean of `2·half + 1` pixels along each row.
    fn across(&mut self, half: usize) {
        let mut kept = vec![[0.0_f32; 3]; self.width];
        for row in self.values.chunks_exact_mut(self.width) {
            kept.copy_from_slice(row);
            running(self.width, half, |place| kept[place], |place, mean| row[place] = mean);
        }
    }

    /// The same along each column, a strip of columns at a time, so that only a strip is held twice.
    fn down(&mut self, half: usize) {
        let (width, height) = (self.width, self.values.len() / self.width);
        let (reach, count) = (half as i64, (2 * half + 1) as f32);
        for left in (0..width).step_by(STRIP) {
            let across = STRIP.min(width - left);
            let mut kept = Vec::with_capacity(across * height);
            for row in self.values.chunks_exact(width) {
                kept.extend_from_slice(&row[left..left + across]);
            }
            let row = |place: i64| {
                let at = place.clamp(0, height as i64 - 1) as usize;
                &kept[at * across..(at + 1) * across]
            };
            let mut sums = vec![[0.0_f32; 3]; across];
            for place in -reach..=reach {
                for (sum, value) in sums.iter_mut().zip(row(place)) {
                    add(sum, value, 1.0);
                }
            }
            for (place, out) in self.values.chunks_exact_mut(width).enumerate() {
                let (old, new) = (row(place as i64 - reach), row(place as i64 + reach + 1));
                for (at, sum) in sums.iter_mut().enumerate() {
                    out[left + at] = sum.map(|sum| sum / count);
                    add(sum, &new[at], 1.0);
                    add(sum, &old[at], -1.0);
                }
            }
        }
    }
}

/// Columns that are blurred at once.
const STRIP: usize = 256;

fn add(sum: &mut [f32; 3], value: &[f32; 3], times: f32) {
    for (sum, value) in sum.iter_mut().zip(value) {
        *sum += times * value;
    }
}

/// Running means over places, the ends repeated.
fn running(
    places: usize,
    half: usize,
    value: impl Fn(usize) -> [f32; 3],
    mut told: impl FnMut(usize, [f32; 3]),
) {
    let at = |place: i64| value(place.clamp(0, places as i64 - 1) as usize);
    let (reach, count) = (half as i64, (2 * half + 1) as f32);
    let mut sum = [0.0_f32; 3];
    for place in -reach..=reach {
        add(&mut sum, &at(place), 1.0);
    }
    for place in 0..places {
        told(place, sum.map(|sum| sum / count));
        add(&mut sum, &at(place as i64 + reach + 1), 1.0);
        add(&mut sum, &at(place as i64 - reach), -1.0);
    }
}

/// A spot of mirrored light.
struct Spot {
    number: u32,
    at_mm: [f64; 2],
    radius_mm: f64,
    strength: f32,
    /// Left, top and side of what alone mirrors it: paint is glossy where paper is not.
    area_mm: Option<[f64; 3]>,
}

/// The sheet as this device's light and sensors have it.
struct Scene<'a> {
    sheet: &'a PaintedSheet,
    paper: [f32; 3],
    black: [f32; 3],
    /// Each square's colour and its other half's.
    squares: Vec<Option<([f32; 3], [f32; 3])>>,
    table: [f32; 3],
    texture: Texture,
    /// Which squares may lie at a place, in steps of [`BUCKET`] mm.
    buckets: Vec<Vec<usize>>,
    /// Buckets in a row.
    across: usize,
    veil: f32,
}

/// Side of a bucket, mm.
const BUCKET: f64 = 10.0;

impl<'a> Scene<'a> {
    fn of(sheet: &'a PaintedSheet, optics: &Optics, chance: &mut ChaCha8Rng) -> Self {
        let across = (sheet.size_mm[0] / BUCKET).ceil() as usize + 1;
        let down = (sheet.size_mm[1] / BUCKET).ceil() as usize + 1;
        let mut buckets = vec![Vec::new(); across * down];
        for (at, square) in sheet.squares.iter().enumerate() {
            let [x, y, side] = square.area_mm;
            let place = |mm: f64| (mm.max(0.0) / BUCKET) as usize;
            for row in place(y - 2.0)..=place(y + side + 2.0).min(down - 1) {
                for column in place(x - 2.0)..=place(x + side + 2.0).min(across - 1) {
                    buckets[row * across + column].push(at);
                }
            }
        }
        let seen = |square: &PaintedSquare| {
            let paint = optics.paint(square.paint.as_ref()?);
            Some((paint, square.other_half.as_ref().map_or(paint, |other| optics.paint(other))))
        };
        Self {
            paper: optics.paper(&sheet.paper),
            black: optics.paint(&sheet.black),
            squares: sheet.squares.iter().map(seen).collect(),
            table: optics.around(chance),
            texture: Texture::of(chance.random()),
            buckets,
            across,
            veil: optics.veil,
            sheet,
        }
    }

    fn light(
        &self,
        beside: Option<&(Scene<'_>, [f64; 2])>,
        view: &View,
        glare: &[Spot],
        faults: &[PictureFault],
    ) -> Light {
        let mut values = vec![[0.0; 3]; view.width * view.height];
        let field = Field::of(view, faults);
        values.par_chunks_exact_mut(view.width).enumerate().for_each(|(y, row)| {
            for (value, (mm, _)) in row.iter_mut().zip(field.row(y)) {
                let on_card = beside.and_then(|(card, at)| {
                    let own = [mm[0] - at[0], mm[1] - at[1]];
                    let [width, height] = card.sheet.size_mm;
                    let inside = (0.0..width).contains(&own[0]) && (0.0..height).contains(&own[1]);
                    inside.then(|| card.at(own, &[]))
                });
                *value = on_card.unwrap_or_else(|| self.at(mm, faults));
            }
        });
        let mut light = Light { width: view.width, values };
        let (strayed, step) = strayed(&light);
        light.values.par_chunks_exact_mut(view.width).enumerate().for_each(|(y, row)| {
            let far = &strayed.values[y / step * strayed.width..];
            for (x, (value, (mm, lit))) in row.iter_mut().zip(field.row(y)).enumerate() {
                let mirrored = glare.iter().map(|spot| spot.at(mm)).sum::<f32>();
                for (value, far) in value.iter_mut().zip(far[x / step]) {
                    *value = (*value * (1.0 - self.veil) + far * self.veil) * lit + mirrored;
                }
            }
        });
        light
    }

    /// What reflects at a place, without the light's own unevenness.
    fn at(&self, [x, y]: [f64; 2], faults: &[PictureFault]) -> [f32; 3] {
        let [width, height] = self.sheet.size_mm;
        if x < 0.0 || y < 0.0 || x >= width || y >= height {
            return self.table;
        }
        if faults.contains(&PictureFault::CornerMissing) && x > width - 22.0 && y > height - 22.0 {
            return self.table;
        }
        let bucket = (y / BUCKET) as usize * self.across + (x / BUCKET) as usize;
        for place in &self.buckets[bucket] {
            let square = &self.sheet.squares[*place];
            let Some((paint, other)) = self.squares[*place] else { continue };
            let [left, top, side] = square.area_mm;
            let inner = [x - left, y - top, left + side - x, top + side - y];
            let inside = inner.iter().copied().fold(f64::INFINITY, f64::min);
            let is_edge = inside < Texture::MOST_FRAYED_MM;
            if inside < -1.2 || is_edge && inside < self.texture.frayed(square.number, [x, y]) {
                continue;
            }
            let colour = if x - left > 0.5 * side { other } else { paint };
            let brush = self.texture.brush(square.number, [x, y], square.speckle);
            return colour.map(|value| value * brush);
        }
        let ink = f32::from(self.sheet.page.at([x / width, y / height])) / 255.0;
        let grain = self.texture.paper([x, y]);
        let paper = |channel: usize| {
            (self.paper[channel] * ink + self.black[channel] * (1.0 - ink)) * grain
        };
        [paper(0), paper(1), paper(2)]
    }
}

/// Light that strays over a few millimetres, with the pixels to one of its own.
fn strayed(light: &Light) -> (Light, usize) {
    let step = (light.width / 200).max(1);
    let rows = light.values.chunks_exact(light.width).step_by(step);
    let values = rows.flat_map(|row| row.iter().step_by(step).copied()).collect();
    let mut coarse = Light { width: light.width.div_ceil(step), values };
    coarse.blur(6.0);
    (coarse, step)
}

impl Spot {
    fn at(&self, mm: [f64; 2]) -> f32 {
        let is_outside = |[x, y, side]: [f64; 3]| {
            let inside = |at: f64, from: f64| (from..from + side).contains(&at);
            !(inside(mm[0], x) && inside(mm[1], y))
        };
        if self.area_mm.is_some_and(is_outside) {
            return 0.0;
        }
        let far = (mm[0] - self.at_mm[0]).hypot(mm[1] - self.at_mm[1]) / self.radius_mm;
        self.strength * (-0.5 * far * far).exp() as f32
    }
}

impl PrintedPage {
    /// Between the pixels, at a share of width and height.
    fn at(&self, [x, y]: [f64; 2]) -> u8 {
        let place = |share: f64, count: usize| {
            let at = (share * count as f64 - 0.5).clamp(0.0, (count - 1) as f64);
            (at as usize, (at as usize + 1).min(count - 1), at - f64::from(at as u32))
        };
        let ((left, right, to_right), (top, below, down)) =
            (place(x, self.width), place(y, self.height));
        let grey = |x: usize, y: usize| f64::from(self.grey[y * self.width + x]);
        let upper = grey(left, top) * (1.0 - to_right) + grey(right, top) * to_right;
        let lower = grey(left, below) * (1.0 - to_right) + grey(right, below) * to_right;
        (upper * (1.0 - down) + lower * down + 0.5) as u8
    }
}
