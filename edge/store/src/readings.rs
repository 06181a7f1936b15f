//! Readings: only ever added, and voided with a reason.

use std::collections::HashMap;

use colour::{Conditions, Lab, Reflectance, StatedLab};
use sqlx::SqliteConnection;
use trial::{Measured, RatioError, Reading, State};

use crate::error::parse;
use crate::log::is_known;
use crate::trials::PlannedSwatch;
use crate::{Store, StoreError, SwatchId, TrialId};

/// A reading in the records.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ReadingId(pub i64);

/// What a reading was taken with that was typed.
pub const BY_HAND: &str = "by hand";
/// What a reading was taken with that came in a file.
pub const FROM_FILE: &str = "file";

/// A reading with what the records add to it.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredReading {
    /// Its number.
    pub id: ReadingId,
    /// Which swatch it is of.
    pub swatch: SwatchId,
    /// What was measured, and why it is void where it is.
    pub reading: Reading,
    /// What it was taken with: an instrument, [`BY_HAND`] or [`FROM_FILE`].
    pub instrument: String,
    /// When, UTC, `2026-11-25T09:00:00Z`.
    pub taken_at: String,
    /// The same in seconds since 1970-01-01 UTC.
    pub taken: i64,
    /// The row of the file it was imported from.
    pub source_row: Option<String>,
    /// It was voided here, and not by the file it came from.
    pub voided_since: bool,
}

impl StoredReading {
    /// True where an instrument gave it here.
    #[must_use]
    pub fn is_by_meter(&self) -> bool {
        ![BY_HAND, FROM_FILE].contains(&self.instrument.as_str())
    }
}

impl Store {
    /// Stores a reading; its repeat number is the next of its swatch and state. One whose token is
    /// known already was stored before, and is not stored again: then there is no new number.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the swatch is not of this trial.
    pub async fn record(
        &self,
        trial: TrialId,
        swatch: SwatchId,
        state: State,
        measured: &Measured,
        (instrument, token): (&str, Option<&str>),
    ) -> Result<Option<ReadingId>, StoreError> {
        let mut transaction = self.pool.begin_with("BEGIN IMMEDIATE").await?;
        if is_known(&mut transaction, token).await? {
            return Ok(None);
        }
        let known = sqlx::query_scalar!(
            r#"SELECT count(*) AS "count!: i64" FROM swatch WHERE id = ? AND trial_id = ?"#,
            swatch.0,
            trial.0
        )
        .fetch_one(&mut *transaction)
        .await?;
        if known == 0 {
            return Err(StoreError::NotFound("swatch"));
        }
        let repeat = next_repeat(&mut transaction, swatch, state).await?;
        let row = NewReading {
            trial,
            swatch,
            state,
            repeat,
            measured,
            instrument,
            source_row: None,
            token,
            ratio_error: RatioError::AsStated,
        };
        let id = row.insert(&mut transaction).await?;
        transaction.commit().await?;
        Ok(Some(id))
    }

    /// Stores readings that came in a file, each with its cell, all or nothing; a row that was stored
    /// before is left out. Tells how many were new.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn record_file(
        &self,
        trial: TrialId,
        readings: &[(SwatchId, &Reading, &str)],
    ) -> Result<usize, StoreError> {
        let mut transaction = self.pool.begin_with("BEGIN IMMEDIATE").await?;
        let mut new = 0;
        for (swatch, reading, source) in readings {
            // The same row of the same trial is the same reading.
            let token = format!("file {} {source}", trial.0);
            if is_known(&mut transaction, Some(&token)).await? {
                continue;
            }
            let row = NewReading {
                trial,
                swatch: *swatch,
                state: reading.state,
                repeat: next_repeat(&mut transaction, *swatch, reading.state).await?,
                measured: &reading.measured,
                instrument: FROM_FILE,
                source_row: None,
                token: Some(&token),
                ratio_error: RatioError::AsStated,
            };
            let id = row.insert(&mut transaction).await?;
            if let Some(reason) = &reading.void {
                insert_void(&mut transaction, id, reason, false).await?;
            }
            new += 1;
        }
        transaction.commit().await?;
        Ok(new)
    }

    /// Marks a reading of a trial as void. It stays, and no figure uses it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the reading is not of this trial, and
    /// [`StoreError::AlreadyVoid`] where it is void.
    pub async fn void(
        &self,
        trial: TrialId,
        reading: ReadingId,
        reason: &str,
    ) -> Result<(), StoreError> {
        let mut transaction = self.pool.begin_with("BEGIN IMMEDIATE").await?;
        let found = sqlx::query!(
            r#"SELECT void.reading_id AS "voided?: i64" FROM reading
               LEFT JOIN void ON void.reading_id = reading.id
               WHERE reading.id = ? AND reading.trial_id = ?"#,
            reading.0,
            trial.0
        )
        .fetch_optional(&mut *transaction)
        .await?
        .ok_or(StoreError::NotFound("reading"))?;
        if found.voided.is_some() {
            return Err(StoreError::AlreadyVoid);
        }
        insert_void(&mut transaction, reading, reason, false).await?;
        transaction.commit().await?;
        Ok(())
    }
}

/// The number of the next reading of a swatch in a state.
async fn next_repeat(
    connection: &mut SqliteConnection,
    swatch: SwatchId,
    state: State,
) -> Result<i64, StoreError> {
    let word = state.to_string();
    Ok(sqlx::query_scalar!(
        r#"SELECT coalesce(max(repeat), 0) + 1 AS "next!: i64" FROM reading
           WHERE swatch_id = ? AND state = ?"#,
        swatch.0,
        word
    )
    .fetch_one(connection)
    .await?)
}

