//! From two tubes to a comparison, and into another workshop, as a user would go.

use std::error::Error;

use e2e::{Browser, ServedWorkshop};
use thirtyfour::Key;

type Outcome = Result<(), Box<dyn Error>>;

const TUBES: [(&str, &str, &str); 4] = [
    ("Tidewell", "Canopy Ultramarine", "PB29"),
    ("Nettlebed", "Ultramarine Blue", "PB29"),
    ("Tidewell", "Lantern Yellow", "PY74"),
    ("Tidewell", "Workshop Titanium", "PW6"),
];

async fn add_tube(browser: &Browser, (maker, name, codes): (&str, &str, &str)) -> Outcome {
    browser.click("Add a tube").await?;
    browser.fill("#name", name).await?;
    browser.fill("#maker", maker).await?;
    browser.fill("#codes", codes).await?;
    browser.click("Save tube").await
}

#[tokio::test(flavor = "multi_thread")]
async fn from_two_tubes_to_a_comparison_and_into_another_workshop() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::open().await?, Browser::start().await?);
    browser.open(&workshop.url("/")).await?;

    // A slip of the pen is answered at its field, and nothing typed is lost.
    add_tube(&browser, ("Tidewell", "Canopy Ultramarine", "PB2g")).await?;
    browser.shows("#codes-note", "“PB2g” is not a Colour Index name").await?;
    assert_eq!(browser.value("#name").await?, "Canopy Ultramarine");
    browser.click("Cancel").await?;
    for (count, tube) in (1..).zip(TUBES) {
        add_tube(&browser, tube).await?;
        browser.counts(".shelf-table .tube-name", count).await?;
    }

    // Plan.
    browser.click("Plan").await?;
    browser.click("Plan a trial").await?;
    browser.click("Something else").await?;
    browser.fill("#name", "Two ultramarines").await?;
    browser.fill("#tested div:nth-child(1) input", "Canopy Ultramarine").await?;
    browser.fill("#tested div:nth-child(2) input", "Ultramarine Blue").await?;
    browser.fill("#reference div:nth-child(1) input", "Lantern Yellow").await?;
    browser.fill("#white", "Workshop Titanium").await?;
    browser.click("Adjust").await?;
    browser.click("references too").await?;
    browser.click("quarters").await?;
    browser.fill("#whites_mixed", "1, 4").await?;
    browser.fill("#least_pile", "4").await?;
    browser.shows("#verdict", "48 swatches on 2 sheets").await?;
    browser.click("Save plan").await?;
    browser.shows(".page-head", "3 readings of each of 48 swatches, 144 to take.").await?;

    // Bench: the white is swatched first. Bare paper can be read at any time: by keyboard alone, then one
    // reading voided and taken again.
    browser.click("To the bench").await?;
    browser.shows(".bench-button.is-main", "Swatched").await?;
    let bench = browser.address().await?;
    let (bench, _) = bench.rsplit_once('/').ok_or("a cell")?;
    browser.open(&format!("{bench}/1")).await?;
    for tile in ["Read the white tile", "Read the check tile"] {
        browser.shows(".bench-button.is-main", tile).await?;
        browser.press(Key::Enter + "").await?;
    }
    browser.shows(".bench-button.is-main", "Take a reading").await?;
    for reading in ["1 of 3", "2 of 3", "3 of 3"] {
        browser.shows(".bench-state", reading).await?;
        browser.press(Key::Enter + "").await?;
    }
    browser.counts(".bench-readings li", 3).await?;
    browser.void_last("smudged").await?;
    browser.press(Key::Enter + "").await?;
    browser.counts(".bench-readings li", 4).await?;
    browser.press(Key::Enter + "").await?;
    browser.shows(".bench-cell strong", "4").await?;
    browser.click("Read all that is left").await?;

    // The finding, its figures and what was voided.
    browser.shows(".trial-state", "finished").await?;
    let finding = browser.text(".finding").await?;
    assert!(
        finding.starts_with("Tidewell is 1.") && finding.ends_with("as strong as Nettlebed."),
        "{finding}"
    );
    let evidence = browser.text(".evidence").await?;
    // The other tube as the standard turns the figure round.
    browser.click("Tubes alone").await?;
    browser.choose("#standard", "Nettlebed Ultramarine Blue").await?;
    browser.click("Show").await?;
    browser.shows(".facts", "14").await?;
    browser.click("Readings").await?;
    browser.shows(".void-reason", "smudged").await?;
    let trial = browser.address().await?.replace("/readings", "");
    let saved = browser.fetch(&format!("{trial}/readings.csv")).await?;
    let figures = browser.fetch(&format!("{trial}/figures.json")).await?;
    assert_eq!(saved.lines().filter(|line| line.contains(",smudged,")).count(), 1);
    browser.close().await?;

    // Another workshop, another browser, the same file: the same finding and figures.
    let (friend, browser) = (ServedWorkshop::open().await?, Browser::start().await?);
    browser.open(&friend.url("/trials/import")).await?;
    browser.upload("#file", &friend.file("two-ultramarines.csv", &saved)?).await?;
    browser.click("Import").await?;
    browser.shows(".finding", &finding).await?;
    assert_eq!(browser.text(".evidence").await?, evidence);
    assert_eq!(browser.text(".trial-name").await?, "two-ultramarines");
    let trial = browser.address().await?.replace("/results", "");
    let again: serde_json::Value =
        serde_json::from_str(&browser.fetch(&format!("{trial}/figures.json")).await?)?;
    let figures: serde_json::Value = serde_json::from_str(&figures)?;
    assert_eq!((&again["tubes"], &again["pairs"]), (&figures["tubes"], &figures["pairs"]));
    assert_eq!(browser.fetch(&format!("{trial}/readings.csv")).await?, saved);
    browser.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bad_file_and_a_bad_number_are_answered_where_they_stand() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::open().await?, Browser::start().await?);
    browser.open(&workshop.url("/trials/import")).await?;
    let bad = "# upright-swatch readings 1\ntube,maker,code,with,parts,with_parts,white_parts,state,\
               backing,repeat,L,a,b\nA,M,PB29,,1,,,damp,paper,1,50,0,0\n";
    browser.fill("#name", "From a friend").await?;
    browser.upload("#file", &workshop.file("bad.csv", bad)?).await?;
    browser.click("Import").await?;
    let message = "line 3, column 8 (state): unknown state “damp”; use wet, dry or lifted";
    browser.shows("#file-note", message).await?;
    assert_eq!(browser.value("#name").await?, "From a friend");
    // Nothing was stored.
    browser.click("Shelf").await?;
    browser.shows(".first-steps", "Fill the shelf").await?;

    // A reading typed by hand.
    let good = bad.replace("damp", "dry");
    browser.open(&workshop.url("/trials/import")).await?;
    browser.upload("#file", &workshop.file("good.csv", &good)?).await?;
    browser.click("Import").await?;
    browser.click("Bench").await?;
    // Its one reading is there: another one is asked for as such.
    browser.shows(".bench-finished", "This trial is finished.").await?;
    browser.press("r").await?;
    browser.fill("#l", "5O").await?;
    browser.fill("#a", "1,5").await?;
    browser.fill("#b", "-3").await?;
    browser.click("Record (").await?;
    browser.shows("#l-note", "“5O” is not a number").await?;
    assert_eq!(browser.value("#a").await?, "1,5");
    browser.fill("#l", "51").await?;
    browser.click("Record (").await?;
    browser.counts(".bench-readings li", 2).await?;
    let readings = browser.texts(".bench-readings .reading-lab").await?;
    assert_eq!(readings, ["L* 51.0 a* 1.5 b* −3.0", "L* 50.0 a* 0.0 b* 0.0"]);

    // Every key of the page stands on the sheet under "?".
    browser.press("?").await?;
    browser.shows(".key-sheet dl", "Read again").await?;
    browser.close().await
}

