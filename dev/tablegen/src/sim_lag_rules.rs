//! Replications of the Dickey-Fuller τ after the modified AIC and after the t-rule, and of the joint
//! hypotheses: all read off the stages of one elimination.

use kandrel_core::lag::default_max_lags;
use kandrel_core::nulldist::{JointTest, LagChoice, Statistic, Terms};
use kandrel_core::num::rng::NormalStream;

use crate::products::{Four, Pair, Products, Stages, eliminated};
use crate::sample::{SimulationCell, Simulator};
use crate::sim_statistics::lags;

/// Critical value of the t-rule: 10 %, two-sided.
const T_RULE: f64 = 1.645;

const JOINT: [JointTest; 3] = [JointTest::Phi1, JointTest::Phi2, JointTest::Phi3];

/// Simulates one sample size.
pub struct RulesSimulator {
    pub n: usize,
}

impl Simulator for RulesSimulator {
    fn observations(&self) -> usize {
        self.n
    }

    fn cells(&self) -> Vec<SimulationCell> {
        let most = default_max_lags(self.n);
        let mut cells = Vec::new();
        for terms in Terms::ALL {
            cells.extend(
                [Statistic::Adf(terms).after(LagChoice::Maic), Statistic::Adf(terms).after(LagChoice::T)]
                    .map(|family| SimulationCell { family, lags: most }),
            );
        }
        for test in JOINT {
            cells.extend(
                lags(self.n)
                    .into_iter()
                    .map(|lags| SimulationCell { family: Statistic::AdfJoint(test).given(), lags }),
            );
        }
        cells
    }

    fn draw(&self, stream: &mut NormalStream, out: &mut Vec<f64>) {
        let joint_lags = lags(self.n);
        let searched = default_max_lags(self.n);
        let most = joint_lags.iter().copied().fold(searched, usize::max);
        let mut products = Products::new(&stream.take(self.n), most);
        let mut tau = vec![[f64::NAN; 3]; most + 1];
        let mut joint = vec![[f64::NAN; 3]; most + 1];
        let mut chosen = [[0_usize; 2]; 3];
        let mut wanted: Vec<bool> = (0..=most).map(|p| joint_lags.contains(&p)).collect();
        for p in (0..=most).rev() {
            if p == searched {
                chosen = choices(&products.stages(p));
                chosen.iter().flatten().for_each(|q| wanted[*q] = true);
            }
            if wanted[p] {
                let stages = products.stages(p);
                tau[p] = stages.tau();
                joint[p] = joint_statistics(&stages);
            }
            if p > 0 {
                products.add_row(p);
            }
        }
        for (case, rules) in chosen.iter().enumerate() {
            out.extend(rules.map(|lags| tau[lags][case]));
        }
        for (place, _) in JOINT.iter().enumerate() {
            out.extend(joint_lags.iter().map(|p| joint[*p][place]));
        }
    }
}

/// Lags by the modified AIC and by the t-rule, for each of the three terms.
fn choices(stages: &Stages) -> [[usize; 2]; 3] {
    let regressions: Vec<[Pair; 3]> = stages.after.iter().map(eliminated).collect();
    [0, 1, 2].map(|terms| {
        let own: Vec<Pair> = regressions.iter().map(|pairs| pairs[terms]).collect();
        [by_maic(&own, stages.rows), by_t(&own, stages.rows, terms)]
    })
}

/// The level's squares of the penalty are what the terms alone leave of them: the first regression's.
pub fn by_maic(regressions: &[Pair], rows: usize) -> usize {
    let (n, squares) = (rows as f64, regressions[0].level);
    let value = |(lags, regression): (usize, &Pair)| {
        let variance = regression.residual() / n;
        let level = regression.cross / regression.level;
        n * variance.ln() + 2.0 * (level * level * squares / variance + lags as f64)
    };
    let values = regressions.iter().enumerate().map(value).enumerate();
    values.min_by(|a, b| a.1.total_cmp(&b.1)).map_or(0, |(lags, _)| lags)
}

