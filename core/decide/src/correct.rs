//! What to add to a pile that was mixed and looked at: the pile becomes a tube of its own.

use colour::{BANDS, Lab, Reflectance, ciede2000};
use mixing::{Constants, Film, InternalReflectance, KsRatio};

use crate::paints::{Paint, Paints, Shares};
use crate::recipe::Off;
use crate::solve::{Patience, Solver};
use crate::target::Target;

/// The least added among those within this of the best, ΔE00.
const AS_GOOD: f64 = 0.1;
/// An addition must bring the pile nearer by this, ΔE00.
const WORTH_IT: f64 = 0.2;
/// A touch by eye changes the pile by about this, ΔE00: enough to be seen.
const TOUCH: f64 = 2.0;

/// What to add to one part of a pile.
#[derive(Debug, Clone, PartialEq)]
pub struct Addition {
    /// Place of each tube and its parts to one part of the pile, above 0.
    pub tubes: Vec<(usize, f64)>,
    /// Parts of white to one part of the pile, 0 or more.
    pub white: f64,
    /// How far the pile is off, root mean square of ΔE00 over the looks.
    pub before: f64,
    /// How far it is predicted to be off then.
    pub after: f64,
}

impl Addition {
    /// All that is added to one part of the pile.
    #[must_use]
    pub fn total(&self) -> f64 {
        self.tubes.iter().map(|it| it.1).sum::<f64>() + self.white
    }
}

/// What was read of a pile: alone, or with white.
#[derive(Debug, Clone, PartialEq)]
pub struct PileReading {
    /// Parts of white to one part of the pile.
    pub white: f64,
    /// Its film over paper.
    pub read: Reflectance,
}

/// A reflectance whose K/S is told best, surface off: neither white nor black.
const BEST_TOLD: f64 = 0.41;

/// K and S of a pile: S as its parts say, K of each band from its readings as films over paper, by the one that tells
/// that band best; `None` without any.
#[must_use]
pub fn pile_as_read(
    paints: &Paints,
    shares: &Shares,
    readings: &[PileReading],
) -> Option<Constants> {
    let mut pile = paints.blend(shares)?;
    for band in 0..BANDS {
        let inside = |reading: &PileReading| {
            let inside = InternalReflectance::from_measured(&reading.read, paints.surface);
            inside.bands()[band].clamp(0.001, 0.9999)
        };
        let off = |reading: &&PileReading| (inside(reading) - BEST_TOLD).abs();
        let reading = readings.iter().min_by(|one, other| off(one).total_cmp(&off(other)))?;
        let wanted = inside(reading);
        let white = paints.white.as_ref().filter(|_| reading.white > 0.0);
        let parts = if white.is_some() { reading.white } else { 0.0 };
        let mean = |own: f64, of_white: f64| (own + parts * of_white) / (1.0 + parts);
        let scattering = mean(pile.s[band], white.map_or(0.0, |it| it.s[band]));
        let own = pile.thickness.zip(white.map_or(pile.thickness, |it| it.thickness));
        let thickness = own.map(|(own, of_white)| mean(own, of_white));
        let reflected = |k: f64| {
            let absorption = mean(k, white.map_or(0.0, |it| it.k[band]));
            match (paints.paper, thickness) {
                (Some(paper), Some(thickness)) => {
                    let (absorption, scattering) = (absorption * thickness, scattering * thickness);
                    Film { absorption, scattering }.reflectance_over(paper.bands()[band])
                }
                _ => KsRatio(absorption / scattering).hiding_reflectance(),
            }
        };
        let (mut low, mut high) = (0.0, 1_000.0);
        for _ in 0..60 {
            let middle = f64::midpoint(low, high);
            if reflected(middle) > wanted { low = middle } else { high = middle }
        }
        pile.k[band] = high;
    }
    Some(pile)
}

/// What to add to a pile that reads so, to bring it nearer to the target: the least that does it, one or two tubes and
/// white, no more than `most` parts to one part of the pile. `None` where nothing brings it nearer.
#[must_use]
pub fn correct(
    paints: &Paints,
    target: &Target,
    pile: &Constants,
    among: &[usize],
    most: f64,
) -> Option<Addition> {
    let place = paints.tubes.len();
    let mut with_pile = paints.clone();
    with_pile.tubes.push(Paint::read(pile.clone(), 1));
    let alone = Shares::of(&[(place, 1.0)], 0.0);
    let before = Off::of(&alone, target, &with_pile)?;
    let solver = Solver::new(&with_pile, target, true);
    let mut found: Vec<(f64, Addition)> = Vec::new();
    let mut add = |tubes: &[usize]| {
        let mut chosen = tubes.to_vec();
        chosen.push(place);
        let mut choice = solver.solve(&chosen, Patience::QUICK);
        solver.polish(&mut choice, Patience::CAREFUL, true);
        if let Some(addition) = Addition::of(&choice.shares(), place, most)
            && let Some(off) = Off::of(&addition.with_pile(place), target, &with_pile)
        {
            let score = off.score();
            found.push((score, Addition { before: before.first, after: off.first, ..addition }));
        }
    };
    add(&[]);
    for (at, one) in among.iter().enumerate() {
        add(&[*one]);
        for other in &among[at + 1..] {
            add(&[*one, *other]);
        }
    }
    let best = found.iter().map(|it| it.0).fold(f64::INFINITY, f64::min);
    let good = found
        .into_iter()
        .filter(|(score, it)| *score <= best + AS_GOOD && it.after + WORTH_IT < it.before);
    good.map(|it| it.1).min_by(|one, other| one.total().total_cmp(&other.total()))
}

