//! The prior weights of the joint rule.

/// Differences of a model, and what is judged under it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Orders {
    /// Ordinary differences.
    pub d: usize,
    /// Seasonal differences.
    pub seasonal: usize,
}

impl Orders {
    /// Differences of v under this model, beyond the unit root of `S(B)`.
    pub fn further(self) -> usize {
        (self.d + self.seasonal).saturating_sub(1)
    }

    /// Whether the model of v has a factor with a unit root: `S(B)` in place of `1 - B^s`.
    pub fn has_unit_factor(self) -> bool {
        self.seasonal == 0 && self.d > 0
    }

    /// Whether v has a mean under this model.
    pub fn has_slope(self) -> bool {
        self.further() == 0
    }
}

/// All models with their prior probabilities.
pub const ORDERS: [(Orders, f64); 6] = [
    (Orders { d: 0, seasonal: 0 }, 0.24),
    (Orders { d: 1, seasonal: 0 }, 0.28),
    (Orders { d: 0, seasonal: 1 }, 0.17),
    (Orders { d: 1, seasonal: 1 }, 0.26),
    (Orders { d: 2, seasonal: 0 }, 0.02),
    (Orders { d: 2, seasonal: 1 }, 0.03),
];

/// The prior probability that v has mean zero.
pub fn no_slope(orders: Orders) -> f64 {
    if orders == (Orders { d: 0, seasonal: 0 }) { 0.4 } else { 0.3 }
}

/// Standard deviations of the mean of v, in units of the innovations', with their weights. Heavy tails matter: without
/// them a trend is taken for a second difference.
pub const SLOPE: [(f64, f64); 6] =
    [(1.0, 0.30), (4.0, 0.30), (16.0, 0.20), (64.0, 0.10), (256.0, 0.06), (2048.0, 0.04)];
/// Standard deviations of the first value of v where it is differenced.
pub const START: [(f64, f64); 6] =
    [(1.0, 0.50), (4.0, 0.22), (16.0, 0.15), (64.0, 0.07), (256.0, 0.04), (2048.0, 0.02)];
/// Standard deviations of the first difference of v where that is differenced too.
pub const SECOND_START: [(f64, f64); 5] = [(0.3, 0.3), (1.0, 0.3), (4.0, 0.2), (32.0, 0.15), (256.0, 0.05)];

/// The power of the evidence in the posterior: neighbouring points of the grid are not independent models.
pub const POWER: f64 = 0.9;

/// The prior probability of no seasonality where no seasonal difference is taken.
pub const NO_SEASONALITY: f64 = 0.3;
/// The prior probability of a smooth pattern, a few harmonics, where no seasonal difference is taken and the season is
/// long.
pub const SMOOTH: f64 = 0.3;
/// A pattern of this number of places or fewer is not smooth beforehand.
pub const MOST_PLACES_ROUGH: usize = 12;
/// Numbers of harmonics of a smooth pattern, equally probable.
pub const HARMONICS: [usize; 3] = [1, 2, 4];
/// Standard deviations of the coefficients of its harmonics, in units of the innovations', with their weights.
pub const AMPLITUDE: [(f64, f64); 4] = [(0.25, 0.3), (1.0, 0.4), (4.0, 0.2), (16.0, 0.1)];
/// Standard deviations of the change of a contrast where the pattern changes once.
pub const CHANGE: [(f64, f64); 3] = [(1.0, 0.4), (3.0, 0.4), (10.0, 0.2)];
/// Standard deviations of the contrasts of a fixed pattern, in units of the innovations', with their weights.
pub const CONTRAST: [(f64, f64); 4] = [(0.5, 0.3), (2.0, 0.4), (8.0, 0.2), (32.0, 0.1)];
