//! The bench, as the server shows it.

use std::collections::HashSet;

use axum::http::StatusCode;
use colour::Reflectance;
use instruments::simulated::{MixingTable, SimulatedMeter};
use instruments::{DeviceError, Meter, Specimen};
use mixing::Geometry;
use store::Store;
use workshop::Workshop;

use crate::common::{Site, trial_form};

/// Where the link or button of this key leads.
fn link(page: &str, key: &str) -> Option<String> {
    let (before, _) =
        page.split_once(&format!("\" data-key=\"{key}\" data-key-label=\"Next swatch"))?;
    before.rsplit_once("href=\"").map(|(_, href)| href.to_owned())
}

#[tokio::test]
async fn next_leads_through_every_swatch_in_the_order_of_work() {
    let site = Site::with_trial().await;
    let mut here = site.get("/trials/1/bench").await.location.expect("a first swatch");
    let (mut seen, mut verbs) = (HashSet::new(), Vec::new());
    loop {
        assert!(seen.insert(here.clone()), "{here} comes twice");
        let page = site.get(&here).await.text;
        for verb in ["Mix, on place", "Tint, on place"] {
            if page.contains(verb) {
                verbs.push(verb);
            }
        }
        match link(&page, "n") {
            Some(next) => here = next,
            None => break,
        }
    }
    assert_eq!(seen.len(), 48);
    // Each mixture is mixed before it is tinted: 6 of them and 12 tints, 15 tints of tubes alone.
    assert_eq!(verbs.iter().filter(|verb| verb.starts_with("Mix")).count(), 6);
    assert_eq!(verbs.len(), 6 + 12 + 15);
}

#[tokio::test]
async fn a_reading_is_judged_at_once() {
    let site = Site::with_trial().await;
    // What one trial read of the tubes tells the next what to expect.
    site.post("/trials/1/bench/rest", "").await;
    let again =
        site.post("/trials", &trial_form(&[("name", "Again"), ("steps", "quarters")])).await;
    assert_eq!(again.location.as_deref(), Some("/trials/2/plan"));
    let before = site.get("/trials/2/bench/31").await.text;
    assert!(before.contains("predicted") && !before.contains("at-once"));
    for cell in 31..=33 {
        site.lay(2, cell).await;
    }
    site.post("/trials/2/bench/31/read", "state=dry").await;
    let fine = site.get("/trials/2/bench/31").await.text;
    assert!(fine.contains("As expected: ΔE"));
    // Another colour altogether: the cell beside it, or nothing that can be named surely.
    site.post("/trials/2/bench/32/type", "l=50&a=60&b=40&state=dry").await;
    let wrong = site.get("/trials/2/bench/32").await.text;
    assert!(wrong.contains("is-wrong") && wrong.contains("Not what this mixture should be"));

    // A repeat that does not belong is pointed out while the swatch is there, and voiding it helps.
    for lab in ["l=30&a=5&b=-9", "l=30.1&a=5&b=-9", "l=33&a=5&b=-9"] {
        site.post("/trials/2/bench/33/type", &format!("{lab}&state=dry")).await;
    }
    let page = site.get("/trials/2/bench/33").await.text;
    assert!(page.contains("Reading 3 stands apart from the others"));
    let (_, rest) = page.split_once("/trials/2/readings/").expect("a reading to void");
    let (reading, _) = rest.split_once('/').expect("its number");
    site.post(&format!("/trials/2/readings/{reading}/void"), "reason=slipped").await;
    assert!(!site.get("/trials/2/bench/33").await.text.contains("stands apart"));
}

#[tokio::test]
async fn a_step_that_jumps_is_said_with_what_would_halve_it() {
    let site = Site::with_trial().await;
    site.post("/trials/1/bench/rest", "").await;
    // The blue swamps the yellow in quarters: some mixture of the two has the jump beside it.
    let mut said = Vec::new();
    for number in 31..=48 {
        let page = site.get(&format!("/trials/1/bench/{number}")).await.text;
        if let Some((_, rest)) = page.split_once("The step from ") {
            said.push(rest.split_once("</p>").expect("its end").0.to_owned());
        }
    }
    assert!(!said.is_empty());
    for sentence in said {
        assert!(sentence.contains(" to 0 : 1 is ΔE"), "{sentence}");
        assert!(sentence.contains("One more at 1 : "), "{sentence}");
    }
}

