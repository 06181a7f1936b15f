//! Pictures of sheets: what is read is taken in one step and taken back in one, and what cannot be read is said.

use axum::http::StatusCode;
use store::{Store, StoredPicture, TrialId};
use study::{Calibration, State};
use workshop::{EvidenceSource, Workshop};

use crate::common::{Answer, Site, form, trial_form};

/// A trial without a meter, whose sheets a simulated phone takes.
async fn at_a_phone() -> (Site, Store) {
    let store = Store::in_memory().await.expect("open");
    let app = Workshop::new(store.clone()).with_simulated_camera(7);
    (Site::over(app).await, store)
}

/// The tubes of the trial whose typical paints were moved by what was seen.
async fn learnt(store: &Store) -> usize {
    let app = Workshop::new(store.clone());
    let trials = store.trials().await.expect("trials");
    let trial = app.trial(TrialId(1)).await.expect("the trial");
    let evidence = app.evidence_for(&trials, &trial, State::Dry).await.expect("evidence");
    let seen = |it: &&EvidenceSource| matches!(it, EvidenceSource::Seen(_));
    evidence.sources.iter().filter(seen).count()
}

async fn drawn(site: &Site, trial: u32, sheet: u32) -> String {
    let answer =
        site.post(&format!("/trials/{trial}/pictures/drawn"), &format!("sheet={sheet}")).await;
    assert_eq!(answer.status, StatusCode::SEE_OTHER, "{}", answer.text);
    answer.location.expect("its page")
}

async fn of_trial(store: &Store) -> Vec<StoredPicture> {
    store.pictures(TrialId(1)).await.expect("pictures")
}

/// Readings that count, and void ones.
async fn readings(store: &Store) -> (i64, i64) {
    let trials = store.trials().await.expect("trials");
    let trial = trials.iter().find(|it| it.id == TrialId(1)).expect("the trial");
    (trial.readings, trial.voids)
}

/// The number in `Take these 30 readings`.
fn to_take(page: &Answer) -> i64 {
    let mut after = page.text.split("Take these ").skip(1);
    after.find_map(|rest| rest.split(' ').next()?.parse().ok()).expect("something to take")
}

