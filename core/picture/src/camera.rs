//! Where a place of the paper lies in the picture: a homography, for photos the lens, and for bent paper its bend.

use levenberg_marquardt::{LeastSquaresProblem, LevenbergMarquardt};
use nalgebra::storage::Owned;
use nalgebra::{DMatrix, DVector, Dyn, Matrix3, SMatrix, Vector2, Vector3};

use crate::bend::{Bend, Moved};
use crate::homography::{homography, project};
use crate::marks::FoundMark;
use crate::target::{PlacedByHand, Target, TargetMark};

/// From millimetres on the paper to pixels: `px = c + s·u(1 + k·u²)`, u by the homography.
#[derive(Debug, Clone, PartialEq)]
pub struct Camera {
    homography: Matrix3<f64>,
    centre: [f64; 2],
    scale: f64,
    k1: f64,
    /// Paper that does not lie flat.
    bend: Option<Bend>,
}

/// A camera, and how well it fits.
#[derive(Debug, Clone, PartialEq)]
pub struct Fitted {
    /// The camera.
    pub camera: Camera,
    /// Root mean square of what is left between the corners, pixels.
    pub residual_px: f64,
    /// The paper lies so flat and straight that it was scanned.
    pub is_scan: bool,
    /// How much farther out every edge of a mark lies than it was printed, mm.
    pub spread_mm: f64,
}

/// Prior of the lens: k1 is 0, give or take this.
const LENS: f64 = 0.03;
/// Every edge of a mark may lie this much farther out, by ink and threshold, mm.
const SPREAD_MM: f64 = 0.05;
/// A corner is found to this, pixels.
const CORNER_PX: f64 = 0.06;
/// The same on bent paper, whose field is no more than smooth, mm.
const CORNER_MM: f64 = 0.03;
/// A scan is a picture whose corners lie this near to an affine one, as a share of the paper's width.
const FLAT: f64 = 2e-4;
/// Focal lengths of phones and of pictures that were cut down, in half diagonals of the picture.
const FOCAL: [f64; 2] = [0.8, 4.0];

/// A corner is wrong where it lies this many times the median off, and so many pixels.
const WRONG_TIMES: f64 = 4.0;
const WRONG_PX: f64 = 0.8;
/// Corners that are kept at least.
const LEAST_CORNERS: usize = 10;

impl Camera {
    /// Pixels of a place on the paper in mm, from the picture's top left corner.
    #[must_use]
    pub fn to_pixels(&self, mm: [f64; 2]) -> [f64; 2] {
        let flat = self.bend.as_ref().map_or(mm, |bend| bend.of(mm));
        let u = project(&self.homography, flat);
        let bent = 1.0 + self.k1 * (u[0] * u[0] + u[1] * u[1]);
        [0, 1].map(|axis| self.centre[axis] + self.scale * u[axis] * bent)
    }

    /// How far a place lies from where flat paper would have it, mm.
    pub(crate) fn bent_by(&self, mm: [f64; 2]) -> [f64; 2] {
        let to = self.bend.as_ref().map_or(mm, |bend| bend.of(mm));
        [to[0] - mm[0], to[1] - mm[1]]
    }

    /// How far a place was moved that is seen at some pixel, mm; `None` where the view has no depth.
    fn moved(&self, mm: [f64; 2], px: [f64; 2]) -> Option<[f64; 2]> {
        let mut by = [0.0, 0.0];
        for _ in 0..3 {
            let at = [0, 1].map(|axis| mm[axis] + by[axis]);
            let seen = self.to_pixels(at);
            let step =
                self.jacobian(at).try_inverse()? * Vector2::new(px[0] - seen[0], px[1] - seen[1]);
            by = [by[0] + step.x, by[1] + step.y];
        }
        Some(by)
    }

    /// Pixels by millimetres about a place.
    fn jacobian(&self, [x, y]: [f64; 2]) -> SMatrix<f64, 2, 2> {
        let at = |dx: f64, dy: f64| self.to_pixels([x + dx, y + dy]);
        let slope = |one: [f64; 2], other: [f64; 2]| [one[0] - other[0], one[1] - other[1]];
        let (right, down) =
            (slope(at(0.5, 0.0), at(-0.5, 0.0)), slope(at(0.0, 0.5), at(0.0, -0.5)));
        SMatrix::<f64, 2, 2>::new(right[0], down[0], right[1], down[1])
    }

    /// How pixels go with millimetres about a place: the smaller and the larger, pixels per mm.
    #[must_use]
    pub fn pixels_per_mm(&self, mm: [f64; 2]) -> [f64; 2] {
        let values = self.jacobian(mm).singular_values();
        [values.min(), values.max()]
    }

