//! Every tube beside every other: the quick way against the slow one, and both against single differences.

use colour::{Lab, ciede2000};
use compare::{Signature, look_alikes, look_alikes_in_full};
use rand::{Rng as _, SeedableRng as _};
use rand_chacha::ChaCha8Rng;

/// Tubes of some families: within one they are near each other.
fn shelf(seed: u64, tubes: usize, colours: usize) -> Vec<(Lab, Vec<Lab>)> {
    let mut chance = ChaCha8Rng::seed_from_u64(seed);
    let mut any = || {
        let mut axis = |low: f64, high: f64| chance.random_range(low..high);
        Lab::new(axis(5.0, 95.0), axis(-70.0, 70.0), axis(-70.0, 80.0))
    };
    let families: Vec<Vec<Lab>> =
        (0..tubes.div_ceil(6)).map(|_| (0..=colours).map(|_| any()).collect()).collect();
    let mut chance = ChaCha8Rng::seed_from_u64(seed + 1);
    (0..tubes)
        .map(|at| {
            let family = &families[at % families.len()];
            let spread = chance.random_range(0.0..5.0);
            let mut near = |lab: &Lab| {
                let mut off = || spread * chance.random_range(-1.0..1.0);
                Lab::new(lab.l + off(), lab.a + off(), lab.b + off())
            };
            let own: Vec<Lab> = family.iter().map(&mut near).collect();
            (own[0], own[1..].to_vec())
        })
        .collect()
}

#[test]
fn the_bound_loses_nothing_and_distances_are_those_of_single_pairs() {
    for (seed, within) in [(1, 1.0), (2, 2.0), (3, 4.0), (4, 25.0)] {
        let tubes = shelf(seed, 90, 40);
        let signatures: Vec<Signature> =
            tubes.iter().map(|(alone, rest)| Signature::from_colours(*alone, rest)).collect();
        let found = look_alikes(&signatures, within);
        assert_eq!(found, look_alikes_in_full(&signatures, within), "{within}");
        assert!(found.len() > 10, "{}", found.len());
        assert!(found.is_sorted_by(|one, other| one.distance <= other.distance));
        for pair in found.iter().take(40) {
            let [(alone, one), (beside, other)] = pair.pair.map(|at| &tubes[at]);
            let squares: f64 = one
                .iter()
                .zip(other)
                .map(|(one, other)| ciede2000(*one, *other).value().powi(2))
                .sum();
            let rms = (squares / one.len() as f64).sqrt();
            assert!((pair.distance - rms).abs() < 1e-6, "{} and {rms}", pair.distance);
            let apart = ciede2000(*alone, *beside).value();
            assert!((pair.mass_tone - apart).abs() < 1e-9);
            assert!(pair.distance <= within);
        }
    }
}

/// A tube beside itself is a look-alike at no distance; an empty shelf has none.
#[test]
fn a_tube_is_like_itself() {
    let tubes = shelf(9, 1, 40);
    let one = Signature::from_colours(tubes[0].0, &tubes[0].1);
    let found = look_alikes(&[one.clone(), one], 0.5);
    assert_eq!(found.len(), 1);
    assert!(found[0].distance < 1e-9 && found[0].mass_tone < 1e-9);
    assert!(look_alikes(&[], 5.0).is_empty());
}
