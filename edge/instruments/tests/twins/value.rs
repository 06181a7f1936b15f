//! What the work of a tube costs, against what is really in it.

use compare::{Bought, PartsBy, compare};
use rand::{Rng as _, SeedableRng as _};
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution as _, Normal};

use super::bench::{Bench, CODES, ONE, OTHER};
use super::pairs::{trial, truth};

/// Tubes are filled and weighed as well as makers and painters do it (common practice, no source): the volume within
/// 3 %, a stated density within 2 %, one that nobody knows within a quarter.
#[test]
fn the_cost_of_the_same_work_is_within_its_interval() {
    let mut chance = ChaCha8Rng::seed_from_u64(11);
    let (mut covered, mut known_covered, pairs) = (0, 0, 40);
    for seed in 0..pairs {
        let mut draw =
            |sigma: f64| Normal::new(0.0, sigma).map_or(0.0, |it| it.sample(&mut chance));
        let (volumes, densities) = ([draw(0.015), draw(0.015)], [draw(0.09), draw(0.09)]);
        let stated = [draw(0.01), draw(0.01)];
        let code = CODES[chance.random_range(0..CODES.len())];
        let load = chance.random_range(0.6..1.4);
        let bench = Bench::new(code, [(1.0, 0.0), (load, 0.0)]);
        let worked = trial(&bench, seed);
        let twins = compare(&worked.subject(ONE), &worked.subject(OTHER)).expect("comparable");
        let bought = |at: usize, known: bool| Bought {
            price: 10.0,
            volume_ml: 60.0,
            density_g_ml: known.then(|| 1.3 * (densities[at] + stated[at]).exp()),
        };
        // What 1 ml of the standard really does, and what the tube really holds of it.
        let (parts, ..) = truth(&bench);
        let really =
            10.0 / (60.0 * (volumes[1] - volumes[0] + densities[1] - densities[0]).exp()) * parts;
        let within = |known: bool| {
            let worth = bought(1, known).worth(
                &bought(0, known),
                twins.use_of_second,
                twins.use_interval,
                PartsBy::Weight,
            );
            assert_eq!(worth.guessed_density, !known);
            (worth.as_strong - really).abs() <= worth.half_width
        };
        known_covered += usize::from(within(true));
        covered += usize::from(within(false));
    }
    println!(
        "cost of the same work: {known_covered} with densities and {covered} without of {pairs}"
    );
    let least = (0.9 * pairs as f64) as usize;
    assert!(covered >= least && known_covered >= least, "{covered} and {known_covered} of {pairs}");
}
