//! How far two tubes differ at equal strength.

use std::collections::BTreeMap;

use colour::{Lab, ciede2000};
use study::same_code;

use crate::cells::{Cell, cells, shared};
use crate::equal::Movable;
use crate::footing::{Apart, Footing, footing};
use crate::noise::{Draws, Noise};
use crate::told::Subject;

/// Squares beside the mass tone that are needed.
const LEAST: usize = 3;
/// From so many on the 90th percentile is told, below it the root mean square.
const FOR_PERCENTILE: usize = 8;
const PERCENTILE: f64 = 0.9;
/// Draws of the bootstrap.
const DRAWS: usize = 300;
/// What is left of a shift that was predicted, and what nobody can do better than, ΔE00 (found by simulation).
const OF_SHIFT: f64 = 0.15;
const FLOOR: f64 = 0.2;
/// How sure a use is: a share of itself, and of its ln.
const USE: (f64, f64) = (0.03, 0.10);
/// What pictures add to a half-width: a share of the distance, and ΔE00 within one sheet and across sheets.
const PICTURE_SHARE: f64 = 0.2;
const ONE_SHEET: f64 = 0.35;
const TWO_SHEETS: f64 = 0.6;

/// A ΔE00 with the half-width of its 95 % interval.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Distance {
    /// ΔE00, 0 or more.
    pub value: f64,
    /// ΔE00.
    pub half_width: f64,
}

/// A square that both tubes have.
#[derive(Debug, Clone, PartialEq)]
pub struct TwinCell {
    /// What stands with the tube: `white`, or the partners.
    pub with: String,
    /// Parts of the partners together, and of white, to one part of the first tube.
    pub parts: [f64; 2],
    /// The first tube's colour.
    pub first: Lab,
    /// The second tube's, at equal strength.
    pub second: Lab,
    /// ΔE00 between them.
    pub delta_e: f64,
}

/// The partner with which two tubes differ most.
#[derive(Debug, Clone, PartialEq)]
pub struct Worst {
    /// `white`, or the partners.
    pub with: String,
    /// The largest ΔE00 with it.
    pub delta_e: f64,
}

/// Two tubes at equal strength.
#[derive(Debug, Clone, PartialEq)]
pub struct Twins {
    /// Parts of the second that do what one part of the first does.
    pub use_of_second: f64,
    /// Its 95 % interval.
    pub use_interval: [f64; 2],
    /// Over all squares but the mass tone: the 90th percentile of ΔE00, or the root mean square of fewer than eight.
    pub distance: Distance,
    /// Between the mass tones; `None` where one was not read.
    pub mass_tone: Option<Distance>,
    /// Where they differ most.
    pub worst: Option<Worst>,
    /// Every square that both have.
    pub cells: Vec<TwinCell>,
    /// They rest on pictures.
    pub of_pictures: bool,
    /// Both declare the same pigments.
    pub same_pigments: bool,
    /// A simulated device made up readings of one of the two trials.
    pub is_simulated: bool,
    /// How the two trials may be compared.
    pub footing: Footing,
}

/// Two tubes beside each other.
///
/// # Errors
/// With why they stand apart, and what would bring them together.
pub fn compare(one: &Subject<'_>, other: &Subject<'_>) -> Result<Twins, Apart> {
    if std::ptr::eq(one.told.study, other.told.study) && one.tube == other.tube {
        return Err(Apart::Same);
    }
    let footing = footing((&one.told, &other.told), [one.tube, other.tube])?;
    let frame = one.told.frame();
    let pairs = shared(cells(one, frame), &cells(other, frame));
    let mixed = pairs.iter().filter(|(cell, _)| !cell.is_mass_tone()).count();
    if mixed < LEAST {
        return Err(Apart::NothingShared(mixed));
    }
    if !other.has_constants() {
        return Err(Apart::Unfitted(other.label().name));
    }
    let pictures = Pictures::of(&pairs)?;
    let movable = Movable { subject: other, frame, pairs: &pairs };
    let unfitted = || Apart::Unfitted(other.label().name);
    let times = movable.use_of_second().ok_or_else(unfitted)?;
    let moved: Vec<(&Cell, &Cell, Lab)> = pairs
        .iter()
        .filter_map(|(one, other)| Some((one, other, movable.moved(other, times)?)))
        .collect();
    let noise = noise(one, other, &moved, times);
    let (distance, mass_tone) = distances(&moved, noise, (footing.added, pictures));
    let by_eye = by_eye(one) || by_eye(other);
    Ok(Twins {
        use_of_second: times,
        use_interval: use_interval(times, by_eye.then_some(mixed)),
        distance,
        mass_tone,
        worst: worst(&moved),
        cells: moved.iter().map(|(one, _, moved)| TwinCell::of(one, *moved)).collect(),
        of_pictures: pictures.is_some(),
        is_simulated: one.told.is_simulated() || other.told.is_simulated(),
        same_pigments: same_code(&one.label().code, &other.label().code),
        footing,
    })
}

