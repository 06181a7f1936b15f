//! What can be done to the paint as it stands, each answered once.

use bench::{BarShows, BenchEvent, Grain, Refused};
use colour::Reflectance;
use mixing::Geometry;
use store::{How, Stamp, Store, StoreError};
use study::{Measured, Protocol, Reading, State};

use crate::common::{lay, meter, record, star, started, three_tubes, tube};

fn grey() -> Measured {
    Measured::Spectrum(Reflectance::flat(0.4))
}

#[tokio::test]
async fn nobody_reads_lifts_or_judges_what_is_not_painted() {
    let store = Store::in_memory().await.expect("open");
    let trial = started(&store).await;
    let planned = &trial.swatches[7];
    let (id, swatch, number) = (trial.id, planned.id, planned.swatch.number);
    let events = [
        BenchEvent::Lifted { swatch: number },
        BenchEvent::Bar { swatch: number, shows: BarShows::Trace },
        BenchEvent::Grain { swatch: number, grain: Grain::None },
    ];
    let refused = async |wanted: &Refused| {
        for event in &events {
            let done = store.record_events(id, std::slice::from_ref(event), None, |_| true).await;
            assert!(matches!(&done, Err(StoreError::Refused(why)) if why == wanted), "{done:?}");
        }
        for how in [How::Typed, meter("bench meter")] {
            let done = store.record(id, swatch, State::Dry, &grey(), (how, None)).await;
            assert!(matches!(&done, Err(StoreError::Refused(why)) if why == wanted), "{done:?}");
        }
        let spoilt = store.spoil(id, (swatch, number), "streaks", None).await;
        assert!(matches!(&spoilt, Err(StoreError::Refused(why)) if why == wanted), "{spoilt:?}");
    };
    refused(&Refused::NotPainted(number)).await;
    lay(&store, id, swatch).await;
    let skipped =
        store.record_events(id, &[BenchEvent::Skipped { swatch: number }], None, |_| true).await;
    assert!(matches!(skipped, Err(StoreError::Refused(Refused::Painted(_)))));
    for event in &events {
        let done = store.record_events(id, std::slice::from_ref(event), None, |_| true).await;
        assert!(done.expect("it is painted"));
    }
    // A page that was opened before the swatch was spoilt records nothing on it.
    store.spoil(id, (swatch, number), "streaks", None).await.expect("spoilt");
    refused(&Refused::Spoilt { cell: number, reason: "streaks".into() }).await;
    // A file's reading of it was taken of paint that is gone.
    let reading = Reading { ..trial_reading(&store, id).await };
    let of_file = store.record_file(id, None, &[(swatch, &reading)]).await;
    assert!(matches!(of_file, Err(StoreError::Refused(Refused::Spoilt { .. }))));
    record(&store, id, swatch, State::Dry, &grey(), How::Typed).await;
    // The bare backing needs no paint.
    let bare = trial.swatches.iter().find(|it| it.swatch.mixture.is_bare()).expect("a backing");
    let read = store.record(id, bare.id, State::Dry, &grey(), (How::Typed, None)).await;
    assert!(read.expect("read").is_some());
}

/// Any reading of another swatch, as a file may hold it.
async fn trial_reading(store: &Store, id: store::TrialId) -> Reading {
    let trial = store.trial(id).await.expect("read back");
    let other = trial.swatches[8].id;
    record(store, id, other, State::Dry, &grey(), How::Typed).await;
    let trial = store.trial(id).await.expect("read back");
    trial.readings[0].reading.clone()
}

#[tokio::test]
async fn the_first_meter_decides_and_another_geometry_is_asked_about() {
    let store = Store::in_memory().await.expect("open");
    let tubes = three_tubes(&store).await;
    let mut new = star("Planned while the meter was away", tubes);
    new.circumstances.meter_known = false;
    let id = store.start_trial(&new).await.expect("start");
    let swatch = store.trial(id).await.expect("read back").swatches[7].id;
    lay(&store, id, swatch).await;
    let with = |geometry, repeatability| How::Meter {
        name: "the new one",
        simulated: true,
        geometry,
        repeatability,
    };
    let read = async |how| store.record(id, swatch, State::Dry, &grey(), (how, None)).await;
    // What is typed decides nothing.
    read(How::Typed).await.expect("typed");
    read(with(Geometry::SphereExcluded, 0.04)).await.expect("the first meter");
    let trial = store.trial(id).await.expect("read back");
    let Protocol { geometry, repeatability, .. } = trial.circumstances.protocol;
    assert_eq!((geometry, repeatability), (Geometry::SphereExcluded, Some(0.04)));
    assert!(trial.circumstances.meter_known);
    let marks = trial.readings.iter().map(|it| (it.is_by_meter(), it.reading.simulated));
    assert_eq!(marks.collect::<Vec<_>>(), [(false, false), (true, true)]);
    let other = read(with(Geometry::FortyFive, 0.04)).await;
    let Err(error @ StoreError::OtherGeometry { .. }) = other else { panic!("{other:?}") };
    assert!(error.to_string().ends_with("plan a copy of the trial for this one?"), "{error}");
    assert_eq!(store.trial(id).await.expect("read back").readings.len(), 2);
}

