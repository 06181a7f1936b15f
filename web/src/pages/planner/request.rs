//! From what was typed to a request, or to what is wrong at which field.

use std::fmt::Display;
use std::str::FromStr;

use colour::{Conditions, Illuminant, Observer};
use plan::amounts::Film;
use plan::steps::Steps;
use plan::{Measures, StepChoice, Supply, Tests, Thinning};
use sheet::Paper;
use study::Basis;
use study::numbers::Ratios;
use workshop::{
    ChartRequest, OwnMinutes, RequestError, RequestPlace, ThinningRequest, ThirdRequest,
    TintRequest, TrialRequest, TubeId,
};

use super::form::PlanForm;
use super::presets::Presets;
use crate::pages::fields::{FieldErrors, read_number, short};
use crate::pages::names::TubeNames;

impl PlanForm {
    /// What the form asks for, and the rows of the form that its ladders and temperings stand in.
    pub fn request(
        &self,
        names: &TubeNames<'_>,
        presets: &Presets,
    ) -> Result<(TrialRequest, FormRows), FieldErrors> {
        let (errors, ladder_rows, temper_rows) = (FieldErrors::default(), Vec::new(), Vec::new());
        let mut reader = Reader { names, presets, errors, ladder_rows, temper_rows };
        let request = reader.read(self);
        if reader.errors.is_empty() {
            Ok((request, FormRows { ladders: reader.ladder_rows, tempers: reader.temper_rows }))
        } else {
            Err(reader.errors)
        }
    }
}

/// The rows of a form that its ladders and temperings stand in.
pub(crate) struct FormRows {
    ladders: Vec<usize>,
    tempers: Vec<usize>,
}

/// What is in the way of a request, at the fields of its form.
pub(super) fn at_fields(errors: &[RequestError], rows: &FormRows) -> FieldErrors {
    let mut found = FieldErrors::default();
    for error in errors {
        let field = match error.place {
            // Said beside the form, and at no field: nobody did anything wrong.
            RequestPlace::Nowhere => String::new(),
            RequestPlace::Tested => "tested".into(),
            RequestPlace::References => "palette".into(),
            RequestPlace::White => "white".into(),
            RequestPlace::StarThird => "star_third".into(),
            RequestPlace::Ladder(at) => {
                format!("ladder-{}", rows.ladders.get(at).copied().unwrap_or_default())
            }
            RequestPlace::Temper(at) => {
                format!("temper-{}", rows.tempers.get(at).copied().unwrap_or_default())
            }
            RequestPlace::Pairs => "pairs".into(),
            RequestPlace::Triad => "triad_tube".into(),
            RequestPlace::Grid => "grid".into(),
            RequestPlace::Steps => "steps".into(),
            RequestPlace::OwnSteps => "own_steps".into(),
            RequestPlace::WhitesAlone => "whites_alone".into(),
            RequestPlace::WhitesMixed => "whites_mixed".into(),
            RequestPlace::Resolution => "resolution".into(),
            RequestPlace::SquareSide => "side_mm".into(),
            RequestPlace::Places => "places".to_owned(),
        };
        found.add(&field, error.message.clone());
    }
    found
}

/// Whether no parts at all are a step.
#[derive(Clone, Copy, PartialEq)]
enum Zero {
    Kept,
    LeftOut,
}

/// Reads a form, and keeps what is wrong with it.
struct Reader<'a> {
    names: &'a TubeNames<'a>,
    presets: &'a Presets,
    errors: FieldErrors,
    ladder_rows: Vec<usize>,
    temper_rows: Vec<usize>,
}

