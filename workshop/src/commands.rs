//! What a page asks to be done. Each is done whole or not at all, once for one sending, and told to whoever listens.

use mixing::Geometry;
use store::{
    NewPalette, PaletteId, PictureId, ReadingId, ShelfTube, StoredSession, SwatchId, TrialId,
    TubeId,
};
use study::{Reading, Study, Tube};

use crate::error::WorkshopError;
use crate::planning::{TrialRequest, WorkedOut};
use crate::workshop::Workshop;

/// Each fails where the records cannot be written, and says so; what else can be in the way is said with it.
#[expect(clippy::missing_errors_doc, reason = "said once above")]
impl Workshop {
    /// The workshop for one sending of a form: what that asks for is done once, however often it is sent. `None` takes each
    /// sending for an act of its own.
    #[must_use]
    pub fn once(&self, sending: Option<&str>) -> Self {
        let mut workshop = self.clone();
        workshop.store = self.store.once(sending);
        workshop
    }

    /// Puts a tube on the shelf.
    pub async fn add_tube(&self, tube: &Tube) -> Result<TubeId, WorkshopError> {
        Ok(self.store.add_tube(tube).await?)
    }

    /// Changes a tube that stands as it was read; refused (`StoreError::Changed`) where it does not.
    pub async fn change_tube(
        &self,
        id: TubeId,
        read: &Tube,
        tube: &Tube,
    ) -> Result<(), WorkshopError> {
        Ok(self.store.change_tube(id, read, tube).await?)
    }

    /// Adds and corrects many tubes, as [`store::Store::stock`].
    pub async fn stock(
        &self,
        new: &[Tube],
        corrected: &[(ShelfTube, Tube)],
    ) -> Result<(), WorkshopError> {
        Ok(self.store.stock(new, corrected).await?)
    }

    /// Adds a palette.
    pub async fn add_palette(&self, new: &NewPalette) -> Result<PaletteId, WorkshopError> {
        Ok(self.store.add_palette(new).await?)
    }

    /// Puts a new palette in the place of another.
    pub async fn change_palette(
        &self,
        id: PaletteId,
        new: &NewPalette,
    ) -> Result<PaletteId, WorkshopError> {
        Ok(self.store.change_palette(id, new).await?)
    }

    /// Plans a trial and starts it; the first thing that is in the way is [`WorkshopError::Request`].
    pub async fn plan_trial(&self, request: TrialRequest) -> Result<TrialId, WorkshopError> {
        let (shelf, trials) = (self.shelf().await?, self.trials().await?);
        match self.work_out(request, &shelf, &trials).await? {
            Ok(worked) => self.start_trial(worked).await,
            Err(errors) => Err(errors.into_iter().next().map_or_else(
                || WorkshopError::NotNow("no tube was chosen, and there is nothing to mix".into()),
                WorkshopError::Request,
            )),
        }
    }

    /// Starts a trial that was worked out.
    pub async fn start_trial(&self, worked: WorkedOut) -> Result<TrialId, WorkshopError> {
        let id = self.store.start_trial(&worked.into_trial()).await?;
        self.news.tell(id);
        Ok(id)
    }

    /// Plans a trial anew that has no reading yet; refused (`StoreError::Changed`) where its plan is no more that of this
    /// edition.
    pub async fn change_trial(
        &self,
        id: TrialId,
        worked: WorkedOut,
        edition: u32,
    ) -> Result<(), WorkshopError> {
        self.store.change_trial(id, &worked.into_trial(), edition).await?;
        self.news.tell(id);
        Ok(())
    }

    /// Keeps a study that came from a file as a trial of this name; `rows` are the readings' rows of the file.
    pub async fn import_trial(
        &self,
        name: &str,
        study: &Study,
        head: &str,
        rows: &[&str],
    ) -> Result<TrialId, WorkshopError> {
        let id = self.store.import(name, study, head, rows).await?;
        self.news.tell(id);
        Ok(id)
    }

    /// Archives a trial, or brings it back.
    pub async fn archive(&self, id: TrialId, away: bool) -> Result<(), WorkshopError> {
        self.store.put_away(id, away).await?;
        self.news.tell(id);
        Ok(())
    }

    /// Takes a file's readings of a trial's squares; how many were new.
    pub async fn take_file(
        &self,
        id: TrialId,
        geometry: Option<Geometry>,
        readings: &[(SwatchId, &Reading)],
    ) -> Result<usize, WorkshopError> {
        let new = self.store.record_file(id, geometry, readings).await?;
        self.news.tell(id);
        Ok(new)
    }

    /// Marks a reading as void: it stays, and no figure uses it.
    pub async fn void_reading(
        &self,
        id: TrialId,
        reading: ReadingId,
        reason: &str,
    ) -> Result<(), WorkshopError> {
        self.store.void(id, reading, reason).await?;
        self.news.tell(id);
        Ok(())
    }

    /// Deletes a picture's file; what was taken from it stays.
    pub async fn delete_picture(
        &self,
        id: TrialId,
        picture: PictureId,
    ) -> Result<(), WorkshopError> {
        let stored = self.store.picture(id, picture).await?;
        self.store.delete_picture(&stored).await?;
        self.news.tell(id);
        Ok(())
    }

    /// Keeps a question of the user's own.
    pub async fn keep_preset(&self, name: &str, form: &str) -> Result<i64, WorkshopError> {
        Ok(self.store.keep_preset(name, form).await?)
    }

    /// Forgets it.
    pub async fn forget_preset(&self, id: i64) -> Result<(), WorkshopError> {
        Ok(self.store.forget_preset(id).await?)
    }

    /// Keeps what the user settled under a name.
    pub async fn settle(&self, name: &str, value: &str) -> Result<(), WorkshopError> {
        Ok(self.store.settle(name, value).await?)
    }

    /// Every phone's session.
    pub async fn sessions(&self) -> Result<Vec<StoredSession>, WorkshopError> {
        Ok(self.store.sessions().await?)
    }

    /// The session of a key.
    pub async fn session(&self, key: &str) -> Result<Option<StoredSession>, WorkshopError> {
        Ok(self.store.session(key).await?)
    }

    /// Keeps a phone's session.
    pub async fn keep_session(&self, session: &StoredSession) -> Result<(), WorkshopError> {
        Ok(self.store.put_session(session).await?)
    }

    /// Ends it: that phone is out.
    pub async fn end_session(&self, key: &str) -> Result<(), WorkshopError> {
        Ok(self.store.end_session(key).await?)
    }
}
