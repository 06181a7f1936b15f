//! A chart that was ruled by hand, as it is kept.

use std::collections::BTreeMap;

use plan::CellNumber;
use serde::{Deserialize, Serialize};
use sha2::{Digest as _, Sha256};
use sheet::Ruling;
use sqlx::SqliteConnection;
use study::ReadingSource;

use crate::StoreError;
use crate::ids::TrialId;

/// The form of [`RuledChart`] that is written.
pub(crate) const VERSION: i64 = 1;

/// A chart that was ruled by hand.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct RuledChart {
    /// Its squares.
    pub ruling: Ruling,
    /// What stands in them, as it was typed.
    pub typed: TypedChart,
    /// Numbers of its swatches, row by row, with none where nothing stands; empty until it was laid out.
    pub numbers: Vec<Option<CellNumber>>,
}

impl RuledChart {
    /// What tells this state of a chart, and of where it lies in a picture, from a later one that another page stored.
    #[must_use]
    pub fn version(&self, corners: Option<[[f64; 2]; 4]>, source: ReadingSource) -> String {
        // Numbers and texts can always be written.
        let said = serde_json::to_string(&(self.says(), corners, source.to_string()));
        let hash = Sha256::digest(said.unwrap_or_default());
        hash.iter().take(8).map(|byte| format!("{byte:02x}")).collect()
    }

    /// What somebody said of it.
    pub(crate) fn says(&self) -> (&Ruling, &TypedChart) {
        (&self.ruling, &self.typed)
    }
}

/// What a chart's sides stand for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub enum SidesHold {
    /// A tube a line, with more and more white.
    #[default]
    Tints,
    /// Two tubes a line, from the one to the other.
    Ladders,
    /// Tubes along both sides.
    Grid,
}

/// What stands in a chart, as it was typed: it may be unfinished, or wrong.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct TypedChart {
    /// What its sides stand for.
    pub hold: SidesHold,
    /// Lines run down and steps to the side, or the other way round.
    #[serde(default)]
    pub lines_stand: bool,
    /// The tube of each line, or its two tubes.
    #[serde(default)]
    pub lines: Vec<[String; 2]>,
    /// The tubes along the other side of a grid.
    #[serde(default)]
    pub across: Vec<String>,
    /// The steps of every line; the ratio of a grid.
    #[serde(default)]
    pub steps: String,
    /// The white.
    #[serde(default)]
    pub white: String,
    /// Parts of white in every mixture.
    #[serde(default)]
    pub with_white: String,
    /// How the parts were measured: `eye`, `weight` or `volume`.
    #[serde(default)]
    pub basis: String,
    /// Squares that hold something else than their sides say, by place.
    #[serde(default)]
    pub others: BTreeMap<usize, String>,
}

/// The chart of a trial; `None` where it is none of a hand-ruled chart.
pub(crate) async fn chart_of(
    connection: &mut SqliteConnection,
    trial: TrialId,
) -> Result<Option<RuledChart>, StoreError> {
    let row = sqlx::query!("SELECT chart, version FROM ruled_chart WHERE trial_id = ?", trial.0);
    let Some(row) = row.fetch_optional(connection).await? else { return Ok(None) };
    let what = "chart that was ruled by hand";
    if row.version != VERSION {
        return Err(StoreError::Corrupt { what, found: format!("version {}", row.version) });
    }
    let chart = serde_json::from_str(&row.chart);
    chart.map(Some).map_err(|error| StoreError::Corrupt { what, found: error.to_string() })
}
