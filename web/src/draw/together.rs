//! Some tubes with one partner at equal strength, edge to edge: what can be seen is framed.

use askama::Template;

use super::Paint;

const WIDTH: usize = 252;
const HEIGHT: usize = 40;

/// One tube's colour in a square.
#[derive(Debug, Clone)]
pub(crate) struct Beside {
    pub paint: Paint,
    /// It was not read in these parts.
    pub predicted: bool,
    pub title: String,
}

/// The squares of one partner, each of all tubes.
#[derive(Debug, Clone)]
pub(crate) struct Together {
    pub title: String,
    /// A difference in this square can be seen.
    pub squares: Vec<(Vec<Option<Beside>>, bool)>,
}

#[derive(Template)]
#[template(path = "together.svg")]
struct TogetherSvg<'a> {
    title: &'a str,
    width: usize,
    height: usize,
    bands: Vec<Band<'a>>,
}

struct Band<'a> {
    y: usize,
    tubes: Vec<(usize, usize, &'a Option<Beside>)>,
    framed: bool,
}

impl Together {
    pub fn svg(&self) -> Result<String, askama::Error> {
        let bands = self.squares.iter().enumerate().map(|(row, (tubes, framed))| {
            let x = |at: usize| 3 + at * (WIDTH - 6) / tubes.len().max(1);
            let placed = tubes.iter().enumerate().map(|(at, it)| (x(at), x(at + 1) - x(at), it));
            Band { y: 3 + row * (HEIGHT + 6), tubes: placed.collect(), framed: *framed }
        });
        let height = self.squares.len() * (HEIGHT + 6);
        TogetherSvg { title: &self.title, width: WIDTH, height, bands: bands.collect() }.render()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn colours_touch_and_only_what_can_be_seen_is_framed() {
        let beside = |fill: &str, predicted| {
            let paint = Paint { fill: fill.into(), duller: false, approximate: false };
            Some(Beside { paint, predicted, title: format!("paint {fill}") })
        };
        let squares = vec![
            (vec![beside("#111111", false), beside("#222222", true), None], true),
            (vec![beside("#333333", false), beside("#444444", false), None], false),
        ];
        let svg = Together { title: "With Lantern Yellow".into(), squares }.svg().expect("drawn");
        assert!(svg.contains(r##"x="3" y="3" width="82" height="40" fill="#111111""##), "{svg}");
        assert!(svg.contains(r##"x="85" y="3" width="82" height="40" fill="#222222""##), "{svg}");
        let count = |what: &str| svg.matches(what).count();
        assert_eq!((count("together-frame"), count("predicted"), count("unread")), (1, 1, 2));
    }
}
