//! The calls of a study, one after the other, each from what those before it found.

use kandrel_core::shape::{AdvisedTransformation, TransformationAdvice, advised_transformation};
use serde_json::Value;

use super::file::Study;
use crate::call::{Call, Name};
use crate::cmd;
use crate::context::{Context, Kept};
use crate::document::{Block, ChosenModel, Document};
use crate::error::CliError;
use crate::figure::Drawing;
use crate::present::diagnosis::DiagnosisResult;
use crate::wording;

/// A part of the report.
pub struct Part {
    pub title: String,
    /// Why it is done.
    pub why: String,
    pub steps: Vec<Step>,
}

/// A call and its result.
pub struct Step {
    pub call: Call,
    pub documents: Vec<Document>,
    pub results: Vec<Value>,
    pub chosen: Option<ChosenModel>,
    pub notes: Vec<String>,
    /// Its name and what it draws.
    pub figure: Option<(String, Drawing)>,
    /// Why it could not be done.
    pub failure: Option<String>,
}

impl Step {
    /// The sentence that answers.
    pub fn answer(&self) -> Option<String> {
        let first = self.documents.first()?.blocks.first()?;
        match first {
            Block::Paragraph(text) => Some(text.clone()),
            _ => None,
        }
    }
}

/// A study under way.
pub struct Chain<'a, 'b> {
    study: &'a Study,
    /// A call on the data, which the others follow.
    data: Call,
    /// The series with the steps that even its variance.
    series: String,
    /// What titles and figures of one of several series begin with; empty for the only one.
    prefix: String,
    season: usize,
    context: &'a mut Context<'b>,
    pub parts: Vec<Part>,
}

/// A part of one call: its name in the study file and of its figure, its title, why it is done.
struct Single {
    part: &'static str,
    title: &'static str,
    why: &'static str,
    command: Name,
}

const SEASON: Single = Single {
    part: "decomposition",
    title: "Trend and seasonality",
    why: "Strength and stability of the seasonal component, and the irregular component.",
    command: Name::Decompose,
};

const ODD: Single = Single {
    part: "outliers",
    title: "Outliers",
    why: "A single outlier can distort tests, model and forecast: values, sizes, and the diagnosis without them.",
    command: Name::Outliers,
};

const AUTOCORRELATION: Single = Single {
    part: "autocorrelation",
    title: "Autocorrelation",
    why: "Decay indicates stationarity; significant lags indicate the dynamics and the seasonality.",
    command: Name::Acf,
};

const DIAGNOSIS: Single = Single {
    part: "stationarity",
    title: "Diagnosis",
    why: "Order of differencing, or a break or a trend instead; the rival models with their probabilities.",
    command: Name::Stationarity,
};

const ROBUSTNESS: Single = Single {
    part: "robustness",
    title: "Robustness of the diagnosis",
    why: "The verdict over sub-samples, and the tests with other terms, lags and bandwidths.",
    command: Name::Stationarity,
};

const POWER: Single = Single {
    part: "power",
    title: "Power of the tests",
    why: "What the tests can find in a series of this length and these dynamics.",
    command: Name::Power,
};

/// Letters of a series in the name of a file.
const LONGEST_NAME: usize = 40;

/// Series drawn at each root for the power of the tests.
const DRAWS: usize = 100;

impl<'a, 'b> Chain<'a, 'b> {
    pub fn new(study: &'a Study, data: Call, season: usize, context: &'a mut Context<'b>) -> Self {
        let (series, prefix) = (String::new(), String::new());
        Self { study, data, series, prefix, season, context, parts: Vec::new() }
    }

    /// What is done once for the file.
    pub fn file(&mut self) -> Result<(), CliError> {
        if self.study.has("data") {
            let call = self.data.next(Name::Inspect, Vec::<String>::new());
            let step = self.step(call, None)?;
            self.part("Data", "Contents of the file and how it was read.", vec![step]);
        }
        Ok(())
    }

    /// Does all parts of one series, and says which expression they are of.
    pub fn of_series(&mut self, series: &str, values: &[f64]) -> Result<String, CliError> {
        series.clone_into(&mut self.series);
        self.prefix = if self.study.series.len() > 1 { series.to_owned() } else { String::new() };
        self.spread(values);
        let tests = self.study.tests.clone();
        self.single(&DIAGNOSIS, |call| call.with_some("tests", tests.as_ref()))?;
        self.single(&ROBUSTNESS, |call| call.flag("robustness"))?;
        self.single(&POWER, |call| call.with("draws", DRAWS))?;
        if self.prefix.is_empty() {
            self.file()?;
        }
        self.look()?;
        if self.season > 1 {
            self.single(&SEASON, |call| call)?;
        }
        self.single(&ODD, |call| call)?;
        self.single(&AUTOCORRELATION, |call| call)?;
        self.model()?;
        Ok(self.series.clone())
    }

