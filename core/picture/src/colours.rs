//! The colours of a picture whose places and light are known.

use colour::Lab;

use crate::calibrate::{
    Anchor, Anchored, Calibration, Interval, LEAST_ANCHORS, LeftOut, Sample, TONES, Under,
    leave_one_out, leave_one_tube_out, toned, u95,
};
use crate::cell::{code_of, median};
use crate::doubt::{Doubt, EXPLAINED, KnownSquare, doubts, swapped};
use crate::flag::{self, Flag};
use crate::looked::{SheetLook, SquareLook};
use crate::refusal::Refusal;
use crate::target::{Known, Target, TargetCell};
use crate::told::{CalibrationTold, CellReading, CellRefusal, PictureReading, Status};
use crate::veil::is_veiled;

/// Half-width of a colour that no anchor stands behind, ΔE00 (found by simulation).
const UNCALIBRATED: f64 = 9.0;
/// A square within this of bare paper is not painted, ΔE.
const PAPER: f64 = 2.5;
/// So often squares are left out that hold something else.
const ROUNDS: usize = 4;
/// Codes at which a channel says nothing any more.
const CLIPPED: [f64; 2] = [8.0, 254.0];
/// What lies beyond the brightest code, as a factor; channels at their end with which a known square still calibrates,
/// and what these leave, one σ per axis (found by simulation).
const BEYOND: f64 = 1.03;
const MOST_ENDS: usize = 2;
const CLIPPED_SIGMA: f64 = 1.0;
/// What a sheet's own paper is taken for where nobody has read it, and how sure that is.
const USUAL_PAPER: Lab = Lab::new(94.0, 0.5, -2.0);
const USUAL_PAPER_SIGMA: f64 = 3.0;
/// The bend that devices usually have.
const USUAL_BEND: f64 = 0.08;

/// A sheet, as the device saw it.
pub(crate) struct View<'a> {
    pub target: &'a Target,
    pub look: &'a SheetLook,
    pub under: &'a Under,
}

/// A square with what the device saw of it.
pub(crate) struct Seen<'a> {
    cell: &'a TargetCell,
    square: &'a SquareLook,
    /// Why its colour cannot be told.
    why: Option<CellRefusal>,
    /// Which channels are at their end: below, above.
    ends: [Option<End>; 3],
}

/// An end of what a device records.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum End {
    Dark,
    Bright,
}

impl End {
    fn of(v: f64) -> Option<Self> {
        let code = code_of(v);
        if code <= CLIPPED[0] {
            Some(Self::Dark)
        } else if code >= CLIPPED[1] {
            Some(Self::Bright)
        } else {
            None
        }
    }
}

impl Seen<'_> {
    /// It may calibrate: one or two channels at their ends still leave a third.
    fn may_anchor(&self) -> bool {
        match self.why {
            None => true,
            Some(CellRefusal::Clipped) => self.ends.iter().flatten().count() <= MOST_ENDS,
            Some(_) => false,
        }
    }
}

