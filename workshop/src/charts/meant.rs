//! What somebody typed about the sides of a chart, understood: what stands in each square.

use std::collections::BTreeMap;

use sheet::{MOST_RULED, Ruling};
use store::{Role, RuledChart, SidesHold, TubeId, TypedChart};
use study::numbers::read_number;
use study::{FilmKind, Mixture, Part, TubeRef};

/// What is wrong, and at which field: `steps`, `line-0`, `line-0-2`, `across-1`, `white`, `with-white`, `other-7`,
/// `rows`, `columns`, `side`, `gap-across` or `gap-down`.
pub type ChartWrong = BTreeMap<String, String>;

/// What a chart holds.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct ChartMeant {
    /// Its tubes, the white last.
    pub tubes: Vec<(TubeId, Role)>,
    /// Row by row; `None` where nothing stands.
    pub squares: Vec<Option<(Mixture, FilmKind)>>,
}

/// What a chart as typed means; `find` tells the tube of a name, or why there is none.
///
/// # Errors
/// Everything that is wrong, each at its field.
pub fn meant(
    chart: &RuledChart,
    find: impl Fn(&str) -> Result<TubeId, String>,
) -> Result<ChartMeant, ChartWrong> {
    let mut wrong = of_ruling(&chart.ruling);
    if !wrong.is_empty() {
        return Err(wrong);
    }
    let typed = &chart.typed;
    let mut table = Table { find: &find, tubes: Vec::new(), wrong: &mut wrong };
    let white = table.named("white", &typed.white);
    let steps = table.steps(typed, step_count(chart));
    let with_white = table.with_white(typed);
    let lines: Vec<[Option<TubeId>; 2]> =
        (0..line_count(chart)).map(|at| table.line(typed, at)).collect();
    let across: Vec<Option<TubeId>> = match typed.hold {
        SidesHold::Grid => (0..step_count(chart)).map(|at| table.across(typed, at)).collect(),
        SidesHold::Tints | SidesHold::Ladders => vec![None; step_count(chart)],
    };
    if lines.iter().all(|line| line[0].is_none()) && table.wrong.is_empty() {
        table.say("line-0", "name the tube of one line at least");
    }
    let line_step = |at: usize| {
        let (row, column) = (at / chart.ruling.columns, at % chart.ruling.columns);
        if typed.lines_stand { (column, row) } else { (row, column) }
    };
    let mut squares = Vec::new();
    for at in 0..chart.ruling.squares() {
        let (line, step) = line_step(at);
        let holds = match typed.others.get(&at).map(|text| text.trim()) {
            None | Some("") => match (&lines[line], steps.get(step)) {
                ([Some(first), second], Some(step_holds)) => {
                    let other = across[step].or(*second);
                    Some(step_holds.of(*first, other, with_white))
                }
                _ => None,
            },
            Some(text) => table.other(at, text),
        };
        squares.push(holds.filter(|holds| !holds.parts.is_empty()));
    }
    if squares.iter().flatten().any(|holds| holds.white > 0.0) && typed.white.trim().is_empty() {
        table.say("white", "name the white that the tints are made with");
    }
    let used: Vec<TubeId> = table.tubes.clone();
    if !wrong.is_empty() {
        return Err(wrong);
    }
    Ok(laid_out(&used, white, &squares))
}

/// Lines and steps of a chart.
fn line_count(chart: &RuledChart) -> usize {
    if chart.typed.lines_stand { chart.ruling.columns } else { chart.ruling.rows }
}

fn step_count(chart: &RuledChart) -> usize {
    if chart.typed.lines_stand { chart.ruling.rows } else { chart.ruling.columns }
}

/// What stands in a square: tubes with their parts, and parts of white to one part of these together.
#[derive(Debug, Clone, PartialEq)]
struct Holds {
    parts: Vec<(TubeId, f64)>,
    white: f64,
    film: FilmKind,
}

