//! Trials: what is tested, how, and on which swatches.

use std::collections::HashMap;
use std::fmt;
use std::str::FromStr;
use std::sync::Arc;

use bench::{Entry, Run, Taken};
use colour::Conditions;
use plan::{Pile, Plan, Swatch};
use rustc_hash::{FxHashMap, FxHashSet};
use sqlx::SqliteConnection;
use study::{FilmKind, Mixture, Part, Protocol, RatioError, State, Study, TubeLabel, TubeRef};

use crate::error::parse;
use crate::readings::StoredReading;
use crate::{Last, ReadingId, ShelfTube, Store, StoreError, TrialPlan, TubeId, log, plans, tubes};

/// A trial in the records.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct TrialId(pub i64);

/// A swatch in the records.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct SwatchId(pub i64);

/// What a tube is in a trial.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Role {
    /// Under test.
    Tested,
    /// What each is mixed with.
    Reference,
    /// The white.
    White,
}

impl fmt::Display for Role {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Tested => "tested",
            Self::Reference => "reference",
            Self::White => "white",
        })
    }
}

impl FromStr for Role {
    type Err = ();

    fn from_str(text: &str) -> Result<Self, ()> {
        match text {
            "tested" => Ok(Self::Tested),
            "reference" => Ok(Self::Reference),
            "white" => Ok(Self::White),
            _ => Err(()),
        }
    }
}

/// A tube in a trial; its place in [`Trial::tubes`] is its [`TubeRef`].
#[derive(Debug, Clone, PartialEq)]
pub struct TrialTube {
    /// The tube.
    pub tube: ShelfTube,
    /// What it is here.
    pub role: Role,
}

/// How a trial's mixtures are made and read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Circumstances {
    /// Illuminant and observer of the figures.
    pub conditions: Conditions,
    /// Amounts, instrument and surface.
    pub protocol: Protocol,
    /// Readings that each swatch is meant to get, 1 to 10.
    pub repeats: u32,
    /// Geometry and repeatability are a meter's own, or stated by a file. Else the first meter that
    /// reads the trial decides them.
    pub meter_known: bool,
}

/// A trial to be started.
#[derive(Debug, Clone)]
pub struct NewTrial {
    /// What it is called.
    pub name: String,
    /// Tubes with their roles; the plan's [`TubeRef`]s are places in this list.
    pub tubes: Vec<(TubeId, Role)>,
    /// How it is made and read.
    pub circumstances: Circumstances,
    /// What is painted.
    pub plan: TrialPlan,
}

/// A swatch with its number in the records.
#[derive(Debug, Clone, PartialEq)]
pub struct PlannedSwatch {
    /// Its number in the records.
    pub id: SwatchId,
    /// The plan.
    pub swatch: Swatch,
}

/// A whole trial.
#[derive(Debug, Clone, PartialEq)]
pub struct Trial {
    /// Its number.
    pub id: TrialId,
    /// What it is called.
    pub name: String,
    /// Its tubes, by [`TubeRef`].
    pub tubes: Vec<TrialTube>,
    /// How it is made and read.
    pub circumstances: Circumstances,
    /// Its swatches by number.
    pub swatches: Vec<PlannedSwatch>,
    /// Its readings, oldest first, void ones included.
    pub readings: Vec<Arc<StoredReading>>,
    /// Comments and header row of the file it was imported from.
    pub source_head: Option<String>,
    /// How it was planned; `None` for a trial that came from a file.
    pub plan: Option<TrialPlan>,
    /// What was done at the bench besides reading, oldest first.
    pub log: Vec<Entry>,
    /// It is put away: kept, and used nowhere.
    pub put_away: bool,
    /// How far the records had come when it was read.
    pub stamp: Stamp,
    /// Readings that count, by swatch and state.
    counts: FxHashMap<(SwatchId, State), usize>,
    /// Places of the readings of each swatch.
    places: FxHashMap<SwatchId, Vec<usize>>,
}

/// How far the records of a trial have come: another stamp, another trial.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Stamp {
    /// Number of the last reading, void ones included.
    pub last_reading: i64,
    /// Void readings.
    pub voids: i64,
    /// Lines of the bench's log.
    pub log: i64,
    /// Lines of it that were taken back.
    pub taken_back: i64,
    /// Rises with every other change.
    pub revision: i64,
}

