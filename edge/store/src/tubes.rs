//! The shelf.

use sqlx::SqliteConnection;
use trial::{ColourIndexName, Tube, TubeLabel};

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
            r#"SELECT id AS "id!", maker, line, name, codes, grade, medium, volume_ml
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
        sqlx::query_as!(
            Row,
            r#"SELECT id AS "id!", maker, line, name, codes, grade, medium, volume_ml
               FROM tube WHERE id = ?"#,
            id.0
        )
        .fetch_optional(&self.pool)
        .await?
        .ok_or(StoreError::NotFound("tube"))?
        .try_into()
    }

    /// Puts a tube on the shelf.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn add_tube(&self, tube: &Tube) -> Result<TubeId, StoreError> {
        let mut connection = self.pool.acquire().await?;
        insert(&mut connection, tube).await
    }

    /// Corrects a tube's record.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none of this number.
    pub async fn change_tube(&self, id: TubeId, tube: &Tube) -> Result<(), StoreError> {
        let (codes, grade, medium) = (tube.code(), tube.grade.to_string(), tube.medium.to_string());
        let changed = sqlx::query!(
            "UPDATE tube SET maker = ?, line = ?, name = ?, codes = ?, grade = ?, medium = ?,
                             volume_ml = ? WHERE id = ?",
            tube.maker,
            tube.line,
            tube.name,
            codes,
            grade,
            medium,
            tube.volume_ml,
            id.0
        )
        .execute(&self.pool)
        .await?;
        if changed.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound("tube")) }
    }
}

async fn insert(connection: &mut SqliteConnection, tube: &Tube) -> Result<TubeId, StoreError> {
    let (codes, grade, medium) = (tube.code(), tube.grade.to_string(), tube.medium.to_string());
    let done = sqlx::query!(
        "INSERT INTO tube (maker, line, name, codes, grade, medium, volume_ml)
         VALUES (?, ?, ?, ?, ?, ?, ?)",
        tube.maker,
        tube.line,
        tube.name,
        codes,
        grade,
        medium,
        tube.volume_ml
    )
    .execute(connection)
    .await?;
    Ok(TubeId(done.last_insert_rowid()))
}

/// The tube on the shelf that a file's label means (same maker, name and pigments; a label without
/// pigments means the first of that maker and name), or a new one.
pub(crate) async fn find_or_add(
    connection: &mut SqliteConnection,
    label: &TubeLabel,
) -> Result<TubeId, StoreError> {
    // A text that holds no Colour Index name says no more than an old tube does.
    let codes = ColourIndexName::parse_list(&label.code).unwrap_or_default();
    let tube = Tube {
        maker: label.maker.clone(),
        line: String::new(),
        name: label.name.clone(),
        codes,
        grade: trial::Grade::default(),
        medium: trial::Medium::default(),
        volume_ml: None,
    };
    let code = tube.code();
    let known = sqlx::query_scalar!(
        r#"SELECT id AS "id!" FROM tube WHERE maker = ?1 AND name = ?2 AND (codes = ?3 OR ?3 = '')
           ORDER BY id LIMIT 1"#,
        label.maker,
        label.name,
        code
    )
    .fetch_optional(&mut *connection)
    .await?;
    if let Some(id) = known {
        return Ok(TubeId(id));
    }
    insert(connection, &tube).await
}
