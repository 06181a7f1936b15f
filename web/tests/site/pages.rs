//! Pages as they come from the server, for everything a browser need not be started for.

use axum::http::StatusCode;
use colour::Reflectance;
use instruments::{DeviceError, Meter, Specimen};
use mixing::Geometry;

use crate::common::{Site, trial_form};

#[tokio::test]
async fn a_finished_trial_shows_its_finding_its_chart_and_every_figure_at_its_address() {
    let site = Site::with_trial().await;
    site.post("/trials/1/bench/rest", "").await;
    let page = site.get("/trials/1/results").await.text;
    assert!(page.contains("<h1 class=\"finding\">Tidewell is 1.5 times as strong"));
    // Two pairs of five steps, neat and with white, all of them read; each opens its own page.
    assert_eq!(page.matches("<svg class=\"ladder\"").count(), 2);
    assert_eq!(page.matches("shape-rendering=\"crispEdges\"").count(), 2 * 5 * 2);
    assert!(!page.contains("class=\"predicted\"") && !page.contains("url(#hatch"));
    assert!(page.contains("href=\"/trials/1/results/pair/0-2\""));
    assert!(page.contains("href=\"/trials/1/results/pair/1-2\""));
    // The pair: neat, and with two parts of white. The tubes: two under test, and the reference.
    let pair = site.get("/trials/1/results/pair/0-2").await.text;
    assert_eq!(pair.matches("<svg class=\"rack\"").count(), 3);
    assert!(pair.contains("Balance point"));
    let tubes = site.get("/trials/1/results/tubes").await.text;
    assert_eq!(tubes.matches("<svg class=\"rack\"").count(), 2);
    assert_eq!(tubes.matches("shape-rendering=\"crispEdges\"").count(), 2 * 6 + 6);
    for words in ["Strength at equal depth", "Contrast ratio", "standard"] {
        assert!(tubes.contains(words) && page.contains(words), "{words}");
    }
    for path in ["pair/0-9", "pair/2-0", "pair/x"] {
        let gone = site.get(&format!("/trials/1/results/{path}")).await;
        assert_eq!(gone.status, StatusCode::NOT_FOUND, "{path}");
    }
    // The greens that these tubes make, the most vivid first; two blues and a yellow make no orange.
    let vivid = site.get("/trials/1/results/vivid?hue=green").await.text;
    let chroma = |row: &str| row.split("<td>").nth(1)?.split('<').next()?.parse::<f64>().ok();
    let found: Vec<f64> = vivid.split("vivid-chip").skip(1).filter_map(chroma).collect();
    assert!(found.len() > 3 && found.is_sorted_by(|one, other| one >= other), "{found:?}");
    assert!(
        site.get("/trials/1/results/vivid?hue=330").await.text.contains("No mixture of this trial")
    );
    // Paint alone has colour: no style names one.
    assert!(![page, pair, tubes, vivid].iter().any(|text| text.contains("style=")));
}

