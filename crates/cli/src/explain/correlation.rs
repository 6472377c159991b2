//! Autocorrelation and cross-correlation.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "acf",
        title: "Autocorrelation function",
        what: "The correlation of a series with itself k periods earlier, for k = 1, 2, …, with the mean and the \
               variance of the whole series.",
        reading: "In this order. Decay: an ACF outside the band after a third of the lags that falls nearly \
                  linearly indicates non-stationarity; difference first. Lags s and 2s significant: seasonality. \
                  Cut-off after lag q: MA(q); tailing off: autoregression. About 5 % of the lags lie outside the \
                  band under white noise.",
        misleads: "It is biased towards zero in short series, and values at neighbouring lags are correlated, so \
                  significant lags come in groups. A level shift or a trend resembles slow decay.",
        source: "Box, Jenkins and Reinsel (1994), Time Series Analysis, 3rd ed., chapter 2; errors: Bartlett (1946), \
                 JRSS Supplement 8, 27-41.",
        example: "kandrel acf demo:harbour waiting",
        ..NO_TEST
    },
    Topic {
        name: "pacf",
        title: "Partial autocorrelation function",
        what: "The correlation of a series with itself k periods earlier after adjustment for the lags between: \
                  the last coefficient of an AR(k) model.",
        reading: "It cuts off after lag p for an AR(p) process and tails off for a moving average.",
        misleads: "It cuts off after lag 1 for a random walk as well, which is not an AR(1) process. Orders are \
                  read only from a series whose ACF decays to zero. The Yule-Walker estimate (the default) is \
                  biased near a unit root; --pacf least-squares is not.",
        source: "Durbin (1960), Revue de l'Institut International de Statistique 28, 233-244.",
        example: "kandrel acf demo:harbour waiting --pacf least-squares",
        ..NO_TEST
    },
    Topic {
        name: "cross_correlation",
        title: "Cross-correlation function",
        what: "The correlation of a first series k periods earlier with a second one, for k from -K to K.",
        null: Some("the two series are independent at every lag, and one of them is white noise (the band)"),
        alternative: Some("they are correlated at some lag"),
        reading: "A maximum at a positive lag means that the first series leads by that number of periods, at a \
                  negative lag that the second leads. Significance of the largest correlation allows for the \
                  number of lags.",
        misleads: "Two series that are non-stationary or share seasonality are spuriously correlated, and two \
                  autocorrelated series exceed the band far too often: prewhiten them. Maxima one seasonal period \
                  away from the largest are seasonal repetitions.",
        size: Some(
            "nominal for white noise; for two independent autoregressions with coefficient 0.9 more than 60 % \
                  of pairs are significant before prewhitening, about 10 % after it",
        ),
        source: "Box, Jenkins and Reinsel (1994), section 11.2; Haugh (1976), JASA 71, 378-385.",
        example: "kandrel relate demo:harbour bookings sailings --cross --prewhiten",
    },
    Topic {
        name: "prewhitening",
        title: "Prewhitening",
        what: "An autoregression (order by AIC) is fitted to the first series, and both series are filtered by \
                  it, so that the first becomes white noise.",
        reading: "The same filter is applied to both series, so the lead-lag relation is preserved and the band of \
                  the cross-correlations is valid.",
        misleads: "The magnitudes of the correlations change. Seasonality requires a filter of at least one \
                  seasonal period, for which a short series is not long enough.",
        source: "Box, Jenkins and Reinsel (1994), section 11.2; Haugh (1976), JASA 71, 378-385.",
        example: "kandrel relate demo:harbour bookings sailings --prewhiten",
        ..NO_TEST
    },
    Topic {
        name: "correlation",
        title: "Correlation of levels and of first differences",
        what: "The correlation coefficient of each pair of series over their common periods, in levels and in \
                  first differences.",
        reading: "Use levels only where they are stationary, otherwise first differences.",
        misleads: "Non-stationary levels are spuriously correlated: two independent random walks exceed 0.5 in 40 % \
                  of cases, whatever the sample size. Shared seasonality has the same effect.",
        source: "Yule (1926), JRSS 89, 1-63; Granger and Newbold (1974), Journal of Econometrics 2, 111-120.",
        example: "kandrel relate demo:harbour freight berth_fee claims",
        ..NO_TEST
    },
    Topic {
        name: "lowess",
        title: "Locally weighted regression (lowess)",
        what: "A smooth curve: at each point a line fitted to the nearest two thirds of the points, with \
                  weights that decrease with the distance and with the residual.",
        reading: "Curvature indicates a non-linear relation, which r understates.",
        misleads: "At both ends the curve depends on few points.",
        source: "Cleveland (1979), JASA 74, 829-836.",
        example: "kandrel relate demo:harbour bookings sailings --scatter --curve",
        ..NO_TEST
    },
];
