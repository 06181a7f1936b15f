//! Finished text of the palettes.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use study::Tube;
use study::palette::{PaletteRole, School, palette_remarks};
use workshop::{KnownColour, Palette, ShelfTube, TubeId};

use super::form::{PaletteForm, Understood};
use crate::draw::{MiniUpright, Paint};
use crate::frame::Frame;
use crate::pages::fields::FieldErrors;
use crate::pages::names::TubeNames;
use crate::words::counted;

/// Tubes that are offered for a role.
const MOST_OFFERED: usize = 3;

/// Every palette.
#[derive(Template, WebTemplate)]
#[template(path = "palettes/list.html")]
pub(crate) struct ListPage {
    frame: Frame,
    palettes: Vec<PaletteRow>,
}

struct PaletteRow {
    id: i64,
    name: String,
    about: String,
    tubes: Vec<TubeCell>,
    remarks: Vec<String>,
}

/// A tube in its role.
struct TubeCell {
    upright: String,
    name: String,
    role: &'static str,
}

impl ListPage {
    pub fn new(
        frame: Frame,
        palettes: &[Palette],
        known: &HashMap<TubeId, KnownColour>,
    ) -> Result<Self, askama::Error> {
        let row = |palette: &Palette| -> Result<PaletteRow, askama::Error> {
            let understood = Understood {
                filled: palette.tubes.iter().map(|(role, tube)| (*role, tube)).collect(),
                errors: FieldErrors::default(),
            };
            let trials = usize::try_from(palette.trials).unwrap_or_default();
            Ok(PaletteRow {
                id: palette.id.0,
                name: palette.name.clone(),
                about: format!(
                    "{} · version {} · {}",
                    palette.school.title(),
                    palette.version,
                    if trials == 0 {
                        "no trial uses it yet".into()
                    } else {
                        format!("used by {}", counted(trials, "trial", "trials"))
                    }
                ),
                tubes: cells(&understood, known)?,
                remarks: remarks(palette.school, &understood, known),
            })
        };
        Ok(Self { palettes: palettes.iter().map(row).collect::<Result<_, _>>()?, frame })
    }
}

/// What is missing, doubled or crossed, and how the palette looks.
#[derive(Template, WebTemplate)]
#[template(path = "palettes/check.html")]
pub(crate) struct CheckPanel {
    verdict: String,
    remarks: Vec<String>,
    tubes: Vec<TubeCell>,
    errors: Vec<(String, String)>,
}

impl CheckPanel {
    pub fn new(
        form: &PaletteForm,
        understood: &Understood<'_>,
        known: &HashMap<TubeId, KnownColour>,
    ) -> Result<Self, askama::Error> {
        let remarks = remarks(form.school, understood, known);
        let verdict = match (remarks.len(), understood.filled.len()) {
            (_, 0) => "Nothing chosen yet.".to_owned(),
            (0, _) => "Every role is filled once.".to_owned(),
            (count, _) => format!("{} to look at.", counted(count, "thing", "things")),
        };
        // A name, and the first tube, can wait until the form is sent.
        let waits = |field: &str| field == "name" || understood.filled.is_empty();
        let errors = understood.errors.all().filter(|(field, _)| !waits(field));
        Ok(Self {
            verdict,
            remarks,
            tubes: cells(understood, known)?,
            errors: errors.map(|(field, it)| (field.to_owned(), it.to_owned())).collect(),
        })
    }
}

fn remarks(
    school: School,
    understood: &Understood<'_>,
    known: &HashMap<TubeId, KnownColour>,
) -> Vec<String> {
    let filled = understood.roles(|tube| known.get(&tube.id).and_then(KnownColour::hue));
    palette_remarks(school, &filled).iter().map(ToString::to_string).collect()
}

fn cells(
    understood: &Understood<'_>,
    known: &HashMap<TubeId, KnownColour>,
) -> Result<Vec<TubeCell>, askama::Error> {
    let cell = |(role, tube): &(PaletteRole, &ShelfTube)| {
        Ok(TubeCell {
            upright: upright(&tube.tube.name, known.get(&tube.id))?,
            name: tube.tube.name.clone(),
            role: role.title(),
        })
    };
    understood.filled.iter().map(cell).collect()
}

