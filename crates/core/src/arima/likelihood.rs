use nalgebra::{DMatrix, DVector};

use super::adjoint;
use super::coefficients::Coefficients;
use super::columns::{Column, Grid, NOUGHT, product, recur_forwards, subtract};
use super::cross::{Cross, Source};
use super::seasonal::Seasonal;

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
/// As many values as the largest order at least; θ invertible.
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
    let seasonless = coefficients.seasonal_ar.is_empty() && coefficients.seasonal_ma.is_empty();
    if !seasonless && coefficients.ma.len() >= season {
        return expanded(w, columns, coefficients, season, with_slope);
    }
    let count = (w.len() + coefficients.ma.len()).checked_sub(coefficients.ar.len())?;
    let season = if seasonless { count } else { season };
    Workings::new(coefficients, count, season)?.likelihood(w, columns, with_slope)
}

/// With moving averages as long as the season: the product of the polynomials as one.
fn expanded(
    w: &[f64],
    columns: &[Vec<f64>],
    coefficients: &Coefficients,
    season: usize,
    with_slope: bool,
) -> Option<Likelihood> {
    let long = Coefficients {
        ar: coefficients.long_ar(season),
        ma: coefficients.long_ma(season),
        ..Coefficients::default()
    };
    let mut found = likelihood(w, columns, &long, season, with_slope)?;
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

/// All that does not depend on the series.
pub(super) struct Workings<'a> {
    pub coefficients: &'a Coefficients,
    pub grid: Grid,
    pub seasonal: Seasonal<f64>,
    pub cross: Cross,
    /// Columns of the unknown first values of x, then of the first values of w.
    pub corrections: Vec<Column>,
}

/// The small matrices.
pub(super) struct Small {
    pub solved: DVector<f64>,
    /// `A⁻¹` of the unknown first values.
    pub inverse: DMatrix<f64>,
    /// `Π = A⁻¹ G_MC`.
    pub pi: DMatrix<f64>,
    /// `D⁻¹` of the first values of w.
    pub rest: DMatrix<f64>,
    /// `κ = D⁻¹ r`.
    pub kappa: DVector<f64>,
    pub sum: f64,
}

impl<'a> Workings<'a> {
    fn new(coefficients: &'a Coefficients, count: usize, season: usize) -> Option<Self> {
        let grid = Grid { count, season };
        let seasonal = Seasonal::new(&coefficients.seasonal_ar, &coefficients.seasonal_ma, grid.periods())?;
        let mut workings = Self {
            coefficients,
            grid,
            cross: Cross::new(source(coefficients, season, &seasonal.gamma))?,
            seasonal,
            corrections: Vec::new(),
        };
        let (p, q) = (coefficients.ar.len(), coefficients.ma.len());
        let first = (1..=q).map(|a| workings.unknown(a - 1));
        let all = first.chain((1..=p).map(|i| workings.observed(i))).collect::<Vec<_>>();
        workings.corrections = all;
        for column in &mut workings.corrections {
            column.whiten(grid, &coefficients.seasonal_ar, &workings.seasonal);
        }
        Some(workings)
    }

