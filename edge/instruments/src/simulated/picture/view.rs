//! Where the paper lies in the picture, and how it is lit.

use nalgebra::{Matrix3, Vector3};
use rand::Rng;
use rand_chacha::ChaCha8Rng;

use super::{PictureDevice, PictureFault};

/// A device above a sheet.
pub(super) struct View {
    pub width: usize,
    pub height: usize,
    to_pixels: Matrix3<f64>,
    to_mm: Matrix3<f64>,
    k1: f64,
    centre: [f64; 2],
    scale: f64,
    size_mm: [f64; 2],
    /// Slope and bow of the light over the paper, as shares.
    slope: [f64; 2],
    bow: f64,
    curl: Option<Curl>,
}

/// Paper that bulges like a roof tile, or lies in waves, and is seen from above.
struct Curl {
    /// Height of the bulge, and how far the device is from the paper, mm.
    height: f64,
    far: f64,
    /// Half waves over the paper's width.
    halves: f64,
    /// Which way it runs, and where along it the top is, as a share of the paper's width.
    way: [f64; 2],
    top: f64,
    width: f64,
    middle: [f64; 2],
}

impl Curl {
    /// Where a place of the paper is seen, as if it lay flat.
    fn moved(&self, mm: [f64; 2]) -> [f64; 2] {
        let from = [0, 1].map(|axis| mm[axis] - self.middle[axis]);
        let along = from[0] * self.way[0] + from[1] * self.way[1];
        let turn = self.halves * std::f64::consts::PI / self.width;
        let angle = turn * (along - self.top * self.width);
        let high = self.height * angle.cos();
        // What rises comes nearer to the device, and the paper grows shorter over its bulge.
        let near = self.far / (self.far - high);
        let steep = self.height * turn;
        let lost = 0.25 * steep * steep * (along - (2.0 * angle).sin() / (2.0 * turn));
        [0, 1].map(|axis| self.middle[axis] + (from[axis] - lost * self.way[axis]) * near)
    }

    /// The place of the paper that is seen there.
    fn back(&self, seen: [f64; 2]) -> [f64; 2] {
        let mut mm = seen;
        for _ in 0..6 {
            let off = self.moved(mm);
            mm = [0, 1].map(|axis| mm[axis] + seen[axis] - off[axis]);
        }
        mm
    }
}

/// Pixels to a millimetre of a scan: 300 dpi.
const SCAN: f64 = 300.0 / 25.4;
/// A photo: 3:2, this wide; of more than a sheet it is a larger one.
const PHOTO: [usize; 2] = [3000, 2000];
const LARGE_PHOTO: [usize; 2] = [3150, 2100];
/// Wider than any sheet, mm.
const WIDE_MM: f64 = 320.0;

impl View {
    pub fn of(
        device: PictureDevice,
        size_mm: [f64; 2],
        faults: &[PictureFault],
        chance: &mut ChaCha8Rng,
    ) -> Self {
        let mut off = |most: f64| chance.random_range(-most..most);
        let is_phone = device.is_phone();
        let [width_mm, height_mm] = size_mm;
        let oblique = faults.contains(&PictureFault::Oblique);
        let photo = if width_mm > WIDE_MM { LARGE_PHOTO } else { PHOTO };
        let (size, matrix, k1) = if is_phone {
            let tilt = [off(9.0), if oblique { 48.0 } else { off(9.0) }].map(f64::to_radians);
            let turn = off(6.0).to_radians();
            let centred = shift(-width_mm / 2.0, -height_mm / 2.0);
            let (far, focal) = (1.45 * width_mm, 1.0);
            let (sx, cx) = tilt[0].sin_cos();
            let (sy, cy) = tilt[1].sin_cos();
            // The plane's two directions and its middle, seen from above.
            let plane = Matrix3::new(cx, sx * sy, 0.0, 0.0, cy, 0.0, -sx, cx * sy, far);
            let (s, c) = turn.sin_cos();
            let turned = Matrix3::new(c, -s, 0.0, s, c, 0.0, 0.0, 0.0, 1.0);
            let fill =
                0.76 * photo[0] as f64 * far / (width_mm * focal) * if oblique { 0.9 } else { 1.0 };
            let scaled = Matrix3::new(fill, 0.0, 0.0, 0.0, fill, 0.0, 0.0, 0.0, 1.0);
            let middle = [photo[0] as f64 / 2.0 + off(30.0), photo[1] as f64 / 2.0 + off(30.0)];
            (photo, shift(middle[0], middle[1]) * scaled * plane * turned * centred, off(0.025))
        } else {
            let turn = off(1.6).to_radians();
            let (s, c) = turn.sin_cos();
            let stretch = [SCAN * (1.0 + off(8e-4)), SCAN * (1.0 + off(8e-4))];
            let turned = Matrix3::new(c, -s, 0.0, s, c, 0.0, 0.0, 0.0, 1.0);
            let scaled = Matrix3::new(stretch[0], 0.0, 0.0, 0.0, stretch[1], 0.0, 0.0, 0.0, 1.0);
            let margin = 8.0;
            let size = [width_mm, height_mm].map(|mm| ((mm + 2.0 * margin) * SCAN) as usize);
            let middle = [size[0] as f64 / 2.0 + off(20.0), size[1] as f64 / 2.0 + off(20.0)];
            let centred = shift(-width_mm / 2.0, -height_mm / 2.0);
            (size, shift(middle[0], middle[1]) * scaled * turned * centred, 0.0)
        };
        let [width, height] = size;
        let uneven = if is_phone { 0.12 } else { 0.02 };
        let (slope, bow) = ([off(uneven), off(uneven)], off(uneven));
        let bulge = faults.contains(&PictureFault::Bent).then_some((12.0, 0.8));
        let wave = faults.contains(&PictureFault::Wavy).then_some((4.0, 4.0));
        let curl = bulge.or(wave).map(|(height, halves)| {
            let angle = off(0.6);
            Curl {
                height: height + off(height / 3.0),
                halves,
                far: 1.45 * width_mm,
                way: [angle.cos(), angle.sin()],
                top: off(0.3),
                width: width_mm,
                middle: [width_mm / 2.0, height_mm / 2.0],
            }
        });
        Self {
            width,
            height,
            to_mm: matrix.try_inverse().unwrap_or(Matrix3::identity()),
            to_pixels: matrix,
            k1,
            centre: [width as f64 / 2.0, height as f64 / 2.0],
            scale: (width as f64).hypot(height as f64) / 2.0,
            size_mm,
            slope,
            bow,
            curl,
        }
    }

