//! A request to a design with its tubes.

use std::collections::HashMap;

use mixing::Geometry;
use plan::{Chart, Design, Pace, PlanError, Question, Thinning, Third};
use store::{Circumstances, Palette, Role, ShelfTube, TubeId};
use study::{Basis, Medium, Mixture, Protocol, TubeRef};

use super::request::{
    ChartRequest, RequestError, RequestPlace, ThinningRequest, ThirdRequest, TintRequest,
    TrialRequest,
};
use crate::devices::MeterInfo;

/// Most tubes of one plan.
const MOST_TUBES: usize = 60;

/// A design, and the tubes that its [`TubeRef`]s stand for.
#[derive(Debug)]
pub(super) struct Resolved {
    pub tubes: Vec<(ShelfTube, Role)>,
    pub design: Design,
    pub circumstances: Circumstances,
}

/// What a request is resolved with.
pub(super) struct Stock<'a> {
    pub shelf: &'a HashMap<TubeId, &'a ShelfTube>,
    pub palette: Option<&'a Palette>,
    /// The meter, where one has answered.
    pub meter: Option<&'a MeterInfo>,
    /// How many times the usual minutes the user takes, where earlier runs tell.
    pub pace: Option<f64>,
}

impl Resolved {
    pub fn of(request: &TrialRequest, stock: &Stock<'_>) -> Result<Self, Vec<RequestError>> {
        let of_palette = matches!(request.question, Question::Cleanest | Question::Neutral);
        let mut resolver = Resolver { stock, of_palette, tubes: Vec::new(), errors: Vec::new() };
        let resolved = resolver.resolve(request);
        if resolver.errors.is_empty() { Ok(resolved) } else { Err(resolver.errors) }
    }

    /// What of the request a plan's error is about.
    pub fn place_of(&self, error: &PlanError) -> RequestPlace {
        let ladder = |tube: &TubeRef| {
            let ladders = self.design.charts.iter().filter_map(|chart| match chart {
                Chart::Ladder { from, to, .. } => Some((from, to)),
                _ => None,
            });
            let mut found =
                ladders.enumerate().filter(|(_, (from, to))| *from == tube || *to == tube);
            found.next().map(|(at, _)| RequestPlace::Ladder(at))
        };
        let itself = |tube: &TubeRef| {
            let ladders = self.design.charts.iter().filter_map(|chart| match chart {
                Chart::Ladder { from, to, .. } => Some((from, to)),
                _ => None,
            });
            ladders
                .enumerate()
                .find(|(_, (from, to))| *from == tube && *to == tube)
                .map(|(at, _)| RequestPlace::Ladder(at))
        };
        let tempered = |tube: &TubeRef| {
            let mut temperings =
                self.design.charts.iter().filter(|it| matches!(it, Chart::Temper { .. }));
            let found = temperings.position(|chart| {
                matches!(chart, Chart::Temper { base: [(a, _), (b, _)], temper, .. }
                    if [a, b, temper].contains(&tube))
            });
            found.map(RequestPlace::Temper)
        };
        match error {
            PlanError::AgainstItself(tube) => {
                itself(tube).or_else(|| tempered(tube)).unwrap_or(RequestPlace::Grid)
            }
            PlanError::Third(tube) => {
                tempered(tube).or_else(|| ladder(tube)).unwrap_or(RequestPlace::StarThird)
            }
            PlanError::NothingChosen => RequestPlace::Nowhere,
            PlanError::TooManyLadders(_) => RequestPlace::Tested,
            PlanError::NoWhite | PlanError::WhiteTested => RequestPlace::White,
            PlanError::Whites(found) => match &self.design.thinning {
                Thinning::White { alone, .. } if alone.contains(found) => RequestPlace::WhitesAlone,
                _ => RequestPlace::WhitesMixed,
            },
            PlanError::GridTooLarge(_) => RequestPlace::Grid,
            PlanError::TooMany(_) => RequestPlace::Steps,
            PlanError::Steps(_) => RequestPlace::OwnSteps,
            PlanError::Amount(_) => RequestPlace::Resolution,
            PlanError::Film => RequestPlace::SquareSide,
            PlanError::TooFewPlaces { .. } => RequestPlace::Places,
        }
    }
}

/// Takes in the tubes one by one, and keeps what is wrong.
struct Resolver<'a> {
    stock: &'a Stock<'a>,
    /// The question can be asked of a palette alone.
    of_palette: bool,
    tubes: Vec<(ShelfTube, Role)>,
    errors: Vec<RequestError>,
}

