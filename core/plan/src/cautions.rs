//! The usual cautions for the pigments and media of a plan.
//!
//! They name what the built-in table knows of, and always close by deferring to the label, the
//! safety data sheet, local rules and licensed advice. Nothing here ever says that a paint is safe.

use study::shelf::{CautionGroup, pigment};
use study::{Medium, Tube};

/// One caution, in words.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Caution {
    /// What it is about, `cadmium (Signal Red)`.
    pub about: String,
    /// What to do.
    pub advice: &'static str,
}

/// Stands under every list of cautions, and under an empty one.
pub const DEFERRAL: &str = "This list comes from a built-in table and may be incomplete; no paint \
    is called safe by standing outside it. The maker’s label and safety data sheet, your local rules \
    and licensed advice come first.";

const METALS: &str = "Do not eat, sand, spray or heat it; keep it off the skin and away from food; \
    wash your hands; let rinse water settle, and hand it and the rags in as your local rules say.";
const OIL: &str = "Solvents: fresh air, no flame, no skin. Oil-soaked rags can heat themselves and \
    burn: lay them out flat outdoors or keep them under water in a closed metal tin.";
const AMMONIA: &str = "Some acrylic and casein paints give off ammonia: work in fresh air.";

/// The cautions for the tubes of a plan: one for each group of pigments, then one for each medium
/// that needs it.
#[must_use]
pub fn cautions<'a>(tubes: impl IntoIterator<Item = &'a Tube>) -> Vec<Caution> {
    let tubes: Vec<&Tube> = tubes.into_iter().collect();
    let of_group = |group: &CautionGroup| {
        let names = names(&tubes, |tube| {
            tube.codes.iter().filter_map(pigment).any(|known| known.cautions.contains(group))
        });
        names.map(|names| Caution { about: format!("{group} ({names})"), advice: METALS })
    };
    let uncoded = names(&tubes, |tube| tube.codes.is_empty());
    let media = [(Medium::Oil, OIL), (Medium::Acrylic, AMMONIA), (Medium::Tempera, AMMONIA)];
    let of_medium = media.into_iter().filter_map(|(medium, advice)| {
        let used = tubes.iter().any(|tube| tube.medium == medium);
        used.then(|| Caution { about: medium.to_string(), advice })
    });
    CautionGroup::ALL
        .iter()
        .filter_map(of_group)
        .chain(
            uncoded.map(|names| Caution {
                about: format!("no stated pigment ({names})"),
                advice: METALS,
            }),
        )
        .chain(of_medium)
        .collect()
}

fn names(tubes: &[&Tube], wanted: impl Fn(&Tube) -> bool) -> Option<String> {
    let names: Vec<&str> =
        tubes.iter().filter(|tube| wanted(tube)).map(|tube| tube.name.as_str()).collect();
    (!names.is_empty()).then(|| names.join(", "))
}
