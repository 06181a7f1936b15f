//! The readings file: round trips, and one clear message for each way it can be wrong.

use std::fmt::Write as _;

use formats::readings::{
    ExportRow, MAX_BYTES, MAX_ROWS, ReadingsFile, export, read, too_large, write,
};
use proptest::prelude::*;
use study::{Calibration, Measured, Mixture, RatioError, Reading, ReadingSource, TubeRef};

const HEAD: &str = "\
# upright-swatch readings 1
# illuminant: D65
# observer: 10
# white: Workshop Titanium
# basis: weight
";
const COLUMNS: &str =
    "tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat,L,a,b";

fn file(rows: &str) -> String {
    format!("{HEAD}{COLUMNS}\n{rows}")
}

fn export_all(text: &str) -> String {
    let file = read(text.as_bytes()).expect("a good file");
    let rows: Vec<ExportRow<'_>> = file
        .study
        .readings
        .iter()
        .zip(file.source.rows())
        .map(|(reading, row)| ExportRow { reading, source: Some(row), voided_since: false })
        .collect();
    export(&file.study, Some(file.source.head()), &rows)
}

#[test]
fn a_file_comes_out_byte_for_byte_as_it_came_in() {
    let odd = format!(
        "\u{feff}{HEAD}# our own remark, kept\n{COLUMNS},note\r\n\
         Workshop Titanium,Tidewell,PW6,,1,,,dry,paper,1,96.10,-0.50,2.0,\"quoted, though it need not\"\r\n\
         # between rows\n\
         Ultramarine,\"Harrow & Pike\",PB29,,1,,4.0,dry,paper,1,61,1.5,-38,\n\
         ,,,,,,,dry,black,1,5,0,0,bare\n# the end, without a line end"
    );
    for text in [file("A,M,PB29,,1,,,dry,paper,1,30,10,-40\n"), odd] {
        assert_eq!(export_all(&text), text);
    }
}

/// How far a ratio may be off goes along with its mixture, so that another workshop tells the same
/// intervals.
#[test]
fn ratio_errors_are_kept() {
    let rows = [
        ("0.0125", RatioError::Known(0.0125)),
        ("eye", RatioError::ByEye),
        ("", RatioError::AsStated),
    ];
    let lines: String = rows
        .iter()
        .zip(1..)
        .map(|((text, _), parts)| format!("A,M,PB29,,1,,{parts},dry,paper,1,50,5,-30,{text}\n"))
        .collect();
    let file = read(format!("{HEAD}{COLUMNS},ratio_error\n{lines}").as_bytes()).expect("good");
    let found: Vec<RatioError> = file.study.readings.iter().map(|it| it.ratio_error).collect();
    assert_eq!(found, rows.map(|(_, error)| error));
    let again = read(write(&file.study).as_bytes()).expect("what was written");
    assert_eq!(again.study.readings, {
        let mut readings = file.study.readings;
        for (reading, other) in readings.iter_mut().zip(&again.study.readings) {
            reading.line = other.line;
        }
        readings
    });
    for wrong in ["-1", "NaN", "by feel"] {
        let text =
            format!("{HEAD}{COLUMNS},ratio_error\nA,M,PB29,,1,,1,dry,paper,1,50,5,-30,{wrong}\n");
        let error = read(text.as_bytes()).expect_err("no ratio error").to_string();
        assert!(error.contains("ratio_error") && error.contains("such as 0.02"), "{error}");
    }
}

