//! Decomposition and odd values.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "loess_decomposition",
        title: "Decomposition by local polynomials",
        what: "A series is taken apart into trend, season and remainder, in turn, by lines fitted to neighbouring \
               values: the season to the same place in neighbouring years, the trend to neighbouring periods.",
        reading: "The season window says over how many years the season may change; by default it is what foretells \
                  left-out values best, and a season that stays the same unless one that changes is clearly better. \
                  The trend window must be longer than a season. --robust keeps odd values from bending both. Gaps \
                  are taken as they are (--gaps keep).",
        misleads: "The ends rest on one side only and are revised as data come. A short season window makes noise \
                   look like a changing season. A level shift becomes a steep trend: look at outliers. With a swing \
                   that grows with the level take --kind multiplicative; its remainder is then a factor around one, \
                   which is no defect.",
        source: "Cleveland, Cleveland, McRae and Terpenning (1990), Journal of Official Statistics 6, 3-73; several \
                 seasons: Bandara, Hyndman and Bergmeir (2021), arXiv:2107.13462.",
        example: "kandrel decompose demo:harbour ice",
        ..NO_TEST
    },
    Topic {
        name: "classical_decomposition",
        title: "Decomposition by moving averages",
        what: "Trend: the centred moving average over one season. Season: the mean gap (or ratio) to it at each place, \
               the same in all years.",
        reading: "Half a season at both ends has no trend. Gaps (or ratios) sum to nought (average one) over a season.",
        misleads: "The season cannot change, and one odd value bends the trend of a whole season around it.",
        source: "Kendall and Stuart (1966), The Advanced Theory of Statistics, vol. 3, chapter 46.",
        example: "kandrel decompose demo:harbour freight --method classical",
        ..NO_TEST
    },
    Topic {
        name: "strength",
        title: "Strength of trend and season",
        what: "One minus the variance of the remainder over that of the remainder and the part together: 0 for a part \
               that explains nothing, 1 for one that explains all.",
        reading: "From 0.8 on strong, from 0.4 on clear, else weak. Whether there is a season at all is another \
                  question: it is evident if left-out values are foretold better with it than without, by more than \
                  two standard errors.",
        misleads: "A flexible season or trend fits noise too: 0.1 or 0.2 comes of nothing, in short series more.",
        source: "Wang, Smith and Hyndman (2006), Data Mining and Knowledge Discovery 13, 335-364.",
        example: "kandrel decompose demo:harbour claims",
        ..NO_TEST
    },
    Topic {
        name: "outlier_expanding",
        title: "Odd values by a growing window",
        what: "Each value is held against all before it: its gap to the mean of the last season, compared with the same \
               gap in earlier years, in standard deviations of such differences so far.",
        reading: "Beyond 3.25 (more in series of more than 120 values) it is odd as it would have been on the day. Odd values do not enter the later means; three \
                  in a row to one side are a new level.",
        misleads: "The early part cannot be judged (the text says from when on), and a spread that grows makes late \
                   values look odd: take logarithms first.",
        source: "Own; the score is Student's (1908), turned normal.",
        example: "kandrel outliers demo:harbour ice --methods growing",
        ..NO_TEST
    },
    Topic {
        name: "outlier_seasonal",
        title: "Odd values by the same season of other years",
        what: "Each value less the trend is held against the other years at its place of the season, itself left out.",
        reading: "Beyond 3.25 (more in series of more than 120 values) it is odd for its month. Needs four years.",
        misleads: "A season that changes makes first and last years look odd and hides odd values; neighbours that are \
                   alike make a bad stretch look like odd values.",
        source: "The score is the deleted residual of Belsley, Kuh and Welsch (1980), Regression Diagnostics, chapter 2.",
        example: "kandrel outliers demo:harbour ice --methods season",
        ..NO_TEST
    },
    Topic {
        name: "outlier_irregular",
        title: "Odd values by the remainder",
        what: "Remainders of the robust decomposition that lie more than three interquartile ranges beyond the quartiles.",
        reading: "Far out: on normal noise one value in 400,000.",
        misleads: "In short series the fit follows the noise, so that remainders are smaller than they should be in the \
                   middle and odd ones come more often: about one in five clean series of ten years has one.",
        source: "Tukey (1977), Exploratory Data Analysis.",
        example: "kandrel outliers demo:harbour ice --methods remainder",
        ..NO_TEST
    },
    Topic {
        name: "outlier_likelihood",
        title: "Odd values by the likelihood ratio",
        what: "The series without its season is given a short model of its changes; for each place the effect of a single \
               value, of a lasting shift and of a jump that fades is estimated, the strongest taken in, all estimated \
               together again, the model fitted anew.",
        reading: "A single value or fading jump from 3.25 standard errors, a level shift from 4.25 (all more in series of more than 120 values). It is the one method \
                  that allows for neighbours that are alike, so none is marked without it: with another method, or alone \
                  from 3.5 (likewise).",
        misleads: "Near the end a single value and a shift look the same; the plainer one is named. Many odd values \
                   together can hide in the model.",
        source: "Chen and Liu (1993), Journal of the American Statistical Association 88, 284-297.",
        example: "kandrel outliers demo:harbour tug_hours --methods likelihood",
        ..NO_TEST
    },
];
