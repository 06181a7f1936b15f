//! Two new tubes against the carousel workshop's palette, planned until the paint is enough.

use std::collections::HashMap;
use std::error::Error;

use e2e::{Browser, ServedWorkshop};

type Outcome = Result<(), Box<dyn Error>>;

/// Little is left of the violet.
const SHELF: &str = "maker,line,name,codes,volume_ml,left_ml\n\
    Tidewell,Heavy Body,Lantern Yellow,PY74,60,36\n\
    Tidewell,Heavy Body,Canvas Yellow Deep,PY83,60,54\n\
    Tidewell,Heavy Body,Organ Orange,PO73,60,21\n\
    Tidewell,Heavy Body,Saddle Red,PR254,60,54\n\
    Tidewell,Heavy Body,Plume Magenta,PR122,60,54\n\
    Tidewell,Heavy Body,Dusk Violet,PV23,60,3.5\n\
    Tidewell,Heavy Body,Canopy Ultramarine,PB29,60,54\n\
    Tidewell,Heavy Body,Awning Blue,PB15:3,60,54\n\
    Tidewell,Heavy Body,Workshop Titanium,PW6,250,150\n\
    Harrow & Pike,,Sap Green Hue,PG7 PY83,75,70\n\
    Nettlebed,,Leaf Green,PG36 PY83,120,108\n";

async fn put_the_palette_together(browser: &Browser) -> Outcome {
    browser.click("Palettes").await?;
    browser.click("New palette").await?;
    browser.fill("#name", "Carousel workshop").await?;
    // What suits a role is offered beside it.
    browser.click("Lantern Yellow").await?;
    for (role, tube) in [
        ("#role-1", "Canvas Yellow Deep"),
        ("#role-2", "Organ Orange"),
        ("#role-3", "Saddle Red"),
        ("#role-4", "Plume Magenta"),
        ("#role-6", "Canopy Ultramarine"),
        ("#role-7", "Canopy Ultramarine"),
        ("#role-8", "Workshop Titanium"),
    ] {
        browser.fill(role, tube).await?;
    }
    browser.shows(".plan-remarks", "Missing: violet.").await?;
    browser.shows(".plan-remarks", "Doubled: Canopy Ultramarine is both").await?;
    browser.fill("#role-5", "Dusk Violet").await?;
    browser.fill("#role-7", "Awning Blue").await?;
    browser.shows("#verdict", "Every role is filled once.").await?;
    browser.click("Save palette").await?;
    browser.shows(".palette", "Carousel workshop").await
}

/// `0.30 g Lantern Yellow` as a number and what it is of.
fn part(text: &str) -> Result<(f64, String), Box<dyn Error>> {
    let (amount, of) = text.split_once(" g").ok_or("no amount")?;
    Ok((amount.trim().parse()?, of.trim().to_owned()))
}

/// A pile of the list.
#[derive(Clone)]
struct Pile {
    label: String,
    /// What everything that is made from it says too.
    shows: String,
    left: f64,
}

impl Pile {
    /// `Tint Dusk Violet, white 1 : 4`: a let-down holds the same tubes at another ratio.
    fn of(what: &str, left: f64) -> Self {
        let (let_down, label) = match what.strip_prefix("Let down ") {
            Some(label) => (true, label),
            None => (false, what.split_once(' ').map_or(what, |(_, label)| label)),
        };
        let shows = if let_down { label.split(',').next().unwrap_or(label) } else { label };
        Self { label: label.to_owned(), shows: shows.to_owned(), left }
    }
}

type Palette = HashMap<String, Pile>;

/// `… move over to it, from place 1 on: A; B.`: the piles that are kept, on their new places.
fn kept(words: &str, palette: &Palette) -> Palette {
    let Some((_, labels)) = words.split_once("from place 1 on: ") else { return Palette::new() };
    let of = |label: &str| palette.values().find(|pile| pile.label == label).cloned();
    let piles = labels.trim_end_matches('.').split("; ").filter_map(of);
    piles.zip(1..).map(|(pile, place)| (place.to_string(), pile)).collect()
}

