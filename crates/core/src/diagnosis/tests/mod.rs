//! Diagnoses of series whose truth is known.

use super::*;
use crate::num::rng::NormalStream;
use crate::verdict::candidates::ModelClass;

fn diagnosed(values: Vec<f64>, season: usize) -> Diagnosis {
    Diagnosis::of(&Series::undated("x", values).into(), season).expect("a diagnosis")
}

/// The series from normal innovations and the value before.
fn recursive(stream: u64, n: usize, next: impl Fn(usize, f64, f64) -> f64) -> Vec<f64> {
    let mut last = 0.0;
    NormalStream::new(811, stream)
        .take(n)
        .into_iter()
        .enumerate()
        .map(|(t, shock)| {
            last = next(t, last, shock);
            last
        })
        .collect()
}

/// Of twelve series of a process: how many have this deterministic part, and the places of its changes.
fn with_part(part: DeterministicPart, process: impl Fn(u64) -> Vec<f64>) -> (usize, Vec<usize>) {
    let found = (0..12).map(|stream| diagnosed(process(stream), 1).deterministic[0]);
    let own: Vec<_> = found.filter(|one| one.part == part).collect();
    (own.len(), own.iter().filter_map(|one| one.before).collect())
}

#[test]
fn the_deterministic_part_of_a_known_process_is_found() {
    let noise = |stream: u64| recursive(stream, 200, |_, _, e| e);
    let plus = |stream: u64, more: fn(usize) -> f64| -> Vec<f64> {
        noise(stream).into_iter().enumerate().map(|(t, value)| value + more(t)).collect()
    };
    let walk = |stream: u64, drift: f64| recursive(stream, 200, |_, last, e| last + e + drift);
    let (means, _) = with_part(DeterministicPart::Mean, noise);
    let (trends, _) = with_part(DeterministicPart::Trend, |stream| plus(stream, |t| 0.1 * t as f64));
    let (drifts, _) = with_part(DeterministicPart::Drift, |stream| walk(stream, 0.8));
    let (none, _) = with_part(DeterministicPart::None, |stream| walk(stream, 0.0));
    assert!(means >= 11 && trends >= 11 && drifts >= 9 && none >= 9, "{means} {trends} {drifts} {none}");
    let (shifts, dates) =
        with_part(DeterministicPart::LevelShift, |stream| plus(stream, |t| if t < 90 { 0.0 } else { 6.0 }));
    assert!(shifts >= 11 && dates.iter().all(|place| *place == 89), "{dates:?}");
    let (slopes, dates) = with_part(DeterministicPart::SlopeChange, |stream| {
        plus(stream, |t| 0.3 * t.saturating_sub(99) as f64)
    });
    assert!(slopes >= 9 && dates.iter().all(|place| place.abs_diff(99) < 8), "{dates:?}");
}

#[test]
fn a_drift_is_the_mean_of_seasonal_differences() {
    let of = |slope: f64| {
        let e = NormalStream::new(812, 3).take(300);
        let mut y = e.clone();
        for t in 12..300 {
            y[t] += y[t - 12] - 0.4 * e[t - 12] + slope;
        }
        let found = diagnosed(y, 12);
        (found.differences[0].differences, found.deterministic[0].part)
    };
    assert_eq!(of(1.0), ([0, 1], DeterministicPart::Drift));
    assert_eq!(of(0.0), ([0, 1], DeterministicPart::None));
}

#[test]
fn probabilities_are_shares_and_the_runner_up_is_another_pair() {
    for (season, stream) in [(1, 10), (4, 11), (12, 12)] {
        let found = diagnosed(recursive(stream, 144, |_, last, e| 0.9 * last + e), season);
        let sum = |all: &mut dyn Iterator<Item = f64>| all.sum::<f64>();
        assert!((sum(&mut found.differences.iter().map(|one| one.probability)) - 1.0).abs() < 1e-9);
        assert!((sum(&mut found.deterministic.iter().map(|one| one.probability)) - 1.0).abs() < 1e-9);
        let verdict = &found.assessment.verdict;
        let runner_up = found.runner_up().expect("another pair");
        assert_ne!(runner_up.differences, [verdict.integration, verdict.seasonal_integration.unwrap_or(0)]);
        assert!(runner_up.probability <= found.differences[0].probability);
    }
}

#[test]
fn a_cycle_is_found_with_its_period_and_seasonality_is_none() {
    let e = NormalStream::new(813, 0).take(240);
    let mut y = e.clone();
    for t in 2..240 {
        // Modulus 0.95, period 10.
        y[t] += 2.0 * 0.95 * (std::f64::consts::PI / 5.0).cos() * y[t - 1] - 0.9025 * y[t - 2];
    }
    let cycle = diagnosed(y.clone(), 1).cycle.expect("a cycle");
    assert!((cycle.period - 10.0).abs() < 1.0 && cycle.probability > 0.95, "{cycle:?}");
    assert_eq!(diagnosed(e, 1).cycle, None);
}

#[test]
fn outliers_are_placed_and_gaps_are_counted() {
    let mut y = recursive(20, 150, |_, last, e| 0.5 * last + e);
    y[60] += 12.0;
    let found = diagnosed(y.clone(), 1);
    assert!(found.outliers.contains(&60), "{:?}", found.outliers);
    assert_eq!((found.observations, found.filled), (150, 0));
    let mut cells: Vec<Option<f64>> = y.into_iter().map(Some).collect();
    (cells[20], cells[21]) = (None, None);
    let start = Series::undated("x", vec![0.0]).start;
    let gappy =
        SeriesWithGaps { cells, ..SeriesWithGaps::from(Series { start, ..Series::undated("x", vec![0.0]) }) };
    let found = Diagnosis::of(&gappy, 1).expect("a diagnosis");
    assert_eq!((found.observations, found.filled), (150, 2));
    assert_eq!(found.assessment.verdict.kind, ModelClass::Stationary);
}
