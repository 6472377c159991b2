//! `kandrel compare`: forecasts of candidate models, of their average and of benchmarks, evaluated on the same periods.

use std::path::PathBuf;
use std::sync::Arc;

use crate::args::{DataArgs, FigureArgs, OutputArgs, WithArgs};
use crate::cmd::deliver;
use crate::context::Context;
use crate::document::Report;
use crate::error::CliError;
use crate::figure;
use crate::model::{Estimated, ModelOrAuto, diagnosis, estimated, model_or_auto, trial_refusal};
use crate::output::Files;
use crate::present::compare::{
    self as text, CandidateKind, CompareResult, Described, RollingForecasts, Tested, Tests, WeightedCandidate,
};
use crate::present::diagnosis::SeriesDiagnosis;
use crate::progress::Progress;
use crate::read::Dataset;
use crate::render;
use crate::session::Session;
use crate::wording;
use kandrel_core::arima::{Model, diagnose};
use kandrel_core::evaluate::{
    Actual, Benchmark, Forecaster, Modelled, Parameters, Path, Trial, TrialError, inverse_squares,
};
use kandrel_core::expr;
use kandrel_core::identify::{reference_model, rolling_error_of};
use kandrel_core::predictive::{Map, mean_change};
use kandrel_core::regressor::Regressors;
use kandrel_core::transform::Transformed;
use rayon::prelude::*;

pub const ABOUT: &str =
    "Candidate models compared: information criteria, errors in a hold-out sample and from rolling origins";
pub const EXAMPLES: &str = "Examples:\n  kandrel compare demo:harbour waiting --model '(2,0,0)' --model '(1,0,0)'\n  \
    kandrel compare demo:harbour freight freight:ln --rolling 36 --ahead 12\n  \
    kandrel compare demo:harbour ice --repaired --hold 24";

#[derive(clap::Args)]
pub struct Args {
    #[command(flatten)]
    data: DataArgs,
    /// One column, as it is or with steps; several transformations of it are compared
    series: Vec<String>,
    /// A model, or auto for the best of a search, with regressors of its own if need be: '(1,0,0) with seasons'
    /// (repeatable)
    #[arg(long, value_name = "M|auto", default_value = "auto", value_parser = asked, help_heading = "Method")]
    model: Vec<Asked>,
    /// Keep the last N observations as a hold-out sample and forecast them from one origin
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..), help_heading = "Method")]
    hold: Option<u16>,
    /// Forecast from each of the last N origins (default: a quarter of the series, 60 at most)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..), help_heading = "Method")]
    rolling: Option<u16>,
    /// Periods ahead from each rolling origin (default: one seasonal cycle, 12 at most; 1 without a season)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=2000), help_heading = "Method")]
    ahead: Option<u16>,
    /// Keep the parameters of the first rolling origin
    #[arg(long, help_heading = "Method")]
    fixed: bool,
    /// Each model also with outliers replaced
    #[arg(long, help_heading = "Method")]
    repaired: bool,
    #[command(flatten)]
    with: WithArgs,
    /// Write the forecasts from every rolling origin into a CSV file
    #[arg(long, value_name = "PATH", conflicts_with = "hold", help_heading = "Output")]
    save: Option<PathBuf>,
    #[command(flatten)]
    figure: FigureArgs,
    #[command(flatten)]
    output: OutputArgs,
}

