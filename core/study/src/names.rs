//! What may stand in a name: of a tube, a maker, a trial, a palette.

use std::collections::HashMap;

use thiserror::Error;

/// Most letters of a name.
pub const LONGEST: usize = 200;

/// Why a text is no name.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum NameError {
    /// More than [`LONGEST`] letters.
    #[error("a name of {0} letters; at most {LONGEST} are kept, so shorten it")]
    TooLong(usize),
    /// A letter that is not seen, or that turns the text around it.
    #[error("letter {0} is one that is not seen and changes how the rest reads; take it out")]
    Hidden(usize),
}

/// Checks one name. An empty one is none of this function's business.
///
/// # Errors
/// For a name that is too long, and for control characters and the characters that change the direction
/// of text (Unicode Standard Annex 9: a name could read as another one).
pub fn check(name: &str) -> Result<(), NameError> {
    let letters = name.chars().count();
    if letters > LONGEST {
        return Err(NameError::TooLong(letters));
    }
    match name.chars().position(is_hidden) {
        Some(at) => Err(NameError::Hidden(at + 1)),
        None => Ok(()),
    }
}

/// The text as a name that may stand: hidden letters left out, and cut where it is too long.
#[must_use]
pub fn tidied(text: &str) -> String {
    let kept: String = text.chars().filter(|letter| !is_hidden(*letter)).take(LONGEST).collect();
    kept.trim().to_owned()
}

/// True for a control character, a line's end, and what turns the direction of text.
#[must_use]
pub fn is_hidden(letter: char) -> bool {
    letter.is_control()
        || matches!(letter, '\u{61c}' | '\u{200b}' | '\u{200e}' | '\u{200f}' | '\u{feff}')
        || matches!(letter, '\u{2028}'..='\u{202e}' | '\u{2060}'..='\u{2069}')
}

/// A tube among others, with what can tell it apart from them.
#[derive(Debug, Clone, Copy)]
pub struct Called<'a> {
    /// What it is called.
    pub name: &'a str,
    /// Who makes it; empty where nobody knows.
    pub maker: &'a str,
    /// Its batch; empty where nobody knows.
    pub batch: &'a str,
    /// Its number on the shelf.
    pub number: i64,
}

/// What to call each of some tubes so that none is taken for another: its name, and where that is not enough its maker,
/// then its batch, then its number.
#[must_use]
pub fn told_apart(tubes: &[Called<'_>]) -> Vec<String> {
    let with = |tube: &Called<'_>, count: usize| {
        let batch = match tube.batch {
            "" => String::new(),
            batch => format!("batch {batch}"),
        };
        let more = [tube.maker.to_owned(), batch, format!("no. {}", tube.number)];
        let more: Vec<String> = more.into_iter().take(count).filter(|it| !it.is_empty()).collect();
        match more.is_empty() {
            true => tube.name.to_owned(),
            false => format!("{} ({})", tube.name, more.join(", ")),
        }
    };
    let names: Vec<Vec<String>> =
        (0..=3).map(|count| tubes.iter().map(|it| with(it, count)).collect()).collect();
    let times: Vec<HashMap<&str, usize>> = names.iter().map(|names| times_each(names)).collect();
    // A name without more stands only where no other tube has it.
    let is_alone = |count: usize, at: usize| {
        let says_more = count == 0 || names[count][at] != names[0][at];
        says_more && times[count].get(names[count][at].as_str()) == Some(&1)
    };
    let name = |at: usize| {
        let count = (0..3).find(|count| is_alone(*count, at)).unwrap_or(3);
        names[count][at].clone()
    };
    (0..tubes.len()).map(name).collect()
}

fn times_each(names: &[String]) -> HashMap<&str, usize> {
    let mut times = HashMap::new();
    for name in names {
        *times.entry(name.as_str()).or_default() += 1;
    }
    times
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_shows_all_that_it_holds() {
        for good in ["Harrow & Pike", "Bleu Outremer n° 4", "群青", "=red", "", &"ä".repeat(200)]
        {
            assert_eq!(check(good), Ok(()), "{good}");
            assert_eq!(tidied(good), good);
        }
        assert_eq!(check(&"ä".repeat(201)), Err(NameError::TooLong(201)));
        for (wrong, at) in [("a\nb", 2), ("\u{202e}der", 1), ("ab\u{2066}", 3), ("a\u{0}", 2)] {
            assert_eq!(check(wrong), Err(NameError::Hidden(at)), "{wrong:?}");
            assert_eq!(check(&tidied(wrong)), Ok(()));
        }
    }

    #[test]
    fn tubes_of_one_name_are_told_apart() {
        let tube = |name, maker, batch, number| Called { name, maker, batch, number };
        let shelf = [
            tube("Ultramarine", "Tidewell", "7", 1),
            tube("Ultramarine", "Nettlebed", "", 2),
            tube("Ochre", "Tidewell", "", 3),
            tube("Ultramarine", "Tidewell", "8", 4),
            tube("Ultramarine", "", "", 5),
            tube("Sap green", "", "", 6),
            tube("Sap green", "", "", 7),
        ];
        let names = [
            "Ultramarine (Tidewell, batch 7)",
            "Ultramarine (Nettlebed)",
            "Ochre",
            "Ultramarine (Tidewell, batch 8)",
            "Ultramarine (no. 5)",
            "Sap green (no. 6)",
            "Sap green (no. 7)",
        ];
        assert_eq!(told_apart(&shelf), names);
    }
}
