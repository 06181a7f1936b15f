//! Everything of a workshop as open files, and back: a folder with one CSV file a table, the designs and
//! plans as JSON beside them, pictures of sheets in a folder of their own, and `workshop.json`, which says what belongs to it.
//!
//! In the CSV files `\N` is a value that is not there, a backslash at the beginning of a text is written
//! twice, and text that a spreadsheet would run is guarded as [`formats::cells`] says. The columns are
//! those of the database; docs/file-formats.md explains them.

use std::fs;
use std::io::Read as _;
use std::path::Path;
use std::time::Duration;

use formats::cells;
use futures_util::TryStreamExt as _;
use serde::{Deserialize, Serialize};
use sqlx::sqlite::{SqliteConnectOptions, SqliteRow};
use sqlx::{
    AssertSqlSafe, Column as _, ConnectOptions as _, Connection as _, Row as _, SqliteConnection,
    TypeInfo as _, ValueRef as _,
};
use tempfile::NamedTempFile;

use crate::StoreError;
use crate::backup::{check, pictures_of};
use crate::file::{MIGRATOR, in_words, newest, read_only, workshop};
use crate::paths::{folder, not_written, ordinary};
use crate::picture_files::{Carried, carry_pictures, picture_folder};

/// What `workshop.json` begins with.
const KIND: &str = "upright-swatch workshop 1";
/// Where the pictures of sheets stand.
const PICTURES: &str = "pictures";
/// Phones that were paired, which never leave with an archive and never come in with one, as an older one might.
const PHONES: &str = "session";
/// A value that is not there.
const NOTHING: &str = r"\N";
/// Columns whose text is a JSON document, kept in a file of its own.
const DOCUMENTS: [(&str, &str); 2] = [("trial_plan", "design"), ("trial_plan", "plan")];

/// `workshop.json`.
#[derive(Debug, Serialize, Deserialize)]
struct Manifest {
    archive: String,
    schema: i64,
    tables: Vec<Table>,
}

#[derive(Debug, Serialize, Deserialize)]
struct Table {
    name: String,
    rows: usize,
}

/// Writes a workshop file as a folder of open files, but for the phones that were paired.
///
/// # Errors
/// [`StoreError::File`] where the folder holds something already, or cannot be written.
pub async fn export(from: &Path, to: &Path) -> Result<Written, StoreError> {
    let schema = workshop(from).await?;
    empty_folder(to)?;
    let mut connection = read_only(from).await?;
    // One state of the records, whatever is stored meanwhile.
    sqlx::raw_sql("BEGIN").execute(&mut connection).await?;
    let pictures = pictures_of(&mut connection).await?;
    let mut tables = Vec::new();
    for name in tables_of(&mut connection).await? {
        let rows = write_table(&mut connection, &name, to).await?;
        tables.push(Table { name, rows });
    }
    connection.close().await?;
    let pictures = carry_pictures(&picture_folder(from), &to.join(PICTURES), &pictures)?;
    let rows = tables.iter().map(|table| table.rows).sum();
    // Last, so that a folder that was cut off is not taken for a whole one.
    let manifest = Manifest { archive: KIND.to_owned(), schema, tables };
    let text = serde_json::to_string_pretty(&manifest).unwrap_or_default();
    let path = to.join("workshop.json");
    fs::write(&path, text + "\n").map_err(|error| not_written(&path, &error))?;
    Ok(Written { rows, pictures })
}

/// What an archive, or a workshop made of one, holds.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Written {
    /// Rows of all tables.
    pub rows: usize,
    /// What became of the pictures.
    pub pictures: Carried,
}

/// Makes a workshop file of such a folder.
///
/// # Errors
/// [`StoreError::File`] with file and line for what cannot be read, and where the workshop file exists
/// already; then nothing is made.
pub async fn import(from: &Path, to: &Path) -> Result<Written, StoreError> {
    let manifest = manifest(from)?;
    if to.exists() {
        return Err(StoreError::File(format!(
            "{} exists already and was left alone: give another name",
            to.display()
        )));
    }
    let fresh = NamedTempFile::new_in(folder(to)?).map_err(|error| not_written(to, &error))?;
    let options = SqliteConnectOptions::new()
        .filename(fresh.path())
        .foreign_keys(true)
        .busy_timeout(Duration::from_secs(5));
    let mut connection = options.connect().await.map_err(|error| in_words(to, error.into()))?;
    let filled = fill(&mut connection, from, &manifest).await;
    let pictures = pictures_of(&mut connection).await;
    connection.close().await?;
    let rows = filled.map_err(|error| in_words(to, error))?;
    check(fresh.path()).await?;
    let pictures = carry_pictures(&from.join(PICTURES), &picture_folder(to), &pictures?)?;
    fresh.as_file().sync_all().map_err(|error| not_written(to, &error))?;
    fresh.persist_noclobber(to).map_err(|error| not_written(to, &error.error))?;
    Ok(Written { rows, pictures })
}

