//! Mixtures of three tubes and more: what the others do to a pair.

use std::collections::BTreeMap;

use colour::{Lab, ciede2000};
use mixing::{Constants, predict};
use study::{Averaged, Averages, FittedTubes, Part, Study, SwatchColour, TubeRef, Uncertain};

use crate::between::Between;
use crate::footing::Footing;
use crate::interval::{Figure, Outcome, WhyNot, propagate_colours};
use crate::ladder::same_parts;
use crate::tints::hue_shift;
use crate::vividness::{Scale, Vividness};

/// Tubes besides the white: with more, too much changes at once for one of them to be told.
const MOST_TUBES: usize = 4;

/// One mixture of three or four tubes.
#[derive(Debug, Clone, PartialEq)]
pub struct MixtureFigures {
    /// The tubes besides the white, with their parts.
    pub tubes: Vec<Part>,
    /// Parts of white to one part of all of them together.
    pub white_parts: f64,
    /// Its colour.
    pub colour: SwatchColour,
    /// The two tubes whose mixture at the same ratio, with the same parts of white, it stands beside.
    pub base: [TubeRef; 2],
    /// Angle from the hue of that mixture, degrees.
    pub hue_shift: Outcome,
    /// 1 − C*/C*(that mixture), as a fraction; negative where it is more vivid.
    pub chroma_loss: Outcome,
    /// ΔE00 from that mixture.
    pub delta_e: Outcome,
    /// Beside the most vivid colour that the trial's tubes mix there.
    pub vividness: Vividness,
    /// A part of it was put out by eye.
    pub by_eye: bool,
}

impl MixtureFigures {
    /// The tubes that came to the pair, with their shares of all colours, 0 to 1.
    #[must_use]
    pub fn others(&self) -> Vec<(TubeRef, f64)> {
        let total: f64 = self.tubes.iter().map(|part| part.parts).sum();
        let others = self.tubes.iter().filter(|part| !self.base.contains(&part.tube));
        others.map(|part| (part.tube, part.parts / total)).collect()
    }
}

/// Every dry mixture of three or four tubes over paper, in the order of the study.
pub(super) fn mixtures(
    study: &Study,
    averages: &Averages,
    between: Between,
    scale: &Scale,
) -> Vec<MixtureFigures> {
    let pairs = pairs_read(study, averages);
    let of_three = |it: &Averaged| it.mixture.colours(study.white).count() > 2;
    if !averages.dry_on_paper().any(of_three) {
        return Vec::new();
    }
    let fitted = &FittedTubes::quickly(study, averages);
    let maker = Mixtures { study, pairs, fitted, between, scale };
    averages.dry_on_paper().filter_map(|averaged| maker.figures(averaged)).collect()
}

/// A mixture of two that was read.
struct PairRead<'a> {
    /// Parts of the first to one of the second.
    ratio: f64,
    white_parts: f64,
    /// Its place in the study.
    place: usize,
    averaged: &'a Averaged,
}

/// Every mixture of two that was read, by its tubes and then by its ratio.
fn pairs_read<'a>(
    study: &Study,
    averages: &'a Averages,
) -> BTreeMap<[TubeRef; 2], Vec<PairRead<'a>>> {
    let mut pairs: BTreeMap<[TubeRef; 2], Vec<PairRead<'a>>> = BTreeMap::new();
    for (place, averaged) in averages.dry_on_paper().enumerate() {
        let colours: Vec<&Part> = averaged.mixture.colours(study.white).collect();
        let (&[one, other], Some(white_parts)) =
            (colours.as_slice(), study.white_per_colour(&averaged.mixture))
        else {
            continue;
        };
        let ratio = one.parts / other.parts;
        let read = PairRead { ratio, white_parts, place, averaged };
        pairs.entry([one.tube, other.tube]).or_default().push(read);
    }
    for read in pairs.values_mut() {
        read.sort_by(|one, other| one.ratio.total_cmp(&other.ratio));
    }
    pairs
}

struct Mixtures<'a> {
    study: &'a Study,
    pairs: BTreeMap<[TubeRef; 2], Vec<PairRead<'a>>>,
    fitted: &'a FittedTubes,
    between: Between,
    scale: &'a Scale,
}

