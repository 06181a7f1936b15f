//! The piles to be mixed, backwards from the last tint: each tint takes its share of the mixture it
//! is made from, and the mixture must feed them all besides its own squares.

use std::collections::HashMap;

use colour::ciede2000;
use serde::{Deserialize, Serialize};
use study::{Backing, Basis, Mixture, Part, TubeRef};

use crate::amounts::{self, Scale};
use crate::charts::{Cell, RowAbout, Squares};
use crate::design::{Design, Pace, Supply, Thinning};
use crate::error::PlanError;
use crate::numbers::{CellNumber, PileRef};
use crate::prior::Prior;

/// What one component of a pile is taken from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Source {
    /// Straight from the tube.
    Tube(TubeRef),
    /// From a pile.
    Pile(PileRef),
}

/// What a pile is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum PileKind {
    /// A strong component thinned so far that it can be weighed.
    LetDown,
    /// All tubes of a mixture but the last, which is added next.
    Base,
    /// A mixture of tubes.
    Mixture,
    /// A colour with white.
    Tint,
}

impl PileKind {
    /// Minutes to mix one: a tint is let down from what is mixed already.
    #[must_use]
    pub fn minutes(self, pace: &Pace) -> f64 {
        match self {
            Self::Tint => pace.tint.unwrap_or(pace.mix),
            _ => pace.mix,
        }
    }
}

/// One pile on the palette. Amounts are in the unit of the plan's measure, g or ml.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Pile {
    /// What it is for.
    pub kind: PileKind,
    /// What is in it.
    pub holds: Mixture,
    /// Its two components: the one that is put out first, then the stronger one.
    pub components: [(Source, f64); 2],
    /// What squares and other piles take from it.
    pub need: f64,
    /// One standard deviation of its ratio, as a share of it.
    pub ratio_error: f64,
    /// ΔE00 of a ratio that is off by as much; `None` where its colour cannot be predicted.
    pub colour_error: Option<f64>,
    /// Numbers of the swatches painted from it; one stands twice where it is painted twice.
    pub cells: Vec<CellNumber>,
}

impl Pile {
    /// What is put together.
    #[must_use]
    pub fn total(&self) -> f64 {
        self.components.iter().map(|(_, amount)| amount).sum()
    }
}

/// A colour and all that is made from it, in the order of making.
#[derive(Debug, Clone)]
pub(super) struct Group {
    /// The colour: one tube, or a mixture of tubes.
    pub base_mix: Mixture,
    /// Squares painted straight from the tube; empty where the base mix is a mixture.
    pub straight: Vec<CellNumber>,
    /// The same over black and white: they wait until everything else of the tube is done.
    pub opacity: Vec<CellNumber>,
    /// Its piles, each after those it needs; sources count from the group's first pile.
    pub piles: Vec<Pile>,
    /// The row that first asks for it: groups of one ladder follow each other.
    pub ladder: usize,
    /// The tube whose mixtures it belongs to; `None` for what stands alone for comparison.
    pub tried: Option<TubeRef>,
}

/// Groups the squares by the colour they come from, and plans the piles of each.
pub(super) fn groups(
    design: &Design,
    prior: &Prior,
    squares: &Squares,
) -> Result<Vec<Group>, PlanError> {
    let white = match design.thinning {
        Thinning::White { .. } => design.white,
        _ => None,
    };
    let scale = match design.supply.measure {
        Basis::Eye => None,
        _ => Some(Scale::new(design.supply.resolution)?),
    };
    // What is mixed with others is tried; what only stands alone is there to be compared with.
    let mixed = |about: &RowAbout| !matches!(about, RowAbout::Alone(_) | RowAbout::Bare);
    let tried: Vec<TubeRef> = squares
        .rows
        .iter()
        .filter(|row| mixed(&row.about))
        .filter_map(|row| row.about.tube())
        .collect();
    let mut wanted: Vec<Wanted> = Vec::new();
    let mut places: HashMap<Vec<(TubeRef, u32)>, usize> = HashMap::new();
    for (at, row) in squares.rows.iter().enumerate() {
        for cell in &row.cells {
            let (Cell::First(number) | Cell::Again(number)) = *cell else { continue };
            let Some(swatch) = number.of(&squares.swatches) else { continue };
            let mixture = &swatch.mixture;
            if mixture.is_bare() {
                continue;
            }
            let (mixed, parts) = without_white(mixture, white);
            let (base_mix, tempered) = without_temper(&row.about, mixed);
            let place = *places.entry(base_mix.ratio_key()).or_insert_with(|| {
                let tried = row.about.tube().filter(|tube| tried.contains(tube));
                let (squares, opacity, tempered) = (Vec::new(), Vec::new(), Vec::new());
                wanted.push(Wanted { base_mix, squares, opacity, tempered, ladder: at, tried });
                wanted.len() - 1
            });
            if let Some(part) = tempered {
                wanted[place].temper(part, parts, number);
            } else if swatch.backing == Backing::Paper {
                wanted[place].add(parts, number);
            } else {
                wanted[place].opacity.push(number);
            }
        }
    }
    let bench = Bench { prior, supply: &design.supply, scale, white };
    wanted.into_iter().map(|one| bench.group(one)).collect()
}

