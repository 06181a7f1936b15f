//! Readings to figures, all of them.

use colour::{Conditions, unsigned_distance};
use study::{
    Averages, Backing, Basis, Mixture, PictureCheck, Protocol, Study, SwatchColour, TubeRef,
    Warning, same_code,
};

use crate::between::Between;
use crate::drying::{Drying, drying, staining};
use crate::interval::{Outcome, WhyNot};
use crate::ladder::Ladder;
use crate::mixtures::{MixtureFigures, mixtures};
use crate::opacity::{self, Opacity};
use crate::pair::{self, PairFigures};
use crate::strength::{self, LighteningPower, Strength, is_white, lightening_power};
use crate::tints::{self, TintFigures};
use crate::vividness::Scale;

/// Every figure of a study.
#[derive(Debug, Clone, PartialEq)]
pub struct Analysis {
    /// Illuminant and observer of every figure.
    pub conditions: Conditions,
    /// The white, where the study has one.
    pub white: Option<WhiteFigures>,
    /// Every other tube, in the order of the study.
    pub tubes: Vec<TubeFigures>,
    /// Every pair at every number of parts of white.
    pub pairs: Vec<PairFigures>,
    /// Every mixture of three or four tubes.
    pub mixtures: Vec<MixtureFigures>,
    /// What the user should know before trusting the figures.
    pub warnings: Vec<Warning>,
}

/// The white alone.
#[derive(Debug, Clone, PartialEq)]
pub struct WhiteFigures {
    /// Which tube it is.
    pub tube: TubeRef,
    /// Its colour over paper.
    pub mass_tone: Option<SwatchColour>,
    /// Its opacity.
    pub opacity: Result<Opacity, WhyNot>,
}

/// One tube alone and with white.
#[derive(Debug, Clone, PartialEq)]
pub struct TubeFigures {
    /// Which tube.
    pub tube: TubeRef,
    /// Mass tone and tints, fewest parts of white first.
    pub tints: Vec<TintFigures>,
    /// Place in `tints` of the step of highest chroma.
    pub truest: Option<usize>,
    /// From mass tone to the palest tint with C* ≥ 5, degrees.
    pub tint_shift: Outcome,
    /// From mass tone to the same paint as a thin film, degrees.
    pub undertone_shift: Outcome,
    /// Hiding power of its mass tone.
    pub opacity: Result<Opacity, WhyNot>,
    /// From wet to dry.
    pub drying: Result<Drying, WhyNot>,
    /// What lifting leaves, percent.
    pub staining: Outcome,
    /// Tinting strength against its standard.
    pub strength: Result<Strength, WhyNot>,
    /// For a white besides the study's own: how much it lightens, by coloured tube.
    pub lightening: Vec<LighteningPower>,
}

impl TubeFigures {
    /// The mass tone, where it was read.
    #[must_use]
    pub fn mass_tone(&self) -> Option<&SwatchColour> {
        self.tints.first().filter(|tint| tint.white_parts == 0.0).map(|tint| &tint.colour)
    }

    /// The step of highest chroma.
    #[must_use]
    pub fn truest_tint(&self) -> Option<&TintFigures> {
        self.tints.get(self.truest?)
    }
}

/// Works out every figure of a study. Tinting strengths compare with `standard`, or, without one,
/// with the first tube that declares the same pigments.
#[must_use]
pub fn analyse(study: &Study, standard: Option<TubeRef>) -> Analysis {
    analyse_averages(study, &Averages::of(study), standard)
}

/// The same from readings that were averaged before; the study's own are left alone.
#[must_use]
pub fn analyse_averages(study: &Study, averages: &Averages, standard: Option<TubeRef>) -> Analysis {
    let mut warnings = averages.warnings.clone();
    let between = Between::of(study, averages);
    let ladders = Ladder::of_all(study, averages, between);
    let white = study.white.map(|tube| WhiteFigures {
        tube,
        mass_tone: averages
            .dry(&Mixture::neat(tube), Backing::Paper)
            .map(|colour| between.square(colour, true)),
        opacity: opacity::opacity(averages, &Mixture::neat(tube), study.conditions, between),
    });
    let white_colour = white.as_ref().and_then(|white| white.mass_tone.as_ref());
    let tubes: Vec<TubeFigures> = (0..study.tubes.len())
        .map(TubeRef)
        .filter(|tube| Some(*tube) != study.white)
        .map(|tube| TubeFigures {
            strength: strength_of(study, &ladders, white_colour, tube, standard),
            lightening: if is_white(study, averages, tube) {
                lightening_power(study, averages, (&ladders, between), tube)
            } else {
                Vec::new()
            },
            ..alone(study, averages, (&ladders[tube.0], between), tube)
        })
        .collect();
    warn(study, &ladders, &tubes, white_colour.is_some(), &mut warnings);
    warn_of_readings(study, averages, &mut warnings);
    let scale = Scale::seen(study.conditions, study.protocol.surface(None));
    Analysis {
        conditions: study.conditions,
        pairs: pair::pairs(study, averages, (&ladders, between), &scale),
        mixtures: mixtures(study, averages, between, &scale),
        white,
        tubes,
        warnings,
    }
}

fn alone(
    study: &Study,
    averages: &Averages,
    (ladder, between): (&Ladder, Between),
    tube: TubeRef,
) -> TubeFigures {
    let neat = Mixture::neat(tube);
    let thin = averages.thin(&neat).map(|colour| between.square(colour, false));
    TubeFigures {
        tube,
        tints: tints::tint_figures(ladder),
        truest: ladder.truest(),
        tint_shift: tints::tint_shift(ladder),
        undertone_shift: tints::undertone_shift(ladder, thin.as_ref()),
        opacity: opacity::opacity(averages, &neat, study.conditions, between),
        drying: drying(averages, &neat),
        staining: staining(averages, &neat),
        strength: Err(WhyNot::NoStandard),
        lightening: Vec::new(),
    }
}

