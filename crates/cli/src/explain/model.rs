//! Seasonal models and what they are ranked by.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "seasonal_model",
        title: "Seasonal ARIMA model, (p,d,q)(P,D,Q)s",
        what: "The series, differenced d times and D times at the seasonal lag, follows an ARMA model with p \
                  autoregressive and q moving-average terms, and P and Q seasonal ones; estimated by exact \
                  Gaussian maximum likelihood.",
        reading: "Estimates with standard errors, the polynomials with their signs, residual tests. With +mean the \
                  series has a mean, with +drift its differences have one; the intercept is the mean times the \
                  autoregressive polynomial at one.",
        misleads: "A moving-average root near unity indicates over-differencing, an autoregressive root near unity \
                  under-differencing; near common factors make standard errors meaningless. Such models are \
                  flagged.",
        source: "Box, Jenkins and Reinsel (1994), Time Series Analysis, 3rd ed.; stationarity kept as in Monahan (1984), \
                 Biometrika 71, 403-404.",
        example: "kandrel fit demo:harbour freight:ln --model '(0,1,1)(0,1,1)12'",
        ..NO_TEST
    },
    Topic {
        name: "criteria",
        title: "Information criteria: AIC, AICc, BIC, HQ",
        what: "Minus twice the log-likelihood plus a penalty for each of k parameters (including the variance): \
                  2 (AIC), 2 with a small-sample correction (AICc), ln n (BIC), 2 ln ln n (HQ).",
        reading: "Smaller is better; differences up to 2 are not substantial. Compare models by the same \
                  criterion.",
        misleads: "Models of different data (other differences, transformation or sample) are not comparable by \
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
                   --average reduces the risk of a wrong choice: the weighted average of the chosen model, its strongest rival \
                   and a reference model. --bootstrap N replaces normal innovations by resampled residuals.",
        source: "Box, Jenkins and Reinsel (1994), Time Series Analysis, 3rd ed., chapter 5; Goldberger (1962), JASA 57, \
                 369-375; Draper (1995), JRSS B 57, 45-97; Stine (1987), JASA 82, 1072-1078.",
        example: "kandrel forecast demo:harbour waiting --model '(2,0,0)' --ahead 6",
        ..NO_TEST
    },
    Topic {
        name: "accuracy",
        title: "Measures of accuracy: ME, MPE, MAE, RMSE, MAPE, sMAPE, MASE",
        what: "Bias: mean error (actual minus forecast), also in per cent of the actual values. Size: mean \
                  absolute error, root mean squared error, mean absolute error in per cent of the actual values or \
                  of the mean of actual and forecast, and relative to the mean absolute seasonal difference.",
        reading: "RMSE gives large errors more weight. MASE below one is better than the in-sample seasonal naive \
                  forecast, whatever the units.",
        misleads: "In-sample errors are too small, as parameters are estimated from the same values. Percentage \
                  errors explode near zero and are meaningless for series that take both signs.",
        source: "Hyndman and Koehler (2006), International Journal of Forecasting 22, 679-688.",
        example: "kandrel compare demo:harbour waiting --model '(2,0,0)' --hold 12",
        ..NO_TEST
    },
    Topic {
        name: "diebold_mariano",
        title: "Diebold-Mariano test",
        what: "The mean difference of squared errors of two forecasts from the same origins over its standard \
                  error, with the autocovariances of overlapping forecasts and a small-sample correction.",
        null: Some("both have the same expected squared error"),
        alternative: Some("one is better"),
        reading: "A small p-value: the difference in accuracy is significant. A large one: the forecasts are \
                  indistinguishable, which favours the simpler one.",
        misleads: "With few origins power is low. For nested models the larger one carries estimation error, so \
                  equal errors favour it.",
        size: Some("5 to 6 % one step ahead and 7 % four steps ahead at the nominal 5 %, from 60 origins"),
        source: "Diebold and Mariano (1995), Journal of Business and Economic Statistics 13, 253-263; Harvey, Leybourne and \
                 Newbold (1997), International Journal of Forecasting 13, 281-291.",
        example: "kandrel compare demo:harbour waiting --model '(2,0,0)' --model '(1,0,0)'",
    },
    Topic {
        name: "extended_acf",
        title: "Extended autocorrelations",
        what: "Autoregressions of increasing order, estimated consistently in the presence of a moving average, \
                  and the autocorrelations of their residuals. For an ARMA(p,q) process these are zero from row p \
                  and column q on.",
        reading: "The vertex of the triangle of zeros indicates p and q where neither ACF nor PACF cuts off. It \
                  supplements the search and uses short lags only.",
        misleads: "In short series, and with near common factors, the vertex is ambiguous; for an AR(1) with 500 \
                  observations it is found in 75 % of cases.",
        source: "Tsay and Tiao (1984), JASA 79, 84-96.",
        example: "kandrel orders demo:harbour waiting",
        ..NO_TEST
    },
];
