//! Each tube beside the standard: its steps, its colours at equal depth, its lean and what its work costs.

use colour::Lab;
use compare::{
    Apart, AtDepth, Bought, ByDepth, Distance, Lean, Origin, PartsBy, Subject, Worth, shared_depths,
};
use store::{ShelfTube, TrialId};
use study::{Backing, Basis, Mixture, Price, SwatchColour};

use super::gathered::{Gathered, counted};
use super::pairs::ComparedPair;

/// Steps of the rack at equal depth.
const DEPTHS: usize = 5;

/// A tube beside the standard.
#[derive(Debug)]
pub struct Beside {
    /// The tube.
    pub tube: ShelfTube,
    /// Where it was read: trials, with the readings of it that count.
    pub read_in: Vec<(TrialId, String, usize)>,
    /// Why it cannot stand beside the standard; its steps are none then.
    pub apart: Option<Apart>,
    /// Its mass tone and its tints, as the standard's readings see them.
    pub steps: Vec<OneStep>,
    /// The mass tone over black.
    pub over_black: Option<SwatchColour>,
    /// The mass tone as a thin film.
    pub thin: Option<SwatchColour>,
    /// Its colours at the depths of the comparison.
    pub at_depths: Vec<AtDepth>,
    /// These were brought over from another white.
    pub is_brought: bool,
    /// Which way it leans beside the standard, at the middle one of these depths.
    pub lean: Option<Lean>,
    /// Parts of it that do what one part of the standard does, with the 95 % interval.
    pub use_of: Option<(f64, [f64; 2])>,
    /// Its price, where that can be read.
    pub price: Option<Price>,
    /// What its work costs.
    pub worth: Option<Worth>,
    /// What tinting 100 ml of white to the middle depth costs.
    pub tinting: Option<f64>,
}

/// One step of a tube with white.
#[derive(Debug, Clone)]
pub struct OneStep {
    /// Parts of white to one part of the tube; 0 is the mass tone.
    pub white: f64,
    /// As the standard's readings would see it.
    pub lab: Lab,
    /// Half-width of the 95 % interval of L*, a* and b*.
    pub half_width: [f64; 3],
    /// As it was read; `None` where it was brought over from other parts, or from another white.
    pub read: Option<SwatchColour>,
}

/// Squares with one partner.
#[derive(Debug)]
pub struct WithPartner {
    /// The partner.
    pub name: String,
    /// Its squares.
    pub squares: Vec<PartnerSquare>,
}

/// One square of the palette, of all tubes at the strength of the standard.
#[derive(Debug)]
pub struct PartnerSquare {
    /// Parts of the partner, and of white, to one part of the standard.
    pub parts: [f64; 2],
    /// The colour of each tube, its distance from the standard, and where it comes from.
    pub tubes: Vec<Option<(Lab, Distance, Origin)>>,
}

/// The trials that tell most of a tube.
pub(super) fn telling_most<'a>(tube: &ShelfTube, gathered: &'a [Gathered]) -> Option<&'a Gathered> {
    let read = gathered.iter().filter(|it| it.readings_of(tube.id) > 0);
    // Of equals the newest, which stand first.
    read.rev().max_by_key(|it| it.readings_of(tube.id))
}

