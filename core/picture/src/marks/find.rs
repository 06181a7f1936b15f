//! Where the marks are, roughly.

use sheet::corner_marks;

use super::refine::refine;
use super::{FoundMark, FoundMarks};
use crate::homography::square_to;
use crate::raster::Raster;

/// The longer side of the small picture, pixels.
const SMALL: usize = 1300;
/// Half the window of the local mean, small pixels.
const WINDOW: usize = 24;
/// A pixel is dark below this share of the local mean.
const DARK: f64 = 0.8;
/// Smallest and largest side of a mark, small pixels.
const SIDES: [usize; 2] = [7, 220];
/// Modules of 64 that may be read wrongly; any two marks differ in eleven or more.
const WRONG: u32 = 4;
/// Between rough corners so many may be, the paper around it included.
const DOUBTFUL: u32 = 24;

/// A small grey picture.
struct Small {
    width: usize,
    height: usize,
    /// Full pixels to one of it.
    factor: usize,
    grey: Vec<u8>,
}

/// What may be a mark.
#[derive(Clone, Copy)]
struct Candidate {
    tag: usize,
    /// Clockwise from the mark's own top left, once they are turned.
    corners: [[f64; 2]; 4],
    /// By how many corners it is turned.
    turns: usize,
    /// Modules that are read wrongly.
    wrong: u32,
    is_mirrored: bool,
}

/// A dark component: its box and the pixels farthest out in eight directions.
struct Component {
    pixels: usize,
    left: usize,
    right: usize,
    top: usize,
    bottom: usize,
    /// Toward right below, right above, left above, left below; right, left, below, above.
    extremes: [(i64, [usize; 2]); 8],
}

pub(super) fn find(picture: &Raster) -> FoundMarks {
    let small = Small::of(picture);
    let mut best: [Option<Candidate>; 8] = [None; 8];
    let mut twice = Vec::new();
    for component in components(&small.dark(), small.width, small.height) {
        for corners in component.quads(small.factor) {
            let Some(read) = looked_at(picture, corners) else { continue };
            let corners = std::array::from_fn(|at| corners[(at + read.turns) % 4]);
            let read = Candidate { corners, ..read };
            if best[read.tag].is_some_and(|known| known.is_beside(&read)) {
                twice.push(read.tag);
            }
            if best[read.tag].is_none_or(|known| read.wrong < known.wrong) {
                best[read.tag] = Some(read);
            }
        }
    }
    let found = best.into_iter().flatten();
    let (mirrored, straight): (Vec<_>, Vec<_>) = found.partition(|mark| mark.is_mirrored);
    let is_mirrored = mirrored.len() > straight.len();
    let kept = if is_mirrored { mirrored } else { straight };
    let marks = kept.into_iter().map(|Candidate { tag, corners, .. }| FoundMark { tag, corners });
    FoundMarks { marks: marks.collect(), twice, mirrored: is_mirrored, edge_px: None }
}

impl Candidate {
    /// It is another mark than this, and not the same one found by other corners.
    fn is_beside(&self, other: &Self) -> bool {
        let middle = |it: &Self| {
            [0, 1].map(|axis| it.corners.iter().map(|corner| corner[axis]).sum::<f64>() / 4.0)
        };
        let ([x, y], [u, v]) = (middle(self), middle(other));
        let [one, across] = [self.corners[0], self.corners[2]];
        (x - u).hypot(y - v) > (one[0] - across[0]).hypot(one[1] - across[1])
    }
}

