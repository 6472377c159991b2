use std::io::Read;

use clap::{Args, ValueEnum};
use kandrel_core::decomp::DecompError;
use kandrel_core::expr::{self, EvaluateError, Expression, Node, Resolved, Undefined};
use kandrel_core::outlier::OutlierError;
use kandrel_core::series::{Fill, Series, SeriesError, SeriesWithGaps, Span, longest_stretch};

use kandrel_core::time::Period;

use super::target::Target;
use crate::error::CliError;
use crate::read::{
    self, CsvOptions, Dataset, DateOrder, Decimal, Every, LongOptions, ReadOptions, TimeOptions,
};
use crate::words;

/// Where the data are and which part is used.
#[derive(Args, Clone)]
pub struct DataArgs {
    /// Delimited text, XLSX, XLS, ODS or JSON with names; `-` for standard input; demo:NAME
    pub file: String,
    /// Time column (found by itself if not named)
    #[arg(long, value_name = "COLUMN", help_heading = "Data")]
    pub time: Option<String>,
    /// Period of the first row, where no column holds periods
    #[arg(long, value_name = "PERIOD", conflicts_with = "time", help_heading = "Data")]
    pub start: Option<String>,
    /// How far rows are apart, where no column holds periods
    #[arg(long, value_name = "UNIT", conflicts_with = "time", help_heading = "Data")]
    pub every: Option<Every>,
    /// Whether 03/04/2004 begins with the day or the month (from the column if not given)
    #[arg(long, value_name = "ORDER", help_heading = "Data")]
    pub dates: Option<DateOrder>,
    /// Periods to use, either end open: 2004-01..2019-12, 2004.., ..2019
    #[arg(long, value_name = "FROM..TO", help_heading = "Data")]
    pub sample: Option<String>,
    /// Observations in a season (from the frequency if not given; 1 for none)
    #[arg(long, value_name = "N", help_heading = "Data", value_parser = clap::value_parser!(u32).range(1..))]
    pub season: Option<u32>,
    /// Sheet of a workbook: its name, or its number from 1 (the first with a table if not given)
    #[arg(long, value_name = "NAME|N", help_heading = "Data")]
    pub sheet: Option<String>,
    /// Mark between columns: , ; | or tab (found by itself if not named)
    #[arg(long, value_name = "C", value_parser = delimiter, help_heading = "Data")]
    pub delimiter: Option<u8>,
    /// Mark before decimals: . or , (found by itself if not named)
    #[arg(long, value_name = "C", value_parser = decimal, help_heading = "Data")]
    pub decimal: Option<Decimal>,
    /// Encoding of the text, as utf-8 or windows-1252 (found by itself if not named)
    #[arg(long, value_name = "NAME", help_heading = "Data")]
    pub encoding: Option<String>,
    /// More marks of a missing value, separated by commas: -999,k.a.
    #[arg(
        long,
        value_name = "TOKENS",
        value_delimiter = ',',
        allow_hyphen_values = true,
        help_heading = "Data"
    )]
    pub missing: Vec<String>,
    /// Keep the rows with this value in a column (repeatable): area=north
    #[arg(long, value_name = "COLUMN=VALUE", value_parser = pick, help_heading = "Data")]
    pub pick: Vec<(String, String)>,
    /// One row a series and period: the column of their names and that of the values
    #[arg(long, value_name = "SERIES:VALUE", value_parser = long, help_heading = "Data")]
    pub long: Option<(String, String)>,
    /// What to do with missing values between others (refuse if not given; plot: keep)
    #[arg(long, value_name = "RULE", help_heading = "Data")]
    pub gaps: Option<Gaps>,
    /// Name an expression for use in others (repeatable): spread='a - b'
    #[arg(long = "let", value_name = "NAME=EXPRESSION", help_heading = "Data")]
    pub names: Vec<String>,
}

fn delimiter(text: &str) -> Result<u8, String> {
    match text {
        "tab" | "\\t" | "\t" => Ok(b'\t'),
        _ => match text.as_bytes() {
            [mark] if mark.is_ascii_punctuation() && *mark != b'"' => Ok(*mark),
            _ => Err("write one mark, as ; or |, or tab".to_owned()),
        },
    }
}

