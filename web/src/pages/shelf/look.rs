//! What a tube looks like to somebody without a meter: chosen from colours around its typical paint, in two presses.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::{Form, Query};
use colour::{Lab, ScreenColour};
use mixing::typical::Look;
use serde::Deserialize;
use study::{ColourIndexName, Tube, TubeLook};
use workshop::{ShelfTube, TubeId, Workshop};

use crate::error::PageError;
use crate::frame::{Frame, Room};

/// Nine looks to choose from.
#[derive(Template, WebTemplate)]
#[template(path = "shelf/look.html")]
pub(crate) struct LookPage {
    frame: Frame,
    name: String,
    /// Its own page, and where a choice is sent.
    tube: String,
    /// The second nine: a press stores what it shows.
    nearer: bool,
    chips: Vec<Chip>,
    /// What was chosen before, if anything was.
    chosen: Option<Chip>,
    /// How it is drawn for that.
    drawn: Option<Chip>,
    /// Readings answer for it.
    read: bool,
    /// What was wrong with a press; empty where nothing was.
    wrong: &'static str,
}

/// A look, thick above and with four parts of white below.
struct Chip {
    mass_tone: String,
    tint: String,
    /// The screen cannot show one of the two.
    duller: bool,
    /// As an address and a form send it.
    value: String,
    href: String,
    /// `deeper, third of three hues`.
    title: String,
}

/// What was pressed.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct Pressed {
    /// Both colours as their numbers; empty to clear the look.
    #[serde(default)]
    look: String,
    /// The look that stood on the page when it was opened.
    #[serde(default)]
    was: String,
}

/// `None` where a text is no look; the empty one is that of a tube nobody looked at.
fn read(text: &str) -> Option<TubeLook> {
    if text.is_empty() {
        return Some(TubeLook::default());
    }
    let (mass_tone, tint) = text.split_once(',')?;
    let (mass_tone, tint) = (mass_tone.parse().ok()?, tint.parse().ok()?);
    Some(TubeLook { mass_tone: Some(mass_tone), tint: Some(tint) })
}

fn written(look: TubeLook) -> String {
    look.mass_tone
        .zip(look.tint)
        .map_or_else(String::new, |(thick, pale)| format!("{thick},{pale}"))
}

pub(crate) async fn page(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(pressed): Query<Pressed>,
) -> Result<LookPage, PageError> {
    let known = app.tube(TubeId(id)).await?;
    let (look, wrong) = match read(&pressed.look) {
        Some(look) => (look, ""),
        None => (TubeLook::default(), NO_COLOUR),
    };
    LookPage::load(&app, &known, look, wrong).await
}

/// Stores a look, or clears it.
pub(crate) async fn choose(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(pressed): Form<Pressed>,
) -> Result<Response, PageError> {
    let known = app.tube(TubeId(id)).await?;
    let Some(look) = read(&pressed.look) else {
        let page = LookPage::load(&app, &known, TubeLook::default(), NO_COLOUR).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let stands = written(known.tube.look);
    // The same press twice is one.
    if stands != pressed.was && stands != written(look) {
        let page = LookPage::load(&app, &known, look, CHANGED).await?;
        return Ok((StatusCode::CONFLICT, page).into_response());
    }
    app.change_tube(known.id, &known.tube, &Tube { look, ..known.tube.clone() }).await?;
    Ok(Redirect::to(&format!("/shelf/{id}/look")).into_response())
}

const NO_COLOUR: &str =
    "What was sent is no pair of colours, and nothing was changed: press one of these.";
const CHANGED: &str = "Another page chose the look below meanwhile, and it still stands: press again to put another in its place.";

impl LookPage {
    async fn load(
        app: &Workshop,
        known: &ShelfTube,
        pressed: TubeLook,
        wrong: &'static str,
    ) -> Result<Self, PageError> {
        let frame = Frame::load(app, Room::Shelf, None).await?;
        let tube = &known.tube;
        let nearer = !pressed.is_unset();
        let codes = || tube.codes.iter().map(ColourIndexName::as_str);
        let looks =
            if nearer { pressed.chosen().nearer() } else { Look::choices(&tube.name, codes()) };
        let chosen = tube.look.chosen();
        let drawn = chosen.drawn(&tube.name, codes()).and_then(|it| Chip::of(it, String::new()));
        let looks = looks.into_iter().enumerate();
        Ok(Self {
            name: tube.name.clone(),
            tube: format!("/shelf/{}", known.id.0),
            nearer,
            chips: looks.filter_map(|(at, look)| Chip::of(look, title(at, nearer))).collect(),
            chosen: Chip::of(chosen, String::new()),
            drawn,
            read: app.known_colours(&frame.trials).await?.contains_key(&known.id),
            frame,
            wrong,
        })
    }
}

/// For whoever cannot see the paint.
fn title(at: usize, nearer: bool) -> String {
    let rows = if nearer {
        ["more vivid", "the same", "duller"]
    } else {
        ["paler", "in between", "deeper"]
    };
    let column = ["first", "second", "third"][at % 3];
    format!("{}, {column} of three hues", rows[at / 3 % 3])
}

impl Chip {
    fn of(look: Look, title: String) -> Option<Self> {
        let (mass_tone, tint) = (look.mass_tone?, look.tint?);
        let shown = |lab: Lab| ScreenColour::from_lab(lab, Look::light().conditions);
        let (thick, pale) = (shown(mass_tone), shown(tint));
        let value = written(TubeLook::from(look));
        Some(Self {
            mass_tone: thick.hex(),
            tint: pale.hex(),
            duller: thick.duller || pale.duller,
            // A space is a plus there, and nothing else needs another spelling.
            href: value.replace(' ', "+"),
            value,
            title,
        })
    }
}
