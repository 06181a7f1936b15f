//! What is expected of the swatch at hand, and what its readings say at once.

use bench::BenchEvent;
use bench::diagnosis::{
    Cause, Context, Estimate, ReadColour, diagnose, estimate, far_from_typical, gap, outlier,
};
use colour::{Lab, Reflectance};
use plan::CellNumber;
use store::{PlannedSwatch, StoredReading, SwatchId, TrialId};
use study::numbers::{number, parts};
use study::{
    Backing, Basis, Calibration, FilmKind, Measured, Mixture, RatioError, Reading, State, TubeRef,
};

use crate::error::WorkshopError;
use crate::knowledge::Evidence;
use crate::open_trial::OpenTrial;
use crate::work_order::WorkOrder;
use crate::workshop::Workshop;

/// Swatches before and after this one that may have been swapped with it.
const NEAR: usize = 12;

/// What is expected, and what was found.
#[derive(Default)]
pub struct ReadingCheck {
    /// The predicted colour, under the evidence's conditions; `None` where it cannot be told.
    pub predicted: Option<Lab>,
    /// What the readings say; empty before there are any.
    pub sentence: String,
    /// It is not what it should be.
    pub wrong: bool,
    /// The ratio that its colour tells, where it was put out by eye.
    pub estimate: Option<Estimate>,
    /// What else is worth doing while the swatch is there.
    pub advice: Vec<String>,
}

impl ReadingCheck {
    /// Of a swatch, and its readings so far.
    #[must_use]
    pub fn of(
        trial: &OpenTrial,
        planned: &PlannedSwatch,
        order: &WorkOrder<'_>,
        evidence: &Evidence,
    ) -> Self {
        let prior = &evidence.prior;
        let number = planned.swatch.number;
        let done = order.run();
        let mixture = done.and_then(|run| run.mixture(number)).unwrap_or(&planned.swatch.mixture);
        let mut check = Self { predicted: prior.colour(mixture), ..Self::default() };
        check.advice.extend(suspicious(trial, planned));
        check.advice.extend(stands_apart(trial, planned));
        let Some(seen) = seen(trial, planned) else { return check };
        check.advice.extend(unlike_its_pigments(trial, mixture, evidence, seen));
        // One tube alone is what its prediction was learnt from.
        if mixture.parts().len() < 2 {
            return check;
        }
        let place = order.place(number);
        let near = &order.swatches()[place.saturating_sub(NEAR)..];
        let others: Vec<(CellNumber, &Mixture)> = near
            .iter()
            .take(2 * NEAR)
            .filter(|it| it.id != planned.id && it.swatch.mixture.parts().len() > 1)
            .map(|it| (it.swatch.number, &it.swatch.mixture))
            .collect();
        let before = place.checked_sub(1).and_then(|at| order.swatches().get(at));
        let error = done.map_or(RatioError::AsStated, |run| run.ratio_error(number));
        let at = Context {
            planned: mixture,
            ratio_error: match error {
                RatioError::Known(error) => error,
                _ => 0.05,
            },
            before: before.map(|it| &it.swatch.mixture).filter(|mixture| !mixture.is_bare()),
            others: &others,
            white: trial.white(),
        };
        let by_eye_stated = trial.circumstances.protocol.basis == Basis::Eye;
        if let RatioError::Estimated(sigma) = error {
            check.sentence = of_record(trial, mixture, sigma);
        } else if error == RatioError::ByEye || (error == RatioError::AsStated && by_eye_stated) {
            check.estimate = estimated(trial, mixture, evidence, seen);
            if let Some(found) = &check.estimate {
                check.sentence = told(trial, found);
            }
        } else if let Some(found) = diagnose(prior, &at, seen) {
            check.wrong = found.cause != Cause::AsPlanned;
            check.sentence = found.sentence(&trial.naming());
        }
        check.advice.extend(jumps(trial, mixture, evidence));
        check
    }
}

/// The readings of a swatch that count, oldest first.
fn of_state(
    trial: &OpenTrial,
    swatch: SwatchId,
    state: State,
) -> impl Iterator<Item = &StoredReading> {
    trial.readings_of(swatch).filter(move |stored| {
        let reading = &stored.reading;
        reading.state == state && reading.void.is_none()
    })
}