#[tokio::test]
async fn a_form_that_is_sent_twice_is_done_once() {
    let store = Store::in_memory().await.expect("open");
    let tubes = three_tubes(&store).await;
    let once = store.once(Some("form-1/abc"));
    let new = tube("Nettlebed", "Leaf Green", "PG36 PY83");
    let added = [once.add_tube(&new).await, once.add_tube(&new).await].map(|it| it.expect("added"));
    assert_eq!(added[0], added[1]);
    let started = store.once(Some("form-2/abc"));
    let trial = star("Once", tubes);
    let ids = [started.start_trial(&trial).await, started.start_trial(&trial).await];
    let ids = ids.map(|it| it.expect("started"));
    assert_eq!((ids[0], store.trials().await.expect("list").len()), (ids[1], 1));
    // Without a token each sending is an act of its own.
    for _ in 0..2 {
        store.once(None).add_tube(&new).await.expect("added");
    }
    assert_eq!(store.shelf().await.expect("shelf").len(), 3 + 1 + 2);
}

#[tokio::test]
async fn rows_of_a_file_are_matched_as_often_as_they_stand_there() {
    let store = Store::in_memory().await.expect("open");
    let trial = started(&store).await;
    let swatch = trial.swatches[7].id;
    let one = trial_reading(&store, trial.id).await;
    let other = Reading { measured: Measured::Spectrum(Reflectance::flat(0.7)), ..one.clone() };
    let file = |rows: &[&Reading]| -> Vec<(store::SwatchId, Reading)> {
        rows.iter().map(|reading| (swatch, (*reading).clone())).collect()
    };
    let record = async |rows: &[(store::SwatchId, Reading)]| {
        let rows: Vec<_> = rows.iter().map(|(swatch, reading)| (*swatch, reading)).collect();
        store.record_file(trial.id, None, &rows).await.expect("stored")
    };
    // Three equal rows are three readings; the same file again brings nothing, a longer one the rest.
    assert_eq!(record(&file(&[&one, &one, &one])).await, 3);
    assert_eq!(record(&file(&[&one, &one, &one])).await, 0);
    assert_eq!(record(&file(&[&one, &other, &one, &one, &one])).await, 2);
    // Another repeat of the same value is another reading.
    let second = Reading { repeat: 2, ..one.clone() };
    assert_eq!(record(&file(&[&second])).await, 1);
}

/// What was read of a trial is read on, and is the same as when it is read anew.
#[tokio::test]
async fn only_what_is_new_is_read_again() {
    let store = Store::in_memory().await.expect("open");
    let mut known = started(&store).await;
    assert_eq!(store.trial_since(&known).await.expect("looked"), None);
    let mut stamps: Vec<Stamp> = vec![known.stamp];
    for step in 0..6 {
        let swatch = known.swatches[7].id;
        match step {
            0 => lay(&store, known.id, swatch).await,
            1 | 2 => {
                record(&store, known.id, swatch, State::Dry, &grey(), How::Typed).await;
            }
            3 => {
                let reading = known.readings[0].id;
                store.void(known.id, reading, "slipped").await.expect("void");
            }
            4 => {
                let shown = known.last_entry().expect("something");
                store.undo(known.id, shown).await.expect("taken back");
            }
            _ => store.put_away(known.id, true).await.expect("put away"),
        }
        let since = store.trial_since(&known).await.expect("looked").expect("something is new");
        assert_eq!(since, store.trial(known.id).await.expect("read anew"), "step {step}");
        assert!(!stamps.contains(&since.stamp), "step {step}");
        stamps.push(since.stamp);
        known = since;
    }
    assert!(known.put_away && store.trials().await.expect("list")[0].put_away);
    store.put_away(known.id, false).await.expect("taken back");
    assert!(!store.trial(known.id).await.expect("read").put_away);
    // A corrected tube is in every trial that holds it.
    let id = known.tubes[0].tube.id;
    let known = store.trial(known.id).await.expect("read");
    let read = store.tube(id).await.expect("read").tube;
    store.change_tube(id, &read, &tube("Tidewell", "Canopy Blue", "PB29")).await.expect("changed");
    let since = store.trial_since(&known).await.expect("looked").expect("new");
    assert_eq!(since.labels()[0].name, "Canopy Blue");
    // Whoever paints is told which of two tubes of one name; a file has their makers beside them.
    let other = known.tubes[1].tube.id;
    let read = store.tube(other).await.expect("read").tube;
    store
        .change_tube(other, &read, &tube("Nettlebed", "Canopy Blue", "PB29"))
        .await
        .expect("changed");
    let two = store.trial(known.id).await.expect("read");
    let names: Vec<String> = two.naming().tubes.into_iter().map(|it| it.name).collect();
    assert_eq!(names[..2], ["Canopy Blue (Tidewell)", "Canopy Blue (Nettlebed)"]);
    assert_eq!(two.study().tubes[1].name, "Canopy Blue");
}
