//! Autocorrelation and cross-correlation.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "acf",
        title: "Autocorrelation function",
        what: "The correlation of a series with itself k periods earlier, for k = 1, 2, …, with the mean and the \
               variance of the whole series.",
        reading: "In this order: does it die out (if it is still outside the band after a third of the lags and falls \
                  nearly in a straight line, the series is not stationary: stop and difference); do lags s and 2s \
                  stand out (a season); does it end after lag q (a moving average of order q) or fade (an \
                  autoregression); how many lags would chance put outside the band (one in twenty).",
        misleads: "It is biased towards zero in short series, and its values at neighbouring lags are correlated, so \
                   that one stray lag brings others with it. A level shift or a trend looks like slow decay.",
        source: "Box, Jenkins and Reinsel (1994), Time Series Analysis, 3rd ed., chapter 2; errors: Bartlett (1946), \
                 JRSS Supplement 8, 27-41.",
        example: "kandrel acf demo:harbour waiting",
        ..NO_TEST
    },
    Topic {
        name: "pacf",
        title: "Partial autocorrelation function",
        what: "The correlation of a series with itself k periods earlier, once the lags between have been allowed for: \
               the last coefficient of an autoregression of order k.",
        reading: "It ends after lag p for an autoregression of order p, and fades for a moving average.",
        misleads: "It ends after lag 1 for a random walk too: that is no AR(1). Orders are read only from a series \
                   whose ACF dies out. The estimate from the autocorrelations (the default) is biased near a unit \
                   root; --pacf least-squares is not.",
        source: "Durbin (1960), Revue de l'Institut International de Statistique 28, 233-244.",
        example: "kandrel acf demo:harbour waiting --pacf least-squares",
        ..NO_TEST
    },
    Topic {
        name: "cross_correlation",
        title: "Cross-correlation function",
        what: "The correlation of a first series k periods earlier with a second one, for k from -K to K.",
        null: Some("the two series are unrelated at every lag, one of them white noise (the band)"),
        alternative: Some("they are related at some lag"),
        reading: "A peak at a positive lag says that the first series leads by so much, at a negative one that the \
                  second leads. The largest of all lags has to exceed what the largest of so many reaches by chance.",
        misleads: "Two series that trend, wander or share a season are correlated without having anything to do with \
                   each other, and two autocorrelated ones exceed the band far too often: prewhiten them. Peaks a \
                   season from the largest are its echoes.",
        size: Some(
            "right for white noise; of two unrelated autoregressions with coefficient 0.9 more than six pairs in \
                    ten stand out before prewhitening, about one in ten after it",
        ),
        source: "Box, Jenkins and Reinsel (1994), section 11.2; Haugh (1976), JASA 71, 378-385.",
        example: "kandrel relate demo:harbour bookings sailings --cross --prewhiten",
    },
    Topic {
        name: "prewhitening",
        title: "Prewhitening",
        what: "An autoregression (order by AIC) is fitted to the first series, and both series go through its filter, \
               so that the first comes out as white noise.",
        reading: "The filter moves neither series against the other: the lead of one over the other stays, and the \
                  band of the cross-correlations holds.",
        misleads: "The sizes of the correlations change, as the filter takes away what each series owes to its own \
                   past. A season needs a filter that reaches one season back, which a short series does not bear.",
        source: "Box, Jenkins and Reinsel (1994), section 11.2; Haugh (1976), JASA 71, 378-385.",
        example: "kandrel relate demo:harbour bookings sailings --prewhiten",
        ..NO_TEST
    },
    Topic {
        name: "correlation",
        title: "Correlation of levels and of changes",
        what: "The correlation coefficient of every two series over the periods that all have, of their levels and of \
               their changes.",
        reading: "Of levels only where they are stationary; else of changes.",
        misleads: "Levels that trend or wander are closely correlated by chance: two unrelated random walks exceed 0.5 \
                   in four cases of ten, however long they are. A shared season does the same.",
        source: "Yule (1926), JRSS 89, 1-63; Granger and Newbold (1974), Journal of Econometrics 2, 111-120.",
        example: "kandrel relate demo:harbour freight berth_fee claims",
        ..NO_TEST
    },
    Topic {
        name: "lowess",
        title: "Locally weighted regression (lowess)",
        what: "A smooth curve through scattered points: at each place a straight line fitted to the nearest two thirds \
               of the points, near ones weighing more, points far from the curve less.",
        reading: "A bend says that the relation is not a straight line, so that r understates it.",
        misleads: "At both ends few points bear the curve.",
        source: "Cleveland (1979), JASA 74, 829-836.",
        example: "kandrel relate demo:harbour bookings sailings --scatter",
        ..NO_TEST
    },
];