#[tokio::test]
async fn another_standard_turns_the_strength_round() {
    let site = Site::with_trial().await;
    site.post("/trials/1/bench/rest", "").await;
    let of = async |query: &str| {
        let figures = site.get(&format!("/trials/1/figures.json{query}")).await.text;
        let figures: serde_json::Value = serde_json::from_str(&figures).expect("JSON");
        figures["tubes"][0]["strength"]["equal_depth"]["percent"].as_f64().expect("a number")
    };
    assert!((of("").await - 100.0).abs() < 1e-9);
    assert!(of("?standard=2").await > 130.0);
    assert_eq!(site.get("/trials/1/results/tubes?standard=77").await.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn an_unread_trial_says_what_to_do() {
    let site = Site::with_trial().await;
    let page = site.get("/trials/1/results").await.text;
    assert!(page.contains("Nothing to judge yet."));
    let answer = site.get("/trials/1/readings.txt").await;
    assert_eq!(answer.status, StatusCode::CONFLICT);
    assert!(answer.text.contains("there is no valid reading to export; take one first"));
}

#[tokio::test]
async fn a_reading_is_voided_once_and_stays() {
    let site = Site::with_trial().await;
    site.lay(1, 7).await;
    site.post("/trials/1/bench/7/read", "state=wet").await;
    let voided = site.post("/trials/1/readings/1/void", "reason=smudged&back=7").await;
    assert_eq!(voided.location.as_deref(), Some("/trials/1/bench/7"));
    let again = site.post("/trials/1/readings/1/void", "reason=other").await;
    assert_eq!(again.status, StatusCode::CONFLICT);
    assert!(again.text.contains("this reading is void already; its first reason stays"));
    let list = site.get("/trials/1/readings").await.text;
    assert!(list.contains("smudged") && list.contains("wet 1"));
    let file = site.get("/trials/1/readings.csv").await;
    assert!(file.text.contains(",wet,paper,1,0,meter,yes,smudged,"));
    assert_eq!(
        file.disposition.as_deref(),
        Some("attachment; filename=\"two-blues-for-the-roof.csv\"")
    );
}

#[tokio::test]
async fn the_bench_goes_on_from_the_first_open_swatch() {
    let site = Site::with_trial().await;
    // Bare backings are read last: the white comes first, and what was read has been laid.
    let next = site.get("/trials/1/bench").await;
    assert_eq!(next.location.as_deref(), Some("/trials/1/bench/4"));
    site.lay(1, 4).await;
    let next = site.get("/trials/1/bench").await;
    assert_eq!(next.location.as_deref(), Some("/trials/1/bench/23"));
    let page = site.get("/trials/1/bench/31").await.text;
    for words in ["Canopy Ultramarine + Lantern Yellow", "3.00", "1.00", "to be laid"] {
        assert!(page.contains(words), "{words}");
    }
    assert_eq!(site.get("/trials/1/bench/999").await.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn wrong_forms_come_back_with_what_was_typed() {
    let site = Site::with_trial().await;
    let changed = [("name", "Kept"), ("tested", "Canopy"), ("resolution", "0")];
    let trial = site.post("/trials", &trial_form(&changed)).await;
    assert_eq!(trial.status, StatusCode::UNPROCESSABLE_ENTITY);
    for words in [
        "value=\"Kept\"",
        "value=\"Canopy\"",
        "no tube on the shelf is called “Canopy”",
        "such as Canopy Ultramarine",
        "a scale of 0 g weighs nothing",
    ] {
        assert!(trial.text.contains(words), "{words}");
    }
    let lab = site.post("/trials/1/bench/1/type", "l=&a=1&b=999&state=dry").await;
    assert_eq!(lab.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(lab.text.contains("999 is out of range; write -150 to 150"));
    assert!(lab.text.contains("name=\"a\" value=\"1\""));
}

/// Names are the user's: whatever they hold is shown as text.
#[tokio::test]
async fn a_name_cannot_smuggle_markup_in() {
    let site = Site::with_trial().await;
    let nasty = "%3Cscript%3Ealert(1)%3C%2Fscript%3E%22%27%3Cb%3E";
    let form = format!("name={nasty}&maker={nasty}&codes=&grade=artist&medium=acrylic");
    site.post("/shelf/1", &form).await;
    site.post("/trials/1/bench/rest", "").await;
    for path in [
        "/shelf",
        "/trials/new",
        "/trials/1/plan",
        "/trials/1/bench/7",
        "/trials/1/readings",
        "/trials/1/results",
    ] {
        let page = site.get(path).await.text;
        assert!(!page.contains("<script>alert") && !page.contains("\"'<b>"), "{path}");
        assert!(page.contains("&#60;script&#62;alert"), "{path} does not show the name");
    }
}

#[tokio::test]
async fn a_bad_upload_stores_nothing_and_keeps_the_name() {
    let site = Site::with_trial().await;
    let cases: [(&[u8], &str); 3] = [
        (b"", "the file is empty"),
        (b"tube\xff", "this is not UTF-8 text"),
        (b"tube,maker\nA,B\n", "line 1, column 2: the column “code” is missing"),
    ];
    for (file, message) in cases {
        let answer = site.upload("My trial", "readings.csv", file).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{message}");
        assert!(answer.text.contains(message), "{message}");
        assert!(answer.text.contains("value=\"My trial\""), "{message}");
    }
    let none = site.upload("My trial", "", b"").await;
    assert!(none.text.contains("choose a readings file"), "{}", none.text);
    assert!(!site.get("/trials").await.text.contains("My trial"));
}

/// A meter whose cable was pulled.
struct Unplugged;

impl Meter for Unplugged {
    fn name(&self) -> &str {
        "unplugged meter"
    }

    fn simulated(&self) -> bool {
        false
    }

    fn geometry(&self) -> Geometry {
        Geometry::FortyFive
    }

    fn repeatability(&self) -> f64 {
        0.05
    }

    fn read(&mut self, _: &Specimen) -> Result<Reflectance, DeviceError> {
        Err(DeviceError::Silent("meter"))
    }
}

#[tokio::test]
async fn a_silent_meter_records_nothing_and_typing_still_works() {
    let site = Site::with_meter(Unplugged).await;
    site.lay(1, 7).await;
    let answer = site.post("/trials/1/bench/7/read", "state=dry").await;
    assert_eq!(answer.status, StatusCode::SERVICE_UNAVAILABLE);
    assert!(answer.text.contains("the meter does not answer; check its cable"));
    // It is waited for, and what is typed takes its place.
    assert!(answer.text.contains("Waiting for the meter: leave its head on cell 7"));
    let typed = site.post("/trials/1/bench/7/type", "l=28&a=12&b=-38&state=dry").await;
    assert_eq!(typed.status, StatusCode::SEE_OTHER);
    assert!(!site.get("/trials/1/bench/7").await.text.contains("Waiting for the meter"));
    let readings = site.get("/trials/1/readings").await.text;
    assert!(readings.contains("by hand") && readings.contains("L* 28.0"));
    assert_eq!(readings.matches("class=\"reading-state\"").count(), 1);
    // The trial takes its geometry from the meter, and the export says so.
    assert!(site.get("/trials/1/readings.csv").await.text.contains("# geometry: 45:0\n"));
}

#[tokio::test]
async fn a_shelf_file_is_previewed_before_it_is_stored() {
    let site = Site::with_trial().await;
    let file = "maker,line,name,codes,left_ml,notes\n\
                Tidewell,,Canopy Ultramarine,PB29,17.5,\"two\nlines\"\n\
                Nettlebed,,Leaf Green,PG36 PY83,,\n\
                Nettlebed,,Odd,Green,,\n\
                Tidewell,,Lantern Yellow,PY74,,\n";
    let preview = site.upload_to("/shelf/import", "", "shelf.csv", file.as_bytes()).await.text;
    for words in [
        "1 tube would be added, 1 corrected; 1 stand so already, 1 are refused.",
        "left_ml: empty → 17.5",
        "codes: “Green” is not a Colour Index name",
    ] {
        assert!(preview.contains(words), "{words} in {preview}");
    }
    // Nothing yet.
    assert!(!site.get("/shelf").await.text.contains("Leaf Green"));
    // The form sends line ends as CR LF.
    let text = file.replace('\n', "%0D%0A").replace(' ', "+").replace('"', "%22");
    let stored = site.post("/shelf/import/confirm", &format!("text={text}")).await;
    assert_eq!(stored.location.as_deref(), Some("/shelf"));
    let saved = site.get("/shelf/shelf.csv").await;
    assert_eq!(saved.disposition.as_deref(), Some("attachment; filename=\"shelf.csv\""));
    assert!(saved.text.contains("Leaf Green,PG36 PY83") && saved.text.contains("\"two\nlines\""));
    assert!(!saved.text.contains("Odd"));
    // A second time there is nothing to do but what is refused.
    let again = site.upload_to("/shelf/import", "", "shelf.csv", file.as_bytes()).await.text;
    assert!(again.contains("0 tubes would be added, 0 corrected; 3 stand so already"));
    let broken = site.upload_to("/shelf/import", "", "shelf.csv", b"maker\nA\n").await;
    assert_eq!(broken.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(broken.text.contains("the column “name” is missing"));
}

#[tokio::test]
async fn the_shelf_is_searched_and_its_traps_lead_to_a_comparison() {
    let site = Site::with_trial().await;
    let names = async |query: &str| -> usize {
        site.get(&format!("/shelf{query}")).await.text.matches("class=\"tube-name\"").count()
    };
    assert_eq!(names("").await, 4);
    for (query, found) in [
        ("?q=ultramarine", 2),
        ("?family=yellow", 1),
        ("?code=pb29&maker=Nettlebed", 1),
        ("?untested=1&order=hue", 4),
        ("?q=nobody", 0),
        ("?code=blue", 4),
    ] {
        assert_eq!(names(query).await, found, "{query}");
    }
    assert!(site.get("/shelf?code=blue").await.text.contains("“blue” is not a Colour Index name"));
    // What was never read is tried first; then the two stand beside each other.
    let plan = "/trials/new?tested=1&#38;tested=2";
    assert!(site.get("/shelf").await.text.contains(plan));
    site.post("/trials/1/bench/rest", "").await;
    assert_eq!(names("?untested=1").await, 0);

    let shelf = site.get("/shelf").await.text;
    assert!(shelf.contains("the same PB29 by Nettlebed"));
    assert!(shelf.contains("/compare?tube=1&#38;tube=2") && !shelf.contains(plan));
    let form = site.get("/trials/new?tested=1&tested=2").await.text;
    for tube in ["Canopy Ultramarine · Tidewell · PB29", "Ultramarine Blue · Nettlebed · PB29"]
    {
        assert!(form.contains(&format!("name=\"tested\" value=\"{tube}\"")), "{tube}");
    }
    let tube = site.get("/shelf/1").await.text;
    assert!(tube.contains("sodium aluminium sulfosilicate (ultramarine)"));
    assert!(tube.contains("does not mean that a paint is safe"));
}

/// Works with 2,000 tubes; the benchmark tells how fast.
#[tokio::test]
async fn a_large_shelf_is_listed() {
    let site = Site::with_trial().await;
    let rows: String =
        (0..2000).map(|at| format!("Maker+{},Tube+{at},PB{}%0A", at % 7, at % 60 + 1)).collect();
    let stored =
        site.post("/shelf/import/confirm", &format!("text=maker,name,codes%0A{rows}")).await;
    assert_eq!(stored.location.as_deref(), Some("/shelf"));
    let mut found = 0;
    for page in 1..=11 {
        let page = site.get(&format!("/shelf?order=hue&page={page}")).await.text;
        found += page.matches("class=\"tube-name\"").count();
    }
    assert_eq!(found, 2004);
}

/// A file of very many mixtures is told in parts: ladders of a hundred steps, and lists a page at a time.
#[tokio::test]
async fn very_many_mixtures_are_told_in_parts() {
    let site = Site::with_trial().await;
    let mut file = String::from(
        "# white: W\ntube,maker,code,with,parts,with_parts,with2,with2_parts,white_parts,state,backing,repeat,L,a,b\n\
         W,,PW6,,1,,,,,dry,paper,1,96,0,2\n",
    );
    for at in 1..=201 {
        let (parts, l) = (1.05_f64.powi(at), 20.0 + f64::from(at) / 4.0);
        file += &format!("A,,PB29,B,{parts},30,,,,dry,paper,1,{l},5,-20\n");
        file += &format!("A,,PB29,B,{parts},30,C,10,,dry,paper,1,{l},5,-20\n");
    }
    let sent = site.upload("Many", "many.csv", file.as_bytes()).await;
    assert_eq!(sent.location.as_deref(), Some("/trials/2/results"), "{}", sent.text);
    let results = site.get("/trials/2/results").await.text;
    assert!(results.contains("A ladder shows 100 steps at most."), "{results}");
    let list = site.get("/trials/2/results/mixtures?page=2").await.text;
    assert!(
        list.contains("201 to 201 of 201") && list.matches("class=\"did\"").count() == 1,
        "{list}"
    );
}
