//! The terms of the program: one row for each concept, with its name in the JSON and the words that are not used for it.

use crate::document::Document;
use crate::wording;
use crate::wording::titles;

use super::plain;

/// A concept and its term.
pub struct Term {
    pub noun: &'static str,
    pub definition: &'static str,
    /// Option, step or JSON field; empty where there is none.
    pub name: &'static str,
    /// Words that are not used for it, separated by commas.
    pub avoided: &'static str,
}

const fn term(
    noun: &'static str,
    definition: &'static str,
    name: &'static str,
    avoided: &'static str,
) -> Term {
    Term { noun, definition, name, avoided }
}

/// All terms, by subject.
pub const TERMS: &[Term] = &[
    term(
        "verdict",
        "joint assessment of a series: d, D, class and breaks, with probabilities",
        "verdict",
        "",
    ),
    term(
        "candidate model",
        "one of twelve unit-root, trend and break models that are compared",
        "models",
        "story, stories",
    ),
    term(
        "posterior probability",
        "probability of a model or class given the data",
        "probability",
        "chance of",
    ),
    term("confidence", "high, moderate or low rating of the verdict", "confidence", "notch, notches"),
    term(
        "unit root",
        "autoregressive root at one: the series is integrated",
        "integration",
        "wander, wanders, wandering",
    ),
    term(
        "seasonal unit roots",
        "unit roots at the seasonal frequencies: evolving seasonality",
        "seasonal_integration",
        "roots at its season",
    ),
    term(
        "deterministic seasonality",
        "a constant seasonal pattern, modelled by dummies",
        "seasonality",
        "season that stays, fixed season",
    ),
    term("deterministic terms", "constant, trend, dummies, steps and ramps", "terms, with", "fixed part"),
    term("harmonics", "cosines and sines of the first seasonal frequencies", "harmonics=N", ""),
    term("level shift", "permanent change in the level from one period on", "step=PERIOD", ""),
    term(
        "change in slope",
        "permanent change in the trend from one period on",
        "ramp=PERIOD",
        "bends, bend=",
    ),
    term("seasonal period", "observations per seasonal cycle", "season", "a season of"),
    term("seasonal difference", "difference at the seasonal lag", "d12, D", "difference at the season"),
    term("irregular component", "what trend and seasonal component leave", "irregular", "remainder"),
    term(
        "seasonal amplitude",
        "highest minus lowest value of the seasonal component",
        "first_amplitude, last_amplitude",
        "swing",
    ),
    term(
        "outlier",
        "observation that deviates strongly from its expected value",
        "outliers",
        "odd value, odd values",
    ),
    term("additive outlier (AO)", "outlier of one observation", "additive", ""),
    term(
        "temporary change (TC)",
        "outlier whose effect decays",
        "temporary_change",
        "fading, jump that fades",
    ),
    term("outlier-adjusted series", "series with its outliers replaced", "repair", "mend, mended"),
    term(
        "variance depends on the level",
        "heteroskedasticity that a transformation removes",
        "variance_level",
        "uneven spread",
    ),
    term("innovation", "one-step prediction error of the true model", "sigma2", "shocks"),
    term("standard error", "standard deviation of an estimate", "std_error", "s.e."),
    term(
        "significance level",
        "probability of rejecting a true null hypothesis",
        "alpha",
        "level of every decision",
    ),
    term("null hypothesis (H0)", "hypothesis that a test may reject", "null", "Null is"),
    term(
        "size, power",
        "probability of rejecting a true, a false null hypothesis",
        "size, power",
        "too seldom",
    ),
    term("lag order", "number of lags of an autoregression", "lags", ""),
    term(
        "penalty",
        "what an information criterion adds per parameter",
        "aic, aicc, bic, hq",
        "pays for, prices fitted",
    ),
    term(
        "near common factors",
        "nearly equal AR and MA roots: redundant parameters",
        "warnings",
        "all but cancel",
    ),
    term("root near unity", "root near the unit circle", "roots", "just below one"),
    term("point forecast", "median of the predictive distribution", "point", "foretell, foretold, foretells"),
    term(
        "prediction interval",
        "interval with a given probability of the future value",
        "intervals",
        "in 95 of 100 cases",
    ),
    term("actual value", "observed value of a forecast period", "actual", "what came to be"),
    term(
        "hold-out sample",
        "observations at the end that models are not estimated from",
        "held_out",
        "held back, left-out values",
    ),
    term("rolling origin", "successive forecast origins of an evaluation", "rolling", ""),
    term(
        "rolling window",
        "the last N observations up to a period, tested by themselves",
        "rolling",
        "moving test",
    ),
    term("recursive window", "all observations up to a period, tested by themselves", "recursive", ""),
    term("equilibrium error", "deviation of series from a cointegrating relation", "", ""),
    term("benchmark forecast", "naive, seasonal naive and drift forecasts", "benchmark", "simple rule"),
    term("weighted average", "average of forecasts with weights inverse to squared errors", "average", ""),
    term("mixture", "weighted combination of predictive distributions", "mixture", ""),
    term("relative RMSE", "RMSE divided by that of the best candidate", "geometric_mean_rmse", "To best"),
    term(
        "Granger causality",
        "lags of one series improve the prediction of another",
        "causality",
        "influence of",
    ),
    term(
        "cointegration",
        "stationary linear combination of I(1) series",
        "rank, vectors",
        "keep together, nothing ties",
    ),
    term(
        "adjustment coefficient",
        "response of a series to a deviation from equilibrium",
        "loadings",
        "answers a gap",
    ),
    term("maximum-eigenvalue test", "test of rank r against r + 1", "max_eigen", "largest eigenvalue"),
    term(
        "seasonal repetition",
        "cross-correlation repeated at a seasonal distance",
        "seasonal_repeats",
        "echo, echoes",
    ),
    term(
        "ARMA process",
        "process with autoregressive and moving-average terms",
        "model",
        "mixture of autoregression",
    ),
    term("decays to zero, cuts off, tails off", "patterns of ACF and PACF", "", "dies out, fades"),
    term("zero", "the number 0", "", "nought, noughts"),
    term(
        "original scale",
        "scale of the column before its transformation",
        "units",
        "own units, carried back",
    ),
    term("missing period", "period without an observation", "gaps", ""),
    term("flagged for review", "series whose diagnosis needs attention", "review", "wants a look"),
    term("white noise", "uncorrelated values with a constant mean and variance", "", ""),
    term("random walk", "a series with a unit root whose changes are white noise", "", ""),
    term("drift", "constant mean of the changes of a series with a unit root", "", ""),
    term("differencing", "taking changes from period to period, or from season to season", "", ""),
    term("AIC", "information criterion: minus twice the log-likelihood plus 2 for each coefficient", "", ""),
    term("AICc", "AIC corrected for short samples: by it models are ranked", "", ""),
    term(
        "BIC",
        "information criterion with log n for each coefficient: it prefers smaller models than AIC",
        "",
        "",
    ),
    term("HQ", "information criterion with 2 log log n for each coefficient, between AIC and BIC", "", ""),
    term("RMSE", "root of the mean squared forecast error, in the units of the series", "", ""),
    term("MAE", "mean absolute forecast error, in the units of the series", "", ""),
    term("MASE", "mean absolute error relative to that of the naive forecast within the sample", "", ""),
    term("stationary", "mean, variance and autocorrelations do not change over time", "stationary", ""),
    term("trend-stationary", "stationary about a deterministic trend", "trend_stationary", ""),
    term(
        "difference-stationary",
        "stationary after differencing: with a unit root",
        "difference_stationary",
        "",
    ),
    term(
        "order of integration",
        "differences until a series is stationary: d, and D seasonal ones",
        "integration",
        "",
    ),
    term(
        "largest root",
        "largest autoregressive root: the nearer to one, the slower shocks decay",
        "largest_root",
        "",
    ),
    term("half-life", "periods until half of a shock has decayed", "half_life", ""),
    term("trend", "long-run movement of the level: linear, or stochastic with a unit root", "trend", ""),
    term(
        "transformation",
        "logarithm, power or other step applied to a series: kandrel explain steps",
        "transformation",
        "",
    ),
    term("Box-Cox transformation", "power λ of the values, the logarithm for λ = 0", "boxcox", ""),
    term("seasonally adjusted series", "series without its seasonal component", "deseason", ""),
    term("residual", "observed value less the fitted one", "residuals", ""),
    term("p-value", "probability of a statistic at least as extreme under the null hypothesis", "p", ""),
    term(
        "critical value",
        "value of a statistic beyond which the null hypothesis is rejected",
        "critical_values",
        "",
    ),
    term(
        "test statistic",
        "number computed from the data whose distribution under the null hypothesis is known",
        "statistic",
        "",
    ),
    term("t ratio", "estimate divided by its standard error", "t", ""),
    term("log-likelihood", "logarithm of the density of the data under a model", "log_likelihood", ""),
    term(
        "restricted likelihood",
        "likelihood of contrasts that are free of the regression coefficients",
        "",
        "REML",
    ),
    term(
        "moving average",
        "weighted sum of innovations; or, as a step, the mean of neighbouring values",
        "avg",
        "",
    ),
    term("bandwidth", "autocovariances that a long-run variance takes in", "bandwidth", ""),
    term(
        "R squared",
        "share of the variance that the regressors explain; adjusted: less a penalty for their number",
        "r_squared",
        "",
    ),
    term("coverage", "share of prediction intervals that contain the actual value", "coverage", ""),
    term("runner-up", "second most probable alternative", "runner_up", ""),
    term("panel test", "test of several series at once: kandrel stationarity --panel", "panel", ""),
    term("working-day regressors", "working days of each period, as regressors", "workdays", ""),
    term("standard deviation", "root of the mean squared deviation from the mean", "sd", "SD"),
];

