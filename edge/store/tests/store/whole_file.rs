//! The file as a whole: opened, copied, restored, and written as open files and back.

use std::fs;
use std::path::Path;

use colour::Reflectance;
use proptest::prelude::*;
use store::{Hold, How, NewPicture, Store, TrialId, archive, backup};
use study::{Measured, ReadingSource, State, Tube};

use crate::common::{meter, record, started, tube};

/// Every row of every table, as text.
async fn everything(path: &Path) -> String {
    let url = format!("sqlite:{}?mode=ro", path.display());
    let pool = sqlx::SqlitePool::connect(&url).await.expect("open");
    let names: Vec<String> = sqlx::query_scalar(
        "SELECT name FROM sqlite_schema WHERE type = 'table' AND name <> '_sqlx_migrations' ORDER BY name",
    )
    .fetch_all(&pool)
    .await
    .expect("tables");
    let mut text = String::new();
    for name in names {
        let columns: Vec<String> = sqlx::query_scalar("SELECT name FROM pragma_table_info(?)")
            .bind(&name)
            .fetch_all(&pool)
            .await
            .expect("columns");
        let quoted: Vec<String> = columns.iter().map(|it| format!("quote(\"{it}\")")).collect();
        let sql = format!("SELECT {} AS row FROM \"{name}\" ORDER BY 1", quoted.join("||','||"));
        let rows: Vec<String> =
            sqlx::query_scalar(sqlx::AssertSqlSafe(sql)).fetch_all(&pool).await.expect("rows");
        text.push_str(&format!("{name}({}):\n{}\n", columns.join(","), rows.join("\n")));
    }
    pool.close().await;
    text
}

/// A workshop in which something was done, with a name that a spreadsheet would run.
async fn workshop(path: &Path) -> Store {
    let store = Store::open(path).await.expect("open");
    let trial = started(&store).await;
    let measured = Measured::Spectrum(Reflectance::from_fn(|band| 0.1 + band as f64 / 77.0));
    let how = [How::Typed, meter("bench meter")];
    for (planned, how) in trial.swatches[6..].iter().zip(how) {
        let reading = record(&store, trial.id, planned.id, State::Dry, &measured, how).await;
        store.void(trial.id, reading, "=streaks, \"wide\"\nand long").await.expect("void");
    }
    store.add_tube(&tube("'-Maker", r"\N", "PB29")).await.expect("added");
    store
}

#[tokio::test]
async fn a_copy_holds_everything_and_stands_in_nobodys_place() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    let store = workshop(&at("workshop.db")).await;
    // While it is open: from the page, and from the command line.
    store.save_copy(&at("page.db")).await.expect("a copy");
    backup::copy_file(&at("workshop.db"), &at("line.db")).await.expect("a copy");
    let whole = everything(&at("workshop.db")).await;
    assert_eq!(everything(&at("page.db")).await, whole);
    assert_eq!(everything(&at("line.db")).await, whole);
    let taken = store.save_copy(&at("page.db")).await.expect_err("the name is taken").to_string();
    assert!(taken.contains("exists already and was left alone: give another name"), "{taken}");
    let nowhere = store.save_copy(&at("no/such/copy.db")).await.expect_err("no folder").to_string();
    assert!(nowhere.starts_with("there is no folder"), "{nowhere}");
    // The copy is a workshop like any other.
    assert_eq!(
        Store::open(&at("line.db")).await.expect("open").shelf().await.expect("shelf").len(),
        4
    );

    // More is done; then the copy takes its place, and what was there is kept.
    store.add_tube(&tube("Nettlebed", "Too Much", "PY3")).await.expect("added");
    let more = everything(&at("workshop.db")).await;
    {
        let _held = Hold::of(&at("workshop.db")).await.expect("nobody has it");
        let held = backup::restore(&at("page.db"), &at("workshop.db")).await.expect_err("in use");
        assert!(held.to_string().contains("is open in another upright-swatch already"), "{held}");
    }
    store.close().await;
    let before = backup::restore(&at("page.db"), &at("workshop.db")).await.expect("restored");
    assert_eq!(everything(&at("workshop.db")).await, whole);
    assert_eq!(everything(&before.expect("a copy of before")).await, more);

    // A damaged one is set aside as it is: that is when a copy is wanted most.
    let mut bytes = fs::read(at("workshop.db")).expect("the file");
    let middle = bytes.len() / 2;
    bytes[4096..middle].fill(0xa5);
    fs::write(at("workshop.db"), &bytes).expect("damaged");
    let said = Store::open(&at("workshop.db")).await.expect_err("damaged").to_string();
    assert!(
        said.contains("is damaged: `upright-swatch restore` puts a copy in its place"),
        "{said}"
    );
    let aside = backup::restore(&at("page.db"), &at("workshop.db")).await.expect("restored");
    assert_eq!(everything(&at("workshop.db")).await, whole);
    assert_eq!(fs::read(aside.expect("set aside")).expect("the file"), bytes);
}