/// A reading from a picture says which, how far it may be off and what it rests on; a file that does not say the
/// last claims least.
#[test]
fn readings_from_pictures_come_back_as_they_went_out() {
    let columns = format!("{COLUMNS},source,picture,uncertainty,calibration");
    let rows = [
        ("1,photo,0a1b2c3d4e5f,2.5,calibrated", Some((2.5, Calibration::Calibrated))),
        ("2,scan,ffeeddccbbaa,9,", Some((9.0, Calibration::Uncalibrated))),
        ("3,scan,ffeeddccbbaa,3.25,guessed", Some((3.25, Calibration::Guessed))),
        ("4,meter,,,", None),
    ];
    let line = |text: &str| {
        let (repeat, rest) = text.split_once(',').unwrap_or_default();
        format!("A,M,PB29,,1,,4,dry,paper,{repeat},50,5,-30,{rest}\n")
    };
    let lines: String = rows.iter().map(|(text, _)| line(text)).collect();
    let file = read(format!("{HEAD}{columns}\n{lines}").as_bytes()).expect("good");
    for (reading, (text, expected)) in file.study.readings.iter().zip(&rows) {
        let from = reading.from_picture.as_ref();
        assert_eq!(from.map(|it| (it.uncertainty, it.calibration)), *expected, "{text}");
    }
    let again = read(write(&file.study).as_bytes()).expect("what was written");
    let from = |file: &ReadingsFile| {
        file.study.readings.iter().map(|it| it.from_picture.clone()).collect::<Vec<_>>()
    };
    assert_eq!(from(&again), from(&file));
    for (wrong, why) in [
        ("1,photo,0a1b2c3d4e5f,-1,calibrated", "ΔE00 from 0.01 to 100"),
        ("1,photo,0a1b2c3d4e5f,,calibrated", "ΔE00 from 0.01 to 100"),
        ("1,photo,0a1b2c3d4e5f,2,by feel", "calibrated, guessed or uncalibrated"),
    ] {
        let error = read(format!("{HEAD}{columns}\n{}", line(wrong)).as_bytes());
        let error = error.expect_err(wrong).to_string();
        assert!(error.contains(why), "{wrong}: {error}");
    }
    let missing = columns.replace(",uncertainty", "");
    let text = format!("{HEAD}{missing}\nA,M,PB29,,1,,4,dry,paper,1,50,5,-30,photo,x,calibrated\n");
    let error = read(text.as_bytes()).expect_err("a picture without its uncertainty").to_string();
    assert!(error.contains("“uncertainty” is missing"), "{error}");
}

#[test]
fn a_void_and_a_new_reading_keep_what_was_there() {
    let text = format!(
        "{HEAD}# remark\n{COLUMNS},note\n\
         A,M,PB29,,1,,,dry,paper,1,30.0,10,-40,first\n# between\nA,M,PB29,,1,,1,dry,paper,1,50,5,-30,second\n"
    );
    let mut file = read(text.as_bytes()).expect("a good file");
    file.study.readings[0].void = Some("streaks".into());
    let retake = Reading { void: None, repeat: 2, ..file.study.readings[0].clone() };
    let mut rows: Vec<ExportRow<'_>> = file
        .study
        .readings
        .iter()
        .zip(file.source.rows())
        .map(|(reading, row)| ExportRow {
            reading,
            source: Some(row),
            voided_since: reading.void.is_some(),
        })
        .collect();
    rows.push(ExportRow { reading: &retake, source: None, voided_since: false });
    let exported = export(&file.study, Some(file.source.head()), &rows);
    assert_eq!(
        exported,
        format!(
            "{HEAD}# remark\n{COLUMNS},note,void\n\
             A,M,PB29,,1,,,dry,paper,1,30.0,10,-40,first,streaks\n# between\n\
             A,M,PB29,,1,,1,dry,paper,1,50,5,-30,second,\n\
             A,M,PB29,,1,,,dry,paper,2,30,10,-40,,\n"
        )
    );
    let again = read(exported.as_bytes()).expect("our own export");
    assert_eq!(again.study.readings[0].void.as_deref(), Some("streaks"));
}

#[test]
fn mixtures_are_lists_of_tubes_however_they_are_written() {
    let text = format!(
        "{HEAD}{COLUMNS},with2,with2_parts,film\n\
         Workshop Titanium,Tidewell,PW6,,,,,dry,paper,,96,0,2,,,\n\
         A,M,PB29,Workshop Titanium,1,4,,dry,paper,1,60,0,-30,,,\n\
         A,,,B,3,1,4,wet,white,1,50,0,-30,C,0.5,thin\n"
    );
    let study = read(text.as_bytes()).expect("a good file").study;
    let names: Vec<&str> = study.tubes.iter().map(|tube| tube.name.as_str()).collect();
    assert_eq!(names, ["Workshop Titanium", "A", "B", "C"]);
    assert_eq!(study.white, Some(TubeRef(0)));
    let [white, tint, mix] = study.readings.as_slice() else { panic!("three readings") };
    assert_eq!(white.mixture, Mixture::neat(TubeRef(0)));
    assert_eq!(study.white_per_colour(&tint.mixture), Some(4.0));
    assert_eq!(study.white_per_colour(&mix.mixture), Some(4.0 / 4.5));
    assert_eq!((mix.repeat, mix.mixture.parts().len()), (1, 4));
    // The maker that the last row leaves out is the only one of that name.
    assert_eq!(study.tubes[1].maker, "M");
}

