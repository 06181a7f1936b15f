//! Amounts and ratios that people make with a knife and no scale: a touch, a knife tip, a pea, a hazelnut.

use serde::{Deserialize, Serialize};

use crate::amounts::{AmountError, BY_EYE, LetDown, Pile};

/// What people put out with a knife, in ml (common practice, no source).
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Measures {
    /// What hangs on the corner of the knife.
    pub touch: f64,
    /// What hangs on its tip.
    pub knife_tip: f64,
    /// As large as a pea.
    pub pea: f64,
    /// As large as a hazelnut.
    pub hazelnut: f64,
}

impl Default for Measures {
    fn default() -> Self {
        Self { touch: 0.02, knife_tip: 0.1, pea: 0.25, hazelnut: 1.0 }
    }
}

/// Most of one measure that anybody counts out.
const MOST: u8 = 8;
/// Two amounts may miss their ratio by this much, as a difference of ln: far less than the eye does.
const MISS: f64 = 0.08;
/// A pile may be this share of its need: the need allows for what stays on the knife.
const ENOUGH: f64 = 0.8;
/// Each measure that is put out costs as much as this share of a knife tip of paint.
const TROUBLE: f64 = 0.3;
/// A pile that would be this many times its need is let down instead.
const TOO_LARGE: f64 = 5.0;
/// Parts of the other colour to one of the strong one in the usual let-down.
const USUAL_LET_DOWN: f64 = 4.0;

/// Ratios that people can make, the larger part to the smaller (common practice, no source); the last two are
/// a touch in a pea and a touch in a hazelnut.
const MAKEABLE: [f64; 7] = [1.0, 2.0, 3.0, 4.0, 8.0, 12.5, 50.0];

/// So many of one measure.
#[derive(Clone, Copy)]
struct Heap {
    count: u8,
    ml: f64,
}

impl Measures {
    fn all(&self) -> [(f64, &'static str, &'static str); 4] {
        [
            (self.touch, "a touch", "touches"),
            (self.knife_tip, "a knife tip", "knife tips"),
            (self.pea, "a pea", "peas"),
            (self.hazelnut, "a hazelnut", "hazelnuts"),
        ]
    }

    /// True where each measure is more than the one before, and the first more than 0.
    #[must_use]
    pub fn rise(&self) -> bool {
        let sizes = self.all().map(|(ml, ..)| ml);
        sizes[0] > 0.0 && sizes.iter().all(|ml| ml.is_finite()) && sizes.is_sorted_by(|a, b| a < b)
    }

    /// An amount in ml in words, the nearest that can be counted out: `3 touches`, `a pea`.
    #[must_use]
    pub fn words(&self, ml: f64) -> String {
        let largest = self.hazelnut * f64::from(MOST) + self.hazelnut / 2.0;
        if ml > largest {
            return format!("{:.0} hazelnuts", ml / self.hazelnut);
        }
        let miss = |heap: &Heap| ((heap.ml / ml).ln().abs() * 50.0).round();
        let nearest = self.heaps().min_by(|one, other| {
            miss(one).total_cmp(&miss(other)).then(one.count.cmp(&other.count))
        });
        let Some(heap) = nearest.filter(|_| ml > 0.0) else { return "none".to_owned() };
        let named = |(size, one, many): (f64, &str, &str)| {
            let same = (size * f64::from(heap.count) - heap.ml).abs() < 1e-9;
            same.then(|| match heap.count {
                1 => one.to_owned(),
                count => format!("{count} {many}"),
            })
        };
        self.all().into_iter().find_map(named).unwrap_or_default()
    }

    fn heaps(&self) -> impl Iterator<Item = Heap> {
        self.all().into_iter().flat_map(|(size, ..)| {
            (1..=MOST).map(move |count| Heap { count, ml: size * f64::from(count) })
        })
    }

    /// The two heaps of a ratio, scarce and other, that make enough with least paint and trouble.
    fn pair(&self, need: f64, ratio: f64) -> Option<(f64, f64)> {
        let mut best: Option<(f64, (f64, f64))> = None;
        for scarce in self.heaps() {
            for other in self.heaps() {
                let miss = (other.ml / scarce.ml / ratio).ln().abs();
                let total = scarce.ml + other.ml;
                if miss > MISS || total < ENOUGH * need {
                    continue;
                }
                let counted = f64::from(scarce.count + other.count) * TROUBLE * self.knife_tip;
                let cost = total + counted + miss;
                if best.is_none_or(|(least, _)| cost < least) {
                    best = Some((cost, (scarce.ml, other.ml)));
                }
            }
        }
        best.map(|(_, pair)| pair)
    }

