//! The concentrated log likelihood of a series, with or without missing values and regressors.

use std::borrow::Cow;
use std::iter::repeat;
use std::ops::Range;

use nalgebra::{DMatrix, DVector};

use super::adjoint::{Back, Part};
use super::kernels::add;
use super::layout::NEGLIGIBLE;
use super::plan::{CorrectionFactor, EndCorrection, LikelihoodPlan, MOST_ROUNDING, SeriesTerms};
use super::whitening::WhitenedColumn;
use crate::arima::coefficients::Coefficients;
use crate::num::sum::dot;

/// A sum of squares that rounding moves by no more than this share is as good as exact,
const NO_ROUNDING: f64 = 1e-9;
/// and that often x begins again with its estimated first values to get there.
const MOST_RESTARTS: usize = 2;

/// The exact Gaussian likelihood of a stationary series about given columns.
#[derive(Debug, Clone, PartialEq)]
pub struct Likelihood {
    /// `n ln S + ln |Σ|`: twice the negative logarithm of the likelihood without its constants.
    pub deviance: f64,
    /// `S = w' Σ⁻¹ w`, where Σ is the covariance for innovations of variance one.
    pub sum: f64,
    /// `ln |Σ|`.
    pub log_determinant: f64,
    /// Coefficients of the columns, by generalised least squares.
    pub beta: Vec<f64>,
    /// Variances of these in units of the innovations' variance.
    pub beta_variances: Vec<f64>,
    /// Slope of the deviance with respect to φ, θ, Φ, Θ in turn; empty if not asked for.
    pub slope: Vec<f64>,
}

/// The exact likelihood of w under `φ(B) Φ(B^s) (w - X β) = θ(B) Θ(B^s) e`, β by generalised
/// least squares, and its slope if wanted.
///
/// # Method
/// The process `x = θ(B)⁻¹ φ(B) w` lives in steps of a season, so n/s shared scalar recursions
/// whiten it; p + q columns correct for the first values of w and the unknown first values of x.
/// The slope is taken backwards through all steps.
///
/// # Input
/// More values than the autoregressive order; θ invertible.
///
/// # Cost
/// Of the order of one recursion over the series, whatever the season.
///
/// # Result
/// None where the process is not stationary or the numbers do not bear it.
pub fn likelihood(
    w: &[f64],
    columns: &[Vec<f64>],
    coefficients: &Coefficients,
    season: usize,
    with_slope: bool,
) -> Option<Likelihood> {
    likelihood_with_gaps(Sample { w, columns, missing: 0 }, coefficients, season, with_slope)
}

/// A series with regressors.
#[derive(Debug, Clone, Copy)]
pub struct Sample<'a> {
    /// The series; missing values hold any number.
    pub w: &'a [f64],
    /// Columns whose coefficients are to be found.
    pub columns: &'a [Vec<f64>],
    /// That number of of the columns, the first ones, are what a missing value adds to the series.
    pub missing: usize,
}

/// The same of a series in which values are missing: these are integrated out.
///
/// # Formula
/// A missing value is a column with a coefficient of its own. With M the columns of missing values
/// and X all, the likelihood of the values there are has `S = min_β (w - X β)' Σ⁻¹ (w - X β)` and
/// `ln |Σ| + ln |M' Σ⁻¹ M|` for the logarithm of the determinant; `n` counts the values there are.
/// `beta` begins with minus the missing values' distances from the numbers in their place.
///
/// # Source
/// Gómez, V., Maravall, A. and Peña, D. (1999), Journal of Econometrics 88, 341-363.
pub fn likelihood_with_gaps(
    sample: Sample<'_>,
    coefficients: &Coefficients,
    season: usize,
    with_slope: bool,
) -> Option<Likelihood> {
    if !coefficients.is_apart(season) {
        return expanded(sample, coefficients, season, with_slope);
    }
    LikelihoodPlan::of_values(coefficients, sample.w.len(), season)?.likelihood(sample, with_slope)
}

