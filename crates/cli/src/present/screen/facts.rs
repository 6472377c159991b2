//! A screen of many series as facts: one row a series.

use kandrel_core::screen::{ReviewReason, Screened};
use kandrel_core::series::Series;
use kandrel_core::verdict::{Class, Confidence};
use schemars::JsonSchema;
use serde::Serialize;

use crate::wording::guarded;

/// The contract's result of `screen`: one row.
#[derive(Debug, Clone, Default, JsonSchema, Serialize)]
pub struct ScreenRow {
    pub source: String,
    pub series: String,
    /// Of the file it is from; none for a stream of records.
    pub sha256: Option<String>,
    pub observations: Option<usize>,
    pub first: Option<String>,
    pub last: Option<String>,
    pub season: Option<usize>,
    /// `none`, `ln` or `boxcox=λ`; all that follows is of the transformed series.
    pub transform: Option<String>,
    pub integration: Option<usize>,
    pub seasonal_integration: Option<usize>,
    pub class: Option<Class>,
    pub confidence: Option<Confidence>,
    pub model: Option<String>,
    /// The deterministic terms and regressors of the model: trend, step=PERIOD, ramp=PERIOD, seasons, harmonics=N.
    pub with: Vec<String>,
    /// p of Ljung-Box of the model's residuals.
    pub white_noise_p: Option<f64>,
    /// Periods of outliers; none where they were not searched for.
    pub outliers: Option<Vec<String>>,
    /// Whether the series is flagged for review.
    pub review: bool,
    pub reasons: Vec<String>,
    /// Why there is no diagnosis.
    pub error: Option<String>,
}

/// How a cell of a row is written.
type TableCell = fn(&ScreenRow) -> String;

/// The columns of a table of rows: each head, and its cell as text.
pub const COLUMNS: [(&str, TableCell); 19] = [
    ("source", |row| guarded(&row.source)),
    ("series", |row| guarded(&row.series)),
    ("sha256", |row| text(row.sha256.as_ref())),
    ("observations", |row| shown(row.observations)),
    ("first", |row| text(row.first.as_ref())),
    ("last", |row| text(row.last.as_ref())),
    ("season", |row| shown(row.season)),
    ("transform", |row| text(row.transform.as_ref())),
    ("integration", |row| shown(row.integration)),
    ("seasonal_integration", |row| shown(row.seasonal_integration)),
    ("class", |row| named(&row.class)),
    ("confidence", |row| named(&row.confidence)),
    ("model", |row| text(row.model.as_ref())),
    ("with", |row| row.with.join(",")),
    ("white_noise_p", |row| shown(row.white_noise_p)),
    ("outliers", |row| row.outliers.as_ref().map(|all| all.join(" ")).unwrap_or_default()),
    ("review", |row| row.review.to_string()),
    ("reasons", |row| guarded(&row.reasons.join("; "))),
    ("error", |row| text(row.error.as_ref())),
];

fn text(value: Option<&String>) -> String {
    guarded(value.map_or("", String::as_str))
}

fn shown<T: ToString>(value: Option<T>) -> String {
    value.map(|value| value.to_string()).unwrap_or_default()
}

/// A name as the JSON gives it.
fn named<T: Serialize>(value: &T) -> String {
    serde_json::json!(value).as_str().unwrap_or_default().to_owned()
}

impl ScreenRow {
    /// Its cells in the order of [`COLUMNS`].
    pub fn cells(&self) -> Vec<String> {
        COLUMNS.iter().map(|(_, cell)| cell(self)).collect()
    }
}

/// A row without a diagnosis.
pub fn failed(source: &str, series: &str, sha256: Option<&str>, why: &str) -> ScreenRow {
    ScreenRow {
        source: source.to_owned(),
        series: series.to_owned(),
        sha256: sha256.map(str::to_owned),
        review: true,
        reasons: vec!["no diagnosis".to_owned()],
        error: Some(why.to_owned()),
        ..ScreenRow::default()
    }
}

/// The row of a diagnosis.
pub fn row(
    source: &str,
    series: &Series,
    sha256: Option<&str>,
    season: usize,
    found: &Screened,
) -> ScreenRow {
    let verdict = &found.diagnosis.assessment.verdict;
    let model = found.model.as_ref();
    ScreenRow {
        observations: Some(found.observations),
        first: Some(series.start.to_string()),
        last: Some(series.last().to_string()),
        season: Some(season),
        transform: Some(found.transformation.to_string()),
        integration: Some(verdict.integration),
        seasonal_integration: verdict.seasonal_integration,
        class: Some(verdict.class),
        confidence: Some(verdict.confidence),
        model: model.map(|own| own.model.to_string()),
        with: model.map(|own| own.regressors.terms()).unwrap_or_default(),
        white_noise_p: model.and_then(|own| own.white_noise_p),
        outliers: found
            .outliers
            .as_ref()
            .map(|places| places.iter().map(|place| series.period(*place).to_string()).collect()),
        review: !found.flags.is_empty(),
        reasons: found.flags.iter().map(|flag| reason(*flag, series, found)).collect(),
        error: None,
        ..failed(source, &series.name, sha256, "")
    }
}

fn reason(flag: ReviewReason, series: &Series, found: &Screened) -> String {
    match flag {
        ReviewReason::Unsure => "the confidence of the verdict is low".to_owned(),
        ReviewReason::Break => match found.diagnosis.assessment.break_at {
            Some(place) => format!("a break after {}", series.period(place)),
            None => "a break".to_owned(),
        },
        ReviewReason::LongMemory => "long memory".to_owned(),
        ReviewReason::Twice => "integrated twice".to_owned(),
        ReviewReason::IncreasingNonpositive => {
            "variance increases with the level, but non-positive values have no logarithm".to_owned()
        }
        ReviewReason::ManyOdd => "many outliers".to_owned(),
        ReviewReason::NotWhite => "residuals of the model are autocorrelated".to_owned(),
        ReviewReason::DoubtfulModel => "the model has roots near unity or near common factors".to_owned(),
        ReviewReason::NoModel => "no model could be estimated".to_owned(),
    }
}
