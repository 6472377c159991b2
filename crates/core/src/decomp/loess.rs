//! Local polynomials over neighbouring values.

use rayon::prelude::*;

use crate::num::sum::dot;

/// Fits of more products than this are shared among threads.
const WORTH_SHARING: usize = 1_000_000;

/// Points of less spread than this share of the bandwidth bear no slope.
const LEAST_SPREAD: f64 = 1e-3;

/// Local polynomials on points in order of place.
///
/// # Formula
/// The value at x is that at x of the polynomial fitted to the `window` points nearest to x by
/// least squares, with weights `(1 - (|x_i - x|/h)³)³ ρ_i`. h is the distance of the farthest
/// of them; with fewer points than `window` it is that of the farthest point times
/// window/points. Where the weighted points spread less than 0.001 h, the degree falls to 0
/// (for a parabola first to 1); where every ρ is zero they count as ones.
///
/// # Source
/// Cleveland, W. S. and Devlin, S. J. (1988), Journal of the American Statistical Association
/// 83, 596-610; the version for seasonal series is that of Cleveland, R. B. and others (1990), Journal of Official Statistics 6, 3-73.
///
/// # Cost
/// `window` products a value; on points without gaps and weights a value inside is one sum of
/// products with weights that are made once.
#[derive(Debug, Clone)]
pub struct Loess {
    window: usize,
    degree: usize,
    kernel: Kernel,
}

/// Points in order of place.
#[derive(Clone, Copy)]
pub struct Points<'a> {
    /// Whole numbers, rising.
    pub places: &'a [f64],
    /// One a place.
    pub values: &'a [f64],
    /// ρ of each; ones if there are none.
    pub weights: Option<&'a [f64]>,
}

/// What the weights of a whole neighbourhood come to, for offsets from its left end to its right.
#[derive(Debug, Clone, Default)]
struct Kernel {
    half: usize,
    /// Weight of each value in the fit at the middle, all ρ equal.
    fit: Vec<f64>,
    /// Weights times offset to the power 0, 1, …
    powers: Vec<Vec<f64>>,
}

/// Weighted sums about a place: of powers of the scaled offsets, and of these times the values.
#[derive(Default, Clone, Copy)]
struct Sums {
    powers: [f64; 5],
    values: [f64; 3],
}

impl Loess {
    /// Polynomials of degree 0, 1 or 2 (more count as 2) on an odd number of points.
    pub fn new(window: usize, degree: usize) -> Self {
        let degree = degree.min(2);
        Self { window, degree, kernel: Kernel::new(window, degree) }
    }

    /// The curve at the places from `first` on, that number of them.
    ///
    /// # Input
    /// One point at least.
    pub fn smooth(&self, points: Points<'_>, first: f64, count: usize) -> Vec<f64> {
        let weighted: Vec<f64> = points.weights.map_or_else(Vec::new, |weights| {
            weights.iter().zip(points.values).map(|(weight, value)| weight * value).collect()
        });
        let at = |step: usize| self.value(points, &weighted, first + step as f64);
        if count.saturating_mul(self.window.min(points.values.len())) > WORTH_SHARING {
            (0..count).into_par_iter().with_min_len(256).map(at).collect()
        } else {
            (0..count).map(at).collect()
        }
    }

    /// What the other points say about each: the fit at its place with its own weight zero.
    pub fn left_out(&self, points: Points<'_>) -> Vec<f64> {
        let fit = |own: usize| {
            let x = points.places[own];
            let (range, bandwidth) = self.neighbourhood(points.places, x);
            let weight = |i: usize| if i == own { 0.0 } else { points.weights.map_or(1.0, |rho| rho[i]) };
            Sums::over(points, range, x, bandwidth, weight).fit(self.degree).unwrap_or(points.values[own])
        };
        (0..points.values.len()).map(fit).collect()
    }

