//! What is asked of the shelf, as it stands in the address.

use serde::{Deserialize, Serialize};
use study::shelf::{HueFamily, Query, SortBy};

/// The fields of the search form; one that cannot be read asks for nothing.
#[derive(Debug, Clone, Default, Deserialize, Serialize)]
pub(crate) struct Search {
    #[serde(default)]
    pub q: String,
    #[serde(default)]
    pub family: String,
    #[serde(default)]
    pub code: String,
    #[serde(default)]
    pub maker: String,
    #[serde(default)]
    pub untested: String,
    #[serde(default)]
    pub order: String,
    /// Which part of the list, from 1.
    #[serde(default, skip_serializing)]
    pub page: usize,
}

impl Search {
    pub fn query(&self) -> Query {
        Query {
            text: self.q.clone(),
            family: self.family.parse::<HueFamily>().ok(),
            code: self.code.parse().ok(),
            maker: self.maker.clone(),
            untested: !self.untested.is_empty(),
            order: self.order.parse::<SortBy>().unwrap_or_default(),
        }
    }

    /// The address of a part of what is asked for.
    pub fn address(&self, page: usize) -> String {
        let asked = serde_html_form::to_string(self).unwrap_or_default();
        format!("/shelf?{asked}&page={page}")
    }

    /// True where the list is the whole shelf.
    pub fn asks_nothing(&self) -> bool {
        Query { order: SortBy::default(), ..self.query() } == Query::default()
    }

    /// What is wrong with the Colour Index name that was typed; empty where nothing is.
    pub fn code_error(&self) -> String {
        match self.code.trim() {
            "" => String::new(),
            code => code
                .parse::<study::ColourIndexName>()
                .map_or_else(|error| error.to_string(), |_| String::new()),
        }
    }
}
