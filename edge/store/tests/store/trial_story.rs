//! The whole life of a trial in the records.

use bench::{BenchEvent, LogEntry, Made, Word};
use colour::{Conditions, Lab, Reflectance, StatedLab};
use plan::{Source, StepRef};
use store::{How, Last, NewPalette, PlannedSwatch, ReadingId, Store, StoreError, TubeId};
use study::palette::{PaletteRole, School};
use study::{Basis, Measured, RatioError, State, Tube, TubeRef};

use crate::common::{meter, record, star, started, three_tubes, tube};

#[tokio::test]
async fn readings_are_numbered_voided_and_never_lost() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path().join("workshop.db");
    let store = Store::open(&path).await.expect("open");
    let trial = started(&store).await;
    assert_eq!(trial.swatches.len(), 3 + 3 + 2 * 8 + 9);
    let kept: Vec<_> = trial.swatches.iter().map(|it| it.swatch.clone()).collect();
    assert_eq!(trial.planned().map(|plan| &plan.swatches), Some(&kept));
    let swatch = &trial.swatches[6];
    let spectrum = Measured::Spectrum(Reflectance::from_fn(|band| 0.1 + band as f64 / 77.0));
    let typed = Measured::Lab(StatedLab {
        lab: Lab::new(30.1, 12.25, -41.7),
        conditions: Conditions::D65_10,
    });
    let first =
        record(&store, trial.id, swatch.id, State::Dry, &spectrum, meter("bench meter")).await;
    record(&store, trial.id, swatch.id, State::Wet, &typed, How::Typed).await;
    record(&store, trial.id, swatch.id, State::Dry, &typed, How::Typed).await;
    store.void(trial.id, first, "streaks").await.expect("void");
    assert!(matches!(store.void(trial.id, first, "again").await, Err(StoreError::AlreadyVoid)));
    drop(store);

    let store = Store::open(&path).await.expect("open again");
    let trial = store.trial(trial.id).await.expect("read back");
    let facts: Vec<_> = trial
        .readings
        .iter()
        .map(|stored| {
            let reading = &stored.reading;
            (reading.state, reading.repeat, reading.measured, reading.void.as_deref())
        })
        .collect();
    assert_eq!(
        facts,
        [
            (State::Dry, 1, spectrum, Some("streaks")),
            (State::Wet, 1, typed, None),
            (State::Dry, 2, typed, None),
        ]
    );
    let summary = &store.trials().await.expect("list")[0];
    assert_eq!((summary.done, summary.readings, summary.voids), (1, 2, 1));
    // Not even SQL from outside takes a reading away or changes it.
    let outside =
        sqlx::SqlitePool::connect(&format!("sqlite:{}", path.display())).await.expect("open");
    for sql in ["DELETE FROM reading", "UPDATE reading SET lab = NULL", "DELETE FROM void"] {
        let refused = sqlx::query(sql).execute(&outside).await.expect_err(sql).to_string();
        assert!(refused.contains("never") || refused.contains("stays void"), "{refused}");
    }
    assert_eq!(store.trial(trial.id).await.expect("read").readings.len(), 3);
}

#[tokio::test]
async fn what_belongs_to_another_trial_is_not_found() {
    let store = Store::in_memory().await.expect("open");
    let (one, other) = (started(&store).await, started(&store).await);
    let lab = Measured::Spectrum(Reflectance::flat(0.5));
    let by_hand = (How::Typed, None);
    let foreign = store.record(one.id, other.swatches[0].id, State::Dry, &lab, by_hand).await;
    assert!(matches!(foreign, Err(StoreError::NotFound("swatch"))));
    let reading = record(&store, one.id, one.swatches[0].id, State::Dry, &lab, How::Typed).await;
    let foreign = store.void(other.id, reading, "mistake").await;
    assert!(matches!(foreign, Err(StoreError::NotFound("reading"))));
}

