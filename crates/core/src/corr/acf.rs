//! Autocorrelations, their standard errors and portmanteau statistics.

use schemars::JsonSchema;
use serde::Serialize;
use thiserror::Error;

use super::definite::{is_definite, nearest_definite};
use super::lagged::lagged_products;
use super::partial::{partial_autocorrelations, partial_by_least_squares};
use crate::num::scale::{self, InvalidSeries};
use crate::num::{chi_squared, normal};

/// The fewest observations that have an autocorrelation.
const MIN_OBSERVATIONS_ACF: usize = 3;

/// How partial autocorrelations are estimated.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, JsonSchema, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum PacfMethod {
    /// From the autocorrelations: Durbin and Levinson.
    #[default]
    YuleWalker,
    /// The last coefficient of a regression on that number of lags, all on one sample.
    LeastSquares,
}

/// Options of the autocorrelation function.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct AcfOptions {
    /// How partial autocorrelations are estimated.
    pub pacf: PacfMethod,
    /// Parameters fitted to the series, if it is of residuals: that number of degrees of freedom
    /// less for the portmanteau statistics.
    pub fitted: usize,
    /// Largest lag; default: [`default_lags`].
    pub lags: Option<usize>,
    /// Seasonal period, 1 for none; 0 counts as 1.
    pub season: usize,
}

/// Why there are no autocorrelations.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum AcfError {
    /// A series that nothing can be done with.
    #[error(transparent)]
    InvalidSeries(#[from] InvalidSeries),
    /// As many lags as observations, or none.
    #[error("{lags} lags for {observations} observations")]
    Lags {
        /// Lags asked for.
        lags: usize,
        /// Observations given.
        observations: usize,
    },
    /// Least squares needs a series without gaps and more observations than twice the
    /// lags.
    #[error(
        "partial autocorrelations by least squares need a series without gaps, longer than twice the lags"
    )]
    LeastSquares,
}

/// Everything at one lag.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct AcfLag {
    /// The lag.
    pub lag: usize,
    /// Autocorrelation.
    pub acf: f64,
    /// Bartlett's standard error of it, were the series a moving average of a
    /// lower order.
    pub acf_se: f64,
    /// Partial autocorrelation.
    pub pacf: f64,
    /// Ljung-Box statistic of all lags up to this one.
    pub q: f64,
    /// Its p-value.
    pub p_value: Option<f64>,
}

/// Autocorrelations of a series.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct Acf {
    /// Known values of the series.
    pub observations: usize,
    /// Its mean.
    pub mean: f64,
    /// Its variance, divisor n.
    pub variance: f64,
    /// Lags 1, 2, ….
    pub lags: Vec<AcfLag>,
    /// Half the width of the 95 % band of white noise, `1.96/√n`.
    pub band: f64,
    /// Lags whose autocorrelation lies outside the band.
    pub significant: Vec<usize>,
    /// How the partial ones were estimated.
    pub pacf_method: PacfMethod,
    /// Parameters fitted to the series.
    pub fitted: usize,
}

/// The default largest lag: three seasons (24 at least) for seasonal data, 40
/// otherwise, a quarter of the observations at most.
pub fn default_lags(n: usize, season: usize) -> usize {
    let wanted = if season > 1 { (3 * season).max(24) } else { 40 };
    wanted.min(n / 4).max(1)
}

/// Autocorrelation and partial autocorrelation functions with portmanteau
/// statistics.
///
/// # Formula
/// `r_k = c_k / c_0`, `c_k = (1/n) Σ (y_t - ȳ)(y_{t-k} - ȳ)`; partial ones by
/// [`partial_autocorrelations`]; `se_k = √((1 + 2 Σ_{j<k} r_j²)/n)`;
/// `Q_k = n (n+2) Σ_{j≤k} r_j²/(n-j)`, χ² with k degrees of freedom, less one for each
/// fitted parameter.
///
/// # Input
/// `y` in order of time, without gaps, at least 3 values.
///
/// # Errors
/// [`AcfError`].
///
/// # Numerics
/// `n` products per lag for short series, [`lagged_products`] for long ones.
///
/// # References
/// Bartlett (1946), *JRSS Supplement* 8, 27-41; Ljung and Box (1978),
/// *Biometrika* 65, 297-303.
pub fn acf(y: &[f64], options: &AcfOptions) -> Result<Acf, AcfError> {
    let n = y.len();
    if n < MIN_OBSERVATIONS_ACF {
        return Err(AcfError::InvalidSeries(InvalidSeries::TooShort {
            observations: n,
            needed: MIN_OBSERVATIONS_ACF,
        }));
    }
    scale::check(y)?;
    let most = options.lags.unwrap_or_else(|| default_lags(n, options.season));
    if most == 0 || most >= n {
        return Err(AcfError::Lags { lags: most, observations: n });
    }
    let cells: Vec<Option<f64>> = y.iter().copied().map(Some).collect();
    from_cells(&cells, most, options)
}