fn upright(name: &str, known: Option<&KnownColour>) -> Result<String, askama::Error> {
    let paint = |colour| known.map(|known| Paint::of(colour, known.conditions));
    MiniUpright {
        title: name.to_owned(),
        mass_tone: known.and_then(|known| known.mass_tone.as_ref()).and_then(paint),
        truest: known.and_then(|known| known.truest.as_ref()).and_then(|(_, colour)| paint(colour)),
        seen: false,
    }
    .render()
}

/// A new palette, or one that exists.
pub(crate) enum Standing {
    New,
    Known(Palette),
}

/// A palette to be filled in.
#[derive(Template, WebTemplate)]
#[template(path = "palettes/form.html")]
pub(crate) struct FormPage {
    frame: Frame,
    form: PaletteForm,
    schools: Vec<(String, &'static str, bool)>,
    roles: Vec<RoleField>,
    tubes: Vec<String>,
    errors: FieldErrors,
    panel: String,
    action: String,
    title: &'static str,
    /// What sending it does, where a trial has used it.
    standing: String,
    /// A later version exists: nothing can be changed here.
    replaced: bool,
    new: bool,
}

struct RoleField {
    field: String,
    name: String,
    title: &'static str,
    value: String,
    offered: Vec<String>,
}

impl FormPage {
    /// Roles that stand on the page at once: a long free palette is folded.
    const SHOWN: usize = 9;

    fn more_are_filled(roles: &[RoleField]) -> bool {
        roles.iter().skip(Self::SHOWN).any(|role| !role.value.trim().is_empty())
    }

    pub fn new(
        frame: Frame,
        form: PaletteForm,
        (shelf, names): (&[ShelfTube], &TubeNames<'_>),
        panel: &CheckPanel,
        standing: &Standing,
    ) -> Result<Self, askama::Error> {
        let roles = form.school.roles();
        let role = |(at, (role, value)): (usize, (&PaletteRole, &String))| RoleField {
            field: format!("role-{at}"),
            name: role.to_string(),
            title: role.title(),
            value: value.clone(),
            offered: if *role == PaletteRole::Any {
                Vec::new()
            } else {
                offered(*role, shelf, names)
            },
        };
        let (action, title, words, replaced) = match standing {
            Standing::New => ("/palettes".to_owned(), "New palette", String::new(), false),
            Standing::Known(palette) => (
                format!("/palettes/{}", palette.id.0),
                "Change the palette",
                used(palette),
                palette.replaced_by.is_some(),
            ),
        };
        Ok(Self {
            schools: School::ALL
                .iter()
                .map(|school| (school.to_string(), school.title(), *school == form.school))
                .collect(),
            roles: roles.iter().zip(&form.tubes).enumerate().map(role).collect(),
            tubes: names.all().to_vec(),
            errors: FieldErrors::default(),
            panel: panel.render()?,
            action,
            title,
            standing: words,
            replaced,
            new: matches!(standing, Standing::New),
            frame,
            form,
        })
    }

    pub fn with(self, errors: FieldErrors) -> Self {
        Self { errors, ..self }
    }
}

fn used(palette: &Palette) -> String {
    let trials = usize::try_from(palette.trials).unwrap_or_default();
    if palette.replaced_by.is_some() {
        "This version has been replaced: it is kept for the trials that used it.".into()
    } else if trials > 0 {
        format!(
            "{} this version, so it stays as it is: your changes make version {}.",
            if trials == 1 { "One trial uses".into() } else { format!("{trials} trials use") },
            palette.version + 1
        )
    } else {
        String::new()
    }
}

/// Tubes whose first pigment suits a role, single pigments first.
fn offered(role: PaletteRole, shelf: &[ShelfTube], names: &TubeNames<'_>) -> Vec<String> {
    let suits = |tube: &&ShelfTube| role.suits(&tube.tube.codes) == Some(true);
    let mut tubes: Vec<&ShelfTube> = shelf.iter().filter(suits).collect();
    tubes.sort_by_key(|tube| several_pigments(&tube.tube));
    tubes.iter().take(MOST_OFFERED).map(|tube| names.of(tube.id)).collect()
}

fn several_pigments(tube: &Tube) -> bool {
    tube.codes.len() > 1
}
