//! From an empty shelf to a first plan: a list that is pasted, checked and stored, and what is proposed then.

use std::error::Error;

use e2e::{Browser, ServedWorkshop};
use thirtyfour::Key;

type Outcome = Result<(), Box<dyn Error>>;

const LIST: &str =
    "Canopy Ultramarine, PB29\nLantern Yellow PY74\nWorkshop Titanium; Nettlebed; PW6\n";

#[tokio::test(flavor = "multi_thread")]
async fn an_empty_shelf_is_filled_from_a_list_and_a_first_trial_is_proposed() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::open().await?, Browser::start().await?);
    browser.open(&workshop.url("/")).await?;
    browser.shows("main", "From tubes to a finding, in three steps").await?;
    browser.click("Fill the shelf").await?;
    browser.fill("#lines", LIST).await?;
    browser.fill("#maker", "Tidewell").await?;
    browser.click("Check the list").await?;
    browser.counts(".rows-table tbody tr", 3).await?;

    // A slip is said at its row, and nothing is stored by halves.
    let codes = ".rows-table tbody tr:nth-child(2) [name=codes]";
    browser.fill(codes, "PY7x").await?;
    browser.click("Save 3 tubes").await?;
    browser.shows(".rows-table .field-error", "“PY7x” is not a Colour Index name").await?;
    browser.fill(codes, "PY74").await?;
    browser.click("Save 3 tubes").await?;
    browser.counts(".shelf-table .tube-name", 3).await?;
    browser.shows(".shelf-table", "Nettlebed").await?;

    // The same list again, and one more tube: only that one is new.
    browser.click("Add several").await?;
    browser.fill("#lines", &format!("{LIST}Saddle Red, PR254")).await?;
    browser.fill("#maker", "tidewell").await?;
    browser.click("Check the list").await?;
    browser.shows("main", "3 tubes stand on the shelf already").await?;
    browser.counts(".rows-table tbody tr", 1).await?;

    // What a tube looks like is two presses, by keyboard as by touch, and no number is asked for.
    browser.open(&workshop.url("/shelf")).await?;
    browser.press_in("[href='/shelf/2/look']", Key::Enter).await?;
    browser.shows(".page-title", "What does Lantern Yellow look like?").await?;
    browser.press_in(".look-chip:nth-child(9)", Key::Enter).await?;
    browser.shows(".look-hint", "One press stores it.").await?;
    browser.press_in("button.look-chip:nth-of-type(4)", Key::Enter).await?;
    browser.shows(".look-foot", "as it is drawn").await?;
    browser.resize(390, 844).await?;
    let (page, screen) = browser.widths().await?;
    assert!(page <= screen, "{page} on {screen}");
    browser.resize(1280, 800).await?;

    browser.open(&workshop.url("/shelf")).await?;
    browser.shows(".shelf-table", "as you saw it").await?;
    browser
        .click("Canopy Ultramarine mixed with Lantern Yellow, and with Workshop Titanium")
        .await?;
    browser.shows("#verdict", "swatches on").await?;
    browser.shows(".plan-ladders", "even to the eye for typical paints of these pigments").await?;

    // A tube that is missing is added without leaving the plan.
    browser.click("A tube that is not on the shelf yet").await?;
    browser.fill("#quick-name", "Sap Green Hue").await?;
    browser.fill("#quick-maker", "Harrow & Pike").await?;
    browser.fill("#quick-codes", "PG7 PY8x").await?;
    browser.click("Add it to the shelf").await?;
    browser.shows("#quick-said", "“PY8x” is not a Colour Index name").await?;
    browser.fill("#quick-codes", "PG7 PY83").await?;
    browser.click("Add it to the shelf").await?;
    browser.shows("#quick-said", "PG7 PY83 is on the shelf now.").await?;
    browser.shows(".plan-ladders", "Sap Green Hue").await?;
    browser.click("Save plan").await?;
    browser.shows(".page-title", "Canopy Ultramarine").await?;
    browser.close().await
}
