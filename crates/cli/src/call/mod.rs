//! A call of the program as a value: which command, on which data, with which series and options.

mod name;
mod words;

use std::borrow::Cow;
use std::fmt;

use clap::ArgMatches;
use clap::parser::ValueSource;
use schemars::{JsonSchema, Schema, SchemaGenerator};
use serde::{Serialize, Serializer};

pub use name::Name;
pub use words::{shell_word, shell_words};

/// A call, as it was typed or as it is to be typed next. It displays as the words that a user types.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Call {
    command: Name,
    data: DataWords,
    series: Vec<String>,
    options: Vec<Argument>,
}

/// The file and the options that say how it is read and which part of it is used.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
struct DataWords {
    file: String,
    options: Vec<Argument>,
}

/// An option with its value, or a flag.
#[derive(Debug, Clone, PartialEq, Eq)]
struct Argument {
    name: String,
    value: Option<String>,
}

impl Call {
    /// A command on a file.
    pub fn new(command: Name, file: impl Into<String>) -> Self {
        let data = DataWords { file: file.into(), options: Vec::new() };
        Self { command, data, series: Vec::new(), options: Vec::new() }
    }

    /// The call that these arguments of `command` make; `data_options` are the names of the options that every
    /// command on data takes.
    pub fn typed(
        command: Name,
        syntax: &clap::Command,
        matches: &ArgMatches,
        data_options: &[String],
    ) -> Self {
        let mut call = Self::new(command, "");
        for argument in syntax.get_arguments() {
            let id = argument.get_id().as_str();
            if matches.value_source(id) != Some(ValueSource::CommandLine) {
                continue;
            }
            let takes_value = argument.get_action().takes_values();
            for occurrence in matches.get_raw_occurrences(id).into_iter().flatten() {
                let values: Vec<String> =
                    occurrence.map(|value| value.to_string_lossy().into_owned()).collect();
                match argument.get_long() {
                    None if id == "file" => call.data.file = values.concat(),
                    None => call.series.extend(values),
                    Some(long) => {
                        let value = takes_value.then(|| values.join(","));
                        let one = Argument { name: long.to_owned(), value };
                        let is_data = data_options.iter().any(|name| name == long);
                        if is_data { call.data.options.push(one) } else { call.options.push(one) }
                    }
                }
            }
        }
        call
    }

    /// Another command on the same data, its options not among those carried on. A rule for gaps that it does not
    /// take becomes one that it does.
    pub fn next<S: Into<String>>(&self, command: Name, series: impl IntoIterator<Item = S>) -> Self {
        let mut data = self.data.clone();
        for option in &mut data.options {
            let kept_open = option.name == "gaps" && option.value.as_deref() == Some("keep");
            if kept_open && !command.takes_gaps() {
                option.value = Some("seasonal".to_owned());
            }
        }
        Self { command, data, series: series.into_iter().map(Into::into).collect(), options: Vec::new() }
    }

    /// The command.
    pub fn command(&self) -> Name {
        self.command
    }

    /// Whether an option of the command is in it.
    pub fn has(&self, name: &str) -> bool {
        self.options.iter().any(|option| option.name == name)
    }

    /// Whether it reads standard input and answers a line for each result.
    pub fn takes_lines(&self) -> bool {
        let is_lines = |option: &Argument| {
            let value = option.value.as_deref().unwrap_or_default();
            option.name == "as" && value.eq_ignore_ascii_case("jsonl")
        };
        self.data.file == "-" && self.options.iter().any(is_lines)
    }

    /// Whether series are named in it.
    pub fn names_series(&self) -> bool {
        !self.series.is_empty()
    }

    /// Of another file that is read in the same way.
    pub fn of_file(mut self, file: &str) -> Self {
        file.clone_into(&mut self.data.file);
        self
    }

    /// With the options of these names that `typed` was given.
    pub fn keeping(mut self, typed: &Self, names: &[&str]) -> Self {
        let kept = typed.options.iter().filter(|option| names.contains(&option.name.as_str()));
        self.options.extend(kept.cloned());
        self
    }

    /// With its options in one order, and without those of these names.
    pub fn sorted_without(&self, names: &[&str]) -> Self {
        let mut call = self.clone();
        for options in [&mut call.options, &mut call.data.options] {
            options.retain(|option| !names.contains(&option.name.as_str()));
            // Options that are repeated keep their order, which may matter.
            options.sort_by(|one, other| one.name.cmp(&other.name));
        }
        call
    }

