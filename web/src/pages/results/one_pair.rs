//! One pair: its ladder, its figures, and what was seen of it.

use askama::Template;
use askama_web::WebTemplate;
use study::TubeRef;
use workshop::Shown;

use super::chart::{ratio, square};
use super::rack::Rack;
use super::{Told, pairs};
use crate::draw::SmallLadder;
use crate::frame::{Frame, Heading};

/// The page.
#[derive(Template, WebTemplate)]
#[template(path = "results/pair.html")]
pub(crate) struct PairPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    title: String,
    word: String,
    steps: Vec<StepLine>,
    racks: Vec<Rack>,
    /// Some of its squares are not read.
    unread: bool,
    /// Something was seen.
    seen: bool,
}

/// One step with its squares large, and what was seen of them.
struct StepLine {
    ratio: String,
    svg: String,
    number: String,
    seen: Vec<String>,
}

impl PairPage {
    /// `None` where the two are not mixed in this trial.
    pub fn new(
        frame: Frame,
        heading: Heading,
        told: &Told,
        pair: [TubeRef; 2],
    ) -> Result<Option<Self>, askama::Error> {
        let Told { analysed, matrix, .. } = told;
        let [a, b] = pair;
        let Some(cell) = matrix.pair(a, b) else { return Ok(None) };
        let name = |tube: TubeRef| analysed.study.label(tube).name;
        let steps = cell.steps.iter().zip(0..).map(|(step, at)| {
            let shown: Vec<&Shown> =
                [Some(&step.neat), step.pale.as_ref()].into_iter().flatten().collect();
            let ratio = match ratio(analysed.trial.ratios(), step.parts).as_str() {
                "alone" => name(a),
                "partner" => name(b),
                ratio => ratio.to_owned(),
            };
            let cells = vec![shown.iter().map(|it| square(analysed, it)).collect()];
            let ladder = SmallLadder {
                title: ratio.clone(),
                id: format!("{at}"),
                cells,
                width: 240,
                step: 64,
            };
            let numbers = shown.iter().filter_map(|it| it.number.map(|number| number.to_string()));
            Ok(StepLine {
                svg: ladder.svg()?,
                number: numbers.collect::<Vec<_>>().join(", "),
                seen: shown.iter().flat_map(|it| it.seen.clone()).collect(),
                ratio,
            })
        });
        let shown =
            || cell.steps.iter().flat_map(|it| [Some(&it.neat), it.pale.as_ref()]).flatten();
        Ok(Some(Self {
            unread: shown().any(|it| !it.colour.is_read()),
            seen: shown().any(|it| !it.seen.is_empty()),
            title: format!("{} with {}", name(a), name(b)),
            word: cell.word.map_or_else(String::new, |word| word.word.to_string()),
            steps: steps.collect::<Result<_, askama::Error>>()?,
            racks: pairs::racks(analysed, pair)?,
            id: analysed.trial.id.0,
            frame,
            heading,
        }))
    }
}
