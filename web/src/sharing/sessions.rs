//! Phones that were paired, kept in the workshop's own records.

use std::collections::HashMap;
use std::fmt;

use async_trait::async_trait;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use tower_sessions::SessionStore;
use tower_sessions::session::{Id, Record};
use tower_sessions::session_store::{Error, Result};
use workshop::{StoredSession, Workshop, WorkshopError, session_key};

/// A phone that was paired.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub(crate) struct Phone {
    /// What its user calls it.
    pub name: String,
    /// When it was paired, seconds since 1970.
    pub paired_at: i64,
}

/// The phones of a workshop, under the hashes of their cookies.
#[derive(Clone)]
pub(crate) struct KnownPhones(pub Workshop);

impl fmt::Debug for KnownPhones {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("KnownPhones")
    }
}

#[expect(clippy::needless_pass_by_value, reason = "it is given to map_err")]
fn failed(error: WorkshopError) -> Error {
    Error::Backend(error.to_string())
}

impl KnownPhones {
    /// Every phone, with its key.
    pub async fn list(&self) -> std::result::Result<Vec<(String, Phone)>, WorkshopError> {
        let phone = |session: StoredSession| {
            let mut data: HashMap<String, serde_json::Value> =
                serde_json::from_str(&session.data).ok()?;
            let phone = serde_json::from_value(data.remove(super::PHONE)?).ok()?;
            Some((session.key, phone))
        };
        Ok(self.0.sessions().await?.into_iter().filter_map(phone).collect())
    }

    async fn put(&self, record: &Record) -> Result<()> {
        let data = serde_json::to_string(&record.data)
            .map_err(|error| Error::Encode(error.to_string()))?;
        let session = StoredSession {
            key: session_key(&record.id.to_string()),
            data,
            expires_at: record.expiry_date.unix_timestamp(),
        };
        self.0.keep_session(&session).await.map_err(failed)
    }
}

#[async_trait]
impl SessionStore for KnownPhones {
    async fn create(&self, record: &mut Record) -> Result<()> {
        // Of 128 random bits no two are alike.
        self.put(record).await
    }

    async fn save(&self, record: &Record) -> Result<()> {
        self.put(record).await
    }

    async fn load(&self, id: &Id) -> Result<Option<Record>> {
        let found = self.0.session(&session_key(&id.to_string())).await.map_err(failed)?;
        let Some(found) = found else { return Ok(None) };
        let data =
            serde_json::from_str(&found.data).map_err(|error| Error::Decode(error.to_string()))?;
        let expiry_date = OffsetDateTime::from_unix_timestamp(found.expires_at)
            .map_err(|error| Error::Decode(error.to_string()))?;
        Ok(Some(Record { id: *id, data, expiry_date }))
    }

    async fn delete(&self, id: &Id) -> Result<()> {
        self.0.end_session(&session_key(&id.to_string())).await.map_err(failed)
    }
}
