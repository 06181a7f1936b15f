//! Pictures of sheets: a row each in the records; the pictures themselves are files (`picture_files`).

use std::collections::{BTreeMap, BTreeSet};

use bench::Time;
use plan::CellNumber;
use serde::{Deserialize, Serialize};
use sqlx::SqliteConnection;
use study::{FromPicture, Measured, RatioError, ReadingSource, State};

use crate::error::parse;
use crate::ids::TrialId;
use crate::log::standing;
use crate::picture_files::{ENDINGS, PictureDraft};
use crate::readings::{NewReading, next_repeat};
use crate::swatches::swatches;
use crate::trial::SwatchId;
use crate::voids::{set_unread, void_picture};
use crate::writing::Writing;
use crate::{Store, StoreError, records};

/// A picture in the records.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct PictureId(pub i64);

/// What the user changed about how a picture is read, by number of the square.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Adjusted {
    /// Left out.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub left_out: BTreeSet<u32>,
    /// Taken although something about them needs a look.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub taken: BTreeSet<u32>,
    /// Outlines that were moved: by how much to the right and down, mm.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub moved: BTreeMap<u32, [f64; 2]>,
}

/// A picture of a sheet.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredPicture {
    /// Its number.
    pub id: PictureId,
    /// The trial that its sheet belongs to.
    pub trial: TrialId,
    /// SHA-256 of its bytes, in hexadecimal.
    pub content: String,
    /// How its file name ends: `png`, `jpg` or `tif`.
    pub ending: String,
    /// Its size.
    pub bytes: u64,
    /// Number of the sheet, from 1.
    pub sheet: usize,
    /// Scan or photo.
    pub source: ReadingSource,
    /// The trial of the anchor card that lies beside the sheet.
    pub card: Option<TrialId>,
    /// A simulated device drew it.
    pub simulated: bool,
    /// Where the outer corners of a hand-ruled chart lie, pixels, clockwise from its top left.
    pub corners: Option<[[f64; 2]; 4]>,
    /// What the user changed.
    pub adjusted: Adjusted,
    /// Which scanner or phone took it, as its file says.
    pub device: Option<String>,
    /// How far its known squares lay from their colours when it was received, each told by all others, median ΔE00.
    pub known_off: Option<f64>,
    /// When it was added.
    pub added: Time,
    /// Its file was deleted.
    pub is_deleted: bool,
}

impl StoredPicture {
    /// Its ending as one of those that are kept.
    pub(crate) fn known_ending(&self) -> &'static str {
        ENDINGS.into_iter().find(|it| *it == self.ending).unwrap_or("jpg")
    }
}

/// What a picture is called in readings: as much of its content's hash as tells it from others.
#[must_use]
pub fn picture_name(content: &str) -> &str {
    content.get(..12).unwrap_or(content)
}

/// A picture to be added.
#[derive(Debug, Clone)]
pub struct NewPicture {
    /// The trial that its sheet belongs to.
    pub trial: TrialId,
    /// How its file name ends.
    pub ending: &'static str,
    /// Number of the sheet.
    pub sheet: usize,
    /// Scan or photo.
    pub source: ReadingSource,
    /// The trial of the anchor card that lies beside the sheet.
    pub card: Option<TrialId>,
    /// A simulated device drew it.
    pub simulated: bool,
    /// Where the outer corners of a hand-ruled chart lie, pixels, clockwise from its top left.
    pub corners: Option<[[f64; 2]; 4]>,
    /// Which scanner or phone took it, as its file says.
    pub device: Option<String>,
    /// How far its known squares lay from their colours, each told by all others, median ΔE00.
    pub known_off: Option<f64>,
}

/// A colour that a picture tells of a swatch.
#[derive(Debug, Clone, PartialEq)]
pub struct PictureColour {
    /// Which swatch.
    pub swatch: SwatchId,
    /// Its colour.
    pub measured: Measured,
    /// What it rests on.
    pub from: FromPicture,
    /// A simulated device drew the picture, or read what it is calibrated by.
    pub simulated: bool,
}

