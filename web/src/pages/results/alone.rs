//! The tubes alone and with white, step by step.

use askama::Template;
use askama_web::WebTemplate;
use study::TubeRef;
use workshop::{AnalysedTrial, MOST_COMPARED, Role, TubeId};

use super::rack::Rack;
use super::tubes;
use super::view::of_role;
use crate::frame::{Frame, Heading};
use crate::pages::beside::address;

/// Racks of the tubes under test and of the references.
#[derive(Template, WebTemplate)]
#[template(path = "results/alone.html")]
pub(crate) struct AlonePage {
    frame: Frame,
    heading: Heading,
    id: i64,
    racks: Vec<Rack>,
    standards: Vec<Standard>,
    /// Where the tubes under test stand beside each other; empty for fewer than two.
    compare: String,
}

/// A tube that may stand at 100 %.
struct Standard {
    id: String,
    name: String,
    chosen: bool,
}

impl AlonePage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        analysed: &AnalysedTrial,
        chosen: &str,
    ) -> Result<Self, askama::Error> {
        let mut racks = Vec::new();
        let tested = of_role(analysed, Role::Tested);
        let references = of_role(analysed, Role::Reference);
        let groups: [(&[TubeRef], &str); 2] =
            [(&tested, "Alone and with white"), (&references, "The reference, with white")];
        for (tubes, title) in groups {
            racks.extend(tubes::racks(analysed, tubes, title)?);
        }
        let id = analysed.trial.id.0;
        let ids: Vec<TubeId> = tested
            .iter()
            .take(MOST_COMPARED)
            .filter_map(|tube| analysed.trial.tubes.get(tube.0).map(|it| it.tube.id))
            .collect();
        let compare = if ids.len() > 1 { address(&ids, "") } else { String::new() };
        Ok(Self { compare, frame, heading, id, racks, standards: standards(analysed, chosen) })
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
