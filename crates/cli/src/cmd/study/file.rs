//! The study file.

use serde::{Deserialize, Deserializer};

use crate::error::CliError;

/// What is studied, as the file says it.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Study {
    /// Path of the data, from the folder of the study file, or demo:NAME.
    pub file: String,
    /// A column, or a column with steps; or a list of them.
    #[serde(deserialize_with = "one_or_several")]
    pub series: Vec<String>,
    #[serde(default)]
    pub title: Option<String>,
    /// Variance-stabilising transformation: `auto`, `none`, or steps such as `ln`.
    #[serde(default = "auto")]
    pub transform: String,
    /// Periods to use, as for --sample.
    #[serde(default)]
    pub sample: Option<String>,
    #[serde(default)]
    pub season: Option<u32>,
    /// What to do with missing values, as for --gaps.
    #[serde(default)]
    pub gaps: Option<String>,
    /// Further options of the data, as typed: `["--time", "month", "--sheet", "2"]`.
    #[serde(default)]
    pub data: Vec<String>,
    /// Parts to do, in this order; all that fit if not given.
    #[serde(default)]
    pub parts: Option<Vec<String>>,
    /// Tests of stationarity, as for --tests.
    #[serde(default)]
    pub tests: Option<String>,
    /// Further models of the evaluation, as for --model.
    #[serde(default)]
    pub models: Vec<String>,
    /// Regressors, as for --with.
    #[serde(default)]
    pub with: Option<String>,
    /// Forecast horizon in periods.
    #[serde(default)]
    pub horizon: Option<usize>,
    /// Significance level of all decisions.
    #[serde(default)]
    pub alpha: Option<f64>,
}

/// One text, or a list of texts.
#[derive(Deserialize)]
#[serde(untagged, expecting = "a column in quotes, or a list of columns")]
enum OneOrSeveral {
    One(String),
    Several(Vec<String>),
}

fn one_or_several<'de, D: Deserializer<'de>>(deserializer: D) -> Result<Vec<String>, D::Error> {
    Ok(match OneOrSeveral::deserialize(deserializer)? {
        OneOrSeveral::One(series) => vec![series],
        OneOrSeveral::Several(all) => all,
    })
}

fn auto() -> String {
    "auto".to_owned()
}

/// Parts of a study in the order of the report: the diagnosis first, then what it rests on and what follows from it. The
/// last three are of several series together.
pub const PARTS: [&str; 15] = [
    "transformation",
    "stationarity",
    "robustness",
    "power",
    "data",
    "plot",
    "decomposition",
    "outliers",
    "autocorrelation",
    "model",
    "evaluation",
    "forecast",
    "relations",
    "lags",
    "cointegration",
];

impl Study {
    /// Reads the text of a study file.
    pub fn parse(name: &str, text: &str) -> Result<Self, CliError> {
        let study: Self = toml::from_str(text).map_err(|error| refusal(name, text, &error))?;
        let known = |part: &&String| PARTS.contains(&part.as_str());
        if let Some(unknown) = study.parts.iter().flatten().find(|part| !known(part)) {
            return Err(CliError::call(format!("{name}: parts: there is no part {unknown:?}"))
                .advise(format!("parts are {}", PARTS.join(", "))));
        }
        if study.series.is_empty() {
            return Err(CliError::call(format!("{name}: series: the list is empty"))
                .advise("name a column in quotes, or a list of columns"));
        }
        let mut named = study.series.iter().enumerate();
        if let Some((_, twice)) =
            named.find(|(place, one)| study.series.iter().take(*place).any(|other| other == *one))
        {
            return Err(CliError::call(format!("{name}: series: {twice} is named twice")));
        }
        if study.alpha.is_some_and(|alpha| !(alpha > 0.0 && alpha < 0.5)) {
            return Err(CliError::call(format!("{name}: alpha lies between 0 and 0.5")));
        }
        if study.horizon == Some(0) {
            return Err(CliError::call(format!("{name}: horizon is one period at least")));
        }
        Ok(study)
    }

    /// Whether a part is to be done.
    pub fn has(&self, part: &str) -> bool {
        self.parts.as_ref().is_none_or(|parts| parts.iter().any(|one| one == part))
    }

    /// The options of the data, to be put behind a command.
    pub fn data_options(&self) -> Vec<String> {
        let mut words = self.data.clone();
        let mut add = |name: &str, value: Option<String>| {
            if let Some(value) = value {
                words.extend([name.to_owned(), value]);
            }
        };
        add("--sample", self.sample.clone());
        add("--season", self.season.map(|season| season.to_string()));
        add("--gaps", self.gaps.clone());
        words
    }
}

/// What is wrong, with line, column and a caret.
fn refusal(name: &str, text: &str, error: &toml::de::Error) -> CliError {
    let message = error.message();
    let Some(span) = error.span() else {
        return CliError::call(format!("{name}: {message}"));
    };
    let before = text.get(..span.start).unwrap_or(text);
    let line = before.matches('\n').count();
    let start = before.rfind('\n').map_or(0, |end| end + 1);
    let column = before[start..].chars().count();
    CliError::call(format!("{name}, line {}, column {}: {message}", line + 1, column + 1))
        .advise(text.lines().nth(line).unwrap_or_default())
        .advise(format!("{}^", " ".repeat(column)))
}

