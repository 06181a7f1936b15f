//! A recipe sent to the bench, and what to add to its pile.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Query;
use bench::{BenchEvent, BesideAim, Look};
use decide::Seen;
use serde::Deserialize;
use study::{CLOSE, VISIBLE};
use workshop::{
    Aim, Corrected, OpenTrial, RecipeAsked, RecipeRequest, TrialId, TrialRequest, TubeId, Workshop,
    WorkshopError,
};

use super::{looks, names};
use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::pages::names::told_apart;
use crate::posted::Posted;
use crate::words::number;

/// A recipe: tubes with their parts, and the aim as fields of an address.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct MixForm {
    tube: Vec<i64>,
    parts: Vec<f64>,
    white: f64,
    aim: String,
}

const NO_AIM: &str = "this trial was not made from a recipe: there is nothing to aim at";

fn is_amount(parts: f64) -> bool {
    parts.is_finite() && parts > 0.0 && parts < 1e6
}

impl MixForm {
    /// Its tubes with their parts; what is no amount is left out.
    fn tubes(&self) -> Vec<(TubeId, f64)> {
        let pairs = self.tube.iter().zip(&self.parts).filter(|(_, parts)| is_amount(**parts));
        pairs.map(|(tube, parts)| (TubeId(*tube), *parts)).collect()
    }
}

/// Plans a trial of one pile, and goes to the bench.
pub(crate) async fn mix(
    State(app): State<Workshop>,
    Posted { form, once }: Posted<MixForm>,
) -> Result<Redirect, PageError> {
    let (shelf, trials) = (app.shelf().await?, app.trials().await?);
    let known = app.known_shelf(&trials, &shelf).await?;
    let mut parts = form.tubes();
    // Four, and two that were added.
    if parts.is_empty() || parts.len() > decide::MOST_COLOURS + 2 {
        let why =
            "a pile takes one to six colours, each with its parts: choose a recipe of the list";
        return Err(WorkshopError::NotNow(why.into()).into());
    }
    let white = known.white.as_ref().map(|it| it.id);
    parts.extend(white.filter(|_| is_amount(form.white)).map(|white| (white, form.white)));
    let aim = aim_of(&app, &form.aim).await?;
    let with_tint = matches!(aim.aim, Aim::Tube(_));
    let name = format!("Recipe for {}", names::aim(&aim.aim, &known));
    let request = app.recipe_trial(&name, &parts, white, &aim.as_fields(), with_tint);
    start(&app, request, once.as_deref(), "bench").await
}

/// What a recipe is to look like, from the fields of an address.
async fn aim_of(app: &Workshop, fields: &str) -> Result<RecipeRequest, PageError> {
    let palettes = app.palettes().await?;
    let request =
        RecipeAsked::from_fields(fields).request(&palettes).map_err(WorkshopError::NotNow)?;
    Ok(request.ok_or_else(|| WorkshopError::NotNow(NO_AIM.into()))?)
}

/// Plans a trial of a grey in equal steps of value.
pub(crate) async fn ladder(
    State(app): State<Workshop>,
    Posted { form, once }: Posted<MixForm>,
) -> Result<Redirect, PageError> {
    let (shelf, trials) = (app.shelf().await?, app.trials().await?);
    let known = app.known_shelf(&trials, &shelf).await?;
    let request = app.grey_ladder(&known, &form.tubes())?;
    start(&app, request, once.as_deref(), "plan").await
}

/// Starts a trial, and goes to one of its pages.
async fn start(
    app: &Workshop,
    request: TrialRequest,
    once: Option<&str>,
    page: &str,
) -> Result<Redirect, PageError> {
    let id = app.once(once).plan_trial(request).await?;
    Ok(Redirect::to(&format!("/trials/{}/{page}", id.0)))
}

/// What the eye says.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct SeenAsked {
    seen: Vec<String>,
}

/// Whether a recipe looks the same as what it was mixed for.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct BesideForm {
    beside: String,
}

