//! Tests of unit roots and of stationarity.

use super::Topic;

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
];