/// What one step does to its line.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Step {
    /// So much white.
    White(f64),
    /// Thinned or scraped down.
    Undertone,
    /// So much of both tubes.
    Ratio([f64; 2]),
}

impl Step {
    fn of(self, first: TubeId, other: Option<TubeId>, with_white: f64) -> Holds {
        let full = FilmKind::Full;
        match (self, other) {
            (Self::White(white), _) => Holds { parts: vec![(first, 1.0)], white, film: full },
            (Self::Undertone, _) => {
                Holds { parts: vec![(first, 1.0)], white: 0.0, film: FilmKind::Thin }
            }
            (Self::Ratio([one, two]), Some(other)) => {
                let parts: Vec<(TubeId, f64)> =
                    [(first, one), (other, two)].into_iter().filter(|it| it.1 > 0.0).collect();
                Holds { parts, white: with_white, film: full }
            }
            // The other tube has no name: nothing is known of the square.
            (Self::Ratio(_), None) => Holds { parts: Vec::new(), white: 0.0, film: full },
        }
    }
}

/// Names that are looked up, and what was wrong with them.
struct Table<'a, F> {
    find: &'a F,
    tubes: Vec<TubeId>,
    wrong: &'a mut ChartWrong,
}

impl<F: Fn(&str) -> Result<TubeId, String>> Table<'_, F> {
    fn say(&mut self, field: &str, message: impl Into<String>) {
        self.wrong.entry(field.to_owned()).or_insert_with(|| message.into());
    }

    /// The tube of a name; `None` where none stands there, or no such tube.
    fn named(&mut self, field: &str, text: &str) -> Option<TubeId> {
        if text.trim().is_empty() {
            return None;
        }
        match (self.find)(text) {
            Ok(tube) => {
                if !self.tubes.contains(&tube) {
                    self.tubes.push(tube);
                }
                Some(tube)
            }
            Err(message) => {
                self.say(field, message);
                None
            }
        }
    }

    fn line(&mut self, typed: &TypedChart, at: usize) -> [Option<TubeId>; 2] {
        let [first, second] = typed.lines.get(at).cloned().unwrap_or_default();
        let first_tube = self.named(&format!("line-{at}"), &first);
        let field = format!("line-{at}-2");
        if typed.hold != SidesHold::Ladders {
            return [first_tube, None];
        }
        let second_tube = self.named(&field, &second);
        if first_tube.is_some() && second.trim().is_empty() {
            self.say(&field, "name the tube that the line leads to");
        }
        [first_tube, second_tube]
    }

    fn across(&mut self, typed: &TypedChart, at: usize) -> Option<TubeId> {
        let text = typed.across.get(at).cloned().unwrap_or_default();
        self.named(&format!("across-{at}"), &text)
    }

    fn with_white(&mut self, typed: &TypedChart) -> f64 {
        match read_number(&typed.with_white) {
            Ok(None) => 0.0,
            Ok(Some(parts)) if (0.0..=1000.0).contains(&parts) => parts,
            _ => {
                let text = typed.with_white.trim();
                self.say(
                    "with-white",
                    format!("“{text}” is no part of white; write 0 to 1000, such as 1"),
                );
                0.0
            }
        }
    }

    fn steps(&mut self, typed: &TypedChart, wanted: usize) -> Vec<Step> {
        if typed.hold == SidesHold::Grid {
            let text = if typed.steps.trim().is_empty() { "1:1" } else { typed.steps.trim() };
            return match ratio(text) {
                Some(both) => vec![Step::Ratio(both); wanted],
                None => {
                    self.say("steps", format!("“{text}” is not a ratio; write one such as 1:1"));
                    Vec::new()
                }
            };
        }
        let words = typed.steps.split([',', ';', '/', '\n']).map(str::trim);
        let words: Vec<&str> = words.filter(|word| !word.is_empty()).collect();
        if words.len() != wanted {
            self.say(
                "steps",
                format!("a line has {wanted} squares, and {} steps are named", words.len()),
            );
            return Vec::new();
        }
        let read = words.iter().map(|word| match typed.hold {
            SidesHold::Tints => tint(word).ok_or_else(|| {
                format!("“{word}” is no tint; write mass tone, undertone, or white such as 1:4")
            }),
            SidesHold::Ladders | SidesHold::Grid => ratio(word).map(Step::Ratio).ok_or_else(|| {
                format!("“{word}” is no ratio; write 3:1, or percent of the first such as 75")
            }),
        });
        match read.collect::<Result<Vec<Step>, String>>() {
            Ok(steps) => steps,
            Err(message) => {
                self.say("steps", message);
                Vec::new()
            }
        }
    }

    /// `2 Canopy Ultramarine + 1 Lantern Yellow + 4 white`, or `nothing`.
    fn other(&mut self, at: usize, text: &str) -> Option<Holds> {
        let field = format!("other-{at}");
        if text.eq_ignore_ascii_case("nothing") {
            return None;
        }
        let mut holds = Holds { parts: Vec::new(), white: 0.0, film: FilmKind::Full };
        let mut white = 0.0;
        for piece in text.split('+').map(str::trim) {
            let (parts, name) = match piece.split_once(' ') {
                Some((number, name)) if read_number(number).is_ok() => {
                    (read_number(number).ok().flatten().unwrap_or(1.0), name)
                }
                _ => (1.0, piece),
            };
            if !(parts > 0.0 && parts <= 1000.0) {
                self.say(&field, format!("{parts} parts cannot be; write more than 0, up to 1000"));
                return None;
            }
            if name.eq_ignore_ascii_case("white") {
                white += parts;
                continue;
            }
            let tube = self.named(&field, name)?;
            holds.parts.push((tube, parts));
        }
        let whole: f64 = holds.parts.iter().map(|it| it.1).sum();
        if whole == 0.0 {
            self.say(&field, "name a tube, or write “nothing”");
            return None;
        }
        holds.white = white / whole;
        Some(holds)
    }
}