/// With moving averages as long as the season: the product of the polynomials as one.
fn expanded(
    sample: Sample<'_>,
    coefficients: &Coefficients,
    season: usize,
    with_slope: bool,
) -> Option<Likelihood> {
    let long = coefficients.written_out(season);
    let mut found = likelihood_with_gaps(sample, &long, season, with_slope)?;
    if with_slope {
        // The products are linear in each coefficient, so differences of one are exact slopes.
        let flat = coefficients.flat();
        let slope = |place: usize| {
            let mut moved = flat.clone();
            moved[place] += 1.0;
            let moved = coefficients.shaped(&moved);
            let (ar, ma) = (moved.long_ar(season), moved.long_ma(season));
            let change = ar.iter().zip(&long.ar).chain(ma.iter().zip(&long.ma)).map(|(a, b)| a - b);
            change.zip(&found.slope).map(|(change, slope)| change * slope).sum()
        };
        found.slope = (0..flat.len()).map(slope).collect();
    }
    Some(found)
}

impl LikelihoodPlan<'_> {
    fn likelihood(&self, sample: Sample<'_>, with_slope: bool) -> Option<Likelihood> {
        let Sample { w, columns, missing } = sample;
        let frame = self.frame()?;
        let mut log_determinant = self.log_determinant(&frame);
        let mut gaps = None;
        let mut data = self.data(w);
        let (mut beta, mut beta_variances) = (Vec::new(), Vec::new());
        let mut centred = Cow::Borrowed(w);
        if !columns.is_empty() {
            let square = self.square(&frame, w, &data, columns)?;
            let factor = square.gram.cholesky()?;
            beta = factor.solve(&square.target).iter().copied().collect();
            beta_variances = factor.inverse().diagonal().iter().copied().collect();
            let inner = factor.l().view((0, 0), (missing, missing)).into_owned();
            log_determinant += 2.0 * inner.diagonal().iter().map(|value| value.ln()).sum::<f64>();
            gaps = (missing > 0).then_some(inner);
            for (column, share) in columns.iter().zip(&beta) {
                for (value, x) in centred.to_mut().iter_mut().zip(column) {
                    *value -= share * x;
                }
            }
            data = self.data(&centred);
        }
        let (data, small, rounding) = self.begun(&frame, &centred, data);
        if small.sum.is_nan() || small.sum <= 0.0 {
            return None;
        }
        let n = (w.len() - missing) as f64;
        if n * rounding > MOST_ROUNDING {
            return None;
        }
        let mut slope = Vec::new();
        if with_slope {
            let mut back = Back::new(self, &frame);
            back.add(&Part { w: &centred, data: &data, small: &small, rate: n / small.sum });
            if let Some(factor) = gaps {
                self.add_gaps(&mut back, &frame, &columns[..missing], &factor)?;
            }
            slope = back.slope()?;
        }
        let deviance = n * small.sum.ln() + log_determinant;
        if !deviance.is_finite() || slope.iter().any(|value| !value.is_finite()) {
            return None;
        }
        Some(Likelihood { deviance, sum: small.sum, log_determinant, beta, beta_variances, slope })
    }

    /// The sums of a series, and the share of the sum of squares that rounding may be.
    ///
    /// Where moving averages have several roots near one, x with zeros first grows far beyond what it is with its
    /// estimated first values, and these take it back in the last digits alone. It begins with them then.
    fn begun(
        &self,
        frame: &CorrectionFactor,
        w: &[f64],
        mut data: WhitenedColumn,
    ) -> (WhitenedColumn, SeriesTerms, f64) {
        let share = |square: f64, sum: f64| f64::EPSILON * frame.amplification * square / sum;
        let mut small = self.small(frame, w, &data);
        for _ in 0..MOST_RESTARTS {
            if (0.0..=NO_ROUNDING).contains(&share(data.square, small.sum)) {
                break;
            }
            let begun = data.raw.iter().chain(repeat(&0.0));
            let first = begun.zip(&small.solved).map(|(first, rest)| first + rest);
            data = self.data_from(first.collect(), w);
            small = self.small(frame, w, &data);
        }
        let rounding = share(data.square, small.sum);
        (data, small, rounding)
    }

    /// `ln |M' Σ⁻¹ M|` has the slope of the sum of `z' Σ⁻¹ z` over the columns z of `M L'⁻¹`, with
    /// `L L'` for the matrix.
    fn add_gaps(
        &self,
        back: &mut Back<'_, '_>,
        frame: &CorrectionFactor,
        columns: &[Vec<f64>],
        factor: &DMatrix<f64>,
    ) -> Option<()> {
        let count = columns.len();
        let places: Vec<Range<usize>> = columns.iter().map(|column| support(column)).collect();
        let shares = factor.transpose().solve_upper_triangular(&DMatrix::identity(count, count))?;
        for k in 0..count {
            let mut z = vec![0.0; columns[k].len()];
            for ((column, place), share) in columns.iter().zip(&places).zip(shares.column(k).iter()) {
                add(&mut z[place.clone()], *share, &column[place.clone()]);
            }
            let data = self.data(&z);
            let small = self.small(frame, &z, &data);
            back.add(&Part { w: &z, data: &data, small: &small, rate: 1.0 });
        }
        Some(())
    }

    /// The normal equations of generalised least squares: every column goes through the same
    /// filters. None where rounding is too much of a column's product.
    fn square(
        &self,
        frame: &CorrectionFactor,
        w: &[f64],
        data: &WhitenedColumn,
        columns: &[Vec<f64>],
    ) -> Option<Square> {
        let regressor = |raw: &[f64], column: WhitenedColumn| {
            let ends = self.ends(frame, raw, &column);
            let support = support(&column.filtered);
            Regressor {
                weighted: &frame.rest * &ends.left,
                square: column.square,
                ends,
                filtered: column.filtered[support.clone()].to_vec(),
                support,
                solved: column.solved,
            }
        };
        let all: Vec<Regressor> = columns.iter().map(|raw| regressor(raw, self.data(raw))).collect();
        let series = regressor(w, data.clone());
        let count = columns.len();
        let mut gram = DMatrix::zeros(count, count);
        for i in 0..count {
            for j in 0..=i {
                gram[(i, j)] = all[i].product(&all[j]);
                gram[(j, i)] = gram[(i, j)];
            }
        }
        let most = MOST_ROUNDING / (f64::EPSILON * frame.amplification);
        let is_known = |(own, product): (&Regressor, &f64)| own.square <= most * product;
        all.iter()
            .zip(gram.diagonal().iter())
            .all(is_known)
            .then(|| Square { target: DVector::from_fn(count, |i, _| all[i].product(&series)), gram })
    }
}

