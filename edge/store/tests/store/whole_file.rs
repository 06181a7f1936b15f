//! The file as a whole: opened, copied, restored, and written as open files and back.

use std::fs;
use std::path::Path;
use std::process::Command;

use colour::Reflectance;
use proptest::prelude::*;
use store::{
    Hold, How, NewPicture, PictureId, Store, StoredSession, TrialId, archive, backup, session_key,
};
use study::{Measured, ReadingSource, State, Tube};

use crate::common::{meter, record, started, tube};

/// Every row of every table but that of phones, as text.
async fn everything(path: &Path) -> String {
    let url = format!("sqlite:{}?mode=ro", path.display());
    let pool = sqlx::SqlitePool::connect(&url).await.expect("open");
    let names: Vec<String> = sqlx::query_scalar(
        "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT IN ('_sqlx_migrations', 'session')
         ORDER BY name",
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
    let key = session_key("a cookie");
    let phone = StoredSession { key, data: "{}".into(), expires_at: 4_102_444_800 };
    store.put_session(&phone).await.expect("paired");
    store
}

/// Nobody gets in by a copy: no page of it holds what is kept of a phone.
fn holds_no_phone(path: &Path) {
    let bytes = fs::read(path).expect("a copy");
    let key = session_key("a cookie");
    assert!(!bytes.windows(key.len()).any(|it| it == key.as_bytes()), "{}", path.display());
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
    holds_no_phone(&at("page.db"));
    holds_no_phone(&at("line.db"));
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
        // By another name it is the same file.
        fs::hard_link(at("workshop.db"), at("same.db")).expect("linked");
        let same = Hold::of(&at("same.db")).await.expect_err("in use").to_string();
        assert!(same.contains("same.db is open in another upright-swatch already"), "{same}");
        let held = backup::restore(&at("page.db"), &at("workshop.db")).await.expect_err("in use");
        assert!(held.to_string().contains("is open in another upright-swatch already"), "{held}");
    }
    store.close().await;
    let before = backup::restore(&at("page.db"), &at("workshop.db")).await.expect("restored");
    assert_eq!(everything(&at("workshop.db")).await, whole);
    assert_eq!(everything(&before.before.expect("a copy of before")).await, more);

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
    assert_eq!(fs::read(aside.before.expect("set aside")).expect("the file"), bytes);
}

#[tokio::test]
async fn open_files_hold_everything_and_come_back() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    drop(workshop(&at("workshop.db")).await);
    let written = archive::export(&at("workshop.db"), &at("open")).await.expect("written");
    let read = archive::import(&at("open"), &at("back.db")).await.expect("read");
    assert_eq!(written, read);
    assert!(!at("open/session.csv").exists(), "a phone left with the archive");
    holds_no_phone(&at("back.db"));
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

/// Sends a picture, in pieces as it arrives.
async fn add_picture(store: &Store, content: &[u8], trial: TrialId) -> PictureId {
    let mut draft = store.picture_draft().expect("a draft");
    for piece in content.chunks(3) {
        draft.write(piece).expect("written");
    }
    let new = NewPicture {
        trial,
        ending: "jpg",
        sheet: 1,
        source: ReadingSource::Photo,
        card: None,
        simulated: false,
        corners: None,
        device: Some("A phone".to_owned()),
        known_off: Some(1.25),
    };
    store.add_picture(draft, new).await.expect("kept")
}