impl Store {
    /// Keeps a picture that was received, its file and its row together. One that the trial has already is not added
    /// again.
    ///
    /// # Errors
    /// [`StoreError::File`] where there is no room for it.
    pub async fn add_picture(
        &self,
        draft: PictureDraft,
        new: NewPicture,
    ) -> Result<PictureId, StoreError> {
        draft.settle()?;
        let mut writing = self.write().await?;
        let id = insert_picture(&mut writing, &draft.content(), &new).await?;
        self.commit_with_picture(writing, draft, new.ending).await?;
        Ok(id)
    }

    /// Ends a write that names a picture. The file gets its name while the write holds everybody else off, so that
    /// nobody deletes it as one that no row names; without the row it does not stay.
    pub(crate) async fn commit_with_picture(
        &self,
        writing: Writing,
        draft: PictureDraft,
        ending: &'static str,
    ) -> Result<(), StoreError> {
        let (content, _) = draft.content();
        draft.keep(ending)?;
        let done = writing.commit().await;
        if done.is_err() {
            // What is left behind where this fails too is only room on the disk.
            let _ = self.remove_unnamed(&content, ending).await;
        }
        done
    }

    /// Deletes the file of a picture, unless a row names it. A write that would name it waits meanwhile.
    async fn remove_unnamed(&self, content: &str, ending: &str) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        let named = sqlx::query_scalar!(
            r#"SELECT EXISTS (SELECT 1 FROM picture WHERE content = ? AND deleted_at IS NULL)
               AS "named!: bool""#,
            content
        );
        if !named.fetch_one(&mut *writing).await? {
            self.remove_picture_file(content, ending)?;
        }
        writing.leave().await
    }

    /// The pictures of a trial, oldest first.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn pictures(&self, trial: TrialId) -> Result<Vec<StoredPicture>, StoreError> {
        let rows = sqlx::query_as!(
            Row,
            r#"SELECT id AS "id!", trial_id, content, ending, bytes, sheet, source, card,
                      simulated AS "simulated!: bool", adjusted, corners, device, known_off_de00 AS known_off, unixepoch(added_at) AS "added!: i64",
                      deleted_at IS NOT NULL AS "is_deleted!: bool"
               FROM picture WHERE trial_id = ? ORDER BY id"#,
            trial.0
        )
        .fetch_all(&self.pool)
        .await?;
        rows.into_iter().map(Row::picture).collect()
    }

    /// The pictures in which an anchor card lies, or which are pictures of it, oldest first.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn pictures_with_card(
        &self,
        card: TrialId,
    ) -> Result<Vec<StoredPicture>, StoreError> {
        let rows = sqlx::query_as!(
            Row,
            r#"SELECT id AS "id!", trial_id, content, ending, bytes, sheet, source, card,
                      simulated AS "simulated!: bool", adjusted, corners, device, known_off_de00 AS known_off,
                      unixepoch(added_at) AS "added!: i64", deleted_at IS NOT NULL AS "is_deleted!: bool"
               FROM picture WHERE card = ? OR trial_id = ? ORDER BY id"#,
            card.0,
            card.0
        )
        .fetch_all(&self.pool)
        .await?;
        rows.into_iter().map(Row::picture).collect()
    }

    /// How many pictures there are, and how many bytes they take.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn picture_sizes(&self) -> Result<(usize, u64), StoreError> {
        let found = sqlx::query!(
            r#"SELECT count(*) AS "count!: i64", coalesce(sum(bytes), 0) AS "bytes!: i64"
               FROM picture WHERE deleted_at IS NULL"#
        );
        let found = found.fetch_one(&self.pool).await?;
        let to = |number: i64| u64::try_from(number).unwrap_or_default();
        Ok((usize::try_from(found.count).unwrap_or_default(), to(found.bytes)))
    }

    /// One picture of a trial.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the trial has none of this number.
    pub async fn picture(
        &self,
        trial: TrialId,
        id: PictureId,
    ) -> Result<StoredPicture, StoreError> {
        let all = self.pictures(trial).await?;
        all.into_iter().find(|it| it.id == id).ok_or(StoreError::NotFound("picture"))
    }

    /// The bytes of a picture.
    ///
    /// # Errors
    /// [`StoreError::File`] where its file is not there.
    pub fn picture_bytes(&self, picture: &StoredPicture) -> Result<Vec<u8>, StoreError> {
        self.read_picture_file(&picture.content, &picture.ending)
    }

    /// Changes how a picture is read. `change` gets what stands there at that moment, so that of many changes at once
    /// none is lost.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none of this number.
    pub async fn adjust_picture(
        &self,
        id: PictureId,
        change: impl FnOnce(&mut Adjusted) + Send,
    ) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        let known = sqlx::query_scalar!("SELECT adjusted FROM picture WHERE id = ?", id.0);
        let known = known.fetch_optional(&mut *writing).await?;
        let mut adjusted = adjusted(known.ok_or(StoreError::NotFound("picture"))?)?;
        change(&mut adjusted);
        let text = records::write("changes to a picture", &adjusted)?;
        sqlx::query!("UPDATE picture SET adjusted = ? WHERE id = ?", text, id.0)
            .execute(&mut *writing)
            .await?;
        writing.commit().await
    }

    /// Deletes the file of a picture; its row and what was read from it stay.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn delete_picture(&self, picture: &StoredPicture) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        sqlx::query!(
            "UPDATE picture SET deleted_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now')
             WHERE id = ? AND deleted_at IS NULL",
            picture.id.0
        )
        .execute(&mut *writing)
        .await?;
        writing.commit().await?;
        self.remove_unnamed(&picture.content, &picture.ending).await
    }

    /// Stores what a picture tells, and of which squares it can tell nothing, all in one step: a swatch of which this picture has a reading that counts is
    /// left alone, and so is one whose paint was spoilt since. Tells how many readings are new.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] for a swatch of another trial.
    pub async fn record_picture(
        &self,
        picture: &StoredPicture,
        state: State,
        colours: &[PictureColour],
        unread: &[CellNumber],
    ) -> Result<usize, StoreError> {
        let mut writing = self.write().await?;
        let trial = picture.trial;
        let all = swatches(&mut writing, trial).await?;
        let mut new = 0;
        for colour in colours {
            let swatch = all.iter().find(|it| it.id == colour.swatch);
            let number = swatch.map(|it| it.swatch.number).ok_or(StoreError::NotFound("swatch"))?;
            let standing = standing(&mut writing, trial, number).await?;
            let is_spoilt = !standing.laid && standing.spoilt.is_some();
            let name = &*colour.from.picture;
            if is_spoilt || is_taken(&mut writing, colour.swatch, name).await? {
                continue;
            }
            let row = NewReading {
                trial,
                swatch: colour.swatch,
                state,
                repeat: next_repeat(&mut writing, colour.swatch, state).await?,
                measured: &colour.measured,
                source: picture.source,
                from_picture: Some(&colour.from),
                simulated: colour.simulated,
                meter: None,
                instrument: FROM_PICTURE,
                source_row: None,
                token: None,
                ratio_error: RatioError::AsStated,
            };
            row.insert(&mut writing).await?;
            new += 1;
        }
        let unread: Vec<u32> = unread.iter().map(|number| number.0).collect();
        set_unread(&mut writing, trial, picture_name(&picture.content), &unread).await?;
        writing.commit().await?;
        Ok(new)
    }

    /// Takes back, as voids, all that a picture told. Tells how many readings that were.
    ///
    /// # Errors
    /// When it cannot be written.
    pub async fn take_back_picture(
        &self,
        picture: &StoredPicture,
        reason: &str,
    ) -> Result<usize, StoreError> {
        let mut writing = self.write().await?;
        let name = picture_name(&picture.content);
        let done = void_picture(&mut writing, picture.trial, name, reason).await?;
        writing.commit().await?;
        Ok(done)
    }
}

