//! The planner and the palettes, as the server answers them.

use axum::http::StatusCode;

use crate::common::{Site, fields, form, trial_form};

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
    let cases: [(Fields<'_>, &str, &str); 18] = [
        (&[("name", "turned \u{202e}round")], "name", "letter 8 is one that is not seen"),
        (&[("whites_mixed", "4, 5000")], "whites_mixed", "5000 parts of white to one"),
        (&[("whites_alone", "1, 0.01")], "whites_alone", "0.01 parts of white to one"),
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
        (&[("tested", ""), ("tints", "none")], "", "choose a tube to test"),
        (
            &[("reference", ""), ("tested", "Canopy Ultramarine")],
            "palette",
            "choose a palette, or name at least one tube",
        ),
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
    // Several tubes without a palette are mixed with each other.
    let pair = site.post("/trials/cost", &trial_form(&[("reference", "")])).await.text;
    assert!(
        pair.contains("Canopy Ultramarine to Ultramarine Blue") && wrong(&pair).is_empty(),
        "{pair}"
    );
    // A plan without a palette begins with the shelf's white.
    let page = site.get("/trials/new").await.text;
    assert!(page.contains("value=\"Workshop Titanium · "), "{page}");
}

/// Fields with what is chosen in them.
type Choices = Vec<(&'static str, &'static str)>;

/// A figure of the cost panel by its name.
fn fact(panel: &str, name: &str) -> String {
    let Some((_, rest)) = panel.split_once(&format!("<dt>{name}</dt><dd>")) else {
        return String::new();
    };
    rest.split('<').next().unwrap_or_default().to_owned()
}

/// Counted by hand: two blues against a yellow, without tints of tubes alone unless said.
#[tokio::test]
async fn every_chart_costs_what_can_be_counted() {
    let site = Site::with_trial().await;
    let plain = [("opacity", ""), ("tints", "none"), ("thinning", "none"), ("least_pile", "")];
    let four = [
        ("grid_tube", "Canopy Ultramarine"),
        ("grid_tube", "Ultramarine Blue"),
        ("grid_tube", "Lantern Yellow"),
        ("grid_tube", "Workshop Titanium"),
        ("star", ""),
        ("white", ""),
    ];
    let grid = |kind: &'static str| [four.as_slice(), &[("grid", kind)]].concat();
    let cases: Vec<(Choices, [&str; 3])> = vec![
        // Bare paper, 3 tubes, 2 ladders of 3.
        (vec![], ["10", "6", ""]),
        // A tenth of 0.125 g cannot be weighed to 0.01 g, nor one of 1 g be used up: 9 : 1 and 1 : 9
        // of each ladder are let down first, and so is 1 : 8.
        (vec![("steps", "tenths")], ["22", "22", ""]),
        (vec![("steps", "doublings"), ("step_count", "4")], ["12", "10", ""]),
        (vec![("steps", "own"), ("own_steps", "9:1, 1:9")], ["8", "8", ""]),
        (vec![("steps", "own"), ("own_steps", "90 %, 10%")], ["8", "8", ""]),
        // Both ends of both ladders once more: 4 squares.
        (vec![("anchors", "on")], ["10", "6", "4"]),
        // Over white and black too: 2 more backings, 2 more of each of 3 tubes.
        (vec![("opacity", "on")], ["18", "6", ""]),
        // The white itself, 2 tints of 3 tubes and of 6 mixtures.
        (vec![("thinning", "white"), ("whites_mixed", "1, 4")], ["29", "24", ""]),
        // A wash of 3 tubes and 6 mixtures.
        (vec![("thinning", "water")], ["19", "6", ""]),
        // Three in each of 6 mixtures, of which two are mixed first; the ends are mixtures as well:
        // the blues and the yellow, each with the third.
        (vec![("star_third", "Workshop Titanium"), ("star_share", "20")], ["13", "15", "1"]),
        // 4 tubes and 6 pairs, the tubes once more along the diagonal; in the full grid each pair
        // stands twice.
        (grid("half"), ["11", "6", "4"]),
        (grid("full"), ["11", "6", "10"]),
    ];
    for (more, [swatches, piles, again]) in cases {
        let chosen = |field: &str| more.iter().any(|(known, _)| *known == field);
        let base = plain.iter().copied().filter(|(field, _)| !chosen(field));
        let fields: Vec<(&str, &str)> = base.chain(more.iter().copied()).collect();
        let panel = site.post("/trials/cost", &trial_form(&fields)).await.text;
        let found = ["swatches", "piles to mix", "painted again"].map(|name| fact(&panel, name));
        assert_eq!(found, [swatches, piles, again], "{more:?}: {:?}", wrong(&panel));
    }
}

#[tokio::test]
async fn a_plan_is_changed_until_it_is_begun_and_copied_ever_after() {
    let site = Site::with_trial().await;
    let shown = site.get("/trials/1/change").await;
    assert!(shown.text.contains("value=\"Two blues for the roof\""));
    assert!(shown.text.contains("name=\"edition\" value=\"1\""));
    let tenths = trial_form(&[("steps", "tenths"), ("edition", "1")]);
    let kept = site.post("/trials/1/change", &tenths).await;
    assert_eq!(kept.location.as_deref(), Some("/trials/1/plan"));
    // Another page still shows the plan before: nothing of either is lost, and sent again its choices are stored.
    let stale =
        trial_form(&[("name", "Two blues, doublings"), ("steps", "doublings"), ("edition", "1")]);
    let refused = site.post("/trials/1/change", &stale).await;
    assert_eq!(refused.status, StatusCode::CONFLICT);
    assert!(refused.text.contains("Another page changed this plan meanwhile"), "{}", refused.text);
    assert!(
        refused.text.contains("value=\"Two blues, doublings\"")
            && refused.text.contains("href=\"/trials/1/plan\"")
    );
    assert!(refused.text.contains("name=\"edition\" value=\"2\""));
    assert!(site.get("/trials/1/plan").await.text.contains("Two blues for the roof"));
    let again = site.post("/trials/1/change", &stale.replace("edition=%31", "edition=%32")).await;
    assert_eq!(again.location.as_deref(), Some("/trials/1/plan"), "{}", again.text);
    assert!(site.get("/trials/1/plan").await.text.contains("Two blues, doublings"));
    let back = site.post("/trials/1/change", &tenths.replace("edition=%31", "edition=%33")).await;
    assert_eq!(back.location.as_deref(), Some("/trials/1/plan"));
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
    let copy = site.get("/trials/new?copy=1").await.text;
    assert!(copy.contains("Two blues for the roof, again"));
}

/// The form of a plan holds every choice: sent as it stands, it makes the same plan again.
#[tokio::test]
async fn a_copy_makes_the_same_plan() {
    let site = Site::with_trial().await;
    let palette = [
        ("name", "Roof"),
        ("school", "free"),
        ("any", "Lantern Yellow"),
        ("any", "Canopy Ultramarine"),
        ("white", "Workshop Titanium"),
    ];
    site.post("/palettes", &form(&palette)).await;
    let cases: [Fields<'_>; 8] = [
        &[],
        &[("palette", "1"), ("reference", ""), ("white", ""), ("tested", "Ultramarine Blue")],
        &[("steps", "own"), ("own_steps", "7:3, 1:19"), ("tints", "tested"), ("anchors", "on")],
        &[("steps", "doublings"), ("step_count", "4"), ("thinning", "none"), ("lift", "on")],
        &[("steps", "even"), ("step_count", "5"), ("whites_mixed", ""), ("opacity", "")],
        &[("thinning", "water"), ("basis", "eye"), ("wet", "on"), ("repeats", "5")],
        &[
            ("star_third", "Workshop Titanium"),
            ("star_share", "12.5"),
            ("thinning", "none"),
            ("basis", "volume"),
            ("resolution", "0.1"),
            ("least_pile", "1.5"),
            ("places", "7"),
            ("paper", "Letter"),
            ("side_mm", "17.5"),
        ],
        &[
            ("star", ""),
            ("ladder_from", "Lantern Yellow"),
            ("ladder_to", "Ultramarine Blue"),
            ("ladder_third", "Canopy Ultramarine"),
            ("ladder_share", "30"),
            ("ladder_from", "Ultramarine Blue"),
            ("ladder_to", "Workshop Titanium"),
            ("ladder_third", ""),
            ("ladder_share", ""),
            ("grid", "half"),
            ("grid_tube", "Lantern Yellow"),
            ("grid_tube", "Ultramarine Blue"),
            ("waste", "45"),
            ("alike", "0"),
        ],
    ];
    let mut trial = 1;
    for changed in cases {
        let mut plans = Vec::new();
        let mut sent = trial_form(changed);
        for _ in 0..2 {
            trial += 1;
            let planned = site.post("/trials", &sent).await;
            let wrong = wrong(&planned.text);
            let there = Some(format!("/trials/{trial}/plan"));
            assert_eq!(planned.location, there, "{changed:?}: {wrong:?}");
            let form_of_it = fields(&site.get(&format!("/trials/{trial}/change")).await.text);
            let pairs: Vec<(&str, &str)> =
                form_of_it.iter().map(|(name, text)| (name.as_str(), text.as_str())).collect();
            sent = form(&pairs);
            let mut pages = String::new();
            for page in ["plan", "mixing", "sheets"] {
                pages += &site.get(&format!("/trials/{trial}/{page}")).await.text;
            }
            // What names the trial may differ: its number, and the code on its sheets.
            let body: Vec<String> = pages
                .replace(&format!("/trials/{trial}/"), "/trials/0/")
                .replace(&format!("copy={trial}\""), "copy=0\"")
                .lines()
                .filter(|line| !line.contains("spine") && !line.contains("data-key=\"2\""))
                .map(without_code)
                .collect();
            plans.push(body);
        }
        assert!(plans[0] == plans[1], "{changed:?}");
    }
}

/// A line of a page without the modules of a sheet's code.
fn without_code(line: &str) -> String {
    let marks =
        line.split('<').filter(|mark| !mark.starts_with("rect") && !mark.starts_with("path"));
    marks.collect::<Vec<_>>().join("<")
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

/// A sheet as JSON tells whoever reads a picture of it where every square lies and what it holds.
#[tokio::test]
async fn a_sheet_is_told_to_whoever_reads_its_picture() {
    let site = Site::with_trial().await;
    let answer = site.get("/trials/1/sheets/1.json").await;
    assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
    let sheet = formats::sheet::SheetFile::read(answer.text.as_bytes()).expect("a sheet");
    let code: sheet::SheetCode = sheet.code.parse().expect("a code");
    assert_eq!((code.trial, code.sheet, sheet.marks.len()), (1, 1, 4));
    assert!(sheet.anchors.iter().all(|number| sheet.cells.iter().any(|it| it.number == *number)));
    let tint = sheet.cells.iter().find(|cell| cell.tubes.len() == 1 && cell.white_parts > 0.0);
    let tint = tint.expect("a tint");
    assert!(!tint.tubes[0].tube.is_empty() && tint.label.contains("white 1 : "), "{tint:?}");
    assert!(sheet.white.is_some_and(|white| white.code == "PW6"));
    let page = site.get("/trials/1/sheets").await.text;
    assert!(page.contains("/trials/1/sheets/1.json"));
    for nothing in ["0.json", "99.json", "1.png", "x.json", "1"] {
        let status = site.get(&format!("/trials/1/sheets/{nothing}")).await.status;
        assert_eq!(status, StatusCode::NOT_FOUND, "{nothing}");
    }
}
