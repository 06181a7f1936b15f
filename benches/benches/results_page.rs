//! The results page of a trial like the demo's finished one, from request to last byte.

use axum::body::{Body, to_bytes};
use axum::http::Request;
use colour::Conditions;
use criterion::{Criterion, criterion_group, criterion_main};
use instruments::simulated::{SimulatedMeter, Workshop};
use mixing::{Geometry, Sheen};
use store::{Circumstances, NewTrial, Store};
use tower::ServiceExt as _;
use trial::{Basis, ColourIndexName, Protocol, State, Tube};
use web::AppState;

type Outcome<T> = Result<T, Box<dyn std::error::Error>>;

/// Three blues against a yellow, every swatch read three times.
async fn workshop() -> Outcome<AppState> {
    let app = AppState::new(Store::in_memory().await?, SimulatedMeter::new(1, Workshop::default()));
    let mut ids = Vec::new();
    for (maker, code) in
        [("One", "PB29"), ("Two", "PB29"), ("Three", "PB29"), ("One", "PY74"), ("One", "PW6")]
    {
        let tube = Tube {
            maker: maker.into(),
            name: format!("{maker} {code}"),
            codes: ColourIndexName::parse_list(code)?,
            ..Tube::default()
        };
        ids.push(app.store().add_tube(&tube).await?);
    }
    let (tubes, chart) = NewTrial::chart(&ids[..3], ids[3], ids[4]);
    let protocol = Protocol {
        basis: Basis::Weight,
        scale_g: Some(0.01),
        pile_g: Some(4.0),
        repeatability: Some(0.03),
        geometry: Geometry::SphereIncluded,
        sheen: Sheen::Satin,
    };
    let circumstances = Circumstances { conditions: Conditions::D65_10, protocol, repeats: 3 };
    let new =
        NewTrial { name: "Three blues".into(), tubes, circumstances, swatches: chart.swatches()? };
    let id = app.store().start_trial(&new).await?;
    let trial = app.store().trial(id).await?;
    for planned in &trial.swatches {
        app.take(&trial, planned, State::Dry, 3).await?;
    }
    Ok(app)
}

fn results_page(criterion: &mut Criterion) {
    let runtime = tokio::runtime::Runtime::new().unwrap_or_else(|error| unreachable!("{error}"));
    let app = runtime.block_on(workshop()).unwrap_or_else(|error| unreachable!("{error}"));
    let router = web::router(app);
    // Against a chosen standard nothing is kept, so every figure is worked out for each request.
    for (name, path) in [
        ("results page, figures kept", "/trials/1/results"),
        ("results page, figures worked out", "/trials/1/results?standard=1"),
    ] {
        criterion.bench_function(name, |bencher| {
            bencher.iter(|| {
                runtime.block_on(async {
                    let request = Request::get(path).body(Body::empty());
                    let request = request.unwrap_or_else(|error| unreachable!("{error}"));
                    let answer = router.clone().oneshot(request).await;
                    let answer = answer.unwrap_or_else(|never| match never {});
                    to_bytes(answer.into_body(), usize::MAX).await.map_or(0, |bytes| bytes.len())
                })
            });
        });
    }
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(20);
    targets = results_page
}
criterion_main!(benches);