    /// How far the camera is tilted out of the straight look down on the paper, degrees.
    ///
    /// The focal length is the one under which the paper's two directions stand at right angles and are equally long
    /// (Zhang 2000, doi 10.1109/34.888718, one view); held to what phones have, which matters only where the tilt is small.
    #[must_use]
    pub fn tilt_degrees(&self) -> f64 {
        let [right, down] = [0, 1].map(|at| self.homography.column(at).into_owned());
        let flat = |one: &Vector3<f64>, other: &Vector3<f64>| one.x * other.x + one.y * other.y;
        let deep = |one: &Vector3<f64>, other: &Vector3<f64>| one.z * other.z;
        let conditions = [
            (flat(&right, &down), deep(&right, &down)),
            (
                (flat(&right, &right) - flat(&down, &down)) / 2.0,
                (deep(&right, &right) - deep(&down, &down)) / 2.0,
            ),
        ];
        let over = conditions.iter().map(|(flat, deep)| flat * deep).sum::<f64>();
        let under = conditions.iter().map(|(_, deep)| deep * deep).sum::<f64>();
        // Minus the square of the focal length, in half diagonals of the picture.
        let focal = (-over / under.max(f64::MIN_POSITIVE)).max(0.0).sqrt();
        let focal = focal.clamp(FOCAL[0], FOCAL[1]);
        let seen = |it: Vector3<f64>| Vector3::new(it.x, it.y, focal * it.z);
        let out = seen(right).cross(&seen(down));
        (out.z.abs() / out.norm().max(f64::MIN_POSITIVE)).clamp(0.0, 1.0).acos().to_degrees()
    }

    /// From the marks that were found; `None` with fewer than two, or where they lie in one line.
    #[must_use]
    pub fn fit(target: &Target, found: &[FoundMark], size: [usize; 2]) -> Option<Fitted> {
        let all = points(target, found);
        let first = Self::through(target, &all, size)?;
        // A corner that lies far off the others' view was found wrongly.
        let off = first.off_px(&all);
        let limit = WRONG_TIMES * median(off.clone())?;
        let kept: Vec<Point> = all
            .into_iter()
            .zip(&off)
            .filter(|(_, off)| **off <= limit.max(WRONG_PX))
            .map(|(point, _)| point)
            .collect();
        if kept.len() == off.len() || kept.len() < LEAST_CORNERS {
            return Some(first);
        }
        Self::through(target, &kept, size)
    }

    /// From four places that were said by hand; `None` where they lie in one line.
    #[must_use]
    pub fn by_hand(placed: &PlacedByHand, [width, height]: [usize; 2]) -> Option<Fitted> {
        let centre = [width, height].map(|side| side as f64 / 2.0);
        let scale = centre[0].hypot(centre[1]);
        let unit = |px: [f64; 2]| [0, 1].map(|axis| (px[axis] - centre[axis]) / scale);
        let homography = homography(&placed.places.map(|(mm, px)| (mm, unit(px))))?;
        let camera = Self { homography, centre, scale, k1: 0.0, bend: None };
        let told = camera.to_pixels(placed.places[0].0);
        let is_told = told.iter().all(|axis| axis.is_finite());
        is_told.then_some(Fitted {
            camera,
            residual_px: 0.0,
            is_scan: placed.is_scan,
            spread_mm: 0.0,
        })
    }

    fn through(target: &Target, points: &[Point], size: [usize; 2]) -> Option<Fitted> {
        let [width, height] = size.map(|side| side as f64);
        let (centre, scale) = ([width / 2.0, height / 2.0], width.hypot(height) / 2.0);
        let affine = affine_residual(points)?;
        let is_scan = affine < FLAT * target.width_mm;
        let unit = points
            .iter()
            .map(|point| (point.mm, [0, 1].map(|axis| (point.px[axis] - centre[axis]) / scale)));
        let homography = homography(&unit.collect::<Vec<_>>())?;
        let start = Camera { homography, centre, scale, k1: 0.0, bend: None };
        let problem = Problem::new(points.to_vec(), start, !is_scan);
        let (problem, _) = LevenbergMarquardt::new().minimize(problem);
        let (camera, residual_px) = (problem.camera(), problem.residual_px());
        let spread_mm = problem.unknown[9];
        residual_px.is_finite().then_some(Fitted { camera, residual_px, is_scan, spread_mm })
    }
}

impl Fitted {
    /// How far the corners of the marks lie from where flat paper would have them.
    pub(crate) fn corners_moved(&self, target: &Target, found: &[FoundMark]) -> Vec<Moved> {
        let moved = |point: Point| {
            let at = self.printed(&point);
            let by = self.camera.moved(at, point.px)?;
            Some(Moved { at, by, sigma: CORNER_MM })
        };
        points(target, found).into_iter().filter_map(moved).collect()
    }

    /// The same over bent paper.
    pub(crate) fn bent(self, bend: Bend, target: &Target, found: &[FoundMark]) -> Self {
        let camera = Camera { bend: Some(bend), ..self.camera };
        let bent = Self { camera, ..self };
        let off = bent.off_px(&points(target, found));
        let sum: f64 = off.iter().map(|off| off * off).sum();
        Self { residual_px: (sum / (2 * off.len()).max(1) as f64).sqrt(), ..bent }
    }