/// Parts of white to one part: `mass tone`, `1:4`, `4`.
fn tint(word: &str) -> Option<Step> {
    match word.to_lowercase().as_str() {
        "mass tone" | "neat" | "alone" => return Some(Step::White(0.0)),
        "undertone" | "thin" | "wash" => return Some(Step::Undertone),
        _ => {}
    }
    let parts = match word.split_once(':') {
        Some((one, white)) => {
            let [one, white] = [one, white].map(|it| read_number(it).ok().flatten());
            white? / one.filter(|one| *one > 0.0)?
        }
        None => read_number(word).ok().flatten()?,
    };
    (0.0..=1000.0).contains(&parts).then_some(Step::White(parts))
}

/// `3:1`, or percent of the first.
fn ratio(word: &str) -> Option<[f64; 2]> {
    let is_part = |it: &f64| (0.0..=1000.0).contains(it);
    if let Some((one, other)) = word.split_once(':') {
        let [one, other] = [one, other].map(|it| read_number(it).ok().flatten());
        let both = [one.filter(is_part)?, other.filter(is_part)?];
        return (both[0] + both[1] > 0.0).then_some(both);
    }
    let percent = read_number(word.trim_end_matches('%')).ok().flatten()?;
    (0.0..=100.0).contains(&percent).then_some([percent, 100.0 - percent])
}

fn of_ruling(ruling: &Ruling) -> ChartWrong {
    let mut wrong = ChartWrong::new();
    let mut say = |field: &str, message: String| {
        wrong.insert(field.to_owned(), message);
    };
    for (field, count) in [("rows", ruling.rows), ("columns", ruling.columns)] {
        if !(1..=MOST_RULED).contains(&count) {
            say(field, format!("write 1 to {MOST_RULED}"));
        }
    }
    if !(3.0..=100.0).contains(&ruling.side_mm) {
        say("side", "write 3 to 100 mm".into());
    }
    for (field, gap) in [("gap-across", ruling.gap_mm[0]), ("gap-down", ruling.gap_mm[1])] {
        if !(0.0..=100.0).contains(&gap) {
            say(field, "write 0 to 100 mm".into());
        }
    }
    wrong
}

