//! Power at this length and with these dynamics: how often the tests and the verdict detect the root.

use rayon::prelude::*;
use schemars::JsonSchema;
use serde::Serialize;
use thiserror::Error;

use crate::arma::{Mixture, Whitening};
use crate::lag::LagRule;
use crate::nulldist::Terms;
use crate::num::rng::NormalStream;
use crate::unitroot::{
    AdfOptions, GlsOptions, KpssOptions, PpOptions, Regressor, UnitRootError, adf, gls_tests, kpss, pp,
};
use crate::verdict::candidates::weigh_candidates;
use crate::verdict::{AssessOptions, Assessment, assess};

/// Largest roots that series are drawn with.
const ROOTS: [f64; 11] = [0.5, 0.6, 0.7, 0.8, 0.85, 0.9, 0.93, 0.95, 0.97, 0.99, 1.0];
/// A root is found from this power.
const FOUND: f64 = 0.8;
/// Values that are left out until the start is forgotten.
const BURN: usize = 400;
/// The verdict costs far more than a test: it is computed for one series in four.
const VERDICT_EACH: usize = 4;
/// Lengths at which the estimated root is tried, in halves of the series' own.
const LONGER: [usize; 8] = [2, 3, 4, 6, 8, 12, 16, 24];
/// A root above this is as good as one.
const NEAR_ONE: f64 = 0.995;

/// How many series are drawn.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PowerOptions {
    /// Terms, lags and level of the tests, and the seasonal period.
    pub assess: AssessOptions,
    /// Series drawn for each root.
    pub draws: usize,
    /// Seed of the innovations.
    pub seed: u64,
}

/// Shares of rejections and verdicts at one root.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct PowerRow {
    /// The largest autoregressive root.
    pub root: f64,
    /// Of a unit root by ADF.
    pub adf: f64,
    /// Of a unit root by PP.
    pub pp: f64,
    /// Of a unit root by ADF-GLS; none without terms.
    pub adf_gls: Option<f64>,
    /// Of stationarity by KPSS.
    pub kpss: f64,
    /// Of verdicts that find no unit root.
    pub verdict: f64,
}

/// Power by root, and what it says of the series.
#[derive(Debug, Clone, PartialEq)]
pub struct Power {
    /// Length of the series without its seasonality.
    pub observations: usize,
    /// Terms of the tests.
    pub terms: Terms,
    /// Lagged differences of the ADF test, and their coefficients: the short-run dynamics that are drawn.
    pub short_run: Vec<f64>,
    /// From the smallest root up; the last is a unit root.
    pub rows: Vec<PowerRow>,
    /// The largest root that ADF finds in 80 of 100 series, on the line between neighbouring rows; none if it finds not
    /// even the smallest.
    pub found: Option<f64>,
    /// The posterior median of the largest root of the series.
    pub estimated: f64,
    /// Observations with which ADF would find that root in 80 of 100 series; none for a root that is as good as one, or
    /// beyond twelve times the length.
    pub needed: Option<usize>,
}

/// Why there is no power to report.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum PowerError {
    /// The series has no verdict.
    #[error(transparent)]
    Verdict(#[from] UnitRootError),
    /// Fewer than 50 draws.
    #[error("{draws} replications are too few: at least 50 are needed")]
    Draws {
        /// Asked for.
        draws: usize,
    },
}

/// The power of the tests for series like this one.
///
/// # Method
/// From the ADF regression of the level, without seasonality, come the short-run coefficients γ. For every root ρ series
/// `(1 - ρB) x = u`, `(1 - Σ γ_i B^i) u = e` are drawn with normal e and tested as the series was: the tests do not depend
/// on constant, trend and scale. The verdict is that of the candidate models. `progress` receives the number of roots done and in all.
///
/// # Cost
/// `draws` times eleven roots, of four tests each, and a quarter of as many verdicts.
///
/// # Errors
/// [`PowerError`].
pub fn power(
    y: &[f64],
    options: &PowerOptions,
    progress: impl Fn(usize, usize) + Sync,
) -> Result<Power, PowerError> {
    if options.draws < 50 {
        return Err(PowerError::Draws { draws: options.draws });
    }
    let assessment = assess(y, &options.assess)?;
    let drawn = Drawn::new(&assessment, options);
    let n = assessment.judged.len();
    let rows: Vec<PowerRow> = ROOTS
        .iter()
        .enumerate()
        .map(|(place, root)| {
            let row = drawn.row(*root, n, place);
            progress(place + 1, ROOTS.len());
            row
        })
        .collect();
    let (estimated, _) = assessment.candidates.largest_root(f64::EPSILON);
    let needed = if estimated > NEAR_ONE { None } else { drawn.needed(estimated, n) };
    Ok(Power {
        observations: n,
        terms: drawn.terms,
        found: found(&rows),
        short_run: drawn.short_run,
        rows,
        estimated,
        needed,
    })
}

