//! Phones that were paired: what is kept of each, under the hash of its cookie.

use sha2::{Digest as _, Sha256};

use crate::{Store, StoreError};

/// A phone as the records have it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct StoredSession {
    /// SHA-256 of what its cookie says, in hexadecimal.
    pub key: String,
    /// What is kept of it, as JSON.
    pub data: String,
    /// Until when it counts, seconds since 1970.
    pub expires_at: i64,
}

/// The key of a cookie.
#[must_use]
pub fn session_key(cookie: &str) -> String {
    Sha256::digest(cookie).iter().map(|byte| format!("{byte:02x}")).collect()
}

impl Store {
    /// Keeps a phone, over what was kept of it.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn put_session(&self, session: &StoredSession) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        sqlx::query!(
            "INSERT INTO session (key, data, expires_at) VALUES (?, ?, ?)
             ON CONFLICT (key) DO UPDATE SET data = excluded.data, expires_at = excluded.expires_at",
            session.key,
            session.data,
            session.expires_at
        )
        .execute(&mut *writing)
        .await?;
        writing.commit().await
    }

    /// Every phone that counts still.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn sessions(&self) -> Result<Vec<StoredSession>, StoreError> {
        Ok(sqlx::query_as!(
            StoredSession,
            r#"SELECT key AS "key!", data, expires_at FROM session
               WHERE expires_at > unixepoch('now') ORDER BY expires_at"#
        )
        .fetch_all(&self.pool)
        .await?)
    }

    /// One phone, where it counts still.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn session(&self, key: &str) -> Result<Option<StoredSession>, StoreError> {
        Ok(sqlx::query_as!(
            StoredSession,
            r#"SELECT key AS "key!", data, expires_at FROM session
               WHERE key = ? AND expires_at > unixepoch('now')"#,
            key
        )
        .fetch_optional(&self.pool)
        .await?)
    }

    /// Forgets a phone: it has to be paired again.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn end_session(&self, key: &str) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        sqlx::query!("DELETE FROM session WHERE key = ? OR expires_at <= unixepoch('now')", key)
            .execute(&mut *writing)
            .await?;
        writing.commit().await
    }
}
