//! The kinds of outliers.

use schemars::JsonSchema;
use serde::Serialize;

/// What happens to the values from a place on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum EventKind {
    /// One value is off.
    Additive,
    /// All values from here on are moved.
    LevelShift,
    /// A temporary change, which decays by three tenths of what is left each period.
    TemporaryChange,
}

/// What is left of a temporary change a period later (Chen and Liu 1993).
const FADE: f64 = 0.7;

/// An event and its size.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Event {
    /// Where it begins.
    pub place: usize,
    /// What it is.
    pub kind: EventKind,
    /// Its effect on the first value.
    pub size: f64,
    /// That in standard errors.
    pub score: f64,
}

impl EventKind {
    /// All of them, the plainest first.
    pub const ALL: [Self; 3] = [Self::Additive, Self::LevelShift, Self::TemporaryChange];

    /// Its effect k periods after it begins, as a share of its size.
    pub fn pattern(self, k: usize) -> f64 {
        match (self, k) {
            (_, 0) | (Self::LevelShift, _) => 1.0,
            (Self::Additive, _) => 0.0,
            // Beyond some hundred periods nothing is left.
            (Self::TemporaryChange, _) => FADE.powi(i32::try_from(k).unwrap_or(i32::MAX)),
        }
    }

    /// Its effect on the change from value `t` to the next, if it begins at `place`.
    pub(super) fn change(self, t: usize, place: usize) -> f64 {
        let at = |t: usize| t.checked_sub(place).map_or(0.0, |k| self.pattern(k));
        at(t + 1) - at(t)
    }
}