/// The largest root that ADF finds in 80 of 100 series like an assessed one, on the line between neighbours among the
/// roots of [`power`]; none if it finds not even the smallest.
///
/// # Method
/// As [`power`], by bisection: four or five roots are drawn.
pub fn root_found_by_adf(assessment: &Assessment, options: &PowerOptions) -> Option<f64> {
    let drawn = Drawn::new(assessment, options);
    let n = assessment.judged.len();
    let power_at = |place: usize| drawn.adf_power(ROOTS[place], n, place);
    // A unit root is found at the level of the test, far below 80 %.
    let (mut low, mut high) = (0, ROOTS.len() - 1);
    let (mut found, mut missed) = (power_at(low), options.assess.alpha);
    if found < FOUND {
        return None;
    }
    while high - low > 1 {
        let middle = usize::midpoint(low, high);
        let power = power_at(middle);
        if power >= FOUND {
            (low, found) = (middle, power);
        } else {
            (high, missed) = (middle, power);
        }
    }
    Some(ROOTS[low] + (ROOTS[high] - ROOTS[low]) * (found - FOUND) / (found - missed))
}

/// The process that is drawn, and how it is tested.
struct Drawn {
    short_run: Vec<f64>,
    terms: Terms,
    lags: LagRule,
    options: PowerOptions,
}

impl Drawn {
    fn new(assessment: &Assessment, options: &PowerOptions) -> Self {
        let level = assessment.stages.first().map(|stage| &stage.unit_root);
        let lagged = |regressor: Regressor| matches!(regressor, Regressor::LaggedChange(_));
        let coefficients = level.iter().flat_map(|test| &test.regression);
        let own = coefficients.filter(|one| lagged(one.regressor)).map(|one| one.estimate).collect();
        Self {
            short_run: stationary(own),
            terms: level.map_or(Terms::Constant, |test| test.terms),
            lags: options.assess.lags,
            options: *options,
        }
    }

    /// A series with this root.
    fn series(&self, root: f64, n: usize, stream: u64) -> Vec<f64> {
        let e = NormalStream::new(self.options.seed, stream).take(n + BURN);
        let mut u: Vec<f64> = Vec::with_capacity(e.len());
        for shock in &e {
            let past = self.short_run.iter().zip(u.iter().rev());
            let carried: f64 = past.map(|(gamma, before)| gamma * before).sum();
            u.push(shock + carried);
        }
        // A unit root starts where the sample does; what is stationary starts long before.
        let first = if root < 1.0 { 0 } else { BURN };
        let mut level = 0.0;
        let x = u.into_iter().skip(first).map(|step| {
            level = root * level + step;
            level
        });
        x.skip(BURN - first).collect()
    }

    fn row(&self, root: f64, n: usize, place: usize) -> PowerRow {
        let draws = self.options.draws;
        let outcomes: Vec<Outcome> = (0..draws)
            .into_par_iter()
            .map(|draw| {
                let y = self.series(root, n, stream(place, draw));
                self.outcome(&y, draw % VERDICT_EACH == 0)
            })
            .collect();
        let share = |of: &dyn Fn(&Outcome) -> Option<bool>| {
            let known: Vec<bool> = outcomes.iter().filter_map(of).collect();
            known.iter().filter(|one| **one).count() as f64 / known.len().max(1) as f64
        };
        PowerRow {
            root,
            adf: share(&|one| one.adf),
            pp: share(&|one| one.pp),
            adf_gls: (self.terms != Terms::None).then(|| share(&|one| one.adf_gls)),
            kpss: share(&|one| one.kpss),
            verdict: share(&|one| one.verdict),
        }
    }

