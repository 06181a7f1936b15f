//! What earlier releases stored is read by this one: a workshop file of every schema that has landed, and a
//! text of every version of the records within it.

use std::fs;
use std::path::{Path, PathBuf};

use bench::{BarShows, BenchEvent, Grain, Made, Tile, Word};
use plan::{CellNumber, PileRef, Source, StepRef};
use sheet::Ruling;
use store::{RuledChart, SidesHold, Store, TrialId, TypedChart, records};
use study::{Basis, ReadingSource, TubeRef};

use crate::common::star;

fn beside(name: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("tests").join(name)
}

fn golden(name: &str) -> String {
    fs::read_to_string(beside("golden").join(name)).expect("a golden text")
}

/// Each schema with the rows that its release could store; a later one holds the earlier ones' too.
fn rows() -> Vec<(i64, String)> {
    let first = "
        INSERT INTO tube (id, maker, line, name, codes, grade, medium, volume_ml) VALUES
          (1, 'Tidewell', 'Heavy Body', 'Canopy Ultramarine', 'PB29', 'artist', 'acrylic', 60.0),
          (2, 'Tidewell', 'Heavy Body', 'Lantern Yellow', 'PY74', 'artist', 'acrylic', 60.0),
          (3, 'Tidewell', 'Heavy Body', 'Workshop Titanium', 'PW6', 'artist', 'acrylic', NULL);
        INSERT INTO trial (id, name, illuminant, observer, basis, geometry, sheen, repeats) VALUES
          (1, 'Blue against yellow', 'D65', '10', 'weight', 'd:8 included', 'satin', 3);
        INSERT INTO trial_tube VALUES (1, 0, 1, 'tested'), (1, 1, 2, 'reference'), (1, 2, 3, 'white');
        INSERT INTO swatch VALUES (1, 1, 1, 'paper', 'full'), (2, 1, 2, 'black', 'thin');
        INSERT INTO swatch_part VALUES (1, 0, 1.0), (1, 2, 4.0);
        INSERT INTO reading (id, trial_id, swatch_id, state, repeat, lab, illuminant, observer, instrument)
          VALUES (1, 1, 1, 'dry', 1, '[61.5,-1.25,-38]', 'D65', '10', 'by hand'),
                 (2, 1, 1, 'wet', 1, '[61,-1,-38]', 'D65', '10', 'file');
        INSERT INTO reading (id, trial_id, swatch_id, state, repeat, spectrum, instrument)
          VALUES (3, 1, 1, 'dry', 2, json('[' || substr(replace(hex(zeroblob(36)), '00', ',0.5'), 2) || ']'),
                  'simulated meter');
        INSERT INTO void (reading_id, reason, from_source) VALUES (2, 'streaks', 0);";
    let label = "UPDATE tube SET left_ml = 12.5, notes = 'for the roof' WHERE id = 1;";
    let plan = format!(
        "INSERT INTO palette (id, name, school, version) VALUES (1, 'Workshop', 'free', 1);
         INSERT INTO palette_tube VALUES (1, 0, 'colour', 2), (1, 1, 'white', 3);
         INSERT INTO trial_plan (trial_id, palette_id, paper, design, plan)
           VALUES (1, 1, 'A4', '{}', '{}');",
        golden("design-1.json").replace('\'', "''"),
        golden("plan-1.json").replace('\'', "''")
    );
    let log = "INSERT INTO deed (id, trial_id, deed, after_reading)
                 VALUES (1, 1, '{\"Laid\":{\"swatch\":1}}', 0), (2, 1, '{\"Skipped\":{\"swatch\":2}}', 3);
               UPDATE deed SET batch = id;
               INSERT INTO deed_void (deed_id, reason) VALUES (2, 'taken back at once');";
    let kept_for_good = "
        INSERT INTO reading (id, trial_id, swatch_id, state, repeat, lab, illuminant, observer, instrument,
                             source, simulated, geometry, repeatability)
          VALUES (4, 1, 1, 'dry', 3, '[60,-1,-38]', 'D65', '10', 'bench meter', 'meter', 0,
                  'd:8 included', 0.05);
        UPDATE trial SET put_away_at = '2026-11-26T10:00:00Z', revision = revision + 1 WHERE id = 1;";
    let printed = format!(
        "INSERT INTO trial (id, name, illuminant, observer, basis, geometry, sheen, repeats) VALUES
           (2, 'Planned twice', 'D65', '10', 'weight', 'd:8 included', 'satin', 3);
         INSERT INTO trial_tube VALUES (2, 0, 1, 'tested'), (2, 1, 2, 'reference'), (2, 2, 3, 'white');
         INSERT INTO trial_plan (trial_id, paper, design, plan, sheets, layout, edition)
           VALUES (2, 'A4', '{}', '{}', '{}', 1, 2);",
        golden("design-1.json").replace('\'', "''"),
        golden("plan-1.json").replace('\'', "''"),
        golden("sheets-1.json").replace('\'', "''")
    );
    vec![
        (20_261_125_000_000, first.to_owned()),
        (20_261_125_120_000, label.to_owned()),
        (20_261_125_180_000, plan),
        (20_261_125_200_000, log.to_owned()),
        (20_261_126_090_000, kept_for_good.to_owned()),
        (20_261_128_090_000, printed),
        (20_261_128_123_000, "UPDATE trial SET by_eye = 1 WHERE id = 2;".to_owned()),
        (
            20_261_128_140_000,
            "INSERT INTO preset (id, name, form) VALUES (1, 'My greens', '{\"repeats\":\"0\"}');
             INSERT INTO setting VALUES ('warm', 'red-leaning');"
                .to_owned(),
        ),
        (
            20_261_128_220_000,
            format!(
                "INSERT INTO picture (id, trial_id, content, ending, bytes, sheet, source, simulated, adjusted)
                   VALUES (1, 1, '{0}', 'jpg', 1000, 1, 'photo', 0, '{{\"left_out\":[2]}}');
                 INSERT INTO reading (id, trial_id, swatch_id, state, repeat, lab, illuminant, observer,
                                      instrument, source, picture, uncertainty, calibration)
                   VALUES (5, 1, 1, 'dry', 4, '[60,-1,-38]', 'D65', '10', 'picture', 'photo',
                           '0a0a0a0a0a0a', 2.5, 'calibrated');",
                "0a".repeat(32)
            ),
        ),
        (
            20_261_128_230_000,
            format!(
                "INSERT INTO session VALUES ('{0}', '{{\"device\":\"Phone\"}}', 4102444800);",
                "0b".repeat(32)
            ),
        ),
        (
            20_261_129_000_000,
            format!(
                "INSERT INTO trial (id, name, illuminant, observer, basis, geometry, sheen, repeats) VALUES
                   (3, 'From the drawer', 'D65', '10', 'eye', 'd:8 included', 'satin', 1);
                 INSERT INTO ruled_chart VALUES (3, '{}', 1);
                 INSERT INTO picture (id, trial_id, content, ending, bytes, sheet, source, simulated, corners)
                   VALUES (2, 3, '{}', 'png', 1000, 1, 'scan', 0, '[[10,20],[900,21],[901,600],[11,599]]');",
                golden("chart-1.json").replace('\'', "''"),
                "0c".repeat(32)
            ),
        ),
        (
            20_261_129_120_000,
            "UPDATE picture SET device = 'A flatbed', known_off_de00 = 1.5 WHERE trial_id = 3;".into(),
        ),
        (20_261_129_150_000, "UPDATE tube SET density_g_ml = 1.31 WHERE id = 1;".into()),
        (20_261_201_120_000, "UPDATE picture SET corners = NULL WHERE trial_id = 1;".into()),
        (20_261_202_060_000, "UPDATE tube SET chosen_tint = '63.4 -10.6 10.9' WHERE id = 1;".into()),
    ]
}

