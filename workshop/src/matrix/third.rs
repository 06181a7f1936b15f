//! Mixtures of three tubes as rows of the chart: a pair with more and more of a third, or a ladder with as much of
//! a third in each step.

use std::collections::BTreeMap;

use plan::CellNumber;
use study::{Mixture, TubeRef};

use super::squares::{Shown, Squares};
use super::{Pale, SAME};

/// Mixtures of the same three tubes that are put into rows; what is more stands in the list of mixtures.
const MOST: usize = 60;

/// Two tubes with a third.
#[derive(Debug)]
pub struct ThirdRow {
    /// The two.
    pub base: [TubeRef; 2],
    /// The third.
    pub third: TubeRef,
    /// What changes along the row.
    pub rising: Rising,
    /// From none of the third to most, or from most of the first tube to least.
    pub steps: Vec<ThirdStep>,
}

/// What changes along a row.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Rising {
    /// The pair stays, and the third comes to it.
    Third,
    /// The third stays, and the second comes for the first.
    Second,
}

/// One step of a row.
#[derive(Debug)]
pub struct ThirdStep {
    /// Parts of the first, the second and the third.
    pub parts: [f64; 3],
    /// Thick.
    pub neat: Shown,
    /// With white, or thin.
    pub pale: Option<Shown>,
}

/// A mixture of three, and the squares that show it.
#[derive(Clone)]
struct Triple {
    parts: [f64; 3],
    neat: Option<CellNumber>,
    pale: Option<CellNumber>,
}

/// Mixtures that make a row, with the place of the third among the three tubes.
struct Group {
    third: usize,
    rising: Rising,
    members: Vec<usize>,
    share: f64,
}

/// Every mixture of three that was planned or read, in as few rows as possible.
pub(super) fn rows(squares: &Squares<'_>) -> Vec<ThirdRow> {
    let mut rows = Vec::new();
    for (tubes, mut left) in triples(squares) {
        while let Some(group) = largest(&left) {
            let taken: Vec<Triple> = group.members.iter().map(|at| left[*at].clone()).collect();
            let mut at = 0;
            left.retain(|_| {
                at += 1;
                !group.members.contains(&(at - 1))
            });
            rows.push(row(squares, tubes, &group, taken));
        }
    }
    rows
}

fn triples(squares: &Squares<'_>) -> BTreeMap<[TubeRef; 3], Vec<Triple>> {
    let mut triples: BTreeMap<[TubeRef; 3], Vec<Triple>> = BTreeMap::new();
    for square in squares.all() {
        let [a, b, c] = square.colours.as_slice() else { continue };
        let is_pale = square.is(squares.pale) && squares.pale != Pale::None;
        if !is_pale && !square.is(Pale::None) {
            continue;
        }
        let whole = a.parts + b.parts + c.parts;
        let parts = [a, b, c].map(|part| part.parts / whole);
        let mixes = triples.entry([a.tube, b.tube, c.tube]).or_default();
        let same =
            |mix: &Triple| mix.parts.iter().zip(parts).all(|(one, other)| alike(*one, other));
        let known = mixes.iter().position(same);
        if known.is_none() && mixes.len() == MOST {
            continue;
        }
        let at = known.unwrap_or_else(|| {
            mixes.push(Triple { parts, neat: None, pale: None });
            mixes.len() - 1
        });
        let place = if is_pale { &mut mixes[at].pale } else { &mut mixes[at].neat };
        *place = place.or(square.number);
    }
    triples
}

fn alike(one: f64, other: f64) -> bool {
    (one / other).ln().abs() < SAME
}

/// The two tubes beside a third, in the order of the study.
fn base(third: usize) -> [usize; 2] {
    match third {
        0 => [1, 2],
        1 => [0, 2],
        _ => [0, 1],
    }
}

/// The largest group that makes a row; of equals the one with the least of its third.
fn largest(left: &[Triple]) -> Option<Group> {
    let mut groups: Vec<Group> = Vec::new();
    for third in 0..3 {
        let [a, b] = base(third);
        for rising in [Rising::Third, Rising::Second] {
            let mark = |mix: &Triple| match rising {
                Rising::Third => mix.parts[a] / mix.parts[b],
                Rising::Second => mix.parts[third],
            };
            for (at, mix) in left.iter().enumerate() {
                let own = |group: &&mut Group| {
                    (group.third, group.rising) == (third, rising)
                        && alike(mark(&left[group.members[0]]), mark(mix))
                };
                match groups.iter_mut().find(own) {
                    Some(group) => {
                        group.members.push(at);
                        group.share += mix.parts[third];
                    }
                    None => {
                        let share = mix.parts[third];
                        groups.push(Group { third, rising, members: vec![at], share });
                    }
                }
            }
        }
    }
    groups.into_iter().min_by(|one, other| {
        let mean = |group: &Group| group.share / group.members.len() as f64;
        let longer = other.members.len().cmp(&one.members.len());
        longer
            .then(mean(one).total_cmp(&mean(other)))
            .then(other.third.cmp(&one.third))
            .then(one.rising.cmp(&other.rising))
    })
}

fn row(squares: &Squares<'_>, tubes: [TubeRef; 3], group: &Group, mixes: Vec<Triple>) -> ThirdRow {
    let [a, b] = base(group.third);
    let (pair, third) = ([tubes[a], tubes[b]], tubes[group.third]);
    let mut steps: Vec<ThirdStep> = mixes
        .into_iter()
        .map(|mix| {
            let parts = [mix.parts[a], mix.parts[b], mix.parts[group.third]];
            step(squares, (pair, third), parts, [mix.neat, mix.pale])
        })
        .collect();
    match group.rising {
        Rising::Third => {
            let [first, second, _] = steps[0].parts;
            let colours = Mixture::of(&[(pair[0], first), (pair[1], second)]);
            let numbers = [Pale::None, squares.pale].map(|pale| squares.number_of(&colours, pale));
            steps.push(step(squares, (pair, third), [first, second, 0.0], numbers));
            let of_pair = |it: &ThirdStep| it.parts[2] / (it.parts[0] + it.parts[1]);
            steps.sort_by(|one, other| of_pair(one).total_cmp(&of_pair(other)));
        }
        Rising::Second => {
            let first = |it: &ThirdStep| it.parts[0] / it.parts[1];
            steps.sort_by(|one, other| first(other).total_cmp(&first(one)));
        }
    }
    ThirdRow { base: pair, third, rising: group.rising, steps }
}

fn step(
    squares: &Squares<'_>,
    (pair, third): ([TubeRef; 2], TubeRef),
    parts: [f64; 3],
    [neat, pale]: [Option<CellNumber>; 2],
) -> ThirdStep {
    let colours = Mixture::of(&[(pair[0], parts[0]), (pair[1], parts[1]), (third, parts[2])]);
    ThirdStep {
        parts,
        neat: squares.shown(&colours, Pale::None, neat),
        pale: squares.paler(&colours, squares.pale, pale),
    }
}
