//! `upright-swatch compare FILE…`: tubes beside each other, from readings files alone.

use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::Args;
use compare::{Subject, Told, compare};
use formats::comparison::{Compared, to_json};
use formats::readings::ReadingsFile;
use study::{Averages, FittedTubes, TubeLabel, TubeRef};

use crate::analyse::read_file;
use crate::output::{Format, answer, json};
use crate::palette::with_maker;

/// Tubes that are compared, each with each, without being named.
const MOST: usize = 12;

#[derive(Args)]
pub(crate) struct Options {
    /// Readings files (CSV; docs/file-formats.md describes them).
    #[arg(required = true)]
    files: Vec<PathBuf>,
    /// A tube by its name, NAME or “NAME (MAKER)”; can be given several times. Without it all pairs of up to 12 tubes.
    #[arg(long, value_name = "NAME")]
    tube: Vec<String>,
    /// How to print what was found.
    #[arg(long, value_enum, default_value_t = Format::Table)]
    format: Format,
}

pub(crate) fn run(options: &Options) -> ExitCode {
    answer(report(options))
}

/// A file with what it tells of its tubes.
struct Worked {
    name: String,
    file: ReadingsFile,
    averages: Averages,
    fitted: FittedTubes,
}

impl Worked {
    fn read(path: &Path) -> Result<Self, String> {
        let name = path.display().to_string();
        let file = read_file(path).map_err(|error| format!("{name}: {error}"))?;
        let averages = Averages::of(&file.study);
        let fitted = FittedTubes::with_pictures(&file.study, &averages);
        Ok(Self { name, file, averages, fitted })
    }

    fn told(&self) -> Told<'_> {
        Told {
            study: &self.file.study,
            averages: &self.averages,
            fitted: &self.fitted,
            instrument: None,
            sheen_stated: self.file.states("sheen"),
        }
    }
}

/// A tube of one of the files.
struct Tube<'a> {
    file: &'a Worked,
    tube: TubeRef,
    label: TubeLabel,
    /// As it is called in the answer.
    name: String,
}

impl Tube<'_> {
    fn subject(&self) -> Subject<'_> {
        Subject { told: self.file.told(), tube: self.tube }
    }
}

fn report(options: &Options) -> Result<String, String> {
    let files: Vec<Worked> =
        options.files.iter().map(|path| Worked::read(path)).collect::<Result<_, _>>()?;
    let all = tubes(&files);
    let chosen = chosen(&all, &options.tube)?;
    let mut pairs: Vec<Compared> = Vec::new();
    for (at, one) in chosen.iter().enumerate() {
        for other in &chosen[at + 1..] {
            let found = compare(&one.subject(), &other.subject());
            pairs.push(([one.name.clone(), other.name.clone()], found));
        }
    }
    match options.format {
        Format::Table => Ok(pairs.iter().map(line).collect()),
        Format::Json => json(&to_json(&pairs)),
    }
}

/// Every tube but the whites, each with a name of its own: with its maker, and with its file where that is not enough.
fn tubes(files: &[Worked]) -> Vec<Tube<'_>> {
    let mut all: Vec<Tube<'_>> = Vec::new();
    for file in files {
        let study = &file.file.study;
        for tube in (0..study.tubes.len()).map(TubeRef).filter(|tube| Some(*tube) != study.white) {
            let label = study.label(tube);
            let name = with_maker(&label);
            all.push(Tube { file, tube, label, name });
        }
    }
    let names: Vec<String> = all.iter().map(|tube| tube.name.clone()).collect();
    for (tube, name) in all.iter_mut().zip(&names) {
        if names.iter().filter(|it| *it == name).count() > 1 {
            tube.name = format!("{name}, {}", tube.file.name);
        }
    }
    all
}

fn chosen<'a>(all: &'a [Tube<'a>], wanted: &[String]) -> Result<Vec<&'a Tube<'a>>, String> {
    let names = || all.iter().map(|tube| tube.name.as_str()).collect::<Vec<_>>().join("; ");
    if wanted.is_empty() {
        return match all.len() {
            0 | 1 => Err(format!("comparing takes two tubes, and the files have {}", all.len())),
            count if count > MOST => Err(format!(
                "the files have {count} tubes; up to {MOST} are compared at once: choose some with --tube NAME out of \
                 {}",
                names()
            )),
            _ => Ok(all.iter().collect()),
        };
    }
    let mut chosen: Vec<&Tube<'_>> = Vec::new();
    for wanted in wanted {
        let is_it = |tube: &&Tube<'_>| {
            *wanted == tube.name || *wanted == with_maker(&tube.label) || *wanted == tube.label.name
        };
        let before = chosen.len();
        // Like names in two files are two tubes.
        chosen.extend(all.iter().filter(is_it));
        if chosen.len() == before {
            return Err(format!("there is no tube “{wanted}”; the files have {}", names()));
        }
    }
    match chosen.len() {
        1 => Err("comparing takes two tubes: give --tube twice, or a second file".into()),
        count if count > MOST => {
            Err(format!("{count} tubes are too many at once: up to {MOST} are compared"))
        }
        _ => Ok(chosen),
    }
}

fn line(([one, other], found): &Compared) -> String {
    let told = match found {
        Ok(twins) => {
            let brought = match twins.footing.brought_over.as_slice() {
                [] => String::new(),
                words => format!(" Brought over: {}.", words.join("; ")),
            };
            let made_up = match twins.is_simulated {
                true => " A simulated device made up readings of them.",
                false => "",
            };
            format!(
                "{}{brought} {} squares compared.{made_up}",
                twins.sentence([one, other]),
                twins.cells.len()
            )
        }
        Err(apart) => format!("Not to be compared: {apart}."),
    };
    format!("{one} and {other}\n  {told}\n")
}
