//! The calls of a study, one after the other, each from what those before it found.

use std::path::Path;

use kandrel_core::shape::{AdvisedTransformation, SpreadAdvice, advised_transformation};
use serde_json::Value;

use super::file::Study;
use crate::call::shell_word;
use crate::cmd;
use crate::context::{Context, Kept};
use crate::document::{Block, Document};
use crate::error::CliError;
use crate::wording;

/// A part of the report.
pub struct Part {
    pub title: &'static str,
    /// Why it is done.
    pub why: String,
    pub steps: Vec<Step>,
}

/// A call and what came of it.
pub struct Step {
    /// As typed.
    pub call: String,
    pub documents: Vec<Document>,
    pub results: Vec<Value>,
    pub notes: Vec<String>,
    /// Name and SVG.
    pub figure: Option<(String, String)>,
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
    /// The data file, as the calls name it.
    file: String,
    /// The series with the steps that even its spread.
    series: String,
    season: usize,
    context: &'a mut Context<'b>,
    /// Folder for figures on their way into the report.
    folder: &'a Path,
    pub parts: Vec<Part>,
}

impl<'a, 'b> Chain<'a, 'b> {
    pub fn new(
        study: &'a Study,
        file: String,
        season: usize,
        context: &'a mut Context<'b>,
        folder: &'a Path,
    ) -> Self {
        let series = study.series.clone();
        Self { study, file, series, season, context, folder, parts: Vec::new() }
    }

    /// Does all parts.
    pub fn run(&mut self, values: &[f64]) -> Result<(), CliError> {
        self.data()?;
        self.look()?;
        self.spread(values);
        self.season()?;
        self.one(
            "odd",
            "Odd values",
            "One odd value can spoil tests, model and forecast: they are looked for before.",
            &["outliers"],
            &[],
            Some("odd"),
        )?;
        self.one(
            "autocorrelation",
            "Autocorrelation",
            "Whether it dies out says whether the series is stationary; its spikes say what rhythm there is.",
            &["acf"],
            &[],
            Some("autocorrelation"),
        )?;
        let tests =
            self.study.tests.clone().map(|tests| vec!["--tests".to_owned(), tests]).unwrap_or_default();
        self.one(
            "stationarity",
            "Stationarity",
            "How often the series has to be differenced, and whether a break or a trend explains it instead.",
            &["stationarity"],
            &tests,
            Some("stationarity"),
        )?;
        self.model()
    }

    fn data(&mut self) -> Result<(), CliError> {
        if !self.study.has("data") {
            return Ok(());
        }
        let words = self.words(&["inspect"], None, &[]);
        let step = self.call(&words, None)?;
        self.part("Data", "What is in the file, and how it was read.", vec![step]);
        Ok(())
    }

    fn look(&mut self) -> Result<(), CliError> {
        if !self.study.has("look") {
            return Ok(());
        }
        let series = self.series.clone();
        let plain = self.words(&["plot"], Some(&series), &[]);
        let mut steps = vec![self.call(&plain, Some("look"))?];
        if self.season > 1 {
            let seasons = self.words(&["plot"], Some(&series), &["--by-season".to_owned()]);
            steps.push(self.call(&seasons, Some("seasons"))?);
        }
        self.part("A first look", "Level, swing, breaks and odd values show before any test.", steps);
        Ok(())
    }

    /// Decides on the steps that even the spread.
    fn spread(&mut self, values: &[f64]) {
        let (steps, why) = match self.study.transform.as_str() {
            "none" => (None, "The study asks for no transformation.".to_owned()),
            "auto" => advised(values, self.season),
            given => (Some(given.to_owned()), format!("The study asks for {given}.")),
        };
        if let Some(steps) = &steps {
            self.series = wording::with_steps(&self.series, &steps.split(',').collect::<Vec<_>>());
        }
        if self.study.has("spread") {
            let what = format!("{why} From here on the series is {}.", self.series);
            self.part("Transformation", &what, Vec::new());
        }
    }

    fn season(&mut self) -> Result<(), CliError> {
        if self.season < 2 {
            return Ok(());
        }
        self.one(
            "season",
            "Trend and season",
            "How strong the season is, whether its shape stays, and what is left.",
            &["decompose"],
            &[],
            Some("season"),
        )
    }

