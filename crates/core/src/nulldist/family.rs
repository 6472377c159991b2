use schemars::JsonSchema;
use serde::Serialize;

use super::surface::Surface;
use super::tables;
use crate::lag::Criterion;

/// Deterministic terms of a unit-root or stationarity test.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Terms {
    /// Neither constant nor trend.
    None,
    /// A constant.
    Constant,
    /// A constant and a linear trend.
    Trend,
}

impl Terms {
    /// All of them, from the fewest terms to the most.
    pub const ALL: [Self; 3] = [Self::None, Self::Constant, Self::Trend];

    /// Number of deterministic columns.
    pub fn count(self) -> usize {
        match self {
            Self::None => 0,
            Self::Constant => 1,
            Self::Trend => 2,
        }
    }
}

/// One null distribution.
///
/// A statistic computed after a search (for the lag, for the bandwidth) has a
/// distribution of its own, so the search is part of the family's name.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Family {
    /// Augmented Dickey-Fuller τ with a given number of lags; null: a random
    /// walk from zero with independent normal steps, `lags` as used.
    AdfGiven(Terms),
    /// The same after a search by a criterion; `lags` is the largest searched.
    AdfSearched(Terms, Criterion),
    /// Normal score of the p-value of an ADF test with a given number of lags
    /// whose terms, constant or trend, the data chose; null: a random walk without
    /// drift, the worst case, since with a drift the choice is soon certain.
    AdfTermsByDataGiven,
    /// The same after a search by a criterion.
    AdfTermsByDataSearched(Criterion),
    /// KPSS η with a given bandwidth; null: independent normal values around
    /// the terms, `lags` is the bandwidth.
    KpssGiven(Terms),
    /// KPSS η with the automatic bandwidth; `lags` is the number of
    /// autocovariances that its formula looks at.
    KpssAutomatic(Terms),
}

impl Family {
    /// The response surface, or `None` where the statistic does not exist
    /// (KPSS without a constant).
    pub fn surface(self) -> Option<&'static Surface> {
        tables::find(self)
    }

    /// Every family that has a surface.
    pub fn all() -> Vec<Self> {
        let mut all = Vec::new();
        for terms in Terms::ALL {
            all.push(Self::AdfGiven(terms));
            all.extend(Criterion::ALL.map(|c| Self::AdfSearched(terms, c)));
        }
        all.push(Self::AdfTermsByDataGiven);
        all.extend(Criterion::ALL.map(Self::AdfTermsByDataSearched));
        for terms in [Terms::Constant, Terms::Trend] {
            all.push(Self::KpssGiven(terms));
            all.push(Self::KpssAutomatic(terms));
        }
        all
    }

    /// Its plain name, also the name of its table's file.
    pub fn name(self) -> String {
        let terms = |terms: Terms| match terms {
            Terms::None => "none",
            Terms::Constant => "constant",
            Terms::Trend => "trend",
        };
        let rule = |criterion: Criterion| match criterion {
            Criterion::Aic => "aic",
            Criterion::Bic => "bic",
            Criterion::Hq => "hq",
        };
        match self {
            Self::AdfGiven(t) => format!("adf_{}_given", terms(t)),
            Self::AdfSearched(t, c) => format!("adf_{}_{}", terms(t), rule(c)),
            Self::AdfTermsByDataGiven => "adf_terms_by_data_given".to_owned(),
            Self::AdfTermsByDataSearched(c) => format!("adf_terms_by_data_{}", rule(c)),
            Self::KpssGiven(t) => format!("kpss_{}_given", terms(t)),
            Self::KpssAutomatic(t) => format!("kpss_{}_automatic", terms(t)),
        }
    }
}
