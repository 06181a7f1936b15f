//! Recipes, keep or drop, and the map of a palette, on one core.

use std::hint::black_box;

use criterion::{Criterion, criterion_group, criterion_main};
use decide::{Effort, Limits, Paint, Paints, Reach, Recipes, Shares, Shelf, Target, Widths};
use mixing::typical::TypicalPaint;
use mixing::{Geometry, Sheen, Surface};

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

/// A mixture of three of them with white.
fn target(paints: &Paints) -> Target {
    let count = paints.tubes.len();
    let shares = Shares::of(&[(1, 1.0), (count / 2, 0.4), (count - 2, 0.2)], 2.0);
    let mixed = paints.blend(&shares).unwrap_or_else(|| paints.tubes[0].constants.clone());
    Target::of_constants(&mixed, paints)
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
            is_twin: &|_| false,
        };
        bencher.iter(|| asked.one(black_box(7), &[], Limits::default(), &mut |_| true));
    });
    group.finish();
}

criterion_group!(benches, recipes, shelves);
criterion_main!(benches);
