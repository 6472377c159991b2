//! `kandrel compare`: candidate models side by side.

use crate::args::{DataArgs, OutputArgs, WithArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::model::{ModelOrAuto, diagnosis, estimated, model_or_auto, trial_refusal};
use crate::output::Files;
use crate::present::compare::{self as text, CompareResult, Described, Tested, Tests};
use crate::present::diagnosis::SeriesDiagnosis;
use crate::progress::Progress;
use crate::read::Dataset;
use crate::session::Session;
use crate::wording;
use kandrel_core::arima::diagnose;
use kandrel_core::evaluate::{Actual, Benchmark, Forecaster, Modelled, Parameters, Path, Trial, TrialError};
use kandrel_core::expr;
use kandrel_core::predictive::mean_change;
use kandrel_core::regressor::Regressors;
use kandrel_core::transform::Transformed;
use rayon::prelude::*;

pub const ABOUT: &str = "Candidate models side by side: criteria, held-out and rolling-origin errors";
pub const EXAMPLES: &str = "Examples:\n  kandrel compare demo:harbour waiting --model '(2,0,0)' --model '(1,0,0)'\n  \
    kandrel compare demo:harbour freight freight:ln --rolling 36 --ahead 12\n  \
    kandrel compare demo:harbour ice --mend --hold 24";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// One column, as it is or with steps; several transformations of it are set side by side
    series: Vec<String>,
    /// A model, or auto for the best of a search, with regressors of its own if need be: '(1,0,0) with seasons'
    /// (repeatable)
    #[arg(long, value_name = "M|auto", default_value = "auto", value_parser = asked, help_heading = "Method")]
    model: Vec<Asked>,
    /// Fit without the last N and foretell them from there
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..), help_heading = "Method")]
    hold: Option<u16>,
    /// Foretell from each of the last N origins (default: a quarter of the series, 60 at most)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..), help_heading = "Method")]
    rolling: Option<u16>,
    /// Periods ahead from each rolling origin (default: a season, 12 at most; 1 without a season)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=2000), help_heading = "Method")]
    ahead: Option<u16>,
    /// Keep the parameters of the first rolling origin
    #[arg(long, help_heading = "Method")]
    fixed: bool,
    /// Also with odd values replaced, before and after
    #[arg(long, help_heading = "Method")]
    mend: bool,
    #[command(flatten)]
    with: WithArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// A model that is asked for, with regressors of its own where they are written beside it.
#[derive(Debug, Clone)]
struct Asked {
    model: ModelOrAuto,
    terms: Option<String>,
}

fn asked(text: &str) -> Result<Asked, String> {
    match text.split_once(" with ") {
        Some((model, terms)) => {
            Ok(Asked { model: model_or_auto(model.trim())?, terms: Some(terms.trim().to_owned()) })
        }
        None => Ok(Asked { model: model_or_auto(text)?, terms: None }),
    }
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let targets = args.targets(&mut session)?;
    let common = args.with.terms.as_deref();
    let regressors: Vec<Regressors> = args
        .model
        .iter()
        .map(|asked| session.regressors(asked.terms.as_deref().or(common)))
        .collect::<Result<_, _>>()?;
    let truth = truth(&targets)?;
    let plan = args.plan(&truth, season)?;
    let rivals = args.rivals(&session.dataset, &targets, &regressors, &truth, &plan)?;
    let result = result(args, &truth, &plan, &rivals, season)?;
    let report = Report::of("compare", [&result], vec![text::document(&result, &context.call)])?;
    deliver(&report, &session.dataset, season, &args.output, Files::default(), context)
}

/// Which ends are held back.
struct Plan {
    hold: Option<usize>,
    rolling: Option<usize>,
    ahead: usize,
    /// The earliest place that a forecast starts from.
    first: usize,
}

/// A series, and the expression of the one whose outliers it has replaced.
struct Compared {
    target: Transformed,
    plain: Option<String>,
}

/// The expression without the step that replaces outliers, and with it: first of all if it has none.
fn without_and_with_repair(text: &str) -> [String; 2] {
    let bare = expr::without_steps(text);
    let steps = expr::steps_of(text).map(expr::terms).unwrap_or_default();
    let chain = |steps: &[&str]| match steps {
        [] => bare.to_owned(),
        some => format!("{bare}:{}", some.join(",")),
    };
    let plain: Vec<&str> = steps.iter().copied().filter(|step| *step != REPAIR).collect();
    if plain.len() < steps.len() {
        return [chain(&plain), chain(&steps)];
    }
    [chain(&steps), chain(&[&[REPAIR], steps.as_slice()].concat())]
}

/// The step that replaces outliers.
const REPAIR: &str = "mend";

/// Values that a model keeps to be estimated from.
const LEFT: usize = 16;