/// A browser has six connections to one workshop; a bench that nobody sees takes none of them.
#[tokio::test(flavor = "multi_thread")]
async fn any_number_of_benches_may_be_open() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::open().await?, Browser::start().await?);
    let file = "# upright-swatch readings 1\ntube,maker,code,with,parts,with_parts,white_parts,state,\
                backing,repeat,L,a,b\nA,M,PB29,,1,,,dry,paper,1,50,0,0\n";
    browser.open(&workshop.url("/trials/import")).await?;
    browser.upload("#file", &workshop.file("one.csv", file)?).await?;
    browser.click("Import").await?;
    browser.shows(".trial-name", "one").await?;
    for _ in 0..9 {
        browser.open_in_a_new_tab(&workshop.url("/trials/1/bench/1")).await?;
        browser.shows(".bench-finished", "This trial is finished.").await?;
    }
    // The last one hears and sends.
    browser.press("r").await?;
    browser.fill("#l", "51").await?;
    browser.fill("#a", "1").await?;
    browser.fill("#b", "1").await?;
    browser.click("Record (").await?;
    browser.counts(".bench-readings li", 2).await?;
    browser.close().await
}

/// On a phone nothing is wider than the screen, and the spine is a bar above the page.
#[tokio::test(flavor = "multi_thread")]
async fn every_page_fits_a_phone() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::open().await?, Browser::start().await?);
    let row =
        |tube: &str, white: &str, lab: &str| format!("{tube},,1,,{white},dry,paper,1,{lab}\n");
    let file = [
        "# upright-swatch readings 1\n# white: Workshop Titanium\ntube,maker,code,with,parts,with_parts,",
        "white_parts,state,backing,repeat,L,a,b\n",
        &row("Workshop Titanium,Tidewell,PW6", "", "96,0,2"),
        &row("Canopy Ultramarine for the rounding boards,Harrow & Pike,PB29 PV23", "", "28,12,-38"),
        &row("Canopy Ultramarine for the rounding boards,Harrow & Pike,PB29 PV23", "4", "62,3,-34"),
    ];
    browser.open(&workshop.url("/trials/import")).await?;
    browser.upload("#file", &workshop.file("one.csv", file.concat())?).await?;
    browser.click("Import").await?;
    browser.shows(".trial-name", "one").await?;
    browser.resize(390, 844).await?;
    for page in [
        "/shelf",
        "/shelf/new",
        "/shelf/1",
        "/shelf/fill",
        "/shelf/import",
        "/words",
        "/compare",
        "/compare?tube=1&tube=2",
        "/palettes",
        "/palettes/new",
        "/trials",
        "/trials/new",
        "/trials/import",
        "/trials/1/bench/2",
        "/trials/1/readings",
        "/trials/1/readings/import",
        "/trials/1/results",
        "/trials/1/results/tubes",
        "/trials/1/results/vivid",
        "/trials/1/eye",
        "/copy",
    ] {
        browser.open(&workshop.url(page)).await?;
        browser.text("main").await?;
        let (wide, screen) = browser.widths().await?;
        assert!(screen == 390 && wide <= screen, "{page} is {wide} wide on {screen}");
    }
    browser.close().await
}
