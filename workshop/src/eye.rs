//! What the eye judged in a trial: strengths with their range, and orders of tubes.

use colour::delta_e_ab;
use figures::by_eye::{EyeOrder, EyeStrength, HeldTint, NextTint, Pick};
use plan::prior::Prior;
use store::Role;
use study::numbers::number;
use study::{Mixture, Quality, SeenTint, TubeRef};

use crate::analysed::AnalysedTrial;

/// A tube's strength against its standard, as far as the eye has judged it.
#[derive(Debug, Clone)]
pub struct StrengthByEye {
    /// Which tube.
    pub tube: TubeRef,
    /// Its standard.
    pub standard: TubeRef,
    /// 95 % range, standard 1; `None` before the first answer.
    pub range: Option<[f64; 2]>,
    /// Answers so far.
    pub answers: usize,
    /// The tints to be held side by side next; `None` where another look would not help.
    pub next: Option<[SeenTint; 2]>,
}

impl StrengthByEye {
    /// `Ultramarine is between 0.6 and 0.8 times as strong as Canopy Ultramarine, by eye.`; `None` before the first
    /// answer.
    #[must_use]
    pub fn sentence(&self, analysed: &AnalysedTrial) -> Option<String> {
        let [low, high] = self.range?;
        let [tube, standard] =
            [self.tube, self.standard].map(|tube| analysed.study.label(tube).name);
        // Outward: the range that is said holds all that the answers leave open.
        let low_text = number((10.0 * low).floor() / 10.0, 1);
        let high_text = match high {
            high if high <= 1.9 => number((10.0 * high).ceil() / 10.0, 1),
            high => number(high.ceil(), 0),
        };
        let told = if low < 1.0 && high > 1.0 {
            format!(
                "{tube} may be as strong as {standard}: between {low_text} and {high_text} times"
            )
        } else {
            format!("{tube} is between {low_text} and {high_text} times as strong as {standard}")
        };
        Some(format!("{told}, by eye."))
    }
}

/// An order of the tubes under test.
#[derive(Debug, Clone)]
pub struct OrderByEye {
    /// By what.
    pub quality: Quality,
    /// The tubes that are asked about.
    pub tubes: Vec<TubeRef>,
    /// The first first, those that nobody could tell apart together; `None` while it is not complete.
    pub groups: Option<Vec<Vec<TubeRef>>>,
    /// Pairs of which the answers say one thing once and the other another time.
    pub contradictions: Vec<[TubeRef; 2]>,
    /// Answers so far.
    pub answers: usize,
    /// The two to be looked at next.
    pub next: Option<[TubeRef; 2]>,
}

/// The tubes whose strengths and hues are asked about: those under test, or all colours where none is.
#[must_use]
pub fn judged_tubes(analysed: &AnalysedTrial) -> Vec<TubeRef> {
    let of = |role: Role| -> Vec<TubeRef> {
        let tubes = analysed.trial.tubes.iter().enumerate();
        tubes.filter(|(_, tube)| tube.role == role).map(|(at, _)| TubeRef(at)).collect()
    };
    match of(Role::Tested) {
        none if none.is_empty() => of(Role::Reference),
        tested => tested,
    }
}

/// Every tube's strength against the first of them.
#[must_use]
pub fn strengths_by_eye(analysed: &AnalysedTrial, prior: &Prior) -> Vec<StrengthByEye> {
    strengths_of(analysed, prior, |_| true)
}

/// The strengths of those tubes that somebody has judged.
#[must_use]
pub fn judged_strengths(analysed: &AnalysedTrial, prior: &Prior) -> Vec<StrengthByEye> {
    let asked = analysed.trial.run().map(|run| run.depths()).unwrap_or_default();
    strengths_of(analysed, prior, |tube| asked.iter().any(|(sample, ..)| sample.tube == tube))
}

fn strengths_of(
    analysed: &AnalysedTrial,
    prior: &Prior,
    wanted: impl Fn(TubeRef) -> bool,
) -> Vec<StrengthByEye> {
    let tubes = judged_tubes(analysed);
    let Some((standard, others)) = tubes.split_first() else { return Vec::new() };
    let others = others.iter().filter(|tube| wanted(**tube));
    others.filter_map(|tube| strength(analysed, prior, *tube, *standard)).collect()
}

