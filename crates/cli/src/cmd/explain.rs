//! `kandrel explain`: what a test assumes and how it is read.

use std::path::PathBuf;

use crate::args::Format;
use crate::call::shell_words;
use crate::cmd::typed;
use crate::context::Context;
use crate::document::Document;
use crate::error::CliError;
use crate::explain::{self, Meaning, Topic};
use crate::output::Files;
use crate::render::{self, Charts, Style};

pub const ABOUT: &str = "What a test or criterion assumes, its null, how to read it, its source";
pub const EXAMPLES: &str = "Examples:\n  kandrel explain\n  kandrel explain ljung_box";

#[derive(clap::Args)]
pub struct Args {
    /// A test, criterion or term, as adf, kpss or unit root; glossary; steps; all topics are listed without one
    topic: Vec<String>,
    /// Form of the result
    #[arg(long = "as", value_name = "FORM", default_value = "text", help_heading = "Output")]
    form: Format,
    /// File for the result instead of standard output
    #[arg(long, value_name = "PATH", help_heading = "Output")]
    out: Option<PathBuf>,
    /// Overwrite a file that exists
    #[arg(long, help_heading = "Output")]
    force: bool,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    // Several words are one topic.
    let words = args.topic.join(" ");
    let text = match words.as_str() {
        "" => written(None, args.form)?,
        GLOSSARY => in_form(&explain::glossary::document(), args.form)?,
        STEPS => in_form(&explain::steps::document(), args.form)?,
        name => match known(name)? {
            Meaning::Topic(topic) => written(Some(topic), args.form)?,
            Meaning::Term(term) => in_form(&explain::glossary::definition(term), args.form)?,
            Meaning::Step(step) => in_form(&explain::steps::definition(step), args.form)?,
        },
    };
    match &args.out {
        Some(path) => {
            let mut files = Files::default();
            files.add(path, text.into_bytes());
            files.write(args.force)
        }
        None => Ok(context.stdout.write_all(text.as_bytes())?),
    }
}

/// The topic that lists the terms.
const GLOSSARY: &str = "glossary";
/// The topic that lists the steps.
const STEPS: &str = "steps";

/// A document as text or Markdown.
fn in_form(document: &Document, form: Format) -> Result<String, CliError> {
    match form {
        Format::Text => Ok(render::text(document, Style { charts: Charts::None, bold: false })),
        Format::Markdown => Ok(render::markdown(document)),
        _ => {
            Err(CliError::call("--as: an explanation is text, Markdown or JSON")
                .advise("write --as markdown"))
        }
    }
}

fn known(name: &str) -> Result<Meaning, CliError> {
    explain::meaning(name).ok_or_else(|| {
        let error = CliError::call(format!("nothing is known about {name:?}"));
        let error = match explain::nearest(name) {
            Some(near) => error.advise(format!("did you mean {near}?")),
            None => error,
        };
        error.advise("kandrel explain lists every topic")
    })
}

fn written(topic: Option<&'static Topic>, form: Format) -> Result<String, CliError> {
    let document = match topic {
        None => explain::contents(),
        Some(topic) => {
            let words = shell_words(topic.example.trim_start_matches("kandrel "));
            let example = typed(&words).map_err(|error| CliError::computation(error.to_string()))?;
            explain::document(topic, example.call)
        }
    };
    match form {
        Format::Json => {
            let topics: Vec<&Topic> = topic.map_or_else(|| explain::topics().collect(), |one| vec![one]);
            serde_json::to_string_pretty(&topics)
                .map(|text| text + "\n")
                .map_err(|e| CliError::computation(format!("the topic cannot be written as JSON: {e}")))
        }
        form => in_form(&document, form),
    }
}