async fn fill(
    connection: &mut SqliteConnection,
    from: &Path,
    manifest: &Manifest,
) -> Result<usize, StoreError> {
    MIGRATOR.run_to(manifest.schema, &mut *connection).await?;
    sqlx::raw_sql("BEGIN IMMEDIATE; PRAGMA defer_foreign_keys = ON")
        .execute(&mut *connection)
        .await?;
    let known = tables_of(connection).await?;
    let mut rows = 0;
    // In the order in which the tables were made: what is referred to stands before what refers to it.
    for name in &known {
        let listed = manifest.tables.iter().find(|table| table.name == *name);
        let listed = listed.ok_or_else(|| damaged(from, &format!("it lists no table {name}")))?;
        let read = read_table(connection, name, from).await?;
        if read != listed.rows {
            let said = format!("{name}.csv holds {read} rows, and it says {}", listed.rows);
            return Err(damaged(from, &said));
        }
        rows += read;
    }
    let is_strange = |table: &&Table| !known.contains(&table.name) && table.name != PHONES;
    if let Some(strange) = manifest.tables.iter().find(is_strange) {
        return Err(damaged(from, &format!("it lists an unknown table {}", strange.name)));
    }
    sqlx::raw_sql("COMMIT").execute(connection).await?;
    Ok(rows)
}

fn manifest(from: &Path) -> Result<Manifest, StoreError> {
    let path = from.join("workshop.json");
    let text = read_text(&path).map_err(|error| {
        StoreError::File(format!(
            "{} cannot be read ({error}): give the folder that `export` wrote",
            path.display()
        ))
    })?;
    let manifest: Manifest =
        serde_json::from_str(&text).map_err(|error| damaged(from, &error.to_string()))?;
    if manifest.archive != KIND {
        return Err(damaged(from, &format!("it is a {:?}, not a {KIND:?}", manifest.archive)));
    }
    if !MIGRATOR.version_exists(manifest.schema) {
        let said = if manifest.schema > newest() {
            "a later release of upright-swatch wrote it; start that release"
        } else {
            "no release of upright-swatch wrote this schema"
        };
        return Err(damaged(from, said));
    }
    Ok(manifest)
}

fn empty_folder(path: &Path) -> Result<(), StoreError> {
    let holds_something = fs::read_dir(path).is_ok_and(|mut found| found.next().is_some());
    if holds_something || path.is_file() {
        return Err(StoreError::File(format!(
            "{} holds something already and was left alone: give a folder that is new or empty",
            path.display()
        )));
    }
    fs::create_dir_all(path).map_err(|error| not_written(path, &error))
}

async fn tables_of(connection: &mut SqliteConnection) -> Result<Vec<String>, StoreError> {
    let names = sqlx::query_scalar(
        "SELECT name FROM sqlite_schema
         WHERE type = 'table' AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\' AND name <> '_sqlx_migrations'
           AND name <> ?
         ORDER BY rowid",
    );
    Ok(names.bind(PHONES).fetch_all(connection).await?)
}

/// The columns of a table, each with whether it holds text.
async fn columns_of(
    connection: &mut SqliteConnection,
    table: &str,
) -> Result<Vec<(String, String)>, StoreError> {
    let columns = sqlx::query_as("SELECT name, type FROM pragma_table_info(?) ORDER BY cid");
    Ok(columns.bind(table).fetch_all(connection).await?)
}

async fn write_table(
    connection: &mut SqliteConnection,
    table: &str,
    folder: &Path,
) -> Result<usize, StoreError> {
    let path = folder.join(format!("{table}.csv"));
    let failed = |error: csv::Error| not_written(&path, &std::io::Error::other(error));
    let mut file = csv::Writer::from_path(&path).map_err(failed)?;
    let columns = columns_of(connection, table).await?;
    file.write_record(columns.iter().map(|(name, _)| name)).map_err(failed)?;
    let sql = format!("SELECT * FROM \"{table}\" ORDER BY 1, 2");
    let mut rows = sqlx::query(AssertSqlSafe(sql)).fetch(connection);
    let mut count = 0;
    while let Some(row) = rows.try_next().await? {
        let mut cells = Vec::with_capacity(columns.len());
        for at in 0..row.len() {
            cells.push(cell(&row, at, table, folder)?);
        }
        file.write_record(&cells).map_err(failed)?;
        count += 1;
    }
    file.flush().map_err(|error| not_written(&path, &error))?;
    Ok(count)
}

