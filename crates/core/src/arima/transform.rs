//! Stationary and invertible coefficients as unrestricted numbers.

use super::coefficients::Coefficients;

/// Coefficients of stationary and invertible models as free numbers, and the way back.
///
/// # Formula
/// Each free number is an angle, its sine a partial autocorrelation, a little less than one at most; the recursion of
/// Durbin and Levinson turns these into the weights of an autoregression, for moving averages with the opposite sign.
/// An estimated angle has a variance of about `1/n`, near one and elsewhere, and a likelihood that is largest where a
/// partial autocorrelation is one has its top at an angle inside.
///
/// # Source
/// Monahan, J. F. (1984), Biometrika 71, 403-404, for the recursion; Jenkins, G. M. (1954), Biometrika 41, 261-265, for
/// the angle.
pub(super) fn coefficients(free: &[f64], like: &Coefficients) -> Coefficients {
    let shaped = like.shaped(free);
    let negative = |weights: Vec<f64>| weights.into_iter().map(|weight| -weight).collect();
    Coefficients {
        ar: weights(&shaped.ar),
        ma: negative(weights(&shaped.ma)),
        seasonal_ar: weights(&shaped.seasonal_ar),
        seasonal_ma: negative(weights(&shaped.seasonal_ma)),
    }
}

/// The slope with respect to the free numbers, from that with respect to the coefficients.
pub(super) fn slope(free: &[f64], like: &Coefficients, slope: &[f64]) -> Vec<f64> {
    let (free, of) = (like.shaped(free), like.shaped(slope));
    let blocks = [
        (&free.ar, &of.ar, 1.0),
        (&free.ma, &of.ma, -1.0),
        (&free.seasonal_ar, &of.seasonal_ar, 1.0),
        (&free.seasonal_ma, &of.seasonal_ma, -1.0),
    ];
    blocks.into_iter().flat_map(|(free, of, sign)| of_block(free, of, sign)).collect()
}

/// The largest partial autocorrelation.
const LARGEST: f64 = 1.0 - 1e-7;

fn partial(angle: f64) -> f64 {
    LARGEST * angle.sin()
}

/// How much larger than that of its innovations the variance of the autoregression is: `Π 1 / (1 - r²)`.
pub(super) fn amplification(free: &[f64], like: &Coefficients) -> f64 {
    let shaped = like.shaped(free);
    let of = |angle: &f64| 1.0 / (1.0 - partial(*angle).powi(2));
    shaped.ar.iter().chain(&shaped.seasonal_ar).map(of).product()
}

/// The largest distance between two partial autocorrelations of a place.
pub(super) fn distance(a: &[f64], b: &[f64]) -> f64 {
    a.iter().zip(b).map(|(a, b)| (partial(*a) - partial(*b)).abs()).fold(0.0, f64::max)
}

fn weights(free: &[f64]) -> Vec<f64> {
    let mut weights: Vec<f64> = Vec::with_capacity(free.len());
    for x in free {
        let r = partial(*x);
        let before = weights.clone();
        for (i, weight) in weights.iter_mut().enumerate() {
            *weight -= r * before[before.len() - 1 - i];
        }
        weights.push(r);
    }
    weights
}

/// Back through the recursion.
fn of_block(free: &[f64], of: &[f64], sign: f64) -> Vec<f64> {
    let stages: Vec<Vec<f64>> = (0..=free.len()).map(|count| weights(&free[..count])).collect();
    let mut now: Vec<f64> = of.iter().map(|slope| sign * slope).collect();
    let mut out = vec![0.0; free.len()];
    for k in (0..free.len()).rev() {
        let (before, r) = (&stages[k], partial(free[k]));
        let mut own = now[k];
        let mut earlier = now[..k].to_vec();
        for i in 0..k {
            own -= now[i] * before[k - 1 - i];
            earlier[k - 1 - i] -= r * now[i];
        }
        out[k] = own * LARGEST * free[k].cos();
        now = earlier;
    }
    out
}

/// Coefficients as free numbers: the recursion taken back.
pub(super) fn frees(coefficients: &Coefficients) -> Vec<f64> {
    let negative = |list: &[f64]| list.iter().map(|weight| -weight).collect::<Vec<f64>>();
    [
        partials(coefficients.ar.clone()),
        partials(negative(&coefficients.ma)),
        partials(coefficients.seasonal_ar.clone()),
        partials(negative(&coefficients.seasonal_ma)),
    ]
    .into_iter()
    .flatten()
    .map(free)
    .collect()
}