fn strength_of(
    study: &Study,
    ladders: &[Ladder],
    white: Option<&SwatchColour>,
    tube: TubeRef,
    named: Option<TubeRef>,
) -> Result<Strength, WhyNot> {
    let standard_tube =
        named.or_else(|| standard_by_code(study, tube)).ok_or(WhyNot::NoStandard)?;
    let (Some(sample), Some(standard)) = (ladders.get(tube.0), ladders.get(standard_tube.0)) else {
        return Err(WhyNot::NoStandard);
    };
    let code = |tube: TubeRef| study.label(tube).code;
    let same_pigments = tube == standard_tube || same_code(&code(tube), &code(standard_tube));
    if !same_pigments && !like_hue(sample, standard) {
        return Err(WhyNot::OtherFamily);
    }
    let (sample, standard) = (sample.without_estimates(), standard.without_estimates());
    Ok(strength::strength(&strength::Contest {
        study,
        standard_tube,
        sample: &sample,
        standard: &standard,
        white,
        itself: tube == standard_tube,
        same_pigments,
    }))
}

/// Truest tints further apart than this, in degrees of hue, belong to different families (ours).
const ONE_FAMILY: f64 = 60.0;

/// True where two tubes are of one hue family: their truest tints lie near each other in hue, or both
/// are near neutral. A ladder that was not read is judged by what else is missing.
fn like_hue(one: &Ladder, other: &Ladder) -> bool {
    let truest = |ladder: &Ladder| Some(ladder.steps[ladder.truest()?].colour.lab.hue());
    match (truest(one), truest(other)) {
        (Some(Some(one)), Some(Some(other))) => unsigned_distance(one, other) <= ONE_FAMILY,
        (Some(one), Some(other)) => one.is_none() && other.is_none(),
        _ => true,
    }
}

/// The first tube with the same pigments, where at least two tubes declare them.
fn standard_by_code(study: &Study, tube: TubeRef) -> Option<TubeRef> {
    let code = &study.tubes.get(tube.0)?.code;
    let mut family = (0..study.tubes.len())
        .map(TubeRef)
        .filter(|other| Some(*other) != study.white && same_code(&study.tubes[other.0].code, code));
    let first = family.next()?;
    family.next().map(|_| first)
}

fn warn(
    study: &Study,
    ladders: &[Ladder],
    tubes: &[TubeFigures],
    white_read: bool,
    warnings: &mut Vec<Warning>,
) {
    for figures in tubes {
        let name = &study.label(figures.tube).name;
        warnings.extend(tints::starts_too_pale(name, &ladders[figures.tube.0]));
        if let Ok(strength) = &figures.strength {
            warnings.extend(strength::wandering(name, strength));
        }
    }
    let mut say = |message: String| warnings.push(Warning { line: None, message });
    let has_tints = ladders.iter().any(|ladder| !ladder.tints().is_empty());
    if has_tints && !white_read {
        say("the white has not been read alone, so no tinting strength can be worked out".into());
    }
    let protocol = &study.protocol;
    if protocol.basis == Basis::Weight && (protocol.scale_g.is_none() || protocol.pile_g.is_none())
    {
        say(format!(
            "intervals take a scale of {} g and piles of {} g, since neither is stated",
            protocol.scale_g.unwrap_or(Protocol::ASSUMED_SCALE_G),
            protocol.pile_g.unwrap_or(Protocol::ASSUMED_PILE_G),
        ));
    }
}

fn warn_of_readings(study: &Study, averages: &Averages, warnings: &mut Vec<Warning>) {
    let mut say = |message: String| warnings.push(Warning { line: None, message });
    let (counted, simulated) = averages.counted;
    if study.protocol.repeatability.is_none() && counted > 0 {
        say(format!(
            "where there are fewer than three repeats, intervals take a repeatability of ΔE00 {} \
             (MCDM), since none is stated",
            Protocol::ASSUMED_REPEATABILITY
        ));
    }
    let [_, guessed, uncalibrated] = averages.from_pictures;
    if uncalibrated > 0 {
        say(format!(
            "{uncalibrated} of {counted} readings come from pictures without squares of known colour: they \
             compare what stands in one picture, and tell no colour"
        ));
    }
    if guessed > 0 {
        say(format!(
            "{guessed} of {counted} readings come from pictures without a square of known colour of their \
             tubes: their colours are a guess, comparisons hold"
        ));
    }
    say_how_pictures_did(&averages.picture_checks, &mut say);
    if simulated > 0 {
        say(format!(
            "{simulated} of {counted} readings come from a simulated device: they show how the work \
             goes, and say nothing of any paint"
        ));
    }
}

/// Readings that are better check the pictures of the same swatches.
fn say_how_pictures_did(checks: &[PictureCheck], say: &mut impl FnMut(String)) {
    let mut offs: Vec<f64> = checks.iter().map(|check| check.off.value()).collect();
    offs.sort_by(f64::total_cmp);
    let (Some(middle), Some(farthest)) = (offs.get(offs.len() / 2), offs.last()) else { return };
    let beyond = checks.iter().filter(|check| check.off.value() > check.uncertainty).count();
    let swatches = if offs.len() == 1 { "swatch was" } else { "swatches were" };
    say(format!(
        "{} {swatches} read from a picture and better as well; the better reading counts. The picture is off by \
         ΔE00 {middle:.1} in the middle and {farthest:.1} at most, {beyond} of them farther than it said",
        offs.len()
    ));
}
