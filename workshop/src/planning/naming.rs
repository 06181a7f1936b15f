//! A name for a trial that was given none.

use plan::Question;
use store::{Role, ShelfTube};
use study::names;

/// Letters that a name may have.
const LONGEST: usize = 80;

/// What the trial is about, in a few words: `Leaf Green in mixtures`.
pub(super) fn suggested(question: Question, tubes: &[(ShelfTube, Role)]) -> String {
    let of = |role: Role| -> Vec<&str> {
        let of_role = tubes.iter().filter(|(_, own)| *own == role);
        of_role.map(|(tube, _)| tube.tube.name.as_str()).collect()
    };
    let chosen = match of(Role::Tested) {
        none if none.is_empty() => of(Role::Reference),
        tested => tested,
    };
    let about = match chosen.as_slice() {
        [] => "new tubes".to_owned(),
        [one] => (*one).to_owned(),
        [one, two] => format!("{one} and {two}"),
        [one, rest @ ..] => format!("{one} and {} others", rest.len()),
    };
    let name = match question {
        Question::Mixes => format!("{about} in mixtures"),
        Question::Stronger => format!("How strong: {about}"),
        Question::Warmer => format!("Warm or cool: {about}"),
        Question::Cleanest => format!("Cleanest mixtures: {about}"),
        Question::Neutral => format!("Greys: {about}"),
        Question::WhiteAndWater => format!("{about}, thick and thin"),
        Question::Replaceable => format!("Without {about}"),
        Question::Free => format!("Trial of {about}"),
    };
    names::tidied(&name.chars().take(LONGEST).collect::<String>())
}
