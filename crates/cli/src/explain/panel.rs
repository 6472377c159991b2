//! Tests of several series together.

use super::Topic;

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "im_pesaran_shin",
        title: "Im-Pesaran-Shin panel test",
        what: "The mean of the series' Dickey-Fuller statistics, less what it is under the null, over its spread there.",
        null: Some("all series have a unit root"),
        alternative: Some("some of them are stationary"),
        reading: "A rejection says that some of the series return, not that all do. The null distribution is made of each \
                  series' own (its length, its search for lags).",
        misleads: "Common shocks: where the series move together it rejects far too often. See the correlation of the \
                   shocks, and take Pesaran's test then.",
        size: Some("the nominal one for independent series"),
        source: "Im, Pesaran and Shin (2003), Journal of Econometrics 115, 53-74.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
    Topic {
        name: "fisher",
        title: "Fisher's combination of p-values",
        what: "Minus twice the sum of the logarithms of the series' p-values, chi-squared with two degrees of freedom a \
               series.",
        null: Some("all series have a unit root"),
        alternative: Some("some of them are stationary"),
        reading: "One series with a tiny p-value is enough to reject.",
        misleads: "As Im-Pesaran-Shin. A p-value below 0.0001 counts as 0.0001.",
        size: Some("the nominal one for independent series, as the p-values are true for their length"),
        source: "Fisher (1932), Statistical Methods for Research Workers; Maddala and Wu (1999), Oxford Bulletin of \
                 Economics and Statistics 61, 631-652.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
    Topic {
        name: "levin_lin_chu",
        title: "Levin-Lin-Chu panel test",
        what: "One coefficient of the lagged level for all series, its t-value corrected for what pulls it down under the \
               null.",
        null: Some("all series have a unit root"),
        alternative: Some("all are stationary with one and the same speed of return"),
        reading: "The strongest of the tests where the series are alike. Corrections and p-values are drawn for a panel of \
                  this size.",
        misleads: "Common shocks, as Im-Pesaran-Shin; and series that return at different speeds cost it power.",
        size: Some("the nominal one for independent series"),
        source: "Levin, Lin and Chu (2002), Journal of Econometrics 108, 1-24.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
    Topic {
        name: "cips",
        title: "Pesaran's panel test beside the means",
        what: "The mean of Dickey-Fuller statistics whose regressions have the mean over all series, and its changes, \
               beside them: that takes one common shock out.",
        null: Some("all series have a unit root"),
        alternative: Some("some of them are stationary"),
        reading: "The one to trust where shocks are common. p-values are drawn for a panel of this size.",
        misleads: "Two or more common shocks are not taken out by one mean; a unit root in the common shock itself is not \
                   tested.",
        size: Some("the nominal one with a single common shock"),
        source: "Pesaran (2007), Journal of Applied Econometrics 22, 265-312.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
    Topic {
        name: "hadri",
        title: "Hadri's panel test of stationarity",
        what: "The mean of the series' KPSS statistics, less what it is under the null, over its spread there.",
        null: Some("all series are stationary"),
        alternative: Some("some of them have a unit root"),
        reading: "The opposite null of the others. Where both this and a test of unit roots reject, some series are of the \
                  one kind and some of the other.",
        misleads: "Strong dependence within a series, as KPSS; and common shocks.",
        size: Some("the nominal one for independent values of independent series"),
        source: "Hadri (2000), Econometrics Journal 3, 148-161.",
        example: "kandrel stationarity demo:harbour berth_fee waiting claims --panel",
    },
];
