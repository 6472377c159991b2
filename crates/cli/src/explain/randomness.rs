//! Tests of randomness. Sizes are those of `docs/validation.md`, at 5 %.

use super::Topic;

const RANDOM: Option<&str> = Some("independent and identically distributed observations");

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "runs",
        title: "Runs test",
        what: "Counts the runs of values on one side of a cut: the mean (default), the median or a given value.",
        null: RANDOM,
        alternative: Some("too few runs: neighbours are alike; too many: they alternate"),
        reading: "The statistic is (runs - expected)/sd, negative for too few. Up to 60 observations the p-value is \
                  exact: twice the smaller tail.",
        misleads: "It sees only on which side of the cut a value lies. A trend gives few runs just as dependence does.",
        size: Some(
            "the number of runs is whole, so that 5 % cannot be met exactly: 3.3 % at n = 50 (exact), 5.7 % at \
                    n = 200 (normal)",
        ),
        source: "Wald and Wolfowitz (1940), Annals of Mathematical Statistics 11, 147-162.",
        example: "kandrel randomness demo:harbour claims --about median",
    },
    Topic {
        name: "turning_points",
        title: "Turning points",
        what: "Counts values above or below both neighbours; 2(n-2)/3 are expected.",
        null: RANDOM,
        alternative: Some("too few turns: the series moves smoothly; too many: it alternates"),
        reading: "The statistic is standard normal without dependence.",
        misleads: "It is blind to a slow trend: small steps of a trend leave the turns as they are.",
        size: Some("5.6 % at n = 50, as the count is whole; 5.2 % at n = 200"),
        source: "Bienaymé (1874); Kendall and Stuart (1976), The Advanced Theory of Statistics, vol. 3, section 45.17.",
        example: "kandrel randomness demo:harbour waiting",
    },
    Topic {
        name: "difference_sign",
        title: "Difference signs",
        what: "Counts rises from one value to the next; (n-1)/2 are expected.",
        null: RANDOM,
        alternative: Some("a trend: rises and falls are out of balance"),
        reading: "Positive for more rises than falls.",
        misleads: "A series that falls seldom but far has no trend and many rises; a trend that is slow against its \
                   noise leaves the signs in balance.",
        size: None,
        source: "Moore and Wallis (1943), JASA 38, 153-164.",
        example: "kandrel randomness demo:harbour berth_fee",
    },
    Topic {
        name: "rank_trend",
        title: "Rank trend",
        what: "Counts the pairs of values of which the later is higher (Kendall's rank correlation with time).",
        null: RANDOM,
        alternative: Some("a trend in one direction"),
        reading: "Positive if later values are higher; detail gives tau, between -1 and 1.",
        misleads: "Any strong positive dependence looks like a trend to it: a random walk is rejected nearly always.",
        size: None,
        source: "Mann (1945), Econometrica 13, 245-259; Kendall (1938), Biometrika 30, 81-93.",
        example: "kandrel randomness demo:harbour freight",
    },
    Topic {
        name: "rank_von_neumann",
        title: "Rank von Neumann ratio",
        what: "The sum of squared differences of neighbouring ranks over the sum of their squared deviations.",
        null: RANDOM,
        alternative: Some("small ratios: neighbours are alike; large ones: they are too unlike"),
        reading: "About 2 without dependence. Robust to odd values, as only ranks count.",
        misleads: "A trend makes it small too.",
        size: None,
        source: "Bartels (1982), JASA 77, 40-46.",
        example: "kandrel randomness demo:harbour waiting",
    },
    Topic {
        name: "ljung_box",
        title: "Ljung-Box test",
        what: "n (n+2) times the sum of squared autocorrelations, each over n-k, up to a lag K.",
        null: Some("no autocorrelation up to lag K"),
        alternative: Some("autocorrelation at some of these lags"),
        reading: "χ² with K degrees of freedom, less one for each fitted parameter where the series is one of \
                  residuals (--fitted).",
        misleads: "With many lags a single large one drowns; with few a seasonal one is missed. It takes changing \
                   spread for autocorrelation.",
        size: Some("too often in short series: 6.5 % at n = 50 with 10 lags, 5.4 % at n = 200"),
        source: "Ljung and Box (1978), Biometrika 65, 297-303.",
        example: "kandrel acf demo:harbour claims",
    },
    Topic {
        name: "variance_ratio",
        title: "Variance ratio",
        what: "The variance of sums over q observations over q times that of single ones; the series is taken as the \
               increments.",
        null: Some("uncorrelated increments (with the robust z also if their spread changes)"),
        alternative: Some("above 1: moves persist; below 1: they are undone"),
        reading: "At several horizons; the joint test asks whether the largest of their z's is too large.",
        misleads: "It belongs on changes: of a level it only says that neighbours are alike. At horizons that are long \
                   against the sample it is skewed.",
        size: Some(
            "one horizon keeps its size but for the longest in short series (16 at n = 50: 6.3 %); the joint \
                    test 5.9 % at n = 50, 4.3 % at n = 200, as it takes the horizons for independent",
        ),
        source: "Lo and MacKinlay (1988), Review of Financial Studies 1, 41-66; Chow and Denning (1993), Journal of \
                 Econometrics 58, 385-401.",
        example: "kandrel randomness demo:harbour berth_fee:ln,d1 --horizons 2,12",
    },
    Topic {
        name: "mcleod_li",
        title: "McLeod-Li test",
        what: "The Ljung-Box statistic of the squared deviations.",
        null: RANDOM,
        alternative: Some("large moves come in clusters"),
        reading: "χ² with as many degrees of freedom as lags.",
        misleads: "It rejects for dependence in the values themselves too: where that is found, changing spread is not \
                   concluded.",
        size: Some("too seldom in short series: 4.0 % at n = 50; 4.8 % at n = 200"),
        source: "McLeod and Li (1983), Journal of Time Series Analysis 4, 269-273.",
        example: "kandrel randomness demo:harbour claims --lags 12",
    },
    Topic {
        name: "jarque_bera",
        title: "Jarque-Bera test",
        what: "Skewness and excess kurtosis, each squared and scaled, added up.",
        null: Some("normally distributed observations"),
        alternative: Some("skewed, or with tails that are too heavy or too light"),
        reading: "χ² with 2 degrees of freedom. Being not normal does not make a series predictable.",
        misleads: "One odd value is enough; dependence distorts it.",
        size: Some("too seldom: 3.5 % at n = 50, 4.4 % at n = 200, as both moments converge slowly"),
        source: "Jarque and Bera (1987), International Statistical Review 55, 163-172.",
        example: "kandrel randomness demo:harbour claims",
    },
    Topic {
        name: "holm",
        title: "Holm's adjustment for many tests",
        what: "The smallest of m p-values times m, the next times m-1, and so on, none smaller than the one before.",
        null: Some("all the tests' nulls at once"),
        alternative: None,
        reading: "An adjusted p-value up to 5 % is a rejection that stands although several tests were made. The joint \
                  reading goes by it.",
        misleads: "It is cautious where the tests look at the same thing, as most of these do.",
        size: Some("at most 5 % for all tests together"),
        source: "Holm (1979), Scandinavian Journal of Statistics 6, 65-70.",
        example: "kandrel randomness demo:harbour waiting",
    },
];
