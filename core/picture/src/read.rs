//! A picture to readings.

use colour::{Conditions, Lab, ciede2000};

use crate::calibrate::{
    Anchor, Calibration, Interval, LEAST_ANCHORS, LeftOut, Sample, TONES, leave_one_out,
    leave_one_tube_out, toned, u95,
};
use crate::camera::{Camera, Fitted};
use crate::cell::{CellLook, code_of};
use crate::code::read_code;
use crate::flag::{self, Flag};
use crate::marks::find_marks;
use crate::paper::PaperLight;
use crate::raster::Raster;
use crate::refusal::Refusal;
use crate::target::{Target, TargetCell};

/// What a picture told.
#[derive(Debug, Clone, PartialEq)]
pub struct PictureReading {
    /// Every square of the target, in its order.
    pub cells: Vec<CellReading>,
    /// How colours came to be; `None` where the picture is refused.
    pub calibration: Option<CalibrationTold>,
    /// Why it cannot be read; empty where it can.
    pub refused: Vec<Refusal>,
    /// What the sheet's code says, where it could be read.
    pub code: Option<String>,
    /// Where the paper lies, where that could be told.
    pub camera: Option<Camera>,
    /// It was scanned, and not photographed.
    pub is_scan: bool,
}

/// How colours came to be.
#[derive(Debug, Clone, PartialEq)]
pub struct CalibrationTold {
    /// Squares whose colour was known.
    pub anchors: usize,
    /// There were enough of them.
    pub is_calibrated: bool,
    /// Median ΔE00 of anchors that were left out; `None` without calibration.
    pub leave_one_out: Option<f64>,
}

/// One square.
#[derive(Debug, Clone, PartialEq)]
pub struct CellReading {
    /// Its number.
    pub number: u32,
    /// Whether it was read.
    pub status: Status,
    /// Its colour, where it was read.
    pub lab: Option<Lab>,
    /// Half-width of the 95 % interval, ΔE00.
    pub u: Option<f64>,
    /// Every tube in it has an anchor of its own.
    pub is_anchored: bool,
    /// Its middle in pixels from the picture's top left corner.
    pub px: Option<[f64; 2]>,
    /// What needs a look.
    pub flags: Vec<Flag>,
}

/// Whether a square was read.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Status {
    /// It has a colour.
    Read,
    /// It looks like bare paper.
    Empty,
    /// Its colour cannot be told.
    Refused,
}

/// Half-width of a colour that no anchor stands behind, ΔE00 (found by simulation).
const UNCALIBRATED: f64 = 9.0;
/// A square within this of bare paper is not painted, ΔE.
const PAPER: f64 = 2.5;
/// Two labels that, exchanged, lower the sum of ΔE00 by more than this are swapped.
const SWAPPED: f64 = 6.0;
/// Codes at which a channel says nothing any more.
const CLIPPED: [f64; 2] = [8.0, 254.0];
/// Strips within this of a square, mm, and how far they may be off, as a share.
const NEAR_MM: f64 = 16.0;
const OFF: f64 = 0.03;
/// Pixels to a millimetre, at least.
const COARSEST: f64 = 4.0;
/// Corners may be off by this, root mean square, pixels.
const LARGEST_RESIDUAL: f64 = 1.5;
/// The paper may be tilted by this, degrees.
const TILT: f64 = 35.0;
/// The paper's codes, at most and at least.
const BRIGHTEST: f64 = 250.0;
const DARKEST: f64 = 60.0;
/// The strongest light over the weakest.
const UNEVEN: f64 = 2.0;
/// What a sheet's own paper is taken for where nobody has read it, and how sure that is.
const USUAL_PAPER: Lab = Lab::new(94.0, 0.5, -2.0);
const USUAL_PAPER_SIGMA: f64 = 3.0;

/// Reads a picture of a sheet under the conditions of the analysis.
#[must_use]
pub fn read(picture: &Raster, target: &Target, conditions: Conditions) -> PictureReading {
    let marks = find_marks(picture);
    let mut reading = PictureReading {
        cells: target.cells.iter().map(CellReading::refused).collect(),
        calibration: None,
        refused: Vec::new(),
        code: None,
        camera: None,
        is_scan: false,
    };
    let missing: Vec<usize> =
        (0..4).filter(|tag| marks.marks.iter().all(|mark| mark.tag != *tag)).collect();
    if marks.mirrored {
        reading.refused.push(Refusal::Mirrored);
        return reading;
    }
    if missing.len() > 1 {
        let none = missing.len() == 4;
        let why = if none { Refusal::NoSheet } else { Refusal::MarksMissing(missing) };
        reading.refused.push(why);
        return reading;
    }
    let size = [picture.width(), picture.height()];
    let Some(fitted) = Camera::fit(target, &marks.marks, size) else {
        reading.refused.push(Refusal::NoSheet);
        return reading;
    };
    reading.is_scan = fitted.is_scan;
    reading.refused.extend(of_camera(&fitted, target, &missing));
    let camera = fitted.camera;
    reading.code = read_code(picture, target, &camera);
    if let Some(found) = reading.code.as_ref().filter(|found| **found != target.code) {
        let (found, wanted) = (found.clone(), target.code.clone());
        reading.refused.push(Refusal::OtherSheet { found, wanted });
    }
    for (cell, told) in target.cells.iter().zip(&mut reading.cells) {
        told.px = Some(camera.to_pixels(cell.centre()));
    }
    match PaperLight::of(picture, &camera, target, fitted.is_scan) {
        None => reading.refused.push(Refusal::NoPaper),
        Some(paper) => {
            reading.refused.extend(of_paper(&paper, target));
            if reading.refused.is_empty() {
                let view = View { picture, target, camera: &camera, paper: &paper, conditions };
                view.colours(&mut reading);
            }
        }
    }
    reading.camera = Some(camera);
    reading
}

