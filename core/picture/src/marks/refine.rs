//! A mark's corners from its edges: in linear light, where an edge lies follows from the light under its profile.

use crate::raster::Raster;

/// Profiles across each edge.
const PROFILES: usize = 56;
/// How far a profile reaches on either side, in modules.
const REACH: f64 = 0.85;
/// Steps of a profile in pixels.
const STEP: f64 = 0.25;
/// How far in from an edge a profile is used, in modules.
const INSIDE: f64 = 0.6;
/// The ends of an edge are left out, as a share of it.
const ENDS: f64 = 0.07;

/// A mark is so small that its opposite sides are as good as parallel: this far off, in modules, one corner is wrong.
const SKEW: f64 = 0.12;

/// The corners again, clockwise as they came; those of an edge that cannot be found stay as they are.
pub(super) fn refine(picture: &Raster, corners: [[f64; 2]; 4]) -> [[f64; 2]; 4] {
    let first = by_edges(picture, corners);
    if skew(&first) <= SKEW * module(&first) {
        return first;
    }
    // One corner at a time from the other three, and all of them by their edges again.
    let tried = (0..4).map(|at| {
        let [before, after, across] = [3, 1, 2].map(|step| first[(at + step) % 4]);
        let mut corners = first;
        corners[at] = [0, 1].map(|axis| before[axis] + after[axis] - across[axis]);
        by_edges(picture, corners)
    });
    let best = tried.chain([first]).min_by(|one, other| skew(one).total_cmp(&skew(other)));
    best.unwrap_or(first)
}

/// How far four corners are from a parallelogram, pixels.
fn skew(corners: &[[f64; 2]; 4]) -> f64 {
    let off =
        |axis: usize| corners[0][axis] - corners[1][axis] + corners[2][axis] - corners[3][axis];
    off(0).hypot(off(1))
}

fn by_edges(picture: &Raster, mut corners: [[f64; 2]; 4]) -> [[f64; 2]; 4] {
    for _ in 0..3 {
        let edges: [Option<Line>; 4] =
            std::array::from_fn(|at| edge(picture, corners[at], corners[(at + 1) % 4]));
        let mut better = corners;
        for (at, corner) in better.iter_mut().enumerate() {
            if let (Some(before), Some(after)) = (&edges[(at + 3) % 4], &edges[at])
                && let Some(crossing) = before.crosses(after)
                && distance(crossing, *corner) < module(&corners) * 1.5
            {
                *corner = crossing;
            }
        }
        corners = better;
    }
    corners
}

/// How many pixels a mark's edges take from dark to bright, from 15 to 85 % of the light: the median of all profiles.
pub(super) fn edge_px(picture: &Raster, corners: [[f64; 2]; 4]) -> Option<f64> {
    let mut widths = Vec::new();
    for at in 0..4 {
        for profile in profiles(picture, corners[at], corners[(at + 1) % 4]).unwrap_or_default() {
            let between = profile.light.iter().filter(|light| (0.15..0.85).contains(*light));
            widths.push(between.count() as f64 * profile.step);
        }
    }
    median(&mut widths)
}

/// Light across an edge, from dark to bright as 0 to 1.
struct Profile {
    /// Where it ends on the bright side.
    bright_end: [f64; 2],
    /// Which way is out.
    out: [f64; 2],
    light: Vec<f64>,
    /// Pixels from one value to the next.
    step: f64,
    /// How much lighter the bright side is.
    rise: f64,
}

/// A line through a point in a direction of length 1.
struct Line {
    through: [f64; 2],
    along: [f64; 2],
}

impl Line {
    fn crosses(&self, other: &Self) -> Option<[f64; 2]> {
        let cross = self.along[0] * other.along[1] - self.along[1] * other.along[0];
        if cross.abs() < 1e-6 {
            return None;
        }
        let between = [other.through[0] - self.through[0], other.through[1] - self.through[1]];
        let far = (between[0] * other.along[1] - between[1] * other.along[0]) / cross;
        Some([self.through[0] + far * self.along[0], self.through[1] + far * self.along[1]])
    }
}

fn distance(one: [f64; 2], other: [f64; 2]) -> f64 {
    (one[0] - other[0]).hypot(one[1] - other[1])
}

/// Pixels to a module.
fn module(corners: &[[f64; 2]; 4]) -> f64 {
    (0..4).map(|at| distance(corners[at], corners[(at + 1) % 4])).sum::<f64>() / 32.0
}

