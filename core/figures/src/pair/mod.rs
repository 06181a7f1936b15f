//! Two tubes mixed with each other at the same parts of white.

mod loss;
mod mixed;
mod ratio;

use colour::{Lab, ciede2000, unsigned_distance};
pub use loss::{Grade, loss_of_chroma};
use loss::{chroma_loss, dulling};
use mixed::{Mixed, Parents};
pub use ratio::{Holding, Neutral};
use ratio::{holding, neutral};
use study::{Averages, RatioError, Study, SwatchColour, TubeRef, Uncertain};

use crate::between::Between;
use crate::interval::{Figure, Outcome, WhyNot, propagate_colours};
use crate::ladder::{Ladder, Step, same_parts, slope};
use crate::vividness::{Scale, Vividness};

/// All mixtures of two tubes at one number of parts of white.
#[derive(Debug, Clone, PartialEq)]
pub struct PairFigures {
    /// The tube under test: the first of the two in the study.
    pub a: TubeRef,
    /// The other.
    pub b: TubeRef,
    /// Parts of white to one part of both colours together.
    pub white_parts: f64,
    /// The mixtures, mostly `a` first. The parents alone stand in their tint ladders.
    pub steps: Vec<PairStep>,
    /// Angle between the parents' hues, 0–180 degrees.
    pub hue_gap: Outcome,
    /// How many parts of `b` one part of `a` holds against.
    pub holding: Result<Holding, WhyNot>,
    /// The greyest mixture, where one comes near grey.
    pub neutral: Option<Neutral>,
}

/// One mixture of a pair.
#[derive(Debug, Clone, PartialEq)]
pub struct PairStep {
    /// Parts of `a`.
    pub a_parts: f64,
    /// Parts of `b`.
    pub b_parts: f64,
    /// Its colour.
    pub colour: SwatchColour,
    /// Angle from `a`'s own hue at the same parts of white, degrees.
    pub hue_shift: Outcome,
    /// 1 − C*/C*held, as a fraction; a gain counts as 0 (ours).
    pub chroma_loss: Outcome,
    /// The mixture is more vivid than its parents hold: the loss is 0.
    pub gain: bool,
    /// The same against the straight line between the parents; negative is brighter (ours).
    pub dulling: Outcome,
    /// Beside the most vivid colour that common pigments mix there.
    pub vividness: Vividness,
    /// Grade of the chroma loss.
    pub grade: Result<Grade, WhyNot>,
    /// ΔE00 from `a` at the same parts of white.
    pub delta_e_a: Outcome,
    /// ΔE00 from `b` at the same parts of white.
    pub delta_e_b: Outcome,
    /// Its parts were put out by eye, so its intervals take the usual error of the eye.
    pub by_eye: bool,
    /// Its ratio was estimated from its colour.
    pub estimated: bool,
}

/// Figures of every pair of a study, in the order of the study.
pub(super) fn pairs(
    study: &Study,
    averages: &Averages,
    (ladders, between): (&[Ladder], Between),
    scale: &Scale,
) -> Vec<PairFigures> {
    let mut mixtures: Vec<((TubeRef, TubeRef), Mixed)> = averages
        .dry_on_paper()
        .filter_map(|averaged| {
            let colours: Vec<_> = averaged.mixture.colours(study.white).collect();
            let [a, b] = colours.as_slice() else { return None };
            let white_parts = study.white_per_colour(&averaged.mixture)?;
            let total = averaged.mixture.total();
            let mixed = Mixed {
                a_parts: a.parts,
                b_parts: b.parts,
                white_parts,
                colour: between.square(&averaged.colour, white_parts > 0.0),
                ratio: [0.0; 3],
                ratio_half_width: study.protocol.ratio_half_width(
                    averaged.ratio_error,
                    a.parts / total,
                    b.parts / total,
                ),
                by_eye: study.protocol.is_by_eye(averaged.ratio_error),
                estimated: matches!(averaged.ratio_error, RatioError::Estimated(_)),
            };
            Some(((a.tube, b.tube), mixed))
        })
        .collect();
    mixtures.sort_by(|(pair, one), (other_pair, other)| {
        pair.cmp(other_pair).then(one.white_parts.total_cmp(&other.white_parts))
    });
    mixtures
        .chunk_by(|(pair, one), (other_pair, other)| {
            pair == other_pair && same_parts(one.white_parts, other.white_parts)
        })
        .map(|group| {
            let (a, b) = group[0].0;
            let mixed = group.iter().map(|(_, mixed)| mixed.clone()).collect();
            pair_figures(a, b, mixed, [&ladders[a.0], &ladders[b.0]], scale)
        })
        .collect()
}

