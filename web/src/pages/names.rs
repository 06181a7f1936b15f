//! The tubes of the shelf by the names that forms offer, each name once.

use std::collections::HashMap;

use study::TubeLabel;
use workshop::{ShelfTube, TubeId};

/// Names and tubes.
#[derive(Debug)]
pub(crate) struct TubeNames<'a> {
    tubes: &'a [ShelfTube],
    names: Vec<String>,
    by_name: HashMap<String, usize>,
    by_id: HashMap<TubeId, usize>,
}

impl<'a> TubeNames<'a> {
    pub fn new(tubes: &'a [ShelfTube]) -> Self {
        let mut times: HashMap<String, usize> = HashMap::new();
        for tube in tubes {
            *times.entry(full_name(tube)).or_default() += 1;
        }
        let name = |tube: &ShelfTube| {
            let name = full_name(tube);
            match times.get(&name) {
                Some(1) => name,
                _ => format!("{name} · no. {}", tube.id.0),
            }
        };
        let names: Vec<String> = tubes.iter().map(name).collect();
        let by_name = names.iter().enumerate().map(|(at, name)| (name.to_lowercase(), at));
        Self {
            by_name: by_name.collect(),
            by_id: tubes.iter().enumerate().map(|(at, tube)| (tube.id, at)).collect(),
            names,
            tubes,
        }
    }

    /// Every name, in the shelf's order.
    pub fn all(&self) -> &[String] {
        &self.names
    }

    /// The name of a tube; empty where it is not on the shelf.
    pub fn of(&self, id: TubeId) -> String {
        self.by_id.get(&id).map_or_else(String::new, |at| self.names[*at].clone())
    }

    /// What a reading knows of a tube; nothing where it is not on the shelf.
    pub fn label(&self, id: TubeId) -> TubeLabel {
        self.by_id.get(&id).map_or_else(TubeLabel::default, |at| self.tubes[*at].tube.label())
    }

    /// The tube that a text means: its whole name, or a marketing name that only one tube has.
    pub fn find(&self, text: &str) -> Result<&'a ShelfTube, String> {
        let wanted = text.trim().to_lowercase();
        if let Some(at) = self.by_name.get(&wanted) {
            return Ok(&self.tubes[*at]);
        }
        let named: Vec<usize> = (0..self.tubes.len())
            .filter(|at| self.tubes[*at].tube.name.to_lowercase() == wanted)
            .collect();
        match named.as_slice() {
            [only] => Ok(&self.tubes[*only]),
            [] => Err(self.unknown(text, &wanted)),
            many => Err(format!(
                "{} tubes are called “{}”; choose {}",
                many.len(),
                text.trim(),
                many.iter()
                    .take(3)
                    .map(|at| self.names[*at].as_str())
                    .collect::<Vec<_>>()
                    .join(", or ")
            )),
        }
    }

    fn unknown(&self, text: &str, wanted: &str) -> String {
        let word = wanted.split([' ', '·']).next().unwrap_or_default();
        let like = self.names.iter().find(|name| {
            !word.is_empty() && name.to_lowercase().split(' ').any(|it| it.starts_with(word))
        });
        let nearest = like.map_or_else(String::new, |name| format!(", such as {name}"));
        format!(
            "no tube on the shelf is called “{}”; choose one from the list{nearest}",
            text.trim()
        )
    }
}

/// What to call each of some tubes so that none is taken for another.
pub(crate) fn told_apart<'a>(tubes: impl IntoIterator<Item = &'a ShelfTube>) -> Vec<String> {
    workshop::called(tubes).into_iter().map(|it| it.name).collect()
}

fn full_name(tube: &ShelfTube) -> String {
    let words = [tube.tube.name.clone(), tube.tube.maker.clone(), tube.tube.code()];
    words.into_iter().filter(|word| !word.is_empty()).collect::<Vec<_>>().join(" · ")
}

#[cfg(test)]
mod tests {
    use study::{ColourIndexName, Tube};

    use super::*;

    #[test]
    fn a_text_means_one_tube_or_says_why_not() {
        let tube = |id, maker: &str, name: &str, codes: &str| ShelfTube {
            id: TubeId(id),
            tube: Tube {
                maker: maker.into(),
                name: name.into(),
                codes: ColourIndexName::parse_list(codes).expect("codes"),
                ..Tube::default()
            },
        };
        let shelf = [
            tube(1, "Tidewell", "Ultramarine", "PB29"),
            tube(2, "Nettlebed", "Ultramarine", "PB29"),
            tube(3, "Tidewell", "Lantern Yellow", "PY74"),
            tube(4, "Tidewell", "Lantern Yellow", "PY74"),
            tube(5, "", "Carriage Green", ""),
        ];
        let names = TubeNames::new(&shelf);
        let cases = [
            ("ultramarine · tidewell · pb29", Ok(1)),
            ("Ultramarine", Err("2 tubes are called “Ultramarine”; choose Ultramarine · Tidewell")),
            ("Lantern Yellow · Tidewell · PY74 · no. 4", Ok(4)),
            (" Carriage Green ", Ok(5)),
            (
                "Carriage Gren",
                Err(
                    "no tube on the shelf is called “Carriage Gren”; choose one from the list, such as Carriage Green",
                ),
            ),
            ("Umber", Err("no tube on the shelf is called “Umber”; choose one from the list")),
        ];
        for (text, wanted) in cases {
            match (names.find(text), wanted) {
                (Ok(found), Ok(id)) => assert_eq!(found.id.0, id, "{text}"),
                (Err(found), Err(message)) => assert!(found.starts_with(message), "{found}"),
                (found, wanted) => unreachable!("{text}: {found:?}, not {wanted:?}"),
            }
        }
        // Every name that is offered leads back to its tube.
        for tube in &shelf {
            assert_eq!(names.find(&names.of(tube.id)).map(|found| found.id), Ok(tube.id));
        }
    }
}
