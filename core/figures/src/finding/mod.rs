//! Figures to a verdict, and the verdict to one plain sentence.

mod colour_at_depth;
mod mixing;
mod strength;
mod third;
mod tint;
mod words;

use study::{Study, TubeRef};
pub use third::what_others_did;
pub use words::{Closeness, toward};

use crate::{Analysis, Figure, Strength};

/// One sentence that a reader can act on, and the figures it rests on.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Finding {
    /// What it is about.
    pub subject: Subject,
    /// The sentence.
    pub sentence: String,
    /// Its figures, with intervals.
    pub evidence: String,
}

/// What a finding is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Subject {
    /// Tinting strength against a standard.
    Strength,
    /// Colour once strengths are equal.
    ColourAtEqualStrength,
    /// What mixing with the reference does.
    Mixing,
    /// What white does to one tube.
    Tint,
}

/// Most findings on a page.
const MOST: usize = 3;

/// One to three findings, the most useful first; none where nothing has been read.
#[must_use]
pub fn findings(study: &Study, analysis: &Analysis) -> Vec<Finding> {
    let mut list: Vec<Finding> = Vec::new();
    let standards = standards(analysis);
    let mut first = standards.iter().copied();
    if let Some(standard) = first.next() {
        list.extend(strength::finding(study, analysis, standard));
        list.extend(colour_at_depth::finding(study, analysis, standard));
    }
    list.extend(mixing::finding(study, analysis));
    list.extend(first.filter_map(|standard| strength::finding(study, analysis, standard)));
    if list.len() < MOST {
        list.extend(tint::finding(study, analysis));
    }
    list.truncate(MOST);
    list
}

/// How a tube is called in a sentence: maker and name.
fn spoken(study: &Study, tube: TubeRef) -> String {
    let label = study.label(tube);
    if label.maker.is_empty() { label.name } else { format!("{} {}", label.maker, label.name) }
}

/// How a tube is called where strengths are compared: by its maker alone where each of the tubes
/// that have a strength is another maker's.
fn spoken_by_maker(study: &Study, analysis: &Analysis, tube: TubeRef) -> String {
    let compared = analysis.tubes.iter().filter(|figures| figures.strength.is_ok());
    let mut makers: Vec<String> = compared.map(|figures| study.label(figures.tube).maker).collect();
    makers.sort();
    let apart = makers.windows(2).all(|pair| pair[0] != pair[1]);
    if apart && makers.iter().all(|maker| !maker.is_empty()) {
        study.label(tube).maker
    } else {
        spoken(study, tube)
    }
}

/// The other tubes that are judged against a standard.
fn family(
    analysis: &Analysis,
    standard: TubeRef,
) -> impl Iterator<Item = (TubeRef, &Strength)> + use<'_> {
    analysis
        .tubes
        .iter()
        .filter_map(|tube| Some((tube.tube, tube.strength.as_ref().ok()?)))
        .filter(move |(tube, strength)| strength.standard == standard && *tube != standard)
}

/// Every standard that other tubes are judged against, the one with the farthest tube first.
fn standards(analysis: &Analysis) -> Vec<TubeRef> {
    let mut standards: Vec<(TubeRef, f64)> = Vec::new();
    for strength in analysis.tubes.iter().filter_map(|tube| tube.strength.as_ref().ok()) {
        let far = strength.quoted().map_or(0.0, |(percent, _)| departure(&percent));
        match standards.iter_mut().find(|(known, _)| *known == strength.standard) {
            Some((_, farthest)) => *farthest = farthest.max(far),
            None => standards.push((strength.standard, far)),
        }
    }
    standards.sort_by(|(_, one), (_, other)| other.total_cmp(one));
    standards.into_iter().map(|(standard, _)| standard).collect()
}

/// How far a strength in percent lies from 100, as a factor.
fn departure(percent: &Figure) -> f64 {
    (percent.value.max(1e-6) / 100.0).ln().abs()
}

/// `A`, `A and B`, `A, B and C`.
fn and(names: &[String]) -> String {
    match names {
        [] => String::new(),
        [only] => only.clone(),
        [first @ .., last] => format!("{} and {last}", first.join(", ")),
    }
}
