//! What is simulated together.

use kandrel_core::nulldist::{Family, LagChoice, SeasonLength, Statistic};

use crate::adf::AdfSimulator;
use crate::gls::GlsSimulator;
use crate::kpss::KpssSimulator;
use crate::residual::{self, ResidualSimulator};
use crate::sample::Simulator;
use crate::sim_break_lags::{
    LONGEST_FOR_TWO_BREAKS, SEARCHED_TWO_BREAK_SIZES, SearchedBreakSimulator, SearchedPairSimulator,
};
use crate::sim_breaks::{
    LagrangeSimulator, ONE_BREAK_SIZES, StabilitySimulator, TWO_BREAK_SIZES, stability_sizes,
};
use crate::sim_hegy::{MONTHLY_SIZES, QUARTERLY_SIZES, SearchedSeasonSimulator, SeasonSimulator};
use crate::sim_lag_rules::RulesSimulator;
use crate::sim_statistics::{BREAK_SIZES, BreakSimulator, PpSimulator, SIZES};
use crate::simulation_design;
use crate::system::{self, SystemSimulator};
use crate::terms_by_data::TermsByDataSimulator;

/// Long regressions are dear and rarely asked for: they get one draw in this number.
const MANY_LAGS_SHARE: usize = 10;
/// So does the choice of terms, whose effect hardly depends on size and lags.
const CHOSEN_TERMS_SHARE: usize = 16;
/// And whatever searches dates, has seasons or is of several series.
const DEAR_SHARE: usize = 5;
/// With fewer draws the outermost quantiles have no measurable error.
pub const MIN_REPLICATIONS: usize = 20_000;

/// A set of families that one run simulates.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Part {
    /// Dickey-Fuller and KPSS
    Classic,
    /// Phillips-Perron
    Pp,
    /// Lag rules and joint hypotheses of Dickey-Fuller
    Rules,
    /// Statistics of series detrended by generalised least squares
    Gls,
    /// Searches over a break date
    Breaks,
    /// Searches over one break date, detrended under the null
    OneBreak,
    /// Searches over two
    TwoBreaks,
    /// Searches over two after a search for lags
    TwoBreaksByAic,
    /// Searches over one break date after a search for lags
    BreaksByAic,
    /// Seasonal roots of quarterly series after a search for lags
    QuarterlyByAic,
    /// Seasonal roots of monthly series after a search for lags
    MonthlyByAic,
    /// Seasonal patterns that stay
    Stability,
    /// Seasonal roots of quarterly series
    Quarterly,
    /// Seasonal roots of monthly series
    Monthly,
    /// Unit roots in residuals of several series
    Residual,
    /// Relations in systems of several series
    System,
}

/// A simulator, its draws, and what is added to the seed: no two distributions may share
/// their draws.
pub type Run = (Box<dyn Simulator>, usize, u64);

impl Part {
    /// The part of a family.
    pub fn of(family: Family) -> Self {
        let is_given = family.lags == LagChoice::Given;
        match family.statistic {
            Statistic::PhillipsPerron(..) => Self::Pp,
            Statistic::AdfJoint(_) => Self::Rules,
            Statistic::Adf(_) if matches!(family.lags, LagChoice::Maic | LagChoice::T) => Self::Rules,
            Statistic::Gls(..) => Self::Gls,
            Statistic::ZivotAndrews(_) if is_given => Self::Breaks,
            Statistic::Lagrange(case) if case.two && is_given => Self::TwoBreaks,
            Statistic::Lagrange(case) if case.two => Self::TwoBreaksByAic,
            Statistic::Lagrange(_) if is_given => Self::OneBreak,
            Statistic::ZivotAndrews(_) | Statistic::Lagrange(_) => Self::BreaksByAic,
            Statistic::SeasonStability(..) => Self::Stability,
            Statistic::SeasonalRoots(SeasonLength::Quarterly, ..) if is_given => Self::Quarterly,
            Statistic::SeasonalRoots(SeasonLength::Quarterly, ..) => Self::QuarterlyByAic,
            Statistic::SeasonalRoots(SeasonLength::Monthly, ..) if is_given => Self::Monthly,
            Statistic::SeasonalRoots(SeasonLength::Monthly, ..) => Self::MonthlyByAic,
            Statistic::Residual(..) => Self::Residual,
            Statistic::System(..) => Self::System,
            Statistic::Adf(_) | Statistic::AdfTermsByData | Statistic::Kpss(_) => Self::Classic,
        }
    }

    /// Replications of each sample size, of that number of for the cheapest.
    fn share(self, draws: usize) -> usize {
        let share = match self {
            Self::Classic | Self::Pp | Self::Rules | Self::Gls => 1,
            _ => DEAR_SHARE,
        };
        (draws / share).max(MIN_REPLICATIONS)
    }

