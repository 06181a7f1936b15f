//! From what was typed to a design, or to what is wrong at which field.

use std::fmt::Display;
use std::str::FromStr;

use colour::{Conditions, Illuminant, Observer};
use mixing::{Geometry, Sheen};
use plan::amounts::Film;
use plan::steps::Steps;
use plan::{Chart, Design, Pace, PlanError, StepChoice, Supply, Tests, Thinning, Third};
use sheet::{LayoutError, Paper};
use store::{Circumstances, Palette, PaletteId, Role, ShelfTube};
use study::{Basis, Protocol, TubeRef};

use super::form::PlanForm;
use crate::pages::fields::{FieldErrors, read_number, required};
use crate::pages::names::TubeNames;
use crate::state::AboutMeter;

/// What a trial without a name is answered with.
pub(super) const NAMELESS: &str = "give the trial a name that you will know it by";
/// Most tubes of one plan.
const MOST_TUBES: usize = 60;

/// What the user wants, understood.
#[derive(Debug)]
pub(crate) struct Asked {
    pub name: String,
    /// By [`TubeRef`].
    pub tubes: Vec<(ShelfTube, Role)>,
    pub design: Design,
    pub circumstances: Circumstances,
    pub palette: Option<PaletteId>,
    pub paper: Paper,
    /// Field of each ladder of the design that stands in a row of its own.
    pub ladder_rows: Vec<(TubeRef, TubeRef, usize)>,
}

/// What a plan is asked for with, besides the form.
pub(crate) struct Context<'a> {
    pub names: &'a TubeNames<'a>,
    /// The palette that the form names.
    pub palette: Option<&'a Palette>,
    /// The meter, where one has answered.
    pub meter: Option<&'a AboutMeter>,
}

impl PlanForm {
    /// The number of the palette, where the form names one.
    pub fn palette_id(&self) -> Option<PaletteId> {
        self.palette.trim().parse().ok().map(PaletteId)
    }

    pub fn asked(&self, context: &Context<'_>) -> Result<Asked, FieldErrors> {
        let mut reader = Reader { context, tubes: Vec::new(), errors: FieldErrors::default() };
        let asked = reader.read(self);
        if reader.errors.is_empty() { Ok(asked) } else { Err(reader.errors) }
    }
}

/// Reads a form, and keeps what is wrong with it.
struct Reader<'a> {
    context: &'a Context<'a>,
    tubes: Vec<(ShelfTube, Role)>,
    errors: FieldErrors,
}

