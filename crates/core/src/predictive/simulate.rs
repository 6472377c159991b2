//! Simulated paths of the next values, with normal innovations or with resampled residuals.

use super::inverse::InverseStep;
use super::joint::Joint;
use super::marginal::Marginal;
use crate::num::normal;
use crate::num::rng::NormalStream;

/// Where the innovations of simulated paths come from.
#[derive(Debug, Clone)]
pub enum Shocks {
    /// From the standard normal distribution.
    Normal {
        /// Seed of the random numbers.
        seed: u64,
    },
    /// From residuals, drawn with replacement.
    Resampled {
        /// Residuals of mean zero and variance one.
        residuals: Vec<f64>,
        /// Seed of the random numbers.
        seed: u64,
    },
}

impl Shocks {
    /// Residuals to be drawn from: centred, and scaled to a variance of one. None where they do not vary.
    ///
    /// # Source
    /// Stine, R. A. (1987), Journal of the American Statistical Association 82, 1072-1078.
    pub fn resampled(residuals: &[f64], seed: u64) -> Option<Self> {
        let count = residuals.len() as f64;
        let mean = residuals.iter().sum::<f64>() / count;
        let sd = (residuals.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / count).sqrt();
        let usable = sd.is_finite() && sd > 0.0;
        let residuals = residuals.iter().map(|value| (value - mean) / sd).collect();
        usable.then_some(Self::Resampled { residuals, seed })
    }

    /// The innovations of one path, which depend on the seed and the number of the path alone.
    fn of_path(&self, path: u64, count: usize) -> Vec<f64> {
        match self {
            Self::Normal { seed } => NormalStream::new(*seed, path).take(count),
            Self::Resampled { residuals, seed } => {
                let z = NormalStream::new(*seed, path).take(count);
                z.into_iter().filter_map(|z| residuals.get(position(z, residuals.len())).copied()).collect()
            }
        }
    }
}

/// A standard normal value as one of `count` positions, each equally probable.
fn position(z: f64, count: usize) -> usize {
    let place = normal::cdf(z) * count as f64;
    // Between zero and the count.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let place = place as usize;
    place.min(count.saturating_sub(1))
}

/// Paths of the next values from their joint distribution, carried through the inverse steps; path k depends on the seed
/// and on k alone.
pub fn paths(joint: &Joint, steps: &[InverseStep], count: usize, shocks: &Shocks) -> Vec<Vec<f64>> {
    let width = width(joint);
    (0..count as u64).map(|path| along(joint, steps, &shocks.of_path(path, width), 1.0)).collect()
}

/// The number of innovations of a path.
fn width(joint: &Joint) -> usize {
    joint.responses.iter().map(Vec::len).max().unwrap_or(0)
}

/// The distribution of each step ahead over simulated paths.
///
/// # Method
/// Innovations are normal, each path together with its mirror image, or drawn with replacement from the standardised
/// residuals, so that the intervals have the tails and the skewness of the residuals; the covariances are those of `joint`.
pub fn simulated(joint: &Joint, steps: &[InverseStep], count: usize, shocks: &Shocks) -> Vec<Marginal> {
    let signs: &[f64] = if matches!(shocks, Shocks::Normal { .. }) { &[1.0, -1.0] } else { &[1.0] };
    let width = width(joint);
    let mut values = vec![Vec::with_capacity(count); joint.ahead()];
    for path in 0..(count / signs.len()) as u64 {
        let own = shocks.of_path(path, width);
        for sign in signs {
            let path = along(joint, steps, &own, *sign);
            values.iter_mut().zip(&path).for_each(|(all, value)| all.push(*value));
        }
    }
    let sorted = |mut own: Vec<f64>| {
        own.sort_by(f64::total_cmp);
        Marginal::Simulated(own)
    };
    values.into_iter().map(sorted).collect()
}

/// The path of these innovations, or of their mirror image.
fn along(joint: &Joint, steps: &[InverseStep], shocks: &[f64], sign: f64) -> Vec<f64> {
    let value = |(mean, responses): (&f64, &Vec<f64>)| {
        mean + sign * responses.iter().zip(shocks).map(|(response, z)| response * z).sum::<f64>()
    };
    let mut path: Vec<f64> = joint.mean.iter().zip(&joint.responses).map(value).collect();
    for step in steps {
        step.along(&mut path);
    }
    path
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn paths_have_the_moments_of_their_distribution_and_a_seed_of_their_own() {
        let joint = Joint { mean: vec![1.0, 2.0], responses: vec![vec![1.0], vec![0.5, 0.5]] };
        let of = |count, seed| paths(&joint, &[], count, &Shocks::Normal { seed });
        let drawn = of(20_000, 3);
        assert_eq!(drawn[..5], of(5, 3)[..]);
        assert_ne!(drawn[0], of(1, 4)[0]);
        let mean = |of: &dyn Fn(&Vec<f64>) -> f64| drawn.iter().map(of).sum::<f64>() / 20_000.0;
        assert!((mean(&|path| path[0]) - 1.0).abs() < 0.03 && (mean(&|path| path[1]) - 2.0).abs() < 0.03);
        let together = mean(&|path| (path[0] - 1.0) * (path[1] - 2.0));
        assert!((together - 0.5).abs() < 0.03, "{together}");
    }

    #[test]
    fn resampled_intervals_have_the_tails_of_the_residuals() {
        // One residual in ten is large: beyond the normal 97.5 % quantile of their variance, inside its 80 % one.
        let residuals: Vec<f64> =
            (0..100).map(|t| [1.0, -1.0][t % 2] * if t % 10 < 2 { 4.0 } else { 0.5 }).collect();
        let shocks = Shocks::resampled(&residuals, 5).expect("they vary");
        let joint = Joint { mean: vec![10.0, 10.0], responses: vec![vec![2.0], vec![2.0, 2.0]] };
        let found = simulated(&joint, &[], 20_000, &shocks);
        let scale = (0.2 * 16.0 + 0.8 * 0.25_f64).sqrt();
        let large = 2.0 * 4.0 / scale;
        // One in ten is minus four standard units, so the 5 % quantile is that value and the 20 % quantile is not.
        assert!((found[0].quantile(0.05) - (10.0 - large)).abs() < 1e-9);
        assert!((found[0].quantile(0.2) - (10.0 - large / 8.0)).abs() < 1e-9);
        // The moments stay those of the joint distribution.
        let (mean, sd) = found[1].moments();
        assert!((mean - 10.0).abs() < 0.06 && (sd / 8.0_f64.sqrt() - 1.0).abs() < 0.03, "{mean} {sd}");
        assert!(Shocks::resampled(&[1.0; 9], 5).is_none() && Shocks::resampled(&[], 5).is_none());
    }
}
