//! Keep or drop, and what palettes reach, against hidden paints.

use colour::{Lab, ciede2000};
use decide::{Effort, Keep, Limits, PairReaches, Reach, Recipes, Shares, Shelf, Target, choose};

use super::bench::{Bench, Chance, percentile};

/// Some that can be mixed, some twins, some that nothing comes near.
const SHELF: [&str; 16] = [
    "PY3", "PY74", "PY83", "PO73", "PR254", "PR122", "PV23", "PB29", "PB15:3", "PG7", "PG36",
    "PR101", "PY43", "PBr7", "PB36", "PO20",
];

/// What is really lost without a tube: the best mixture of the others of the true paints, found by their own K and S,
/// here by many tries about the recipe, alone, with white and thin.
fn really_lost(bench: &Bench, tube: usize, shares: &Shares) -> f64 {
    let looks =
        |of: &Shares| [bench.true_lab(of), bench.true_lab(&of.tinted(4.0)), bench.true_thin(of)];
    let wanted = looks(&Shares::of(&[(tube, 1.0)], 0.0));
    let off = |shares: &Shares| {
        let pairs = looks(shares).into_iter().zip(wanted);
        pairs.map(|(one, other)| ciede2000(one, other).value()).fold(0.0, f64::max)
    };
    let mut best = (off(shares), shares.clone());
    let mut chance = Chance::new(tube as u64 + 9);
    for round in 0..120 {
        let width = 0.4 / (1.0 + f64::from(round) / 20.0);
        let mut moved = |share: f64| share * (width * (2.0 * chance.next() - 1.0)).exp();
        let tubes: Vec<(usize, f64)> =
            best.1.tubes.iter().map(|(at, share)| (*at, moved(*share))).collect();
        let tried = Shares::of(&tubes, moved(best.1.white));
        let found = off(&tried);
        if found < best.0 {
            best = (found, tried);
        }
    }
    best.0
}

#[test]
fn few_tubes_are_kept_or_dropped_wrongly() {
    let (mut cases, mut false_keep, mut false_drop) = (0, Vec::new(), Vec::new());
    let mut verdicts = Vec::new();
    for seed in [1, 2] {
        let bench = Bench::new(seed, &SHELF);
        let targets: Vec<Option<Target>> =
            bench.tubes().into_iter().map(|tube| Some(bench.target(tube))).collect();
        let references = [0, 4, 5, 7, 8];
        let shelf = Shelf {
            paints: &bench.paints,
            targets: &targets,
            references: &references,
            verdict: &|pair| bench.verdict(pair),
            // Whoever tries the mixture reads it: mass tone and tint.
            is_confirmed: &|tube, recipe| {
                let looks = [recipe.shares.clone(), recipe.shares.tinted(4.0)];
                let read = looks
                    .map(|it| Lab::from_reflectance(&bench.read(&it), bench.paints.conditions));
                let wanted = targets[tube].as_ref().expect("known");
                wanted
                    .looks
                    .iter()
                    .zip(read)
                    .all(|(look, read)| ciede2000(look.lab, read).value() <= 2.0)
            },
        };
        let kept = shelf.keep_or_drop(Limits::default(), &mut |_| true).expect("not stopped");
        for it in kept {
            let best = it.best.as_ref().expect("a mixture");
            let lost = really_lost(&bench, it.tube, &best.shares);
            cases += 1;
            verdicts.push(format!("{} {} {:?} {lost:.1}", SHELF[it.tube], it.verdict, it.loss()));
            match it.verdict {
                // It could be mixed within what is just seen.
                Keep::Keep if lost < 2.0 && it.distance.is_none_or(|far| far < 2.0) => {
                    false_keep.push(it.tube)
                }
                Keep::Replaceable if lost > 3.0 => false_drop.push(it.tube),
                _ => {}
            }
        }
    }
    println!(
        "| keep or drop | {cases} | false keeps {false_keep:?} | false replaceable {false_drop:?} |\n{verdicts:#?}"
    );
    assert!(cases >= 30 && false_keep.len() <= 1 && false_drop.len() <= 1);
}

