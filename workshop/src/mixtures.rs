//! A trial's mixtures, and how they and their tubes are named in a sentence.

use study::TubeRef;

use crate::analysed::AnalysedTrial;
use crate::matrix::Matrix;

/// A trial's mixtures, to be told of.
pub(crate) struct Mixtures<'a> {
    pub analysed: &'a AnalysedTrial,
    pub matrix: &'a Matrix,
}

impl Mixtures<'_> {
    pub fn name(&self, tube: TubeRef) -> String {
        self.analysed.study.label(tube).name
    }

    pub fn ratio(&self, [first, second]: [f64; 2]) -> String {
        self.analysed.trial.ratios().of(first, second)
    }

    pub fn names(&self, tubes: &[TubeRef]) -> String {
        let names: Vec<String> = tubes.iter().map(|tube| self.name(*tube)).collect();
        match names.as_slice() {
            [] => String::new(),
            [only] => only.clone(),
            [first @ .., last] if names.len() <= 4 => format!("{} and {last}", first.join(", ")),
            [one, two, rest @ ..] => format!("{one}, {two} and {} others", rest.len()),
        }
    }
}
