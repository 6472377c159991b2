//! Decomposition and outliers.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "loess_decomposition",
        title: "Decomposition by local polynomials",
        what: "A series is decomposed into trend, seasonal and irregular components by local regressions, \
                  iteratively: the seasonal component over the same month or quarter in neighbouring years, the \
                  trend over neighbouring periods.",
        reading: "The seasonal window is the number of years over which the seasonal pattern may evolve; by \
                  default it is chosen by cross-validation, with a fixed pattern unless an evolving one is clearly \
                  better. The trend window must be longer than the seasonal period. --robust down-weights \
                  outliers. Missing values are allowed (--gaps keep).",
        misleads: "Estimates at the ends are one-sided and are revised as data arrive. With a short seasonal window \
                  noise resembles an evolving pattern. A level shift becomes a steep trend: check for outliers. \
                  If the seasonal amplitude is proportional to the level use --kind multiplicative; the irregular \
                  component is then a factor around one.",
        source: "Cleveland, Cleveland, McRae and Terpenning (1990), Journal of Official Statistics 6, 3-73; several \
                 seasons: Bandara, Hyndman and Bergmeir (2021), arXiv:2107.13462.",
        example: "kandrel decompose demo:harbour ice",
        ..NO_TEST
    },
    Topic {
        name: "classical_decomposition",
        title: "Decomposition by moving averages",
        what: "Trend: centred moving average over one seasonal period. Seasonal component: mean deviation from \
                  it (or ratio) for each month or quarter, the same in all years.",
        reading: "The trend is missing for half a seasonal period at both ends. Deviations sum to zero (ratios \
                  average one) over a seasonal period.",
        misleads: "The seasonal pattern cannot change, and one outlier distorts the trend over a whole seasonal \
                  period.",
        source: "Kendall and Stuart (1966), The Advanced Theory of Statistics, vol. 3, chapter 46.",
        example: "kandrel decompose demo:harbour freight --method classical",
        ..NO_TEST
    },
    Topic {
        name: "strength",
        title: "Strength of trend and seasonality",
        what: "One minus the variance of the irregular component over that of the irregular and the component \
                  together: from 0 to 1.",
        reading: "Strong from 0.8, clear from 0.4, otherwise weak. Whether there is seasonality at all is a \
                  separate question: it is detected if the cross-validation error with a seasonal component is \
                  lower by more than two standard errors.",
        misleads: "A flexible seasonal component or trend fits noise: 0.1 or 0.2 occur without any, more in short \
                  series.",
        source: "Wang, Smith and Hyndman (2006), Data Mining and Knowledge Discovery 13, 335-364.",
        example: "kandrel decompose demo:harbour claims",
        ..NO_TEST
    },
    Topic {
        name: "outlier_expanding",
        title: "Outliers by an expanding window",
        what: "Each observation is compared with all earlier ones: its deviation from the mean of the last \
                  seasonal cycle relative to the same deviation in earlier years, in standard deviations of these \
                  differences so far.",
        reading: "An observation is flagged beyond 3.25 (more for series of more than 120 observations), as it \
                  would have been in real time. Outliers are excluded from later means; three in a row on one side \
                  are a new level.",
        misleads: "The first observations cannot be tested (the text reports from when on), and a variance that \
                  increases with the level leads to false positives: use logarithms first.",
        source: "Own; the score is Student's t (1908), converted to a normal score.",
        example: "kandrel outliers demo:harbour ice --methods expanding",
        ..NO_TEST
    },
    Topic {
        name: "outlier_seasonal",
        title: "Outliers by the same month or quarter in other years",
        what: "Each detrended observation is compared with the same month or quarter in other years, itself \
                  excluded.",
        reading: "An observation is flagged beyond 3.25 (more for series of more than 120 observations). Needs \
                  four years.",
        misleads: "An evolving seasonal pattern makes the first and last years appear outlying and masks outliers; \
                  autocorrelation makes a run of low values appear as outliers.",
        source: "The score is the deleted residual of Belsley, Kuh and Welsch (1980), Regression Diagnostics, chapter 2.",
        example: "kandrel outliers demo:harbour ice --methods seasonal",
        ..NO_TEST
    },
    Topic {
        name: "outlier_irregular",
        title: "Outliers by the irregular component",
        what: "Values of the irregular component of a robust decomposition more than three interquartile ranges \
                  beyond the quartiles.",
        reading: "The threshold is extreme: one in 400,000 values of normal noise.",
        misleads: "In short series the fit follows the noise, so irregular values are too small in the middle and \
                  false positives more frequent: about 20 % of clean series of ten years have one.",
        source: "Tukey (1977), Exploratory Data Analysis.",
        example: "kandrel outliers demo:harbour ice --methods irregular",
        ..NO_TEST
    },
    Topic {
        name: "outlier_likelihood",
        title: "Outliers by the likelihood ratio",
        what: "A short ARMA model of the seasonally adjusted differences; at each date the effects of an \
                  additive outlier, a level shift and a temporary change are estimated, the largest is included, \
                  and all are re-estimated together with the model.",
        reading: "Additive outliers and temporary changes from 3.25 standard errors, level shifts from 4.25 (more \
                  for series of more than 120 observations). It is the only method that allows for \
                  autocorrelation, so no observation is flagged without it: together with another method, or alone \
                  from 3.5.",
        misleads: "Near the end of the sample an additive outlier and a level shift are indistinguishable; the \
                  simpler one is reported. Many outliers together can be masked by the model.",
        source: "Chen and Liu (1993), Journal of the American Statistical Association 88, 284-297.",
        example: "kandrel outliers demo:harbour tug_hours --methods likelihood",
        ..NO_TEST
    },
];