/// The mixture without its white, and the parts of white to one part of it.
fn without_white(mixture: &Mixture, white: Option<TubeRef>) -> (Mixture, f64) {
    match mixture.white_per_colour(white) {
        Some(parts) if parts > 0.0 => (Mixture::new(mixture.colours(white).copied()), parts),
        _ => (mixture.clone(), 0.0),
    }
}

/// In a row with more and more of a third tube: the mixture without it, and how much of it there is.
fn without_temper(about: &RowAbout, mixture: Mixture) -> (Mixture, Option<Part>) {
    let RowAbout::Temper { temper, .. } = about else { return (mixture, None) };
    let parts = mixture.parts_of(*temper);
    if parts <= 0.0 {
        return (mixture, None);
    }
    let base = mixture.parts().iter().copied().filter(|part| part.tube != *temper);
    (Mixture::new(base), Some(Part { tube: *temper, parts }))
}

/// Squares by parts of white, none first.
type ByWhite = Vec<(f64, Vec<CellNumber>)>;

/// Squares wanted of one colour, by parts of white.
struct Wanted {
    base_mix: Mixture,
    squares: ByWhite,
    /// The same with so much of a third tube.
    tempered: Vec<(Part, ByWhite)>,
    opacity: Vec<CellNumber>,
    ladder: usize,
    tried: Option<TubeRef>,
}

impl Wanted {
    fn add(&mut self, parts: f64, number: CellNumber) {
        add(&mut self.squares, parts, number);
    }

    fn temper(&mut self, part: Part, parts: f64, number: CellNumber) {
        let known = self.tempered.iter().position(|(known, _)| {
            known.tube == part.tube && (known.parts - part.parts).abs() <= 1e-6 * part.parts
        });
        let at = known.unwrap_or_else(|| {
            self.tempered.push((part, Vec::new()));
            self.tempered.len() - 1
        });
        add(&mut self.tempered[at].1, parts, number);
    }
}

fn add(squares: &mut ByWhite, parts: f64, number: CellNumber) {
    let same = |(known, _): &&mut (f64, Vec<CellNumber>)| (known - parts).abs() <= 1e-6 * parts;
    if let Some((_, cells)) = squares.iter_mut().find(same) {
        cells.push(number);
        return;
    }
    squares.push((parts, vec![number]));
    squares.sort_by(|one, other| one.0.total_cmp(&other.0));
}

/// The piles of a tint, and the squares painted from the last of them.
type Tint = (Vec<Pile>, Vec<CellNumber>);

/// A mixture with some of a third tube.
struct Tempered {
    piles: Vec<Pile>,
    tints: Vec<Tint>,
    /// How much of the mixture without the third it takes.
    takes: f64,
}

/// Adds the tints of the colour that `source` stands for.
fn lay_tints(piles: &mut Vec<Pile>, tints: Vec<Tint>, source: Source) {
    for (tint, cells) in tints {
        let from = piles.len();
        piles.extend(tint.into_iter().map(|pile| placed(pile, from, source)));
        if let Some(last) = piles.last_mut() {
            last.kind = PileKind::Tint;
            last.cells = cells;
        }
    }
}

/// What every pile of a plan is worked out with.
struct Bench<'a> {
    prior: &'a Prior,
    supply: &'a Supply,
    scale: Option<Scale>,
    white: Option<TubeRef>,
}

/// A binary pile with what it takes of its scarce and its other component.
struct Binary {
    piles: Vec<Pile>,
    scarce: f64,
    other: f64,
}

