//! Simulates the null distributions of Kandrel's statistics and fits the
//! response surfaces that its p-values come from.
//!
//! `cargo run --release -p kandrel-nulls -- make` writes the tables of the core.

mod accuracy;
mod adf;
mod archive;
mod check;
mod fit;
mod gls;
mod gram;
mod kpss;
mod long_memory;
mod model_penalties;
mod order_selection;
mod outlier_power;
mod part;
mod products;
mod published;
mod quantile_store;
mod randomness;
mod report;
mod report_breaks;
mod report_multivariate;
mod report_unit_root;
mod residual;
mod sample;
mod seasons;
mod sim_break_lags;
mod sim_breaks;
mod sim_hegy;
mod sim_lag_rules;
mod sim_statistics;
mod simulation_design;
mod size;
mod system;
mod terms_by_data;
mod validate;
mod verdicts;
mod write;

use std::path::PathBuf;
use std::process::ExitCode;

use clap::{Parser, Subcommand, ValueEnum};
use part::Part;
use report::Section;

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
        /// Replications per sample size
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
    /// Simulate some sizes again, with another seed, and compare the p-values of every family with the tables
    Check {
        /// What to check (everything if not given; repeatable)
        #[arg(long)]
        part: Vec<Part>,
        /// Replications per sample size
        #[arg(long, default_value_t = 20_000)]
        draws: usize,
        /// How many sample sizes hold each family
        #[arg(long, default_value_t = 3)]
        sizes: usize,
    },
    /// Fit the prior odds of each model of the verdict to series of random parameters
    Penalties {
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
    /// How often the verdict is right on processes whose name holds this
    Verdicts {
        /// Series of each process and size
        #[arg(long, default_value_t = 1_000)]
        draws: u64,
        /// Part of a name
        #[arg(long, default_value = "")]
        only: String,
    },
    /// Differences of seasonal series of random parameters
    Random,
    /// How often the differences of seasonal series are both right, in the cells whose rates are promised
    Promised {
        /// Series of each cell
        #[arg(long, default_value_t = 400)]
        draws: u64,
    },
    /// Errors of automatic forecasts of the series in a folder of CSV files (time, value)
    Accuracy {
        /// The folder
        folder: PathBuf,
    },
    /// Write the validation report, or sections of it
    Validate {
        /// A section (all if not given; repeatable)
        #[arg(long)]
        section: Vec<Section>,
        /// Series for each figure (each section its own number if not given)
        #[arg(long)]
        draws: Option<u64>,
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
        Job::Penalties { draws } => {
            print!("{}", model_penalties::fitted(draws));
            Ok(())
        }
        Job::Memory { draws } => {
            print!("{}", model_penalties::memory(draws));
            Ok(())
        }
        Job::Accuracy { folder } => {
            accuracy::folder(&folder).map(|cases| print!("{}", accuracy::table(&cases)))
        }
        Job::Verdicts { draws, only } => {
            println!("{}", verdicts::table(draws, &only));
            Ok(())
        }
        Job::Random => {
            print!("{}", seasons::random_rows());
            Ok(())
        }
        Job::Promised { draws } => {
            println!("{}", seasons::promised(draws));
            Ok(())
        }
        Job::Check { part, draws, sizes } => {
            let all = Part::value_variants();
            check::check(if part.is_empty() { all } else { &part }, draws, sizes)
        }
        Job::Validate { section, draws, into } => report::write(&section, draws, &into),
    };
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{message}");
            ExitCode::FAILURE
        }
    }
}
