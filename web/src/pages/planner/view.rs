//! Finished text of the planner.

use askama::Template;
use askama_web::WebTemplate;
use colour::{Illuminant, Observer};
use mixing::Sheen;
use sheet::Paper;
use store::{Palette, TrialId};
use study::Basis;

use super::cost::CostPanel;
use super::form::PlanForm;
use super::request::NAMELESS;
use crate::frame::Frame;
use crate::pages::fields::FieldErrors;
use crate::pages::names::TubeNames;

/// The planner.
#[derive(Template, WebTemplate)]
#[template(path = "planner/page.html")]
pub(crate) struct PlannerPage {
    frame: Frame,
    form: PlanForm,
    errors: FieldErrors,
    /// Names of the tubes on the shelf.
    tubes: Vec<String>,
    palettes: Vec<(String, String)>,
    /// What the chosen palette holds.
    palette_holds: String,
    ladders: Vec<LadderFields>,
    bases: Vec<String>,
    papers: Vec<String>,
    sheens: Vec<String>,
    illuminants: Vec<String>,
    observers: Vec<String>,
    panel: String,
    action: String,
    leave: String,
    title: &'static str,
    button: &'static str,
    few_tubes: bool,
}

/// One row of the ladders.
struct LadderFields {
    field: String,
    from: String,
    to: String,
    third: String,
    share: String,
}

impl PlannerPage {
    pub fn new(
        frame: Frame,
        form: PlanForm,
        names: &TubeNames<'_>,
        (palettes, chosen): (Vec<Palette>, Option<Palette>),
        panel: &CostPanel,
        changes: Option<TrialId>,
    ) -> Result<Self, askama::Error> {
        let mut offered: Vec<(String, String)> =
            palettes.iter().map(|palette| (palette.id.0.to_string(), title(palette))).collect();
        if let Some(palette) = &chosen
            && palettes.iter().all(|known| known.id != palette.id)
        {
            offered.push((palette.id.0.to_string(), title(palette)));
        }
        let row = |at: usize| LadderFields {
            field: format!("ladder-{at}"),
            from: form.ladder_from.get(at).cloned().unwrap_or_default(),
            to: form.ladder_to.get(at).cloned().unwrap_or_default(),
            third: form.ladder_third.get(at).cloned().unwrap_or_default(),
            share: form
                .ladder_share
                .get(at)
                .filter(|it| !it.is_empty())
                .cloned()
                .unwrap_or_else(|| "20".into()),
        };
        Ok(Self {
            errors: FieldErrors::default(),
            tubes: names.all().to_vec(),
            palette_holds: chosen.map_or_else(String::new, |palette| holds(&palette)),
            ladders: (0..=form.ladder_from.len()).map(row).collect(),
            bases: Basis::ALL.iter().map(ToString::to_string).collect(),
            papers: Paper::ALL.map(|it| it.to_string()).into(),
            sheens: [Sheen::Gloss, Sheen::Satin, Sheen::Matt].map(|it| it.to_string()).into(),
            illuminants: [Illuminant::D65, Illuminant::D50, Illuminant::A]
                .map(|it| it.to_string())
                .into(),
            observers: [Observer::Ten, Observer::Two].map(|it| it.to_string()).into(),
            panel: panel.render()?,
            action: changes
                .map_or_else(|| "/trials".into(), |id| format!("/trials/{}/change", id.0)),
            leave: changes.map_or_else(|| "/trials".into(), |id| format!("/trials/{}/plan", id.0)),
            title: if changes.is_some() { "Change the plan" } else { "Plan a trial" },
            button: if changes.is_some() { "Save changes" } else { "Save plan" },
            few_tubes: names.all().len() < 2,
            palettes: offered,
            frame,
            form,
        })
    }

    pub fn with(self, errors: FieldErrors) -> Self {
        Self { errors, ..self }
    }

    /// Once the form was sent, a trial without a name is a mistake.
    pub fn unnamed_is_wrong(mut self) -> Self {
        if self.form.name.trim().is_empty() {
            self.errors.add("name", NAMELESS);
        }
        self
    }
}

fn title(palette: &Palette) -> String {
    let version =
        if palette.version > 1 { format!(", version {}", palette.version) } else { String::new() };
    format!("{}{version}", palette.name)
}

fn holds(palette: &Palette) -> String {
    let names: Vec<&str> =
        palette.colours().into_iter().map(|tube| tube.tube.name.as_str()).collect();
    let white = palette
        .white()
        .map_or_else(|| "no white".to_owned(), |white| format!("and {}", white.tube.name));
    format!("{} {white}", names.join(", "))
}
