//! A trial as it is chosen and typed.

use colour::{Illuminant, Observer};
use mixing::Sheen;
use plan::steps::Steps;
use plan::{Chart, Design, Measures, Pace, Question, StepChoice, Thinning, Third};
use serde::{Deserialize, Serialize};
use study::numbers::Ratios;
use study::{Basis, Medium, Protocol, TubeRef};
use workshop::{PaletteId, Role, Trial, TrialPlan};

use super::pace::PlanPace;
use crate::pages::names::TubeNames;
use crate::words::parts;

/// The fields of the planner, as typed. Tubes stand by the name that the planner offers.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub(crate) struct PlanForm {
    /// What is asked: a question, or a kept plan.
    pub question: String,
    pub pace: String,
    /// Question and pace that the fields were filled in for.
    pub was_question: String,
    pub was_pace: String,
    /// Edition of the plan that is changed; empty for a new one.
    pub edition: String,
    pub name: String,
    /// What the choices are kept as.
    pub preset_name: String,
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
    /// Every tube with every other.
    pub pairs: String,
    pub triad_tube: Vec<String>,
    pub temper_a: Vec<String>,
    pub temper_b: Vec<String>,
    pub temper_third: Vec<String>,
    pub temper_parts: String,
    pub tints: String,
    pub steps: String,
    pub step_count: String,
    pub own_steps: String,
    pub thinning: String,
    pub whites_alone: String,
    pub whites_mixed: String,
    pub anchors: String,
    pub dots: String,
    pub wash_always: String,
    pub percent: String,
    pub opacity: String,
    pub lift: String,
    pub wet: String,
    pub repeats: String,
    pub alike: String,
    pub basis: String,
    pub resolution: String,
    pub least_pile: String,
    pub places: String,
    pub touch: String,
    pub knife_tip: String,
    pub pea: String,
    pub hazelnut: String,
    pub mix_minutes: String,
    pub swatch_minutes: String,
    pub wipe_minutes: String,
    pub wash_minutes: String,
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
        let hand = Measures::default();
        Self {
            question: Question::Free.to_string(),
            pace: PlanPace::Measured.key().into(),
            edition: empty(),
            was_question: empty(),
            was_pace: empty(),
            name: empty(),
            preset_name: empty(),
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
            pairs: empty(),
            triad_tube: Vec::new(),
            temper_a: Vec::new(),
            temper_b: Vec::new(),
            temper_third: Vec::new(),
            temper_parts: "0, 0.08, 0.25".into(),
            tints: "tested".into(),
            steps: "even".into(),
            step_count: "3".into(),
            own_steps: "3:1, 1:1, 1:3".into(),
            thinning: "white".into(),
            whites_alone: "1, 2, 4, 8, 16".into(),
            whites_mixed: "4".into(),
            anchors: empty(),
            dots: empty(),
            wash_always: empty(),
            percent: empty(),
            opacity: empty(),
            lift: empty(),
            wet: empty(),
            repeats: "3".into(),
            alike: "3".into(),
            basis: Basis::default().to_string(),
            resolution: Protocol::ASSUMED_SCALE_G.to_string(),
            least_pile: empty(),
            places: "12".into(),
            touch: hand.touch.to_string(),
            knife_tip: hand.knife_tip.to_string(),
            pea: hand.pea.to_string(),
            hazelnut: hand.hazelnut.to_string(),
            mix_minutes: empty(),
            swatch_minutes: empty(),
            wipe_minutes: empty(),
            wash_minutes: empty(),
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

    /// A first trial: named, and small enough for an evening.
    pub fn first_trial(self) -> Self {
        Self {
            name: "My first trial".into(),
            whites_alone: "1, 4, 16".into(),
            opacity: String::new(),
            repeats: if self.repeats == "0" { self.repeats } else { "1".into() },
            ..self
        }
    }

    /// What a trial was planned with, to be changed or copied.
    pub fn of(trial: &Trial, planned: &TrialPlan, names: &TubeNames) -> Self {
        let design = &planned.design;
        let tick = |on: bool| if on { TICKED.to_owned() } else { String::new() };
        let name = |tube: TubeRef| names.of(trial.tubes[tube.0].tube.id);
        let film = &design.supply.film;
        let question = design.question.to_string();
        let pace = match (design.is_by_eye() && design.repeats == 0, design.supply.least_pile > 0.0)
        {
            (false, _) => PlanPace::Measured,
            (true, false) => PlanPace::ByEye,
            (true, true) => PlanPace::Teaching,
        };
        let pace = pace.key().to_owned();
        let hand = &design.supply.hand;
        let mut form = Self {
            was_question: question.clone(),
            was_pace: pace.clone(),
            edition: planned.edition.to_string(),
            question,
            pace,
            name: trial.name.clone(),
            palette: planned.palette.map_or_else(String::new, |id| id.0.to_string()),
            white: design.white.map_or_else(String::new, name),
            anchors: tick(design.anchors),
            dots: tick(design.dots),
            wash_always: tick(design.wash_always),
            percent: tick(design.ratios == Ratios::Percent),
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
            touch: hand.touch.to_string(),
            knife_tip: hand.knife_tip.to_string(),
            pea: hand.pea.to_string(),
            hazelnut: hand.hazelnut.to_string(),
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
        form.minutes(&design.pace, design.is_by_eye());
        form.thin(&design.thinning);
        if form.thinning == by_medium(trial, design.white.is_some()) {
            form.thinning = "medium".into();
        }
        form.tested = of_role(trial, design, Role::Tested).into_iter().map(name).collect();
        form.reference = of_role(trial, design, Role::Reference).into_iter().map(name).collect();
        for chart in &design.charts {
            form.chart(trial, chart, &name);
        }
        form
    }

    /// Minutes that were typed: those that are not the usual ones.
    fn minutes(&mut self, pace: &Pace, by_eye: bool) {
        let usual = Pace::of(Medium::Acrylic);
        let usual = if by_eye { usual.by_eye() } else { usual };
        let own = |own: f64, usual: f64| {
            if (own - usual).abs() < 1e-9 { String::new() } else { own.to_string() }
        };
        self.mix_minutes = own(pace.mix, usual.mix);
        self.swatch_minutes = own(pace.swatch, usual.swatch);
        // Plans of earlier releases never wiped.
        self.wipe_minutes =
            if pace.wipe > 0.0 { own(pace.wipe, usual.wipe) } else { String::new() };
        self.wash_minutes = own(pace.clean, usual.clean);
    }

    fn thin(&mut self, thinning: &Thinning) {
        match thinning {
            Thinning::White { alone, mixtures, film } => {
                self.thinning = if *film { "both" } else { "white" }.into();
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
            // A card is planned by its palette alone.
            Chart::Card(_) | Chart::Chosen(_) => {}
            // The palette's own pairs, where nothing was under test.
            Chart::Pairs { steps, .. } if self.question_of_palette() && self.tested.is_empty() => {
                self.star = TICKED.into();
                self.steps_of(steps);
            }
            Chart::Pairs { steps, .. } => {
                self.pairs = TICKED.into();
                self.steps_of(steps);
            }
            Chart::Triad { tubes, steps } => {
                self.triad_tube = tubes.iter().map(|tube| name(*tube)).collect();
                self.steps_of(steps);
            }
            Chart::Temper { base: [(a, _), (b, _)], temper, parts } => {
                self.temper_a.push(name(*a));
                self.temper_b.push(name(*b));
                self.temper_third.push(name(*temper));
                self.temper_parts = listed(parts);
            }
        }
    }

    fn question_of_palette(&self) -> bool {
        matches!(self.question.parse(), Ok(Question::Cleanest | Question::Neutral))
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

/// What the medium of a trial's tubes asks for.
fn by_medium(trial: &Trial, has_white: bool) -> &'static str {
    let colours = trial.tubes.iter().filter(|tube| tube.role != Role::White);
    let media: Vec<Medium> = colours.map(|tube| tube.tube.tube.medium).collect();
    let covers = |medium: &Medium| !matches!(medium, Medium::Gouache | Medium::Watercolour);
    match (media.iter().all(covers), media.iter().all(|it| *it == Medium::Watercolour)) {
        (true, _) => "white",
        (_, true) => "water",
        _ if has_white => "both",
        _ => "water",
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
            Chart::Tints(tubes) | Chart::Pairs { tubes, .. } => chosen.extend(tubes),
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
