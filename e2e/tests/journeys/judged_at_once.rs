//! At the bench: a mixture that is not what it should be is said while the paint is still there.

use std::error::Error;

use e2e::{Browser, ServedWorkshop};
use thirtyfour::Key;

type Outcome = Result<(), Box<dyn Error>>;

const SHELF: &str = "maker,name,codes,left_ml\n\
    Tidewell,Canopy Ultramarine,PB29,54\n\
    Tidewell,Lantern Yellow,PY74,36\n\
    Tidewell,Workshop Titanium,PW6,150\n";

async fn plan(browser: &Browser, name: &str) -> Outcome {
    browser.click("Plan").await?;
    browser.click("Plan a trial").await?;
    browser.fill("#name", name).await?;
    browser.fill("#tested div:nth-child(1) input", "Canopy Ultramarine").await?;
    browser.fill("#reference div:nth-child(1) input", "Lantern Yellow").await?;
    browser.fill("#white", "Workshop Titanium").await?;
    browser.click("Adjust").await?;
    browser.click("references too").await?;
    browser.shows("#verdict", "at the table").await?;
    browser.click("Save plan").await?;
    browser.shows(".page-title", "Canopy Ultramarine").await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_wrong_mixture_is_said_while_it_can_be_mixed_again() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::open().await?, Browser::start().await?);
    browser.stock(&workshop, SHELF).await?;

    // The first trial teaches how the tubes mix.
    plan(&browser, "What the two do").await?;
    browser.click("To the bench").await?;
    browser.click("Read all that is left").await?;
    browser.shows(".trial-state", "finished").await?;

    // The second knows what to expect: steps even to the eye, and a predicted swatch.
    plan(&browser, "The two again").await?;
    browser.shows(".plan-ladders", "even to the eye, from K and S").await?;
    browser.click("To the bench").await?;
    to_a_mixture(&browser).await?;
    browser.shows(".bench-predicted", "predicted").await?;
    let first = lay(&browser).await?;
    browser.open(&first).await?;
    browser.press("r").await?;
    browser.shows(".at-once", "As expected: ΔE").await?;

    // The next one is typed as a far too red colour: something is wrong with it.
    browser.press("n").await?;
    browser.moved_from(&first).await?;
    to_a_mixture(&browser).await?;
    let second = lay(&browser).await?;
    browser.open(&second).await?;
    browser.press("t").await?;
    browser.fill("#l", "45").await?;
    browser.fill("#a", "60").await?;
    browser.fill("#b", "35").await?;
    browser.click("Record (").await?;
    browser.shows(".at-once.is-wrong", "Not what this mixture should be").await?;
    // Void and redo: the reading stays, the warning goes.
    browser.void_last("wrong tube").await?;
    browser.counts(".at-once", 0).await?;
    browser.press("r").await?;
    browser.shows(".at-once", "As expected: ΔE").await?;
    browser.counts(".bench-readings li", 2).await?;
    browser.close().await
}

/// By keyboard alone to the next tint of a mixture that nobody made: with white, predictions are sharpest.
async fn to_a_mixture(browser: &Browser) -> Outcome {
    loop {
        let (verbs, what) =
            (browser.texts(".bench-verb").await?, browser.texts(".bench-what").await?);
        let tint = verbs.iter().any(|text| text.starts_with("Tint, on place"));
        if tint && what.iter().any(|text| text.contains(" + ")) {
            return Ok(());
        }
        let here = browser.address().await?;
        browser.press("n").await?;
        browser.moved_from(&here).await?;
    }
}

/// Says that the swatch at hand is mixed and laid; its address, to come back to.
async fn lay(browser: &Browser) -> Result<String, Box<dyn Error>> {
    let here = browser.address().await?;
    browser.press(Key::Enter + "").await?;
    browser.moved_from(&here).await?;
    browser.shows("#last", "laid").await?;
    Ok(here)
}