/// A model that is asked for, with regressors of its own where they are written next to it.
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
    let request = args.figure.request(args.output.force, context)?;
    let mut session = Session::open(&args.data, context.stdin)?;
    let season = session.season();
    let targets = args.targets(&mut session)?;
    let common = args.with.terms.as_deref();
    let regressors: Vec<Regressors> = args
        .model
        .iter()
        .map(|asked| session.regressors(asked.terms.as_deref().or(common)))
        .collect::<Result<_, _>>()?;
    let actual = actual_values(&targets)?;
    let plan = args.plan(&actual, season)?;
    let candidates = args.candidates(&session.dataset, &targets, &regressors, &actual, &plan)?;
    let (result, forecasts) = result(args, &actual, &plan, &candidates, season)?;
    let mut files = Files::default();
    request.draw(&mut files, || {
        let shown = forecasts.as_ref().ok_or_else(|| {
            CliError::call("--figure draws the forecasts from rolling origins")
                .advise("leave --hold out, or add --rolling N")
        })?;
        let plot = text::plot(&result, shown, session.dataset.file_name());
        Ok(figure::plot::drawing(&plot, &args.figure.sheet()))
    })?;
    if let (Some(path), Some(shown)) = (&args.save, &forecasts) {
        files.add(path, render::csv(&[text::forecasts(&result, shown)]).into_bytes());
    }
    let report = Report::of("compare", [&result], vec![text::document(&result, &context.call)])?;
    deliver(&report, &session.dataset, season, &args.output, files, context)
}

/// The hold-out sample and the rolling origins.
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
    scale: Scale,
}

/// How the scale of a series is related to the original one.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Scale {
    Original,
    /// The inverse of the transformation that the diagnosis advises.
    Advised(Map),
    /// That of steps that were typed.
    Typed,
}

impl Scale {
    fn of(target: &Transformed) -> Self {
        if expr::steps_of(&target.typed.text).is_none() { Self::Original } else { Self::Typed }
    }

    fn original(self, value: f64) -> f64 {
        match self {
            Self::Advised(map) => map.at(value),
            Self::Original | Self::Typed => value,
        }
    }
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
const REPAIR: &str = "repair";

/// Values that a model keeps to be estimated from.
const LEFT: usize = 16;

impl Args {
    /// The series; a bare column whose model is searched for also on the scale that its diagnosis advises; if that is
    /// asked for, each without and with its outliers replaced.
    fn targets(&self, session: &mut Session<'_>) -> Result<Vec<Compared>, CliError> {
        let typed = session.transformed(&self.series)?;
        if !self.repaired {
            let is_searched = self.model.iter().all(|asked| matches!(asked.model, ModelOrAuto::Auto));
            let advised = match typed.as_slice() {
                [only] if is_searched => session.on_advised_scale(only)?,
                _ => None,
            };
            let of = |target: Transformed, scale| Compared { target, plain: None, scale };
            let advised = advised.and_then(|(own, advice)| Some(of(own, Scale::Advised(advice.inverse()?))));
            let own = typed.into_iter().map(|target| {
                let scale = Scale::of(&target);
                of(target, scale)
            });
            return Ok(own.chain(advised).collect());
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
        let of = |(target, plain): (Transformed, Option<String>)| Compared {
            scale: Scale::of(&target),
            target,
            plain,
        };
        Ok(all.into_iter().zip(origins).map(of).collect())
    }

    fn plan(&self, actual: &Actual, season: usize) -> Result<Plan, CliError> {
        let length = actual.cells.len();
        let usual = (length / 4).clamp(1, 60);
        let hold = self.hold.map(usize::from);
        let rolling = self.rolling.map(usize::from).or_else(|| hold.is_none().then_some(usual));
        let ahead = self.ahead.map_or_else(|| season.clamp(1, 12), usize::from);
        let back = hold.unwrap_or(0).max(rolling.unwrap_or(0));
        let Some(first) = length.checked_sub(back + 1).filter(|first| *first + 1 >= LEFT) else {
            return Err(CliError::data(format!(
                "a hold-out sample of {} of {} leaves too few to estimate from",
                wording::count(back, "value"),
                length
            ))
            .advise(format!("hold out {} at most", length.saturating_sub(LEFT))));
        };
        Ok(Plan { hold, rolling, ahead, first })
    }

    /// Every model of every series, their average, and the benchmarks.
    fn candidates(
        &self,
        dataset: &Dataset,
        targets: &[Compared],
        regressors: &[Regressors],
        actual: &Actual,
        plan: &Plan,
    ) -> Result<Vec<Forecaster>, CliError> {
        let mut members = Vec::new();
        for compared in targets {
            let origin = self.at_first_origin(dataset, compared, actual, plan)?;
            for (asked, regressors) in self.model.iter().zip(regressors) {
                let made = origin.estimated(asked.model, regressors)?;
                members.push(Member { own: Arc::new(origin.modelled(&made)?), made, origin: origin.clone() });
            }
        }
        let mut all: Vec<Forecaster> =
            members.iter().map(|one| Forecaster::Model(Arc::clone(&one.own))).collect();
        let only = members.len() == 1;
        let further = members.last().map_or_else(Vec::new, |chosen| further_members(chosen, only));
        members.extend(further);
        if members.len() > 1 {
            let weights = weights(&members);
            all.push(Forecaster::Average(
                weights.into_iter().zip(members.into_iter().map(|one| one.own)).collect(),
            ));
        }
        all.extend(Benchmark::usual(actual.season).into_iter().map(Forecaster::Benchmark));
        Ok(all)
    }

    /// A series as it was known at the first origin: a search uses no more.
    fn at_first_origin<'a>(
        &self,
        dataset: &'a Dataset,
        compared: &'a Compared,
        actual: &Actual,
        plan: &Plan,
    ) -> Result<AtFirstOrigin<'a>, CliError> {
        let early = compared
            .target
            .known_until(actual.periods[plan.first])
            .map_err(|error| trial_refusal(&compared.target, "", TrialError::Transform(error)))?;
        Ok(AtFirstOrigin { dataset, compared, early, season: actual.season, quiet: self.output.quiet })
    }
}