fn of_camera(fitted: &Fitted, target: &Target, missing: &[usize]) -> Vec<Refusal> {
    let middle = [target.width_mm / 2.0, target.height_mm / 2.0];
    let [least, _] = fitted.camera.pixels_per_mm(middle);
    let tilt = fitted.camera.tilt_degrees(middle);
    let mut refused = Vec::new();
    if !fitted.is_scan && !missing.is_empty() {
        refused.push(Refusal::MarksMissing(missing.to_vec()));
    }
    if tilt > TILT {
        refused.push(Refusal::Oblique(tilt));
    } else if least < COARSEST {
        refused.push(Refusal::TooCoarse(least));
    }
    if fitted.residual_px > LARGEST_RESIDUAL {
        refused.push(Refusal::NotFlat(fitted.residual_px));
    }
    refused
}

fn of_paper(paper: &PaperLight, target: &Target) -> Vec<Refusal> {
    let v = paper.v_at([target.width_mm / 2.0, target.height_mm / 2.0]).map(code_of);
    let brightest = v.iter().copied().fold(0.0, f64::max);
    let range = paper.range();
    let mut refused = Vec::new();
    if brightest >= BRIGHTEST {
        refused.push(Refusal::TooBright);
    } else if brightest < DARKEST {
        refused.push(Refusal::TooDark);
    }
    if range > UNEVEN {
        refused.push(Refusal::Uneven(range));
    }
    refused
}

/// A picture whose places and paper are known.
struct View<'a> {
    picture: &'a Raster,
    target: &'a Target,
    camera: &'a Camera,
    paper: &'a PaperLight,
    conditions: Conditions,
}

/// A square with what the device saw of it.
struct Seen<'a> {
    cell: &'a TargetCell,
    look: CellLook,
    paper: [f64; 3],
    /// Its light can be told.
    usable: bool,
}