/// The square of the last lag's t-ratio is what it takes off the residual sum, in variances.
fn by_t(regressions: &[Pair], rows: usize, terms: usize) -> usize {
    let significant = |lags: &usize| {
        let (before, after) = (regressions[*lags - 1].residual(), regressions[*lags].residual());
        let degrees = (rows - terms - 1 - lags) as f64;
        (before - after) * degrees / after > T_RULE * T_RULE
    };
    (1..regressions.len()).rev().find(significant).unwrap_or(0)
}

/// F of each joint hypothesis by the residual sums with and without it, in the order of
/// [`JOINT`], with all lags.
fn joint_statistics(stages: &Stages) -> [f64; 3] {
    let lags = stages.after.len() - 1;
    let left: &Four = &stages.after[lags];
    let pairs = eliminated(left);
    // Without anything but the lags, and with a constant with them.
    let (bare, constant) = (pairs[0].change, pairs[1].change);
    let f = |restricted: f64, terms: usize, count: f64| {
        let free = pairs[terms].residual();
        let degrees = (stages.rows - lags - terms - 1) as f64;
        (restricted - free) / count / (free / degrees)
    };
    [f(bare, 1, 2.0), f(bare, 2, 3.0), f(constant, 2, 2.0)]
}

#[cfg(test)]
mod tests {
    use super::*;
    use kandrel_core::nulldist::random_walk;
    use kandrel_core::ols::estimate;
    use kandrel_core::unitroot::statistic::{
        adf_regression, chosen_by_maic, chosen_by_t, lag_regressions, level_squares, wald_f,
    };

    /// The same by the core's orthogonal factors.
    fn by_the_core(cell: SimulationCell, x: &[f64]) -> f64 {
        let tau = |terms: Terms, lags: usize| {
            let fit = estimate(&mut adf_regression(x, terms, lags)).expect("well posed");
            let level = terms.count();
            fit.coefficients[level] / fit.covariance[(level, level)].sqrt()
        };
        match (cell.family.statistic, cell.family.lags) {
            (Statistic::Adf(terms), LagChoice::Maic) => {
                let (regressions, rows) = lag_regressions(x, terms, cell.lags).expect("well posed");
                let squares = level_squares(x, terms, cell.lags).expect("well posed");
                tau(terms, chosen_by_maic(&regressions, rows, squares))
            }
            (Statistic::Adf(terms), LagChoice::T) => {
                tau(terms, chosen_by_t(&lag_regressions(x, terms, cell.lags).expect("well posed").0))
            }
            (Statistic::AdfJoint(test), _) => {
                let (terms, which): (Terms, &[usize]) = match test {
                    JointTest::Phi1 => (Terms::Constant, &[0, 1]),
                    JointTest::Phi2 => (Terms::Trend, &[0, 1, 2]),
                    JointTest::Phi3 => (Terms::Trend, &[1, 2]),
                };
                let fit = estimate(&mut adf_regression(x, terms, cell.lags)).expect("well posed");
                wald_f(&fit, which).expect("well posed")
            }
            other => panic!("{other:?} is none of these"),
        }
    }

    #[test]
    fn the_fast_draws_are_the_statistics_of_the_core() {
        for n in [20, 57, 150, 400] {
            let simulator = RulesSimulator { n };
            for seed in 0..4 {
                let mut drawn = Vec::new();
                simulator.draw(&mut NormalStream::new(seed, 0), &mut drawn);
                let x = random_walk(&mut NormalStream::new(seed, 0), n);
                assert_eq!(drawn.len(), simulator.cells().len());
                for (cell, ours) in simulator.cells().into_iter().zip(drawn) {
                    let core = by_the_core(cell, &x);
                    assert!((core - ours).abs() < 1e-7 * core.abs().max(1.0), "{n} {cell:?}: {core} {ours}");
                }
            }
        }
    }
}
