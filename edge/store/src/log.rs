//! The log of the bench: what was done besides reading. Lines are only ever added, and voided.

use bench::{BenchEvent, EntryId, LogEntry, ReadingId, Standing, Time, may_do};
use plan::CellNumber;
use sqlx::SqliteConnection;

use crate::ids::TrialId;
use crate::trial::{Last, SwatchId};
use crate::tubes::TubeId;
use crate::voids::{insert_void, picture_of, void_picture};
use crate::{Store, StoreError, records};

/// Why the last entry does not count once it was taken back.
const TAKEN_BACK: &str = "taken back at once";

impl Store {
    /// Adds events to the log, all or nothing. What carries a token that is known already is stored
    /// once; where `allowed` refuses the log as it stands, nothing is stored. Tells whether
    /// everything stands in the log now.
    ///
    /// # Errors
    /// [`StoreError::Refused`] for what cannot have been done to the paint as it stands.
    pub async fn record_events(
        &self,
        trial: TrialId,
        events: &[BenchEvent],
        token: Option<&str>,
        allowed: impl FnOnce(&[LogEntry]) -> bool + Send,
    ) -> Result<bool, StoreError> {
        let mut writing = self.write().await?;
        if is_known(&mut writing, token).await? {
            return Ok(true);
        }
        for event in events {
            check(&mut writing, trial, event).await?;
        }
        if !allowed(&of_trial(&mut writing, trial).await?) {
            return Ok(false);
        }
        insert(&mut writing, trial, events, token).await?;
        writing.commit().await?;
        Ok(true)
    }

    /// True where something with this token has been stored.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub async fn is_recorded(&self, token: &str) -> Result<bool, StoreError> {
        is_known(&mut *self.pool.acquire().await?, Some(token)).await
    }

    /// Marks every reading of a swatch as void, and the swatch as spoilt: it has to be painted
    /// again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the swatch is not of this trial.
    pub async fn spoil(
        &self,
        trial: TrialId,
        (swatch, number): (SwatchId, CellNumber),
        reason: &str,
        token: Option<&str>,
    ) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        if is_known(&mut writing, token).await? {
            return Ok(());
        }
        let event = BenchEvent::Spoilt { swatch: number, reason: reason.to_owned() };
        check(&mut writing, trial, &event).await?;
        let counting = sqlx::query_scalar!(
            r#"SELECT reading.id AS "id!" FROM reading
               LEFT JOIN void ON void.reading_id = reading.id
               WHERE trial_id = ? AND swatch_id = ? AND void.reading_id IS NULL"#,
            trial.0,
            swatch.0
        )
        .fetch_all(&mut *writing)
        .await?;
        for reading in counting {
            insert_void(&mut writing, ReadingId(reading), reason, false).await?;
        }
        insert(&mut writing, trial, &[event], token).await?;
        writing.commit().await?;
        Ok(())
    }

    /// Takes back what a page showed as entered last, as a void. Where something else was entered
    /// since, or it is void already, nothing is done. Tells whether it was taken back now.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn undo(&self, trial: TrialId, shown: Last) -> Result<bool, StoreError> {
        let mut writing = self.write().await?;
        let log = of_trial(&mut writing, trial).await?;
        let reading = last_reading(&mut writing, trial).await?;
        if Last::of(&log, reading) != Some(shown) {
            return Ok(false);
        }
        match shown {
            // What a picture told was taken in one step.
            Last::Reading(reading) => match picture_of(&mut writing, reading).await? {
                Some(picture) => {
                    void_picture(&mut writing, trial, &picture, TAKEN_BACK).await?;
                }
                None => insert_void(&mut writing, reading, TAKEN_BACK, false).await?,
            },
            Last::BenchEvent(id) => void_batch(&mut writing, id).await?,
        }
        writing.commit().await?;
        Ok(true)
    }

    /// Adds a tube to a trial that has begun: it was taken in another's place. Tells its place.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn join_tube(&self, trial: TrialId, tube: TubeId) -> Result<usize, StoreError> {
        let mut writing = self.write().await?;
        sqlx::query!(
            "INSERT INTO trial_tube (trial_id, position, tube_id, role)
             SELECT ?1, (SELECT coalesce(max(position), -1) + 1 FROM trial_tube WHERE trial_id = ?1),
                    ?2, 'reference'
             WHERE NOT EXISTS (SELECT 1 FROM trial_tube WHERE trial_id = ?1 AND tube_id = ?2)",
            trial.0,
            tube.0
        )
        .execute(&mut *writing)
        .await?;
        sqlx::query!("UPDATE trial SET revision = revision + 1 WHERE id = ?", trial.0)
            .execute(&mut *writing)
            .await?;
        let place = sqlx::query_scalar!(
            r#"SELECT position AS "position!" FROM trial_tube WHERE trial_id = ? AND tube_id = ?"#,
            trial.0,
            tube.0
        )
        .fetch_one(&mut *writing)
        .await?;
        writing.commit().await?;
        Ok(usize::try_from(place).unwrap_or_default())
    }
}

/// Whether an event can have been done to the swatch as it stands now.
async fn check(
    connection: &mut SqliteConnection,
    trial: TrialId,
    event: &BenchEvent,
) -> Result<(), StoreError> {
    let Some(number) = event.swatch() else { return Ok(()) };
    let standing = standing(connection, trial, number).await?;
    Ok(may_do(event, &standing)?)
}