#[tokio::test]
async fn open_files_hold_everything_and_come_back() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    drop(workshop(&at("workshop.db")).await);
    let written = archive::export(&at("workshop.db"), &at("open")).await.expect("written");
    let read = archive::import(&at("open"), &at("back.db")).await.expect("read");
    assert_eq!(written, read);
    assert_eq!(everything(&at("back.db")).await, everything(&at("workshop.db")).await);
    assert_eq!(
        Store::open(&at("back.db")).await.expect("open").shelf().await.expect("shelf").len(),
        4
    );
    let shelf = fs::read_to_string(at("open/tube.csv")).expect("a table");
    assert!(shelf.contains(",''-Maker,") && shelf.contains(r",\\N,"), "{shelf}");
    let again = archive::export(&at("workshop.db"), &at("open")).await.expect_err("not empty");
    assert!(again.to_string().contains("holds something already"), "{again}");

    // What is wrong is said with file and line, and nothing is made.
    let reading = fs::read_to_string(at("open/reading.csv")).expect("a table");
    let manifest = fs::read_to_string(at("open/workshop.json")).expect("a manifest");
    let cases = [
        ("reading.csv", reading.replacen(",dry,", ",damp,", 1), "reading.csv, line 2: "),
        (
            "reading.csv",
            reading.replacen(",dry,1,", ",dry,one,", 1),
            "repeat is \"one\", which is no number",
        ),
        (
            "reading.csv",
            reading.replacen("swatch_id", "square", 1),
            "line 1: the columns should be id,trial_id",
        ),
        (
            "reading.csv",
            reading.lines().next().unwrap_or_default().to_owned(),
            "holds 0 rows, and it says 2",
        ),
        (
            "workshop.json",
            manifest.replacen("workshop 1", "workshop 2", 1),
            "not a \"upright-swatch workshop 1\"",
        ),
        (
            "workshop.json",
            manifest.replacen("\"schema\": 2", "\"schema\": 9", 1),
            "a later release",
        ),
        ("workshop.json", "{".into(), "is not whole"),
    ];
    for (file, text, said) in cases {
        let kept = fs::read(at("open").join(file)).expect("a file");
        fs::write(at("open").join(file), text).expect("written");
        let refused =
            archive::import(&at("open"), &at("new.db")).await.expect_err(said).to_string();
        assert!(refused.contains(said), "{refused}\n  for {said}");
        assert!(!at("new.db").exists());
        fs::write(at("open").join(file), kept).expect("put back");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Whatever stands in a text comes back as it was.
    #[test]
    fn any_text_survives_the_open_files(notes in r#"[-=+@'\\N,"\r\n\t aé]{0,8}"#, left in prop::option::of(0.0..5000.0_f64)) {
        let folder = tempfile::tempdir().expect("a folder");
        let at = |name: &str| folder.path().join(name);
        let tube = Tube { name: "Any".into(), notes, left_ml: left, ..Tube::default() };
        let back = tokio::runtime::Runtime::new().expect("a runtime").block_on(async {
            let store = Store::open(&at("a.db")).await.expect("open");
            store.add_tube(&tube).await.expect("added");
            drop(store);
            archive::export(&at("a.db"), &at("open")).await.expect("written");
            archive::import(&at("open"), &at("b.db")).await.expect("read");
            Store::open(&at("b.db")).await.expect("open").shelf().await.expect("shelf")
        });
        prop_assert_eq!(&back[0].tube, &tube);
    }
}

