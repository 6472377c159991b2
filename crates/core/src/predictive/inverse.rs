//! The stages that carry a forecast back to original units.

use super::joint::Joint;
use crate::boxcox;

/// One step of a chain, undone.
#[derive(Debug, Clone, PartialEq)]
pub enum InverseStep {
    /// Of a difference at a lag: `x_h = z_h + x_{h-lag}`; the last `lag` values in order of time.
    Summed {
        /// The lag.
        lag: usize,
        /// Values before the first step.
        history: Vec<f64>,
    },
    /// Of a sum: `x_h = z_h - z_{h-1}`; the last value of the sum.
    Changed {
        /// Value before the first step.
        last: f64,
    },
    /// Of a percentage change: `x_h = x_{h-lag} (1 + z_h / 100)`.
    Compounded {
        /// The lag.
        lag: usize,
        /// Values before the first step.
        history: Vec<f64>,
    },
    /// Of a step that takes each value alone: one function a step ahead.
    Each(Vec<Map>),
}

/// A function of one value that rises or falls throughout.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Map {
    /// Times, plus.
    Line {
        /// Factor.
        scale: f64,
        /// Added afterwards.
        shift: f64,
    },
    /// Exponential.
    Exp,
    /// Logarithm; of what is not positive, minus infinity.
    Ln,
    /// Square; of what is negative, zero.
    Square,
    /// Inverse of the Box-Cox transformation; beyond its range, zero or infinity.
    BoxCox(f64),
}

impl Map {
    /// The value at x.
    pub fn at(self, x: f64) -> f64 {
        match self {
            Self::Line { scale, shift } => scale * x + shift,
            Self::Exp => x.exp(),
            Self::Ln => x.max(0.0).ln(),
            Self::Square => x.max(0.0).powi(2),
            Self::BoxCox(lambda) => boxcox::inverse(x, lambda),
        }
    }

    fn line(self) -> Option<(f64, f64)> {
        match self {
            Self::Line { scale, shift } => Some((scale, shift)),
            _ => None,
        }
    }
}

impl InverseStep {
    /// Carries it out on the joint distribution, if that stays normal.
    pub(super) fn on(&self, joint: &mut Joint) -> bool {
        match self {
            Self::Summed { lag, history } => joint.summed(*lag, history),
            Self::Changed { last } => joint.changed(*last),
            Self::Compounded { .. } => return false,
            Self::Each(maps) => {
                let lines: Option<Vec<(f64, f64)>> = maps.iter().map(|map| map.line()).collect();
                let Some(lines) = lines else {
                    return false;
                };
                for (h, (scale, shift)) in lines.into_iter().enumerate().take(joint.ahead()) {
                    joint.moved(h, scale, shift);
                }
            }
        }
        true
    }

    /// Carries it out on one path of values.
    pub fn along(&self, path: &mut [f64]) {
        let before = |path: &[f64], h: usize, lag: usize, history: &[f64]| match h.checked_sub(lag) {
            Some(earlier) => path[earlier],
            None => history.get(h).copied().unwrap_or_default(),
        };
        match self {
            Self::Summed { lag, history } => {
                (0..path.len()).for_each(|h| path[h] += before(path, h, *lag, history));
            }
            Self::Changed { last } => {
                (0..path.len()).rev().for_each(|h| path[h] -= if h == 0 { *last } else { path[h - 1] });
            }
            Self::Compounded { lag, history } => {
                for h in 0..path.len() {
                    path[h] = before(path, h, *lag, history) * (1.0 + path[h] / 100.0);
                }
            }
            Self::Each(maps) => path.iter_mut().zip(maps).for_each(|(value, map)| *value = map.at(*value)),
        }
    }

    /// Its functions, if it takes each value alone.
    pub(super) fn maps(&self) -> Option<&[Map]> {
        match self {
            Self::Each(maps) => Some(maps),
            _ => None,
        }
    }
}