/// Profiles across the edge from one corner to the next; the mark lies to the right of it, as the corners go clockwise.
fn profiles(picture: &Raster, from: [f64; 2], to: [f64; 2]) -> Option<Vec<Profile>> {
    let length = distance(from, to);
    if length < 8.0 {
        return None;
    }
    let along = [(to[0] - from[0]) / length, (to[1] - from[1]) / length];
    let out = [along[1], -along[0]];
    let reach = REACH * length / 8.0;
    let steps = (2.0 * reach / STEP).round().max(8.0) as usize;
    let step = 2.0 * reach / steps as f64;
    let all = (0..PROFILES).filter_map(|profile| {
        let share = ENDS + (1.0 - 2.0 * ENDS) * (profile as f64 + 0.5) / PROFILES as f64;
        let foot = [0, 1].map(|axis| from[axis] + share * length * along[axis]);
        let at = |far: f64| [0, 1].map(|axis| foot[axis] + far * out[axis]);
        let light: Vec<f64> =
            (0..steps).map(|it| picture.light(at((it as f64 + 0.5) * step - reach))).collect();
        across(&light, length / 8.0 / step).map(|(light, rise)| Profile {
            bright_end: at(reach),
            out,
            light,
            step,
            rise,
        })
    });
    Some(all.collect())
}

/// A profile from its outermost edge outward and half a module inward, from dark to bright as 0 to 1, and how much
/// lighter the bright side is: what lies farther in is another module's.
fn across(light: &[f64], module: f64) -> Option<(Vec<f64>, f64)> {
    let fifth = (light.len() / 5).max(1);
    let mean = |part: &[f64]| part.iter().sum::<f64>() / part.len().max(1) as f64;
    let bright = mean(&light[light.len() - fifth..]);
    let darkest = light.iter().copied().fold(f64::INFINITY, f64::min);
    let edge = light.iter().rposition(|value| *value < f64::midpoint(darkest, bright))?;
    let from = edge.saturating_sub((INSIDE * module) as usize);
    let dark = mean(&light[from..from + ((edge - from) / 3).max(1)]);
    let rise = bright - dark;
    let unit = light[from..].iter().map(|value| (value - dark) / rise).collect();
    (rise > 0.0).then_some((unit, rise))
}

/// The edge from one corner to the next.
fn edge(picture: &Raster, from: [f64; 2], to: [f64; 2]) -> Option<Line> {
    let profiles = profiles(picture, from, to)?;
    let usual = median(&mut profiles.iter().map(|it| it.rise).collect::<Vec<_>>())?;
    let kept: Vec<[f64; 2]> = profiles
        .iter()
        .filter(|profile| (0.5..2.0).contains(&(profile.rise / usual)))
        .map(|profile| {
            let lit = profile.light.iter().sum::<f64>() * profile.step;
            [0, 1].map(|axis| profile.bright_end[axis] - lit * profile.out[axis])
        })
        .collect();
    let first = line(&kept)?;
    let off = |line: &Line, point: &[f64; 2]| {
        ((point[0] - line.through[0]) * line.along[1]
            - (point[1] - line.through[1]) * line.along[0])
            .abs()
    };
    let limit = 2.5 * median(&mut kept.iter().map(|it| off(&first, it)).collect::<Vec<_>>())?;
    let trimmed: Vec<[f64; 2]> =
        kept.into_iter().filter(|point| off(&first, point) <= limit.max(0.02)).collect();
    line(&trimmed)
}

/// The line of least squares through points, across it.
fn line(points: &[[f64; 2]]) -> Option<Line> {
    if points.len() < PROFILES / 4 {
        return None;
    }
    let count = points.len() as f64;
    let middle = [0, 1].map(|axis| points.iter().map(|it| it[axis]).sum::<f64>() / count);
    let (mut xx, mut xy, mut yy) = (0.0, 0.0, 0.0);
    for point in points {
        let (x, y) = (point[0] - middle[0], point[1] - middle[1]);
        (xx, xy, yy) = (xx + x * x, xy + x * y, yy + y * y);
    }
    let angle = 0.5 * (2.0 * xy).atan2(xx - yy);
    Some(Line { through: middle, along: [angle.cos(), angle.sin()] })
}

fn median(values: &mut [f64]) -> Option<f64> {
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied()
}
