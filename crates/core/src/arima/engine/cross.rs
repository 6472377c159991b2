//! Products of profiles and sequences: the Gram matrix of the correcting columns.

use std::ops::Range;

use nalgebra::{DMatrix, DVector};

use super::kernels::recur;
use super::layout::NEGLIGIBLE;
use crate::num::sum::dot;

/// Covariances of w with the seasonal process x, whose innovations have variance one.
///
/// `x` is defined by `Φ(B^s) x = Θ(B^s) e` and `φ(B) w = θ(B) x`.
#[derive(Debug, Clone)]
pub(in crate::arima) struct Cross {
    /// `c(d) = E w_t x_{t+d}` for d from -q to s m + p.
    values: Vec<f64>,
    q: usize,
    /// Autocovariances of w at lags 0 to p.
    pub own: Vec<f64>,
    /// `I - Σ Φ_i A^{is}`, transposed and inverted: what the end of the recursion feeds back.
    feedback: Option<DMatrix<f64>>,
    /// `Γ` system, `γ(h) - Σ φ_i γ(|h - i|)`.
    system: DMatrix<f64>,
}

/// What covariances depend on.
#[derive(Clone, Copy)]
pub(in crate::arima) struct Source<'a> {
    pub ar: &'a [f64],
    pub ma: &'a [f64],
    pub seasonal_ar: &'a [f64],
    pub season: usize,
    /// Seasonal lags 0 to m.
    pub gamma: &'a [f64],
}

impl Source<'_> {
    /// The last place of the recursion, `s m`.
    fn top(&self) -> usize {
        self.season * (self.gamma.len() - 1)
    }
}

/// Slopes with respect to what the covariances depend on.
#[derive(Debug, Clone)]
pub(in crate::arima) struct Slopes {
    pub ar: Vec<f64>,
    pub ma: Vec<f64>,
    pub seasonal_ar: Vec<f64>,
    pub gamma: Vec<f64>,
}

fn signed(place: usize) -> i64 {
    i64::try_from(place).unwrap_or(i64::MAX)
}

impl Cross {
    /// None where w is not stationary.
    pub fn new(source: Source<'_>) -> Option<Self> {
        let (p, q, top) = (source.ar.len(), source.ma.len(), source.top());
        // Without first values of w nothing asks for the covariances.
        let kept = if p == 0 { 0 } else { q + top + p + 1 };
        let mut cross = Self {
            values: vec![0.0; kept],
            q,
            own: Vec::new(),
            feedback: None,
            system: DMatrix::zeros(0, 0),
        };
        if p == 0 {
            return Some(cross);
        }
        cross.recur(source);
        if !source.seasonal_ar.is_empty() {
            // Run once with nothing beyond the top, then with what must be there.
            let feedback = DMatrix::identity(p, p) - echo(source);
            let first = DVector::from_fn(p, |l, _| cross.echoed(source, l + 1));
            let ends = feedback.clone().lu().solve(&first)?;
            for l in 0..p {
                cross.values[q + top + 1 + l] = ends[l];
            }
            cross.recur(source);
            cross.feedback = feedback.transpose().try_inverse();
            cross.feedback.as_ref()?;
        }
        cross.system = yule_walker(source.ar);
        let right = DVector::from_fn(p + 1, |h, _| {
            let past = source.ma.iter().zip(1..).map(|(theta, j)| theta * cross.at(signed(h) - j));
            cross.at(signed(h)) + past.sum::<f64>()
        });
        cross.own = cross.system.clone().lu().solve(&right)?.iter().copied().collect();
        Some(cross)
    }

    /// c(d).
    fn at(&self, lag: i64) -> f64 {
        usize::try_from(lag + signed(self.q)).map_or(0.0, |place| self.above_least(place))
    }

    /// Lags that are kept, from -q on.
    pub fn len(&self) -> usize {
        self.values.len()
    }

    /// c(d) for d that number of places above -q, the least; zero beyond what is kept.
    pub fn above_least(&self, place: usize) -> f64 {
        self.values.get(place).copied().unwrap_or(0.0)
    }

    /// All that are kept, from the least lag on.
    pub fn all(&self) -> &[f64] {
        &self.values
    }

    fn place(&self, lag: i64) -> usize {
        usize::try_from(lag + signed(self.q)).unwrap_or_default()
    }

    /// `c(d) = Σ φ_j c(d+j) + γ_x(d) + Σ θ_j γ_x(d+j)`, from the top down.
    fn recur(&mut self, source: Source<'_>) {
        let end = self.q + source.top() + 1;
        self.values[..end].fill(0.0);
        let weights: Vec<f64> = source.ar.iter().map(|phi| -phi).collect();
        for (k, gamma) in source.gamma.iter().enumerate().rev() {
            let lag = self.q + k * source.season;
            for (j, theta) in [1.0].iter().chain(source.ma).enumerate() {
                self.values[lag - j] += theta * gamma;
            }
            let first = if k == 0 { 0 } else { lag + 1 - source.season };
            self.fall(first..lag + 1, lag - self.q, &weights);
        }
    }

