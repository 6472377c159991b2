//! The series of a sample: complete, with gaps, or with what they are computed from.

use kandrel_core::diagnosis::filled;
use kandrel_core::expr::{self, Expression};
use kandrel_core::num::scale::is_too_small;
use kandrel_core::series::{
    Series, SeriesError, SeriesWithGaps, Span, common_periods, gaps_advice, longest_stretch,
};
use kandrel_core::shape::{Transformation, advised_transformation};
use kandrel_core::transform::{self, EvaluateError, Transformed};

use super::Session;
use super::refusal::{Missing, evaluation_error, gaps_error};
use crate::args::Gaps;
use crate::error::CliError;
use crate::progress::Progress;
use crate::read::Dataset;
use crate::wording;

/// Observations that are worked on for more than some seconds.
const LONG: usize = 50_000;

impl Session<'_> {
    /// The series of the expressions, for a test that takes no gaps; of the only
    /// numeric column if there are none. A smoothed one is noted.
    pub fn series(&mut self, expressions: &[String]) -> Result<Vec<Series>, CliError> {
        if self.args.gaps == Some(Gaps::Keep) {
            return Err(CliError::call("--gaps keep: this command takes no gaps")
                .advise("fill them with linear, seasonal or previous, or leave them out with drop"));
        }
        let all = self.evaluated(expressions, Gaps::Refuse, false)?;
        self.prepare(all.iter())?;
        note_smoothing(&mut self.dataset, &all);
        let whole = |series: SeriesWithGaps| {
            let name = series.name.clone();
            series.complete().map_err(|error| evaluation_error(&self.dataset, &name, error.into()))
        };
        all.into_iter().map(whole).collect()
    }

    /// The series of the expressions for a method that takes gaps if they are kept. A smoothed
    /// one is noted.
    pub fn series_with_noted_smoothing(
        &mut self,
        expressions: &[String],
    ) -> Result<Vec<SeriesWithGaps>, CliError> {
        let all = self.series_with_gaps(expressions, Gaps::Refuse)?;
        self.prepare(all.iter())?;
        note_smoothing(&mut self.dataset, &all);
        Ok(all)
    }

    /// The series of the expressions; gaps of the columns they need are filled,
    /// left out or refused first, as asked for or as is `usual`.
    pub fn series_with_gaps(
        &mut self,
        expressions: &[String],
        usual: Gaps,
    ) -> Result<Vec<SeriesWithGaps>, CliError> {
        self.evaluated(expressions, usual, true)
    }

    /// The same, for a command that `keeps` gaps or does not.
    fn evaluated(
        &mut self,
        expressions: &[String],
        usual: Gaps,
        keeps: bool,
    ) -> Result<Vec<SeriesWithGaps>, CliError> {
        let gaps = self.args.gaps.unwrap_or(usual);
        let span = self.span()?;
        let parsed = self.parsed(expressions, gaps, span)?;
        parsed.iter().map(|one| one_series(&self.dataset, one, span, gaps, keeps)).collect()
    }

    /// Says that it takes long, where it does, and refuses series without digits.
    fn prepare<'s>(&mut self, all: impl Iterator<Item = &'s SeriesWithGaps> + Clone) -> Result<(), CliError> {
        let count: usize = all.clone().map(|series| series.cells.len()).sum();
        if count > LONG {
            self.waiting = Some(Progress::waiting(format!(
                "{count} observations take a while; --sample takes a part of them"
            )));
        }
        self.check_sizes(all)
    }

    /// Refuses series that are too small to compute with; what is too large is refused where it is computed.
    pub fn check_sizes<'s>(&self, mut all: impl Iterator<Item = &'s SeriesWithGaps>) -> Result<(), CliError> {
        let small = all.find(|series| is_too_small(series.cells.iter().copied().flatten()));
        small.map_or(Ok(()), |series| {
            Err(wording::too_small(&format!("{}, {}", self.dataset.source, series.name)))
        })
    }

    /// The series of the expressions, to be modelled and transformed back to the original scale; gaps
    /// may be kept. A smoothed one is noted.
    pub fn transformed(&mut self, expressions: &[String]) -> Result<Vec<Transformed>, CliError> {
        let span = self.span()?;
        let gaps = self.args.gaps.unwrap_or(Gaps::Refuse);
        let typed = self.typed_expressions(expressions, gaps)?;
        let parsed = self.resolved(typed.clone(), gaps, span)?;
        let season = self.season();
        let one = |(typed, expression): (Expression, Expression)| {
            let series = one_series(&self.dataset, &expression, span, gaps, true)?;
            let frame = self.dataset.frame_of(&expression.node.columns(), gaps == Gaps::Drop);
            Ok(Transformed { typed, expression, frame, span, season, series })
        };
        let all: Vec<Transformed> =
            typed.into_iter().zip(parsed).map(one).collect::<Result<_, CliError>>()?;
        self.prepare(all.iter().map(|own| &own.series))?;
        note_smoothing(&mut self.dataset, &all.iter().map(|one| one.series.clone()).collect::<Vec<_>>());
        Ok(all)
    }

    /// A column without steps on the scale that its diagnosis advises; none for a series with steps, or where no
    /// transformation is advised.
    pub fn on_advised_scale(
        &mut self,
        typed: &Transformed,
    ) -> Result<Option<(Transformed, Transformation)>, CliError> {
        if expr::steps_of(&typed.typed.text).is_some() {
            return Ok(None);
        }
        let season = self.season();
        let transformation =
            advised_transformation(&filled(&typed.series, season).values, season).transformation;
        let Some(step) = transformation.step() else {
            return Ok(None);
        };
        let all = self.transformed(&[expr::with_steps(&typed.typed, &[step])])?;
        Ok(all.into_iter().next().map(|own| (own, transformation)))
    }

    /// Different series over the periods that all of them have.
    pub fn in_common(&mut self, expressions: &[String]) -> Result<Vec<Series>, CliError> {
        let all = self.series(expressions)?;
        for (place, series) in all.iter().enumerate() {
            if all.iter().take(place).any(|other| other.name == series.name) {
                return Err(CliError::call(format!("{} is named twice", series.name)).advise("name it once"));
            }
        }
        self.over_common_periods(&all)
    }

    /// Series over the periods that all of them have.
    pub fn over_common_periods(&self, all: &[Series]) -> Result<Vec<Series>, CliError> {
        common_periods(all).ok_or_else(|| {
            CliError::data(format!("{}: the series have no period in common", self.dataset.source))
                .advise("their spans are listed by kandrel inspect")
        })
    }

    /// The series of an expression over all periods, gaps filled where that is asked for and kept
    /// otherwise.
    pub fn whole_series(&mut self, text: &str) -> Result<SeriesWithGaps, CliError> {
        let span = self.span()?;
        let gaps = self.args.gaps.unwrap_or(Gaps::Keep);
        let parsed = self.parsed(&[text.to_owned()], gaps, span)?;
        let [one] = parsed.as_slice() else {
            return Err(CliError::call(format!("{text}: no series")));
        };
        transform::evaluate_with_gaps(one, &self.dataset.frame, Span::default())
            .map_err(|error| evaluation_error(&self.dataset, &one.text, error))
    }
}