/// Tubes in the order in which they were named, the white last.
fn laid_out(used: &[TubeId], white: Option<TubeId>, squares: &[Option<Holds>]) -> ChartMeant {
    let stands = |tube: &TubeId| {
        let mut holding = squares.iter().flatten();
        holding.any(|holds| holds.parts.iter().any(|(it, _)| it == tube))
    };
    let colours = used.iter().filter(|tube| Some(**tube) != white && stands(tube)).copied();
    let mut tubes: Vec<(TubeId, Role)> = colours.map(|tube| (tube, Role::Tested)).collect();
    tubes.extend(white.map(|white| (white, Role::White)));
    let place = |tube: TubeId| tubes.iter().position(|(it, _)| *it == tube).map(TubeRef);
    let mixture = |holds: &Holds| {
        let whole: f64 = holds.parts.iter().map(|it| it.1).sum();
        let white = white.and_then(place).map(|tube| Part { tube, parts: holds.white * whole });
        let parts = holds.parts.iter();
        let parts =
            parts.filter_map(|(tube, parts)| Some(Part { tube: place(*tube)?, parts: *parts }));
        Mixture::new(parts.chain(white))
    };
    let squares = squares.iter().map(|it| it.as_ref().map(|holds| (mixture(holds), holds.film)));
    let squares = squares.collect();
    ChartMeant { tubes, squares }
}

/// What a square is called by its place: `row 2, column 3`.
#[must_use]
pub fn in_square(ruling: &Ruling, at: usize) -> String {
    let columns = ruling.columns.max(1);
    format!("row {}, column {}", at / columns + 1, at % columns + 1)
}

#[cfg(test)]
mod tests {
    use super::*;

    const NAMES: [&str; 4] = ["Blue", "Yellow", "Red", "White"];

    fn find(name: &str) -> Result<TubeId, String> {
        let at = NAMES.iter().position(|known| known.eq_ignore_ascii_case(name.trim()));
        at.map(|at| TubeId(at as i64)).ok_or_else(|| format!("no tube “{name}”"))
    }

    fn chart(hold: SidesHold, [rows, columns]: [usize; 2], lines: &[[&str; 2]]) -> RuledChart {
        let lines = lines.iter().map(|line| line.map(str::to_owned)).collect();
        let typed = TypedChart { hold, lines, white: "white".into(), ..TypedChart::default() };
        let ruling = Ruling { rows, columns, ..Ruling::default() };
        RuledChart { ruling, typed, ..RuledChart::default() }
    }

    /// Each square as `1 Blue 4 White`, row by row, `-` where nothing stands, `~` before a thin one.
    fn told(chart: &RuledChart) -> String {
        let meant = meant(chart, find).expect("understood");
        let part = |part: &Part| {
            let TubeId(at) = meant.tubes[part.tube.0].0;
            format!("{:.3} {}", part.parts, NAMES[at as usize])
        };
        let square = |square: &Option<(Mixture, FilmKind)>| match square {
            None => "-".to_owned(),
            Some((mixture, film)) => {
                let thin = if *film == FilmKind::Thin { "~" } else { "" };
                let parts: Vec<String> = mixture.parts().iter().map(part).collect();
                format!("{thin}{}", parts.join(" + ")).replace(".000", "")
            }
        };
        meant.squares.iter().map(square).collect::<Vec<_>>().join(" | ")
    }

