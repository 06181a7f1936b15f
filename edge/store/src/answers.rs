//! Forms that were answered: one that is sent twice is done once.

use std::sync::Arc;

use sqlx::SqliteConnection;

use crate::{Store, StoreError};

impl Store {
    /// These records for one form: what it adds is added once, however often the form is sent.
    /// `token` tells one form from another, `None` takes each sending for an act of its own.
    #[must_use]
    pub fn once(&self, token: Option<&str>) -> Self {
        Self { token: token.map(Arc::from), ..self.clone() }
    }

    /// What the form added when it was sent before.
    pub(crate) async fn answered(
        &self,
        connection: &mut SqliteConnection,
    ) -> Result<Option<i64>, StoreError> {
        let Some(token) = self.token.as_deref() else { return Ok(None) };
        let answer = sqlx::query_scalar!("SELECT answer FROM answered WHERE token = ?", token)
            .fetch_optional(connection)
            .await?;
        answer
            .map(|text| {
                text.parse().map_err(|_| StoreError::Corrupt { what: "answer", found: text })
            })
            .transpose()
    }

    /// Keeps what the form added.
    pub(crate) async fn answer(
        &self,
        connection: &mut SqliteConnection,
        id: i64,
    ) -> Result<(), StoreError> {
        let Some(token) = self.token.as_deref() else { return Ok(()) };
        let answer = id.to_string();
        sqlx::query!("INSERT INTO answered (token, answer) VALUES (?, ?)", token, answer)
            .execute(connection)
            .await?;
        Ok(())
    }
}
