//! The deterministic part of a series under a candidate model.

use super::table::{CandidateModel, ModelClass};
use crate::num::scale;
use crate::num::triangular::TriangularFactor;
use crate::ols::estimate;

/// The deterministic part of a series under a model: its mean, trend and break by least squares;
/// of a unit root, the line that the mean change draws from the first value, bent or shifted
/// where the model has it. `None` where nothing is fixed: a walk without drift, two unit roots.
pub fn fixed_part(y: &[f64], model: CandidateModel, before: Option<usize>) -> Option<Vec<f64>> {
    match model {
        CandidateModel::RandomWalk | CandidateModel::TwiceIntegrated => None,
        _ if model.kind() == ModelClass::UnitRoot => walked(y, model, before),
        _ => regressed(y, model, before),
    }
}

fn regressed(y: &[f64], model: CandidateModel, before: Option<usize>) -> Option<Vec<f64>> {
    let n = y.len() as f64;
    let (has_trend, has_step, has_ramp) = (model.has_trend(), model.has_step(), model.has_ramp());
    let at = before.unwrap_or(usize::MAX);
    let row = |t: usize| -> Vec<f64> {
        let trend = has_trend.then_some((t as f64 + 0.5) / n - 0.5);
        let step = has_step.then_some(f64::from(u8::from(t >= at)));
        let ramp = has_ramp.then_some((t + 1).saturating_sub(at) as f64 / n);
        [Some(1.0), trend, step, ramp].into_iter().flatten().collect()
    };
    let x = scale::deviations(y);
    let mut factor = TriangularFactor::new(row(0).len() + 1);
    for (t, value) in x.iter().enumerate() {
        factor.push_row(row(t).into_iter().chain([*value]));
    }
    let fit = estimate(&mut factor).ok()?;
    let centre = scale::mean(y);
    let unit = y.iter().fold(0.0, |most: f64, value| most.max((value - centre).abs()));
    let of = |t: usize| row(t).iter().zip(&fit.coefficients).map(|(a, b)| a * b).sum::<f64>();
    Some((0..y.len()).map(|t| centre + unit * of(t)).collect())
}

/// The path of the mean change, of each part its own where the drift changes.
fn walked(y: &[f64], model: CandidateModel, before: Option<usize>) -> Option<Vec<f64>> {
    let at = before.filter(|at| (1..y.len()).contains(at));
    let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let is_jump = |t: usize| !model.has_ramp() && Some(t + 1) == at;
    let is_later = |t: usize| model.has_ramp() && at.is_some_and(|at| t + 1 >= at);
    let mean = |wanted: &dyn Fn(usize) -> bool| {
        let own: Vec<f64> = changes.iter().enumerate().filter(|(t, _)| wanted(*t)).map(|(_, c)| *c).collect();
        scale::mean(&own)
    };
    let drift = if model.has_trend() { mean(&|t| !is_jump(t) && !is_later(t)) } else { 0.0 };
    let later = mean(&is_later);
    let mut level = *y.first()?;
    let mut out = vec![level];
    for (t, change) in changes.iter().enumerate() {
        level += match t {
            _ if is_jump(t) => *change,
            _ if is_later(t) => later,
            _ => drift,
        };
        out.push(level);
    }
    Some(out)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(n: usize, of: impl Fn(f64) -> f64) -> Vec<f64> {
        (0..n).map(|t| of(t as f64)).collect()
    }

    #[test]
    fn what_is_fixed_and_nothing_else_is_found_again() {
        let wiggle = |t: f64| 0.01 * (1.7 * t).sin();
        let broken = |t: f64| 5.0 + 0.2 * t + if t >= 30.0 { 4.0 } else { 0.0 };
        let y = line(60, |t| broken(t) + wiggle(t));
        let found = fixed_part(&y, CandidateModel::TrendWithLevelBreak, Some(30)).expect("fits");
        assert!(found.iter().zip(line(60, broken)).all(|(a, b)| (a - b).abs() < 0.02));
        let mean = fixed_part(&y, CandidateModel::Mean, None).expect("fits");
        assert!((mean[0] - y.iter().sum::<f64>() / 60.0).abs() < 1e-9);
        assert_eq!(fixed_part(&y, CandidateModel::RandomWalk, None), None);
    }

    #[test]
    fn a_drift_goes_from_the_first_value_to_the_last() {
        let y = [3.0, 5.0, 4.0, 8.0, 9.0];
        let found = fixed_part(&y, CandidateModel::RandomWalkWithDrift, None).expect("fits");
        assert!((found[0] - 3.0).abs() < 1e-12 && (found[4] - 9.0).abs() < 1e-12);
        let jumped = fixed_part(&y, CandidateModel::RandomWalkWithLevelBreak, Some(3)).expect("fits");
        assert_eq!(jumped, [3.0, 3.0, 3.0, 7.0, 7.0]);
        let bent = fixed_part(&y, CandidateModel::DriftWithSlopeBreak, Some(3)).expect("fits");
        assert_eq!(bent, [3.0, 3.5, 4.0, 6.5, 9.0]);
    }
}
