//! The results page of a trial like the demo's finished one, from request to last byte.

use axum::body::{Body, to_bytes};
use axum::http::Request;
use benches::star;
use criterion::{Criterion, criterion_group, criterion_main};
use instruments::simulated::{MixingTable, SimulatedMeter};
use mixing::Sheen;
use plan::CellNumber;
use store::Store;
use study::{ColourIndexName, State, Tube};
use tower::ServiceExt as _;
use workshop::{ChartRequest, TintRequest, TrialRequest, Workshop};

type Outcome<T> = Result<T, Box<dyn std::error::Error>>;

/// Three blues against a yellow, every swatch read three times.
async fn workshop() -> Outcome<Workshop> {
    let app = Workshop::new(Store::in_memory().await?)
        .with_meter(SimulatedMeter::new(1, MixingTable::default()));
    let mut tubes = Vec::new();
    for (maker, code) in
        [("One", "PB29"), ("Two", "PB29"), ("Three", "PB29"), ("One", "PY74"), ("One", "PW6")]
    {
        let tube = Tube {
            maker: maker.into(),
            name: format!("{maker} {code}"),
            codes: ColourIndexName::parse_list(code)?,
            ..Tube::default()
        };
        tubes.push(app.store().add_tube(&tube).await?);
    }
    let request = star("Three blues", &tubes[..3], &tubes[3..4], tubes[4]);
    let id = app.plan_trial(TrialRequest { sheen: Sheen::Satin, ..request }).await?;
    for number in 1..=app.trial(id).await?.swatches.len() {
        app.lay_as_planned(&*app.trial(id).await?, CellNumber(number as u32)).await?;
        let trial = app.trial(id).await?;
        app.take(&trial, &trial.swatches[number - 1], State::Dry, 3).await?;
    }
    Ok(app)
}

/// Sixteen tubes, each with each once, half of the squares read: the second trial.
async fn half_grid(app: &Workshop) -> Outcome<()> {
    let codes = [
        "PY3", "PY74", "PY35", "PY43", "PO62", "PO73", "PR254", "PR108", "PR122", "PV19", "PV23",
        "PB28", "PB15:3", "PG7", "PG18", "PBr7",
    ];
    let mut tubes = Vec::new();
    for code in codes {
        let codes = ColourIndexName::parse_list(code)?;
        let tube =
            Tube { maker: "Four".into(), name: format!("Four {code}"), codes, ..Tube::default() };
        tubes.push(app.store().add_tube(&tube).await?);
    }
    let white =
        app.store().shelf().await?.iter().find(|it| it.tube.name == "One PW6").map(|it| it.id);
    let grid = TrialRequest {
        white,
        charts: vec![ChartRequest::Grid { tubes, half: true }],
        tints: TintRequest::None,
        repeats: 1,
        ..TrialRequest::new("Half a grid")
    };
    let id = app.plan_trial(grid).await?;
    let count = app.trial(id).await?.swatches.len();
    for number in (1..=count).step_by(2) {
        app.read_all(id, CellNumber(number as u32)).await?;
    }
    Ok(())
}

fn results_page(criterion: &mut Criterion) {
    let runtime = tokio::runtime::Runtime::new().unwrap_or_else(|error| unreachable!("{error}"));
    let app = runtime.block_on(workshop()).unwrap_or_else(|error| unreachable!("{error}"));
    runtime.block_on(half_grid(&app)).unwrap_or_else(|error| unreachable!("{error}"));
    let router = web::router(app);
    // Against a chosen standard nothing is kept, so every figure is worked out for each request.
    for (name, path) in [
        ("results page, figures kept", "/trials/1/results"),
        ("results page, figures worked out", "/trials/1/results?standard=1"),
        ("matrix of 16 tubes, half grid", "/trials/2/results"),
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