fn dry(trial: &OpenTrial, swatch: SwatchId) -> impl Iterator<Item = &StoredReading> {
    of_state(trial, swatch, State::Dry)
}

/// In which state a swatch is judged: wet for as long as it was only read wet.
#[must_use]
pub fn state_to_judge(trial: &OpenTrial, planned: &PlannedSwatch) -> State {
    let any = |state| of_state(trial, planned.id, state).next().is_some();
    if any(State::Wet) && !any(State::Dry) { State::Wet } else { State::Dry }
}

fn repeatability(trial: &OpenTrial) -> f64 {
    trial.circumstances.protocol.repeatability.unwrap_or(study::Protocol::ASSUMED_REPEATABILITY)
}

/// A spectrum that no paint gives.
fn suspicious(trial: &OpenTrial, planned: &PlannedSwatch) -> Option<String> {
    let counting = trial.readings_of(planned.id).rev().filter(|it| it.reading.void.is_none());
    let mut found =
        counting.filter_map(|it| Some((it.reading.repeat, it.reading.measured.suspicion()?)));
    let (repeat, why) = found.next()?;
    Some(format!("Reading {repeat}: {why} Void it where it is no reading."))
}

/// A repeat that does not belong with the others.
fn stands_apart(trial: &OpenTrial, planned: &PlannedSwatch) -> Option<String> {
    let conditions = trial.circumstances.conditions;
    let (numbers, labs): (Vec<u32>, Vec<Lab>) = dry(trial, planned.id)
        .filter_map(|it| Some((it.reading.repeat, it.reading.measured.lab(conditions).ok()?)))
        .unzip();
    let found = outlier(&labs, repeatability(trial))?;
    Some(format!(
        "Reading {} stands apart from the others (ΔE {}): void it, and read again while the swatch \
         is there.",
        numbers[found.place],
        number(found.off, 1)
    ))
}

/// A tube of which only the pigments are known, and whose colour paints of these pigments do not have.
fn unlike_its_pigments(
    trial: &OpenTrial,
    mixture: &Mixture,
    evidence: &Evidence,
    seen: ReadColour,
) -> Option<String> {
    let white = trial.white();
    let off = far_from_typical(&evidence.prior, mixture, white, seen.lab)?;
    let tube = mixture.colours(white).next()?.tube;
    let codes = &trial.tubes.get(tube.0)?.tube.tube.label().code;
    Some(format!(
        "Far from what paints of {codes} look like (ΔE {} from the nearest): is it the right tube and the \
         right cell, and was the right figure typed?",
        number(off, 0)
    ))
}

/// A step of this mixture's ladder that turned out too large.
fn jumps(trial: &OpenTrial, mixture: &Mixture, evidence: &Evidence) -> Option<String> {
    let [a, b] = mixture.parts() else { return None };
    let mut ladders = trial.planned()?.ladders.iter().filter(|ladder| ladder.third.is_none());
    let of_ladder = |tube: TubeRef, from: TubeRef, to: TubeRef| tube == from || tube == to;
    let ladder = ladders
        .find(|it| of_ladder(a.tube, it.from, it.to) && of_ladder(b.tube, it.from, it.to))?;
    let conditions = trial.circumstances.conditions;
    let mut read: Vec<(f64, Lab)> = trial
        .swatches
        .iter()
        .filter(|it| it.swatch.backing == Backing::Paper && it.swatch.film == FilmKind::Full)
        .filter_map(|it| {
            let mixture = &it.swatch.mixture;
            let (from, to) = (mixture.parts_of(ladder.from), mixture.parts_of(ladder.to));
            let alone = (from + to - mixture.total()).abs() < 1e-9 && from + to > 0.0;
            let labs: Vec<Lab> = dry(trial, it.id)
                .filter_map(|stored| stored.reading.measured.lab(conditions).ok())
                .collect();
            alone.then_some(to / (from + to)).zip(Lab::mean(&labs))
        })
        .collect();
    read.sort_by(|one, other| one.0.total_cmp(&other.0));
    let found = gap(&evidence.prior, ladder, &read)?;
    let ratio = |share: f64| {
        let mixture = ladder.mixture(share);
        format!("{} : {}", parts(mixture.parts_of(ladder.from)), parts(mixture.parts_of(ladder.to)))
    };
    let extra = found.extra.map_or_else(String::new, |share| {
        format!(" One more at {} would halve it.", ratio(rounded(share)))
    });
    Some(format!(
        "The step from {} to {} is ΔE {}, the usual one here {}.{extra}",
        ratio(found.between.0),
        ratio(found.between.1),
        number(found.step, 1),
        number(found.usual, 1)
    ))
}