    /// Plans a pile of about `need` ml in which the scarce component has the share `scarce` (0–0.5]: so many
    /// touches of the one to so many peas of the other; where a touch would be too much, let down first.
    ///
    /// # Errors
    /// Where the share leaves nothing to put out.
    pub(crate) fn pile(&self, need: f64, scarce: f64) -> Result<Pile, AmountError> {
        if !(scarce > 0.0 && scarce <= 0.5 && need > 0.0 && need.is_finite()) {
            return Err(AmountError::NoParts);
        }
        let (mut ratio, mut let_downs, mut ratio_error) =
            ((1.0 - scarce) / scarce, Vec::new(), BY_EYE);
        let (scarce_g, other_g) = loop {
            if let Some(pair) = self.small_pair(need, ratio) {
                break pair;
            }
            let Some(others) = self.let_down(need, ratio) else {
                // A ratio of nobody's making, such as 2.6 : 1: put out as it is.
                let total = need.max(self.touch / scarce);
                break (total / (1.0 + ratio), total * ratio / (1.0 + ratio));
            };
            ratio = (1.0 + ratio) / (1.0 + others) - 1.0;
            ratio_error = ratio_error.hypot(BY_EYE);
            let_downs.push(LetDown { strong_g: self.touch, other_g: others * self.touch });
        };
        // Each let-down makes at least what is taken from it.
        let mut taken = scarce_g;
        for step in let_downs.iter_mut().rev() {
            let others = step.other_g / step.strong_g;
            let strong_g = self.at_least(taken / (1.0 + others));
            *step = LetDown { strong_g, other_g: others * strong_g };
            taken = strong_g;
        }
        Ok(Pile { let_downs, scarce_g, other_g, share: scarce, ratio_error })
    }

    /// The two heaps of a ratio, where they are no waste of paint.
    fn small_pair(&self, need: f64, ratio: f64) -> Option<(f64, f64)> {
        self.pair(need, ratio).filter(|(one, other)| one + other <= TOO_LARGE * need)
    }

    /// Parts of the other colour to one of the strong one, so that what is left to do is easy; the usual ones
    /// where much is left.
    fn let_down(&self, need: f64, ratio: f64) -> Option<f64> {
        let left = |others: f64| (1.0 + ratio) / (1.0 + others) - 1.0;
        if left(USUAL_LET_DOWN) > f64::from(MOST) * USUAL_LET_DOWN {
            return Some(USUAL_LET_DOWN);
        }
        let easy = (2..=MOST).map(f64::from).filter_map(|others| {
            let (one, other) = self.small_pair(need, left(others))?;
            (left(others) >= 1.0).then_some((others, one + other))
        });
        easy.min_by(|one, other| one.1.total_cmp(&other.1)).map(|(others, _)| others)
    }

    /// The least heap that is enough, in ml.
    fn at_least(&self, ml: f64) -> f64 {
        let enough = self.heaps().map(|heap| heap.ml).filter(|it| *it >= ml * ENOUGH);
        enough.min_by(f64::total_cmp).unwrap_or(ml)
    }
}

/// The shares of the second tube that people can make nearest to those wanted (0–1), each once and rising.
pub(crate) fn makeable(shares: &[f64]) -> Vec<f64> {
    let sides = MAKEABLE.iter().flat_map(|ratio| [*ratio, 1.0 / ratio]);
    let all: Vec<f64> = sides.map(|ratio| ratio / (1.0 + ratio)).collect();
    let ln = |share: f64| (share / (1.0 - share)).ln();
    let nearest = |share: &f64| {
        let apart = |it: &f64| (ln(*it) - ln(*share)).abs();
        all.iter().copied().min_by(|one, other| apart(one).total_cmp(&apart(other)))
    };
    let mut made: Vec<f64> = shares.iter().filter_map(nearest).collect();
    made.sort_by(f64::total_cmp);
    made.dedup_by(|one, other| (*one - *other).abs() < 1e-9);
    made
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Common practice, no source: what a painter would put out for one square of 20 mm and its tint.
    #[test]
    fn people_count_out_touches_tips_and_peas() {
        let hand = Measures::default();
        for (need, ratio, scarce, other, let_downs) in [
            (0.115, 1.0, "a knife tip", "a knife tip", 0),
            (0.115, 4.0, "a touch", "4 touches", 0),
            (0.096, 4.0, "a touch", "4 touches", 0),
            (0.5, 4.0, "a knife tip", "4 knife tips", 0),
            (0.3, 12.5, "a touch", "a pea", 0),
            (1.5, 4.0, "a pea", "a hazelnut", 0),
            (0.115, 50.0, "a touch", "a knife tip", 1),
            (0.115, 200.0, "a touch", "4 touches", 2),
        ] {
            let pile = hand.pile(need, 1.0 / (1.0 + ratio)).expect("a pile");
            let words = (hand.words(pile.scarce_g), hand.words(pile.other_g));
            let told = (words.0.as_str(), words.1.as_str(), pile.let_downs.len());
            assert_eq!(told, (scarce, other, let_downs), "{need} ml of {ratio} : 1");
            assert!(pile.total() >= ENOUGH * need && pile.total() <= TOO_LARGE * need);
            let strong =
                pile.let_downs.iter().map(|step| step.strong_g / (step.strong_g + step.other_g));
            let share = pile.scarce_g / pile.total() * strong.product::<f64>();
            assert!((share * (1.0 + ratio)).ln().abs() < 0.1, "{ratio} : 1 comes out as {share}");
        }
        assert!(hand.pile(0.1, 0.0).is_err());
        assert_eq!(hand.words(0.0), "none");
        assert_eq!(hand.words(20.0), "20 hazelnuts");
    }

    #[test]
    fn steps_snap_to_ratios_that_people_can_make() {
        let shares = [1.0 / 77.1, 0.19, 0.22, 0.5, 0.9];
        let made: Vec<String> =
            makeable(&shares).iter().map(|share| format!("{:.1}", (1.0 - share) / share)).collect();
        assert_eq!(made, ["50.0", "4.0", "1.0", "0.1"]);
    }
}
