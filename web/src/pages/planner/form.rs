//! A trial as it is chosen and typed.

use colour::{Illuminant, Observer};
use mixing::Sheen;
use plan::steps::Steps;
use plan::{Chart, Design, StepChoice, Thinning, Third};
use serde::Deserialize;
use store::{PaletteId, Role, Trial, TrialPlan};
use study::{Basis, Protocol, TubeRef};

use crate::pages::names::TubeNames;
use crate::words::parts;

/// The fields of the planner, as typed. Tubes stand by the name that the planner offers.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(default)]
pub(crate) struct PlanForm {
    pub name: String,
    pub tested: Vec<String>,
    /// Number of the palette; empty for none.
    pub palette: String,
    pub reference: Vec<String>,
    pub white: String,
    pub star: String,
    pub star_third: String,
    pub star_share: String,
    pub ladder_from: Vec<String>,
    pub ladder_to: Vec<String>,
    pub ladder_third: Vec<String>,
    pub ladder_share: Vec<String>,
    pub grid: String,
    pub grid_tube: Vec<String>,
    pub tints: String,
    pub steps: String,
    pub step_count: String,
    pub own_steps: String,
    pub thinning: String,
    pub whites_alone: String,
    pub whites_mixed: String,
    pub anchors: String,
    pub opacity: String,
    pub lift: String,
    pub wet: String,
    pub repeats: String,
    pub alike: String,
    pub basis: String,
    pub resolution: String,
    pub least_pile: String,
    pub places: String,
    pub side_mm: String,
    pub thickness_mm: String,
    pub density: String,
    pub waste: String,
    pub paper: String,
    pub sheen: String,
    pub illuminant: String,
    pub observer: String,
}

/// What a ticked box sends.
pub(crate) const TICKED: &str = "on";

impl Default for PlanForm {
    /// Nothing chosen: what an empty request means, field by field.
    fn default() -> Self {
        let empty = String::new;
        Self {
            name: empty(),
            tested: Vec::new(),
            palette: empty(),
            reference: Vec::new(),
            white: empty(),
            star: empty(),
            star_third: empty(),
            star_share: "20".into(),
            ladder_from: Vec::new(),
            ladder_to: Vec::new(),
            ladder_third: Vec::new(),
            ladder_share: Vec::new(),
            grid: "none".into(),
            grid_tube: Vec::new(),
            tints: "tested".into(),
            steps: "even".into(),
            step_count: "3".into(),
            own_steps: "3:1, 1:1, 1:3".into(),
            thinning: "white".into(),
            whites_alone: "1, 2, 4, 8, 16".into(),
            whites_mixed: "4".into(),
            anchors: empty(),
            opacity: empty(),
            lift: empty(),
            wet: empty(),
            repeats: "3".into(),
            alike: "3".into(),
            basis: Basis::default().to_string(),
            resolution: Protocol::ASSUMED_SCALE_G.to_string(),
            least_pile: empty(),
            places: "12".into(),
            side_mm: "20".into(),
            thickness_mm: "0.15".into(),
            density: "1.3".into(),
            waste: "60".into(),
            paper: "A4".into(),
            sheen: Sheen::default().to_string(),
            illuminant: Illuminant::D65.to_string(),
            observer: Observer::Ten.to_string(),
        }
    }
}

impl PlanForm {
    /// The number of the palette, where the form names one.
    pub fn palette_id(&self) -> Option<PaletteId> {
        self.palette.trim().parse().ok().map(PaletteId)
    }

    /// What a new plan starts from: a star, opacity over black and white, anchors.
    pub fn new() -> Self {
        let ticked = || TICKED.to_owned();
        Self { star: ticked(), opacity: ticked(), anchors: ticked(), ..Self::default() }
    }

    /// A first trial: named, and small enough for an evening.
    pub fn first_trial(self) -> Self {
        Self {
            name: "My first trial".into(),
            whites_alone: "1, 4, 16".into(),
            opacity: String::new(),
            repeats: "1".into(),
            ..self
        }
    }

    /// Without an instrument: nothing is read, mostly the one and mostly the other, put out by eye.
    pub fn by_eye(self) -> Self {
        Self {
            repeats: "0".into(),
            steps: "own".into(),
            own_steps: "4:1, 1:4".into(),
            whites_alone: "1, 4, 16".into(),
            anchors: String::new(),
            opacity: String::new(),
            basis: Basis::Eye.to_string(),
            ..self
        }
    }

