//! `kandrel ols`: least squares of one series on others.

use crate::args::{DataArgs, FigureArgs, OutputArgs, alpha};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::figure::residuals::LastPanel;
use crate::model::{correlations, diagnoses, missing_regressor};
use crate::output::Files;
use crate::present::ols::{
    self as text, BreakFound, ErrorsReason, OlsResult, RegressionFindings, RestrictionFound,
};
use crate::present::transform;
use crate::read::Dataset;
use crate::render;
use crate::session::Session;
use crate::wording;
use kandrel_core::coint::{ResidualOptions, fewest_observations, residual_tests};
use kandrel_core::corr::AcfOptions;
use kandrel_core::expr;
use kandrel_core::nulldist::{MAX_RESIDUAL_SERIES, Terms};
use kandrel_core::ols::autocovariances_examined;
use kandrel_core::randomness::jarque_bera;
use kandrel_core::regression::{
    ErrorKind, ErrorKindError, Regression, RegressionError, RegressionOptions, Restriction, RestrictionError,
    break_test, breusch_godfrey, regression, reset, white,
};
use kandrel_core::regressor::Regressor;
use kandrel_core::series::{Lost, Series, SeriesWithGaps};
use kandrel_core::time::Period;

pub const ABOUT: &str =
    "Least squares of one series on others, with robust standard errors, diagnostics and restrictions";
pub const EXAMPLES: &str = "Examples:\n  kandrel ols demo:harbour sailings --on 'bookings[t-2]'\n  \
    kandrel ols demo:harbour 'sailings ~ bookings[t-2] + trend'\n  \
    kandrel ols demo:charters lighter:d1 --on 'coaster:d1, feeder:d1, bulker:d1'\n  \
    kandrel ols demo:region wages --on rents --restrict 'rents = 1.6'\n  \
    kandrel ols demo:region wages --on 'rents, trend' --errors newey-west";

/// Lags of the second test for autocorrelation where there is no season.
const USUAL_LAGS: usize = 4;
/// The longest season that it spans.
const LONGEST_SEASON: usize = 12;
/// Below this a Durbin-Watson statistic makes one ask whether the residuals have a unit root.
const LOW_DURBIN_WATSON: f64 = 1.0;

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// What is explained: a column, or a column with steps; or a formula, 'y ~ a + b'
    target: String,
    /// Regressors, separated by commas: a, b[t-1], (c:ln,d1), trend, seasons, step=PERIOD, pulse=PERIOD
    #[arg(long = "on", value_name = "TERMS", help_heading = "Method")]
    on: Option<String>,
    /// Without a constant
    #[arg(long, help_heading = "Method")]
    no_constant: bool,
    /// Standard errors: auto (robust ones where the diagnostics reject the classical ones), classical, hc0, hc1, hc3,
    /// newey-west or newey-west=LAGS
    #[arg(long, value_name = "KIND", default_value = "auto", value_parser = errors, help_heading = "Method")]
    errors: Errors,
    /// A linear restriction in the regressors' own names (repeatable): 'a + b = 1', 'sum(a) = 1' for all lags of a
    #[arg(long, value_name = "TEXT", allow_hyphen_values = true, help_heading = "Method")]
    restrict: Vec<String>,
    /// Last period before a break in all coefficients
    #[arg(long, value_name = "PERIOD", help_heading = "Method")]
    break_at: Option<String>,
    /// Give residuals and fitted values in the JSON
    #[arg(long, help_heading = "Method")]
    residuals: bool,
    /// Write target, fitted values and residuals into a CSV file
    #[arg(long, value_name = "PATH", help_heading = "Output")]
    save: Option<std::path::PathBuf>,
    /// Significance level of all decisions and of the confidence intervals
    #[arg(long, value_name = "P", default_value = "0.05", value_parser = alpha, help_heading = "Method")]
    alpha: f64,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// Standard errors as asked for.
#[derive(Debug, Clone, Copy)]
enum Errors {
    /// Classical ones, or robust ones where the diagnostics reject them.
    Auto,
    Given(ErrorKind),
    /// Newey and West with the usual number of lags.
    NeweyWest,
}

