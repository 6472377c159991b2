//! The scalars f and b that whiten every phase of a season.

use super::dual::{Number, solved};

/// A step is taken as settled once nothing of it moves by more.
const SETTLED: f64 = 1e-13;

/// That number of steps are made room for at once.
const USUALLY_SETTLED: usize = 64;

/// What whitens a process that lives in steps of a season: the same numbers for every phase.
#[derive(Debug, Clone)]
pub(in crate::arima) struct Seasonal<T> {
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
    /// For `Φ(B) X = Θ(B) e` over that number of periods; none where it is not stationary.
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
        let early = (raw + q).min(periods).max(1);
        for t in 0..early {
            all.add_step(&moments.mixed(t, all.reach(t)))?;
        }
        match q {
            _ if periods <= early => {}
            0 => all.settle::<0>(periods, &moments.moving)?,
            1 => all.settle::<1>(periods, &moments.moving)?,
            2 => all.settle::<2>(periods, &moments.moving)?,
            _ => all.settle_slowly(periods, &moments.moving)?,
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

    /// The weights of every step, [`Self::stride`] places for each, zero where it has fewer.
    pub fn all_weights(&self) -> &[T] {
        &self.weights
    }

    /// The row of the triangular factor that belongs to the next period, from its covariances
    /// with itself, the period before, and so on.
    fn add_step(&mut self, covariances: &[T]) -> Option<()> {
        let (t, stride, start) = (self.variances.len(), self.stride(), self.weights.len());
        self.weights.resize(start + stride, T::constant(0.0));
        let (earlier, own) = self.weights.split_at_mut(start);
        let (own_covariance, behind) = covariances.split_first()?;
        let mut variance = *own_covariance;
        for j in (1..=behind.len()).rev() {
            let theirs = &earlier[start - j * stride..][..stride];
            // Where the period before reaches back no further, its weights are zero.
            let between = own[j..].iter().zip(theirs).zip(self.variances[..t - j].iter().rev());
            let left = between
                .fold(behind[j - 1], |left, ((own, theirs), variance)| left - *own * *theirs * *variance);
            let weight = left / self.variances[t - j];
            own[j - 1] = weight;
            variance = variance - weight * left;
        }
        self.push(variance)
    }

    /// The rows of all further periods until they are still, each from those of the last Q, which
    /// are kept at hand.
    fn settle<const Q: usize>(&mut self, periods: usize, moving: &[T]) -> Option<()> {
        let (mut t, stride) = (self.variances.len(), self.stride());
        let mut variances: [T; Q] = std::array::from_fn(|k| self.variances[t - 1 - k]);
        let mut rows: [[T; Q]; Q] =
            std::array::from_fn(|k| std::array::from_fn(|i| self.weights[(t - 1 - k) * stride + i]));
        let mut quiet = Quiet::default();
        while t < periods && !quiet.for_longer_than(Q) {
            let mut row = [T::constant(0.0); Q];
            let mut variance = moving[0];
            for j in (0..Q).rev() {
                let mut left = moving[j + 1];
                for i in j + 1..Q {
                    left = left - row[i] * rows[j][i - j - 1] * variances[i];
                }
                row[j] = left / variances[j];
                variance = variance - row[j] * left;
            }
            quiet.count(variance, self.variances[t - 1], &row, rows.first().unwrap_or(&row));
            self.push(variance)?;
            self.weights.extend_from_slice(&row);
            self.weights.resize(self.variances.len() * stride, T::constant(0.0));
            if Q > 0 {
                rows.rotate_right(1);
                variances.rotate_right(1);
                (rows[0], variances[0]) = (row, variance);
            }
            t += 1;
        }
        Some(())
    }

    /// The same of any order.
    fn settle_slowly(&mut self, periods: usize, moving: &[T]) -> Option<()> {
        let stride = self.stride();
        let mut quiet = Quiet::default();
        while self.variances.len() < periods && !quiet.for_longer_than(self.q) {
            self.add_step(moving)?;
            let [.., before, variance] = self.variances[..] else { return None };
            let (earlier, row) = self.weights.split_at(self.weights.len() - stride);
            quiet.count(variance, before, row, &earlier[earlier.len() - stride..]);
        }
        Some(())
    }

    /// None where it is no variance.
    fn push(&mut self, variance: T) -> Option<()> {
        self.variances.push(variance);
        (variance.value() > 0.0).then_some(())
    }
}

/// For how many steps nothing has moved.
#[derive(Default)]
struct Quiet(usize);

impl Quiet {
    /// Terms at every second season move every second step only.
    fn for_longer_than(&self, order: usize) -> bool {
        self.0 > order
    }