    /// Everything it simulates.
    pub fn runs(self, draws: usize) -> Vec<Run> {
        let own = self.share(draws);
        match self {
            Self::Classic => classic(draws),
            Self::Pp => SIZES.map(|n| run(PpSimulator { n }, own, 4)).into(),
            Self::Rules => SIZES.map(|n| run(RulesSimulator { n }, own, 5)).into(),
            Self::Gls => SIZES.map(|n| run(GlsSimulator { n }, own, 6)).into(),
            Self::Breaks => BREAK_SIZES.map(|n| run(BreakSimulator { n }, own, 7)).into(),
            Self::OneBreak => {
                ONE_BREAK_SIZES.map(|n| run(LagrangeSimulator { n, two: false }, own, 30)).into()
            }
            Self::TwoBreaks => {
                TWO_BREAK_SIZES.map(|n| run(LagrangeSimulator { n, two: true }, own, 31)).into()
            }
            Self::TwoBreaksByAic => {
                let of = |n, draws| run(SearchedPairSimulator { n }, draws, 36);
                let usual = SEARCHED_TWO_BREAK_SIZES.map(|n| of(n, own));
                usual.into_iter().chain([of(LONGEST_FOR_TWO_BREAKS, MIN_REPLICATIONS)]).collect()
            }
            Self::BreaksByAic => ONE_BREAK_SIZES.map(|n| run(SearchedBreakSimulator { n }, own, 33)).into(),
            Self::QuarterlyByAic => QUARTERLY_SIZES
                .map(|n| run(SearchedSeasonSimulator { season: SeasonLength::Quarterly, n }, own, 34))
                .into(),
            Self::MonthlyByAic => MONTHLY_SIZES
                .map(|n| run(SearchedSeasonSimulator { season: SeasonLength::Monthly, n }, own, 35))
                .into(),
            Self::Stability => stability(own),
            Self::Quarterly => QUARTERLY_SIZES
                .map(|n| run(SeasonSimulator { season: SeasonLength::Quarterly, n }, own, 8))
                .into(),
            Self::Monthly => MONTHLY_SIZES
                .map(|n| run(SeasonSimulator { season: SeasonLength::Monthly, n }, own, 20))
                .into(),
            Self::Residual => residual::SIZES.map(|n| run(ResidualSimulator { n }, own, 40)).into(),
            Self::System => system::SIZES.map(|rows| run(SystemSimulator { rows }, own, 41)).into(),
        }
    }

    /// Replications of a family, in words.
    pub fn draws_in_words(family: Family, draws: usize) -> String {
        match family.statistic {
            Statistic::AdfTermsByData => (draws / CHOSEN_TERMS_SHARE).max(MIN_REPLICATIONS).to_string(),
            Statistic::Adf(_) if !matches!(family.lags, LagChoice::Maic | LagChoice::T) => {
                format!("{draws} (long regressions: {})", (draws / MANY_LAGS_SHARE).max(MIN_REPLICATIONS))
            }
            Statistic::Lagrange(case) if case.two && family.lags != LagChoice::Given => {
                let usual = Self::TwoBreaksByAic.share(draws);
                format!("{usual} ({LONGEST_FOR_TWO_BREAKS} observations: {MIN_REPLICATIONS})")
            }
            _ => Self::of(family).share(draws).to_string(),
        }
    }
}

fn run(simulator: impl Simulator + 'static, draws: usize, seed: u64) -> Run {
    (Box::new(simulator), draws, seed)
}

fn stability(draws: usize) -> Vec<Run> {
    let of = |season: SeasonLength| {
        stability_sizes(season).iter().map(move |n| run(StabilitySimulator { season, n: *n }, draws, 32))
    };
    SeasonLength::ALL.into_iter().flat_map(of).collect()
}

fn classic(draws: usize) -> Vec<Run> {
    let mut all = Vec::new();
    for n in simulation_design::SIZES {
        all.push(run(AdfSimulator::new(n), draws, 0));
        all.push(run(KpssSimulator::new(n), draws, 1));
        if let Some(simulator) = AdfSimulator::with_many_lags(n) {
            all.push(run(simulator, (draws / MANY_LAGS_SHARE).max(MIN_REPLICATIONS), 2));
        }
    }
    let few = (draws / CHOSEN_TERMS_SHARE).max(MIN_REPLICATIONS);
    all.extend(simulation_design::CHOSEN_TERMS_SIZES.map(|n| run(TermsByDataSimulator::new(n), few, 3)));
    all
}

#[cfg(test)]
mod tests {
    use clap::ValueEnum;

    use super::*;

    /// Two runs with one seed and one size would share their draws, and so the errors of their tables.
    #[test]
    fn seeds_of_runs_never_collide() {
        let mut known: Vec<(u64, usize, String)> = Vec::new();
        for part in Part::value_variants() {
            for (simulator, draws, more) in part.runs(1_000_000) {
                assert!(draws >= MIN_REPLICATIONS);
                let n = simulator.observations();
                let same = known.iter().find(|(seed, size, _)| (*seed, *size) == (more, n));
                assert_eq!(same, None, "{part:?}, n = {n}");
                known.push((more, n, format!("{part:?}")));
            }
        }
        // The streams of a size are numbered behind it: a million draws fit many times over.
        assert!(known.iter().all(|(_, n, _)| (*n as u64) < 1 << 31) && known.len() > 150);
    }

    #[test]
    fn every_family_belongs_to_the_part_that_simulates_it() {
        for part in Part::value_variants() {
            for (simulator, ..) in part.runs(1) {
                for cell in simulator.cells() {
                    assert_eq!(Part::of(cell.family), *part, "{}", cell.family.name());
                }
            }
        }
    }
}