#[tokio::test]
async fn an_imported_file_finds_its_tubes_and_keeps_its_rows() {
    let text = "# upright-swatch readings 1\n# white: Workshop Titanium\n\
                tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat,L,a,b,note\n\
                Workshop Titanium,Tidewell,PW6,,1,,,dry,paper,1,96,0,2,\n\
                Canopy Ultramarine,Tidewell,PB29,,1.0,,4,dry,paper,1,60.10,1,-38,mine\n\
                Canopy Ultramarine,Tidewell,PB29,,1,,4,dry,paper,2,60.2,1,-38,\"again\"\n";
    let file = formats::readings::read(text.as_bytes()).expect("a good file");
    let store = Store::in_memory().await.expect("open");
    started(&store).await;
    let shelf = store.shelf().await.expect("shelf").len();
    let id = store
        .import(
            "From a friend",
            &file.study,
            file.source.head(),
            &file.source.rows().collect::<Vec<_>>(),
        )
        .await
        .expect("import");
    assert_eq!(store.shelf().await.expect("shelf").len(), shelf);
    let trial = store.trial(id).await.expect("read back");
    assert_eq!((trial.swatches.len(), trial.readings.len()), (2, 3));
    // A tube is one tube in all trials, however its label is typed; two in one file stay two.
    let otherwise =
        text.replace("Canopy Ultramarine,Tidewell,PB29,,1.0", "CANOPY ultramarine,tidewell,,,1.0");
    let typed_otherwise = formats::readings::read(otherwise.as_bytes()).expect("a good file").study;
    for (study, more) in [(&typed_otherwise, 1), (&file.study, 1)] {
        store.import("Again", study, "", &["", "", ""]).await.expect("import");
        assert_eq!(store.shelf().await.expect("shelf").len(), shelf + more);
    }
    let sources = store.source_rows(id).await.expect("its rows");
    let rows: Vec<formats::readings::ExportRow<'_>> = trial
        .readings
        .iter()
        .map(|stored| formats::readings::ExportRow {
            reading: &stored.reading,
            source: sources.get(&stored.id).map(String::as_str),
            voided_since: stored.voided_since,
        })
        .collect();
    let head = trial.source_head.as_deref();
    assert_eq!(formats::readings::export(&trial.study(), head, &rows), text);
}

/// A tablet at the bench and a laptop at the desk read the same swatch at the same time.
#[tokio::test(flavor = "multi_thread")]
async fn two_devices_at_once_lose_and_double_nothing() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path().join("workshop.db");
    let (tablet, laptop) =
        (Store::open(&path).await.expect("open"), Store::open(&path).await.expect("open"));
    let trial = started(&tablet).await;
    let swatch = trial.swatches[4].id;
    let writers = [(tablet.clone(), "tablet"), (laptop, "laptop")].map(|(store, device)| {
        tokio::spawn(async move {
            for at in 0..20 {
                let measured = Measured::Spectrum(Reflectance::flat(f64::from(at) / 100.0));
                record(&store, trial.id, swatch, State::Dry, &measured, meter(device)).await;
            }
        })
    });
    for writer in writers {
        writer.await.expect("both finish");
    }
    let readings = tablet.trial(trial.id).await.expect("read back").readings;
    let mut repeats: Vec<u32> = readings.iter().map(|stored| stored.reading.repeat).collect();
    repeats.sort_unstable();
    assert_eq!(repeats, (1..=40).collect::<Vec<u32>>());
    let by_tablet = readings.iter().filter(|stored| &*stored.instrument == "tablet").count();
    assert_eq!(by_tablet, 20);
}

#[tokio::test]
async fn a_corrected_tube_is_corrected_everywhere() {
    let store = Store::in_memory().await.expect("open");
    let trial = started(&store).await;
    let id = trial.tubes[0].tube.id;
    let (read, corrected) = (
        store.tube(id).await.expect("read").tube,
        tube("Tidewell", "Canopy Ultramarine", "PB29 PV23"),
    );
    store.change_tube(id, &read, &corrected).await.expect("change");
    assert_eq!(store.tube(id).await.expect("read").tube, corrected);
    // A page that was opened before wipes nothing of it.
    let stale = Tube { left_ml: Some(3.0), ..read.clone() };
    let refused = store.change_tube(id, &read, &stale).await;
    assert!(matches!(refused, Err(StoreError::Changed("tube"))), "{refused:?}");
    assert_eq!(store.tube(id).await.expect("read").tube, corrected);
    assert_eq!(store.trial(trial.id).await.expect("read").labels()[0].code, "PB29 PV23");
    let nobody = store.change_tube(TubeId(99), &read, &corrected).await;
    assert!(matches!(nobody, Err(StoreError::NotFound("tube"))));
}

#[tokio::test]
async fn a_trial_is_started_whole_or_not_at_all() {
    let store = Store::in_memory().await.expect("open");
    let white = store.add_tube(&tube("Tidewell", "Workshop Titanium", "PW6")).await.expect("add");
    let new = star("Of tubes that are not there", [TubeId(98), TubeId(99), white]);
    assert!(store.start_trial(&new).await.is_err());
    assert!(store.trials().await.expect("list").is_empty());
}