/// A tube after the other is read wet; the second trial's wet mixture is judged while it is wet.
#[tokio::test]
async fn a_wet_reading_is_judged_while_the_paint_is_wet() {
    let site = Site::with_trial().await;
    site.post("/trials/1/bench/rest", "").await;
    for number in 4..=48 {
        site.post(&format!("/trials/1/bench/{number}/read"), "state=wet&again=yes").await;
    }
    let again = site.post("/trials", &trial_form(&[("wet", "on")])).await;
    assert_eq!(again.location.as_deref(), Some("/trials/2/plan"));
    site.lay(2, 34).await;
    site.lay(2, 37).await;
    site.post("/trials/2/bench/34/read", "state=wet").await;
    let page = site.get("/trials/2/bench/34").await.text;
    assert!(page.contains("As expected"), "{page}");
    site.post("/trials/2/bench/37/type", "l=50&a=60&b=40&state=wet").await;
    let page = site.get("/trials/2/bench/37").await.text;
    assert!(page.contains("Not what this mixture should be"), "{page}");
}

#[tokio::test]
async fn what_was_really_mixed_is_asked_at_its_field_and_kept() {
    let site = Site::with_trial().await;
    let page = site.get("/trials/1/bench/31").await.text;
    let keys: Vec<&str> = page
        .split("name=\"line\" value=\"")
        .skip(1)
        .filter_map(|rest| rest.split_once('"').map(|(key, _)| key))
        .collect();
    let [.., first, second] = keys.as_slice() else { panic!("{keys:?}") };
    let lay = |amounts: [&str; 2], tube: &str| {
        let typed: String = keys
            .iter()
            .map(|key| {
                let (amount, tube) = match key {
                    key if key == first => (amounts[0], tube),
                    key if key == second => (amounts[1], ""),
                    _ => ("", ""),
                };
                format!("line={key}&amount={amount}&tube={tube}&")
            })
            .collect();
        format!("{typed}token=t")
    };
    // Whatever is wrong is said at its field, and what was typed stays.
    for (amounts, tube, said) in [
        (["0.004", "1.2"], "", "0.004 is less than the last digit of the scale, 0.01"),
        (["a lot", "1.2"], "", "“a lot” is not a number; write it as 1.98"),
        (["-1", "1.2"], "", "Enter the weight the scale shows, such as 1.98"),
        (["0", "1.2"], "", "Enter the weight the scale shows, such as 1.98"),
        (["1", "1.2"], "Peacock", "no tube on the shelf is called “Peacock”"),
    ] {
        let refused = site.post("/trials/1/bench/31/lay", &lay(amounts, tube)).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(refused.text.contains(said), "{said}");
        assert!(refused.text.contains("value=\"1.2\""));
    }
    assert!(site.get("/trials/1/bench/31").await.text.contains("to be laid"));

    // Another blue in the first one's place, twice sent: it is laid once, and reads as that blue.
    let laid = lay(["3.1", "1.2"], "Ultramarine+Blue");
    for _ in 0..2 {
        let done = site.post("/trials/1/bench/31/lay", &laid).await;
        assert_eq!(done.location.as_deref(), Some("/trials/1/bench"));
    }
    let page = site.get("/trials/1/bench/31").await.text;
    assert!(page.contains("Recorded last: cell 31 laid") && page.contains("1 drying"));
    site.post("/trials/1/bench/31/read", "state=dry").await;
    let csv = site.get("/trials/1/readings.csv").await.text;
    let row = csv.lines().last().expect("the reading");
    assert!(
        row.starts_with("Ultramarine Blue,Nettlebed,PB29,Lantern Yellow,3.1,1.2,,dry,"),
        "{row}"
    );
    // The plan is frozen by what was done.
    assert_eq!(site.get("/trials/1/change").await.status, StatusCode::CONFLICT);

    // Spoilt after a note: the words stay in the results' sight, and it is asked for again.
    let note = "word=streaky&word=dries+fast&note=too+thick";
    site.post("/trials/1/bench/7/note", note).await;
    site.post("/trials/1/bench/31/spoil", "reason=wrong+tube").await;
    let page = site.get("/trials/1/bench/31").await.text;
    for words in
        ["to be laid", "painted before, and void: wrong tube", "Painted again, it takes 0.12 g."]
    {
        assert!(page.contains(words), "{words}");
    }
    assert!(site.get("/trials/1/bench/7").await.text.contains("streaky, dries fast, too thick"));
    let log = site.get("/trials/1/bench.csv").await.text;
    let told: Vec<&str> =
        log.lines().map(|line| line.split_once(',').map_or(line, |(_, rest)| rest)).collect();
    assert_eq!(told[0], "what,cell,how,put_together,said,void");
    assert!(
        told.iter().any(|row| {
            row.starts_with("mixed,,weight,3.1 g Ultramarine Blue + 1.2 g Lantern Yellow,step ")
        }),
        "{log}"
    );
    for row in
        ["laid,31,,,,", "noted,7,,,\"streaky, dries fast, too thick\",", "spoilt,31,,,wrong tube,"]
    {
        assert!(told.contains(&row), "{row}: {log}");
    }
    let weigh = site.post("/trials/1/weigh", "about=1").await.text;
    assert!(weigh.contains("the scale does not answer") && weigh.contains("or type the weight"));
}

