//! How vivid a palette can be at every hue and lightness.

use askama::Template;
use colour::{Conditions, Lab};
use decide::{LEVELS, Reach, SECTORS, level_from};

use super::Paint;
use crate::words::number;

/// Width and height of a cell, px.
const CELL: (f64, f64) = (20.0, 20.0);
const LEFT: f64 = 40.0;
const TOP: f64 = 6.0;
/// A cell of this chroma is filled.
const FULL: f64 = 90.0;
/// The other palette reaches more where it has this much more chroma.
const MORE: f64 = 8.0;

/// The map of one palette, and where another one reaches further.
pub(crate) struct ReachMap<'a> {
    pub title: String,
    pub reach: &'a Reach,
    pub beside: Option<(&'a Reach, &'a str)>,
    pub conditions: Conditions,
}

#[derive(Template)]
#[template(path = "reach_map.svg")]
struct ReachMapSvg<'a> {
    title: &'a str,
    width: f64,
    height: f64,
    plot: [f64; 4],
    cells: Vec<MapSquare>,
    rows: Vec<(f64, String)>,
    columns: Vec<(f64, &'static str)>,
}

struct MapSquare {
    x: String,
    y: String,
    side: String,
    fill: String,
    title: String,
    href: String,
    /// Where the other palette reaches further: the centre of a ring, and its radius.
    ring: Option<(String, String, String)>,
}

impl ReachMap<'_> {
    pub fn svg(&self) -> Result<String, askama::Error> {
        let mut cells = Vec::new();
        for sector in 0..SECTORS {
            for level in 0..LEVELS {
                cells.extend(self.square(sector, level));
            }
        }
        let y = |level: usize| TOP + CELL.1 * (LEVELS - 1 - level) as f64;
        let rows = (0..LEVELS)
            .step_by(2)
            .map(|level| (y(level) + CELL.1, format!("L* {}", number(level_from(level), 0))));
        // The middles of the hues that painters name.
        let names = [
            (25.0, "red"),
            (60.0, "orange"),
            (90.0, "yellow"),
            (150.0, "green"),
            (215.0, "blue green"),
            (265.0, "blue"),
            (312.0, "violet"),
            (345.0, "magenta"),
        ];
        let columns = names.map(|(hue, name)| (LEFT + CELL.0 * hue / 10.0, name));
        let width = LEFT + CELL.0 * SECTORS as f64;
        let height = TOP + CELL.1 * LEVELS as f64;
        ReachMapSvg {
            title: &self.title,
            width,
            height: height + 22.0,
            plot: [LEFT, TOP, width - LEFT, height - TOP],
            cells,
            rows: rows.collect(),
            columns: columns.to_vec(),
        }
        .render()
    }

    fn square(&self, sector: usize, level: usize) -> Option<MapSquare> {
        let own = self.reach.at(sector, level);
        let other = self.beside.map_or(0.0, |(reach, _)| reach.at(sector, level));
        if own <= 0.0 && other <= 0.0 {
            return None;
        }
        let hue = 10.0 * sector as f64 + 5.0;
        let lightness = level_from(level) + 2.5;
        let (sin, cos) = hue.to_radians().sin_cos();
        // Where it reaches nothing, the colour that the other reaches is the one to ask for.
        let chroma = if own > 0.0 { own } else { other };
        let lab = Lab::new(lightness, chroma * cos, chroma * sin);
        let (x, y) = (
            LEFT + CELL.0 * (sector as f64 + 0.5),
            TOP + CELL.1 * (LEVELS as f64 - level as f64 - 0.5),
        );
        let side = CELL.0 * (own / FULL).clamp(0.0, 1.0).sqrt();
        let px = |value: f64| format!("{value:.1}");
        let further = self.beside.filter(|_| other > own + MORE);
        let mut title = format!(
            "hue {}°, L* {}: C* up to {}",
            number(hue, 0),
            number(lightness, 0),
            number(own, 0)
        );
        if let Some((_, name)) = further {
            title += &format!(", {name} {}", number(other, 0));
        }
        let ring = further.map(|_| {
            let radius = CELL.0 / 2.0 * (other / FULL).clamp(0.0, 1.0).sqrt();
            (px(x), px(y), px(radius))
        });
        Some(MapSquare {
            x: px(x - side / 2.0),
            y: px(y - side / 2.0),
            side: px(side),
            fill: Paint::predicted(lab, self.conditions).fill,
            title,
            href: format!("/decide/recipe?lab={lightness:.1},{:.1},{:.1}", lab.a, lab.b),
            ring,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_cell_stands_at_its_hue_and_says_who_reaches_further() {
        let (mut own, mut other) = (Reach::default(), Reach::default());
        own.add(Lab::new(52.0, 40.0, 4.0));
        other.add(Lab::new(52.0, 60.0, 6.0));
        other.add(Lab::new(30.0, 0.0, 20.0));
        let map = ReachMap {
            title: "What it reaches".into(),
            reach: &own,
            beside: Some((&other, "the shelf")),
            conditions: Conditions::D65_10,
        };
        let svg = map.svg().expect("drawn");
        assert_eq!(svg.matches("<rect class=\"reach-cell\"").count(), 2, "{svg}");
        assert_eq!(svg.matches("<circle").count(), 2);
        assert!(svg.contains("hue 5°, L* 52: C* up to 40, the shelf 60"), "{svg}");
        assert!(svg.contains("/decide/recipe?lab=52.5,40.0,3.5"), "{svg}");
    }
}
