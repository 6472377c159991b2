//! Expressions as typed: names put in, columns checked, steps that take something from the data resolved.

use kandrel_core::expr::{self, Expression, Node};
use kandrel_core::series::Span;
use kandrel_core::transform::{self, Resolved};

use super::Session;
use super::refusal::evaluation_error;
use crate::args::Gaps;
use crate::error::CliError;
use crate::read::Dataset;
use crate::visible::visible_name;
use crate::wording;

impl Session<'_> {
    /// Expressions whose steps have found what they take from the data; columns are filled as
    /// asked for.
    pub(super) fn parsed(
        &mut self,
        expressions: &[String],
        gaps: Gaps,
        span: Span,
    ) -> Result<Vec<Expression>, CliError> {
        let typed = self.typed_expressions(expressions, gaps)?;
        self.resolved(typed, gaps, span)
    }

    /// Expressions as typed; columns are filled as asked for.
    pub(super) fn typed_expressions(
        &mut self,
        expressions: &[String],
        gaps: Gaps,
    ) -> Result<Vec<Expression>, CliError> {
        let named = self.named()?;
        let texts =
            if expressions.is_empty() { vec![only_column(&self.dataset)?] } else { expressions.to_vec() };
        let parsed: Vec<Expression> = texts
            .iter()
            .map(|text| expression(&self.dataset, &self.dataset.in_own_name(text), &named))
            .collect::<Result<_, _>>()?;
        let used: Vec<&str> = parsed.iter().flat_map(|one| one.node.columns()).collect();
        self.dataset.add_years(&used);
        if let Some(how) = gaps.fill() {
            let season = self.season();
            let mut columns: Vec<&str> = parsed.iter().flat_map(|one| one.node.columns()).collect();
            columns.sort_unstable();
            columns.dedup();
            for name in columns {
                self.dataset.fill(name, how, season);
            }
        }
        Ok(parsed)
    }

    /// Expressions with what their steps take from the data.
    pub(super) fn resolved(
        &mut self,
        mut parsed: Vec<Expression>,
        gaps: Gaps,
        span: Span,
    ) -> Result<Vec<Expression>, CliError> {
        let season = self.season();
        for one in &mut parsed {
            resolve(&mut self.dataset, one, span, season)?;
        }
        if gaps == Gaps::Drop {
            self.dataset.note_left_out(&parsed.iter().flat_map(|one| one.node.columns()).collect::<Vec<_>>());
        }
        Ok(parsed)
    }

    /// What else a column answers to, and the expressions that `--let` names; each may use the ones before it.
    fn named(&self) -> Result<Vec<(String, Node)>, CliError> {
        let mut named: Vec<(String, Node)> = self.dataset.other_name().into_iter().collect();
        for text in &self.args.names {
            let (name, expression) =
                text.split_once('=').map(|(name, text)| (name.trim(), text)).ok_or_else(|| {
                    CliError::call(format!("--let {text}: an equals sign is missing"))
                        .advise("write --let term_spread='long_rate - short_rate'")
                })?;
            let plain = wording::column(name) == name;
            if !plain || named.iter().any(|(known, _)| known == name) || self.dataset.has_column(name) {
                return Err(CliError::call(format!("--let {text}: {name:?} cannot be the name"))
                    .advise("take letters, digits and underscores, and no name that is in use"));
            }
            let parsed =
                expr::parse(expression).map_err(|error| wording::expression_error(expression, &error))?;
            let node = expr::with_names(&parsed.node, &named);
            // Names within names double it each time.
            if node.size() > LARGEST {
                return Err(CliError::call(format!(
                    "--let {name}: the expression has more than {LARGEST} parts"
                ))
                .advise("name fewer expressions by others"));
            }
            named.push((name.to_owned(), node));
        }
        Ok(named)
    }
}

/// Parts of an expression beyond which it is a slip.
const LARGEST: usize = 4_000;

fn only_column(dataset: &Dataset) -> Result<String, CliError> {
    let names = dataset.numeric_names();
    match names.as_slice() {
        [only] => Ok(wording::column(only)),
        [] => Err(CliError::data(format!("{} has no column of numbers", dataset.source))),
        several => Err(CliError::call("which series? name one or more").advise(format!(
            "{} has {}",
            dataset.source,
            wording::list(several)
        ))),
    }
}

/// Reads an expression and checks that its columns can be used.
fn expression(dataset: &Dataset, text: &str, named: &[(String, Node)]) -> Result<Expression, CliError> {
    // Names are read so, and may be typed as the file has them.
    let text = &visible_name(text);
    // A column whose name reads like arithmetic is meant as the column.
    let quoted = wording::column(text);
    let text = if dataset.has_column(text) && wording::column(text) != *text { &quoted } else { text };
    let mut expression = expr::parse(text).map_err(|error| wording::expression_error(text, &error))?;
    expression.node = expr::with_names(&expression.node, named);
    if expression.node.size() > LARGEST {
        return Err(CliError::call(format!("the series {text}: it has more than {LARGEST} parts"))
            .advise("name fewer expressions by others"));
    }
    for name in expression.node.columns() {
        dataset.check_usable(name)?;
    }
    check_reach(dataset, &expression)?;
    Ok(expression)
}

/// Finds what steps take from the data, with a note for each.
fn resolve(
    dataset: &mut Dataset,
    expression: &mut Expression,
    span: Span,
    season: usize,
) -> Result<(), CliError> {
    let found = transform::resolve(expression, &dataset.frame, span, season)
        .map_err(|error| evaluation_error(dataset, &expression.text, error))?;
    let note = |one: &Resolved| match one {
        Resolved::Lambda(choice, rule) => wording::lambda(choice, *rule),
        Resolved::Season(windows) => wording::season_taken_out(windows),
        Resolved::Repaired(values) => wording::repaired(values),
    };
    dataset.notes.extend(found.iter().map(|one| format!("{}: {}", expression.text, note(one))));
    Ok(())
}

/// Refuses differences that reach back beyond the whole of the data.
fn check_reach(dataset: &Dataset, expression: &Expression) -> Result<(), CliError> {
    let reach = expression.node.reach();
    let length = dataset.frame.length;
    if reach < length {
        return Ok(());
    }
    let (source, text) = (&dataset.source, &expression.text);
    Err(CliError::data(format!(
        "{source}, {text}: it reaches {reach} periods back, and the data have {length}"
    ))
    .advise("take smaller lags"))
}