impl Trial {
    /// Labels of the tubes, by [`TubeRef`].
    #[must_use]
    pub fn labels(&self) -> Vec<TubeLabel> {
        self.tubes.iter().map(|tube| tube.tube.tube.label()).collect()
    }

    /// The white, where the trial has one.
    #[must_use]
    pub fn white(&self) -> Option<TubeRef> {
        self.tubes.iter().position(|tube| tube.role == Role::White).map(TubeRef)
    }

    /// What the analysis works from.
    #[must_use]
    pub fn study(&self) -> Study {
        let readings = self.readings.iter().map(|stored| stored.reading.clone()).collect();
        Study { readings, ..self.circumstances_as_study() }
    }

    /// The same without its readings.
    #[must_use]
    pub fn circumstances_as_study(&self) -> Study {
        Study {
            conditions: self.circumstances.conditions,
            protocol: self.circumstances.protocol,
            tubes: self.labels(),
            white: self.white(),
            readings: Vec::new(),
        }
    }

    /// The plan itself.
    #[must_use]
    pub fn planned(&self) -> Option<&Plan> {
        self.plan.as_ref().map(|it| &it.plan)
    }

    /// The bench as it stands; `None` for a trial that came from a file.
    #[must_use]
    pub fn run(&self) -> Option<Run<'_>> {
        let plan = self.plan.as_ref()?;
        let numbers: FxHashMap<SwatchId, u32> =
            self.swatches.iter().map(|planned| (planned.id, planned.swatch.number)).collect();
        let taken = |stored: &Arc<StoredReading>| {
            Some(Taken {
                swatch: *numbers.get(&stored.swatch)?,
                state: stored.reading.state,
                at: stored.taken,
                void: stored.reading.void.is_some(),
            })
        };
        let readings: Vec<Taken> = self.readings.iter().filter_map(taken).collect();
        Some(Run::new(&plan.plan, &plan.design, &self.log, &readings))
    }

    /// What was entered last, as far as it can be taken back.
    #[must_use]
    pub fn last_entry(&self) -> Option<Last> {
        let reading = self.readings.last();
        Last::of(&self.log, reading.map(|stored| (stored.id, stored.reading.void.is_none())))
    }

    /// Gives each reading from a place on what its swatch really holds, in place of what was planned.
    fn with_what_was_done(mut self, from: usize) -> Self {
        let concerned: FxHashSet<SwatchId> =
            self.readings[from..].iter().map(|it| it.swatch).collect();
        let mut done: FxHashMap<SwatchId, (Mixture, RatioError)> = FxHashMap::default();
        if let Some(run) = self.run().filter(|_| !concerned.is_empty()) {
            for planned in self.swatches.iter().filter(|planned| concerned.contains(&planned.id)) {
                let number = planned.swatch.number;
                if let Some(mixture) = run.mixture(number) {
                    done.insert(planned.id, (mixture.clone(), run.ratio_error(number)));
                }
            }
        }
        for stored in &mut self.readings[from..] {
            if let Some((mixture, error)) = done.get(&stored.swatch)
                && (stored.reading.mixture != *mixture || stored.reading.ratio_error != *error)
            {
                let reading = &mut Arc::make_mut(stored).reading;
                reading.mixture = mixture.clone();
                reading.ratio_error = *error;
            }
        }
        self
    }

    /// Counts the readings from a place on, besides those that were counted before.
    fn counted(mut self, from: usize) -> Self {
        if from == 0 {
            self.counts.clear();
            self.places.clear();
        }
        for (at, stored) in self.readings.iter().enumerate().skip(from) {
            self.places.entry(stored.swatch).or_default().push(at);
        }
        for stored in self.readings[from..].iter().filter(|stored| stored.reading.void.is_none()) {
            *self.counts.entry((stored.swatch, stored.reading.state)).or_default() += 1;
        }
        self
    }

    /// The pile that a swatch is painted from; `None` for paint straight from the tube.
    #[must_use]
    pub fn pile_of(&self, swatch: &Swatch) -> Option<&Pile> {
        self.planned()?.pile_of(swatch.number)
    }

    /// The readings of a swatch, oldest first, void ones included.
    pub fn readings_of(&self, swatch: SwatchId) -> impl DoubleEndedIterator<Item = &StoredReading> {
        let places = self.places.get(&swatch).map_or(&[][..], Vec::as_slice);
        places.iter().filter_map(|at| self.readings.get(*at)).map(AsRef::as_ref)
    }

    /// Readings of a swatch that count in a state.
    #[must_use]
    pub fn counting(&self, swatch: SwatchId, state: State) -> usize {
        self.counts.get(&(swatch, state)).copied().unwrap_or_default()
    }

    /// Readings that a swatch is still meant to get in a state, where that is read at all.
    #[must_use]
    pub fn missing(&self, swatch: SwatchId, state: State) -> usize {
        (self.circumstances.repeats as usize).saturating_sub(self.counting(swatch, state))
    }

    /// Dry readings of a swatch that count.
    #[must_use]
    pub fn dry_readings(&self, swatch: SwatchId) -> usize {
        self.counting(swatch, State::Dry)
    }

    /// Dry readings that a swatch is still meant to get.
    #[must_use]
    pub fn dry_readings_missing(&self, swatch: SwatchId) -> usize {
        self.missing(swatch, State::Dry)
    }
}