/// A series and what of it was known at the first origin.
#[derive(Clone)]
struct AtFirstOrigin<'a> {
    dataset: &'a Dataset,
    compared: &'a Compared,
    early: Transformed,
    season: usize,
    quiet: bool,
}

impl AtFirstOrigin<'_> {
    fn estimated(&self, model: ModelOrAuto, regressors: &Regressors) -> Result<Estimated, CliError> {
        estimated(self.dataset, &self.early.series, model, regressors, self.season, self.quiet)
    }

    /// A model with its estimates at the first origin and over the whole sample.
    fn modelled(&self, made: &Estimated) -> Result<Modelled, CliError> {
        let target = &self.compared.target;
        let named = ModelOrAuto::Named(made.fit.model.into());
        let whole = estimated(self.dataset, &target.series, named, &made.regressors, self.season, true)?;
        Ok(Modelled {
            target: target.clone(),
            early: self.early.clone(),
            regressors: made.regressors.clone(),
            whole: whole.fit,
            first: made.fit.coefficients.clone(),
            plain: self.compared.plain.clone(),
        })
    }
}

/// A model with its estimates at the first origin.
struct Member<'a> {
    own: Arc<Modelled>,
    made: Estimated,
    origin: AtFirstOrigin<'a>,
}

impl Member<'_> {
    /// Its error from rolling origins before the first one.
    fn error(&self) -> Option<f64> {
        let (fit, scale) = (&self.made.fit, self.origin.compared.scale);
        let original = |value| scale.original(value);
        rolling_error_of(&self.made.data, fit.model, &fit.coefficients, self.origin.season, original)
    }
}

