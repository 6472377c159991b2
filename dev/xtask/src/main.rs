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
    /// Write the demo data, or with --check see that what stands there is what would be written
    DemoData {
        /// Folder of the data
        #[arg(long, default_value = "crates/cli/src/demo")]
        into: PathBuf,
        /// Compare instead of writing
        #[arg(long)]
        check: bool,
    },
}

fn main() -> ExitCode {
    let Job::DemoData { into, check } = Call::parse().job;
    let file = into.join("harbour.csv");
    let text = harbour::csv();
    let outcome = if check {
        std::fs::read_to_string(&file).map_err(|e| e.to_string()).and_then(|there| {
            if there == text { Ok(()) } else { Err("differs from its generator".to_owned()) }
        })
    } else {
        std::fs::write(&file, text).map_err(|e| e.to_string())
    };
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{}: {message}", file.display());
            ExitCode::FAILURE
        }
    }
}
