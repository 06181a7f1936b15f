//! What is recorded at the bench, without a page: laying, judging, voiding, taking back.

use std::collections::HashMap;

use bench::{BarShows, BenchEvent, Made, Next, Refused, Task};
use colour::{Conditions, Lab, StatedLab};
use plan::steps::Steps;
use plan::{CellNumber, Source, StepChoice, StepRef, Tests, Thinning};
use store::{Last, PlannedSwatch, Store, StoreError, TrialId, TubeId};
use study::{Basis, Mixture, RatioError, State, Tube, TubeRef};
use workshop::{
    AtHand, ChartRequest, LayRequest, Line, OpenTrial, Prompt, ReadingCheck, ThinningRequest,
    TrialRequest, WorkOrder, Workshop, WorkshopError, until,
};

const BLUE: TubeRef = TubeRef(0);
const YELLOW: TubeRef = TubeRef(1);
const WHITE: TubeRef = TubeRef(2);

/// A workshop without devices, its tubes, and a trial of blue against yellow in quarters, each with white
/// 1 : 1.
async fn bench() -> (Workshop, Vec<TubeId>, TrialId) {
    let store = Store::in_memory().await.expect("open");
    let tube = |name: &str, code: &str| Tube {
        name: name.into(),
        codes: vec![code.parse().expect("a name")],
        ..Tube::default()
    };
    let tubes = [
        tube("Canopy Ultramarine", "PB29"),
        tube("Lantern Yellow", "PY74"),
        tube("Workshop Titanium", "PW6"),
        tube("Awning Blue", "PB15:3"),
    ];
    store.stock(&tubes, &[]).await.expect("stored");
    let shelf = store.shelf().await.expect("read");
    let of = |name: &str| shelf.iter().find(|it| it.tube.name == name).expect("stored").id;
    let ids: Vec<TubeId> = tubes.iter().map(|tube| of(&tube.name)).collect();
    let app = Workshop::new(store);
    let request = TrialRequest {
        tested: vec![ids[0]],
        references: vec![ids[1]],
        white: Some(ids[2]),
        charts: vec![ChartRequest::Star { steps: StepChoice::Fixed(Steps::Quarters), third: None }],
        thinning: ThinningRequest::Given(Thinning::White {
            alone: vec![1.0],
            mixtures: vec![1.0],
            film: false,
        }),
        tests: Tests { opacity: true, lift: false, wet: false },
        ..TrialRequest::new("Blue and yellow")
    };
    let trial = app.plan_trial(request).await.expect("planned");
    (app, ids, trial)
}

fn cell(trial: &OpenTrial, parts: &[(TubeRef, f64)]) -> CellNumber {
    let wanted = Mixture::of(parts).ratio_key();
    let mut swatches = trial.swatches.iter().map(|planned| &planned.swatch);
    swatches.find(|swatch| swatch.mixture.ratio_key() == wanted).expect("planned").number
}

fn made(trial: &OpenTrial) -> Vec<&Made> {
    let entries = trial.log.iter().filter(|entry| entry.void.is_none());
    let made = entries.filter_map(|entry| match &entry.event {
        BenchEvent::Made(made) => Some(made),
        _ => None,
    });
    made.collect()
}

const HALF: &[(TubeRef, f64)] = &[(BLUE, 1.0), (YELLOW, 1.0)];
const HALF_TINT: &[(TubeRef, f64)] = &[(BLUE, 0.5), (YELLOW, 0.5), (WHITE, 1.0)];

#[tokio::test]
async fn laying_a_tint_mixes_what_it_is_taken_from_once() {
    let (app, _, id) = bench().await;
    let trial = app.trial(id).await.expect("there");
    let (half, tint) = (cell(&trial, HALF), cell(&trial, HALF_TINT));
    let as_planned = LayRequest::default();
    app.lay(id, tint, &as_planned, Some("one")).await.expect("laid");
    // Pressed twice, and laid once more from a page that is old: nothing is added.
    app.lay(id, tint, &as_planned, Some("one")).await.expect("known");
    app.lay(id, tint, &as_planned, Some("two")).await.expect("laid already");
    let trial = app.trial(id).await.expect("there");
    let steps: Vec<StepRef> = made(&trial).iter().map(|made| made.step).collect();
    let run = trial.run().expect("planned");
    let of = |number| run.step_of(number).expect("painted");
    assert_eq!(steps, [of(half), of(tint)]);
    assert_eq!(trial.log.len(), 3);
    // The mixture stands ready for its own swatch.
    app.lay(id, half, &as_planned, None).await.expect("laid");
    let trial = app.trial(id).await.expect("there");
    assert_eq!((made(&trial).len(), trial.log.len()), (2, 4));
    let nowhere = app.lay(id, CellNumber(999), &as_planned, None).await.expect_err("no such cell");
    assert!(matches!(nowhere, WorkshopError::Store(StoreError::NotFound("swatch"))), "{nowhere:?}");
}

