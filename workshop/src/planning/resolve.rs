//! A request to a design with its tubes.

use std::collections::HashMap;

use mixing::Geometry;
use plan::{Chart, Design, Pace, PlanError, Thinning, Third};
use store::{Circumstances, Palette, Role, ShelfTube, TubeId};
use study::{Basis, Protocol, TubeRef};

use super::request::{
    ChartRequest, RequestError, RequestPlace, ThirdRequest, TintRequest, TrialRequest,
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
}

impl Resolved {
    pub fn of(request: &TrialRequest, stock: &Stock<'_>) -> Result<Self, Vec<RequestError>> {
        let mut resolver = Resolver { stock, tubes: Vec::new(), errors: Vec::new() };
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
        match error {
            PlanError::AgainstItself(tube) => itself(tube).unwrap_or(RequestPlace::Grid),
            PlanError::Third(tube) => ladder(tube).unwrap_or(RequestPlace::StarThird),
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
    tubes: Vec<(ShelfTube, Role)>,
    errors: Vec<RequestError>,
}

impl Resolver<'_> {
    fn resolve(&mut self, request: &TrialRequest) -> Resolved {
        let tested = self.all(&request.tested, Role::Tested, RequestPlace::Tested);
        let references = self.references(request, &tested);
        let mut charts: Vec<Chart> = Vec::new();
        let mut ladders = 0;
        for chart in &request.charts {
            charts.extend(self.chart(chart, &tested, &references, &mut ladders));
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
        let design = Design {
            charts,
            white,
            thinning: request.thinning.clone(),
            tests: request.tests,
            anchors: request.anchors,
            repeats: request.repeats,
            alike: request.alike,
            supply: request.supply,
            pace: self.pace(request.supply.measure),
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

    fn chart(
        &mut self,
        chart: &ChartRequest,
        tested: &[TubeRef],
        references: &[TubeRef],
        ladders: &mut usize,
    ) -> Option<Chart> {
        match chart {
            ChartRequest::Star { .. } if tested.is_empty() => None,
            ChartRequest::Star { steps, third } => {
                let third = self.third(*third, RequestPlace::StarThird);
                // What is in every mixture is no end of a ladder.
                let in_all = |tube: &TubeRef| third.is_some_and(|third| third.tube == *tube);
                let references: Vec<TubeRef> =
                    references.iter().copied().filter(|tube| !in_all(tube)).collect();
                if references.is_empty() {
                    self.wrong(
                        RequestPlace::References,
                        "a star needs a reference palette, or at least one tube to mix with",
                    );
                }
                let tested = tested.to_vec();
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
        }
    }

    fn third(&mut self, third: Option<ThirdRequest>, place: RequestPlace) -> Option<Third> {
        let third = third?;
        let tube = self.tube(third.tube, Role::Reference, place)?;
        Some(Third { tube, share: third.share })
    }

    /// The usual pace, with the drying time of the slowest medium.
    fn pace(&self, measure: Basis) -> Pace {
        let paces = self.tubes.iter().map(|(tube, _)| Pace::of(tube.tube.medium));
        let usual = paces
            .max_by(|one, other| one.dry.total_cmp(&other.dry))
            .unwrap_or_else(|| Design::default().pace);
        if measure == Basis::Eye { usual.by_eye() } else { usual }
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
