//! Tests of several series together.

use super::Topic;

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "im_pesaran_shin",
        title: "Im-Pesaran-Shin panel test",
        what: "The standardised mean of the Dickey-Fuller statistics of the series.",
        null: Some("all series have a unit root"),
        alternative: Some("some of them are stationary"),
        reading: "A rejection means that some series, not necessarily all, are stationary. Mean and variance under \
                  the null hypothesis are those of each series (length, lag selection).",
        misleads: "Under cross-sectional dependence it over-rejects strongly. See the correlation of the \
                  innovations, and use CIPS.",
        size: Some("nominal for independent series"),
        source: "Im, Pesaran and Shin (2003), Journal of Econometrics 115, 53-74.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
    Topic {
        name: "fisher",
        title: "Fisher's combination of p-values",
        what: "Minus twice the sum of the log p-values of the series, chi-squared with two degrees of freedom \
                  per series.",
        null: Some("all series have a unit root"),
        alternative: Some("some of them are stationary"),
        reading: "One series with a very small p-value suffices for a rejection.",
        misleads: "As Im-Pesaran-Shin. P-values below 0.0001 are counted as 0.0001.",
        size: Some("nominal for independent series"),
        source: "Fisher (1932), Statistical Methods for Research Workers; Maddala and Wu (1999), Oxford Bulletin of \
                 Economics and Statistics 61, 631-652.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
    Topic {
        name: "levin_lin_chu",
        title: "Levin-Lin-Chu panel test",
        what: "A common coefficient of the lagged level for all series; its t-statistic is adjusted for its \
                  bias under the null hypothesis.",
        null: Some("all series have a unit root"),
        alternative: Some("all are stationary with a common autoregressive coefficient"),
        reading: "The most powerful of the panel tests if the series are homogeneous. Adjustments and p-values are \
                  simulated for a panel of this size.",
        misleads: "Cross-sectional dependence, as Im-Pesaran-Shin; heterogeneous mean reversion reduces power.",
        size: Some("nominal for independent series"),
        source: "Levin, Lin and Chu (2002), Journal of Econometrics 108, 1-24.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
    Topic {
        name: "cips",
        title: "CIPS: cross-sectionally augmented panel test (Pesaran)",
        what: "The mean of Dickey-Fuller statistics whose regressions include the cross-sectional mean and its \
                  differences, which removes one common factor.",
        null: Some("all series have a unit root"),
        alternative: Some("some of them are stationary"),
        reading: "The test to use under cross-sectional dependence. P-values are simulated for a panel of this \
                  size.",
        misleads: "Two or more common factors are not removed by one mean; a unit root in the common factor itself \
                  is not tested.",
        size: Some("nominal with one common factor"),
        source: "Pesaran (2007), Journal of Applied Econometrics 22, 265-312.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
    Topic {
        name: "hadri",
        title: "Hadri's panel test of stationarity",
        what: "The standardised mean of the KPSS statistics of the series.",
        null: Some("all series are stationary"),
        alternative: Some("some of them have a unit root"),
        reading: "The null hypothesis is the opposite of the other tests. If both this test and a unit-root test \
                  reject, some series are stationary and some are not.",
        misleads: "Strong dependence within a series, as KPSS, and cross-sectional dependence.",
        size: Some("nominal for independent values of independent series"),
        source: "Hadri (2000), Econometrics Journal 3, 148-161.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
];
