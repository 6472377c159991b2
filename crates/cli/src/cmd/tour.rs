//! `kandrel tour`: a worked example on the demo data.

use std::path::{Path, PathBuf};

use crate::cmd::{Parsed, typed};
use crate::context::Context;
use crate::error::CliError;

pub const ABOUT: &str = "A full worked example on the demo data; writes figures and JSON into a folder";
pub const EXAMPLES: &str = "Example:\n  kandrel tour --into first-look";

#[derive(clap::Args)]
pub struct Args {
    /// Folder for figures and JSON (default: kandrel-tour, with a number if that exists)
    #[arg(long, value_name = "DIR")]
    into: Option<PathBuf>,
}

/// One stop: what is asked, the command, and the files it leaves.
struct Stop {
    question: &'static str,
    /// The call, without the program's name.
    words: &'static str,
    file: &'static str,
    figure: bool,
}

const STOPS: &[Stop] = &[
    Stop {
        question: "What is in the file? Osmere Bay's harbour office keeps eight monthly series.",
        words: "inspect demo:harbour",
        file: "1-inspect",
        figure: false,
    },
    Stop {
        question: "Are the waiting hours of ships autocorrelated?",
        words: "acf demo:harbour waiting",
        file: "2-acf-waiting",
        figure: true,
    },
    Stop {
        question: "Can the waiting hours be modelled without differencing?",
        words: "stationarity demo:harbour waiting",
        file: "3-stationarity-waiting",
        figure: false,
    },
    Stop {
        question: "Is the price index of berths stationary?",
        words: "stationarity demo:harbour berth_fee",
        file: "4-stationarity-berth_fee",
        figure: true,
    },
    Stop {
        question: "What does the autocorrelation of container freight show before differencing ...",
        words: "acf demo:harbour freight:ln",
        file: "5-acf-freight",
        figure: true,
    },
    Stop {
        question: "... and after a first and a seasonal difference of its logarithm?",
        words: "acf demo:harbour freight:ln,d1,d12",
        file: "6-acf-freight-differenced",
        figure: true,
    },
    Stop {
        question: "Ice sales are strongly seasonal. Is the seasonal pattern the same every year?",
        words: "plot demo:harbour ice --by-season",
        file: "7-plot-ice",
        figure: true,
    },
    Stop {
        question: "How did the seasonal pattern change, and what remains without it?",
        words: "decompose demo:harbour ice",
        file: "8-decompose-ice",
        figure: true,
    },
    Stop {
        question: "Which months of ice sales are outliers?",
        words: "outliers demo:harbour ice",
        file: "9-outliers-ice",
        figure: true,
    },
    Stop {
        question: "Back to freight: which ARIMA model fits it best?",
        words: "orders demo:harbour freight:perday,ln",
        file: "10-orders-freight",
        figure: false,
    },
    Stop {
        question: "What are the estimates, and are the residuals autocorrelated?",
        words: "fit demo:harbour freight:perday,ln --model (0,1,1)(0,1,1)12",
        file: "11-fit-freight",
        figure: true,
    },
    Stop {
        question: "Are its forecasts better than the benchmarks?",
        words: "compare demo:harbour freight:perday,ln --model (0,1,1)(0,1,1)12 --rolling 36",
        file: "12-compare-freight",
        figure: false,
    },
    Stop {
        question: "What is the forecast for the next two years, in tons?",
        words: "forecast demo:harbour freight:perday,ln --model (0,1,1)(0,1,1)12 --ahead 24",
        file: "13-forecast-freight",
        figure: true,
    },
    Stop {
        question: "Another file: quarterly data of the region. Are wages, rents and output stationary?",
        words: "stationarity demo:region wages rents output",
        file: "14-stationarity-region",
        figure: false,
    },
    Stop {
        question: "Are they cointegrated, and which series adjust?",
        words: "cointegration demo:region wages rents output",
        file: "15-cointegration-region",
        figure: false,
    },
    Stop {
        question: "How many lags does a system of their changes need, and is there Granger causality?",
        words: "lags demo:region wages:d1 rents:d1 output:d1 --causality",
        file: "16-lags-region",
        figure: false,
    },
    Stop {
        question: "Sailings follow bookings by two months. How strong is the relation?",
        words: "ols demo:harbour sailings --on bookings[t-2]",
        file: "17-ols-sailings",
        figure: true,
    },
    Stop {
        question: "How do all eight series of the harbour compare in one table?",
        words: "screen demo:harbour",
        file: "18-screen-harbour",
        figure: false,
    },
];

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let folder = new_folder(args.into.as_deref())?;
    for (number, stop) in (1..).zip(STOPS) {
        let shown = command(stop, &[])?.call;
        writeln!(context.stdout, "{number}. {}\n\n$ {shown}\n", stop.question)?;
        let json = folder.join(format!("{}.json", stop.file));
        run_words(stop, &["--out", &json.to_string_lossy()], context)?;
        let figure = folder.join(format!("{}.svg", stop.file));
        let picture = folder.join(format!("{}.png", stop.file));
        if stop.figure {
            run_words(stop, &["--figure", &figure.to_string_lossy()], context)?;
            let unread =
                context.quiet(|quiet| run_words(stop, &["--figure", &picture.to_string_lossy()], quiet));
            unread?;
        } else {
            run_words(stop, &[], context)?;
        }
        writeln!(context.stdout)?;
    }
    writeln!(
        context.stdout,
        "{}. Finally, the complete analysis of freight as one report.\n",
        STOPS.len() + 1
    )?;
    let report = folder.join("freight-report").to_string_lossy().into_owned();
    writeln!(context.stdout, "$ kandrel study demo:freight.toml --into {report}\n")?;
    read(&["study", "demo:freight.toml", "--into", &report])?.run(context)?;
    writeln!(
        context.stdout,
        "\nEvery result is in {} as JSON, every figure as SVG and PNG. Now with your own data:\n  kandrel inspect FILE.csv\n  \
         kandrel study --new FILE.csv SERIES --out study.toml\n  kandrel study study.toml",
        folder.display()
    )?;
    Ok(())
}

/// A call of the tour, read.
fn read(words: &[&str]) -> Result<Parsed, CliError> {
    typed(words).map_err(|error| CliError::computation(error.to_string()))
}

/// The call of a stop, with more words.
fn command(stop: &Stop, more: &[&str]) -> Result<Parsed, CliError> {
    read(&stop.words.split_whitespace().chain(more.iter().copied()).collect::<Vec<_>>())
}

fn run_words(stop: &Stop, more: &[&str], context: &mut Context<'_>) -> Result<(), CliError> {
    // The files of the tour itself are no part of what is recorded.
    command(stop, more)?.run_as(&command(stop, &[])?.call, context)
}

/// The folder named, which must not hold files yet; or the first free name.
fn new_folder(named: Option<&Path>) -> Result<PathBuf, CliError> {
    let folder = match named {
        Some(folder) => folder.to_path_buf(),
        None => free_name(),
    };
    let occupied = folder.exists() && !folder.read_dir().is_ok_and(|mut entries| entries.next().is_none());
    if occupied {
        return Err(CliError::call(format!("{} exists and is not an empty folder", folder.display()))
            .advise("name a new folder with --into"));
    }
    crate::output::make_folder(&folder)?;
    Ok(folder)
}

fn free_name() -> PathBuf {
    let base = PathBuf::from("kandrel-tour");
    let numbered = (2..).map(|number| PathBuf::from(format!("kandrel-tour-{number}")));
    std::iter::once(base).chain(numbered).find(|folder| !folder.exists()).unwrap_or_default()
}
