//! Whether a verdict and its main tests hold over sub-samples, windows, terms, lag rules and bandwidths.

mod windows;

use std::ops::Range;

use rayon::prelude::*;
use schemars::JsonSchema;
use serde::Serialize;

use crate::lag::{Criterion, LagRule};
use crate::nulldist::Terms;
use crate::ols::Bandwidth;
use crate::unitroot::{AdfOptions, KpssOptions, PpOptions, UnitRootError, UnitRootTest, adf, kpss, pp};
use crate::verdict::{AssessOptions, Assessment, assess};

pub use windows::{WindowError, WindowRow, WindowTests, Windows, windows};

/// A part of a sample.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Subsample {
    /// All of it.
    Whole,
    /// Without the first tenth.
    WithoutFirstTenth,
    /// Without the last tenth.
    WithoutLastTenth,
    /// Without the first quarter.
    WithoutFirstQuarter,
    /// Without the last quarter.
    WithoutLastQuarter,
    /// The first half.
    FirstHalf,
    /// The second half.
    SecondHalf,
    /// Up to the structural break of the verdict.
    BeforeBreak,
    /// After it.
    AfterBreak,
}

/// What is varied while the rest stays as it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Variation {
    /// The sample; its terms are chosen for it.
    Subsample(Subsample),
    /// The deterministic terms.
    Terms(Terms),
    /// The lag rule of the ADF test.
    Lags(LagRule),
    /// The bandwidth of PP and KPSS.
    Bandwidth(Bandwidth),
}

/// The verdict and the main tests of the level under one variation.
#[derive(Debug, Clone, PartialEq)]
pub struct RobustnessRow {
    /// Which.
    pub variation: Variation,
    /// The places of the series that it rests on.
    pub sample: Range<usize>,
    /// d and D of the verdict and their probability, where the sample varies.
    pub verdict: Option<([usize; 2], f64)>,
    /// The test of Dickey and Fuller.
    pub adf: Option<UnitRootTest>,
    /// That of Phillips and Perron.
    pub pp: Option<UnitRootTest>,
    /// That of Kwiatkowski, Phillips, Schmidt and Shin.
    pub kpss: Option<UnitRootTest>,
}

/// All variations, the whole sample with its own options first.
#[derive(Debug, Clone, PartialEq)]
pub struct Robustness {
    /// The rows.
    pub rows: Vec<RobustnessRow>,
    /// Cells (a verdict, a test's decision) other than those of the first row.
    pub cells: usize,
    /// How many of these agree with the first row.
    pub agreeing: usize,
}

/// The bandwidths and lag rules that are tried.
const LAGS: [LagRule; 4] =
    [LagRule::Criterion(Criterion::Aic), LagRule::Criterion(Criterion::Bic), LagRule::Maic, LagRule::T];
const BANDWIDTHS: [Bandwidth; 3] = [Bandwidth::Automatic, Bandwidth::Short, Bandwidth::Long];

/// The table of variations for an assessed series.
///
/// # Method
/// Every sub-sample is assessed by itself. Terms, lags and bandwidths are varied for the whole series without its
/// seasonality; what is not varied is as in `options`. A cell of a sample that is too short is left out.
///
/// # Cost
/// Eight assessments and some twenty tests.
///
/// # Errors
/// [`UnitRootError`] where the whole series has no verdict.
pub fn robustness(y: &[f64], options: &AssessOptions) -> Result<Robustness, UnitRootError> {
    let whole = assess(y, options)?;
    let first = sub_sample(y, Subsample::Whole, 0..y.len(), &whole, options);
    let parts: Vec<RobustnessRow> = subsamples(y.len(), whole.break_at)
        .into_par_iter()
        .filter_map(|(which, range)| {
            let own = assess(y.get(range.clone())?, options).ok()?;
            Some(sub_sample(y, which, range, &own, options))
        })
        .collect();
    let terms = whole.stages.first().map_or(Terms::Constant, |stage| stage.unit_root.terms);
    let of = |variation| varied(&whole, variation, terms, options, y.len());
    let rest = [Terms::Constant, Terms::Trend]
        .map(Variation::Terms)
        .into_iter()
        .chain(LAGS.map(Variation::Lags))
        .chain(BANDWIDTHS.map(Variation::Bandwidth))
        .map(of);
    let rows: Vec<RobustnessRow> = std::iter::once(first).chain(parts).chain(rest).collect();
    let (cells, agreeing) = agreement(&rows, options.alpha);
    Ok(Robustness { rows, cells, agreeing })
}

fn subsamples(n: usize, break_at: Option<usize>) -> Vec<(Subsample, Range<usize>)> {
    let mut all = vec![
        (Subsample::WithoutFirstTenth, n / 10..n),
        (Subsample::WithoutLastTenth, 0..n - n / 10),
        (Subsample::WithoutFirstQuarter, n / 4..n),
        (Subsample::WithoutLastQuarter, 0..n - n / 4),
        (Subsample::FirstHalf, 0..n / 2),
        (Subsample::SecondHalf, n / 2..n),
    ];
    if let Some(last) = break_at.filter(|last| last + 1 < n) {
        all.extend([(Subsample::BeforeBreak, 0..last + 1), (Subsample::AfterBreak, last + 1..n)]);
    }
    all
}

