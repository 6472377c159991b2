use super::dual::{Number, solved};

/// A step is taken as settled once nothing of it moves by more.
const SETTLED: f64 = 1e-13;

/// So many steps are made room for at once.
const USUALLY_SETTLED: usize = 64;

/// What whitens a process that lives in steps of a season: the same numbers for every phase.
#[derive(Debug, Clone)]
pub(super) struct Seasonal<T> {
    /// max(P, Q): the first values, which are whitened as they are.
    pub raw: usize,
    /// Autocovariances at seasonal lags 0 to `raw`.
    pub gamma: Vec<T>,
    /// Variance of the whitened value of each period; the last holds for all later ones.
    variances: Vec<T>,
    /// Weights of the whitened values before, [`Self::stride`] places for each period.
    weights: Vec<T>,
    /// Θ's.
    q: usize,
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
        let moments = Moments::new(ar, ma)?;
        let (raw, q) = (moments.raw, ma.len());
        let room = periods.min(USUALLY_SETTLED);
        let (variances, weights) =
            (Vec::with_capacity(room), Vec::with_capacity(room * q.max(raw.saturating_sub(1))));
        let mut all = Self { raw, gamma: Vec::new(), variances, weights, q };
        let mut quiet = 0;
        for t in 0..periods.max(1) {
            all.add_step(t, &moments)?;
            // Terms at every second season move every second step only.
            quiet = if t > raw + q && all.stands_still(t) { quiet + 1 } else { 0 };
            if quiet > q {
                break;
            }
        }
        Some(Self { gamma: moments.gamma, ..all })
    }

    /// Places kept for the weights of each period.
    pub fn stride(&self) -> usize {
        self.raw.saturating_sub(1).max(self.q)
    }

    /// Periods back to which the whitened value of a period reaches.
    #[inline]
    fn reach(&self, period: usize) -> usize {
        if period < self.raw { period } else { self.q.min(period) }
    }

    /// The first period whose step holds for all later ones.
    pub fn settled(&self) -> usize {
        self.variances.len() - 1
    }

    /// The variance of a period.
    #[inline]
    pub fn variance(&self, period: usize) -> T {
        self.variances[period.min(self.settled())]
    }

    /// The weights of a period, of the period before first.
    #[inline]
    pub fn weights(&self, period: usize) -> &[T] {
        let step = period.min(self.settled());
        let start = step * self.stride();
        &self.weights[start..start + self.reach(step)]
    }

    /// The weights of every step, [`Self::stride`] places for each, nought where it has fewer.
    pub fn all_weights(&self) -> &[T] {
        &self.weights
    }

    /// The row of the triangular factor that belongs to period t.
    fn add_step(&mut self, t: usize, moments: &Moments<T>) -> Option<()> {
        let (stride, reach) = (self.stride(), self.reach(t));
        let start = t * stride;
        self.weights.resize(start + stride, T::constant(0.0));
        let mut variance = moments.covariance(t, 0);
        for j in (1..=reach).rev() {
            let before = t - j;
            let mut left = moments.covariance(t, j);
            for i in j + 1..=reach.min(j + self.reach(before)) {
                let theirs = self.weights[before * stride + i - j - 1];
                left = left - self.weights[start + i - 1] * theirs * self.variances[t - i];
            }
            let own = left / self.variances[before];
            self.weights[start + j - 1] = own;
            variance = variance - own * left;
        }
        if variance.value().is_nan() || variance.value() <= 0.0 {
            return None;
        }
        self.variances.push(variance);
        Some(())
    }

    /// Whether the step of period t is that of the period before.
    fn stands_still(&self, t: usize) -> bool {
        let still = |a: T, b: T| a.distance(b) < SETTLED;
        let start = t * self.stride();
        let (own, before) = (&self.weights[start..], &self.weights[start - self.stride()..start]);
        still(self.variances[t], self.variances[t - 1]) && own.iter().zip(before).all(|(a, b)| still(*a, *b))
    }
}

/// Covariances of the values as they are and of the filtered ones.
struct Moments<T> {
    raw: usize,
    gamma: Vec<T>,
    /// Of a filtered value with one before it that is taken as it is, by their distance.
    crossed: Vec<T>,
    /// Of filtered values.
    moving: Vec<T>,
}

impl<T: Number> Moments<T> {
    fn new(ar: &[T], ma: &[T]) -> Option<Self> {
        let (p, q) = (ar.len(), ma.len());
        let raw = p.max(q);
        let (zero, one) = (T::constant(0.0), T::constant(1.0));
        let theta = |r: usize| if r == 0 { one } else { ma[r - 1] };
        let mut psi = vec![one];
        for k in 1..=q {
            let past = (1..=k.min(p)).fold(zero, |sum, i| sum + ar[i - 1] * psi[k - i]);
            psi.push(theta(k) + past);
        }
        let crossed: Vec<T> =
            (0..=raw).map(|k| (k..=q).fold(zero, |sum, r| sum + theta(r) * psi[r - k])).collect();
        let moving = (0..=q).map(|k| (k..=q).fold(zero, |sum, r| sum + theta(r) * theta(r - k))).collect();
        let gamma = autocovariances(ar, &crossed, raw)?;
        Some(Self { raw, gamma, crossed, moving })
    }

    /// Of the values of period t and so many periods before.
    fn covariance(&self, t: usize, lag: usize) -> T {
        if t < self.raw {
            self.gamma[lag]
        } else if t - lag < self.raw && lag > 0 {
            self.crossed[lag]
        } else {
            self.moving[lag]
        }
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