/// What the user changed about a picture, as it is kept.
fn adjusted(text: String) -> Result<Adjusted, StoreError> {
    serde_json::from_str(&text)
        .map_err(|_| StoreError::Corrupt { what: "change to a picture", found: text })
}

/// Adds the row of a picture, unless the trial has it already.
pub(crate) async fn insert_picture(
    connection: &mut SqliteConnection,
    (content, bytes): &(String, u64),
    new: &NewPicture,
) -> Result<PictureId, StoreError> {
    let known = sqlx::query_scalar!(
        r#"SELECT id AS "id!" FROM picture
           WHERE trial_id = ? AND content = ? AND deleted_at IS NULL"#,
        new.trial.0,
        content
    );
    if let Some(known) = known.fetch_optional(&mut *connection).await? {
        return Ok(PictureId(known));
    }
    let (sheet, bytes) = (to_i64(new.sheet), i64::try_from(*bytes).unwrap_or(i64::MAX));
    let (source, card) = (new.source.to_string(), new.card.map(|it| it.0));
    let corners = new.corners.map(|corners| records::write("corners", &corners)).transpose()?;
    let done = sqlx::query!(
        "INSERT INTO picture (trial_id, content, ending, bytes, sheet, source, card, simulated, corners,
                              device, known_off_de00)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        new.trial.0,
        content,
        new.ending,
        bytes,
        sheet,
        source,
        card,
        new.simulated,
        corners,
        new.device,
        new.known_off
    )
    .execute(connection)
    .await?;
    Ok(PictureId(done.last_insert_rowid()))
}

