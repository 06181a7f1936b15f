//! From two readings files to a verdict: whoever read them, wherever.

use std::error::Error;

use e2e::{Browser, ServedWorkshop};

type Outcome = Result<(), Box<dyn Error>>;

/// The export of the demo's three ultramarines, as the Python check has it too.
const TRIAL: &str = include_str!("../../../app/tests/reference/trial.csv");

/// What somebody who has only this ultramarine would send.
fn file_of(tube: &str) -> Vec<u8> {
    let kept = TRIAL.lines().filter(|line| {
        let is_row = !line.starts_with('#') && !line.starts_with("tube,");
        let own = [tube, "Lantern Yellow", "Workshop Titanium", ""];
        !is_row || line.split(',').next().is_some_and(|name| own.contains(&name))
    });
    kept.flat_map(|line| [line, "\n"]).collect::<String>().into_bytes()
}

/// What lights up at the focused step: in the rack, on both plots, in the table.
const LIT: &str = "return ['.rack g.lit', '.paths g.lit', '.table tr.lit']
    .map((css) => document.querySelectorAll(css).length);";

#[tokio::test(flavor = "multi_thread")]
async fn two_files_become_a_verdict() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::without_meter().await?, Browser::start().await?);
    for (name, tube) in [("spring.csv", "Canopy Ultramarine"), ("friend.csv", "Ultramarine Blue")] {
        browser.open(&workshop.url("/trials/import")).await?;
        browser.upload("#file", &workshop.file(name, file_of(tube))?).await?;
        browser.click("Import").await?;
        browser.shows(".trial-name", name.trim_end_matches(".csv")).await?;
    }
    browser.click("Compare").await?;
    browser.shows(".page-title", "Compare which tubes?").await?;
    browser.shows(".compare-alike", "Ultramarine Blue and Canopy Ultramarine").await?;
    browser.click("All PB29 (2)").await?;

    // One sentence, and where it comes from.
    let finding = browser.text(".finding").await?;
    assert!(finding.starts_with("One of the two is enough: one part of"), "{finding}");
    browser.shows(".trial-about", "2 trials").await?;
    browser.shows(".compare-pairs", "spring").await?;
    // The plots have names, and each step lights up wherever it stands.
    for plot in ["in the a*b* plane", "by lightness and chroma"] {
        let css = format!(".paths[role=img][aria-label$=\"{plot}\"]");
        browser.counts(&css, 1).await?;
    }
    browser.counts(".paths-dot", 2 * 2 * 6).await?;
    browser
        .told_by::<Option<bool>>("document.querySelector('.rack-step[tabindex]').focus()")
        .await?;
    let lit: Vec<usize> = browser.told_by(LIT).await?;
    assert_eq!(lit, [2, 4, 1]);
    // Equal parts instead of equal depth, and the other tube as the standard, each at its own address.
    browser.press("p").await?;
    browser.shows(".switch [aria-current]", "Equal parts").await?;
    let address = browser.address().await?;
    assert!(address.ends_with("rack=parts"), "{address}");
    let standard = browser.text(".compare-standards a").await?;
    browser.click(&standard).await?;
    browser.moved_from(&address).await?;
    assert!(browser.text(".finding").await?.starts_with("One of the two is enough: one part of"));
    browser.press("t").await?;
    browser.shows("caption ~ thead", "Canopy Ultramarine").await?;
    // On a phone nothing is wider than the screen.
    browser.resize(390, 844).await?;
    let (page, window) = browser.widths().await?;
    assert!(page <= window, "{page} on {window}");
    browser.close().await
}