impl Small {
    fn of(picture: &Raster) -> Self {
        let factor = picture.width().max(picture.height()).div_ceil(SMALL).max(1);
        let (width, height) =
            ((picture.width() / factor).max(1), (picture.height() / factor).max(1));
        let mut grey = Vec::with_capacity(width * height);
        let side = factor.min(picture.width()).min(picture.height());
        let mut sums = vec![0_u32; width];
        for y in 0..height {
            sums.fill(0);
            for row in y * factor..(y * factor + side).min(picture.height()) {
                let from = 3 * row * picture.width();
                let bytes = &picture.rgb()[from..from + 3 * picture.width()];
                for (sum, pixels) in sums.iter_mut().zip(bytes.chunks(3 * factor)) {
                    *sum += pixels.chunks_exact(3).map(grey_of).sum::<u32>();
                }
            }
            let count = (side * factor.min(picture.width())) as u32;
            grey.extend(sums.iter().map(|sum| (sum / count).min(255) as u8));
        }
        Self { width, height, factor, grey }
    }

    /// Which pixels are darker than their surroundings.
    fn dark(&self) -> Vec<bool> {
        let (width, height) = (self.width, self.height);
        // Sums over everything above and left of a pixel.
        let mut sums = vec![0_u32; (width + 1) * (height + 1)];
        for y in 0..height {
            let mut row = 0;
            for x in 0..width {
                row += u32::from(self.grey[y * width + x]);
                sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1] + row;
            }
        }
        let mut dark = vec![false; width * height];
        for y in 0..height {
            let (top, bottom) = (y.saturating_sub(WINDOW), (y + WINDOW + 1).min(height));
            for x in 0..width {
                let (left, right) = (x.saturating_sub(WINDOW), (x + WINDOW + 1).min(width));
                let at = |x: usize, y: usize| sums[y * (width + 1) + x];
                let sum = at(right, bottom) + at(left, top) - at(left, bottom) - at(right, top);
                let mean = f64::from(sum) / ((right - left) * (bottom - top)) as f64;
                dark[y * width + x] = f64::from(self.grey[y * width + x]) < DARK * mean;
            }
        }
        dark
    }
}

fn grey_of(pixel: &[u8]) -> u32 {
    let [r, g, b] = [pixel[0], pixel[1], pixel[2]].map(u32::from);
    (54 * r + 183 * g + 19 * b) >> 8
}

/// Dark pixels that touch, of a size that a mark can have.
fn components(dark: &[bool], width: usize, height: usize) -> Vec<Component> {
    let mut seen = vec![false; dark.len()];
    let mut found = Vec::new();
    let mut todo = Vec::new();
    for start in 0..dark.len() {
        if !dark[start] || seen[start] {
            continue;
        }
        let mut component = Component::at(start % width, start / width);
        seen[start] = true;
        todo.push(start);
        while let Some(at) = todo.pop() {
            let (x, y) = (at % width, at / width);
            component.add(x, y);
            let mut touch = |next: usize| {
                if dark[next] && !seen[next] {
                    seen[next] = true;
                    todo.push(next);
                }
            };
            if x > 0 {
                touch(at - 1);
            }
            if x + 1 < width {
                touch(at + 1);
            }
            if y > 0 {
                touch(at - width);
            }
            if y + 1 < height {
                touch(at + width);
            }
        }
        if component.may_be_a_mark() {
            found.push(component);
        }
    }
    found
}

impl Component {
    fn at(x: usize, y: usize) -> Self {
        let extremes = [(i64::MIN, [x, y]); 8];
        Self { pixels: 0, left: x, right: x, top: y, bottom: y, extremes }
    }

    fn add(&mut self, x: usize, y: usize) {
        self.pixels += 1;
        (self.left, self.right) = (self.left.min(x), self.right.max(x));
        (self.top, self.bottom) = (self.top.min(y), self.bottom.max(y));
        let (right, down) = (x as i64, y as i64);
        let reach =
            [right + down, right - down, -right - down, down - right, right, -right, down, -down];
        for (extreme, reach) in self.extremes.iter_mut().zip(reach) {
            if reach > extreme.0 {
                *extreme = (reach, [x, y]);
            }
        }
    }