/// A meter that keeps its readings in a file: they go into the cells of the run, once.
#[tokio::test]
async fn readings_of_a_file_find_their_cells() {
    let site = Site::with_trial().await;
    let import = "/trials/1/readings/import";
    let file = |rows: &str| {
        format!(
            "# upright-swatch readings 1\n# white: Workshop Titanium\ntube,maker,code,with,parts,\
             with_parts,white_parts,state,backing,repeat,L,a,b,void\n{rows}"
        )
    };
    let good = file(
        "Canopy Ultramarine,Tidewell,,Lantern Yellow,3,1,,dry,paper,1,31,-3,-6,\n\
         canopy ultramarine,,,,1,,8,wet,paper,1,70,-1,-26,\n\
         ,,,,,,,dry,black,1,5,0,0,head not flat\n",
    );
    let lists = ["stored=3&there=0", "stored=0&there=3"];
    for told in lists.map(|told| format!("/trials/1/readings?{told}")) {
        let told = told.as_str();
        let taken = site.upload_to(import, "", "meter.csv", good.as_bytes()).await;
        assert_eq!(taken.location.as_deref(), Some(told), "{}", taken.text);
        assert_eq!(taken.status, StatusCode::SEE_OTHER);
    }
    let told = site.get("/trials/1/readings?stored=0&there=3").await.text;
    assert!(told.contains("0 readings stored from the file, 3 were there already, none refused."));
    let csv = site.get("/trials/1/readings.csv").await.text;
    let rows: Vec<&str> =
        csv.lines().filter(|line| line.contains("dry") || line.contains("wet")).collect();
    assert_eq!(rows.len(), 3, "{csv}");
    let mixed = "Canopy Ultramarine,Tidewell,PB29,Lantern Yellow,3,1,";
    assert!(rows.iter().any(|row| row.starts_with(mixed)), "{csv}");
    assert!(csv.contains("head not flat"));

    // What has no cell is said with its line, and nothing of the file is stored.
    for (row, said) in [
        (
            "Peacock,Tidewell,,,1,,,dry,paper,1,31,-3,-6,\n",
            "line 4: the trial has no tube “Tidewell Peacock”",
        ),
        (
            "Canopy Ultramarine,,,Lantern Yellow,5,1,,dry,paper,1,31,-3,-6,\n",
            "line 4: no cell of this trial holds",
        ),
        ("Canopy Ultramarine,,,,x,,,dry,paper,1,31,-3,-6,\n", "“x” is not a number"),
    ] {
        let refused = site.upload_to(import, "", "meter.csv", file(row).as_bytes()).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(refused.text.contains(said), "{said}: {}", refused.text);
    }
    assert_eq!(site.get("/trials/1/readings.csv").await.text, csv);
}

/// A meter whose lamp fades.
struct Fading(SimulatedMeter, f64);

impl Meter for Fading {
    fn name(&self) -> &str {
        "fading meter"
    }
    fn simulated(&self) -> bool {
        false
    }
    fn geometry(&self) -> Geometry {
        self.0.geometry()
    }
    fn repeatability(&self) -> f64 {
        self.0.repeatability()
    }
    fn read(&mut self, specimen: &Specimen) -> Result<Reflectance, DeviceError> {
        self.1 *= 0.99;
        let read = self.0.read(specimen)?;
        Ok(Reflectance::from_fn(|band| read.bands()[band] * self.1))
    }
}

#[tokio::test]
async fn drift_is_said_and_what_was_read_meanwhile_is_marked() {
    let meter = Fading(SimulatedMeter::new(1, MixingTable::default()), 1.0);
    let site = Site::with_meter(meter).await;
    let page = site.get("/trials/1/bench/1").await.text;
    assert!(page.contains("Read the white tile before the first reading"), "{page}");
    for choice in ["white", "check"] {
        site.post("/trials/1/bench/1/tile", &format!("choice={choice}")).await;
    }
    assert!(site.get("/trials/1/bench/1").await.text.contains("Take a reading <kbd>Enter"));
    for _ in 0..3 {
        site.post("/trials/1/bench/1/read", "state=dry").await;
    }
    site.post("/trials/1/bench/1/tile", "choice=white").await;
    let page = site.get("/trials/1/bench/1").await.text;
    assert!(page.contains("the meter has drifted. Calibrate it"), "{page}");
    assert!(page.contains("3 readings taken in between are marked."), "{page}");
    assert_eq!(page.matches("the meter had drifted").count(), 3);
    assert_eq!(site.get("/trials/1/readings").await.text.matches("while it drifted").count(), 3);
}

