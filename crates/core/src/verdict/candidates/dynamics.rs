//! The short-run dynamics that every model is averaged over.

use std::f64::consts::PI;

use crate::arma::Mixture;

/// A dynamic and its weight.
#[derive(Debug, Clone)]
pub struct Weighted {
    pub mixture: Mixture,
    pub weight: f64,
    /// Modulus of its largest root.
    pub largest: f64,
    /// The period of its cycle, where it has complex roots.
    pub cycle: Option<f64>,
}

/// Largest roots of a stationary model.
const INSIDE: [(f64, f64); 9] = [
    (0.0, 0.17),
    (0.25, 0.16),
    (0.45, 0.15),
    (0.6, 0.14),
    (0.72, 0.12),
    (0.82, 0.10),
    (0.88, 0.07),
    (0.92, 0.05),
    (0.96, 0.04),
];

/// A unit root, as near as the filter bears; the constant takes the level out.
pub const UNIT: f64 = 1.0 - 1e-6;

/// The second root.
const SECOND: [(f64, f64); 6] =
    [(-0.6, 0.12), (-0.3, 0.16), (0.0, 0.36), (0.35, 0.18), (0.65, 0.12), (0.87, 0.06)];

/// Moving-average coefficients.
const MOVING: [(f64, f64); 7] =
    [(-0.85, 0.05), (-0.65, 0.09), (-0.4, 0.12), (-0.2, 0.12), (0.0, 0.36), (0.35, 0.16), (0.75, 0.10)];

/// Few of them, with rarer dynamics.
const MOVING_FEW: [(f64, f64); 3] = [(-0.5, 0.25), (0.0, 0.5), (0.5, 0.25)];

/// Moduli and angles of cycles.
const MODULI: [f64; 4] = [0.45, 0.65, 0.8, 0.92];
const ANGLES: [f64; 8] = [18.0, 36.0, 54.0, 72.0, 90.0, 108.0, 128.0, 152.0];

/// Cycles of a smaller modulus are not visible as such.
const VISIBLE: f64 = 0.65;

/// What cycles weigh relative to pairs of real roots, all together.
const CYCLE: f64 = 0.20;
/// What cycles with a further real root weigh, all together.
const CYCLE_AND_ROOT: f64 = 0.15;
/// What a second moving-average factor weighs, all together.
const SECOND_MOVING: f64 = 0.05;
/// What a seasonal moving average weighs, all together.
const SEASONAL: f64 = 0.25;
const SEASONAL_MOVING: [f64; 4] = [-0.8, -0.5, -0.25, 0.4];

/// Dynamics of a stationary model.
pub fn inside(season: Option<usize>) -> Vec<Weighted> {
    let mut all = Vec::new();
    for (rho, weight) in INSIDE {
        all.extend(around(rho, weight, season));
    }
    // Cycles that are the largest roots themselves.
    let each = CYCLE / (MODULI.len() * ANGLES.len()) as f64;
    for (cycle, moving, weight) in cycles(&MOVING_FEW) {
        let largest = (-cycle[1]).sqrt();
        let period = period(&cycle);
        let mixture = Mixture { ar: cycle, ma: moving };
        all.push(Weighted { mixture, weight: each * weight, largest, cycle: period });
    }
    all
}

/// Dynamics of a model with a unit root.
pub fn outside(season: Option<usize>) -> Vec<Weighted> {
    let mut all = around(UNIT, 1.0, season);
    let each = CYCLE / (MODULI.len() * ANGLES.len()) as f64;
    for (cycle, moving, weight) in cycles(&MOVING_FEW) {
        let mixture = Mixture { ar: times(&cycle, UNIT), ma: moving };
        all.push(Weighted { mixture, weight: each * weight, largest: 1.0, cycle: period(&cycle) });
    }
    for (cycle, moving, weight) in cycles(&[(0.0, 1.0)]) {
        for phi in [-0.5, 0.5] {
            let ar = times(&times(&cycle, phi), UNIT);
            let weight = 0.5 * CYCLE_AND_ROOT * each / CYCLE * weight;
            let mixture = Mixture { ar, ma: moving.clone() };
            all.push(Weighted { mixture, weight, largest: 1.0, cycle: period(&cycle) });
        }
    }
    all
}

