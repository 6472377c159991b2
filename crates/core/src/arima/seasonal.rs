use super::dual::{Number, solved};

/// A step is taken as settled once nothing of it moves by more.
const SETTLED: f64 = 1e-15;

/// What whitens a process that lives in steps of a season: the same numbers for every phase.
#[derive(Debug, Clone)]
pub(super) struct Seasonal<T> {
    /// max(P, Q): the first values, which are whitened as they are.
    pub raw: usize,
    /// Autocovariances at seasonal lags 0 to `raw`.
    pub gamma: Vec<T>,
    /// Variance and weights of the whitened values before, by period; the last holds for all
    /// later ones.
    pub steps: Vec<Step<T>>,
}

/// One period.
#[derive(Debug, Clone)]
pub(super) struct Step<T> {
    pub variance: T,
    pub weights: Vec<T>,
}

impl<T: Number> Seasonal<T> {
    /// For `Φ(B) X = Θ(B) e` over so many periods; none where it is not stationary.
    ///
    /// # Formula
    /// Ansley's transformation: the first max(P, Q) values as they are, then `Φ(B) X`, and the
    /// triangular factor of their covariances.
    ///
    /// # Source
    /// Ansley, C. F. (1979), Biometrika 66, 59-65.
    pub fn new(ar: &[T], ma: &[T], periods: usize) -> Option<Self> {
        let (p, q) = (ar.len(), ma.len());
        let raw = p.max(q);
        let (zero, one) = (T::constant(0.0), T::constant(1.0));
        let sum = |terms: &mut dyn Iterator<Item = T>| terms.fold(zero, |sum, term| sum + term);
        let theta = |r: usize| if r == 0 { one } else { ma[r - 1] };
        let mut psi = vec![one];
        for k in 1..=q {
            let past = sum(&mut (1..=k.min(p)).map(|i| ar[i - 1] * psi[k - i]));
            psi.push(theta(k) + past);
        }
        let crossed: Vec<T> = (0..=raw).map(|k| sum(&mut (k..=q).map(|r| theta(r) * psi[r - k]))).collect();
        let moving: Vec<T> = (0..=q).map(|k| sum(&mut (k..=q).map(|r| theta(r) * theta(r - k)))).collect();
        let gamma = autocovariances(ar, &crossed, raw)?;
        let covariance = |t: usize, lag: usize| match (t < raw, lag > q) {
            (true, _) => gamma[lag],
            (false, true) => zero,
            (false, false) if t - lag < raw => crossed[lag],
            (false, false) => moving[lag],
        };
        let mut steps: Vec<Step<T>> = Vec::new();
        let mut quiet = 0;
        for t in 0..periods.max(1) {
            let reach = if t < raw { t } else { q.min(t) };
            let mut weights = vec![zero; reach];
            for j in (1..=reach).rev() {
                let before = &steps[t - j];
                let shared = (j + 1..=reach)
                    .filter(|i| i - j <= before.weights.len())
                    .map(|i| weights[i - 1] * before.weights[i - j - 1] * steps[t - i].variance);
                let shared = sum(&mut shared.collect::<Vec<_>>().into_iter());
                weights[j - 1] = (covariance(t, j) - shared) / before.variance;
            }
            let explained =
                sum(&mut (1..=reach).map(|j| weights[j - 1] * weights[j - 1] * steps[t - j].variance));
            let variance = covariance(t, 0) - explained;
            if variance.value().is_nan() || variance.value() <= 0.0 {
                return None;
            }
            let still = t > raw + q
                && steps.last().is_some_and(|last| {
                    variance.distance(last.variance) < SETTLED
                        && weights.iter().zip(&last.weights).all(|(a, b)| a.distance(*b) < SETTLED)
                });
            // Terms at every second season move every second step only.
            quiet = if still { quiet + 1 } else { 0 };
            steps.push(Step { variance, weights });
            if quiet > q {
                break;
            }
        }
        Some(Self { raw, gamma, steps })
    }

    /// The step of a period.
    pub fn step(&self, period: usize) -> &Step<T> {
        &self.steps[period.min(self.steps.len() - 1)]
    }
}

/// Autocovariances at lags 0 to `most`, from the covariances with present and past innovations.
fn autocovariances<T: Number>(ar: &[T], crossed: &[T], most: usize) -> Option<Vec<T>> {
    let p = ar.len();
    let mut rows = vec![vec![T::constant(0.0); p + 1]; p + 1];
    for (k, row) in rows.iter_mut().enumerate() {
        row[k] = row[k] + T::constant(1.0);
        for (i, phi) in ar.iter().enumerate() {
            let lag = k.abs_diff(i + 1);
            row[lag] = row[lag] - *phi;
        }
    }
    let mut gamma = solved(rows, crossed.iter().take(p + 1).copied().collect())?;
    for k in p + 1..=most {
        let past = ar.iter().enumerate().fold(crossed[k], |sum, (i, phi)| sum + *phi * gamma[k - i - 1]);
        gamma.push(past);
    }
    Some(gamma)
}
