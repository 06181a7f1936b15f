//! Whether a file's schema is the one that our releases made, statement by statement: a trigger, a view or a table that
//! somebody put in would be run with the workshop's own.

use std::collections::BTreeMap;
use std::path::Path;

use sqlx::sqlite::SqliteConnectOptions;
use sqlx::{ConnectOptions as _, Connection as _, SqliteConnection};

use crate::StoreError;
use crate::file::{MIGRATOR, in_words, read_only};

/// What SQLite keeps of each table, index, view and trigger: its kind and name, and the statement that made it.
type Statements = BTreeMap<(String, String), Option<String>>;

/// SQLite's own tables and indices are left out; nothing else may bear such a name.
const STATEMENTS: &str = "SELECT type, name, sql FROM sqlite_schema
    WHERE NOT (type IN ('table', 'index') AND name LIKE 'sqlite\\_%' ESCAPE '\\')";

/// Looks at a file of a known schema before anything in it is used.
///
/// # Errors
/// [`StoreError::File`] where a statement or a step of its history is not ours.
pub(crate) async fn check_schema(path: &Path, schema: i64) -> Result<(), StoreError> {
    let mut connection = read_only(path).await?;
    let found = statements(&mut connection).await;
    let history = sqlx::query_as::<_, (i64, bool, Vec<u8>)>(
        "SELECT version, success, checksum FROM _sqlx_migrations ORDER BY version",
    );
    let history = history.fetch_all(&mut connection).await;
    connection.close().await?;
    let (found, history) = (found?, history.map_err(|error| in_words(path, error.into()))?);
    if let Some(strange) = difference(&found, &ours(schema).await?) {
        return Err(not_ours(path, &strange));
    }
    let steps = MIGRATOR.iter().filter(|step| step.version <= schema);
    let steps: Vec<(i64, bool, Vec<u8>)> =
        steps.map(|step| (step.version, true, step.checksum.to_vec())).collect();
    if history != steps {
        return Err(not_ours(path, "its history was changed"));
    }
    Ok(())
}

async fn ours(schema: i64) -> Result<Statements, StoreError> {
    let mut scratch = SqliteConnectOptions::new().filename(":memory:").connect().await?;
    MIGRATOR.run_to(schema, &mut scratch).await?;
    let made = statements(&mut scratch).await;
    scratch.close().await?;
    made
}

async fn statements(connection: &mut SqliteConnection) -> Result<Statements, StoreError> {
    let rows = sqlx::query_as::<_, (String, String, Option<String>)>(STATEMENTS);
    let rows = rows.fetch_all(connection).await?;
    Ok(rows.into_iter().map(|(kind, name, sql)| ((kind, name), sql)).collect())
}

/// The first difference, in words.
fn difference(found: &Statements, ours: &Statements) -> Option<String> {
    let strange = found.iter().find(|(what, sql)| ours.get(*what) != Some(sql));
    if let Some(((kind, name), _)) = strange {
        let how = if ours.contains_key(&(kind.clone(), name.clone())) {
            "was changed"
        } else {
            "is none of a workshop's"
        };
        return Some(format!("its {kind} {name} {how}"));
    }
    let ((kind, name), _) = ours.iter().find(|(what, _)| !found.contains_key(*what))?;
    Some(format!("its {kind} {name} is gone"))
}

fn not_ours(path: &Path, strange: &str) -> StoreError {
    StoreError::File(format!(
        "{} is not as upright-swatch made it ({strange}), so nothing of it was used: take another copy",
        path.display()
    ))
}