/// The share of the nearest ratio of two figures to one.
fn rounded(share: f64) -> f64 {
    let less = share.min(1.0 - share);
    let parts = ((1.0 - less) / less * 10.0).round() / 10.0;
    let less = 1.0 / (1.0 + parts);
    if share <= 0.5 { less } else { 1.0 - less }
}

/// A ratio that a picture tells may be off by this factor either way, at least (docs/science.md).
const IN_A_PICTURE: f64 = 2.5;

/// The mean of the best readings that count, in the state in which it is judged; nothing of a picture that is not
/// calibrated.
fn seen(trial: &OpenTrial, planned: &PlannedSwatch) -> Option<ReadColour> {
    let conditions = trial.circumstances.conditions;
    let state = state_to_judge(trial, planned);
    let best = of_state(trial, planned.id, state).map(|it| it.reading.rank()).min()?;
    if best == Some(Calibration::Uncalibrated) {
        return None;
    }
    let best: Vec<&Reading> = of_state(trial, planned.id, state)
        .map(|it| &it.reading)
        .filter(|it| it.rank() == best)
        .collect();
    let off = best
        .iter()
        .filter_map(|it| Some(it.from_picture.as_ref()?.uncertainty / colour::NORMAL_95));
    let in_picture = off.fold(0.0, f64::max);
    let of_swatch: Vec<&Measured> = best.iter().map(|it| &it.measured).collect();
    let labs: Vec<Lab> = of_swatch.iter().filter_map(|it| it.lab(conditions).ok()).collect();
    let spectra: Vec<&Reflectance> = of_swatch
        .iter()
        .filter_map(|it| match it {
            Measured::Spectrum(spectrum) => Some(spectrum),
            Measured::Lab(_) => None,
        })
        .collect();
    let all_spectral = spectra.len() == of_swatch.len();
    // As the figures do: average first, then compute.
    let reflectance = if all_spectral { Reflectance::mean(spectra) } else { None };
    Some(ReadColour {
        lab: match &reflectance {
            Some(mean) => Lab::from_reflectance(mean, conditions),
            None => Lab::mean(&labs)?,
        },
        reflectance,
        // A second picture by the same device is off by as much.
        spread: (repeatability(trial) / (labs.len() as f64).sqrt()).max(in_picture),
        least_factor: if in_picture > 0.0 { IN_A_PICTURE } else { 1.0 },
    })
}

/// The ratio that a colour tells.
fn estimated(
    trial: &OpenTrial,
    mixture: &Mixture,
    evidence: &Evidence,
    seen: ReadColour,
) -> Option<Estimate> {
    let tubes: Vec<TubeRef> = mixture.parts().iter().map(|part| part.tube).collect();
    estimate(&evidence.prior, &tubes, trial.white(), seen)
}

/// `Estimated ratio: 1 part of Blue to 2.3 parts of Yellow (2.0 to 2.6).`
fn told(trial: &OpenTrial, found: &Estimate) -> String {
    let Some((first, rest)) = found.parts.split_first() else { return String::new() };
    let told: Vec<String> = rest
        .iter()
        .map(|part| {
            let ratio = part.share / first.share;
            let spread = part.ln_half_width.exp();
            format!(
                "{} parts of {} ({} to {})",
                parts(ratio),
                name_of(trial, part.tube),
                parts(ratio / spread),
                parts(ratio * spread)
            )
        })
        .collect();
    format!("Estimated ratio: 1 part of {} to {}.", name_of(trial, first.tube), told.join(" and "))
}

