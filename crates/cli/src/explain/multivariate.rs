//! Regressions, systems of several series, cointegration.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "lag_order",
        title: "Lag order of an autoregression",
        what: "Every order from zero to the maximum is estimated by least squares on one common sample and \
                  evaluated: LR against one lag less, final prediction error, AIC, HQ, BIC.",
        reading: "Each column has its own minimum, which is marked; the others are differences from it. BIC and HQ \
                  are consistent for a finite order, AIC and FPE select more lags. Then check residual \
                  autocorrelation.",
        misleads: "Criteria are not comparable across columns. With many series relative to the observations the \
                  coefficients are imprecise. Unremoved seasonality requires lags up to the seasonal period.",
        source: "Lütkepohl (2005), New Introduction to Multiple Time Series Analysis, chapter 4; Akaike (1969), Annals of \
                 the Institute of Statistical Mathematics 21, 243-247.",
        example: "kandrel lags demo:region wages:d1 rents:d1 output:d1",
        ..NO_TEST
    },
    Topic {
        name: "residual_autocorrelation",
        title: "Portmanteau and LM tests of the residuals",
        what: "Cross-correlations of the residuals of all equations with their own lags: summed (portmanteau), \
                  or tested in a regression on the regressors and lagged residuals (LM, in Rao's F form).",
        null: Some("no residual autocorrelation"),
        alternative: Some("autocorrelation at some of these lags"),
        reading: "A small p-value indicates missing lags, unremoved seasonality or a break. LM uses few lags and \
                  is more accurate in small samples; the portmanteau test uses more lags.",
        misleads: "The portmanteau test needs many observations for its lags; with many series both have low power.",
        size: None,
        source: "Hosking (1980), JASA 75, 602-608; Edgerton and Shukur (1999), Econometric Reviews 18, 343-386.",
        example: "kandrel lags demo:region wages:d1 rents:d1",
    },
    Topic {
        name: "granger_causality",
        title: "Granger causality",
        what: "An F test that all lags of one series are zero in the equation of another, given the lags of all \
                  series. For integrated series untested extra lags are included (lag-augmented Wald test).",
        null: Some("no Granger causality"),
        alternative: Some("the lags of one series improve the prediction of the other"),
        reading: "A small p-value: forecasts improve by including the series. With integrated series use the \
                  lag-augmented version, for which the usual distribution applies.",
        misleads: "It is precedence, not structural causality: a third series can drive both, and expectations make \
                  effects come first. With many pairs some rejections are false positives.",
        size: None,
        source: "Granger (1969), Econometrica 37, 424-438; Toda and Yamamoto (1995), Journal of Econometrics 66, 225-250.",
        example: "kandrel lags demo:region wages rents --causality",
    },
    Topic {
        name: "least_squares",
        title: "Least squares and its standard errors",
        what: "Ordinary least squares, with standard errors for homoskedastic uncorrelated errors (classical), \
                  heteroskedastic ones (HC0, HC1, HC3), or heteroskedastic and autocorrelated ones (Newey-West).",
        null: Some("each t: the coefficient is zero"),
        alternative: Some("the coefficient is not zero"),
        reading: "Diagnostics first, then coefficients with the standard errors that suit them: by default robust ones where \
                  Breusch-Godfrey (Newey-West) or White (HC3) rejects, with the classical ones for comparison. R² is no \
                  evidence of a relation.",
        misleads: "Non-stationary series give a high R² and large t-statistics without any relation (spurious \
                  regression): R² above Durbin-Watson is a sign of it.",
        size: None,
        source: "Granger and Newbold (1974), Journal of Econometrics 2, 111-120; White (1980), Econometrica 48, 817-838; \
                 Newey and West (1987), Econometrica 55, 703-708.",
        example: "kandrel ols demo:harbour sailings --on bookings[t-2]",
    },
    Topic {
        name: "wald",
        title: "Linear restrictions on coefficients",
        what: "The distance of the estimates from linear restrictions such as a + b = 1 in units of their \
                  covariance (Wald): as χ², and divided by the number of restrictions as F.",
        null: Some("the restrictions hold"),
        alternative: Some("one of them does not"),
        reading: "F is more accurate in small samples. A restriction that is not rejected is consistent with the \
                  data, not proven: see the standard errors.",
        misleads: "It depends on the covariance estimate: with autocorrelation or heteroskedasticity use robust \
                  --errors.",
        size: None,
        source: "Wald (1943), Transactions of the American Mathematical Society 54, 426-482.",
        example: "kandrel ols demo:region wages --on rents --restrict rents=1.6",
    },
    Topic {
        name: "breusch_godfrey",
        title: "Breusch-Godfrey test of residual autocorrelation",
        what: "Residuals on the regressors and on their own lags.",
        null: Some("no autocorrelation of the errors"),
        alternative: Some("autocorrelation at some of the lags"),
        reading: "A small p-value: classical standard errors are invalid, and with a lagged dependent variable the \
                  coefficients are inconsistent. Add lags, or use --errors newey-west.",
        misleads: "A wrong functional form or a break also causes residual autocorrelation.",
        size: None,
        source: "Breusch (1978), Australian Economic Papers 17, 334-355; Godfrey (1978), Econometrica 46, 1293-1301.",
        example: "kandrel ols demo:region wages:d1 --on rents:d1",
    },
    Topic {
        name: "durbin_watson",
        title: "Durbin-Watson statistic",
        what: "The sum of squared first differences of the residuals over their sum of squares: about 2 (1 - \
                  r), r the first autocorrelation.",
        reading: "Near 2: none; near zero: strong positive autocorrelation, possibly a unit root; above 2: \
                  negative. Below R² it is a warning of a spurious regression.",
        misleads: "It covers the first lag only and is biased towards 2 with a lagged dependent variable.",
        source: "Durbin and Watson (1950), Biometrika 37, 409-428.",
        example: "kandrel ols demo:region wages --on output",
        ..NO_TEST
    },
    Topic {
        name: "white",
        title: "White's test of heteroskedasticity",
        what: "Squared residuals on the regressors, their squares and products.",
        null: Some("homoskedasticity"),
        alternative: Some("the error variance depends on the regressors"),
        reading: "A small p-value: use --errors hc3, or logarithms if the variance increases with the level.",
        misleads: "Non-linearity also leads to rejections; with many regressors there are many terms and power is \
                  low.",
        size: None,
        source: "White (1980), Econometrica 48, 817-838.",
        example: "kandrel ols demo:harbour sailings --on bookings[t-2]",
    },
    Topic {
        name: "reset",
        title: "RESET test of linearity",
        what: "Significance of squares and cubes of the fitted values added to the regression.",
        null: Some("the relation is linear in the regressors"),
        alternative: Some("it is non-linear, or a regressor is missing"),
        reading: "A small p-value: try logarithms, squares or a missing regressor.",
        misleads: "Autocorrelation and breaks also lead to rejections; the test does not identify the regressor.",
        size: None,
        source: "Ramsey (1969), JRSS B 31, 350-371.",
        example: "kandrel ols demo:region wages --on output",
    },
    Topic {
        name: "chow",
        title: "Chow test of a break in all coefficients",
        what: "The residual sum of squares of one regression compared with those of the two subsamples before \
                  and after a known date.",
        null: Some("equal coefficients before and after"),
        alternative: Some("the coefficients change at this date"),
        reading: "A small p-value: estimate the subsamples separately, or add a step.",
        misleads: "The date has to be known in advance: choosing the date with the largest statistic makes the \
                  p-value far too small. Heteroskedasticity and non-stationarity invalidate it.",
        size: None,
        source: "Chow (1960), Econometrica 28, 591-605.",
        example: "kandrel ols demo:harbour tug_hours --on trend --break-at 2012-05",
    },
    Topic {
        name: "residual_unit_root",
        title: "Unit root in the residuals of a regression",
        what: "The Engle-Granger test of the residuals, reported where R² exceeds Durbin-Watson or the latter \
                  is below 1.",
        null: Some("a unit root in the residuals: no cointegration"),
        alternative: Some("stationary residuals: cointegration"),
        reading: "Not rejected: the regression may be spurious. Rejected: the levels are cointegrated, but \
                  t-statistics do not have the usual distribution.",
        misleads: "It assumes I(1) regressors; a trend or a step among them is not covered by the simulated \
                  distribution.",
        size: None,
        source: "Engle and Granger (1987), Econometrica 55, 251-276.",
        example: "kandrel ols demo:region wages --on rents",
    },
    Topic {
        name: "engle_granger",
        title: "Engle-Granger test of cointegration",
        what: "One series regressed on the others by least squares, then an augmented Dickey-Fuller test of the \
                  residuals, with the distribution for this number of series, these deterministic terms and this \
                  sample size.",
        null: Some("a unit root in the residuals: no cointegration"),
        alternative: Some("stationary residuals: cointegration"),
        reading: "A small p-value is evidence for one cointegrating relation. The result depends on the choice of \
                  the dependent variable.",
        misleads: "It detects at most one relation and has low power in short samples; a break in the relation \
                  hides it.",
        size: None,
        source: "Engle and Granger (1987), Econometrica 55, 251-276; MacKinnon (2010), Queen's University working paper 1227.",
        example: "kandrel cointegration demo:region wages rents",
    },
    Topic {
        name: "phillips_ouliaris",
        title: "Phillips-Ouliaris test of cointegration",
        what: "As Engle-Granger, with a correction by the long-run variance instead of lags.",
        null: Some("no cointegration"),
        alternative: Some("cointegration"),
        reading: "As Engle-Granger. If both agree, the result does not depend on the lag order.",
        misleads: "Over-rejects if the differences have a strong negative moving average.",
        size: None,
        source: "Phillips and Ouliaris (1990), Econometrica 58, 165-193.",
        example: "kandrel cointegration demo:region wages rents",
    },
    Topic {
        name: "johansen",
        title: "Johansen's trace and maximum-eigenvalue tests",
        what: "The likelihood for every cointegration rank in one vector error-correction model of all series, \
                  with lagged differences and one of five cases of deterministic terms; the cointegrating vectors \
                  and the adjustment coefficients.",
        null: Some("cointegration rank at most r"),
        alternative: Some("a higher rank (trace); rank r + 1 (maximum eigenvalue)"),
        reading: "Starting from zero, the first rank that is not rejected is chosen. An adjustment coefficient is \
                  the proportion of a deviation from equilibrium that a series corrects in one period.",
        misleads: "Too few lags lead to spurious relations; a stationary series counts as a relation by itself; \
                  wrong deterministic terms invalidate all p-values. In short samples use --bartlett.",
        size: None,
        source: "Johansen (1995), Likelihood-Based Inference in Cointegrated Vector Autoregressive Models; MacKinnon, Haug and \
                 Michelis (1999), Journal of Applied Econometrics 14, 563-577.",
        example: "kandrel cointegration demo:region wages rents output",
    },
];
