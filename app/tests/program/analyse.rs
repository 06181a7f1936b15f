//! `upright-swatch analyse` as another program would call it.

use std::fs;
use std::path::Path;
use std::process::{Command, Output};

use serde_json::Value;

const FILE: &str = "\
# upright-swatch readings 1
# illuminant: D65
# observer: 10
# white: Workshop Titanium
# basis: weight
tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat,L,a,b
Workshop Titanium,Tidewell,PW6,,1,,,dry,paper,1,96,0,2
Canopy Ultramarine,Tidewell,PB29,,1,,,dry,paper,1,28,12,-38
Canopy Ultramarine,Tidewell,PB29,,1,,1,dry,paper,1,52,6,-48
Canopy Ultramarine,Tidewell,PB29,,1,,4,dry,paper,1,67,-1,-36
Ultramarine Blue,Nettlebed,PB29,,1,,,dry,paper,1,28,12,-38
Ultramarine Blue,Nettlebed,PB29,,1,,1,dry,paper,1,56,5,-46
Ultramarine Blue,Nettlebed,PB29,,1,,4,dry,paper,1,71,-1,-31
Lantern Yellow,Tidewell,PY74,,1,,,dry,paper,1,84,6,90
Canopy Ultramarine,Tidewell,PB29,Lantern Yellow,1,1,,dry,paper,1,40,-12,8
";

fn analyse(folder: &Path, text: &[u8], more: &[&str]) -> Output {
    let file = folder.join("readings.csv");
    fs::write(&file, text).expect("write the file");
    Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
        .arg("analyse")
        .arg(&file)
        .args(more)
        .output()
        .expect("run the program")
}

fn json(more: &[&str]) -> Value {
    let folder = tempfile::tempdir().expect("a folder");
    let output = analyse(folder.path(), FILE.as_bytes(), &[&["--format", "json"], more].concat());
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    serde_json::from_slice(&output.stdout).expect("JSON")
}

/// The contract: exactly these fields, and others beside them.
#[test]
fn json_has_the_promised_fields() {
    let found = json(&[]);
    let promised = [
        ("/conditions", "illuminant observer"),
        (
            "/tubes/0",
            "tube maker code mass_tone truest_tint tint_shift undertone_shift tints opacity strength drying staining",
        ),
        ("/tubes/0/mass_tone", "L a b C h"),
        ("/tubes/0/truest_tint", "white_parts L C h"),
        ("/tubes/0/tints/0", "white_parts L a b C h hue_shift chroma_loss repeats spread"),
        ("/tubes/0/opacity", "contrast_ratio class veil"),
        ("/tubes/1/strength", "same_ratio equal_depth colour_at_equal_strength"),
        (
            "/tubes/1/strength/same_ratio/0",
            "standard white_parts percent basis wavelength indicative",
        ),
        ("/tubes/1/strength/equal_depth", "standard depth lightness percent bound"),
        ("/tubes/1/strength/colour_at_equal_strength", "standard delta_e delta_L delta_C delta_H"),
        ("/pairs/0", "a b white_parts steps hue_gap holding_ratio holding_bound neutral"),
        (
            "/pairs/0/steps/0",
            "a_parts b_parts L a b C h hue_shift chroma_loss dulling grade delta_e_a delta_e_b vividness",
        ),
        ("/warnings/0", "line message"),
    ];
    for (place, fields) in promised {
        let object = found.pointer(place).unwrap_or_else(|| panic!("{place} is missing"));
        for field in fields.split(' ') {
            assert!(object.get(field).is_some(), "{place}/{field} is missing");
        }
    }
    let at = |place: &str| found.pointer(place).cloned().unwrap_or_default();
    assert_eq!(at("/conditions"), serde_json::json!({"illuminant": "D65", "observer": 10}));
    assert!(found["mixtures"].is_array());
    assert_eq!(found["tubes"].as_array().map(Vec::len), Some(3));
    assert_eq!(at("/tubes/0/truest_tint/white_parts"), 1.0);
    assert_eq!(at("/tubes/0/undertone_shift"), Value::Null);
    assert_eq!(at("/tubes/1/strength/equal_depth/standard"), "Canopy Ultramarine");
    assert_eq!(at("/tubes/1/strength/same_ratio/0/basis"), "tristimulus");
    assert_eq!(at("/pairs/0/b"), "Lantern Yellow");
    assert_eq!(at("/tubes/2/strength/equal_depth"), Value::Null);
}

#[test]
fn a_named_standard_stands_at_one_hundred() {
    let found = json(&["--standard", "Ultramarine Blue"]);
    assert_eq!(found["tubes"][1]["strength"]["equal_depth"]["percent"], 100.0);
    let full = found["tubes"][0]["strength"]["equal_depth"]["percent"].as_f64().expect("a number");
    assert!(full > 110.0, "{full}");
}

#[test]
fn the_table_begins_with_the_finding() {
    let folder = tempfile::tempdir().expect("a folder");
    let output = analyse(folder.path(), FILE.as_bytes(), &[]);
    let text = String::from_utf8(output.stdout).expect("UTF-8");
    // Equal depth says 70 %, the same ratio 63 %: their intervals meet, so they do not contradict each other.
    assert!(text.starts_with("Tidewell is 1.4 times as strong as Nettlebed."), "{text}");
}

#[test]
fn bad_input_is_one_message_and_status_2() {
    let folder = tempfile::tempdir().expect("a folder");
    let bad = FILE.replace("28,12,-38\nCanopy", "28,twelve,-38\nCanopy");
    let cases: [(&[u8], &[&str], &str); 3] = [
        (bad.as_bytes(), &[], "readings.csv: line 8, column 12 (a): “twelve” is not a number"),
        (b"", &[], "readings.csv: line 1, column 1: the file is empty"),
        (
            FILE.as_bytes(),
            &["--standard", "Nobody"],
            "readings.csv: there is no tube “Nobody”; the file has Workshop Titanium, Canopy",
        ),
    ];
    for (text, more, expected) in cases {
        let output = analyse(folder.path(), text, more);
        let message = String::from_utf8(output.stderr).expect("UTF-8");
        assert_eq!(output.status.code(), Some(2), "{message}");
        assert!(message.contains(expected) && message.lines().count() == 1, "{message}");
        assert!(output.stdout.is_empty());
    }
    // A file of 200 MB is refused by its size, without being kept on disk or in memory.
    let huge = folder.path().join("huge.csv");
    fs::File::create(&huge).and_then(|file| file.set_len(200_000_000)).expect("a sparse file");
    let output = Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
        .args(["analyse".as_ref(), huge.as_os_str()])
        .output()
        .expect("run the program");
    let message = String::from_utf8(output.stderr).expect("UTF-8");
    assert_eq!(output.status.code(), Some(2));
    assert!(
        message.contains("line 1, column 1: the file has 200 MB, and at most 64 MB"),
        "{message}"
    );
}