    fn value(&self, points: Points<'_>, weighted: &[f64], x: f64) -> f64 {
        if let Some(inside) = self.whole_neighbourhood(points.places, x) {
            let (from, to) = (inside, inside + self.kernel.fit.len());
            let values = &points.values[from..to];
            let Some(weights) = points.weights else {
                return dot(&self.kernel.fit, values);
            };
            let sums = self.kernel.sums(&weights[from..to], &weighted[from..to]);
            if let Some(fit) = sums.fit(self.degree) {
                return fit;
            }
        }
        let (range, bandwidth) = self.neighbourhood(points.places, x);
        let rho = |i: usize| points.weights.map_or(1.0, |weights| weights[i]);
        Sums::over(points, range.clone(), x, bandwidth, rho).fit(self.degree).unwrap_or_else(|| {
            Sums::over(points, range, x, bandwidth, |_| 1.0).fit(self.degree).unwrap_or_default()
        })
    }

    /// The first point of the kernel's reach about a place that has neighbours without gaps on
    /// both sides.
    fn whole_neighbourhood(&self, places: &[f64], x: f64) -> Option<usize> {
        let half = self.kernel.half;
        let (first, last) = (*places.first()?, *places.last()?);
        let gapless = last - first + 1.0 <= places.len() as f64;
        let reach = half as f64;
        let inside = gapless && !self.kernel.fit.is_empty() && x - first >= reach && last - x >= reach;
        // A distance between two places, not negative.
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
        inside.then(|| (x - first) as usize - half)
    }