    pub fn to_pixels(&self, mm: [f64; 2]) -> [f64; 2] {
        let mm = self.curl.as_ref().map_or(mm, |curl| curl.moved(mm));
        let flat = apply(&self.to_pixels, mm);
        let u = [0, 1].map(|axis| (flat[axis] - self.centre[axis]) / self.scale);
        let bent = 1.0 + self.k1 * (u[0] * u[0] + u[1] * u[1]);
        [0, 1].map(|axis| self.centre[axis] + self.scale * u[axis] * bent)
    }

    pub fn to_mm(&self, px: [f64; 2]) -> [f64; 2] {
        let bent = [0, 1].map(|axis| (px[axis] - self.centre[axis]) / self.scale);
        let mut u = bent;
        for _ in 0..if self.k1 == 0.0 { 0 } else { 5 } {
            let factor = 1.0 + self.k1 * (u[0] * u[0] + u[1] * u[1]);
            u = bent.map(|value| value / factor);
        }
        let flat = apply(&self.to_mm, [0, 1].map(|axis| self.centre[axis] + self.scale * u[axis]));
        self.curl.as_ref().map_or(flat, |curl| curl.back(flat))
    }

    /// How strong the light is at a place beside the strongest.
    pub fn light_at(&self, mm: [f64; 2], faults: &[PictureFault]) -> f32 {
        let [x, y] = [0, 1].map(|axis| mm[axis] / self.size_mm[axis] - 0.5);
        let plain = 1.0
            + self.slope[0] * x
            + self.slope[1] * y
            + self.bow * (x * x + y * y - 0.2)
            + 0.3 * self.bow * (5.0 * x).sin() * y;
        let shadow = if faults.contains(&PictureFault::Shadow) {
            1.0 - 0.6 / (1.0 + ((x + 0.15 - 0.3 * y) * 14.0).exp())
        } else {
            1.0
        };
        (plain * shadow / (1.0 + self.slope[0].abs().max(self.slope[1].abs()))) as f32
    }
}

/// Places and light over a whole picture, worked out at every eighth pixel: both change slowly (between these the
/// straight line is right to 0.01 pixels).
pub(super) struct Field {
    across: usize,
    /// Right, down and the light.
    nodes: Vec<[f64; 3]>,
}

/// Pixels between two nodes.
const APART: usize = 8;

impl Field {
    pub fn of(view: &View, faults: &[PictureFault]) -> Self {
        let across = view.width.div_ceil(APART) + 1;
        let down = view.height.div_ceil(APART) + 1;
        let node = |at: usize| {
            let px = [at % across, at / across].map(|place| (place * APART) as f64);
            let mm = view.to_mm(px);
            [mm[0], mm[1], f64::from(view.light_at(mm, faults))]
        };
        Self { across, nodes: (0..across * down).map(node).collect() }
    }

    /// Place in mm and light in the middle of each pixel of a row.
    pub fn row(&self, y: usize) -> impl Iterator<Item = ([f64; 2], f32)> {
        let between = |from: &[f64; 3], to: &[f64; 3], share: f64| -> [f64; 3] {
            std::array::from_fn(|axis| from[axis] + share * (to[axis] - from[axis]))
        };
        let share = |pixel: usize| ((pixel % APART) as f64 + 0.5) / APART as f64;
        let upper = &self.nodes[y / APART * self.across..][..2 * self.across];
        let (upper, lower) = upper.split_at(self.across);
        let down = share(y);
        let nodes: Vec<[f64; 3]> =
            upper.iter().zip(lower).map(|(upper, lower)| between(upper, lower, down)).collect();
        (0..(self.across - 1) * APART).map(move |x| {
            let [right, down, light] = between(&nodes[x / APART], &nodes[x / APART + 1], share(x));
            ([right, down], light as f32)
        })
    }
}

fn shift(x: f64, y: f64) -> Matrix3<f64> {
    Matrix3::new(1.0, 0.0, x, 0.0, 1.0, y, 0.0, 0.0, 1.0)
}

fn apply(matrix: &Matrix3<f64>, [x, y]: [f64; 2]) -> [f64; 2] {
    let to = matrix * Vector3::new(x, y, 1.0);
    [to.x / to.z, to.y / to.z]
}
