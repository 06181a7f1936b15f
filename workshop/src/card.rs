//! The anchor card of a palette: known colours that calibrate every picture that they lie in. It is a trial of its own,
//! whose one sheet is the card: it is planned, printed, painted and read as any other.

use std::sync::Arc;

use colour::{Lab, delta_e_ab};
use plan::prior::Prior;
use plan::{Chart, Design, Naming, Plan, Supply, Tests, Thinning};
use sheet::{CARD_SQUARES, LAYOUT, Paper, lay_out_card};
use store::{
    Circumstances, NewTrial, Palette, PaletteId, Role, ShelfTube, TrialId, TrialPlan, called,
};
use study::{Basis, Mixture, Protocol, State, TubeRef};

use crate::error::WorkshopError;
use crate::workshop::Workshop;

/// Bare paper, printed black and the white.
const ALWAYS: usize = 3;
/// Side of a square of the card, mm.
const SIDE_MM: f64 = 12.0;
/// Parts of white that every tube's anchor has, and those that may come to it.
const TINT: f64 = 4.0;
const MORE: [f64; 4] = [1.0, 16.0, 2.0, 8.0];

impl Workshop {
    /// The trial of a palette's anchor card, where there is one.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn card_of(&self, palette: PaletteId) -> Result<Option<TrialId>, WorkshopError> {
        let known = self.store.setting(&key(palette)).await?;
        Ok(known.and_then(|text| text.parse().ok()).map(TrialId))
    }

    /// Plans the anchor card of a palette, once.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] for a palette without a white.
    pub async fn make_card(&self, palette: PaletteId) -> Result<TrialId, WorkshopError> {
        if let Some(known) = self.card_of(palette).await? {
            return Ok(known);
        }
        let palette = self.store.palette(palette).await?;
        let Some(white) = palette.white().cloned() else {
            return Err(WorkshopError::NotNow(
                "an anchor card holds tints with white: give the palette a white first".into(),
            ));
        };
        let mut tubes: Vec<ShelfTube> = palette.colours().into_iter().cloned().collect();
        tubes.push(white.clone());
        let trials = self.store.trials().await?;
        let light = (colour::Conditions::D65_10, Protocol::default().surface(None));
        let evidence =
            self.evidence(&trials, tubes.clone(), Some(white.id), light, State::Dry).await?;
        let trial = planned(&palette, &tubes, &evidence.prior)?;
        let id = self.store.once(Some(&key(palette.id))).start_trial(&trial).await?;
        self.store.settle(&key(palette.id), &id.0.to_string()).await?;
        self.news.tell(id);
        Ok(id)
    }
}

fn key(palette: PaletteId) -> String {
    format!("anchor card of palette {}", palette.0)
}

fn planned(
    palette: &Palette,
    tubes: &[ShelfTube],
    prior: &Prior,
) -> Result<NewTrial, WorkshopError> {
    let white = TubeRef(tubes.len() - 1);
    let mut supply = Supply { measure: Basis::Eye, ..Supply::default() };
    supply.film.side_mm = SIDE_MM;
    let design = Design {
        charts: vec![Chart::Card(mixtures(white, prior))],
        white: Some(white),
        thinning: Thinning::White { alone: vec![TINT], mixtures: Vec::new(), film: false },
        tests: Tests { opacity: false, lift: false, wet: false },
        anchors: false,
        repeats: 1,
        supply,
        ..Design::default()
    };
    let left: Vec<Option<f64>> = tubes.iter().map(|tube| tube.tube.left_ml).collect();
    let plan = Plan::new(&design, prior, &left)
        .map_err(|error| WorkshopError::NotWorkedOut(error.to_string()))?;
    let naming = Naming { tubes: called(tubes), white: Some(white), ..Naming::default() };
    let sheets = lay_out_card(&plan, &naming);
    let role = |at: usize| if at == white.0 { Role::White } else { Role::Reference };
    Ok(NewTrial {
        name: format!("Anchor card, {}", palette.name),
        tubes: tubes.iter().enumerate().map(|(at, tube)| (tube.id, role(at))).collect(),
        circumstances: Circumstances {
            conditions: prior.conditions,
            protocol: Protocol { basis: Basis::Eye, ..Protocol::default() },
            repeats: design.repeats,
            meter_known: false,
        },
        plan: TrialPlan {
            palette: Some(palette.id),
            paper: Paper::A4,
            design: Arc::new(design),
            plan: Arc::new(plan),
            sheets: Arc::new(sheets),
            layout: LAYOUT,
            edition: 1,
        },
    })
}

