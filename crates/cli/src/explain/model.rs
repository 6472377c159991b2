//! Seasonal models and what they are ranked by.

use super::Topic;

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "seasonal_model",
        title: "Seasonal ARIMA model, (p,d,q)(P,D,Q)s",
        what: "The series, differenced d times and D times over a season, is a mixture of p past values and q past \
               errors, and of P and Q of them at whole seasons; estimated by exact Gaussian maximum likelihood.",
        null: None,
        alternative: None,
        reading: "Estimates beside their errors, the polynomials with their signs, whether the residuals are white noise. \
                  With +mean the series stands about a mean, with +drift its differences do; the intercept is the mean \
                  times the autoregressive polynomial at one, not the mean itself.",
        misleads: "Roots near one say that it is differenced too often (moving average) or too seldom (autoregression); \
                   factors that all but cancel make errors meaningless: such models are named.",
        size: None,
        source: "Box, Jenkins and Reinsel (1994), Time Series Analysis, 3rd ed.; stationarity kept as in Monahan (1984), \
                 Biometrika 71, 403-404.",
        example: "kandrel fit demo:harbour freight:ln --model '(0,1,1)(0,1,1)12'",
    },
    Topic {
        name: "criteria",
        title: "Information criteria: AIC, AICc, BIC, HQ",
        what: "Minus twice the log-likelihood, plus a price for each of k parameters (the variance among them): 2 (AIC), \
               2 and a little more in short series (AICc), ln n (BIC), 2 ln ln n (HQ).",
        null: None,
        alternative: None,
        reading: "Smaller is better; differences of two or less say little. Each is compared with itself over models, never \
                  with another.",
        misleads: "Models of different data (other differences, another transformation, another sample) cannot be compared by \
                   them; AIC and AICc favour larger models than BIC.",
        size: None,
        source: "Akaike (1974), IEEE Transactions on Automatic Control 19, 716-723; Hurvich and Tsai (1989), Biometrika \
                 76, 297-307; Schwarz (1978), Annals of Statistics 6, 461-464; Hannan and Quinn (1979), JRSS B 41, 190-195.",
        example: "kandrel orders demo:harbour freight:ln --criterion bic",
    },
];
