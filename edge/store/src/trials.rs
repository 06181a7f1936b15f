//! Trials: what is tested, how, and on which swatches.

use bench::ReadingId;
use colour::Conditions;
use rustc_hash::{FxHashMap, FxHashSet};
use sqlx::SqliteConnection;
use study::{Protocol, TubeLabel, TubeRef};

use crate::error::parse;
use crate::ids::TrialId;
use crate::pictures::not_in_pictures;
use crate::ruled_chart::chart_of;
use crate::swatches::swatches;
use crate::trial::{Circumstances, NewTrial, Role, Stamp, Trial, TrialSummary, TrialTube};
use crate::tubes::TubeId;
use crate::{Store, StoreError, log, plans, tubes};

struct TrialRow {
    name: String,
    illuminant: String,
    observer: String,
    basis: String,
    scale_g: Option<f64>,
    pile_g: Option<f64>,
    repeatability: Option<f64>,
    geometry: String,
    sheen: String,
    repeats: i64,
    by_eye: bool,
    source_head: Option<String>,
    put_away: bool,
    meter_known: bool,
}

impl TrialRow {
    fn circumstances(&self) -> Result<Circumstances, StoreError> {
        Ok(Circumstances {
            conditions: Conditions {
                illuminant: parse("illuminant", &self.illuminant)?,
                observer: parse("observer", &self.observer)?,
            },
            protocol: Protocol {
                basis: parse("basis", &self.basis)?,
                scale_g: self.scale_g,
                pile_g: self.pile_g,
                repeatability: self.repeatability,
                geometry: parse("geometry", &self.geometry)?,
                sheen: parse("sheen", &self.sheen)?,
            },
            repeats: if self.by_eye { 0 } else { u32::try_from(self.repeats).unwrap_or(1) },
            meter_known: self.meter_known,
        })
    }
}

