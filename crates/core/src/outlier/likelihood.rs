//! Outliers by the likelihood of a model.

use nalgebra::{DMatrix, DVector};
use rayon::prelude::*;

use super::error::OutlierError;
use super::event::{Event, EventKind};
use crate::arma::{ChangesModel, Whitening, fit_changes};
use crate::num::scale;

/// Models fitted in turn, at most: each knows the events found under the one before.
const ROUNDS: usize = 5;
/// One event in that number of values, at most.
const VALUES_AN_EVENT: usize = 10;
/// Up to that number of values every pattern is followed to the end of the series.
const SHORT: usize = 2_000;
/// In longer series a pattern is followed until so little of it is left.
const FADED: f64 = 1e-4;
/// Median absolute value of the standard normal distribution.
const NORMAL_MEDIAN: f64 = 0.674_489_750_196_081_7;
/// Standard deviation of a standard normal variable kept within three.
const WITHIN_THREE: f64 = 0.986_577;

/// How large an effect must be, in its standard errors.
#[derive(Debug, Clone, Copy)]
pub(super) struct Limits {
    /// Of a single value or a temporary change.
    pub value: f64,
    /// Of a lasting shift.
    pub shift: f64,
}

impl Limits {
    fn of(self, kind: EventKind) -> f64 {
        match kind {
            EventKind::LevelShift => self.shift,
            EventKind::Additive | EventKind::TemporaryChange => self.value,
        }
    }
}

/// Events by the likelihood ratio: single values, lasting shifts, temporary changes.
///
/// # Formula
/// The changes of the series follow a short ARMA model ([`fit_changes`]). For each place and kind
/// the effect ω is that of generalised least squares, τ its ratio to its standard error; the
/// largest τ beyond its limit is taken in, all effects are estimated together again, and those
/// that fall below their limit leave. The model is fitted again to the series without the events
/// until these stay the same. The spread of the innovations is that of those within three robust
/// standard deviations, enlarged for the degrees of freedom that the season took.
///
/// # Source
/// Chen, C. and Liu, L.-M. (1993), Journal of the American Statistical Association 88, 284-297.
///
/// # Input
/// A series without its season, and the degrees of freedom that this took.
///
/// # Cost
/// Its length times the memory of the model for each event found; up to 2,000 values the memory
/// is the whole series.
///
/// # Errors
/// [`OutlierError::Deterministic`] for a series without error.
pub(super) fn likelihood_search(z: &[f64], degrees: f64, limits: Limits) -> Result<Vec<Event>, OutlierError> {
    let mut events: Vec<Event> = Vec::new();
    let mut known: Option<ChangesModel> = None;
    for _ in 0..ROUNDS {
        let model = Model::of(z, &events, degrees, known.as_ref())?;
        let next = model.select(limits);
        known = Some(model.fit);
        let same = next.len() == events.len()
            && next.iter().all(|one| events.iter().any(|old| (old.place, old.kind) == (one.place, one.kind)));
        events = next;
        if same {
            break;
        }
    }
    events.sort_by_key(|event| event.place);
    Ok(events)
}

/// What additive effects at these places come to, with events of other kinds.
///
/// # Errors
/// [`OutlierError::Deterministic`].
pub(super) fn additive_sizes(
    z: &[f64],
    places: &[usize],
    beside: &[Event],
) -> Result<Vec<f64>, OutlierError> {
    let wanted =
        places.iter().map(|place| Event { place: *place, kind: EventKind::Additive, size: 0.0, score: 0.0 });
    let others =
        beside.iter().filter(|event| event.kind != EventKind::Additive && !places.contains(&event.place));
    let all: Vec<Event> = wanted.chain(others.copied()).collect();
    let rough = roughly_without(z, places);
    let model = Model::of(&rough, &[], 0.0, None)?.about(z);
    let estimated = model.estimates(&all).ok_or(OutlierError::Deterministic)?;
    Ok(estimated.sizes.into_iter().take(places.len()).collect())
}