/// `It counts as 1 part of Blue to 2.3 parts of Yellow, as estimated (± 12 %).`
fn of_record(trial: &OpenTrial, mixture: &Mixture, sigma: f64) -> String {
    let Some((first, rest)) = mixture.parts().split_first() else { return String::new() };
    let told: Vec<String> = rest
        .iter()
        .map(|part| {
            format!("{} parts of {}", parts(part.parts / first.parts), name_of(trial, part.tube))
        })
        .collect();
    format!(
        "It counts as 1 part of {} to {}, as estimated (± {} %).",
        name_of(trial, first.tube),
        told.join(" and "),
        number(100.0 * ((colour::NORMAL_95 * sigma).exp() - 1.0), 0)
    )
}

fn name_of(trial: &OpenTrial, tube: TubeRef) -> String {
    trial.called().into_iter().nth(tube.0).map_or_else(|| "?".into(), |it| it.name)
}

impl Workshop {
    /// Gives a swatch that was put out by eye the ratio that its colour tells, as its ratio of record.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where no ratio can be told.
    pub async fn take_estimate(
        &self,
        id: TrialId,
        number: CellNumber,
        token: Option<&str>,
    ) -> Result<(), WorkshopError> {
        let trial = self.trial(id).await?;
        let planned = trial.swatch(number)?;
        let trials = self.store.trials().await?;
        let evidence = self.evidence_for(&trials, &trial, state_to_judge(&trial, planned)).await?;
        let order = WorkOrder::of(&trial);
        let check = ReadingCheck::of(&trial, planned, &order, &evidence);
        let estimate = check.estimate.ok_or_else(|| {
            WorkshopError::NotNow(
                "no ratio can be estimated here: the mixture was not put out by eye, was not read yet, or \
                 too little is known of its tubes"
                    .into(),
            )
        })?;
        let widest = estimate.parts.iter().map(|part| part.ln_half_width).fold(0.0, f64::max);
        let event = BenchEvent::RatioEstimated {
            swatch: number,
            parts: estimate.parts.iter().map(|part| (part.tube, part.share)).collect(),
            sigma: widest / colour::NORMAL_95,
        };
        self.record(id, event, token).await
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// As the figures do: the mean of a light and a dark reading is the colour of the mean reflectance, and
    /// several L* lighter than the mean of the two colours.
    #[tokio::test]
    async fn spectra_are_averaged_before_anything_is_worked_out() {
        let bands: Vec<String> = (38..=73).map(|ten| format!("R{ten}0")).collect();
        let row = |repeat, factor: &str| {
            let (one, other) = (format!(",{factor}").repeat(18), format!(",{factor}1").repeat(18));
            format!("Blue,M,PB29,,1,,1,dry,paper,{repeat}{one}{other}\n")
        };
        let text = format!(
            "# upright-swatch readings 1\n# white: White\ntube,maker,code,with,parts,with_parts,white_parts,\
             state,backing,repeat,{}\n{}{}",
            bands.join(","),
            row(1, "0.05"),
            row(2, "0.85")
        );
        let file = formats::readings::read(text.as_bytes()).expect("a good file");
        let store = store::Store::in_memory().await.expect("open");
        let rows: Vec<&str> = file.source.rows().collect();
        let id = store.import("Two", &file.study, file.source.head(), &rows).await.expect("stored");
        let trial = OpenTrial::of(store.trial(id).await.expect("read back"));
        let seen = seen(&trial, &trial.swatches[0]).expect("a colour");
        let conditions = trial.circumstances.conditions;
        let spectra: Vec<Reflectance> = trial
            .readings
            .iter()
            .filter_map(|stored| match stored.reading.measured {
                Measured::Spectrum(spectrum) => Some(spectrum),
                Measured::Lab(_) => None,
            })
            .collect();
        let mean = Reflectance::mean(&spectra).expect("two spectra");
        assert_eq!(seen.lab, Lab::from_reflectance(&mean, conditions));
        let labs = spectra.iter().map(|spectrum| Lab::from_reflectance(spectrum, conditions).l);
        assert!(seen.lab.l > labs.sum::<f64>() / 2.0 + 3.0, "{:?}", seen.lab);
    }
}