fn pick(text: &str) -> Result<(String, String), String> {
    let (column, value) = text.split_once('=').ok_or("write COLUMN=VALUE, as area=north")?;
    Ok((column.trim().to_owned(), value.trim().to_owned()))
}

fn long(text: &str) -> Result<(String, String), String> {
    let (series, value) = text.rsplit_once(':').ok_or("write SERIES_COLUMN:VALUE_COLUMN")?;
    Ok((series.trim().to_owned(), value.trim().to_owned()))
}

fn decimal(text: &str) -> Result<Decimal, String> {
    match text {
        "." => Ok(Decimal::Point),
        "," => Ok(Decimal::Comma),
        _ => Err("write . or ,".to_owned()),
    }
}

/// What to do with missing values between others.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Gaps {
    /// Name their periods and stop
    Refuse,
    /// Leave them open, where the method takes gaps
    Keep,
    /// Carry the last known value forward
    Previous,
    /// Draw a straight line between the neighbours
    Linear,
    /// Draw it beside the mean of each place of the season
    Seasonal,
    /// Leave their periods out and take the rest as consecutive
    Drop,
}

impl Gaps {
    fn fill(self) -> Option<Fill> {
        match self {
            Self::Refuse | Self::Keep | Self::Drop => None,
            Self::Previous => Some(Fill::Previous),
            Self::Linear => Some(Fill::Linear),
            Self::Seasonal => Some(Fill::Seasonal),
        }
    }
}

impl DataArgs {
    /// Reads the file.
    pub fn read(&self, stdin: &mut dyn Read) -> Result<Dataset, CliError> {
        self.read_other(&self.file, stdin)
    }

    /// Reads another file of the same kind.
    pub fn read_other(&self, file: &str, stdin: &mut dyn Read) -> Result<Dataset, CliError> {
        let options = ReadOptions {
            time: TimeOptions {
                column: self.time.clone(),
                order: self.dates,
                start: self.start.clone(),
                every: self.every,
            },
            encoding: self.encoding.clone(),
            sheet: self.sheet.clone(),
            csv: CsvOptions { delimiter: self.delimiter, decimal: self.decimal },
            missing: self.missing.clone(),
            long: LongOptions { columns: self.long.clone(), picks: self.pick.clone() },
        };
        read::open(file, &options, stdin)
    }

    /// The names of its options.
    pub fn names() -> Vec<String> {
        let syntax = Self::augment_args(clap::Command::new("data"));
        syntax.get_arguments().filter_map(|argument| argument.get_long().map(str::to_owned)).collect()
    }

    /// The seasonal period in force.
    pub fn season(&self, dataset: &Dataset) -> usize {
        self.season
            .and_then(|season| usize::try_from(season).ok())
            .unwrap_or_else(|| dataset.frame.frequency().season())
    }

    /// The periods to use.
    pub fn span(&self, dataset: &Dataset) -> Result<Span, CliError> {
        let Some(text) = &self.sample else {
            return Ok(Span::default());
        };
        Span::parse(text, dataset.frame.frequency()).map_err(|error| {
            CliError::call(format!("--sample: {error}")).advise(format!(
                "the data are {} and run from {} to {}: write --sample {}..{}",
                dataset.frame.frequency().adjective(),
                dataset.frame.start,
                dataset.frame.last(),
                dataset.frame.start,
                dataset.frame.last()
            ))
        })
    }

    /// The series of the expressions, for a test that takes no gaps; of the only
    /// numeric column if there are none. A smoothed one is noted.
    pub fn series(&self, dataset: &mut Dataset, expressions: &[String]) -> Result<Vec<Series>, CliError> {
        if self.gaps == Some(Gaps::Keep) {
            return Err(CliError::call("--gaps keep: this command takes no gaps")
                .advise("fill them with linear, seasonal or previous, or leave them out with drop"));
        }
        let all = self.evaluated(dataset, expressions, Gaps::Refuse, false)?;
        note_smoothing(dataset, &all);
        let whole = |series: SeriesWithGaps| {
            let name = series.name.clone();
            series.complete().map_err(|error| evaluation_error(dataset, &name, error.into()))
        };
        all.into_iter().map(whole).collect()
    }

