//! The planner and the palettes, as the server answers them.

use crate::common::{Site, form, trial_form};
use axum::http::StatusCode;

/// What is changed in the usual form.
type Fields<'a> = &'a [(&'a str, &'a str)];

/// The fields at which the planner's panel says something is wrong, with what it says.
fn wrong(panel: &str) -> Vec<(String, String)> {
    let marks = panel.split("data-error-for=\"").skip(1);
    let error = |mark: &str| {
        let (field, rest) = mark.split_once("\">").expect("a field");
        (field.to_owned(), rest.split_once("</p>").expect("a message").0.to_owned())
    };
    marks.map(error).collect()
}

#[tokio::test]
async fn every_choice_that_cannot_be_planned_is_answered_at_its_field() {
    let site = Site::with_trial().await;
    for number in 0..40 {
        let tube = [("name", format!("Odd Tube {number}")), ("codes", String::new())];
        let tube: Vec<(&str, &str)> =
            tube.iter().map(|(key, text)| (*key, text.as_str())).collect();
        let more = [("grade", "artist"), ("medium", "acrylic")];
        site.post("/shelf", &form(&[tube, more.into()].concat())).await;
    }
    let odd: Vec<String> = (0..40).map(|number| format!("Odd Tube {number}")).collect();
    let mut grid = vec![("grid", "half"), ("star", "")];
    grid.extend(odd.iter().map(|name| ("grid_tube", name.as_str())));
    let cases: [(Fields<'_>, &str, &str); 15] = [
        (&[("resolution", "0")], "resolution", "a scale of 0 g weighs nothing"),
        (&[("side_mm", "390")], "side_mm", "a square of 390 mm is larger than the sheet allows"),
        (&[("side_mm", "3")], "side_mm", "a square of 3 mm is too small to be read"),
        (&[("steps", "own"), ("own_steps", "3:1, 0:0")], "own_steps", "step 2: give parts of both"),
        (&[("steps", "own"), ("own_steps", "3-1")], "own_steps", "“3-1” is not a ratio"),
        (&[("step_count", "99"), ("steps", "even")], "step_count", "write a whole number from 1"),
        (
            &[("ladder_from", "Lantern Yellow"), ("ladder_to", "Lantern Yellow")],
            "ladder-0",
            "a tube cannot be mixed with itself",
        ),
        (
            &[("ladder_from", "Lantern Yellow"), ("ladder_to", "")],
            "ladder-0",
            "a ladder needs both of its ends",
        ),
        (
            &[("star_third", "Ultramarine Blue"), ("star_share", "20")],
            "star_third",
            "the third tube must be another than the two ends",
        ),
        (&[("white", "")], "white", "tints need a white"),
        (&[("white", "Workshop Chalk")], "white", "no tube on the shelf is called"),
        (&[("tested", ""), ("tints", "none")], "tested", "no swatch is asked for yet"),
        (&[("reference", "")], "palette", "a star needs a reference palette"),
        (&[("whites_mixed", "1, two")], "whites_mixed", "“two” is not a number"),
        (&grid, "grid", "40 tubes make 780 mixtures"),
    ];
    for (changed, field, message) in cases {
        let panel = site.post("/trials/cost", &trial_form(changed)).await;
        assert_eq!(panel.status, StatusCode::OK, "{message}");
        let errors = wrong(&panel.text);
        let found = errors.iter().find(|(name, _)| name == field);
        let found = found.unwrap_or_else(|| unreachable!("{field}: {errors:?}"));
        assert!(found.1.starts_with(message), "{field}: {errors:?}");
    }
    // What is right has a cost, and no error; a name is not needed for it.
    let fine = site.post("/trials/cost", &trial_form(&[("name", "")])).await.text;
    assert!(fine.contains("48 swatches on 2 sheets") && wrong(&fine).is_empty());
}

#[tokio::test]
async fn a_plan_is_changed_until_it_is_begun_and_copied_ever_after() {
    let site = Site::with_trial().await;
    let shown = site.get("/trials/1/change").await;
    assert!(shown.text.contains("value=\"Two blues for the roof\""));
    let kept = site.post("/trials/1/change", &trial_form(&[("steps", "tenths")])).await;
    assert_eq!(kept.location.as_deref(), Some("/trials/1/plan"));
    let plan = site.get("/trials/1/plan").await.text;
    // 3 bare backings, 3 of the white, 3 tubes of 8, two ladders of 9 steps with two tints each.
    assert!(plan.contains("84 swatches, 252 to take."), "{plan}");
    site.post("/trials/1/bench/1/read", "state=dry").await;
    let page = site.get("/trials/1/plan").await.text;
    assert!(page.contains("The bench has begun") && !page.contains("/trials/1/change"));
    for answer in
        [site.get("/trials/1/change").await, site.post("/trials/1/change", &trial_form(&[])).await]
    {
        assert_eq!(answer.status, StatusCode::CONFLICT);
        assert!(answer.text.contains("copy it to plan another"));
    }
    // The copy holds every choice: sent as it is, it makes the same plan.
    let copy = site.get("/trials/new?copy=1").await.text;
    for words in ["value=\"tenths\" checked", "Two blues for the roof, again", "value=\"1, 4\""] {
        assert!(copy.contains(words), "{words}");
    }
}

#[tokio::test]
async fn a_palette_says_what_it_lacks_and_keeps_what_was_used() {
    let site = Site::with_trial().await;
    let fields = [
        ("name", "Roof"),
        ("school", "three"),
        ("yellow", "Lantern Yellow"),
        ("cyan", "Lantern Yellow"),
        ("white", "Workshop Titanium"),
    ];
    let check = site.post("/palettes/check", &form(&fields)).await.text;
    for words in ["2 things to look at.", "Missing: magenta.", "Doubled: Lantern Yellow is both"] {
        assert!(check.contains(words), "{words}");
    }
    assert_eq!(site.post("/palettes", &form(&fields)).await.status, StatusCode::SEE_OTHER);
    let used = [("reference", ""), ("palette", "1"), ("white", "")];
    let trial = site.post("/trials", &trial_form(&used)).await;
    assert_eq!(trial.location.as_deref(), Some("/trials/2/plan"));
    assert!(site.get("/palettes/1").await.text.contains("your changes make version 2"));
    let mut changed = fields;
    changed[3].1 = "Canopy Ultramarine";
    site.post("/palettes/1", &form(&changed)).await;
    let list = site.get("/palettes").await.text;
    assert!(list.contains("version 2") && list.contains("/palettes/2"));
    assert!(!list.contains("href=\"/palettes/1\""));
    // The trial keeps the version that it was planned with.
    assert!(site.get("/trials/2/change").await.text.contains("value=\"1\" selected"));
    let late = site.post("/palettes/1", &form(&changed)).await;
    assert_eq!(late.status, StatusCode::CONFLICT);
}

#[tokio::test]
async fn the_sheets_come_as_pages_svg_and_pdf() {
    let site = Site::with_trial().await;
    let page = site.get("/trials/1/sheets").await.text;
    assert_eq!(page.matches("<svg xmlns=").count(), 2);
    let svg = site.get("/trials/1/sheets/2.svg").await.text;
    assert!(svg.contains("width=\"297mm\"") && svg.contains("Two blues for the roof, sheet 2"));
    let pdf = site.get("/trials/1/sheets.pdf").await;
    assert!(pdf.text.starts_with("%PDF-"));
    assert_eq!(
        pdf.disposition.as_deref(),
        Some("attachment; filename=\"two-blues-for-the-roof.pdf\"")
    );
    for missing in ["/trials/1/sheets/3.svg", "/trials/1/sheets/0.svg", "/trials/9/sheets"] {
        assert_eq!(site.get(missing).await.status, StatusCode::NOT_FOUND, "{missing}");
    }
}
