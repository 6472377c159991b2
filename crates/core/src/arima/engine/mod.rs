//! The exact Gaussian likelihood of seasonal models, its slope, one-step errors and forecasts; the map is in [`super`].

pub(in crate::arima) mod adjoint;
pub(in crate::arima) mod corrections;
pub(in crate::arima) mod cross;
pub(in crate::arima) mod dual;
pub(in crate::arima) mod kernels;
pub(in crate::arima) mod layout;
pub(in crate::arima) mod likelihood;
pub(in crate::arima) mod phases;
pub(in crate::arima) mod plan;
pub(in crate::arima) mod precision;
pub(in crate::arima) mod predictor;
pub(in crate::arima) mod profiles;
pub(in crate::arima) mod recursive;
pub(in crate::arima) mod rows;
pub(in crate::arima) mod schedule;
pub(in crate::arima) mod seasonal;
pub(in crate::arima) mod sequences;
pub(in crate::arima) mod symmetric;
pub(in crate::arima) mod whitening;

pub use likelihood::{Likelihood, Sample, likelihood, likelihood_with_gaps};
pub use precision::Precision;