/// How the paint of a swatch stands now.
pub(crate) async fn standing(
    connection: &mut SqliteConnection,
    trial: TrialId,
    number: CellNumber,
) -> Result<Standing, StoreError> {
    let read = sqlx::query_scalar!(
        r#"SELECT EXISTS (
             SELECT 1 FROM reading JOIN swatch ON swatch.id = reading.swatch_id
             WHERE swatch.trial_id = ?1 AND swatch.number = ?2
               AND NOT EXISTS (SELECT 1 FROM void WHERE void.reading_id = reading.id)
           ) AS "read!: bool""#,
        trial.0,
        number.0
    )
    .fetch_one(&mut *connection)
    .await?;
    let rows = sqlx::query_as!(
        EntryRow,
        r#"SELECT deed.id AS "id!", batch AS "batch!", deed, version, after_reading,
                  unixepoch(done_at) AS "at!: i64", reason AS "reason?"
           FROM deed LEFT JOIN deed_void ON deed_void.deed_id = deed.id
           WHERE trial_id = ? AND swatch = ? ORDER BY deed.id"#,
        trial.0,
        number.0
    )
    .fetch_all(connection)
    .await?;
    let entries: Result<Vec<LogEntry>, StoreError> =
        rows.into_iter().map(EntryRow::entry).collect();
    Ok(Standing::of(number, &entries?, read))
}

/// Voids an event with those that were stored together with it.
async fn void_batch(connection: &mut SqliteConnection, event: EntryId) -> Result<(), StoreError> {
    sqlx::query!(
        "INSERT INTO deed_void (deed_id, reason)
         SELECT id, ? FROM deed WHERE batch = (SELECT batch FROM deed WHERE id = ?)
           AND id NOT IN (SELECT deed_id FROM deed_void)",
        TAKEN_BACK,
        event.0
    )
    .execute(connection)
    .await?;
    Ok(())
}

/// The last reading of a trial, and whether it counts.
async fn last_reading(
    connection: &mut SqliteConnection,
    trial: TrialId,
) -> Result<Option<(ReadingId, bool)>, StoreError> {
    let row = sqlx::query!(
        r#"SELECT reading.id AS "id!", void.reading_id AS "voided?: i64" FROM reading
           LEFT JOIN void ON void.reading_id = reading.id
           WHERE trial_id = ? ORDER BY reading.id DESC LIMIT 1"#,
        trial.0
    )
    .fetch_optional(connection)
    .await?;
    Ok(row.map(|row| (ReadingId(row.id), row.voided.is_none())))
}

/// True where a token has been stored, with an event or with a reading.
pub(crate) async fn is_known(
    connection: &mut SqliteConnection,
    token: Option<&str>,
) -> Result<bool, StoreError> {
    let Some(token) = token else { return Ok(false) };
    Ok(sqlx::query_scalar!(
        r#"SELECT (EXISTS (SELECT 1 FROM deed WHERE token = ?1)
                   OR EXISTS (SELECT 1 FROM reading WHERE token = ?1)) AS "known!: bool""#,
        token
    )
    .fetch_one(connection)
    .await?)
}

async fn insert(
    connection: &mut SqliteConnection,
    trial: TrialId,
    events: &[BenchEvent],
    token: Option<&str>,
) -> Result<(), StoreError> {
    let mut batch = None;
    for event in events {
        let text = records::write("deed", event)?;
        let swatch = event.swatch().map(|number| number.0);
        // The first of a batch carries its token.
        let token = if batch.is_none() { token } else { None };
        let done = sqlx::query!(
            "INSERT INTO deed (trial_id, batch, deed, after_reading, token, version, swatch)
             VALUES (?1, ?2, ?3, (SELECT coalesce(max(id), 0) FROM reading WHERE trial_id = ?1), ?4,
                     ?5, ?6)",
            trial.0,
            batch,
            text,
            token,
            records::VERSION,
            swatch
        )
        .execute(&mut *connection)
        .await?;
        let id = done.last_insert_rowid();
        if batch.is_none() {
            sqlx::query!("UPDATE deed SET batch = id WHERE id = ?", id)
                .execute(&mut *connection)
                .await?;
            batch = Some(id);
        }
    }
    Ok(())
}

/// A line of the log as it stands in its table.
struct EntryRow {
    id: i64,
    batch: i64,
    deed: String,
    version: i64,
    after_reading: i64,
    at: i64,
    reason: Option<String>,
}

impl EntryRow {
    fn entry(self) -> Result<LogEntry, StoreError> {
        Ok(LogEntry {
            id: EntryId(self.id),
            batch: EntryId(self.batch),
            event: records::read_event(self.version, &self.deed)?,
            at: Time(self.at),
            after: (self.after_reading > 0).then_some(ReadingId(self.after_reading)),
            void: self.reason,
        })
    }
}

/// The log of a trial, oldest first, void lines included.
pub(crate) async fn of_trial(
    connection: &mut SqliteConnection,
    trial: TrialId,
) -> Result<Vec<LogEntry>, StoreError> {
    let rows = sqlx::query_as!(
        EntryRow,
        r#"SELECT deed.id AS "id!", batch AS "batch!", deed, version, after_reading,
                  unixepoch(done_at) AS "at!: i64", reason AS "reason?"
           FROM deed LEFT JOIN deed_void ON deed_void.deed_id = deed.id
           WHERE trial_id = ? ORDER BY deed.id"#,
        trial.0
    )
    .fetch_all(connection)
    .await?;
    rows.into_iter().map(EntryRow::entry).collect()
}
