//! Checks against values published elsewhere; `data/SOURCES.md` tells where each comes from.

mod bradford;
mod chart;
mod munsell;
mod oklch;
mod sharma;
mod srgb;

/// The rows of a bundled table, without its header.
fn rows(csv: &'static str) -> Vec<Vec<&'static str>> {
    csv.lines().skip(1).map(|line| line.split(',').collect()).collect()
}

fn number(text: &str) -> f64 {
    text.parse().expect("a number in a bundled table")
}
