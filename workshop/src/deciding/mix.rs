//! A recipe as a trial of one pile, and what to add to it once it was read or looked at.

use std::sync::Arc;

use colour::{Lab, Reflectance, ciede2000};
use decide::{
    Addition, At, PileReading, Seen, Shares, Target, Touch, correct, pile_as_read, touches,
    value_steps,
};
use plan::{Question, Supply, Tests, Thinning};
use store::{TrialId, TrialSummary, TubeId};
use study::numbers::number;
use study::{
    Backing, Basis, Calibration, FilmKind, Measured, Mixture, Part, State, TubeRef, VISIBLE,
};

use super::recipe::RecipeRequest;
use crate::analysed::AnalysedTrial;
use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::knowledge::KnownShelf;
use crate::planning::{ChartRequest, ThinningRequest, TintRequest, TrialRequest};
use crate::workshop::Workshop;

/// No more is added than there is: a pile is at most doubled.
const MOST_ADDED: f64 = 1.0;
/// An amount is weighed well enough where half a step of the scale is no more than this share of it.
const WEIGHABLE: f64 = 0.05;
/// One part in ten of a let-down is the tube.
const LET_DOWN: f64 = 10.0;
/// Steps of value of a grey.
const VALUES: usize = 6;
/// A pile that was put out otherwise than planned is still the same one within this, as ln of each share.
const SAME_PILE: f64 = 0.7;

/// What to add to a pile.
#[derive(Debug)]
pub struct Corrected {
    /// All tubes that are known.
    pub known: Arc<KnownShelf>,
    /// What the pile is to look like.
    pub target: Target,
    /// The pile as it was mixed, its places those of [`Self::known`].
    pub pile: Shares,
    /// Its colours as they were read, by the looks of the target: where each was read, with its ΔE00 from the target.
    pub read: Vec<Option<(Lab, f64)>>,
    /// The newest reading was of wet paint.
    pub is_wet: bool,
    /// What brings it nearer; `None` where it was not read, or where nothing does.
    pub addition: Option<Addition>,
    /// How much of the pile there is, in g, or in ml by volume and by eye; `None` where it was not planned.
    pub amount: Option<f64>,
    /// How it was measured out, and what the scale or the syringe resolves.
    pub measure: Basis,
    resolution: f64,
    /// What a touch of each tube does against what the eye says.
    pub touches: Vec<Touch>,
}

impl Workshop {
    /// A trial of one pile: these parts, and the tint 1 : 4 where the aim has one.
    #[must_use]
    pub fn recipe_trial(
        &self,
        name: &str,
        parts: &[(TubeId, f64)],
        white: Option<TubeId>,
        aim: &str,
        with_tint: bool,
    ) -> TrialRequest {
        let by_meter = self.meter_info().is_some();
        let measure = if by_meter { Basis::Weight } else { Basis::Eye };
        let usual = TrialRequest::new(name);
        let tinted = with_tint && white.is_some();
        let thinning = match tinted {
            true => {
                Thinning::White { alone: Vec::new(), mixtures: vec![decide::TINT], film: false }
            }
            false => Thinning::None,
        };
        // In a pile of its own white is a tube like the others; for its tint the white must be known.
        let has_white = parts.iter().any(|(tube, _)| Some(*tube) == white);
        TrialRequest {
            question: Question::Replaceable,
            white: white.filter(|_| tinted || has_white),
            charts: vec![ChartRequest::Chosen { parts: parts.to_vec() }],
            tints: TintRequest::None,
            thinning: ThinningRequest::Given(thinning),
            tests: Tests { opacity: false, lift: false, wet: false },
            repeats: u32::from(by_meter),
            supply: Supply { measure, ..usual.supply },
            aim: aim.to_owned(),
            ..usual
        }
    }