    /// The series of the expressions for a method that takes gaps if they are kept. A smoothed
    /// one is noted.
    pub fn series_with_noted_smoothing(
        &self,
        dataset: &mut Dataset,
        expressions: &[String],
    ) -> Result<Vec<SeriesWithGaps>, CliError> {
        let all = self.series_with_gaps(dataset, expressions, Gaps::Refuse)?;
        note_smoothing(dataset, &all);
        Ok(all)
    }

    /// The series of the expressions; gaps of the columns they need are filled,
    /// left out or refused first, as asked for or as is `usual`.
    pub fn series_with_gaps(
        &self,
        dataset: &mut Dataset,
        expressions: &[String],
        usual: Gaps,
    ) -> Result<Vec<SeriesWithGaps>, CliError> {
        self.evaluated(dataset, expressions, usual, true)
    }

    /// The same, for a command that `keeps` gaps or does not.
    fn evaluated(
        &self,
        dataset: &mut Dataset,
        expressions: &[String],
        usual: Gaps,
        keeps: bool,
    ) -> Result<Vec<SeriesWithGaps>, CliError> {
        let gaps = self.gaps.unwrap_or(usual);
        let span = self.span(dataset)?;
        let parsed = self.parsed(dataset, expressions, gaps, span)?;
        parsed.iter().map(|one| one_series(dataset, one, span, gaps, keeps)).collect()
    }

    /// The series of the expressions, to be modelled and carried back to their own units; gaps
    /// may be kept. A smoothed one is noted.
    pub fn targets(&self, dataset: &mut Dataset, expressions: &[String]) -> Result<Vec<Target>, CliError> {
        let span = self.span(dataset)?;
        let gaps = self.gaps.unwrap_or(Gaps::Refuse);
        let typed = self.typed_expressions(dataset, expressions, gaps)?;
        let parsed = self.resolved(dataset, typed.clone(), gaps, span)?;
        let season = self.season(dataset);
        let target = |(typed, expression): (Expression, Expression)| {
            let series = one_series(dataset, &expression, span, gaps, true)?;
            let frame = dataset.frame_of(&expression.node.columns(), gaps == Gaps::Drop);
            Ok(Target { typed, expression, frame, span, season, series })
        };
        let all: Vec<Target> = typed.into_iter().zip(parsed).map(target).collect::<Result<_, CliError>>()?;
        note_smoothing(dataset, &all.iter().map(|target| target.series.clone()).collect::<Vec<_>>());
        Ok(all)
    }

    /// The series of an expression over all periods, gaps filled where that is asked for and kept
    /// otherwise.
    pub fn whole_series(&self, dataset: &mut Dataset, text: &str) -> Result<SeriesWithGaps, CliError> {
        let span = self.span(dataset)?;
        let gaps = self.gaps.unwrap_or(Gaps::Keep);
        let parsed = self.parsed(dataset, &[text.to_owned()], gaps, span)?;
        let [one] = parsed.as_slice() else {
            return Err(CliError::call(format!("{text}: no series")));
        };
        expr::evaluate_with_gaps(one, &dataset.frame, Span::default())
            .map_err(|error| evaluation_error(dataset, &one.text, error))
    }

    /// Expressions whose steps have found what they take from the data; columns are filled as
    /// asked for.
    fn parsed(
        &self,
        dataset: &mut Dataset,
        expressions: &[String],
        gaps: Gaps,
        span: Span,
    ) -> Result<Vec<Expression>, CliError> {
        let typed = self.typed_expressions(dataset, expressions, gaps)?;
        self.resolved(dataset, typed, gaps, span)
    }

    /// Expressions as typed; columns are filled as asked for.
    fn typed_expressions(
        &self,
        dataset: &mut Dataset,
        expressions: &[String],
        gaps: Gaps,
    ) -> Result<Vec<Expression>, CliError> {
        let named = self.named(dataset)?;
        let texts = if expressions.is_empty() { vec![only_column(dataset)?] } else { expressions.to_vec() };
        let parsed: Vec<Expression> =
            texts.iter().map(|text| expression(dataset, text, &named)).collect::<Result<_, _>>()?;
        if let Some(how) = gaps.fill() {
            let season = self.season(dataset);
            let mut columns: Vec<&str> = parsed.iter().flat_map(|one| one.node.columns()).collect();
            columns.sort_unstable();
            columns.dedup();
            for name in columns {
                dataset.fill(name, how, season);
            }
        }
        Ok(parsed)
    }