fn errors(text: &str) -> Result<Errors, String> {
    let text = text.to_lowercase();
    if text == "auto" {
        return Ok(Errors::Auto);
    }
    if text == "newey-west" {
        return Ok(Errors::NeweyWest);
    }
    text.parse().map(Errors::Given).map_err(|error: ErrorKindError| error.to_string())
}

impl Errors {
    fn resolve(self, rows: usize) -> ErrorKind {
        match self {
            Self::Given(ErrorKind::NeweyWest(lags)) => ErrorKind::NeweyWest(lags.min(rows.saturating_sub(1))),
            Self::Given(kind) => kind,
            Self::Auto => ErrorKind::Classical,
            Self::NeweyWest => ErrorKind::NeweyWest(autocovariances_examined(rows)),
        }
    }
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let request = args.figure.request(args.output.force, context)?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let formula = Formula::of(args)?;
    let problem = Problem::new(&formula, &mut session)?;
    let first = problem.fit(&session.dataset, args, args.errors.resolve(problem.target.values.len()))?;
    let mut found = problem.judged(&session.dataset, args, &first, season)?;
    let robust = matches!(args.errors, Errors::Auto).then(|| problem.robust(args, &first, &found)).flatten();
    let fit = match robust {
        Some((reason, fit)) => {
            let restrictions = problem.restrictions(args, &fit)?;
            found.lead_with(reason, &first, restrictions);
            fit
        }
        None => first,
    };
    let result = text::result(&problem.target, &problem.names, &fit, &found, args.alpha, args.residuals);
    let mut files = Files::default();
    request.draw(&mut files, || drawing(&problem, &fit, &result, &session.dataset, args, season))?;
    if let Some(path) = &args.save {
        let columns = problem.columns_to_save(&fit);
        let table = transform::document(&columns, &session.dataset.time_name());
        files.add(path, render::csv(&[table]).into_bytes());
    }
    let asked = text::Asked {
        call: &context.call,
        on: &formula.on,
        is_classical: matches!(args.errors, Errors::Given(ErrorKind::Classical)),
    };
    let report = Report::of("ols", [&result], vec![text::document(&result, &asked)])?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

/// What is explained by what, in either notation.
struct Formula {
    target: String,
    /// Regressors, separated by commas.
    on: String,
    has_constant: bool,
}

impl Formula {
    fn of(args: &Args) -> Result<Self, CliError> {
        let Some((target, right)) = args.target.split_once('~') else {
            let on = args.on.clone().ok_or_else(|| {
                CliError::call("ols: no regressors are named")
                    .advise(format!("name them with --on, or as a formula: '{} ~ a + b'", args.target))
            })?;
            return Ok(Self { target: args.target.clone(), on, has_constant: !args.no_constant });
        };
        if args.on.is_some() {
            return Err(CliError::call("ols: regressors are named in the formula and by --on")
                .advise("name them in one of the two"));
        }
        let mut has_constant = !args.no_constant;
        let mut terms = Vec::new();
        for term in summands(right) {
            match term.trim() {
                "1" => {}
                "0" | "-1" => has_constant = false,
                "" => {
                    return Err(CliError::call(format!("ols: a term is missing in {}", args.target))
                        .advise("write a formula as 'y ~ a + b'"));
                }
                named => terms.push(named.to_owned()),
            }
        }
        Ok(Self { target: target.trim().to_owned(), on: terms.join(", "), has_constant })
    }
}

/// The terms between plus signs, but for those inside brackets.
fn summands(text: &str) -> Vec<&str> {
    let (mut depth, mut start, mut all) = (0_i32, 0, Vec::new());
    for (place, letter) in text.char_indices() {
        match letter {
            '(' | '[' => depth += 1,
            ')' | ']' => depth -= 1,
            '+' if depth == 0 => {
                all.push(text.get(start..place).unwrap_or_default());
                start = place + 1;
            }
            _ => {}
        }
    }
    all.push(text.get(start..).unwrap_or_default());
    all
}

/// Target and regressors over the periods all of them have.
struct Problem {
    target: Series,
    /// The target and the regressors that are series.
    series: Vec<Series>,
    names: Vec<String>,
    columns: Vec<Vec<f64>>,
    constant: Option<usize>,
}

impl Problem {
    fn new(formula: &Formula, session: &mut Session<'_>) -> Result<Self, CliError> {
        let terms = expr::terms(&formula.on);
        if terms.is_empty() {
            return Err(CliError::call("--on names nothing").advise("write regressors, separated by commas"));
        }
        let mut fixed = Vec::new();
        let mut expressions = vec![formula.target.clone()];
        for term in &terms {
            let found = session.deterministic(term)?;
            if found.is_none() {
                expressions.push((*term).to_owned());
            }
            fixed.push(found);
        }
        let mut all = session.in_common(&expressions)?;
        let series = all.clone();
        let mut others = all.split_off(1).into_iter();
        let Some(target) = all.pop() else {
            return Err(CliError::call("no target"));
        };
        let periods: Vec<Period> = (0..target.values.len()).map(|t| target.period(t)).collect();
        let (mut names, mut columns) = (Vec::new(), Vec::new());
        if formula.has_constant {
            names.push("constant".to_owned());
            columns.push(vec![1.0; periods.len()]);
        }
        for (term, found) in terms.iter().zip(fixed) {
            if let Some(list) = found {
                for one in list.into_iter().map(Regressor::deterministic) {
                    columns.push(one.over(&periods).map_err(|error| missing_regressor(&error))?);
                    names.push(one.name);
                }
            } else if let Some(series) = others.next() {
                names.push((*term).to_owned());
                columns.push(series.values);
            }
        }
        for (place, name) in names.iter().enumerate() {
            if names.iter().take(place).any(|other| other == name) {
                return Err(CliError::call(format!("--on: {name} is given twice")).advise("name it once"));
            }
        }
        Ok(Self { target, series, names, columns, constant: formula.has_constant.then_some(0) })
    }

