//! The colours of a picture whose places and light are known.

use colour::{Lab, ciede2000};

use crate::calibrate::{
    Anchor, Anchored, Calibration, Interval, LEAST_ANCHORS, LeftOut, Sample, TONES, Under,
    leave_one_out, leave_one_tube_out, toned, u95,
};
use crate::camera::Camera;
use crate::cell::{CellLook, INNER, code_of, mean_at};
use crate::flag::{self, Flag};
use crate::paper::PaperLight;
use crate::raster::Raster;
use crate::refusal::Refusal;
use crate::target::{Known, Target, TargetCell};
use crate::told::{CalibrationTold, CellReading, CellRefusal, PictureReading, Status};

/// Half-width of a colour that no anchor stands behind, ΔE00 (found by simulation).
const UNCALIBRATED: f64 = 9.0;
/// A square within this of bare paper is not painted, ΔE.
const PAPER: f64 = 2.5;
/// A printed bar goes so far beyond its square, mm.
const BAR_MM: f64 = 2.0;
/// Two labels that, exchanged, lower the sum of ΔE00 by more than this are swapped.
const SWAPPED: f64 = 6.0;
/// A known square that the others tell this far off holds something else, ΔE00 (ours).
const OTHER_PAINT: f64 = 15.0;
/// So often squares are left out that hold something else.
const ROUNDS: usize = 4;
/// Codes at which a channel says nothing any more.
const CLIPPED: [f64; 2] = [8.0, 254.0];
/// Strips within this of a square, mm, and how far they may be off, as a share.
const NEAR_MM: f64 = 16.0;
const OFF: f64 = 0.03;
/// What a sheet's own paper is taken for where nobody has read it, and how sure that is.
const USUAL_PAPER: Lab = Lab::new(94.0, 0.5, -2.0);
const USUAL_PAPER_SIGMA: f64 = 3.0;
/// The bend that devices usually have.
const USUAL_BEND: f64 = 0.08;

/// A picture whose places and paper are known.
pub(crate) struct View<'a> {
    pub picture: &'a Raster,
    pub target: &'a Target,
    pub camera: &'a Camera,
    pub paper: &'a PaperLight,
    pub under: &'a Under,
}

/// A square with what the device saw of it.
pub(crate) struct Seen<'a> {
    cell: &'a TargetCell,
    look: CellLook,
    paper: [f64; 3],
    /// Why its colour cannot be told.
    why: Option<CellRefusal>,
}

