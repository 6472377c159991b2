//! Simulates the null distributions of Kandrel's statistics and fits the
//! response surfaces that its p-values come from.
//!
//! `cargo run --release -p kandrel-nulls -- make` writes the tables of the core.

mod adf;
mod check;
mod design;
mod extended;
mod fit;
mod further;
mod gls;
mod gram;
mod kpss;
mod late;
mod later;
mod models;
mod odd;
mod part;
mod prices;
mod products;
mod published;
mod randomness;
mod residual;
mod roots;
mod rules;
mod sample;
mod searched;
mod seasons;
mod several;
mod store;
mod system;
mod terms_by_data;
mod validate;
mod verdicts;
mod write;

use std::path::PathBuf;
use std::process::ExitCode;

use clap::{Parser, Subcommand, ValueEnum};
use part::Part;

/// Simulates null distributions; every number follows from the seed.
#[derive(Parser)]
struct Call {
    #[command(subcommand)]
    job: Job,
}

#[derive(Subcommand)]
enum Job {
    /// Simulate everything and write the tables (about two hours on two cores)
    Make {
        /// What to simulate (everything if not given; repeatable)
        #[arg(long)]
        part: Vec<Part>,
        /// Draws per sample size
        #[arg(long, default_value_t = 1_000_000)]
        draws: usize,
        /// Seed of the generator
        #[arg(long, default_value_t = 20_261_124)]
        seed: u64,
        /// Folder that keeps the simulated quantiles, a file for each size
        #[arg(long, default_value = "target/null-quantiles")]
        points: PathBuf,
        /// Take quantiles that are in that folder already; simulate the rest
        #[arg(long)]
        again: bool,
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
    /// Published values and sizes of the tests beside ADF and KPSS
    Further {
        /// Series for each size
        #[arg(long, default_value_t = 20_000)]
        draws: u64,
    },
    /// Published values and sizes of the tests with breaks under the null and of those drawn
    Later {
        /// Series for each size
        #[arg(long, default_value_t = 20_000)]
        draws: u64,
    },
    /// Fit what each story of the verdict pays, on series of random parameters
    Prices {
        /// Series for each unit of share and size
        #[arg(long, default_value_t = 100)]
        draws: u64,
    },
    /// Where long memory would be flagged by mistake, on series of random parameters
    Memory {
        /// Series of each size
        #[arg(long, default_value_t = 1_000)]
        draws: u64,
    },
    /// How often odd values are found, and found where there are none
    Odd {
        /// Series of each noise and size
        #[arg(long, default_value_t = 1_000)]
        draws: u64,
    },
    /// How often the search finds the orders of known models
    Models {
        /// Series of each model
        #[arg(long, default_value_t = 500)]
        draws: u64,
    },
    /// How the likelihood tells seasons that stay from seasons that change
    Seasons {
        /// Series of each process and size
        #[arg(long, default_value_t = 1_000)]
        draws: u64,
    },
    /// How often intervals of known models hold what comes
    Coverage {
        /// Series of each model
        #[arg(long, default_value_t = 5_000)]
        draws: u64,
    },
    /// Published values and sizes of the tests of several series
    Several {
        /// Series for each size
        #[arg(long, default_value_t = 20_000)]
        draws: u64,
    },
    /// How often the verdict is right on known processes
    Verdicts {
        /// Series of each process and size
        #[arg(long, default_value_t = 1_000)]
        draws: u64,
        /// Only processes whose name holds this
        #[arg(long, default_value = "")]
        only: String,
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
        Job::Make { part, draws, seed, points, again, into } => {
            let all = Part::value_variants();
            let parts = if part.is_empty() { all } else { &part };
            write::make(parts, draws, seed, &write::Kept { folder: &points, again }, &into)
        }
        Job::Further { draws } => {
            print!("{}", further::section(draws));
            Ok(())
        }
        Job::Later { draws } => {
            print!("{}", later::section(draws));
            Ok(())
        }
        Job::Prices { draws } => {
            print!("{}", prices::fitted(draws));
            Ok(())
        }
        Job::Memory { draws } => {
            print!("{}", prices::memory(draws));
            Ok(())
        }
        Job::Odd { draws } => {
            print!("{}", odd::section(draws));
            Ok(())
        }
        Job::Models { draws } => {
            print!("{}", models::section(draws));
            Ok(())
        }
        Job::Seasons { draws } => {
            print!("{}", seasons::section(draws));
            Ok(())
        }
        Job::Several { draws } => {
            print!("{}", several::section(draws));
            Ok(())
        }
        Job::Coverage { draws } => {
            print!("{}", models::coverage(draws));
            Ok(())
        }
        Job::Verdicts { draws, only } => {
            println!("{}", verdicts::table(draws, &only));
            Ok(())
        }
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
