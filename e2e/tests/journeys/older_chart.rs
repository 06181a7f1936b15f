//! A chart that was ruled by hand long ago: a picture of it, a grid over it, names along its sides, and readings.

use std::error::Error;

use e2e::{Browser, ServedWorkshop};
use formats::picture::write;
use thirtyfour::Key;

type Outcome = Result<(), Box<dyn Error>>;

const SHELF: &str = "maker,name,codes\n\
    Tidewell,Canopy Ultramarine,PB29\n\
    Tidewell,Lantern Yellow,PY74\n\
    Tidewell,Workshop Titanium,PW6\n";

/// Two rows of three squares of 18 mm with gaps of 6 mm at 10 pixels a mm, the first one at 160, 150.
fn old_chart() -> Vec<u8> {
    let (width, height) = (1000, 720);
    let mut rgb = vec![236; 3 * width * height];
    let paints = [
        [34, 40, 120],
        [70, 80, 170],
        [150, 160, 214],
        [214, 190, 40],
        [224, 210, 110],
        [230, 224, 180],
    ];
    for (paint, at) in paints.into_iter().zip(0..) {
        let (left, top) = (160 + 240 * (at % 3), 150 + 240 * (at / 3));
        for y in top..top + 180 {
            for x in left..left + 180 {
                let pixel = 3 * (y * width + x);
                rgb[pixel..pixel + 3].copy_from_slice(&paint);
            }
        }
    }
    write((width, height), &rgb, false).expect("a PNG")
}

/// The outlines as the server drew them, and as the page draws them while a corner moves there and back.
const OUTLINES: &str = "
    const map = document.querySelector('.chart-map');
    const points = () => [...map.querySelectorAll('.outline-light')]
        .flatMap((it) => it.getAttribute('points').split(/[ ,]/).map(Number));
    const served = points();
    const corner = map.querySelector('[data-corner=\"2\"]');
    for (const key of ['ArrowRight', 'ArrowLeft'])
        corner.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
    return [served, points()];";

#[tokio::test(flavor = "multi_thread")]
async fn an_older_chart_becomes_readings() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::without_meter().await?, Browser::start().await?);
    browser.stock(&workshop, SHELF).await?;
    browser.click("Plan").await?;
    browser.click("Read an older chart").await?;
    browser.upload("#picture-file", &workshop.file("notebook.png", old_chart())?).await?;
    browser.click("Send the picture").await?;
    browser.shows(".finding", "Drag the four corners onto the chart").await?;

    // Dragged nearly there, and the rest by keys.
    let scale: f64 = browser
        .told_by("return document.querySelector('.chart-map').getBoundingClientRect().width / 1000")
        .await?;
    let css = |pixels: f64| (pixels * scale).round() as i64;
    browser.drag("[data-corner=\"0\"]", (css(160.0 - 200.0), css(150.0 - 144.0))).await?;
    browser.shows("#chart-kept", "Kept.").await?;
    let dragged = async || browser.values("[name=x0], [name=y0]").await;
    for (field, wanted, keys) in
        [(0, 160.0, [Key::Left, Key::Right]), (1, 150.0, [Key::Up, Key::Down])]
    {
        let off = dragged().await?[field].parse::<f64>()? - wanted;
        assert!(off.abs() < 4.0, "dragged to within some pixels: {off}");
        for _ in 0..off.abs().round() as usize {
            browser.press_in("[data-corner=\"0\"]", keys[usize::from(off < 0.0)].clone()).await?;
        }
        let off = dragged().await?[field].parse::<f64>()? - wanted;
        assert!(off.abs() <= 0.55, "{off}");
    }
    browser.click("Corners by numbers").await?;
    for (field, value) in
        [("x1", "820"), ("y1", "150"), ("x2", "820"), ("y2", "570"), ("x3", "160"), ("y3", "570")]
    {
        browser.fill(&format!("[name={field}]"), value).await?;
    }

    // Its rows, and what stands along them; the page follows.
    browser.fill("#rows", "2").await?;
    browser.fill("#columns", "3").await?;
    browser.counts("#chart-squares g", 6).await?;
    for (field, value) in [
        ("#side", "18"),
        ("#gap-across", "6"),
        ("#gap-down", "6"),
        ("#line-0", "Canopy Ultramarine"),
        ("#line-1", "Lantern Yellow"),
        ("#white", "Workshop Titanium"),
    ] {
        browser.fill(field, value).await?;
    }
    browser.choose("#source", "a scan").await?;
    browser.shows(".finding", "6 squares are named: they can be read").await?;
    browser.shows("#chart-table", "Lantern Yellow white 1 : 2").await?;
    let [served, drawn]: [Vec<f64>; 2] = browser.told_by(OUTLINES).await?;
    assert_eq!((served.len(), drawn.len()), (48, 48));
    let apart = served.iter().zip(&drawn).map(|(a, b)| (a - b).abs()).fold(0.0, f64::max);
    assert!(apart < 0.15, "the page draws what the server reads: {apart} px apart");

    // What was done is there again, also on a phone's narrow page.
    browser.open(&browser.address().await?).await?;
    browser.shows(".finding", "6 squares are named").await?;
    browser.resize(390, 844).await?;
    let (page, window) = browser.widths().await?;
    assert!(page <= window, "{page} {window}");
    browser.resize(1280, 800).await?;
    browser.press(Key::Enter).await?;
    browser.shows(".finding", "6 squares read for comparing").await?;
    browser.click("Take these 6 readings").await?;
    browser.shows(".finding", "taken").await?;
    browser.click("Results").await?;
    browser.shows("body", "Canopy Ultramarine").await?;
    browser.close().await
}
