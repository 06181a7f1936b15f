//! Every figure of a real trial against a second calculation after docs/science.md, made with
//! colour-science 0.4.7, numpy and scipy (`reference/make_reference.py`).

use std::path::Path;
use std::process::Command;

use serde_json::Value;

/// A figure's name there, its place here, and how far the two may lie apart. The libraries agree
/// with us to about 0.0005 in L*, a* and b*; each tolerance is what that does to the figure.
const STRENGTHS: [(&str, &str, f64); 6] = [
    ("depth", "equal_depth/depth", 0.002),
    ("lightness", "equal_depth/lightness", 0.002),
    ("percent", "equal_depth/percent", 0.01),
    ("delta_e", "colour_at_equal_strength/delta_e", 0.003),
    ("delta_C", "colour_at_equal_strength/delta_C", 0.003),
    ("delta_H", "colour_at_equal_strength/delta_H", 0.003),
];

fn figures(file: &str) -> Value {
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/reference").join(file);
    let output = Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
        .args(["analyse", "--format", "json"])
        .arg(file)
        .output()
        .expect("run the program");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    serde_json::from_slice(&output.stdout).expect("JSON")
}

fn reference() -> Value {
    serde_json::from_str(include_str!("../reference/figures.json")).expect("JSON")
}

fn list(value: &Value) -> &[Value] {
    value.as_array().map(Vec::as_slice).expect("a list")
}

/// Both missing, or both there and close.
fn close(found: &Value, expected: &Value, tolerance: f64, what: &str) {
    match (found.as_f64(), expected.as_f64()) {
        (Some(found), Some(expected)) => {
            assert!((found - expected).abs() <= tolerance, "{what}: {found} for {expected}");
        }
        (found, expected) => assert_eq!(found.is_some(), expected.is_some(), "{what}"),
    }
}

fn close_lab(found: &Value, expected: &Value, what: &str) {
    for (axis, expected) in ["L", "a", "b"].iter().zip(list(expected)) {
        close(&found[axis], expected, 0.002, &format!("{what} {axis}"));
    }
}

#[test]
fn every_tube_agrees() {
    let (found, expected) = (figures("trial.csv"), reference());
    for expected in list(&expected["tubes"]) {
        let tube = list(&found["tubes"])
            .iter()
            .find(|tube| tube["tube"] == expected["tube"])
            .expect("the tube");
        let name = expected["tube"].as_str().unwrap_or_default();
        close(&tube["truest_tint"]["white_parts"], &expected["truest"], 1e-9, name);
        close(&tube["tint_shift"], &expected["tint_shift"], 0.01, name);
        close(&tube["opacity"]["contrast_ratio"], &expected["contrast_ratio"], 0.002, name);
        close(&tube["opacity"]["veil"], &expected["veil"], 0.002, name);
        let (tints, expected) = (list(&tube["tints"]), list(&expected["tints"]));
        assert_eq!(tints.len(), expected.len());
        for (tint, expected) in tints.iter().zip(expected) {
            let what = format!("{name} 1:{}", tint["white_parts"]);
            close(&tint["white_parts"], &expected["white_parts"], 1e-9, &what);
            close_lab(tint, &expected["lab"], &what);
            close(&tint["hue_shift"], &expected["hue_shift"], 0.01, &what);
            close(&tint["chroma_loss"], &expected["chroma_loss"], 1e-4, &what);
        }
    }
}

#[test]
fn every_strength_agrees() {
    let (found, expected) = (figures("trial.csv"), reference());
    for expected in list(&expected["strengths"]) {
        let strength = list(&found["tubes"])
            .iter()
            .find(|tube| tube["tube"] == expected["sample"])
            .map(|tube| &tube["strength"])
            .expect("the tube");
        for (there, here, tolerance) in STRENGTHS {
            let found = strength.pointer(&format!("/{here}")).expect("the field");
            close(found, &expected[there], tolerance, there);
        }
        let (entries, expected) = (list(&strength["same_ratio"]), list(&expected["same_ratio"]));
        assert_eq!(entries.len(), expected.len());
        for (entry, expected) in entries.iter().zip(expected) {
            assert_eq!(entry["wavelength"], expected["wavelength"]);
            // K/S comes straight from the reflectance: no library's observer lies between.
            close(&entry["percent"], &expected["percent"], 1e-6, "same ratio");
        }
    }
}

