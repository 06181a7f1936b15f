//! Recipes against an exhaustive search, against what they really look like, and corrected.

use colour::{Lab, ciede2000};
use decide::{
    At, Effort, Limits, PileReading, Recipe, Recipes, Shares, Target, correct, pile_as_read,
};

use super::bench::{Bench, CONDITIONS, Chance, percentile};

const PALETTE: [&str; 12] = [
    "PY3", "PY74", "PY43", "PO73", "PR254", "PR122", "PV23", "PB29", "PB15:3", "PG7", "PBr7",
    "PBk9",
];
/// Of which targets are made: tubes that the palette lacks.
const OTHERS: [&str; 12] = [
    "PY83", "PY35", "PO62", "PR101", "PR112", "PV19", "PR177", "PB36", "PB28", "PG36", "PG17",
    "PG18",
];

/// A bench with the palette's tubes first, and what of them may be taken.
fn bench(seed: u64) -> (Bench, Vec<usize>) {
    let codes: Vec<&str> = PALETTE.into_iter().chain(OTHERS).collect();
    (Bench::new(seed, &codes), (0..PALETTE.len()).collect())
}

/// Tubes that the palette lacks, and mixtures of it that were read.
fn targets(bench: &Bench, seed: u64, mixtures: usize) -> Vec<Target> {
    let mut chance = Chance::new(seed + 77);
    let tubes = PALETTE.len()..PALETTE.len() + OTHERS.len();
    let mut all: Vec<Target> = tubes.map(|tube| bench.target(tube)).collect();
    for _ in 0..mixtures {
        let count = 2 + (2.0 * chance.next()) as usize;
        let mut parts: Vec<(usize, f64)> = Vec::new();
        while parts.len() < count {
            let tube = (chance.next() * PALETTE.len() as f64) as usize;
            if !parts.iter().any(|it| it.0 == tube) {
                parts.push((tube, 0.1 + chance.next()));
            }
        }
        let white = if chance.next() < 0.7 { 6.0 * chance.next() } else { 0.0 };
        all.push(Target::of_reading(&bench.read(&Shares::of(&parts, white)), &bench.paints));
    }
    all
}

fn find(bench: &Bench, target: &Target, among: &[usize], limits: Limits) -> Recipes {
    Recipes::find(&bench.paints, target, among, limits, &mut |_| true).expect("not stopped")
}

/// ΔE00 of what a recipe is predicted to look like and what it does: its mass tone, and its tint.
fn missed(bench: &Bench, target: &Target, recipe: &Recipe) -> Vec<(At, f64)> {
    let looks = target.looks.iter().zip(&recipe.colours);
    looks
        .map(|(look, told)| {
            let truth = bench.true_lab(&recipe.shares.tinted(look.at.white()));
            (look.at, ciede2000(*told, truth).value())
        })
        .collect()
}

#[derive(Default)]
struct Found {
    /// Worse than an exhaustive search by so much.
    worse: Vec<f64>,
    mass_tones: Vec<f64>,
    tints: Vec<f64>,
    covered: Vec<bool>,
    corrected: Vec<f64>,
    before: Vec<f64>,
}

impl Found {
    fn add(&mut self, bench: &Bench, target: &Target, among: &[usize]) {
        let limits = Limits { most: 4, ..Limits::default() };
        let found = find(bench, target, among, limits);
        let every = find(bench, target, among, Limits { effort: Effort::EVERY, ..limits });
        let least =
            |found: &Recipes| found.recipes.iter().map(|it| it.score).fold(f64::INFINITY, f64::min);
        self.worse.push(least(&found) - least(&every));
        // What a painter would take: one of the first.
        for recipe in found.recipes.iter().take(8) {
            for (at, off) in missed(bench, target, recipe) {
                match at == At::MassTone && recipe.shares.white < 0.2 {
                    true => self.mass_tones.push(off),
                    false => self.tints.push(off),
                }
            }
            let really: Vec<f64> = target
                .looks
                .iter()
                .map(|look| {
                    let truth = bench.true_lab(&recipe.shares.tinted(look.at.white()));
                    ciede2000(look.lab, truth).value().powi(2)
                })
                .collect();
            let really = (really.iter().sum::<f64>() / really.len() as f64).sqrt();
            self.covered.push(really <= recipe.claim);
        }
        self.correct(bench, target, &found.recipes[0], among);
    }