#[test]
fn every_kind_of_bad_input_names_its_line_and_column() {
    let good = "A,M,PB29,,1,,,dry,paper,1,30,10,-40\n";
    let spectral = format!(
        "{HEAD}{},{}\n",
        COLUMNS.replace(",L,a,b", ""),
        (38..=73).map(|nm| format!("R{nm}0")).collect::<Vec<_>>().join(",")
    );
    let bands = |first: &str| format!("A,M,PB29,,1,,,dry,paper,1,{first}{}\n", ",0.5".repeat(35));
    let cases = [
        (String::new(), "line 1, column 1: the file is empty"),
        (HEAD.to_owned(), "line 5, column 1: there is no header row"),
        (file(""), "line 7, column 1: there is no reading"),
        (file(good).replace(",state", ""), "line 6, column 12: the column “state” is missing"),
        (file(good).replace(",a,b", ",b,b"), "line 6, column 13 (b): the column “b” stands twice"),
        (
            file(good).replace(",L,a,b", ",l,x,y"),
            "line 6, column 13: the header row has neither L,a,b",
        ),
        (
            file(good).replace(",30,", ",3O,"),
            "line 7, column 11 (L): “3O” is not a number; write L*",
        ),
        (file(good).replace(",30,", ",NaN,"), "line 7, column 11 (L): NaN is out of range"),
        (file(good).replace(",10,", ",inf,"), "line 7, column 12 (a): inf is out of range"),
        (
            file(good).replace(",1,,,", ",-1,,,"),
            "line 7, column 5 (parts): -1 is out of range; write 0, or 0.000001 to 1000000",
        ),
        (file(good).replace(",1,,,", ",1e-9,,,"), "line 7, column 5 (parts): 1e-9 is out of range"),
        (
            file(&good.replace("A,", "\u{202e}A,")),
            "line 7, column 1 (tube): letter 1 is one that is not seen",
        ),
        (
            file(&good.replace(",M,", &format!(",{},", "M".repeat(201)))),
            "line 7, column 2 (maker): a name of 201 letters; at most 200",
        ),
        (
            file(good).replace("Workshop Titanium", "Workshop \u{200b}Titanium"),
            "line 4, column 9 (white): letter 10 is one that is not seen",
        ),
        (
            format!("{HEAD}{COLUMNS},simulated\n{}", good.replace('\n', ",no\n")),
            "line 7, column 14 (simulated): “no” stands where only “yes” or nothing can",
        ),
        (
            format!("{HEAD}{COLUMNS},source\n{}", good.replace('\n', ",guessed\n")),
            "line 7, column 14 (source): unknown source “guessed”; use meter, typed, file, eye",
        ),
        (
            file(&format!("{}\n", ",".repeat(600))),
            "line 7, column 1: this row has 601 cells, and at most 500 are read",
        ),
        (file(good).replace(",1,,,", ",0,,,"), "line 7, column 5 (parts): all parts are zero"),
        (
            file(good).replace("dry", "damp"),
            "line 7, column 8 (state): unknown state “damp”; use wet, dry or lifted",
        ),
        (file(good).replace("paper", "card"), "line 7, column 9 (backing): unknown backing “card”"),
        (file(good).replace(",1,30", ",0,30"), "line 7, column 10 (repeat): 0 is out of range"),
        (
            file(&good.replace(",,1,,,", ",A,1,1,,")),
            "line 7, column 4 (with): “A” is mixed with itself",
        ),
        (
            file(&good.replace(",,1,,,", ",,1,3,,")),
            "line 7, column 4 (with): parts are given, but no tube",
        ),
        (
            file(&good.replace("A,M,PB29", ",,")),
            "line 7, column 1 (tube): parts are given, but no tube",
        ),
        (
            file(&format!("# note\n\n{good}A,M\n")),
            "line 10, column 2: this row has 2 cells, and the header row has 13",
        ),
        (
            file(good).replace("# basis", "# white: Another\n# basis"),
            "line 5, column 9 (white): a second white, “Another”",
        ),
        (
            file(good).replace("D65", "D66"),
            "line 2, column 14 (illuminant): unknown illuminant “D66”; use D50, D65 or A",
        ),
        (file(good).replace("readings 1", "readings 2"), "line 1, column 1: this is version 2"),
        (
            file(good).replace("# basis: weight", "# scale_g: 0"),
            "line 5, column 11 (scale_g): 0 is out of range",
        ),
        (
            format!("{spectral}{}", bands("1.3")),
            "line 7, column 11 (R380): 1.3 is out of range; write a reflectance factor",
        ),
        (
            spectral.replace(",R730", "") + &bands("0.5"),
            "line 6, column 45: the column “R730” is missing",
        ),
        (
            file(
                "A,M,,,1,,,dry,paper,1,1,1,1\nA,N,,,1,,,dry,paper,1,1,1,1\nB,O,,A,1,1,,dry,paper,1,1,1,1\n",
            ),
            "line 9, column 4 (with): several makers have a tube called “A”; write it as NAME (MAKER)",
        ),
    ];
    for (text, expected) in cases {
        let error = read(text.as_bytes()).expect_err(expected).to_string();
        assert!(error.starts_with(expected), "{error}\n  for {expected}");
    }
    let mut latin = file(good).into_bytes();
    latin.extend(b"M\xfcller");
    let error = read(&latin).expect_err("not UTF-8").to_string();
    assert!(error.starts_with("line 8, column 2: this is not UTF-8"), "{error}");
    let error = too_large(200_000_000).expect("200 MB is too much").to_string();
    assert!(
        error.starts_with("line 1, column 1: the file has 200 MB, and at most 64 MB"),
        "{error}"
    );
    assert!(too_large(MAX_BYTES).is_none());
    let error = read(file(&good.repeat(MAX_ROWS + 1)).as_bytes()).expect_err("too many rows");
    assert!(error.to_string().contains("the file goes on beyond 150000 readings; split it"));
}

