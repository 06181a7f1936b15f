//! From what the device saw to CIELAB, by squares whose colour is known.
//!
//! 1. `tone`: the device's tone curve, one number.
//! 2. `map`: six numbers a square to XYZ, by a root polynomial (Finlayson, Mackiewicz and Hurlbert 2015,
//!    doi 10.1109/TIP.2015.2405336).
//! 3. `spectral`: where spectra are known, what the device would see of other paints.
//! 4. `ladder`: such paints: what lies between a tube's mass tone and its tints.
//! 5. `process`: what the map leaves, by a Gaussian process over colours and pigments.
//! 6. `interval`: how far a colour may be off, from anchors that were left out. `anchored`: which paints have them.

mod anchored;
mod interval;
mod ladder;
mod map;
mod process;
mod spectral;
mod tone;

pub(crate) use anchored::Anchored;
use colour::{Conditions, Lab, Reflectance, ciede2000};
pub(crate) use interval::{Interval, u95};
use map::Map;
pub(crate) use map::SRGB;
use process::Process;
use spectral::Sensitivities;
pub(crate) use tone::{TONES, toned};

use crate::target::LikelySpectrum;

/// Fewer anchors than this calibrate nothing.
pub const LEAST_ANCHORS: usize = 10;

/// A square before it is calibrated: what the device saw beside bare paper, for one tone curve.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Sample {
    /// Linear light beside bare paper's, which is 0.9.
    pub x: [f64; 3],
    /// Shares of its pigments, white left out.
    pub colours: Vec<(usize, f64)>,
    /// Shares of its tubes.
    pub tubes: Vec<(usize, f64)>,
}

/// A square whose colour is known.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Anchor {
    pub sample: Sample,
    pub lab: Lab,
    pub sigma: f64,
    /// It is a painted square, and not the paper.
    pub counts: bool,
    /// A channel of it is at its end, and stands for what lies beyond.
    pub is_clipped: bool,
    /// Its spectrum, where that is known.
    pub spectrum: Option<Reflectance>,
    /// The white's share where it holds one tube over paper.
    pub tint: Option<f64>,
    /// It holds the white and nothing else.
    pub is_white: bool,
}

/// What colours are told under.
#[derive(Debug, Clone)]
pub(crate) struct Under {
    pub conditions: Conditions,
    /// Spectra that paints like those of the squares have.
    pub likely: Vec<LikelySpectrum>,
}

/// A device's way from light to colour.
pub(crate) struct Calibration {
    map: Map,
    process: Process,
    conditions: Conditions,
}

/// A colour with its variance per axis, without the noise of the square itself.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Told {
    pub lab: Lab,
    pub variance: f64,
}

impl Calibration {
    /// From anchors, and what their spectra tell of the colours between them.
    pub fn of(anchors: &[&Anchor], under: &Under) -> Self {
        Self::by(anchors, &rungs(anchors, under), under)
    }

    /// From anchors alone: sooner done, and good enough to tell the tone curve.
    pub fn roughly(anchors: &[&Anchor], under: &Under) -> Self {
        Self::by(anchors, &[], under)
    }

    fn by(anchors: &[&Anchor], rungs: &[Anchor], under: &Under) -> Self {
        let conditions = under.conditions;
        let map = Map::of(anchors, conditions);
        let all = anchors.iter().copied().chain(rungs);
        let points: Vec<(Lab, &Anchor)> =
            all.map(|anchor| (map.lab(anchor.sample.x, conditions), anchor)).collect();
        Self { process: Process::of(&points), map, conditions }
    }

    /// The colour of a square by the map alone.
    pub fn plain(&self, sample: &Sample) -> Lab {
        self.map.lab(sample.x, self.conditions)
    }

    /// The colour of a square.
    pub fn told(&self, sample: &Sample) -> Told {
        let plain = self.plain(sample);
        let (off, variance) = self.process.at(plain, sample);
        let [l, a, b] = plain.axes();
        Told { lab: Lab::new(l + off[0], a + off[1], b + off[2]), variance }
    }
}