    /// Where a corner's ink ends.
    fn printed(&self, point: &Point) -> [f64; 2] {
        [0, 1].map(|axis| point.mm[axis] + self.spread_mm * point.out[axis])
    }

    /// How far each corner lies from where it should, pixels.
    fn off_px(&self, points: &[Point]) -> Vec<f64> {
        let off = |point: &Point| {
            let px = self.camera.to_pixels(self.printed(point));
            (px[0] - point.px[0]).hypot(px[1] - point.px[1])
        };
        points.iter().map(off).collect()
    }
}

fn median(mut values: Vec<f64>) -> Option<f64> {
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied()
}

/// A corner of a mark on the paper and in the picture.
#[derive(Clone)]
struct Point {
    mm: [f64; 2],
    /// Which way is out of the mark.
    out: [f64; 2],
    px: [f64; 2],
}

fn points(target: &Target, found: &[FoundMark]) -> Vec<Point> {
    let placed = found.iter().filter_map(|mark| {
        let printed: &TargetMark = target.marks.iter().find(|it| it.tag == mark.tag)?;
        let corners = printed.corners().into_iter().zip(mark.corners);
        Some(corners.map(|((mm, out), px)| Point { mm, out, px }))
    });
    placed.flatten().collect()
}

/// What an affine picture of the paper would leave, mm, root mean square.
fn affine_residual(points: &[Point]) -> Option<f64> {
    if points.len() < 8 {
        return None;
    }
    let rows = DMatrix::from_fn(points.len(), 3, |at, column| match column {
        0 => 1.0,
        column => points[at].px[column - 1],
    });
    let svd = rows.clone().svd(true, true);
    let mut sum = 0.0;
    for axis in 0..2 {
        let wanted = DVector::from_fn(points.len(), |at, _| points[at].mm[axis]);
        let solved = svd.solve(&wanted, 1e-12).ok()?;
        sum += (&rows * solved - wanted).norm_squared();
    }
    Some((sum / points.len() as f64).sqrt())
}

/// The camera's eight or nine unknowns and the spread of ink, from the corners.
struct Problem {
    points: Vec<Point>,
    start: Camera,
    has_lens: bool,
    /// Eight of the homography beside its start, k1, spread in mm.
    unknown: DVector<f64>,
}

impl Problem {
    fn new(points: Vec<Point>, start: Camera, has_lens: bool) -> Self {
        Self { points, start, has_lens, unknown: DVector::zeros(10) }
    }

    fn camera_of(&self, unknown: &DVector<f64>) -> Camera {
        let mut camera = self.start.clone();
        for at in 0..8 {
            // Every element in its own size, so that one step suits all.
            let value = &mut camera.homography[(at / 3, at % 3)];
            let size = if at < 6 { value.abs().max(1e-3) } else { 1e-3 };
            *value += unknown[at] * size;
        }
        camera.k1 = if self.has_lens { unknown[8] } else { 0.0 };
        camera
    }

    fn camera(&self) -> Camera {
        self.camera_of(&self.unknown)
    }

    fn off(&self, unknown: &DVector<f64>) -> impl Iterator<Item = f64> {
        let (camera, spread) = (self.camera_of(unknown), unknown[9]);
        self.points.iter().flat_map(move |point| {
            let mm = [0, 1].map(|axis| point.mm[axis] + spread * point.out[axis]);
            let px = camera.to_pixels(mm);
            [px[0] - point.px[0], px[1] - point.px[1]]
        })
    }

    fn residual_px(&self) -> f64 {
        let sum: f64 = self.off(&self.unknown).map(|off| off * off).sum();
        (sum / (2 * self.points.len()) as f64).sqrt()
    }

    fn residuals_of(&self, unknown: &DVector<f64>) -> DVector<f64> {
        let priors = [unknown[8] / LENS, unknown[9] / SPREAD_MM];
        let all: Vec<f64> = self.off(unknown).map(|off| off / CORNER_PX).chain(priors).collect();
        DVector::from_vec(all)
    }
}

impl LeastSquaresProblem<f64, Dyn, Dyn> for Problem {
    type ResidualStorage = Owned<f64, Dyn>;
    type JacobianStorage = Owned<f64, Dyn, Dyn>;
    type ParameterStorage = Owned<f64, Dyn>;

    fn set_params(&mut self, unknown: &DVector<f64>) {
        self.unknown.copy_from(unknown);
    }

    fn params(&self) -> DVector<f64> {
        self.unknown.clone()
    }

    fn residuals(&self) -> Option<DVector<f64>> {
        Some(self.residuals_of(&self.unknown))
    }

    fn jacobian(&self) -> Option<DMatrix<f64>> {
        let mut jacobian = DMatrix::zeros(2 * self.points.len() + 2, 10);
        for at in 0..10 {
            let step = 1e-6;
            let moved = |by: f64| {
                let mut unknown = self.unknown.clone();
                unknown[at] += by;
                self.residuals_of(&unknown)
            };
            jacobian.set_column(at, &((moved(step) - moved(-step)) / (2.0 * step)));
        }
        Some(jacobian)
    }
}