/// [`acf`] of a series with gaps, from the pairs that are there.
///
/// # Formula
/// With `m_k` the pairs of known values k apart and m known values,
/// `r_k = (n-k)/n · (Σ over pairs / m_k) / (Σ of squares / m)`, which is that of [`acf`]
/// where none is missing; `Q_k = m (m+2) Σ r_j² / m_j`. A lag without any pair has `r = 0`. Where these are autocorrelations
/// that no series has (partial ones beyond 1), the negative part of their spectrum is left out.
///
/// # Errors
/// [`AcfError`], as for a series of the known values.
///
/// # References
/// Parzen (1963), *Sankhyā* A 25, 383-392; Hall, Fisher and Hoffmann (1994), *Annals of Statistics* 22, 2115-2134.
pub fn acf_with_gaps(cells: &[Option<f64>], options: &AcfOptions) -> Result<Acf, AcfError> {
    let known: Vec<f64> = cells.iter().flatten().copied().collect();
    if known.len() == cells.len() {
        return acf(&known, options);
    }
    if known.len() < MIN_OBSERVATIONS_ACF {
        return Err(AcfError::InvalidSeries(InvalidSeries::TooShort {
            observations: known.len(),
            needed: MIN_OBSERVATIONS_ACF,
        }));
    }
    scale::check(&known)?;
    let most = options.lags.unwrap_or_else(|| default_lags(known.len(), options.season));
    if most == 0 || most >= known.len() {
        return Err(AcfError::Lags { lags: most, observations: known.len() });
    }
    from_cells(cells, most, options)
}

fn from_cells(cells: &[Option<f64>], most: usize, options: &AcfOptions) -> Result<Acf, AcfError> {
    let known: Vec<f64> = cells.iter().flatten().copied().collect();
    let mean = scale::mean(&known);
    let unit = known.iter().fold(0.0, |largest: f64, v| largest.max((v - mean).abs()));
    let e: Vec<f64> = cells.iter().map(|cell| cell.map_or(0.0, |v| (v - mean) / unit)).collect();
    let Pairwise { mut r, pairs, square } = pairwise(cells, &e, most);
    let m = known.len() as f64;
    if known.len() < cells.len() && !is_definite(&r) {
        // Pairs of different periods can make what no series has.
        let all = pairwise(cells, &e, cells.len() - 1).r;
        r = nearest_definite(&all).unwrap_or(all);
        r.truncate(most);
    }
    let pacf = match options.pacf {
        PacfMethod::YuleWalker => partial_autocorrelations(&r),
        PacfMethod::LeastSquares if known.len() < cells.len() => return Err(AcfError::LeastSquares),
        PacfMethod::LeastSquares => partial_by_least_squares(&e, most).ok_or(AcfError::LeastSquares)?,
    };
    let band = normal::quantile(0.975) / m.sqrt();
    let lags = per_lag(&r, &pacf, &pairs, options.fitted);
    Ok(Acf {
        observations: known.len(),
        mean,
        variance: square / m * unit * unit,
        significant: lags.iter().filter(|lag| lag.acf.abs() > band).map(|lag| lag.lag).collect(),
        lags,
        band,
        pacf_method: options.pacf,
        fitted: options.fitted,
    })
}

/// Autocorrelations from the pairs of known values, the number of pairs at lags 0, 1, …, and the sum of squares.
struct Pairwise {
    r: Vec<f64>,
    pairs: Vec<f64>,
    square: f64,
}

/// `e` are deviations from the mean, zero where none is known.
fn pairwise(cells: &[Option<f64>], e: &[f64], most: usize) -> Pairwise {
    let known = cells.iter().flatten().count();
    let products = lagged_products(e, most);
    let pairs: Vec<f64> = if known == cells.len() {
        (0..=most).map(|lag| (cells.len() - lag) as f64).collect()
    } else {
        let there: Vec<f64> = cells.iter().map(|cell| f64::from(u8::from(cell.is_some()))).collect();
        lagged_products(&there, most).iter().map(|count| count.round()).collect()
    };
    let (n, m) = (cells.len() as f64, known as f64);
    let square = products[0];
    let r = (1..=most).map(|lag| {
        let share = (n - lag as f64) / n * m / pairs[lag];
        if pairs[lag] > 0.0 { share * products[lag] / square } else { 0.0 }
    });
    Pairwise { r: r.collect(), pairs, square }
}

