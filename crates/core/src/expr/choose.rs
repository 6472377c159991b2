use super::apply::{Setting, apply};
use super::cells::{Cell, Undefined};
use super::evaluate::{EvaluateError, value_of};
use super::node::{Kind, Node};
use super::parse::Expression;
use super::step::Step;
use crate::boxcox::{self, BoxCoxError, Choice};
use crate::series::{Frame, Span, longest_stretch};

/// Puts a chosen λ into every Box-Cox step that leaves it open, from left to right,
/// and returns the choices.
///
/// λ is chosen from the longest stretch without gaps of what the step is applied to,
/// within the sample.
///
/// # Errors
/// [`EvaluateError`]: the series before the step has no values, or no λ can be chosen.
pub fn choose_lambdas(
    expression: &mut Expression,
    frame: &Frame,
    sample: Span,
    season: usize,
) -> Result<Vec<Choice>, EvaluateError> {
    let mut choices = Vec::new();
    choose_in(&mut expression.node, Setting { frame, sample }, season, &mut choices)?;
    Ok(choices)
}

fn choose_in(
    node: &mut Node,
    setting: Setting<'_>,
    season: usize,
    choices: &mut Vec<Choice>,
) -> Result<(), EvaluateError> {
    match &mut node.kind {
        Kind::Number(_) | Kind::Column(_) => Ok(()),
        Kind::Lag(inner, _) | Kind::Negative(inner) => choose_in(inner, setting, season, choices),
        Kind::Joined(_, left, right) => {
            choose_in(left, setting, season, choices)?;
            choose_in(right, setting, season, choices)
        }
        Kind::Chain(inner, steps) => {
            choose_in(inner, setting, season, choices)?;
            if !steps.contains(&Step::ChooseBoxCox) {
                return Ok(());
            }
            let mut cells = value_of(inner, setting)?;
            for step in steps {
                if *step == Step::ChooseBoxCox {
                    let choice = choice(&cells, setting, season)?;
                    *step = Step::BoxCox(choice.likelihood.lambda);
                    choices.push(choice);
                }
                cells = apply(step, &cells, setting)?;
            }
            Ok(())
        }
    }
}

fn choice(cells: &[Cell], setting: Setting<'_>, season: usize) -> Result<Choice, EvaluateError> {
    let inside = |row: usize| setting.sample.holds(setting.frame.period(row));
    let known: Vec<Option<f64>> =
        cells.iter().enumerate().map(|(row, cell)| cell.value().filter(|_| inside(row))).collect();
    let stretch = longest_stretch(&known);
    let values: Vec<f64> = known.get(stretch.clone()).unwrap_or_default().iter().flatten().copied().collect();
    boxcox::choose(&values, season).map_err(|error| match error {
        BoxCoxError::NotPositive(place) => {
            let why = Undefined::Logarithm(values.get(place).copied().unwrap_or(0.0));
            EvaluateError::Undefined { period: setting.frame.period(stretch.start + place), why }
        }
        other => other.into(),
    })
}
