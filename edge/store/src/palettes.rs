//! Reference palettes. One that a trial has used is never changed: a new version is.

use sqlx::SqliteConnection;
use study::palette::{PaletteRole, School};

use crate::error::parse;
use crate::ids::PaletteId;
use crate::{ShelfTube, Store, StoreError, TubeId, tubes};

/// A palette to be put together.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewPalette {
    /// What it is called.
    pub name: String,
    /// Its template.
    pub school: School,
    /// What fills which role.
    pub tubes: Vec<(PaletteRole, TubeId)>,
}

/// One version of a palette.
#[derive(Debug, Clone, PartialEq)]
pub struct Palette {
    /// Its number.
    pub id: PaletteId,
    /// What it is called.
    pub name: String,
    /// Its template.
    pub school: School,
    /// From 1.
    pub version: i64,
    /// The version that took its place.
    pub replaced_by: Option<PaletteId>,
    /// Trials that use it.
    pub trials: i64,
    /// What fills which role.
    pub tubes: Vec<(PaletteRole, ShelfTube)>,
}

impl Palette {
    /// The white.
    #[must_use]
    pub fn white(&self) -> Option<&ShelfTube> {
        self.tubes.iter().find(|(role, _)| *role == PaletteRole::White).map(|(_, tube)| tube)
    }

    /// Everything but the white, each tube once.
    #[must_use]
    pub fn colours(&self) -> Vec<&ShelfTube> {
        let mut colours: Vec<&ShelfTube> = Vec::new();
        for (role, tube) in &self.tubes {
            if *role != PaletteRole::White && !colours.iter().any(|known| known.id == tube.id) {
                colours.push(tube);
            }
        }
        colours
    }
}

struct Row {
    id: i64,
    name: String,
    school: String,
    version: i64,
    replaced_by: Option<i64>,
    trials: i64,
}

impl Store {
    /// The latest version of every palette, by name.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub async fn palettes(&self) -> Result<Vec<Palette>, StoreError> {
        let mut look = self.look().await?;
        let rows = sqlx::query_as!(
            Row,
            r#"SELECT id AS "id!", name, school, version, NULL AS "replaced_by: i64",
                (SELECT count(*) FROM trial_plan WHERE palette_id = palette.id) AS "trials!: i64"
               FROM palette
               WHERE NOT EXISTS (SELECT 1 FROM palette AS later WHERE later.replaces = palette.id)
               ORDER BY name COLLATE NOCASE, id"#
        )
        .fetch_all(&mut *look)
        .await?;
        let mut palettes = Vec::with_capacity(rows.len());
        for row in rows {
            palettes.push(whole(&mut look, row).await?);
        }
        look.leave().await?;
        Ok(palettes)
    }

    /// One version of a palette.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none of this number.
    pub async fn palette(&self, id: PaletteId) -> Result<Palette, StoreError> {
        let mut look = self.look().await?;
        let row = row(&mut look, id).await?;
        let palette = whole(&mut look, row).await?;
        look.leave().await?;
        Ok(palette)
    }

    /// Puts a palette together.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn add_palette(&self, new: &NewPalette) -> Result<PaletteId, StoreError> {
        let mut writing = self.write().await?;
        if let Some(id) = self.answered(&mut writing).await? {
            return Ok(PaletteId(id));
        }
        let id = insert(&mut writing, new, 1, None).await?;
        self.answer(&mut writing, id.0).await?;
        writing.commit().await?;
        Ok(id)
    }

    /// Changes a palette; one that a trial has used stays, and its next version is made.
    ///
    /// # Errors
    /// [`StoreError::Replaced`] where it has a later version already.
    pub async fn change_palette(
        &self,
        id: PaletteId,
        new: &NewPalette,
    ) -> Result<PaletteId, StoreError> {
        let mut writing = self.write().await?;
        if let Some(id) = self.answered(&mut writing).await? {
            return Ok(PaletteId(id));
        }
        let now = row(&mut writing, id).await?;
        if now.replaced_by.is_some() {
            return Err(StoreError::Replaced);
        }
        let id = if now.trials > 0 {
            insert(&mut writing, new, now.version + 1, Some(id)).await?
        } else {
            let school = new.school.to_string();
            sqlx::query!(
                "UPDATE palette SET name = ?, school = ? WHERE id = ?",
                new.name,
                school,
                id.0
            )
            .execute(&mut *writing)
            .await?;
            sqlx::query!("DELETE FROM palette_tube WHERE palette_id = ?", id.0)
                .execute(&mut *writing)
                .await?;
            insert_tubes(&mut writing, id, &new.tubes).await?;
            id
        };
        self.answer(&mut writing, id.0).await?;
        writing.commit().await?;
        Ok(id)
    }
}

async fn row(connection: &mut SqliteConnection, id: PaletteId) -> Result<Row, StoreError> {
    sqlx::query_as!(
        Row,
        r#"SELECT id AS "id!", name, school, version,
            (SELECT id FROM palette AS later WHERE later.replaces = palette.id)
              AS "replaced_by: i64",
            (SELECT count(*) FROM trial_plan WHERE palette_id = palette.id) AS "trials!: i64"
           FROM palette WHERE id = ?"#,
        id.0
    )
    .fetch_optional(connection)
    .await?
    .ok_or(StoreError::NotFound("palette"))
}

async fn whole(connection: &mut SqliteConnection, row: Row) -> Result<Palette, StoreError> {
    let filled = sqlx::query!(
        "SELECT role, tube_id FROM palette_tube WHERE palette_id = ? ORDER BY position",
        row.id
    )
    .fetch_all(&mut *connection)
    .await?;
    let mut tubes = Vec::with_capacity(filled.len());
    for place in filled {
        let tube = tubes::one(&mut *connection, TubeId(place.tube_id)).await?;
        tubes.push((parse("role", &place.role)?, tube));
    }
    Ok(Palette {
        id: PaletteId(row.id),
        school: parse("school", &row.school)?,
        name: row.name,
        version: row.version,
        replaced_by: row.replaced_by.map(PaletteId),
        trials: row.trials,
        tubes,
    })
}

async fn insert(
    connection: &mut SqliteConnection,
    new: &NewPalette,
    version: i64,
    replaces: Option<PaletteId>,
) -> Result<PaletteId, StoreError> {
    let (school, replaces) = (new.school.to_string(), replaces.map(|id| id.0));
    let done = sqlx::query!(
        "INSERT INTO palette (name, school, version, replaces) VALUES (?, ?, ?, ?)",
        new.name,
        school,
        version,
        replaces
    )
    .execute(&mut *connection)
    .await?;
    let id = PaletteId(done.last_insert_rowid());
    insert_tubes(connection, id, &new.tubes).await?;
    Ok(id)
}

async fn insert_tubes(
    connection: &mut SqliteConnection,
    id: PaletteId,
    tubes: &[(PaletteRole, TubeId)],
) -> Result<(), StoreError> {
    for (position, (role, tube)) in tubes.iter().enumerate() {
        let (position, role) = (i64::try_from(position).unwrap_or(i64::MAX), role.to_string());
        sqlx::query!(
            "INSERT INTO palette_tube (palette_id, position, role, tube_id) VALUES (?, ?, ?, ?)",
            id.0,
            position,
            role,
            tube.0
        )
        .execute(&mut *connection)
        .await?;
    }
    Ok(())
}
