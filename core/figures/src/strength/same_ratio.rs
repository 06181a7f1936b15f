//! Same-ratio strength: K/S above the white's, at the same parts of the same white.

use colour::{BANDS, Conditions, Lab, Xyz, short_wave_share_of_x, wavelength};
use mixing::{InternalReflectance, KsRatio, Surface};
use study::SwatchColour;

use super::{Contest, Method, widened};
use crate::interval::{Figure, Outcome, WhyNot, propagate};
use crate::ladder::Step;

/// Where the strength of a tint is told best (ISO 787-24 frames it by a standard depth).
const BEST_REFLECTANCE: f64 = 0.41;
/// Outside this range of the standard's corrected reflectance a strength is only indicative.
const RELIABLE: std::ops::RangeInclusive<f64> = 0.25..=0.65;
/// The internal reflection of real films lies within these; the half of what it does to a strength
/// joins the interval.
const K2_RANGE: (f64, f64) = (0.5, 0.7);

/// What a strength was worked out from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum StrengthBasis {
    /// Reflectance at the wavelength where the standard absorbs most.
    Spectral,
    /// The standard's lowest tristimulus value.
    Tristimulus,
}

/// Strength at one number of parts of white.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SameRatio {
    /// Parts of white to one part of the tube.
    pub white_parts: f64,
    /// 100 · q(sample)/q(standard), percent.
    pub percent: Outcome,
    /// Spectral or tristimulus.
    pub basis: StrengthBasis,
    /// The wavelength in nm, where spectral.
    pub wavelength: Option<u16>,
    /// The standard's corrected reflectance lies outside 0.25–0.65.
    pub indicative: bool,
    /// The standard's corrected reflectance there, 0–1.
    pub standard_reflectance: f64,
    /// One of the two tints was put out by eye.
    pub by_eye: bool,
}

/// How far a corrected reflectance lies from where a strength is told best.
pub(super) fn off_best(reflectance: f64) -> f64 {
    (reflectance - BEST_REFLECTANCE).abs()
}

/// A strength is only indicative elsewhere.
pub(super) fn is_reliable(reflectance: f64) -> bool {
    RELIABLE.contains(&reflectance)
}

/// Which entry to quote: the standard's corrected reflectance nearest 0.41.
pub(super) fn headline(entries: &[SameRatio]) -> Option<usize> {
    let off = |at: &usize| off_best(entries[*at].standard_reflectance);
    (0..entries.len())
        .filter(|at| entries[*at].percent.is_ok())
        .min_by(|one, other| off(one).total_cmp(&off(other)))
}

/// One entry for each tint of the sample that the standard has at the same parts of white.
pub(super) fn same_ratio(contest: &Contest<'_>) -> Vec<SameRatio> {
    let Some(white) = contest.white else { return Vec::new() };
    contest
        .sample
        .tints()
        .iter()
        .filter_map(|sample| Some((sample, contest.standard.at(sample.white_parts)?)))
        .map(|(sample, standard)| at_one_ratio(contest, sample, standard, white))
        .collect()
}

fn at_one_ratio(
    contest: &Contest<'_>,
    sample: &Step,
    standard: &Step,
    white: &SwatchColour,
) -> SameRatio {
    let trio = [&sample.colour, &standard.colour, white];
    let surface = contest.study.protocol.surface(None);
    let channel = Channel::spectral(trio, surface)
        .unwrap_or_else(|| Channel::tristimulus(contest.study.conditions, trio));
    let [_, of_standard, _] = (channel.reader)(&channel.values);
    let standard_reflectance = surface.map_or(of_standard, |surface| surface.correct(of_standard));
    SameRatio {
        white_parts: sample.white_parts,
        percent: told(contest, [sample, standard], &channel),
        basis: channel.basis,
        wavelength: channel.wavelength,
        indicative: !is_reliable(standard_reflectance),
        standard_reflectance,
        by_eye: (sample.by_eye || standard.by_eye) && !contest.itself,
    }
}

/// Inputs to reflectances of so many colours in one channel.
type Reader<const N: usize> = Box<dyn Fn(&[f64]) -> [f64; N]>;

/// Where a strength is read, and from which uncertain numbers: the sample, its standard, and whites, the
/// standard's last.
pub(super) struct Channel<const N: usize> {
    basis: StrengthBasis,
    wavelength: Option<u16>,
    pub reader: Reader<N>,
    pub values: Vec<f64>,
    pub half_widths: Vec<f64>,
}

