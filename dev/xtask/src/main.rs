//! Chores of the workspace.

mod harbour;

use std::path::PathBuf;
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
    let file = into.join("harbour.csv");
    match std::fs::write(&file, harbour::csv()) {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{}: {message}", file.display());
            ExitCode::FAILURE
        }
    }
}