/// A column whose coefficient is to be found.
struct Regressor {
    /// Where the filtered column is more than rounding: that of a missing value is short.
    support: Range<usize>,
    /// The filtered column there.
    filtered: Vec<f64>,
    /// `Ω⁻¹` times it.
    solved: Vec<f64>,
    /// Its product with that.
    square: f64,
    ends: EndCorrection,
    /// What is left of its first values, weighted.
    weighted: DVector<f64>,
}

impl Regressor {
    /// `x' Σ⁻¹ y`.
    fn product(&self, other: &Self) -> f64 {
        dot(&self.filtered, &other.solved[self.support.clone()])
            + self.ends.first.dot(&other.ends.with_unknown)
            + self.ends.left.dot(&other.weighted)
    }
}

/// From the first to the last value that is more than rounding relative to the largest.
fn support(values: &[f64]) -> Range<usize> {
    let least = NEGLIGIBLE * values.iter().fold(0.0_f64, |most, value| most.max(value.abs()));
    let counts = |value: &f64| value.abs() > least;
    match (values.iter().position(counts), values.iter().rposition(counts)) {
        (Some(first), Some(last)) => first..last + 1,
        _ => 0..0,
    }
}

/// The normal equations of the columns' coefficients.
struct Square {
    gram: DMatrix<f64>,
    target: DVector<f64>,
}