/// Weights of the average, from what was known at the first origin: those of `forecast --average` where the errors are
/// on one scale, equal ones otherwise.
fn weights(members: &[Member<'_>]) -> Vec<f64> {
    let text = |one: &Member<'_>| one.own.target.typed.text.clone();
    let first = members.first().map(text);
    let comparable = members.iter().all(|one| Some(text(one)) == first)
        || members.iter().all(|one| one.origin.compared.scale != Scale::Typed);
    inverse_squares(members.iter().map(|one| one.error().filter(|_| comparable)))
}

/// What searched models are averaged with: the strongest rival of an `only` model, and the reference model where it is
/// another. A model that cannot be estimated is left out.
fn further_members<'a>(chosen: &Member<'a>, only: bool) -> Vec<Member<'a>> {
    let Some(found) = chosen.made.found() else {
        return Vec::new();
    };
    let of = |model: Model, regressors: &Regressors| {
        let origin = chosen.origin.clone();
        let made = origin.estimated(ModelOrAuto::Named(model.into()), regressors).ok()?;
        Some(Member { own: Arc::new(origin.modelled(&made).ok()?), made, origin })
    };
    let rival = found.rivals.get(1).filter(|_| only);
    let model = reference_model(chosen.origin.season);
    let is_another = model != chosen.own.whole.model || !chosen.own.regressors.is_empty();
    let reference = is_another.then(|| of(model, &Regressors::default())).flatten();
    let rival = rival.and_then(|rival| of(rival.model.model, &rival.regressors));
    rival.into_iter().chain(reference).collect()
}

