//! The most vivid mixtures of a hue.

use askama::Template;
use askama_web::WebTemplate;
use colour::{Hue, signed_shift};
use figures::finding::toward;
use study::TubeRef;
use workshop::{AnalysedTrial, VividMixture, WANTED_HUES, most_vivid};

use super::Told;
use super::chart::{ratio, square};
use crate::draw::SmallLadder;
use crate::frame::{Frame, Heading};
use crate::words::number;

/// Mixtures that are shown.
const MOST: usize = 12;
/// Mixtures within so much L* of the most vivid one stand beside it at equal lightness.
const EQUAL_LIGHTNESS: f64 = 10.0;

/// The page.
#[derive(Template, WebTemplate)]
#[template(path = "results/vivid.html")]
pub(crate) struct VividPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    title: String,
    hues: Vec<(&'static str, bool)>,
    degrees: String,
    rows: Vec<VividRow>,
    predicted: bool,
    /// Words stand for what was seen, and no numbers beside them.
    by_eye: bool,
}

struct VividRow {
    svg: String,
    what: String,
    href: String,
    chroma: String,
    lightness: String,
    /// It lies as light as the first.
    as_light: bool,
    why: String,
    /// Nobody saw or read it.
    predicted: bool,
    /// The first of these, below a line, where others stand above it.
    below: bool,
}

impl VividPage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        told: &Told,
        wanted: &str,
    ) -> Result<Self, askama::Error> {
        let Told { analysed, matrix, .. } = told;
        let named = WANTED_HUES.iter().find(|(name, _)| *name == wanted.trim());
        let typed = crate::pages::fields::read_number(wanted).ok().flatten();
        let hue = named.map(|(_, hue)| *hue).or(typed).unwrap_or(WANTED_HUES[1].1);
        let name = match (named, typed) {
            (Some((name, _)), _) => (*name).to_owned(),
            (None, Some(degrees)) => format!("mixture at {}°", number(degrees, 0)),
            _ => WANTED_HUES[1].0.to_owned(),
        };
        let found = most_vivid(matrix, hue);
        let by_eye = found.iter().any(|it| it.word.is_some() && !it.read);
        let first = found.first().map_or(0.0, |it| it.lightness);
        let rows = found.iter().take(MOST).zip(0..).map(|(it, at)| row(analysed, it, first, at));
        Ok(Self {
            title: format!("The most vivid {name}, by this trial"),
            hues: WANTED_HUES.iter().map(|(hue, _)| (*hue, name == *hue)).collect(),
            degrees: typed.map_or_else(String::new, |it| number(it, 0)),
            rows: below_a_line(rows.collect::<Result<_, _>>()?),
            predicted: found.iter().take(MOST).any(|it| it.word.is_none()),
            by_eye,
            id: analysed.trial.id.0,
            frame,
            heading,
        })
    }
}

/// What nobody saw or read stands below what somebody did.
fn below_a_line(mut rows: Vec<VividRow>) -> Vec<VividRow> {
    if let Some(at) = rows.iter().position(|row| row.predicted).filter(|at| *at > 0) {
        rows[at].below = true;
    }
    rows
}

fn row(
    analysed: &AnalysedTrial,
    found: &VividMixture<'_>,
    first: f64,
    at: usize,
) -> Result<VividRow, askama::Error> {
    let name = |tube: TubeRef| analysed.study.label(tube).name;
    let [a, b] = found.cell.pair;
    let shown = if found.pale { found.step.pale.as_ref() } else { Some(&found.step.neat) };
    let cells = vec![shown.iter().map(|it| square(analysed, it)).collect()];
    let what = shown.map_or_else(String::new, |it| it.label.clone());
    let svg =
        SmallLadder { title: what, id: format!("v{at}"), cells, width: 96, step: 48 }.svg()?;
    // What was seen has a word, and no number that somebody else's paint would have.
    let by_eye = found.word.filter(|_| !found.read);
    Ok(VividRow {
        svg,
        what: format!(
            "{} with {}, {}{}",
            name(a),
            name(b),
            ratio(analysed.trial.ratios(), found.step.parts),
            if found.pale { ", with white" } else { "" }
        ),
        href: format!("/trials/{}/results/pair/{}-{}", analysed.trial.id.0, a.0, b.0),
        chroma: by_eye.map_or_else(|| number(found.chroma, 0), |word| format!("{word}, by eye")),
        lightness: if by_eye.is_some() { String::new() } else { number(found.lightness, 0) },
        as_light: by_eye.is_some() || (found.lightness - first).abs() <= EQUAL_LIGHTNESS,
        why: why(analysed, found),
        predicted: found.word.is_none(),
        below: false,
    })
}

/// Which parent leans away from the mixture's hue: it carries what makes it grey.
fn why(analysed: &AnalysedTrial, found: &VividMixture<'_>) -> String {
    let ends = [found.cell.steps.first(), found.cell.steps.last()];
    let lean = ends.iter().zip(found.cell.pair).filter_map(|(step, tube)| {
        let step = (*step)?;
        // The paler end shows which way a dark one leans.
        let hue = step.pale.as_ref().unwrap_or(&step.neat).colour.lab()?.hue()?;
        let away = signed_shift(found.hue, hue);
        Some((tube, hue, away))
    });
    let told = lean.map(|(tube, hue, away): (TubeRef, Hue, f64)| {
        let name = analysed.study.label(tube).name;
        format!("{name} lies {}° from it, toward {}", number(away.abs(), 0), toward(hue, away))
    });
    told.collect::<Vec<_>>().join("; ")
}