impl<'a> View<'a> {
    /// The squares whose colour is known, as far as the device saw them.
    pub fn known(&self) -> Vec<Seen<'a>> {
        let known = self.target.cells.iter().filter(|cell| cell.known.is_some());
        known.filter_map(|cell| self.seen(cell)).collect()
    }

    /// Gives every square its colour, as far as it has one; `beside` are known squares of a card.
    pub fn colours(&self, reading: &mut PictureReading, beside: &[Seen<'_>]) {
        let seen: Vec<Option<Seen<'_>>> =
            self.target.cells.iter().map(|cell| self.seen(cell)).collect();
        let painted = || seen.iter().flatten().filter(|seen| seen.cell.is_paint());
        if painted().count() > 2 && painted().all(|seen| is_grey(seen.look.v)) {
            reading.refused.push(Refusal::NoColour);
            return;
        }
        let fit = self.fit(&seen, beside);
        let Fit { bend, calibration, .. } = &fit;
        let paper = calibration.told(&bare_paper()).lab;
        let grain = self.paper_grain();
        // A colour at the device's end is good enough to tell that it is another one.
        let mut roughly: Vec<(&TargetCell, Lab)> = Vec::new();
        for (told, seen) in reading.cells.iter_mut().zip(&seen) {
            let Some(seen) = seen else {
                told.why = Some(CellRefusal::Outside);
                continue;
            };
            told.why = seen.why;
            told.flags = flag::of_look(&seen.look, grain, self.per_mm(seen.cell));
            let is_fine = self.per_mm(seen.cell) >= flag::FINE;
            told.grain = is_fine.then(|| (seen.look.grain - grain).max(0.0));
            let sample = sample(seen, *bend);
            let colour = calibration.told(&sample);
            roughly.push((seen.cell, colour.lab));
            told.lifted = self.lifted(seen, &fit);
            if seen.why.is_some() {
                continue;
            }
            told.is_anchored = fit.knows(&sample);
            told.lab = Some(colour.lab);
            told.u = Some(fit.interval.map_or(UNCALIBRATED, |interval| {
                u95(colour.lab, interval.sigma(colour.lab, colour.variance, told.is_anchored))
            }));
            told.status = Status::Read;
            // Told as the paper it may be, and not as the paint that should be there.
            let unpainted = calibration.told(&Sample { x: sample.x, ..bare_paper() }).lab;
            let is_bare = colour::delta_e_ab(unpainted, paper).value() < PAPER
                || self.is_bare_black(seen.cell, unpainted, &fit);
            if seen.cell.is_paint() && is_bare {
                told.status = Status::Empty;
                told.flags = vec![Flag::NotPainted];
            }
        }
        flag_swapped(&mut reading.cells, &roughly);
        reading.calibration = Some(CalibrationTold {
            anchors: fit.anchors,
            of_card: beside.iter().filter(|it| it.why.is_none()).count(),
            is_calibrated: fit.interval.is_some(),
            paper,
            leave_one_out: fit.leave_one_out,
        });
    }

    /// The colour of the lifted half, between the dry paint's and the paper's.
    fn lifted(&self, seen: &Seen<'_>, fit: &Fit) -> Option<Lab> {
        let (centre, side_mm) = seen.cell.lifted()?;
        let v = mean_at(self.picture, self.camera, centre, INNER * side_mm)?;
        let is_clipped = v.iter().any(|v| code_of(*v) <= CLIPPED[0] || code_of(*v) >= CLIPPED[1]);
        let x = toned(v, seen.paper, fit.bend);
        let sample = Sample { x, ..painted(seen.cell) };
        (!is_clipped).then(|| fit.calibration.told(&sample).lab)
    }

    /// A square over printed black that looks like the black beside it, though its paint should not.
    fn is_bare_black(&self, cell: &TargetCell, read: Lab, fit: &Fit) -> bool {
        let Some(expected) = cell.expected.filter(|_| cell.on_black) else { return false };
        let [_, y] = cell.centre();
        let beside = [cell.x_mm - BAR_MM / 2.0, cell.x_mm + cell.side_mm + BAR_MM / 2.0];
        let looks = beside.map(|x| mean_at(self.picture, self.camera, [x, y], BAR_MM / 2.0));
        let paper = self.paper.v_at(cell.centre());
        let black = |v: [f64; 3]| {
            let sample =
                Sample { x: toned(v, paper, fit.bend), colours: Vec::new(), tubes: Vec::new() };
            fit.calibration.told(&sample).lab
        };
        let far = |one: Lab, other: Lab| colour::delta_e_ab(one, other).value();
        looks
            .into_iter()
            .flatten()
            .map(black)
            .any(|black| far(read, black) < PAPER && far(expected, black) > 4.0 * PAPER)
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
        let why = match (clipped, shaded) {
            (true, _) => Some(CellRefusal::Clipped),
            (false, true) => Some(CellRefusal::Shaded),
            (false, false) => None,
        };
        Some(Seen { cell, look, paper, why })
    }

    /// The calibration by all known squares but those that hold something else than they should.
    fn fit(&self, seen: &[Option<Seen<'_>>], beside: &[Seen<'_>]) -> Fit {
        let known = |out: &[u32]| -> Vec<&Seen<'_>> {
            let usable = seen.iter().flatten().chain(beside).filter(|it| it.why.is_none());
            let known = usable.filter(|it| it.cell.known.is_some());
            known.filter(|it| !out.contains(&it.cell.number)).collect()
        };
        let mut out = Vec::new();
        let mut fit = self.fit_by(&known(&out));
        for _ in 0..ROUNDS {
            let doubtful = self.doubtful(&known(&out), &fit);
            if doubtful.is_empty() {
                break;
            }
            out.extend(doubtful);
            fit = self.fit_by(&known(&out));
        }
        fit
    }

    fn fit_by(&self, known: &[&Seen<'_>]) -> Fit {
        if known.len() < LEAST_ANCHORS {
            let anchors = [paper_anchor()];
            return Fit {
                bend: 0.0,
                calibration: Calibration::of(&[&anchors[0]], self.under),
                interval: None,
                anchors: known.len(),
                anchored: Anchored::default(),
                left_out: Vec::new(),
                leave_one_out: None,
            };
        }
        let tried = TONES.map(|bend| {
            let anchors = anchors(known, bend);
            let roughly = |others: &[&Anchor]| Calibration::roughly(others, self.under);
            let left_out = leave_one_out(&anchors, roughly);
            let squares = left_out.iter().map(|it| it.delta_e().powi(2)).sum::<f64>();
            let rms = (squares / left_out.len().max(1) as f64).sqrt();
            let median = median(left_out.iter().map(LeftOut::delta_e)).unwrap_or_default();
            (median + 0.3 * rms + 0.2 * (bend - USUAL_BEND).abs(), bend, anchors)
        });
        // There is always one of five.
        let best = tried.into_iter().min_by(|one, other| one.0.total_cmp(&other.0));
        let (_, bend, anchors) = best.unwrap_or_default();
        let left_out =
            leave_one_out(&anchors, |others: &[&Anchor]| Calibration::of(others, self.under));
        let tube_out = leave_one_tube_out(&anchors, self.under);
        Fit {
            bend,
            calibration: Calibration::of(&anchors.iter().collect::<Vec<_>>(), self.under),
            interval: Some(Interval::of(&left_out, &tube_out)),
            anchors: known.len(),
            anchored: Anchored::by(anchors.iter()),
            leave_one_out: median(left_out.iter().map(LeftOut::delta_e)),
            left_out,
        }
    }

    /// Known squares that, told by all others, look like bare paper or as each other should, and the one that looks
    /// least like itself.
    fn doubtful(&self, known: &[&Seen<'_>], fit: &Fit) -> Vec<u32> {
        let paper = fit.calibration.told(&bare_paper()).lab;
        let told: Vec<(u32, Lab, Lab)> = known
            .iter()
            .zip(&fit.left_out)
            .map(|(seen, left)| (seen.cell.number, left.told.lab, left.known))
            .collect();
        let forgotten = known.iter().zip(&told).filter(|(seen, (_, told, known))| {
            let near = |lab: Lab| colour::delta_e_ab(lab, paper).value();
            seen.cell.is_paint() && near(*told) < 2.0 * PAPER && near(*known) > 4.0 * PAPER
        });
        let mut numbers: Vec<u32> = forgotten.map(|(_, (number, ..))| *number).collect();
        numbers.extend(swapped(&told).into_iter().flatten());
        let off =
            |(number, told, known): &(u32, Lab, Lab)| (ciede2000(*told, *known).value(), *number);
        let worst = told.iter().map(off).max_by(|one, other| one.0.total_cmp(&other.0));
        numbers.extend(worst.filter(|(off, _)| *off > OTHER_PAINT).map(|(_, number)| number));
        numbers
    }

    fn paper_grain(&self) -> f64 {
        let grain = self
            .paper
            .strips
            .iter()
            .filter_map(|strip| crate::cell::grain_at(self.picture, self.camera, strip.at_mm));
        median(grain).unwrap_or_default()
    }
}

fn flag_swapped(cells: &mut [CellReading], roughly: &[(&TargetCell, Lab)]) {
    let told: Vec<(u32, Lab, Lab)> = roughly
        .iter()
        .filter_map(|(cell, read)| {
            let expected = cell.known.map(|known| known.lab).or(cell.expected)?;
            Some((cell.number, *read, expected))
        })
        .collect();
    let Some(pair) = swapped(&told) else { return };
    for cell in cells.iter_mut().filter(|cell| pair.contains(&cell.number)) {
        // What was taken for bare paper is the other one's white.
        if cell.status == Status::Empty {
            cell.status = Status::Read;
            cell.flags.clear();
        }
        cell.flags.push(Flag::Swapped);
    }
}

/// All channels are the same, or nearly so: a JPEG of a grey picture is off by a code here and there.
fn is_grey(v: [f64; 3]) -> bool {
    let of = |pick: fn(f64, f64) -> f64| v.into_iter().reduce(pick).unwrap_or_default();
    code_of(of(f64::max) - of(f64::min)) < 1.5
}

/// A calibration with what it was made from.
struct Fit {
    bend: f64,
    calibration: Calibration,
    /// `None` where too few colours are known.
    interval: Option<Interval>,
    /// How many squares it rests on.
    anchors: usize,
    anchored: Anchored,
    left_out: Vec<LeftOut>,
    leave_one_out: Option<f64>,
}

impl Fit {
    /// Every paint of a square has an anchor.
    fn knows(&self, sample: &Sample) -> bool {
        self.interval.is_some() && self.anchored.knows(sample)
    }
}

/// The two squares that look most as each other should, and neither as it should itself: exchanged, the sum of ΔE00
/// falls by more than 6.
fn swapped(told: &[(u32, Lab, Lab)]) -> Option<[u32; 2]> {
    let off = |read: Lab, expected: Lab| ciede2000(read, expected).value();
    let mut best: Option<(f64, [u32; 2])> = None;
    for (place, (one, read, expected)) in told.iter().enumerate() {
        for (other, other_read, other_expected) in &told[place + 1..] {
            let both = [off(*read, *expected), off(*other_read, *other_expected)];
            if both.iter().any(|off| *off < SWAPPED / 2.0) {
                continue;
            }
            let now = both[0] + both[1];
            let then = off(*read, *other_expected) + off(*other_read, *expected);
            if now - then > best.map_or(SWAPPED, |(gain, _)| gain) {
                best = Some((now - then, [*one, *other]));
            }
        }
    }
    best.map(|(_, pair)| pair)
}

fn anchors(known: &[&Seen<'_>], bend: f64) -> Vec<Anchor> {
    let anchors = known.iter().filter_map(|seen| {
        let Known { lab, sigma, spectrum } = seen.cell.known?;
        let TargetCell { tint, is_white, on_black, .. } = *seen.cell;
        Some(Anchor {
            sample: sample(seen, bend),
            lab,
            sigma,
            counts: true,
            spectrum,
            tint,
            is_white: is_white && !on_black,
        })
    });
    anchors.chain([paper_anchor()]).collect()
}

fn bare_paper() -> Sample {
    Sample { x: [0.9; 3], colours: Vec::new(), tubes: Vec::new() }
}

/// The sheet's own paper, of which little is known.
fn paper_anchor() -> Anchor {
    let (lab, sigma) = (USUAL_PAPER, USUAL_PAPER_SIGMA);
    Anchor {
        sample: bare_paper(),
        lab,
        sigma,
        counts: false,
        spectrum: None,
        tint: None,
        is_white: false,
    }
}

/// What is in a square, before its light is known.
fn painted(cell: &TargetCell) -> Sample {
    Sample { x: [0.0; 3], colours: cell.colours.clone(), tubes: cell.tubes.clone() }
}

fn sample(seen: &Seen<'_>, bend: f64) -> Sample {
    Sample { x: toned(seen.look.v, seen.paper, bend), ..painted(seen.cell) }
}

fn median(values: impl Iterator<Item = f64>) -> Option<f64> {
    let mut values: Vec<f64> = values.collect();
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied()
}
