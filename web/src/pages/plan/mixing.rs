//! The mixing list: what to put out, and every step in working order.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use store::Trial;
use trial::plan::cautions::{Caution, DEFERRAL, cautions};
use trial::plan::{Pile, PileKind, Plan, Source, Step, Supply, Work, mixture_label};
use trial::{Backing, Basis, FilmKind, Mixture, TubeLabel, TubeRef};

use super::sheets::sheet_of;
use crate::frame::{Frame, Heading};
use crate::words::{counted, number, parts};

/// The list.
#[derive(Template, WebTemplate)]
#[template(path = "plan/mixing.html")]
pub(crate) struct MixingPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    summary: String,
    materials: Vec<Material>,
    steps: Vec<MixStep>,
    palettes: Vec<PaletteMap>,
    cautions: Vec<Caution>,
    deferral: &'static str,
}

/// What is squeezed out of one tube in all.
struct Material {
    name: String,
    amount: String,
    millilitres: String,
}

/// One step.
struct MixStep {
    number: usize,
    /// Clean first, and why.
    clean: String,
    /// Take a fresh palette first.
    clear: String,
    verb: &'static str,
    what: String,
    lines: Vec<MixLine>,
    total: String,
    place: String,
    cells: String,
    off: String,
}

struct MixLine {
    amount: String,
    from: String,
}

/// One palette, from one clearing to the next.
struct PaletteMap {
    title: String,
    places: Vec<Place>,
}

struct Place {
    number: usize,
    what: String,
    total: String,
}

impl MixingPage {
    pub fn new(frame: Frame, heading: Heading, trial: &Trial, plan: &Plan) -> Self {
        let list = List::of(trial, plan);
        let costs = &plan.costs;
        Self {
            frame,
            heading,
            id: trial.id.0,
            summary: format!(
                "{}, {}",
                counted(plan.steps.len(), "step", "steps"),
                counted(costs.clean_ups, "clean-up", "clean-ups")
            ),
            materials: costs
                .paint
                .iter()
                .map(|need| Material {
                    name: list.name(need.tube),
                    amount: list.amount(need.amount),
                    millilitres: format!("{} ml", number(need.millilitres, 1)),
                })
                .collect(),
            steps: list.steps(),
            palettes: list.palettes(),
            cautions: cautions(trial.tubes.iter().map(|tube| &tube.tube.tube)),
            deferral: DEFERRAL,
        }
    }

    fn tab(&self) -> &'static str {
        "mixing"
    }
}

struct List<'a> {
    trial: &'a Trial,
    plan: &'a Plan,
    supply: Supply,
    labels: Vec<TubeLabel>,
    white: Option<TubeRef>,
    sheets: HashMap<u32, usize>,
    /// Place on the palette of each pile.
    places: Vec<Option<usize>>,
}

impl<'a> List<'a> {
    fn of(trial: &'a Trial, plan: &'a Plan) -> Self {
        let mut places = vec![None; plan.piles.len()];
        for step in &plan.steps {
            if let Work::Mix(pile) = step.work {
                places[pile] = step.place;
            }
        }
        let supply = trial.plan.as_ref().map(|it| it.design.supply).unwrap_or_default();
        let (labels, white) = (trial.labels(), trial.white());
        Self { trial, plan, supply, labels, white, sheets: sheet_of(trial), places }
    }

    fn name(&self, tube: TubeRef) -> String {
        self.trial.tubes.get(tube.0).map_or_else(|| "?".into(), |it| it.tube.tube.name.clone())
    }

    /// With as many decimals as the scale shows.
    fn amount(&self, amount: f64) -> String {
        let digits = match self.supply.measure {
            Basis::Eye => 1,
            _ => (-self.supply.resolution.log10()).ceil().clamp(0.0, 4.0) as usize,
        };
        format!("{} {}", number(amount, digits), self.supply.unit())
    }

    fn label(&self, mixture: &Mixture) -> String {
        let label =
            mixture_label(mixture, Backing::Paper, FilmKind::Full, &self.labels, self.white);
        [label.tubes, label.ratio]
            .into_iter()
            .filter(|it| !it.is_empty())
            .collect::<Vec<_>>()
            .join(", ")
    }

    fn steps(&self) -> Vec<MixStep> {
        let mut before: Option<String> = None;
        let mut list = Vec::with_capacity(self.plan.steps.len());
        for (at, step) in self.plan.steps.iter().enumerate() {
            let made = match &step.work {
                Work::Straight { tube, .. } => Mixture::neat(*tube),
                Work::Mix(pile) => self.plan.piles[*pile].holds.clone(),
            };
            list.push(self.step(at + 1, step, before.as_deref()));
            before = Some(self.label(&made));
        }
        list
    }