/// A value as it stands in its CSV file.
fn cell(row: &SqliteRow, at: usize, table: &str, folder: &Path) -> Result<String, StoreError> {
    let value = row.try_get_raw(at)?;
    if value.is_null() {
        return Ok(NOTHING.to_owned());
    }
    match value.type_info().name() {
        "INTEGER" | "BOOLEAN" => Ok(row.try_get_unchecked::<i64, _>(at)?.to_string()),
        "REAL" => Ok(row.try_get_unchecked::<f64, _>(at)?.to_string()),
        _ => {
            let text: String = row.try_get_unchecked(at)?;
            let column = row.column(at).name();
            if DOCUMENTS.contains(&(table, column)) {
                let name = document_name(&row.try_get_unchecked::<i64, _>(0)?.to_string(), column);
                write_document(&folder.join(&name), &text)?;
                return Ok(name);
            }
            let doubled = if text.starts_with('\\') { format!("\\{text}") } else { text };
            Ok(cells::guarded(&doubled).into_owned())
        }
    }
}

fn document_name(trial: &str, column: &str) -> String {
    format!("plans/trial-{trial}-{column}.json")
}

fn write_document(path: &Path, text: &str) -> Result<(), StoreError> {
    let written =
        path.parent().map_or(Ok(()), fs::create_dir_all).and_then(|()| fs::write(path, text));
    written.map_err(|error| not_written(path, &error))
}

async fn read_table(
    connection: &mut SqliteConnection,
    table: &str,
    folder: &Path,
) -> Result<usize, StoreError> {
    let path = folder.join(format!("{table}.csv"));
    let at_line = |line: u64, what: &str| {
        StoreError::File(format!("{}, line {line}: {what}; nothing was made", path.display()))
    };
    let unreadable = |error: &csv::Error| {
        at_line(error.position().map_or(1, csv::Position::line), &error.to_string())
    };
    let file = ordinary(&path)
        .map_err(|error| at_line(1, &format!("the file cannot be read ({error})")))?;
    let mut file = csv::Reader::from_reader(file);
    let columns = columns_of(connection, table).await?;
    let head = file.headers().map_err(|error| unreadable(&error))?;
    if !head.iter().eq(columns.iter().map(|(name, _)| name)) {
        let wanted: Vec<&str> = columns.iter().map(|(name, _)| name.as_str()).collect();
        return Err(at_line(1, &format!("the columns should be {}", wanted.join(","))));
    }
    let places = vec!["?"; columns.len()].join(", ");
    let sql = format!("INSERT INTO \"{table}\" VALUES ({places})");
    let mut count = 0;
    for record in file.records() {
        let record = record.map_err(|error| unreadable(&error))?;
        let line = record.position().map_or(0, csv::Position::line);
        let mut insert = sqlx::query(AssertSqlSafe(sql.clone()));
        for (cell, (name, kind)) in record.iter().zip(&columns) {
            let no_number = || at_line(line, &format!("{name} is {cell:?}, which is no number"));
            insert = match kind.as_str() {
                _ if cell == NOTHING => insert.bind(None::<String>),
                "INTEGER" => insert.bind(cell.parse::<i64>().map_err(|_| no_number())?),
                "REAL" => insert.bind(cell.parse::<f64>().map_err(|_| no_number())?),
                _ if DOCUMENTS.contains(&(table, name)) => insert.bind(
                    read_document(folder, cell, &record[0], name)
                        .map_err(|what| at_line(line, &what))?,
                ),
                _ => {
                    let text = cells::plain(cell);
                    insert.bind(text.strip_prefix('\\').unwrap_or(text).to_owned())
                }
            };
        }
        let done = insert.execute(&mut *connection).await;
        if let Err(error) = done {
            return Err(match StoreError::from(error) {
                StoreError::Database(why) => at_line(line, &why.to_string()),
                other => other,
            });
        }
        count += 1;
    }
    Ok(count)
}

fn read_document(folder: &Path, cell: &str, trial: &str, column: &str) -> Result<String, String> {
    let wanted = document_name(trial, column);
    if cell != wanted {
        return Err(format!("{column} should be {wanted}"));
    }
    read_text(&folder.join(cell)).map_err(|error| format!("{cell} cannot be read ({error})"))
}

/// All of a file that is no link, device or pipe.
fn read_text(path: &Path) -> std::io::Result<String> {
    let mut text = String::new();
    ordinary(path)?.read_to_string(&mut text)?;
    Ok(text)
}

fn damaged(folder: &Path, what: &str) -> StoreError {
    StoreError::File(format!(
        "{} is not whole: {what}; nothing was made. Export it again",
        folder.join("workshop.json").display()
    ))
}
