//! Chores of the workspace.

mod builds;
mod charters;
mod gate;
mod harbour;
mod messy;
mod region;
mod timber;

use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::{Parser, Subcommand};

#[derive(Parser)]
struct Call {
    #[command(subcommand)]
    job: Job,
}

#[derive(Subcommand)]
enum Job {
    /// Write the JSON Schema of each command's output
    Schema {
        /// Folder of the schemas
        #[arg(long, default_value = "docs/schema")]
        into: PathBuf,
    },
    /// Write the glossary
    Glossary {
        /// The page
        #[arg(long, default_value = "docs/glossary.md")]
        into: PathBuf,
    },
    /// Write the demo data
    DemoData {
        /// Folder of the data
        #[arg(long, default_value = "crates/cli/src/demo")]
        into: PathBuf,
    },
    /// Compare the JSON numbers of two builds on the golden calls
    CompareBuilds {
        /// The program before
        old: PathBuf,
        /// The program after
        new: PathBuf,
    },
}

fn main() -> ExitCode {
    let (at, done) = match Call::parse().job {
        Job::DemoData { into } => (into.clone(), write(&into)),
        Job::Glossary { into } => {
            (into.clone(), std::fs::write(&into, kandrel::glossary()).map_err(Into::into))
        }
        Job::Schema { into } => (into.clone(), write_schemas(&into)),
        Job::CompareBuilds { old, new } => (new.clone(), builds::compare(&old, &new)),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{}: {message}", at.display());
            ExitCode::FAILURE
        }
    }
}

fn write_schemas(into: &Path) -> Result<(), Box<dyn std::error::Error>> {
    std::fs::create_dir_all(into)?;
    for (name, schema) in kandrel::schemas() {
        std::fs::write(into.join(format!("{name}.json")), schema)?;
    }
    Ok(())
}

fn write(into: &Path) -> Result<(), Box<dyn std::error::Error>> {
    std::fs::write(into.join("harbour.csv"), harbour::csv())?;
    std::fs::write(into.join("region.csv"), region::csv())?;
    std::fs::write(into.join("charters.csv"), charters::csv())?;
    std::fs::write(into.join("timber.csv"), timber::csv())?;
    std::fs::write(into.join("gate.csv"), gate::csv())?;
    std::fs::write(into.join("messy.csv"), messy::csv())?;
    std::fs::write(into.join("messy.xlsx"), messy::xlsx()?)?;
    Ok(())
}