impl Addition {
    /// What these shares add to the pile in them; no more than `most`, in the same ratio.
    fn of(shares: &Shares, pile: usize, most: f64) -> Option<Self> {
        let own = shares.tubes.iter().find(|it| it.0 == pile).map(|it| it.1)?;
        let rest = shares.tubes.iter().filter(|it| it.0 != pile);
        let tubes: Vec<(usize, f64)> = rest.map(|(at, share)| (*at, share / own)).collect();
        let white = shares.white / own;
        let total = tubes.iter().map(|it| it.1).sum::<f64>() + white;
        let kept = if total > most { most / total } else { 1.0 };
        let tubes = tubes.into_iter().map(|(at, parts)| (at, kept * parts)).collect();
        Some(Self { tubes, white: kept * white, before: 0.0, after: 0.0 })
    }

    fn with_pile(&self, pile: usize) -> Shares {
        let mut tubes = self.tubes.clone();
        tubes.push((pile, 1.0));
        Shares::of(&tubes, self.white)
    }
}

/// What an eye says of a pile beside its target.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Seen {
    /// It is lighter.
    TooLight,
    /// It is darker.
    TooDark,
    /// It has less chroma.
    TooDull,
    /// It has more.
    TooVivid,
    /// It leans red.
    TooRed,
    /// It leans yellow.
    TooYellow,
    /// It leans green.
    TooGreen,
    /// It leans blue.
    TooBlue,
}

impl Seen {
    /// Every answer.
    pub const ALL: [Self; 8] = [
        Self::TooLight,
        Self::TooDark,
        Self::TooDull,
        Self::TooVivid,
        Self::TooRed,
        Self::TooYellow,
        Self::TooGreen,
        Self::TooBlue,
    ];

    /// As one would say it.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Self::TooLight => "too light",
            Self::TooDark => "too dark",
            Self::TooDull => "too dull",
            Self::TooVivid => "too vivid",
            Self::TooRed => "too red",
            Self::TooYellow => "too yellow",
            Self::TooGreen => "too green",
            Self::TooBlue => "too blue",
        }
    }

    /// The way to go from a colour, of length 1 in L*, a*, b*.
    fn way(self, from: Lab) -> [f64; 3] {
        // The unique hues of CIELAB, about 25°, 90°, 163° and 250° (from memory).
        let toward = |degrees: f64| {
            let (sin, cos) = degrees.to_radians().sin_cos();
            [0.0, cos, sin]
        };
        let more = || {
            let chroma = from.chroma().max(1e-6);
            [0.0, from.a / chroma, from.b / chroma]
        };
        let against = |way: [f64; 3]| way.map(|it| -it);
        match self {
            Self::TooLight => [-1.0, 0.0, 0.0],
            Self::TooDark => [1.0, 0.0, 0.0],
            Self::TooDull => more(),
            Self::TooVivid => against(more()),
            Self::TooRed => against(toward(25.0)),
            Self::TooYellow => against(toward(90.0)),
            Self::TooGreen => against(toward(163.0)),
            Self::TooBlue => against(toward(250.0)),
        }
    }
}

/// A touch of one tube, or of the white.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Touch {
    /// Place of the tube; `None` for the white.
    pub tube: Option<usize>,
    /// Parts of it to one part of the pile, for a change that is just seen.
    pub parts: f64,
    /// How much of the change goes the right way, 0 to 1.
    pub straight: f64,
    /// Where the pile's colour goes.
    pub to: Lab,
}

/// What a touch of each tube does against what an eye says of a pile, the straightest first; none that goes the wrong
/// way. Predicted, never read.
#[must_use]
pub fn touches(paints: &Paints, pile: &Shares, seen: &[Seen], among: &[usize]) -> Vec<Touch> {
    let Some(clean) = paints.blend(pile) else { return Vec::new() };
    let from = paints.lab(&clean);
    let way = seen.iter().fold([0.0; 3], |sum, seen| {
        let way = seen.way(from);
        [0, 1, 2].map(|axis: usize| sum[axis] + way[axis])
    });
    let whites = paints.white.iter().map(|white| (None, white));
    let tubes = among.iter().filter_map(|at| Some((Some(*at), &paints.tubes.get(*at)?.constants)));
    let touch = |(tube, paint): (Option<usize>, &Constants)| {
        let colour = |parts: f64| {
            let mixed = Constants::mixed(&[(1.0, &clean), (parts, paint)])?;
            Some(paints.lab(&mixed))
        };
        let off = |parts: f64| colour(parts).map_or(0.0, |lab| ciede2000(from, lab).value());
        let (mut low, mut high) = (1e-4_f64.ln(), 0.5_f64.ln());
        for _ in 0..30 {
            let middle = f64::midpoint(low, high);
            if off(middle.exp()) > TOUCH { high = middle } else { low = middle }
        }
        let parts = high.exp();
        let to = colour(parts)?;
        let moved = [to.l - from.l, to.a - from.a, to.b - from.b];
        let length = |of: [f64; 3]| of.iter().map(|it| it * it).sum::<f64>().sqrt();
        let along: f64 = moved.iter().zip(way).map(|(moved, way)| moved * way).sum();
        let straight = along / (length(moved) * length(way)).max(1e-9);
        (straight > 0.3).then_some(Touch { tube, parts, straight, to })
    };
    let mut all: Vec<Touch> = whites.chain(tubes).filter_map(touch).collect();
    all.sort_by(|one, other| other.straight.total_cmp(&one.straight));
    all
}
