use kandrel_core::outlook::Accuracy;
use schemars::JsonSchema;
use serde::Serialize;

/// How far forecasts are off.
#[derive(Debug, Clone, Copy, JsonSchema, Serialize)]
pub struct AccuracyResult {
    /// Forecasts whose truth is known.
    pub count: usize,
    /// Mean of actual less forecast.
    pub me: f64,
    pub rmse: f64,
    pub mae: f64,
    /// In per cent; none where a value is nought.
    pub mpe: Option<f64>,
    pub mape: Option<f64>,
    pub smape: Option<f64>,
    /// MAE over the mean absolute change (over a season, if there is one).
    pub mase: Option<f64>,
}

impl From<Accuracy> for AccuracyResult {
    fn from(own: Accuracy) -> Self {
        let Accuracy { count, me, rmse, mae, mpe, mape, smape, mase } = own;
        Self { count, me, rmse, mae, mpe, mape, smape, mase }
    }
}
