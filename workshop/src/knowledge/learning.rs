//! What the eye judged in earlier trials, and what pictures told, for typical paints to learn from.

use std::sync::Arc;

use bench::{EyeVividness, Lean};
use colour::{Lab, signed_shift};
use figures::Scale;
use figures::finding::toward;
use mixing::typical::LOAD_SIGMA;
use plan::prior::{EyeEvidence, Known, Prior, PriorLevel, SeenInTrial, adapted};
use store::{ShelfTube, StoredReading, TrialSummary};
use study::{Calibration, Mixture, TubeRef, same_code};

use crate::analysed::AnalysedTrial;
use crate::error::WorkshopError;
use crate::eye::judged_strengths;
use crate::workshop::Workshop;

/// So many of the newest trials are asked what was seen in them.
const NEWEST: usize = 12;
/// What the newest of these say of one tube is weighed together.
const MOST: usize = 4;
/// A word for a lean stands for so many degrees, with this standard deviation (ours).
const LEANS: f64 = 8.0;
const LEANS_SIGMA: f64 = 8.0;
/// Half-width of a hue in a picture that nothing calibrates, degrees (docs/science.md).
const UNCALIBRATED_HUE: f64 = 15.0;
/// One standard deviation of the share of the highest chroma that a word for vividness stands for (ours).
const WORD_SIGMA: f64 = 0.15;

impl Workshop {
    /// The newest trials in which somebody judged something by eye, or a picture was read.
    pub(crate) async fn judged(
        &self,
        trials: &[TrialSummary],
    ) -> Result<Vec<Arc<AnalysedTrial>>, WorkshopError> {
        let mut judged = Vec::new();
        for summary in
            trials.iter().filter(|it| (it.stamp.log > 0 || it.readings > 0) && !it.put_away)
        {
            let Ok(trial) = self.listed(summary).await else { continue };
            let any = trial.run().is_some_and(|run| {
                let seen = run.lays().iter().any(|(number, _)| {
                    run.square(*number).is_some_and(|it| !it.looks.words().is_empty())
                });
                seen || !run.depths().is_empty()
            });
            let in_picture =
                |it: &StoredReading| it.reading.from_picture.is_some() && it.reading.void.is_none();
            if !any && !trial.readings.iter().any(|it| in_picture(it)) {
                continue;
            }
            judged.extend(self.analysed_where_it_can_be(summary).await?);
            if judged.len() == NEWEST {
                break;
            }
        }
        Ok(judged)
    }
}

/// What a tube's typical paint becomes by all that was seen of it; `None` where nothing was.
pub(crate) fn learnt(judged: &[(&Arc<AnalysedTrial>, Prior)], tube: &ShelfTube) -> Option<Known> {
    let trials = judged.iter().filter_map(|(analysed, prior)| {
        let place = analysed.trial.tubes.iter().position(|it| it.tube.id == tube.id)?;
        let tube = TubeRef(place);
        let evidence = Seen { analysed, prior, tube }.evidence();
        let white = analysed.study.white;
        let scale = Scale::seen(prior.conditions, prior.surface);
        let share = Box::new(move |lab: Lab| Some(scale.vividness(lab).share));
        (!evidence.is_empty()).then_some(SeenInTrial { prior, tube, white, evidence, share })
    });
    Some(adapted(&trials.take(MOST).collect::<Vec<_>>())?.known)
}

struct Seen<'a> {
    analysed: &'a AnalysedTrial,
    prior: &'a Prior,
    tube: TubeRef,
}

