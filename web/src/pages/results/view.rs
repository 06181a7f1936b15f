//! Finished text of the results.

use askama::Template;
use askama_web::WebTemplate;
use store::Role;
use study::TubeRef;
use workshop::AnalysedTrial;

use super::by_eye::ByEye;
use super::mixtures::MixtureRow;
use super::rack::Rack;
use super::{mixtures, pairs, tubes};
use crate::frame::{Frame, Heading};

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
    mixtures: Vec<MixtureRow>,
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

impl ResultsPage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        analysed: &AnalysedTrial,
        chosen: &str,
    ) -> Result<Self, askama::Error> {
        let of_role = |role: Role| -> Vec<TubeRef> {
            let tubes = analysed.trial.tubes.iter().enumerate();
            tubes.filter(|(_, tube)| tube.role == role).map(|(at, _)| TubeRef(at)).collect()
        };
        let mut racks = Vec::new();
        for group in of_role(Role::Tested).chunks(WIDEST_RACK) {
            racks.extend(tubes::rack(analysed, group, "Alone and with white")?);
        }
        racks.extend(pairs::racks(analysed)?);
        racks.extend(tubes::rack(
            analysed,
            &of_role(Role::Reference),
            "The reference, with white",
        )?);
        let findings = analysed.findings.iter().map(|finding| FindingText {
            sentence: finding.sentence.clone(),
            evidence: finding.evidence.clone(),
        });
        Ok(Self {
            frame,
            heading,
            id: analysed.trial.id.0,
            findings: findings.collect(),
            by_eye: ByEye::of(&analysed.trial),
            racks,
            mixtures: mixtures::rows(analysed),
            standards: standards(analysed, chosen),
            notes: analysed.analysis.warnings.iter().map(ToString::to_string).collect(),
        })
    }
}

fn standards(analysed: &AnalysedTrial, chosen: &str) -> Vec<Standard> {
    let tubes = analysed.trial.tubes.iter().filter(|tube| tube.role != Role::White);
    tubes
        .map(|tube| Standard {
            id: tube.tube.id.0.to_string(),
            name: format!("{} {}", tube.tube.tube.maker, tube.tube.tube.name).trim().to_owned(),
            chosen: tube.tube.id.0.to_string() == chosen,
        })
        .collect()
}
