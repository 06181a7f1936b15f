//! The arrows of ARCHITECTURE.md hold: no crate takes from one above it, and no two files of a crate point at each other.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

/// Every crate with those it may take from, by itself or through another.
const ARROWS: [(&str, &[&str]); 16] = [
    ("core/colour", &[]),
    ("core/mixing", &["colour"]),
    ("core/study", &["colour", "mixing"]),
    ("core/figures", &["colour", "mixing", "study"]),
    ("core/plan", &["colour", "mixing", "study"]),
    ("core/bench", &["colour", "mixing", "study", "plan"]),
    ("core/sheet", &["colour", "mixing", "study", "plan"]),
    ("core/picture", &["colour", "mixing", "sheet"]),
    ("core/compare", &["colour", "mixing", "study", "figures"]),
    ("core/decide", &["colour", "mixing", "study", "figures", "compare"]),
    ("edge/instruments", CORE),
    ("edge/formats", CORE),
    ("edge/store", &["formats"]),
    ("workshop", &["formats", "store", "instruments"]),
    ("web", &["formats", "instruments", "workshop"]),
    ("app", &["formats", "store", "instruments", "workshop", "web"]),
];
const CORE: &[&str] = &[
    "colour", "mixing", "study", "figures", "plan", "bench", "sheet", "picture", "compare",
    "decide",
];

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().expect("the workspace").to_owned()
}

fn read(path: &Path) -> String {
    fs::read_to_string(path).expect("a file of the workspace")
}

#[test]
fn no_crate_takes_from_one_above_it() {
    let members: BTreeSet<String> =
        ARROWS.iter().filter_map(|(at, _)| at.rsplit('/').next()).map(str::to_owned).collect();
    for (at, may) in ARROWS {
        let text = read(&root().join(at).join("Cargo.toml"));
        let of_product = text.split("[dependencies]").nth(1).expect("dependencies");
        let lines = of_product.lines().skip(1).take_while(|line| !line.starts_with('['));
        let takes = lines.filter_map(|line| line.split(['.', ' ', '=']).next());
        for taken in takes.filter(|it| members.contains(*it)) {
            let is_core = CORE.contains(&taken) && !at.starts_with("core/");
            assert!(may.contains(&taken) || is_core, "{at} takes from {taken}");
        }
    }
}

/// The files of a crate by the path of their module.
struct Files(BTreeMap<Vec<String>, String>);

impl Files {
    fn of(source: &Path) -> Self {
        let mut files = BTreeMap::new();
        let mut folders = vec![(source.to_owned(), Vec::new())];
        while let Some((folder, module)) = folders.pop() {
            for entry in fs::read_dir(&folder).expect("a folder").map(|it| it.expect("an entry")) {
                let (path, name) = (entry.path(), entry.file_name().into_string().expect("a name"));
                let mut own: Vec<String> = module.clone();
                if path.is_dir() {
                    own.push(name);
                    folders.push((path, own));
                } else if let Some(name) = name.strip_suffix(".rs") {
                    if !["lib", "main", "mod"].contains(&name) {
                        own.push(name.to_owned());
                    }
                    files.insert(own, without_tests(&read(&path)));
                }
            }
        }
        Self(files)
    }

    /// The modules that a file takes from.
    fn taken(&self, module: &[String]) -> BTreeSet<Vec<String>> {
        let is_folder = self.0.keys().any(|it| it.len() > module.len() && it.starts_with(module));
        let mut taken = BTreeSet::new();
        for (path, is_passed_on) in paths(&self.0[module]) {
            // What a folder passes on from its files is its list of contents.
            if is_passed_on && is_folder {
                continue;
            }
            if let Some(found) = absolute(module, &path).and_then(|path| self.file_of(&path, 0)) {
                taken.insert(found);
            }
        }
        taken.remove(module);
        taken
    }

    /// The file that says what stands under a path: where a folder passes it on, the file that it comes from.
    fn file_of(&self, path: &[String], depth: usize) -> Option<Vec<String>> {
        let own = (0..=path.len()).rev().find(|at| self.0.contains_key(&path[..*at]))?;
        let module = path[..own].to_vec();
        let Some(name) = path.get(own).filter(|_| depth < 8) else { return Some(module) };
        let passed_on = paths(&self.0[&module]).into_iter().filter(|it| it.1);
        for (from, _) in passed_on.filter(|(from, _)| from.last() == Some(name)) {
            let inside = [&module[..], &from[..]].concat();
            let from = absolute(&module, &from).unwrap_or(inside);
            if from != path {
                return self.file_of(&from, depth + 1);
            }
        }
        Some(module)
    }
}