/// A trial in a list.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct TrialSummary {
    /// Its number.
    pub id: TrialId,
    /// What it is called.
    pub name: String,
    /// Swatches planned.
    pub swatches: i64,
    /// Swatches with at least one dry reading that counts.
    pub read: i64,
    /// Readings that count.
    pub readings: i64,
    /// Void readings.
    pub voids: i64,
    /// How far its records have come.
    pub stamp: Stamp,
    /// It is put away.
    pub put_away: bool,
}

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
            repeats: u32::try_from(self.repeats).unwrap_or(1),
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
                (SELECT count(*) FROM swatch WHERE swatch.trial_id = trial.id) AS "swatches!: i64",
                (SELECT count(*) FROM swatch WHERE swatch.trial_id = trial.id AND EXISTS (
                   SELECT 1 FROM reading WHERE reading.swatch_id = swatch.id AND state = 'dry'
                     AND NOT EXISTS (SELECT 1 FROM void WHERE void.reading_id = reading.id)
                 )) AS "read!: i64",
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
                read: row.read,
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

    /// Puts a trial away, or takes it back: one that is put away stays whole, and is used nowhere.
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

    /// Plans a trial anew, all or nothing.
    ///
    /// # Errors
    /// [`StoreError::Frozen`] once something was done or read, void or not.
    pub async fn change_trial(&self, id: TrialId, new: &NewTrial) -> Result<(), StoreError> {
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
        sqlx::query!(
            "DELETE FROM swatch_part WHERE swatch_id IN (SELECT id FROM swatch WHERE trial_id = ?)",
            id.0
        )
        .execute(&mut *writing)
        .await?;
        sqlx::query!("DELETE FROM swatch WHERE trial_id = ?", id.0).execute(&mut *writing).await?;
        sqlx::query!("DELETE FROM trial_tube WHERE trial_id = ?", id.0)
            .execute(&mut *writing)
            .await?;
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
                      sheen, repeats, source_head, put_away_at IS NOT NULL AS "put_away!: bool",
                      meter_known AS "meter_known!: bool"
               FROM trial WHERE id = ?"#,
            id.0
        )
        .fetch_optional(&mut *look)
        .await?
        .ok_or(StoreError::NotFound("trial"))?;
        let swatches = swatches(&mut look, id).await?;
        let trial = Trial {
            id,
            circumstances: row.circumstances()?,
            name: row.name,
            tubes: tubes_of(&mut look, id).await?,
            readings: crate::readings::of_trial(&mut look, id, &swatches, ReadingId(0)).await?,
            swatches,
            source_head: row.source_head,
            plan: plans::of_trial(&mut look, id).await?,
            log: log::of_trial(&mut look, id).await?,
            put_away: row.put_away,
            stamp: stamp(&mut look, id).await?,
            counts: FxHashMap::default(),
            places: FxHashMap::default(),
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
                  left_ml, opacity, lightfastness, series, price, batch, bought_on, tested_on,
                  notes, role
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
                opacity: row.opacity,
                lightfastness: row.lightfastness,
                series: row.series,
                price: row.price,
                batch: row.batch,
                bought_on: row.bought_on,
                tested_on: row.tested_on,
                notes: row.notes,
            };
            Ok(TrialTube { tube: tube.try_into()?, role })
        })
        .collect()
}

