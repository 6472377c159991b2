//! Regressions, systems of several series, cointegration.

use super::{NO_TEST, Topic};

pub const TOPICS: &[Topic] = &[
    Topic {
        name: "lag_order",
        title: "Lag order of an autoregression of one series or several",
        what: "Every order from nought to the largest is estimated by least squares on one common sample and judged by its \
               likelihood: LR against one lag less, final prediction error, AIC, HQ, BIC.",
        reading: "Each column has a least value of its own, which is marked; the others show how far above it they are. BIC \
                  and HQ find a true finite order in long samples, AIC and FPE favour more lags. Then: are the residuals white?",
        misleads: "Values of two criteria in one row are not comparable. Too many series for the rows: coefficients eat the \
                   sample. A season left in asks for lags up to it.",
        source: "Lütkepohl (2005), New Introduction to Multiple Time Series Analysis, chapter 4; Akaike (1969), Annals of \
                 the Institute of Statistical Mathematics 21, 243-247.",
        example: "kandrel lags demo:region wages:d1 rents:d1 output:d1",
        ..NO_TEST
    },
    Topic {
        name: "residual_autocorrelation",
        title: "Portmanteau and LM test of the residuals of a system",
        what: "Correlations of the residuals with their past, of all equations together: summed up (portmanteau), or by a \
               regression on the regressors and lagged residuals (LM, in Rao's F form).",
        null: Some("Nothing of the past is left in the residuals."),
        alternative: Some("Some residual depends on earlier ones."),
        reading: "A small p says that lags are missing, a season is left in, or a break disturbs. LM looks at few lags and is \
                  the more exact in short samples; the portmanteau looks further.",
        misleads: "The portmanteau needs many rows for its lags; with many series both lose power.",
        size: None,
        source: "Hosking (1980), JASA 75, 602-608; Edgerton and Shukur (1999), Econometric Reviews 18, 343-386.",
        example: "kandrel lags demo:region wages:d1 rents:d1",
    },
    Topic {
        name: "granger_causality",
        title: "Whether the past of one series helps to predict another",
        what: "An F test that all lags of one series are nought in the equation of another, the lags of all series being \
               there. For integrated series lags are added that are not tested.",
        null: Some("The past of the one does not help to predict the other."),
        alternative: Some("It helps."),
        reading: "A small p says that forecasts gain from it. With integrated series read the version with lags added: the \
                  usual distributions hold only there.",
        misleads: "It is precedence, not cause: a third series can move both, and expectations make effects come first. Many \
                   pairs make chance finds.",
        size: None,
        source: "Granger (1969), Econometrica 37, 424-438; Toda and Yamamoto (1995), Journal of Econometrics 66, 225-250.",
        example: "kandrel lags demo:region wages rents --causality",
    },
    Topic {
        name: "least_squares",
        title: "Least squares and what it is judged by",
        what: "Coefficients that make the sum of squared residuals least, with errors that assume even, uncorrelated \
               residuals (classical), uneven ones (HC0, HC1, HC3), or autocorrelated ones too (Newey-West).",
        null: Some("Of each t: the coefficient is nought."),
        alternative: Some("It is not."),
        reading: "First the diagnostics, then the coefficients with errors that fit them. R² says nothing about whether a \
                  relation is real.",
        misleads: "Series that trend or wander give high R² and large t without any relation: R² above Durbin-Watson is the \
                   sign of it.",
        size: None,
        source: "Granger and Newbold (1974), Journal of Econometrics 2, 111-120; White (1980), Econometrica 48, 817-838; \
                 Newey and West (1987), Econometrica 55, 703-708.",
        example: "kandrel ols demo:harbour sailings --on bookings[t-2]",
    },
    Topic {
        name: "wald",
        title: "Linear restrictions on coefficients",
        what: "How far the estimates are from a restriction such as a + b = 1, in units of their own errors (Wald): as χ², \
               and over the number of restrictions as F.",
        null: Some("The restrictions hold."),
        alternative: Some("One of them does not."),
        reading: "F is the better one in small samples. Not rejected means that the data are in keeping with it, not that it \
                  is true: look at the errors of the coefficients.",
        misleads: "It inherits wrong errors: with autocorrelation or uneven spread take --errors first.",
        size: None,
        source: "Wald (1943), Transactions of the American Mathematical Society 54, 426-482.",
        example: "kandrel ols demo:region wages --on rents --restrict rents=1.6",
    },
    Topic {
        name: "breusch_godfrey",
        title: "Breusch-Godfrey test of autocorrelated errors",
        what: "Residuals on the regressors and on their own lags.",
        null: Some("The errors do not depend on earlier ones."),
        alternative: Some("They do, on some of so many lags."),
        reading: "A small p: classical errors are wrong, and with a lagged target the coefficients too. Add lags, or take \
                  --errors newey-west.",
        misleads: "A wrong shape or a break in the relation makes residuals autocorrelated as well.",
        size: None,
        source: "Breusch (1978), Australian Economic Papers 17, 334-355; Godfrey (1978), Econometrica 46, 1293-1301.",
        example: "kandrel ols demo:region wages:d1 --on rents:d1",
    },
    Topic {
        name: "durbin_watson",
        title: "Durbin-Watson statistic",
        what: "Squared changes of the residuals over their squares: about 2 (1 - r), r the first autocorrelation.",
        reading: "Near 2: none; near nought: residuals that wander; above 2: they alternate. Below R² it is a warning.",
        misleads: "It sees the first lag only, and leans towards 2 when a lagged target is among the regressors.",
        source: "Durbin and Watson (1950), Biometrika 37, 409-428.",
        example: "kandrel ols demo:region wages --on output",
        ..NO_TEST
    },
    Topic {
        name: "white",
        title: "White's test of even spread",
        what: "Squared residuals on the regressors, their squares and products.",
        null: Some("The spread of the errors does not depend on the regressors."),
        alternative: Some("It does."),
        reading: "A small p: take --errors hc3, or logarithms if the spread grows with the level.",
        misleads: "A curved relation makes it reject too; with many regressors it has many terms and little power.",
        size: None,
        source: "White (1980), Econometrica 48, 817-838.",
        example: "kandrel ols demo:harbour sailings --on bookings[t-2]",
    },
    Topic {
        name: "reset",
        title: "RESET, a test of a straight relation",
        what: "Whether squares and cubes of the fitted values add to the regression.",
        null: Some("The relation is linear in its regressors."),
        alternative: Some("It is curved, or a regressor is missing."),
        reading: "A small p: try logarithms, squares or a missing regressor.",
        misleads: "Autocorrelation and breaks make it reject as well; it does not say which regressor is at fault.",
        size: None,
        source: "Ramsey (1969), JRSS B 31, 350-371.",
        example: "kandrel ols demo:region wages --on output",
    },
    Topic {
        name: "chow",
        title: "Chow test of a break in all coefficients",
        what: "The sum of squares of one regression against those of the two parts before and after a known period.",
        null: Some("The coefficients are the same before and after."),
        alternative: Some("They change there."),
        reading: "A small p: estimate the parts on their own, or add a step.",
        misleads: "The date has to be known beforehand: looking for the worst date makes p far too small. Uneven spread or \
                   wandering series upset it.",
        size: None,
        source: "Chow (1960), Econometrica 28, 591-605.",
        example: "kandrel ols demo:harbour tug_hours --on trend --break-at 2012-05",
    },
    Topic {
        name: "residual_unit_root",
        title: "Unit root in the residuals of a regression",
        what: "The Engle-Granger test of the residuals, given where R² is above Durbin-Watson or that is below 1.",
        null: Some("The residuals wander: no relation ties the levels."),
        alternative: Some("They return: the levels are tied."),
        reading: "Not rejected: the regression may be spurious. Rejected: the levels keep together, though t and p are not \
                  the usual ones.",
        misleads: "It supposes that the regressors wander; a trend or a step among them is not what it was drawn for.",
        size: None,
        source: "Engle and Granger (1987), Econometrica 55, 251-276.",
        example: "kandrel ols demo:region wages --on rents",
    },
    Topic {
        name: "engle_granger",
        title: "Engle-Granger test of cointegration",
        what: "One series on the others by least squares, then an augmented Dickey-Fuller test of what is left, held against \
               the distribution for so many series, these terms and this length.",
        null: Some("What is left wanders: no cointegration."),
        alternative: Some("It returns: the series keep together."),
        reading: "A small p speaks for one relation. It is written for one series: another one on the left gives another answer.",
        misleads: "It finds at most one relation and has little power in short samples; a break in the relation hides it.",
        size: None,
        source: "Engle and Granger (1987), Econometrica 55, 251-276; MacKinnon (2010), Queen's University working paper 1227.",
        example: "kandrel cointegration demo:region wages rents",
    },
    Topic {
        name: "phillips_ouliaris",
        title: "Phillips-Ouliaris test of cointegration",
        what: "As Engle-Granger, but the statistic is corrected by a long-run variance in place of lags.",
        null: Some("No cointegration."),
        alternative: Some("The series keep together."),
        reading: "As Engle-Granger. Where both agree, the choice of lags does not matter.",
        misleads: "Rejects too often where changes have a strong negative moving average.",
        size: None,
        source: "Phillips and Ouliaris (1990), Econometrica 58, 165-193.",
        example: "kandrel cointegration demo:region wages rents",
    },
    Topic {
        name: "johansen",
        title: "Johansen's trace and largest-eigenvalue tests",
        what: "The likelihood of every number of relations in one system of all series, with lagged changes and one of five \
               sets of fixed terms; the relations, and how each series answers a gap in them.",
        null: Some("So many relations or fewer."),
        alternative: Some("More (trace); one more (largest eigenvalue)."),
        reading: "From none upwards, the first number that is not rejected is taken. A relation is nought in the long run; a \
                  loading says which share of a gap a series makes up in one period.",
        misleads: "Too few lags make it find relations that are not there; a stationary series counts as a relation of its \
                   own; wrong fixed terms shift every p. In short samples --bartlett corrects the trace.",
        size: None,
        source: "Johansen (1995), Likelihood-Based Inference in Cointegrated Vector Autoregressive Models; MacKinnon, Haug and \
                 Michelis (1999), Journal of Applied Econometrics 14, 563-577.",
        example: "kandrel cointegration demo:region wages rents output",
    },
];
