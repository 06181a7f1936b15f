//! A workshop file of 100,000 readings on disk: its pages from a warm server, and one more reading. Every figure
//! is for one request, from request to last byte.

use std::cell::Cell;
use std::path::Path;

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::http::Request;
use axum::http::header::CONTENT_TYPE;
use benches::star;
use colour::Reflectance;
use criterion::{Criterion, criterion_group, criterion_main};
use instruments::simulated::{MixingTable, SimulatedMeter};
use instruments::{Meter as _, Specimen};
use store::{Store, SwatchId, TubeId};
use study::{
    ColourIndexName, Measured, Mixture, RatioError, Reading, ReadingSource, State, Tube, TubeLabel,
};
use tower::ServiceExt as _;
use workshop::Workshop;

type Outcome<T> = Result<T, Box<dyn std::error::Error>>;

/// An unoptimised test run only sees that it still works.
const READINGS: usize = if cfg!(debug_assertions) { 10_000 } else { 100_000 };

/// Four tubes against a palette of six, every square read some hundreds of times; and a second trial, planned and
/// not begun.
async fn workshop(path: &Path) -> Outcome<Workshop> {
    let app = Workshop::new(Store::open(path).await?)
        .with_meter(SimulatedMeter::new(1, MixingTable::default()));
    let tubes = [
        ("tested", "PB29"),
        ("tested", "PB15:3"),
        ("tested", "PG7"),
        ("tested", "PY74"),
        ("reference", "PR254"),
        ("reference", "PR122"),
        ("reference", "PV23"),
        ("reference", "PY83"),
        ("reference", "PO73"),
        ("reference", "PBr7"),
        ("white", "PW6"),
    ];
    let (mut tested, mut references, mut white) = (Vec::new(), Vec::new(), TubeId(0));
    for (role, code) in tubes {
        let codes = ColourIndexName::parse_list(code)?;
        let name = format!("One {code}");
        let tube = Tube { maker: "One".into(), name, codes, ..Tube::default() };
        let id = app.store().add_tube(&tube).await?;
        match role {
            "tested" => tested.push(id),
            "reference" => references.push(id),
            _ => white = id,
        }
    }
    let id = app.plan_trial(star("Read again and again", &tested, &references, white)).await?;
    app.plan_trial(star("Another one", &tested, &references, white)).await?;
    let trial = app.trial(id).await?;
    let labels = trial.labels();
    let mut meter = SimulatedMeter::new(1, MixingTable::default());
    let mut rows: Vec<(SwatchId, Reading)> = Vec::with_capacity(READINGS);
    let repeats = READINGS.div_ceil(trial.swatches.len());
    for planned in &trial.swatches {
        app.lay_as_planned(&*app.trial(id).await?, planned.swatch.number).await?;
        let read = meter.read(&specimen(planned, &labels))?;
        for repeat in 1..=repeats {
            // As a meter's noise leaves it, for a tenth of the time that the simulated one takes.
            let noise = 1.0 + 0.0005 * (repeat as f64 * 1.7).sin();
            let bands =
                Reflectance::from_fn(|band| (read.bands()[band] * noise).min(Reflectance::MAX));
            rows.push((planned.id, reading(&planned.swatch.mixture, planned, repeat, bands)));
        }
    }
    rows.truncate(READINGS - 3);
    let rows: Vec<(SwatchId, &Reading)> = rows.iter().map(|(swatch, it)| (*swatch, it)).collect();
    app.store().record_file(id, None, &rows).await?;
    Ok(app)
}

fn specimen(planned: &store::PlannedSwatch, labels: &[TubeLabel]) -> Specimen {
    let parts = planned.swatch.mixture.parts().iter();
    Specimen {
        swatch: u64::from(planned.swatch.number.0),
        pile: 0,
        occasion: 0,
        paints: parts.map(|part| (labels[part.tube.0].clone(), part.parts)).collect(),
        by_eye: false,
        backing: planned.swatch.backing,
        film: planned.swatch.film,
        state: State::Dry,
    }
}

fn reading(
    mixture: &Mixture,
    planned: &store::PlannedSwatch,
    repeat: usize,
    bands: Reflectance,
) -> Reading {
    Reading {
        mixture: mixture.clone(),
        ratio_error: RatioError::AsStated,
        film: planned.swatch.film,
        backing: planned.swatch.backing,
        state: State::Dry,
        repeat: u32::try_from(repeat).unwrap_or(u32::MAX),
        measured: Measured::Spectrum(bands),
        source: ReadingSource::Meter,
        from_picture: None,
        simulated: true,
        void: None,
        line: None,
    }
}

async fn ask(router: &Router, request: Request<Body>) -> (u16, usize) {
    let answer = router.clone().oneshot(request).await.unwrap_or_else(|never| match never {});
    let status = answer.status().as_u16();
    (status, to_bytes(answer.into_body(), usize::MAX).await.map_or(0, |bytes| bytes.len()))
}

async fn get(router: &Router, path: &str) -> usize {
    let request = Request::get(path).body(Body::empty());
    let (status, size) = ask(router, request.unwrap_or_else(|error| unreachable!("{error}"))).await;
    assert_eq!(status, 200, "{path}");
    size
}

async fn post(router: &Router, path: &str, form: String) {
    let request = Request::post(path)
        .header(CONTENT_TYPE, "application/x-www-form-urlencoded")
        .body(Body::from(form));
    let (status, _) = ask(router, request.unwrap_or_else(|error| unreachable!("{error}"))).await;
    assert_eq!(status, 303, "{path}");
}

fn large_workshop(criterion: &mut Criterion) {
    let folder = tempfile::tempdir().unwrap_or_else(|error| unreachable!("{error}"));
    let runtime = tokio::runtime::Runtime::new().unwrap_or_else(|error| unreachable!("{error}"));
    let app = runtime.block_on(workshop(&folder.path().join("workshop.db")));
    let router = web::router(app.unwrap_or_else(|error| unreachable!("{error}")));
    let pages = [
        ("results", "/trials/1/results"),
        ("readings", "/trials/1/readings"),
        ("bench", "/trials/1/bench/40"),
        ("bench of another trial", "/trials/2/bench/40"),
        ("shelf", "/shelf"),
        ("trials", "/trials"),
        ("planner", "/trials/new"),
    ];
    let mut group = criterion.benchmark_group("100,000 readings");
    for (name, path) in pages {
        runtime.block_on(get(&router, path));
        group.bench_function(name, |bencher| bencher.iter(|| runtime.block_on(get(&router, path))));
    }
    let typed = Cell::new(0);
    let one_more = || {
        typed.set(typed.get() + 1);
        let form = format!("state=dry&again=yes&token=bench-{}", typed.get());
        post(&router, "/trials/1/bench/40/read", form)
    };
    group.bench_function("record one more reading", |bencher| {
        bencher.iter(|| runtime.block_on(one_more()))
    });
    group.bench_function("record one more reading, and the page that follows", |bencher| {
        bencher.iter(|| {
            runtime.block_on(async {
                one_more().await;
                get(&router, "/trials/1/bench/40").await
            })
        });
    });
    group.bench_function("record one more reading, and the results", |bencher| {
        bencher.iter(|| {
            runtime.block_on(async {
                one_more().await;
                get(&router, "/trials/1/results").await
            })
        });
    });
    group.finish();
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = large_workshop
}
criterion_main!(benches);
