//! The first trial of a workshop: a blue from end to end of a yellow, with white where there is one.

use study::shelf::{HueFamily, pigment};
use workshop::ShelfTube;

/// What is proposed, and where it is planned.
#[derive(Debug, PartialEq, Eq)]
pub(crate) struct Proposal {
    pub sentence: String,
    pub href: String,
}

/// A first trial of what stands on the shelf; `None` where there are not two tubes to mix.
pub(crate) fn proposal(shelf: &[ShelfTube]) -> Option<Proposal> {
    let family = |tube: &ShelfTube| Some(pigment(tube.tube.codes.first()?)?.family);
    let of = |wanted: HueFamily| shelf.iter().find(|tube| family(tube) == Some(wanted));
    let white = shelf.iter().find(|it| it.tube.is_white());
    let mut others = shelf.iter().filter(|it| white.is_none_or(|white| white.id != it.id));
    let tested = of(HueFamily::Blue).or_else(|| others.next())?;
    let reference = of(HueFamily::Yellow)
        .or_else(|| others.find(|tube| tube.id != tested.id))
        .filter(|tube| tube.id != tested.id)?;
    let with = white.map_or_else(String::new, |white| format!(", and with {}", white.tube.name));
    let of_white = white.map_or_else(String::new, |white| format!("&white={}", white.id.0));
    Some(Proposal {
        sentence: format!("{} mixed with {}{with}", tested.tube.name, reference.tube.name),
        href: format!(
            "/trials/new?first=yes&tested={}&reference={}{of_white}",
            tested.id.0, reference.id.0
        ),
    })
}

#[cfg(test)]
mod tests {
    use study::{ColourIndexName, Tube};
    use workshop::TubeId;

    use super::*;

    #[test]
    fn a_blue_a_yellow_and_a_white_or_any_two_tubes() {
        let tube = |id, name: &str, codes: &str| ShelfTube {
            id: TubeId(id),
            tube: Tube {
                name: name.into(),
                codes: ColourIndexName::parse_list(codes).expect("codes"),
                ..Tube::default()
            },
        };
        let all = [
            tube(1, "White", "PW6"),
            tube(2, "Yellow", "PY74"),
            tube(3, "Red", "PR254"),
            tube(4, "Blue", "PB29"),
        ];
        let found = proposal(&all).expect("a trial");
        assert_eq!(found.sentence, "Blue mixed with Yellow, and with White");
        assert_eq!(found.href, "/trials/new?first=yes&tested=4&reference=2&white=1");
        let two = [tube(7, "Old", ""), tube(8, "Older", "")];
        assert_eq!(proposal(&two).map(|it| it.sentence).as_deref(), Some("Old mixed with Older"));
        assert_eq!(proposal(&two[..1]), None);
        assert_eq!(proposal(&all[..2]), None);
    }
}