    fn count<T: Number>(&mut self, variance: T, before: T, row: &[T], row_before: &[T]) {
        let still = |a: T, b: T| a.distance(b) < SETTLED;
        let all = still(variance, before) && row.iter().zip(row_before).all(|(a, b)| still(*a, *b));
        self.0 = if all { self.0 + 1 } else { 0 };
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

    /// Of the value of a period and of that number of before, while there are such as are taken as they
    /// are among these.
    fn mixed(&self, t: usize, before: usize) -> Vec<T> {
        let of = |lag: usize| {
            if t < self.raw {
                self.gamma[lag]
            } else if t - lag < self.raw && lag > 0 {
                self.crossed[lag]
            } else {
                self.moving[lag]
            }
        };
        (0..=before).map(of).collect()
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arima::engine::dual::Dual;

    /// Autocovariances from a long sum over the responses to the innovations.
    fn covariances(ar: &[f64], ma: &[f64], most: usize) -> Vec<f64> {
        let mut psi = vec![0.0; 4_000];
        for k in 0..psi.len() {
            let past: f64 = (1..).zip(ar).filter(|(i, _)| *i <= k).map(|(i, phi)| phi * psi[k - i]).sum();
            psi[k] = past + if k == 0 { 1.0 } else { ma.get(k - 1).copied().unwrap_or(0.0) };
        }
        (0..=most).map(|lag| psi.iter().zip(&psi[lag..]).map(|(a, b)| a * b).sum()).collect()
    }

    /// The covariance of the first values as they are and of the filtered ones after them.
    fn plain(ar: &[f64], ma: &[f64], periods: usize) -> Vec<Vec<f64>> {
        let raw = ar.len().max(ma.len());
        let gamma = covariances(ar, ma, periods + ar.len());
        let rows: Vec<Vec<f64>> = (0..periods)
            .map(|t| {
                let mut row = vec![0.0; periods];
                row[t] = 1.0;
                if t >= raw {
                    (1..).zip(ar).for_each(|(i, phi)| row[t - i] = -phi);
                }
                row
            })
            .collect();
        let product = |a: &[f64], b: &[f64]| -> f64 {
            let pairs =
                a.iter().enumerate().flat_map(|(s, x)| b.iter().enumerate().map(move |(t, y)| (s, x, t, y)));
            pairs.map(|(s, x, t, y)| x * y * gamma[s.abs_diff(t)]).sum()
        };
        rows.iter().map(|a| rows.iter().map(|b| product(a, b)).collect()).collect()
    }

    const MODELS: [(&[f64], &[f64]); 9] = [
        (&[], &[-0.6]),
        (&[], &[-0.5, 0.3]),
        (&[], &[0.4, 0.0, -0.2]),
        (&[0.8], &[]),
        (&[0.5, 0.3], &[]),
        (&[0.2, 0.1, -0.3], &[-0.7]),
        (&[0.7], &[-0.4]),
        (&[-0.5], &[0.3, 0.2]),
        (&[0.3, 0.2], &[0.5, -0.2, 0.1, 0.2]),
    ];

    #[test]
    fn rows_and_variances_are_the_triangular_factor_of_the_covariance() {
        for (ar, ma) in MODELS {
            for periods in [1, 2, 5, 14] {
                let found = Seasonal::new(ar, ma, periods).expect("stationary");
                let plain = plain(ar, ma, periods);
                let factor = |t: usize, j: usize| match t.checked_sub(j) {
                    Some(0) => 1.0,
                    Some(back) => found.weights(t).get(back - 1).copied().unwrap_or(0.0),
                    None => 0.0,
                };
                for (s, row) in plain.iter().enumerate() {
                    for (t, expected) in row.iter().enumerate() {
                        let ours: f64 =
                            (0..periods).map(|j| factor(s, j) * found.variance(j) * factor(t, j)).sum();
                        assert!((ours - expected).abs() < 1e-10, "{ar:?} {ma:?} {s} {t}: {ours} {expected}");
                    }
                }
            }
        }
    }

    #[test]
    fn numbers_settle_where_nothing_moves_any_more() {
        for (ar, ma) in MODELS {
            let found = Seasonal::new(ar, ma, 500).expect("stationary");
            assert!(found.settled() < 400, "{ar:?} {ma:?}");
            // The innovations' variance is one.
            assert!((found.variance(usize::MAX) - 1.0).abs() < 1e-9, "{ar:?} {ma:?}");
            for (weight, theta) in found.weights(usize::MAX).iter().zip(ma) {
                assert!((weight - theta).abs() < 1e-9, "{ar:?} {ma:?}");
            }
        }
        assert!(Seasonal::new(&[1.2], &[], 50).is_none());
    }

    #[test]
    fn derivatives_are_differences() {
        let step = 1e-6;
        for (ar, ma) in MODELS {
            let flat = [ar, ma].concat();
            for place in 0..flat.len() {
                let dual = |k: usize, value: f64| Dual { value, slope: [if k == place { 1.0 } else { 0.0 }] };
                let duals: Vec<Dual<1>> = flat.iter().enumerate().map(|(k, value)| dual(k, *value)).collect();
                let (p, periods) = (ar.len(), 9);
                let exact = Seasonal::new(&duals[..p], &duals[p..], periods).expect("stationary");
                let [up, down] = [step, -step].map(|by| {
                    let mut moved = flat.clone();
                    moved[place] += by;
                    Seasonal::new(&moved[..p], &moved[p..], periods).expect("stationary")
                });
                for t in 0..periods {
                    let slope = (up.variance(t) - down.variance(t)) / (2.0 * step);
                    assert!(
                        (exact.variance(t).slope[0] - slope).abs() < 1e-6 * (1.0 + slope.abs()),
                        "{ar:?} {ma:?}"
                    );
                    let both = up.weights(t).iter().zip(down.weights(t));
                    for (own, (a, b)) in exact.weights(t).iter().zip(both) {
                        let slope = (a - b) / (2.0 * step);
                        assert!((own.slope[0] - slope).abs() < 1e-6 * (1.0 + slope.abs()), "{ar:?} {ma:?}");
                    }
                }
            }
        }
    }
}