impl Bench<'_> {
    fn group(&self, wanted: Wanted) -> Result<Group, PlanError> {
        let Wanted { base_mix, squares, tempered, opacity, ladder, tried } = wanted;
        // Backwards: the tints first, since the base mix feeds them; then what a third tube is let into.
        let (own, tints, mut need) = self.tints(&base_mix, &squares)?;
        let mut with_third = Vec::new();
        for (part, squares) in &tempered {
            let made = self.tempered(&base_mix, *part, squares)?;
            need += made.takes;
            with_third.push(made);
        }
        let (mut piles, straight, source) = match base_mix.parts() {
            [only] => (Vec::new(), own, Source::Tube(only.tube)),
            _ => {
                let piles = self.base_mix(&base_mix, need, own)?;
                let last = piles.len() - 1;
                (piles, Vec::new(), Source::Pile(PileRef(last)))
            }
        };
        lay_tints(&mut piles, tints, source);
        for made in with_third {
            let from = piles.len();
            piles.extend(made.piles.into_iter().map(|pile| placed(pile, from, source)));
            let source = Source::Pile(PileRef(piles.len() - 1));
            lay_tints(&mut piles, made.tints, source);
        }
        Ok(Group { base_mix, straight, opacity, piles, ladder, tried })
    }

    /// The squares of a colour itself, its tints, and how much of it they all take.
    fn tints(
        &self,
        base_mix: &Mixture,
        squares: &ByWhite,
    ) -> Result<(Vec<CellNumber>, Vec<Tint>, f64), PlanError> {
        let one = self.supply.one_swatch();
        let own: Vec<CellNumber> =
            squares.iter().find(|it| it.0 == 0.0).map_or_else(Vec::new, |it| it.1.clone());
        let mut need = one * own.len() as f64;
        let mut tints = Vec::new();
        for (parts, cells) in squares.iter().filter(|it| it.0 > 0.0) {
            let Some(white) = self.white else { continue };
            let of_white = Part { tube: white, parts: parts * base_mix.total() };
            let mixture = Mixture::new(base_mix.parts().iter().copied().chain([of_white]));
            let share = 1.0 / (1.0 + parts);
            let ends = (BaseOr::Base, BaseOr::Tube(white));
            let least = self.least(one * cells.len() as f64);
            let tint = self.binary(ends, share, least, &mixture, base_mix)?;
            need += if share <= 0.5 { tint.scarce } else { tint.other };
            tints.push((tint.piles, cells.clone()));
        }
        Ok((own, tints, need))
    }

    /// A mixture with some of a third tube, and its tints.
    fn tempered(
        &self,
        base_mix: &Mixture,
        part: Part,
        squares: &ByWhite,
    ) -> Result<Tempered, PlanError> {
        let mixture = Mixture::new(base_mix.parts().iter().copied().chain([part]));
        let (own, tints, need) = self.tints(&mixture, squares)?;
        let share = part.parts / mixture.total();
        let ends = (BaseOr::Tube(part.tube), BaseOr::Base);
        let mut made = self.binary(ends, share, self.least(need), &mixture, base_mix)?;
        if let Some(pile) = made.piles.last_mut() {
            pile.cells = own;
        }
        let takes = if share <= 0.5 { made.other } else { made.scarce };
        Ok(Tempered { piles: made.piles, tints, takes })
    }

    /// The piles of a mixture of two tubes; of three, two are mixed first and the third is added.
    fn base_mix(
        &self,
        base_mix: &Mixture,
        need: f64,
        cells: Vec<CellNumber>,
    ) -> Result<Vec<Pile>, PlanError> {
        let need = self.least(need);
        let parts = base_mix.parts();
        let (base, last) = parts.split_at(parts.len() - 1);
        let (&[last], true) = (last, parts.len() > 1) else { return Ok(Vec::new()) };
        let share = last.parts / base_mix.total();
        let base_mixture = Mixture::new(base.iter().copied());
        let first = match base {
            [only] => BaseOr::Tube(only.tube),
            _ => BaseOr::Base,
        };
        let ends = (BaseOr::Tube(last.tube), first);
        let mut made = self.binary(ends, share, need, base_mix, &base_mixture)?;
        if let Some(pile) = made.piles.last_mut() {
            pile.cells = cells;
            pile.need = need;
        }
        if base.len() == 1 {
            return Ok(made.piles);
        }
        let of_base = if share <= 0.5 { made.other } else { made.scarce };
        let mut piles = self.base_mix(&base_mixture, of_base, Vec::new())?;
        if let Some(last) = piles.last_mut() {
            last.kind = PileKind::Base;
        }
        let (from, source) = (piles.len(), Source::Pile(PileRef(piles.len() - 1)));
        piles.extend(made.piles.into_iter().map(|pile| placed(pile, from, source)));
        Ok(piles)
    }

    /// No pile is smaller than the user's least one.
    fn least(&self, need: f64) -> f64 {
        need.max(self.supply.least_pile)
    }

    /// A pile of `share` (0–1) of the first of two ends, let down first where that is needed.
    fn binary(
        &self,
        ends: (BaseOr, BaseOr),
        share: f64,
        need: f64,
        holds: &Mixture,
        base_mix: &Mixture,
    ) -> Result<Binary, PlanError> {
        let (scarce_end, other_end, scarce) =
            if share <= 0.5 { (ends.0, ends.1, share) } else { (ends.1, ends.0, 1.0 - share) };
        let weighed = match self.scale {
            Some(scale) => amounts::pile(need, scarce, scale)?,
            None => self.supply.hand.pile(need, scarce)?,
        };
        let (mut taken_scarce, mut taken_other) = (0.0, weighed.other_g);
        let mut piles = Vec::new();
        let mut strong = scarce_end.source();
        let mut strong_share = 1.0;
        for (at, step) in weighed.let_downs.iter().enumerate() {
            if at == 0 {
                taken_scarce += step.strong_g;
            }
            taken_other += step.other_g;
            strong_share *= step.strong_g / (step.strong_g + step.other_g);
            piles.push(Pile {
                kind: PileKind::LetDown,
                holds: mixed(scarce_end, other_end, strong_share, base_mix),
                components: [(other_end.source(), step.other_g), (strong, step.strong_g)],
                need: weighed.let_downs.get(at + 1).map_or(weighed.scarce_g, |next| next.strong_g),
                ratio_error: self.error(step.strong_g, step.other_g),
                colour_error: None,
                cells: Vec::new(),
            });
            strong = Source::Pile(PileRef(at));
        }
        if weighed.let_downs.is_empty() {
            taken_scarce = weighed.scarce_g;
        }
        let ratio_error = match self.supply.measure {
            Basis::Weight | Basis::Eye => weighed.ratio_error,
            Basis::Volume => self.error(1.0, 1.0),
        };
        let off = |ratio_error: f64| {
            let shifted = scarce * (1.0 + ratio_error) / (1.0 + scarce * ratio_error);
            mixed(scarce_end, other_end, shifted, base_mix)
        };
        let colour_error = (self.supply.measure != Basis::Eye)
            .then(|| {
                let (meant, found) =
                    (self.prior.colour(holds)?, self.prior.colour(&off(ratio_error))?);
                Some(ciede2000(meant, found).value())
            })
            .flatten();
        piles.push(Pile {
            kind: PileKind::Mixture,
            holds: holds.clone(),
            components: [(other_end.source(), weighed.other_g), (strong, weighed.scarce_g)],
            need,
            ratio_error,
            colour_error,
            cells: Vec::new(),
        });
        Ok(Binary { piles, scarce: taken_scarce, other: taken_other })
    }

    /// One standard deviation of the ratio of two amounts.
    fn error(&self, one: f64, other: f64) -> f64 {
        match self.scale {
            Some(scale) if self.supply.measure == Basis::Weight => {
                scale.relative_error(one).hypot(scale.relative_error(other))
            }
            Some(_) => 0.05_f64.hypot(0.05),
            None => amounts::BY_EYE,
        }
    }
}