/// Two tables that lay two tints of one mixture at the same moment mix it once.
#[tokio::test]
async fn two_tables_make_a_pile_once() {
    let (app, _, id) = bench().await;
    let trial = app.trial(id).await.expect("there");
    let as_planned = LayRequest::default();
    let (half, tint) = (cell(&trial, HALF), cell(&trial, HALF_TINT));
    let (one, other) =
        tokio::join!(app.lay(id, half, &as_planned, None), app.lay(id, tint, &as_planned, None));
    one.and(other).expect("both laid");
    let trial = app.trial(id).await.expect("there");
    let base = trial.run().and_then(|run| run.step_of(half)).expect("painted");
    assert_eq!(made(&trial).iter().filter(|made| made.step == base).count(), 1);
}

#[tokio::test]
async fn what_was_put_together_otherwise_is_kept_line_by_line() {
    let (app, tubes, id) = bench().await;
    let trial = app.trial(id).await.expect("there");
    let half = cell(&trial, HALF);
    let run = trial.run().expect("planned");
    let step = run.step_of(half).expect("painted");
    let planned = run.planned_parts(step);
    let request = LayRequest {
        amounts: HashMap::from([(Line { step, at: 0 }, 0.4)]),
        tubes: HashMap::from([(Line { step, at: 1 }, tubes[3])]),
        ..LayRequest::default()
    };
    app.lay(id, half, &request, None).await.expect("laid");
    let trial = app.trial(id).await.expect("there");
    // The other blue joined the trial as its fourth tube; what was not typed is as planned.
    assert_eq!(trial.tubes[3].tube.id, tubes[3]);
    let other = Source::Tube(TubeRef(3));
    assert_eq!(made(&trial)[0].parts, [(planned[0].0, 0.4), (other, planned[1].1)]);
    assert!(matches!(trial.run().expect("planned").ratio_error(half), RatioError::Known(_)));
    // By eye the ratio is only meant.
    let third = cell(&trial, &[(BLUE, 3.0), (YELLOW, 1.0)]);
    let by_eye = LayRequest { by_eye: true, ..LayRequest::default() };
    app.lay(id, third, &by_eye, None).await.expect("laid");
    let trial = app.trial(id).await.expect("there");
    assert_eq!(made(&trial)[1].how, Basis::Eye);
    assert_eq!(trial.run().expect("planned").ratio_error(third), RatioError::ByEye);
    // A line as a form names it.
    let line = Line { step: StepRef(4), at: 1 };
    assert_eq!((line.to_string().as_str(), "4.1".parse()), ("4.1", Ok(line)));
    for wrong in ["", "4", "4.", ".1", "4.1.2", "-1.0", "x.1"] {
        assert!(wrong.parse::<Line>().is_err(), "{wrong}");
    }
}

#[tokio::test]
async fn nothing_is_said_of_paint_that_is_not_there_and_only_the_last_entry_is_taken_back() {
    let (app, _, id) = bench().await;
    let trial = app.trial(id).await.expect("there");
    let (half, tint) = (cell(&trial, HALF), cell(&trial, HALF_TINT));
    let bar = |swatch| BenchEvent::Bar { swatch, shows: BarShows::Trace };
    let mut news = app.news().of(id);
    let refused = app.record(id, bar(half), None).await.expect_err("nothing is painted there");
    assert!(
        matches!(&refused, WorkshopError::Store(StoreError::Refused(Refused::NotPainted(at))) if *at == half),
        "{refused:?}"
    );
    let missing = app.record(id, bar(CellNumber(999)), None).await.expect_err("no such cell");
    assert!(matches!(missing, WorkshopError::Store(StoreError::NotFound("swatch"))), "{missing:?}");

    app.lay(id, half, &LayRequest::default(), None).await.expect("laid");
    assert!(news.next().await.is_some());
    app.record(id, bar(half), None).await.expect("painted now");
    let shown = app.trial(id).await.expect("there").last_entry().expect("the bar");
    // Another table lays a swatch meanwhile: what the page shows as last is not the last any more.
    app.lay(id, tint, &LayRequest::default(), None).await.expect("laid");
    app.undo(id, shown).await.expect("nothing done");
    let trial = app.trial(id).await.expect("there");
    assert_eq!(
        trial.run().expect("planned").square(half).expect("there").bar,
        Some(BarShows::Trace)
    );
    let last = trial.last_entry().expect("the tint");
    assert!(matches!(last, Last::BenchEvent(_)) && last != shown);
    app.undo(id, last).await.expect("taken back");
    let trial = app.trial(id).await.expect("there");
    assert_eq!(trial.run().expect("planned").square(tint).expect("there").laid, None);
    // Taken back, the lines stay in the log as void ones, the pile's with the swatch's.
    assert_eq!(trial.log.iter().filter(|entry| entry.void.is_some()).count(), 2);

    app.spoil(id, half, "streaks", Some("spoil")).await.expect("void");
    app.spoil(id, half, "streaks", Some("spoil")).await.expect("known");
    let trial = app.trial(id).await.expect("there");
    assert_eq!(trial.run().expect("planned").square(half).expect("there").spoilt, ["streaks"]);
    let refused = app.record(id, bar(half), None).await.expect_err("it does not count any more");
    assert!(refused.to_string().contains("marked as spoilt (streaks)"), "{refused}");
}