impl Reader<'_> {
    fn read(&mut self, form: &PlanForm) -> TrialRequest {
        let steps = self.steps(form);
        TrialRequest {
            name: self.name(&form.name),
            question: self.presets.question(&form.question),
            tested: self.tubes("tested", &form.tested),
            palette: form.palette_id(),
            references: self.tubes("reference", &form.reference),
            white: self.tube("white", &form.white),
            charts: self.charts(form, &steps),
            tints: match form.tints.as_str() {
                "tested" => TintRequest::Tested,
                "all" => TintRequest::All,
                _ => TintRequest::None,
            },
            thinning: self.thinning(form),
            tests: Tests {
                opacity: !form.opacity.is_empty(),
                lift: !form.lift.is_empty(),
                wet: !form.wet.is_empty(),
            },
            anchors: !form.anchors.is_empty(),
            dots: !form.dots.is_empty(),
            wash_always: !form.wash_always.is_empty(),
            ratios: if form.percent.is_empty() { Ratios::Parts } else { Ratios::Percent },
            minutes: OwnMinutes {
                mix: self.minutes("mix_minutes", &form.mix_minutes),
                swatch: self.minutes("swatch_minutes", &form.swatch_minutes),
                wipe: self.minutes("wipe_minutes", &form.wipe_minutes),
                wash: self.minutes("wash_minutes", &form.wash_minutes),
            },
            repeats: self.whole("repeats", &form.repeats, 0, 10) as u32,
            alike: self.number("alike", &form.alike, 0.0..=50.0, "ΔE00", 3.0),
            supply: self.supply(form),
            conditions: Conditions {
                illuminant: self.word("illuminant", &form.illuminant, Illuminant::D65),
                observer: self.word("observer", &form.observer, Observer::Ten),
            },
            sheen: self.word("sheen", &form.sheen, mixing::Sheen::default()),
            paper: self.word("paper", &form.paper, Paper::default()),
            aim: String::new(),
        }
    }

    fn name(&mut self, text: &str) -> String {
        self.errors.check("name", short(text, &()));
        text.trim().to_owned()
    }

    /// A tube by its name; `None` for an empty text, and for one that names no tube.
    fn tube(&mut self, field: &str, text: &str) -> Option<TubeId> {
        if text.trim().is_empty() {
            return None;
        }
        match self.names.find(text) {
            Ok(tube) => Some(tube.id),
            Err(message) => {
                self.errors.add(field, message);
                None
            }
        }
    }

    fn tubes(&mut self, field: &str, texts: &[String]) -> Vec<TubeId> {
        texts.iter().filter_map(|text| self.tube(field, text)).collect()
    }

    fn charts(&mut self, form: &PlanForm, steps: &StepChoice) -> Vec<ChartRequest> {
        let mut charts = Vec::new();
        if !form.star.is_empty() {
            let third = self.third("star_third", &form.star_third, &form.star_share);
            charts.push(ChartRequest::Star { steps: steps.clone(), third });
        }
        self.ladders(form, steps, &mut charts);
        if !form.pairs.is_empty() {
            charts.push(ChartRequest::Pairs { tubes: Vec::new(), steps: steps.clone() });
        }
        let triad = self.tubes("triad_tube", &form.triad_tube);
        if !triad.is_empty() {
            charts.push(ChartRequest::Triad { tubes: triad, steps: steps.clone() });
        }
        self.temperings(form, &mut charts);
        let half = match form.grid.as_str() {
            "half" => true,
            "full" => false,
            _ => return charts,
        };
        charts.push(ChartRequest::Grid { tubes: self.tubes("grid", &form.grid_tube), half });
        charts
    }

    fn ladders(&mut self, form: &PlanForm, steps: &StepChoice, charts: &mut Vec<ChartRequest>) {
        let empty = String::new();
        for (row, (from, to)) in form.ladder_from.iter().zip(&form.ladder_to).enumerate() {
            let field = format!("ladder-{row}");
            if from.trim().is_empty() && to.trim().is_empty() {
                continue;
            }
            let ends = (self.tube(&field, from), self.tube(&field, to));
            let third = self.third(
                &field,
                form.ladder_third.get(row).unwrap_or(&empty),
                form.ladder_share.get(row).unwrap_or(&empty),
            );
            match ends {
                (Some(from), Some(to)) => {
                    self.ladder_rows.push(row);
                    charts.push(ChartRequest::Ladder { from, to, steps: steps.clone(), third });
                }
                _ => self.errors.add(&field, "a ladder needs both of its ends"),
            }
        }
    }

    fn temperings(&mut self, form: &PlanForm, charts: &mut Vec<ChartRequest>) {
        let parts = self.numbers("temper_parts", &form.temper_parts, Zero::Kept);
        let empty = String::new();
        for row in 0..form.temper_a.len().max(form.temper_third.len()) {
            let field = format!("temper-{row}");
            let [a, b, third] = [&form.temper_a, &form.temper_b, &form.temper_third]
                .map(|column| column.get(row).unwrap_or(&empty));
            if [a, b, third].iter().all(|text| text.trim().is_empty()) {
                continue;
            }
            match (self.tube(&field, a), self.tube(&field, b), self.tube(&field, third)) {
                (Some(a), Some(b), Some(temper)) => {
                    self.temper_rows.push(row);
                    let parts = parts.clone();
                    charts.push(ChartRequest::Temper { base: [a, b], temper, parts });
                }
                _ => self
                    .errors
                    .add(&field, "tempering needs two tubes and a third to temper them with"),
            }
        }
    }

    fn third(&mut self, field: &str, tube: &str, share: &str) -> Option<ThirdRequest> {
        let tube = self.tube(field, tube)?;
        let percent = self.number(field, share, 1.0..=99.0, "% of the third tube", 20.0);
        Some(ThirdRequest { tube, share: percent / 100.0 })
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

    fn thinning(&mut self, form: &PlanForm) -> ThinningRequest {
        if form.thinning == "water" {
            return ThinningRequest::Given(Thinning::Water);
        }
        if form.thinning == "none" {
            return ThinningRequest::Given(Thinning::None);
        }
        let alone = self.numbers("whites_alone", &form.whites_alone, Zero::LeftOut);
        let mixtures = self.numbers("whites_mixed", &form.whites_mixed, Zero::LeftOut);
        match form.thinning.as_str() {
            "medium" => ThinningRequest::ByMedium { alone, mixtures },
            kind => {
                let film = kind == "both";
                ThinningRequest::Given(Thinning::White { alone, mixtures, film })
            }
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
            hand: self.hand(form),
        }
    }

    fn hand(&mut self, form: &PlanForm) -> Measures {
        let usual = Measures::default();
        let hand = Measures {
            touch: self.number("touch", &form.touch, 0.001..=100.0, "ml", usual.touch),
            knife_tip: self.number(
                "knife_tip",
                &form.knife_tip,
                0.001..=100.0,
                "ml",
                usual.knife_tip,
            ),
            pea: self.number("pea", &form.pea, 0.001..=100.0, "ml", usual.pea),
            hazelnut: self.number("hazelnut", &form.hazelnut, 0.001..=100.0, "ml", usual.hazelnut),
        };
        if !hand.rise() {
            self.errors.add(
                "touch",
                "each must be more than the one before: touch, knife tip, pea, hazelnut",
            );
        }
        hand
    }

    /// Minutes that were typed; nothing for the usual ones.
    fn minutes(&mut self, field: &str, text: &str) -> Option<f64> {
        if text.trim().is_empty() {
            return None;
        }
        Some(self.number(field, text, 0.0..=600.0, "minutes", 0.5))
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

    /// A list of numbers, `1, 2, 4`.
    fn numbers(&mut self, field: &str, text: &str, zero: Zero) -> Vec<f64> {
        let mut list = Vec::new();
        for word in text.split([',', ';', ' ']).filter(|word| !word.is_empty()) {
            match read_number(word) {
                Ok(Some(0.0)) if zero == Zero::LeftOut => {}
                Ok(Some(number)) => list.push(number),
                _ => self
                    .errors
                    .add(field, format!("“{word}” is not a number; write parts such as 1, 2, 4")),
            }
        }
        list
    }
}

/// `3:1, 1:1, 1:3`, or percent of the first tube: `75 %, 50 %, 25 %`.
fn ratios(text: &str) -> Result<Vec<(f64, f64)>, String> {
    let ratio = |word: &str| {
        if let Some(percent) = word.strip_suffix('%') {
            let first =
                read_number(percent).ok().flatten().filter(|it| (0.0..=100.0).contains(it))?;
            return Some((first, 100.0 - first));
        }
        let (a, b) = word.split_once([':', '/'])?;
        match (read_number(a), read_number(b)) {
            (Ok(Some(a)), Ok(Some(b))) => Some((a, b)),
            _ => None,
        }
    };
    let words = text.split([',', ';', '\n']).map(str::trim).filter(|word| !word.is_empty());
    let read = words.map(|word| {
        ratio(word).ok_or_else(|| {
            format!("“{word}” is not a ratio; write parts of both tubes, such as 3:1, 1:1, 1:3, or percent of the first, such as 75 %")
        })
    });
    read.collect()
}
