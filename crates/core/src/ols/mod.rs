//! Least squares read off a triangular factor; long-run variances.

mod durbin_watson;
mod estimates;
mod long_run;

pub use durbin_watson::durbin_watson;
pub use estimates::{Estimates, OlsError, estimate, nested_residual_sums};
pub(crate) use estimates::{dependent_column, dependent_column_beyond};
pub use long_run::{
    Bandwidth, autocovariances_examined, automatic_bandwidth, bartlett_variance, partial_sums,
    variance_from_partial_sums,
};
