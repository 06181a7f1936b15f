//! A readings file as a palette: its tubes with K and S, and what each looks like.

use std::path::Path;

use compare::{Subject, Told, Verdict, compare};
use decide::{NoTarget, Paints, Target, mixes_as_paint};
use formats::readings::ReadingsFile;
use study::{Averages, FittedTubes, State, TubeLabel, TubeRef};

use crate::analyse::read_file;

/// A file's tubes.
pub(crate) struct Palette {
    /// The file's name, for messages.
    pub file: String,
    pub read: ReadingsFile,
    pub averages: Averages,
    fitted: FittedTubes,
    pub paints: Paints,
    /// The study's tube at each place of the paints.
    pub tubes: Vec<TubeRef>,
}

impl Palette {
    pub fn read(path: &Path) -> Result<Self, String> {
        let name = path.display().to_string();
        let read = read_file(path).map_err(|error| format!("{name}: {error}"))?;
        let averages = Averages::of(&read.study);
        let fitted = FittedTubes::of(&read.study, &averages, State::Dry);
        let (paints, tubes) = Paints::of_study(&read.study, &averages, &fitted);
        if tubes.is_empty() {
            return Err(format!(
                "{name}: no tube of this file was read well enough to mix with: read its mass tone and two tints with \
                 the same white, and the white alone"
            ));
        }
        Ok(Self { file: name, read, averages, fitted, paints, tubes })
    }

    /// Every colour of the file by its name, those that nothing can be mixed of included.
    pub fn all(&self) -> Vec<TubeRef> {
        let study = &self.read.study;
        (0..study.tubes.len()).map(TubeRef).filter(|it| Some(*it) != study.white).collect()
    }

    /// Leaves out all that can be mixed of but the first so many; which those are.
    pub fn keep_first(&mut self, most: usize) -> Vec<TubeRef> {
        self.paints.tubes.truncate(most);
        self.tubes.split_off(most.min(self.tubes.len()))
    }

    pub fn name(&self, tube: TubeRef) -> String {
        with_maker(&self.read.study.label(tube))
    }

    /// By place.
    pub fn names(&self) -> Vec<String> {
        self.tubes.iter().map(|tube| self.name(*tube)).collect()
    }

    /// The tube of this name, `NAME` or `NAME (MAKER)`.
    pub fn named(&self, wanted: &str) -> Result<TubeRef, String> {
        let all = self.all();
        let is_it = |tube: &&TubeRef| {
            self.name(**tube) == wanted || self.read.study.label(**tube).name == wanted
        };
        let mut found = all.iter().filter(is_it);
        let names = || all.iter().map(|it| self.name(*it)).collect::<Vec<_>>().join("; ");
        match (found.next(), found.next()) {
            (Some(tube), None) => Ok(*tube),
            (None, _) => {
                Err(format!("{}: there is no tube “{wanted}”; the file has {}", self.file, names()))
            }
            (Some(_), Some(_)) => Err(format!(
                "{}: several tubes are called “{wanted}”: say which, with its maker in brackets, out of {}",
                self.file,
                names()
            )),
        }
    }

    /// The place of a tube among those that can be mixed.
    pub fn place(&self, tube: TubeRef) -> Result<usize, String> {
        self.tubes.iter().position(|it| *it == tube).ok_or_else(|| {
            let (file, name) = (&self.file, self.name(tube));
            let constants = self.fitted.tubes.get(tube.0).and_then(|it| it.constants.as_ref());
            if !mixes_as_paint((&self.read.study, &self.averages), tube, constants) {
                return format!("{file}: {name}: {}", NoTarget::NotAPaint);
            }
            format!(
                "{file}: {name} was not read well enough to mix with: read its mass tone and two tints"
            )
        })
    }

    pub fn target(&self, tube: TubeRef) -> Result<Target, NoTarget> {
        let constants = self.fitted.tubes.get(tube.0).and_then(|it| it.constants.as_ref());
        Target::of_tube((&self.read.study, &self.averages), tube, constants, &self.paints)
    }

    /// Whether one of two tubes, by their places, is enough, by what was read of them.
    pub fn verdict(&self, pair: [usize; 2]) -> Verdict {
        let told = Told {
            study: &self.read.study,
            averages: &self.averages,
            fitted: &self.fitted,
            instrument: None,
            sheen_stated: self.read.states("sheen"),
        };
        let [one, other] = pair.map(|at| Subject { told, tube: self.tubes[at] });
        compare(&one, &other).map_or(Verdict::CannotTell, |twins| twins.verdict())
    }

    /// A simulated device made up some of what this rests on.
    pub fn is_simulated(&self) -> bool {
        self.averages.counted.1 > 0
    }
}

pub(crate) fn with_maker(label: &TubeLabel) -> String {
    match label.maker.as_str() {
        "" => label.name.clone(),
        maker => format!("{} ({maker})", label.name),
    }
}
