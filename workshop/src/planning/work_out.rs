//! A request to a plan on ruled sheets, and the plan to a trial.

use std::collections::HashMap;
use std::sync::Arc;

use plan::{Naming, Pile, PileKind, Plan};
use sheet::{LAYOUT, Sheet};
use store::{NewTrial, Role, ShelfTube, TrialPlan, TrialSummary, TubeId, called};
use study::numbers::Ratios;
use study::{Basis, State, TubeRef};

use super::naming;
use super::request::{RequestError, RequestPlace, TrialRequest};
use super::resolve::{Resolved, Stock};
use crate::background::off_the_thread;
use crate::comparing::OwnedTwin;
use crate::error::WorkshopError;
use crate::knowledge::Evidence;
use crate::workshop::Workshop;

/// A plan with all that it was made from.
#[derive(Debug)]
pub struct WorkedOut {
    request: TrialRequest,
    resolved: Resolved,
    /// What is known of its tubes.
    pub evidence: Arc<Evidence>,
    /// The plan.
    pub plan: Plan,
    /// The sheets it is painted on.
    pub sheets: Vec<Sheet>,
    /// What the shelf holds that is like the tubes under test.
    pub owned: Vec<OwnedTwin>,
}

impl WorkedOut {
    /// Its tubes, by [`TubeRef`].
    #[must_use]
    pub fn tubes(&self) -> &[(ShelfTube, Role)] {
        &self.resolved.tubes
    }

    /// Its name, or one made of its question and tubes.
    #[must_use]
    pub fn name(&self) -> String {
        match self.request.name.trim() {
            "" => naming::suggested(self.request.question, &self.resolved.tubes),
            name => name.to_owned(),
        }
    }

    /// The white, where there is one.
    #[must_use]
    pub fn white(&self) -> Option<TubeRef> {
        self.resolved.design.white
    }

    /// How its ratios are told.
    #[must_use]
    pub fn ratios(&self) -> Ratios {
        self.resolved.design.ratios
    }

    /// Amounts are put out by eye.
    #[must_use]
    pub fn is_by_eye(&self) -> bool {
        self.resolved.design.is_by_eye()
    }

    /// Its minutes are the user's own, learnt from earlier runs.
    #[must_use]
    pub fn own_pace(&self) -> bool {
        self.resolved.design.pace.is_learned()
    }

    /// The trial to be stored.
    #[must_use]
    pub fn into_trial(self) -> NewTrial {
        let pile_g = self.smallest_pile();
        let name = self.name();
        let Resolved { tubes, design, mut circumstances } = self.resolved;
        circumstances.protocol.pile_g = pile_g;
        NewTrial {
            name,
            tubes: tubes.into_iter().map(|(tube, role)| (tube.id, role)).collect(),
            circumstances,
            plan: TrialPlan {
                palette: self.request.palette,
                paper: self.request.paper,
                design: Arc::new(design),
                plan: Arc::new(self.plan),
                sheets: Arc::new(self.sheets),
                layout: LAYOUT,
                edition: 1,
            },
        }
    }

    /// Grams of the smallest pile, by which the figures' ratio error goes; `None` where nothing is
    /// weighed.
    fn smallest_pile(&self) -> Option<f64> {
        let weighed = self.resolved.design.supply.measure == Basis::Weight;
        let kept = |kind: PileKind| matches!(kind, PileKind::Mixture | PileKind::Tint);
        let piles = self.plan.piles.iter().filter(|pile| kept(pile.kind));
        piles.map(Pile::total).min_by(f64::total_cmp).filter(|_| weighed)
    }
}

impl Workshop {
    /// Works out what is asked for, or tells what of it is in the way.
    ///
    /// # Errors
    /// When the records cannot be read, or the plan cannot be worked out.
    pub async fn work_out(
        &self,
        mut request: TrialRequest,
        shelf: &[ShelfTube],
        trials: &[TrialSummary],
    ) -> Result<Result<WorkedOut, Vec<RequestError>>, WorkshopError> {
        let palette = self.palette_still_there(request.palette).await?;
        request.palette = palette.as_ref().map(|palette| palette.id);
        // One that is away says what it is when it first answers.
        let meter = self.meter_info().filter(|meter| meter.met);
        let by_id: HashMap<TubeId, &ShelfTube> = shelf.iter().map(|tube| (tube.id, tube)).collect();
        let pace = self.pace_of(trials, request.supply.measure, None).await?.factor();
        let stock = Stock { shelf: &by_id, palette: palette.as_ref(), meter: meter.as_ref(), pace };
        let resolved = match Resolved::of(&request, &stock) {
            Ok(resolved) => resolved,
            Err(errors) => return Ok(Err(errors)),
        };
        let tubes: Vec<ShelfTube> = resolved.tubes.iter().map(|(tube, _)| tube.clone()).collect();
        let white = resolved.design.white.map(|white| tubes[white.0].id);
        let own = &resolved.circumstances;
        let light = (own.conditions, own.protocol.surface(None));
        let evidence = self.evidence(trials, tubes, white, light, State::Dry).await?;
        let tested = resolved.tubes.iter().filter(|(_, role)| *role == Role::Tested);
        let tested: Vec<ShelfTube> = tested.map(|(tube, _)| tube.clone()).collect();
        let in_plan: Vec<TubeId> = resolved.tubes.iter().map(|(tube, _)| tube.id).collect();
        let owned = self.owned_twins(trials, shelf, &tested, &in_plan).await?;
        let worked = off_the_thread(move || plan(request, resolved, evidence)).await?;
        Ok(worked.map(|worked| WorkedOut { owned, ..worked }))
    }
}

fn plan(
    request: TrialRequest,
    resolved: Resolved,
    evidence: Arc<Evidence>,
) -> Result<WorkedOut, Vec<RequestError>> {
    let left: Vec<Option<f64>> = resolved.tubes.iter().map(|(tube, _)| tube.tube.left_ml).collect();
    let plan = Plan::new(&resolved.design, &evidence.prior, &left).map_err(|error| {
        vec![RequestError { place: resolved.place_of(&error), message: error.to_string() }]
    })?;
    let naming = Naming {
        tubes: called(resolved.tubes.iter().map(|(tube, _)| tube)),
        white: resolved.design.white,
        ratios: resolved.design.ratios,
    };
    let side = resolved.design.supply.film.side_mm;
    let sheets = sheet::lay_out(&plan, &naming, request.paper, side).map_err(|error| {
        let place = RequestPlace::SquareSide;
        vec![RequestError { place, message: error.to_string() }]
    })?;
    Ok(WorkedOut { request, resolved, evidence, plan, sheets, owned: Vec::new() })
}