    fn fit(&self, dataset: &Dataset, args: &Args, errors: ErrorKind) -> Result<Regression, CliError> {
        let options = RegressionOptions { constant: self.constant, errors, alpha: args.alpha };
        regression(&self.columns, &self.target.values, &options).map_err(|error| self.refusal(dataset, error))
    }

    /// The regression with the standard errors that its diagnostics call for; none where they reject nothing, where the
    /// regression may be spurious, and where robust errors cannot be computed.
    fn robust(
        &self,
        args: &Args,
        classical: &Regression,
        found: &RegressionFindings,
    ) -> Option<(ErrorsReason, Regression)> {
        let reason = found.invalid_errors(classical, args.alpha)?;
        let kinds = match reason {
            ErrorsReason::Autocorrelation => {
                vec![ErrorKind::NeweyWest(autocovariances_examined(self.target.values.len()))]
            }
            ErrorsReason::Heteroskedasticity => vec![ErrorKind::Hc3, ErrorKind::Hc1],
        };
        kinds.into_iter().find_map(|errors| {
            let options = RegressionOptions { constant: self.constant, errors, alpha: args.alpha };
            Some((reason, regression(&self.columns, &self.target.values, &options).ok()?))
        })
    }

    /// The restrictions as tested with the standard errors of a regression.
    fn restrictions(&self, args: &Args, fit: &Regression) -> Result<Vec<RestrictionFound>, CliError> {
        let restrictions = args
            .restrict
            .iter()
            .map(|text| self.restriction(text))
            .collect::<Result<Vec<Restriction>, CliError>>()?;
        let tested = |list: &[Restriction], text: &str| {
            let test = fit.wald(list).map_err(|error| {
                CliError::call(format!("--restrict: {error}"))
                    .advise(format!("leave one of them out: {text}"))
            })?;
            Ok::<_, CliError>(RestrictionFound { text: text.to_owned(), test, classical: None })
        };
        let mut found = Vec::new();
        for (one, text) in restrictions.iter().zip(&args.restrict) {
            found.push(tested(std::slice::from_ref(one), text)?);
        }
        if restrictions.len() > 1 {
            // Several values for one combination are tried singly; together they have no test.
            found.extend(tested(&restrictions, text::ALL_TOGETHER).ok());
        }
        Ok(found)
    }