    /// The points nearest to a place, and the bandwidth.
    fn neighbourhood(&self, places: &[f64], x: f64) -> (std::ops::Range<usize>, f64) {
        let count = places.len();
        if self.window >= count {
            let farthest = (x - places[0]).abs().max((places[count - 1] - x).abs());
            return (0..count, farthest.max(1.0) * self.window as f64 / count as f64);
        }
        // The first window whose next point on the right is no nearer than its first on the left.
        let (mut low, mut high) = (0, count - self.window);
        while low < high {
            let middle = usize::midpoint(low, high);
            if places[middle + self.window] - x < x - places[middle] {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        let range = low..low + self.window;
        let farthest = (x - places[range.start]).abs().max((places[range.end - 1] - x).abs());
        (range, farthest)
    }
}

/// Tricube weight of a distance as a share of the bandwidth.
fn tricube(share: f64) -> f64 {
    let rest = 1.0 - share.abs().powi(3);
    if rest > 0.0 { rest.powi(3) } else { 0.0 }
}

impl Kernel {
    fn new(window: usize, degree: usize) -> Self {
        let half = window.saturating_sub(1) / 2;
        if window < 3 || window.is_multiple_of(2) {
            return Self::default();
        }
        let offset = |k: usize| (k as f64 - half as f64) / half as f64;
        let weights: Vec<f64> = (0..window).map(|k| tricube(offset(k))).collect();
        let power = |p: i32| weights.iter().enumerate().map(|(k, w)| w * offset(k).powi(p)).collect();
        let powers: Vec<Vec<f64>> = (0..=4).map(power).collect();
        let sums: Vec<f64> = powers.iter().map(|power| power.iter().sum()).collect();
        // In the middle a line is the mean; a parabola is not.
        let fit = if degree < 2 || window < 5 {
            powers[0].iter().map(|w| w / sums[0]).collect()
        } else {
            let determinant = sums[0] * sums[4] - sums[2] * sums[2];
            let pairs = powers[0].iter().zip(&powers[2]);
            pairs.map(|(flat, square)| (sums[4] * flat - sums[2] * square) / determinant).collect()
        };
        Self { half, fit, powers }
    }

    fn sums(&self, weights: &[f64], weighted: &[f64]) -> Sums {
        let mut sums = Sums::default();
        for (p, power) in self.powers.iter().enumerate() {
            sums.powers[p] = dot(power, weights);
            if let Some(value) = sums.values.get_mut(p) {
                *value = dot(power, weighted);
            }
        }
        sums
    }
}

impl Sums {
    fn over(
        points: Points<'_>,
        range: std::ops::Range<usize>,
        x: f64,
        bandwidth: f64,
        rho: impl Fn(usize) -> f64,
    ) -> Self {
        let mut sums = Self::default();
        for i in range {
            let offset = (points.places[i] - x) / bandwidth;
            let mut term = tricube(offset) * rho(i);
            for p in 0..5 {
                sums.powers[p] += term;
                if let Some(value) = sums.values.get_mut(p) {
                    *value += term * points.values[i];
                }
                term *= offset;
            }
        }
        sums
    }

    /// The polynomial's value at offset zero; `None` without any weight.
    fn fit(&self, degree: usize) -> Option<f64> {
        let [s0, s1, s2, s3, s4] = self.powers;
        let [t0, t1, t2] = self.values;
        if s0 <= f64::MIN_POSITIVE {
            return None;
        }
        let (centre, mean) = (s1 / s0, t0 / s0);
        let spread = s2 - s1 * centre;
        if degree == 0 || spread <= LEAST_SPREAD * LEAST_SPREAD * s0 {
            return Some(mean);
        }
        let with_values = t1 - centre * t0;
        let line = mean - centre * with_values / spread;
        if degree == 1 {
            return Some(line);
        }
        // The square less its own line, by the same steps.
        let square_mean = s2 / s0;
        let square_slope = (s3 - centre * s2) / spread;
        let bend = s4 - square_mean * s2 - square_slope * (s3 - centre * s2);
        if bend <= LEAST_SPREAD.powi(4) * s0 {
            return Some(line);
        }
        let curvature = (t2 - square_mean * t0 - square_slope * with_values) / bend;
        Some(line - curvature * (square_mean - square_slope * centre))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn places(count: u32) -> Vec<f64> {
        (0..count).map(f64::from).collect()
    }

    #[test]
    fn polynomials_of_its_degree_pass_unchanged_also_beyond_the_ends() {
        let x = places(40);
        for degree in 0..=2 {
            let truth = |x: f64| (0..=degree).map(|p| (x / 10.0).powi(p) * 2.0).sum::<f64>();
            let values: Vec<f64> = x.iter().map(|x| truth(*x)).collect();
            let rho: Vec<f64> = x.iter().map(|x| 0.2 + (x * 0.7).sin().powi(2)).collect();
            for weights in [None, Some(rho.as_slice())] {
                let points = Points { places: &x, values: &values, weights };
                let degree = usize::try_from(degree).expect("small");
                let curve = Loess::new(11, degree).smooth(points, -1.0, 42);
                for (step, fit) in curve.iter().enumerate() {
                    assert!((fit - truth(step as f64 - 1.0)).abs() < 1e-11, "{degree} {step} {fit}");
                }
            }
        }
    }

    #[test]
    fn a_window_wider_than_the_points_takes_all_of_them() {
        let (x, values) = (places(5), [1.0, 4.0, 2.0, 5.0, 3.0]);
        let points = Points { places: &x, values: &values, weights: None };
        let wide = Loess::new(100_001, 0).smooth(points, 0.0, 5);
        assert!(wide.iter().all(|fit| (fit - 3.0).abs() < 1e-9), "{wide:?}");
    }

    #[test]
    fn without_any_weight_the_points_count_alike() {
        let (x, values) = (places(9), [3.0; 9]);
        let points = Points { places: &x, values: &values, weights: Some(&[0.0; 9]) };
        assert!(Loess::new(5, 1).smooth(points, 0.0, 9).iter().all(|fit| (fit - 3.0).abs() < 1e-12));
    }

    #[test]
    fn a_point_left_out_is_what_a_fit_without_it_says() {
        let x = places(15);
        let values: Vec<f64> = x.iter().map(|x| (x * 0.9).sin() * 4.0 + x).collect();
        let left_out = Loess::new(7, 1).left_out(Points { places: &x, values: &values, weights: None });
        for own in 0..15 {
            let mut weights = vec![1.0; 15];
            weights[own] = 0.0;
            let points = Points { places: &x, values: &values, weights: Some(&weights) };
            let fit = Loess::new(7, 1).smooth(points, own as f64, 1)[0];
            assert!((fit - left_out[own]).abs() < 1e-12);
        }
    }
}