pub(crate) async fn swatches(
    connection: &mut SqliteConnection,
    id: TrialId,
) -> Result<Vec<PlannedSwatch>, StoreError> {
    let parts = sqlx::query!(
        "SELECT swatch_id, position, parts FROM swatch_part
         JOIN swatch ON swatch.id = swatch_part.swatch_id WHERE trial_id = ?",
        id.0
    )
    .fetch_all(&mut *connection)
    .await?;
    let mut mixtures: HashMap<i64, Vec<Part>> = HashMap::new();
    for row in parts {
        let tube = TubeRef(usize::try_from(row.position).unwrap_or_default());
        mixtures.entry(row.swatch_id).or_default().push(Part { tube, parts: row.parts });
    }
    let rows = sqlx::query!(
        r#"SELECT id AS "id!", number, backing, film FROM swatch WHERE trial_id = ? ORDER BY number"#,
        id.0
    )
    .fetch_all(connection)
    .await?;
    rows.into_iter()
        .map(|row| {
            Ok(PlannedSwatch {
                id: SwatchId(row.id),
                swatch: Swatch {
                    number: u32::try_from(row.number).unwrap_or_default(),
                    mixture: Mixture::new(mixtures.remove(&row.id).unwrap_or_default()),
                    backing: parse("backing", &row.backing)?,
                    film: parse::<FilmKind>("film", &row.film)?,
                },
            })
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
    let protocol = &circumstances.protocol;
    let done = sqlx::query!(
        "INSERT INTO trial (name, illuminant, observer, basis, scale_g, pile_g, repeatability,
                            geometry, sheen, repeats, meter_known, source_head)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        name,
        words.illuminant,
        words.observer,
        words.basis,
        protocol.scale_g,
        protocol.pile_g,
        protocol.repeatability,
        words.geometry,
        words.sheen,
        circumstances.repeats,
        circumstances.meter_known,
        source_head
    )
    .execute(connection)
    .await?;
    Ok(TrialId(done.last_insert_rowid()))
}

async fn update_trial(
    connection: &mut SqliteConnection,
    id: TrialId,
    name: &str,
    circumstances: &Circumstances,
) -> Result<(), StoreError> {
    let words = CircumstanceWords::of(circumstances);
    let protocol = &circumstances.protocol;
    let done = sqlx::query!(
        "UPDATE trial SET name = ?, illuminant = ?, observer = ?, basis = ?, scale_g = ?,
                          pile_g = ?, repeatability = ?, geometry = ?, sheen = ?, repeats = ?,
                          meter_known = ?, revision = revision + 1
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
        circumstances.repeats,
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

pub(crate) async fn insert_swatch(
    connection: &mut SqliteConnection,
    trial: TrialId,
    swatch: &Swatch,
) -> Result<SwatchId, StoreError> {
    let (backing, film) = (swatch.backing.to_string(), swatch.film.to_string());
    let done = sqlx::query!(
        "INSERT INTO swatch (trial_id, number, backing, film) VALUES (?, ?, ?, ?)",
        trial.0,
        swatch.number,
        backing,
        film
    )
    .execute(&mut *connection)
    .await?;
    let id = SwatchId(done.last_insert_rowid());
    for part in swatch.mixture.parts() {
        let position = i64::try_from(part.tube.0).unwrap_or(i64::MAX);
        sqlx::query!(
            "INSERT INTO swatch_part (swatch_id, position, parts) VALUES (?, ?, ?)",
            id.0,
            position,
            part.parts
        )
        .execute(&mut *connection)
        .await?;
    }
    Ok(id)
}