/// Pictures stand beside the workshop, each once, and go along with every copy; one that was deleted is gone.
#[tokio::test]
async fn pictures_go_along_with_every_copy() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    let store = workshop(&at("workshop.db")).await;
    let trial = store.trials().await.expect("trials")[0].id;
    let kept = add_picture(&store, b"a picture of a sheet", trial).await;
    assert_eq!(add_picture(&store, b"a picture of a sheet", trial).await, kept, "kept once");
    let other = add_picture(&store, b"another picture", trial).await;
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
    let only = |name: &str| {
        let mut files = fs::read_dir(at(&format!("{name}.pictures"))).expect("a folder");
        let file = files.next().expect("a picture").expect("its name").path();
        assert!(files.next().is_none(), "{name}");
        file
    };
    for name in ["page.db", "line.db", "restored.db", "imported.db"] {
        let copy = Store::open(&at(name)).await.expect("open");
        let picture = copy.picture(trial, kept).await.expect("its row");
        let bytes = copy.picture_bytes(&picture).expect("its file");
        assert_eq!(bytes, b"a picture of a sheet", "{name}");
        copy.close().await;
        only(name);
        // What happens to one of them happens to no other.
        fs::write(only(name), "scratched").expect("written");
    }
    assert!(!at("restored.db.restored.pictures").exists(), "nothing is left behind");

    // A copy says what is not whole, whatever is wrong with it.
    let whole = backup::copy_file(&at("workshop.db"), &at("whole.db")).await.expect("a copy");
    assert!(whole.is_whole() && whole.whole == 1, "{whole:?}");
    for (name, damage) in
        [("scratched", "damaged"), ("", "damaged"), ("gone", "missing"), ("link", "missing")]
    {
        let _ = fs::remove_file(only("whole.db"));
        let file = at("whole.db.pictures").join(only("page.db").file_name().expect("a name"));
        match name {
            "gone" => {}
            "link" => std::os::unix::fs::symlink("/dev/zero", &file).expect("linked"),
            _ => fs::write(&file, name).expect("written"),
        }
        let to = at(&format!("copy of {name}.db"));
        let told = backup::copy_file(&at("whole.db"), &to).await.expect("its records are copied");
        assert!(told.to_string().starts_with(&format!("1 picture {damage}: ")), "{told}");
        let copied =
            at(&format!("copy of {name}.db.pictures")).join(file.file_name().expect("a name"));
        assert!(!told.is_whole() && !copied.exists());
        let restored = backup::restore(&at("whole.db"), &at(&format!("of {name}.db"))).await;
        assert!(!restored.expect("restored").pictures.is_whole(), "{name}");
        fs::write(&file, "a picture of a sheet").unwrap_or_default();
    }
}

/// A picture is sent again while it is deleted: whoever is told that it is kept finds its file.
#[tokio::test(flavor = "multi_thread", worker_threads = 4)]
async fn a_picture_that_is_sent_while_it_is_deleted_is_kept_whole_or_not_at_all() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path().join("workshop.db");
    let store = workshop(&path).await;
    let trial = store.trials().await.expect("trials")[0].id;
    for round in 0..25 {
        let first = add_picture(&store, b"a picture", trial).await;
        let first = store.picture(trial, first).await.expect("its row");
        let (deleting, adding) = (store.clone(), store.clone());
        let deleted = tokio::spawn(async move { deleting.delete_picture(&first).await });
        let added = tokio::spawn(async move { add_picture(&adding, b"a picture", trial).await });
        deleted.await.expect("ran").expect("deleted");
        added.await.expect("ran");
        for picture in store.pictures(trial).await.expect("pictures") {
            if !picture.is_deleted {
                assert!(store.picture_bytes(&picture).is_ok(), "round {round}");
                store.delete_picture(&picture).await.expect("deleted");
            }
        }
        assert_eq!(
            fs::read_dir(folder.path().join("workshop.db.pictures")).expect("a folder").count(),
            0
        );
    }
    // What a program that was killed left half received is gone at the next start; nothing else is.
    let folder = folder.path().join("workshop.db.pictures");
    for name in [".tmpAbC123", ".unfinished-x", "notes.txt"] {
        fs::write(folder.join(name), "half").expect("written");
    }
    store.close().await;
    let _hold = Hold::of(&path).await.expect("nobody has it");
    let left = fs::read_dir(&folder).expect("a folder").map(|it| it.expect("a file").file_name());
    assert_eq!(left.collect::<Vec<_>>(), ["notes.txt"]);
}

