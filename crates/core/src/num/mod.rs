//! Numerical helpers that know nothing of time series.

pub mod chi_squared;
pub mod fisher;
pub mod minimise;
pub mod normal;
pub mod rng;
pub mod scale;
pub mod student;
pub mod sum;
pub mod triangular;
