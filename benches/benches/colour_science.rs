//! One million CIEDE2000 pairs, and ten thousand spectra to CIELAB.

use std::hint::black_box;

use colour::{Conditions, Lab, LabColumns, Reflectance, ciede2000, ciede2000_columns};
use criterion::{Criterion, criterion_group, criterion_main};

fn million_differences(criterion: &mut Criterion) {
    let colours: Vec<Lab> = (0..1_000_001)
        .map(|at| {
            let turn = f64::from(at) * 0.618;
            Lab::new(50.0 + 40.0 * turn.sin(), 60.0 * (turn * 1.7).cos(), 60.0 * (turn * 2.3).sin())
        })
        .collect();
    criterion.bench_function("a million CIEDE2000 pairs", |bencher| {
        bencher.iter(|| -> f64 {
            colours.windows(2).map(|pair| ciede2000(pair[0], black_box(pair[1])).value()).sum()
        });
    });
    let [one, other]: [LabColumns; 2] =
        [0, 1].map(|from| colours[from..from + 1_000_000].iter().copied().collect());
    criterion.bench_function("a million CIEDE2000 pairs in columns", |bencher| {
        bencher.iter(|| -> f64 { ciede2000_columns(black_box(&one), &other).iter().sum() });
    });
}

fn ten_thousand_spectra(criterion: &mut Criterion) {
    let spectra: Vec<Reflectance> = (0..10_000)
        .map(|at| {
            Reflectance::from_fn(|band| 0.5 + 0.4 * (f64::from(at) + band as f64 / 5.0).sin())
        })
        .collect();
    criterion.bench_function("ten thousand spectra to CIELAB", |bencher| {
        bencher.iter(|| -> f64 {
            let lab = |spectrum| Lab::from_reflectance(spectrum, Conditions::D65_10).l;
            spectra.iter().map(|spectrum| lab(black_box(spectrum))).sum()
        });
    });
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = million_differences, ten_thousand_spectra
}
criterion_main!(benches);