    fn judged(
        &self,
        dataset: &Dataset,
        args: &Args,
        fit: &Regression,
        season: usize,
    ) -> Result<RegressionFindings, CliError> {
        let rows = self.target.values.len();
        let wide = if season > 1 { season.min(LONGEST_SEASON) } else { USUAL_LAGS }.min(rows / 5);
        let mut autocorrelation = vec![1];
        autocorrelation.extend((wide > 1).then_some(wide));
        let high = self.constant.is_some() && fit.r2 > fit.durbin_watson;
        let persistent = high || fit.durbin_watson < LOW_DURBIN_WATSON;
        Ok(RegressionFindings {
            restrictions: self.restrictions(args, fit)?,
            classical: None,
            autocorrelation: autocorrelation
                .into_iter()
                .filter_map(|lags| Some((lags, breusch_godfrey(fit, lags).ok()?)))
                .collect(),
            white: white(fit).ok(),
            reset: reset(fit).ok(),
            jarque_bera: jarque_bera(&fit.solved.residuals).ok(),
            residual_root: persistent.then(|| self.residual_root()).flatten(),
            diagnoses: diagnoses(&self.series, season),
            overlap: expr::parse(&self.target.name).ok().and_then(|typed| typed.overlap()),
            breaking: args.break_at.as_ref().map(|text| self.breaking(dataset, text)).transpose()?,
        })
    }

    /// The p-value of a unit root in the residuals, if all regressors are series whose relation can
    /// be tested.
    fn residual_root(&self) -> Option<(f64, f64)> {
        let others = self.columns.iter().enumerate().filter(|(place, _)| Some(*place) != self.constant);
        let all: Vec<&[f64]> = std::iter::once(self.target.values.as_slice())
            .chain(others.map(|(_, one)| one.as_slice()))
            .collect();
        let enough =
            all.len() <= MAX_RESIDUAL_SERIES && self.target.values.len() >= fewest_observations(all.len());
        let terms = if self.constant.is_some() { Terms::Constant } else { Terms::None };
        let options = ResidualOptions { terms, ..ResidualOptions::default() };
        let test = enough.then(|| residual_tests(&all, &options).ok()).flatten()?.engle_granger;
        Some((test.statistic, test.p_value?))
    }

    fn restriction(&self, text: &str) -> Result<Restriction, CliError> {
        Restriction::parse(text, &self.names).map_err(|error| {
            let message = CliError::call(format!("--restrict: {error}")).advise(text);
            let message = match error {
                RestrictionError::Unknown { at } => {
                    let before = text.get(..at).unwrap_or(text);
                    message.advise(format!("{}^", " ".repeat(before.chars().count())))
                }
                RestrictionError::Equals | RestrictionError::NotFinite | RestrictionError::Empty => message,
            };
            message.advise(format!("coefficients are {}", wording::list(&self.names)))
        })
    }

    fn breaking(&self, dataset: &Dataset, text: &str) -> Result<BreakFound, CliError> {
        let span = format!("the sample runs from {} to {}", self.target.start, self.target.last());
        let (period, _) = Period::parse_range(&dataset.standard(text), self.target.start.frequency())
            .map_err(|error| CliError::call(format!("--break-at: {error}")).advise(span.clone()))?;
        let place = (0..self.target.values.len()).find(|t| self.target.period(*t) == period);
        let before = place.ok_or_else(|| {
            CliError::call(format!("--break-at {text}: there is no such period")).advise(span)
        })? + 1;
        let test = break_test(&self.columns, &self.target.values, before).map_err(|error| match error {
            RegressionError::Collinear { .. } => CliError::call(format!(
                "--break-at {text}: on one side a regressor is constant or follows from the others"
            ))
            .advise("leave it out of --on, or take another period"),
            other => self.refusal(dataset, other),
        })?;
        Ok(BreakFound { period: period.to_string(), test })
    }

