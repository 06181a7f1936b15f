//! Mixtures of three and four tubes, each with what the others did to its pair.

use askama::Template;
use askama_web::WebTemplate;
use figures::MixtureFigures;
use figures::finding::what_others_did;
use workshop::AnalysedTrial;

use crate::draw::Paint;
use crate::frame::{Frame, Heading};
use crate::pages::paging::Paging;
use crate::words::{FigureText, number, parts};

/// Mixtures on one page.
const ON_ONE_PAGE: usize = 200;

/// All of them at their own address.
#[derive(Template, WebTemplate)]
#[template(path = "results/mixtures.html")]
pub(crate) struct MixturesPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    mixtures: Vec<MixtureRow>,
    paging: Paging,
}

impl MixturesPage {
    pub fn new(frame: Frame, heading: Heading, analysed: &AnalysedTrial, page: usize) -> Self {
        let id = analysed.trial.id.0;
        let all = &analysed.analysis.mixtures;
        let address = |page| format!("/trials/{id}/results/mixtures?page={page}");
        let paging = Paging::of(all.len(), page, ON_ONE_PAGE, address);
        let mixtures = paging.part(all).iter().map(|mixture| row(analysed, mixture)).collect();
        Self { id, mixtures, paging, frame, heading }
    }
}

/// One mixture.
pub(super) struct MixtureRow {
    /// `#rrggbb`, and what must be said of it on a screen.
    pub fill: String,
    pub remark: String,
    /// `Awning Blue 3 + Lantern Yellow 1 + Saddle Red 1, white 1 : 4`.
    pub what: String,
    pub lightness: String,
    /// Hue shift and chroma loss.
    pub figures: [FigureText; 2],
    /// What the third did.
    pub did: String,
}

fn row(analysed: &AnalysedTrial, mixture: &MixtureFigures) -> MixtureRow {
    let name = |tube| analysed.study.label(tube).name;
    let paint = Paint::of(&mixture.colour, analysed.analysis.conditions);
    let tubes: Vec<String> = mixture
        .tubes
        .iter()
        .map(|part| format!("{} {}", name(part.tube), parts(part.parts)))
        .collect();
    let white = match mixture.white_parts {
        white if white > 0.0 => format!(", white 1 : {}", parts(white)),
        _ => String::new(),
    };
    let mut chroma = FigureText::loss(&mixture.chroma_loss);
    chroma.word = mixture.vividness.word.to_string();
    let [a, b] = mixture.base.map(name);
    let did = match what_others_did(&analysed.study, mixture) {
        did if did.is_empty() => format!("{a} and {b} alone were not read at this ratio."),
        did => format!("Beside {a} and {b} alone: {did}"),
    };
    MixtureRow {
        remark: paint.remark().to_owned(),
        fill: paint.fill,
        what: format!("{}{white}", tubes.join(" + ")),
        lightness: number(mixture.colour.lab.l, 1),
        figures: [FigureText::degrees(&mixture.hue_shift), chroma],
        did,
    }
}