    /// Model, comparison and forecast, each with the model that was chosen.
    fn model(&mut self) -> Result<(), CliError> {
        let given = self.study.with.clone();
        let with = |terms: &Option<String>| {
            terms.clone().map(|terms| vec!["--with".to_owned(), terms]).unwrap_or_default()
        };
        let wanted = ["model", "comparison", "forecast"].iter().any(|part| self.study.has(part));
        if !wanted {
            return Ok(());
        }
        let series = self.series.clone();
        let orders = self.words(&["orders"], Some(&series), &with(&given));
        let orders = self.call(&orders, None)?;
        let result = orders.results.first().cloned().unwrap_or_default();
        let chosen = result["chosen"].as_str().map(str::to_owned);
        let beside: Vec<&str> =
            result["with"].as_array().into_iter().flatten().filter_map(Value::as_str).collect();
        let terms = given.or_else(|| terms_of(&beside));
        let with = with(&terms);
        let mut steps = vec![orders];
        if let Some(model) = &chosen {
            let more = [vec!["--model".to_owned(), model.clone()], with.clone()].concat();
            let fit = self.words(&["fit"], Some(&series), &more);
            steps.push(self.call(&fit, Some("residuals"))?);
        }
        if self.study.has("model") {
            self.part(
                "Model",
                "Every model of a grid by exact likelihood; then the one that is chosen, with the tests of its residuals.",
                steps,
            );
        }
        let Some(model) = chosen else {
            return Ok(());
        };
        if self.study.has("comparison") {
            let mut more = vec!["--model".to_owned(), model.clone()];
            for other in self.study.models.iter().filter(|other| **other != model) {
                more.extend(["--model".to_owned(), other.clone()]);
            }
            more.extend(with.clone());
            let compare = self.words(&["compare"], Some(&series), &more);
            let step = self.call(&compare, None)?;
            self.part(
                "Comparison",
                "A model has to beat simple rules on values it has not seen, period by period, before its forecasts mean much.",
                vec![step],
            );
        }
        if self.study.has("forecast") {
            let mut more = vec!["--model".to_owned(), model];
            more.extend(with);
            if let Some(horizon) = self.study.horizon {
                more.extend(["--ahead".to_owned(), horizon.to_string()]);
            }
            let forecast = self.words(&["forecast"], Some(&series), &more);
            let step = self.call(&forecast, Some("forecast"))?;
            self.part(
                "Forecast",
                "What comes next, in the column's own units, with 80 and 95 % intervals.",
                vec![step],
            );
        }
        Ok(())
    }

    /// A part of one call.
    fn one(
        &mut self,
        name: &str,
        title: &'static str,
        why: &str,
        command: &[&str],
        more: &[String],
        figure: Option<&str>,
    ) -> Result<(), CliError> {
        if !self.study.has(name) {
            return Ok(());
        }
        let series = self.series.clone();
        let words = self.words(command, Some(&series), more);
        let step = self.call(&words, figure)?;
        self.part(title, why, vec![step]);
        Ok(())
    }

    fn part(&mut self, title: &'static str, why: &str, steps: Vec<Step>) {
        self.parts.push(Part { title, why: why.to_owned(), steps });
    }

    /// The words of a call.
    fn words(&self, command: &[&str], series: Option<&str>, more: &[String]) -> Vec<String> {
        let mut words: Vec<String> = command.iter().map(|word| (*word).to_owned()).collect();
        words.push(self.file.clone());
        words.extend(series.map(str::to_owned));
        words.extend_from_slice(more);
        let takes_level = matches!(command, ["stationarity" | "fit"]);
        if let (Some(alpha), true) = (self.study.alpha, takes_level) {
            words.extend(["--alpha".to_owned(), alpha.to_string()]);
        }
        words.extend(self.study.data_options());
        words
    }

    /// Makes a call and keeps what it finds. What a command refuses is a failure of its part, not
    /// of the study; a call that cannot be read is one of the study.
    fn call(&mut self, words: &[String], figure: Option<&str>) -> Result<Step, CliError> {
        let call = words.iter().map(|word| shell_word(word)).collect::<Vec<_>>().join(" ");
        let call = format!("kandrel {call}");
        let mut all = words.to_vec();
        let path = figure.map(|name| self.folder.join(format!("{name}.svg")));
        if let Some(path) = &path {
            all.extend(["--figure".to_owned(), path.to_string_lossy().into_owned(), "--force".to_owned()]);
        }
        all.push("--quiet".to_owned());
        let command = cmd::typed(&all).map_err(|error| {
            let reason = error.to_string();
            let reason = reason.lines().next().unwrap_or_default().trim_start_matches("error: ").to_owned();
            CliError::call(format!("the study makes a wrong call: {reason}")).advise(call.clone())
        })?;
        let (done, kept) = self.context.keeping(|context| command.run(context));
        let mut step = Step {
            call,
            documents: Vec::new(),
            results: Vec::new(),
            notes: Vec::new(),
            figure: None,
            failure: done.err().map(|error| error.in_one_line()),
        };
        for Kept { documents, results, notes } in kept {
            step.documents.extend(documents.into_iter().map(without_commands));
            step.results.extend(results);
            step.notes.extend(notes);
        }
        if let (Some(name), Some(path)) = (figure, path)
            && let Ok(svg) = std::fs::read_to_string(&path)
        {
            step.figure = Some((name.to_owned(), svg));
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
        return (None, "The series is too short to say whether its spread goes with its level.".to_owned());
    };
    let p = wording::p_equals(found.p_value);
    let figures = format!("spread goes with level to the power {:.2}, {p}", found.exponent);
    let why = match found.advice {
        SpreadAdvice::Logarithm => {
            format!("The swing grows in proportion to the level ({figures}): take logarithms.")
        }
        SpreadAdvice::BoxCox => {
            format!("The swing grows with the level, not in proportion ({figures}): take Box-Cox.")
        }
        SpreadAdvice::GrowsButNotPositive => format!(
            "The swing grows with the level ({figures}), but values that are not positive have no logarithm."
        ),
        SpreadAdvice::Falls => format!("The swing falls as the level rises ({figures}): no transformation."),
        SpreadAdvice::None | SpreadAdvice::LevelSteady => {
            "Nothing says that the swing goes with the level: no transformation.".to_owned()
        }
    };
    (transformation.step(), why)
}

/// Names of regressors as the terms that give them.
fn terms_of(names: &[&str]) -> Option<String> {
    let mut terms: Vec<&str> = names.iter().filter(|name| !name.starts_with("season_")).copied().collect();
    if names.iter().any(|name| name.starts_with("season_")) {
        terms.push("seasons");
    }
    (!terms.is_empty()).then(|| terms.join(","))
}
