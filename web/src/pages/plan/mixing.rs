//! The mixing list: what to put out, and every step in working order.

use askama::Template;
use askama_web::WebTemplate;
use plan::cautions::{Caution, DEFERRAL, cautions};
use plan::{PileRef, Plan, Work};
use workshop::OpenTrial;

use crate::frame::{Frame, Heading};
use crate::pages::steps::{MixStep, WorkList};
use crate::words::{counted, small};

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
    pub fn new(frame: Frame, heading: Heading, trial: &OpenTrial, plan: &Plan) -> Self {
        let list = WorkList::of(trial, plan);
        let room = trial.plan.as_ref().map(|it| it.design.supply.places).unwrap_or_default();
        let costs = &plan.costs;
        Self {
            frame,
            heading,
            id: trial.id.0,
            summary: format!(
                "{}, {}",
                counted(plan.steps.len(), "step", "steps"),
                counted(costs.clean_ups, "wash", "washes")
            ),
            materials: costs
                .paint
                .iter()
                .map(|need| Material {
                    name: list.name(need.tube),
                    amount: list.amount(need.amount),
                    millilitres: format!("{} ml", small(need.millilitres)),
                })
                .collect(),
            steps: list.steps(),
            palettes: palettes(&list, plan, room),
            cautions: cautions(trial.tubes.iter().map(|tube| &tube.tube.tube)),
            deferral: DEFERRAL,
        }
    }

    fn tab(&self) -> &'static str {
        "mixing"
    }
}

fn palettes(list: &WorkList<'_>, plan: &Plan, room: usize) -> Vec<PaletteMap> {
    let mut maps: Vec<Vec<Option<PileRef>>> = vec![vec![None; room]];
    for step in &plan.steps {
        let (Work::Mix(pile), Some(place)) = (&step.work, step.place) else { continue };
        if let Some(kept) = &step.clear {
            let mut fresh = vec![None; room];
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
                    let pile = &plan[(*pile)?];
                    Some(Place {
                        number,
                        what: list.label(&pile.holds),
                        total: if list.by_eye() {
                            String::new()
                        } else {
                            list.amount(pile.total())
                        },
                    })
                })
                .collect(),
        })
        .collect()
}