/// A use within 3 % and a tenth of its ln; amounts put out by eye over so many squares add to it.
fn use_interval(times: f64, by_eye: Option<usize>) -> [f64; 2] {
    let weighed = USE.0 + USE.1 * times.ln().abs();
    let width = by_eye.map_or(weighed, |squares| weighed.hypot(by_eye_share(squares)));
    [times * (1.0 - width).max(0.0), times * (1.0 + width)]
}

/// Over the mixtures and between the mass tones, each with what the footing and pictures add.
fn distances(
    moved: &[(&Cell, &Cell, Lab)],
    noise: Noise,
    (added, pictures): (f64, Option<Pictures>),
) -> (Distance, Option<Distance>) {
    let observed = Distances::of(moved, |cell| cell.lab);
    let drawn = Spread::drawn(moved, noise);
    let shifts = moved.iter().map(|(_, own, moved)| ciede2000(own.lab, *moved).value());
    let of_shift = OF_SHIFT * percentile(shifts.collect(), PERCENTILE);
    let mass_tone = observed
        .mass_tone
        .map(|observed| drawn.mass_tone.corrected(observed, [0.0, added], pictures));
    (drawn.mixtures.corrected(observed.mixtures, [of_shift, added], pictures), mass_tone)
}

impl TwinCell {
    fn of(one: &Cell, second: Lab) -> Self {
        Self {
            with: one.with(),
            parts: [one.partners.iter().map(|it| it.1).sum(), one.white],
            first: one.lab,
            second,
            delta_e: ciede2000(one.lab, second).value(),
        }
    }
}

/// What pictures add to a half-width; `None` for readings of no picture.
#[derive(Debug, Clone, Copy)]
struct Pictures {
    floor: f64,
}

impl Pictures {
    fn of(pairs: &[(Cell, Cell)]) -> Result<Option<Self>, Apart> {
        let both = |pair: &(Cell, Cell)| (pair.0.pictures.clone(), pair.1.pictures.clone());
        let of_picture = |(one, other): &(Vec<_>, Vec<_>)| !one.is_empty() || !other.is_empty();
        let all: Vec<_> = pairs.iter().map(both).filter(of_picture).collect();
        if all.is_empty() {
            return Ok(None);
        }
        let in_one = all.iter().all(|(one, other)| one == other);
        let uncalibrated =
            pairs.iter().any(|(one, other)| one.is_uncalibrated || other.is_uncalibrated);
        if uncalibrated && !in_one {
            return Err(Apart::Uncalibrated);
        }
        Ok(Some(Self { floor: if in_one { ONE_SHEET } else { TWO_SHEETS } }))
    }
}

fn by_eye(subject: &Subject<'_>) -> bool {
    subject.told.study.protocol.is_by_eye(study::RatioError::AsStated)
}

/// What amounts put out by eye leave of a strength over so many squares of two tubes (95 %, ours).
fn by_eye_share(squares: usize) -> f64 {
    1.96 * study::Protocol::BY_EYE_ERROR * (2.0 / squares as f64).sqrt()
}

/// What the model leaves of the differences of squares with white.
fn noise(
    one: &Subject<'_>,
    other: &Subject<'_>,
    moved: &[(&Cell, &Cell, Lab)],
    times: f64,
) -> Noise {
    let frame = one.told.frame();
    let unexplained =
        moved.iter().filter(|(cell, ..)| cell.white > 0.0).filter_map(|(cell, own, lab)| {
            let first = one.told.predicted(&cell.mixture, (one.tube, 1.0), frame)?;
            let second = other.told.predicted(&own.mixture, (other.tube, times), frame)?;
            let seen = [cell.lab.l - lab.l, cell.lab.a - lab.a, cell.lab.b - lab.b];
            let told = [first.l - second.l, first.a - second.a, first.b - second.b];
            Some([0, 1, 2].map(|axis| seen[axis] - told[axis]))
        });
    Noise::of(&unexplained.collect::<Vec<_>>())
}

