//! The figure of lag orders: criteria above their minima, and p-values of the last lag.

use kandrel_core::var::LagRow;

use super::facts::LagsResult;
use super::text::answer;
use crate::document::{Along, Ink, Line, Mark, Panel, Plot};
use crate::wording;
use crate::wording::number;

/// Criteria are shown as far as this number of times their median distance from the minimum, and at least this far.
const REACH: f64 = 4.0;
const LEAST_REACH: f64 = 10.0;

/// One criterion of a row.
type Measure = fn(&LagRow) -> f64;

/// The criteria in the order of the table.
const CRITERIA: [(&str, Measure); 3] = [("AIC", |row| row.aic), ("HQ", |row| row.hq), ("BIC", |row| row.bic)];

/// Criteria above, tests of the last lag below.
pub fn plot(result: &LagsResult, source: &str) -> Plot {
    let above = CRITERIA.map(|(name, measure)| (name, above_minimum(&result.rows, measure)));
    let reach = reach(above.iter().flat_map(|(_, values)| values.iter().copied()));
    let is_cut = above.iter().any(|(_, values)| values.iter().any(|value| *value > reach));
    let foot = if is_cut {
        format!(
            "Values more than {} above the minimum are not shown. Squares: the minimum of each criterion.",
            number(reach, 0)
        )
    } else {
        "Squares: the minimum of each criterion.".to_owned()
    };
    let names: Vec<String> = result.rows.iter().map(|row| row.lag.to_string()).collect();
    Plot {
        title: answer(result),
        subtitle: format!("{source}, {} to {}", result.sample.first, result.sample.last),
        foot,
        columns: 1,
        panels: vec![criteria(&above, reach, names.clone()), last_lags(result, names)],
    }
}

fn above_minimum(rows: &[LagRow], measure: Measure) -> Vec<f64> {
    let least = rows.iter().map(measure).fold(f64::INFINITY, f64::min);
    rows.iter().map(|row| measure(row) - least).collect()
}

/// How far above the minimum the panel reaches.
fn reach(values: impl Iterator<Item = f64>) -> f64 {
    let mut sorted: Vec<f64> = values.collect();
    sorted.sort_by(f64::total_cmp);
    let median = sorted.get(sorted.len() / 2).copied().unwrap_or(0.0);
    (REACH * median).max(LEAST_REACH).ceil()
}

fn criteria(above: &[(&str, Vec<f64>)], reach: f64, names: Vec<String>) -> Panel {
    let line = |(place, (name, values)): (usize, &(&str, Vec<f64>))| {
        let points = values.iter().enumerate();
        Line::with_gaps(
            name,
            Ink::Series(place),
            points.map(|(lag, value)| (*value <= reach).then_some((lag as f64, *value))),
        )
    };
    Panel {
        title: "Information criteria above their minima".to_owned(),
        about: minima(above).iter().map(|mark| mark.name.as_str()).collect::<Vec<_>>().join("; "),
        along: Along::Points(names),
        lines: above.iter().enumerate().map(line).collect(),
        marks: minima(above),
        ..Panel::default()
    }
}

/// A square at each order that has a minimum, named by the criteria that have it there.
fn minima(above: &[(&str, Vec<f64>)]) -> Vec<Mark> {
    let mut marks: Vec<(usize, Vec<&str>)> = Vec::new();
    for (name, values) in above {
        let Some(lag) = values.iter().position(|value| *value <= 0.0) else {
            continue;
        };
        match marks.iter_mut().find(|(at, _)| *at == lag) {
            Some((_, names)) => names.push(name),
            None => marks.push((lag, vec![name])),
        }
    }
    let mark = |(lag, names): (usize, Vec<&str>)| Mark {
        at: lag as f64,
        value: 0.0,
        name: format!("{}: {}", names.join(", "), wording::count(lag, "lag")),
        filled: false,
    };
    marks.into_iter().map(mark).collect()
}

fn last_lags(result: &LagsResult, names: Vec<String>) -> Panel {
    let p_values = result.rows.iter().enumerate().map(|(lag, row)| row.p_value.map(|p| (lag as f64, p)));
    let ends = [0.0, result.rows.len().saturating_sub(1) as f64];
    let level = format!("{} % level", wording::percent(result.alpha));
    Panel {
        title: "Likelihood ratio against one lag less: p-value".to_owned(),
        about: format!("with the {level}"),
        along: Along::Points(names),
        axis: "Lag order".to_owned(),
        lines: vec![
            Line::with_gaps("p-value", Ink::Series(3), p_values),
            Line {
                name: level,
                ink: Ink::Series(4),
                pieces: vec![ends.iter().map(|x| (*x, result.alpha)).collect()],
            },
        ],
        ..Panel::default()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_square_is_at_every_minimum_and_names_all_criteria_there() {
        let above = [("AIC", vec![3.0, 1.0, 0.0]), ("HQ", vec![2.0, 0.0, 1.0]), ("BIC", vec![1.0, 0.0, 4.0])];
        let marks = minima(&above);
        let found: Vec<(f64, &str)> = marks.iter().map(|mark| (mark.at, mark.name.as_str())).collect();
        assert_eq!(found, [(2.0, "AIC: 2 lags"), (1.0, "HQ, BIC: 1 lag")]);
    }

    #[test]
    fn one_distant_order_does_not_flatten_the_others() {
        for (values, far) in [([0.0, 1.0, 2.0, 900.0, 3.0], 10.0), ([0.0, 10.0, 20.0, 30.0, 900.0], 80.0)] {
            assert!((reach(values.into_iter()) - far).abs() < 1e-12, "{values:?}");
        }
        let panel = criteria(&[("AIC", vec![900.0, 2.0, 0.0])], 10.0, vec![String::new(); 3]);
        assert_eq!(panel.lines[0].pieces, [vec![(1.0, 2.0), (2.0, 0.0)]]);
    }
}
