//! Tubes beside each other: every two of 2,000 tubes by 40 colours each, and the page of twelve.

use axum::body::{Body, to_bytes};
use axum::http::Request;
use benches::star;
use colour::Lab;
use compare::{Signature, look_alikes, look_alikes_in_full};
use criterion::{BatchSize, Criterion, criterion_group, criterion_main};
use instruments::simulated::{MixingTable, SimulatedMeter};
use rand::{Rng as _, SeedableRng as _};
use rand_chacha::ChaCha8Rng;
use store::Store;
use study::{ColourIndexName, Tube};
use tower::ServiceExt as _;
use workshop::Workshop;

type Outcome<T> = Result<T, Box<dyn std::error::Error>>;

const TUBES: usize = 2_000;
const COLOURS: usize = 40;
/// ΔE00: tubes that may well be twins.
const WITHIN: f64 = 3.0;

/// As many families as a large shop has pigments, their tubes somewhat apart.
fn shelf() -> Vec<Signature> {
    let mut chance = ChaCha8Rng::seed_from_u64(3);
    let mut axis = |low: f64, high: f64| chance.random_range(low..high);
    let families: Vec<Vec<Lab>> = (0..120)
        .map(|_| {
            let any = |_| Lab::new(axis(15.0, 95.0), axis(-60.0, 60.0), axis(-60.0, 80.0));
            (0..COLOURS).map(any).collect()
        })
        .collect();
    (0..TUBES)
        .map(|at| {
            let mut near = |lab: &Lab| {
                Lab::new(lab.l + axis(-4.0, 4.0), lab.a + axis(-6.0, 6.0), lab.b + axis(-6.0, 6.0))
            };
            let own: Vec<Lab> = families[at % families.len()].iter().map(&mut near).collect();
            Signature::from_colours(own[0], &own)
        })
        .collect()
}

fn whole_shelf(criterion: &mut Criterion) {
    let shelf = shelf();
    criterion.bench_function("look-alikes of 2,000 tubes, all pairs in full", |bencher| {
        bencher.iter(|| look_alikes_in_full(&shelf, WITHIN).len());
    });
    criterion.bench_function("look-alikes of 2,000 tubes, with the lower bound", |bencher| {
        bencher.iter(|| look_alikes(&shelf, WITHIN).len());
    });
}

/// Twelve tubes against four references, each swatch read once.
async fn workshop() -> Outcome<Store> {
    let app = Workshop::new(Store::in_memory().await?)
        .with_meter(SimulatedMeter::new(1, MixingTable::default()));
    let mut tubes = Vec::new();
    let tested = [
        "PB29", "PB29", "PB29", "PB15:3", "PB15:3", "PV23", "PV23", "PG7", "PG7", "PR122", "PR122",
        "PV19",
    ];
    let others = ["PY74", "PR254", "PO73", "PY83", "PW6"];
    for (at, code) in tested.iter().chain(&others).enumerate() {
        let tube = Tube {
            maker: format!("Maker {at}"),
            name: format!("{code} {at}"),
            codes: ColourIndexName::parse_list(code)?,
            ..Tube::default()
        };
        tubes.push(app.store().add_tube(&tube).await?);
    }
    let request = star("Twelve", &tubes[..12], &tubes[12..16], tubes[16]);
    let id = app.plan_trial(workshop::TrialRequest { repeats: 1, ..request }).await?;
    for number in 1..=app.trial(id).await?.swatches.len() {
        app.read_all(id, plan::CellNumber(number as u32)).await?;
    }
    Ok(app.store().clone())
}

async fn page(app: &Workshop) -> usize {
    let tubes: Vec<String> = (1..=12).map(|id| format!("tube={id}")).collect();
    let request = Request::get(format!("/compare?{}", tubes.join("&"))).body(Body::empty());
    let request = request.unwrap_or_else(|error| unreachable!("{error}"));
    let answer = web::router(app.clone()).oneshot(request).await;
    let answer = answer.unwrap_or_else(|never| match never {});
    assert!(answer.status().is_success(), "{}", answer.status());
    let text = to_bytes(answer.into_body(), usize::MAX).await.unwrap_or_default();
    // Each of the 66 pairs has its figure.
    let pairs = String::from_utf8_lossy(&text).matches("squares compared").count();
    assert_eq!(pairs, 66);
    text.len()
}

fn twelve(criterion: &mut Criterion) {
    let runtime = tokio::runtime::Runtime::new().unwrap_or_else(|error| unreachable!("{error}"));
    let store = runtime.block_on(workshop()).unwrap_or_else(|error| unreachable!("{error}"));
    criterion.bench_function("compare page of 12 tubes, nothing known", |bencher| {
        bencher.iter_batched(
            || Workshop::new(store.clone()),
            |app| runtime.block_on(page(&app)),
            BatchSize::PerIteration,
        );
    });
    let warm = Workshop::new(store);
    criterion.bench_function("compare page of 12 tubes, warm", |bencher| {
        bencher.iter(|| runtime.block_on(page(&warm)));
    });
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = whole_shelf, twelve
}
criterion_main!(benches);
