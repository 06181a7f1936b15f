//! `analyse` on a file of 100,000 readings, CIELAB and spectral: bytes in, JSON out.

use std::fmt::Write as _;
use std::hint::black_box;

use criterion::{Criterion, criterion_group, criterion_main};

/// An unoptimised test run only sees that it still works.
const READINGS: usize = if cfg!(debug_assertions) { 10_000 } else { 100_000 };
const TUBES: usize = 200;

/// 200 tubes, each alone with white and mixed with the first.
fn file(spectral: bool) -> String {
    let mut text = String::from("# upright-swatch readings 1\n# white: White\n");
    text.push_str("tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat,");
    let bands: Vec<String> = (38..=73).map(|ten| format!("R{ten}0")).collect();
    text.push_str(&if spectral { bands.join(",") } else { "L,a,b".to_owned() });
    text.push('\n');
    let mut row = |identity: &str, depth: f64| {
        text.push_str(identity);
        if spectral {
            for band in 0..36 {
                let r = 0.9 - 0.8 * depth * (1.0 + (f64::from(band) / 6.0).sin()) / 2.0;
                let _ = write!(text, ",{r:.5}");
            }
        } else {
            let _ =
                write!(text, ",{:.3},{:.3},{:.3}", 95.0 - 65.0 * depth, 9.0 * depth, -45.0 * depth);
        }
        text.push('\n');
    };
    row("White,M,PW6,,1,,,dry,paper,1", 0.0);
    for at in 1..READINGS {
        let (tube, turn) = (at % TUBES, at / TUBES);
        let white = [0, 1, 2, 4, 8, 16][turn % 6];
        let depth = 1.0 / (1.0 + f64::from(white) / (3.0 + tube as f64 / 100.0));
        let code = tube % 40;
        if turn % 3 == 0 && tube > 0 {
            let (a, b) = [(3, 1), (1, 1), (1, 3)][turn % 9 / 3];
            let white = [0, 1, 4][turn % 27 / 9] * (a + b);
            row(&format!("Tube {tube},M,PB{code},Tube 0,{a},{b},{white},dry,paper,1"), depth);
        } else {
            row(&format!("Tube {tube},M,PB{code},,1,,{white},dry,paper,1"), depth);
        }
    }
    text
}

fn hundred_thousand_readings(criterion: &mut Criterion) {
    for (name, spectral) in [("CIELAB", false), ("spectral", true)] {
        let text = file(spectral);
        criterion.bench_function(&format!("analyse 100,000 {name} readings"), |bencher| {
            bencher.iter(|| {
                let read = formats::readings::read(black_box(text.as_bytes()));
                let file = read.unwrap_or_else(|error| unreachable!("{error}"));
                let analysis = figures::analyse(&file.study, None);
                formats::analysis::to_json(&file.study, &analysis, &file.warnings).to_string().len()
            });
        });
    }
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = hundred_thousand_readings
}
criterion_main!(benches);
