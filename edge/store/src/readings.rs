//! Readings: only ever added, and voided with a reason.

use std::collections::HashMap;
use std::sync::Arc;

use bench::{ReadingId, Refused, Standing, Time, may_read};
use colour::{Conditions, Lab, Reflectance, StatedLab};
use futures_util::TryStreamExt as _;
use mixing::Geometry;
use plan::CellNumber;
use sqlx::SqliteConnection;
use study::{FromPicture, Measured, RatioError, Reading, ReadingSource, State};

use crate::error::parse;
use crate::ids::TrialId;
use crate::log::{is_known, standing};
use crate::swatches::swatches;
use crate::trial::{PlannedSwatch, StoredReading, SwatchId};
use crate::voids::insert_void;
use crate::{Store, StoreError};

/// What a reading was taken with that was typed.
const BY_HAND: &str = "by hand";
/// What a reading was taken with that came in a file.
pub(crate) const FROM_FILE: &str = "file";

/// How a reading was taken.
#[derive(Debug, Clone, Copy)]
pub enum How<'a> {
    /// With a meter.
    Meter {
        /// What the meter is called.
        name: &'a str,
        /// It is a simulated one.
        simulated: bool,
        /// Its geometry.
        geometry: Geometry,
        /// Its MCDM in ΔE00, above 0.
        repeatability: f64,
    },
    /// Typed.
    Typed,
}

impl Store {
    /// Stores a reading; its repeat number is the next of its swatch and state. One whose token is
    /// known already was stored before, and is not stored again: then there is no new number.
    ///
    /// The first reading with a meter gives the trial its geometry and repeatability, where no meter
    /// was there when it was planned.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the swatch is not of this trial, [`StoreError::Refused`] where no
    /// paint stands on it, and [`StoreError::OtherGeometry`] for a meter that reads otherwise.
    pub async fn record(
        &self,
        trial: TrialId,
        swatch: SwatchId,
        state: State,
        measured: &Measured,
        (how, token): (How<'_>, Option<&str>),
    ) -> Result<Option<ReadingId>, StoreError> {
        let mut writing = self.write().await?;
        if is_known(&mut writing, token).await? {
            return Ok(None);
        }
        check_paint(&mut writing, trial, swatch).await?;
        let mut row = NewReading {
            trial,
            swatch,
            state,
            repeat: next_repeat(&mut writing, swatch, state).await?,
            measured,
            source: ReadingSource::Typed,
            from_picture: None,
            simulated: false,
            meter: None,
            instrument: BY_HAND,
            source_row: None,
            token,
            ratio_error: RatioError::AsStated,
        };
        if let How::Meter { name, simulated, geometry, repeatability } = how {
            meet(&mut writing, trial, (geometry, repeatability)).await?;
            row = NewReading {
                source: ReadingSource::Meter,
                simulated,
                meter: Some((geometry, repeatability)),
                instrument: name,
                ..row
            };
        }
        let id = row.insert(&mut writing).await?;
        writing.commit().await?;
        Ok(Some(id))
    }

    /// Stores readings that came in a file, each with its cell, all or nothing. A row counts as stored
    /// already where the trial has a reading of the same cell, state, repeat and value; of rows that
    /// are alike, only those beyond the stored ones are added. `geometry` is the file's, where it is
    /// known. Tells how many were new.
    ///
    /// # Errors
    /// [`StoreError::Refused`] for a cell whose paint was spoilt, and [`StoreError::OtherGeometry`].
    pub async fn record_file(
        &self,
        trial: TrialId,
        geometry: Option<Geometry>,
        readings: &[(SwatchId, &Reading)],
    ) -> Result<usize, StoreError> {
        let mut writing = self.write().await?;
        if let Some(geometry) = geometry {
            meet(&mut writing, trial, (geometry, None)).await?;
        }
        let conditions = conditions_of(&mut writing, trial).await?;
        let swatches = swatches(&mut writing, trial).await?;
        let mut stored: HashMap<RowKey, usize> = HashMap::new();
        for known in of_trial(&mut writing, trial, &swatches, ReadingId(0)).await? {
            *stored.entry(row_key(known.swatch, &known.reading, conditions)).or_default() += 1;
        }
        let mut new = 0;
        for (swatch, reading) in readings {
            let alike = stored.entry(row_key(*swatch, reading, conditions)).or_default();
            if *alike > 0 {
                *alike -= 1;
                continue;
            }
            let number = swatches.iter().find(|it| it.id == *swatch).map(|it| it.swatch.number);
            let number = number.ok_or(StoreError::NotFound("swatch"))?;
            // What was read has been painted; but what was spoilt since cannot have been.
            if let Standing { laid: false, spoilt: Some(reason) } =
                standing(&mut writing, trial, number).await?
            {
                return Err(Refused::Spoilt { cell: number, reason }.into());
            }
            let row = NewReading {
                trial,
                swatch: *swatch,
                state: reading.state,
                repeat: i64::from(reading.repeat),
                measured: &reading.measured,
                source: reading.source,
                from_picture: reading.from_picture.as_ref(),
                simulated: reading.simulated,
                meter: None,
                instrument: FROM_FILE,
                source_row: None,
                token: None,
                ratio_error: RatioError::AsStated,
            };
            let id = row.insert(&mut writing).await?;
            if let Some(reason) = &reading.void {
                insert_void(&mut writing, id, reason, false).await?;
            }
            new += 1;
        }
        writing.commit().await?;
        Ok(new)
    }

    /// The row of the file that each imported reading of a trial came from, oldest first.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub async fn source_rows(
        &self,
        trial: TrialId,
    ) -> Result<HashMap<ReadingId, String>, StoreError> {
        let rows = sqlx::query!(
            r#"SELECT id AS "id!", source_row AS "row!" FROM reading
               WHERE trial_id = ? AND source_row IS NOT NULL"#,
            trial.0
        );
        let rows = rows.fetch_all(&self.pool).await?;
        Ok(rows.into_iter().map(|row| (ReadingId(row.id), row.row)).collect())
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
        let mut writing = self.write().await?;
        if self.answered(&mut writing).await?.is_some() {
            return Ok(());
        }
        let found = sqlx::query!(
            r#"SELECT void.reading_id AS "voided?: i64" FROM reading
               LEFT JOIN void ON void.reading_id = reading.id
               WHERE reading.id = ? AND reading.trial_id = ?"#,
            reading.0,
            trial.0
        )
        .fetch_optional(&mut *writing)
        .await?
        .ok_or(StoreError::NotFound("reading"))?;
        if found.voided.is_some() {
            return Err(StoreError::AlreadyVoid);
        }
        insert_void(&mut writing, reading, reason, false).await?;
        self.answer(&mut writing, reading.0).await?;
        writing.commit().await?;
        Ok(())
    }
}