/// Reads the printed list: what is taken from each tube and each pile adds up, and every square of
/// the sheets is painted.
async fn the_list_adds_up(browser: &Browser, painted: usize) -> Outcome {
    let mut taken: HashMap<String, f64> = HashMap::new();
    // What stands on each place of the palette, and how much is left of it.
    let mut on_place = Palette::new();
    let (mut squares, mut moved) = (Vec::new(), 0);
    for row in browser.rows(".mixing-list tbody tr").await? {
        let [_, what, parts, total, place, cells] = row.as_slice() else {
            let words = row.last().ok_or("an empty row")?;
            if words.contains("palette") {
                on_place = kept(words, &on_place);
                moved += on_place.len();
            }
            continue;
        };
        let mut sum = 0.0;
        for line in parts.lines().filter(|line| !line.trim().is_empty()) {
            let (amount, of) = part(line)?;
            sum += amount;
            match of.strip_prefix("from pile ") {
                Some(pile) => {
                    let pile = on_place.get_mut(pile).ok_or("a pile that is not there")?;
                    pile.left -= amount;
                    assert!(pile.left > -0.006, "{} ran out in {row:?}", pile.label);
                    // It is made from what stands on that place by then.
                    assert!(what.contains(&pile.shows), "{row:?} from {}", pile.label);
                }
                None => *taken.entry(of).or_default() += amount,
            }
        }
        if !place.is_empty() {
            let (made, _) = part(total.lines().next().unwrap_or_default())?;
            assert!((made - sum).abs() < 0.006, "{row:?} makes {sum}");
            on_place.insert(place.clone(), Pile::of(what, made));
        }
        // `sheet 1: 4, 5 × 3, sheet 2: 9`
        for word in cells.split(',').filter(|word| !word.trim().is_empty()) {
            let number = word.rsplit(':').next().unwrap_or_default();
            let number = number.split(" × ").next().unwrap_or_default();
            squares.push(number.trim().parse::<u32>()?);
        }
    }
    assert!(moved > 0, "no pile was moved to a fresh palette");
    for line in browser.rows(".materials dl div").await? {
        let [name, amount] = line.as_slice() else { return Err("two columns".into()) };
        let (amount, _) = part(amount)?;
        let sum = taken.remove(name).unwrap_or_default();
        assert!((sum - amount).abs() < 0.006, "{name}: {sum} in the list, {amount} in all");
    }
    assert!(taken.is_empty(), "squeezed out of no tube: {taken:?}");
    squares.sort_unstable();
    squares.dedup();
    assert_eq!(squares.len(), painted);
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_star_is_planned_until_the_paint_is_enough_and_its_list_adds_up() -> Outcome {
    let (workshop, browser) = (ServedWorkshop::open().await?, Browser::start().await?);
    browser.stock(&workshop, SHELF).await?;
    put_the_palette_together(&browser).await?;

    browser.click("Plan a trial with it").await?;
    browser.shows("#verdict", "No plan yet.").await?;
    browser.fill("#name", "Greens for the canopy edge").await?;
    browser.fill("#tested div:nth-child(1) input", "Sap Green Hue").await?;
    browser.fill("#tested div:nth-child(2) input", "Leaf Green").await?;
    browser.shows("#verdict", "Not enough Dusk Violet left.").await?;
    browser.shows(".plan-remarks", "Not enough left in Dusk Violet: the plan takes").await?;
    // Nothing was read yet, and the page says so.
    browser.shows(".plan-ladders", "even to the eye for typical paints of these pigments").await?;

    // A slip is answered at its field, and the cost comes back when it is put right.
    browser.click("Adjust").await?;
    browser.fill("#side_mm", "390").await?;
    browser.shows("#side_mm-note", "larger than the sheet allows").await?;
    browser.fill("#side_mm", "15").await?;
    browser.shows("#verdict", "150 swatches on").await?;
    browser.click("Save plan").await?;
    browser.shows(".page-title", "Sap Green Hue, Leaf Green").await?;
    browser.click("Mixing list").await?;
    // The three bare backings are not painted.
    the_list_adds_up(&browser, 147).await?;
    browser.click("Sheets").await?;
    browser.shows(".page-title", "sheets, A4").await?;
    let pdf = browser.fetch("/trials/1/sheets.pdf").await?;
    assert!(pdf.starts_with("%PDF-"));
    browser.close().await
}
