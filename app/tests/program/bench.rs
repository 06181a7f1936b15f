//! Whole runs at the bench, in a real browser, with both devices.

use std::net::TcpListener;

use crate::common::{Outcome, Server, db};
use bench::{BenchEvent, Tile};
use e2e::Browser;
use instruments::simulated::{
    Fault, Given, MeterDevice, MeterHabits, MixingTable, ScaleDevice, SimulatedMeter,
};
use instruments::{CHECK_TILE, WHITE_TILE};
use store::{Store, Trial, TrialId};
use study::{Basis, Measured, RatioError};
use thirtyfour::Key;
use tokio::sync::Semaphore;

const SHELF: &str = "maker,name,codes,left_ml\n\
    Tidewell,Canopy Ultramarine,PB29,54\n\
    Tidewell,Lantern Yellow,PY74,36\n\
    Nettlebed,Ultramarine Blue,PB29,80\n\
    Tidewell,Workshop Titanium,PW6,150\n";

/// Two devices that outlive the server.
fn devices() -> Outcome<(MeterDevice, ScaleDevice)> {
    let port = || TcpListener::bind("127.0.0.1:0");
    let meter = SimulatedMeter::new(4, MixingTable::default());
    let habits = MeterHabits { fails_every: 17, drift: 0.0 };
    let scale = ScaleDevice::start(port()?, 4, (0.01, 0.03))?;
    Ok((MeterDevice::start(port()?, meter, habits)?, scale))
}

/// Blue against yellow in quarters, one reading each: a run of a dozen swatches.
async fn plan(browser: &Browser, server: &Server) -> Outcome {
    let folder = tempfile::tempdir()?;
    let shelf = folder.path().join("shelf.csv");
    std::fs::write(&shelf, SHELF)?;
    browser.open(&server.url("/shelf/import")).await?;
    browser.upload("#file", &shelf).await?;
    browser.click("Preview").await?;
    browser.click("Save these tubes").await?;
    browser.click("Plan").await?;
    browser.click("Plan a trial").await?;
    browser.fill("#name", "Blue into yellow").await?;
    browser.fill("#tested div:nth-child(1) input", "Canopy Ultramarine").await?;
    browser.fill("#reference div:nth-child(1) input", "Lantern Yellow").await?;
    browser.fill("#white", "Workshop Titanium").await?;
    browser.click("Adjust").await?;
    browser.fill("#whites_alone", "4").await?;
    browser.fill("#whites_mixed", "4").await?;
    browser.fill("#repeats", "1").await?;
    browser.shows("#verdict", "at the table").await?;
    browser.click("Save plan").await?;
    browser.click("To the bench").await
}

/// Two browsers at work at once are enough for a small machine.
static PLACES: Semaphore = Semaphore::const_new(2);

/// What the page asks for.
async fn main_button(browser: &Browser) -> Outcome<String> {
    for css in [".bench-actions [data-key=Enter]", "[data-key=y]", "[data-key=j]"] {
        if let Some(text) = browser.texts(css).await?.into_iter().next() {
            return Ok(text);
        }
    }
    Err("the page asks for nothing".into())
}

/// Waits until what was sent is answered: until then the page takes nothing else.
async fn settled(browser: &Browser) -> Outcome {
    browser.counts("#bench[aria-busy=true]", 0).await
}

/// Does what the page asks for by its key, and waits for what comes next.
async fn press_main(browser: &Browser) -> Outcome<String> {
    let asked = main_button(browser).await?;
    let before = browser.text("#bench").await?;
    match asked.split_whitespace().last() {
        Some("Y") => browser.press("y").await?,
        Some("J") => browser.press("j").await?,
        _ => browser.press(Key::Enter + "").await?,
    }
    browser.differs("#bench", &before).await?;
    settled(browser).await?;
    Ok(asked)
}

async fn until(browser: &Browser, wanted: &str) -> Outcome {
    for _ in 0..200 {
        if main_button(browser).await?.starts_with(wanted) {
            return Ok(());
        }
        press_main(browser).await?;
    }
    Err(format!("never asked for “{wanted}”").into())
}

fn tiles(given: &[Given]) -> (Vec<Given>, Vec<Given>) {
    given.iter().cloned().partition(|(under, _)| [WHITE_TILE, CHECK_TILE].contains(&under.swatch))
}

