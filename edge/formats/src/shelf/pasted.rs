//! Tubes as people list them: a line each, in whatever order the words stand.

use study::ColourIndexName;

/// A tube as a line names it; nothing is checked yet.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct PastedTube {
    /// Marketing name.
    pub name: String,
    /// Maker; may be empty.
    pub maker: String,
    /// Colour Index names in one text; may be empty.
    pub codes: String,
}

/// Reads lines such as `Ultramarine, Tidewell, PB29`: cells stand between commas, semicolons or tabs; what
/// is a Colour Index name goes to the pigments wherever it stands, the first other cell is the name, the
/// second the maker. Empty lines are left out.
#[must_use]
pub fn pasted(text: &str) -> Vec<PastedTube> {
    text.lines().map(line).filter(|tube| *tube != PastedTube::default()).collect()
}

fn line(text: &str) -> PastedTube {
    let mut tube = PastedTube::default();
    let mut codes: Vec<String> = Vec::new();
    for cell in text.split([',', ';', '\t']) {
        // Words of a cell that are Colour Index names are taken out of it.
        let is_code = |word: &&str| word.parse::<ColourIndexName>().is_ok();
        let words: Vec<&str> =
            cell.split([' ', '+', '/']).filter(|word| !word.is_empty()).collect();
        codes.extend(words.iter().filter(|word| is_code(word)).map(|word| (*word).to_owned()));
        let rest: Vec<&str> = words.into_iter().filter(|word| !is_code(word)).collect();
        let rest = rest.join(" ");
        if rest.is_empty() {
            continue;
        }
        match (tube.name.is_empty(), tube.maker.is_empty()) {
            (true, _) => tube.name = rest,
            (false, true) => tube.maker = rest,
            (false, false) => tube.name = format!("{} {rest}", tube.name),
        }
    }
    tube.codes = codes.join(" ");
    if tube.name.is_empty() {
        tube.name.clone_from(&tube.codes);
    }
    tube
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_line_is_a_tube_in_whatever_order_its_words_stand() {
        let text = "Ultramarine, Tidewell, PB29\nPB15:3 Awning Blue;Tidewell\n\n\
                    Sap Green Hue\tHarrow & Pike\tPG7 + PY83\nCarriage Green\npw6\n , ,\n";
        let tube = |name: &str, maker: &str, codes: &str| PastedTube {
            name: name.into(),
            maker: maker.into(),
            codes: codes.into(),
        };
        assert_eq!(
            pasted(text),
            [
                tube("Ultramarine", "Tidewell", "PB29"),
                tube("Awning Blue", "Tidewell", "PB15:3"),
                tube("Sap Green Hue", "Harrow & Pike", "PG7 PY83"),
                tube("Carriage Green", "", ""),
                tube("pw6", "", "pw6"),
            ]
        );
    }
}