impl Reader<'_> {
    fn read(&mut self, form: &PlanForm) -> Asked {
        let tested = self.tubes("tested", &form.tested, Role::Tested);
        let references = self.references(form, &tested);
        let mut ladder_rows = Vec::new();
        let steps = self.steps(form);
        let mut charts = self.star(form, &tested, &references, &steps);
        charts.extend(self.ladders(form, &steps, &mut ladder_rows));
        charts.extend(self.grid(form, &references));
        let tinted = match form.tints.as_str() {
            "tested" => tested.clone(),
            "all" => [tested.clone(), references.clone()].concat(),
            _ => Vec::new(),
        };
        if !tinted.is_empty() {
            charts.insert(0, Chart::Tints(tinted));
        }
        let white = self.white(form);
        if self.tubes.len() > MOST_TUBES {
            let found = self.tubes.len();
            self.errors.add(
                "tested",
                format!("{found} tubes are too many for one trial; up to {MOST_TUBES} work"),
            );
        }
        let design = Design {
            charts,
            white,
            thinning: self.thinning(form),
            tests: Tests {
                opacity: !form.opacity.is_empty(),
                lift: !form.lift.is_empty(),
                wet: !form.wet.is_empty(),
            },
            anchors: !form.anchors.is_empty(),
            repeats: self.whole("repeats", &form.repeats, 1, 10) as u32,
            alike: self.number("alike", &form.alike, 0.0..=50.0, "ΔE00", 3.0),
            supply: self.supply(form),
            pace: self.pace(),
        };
        let circumstances = self.circumstances(form, &design);
        Asked {
            name: self.name(&form.name),
            palette: self.context.palette.map(|palette| palette.id),
            paper: self.word("paper", &form.paper, Paper::default()),
            tubes: std::mem::take(&mut self.tubes),
            design,
            circumstances,
            ladder_rows,
        }
    }

    fn name(&mut self, text: &str) -> String {
        self.errors.check("name", required(NAMELESS)(text, &()));
        text.trim().to_owned()
    }

    /// The place of a tube, taken in where it is new.
    fn place(&mut self, tube: &ShelfTube, role: Role) -> TubeRef {
        let at = self.tubes.iter().position(|(known, _)| known.id == tube.id);
        TubeRef(at.unwrap_or_else(|| {
            self.tubes.push((tube.clone(), role));
            self.tubes.len() - 1
        }))
    }

    /// A tube by its name; `None` for an empty text, and for one that names no tube.
    fn tube(&mut self, field: &str, text: &str, role: Role) -> Option<TubeRef> {
        if text.trim().is_empty() {
            return None;
        }
        match self.context.names.find(text) {
            Ok(tube) => Some(self.place(tube, role)),
            Err(message) => {
                self.errors.add(field, message);
                None
            }
        }
    }

    fn tubes(&mut self, field: &str, texts: &[String], role: Role) -> Vec<TubeRef> {
        let mut tubes = Vec::new();
        for text in texts {
            if let Some(tube) = self.tube(field, text, role)
                && !tubes.contains(&tube)
            {
                tubes.push(tube);
            }
        }
        tubes
    }

    /// The palette's colours and what is named besides, without the tubes under test themselves.
    fn references(&mut self, form: &PlanForm, tested: &[TubeRef]) -> Vec<TubeRef> {
        let mut references = Vec::new();
        if let Some(palette) = self.context.palette {
            for tube in palette.colours() {
                references.push(self.place(tube, Role::Reference));
            }
        }
        for tube in self.tubes("reference", &form.reference, Role::Reference) {
            if !references.contains(&tube) {
                references.push(tube);
            }
        }
        references.retain(|tube| !tested.contains(tube));
        references
    }

    fn white(&mut self, form: &PlanForm) -> Option<TubeRef> {
        let named = self.tube("white", &form.white, Role::White);
        let white = named.or_else(|| {
            let tube = self.context.palette?.white()?.clone();
            Some(self.place(&tube, Role::White))
        })?;
        self.tubes[white.0].1 = Role::White;
        Some(white)
    }

    fn star(
        &mut self,
        form: &PlanForm,
        tested: &[TubeRef],
        references: &[TubeRef],
        steps: &StepChoice,
    ) -> Vec<Chart> {
        if form.star.is_empty() || tested.is_empty() {
            return Vec::new();
        }
        let third = self.third("star_third", &form.star_third, &form.star_share);
        // What is in every mixture is no end of a ladder.
        let in_all = |tube: &TubeRef| third.is_some_and(|third| third.tube == *tube);
        let references: Vec<TubeRef> =
            references.iter().copied().filter(|tube| !in_all(tube)).collect();
        if references.is_empty() {
            self.errors.add(
                "palette",
                "a star needs a reference palette, or at least one tube to mix with",
            );
        }
        vec![Chart::Star { tested: tested.to_vec(), references, steps: steps.clone(), third }]
    }

    fn ladders(
        &mut self,
        form: &PlanForm,
        steps: &StepChoice,
        rows: &mut Vec<(TubeRef, TubeRef, usize)>,
    ) -> Vec<Chart> {
        let mut charts = Vec::new();
        let empty = String::new();
        for (row, (from, to)) in form.ladder_from.iter().zip(&form.ladder_to).enumerate() {
            let field = format!("ladder-{row}");
            if from.trim().is_empty() && to.trim().is_empty() {
                continue;
            }
            let ends = (self.tube(&field, from, Role::Tested), self.tube(&field, to, Role::Tested));
            let third = self.third(
                &field,
                form.ladder_third.get(row).unwrap_or(&empty),
                form.ladder_share.get(row).unwrap_or(&empty),
            );
            match ends {
                (Some(from), Some(to)) => {
                    rows.push((from, to, row));
                    charts.push(Chart::Ladder { from, to, steps: steps.clone(), third });
                }
                _ => self.errors.add(&field, "a ladder needs both of its ends"),
            }
        }
        charts
    }

    fn third(&mut self, field: &str, tube: &str, share: &str) -> Option<Third> {
        let tube = self.tube(field, tube, Role::Reference)?;
        let percent = self.number(field, share, 1.0..=99.0, "% of the third tube", 20.0);
        Some(Third { tube, share: percent / 100.0 })
    }

    fn grid(&mut self, form: &PlanForm, references: &[TubeRef]) -> Vec<Chart> {
        let half = match form.grid.as_str() {
            "half" => true,
            "full" => false,
            _ => return Vec::new(),
        };
        let named = self.tubes("grid", &form.grid_tube, Role::Tested);
        let tubes = if named.is_empty() { references.to_vec() } else { named };
        if tubes.len() < 2 {
            self.errors.add("grid", "a grid needs two tubes or more; choose them, or a palette");
        }
        vec![Chart::Grid { tubes, half }]
    }

    fn steps(&mut self, form: &PlanForm) -> StepChoice {
        match form.steps.as_str() {
            "quarters" => StepChoice::Fixed(Steps::Quarters),
            "tenths" => StepChoice::Fixed(Steps::Tenths),
            "doublings" => StepChoice::Fixed(Steps::Doublings(self.step_count(form))),
            "own" => match ratios(&form.own_steps) {
                Ok(list) => StepChoice::Fixed(Steps::Own(list)),
                Err(message) => {
                    self.errors.add("own_steps", message);
                    StepChoice::Fixed(Steps::Quarters)
                }
            },
            _ => StepChoice::Even(self.step_count(form)),
        }
    }

    fn step_count(&mut self, form: &PlanForm) -> usize {
        self.whole("step_count", &form.step_count, 1, plan::steps::MOST_STEPS)
    }

    fn thinning(&mut self, form: &PlanForm) -> Thinning {
        match form.thinning.as_str() {
            "water" => Thinning::Water,
            "none" => Thinning::None,
            _ => Thinning::White {
                alone: self.numbers("whites_alone", &form.whites_alone),
                mixtures: self.numbers("whites_mixed", &form.whites_mixed),
            },
        }
    }

    fn supply(&mut self, form: &PlanForm) -> Supply {
        let measure = self.word("basis", &form.basis, Basis::default());
        let resolution = match read_number(&form.resolution) {
            Ok(Some(step)) if step > 0.0 && step <= 10.0 => step,
            Ok(Some(0.0)) => {
                self.errors.add(
                    "resolution",
                    "a scale of 0 g weighs nothing; write what its last digit stands for, such as \
                     0.01",
                );
                0.01
            }
            _ => {
                self.errors.add(
                    "resolution",
                    "write what the last digit stands for, more than 0 and up to 10, such as 0.01",
                );
                0.01
            }
        };
        let film = Film {
            side_mm: self.number("side_mm", &form.side_mm, 1.0..=400.0, "mm", 20.0),
            thickness_mm: self.number("thickness_mm", &form.thickness_mm, 0.01..=5.0, "mm", 0.15),
            density_g_ml: self.number("density", &form.density, 0.5..=6.0, "g/ml", 1.3),
            waste: self.number("waste", &form.waste, 0.0..=500.0, "%", 60.0) / 100.0,
        };
        let least_pile = if form.least_pile.trim().is_empty() {
            0.0
        } else {
            self.number("least_pile", &form.least_pile, 0.0..=100.0, "g or ml", 0.0)
        };
        Supply {
            measure,
            resolution,
            film,
            least_pile,
            places: self.whole("places", &form.places, 2, 500),
        }
    }

    /// The usual pace, with the drying time of the slowest medium.
    fn pace(&self) -> Pace {
        let paces = self.tubes.iter().map(|(tube, _)| Pace::of(tube.tube.medium));
        paces
            .max_by(|one, other| one.dry.total_cmp(&other.dry))
            .unwrap_or_else(|| Design::default().pace)
    }

    fn circumstances(&mut self, form: &PlanForm, design: &Design) -> Circumstances {
        let basis = design.supply.measure;
        Circumstances {
            conditions: Conditions {
                illuminant: self.word("illuminant", &form.illuminant, Illuminant::D65),
                observer: self.word("observer", &form.observer, Observer::Ten),
            },
            protocol: Protocol {
                basis,
                scale_g: (basis == Basis::Weight).then_some(design.supply.resolution),
                pile_g: None,
                repeatability: self.context.meter.map(|meter| meter.repeatability),
                geometry: self.context.meter.map_or_else(Geometry::default, |it| it.geometry),
                sheen: self.word("sheen", &form.sheen, Sheen::default()),
            },
            repeats: design.repeats,
            meter_known: self.context.meter.is_some(),
        }
    }

    /// A word of a list; anything else comes from a hand-made request only.
    fn word<T: FromStr<Err: Display>>(&mut self, field: &str, text: &str, usual: T) -> T {
        text.parse().unwrap_or_else(|error: T::Err| {
            self.errors.add(field, error.to_string());
            usual
        })
    }

    fn number(
        &mut self,
        field: &str,
        text: &str,
        range: std::ops::RangeInclusive<f64>,
        unit: &str,
        usual: f64,
    ) -> f64 {
        match read_number(text) {
            Ok(Some(value)) if range.contains(&value) => value,
            _ => {
                let (low, high) = (range.start(), range.end());
                self.errors.add(
                    field,
                    format!(
                        "“{}” does not work; write {low} to {high} {unit}, such as {usual}",
                        text.trim()
                    ),
                );
                usual
            }
        }
    }

    fn whole(&mut self, field: &str, text: &str, low: usize, high: usize) -> usize {
        match text.trim().parse::<usize>() {
            Ok(value) if (low..=high).contains(&value) => value,
            _ => {
                self.errors.add(field, format!("write a whole number from {low} to {high}"));
                low
            }
        }
    }

    /// A list of numbers, `1, 2, 4`; zeros and nothing are left out.
    fn numbers(&mut self, field: &str, text: &str) -> Vec<f64> {
        let mut list = Vec::new();
        for word in text.split([',', ';', ' ']).filter(|word| !word.is_empty()) {
            match read_number(word) {
                Ok(Some(0.0)) => {}
                Ok(Some(number)) => list.push(number),
                _ => self.errors.add(
                    field,
                    format!("“{word}” is not a number; write parts of white such as 1, 2, 4"),
                ),
            }
        }
        list
    }
}