/// Makes the file of a schema that has landed; run once for each new one, and never again:
/// `cargo test -p store --test store make_the_newest -- --ignored`.
#[tokio::test]
#[ignore = "makes a fixture"]
async fn make_the_newest() {
    for (version, _) in rows() {
        let path = beside("workshops").join(format!("{version}.db"));
        if path.exists() {
            continue;
        }
        let url = format!("sqlite:{}?mode=rwc", path.display());
        let pool = sqlx::SqlitePool::connect(&url).await.expect("open");
        for (step, sql) in rows().into_iter().filter(|(of, _)| *of <= version) {
            sqlx::migrate!("./migrations").run_to(step, &pool).await.expect("made");
            sqlx::raw_sql(sqlx::AssertSqlSafe(sql)).execute(&pool).await.expect("filled");
        }
        pool.close().await;
    }
}

#[tokio::test]
async fn a_file_of_every_schema_is_opened_and_brought_up_to_date() {
    let migrations = sqlx::migrate!("./migrations");
    let known: Vec<i64> = migrations.iter().map(|migration| migration.version).collect();
    let kept: Vec<i64> = rows().into_iter().map(|(version, _)| version).collect();
    assert_eq!(known, kept, "a new schema needs its rows here and a fixture");
    for version in kept {
        let folder = tempfile::tempdir().expect("a folder");
        let path = folder.path().join("workshop.db");
        fs::copy(beside("workshops").join(format!("{version}.db")), &path).expect("a fixture");
        let store = Store::open(&path).await.expect("brought up to date");
        let trial = store.trial(TrialId(1)).await.expect("its trial");
        let told: Vec<_> = trial
            .readings
            .iter()
            .map(|it| (it.reading.source, it.reading.simulated, it.reading.void.as_deref()))
            .collect();
        let typed = (ReadingSource::Typed, false, None);
        let of_file = (ReadingSource::File, false, Some("streaks"));
        assert_eq!(told[..2], [typed, of_file]);
        // The simulated meter of the earlier releases is known by its name.
        assert_eq!(told[2], (ReadingSource::Meter, true, None));
        let lab = trial.readings[0].reading.measured.lab(trial.circumstances.conditions);
        assert_eq!(lab.expect("a colour"), colour::Lab::new(61.5, -1.25, -38.0));
        assert!(trial.circumstances.meter_known);
        assert_eq!(trial.put_away, version >= 20_261_126_090_000);
        let shelf = store.shelf().await.expect("shelf");
        assert_eq!(shelf[0].tube.notes.is_empty(), version < 20_261_125_120_000);
        assert_eq!(shelf[0].tube.density_g_ml.is_some(), version >= 20_261_129_150_000);
        let look = shelf[0].tube.look.tint.map(|it| it.to_string());
        assert_eq!(look.as_deref(), (version >= 20_261_202_060_000).then_some("63.4 -10.6 10.9"));
        assert_eq!(trial.plan.is_some(), version >= 20_261_125_180_000);
        // What was printed before it was stored is laid out as it was then.
        let sheets = trial.plan.as_ref().map_or(0, |plan| plan.sheets.len());
        assert_eq!(sheets, usize::from(version >= 20_261_125_180_000), "{version}");
        let pictures = store.pictures(TrialId(1)).await.expect("pictures");
        let left_out = pictures.first().map(|it| it.adjusted.left_out.iter().copied().collect());
        assert_eq!(left_out, (version >= 20_261_128_220_000).then(|| vec![2]));
        let from = trial.readings.last().and_then(|it| it.reading.from_picture.as_ref());
        assert_eq!(from.map(|it| it.uncertainty), left_out.map(|_| 2.5));
        let phones = store.sessions().await.expect("phones").len();
        assert_eq!(phones, usize::from(version >= 20_261_128_230_000));
        let drawer = store.trial(TrialId(3)).await.ok().and_then(|trial| trial.chart);
        assert_eq!(drawer, (version >= 20_261_129_000_000).then(chart));
        let scanned = store.pictures(TrialId(3)).await.expect("pictures");
        let device = scanned.first().and_then(|it| it.device.clone().zip(it.known_off));
        let named = version >= 20_261_129_120_000;
        assert_eq!(device, named.then(|| ("A flatbed".to_owned(), 1.5)));
        let printed = store.trial(TrialId(2)).await.ok().and_then(|trial| trial.plan);
        assert_eq!(printed.is_some(), version >= 20_261_128_090_000);
        if let Some(printed) = printed {
            assert_eq!(
                (printed.edition, &*printed.sheets),
                (2, &star("Golden", [1, 2, 3].map(store::TubeId)).plan.sheets.to_vec())
            );
        }
        assert_eq!(trial.log.len(), if version >= 20_261_125_200_000 { 2 } else { 0 });
        // What was there before is kept beside it, as it was.
        let before = folder.path().join(format!("workshop.db.before-{version}"));
        assert_eq!(before.exists(), Some(&version) != known.last(), "{version}");
    }
}

