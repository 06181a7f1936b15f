//! Finished text of the planner.

use askama::Template;
use askama_web::WebTemplate;
use colour::{Illuminant, Observer};
use mixing::Sheen;
use plan::Question;
use sheet::Paper;
use study::Basis;
use workshop::{Palette, TrialId};

use super::cost::CostPanel;
use super::form::PlanForm;
use super::pace::PlanPace;
use super::presets::{self, Presets};
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
    asks: Vec<Ask>,
    paces: [(&'static str, &'static str); 3],
    /// Names of the tubes on the shelf.
    tubes: Vec<String>,
    palettes: Vec<(String, String)>,
    /// What the chosen palette holds.
    palette_holds: String,
    adjust: String,
    panel: String,
    action: String,
    leave: String,
    title: &'static str,
    button: &'static str,
    few_tubes: bool,
    /// The plan that another page stored meanwhile.
    changed: Option<String>,
}

/// A question that may be chosen, or a kept plan.
struct Ask {
    key: String,
    words: String,
    about: String,
}

/// Everything that has a usual value.
#[derive(Template, WebTemplate)]
#[template(path = "planner/adjust.html")]
pub(crate) struct AdjustPanel {
    form: PlanForm,
    errors: FieldErrors,
    open: bool,
    /// Number of the kept plan that is chosen.
    kept: Option<i64>,
    measured: bool,
    /// The most telling of the choices, in one line.
    digest: String,
    ladders: Vec<LadderFields>,
    tempers: Vec<TemperFields>,
    bases: Vec<String>,
    papers: Vec<String>,
    sheens: Vec<String>,
    illuminants: Vec<String>,
    observers: Vec<String>,
}

/// One row of the ladders.
struct LadderFields {
    field: String,
    from: String,
    to: String,
    third: String,
    share: String,
}

/// One row of the temperings.
struct TemperFields {
    field: String,
    a: String,
    b: String,
    third: String,
}

impl AdjustPanel {
    pub fn new(form: PlanForm, presets: &Presets) -> Self {
        let text = |list: &[String], at: usize| list.get(at).cloned().unwrap_or_default();
        let row = |at: usize| LadderFields {
            field: format!("ladder-{at}"),
            from: text(&form.ladder_from, at),
            to: text(&form.ladder_to, at),
            third: text(&form.ladder_third, at),
            share: Some(text(&form.ladder_share, at))
                .filter(|it| !it.is_empty())
                .unwrap_or_else(|| "20".into()),
        };
        let temper = |at: usize| TemperFields {
            field: format!("temper-{at}"),
            a: text(&form.temper_a, at),
            b: text(&form.temper_b, at),
            third: text(&form.temper_third, at),
        };
        Self {
            errors: FieldErrors::default(),
            open: presets.differs(&form),
            kept: presets.kept_id(&form.question),
            measured: form.repeats.trim() != "0",
            digest: digest(&form),
            ladders: (0..=form.ladder_from.len()).map(row).collect(),
            tempers: (0..=form.temper_a.len()).map(temper).collect(),
            bases: Basis::ALL.iter().map(ToString::to_string).collect(),
            papers: Paper::ALL.map(|it| it.to_string()).into(),
            sheens: [Sheen::Gloss, Sheen::Satin, Sheen::Matt].map(|it| it.to_string()).into(),
            illuminants: [Illuminant::D65, Illuminant::D50, Illuminant::A]
                .map(|it| it.to_string())
                .into(),
            observers: [Observer::Ten, Observer::Two].map(|it| it.to_string()).into(),
            form,
        }
    }
}

/// Steps, tints, measure and paper as they stand.
fn digest(form: &PlanForm) -> String {
    let mixes = !form.star.is_empty() || !form.pairs.is_empty();
    let steps = match form.steps.as_str() {
        "own" => form.own_steps.clone(),
        "even" => format!("{} even steps", form.step_count),
        "doublings" => format!("{} doublings", form.step_count),
        other => other.to_owned(),
    };
    let white = match (form.thinning.as_str(), form.whites_mixed.as_str()) {
        ("water", _) => "water".to_owned(),
        ("none", _) => "no tints".into(),
        (_, whites) if mixes => format!("white 1 : {whites}"),
        _ => format!("white 1 : {}", form.whites_alone),
    };
    let reading = match form.repeats.trim() {
        "0" => "nothing is read".to_owned(),
        count => format!("{count} readings each"),
    };
    let mut words = vec![steps];
    words.retain(|_| mixes);
    words.extend([white, format!("by {}", form.basis), reading, form.paper.clone()]);
    words.join(" · ")
}

impl PlannerPage {
    pub fn new(
        frame: Frame,
        form: PlanForm,
        (names, presets): (&TubeNames<'_>, &Presets),
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
        Ok(Self {
            errors: FieldErrors::default(),
            asks: asks(presets),
            paces: PlanPace::ALL.map(|pace| (pace.key(), pace.label())),
            tubes: names.all().to_vec(),
            palette_holds: chosen.map_or_else(String::new, |palette| holds(&palette)),
            adjust: AdjustPanel::new(form.clone(), presets).render()?,
            panel: panel.render()?,
            action: changes
                .map_or_else(|| "/trials".into(), |id| format!("/trials/{}/change", id.0)),
            leave: changes.map_or_else(|| "/trials".into(), |id| format!("/trials/{}/plan", id.0)),
            title: if changes.is_some() { "Change the plan" } else { "Plan a trial" },
            button: if changes.is_some() { "Save changes" } else { "Save plan" },
            few_tubes: names.all().len() < 2,
            changed: None,
            palettes: offered,
            frame,
            form,
        })
    }

    /// With what another page stored since this one was opened.
    pub fn changed_meanwhile(self, id: TrialId) -> Self {
        Self { changed: Some(format!("/trials/{}/plan", id.0)), ..self }
    }

    /// With what is wrong at its fields; the folded choices open where they hold one.
    pub fn with(self, errors: FieldErrors, presets: &Presets) -> Result<Self, askama::Error> {
        let shown = ["name", "tested", "palette", "white", "reference", ""];
        let folded = errors.all().any(|(field, _)| !shown.contains(&field));
        let panel = AdjustPanel::new(self.form.clone(), presets);
        let open = panel.open || folded;
        let adjust = AdjustPanel { errors: errors.clone(), open, ..panel }.render()?;
        Ok(Self { errors, adjust, ..self })
    }
}

fn asks(presets: &Presets) -> Vec<Ask> {
    let usual = Question::ALL.iter().map(|question| {
        let (words, about) = presets::words(*question);
        Ask { key: question.to_string(), words: words.into(), about: about.into() }
    });
    let own = presets.own.iter().map(|(preset, form)| Ask {
        key: format!("own-{}", preset.id),
        words: preset.name.clone(),
        about: format!("your own: {}", digest(form)),
    });
    usual.chain(own).collect()
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