#[test]
fn every_pair_agrees() {
    let (found, expected) = (figures("trial.csv"), reference());
    let expected = list(&expected["pairs"]);
    assert_eq!(list(&found["pairs"]).len(), expected.len());
    for expected in expected {
        let same = |pair: &&Value| {
            ["a", "b"].iter().all(|side| pair[side] == expected[side])
                && pair["white_parts"].as_f64() == expected["white_parts"].as_f64()
        };
        let pair = list(&found["pairs"]).iter().find(same).expect("the pair");
        let what = format!("{} 1:{}", pair["a"], pair["white_parts"]);
        close(&pair["hue_gap"], &expected["hue_gap"], 0.01, &what);
        close(&pair["holding_ratio"], &expected["holding_ratio"], 1e-3, &what);
        assert_eq!(pair["holding_bound"], expected["holding_bound"], "{what}");
        assert_eq!(pair["neutral"].is_null(), expected["neutral"].is_null(), "{what}");
        if !expected["neutral"].is_null() {
            close(&pair["neutral"]["b_parts"], &expected["neutral"]["b_parts"], 1e-3, &what);
            close_lab(&pair["neutral"], &expected["neutral"]["lab"], &what);
        }
        for (step, expected) in list(&pair["steps"]).iter().zip(list(&expected["steps"])) {
            let what = format!("{what} {}:{}", step["a_parts"], step["b_parts"]);
            close(&step["b_parts"], &expected["b_parts"], 1e-9, &what);
            close_lab(step, &expected["lab"], &what);
            close(&step["hue_shift"], &expected["hue_shift"], 0.02, &what);
            close(&step["chroma_loss"], &expected["chroma_loss"], 3e-4, &what);
            // Near grey the straight line's own chroma is small, and so its share is unsure.
            let size = 1.0 + expected["dulling"].as_f64().unwrap_or_default().abs();
            close(&step["dulling"], &expected["dulling"], 2e-3 * size * size, &what);
            assert_eq!(step["grade"], expected["grade"], "{what}");
            close(&step["delta_e_a"], &expected["delta_e_a"], 0.002, &what);
            close(&step["delta_e_b"], &expected["delta_e_b"], 0.002, &what);
        }
    }
}

/// A made-up trial with wet and lifted readings, a second white and mixtures of three and four
/// (`reference/make_changes.py`).
#[test]
fn drying_staining_lightening_and_third_tubes_agree() {
    let found = figures("changes.csv");
    let expected: Value =
        serde_json::from_str(include_str!("../reference/changes.json")).expect("JSON");
    let tube = |name: &Value| {
        let mut tubes = list(&found["tubes"]).iter();
        tubes.find(|tube| tube["tube"] == *name).expect("the tube")
    };
    for expected in list(&expected["tubes"]) {
        let (tube, drying) = (tube(&expected["tube"]), &expected["drying"]);
        let name = expected["tube"].as_str().unwrap_or_default();
        for (field, tolerance) in
            [("delta_L", 0.002), ("delta_C", 0.002), ("delta_h", 0.02), ("delta_e", 0.002)]
        {
            close(&tube["drying"][field], &drying[field], tolerance, &format!("{name} {field}"));
        }
        close(&tube["staining"]["percent"], &expected["staining"], 0.02, name);
    }
    let other_white = tube(&Value::from("Fairground White"));
    let (powers, of) = (list(&other_white["lightening_power"]), list(&expected["lightening"]));
    assert_eq!(powers.len(), of.len());
    for (power, expected) in powers.iter().zip(of) {
        assert_eq!(power["colour"], expected["colour"]);
        assert_eq!(power["standard"], "Workshop Titanium");
        close(&power["white_parts"], &expected["white_parts"], 1e-9, "parts of white");
        close(&power["percent"], &expected["percent"], 1e-6, "lightening power");
    }
    let (mixtures, expected) = (list(&found["mixtures"]), list(&expected["mixtures"]));
    assert_eq!(mixtures.len(), expected.len());
    for (mixture, expected) in mixtures.iter().zip(expected) {
        let what = mixture["tubes"].to_string();
        assert_eq!(list(&mixture["tubes"]).len(), list(&expected["parts"]).len(), "{what}");
        close_lab(mixture, &expected["lab"], &what);
        close(&mixture["hue_shift"], &expected["hue_shift"], 0.02, &what);
        close(&mixture["chroma_loss"], &expected["chroma_loss"], 3e-4, &what);
    }
}
