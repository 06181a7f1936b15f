//! A whole readings file as a trial.

use std::collections::HashMap;

use plan::{CellNumber, Swatch};
use sqlx::SqliteConnection;
use study::{Backing, FilmKind, Reading, Study, TubeRef};

use crate::readings::{FROM_FILE, NewReading};
use crate::swatches::insert_swatch;
use crate::trial::{Circumstances, Role};
use crate::trials::{insert_trial, insert_tubes};
use crate::tubes::{TubeId, find_or_add};
use crate::voids::insert_void;
use crate::{Store, StoreError, SwatchId, TrialId};

/// What makes two readings readings of one swatch.
type SwatchKey = (Vec<(TubeRef, u32)>, Backing, FilmKind);

impl Store {
    /// Stores a study that came from a file as a new trial, all or nothing. Its tubes are found on
    /// the shelf by maker and name, or added. `rows` are the readings' rows of the file.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn import(
        &self,
        name: &str,
        study: &Study,
        head: &str,
        rows: &[&str],
    ) -> Result<TrialId, StoreError> {
        let mut writing = self.write().await?;
        if let Some(id) = self.answered(&mut writing).await? {
            return Ok(TrialId(id));
        }
        let circumstances = Circumstances {
            conditions: study.conditions,
            protocol: study.protocol,
            repeats: most_repeats(study),
            meter_known: true,
        };
        let trial = insert_trial(&mut writing, name, &circumstances, Some(head)).await?;
        let mut tubes: Vec<TubeId> = Vec::new();
        for label in &study.tubes {
            tubes.push(find_or_add(&mut writing, label, &tubes).await?);
        }
        let role = |at| if study.white == Some(TubeRef(at)) { Role::White } else { Role::Tested };
        let tubes: Vec<(TubeId, Role)> =
            tubes.into_iter().enumerate().map(|(at, tube)| (tube, role(at))).collect();
        insert_tubes(&mut writing, trial, &tubes).await?;
        let mut swatches: HashMap<SwatchKey, SwatchId> = HashMap::new();
        for (reading, row) in study.readings.iter().zip(rows.iter().copied()) {
            let swatch = swatch_of(&mut writing, trial, reading, &mut swatches).await?;
            let new = NewReading {
                trial,
                swatch,
                state: reading.state,
                repeat: i64::from(reading.repeat),
                measured: &reading.measured,
                source: reading.source,
                from_picture: reading.from_picture.as_ref(),
                simulated: reading.simulated,
                meter: None,
                instrument: FROM_FILE,
                source_row: Some(row),
                token: None,
                ratio_error: reading.ratio_error,
            };
            let id = new.insert(&mut writing).await?;
            if let Some(reason) = &reading.void {
                insert_void(&mut writing, id, reason, true).await?;
            }
        }
        self.answer(&mut writing, trial.0).await?;
        writing.commit().await?;
        Ok(trial)
    }
}

async fn swatch_of(
    connection: &mut SqliteConnection,
    trial: TrialId,
    reading: &Reading,
    swatches: &mut HashMap<SwatchKey, SwatchId>,
) -> Result<SwatchId, StoreError> {
    let key = (reading.mixture.ratio_key(), reading.backing, reading.film);
    if let Some(known) = swatches.get(&key) {
        return Ok(*known);
    }
    let swatch = Swatch {
        number: CellNumber::at(swatches.len()),
        mixture: reading.mixture.clone(),
        backing: reading.backing,
        film: reading.film,
    };
    let id = insert_swatch(connection, trial, &swatch).await?;
    swatches.insert(key, id);
    Ok(id)
}

fn most_repeats(study: &Study) -> u32 {
    study.readings.iter().map(|reading| reading.repeat).max().unwrap_or(1).clamp(1, 10)
}
