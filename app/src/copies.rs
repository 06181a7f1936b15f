//! `upright-swatch backup`, `restore`, `export` and `import`: a workshop as one checked copy, or as open
//! files.

use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::Args;
use store::archive::Written;
use store::{Carried, StoreError, archive, backup};

/// Which workshop.
#[derive(Args)]
struct Workshop {
    /// The workshop file.
    #[arg(long, value_name = "FILE", default_value = "workshop.db")]
    db: PathBuf,
}

#[derive(Args)]
pub(crate) struct Backup {
    /// The copy to be made; it must not exist.
    to: PathBuf,
    #[command(flatten)]
    workshop: Workshop,
}

#[derive(Args)]
pub(crate) struct Restore {
    /// A copy that `backup` or the page made. The workshop that is there now is copied first.
    from: PathBuf,
    #[command(flatten)]
    workshop: Workshop,
}

#[derive(Args)]
pub(crate) struct Export {
    /// A new or empty folder for CSV and JSON files.
    to: PathBuf,
    #[command(flatten)]
    workshop: Workshop,
}

#[derive(Args)]
pub(crate) struct Import {
    /// A folder that `export` wrote.
    from: PathBuf,
    #[command(flatten)]
    workshop: Workshop,
}

impl Backup {
    pub fn run(&self) -> ExitCode {
        let (db, to) = (&self.workshop.db, &self.to);
        run(async {
            let pictures = backup::copy_file(db, to).await?;
            Ok(Done::with(
                format!("{} is a checked copy of {}", to.display(), db.display()),
                &pictures,
            ))
        })
    }
}

impl Restore {
    pub fn run(&self) -> ExitCode {
        let (db, from) = (&self.workshop.db, &self.from);
        run(async {
            let done = backup::restore(from, db).await?;
            let kept = |path: &Path| format!("; what was there before is in {}", path.display());
            let kept = done.before.as_deref().map(kept).unwrap_or_default();
            let said = format!("{} is as {} again{kept}", db.display(), from.display());
            Ok(Done::with(said, &done.pictures))
        })
    }
}

impl Export {
    pub fn run(&self) -> ExitCode {
        let (db, to) = (&self.workshop.db, &self.to);
        run(async {
            let Written { rows, pictures } = archive::export(db, to).await?;
            let said = format!("{} holds all {rows} rows of {}", to.display(), db.display());
            Ok(Done::with(said, &pictures))
        })
    }
}

impl Import {
    pub fn run(&self) -> ExitCode {
        let (db, from) = (&self.workshop.db, &self.from);
        run(async {
            let Written { rows, pictures } = archive::import(from, db).await?;
            let said = format!("{} holds all {rows} rows of {}", db.display(), from.display());
            Ok(Done::with(said, &pictures))
        })
    }
}

/// What was done, and what is not whole about it.
struct Done {
    said: String,
    amiss: Option<String>,
}

impl Done {
    fn with(said: String, pictures: &Carried) -> Self {
        let amiss = (!pictures.is_whole()).then(|| {
            format!("some pictures are not in it ({pictures}); every reading taken from them is")
        });
        Self { said, amiss }
    }
}

fn run(work: impl Future<Output = Result<Done, StoreError>>) -> ExitCode {
    let done = tokio::runtime::Runtime::new()
        .map_err(|error| error.to_string())
        .and_then(|runtime| runtime.block_on(work).map_err(|error| error.to_string()));
    match done {
        Ok(Done { said, amiss: None }) => {
            println!("{said}");
            ExitCode::SUCCESS
        }
        // Whoever copies by a timer wants to know.
        Ok(Done { said, amiss: Some(amiss) }) => {
            println!("{said}");
            eprintln!("{amiss}");
            ExitCode::FAILURE
        }
        Err(message) => {
            eprintln!("{message}");
            ExitCode::FAILURE
        }
    }
}