/// Whether paint stands on a swatch that is to be read. A bare backing, and a trial that came from a
/// file, can always be read.
async fn check_paint(
    connection: &mut SqliteConnection,
    trial: TrialId,
    swatch: SwatchId,
) -> Result<(), StoreError> {
    let found = sqlx::query!(
        r#"SELECT number AS "number!: u32",
             (EXISTS (SELECT 1 FROM swatch_part WHERE swatch_id = swatch.id)
              AND EXISTS (SELECT 1 FROM trial_plan WHERE trial_id = swatch.trial_id))
             AS "painted_here!: bool"
           FROM swatch WHERE id = ? AND trial_id = ?"#,
        swatch.0,
        trial.0
    )
    .fetch_optional(&mut *connection)
    .await?
    .ok_or(StoreError::NotFound("swatch"))?;
    if found.painted_here {
        let number = CellNumber(found.number);
        may_read(number, &standing(connection, trial, number).await?)?;
    }
    Ok(())
}

/// Takes the geometry of the first meter over, and its repeatability; later ones must read alike.
async fn meet(
    connection: &mut SqliteConnection,
    trial: TrialId,
    (geometry, repeatability): (Geometry, impl Into<Option<f64>>),
) -> Result<(), StoreError> {
    let own = sqlx::query!(
        r#"SELECT geometry, meter_known AS "known!: bool" FROM trial WHERE id = ?"#,
        trial.0
    )
    .fetch_optional(&mut *connection)
    .await?
    .ok_or(StoreError::NotFound("trial"))?;
    let of_trial: Geometry = parse("geometry", &own.geometry)?;
    if own.known {
        let alike = of_trial == geometry;
        return if alike {
            Ok(())
        } else {
            Err(StoreError::OtherGeometry { meter: geometry, trial: of_trial })
        };
    }
    let (geometry, repeatability) = (geometry.to_string(), repeatability.into());
    sqlx::query!(
        "UPDATE trial SET geometry = ?, repeatability = coalesce(?, repeatability), meter_known = 1,
                          revision = revision + 1
         WHERE id = ?",
        geometry,
        repeatability,
        trial.0
    )
    .execute(connection)
    .await?;
    Ok(())
}

async fn conditions_of(
    connection: &mut SqliteConnection,
    trial: TrialId,
) -> Result<Conditions, StoreError> {
    let row = sqlx::query!("SELECT illuminant, observer FROM trial WHERE id = ?", trial.0)
        .fetch_optional(connection)
        .await?
        .ok_or(StoreError::NotFound("trial"))?;
    Ok(Conditions {
        illuminant: parse("illuminant", &row.illuminant)?,
        observer: parse("observer", &row.observer)?,
    })
}

/// What two rows have in common that say the same.
type RowKey = (SwatchId, State, u32, Vec<u64>);

/// The swatch stands for backing and film. Colours are compared under the trial's conditions, so that
/// an export reads back as what is stored.
fn row_key(swatch: SwatchId, reading: &Reading, conditions: Conditions) -> RowKey {
    let values = match &reading.measured {
        Measured::Spectrum(reflectance) => reflectance.bands().to_vec(),
        Measured::Lab(stated) => stated.under(conditions).unwrap_or(stated.lab).axes().to_vec(),
    };
    (swatch, reading.state, reading.repeat, values.into_iter().map(f64::to_bits).collect())
}