    fn correct(&mut self, bench: &Bench, target: &Target, recipe: &Recipe, among: &[usize]) {
        if recipe.delta_e > 2.0 || target.looks.len() > 1 {
            return;
        }
        // The pile was put out by a hand that is a little off.
        let mut chance = Chance::new((recipe.score * 1e6) as u64 + 5);
        let mut off = |share: f64| share * (0.5 * (chance.next() - 0.5)).exp();
        let tubes: Vec<(usize, f64)> =
            recipe.shares.tubes.iter().map(|(at, share)| (*at, off(*share))).collect();
        let white = off(recipe.shares.white);
        let really = Shares::of(&tubes, white);
        let read = bench.read(&really);
        let wanted = target.looks[0].lab;
        let before = ciede2000(wanted, Lab::from_reflectance(&read, CONDITIONS)).value();
        let readings = [PileReading { white: 0.0, read }];
        let pile = pile_as_read(&bench.paints, &recipe.shares, &readings).expect("a pile");
        let addition = correct(&bench.paints, target, &pile, among, 1.0);
        let after = addition.map_or(before, |it| {
            let mut tubes: Vec<(usize, f64)> = really.tubes.clone();
            for (tube, parts) in &it.tubes {
                match tubes.iter_mut().find(|known| known.0 == *tube) {
                    Some(known) => known.1 += parts,
                    None => tubes.push((*tube, *parts)),
                }
            }
            let then = Shares::of(&tubes, really.white + it.white);
            ciede2000(wanted, bench.true_lab(&then)).value()
        });
        self.before.push(before);
        self.corrected.push(after);
    }

    fn check(&self, name: &str) {
        let share = |of: usize, all: usize| of as f64 / all.max(1) as f64;
        let near = share(self.worse.iter().filter(|it| **it <= 0.1).count(), self.worse.len());
        let worst = self.worse.iter().copied().fold(0.0, f64::max);
        let covered = share(self.covered.iter().filter(|it| **it).count(), self.covered.len());
        let row = |of: &[f64], high: f64| (percentile(of, 0.5), percentile(of, high));
        println!(
            "| {name} | {} targets | as good as every subset {near:.3}, worst {worst:.2} | mass tones {:.2?} of {} | \
             tints {:.2?} of {} | covered {covered:.3} | corrected {:.2?} from {:.2?}, {} |",
            self.worse.len(),
            row(&self.mass_tones, 0.95),
            self.mass_tones.len(),
            row(&self.tints, 0.95),
            self.tints.len(),
            row(&self.corrected, 0.9),
            row(&self.before, 0.9),
            self.corrected.len(),
        );
        assert!(near >= 0.97 && worst <= 0.3, "{near} {worst}");
        let (middle, most) = row(&self.mass_tones, 0.95);
        assert!(middle <= 1.0 && most <= 4.0, "mass tones {middle} {most}");
        let (middle, most) = row(&self.tints, 0.95);
        assert!(middle <= 0.2 && most <= 0.5, "tints {middle} {most}");
        assert!((0.93..=0.98).contains(&covered), "{covered}");
        let (middle, most) = row(&self.corrected, 0.9);
        assert!(middle <= 0.5 && most <= 1.2, "corrected {middle} {most}");
    }
}

#[test]
fn recipes_are_the_best_there_are_and_look_as_predicted() {
    let (bench, among) = bench(1);
    let mut found = Found::default();
    for target in targets(&bench, 1, 12) {
        found.add(&bench, &target, &among);
    }
    found.check("recipes, short");
}

#[test]
#[ignore = "long: run by `make check`"]
fn recipes_of_many_targets() {
    let mut found = Found::default();
    for seed in 2..6 {
        let (bench, among) = bench(seed);
        for target in targets(&bench, seed, 24) {
            found.add(&bench, &target, &among);
        }
    }
    found.check("recipes, long");
}