    /// The recursion down a stretch, in pieces until nothing is left of it below `input_ends`.
    fn fall(&mut self, stretch: Range<usize>, input_ends: usize, weights: &[f64]) {
        const PIECE: usize = 32;
        let mut end = stretch.end;
        while end > stretch.start {
            let start = end.saturating_sub(PIECE).max(stretch.start);
            let (own, past) = self.values.split_at_mut(end);
            recur(own[start..].iter_mut().rev(), weights, past);
            let latest = &self.values[start..end.max(start + weights.len())];
            if start <= input_ends && latest.iter().all(|value| value.abs() < NEGLIGIBLE) {
                return;
            }
            end = start;
        }
    }

    /// `Σ_i Φ_i c(s m + l - i s)`: what c(s m + l) is.
    fn echoed(&self, source: Source<'_>, l: usize) -> f64 {
        let lag = |i: i64| signed(source.top() + l) - i * signed(source.season);
        source.seasonal_ar.iter().zip(1..).map(|(phi, i)| phi * self.at(lag(i))).sum()
    }

    /// The slopes, from those with respect to c (in the order of its lags from -q on) and to
    /// the autocovariances of w.
    pub fn slopes(&self, source: Source<'_>, mut of_c: Vec<f64>, of_own: &[f64]) -> Slopes {
        let (p, q, top) = (source.ar.len(), self.q, source.top());
        let mut out = Slopes {
            ar: vec![0.0; p],
            ma: vec![0.0; q],
            seasonal_ar: vec![0.0; source.seasonal_ar.len()],
            gamma: vec![0.0; source.gamma.len()],
        };
        of_c.resize(self.values.len(), 0.0);
        let right = DVector::from_column_slice(of_own);
        if let Some(mu) = self.system.transpose().lu().solve(&right) {
            for h in 0..=p {
                of_c[q + h] += mu[h];
                for j in 1..=q {
                    let lag = signed(h) - signed(j);
                    of_c[self.place(lag)] += source.ma[j - 1] * mu[h];
                    out.ma[j - 1] += mu[h] * self.at(lag);
                }
                for i in 1..=p {
                    out.ar[i - 1] += mu[h] * self.own[h.abs_diff(i)];
                }
            }
        }
        let ends = self.ascend(source, of_c, &mut out);
        if let Some(feedback) = &self.feedback {
            let nu = feedback * DVector::from_column_slice(&ends);
            let mut seeds = vec![0.0; self.values.len()];
            for l in 1..=p {
                for i in 1..=source.seasonal_ar.len() {
                    let lag = signed(top + l) - signed(i) * signed(source.season);
                    out.seasonal_ar[i - 1] += nu[l - 1] * self.at(lag);
                    if lag <= signed(top) {
                        let place = self.place(lag);
                        seeds[place] += source.seasonal_ar[i - 1] * nu[l - 1];
                    }
                }
            }
            self.ascend(source, seeds, &mut out);
        }
        out
    }

    /// The recursion backwards: adds to the slopes, returns those of the values beyond the top.
    fn ascend(&self, source: Source<'_>, mut of_c: Vec<f64>, out: &mut Slopes) -> Vec<f64> {
        let (p, end) = (source.ar.len(), self.q + source.top() + 1);
        let weights: Vec<f64> = source.ar.iter().map(|phi| -phi).collect();
        recur(of_c[..end].iter_mut(), &weights, &vec![0.0; p]);
        for l in 0..p {
            let before = (l + 1..=p).filter_map(|j| Some(source.ar[j - 1] * of_c[(end + l).checked_sub(j)?]));
            of_c[end + l] += before.sum::<f64>();
        }
        for (j, slope) in (1..).zip(&mut out.ar) {
            *slope += dot(&of_c[..end], &self.values[j..]);
        }
        for (k, (gamma, slope)) in source.gamma.iter().zip(&mut out.gamma).enumerate() {
            let lag = self.q + k * source.season;
            *slope += of_c[lag];
            for (j, theta) in (1..).zip(source.ma) {
                *slope += theta * of_c[lag - j];
                out.ma[j - 1] += gamma * of_c[lag - j];
            }
        }
        of_c.split_off(end)
    }
}

/// `γ(h) - Σ φ_i γ(|h - i|)` as a matrix, for h from 0 to p.
fn yule_walker(ar: &[f64]) -> DMatrix<f64> {
    let p = ar.len();
    let mut system = DMatrix::identity(p + 1, p + 1);
    for h in 0..=p {
        for (i, phi) in (1..).zip(ar) {
            system[(h, h.abs_diff(i))] -= phi;
        }
    }
    system
}

/// `Σ_i Φ_i A^{is}`, A the companion matrix of φ.
fn echo(source: Source<'_>) -> DMatrix<f64> {
    let p = source.ar.len();
    let companion = DMatrix::from_fn(p, p, |row, column| {
        if row == 0 { source.ar[column] } else { f64::from(u8::from(row == column + 1)) }
    });
    let step = power(&companion, source.season);
    let mut all = DMatrix::zeros(p, p);
    let mut now = DMatrix::identity(p, p);
    for phi in source.seasonal_ar {
        now = &now * &step;
        all += *phi * &now;
    }
    all
}

fn power(matrix: &DMatrix<f64>, exponent: usize) -> DMatrix<f64> {
    let mut result = DMatrix::identity(matrix.nrows(), matrix.ncols());
    let (mut square, mut left) = (matrix.clone(), exponent);
    while left > 0 {
        if left % 2 == 1 {
            result = &result * &square;
        }
        square = &square * &square;
        left /= 2;
    }
    result
}
