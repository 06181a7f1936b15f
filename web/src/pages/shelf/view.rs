//! Finished text of the shelf.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use store::{ShelfTube, TubeId};
use trial::{Grade, Medium};

use super::form::TubeForm;
use crate::draw::{MiniUpright, Paint};
use crate::frame::Frame;
use crate::judged::KnownColour;
use crate::pages::fields::FieldErrors;
use crate::words::{number, parts};

/// The list of tubes.
#[derive(Template, WebTemplate)]
#[template(path = "shelf/page.html")]
pub(crate) struct ShelfPage {
    frame: Frame,
    tubes: Vec<TubeRow>,
}

struct TubeRow {
    id: i64,
    upright: String,
    maker: String,
    line: String,
    name: String,
    codes: String,
    about: String,
    mass_tone: String,
    truest: String,
}

impl ShelfPage {
    pub fn new(
        frame: Frame,
        tubes: &[ShelfTube],
        known: &HashMap<TubeId, KnownColour>,
    ) -> Result<Self, askama::Error> {
        let rows = tubes.iter().map(|tube| TubeRow::new(tube, known.get(&tube.id)));
        Ok(Self { frame, tubes: rows.collect::<Result<_, _>>()? })
    }
}

impl TubeRow {
    fn new(shelf: &ShelfTube, known: Option<&KnownColour>) -> Result<Self, askama::Error> {
        let tube = &shelf.tube;
        let volume = tube.volume_ml.map(|volume| format!("{} ml", parts(volume)));
        let about = [Some(tube.grade.to_string()), Some(tube.medium.to_string()), volume];
        Ok(Self {
            id: shelf.id.0,
            upright: upright(&tube.name, known)?,
            maker: tube.maker.clone(),
            line: tube.line.clone(),
            name: tube.name.clone(),
            codes: tube.code(),
            about: about.into_iter().flatten().collect::<Vec<_>>().join(" · "),
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

fn upright(name: &str, known: Option<&KnownColour>) -> Result<String, askama::Error> {
    let paint = |colour| known.map(|known| Paint::of(colour, known.conditions));
    let mass_tone = known.and_then(|known| known.mass_tone.as_ref()).and_then(paint);
    let truest =
        known.and_then(|known| known.truest.as_ref()).and_then(|(_, colour)| paint(colour));
    let title = match (&mass_tone, &truest) {
        (None, None) => format!("{name}: not read yet"),
        (_, None) => format!("{name}: mass tone"),
        _ => format!("{name}: mass tone above, truest tint below"),
    };
    MiniUpright { title, mass_tone, truest }.render()
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
}

impl FormPage {
    pub fn new(frame: Frame, id: Option<TubeId>, form: TubeForm) -> Self {
        let (title, button) = match id {
            None => ("A new tube", "Put it on the shelf"),
            Some(_) => ("Correct a tube", "Keep the correction"),
        };
        Self {
            frame,
            title,
            action: id.map_or_else(|| "/shelf".into(), |id| format!("/shelf/{}", id.0)),
            button,
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
