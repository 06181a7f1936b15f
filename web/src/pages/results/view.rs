//! Finished text of the results: the answer, the chart, the tubes in short.

use askama::Template;
use askama_web::WebTemplate;
use plan::Question;
use study::TubeRef;
use workshop::{Role, StrengthByEye, Trial, answer, judged_strengths};

use super::by_eye::ByEye;
use super::chart::Chart;
use super::rack::Rack;
use super::{Told, tubes};
use crate::frame::{Frame, Heading};
use crate::pages::planner::question_words;
use crate::words::counted;

/// Findings besides the answer.
const MORE: usize = 2;

/// The answer and the chart.
#[derive(Template, WebTemplate)]
#[template(path = "results/page.html")]
pub(crate) struct ResultsPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    /// What was asked; empty where nothing in particular was.
    asked: &'static str,
    headline: String,
    evidence: String,
    findings: Vec<FindingText>,
    by_eye: ByEye,
    chart: Chart,
    /// The tubes under test alone, where the trial has no pairs to show.
    racks: Vec<Rack>,
    /// Facts of the tubes under test, where they stand below the chart.
    facts: Vec<Rack>,
    /// Mixtures of three and four whose figures stand at an address of their own.
    mixtures: usize,
    notes: Vec<String>,
    /// Hues that vivid mixtures may be looked up for.
    pairs: bool,
    can_judge: bool,
    /// It has sheets.
    planned: bool,
}

struct FindingText {
    sentence: String,
    evidence: String,
}

impl ResultsPage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        told: &Told,
        part: (usize, usize),
    ) -> Result<Self, askama::Error> {
        let Told { analysed, evidence, matrix, red_is_warm } = told;
        let question =
            analysed.trial.plan.as_ref().map_or(Question::Free, |planned| planned.design.question);
        let strengths: Vec<StrengthByEye> = judged_strengths(analysed, &evidence.prior);
        let by_eye = ByEye::of(&analysed.trial);
        let known = (matrix.as_ref(), &evidence.prior);
        let answered = answer(question, analysed, known, &strengths, *red_is_warm);
        let mut findings: Vec<FindingText> = analysed
            .findings
            .iter()
            .map(|it| FindingText { sentence: it.sentence.clone(), evidence: it.evidence.clone() })
            .collect();
        let (headline, evidence) = match answered {
            Some(answer) => (answer.sentence, answer.evidence),
            None if findings.is_empty() => (String::new(), String::new()),
            None => {
                let first = findings.remove(0);
                (first.sentence, first.evidence)
            }
        };
        findings.truncate(MORE);
        let chart = Chart::of(analysed, matrix, part)?;
        let tested = of_role(analysed, Role::Tested);
        let mut alone = tubes::racks(analysed, &tested, "Alone and with white")?;
        let (racks, facts) = if chart.is_empty() {
            (alone, Vec::new())
        } else {
            // What was not tried is not told here, only with every step.
            for rack in &mut alone {
                rack.facts.retain(|fact| fact.why.is_empty());
            }
            (Vec::new(), alone)
        };
        let asked = if question == Question::Free { "" } else { question_words(question) };
        Ok(Self {
            frame,
            heading,
            id: analysed.trial.id.0,
            asked,
            headline,
            evidence,
            findings,
            by_eye,
            pairs: !chart.rows.is_empty(),
            chart,
            racks,
            facts,
            mixtures: analysed.analysis.mixtures.len(),
            planned: analysed.trial.plan.is_some(),
            can_judge: analysed.trial.plan.is_some() && workshop::judged_tubes(analysed).len() > 1,
            notes: analysed
                .analysis
                .warnings
                .iter()
                .map(ToString::to_string)
                .chain(not_in_pictures(&analysed.trial))
                .collect(),
        })
    }
}

/// The tubes of a role.
pub(super) fn of_role(analysed: &workshop::AnalysedTrial, role: Role) -> Vec<TubeRef> {
    let tubes = analysed.trial.tubes.iter().enumerate();
    tubes.filter(|(_, tube)| tube.role == role).map(|(at, _)| TubeRef(at)).collect()
}

/// What no picture could tell, and nothing else has told since.
fn not_in_pictures(trial: &Trial) -> Option<String> {
    let unread = trial.not_in_pictures.iter().filter(|(number, _)| {
        let swatch = trial.swatches.iter().find(|it| it.swatch.number == *number);
        swatch.is_some_and(|swatch| trial.dry_readings(swatch.id) == 0)
    });
    let squares = counted(unread.count(), "square is", "squares are");
    (!squares.starts_with("0 ")).then(|| {
        format!(
            "{squares} deeper or more vivid than a picture holds: they stand as predicted until a meter reads them"
        )
    })
}
