//! From a form to a whole plan: the shelf, the palette and earlier readings brought together.

use plan::{PileKind, Plan};
use store::{NewTrial, Palette, ShelfTube, Store, StoreError, TrialPlan, TrialSummary};
use study::{Basis, State, Tube, TubeLabel};

use super::asked::{Asked, Context, field_of_layout};
use super::cost::{CostPanel, Planned};
use super::form::PlanForm;
use crate::error::PageError;
use crate::known::Knowledge;
use crate::pages::fields::FieldErrors;
use crate::pages::names::TubeNames;
use crate::state::AppState;

/// A plan with all that it was made from.
#[derive(Debug)]
pub(crate) struct Worked {
    pub asked: Asked,
    pub knowledge: Knowledge,
    pub plan: Plan,
    /// Sheets of paper.
    pub sheets: usize,
}

impl Worked {
    /// What it costs, beside the choices.
    pub fn cost(&self) -> Result<CostPanel, askama::Error> {
        let tubes: Vec<&Tube> = self.asked.tubes.iter().map(|(tube, _)| &tube.tube).collect();
        CostPanel::of(Planned {
            plan: &self.plan,
            tubes: &tubes,
            white: self.asked.design.white,
            sheets: self.sheets,
            knowledge: &self.knowledge,
        })
    }

    /// The trial to be stored.
    pub fn into_trial(self) -> NewTrial {
        let pile_g = smallest_pile(&self.plan, &self.asked);
        let Asked { name, tubes, design, mut circumstances, palette, paper, .. } = self.asked;
        circumstances.protocol.pile_g = pile_g;
        NewTrial {
            name,
            tubes: tubes.into_iter().map(|(tube, role)| (tube.id, role)).collect(),
            circumstances,
            plan: TrialPlan { palette, paper, design: design.into(), plan: self.plan.into() },
        }
    }
}

/// Grams of the smallest pile, by which the figures' ratio error goes; `None` where nothing is
/// weighed.
fn smallest_pile(plan: &Plan, asked: &Asked) -> Option<f64> {
    let weighed = asked.design.supply.measure == Basis::Weight;
    let kept = |kind: PileKind| matches!(kind, PileKind::Mixture | PileKind::Tint);
    let totals = plan.piles.iter().filter(|pile| kept(pile.kind)).map(plan::Pile::total);
    totals.min_by(f64::total_cmp).filter(|_| weighed)
}

/// The palette that a form names.
pub(crate) async fn palette_of(
    store: &Store,
    form: &PlanForm,
) -> Result<Option<Palette>, PageError> {
    match form.palette_id() {
        None => Ok(None),
        Some(id) => match store.palette(id).await {
            Ok(palette) => Ok(Some(palette)),
            Err(StoreError::NotFound(_)) => Ok(None),
            Err(error) => Err(error.into()),
        },
    }
}

/// Works out what a form asks for, or says what is wrong at which field.
pub(crate) async fn work_out(
    app: &AppState,
    form: &PlanForm,
    shelf: &[ShelfTube],
    trials: &[TrialSummary],
) -> Result<Result<Worked, FieldErrors>, PageError> {
    let palette = palette_of(&app.store, form).await?;
    let names = TubeNames::new(shelf);
    // One that is away says what it is when it first answers.
    let meter = app.about_meter().filter(|meter| meter.met);
    let context = Context { names: &names, palette: palette.as_ref(), meter: meter.as_ref() };
    let asked = match form.asked(&context) {
        Ok(asked) => asked,
        Err(errors) => return Ok(Err(errors)),
    };
    let tubes: Vec<ShelfTube> = asked.tubes.iter().map(|(tube, _)| tube.clone()).collect();
    let white = asked.design.white.map(|white| tubes[white.0].id);
    let circumstances = &asked.circumstances;
    let light = (circumstances.conditions, circumstances.protocol.surface(None));
    let knowledge = app.knowledge(trials, tubes, white, light, State::Dry).await?;
    let worked = tokio::task::spawn_blocking(move || plan(asked, knowledge)).await;
    worked.map_err(|error| PageError::Planning(error.to_string()))
}

fn plan(asked: Asked, knowledge: Knowledge) -> Result<Worked, FieldErrors> {
    let mut errors = FieldErrors::default();
    let left: Vec<Option<f64>> = asked.tubes.iter().map(|(tube, _)| tube.tube.left_ml).collect();
    let plan = match Plan::new(&asked.design, &knowledge.prior, &left) {
        Ok(plan) => plan,
        Err(error) => {
            errors.add(&asked.field_of(&error), error.to_string());
            return Err(errors);
        }
    };
    let labels: Vec<TubeLabel> = asked.tubes.iter().map(|(tube, _)| tube.tube.label()).collect();
    let side = asked.design.supply.film.side_mm;
    match sheet::lay_out(&plan, &labels, asked.design.white, asked.paper, side) {
        Ok(sheets) => Ok(Worked { sheets: sheets.len(), asked, knowledge, plan }),
        Err(error) => {
            errors.add(field_of_layout(&error), error.to_string());
            Err(errors)
        }
    }
}
