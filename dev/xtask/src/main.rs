//! Chores of the workspace.

mod harbour;
mod messy;

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
    /// Write the demo data
    DemoData {
        /// Folder of the data
        #[arg(long, default_value = "crates/cli/src/demo")]
        into: PathBuf,
    },
}

fn main() -> ExitCode {
    let Job::DemoData { into } = Call::parse().job;
    match write(&into) {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{}: {message}", into.display());
            ExitCode::FAILURE
        }
    }
}

fn write(into: &Path) -> Result<(), Box<dyn std::error::Error>> {
    std::fs::write(into.join("harbour.csv"), harbour::csv())?;
    std::fs::write(into.join("messy.csv"), messy::csv())?;
    std::fs::write(into.join("messy.xlsx"), messy::xlsx()?)?;
    Ok(())
}
