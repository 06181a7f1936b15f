//! What is written under a square.

use plan::{Naming, Swatch};
use study::{TubeLabel, TubeRef};

/// Letters of the condensed face that fit 25 mm at the label's size.
const LETTERS: usize = 27;

/// Up to three lines: number and ratio, then the tubes with their Colour Index names.
pub(crate) fn label_lines(
    swatch: &Swatch,
    again: bool,
    naming: &Naming,
    width_mm: f64,
) -> Vec<String> {
    let (tubes, white) = (&naming.tubes, naming.white);
    let letters = (width_mm / 25.0 * LETTERS as f64) as usize;
    let label = naming.swatch(swatch);
    let number = if again { format!("as {}", swatch.number) } else { swatch.number.to_string() };
    if swatch.mixture.is_bare() {
        return vec![cut(&format!("{number}  {}", label.tubes), letters), "leave bare".to_owned()];
    }
    let ratio = label.ratio.replace(" with white", ", white");
    let mut lines = vec![cut(&format!("{number}  {ratio}"), letters)];
    let colours: Vec<TubeRef> = swatch.mixture.colours(white).map(|part| part.tube).collect();
    let named: Vec<TubeRef> = if colours.is_empty() {
        swatch.mixture.parts().iter().map(|part| part.tube).collect()
    } else {
        colours
    };
    let name = |tube: &TubeRef| {
        let label = tubes.get(tube.0).cloned().unwrap_or_default();
        named_within(&label.name, &label.code, letters)
    };
    match named.as_slice() {
        [first, second, rest @ ..] if !rest.is_empty() => {
            lines.push(name(first));
            let others = [second].into_iter().chain(rest);
            let others: Vec<String> = others
                .map(|tube| tubes.get(tube.0).map_or_else(String::new, |it| it.name.clone()))
                .collect();
            lines.push(cut(&others.join(" + "), letters));
        }
        tubes => lines.extend(tubes.iter().map(name)),
    }
    lines
}

/// A tube's name and its Colour Index names, each on a line of its own.
pub(crate) fn name_lines(tube: Option<TubeRef>, tubes: &[TubeLabel], width_mm: f64) -> [String; 2] {
    let letters = (width_mm / 25.0 * LETTERS as f64) as usize;
    let label = tube.and_then(|tube| tubes.get(tube.0)).cloned().unwrap_or_default();
    [cut(&label.name, letters), cut(&label.code, letters)]
}

/// Name and code; where both do not fit, the name gives way, since the code tells more.
fn named_within(name: &str, code: &str, letters: usize) -> String {
    let room = letters.saturating_sub(code.chars().count() + 1);
    if code.is_empty() {
        return cut(name, letters);
    }
    if room < 4 {
        return cut(&format!("{name} {code}"), letters);
    }
    format!("{} {code}", cut(name, room))
}

fn cut(text: &str, letters: usize) -> String {
    if text.chars().count() <= letters {
        return text.to_owned();
    }
    let kept: String = text.chars().take(letters.saturating_sub(1)).collect();
    format!("{}…", kept.trim_end())
}
