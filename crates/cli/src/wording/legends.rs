//! Legends: what the columns, marks and abbreviations of tables and figures mean.

use kandrel_core::unitroot::TestName;

use super::test_names::{INDEPENDENT, NORMALITY};

pub const CIRCLES: &str = "Evidence against the null: ● p ≤ 0.01  ◕ p ≤ 0.05  ◑ p ≤ 0.10  ○ above";
pub const STARS: &str = "Evidence against the null: *** p ≤ 0.01, ** p ≤ 0.05, * p ≤ 0.10";
pub const CROSS_CORRELATION_LAG: &str =
    "Lag: how much earlier the first series moves; negative if the second moves first.";
pub const CORRELOGRAMS: &str =
    "Autocorrelations by lag, a column for each series; * outside the 95 % band of white noise.";
pub const CRITERIA_OF_GROUPS: &str =
    "ΔAICc and ΔBIC: difference from the minimum of the group; criteria are not comparable across groups.";
pub const DIEBOLD_MARIANO: &str = "RMSE: geometric mean over the horizons; Rel. RMSE: relative to the best candidate. DM p: Diebold-Mariano test of \
     equal squared-error loss against the best candidate, small-sample correction.";
pub const HOLM: &str =
    "Holm: p-value adjusted for the number of tests; the decisions and the first sentence use it.";
pub const LAG_CRITERIA: &str = "BIC, HQ, AIC: difference from the column minimum; FPE: ratio to its minimum. Criteria are not comparable across \
     columns. LR: test against one lag less.";
pub const OUTLIERS: &str = "● outlier, ○ candidate (one more method would flag it). Method columns: deviation in standard deviations, where the method \
     detects one. AO additive outlier, LS level shift, TC temporary change.";
pub const OVERVIEW: &str =
    "d, D: ordinary and seasonal differences. Prob.: posterior probability of the class.";
pub const POWER: &str = "Per cent of series. ADF, PP, ADF-GLS: rejections of a unit root. KPSS: rejections of stationarity. Verdict: no unit \
     root. The last row is the size of the first three and the power of KPSS.";
pub const RANKS: &str =
    "H0: cointegration rank at most r (trace); rank r against r + 1 (maximum eigenvalue).";
pub const ROBUSTNESS: &str = "Tests of the level without its seasonality. Null hypotheses: a unit root (ADF, PP), stationarity (KPSS). Each \
     sub-sample is assessed by itself; terms, lags and bandwidths are varied for the whole sample.";
pub const WINDOWS: &str = "Tests of the level without its seasonality (of its seasonal difference where it has seasonal unit roots), with the deterministic terms of the whole sample. Null hypotheses: a unit \
     root (ADF), stationarity (KPSS). p-values are those of one test; in many \
     windows some reject by chance.";
pub const SCREEN: &str = "d, D: ordinary and seasonal differences of the transformed series. Outliers: number detected. ●: flagged for review.";

/// The columns of a correlogram.
pub fn correlogram(is_seasonal: bool, fitted: usize, pacf_by_least_squares: bool) -> String {
    let seasonal = if is_seasonal { " s: seasonal lag;" } else { "" };
    let fitted = match fitted {
        0 => String::new(),
        fitted => format!(" Its degrees of freedom are the lag less {fitted} for the parameters fitted."),
    };
    let method = if pacf_by_least_squares { " The PACF is estimated by least squares." } else { "" };
    format!(
        "* outside the white-noise band;{seasonal} Q: Ljung-Box statistic of all lags up to this one. Std. error: of the \
         autocorrelation if all higher ones are zero (Bartlett).{fitted}{method}"
    )
}

/// The marks of a cross-correlogram.
pub fn cross_correlogram(band: f64) -> String {
    format!("* outside the band of unrelated series, ±{band:.3}")
}

/// The columns of a table of models.
pub fn models(criterion: &str, is_restricted: bool) -> String {
    let restricted = if is_restricted { ", from the restricted likelihood" } else { "" };
    format!(
        "Δ{criterion}: difference from the minimum{restricted} (up to 2: no substantial difference). Ljung-Box p: residual \
         autocorrelation. Warnings: C near common factors, A autoregressive root near unity, M moving-average root near \
         unity; models with a warning come last and are chosen only if they are more than 10 lower."
    )
}

/// The null hypotheses of the tests of randomness.
pub fn randomness() -> String {
    format!("The null of each test: {INDEPENDENT}; of Jarque-Bera: {NORMALITY}.")
}

/// The abbreviations of unit-root tests that are in a table.
pub fn unit_root_tests(shown: &[TestName]) -> String {
    let has = |names: &[TestName]| shown.iter().any(|test| names.contains(test));
    let mut text =
        "Lags: lagged differences, or bandwidth of the long-run variance (KPSS, PP). Δ, Δ²: first, second difference."
            .to_owned();
    if has(&[TestName::AdfGls, TestName::PointOptimal, TestName::NgPerron]) {
        text += " ADF-GLS, P_T (point optimal), MZt (M-test): detrended by generalised least squares.";
    }
    if has(&[TestName::ZivotAndrews]) {
        text += " ZA: Zivot and Andrews, against a trend with a break of level, slope, or both.";
    }
    if has(&[TestName::Perron]) {
        text += " Perron A, B, C: the same with the break that --break-at names.";
    }
    if has(&[TestName::LeeStrazicich]) {
        text += " LS: Lee and Strazicich, breaks under the null too.";
    }
    if has(&[TestName::LogPeriodogram, TestName::LocalWhittle]) {
        text += " GPH d, LW d: order of fractional integration (log-periodogram, local Whittle) over its error; lags are \
                 frequencies.";
    }
    text
}

/// Tests whose p-values do not know of the search for the lag.
pub fn lags_as_if_given(tests: &[&str]) -> String {
    format!(
        " The p-values of {} are as if the lags had been given: a little too small after a search.",
        tests.join(", ")
    )
}

/// The column of bootstrap p-values.
pub fn bootstrap(draws: u32, is_wild: bool, seed: u64) -> String {
    let how = if is_wild { "each with its sign drawn (wild)" } else { "drawn with replacement" };
    format!(
        " Boot. p: bootstrap p-value from {draws} replications with the dynamics and innovations of this series, {how}, \
         seed {seed}."
    )
}

/// How seasonality was removed before the tests.
pub fn season_out(how: Option<&str>) -> &'static str {
    match how {
        Some("pattern") => " The seasonal pattern was removed before.",
        Some("autoregression") => " The tests are of what the seasonal autoregression leaves.",
        Some("difference") => " The tests are of the seasonal difference.",
        _ => "",
    }
}