impl<const N: usize> Channel<N> {
    /// At λ*, where the standard's K/S above the white's is largest between 400 and 700 nm. `None`
    /// unless all were read as spectra.
    pub fn spectral(colours: [&SwatchColour; N], surface: Option<Surface>) -> Option<Self> {
        let mut spectra = Vec::with_capacity(N);
        let mut band_half_widths = Vec::with_capacity(N);
        for colour in colours {
            spectra.push(colour.reflectance?);
            band_half_widths.push(colour.band_half_width?);
        }
        let internal = |at: usize| InternalReflectance::from_measured(&spectra[at], surface);
        let (standard, white) = (internal(1), internal(N - 1));
        let above_white = |band: &usize| Some(standard.ks(*band)?.0 - white.ks(*band)?.0);
        let band = (0..BANDS)
            .filter(|band| (400..=700).contains(&wavelength(*band)))
            .filter(|band| above_white(band).is_some())
            .max_by(|one, other| {
                above_white(one)
                    .partial_cmp(&above_white(other))
                    .unwrap_or(std::cmp::Ordering::Equal)
            })?;
        Some(Self {
            basis: StrengthBasis::Spectral,
            wavelength: Some(wavelength(band)),
            reader: Box::new(|values| std::array::from_fn(|at| values[at])),
            values: spectra.iter().map(|spectrum| spectrum.bands()[band]).collect(),
            half_widths: band_half_widths.iter().map(|bands| bands[band]).collect(),
        })
    }

    /// In the standard's lowest of Rx, Ry and Rz.
    pub fn tristimulus(conditions: Conditions, colours: [&SwatchColour; N]) -> Self {
        let white = Xyz::white(conditions);
        let blue_share = short_wave_share_of_x(conditions);
        let factors = move |lab: Lab| {
            let xyz = lab.to_xyz(conditions);
            let (x, y, z) = (xyz.x / white.x, xyz.y / white.y, xyz.z / white.z);
            [(x - blue_share * z) / (1.0 - blue_share), y, z]
        };
        let of_standard = factors(colours[1].lab);
        let channel = (0..3)
            .min_by(|one, other| of_standard[*one].total_cmp(&of_standard[*other]))
            .unwrap_or(1);
        Self {
            basis: StrengthBasis::Tristimulus,
            wavelength: None,
            reader: Box::new(move |values| {
                std::array::from_fn(|at| {
                    let axes = [values[3 * at], values[3 * at + 1], values[3 * at + 2]];
                    factors(Lab::from_axes(axes))[channel]
                })
            }),
            values: colours.iter().flat_map(|colour| colour.lab.axes()).collect(),
            half_widths: colours.iter().flat_map(|colour| colour.square_half_width()).collect(),
        }
    }
}

/// The strength, as far as what it was read with carries it.
fn told(contest: &Contest<'_>, steps: [&Step; 2], channel: &Channel<3>) -> Outcome {
    if contest.itself {
        return Ok(Figure::exact(100.0));
    }
    let footing = contest.footing(steps.map(|step| &step.colour));
    let pictures = contest.pictures(footing, Method::SameRatio)?;
    let lefts = (pictures.left, footing.left_of_one_tube());
    widened(pictures, percent(contest, steps, channel, lefts))
}

/// `left` and `left_of_depth` remain of the readings' half-widths in the strength, and in the standard's own depth.
fn percent(
    contest: &Contest<'_>,
    steps: [&Step; 2],
    channel: &Channel<3>,
    (left, left_of_depth): (f64, f64),
) -> Outcome {
    let Channel { reader, values, half_widths, .. } = channel;
    let scaled = |left: f64| half_widths.iter().map(|half| left * half).collect::<Vec<f64>>();
    // What was really weighed may differ by a little: K/S above the white's falls as its parts rise.
    let to_same_ratio = steps[0].white_parts / steps[1].white_parts;
    let strength = |values: &[f64], k2: Option<f64>| {
        let surface = contest.study.protocol.surface(k2);
        let [sample, standard, white] = reader(values).map(|r| KsRatio::of_corrected(r, surface));
        let white = white?.0;
        Some((to_same_ratio * (sample?.0 - white), standard?.0 - white))
    };
    let (of_sample, of_standard) =
        strength(values, None).ok_or_else(|| no_ks(contest, reader(values)))?;
    let standard_half_width =
        propagate(values, &scaled(left_of_depth), |values| Some(strength(values, None)?.1));
    if standard_half_width.is_none_or(|half| of_standard <= 3.0 * half / colour::NORMAL_95) {
        return Err(WhyNot::TooPale);
    }
    let value = 100.0 * of_sample / of_standard;
    let quotient = |values: &[f64], k2| {
        strength(values, k2).map(|(sample, standard)| 100.0 * sample / standard)
    };
    let [one, other] = steps.map(Step::amount_half_width);
    let half_width =
        propagate(values, &scaled(left), |values| quotient(values, None)).map(|read| {
            let mixed = value * one.hypot(other);
            read.hypot(mixed).hypot(surface_part(|k2| quotient(values, Some(k2))))
        });
    Ok(Figure::positive(value, half_width))
}

/// Half of what the strength changes by when the internal reflection goes from 0.5 to 0.7.
pub(super) fn surface_part(at_k2: impl Fn(f64) -> Option<f64>) -> f64 {
    match (at_k2(K2_RANGE.0), at_k2(K2_RANGE.1)) {
        (Some(low), Some(high)) => (high - low).abs() / 2.0,
        _ => 0.0,
    }
}

fn no_ks(contest: &Contest<'_>, read: [f64; 3]) -> WhyNot {
    let surface = contest.study.protocol.surface(None);
    let corrected = read.map(|r| surface.map_or(r, |surface| surface.correct(r)));
    if corrected.iter().any(|r| *r > 1.0) { WhyNot::AboveOne } else { WhyNot::SurfaceFloor }
}