impl<'a> View<'a> {
    /// The squares whose colour is known, as far as the device saw them.
    pub fn known(&self) -> Vec<Seen<'a>> {
        let known = self.seen().flatten();
        known.filter(|seen| seen.cell.known.is_some()).collect()
    }

    /// Gives every square its colour, as far as it has one; `beside` are known squares of a card.
    pub fn colours(&self, reading: &mut PictureReading, beside: &[Seen<'_>]) {
        let seen: Vec<Option<Seen<'_>>> = self.seen().collect();
        let painted = || seen.iter().flatten().filter(|seen| seen.cell.is_paint());
        if painted().count() > 2
            && (painted().all(|seen| is_grey(seen.square.look.v)) || is_of_one_hue(painted()))
        {
            reading.refused.push(Refusal::NoColour);
            return;
        }
        let fit = self.fit(&seen, beside);
        let Fit { bend, calibration, .. } = &fit;
        let paper = calibration.told(&bare_paper()).lab;
        let grain = self.look.paper_grain;
        // A colour at the device's end is good enough to tell that it is another one.
        let mut roughly: Vec<(&TargetCell, Lab)> = Vec::new();
        for (told, seen) in reading.cells.iter_mut().zip(&seen) {
            let Some(seen) = seen else {
                told.why = Some(CellRefusal::Outside);
                continue;
            };
            told.why = seen.why;
            let SquareLook { look, per_mm, .. } = seen.square;
            told.flags = flag::of_look(look, grain, *per_mm);
            told.grain = (*per_mm >= flag::FINE).then(|| (look.grain - grain).max(0.0));
            let sample = sample(seen, *bend);
            let colour = calibration.told(&sample);
            roughly.push((seen.cell, colour.lab));
            told.lifted = lifted(seen, &fit);
            if told.why.is_none() && !is_of_paint(colour.lab) {
                told.why = Some(CellRefusal::NoPaint);
            }
            if told.why.is_some() {
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
                || is_bare_black(seen, unpainted, &fit);
            if seen.cell.is_paint() && is_bare {
                told.status = Status::Empty;
                told.flags = vec![Flag::NotPainted];
            } else if let (Some(wanted), Some(half_width)) = (seen.cell.expected, told.u)
                && !told.flags.contains(&Flag::Glare)
                && is_veiled(colour.lab, wanted, half_width, self.under.conditions)
            {
                told.flags.push(Flag::Veiled);
            }
        }
        flag_swapped(&mut reading.cells, &roughly);
        reading.calibration = Some(CalibrationTold {
            anchors: fit.anchors,
            of_card: beside.iter().filter(|it| it.why.is_none()).count(),
            is_calibrated: fit.interval.is_some(),
            paper,
            leave_one_out: fit.leave_one_out,
            doubted: fit.doubted,
        });
    }

    /// Each square; `None` for one that lies outside the picture.
    fn seen(&self) -> impl Iterator<Item = Option<Seen<'a>>> + use<'a> {
        let squares = self.target.cells.iter().zip(&self.look.squares);
        squares.map(|(cell, square)| {
            let square = square.as_ref()?;
            let ends = square.look.v.map(End::of);
            let why = match (ends.iter().any(Option::is_some), square.shaded) {
                (true, _) => Some(CellRefusal::Clipped),
                (false, true) => Some(CellRefusal::Shaded),
                (false, false) => None,
            };
            Some(Seen { cell, square, why, ends })
        })
    }

    /// The calibration by all known squares but those that hold something else than they should.
    fn fit(&self, seen: &[Option<Seen<'_>>], beside: &[Seen<'_>]) -> Fit {
        let known = |out: &[(u32, Doubt)]| -> Vec<&Seen<'_>> {
            let usable = seen.iter().flatten().chain(beside).filter(|it| it.may_anchor());
            let known = usable.filter(|it| it.cell.known.is_some());
            known.filter(|it| out.iter().all(|(number, _)| it.cell.number != *number)).collect()
        };
        let mut out: Vec<(u32, Doubt)> = Vec::new();
        let mut fit = self.fit_by(&known(&out));
        for _ in 0..ROUNDS {
            let believed = known(&out);
            let is_believed =
                |it: &&Seen<'_>| believed.iter().any(|known| known.cell.number == it.cell.number);
            let others = seen.iter().flatten().filter(|it| !is_believed(it) && it.may_anchor());
            let others: Vec<(u32, Lab, Lab)> = others
                .filter_map(|it| {
                    let wanted = it.cell.known.map(|known| known.lab).or(it.cell.expected)?;
                    // By the map alone: a known square that holds this one's paint draws it to its own colour.
                    Some((it.cell.number, fit.calibration.plain(&sample(it, fit.bend)), wanted))
                })
                .collect();
            let doubtful = self.doubtful(&believed, &others, &fit);
            if doubtful.is_empty() {
                break;
            }
            out.extend(doubtful);
            fit = self.fit_by(&known(&out));
        }
        fit.doubted = out;
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
                samples: Vec::new(),
                left_out: Vec::new(),
                doubted: Vec::new(),
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
            samples: anchors.into_iter().map(|it| it.sample).collect(),
            doubted: Vec::new(),
            left_out,
        }
    }

    /// Known squares that hold something else than they should.
    fn doubtful(
        &self,
        known: &[&Seen<'_>],
        others: &[(u32, Lab, Lab)],
        fit: &Fit,
    ) -> Vec<(u32, Doubt)> {
        let paper = fit.calibration.told(&bare_paper()).lab;
        let squares = known.iter().zip(&fit.samples).zip(&fit.left_out);
        let squares: Vec<KnownSquare<'_>> = squares
            .map(|((seen, sample), left)| {
                let unpainted = fit.calibration.told(&Sample { x: sample.x, ..bare_paper() }).lab;
                let far = |lab: Lab| colour::delta_e_ab(lab, paper).value();
                KnownSquare {
                    number: seen.cell.number,
                    sample,
                    seen: fit.calibration.plain(sample),
                    left,
                    is_bare: seen.cell.is_paint()
                        && far(unpainted) < PAPER
                        && far(left.known) > 4.0 * PAPER,
                }
            })
            .collect();
        doubts(&squares, others)
    }
}