pub(super) fn all(
    tubes: &[ShelfTube],
    gathered: &[Gathered],
    pairs: &[ComparedPair],
) -> (Vec<f64>, Vec<Beside>) {
    let of_standard = telling_most(&tubes[0], gathered);
    let standard = of_standard.and_then(|it| it.subject(tubes[0].id));
    let found = |at: usize| pairs.iter().find(|pair| pair.of == [0, at]).map(|pair| &pair.found);
    let subjects: Vec<Option<(Subject<'_>, &Gathered)>> = tubes
        .iter()
        .enumerate()
        .map(|(at, tube)| {
            // A tube that stands apart in its strength may still be looked at, where its colours compare.
            let shown = at == 0 || found(at).is_some_and(|it| may_be_seen(it.as_ref().err()));
            // What was read beside the standard stands beside it here too.
            let beside = of_standard.filter(|it| it.readings_of(tube.id) > 0);
            let from = beside.or_else(|| telling_most(tube, gathered))?;
            (shown && standard.is_some()).then_some((from.subject(tube.id)?, from))
        })
        .collect();
    let ladders: Vec<Option<ByDepth>> =
        subjects.iter().map(|subject| subject.as_ref()?.0.by_depth(standard.as_ref()?)).collect();
    let depths = shared_depths(&ladders.iter().flatten().collect::<Vec<_>>(), DEPTHS);
    let at_depths = |ladder: &Option<ByDepth>| -> Vec<AtDepth> {
        let Some(ladder) = ladder else { return Vec::new() };
        depths.iter().filter_map(|depth| ladder.at(*depth)).collect()
    };
    let of_standard = at_depths(&ladders[0]);
    let beside = tubes.iter().enumerate().map(|(at, tube)| {
        let own = at_depths(&ladders[at]);
        let middle = |it: &[AtDepth]| it.get(DEPTHS / 2).copied();
        let lean = middle(&own).zip(middle(&of_standard)).filter(|_| at > 0);
        let twins = found(at).and_then(|it| it.as_ref().ok()).filter(|it| it.has_a_use());
        let use_of = twins.map(|it| (it.use_of_second, it.use_interval));
        let (subject, from) = match &subjects[at] {
            Some((subject, from)) => (Some(subject), Some(*from)),
            None => (None, None),
        };
        let neat = |of: fn(&Gathered, &Mixture) -> Option<SwatchColour>| {
            of(from?, &Mixture::neat(subject?.tube))
        };
        let steps = subject.zip(standard.as_ref()).map(|(it, beside)| it.steps(beside));
        let price = Price::typed(&tube.tube.price);
        Beside {
            tube: tube.clone(),
            read_in: read_in(tube, gathered),
            apart: if at == 0 { None } else { found(at).and_then(|it| it.as_ref().err().cloned()) },
            steps: steps.unwrap_or_default().iter().map(OneStep::of).collect(),
            over_black: neat(|it, neat| it.averages().dry(neat, Backing::Black).cloned()),
            thin: neat(|it, neat| it.averages().thin(neat).cloned()),
            lean: lean.and_then(|(own, standard)| own.lean_beside(&standard)),
            worth: worth(tube, &tubes[0], (at, use_of), from),
            tinting: middle(&own).zip(bought(tube)).map(|(it, own)| own.tinting_100_ml(it.white)),
            is_brought: ladders[at].as_ref().is_some_and(ByDepth::is_brought),
            at_depths: own,
            use_of,
            price,
        }
    });
    let beside = beside.collect();
    (depths, beside)
}

/// Readings that tell no strength may still be seen beside each other.
fn may_be_seen(apart: Option<&Apart>) -> bool {
    match apart {
        None | Some(Apart::NothingShared(_) | Apart::Unfitted(_) | Apart::PoorFit(_)) => true,
        Some(
            Apart::Observer(..)
            | Apart::Sheen
            | Apart::Geometry
            | Apart::White(..)
            | Apart::NoWhite
            | Apart::Uncalibrated
            | Apart::Basis(..)
            | Apart::Medium(..)
            | Apart::Unread(_)
            | Apart::IsWhite(_)
            | Apart::Same,
        ) => false,
    }
}

impl OneStep {
    fn of(step: &compare::Step<'_>) -> Self {
        let (lab, half_width) = (step.lab, step.half_width);
        Self { white: step.white, lab, half_width, read: step.read.cloned() }
    }
}

fn read_in(tube: &ShelfTube, gathered: &[Gathered]) -> Vec<(TrialId, String, usize)> {
    let trials = gathered.iter().flat_map(|it| &it.trials);
    let of_tube = trials.filter_map(|analysed| {
        let (trial, count) = (&analysed.trial, counted(analysed, tube.id));
        (count > 0).then(|| (trial.id, trial.name.clone(), count))
    });
    of_tube.collect()
}

fn bought(tube: &ShelfTube) -> Option<Bought> {
    Some(Bought {
        price: Price::typed(&tube.tube.price)?.amount,
        volume_ml: tube.tube.volume_ml.filter(|volume| *volume > 0.0)?,
        density_g_ml: tube.tube.density_g_ml,
    })
}

/// What a tube's work costs beside the standard; `None` where a price or a volume is missing, or the two were paid in
/// different currencies.
fn worth(
    tube: &ShelfTube,
    standard: &ShelfTube,
    (at, use_of): (usize, Option<(f64, [f64; 2])>),
    from: Option<&Gathered>,
) -> Option<Worth> {
    let (own, beside) = (bought(tube)?, bought(standard)?);
    if at == 0 {
        return Some(own.worth_as_standard());
    }
    let currency = |tube: &ShelfTube| Price::typed(&tube.tube.price).map(|it| it.currency);
    if currency(tube) != currency(standard) {
        return None;
    }
    let by = match from?.protocol().basis {
        Basis::Weight => PartsBy::Weight,
        Basis::Volume | Basis::Eye => PartsBy::Volume,
    };
    let (parts, interval) = use_of?;
    Some(own.worth(&beside, parts, interval, by))
}

/// What the standard and the others do with each partner.
pub(super) fn partners(count: usize, pairs: &[ComparedPair]) -> Vec<WithPartner> {
    let mut partners: Vec<WithPartner> = Vec::new();
    for pair in pairs.iter().filter(|pair| pair.of[0] == 0) {
        let Ok(twins) = &pair.found else { continue };
        for cell in twins.cells.iter().filter(|cell| cell.parts[0] > 0.0) {
            let known = partners.iter().position(|it| it.name == cell.with);
            let at = known.unwrap_or_else(|| {
                partners.push(WithPartner { name: cell.with.clone(), squares: Vec::new() });
                partners.len() - 1
            });
            let squares = &mut partners[at].squares;
            let is_it = |it: &PartnerSquare| {
                let near = |one: f64, other: f64| figures::same_parts(one, other);
                near(it.parts[0], cell.parts[0]) && near(it.parts[1], cell.parts[1])
            };
            let known = squares.iter().position(is_it);
            let at = known.unwrap_or_else(|| {
                squares.push(PartnerSquare { parts: cell.parts, tubes: vec![None; count] });
                squares.len() - 1
            });
            let none = Distance { value: 0.0, half_width: 0.0 };
            squares[at].tubes[0] = Some((cell.first, none, Origin::Read));
            squares[at].tubes[pair.of[1]] = Some((cell.second, cell.distance, cell.origin));
        }
    }
    for partner in &mut partners {
        partner.squares.sort_by(|a, b| {
            let [parts, white] = [0, 1].map(|at: usize| a.parts[at].total_cmp(&b.parts[at]));
            parts.then(white)
        });
    }
    partners
}
