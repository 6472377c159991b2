//! One test of a table: the contract's TEST.

use schemars::JsonSchema;
use serde::Serialize;
use serde_json::Value;

use super::decision::Decision;

/// A test with its decision at the significance level.
#[derive(JsonSchema, Serialize)]
pub struct TestLine {
    pub test: &'static str,
    /// As it is called in tables.
    pub name: String,
    pub null: &'static str,
    pub statistic: f64,
    pub p_value: f64,
    pub decision: Decision,
    pub meaning: &'static str,
    pub detail: Value,
}

/// A test before the decision.
pub struct TestEntry {
    pub test: &'static str,
    pub name: String,
    pub null: &'static str,
    pub statistic: f64,
    pub p_value: f64,
    /// What it means that the null is not rejected, and that it is.
    pub meanings: [&'static str; 2],
    pub detail: Value,
}

impl TestEntry {
    /// With the decision at a level.
    pub fn decided(self, alpha: f64) -> TestLine {
        self.decided_by(None, alpha)
    }

    /// The same by a p-value that allows for other tests, if there is one.
    pub fn decided_by(self, adjusted: Option<f64>, alpha: f64) -> TestLine {
        let decision = Decision::at(adjusted.unwrap_or(self.p_value), alpha);
        TestLine {
            test: self.test,
            name: self.name,
            null: self.null,
            statistic: self.statistic,
            p_value: self.p_value,
            decision,
            meaning: self.meanings[usize::from(decision.is_rejection())],
            detail: self.detail,
        }
    }
}
