//! A chart that was not printed here: found by hand, named, read, and then left as it is.

use axum::http::StatusCode;
use formats::picture::write;
use store::{Store, TrialId};
use study::{Calibration, ReadingSource};
use workshop::Workshop;

use crate::common::{Site, form};

/// Two rows of four squares of 18 mm with gaps of 7 and 9 mm at 8 pixels a mm, each lighter than the one before it.
fn chart() -> Vec<u8> {
    let (width, height) = (1000, 600);
    let mut rgb = vec![235; 3 * width * height];
    for at in 0..8 {
        let (left, top) = (116 + 200 * (at % 4), 120 + 216 * (at / 4));
        let shade = 70 + 18 * u8::try_from(at).expect("eight squares");
        for y in top..top + 144 {
            for x in left..left + 144 {
                let pixel = 3 * (y * width + x);
                rgb[pixel..pixel + 3].copy_from_slice(&[shade, shade, shade + 20]);
            }
        }
    }
    write((width, height), &rgb, false).expect("a PNG")
}

/// Where its corners really are.
const CORNERS: [[&str; 2]; 4] = [["116", "120"], ["860", "120"], ["860", "480"], ["116", "480"]];

const NAMES: [(&str, &str); 11] = [
    ("rows", "2"),
    ("columns", "4"),
    ("side", "18"),
    ("gap-across", "7"),
    ("gap-down", "9,0"),
    ("source", "scan"),
    ("hold", "tints"),
    ("line-0", "Canopy Ultramarine"),
    ("line-1", "ultramarine blue"),
    ("steps", "mass tone, 1:1, 1:4, 1:16"),
    ("white", "Workshop Titanium"),
];

/// The fields of the page, some of them changed.
fn said(corners: [[&str; 2]; 4], act: &str, changed: &[(&str, &str)]) -> String {
    let names: Vec<[String; 2]> = (0..4).map(|at| [format!("x{at}"), format!("y{at}")]).collect();
    let mut fields: Vec<(&str, &str)> = vec![("act", act)];
    for (names, corner) in names.iter().zip(&corners) {
        fields.extend(names.iter().map(String::as_str).zip(*corner));
    }
    let usual = NAMES.iter().filter(|(name, _)| changed.iter().all(|(other, _)| other != name));
    fields.extend(usual.chain(changed));
    form(&fields)
}

async fn site() -> (Site, Store) {
    let store = Store::in_memory().await.expect("open");
    let app = Workshop::new(store.clone()).with_simulated_camera(7);
    (Site::over(app).await, store)
}

/// The places of the corners as the page shows them.
fn shown(page: &str) -> Vec<String> {
    let mut fields = crate::common::fields(page);
    fields.retain(|(name, _)| name.starts_with(['x', 'y']) && name.len() == 2);
    fields.into_iter().map(|(_, value)| value).collect()
}