    /// What a trial was planned with, to be changed or copied.
    pub fn of(trial: &Trial, planned: &TrialPlan, names: &TubeNames) -> Self {
        let design = &planned.design;
        let tick = |on: bool| if on { TICKED.to_owned() } else { String::new() };
        let name = |tube: TubeRef| names.of(trial.tubes[tube.0].tube.id);
        let film = &design.supply.film;
        let mut form = Self {
            name: trial.name.clone(),
            palette: planned.palette.map_or_else(String::new, |id| id.0.to_string()),
            white: design.white.map_or_else(String::new, name),
            anchors: tick(design.anchors),
            opacity: tick(design.tests.opacity),
            lift: tick(design.tests.lift),
            wet: tick(design.tests.wet),
            repeats: design.repeats.to_string(),
            alike: parts(design.alike),
            basis: design.supply.measure.to_string(),
            resolution: design.supply.resolution.to_string(),
            least_pile: if design.supply.least_pile > 0.0 {
                design.supply.least_pile.to_string()
            } else {
                String::new()
            },
            places: design.supply.places.to_string(),
            side_mm: film.side_mm.to_string(),
            thickness_mm: film.thickness_mm.to_string(),
            density: film.density_g_ml.to_string(),
            waste: parts(100.0 * film.waste),
            paper: planned.paper.to_string(),
            sheen: trial.circumstances.protocol.sheen.to_string(),
            illuminant: trial.circumstances.conditions.illuminant.to_string(),
            observer: trial.circumstances.conditions.observer.to_string(),
            tints: "none".into(),
            ..Self::default()
        };
        form.thin(&design.thinning);
        form.tested = of_role(trial, design, Role::Tested).into_iter().map(name).collect();
        form.reference = of_role(trial, design, Role::Reference).into_iter().map(name).collect();
        for chart in &design.charts {
            form.chart(trial, chart, &name);
        }
        form
    }

    fn thin(&mut self, thinning: &Thinning) {
        match thinning {
            Thinning::White { alone, mixtures } => {
                self.thinning = "white".into();
                self.whites_alone = listed(alone);
                self.whites_mixed = listed(mixtures);
            }
            Thinning::Water => self.thinning = "water".into(),
            Thinning::None => self.thinning = "none".into(),
        }
    }

    fn chart(&mut self, trial: &Trial, chart: &Chart, name: &impl Fn(TubeRef) -> String) {
        match chart {
            Chart::Tints(tubes) => {
                let all = tubes.iter().any(|it| trial.tubes[it.0].role == Role::Reference);
                self.tints = if all { "all" } else { "tested" }.into();
            }
            Chart::Star { steps, third, .. } => {
                self.star = TICKED.into();
                self.steps_of(steps);
                if let Some(Third { tube, share }) = third {
                    self.star_third = name(*tube);
                    self.star_share = parts(100.0 * share);
                }
            }
            Chart::Ladder { from, to, steps, third } => {
                self.ladder_from.push(name(*from));
                self.ladder_to.push(name(*to));
                self.ladder_third.push(third.map_or_else(String::new, |it| name(it.tube)));
                let share = third.map_or_else(String::new, |it| parts(100.0 * it.share));
                self.ladder_share.push(share);
                self.steps_of(steps);
            }
            Chart::Grid { tubes, half } => {
                self.grid = if *half { "half" } else { "full" }.into();
                self.grid_tube = tubes.iter().map(|tube| name(*tube)).collect();
            }
        }
    }

    fn steps_of(&mut self, steps: &StepChoice) {
        self.steps = match steps {
            StepChoice::Even(count) => {
                self.step_count = count.to_string();
                "even"
            }
            StepChoice::Fixed(Steps::Quarters) => "quarters",
            StepChoice::Fixed(Steps::Tenths) => "tenths",
            StepChoice::Fixed(Steps::Doublings(count)) => {
                self.step_count = count.to_string();
                "doublings"
            }
            StepChoice::Fixed(Steps::Own(list)) => {
                let ratios = list.iter().map(|(a, b)| format!("{}:{}", parts(*a), parts(*b)));
                self.own_steps = ratios.collect::<Vec<_>>().join(", ");
                "own"
            }
        }
        .into();
    }
}

/// Tubes that were chosen as tested or as references: those of stars and tints. The ends of a ladder
/// and the tubes of a grid have fields of their own.
fn of_role(trial: &Trial, design: &Design, role: Role) -> Vec<TubeRef> {
    let mut chosen: Vec<TubeRef> = Vec::new();
    for chart in &design.charts {
        match chart {
            Chart::Star { tested, references, .. } => {
                chosen.extend(tested.iter().chain(references))
            }
            Chart::Tints(tubes) => chosen.extend(tubes),
            _ => {}
        }
    }
    chosen.retain(|tube| trial.tubes[tube.0].role == role);
    chosen.sort();
    chosen.dedup();
    chosen
}

fn listed(numbers: &[f64]) -> String {
    numbers.iter().map(|number| parts(*number)).collect::<Vec<_>>().join(", ")
}