    /// With an option and its value.
    pub fn with(mut self, name: &str, value: impl fmt::Display) -> Self {
        self.options.push(Argument { name: name.to_owned(), value: Some(value.to_string()) });
        self
    }

    /// With an option where it has a value.
    pub fn with_some(self, name: &str, value: Option<impl fmt::Display>) -> Self {
        match value {
            Some(value) => self.with(name, value),
            None => self,
        }
    }

    /// With a flag.
    pub fn flag(mut self, name: &str) -> Self {
        self.options.push(Argument { name: name.to_owned(), value: None });
        self
    }

    /// With a rule for gaps, where there is one and none was typed.
    pub fn filling(mut self, rule: Option<&str>) -> Self {
        if self.data.options.iter().all(|option| option.name != "gaps") {
            let named = |rule: &str| Argument { name: "gaps".to_owned(), value: Some(rule.to_owned()) };
            self.data.options.extend(rule.map(named));
        }
        self
    }

    /// On another part of the data.
    pub fn sample(mut self, sample: impl fmt::Display) -> Self {
        self.data.options.retain(|option| option.name != "sample");
        self.data.options.push(Argument { name: "sample".to_owned(), value: Some(sample.to_string()) });
        self
    }

    /// The words behind the program's name.
    pub fn words(&self) -> Vec<String> {
        let file = (!self.data.file.is_empty()).then(|| self.data.file.clone());
        let series = self.series.iter().map(|text| {
            // A leading minus would be read as an option.
            if text.starts_with('-') { format!("({text})") } else { text.clone() }
        });
        let options = self.options.iter().chain(&self.data.options).flat_map(Argument::words);
        std::iter::once(self.command.word().to_owned()).chain(file).chain(series).chain(options).collect()
    }
}

impl fmt::Display for Call {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("kandrel")?;
        self.words().iter().try_for_each(|word| write!(f, " {}", shell_word(word)))
    }
}

impl Serialize for Call {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}

impl JsonSchema for Call {
    fn inline_schema() -> bool {
        true
    }

    fn schema_name() -> Cow<'static, str> {
        "Call".into()
    }

    fn json_schema(generator: &mut SchemaGenerator) -> Schema {
        String::json_schema(generator)
    }
}

impl Argument {
    fn words(&self) -> Vec<String> {
        let name = format!("--{}", self.name);
        match &self.value {
            None => vec![name],
            // A leading minus would be read as an option.
            Some(value) if value.starts_with('-') => vec![format!("{name}={value}")],
            Some(value) => vec![name, value.clone()],
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_call_displays_as_it_is_typed() {
        let call = Call::new(Name::Fit, "my data.csv")
            .with("model", "(0,1,1)")
            .flag("residuals")
            .with("restrict", "-a = 1")
            .sample("2001..");
        assert_eq!(
            call.to_string(),
            "kandrel fit 'my data.csv' --model '(0,1,1)' --residuals '--restrict=-a = 1' --sample 2001.."
        );
        let next = call.next(Name::Acf, ["-x", "y:ln"]).keeping(&call, &["model", "none"]);
        assert_eq!(
            next.to_string(),
            "kandrel acf 'my data.csv' '(-x)' y:ln --model '(0,1,1)' --sample 2001.."
        );
        assert_eq!(next.of_file("b.csv").sample("..2000").words()[1], "b.csv");
    }

    #[test]
    fn gaps_are_kept_only_where_they_are_taken() {
        let mut call = Call::new(Name::Acf, "a.csv");
        call.data.options.push(Argument { name: "gaps".to_owned(), value: Some("keep".to_owned()) });
        assert_eq!(call.next(Name::Fit, ["x"]).words().last().map(String::as_str), Some("keep"));
        assert_eq!(call.next(Name::Stationarity, ["x"]).words().last().map(String::as_str), Some("seasonal"));
        // A rule is added where none was typed.
        let open = Call::new(Name::Inspect, "a.csv");
        let filled = |call: Call, rule| call.next(Name::Acf, ["x"]).filling(rule).to_string();
        assert_eq!(filled(open.clone(), Some("previous")), "kandrel acf a.csv x --gaps previous");
        assert_eq!(filled(open, None), "kandrel acf a.csv x");
        assert_eq!(filled(call, Some("previous")), "kandrel acf a.csv x --gaps keep");
    }
}
