//! Which tubes of the whole shelf behave alike.

use std::sync::Arc;

use compare::{LookAlike, SeenWith, Signature, look_alikes};
use mixing::{Constants, POOR_FIT};
use store::{Role, ShelfTube, TubeId};
use study::{State, TubeRef};

use crate::analysed::AnalysedTrial;

/// Tubes no further apart than this are told, ΔE00 at equal strength (ours: those that may well be twins).
const NEAR: f64 = 3.0;
/// What is further apart is another colour.
const LIKE: f64 = 12.0;
/// References that a signature is made with, at most.
const REFERENCES: usize = 8;
/// Others that a tube without a code is placed beside.
const BESIDE: usize = 3;

/// Two tubes that behave alike.
#[derive(Debug, Clone)]
pub struct ShelfLookAlike {
    /// The two.
    pub tubes: [ShelfTube; 2],
    /// Root mean square of ΔE00 at equal strength, by K and S.
    pub distance: f64,
    /// ΔE00 of the mass tones, by K and S.
    pub mass_tone: f64,
}

/// A tube without a code, and those that it behaves like, the nearest first.
#[derive(Debug, Clone)]
pub struct MostLike {
    /// The tube.
    pub tube: ShelfTube,
    /// The others, each with its distance.
    pub others: Vec<(ShelfTube, f64)>,
}

/// The whole shelf.
#[derive(Debug, Default)]
pub struct ShelfLookAlikes {
    /// Tubes whose K and S are known.
    known: Vec<TubeId>,
    /// Pairs that are not altogether different, the nearest first.
    pub pairs: Vec<ShelfLookAlike>,
    /// Tubes without a code.
    pub without_code: Vec<MostLike>,
}

impl ShelfLookAlikes {
    /// By all that was read with the white that most were read with.
    pub(super) fn of(telling: &[Arc<AnalysedTrial>]) -> Self {
        let whites: Vec<TubeId> = telling.iter().filter_map(|it| white_of(it)).collect();
        let times = |white: &TubeId| whites.iter().filter(|it| *it == white).count();
        let Some(white) = whites.iter().copied().max_by_key(times) else {
            return Self::default();
        };
        let with_it: Vec<&Arc<AnalysedTrial>> =
            telling.iter().filter(|it| white_of(it) == Some(white)).collect();
        let known = known(&with_it);
        let Some(seen_in) = with_it.first() else { return Self::default() };
        let Some(of_white) = known.iter().find(|it| it.tube.id == white) else {
            return Self::default();
        };
        let seen = SeenWith {
            white: &of_white.constants,
            conditions: seen_in.study.conditions,
            surface: seen_in.study.protocol.surface(None),
            paper: seen_in.prior(State::Dry).paper.as_ref(),
        };
        let references = known.iter().filter(|it| it.is_reference && it.tube.id != white);
        let references: Vec<&Constants> =
            references.take(REFERENCES).map(|it| &it.constants).collect();
        let (mut tubes, mut signatures) = (Vec::new(), Vec::new());
        for it in known.iter().filter(|it| it.tube.id != white) {
            if let Some(signature) = Signature::of(&it.constants, &references, &seen) {
                tubes.push(&it.tube);
                signatures.push(signature);
            }
        }
        let all = look_alikes(&signatures, LIKE);
        let pair = |it: &LookAlike| ShelfLookAlike {
            tubes: it.pair.map(|at| tubes[at].clone()),
            distance: it.distance,
            mass_tone: it.mass_tone,
        };
        let without_code = tubes.iter().enumerate().filter(|(_, it)| it.tube.codes.is_empty());
        Self {
            known: tubes.iter().map(|tube| tube.id).collect(),
            pairs: all.iter().map(pair).collect(),
            without_code: without_code.map(|(at, _)| most_like(at, &tubes, &all)).collect(),
        }
    }

    /// How many tubes' K and S are known.
    #[must_use]
    pub fn count(&self) -> usize {
        self.known.len()
    }

    /// K and S of a tube are known.
    #[must_use]
    pub fn is_known(&self, tube: TubeId) -> bool {
        self.known.contains(&tube)
    }

    /// Pairs that may well be twins.
    pub fn near(&self) -> impl Iterator<Item = &ShelfLookAlike> {
        self.pairs.iter().filter(|it| it.distance <= NEAR)
    }

    /// The others beside a tube, the nearest first.
    pub fn beside(&self, tube: TubeId) -> impl Iterator<Item = (&ShelfTube, &ShelfLookAlike)> {
        self.pairs.iter().filter_map(move |pair| {
            let at = pair.tubes.iter().position(|it| it.id == tube)?;
            Some((&pair.tubes[1 - at], pair))
        })
    }
}

/// A tube of the shelf with its K and S.
struct Known {
    tube: ShelfTube,
    is_reference: bool,
    constants: Constants,
}

fn white_of(analysed: &AnalysedTrial) -> Option<TubeId> {
    analysed.trial.white().map(|at| analysed.trial.tubes[at.0].tube.id)
}

fn most_like(at: usize, tubes: &[&ShelfTube], all: &[LookAlike]) -> MostLike {
    let others = all.iter().filter_map(|it| {
        let place = it.pair.iter().position(|tube| *tube == at)?;
        let other = tubes[it.pair[1 - place]];
        (!other.tube.codes.is_empty()).then(|| (other.clone(), it.distance))
    });
    MostLike { tube: tubes[at].clone(), others: others.take(BESIDE).collect() }
}

/// K and S of every tube that was read, each from the newest trial that tells them.
fn known(telling: &[&Arc<AnalysedTrial>]) -> Vec<Known> {
    let mut known: Vec<Known> = Vec::new();
    for analysed in telling {
        for (at, tube) in analysed.trial.tubes.iter().enumerate() {
            let of_trial = analysed.prior(State::Dry).known(TubeRef(at));
            let Some(constants) = of_trial.and_then(|it| it.constants.as_ref()) else { continue };
            let is_new = known.iter().all(|it| it.tube.id != tube.tube.id);
            if is_new && constants.residual <= POOR_FIT {
                known.push(Known {
                    tube: tube.tube.clone(),
                    is_reference: tube.role == Role::Reference,
                    constants: constants.clone(),
                });
            }
        }
    }
    known
}
