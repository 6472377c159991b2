//! Seasonal models and what they are ranked by.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "seasonal_model",
        title: "Seasonal ARIMA model, (p,d,q)(P,D,Q)s",
        what: "The series, differenced d times and D times over a season, is a mixture of p past values and q past \
               errors, and of P and Q of them at whole seasons; estimated by exact Gaussian maximum likelihood.",
        reading: "Estimates beside their errors, the polynomials with their signs, whether the residuals are white noise. \
                  With +mean the series stands about a mean, with +drift its differences do; the intercept is the mean \
                  times the autoregressive polynomial at one, not the mean itself.",
        misleads: "Roots near one say that it is differenced too often (moving average) or too seldom (autoregression); \
                   factors that all but cancel make errors meaningless: such models are named.",
        source: "Box, Jenkins and Reinsel (1994), Time Series Analysis, 3rd ed.; stationarity kept as in Monahan (1984), \
                 Biometrika 71, 403-404.",
        example: "kandrel fit demo:harbour freight:ln --model '(0,1,1)(0,1,1)12'",
        ..NO_TEST
    },
    Topic {
        name: "criteria",
        title: "Information criteria: AIC, AICc, BIC, HQ",
        what: "Minus twice the log-likelihood, plus a price for each of k parameters (the variance among them): 2 (AIC), \
               2 and a little more in short series (AICc), ln n (BIC), 2 ln ln n (HQ).",
        reading: "Smaller is better; differences of two or less say little. Each is compared with itself over models, never \
                  with another.",
        misleads: "Models of different data (other differences, another transformation, another sample) cannot be compared by \
                   them; AIC and AICc favour larger models than BIC.",
        source: "Akaike (1974), IEEE Transactions on Automatic Control 19, 716-723; Hurvich and Tsai (1989), Biometrika \
                 76, 297-307; Schwarz (1978), Annals of Statistics 6, 461-464; Hannan and Quinn (1979), JRSS B 41, 190-195.",
        example: "kandrel orders demo:harbour freight:ln --criterion bic",
        ..NO_TEST
    },
    Topic {
        name: "forecast_interval",
        title: "Point forecasts and prediction intervals",
        what: "The predictive distribution of the next values: future innovations with their exact variance and the \
               estimation error of all parameters (coefficients by simulation from their distribution, the variance by \
               Student's), back-transformed to the original scale. Where the diagnosis leaves differences or deterministic \
               terms open, intervals are those of the mixture of the rival models.",
        reading: "The point forecast is the median: half of the probability lies above it. A 95 % prediction interval contains \
                  the actual value with probability 0.95. For a series in logarithms the interval is asymmetric, and the \
                  expected value (--mean) exceeds the median.",
        misleads: "Intervals do not allow for a structural break after the sample, nor for orders chosen by the search. \
                   --average reduces the risk of a wrong choice: the mean of the chosen model, its strongest rival and a \
                   reference model. --bootstrap N replaces normal innovations by resampled residuals.",
        source: "Box, Jenkins and Reinsel (1994), Time Series Analysis, 3rd ed., chapter 5; Goldberger (1962), JASA 57, \
                 369-375; Draper (1995), JRSS B 57, 45-97; Stine (1987), JASA 82, 1072-1078.",
        example: "kandrel forecast demo:harbour waiting --model '(2,0,0)' --ahead 6",
        ..NO_TEST
    },
    Topic {
        name: "accuracy",
        title: "Measures of accuracy: ME, RMSE, MAE, MPE, MAPE, sMAPE, MASE",
        what: "Mean error (actual less forecast), root of the mean squared error, mean absolute error; the latter two in per \
               cent of the actual values, of the mean of actual and forecast, and over the mean absolute change of the \
               series over a season.",
        reading: "RMSE weighs large misses more, MAE all alike. MASE below one is better than repeating the last season was \
                  inside the sample, whatever the units.",
        misleads: "Errors inside the sample flatter: parameters were chosen for them. Percentages explode near nought and \
                   mean nothing for series that cross it.",
        source: "Hyndman and Koehler (2006), International Journal of Forecasting 22, 679-688.",
        example: "kandrel compare demo:harbour waiting --model '(2,0,0)' --hold 12",
        ..NO_TEST
    },
    Topic {
        name: "diebold_mariano",
        title: "Diebold-Mariano test",
        what: "The mean difference of two forecasters' squared errors from the same origins, over its standard deviation with \
               the autocovariances that overlapping forecasts have.",
        null: Some("both have the same expected squared error"),
        alternative: Some("one is better"),
        reading: "A small p: the difference is more than chance makes over so many origins. A large p: they cannot be told \
                  apart, so take the simpler one.",
        misleads: "A few origins tell little. Of nested models the larger one pays for what it estimates, so equal errors \
                   favour it.",
        size: Some("5 to 6 % one step ahead and 7 % four steps ahead at 5 %, from some 60 origins"),
        source: "Diebold and Mariano (1995), Journal of Business and Economic Statistics 13, 253-263; Harvey, Leybourne and \
                 Newbold (1997), International Journal of Forecasting 13, 281-291.",
        example: "kandrel compare demo:harbour waiting --model '(2,0,0)' --model '(1,0,0)'",
    },
    Topic {
        name: "extended_acf",
        title: "Extended autocorrelations",
        what: "Autoregressions of growing order, refined so that they hold beside a moving average; the autocorrelations of \
               what each leaves. Of a mixture of orders p and q they are nought from row p and column q on.",
        reading: "The corner of the triangle of noughts names p and q where neither ACF nor PACF ends. It is evidence beside \
                  the search, for short lags alone.",
        misleads: "In short series, and where factors nearly cancel, corners hide each other; of AR(1) with 500 values it \
                   finds the corner in three cases of four.",
        source: "Tsay and Tiao (1984), JASA 79, 84-96.",
        example: "kandrel orders demo:harbour waiting",
        ..NO_TEST
    },
];