/// What was made up is never taken for a measurement, in whichever workshop it is read.
#[test]
fn where_a_reading_comes_from_goes_along() {
    let rows = [
        ("meter", "yes", ReadingSource::Meter, true),
        ("typed", "", ReadingSource::Typed, false),
        ("", "", ReadingSource::File, false),
        ("photo", "", ReadingSource::Photo, false),
    ];
    let lines = rows.map(|(source, simulated, ..)| {
        format!("A,M,PB29,,1,,,dry,paper,1,30,10,-40,{source},{simulated}\n")
    });
    let file = read(format!("{HEAD}{COLUMNS},source,simulated\n{}", lines.concat()).as_bytes());
    let study = file.expect("a good file").study;
    let wanted: Vec<_> = rows.iter().map(|row| (row.2, row.3)).collect();
    let again = read(write(&study).as_bytes()).expect("what was written").study;
    for study in [study, again] {
        let found: Vec<_> = study.readings.iter().map(|it| (it.source, it.simulated)).collect();
        assert_eq!(found, wanted);
    }
}

/// A white that is written in two ways is no white; the file is read, and says so.
#[test]
fn a_white_that_stands_in_no_row_is_named_with_the_likeliest() {
    let cases = [
        (
            "Titanium White,Tidewell,PW6,,1,,,dry,paper,1,96,0,2",
            "is it “Titanium White, PW6”? Then",
        ),
        ("Paper Light,Tidewell,,,1,,,dry,paper,1,95,1,3", "is it “Paper Light”? Then write"),
        ("Lemon,Tidewell,PY3,,1,,,dry,paper,1,90,-5,80", "add a row of the white alone"),
    ];
    for (row, advice) in cases {
        let text = file(&format!("A,M,PB29,,1,,4,dry,paper,1,60,1,-30\n{row}\n"))
            .replace("Workshop Titanium", "Titanum White");
        let warnings = read(text.as_bytes()).expect("it can be read").warnings;
        let [warning] = warnings.as_slice() else { panic!("one warning, not {warnings:?}") };
        let starts = warning.message.starts_with("no row reads the white “Titanum White” alone");
        assert!(starts && warning.message.contains(advice), "{}", warning.message);
    }
}