/// What a reading was taken with that comes from a picture.
const FROM_PICTURE: &str = "picture";

/// Whether a swatch has a reading from a picture that counts.
async fn is_taken(
    connection: &mut SqliteConnection,
    swatch: SwatchId,
    picture: &str,
) -> Result<bool, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"SELECT EXISTS (SELECT 1 FROM reading WHERE swatch_id = ? AND picture = ?
             AND NOT EXISTS (SELECT 1 FROM void WHERE void.reading_id = reading.id))
           AS "taken!: bool""#,
        swatch.0,
        picture
    )
    .fetch_one(connection)
    .await?)
}

/// Squares whose colour no picture could tell, each with when that was.
pub(crate) async fn not_in_pictures(
    connection: &mut SqliteConnection,
    trial: TrialId,
) -> Result<Vec<(CellNumber, Time)>, StoreError> {
    let rows = sqlx::query!(
        r#"SELECT CAST(json_each.value AS INTEGER) AS "number!: u32", unixepoch(added_at) AS "at!: i64"
           FROM picture, json_each(picture.unread) WHERE trial_id = ? ORDER BY 1"#,
        trial.0
    );
    let rows = rows.fetch_all(connection).await?;
    Ok(rows.into_iter().map(|row| (CellNumber(row.number), Time(row.at))).collect())
}

fn to_i64(number: usize) -> i64 {
    i64::try_from(number).unwrap_or(i64::MAX)
}

struct Row {
    id: i64,
    trial_id: i64,
    content: String,
    ending: String,
    bytes: i64,
    sheet: i64,
    source: String,
    card: Option<i64>,
    simulated: bool,
    adjusted: String,
    corners: Option<String>,
    device: Option<String>,
    known_off: Option<f64>,
    added: i64,
    is_deleted: bool,
}

impl Row {
    fn picture(self) -> Result<StoredPicture, StoreError> {
        let corners = self.corners.as_deref().map(serde_json::from_str).transpose();
        Ok(StoredPicture {
            corners: corners.map_err(|_| StoreError::Corrupt {
                what: "corners of a chart in a picture",
                found: self.corners.clone().unwrap_or_default(),
            })?,
            id: PictureId(self.id),
            trial: TrialId(self.trial_id),
            bytes: u64::try_from(self.bytes).unwrap_or_default(),
            sheet: usize::try_from(self.sheet).unwrap_or(1),
            source: parse("source of a picture", &self.source)?,
            card: self.card.map(TrialId),
            simulated: self.simulated,
            adjusted: adjusted(self.adjusted)?,
            device: self.device,
            known_off: self.known_off,
            added: Time(self.added),
            is_deleted: self.is_deleted,
            content: self.content,
            ending: self.ending,
        })
    }
}