#[tokio::test]
async fn a_picture_is_taken_in_one_step_and_taken_back_in_one() {
    let (site, store) = at_a_phone().await;
    let page = drawn(&site, 1, 1).await;
    assert_eq!(page, "/trials/1/pictures/1");
    let first = site.get(&page).await;
    for words in [
        "read for comparing, not for colour",
        "No square&#39;s colour is known here",
        "says nothing of any paint",
        "sheet 1 of",
    ] {
        assert!(first.text.contains(words), "{words}: {}", first.text);
    }
    let straight = site.get(&format!("{page}/sheet.jpg")).await;
    assert!(straight.bytes.starts_with(&[0xff, 0xd8]), "a JPEG");

    // A square that is left out, one that is put back, and an outline that is moved and put back.
    let count = to_take(&first);
    let change = async |number: u32, act: &str| {
        let address = format!("{page}/square/{number}");
        let answer = site.post(&address, act).await;
        assert_eq!(answer.status, StatusCode::SEE_OTHER, "{act}: {}", answer.text);
    };
    change(1, "act=leave-out").await;
    assert_eq!(to_take(&site.get(&page).await), count - 1);
    change(1, "act=take").await;
    assert_eq!(to_take(&site.get(&page).await), count);
    change(1, "act=move&right=1.5&down=-2").await;
    let moved = site.get(&format!("{page}?square=1")).await.text;
    assert!(moved.contains("1.5 mm right and -2.0 mm down"), "{moved}");
    change(1, "act=move&right=0&down=0").await;
    let wrong = site.post(&format!("{page}/square/1"), "act=move&right=NaNaN&down=0").await;
    assert_eq!(wrong.status, StatusCode::BAD_REQUEST);
    change(1, "act=leave-out").await;

    // Pressed twice, it is taken once; what is taken says where it comes from, for good.
    for _ in 0..2 {
        let taken = site.post(&format!("{page}/take"), "state=dry").await;
        assert_eq!(taken.status, StatusCode::SEE_OTHER);
    }
    assert_eq!(readings(&store).await, (count - 1, 0));
    assert!(learnt(&store).await >= 2, "typical paints learn from pictures");
    let name = of_trial(&store).await[0].content[..12].to_owned();
    let file = site.get("/trials/1/readings.csv").await.text;
    let row = file.lines().last().expect("a row");
    assert!(row.contains(&format!("photo,yes,{name},9,uncalibrated")), "{row}");
    let bench = site.get("/trials/1/bench/2").await.text;
    assert!(!bench.contains("reading 2 of"), "one picture is enough: {bench}");

    let back = site.post(&format!("{page}/take-back"), "").await;
    assert_eq!(back.status, StatusCode::SEE_OTHER);
    assert_eq!(learnt(&store).await, 0);
    assert_eq!(readings(&store).await, (0, count - 1));
    site.post(&format!("{page}/take"), "state=dry").await;
    // The bench's own way back takes all of it back as well.
    let shown = site.get("/trials/1/bench").await;
    let next = shown.location.unwrap_or_else(|| "/trials/1/bench/1".into());
    let text = site.get(&next).await.text;
    let (_, rest) = text.split_once("action=\"/trials/1/undo\"").expect("a way back");
    let fields = crate::common::fields(rest.split("</form>").next().expect("its form"));
    let pairs: Vec<(&str, &str)> = fields.iter().map(|(a, b)| (a.as_str(), b.as_str())).collect();
    site.post("/trials/1/undo", &form(&pairs)).await;
    assert_eq!(readings(&store).await, (0, 2 * (count - 1)));

    // Deleted, the picture is gone and what was read stays; sent again, it is another one.
    site.post(&format!("{page}/take"), "state=dry").await;
    let stored = of_trial(&store).await.remove(0);
    let bytes = store.picture_bytes(&stored).expect("its file");
    assert_eq!(site.post(&format!("{page}/delete"), "").await.status, StatusCode::SEE_OTHER);
    assert!(store.picture_bytes(&stored).is_err());
    assert_eq!(readings(&store).await.0, count - 1);
    let gone = site.get(&page).await;
    assert_eq!(gone.status, StatusCode::CONFLICT);
    assert!(gone.text.contains("this picture was deleted"), "{}", gone.text);
    // Nor is it shown because it was looked at before.
    let shown = site.get(&format!("{page}/sheet.jpg")).await;
    assert_eq!(shown.status, StatusCode::CONFLICT);
    let again = site.upload_to("/trials/1/pictures", "", "sheet.jpg", &bytes).await;
    assert_eq!(again.location.as_deref(), Some("/trials/1/pictures/2"), "{}", again.text);
    let twice = site.upload_to("/trials/1/pictures", "", "sheet.jpg", &bytes).await;
    assert_eq!(twice.location.as_deref(), Some("/trials/1/pictures/2"), "kept once");

    // From another trial's page it goes to the trial that its sheet is of.
    let planned = site.post("/trials", &trial_form(&[("name", "Another")])).await;
    assert_eq!(planned.location.as_deref(), Some("/trials/2/plan"));
    let elsewhere = site.upload_to("/trials/2/pictures", "", "sheet.jpg", &bytes).await;
    assert_eq!(elsewhere.location.as_deref(), Some("/trials/1/pictures/2"));
}