/// Records of all squares of a recipe how they look beside their target.
pub(crate) async fn beside(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Posted { form, once }: Posted<BesideForm>,
) -> Result<Redirect, PageError> {
    let beside: BesideAim = form
        .beside
        .parse()
        .map_err(|error: colour::UnknownName| PageError::Form(error.to_string()))?;
    let trial = app.trial(TrialId(id)).await?;
    let squares = trial.recipe_squares();
    if squares.is_empty() {
        return Err(WorkshopError::NotNow(NO_AIM.into()).into());
    }
    let seen = |swatch| BenchEvent::Seen { swatch, look: Look::Beside(beside) };
    let events: Vec<BenchEvent> = squares.into_iter().map(seen).collect();
    app.record_all(trial.id, &events, once.as_deref()).await?;
    Ok(Redirect::to(&format!("/decide/correct/{id}")))
}

/// What to add to a recipe's pile.
pub(crate) async fn page(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(asked): Query<SeenAsked>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let frame = Frame::load(&app, Room::Decide, Some(trial.id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    let aim = trial.plan.as_ref().map(|plan| plan.design.aim.clone()).unwrap_or_default();
    let request = aim_of(&app, &aim).await?;
    let seen: Vec<Seen> = Seen::ALL
        .into_iter()
        .filter(|it| asked.seen.iter().any(|word| word == it.words()))
        .collect();
    match app.corrected(&frame.trials, trial.id, &request, seen.clone()).await {
        Ok(found) => {
            let by_eye = ByEye::of(&trial);
            let page = CorrectPage::new((frame, heading), &found, (&aim, &seen), by_eye)?;
            Ok(page.into_response())
        }
        Err(WorkshopError::NotNow(why)) => {
            let page = CorrectPage::nothing(frame, heading, why);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
        Err(error) => Err(error.into()),
    }
}

/// What to add.
#[derive(Template, WebTemplate)]
#[template(path = "decide/correct.html")]
struct CorrectPage {
    frame: Frame,
    heading: Heading,
    why: String,
    /// Its own address.
    here: String,
    finding: String,
    evidence: String,
    svg: String,
    /// Words, and whether they were said.
    seen: Vec<(&'static str, bool)>,
    touches: Vec<String>,
    was_said: bool,
    /// Tubes and parts of the pile with what is added to it, and the white's.
    then: Option<(Vec<(i64, String)>, String)>,
    aim: String,
    by_eye: ByEye,
}

/// What was said of a recipe beside its target.
#[derive(Debug, Default, PartialEq)]
struct ByEye {
    /// Every square of it is painted.
    can_be_said: bool,
    /// What was said last.
    said: Option<String>,
    /// Nobody could tell it from its target.
    is_same: bool,
}

impl ByEye {
    fn of(trial: &OpenTrial) -> Self {
        let squares = trial.recipe_squares();
        let square = |number: &plan::CellNumber| trial.run()?.square(*number);
        let is_painted =
            |number: &plan::CellNumber| square(number).is_some_and(|it| it.laid.is_some());
        let said = squares.first().and_then(square).and_then(|it| it.looks.beside);
        Self {
            can_be_said: !squares.is_empty() && squares.iter().all(is_painted),
            said: said.map(|it| it.to_string()),
            is_same: said == Some(BesideAim::Same),
        }
    }
}

impl CorrectPage {
    fn nothing(frame: Frame, heading: Heading, why: String) -> Self {
        Self {
            frame,
            here: String::new(),
            heading,
            why,
            finding: "What to add?".into(),
            evidence: String::new(),
            svg: String::new(),
            seen: Vec::new(),
            touches: Vec::new(),
            was_said: false,
            then: None,
            aim: String::new(),
            by_eye: ByEye::default(),
        }
    }

    fn new(
        (frame, heading): (Frame, Heading),
        found: &Corrected,
        (aim, seen): (&str, &[Seen]),
        by_eye: ByEye,
    ) -> Result<Self, askama::Error> {
        let names = told_apart(&found.known.tubes);
        let then = found.then().map(|(tubes, white)| {
            let part = |parts: f64| format!("{parts:.5}");
            (tubes.iter().map(|(tube, parts)| (tube.0, part(*parts))).collect(), part(white))
        });
        Ok(Self {
            frame,
            here: heading.correct.clone(),
            heading,
            why: String::new(),
            finding: match by_eye.is_same && off(found).is_none() {
                true => "By eye it is there: no difference was seen.".into(),
                false => finding(found, &names),
            },
            evidence: evidence(found),
            svg: svg(found)?,
            seen: Seen::ALL.iter().map(|it| (it.words(), seen.contains(it))).collect(),
            touches: touch_lines(found, &names),
            was_said: !seen.is_empty(),
            then,
            aim: aim.to_owned(),
            by_eye,
        })
    }
}

/// `Add 0.12 g of Lantern Yellow and 0.40 g of Workshop Titanium.`
fn finding(found: &Corrected, names: &[String]) -> String {
    let Some(far) = off(found) else {
        return "Read the pile, or say how it looks beside its target.".into();
    };
    let wet = if found.is_wet { " It was read wet, and dries otherwise." } else { "" };
    let Some(addition) = &found.addition else {
        return match far {
            far if far < VISIBLE => {
                format!("It is there: ΔE00 {}. Nothing to add.{wet}", number(far, 1))
            }
            far if far < CLOSE => format!(
                "It is close: ΔE00 {}. Nothing of these tubes brings it nearer.{wet}",
                number(far, 1)
            ),
            far => format!(
                "Nothing of these tubes brings it nearer than ΔE00 {}.{wet}",
                number(far, 1)
            ),
        };
    };
    let tubes = addition
        .tubes
        .iter()
        .map(|(place, parts)| format!("{} of {}", found.amount_of(*parts), names[*place]));
    let white = found.known.white.as_ref().filter(|_| addition.white > 0.0);
    let white = white.map(|it| format!("{} of {}", found.amount_of(addition.white), it.tube.name));
    let all: Vec<String> = tubes.chain(white).collect();
    format!("Add {}.{wet}", all.join(" and "))
}

/// Root mean square of ΔE00 over the looks that were read.
fn off(found: &Corrected) -> Option<f64> {
    let squares: Vec<f64> = found.read.iter().flatten().map(|it| it.1 * it.1).collect();
    let count = squares.len();
    (count > 0).then(|| (squares.into_iter().sum::<f64>() / count as f64).sqrt())
}

fn evidence(found: &Corrected) -> String {
    if off(found).is_none() {
        return "What a touch of each tube does is predicted from K and S.".into();
    }
    let words = ["alone", "with white 1 : 4"];
    let read = found
        .read
        .iter()
        .zip(words)
        .filter_map(|(read, word)| Some(format!("{} {word}", number((*read)?.1, 1))));
    let read = format!("Read ΔE00 {} off.", read.collect::<Vec<_>>().join(" and "));
    let Some(addition) = &found.addition else { return read };
    let pile = match found.amount {
        Some(amount) if found.measure == study::Basis::Weight => {
            format!(" For the whole pile of {} g: take off what was painted.", number(amount, 1))
        }
        _ => String::new(),
    };
    let names = told_apart(&found.known.tubes);
    let small = addition.tubes.iter().filter_map(|(place, parts)| {
        let of = &names[*place];
        let much = found.let_down(*parts)?;
        Some(format!(" So little of {of} cannot be weighed: mix it 1 : 9 with the pile, and add {much} of that."))
    });
    let pile = format!("{pile}{}", small.collect::<String>());
    format!("{read} Predicted to come within {}.{pile}", number(addition.after, 1))
}

/// Target and pile edge to edge, each look as it was read; predicted, where it was not.
fn svg(found: &Corrected) -> Result<String, askama::Error> {
    let pile = found.target.looks.iter().zip(&found.read).map(|(look, read)| match read {
        Some((lab, _)) => Some((*lab, false)),
        None => {
            let told = found.known.paints.colour(&found.pile.tinted(look.at.white()));
            told.map(|lab| (lab, true))
        }
    });
    let names = ["the target", "the pile"];
    looks::svg(names, &found.target, pile, found.known.paints.conditions)
}

/// `a touch of Lantern Yellow`, the straightest first.
fn touch_lines(found: &Corrected, names: &[String]) -> Vec<String> {
    const TOLD: usize = 4;
    let name = |tube: Option<usize>| match tube {
        Some(place) => names[place].clone(),
        None => {
            found.known.white.as_ref().map_or_else(|| "white".into(), |it| it.tube.name.clone())
        }
    };
    let line = |touch: &decide::Touch| {
        let much = number(1.0 / touch.parts.max(1e-6), 0);
        let way = match touch.straight {
            straight if straight > 0.85 => "straight there",
            straight if straight > 0.6 => "mostly the right way",
            _ => "partly the right way",
        };
        format!(
            "A touch of {}, 1 part to about {much} of the pile ({}): {way}.",
            name(touch.tube),
            found.amount_of(touch.parts)
        )
    };
    found.touches.iter().take(TOLD).map(line).collect()
}
