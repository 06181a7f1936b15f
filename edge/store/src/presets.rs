//! Plans of one's own, kept as the planner's fields, and what was settled once for all.

use crate::{Store, StoreError};

/// A plan that is kept to be planned again.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Preset {
    /// Its number.
    pub id: i64,
    /// What it is called.
    pub name: String,
    /// The planner's fields, as a JSON object.
    pub form: String,
}

impl Store {
    /// The kept plans, by name.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub async fn presets(&self) -> Result<Vec<Preset>, StoreError> {
        let mut look = self.look().await?;
        let presets = sqlx::query_as!(
            Preset,
            r#"SELECT id AS "id!", name, form FROM preset ORDER BY name COLLATE NOCASE, id"#
        )
        .fetch_all(&mut *look)
        .await?;
        look.leave().await?;
        Ok(presets)
    }

    /// Keeps a plan under a name; one of the same name gives way.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn keep_preset(&self, name: &str, form: &str) -> Result<i64, StoreError> {
        let mut writing = self.write().await?;
        if let Some(id) = self.answered(&mut writing).await? {
            return Ok(id);
        }
        let id = sqlx::query_scalar!(
            r#"INSERT INTO preset (name, form) VALUES (?, ?)
               ON CONFLICT (name) DO UPDATE SET form = excluded.form RETURNING id AS "id!""#,
            name,
            form
        )
        .fetch_one(&mut *writing)
        .await?;
        self.answer(&mut writing, id).await?;
        writing.commit().await?;
        Ok(id)
    }

    /// Forgets a kept plan; one that is gone already is no mistake.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn forget_preset(&self, id: i64) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        sqlx::query!("DELETE FROM preset WHERE id = ?", id).execute(&mut *writing).await?;
        writing.commit().await
    }

    /// What was settled under a key.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub async fn setting(&self, key: &str) -> Result<Option<String>, StoreError> {
        let mut look = self.look().await?;
        let value = sqlx::query_scalar!("SELECT value FROM setting WHERE key = ?", key)
            .fetch_optional(&mut *look)
            .await?;
        look.leave().await?;
        Ok(value)
    }

    /// Settles something.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn settle(&self, key: &str, value: &str) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        sqlx::query!(
            "INSERT INTO setting (key, value) VALUES (?, ?)
             ON CONFLICT (key) DO UPDATE SET value = excluded.value",
            key,
            value
        )
        .execute(&mut *writing)
        .await?;
        writing.commit().await
    }
}