/// One end of a binary pile: the colour it is made from, or a tube.
#[derive(Debug, Clone, Copy)]
enum BaseOr {
    Base,
    Tube(TubeRef),
}

/// Stands for the base mix until its own place is known.
const OF_BASE: Source = Source::Pile(PileRef(usize::MAX));

impl BaseOr {
    fn source(self) -> Source {
        match self {
            Self::Base => OF_BASE,
            Self::Tube(tube) => Source::Tube(tube),
        }
    }
}

/// A pile with its sources counted from the group's first pile, and the base mix named.
fn placed(mut pile: Pile, from: usize, base_mix: Source) -> Pile {
    for (source, _) in &mut pile.components {
        *source = match *source {
            OF_BASE => base_mix,
            Source::Pile(PileRef(at)) => Source::Pile(PileRef(from + at)),
            tube @ Source::Tube(_) => tube,
        };
    }
    pile
}

/// What a pile holds with `share` of its scarce end; where the base mix is in it, its parts stay as
/// they are, so that its ratio can be read.
fn mixed(scarce: BaseOr, other: BaseOr, share: f64, base_mix: &Mixture) -> Mixture {
    let whole = match (scarce, other) {
        (BaseOr::Base, _) => base_mix.total() / share,
        (_, BaseOr::Base) => base_mix.total() / (1.0 - share),
        _ => 1.0,
    };
    let of = |end: BaseOr, share: f64| -> Vec<Part> {
        match end {
            BaseOr::Base => part(base_mix, whole * share).collect(),
            BaseOr::Tube(tube) => vec![Part { tube, parts: whole * share }],
        }
    };
    Mixture::new(of(scarce, share).into_iter().chain(of(other, 1.0 - share)))
}

/// The parts of a mixture, together so many.
fn part(mixture: &Mixture, parts: f64) -> impl Iterator<Item = Part> {
    let total = mixture.total();
    mixture
        .parts()
        .iter()
        .map(move |part_of| Part { tube: part_of.tube, parts: part_of.parts * parts / total })
}
