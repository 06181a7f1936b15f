//! Finished text of the shelf.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use colour::ScreenColour;
use mixing::typical::Look;
use study::shelf::{HueFamily, Trap, TrapKind, pigment, traps};
use study::{ColourIndexName, Grade, Medium, Tube};
use workshop::{KnownColour, ShelfTube, TubeId};

use super::form::TubeForm;
use super::query::Search;
use crate::draw::{MiniUpright, Paint};
use crate::frame::Frame;
use crate::pages::beside::address;
use crate::pages::fields::FieldErrors;
use crate::pages::paging::Paging;
use crate::pages::plan::first::{Proposal, proposal};
use crate::words::{counted, number, parts};

/// The list of tubes.
#[derive(Template, WebTemplate)]
#[template(path = "shelf/page.html")]
pub(crate) struct ShelfPage {
    frame: Frame,
    search: Search,
    code_error: String,
    families: Vec<String>,
    makers: Vec<String>,
    /// `12 of 19 tubes`; empty where all are shown.
    found: String,
    tubes: Vec<TubeRow>,
    paging: Paging,
    empty: bool,
    /// What to plan first; `None` once there is a trial.
    first: Option<Proposal>,
}

/// Tubes on one page.
const ON_ONE_PAGE: usize = 200;

struct TubeRow {
    id: i64,
    upright: String,
    maker: String,
    line: String,
    name: String,
    codes: Vec<Code>,
    about: String,
    notices: Vec<Notice>,
    mass_tone: String,
    truest: String,
    /// Somebody set its look.
    seen: bool,
}

/// A Colour Index name with what the table says of it.
struct Code {
    name: String,
    chemical: &'static str,
}

/// A trap of the label; one that asks for a comparison leads to it.
struct Notice {
    message: String,
    compare: String,
}

impl ShelfPage {
    pub fn new(
        frame: Frame,
        search: Search,
        tubes: &[ShelfTube],
        known: &HashMap<TubeId, KnownColour>,
    ) -> Result<Self, askama::Error> {
        let frame_is_new = frame.trials.is_empty();
        let labels: Vec<&Tube> = tubes.iter().map(|shelf| &shelf.tube).collect();
        let traps = traps(&labels);
        let hue = |at: usize| known.get(&tubes[at].id).map(KnownColour::hue);
        let places = study::shelf::search(&labels, &search.query(), hue);
        let address = |page| search.address(page);
        let paging = Paging::of(places.len(), search.page, ON_ONE_PAGE, address);
        let rows = paging.part(&places).iter().map(|at| {
            let notices =
                traps[*at].iter().map(|trap| Notice::of(trap, tubes, *at, known)).collect();
            TubeRow::new(&tubes[*at], known.get(&tubes[*at].id), notices)
        });
        let mut makers: Vec<String> = labels.iter().map(|tube| tube.maker.clone()).collect();
        makers.sort();
        makers.dedup();
        makers.retain(|maker| !maker.is_empty());
        Ok(Self {
            frame,
            code_error: search.code_error(),
            families: HueFamily::ALL.iter().map(ToString::to_string).collect(),
            makers,
            found: if search.asks_nothing() {
                String::new()
            } else {
                format!("{} of {}", places.len(), counted(tubes.len(), "tube", "tubes"))
            },
            tubes: rows.collect::<Result<_, _>>()?,
            empty: tubes.is_empty(),
            first: if frame_is_new { proposal(tubes) } else { None },
            paging,
            search,
        })
    }
}

/// Tubes that one comparison starts from; a rack shows so many side by side.
const MOST_COMPARED: usize = 4;

impl Notice {
    fn of(
        trap: &Trap,
        tubes: &[ShelfTube],
        place: usize,
        known: &HashMap<TubeId, KnownColour>,
    ) -> Self {
        let compare = if trap.kind == TrapKind::SamePigmentsOtherMaker {
            let all = [place].into_iter().chain(trap.others.iter().copied()).take(MOST_COMPARED);
            let ids: Vec<TubeId> = all.map(|at| tubes[at].id).collect();
            if ids.iter().all(|id| known.contains_key(id)) {
                address(&ids, "")
            } else {
                // What was never read is tried first.
                let ids: Vec<String> = ids.iter().map(|id| format!("tested={}", id.0)).collect();
                format!("/trials/new?{}", ids.join("&"))
            }
        } else {
            String::new()
        };
        Self { message: trap.message.clone(), compare }
    }
}

impl TubeRow {
    fn new(
        shelf: &ShelfTube,
        known: Option<&KnownColour>,
        notices: Vec<Notice>,
    ) -> Result<Self, askama::Error> {
        let tube = &shelf.tube;
        Ok(Self {
            id: shelf.id.0,
            upright: match known {
                None if !tube.look.is_unset() => seen_upright(&tube.name, tube.look.chosen())?,
                _ => upright(&tube.name, known)?,
            },
            maker: tube.maker.clone(),
            line: tube.line.clone(),
            name: tube.name.clone(),
            codes: tube.codes.iter().map(Code::of).collect(),
            about: about(tube),
            notices,
            seen: !tube.look.is_unset(),
            mass_tone: known
                .and_then(|known| known.mass_tone.as_ref())
                .map_or_else(String::new, |colour| lch(colour.lab)),
            truest: known
                .and_then(|known| known.truest.as_ref())
                .map_or_else(String::new, |(white, colour)| {
                    format!("{}   {}", step(*white), lch(colour.lab))
                }),
        })
    }
}

