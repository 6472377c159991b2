//! The statistics of Kandrel: pure numbers, no files, clocks or terminals.
//!
//! # Conventions
//! - A series is a slice in order of time, without gaps; places count from 0,
//!   lags from 1.
//! - Autocovariances have divisor n; a regression's variance has divisor rows
//!   minus coefficients; standard deviations for show have divisor n - 1.
//! - `Δy_t = y_t - y_{t-1}`; `p` lags of an ADF regression are p lagged changes.
//! - Criteria are totals, `-2 log L + penalty`, with the full Gaussian likelihood
//!   and the variance among the parameters; candidates share one sample.
//! - A p-value is the null's probability of a statistic at least as extreme, on
//!   the side that speaks against the null: small values for Dickey-Fuller
//!   statistics, large ones for KPSS and portmanteau statistics. Upper tails are
//!   never formed as one minus a lower tail.
//! - p-values of unit-root and stationarity tests are for the series' own length
//!   and for the search that found the statistic ([`nulldist`]).
//! - Logarithms are natural.
//! - A series that is too short, constant, not finite or exactly predictable is
//!   an error that says so; no result holds a value that is not a number.
//!
//! # Layers
//! Each module uses only those above it: [`num`], [`time`], [`series`], [`expr`], [`regressor`],
//! [`boxcox`], [`arma`], [`ols`], [`lag`], [`corr`], [`randomness`], [`predictive`], [`arima`], [`nulldist`],
//! [`unitroot`], [`verdict`], [`shape`], [`diagnosis`], [`robustness`], [`power`], [`identify`], [`var`], [`coint`], [`regression`], [`relation`],
//! [`decomp`], [`outlier`], [`transform`], [`evaluate`], [`screen`].
//!
//! # Example
//! ```
//! use kandrel_core::num::rng::NormalStream;
//! use kandrel_core::unitroot::{AdfOptions, adf};
//!
//! let noise = NormalStream::new(1, 0).take(200);
//! let test = adf(&noise, &AdfOptions::default())?;
//! assert!(test.rejects(0.01));
//! # Ok::<(), kandrel_core::unitroot::UnitRootError>(())
//! ```

pub mod arima;
pub mod arma;
pub mod boxcox;
pub mod coint;
pub mod corr;
pub mod decomp;
pub mod diagnosis;
pub mod evaluate;
pub mod expr;
pub mod identify;
pub mod lag;
pub mod nulldist;
pub mod num;
pub mod ols;
pub mod outlier;
pub mod power;
pub mod predictive;
pub mod randomness;
pub mod regression;
pub mod regressor;
pub mod relation;
pub mod robustness;
pub mod screen;
pub mod series;
pub mod shape;
pub mod time;
pub mod transform;
pub mod unitroot;
pub mod var;
pub mod verdict;
