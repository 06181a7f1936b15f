//! Without any instrument: eyes, a knife and a sheet of paper.

use std::cell::Cell;
use std::error::Error;
use std::time::{Duration, Instant};

use e2e::{Browser, ServedWorkshop};
use thirtyfour::Key;

type Outcome = Result<(), Box<dyn Error>>;

/// A new green, a palette of eight and a white.
const TUBES: &str = "Leaf Green, PG36\nLantern Yellow, PY74\nCanvas Yellow Deep, PY83\nOrgan Orange, PO73\n\
    Saddle Red, PR254\nPlume Magenta, PR122\nDusk Violet, PV23\nCanopy Ultramarine, PB29\n\
    Awning Blue, PB15:3\nWorkshop Titanium, PW6\n";

const PALETTE: [&str; 8] = [
    "Lantern Yellow",
    "Canvas Yellow Deep",
    "Organ Orange",
    "Saddle Red",
    "Plume Magenta",
    "Dusk Violet",
    "Canopy Ultramarine",
    "Awning Blue",
];

/// A browser whose presses are counted: a field that is filled is one, as a list is pasted.
struct Hand<'a> {
    browser: &'a Browser,
    presses: Cell<usize>,
}

impl Hand<'_> {
    async fn click(&self, text: &str) -> Outcome {
        self.presses.set(self.presses.get() + 1);
        self.browser.click(text).await
    }

    async fn fill(&self, css: &str, text: &str) -> Outcome {
        self.presses.set(self.presses.get() + 1);
        self.browser.fill(css, text).await
    }

    async fn enter(&self) -> Outcome {
        self.presses.set(self.presses.get() + 1);
        self.browser.press(Key::Enter + "").await
    }
}

async fn stock(hand: &Hand<'_>, workshop: &ServedWorkshop, tubes: &str, medium: &str) -> Outcome {
    hand.browser.open(&workshop.url("/shelf/fill")).await?;
    hand.fill("#lines", tubes).await?;
    hand.fill("#maker", "Nettlebed").await?;
    hand.click("Check the list").await?;
    let count = tubes.lines().count();
    hand.browser.counts(".rows-table tbody tr", count).await?;
    if medium != "acrylic" {
        hand.browser.choose(".rows-medium", medium).await?;
    }
    hand.click(&format!("Save {count} tubes")).await?;
    hand.browser.counts(".shelf-table .tube-name", count).await
}

/// Lays every square with Enter alone, and says of some what the eye sees.
async fn lay_all(hand: &Hand<'_>, count: usize, looks: usize) -> Outcome {
    let mut looked = 0;
    for cell in 1..=count {
        hand.browser.shows(".bench-button.is-main", "watched").await?;
        let page = hand.browser.text(".bench-step").await?;
        if looked < looks && page.contains("How vivid is it?") && page.contains("with white") {
            hand.click("muted").await?;
            hand.browser.shows("#last", "muted").await?;
            looked += 1;
        }
        let place = hand.browser.text(".bench-cell").await?;
        hand.enter().await?;
        if cell < count {
            hand.browser.differs(".bench-cell", &place).await?;
        }
    }
    Ok(())
}

/// From nothing to a finished chart without any instrument, in under 120 presses and three minutes of clicking.
#[tokio::test(flavor = "multi_thread")]
async fn from_an_empty_workshop_to_a_finished_chart_by_eye() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::without_meter().await?, Browser::start().await?);
    let (hand, begun) = (Hand { browser: &browser, presses: Cell::new(0) }, Instant::now());
    stock(&hand, &workshop, TUBES, "acrylic").await?;

    hand.click("Plan").await?;
    hand.click("Plan a trial").await?;
    hand.fill("#tested div:nth-child(1) input", "Leaf Green").await?;
    hand.fill("#white", "Workshop Titanium").await?;
    for (place, tube) in (1..).zip(PALETTE) {
        hand.fill(&format!("#reference div:nth-child({place}) input"), tube).await?;
    }
    browser.shows("#verdict", "35 swatches on 2 sheets, about 25 min at the table.").await?;
    hand.click("Save plan").await?;
    browser.shows(".trial-name", "Leaf Green in mixtures").await?;
    hand.click("To the bench").await?;
    lay_all(&hand, 35, 6).await?;
    browser.shows(".bench-finished", "This trial is finished.").await?;
    hand.click("To the results").await?;

    browser.shows(".asked", "How does this tube mix with my palette?").await?;
    browser.counts(".chart .chart-cell", 8).await?;
    browser.shows(".chart", "by eye, ").await?;
    browser.shows(".finding", "Leaf Green").await?;
    assert!(!browser.text(".finding").await?.contains("not seen yet"));
    let (presses, took) = (hand.presses.get(), begun.elapsed());
    assert!(presses < 120, "{presses} presses");
    assert!(took < Duration::from_secs(180), "{took:?}");
    // A pair opens at its own address, and the way back is one press.
    hand.click("Saddle Red").await?;
    browser.shows(".finding", "Leaf Green with Saddle Red").await?;
    browser.press("b").await?;
    browser.counts(".chart .chart-cell", 8).await?;
    browser.close().await
}