/// The term with that noun, or with one of the nouns of a pair.
pub fn by_noun(word: &str) -> Option<&'static Term> {
    let bare = |noun: &str| is_one_of(word, noun.split(" (").next().unwrap_or(noun));
    TERMS.iter().find(|one| is_one_of(word, one.noun) || bare(one.noun))
}

/// The term with that name in options or JSON.
pub fn by_name(word: &str) -> Option<&'static Term> {
    TERMS.iter().find(|one| is_one_of(word, one.name))
}

fn is_one_of(word: &str, list: &str) -> bool {
    let wanted = plain(word);
    !wanted.is_empty() && (plain(list) == wanted || plain(list).split(", ").any(|one| one == wanted))
}

/// A term as a document.
pub fn definition(term: &Term) -> Document {
    let name = match term.name {
        "" => String::new(),
        name => format!(" In options and JSON: {name}."),
    };
    let mut document = Document::default();
    document.paragraph(format!("{}: {}.{name}", wording::capitalised(term.noun), term.definition));
    document
}

/// The terms as a table.
pub fn document() -> Document {
    let mut document = Document::default();
    document.paragraph("Terms, definitions, and in brackets their names in options and JSON.");
    let row = |one: &Term| match one.name {
        "" => format!("{}: {}", one.noun, one.definition),
        name => format!("{}: {} [{name}]", one.noun, one.definition),
    };
    document.list(titles::GLOSSARY, TERMS.iter().map(row).collect());
    document
}

/// The same with the words that are not used, as a page of the documentation.
pub fn markdown() -> String {
    let head = "# Glossary\n\nOne row for each concept: its term, its definition, its name in options and JSON, and words that are \
                not used for it. `kandrel explain glossary` prints the first three columns; the page is written by \
                `cargo run -p xtask -- glossary`.\n\n| term | definition | name | not |\n| --- | --- | --- | --- |\n";
    let row = |one: &Term| {
        let name = if one.name.is_empty() { String::new() } else { format!("`{}`", one.name) };
        format!("| {} | {} | {name} | {} |\n", one.noun, one.definition, one.avoided)
    };
    format!("{head}{}", TERMS.iter().map(row).collect::<String>())
}
