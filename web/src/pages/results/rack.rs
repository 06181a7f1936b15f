//! A rack of uprights with the figures beside it.

use study::TubeRef;
use workshop::AnalysedTrial;

use crate::draw::{Head, RackDrawing};
use crate::words::{FigureText, MISSING};

/// A rack with the figures that line up with its steps.
pub(super) struct Rack {
    pub title: String,
    pub svg: String,
    /// Heads of the figure table, one for each upright.
    pub heads: Vec<String>,
    /// Names of the figures of each upright.
    pub names: &'static [&'static str],
    pub rows: Vec<FigureRow>,
    /// Facts of each upright below the steps.
    pub facts: Vec<FactRow>,
}

/// The figures of one step, upright after upright.
pub(super) struct FigureRow {
    pub step: String,
    pub figures: Vec<FigureText>,
}

/// One fact, by upright.
pub(super) struct FactRow {
    pub name: &'static str,
    pub values: Vec<FigureText>,
    /// Why there is none, where the reason holds for the whole row; then the values are left out.
    pub why: String,
}

impl FactRow {
    pub fn new(name: &'static str, values: Vec<FigureText>) -> Self {
        let first = values.first().map_or("", |value| value.why.as_str());
        let missing = |value: &FigureText| value.value == MISSING && value.why == first;
        let why = if values.len() > 1 && values.iter().all(missing) {
            first.to_owned()
        } else {
            String::new()
        };
        Self { name, values, why }
    }
}

impl Rack {
    pub fn new(
        drawing: &RackDrawing,
        names: &'static [&'static str],
        rows: Vec<FigureRow>,
        facts: Vec<FactRow>,
    ) -> Result<Self, askama::Error> {
        let head = |head: &Head| {
            let words = [head.maker.as_str(), head.name.as_str()];
            words.into_iter().filter(|word| !word.is_empty()).collect::<Vec<_>>().join(" ")
        };
        Ok(Self {
            title: drawing.title.clone(),
            svg: drawing.svg()?,
            heads: drawing.heads.iter().map(head).collect(),
            names,
            rows,
            facts,
        })
    }
}

/// Names above an upright.
pub(super) fn head(analysed: &AnalysedTrial, tube: TubeRef) -> Head {
    let label = analysed.study.label(tube);
    Head { maker: label.maker, name: label.name }
}