impl Store {
    /// Every trial, newest first.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub async fn trials(&self) -> Result<Vec<TrialSummary>, StoreError> {
        let rows = sqlx::query!(
            r#"SELECT trial.id AS "id!", trial.name, revision, put_away_at IS NOT NULL AS "put_away!: bool",
                by_eye AS "by_eye!: bool",
                EXISTS (SELECT 1 FROM ruled_chart WHERE ruled_chart.trial_id = trial.id) AS "ruled!: bool",
                (SELECT count(*) FROM swatch WHERE swatch.trial_id = trial.id) AS "swatches!: i64",
                (SELECT count(*) FROM swatch WHERE swatch.trial_id = trial.id AND (EXISTS (
                   SELECT 1 FROM reading WHERE reading.swatch_id = swatch.id AND state = 'dry'
                     AND NOT EXISTS (SELECT 1 FROM void WHERE void.reading_id = reading.id)
                 ) OR EXISTS (
                   SELECT 1 FROM picture, json_each(picture.unread)
                   WHERE picture.trial_id = trial.id AND json_each.value = swatch.number
                 ) OR (by_eye AND coalesce((
                   SELECT deed LIKE '{"Laid"%' FROM deed
                   WHERE deed.trial_id = trial.id AND deed.swatch = swatch.number
                     AND (deed LIKE '{"Laid"%' OR deed LIKE '{"Spoilt"%')
                     AND NOT EXISTS (SELECT 1 FROM deed_void WHERE deed_id = deed.id)
                   ORDER BY deed.id DESC LIMIT 1
                 ), FALSE)))) AS "done!: i64",
                (SELECT count(*) FROM reading WHERE reading.trial_id = trial.id) AS "readings!: i64",
                (SELECT coalesce(max(id), 0) FROM reading WHERE reading.trial_id = trial.id)
                  AS "last_reading!: i64",
                (SELECT count(*) FROM void JOIN reading ON reading.id = void.reading_id
                   WHERE reading.trial_id = trial.id) AS "voids!: i64",
                (SELECT count(*) FROM deed WHERE deed.trial_id = trial.id) AS "log!: i64",
                (SELECT count(*) FROM deed_void JOIN deed ON deed.id = deed_void.deed_id
                   WHERE deed.trial_id = trial.id) AS "taken_back!: i64"
               FROM trial ORDER BY trial.id DESC"#
        )
        .fetch_all(&self.pool)
        .await?;
        Ok(rows
            .into_iter()
            .map(|row| TrialSummary {
                id: TrialId(row.id),
                name: row.name,
                swatches: row.swatches,
                done: row.done,
                by_eye: row.by_eye,
                ruled: row.ruled,
                readings: row.readings - row.voids,
                voids: row.voids,
                stamp: Stamp {
                    last_reading: row.last_reading,
                    voids: row.voids,
                    log: row.log,
                    taken_back: row.taken_back,
                    revision: row.revision,
                },
                put_away: row.put_away,
            })
            .collect())
    }

    /// Archives a trial, or restores it: an archived one stays whole, and is used nowhere.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none of this number.
    pub async fn put_away(&self, id: TrialId, away: bool) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        let done = sqlx::query!(
            "UPDATE trial SET put_away_at = CASE WHEN ? THEN strftime('%Y-%m-%dT%H:%M:%SZ', 'now') END,
                              revision = revision + 1
             WHERE id = ?",
            away,
            id.0
        )
        .execute(&mut *writing)
        .await?;
        if done.rows_affected() != 1 {
            return Err(StoreError::NotFound("trial"));
        }
        writing.commit().await
    }

    /// Starts a trial: its tubes, its circumstances and its plan, all or nothing.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn start_trial(&self, new: &NewTrial) -> Result<TrialId, StoreError> {
        let mut writing = self.write().await?;
        if let Some(id) = self.answered(&mut writing).await? {
            return Ok(TrialId(id));
        }
        let id = insert_trial(&mut writing, &new.name, &new.circumstances, None).await?;
        insert_plan(&mut writing, id, new).await?;
        self.answer(&mut writing, id.0).await?;
        writing.commit().await?;
        Ok(id)
    }

    /// Plans a trial anew, all or nothing; `read_at` is the edition of the plan that the change was made on.
    ///
    /// # Errors
    /// [`StoreError::Frozen`] once something was done or read, void or not; [`StoreError::Changed`] where the plan is
    /// another one by now.
    pub async fn change_trial(
        &self,
        id: TrialId,
        new: &NewTrial,
        read_at: u32,
    ) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        // Written first, so that no reading can be taken between the question and the answer.
        update_trial(&mut writing, id, &new.name, &new.circumstances).await?;
        let begun = sqlx::query_scalar!(
            r#"SELECT (EXISTS (SELECT 1 FROM reading WHERE trial_id = ?1)
                       OR EXISTS (SELECT 1 FROM deed WHERE trial_id = ?1)) AS "begun!: bool""#,
            id.0
        );
        if begun.fetch_one(&mut *writing).await? {
            return Err(StoreError::Frozen);
        }
        let edition = sqlx::query_scalar!(
            r#"SELECT edition AS "edition!: u32" FROM trial_plan WHERE trial_id = ?"#,
            id.0
        );
        if edition.fetch_optional(&mut *writing).await?.is_some_and(|now| now != read_at) {
            return Err(StoreError::Changed("plan"));
        }
        clear_squares(&mut writing, id).await?;
        insert_plan(&mut writing, id, new).await?;
        writing.commit().await?;
        Ok(())
    }

    /// A whole trial.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none of this number.
    pub async fn trial(&self, id: TrialId) -> Result<Trial, StoreError> {
        // One state of the records: a reading that arrives meanwhile is in all parts or in none.
        let mut look = self.look().await?;
        let row = sqlx::query_as!(
            TrialRow,
            r#"SELECT name, illuminant, observer, basis, scale_g, pile_g, repeatability, geometry,
                      sheen, repeats, by_eye AS "by_eye!: bool", source_head,
                      put_away_at IS NOT NULL AS "put_away!: bool", meter_known AS "meter_known!: bool"
               FROM trial WHERE id = ?"#,
            id.0
        )
        .fetch_optional(&mut *look)
        .await?
        .ok_or(StoreError::NotFound("trial"))?;
        let swatches = swatches(&mut look, id).await?;
        let tubes = tubes_of(&mut look, id).await?;
        let labels: Vec<TubeLabel> = tubes.iter().map(|it| it.tube.tube.label()).collect();
        let white = tubes.iter().position(|it| it.role == Role::White).map(TubeRef);
        let trial = Trial {
            id,
            circumstances: row.circumstances()?,
            name: row.name,
            tubes,
            readings: crate::readings::of_trial(&mut look, id, &swatches, ReadingId(0)).await?,
            swatches,
            source_head: row.source_head,
            chart: chart_of(&mut look, id).await?,
            plan: plans::of_trial(&mut look, id, (&labels, white)).await?,
            log: log::of_trial(&mut look, id).await?,
            put_away: row.put_away,
            stamp: stamp(&mut look, id).await?,
            not_in_pictures: not_in_pictures(&mut look, id).await?,
            counts: FxHashMap::default(),
            places: FxHashMap::default(),
            enough: FxHashSet::default(),
        };
        look.leave().await?;
        Ok(trial.with_what_was_done(0).counted(0))
    }

    /// What became of a trial since it was read; `None` where nothing did. Only what is new is read.
    ///
    /// # Errors
    /// As [`Store::trial`].
    pub async fn trial_since(&self, known: &Trial) -> Result<Option<Trial>, StoreError> {
        let mut look = self.look().await?;
        let now = stamp(&mut look, known.id).await?;
        if now == known.stamp {
            look.leave().await?;
            return Ok(None);
        }
        if now.revision != known.stamp.revision {
            look.leave().await?;
            return self.trial(known.id).await.map(Some);
        }
        let mut trial = Trial { stamp: now, ..known.clone() };
        let (before, last) = (known.readings.len(), known.readings.last());
        let last = last.map_or(ReadingId(0), |stored| stored.id);
        let new = crate::readings::of_trial(&mut look, known.id, &trial.swatches, last).await?;
        trial.readings.extend(new);
        let (mut done_from, mut count_from) = (before, before);
        if now.voids != known.stamp.voids {
            crate::readings::void_since(&mut look, known.id, &mut trial.readings).await?;
            // What an unsaid laying holds may hang on the reading that is void now.
            (done_from, count_from) = (0, 0);
        }
        if (now.log, now.taken_back) != (known.stamp.log, known.stamp.taken_back) {
            trial.log = log::of_trial(&mut look, known.id).await?;
            done_from = 0;
        }
        look.leave().await?;
        Ok(Some(trial.with_what_was_done(done_from).counted(count_from)))
    }
}

