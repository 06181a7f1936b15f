//! The way of each tube from its mass tone to its palest tint, in the a*b* plane and by lightness and chroma.

use askama::Template;
use colour::Lab;

use super::Paint;

/// Side of the plane, width of the other plot, and height of both, px.
const SIDE: f64 = 330.0;
const NARROW: f64 = 210.0;
/// Room around the colours: CIELAB units in the plane, px at the edges of the other plot.
const AROUND: f64 = 7.0;
const EDGE: f64 = 26.0;
/// Dashes that tell the first tubes apart; further ones are told by their letters alone.
const DASHES: [&str; 4] = ["", "7 4", "2 3", "10 3 2 3"];

/// One colour on the way.
#[derive(Debug, Clone)]
pub(crate) struct PathPoint {
    pub lab: Lab,
    /// Half-widths of the 95 % interval of L*, a* and b*.
    pub half_width: [f64; 3],
    pub paint: Paint,
    /// Predicted and not read: a dotted edge.
    pub predicted: bool,
    /// The row of the rack that it stands in.
    pub step: usize,
    pub title: String,
}

/// A tube's way.
#[derive(Debug, Clone)]
pub(crate) struct HuePath {
    pub letter: char,
    /// Every colour that was read, the mass tone first.
    pub way: Vec<Lab>,
    pub points: Vec<PathPoint>,
}

/// The ways of some tubes.
#[derive(Debug, Clone, Default)]
pub(crate) struct HuePaths {
    pub title: String,
    pub paths: Vec<HuePath>,
}

#[derive(Template)]
#[template(path = "paths.svg")]
struct PathsSvg<'a> {
    title: String,
    width: f64,
    height: f64,
    /// Lines of the frame: from and to.
    axes: Vec<[String; 4]>,
    rings: Vec<Ring>,
    labels: Vec<Label>,
    ways: Vec<Way>,
    dots: Vec<Dot<'a>>,
}

struct Ring {
    x: String,
    y: String,
    r: String,
}

struct Label {
    x: String,
    y: String,
    anchor: &'static str,
    text: String,
}

struct Way {
    points: String,
    dash: &'static str,
    x: String,
    y: String,
    letter: char,
}

struct Dot<'a> {
    x: String,
    y: String,
    rx: String,
    ry: String,
    point: &'a PathPoint,
}

/// Where a letter stands clear of all dots and letters, as near to its dot as may be.
fn free_place((x, y): (f64, f64), taken: &[(f64, f64)], width: f64) -> (f64, f64) {
    let around = (0..48).map(|at| {
        let (turn, away) =
            (f64::from(at % 12) * std::f64::consts::TAU / 12.0, 14.0 + 7.0 * f64::from(at / 12));
        (x + away * turn.cos(), y + away * turn.sin())
    });
    let is_free = |(x, y): &(f64, f64)| {
        (8.0..width - 8.0).contains(x)
            && (10.0..SIDE - 8.0).contains(y)
            && taken.iter().all(|(other, high)| (x - other).hypot(y - high) > 12.5)
    };
    around.clone().find(is_free).unwrap_or((x, y))
}

/// How the second tube's line is drawn, as the legend shows it.
pub(crate) fn dash(at: usize) -> &'static str {
    DASHES.get(at).copied().unwrap_or("")
}

fn px(value: f64) -> String {
    format!("{value:.1}")
}

/// From CIELAB to a plot.
trait Place {
    fn at(&self, lab: Lab) -> (f64, f64);
    /// px of the half-widths.
    fn half(&self, lab: Lab, half_width: [f64; 3]) -> (f64, f64);
}

/// The a*b* plane: both axes alike, and the neutral point in sight.
struct Plane {
    left: f64,
    top: f64,
    scale: f64,
}

impl Place for Plane {
    fn at(&self, lab: Lab) -> (f64, f64) {
        ((lab.a - self.left) * self.scale, (self.top - lab.b) * self.scale)
    }

    fn half(&self, _: Lab, [_, a, b]: [f64; 3]) -> (f64, f64) {
        (a * self.scale, b * self.scale)
    }
}

