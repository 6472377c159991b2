//! Known and several breaks, a season that stays, long memory, the bootstrap.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "perron",
        title: "Perron's test with a known break",
        what: "The Dickey-Fuller regression beside a break at a date known from elsewhere: of the level (A), of the slope \
               (B, out of the series first), of both (C).",
        null: Some("a unit root, with the break"),
        alternative: Some("stationary about a trend with the break"),
        reading: "Name the last period before the break with --break-at. p-values come from random walks drawn for the \
                  series' length, its lags and the place of the break.",
        misleads: "A date found by looking at the series is not known from elsewhere: the p-value is then too small. \
                   Take Zivot-Andrews or Lee-Strazicich, which pay for the search.",
        size: Some("the nominal one: the search for lags is part of what is drawn"),
        source: "Perron (1989), Econometrica 57, 1361-1401; Perron and Vogelsang (1993), Econometrica 61, 248-249.",
        example: "kandrel stationarity demo:harbour tug_hours --break-at 2012-05",
    },
    Topic {
        name: "lee_strazicich",
        title: "Lee-Strazicich test with one break or two",
        what: "The smallest t-value of the lagged level over all dates of one break or two, the series detrended by what \
               the null says about its changes; of the level, or of level and slope.",
        null: Some("a unit root, with or without breaks"),
        alternative: Some("stationary about a trend with breaks"),
        reading: "As breaks belong to the null too, a rejection says that the series returns to a broken trend; one by \
                  Zivot-Andrews may mean a unit root with a break.",
        misleads: "With level and slope its distribution depends a little on where true breaks are; the tables hold for \
                   none. No break may lie in the outer 15 % of the series (--trim), nor two nearer than that.",
        size: Some(
            "the nominal one, after a search for lags by AIC too; after another rule it is above that in short series",
        ),
        source: "Lee and Strazicich (2003), Review of Economics and Statistics 85, 1082-1089; (2013), Economics Bulletin \
                 33, 2483-2492.",
        example: "kandrel stationarity demo:harbour tug_hours --breaks 1",
    },
    Topic {
        name: "canova_hansen",
        title: "Canova-Hansen test of a season that stays",
        what: "How far the running sums of the residuals, times each wave of the season, wander from nought.",
        null: Some("the pattern of the season stays as it is"),
        alternative: Some("the pattern wanders: a unit root at a frequency of the season"),
        reading: "The null is the other one than HEGY's: both together tell a season that repeats itself from one that \
                  wanders. It is done on the difference where the level has a unit root.",
        misleads: "A unit root left in at the long run, or a break in the pattern, looks like a wandering season; with a \
                   wide bandwidth the test has little power.",
        size: Some("the nominal one for independent values; dependence at the season's own lags raises it"),
        source: "Canova and Hansen (1995), Journal of Business & Economic Statistics 13, 237-252.",
        example: "kandrel stationarity demo:harbour freight:ln --tests hegy,canova_hansen",
    },
    Topic {
        name: "log_periodogram",
        title: "Log-periodogram estimate of d",
        what: "The slope of the logarithm of the periodogram against that of the frequency at the n^0.65 lowest \
               frequencies: the order d of fractional integration.",
        null: Some("d = 0: neither long memory nor a unit root"),
        alternative: Some("another d: long memory between 0 and 0.5, a unit root at 1"),
        reading: "d about 0.2 to 0.45: long memory, stationary; from 0.5: not stationary; about 1: a unit root; about -1: \
                  differenced once too often. The error stands beside it.",
        misleads: "A short-run root near one, a trend or a break of the mean raises d. Below 200 observations it tells \
                   long memory from short hardly ever.",
        size: Some("the nominal one for independent normal values"),
        source: "Geweke and Porter-Hudak (1983), Journal of Time Series Analysis 4, 221-238; Robinson (1995), Annals of \
                 Statistics 23, 1048-1072.",
        example: "kandrel stationarity demo:harbour waiting --tests log_periodogram",
    },
    Topic {
        name: "local_whittle",
        title: "Local Whittle estimate of d",
        what: "The d under which the periodogram at the n^0.65 lowest frequencies is likeliest.",
        null: Some("d = 0: neither long memory nor a unit root"),
        alternative: Some("another d"),
        reading: "As the log-periodogram estimate, with the smaller error of the two.",
        misleads: "As the log-periodogram estimate; above d = 0.75 its error is no longer the one given.",
        size: Some("the nominal one for independent normal values"),
        source: "Künsch (1987), First World Congress of the Bernoulli Society 1, 67-74; Robinson (1995), Annals of \
                 Statistics 23, 1630-1661.",
        example: "kandrel stationarity demo:harbour waiting --tests local_whittle",
    },
    Topic {
        name: "long_memory",
        title: "Long memory beside the stories",
        what: "Fractional noise with d between 0.15 and 0.45, weighed by exact likelihood against the best of the twelve \
               stories; of series of 200 to 2,000 observations.",
        null: None,
        alternative: None,
        reading: "Flagged from odds of 0.7 to 1, with one notch of confidence less; the verdict from 5 to 1, where no unit \
                  root is the likelier story. At d = 0.4 three of four series of 200 are flagged, one of four gets the \
                  verdict.",
        misleads: "Dynamics that die out slowly pass for it: of series of 200, an AR(4) with a root of 0.91 in 26 %, changes \
                   with a moving average of -0.8 in 20 %; of an AR(1), of noise and of walks at most 2 % are flagged.",
        size: Some(
            "2.3 % of series of 200 that are stationary about a mean, of random parameters, are flagged",
        ),
        source: "Granger and Joyeux (1980), Journal of Time Series Analysis 1, 15-29; Hosking (1981), Biometrika 68, \
                 165-176.",
        example: "kandrel stationarity demo:harbour waiting",
    },
    Topic {
        name: "bootstrap",
        title: "Bootstrap p-values",
        what: "The rank of a statistic among those of series drawn as the null says, with the dynamics (an \
               autoregression) and the innovations of the series itself.",
        reading: "Where it differs much from the tabulated p-value, heavy tails or a changing variance are the reason: \
                  trust the bootstrap. With --wild every innovation keeps its time and only its sign is drawn, for a \
                  variance that changes.",
        misleads: "With N series no p-value is below 1/(N+1). A moving average with a root near one is badly caught by an \
                   autoregression. Near a unit root the bootstrap of KPSS rejects too seldom.",
        source: "Chang and Park (2003), Journal of Time Series Analysis 24, 379-400; Cavaliere and Taylor (2009), \
                 Econometric Reviews 28, 393-421.",
        example: "kandrel stationarity demo:harbour waiting --tests adf,pp --bootstrap 199",
        ..NO_TEST
    },
];