    pub fn source(&self) -> Source<'_> {
        source(self.coefficients, self.grid.season, &self.seasonal.gamma)
    }

    /// The response of x to one of its first values.
    fn unknown(&self, place: usize) -> Column {
        let (ma, count, season) = (&self.coefficients.ma, self.grid.count, self.grid.season);
        let q = ma.len();
        let mut raw: Vec<f64> = vec![0.0; count];
        raw[place] = 1.0;
        // In pieces, until nothing is left of it.
        let (mut end, mut last) = (q, q);
        while end < count && raw[end - q..end].iter().any(|value| value.abs() > NOUGHT) {
            let next = (end + 64).min(count);
            recur_forwards(&mut raw[end - q..next], ma);
            last = (end..next).rev().find(|t| raw[*t].abs() > NOUGHT).map_or(last, |t| t + 1);
            end = next;
        }
        raw[last..].fill(0.0);
        // What flows back from later phases is as small as the response there.
        let width = if last + q <= season { last + q } else { season };
        let filtered_until = if width < season { count } else { self.input_ends(last) };
        Column { width, filtered_until, ends: width >= season, ..Column::whole(raw, self.grid) }
    }

    /// From where on the autoregressive filter leaves nothing of a column that ends before `last`.
    fn input_ends(&self, last: usize) -> usize {
        let back = self.coefficients.seasonal_ar.len() * self.grid.season;
        (last.max(self.grid.season * self.seasonal.raw) + back).min(self.grid.count)
    }

    /// The covariances of x with one of the first values of w.
    fn observed(&self, i: usize) -> Column {
        let (p, q) = (self.coefficients.ar.len(), self.coefficients.ma.len());
        let (season, m) = (self.grid.season, self.seasonal.raw);
        let until = (season * m + q).min(self.grid.count);
        let lag = |place: usize| {
            let place = i64::try_from(place + p + 1).unwrap_or_default();
            place - i64::try_from(q + i).unwrap_or_default()
        };
        let mut raw = vec![0.0; self.grid.count];
        for (place, value) in raw.iter_mut().enumerate().take(until) {
            *value = self.cross.at(lag(place));
        }
        let fades = self.coefficients.seasonal_ma.is_empty();
        Column {
            raw,
            white: Vec::new(),
            width: if m == 0 { q } else { season },
            periods: if fades { (m + 1).min(self.grid.periods()) } else { self.grid.periods() },
            filtered_until: until,
            ends: true,
        }
    }

    /// x of a series, with its first values nought, and whitened.
    fn data(&self, w: &[f64]) -> Column {
        let (ar, ma) = (&self.coefficients.ar, &self.coefficients.ma);
        let (p, q) = (ar.len(), ma.len());
        let mut raw = vec![0.0; self.grid.count];
        raw[q..].copy_from_slice(&w[p..]);
        for (i, phi) in ar.iter().enumerate() {
            subtract(&mut raw[q..], *phi, &w[p - i - 1..w.len() - i - 1]);
        }
        recur_forwards(&mut raw, ma);
        let mut column = Column::whole(raw, self.grid);
        column.whiten(self.grid, &self.coefficients.seasonal_ar, &self.seasonal);
        column
    }

    fn likelihood(&self, w: &[f64], columns: &[Vec<f64>], with_slope: bool) -> Option<Likelihood> {
        let frame = self.frame()?;
        let log_determinant = self.log_determinant(&frame);
        let mut data = self.data(w);
        let (mut beta, mut beta_variances) = (Vec::new(), Vec::new());
        let mut centred = w.to_vec();
        if !columns.is_empty() {
            (beta, beta_variances) = self.least_squares(&frame, w, &data, columns)?;
            for (column, share) in columns.iter().zip(&beta) {
                for (value, x) in centred.iter_mut().zip(column) {
                    *value -= share * x;
                }
            }
            data = self.data(&centred);
        }
        let small = self.small(&frame, &centred, &data);
        if small.sum.is_nan() || small.sum <= 0.0 {
            return None;
        }
        let slope = if with_slope { adjoint::slope(self, &small, &centred, &data)? } else { Vec::new() };
        let n = w.len() as f64;
        Some(Likelihood {
            deviance: n * small.sum.ln() + log_determinant,
            sum: small.sum,
            log_determinant,
            beta,
            beta_variances,
            slope,
        })
    }

    fn product(&self, a: &Column, b: &Column) -> f64 {
        product(a, b, self.grid, &self.seasonal)
    }

    /// What the corrections come to, whatever the series.
    fn frame(&self) -> Option<Frame> {
        let (p, q) = (self.coefficients.ar.len(), self.coefficients.ma.len());
        let (unknown, observed) = self.corrections.split_at(q);
        let mut a = DMatrix::zeros(q, q);
        for i in 0..q {
            for j in 0..=i {
                a[(i, j)] = self.product(&unknown[i], &unknown[j]);
                a[(j, i)] = a[(i, j)];
            }
        }
        let between = DMatrix::from_fn(q, p, |i, j| self.product(&unknown[i], &observed[j]));
        let mut d = DMatrix::zeros(p, p);
        for i in 0..p {
            for j in 0..=i {
                d[(i, j)] = self.cross.own[i - j] - self.product(&observed[i], &observed[j]);
                d[(j, i)] = d[(i, j)];
            }
        }
        let a = a.cholesky()?;
        let pi = a.solve(&between);
        d += between.transpose() * &pi;
        let d = d.cholesky()?;
        let log = |factor: &DMatrix<f64>| 2.0 * factor.diagonal().iter().map(|value| value.ln()).sum::<f64>();
        let logs = log(&a.l()) + log(&d.l());
        Some(Frame { inverse: a.inverse(), pi, rest: d.inverse(), logs })
    }

    fn log_determinant(&self, frame: &Frame) -> f64 {
        let lengths = |period: usize| self.grid.range(period, self.grid.season).len() as f64;
        let settled = self.seasonal.steps.len() - 1;
        let early: f64 = (0..settled).map(|k| lengths(k) * self.seasonal.steps[k].variance.ln()).sum();
        let late = self.grid.count.saturating_sub(settled * self.grid.season) as f64;
        early + late * self.seasonal.steps[settled].variance.ln() + frame.logs
    }

    /// What is left of the first values of w, given the rest; and the estimate of the unknowns.
    fn ends(&self, frame: &Frame, w: &[f64], data: &Column) -> Ends {
        let (p, q) = (self.coefficients.ar.len(), self.coefficients.ma.len());
        let (unknown, observed) = self.corrections.split_at(q);
        let with_unknown = DVector::from_fn(q, |a, _| self.product(&unknown[a], data));
        let with_observed = DVector::from_fn(p, |i, _| self.product(&observed[i], data));
        let first = -&frame.inverse * &with_unknown;
        let left = DVector::from_fn(p, |i, _| w[i] - with_observed[i]) + frame.pi.transpose() * &with_unknown;
        Ends { first, left, with_unknown }
    }

    fn small(&self, frame: &Frame, w: &[f64], data: &Column) -> Small {
        let Ends { first, left, with_unknown } = self.ends(frame, w, data);
        let kappa = &frame.rest * &left;
        let sum = self.product(data, data) + with_unknown.dot(&first) + left.dot(&kappa);
        Small {
            solved: first + &frame.pi * &kappa,
            inverse: frame.inverse.clone(),
            pi: frame.pi.clone(),
            rest: frame.rest.clone(),
            kappa,
            sum,
        }
    }

    /// β by generalised least squares: every column goes through the same filters.
    fn least_squares(
        &self,
        frame: &Frame,
        w: &[f64],
        data: &Column,
        columns: &[Vec<f64>],
    ) -> Option<(Vec<f64>, Vec<f64>)> {
        let whitened: Vec<(Column, &[f64])> =
            columns.iter().map(|column| (self.data(column), column.as_slice())).collect();
        let ends: Vec<_> = whitened.iter().map(|(column, raw)| self.ends(frame, raw, column)).collect();
        let target = self.ends(frame, w, data);
        let joint = |(a, own): (&Column, &Ends), (b, other): (&Column, &Ends)| {
            self.product(a, b)
                + own.first.dot(&other.with_unknown)
                + own.left.dot(&(&frame.rest * &other.left))
        };
        let count = columns.len();
        let square = DMatrix::from_fn(count, count, |i, j| {
            joint((&whitened[i].0, &ends[i]), (&whitened[j].0, &ends[j]))
        });
        let right = DVector::from_fn(count, |i, _| joint((&whitened[i].0, &ends[i]), (data, &target)));
        let factor = square.cholesky()?;
        let solution = factor.solve(&right).iter().copied().collect();
        Some((solution, factor.inverse().diagonal().iter().copied().collect()))
    }
}

/// What a column says of the unknown first values of x, and what is left of its own first values.
struct Ends {
    /// The unknown ones, by the whitened column alone.
    first: DVector<f64>,
    left: DVector<f64>,
    /// Products of the corrections for the unknown ones with the column.
    with_unknown: DVector<f64>,
}

/// What the corrections come to.
struct Frame {
    inverse: DMatrix<f64>,
    pi: DMatrix<f64>,
    rest: DMatrix<f64>,
    logs: f64,
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
