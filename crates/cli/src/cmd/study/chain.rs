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
use crate::wording;

/// A part of the report.
pub struct Part {
    pub title: &'static str,
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
    why: "A single outlier can distort tests, model and forecast, so outliers are detected first.",
    command: Name::Outliers,
};

const AUTOCORRELATION: Single = Single {
    part: "autocorrelation",
    title: "Autocorrelation",
    why: "Decay indicates stationarity; significant lags indicate the dynamics and the seasonality.",
    command: Name::Acf,
};

const STATIONARITY: Single = Single {
    part: "stationarity",
    title: "Stationarity",
    why: "Order of differencing, or a break or a trend instead.",
    command: Name::Stationarity,
};

impl<'a, 'b> Chain<'a, 'b> {
    pub fn new(study: &'a Study, data: Call, season: usize, context: &'a mut Context<'b>) -> Self {
        Self { study, data, series: study.series.clone(), season, context, parts: Vec::new() }
    }

    /// Does all parts.
    pub fn run(&mut self, values: &[f64]) -> Result<(), CliError> {
        self.data()?;
        self.look()?;
        self.spread(values);
        if self.season > 1 {
            self.single(&SEASON, |call| call)?;
        }
        self.single(&ODD, |call| call)?;
        self.single(&AUTOCORRELATION, |call| call)?;
        let tests = self.study.tests.clone();
        self.single(&STATIONARITY, |call| call.with_some("tests", tests.as_ref()))?;
        self.model()
    }

    fn data(&mut self) -> Result<(), CliError> {
        if self.study.has("data") {
            let call = self.data.next(Name::Inspect, Vec::<String>::new());
            let step = self.step(call, None)?;
            self.part("Data", "Contents of the file and how it was read.", vec![step]);
        }
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
        self.part("Charts", "Level, seasonality, breaks and outliers are visible before any test.", steps);
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
            let step = self.step(call.with_some("with", terms.as_ref()), None)?;
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

    fn part(&mut self, title: &'static str, why: &str, steps: Vec<Step>) {
        self.parts.push(Part { title, why: why.to_owned(), steps });
    }

    /// A command on the series, at the study's level where it takes one.
    fn on_series(&self, command: Name) -> Call {
        let level = self.study.alpha.filter(|_| matches!(command, Name::Stationarity | Name::Fit));
        self.data.next(command, [&self.series]).with_some("alpha", level)
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
            step.figure = figure.map(str::to_owned).zip(drawing);
        }
        Ok(step)
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
