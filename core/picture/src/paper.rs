//! How the light falls on the sheet, from the bare paper beside its squares.

use nalgebra::{DMatrix, DVector};

use crate::camera::Camera;
use crate::cell::PER_MM;
use crate::raster::{Raster, encoded, linear, luminance};
use crate::target::{Target, TargetCell};

/// Strips beside each square: from so far outside it, so wide and so high, mm.
const FROM_MM: f64 = 1.3;
const WIDE_MM: f64 = 2.4;
const HIGH_MM: f64 = 4.0;
/// How far a printed bar stands out at both sides of its square, and room to its edge, mm.
const BAR_MM: f64 = 2.5;
/// Pixels above this share of a strip's median count: specks and letters are left out.
const BRIGHT: f64 = 0.97;
/// Of a strip that paint runs into, the share of pixels below its light part, and how much lighter that is.
const LIGHT_PART: f64 = 0.85;
const PARTLY: f64 = 0.9;
/// ln of light by which a strip of another colour than the paper's is off; by which it is too dark for paper; and by which
/// it is darker than the light about it (ours).
const COLOURED: f64 = 0.15;
const DARK: f64 = 1.2;
const PAINTED: f64 = 0.12;
/// Fewer strips tell no light.
const FEWEST: usize = 6;
/// Reach of the local plane in a photo, one σ, mm.
const LOCAL_MM: f64 = 14.0;
/// Strips that are off by more than this are doubted (Huber's limit), as ln of light.
const DOUBTED: f64 = 0.01;

/// One strip of bare paper.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Strip {
    pub at_mm: [f64; 2],
    /// ln of linear light, by channel.
    pub ln: [f64; 3],
}

/// The light on bare paper over a sheet.
pub(crate) struct PaperLight {
    pub strips: Vec<Strip>,
    is_scan: bool,
    size_mm: [f64; 2],
}

impl PaperLight {
    /// `None` where there is too little bare paper to tell.
    pub fn of(picture: &Raster, camera: &Camera, target: &Target, is_scan: bool) -> Option<Self> {
        let strips: Vec<Strip> = target
            .cells
            .iter()
            .flat_map(|cell| places(cell).into_iter().map(move |at| (cell, at)))
            .filter(|(cell, at)| is_clear(target, cell, *at))
            .filter_map(|(_, at)| strip(picture, camera, at))
            .collect();
        let size_mm = [target.width_mm, target.height_mm];
        let strips = like_paper(strips);
        if strips.len() < FEWEST {
            return None;
        }
        let mut light = Self { strips, is_scan, size_mm };
        light.leave_out_painted();
        Some(light)
    }

    /// Strips far darker than the light about them are painted over, where they are few: a shadow lies over many.
    fn leave_out_painted(&mut self) {
        let is_paper = |strip: &Strip| {
            let here = self.ln_at(strip.at_mm);
            (0..3).all(|channel| strip.ln[channel] > here[channel] - PAINTED)
        };
        let kept: Vec<Strip> = self.strips.iter().copied().filter(is_paper).collect();
        let painted = self.strips.len() - kept.len();
        if painted > 0 && painted <= self.strips.len() / 4 && kept.len() >= FEWEST {
            self.strips = kept;
        }
    }

    /// ln of linear light on bare paper at a place, by channel.
    pub fn ln_at(&self, at: [f64; 2]) -> [f64; 3] {
        let degree = if self.is_scan { 2 } else { 1 };
        let near = |strip: &Strip| {
            if self.is_scan {
                return 1.0;
            }
            let far = (strip.at_mm[0] - at[0]).hypot(strip.at_mm[1] - at[1]);
            (-0.5 * (far / LOCAL_MM).powi(2)).exp() + 1e-4
        };
        [0, 1, 2].map(|channel| {
            let known = |strip: &Strip| {
                (self.terms(strip.at_mm, at, degree), strip.ln[channel], near(strip))
            };
            robust(&self.strips.iter().map(known).collect::<Vec<_>>())
        })
    }

    /// Encoded light on bare paper at a place, 0 to 1.
    pub fn v_at(&self, at: [f64; 2]) -> [f64; 3] {
        self.ln_at(at).map(|ln| encoded(ln.exp()))
    }

    /// How far the strips about a place lie off the paper's light there, as shares, those farther than a reach left out.
    pub fn off_near(&self, at: [f64; 2], reach_mm: f64) -> Vec<f64> {
        let near = self
            .strips
            .iter()
            .filter(|strip| (strip.at_mm[0] - at[0]).hypot(strip.at_mm[1] - at[1]) <= reach_mm);
        near.map(|strip| {
            let here = self.ln_at(strip.at_mm);
            let off = (0..3).map(|channel| (strip.ln[channel] - here[channel]).abs());
            off.fold(0.0, f64::max).exp_m1()
        })
        .collect()
    }

    /// The lightest strip's luminance over the darkest one's.
    pub fn range(&self) -> f64 {
        let light = |strip: &Strip| luminance(strip.ln.map(f64::exp));
        let all = || self.strips.iter().map(light);
        all().fold(0.0, f64::max) / all().fold(f64::INFINITY, f64::min)
    }

    /// Powers of the way from a place, in the paper's size.
    fn terms(&self, place: [f64; 2], from: [f64; 2], degree: u8) -> Vec<f64> {
        let [x, y] = [0, 1].map(|axis| (place[axis] - from[axis]) / self.size_mm[axis]);
        let mut terms = vec![1.0, x, y];
        if degree == 2 {
            terms.extend([x * x, x * y, y * y]);
        }
        terms
    }
}

