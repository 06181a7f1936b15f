//! The shelf.

use std::str::FromStr;

use sqlx::SqliteConnection;
use study::names::{Called, told_apart};
use study::{ColourIndexName, Tube, TubeLabel, TubeLook};

use crate::error::parse;
use crate::{Store, StoreError};

/// A tube in the records.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct TubeId(pub i64);

/// A tube with its number in the records.
#[derive(Debug, Clone, PartialEq)]
pub struct ShelfTube {
    /// Its number.
    pub id: TubeId,
    /// The record.
    pub tube: Tube,
}

/// Labels of some tubes with names of which none can be taken for another's.
#[must_use]
pub fn called<'a>(tubes: impl IntoIterator<Item = &'a ShelfTube>) -> Vec<TubeLabel> {
    let tubes: Vec<&ShelfTube> = tubes.into_iter().collect();
    let with = |it: &&'a ShelfTube| Called {
        name: &it.tube.name,
        maker: &it.tube.maker,
        batch: &it.tube.batch,
        number: it.id.0,
    };
    let names = told_apart(&tubes.iter().map(with).collect::<Vec<_>>());
    names.into_iter().zip(tubes).map(|(name, it)| TubeLabel { name, ..it.tube.label() }).collect()
}

/// A tube as it stands in its table.
pub(crate) struct Row {
    pub id: i64,
    pub maker: String,
    pub line: String,
    pub name: String,
    pub codes: String,
    pub grade: String,
    pub medium: String,
    pub volume_ml: Option<f64>,
    pub left_ml: Option<f64>,
    pub density_g_ml: Option<f64>,
    pub opacity: String,
    pub lightfastness: String,
    pub series: String,
    pub price: String,
    pub batch: String,
    pub bought_on: Option<String>,
    pub tested_on: Option<String>,
    pub notes: String,
    pub chosen_mass_tone: Option<String>,
    pub chosen_tint: Option<String>,
}

impl TryFrom<Row> for ShelfTube {
    type Error = StoreError;

    fn try_from(row: Row) -> Result<Self, StoreError> {
        let codes = ColourIndexName::parse_list(&row.codes).map_err(|error| {
            StoreError::Corrupt { what: "Colour Index name", found: error.found }
        })?;
        Ok(Self {
            id: TubeId(row.id),
            tube: Tube {
                maker: row.maker,
                line: row.line,
                name: row.name,
                codes,
                grade: parse("grade", &row.grade)?,
                medium: parse("medium", &row.medium)?,
                volume_ml: row.volume_ml,
                left_ml: row.left_ml,
                density_g_ml: row.density_g_ml,
                opacity: row.opacity,
                lightfastness: row.lightfastness,
                series: row.series,
                price: row.price,
                batch: row.batch,
                bought_on: maybe("day of purchase", row.bought_on)?,
                tested_on: maybe("day of the test", row.tested_on)?,
                notes: row.notes,
                look: TubeLook {
                    mass_tone: maybe("colour of a mass tone", row.chosen_mass_tone)?,
                    tint: maybe("colour of a tint", row.chosen_tint)?,
                },
            },
        })
    }
}

impl Store {
    /// Every tube, by maker and name.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub async fn shelf(&self) -> Result<Vec<ShelfTube>, StoreError> {
        sqlx::query_as!(
            Row,
            r#"SELECT id AS "id!", maker, line, name, codes, grade, medium, volume_ml,
                      left_ml, density_g_ml, opacity, lightfastness, series, price, batch,
                      bought_on, tested_on, notes, chosen_mass_tone, chosen_tint
               FROM tube ORDER BY maker COLLATE NOCASE, name COLLATE NOCASE, id"#
        )
        .fetch_all(&self.pool)
        .await?
        .into_iter()
        .map(ShelfTube::try_from)
        .collect()
    }

    /// How many tubes stand on the shelf.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub async fn tube_count(&self) -> Result<i64, StoreError> {
        let count = sqlx::query_scalar!(r#"SELECT count(*) AS "count!: i64" FROM tube"#);
        Ok(count.fetch_one(&self.pool).await?)
    }

    /// One tube.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none of this number.
    pub async fn tube(&self, id: TubeId) -> Result<ShelfTube, StoreError> {
        let mut connection = self.pool.acquire().await?;
        one(&mut connection, id).await
    }

    /// Puts a tube on the shelf.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn add_tube(&self, tube: &Tube) -> Result<TubeId, StoreError> {
        let mut writing = self.write().await?;
        if let Some(id) = self.answered(&mut writing).await? {
            return Ok(TubeId(id));
        }
        let id = insert(&mut writing, tube).await?;
        self.answer(&mut writing, id.0).await?;
        writing.commit().await?;
        Ok(id)
    }

    /// Corrects a tube's record, which was `read` before.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none of this number, [`StoreError::Changed`] where the record is not as
    /// it was read.
    pub async fn change_tube(
        &self,
        id: TubeId,
        read: &Tube,
        tube: &Tube,
    ) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        update(&mut writing, id, (read, tube)).await?;
        writing.commit().await
    }

    /// Adds and corrects many tubes, all or none. What is corrected stands as it was read, and as it is to be.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where a tube to be corrected is gone, [`StoreError::Changed`] where one is not as it
    /// was read.
    pub async fn stock(
        &self,
        new: &[Tube],
        corrected: &[(ShelfTube, Tube)],
    ) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        if self.answered(&mut writing).await?.is_some() {
            return Ok(());
        }
        for tube in new {
            insert(&mut writing, tube).await?;
        }
        for (read, tube) in corrected {
            update(&mut writing, read.id, (&read.tube, tube)).await?;
        }
        self.answer(&mut writing, 0).await?;
        writing.commit().await?;
        Ok(())
    }
}

