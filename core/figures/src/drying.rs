//! What drying does to a paint's mass tone, and what is left of it after lifting.

use colour::{Lab, ciede2000, signed_shift};
use study::{Averages, Backing, Mixture, State, SwatchColour, Uncertain};

use crate::footing::Footing;
use crate::interval::{Figure, Outcome, WhyNot, propagate_colours};

/// Below this ΔE00 from the paper a dry paint is too near it for staining to be told.
const NEAR_PAPER: f64 = 5.0;

/// How the mass tone over paper changes from wet to dry: dry less wet.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Drying {
    /// ΔL*; negative where it dries darker.
    pub delta_lightness: Figure,
    /// ΔC*; negative where it dries duller.
    pub delta_chroma: Figure,
    /// Δh in degrees, signed; null where one of the two is near neutral.
    pub delta_hue: Outcome,
    /// ΔE00.
    pub delta_e: Figure,
}

/// The drying shift of one paint.
pub(super) fn drying(averages: &Averages, paint: &Mixture) -> Result<Drying, WhyNot> {
    let read = |state| averages.full(paint, Backing::Paper, state);
    let dry = read(State::Dry).ok_or(WhyNot::MassToneUnread)?;
    let wet = read(State::Wet).ok_or(WhyNot::WetUnread)?;
    let footing = Footing::of([dry, wet]);
    let [dry, wet] = [dry, wet].map(alone);
    let pair = [wet, dry];
    let figure = |of: fn([Lab; 2]) -> Option<f64>| {
        let value = of([wet.lab, dry.lab])?;
        let told = Figure::with(value, propagate_colours(pair, of));
        footing.of_mixtures(Ok(told)).ok()
    };
    let always = |of: fn([Lab; 2]) -> Option<f64>| figure(of).ok_or(WhyNot::NotSteady);
    Ok(Drying {
        delta_lightness: always(|[wet, dry]| Some(dry.l - wet.l))?,
        delta_chroma: always(|[wet, dry]| Some(dry.chroma() - wet.chroma()))?,
        delta_hue: figure(|[wet, dry]| Some(signed_shift(wet.hue()?, dry.hue()?)))
            .ok_or(WhyNot::NearNeutral),
        delta_e: always(|[wet, dry]| Some(ciede2000(wet, dry).value()))?,
    })
}

/// 100·ΔE00(lifted, paper)/ΔE00(dry, paper), percent: what an attempt to lift the dry paint leaves.
pub(super) fn staining(averages: &Averages, paint: &Mixture) -> Outcome {
    let read = |mixture: &Mixture, state| averages.full(mixture, Backing::Paper, state);
    let dry = read(paint, State::Dry).ok_or(WhyNot::MassToneUnread)?;
    let lifted = read(paint, State::Lifted).ok_or(WhyNot::LiftedUnread)?;
    let paper = read(&Mixture::bare(), State::Dry).ok_or(WhyNot::PaperUnread)?;
    let footing = Footing::of([dry, lifted, paper]);
    let [dry, lifted, paper] = [dry, lifted, paper].map(alone);
    let figure = |[lifted, dry, paper]: [Lab; 3]| {
        let from_paper = |lab| ciede2000(lab, paper).value();
        (from_paper(dry) > 0.0).then(|| 100.0 * from_paper(lifted) / from_paper(dry))
    };
    if ciede2000(dry.lab, paper.lab).value() < NEAR_PAPER {
        return Err(WhyNot::NearPaper);
    }
    let value = figure([lifted.lab, dry.lab, paper.lab]).ok_or(WhyNot::NearPaper)?;
    let told = Figure::with(value, propagate_colours([lifted, dry, paper], figure));
    footing.of_mixtures(Ok(told))
}

/// No ratio was weighed for a tube alone.
fn alone(colour: &SwatchColour) -> Uncertain {
    colour.uncertain([0.0; 3])
}