/// A chart that was ruled by hand.
fn chart() -> RuledChart {
    RuledChart {
        ruling: Ruling { rows: 2, columns: 3, side_mm: 20.0, gap_mm: [5.0, 8.0] },
        typed: TypedChart {
            hold: SidesHold::Ladders,
            lines_stand: true,
            lines: vec![["Canopy Ultramarine".into(), "Lantern Yellow".into()]],
            across: vec!["Lantern Yellow".into()],
            steps: "3:1, 1:1".into(),
            white: "Workshop Titanium".into(),
            with_white: "1".into(),
            basis: "eye".into(),
            others: [(4, "nothing".into())].into(),
        },
        numbers: vec![Some(CellNumber(1)), None],
    }
}

/// Every kind of bench event.
fn events() -> Vec<BenchEvent> {
    let parts = vec![(Source::Tube(TubeRef(0)), 0.25), (Source::Pile(PileRef(3)), 1.5)];
    vec![
        BenchEvent::Made(Made { step: StepRef(2), how: Basis::Weight, parts, simulated: true }),
        BenchEvent::Laid { swatch: CellNumber(7) },
        BenchEvent::Skipped { swatch: CellNumber(8) },
        BenchEvent::Dry { swatches: vec![CellNumber(7), CellNumber(9)] },
        BenchEvent::Lifted { swatch: CellNumber(7) },
        BenchEvent::Bar { swatch: CellNumber(7), shows: BarShows::Plain },
        BenchEvent::Grain { swatch: CellNumber(7), grain: Grain::Slight },
        BenchEvent::Noted {
            swatch: CellNumber(7),
            words: vec![Word::Streaky],
            note: "thin".into(),
        },
        BenchEvent::Spoilt { swatch: CellNumber(7), reason: "streaks".into() },
        BenchEvent::RatioEstimated {
            swatch: CellNumber(7),
            parts: vec![(TubeRef(0), 0.25), (TubeRef(1), 0.75)],
            sigma: 0.1,
        },
        BenchEvent::Tile { tile: Tile::White, bands: vec![0.5; 3], simulated: false },
    ]
}