    /// Does the parts of several series together: as they are for lags and cointegration, differenced as their diagnoses
    /// say for correlations.
    pub fn together(&mut self, all: &[Member]) -> Result<(), CliError> {
        self.prefix = String::new();
        self.relations(all)?;
        self.lags(all)?;
        self.cointegration(all)
    }

    fn relations(&mut self, all: &[Member]) -> Result<(), CliError> {
        if self.study.has("relations") {
            let changes: Vec<String> = all.iter().map(|one| one.stationary(self.season)).collect();
            let step = self.step(self.data.next(Name::Relate, changes), Some("relations"))?;
            let why = "Correlations of the series, each differenced as its diagnosis says.";
            self.part("Relations", why, vec![step]);
        }
        Ok(())
    }

    fn lags(&mut self, all: &[Member]) -> Result<(), CliError> {
        if self.study.has("lags") {
            let levels = all.iter().map(|one| one.series.as_str());
            let step = self.step(self.data.next(Name::Lags, levels).flag("causality"), Some("lags"))?;
            let why = "Lags that a system of the series needs, and whose past helps to predict whom.";
            self.part("Lag order and Granger causality", why, vec![step]);
        }
        Ok(())
    }

    fn cointegration(&mut self, all: &[Member]) -> Result<(), CliError> {
        if !self.study.has("cointegration") {
            return Ok(());
        }
        let integrated: Vec<&str> =
            all.iter().filter(|one| one.has_unit_root()).map(|one| one.series.as_str()).collect();
        let (why, steps) = if integrated.len() < 2 {
            let why = "Fewer than two of the series have a unit root: there is nothing to be cointegrated.";
            (why, Vec::new())
        } else {
            let call = self.data.next(Name::Cointegration, integrated);
            (
                "Whether the series with a unit root have relations that last.",
                vec![self.step(call, Some("cointegration"))?],
            )
        };
        self.part("Cointegration", why, steps);
        Ok(())
    }

    fn look(&mut self) -> Result<(), CliError> {
        if !self.study.has("plot") {
            return Ok(());
        }
        let plain = self.on_series(Name::Plot);
        let mut steps = vec![self.step(plain.clone(), Some("look"))?];
        if self.season > 1 {
            steps.push(self.step(plain.flag("by-season"), Some("seasons"))?);
        }
        self.part("Charts", "Level, seasonality, breaks and outliers are visible without any test.", steps);
        Ok(())
    }

    /// Decides on the steps that even the variance.
    fn spread(&mut self, values: &[f64]) {
        let (steps, why) = match self.study.transform.as_str() {
            "none" => (None, "No transformation, as the study requests.".to_owned()),
            "auto" => advised(values, self.season),
            given => (Some(given.to_owned()), format!("Transformation {given}, as the study requests.")),
        };
        if let Some(steps) = &steps {
            self.series = wording::with_steps(&self.series, &steps.split(',').collect::<Vec<_>>());
        }
        if self.study.has("transformation") {
            let what = format!("{why} The following parts use {}.", self.series);
            self.part("Transformation", &what, Vec::new());
        }
    }

    /// Model, comparison and forecast, each with the model that was chosen.
    fn model(&mut self) -> Result<(), CliError> {
        let wanted = ["model", "evaluation", "forecast"].iter().any(|part| self.study.has(part));
        if !wanted {
            return Ok(());
        }
        let given = self.study.with.as_ref();
        let orders = self.step(self.on_series(Name::Orders).with_some("with", given), None)?;
        let Some(chosen) = orders.chosen.clone() else {
            if self.study.has("model") {
                self.model_part(vec![orders]);
            }
            return Ok(());
        };
        let terms = self.study.with.clone().or(chosen.terms);
        let (study, model) = (self.study, chosen.model);
        let of_model = |chain: &Self, name| chain.on_series(name).with("model", &model);
        if study.has("model") {
            let fit = of_model(self, Name::Fit).with_some("with", terms.as_ref());
            let fit = self.step(fit, Some("residuals"))?;
            self.model_part(vec![orders, fit]);
        }
        if study.has("evaluation") {
            let others = study.models.iter().filter(|other| **other != model);
            let call = others.fold(of_model(self, Name::Compare), |call, other| call.with("model", other));
            let step = self.step(call.with_some("with", terms.as_ref()), Some("evaluation"))?;
            self.part(
                "Evaluation",
                "Out-of-sample errors from rolling origins, compared with benchmark forecasts.",
                vec![step],
            );
        }
        if study.has("forecast") {
            let call = of_model(self, Name::Forecast).with_some("with", terms.as_ref());
            let step = self.step(call.with_some("ahead", study.horizon), Some("forecast"))?;
            self.part(
                "Forecast",
                "Point forecasts on the original scale with 68 and 95 % prediction intervals.",
                vec![step],
            );
        }
        Ok(())
    }