#[tokio::test]
async fn a_plan_changes_until_the_bench_begins() {
    let store = Store::in_memory().await.expect("open");
    let first = star("Blue against yellow", three_tubes(&store).await);
    let id = store.start_trial(&first).await.expect("start");
    let [blue, yellow, white] = [0, 1, 2].map(|at| first.tubes[at].0);
    let turned = star("Yellow against blue", [yellow, blue, white]);
    store.change_trial(id, &turned, 1).await.expect("change");
    // Another page still shows the plan before.
    let stale = store.change_trial(id, &first, 1).await;
    assert!(matches!(stale, Err(StoreError::Changed("plan"))), "{stale:?}");
    let trial = store.trial(id).await.expect("read back");
    assert_eq!((trial.name.as_str(), trial.tubes[0].tube.id), ("Yellow against blue", yellow));
    // Its sheets are of another edition than those that were printed before.
    assert_eq!(trial.plan, Some(store::TrialPlan { edition: 2, ..turned.plan.clone() }));
    let typed = Measured::Spectrum(Reflectance::from_fn(|_| 0.4));
    let swatch = trial.swatches[0].id;
    let reading = record(&store, id, swatch, State::Dry, &typed, How::Typed).await;
    // A void reading is a reading that was taken.
    store.void(id, reading, "wrong square").await.expect("void");
    assert!(matches!(store.change_trial(id, &first, 2).await, Err(StoreError::Frozen)));
    assert_eq!(store.trial(id).await.expect("read back").name, "Yellow against blue");
}

#[tokio::test]
async fn a_palette_that_a_trial_has_used_gets_a_new_version() {
    let store = Store::in_memory().await.expect("open");
    let tubes = three_tubes(&store).await;
    let mut new = NewPalette {
        name: "Workshop".into(),
        school: School::Free,
        tubes: vec![(PaletteRole::Any, tubes[1]), (PaletteRole::White, tubes[2])],
    };
    let first = store.add_palette(&new).await.expect("add");
    new.tubes.insert(0, (PaletteRole::Any, tubes[0]));
    assert_eq!(store.change_palette(first, &new).await.expect("change"), first);
    let mut trial = star("With the palette", tubes);
    trial.plan.palette = Some(first);
    store.start_trial(&trial).await.expect("start");
    new.name = "Workshop, two colours".into();
    new.tubes.remove(1);
    let second = store.change_palette(first, &new).await.expect("a new version");
    assert_ne!(second, first);
    let old = store.palette(first).await.expect("the old one");
    assert_eq!((old.tubes.len(), old.version, old.replaced_by), (3, 1, Some(second)));
    assert!(matches!(store.change_palette(first, &new).await, Err(StoreError::Replaced)));
    let latest = store.palettes().await.expect("list");
    assert_eq!(latest.len(), 1);
    assert_eq!((latest[0].id, latest[0].version, latest[0].trials), (second, 2, 0));
    let names = |colours: Vec<&store::ShelfTube>| -> Vec<String> {
        colours.iter().map(|it| it.tube.name.clone()).collect()
    };
    assert_eq!(names(latest[0].colours()), ["Canopy Ultramarine"]);
    assert_eq!(names(latest[0].white().into_iter().collect()), ["Workshop Titanium"]);
}