pub(crate) async fn one(
    connection: &mut SqliteConnection,
    id: TubeId,
) -> Result<ShelfTube, StoreError> {
    sqlx::query_as!(
        Row,
        r#"SELECT id AS "id!", maker, line, name, codes, grade, medium, volume_ml,
                  left_ml, density_g_ml, opacity, lightfastness, series, price, batch,
                      bought_on, tested_on, notes, chosen_mass_tone, chosen_tint
           FROM tube WHERE id = ?"#,
        id.0
    )
    .fetch_optional(connection)
    .await?
    .ok_or(StoreError::NotFound("tube"))?
    .try_into()
}

fn maybe<T: FromStr>(what: &'static str, text: Option<String>) -> Result<Option<T>, StoreError> {
    text.map(|text| parse(what, &text)).transpose()
}

async fn update(
    connection: &mut SqliteConnection,
    id: TubeId,
    (read, tube): (&Tube, &Tube),
) -> Result<(), StoreError> {
    if one(&mut *connection, id).await?.tube != *read {
        return Err(StoreError::Changed("tube"));
    }
    let Texts { codes, grade, medium, bought_on, tested_on, chosen_mass_tone, chosen_tint } =
        Texts::of(tube);
    sqlx::query!(
        "UPDATE tube SET maker = ?, line = ?, name = ?, codes = ?, grade = ?, medium = ?,
                         volume_ml = ?, left_ml = ?, density_g_ml = ?, opacity = ?, lightfastness = ?, series = ?,
                         price = ?, batch = ?, bought_on = ?, tested_on = ?, notes = ?,
                         chosen_mass_tone = ?, chosen_tint = ?
         WHERE id = ?",
        tube.maker,
        tube.line,
        tube.name,
        codes,
        grade,
        medium,
        tube.volume_ml,
        tube.left_ml,
        tube.density_g_ml,
        tube.opacity,
        tube.lightfastness,
        tube.series,
        tube.price,
        tube.batch,
        bought_on,
        tested_on,
        tube.notes,
        chosen_mass_tone,
        chosen_tint,
        id.0
    )
    .execute(&mut *connection)
    .await?;
    sqlx::query!(
        "UPDATE trial SET revision = revision + 1
         WHERE id IN (SELECT trial_id FROM trial_tube WHERE tube_id = ?)",
        id.0
    )
    .execute(connection)
    .await?;
    Ok(())
}

async fn insert(connection: &mut SqliteConnection, tube: &Tube) -> Result<TubeId, StoreError> {
    let Texts { codes, grade, medium, bought_on, tested_on, chosen_mass_tone, chosen_tint } =
        Texts::of(tube);
    let done = sqlx::query!(
        "INSERT INTO tube (maker, line, name, codes, grade, medium, volume_ml, left_ml, density_g_ml, opacity,
                           lightfastness, series, price, batch, bought_on, tested_on, notes, chosen_mass_tone, chosen_tint)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        tube.maker,
        tube.line,
        tube.name,
        codes,
        grade,
        medium,
        tube.volume_ml,
        tube.left_ml,
        tube.density_g_ml,
        tube.opacity,
        tube.lightfastness,
        tube.series,
        tube.price,
        tube.batch,
        bought_on,
        tested_on,
        tube.notes,
        chosen_mass_tone,
        chosen_tint
    )
    .execute(connection)
    .await?;
    Ok(TubeId(done.last_insert_rowid()))
}

/// The fields that are stored as words.
struct Texts {
    codes: String,
    grade: String,
    medium: String,
    bought_on: Option<String>,
    tested_on: Option<String>,
    chosen_mass_tone: Option<String>,
    chosen_tint: Option<String>,
}

impl Texts {
    fn of(tube: &Tube) -> Self {
        Self {
            codes: tube.code(),
            grade: tube.grade.to_string(),
            medium: tube.medium.to_string(),
            bought_on: tube.bought_on.map(|day| day.to_string()),
            tested_on: tube.tested_on.map(|day| day.to_string()),
            chosen_mass_tone: tube.look.mass_tone.map(|it| it.to_string()),
            chosen_tint: tube.look.tint.map(|it| it.to_string()),
        }
    }
}

/// The tube on the shelf that a file's label means (same maker, name and pigments; a label without
/// pigments means the first of that maker and name), or a new one. What another label of the file has
/// `taken` is another tube.
pub(crate) async fn find_or_add(
    connection: &mut SqliteConnection,
    label: &TubeLabel,
    taken: &[TubeId],
) -> Result<TubeId, StoreError> {
    // A text that holds no Colour Index name says no more than an old tube does.
    let codes = ColourIndexName::parse_list(&label.code).unwrap_or_default();
    let tube =
        Tube { maker: label.maker.clone(), name: label.name.clone(), codes, ..Tube::default() };
    let code = tube.code();
    let known = sqlx::query_scalar!(
        // Capitals and spaces at the ends make no other tube, nor does a code that one of the two leaves out.
        r#"SELECT id AS "id!" FROM tube
           WHERE lower(trim(maker)) = lower(trim(?1)) AND lower(trim(name)) = lower(trim(?2))
             AND (codes = ?3 OR ?3 = '' OR codes = '')
           ORDER BY maker = ?1 AND name = ?2 DESC, codes = ?3 DESC, id"#,
        label.maker,
        label.name,
        code
    )
    .fetch_all(&mut *connection)
    .await?;
    if let Some(id) = known.into_iter().map(TubeId).find(|id| !taken.contains(id)) {
        return Ok(id);
    }
    insert(connection, &tube).await
}