impl Args {
    /// The series; if that is asked for, each without and with its outliers replaced.
    fn targets(&self, session: &mut Session<'_>) -> Result<Vec<Compared>, CliError> {
        let typed = session.transformed(&self.series)?;
        if !self.mend {
            return Ok(typed.into_iter().map(|target| Compared { target, plain: None }).collect());
        }
        let mut pairs: Vec<[String; 2]> = Vec::new();
        for target in &typed {
            let pair = without_and_with_repair(&target.typed.text);
            if !pairs.contains(&pair) {
                pairs.push(pair);
            }
        }
        let [plain, repaired] =
            [0, 1].map(|which| pairs.iter().map(|pair| pair[which].clone()).collect::<Vec<_>>());
        let all = session.transformed(&[plain.clone(), repaired].concat())?;
        let origins = std::iter::repeat_n(None, plain.len()).chain(plain.iter().cloned().map(Some));
        Ok(all.into_iter().zip(origins).map(|(target, plain)| Compared { target, plain }).collect())
    }

    fn plan(&self, truth: &Actual, season: usize) -> Result<Plan, CliError> {
        let length = truth.cells.len();
        let usual = (length / 4).clamp(1, 60);
        let hold = self.hold.map(usize::from);
        let rolling = self.rolling.map(usize::from).or_else(|| hold.is_none().then_some(usual));
        let ahead = self.ahead.map_or_else(|| season.clamp(1, 12), usize::from);
        let back = hold.unwrap_or(0).max(rolling.unwrap_or(0));
        let Some(first) = length.checked_sub(back + 1).filter(|first| *first + 1 >= LEFT) else {
            return Err(CliError::data(format!(
                "{} of {} held back leave too few to estimate from",
                wording::count(back, "value"),
                length
            ))
            .advise(format!("hold back {} at most", length.saturating_sub(LEFT))));
        };
        Ok(Plan { hold, rolling, ahead, first })
    }

    /// Every model of every series, and the rules.
    fn rivals(
        &self,
        dataset: &Dataset,
        targets: &[Compared],
        regressors: &[Regressors],
        truth: &Actual,
        plan: &Plan,
    ) -> Result<Vec<Forecaster>, CliError> {
        let mut all = Vec::new();
        for compared in targets {
            for (asked, regressors) in self.model.iter().zip(regressors) {
                all.push(self.rival(dataset, compared, asked.model, regressors, truth, plan)?);
            }
        }
        all.extend(Benchmark::usual(truth.season).into_iter().map(Forecaster::Benchmark));
        Ok(all)
    }

    // A model, where it is fitted and where it is tried.
    #[allow(clippy::too_many_arguments)]
    fn rival(
        &self,
        dataset: &Dataset,
        compared: &Compared,
        asked: ModelOrAuto,
        regressors: &Regressors,
        truth: &Actual,
        plan: &Plan,
    ) -> Result<Forecaster, CliError> {
        let target = &compared.target;
        // A search sees no more than was known at the first origin.
        let early = target
            .known_until(truth.periods[plan.first])
            .map_err(|error| trial_refusal(target, "", TrialError::Transform(error)))?;
        let season = truth.season;
        let quiet = self.output.quiet;
        let made = estimated(dataset, &early.series, asked, regressors, season, quiet)?;
        let named = ModelOrAuto::Named(made.fit.model);
        let whole = estimated(dataset, &target.series, named, &made.regressors, season, true)?;
        Ok(Forecaster::Model(Box::new(Modelled {
            target: target.clone(),
            early,
            regressors: made.regressors,
            whole: whole.fit,
            first: made.fit.coefficients,
            plain: compared.plain.clone(),
        })))
    }
}

/// The values of the one column that all targets are of.
fn truth(targets: &[Compared]) -> Result<Actual, CliError> {
    let bare = |one: &Compared| expr::without_steps(&one.target.typed.text).to_owned();
    let first = targets.first().ok_or_else(|| CliError::call("which series? name one"))?;
    if let Some(other) = targets.iter().find(|one| bare(one) != bare(first)) {
        return Err(CliError::call(format!(
            "compare sets models of one series side by side, not of {} and {}",
            bare(first),
            bare(other)
        ))
        .advise("name one column, with different steps if you like: freight freight:ln"));
    }
    // The series that loses most to its steps has the fewest periods.
    let shortest = targets.iter().min_by_key(|one| one.target.series.cells.len()).unwrap_or(first);
    Ok(Actual::of(&shortest.target))
}