#[tokio::test]
async fn the_log_of_the_bench_is_only_added_to() {
    let store = Store::in_memory().await.expect("open");
    let trial = started(&store).await;
    let (swatch, number) = (trial.swatches[3].id, trial.swatches[3].swatch.number);
    let laid = [
        BenchEvent::Made(Made {
            step: StepRef(0),
            how: Basis::Weight,
            parts: vec![],
            simulated: false,
        }),
        BenchEvent::Laid { swatch: number },
    ];
    let open = |log: &[LogEntry]| log.is_empty();
    assert!(store.record_events(trial.id, &laid, Some("a"), open).await.expect("stored"));
    // The same page once more is no news; another table that comes later is refused.
    assert!(store.record_events(trial.id, &laid, Some("a"), open).await.expect("known"));
    assert!(!store.record_events(trial.id, &laid, Some("b"), open).await.expect("refused"));
    let measured = Measured::Spectrum(Reflectance::flat(0.4));
    let read = |token| {
        store.record(trial.id, swatch, State::Dry, &measured, (meter("meter"), Some(token)))
    };
    assert!(read("c").await.expect("stored").is_some());
    assert_eq!(read("c").await.expect("known"), None);
    assert_eq!(read("a").await.expect("an event's token"), None);

    // Taken back: first the reading, then what was stored together, then nothing is left.
    let note =
        BenchEvent::Noted { swatch: number, words: vec![Word::Streaky], note: "thin".into() };
    store.record_events(trial.id, &[note], None, |_| true).await.expect("noted");
    let shown = async || store.trial(trial.id).await.expect("read back").last_entry();
    let undo = async |last| store.undo(trial.id, last).await.expect("undo");
    let noted = shown().await.expect("the note");
    assert!(matches!(noted, Last::BenchEvent(_)));
    // What a page shows is taken back, once; what it does not show is not.
    assert!(!undo(Last::Reading(ReadingId(1))).await);
    assert!(undo(noted).await && !undo(noted).await);
    let reading = shown().await.expect("the reading");
    assert!(matches!(reading, Last::Reading(_)) && undo(reading).await);
    assert_eq!(shown().await, None, "a void reading stays");
    let read = store.trial(trial.id).await.expect("read back");
    let events: Vec<BenchEvent> = read.log.iter().map(|entry| entry.event.clone()).collect();
    assert_eq!(events[..2], laid);
    assert_eq!(
        read.log.iter().map(|entry| entry.after).collect::<Vec<_>>(),
        [None, None, Some(ReadingId(1))]
    );
    assert!(read.log[2].void.is_some() && read.readings[0].reading.void.is_some());

    // Spoilt: every reading of it is void, with the reason, and that stays.
    store
        .record(trial.id, swatch, State::Dry, &measured, (meter("meter"), None))
        .await
        .expect("stored");
    store.spoil(trial.id, (swatch, number), "streaks", Some("d")).await.expect("spoilt");
    assert_eq!(shown().await, None, "no way back");
    let read = store.trial(trial.id).await.expect("read back");
    assert_eq!(read.readings[1].reading.void.as_deref(), Some("streaks"));
    let run = read.run().expect("planned");
    assert_eq!(run.square(number).expect("there").spoilt, ["streaks"]);
    // What was done freezes the plan as a reading does, and no line can be touched.
    let new =
        star("Another name", [read.tubes[0].tube.id, read.tubes[1].tube.id, read.tubes[2].tube.id]);
    assert!(matches!(store.change_trial(trial.id, &new, 1).await, Err(StoreError::Frozen)));
    let other = store.add_tube(&tube("Nettlebed", "Ultramarine Blue", "PB29")).await.expect("add");
    for _ in 0..2 {
        assert_eq!(store.join_tube(trial.id, other).await.expect("joins once"), 3);
    }
}

#[tokio::test]
async fn what_was_really_done_is_what_readings_are_of() {
    let store = Store::in_memory().await.expect("open");
    let trial = started(&store).await;
    let plan = trial.planned().expect("planned");
    let mixed = |planned: &&PlannedSwatch| {
        let colours = planned.swatch.mixture.colours(trial.white()).count();
        colours == 2 && planned.swatch.mixture.white_per_colour(trial.white()) == Some(0.0)
    };
    let planned = trial.swatches.iter().find(mixed).expect("a mixture");
    let number = planned.swatch.number;
    let turn = plan.turns().into_iter().find(|turn| turn.swatch == number).expect("its turn");
    let blue_and_yellow = vec![(Source::Tube(TubeRef(0)), 0.2), (Source::Tube(TubeRef(1)), 0.6)];
    let made = Made {
        step: turn.step.expect("mixed"),
        how: Basis::Weight,
        parts: blue_and_yellow,
        simulated: false,
    };
    let events = [BenchEvent::Made(made), BenchEvent::Laid { swatch: number }];
    store.record_events(trial.id, &events, None, |_| true).await.expect("stored");
    let measured = Measured::Spectrum(Reflectance::flat(0.4));
    record(&store, trial.id, planned.id, State::Dry, &measured, meter("meter")).await;
    let study = store.trial(trial.id).await.expect("read back").study();
    let reading = &study.readings[0];
    let share = reading.mixture.parts_of(TubeRef(0)) / reading.mixture.total();
    assert!((share - 0.25).abs() < 1e-12, "{share}");
    assert!(matches!(reading.ratio_error, RatioError::Known(error) if error > 0.01));
}