/// A cell that a spreadsheet would run is written so that it is not, also in a file that was imported
/// as it is; reading takes it back.
#[test]
fn no_exported_cell_is_run() {
    let text = format!(
        "{HEAD}{COLUMNS},note\n\
         =A1,-M,@PB29,,1,,,dry,paper,1,30,-10,-40,=HYPERLINK(1)\n"
    );
    let exported = export_all(&text);
    let row = exported.lines().last().expect("a row");
    assert_eq!(row, "'=A1,'-M,'@PB29,,1,,,dry,paper,1,30,-10,-40,'=HYPERLINK(1)");
    let label = |text: &str| read(text.as_bytes()).expect("a good file").study.tubes[0].clone();
    assert_eq!(label(&exported), label(&text));
    assert_eq!(export_all(&exported), exported);
}

/// Many makers of one name and many rows: one pass each; and a limit that no trial comes near.
#[test]
fn a_large_file_of_many_makers_is_read() {
    let of_makers = |makers: usize| {
        let rows = (0..100_000).fold(String::new(), |mut rows, at| {
            let _ = writeln!(rows, "A,M{},PB29,,1,,,dry,paper,1,30,10,-40", at % makers);
            rows
        });
        read(file(&rows).as_bytes()).map(|file| file.study)
    };
    let study = of_makers(1_000).expect("a good file");
    assert_eq!((study.tubes.len(), study.readings.len()), (1_000, 100_000));
    let refused = of_makers(20_000).expect_err("too many").to_string();
    assert_eq!(
        refused,
        "line 1007, column 1 (tube): the file goes on beyond 1000 tubes; split it, for example by maker"
    );
}

proptest! {
    /// No bytes at all make it stop; what it refuses, it refuses at a line of the file.
    #[test]
    fn rubbish_is_refused_at_a_line(
        junk in prop::collection::vec(any::<u8>(), 0..200),
        at in 0..400_usize,
        cut in 0..400_usize,
    ) {
        let good = file("A,M,PB29,,1,,,dry,paper,1,30,10,-40\nA,M,PB29,,1,,4,dry,paper,1,60,1,-30\n");
        let mut bytes = good.into_bytes();
        let at = at.min(bytes.len());
        let cut = (at + cut).min(bytes.len());
        bytes.splice(at..cut, junk);
        if let Err(error) = read(&bytes) {
            let lines = bytes.iter().filter(|byte| **byte == b'\n').count() + 2;
            prop_assert!((1..=lines).contains(&error.place.line), "{} of {}", error, lines);
            prop_assert!(error.place.column >= 1);
        }
    }

    /// Whatever is written is read again as the same study, to the last bit of every number.
    #[test]
    fn written_studies_are_read_back(
        rows in prop::collection::vec(
            (0.01..50.0_f64, 0.0..50.0_f64, 0.0..50.0_f64, (0.0..100.0_f64, -90.0..90.0_f64, -90.0..90.0_f64)),
            1..20,
        ),
        name in "[=@+A'-][A-Za-z ,\"äß=]{0,12}[A-Za-z]",
    ) {
        let quoted = name.replace('"', "\"\"");
        let body: String = rows
            .iter()
            .map(|(one, other, white, (l, a, b))| {
                format!("\"{quoted}\",M,PB29,B,{one},{other},{white},dry,paper,1,{l},{a},{b}\n")
            })
            .collect();
        let first = read(file(&body).as_bytes()).expect("a good file").study;
        let again = read(write(&first).as_bytes()).expect("our own file").study;
        prop_assert_eq!(first.readings.len(), again.readings.len());
        for (one, other) in first.readings.iter().zip(&again.readings) {
            prop_assert_eq!(&one.mixture, &other.mixture);
            let (Measured::Lab(a), Measured::Lab(b)) = (&one.measured, &other.measured) else {
                return Err(TestCaseError::fail("CIELAB in, CIELAB out"));
            };
            prop_assert_eq!(a, b);
        }
    }
}
