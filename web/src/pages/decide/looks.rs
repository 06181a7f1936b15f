//! A target and what stands beside it, edge to edge, by their looks.

use colour::{Conditions, Lab};
use decide::{At, Target};

use crate::draw::{Beside, Paint, Together};

/// Two by their names; of the second the colour of each look, and whether that is predicted.
pub(super) fn svg(
    [first, second]: [&str; 2],
    target: &Target,
    beside: impl IntoIterator<Item = Option<(Lab, bool)>>,
    conditions: Conditions,
) -> Result<String, askama::Error> {
    let square = |name: &str, what: &str, lab: Lab, predicted: bool| Beside {
        paint: Paint::predicted(lab, conditions),
        predicted,
        title: format!("{name}, {what}{}", if predicted { ", predicted" } else { "" }),
    };
    let squares = target.looks.iter().zip(beside).map(|(look, other)| {
        let what = match look.at {
            At::MassTone => "mass tone",
            At::Tint => "with white 1 : 4",
        };
        let own = square(first, what, look.lab, look.is_predicted);
        let other = other.map(|(lab, predicted)| square(second, what, lab, predicted));
        (vec![Some(own), other], false)
    });
    Together { title: format!("{first} beside {second}"), squares: squares.collect() }.svg()
}