/// The number of the next reading of a swatch in a state.
pub(crate) async fn next_repeat(
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
    pub source: ReadingSource,
    pub from_picture: Option<&'a FromPicture>,
    pub simulated: bool,
    /// Geometry and repeatability of the meter.
    pub meter: Option<(Geometry, f64)>,
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
        let source = self.source.to_string();
        let (geometry, repeatability) =
            self.meter.map(|(geometry, mcdm)| (geometry.to_string(), mcdm)).unzip();
        let picture = self.from_picture.map(|from| &*from.picture);
        let uncertainty = self.from_picture.map(|from| from.uncertainty);
        let calibration = self.from_picture.map(|from| from.calibration.to_string());
        let done = sqlx::query!(
            "INSERT INTO reading (trial_id, swatch_id, state, repeat, spectrum, lab, illuminant,
                                  observer, instrument, source_row, token, ratio_error, source,
                                  simulated, geometry, repeatability, picture, uncertainty, calibration)
             VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
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
            ratio_error,
            source,
            self.simulated,
            geometry,
            repeatability,
            picture,
            uncertainty,
            calibration
        )
        .execute(connection)
        .await?;
        Ok(ReadingId(done.last_insert_rowid()))
    }
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
    taken: i64,
    ratio_error: String,
    source: String,
    simulated: bool,
    picture: Option<String>,
    uncertainty: Option<f64>,
    calibration: Option<String>,
    reason: Option<String>,
    from_source: Option<i64>,
}

/// Every reading of a trial after one of them, oldest first.
pub(crate) async fn of_trial(
    connection: &mut SqliteConnection,
    trial: TrialId,
    swatches: &[PlannedSwatch],
    after: ReadingId,
) -> Result<Vec<Arc<StoredReading>>, StoreError> {
    let by_id: HashMap<i64, &PlannedSwatch> =
        swatches.iter().map(|swatch| (swatch.id.0, swatch)).collect();
    let mut rows = sqlx::query_as!(
        Row,
        r#"SELECT reading.id AS "id!", swatch_id, state, repeat, spectrum, lab, illuminant,
                  observer, instrument, unixepoch(taken_at) AS "taken!: i64", ratio_error, source,
                  simulated AS "simulated!: bool", picture, uncertainty, calibration, reason AS "reason?", from_source AS "from_source?"
           FROM reading LEFT JOIN void ON void.reading_id = reading.id
           WHERE trial_id = ? AND reading.id > ? ORDER BY reading.id"#,
        trial.0,
        after.0
    )
    .fetch(connection);
    let mut readings = Vec::new();
    let mut names = Vec::new();
    while let Some(row) = rows.try_next().await? {
        let swatch = by_id.get(&row.swatch_id).ok_or(StoreError::NotFound("swatch"))?;
        readings.push(Arc::new(row.reading(swatch, &mut names)?));
    }
    Ok(readings)
}

/// Marks what was voided since the readings were read.
pub(crate) async fn void_since(
    connection: &mut SqliteConnection,
    trial: TrialId,
    readings: &mut [Arc<StoredReading>],
) -> Result<(), StoreError> {
    let voids = sqlx::query!(
        r#"SELECT reading_id AS "id!", reason, from_source FROM void
           JOIN reading ON reading.id = void.reading_id WHERE trial_id = ?"#,
        trial.0
    )
    .fetch_all(connection)
    .await?;
    for void in voids {
        let place = readings.binary_search_by_key(&void.id, |stored| stored.id.0);
        let Ok(at) = place else { continue };
        if readings[at].reading.void.is_none() {
            let stored = Arc::make_mut(&mut readings[at]);
            stored.reading.void = Some(void.reason);
            stored.voided_since = void.from_source == 0;
        }
    }
    Ok(())
}

impl Row {
    /// `names` of instruments and pictures were met before: few, and shared by all readings.
    fn reading(
        self,
        planned: &PlannedSwatch,
        names: &mut Vec<Arc<str>>,
    ) -> Result<StoredReading, StoreError> {
        let measured = self.measured()?;
        let mut shared = |text: &str| {
            let known = names.iter().find(|name| ***name == *text).cloned();
            known.unwrap_or_else(|| {
                let name: Arc<str> = text.into();
                names.push(Arc::clone(&name));
                name
            })
        };
        let instrument = shared(&self.instrument);
        let from_picture = match (&self.picture, self.uncertainty) {
            (Some(picture), Some(uncertainty)) => Some(FromPicture {
                picture: shared(picture),
                uncertainty,
                calibration: parse("calibration", self.calibration.as_deref().unwrap_or_default())?,
            }),
            _ => None,
        };
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
                source: parse("source", &self.source)?,
                from_picture,
                simulated: self.simulated,
                line: None,
                void: self.reason,
            },
            instrument,
            taken: Time(self.taken),
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