fn pair_figures(
    a: TubeRef,
    b: TubeRef,
    mut mixed: Vec<Mixed>,
    [ladder_a, ladder_b]: [&Ladder; 2],
    scale: &Scale,
) -> PairFigures {
    mixed.sort_by(|one, other| one.ln_ratio().total_cmp(&other.ln_ratio()));
    fill_ratio_part(&mut mixed);
    let white_parts = mixed[0].white_parts;
    let parents = Parents::find(ladder_a, ladder_b, white_parts);
    PairFigures {
        a,
        b,
        white_parts,
        steps: mixed.iter().map(|mixed| step_figures(mixed, &parents, scale)).collect(),
        hue_gap: parents.footing([]).of_mixtures(parents.both().and_then(|[a, b]| hue_gap(a, b))),
        holding: holding(&mixed, &parents),
        neutral: neutral(&mixed, &parents),
    }
}

fn fill_ratio_part(mixed: &mut [Mixed]) {
    let points: Vec<(f64, [f64; 3])> =
        mixed.iter().map(|mixed| (mixed.ln_ratio(), mixed.colour.lab.axes())).collect();
    for (at, mixed) in mixed.iter_mut().enumerate() {
        let half = mixed.ratio_half_width;
        mixed.ratio = slope(&points, at).map(|slope| slope * half);
    }
}

fn step_figures(mixed: &Mixed, parents: &Parents<'_>, scale: &Scale) -> PairStep {
    let mix = mixed.uncertain();
    let both = parents.both();
    let footing = parents.footing([&mixed.colour]);
    let told = |figure: Outcome| footing.of_mixtures(figure);
    let loss = told(both.and_then(|[a, b]| chroma_loss(mix, a, b)));
    PairStep {
        a_parts: mixed.a_parts,
        b_parts: mixed.b_parts,
        colour: mixed.colour.clone(),
        hue_shift: match parents.reference {
            Some(reference) => told(crate::tints::hue_shift(reference, mix, false)),
            None => Err(WhyNot::ParentUnread),
        },
        chroma_loss: loss.map(|loss| Figure { value: loss.value.max(0.0), ..loss }),
        gain: loss.is_ok_and(|loss| loss.value < 0.0),
        dulling: told(both.and_then(|[a, b]| dulling(mix, a, b))),
        vividness: scale.vividness(mixed.colour.lab),
        grade: loss.map(|loss| Grade::of(loss.value)),
        delta_e_a: told(distance(mix, parents.a)),
        delta_e_b: told(distance(mix, parents.b)),
        by_eye: mixed.by_eye,
        estimated: mixed.estimated,
    }
}

fn hue_gap(a: Uncertain, b: Uncertain) -> Outcome {
    let figure = |[a, b]: [Lab; 2]| Some(unsigned_distance(a.hue()?, b.hue()?));
    let value = figure([a.lab, b.lab]).ok_or(WhyNot::NearNeutral)?;
    Ok(Figure::with(value, propagate_colours([a, b], figure)))
}

fn distance(mix: Uncertain, parent: Option<&Step>) -> Outcome {
    let parent = parent.ok_or(WhyNot::ParentUnread)?.uncertain();
    let figure = |[mix, parent]: [Lab; 2]| Some(ciede2000(mix, parent).value());
    let value = ciede2000(mix.lab, parent.lab).value();
    Ok(Figure::with(value, propagate_colours([mix, parent], figure)))
}
