//! The shelf as CSV: what is written is read, and every line is answered before it is stored.

use formats::shelf::{Change, MAX_LINES, Verdict, preview, read, write};
use proptest::prelude::*;
use study::{Grade, Medium, Tube};

fn tube(maker: &str, name: &str) -> Tube {
    Tube {
        maker: maker.into(),
        line: "Heavy Body".into(),
        name: name.into(),
        codes: study::ColourIndexName::parse_list("PB29 PV23").expect("codes"),
        grade: Grade::Student,
        medium: Medium::Gouache,
        volume_ml: Some(60.0),
        left_ml: Some(12.5),
        density_g_ml: Some(1.28),
        opacity: "semi-opaque".into(),
        lightfastness: "I".into(),
        series: "3".into(),
        price: "7.40".into(),
        batch: "K 114, second".into(),
        bought_on: Some("2026-10-03".parse().expect("a day")),
        tested_on: None,
        notes: "said \"fine\"\nby two people".into(),
        look: study::TubeLook {
            mass_tone: Some("31.5 8 -24.6".parse().expect("a colour")),
            tint: None,
        },
    }
}

fn verdicts(text: &str, shelf: &[&Tube]) -> Vec<Verdict> {
    let rows = read(text.as_bytes()).expect("a shelf");
    preview(&rows, shelf).into_iter().map(|entry| entry.verdict).collect()
}

#[test]
fn a_shelf_is_written_and_read_back_the_same() {
    let shelf = [tube("Tidewell", "Canopy Ultramarine"), tube("Harrow & Pike", "Blue, \"deep\"")];
    let text = write(&shelf);
    let known: Vec<&Tube> = shelf.iter().collect();
    assert_eq!(verdicts(&text, &known), [Verdict::Same, Verdict::Same]);
    let added: Vec<Verdict> = shelf.iter().cloned().map(Verdict::Add).collect();
    assert_eq!(verdicts(&text, &[]), added);
}

#[test]
fn a_file_with_few_columns_changes_only_those() {
    let known = tube("Tidewell", "Canopy Ultramarine");
    let text =
        "name,maker,line,left_ml,shop\ncanopy ultramarine,TIDEWELL,heavy body,\"8,25\",ours\n";
    let found = verdicts(text, &[&known]).pop();
    let Some(Verdict::Correct { place: 0, tube, changes }) = found else {
        panic!("to be corrected, not {found:?}")
    };
    let change = |column, from: &str, to: &str| Change { column, from: from.into(), to: to.into() };
    assert_eq!(
        changes,
        [
            change("maker", "Tidewell", "TIDEWELL"),
            change("line", "Heavy Body", "heavy body"),
            change("name", "Canopy Ultramarine", "canopy ultramarine"),
            change("left_ml", "12.5", "8.25"),
        ]
    );
    assert_eq!((tube.codes, tube.notes), (known.codes, known.notes));
}

#[test]
fn each_bad_line_is_refused_by_itself_with_its_column() {
    let text = "maker,name,codes,grade,volume_ml,bought_on,notes\n\
                A,Good,PB29,artist,60,2026-10-03,\n\
                A,,PB29,artist,60,,\n\
                A,Code,Blue,artist,60,,\n\
                A,Grade,PB29,studio,60,,\n\
                A,Zero,PB29,artist,0,,\n\
                A,Word,PB29,artist,much,,\n\
                A,Day,PB29,artist,60,3.10.2026,\n\
                A,No such day,PB29,artist,60,2026-02-30,\n\
                A,Turned \u{202e}eulb,PB29,artist,60,,\n\
                A,Short\n\
                a,good,PB29,artist,60,,\n\
                A,-5 blue,PB29,artist,60,,\n\
                A,Fine,,,,,-5\n";
    let expected = [
        "",
        "name: empty; give the tube the name on its label",
        "codes: “Blue” is not a Colour Index name",
        "grade: unknown grade “studio”; use artist or student",
        "volume_ml: 0 ml; write more than 0",
        "volume_ml: “much” is not a number; write ml such as 60",
        "bought_on: unknown day “3.10.2026”; use a day as 2026-11-25",
        "bought_on: unknown day “2026-02-30”",
        "name: letter 8 is one that is not seen",
        "this row has 2 cells, and the header row has 7",
        "the same maker, line and name as line 2",
        "",
        "",
    ];
    let rows = read(text.as_bytes()).expect("a shelf");
    let entries = preview(&rows, &[]);
    assert_eq!(entries.len(), expected.len());
    for ((entry, expected), line) in entries.iter().zip(expected).zip(2..) {
        assert_eq!(entry.line, line);
        match &entry.verdict {
            Verdict::Refuse(why) => {
                assert!(!expected.is_empty() && why.starts_with(expected), "{why}")
            }
            other => assert!(expected.is_empty(), "{other:?} for {expected}"),
        }
    }
}

#[test]
fn a_file_that_is_no_shelf_is_refused_whole() {
    let long = format!("name\n{}", "A tube\n".repeat(50_000));
    let cases: [(&[u8], &str); 5] = [
        (b" \n", "line 1: the file is empty"),
        (
            b"maker,colour\nA,B\n",
            "line 1: the column “name” is missing from the header row; it has maker, colour",
        ),
        (b"name,name\nA,B\n", "line 1: the column “name” stands twice"),
        (b"name\nA\nM\xfc\n", "line 3: this is not UTF-8 text"),
        (long.as_bytes(), "line 5002: the file goes on beyond 5000 tubes; split it"),
    ];
    for (bytes, expected) in cases {
        let message = read(bytes).expect_err(expected).to_string();
        assert!(message.starts_with(expected), "{message}");
    }
    assert_eq!(MAX_LINES, 5_000);
}

proptest! {
    /// Any texts that the pages accept go out and come back.
    #[test]
    fn texts_survive_the_file(
        name in "[!-~][ -~äé]{0,40}[!-~]",
        notes in "[!-~][ -~ß\n\"]{0,60}[!-~]",
        left in prop::option::of(0.0..5000.0_f64),
    ) {
        let tube = Tube { name, notes, left_ml: left, ..Tube::default() };
        prop_assert_eq!(verdicts(&write([&tube]), &[]), [Verdict::Add(tube)]);
    }
}
