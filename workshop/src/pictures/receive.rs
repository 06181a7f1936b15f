//! A picture that was sent: which sheet is in it, and whether it can be read.

use std::sync::Arc;

use base64::Engine as _;
use base64::prelude::BASE64_STANDARD;
use formats::picture::{PictureError, PictureFile};
use picture::{Card, Codes, Looked};
use sheet::SheetCode;
use store::{NewPicture, PictureDraft, PictureId, StoreError, TrialId};
use study::ReadingSource;

use super::looked::{LookedAt, Pictures, Places};
use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::open_trial::OpenTrial;
use crate::workshop::Workshop;

/// What became of a picture.
#[derive(Debug)]
pub enum Received {
    /// It is kept with the trial that its sheet belongs to.
    Kept(TrialId, PictureId),
    /// It cannot be used, and was not kept.
    NotUsable(NotUsable),
}

/// A picture that cannot be used.
#[derive(Debug)]
pub struct NotUsable {
    /// Why, each with what to do.
    pub reasons: Vec<String>,
    /// The picture itself, small, as JPEG; empty where it is none.
    pub small: Vec<u8>,
    /// No code was read: which sheet it is has to be said.
    pub sheet_unknown: bool,
}

impl NotUsable {
    /// For one reason, without the picture.
    pub(crate) fn because(why: String) -> Self {
        Self { reasons: vec![why], small: Vec::new(), sheet_unknown: false }
    }

    /// The small picture as an address that a page can hold; empty where there is none.
    #[must_use]
    pub fn as_address(&self) -> String {
        match self.small.is_empty() {
            true => String::new(),
            false => format!("data:image/jpeg;base64,{}", BASE64_STANDARD.encode(&self.small)),
        }
    }
}

/// Longer side of a picture that is shown because it cannot be used, pixels.
const SMALL: usize = 640;

/// A picture that was decoded.
pub(crate) struct Opened {
    pub draft: PictureDraft,
    pub file: PictureFile,
    pub codes: Codes,
    pub ending: &'static str,
    pub simulated: bool,
}

impl Workshop {
    /// Looks at a picture and keeps it where it can be read: with the trial that its sheet belongs to, whichever page
    /// it was sent from. `sheet` is what the user said; else the code tells.
    ///
    /// # Errors
    /// When the records cannot be written.
    pub async fn receive_picture(
        &self,
        trial: TrialId,
        draft: PictureDraft,
        sheet: Option<usize>,
    ) -> Result<Received, WorkshopError> {
        if self.is_chart(trial).await? {
            return self.receive_chart_again(trial, draft).await;
        }
        let turn = self.kept::<Pictures>().turn().await;
        let opened = off_the_thread(move || open(draft)).await??;
        let opened = match opened {
            Ok(opened) => opened,
            Err(error) => {
                let reasons = vec![error.to_string()];
                return Ok(not_usable(reasons, Vec::new(), false));
            }
        };
        // A card alone is a sheet of its own trial.
        let Codes { sheet: code, card } = &opened.codes;
        let (code, card) = match code {
            Some(_) => (code.as_deref(), card.as_deref()),
            None if sheet.is_none() => (card.as_deref(), None),
            None => (None, card.as_deref()),
        };
        let card = self.card_by_code(card).await?;
        let (trial, sheet) = match self.whose(trial, sheet, code).await? {
            Ok(found) => found,
            Err((why, sheet_unknown)) => {
                return Ok(not_usable(vec![why], small(&opened.file), sheet_unknown));
            }
        };
        let aim = self.aim(&trial, sheet, card).await?;
        let conditions = trial.circumstances.conditions;
        let (opened, looked) = off_the_thread(move || {
            let card = aim.card.as_ref().map(|target| Card { target, scan: None });
            let looked = Looked::at(&opened.file.raster, &aim.target, card);
            let reading = looked.read(&aim.target, aim.card.as_ref(), conditions);
            match reading.refused.is_empty() {
                true => {
                    let seen = LookedAt::straightened(looked, &opened.file.raster, &aim.target);
                    (opened, Ok((seen, reading, Places::of(&aim.target, aim.card.as_ref()))))
                }
                false => (opened, Err(reading.refused)),
            }
        })
        .await?;
        drop(turn);
        let (seen, reading, places) = match looked {
            Ok(looked) => looked,
            Err(refused) => {
                let reasons = refused.iter().map(ToString::to_string).collect();
                return Ok(not_usable(reasons, small(&opened.file), false));
            }
        };
        let source = if reading.is_scan { ReadingSource::Scan } else { ReadingSource::Photo };
        let new = NewPicture {
            trial: trial.id,
            ending: opened.ending,
            sheet,
            source,
            card,
            simulated: opened.simulated,
            corners: None,
            device: opened.file.device.clone(),
            known_off: reading.calibration.as_ref().and_then(|told| told.leave_one_out),
        };
        let id = self.store.add_picture(opened.draft, new).await?;
        // It is stored: where it cannot be shown, its own page says why.
        if let Ok(seen) = seen {
            self.kept::<Pictures>().keep_looked_at(id, places, seen);
        }
        self.news.tell(trial.id);
        Ok(Received::Kept(trial.id, id))
    }