fn note_smoothing(dataset: &mut Dataset, all: &[SeriesWithGaps]) {
    let is_smoothed = |text: &str| expr::parse(text).is_ok_and(|parsed| parsed.node.is_smoothed());
    let smoothed = all.iter().filter(|series| is_smoothed(&series.name));
    dataset.notes.extend(smoothed.map(|series| smoothing(&series.name)));
}

/// The warning for a test of a smoothed series.
fn smoothing(name: &str) -> String {
    format!(
        "{name} is a moving average, which induces autocorrelation, so tests find persistence that the \
          data may not have; test the series before averaging"
    )
}

fn one_series(
    dataset: &Dataset,
    expression: &Expression,
    span: Span,
    gaps: Gaps,
    keeps: bool,
) -> Result<SeriesWithGaps, CliError> {
    let reduced = (gaps == Gaps::Drop).then(|| dataset.frame.without_gaps_in(&expression.node.columns()));
    let frame = reduced.as_ref().unwrap_or(&dataset.frame);
    let series = match gaps {
        Gaps::Keep => transform::evaluate_with_gaps(expression, frame, span),
        _ => transform::evaluate(expression, frame, span).map(SeriesWithGaps::from),
    };
    series.map_err(|error| match error {
        EvaluateError::Series(SeriesError::Gaps { periods }) => {
            let open = transform::evaluate_with_gaps(expression, frame, span).ok();
            let cells = open.as_ref().map_or(&[][..], |series| series.cells.as_slice());
            let missing = Missing {
                periods: &periods,
                advice: gaps_advice(cells, frame.frequency()),
                sample: open.as_ref().and_then(|series| longest(series, span)),
                keeps,
            };
            gaps_error(dataset, &expression.text, &missing)
        }
        error => evaluation_error(dataset, &expression.text, error),
    })
}

/// The longest stretch without gaps, as a sample, where it has half the periods or more.
fn longest(series: &SeriesWithGaps, span: Span) -> Option<String> {
    let best = longest_stretch(&series.cells);
    if 2 * best.len() < series.cells.len() {
        return None;
    }
    let last = if best.end < series.cells.len() || span.to.is_some() {
        series.period(best.end - 1).to_string()
    } else {
        String::new()
    };
    Some(format!("{}..{last}", series.period(best.start)))
}
