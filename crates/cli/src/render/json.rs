//! The contract's envelope around the results.

use serde_json::json;

use crate::document::Report;
use crate::error::CliError;
use crate::read::Dataset;

/// The whole JSON object, indented.
pub fn json(
    report: &Report,
    dataset: &Dataset,
    season: usize,
    arguments: &[String],
) -> Result<String, CliError> {
    let frame = &dataset.frame;
    let envelope = json!({
        "kandrel": {
            "version": env!("CARGO_PKG_VERSION"),
            "command": report.command,
            "arguments": arguments,
        },
        "data": {
            "source": dataset.source,
            "sha256": dataset.sha256,
            "frequency": frame.frequency(),
            "season": season,
            "first": frame.start.to_string(),
            "last": frame.last().to_string(),
            "observations": frame.length,
            "filled": dataset.filled.iter().map(ToString::to_string).collect::<Vec<_>>(),
        },
        "results": report.results,
        "notes": dataset.notes,
    });
    serde_json::to_string_pretty(&envelope)
        .map(|text| text + "\n")
        .map_err(|e| CliError::computation(format!("the result cannot be written as JSON: {e}")))
}
