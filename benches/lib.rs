//! What `make bench` runs, and the trial that several of them plan.

use plan::steps::Steps;
use plan::{StepChoice, Tests, Thinning};
use store::TubeId;
use workshop::{ChartRequest, ThinningRequest, TintRequest, TrialRequest};

/// A star in quarters, with tints of everything and opacity.
#[must_use]
pub fn star(name: &str, tested: &[TubeId], references: &[TubeId], white: TubeId) -> TrialRequest {
    let alone = vec![1.0, 2.0, 4.0, 8.0, 16.0];
    TrialRequest {
        tested: tested.to_vec(),
        references: references.to_vec(),
        white: Some(white),
        charts: vec![ChartRequest::Star { steps: StepChoice::Fixed(Steps::Quarters), third: None }],
        tints: TintRequest::All,
        thinning: ThinningRequest::Given(Thinning::White {
            alone,
            mixtures: vec![1.0, 4.0],
            film: false,
        }),
        tests: Tests { opacity: true, lift: false, wet: false },
        repeats: 3,
        ..TrialRequest::new(name)
    }
}
