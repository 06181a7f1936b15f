//! Figures to a verdict, and the verdict to one plain sentence.

mod colour_at_depth;
mod mixing;
mod strength;
mod tint;
mod words;

pub use words::{CLOSE, Closeness, VISIBLE, toward};

use crate::figures::TubeFigures;
use crate::{Analysis, Study, TubeRef};

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
    list.extend(strength::finding(study, analysis));
    list.extend(colour_at_depth::finding(study, analysis));
    list.extend(mixing::finding(study, analysis));
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

/// How many tubes are judged against a standard, itself included.
fn family_size(analysis: &Analysis, standard: TubeRef) -> usize {
    let against = |tube: &&TubeFigures| {
        tube.strength.as_ref().is_ok_and(|strength| strength.standard == standard)
    };
    analysis.tubes.iter().filter(against).count()
}

fn with_capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}
