//! Known and several breaks, deterministic seasonality, long memory, the bootstrap.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "perron",
        title: "Perron's test with a known break",
        what: "The Dickey-Fuller regression with a break at a known date: in the level (A), in the slope (B, \
                  removed first), or in both (C).",
        null: Some("a unit root, with the break"),
        alternative: Some("trend-stationary with the break"),
        reading: "Give the last period before the break with --break-at. P-values come from simulated random walks \
                  for the sample size, the lags and the position of the break.",
        misleads: "A date chosen by inspecting the series is not known in advance: the p-value is then too small. \
                  Use Zivot-Andrews or Lee-Strazicich, which allow for an endogenous date.",
        size: Some("nominal: lag selection is part of the simulation"),
        source: "Perron (1989), Econometrica 57, 1361-1401; Perron and Vogelsang (1993), Econometrica 61, 248-249.",
        example: "kandrel stationarity demo:harbour tug_hours --break-at 2012-05",
    },
    Topic {
        name: "lee_strazicich",
        title: "Lee-Strazicich test with one or two breaks",
        what: "The smallest t-statistic of the lagged level over all dates of one or two breaks, the series \
                  detrended under the null hypothesis; breaks in the level, or in level and slope.",
        null: Some("a unit root, with or without breaks"),
        alternative: Some("trend-stationary with breaks"),
        reading: "As breaks are allowed under the null hypothesis too, a rejection is evidence for a broken trend; \
                  a rejection by Zivot-Andrews may reflect a unit root with a break.",
        misleads: "With level and slope breaks its distribution depends slightly on the true break dates; the \
                  tables are for none. Breaks must lie inside the central 70 % of the sample (--trim), and no two \
                  closer than that margin.",
        size: Some("nominal, also with lags by AIC; above nominal in short series with another rule"),
        source: "Lee and Strazicich (2003), Review of Economics and Statistics 85, 1082-1089; (2013), Economics Bulletin \
                 33, 2483-2492.",
        example: "kandrel stationarity demo:harbour tug_hours --breaks 1",
    },
    Topic {
        name: "canova_hansen",
        title: "Canova-Hansen test of deterministic seasonality",
        what: "Partial sums of the residuals multiplied by the seasonal waves, relative to their long-run \
                  variance.",
        null: Some("the seasonal pattern is constant"),
        alternative: Some("the seasonal pattern evolves: a seasonal unit root"),
        reading: "The null hypothesis is the opposite of HEGY's: together the two distinguish deterministic from \
                  evolving seasonality. It is applied to the difference where the level has a unit root.",
        misleads: "An unremoved unit root at frequency zero, or a break in the pattern, resembles evolving \
                  seasonality; with a wide bandwidth power is low.",
        size: Some("nominal for independent values; above nominal with dependence at seasonal lags"),
        source: "Canova and Hansen (1995), Journal of Business & Economic Statistics 13, 237-252.",
        example: "kandrel stationarity demo:harbour freight:ln --tests hegy,canova_hansen",
    },
    Topic {
        name: "log_periodogram",
        title: "Log-periodogram estimate of d",
        what: "The slope of the log periodogram on the log frequency at the n^0.65 lowest frequencies: the \
                  order d of fractional integration.",
        null: Some("d = 0: neither long memory nor a unit root"),
        alternative: Some("another d: long memory between 0 and 0.5, a unit root at 1"),
        reading: "d from about 0.2 to 0.45: stationary long memory; from 0.5: not stationary; about 1: a unit \
                  root; about -1: over-differenced. The standard error is reported.",
        misleads: "A short-run root near unity, a trend or a break in the mean biases d upwards. Below 200 \
                  observations long memory is hard to distinguish from short-run dynamics.",
        size: Some("nominal for independent normal values"),
        source: "Geweke and Porter-Hudak (1983), Journal of Time Series Analysis 4, 221-238; Robinson (1995), Annals of \
                 Statistics 23, 1048-1072.",
        example: "kandrel stationarity demo:harbour waiting --tests log_periodogram",
    },
    Topic {
        name: "local_whittle",
        title: "Local Whittle estimate of d",
        what: "The d that maximises the local Whittle likelihood of the periodogram at the n^0.65 lowest \
                  frequencies.",
        null: Some("d = 0: neither long memory nor a unit root"),
        alternative: Some("another d"),
        reading: "As the log-periodogram estimate, with a smaller standard error.",
        misleads: "As the log-periodogram estimate; above d = 0.75 the standard error is not valid.",
        size: Some("nominal for independent normal values"),
        source: "Künsch (1987), First World Congress of the Bernoulli Society 1, 67-74; Robinson (1995), Annals of \
                 Statistics 23, 1630-1661.",
        example: "kandrel stationarity demo:harbour waiting --tests local_whittle",
    },
    Topic {
        name: "long_memory",
        title: "Long memory compared with the candidate models",
        what: "Fractional noise with d between 0.15 and 0.45, compared by exact likelihood with the best of the \
                  twelve candidate models; for 200 to 2,000 observations.",
        null: None,
        alternative: None,
        reading: "It is flagged from posterior odds of 0.7 to 1, which lowers the confidence by one level; it is \
                  the verdict from 5 to 1 where no unit root is more probable. At d = 0.4, 75 % of series of 200 \
                  observations are flagged and 25 % receive the verdict.",
        misleads: "Slowly decaying short-run dynamics can be mistaken for it: with 200 observations an AR(4) with a \
                  root of 0.91 in 26 %, differences with a moving average of -0.8 in 20 %; AR(1), white noise and \
                  random walks in at most 2 %.",
        size: Some(
            "2.3 % of series of 200 observations that are stationary around a mean, with random parameters, \
                  are flagged",
        ),
        source: "Granger and Joyeux (1980), Journal of Time Series Analysis 1, 15-29; Hosking (1981), Biometrika 68, \
                 165-176.",
        example: "kandrel stationarity demo:harbour waiting",
    },
    Topic {
        name: "bootstrap",
        title: "Bootstrap p-values",
        what: "The rank of a statistic among replications simulated under the null hypothesis with the \
                  estimated autoregression and the innovations of the series (sieve bootstrap).",
        reading: "If it differs much from the tabulated p-value, heavy tails or heteroskedasticity are the reason: \
                  rely on the bootstrap. With --wild innovations keep their dates and only their signs are \
                  random, for a changing variance.",
        misleads: "With N replications no p-value is below 1/(N+1). An autoregression approximates a moving average \
                  with a root near one poorly. Near a unit root the bootstrap KPSS test is undersized.",
        source: "Chang and Park (2003), Journal of Time Series Analysis 24, 379-400; Cavaliere and Taylor (2009), \
                 Econometric Reviews 28, 393-421.",
        example: "kandrel stationarity demo:harbour waiting --tests adf,pp --bootstrap 199",
        ..NO_TEST
    },
];