impl Mixtures<'_> {
    fn figures(&self, averaged: &Averaged) -> Option<MixtureFigures> {
        let tubes: Vec<Part> = averaged.mixture.colours(self.study.white).copied().collect();
        if !(3..=MOST_TUBES).contains(&tubes.len()) {
            return None;
        }
        let white_parts = self.study.white_per_colour(&averaged.mixture)?;
        let (base, base_mix) = self.base(&tubes, white_parts);
        let mix = self.uncertain(averaged);
        let both = base_mix.map(|base| (self.uncertain(base), mix)).ok_or(WhyNot::BaseUnread);
        let lab = averaged.colour.lab;
        let footing = Footing::of(base_mix.into_iter().chain([averaged]).map(|it| &it.colour));
        let told = |figure: Outcome| footing.of_mixtures(figure);
        Some(MixtureFigures {
            tubes,
            white_parts,
            base,
            hue_shift: told(both.and_then(|(base, mix)| hue_shift(base, mix, false))),
            chroma_loss: told(both.and_then(|(base, mix)| chroma_loss(base, mix))),
            delta_e: told(both.map(|(base, mix)| delta_e(base, mix))),
            vividness: self.scale.vividness(lab),
            by_eye: self.study.protocol.is_by_eye(averaged.ratio_error),
            colour: averaged.colour.clone(),
        })
    }

    /// The pair that most of the mixture is of, among those that were read at the same ratio and the
    /// same parts of white; the two largest where none was.
    fn base(&self, tubes: &[Part], white_parts: f64) -> ([TubeRef; 2], Option<&Averaged>) {
        let mut pairs: Vec<[Part; 2]> = Vec::new();
        for (at, one) in tubes.iter().enumerate() {
            pairs.extend(tubes[at + 1..].iter().map(|other| [*one, *other]));
        }
        let size = |[one, other]: &[Part; 2]| one.parts + other.parts;
        // Stable: of pairs that are equally large the first in the study.
        pairs.sort_by(|one, other| size(other).total_cmp(&size(one)));
        let read = pairs.iter().find_map(|pair| Some((pair, self.read_pair(pair, white_parts)?)));
        match (read, pairs.first()) {
            (Some((pair, base)), _) => (pair.map(|part| part.tube), Some(base)),
            (None, Some(pair)) => (pair.map(|part| part.tube), None),
            (None, None) => ([TubeRef(0); 2], None),
        }
    }

    fn read_pair(&self, [one, other]: &[Part; 2], white_parts: f64) -> Option<&Averaged> {
        let read = self.pairs.get(&[one.tube, other.tube])?;
        let ratio = one.parts / other.parts;
        // Wider than what counts as the same; `same_parts` decides.
        let from = read.partition_point(|pair| pair.ratio < ratio * 0.9);
        let near = read[from..].iter().take_while(|pair| pair.ratio <= ratio * 1.1);
        let same = near.filter(|pair| {
            same_parts(pair.ratio, ratio) && same_parts(pair.white_parts, white_parts)
        });
        same.min_by_key(|pair| pair.place).map(|pair| pair.averaged)
    }

    /// The colour with its reading part, and with what an error of each part would do to it, as far as
    /// K and S of its tubes tell.
    fn uncertain(&self, averaged: &Averaged) -> Uncertain {
        let with_white = self.study.white_per_colour(&averaged.mixture).is_some_and(|it| it > 0.0);
        let mut reading = self.between.square(&averaged.colour, with_white).square_half_width();
        let moved = self.moved(averaged);
        for (axis, half) in reading.iter_mut().enumerate() {
            *half = match &moved {
                Some(moved) => moved.iter().fold(*half, |sum, step| sum.hypot(step[axis])),
                // A ratio that may be off, by nobody knows how much colour.
                None => f64::INFINITY,
            };
        }
        Uncertain { lab: averaged.colour.lab, reading, ratio: [0.0; 3] }
    }

    fn moved(&self, averaged: &Averaged) -> Option<Vec<[f64; 3]>> {
        let parts = averaged.mixture.parts();
        let total = averaged.mixture.total();
        let here = self.predicted(parts)?;
        let step = |at: usize| {
            let share = parts[at].parts / total;
            let half =
                self.study.protocol.ratio_half_width(averaged.ratio_error, share, 1.0 - share);
            let mut moved = parts.to_vec();
            moved[at].parts *= half.exp();
            let there = self.predicted(&moved)?.axes();
            Some(std::array::from_fn(|axis| there[axis] - here.axes()[axis]))
        };
        (0..parts.len()).map(step).collect()
    }

    fn predicted(&self, parts: &[Part]) -> Option<Lab> {
        let total: f64 = parts.iter().map(|part| part.parts).sum();
        let paint = |part: &Part| -> Option<(f64, &Constants)> {
            let constants = self.fitted.tubes.get(part.tube.0)?.constants.as_ref()?;
            Some((part.parts / total, constants))
        };
        let paints: Vec<(f64, &Constants)> = parts.iter().map(paint).collect::<Option<_>>()?;
        let film = predict(&paints, self.fitted.paper.as_ref()).to_measured(self.fitted.surface);
        Some(Lab::from_reflectance(&film, self.study.conditions))
    }
}

fn chroma_loss(base: Uncertain, mix: Uncertain) -> Outcome {
    base.lab.hue().ok_or(WhyNot::NearNeutral)?;
    let figure = |[base, mix]: [Lab; 2]| Some(1.0 - mix.chroma() / base.chroma());
    let value = 1.0 - mix.lab.chroma() / base.lab.chroma();
    Ok(Figure::with(value, propagate_colours([base, mix], figure)))
}

fn delta_e(base: Uncertain, mix: Uncertain) -> Figure {
    let figure = |[base, mix]: [Lab; 2]| Some(ciede2000(base, mix).value());
    let value = ciede2000(base.lab, mix.lab).value();
    Figure::with(value, propagate_colours([base, mix], figure))
}