/// A type of the core may change, what stands in a workshop file does not: where one of these texts reads or
/// is written otherwise, `records::VERSION` rises, and the older form gets its own way of reading.
#[test]
fn records_are_written_and_read_as_their_version_says() {
    let tubes = [1, 2, 3].map(store::TubeId);
    let planned = star("Golden", tubes).plan;
    let texts = [
        ("design-4.json", serde_json::to_string(&planned.design)),
        ("plan-4.json", serde_json::to_string(&planned.plan)),
        ("sheets-4.json", serde_json::to_string(&planned.sheets)),
        ("deeds-4.json", serde_json::to_string(&events())),
        ("chart-1.json", serde_json::to_string(&chart())),
    ];
    for (name, text) in texts {
        let text = text.expect("a text");
        if std::env::var_os("WRITE_GOLDEN").is_some() {
            fs::write(beside("golden").join(name), &text).expect("written");
        }
        assert_eq!(text, golden(name), "{name}");
    }
    // The second form asked no question, and had no dabs.
    for version in [2, 3, 4] {
        let text = |what: &str| golden(&format!("{what}-{version}.json"));
        let design = records::read_design(version, &text("design")).expect("read");
        assert_eq!(design, *planned.design);
        assert_eq!(records::read_plan(version, &text("plan")).expect("read"), *planned.plan);
        let sheets = records::read_sheets(version, &text("sheets")).expect("read");
        assert_eq!(sheets, *planned.sheets);
    }
    // A recipe keeps its mixture and its aim.
    let mixture = study::Mixture::of(&[(TubeRef(0), 1.0), (TubeRef(1), 3.0)]);
    let recipe = plan::Design {
        charts: vec![plan::Chart::Chosen(vec![mixture])],
        aim: "tube=12&from=1&most=3".into(),
        ..(*planned.design).clone()
    };
    let text = serde_json::to_string(&recipe).expect("a text");
    assert_eq!(records::read_design(records::VERSION, &text).expect("read"), recipe);
    let sheets = (*planned.sheets).clone();
    // The first form knew no cloth: its designs and plans read as ones that never wipe.
    let mut design = (*planned.design).clone();
    design.pace.wipe = 0.0;
    assert_eq!(records::read_design(1, &golden("design-1.json")).expect("read"), design);
    let first = records::read_plan(1, &golden("plan-1.json")).expect("read");
    assert!(first.steps.iter().all(|step| !step.wipe));
    assert_eq!(
        (first.swatches, first.piles.len()),
        (planned.plan.swatches.clone(), planned.plan.piles.len())
    );
    assert_eq!(records::read_sheets(1, &golden("sheets-1.json")).expect("read"), sheets);
    // As they stood before simulated devices were told apart.
    let golden_deeds = golden("deeds-1.json").replace(",\"simulated\":false", "");
    let read: Vec<serde_json::Value> = serde_json::from_str(&golden_deeds).expect("a list");
    for (text, event) in read.iter().zip(events()) {
        assert_eq!(records::read_event(1, &text.to_string()).expect("read"), event);
    }
    assert!(records::read_event(4, "{}").is_err());
}