/// The two distances of one look at the squares.
struct Distances {
    mixtures: f64,
    mass_tone: Option<f64>,
}

impl Distances {
    fn of(moved: &[(&Cell, &Cell, Lab)], mut seen: impl FnMut(&Cell) -> Lab) -> Self {
        let (mut mixtures, mut mass_tone) = (Vec::with_capacity(moved.len()), None);
        for (one, _, other) in moved {
            let off = ciede2000(seen(one), *other).value();
            if one.is_mass_tone() { mass_tone = Some(off) } else { mixtures.push(off) }
        }
        Self { mixtures: summed_up(mixtures), mass_tone }
    }
}

fn summed_up(off: Vec<f64>) -> f64 {
    if off.len() >= FOR_PERCENTILE {
        return percentile(off, PERCENTILE);
    }
    let squares: f64 = off.iter().map(|it| it * it).sum();
    (squares / off.len().max(1) as f64).sqrt()
}

/// Between the two nearest values.
fn percentile(mut values: Vec<f64>, share: f64) -> f64 {
    values.sort_by(f64::total_cmp);
    let place = share * values.len().saturating_sub(1) as f64;
    let (low, rest) = (place.floor() as usize, place.fract());
    let at = |at: usize| values.get(at).copied().unwrap_or_default();
    at(low) * (1.0 - rest) + at(low + usize::from(rest > 0.0)) * rest
}

/// A distance over many draws of noise.
struct Drawn {
    median: f64,
    /// Half of the range that holds 95 %.
    half_range: f64,
}

impl Drawn {
    fn of(values: &[f64]) -> Self {
        let [low, median, high] =
            [0.025, 0.5, 0.975].map(|share| percentile(values.to_vec(), share));
        Self { median, half_range: (high - low) / 2.0 }
    }

    /// Noise alone makes two piles differ: what it makes is taken off.
    fn corrected(&self, observed: f64, more: [f64; 2], pictures: Option<Pictures>) -> Distance {
        let value = (2.0 * observed.powi(2) - self.median.powi(2)).max(0.0).sqrt();
        let half_width = more.iter().fold(self.half_range.hypot(FLOOR), |sum, it| sum.hypot(*it));
        let half_width = match pictures {
            Some(Pictures { floor }) => half_width.hypot(PICTURE_SHARE * value).hypot(floor),
            None => half_width,
        };
        Distance { value, half_width }
    }
}

struct Spread {
    mixtures: Drawn,
    mass_tone: Drawn,
}

impl Spread {
    fn drawn(moved: &[(&Cell, &Cell, Lab)], noise: Noise) -> Self {
        let mut draws = Draws::new();
        let (mut mixtures, mut mass_tones) = (Vec::with_capacity(DRAWS), Vec::with_capacity(DRAWS));
        for _ in 0..DRAWS {
            let told =
                Distances::of(moved, |cell| draws.disturbed(cell.lab, noise, cell.white > 0.0));
            mixtures.push(told.mixtures);
            mass_tones.extend(told.mass_tone);
        }
        Self { mixtures: Drawn::of(&mixtures), mass_tone: Drawn::of(&mass_tones) }
    }
}

/// The partner of the largest root mean square.
fn worst(moved: &[(&Cell, &Cell, Lab)]) -> Option<Worst> {
    let mut by: BTreeMap<String, Vec<f64>> = BTreeMap::new();
    for (one, _, other) in moved.iter().filter(|(one, ..)| !one.is_mass_tone()) {
        by.entry(one.with()).or_default().push(ciede2000(one.lab, *other).value());
    }
    let rms = |off: &[f64]| (off.iter().map(|it| it * it).sum::<f64>() / off.len() as f64).sqrt();
    let (with, off) = by.into_iter().max_by(|one, other| rms(&one.1).total_cmp(&rms(&other.1)))?;
    Some(Worst { with, delta_e: off.into_iter().fold(0.0, f64::max) })
}
