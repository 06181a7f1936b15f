//! Charts that were ruled by hand, written: what stands in their squares, and where they lie in a picture.

use plan::{CellNumber, Swatch};
use sqlx::SqliteConnection;
use study::{Backing, FilmKind, Mixture, ReadingSource};

use crate::error::parse;
use crate::ids::TrialId;
use crate::picture_files::PictureDraft;
use crate::pictures::{NewPicture, PictureId, StoredPicture, insert_picture};
use crate::ruled_chart::{RuledChart, VERSION, chart_of};
use crate::swatches::insert_swatch;
use crate::trial::{Circumstances, Role};
use crate::trials::{clear_squares, insert_trial, insert_tubes, update_trial};
use crate::tubes::TubeId;
use crate::{Store, StoreError, records};

/// What a chart's squares hold, once that is understood.
#[derive(Debug, Clone, PartialEq)]
pub struct LaidOut {
    /// How it is ruled, and what was typed.
    pub chart: RuledChart,
    /// How it was made.
    pub circumstances: Circumstances,
    /// Its tubes; mixtures mean them by their place.
    pub tubes: Vec<(TubeId, Role)>,
    /// Row by row; `None` where nothing stands.
    pub squares: Vec<Option<(Mixture, FilmKind)>>,
}

impl Store {
    /// Keeps the picture of a chart that was not printed here, as a trial of its own.
    ///
    /// # Errors
    /// [`StoreError::File`] where there is no room for it.
    pub async fn add_chart(
        &self,
        draft: PictureDraft,
        (name, circumstances, chart): (&str, &Circumstances, &RuledChart),
        new: NewPicture,
    ) -> Result<(TrialId, PictureId), StoreError> {
        draft.settle()?;
        let mut writing = self.write().await?;
        let known = self.answered(&mut writing).await?.map(TrialId);
        let trial = match known {
            Some(trial) => trial,
            None => insert_trial(&mut writing, name, circumstances, None).await?,
        };
        if known.is_none() {
            put(&mut writing, trial, chart).await?;
            self.answer(&mut writing, trial.0).await?;
        }
        let new = NewPicture { trial, ..new };
        let picture = insert_picture(&mut writing, &draft.content(), &new).await?;
        self.commit_with_picture(writing, draft, new.ending).await?;
        Ok((trial, picture))
    }

    /// The same chart in the same picture as a new trial, with nothing laid out and nothing read.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] for a picture of no such chart.
    pub async fn copy_chart(
        &self,
        (name, circumstances): (&str, &Circumstances),
        picture: &StoredPicture,
    ) -> Result<(TrialId, PictureId), StoreError> {
        let mut writing = self.write().await?;
        let chart = chart_of(&mut writing, picture.trial).await?;
        let chart = chart.ok_or(StoreError::NotFound("chart"))?;
        let known = self.answered(&mut writing).await?.map(TrialId);
        let trial = match known {
            Some(trial) => trial,
            None => insert_trial(&mut writing, name, circumstances, None).await?,
        };
        let new = NewPicture {
            trial,
            ending: picture.known_ending(),
            sheet: picture.sheet,
            source: picture.source,
            card: picture.card,
            simulated: picture.simulated,
            corners: picture.corners,
            device: picture.device.clone(),
            known_off: None,
        };
        let content = (picture.content.clone(), picture.bytes);
        let id = insert_picture(&mut writing, &content, &new).await?;
        if known.is_none() {
            put(&mut writing, trial, &RuledChart { numbers: Vec::new(), ..chart }).await?;
            self.answer(&mut writing, trial.0).await?;
        }
        writing.commit().await?;
        Ok((trial, id))
    }

