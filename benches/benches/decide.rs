//! Recipes, keep or drop, and the map of a palette, on one core.

use std::hint::black_box;

use criterion::{Criterion, criterion_group, criterion_main};
use decide::{Effort, Limits, Paint, Paints, Reach, Recipes, Shares, Shelf, Target, Widths};
use mixing::typical::TypicalPaint;
use mixing::{Constants, Geometry, Sheen, Surface};

/// So many of the typical paints, each as if it were a tube that was read.
fn paints(count: usize) -> Paints {
    let white = TypicalPaint::named("PW6").map(TypicalPaint::constants);
    let colours = TypicalPaint::ALL.iter().filter(|paint| !paint.name.starts_with("PW"));
    Paints {
        conditions: colour::Conditions::D65_10,
        surface: Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss),
        paper: None,
        backings: None,
        white,
        tubes: colours.take(count).map(|paint| Paint::read(paint.constants(), 1)).collect(),
        widths: Widths::default(),
    }
}

/// A mixture of four of them with white: no three hit it.
fn mixed(paints: &Paints) -> Constants {
    let count = paints.tubes.len();
    let shares = Shares::of(&[(1, 1.0), (count / 3, 0.3), (count / 2, 0.4), (count - 2, 0.2)], 2.0);
    paints.blend(&shares).unwrap_or_else(|| paints.tubes[0].constants.clone())
}

fn target(paints: &Paints) -> Target {
    Target::of_constants(&mixed(paints), paints)
}

/// What `recipes.py` searches with scipy, and what is found here.
fn told_to_scipy(paints: &Paints, best: &Recipes) -> serde_json::Value {
    let all = || paints.tubes.iter().map(|tube| &tube.constants).chain(&paints.white);
    let bands = |of: &[f64; colour::BANDS]| of.to_vec();
    let alone = mixed(paints);
    let white = paints.white.clone().unwrap_or_else(|| alone.clone());
    let tint = Constants::mixed(&[(1.0, &alone), (decide::TINT, &white)]);
    let looks = [Some(alone), tint]
        .into_iter()
        .flatten()
        .map(|paint| bands(paints.inside(&paint).to_measured(paints.surface).bands()));
    let least = best.recipes.iter().min_by(|one, other| one.score.total_cmp(&other.score));
    serde_json::json!({
        "k": all().map(|it| bands(&it.k)).collect::<Vec<_>>(),
        "s": all().map(|it| bands(&it.s)).collect::<Vec<_>>(),
        "target": looks.collect::<Vec<_>>(),
        "best": least.map(|it| (it.score, it.shares.tubes.clone())),
    })
}

fn recipes(criterion: &mut Criterion) {
    let paints = paints(20);
    let target = target(&paints);
    let among: Vec<usize> = (0..paints.tubes.len()).collect();
    let mut group = criterion.benchmark_group("decide");
    group.sample_size(10);
    group.bench_function("a recipe of up to four of 20 tubes", |bencher| {
        let limits = Limits { most: 4, ..Limits::default() };
        bencher.iter(|| Recipes::find(&paints, black_box(&target), &among, limits, &mut |_| true));
    });
    group.bench_function("every triple of 20 tubes", |bencher| {
        let limits = Limits { most: 3, white: true, effort: Effort::EVERY };
        if let Some(best) = Recipes::find(&paints, &target, &among, limits, &mut |_| true) {
            let file = concat!(env!("CARGO_MANIFEST_DIR"), "/../target/decide.json");
            // Without the file only the comparison with scipy is missing.
            let _ = std::fs::write(file, told_to_scipy(&paints, &best).to_string());
        }
        bencher.iter(|| Recipes::find(&paints, black_box(&target), &among, limits, &mut |_| true));
    });
    group.finish();
}

fn shelves(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("decide");
    group.sample_size(10);
    let palette = paints(12);
    let among: Vec<usize> = (0..12).collect();
    group.bench_function("the map of a palette of 12", |bencher| {
        bencher.iter(|| Reach::of(black_box(&palette), &among));
    });
    let shelf = paints(60);
    let targets: Vec<Option<Target>> = shelf
        .tubes
        .iter()
        .map(|tube| Some(Target::of_constants(&tube.constants, &shelf)))
        .collect();
    // One of sixty: the whole shelf takes sixty times as long on one core.
    group.bench_function("one of 60 tubes against all others, up to three colours", |bencher| {
        let asked = Shelf {
            paints: &shelf,
            targets: &targets,
            references: &[0, 5, 10, 15],
            is_confirmed: &|_, _| false,
            verdict: &|_| compare::Verdict::CannotTell,
        };
        bencher.iter(|| asked.one(black_box(7), &[], Limits::default(), &mut |_| true));
    });
    group.finish();
}

criterion_group!(benches, recipes, shelves);
criterion_main!(benches);