impl Seen<'_> {
    fn evidence(&self) -> Vec<EyeEvidence> {
        let mut evidence = self.strengths();
        evidence.extend(self.hue_in_picture());
        evidence.extend(self.strengths_in_picture());
        let Some(run) = self.analysed.trial.run() else { return evidence };
        let white = self.analysed.study.white;
        for number in self.analysed.trial.swatches.iter().map(|it| it.swatch.number) {
            let (Some(square), Some(mixture)) = (run.square(number), run.mixture(number)) else {
                continue;
            };
            let colours: Vec<TubeRef> = mixture.colours(white).map(|part| part.tube).collect();
            if !colours.contains(&self.tube) {
                continue;
            }
            if colours.len() == 1 {
                evidence.extend(square.looks.lean.and_then(|lean| self.lean(lean, mixture)));
            } else if let Some(word) = square.looks.vividness {
                let (mixture, share) = (mixture.clone(), share_of(word));
                evidence.push(EyeEvidence::Vividness { mixture, share, sigma: WORD_SIGMA });
            }
        }
        evidence
    }

    /// A lean of the tube's own tint, from the typical paint's.
    fn lean(&self, lean: Lean, mixture: &Mixture) -> Option<EyeEvidence> {
        let hue = self.prior.colour(mixture)?.hue()?;
        let word = lean.to_string();
        let way = [1.0, -1.0].into_iter().find(|way| toward(hue, *way) == word)?;
        Some(EyeEvidence::Hue { shift: way * LEANS, sigma: LEANS_SIGMA })
    }

    /// How far a picture has the tube's truest tint from its typical paint's: one of them, since all err alike.
    fn hue_in_picture(&self) -> Option<EyeEvidence> {
        let tint = self.analysed.tube(self.tube)?.truest_tint()?;
        let from = tint.colour.in_pictures.as_ref().filter(|_| tint.white_parts > 0.0)?;
        let white = self.analysed.study.white?;
        let mixture = Mixture::of(&[(self.tube, 1.0), (white, tint.white_parts)]);
        let predicted = self.prior.colour(&mixture)?.hue()?;
        let lab = tint.colour.lab;
        let shift = signed_shift(predicted, lab.hue()?);
        let [_, a, b] = tint.colour.half_width;
        let half_width = match from.calibration {
            Calibration::Uncalibrated => UNCALIBRATED_HUE,
            Calibration::Calibrated | Calibration::Guessed => {
                (a.hypot(b) / lab.chroma()).to_degrees()
            }
        };
        Some(EyeEvidence::Hue { shift, sigma: half_width / colour::NORMAL_95 })
    }

    /// Strengths that pictures give beside a tube of the same pigments.
    fn strengths_in_picture(&self) -> Vec<EyeEvidence> {
        let code = |tube: TubeRef| self.analysed.trial.tubes[tube.0].tube.tube.code();
        let told = self.analysed.analysis.tubes.iter().filter_map(|figures| {
            let strength = figures.strength.as_ref().ok()?;
            let other = strength.standard;
            let from_picture = strength.colour_at_equal_strength.as_ref().ok()?.from_picture;
            let percent =
                strength.equal_depth.as_ref().ok().filter(|it| it.bound.is_none())?.percent;
            let half_width = percent.half_width.ok()?;
            let fits = from_picture && !percent.indicative && other != figures.tube;
            if !fits || !same_code(&code(figures.tube), &code(other)) {
                return None;
            }
            let (ln, sigma) =
                ((percent.value / 100.0).ln(), half_width / percent.value / colour::NORMAL_95);
            let unknown = self.prior.level([other]) == Some(PriorLevel::Typical);
            let sigma = if unknown { sigma.hypot(LOAD_SIGMA) } else { sigma };
            match (figures.tube == self.tube, other == self.tube) {
                (true, _) => Some(EyeEvidence::Load { ln, sigma }),
                (_, true) => Some(EyeEvidence::Load { ln: -ln, sigma }),
                _ => None,
            }
        });
        told.collect()
    }

    /// Strengths against a tube of the same pigments, whose own load may be off as well.
    fn strengths(&self) -> Vec<EyeEvidence> {
        let code = |tube: TubeRef| self.analysed.trial.tubes[tube.0].tube.tube.code();
        let mut evidence = Vec::new();
        for it in judged_strengths(self.analysed, self.prior) {
            let (Some([low, high]), true) =
                (it.range, same_code(&code(it.tube), &code(it.standard)))
            else {
                continue;
            };
            let (middle, sigma) = (f64::midpoint(low.ln(), high.ln()), (high / low).ln() / 3.92);
            let unknown = self.prior.level([it.standard]) == Some(PriorLevel::Typical);
            let sigma = if unknown { sigma.hypot(LOAD_SIGMA) } else { sigma };
            if it.tube == self.tube {
                evidence.push(EyeEvidence::Load { ln: middle, sigma });
            } else if it.standard == self.tube {
                evidence.push(EyeEvidence::Load { ln: -middle, sigma });
            }
        }
        evidence
    }
}

/// The share of the highest chroma in the middle of what each word stands for.
fn share_of(word: EyeVividness) -> f64 {
    match word {
        EyeVividness::Vivid => 0.93,
        EyeVividness::Softened => 0.72,
        EyeVividness::Muted => 0.47,
        EyeVividness::Neutral => 0.18,
    }
}
