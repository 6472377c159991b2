//! Seasonal mixtures of autoregression and moving average: exact likelihood and its slope.

mod adjoint;
mod coefficients;
mod columns;
mod cross;
mod dual;
mod likelihood;
mod seasonal;

pub use coefficients::Coefficients;
pub use likelihood::{Likelihood, likelihood};
