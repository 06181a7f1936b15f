//! What is expected of the swatch at hand, and what its readings say at once.

use colour::{Lab, Reflectance};
use store::{PlannedSwatch, Trial};
use trial::bench::{Cause, Look, SeenColour, estimate, look};
use trial::{Basis, Measured, Mixture, State, TubeRef};

use super::run::Run;
use crate::draw::Paint;
use crate::known::Knowledge;
use crate::words::parts;

/// Swatches before and after this one that may have been swapped with it.
const NEAR: usize = 12;

/// What is expected, and what was found.
#[derive(Default)]
pub(crate) struct AtOnce {
    /// `#rrggbb` of the predicted colour; empty where it cannot be told.
    pub predicted: String,
    /// What the readings say; empty before there are any.
    pub sentence: String,
    /// It is not what it should be.
    pub wrong: bool,
}

impl AtOnce {
    pub fn of(
        trial: &Trial,
        planned: &PlannedSwatch,
        run: &Run<'_>,
        knowledge: &Knowledge,
    ) -> Self {
        let prior = &knowledge.prior;
        let mixture = &planned.swatch.mixture;
        let predicted = prior.colour(mixture).map(|lab| Paint::predicted(lab, prior.conditions));
        let mut at_once = Self {
            predicted: predicted.map_or_else(String::new, |paint| paint.fill),
            ..Self::default()
        };
        // One tube alone is what its prediction was learnt from.
        if mixture.parts().len() < 2 {
            return at_once;
        }
        let Some(seen) = seen(trial, planned) else { return at_once };
        let place = run.place(planned.swatch.number);
        let near = &run.swatches()[place.saturating_sub(NEAR)..];
        let others: Vec<(u32, &Mixture)> = near
            .iter()
            .take(2 * NEAR)
            .filter(|it| it.id != planned.id && it.swatch.mixture.parts().len() > 1)
            .map(|it| (it.swatch.number, &it.swatch.mixture))
            .collect();
        let before = place.checked_sub(1).and_then(|at| run.swatches().get(at));
        let at = Look {
            planned: mixture,
            ratio_error: trial.pile_of(&planned.swatch).map_or(0.05, |pile| pile.ratio_error),
            before: before.map(|it| &it.swatch.mixture).filter(|mixture| !mixture.is_bare()),
            others: &others,
            white: trial.white(),
        };
        if trial.circumstances.protocol.basis == Basis::Eye {
            at_once.sentence = by_eye(trial, mixture, knowledge, seen);
        } else if let Some(found) = look(prior, &at, seen) {
            at_once.wrong = found.cause != Cause::AsPlanned;
            at_once.sentence = found.sentence(&trial.labels(), trial.white());
        }
        at_once
    }
}

/// The mean of the dry readings that count.
fn seen(trial: &Trial, planned: &PlannedSwatch) -> Option<SeenColour> {
    let conditions = trial.circumstances.conditions;
    let counts = |stored: &&store::StoredReading| {
        let reading = &stored.reading;
        stored.swatch == planned.id && reading.state == State::Dry && reading.void.is_none()
    };
    let of_swatch: Vec<&Measured> =
        trial.readings.iter().filter(counts).map(|it| &it.reading.measured).collect();
    let labs: Vec<Lab> = of_swatch.iter().filter_map(|it| it.lab(conditions).ok()).collect();
    let spectra: Vec<&Reflectance> = of_swatch
        .iter()
        .filter_map(|it| match it {
            Measured::Spectrum(spectrum) => Some(spectrum),
            Measured::Lab(_) => None,
        })
        .collect();
    let all_spectral = spectra.len() == of_swatch.len();
    let repeatability = trial.circumstances.protocol.repeatability;
    Some(SeenColour {
        lab: Lab::mean(&labs)?,
        reflectance: if all_spectral { Reflectance::mean(spectra) } else { None },
        spread: repeatability.unwrap_or(trial::Protocol::ASSUMED_REPEATABILITY)
            / (labs.len() as f64).sqrt(),
    })
}

/// `By eye, really 1 : 2.3 (1 : 2.0 to 1 : 2.6)`, each tube to one part of the first.
fn by_eye(trial: &Trial, mixture: &Mixture, knowledge: &Knowledge, seen: SeenColour) -> String {
    let tubes: Vec<TubeRef> = mixture.parts().iter().map(|part| part.tube).collect();
    let Some(found) = estimate(&knowledge.prior, &tubes, trial.white(), seen) else {
        return String::new();
    };
    let name = |tube: TubeRef| trial.tubes[tube.0].tube.tube.name.as_str();
    let Some((first, rest)) = found.parts.split_first() else { return String::new() };
    let told: Vec<String> = rest
        .iter()
        .map(|part| {
            let ratio = part.share / first.share;
            let spread = part.ln_half_width.exp();
            format!(
                "{} parts of {} ({} to {})",
                parts(ratio),
                name(part.tube),
                parts(ratio / spread),
                parts(ratio * spread)
            )
        })
        .collect();
    format!("By eye, really 1 part of {} to {}.", name(first.tube), told.join(" and "))
}