/// A row to be added.
pub(crate) struct NewReading<'a> {
    pub trial: TrialId,
    pub swatch: SwatchId,
    pub state: State,
    pub repeat: i64,
    pub measured: &'a Measured,
    pub instrument: &'a str,
    pub source_row: Option<&'a str>,
    pub token: Option<&'a str>,
    pub ratio_error: RatioError,
}

impl NewReading<'_> {
    pub async fn insert(&self, connection: &mut SqliteConnection) -> Result<ReadingId, StoreError> {
        let (state, ratio_error) = (self.state.to_string(), self.ratio_error.to_string());
        let (mut spectrum, mut lab, mut illuminant, mut observer) = (None, None, None, None);
        match self.measured {
            Measured::Spectrum(reflectance) => spectrum = Some(json(reflectance.bands())),
            Measured::Lab(stated) => {
                lab = Some(json(&stated.lab.axes()));
                illuminant = Some(stated.conditions.illuminant.to_string());
                observer = Some(stated.conditions.observer.to_string());
            }
        }
        let done = sqlx::query!(
            "INSERT INTO reading (trial_id, swatch_id, state, repeat, spectrum, lab, illuminant,
                                  observer, instrument, source_row, token, ratio_error)
             VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            self.trial.0,
            self.swatch.0,
            state,
            self.repeat,
            spectrum,
            lab,
            illuminant,
            observer,
            self.instrument,
            self.source_row,
            self.token,
            ratio_error
        )
        .execute(connection)
        .await?;
        Ok(ReadingId(done.last_insert_rowid()))
    }
}

pub(crate) async fn insert_void(
    connection: &mut SqliteConnection,
    reading: ReadingId,
    reason: &str,
    from_source: bool,
) -> Result<(), StoreError> {
    sqlx::query!(
        "INSERT INTO void (reading_id, reason, from_source) VALUES (?, ?, ?)",
        reading.0,
        reason,
        from_source
    )
    .execute(connection)
    .await?;
    Ok(())
}

struct Row {
    id: i64,
    swatch_id: i64,
    state: String,
    repeat: i64,
    spectrum: Option<String>,
    lab: Option<String>,
    illuminant: Option<String>,
    observer: Option<String>,
    instrument: String,
    taken_at: String,
    taken: i64,
    source_row: Option<String>,
    ratio_error: String,
    reason: Option<String>,
    from_source: Option<i64>,
}

/// Every reading of a trial, oldest first.
pub(crate) async fn of_trial(
    connection: &mut SqliteConnection,
    trial: TrialId,
    swatches: &[PlannedSwatch],
) -> Result<Vec<StoredReading>, StoreError> {
    let by_id: HashMap<i64, &PlannedSwatch> =
        swatches.iter().map(|swatch| (swatch.id.0, swatch)).collect();
    let rows = sqlx::query_as!(
        Row,
        r#"SELECT reading.id AS "id!", swatch_id, state, repeat, spectrum, lab, illuminant,
                  observer, instrument, taken_at, unixepoch(taken_at) AS "taken!: i64", source_row,
                  ratio_error, reason AS "reason?",
                  from_source AS "from_source?"
           FROM reading LEFT JOIN void ON void.reading_id = reading.id
           WHERE trial_id = ? ORDER BY reading.id"#,
        trial.0
    )
    .fetch_all(connection)
    .await?;
    rows.into_iter()
        .map(|row| {
            let swatch = by_id.get(&row.swatch_id).ok_or(StoreError::NotFound("swatch"))?;
            row.reading(swatch)
        })
        .collect()
}

impl Row {
    fn reading(self, planned: &PlannedSwatch) -> Result<StoredReading, StoreError> {
        let measured = self.measured()?;
        Ok(StoredReading {
            id: ReadingId(self.id),
            swatch: planned.id,
            reading: Reading {
                mixture: planned.swatch.mixture.clone(),
                ratio_error: parse("ratio error", &self.ratio_error)?,
                film: planned.swatch.film,
                backing: planned.swatch.backing,
                state: parse("state", &self.state)?,
                repeat: u32::try_from(self.repeat).unwrap_or(1),
                measured,
                line: None,
                void: self.reason,
            },
            instrument: self.instrument,
            taken_at: self.taken_at,
            taken: self.taken,
            source_row: self.source_row,
            voided_since: self.from_source == Some(0),
        })
    }

    fn measured(&self) -> Result<Measured, StoreError> {
        if let Some(text) = &self.spectrum {
            let bands: Vec<f64> = numbers("spectrum", text)?;
            return Reflectance::new(&bands).map(Measured::Spectrum).map_err(|error| {
                StoreError::Corrupt { what: "spectrum", found: error.to_string() }
            });
        }
        let text = self.lab.as_deref().unwrap_or_default();
        let axes: [f64; 3] = numbers("CIELAB reading", text)?
            .try_into()
            .map_err(|_| StoreError::Corrupt { what: "CIELAB reading", found: text.to_owned() })?;
        Ok(Measured::Lab(StatedLab {
            lab: Lab::from_axes(axes),
            conditions: Conditions {
                illuminant: parse("illuminant", self.illuminant.as_deref().unwrap_or_default())?,
                observer: parse("observer", self.observer.as_deref().unwrap_or_default())?,
            },
        }))
    }
}

/// Numbers as a JSON array; the shortest text that reads back to the same bits.
fn json(numbers: &[f64]) -> String {
    let texts: Vec<String> = numbers.iter().map(f64::to_string).collect();
    format!("[{}]", texts.join(","))
}

fn numbers(what: &'static str, text: &str) -> Result<Vec<f64>, StoreError> {
    serde_json::from_str(text).map_err(|_| StoreError::Corrupt { what, found: text.to_owned() })
}