    fn step(&self, number: usize, step: &Step, before: Option<&str>) -> MixStep {
        let clean = if step.clean { clean_up(step, before) } else { String::new() };
        let clear = step.clear.as_ref().map_or_else(String::new, |kept| self.clear(kept));
        match &step.work {
            Work::Straight { tube, cells } => MixStep {
                number,
                clean,
                clear,
                verb: "Straight from the tube",
                what: self.name(*tube),
                lines: vec![MixLine {
                    amount: self.amount(self.supply.one_swatch() * cells.len() as f64),
                    from: self.name(*tube),
                }],
                total: String::new(),
                place: String::new(),
                cells: self.cells(cells),
                off: String::new(),
            },
            Work::Mix(at) => {
                let pile = &self.plan.piles[*at];
                MixStep {
                    number,
                    clean,
                    clear,
                    verb: verb(pile.kind),
                    what: self.label(&pile.holds),
                    lines: self.lines(pile),
                    total: self.amount(pile.total()),
                    place: step.place.map_or_else(String::new, |place| (place + 1).to_string()),
                    cells: self.cells(&pile.cells),
                    off: off(pile),
                }
            }
        }
    }

    fn lines(&self, pile: &Pile) -> Vec<MixLine> {
        let line = |(source, amount): &(Source, f64)| MixLine {
            amount: self.amount(*amount),
            from: match source {
                Source::Tube(tube) => self.name(*tube),
                Source::Pile(of) => {
                    let place =
                        self.places[*of].map_or_else(String::new, |it| (it + 1).to_string());
                    format!("from pile {place}")
                }
            },
        };
        pile.components.iter().filter(|(_, amount)| *amount > 0.0).map(line).collect()
    }

    /// `sheet 1: 12, 13 × 3`: a swatch that is painted again beside its neighbours counts twice.
    fn cells(&self, cells: &[u32]) -> String {
        let mut counted: Vec<(u32, usize)> = Vec::new();
        for cell in cells {
            match counted.iter_mut().find(|(known, _)| known == cell) {
                Some((_, times)) => *times += 1,
                None => counted.push((*cell, 1)),
            }
        }
        let mut sheet = 0;
        let words = counted.into_iter().map(|(cell, times)| {
            let on = self.sheets.get(&cell).copied().unwrap_or(1);
            let before = if on == sheet { String::new() } else { format!("sheet {on}: ") };
            sheet = on;
            let times = if times > 1 { format!(" × {times}") } else { String::new() };
            format!("{before}{cell}{times}")
        });
        words.collect::<Vec<_>>().join(", ")
    }

    fn clear(&self, kept: &[usize]) -> String {
        if kept.is_empty() {
            return "Put the palette aside and take a fresh one.".into();
        }
        let kept: Vec<String> =
            kept.iter().map(|pile| self.label(&self.plan.piles[*pile].holds)).collect();
        format!("Take a fresh palette, and move over to it, from place 1 on: {}.", kept.join("; "))
    }

    fn palettes(&self) -> Vec<PaletteMap> {
        let mut maps: Vec<Vec<Option<usize>>> = vec![vec![None; self.supply.places]];
        for step in &self.plan.steps {
            let (Work::Mix(pile), Some(place)) = (&step.work, step.place) else { continue };
            if let Some(kept) = &step.clear {
                let mut fresh = vec![None; self.supply.places];
                for (at, pile) in kept.iter().enumerate() {
                    fresh[at] = Some(*pile);
                }
                maps.push(fresh);
            }
            if let Some(room) = maps.last_mut().and_then(|map| map.get_mut(place)) {
                *room = Some(*pile);
            }
        }
        maps.iter()
            .zip(1..)
            .filter(|(map, _)| map.iter().any(Option::is_some))
            .map(|(map, at)| PaletteMap {
                title: if maps.len() == 1 { "Palette".into() } else { format!("Palette {at}") },
                places: map
                    .iter()
                    .zip(1..)
                    .filter_map(|(pile, number)| {
                        let pile = &self.plan.piles[(*pile)?];
                        Some(Place {
                            number,
                            what: self.label(&pile.holds),
                            total: self.amount(pile.total()),
                        })
                    })
                    .collect(),
            })
            .collect()
    }
}

fn verb(kind: PileKind) -> &'static str {
    match kind {
        PileKind::LetDown => "Let down",
        PileKind::Base => "Mix first",
        PileKind::Mixture => "Mix",
        PileKind::Tint => "Tint",
    }
}

fn clean_up(step: &Step, before: Option<&str>) -> String {
    let why = match (step.residue, before) {
        (Some(residue), Some(before)) => {
            format!(": a trace of {before} would show here (ΔE {})", number(residue, 1))
        }
        _ => String::new(),
    };
    format!("Clean knife and brush and change the water{why}.")
}

/// How far the ratio may be off, and what that does to the colour.
fn off(pile: &Pile) -> String {
    let ratio = format!("ratio ± {} %", parts((1000.0 * pile.ratio_error).round() / 10.0));
    match pile.colour_error {
        Some(colour) => format!("{ratio}, ΔE {}", number(colour, 1)),
        None => ratio,
    }
}
