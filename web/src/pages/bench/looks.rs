//! What the eye saw, asked where it looks: of a mixture when it is laid, of a lifted square when it is lifted,
//! of a dry one when it is dry. Each is one tap, and none has to be answered.

use askama::Template as _;
use bench::{Dried, EyeVividness, Lean, LiftLeaves, Look, Time};
use colour::{Conditions, Lab};
use figures::finding::toward;
use plan::CellNumber;
use plan::prior::Prior;
use study::FilmKind;
use workshop::{OpenTrial, Prompt};

use crate::draw::{Meaning, Paint};

/// What may be said of one swatch.
pub(crate) struct LookAsk {
    pub number: CellNumber,
    /// What it is, in a few words.
    pub what: String,
    pub asks: Vec<Ask>,
}

/// A question with its words.
pub(crate) struct Ask {
    pub question: &'static str,
    pub choices: Vec<LookChoice>,
}

/// A word with a picture of what it means.
pub(crate) struct LookChoice {
    pub value: String,
    pub label: String,
    pub svg: String,
    pub chosen: bool,
}

/// A look as a form sends it.
pub(crate) fn read(text: &str) -> Option<Look> {
    let (kind, word) = text.split_once(':')?;
    match kind {
        "vivid" => word.parse().ok().map(Look::Vividness),
        "lean" => word.parse().ok().map(Look::Lean),
        "lift" => word.parse().ok().map(Look::Lift),
        "dried" => word.parse().ok().map(Look::Drying),
        _ => None,
    }
}

/// What is asked beside the task at hand; `None` where nothing is looked at with the eye.
pub(crate) fn asked(
    trial: &OpenTrial,
    prior: &Prior,
    (prompt, here): (&Prompt, CellNumber),
    now: Time,
) -> Result<Option<LookAsk>, askama::Error> {
    let Some(run) = trial.run().filter(|_| trial.circumstances.repeats == 0) else {
        return Ok(None);
    };
    // While the next is mixed, the last one lies before one's eyes; when all is done, it still does.
    let last = run.lays().last().map(|(number, _)| *number);
    let numbers = match prompt {
        Prompt::Lay => [last, None],
        Prompt::Lift => [None, None],
        _ => [Some(here), last],
    };
    for number in numbers.into_iter().flatten() {
        let asked = asked_of(trial, prior, (prompt, number), now)?;
        if asked.is_some() {
            return Ok(asked);
        }
    }
    Ok(None)
}

/// What is asked of one swatch that is laid.
fn asked_of(
    trial: &OpenTrial,
    prior: &Prior,
    (prompt, number): (&Prompt, CellNumber),
    now: Time,
) -> Result<Option<LookAsk>, askama::Error> {
    let Some((run, planned)) = trial.run().zip(trial.swatch(number).ok()) else { return Ok(None) };
    let Some(square) = run.square(number).filter(|it| it.laid.is_some()) else { return Ok(None) };
    let swatch = &planned.swatch;
    let looks = square.looks;
    let mixture = run.mixture(number).unwrap_or(&swatch.mixture);
    let colour = prior.colour(mixture);
    let conditions = trial.circumstances.conditions;
    let mut asks = Vec::new();
    let mixed = mixture.colours(trial.white()).count() > 1;
    if mixed && swatch.film == FilmKind::Full {
        asks.push(vividness(looks.vividness, colour, conditions)?);
        asks.extend(lean(looks.lean, colour, conditions)?);
    }
    let white = mixture.white_per_colour(trial.white()).unwrap_or_default();
    if !mixed && white > 0.0 {
        // Only a tint shows which way a dark tube leans.
        asks.extend(lean(looks.lean, colour, conditions)?);
    }
    let is_dry = run.dry_time(number).is_none_or(|due| due <= now);
    if *prompt != Prompt::Lay && is_dry {
        asks.push(dried(looks.drying)?);
    }
    if asks.is_empty() {
        return Ok(None);
    }
    let label = trial.naming().swatch(swatch);
    let what = format!("{} {}", label.tubes, label.ratio).trim().to_owned();
    Ok(Some(LookAsk { number, what, asks }))
}