/// The values of the one column that all targets are of.
fn actual_values(targets: &[Compared]) -> Result<Actual, CliError> {
    let bare = |one: &Compared| expr::without_steps(&one.target.typed.text).to_owned();
    let first = targets.first().ok_or_else(|| CliError::call("which series? name one"))?;
    if let Some(other) = targets.iter().find(|one| bare(one) != bare(first)) {
        return Err(CliError::call(format!(
            "compare evaluates models of one series, not of {} and {}",
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
    actual: &Actual,
    plan: &Plan,
    candidates: &[Forecaster],
    season: usize,
) -> Result<(CompareResult, Option<RollingForecasts>), CliError> {
    let last = actual.cells.len() - 1;
    let scale = mean_change(&actual.cells[..=plan.first], season);
    let held = match plan.hold {
        None => None,
        Some(hold) => {
            let origins = [last - hold];
            let paths = paths(candidates, actual, &origins, hold, Parameters::Reestimated, args)?;
            Some(tests(&paths, actual, &origins, hold, scale))
        }
    };
    let rolling = match plan.rolling {
        None => None,
        Some(count) => {
            let origins: Vec<usize> = (last - count..last).collect();
            let parameters = if args.fixed { Parameters::Fixed } else { Parameters::Reestimated };
            let paths = paths(candidates, actual, &origins, plan.ahead, parameters, args)?;
            Some((tests(&paths, actual, &origins, plan.ahead, scale), origins, paths))
        }
    };
    let described: Vec<Described> = candidates.iter().map(|one| described(one, actual, scale)).collect();
    let result = text::result(&text::Made {
        periods: &actual.periods,
        known: actual.cells.iter().flatten().count(),
        units: units(candidates),
        described: &described,
        diagnoses: diagnosed(candidates, season),
        held: held.as_ref(),
        rolling: rolling.as_ref().map(|(tests, ..)| tests),
        fixed: args.fixed,
        repaired: args.repaired,
    });
    let forecasts = rolling.map(|(_, origins, paths)| RollingForecasts {
        periods: actual.periods.clone(),
        actual: actual.cells.clone(),
        origins,
        paths,
    });
    Ok((result, forecasts))
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

/// The forecast column.
fn units(rivals: &[Forecaster]) -> String {
    let of = |rival: &Forecaster| match rival {
        Forecaster::Model(own) => Some(expr::without_steps(&own.target.typed.text).to_owned()),
        Forecaster::Average(_) | Forecaster::Benchmark(_) => None,
    };
    rivals.iter().find_map(of).unwrap_or_default()
}

/// The forecasts of every candidate from every origin.
fn paths(
    candidates: &[Forecaster],
    actual: &Actual,
    origins: &[usize],
    ahead: usize,
    parameters: Parameters,
    args: &Args,
) -> Result<Vec<Vec<Path>>, CliError> {
    let progress = Progress::new("forecasts", (candidates.len() * origins.len()) as u64, args.output.quiet);
    let jobs: Vec<(usize, usize)> = (0..candidates.len())
        .flat_map(|candidate| origins.iter().map(move |origin| (candidate, *origin)))
        .collect();
    let paths: Vec<Path> = jobs
        .into_par_iter()
        .map(|(candidate, origin)| {
            let path = candidates[candidate].ahead(actual, origin, ahead, parameters);
            progress.step();
            path.map_err(|error| refused(&candidates[candidate], error))
        })
        .collect::<Result<_, _>>()?;
    Ok(paths.chunks(origins.len()).map(<[Path]>::to_vec).collect())
}

/// The errors of every candidate.
fn tests(paths: &[Vec<Path>], actual: &Actual, origins: &[usize], ahead: usize, scale: Option<f64>) -> Tests {
    let tested = |own: &Vec<Path>| {
        let trial = Trial::new(actual, origins, own);
        Tested {
            all: trial.accuracy(scale),
            by_horizon: (0..ahead).map(|h| trial.at(h, scale)).collect(),
            squares: trial.squares(),
        }
    };
    Tests { origins: origins.len(), ahead, tested: paths.iter().map(tested).collect() }
}

fn refused(candidate: &Forecaster, error: TrialError) -> CliError {
    let of = |own: &Modelled, error| trial_refusal(&own.target, &own.whole.model.to_string(), error);
    match candidate {
        Forecaster::Model(own) => of(own, error),
        Forecaster::Average(all) => match all.first() {
            Some((_, own)) => of(own, error),
            None => CliError::computation(error.to_string()),
        },
        Forecaster::Benchmark(rule) => CliError::computation(format!("{}: {error}", rule.name())),
    }
}

fn described(candidate: &Forecaster, actual: &Actual, scale: Option<f64>) -> Described {
    match candidate {
        Forecaster::Model(own) => {
            let fit = &own.whole;
            Described {
                kind: CandidateKind::Model,
                series: own.target.typed.text.clone(),
                model: Some(fit.model),
                label: fit.model.to_string(),
                with: own.regressors.terms(),
                plain: own.plain.clone(),
                parameters: Some(fit.parameters),
                log_likelihood: Some(fit.log_likelihood),
                used: Some(fit.used),
                criteria: Some(fit.criteria()),
                white_noise_p: diagnose(fit, actual.season).ljung_box.map(|outcome| outcome.p_value),
                in_sample: own.in_sample(scale),
                members: Vec::new(),
            }
        }
        Forecaster::Average(all) => Described {
            kind: CandidateKind::Average,
            label: "average".to_owned(),
            members: all
                .iter()
                .map(|(weight, own)| WeightedCandidate { model: name(own), weight: *weight })
                .collect(),
            ..Described::default()
        },
        Forecaster::Benchmark(rule) => Described {
            label: rule.name().to_owned(),
            in_sample: rule.in_sample(actual, scale),
            ..Described::default()
        },
    }
}

/// A model with its series and its regressors.
fn name(own: &Modelled) -> String {
    let terms = own.regressors.terms();
    let with = if terms.is_empty() { String::new() } else { format!(" with {}", terms.join(",")) };
    format!("{} {}{with}", own.target.typed.text, own.whole.model)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn outliers_are_replaced_once_and_first() {
        for (typed, plain, repaired) in [
            ("x", "x", "x:repair"),
            ("x:ln,d1", "x:ln,d1", "x:repair,ln,d1"),
            ("x:perday,repair", "x:perday", "x:perday,repair"),
            ("(a:ln - b):repair,d1", "(a:ln - b):d1", "(a:ln - b):repair,d1"),
            ("x:repair", "x", "x:repair"),
        ] {
            assert_eq!(without_and_with_repair(typed), [plain, repaired], "{typed}");
        }
    }
}