    /// Keeps where a chart's corners lie in a picture (`None`: nobody has said it yet), and what was typed so far,
    /// whether it is understood or not. `read` is the version that the page was opened with, where it says so.
    ///
    /// # Errors
    /// [`StoreError::Changed`] where another page changed it since.
    pub async fn keep_chart(
        &self,
        (trial, picture): (TrialId, PictureId),
        (corners, source): (Option<[[f64; 2]; 4]>, ReadingSource),
        chart: &RuledChart,
        read: Option<&str>,
    ) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        let known = chart_of(&mut writing, trial).await?.ok_or(StoreError::NotFound("chart"))?;
        let (lies, said) = lies_at(&mut writing, (trial, picture)).await?;
        if read.is_some_and(|read| read != known.version(lies, said)) {
            return Err(StoreError::Changed("chart"));
        }
        let corners = corners.map(|it| records::write("corners", &it)).transpose()?;
        let source = source.to_string();
        sqlx::query!(
            "UPDATE picture SET corners = COALESCE(?, corners), source = ? WHERE id = ? AND trial_id = ?",
            corners,
            source,
            picture.0,
            trial.0
        )
        .execute(&mut *writing)
        .await?;
        let is_same = known.says() == chart.says();
        if !is_same && !is_read(&mut writing, trial).await? {
            let chart = RuledChart { numbers: Vec::new(), ..chart.clone() };
            put(&mut writing, trial, &chart).await?;
        }
        writing.commit().await
    }

    /// Gives a chart its squares, all or nothing.
    ///
    /// # Errors
    /// [`StoreError::Frozen`] once something was read, void or not, and it should hold something else.
    pub async fn lay_out_chart(&self, trial: TrialId, laid: &LaidOut) -> Result<(), StoreError> {
        let mut writing = self.write().await?;
        let known = chart_of(&mut writing, trial).await?.ok_or(StoreError::NotFound("chart"))?;
        let is_same = known.says() == laid.chart.says();
        if is_same && !known.numbers.is_empty() {
            return writing.leave().await;
        }
        if is_read(&mut writing, trial).await? {
            return Err(StoreError::Frozen);
        }
        // It was kept just now: another page was in between.
        if !is_same {
            return Err(StoreError::Changed("chart"));
        }
        let name = sqlx::query_scalar!("SELECT name FROM trial WHERE id = ?", trial.0)
            .fetch_one(&mut *writing)
            .await?;
        update_trial(&mut writing, trial, &name, &laid.circumstances).await?;
        clear_squares(&mut writing, trial).await?;
        insert_tubes(&mut writing, trial, &laid.tubes).await?;
        let mut numbers = Vec::new();
        for square in &laid.squares {
            let Some((mixture, film)) = square.clone() else {
                numbers.push(None);
                continue;
            };
            let number = CellNumber::at(numbers.iter().flatten().count());
            let swatch = Swatch { number, mixture, backing: Backing::Paper, film };
            insert_swatch(&mut writing, trial, &swatch).await?;
            numbers.push(Some(number));
        }
        let chart = RuledChart { numbers, ..laid.chart.clone() };
        put(&mut writing, trial, &chart).await?;
        writing.commit().await
    }
}

/// Where a chart lies in a picture, and what the picture is.
async fn lies_at(
    connection: &mut SqliteConnection,
    (trial, picture): (TrialId, PictureId),
) -> Result<(Option<[[f64; 2]; 4]>, ReadingSource), StoreError> {
    let row = sqlx::query!(
        "SELECT corners, source FROM picture WHERE id = ? AND trial_id = ?",
        picture.0,
        trial.0
    );
    let row = row.fetch_optional(connection).await?.ok_or(StoreError::NotFound("picture"))?;
    let corners = row.corners.as_deref().map(serde_json::from_str).transpose();
    let corners = corners.map_err(|_| StoreError::Corrupt {
        what: "corners of a chart in a picture",
        found: row.corners.clone().unwrap_or_default(),
    })?;
    Ok((corners, parse("source of a picture", &row.source)?))
}

/// Something was read of a trial, void or not.
async fn is_read(connection: &mut SqliteConnection, trial: TrialId) -> Result<bool, StoreError> {
    let read = sqlx::query_scalar!(
        r#"SELECT EXISTS (SELECT 1 FROM reading WHERE trial_id = ?) AS "read!: bool""#,
        trial.0
    );
    Ok(read.fetch_one(connection).await?)
}

async fn put(
    connection: &mut SqliteConnection,
    trial: TrialId,
    chart: &RuledChart,
) -> Result<(), StoreError> {
    let text = records::write("chart", chart)?;
    sqlx::query!(
        "INSERT INTO ruled_chart (trial_id, chart, version) VALUES (?, ?, ?)
         ON CONFLICT (trial_id) DO UPDATE SET chart = excluded.chart, version = excluded.version",
        trial.0,
        text,
        VERSION
    )
    .execute(&mut *connection)
    .await?;
    sqlx::query!("UPDATE trial SET revision = revision + 1 WHERE id = ?", trial.0)
        .execute(connection)
        .await?;
    Ok(())
}