    /// Their steps find what they take from the data.
    fn resolved(
        &self,
        dataset: &mut Dataset,
        mut parsed: Vec<Expression>,
        gaps: Gaps,
        span: Span,
    ) -> Result<Vec<Expression>, CliError> {
        let season = self.season(dataset);
        for one in &mut parsed {
            resolve(dataset, one, span, season)?;
        }
        if gaps == Gaps::Drop {
            dataset.note_left_out(&parsed.iter().flat_map(|one| one.node.columns()).collect::<Vec<_>>());
        }
        Ok(parsed)
    }

    /// The expressions that `--let` names; each may use the ones before it.
    fn named(&self, dataset: &Dataset) -> Result<Vec<(String, Node)>, CliError> {
        let mut named: Vec<(String, Node)> = Vec::new();
        for text in &self.names {
            let (name, expression) =
                text.split_once('=').map(|(name, text)| (name.trim(), text)).ok_or_else(|| {
                    CliError::call(format!("--let {text}: an equals sign is missing"))
                        .advise("write --let spread='long_rate - short_rate'")
                })?;
            let plain = words::column(name) == name;
            if !plain || named.iter().any(|(known, _)| known == name) || dataset.has_column(name) {
                return Err(CliError::call(format!("--let {text}: {name:?} cannot be the name"))
                    .advise("take letters, digits and underscores, and no name that is in use"));
            }
            let parsed =
                expr::parse(expression).map_err(|error| words::expression_error(expression, &error))?;
            let node = expr::with_names(&parsed.node, &named);
            named.push((name.to_owned(), node));
        }
        Ok(named)
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
        "{name} is a moving average: it makes neighbours alike, so tests find persistence that the data may not \
         have; test the series before averaging"
    )
}

fn only_column(dataset: &Dataset) -> Result<String, CliError> {
    let names = dataset.numeric_names();
    match names.as_slice() {
        [only] => Ok(words::column(only)),
        [] => Err(CliError::data(format!("{} has no column of numbers", dataset.source))),
        several => Err(CliError::call("which series? name one or more").advise(format!(
            "{} has {}",
            dataset.source,
            words::list(several)
        ))),
    }
}

/// Reads an expression and checks that its columns can be used.
fn expression(dataset: &Dataset, text: &str, named: &[(String, Node)]) -> Result<Expression, CliError> {
    // A column whose name reads like arithmetic is meant as the column.
    let quoted = format!("`{text}`");
    let text = if dataset.has_column(text) && words::column(text) != text { quoted.as_str() } else { text };
    let mut expression = expr::parse(text).map_err(|error| words::expression_error(text, &error))?;
    expression.node = expr::with_names(&expression.node, named);
    for name in expression.node.columns() {
        dataset.check_usable(name)?;
    }
    check_reach(dataset, &expression)?;
    Ok(expression)
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
        Gaps::Keep => expr::evaluate_with_gaps(expression, frame, span),
        _ => expr::evaluate(expression, frame, span).map(SeriesWithGaps::from),
    };
    series.map_err(|error| match error {
        EvaluateError::Series(SeriesError::Gaps { periods }) => {
            let stretch =
                expr::evaluate_with_gaps(expression, frame, span).ok().map(|series| longest(&series, span));
            gaps_error(dataset, &expression.text, &periods, stretch.as_deref(), keeps)
        }
        error => evaluation_error(dataset, &expression.text, error),
    })
}

/// Finds what steps take from the data, with a note for each.
fn resolve(
    dataset: &mut Dataset,
    expression: &mut Expression,
    span: Span,
    season: usize,
) -> Result<(), CliError> {
    let found = expr::resolve(expression, &dataset.frame, span, season)
        .map_err(|error| evaluation_error(dataset, &expression.text, error))?;
    let note = |one: &Resolved| match one {
        Resolved::Lambda(choice) => words::lambda(choice),
        Resolved::Season(windows) => words::season_taken_out(windows),
        Resolved::Mended(values) => words::mended(values),
    };
    dataset.notes.extend(found.iter().map(|one| format!("{}: {}", expression.text, note(one))));
    Ok(())
}

