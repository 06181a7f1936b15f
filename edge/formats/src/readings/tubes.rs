//! Which tubes the rows of a file are of.

use std::collections::{HashMap, HashSet};

use study::{TubeLabel, TubeRef, Warning};

use super::error::Problem;
use super::limits::MAX_TUBES;

/// The makers of each name in the column `tube`.
#[derive(Debug, Default)]
pub(super) struct Makers(HashMap<String, OfName>);

#[derive(Debug, Default)]
struct OfName {
    first: String,
    all: HashSet<String>,
}

impl Makers {
    pub fn take(&mut self, (name, maker): (&str, &str)) {
        match self.0.get_mut(name) {
            Some(known) if known.all.contains(maker) => {}
            Some(known) => {
                known.all.insert(maker.to_owned());
            }
            None => {
                let all = HashSet::from([maker.to_owned()]);
                self.0.insert(name.to_owned(), OfName { first: maker.to_owned(), all });
            }
        }
    }

    /// The only maker that is named with this name.
    fn only(&self, name: &str) -> Option<&str> {
        let known = &self.0.get(name)?.all;
        // With more than two, at least two of them are named.
        let mut named = known.iter().filter(|maker| !maker.is_empty()).take(2);
        match (named.next(), named.next()) {
            (Some(only), None) => Some(only),
            _ => None,
        }
    }
}

/// The tubes in the order they appear.
pub(super) struct Tubes {
    pub labels: Vec<TubeLabel>,
    pub white: Option<TubeRef>,
    places: HashMap<(String, String), TubeRef>,
    makers: Makers,
    white_name: Option<String>,
    warnings: Vec<Warning>,
}

impl Tubes {
    pub fn new(makers: Makers, white: Option<&str>) -> Self {
        Self {
            labels: Vec::new(),
            places: HashMap::new(),
            makers,
            white_name: white.map(str::to_owned),
            white: None,
            warnings: Vec::new(),
        }
    }

    pub fn warnings(&mut self) -> Vec<Warning> {
        first_of(std::mem::take(&mut self.warnings))
    }

    /// The tube of this row.
    pub fn own(
        &mut self,
        name: &str,
        maker: &str,
        code: &str,
        line: usize,
    ) -> Result<TubeRef, Problem> {
        // A row that leaves the maker out means the only maker of that name.
        let maker = match self.makers.only(name) {
            Some(only) if maker.is_empty() => only.to_owned(),
            _ => maker.to_owned(),
        };
        let tube = self.place(name, &maker);
        if self.labels.len() > MAX_TUBES {
            return Err(Problem::TooManyTubes);
        }
        let known = &mut self.labels[tube.0].code;
        if known.is_empty() {
            code.clone_into(known);
        } else if !code.is_empty() && known != code {
            self.warnings.push(Warning {
                line: Some(line),
                message: format!("{name} is {code} here and {known} above; {known} is taken"),
            });
        }
        Ok(tube)
    }

    /// Another tube of a mixture, which is given by its name alone.
    pub fn other(&mut self, text: &str, maker_of_row: &str) -> Result<TubeRef, Problem> {
        let maker = match self.makers.0.get(text) {
            None => {
                let known = |name: &str, maker| {
                    self.makers.0.get(name).is_some_and(|it| it.all.contains(maker))
                };
                if let Some((name, maker)) = split_maker(text).filter(|(name, m)| known(name, *m)) {
                    return Ok(self.place(name, maker));
                }
                String::new()
            }
            Some(one) if one.all.len() == 1 => one.first.clone(),
            Some(several) if several.all.contains(maker_of_row) => maker_of_row.to_owned(),
            Some(_) => return Err(Problem::Ambiguous(text.to_owned())),
        };
        Ok(self.place(text, &maker))
    }

    /// The white; it is in the list from its first use on.
    pub fn white(&mut self) -> TubeRef {
        let name = self.white_name.clone().unwrap_or_else(|| "white".to_owned());
        let maker = self.makers.0.get(&name).map(|makers| makers.first.clone());
        let tube = self.place(&name, &maker.unwrap_or_default());
        self.white = Some(tube);
        tube
    }

    fn place(&mut self, name: &str, maker: &str) -> TubeRef {
        let key = (name.to_owned(), maker.to_owned());
        if let Some(tube) = self.places.get(&key) {
            return *tube;
        }
        let tube = TubeRef(self.labels.len());
        self.labels.push(TubeLabel {
            name: key.0.clone(),
            maker: key.1.clone(),
            code: String::new(),
        });
        self.places.insert(key, tube);
        if self.white_name.as_deref() == Some(name) && self.white.is_none() {
            self.white = Some(tube);
        }
        tube
    }
}

/// `NAME (MAKER)` in its two parts.
fn split_maker(text: &str) -> Option<(&str, &str)> {
    text.strip_suffix(')')?.rsplit_once(" (")
}

/// The first warnings of many that are alike, and how many there are beyond them.
fn first_of(mut warnings: Vec<Warning>) -> Vec<Warning> {
    const SHOWN: usize = 20;
    let beyond = warnings.len().saturating_sub(SHOWN);
    warnings.truncate(SHOWN);
    if beyond > 0 {
        warnings.push(Warning { line: None, message: format!("… and {beyond} more like these") });
    }
    warnings
}