/// A starting file with what can be set, commented.
pub fn starting(file: &str, series: &[String], title: &str, season: usize, horizon: usize) -> String {
    let quoted = |text: &str| serde_json::Value::from(text).to_string();
    let named = match series {
        [one] => quoted(one),
        several => format!("[{}]", several.iter().map(|one| quoted(one)).collect::<Vec<_>>().join(", ")),
    };
    format!(
        "# A study, from data to report:\n\
         #   kandrel study THIS-FILE.toml --into report\n\
         # Lines that begin with # say what else can be set.\n\
         \n\
         title = {}\n\
         file = {}\n\
         series = {}\n\
         \n\
         # auto looks whether the spread grows with the level; none, or steps such as \"ln\" or \"perday,ln\".\n\
         transform = \"auto\"\n\
         \n\
         # sample = \"2010-01..\"\n\
         # season = {season}\n\
         # gaps = \"seasonal\"            # refuse, keep, previous, linear, seasonal, drop\n\
         # data = [\"--time\", \"month\"]   # further options of the data, as typed\n\
         \n\
         # parts = [\"{}\"]\n\
         # tests = \"all\"                # of stationarity; the usual four if not given\n\
         # models = [\"(0,1,1)(0,1,1)12\"] # compared beside the one that is chosen\n\
         # with = \"trend\"               # regressors: columns, step=PERIOD, pulse=PERIOD, seasons, workdays\n\
         horizon = {horizon}\n\
         # alpha = 0.05\n",
        quoted(title),
        quoted(file),
        named,
        PARTS.join("\", \"")
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    const SMALLEST: &str = "file = \"a.csv\"\nseries = \"x\"\n";

    fn refusal(text: &str) -> String {
        Study::parse("s.toml", text).expect_err("a mistake").to_string()
    }

    #[test]
    fn a_file_and_a_series_are_a_study() {
        let study = Study::parse("s.toml", SMALLEST).expect("a study");
        assert_eq!((study.transform.as_str(), study.horizon), ("auto", None));
        assert!(PARTS.iter().all(|part| study.has(part)));
        assert!(study.data_options().is_empty());
    }

    #[test]
    fn options_of_the_data_become_words() {
        let more = "sample = \"2001..\"\nseason = 4\ngaps = \"linear\"\ndata = [\"--time\", \"m\"]\nparts = [\"plot\"]\n";
        let study = Study::parse("s.toml", &format!("{SMALLEST}{more}")).expect("a study");
        let words = ["--time", "m", "--sample", "2001..", "--season", "4", "--gaps", "linear"];
        assert_eq!(study.data_options(), words);
        assert!(study.has("plot") && !study.has("model"));
    }

    #[test]
    fn a_mistake_is_shown_at_its_place() {
        let text = refusal(&format!("{SMALLEST}colour = \"red\"\n"));
        assert!(text.contains("s.toml, line 3, column 1") && text.contains("  ^"), "{text}");
        assert!(refusal("file = ").contains("line 1"));
        for (line, part) in [
            ("parts = [\"cake\"]", "there is no part \"cake\""),
            ("alpha = 0.5", "alpha lies between 0 and 0.5"),
            ("horizon = 0", "horizon is one period at least"),
        ] {
            let text = refusal(&format!("{SMALLEST}{line}\n"));
            assert!(text.contains(part), "{text}");
        }
    }

    #[test]
    fn the_starting_file_is_a_study_whatever_the_names() {
        let text = starting("my \"data\".csv", &["tug hours:ln".to_owned()], "A \\ title", 12, 24);
        let study = Study::parse("s.toml", &text).expect("a study");
        assert_eq!(study.file, "my \"data\".csv");
        assert_eq!(study.series, ["tug hours:ln"]);
        assert_eq!((study.title.as_deref(), study.horizon), (Some("A \\ title"), Some(24)));
        // What can be set besides is a study as well, once its marks are taken off.
        let all: String = text
            .lines()
            .map(|line| line.strip_prefix("# ").unwrap_or(line))
            .filter(|line| line.contains(" = "))
            .fold(String::new(), |all, line| all + line + "\n");
        let full = Study::parse("s.toml", &all).expect("a study");
        assert_eq!((full.season, full.models.len()), (Some(12), 1));
        let two = ["a".to_owned(), "b \"c\"".to_owned()];
        let several = Study::parse("s.toml", &starting("a.csv", &two, "t", 1, 8)).expect("a study");
        assert_eq!(several.series, two);
    }

    #[test]
    fn several_series_are_a_list_without_doubles() {
        let of = |series: &str| Study::parse("s.toml", &format!("file = \"a.csv\"\nseries = {series}\n"));
        assert_eq!(
            of("[\"x\", \"y\"]").map(|study| study.series).ok(),
            Some(vec!["x".to_owned(), "y".to_owned()])
        );
        let refused = |series: &str| of(series).expect_err("a mistake").to_string();
        assert!(refused("[]").contains("the list is empty"));
        assert!(refused("[\"x\", \"x\"]").contains("x is named twice"));
        assert!(refused("[1]").contains("a column in quotes, or a list of columns"), "{}", refused("[1]"));
    }
}