fn without_tests(text: &str) -> String {
    let code = text.split("#[cfg(test)]").next().unwrap_or_default();
    let lines = code.lines().map(|line| line.split("//").next().unwrap_or_default());
    lines.collect::<Vec<_>>().join("\n")
}

/// Every path that a text takes something from, and whether it is passed on.
fn paths(text: &str) -> Vec<(Vec<String>, bool)> {
    let mut found = Vec::new();
    for statement in text.split(';') {
        let Some(at) = statement.rfind("use ").filter(|at| {
            let before = statement[..*at].trim_end();
            before.is_empty() || before.ends_with(['\n', '}', ')', ']']) || before.ends_with("pub")
        }) else {
            inline(statement, &mut found);
            continue;
        };
        inline(&statement[..at], &mut found);
        let before = statement[..at].trim_end();
        let is_passed_on = before.ends_with("pub") || before.ends_with("pub(crate)");
        let mut all = Vec::new();
        expand(&statement[at + 4..], &[], &mut all);
        found.extend(all.into_iter().map(|path| (path, is_passed_on)));
    }
    found
}

/// Paths in the middle of the code.
fn inline(text: &str, found: &mut Vec<(Vec<String>, bool)>) {
    for (at, _) in text.match_indices("crate::") {
        let end = text[at..].find(|it: char| !(it.is_alphanumeric() || "_:".contains(it)));
        let path = &text[at..end.map_or(text.len(), |end| at + end)];
        found.push((path.split("::").map(str::to_owned).collect(), false));
    }
}

/// `a::{b, c::{d, e}}` → `a::b`, `a::c::d`, `a::c::e`.
fn expand(tree: &str, before: &[String], found: &mut Vec<Vec<String>>) {
    let Some((head, rest)) = tree.split_once('{') else {
        let name = tree.split(" as ").next().unwrap_or_default();
        let own = name.split("::").map(|it| it.trim().to_owned()).filter(|it| !it.is_empty());
        found.push(before.iter().cloned().chain(own).collect());
        return;
    };
    let head = head.split("::").map(|it| it.trim().to_owned()).filter(|it| !it.is_empty());
    let before: Vec<String> = before.iter().cloned().chain(head).collect();
    let inner = rest.rsplit_once('}').map_or(rest, |it| it.0);
    let (mut depth, mut from) = (0, 0);
    for (at, letter) in inner.char_indices().chain([(inner.len(), ',')]) {
        match letter {
            '{' => depth += 1,
            '}' => depth -= 1,
            ',' if depth == 0 => {
                if !inner[from..at].trim().is_empty() {
                    expand(&inner[from..at], &before, found);
                }
                from = at + 1;
            }
            _ => {}
        }
    }
}

/// From the root of the crate; `None` for what another crate has.
fn absolute(module: &[String], path: &[String]) -> Option<Vec<String>> {
    match path.first()?.as_str() {
        "crate" => Some(path[1..].to_vec()),
        "self" => Some([module, &path[1..]].concat()),
        "super" => {
            let up = path.iter().take_while(|it| *it == "super").count();
            Some([&module[..module.len().checked_sub(up)?], &path[up..]].concat())
        }
        _ => None,
    }
}

/// Takes away files that take from none of the rest, until none is left, or only such as stand in a circle.
#[test]
fn no_two_files_point_at_each_other() {
    for (at, _) in ARROWS {
        let files = Files::of(&root().join(at).join("src"));
        let mut left: BTreeMap<Vec<String>, BTreeSet<Vec<String>>> =
            files.0.keys().map(|module| (module.clone(), files.taken(module))).collect();
        assert!(left.len() < 3 || left.values().any(|it| !it.is_empty()), "{at}: nothing is seen");
        loop {
            let known: BTreeSet<Vec<String>> = left.keys().cloned().collect();
            let before = left.len();
            left.retain(|_, taken| taken.iter().any(|it| known.contains(it)));
            if left.len() == before {
                break;
            }
        }
        assert!(left.is_empty(), "{at}: {left:#?}");
    }
}

/// The reader of `use` lines sees what it should.
#[test]
fn paths_are_taken_apart() {
    let text = "//! Words.\nuse std::fmt;\nuse super::{a::{B, C}, d};\npub(crate) use e::F;\nfn g() { crate::h::i(); }";
    let words = |path: &[&str]| path.iter().map(|it| (*it).to_owned()).collect::<Vec<_>>();
    let found = paths(&without_tests(text));
    for (path, is_passed_on) in [
        (words(&["std", "fmt"]), false),
        (words(&["super", "a", "B"]), false),
        (words(&["super", "a", "C"]), false),
        (words(&["super", "d"]), false),
        (words(&["e", "F"]), true),
        (words(&["crate", "h", "i"]), false),
    ] {
        assert!(found.contains(&(path.clone(), is_passed_on)), "{path:?} in {found:?}");
    }
}
