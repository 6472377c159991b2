//! The contract's envelope around the results.

use crate::document::{Data, Envelope, Program, Report};
use crate::error::CliError;
use crate::read::Dataset;

/// Version of the names of the fields, from the first release on.
const SCHEMA: u32 = 1;

/// The whole JSON object, indented.
pub fn json(
    report: &Report,
    dataset: &Dataset,
    season: usize,
    arguments: &[String],
) -> Result<String, CliError> {
    let frame = &dataset.frame;
    let envelope = Envelope {
        kandrel: Program {
            version: env!("CARGO_PKG_VERSION"),
            schema: SCHEMA,
            command: report.command,
            arguments: arguments.to_vec(),
        },
        data: Data {
            source: dataset.source.clone(),
            sha256: dataset.sha256.clone(),
            frequency: frame.frequency().adjective(),
            season,
            first: frame.start.to_string(),
            last: frame.last().to_string(),
            observations: frame.length,
            filled: dataset.filled.iter().map(ToString::to_string).collect(),
        },
        results: report.results.iter().collect(),
        notes: dataset.notes.clone(),
    };
    serde_json::to_string_pretty(&envelope)
        .map(|text| text + "\n")
        .map_err(|e| CliError::computation(format!("the result cannot be written as JSON: {e}")))
}