/// The series with straight lines over the places, so that their values do not shape the model.
fn roughly_without(z: &[f64], places: &[usize]) -> Vec<f64> {
    let cells: Vec<Option<f64>> =
        z.iter().enumerate().map(|(t, value)| Some(*value).filter(|_| !places.contains(&t))).collect();
    let filled = crate::series::fill(&cells, crate::series::Fill::Linear, 1);
    filled.cells.iter().zip(z).map(|(cell, value)| cell.unwrap_or(*value)).collect()
}

/// A filter for the changes, and the changes seen through it.
struct Model {
    fit: ChangesModel,
    whitening: Whitening,
    /// Filtered changes and filtered drift.
    rows: Vec<[f64; 2]>,
    /// Rows for which a pattern is followed.
    memory: usize,
    /// What the standard deviation of the residuals is to be multiplied by.
    inflation: f64,
}

/// Effects estimated together.
struct Estimates {
    sizes: Vec<f64>,
    ratios: Vec<f64>,
    /// What is left of the filtered changes.
    residuals: Vec<f64>,
    spread: f64,
}

impl Model {
    /// Fitted to the series without the events.
    fn of(
        z: &[f64],
        events: &[Event],
        degrees: f64,
        known: Option<&ChangesModel>,
    ) -> Result<Self, OutlierError> {
        let mut clean = z.to_vec();
        for event in events {
            for (k, value) in clean.iter_mut().skip(event.place).enumerate() {
                *value -= event.size * event.kind.pattern(k);
            }
        }
        let fit = fit_changes(&changes(&clean), known).ok_or(OutlierError::Deterministic)?;
        let count = z.len() - 1;
        let whitening = Whitening::new(&fit.mixture, count).ok_or(OutlierError::Deterministic)?;
        let memory = memory(&whitening, count);
        // The season was fitted, so that what is left is too small.
        let inflation = (count as f64 / (count as f64 - degrees).max(1.0)).sqrt();
        Ok(Self { fit, whitening, rows: Vec::new(), memory, inflation }.about(z))
    }

    /// The same filter over the changes of another series of this length.
    fn about(mut self, z: &[f64]) -> Self {
        let rows: Vec<[f64; 2]> = changes(z).into_iter().map(|change| [change, 1.0]).collect();
        self.rows = self.whitening.filtered(&rows);
        self
    }

    /// Takes events in and out until none is too small and none is missing.
    fn select(&self, limits: Limits) -> Vec<Event> {
        let mut chosen: Vec<Event> = Vec::new();
        let mut banned: Vec<(usize, EventKind)> = Vec::new();
        let most = (self.rows.len() / VALUES_AN_EVENT).max(1);
        while let Some(found) = self.estimates(&chosen) {
            for (event, (size, ratio)) in chosen.iter_mut().zip(found.sizes.iter().zip(&found.ratios)) {
                (event.size, event.score) = (*size, *ratio);
            }
            let small = chosen.iter().position(|event| event.score.abs() < limits.of(event.kind));
            if let Some(place) = small {
                let gone = chosen.remove(place);
                banned.push((gone.place, gone.kind));
                continue;
            }
            let next =
                if chosen.len() < most { self.strongest(&found, &chosen, &banned, limits) } else { None };
            let Some(next) = next else {
                return chosen;
            };
            chosen.push(next);
        }
        // The last one taken in is a linear combination of the others.
        chosen.pop();
        chosen
    }