impl Plane {
    fn holding(colours: &[Lab]) -> Self {
        let range = |of: fn(&Lab) -> f64| {
            let values = colours.iter().map(of);
            let low = values.clone().fold(0.0, f64::min) - AROUND;
            (low, values.fold(0.0, f64::max) + AROUND)
        };
        let (a, b) = (range(|it| it.a), range(|it| it.b));
        let across = (a.1 - a.0).max(b.1 - b.0).max(4.0 * AROUND);
        let (left, top) =
            (f64::midpoint(a.0, a.1) - across / 2.0, f64::midpoint(b.0, b.1) + across / 2.0);
        Self { left, top, scale: SIDE / across }
    }

    fn drawing<'a>(&self, paths: &'a HuePaths) -> PathsSvg<'a> {
        let (x, y) = self.at(Lab::new(0.0, 0.0, 0.0));
        let line = |of: [f64; 4]| of.map(px);
        // Each ring is named where its axis has most room.
        let below = y < SIDE / 2.0;
        let rings = (1..=6).map(|at| 20.0 * f64::from(at));
        let seen = rings.filter(|ring| {
            let end = if below { y + ring * self.scale } else { y - ring * self.scale };
            (14.0..SIDE - 6.0).contains(&end)
        });
        let seen: Vec<f64> = seen.collect();
        let name = |ring: &f64| {
            let end =
                if below { y + ring * self.scale - 3.0 } else { y - ring * self.scale + 12.0 };
            Label { x: px(x + 4.0), y: px(end), anchor: "start", text: format!("C* {ring:.0}") }
        };
        let mut labels: Vec<Label> = seen.iter().map(name).collect();
        let words = [
            (SIDE - 4.0, (y - 5.0).clamp(12.0, SIDE - 5.0), "end", "a* redder →"),
            (
                4.0,
                if below { SIDE - 5.0 } else { 13.0 },
                "start",
                if below { "b* bluer ↓" } else { "b* yellower ↑" },
            ),
        ];
        labels.extend(words.map(|(x, y, anchor, text)| Label {
            x: px(x),
            y: px(y),
            anchor,
            text: text.into(),
        }));
        PathsSvg {
            title: format!("{}, in the a*b* plane", paths.title),
            width: SIDE,
            height: SIDE,
            axes: vec![line([0.0, y, SIDE, y]), line([x, 0.0, x, SIDE])],
            rings: seen
                .iter()
                .map(|ring| Ring { x: px(x), y: px(y), r: px(ring * self.scale) })
                .collect(),
            labels,
            ways: paths.ways(self, SIDE),
            dots: paths.dots(self),
        }
    }
}

/// Chroma across, lightness upward.
struct ByLightness {
    across: f64,
}

impl Place for ByLightness {
    fn at(&self, lab: Lab) -> (f64, f64) {
        let x = EDGE + lab.chroma() / self.across * (NARROW - EDGE - 8.0);
        (x, 8.0 + (100.0 - lab.l) / 100.0 * (SIDE - EDGE - 8.0))
    }

    fn half(&self, _: Lab, [l, a, b]: [f64; 3]) -> (f64, f64) {
        let chroma = a.hypot(b) / std::f64::consts::SQRT_2;
        (chroma / self.across * (NARROW - EDGE - 8.0), l / 100.0 * (SIDE - EDGE - 8.0))
    }
}

impl ByLightness {
    fn drawing<'a>(&self, paths: &'a HuePaths) -> PathsSvg<'a> {
        let (left, bottom) = self.at(Lab::new(0.0, 0.0, 0.0));
        let line = |of: [f64; 4]| of.map(px);
        let mut axes = vec![line([left, bottom, NARROW, bottom]), line([left, 0.0, left, bottom])];
        let mut labels = Vec::new();
        for l in [20.0, 40.0, 60.0, 80.0] {
            let (_, y) = self.at(Lab::new(l, 0.0, 0.0));
            axes.push(line([left - 4.0, y, left, y]));
            labels.push(Label {
                x: px(left - 6.0),
                y: px(y + 4.0),
                anchor: "end",
                text: format!("{l:.0}"),
            });
        }
        labels
            .push(Label { x: px(left + 4.0), y: px(12.0), anchor: "start", text: "L* ↑".into() });
        let step = if self.across > 60.0 { 40.0 } else { 20.0 };
        let mut chroma = step;
        while chroma < self.across * 0.8 {
            let (x, _) = self.at(Lab::new(0.0, chroma, 0.0));
            axes.push(line([x, bottom, x, bottom + 4.0]));
            labels.push(Label {
                x: px(x),
                y: px(bottom + 16.0),
                anchor: "middle",
                text: format!("{chroma:.0}"),
            });
            chroma += step;
        }
        labels.push(Label {
            x: px(NARROW - 2.0),
            y: px(bottom + 16.0),
            anchor: "end",
            text: "C* →".into(),
        });
        PathsSvg {
            title: format!("{}, by lightness and chroma", paths.title),
            width: NARROW,
            height: SIDE,
            axes,
            rings: Vec::new(),
            labels,
            ways: paths.ways(self, NARROW),
            dots: paths.dots(self),
        }
    }
}

