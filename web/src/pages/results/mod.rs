//! Results: the answer, the chart, and what opens at an address of its own.
//!
//! 1. `view`: the answer to what was asked, the chart of all pairs, the tubes in short.
//! 2. `one_pair`, `alone`, `vivid`, `painted`: a pair step by step, the tubes alone, the most vivid mixtures of a
//!    hue, the chart on its sheets.
//! 3. `chart`, `rack`, `pairs`, `tubes`, `mixtures`, `by_eye`: their parts as finished text.

mod alone;
mod by_eye;
mod chart;
mod mixtures;
mod one_pair;
mod painted;
mod pairs;
mod rack;
mod tubes;
mod view;
mod vivid;

use std::sync::Arc;

use alone::AlonePage;
use axum::Json;
use axum::extract::{Path, Query, State};
use mixtures::MixturesPage;
use one_pair::PairPage;
use painted::PaintedPage;
use serde::Deserialize;
use study::{Study, TubeRef};
use view::ResultsPage;
use vivid::VividPage;
use workshop::{
    AnalysedTrial, Evidence, Matrix, StoreError, TrialId, TubeId, Workshop, off_the_thread,
};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::pages::eye;

/// The tube that stands at 100 %; empty for the first of the same pigments.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct Chosen {
    #[serde(default)]
    standard: String,
    /// Where the part of a large chart begins: place of its first tube and of its first partner.
    #[serde(default)]
    row: String,
    #[serde(default)]
    column: String,
}

impl Chosen {
    fn part(&self) -> (usize, usize) {
        let place = |text: &str| text.parse().unwrap_or_default();
        (place(&self.row), place(&self.column))
    }
}

/// The hue that vivid mixtures are wanted of: a name, or degrees.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct WantedHue {
    #[serde(default)]
    hue: String,
}

/// Which part of a long list.
#[derive(Deserialize)]
pub(crate) struct ListPart {
    #[serde(default)]
    page: String,
}

/// A trial with everything that its results are told from.
pub(crate) struct Told {
    pub analysed: Arc<AnalysedTrial>,
    pub evidence: Arc<Evidence>,
    pub matrix: Arc<Matrix>,
    /// The blue that leans red is called the warm one.
    pub red_is_warm: bool,
}

impl Told {
    async fn of(
        app: &Workshop,
        frame: &Frame,
        id: i64,
        chosen: &Chosen,
    ) -> Result<Self, PageError> {
        let analysed = analysed(app, frame, id, chosen).await?;
        let red_is_warm = eye::red_is_warm(app).await?;
        let (matrix, evidence) = app.charted(&frame.trials, &analysed).await?;
        Ok(Self { analysed, evidence, matrix, red_is_warm })
    }
}

pub(crate) async fn page(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(chosen): Query<Chosen>,
) -> Result<ResultsPage, PageError> {
    let frame = Frame::load(&app, Room::Results, Some(TrialId(id))).await?;
    let told = Told::of(&app, &frame, id, &chosen).await?;
    let heading = Heading::of(&told.analysed.trial, frame.summary(TrialId(id))?);
    Ok(ResultsPage::new(frame, heading, &told, chosen.part())?)
}

pub(crate) async fn tubes_alone(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(chosen): Query<Chosen>,
) -> Result<AlonePage, PageError> {
    let frame = Frame::load(&app, Room::Results, Some(TrialId(id))).await?;
    let analysed = analysed(&app, &frame, id, &chosen).await?;
    let heading = Heading::of(&analysed.trial, frame.summary(TrialId(id))?);
    Ok(AlonePage::new(frame, heading, &analysed, &chosen.standard)?)
}

pub(crate) async fn pair(
    State(app): State<Workshop>,
    Path((id, pair)): Path<(i64, String)>,
) -> Result<PairPage, PageError> {
    let frame = Frame::load(&app, Room::Results, Some(TrialId(id))).await?;
    let told = Told::of(&app, &frame, id, &Chosen::default()).await?;
    let heading = Heading::of(&told.analysed.trial, frame.summary(TrialId(id))?);
    let places = pair.split_once('-').and_then(|(a, b)| Some((a.parse().ok()?, b.parse().ok()?)));
    let (a, b) = places.ok_or(StoreError::NotFound("pair of this trial"))?;
    let pair = [TubeRef(a), TubeRef(b)];
    PairPage::new(frame, heading, &told, pair)?
        .ok_or(StoreError::NotFound("pair of this trial").into())
}

pub(crate) async fn vivid(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(wanted): Query<WantedHue>,
) -> Result<VividPage, PageError> {
    let frame = Frame::load(&app, Room::Results, Some(TrialId(id))).await?;
    let told = Told::of(&app, &frame, id, &Chosen::default()).await?;
    let heading = Heading::of(&told.analysed.trial, frame.summary(TrialId(id))?);
    Ok(VividPage::new(frame, heading, &told, &wanted.hue)?)
}

/// Every mixture of three and four tubes.
pub(crate) async fn mixtures_of_three(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(part): Query<ListPart>,
) -> Result<MixturesPage, PageError> {
    let frame = Frame::load(&app, Room::Results, Some(TrialId(id))).await?;
    let analysed = analysed(&app, &frame, id, &Chosen::default()).await?;
    let heading = Heading::of(&analysed.trial, frame.summary(TrialId(id))?);
    Ok(MixturesPage::new(frame, heading, &analysed, part.page.parse().unwrap_or(1)))
}

/// The chart in the layout of its sheets.
pub(crate) async fn sheets(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<PaintedPage, PageError> {
    let frame = Frame::load(&app, Room::Results, Some(TrialId(id))).await?;
    let told = Told::of(&app, &frame, id, &Chosen::default()).await?;
    let heading = Heading::of(&told.analysed.trial, frame.summary(TrialId(id))?);
    PaintedPage::new(frame, heading, &told)
}

/// Every figure for other programs.
pub(crate) async fn json(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(chosen): Query<Chosen>,
) -> Result<Json<serde_json::Value>, PageError> {
    let frame = Frame::load(&app, Room::Results, Some(TrialId(id))).await?;
    let analysed = analysed(&app, &frame, id, &chosen).await?;
    let figures = move || {
        // A file has maker and code beside each name.
        let study = Study { tubes: analysed.trial.labels(), ..analysed.study.clone() };
        formats::analysis::to_json(&study, &analysed.analysis, &[])
    };
    Ok(Json(off_the_thread(figures).await?))
}

async fn analysed(
    app: &Workshop,
    frame: &Frame,
    id: i64,
    chosen: &Chosen,
) -> Result<Arc<AnalysedTrial>, PageError> {
    let summary = frame.summary(TrialId(id))?;
    match chosen.standard.parse() {
        Ok(tube) => Ok(app.analysed_against(summary, TubeId(tube)).await?),
        Err(_) => Ok(app.analysed(summary).await?),
    }
}
