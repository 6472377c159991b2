//! Tests of unit roots and of stationarity.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "adf",
        title: "Augmented Dickey-Fuller test",
        what: "The t-value of the lagged level in a regression of the change on it, on lagged changes and on the terms \
               (none, a constant, a constant and a trend).",
        null: Some("a unit root: the level wanders, shocks last for ever"),
        alternative: Some("stationary about the terms"),
        reading: "A small p-value speaks for stationarity. A large one does not prove a unit root. p-values come from \
                  the project's own null distributions, for the series' length, the search for lags and the choice of \
                  terms.",
        misleads: "A root of 0.97 looks like one; a level shift or a broken trend looks like a unit root; a strongly \
                   negative moving average looks stationary; too few terms hide a trend's alternative, too many cost \
                   power.",
        size: Some(
            "the nominal one, to 0.3 points, for every lag rule; where the data choose the terms it is too \
                    cautious for a walk with a clear drift (3 %)",
        ),
        source: "Dickey and Fuller (1979), JASA 74, 427-431; Said and Dickey (1984), Biometrika 71, 599-607.",
        example: "kandrel stationarity demo:harbour berth_fee --lags bic",
    },
    Topic {
        name: "kpss",
        title: "KPSS test",
        what: "The sum of squared partial sums of the deviations from a mean or a trend, over the long-run variance.",
        null: Some("stationary about a mean, or about a trend"),
        alternative: Some("a unit root"),
        reading: "Its null is the other one: a small p-value speaks against stationarity. Both tests rejecting points \
                  to a break or to long memory, neither rejecting to too little data.",
        misleads: "A stationary series with strong dependence is rejected too often when the bandwidth is short, and \
                   with a long one a unit root is missed.",
        size: Some(
            "the nominal one for independent values; above it for dependent ones: an AR(1) with 0.9 is rejected \
                    far too often with a short bandwidth",
        ),
        source: "Kwiatkowski, Phillips, Schmidt and Shin (1992), Journal of Econometrics 54, 159-178; bandwidth: \
                 Hobijn, Franses and Ooms (2004), Statistica Neerlandica 58, 483-502.",
        example: "kandrel stationarity demo:harbour waiting",
    },
    Topic {
        name: "pp",
        title: "Phillips-Perron test",
        what: "The Dickey-Fuller statistics without lagged changes, corrected by the long-run variance of the \
               residuals instead; the statistic is Z_tau, Z_rho stands beside it.",
        null: Some("a unit root"),
        alternative: Some("stationary about the terms"),
        reading: "As ADF. p-values are for the series' length and the bandwidth.",
        misleads: "With a negative moving average in the changes it rejects a true unit root nearly always, far more \
                   often than ADF: never take it alone.",
        size: Some(
            "the nominal one for a random walk with independent steps; far above it for negatively correlated \
                    steps",
        ),
        source: "Phillips and Perron (1988), Biometrika 75, 335-346.",
        example: "kandrel stationarity demo:harbour berth_fee --tests pp",
    },
    Topic {
        name: "adf_gls",
        title: "ADF test after detrending by GLS (ADF-GLS)",
        what: "The terms are estimated from quasi-differences, as if the largest root were a little below one, and \
               taken out; then the ADF regression without terms, lags by the modified AIC.",
        null: Some("a unit root"),
        alternative: Some("stationary about a constant or a trend, with a root near one"),
        reading: "As ADF; it finds roots just below one more often.",
        misleads: "A first value far from the mean costs it power. With lags by the modified AIC it often fails to \
                   reject for white noise and for differences: it is for levels only.",
        size: Some("the nominal one, to a few tenths of a point"),
        source: "Elliott, Rothenberg and Stock (1996), Econometrica 64, 813-836; lags: Ng and Perron (2001), \
                 Econometrica 69, 1519-1554; Perron and Qu (2007), Economics Letters 94, 12-19.",
        example: "kandrel stationarity demo:harbour berth_fee --tests adf_gls",
    },
    Topic {
        name: "point_optimal",
        title: "Feasible point-optimal test",
        what: "How much better quasi-differences with a root a little below one fit than differences, over the \
               long-run variance.",
        null: Some("a unit root"),
        alternative: Some("stationary about a constant or a trend"),
        reading: "Small values speak against a unit root: no test has more power against that one alternative.",
        misleads: "The estimate of the long-run variance: with few observations and many lags it is a matter of luck.",
        size: Some("the nominal one, to a few tenths of a point"),
        source: "Elliott, Rothenberg and Stock (1996), Econometrica 64, 813-836.",
        example: "kandrel stationarity demo:harbour berth_fee --tests point_optimal",
    },
    Topic {
        name: "ng_perron",
        title: "M-tests (MZ_alpha, MZ_t, MSB, MP_T)",
        what: "Statistics of the series detrended by generalised least squares that hold their size with a negative \
               moving average in the changes; the p-value is that of MZ_t.",
        null: Some("a unit root"),
        alternative: Some("stationary about a constant or a trend"),
        reading: "Small values of each speak against a unit root.",
        misleads: "Like the whole family, it is for levels only, and has little power where the modified AIC takes \
                   many lags.",
        size: Some("the nominal one, to a few tenths of a point"),
        source: "Ng and Perron (2001), Econometrica 69, 1519-1554.",
        example: "kandrel stationarity demo:harbour berth_fee --tests ng_perron",
    },
    Topic {
        name: "zivot_andrews",
        title: "Unit root against one break, its date by the data",
        what: "The smallest ADF t-value over all break dates between 15 % and 85 % of the series, for a break of the \
               level, of the slope, and of both.",
        null: Some("a unit root without a break"),
        alternative: Some("stationary about a trend that breaks once"),
        reading: "A rejection says that a trend with one break describes the series better than a unit root; detail \
                  gives the last period of the old regime.",
        misleads: "The null has no break: a random walk with a break is rejected too often. The date is chosen to \
                   speak against the unit root, not to be found well.",
        size: Some(
            "the nominal one, for given lags and for lags by AIC; with another rule the p-value does not allow for \
                    that search and is too small in short series",
        ),
        source: "Zivot and Andrews (1992), Journal of Business & Economic Statistics 10, 251-270.",
        example: "kandrel stationarity demo:harbour tug_hours --tests zivot_andrews",
    },
    Topic {
        name: "hegy",
        title: "Unit roots at the frequencies of a season (HEGY)",
        what: "A regression of the seasonal difference on filtered levels, one or two for each frequency of the \
               season, on seasonal dummies and a trend; lags by AIC.",
        null: Some(
            "unit roots at all frequencies of the season (for its own p-value); at one frequency (detail)",
        ),
        alternative: Some("a season that repeats itself, beside whatever else there is"),
        reading: "A large p-value: the season may wander, difference at lag s. A small one: seasonal terms are \
                  enough.",
        misleads: "With a seasonal moving average near one it over-rejects; with few seasonal cycles it has little \
                   power. The verdict compares models by exact likelihood instead, and says where this test disagrees.",
        size: Some("the nominal one, for given lags and for lags by AIC among a season's"),
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
        reading: "Large values reject; their distribution is not that of F, the p-values come from simulation for \
                  given lags.",
        misleads: "A rejection may be due to the terms alone.",
        size: Some("the nominal one for given lags"),
        source: "Dickey and Fuller (1981), Econometrica 49, 1057-1072.",
        example: "kandrel stationarity demo:harbour berth_fee --regression",
    },
    Topic {
        name: "model_probabilities",
        title: "The verdict: which story is most probable",
        what: "Twelve stories (a mean, a trend, a random walk with or without drift, two unit roots, and these with \
               breaks) are fitted by exact likelihood and averaged over about a thousand short-run dynamics. Each pays \
               for its terms and for the search of its break date, at prices fitted to series of random parameters.",
        reading: "The verdict is the most probable kind of story. From 90 % its confidence is high, from 75 % \
                  moderate; one notch lower where the ADF test contradicts it, where innovations stay \
                  autocorrelated, where long memory explains the series as well, and below 100 observations.",
        misleads: "A root of 0.97 is called a unit root more often than not at 200 observations, and nothing can be \
                   done about it: see the interval of the largest root. A negative moving average near one hides a \
                   unit root in short series.",
        source: "Restricted likelihood: Harville (1974), Biometrika 61, 383-385; exact filter: Ansley (1979), \
                 Biometrika 66, 59-65; hit rates: docs/validation.md.",
        example: "kandrel stationarity demo:harbour tug_hours",
        ..NO_TEST
    },
    Topic {
        name: "subsample_moments",
        title: "Mean, variance and autocovariance by segment",
        what: "The series in four quarters: mean, standard deviation and first autocorrelation of each, and for each \
               of the three a Wald test that it is the same in all, which allows for serial correlation.",
        null: Some("the moment is the same in all segments"),
        alternative: Some("it changes from segment to segment"),
        reading: "Which part of weak stationarity fails: a mean that moves, a swing that grows, a rhythm that changes.",
        misleads: "In a series with a unit root the mean of each quarter differs without anything having changed.",
        size: Some("a few points above the nominal one in short or strongly dependent series"),
        source: "Newey and West (1987), Econometrica 55, 703-708, for the long-run variance.",
        example: "kandrel stationarity demo:harbour freight",
    },
];