    fn refusal(&self, dataset: &Dataset, error: RegressionError) -> CliError {
        let name = |place: usize| self.names.get(place).map_or("", String::as_str);
        let names =
            |places: &[usize]| wording::list(&places.iter().map(|p| name(*p).to_owned()).collect::<Vec<_>>());
        let source = &dataset.source;
        match error {
            RegressionError::TooFewRows { .. } => CliError::data(format!("{source}: {error}"))
                .advise("take a wider --sample or fewer regressors"),
            RegressionError::Collinear { column, of } if of.is_empty() => {
                CliError::data(format!("{source}: the regressor {} is zero throughout", name(column)))
                    .advise("leave it out of --on")
            }
            RegressionError::Collinear { column, of } if of.as_slice() == [0] && self.constant == Some(0) => {
                CliError::data(format!("{source}: the regressor {} is constant", name(column)))
                    .advise("leave it out of --on, or leave out the constant with --no-constant")
            }
            RegressionError::Collinear { column, of } => CliError::computation(format!(
                "{source}: the regressor {} is an exact combination of {}",
                name(column),
                names(&of)
            ))
            .advise("leave one of them out of --on"),
            RegressionError::NotFinite { column, place } => {
                let what = column.map_or(self.target.name.as_str(), name);
                wording::too_large(&format!("{source}, {what}"), self.target.period(place))
            }
            RegressionError::ConstantTarget => {
                CliError::data(format!("{source}, {}: the target is constant", self.target.name))
                    .advise("there is nothing to explain; check the column or the --sample")
            }
            RegressionError::PerfectFit { of } => CliError::computation(format!(
                "{source}: {} is an exact combination of {}",
                self.target.name,
                names(&of)
            ))
            .advise("this is an identity: there is nothing to estimate"),
            RegressionError::FullLeverage { place } => CliError::computation(format!(
                "{source}: {} is fitted exactly whatever its value, so that --errors hc3 does not exist",
                self.target.period(place)
            ))
            .advise("take --errors hc1"),
            RegressionError::NoSpread { column } => CliError::computation(format!(
                "{source}: the residuals are zero wherever {} is not, so robust standard errors cannot be \
                  computed",
                name(column)
            ))
            .advise("take --errors classical, or leave it out of --on"),
            RegressionError::BreakTooNear { needed, .. } => CliError::call(format!("{source}: {error}"))
                .advise(format!(
                    "name a period with {needed} observations up to it and one at least after it"
                )),
            RegressionError::DependentRestrictions => CliError::call(format!("--restrict: {error}")),
        }
    }

    /// Target, fitted values and residuals as series.
    fn columns_to_save(&self, fit: &Regression) -> Vec<SeriesWithGaps> {
        let named = |name: &str, values: &[f64]| {
            let series = Series {
                name: name.to_owned(),
                values: values.to_vec(),
                lost: Lost::default(),
                ..self.target.clone()
            };
            SeriesWithGaps::from(series)
        };
        vec![
            named(&self.target.name, &self.target.values),
            named("fitted", &fit.fitted),
            named("residual", &fit.solved.residuals),
        ]
    }
}

fn drawing(
    problem: &Problem,
    fit: &Regression,
    result: &OlsResult,
    dataset: &Dataset,
    args: &Args,
    season: usize,
) -> Result<figure::Drawing, CliError> {
    let series = problem.columns_to_save(fit).pop().map(|mut series| {
        series.name = format!("residuals of {}", problem.target.name);
        series
    });
    let Some(series) = series else {
        return Err(CliError::computation("no residuals"));
    };
    let functions = correlations(dataset, &series, &AcfOptions { season, ..AcfOptions::default() })?;
    let points = fit.fitted.iter().copied().zip(fit.solved.residuals.iter().copied()).collect();
    let shown = figure::residuals::Residuals {
        title: text::answer(result),
        series: &series,
        functions: &functions,
        about: "residuals in the target's units",
        last: LastPanel::Fitted(points),
    };
    Ok(figure::residuals::drawing(&shown, dataset, &args.figure.sheet()))
}