    fn model_part(&mut self, steps: Vec<Step>) {
        self.part(
            "Model",
            "All models of a grid by exact maximum likelihood; the chosen one with residual tests.",
            steps,
        );
    }

    /// A part of one call on the series.
    fn single(&mut self, one: &Single, shape: impl FnOnce(Call) -> Call) -> Result<(), CliError> {
        if self.study.has(one.part) {
            let step = self.step(shape(self.on_series(one.command)), Some(one.part))?;
            self.part(one.title, one.why, vec![step]);
        }
        Ok(())
    }

    fn part(&mut self, title: &str, why: &str, steps: Vec<Step>) {
        let title =
            if self.prefix.is_empty() { title.to_owned() } else { format!("{}: {title}", self.prefix) };
        self.parts.push(Part { title, why: why.to_owned(), steps });
    }

    /// A command on the series, at the study's level where it takes one.
    fn on_series(&self, command: Name) -> Call {
        let level =
            self.study.alpha.filter(|_| matches!(command, Name::Stationarity | Name::Power | Name::Fit));
        self.data.next(command, [&self.series]).with_some("alpha", level)
    }

    /// The name of a figure's file: of one of several series with its place and its name.
    fn figure_name(&self, name: &str) -> String {
        if self.prefix.is_empty() {
            return name.to_owned();
        }
        let place = self.study.series.iter().position(|one| *one == self.prefix).map_or(0, |place| place + 1);
        let plain = |letter: char| if letter.is_ascii_alphanumeric() { letter } else { '-' };
        let plain: String = self.prefix.chars().take(LONGEST_NAME).map(plain).collect();
        format!("{place}-{plain}-{name}")
    }

    /// Makes a call and keeps what it finds. What a command refuses is a failure of its part, not
    /// of the study; a call that cannot be read is one of the study.
    fn step(&mut self, call: Call, figure: Option<&str>) -> Result<Step, CliError> {
        let parsed = cmd::typed(&call.clone().flag("quiet").words()).map_err(|error| {
            let reason = error.to_string();
            let reason = reason.lines().next().unwrap_or_default().trim_start_matches("error: ").to_owned();
            CliError::call(format!("the study contains an invalid command: {reason}"))
                .advise(call.to_string())
        })?;
        let (done, kept) = self.context.keeping(figure.is_some(), |context| parsed.run(context));
        let mut step = Step {
            call,
            documents: Vec::new(),
            results: Vec::new(),
            chosen: None,
            notes: Vec::new(),
            figure: None,
            failure: done.err().map(|error| error.in_one_line()),
        };
        for Kept { report, notes, figure: drawing } in kept {
            step.documents.extend(report.documents.into_iter().map(without_commands));
            step.results.extend(report.results);
            step.chosen = step.chosen.or(report.chosen);
            step.notes.extend(notes);
            step.figure = figure.map(|name| self.figure_name(name)).zip(drawing);
        }
        Ok(step)
    }
}

/// One of several series: its expression and what its diagnosis found.
pub struct Member {
    pub series: String,
    pub diagnosis: Option<DiagnosisResult>,
}

impl Member {
    fn has_unit_root(&self) -> bool {
        self.diagnosis.as_ref().is_some_and(|own| own.integration > 0)
    }

    /// The expression with the differences that its diagnosis calls for.
    fn stationary(&self, season: usize) -> String {
        let steps = self.diagnosis.as_ref().map(|own| own.steps(season)).unwrap_or_default();
        wording::with_steps(&self.series, &steps.iter().map(String::as_str).collect::<Vec<_>>())
    }
}

/// The report goes on by itself: what could be run next is left out.
fn without_commands(mut document: Document) -> Document {
    document.blocks.retain(|block| !matches!(block, Block::Commands { .. }));
    document
}

/// The steps that even the variance, and why.
fn advised(values: &[f64], season: usize) -> (Option<String>, String) {
    let AdvisedTransformation { transformation, spread } = advised_transformation(values, season);
    let Some(found) = spread else {
        return (
            None,
            "The series is too short to test whether its variance depends on the level.".to_owned(),
        );
    };
    let p = wording::p_equals(found.p_value);
    let figures = format!("elasticity {:.2}, {p}", found.exponent);
    let why = match found.advice {
        TransformationAdvice::Logarithm => {
            format!("The standard deviation is proportional to the level ({figures}): logarithms.")
        }
        TransformationAdvice::BoxCox => {
            format!("The variance increases with the level ({figures}): Box-Cox transformation.")
        }
        TransformationAdvice::IncreasingNonpositive => format!(
            "The variance increases with the level ({figures}), but non-positive values have no logarithm."
        ),
        TransformationAdvice::Falls => {
            format!("The variance decreases with the level ({figures}): no transformation.")
        }
        TransformationAdvice::None | TransformationAdvice::LevelConstant => {
            "The variance does not depend on the level: no transformation.".to_owned()
        }
    };
    (transformation.step(), why)
}
