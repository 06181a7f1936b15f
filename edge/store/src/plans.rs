//! The plan of a trial: what was wanted and what was worked out from it, kept as it was when the
//! trial was planned. What earlier readings tell changes with every reading; a printed sheet does
//! not.

use std::sync::Arc;

use plan::{Design, Naming, Plan};
use sheet::{Paper, Sheet};
use sqlx::SqliteConnection;
use study::{TubeLabel, TubeRef};

use crate::error::parse;
use crate::ids::{PaletteId, TrialId};
use crate::{StoreError, records};

/// A plan and what it was made from.
#[derive(Debug, Clone, PartialEq)]
pub struct TrialPlan {
    /// The palette that filled the references, where one did.
    pub palette: Option<PaletteId>,
    /// What the sheets are printed on.
    pub paper: Paper,
    /// What was wanted.
    pub design: Arc<Design>,
    /// What was worked out.
    pub plan: Arc<Plan>,
    /// The sheets as they are printed.
    pub sheets: Arc<Vec<Sheet>>,
    /// The layout that they were made by; see [`sheet::LAYOUT`].
    pub layout: u32,
    /// How often the trial has been planned, from 1; the records count it.
    pub edition: u32,
}

impl TrialPlan {
    /// Writes the plan of a trial, over the one it had, and its swatches.
    pub(crate) async fn put(
        &self,
        connection: &mut SqliteConnection,
        trial: TrialId,
    ) -> Result<(), StoreError> {
        let (palette, paper) = (self.palette.map(|id| id.0), self.paper.to_string());
        let design = records::write("design", &*self.design)?;
        let plan = records::write("plan", &*self.plan)?;
        let sheets = records::write("sheets", &*self.sheets)?;
        sqlx::query!(
            "INSERT INTO trial_plan (trial_id, palette_id, paper, design, plan, version, sheets, layout)
             VALUES (?, ?, ?, ?, ?, ?, ?, ?)
             ON CONFLICT (trial_id) DO UPDATE SET palette_id = excluded.palette_id,
               paper = excluded.paper, design = excluded.design, plan = excluded.plan,
               version = excluded.version, sheets = excluded.sheets, layout = excluded.layout,
               edition = edition + 1",
            trial.0,
            palette,
            paper,
            design,
            plan,
            records::VERSION,
            sheets,
            self.layout
        )
        .execute(&mut *connection)
        .await?;
        put_swatches(connection, trial).await
    }
}

/// Takes the swatches out of the plan that was just written: one statement however many they are.
async fn put_swatches(connection: &mut SqliteConnection, trial: TrialId) -> Result<(), StoreError> {
    sqlx::query!(
        "INSERT INTO swatch (trial_id, number, backing, film)
         SELECT trial_id, swatch.value ->> 'number', lower(swatch.value ->> 'backing'),
                lower(swatch.value ->> 'film')
         FROM trial_plan, json_each(plan, '$.swatches') AS swatch WHERE trial_id = ?",
        trial.0
    )
    .execute(&mut *connection)
    .await?;
    sqlx::query!(
        // Materialised and in this order, or the plan would be read once for every swatch.
        "INSERT INTO swatch_part (swatch_id, position, parts)
         WITH planned AS MATERIALIZED (
           SELECT swatch.value ->> 'number' AS number, swatch.value ->> 'mixture' AS mixture
           FROM trial_plan, json_each(plan, '$.swatches') AS swatch WHERE trial_id = ?1
         )
         SELECT swatch.id, part.value ->> 'tube', part.value ->> 'parts'
         FROM planned CROSS JOIN json_each(planned.mixture) AS part
         CROSS JOIN swatch ON swatch.trial_id = ?1 AND swatch.number = planned.number",
        trial.0
    )
    .execute(connection)
    .await?;
    Ok(())
}

/// The plan of a trial. Sheets that were printed before they were stored are laid out as they were then:
/// by the first layout, with the `labels` of the trial's tubes.
pub(crate) async fn of_trial(
    connection: &mut SqliteConnection,
    trial: TrialId,
    (labels, white): (&[TubeLabel], Option<TubeRef>),
) -> Result<Option<TrialPlan>, StoreError> {
    let row = sqlx::query!(
        r#"SELECT palette_id, paper, design, plan, version, sheets, layout AS "layout!: u32",
                  edition AS "edition!: u32"
           FROM trial_plan WHERE trial_id = ?"#,
        trial.0
    )
    .fetch_optional(connection)
    .await?;
    row.map(|row| {
        let paper: Paper = parse("paper", &row.paper)?;
        let design = records::read_design(row.version, &row.design)?;
        let plan = records::read_plan(row.version, &row.plan)?;
        let sheets = match &row.sheets {
            Some(text) => records::read_sheets(row.version, text)?,
            // What cannot be laid out was never printed.
            None => {
                let naming = Naming { tubes: labels.to_vec(), white, ratios: design.ratios };
                sheet::lay_out(&plan, &naming, paper, design.supply.film.side_mm)
                    .unwrap_or_default()
            }
        };
        Ok(TrialPlan {
            palette: row.palette_id.map(PaletteId),
            paper,
            design: Arc::new(design),
            plan: Arc::new(plan),
            sheets: Arc::new(sheets),
            layout: row.layout,
            edition: row.edition,
        })
    })
    .transpose()
}
