//! `upright-swatch backup`, `restore`, `export` and `import`: a workshop as one checked copy, or as open
//! files.

use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::Args;
use store::{StoreError, archive, backup};

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
            backup::copy_file(db, to).await?;
            Ok(format!("{} is a checked copy of {}", to.display(), db.display()))
        })
    }
}

impl Restore {
    pub fn run(&self) -> ExitCode {
        let (db, from) = (&self.workshop.db, &self.from);
        run(async {
            let before = backup::restore(from, db).await?;
            let kept = |path: &Path| format!("; what was there before is in {}", path.display());
            let kept = before.as_deref().map(kept).unwrap_or_default();
            Ok(format!("{} is as {} again{kept}", db.display(), from.display()))
        })
    }
}

impl Export {
    pub fn run(&self) -> ExitCode {
        let (db, to) = (&self.workshop.db, &self.to);
        run(async {
            let rows = archive::export(db, to).await?;
            Ok(format!("{} holds all {rows} rows of {}", to.display(), db.display()))
        })
    }
}

impl Import {
    pub fn run(&self) -> ExitCode {
        let (db, from) = (&self.workshop.db, &self.from);
        run(async {
            let rows = archive::import(from, db).await?;
            Ok(format!("{} holds all {rows} rows of {}", db.display(), from.display()))
        })
    }
}

fn run(work: impl Future<Output = Result<String, StoreError>>) -> ExitCode {
    let done = tokio::runtime::Runtime::new()
        .map_err(|error| error.to_string())
        .and_then(|runtime| runtime.block_on(work).map_err(|error| error.to_string()));
    match done {
        Ok(said) => {
            println!("{said}");
            ExitCode::SUCCESS
        }
        Err(message) => {
            eprintln!("{message}");
            ExitCode::FAILURE
        }
    }
}