    /// The most probable event of those that are large enough for their kind.
    fn strongest(
        &self,
        found: &Estimates,
        chosen: &[Event],
        banned: &[(usize, EventKind)],
        limits: Limits,
    ) -> Option<Event> {
        let drift: Vec<f64> = self.rows.iter().map(|row| row[1]).collect();
        let drift_square: f64 = drift.iter().map(|d| d * d).sum();
        let changes = self.pattern_changes();
        let at = |place: usize| -> Option<Event> {
            if chosen.iter().any(|event| event.place == place) {
                return None;
            }
            let (first, columns) = self.patterns(place, &changes);
            let mut best: Option<Event> = None;
            for (number, kind) in EventKind::ALL.into_iter().enumerate() {
                let (mut own, mut with_residual, mut with_drift) = (0.0, 0.0, 0.0);
                for (k, row) in columns.iter().enumerate() {
                    own += row[number] * row[number];
                    with_residual += row[number] * found.residuals[first + k];
                    with_drift += row[number] * drift[first + k];
                }
                let information = own - with_drift * with_drift / drift_square;
                let score = with_residual / information.sqrt() / found.spread;
                let stronger = best.is_none_or(|other| score.abs() > other.score.abs());
                if information > 1e-6 * own && score.is_finite() && stronger {
                    best = Some(Event { place, kind, size: with_residual / information, score });
                }
            }
            // What it is comes first; whether it is large enough depends on that.
            best.filter(|event| {
                event.score.abs() > limits.of(event.kind) && !banned.contains(&(place, event.kind))
            })
        };
        let all: Vec<Option<Event>> = (0..=self.rows.len()).into_par_iter().map(at).collect();
        all.into_iter().flatten().reduce(|a, b| if b.score.abs() > a.score.abs() { b } else { a })
    }

    /// The changes of the patterns of all kinds, from the row before they begin: the same at every place.
    fn pattern_changes(&self) -> Vec<[f64; 3]> {
        let count = self.rows.len().min(self.memory);
        (0..=count).map(|t| EventKind::ALL.map(|kind| kind.change(t, 1))).collect()
    }

    /// The filtered patterns of all kinds at a place, from the first row they touch on.
    fn patterns(&self, place: usize, changes: &[[f64; 3]]) -> (usize, Vec<[f64; 3]>) {
        let first = place.saturating_sub(1);
        let count = (self.rows.len() - first).min(self.memory);
        let own = if place == 0 { &changes[1..] } else { changes };
        (first, self.whitening.filtered_from(first, &own[..count]))
    }

    /// Effects by least squares of the filtered changes on the filtered patterns and the drift;
    /// none where a pattern is a linear combination of the others.
    fn estimates(&self, events: &[Event]) -> Option<Estimates> {
        let (rows, count) = (self.rows.len(), events.len() + 1);
        let mut design = DMatrix::zeros(rows, count);
        for (t, row) in self.rows.iter().enumerate() {
            design[(t, 0)] = row[1];
        }
        for (number, event) in events.iter().enumerate() {
            let pattern: Vec<[f64; 1]> = (0..rows).map(|t| [event.kind.change(t, event.place)]).collect();
            for (t, value) in self.whitening.filtered(&pattern).into_iter().enumerate() {
                design[(t, number + 1)] = value[0];
            }
        }
        let target = DVector::from_fn(rows, |t, _| self.rows[t][0]);
        let square = design.transpose() * &design;
        let correlated = square.diagonal().iter().any(|own| *own <= 0.0);
        let factor = square.cholesky().filter(|_| !correlated)?;
        let tight = |k: usize| factor.l_dirty()[(k, k)].powi(2) > 1e-9 * design.column(k).norm_squared();
        if !(0..count).all(tight) {
            return None;
        }
        let solution = factor.solve(&(design.transpose() * &target));
        let residuals: Vec<f64> = (&target - &design * &solution).iter().copied().collect();
        let spread = self.inflation * spread(&residuals);
        if spread <= 1e-12 * target.amax() {
            return None;
        }
        let inverse = factor.inverse();
        let ratio = |k: usize| solution[k] / (spread * inverse[(k, k)].sqrt());
        Some(Estimates {
            sizes: (1..count).map(|k| solution[k]).collect(),
            ratios: (1..count).map(ratio).collect(),
            residuals,
            spread,
        })
    }
}

fn changes(z: &[f64]) -> Vec<f64> {
    z.windows(2).map(|pair| pair[1] - pair[0]).collect()
}

/// Standard deviation of the values within three robust ones.
fn spread(residuals: &[f64]) -> f64 {
    let sizes: Vec<f64> = residuals.iter().map(|value| value.abs()).collect();
    let rough = scale::median(&sizes) / NORMAL_MEDIAN;
    let (mut sum, mut count) = (0.0, 0.0);
    for size in sizes.iter().filter(|size| **size <= 3.0 * rough) {
        sum += size * size;
        count += 1.0;
    }
    (sum / f64::max(count, 1.0)).sqrt() / WITHIN_THREE
}

