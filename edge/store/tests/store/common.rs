//! A small workshop, and what is done in it.

use bench::BenchEvent;
use colour::Conditions;
use plan::prior::Prior;
use plan::steps::Steps;
use plan::{Chart, Design, Naming, Plan, StepChoice};
use sheet::{LAYOUT, Paper};
use store::{
    Circumstances, How, NewTrial, ReadingId, Role, Store, SwatchId, Trial, TrialId, TrialPlan,
    TubeId,
};
use study::{Grade, Measured, Medium, Protocol, State, Tube, TubeLabel, TubeRef};

pub fn tube(maker: &str, name: &str, code: &str) -> Tube {
    Tube {
        maker: maker.into(),
        line: "Heavy Body".into(),
        name: name.into(),
        codes: study::ColourIndexName::parse_list(code).expect("a code"),
        grade: Grade::Artist,
        medium: Medium::Acrylic,
        volume_ml: Some(60.0),
        left_ml: Some(42.5),
        density_g_ml: Some(1.31),
        opacity: "semi-opaque".into(),
        lightfastness: "I".into(),
        series: "2".into(),
        price: "7.40".into(),
        batch: "K 114".into(),
        bought_on: Some("2026-10-03".parse().expect("a day")),
        tested_on: None,
        notes: "for the rounding boards".into(),
        look: study::TubeLook {
            mass_tone: Some("31.5 8 -24.6".parse().expect("a colour")),
            tint: None,
        },
    }
}

/// The first tube against the second, with the third as the white.
pub fn star(name: &str, [tested, reference, white]: [TubeId; 3]) -> NewTrial {
    let design = Design {
        charts: vec![
            Chart::Tints(vec![TubeRef(0), TubeRef(1)]),
            Chart::Star {
                tested: vec![TubeRef(0)],
                references: vec![TubeRef(1)],
                steps: StepChoice::Fixed(Steps::Quarters),
                third: None,
            },
        ],
        white: Some(TubeRef(2)),
        ..Design::default()
    };
    let plan = Plan::new(&design, &Prior::nothing(3, Conditions::D65_10), &[None; 3]);
    let plan = plan.expect("a plan");
    let labels = vec![TubeLabel::default(); 3];
    let naming = Naming { tubes: labels, white: design.white, ..Naming::default() };
    let sheets = sheet::lay_out(&plan, &naming, Paper::A4, 20.0).expect("sheets");
    NewTrial {
        name: name.into(),
        tubes: vec![(tested, Role::Tested), (reference, Role::Reference), (white, Role::White)],
        circumstances: Circumstances {
            conditions: Conditions::D65_10,
            protocol: Protocol::default(),
            repeats: 3,
            meter_known: true,
        },
        plan: TrialPlan {
            palette: None,
            paper: Paper::A4,
            design: design.into(),
            plan: plan.into(),
            sheets: sheets.into(),
            layout: LAYOUT,
            edition: 1,
        },
    }
}

pub async fn three_tubes(store: &Store) -> [TubeId; 3] {
    let tested =
        store.add_tube(&tube("Tidewell", "Canopy Ultramarine", "PB29")).await.expect("add");
    let reference = store.add_tube(&tube("Tidewell", "Lantern Yellow", "PY74")).await.expect("add");
    let white = store.add_tube(&tube("Tidewell", "Workshop Titanium", "PW6")).await.expect("add");
    [tested, reference, white]
}

pub async fn started(store: &Store) -> Trial {
    let new = star("Blue for the rounding boards", three_tubes(store).await);
    let id = store.start_trial(&new).await.expect("start");
    store.trial(id).await.expect("read back")
}

pub async fn record(
    store: &Store,
    trial: TrialId,
    swatch: SwatchId,
    state: State,
    measured: &Measured,
    how: How<'_>,
) -> ReadingId {
    lay(store, trial, swatch).await;
    let stored = store.record(trial, swatch, state, measured, (how, None)).await;
    stored.expect("record").expect("a new one")
}

/// Nothing is read that is not painted.
pub async fn lay(store: &Store, trial: TrialId, swatch: SwatchId) {
    let whole = store.trial(trial).await.expect("read back");
    let number = whole.swatches.iter().find(|it| it.id == swatch).expect("there").swatch.number;
    let laid = [BenchEvent::Laid { swatch: number }];
    assert!(store.record_events(trial, &laid, None, |_| true).await.expect("laid"));
}

pub fn meter(name: &str) -> How<'_> {
    let geometry = Protocol::default().geometry;
    How::Meter { name, simulated: false, geometry, repeatability: 0.08 }
}