impl Code {
    fn of(name: &ColourIndexName) -> Self {
        let chemical =
            pigment(name).map_or("not in the built-in table", |pigment| pigment.chemical);
        Self { name: name.to_string(), chemical }
    }
}

/// Grade, medium and what is left, `student · acrylic · 42 of 60 ml`.
fn about(tube: &Tube) -> String {
    let volume = match (tube.left_ml, tube.volume_ml) {
        (Some(left), Some(volume)) => format!("{} of {} ml", parts(left), parts(volume)),
        (Some(left), None) => format!("{} ml left", parts(left)),
        (None, Some(volume)) => format!("{} ml", parts(volume)),
        (None, None) => String::new(),
    };
    let words = [tube.grade.to_string(), tube.medium.to_string(), volume];
    words.into_iter().filter(|word| !word.is_empty()).collect::<Vec<_>>().join(" · ")
}

/// A tube's mass tone and truest tint, small.
pub(crate) fn upright(name: &str, known: Option<&KnownColour>) -> Result<String, askama::Error> {
    let paint = |colour| known.map(|known| Paint::of(colour, known.conditions));
    let mass_tone = known.and_then(|known| known.mass_tone.as_ref()).and_then(paint);
    let truest =
        known.and_then(|known| known.truest.as_ref()).and_then(|(_, colour)| paint(colour));
    let title = match (&mass_tone, &truest) {
        (None, None) => format!("{name}: not read yet"),
        (_, None) => format!("{name}: mass tone"),
        _ => format!("{name}: mass tone above, truest tint below"),
    };
    MiniUpright { title, mass_tone, truest, seen: false }.render()
}

/// The same as somebody saw it, with the tint 1 : 4.
fn seen_upright(name: &str, look: Look) -> Result<String, askama::Error> {
    let paint = |lab| Paint::of_screen(ScreenColour::from_lab(lab, Look::light().conditions));
    let (mass_tone, truest) = (look.mass_tone.map(paint), look.tint.map(paint));
    let title = format!("{name}: not read; mass tone above and a tint below, as you saw them");
    MiniUpright { title, mass_tone, truest, seen: true }.render()
}

fn step(white_parts: f64) -> String {
    if white_parts > 0.0 { format!("1 : {}", parts(white_parts)) } else { "mass tone".into() }
}

/// `L* 27 C* 41 h 284°`, or without the hue near neutral.
fn lch(lab: colour::Lab) -> String {
    let hue = lab.hue().map_or_else(
        || "near neutral".to_owned(),
        |hue| format!("h {}°", number(hue.degrees(), 0)),
    );
    format!("L* {}  C* {}  {hue}", number(lab.l, 0), number(lab.chroma(), 0))
}

/// A new tube, or a known one to be corrected.
#[derive(Template, WebTemplate)]
#[template(path = "shelf/form.html")]
pub(crate) struct FormPage {
    frame: Frame,
    title: &'static str,
    action: String,
    button: &'static str,
    form: TubeForm,
    errors: FieldErrors,
    grades: Vec<String>,
    media: Vec<String>,
    /// What the table says of the codes.
    pigments: Vec<PigmentRow>,
    /// Where recipes for it are found; empty for a new one.
    recipes: String,
}

struct PigmentRow {
    name: String,
    chemical: &'static str,
    family: String,
    cautions: String,
    remark: &'static str,
}

/// What is known of each name of a list; names that cannot be read are left out.
fn pigment_rows(codes: &str) -> Vec<PigmentRow> {
    let names = ColourIndexName::parse_list(codes).unwrap_or_default();
    let known = names.iter().filter_map(pigment);
    known
        .map(|pigment| PigmentRow {
            name: pigment.name.to_string(),
            chemical: pigment.chemical,
            family: pigment.family.to_string(),
            cautions: pigment
                .cautions
                .iter()
                .map(ToString::to_string)
                .collect::<Vec<_>>()
                .join(", "),
            remark: pigment.remark,
        })
        .collect()
}

impl FormPage {
    pub fn new(frame: Frame, id: Option<TubeId>, form: TubeForm) -> Self {
        let (title, button) = match id {
            None => ("New tube", "Save tube"),
            Some(_) => ("Edit tube", "Save tube"),
        };
        Self {
            frame,
            title,
            action: id.map_or_else(|| "/shelf".into(), |id| format!("/shelf/{}", id.0)),
            button,
            recipes: id.map_or_else(String::new, |id| format!("/decide/recipe?tube={}", id.0)),
            pigments: pigment_rows(&form.codes),
            form,
            errors: FieldErrors::default(),
            grades: Grade::ALL.iter().map(ToString::to_string).collect(),
            media: Medium::ALL.iter().map(ToString::to_string).collect(),
        }
    }

    pub fn with(self, errors: FieldErrors) -> Self {
        Self { errors, ..self }
    }
}
