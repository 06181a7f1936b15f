//! A picture of a chart that was not printed here, kept, and shown as it came.

use std::sync::Arc;

use colour::Conditions;
use store::{
    Circumstances, NewPicture, PictureDraft, PictureId, RuledChart, StoreError, StoredPicture,
    TrialId, TypedChart,
};
use study::{Basis, Protocol, ReadingSource};

use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::kept::Kept;
use crate::pictures::{NotUsable, Opened, Pictures, Received, open};
use crate::workshop::Workshop;

/// Longest side of what is shown, pixels.
const SHOWN: usize = 1600;
/// A chart is looked for this far inside the picture's edges until somebody says where it lies, as a share.
const INSIDE: f64 = 0.2;

/// A picture as it came, made smaller.
#[derive(Debug)]
pub struct ShownPicture {
    /// Width and height of the picture itself, pixels.
    pub size: [usize; 2],
    /// The smaller one, as JPEG.
    pub jpeg: Vec<u8>,
}

impl ShownPicture {
    /// Corners well inside the picture, until somebody says where the chart lies.
    #[must_use]
    pub fn guessed_corners(&self) -> [[f64; 2]; 4] {
        let [width, height] = self.size.map(|side| side as f64);
        let [left, top] = [INSIDE * width, INSIDE * height].map(f64::round);
        let [right, bottom] = [width - left, height - top];
        [[left, top], [right, top], [right, bottom], [left, bottom]]
    }
}

/// Pictures that were shown last, by their content.
type ShownPictures = Kept<4, String, ShownPicture>;

impl Workshop {
    /// Keeps a picture of a chart that was not printed here, as a trial of its own with this name. `once` names the
    /// sending, so that what is sent twice is kept once.
    ///
    /// # Errors
    /// When the records cannot be written.
    pub async fn receive_chart(
        &self,
        name: &str,
        draft: PictureDraft,
        once: Option<&str>,
    ) -> Result<Received, WorkshopError> {
        let (opened, card) = match self.open_chart(draft).await? {
            Ok(opened) => opened,
            Err(why) => return Ok(Received::NotUsable(why)),
        };
        let circumstances = Circumstances {
            conditions: Conditions::D65_10,
            protocol: Protocol { basis: Basis::Eye, ..Protocol::default() },
            repeats: 1,
            meter_known: false,
        };
        let new = picture_of(&opened, TrialId(0), card);
        let typed = TypedChart { white: self.usual_white().await?, ..TypedChart::default() };
        let chart = RuledChart { typed, ..RuledChart::default() };
        let store = self.store.once(once);
        let new_trial = (name, &circumstances, &chart);
        let (trial, picture) = store.add_chart(opened.draft, new_trial, new).await?;
        self.news.tell(trial);
        Ok(Received::Kept(trial, picture))
    }

    /// The white that was probably used: that of the first palette with one.
    async fn usual_white(&self) -> Result<String, WorkshopError> {
        let palettes = self.store.palettes().await?;
        let white = palettes.iter().find_map(|palette| palette.white());
        Ok(white.map(|white| white.tube.name.clone()).unwrap_or_default())
    }

    /// Keeps another picture of a chart that is known.
    pub(crate) async fn receive_chart_again(
        &self,
        trial: TrialId,
        draft: PictureDraft,
    ) -> Result<Received, WorkshopError> {
        let (opened, card) = match self.open_chart(draft).await? {
            Ok(opened) => opened,
            Err(why) => return Ok(Received::NotUsable(why)),
        };
        let new = picture_of(&opened, trial, card);
        let picture = self.store.add_picture(opened.draft, new).await?;
        self.news.tell(trial);
        Ok(Received::Kept(trial, picture))
    }

    /// Opens a picture that should hold such a chart, with the trial of the card that lies beside it.
    async fn open_chart(
        &self,
        draft: PictureDraft,
    ) -> Result<Result<(Opened, Option<TrialId>), NotUsable>, WorkshopError> {
        let turn = self.kept::<Pictures>().turn().await;
        let opened = off_the_thread(move || open(draft)).await??;
        drop(turn);
        let opened = match opened {
            Ok(opened) => opened,
            Err(error) => return Ok(Err(NotUsable::because(error.to_string()))),
        };
        if let Some(code) = &opened.codes.sheet {
            let why = format!(
                "this is a printed sheet, its code says “{code}”: open its trial, and send the picture there; \
                 it is read by its marks"
            );
            return Ok(Err(NotUsable::because(why)));
        }
        let card = self.card_by_code(opened.codes.card.as_deref()).await?;
        Ok(Ok((opened, card)))
    }

    /// A picture of a trial as it came.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the trial has none of this number, [`StoreError::File`] where its file is gone.
    pub async fn shown_picture(
        &self,
        trial: TrialId,
        picture: PictureId,
    ) -> Result<(StoredPicture, Arc<ShownPicture>), WorkshopError> {
        let picture = self.picture_that_is_there(trial, picture).await?;
        let (store, of) = (self.store.clone(), picture.clone());
        let work = async {
            let _turn = self.kept::<Pictures>().turn().await;
            off_the_thread(move || {
                let bytes = store.picture_bytes(&of)?;
                let file = formats::picture::read(&bytes)
                    .map_err(|error| WorkshopError::NotWorkedOut(error.to_string()))?;
                let small = picture::thumbnail(&file.raster, SHOWN);
                let jpeg = small.map(|small| file.as_shown(&small)).unwrap_or_default();
                Ok(ShownPicture { size: file.size_shown(), jpeg })
            })
            .await?
        };
        let shown = self.kept::<ShownPictures>();
        let shown = shown.get::<WorkshopError>(picture.content.clone(), work).await?;
        Ok((picture, shown))
    }

    /// The trial of a hand-ruled chart, or why it is none.
    pub(crate) async fn is_chart(&self, trial: TrialId) -> Result<bool, WorkshopError> {
        match self.trial(trial).await {
            Ok(trial) => Ok(trial.chart.is_some()),
            Err(WorkshopError::Store(StoreError::NotFound(_))) => Ok(false),
            Err(error) => Err(error),
        }
    }
}

/// A picture in which nobody has said yet where the chart lies.
fn picture_of(opened: &Opened, trial: TrialId, card: Option<TrialId>) -> NewPicture {
    NewPicture {
        trial,
        ending: opened.ending,
        sheet: 1,
        source: ReadingSource::Photo,
        card,
        simulated: opened.simulated,
        corners: None,
        device: opened.file.device.clone(),
        known_off: None,
    }
}