    /// The trial of a card by its code; `None` for one of another workshop, or of an older plan.
    pub(crate) async fn card_by_code(
        &self,
        code: Option<&str>,
    ) -> Result<Option<TrialId>, WorkshopError> {
        let Some(code) = code.and_then(|text| text.parse::<SheetCode>().ok()) else {
            return Ok(None);
        };
        match self.trial(TrialId(code.trial)).await {
            Ok(trial) => {
                let plan = trial.plan.as_ref();
                let fits = plan.is_some_and(|plan| plan.edition == code.edition);
                Ok(fits.then_some(trial.id))
            }
            Err(WorkshopError::Store(StoreError::NotFound(_))) => Ok(None),
            Err(error) => Err(error),
        }
    }

    /// The trial and the sheet that a code tells, or why there is none, and whether the user has to say which.
    async fn whose(
        &self,
        here: TrialId,
        said: Option<usize>,
        code: Option<&str>,
    ) -> Result<Result<(Arc<OpenTrial>, usize), (String, bool)>, WorkshopError> {
        let code = code.and_then(|text| text.parse::<SheetCode>().ok());
        let Some(code) = code else {
            let trial = self.trial(here).await?;
            let count = trial.sheets().len();
            return Ok(match said.or((count == 1).then_some(1)) {
                Some(sheet) if (1..=count).contains(&sheet) => Ok((trial, sheet)),
                _ => Err((
                    "the code on the sheet could not be read: say which sheet it is, and send the picture \
                     again"
                        .into(),
                    true,
                )),
            });
        };
        let trial = match self.trial(TrialId(code.trial)).await {
            Ok(trial) => trial,
            Err(WorkshopError::Store(StoreError::NotFound(_))) => {
                let why = format!(
                    "this is a sheet of trial {}, which is not in this workshop: send the picture where it \
                     was printed",
                    code.trial
                );
                return Ok(Err((why, false)));
            }
            Err(error) => return Err(error),
        };
        let fits = trial.plan.as_ref().is_some_and(|plan| plan.edition == code.edition)
            && (1..=trial.sheets().len()).contains(&code.sheet);
        Ok(if fits {
            Ok((trial, code.sheet))
        } else {
            Err((
                format!(
                    "this sheet was printed before the plan of “{}” was changed, and where its squares lie is \
                     not known any more: print the sheets again",
                    trial.name
                ),
                false,
            ))
        })
    }
}

/// Decodes a picture, and reads the codes in it.
pub(crate) fn open(draft: PictureDraft) -> Result<Result<Opened, PictureError>, StoreError> {
    let bytes = draft.read()?;
    Ok(formats::picture::read(&bytes).map(|file| Opened {
        codes: picture::codes(&file.raster),
        ending: formats::picture::ending(&bytes),
        simulated: formats::picture::is_drawn(&bytes, &file.raster),
        file,
        draft,
    }))
}

fn not_usable(reasons: Vec<String>, small: Vec<u8>, sheet_unknown: bool) -> Received {
    Received::NotUsable(NotUsable { reasons, small, sheet_unknown })
}

/// A picture made small, as it is shown.
fn small(file: &PictureFile) -> Vec<u8> {
    let Some(small) = picture::thumbnail(&file.raster, SMALL) else { return Vec::new() };
    file.as_shown(&small)
}