fn per_lag(r: &[f64], pacf: &[f64], pairs: &[f64], fitted: usize) -> Vec<AcfLag> {
    let size = pairs[0];
    let mut squares = 0.0;
    let mut weighted = 0.0;
    r.iter()
        .zip(pacf)
        .zip(1..)
        .map(|((r, pacf), lag)| {
            let acf_se = ((1.0 + 2.0 * squares) / size).sqrt();
            squares += r * r;
            weighted += r * r / pairs[lag].max(1.0);
            let q = size * (size + 2.0) * weighted;
            let p_value = lag.checked_sub(fitted).and_then(|degrees| chi_squared::survival(q, degrees));
            AcfLag { lag, acf: *r, acf_se, pacf: *pacf, q, p_value }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn eight_numbers_by_hand() {
        // y = 1..8: deviations ±0.5 … ±3.5, c_0 n = 42, lag 1: 26.25, lag 2: 11.5.
        let y: Vec<f64> = (1..=8).map(f64::from).collect();
        let result = acf(&y, &AcfOptions { lags: Some(2), ..AcfOptions::default() }).expect("long enough");
        assert!((result.lags[0].acf - 26.25 / 42.0).abs() < 1e-14);
        assert!((result.lags[1].acf - 11.5 / 42.0).abs() < 1e-14);
        assert!((result.variance - 5.25).abs() < 1e-14);
        let (r1, r2) = (26.25_f64 / 42.0, 11.5_f64 / 42.0);
        assert!((result.lags[1].q - 80.0 * (r1 * r1 / 7.0 + r2 * r2 / 6.0)).abs() < 1e-12);
        assert!((result.lags[1].acf_se - ((1.0 + 2.0 * r1 * r1) / 8.0).sqrt()).abs() < 1e-14);
        assert!((result.lags[1].pacf - (r2 - r1 * r1) / (1.0 - r1 * r1)).abs() < 1e-14);
    }

    #[test]
    fn gaps_leave_pairs_out() {
        let mut cells: Vec<Option<f64>> = (1..=10).map(|v| Some(f64::from(v))).collect();
        cells[4] = None;
        let result =
            acf_with_gaps(&cells, &AcfOptions { lags: Some(2), ..AcfOptions::default() }).expect("enough");
        // Values 1-4 and 6-10, mean 50/9.
        let d: Vec<Option<f64>> = cells.iter().map(|cell| cell.map(|v| v - 50.0 / 9.0)).collect();
        let sum = |lag: usize| -> (f64, f64) {
            let pairs: Vec<f64> = (lag..10).filter_map(|t| Some(d[t]? * d[t - lag]?)).collect();
            (pairs.iter().sum(), pairs.len() as f64)
        };
        let (zero, nine) = sum(0);
        for lag in 1..=2 {
            let (product, pairs) = sum(lag);
            let expected = (10.0 - lag as f64) / 10.0 * (product / pairs) / (zero / nine);
            assert!((result.lags[lag - 1].acf - expected).abs() < 1e-14, "{lag}");
        }
        assert_eq!(result.observations, 9);
    }

    #[test]
    fn with_gaps_no_autocorrelation_leaves_its_bounds() {
        let mut impossible = 0;
        for draw in 0..60 {
            let e = NormalStream::new(21, draw).take(120);
            let mut level = 0.0;
            let cells: Vec<Option<f64>> = (0..60)
                .map(|t| {
                    level = 0.9 * level + e[t];
                    (e[60 + t] > -0.2 || t % 59 == 0).then_some(level)
                })
                .collect();
            let result = acf_with_gaps(&cells, &AcfOptions::default()).expect("enough");
            let bounded = |value: f64| value.abs() <= 1.0 + 1e-9;
            assert!(result.lags.iter().all(|lag| bounded(lag.acf) && bounded(lag.pacf)), "{draw}");
            let known: Vec<f64> = cells.iter().flatten().copied().collect();
            let mean = scale::mean(&known);
            let deviations: Vec<f64> = cells.iter().map(|cell| cell.map_or(0.0, |v| v - mean)).collect();
            impossible += usize::from(!is_definite(&pairwise(&cells, &deviations, result.lags.len()).r));
        }
        // Half of the cells missing makes pairs disagree often.
        assert!(impossible > 10, "{impossible}");
    }

    #[test]
    fn fitted_parameters_cost_degrees_of_freedom() {
        let y = NormalStream::new(8, 0).take(100);
        let with =
            |fitted| acf(&y, &AcfOptions { lags: Some(5), fitted, ..AcfOptions::default() }).expect("valid");
        let (free, two) = (with(0), with(2));
        assert_eq!((two.lags[1].p_value, free.lags[1].q), (None, two.lags[1].q));
        assert_eq!(two.lags[4].p_value, chi_squared::survival(free.lags[4].q, 3));
    }

    #[test]
    fn default_lags_cover_three_seasons_where_they_can() {
        assert_eq!(default_lags(288, 12), 36);
        assert_eq!(default_lags(100, 12), 25);
        assert_eq!(default_lags(1000, 4), 24);
        assert_eq!(default_lags(75, 1), 18);
        assert_eq!(default_lags(8, 12), 2);
    }

    #[test]
    fn bad_input_is_an_error_by_name() {
        let options = AcfOptions::default();
        assert_eq!(
            acf(&[1.0, 2.0], &options),
            Err(AcfError::InvalidSeries(InvalidSeries::TooShort { observations: 2, needed: 3 }))
        );
        assert_eq!(acf(&[1.0; 20], &options), Err(AcfError::InvalidSeries(InvalidSeries::Constant)));
        let mut y: Vec<f64> = (0..20).map(f64::from).collect();
        let long = AcfOptions { lags: Some(20), ..AcfOptions::default() };
        assert_eq!(acf(&y, &long), Err(AcfError::Lags { lags: 20, observations: 20 }));
        y[3] = f64::INFINITY;
        assert_eq!(acf(&y, &options), Err(AcfError::InvalidSeries(InvalidSeries::NotFinite { place: 3 })));
    }
}
