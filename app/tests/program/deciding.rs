//! From a green out of a tube to a pile that looks like it, and what the shelf could do without.

use crate::common::{Outcome, Server};
use e2e::Browser;

#[tokio::test(flavor = "multi_thread")]
async fn a_convenience_green_is_mixed_and_corrected() -> Outcome {
    let server = Server::start(&["--demo"])?;
    let browser = Browser::start().await?;
    browser.open(&server.url("/")).await?;
    browser.click("Decide").await?;
    // The whole shelf first: one sentence, and each tube beside the best of the others.
    browser.shows(".finding", "is enough").await?;
    browser.shows(".decide-keep", "Awning Blue").await?;
    browser.counts(".decide-keep tbody tr", 12).await?;
    browser.shows(".decide-keep tbody tr:first-child", "keep").await?;

    browser.press("r").await?;
    browser.shows(".finding", "How is a colour mixed?").await?;
    browser.choose("#tube", "Sap Green Hue (Harrow & Pike, PG7 PY83)").await?;
    browser.press("f").await?;
    browser.shows(".finding", "Sap Green Hue").await?;
    browser.shows(".decide-note", "a typical paint of its pigments").await?;
    // Its own swatches, planned with one press and read by the meter.
    browser.click("Plan the swatches that narrow this down").await?;
    browser.shows(".trial-state", "planned").await?;
    browser.click("Bench").await?;
    browser.click("Read all that is left").await?;
    browser.shows(".trial-state", "finished").await?;
    browser.open(&server.url("/decide/recipe?tube=12")).await?;
    browser.shows(".evidence", "when it is mixed").await?;
    browser.counts(".decide-recipes svg[role=img]", 8).await?;

    // To the bench, and back to what is to be added.
    browser.click("Mix it at the bench").await?;
    browser.shows("main", "Recipe for Sap Green Hue").await?;
    browser.click("Read all that is left").await?;
    browser.click("what to add").await?;
    browser.shows(".evidence", "off.").await?;
    let finding = browser.text(".finding").await?;
    let told = ["It is there", "It is close", "Add "];
    assert!(told.iter().any(|it| finding.starts_with(it)), "{finding}");
    browser.counts(".decide-seen input", 8).await?;

    // What was read of it counts: the green can be mixed.
    browser.click("Decide").await?;
    browser.shows(".finding", "Sap Green Hue can be mixed").await?;
    browser.shows(".decide-keep", "was read, and comes within ΔE00 2").await?;
    // A gap, and the tube that fills it; a square of the map is a recipe.
    browser.press("m").await?;
    browser.shows(".finding", "has only a softened green").await?;
    browser.shows(".evidence", "would fill").await?;
    browser.press("g").await?;
    browser.shows(".finding", "The best grey").await?;
    browser.resize(390, 844).await?;
    for page in ["/decide", "/decide/recipe?tube=12", "/decide/reach", "/decide/greys"] {
        browser.open(&server.url(page)).await?;
        let (page_width, window) = browser.widths().await?;
        assert!(page_width <= window, "{page}: {page_width} on {window}");
    }
    browser.close().await
}
