//! The demo's planned trial, finished with a simulated phone alone at the size of a phone, and what its pictures tell
//! held against what the simulated meter reads of the very same paint.

use std::process::Command;

use crate::common::{Outcome, Server, bytes};
use e2e::Browser;
use serde_json::Value;

/// The trial that is only planned.
const PLANNED: &str = "/trials/5";

#[tokio::test(flavor = "multi_thread")]
async fn the_demos_planned_trial_is_finished_by_a_phone_alone() -> Outcome {
    let server = Server::start(&["--demo"])?;
    let browser = Browser::start().await?;
    browser.resize(390, 844).await?;

    // Printed, painted and photographed: the printed page with its file goes to the simulated phone.
    let folder = tempfile::tempdir()?;
    let at = |name: &str| folder.path().join(name);
    std::fs::write(at("sheet.json"), body(&server.get(&format!("{PLANNED}/sheets/1.json"))?))?;
    let pdf = bytes(&server, &format!("{PLANNED}/sheets.pdf?from=1"))?;
    std::fs::write(at("sheets.pdf"), pdf)?;
    let picture = at("sheet.jpg");
    let drawn = Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
        .args(["device", "scanner", "--phone", "--sheet"])
        .arg(at("sheet.json"))
        .arg("--pdf")
        .arg(at("sheets.pdf"))
        .arg("--out")
        .arg(&picture)
        .status()?;
    assert!(drawn.success());
    browser.open(&server.url(&format!("{PLANNED}/pictures"))).await?;
    browser.upload("#picture-file", &picture).await?;
    browser.shows(".finding", "squares read, right within ΔE00").await?;
    browser.shows(".picture-panel", "outside what this device records").await?;
    let (page, screen) = browser.widths().await?;
    assert!(page <= screen, "{page} on {screen}");
    browser.click("Take these").await?;
    browser.shows(".finding", "are taken from this picture").await?;

    // The palette's anchor card is made once, painted once and read once with a meter.
    browser.open(&server.url("/palettes")).await?;
    browser.click("Its anchor card").await?;
    browser.shows(".page-title", "Anchor card").await?;
    let card = browser.address().await?;
    let card = card.trim_end_matches("/sheets").replace(&server.url(""), "");
    let again = server.post("/palettes/1/card", "")?;
    assert!(again.contains(&format!("{card}/sheets")), "made once: {again}");
    server.post(&format!("{card}/bench/rest"), "")?;

    // The other sheets by the phone that the demo brings, with the card beside them.
    for sheet in ["sheet 2", "sheet 3", "sheet 4"] {
        browser.open(&server.url(&format!("{PLANNED}/pictures"))).await?;
        if browser.text(".drawn").await?.lines().count() < 2 {
            browser.click("Nothing painted yet?").await?;
        }
        browser.choose("#drawn-sheet", sheet).await?;
        browser.click("Simulated phone").await?;
        browser.shows(".trial-about", &format!("{sheet} of 4")).await?;
        browser.shows(".evidence", "of them on the card, calibrate it").await?;
        browser.click("Take these").await?;
        browser.shows(".finding", "are taken from this picture").await?;
    }
    browser.click("See the results").await?;
    browser.shows(".trial-state", "finished").await?;
    browser.shows("#notes", "come from a simulated device").await?;
    browser.shows("#notes", "deeper or more vivid than a picture holds").await?;
    browser.close().await?;

    // The same paint under the meter.
    let other = Server::start(&["--demo"])?;
    other.post(&format!("{PLANNED}/bench/rest"), "")?;
    let figures = |server: &Server| -> Outcome<Value> {
        Ok(serde_json::from_str(body(&server.get(&format!("{PLANNED}/figures.json"))?))?)
    };
    agree(&figures(&server)?, &figures(&other)?);
    Ok(())
}

fn body(answer: &str) -> &str {
    answer.split_once("\r\n\r\n").map_or("", |(_, body)| body)
}

/// Figures that a picture gives lie within their intervals of what the meter gives; a few of those that only point the
/// way do not.
#[derive(Default)]
struct Tally {
    given: Vec<bool>,
    indicative: Vec<bool>,
}

impl Tally {
    fn compare(&mut self, picture: &Value, meter: &Value, name: &str) {
        let (Some(told), Some(true_one)) = (picture[name].as_f64(), meter[name].as_f64()) else {
            return;
        };
        let interval = |of: &Value| {
            let ends = of[format!("{name}_interval")].as_array()?;
            Some((ends.last()?.as_f64()? - ends.first()?.as_f64()?) / 2.0)
        };
        let Some(half) = interval(picture).filter(|half| *half > 0.0) else { return };
        let off = told - true_one;
        let off = if name.contains("hue") || name.contains("tint_shift") {
            (off + 180.0).rem_euclid(360.0) - 180.0
        } else {
            off
        };
        let inside = off.abs() <= half.hypot(interval(meter).unwrap_or_default());
        let indicative = picture[format!("{name}_indicative")].as_bool() == Some(true);
        if indicative { self.indicative.push(inside) } else { self.given.push(inside) }
    }

    fn share(of: &[bool]) -> f64 {
        of.iter().filter(|inside| **inside).count() as f64 / of.len().max(1) as f64
    }
}

fn agree(pictures: &Value, meter: &Value) {
    let list = |of: &Value, name: &str| of[name].as_array().cloned().unwrap_or_default();
    let near = |one: &Value, other: &Value, name: &str| {
        let [one, other] = [one, other].map(|it| it[name].as_f64().unwrap_or(f64::NAN));
        (one - other).abs() <= 0.03 * one.max(other) || (one - other).abs() < 1e-9
    };
    let mut tally = Tally::default();
    for tube in list(pictures, "tubes") {
        let read = list(meter, "tubes").into_iter().find(|it| it["tube"] == tube["tube"]);
        let read = read.expect("the same tubes");
        tally.compare(&tube, &read, "tint_shift");
        tally.compare(&tube["opacity"], &read["opacity"], "contrast_ratio");
        for tint in list(&tube, "tints") {
            let same = list(&read, "tints").into_iter();
            let same = same.filter(|it| near(it, &tint, "white_parts"));
            for other in same {
                tally.compare(&tint, &other, "hue_shift");
                tally.compare(&tint, &other, "chroma_loss");
            }
        }
    }
    for pair in list(pictures, "pairs") {
        let read = list(meter, "pairs").into_iter().find(|it| {
            it["a"] == pair["a"] && it["b"] == pair["b"] && near(it, &pair, "white_parts")
        });
        let Some(read) = read else { continue };
        for step in list(&pair, "steps") {
            let same = list(&read, "steps").into_iter();
            let same = same.filter(|it| near(it, &step, "a_parts") && near(it, &step, "b_parts"));
            for other in same {
                for name in ["hue_shift", "chroma_loss", "dulling", "delta_e_a", "delta_e_b"] {
                    tally.compare(&step, &other, name);
                }
            }
        }
    }
    let (given, indicative) = (Tally::share(&tally.given), Tally::share(&tally.indicative));
    let counts = (tally.given.len(), tally.indicative.len());
    println!("{counts:?}: {given:.3} of the given, {indicative:.3} of the indicative are inside");
    assert!(counts.0 >= 150, "{counts:?}");
    assert!(given >= 0.93 && indicative >= 0.8, "{given} {indicative}");
}