/// A sheet that is said to be dry: what is laid on it, and nothing else.
#[tokio::test]
async fn a_dry_sheet_is_what_is_laid_on_it() {
    let (app, _, id) = bench().await;
    let trial = app.trial(id).await.expect("there");
    let (half, tint) = (cell(&trial, HALF), cell(&trial, HALF_TINT));
    app.dry_sheet(id, half, None).await.expect("nothing lies there");
    assert_eq!(app.trial(id).await.expect("there").log, []);
    app.lay(id, half, &LayRequest::default(), None).await.expect("laid");
    assert!(matches!(prompt(&app, id, half).await, Prompt::Drying { .. }));
    assert_eq!(prompt(&app, id, tint).await, Prompt::Lay);
    app.dry_sheet(id, half, None).await.expect("dry");
    app.dry_sheet(id, half, None).await.expect("nothing is drying");
    let trial = app.trial(id).await.expect("there");
    let said: Vec<&BenchEvent> = trial.log.iter().map(|entry| &entry.event).collect();
    assert_eq!(said.last(), Some(&&BenchEvent::Dry { swatches: vec![half] }));
    assert_eq!((trial.log.len(), prompt(&app, id, half).await), (3, Prompt::Read));
    let now = workshop::now();
    // What is dry waits until everything is laid.
    assert!(matches!(trial.run().expect("planned").next(now), Next::Do { task: Task::Lay, .. }));
    let cases = [
        (-5.0, "now"),
        (0.0, "now"),
        (0.5, "in 1 min"),
        (59.9, "in 60 min"),
        (125.0, "in 2 h 5 min"),
    ];
    for (minutes, said) in cases {
        assert_eq!(until(now.after_minutes(minutes), now), said);
    }
}

async fn prompt(app: &Workshop, id: TrialId, number: CellNumber) -> Prompt {
    let trial = app.trial(id).await.expect("there");
    let planned = trial.swatch(number).expect("there");
    let order = WorkOrder::of(&trial);
    let at_hand = AtHand { meter: false, check_tile: true };
    Prompt::of(&trial, planned, &order, (None, at_hand), workshop::now()).0
}

/// Without any earlier reading, a figure that no paint of these pigments gives is pointed out.
#[tokio::test]
async fn a_reading_far_from_its_pigments_is_pointed_out() {
    let (app, _, id) = bench().await;
    let number = cell(&app.trial(id).await.expect("there"), &[(BLUE, 1.0), (WHITE, 1.0)]);
    app.lay(id, number, &LayRequest::default(), None).await.expect("laid");
    // A tint of ultramarine, and then the same with a* and b* taken for each other.
    for (lab, told) in [(Lab::new(48.0, 4.0, -46.0), false), (Lab::new(48.0, -46.0, 4.0), true)] {
        let trial = app.trial(id).await.expect("there");
        let planned: &PlannedSwatch = trial.swatch(number).expect("there");
        if let Some(Last::Reading(before)) = trial.last_entry() {
            app.store().void(id, before, "typed wrongly").await.expect("void");
        }
        let stated = StatedLab { lab, conditions: Conditions::D65_10 };
        app.type_in(&trial, planned, (State::Dry, stated), None).await.expect("stored");
        let trial = app.trial(id).await.expect("there");
        let trials = app.store().trials().await.expect("listed");
        let evidence = app.evidence_for(&trials, &trial, State::Dry).await.expect("known");
        let order = WorkOrder::of(&trial);
        let check =
            ReadingCheck::of(&trial, trial.swatch(number).expect("there"), &order, &evidence);
        let found =
            check.advice.iter().any(|it| it.starts_with("Far from what paints of PB29 look like"));
        assert_eq!(found, told, "{:?}", check.advice);
        assert!(!check.wrong);
    }
}