/// What lifting left, asked in place of “Lifted”; none where the lifted square is read.
pub(crate) fn lifts(trial: &OpenTrial) -> Result<Vec<LookChoice>, askama::Error> {
    if trial.circumstances.repeats > 0 {
        return Ok(Vec::new());
    }
    let left = |leaves: LiftLeaves| match leaves {
        LiftLeaves::Paper => 97.0,
        LiftLeaves::Ghost => 82.0,
        LiftLeaves::Stain => 45.0,
    };
    LiftLeaves::ALL
        .iter()
        .map(|leaves| {
            let patches = vec![Meaning::grey(40.0), Meaning::grey(left(*leaves))];
            choice("lift", leaves.to_string(), patches, false)
        })
        .collect()
}

fn choice(
    kind: &str,
    label: String,
    patches: Vec<String>,
    chosen: bool,
) -> Result<LookChoice, askama::Error> {
    let svg = if patches.is_empty() { String::new() } else { Meaning { patches }.render()? };
    Ok(LookChoice { value: format!("{kind}:{label}"), label, svg, chosen })
}

/// Four patches of the mixture's hue, each greyer than the one before.
fn vividness(
    said: Option<EyeVividness>,
    colour: Option<Lab>,
    conditions: Conditions,
) -> Result<Ask, askama::Error> {
    let share = |word: EyeVividness| match word {
        EyeVividness::Vivid => 1.0,
        EyeVividness::Softened => 0.7,
        EyeVividness::Muted => 0.42,
        EyeVividness::Neutral => 0.1,
    };
    let hue = colour.and_then(Lab::hue);
    let patch = |word: EyeVividness| {
        let lightness = colour.map_or(55.0, |lab| lab.l.clamp(38.0, 78.0));
        let chroma = 62.0 * share(word);
        let angle = hue.map_or(0.0, |hue| hue.degrees().to_radians());
        let lab = Lab::new(lightness, chroma * angle.cos(), chroma * angle.sin());
        Paint::predicted(lab, conditions).fill
    };
    let words = EyeVividness::ALL.iter().map(|word| {
        let patches = if hue.is_some() { vec![patch(*word)] } else { Vec::new() };
        choice("vivid", word.to_string(), patches, said == Some(*word))
    });
    let choices = words.collect::<Result<_, _>>()?;
    Ok(Ask { question: "How vivid is it?", choices })
}

/// The two ways that a hue can lean; `None` where its hue is not known.
fn lean(
    said: Option<Lean>,
    colour: Option<Lab>,
    conditions: Conditions,
) -> Result<Option<Ask>, askama::Error> {
    let Some((lab, hue)) = colour.and_then(|lab| Some((lab, lab.hue()?))) else { return Ok(None) };
    let ways = [-1.0, 1.0].map(|way: f64| {
        let turned = hue.turned(25.0 * way).degrees().to_radians();
        let chroma = lab.chroma().max(35.0);
        let lightness = lab.l.clamp(38.0, 78.0);
        let patch = Lab::new(lightness, chroma * turned.cos(), chroma * turned.sin());
        (toward(hue, way), Paint::predicted(patch, conditions).fill)
    });
    let words = ways.into_iter().filter_map(|(word, patch)| {
        let lean: Lean = word.parse().ok()?;
        Some(choice("lean", lean.to_string(), vec![patch], said == Some(lean)))
    });
    let choices = words.collect::<Result<_, _>>()?;
    Ok(Some(Ask { question: "It leans toward", choices }))
}

fn dried(said: Option<Dried>) -> Result<Ask, askama::Error> {
    let words = Dried::ALL.iter().map(|word| {
        let after = match word {
            Dried::Darker => 35.0,
            Dried::Same => 55.0,
            Dried::Lighter => 75.0,
        };
        let patches = vec![Meaning::grey(55.0), Meaning::grey(after)];
        choice("dried", word.to_string(), patches, said == Some(*word))
    });
    Ok(Ask { question: "And now that it is dry?", choices: words.collect::<Result<_, _>>()? })
}
