//! Seasonal ARMA models: exact likelihood and its slope, estimates, the grid of orders, forecasts.
//!
//! # The model
//! `φ(B) Φ(B^s) w = θ(B) Θ(B^s) e` for the differenced series w, with `φ(B) = 1 - Σ φ_i B^i`, `θ(B) = 1 + Σ θ_j B^j`,
//! Φ and Θ alike in `B^s`; orders p, q, P, Q; e of variance σ².
//!
//! # How the likelihood is found
//! Let x follow `Φ(B^s) x = Θ(B^s) e`, so that `φ(B) w = θ(B) x`. The s phases of x are independent ARMA(P,Q)
//! processes with the same coefficients: n/s scalars whiten all of them. The short orders remain a correction of p + q
//! columns at the ends, so the cost does not grow with s.
//!
//! 1. `u_t = φ(B) w_t` for t > p; u depends on x alone.
//! 2. Columns in the place of x: the data, from `x_t = u_t - Σ θ_j x_{t-j}` with zeros before; `M_a`, one for each of the
//!    q values of x before the sample; `C_i`, the covariance of x with `w_i` for each of the first p values.
//! 3. Every column is whitened: `v_t = x_t - Σ Φ_i x_{t-is} - Σ_j b_{k,j} v_{t-js}`, of variance `f_k` in period k.
//! 4. With G the products of the whitened columns over f, `A = G_MM`, `Π = A⁻¹ G_MC`, `z = -A⁻¹ G_M0`,
//!    `D = Γ - G_CC + G_CM Π`, `r = w_{1..p} - G_C0 - G_CM z`, the quadratic form is
//!    `S = G_00 + G_0M z + r' D⁻¹ r` and the determinant `Σ ln f + ln|A| + ln|D|`:
//!    `-2 log L = n ln(2π S/n) + n + ln|Σ|`.
//! 5. The slope runs the same way backwards (reverse mode, by hand), the scalars by forward dual numbers.
//!
//! Missing values are columns of their own that are integrated out; regressors are columns that are estimated.
//!
//! # Letters
//! | letter | holds |
//! | --- | --- |
//! | w | the differenced series |
//! | u | w after φ(B) |
//! | x | the seasonal process that θ(B) makes u of |
//! | v | a column after the whitening of its phases |
//! | z | the estimate of the q values of x before the sample |
//! | f, b | variance and weights of the innovations of a phase, by period |
//! | k, τ | period and place of a value; phases are the places within a period |
//! | M, C | the columns that correct the ends |
//! | Γ | the covariance of the first p values of w |
//! | L | the log likelihood, concentrated over σ² |
//!
//! # Reading order of `engine/`
//! `seasonal` (f and b) and `dual` (their derivatives), `steps` (f and b period by period), `grid` (periods and phases),
//! `kernels`, `rows`, `phases` (the inner loops), `whitening` (v), `profiles`, `sequences` and `cross` (M and C over
//! phases and periods, and their products), `symmetric`, `corrections` (A, D, Γ), `plan` (all that does not depend on
//! the series), `likelihood`, `adjoint` (the slope), `precision` (Σ⁻¹ times a series), `recursive` (missing values),
//! `predictor` (one-step errors and
//! forecasts).
//!
//! # Source
//! The decomposition into phases is our own derivation, checked against dense covariance matrices, a filter in
//! state-space form and arithmetic of 60 digits; the innovations of a phase: Brockwell, P. J. and Davis, R. A. (1991),
//! *Time Series: Theory and Methods*, 2nd ed., section 5.3.
//!
//! # Example
//! ```
//! use kandrel_core::arima::{Data, Model, fit};
//! use kandrel_core::num::rng::NormalStream;
//!
//! let mut y = NormalStream::new(2, 0).take(300);
//! for t in 1..y.len() {
//!     y[t] += 0.7 * y[t - 1];
//! }
//! let model = Model::parse("(1,0,0)").expect("a model");
//! let found = fit(&Data::complete(&y), model)?;
//! assert!((found.coefficients.ar[0] - 0.7).abs() < 0.15);
//! # Ok::<(), kandrel_core::arima::FitError>(())
//! ```

mod coefficients;
mod data;
mod diagnose;
mod engine;
mod fit;
mod forecast;
mod model;
mod roots;
mod search;
mod transform;
mod two_stages;
mod uncertain;
mod walk;

pub use coefficients::Coefficients;
pub use data::Data;
pub use diagnose::{Diagnosis, diagnose};
pub use engine::{Likelihood, Precision, Sample, likelihood, likelihood_with_gaps};
pub use fit::{Criteria, Fit, FitError, fit, fit_at, fit_from, fit_near, fit_simply};
pub use forecast::{ForecastError, Known, forecast};
pub use model::{Level, Model, ModelError, WrittenModel};
pub use roots::{Root, roots};
pub use search::{Candidate, Grid, ModelWarning, chosen, search, search_for_choice, warnings};
pub use two_stages::{SECOND_STAGE, has_many_columns, search_in_two_stages};
pub use uncertain::forecast_with_estimates;
pub use walk::walk;
