//! What a tube looks like to somebody without a meter: chosen from colours around its typical paint, in two presses.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Path, State};
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::{Form, Query};
use colour::{Lab, ScreenColour};
use mixing::typical::{Look, TypicalPaint, constants_as_seen};
use serde::Deserialize;
use study::{ChosenColour, ColourIndexName, Tube, TubeLook};
use workshop::{TubeId, Workshop};

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

/// What was pressed: both colours, as their numbers.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct Pressed {
    #[serde(default)]
    look: String,
}

impl Pressed {
    fn look(&self) -> Option<TubeLook> {
        let (mass_tone, tint) = self.look.split_once(',')?;
        let (mass_tone, tint) = (mass_tone.parse().ok()?, tint.parse().ok()?);
        Some(TubeLook { mass_tone: Some(mass_tone), tint: Some(tint) })
    }
}

pub(crate) async fn page(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(pressed): Query<Pressed>,
) -> Result<LookPage, PageError> {
    let known = app.tube(TubeId(id)).await?;
    let frame = Frame::load(&app, Room::Shelf, None).await?;
    let pressed = pressed.look();
    let looks = pressed.map_or_else(|| first(&known.tube), |look| look.chosen().nearer());
    Ok(LookPage {
        frame,
        name: known.tube.name.clone(),
        tube: format!("/shelf/{id}"),
        nearer: pressed.is_some(),
        chips: looks
            .into_iter()
            .enumerate()
            .filter_map(|(at, it)| Chip::of(it, title(at, pressed.is_some())))
            .collect(),
        chosen: Chip::of(known.tube.look.chosen(), String::new()),
    })
}

/// Stores a look; none takes back what was chosen before.
pub(crate) async fn choose(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(pressed): Form<Pressed>,
) -> Result<Response, PageError> {
    let known = app.tube(TubeId(id)).await?;
    let look = pressed.look().unwrap_or_default();
    app.change_tube(known.id, &known.tube, &Tube { look, ..known.tube.clone() }).await?;
    Ok(Redirect::to(&format!("/shelf/{id}/look")).into_response())
}

/// Around the typical paint of its label; kinds of colour where that tells nothing.
fn first(tube: &Tube) -> [Look; 9] {
    let white = TypicalPaint::ALL.iter().find(|it| it.name == "PW6").map(TypicalPaint::constants);
    let Some(white) = white else { return [Look::default(); 9] };
    let names = tube.codes.iter().map(ColourIndexName::as_str);
    match constants_as_seen(&tube.name, names, Look::default()) {
        Some(paint) => Look::around(&paint, &white),
        None => Look::families(&white),
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
        let value = format!("{},{}", ChosenColour::of(mass_tone), ChosenColour::of(tint));
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