    #[test]
    fn what_is_typed_along_the_sides_says_what_stands_in_each_square() {
        let mut tints = chart(SidesHold::Tints, [2, 4], &[["blue", ""], ["", ""]]);
        tints.typed.steps = "mass tone, undertone, 1:4 / 16".into();
        assert_eq!(
            told(&tints),
            "1 Blue | ~1 Blue | 1 Blue + 4 White | 1 Blue + 16 White | - | - | - | -"
        );
        // One square holds something else, and one nothing.
        tints.typed.others = BTreeMap::from([
            (1, "2 blue + 1 Yellow + 6 white".into()),
            (3, "Nothing".into()),
            (4, "red".into()),
        ]);
        assert_eq!(
            told(&tints),
            "1 Blue | 2 Blue + 1 Yellow + 6 White | 1 Blue + 4 White | - | 1 Red | - | - | -"
        );

        let mut ladders = chart(SidesHold::Ladders, [1, 5], &[["blue", "yellow"]]);
        ladders.typed.steps = "100/75 %/50/25/0".into();
        let neat = "100 Blue | 75 Blue + 25 Yellow | 50 Blue + 50 Yellow | 25 Blue + 75 Yellow | 100 Yellow";
        assert_eq!(told(&ladders), neat);
        // Each with half as much white as colour, and the same standing.
        ladders.typed.with_white = "0,5".into();
        assert!(told(&ladders).starts_with("100 Blue + 50 White | 75 Blue + 25 Yellow + 50 White"));
        ladders.typed.with_white.clear();
        ladders.typed.lines_stand = true;
        ladders.ruling = Ruling { rows: 5, columns: 1, ..ladders.ruling };
        assert_eq!(told(&ladders), neat);

        let mut grid = chart(SidesHold::Grid, [2, 2], &[["blue", ""], ["yellow", ""]]);
        grid.typed.across = vec!["yellow".into(), "red".into()];
        assert_eq!(told(&grid), "1 Blue + 1 Yellow | 1 Blue + 1 Red | 2 Yellow | 1 Yellow + 1 Red");
        grid.typed.steps = "3:1".into();
        assert!(told(&grid).ends_with("3 Yellow + 1 Red"));
    }

    #[test]
    fn what_is_wrong_is_said_at_its_field() {
        type Change = fn(&mut RuledChart);
        let cases: [(Change, &str, &str); 12] = [
            (|it| it.typed.steps = "1:4, 1:2".into(), "steps", "a line has 3 squares, and 2 steps"),
            (|it| it.typed.steps = "1:4, 1:x, 3".into(), "steps", "“1:x” is no tint"),
            (|it| it.typed.steps = "1:4, -1, 3".into(), "steps", "“-1” is no tint"),
            (|it| it.typed.steps = "1:4, 0:1, 3".into(), "steps", "“0:1” is no tint"),
            (|it| it.typed.lines[0][0] = "Mud".into(), "line-0", "no tube “Mud”"),
            (|it| it.typed.lines.clear(), "line-0", "name the tube of one line"),
            (|it| it.typed.white.clear(), "white", "name the white"),
            (|it| it.ruling.rows = 0, "rows", "write 1 to 24"),
            (|it| it.ruling.columns = 25, "columns", "write 1 to 24"),
            (|it| it.ruling.side_mm = f64::NAN, "side", "write 3 to 100 mm"),
            (|it| it.ruling.gap_mm[1] = -1.0, "gap-down", "write 0 to 100 mm"),
            (
                |it| it.typed.others = BTreeMap::from([(2, "3 white".into())]),
                "other-2",
                "name a tube, or write “nothing”",
            ),
        ];
        for (change, field, words) in cases {
            let mut chart = chart(SidesHold::Tints, [1, 3], &[["blue", ""]]);
            chart.typed.steps = "mass tone, 1:4, 1:16".into();
            change(&mut chart);
            let wrong = meant(&chart, find).expect_err(field);
            assert_eq!(wrong.len(), 1, "{wrong:?}");
            assert!(wrong.get(field).is_some_and(|it| it.contains(words)), "{wrong:?}");
        }
        let mut ladder = chart(SidesHold::Ladders, [1, 2], &[["blue", ""]]);
        ladder.typed.steps = "101, 50".into();
        ladder.typed.with_white = "much".into();
        let wrong = meant(&ladder, find).expect_err("three fields");
        assert_eq!(wrong.keys().collect::<Vec<_>>(), ["line-0-2", "steps", "with-white"]);
    }
}