async fn stamp(connection: &mut SqliteConnection, id: TrialId) -> Result<Stamp, StoreError> {
    let row = sqlx::query!(
        r#"SELECT revision,
             (SELECT coalesce(max(id), 0) FROM reading WHERE trial_id = trial.id)
               AS "last_reading!: i64",
             (SELECT count(*) FROM void JOIN reading ON reading.id = void.reading_id
                WHERE reading.trial_id = trial.id) AS "voids!: i64",
             (SELECT count(*) FROM deed WHERE trial_id = trial.id) AS "log!: i64",
             (SELECT count(*) FROM deed_void JOIN deed ON deed.id = deed_void.deed_id
                WHERE deed.trial_id = trial.id) AS "taken_back!: i64"
           FROM trial WHERE id = ?"#,
        id.0
    )
    .fetch_optional(connection)
    .await?
    .ok_or(StoreError::NotFound("trial"))?;
    Ok(Stamp {
        last_reading: row.last_reading,
        voids: row.voids,
        log: row.log,
        taken_back: row.taken_back,
        revision: row.revision,
    })
}

async fn insert_plan(
    connection: &mut SqliteConnection,
    id: TrialId,
    new: &NewTrial,
) -> Result<(), StoreError> {
    insert_tubes(connection, id, &new.tubes).await?;
    new.plan.put(connection, id).await
}

async fn tubes_of(
    connection: &mut SqliteConnection,
    id: TrialId,
) -> Result<Vec<TrialTube>, StoreError> {
    let rows = sqlx::query!(
        r#"SELECT tube.id AS "id!", maker, line, name, codes, grade, medium, volume_ml,
                  left_ml, density_g_ml, opacity, lightfastness, series, price, batch, bought_on,
                  tested_on, notes, chosen_mass_tone, chosen_tint, role
           FROM trial_tube JOIN tube ON tube.id = trial_tube.tube_id
           WHERE trial_id = ? ORDER BY position"#,
        id.0
    )
    .fetch_all(connection)
    .await?;
    rows.into_iter()
        .map(|row| {
            let role = parse("role", &row.role)?;
            let tube = tubes::Row {
                id: row.id,
                maker: row.maker,
                line: row.line,
                name: row.name,
                codes: row.codes,
                grade: row.grade,
                medium: row.medium,
                volume_ml: row.volume_ml,
                left_ml: row.left_ml,
                density_g_ml: row.density_g_ml,
                opacity: row.opacity,
                lightfastness: row.lightfastness,
                series: row.series,
                price: row.price,
                batch: row.batch,
                bought_on: row.bought_on,
                tested_on: row.tested_on,
                notes: row.notes,
                chosen_mass_tone: row.chosen_mass_tone,
                chosen_tint: row.chosen_tint,
            };
            Ok(TrialTube { tube: tube.try_into()?, role })
        })
        .collect()
}

