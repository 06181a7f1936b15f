//! Finished text of the results.

use askama::Template;
use askama_web::WebTemplate;
use store::Role;
use study::TubeRef;

use super::by_eye::ByEye;
use super::{pairs, tubes};
use crate::draw::RackDrawing;
use crate::frame::{Frame, Heading};
use crate::judged::AnalysedTrial;
use crate::words::FigureText;

/// Uprights in one rack; more stand in a second one.
const WIDEST_RACK: usize = 5;

/// Findings, racks and figures of a trial.
#[derive(Template, WebTemplate)]
#[template(path = "results/page.html")]
pub(crate) struct ResultsPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    findings: Vec<FindingText>,
    by_eye: ByEye,
    racks: Vec<Rack>,
    notes: Vec<String>,
    standards: Vec<Standard>,
}

/// A tube that may stand at 100 %.
struct Standard {
    id: String,
    name: String,
    chosen: bool,
}

struct FindingText {
    sentence: String,
    evidence: String,
}

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
}

impl Rack {
    pub fn new(
        drawing: &RackDrawing,
        names: &'static [&'static str],
        rows: Vec<FigureRow>,
        facts: Vec<FactRow>,
    ) -> Result<Self, askama::Error> {
        let head = |head: &crate::draw::Head| {
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

impl ResultsPage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        judged: &AnalysedTrial,
        chosen: &str,
    ) -> Result<Self, askama::Error> {
        let of_role = |role: Role| -> Vec<TubeRef> {
            let tubes = judged.trial.tubes.iter().enumerate();
            tubes.filter(|(_, tube)| tube.role == role).map(|(at, _)| TubeRef(at)).collect()
        };
        let mut racks = Vec::new();
        for group in of_role(Role::Tested).chunks(WIDEST_RACK) {
            racks.extend(tubes::rack(judged, group, "Alone and with white")?);
        }
        racks.extend(pairs::racks(judged)?);
        racks.extend(tubes::rack(judged, &of_role(Role::Reference), "The reference, with white")?);
        let findings = judged.findings.iter().map(|finding| FindingText {
            sentence: finding.sentence.clone(),
            evidence: finding.evidence.clone(),
        });
        Ok(Self {
            frame,
            heading,
            id: judged.trial.id.0,
            findings: findings.collect(),
            by_eye: ByEye::of(&judged.trial),
            racks,
            standards: standards(judged, chosen),
            notes: judged.analysis.warnings.iter().map(ToString::to_string).collect(),
        })
    }
}

fn standards(judged: &AnalysedTrial, chosen: &str) -> Vec<Standard> {
    let tubes = judged.trial.tubes.iter().filter(|tube| tube.role != Role::White);
    tubes
        .map(|tube| Standard {
            id: tube.tube.id.0.to_string(),
            name: format!("{} {}", tube.tube.tube.maker, tube.tube.tube.name).trim().to_owned(),
            chosen: tube.tube.id.0.to_string() == chosen,
        })
        .collect()
}

/// Names above an upright.
pub(super) fn head(judged: &AnalysedTrial, tube: TubeRef) -> crate::draw::Head {
    let label = judged.study.label(tube);
    crate::draw::Head { maker: label.maker, name: label.name }
}