/// Each test of the dry paint is asked for in its turn, with its own prompt.
#[tokio::test]
async fn bar_lift_and_granulation_are_steps_of_their_own() {
    let store = Store::in_memory().await.expect("open");
    let meter = SimulatedMeter::new(1, MixingTable::default());
    let app = Workshop::new(store).with_meter(meter).with_simulated_camera(1);
    let site = Site::over(app).await;
    let planned = site.post("/trials", &trial_form(&[("lift", "on"), ("repeats", "1")])).await;
    assert_eq!(planned.location.as_deref(), Some("/trials/2/plan"));
    let plan = site.get("/trials/2/plan").await.text;
    assert!(plan.contains("Canopy Ultramarine"));
    let asks = async |trial: u32, cell: u32, wanted: &str| {
        let page = site.get(&format!("/trials/{trial}/bench/{cell}")).await.text;
        assert!(page.contains(wanted), "{wanted}: {page}");
    };
    let act = async |trial: u32, cell: u32, what: &str, form: &str| {
        let done = site.post(&format!("/trials/{trial}/bench/{cell}/{what}"), form).await;
        assert_eq!(done.status, StatusCode::SEE_OTHER, "{what}");
    };
    let cell = cell_of(&site, 2, "Canopy Ultramarine mass tone\"").await;
    asks(2, cell, "to be laid").await;
    act(2, cell, "lay", "").await;
    asks(2, cell, "Leave it: dry in 45 min").await;
    act(2, cell, "dry", "").await;
    asks(2, cell, "reading 1 of 1, dry").await;
    act(2, cell, "read", "state=dry").await;
    asks(2, cell, "Lift its right half").await;
    act(2, cell, "lift", "").await;
    asks(2, cell, "Leave it: dry in 45 min").await;
    act(2, cell, "dry", "").await;
    asks(2, cell, "reading 1 of 1, lifted").await;
    act(2, cell, "read", "state=lifted").await;
    asks(2, cell, "Go on <kbd>Enter").await;
    // Half of it is lifted: a picture tells what that left, and what the dry half is.
    let drawn = site.post("/trials/2/pictures/drawn", "sheet=1").await;
    let picture = site.get(&drawn.location.expect("its page")).await.text;
    assert!(picture.contains("Canopy Ultramarine mass tone: staining about"), "{picture}");

    let black = cell_of(&site, 2, "Canopy Ultramarine mass tone over black\"").await;
    act(2, black, "lay", "").await;
    act(2, black, "dry", "").await;
    asks(2, black, "How much of the black bar shows through").await;
    assert_eq!(
        site.post(&format!("/trials/2/bench/{black}/bar"), "choice=some").await.status,
        StatusCode::BAD_REQUEST
    );
    act(2, black, "bar", "choice=plain").await;
    asks(2, black, "the bar by eye: plain (semi-transparent, an estimate)").await;
    // What is laid cannot be left out; what is left out comes again at the end.
    let skipped = site.post(&format!("/trials/2/bench/{black}/skip"), "").await;
    assert_eq!(skipped.status, StatusCode::CONFLICT);
    let yellow = cell_of(&site, 2, "Lantern Yellow mass tone over black\"").await;
    act(2, yellow, "skip", "").await;
    let next = site.get("/trials/2/bench").await.location.expect("due");
    assert!(!next.ends_with(&format!("/{yellow}")), "{next}");
    asks(2, yellow, "1 left out").await;

    // In water media a wash shows how the pigment settles.
    let wash = [("thinning", "water"), ("repeats", "1")];
    site.post("/trials", &trial_form(&wash)).await;
    let thin = cell_of(&site, 3, "Canopy Ultramarine mass tone, thin\"").await;
    act(3, thin, "lay", "").await;
    act(3, thin, "dry", "").await;
    act(3, thin, "read", "state=dry").await;
    asks(3, thin, "how did it dry?").await;
    act(3, thin, "grain", "choice=slight").await;
    asks(3, thin, "granulation by eye: slight").await;
    let full = cell_of(&site, 3, "Canopy Ultramarine mass tone\"").await;
    act(3, full, "lay", "").await;
    act(3, full, "read", "state=dry").await;
    assert!(site.get("/trials/3/results").await.text.contains("Granulation by eye"));
}

