//! All parts of a likelihood that do not depend on the series.

use nalgebra::{DMatrix, DVector};

use super::corrections::Corrections;
use super::cross::{Cross, Source};
use super::kernels::{recur_forwards, subtract_all};
use super::layout::SeasonLayout;
use super::schedule::WhiteningSchedule;
use super::seasonal::Seasonal;
use super::whitening::{WhitenedColumn, Whitening};
use crate::arima::coefficients::Coefficients;

/// A deviance that rounding may move by more than this is none.
pub(in crate::arima) const MOST_ROUNDING: f64 = 0.01;

/// All that does not depend on the series.
pub(in crate::arima) struct LikelihoodPlan<'a> {
    pub coefficients: &'a Coefficients,
    pub layout: SeasonLayout,
    pub seasonal: Seasonal<f64>,
    steps: WhiteningSchedule,
    pub cross: Cross,
    pub corrections: Corrections,
}

/// The sums that depend on the series.
pub(in crate::arima) struct SeriesTerms {
    /// The unknown first values of x, less those that the column begins with.
    pub solved: DVector<f64>,
    /// `κ = D⁻¹ r`, r what is left of the first values of w.
    pub kappa: DVector<f64>,
    /// The sum of squares.
    pub sum: f64,
}

impl<'a> LikelihoodPlan<'a> {
    /// For that number of values of w, more than there are autoregressive terms.
    pub fn of_values(coefficients: &'a Coefficients, values: usize, season: usize) -> Option<Self> {
        let count = (values + coefficients.ma.len()).checked_sub(coefficients.ar.len())?;
        if count == 0 {
            return None;
        }
        Self::new(coefficients, count, if coefficients.is_seasonless() { count } else { season })
    }

    pub fn new(coefficients: &'a Coefficients, count: usize, season: usize) -> Option<Self> {
        let layout = SeasonLayout { count, season };
        let seasonal = Seasonal::new(&coefficients.seasonal_ar, &coefficients.seasonal_ma, layout.periods())?;
        let cross = Cross::new(source(coefficients, season, &seasonal.gamma))?;
        let steps = WhiteningSchedule::new(&seasonal, layout.periods());
        let whitening = Whitening { layout, ar: &coefficients.seasonal_ar, steps: &steps };
        let corrections = Corrections::new(coefficients, &cross, &whitening);
        Some(Self { coefficients, layout, seasonal, steps, cross, corrections })
    }

    /// The numbers of the whitening alone.
    pub fn into_steps(self) -> WhiteningSchedule {
        self.steps
    }

