//! Bent paper: where the squares' edges really are, when the corner marks alone do not fit.

use crate::bend::{Bend, Moved};
use crate::camera::{Camera, Fitted};
use crate::marks::FoundMark;
use crate::raster::Raster;
use crate::target::{Target, TargetCell};

/// Marks that leave more than this do not lie on flat paper, pixels.
const BENT_PX: f64 = 0.9;
/// Four marks in the corners may fit a bulge between them well, so in a photo the squares are asked too: farther than
/// this the paper is bent, mm (ours).
const BENT_MM: f64 = 0.3;
/// How far beside its place an edge is looked for, mm.
const REACH_MM: f64 = 2.0;
const STEP_MM: f64 = 0.1;
/// From here on outwards, and as far inwards, nothing but paper or paint counts, mm.
const CLEAR_MM: f64 = 1.2;
/// Lines across an edge, over this inner share of it.
const LINES: usize = 9;
const ALONG: f64 = 0.6;
/// An edge shows where paint and paper lie this far apart, encoded, 0 to 1.
const CONTRAST: f64 = 0.08;
/// What a painted edge is worth, mm.
const EDGE_MM: f64 = 0.15;

/// The same camera over paper that is bent as the squares' edges say, where the marks do not lie flat.
pub(crate) fn unbent(
    fitted: Fitted,
    picture: &Raster,
    target: &Target,
    found: &[FoundMark],
) -> Fitted {
    let is_off = fitted.residual_px > BENT_PX;
    if fitted.is_scan && !is_off {
        return fitted;
    }
    let cells = target.cells.iter();
    let mut moved: Vec<Moved> =
        cells.filter_map(|cell| shift(picture, &fitted.camera, cell)).collect();
    moved.extend(fitted.corners_moved(target, found));
    let bend = Bend::through(&moved, [target.width_mm, target.height_mm]);
    let far = |bend: &Bend| {
        let farthest = target.cells.iter().map(|cell| {
            let (at, to) = (cell.centre(), bend.of(cell.centre()));
            (to[0] - at[0]).hypot(to[1] - at[1])
        });
        farthest.fold(0.0, f64::max)
    };
    match bend.filter(|bend| is_off || far(bend) > BENT_MM) {
        Some(bend) => fitted.bent(bend, target, found),
        None => fitted,
    }
}

/// Squares so near tell how the paper lies at a place, one σ, mm; and what speaks for its lying where it should, in
/// squares (ours).
const NEAR_MM: f64 = 16.0;
const FLAT: f64 = 0.1;
/// So often the squares are looked for where they were found before.
const LOOKS: usize = 2;

/// The same squares where they were seen in a photo: a smooth bend does not follow paper that lies in waves. With it how far
/// the farthest lies from where flat paper would have it, mm.
pub(crate) fn followed(picture: &Raster, camera: &Camera, target: &Target) -> (Target, f64) {
    let mut followed = target.clone();
    for look in 0..LOOKS {
        let moved = moved_about(picture, camera, &followed);
        if look == 0 && moved.iter().all(|[x, y]| x.hypot(*y) < BENT_MM) {
            break;
        }
        for (cell, [right, down]) in followed.cells.iter_mut().zip(moved) {
            (cell.x_mm, cell.y_mm) = (cell.x_mm + right, cell.y_mm + down);
        }
    }
    let off = target.cells.iter().zip(&followed.cells).map(|(planned, found)| {
        let bent = camera.bent_by(planned.centre());
        let by = |axis: usize| found.centre()[axis] - planned.centre()[axis] + bent[axis];
        by(0).hypot(by(1))
    });
    let farthest = off.fold(0.0, f64::max);
    (followed, farthest)
}

/// How far each square and those about it lie from where the camera expects them, mm.
fn moved_about(picture: &Raster, camera: &Camera, target: &Target) -> Vec<[f64; 2]> {
    let cells = target.cells.iter();
    let seen: Vec<Moved> = cells.filter_map(|cell| shift(picture, camera, cell)).collect();
    let about = |cell: &TargetCell| {
        let at = cell.centre();
        let near = |it: &Moved| {
            let far = (it.at[0] - at[0]).hypot(it.at[1] - at[1]);
            (-0.5 * (far / NEAR_MM).powi(2)).exp()
        };
        let all = seen.iter().map(near).sum::<f64>() + FLAT;
        [0, 1].map(|axis| seen.iter().map(|it| near(it) * it.by[axis]).sum::<f64>() / all)
    };
    target.cells.iter().map(about).collect()
}

/// How far a square lies from where the camera expects it; `None` where its edges do not show.
fn shift(picture: &Raster, camera: &Camera, cell: &TargetCell) -> Option<Moved> {
    if cell.is_bare || cell.on_black {
        return None;
    }
    let at = cell.centre();
    let half = cell.side_mm / 2.0;
    let edge = |out: [f64; 2]| farther_out(picture, camera, (at, half), out);
    let [left, right] = [edge([-1.0, 0.0])?, edge([1.0, 0.0])?];
    let [top, bottom] = [edge([0.0, -1.0])?, edge([0.0, 1.0])?];
    // Paint that runs over its outline on both sides moves nothing.
    let by = [(right - left) / 2.0, (bottom - top) / 2.0];
    Some(Moved { at, by, sigma: EDGE_MM })
}

/// How much farther out an edge lies than it should, mm.
fn farther_out(
    picture: &Raster,
    camera: &Camera,
    (at, half): ([f64; 2], f64),
    out: [f64; 2],
) -> Option<f64> {
    let count = (2.0 * REACH_MM / STEP_MM).round() as usize;
    let place = |step: usize| (step as f64 + 0.5) * STEP_MM - REACH_MM;
    let mut profile = Vec::with_capacity(count);
    for step in 0..count {
        let far = half + place(step);
        let mut seen: [Vec<f64>; 3] = Default::default();
        for line in 0..LINES {
            let along = ALONG * half * (2.0 * line as f64 / (LINES - 1) as f64 - 1.0);
            let mm = [0, 1].map(|axis| at[axis] + far * out[axis] + along * out[1 - axis]);
            let pixel = picture.nearest(camera.to_pixels(mm))?;
            for (seen, value) in seen.iter_mut().zip(pixel) {
                seen.push(f64::from(value) / 255.0);
            }
        }
        profile.push(seen.map(|mut values| {
            values.sort_by(f64::total_cmp);
            values[LINES / 2]
        }));
    }
    let mean = |of: &dyn Fn(f64) -> bool| {
        let these: Vec<&[f64; 3]> =
            (0..count).filter(|step| of(place(*step))).map(|step| &profile[step]).collect();
        [0, 1, 2].map(|channel| {
            these.iter().map(|it| it[channel]).sum::<f64>() / these.len().max(1) as f64
        })
    };
    let (inside, outside) = (mean(&|mm| mm < -CLEAR_MM), mean(&|mm| mm > CLEAR_MM));
    let axis = [0, 1, 2].map(|channel| inside[channel] - outside[channel]);
    let contrast: f64 = axis.iter().map(|it| it * it).sum();
    if contrast.sqrt() < CONTRAST {
        return None;
    }
    let share = |it: &[f64; 3]| {
        let along: f64 =
            (0..3).map(|channel| (it[channel] - outside[channel]) * axis[channel]).sum();
        (along / contrast).clamp(0.0, 1.0)
    };
    Some(profile.iter().map(share).sum::<f64>() * STEP_MM - REACH_MM)
}