/// The colour of the lifted half, between the dry paint's and the paper's.
fn lifted(seen: &Seen<'_>, fit: &Fit) -> Option<Lab> {
    let v = seen.square.lifted?;
    let is_clipped = v.iter().any(|v| End::of(*v).is_some());
    let x = toned(v, seen.square.paper, fit.bend);
    let sample = Sample { x, ..painted(seen.cell) };
    (!is_clipped).then(|| fit.calibration.told(&sample).lab)
}

/// A square over printed black that looks like the black beside it, though its paint should not.
fn is_bare_black(seen: &Seen<'_>, read: Lab, fit: &Fit) -> bool {
    let Some(expected) = seen.cell.expected.filter(|_| seen.cell.on_black) else { return false };
    let black = |v: [f64; 3]| {
        let x = toned(v, seen.square.paper, fit.bend);
        fit.calibration.told(&Sample { x, colours: Vec::new(), tubes: Vec::new() }).lab
    };
    let far = |one: Lab, other: Lab| colour::delta_e_ab(one, other).value();
    let beside = seen.square.black.into_iter().flatten().map(black);
    beside.into_iter().any(|black| far(read, black) < PAPER && far(expected, black) > 4.0 * PAPER)
}

fn flag_swapped(cells: &mut [CellReading], roughly: &[(&TargetCell, Lab)]) {
    let mut told: Vec<(u32, Lab, Lab)> = roughly
        .iter()
        .filter_map(|(cell, read)| {
            let expected = cell.known.map(|known| known.lab).or(cell.expected)?;
            Some((cell.number, *read, expected))
        })
        .collect();
    // One pair is asked about at once; more only where each looks as the other should.
    let mut share = f64::INFINITY;
    while let Some(pair) = swapped(&told, share) {
        share = EXPLAINED;
        told.retain(|(number, ..)| !pair.contains(number));
        for cell in cells.iter_mut().filter(|cell| pair.contains(&cell.number)) {
            // What was taken for bare paper is the other one's white.
            if cell.status == Status::Empty {
                cell.status = Status::Read;
                cell.flags.clear();
            }
            cell.flags.retain(|flag| *flag != Flag::Veiled);
            cell.flags.push(Flag::Swapped);
        }
    }
}

/// Some paint may look like this: no darker than black, no lighter than white, and no more vivid than the most vivid
/// (ours).
fn is_of_paint(lab: Lab) -> bool {
    (-3.0..=103.0).contains(&lab.l) && lab.chroma() <= 128.0 && lab.b >= -95.0 && lab.a >= -100.0
}

/// All channels are the same, or nearly so: a JPEG of a grey picture is off by a code here and there.
fn is_grey(v: [f64; 3]) -> bool {
    let of = |pick: fn(f64, f64) -> f64| v.into_iter().reduce(pick).unwrap_or_default();
    code_of(of(f64::max) - of(f64::min)) < 1.5
}