#[tokio::test]
async fn a_chart_is_found_by_its_corners_and_named_by_its_sides() {
    let (site, store) = site().await;
    assert_eq!(site.get("/charts/new").await.status, StatusCode::OK);
    let page = "/trials/2/chart/1";
    for _ in 0..2 {
        let fields = [("token", "a-token"), ("name", "")];
        let sent = site.send("/charts", &fields, ("old blues.png", &chart())).await;
        assert_eq!(sent.location.as_deref(), Some(page), "kept once: {}", sent.text);
    }
    let first = site.get(page).await.text;
    assert!(first.contains("old blues") && first.contains("Drag the four corners"), "{first}");
    assert!(!first.contains("role=\"alert\""), "nothing scolds yet: {first}");
    let guessed = shown(&first);
    let picture = site.get(&format!("{page}/picture.jpg")).await;
    assert!(picture.bytes.starts_with(&[0xff, 0xd8]), "a JPEG");
    // Until it is found it cannot be read.
    let where_read = "/trials/2/pictures/1";
    assert_eq!(site.get(where_read).await.location.as_deref(), Some(page));
    let text: Vec<&str> = guessed.iter().map(String::as_str).collect();
    let untouched = [0, 1, 2, 3].map(|at| [text[2 * at], text[2 * at + 1]]);
    let unread = site.post(page, &said(untouched, "read", &[])).await;
    assert_eq!(unread.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(unread.text.contains("Drag the four corners onto the outermost squares"));

    // What was typed is kept whatever is wrong with it, and told where it is wrong.
    let changed = [("line-1", "Mud of the yard"), ("gap-down", "nine")];
    let kept = site.post(page, &said(CORNERS, "save", &changed)).await;
    assert_eq!(kept.location.as_deref(), Some(page));
    let wrong = site.post(page, &said(CORNERS, "read", &changed)).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    for words in ["no tube on the shelf is called “Mud of the yard”", "“nine” is not a number"]
    {
        assert!(wrong.text.contains(words), "{words}: {}", wrong.text);
    }
    let [a, b, c, d] = CORNERS;
    for mirrored in [[b, a, d, c], [a, c, b, d], [a, a, a, a]] {
        let refused = site.post(page, &said(mirrored, "read", &[])).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(refused.text.contains("do not go round the chart"), "{}", refused.text);
    }

    // Two pages of the chart: the one that was opened before the other one stored something wipes nothing of it.
    let opened = crate::common::fields(&site.get(page).await.text);
    let read_at = opened.iter().find(|(name, _)| name == "read-at").expect("a version").1.clone();
    let mine = [("read-at", read_at.as_str()), ("steps", "mass tone, 1:2, 1:4, 1:16")];
    site.post(page, &said(CORNERS, "save", &[("line-1", "Lantern Yellow")])).await;
    let stale = site.post(page, &said(CORNERS, "save", &mine)).await;
    assert_eq!(stale.status, StatusCode::CONFLICT);
    for words in [
        "Steps: “mass tone, 1:1, 1:4, 1:16”",
        "Line 2: “Lantern Yellow”",
        "mass tone, 1:2, 1:4, 1:16",
    ] {
        assert!(stale.text.contains(words), "{words}: {}", stale.text);
    }
    let chart = store.trial(TrialId(2)).await.expect("the trial").chart.expect("a chart");
    assert_eq!(
        (&*chart.typed.lines[1][0], &*chart.typed.steps),
        ("Lantern Yellow", "mass tone, 1:1, 1:4, 1:16")
    );

    let nowhere = site.post(page, &said([a, b, c, ["far", "480"]], "read", &[])).await;
    assert_eq!(nowhere.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(nowhere.text.contains("“far” is none"), "{}", nowhere.text);

    let read = site.post(page, &said(CORNERS, "read", &[])).await;
    assert_eq!(read.location.as_deref(), Some(where_read), "{}", read.text);
    assert_eq!(
        shown(&site.get(page).await.text),
        ["116.0", "120.0", "860.0", "120.0", "860.0", "480.0", "116.0", "480.0"]
    );
    let told = site.get(where_read).await.text;
    assert!(told.contains("8 squares read for comparing, not for colour"), "{told}");
    assert_eq!(
        site.post(&format!("{where_read}/take"), "state=dry").await.status,
        StatusCode::SEE_OTHER
    );
    let trial = store.trial(TrialId(2)).await.expect("the trial");
    let mut lightness = Vec::new();
    for swatch in &trial.swatches {
        let stored = trial.readings.iter().find(|it| it.swatch == swatch.id).expect("a reading");
        let reading = &stored.reading;
        let from = reading.from_picture.as_ref().expect("from the picture");
        assert_eq!(reading.source, ReadingSource::Scan);
        assert_eq!((from.calibration, reading.simulated), (Calibration::Uncalibrated, false));
        let lab = reading.measured.lab(trial.circumstances.conditions).expect("a colour");
        lightness.push(lab.l);
    }
    // Each square's colour stands with its own name: they were painted lighter and lighter.
    assert!(lightness.len() == 8 && lightness.is_sorted(), "{lightness:?}");

    // What was read stays with what it was read of; the corners can still be moved, and a copy named anew.
    let other = [("line-0", "Lantern Yellow")];
    let frozen = site.post(page, &said(CORNERS, "read", &other)).await;
    assert_eq!(frozen.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(frozen.text.contains("Readings were taken from this chart"), "{}", frozen.text);
    let moved = [["118", "121"], b, c, d];
    site.post(page, &said(moved, "save", &[])).await;
    assert_eq!(shown(&site.get(page).await.text)[..2], ["118.0", "121.0"]);
    for _ in 0..2 {
        let copy = site.post(&format!("{page}/copy"), "token=a-copy").await;
        assert_eq!(copy.location.as_deref(), Some("/trials/3/chart/2"));
    }
    let named = site.post("/trials/3/chart/2", &said(CORNERS, "read", &other)).await;
    assert_eq!(named.location.as_deref(), Some("/trials/3/pictures/2"), "{}", named.text);
    let first = store.trial(TrialId(2)).await.expect("the trial").readings.len();
    let copy = store.trial(TrialId(3)).await.expect("the copy").readings.len();
    assert_eq!((first, copy), (8, 0));
    // A picture that is gone cannot be copied.
    let gone = site.post("/trials/3/pictures/2/delete", "").await;
    assert_eq!(gone.status, StatusCode::SEE_OTHER);
    let copy = site.post("/trials/3/chart/2/copy", "token=another").await;
    assert_eq!(copy.status, StatusCode::CONFLICT, "{}", copy.text);
    assert_eq!(store.trials().await.expect("trials").len(), 3);
    // It has no plan, and its pages say so.
    for address in ["plan", "readings", "results", "pictures", "figures.json", "readings.csv"] {
        let answer = site.get(&format!("/trials/2/{address}")).await;
        assert_eq!(answer.status, StatusCode::OK, "{address}");
    }
    assert_eq!(site.get("/trials/2/sheets.pdf").await.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn what_is_no_picture_of_such_a_chart_is_not_kept() {
    let (site, store) = site().await;
    let drawn = site.post("/trials/1/pictures/drawn", "sheet=1").await;
    assert_eq!(drawn.status, StatusCode::SEE_OTHER);
    let stored = store.pictures(TrialId(1)).await.expect("pictures").remove(0);
    let printed = store.picture_bytes(&stored).expect("its file");
    let heic = [&[0, 0, 0, 24][..], b"ftypheic", &[0; 32]].concat();
    let long = "a".repeat(300);
    for (name, file, words) in [
        ("", &printed[..], "This is a printed sheet"),
        ("", &heic[..], "“Most compatible”"),
        ("", &[][..], "Choose a picture first"),
        (&long, &chart()[..], "letters"),
    ] {
        let answer = site.upload_to("/charts", name, "chart.jpg", file).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{words}");
        assert!(answer.text.contains(words), "{words}: {}", answer.text);
    }
    assert_eq!(store.trials().await.expect("trials").len(), 1);
    // A sheet's picture is no chart, and there is no second picture.
    for address in ["/trials/1/chart/1", "/trials/1/chart/2", "/trials/9/chart/1"] {
        assert_eq!(site.get(address).await.status, StatusCode::NOT_FOUND, "{address}");
    }
    // An old chart holds a palette's tubes.
    let refused = site.post("/charts/drawn", "").await;
    assert_eq!(refused.status, StatusCode::CONFLICT);
    assert!(refused.text.contains("add a palette with a white first"), "{}", refused.text);
}