/// The row of a part of the series, from its own assessment.
fn sub_sample(
    y: &[f64],
    which: Subsample,
    sample: Range<usize>,
    own: &Assessment,
    options: &AssessOptions,
) -> RobustnessRow {
    let verdict = &own.verdict;
    let level = own.stages.first();
    let terms = level.map_or(Terms::Constant, |stage| stage.unit_root.terms);
    let sample = sample.start..sample.end.min(y.len());
    RobustnessRow {
        variation: Variation::Subsample(which),
        sample,
        verdict: Some((
            [verdict.integration, verdict.seasonal_integration.unwrap_or(0)],
            verdict.probability,
        )),
        adf: level.map(|stage| stage.unit_root.clone()),
        pp: phillips_perron(&own.judged, terms, options.bandwidth, options),
        kpss: level.map(|stage| stage.stationarity.clone()),
    }
}

/// The tests of the whole series with one option varied.
fn varied(
    whole: &Assessment,
    variation: Variation,
    terms: Terms,
    options: &AssessOptions,
    n: usize,
) -> RobustnessRow {
    let y = &whole.judged;
    let dickey_fuller = |terms, lags| adf(y, &AdfOptions { terms, lags, max_lags: options.max_lags }).ok();
    let stationary = |terms: Terms, bandwidth| {
        let terms = if terms == Terms::None { Terms::Constant } else { terms };
        kpss(y, &KpssOptions { terms, bandwidth, kernel: options.kernel }).ok()
    };
    let row = |adf, pp, kpss| RobustnessRow { variation, sample: 0..n, verdict: None, adf, pp, kpss };
    match variation {
        Variation::Terms(own) => row(
            dickey_fuller(own, options.lags),
            phillips_perron(y, own, options.bandwidth, options),
            stationary(own, options.bandwidth),
        ),
        Variation::Lags(lags) => row(dickey_fuller(terms, lags), None, None),
        Variation::Bandwidth(own) => {
            row(None, phillips_perron(y, terms, own, options), stationary(terms, own))
        }
        Variation::Subsample(_) => row(None, None, None),
    }
}

fn phillips_perron(
    y: &[f64],
    terms: Terms,
    bandwidth: Bandwidth,
    options: &AssessOptions,
) -> Option<UnitRootTest> {
    pp(y, &PpOptions { terms, bandwidth: Some(bandwidth), kernel: options.kernel }).ok()
}

/// Cells below the first row, and those that agree with it.
fn agreement(rows: &[RobustnessRow], alpha: f64) -> (usize, usize) {
    let Some((first, rest)) = rows.split_first() else {
        return (0, 0);
    };
    let decision = |test: &Option<UnitRootTest>| test.as_ref().and_then(|test| test.decision(alpha));
    let decisions = |row: &RobustnessRow| [decision(&row.adf), decision(&row.pp), decision(&row.kpss)];
    let (mut cells, mut agreeing) = (0, 0);
    let mut count = |is_alike: Option<bool>| {
        cells += usize::from(is_alike.is_some());
        agreeing += usize::from(is_alike == Some(true));
    };
    for row in rest {
        let verdicts = row.verdict.zip(first.verdict);
        count(verdicts.map(|((own, _), (of_whole, _))| own == of_whole));
        for (own, of_whole) in decisions(row).into_iter().zip(decisions(first)) {
            count(own.zip(of_whole).map(|(own, of_whole)| own == of_whole));
        }
    }
    (cells, agreeing)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn series(n: usize, rho: f64, stream: u64) -> Vec<f64> {
        let mut y = NormalStream::new(901, stream).take(n);
        for t in 1..n {
            y[t] += rho * y[t - 1];
        }
        y
    }

    #[test]
    fn white_noise_is_stationary_whatever_is_varied() {
        let found = robustness(&series(400, 0.0, 0), &AssessOptions::default()).expect("a table");
        // Six parts, two terms, four lag rules, three bandwidths.
        assert_eq!(found.rows.len(), 1 + 6 + 2 + 4 + 3);
        assert_eq!(found.cells, 6 * 4 + 2 * 3 + 4 + 3 * 2);
        assert!(found.agreeing + 4 >= found.cells, "{} of {}", found.agreeing, found.cells);
        assert!(
            found.rows.iter().filter_map(|row| row.verdict).all(|(differences, _)| differences == [0, 0])
        );
    }

    #[test]
    fn each_row_is_the_test_of_its_own_sample_and_options() {
        let y = series(240, 0.7, 1);
        let found = robustness(&y, &AssessOptions::default()).expect("a table");
        for row in &found.rows {
            if let (Variation::Subsample(_), Some(([d, _], _))) = (row.variation, row.verdict) {
                let own = assess(&y[row.sample.clone()], &AssessOptions::default()).expect("a verdict");
                assert_eq!(own.verdict.integration, d);
                assert_eq!(row.adf.as_ref(), own.stages.first().map(|stage| &stage.unit_root));
            }
        }
        let of = |variation| found.rows.iter().find(|row| row.variation == variation).expect("a row");
        let trend = of(Variation::Terms(Terms::Trend));
        assert_eq!(trend.kpss.as_ref().map(|test| test.terms), Some(Terms::Trend));
        let long = of(Variation::Bandwidth(Bandwidth::Long));
        assert!(long.adf.is_none() && long.kpss.is_some());
    }

    #[test]
    fn a_break_divides_the_sample_and_its_halves_differ() {
        let mut y = series(200, 0.3, 2);
        y.iter_mut().skip(120).for_each(|value| *value += 8.0);
        let found = robustness(&y, &AssessOptions::default()).expect("a table");
        let of = |which| found.rows.iter().find(|row| row.variation == Variation::Subsample(which));
        assert_eq!(of(Subsample::BeforeBreak).map(|row| row.sample.clone()), Some(0..120));
        assert_eq!(of(Subsample::AfterBreak).map(|row| row.sample.clone()), Some(120..200));
        assert!(found.agreeing < found.cells);
        assert!(robustness(&[1.0; 40], &AssessOptions::default()).is_err());
    }
}