/// Water colour: no white is asked for, thick and wash stand side by side.
#[tokio::test(flavor = "multi_thread")]
async fn water_colour_is_thick_and_wash() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::without_meter().await?, Browser::start().await?);
    let hand = Hand { browser: &browser, presses: Cell::new(0) };
    let tubes = "Wash Blue, PB15:3\nWash Yellow, PY150\nWash Rose, PV19";
    stock(&hand, &workshop, tubes, "watercolour").await?;
    browser.open(&workshop.url("/trials/new")).await?;
    hand.fill("#tested div:nth-child(1) input", "Wash Blue").await?;
    hand.fill("#reference div:nth-child(1) input", "Wash Yellow").await?;
    hand.fill("#reference div:nth-child(2) input", "Wash Rose").await?;
    // Thick and wash of the blue and of two mixtures each way.
    browser.shows("#verdict", "10 swatches on 1 sheet").await?;
    // Enter in a field saves the plan, and keeps it nowhere.
    hand.fill("#name", "Washes").await?;
    browser.press_in("#name", Key::Enter + "").await?;
    browser.shows(".trial-name", "Washes").await?;
    hand.click("To the bench").await?;
    lay_all(&hand, 10, 0).await?;
    browser.open(&workshop.url("/trials/1/results")).await?;
    browser.counts(".chart .chart-cell", 2).await?;
    browser.shows(".chart-legend", "Left of each thick, right thin.").await?;
    browser.close().await
}

/// A green that is tempered with a red, and a grid of six with its names along two sides.
#[tokio::test(flavor = "multi_thread")]
async fn tempering_and_a_grid_of_six() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::without_meter().await?, Browser::start().await?);
    let hand = Hand { browser: &browser, presses: Cell::new(0) };
    stock(&hand, &workshop, TUBES, "acrylic").await?;
    for (what, fields) in [
        (
            "temper",
            vec![
                ("[name=temper_a]", "Awning Blue"),
                ("[name=temper_b]", "Lantern Yellow"),
                ("[name=temper_third]", "Saddle Red"),
            ],
        ),
        ("grid", (1..=6).zip(&PALETTE[..6]).map(|(_, tube)| ("", *tube)).collect()),
    ] {
        browser.open(&workshop.url("/trials/new?question=free")).await?;
        hand.click("Adjust").await?;
        hand.click("Star: each tube").await?;
        hand.fill("#white", "Workshop Titanium").await?;
        if what == "grid" {
            hand.click("half grid").await?;
        }
        for (at, (css, tube)) in (1..).zip(fields) {
            let css = if css.is_empty() {
                format!("#grid_tube div:nth-child({at}) input")
            } else {
                css.to_owned()
            };
            hand.fill(&css, tube).await?;
        }
        browser.shows("#verdict", "at the table.").await?;
        hand.click("Save plan").await?;
        browser.shows(".tabs", "Sheets").await?;
        let trial = browser.address().await?.replace("/plan", "");
        browser.open(&format!("{trial}/results")).await?;
        if what == "temper" {
            browser
                .shows(
                    ".tempered h2",
                    "Awning Blue and Lantern Yellow, with more and more Saddle Red",
                )
                .await?;
            browser.counts(".tempered figure", 3).await?;
            browser.shows(".tempered p", "as predicted.").await?;
        } else {
            browser.counts(".chart a.chart-cell", 15).await?;
            browser.counts(".chart span.chart-cell", 6).await?;
            let sheet = browser.fetch(&format!("{trial}/sheets/1.svg")).await?;
            for tube in &PALETTE[..6] {
                let named = sheet.matches(&format!(">{tube}</text>")).count();
                assert!(named >= 2, "{tube} stands {named} times on the sheet");
            }
        }
    }
    browser.close().await
}