    pub fn source(&self) -> Source<'_> {
        source(self.coefficients, self.layout.season, &self.seasonal.gamma)
    }

    pub fn whitening(&self) -> Whitening<'_> {
        Whitening { layout: self.layout, ar: &self.coefficients.seasonal_ar, steps: &self.steps }
    }

    /// x of a series, with its first values zero, and what whitening makes of it.
    pub fn data(&self, w: &[f64]) -> WhitenedColumn {
        self.data_from(vec![0.0; self.coefficients.ma.len()], w)
    }

    /// The same with these first values.
    pub fn data_from(&self, first: Vec<f64>, w: &[f64]) -> WhitenedColumn {
        self.whitening().column(seasonal_process(self.coefficients, first, w, self.layout.count))
    }

    /// What the corrections come to, whatever the series; none where rounding is too much of it.
    pub fn frame(&self) -> Option<CorrectionFactor> {
        let (p, q) = (self.coefficients.ar.len(), self.coefficients.ma.len());
        let gram = self.corrections.gram();
        let between = gram.view((0, q), (q, p));
        let a = gram.view((0, 0), (q, q)).into_owned().cholesky()?;
        let pi = a.solve(&between);
        // The columns of moving averages with several roots near one are nearly dependent.
        let remainders = (0..q).map(|k| a.l_dirty()[(k, k)].powi(2) / gram[(k, k)]);
        let amplification = 1.0 / remainders.fold(1.0, f64::min);
        let own = DMatrix::from_fn(p, p, |i, j| self.cross.own[i.abs_diff(j)]);
        let taken = between.transpose() * &pi;
        // D is what larger numbers leave of each other.
        let largest = taken.diagonal().iter().copied().fold(0.0, f64::max);
        let size = own.iter().copied().fold(amplification * largest, f64::max);
        let d = own - gram.view((q, q), (p, p)) + taken;
        let d = d.cholesky()?;
        let least = d.l_dirty().diagonal().iter().map(|pivot| pivot * pivot).fold(size, f64::min);
        if size * f64::EPSILON > MOST_ROUNDING * least {
            return None;
        }
        let log = |factor: &DMatrix<f64>| 2.0 * factor.diagonal().iter().map(|value| value.ln()).sum::<f64>();
        let logs = log(a.l_dirty()) + log(d.l_dirty());
        Some(CorrectionFactor { inverse: a.inverse(), pi, rest: d.inverse(), logs, amplification })
    }

    pub fn log_determinant(&self, frame: &CorrectionFactor) -> f64 {
        let (settled, season) = (self.seasonal.settled(), self.layout.season);
        // Each variance occurs as often as a season has values: the logarithm is taken of their
        // product.
        let early = sum_of_logarithms((0..settled).map(|k| self.seasonal.variance(k)));
        let late = (self.layout.count - settled * season) as f64;
        season as f64 * early + late * self.seasonal.variance(settled).ln() + frame.logs
    }

    /// What is left of the first values of w, given the rest; and the estimate of the unknowns.
    pub fn ends(&self, frame: &CorrectionFactor, w: &[f64], data: &WhitenedColumn) -> EndCorrection {
        let (p, q) = (self.coefficients.ar.len(), self.coefficients.ma.len());
        let with_profiles = self.corrections.with_profiles(&data.solved);
        let with_columns = self.corrections.with_columns(&with_profiles);
        let with_unknown = with_columns.rows(0, q).into_owned();
        let with_observed = with_columns.rows(q, p);
        let first = -&frame.inverse * &with_unknown;
        let left = DVector::from_fn(p, |i, _| w[i] - with_observed[i]) + frame.pi.transpose() * &with_unknown;
        EndCorrection { first, left, with_unknown }
    }

    pub fn small(&self, frame: &CorrectionFactor, w: &[f64], data: &WhitenedColumn) -> SeriesTerms {
        let EndCorrection { first, left, with_unknown } = self.ends(frame, w, data);
        let kappa = &frame.rest * &left;
        let sum = data.square + with_unknown.dot(&first) + left.dot(&kappa);
        SeriesTerms { solved: first + &frame.pi * &kappa, kappa, sum }
    }
}

/// x of a series with these first values, and zeros behind it up to that number of values.
pub(in crate::arima) fn seasonal_process(
    coefficients: &Coefficients,
    first: Vec<f64>,
    w: &[f64],
    count: usize,
) -> Vec<f64> {
    let Coefficients { ar, ma, .. } = coefficients;
    let (p, q) = (ar.len(), ma.len());
    let late = w.get(p..).unwrap_or_default();
    let mut x = first;
    x.reserve_exact(count.saturating_sub(q));
    x.extend_from_slice(late);
    subtract_all(&mut x[q..], ar, |i| &w[p - i..]);
    recur_forwards(&mut x, ma);
    x.resize(count, 0.0);
    x
}

/// What a column says of the unknown first values of x, and what is left of its own first values.
pub(in crate::arima) struct EndCorrection {
    /// The unknown ones, by the whitened column alone.
    pub first: DVector<f64>,
    pub left: DVector<f64>,
    /// Products of the corrections for the unknown ones with the column.
    pub with_unknown: DVector<f64>,
}

/// What the corrections come to: A and D the matrices of the unknown first values of x and of the
/// first values of w.
pub(in crate::arima) struct CorrectionFactor {
    /// `A⁻¹`.
    pub inverse: DMatrix<f64>,
    /// `Π = A⁻¹ G`, G the products of the columns of the one with those of the other.
    pub pi: DMatrix<f64>,
    /// `D⁻¹`.
    pub rest: DMatrix<f64>,
    /// `ln |A| + ln |D|`.
    pub logs: f64,
    /// What the rounding of A is multiplied by in its inverse.
    pub amplification: f64,
}

/// Of their product, which is decomposed before it leaves the range of numbers.
fn sum_of_logarithms(values: impl Iterator<Item = f64>) -> f64 {
    let (mut sum, mut product) = (0.0, 1.0_f64);
    for value in values {
        product *= value;
        if !(1e-150..1e150).contains(&product) {
            sum += product.ln();
            product = 1.0;
        }
    }
    sum + product.ln()
}

fn source<'b>(coefficients: &'b Coefficients, season: usize, gamma: &'b [f64]) -> Source<'b> {
    Source {
        ar: &coefficients.ar,
        ma: &coefficients.ma,
        seasonal_ar: &coefficients.seasonal_ar,
        season,
        gamma,
    }
}
