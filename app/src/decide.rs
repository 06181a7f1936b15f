//! `upright-swatch decide FILE`: which tubes of a readings file to keep, which pairs make greys, and what all reach.

use std::fmt::Write as _;
use std::io::IsTerminal as _;
use std::path::PathBuf;
use std::process::ExitCode;

use clap::Args;
use decide::{Keep, Kept, Limits, Reach, Shelf, confirmed_by, grey_pairs};
use formats::decisions::decisions_to_json;
use study::TubeRef;
use workshop::MOST_KEPT;

use crate::output::{Format, answer, json};
use crate::palette::Palette;

/// Greys that the table tells.
const GREYS: usize = 6;
/// Tubes that every stand-in is mixed with, at most.
const REFERENCES: usize = 8;

#[derive(Args)]
pub(crate) struct Options {
    /// Readings file (CSV; docs/file-formats.md describes it).
    file: PathBuf,
    /// How to print what was found.
    #[arg(long, value_enum, default_value_t = Format::Table)]
    format: Format,
}

pub(crate) fn run(options: &Options) -> ExitCode {
    answer(report(options))
}

fn report(options: &Options) -> Result<String, String> {
    let mut palette = Palette::read(&options.file)?;
    let left_out = palette.keep_first(MOST_KEPT);
    if !left_out.is_empty() {
        let count = left_out.len();
        eprintln!(
            "Only the first {MOST_KEPT} tubes that were read are looked at; {count} are not."
        );
    }
    let mut kept = keep(&palette)?;
    kept.retain(|(name, _)| !left_out.iter().any(|tube| palette.name(*tube) == *name));
    let places: Vec<usize> = (0..palette.tubes.len()).collect();
    let greys = grey_pairs(&palette.paints, &places);
    let mut greys: Vec<_> = greys.iter().filter_map(|grey| grey.put_out(&palette.paints)).collect();
    greys.sort_by(|one, other| one.chroma.total_cmp(&other.chroma));
    let reach = Reach::of(&palette.paints, &places);
    let names = palette.names();
    match options.format {
        Format::Json => {
            json(&decisions_to_json(&kept, &greys, &reach, &names, palette.is_simulated()))
        }
        Format::Table => {
            let mut text = String::new();
            for (name, kept) in &kept {
                let _ = writeln!(text, "{name}: {}", sentence(kept.as_ref(), &names));
            }
            for grey in greys.iter().filter(|grey| grey.neutralises()).take(GREYS) {
                if let ([(a, _), (b, _)], Some(ratio)) =
                    (grey.shares.tubes.as_slice(), grey.ratio())
                {
                    let _ = writeln!(
                        text,
                        "Grey: 1 {} + {ratio:.2} {}, C* up to {:.1}, predicted",
                        names[*a], names[*b], grey.chroma
                    );
                }
            }
            if palette.is_simulated() {
                text.push_str("A simulated device made up readings of this file.\n");
            }
            Ok(text)
        }
    }
}

/// Every colour of the file; `None` for one that was not read well enough.
fn keep(palette: &Palette) -> Result<Vec<(String, Option<Kept>)>, String> {
    let targets: Vec<_> = palette.tubes.iter().map(|tube| palette.target(*tube).ok()).collect();
    let apart = palette.tubes.len().div_ceil(REFERENCES).max(1);
    let references: Vec<usize> = (0..palette.tubes.len()).step_by(apart).collect();
    let confirmed = |place: usize, _: &decide::Recipe| {
        let target = targets.get(place).and_then(Option::as_ref);
        target.is_some_and(|target| {
            let tube = palette.tubes[place];
            confirmed_by(&palette.read.study, &palette.averages, tube, target).is_some()
        })
    };
    let shelf = Shelf {
        paints: &palette.paints,
        targets: &targets,
        references: &references,
        is_confirmed: &confirmed,
        verdict: &|pair| palette.verdict(pair),
    };
    // Nobody stops it here.
    let mut told = Progress::default();
    let mut watch = |done: f64| {
        told.is_at(done);
        true
    };
    let kept = shelf.keep_or_drop(Limits::default(), &mut watch).ok_or("it was stopped")?;
    let of = |tube: &TubeRef| palette.tubes.iter().position(|it| it == tube);
    let named = |tube: TubeRef| {
        let kept = of(&tube).and_then(|place| kept.get(place).cloned());
        (palette.name(tube), kept)
    };
    Ok(palette.all().into_iter().map(named).collect())
}

/// How far the verdicts are, for whoever waits at a terminal: each tenth once.
#[derive(Default)]
struct Progress {
    tenths: u32,
}

impl Progress {
    fn is_at(&mut self, done: f64) {
        let tenths = (10.0 * done) as u32;
        if tenths > self.tenths && std::io::stderr().is_terminal() {
            eprintln!("{} % of the tubes are done", 10 * tenths);
        }
        self.tenths = self.tenths.max(tenths);
    }
}

fn sentence(kept: Option<&Kept>, names: &[String]) -> String {
    let Some(kept) = kept else {
        return "cannot tell yet: read its mass tone and two tints".into();
    };
    let loss = kept.loss().unwrap_or_default();
    let mixture = || {
        let best = kept.best.as_ref()?;
        let parts = best.parts.tubes.iter().map(|(at, parts)| format!("{parts} {}", names[*at]));
        let white = (best.parts.white > 0).then(|| format!("{} white", best.parts.white));
        Some(parts.chain(white).collect::<Vec<_>>().join(" + "))
    };
    let hides = match kept.contrast_gap {
        Some(gap) if kept.only_in_colour() && gap > 0.0 => ", which hides more",
        Some(_) if kept.only_in_colour() => ", which hides less",
        _ => "",
    };
    match kept.verdict {
        Keep::Keep => format!("keep: nothing comes nearer than ΔE00 {loss:.1}"),
        Keep::Twin => {
            let twin = kept.twin.and_then(|at| names.get(at)).map_or("another", String::as_str);
            format!("one of two is enough: {twin} does the same")
        }
        Keep::TryMixture => format!(
            "try this mixture in its place: {}{hides} (predicted within ΔE00 {loss:.1})",
            mixture().unwrap_or_default()
        ),
        Keep::Replaceable => format!("can be mixed: {}{hides}", mixture().unwrap_or_default()),
        Keep::CannotTell => "cannot tell yet".into(),
    }
}