    fn outcome(&self, y: &[f64], with_verdict: bool) -> Outcome {
        let assess = &self.options.assess;
        let alpha = assess.alpha;
        let around = if self.terms == Terms::None { Terms::Constant } else { self.terms };
        let bandwidth = assess.bandwidth;
        let kpss_options = KpssOptions { terms: around, bandwidth, kernel: assess.kernel };
        let pp_options = PpOptions { terms: self.terms, bandwidth: Some(bandwidth), kernel: assess.kernel };
        let gls = GlsOptions { terms: around, lags: None, max_lags: assess.max_lags };
        Outcome {
            adf: self.adf_rejects(y),
            pp: pp(y, &pp_options).ok().and_then(|test| test.decision(alpha)),
            adf_gls: gls_tests(y, &gls).ok().and_then(|[test, ..]| test.decision(alpha)),
            kpss: kpss(y, &kpss_options).ok().and_then(|test| test.decision(alpha)),
            verdict: with_verdict
                .then(|| weigh_candidates(y, None))
                .flatten()
                .map(|found| found.kind().integration() == 0),
        }
    }

    fn adf_rejects(&self, y: &[f64]) -> Option<bool> {
        let options =
            AdfOptions { terms: self.terms, lags: self.lags, max_lags: self.options.assess.max_lags };
        adf(y, &options).ok().and_then(|test| test.decision(self.options.assess.alpha))
    }

    /// The length from which ADF finds a root, on the line between the lengths that are tried.
    fn needed(&self, root: f64, n: usize) -> Option<usize> {
        let mut before: Option<(usize, f64)> = None;
        for (place, halves) in LONGER.into_iter().enumerate() {
            let length = halves * n / 2;
            let power = self.adf_power(root, length, ROOTS.len() + place);
            if power >= FOUND {
                return before.map_or(Some(length), |(shorter, less)| {
                    let at = |m: &usize| {
                        let share = (m - shorter) as f64 / (length - shorter) as f64;
                        less + share * (power - less) >= FOUND
                    };
                    (shorter..=length).find(at)
                });
            }
            before = Some((length, power));
        }
        None
    }

    fn adf_power(&self, root: f64, n: usize, place: usize) -> f64 {
        let rejected: Vec<bool> = (0..self.options.draws)
            .into_par_iter()
            .filter_map(|draw| self.adf_rejects(&self.series(root, n, stream(place, draw))))
            .collect();
        rejected.iter().filter(|one| **one).count() as f64 / rejected.len().max(1) as f64
    }
}

/// Whether a null hypothesis is rejected in one series; none where a test does not decide.
struct Outcome {
    adf: Option<bool>,
    pp: Option<bool>,
    adf_gls: Option<bool>,
    kpss: Option<bool>,
    verdict: Option<bool>,
}

/// Every series has its own stream.
fn stream(place: usize, draw: usize) -> u64 {
    (place as u64) << 32 | draw as u64
}

/// Short-run coefficients, drawn together until they are those of a stationary process.
fn stationary(mut short_run: Vec<f64>) -> Vec<f64> {
    let is_stationary = |ar: &[f64]| {
        let mixture = Mixture { ar: ar.to_vec(), ma: Vec::new() };
        Whitening::new(&mixture, ar.len() + 2).is_some()
    };
    while !short_run.is_empty() && !is_stationary(&short_run) {
        let mut factor = 1.0;
        for value in &mut short_run {
            factor *= 0.98;
            *value *= factor;
        }
    }
    short_run
}

/// The largest root found in 80 of 100 series.
fn found(rows: &[PowerRow]) -> Option<f64> {
    let last = rows.iter().rposition(|row| row.adf >= FOUND)?;
    let own = rows.get(last)?;
    let next = rows.get(last + 1)?;
    Some(own.root + (next.root - own.root) * (own.adf - FOUND) / (own.adf - next.adf))
}

#[cfg(test)]
mod tests;
