//! The JSON contract around the results of every command.

use schemars::JsonSchema;
use serde::Serialize;

/// One JSON object for each call.
#[derive(JsonSchema, Serialize)]
pub struct Envelope<T> {
    pub kandrel: Program,
    pub data: Data,
    /// One for each series, or one for the whole call.
    pub results: Vec<T>,
    pub notes: Vec<String>,
}

/// The program and the call.
#[derive(JsonSchema, Serialize)]
pub struct Program {
    pub version: &'static str,
    /// Version of the names of the fields: it changes only where one is removed or renamed.
    pub schema: u32,
    pub command: &'static str,
    pub arguments: Vec<String>,
}

/// The data that were read.
#[derive(JsonSchema, Serialize)]
pub struct Data {
    pub source: String,
    /// Of the file's bytes.
    pub sha256: String,
    /// annual, quarterly, monthly, weekly, workday, daily or undated
    pub frequency: &'static str,
    /// Observations in a season; 1 for none.
    pub season: usize,
    pub first: String,
    pub last: String,
    pub observations: usize,
    /// Periods whose value was filled.
    pub filled: Vec<String>,
}