    /// A trial of one grey, from its mass tone up to its palest tint in equal steps of value.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where its tubes or the white are not known.
    pub fn grey_ladder(
        &self,
        known: &KnownShelf,
        parts: &[(TubeId, f64)],
    ) -> Result<TrialRequest, WorkshopError> {
        let places: Option<Vec<(usize, f64)>> =
            parts.iter().map(|(tube, parts)| Some((known.place(*tube)?, *parts))).collect();
        let white = known.white.as_ref().filter(|_| known.paints.white.is_some());
        let (Some(places), Some(white)) = (places.filter(|it| !it.is_empty()), white) else {
            return Err(WorkshopError::NotNow(
                "a ladder of values takes tubes and a white that were read, or whose pigments are known".into(),
            ));
        };
        let shares = Shares::of(&places, 0.0);
        let mixtures = value_steps(&known.paints, &shares, VALUES);
        let names = places.iter().map(|(at, _)| known.tubes[*at].tube.name.as_str());
        let name = format!("Grey of {}", names.collect::<Vec<_>>().join(" and "));
        let request = self.recipe_trial(&name, parts, Some(white.id), "", true);
        let thinning = Thinning::White { alone: Vec::new(), mixtures, film: false };
        let question = Question::Neutral;
        Ok(TrialRequest { question, thinning: ThinningRequest::Given(thinning), ..request })
    }

    /// What to add to the pile of a recipe's trial, after its newest reading; or by what the eye says of it.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where the trial holds no recipe, or a tube of it is not known, in words.
    pub async fn corrected(
        &self,
        trials: &[TrialSummary],
        trial: TrialId,
        request: &RecipeRequest,
        seen: Vec<Seen>,
    ) -> Result<Corrected, WorkshopError> {
        let shelf = self.store.shelf().await?;
        let known = request.aim.seen(self.known_shelf(trials, &shelf).await?);
        let target = known.aim(&request.aim)?;
        let among = self.which(&known, &request.from).await?;
        let summary = trials.iter().find(|it| it.id == trial);
        let analysed = match summary {
            Some(summary) => self.analysed(summary).await?,
            None => return Err(store::StoreError::NotFound("trial").into()),
        };
        off_the_thread(move || Corrected::of(known, target, &among, &analysed, &seen)).await?
    }
}

impl Corrected {
    fn of(
        known: Arc<KnownShelf>,
        target: Target,
        among: &[usize],
        analysed: &AnalysedTrial,
        seen: &[Seen],
    ) -> Result<Self, WorkshopError> {
        let trial = &analysed.trial;
        let plan = trial.plan.as_ref().filter(|plan| !plan.design.aim.is_empty());
        let plan = plan.ok_or_else(|| {
            WorkshopError::NotNow(
                "this trial was not made from a recipe: there is nothing to aim at".into(),
            )
        })?;
        let planned = plan.plan.swatches.first().map(|swatch| swatch.mixture.clone());
        let nothing = || WorkshopError::NotNow("this trial has no pile".into());
        let planned = planned.ok_or_else(nothing)?;
        let newest = |at: At| {
            let white =
                trial.white().map(|tube| Part { tube, parts: at.white() * planned.total() });
            let mixture = Mixture::new(planned.parts().iter().copied().chain(white));
            trial.readings.iter().rev().map(|stored| &stored.reading).find(|it| {
                // Of a picture that nothing calibrates no colour is good enough to correct by.
                let is_rough = it
                    .from_picture
                    .as_ref()
                    .is_some_and(|from| from.calibration != Calibration::Calibrated);
                let counts = it.void.is_none() && it.state != State::Lifted && !is_rough;
                let on_paper = it.backing == Backing::Paper && it.film == FilmKind::Full;
                counts && on_paper && it.mixture.is_near(&mixture, SAME_PILE)
            })
        };
        let of_pile = newest(At::MassTone).map_or(&planned, |it| &it.mixture);
        let pile = shares_of(of_pile, trial, &known)?;
        let mut readings = Vec::new();
        let mut read = Vec::new();
        let mut is_wet = false;
        for look in &target.looks {
            let found = newest(look.at).and_then(|reading| {
                let lab = reading.measured.lab(known.paints.conditions).ok()?;
                is_wet |= reading.state == State::Wet;
                let read = spectrum(&reading.measured, lab, &known)?;
                readings.push(PileReading { white: look.at.white(), read });
                Some((lab, ciede2000(lab, look.lab).value()))
            });
            read.push(found);
        }
        let addition = pile_as_read(&known.paints, &pile, &readings).and_then(|paint| {
            let is_there = read.iter().flatten().all(|(_, off)| *off < VISIBLE);
            let found = correct(&known.paints, &target, &paint, among, MOST_ADDED);
            found.filter(|_| !is_there)
        });
        let touched = match seen {
            [] => Vec::new(),
            seen => touches(&known.paints, &pile, seen, among),
        };
        let piles = plan.plan.piles.iter();
        let mut own = piles.filter(|pile| pile.holds.ratio_key() == planned.ratio_key());
        let amount = own.next().map(plan::Pile::total);
        Ok(Self {
            read,
            is_wet,
            measure: plan.design.supply.measure,
            resolution: plan.design.supply.resolution,
            touches: touched,
            known,
            target,
            pile,
            addition,
            amount,
        })
    }