pub(crate) async fn insert_trial(
    connection: &mut SqliteConnection,
    name: &str,
    circumstances: &Circumstances,
    source_head: Option<&str>,
) -> Result<TrialId, StoreError> {
    let words = CircumstanceWords::of(circumstances);
    let (repeats, by_eye) = (circumstances.repeats.max(1), circumstances.repeats == 0);
    let protocol = &circumstances.protocol;
    let done = sqlx::query!(
        "INSERT INTO trial (name, illuminant, observer, basis, scale_g, pile_g, repeatability,
                            geometry, sheen, repeats, by_eye, meter_known, source_head)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        name,
        words.illuminant,
        words.observer,
        words.basis,
        protocol.scale_g,
        protocol.pile_g,
        protocol.repeatability,
        words.geometry,
        words.sheen,
        repeats,
        by_eye,
        circumstances.meter_known,
        source_head
    )
    .execute(connection)
    .await?;
    Ok(TrialId(done.last_insert_rowid()))
}

/// Takes the swatches and the tubes of a trial away, of which nothing was read.
pub(crate) async fn clear_squares(
    connection: &mut SqliteConnection,
    id: TrialId,
) -> Result<(), StoreError> {
    sqlx::query!(
        "DELETE FROM swatch_part WHERE swatch_id IN (SELECT id FROM swatch WHERE trial_id = ?)",
        id.0
    )
    .execute(&mut *connection)
    .await?;
    sqlx::query!("DELETE FROM swatch WHERE trial_id = ?", id.0).execute(&mut *connection).await?;
    sqlx::query!("DELETE FROM trial_tube WHERE trial_id = ?", id.0).execute(connection).await?;
    Ok(())
}

pub(crate) async fn update_trial(
    connection: &mut SqliteConnection,
    id: TrialId,
    name: &str,
    circumstances: &Circumstances,
) -> Result<(), StoreError> {
    let words = CircumstanceWords::of(circumstances);
    let (repeats, by_eye) = (circumstances.repeats.max(1), circumstances.repeats == 0);
    let protocol = &circumstances.protocol;
    let done = sqlx::query!(
        "UPDATE trial SET name = ?, illuminant = ?, observer = ?, basis = ?, scale_g = ?,
                          pile_g = ?, repeatability = ?, geometry = ?, sheen = ?, repeats = ?,
                          by_eye = ?, meter_known = ?, revision = revision + 1
         WHERE id = ?",
        name,
        words.illuminant,
        words.observer,
        words.basis,
        protocol.scale_g,
        protocol.pile_g,
        protocol.repeatability,
        words.geometry,
        words.sheen,
        repeats,
        by_eye,
        circumstances.meter_known,
        id.0
    )
    .execute(connection)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound("trial")) }
}

/// The circumstances that are stored as words.
struct CircumstanceWords {
    illuminant: String,
    observer: String,
    basis: String,
    geometry: String,
    sheen: String,
}

impl CircumstanceWords {
    fn of(Circumstances { conditions, protocol, .. }: &Circumstances) -> Self {
        Self {
            illuminant: conditions.illuminant.to_string(),
            observer: conditions.observer.to_string(),
            basis: protocol.basis.to_string(),
            geometry: protocol.geometry.to_string(),
            sheen: protocol.sheen.to_string(),
        }
    }
}

pub(crate) async fn insert_tubes(
    connection: &mut SqliteConnection,
    trial: TrialId,
    tubes: &[(TubeId, Role)],
) -> Result<(), StoreError> {
    for (position, (tube, role)) in tubes.iter().enumerate() {
        let position = i64::try_from(position).unwrap_or(i64::MAX);
        let role = role.to_string();
        sqlx::query!(
            "INSERT INTO trial_tube (trial_id, position, tube_id, role) VALUES (?, ?, ?, ?)",
            trial.0,
            position,
            tube.0,
            role
        )
        .execute(&mut *connection)
        .await?;
    }
    Ok(())
}