/// What the device sees of light, by the spectra of the anchors; nothing where these are too few.
fn sensitivities(anchors: &[&Anchor]) -> Option<Sensitivities> {
    let seen: Vec<([f64; 3], Reflectance)> =
        anchors.iter().filter_map(|it| Some((it.sample.x, it.spectrum?))).collect();
    if seen.len() + 1 < LEAST_ANCHORS { None } else { Sensitivities::of(&seen) }
}

/// What a colour that follows from known ones is good to, one σ per axis (found by simulation).
const RUNG_SIGMA: f64 = 1.5;
/// The same of a typical paint, which is another one.
const TYPICAL_SIGMA: f64 = 4.0;

/// What the device would see of colours between the known squares of each tube, and of paints like those of the squares.
fn rungs(anchors: &[&Anchor], under: &Under) -> Vec<Anchor> {
    let Some(curves) = sensitivities(anchors) else { return Vec::new() };
    let anchor = |spectrum: &Reflectance, of: Sample, sigma: f64| Anchor {
        sample: Sample { x: curves.seen(spectrum), ..of },
        lab: Lab::from_reflectance(spectrum, under.conditions),
        sigma,
        counts: false,
        is_clipped: false,
        spectrum: None,
        tint: None,
        is_white: false,
    };
    let between = ladder::rungs(anchors).into_iter();
    let between = between.map(|rung| anchor(&rung.spectrum, rung.of, RUNG_SIGMA));
    let anchored = Anchored::by(anchors.iter().copied());
    let likely = under.likely.iter().map(|it| {
        let of = Sample { x: [0.0; 3], colours: it.colours.clone(), tubes: it.tubes.clone() };
        (it, of)
    });
    let likely = likely.filter(|(it, of)| !it.is_typical || !anchored.knows(of)).map(|(it, of)| {
        anchor(&it.spectrum, of, if it.is_typical { TYPICAL_SIGMA } else { RUNG_SIGMA })
    });
    between.chain(likely).collect()
}

/// One anchor, told by all others.
#[derive(Debug, Clone, Copy)]
pub(crate) struct LeftOut {
    pub told: Told,
    pub known: Lab,
    pub sigma: f64,
    pub is_clipped: bool,
}

impl LeftOut {
    pub fn delta_e(&self) -> f64 {
        ciede2000(self.told.lab, self.known).value()
    }
}

/// Every anchor that counts, each told by a calibration that does not know it.
pub(crate) fn leave_one_out(
    anchors: &[Anchor],
    calibration: impl Fn(&[&Anchor]) -> Calibration,
) -> Vec<LeftOut> {
    let places = (0..anchors.len()).filter(|at| anchors[*at].counts);
    places
        .map(|out| {
            let others: Vec<&Anchor> = anchors
                .iter()
                .enumerate()
                .filter(|(at, _)| *at != out)
                .map(|(_, anchor)| anchor)
                .collect();
            left_out(&calibration(&others), &anchors[out])
        })
        .collect()
}

/// Every anchor that counts, told by a calibration without any anchor of one of its pigments.
pub(crate) fn leave_one_tube_out(anchors: &[Anchor], under: &Under) -> Vec<LeftOut> {
    let mut tubes: Vec<usize> =
        anchors.iter().flat_map(|it| it.sample.colours.iter().map(|(tube, _)| *tube)).collect();
    tubes.sort_unstable();
    tubes.dedup();
    let holds = |anchor: &Anchor, tube: usize| anchor.sample.colours.iter().any(|it| it.0 == tube);
    let mut all = Vec::new();
    for tube in tubes {
        let others: Vec<&Anchor> = anchors.iter().filter(|it| !holds(it, tube)).collect();
        if others.len() + 1 < LEAST_ANCHORS / 2 {
            continue;
        }
        let calibration = Calibration::of(&others, under);
        let out = anchors.iter().filter(|anchor| anchor.counts && holds(anchor, tube));
        all.extend(out.map(|anchor| left_out(&calibration, anchor)));
    }
    all
}

fn left_out(calibration: &Calibration, anchor: &Anchor) -> LeftOut {
    let told = calibration.told(&anchor.sample);
    LeftOut { told, known: anchor.lab, sigma: anchor.sigma, is_clipped: anchor.is_clipped }
}
