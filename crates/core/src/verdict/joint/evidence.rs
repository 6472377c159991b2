//! The likelihood of a series under one model, one dynamics and one seasonal factor, averaged over mean and first values.

use super::super::candidates::{UNIT, times};
use super::dynamics::Dynamics;
use super::prior::{Orders, SECOND_START, SLOPE, START, no_slope};
use super::seasonal::SeasonalFactor;
use crate::arima::{Coefficients, Precision};
use crate::num::scale;
use crate::num::sum::dot;

/// The seasonal differences of a series, in units of their root mean square, and their differences.
pub struct Sample {
    /// Seasonal period.
    pub season: usize,
    /// `v`, `(1 - B) v`, `(1 - B)² v`.
    pub differenced: [Vec<f64>; 3],
    ones: Vec<f64>,
}

impl Sample {
    /// None where the seasonal differences do not vary: a pattern and a line alone.
    pub fn new(y: &[f64], season: usize) -> Option<Self> {
        let v: Vec<f64> = y.iter().zip(y.iter().skip(season)).map(|(before, now)| now - before).collect();
        let size = (dot(&v, &v) / v.len() as f64).sqrt();
        let mean = v.iter().sum::<f64>() / v.len() as f64;
        let varies = v.iter().any(|value| (value - mean).abs() > 1e-12 * scale::largest(y));
        if v.len() < 3 || !varies || !size.is_finite() {
            return None;
        }
        let v: Vec<f64> = v.iter().map(|value| value / size).collect();
        let difference = |x: &[f64]| x.windows(2).map(|pair| pair[1] - pair[0]).collect::<Vec<f64>>();
        let w = difference(&v);
        let z = difference(&w);
        Some(Self { season, ones: vec![1.0; v.len()], differenced: [v, w, z] })
    }

    /// Values that every model is a likelihood of.
    pub fn count(&self) -> f64 {
        self.ones.len() as f64
    }

    /// A column of ones as long as v.
    pub fn ones(&self) -> &[f64] {
        &self.ones
    }

    /// The first value of v and of its differences.
    pub fn starts(&self) -> [f64; 2] {
        [0, 1].map(|times| self.differenced[times].first().copied().unwrap_or(0.0))
    }
}

/// The process of the differenced series at one point.
pub fn process(orders: Orders, dynamics: &Dynamics, factor: &SeasonalFactor) -> Coefficients {
    let ar = if orders.has_unit_factor() { times(&dynamics.ar, UNIT) } else { dynamics.ar.clone() };
    Coefficients {
        ar,
        ma: dynamics.ma.clone(),
        seasonal_ar: factor.ar.clone(),
        seasonal_ma: factor.ma.clone(),
    }
}

/// Logarithms of the likelihood at one point.
#[derive(Debug, Clone, Copy)]
pub struct Point {
    /// With mean zero of v, or averaged over its first values; the prior weight is in it.
    pub without_slope: f64,
    /// Averaged over the mean of v, where the model has one; the prior weight is in it.
    pub with_slope: f64,
}

impl Point {
    /// Both.
    pub fn both(self) -> f64 {
        log_sum([self.without_slope, self.with_slope])
    }
}

/// What the likelihood takes from the series at one point.
pub struct Products {
    /// `x' Σ⁻¹ x` of the differenced series.
    pub square: f64,
    /// `1' Σ⁻¹ x` and `1' Σ⁻¹ 1`.
    pub with_ones: [f64; 2],
    /// `ln |Σ|`.
    pub log_determinant: f64,
}

/// The likelihood at one point; none where the process is not stationary.
pub fn point(sample: &Sample, orders: Orders, process: &Coefficients) -> Option<Point> {
    let x = &sample.differenced[orders.further()];
    let precision = Precision::new(process, x.len(), sample.season)?;
    let log_determinant = precision.log_determinant();
    if !orders.has_slope() {
        let products = Products { square: precision.square(x), with_ones: [0.0; 2], log_determinant };
        let without_slope = with_starts(&products, sample, orders);
        return Some(Point { without_slope, with_slope: f64::NEG_INFINITY });
    }
    let of_x = precision.times(x);
    let products = Products {
        square: dot(x, &of_x),
        with_ones: [of_x.iter().sum(), precision.square(sample.ones())],
        log_determinant,
    };
    let zero = no_slope(orders);
    let sloped = SLOPE.map(|(sd, weight)| ((1.0 - zero) * weight).ln() + with_slope(&products, sample, sd));
    Some(Point {
        without_slope: zero.ln() + concentrated(products.square, log_determinant, sample),
        with_slope: log_sum(sloped),
    })
}

/// `-½ ln|Σ| - (N/2) ln Q`.
pub fn concentrated(square: f64, log_determinant: f64, sample: &Sample) -> f64 {
    -0.5 * log_determinant - 0.5 * sample.count() * square.ln()
}

/// With a mean of this standard deviation, integrated out.
fn with_slope(products: &Products, sample: &Sample, sd: f64) -> f64 {
    let [cross, own] = products.with_ones;
    let variance = sd * sd;
    let square = products.square - cross * cross / (own + 1.0 / variance);
    concentrated(square, products.log_determinant + (1.0 + variance * own).ln(), sample)
}

/// With the first values of v and of its differences as independent normal numbers.
fn with_starts(products: &Products, sample: &Sample, orders: Orders) -> f64 {
    let [first, second] = sample.starts();
    let with = |square: f64, logs: f64| {
        concentrated(products.square + square, products.log_determinant + logs, sample)
    };
    let grow = |start: f64, sd: f64| (start * start / (1.0 + sd * sd), (1.0 + sd * sd).ln());
    let first = START.iter().map(|(sd, weight)| (grow(first, *sd), weight.ln()));
    if orders.further() < 2 {
        return log_sum(first.map(|((square, logs), weight)| weight + with(square, logs)));
    }
    let second = SECOND_START.map(|(sd, weight)| (grow(second, sd), weight.ln()));
    log_sum(first.flat_map(|((square, logs), weight)| {
        second.map(|((more, further), share)| weight + share + with(square + more, logs + further))
    }))
}

/// The logarithm of the sum of exponentials.
pub fn log_sum(all: impl IntoIterator<Item = f64>) -> f64 {
    let (mut most, mut sum) = (f64::NEG_INFINITY, 0.0);
    for value in all {
        if value > most {
            sum = sum * (most - value).exp() + 1.0;
            most = value;
        } else if value > f64::NEG_INFINITY {
            sum += (value - most).exp();
        }
    }
    most + sum.ln()
}
