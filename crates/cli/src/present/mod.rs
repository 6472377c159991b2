//! From results of the core to documents and to the JSON contract.

pub mod acf;
pub mod cointegration;
pub mod compare;
mod decision;
pub mod decompose;
pub mod diagnosis;
pub mod fit;
pub mod forecast;
pub mod inspect;
pub mod lags;
pub mod ols;
pub mod orders;
pub mod outliers;
pub mod plot;
pub mod power;
pub mod randomness;
pub mod relate;
mod sample;
pub mod screen;
mod signs;
pub mod stationarity;
mod steps;
mod test_line;
pub mod transform;
mod warning;

use schemars::{JsonSchema, Schema, schema_for};

use crate::document::Envelope;

/// The schema of a command's whole JSON object.
pub fn schema<T: JsonSchema>() -> Schema {
    schema_for!(Envelope<T>)
}

#[cfg(test)]
mod tests;
