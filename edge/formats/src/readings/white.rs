//! A white that the comments name and no row is of: most often its name is written in two ways.

use colour::Lab;
use study::{Study, TubeLabel, TubeRef, Warning};

/// What to say about the white that was named, where it stands in no row.
pub(super) fn warning(study: &Study, name: &str) -> Option<Warning> {
    let in_a_row = |tube: TubeRef| {
        study.readings.iter().any(|reading| {
            let alone = reading.mixture.parts().len() == 1;
            alone && reading.mixture.parts_of(tube) > 0.0
        })
    };
    if study.white.is_some_and(in_a_row) {
        return None;
    }
    let advice = match likeliest(study, name) {
        Some(label) => format!("is it “{}”? Then write “# white: {}”", shown(label), label.name),
        None => "add a row of the white alone, thick over paper".to_owned(),
    };
    Some(Warning {
        line: None,
        message: format!(
            "no row reads the white “{name}” alone, so no strength can be told and nothing is compared at \
             equal depth: {advice}"
        ),
    })
}

fn shown(label: &TubeLabel) -> String {
    let code = label.code.trim();
    if code.is_empty() { label.name.clone() } else { format!("{}, {code}", label.name) }
}

/// The tube that is most likely meant: of those whose pigment is a white, the one whose name is most
/// like; else the lightest that is read alone and nearly without colour.
fn likeliest<'a>(study: &'a Study, name: &str) -> Option<&'a TubeLabel> {
    let is_white = |label: &TubeLabel| {
        let mut codes = label.code.split_whitespace();
        codes.next().is_some_and(|code| code.to_uppercase().starts_with("PW"))
    };
    let alike =
        |label: &TubeLabel| strsim::jaro_winkler(&label.name.to_lowercase(), &name.to_lowercase());
    let by_name = study.tubes.iter().filter(|label| is_white(label) && label.name != name);
    let by_name = by_name.max_by(|a, b| alike(a).total_cmp(&alike(b)));
    by_name.or_else(|| lightest(study).filter(|label| label.name != name))
}

fn lightest(study: &Study) -> Option<&TubeLabel> {
    /// Above this lightness and below this chroma, a paint may be a white.
    const LIGHT: f64 = 88.0;
    const PALE: f64 = 10.0;
    let alone = study.readings.iter().filter_map(|reading| {
        let [part] = reading.mixture.parts() else { return None };
        let lab: Lab = reading.measured.lab(study.conditions).ok()?;
        (lab.l > LIGHT && lab.chroma() < PALE).then_some((part.tube, lab.l))
    });
    let (found, _) = alone.max_by(|(_, a), (_, b)| a.total_cmp(b))?;
    study.tubes.get(found.0)
}