/// Rows after which a shift has all but left the filtered changes.
fn memory(whitening: &Whitening, rows: usize) -> usize {
    if rows <= SHORT {
        return rows;
    }
    let mut shift = vec![[0.0]; rows];
    if let Some(first) = shift.first_mut() {
        *first = [1.0];
    }
    let response = whitening.filtered_from(rows, &shift);
    response.iter().rposition(|value| value[0].abs() > FADED).map_or(1, |last| last + 2)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    const LIMITS: Limits = Limits { value: 3.5, shift: 4.0 };

    fn noise(n: usize, seed: u64) -> Vec<f64> {
        NormalStream::new(seed, 0).take(n)
    }

    fn found(z: &[f64]) -> Vec<(usize, EventKind)> {
        let events = likelihood_search(z, 0.0, LIMITS).expect("a model");
        events.iter().map(|event| (event.place, event.kind)).collect()
    }

    #[test]
    fn each_kind_is_found_by_its_name_on_noise_and_on_a_walk() {
        for walks in [false, true] {
            let mut clean = noise(150, 4);
            if walks {
                for t in 1..150 {
                    clean[t] += clean[t - 1];
                }
            }
            for kind in EventKind::ALL {
                let mut z = clean.clone();
                for (k, value) in z[70..].iter_mut().enumerate() {
                    *value += 9.0 * kind.pattern(k);
                }
                let events = likelihood_search(&z, 0.0, LIMITS).expect("a model");
                let at: Vec<_> = events.iter().map(|event| (event.place, event.kind)).collect();
                assert_eq!(at, [(70, kind)], "walk: {walks}");
                assert!((events[0].size - 9.0).abs() < 3.0, "{events:?}");
            }
            assert_eq!(found(&clean), []);
        }
    }

    #[test]
    fn the_patterns_of_every_place_are_those_of_the_whole_series_filtered() {
        let model = Model::of(&noise(80, 6), &[], 0.0, None).expect("a model");
        let changes = model.pattern_changes();
        for place in 0..80 {
            let of = |t: usize| EventKind::ALL.map(|kind| kind.change(t, place));
            let whole = model.whitening.filtered(&(0..79).map(of).collect::<Vec<_>>());
            let (first, own) = model.patterns(place, &changes);
            assert!(!own.is_empty() && whole[..first].iter().flatten().all(|value| value.abs() < 1e-12));
            for (a, b) in own.iter().flatten().zip(whole[first..].iter().flatten()) {
                assert!((a - b).abs() < 1e-12, "{place}: {a} and {b}");
            }
        }
    }

    #[test]
    fn several_events_do_not_hide_each_other() {
        let mut z = noise(200, 8);
        z[40] += 8.0;
        z[41] -= 8.0;
        z[120..].iter_mut().for_each(|value| *value += 6.0);
        z[160] += 9.0;
        assert_eq!(
            found(&z),
            [
                (40, EventKind::Additive),
                (41, EventKind::Additive),
                (120, EventKind::LevelShift),
                (160, EventKind::Additive)
            ]
        );
    }

    #[test]
    fn an_additive_effect_is_the_gap_to_what_the_others_foretell() {
        let mut z = noise(100, 5);
        let truth = z[50];
        z[50] += 20.0;
        let size = additive_sizes(&z, &[50], &[]).expect("a model")[0];
        // On noise the others predict their mean.
        let mean = (z.iter().sum::<f64>() - z[50]) / 99.0;
        assert!((z[50] - size - mean).abs() < 0.4, "{size} {truth}");
    }

    #[test]
    fn a_series_without_error_is_refused() {
        let line: Vec<f64> = (0..50).map(f64::from).collect();
        assert_eq!(likelihood_search(&line, 0.0, LIMITS), Err(OutlierError::Deterministic));
    }
}
