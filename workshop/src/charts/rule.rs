//! Where a hand-ruled chart lies in its picture, and what stands in its squares: kept as it was said.

use colour::Conditions;
use sheet::go_round;
use store::{Circumstances, LaidOut, PictureId, RuledChart, TrialId};
use study::{Basis, Protocol, ReadingSource};

use super::meant::ChartMeant;
use crate::error::WorkshopError;
use crate::workshop::Workshop;

impl Workshop {
    /// Keeps where the chart's corners lie in a picture (`None`: nobody has said it yet), and what was typed so far.
    /// `read` is the version that the page was opened with, where it says so.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where the corners go round no chart; [`store::StoreError::Changed`] where another page
    /// changed it since.
    pub async fn keep_chart(
        &self,
        (trial, picture): (TrialId, PictureId),
        (corners, source): (Option<[[f64; 2]; 4]>, ReadingSource),
        chart: &RuledChart,
        read: Option<&str>,
    ) -> Result<(), WorkshopError> {
        if corners.is_some_and(|corners| !go_round(&corners)) {
            return Err(WorkshopError::NotNow(
                "the four corners do not go round the chart: put them on its top left, top right, bottom right \
                 and bottom left square, in this order. A mirrored picture cannot be read"
                    .into(),
            ));
        }
        self.store.keep_chart((trial, picture), (corners, source), chart, read).await?;
        self.news.tell(trial);
        Ok(())
    }

    /// Gives the chart its squares; from then on its pictures are read as those of a sheet.
    ///
    /// # Errors
    /// [`store::StoreError::Frozen`] where something was read of it, and it should hold something else now.
    pub async fn lay_out_chart(
        &self,
        trial: TrialId,
        chart: &RuledChart,
        meant: ChartMeant,
    ) -> Result<(), WorkshopError> {
        let basis: Basis = chart.typed.basis.parse().unwrap_or(Basis::Eye);
        let circumstances = Circumstances {
            conditions: Conditions::D65_10,
            protocol: Protocol { basis, ..Protocol::default() },
            repeats: 1,
            meter_known: false,
        };
        let ChartMeant { tubes, squares } = meant;
        let laid = LaidOut { chart: chart.clone(), circumstances, tubes, squares };
        self.store.lay_out_chart(trial, &laid).await?;
        self.news.tell(trial);
        Ok(())
    }

    /// The same picture as a new trial, to be named otherwise: what was read of the first one stays.
    ///
    /// # Errors
    /// When the records cannot be written.
    pub async fn copy_chart(
        &self,
        trial: TrialId,
        picture: PictureId,
        once: Option<&str>,
    ) -> Result<(TrialId, PictureId), WorkshopError> {
        let known = self.trial(trial).await?;
        let (picture, _) = self.shown_picture(trial, picture).await?;
        let name = study::names::tidied(&format!("{}, named anew", known.name));
        let store = self.store.once(once);
        let copy = store.copy_chart((&name, &known.circumstances), &picture).await?;
        self.news.tell(copy.0);
        Ok(copy)
    }
}