fn partials(mut weights: Vec<f64>) -> Vec<f64> {
    let mut found = Vec::with_capacity(weights.len());
    while let Some(r) = weights.pop() {
        found.push(r);
        let rest = 1.0 - r * r;
        let before = weights.clone();
        for (i, weight) in weights.iter_mut().enumerate() {
            *weight = (before[i] + r * before[before.len() - 1 - i]) / rest;
        }
    }
    found.reverse();
    found
}

/// The angle of a partial autocorrelation, or of the largest.
pub(super) fn free(partial: f64) -> f64 {
    (partial / LARGEST).clamp(-1.0, 1.0).asin()
}

#[cfg(test)]
mod tests {
    use std::f64::consts::FRAC_PI_2;

    use super::*;

    #[test]
    fn slopes_are_those_of_differences() {
        let like = Coefficients {
            ar: vec![0.0; 3],
            ma: vec![0.0; 2],
            seasonal_ar: vec![0.0],
            seasonal_ma: vec![0.0; 2],
        };
        let at = [0.4, -1.2, 0.3, 0.8, -0.5, 2.0, -0.1, 0.6];
        let of: Vec<f64> = (0..8).map(|k| f64::from(k) - 2.5).collect();
        let value = |free: &[f64]| -> f64 {
            coefficients(free, &like).flat().iter().zip(&of).map(|(c, s)| c * s).sum()
        };
        for (place, ours) in slope(&at, &like, &of).iter().enumerate() {
            let moved = |step: f64| {
                let mut near = at;
                near[place] += step;
                value(&near)
            };
            let plain = (moved(1e-6) - moved(-1e-6)) / 2e-6;
            assert!((ours - plain).abs() < 1e-7, "{place}: {ours} {plain}");
        }
    }

    #[test]
    fn free_numbers_are_found_again() {
        let like = Coefficients {
            ar: vec![0.0; 3],
            ma: vec![0.0; 2],
            seasonal_ar: vec![0.0],
            seasonal_ma: vec![0.0; 2],
        };
        let at = [0.4, -1.2, 0.3, 0.8, -0.5, 1.4, -0.1, 0.6];
        let found = frees(&coefficients(&at, &like));
        assert!(found.iter().zip(&at).all(|(a, b)| (a - b).abs() < 1e-12), "{found:?}");
    }

    #[test]
    fn one_partial_autocorrelation_is_its_own_weight() {
        let like = Coefficients { ar: vec![0.0], ma: vec![0.0], ..Coefficients::default() };
        let found = coefficients(&[free(0.6), free(0.6)], &like);
        assert!((found.ar[0] - 0.6).abs() < 1e-15 && (found.ma[0] + 0.6).abs() < 1e-15);
    }

    #[test]
    fn an_angle_beyond_a_right_one_folds_back_and_none_reaches_one() {
        let like = Coefficients { ar: vec![0.0], ..Coefficients::default() };
        let of = |angle: f64| coefficients(&[angle], &like).ar[0];
        assert!((of(FRAC_PI_2 + 0.3) - of(FRAC_PI_2 - 0.3)).abs() < 1e-15);
        assert!(of(FRAC_PI_2) < 1.0 && of(-FRAC_PI_2) > -1.0);
        assert!((frees(&Coefficients { ar: vec![1.0], ..like.clone() })[0] - FRAC_PI_2).abs() < 1e-15);
    }

    #[test]
    fn the_amplification_is_the_variance_of_an_autoregression() {
        let like = Coefficients { ar: vec![0.0; 2], ma: vec![0.0], ..Coefficients::default() };
        let at = [1.2, -0.7, 1.5];
        let ar = coefficients(&at, &like).ar;
        // The sum of the squares of its weights.
        let mut psi = vec![1.0, ar[0]];
        for k in 2..2_000 {
            psi.push(ar[0] * psi[k - 1] + ar[1] * psi[k - 2]);
        }
        let variance: f64 = psi.iter().map(|weight| weight * weight).sum();
        assert!((amplification(&at, &like) / variance - 1.0).abs() < 1e-9);
    }
}