/// Squares that should be of several hues all have one: a picture toned brown, or taken through a filter. Dark squares say
/// little, and a sheet of greys has no hue to lose.
fn is_of_one_hue<'a>(painted: impl Iterator<Item = &'a Seen<'a>>) -> bool {
    const VIVID: f64 = 20.0;
    const ENOUGH: usize = 4;
    const SPREAD: f64 = 0.04;
    let should_be_vivid = |seen: &&Seen<'_>| {
        let lab = seen.cell.known.map(|known| known.lab).or(seen.cell.expected);
        lab.is_some_and(|lab| lab.chroma() > VIVID) && code_of(seen.square.look.v[1]) > 24.0
    };
    let ratios = painted.filter(should_be_vivid).map(|seen| {
        let [r, g, b] = seen.square.look.v;
        [(r.max(1e-3) / g).ln(), (b.max(1e-3) / g).ln()]
    });
    let ratios: Vec<[f64; 2]> = ratios.collect();
    let spread = |at: usize| {
        let of = |pick: fn(f64, f64) -> f64| ratios.iter().map(|it| it[at]).reduce(pick);
        of(f64::max).unwrap_or_default() - of(f64::min).unwrap_or_default()
    };
    ratios.len() >= ENOUGH && spread(0) < SPREAD && spread(1) < SPREAD
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
    /// What its squares hold, and each told by all others.
    samples: Vec<Sample>,
    left_out: Vec<LeftOut>,
    /// Known squares that it does not rest on, and why.
    doubted: Vec<(u32, Doubt)>,
    leave_one_out: Option<f64>,
}

impl Fit {
    /// Every paint of a square has an anchor.
    fn knows(&self, sample: &Sample) -> bool {
        self.interval.is_some() && self.anchored.knows(sample)
    }
}

fn anchors(known: &[&Seen<'_>], bend: f64) -> Vec<Anchor> {
    let anchors = known.iter().filter_map(|seen| {
        let Known { lab, sigma, spectrum } = seen.cell.known?;
        let TargetCell { tint, is_white, on_black, .. } = *seen.cell;
        Some(Anchor {
            sample: sample(seen, bend),
            lab,
            sigma: if seen.why.is_some() { sigma.hypot(CLIPPED_SIGMA) } else { sigma },
            counts: true,
            is_clipped: seen.why.is_some(),
            spectrum,
            tint,
            is_white: is_white && !on_black,
        })
    });
    anchors.collect()
}

fn bare_paper() -> Sample {
    Sample { x: [0.9; 3], colours: Vec::new(), tubes: Vec::new() }
}

/// The sheet's own paper, of which little is known: all there is where no square is. Brightened paper is no colour to
/// calibrate by.
fn paper_anchor() -> Anchor {
    let (lab, sigma) = (USUAL_PAPER, USUAL_PAPER_SIGMA);
    Anchor {
        sample: bare_paper(),
        lab,
        sigma,
        counts: false,
        is_clipped: false,
        spectrum: None,
        tint: None,
        is_white: false,
    }
}

/// What is in a square, before its light is known.
fn painted(cell: &TargetCell) -> Sample {
    Sample { x: [0.0; 3], colours: cell.colours.clone(), tubes: cell.tubes.clone() }
}

/// What the device saw of a square. A channel at its end stands for what lies beyond: half of the darkest light that is
/// recorded, and a little more than the brightest.
fn sample(seen: &Seen<'_>, bend: f64) -> Sample {
    let at = |codes: f64| toned([codes / 255.0; 3], seen.square.paper, bend);
    let [darkest, brightest] = CLIPPED.map(at);
    let own = toned(seen.square.look.v, seen.square.paper, bend);
    let x = std::array::from_fn(|channel| match seen.ends[channel] {
        Some(End::Dark) => darkest[channel] / 2.0,
        Some(End::Bright) => BEYOND * brightest[channel],
        None => own[channel],
    });
    Sample { x, ..painted(seen.cell) }
}