    /// An amount in what the pile was measured out with.
    #[must_use]
    pub fn amount_of(&self, parts: f64) -> String {
        let Some(total) = self.amount else { return format!("{} parts", number(parts, 3)) };
        self.in_words(parts * total)
    }

    /// How much of it to add, mixed 1 : 9 with the pile first, where the scale cannot tell the amount itself; `None`
    /// where it can.
    #[must_use]
    pub fn let_down(&self, parts: f64) -> Option<String> {
        let amount = parts * self.amount?;
        let is_measured = self.measure != Basis::Eye;
        (is_measured && self.resolution / 2.0 > WEIGHABLE * amount)
            .then(|| self.in_words(LET_DOWN * amount))
    }

    fn in_words(&self, amount: f64) -> String {
        match self.measure {
            Basis::Weight => format!("{} g", number(amount, if amount < 0.1 { 3 } else { 2 })),
            Basis::Volume => format!("{} ml", number(amount, 2)),
            Basis::Eye => plan::Measures::default().words(amount),
        }
    }

    /// The pile with what is added to it, in whole shares: the parts of each tube, and of the white.
    #[must_use]
    pub fn then(&self) -> Option<(Vec<(TubeId, f64)>, f64)> {
        let addition = self.addition.as_ref()?;
        let mut all = self.pile.tubes.clone();
        for (place, parts) in &addition.tubes {
            match all.iter_mut().find(|it| it.0 == *place) {
                Some(known) => known.1 += parts,
                None => all.push((*place, *parts)),
            }
        }
        let tubes = all.iter().map(|(place, parts)| (self.known.tubes[*place].id, *parts));
        Some((tubes.collect(), self.pile.white + addition.white))
    }
}

fn shares_of(
    mixture: &Mixture,
    trial: &crate::OpenTrial,
    known: &KnownShelf,
) -> Result<Shares, WorkshopError> {
    let (mut tubes, mut white) = (Vec::new(), 0.0);
    for part in mixture.parts() {
        let TubeRef(at) = part.tube;
        let tube = &trial.tubes[at].tube;
        if known.white.as_ref().is_some_and(|it| it.id == tube.id) {
            white += part.parts;
            continue;
        }
        let place = known.place(tube.id).ok_or_else(|| {
            WorkshopError::NotNow(format!(
                "nothing is known of {}: read its mass tone and two tints",
                tube.tube.name
            ))
        })?;
        tubes.push((place, part.parts));
    }
    Ok(Shares::of(&tubes, white))
}

/// The spectrum that was read, else the smoothest one of the colour.
fn spectrum(measured: &Measured, lab: Lab, known: &KnownShelf) -> Option<Reflectance> {
    match measured {
        Measured::Spectrum(read) => Some(*read),
        Measured::Lab(_) => {
            let conditions = known.paints.conditions;
            Reflectance::smoothest(lab.to_xyz(conditions), conditions)
        }
    }
}