const PALETTE: [&str; 9] =
    ["PY3", "PY83", "PO73", "PR254", "PR122", "PV23", "PB29", "PB15:3", "PG7"];

/// Colours that the palette really mixes are found by recipe.
#[test]
fn colours_inside_the_reach_are_reached() {
    let bench = Bench::new(5, &PALETTE);
    let mut chance = Chance::new(4);
    let limits = Limits { most: 3, white: true, effort: Effort { pairs: 12, triples: 0 } };
    let mut off = Vec::new();
    while off.len() < 400 {
        let pick = |chance: &mut Chance| (chance.next() * PALETTE.len() as f64) as usize;
        let (one, other) = (pick(&mut chance), pick(&mut chance));
        if one == other {
            continue;
        }
        let ln = 4.0 * chance.next() - 2.0;
        let shares = Shares::of(&[(one, 1.0), (other, ln.exp())], 0.5 + 8.0 * chance.next());
        let lab = bench.true_lab(&shares);
        let target = Target::of_lab(lab, &bench.paints).expect("a surface");
        let found = Recipes::find(&bench.paints, &target, &bench.tubes(), limits, &mut |_| true);
        let found = found.expect("not stopped");
        let nearest = found.nearest().expect("a recipe");
        off.push(ciede2000(lab, bench.true_lab(&nearest.shares)).value());
    }
    let reached = off.iter().filter(|it| **it <= 2.0).count() as f64 / off.len() as f64;
    println!(
        "| reach | {} colours | within ΔE00 2: {reached:.3} | 95th {:.2} |",
        off.len(),
        percentile(&off, 0.95)
    );
    assert!(reached >= 0.97, "{reached}");
}

/// Steepest exchange finds the palette that trying all of them finds.
#[test]
fn the_chosen_palette_is_the_best_there_is() {
    let bench = Bench::new(6, &SHELF[..12]);
    let reaches = PairReaches::of(&bench.paints, &bench.tubes(), &mut |_| true).expect("all");
    for size in [4, 5] {
        let found = choose(&reaches, size, &mut |_| true).expect("a palette");
        let mut best = 0.0_f64;
        for set in 0_u32..1 << 12 {
            if set.count_ones() as usize == size {
                let tubes: Vec<usize> = (0..12).filter(|tube| set >> tube & 1 == 1).collect();
                let mut reach = Reach::default();
                for (at, one) in tubes.iter().enumerate() {
                    for other in &tubes[at + 1..] {
                        reach.join(reaches.pair(*one, *other));
                    }
                }
                best = best.max(reach.coverage(reaches.all()));
            }
        }
        println!("| palette of {size} | {:.4} of {best:.4} |", found.coverage);
        assert!(found.coverage >= best - 1e-9, "{size}: {} of {best}", found.coverage);
    }
}

/// What is predicted to be the highest chroma is reached, and not passed, by true mixtures.
#[test]
fn the_map_is_where_true_mixtures_are() {
    let bench = Bench::new(7, &PALETTE);
    let reach = Reach::of(&bench.paints, &bench.tubes());
    let mut chance = Chance::new(11);
    let mut passed = Vec::new();
    for _ in 0..400 {
        let one = (chance.next() * 9.0) as usize;
        let other = (one + 1 + (chance.next() * 8.0) as usize) % 9;
        let parts = [(one, 1.0), (other, (6.0 * chance.next() - 3.0).exp())];
        let lab = bench.true_lab(&Shares::of(&parts, 0.3 + 6.0 * chance.next()));
        if (20.0..90.0).contains(&lab.l) {
            passed.push(lab.chroma() - reach.beside(lab));
        }
    }
    println!(
        "| map | {} | passes by {:.2} at most of 95 in 100 |",
        passed.len(),
        percentile(&passed, 0.95)
    );
    assert!(passed.len() > 200 && percentile(&passed, 0.95) <= 2.0);
}
