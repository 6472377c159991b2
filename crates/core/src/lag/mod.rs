//! How many lags: given numbers, information criteria, default maxima.

mod criterion;
mod maximum;

pub use criterion::{Criterion, gaussian_log_likelihood};
pub use maximum::{default_max_lags, largest_max_lags};

use std::str::FromStr;

use schemars::JsonSchema;
use serde::Serialize;

/// How the number of lags is found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum LagRule {
    /// The number itself.
    Given(usize),
    /// The number with the smallest criterion, all candidates on one sample.
    Criterion(Criterion),
    /// The number with the smallest modified AIC (Ng and Perron 2001).
    Maic,
    /// From the largest number down, the first whose last lag is significant at 10 %.
    T,
}

impl LagRule {
    const CHOSEN: [(&'static str, Self); 5] = [
        ("aic", Self::Criterion(Criterion::Aic)),
        ("bic", Self::Criterion(Criterion::Bic)),
        ("hq", Self::Criterion(Criterion::Hq)),
        ("maic", Self::Maic),
        ("t", Self::T),
    ];

    /// The name of the rule; `given` for a number.
    pub fn name(self) -> &'static str {
        Self::CHOSEN.iter().find(|(_, rule)| *rule == self).map_or("given", |(name, _)| name)
    }
}

impl FromStr for LagRule {
    type Err = LagRuleError;

    fn from_str(text: &str) -> Result<Self, LagRuleError> {
        let known =
            Self::CHOSEN.iter().find(|(name, _)| name.eq_ignore_ascii_case(text)).map(|(_, rule)| *rule);
        known.or_else(|| text.parse().map(Self::Given).ok()).ok_or(LagRuleError)
    }
}

/// The text names no rule.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("write a number, aic, bic, hq, maic or t")]
pub struct LagRuleError;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_rule_is_read_from_its_name() {
        for (name, rule) in LagRule::CHOSEN {
            assert_eq!(name.parse(), Ok(rule));
            assert_eq!(rule.name(), name);
        }
        assert_eq!("AIC".parse::<LagRule>(), "aic".parse());
        assert_eq!("7".parse(), Ok(LagRule::Given(7)));
        assert_eq!(LagRule::Given(7).name(), "given");
        for wrong in ["", "-1", "AICX", "1.5", "given"] {
            assert_eq!(wrong.parse::<LagRule>(), Err(LagRuleError));
        }
    }
}
