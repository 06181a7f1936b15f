//! Which tubes of the whole shelf behave alike.

use compare::{LookAlike, SeenWith, Signature, look_alikes};
use mixing::Constants;
use store::{ShelfTube, TubeId};

use crate::knowledge::KnownShelf;

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
    /// By K and S of the tubes that were read with the white that most were read with.
    pub(super) fn of(known: &KnownShelf) -> Self {
        let Some(white) = known.paints.white.as_ref() else { return Self::default() };
        let seen = SeenWith {
            white,
            conditions: known.paints.conditions,
            surface: known.paints.surface,
            paper: known.paints.paper.as_ref(),
        };
        let constants = |place: usize| &known.paints.tubes[place].constants;
        let read = known.read();
        let references = read.iter().filter(|place| known.is_reference(known.tubes[**place].id));
        let references: Vec<&Constants> =
            references.take(REFERENCES).map(|place| constants(*place)).collect();
        let (mut tubes, mut signatures) = (Vec::new(), Vec::new());
        for place in read {
            if let Some(signature) = Signature::of(constants(place), &references, &seen) {
                tubes.push(&known.tubes[place]);
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

fn most_like(at: usize, tubes: &[&ShelfTube], all: &[LookAlike]) -> MostLike {
    let others = all.iter().filter_map(|it| {
        let place = it.pair.iter().position(|tube| *tube == at)?;
        let other = tubes[it.pair[1 - place]];
        (!other.tube.codes.is_empty()).then(|| (other.clone(), it.distance))
    });
    MostLike { tube: tubes[at].clone(), others: others.take(BESIDE).collect() }
}
