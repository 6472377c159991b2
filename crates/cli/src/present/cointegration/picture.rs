//! The figure of cointegration: the series together, and how far they are from each relation.

use kandrel_core::coint::equilibrium_errors;
use kandrel_core::num::scale::mean;
use kandrel_core::series::Series;
use kandrel_core::time::Period;

use super::facts::{CointegrationFindings, CointegrationResult, NamedValue};
use super::text::{answer, equation};
use crate::document::{Along, Ink, Interval, Line, Panel, Plot};

/// Half the width of a band that holds 95 % of a normal distribution, in standard deviations.
const HALF: f64 = 1.96;
/// More relations have no room below each other.
const MOST_RELATIONS: usize = 5;

/// The series above, one panel for each relation below; without a relation the residuals of the static regression.
pub fn plot(
    result: &CointegrationResult,
    found: &CointegrationFindings,
    all: &[Series],
    source: &str,
) -> Plot {
    let periods: Vec<Period> =
        all.first().map_or_else(Vec::new, |one| (0..one.values.len()).map(|t| one.period(t)).collect());
    let mut panels = vec![together(all, periods.clone())];
    panels.extend(
        relations(result, found, all)
            .into_iter()
            .map(|(title, errors)| deviations(title, &errors, periods.clone())),
    );
    if let Some(last) = panels.last_mut() {
        last.axis = format!("{}s", result.unit);
    }
    Plot {
        title: answer(result),
        subtitle: format!("{source}: {}", result.sample),
        foot: "Shaded: 1.96 standard deviations of the equilibrium error about zero.".to_owned(),
        columns: 1,
        panels,
    }
}

/// All series with mean zero and standard deviation one.
fn together(all: &[Series], periods: Vec<Period>) -> Panel {
    let line = |(place, series): (usize, &Series)| {
        let (centre, spread) = (mean(&series.values), deviation(&series.values));
        let points = series.values.iter().enumerate();
        Line {
            name: series.name.clone(),
            ink: Ink::Series(place),
            pieces: vec![points.map(|(t, value)| (t as f64, (value - centre) / spread)).collect()],
        }
    };
    Panel {
        title: "The series, standardised".to_owned(),
        along: Along::Periods(periods),
        lines: all.iter().enumerate().map(line).collect(),
        ..Panel::default()
    }
}

/// Standard deviation about the mean; one for a constant, whose deviations are all zero.
fn deviation(values: &[f64]) -> f64 {
    let centre = mean(values);
    let squares: Vec<f64> = values.iter().map(|value| (value - centre).powi(2)).collect();
    Some(mean(&squares).sqrt()).filter(|spread| *spread > 0.0).unwrap_or(1.0)
}

/// What each panel is called, and its equilibrium errors.
fn relations(
    result: &CointegrationResult,
    found: &CointegrationFindings,
    all: &[Series],
) -> Vec<(String, Vec<f64>)> {
    let vectors = result.johansen.as_ref().filter(|johansen| !johansen.vectors.is_empty());
    let Some(johansen) = vectors else {
        let name = "Residuals of the static regression (no cointegrating relation is found)";
        return vec![(name.to_owned(), found.residual.residuals.clone())];
    };
    let values: Vec<&[f64]> = all.iter().map(|series| series.values.as_slice()).collect();
    let rank = johansen.vectors.len();
    let one = |(own, vector): (usize, &Vec<NamedValue>)| {
        let coefficients: Vec<f64> = vector.iter().map(|value| value.estimate).collect();
        let title = format!("Equilibrium error of {}", equation(vector, own, rank));
        (title, equilibrium_errors(&values, &coefficients, johansen.terms))
    };
    johansen.vectors.iter().enumerate().take(MOST_RELATIONS).map(one).collect()
}

fn deviations(title: String, errors: &[f64], periods: Vec<Period>) -> Panel {
    let half = HALF * deviation(errors);
    let places = || (0..errors.len()).map(|t| t as f64);
    Panel {
        title,
        along: Along::Periods(periods),
        lines: vec![Line {
            name: "equilibrium error".to_owned(),
            ink: Ink::Series(4),
            pieces: vec![places().zip(errors.iter().copied()).collect()],
        }],
        intervals: vec![Interval {
            name: "± 1.96 standard deviations".to_owned(),
            ends: places().map(|t| (t, -half, half)).collect(),
        }],
        ..Panel::default()
    }
}