impl Resolver<'_> {
    fn resolve(&mut self, request: &TrialRequest) -> Resolved {
        let tested = self.all(&request.tested, Role::Tested, RequestPlace::Tested);
        let references = self.references(request, &tested);
        let mut charts: Vec<Chart> = Vec::new();
        let (mut ladders, mut temperings) = (0, 0);
        for chart in &request.charts {
            let counts = (&mut ladders, &mut temperings);
            charts.extend(self.chart(chart, &tested, &references, counts));
        }
        let tinted = match request.tints {
            TintRequest::Tested => tested,
            TintRequest::All => [tested, references].concat(),
            TintRequest::None => Vec::new(),
        };
        if !tinted.is_empty() {
            charts.insert(0, Chart::Tints(tinted));
        }
        let white = self.white(request);
        if self.tubes.len() > MOST_TUBES {
            let found = self.tubes.len();
            let message =
                format!("{found} tubes are too many for one trial; up to {MOST_TUBES} work");
            self.wrong(RequestPlace::Tested, message);
        }
        let thinning = self.thinning(&request.thinning, white);
        let design = Design {
            question: request.question,
            charts,
            white,
            thinning,
            tests: request.tests,
            anchors: request.anchors,
            dots: request.dots,
            wash_always: request.wash_always,
            ratios: request.ratios,
            repeats: request.repeats,
            alike: request.alike,
            supply: request.supply,
            pace: self.pace(request),
            aim: request.aim.clone(),
        };
        let circumstances = self.circumstances(request);
        Resolved { tubes: std::mem::take(&mut self.tubes), design, circumstances }
    }

    fn wrong(&mut self, place: RequestPlace, message: impl Into<String>) {
        self.errors.push(RequestError { place, message: message.into() });
    }

    /// The place of a tube, taken in where it is new.
    fn place(&mut self, tube: &ShelfTube, role: Role) -> TubeRef {
        let at = self.tubes.iter().position(|(known, _)| known.id == tube.id);
        TubeRef(at.unwrap_or_else(|| {
            self.tubes.push((tube.clone(), role));
            self.tubes.len() - 1
        }))
    }

    fn tube(&mut self, id: TubeId, role: Role, place: RequestPlace) -> Option<TubeRef> {
        match self.stock.shelf.get(&id).copied() {
            Some(tube) => Some(self.place(tube, role)),
            None => {
                self.wrong(place, "this tube is not on the shelf; choose another");
                None
            }
        }
    }

    fn all(&mut self, ids: &[TubeId], role: Role, place: RequestPlace) -> Vec<TubeRef> {
        let mut tubes = Vec::new();
        for id in ids {
            if let Some(tube) = self.tube(*id, role, place)
                && !tubes.contains(&tube)
            {
                tubes.push(tube);
            }
        }
        tubes
    }

    /// The palette's colours and what is named besides, without the tubes under test themselves.
    fn references(&mut self, request: &TrialRequest, tested: &[TubeRef]) -> Vec<TubeRef> {
        let mut references = Vec::new();
        if let Some(palette) = self.stock.palette {
            for tube in palette.colours() {
                references.push(self.place(tube, Role::Reference));
            }
        }
        for tube in self.all(&request.references, Role::Reference, RequestPlace::References) {
            if !references.contains(&tube) {
                references.push(tube);
            }
        }
        references.retain(|tube| !tested.contains(tube));
        references
    }

    fn white(&mut self, request: &TrialRequest) -> Option<TubeRef> {
        let named = request.white.and_then(|id| self.tube(id, Role::White, RequestPlace::White));
        let white = named.or_else(|| {
            let tube = self.stock.palette?.white()?.clone();
            Some(self.place(&tube, Role::White))
        })?;
        self.tubes[white.0].1 = Role::White;
        Some(white)
    }

    /// Water for transparent water colour, white for what covers, both for gouache.
    fn thinning(&self, request: &ThinningRequest, white: Option<TubeRef>) -> Thinning {
        let (alone, mixtures) = match request {
            ThinningRequest::Given(thinning) => return thinning.clone(),
            ThinningRequest::ByMedium { alone, mixtures } => (alone.clone(), mixtures.clone()),
        };
        let colours = self.tubes.iter().filter(|(_, role)| *role != Role::White);
        let media: Vec<Medium> = colours.map(|(tube, _)| tube.tube.medium).collect();
        if !media.is_empty() && media.iter().all(|medium| *medium == Medium::Watercolour) {
            return Thinning::Water;
        }
        let film = media.iter().any(|it| matches!(it, Medium::Gouache | Medium::Watercolour));
        // Without any white a thin film is what is left.
        match white {
            None if film => Thinning::Water,
            _ => Thinning::White { alone, mixtures, film },
        }
    }

    fn chart(
        &mut self,
        chart: &ChartRequest,
        tested: &[TubeRef],
        references: &[TubeRef],
        (ladders, temperings): (&mut usize, &mut usize),
    ) -> Option<Chart> {
        match chart {
            // With nothing under test it is the palette itself that is asked about.
            ChartRequest::Star { steps, .. } if tested.is_empty() => (self.of_palette
                && references.len() > 1)
                .then(|| Chart::Pairs { tubes: references.to_vec(), steps: steps.clone() }),
            ChartRequest::Star { steps, third } => {
                let third = self.third(*third, RequestPlace::StarThird);
                // What is in every mixture is no end of a ladder.
                let in_all = |tube: &TubeRef| third.is_some_and(|third| third.tube == *tube);
                let references: Vec<TubeRef> =
                    references.iter().copied().filter(|tube| !in_all(tube)).collect();
                let tested = tested.to_vec();
                if references.is_empty() && third.is_none() && tested.len() > 1 {
                    // Without a palette they are mixed with each other.
                    return Some(Chart::Pairs { tubes: tested, steps: steps.clone() });
                }
                if references.is_empty() {
                    self.wrong(
                        RequestPlace::References,
                        "choose a palette, or name at least one tube to mix it with",
                    );
                }
                Some(Chart::Star { tested, references, steps: steps.clone(), third })
            }
            ChartRequest::Ladder { from, to, steps, third } => {
                let place = RequestPlace::Ladder(*ladders);
                *ladders += 1;
                let from = self.tube(*from, Role::Tested, place)?;
                let to = self.tube(*to, Role::Tested, place)?;
                let third = self.third(*third, place);
                Some(Chart::Ladder { from, to, steps: steps.clone(), third })
            }
            ChartRequest::Grid { tubes, half } => {
                let named = self.all(tubes, Role::Tested, RequestPlace::Grid);
                let tubes = if named.is_empty() { references.to_vec() } else { named };
                if tubes.len() < 2 {
                    let message = "a grid needs two tubes or more; choose them, or a palette";
                    self.wrong(RequestPlace::Grid, message);
                }
                Some(Chart::Grid { tubes, half: *half })
            }
            ChartRequest::Pairs { tubes, steps } => {
                let mut all = self.all(tubes, Role::Tested, RequestPlace::Pairs);
                if all.is_empty() {
                    all = [tested, references].concat();
                }
                if all.len() < 2 {
                    let message = "pairs need two tubes or more; choose them, or a palette";
                    self.wrong(RequestPlace::Pairs, message);
                }
                Some(Chart::Pairs { tubes: all, steps: steps.clone() })
            }
            ChartRequest::Triad { tubes, steps } => {
                let found = self.all(tubes, Role::Tested, RequestPlace::Triad);
                let Ok(tubes) = <[TubeRef; 3]>::try_from(found) else {
                    self.wrong(RequestPlace::Triad, "three primaries are three different tubes");
                    return None;
                };
                Some(Chart::Triad { tubes, steps: steps.clone() })
            }
            ChartRequest::Chosen { parts } => {
                let mut all = Vec::new();
                for (tube, parts) in parts {
                    all.push((self.tube(*tube, Role::Tested, RequestPlace::Tested)?, *parts));
                }
                Some(Chart::Chosen(vec![Mixture::of(&all)]))
            }
            ChartRequest::Temper { base: [a, b], temper, parts } => {
                let place = RequestPlace::Temper(*temperings);
                *temperings += 1;
                let a = self.tube(*a, Role::Tested, place)?;
                let b = self.tube(*b, Role::Tested, place)?;
                let temper = self.tube(*temper, Role::Reference, place)?;
                let base = [(a, 1.0), (b, 1.0)];
                Some(Chart::Temper { base, temper, parts: parts.clone() })
            }
        }
    }

    fn third(&mut self, third: Option<ThirdRequest>, place: RequestPlace) -> Option<Third> {
        let third = third?;
        let tube = self.tube(third.tube, Role::Reference, place)?;
        Some(Third { tube, share: third.share })
    }

    /// The user's own pace where it is known, else the usual one, with the drying time of the slowest medium.
    fn pace(&self, request: &TrialRequest) -> Pace {
        let paces = self.tubes.iter().map(|(tube, _)| Pace::of(tube.tube.medium));
        let usual = paces
            .max_by(|one, other| one.dry.total_cmp(&other.dry))
            .unwrap_or_else(|| Design::default().pace);
        let by_eye = request.supply.measure == Basis::Eye;
        let usual = if by_eye { usual.by_eye() } else { usual };
        let own = request.minutes;
        // Whoever types a time knows better than what was learnt.
        let typed = [own.mix, own.swatch, own.wipe, own.wash].iter().any(Option::is_some);
        let usual = usual.times(self.stock.pace.filter(|_| !typed).unwrap_or(1.0));
        Pace {
            mix: own.mix.unwrap_or(usual.mix),
            swatch: own.swatch.unwrap_or(usual.swatch),
            wipe: own.wipe.unwrap_or(usual.wipe),
            clean: own.wash.unwrap_or(usual.clean),
            ..usual
        }
    }

    fn circumstances(&self, request: &TrialRequest) -> Circumstances {
        let basis = request.supply.measure;
        let meter = self.stock.meter;
        Circumstances {
            conditions: request.conditions,
            protocol: Protocol {
                basis,
                scale_g: (basis == Basis::Weight).then_some(request.supply.resolution),
                pile_g: None,
                repeatability: meter.map(|meter| meter.repeatability),
                geometry: meter.map_or_else(Geometry::default, |meter| meter.geometry),
                sheen: request.sheen,
            },
            repeats: request.repeats,
            meter_known: meter.is_some(),
        }
    }
}
