//! The seasonal factors of a model: a fixed pattern, a stationary one, or seasonal unit roots.

use super::prior::Orders;

/// A seasonal factor and its weight among those of a model.
#[derive(Debug, Clone, PartialEq)]
pub struct SeasonalFactor {
    /// Φ as the weights of past seasons.
    pub ar: Vec<f64>,
    /// Θ as the weights of past innovations, the unit roots of `1 - B^s` included.
    pub ma: Vec<f64>,
    /// Weights add up to one.
    pub weight: f64,
    /// Whether it is evaluated with every one of the first dynamics.
    pub is_reference: bool,
    /// Whether it is a stationary seasonal process, which is tried with some dynamics only.
    pub is_stationary: bool,
    /// Whether breaks are tried with it.
    pub is_core: bool,
}

const FIXED: f64 = 0.7;
const AUTOREGRESSION: f64 = 0.2;
const MOVING_AVERAGE: f64 = 0.1;
const PHI: [(f64, f64); 5] = [(0.3, 0.25), (0.5, 0.25), (0.7, 0.25), (0.85, 0.15), (0.95, 0.10)];
const THETA: [(f64, f64); 10] = [
    (-0.95, 0.02),
    (-0.88, 0.07),
    (-0.8, 0.15),
    (-0.7, 0.20),
    (-0.6, 0.20),
    (-0.5, 0.16),
    (-0.35, 0.12),
    (-0.15, 0.04),
    (0.0, 0.02),
    (0.15, 0.02),
];

/// Moving averages that are evaluated first.
const REFERENCES: [f64; 3] = [-0.88, -0.5, -0.15];

/// The seasonal factors of a model.
pub fn factors(orders: Orders) -> Vec<SeasonalFactor> {
    let mut all = if orders.seasonal == 0 { without_difference() } else { differenced(orders) };
    let total: f64 = all.iter().map(|one| one.weight).sum();
    for one in &mut all {
        one.weight /= total;
    }
    all
}

fn without_difference() -> Vec<SeasonalFactor> {
    let of = |ar: &[f64], ma: &[f64], weight: f64| SeasonalFactor {
        ar: ar.to_vec(),
        ma: ma.to_vec(),
        weight,
        is_reference: ar.is_empty() && ma.len() == 1 || ar == [0.7],
        is_stationary: !ar.is_empty() || ma.len() > 1,
        is_core: ar.is_empty() && ma.len() == 1,
    };
    let mut all = vec![of(&[], &[-1.0], FIXED)];
    all.extend(PHI.iter().map(|(phi, weight)| of(&[*phi], &[-1.0], AUTOREGRESSION * weight)));
    // (1 - B^s)(1 + cB^s).
    all.extend([0.25, -0.25].iter().map(|c| of(&[], &[c - 1.0, -c], 0.5 * MOVING_AVERAGE)));
    all
}

fn differenced(orders: Orders) -> Vec<SeasonalFactor> {
    let step = if orders.d > 1 { 2 } else { 1 };
    let of = |(theta, weight): &(f64, f64)| SeasonalFactor {
        ar: Vec::new(),
        ma: vec![*theta],
        weight: *weight,
        is_reference: REFERENCES.contains(theta),
        is_stationary: false,
        is_core: [-0.8, -0.6, -0.35].contains(theta),
    };
    THETA.iter().skip(step - 1).step_by(step).map(of).collect()
}