/// Whoever hands somebody a copy may have put something into it.
#[tokio::test]
async fn nothing_of_a_tampered_copy_is_put_in_place() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    workshop(&at("workshop.db")).await.close().await;
    let cases = [
        (
            "CREATE TRIGGER more AFTER INSERT ON deed BEGIN DELETE FROM void; END",
            "its trigger more is none of a workshop's",
        ),
        ("DROP TRIGGER reading_is_not_changed", "its trigger reading_is_not_changed is gone"),
        (
            "DROP TRIGGER reading_is_not_changed;
             CREATE TRIGGER reading_is_not_changed BEFORE UPDATE ON reading BEGIN SELECT 1; END",
            "its trigger reading_is_not_changed was changed",
        ),
        (
            "CREATE VIEW shelf AS WITH RECURSIVE it(n) AS (SELECT 1 UNION ALL SELECT n FROM it) SELECT n FROM it",
            "its view shelf is none of a workshop's",
        ),
        ("UPDATE _sqlx_migrations SET checksum = x'00' WHERE version > 20261129000000", "its history was changed"),
        (
            "ALTER TABLE _sqlx_migrations RENAME TO steps;
             CREATE VIEW _sqlx_migrations AS WITH RECURSIVE it(n) AS (SELECT 1 UNION ALL SELECT n FROM it)
               SELECT n AS version, 1 AS success FROM it",
            "is not a workshop file",
        ),
    ];
    for (at_place, (sql, said)) in cases.into_iter().enumerate() {
        let (copy, to) = (at(&format!("{at_place}.db")), at(&format!("to {at_place}.db")));
        backup::copy_file(&at("workshop.db"), &copy).await.expect("a copy");
        let pool =
            sqlx::SqlitePool::connect(&format!("sqlite:{}", copy.display())).await.expect("open");
        sqlx::raw_sql(sql).execute(&pool).await.expect("tampered");
        pool.close().await;
        let refused = backup::restore(&copy, &to).await.expect_err(said).to_string();
        assert!(refused.contains(said), "{refused}");
        assert!(!to.exists(), "{said}");
    }
    // A picture's name that leads elsewhere reads nothing there and deletes nothing there.
    let copy = at("named.db");
    backup::copy_file(&at("workshop.db"), &copy).await.expect("a copy");
    let pool =
        sqlx::SqlitePool::connect(&format!("sqlite:{}", copy.display())).await.expect("open");
    fs::write(at("mine.jpg"), "mine").expect("written");
    let away = format!("{:/<64}", format!("../{}", at("mine").display()));
    let row = "INSERT INTO picture (trial_id, content, ending, bytes, sheet, source, simulated)
               VALUES (1, ?, 'jpg', 4, 1, 'photo', 0)";
    sqlx::query(row).bind(&away[..64]).execute(&pool).await.expect("named");
    pool.close().await;
    let refused =
        backup::restore(&copy, &at("to.db")).await.expect_err("a strange name").to_string();
    assert!(refused.contains("holds a name of a picture that cannot be read"), "{refused}");
    assert!(!at("to.db").exists());
    // A damaged workshop is not set aside for a copy that is refused.
    let mut bytes = fs::read(at("workshop.db")).expect("the file");
    let middle = bytes.len() / 2;
    bytes[4096..middle].fill(0xa5);
    fs::write(at("to.db"), &bytes).expect("damaged");
    backup::restore(&copy, &at("to.db")).await.expect_err("a strange name");
    assert!(fs::read(at("to.db")).is_ok_and(|kept| kept == bytes), "it was moved");
    fs::remove_file(at("to.db")).expect("removed");
    let store = Store::open(&copy).await.expect("open");
    let picture = store.pictures(TrialId(1)).await.expect("pictures").remove(0);
    assert!(
        store.picture_bytes(&picture).is_err() && store.delete_picture(&picture).await.is_err()
    );
    assert!(at("mine.jpg").exists());

    // Devices and pipes never end.
    for link in ["/dev/zero", "/dev/null"] {
        let name = at("device.db");
        let _ = fs::remove_file(&name);
        std::os::unix::fs::symlink(link, &name).expect("linked");
        let refused = backup::restore(&name, &at("to.db")).await.expect_err("a device").to_string();
        assert!(refused.contains("is no ordinary file and was left alone"), "{refused}");
    }
    archive::export(&at("workshop.db"), &at("open")).await.expect("written");
    fs::remove_file(at("open/tube.csv")).expect("removed");
    std::os::unix::fs::symlink("/dev/zero", at("open/tube.csv")).expect("linked");
    let refused =
        archive::import(&at("open"), &at("to.db")).await.expect_err("a device").to_string();
    assert!(
        refused.contains("tube.csv, line 1: the file cannot be read (it is no ordinary file)"),
        "{refused}"
    );
}

/// Debian's own tool, which is older than the SQLite that is built in, finds a workshop with pictures sound.
#[tokio::test]
async fn another_sqlite_finds_the_file_sound() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path().join("workshop.db");
    let store = workshop(&path).await;
    let trial = store.trials().await.expect("trials")[0].id;
    add_picture(&store, b"a picture of a sheet", trial).await;
    store.close().await;
    let check = Command::new("sqlite3").arg(&path).arg("PRAGMA integrity_check").output();
    let said = check.expect("sqlite3 is installed by make test").stdout;
    assert_eq!(String::from_utf8_lossy(&said).trim(), "ok");
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