/// The longest stretch without gaps, as a sample.
fn longest(series: &SeriesWithGaps, span: Span) -> String {
    let best = longest_stretch(&series.cells);
    let last = if best.end < series.cells.len() || span.to.is_some() {
        series.period(best.end - 1).to_string()
    } else {
        String::new()
    };
    format!("{}..{last}", series.period(best.start))
}

fn gaps_error(
    dataset: &Dataset,
    text: &str,
    periods: &[Period],
    stretch: Option<&str>,
    keeps: bool,
) -> CliError {
    let sample = stretch.map_or("--sample".to_owned(), |stretch| format!("--sample {stretch}"));
    let error = CliError::data(format!(
        "{}, {text}: values are missing in {}",
        dataset.source,
        words::periods(periods)
    ))
    .advise("fill them with --gaps linear, seasonal or previous");
    let error = if keeps { error.advise("or leave them open with --gaps keep") } else { error };
    error
        .advise("or leave them out with --gaps drop")
        .advise(format!("or take the longest stretch without gaps with {sample}"))
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

fn evaluation_error(dataset: &Dataset, text: &str, error: EvaluateError) -> CliError {
    let at = format!("{}, {text}", dataset.source);
    let span = format!("the data run from {} to {}", dataset.frame.start, dataset.frame.last());
    match error {
        EvaluateError::UnknownColumn(name) => dataset.unknown_column(&name),
        EvaluateError::Undefined { period, why } => {
            let (what, advice) = undefined(why);
            CliError::data(format!("{at}: {what} in {period}"))
                .advise(format!("{advice}, or use --sample to leave out the period"))
        }
        EvaluateError::NoColumn => CliError::call(format!("{at}: there is no column in it"))
            .advise(format!("name one of {}", words::list(&dataset.numeric_names()))),
        EvaluateError::Undated => {
            CliError::data(format!("{at}: calendar steps need dates, and the rows have none"))
                .advise("name the time column with --time")
        }
        EvaluateError::NoBase { period } => {
            CliError::data(format!("{at}: there is no value in {period} to be 100")).advise(span)
        }
        EvaluateError::Open => CliError::computation(format!("{at}: {error}")),
        EvaluateError::Season(DecompError::NoSeason) | EvaluateError::Mend(OutlierError::NoSeason) => {
            CliError::call(format!("{at}: {error}"))
                .advise("give the number of observations in a season with --season N")
        }
        EvaluateError::Season(_) | EvaluateError::Mend(_) => {
            CliError::data(format!("{at}: {error}")).advise("take a longer series or leave the step out")
        }
        EvaluateError::BoxCox(reason) => CliError::data(format!("{at}: no λ can be chosen: {reason}"))
            .advise("write the λ yourself, as boxcox=0.5, or take a longer series"),
        EvaluateError::TooFew { .. } => {
            CliError::data(format!("{at}: {error}")).advise("take a longer series or a wider --sample")
        }
        EvaluateError::NoVariation => {
            CliError::data(format!("{at}: the series is constant")).advise("check the column or the --sample")
        }
        EvaluateError::Series(SeriesError::Empty) => {
            CliError::data(format!("{at}: no values in the periods asked for")).advise(span)
        }
        EvaluateError::Series(SeriesError::Gaps { periods }) => {
            gaps_error(dataset, text, &periods, None, false)
        }
    }
}

/// What has no result, and what to do.
fn undefined(why: Undefined) -> (String, &'static str) {
    match why {
        Undefined::Logarithm(value) => {
            (format!("no logarithm of {value}"), "logarithms need values above zero: leave the step out")
        }
        Undefined::Power(value) => (format!("no such root or power of {value}"), "leave the step out"),
        Undefined::Division => ("a division by zero".to_owned(), "divide by something else"),
        Undefined::TooLarge => ("a number too large to compute with".to_owned(), "rescale the series"),
    }
}