/// One tube's strength; `None` where the standard's tints cannot be predicted, or one of the two has no tint.
fn strength(
    analysed: &AnalysedTrial,
    prior: &Prior,
    tube: TubeRef,
    standard: TubeRef,
) -> Option<StrengthByEye> {
    let white = analysed.study.white?;
    let bare = prior.colour(&Mixture::neat(white))?;
    prior.colour(&Mixture::neat(standard))?;
    let depth = |parts: f64| {
        let tint = Mixture::of(&[(standard, 1.0), (white, parts)]);
        prior.colour(&tint).map_or(0.0, |colour| delta_e_ab(colour, bare).value())
    };
    let (samples, standards) = (tints(analysed, tube), tints(analysed, standard));
    if samples.is_empty() || standards.is_empty() {
        return None;
    }
    let table = Table::of(depth);
    let mut eye = EyeStrength::new(&samples, &standards, |parts| table.at(parts));
    let mut answers = 0;
    for (sample, beside, answer) in analysed.trial.run().map(|run| run.depths()).unwrap_or_default()
    {
        let place = |tints: &[HeldTint], white: f64| {
            tints.iter().position(|tint| figures::same_parts(tint.white, white))
        };
        let found = (sample.tube == tube && beside.tube == standard)
            .then(|| place(&samples, sample.white).zip(place(&standards, beside.white)))
            .flatten();
        if let Some((sample, standard)) = found {
            eye.take(NextTint { sample, standard }, *answer);
            answers += 1;
        }
    }
    let next = eye.next().map(|NextTint { sample, standard: beside }| {
        [
            SeenTint { tube, white: samples[sample].white },
            SeenTint { tube: standard, white: standards[beside].white },
        ]
    });
    Some(StrengthByEye { tube, standard, range: eye.range(), answers, next })
}

/// Depths at finely spaced parts of white: each is asked for many thousand times.
struct Table(Vec<f64>);

const FINE: f64 = 12.0;
const LOWEST: f64 = -6.0;

impl Table {
    fn of(depth: impl Fn(f64) -> f64) -> Self {
        Self((0..=144).map(|step| depth((f64::from(step) / FINE + LOWEST).exp())).collect())
    }

    fn at(&self, parts: f64) -> f64 {
        let place = ((parts.ln() - LOWEST) * FINE).clamp(0.0, self.0.len() as f64 - 1.001);
        let below = place as usize;
        self.0[below] + (place - below as f64) * (self.0[below + 1] - self.0[below])
    }
}

/// The tints of a tube that are painted, or planned where the trial has no bench.
fn tints(analysed: &AnalysedTrial, tube: TubeRef) -> Vec<HeldTint> {
    let white = analysed.study.white;
    let run = analysed.trial.run();
    let mut tints: Vec<HeldTint> = Vec::new();
    for planned in &analysed.trial.swatches {
        let swatch = &planned.swatch;
        let alone = swatch.mixture.only_colour(white) == Some(tube);
        let parts = swatch.mixture.white_per_colour(white).unwrap_or_default();
        let laid = run.and_then(|run| run.square(swatch.number)).is_none_or(|it| it.laid.is_some());
        if alone && parts > 0.0 && laid {
            // What the plan says its pile may be off by: by eye, weighed, or let down first.
            let sigma = analysed.trial.pile_of(swatch).map_or(0.0, |pile| pile.ratio_error);
            tints.push(HeldTint { white: parts, sigma });
        }
    }
    tints
}

/// The order of the tubes by a quality.
#[must_use]
pub fn order_by_eye(analysed: &AnalysedTrial, quality: Quality) -> OrderByEye {
    let tubes = judged_tubes(analysed);
    let place = |tube: TubeRef| tubes.iter().position(|known| *known == tube);
    let said = analysed.trial.run().map(|run| run.compared()).unwrap_or_default();
    let answers = said.iter().filter(|(by, ..)| *by == quality).filter_map(|(_, pair, answer)| {
        Some((Pick { first: place(pair[0])?, second: place(pair[1])? }, *answer))
    });
    let order = EyeOrder::of(tubes.len(), answers);
    let named = |pick: Pick| [tubes[pick.first], tubes[pick.second]];
    let groups = order.groups().map(|groups| {
        groups.into_iter().map(|group| group.into_iter().map(|at| tubes[at]).collect()).collect()
    });
    OrderByEye {
        quality,
        groups: groups.filter(|_| order.answers() > 0),
        contradictions: order.contradictions().into_iter().map(named).collect(),
        answers: order.answers(),
        next: order.next().map(named),
        tubes: tubes.clone(),
    }
}