impl View<'_> {
    fn colours(&self, reading: &mut PictureReading) {
        let seen: Vec<Option<Seen<'_>>> =
            self.target.cells.iter().map(|cell| self.seen(cell)).collect();
        let known = seen.iter().flatten().filter(|it| it.usable && it.cell.known.is_some()).count();
        let is_calibrated = known >= LEAST_ANCHORS;
        let (bend, anchors) = self.best_tone(&seen, is_calibrated);
        let calibration = Calibration::of(&anchors.iter().collect::<Vec<_>>(), self.conditions);
        let (one_out, interval) = if is_calibrated {
            let one_out = leave_one_out(&anchors, self.conditions);
            let tube_out = leave_one_tube_out(&anchors, self.conditions);
            let interval = Interval::of(&one_out, &tube_out);
            (one_out, Some(interval))
        } else {
            (Vec::new(), None)
        };
        let anchored = anchored_tubes(&anchors);
        let paper = calibration.told(&Sample { x: [0.9; 3], colours: Vec::new() }).lab;
        let grain = self.paper_grain();
        for (told, seen) in reading.cells.iter_mut().zip(&seen) {
            let Some(seen) = seen else { continue };
            told.flags = flag::of_look(&seen.look, grain, self.per_mm(seen.cell));
            if !seen.usable {
                continue;
            }
            let sample = sample(seen, bend);
            let colour = calibration.told(&sample);
            told.is_anchored =
                sample.colours.iter().all(|(tube, _)| anchored.contains(tube)) && is_calibrated;
            told.lab = Some(colour.lab);
            told.u = Some(interval.map_or(UNCALIBRATED, |interval| {
                u95(colour.lab, interval.sigma(colour.lab, colour.variance, told.is_anchored))
            }));
            told.status = Status::Read;
            let painted = !seen.cell.is_bare && !seen.cell.is_white;
            if painted && colour::delta_e_ab(colour.lab, paper).value() < PAPER {
                told.status = Status::Empty;
                told.flags = vec![Flag::NotPainted];
            }
        }
        self.flag_swapped(&mut reading.cells);
        reading.calibration = Some(CalibrationTold {
            anchors: known,
            is_calibrated,
            leave_one_out: median(one_out.iter().map(LeftOut::delta_e)),
        });
    }

    fn per_mm(&self, cell: &TargetCell) -> f64 {
        self.camera.pixels_per_mm(cell.centre())[0]
    }

    /// `None` where the square lies outside the picture.
    fn seen<'c>(&self, cell: &'c TargetCell) -> Option<Seen<'c>> {
        let look = CellLook::of(self.picture, self.camera, cell)?;
        let clipped = look.v.iter().any(|v| code_of(*v) <= CLIPPED[0] || code_of(*v) >= CLIPPED[1]);
        let off = self.paper.off_near(cell.centre(), NEAR_MM);
        let shaded = off.iter().filter(|off| **off > OFF).count() >= 2;
        let paper = self.paper.v_at(cell.centre());
        Some(Seen { cell, look, paper, usable: !clipped && !shaded })
    }

    /// The bend of the tone curve whose anchors tell each other best, with the anchors under it.
    fn best_tone(&self, seen: &[Option<Seen<'_>>], is_calibrated: bool) -> (f64, Vec<Anchor>) {
        let tried = TONES.map(|bend| {
            let anchors = self.anchors(seen, bend, is_calibrated);
            if !is_calibrated {
                return (f64::from(bend.abs() > 1e-9), bend, anchors);
            }
            let left = leave_one_out(&anchors, self.conditions);
            let squares = left.iter().map(|it| it.delta_e().powi(2)).sum::<f64>();
            let rms = (squares / left.len().max(1) as f64).sqrt();
            let median = median(left.iter().map(LeftOut::delta_e)).unwrap_or_default();
            (median + 0.3 * rms + 0.2 * (bend - 0.08).abs(), bend, anchors)
        });
        let best = tried.into_iter().min_by(|one, other| one.0.total_cmp(&other.0));
        best.map(|(_, bend, anchors)| (bend, anchors)).unwrap_or_default()
    }

    /// The squares whose colour is known, and the bare paper where it is none of them.
    fn anchors(&self, seen: &[Option<Seen<'_>>], bend: f64, is_calibrated: bool) -> Vec<Anchor> {
        let mut anchors = Vec::new();
        if is_calibrated {
            let usable = seen.iter().flatten().filter(|seen| seen.usable);
            anchors.extend(usable.filter_map(|seen| {
                let known = seen.cell.known?;
                let (lab, sigma) = (known.lab, known.sigma);
                Some(Anchor { sample: sample(seen, bend), lab, sigma, counts: true })
            }));
        }
        let paper = Sample { x: [0.9; 3], colours: Vec::new() };
        let (lab, sigma) = (USUAL_PAPER, USUAL_PAPER_SIGMA);
        anchors.push(Anchor { sample: paper, lab, sigma, counts: false });
        anchors
    }

    fn paper_grain(&self) -> f64 {
        let grain = self
            .paper
            .strips
            .iter()
            .filter_map(|strip| crate::cell::grain_at(self.picture, self.camera, strip.at_mm));
        median(grain).unwrap_or_default()
    }

    fn flag_swapped(&self, cells: &mut [CellReading]) {
        let known: Vec<(usize, Lab, Lab)> = self
            .target
            .cells
            .iter()
            .enumerate()
            .filter_map(|(at, cell)| {
                let expected = cell.known.map(|known| known.lab).or(cell.expected)?;
                let read = cells[at].lab.filter(|_| cells[at].status == Status::Read)?;
                Some((at, read, expected))
            })
            .collect();
        let off = |read: Lab, expected: Lab| ciede2000(read, expected).value();
        let mut best: Option<(f64, [usize; 2])> = None;
        for (place, (one, read, expected)) in known.iter().enumerate() {
            for (other, other_read, other_expected) in &known[place + 1..] {
                let now = off(*read, *expected) + off(*other_read, *other_expected);
                let then = off(*read, *other_expected) + off(*other_read, *expected);
                if now - then > best.map_or(SWAPPED, |(gain, _)| gain) {
                    best = Some((now - then, [*one, *other]));
                }
            }
        }
        if let Some((_, pair)) = best {
            for at in pair {
                cells[at].flags.push(Flag::Swapped);
            }
        }
    }
}

impl CellReading {
    fn refused(cell: &TargetCell) -> Self {
        Self {
            number: cell.number,
            status: Status::Refused,
            lab: None,
            u: None,
            is_anchored: false,
            px: None,
            flags: Vec::new(),
        }
    }
}

fn sample(seen: &Seen<'_>, bend: f64) -> Sample {
    Sample { x: toned(seen.look.v, seen.paper, bend), colours: seen.cell.colours.clone() }
}

/// Pigments of which an anchor shows them alone.
fn anchored_tubes(anchors: &[Anchor]) -> Vec<usize> {
    let alone = |anchor: &Anchor| match anchor.sample.colours.as_slice() {
        colours if anchor.counts => colours.to_vec(),
        _ => Vec::new(),
    };
    let mut tubes: Vec<usize> = anchors.iter().flat_map(alone).map(|(tube, _)| tube).collect();
    tubes.sort_unstable();
    tubes.dedup();
    tubes
}

fn median(values: impl Iterator<Item = f64>) -> Option<f64> {
    let mut values: Vec<f64> = values.collect();
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied()
}
