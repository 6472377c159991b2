//! What steps take from the data before they are applied: λ, seasonal components, outliers.

use super::apply::{Setting, apply};
use super::cells::{Cell, Undefined};
use super::evaluate::value_of;
use super::evaluate_error::EvaluateError;
use crate::boxcox::{self, BoxCoxError, Choice, LambdaRule};
use crate::decomp::{self, DecompError, DecompOptions, Windows};
use crate::expr::Expression;
use crate::expr::Step;
use crate::expr::{Node, NodeKind};
use crate::outlier::{Method, OutlierOptions, Repair, ScaledOutliers};
use crate::series::{Fill, Frame, SeriesError, Span, fill};
use crate::time::Period;

/// What a step took from the data.
#[derive(Debug, Clone, PartialEq)]
pub enum Resolved {
    /// The λ of a Box-Cox transformation.
    Lambda(Choice, LambdaRule),
    /// How a season was found.
    Season(Windows),
    /// Values that were replaced: when, from, to.
    Repaired(Vec<(Period, f64, f64)>),
}

/// Finds what the steps of an expression take from the data, from left to right: λ of a Box-Cox
/// step that leaves it open, the season of `deseason`, the outliers of `repair`. Afterwards the
/// expression can be evaluated.
///
/// Only the sample is used: for λ with gaps filled. Outside the sample a season
/// is that of the nearest year inside.
///
/// # Errors
/// [`EvaluateError`]: the series before the step has no values, or nothing can be found.
pub fn resolve(
    expression: &mut Expression,
    frame: &Frame,
    sample: Span,
    season: usize,
) -> Result<Vec<Resolved>, EvaluateError> {
    let mut found = Vec::new();
    resolve_in(&mut expression.node, Setting { frame, sample }, season, &mut found)?;
    Ok(found)
}

fn resolve_in(
    node: &mut Node,
    setting: Setting<'_>,
    season: usize,
    found: &mut Vec<Resolved>,
) -> Result<(), EvaluateError> {
    match &mut node.kind {
        NodeKind::Number(_) | NodeKind::Column(_) => Ok(()),
        NodeKind::Lag(inner, _) | NodeKind::Negative(inner) => resolve_in(inner, setting, season, found),
        NodeKind::Joined(_, left, right) => {
            resolve_in(left, setting, season, found)?;
            resolve_in(right, setting, season, found)
        }
        NodeKind::Chain(inner, steps) => {
            resolve_in(inner, setting, season, found)?;
            if !steps.iter().any(Step::is_open) {
                return Ok(());
            }
            let mut cells = value_of(inner, setting)?;
            for step in steps {
                if let Some((fixed, taken)) = fixed(step, &cells, setting, season)? {
                    *step = fixed;
                    found.push(taken);
                }
                cells = apply(step, &cells, setting)?;
            }
            Ok(())
        }
    }
}

/// An open step with what it takes from the data.
fn fixed(
    step: &Step,
    cells: &[Cell],
    setting: Setting<'_>,
    season: usize,
) -> Result<Option<(Step, Resolved)>, EvaluateError> {
    Ok(match step {
        Step::ChooseBoxCox(rule) => {
            let choice = choice(cells, setting, season)?;
            Some((Step::BoxCox(choice.lambda(*rule)), Resolved::Lambda(choice, *rule)))
        }
        Step::Deseason => {
            let (season, windows) = season_of(cells, setting, season)?;
            Some((Step::Without(season), Resolved::Season(windows)))
        }
        Step::Repair => {
            let repaired = repaired(cells, setting, season)?;
            let when = |(row, from, to): &(usize, f64, f64)| (setting.frame.period(*row), *from, *to);
            let rows = repaired.iter().map(|(row, _, to)| (*row, *to)).collect();
            Some((Step::Replaced(rows), Resolved::Repaired(repaired.iter().map(when).collect())))
        }
        _ => None,
    })
}

/// The rows of the sample from the first to the last known value, and their cells.
fn known_stretch(cells: &[Cell], setting: Setting<'_>) -> Result<(usize, Vec<Option<f64>>), EvaluateError> {
    let inside = |row: &usize| setting.sample.holds(setting.frame.period(*row));
    let known = |row: usize| cells.get(row).and_then(|cell| cell.value());
    let rows: Vec<usize> = (0..cells.len()).filter(inside).filter(|row| known(*row).is_some()).collect();
    let (Some(first), Some(last)) = (rows.first(), rows.last()) else {
        return Err(SeriesError::Empty.into());
    };
    Ok((*first, (*first..=*last).map(known).collect()))
}

/// The season of every row of the frame.
fn season_of(
    cells: &[Cell],
    setting: Setting<'_>,
    season: usize,
) -> Result<(Vec<f64>, Windows), EvaluateError> {
    let (first, known) = known_stretch(cells, setting)?;
    let found = decomp::by_loess(&known, &DecompOptions::of(season)).map_err(EvaluateError::Season)?;
    let inside = found.season();
    let nearest = |row: usize| {
        // Whole seasons away, the same place of the first or the last year inside.
        let place = i64::try_from(row).unwrap_or(i64::MAX) - i64::try_from(first).unwrap_or_default();
        let whole = |count: usize| i64::try_from(count).unwrap_or(i64::MAX);
        let (length, season) = (whole(inside.len()), whole(season.max(1)));
        let moved = match place {
            before if before < 0 => before.rem_euclid(season),
            after if after >= length => length - season + (after - length).rem_euclid(season),
            same => same,
        };
        usize::try_from(moved).ok().and_then(|moved| inside.get(moved)).copied().unwrap_or_default()
    };
    let windows = found.windows.first().copied().ok_or(EvaluateError::Season(DecompError::NoSeason))?;
    Ok(((0..cells.len()).map(nearest).collect(), windows))
}

/// Rows, values and replacements of the outliers.
fn repaired(
    cells: &[Cell],
    setting: Setting<'_>,
    season: usize,
) -> Result<Vec<(usize, f64, f64)>, EvaluateError> {
    let (first, known) = known_stretch(cells, setting)?;
    let gaps = known.iter().enumerate().filter(|(_, cell)| cell.is_none());
    let periods: Vec<Period> = gaps.map(|(t, _)| setting.frame.period(first + t)).collect();
    if !periods.is_empty() {
        return Err(SeriesError::Gaps { periods }.into());
    }
    let values: Vec<f64> = known.into_iter().flatten().collect();
    let options = OutlierOptions { season, methods: Method::ALL.to_vec() };
    let found = ScaledOutliers::find(&values, &options).map_err(EvaluateError::Repair)?;
    let rule = Repair::usual(season);
    let repaired = found.repair(&values, rule).map_err(EvaluateError::Repair)?;
    Ok(repaired.iter().map(|one| (first + one.place, one.from, one.to)).collect())
}

fn choice(cells: &[Cell], setting: Setting<'_>, season: usize) -> Result<Choice, EvaluateError> {
    let inside = |row: usize| setting.sample.holds(setting.frame.period(row));
    let known: Vec<Option<f64>> =
        cells.iter().enumerate().map(|(row, cell)| cell.value().filter(|_| inside(row))).collect();
    let start = known.iter().position(Option::is_some).unwrap_or(0);
    let values: Vec<f64> = fill(&known, Fill::Linear, season).cells.into_iter().flatten().collect();
    boxcox::choose(&values, season).map_err(|error| match error {
        BoxCoxError::NotPositive(place) => {
            let why = Undefined::Logarithm(values.get(place).copied().unwrap_or(0.0));
            EvaluateError::Undefined { period: setting.frame.period(start + place), why }
        }
        other => other.into(),
    })
}
