//! A disk that fills up while people work, room that is made, and a crash afterwards: nothing that was answered as
//! stored is lost, and the program goes on without a restart.

use std::collections::BTreeSet;
use std::sync::Mutex;

use crate::common::{Outcome, Server, db};
use bench::BenchEvent;
use store::{Store, TrialId};

/// What four tables send at once, until one of them has had enough.
fn at_four_tables(server: &Server, round: &str, stored: &Mutex<BTreeSet<String>>, each: usize) {
    std::thread::scope(|scope| {
        for table in 0..4 {
            scope.spawn(move || {
                for at in 0..each {
                    let note = format!("{round} {table} {at} {}", "x".repeat(120));
                    let sent =
                        format!("note={}&token={round}-{table}-{at}", note.replace(' ', "+"));
                    let Ok(answer) = server.post("/trials/4/bench/1/note", &sent) else { return };
                    if answer.starts_with("HTTP/1.0 303") {
                        stored.lock().expect("unpoisoned").insert(note);
                    }
                }
            });
        }
    });
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_answered_as_stored_is_there_after_a_full_disk_room_and_a_kill() -> Outcome {
    let folder = tempfile::tempdir()?;
    let file = db(folder.path());
    drop(Server::start(&["--demo", "--db", &file])?);
    let size = std::fs::metadata(&file)?.len() / 1024;
    // The write-ahead log takes some entries more, then no file may grow.
    let server = Server::start_on_a_full_disk(size.max(64), &["--demo", "--db", &file])?;
    let stored = Mutex::new(BTreeSet::new());
    let refused = (0..20_000).find_map(|at| {
        at_four_tables(&server, &format!("filling {at}"), &stored, 8);
        let answer = server.post("/trials/4/bench/1/note", "note=one+more").unwrap_or_default();
        (!answer.starts_with("HTTP/1.0 303")).then_some(answer)
    });
    let refused = refused.ok_or("the disk never fills")?;
    assert!(refused.starts_with("HTTP/1.0 507"), "{}", refused.lines().next().unwrap_or_default());
    assert!(refused.contains("could not be recorded, because the disk is full"), "{refused}");
    // Everything can still be looked at, and is refused in the same words as long as there is no room.
    assert!(server.get("/trials/4/bench/1")?.starts_with("HTTP/1.0 200"));
    at_four_tables(&server, "full", &stored, 8);
    assert!(
        server
            .post("/shelf", "name=Leaf+Green&grade=artist&medium=acrylic")?
            .starts_with("HTTP/1.0 507")
    );

    // Room is made, and the same program goes on: every act is stored.
    server.make_room()?;
    let before = stored.lock().expect("unpoisoned").len();
    at_four_tables(&server, "room", &stored, 40);
    assert_eq!(stored.lock().expect("unpoisoned").len(), before + 4 * 40);
    assert!(
        server
            .post("/shelf", "name=Leaf+Green&grade=artist&medium=acrylic")?
            .starts_with("HTTP/1.0 303")
    );
    server.kill()?;

    let store = Store::open(std::path::Path::new(&file)).await?;
    let notes =
        store.trial(TrialId(4)).await?.log.into_iter().filter_map(|entry| match entry.event {
            BenchEvent::Noted { note, .. } => Some(note),
            _ => None,
        });
    let notes: Vec<String> = notes.collect();
    let kept: BTreeSet<&String> = notes.iter().collect();
    let stored = stored.into_inner()?;
    let lost: Vec<&String> = stored.iter().filter(|note| !kept.contains(note)).collect();
    assert!(lost.is_empty(), "{} of {} lost: {lost:?}", lost.len(), stored.len());
    // And each once.
    assert_eq!(notes.iter().filter(|note| note.starts_with("room")).count(), 4 * 40);
    assert!(store.shelf().await?.iter().any(|it| it.tube.name == "Leaf Green"));
    Ok(())
}