/// `3:1, 1:1, 1:3`.
fn ratios(text: &str) -> Result<Vec<(f64, f64)>, String> {
    let ratio = |word: &str| {
        let (a, b) = word.split_once([':', '/'])?;
        match (read_number(a), read_number(b)) {
            (Ok(Some(a)), Ok(Some(b))) => Some((a, b)),
            _ => None,
        }
    };
    let words = text.split([',', ';', '\n']).map(str::trim).filter(|word| !word.is_empty());
    let read = words.map(|word| {
        ratio(word).ok_or_else(|| {
            format!("“{word}” is not a ratio; write parts of both tubes, such as 3:1, 1:1, 1:3")
        })
    });
    read.collect()
}

impl Asked {
    /// The field at which a plan's error is answered.
    pub fn field_of(&self, error: &PlanError) -> String {
        match error {
            PlanError::AgainstItself(tube) => self
                .ladder_rows
                .iter()
                .find(|(from, to, _)| from == tube && to == tube)
                .map_or_else(|| "grid".into(), |(_, _, row)| format!("ladder-{row}")),
            PlanError::Third(tube) => self
                .ladder_rows
                .iter()
                .find(|(from, to, _)| from == tube || to == tube)
                .map_or_else(|| "star_third".into(), |(_, _, row)| format!("ladder-{row}")),
            PlanError::NothingChosen | PlanError::TooManyLadders(_) => "tested".into(),
            PlanError::NoWhite | PlanError::WhiteTested => "white".into(),
            PlanError::Whites(found) => match &self.design.thinning {
                Thinning::White { alone, .. } if alone.contains(found) => "whites_alone".into(),
                _ => "whites_mixed".into(),
            },
            PlanError::GridTooLarge(_) => "grid".into(),
            PlanError::TooMany(_) => "steps".into(),
            PlanError::Steps(_) => "own_steps".into(),
            PlanError::Amount(_) => "resolution".into(),
            PlanError::Film => "side_mm".into(),
            PlanError::TooFewPlaces { .. } => "places".into(),
        }
    }
}

/// The field at which an error of the sheets is answered.
pub(crate) fn field_of_layout(_: &LayoutError) -> &'static str {
    "side_mm"
}