/// Pictures stand beside the workshop, each once, and go along with every copy; one that was deleted is gone.
#[tokio::test]
async fn pictures_go_along_with_every_copy() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    let store = workshop(&at("workshop.db")).await;
    let trial = store.trials().await.expect("trials")[0].id;
    let add = async |content: &[u8], trial: TrialId| {
        let mut draft = store.picture_draft().expect("a draft");
        // In pieces, as it arrives.
        for piece in content.chunks(3) {
            draft.write(piece).expect("written");
        }
        let (sheet, source) = (1, ReadingSource::Photo);
        let (card, simulated) = (None, false);
        let (device, known_off) = (Some("A phone".to_owned()), Some(1.25));
        let new = NewPicture {
            trial,
            ending: "jpg",
            sheet,
            source,
            card,
            simulated,
            corners: None,
            device,
            known_off,
        };
        store.add_picture(draft, new).await.expect("kept")
    };
    let kept = add(b"a picture of a sheet", trial).await;
    assert_eq!(add(b"a picture of a sheet", trial).await, kept, "kept once");
    let other = add(b"another picture", trial).await;
    let other = store.picture(trial, other).await.expect("its row");
    store.delete_picture(&other).await.expect("deleted");
    assert!(store.picture_bytes(&other).is_err());
    // A folder that holds something else as well.
    fs::write(at("workshop.db.pictures").join("notes.txt"), "mine").expect("written");

    store.save_copy(&at("page.db")).await.expect("a copy");
    store.close().await;
    backup::copy_file(&at("workshop.db"), &at("line.db")).await.expect("a copy");
    backup::restore(&at("line.db"), &at("restored.db")).await.expect("restored");
    archive::export(&at("workshop.db"), &at("open")).await.expect("exported");
    archive::import(&at("open"), &at("imported.db")).await.expect("imported");
    for name in ["page.db", "line.db", "restored.db", "imported.db"] {
        let copy = Store::open(&at(name)).await.expect("open");
        let picture = copy.picture(trial, kept).await.expect("its row");
        let bytes = copy.picture_bytes(&picture).expect("its file");
        assert_eq!(bytes, b"a picture of a sheet", "{name}");
        copy.close().await;
        let files = fs::read_dir(at(&format!("{name}.pictures"))).expect("a folder").count();
        assert_eq!(files, 1, "{name}");
    }
    assert!(!at("restored.db.restored.pictures").exists(), "nothing is left behind");
}

#[tokio::test]
async fn what_is_no_workshop_is_left_alone_and_said_so() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    let refused = async |name: &str, said: &str| {
        let before = fs::read(at(name)).ok();
        let error = Store::open(&at(name)).await.expect_err(said).to_string();
        assert!(error.contains(said), "{error}\n  for {said}");
        assert_eq!(fs::read(at(name)).ok(), before, "{name} was changed");
    };
    fs::write(at("letter.txt"), "Dear all").expect("written");
    refused("letter.txt", "is not a workshop file of upright-swatch and was left alone").await;
    fs::write(at("long.txt"), "x".repeat(9000)).expect("written");
    refused("long.txt", "is not a workshop file").await;
    refused("no/such/workshop.db", "there is no folder").await;
    fs::create_dir(at("folder")).expect("made");
    refused("folder", "is a folder: give the path of a file, such as").await;
    let sqlite = async |name: &str, sql: &'static str| {
        let url = format!("sqlite:{}?mode=rwc", at(name).display());
        let pool = sqlx::SqlitePool::connect(&url).await.expect("open");
        sqlx::raw_sql(sql).execute(&pool).await.expect("done");
        pool.close().await;
    };
    sqlite("stamps.db", "CREATE TABLE stamp (id INTEGER PRIMARY KEY)").await;
    refused("stamps.db", "is not a workshop file").await;
    sqlite("other.db", "PRAGMA application_id = 7; CREATE TABLE stamp (id INTEGER)").await;
    refused("other.db", "is not a workshop file").await;
    drop(Store::open(&at("later.db")).await.expect("open"));
    let later =
        "INSERT INTO _sqlx_migrations (version, description, success, checksum, execution_time)
                 VALUES (99990101000000, 'to come', 1, x'00', 0)";
    sqlite("later.db", later).await;
    refused("later.db", "was made by a later release of upright-swatch and was left alone").await;

    // ActualMixture by a program that does not let go: said, and nothing hangs for long.
    let fixture = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/workshops/20261126090000.db");
    fs::copy(fixture, at("held.db")).expect("a workshop");
    let held = format!("sqlite:{}", at("held.db").display());
    let holder = sqlx::SqlitePool::connect(&held).await.expect("open");
    let mut connection = holder.acquire().await.expect("a connection");
    let hold = "PRAGMA journal_mode = DELETE; PRAGMA locking_mode = EXCLUSIVE; BEGIN EXCLUSIVE";
    sqlx::raw_sql(hold).execute(&mut *connection).await.expect("held");
    let error = Store::open(&at("held.db")).await.expect_err("held").to_string();
    assert!(error.contains("is locked by another program: close that program"), "{error}");
}