/// Everything with a largest root.
fn around(rho: f64, share: f64, season: Option<usize>) -> Vec<Weighted> {
    let mut all = Vec::new();
    let largest = if rho >= UNIT { 1.0 } else { rho };
    let allowed = || SECOND.into_iter().filter(|(phi, _)| *phi <= rho.max(0.0));
    let total: f64 = allowed().map(|(_, weight)| weight).sum();
    let seasonal = if season.is_some() { SEASONAL } else { 0.0 };
    for (phi, second) in allowed() {
        let ar = times(&[phi], rho);
        let base = share * second / total;
        for (theta, moving) in MOVING {
            let weight = base * moving * (1.0 - SECOND_MOVING - seasonal);
            let mixture = Mixture { ar: ar.clone(), ma: vec![theta] };
            all.push(Weighted { mixture, weight, largest, cycle: None });
        }
        for (first, other) in [(0.8, 0.5), (0.6, -0.6), (-0.8, -0.5), (-0.6, -0.6), (0.5, 0.5)] {
            let ma = vec![first + other, first * other];
            let weight = base * SECOND_MOVING / 5.0;
            all.push(Weighted { mixture: Mixture { ar: ar.clone(), ma }, weight, largest, cycle: None });
        }
        // Seasonal filters are dear: with small second roots only.
        if let Some(season) = season.filter(|_| phi.abs() < 0.4) {
            all.extend(seasonal_moving(&ar, season, base * seasonal, largest));
        }
    }
    if (0.5..0.99).contains(&rho) {
        let each = CYCLE_AND_ROOT / (MODULI.len() * ANGLES.len()) as f64;
        for (cycle, moving, weight) in cycles(&[(0.0, 1.0)]) {
            let ar = times(&cycle, rho);
            let (weight, largest) = (share * each * weight, largest.max((-cycle[1]).sqrt()));
            let mixture = Mixture { ar, ma: moving };
            all.push(Weighted { mixture, weight, largest, cycle: period(&cycle) });
        }
    }
    all
}

/// `(1 + θB)(1 + ΘB^s)` for a few of both.
fn seasonal_moving(ar: &[f64], season: usize, share: f64, largest: f64) -> Vec<Weighted> {
    let each = 1.0 / SEASONAL_MOVING.len() as f64;
    let mut all = Vec::new();
    for large in SEASONAL_MOVING {
        for (theta, moving) in [(-0.6, 0.25), (-0.3, 0.25), (0.0, 0.35), (0.4, 0.15)] {
            let mut ma = vec![0.0; season + 1];
            ma[0] += theta;
            ma[season - 1] += large;
            ma[season] += theta * large;
            let weight = share * each * moving;
            all.push(Weighted { mixture: Mixture { ar: ar.to_vec(), ma }, weight, largest, cycle: None });
        }
    }
    all
}

/// Complex pairs with moving averages and the weights of these.
fn cycles(moving: &[(f64, f64)]) -> Vec<(Vec<f64>, Vec<f64>, f64)> {
    let mut all = Vec::new();
    for modulus in MODULI {
        for angle in ANGLES {
            let pair = vec![2.0 * modulus * (angle * PI / 180.0).cos(), -modulus * modulus];
            for (theta, weight) in moving {
                all.push((pair.clone(), vec![*theta], *weight));
            }
        }
    }
    all
}

/// The period of the complex roots of two autoregressive weights, where their modulus makes a cycle visible.
pub fn period(pair: &[f64]) -> Option<f64> {
    let (first, second) = (*pair.first()?, *pair.get(1)?);
    let modulus = (-second).sqrt();
    let angle = (0.5 * first / modulus).acos();
    (modulus >= VISIBLE && angle > 0.0).then(|| 2.0 * PI / angle)
}

/// The autoregressive weights of `(1 - ρB)` times those given.
pub fn times(ar: &[f64], rho: f64) -> Vec<f64> {
    let mut out = vec![0.0; ar.len() + 1];
    out[0] = rho;
    for (i, phi) in ar.iter().enumerate() {
        out[i] += phi;
        out[i + 1] -= rho * phi;
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arma::Whitening;

    #[test]
    fn factors_multiply() {
        // (1 - 0.5B)(1 - 0.3B) = 1 - 0.8B + 0.15B².
        for (ours, by_hand) in times(&[0.3], 0.5).iter().zip([0.8, -0.15]) {
            assert!((ours - by_hand).abs() < 1e-15);
        }
    }

    #[test]
    fn every_dynamic_has_a_filter_and_a_positive_weight() {
        for season in [None, Some(4)] {
            for one in inside(season).iter().chain(&outside(season)) {
                assert!(one.weight > 0.0);
                assert!(Whitening::new(&one.mixture, 60).is_some(), "{one:?}");
            }
        }
    }
}
