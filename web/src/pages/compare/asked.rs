//! What is asked of the comparison, as it stands in the address.

use serde::Deserialize;
use study::shelf::{HueFamily, Query};
use workshop::TubeId;

/// Tubes, how the rack stands, and what is looked for where tubes are still to be chosen.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct Asked {
    /// Numbers of tubes; the first is the standard.
    tube: Vec<i64>,
    /// `parts` for equal parts of white; else equal depth.
    rack: String,
    /// A tube that stands beside those nearest to it.
    pub near: Option<i64>,
    pub q: String,
    pub family: String,
    pub code: String,
}

impl Asked {
    /// The chosen tubes, each once, in their order.
    pub fn tubes(&self) -> Vec<TubeId> {
        let mut tubes: Vec<TubeId> = Vec::new();
        for id in &self.tube {
            if !tubes.contains(&TubeId(*id)) {
                tubes.push(TubeId(*id));
            }
        }
        tubes
    }

    /// The same tube was chosen twice, and no other.
    pub fn is_one_tube_twice(&self) -> bool {
        self.tube.len() > 1 && self.tubes().len() == 1
    }

    pub fn by_parts(&self) -> bool {
        self.rack == "parts"
    }

    /// What is looked for on the shelf; a field that cannot be read asks for nothing.
    pub fn query(&self) -> Query {
        Query {
            text: self.q.clone(),
            family: self.family.parse::<HueFamily>().ok(),
            code: self.code.parse().ok(),
            ..Query::default()
        }
    }
}
