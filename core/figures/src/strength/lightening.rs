//! How much a white lightens, beside the white of the study.

use mixing::KsRatio;
use study::{Averaged, Averages, Backing, Mixture, RatioError, Study, SwatchColour, TubeRef};

use super::same_ratio::{Channel, is_reliable, off_best, surface_part};
use super::{Method, PictureStrength, widened};
use crate::between::Between;
use crate::footing::Footing;
use crate::interval::{Figure, Outcome, WhyNot, propagate};
use crate::ladder::{Ladder, Step};

/// A white that declares no pigment is known by its colour: this light, and no more coloured than that.
const LIGHT: f64 = 90.0;
const HARDLY_COLOURED: f64 = 8.0;

/// Lightening power of a white, told by one coloured tube.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LighteningPower {
    /// The white that stands at 100 %: that of the study.
    pub standard: TubeRef,
    /// The coloured tube that was let down with both.
    pub colour: TubeRef,
    /// Parts of white to one part of it.
    pub white_parts: f64,
    /// 100·q(with the standard)/q(with this white) at λ*, percent.
    pub percent: Outcome,
    /// The corrected reflectance with the standard lies outside 0.25–0.65.
    pub indicative: bool,
    /// A tint was put out by eye.
    pub by_eye: bool,
}

/// True for a tube that is a white: by its pigments, or, without any, by its colour.
pub(crate) fn is_white(study: &Study, averages: &Averages, tube: TubeRef) -> bool {
    let code = study.label(tube).code.to_uppercase();
    let mut names =
        code.split([' ', ',', '+', '/', ';']).filter(|name| !name.is_empty()).peekable();
    if names.peek().is_some() {
        return names.all(|name| name.starts_with("PW") || name.starts_with("NW"));
    }
    let mass_tone = averages.dry(&Mixture::neat(tube), Backing::Paper);
    mass_tone.is_some_and(|it| it.lab.l >= LIGHT && it.lab.chroma() <= HARDLY_COLOURED)
}

/// What each coloured tube tells of a white that is not the study's own: at the parts of white where the
/// standard's corrected reflectance is nearest 0.41.
pub(crate) fn lightening_power(
    study: &Study,
    averages: &Averages,
    (ladders, between): (&[Ladder], Between),
    white: TubeRef,
) -> Vec<LighteningPower> {
    let Some(standard) = study.white.filter(|standard| *standard != white) else {
        return Vec::new();
    };
    let neat = |tube| {
        let colour = averages.dry(&Mixture::neat(tube), Backing::Paper)?;
        Some(between.square(colour, true))
    };
    let mut found: Vec<(f64, LighteningPower)> = Vec::new();
    for averaged in averages.dry_on_paper() {
        if matches!(averaged.ratio_error, RatioError::Estimated(_)) {
            continue;
        }
        let Some((colour, parts)) = tint_with(&averaged.mixture, white, standard) else { continue };
        let Some(with_standard) = ladders.get(colour.0).and_then(|ladder| ladder.at(parts)) else {
            continue;
        };
        let whites = neat(white).zip(neat(standard));
        let whites = whites.as_ref().map(|(one, other)| (one, other));
        let sample = between.square(&averaged.colour, true);
        let of = (standard, colour);
        let (off, power) = judged(study, (averaged, &sample), with_standard, whites, of);
        match found.iter_mut().find(|(_, known)| known.colour == colour) {
            Some(known) if off < known.0 => *known = (off, power),
            Some(_) => {}
            None => found.push((off, power)),
        }
    }
    found.into_iter().map(|(_, power)| power).collect()
}

/// The coloured tube of a mixture with this white alone, and the parts of white to one of it.
fn tint_with(mixture: &Mixture, white: TubeRef, standard: TubeRef) -> Option<(TubeRef, f64)> {
    let [one, other] = mixture.parts() else { return None };
    let (colour, of_white) = match (one.tube == white, other.tube == white) {
        (true, false) => (other, one),
        (false, true) => (one, other),
        _ => return None,
    };
    (colour.tube != standard).then(|| (colour.tube, of_white.parts / colour.parts))
}

/// The figure, and how far the standard's tint lies from where it is told best.
fn judged(
    study: &Study,
    (sample, sample_colour): (&Averaged, &SwatchColour),
    standard: &Step,
    whites: Option<(&SwatchColour, &SwatchColour)>,
    (of, colour): (TubeRef, TubeRef),
) -> (f64, LighteningPower) {
    let white_parts = standard.white_parts;
    let by_eye = study.protocol.is_by_eye(sample.ratio_error) || standard.by_eye;
    let mut power = LighteningPower {
        standard: of,
        colour,
        white_parts,
        percent: Err(WhyNot::WhiteUnread),
        indicative: true,
        by_eye,
    };
    let Some((white, standard_white)) = whites else { return (f64::INFINITY, power) };
    let quartet = [sample_colour, &standard.colour, white, standard_white];
    let surface = study.protocol.surface(None);
    let footing = Footing::of(quartet);
    let mut channel = Channel::spectral(quartet, surface)
        .unwrap_or_else(|| Channel::tristimulus(study.conditions, quartet));
    channel.half_widths.iter_mut().for_each(|half| *half *= footing.left_of_one_tube());
    let [_, read, _, _] = (channel.reader)(&channel.values);
    let corrected = surface.map_or(read, |surface| surface.correct(read));
    power.indicative = !is_reliable(corrected);
    let pictures = PictureStrength::of(footing, Method::SameRatio, false);
    power.percent =
        pictures.and_then(|pictures| widened(pictures, percent(study, sample, standard, &channel)));
    (off_best(corrected), power)
}

fn percent(study: &Study, sample: &Averaged, standard: &Step, channel: &Channel<4>) -> Outcome {
    let Channel { reader, values, half_widths, .. } = channel;
    let depths = |values: &[f64], k2: Option<f64>| {
        let surface = study.protocol.surface(k2);
        let [sample, standard, white, standard_white] =
            reader(values).map(|r| KsRatio::of_corrected(r, surface));
        Some((sample?.0 - white?.0, standard?.0 - standard_white?.0))
    };
    let (of_sample, of_standard) = depths(values, None).ok_or(WhyNot::SurfaceFloor)?;
    let unsure = propagate(values, half_widths, |values| Some(depths(values, None)?.0));
    if unsure.is_none_or(|half| of_sample <= 3.0 * half / colour::NORMAL_95) {
        return Err(WhyNot::TooPale);
    }
    let quotient =
        |values: &[f64], k2| depths(values, k2).map(|(sample, standard)| 100.0 * standard / sample);
    let value = 100.0 * of_standard / of_sample;
    let share = 1.0 / (1.0 + standard.white_parts);
    let mixed = study.protocol.ratio_half_width(sample.ratio_error, share, 1.0 - share);
    let half_width = propagate(values, half_widths, |values| quotient(values, None)).map(|read| {
        let mixed = value * mixed.hypot(standard.ratio_half_width);
        read.hypot(mixed).hypot(surface_part(|k2| quotient(values, Some(k2))))
    });
    Ok(Figure::positive(value, half_width))
}
