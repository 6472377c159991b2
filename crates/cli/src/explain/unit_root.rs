//! Tests of unit roots and of stationarity.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "adf",
        title: "Augmented Dickey-Fuller test",
        what: "The t-statistic of the lagged level in a regression of the first difference on it, on lagged \
                  differences and on deterministic terms (none, a constant, a constant and a trend).",
        null: Some("a unit root"),
        alternative: Some("stationary around the deterministic terms"),
        reading: "A small p-value is evidence for stationarity. A large one does not prove a unit root. P-values \
                  come from Kandrel's own null distributions for the sample size, the lag-selection rule and the \
                  choice of deterministic terms.",
        misleads: "A root of 0.97 is hard to distinguish from one; a level shift or a broken trend resembles a unit \
                  root; a strongly negative moving average leads to over-rejection; too few deterministic terms \
                  hide trend-stationarity, too many reduce power.",
        size: Some(
            "nominal to 0.3 percentage points for every lag rule; with data-dependent deterministic terms it \
                  is conservative for a random walk with a strong drift (3 %)",
        ),
        source: "Dickey and Fuller (1979), JASA 74, 427-431; Said and Dickey (1984), Biometrika 71, 599-607.",
        example: "kandrel stationarity demo:harbour berth_fee --lags bic",
    },
    Topic {
        name: "kpss",
        title: "KPSS test",
        what: "The sum of squared partial sums of the deviations from a mean or a trend, over the long-run variance.",
        null: Some("stationary around a mean, or around a trend"),
        alternative: Some("a unit root"),
        reading: "The null hypothesis is stationarity: a small p-value is evidence against it. If both ADF and \
                  KPSS reject, a break or long memory is likely; if neither rejects, the data are not informative \
                  enough.",
        misleads: "With a short bandwidth a stationary series with strong dependence is over-rejected; with a long \
                  bandwidth power is low.",
        size: Some(
            "nominal for independent values, above nominal for dependent ones: an AR(1) with 0.9 is strongly \
                  over-rejected with a short bandwidth",
        ),
        source: "Kwiatkowski, Phillips, Schmidt and Shin (1992), Journal of Econometrics 54, 159-178; bandwidth: \
                 Hobijn, Franses and Ooms (2004), Statistica Neerlandica 58, 483-502.",
        example: "kandrel stationarity demo:harbour waiting",
    },
    Topic {
        name: "pp",
        title: "Phillips-Perron test",
        what: "The Dickey-Fuller statistics without lagged differences, corrected by the long-run variance of \
                  the residuals; the statistic is Z_tau, and Z_rho is reported as well.",
        null: Some("a unit root"),
        alternative: Some("stationary around the deterministic terms"),
        reading: "As ADF. P-values are for the sample size and the bandwidth.",
        misleads: "With a negative moving average in the differences it rejects a true unit root nearly always, far \
                  more often than ADF: do not rely on it alone.",
        size: Some(
            "nominal for a random walk with independent increments; far above nominal for negatively \
                  autocorrelated increments",
        ),
        source: "Phillips and Perron (1988), Biometrika 75, 335-346.",
        example: "kandrel stationarity demo:harbour berth_fee --tests pp",
    },
    Topic {
        name: "adf_gls",
        title: "ADF test after GLS detrending (ADF-GLS)",
        what: "The deterministic terms are estimated from quasi-differences with a root slightly below one and \
                  removed; then the ADF regression without terms, lags by the modified AIC.",
        null: Some("a unit root"),
        alternative: Some("stationary around a constant or a trend, with a root near unity"),
        reading: "As ADF, with higher power against roots near unity.",
        misleads: "A first value far from the mean reduces power. With lags by the modified AIC it often fails to \
                  reject for white noise and for differences: use it for levels only.",
        size: Some("nominal to a few tenths of a percentage point"),
        source: "Elliott, Rothenberg and Stock (1996), Econometrica 64, 813-836; lags: Ng and Perron (2001), \
                 Econometrica 69, 1519-1554; Perron and Qu (2007), Economics Letters 94, 12-19.",
        example: "kandrel stationarity demo:harbour berth_fee --tests adf_gls",
    },
    Topic {
        name: "point_optimal",
        title: "Feasible point-optimal test",
        what: "Improvement in fit of quasi-differences with a root slightly below one over first differences, \
                  relative to the long-run variance.",
        null: Some("a unit root"),
        alternative: Some("stationary around a constant or a trend"),
        reading: "Small values are evidence against a unit root; the test has maximum power against one point \
                  alternative.",
        misleads: "It depends on the estimate of the long-run variance, which is unreliable with few observations \
                  and many lags.",
        size: Some("nominal to a few tenths of a percentage point"),
        source: "Elliott, Rothenberg and Stock (1996), Econometrica 64, 813-836.",
        example: "kandrel stationarity demo:harbour berth_fee --tests point_optimal",
    },
    Topic {
        name: "ng_perron",
        title: "M-tests (MZ_alpha, MZ_t, MSB, MP_T)",
        what: "Statistics of the GLS-detrended series with correct size under a negative moving average in the \
                  differences; the p-value is that of MZ_t.",
        null: Some("a unit root"),
        alternative: Some("stationary around a constant or a trend"),
        reading: "Small values are evidence against a unit root.",
        misleads: "As the other GLS tests, for levels only; power is low where the modified AIC selects many lags.",
        size: Some("nominal to a few tenths of a percentage point"),
        source: "Ng and Perron (2001), Econometrica 69, 1519-1554.",
        example: "kandrel stationarity demo:harbour berth_fee --tests ng_perron",
    },
    Topic {
        name: "zivot_andrews",
        title: "Zivot-Andrews test (one break, endogenous date)",
        what: "The smallest ADF t-statistic over all break dates between 15 % and 85 % of the sample, for a \
                  break in the level, in the slope, and in both.",
        null: Some("a unit root without a break"),
        alternative: Some("trend-stationary with one break"),
        reading: "A rejection means that a trend with one break describes the series better than a unit root; the \
                  detail gives the last period of the first regime.",
        misleads: "The null hypothesis excludes a break: a random walk with a break is over-rejected. The date \
                  minimises the test statistic and is no estimate of the break date.",
        size: Some(
            "nominal for a lag order fixed in advance and for lags by AIC; with another rule the p-value does \
                  not allow for lag selection and is too small in short series",
        ),
        source: "Zivot and Andrews (1992), Journal of Business & Economic Statistics 10, 251-270.",
        example: "kandrel stationarity demo:harbour tug_hours --tests zivot_andrews",
    },
    Topic {
        name: "hegy",
        title: "Seasonal unit roots (HEGY)",
        what: "A regression of the seasonal difference on filtered levels, one or two for each seasonal \
                  frequency, on seasonal dummies and a trend; lags by AIC.",
        null: Some("unit roots at all seasonal frequencies (for its own p-value); at one frequency (detail)"),
        alternative: Some("deterministic or stationary seasonality"),
        reading: "A large p-value: seasonal unit roots are not rejected, which suggests a seasonal difference. A \
                  small one: seasonal dummies suffice.",
        misleads: "With a seasonal moving average near one it over-rejects; with few seasonal cycles power is low. \
                  The verdict compares models by exact likelihood instead and reports where this test disagrees.",
        size: Some("nominal for a lag order fixed in advance and for lags by AIC up to one seasonal cycle"),
        source: "Hylleberg, Engle, Granger and Yoo (1990), Journal of Econometrics 44, 215-238; Beaulieu and Miron \
                 (1993), Journal of Econometrics 55, 305-328.",
        example: "kandrel stationarity demo:harbour freight:ln --tests hegy",
    },
    Topic {
        name: "dickey_fuller_f",
        title: "Joint tests of Dickey and Fuller (phi1, phi2, phi3)",
        what: "F statistics of the ADF regression: a unit root and no constant (phi1), no constant and no trend \
               (phi2), no trend (phi3).",
        null: Some("a unit root, and no drift (phi1, phi2) or no quadratic trend (phi3)"),
        alternative: Some("stationary, or with these terms"),
        reading: "Large values reject; the statistics do not follow the F distribution, and p-values come from \
                  simulation for a lag order fixed in advance.",
        misleads: "A rejection may be due to the deterministic terms alone.",
        size: Some("nominal for a lag order fixed in advance"),
        source: "Dickey and Fuller (1981), Econometrica 49, 1057-1072.",
        example: "kandrel stationarity demo:harbour berth_fee --regression",
    },
    Topic {
        name: "model_probabilities",
        title: "The verdict: posterior probabilities of candidate models",
        what: "Twelve models (mean, trend, random walk with or without drift, two unit roots, and these with \
                  breaks) are estimated by exact likelihood and averaged over about a thousand short-run dynamics. \
                  Each model carries a penalty for its deterministic terms and for the estimated break date; the \
                  penalties were calibrated by simulation on processes with random parameters.",
        reading: "The verdict is the most probable class of models. Confidence is high from 90 % and moderate from \
                  75 %; it is lowered by one level if the ADF test disagrees, if innovations remain \
                  autocorrelated, if long memory explains the series as well, and below 100 observations.",
        misleads: "With 200 observations a root of 0.97 is more often than not classified as a unit root; see the \
                  credible interval of the largest root. A negative moving average near one hides a unit root in \
                  short series.",
        source: "Restricted likelihood: Harville (1974), Biometrika 61, 383-385; exact filter: Ansley (1979), \
                 Biometrika 66, 59-65; hit rates: docs/validation.md.",
        example: "kandrel stationarity demo:harbour tug_hours",
        ..NO_TEST
    },
    Topic {
        name: "subsample_moments",
        title: "Mean, variance and first-order autocorrelation by subsample",
        what: "Mean, standard deviation and first-order autocorrelation of each quarter of the sample, with a \
                  Wald test of equality for each, robust to serial correlation.",
        null: Some("the moment is equal in all subsamples"),
        alternative: Some("it differs between subsamples"),
        reading: "It shows which part of weak stationarity fails: mean, variance or autocovariance.",
        misleads: "With a unit root the subsample means differ without any change in the process.",
        size: Some("a few percentage points above nominal in short or strongly dependent series"),
        source: "Newey and West (1987), Econometrica 55, 703-708, for the long-run variance.",
        example: "kandrel stationarity demo:harbour freight",
    },
];
