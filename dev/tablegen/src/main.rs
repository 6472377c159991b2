//! Simulates the null distributions of Kandrel's statistics and fits the
//! response surfaces that its p-values come from.
//!
//! `cargo run --release -p kandrel-nulls -- make` writes the tables of the core.

mod adf;
mod check;
mod design;
mod fit;
mod kpss;
mod published;
mod randomness;
mod sample;
mod store;
mod terms_by_data;
mod validate;
mod write;

use std::path::PathBuf;
use std::process::ExitCode;

use clap::{Parser, Subcommand};

/// Simulates null distributions; every number follows from the seed.
#[derive(Parser)]
struct Call {
    #[command(subcommand)]
    job: Job,
}

#[derive(Subcommand)]
enum Job {
    /// Simulate everything and write the tables (about half an hour on two cores)
    Make {
        /// Draws per sample size
        #[arg(long, default_value_t = 1_000_000)]
        draws: usize,
        /// Seed of the generator
        #[arg(long, default_value_t = 20_261_124)]
        seed: u64,
        /// File that keeps the simulated quantiles
        #[arg(long, default_value = "target/null-quantiles.csv")]
        points: PathBuf,
        /// Fit anew to the quantiles in that file, without simulating
        #[arg(long)]
        refit: bool,
        /// Folder of the tables
        #[arg(long, default_value = "crates/core/src/nulldist/tables")]
        into: PathBuf,
    },
    /// Simulate a few sizes afresh, with another seed, and compare p-values with the tables
    Check {
        /// Draws per sample size
        #[arg(long, default_value_t = 40_000)]
        draws: usize,
    },
    /// Measure sizes of the tests through the core and list published values beside ours
    Validate {
        /// Draws per sample size
        #[arg(long, default_value_t = 20_000)]
        draws: usize,
        /// File to write
        #[arg(long, default_value = "docs/validation.md")]
        into: PathBuf,
    },
}

fn main() -> ExitCode {
    let outcome = match Call::parse().job {
        Job::Make { draws, seed, points, refit, into } => write::make(draws, seed, &points, refit, &into),
        Job::Check { draws } => check::check(draws),
        Job::Validate { draws, into } => validate::validate(draws, &into),
    };
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{message}");
            ExitCode::FAILURE
        }
    }
}