    fn may_be_a_mark(&self) -> bool {
        let (wide, high) = (self.right - self.left + 1, self.bottom - self.top + 1);
        let [least, most] = SIDES;
        let sized = [wide, high].iter().all(|side| (least..=most).contains(side));
        // A mark is at least half dark, and its box at most twice as large when it stands on a corner.
        sized && wide <= 3 * high && high <= 3 * wide && 6 * self.pixels >= wide * high
    }

    /// The corners as for a mark that stands straight, and for one that stands on a corner; clockwise, in full pixels.
    fn quads(&self, factor: usize) -> [[[f64; 2]; 4]; 2] {
        let centre =
            [(self.left + self.right + 1) as f64 / 2.0, (self.top + self.bottom + 1) as f64 / 2.0];
        let full = |at: usize| {
            let [x, y] = self.extremes[at].1;
            // Half a small pixel farther out than the middle of the last dark one.
            let outer = |value: usize, middle: f64| {
                let value = value as f64 + 0.5;
                (value + 0.5 * (value - middle).signum()) * factor as f64
            };
            [outer(x, centre[0]), outer(y, centre[1])]
        };
        [[2, 1, 0, 3].map(full), [7, 4, 6, 5].map(full)]
    }
}

/// Which mark stands about four rough corners, if any: looked at again between better ones where it may be one.
fn looked_at(picture: &Raster, corners: [[f64; 2]; 4]) -> Option<Candidate> {
    let rough = read(picture, corners).filter(|it| it.wrong <= DOUBTFUL)?;
    let better = if rough.wrong > WRONG { read(picture, refine(picture, corners))? } else { rough };
    (better.wrong <= WRONG).then_some(better)
}

/// Which mark is likest to what stands between four corners.
fn read(picture: &Raster, corners: [[f64; 2]; 4]) -> Option<Candidate> {
    let place = square_to(corners, 8.0)?;
    let mut light = [[0.0; 8]; 8];
    for (row, values) in light.iter_mut().enumerate() {
        for (column, value) in values.iter_mut().enumerate() {
            *value = picture.light(place([column as f64 + 0.5, row as f64 + 0.5]));
        }
    }
    let all = || light.iter().flatten().copied();
    let (least, most) = (all().fold(f64::INFINITY, f64::min), all().fold(0.0, f64::max));
    if most - least < 0.05 {
        return None;
    }
    // Encoded, since a mark in the dark has its threshold there as well.
    let middle = (least * most).sqrt().max((least + most) / 4.0);
    let dark = light.map(|row| row.map(|value| value < middle));
    // White paper lies all around a mark: an edge that was taken one module too far in is seen there.
    let around = (0..8).flat_map(|at| {
        let at = at as f64 + 0.5;
        [[at, -0.5], [at, 8.5], [-0.5, at], [8.5, at]]
    });
    let not_white = around.filter(|at| picture.light(place(*at)) < middle).count() as u32;
    let mut best: Option<Candidate> = None;
    for (tag, mark) in corner_marks().iter().enumerate() {
        for mirrored in [false, true] {
            for turns in 0..4 {
                let wrong = (0..8)
                    .flat_map(|row| (0..8).map(move |column| (row, column)))
                    .filter(|(row, column)| {
                        let (mut x, y) = turned(*column, *row, turns);
                        if mirrored {
                            x = 7 - x;
                        }
                        dark[*row][*column] != mark[y][x]
                    })
                    .count() as u32
                    + not_white;
                if best.is_none_or(|known| wrong < known.wrong) {
                    best = Some(Candidate { tag, turns, wrong, is_mirrored: mirrored, corners });
                }
            }
        }
    }
    best
}

/// Where a module of the picture lies in a mark whose own top left is the picture's corner `turns`.
fn turned(x: usize, y: usize, turns: usize) -> (usize, usize) {
    match turns {
        0 => (x, y),
        1 => (y, 7 - x),
        2 => (7 - x, 7 - y),
        _ => (7 - y, x),
    }
}
