//! Tests of randomness. Sizes are those of `docs/validation.md`, at 5 %.

use super::Topic;

const RANDOM: Option<&str> = Some("independent and identically distributed observations");

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "runs",
        title: "Runs test",
        what: "Counts the runs of values on one side of a cut: the mean (default), the median or a given value.",
        null: RANDOM,
        alternative: Some("too few runs: positive autocorrelation; too many: negative autocorrelation"),
        reading: "The statistic is (runs - expected)/sd, negative for too few. Up to 60 observations the p-value is \
                  exact: twice the smaller tail.",
        misleads: "It uses only the side of the cut. A trend reduces the number of runs as dependence does.",
        size: Some(
            "the statistic is discrete, so that 5 % is not met exactly: 3.3 % at n = 50 (exact), 5.7 % at n = \
                  200 (normal)",
        ),
        source: "Wald and Wolfowitz (1940), Annals of Mathematical Statistics 11, 147-162.",
        example: "kandrel randomness demo:harbour claims --about median",
    },
    Topic {
        name: "turning_points",
        title: "Turning points",
        what: "Counts values above or below both neighbours; 2(n-2)/3 are expected.",
        null: RANDOM,
        alternative: Some(
            "too few turning points: positive autocorrelation; too many: negative autocorrelation",
        ),
        reading: "The statistic is standard normal under independence.",
        misleads: "It has no power against a slow trend.",
        size: Some("5.6 % at n = 50 (discrete statistic); 5.2 % at n = 200"),
        source: "Bienaymé (1874); Kendall and Stuart (1976), The Advanced Theory of Statistics, vol. 3, section 45.17.",
        example: "kandrel randomness demo:harbour waiting",
    },
    Topic {
        name: "difference_sign",
        title: "Difference signs",
        what: "Counts rises from one value to the next; (n-1)/2 are expected.",
        null: RANDOM,
        alternative: Some("a trend: increases and decreases are unbalanced"),
        reading: "Positive for more increases than decreases.",
        misleads: "A series with rare but large decreases has no trend and many increases; a trend that is weak \
                  relative to the noise is not detected.",
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
        misleads: "Strong positive autocorrelation is mistaken for a trend: a random walk is rejected nearly \
                  always.",
        size: None,
        source: "Mann (1945), Econometrica 13, 245-259; Kendall (1938), Biometrika 30, 81-93.",
        example: "kandrel randomness demo:harbour freight",
    },
    Topic {
        name: "rank_von_neumann",
        title: "Rank von Neumann ratio",
        what: "The sum of squared differences of neighbouring ranks over the sum of their squared deviations.",
        null: RANDOM,
        alternative: Some("small ratios: positive autocorrelation; large ratios: negative autocorrelation"),
        reading: "About 2 under independence. Robust to outliers, as only ranks are used.",
        misleads: "A trend also makes it small.",
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
        reading: "Chi-squared with K degrees of freedom, minus one for each estimated parameter if the series \
                  consists of residuals (--fitted).",
        misleads: "With many lags power against a single large autocorrelation is low; with few a seasonal one is \
                  missed. It is not robust to heteroskedasticity.",
        size: Some("above nominal in short series: 6.5 % at n = 50 with 10 lags, 5.4 % at n = 200"),
        source: "Ljung and Box (1978), Biometrika 65, 297-303.",
        example: "kandrel acf demo:harbour claims",
    },
    Topic {
        name: "variance_ratio",
        title: "Variance ratio",
        what: "The variance of sums of q observations over q times the variance of single ones; the series is \
                  treated as increments.",
        null: Some("uncorrelated increments (the robust z allows for heteroskedasticity)"),
        alternative: Some("above 1: persistence; below 1: mean reversion"),
        reading: "At several horizons; the joint test is for the largest absolute z over the horizons.",
        misleads: "Apply it to differences: for a level it only reflects autocorrelation. At horizons that are long \
                  relative to the sample it is skewed.",
        size: Some(
            "nominal for one horizon except the longest in short series (16 at n = 50: 6.3 %); joint test 5.9 \
                  % at n = 50, 4.3 % at n = 200, as it treats horizons as independent",
        ),
        source: "Lo and MacKinlay (1988), Review of Financial Studies 1, 41-66; Chow and Denning (1993), Journal of \
                 Econometrics 58, 385-401.",
        example: "kandrel randomness demo:harbour berth_fee:ln,d1 --horizons 2,12",
    },
    Topic {
        name: "mcleod_li",
        title: "McLeod-Li test",
        what: "The Ljung-Box statistic of the squared deviations from the mean.",
        null: RANDOM,
        alternative: Some("volatility clustering"),
        reading: "Chi-squared with as many degrees of freedom as lags.",
        misleads: "It also rejects under autocorrelation of the values: where that is found, conditional \
                  heteroskedasticity is not concluded.",
        size: Some("below nominal in short series: 4.0 % at n = 50; 4.8 % at n = 200"),
        source: "McLeod and Li (1983), Journal of Time Series Analysis 4, 269-273.",
        example: "kandrel randomness demo:harbour claims --lags 12",
    },
    Topic {
        name: "jarque_bera",
        title: "Jarque-Bera test",
        what: "Skewness and excess kurtosis, each squared and scaled, added up.",
        null: Some("normally distributed observations"),
        alternative: Some("skewed, or with tails that are too heavy or too light"),
        reading: "Chi-squared with 2 degrees of freedom. Non-normality does not make a series predictable.",
        misleads: "A single outlier suffices for a rejection; autocorrelation distorts the size.",
        size: Some("below nominal: 3.5 % at n = 50, 4.4 % at n = 200, as both moments converge slowly"),
        source: "Jarque and Bera (1987), International Statistical Review 55, 163-172.",
        example: "kandrel randomness demo:harbour claims",
    },
    Topic {
        name: "holm",
        title: "Holm's adjustment for multiple tests",
        what: "The smallest of m p-values times m, the next times m-1, and so on, none smaller than the one before.",
        null: Some("all null hypotheses at once"),
        alternative: None,
        reading: "An adjusted p-value up to 5 % is a rejection that allows for the number of tests. The joint \
                  assessment uses it.",
        misleads: "It is conservative where the tests are positively dependent, as most of these are.",
        size: Some("at most 5 % for all tests together"),
        source: "Holm (1979), Scandinavian Journal of Statistics 6, 65-70.",
        example: "kandrel randomness demo:harbour waiting",
    },
];
