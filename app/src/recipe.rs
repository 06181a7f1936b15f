//! `upright-swatch recipe FILE --target …`: how to mix a colour from the tubes of a readings file.

use std::fmt::Write as _;
use std::path::PathBuf;
use std::process::ExitCode;

use clap::Args;
use colour::Lab;
use decide::{Limits, MOST_COLOURS, Recipe, Recipes, Target};
use formats::decisions::{FROM_PICTURE, READ, RecipeTold, TYPED, recipes_to_json};

use crate::output::{Format, answer, json};
use crate::palette::Palette;

#[derive(Args)]
pub(crate) struct Options {
    /// Readings file (CSV; docs/file-formats.md describes it).
    file: PathBuf,
    /// A tube of the file, NAME or “NAME (MAKER)”, or a colour L,a,b under the file's light: its mass tone.
    #[arg(long, value_name = "NAME|L,a,b", allow_hyphen_values = true)]
    target: String,
    /// A tube that may be taken; can be given several times. Without it all tubes of the file but the target.
    #[arg(long, value_name = "NAME")]
    from: Vec<String>,
    /// Most colours in a recipe, besides the white.
    #[arg(long, value_name = "N", default_value_t = 3)]
    max: usize,
    /// Leave the white out.
    #[arg(long)]
    no_white: bool,
    /// How to print what was found.
    #[arg(long, value_enum, default_value_t = Format::Table)]
    format: Format,
}

pub(crate) fn run(options: &Options) -> ExitCode {
    answer(report(options))
}

fn report(options: &Options) -> Result<String, String> {
    if !(1..=MOST_COLOURS).contains(&options.max) {
        return Err(format!(
            "--max {}: a recipe takes 1 to {MOST_COLOURS} colours besides the white",
            options.max
        ));
    }
    let palette = Palette::read(&options.file)?;
    let (target, of_tube) = target(&palette, &options.target)?;
    let mut among: Vec<usize> = match options.from.is_empty() {
        true => (0..palette.tubes.len()).filter(|at| Some(palette.tubes[*at]) != of_tube).collect(),
        false => options
            .from
            .iter()
            .map(|name| palette.place(palette.named(name)?))
            .collect::<Result<_, _>>()?,
    };
    among.sort_unstable();
    among.dedup();
    if among.is_empty() {
        return Err(format!(
            "{}: there is no other tube to mix {} of; read a second one",
            palette.file, options.target
        ));
    }
    let limits = Limits { most: options.max, white: !options.no_white, ..Limits::default() };
    // Nobody stops it here.
    let found = Recipes::find(&palette.paints, &target, &among, limits, &mut |_| true)
        .ok_or("the search was stopped")?;
    let names = palette.names();
    match options.format {
        Format::Json => json(&recipes_to_json(
            &found,
            &RecipeTold {
                names: &names,
                tubes_from: &vec![READ; names.len()],
                white_from: palette.paints.white.is_some().then_some(READ),
                target_from: match of_tube {
                    None => TYPED,
                    Some(_) if target.from_picture.is_some() => FROM_PICTURE,
                    Some(_) => READ,
                },
                is_simulated: palette.is_simulated(),
            },
        )),
        Format::Table => Ok(table(&found, &palette, &names)),
    }
}

/// A tube of the file, or three numbers.
fn target(palette: &Palette, text: &str) -> Result<(Target, Option<study::TubeRef>), String> {
    let numbers: Vec<&str> = text.split(',').map(str::trim).collect();
    let values: Option<Vec<f64>> = numbers.iter().map(|it| it.parse().ok()).collect();
    if let Some([l, a, b]) = values.as_deref() {
        let lab = Lab::new(*l, *a, *b);
        let is_lab = (0.0..=100.0).contains(l) && a.abs() <= 200.0 && b.abs() <= 200.0;
        let target = is_lab.then(|| Target::of_lab(lab, &palette.paints));
        return match target {
            Some(Ok(target)) => Ok((target, None)),
            _ => Err(format!("--target {text}: {}", decide::NoTarget::OutsideAllLight)),
        };
    }
    let tube = palette.named(text).map_err(|error| match numbers.len() {
        3 => format!("{error}. A colour is three numbers: L,a,b, as in 45,-30,20"),
        _ => error,
    })?;
    let target = palette
        .target(tube)
        .map_err(|error| format!("{}: {}: {error}", palette.file, palette.name(tube)))?;
    Ok((target, Some(tube)))
}

fn table(found: &Recipes, palette: &Palette, names: &[String]) -> String {
    let mut text = String::new();
    if let Some(limit) = &found.limit {
        let _ = writeln!(
            text,
            "Not reached: of up to {} colours it stays at least ΔE00 {:.1} off ({}).",
            limit.most,
            limit.at_least,
            limit.words().join(", ")
        );
    }
    for (at, recipe) in found.recipes.iter().enumerate() {
        if found.recipes.len() > found.alike && at == found.alike {
            text.push_str("Further off:\n");
        }
        let _ = writeln!(text, "{}", line(recipe, palette, names));
    }
    if palette.is_simulated() {
        text.push_str("A simulated device made up readings of this file.\n");
    }
    text
}

/// `4 Lantern Yellow + 1 Awning Blue + 6 white: ΔE00 0.8 predicted, right within 1.4`
fn line(recipe: &Recipe, palette: &Palette, names: &[String]) -> String {
    let parts = recipe.parts.tubes.iter().map(|(at, parts)| format!("{parts} {}", names[*at]));
    let white = palette.read.study.white.filter(|_| recipe.parts.white > 0);
    let white = white.map(|white| format!("{} {}", recipe.parts.white, palette.name(white)));
    let parts: Vec<String> = parts.chain(white).collect();
    let second =
        recipe.delta_e_second.map_or(String::new(), |it| format!(", {it:.1} by lamplight"));
    let exact = match recipe.parts.is_near {
        true => String::new(),
        false => format!(" (weighed exactly {:.1})", recipe.delta_e),
    };
    format!(
        "{}: ΔE00 {:.1} predicted{exact}{second}; it comes within {:.1}",
        parts.join(" + "),
        recipe.delta_e_parts,
        recipe.claim_of_parts()
    )
}