fn result(
    args: &Args,
    truth: &Actual,
    plan: &Plan,
    rivals: &[Forecaster],
    season: usize,
) -> Result<CompareResult, CliError> {
    let last = truth.cells.len() - 1;
    let scale = mean_change(&truth.cells[..=plan.first], season);
    let held = match plan.hold {
        None => None,
        Some(hold) => Some(tests(rivals, truth, &[last - hold], hold, Parameters::Reestimated, args, scale)?),
    };
    let rolling = match plan.rolling {
        None => None,
        Some(count) => {
            let origins: Vec<usize> = (last - count..last).collect();
            let parameters = if args.fixed { Parameters::Fixed } else { Parameters::Reestimated };
            Some(tests(rivals, truth, &origins, plan.ahead, parameters, args, scale)?)
        }
    };
    let described: Vec<Described> = rivals.iter().map(|rival| described(rival, truth, scale)).collect();
    Ok(text::result(&text::Made {
        periods: &truth.periods,
        known: truth.cells.iter().flatten().count(),
        units: units(rivals),
        described: &described,
        diagnoses: diagnosed(rivals, season),
        held: held.as_ref(),
        rolling: rolling.as_ref(),
        fixed: args.fixed,
        mend: args.mend,
    }))
}

/// The joint assessment of every series that a model is of.
fn diagnosed(rivals: &[Forecaster], season: usize) -> Vec<SeriesDiagnosis> {
    let mut all: Vec<SeriesDiagnosis> = Vec::new();
    for rival in rivals {
        if let Forecaster::Model(own) = rival {
            let series = own.target.typed.text.clone();
            if !all.iter().any(|known| known.series == series) {
                all.push(SeriesDiagnosis { series, diagnosis: diagnosis(&own.target.series, season) });
            }
        }
    }
    all
}

/// What is foretold.
fn units(rivals: &[Forecaster]) -> String {
    let of = |rival: &Forecaster| match rival {
        Forecaster::Model(own) => Some(expr::without_steps(&own.target.typed.text).to_owned()),
        Forecaster::Benchmark(_) => None,
    };
    rivals.iter().find_map(of).unwrap_or_default()
}

/// Every forecaster from every origin.
fn tests(
    rivals: &[Forecaster],
    truth: &Actual,
    origins: &[usize],
    ahead: usize,
    parameters: Parameters,
    args: &Args,
    scale: Option<f64>,
) -> Result<Tests, CliError> {
    let progress = Progress::new("forecasts", (rivals.len() * origins.len()) as u64, args.output.quiet);
    let jobs: Vec<(usize, usize)> =
        (0..rivals.len()).flat_map(|rival| origins.iter().map(move |origin| (rival, *origin))).collect();
    let paths: Vec<Path> = jobs
        .into_par_iter()
        .map(|(rival, origin)| {
            let path = rivals[rival].ahead(truth, origin, ahead, parameters);
            progress.step();
            path.map_err(|error| refused(&rivals[rival], error))
        })
        .collect::<Result<_, _>>()?;
    let trials = paths.chunks(origins.len()).map(|own| Trial::new(truth, origins, own));
    let tested: Vec<Tested> = trials
        .map(|trial| Tested {
            all: trial.accuracy(scale),
            by_horizon: (0..ahead).map(|h| trial.at(h, scale)).collect(),
            squares: trial.squares(),
        })
        .collect();
    Ok(Tests { origins: origins.len(), ahead, tested })
}

fn refused(rival: &Forecaster, error: TrialError) -> CliError {
    match rival {
        Forecaster::Model(own) => trial_refusal(&own.target, &own.whole.model.to_string(), error),
        Forecaster::Benchmark(rule) => CliError::computation(format!("{}: {error}", rule.name())),
    }
}

fn described(rival: &Forecaster, truth: &Actual, scale: Option<f64>) -> Described {
    match rival {
        Forecaster::Model(own) => {
            let fit = &own.whole;
            Described {
                series: own.target.typed.text.clone(),
                model: Some(fit.model),
                label: fit.model.to_string(),
                with: own.regressors.terms(),
                plain: own.plain.clone(),
                parameters: Some(fit.parameters),
                log_likelihood: Some(fit.log_likelihood),
                used: Some(fit.used),
                criteria: Some(fit.criteria()),
                white_noise_p: diagnose(fit, truth.season).ljung_box.map(|outcome| outcome.p_value),
                in_sample: own.in_sample(scale),
            }
        }
        Forecaster::Benchmark(rule) => Described {
            label: rule.name().to_owned(),
            in_sample: rule.in_sample(truth, scale),
            ..Described::default()
        },
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn outliers_are_replaced_once_and_first() {
        for (typed, plain, repaired) in [
            ("x", "x", "x:mend"),
            ("x:ln,d1", "x:ln,d1", "x:mend,ln,d1"),
            ("x:perday,mend", "x:perday", "x:perday,mend"),
            ("(a:ln - b):mend,d1", "(a:ln - b):d1", "(a:ln - b):mend,d1"),
            ("x:mend", "x", "x:mend"),
        ] {
            assert_eq!(without_and_with_repair(typed), [plain, repaired], "{typed}");
        }
    }
}