/// Each file with what is said of it; nothing is stored.
#[tokio::test]
async fn what_is_no_picture_of_a_sheet_is_said_and_not_kept() {
    let (site, store) = at_a_phone().await;
    let grey = vec![200; 3 * 400 * 300];
    let plain = formats::picture::write((400, 300), &grey, false).expect("a PNG");
    let small = formats::picture::write((20, 10), &grey[..600], false).expect("a PNG");
    let jpeg = formats::picture::write((400, 300), &grey, true).expect("a JPEG");
    let heic = [&[0, 0, 0, 24][..], b"ftypheic", &[0; 32]].concat();
    let cases: [(&str, &[u8], &str); 6] = [
        ("nothing", b"", "Choose a picture first"),
        ("a text", b"L,a,b\n1,2,3\n", "This is no PNG, JPEG or TIFF picture"),
        ("HEIC", &heic, "“Most compatible”"),
        ("half a JPEG", &jpeg[..jpeg.len() / 2], "ends too early"),
        ("20 pixels", &small, "too small to hold a sheet"),
        // Which sheet it is cannot be told, so that is asked.
        ("no sheet", &plain, "say which sheet it is"),
    ];
    for (what, file, words) in cases {
        let answer = site.upload_to("/trials/1/pictures", "", "sheet.jpg", file).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{what}");
        assert!(answer.text.contains(words), "{what}: {}", answer.text);
        assert!(answer.text.contains("Nothing was stored"), "{what}");
    }
    assert!(of_trial(&store).await.is_empty());
    let none = site.get("/trials/1/pictures/1").await;
    assert_eq!(none.status, StatusCode::NOT_FOUND);
    let elsewhere = site.upload_to("/trials/9/pictures", "", "sheet.jpg", &plain).await;
    assert_eq!(elsewhere.status, StatusCode::NOT_FOUND);
    // Only a workshop with a simulated phone lets one take pictures.
    let site = Site::over(Workshop::new(Store::in_memory().await.expect("open"))).await;
    let refused = site.post("/trials/1/pictures/drawn", "sheet=1").await;
    assert_eq!(refused.status, StatusCode::CONFLICT);
    let page = site.get("/trials/1/pictures").await.text;
    assert!(!page.to_lowercase().contains("simulated"), "{page}");
}

/// What a meter read of the sheet calibrates its picture, and counts before it.
#[tokio::test]
async fn a_meter_calibrates_a_picture_and_counts_before_it() {
    use instruments::simulated::{MixingTable, SimulatedMeter};
    let store = Store::in_memory().await.expect("open");
    let meter = SimulatedMeter::new(7, MixingTable::default());
    let app = Workshop::new(store.clone()).with_meter(meter).with_simulated_camera(7);
    let site = Site::over(app).await;
    let trial = store.trial(TrialId(1)).await.expect("the trial");
    let sheet = &trial.plan.as_ref().expect("a plan").sheets[0];
    let numbers: Vec<u32> = sheet.cells.iter().map(|cell| cell.number.0).take(14).collect();
    for number in &numbers {
        let bare = trial.swatches[*number as usize - 1].swatch.mixture.is_bare();
        if !bare {
            site.lay(1, *number).await;
            site.post(&format!("/trials/1/bench/{number}/dry"), "").await;
        }
        let read = site.post(&format!("/trials/1/bench/{number}/read"), "state=dry").await;
        assert_eq!(read.status, StatusCode::SEE_OTHER, "{number}: {}", read.text);
    }
    let page = drawn(&site, 1, 1).await;
    let text = site.get(&page).await.text;
    assert!(text.contains("read, right within ΔE00"), "{text}");
    assert!(text.contains("read by something better already"), "{text}");
    let before = readings(&store).await.0;
    site.post(&format!("{page}/take"), "state=dry").await;
    let after = store.trial(TrialId(1)).await.expect("the trial");
    let new = &after.readings[usize::try_from(before).expect("a count")..];
    assert!(!new.is_empty());
    for stored in new {
        let number = after.swatches.iter().find(|it| it.id == stored.swatch).expect("its swatch");
        assert!(!numbers.contains(&number.swatch.number.0), "{}", number.swatch.number);
        let from = stored.reading.from_picture.as_ref().expect("from the picture");
        assert!(from.calibration != Calibration::Uncalibrated && stored.reading.simulated);
    }
}