/// What is painted on the card: each tube's mass tone and 1 : 4, as far as they fit, then what lies farthest from all
/// that is chosen: other tints, and mixtures of two with white. Mass tones alone calibrate badly (found by simulation).
fn mixtures(white: TubeRef, prior: &Prior) -> Vec<Mixture> {
    let room = CARD_SQUARES - ALWAYS;
    let tubes: Vec<TubeRef> = (0..white.0).map(TubeRef).collect();
    let tint = |tube: TubeRef, parts: f64| Mixture::of(&[(tube, 1.0), (white, parts)]);
    let mut chosen: Vec<Mixture> =
        tubes.iter().flat_map(|tube| [Mixture::neat(*tube), tint(*tube, TINT)]).collect();
    // Of more tubes than fit, some have their tint alone.
    while chosen.len() > room {
        let last = chosen.iter().rposition(|it| it.parts().len() == 1);
        chosen.remove(last.unwrap_or(chosen.len() - 1));
    }
    let mut others: Vec<Mixture> =
        tubes.iter().flat_map(|tube| MORE.map(|parts| tint(*tube, parts))).collect();
    for (at, one) in tubes.iter().enumerate() {
        others.extend(
            tubes[at + 1..]
                .iter()
                .map(|other| Mixture::of(&[(*one, 1.0), (*other, 1.0), (white, 2.0 * TINT)])),
        );
    }
    let mut known: Vec<Lab> = chosen.iter().filter_map(|it| prior.colour(it)).collect();
    let mut others: Vec<(Mixture, Option<Lab>)> = others
        .into_iter()
        .map(|mixture| {
            let lab = prior.colour(&mixture);
            (mixture, lab)
        })
        .collect();
    while chosen.len() < room && !others.is_empty() {
        // Of equals the first, so that without any knowledge the usual tints come.
        let mut best = (0, f64::NEG_INFINITY);
        for (at, (_, lab)) in others.iter().enumerate() {
            let far = lab.map_or(0.0, |lab| nearest(&known, lab));
            if far > best.1 {
                best = (at, far);
            }
        }
        let (mixture, lab) = others.remove(best.0);
        chosen.push(mixture);
        known.extend(lab);
    }
    chosen
}

/// How far the nearest of some colours lies, ΔE.
fn nearest(known: &[Lab], lab: Lab) -> f64 {
    known.iter().map(|it| delta_e_ab(*it, lab).value()).fold(f64::INFINITY, f64::min)
}

#[cfg(test)]
mod tests {
    use colour::Conditions;
    use plan::prior::Known;

    use super::*;

    /// Paints of these Colour Index names, as typical ones, and a white.
    fn prior(colours: usize) -> Prior {
        const NAMES: [&str; 6] = ["PB29", "PY74", "PR254", "PG7", "PV23", "PO73"];
        let mut prior = Prior::nothing(colours + 1, Conditions::D65_10);
        for (at, tube) in prior.tubes.iter_mut().enumerate() {
            let name = if at == colours { "PW6" } else { NAMES[at % NAMES.len()] };
            *tube = Known::typical("", [name]).expect("a typical paint");
        }
        prior
    }

    /// However many tubes: as many squares as fit, no two alike, and both anchors of every tube while they fit.
    #[test]
    fn a_card_anchors_every_tube_and_is_filled_with_what_lies_far_apart() {
        for count in [1, 3, 8, 10, 14, 24] {
            let white = TubeRef(count);
            let chosen = mixtures(white, &prior(count));
            let room = CARD_SQUARES - ALWAYS;
            // One tube has five tints and itself.
            assert_eq!(chosen.len(), if count == 1 { 6 } else { room }, "{count}");
            for (at, one) in chosen.iter().enumerate() {
                let twice = chosen[at + 1..].iter().any(|it| it.ratio_key() == one.ratio_key());
                assert!(!twice, "{count}: {one:?}");
            }
            let tints = |tube: usize| {
                let of_tube =
                    chosen.iter().filter(|it| it.only_colour(Some(white)) == Some(TubeRef(tube)));
                of_tube.count()
            };
            let least = if count <= 10 { 2 } else { usize::from(count <= 21) };
            assert!((0..count).all(|tube| tints(tube) >= least), "{count}");
        }
        // Without any knowledge the usual tints come.
        let unknown = Prior::nothing(4, Conditions::D65_10);
        let white = TubeRef(3);
        let chosen = mixtures(white, &unknown);
        let next = Mixture::of(&[(TubeRef(0), 1.0), (white, MORE[0])]);
        assert_eq!(chosen[6].ratio_key(), next.ratio_key());
    }
}
