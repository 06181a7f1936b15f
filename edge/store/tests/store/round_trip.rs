//! Whatever a readings file says comes out of the records as it went in.

use formats::readings::{ExportRow, export, read};
use proptest::prelude::*;
use store::Store;
use tokio::runtime::Runtime;

/// One row as text: tube, other tube and parts, state, backing, repeat, colour, void, note.
fn any_row() -> impl Strategy<Value = String> {
    (
        prop::sample::select(vec![
            "Blue,Tidewell,PB29",
            "Blue,Nettlebed,PB29",
            "Old,,",
            "White,M,PW6",
        ]),
        prop::sample::select(vec![",1,,", ",1,,4", ",0.5,,2.25", "Yellow,3,1,", "Yellow,1,3,4.0"]),
        prop::sample::select(vec!["wet", "dry", "lifted"]),
        prop::sample::select(vec!["paper", "white", "black"]),
        1..5_u32,
        (0.0..100.0_f64, -90.0..90.0_f64, -90.0..90.0_f64),
        prop::sample::select(vec!["", "streaks", "\"wrong, tube\""]),
        "[a-z #]{0,6}",
    )
        .prop_map(|(tube, parts, state, backing, repeat, (l, a, b), void, note)| {
            format!("{tube},{parts},{state},{backing},{repeat},{l},{a},{b},{void},{note}x\n")
        })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn an_import_is_exported_byte_for_byte_and_means_the_same(
        rows in prop::collection::vec(any_row(), 1..30),
        geometry in prop::sample::select(vec!["d:8 included", "d:8 excluded", "45:0", "internal"]),
        remark in "[ -~]{0,20}",
    ) {
        let text = format!(
            "# upright-swatch readings 1\n# white: White\n# geometry: {geometry}\n# remark {}\n\
             tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat,L,a,b,void,note\n{}",
            remark.replace(':', " "),
            rows.concat(),
        );
        let file = read(text.as_bytes()).expect("a good file");
        let (trial, sources) = Runtime::new().expect("a runtime").block_on(async {
            let store = Store::in_memory().await.expect("open");
            let rows: Vec<&str> = file.source.rows().collect();
            let id = store.import("Any", &file.study, file.source.head(), &rows).await.expect("import");
            let sources = store.source_rows(id).await.expect("its rows");
            (store.trial(id).await.expect("read back"), sources)
        });
        let study = trial.study();
        prop_assert_eq!(study.protocol, file.study.protocol);
        prop_assert_eq!((&study.tubes, study.white), (&file.study.tubes, file.study.white));
        for (stored, read) in study.readings.iter().zip(&file.study.readings) {
            prop_assert_eq!(stored.mixture.ratio_key(), read.mixture.ratio_key());
            prop_assert_eq!(
                (stored.state, stored.backing, stored.repeat, &stored.measured, &stored.void),
                (read.state, read.backing, read.repeat, &read.measured, &read.void)
            );
        }
        let rows: Vec<ExportRow<'_>> = trial
            .readings
            .iter()
            .map(|stored| ExportRow {
                reading: &stored.reading,
                source: sources.get(&stored.id).map(String::as_str),
                voided_since: stored.voided_since,
            })
            .collect();
        prop_assert_eq!(export(&study, trial.source_head.as_deref(), &rows), text);
    }
}