/// The number of the cell with this label, from the map.
async fn cell_of(site: &Site, trial: u32, label: &str) -> u32 {
    let page = site.get(&format!("/trials/{trial}/bench/1")).await.text;
    let wanted = format!(": {}</title>", label.trim_end_matches('"'));
    let (before, _) = page.split_once(&wanted).expect("a cell of this label");
    let (_, number) = before.rsplit_once("<title>").expect("a title");
    number.parse().expect("a number")
}

/// A mixture that was put out by eye is given the ratio that its colour tells, by one press; it never feeds
/// a fit, and taking it back gives the ratio that was meant.
#[tokio::test]
async fn an_estimated_ratio_becomes_the_ratio_of_record() {
    let site = Site::with_trial().await;
    let at = |act: &str| format!("/trials/1/bench/31/{act}");
    site.post(&at("lay"), "how=eye&token=l").await;
    site.post("/trials/1/bench/rest", "").await;
    let estimated = async || -> usize {
        let figures = site.get("/trials/1/figures.json").await.text;
        let figures: serde_json::Value = serde_json::from_str(&figures).expect("JSON");
        let pairs = figures["pairs"].as_array().expect("pairs");
        let steps = pairs.iter().flat_map(|pair| pair["steps"].as_array().expect("steps"));
        steps.filter(|step| step["ratio_estimated"] == true).count()
    };
    assert_eq!(estimated().await, 0);
    let page = site.get("/trials/1/bench/31").await.text;
    assert!(
        page.contains("Estimated ratio: 1 part of") && page.contains("Use this ratio"),
        "{page}"
    );
    let taken = site.post(&at("ratio"), "token=e").await;
    assert_eq!(taken.status, StatusCode::SEE_OTHER);
    let page = site.get("/trials/1/bench/31").await.text;
    assert!(
        page.contains("as estimated (±") && page.contains("estimated ratio of cell 31"),
        "{page}"
    );
    assert_eq!(estimated().await, 1);
    // A second press finds nothing to estimate.
    assert_eq!(site.post(&at("ratio"), "token=again").await.status, StatusCode::CONFLICT);
}

/// A trial that is judged by eye ends when everything is laid; a reading may still be added.
#[tokio::test]
async fn a_trial_by_eye_is_finished_when_all_is_laid() {
    let site = Site::with_trial().await;
    let form =
        trial_form(&[("name", "By eye"), ("repeats", "0"), ("basis", "eye"), ("opacity", "")]);
    let planned = site.post("/trials", &form).await;
    assert_eq!(planned.location.as_deref(), Some("/trials/2/plan"));
    let plan = site.get("/trials/2/plan").await.text;
    assert!(plan.contains("swatches, judged by eye."), "{plan}");
    assert!(!plan.contains("Bare backings") && !plan.contains("over white"));
    let state = async || {
        let list = site.get("/trials").await.text;
        let (row, _) = list.split_once("Two blues for the roof").expect("the older one below");
        ["planned", "at the bench", "finished"]
            .into_iter()
            .find(|it| row.contains(&format!("<td>{it}</td>")))
    };
    assert_eq!(state().await, Some("planned"));
    let mut laid = 0;
    while let Some(next) = site.get("/trials/2/bench").await.location {
        let page = site.get(&next).await.text;
        if !page.contains("/lay\"") {
            break;
        }
        // What is put out by eye is not measured, and no button says so again.
        assert!(!page.contains("measured, ml") && !page.contains("Mixed by eye"), "{page}");
        site.post(&format!("{next}/lay"), "").await;
        laid += 1;
        if laid == 1 {
            assert_eq!(state().await, Some("at the bench"));
        }
        assert!(laid < 60, "it never ends");
    }
    assert_eq!(state().await, Some("finished"));
    let results = site.get("/trials/2/results").await.text;
    assert!(results.contains(&format!("{laid} of {laid} swatches laid.")), "{results}");
    assert!(results.contains("This trial is judged by eye"));
    // A swatch that does not count is to be painted again; a colour that is typed is a reading as any other.
    site.post("/trials/2/bench/2/spoil", "reason=streaks").await;
    assert_eq!(state().await, Some("at the bench"));
    site.post("/trials/2/bench/2/lay", "").await;
    let typed = site.post("/trials/2/bench/2/type", "l=30&a=10&b=-40&state=dry").await;
    assert_eq!(typed.status, StatusCode::SEE_OTHER, "{}", typed.text);
    assert_eq!(state().await, Some("finished"));
    let readings = site.get("/trials/2/readings").await.text;
    assert!(readings.contains("by hand"), "{readings}");
}