impl HuePaths {
    /// The a*b* plane and the plot by lightness and chroma; `None` where there is no colour.
    pub fn svgs(&self) -> Result<Option<[String; 2]>, askama::Error> {
        let points = self.paths.iter().flat_map(|path| {
            path.way.iter().copied().chain(path.points.iter().map(|point| point.lab))
        });
        let colours: Vec<Lab> = points.collect();
        if colours.is_empty() {
            return Ok(None);
        }
        let across = colours.iter().map(|it| it.chroma()).fold(20.0, f64::max) * 1.08;
        let plane = Plane::holding(&colours).drawing(self).render()?;
        Ok(Some([plane, ByLightness { across }.drawing(self).render()?]))
    }

    fn ways(&self, place: &impl Place, width: f64) -> Vec<Way> {
        let points = self.paths.iter().flat_map(|path| &path.points);
        let mut taken: Vec<(f64, f64)> = points.map(|point| place.at(point.lab)).collect();
        let mut ways = Vec::new();
        for (at, path) in self.paths.iter().enumerate() {
            let spots: Vec<(f64, f64)> = path.way.iter().map(|lab| place.at(*lab)).collect();
            let Some(start) = spots.first() else { continue };
            let (x, y) = free_place(*start, &taken, width);
            taken.push((x, y));
            let points: Vec<String> = spots.iter().map(|(x, y)| format!("{x:.1},{y:.1}")).collect();
            let (x, y) = (px(x), px(y + 4.5));
            ways.push(Way { points: points.join(" "), dash: dash(at), x, y, letter: path.letter });
        }
        ways
    }

    fn dots(&self, place: &impl Place) -> Vec<Dot<'_>> {
        let points = self.paths.iter().flat_map(|path| &path.points);
        points
            .map(|point| {
                let ((x, y), (rx, ry)) =
                    (place.at(point.lab), place.half(point.lab, point.half_width));
                Dot { x: px(x), y: px(y), rx: px(rx.max(0.1)), ry: px(ry.max(0.1)), point }
            })
            .collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn point(lab: Lab, step: usize) -> PathPoint {
        let paint = Paint { fill: "#334455".into(), duller: false, approximate: false };
        PathPoint {
            lab,
            half_width: [0.4, 0.5, 0.5],
            paint,
            predicted: step > 0,
            step,
            title: "Blue, 1 : 4".into(),
        }
    }

    #[test]
    fn ways_keep_their_directions_and_everything_stays_inside() {
        let way = vec![Lab::new(20.0, 30.0, -60.0), Lab::new(80.0, -3.0, -20.0)];
        let points = way.iter().zip(0..).map(|(lab, step)| point(*lab, step)).collect();
        let path = HuePath { letter: 'A', way, points };
        let paths = HuePaths { title: "One blue".into(), paths: vec![path] };
        let [plane, other] = paths.svgs().expect("drawn").expect("colours");
        assert!(plane.contains(r#"aria-label="One blue, in the a*b* plane""#), "{plane}");
        assert!(plane.contains("C* 20") && plane.contains("b* bluer"), "{plane}");
        // Both plots have both dots, each told in words and lit together with its step.
        for svg in [&plane, &other] {
            assert_eq!(svg.matches("<title>Blue, 1 : 4</title>").count(), 2);
            assert!(svg.contains(r#"data-step="1""#));
            assert_eq!(svg.matches("is-predicted").count(), 1);
            for part in svg.split("cx=\"").skip(1) {
                let x: f64 =
                    part.split('"').next().and_then(|it| it.parse().ok()).expect("a number");
                assert!((0.0..=SIDE).contains(&x), "{x}");
            }
        }
        assert!(HuePaths::default().svgs().expect("drawn").is_none());
    }
}