/// Every reading that a device gave is in the records once, in its order, and no other.
fn compare(trial: &Trial, given: &[Given]) {
    let (of_tiles, of_swatches) = tiles(given);
    let stored: Vec<_> = trial
        .readings
        .iter()
        .filter(|it| it.is_by_meter())
        .filter_map(|it| match it.reading.measured {
            Measured::Spectrum(spectrum) => Some(spectrum),
            Measured::Lab(_) => None,
        })
        .collect();
    assert_eq!(stored, of_swatches.iter().map(|(_, read)| *read).collect::<Vec<_>>());
    let stored: Vec<Vec<f64>> = trial
        .log
        .iter()
        .filter_map(|entry| match &entry.event {
            BenchEvent::Tile { bands, .. } => Some(bands.clone()),
            _ => None,
        })
        .collect();
    let given: Vec<Vec<f64>> = of_tiles.iter().map(|(_, read)| read.bands().to_vec()).collect();
    assert_eq!(stored, given);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_whole_run_with_both_devices_a_disconnect_and_a_kill() -> Outcome {
    let _place = PLACES.acquire().await?;
    let folder = tempfile::tempdir()?;
    let (file, (meter, scale)) = (db(folder.path()), devices()?);
    let at = |running: &instruments::simulated::Running| running.address().to_string();
    let (meter_at, scale_at) = (at(meter.running()), at(scale.running()));
    let arguments = ["--db", &file, "--meter", &meter_at, "--scale", &scale_at];
    let server = Server::start(&arguments)?;
    let browser = Browser::start().await?;
    plan(&browser, &server).await?;

    // Both tiles, the bare backings, and on to the first mixture, which is weighed.
    until(&browser, "Mixed and swatched").await?;
    for line in 1..=2 {
        browser.press("g").await?;
        browser.fills("input[name=amount]", line).await?;
    }
    let weighed = browser.values("input[name=amount]").await?;
    assert_eq!(weighed, scale.given().iter().map(ToString::to_string).collect::<Vec<_>>());
    press_main(&browser).await?;

    // The next mixture is put out by eye.
    until(&browser, "Mixed and swatched").await?;
    let here = browser.address().await?;
    browser.press("e").await?;
    browser.moved_from(&here).await?;

    // The server is killed: the page says so, keeps what was typed, and goes on where it was.
    until(&browser, "Mixed and swatched").await?;
    browser.fill("input[name=amount]", "0.5").await?;
    let address = server.kill()?;
    browser.shows("#trouble", "nothing can be recorded now").await?;
    browser.press(Key::Enter + "").await?;
    browser.shows("#trouble", "Not recorded").await?;
    assert_eq!(browser.values("input[name=amount]").await?[0], "0.5");
    let server = Server::start_at(&address, &arguments)?;
    let here = browser.address().await?;
    browser.press(Key::Enter + "").await?;
    browser.moved_from(&here).await?;

    // Everything is laid; the sheet is dry, and the meter is unplugged in the middle of it.
    until(&browser, "The sheet is dry").await?;
    press_main(&browser).await?;
    until(&browser, "Take a reading").await?;
    meter.running().set(Fault::Unplugged);
    browser.press(Key::Enter + "").await?;
    browser.shows("#trouble", "meter does not answer").await?;
    browser.shows(".bench-waiting", "The reading is taken as soon as the meter answers").await?;
    meter.running().set(Fault::None);
    browser.counts(".bench-readings li", 1).await?;
    browser.counts(".bench-waiting", 0).await?;
    // Rubbish is told apart, and nothing of it is recorded.
    until(&browser, "Take a reading").await?;
    meter.running().set(Fault::Seven);
    browser.press(Key::Enter + "").await?;
    browser.shows("#trouble", "what it says makes no sense: reflectance at 380 nm is 7").await?;
    meter.running().set(Fault::None);
    press_main(&browser).await?;

    // One is spoilt, and painted again: what it takes is said.
    browser.press("x").await?;
    browser.fill("#spoilt", "streaks").await?;
    browser.click("Void it and paint it again").await?;
    browser.shows("#redo", "Painted again, it takes 0.12 g.").await?;
    browser.shows(".bench-seen", "painted before, and void: streaks").await?;
    until(&browser, "To the results").await?;
    // The last entry is taken back, as a void, and made good.
    let before = browser.text("#bench").await?;
    browser.press("u").await?;
    browser.differs("#bench", &before).await?;
    until(&browser, "To the results").await?;
    browser.press(Key::Enter + "").await?;
    browser.shows(".trial-state", "finished").await?;
    browser.close_after_trouble().await?;
    drop(server);

    let trial =
        Store::open(folder.path().join("workshop.db").as_path()).await?.trial(TrialId(1)).await?;
    compare(&trial, &meter.given());
    let run = trial.run().ok_or("a plan")?;
    let how = |wanted: &dyn Fn(&bench::Made) -> bool| {
        let made = trial.log.iter().filter_map(|entry| match &entry.event {
            BenchEvent::Made(made) => Some(made),
            _ => None,
        });
        made.filter(|made| wanted(made)).count()
    };
    assert_eq!(how(&|made| made.how == Basis::Eye), 1);
    let amounts =
        |made: &bench::Made| made.parts.iter().map(|(_, amount)| *amount).collect::<Vec<_>>();
    assert_eq!(how(&|made| amounts(made) == scale.given()), 1);
    assert_eq!(how(&|made| amounts(made).first() == Some(&0.5)), 1);
    let by_eye =
        trial.swatches.iter().filter(|it| run.ratio_error(it.swatch.number) == RatioError::ByEye);
    assert!(by_eye.count() >= 1);
    assert_eq!(
        trial.readings.iter().filter(|it| it.reading.void.as_deref() == Some("streaks")).count(),
        1
    );
    assert!(
        trial
            .log
            .iter()
            .any(|entry| matches!(entry.event, BenchEvent::Tile { tile: Tile::Check, .. }))
    );
    Ok(())
}

/// Steps that hold every kind of act at the bench.
const A_ROUND: usize = 30;

/// A round of the demo's half-done trial by touch, or by keys to its results, the squares between taken by the demo's meter.
async fn work_at_the_demo(by_touch: bool) -> Outcome {
    let _place = PLACES.acquire().await?;
    let server = Server::start(&["--demo"])?;
    let browser = Browser::start().await?;
    if by_touch {
        browser.resize(1024, 768).await?;
    }
    browser.open(&server.url("/trials/4/bench")).await?;
    let before_the_round = browser.text(".bench-tally").await?;
    let mut done = 0;
    loop {
        let asked = main_button(&browser).await?;
        if done == A_ROUND {
            break;
        }
        let before = browser.text("#bench").await?;
        if by_touch {
            browser.click(asked.lines().next().unwrap_or(&asked)).await?;
            browser.differs("#bench", &before).await?;
            settled(&browser).await?;
        } else {
            press_main(&browser).await?;
        }
        done += 1;
    }
    if by_touch {
        let tally = browser.text(".bench-tally").await?;
        assert_ne!(tally, before_the_round);
        return browser.close_after_trouble().await;
    }
    let tally = browser.text(".bench-tally").await?;
    assert_ne!(tally, before_the_round);
    server.post("/trials/4/bench/rest", "")?;
    browser.open(&server.url("/trials/4/bench")).await?;
    until(&browser, "To the results").await?;
    browser.press(Key::Enter + "").await?;
    browser.shows(".trial-state", "finished").await?;
    browser.shows(".finding", "Earth").await?;
    browser.close_after_trouble().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_demos_half_done_trial_is_finished_by_keyboard_alone() -> Outcome {
    work_at_the_demo(false).await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_demos_half_done_trial_goes_on_by_touch_alone() -> Outcome {
    work_at_the_demo(true).await
}

#[tokio::test(flavor = "multi_thread")]
async fn two_browsers_on_one_run_are_kept_in_step() -> Outcome {
    let _places = PLACES.acquire_many(2).await?;
    let server = Server::start(&["--demo"])?;
    let (tablet, laptop) = (Browser::start().await?, Browser::start().await?);
    for browser in [&tablet, &laptop] {
        browser.open(&server.url("/trials/4/bench")).await?;
        browser.shows(".bench-tally", "22 of 74 done · 3 drying").await?;
    }
    // What is laid at the tablet shows at the laptop, which says the same of the same swatch later:
    // it is recorded once.
    let here = laptop.address().await?;
    laptop.press("o").await?;
    laptop.fill("#note", "a hand on the laptop").await?;
    press_main(&tablet).await?;
    laptop.shows(".bench-tally", "4 drying").await?;
    assert_eq!(laptop.value("#note").await?, "a hand on the laptop");
    laptop.click("Mixed and swatched").await?;
    laptop.moved_from(&here).await?;
    laptop.shows(".bench-tally", "4 drying").await?;
    tablet.shows(".bench-tally", "4 drying").await?;
    // Both read the same swatch: two readings, at both tables.
    for browser in [&tablet, &laptop] {
        browser.open(&here).await?;
    }
    tablet.press("r").await?;
    laptop.counts(".bench-readings li", 1).await?;
    laptop.press(Key::Enter + "").await?;
    tablet.counts(".bench-readings li", 2).await?;
    tablet.close().await?;
    laptop.close().await?;
    drop(server);
    Ok(())
}