/// The value where all terms but the first are nothing, by weighted least squares with Huber's weights.
fn robust(known: &[(Vec<f64>, f64, f64)]) -> f64 {
    let columns = known.first().map_or(1, |(terms, ..)| terms.len());
    let mut value = f64::NAN;
    let mut doubt = vec![1.0; known.len()];
    for _ in 0..4 {
        let root = |at: usize| (known[at].2 * doubt[at]).sqrt();
        let rows =
            DMatrix::from_fn(known.len(), columns, |at, column| root(at) * known[at].0[column]);
        let wanted = DVector::from_fn(known.len(), |at, _| root(at) * known[at].1);
        let normal = rows.tr_mul(&rows) + DMatrix::identity(columns, columns) * 1e-9;
        let Some(cholesky) = normal.cholesky() else { return value };
        let solved = cholesky.solve(&rows.tr_mul(&wanted));
        value = solved[0];
        for (doubt, (terms, ln, _)) in doubt.iter_mut().zip(known) {
            let told: f64 =
                terms.iter().zip(solved.iter()).map(|(term, factor)| term * factor).sum();
            let off = (ln - told).abs();
            // Far off, a strip is glare or a shadow and says nothing.
            *doubt = if off <= DOUBTED { 1.0 } else { (DOUBTED / off).powi(2) };
        }
    }
    value
}

/// Strips of the usual colour of all, and none far darker than most: paint may run over the edge of its square.
fn like_paper(mut strips: Vec<Strip>) -> Vec<Strip> {
    let middle = |of: &dyn Fn(&Strip) -> f64, share: f64| {
        let mut values: Vec<f64> = strips.iter().map(of).collect();
        values.sort_by(f64::total_cmp);
        values.get((share * values.len() as f64) as usize).copied().unwrap_or_default()
    };
    let red = |strip: &Strip| strip.ln[0] - strip.ln[1];
    let blue = |strip: &Strip| strip.ln[2] - strip.ln[1];
    let (usual_red, usual_blue) = (middle(&red, 0.5), middle(&blue, 0.5));
    let light = middle(&|strip| strip.ln[1], 0.75);
    strips.retain(|strip| {
        let off = (red(strip) - usual_red).abs().max((blue(strip) - usual_blue).abs());
        off < COLOURED && strip.ln[1] > light - DARK
    });
    strips
}

fn places(cell: &TargetCell) -> [[f64; 2]; 2] {
    let out = FROM_MM + WIDE_MM / 2.0;
    let y = cell.y_mm + cell.side_mm / 2.0;
    [[cell.x_mm - out, y], [cell.x_mm + cell.side_mm + out, y]]
}

/// No bar and no other square lies under the strip.
fn is_clear(target: &Target, own: &TargetCell, [x, y]: [f64; 2]) -> bool {
    let touches = |cell: &TargetCell| {
        let out = match (cell.on_black, cell.number == own.number) {
            (true, _) => BAR_MM,
            (false, true) => 0.0,
            (false, false) => 0.9,
        };
        x + WIDE_MM / 2.0 > cell.x_mm - out
            && x - WIDE_MM / 2.0 < cell.x_mm + cell.side_mm + out
            && y + HIGH_MM / 2.0 > cell.y_mm
            && y - HIGH_MM / 2.0 < cell.y_mm + cell.side_mm
    };
    let inside = x > WIDE_MM && x < target.width_mm - WIDE_MM;
    inside && !target.cells.iter().any(touches)
}

fn strip(picture: &Raster, camera: &Camera, [x, y]: [f64; 2]) -> Option<Strip> {
    let (across, down) = ((WIDE_MM * PER_MM) as usize, (HIGH_MM * PER_MM) as usize);
    let mut pixels = Vec::with_capacity(across * down);
    for row in 0..down {
        for column in 0..across {
            let place = [
                x + (column as f64 + 0.5) / PER_MM - WIDE_MM / 2.0,
                y + (row as f64 + 0.5) / PER_MM - HIGH_MM / 2.0,
            ];
            pixels.push(picture.nearest(camera.to_pixels(place))?);
        }
    }
    let sum = |pixel: &[u8; 3]| pixel.iter().map(|code| u32::from(*code)).sum::<u32>();
    pixels.sort_by_key(sum);
    let at = |share: f64| f64::from(sum(&pixels[(share * pixels.len() as f64) as usize]));
    // Where paint runs into the strip, its light part is the paper.
    let paper = if at(LIGHT_PART) * PARTLY > at(0.5) { at(LIGHT_PART) } else { at(0.5) };
    let limit = BRIGHT * paper;
    let kept: Vec<[u8; 3]> = pixels.into_iter().filter(|it| f64::from(sum(it)) >= limit).collect();
    let ln = [0, 1, 2].map(|channel| {
        let mut codes: Vec<u8> = kept.iter().map(|pixel| pixel[channel]).collect();
        codes.sort_unstable();
        // Between the codes, so that a median is finer than one of them.
        let middle = &codes[codes.len() * 2 / 5..=codes.len() * 3 / 5];
        let mean = middle.iter().map(|code| linear(*code)).sum::<f64>() / middle.len() as f64;
        mean.max(1e-4).ln()
    });
    Some(Strip { at_mm: [x, y], ln })
}