#[cfg(test)]
pub(in crate::arima) mod tests {
    use super::*;
    use crate::arma::{Mixture, Whitening};
    use crate::num::rng::NormalStream;

    /// The deviance by the recursion of another module.
    pub(in crate::arima) fn by_recursion(w: &[f64], own: &Coefficients, season: usize) -> f64 {
        let mixture = Mixture { ar: own.long_ar(season), ma: own.long_ma(season) };
        let rows: Vec<[f64; 1]> = w.iter().map(|value| [*value]).collect();
        let (gram, logs) = Whitening::new(&mixture, w.len()).expect("a filter").products(&rows);
        w.len() as f64 * gram[0][0].ln() + logs
    }

    /// 300 values whose root and moving average nearly cancel.
    pub(in crate::arima) fn nearly_cancelling(stream: u64) -> Vec<f64> {
        let e = NormalStream::new(5 * 7919 + 300, stream).take(500);
        let mut y: Vec<f64> = Vec::new();
        for t in 0..500_usize {
            let before = |list: &[f64], lag: usize| t.checked_sub(lag).map_or(0.0, |at| list[at]);
            y.push(0.8 * before(&y, 1) + e[t] - 0.75 * before(&e, 1) + 0.3 * before(&e, 12));
        }
        y.split_off(200)
    }

    #[test]
    fn two_roots_of_a_moving_average_near_one_cost_no_digits() {
        let e = NormalStream::new(97, 0).take(402);
        let w: Vec<f64> = e.windows(3).map(|e| e[2] - 2.0 * e[1] + e[0]).collect();
        for root in [0.9, 0.99, 0.999, 0.999_9, 0.999_99] {
            let at = Coefficients { ma: vec![-2.0 * root, root * root], ..Coefficients::default() };
            let own = likelihood(&w, &[], &at, 12, true).expect("a likelihood");
            let other = by_recursion(&w, &at, 12);
            assert!((own.deviance - other).abs() < 1e-5, "{root}: {} and {other}", own.deviance);
            if root > 0.999 {
                continue;
            }
            for (place, slope) in own.slope.iter().enumerate() {
                let moved = |step: f64| {
                    let mut near = at.clone();
                    near.ma[place] += step;
                    by_recursion(&w, &near, 12)
                };
                let by_differences = (moved(1e-7) - moved(-1e-7)) / 2e-7;
                let scale = own.slope[0].abs().max(1.0);
                assert!(
                    (slope - by_differences).abs() < 1e-3 * scale,
                    "{root}: {slope} and {by_differences}"
                );
            }
        }
    }

    #[test]
    fn what_is_rounding_alone_has_no_likelihood() {
        // Two roots of each kind near one. By arithmetic of 60 digits the deviance is 1722.02: it was 1325.45 by 16.
        let w: Vec<f64> = nearly_cancelling(8).windows(2).map(|pair| pair[1] - pair[0]).collect();
        let coefficients = Coefficients {
            ar: vec![2.016_397_740_307_459, -1.066_140_041_380_660_5, 0.049_675_392_990_953_68],
            ma: vec![-2.892_327_917_617_447_7, 2.784_723_266_147_936, -0.892_395_244_541_130_3],
            seasonal_ar: Vec::new(),
            seasonal_ma: vec![0.312_941_269_407_364_2],
        };
        let exact = 299.0 * 311.830_863_499_25_f64.ln() + 5.021_808_086_450_89;
        let own = likelihood(&w, &[], &coefficients, 12, false);
        assert!(own.is_none_or(|own| (own.deviance - exact).abs() < 0.01));
    }
}
