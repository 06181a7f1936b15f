//! Tubes as people list them: a line each, in whatever order the words stand.

use study::ColourIndexName;

/// A tube as a line names it; nothing is checked yet.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct PastedTube {
    /// Marketing name.
    pub name: String,
    /// Maker; may be empty.
    pub maker: String,
    /// The maker's line; may be empty.
    pub line: String,
    /// Colour Index names in one text; may be empty.
    pub codes: String,
}

/// Reads lines such as `Ultramarine, Tidewell, Heavy Body, PB29`: cells stand between commas, semicolons or
/// tabs; what is a Colour Index name goes to the pigments wherever it stands, the first other cell is the
/// name, the second the maker, the third the line. Empty lines are left out.
#[must_use]
pub fn pasted(text: &str) -> Vec<PastedTube> {
    text.lines().map(line).filter(|tube| *tube != PastedTube::default()).collect()
}

fn line(text: &str) -> PastedTube {
    let (mut codes, mut others) = (Vec::new(), Vec::new());
    for cell in text.split([',', ';', '\t']) {
        // Words of a cell that are Colour Index names are taken out of it.
        let words = cell.split([' ', '+', '/']).filter(|word| !word.is_empty());
        let (names, rest): (Vec<&str>, Vec<&str>) =
            words.partition(|word| word.parse::<ColourIndexName>().is_ok());
        codes.extend(names);
        others.extend((!rest.is_empty()).then(|| rest.join(" ")));
    }
    let codes = codes.join(" ");
    let mut others = others.into_iter();
    let mut name = others.next().unwrap_or_else(|| codes.clone());
    let (maker, line) = (others.next().unwrap_or_default(), others.next().unwrap_or_default());
    for more in others {
        name = format!("{name} {more}");
    }
    PastedTube { name, maker, line, codes }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_line_is_a_tube_in_whatever_order_its_words_stand() {
        let text = "Ultramarine, Tidewell, PB29\nPB15:3 Awning Blue;Tidewell\n\n\
                    Sap Green Hue\tHarrow & Pike\tStudio\tPG7 + PY83\tnew\nCarriage Green\npw6\n , ,\n";
        let tube = |name: &str, maker: &str, codes: &str| PastedTube {
            name: name.into(),
            maker: maker.into(),
            line: String::new(),
            codes: codes.into(),
        };
        let sap = tube("Sap Green Hue new", "Harrow & Pike", "PG7 PY83");
        assert_eq!(
            pasted(text),
            [
                tube("Ultramarine", "Tidewell", "PB29"),
                tube("Awning Blue", "Tidewell", "PB15:3"),
                PastedTube { line: "Studio".into(), ..sap },
                tube("Carriage Green", "", ""),
                tube("pw6", "", "pw6"),
            ]
        );
    }
}
