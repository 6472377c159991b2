//! The option that names the regressors of a model.

use clap::Args;

/// The regressors of a model.
#[derive(Args, Clone)]
pub struct WithArgs {
    /// Regressors, separated by commas: columns, (a:ln,d1), step=PERIOD, pulse=PERIOD, ramp=PERIOD, trend, seasons, seasons=PERIOD, harmonics=N, workdays
    #[arg(long = "with", value_name = "COLUMNS", help_heading = "Method")]
    pub terms: Option<String>,
}
