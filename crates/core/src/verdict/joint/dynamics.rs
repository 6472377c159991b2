//! The short-run dynamics that every model is averaged over.

use std::f64::consts::PI;

use super::super::candidates::times;

/// An autoregressive moving-average process, `φ(B) u = θ(B) e`, and its weight among the dynamics of a model.
#[derive(Debug, Clone, PartialEq)]
pub struct Dynamics {
    /// φ as the weights of past values.
    pub ar: Vec<f64>,
    /// θ as the weights of past innovations.
    pub ma: Vec<f64>,
    /// Weights add up to one.
    pub weight: f64,
    /// The place of the dynamics near it that is evaluated first; its own where it is one of these.
    pub parent: usize,
    /// Whether seasonal autoregressions are tried with it.
    pub with_seasonal_ar: bool,
    /// Whether breaks are tried with it.
    pub is_core: bool,
}

const LARGEST: [(f64, f64); 8] = [
    (0.0, 0.15),
    (0.3, 0.15),
    (0.5, 0.16),
    (0.65, 0.16),
    (0.78, 0.15),
    (0.87, 0.12),
    (0.93, 0.07),
    (0.97, 0.04),
];
const SECOND: [(f64, f64); 6] =
    [(-0.6, 0.10), (-0.3, 0.14), (0.0, 0.40), (0.35, 0.18), (0.65, 0.11), (0.87, 0.07)];
const MOVING: [(f64, f64); 7] =
    [(-0.85, 0.05), (-0.65, 0.09), (-0.4, 0.13), (-0.2, 0.13), (0.0, 0.36), (0.35, 0.15), (0.75, 0.09)];
/// Moving averages that breaks are tried with, the last with d = 1 only.
const CORE_MOVING: [f64; 4] = [-0.4, 0.0, 0.35, -0.65];
/// Of a process that is differenced twice.
const SECOND_TWICE: [(f64, f64); 4] = [(-0.3, 0.14), (0.0, 0.40), (0.35, 0.18), (0.65, 0.11)];
const MOVING_TWICE: [(f64, f64); 7] =
    [(-0.85, 0.25), (-0.65, 0.25), (-0.4, 0.2), (-0.2, 0.12), (0.0, 0.12), (0.35, 0.04), (0.75, 0.02)];
const SECOND_MOVING_TWICE: [(f64, f64); 2] = [(0.0, 0.5), (-0.5, 0.5)];
/// Factors `(1 + aB)(1 + bB)` of a process that is differenced once.
const TWO_MOVING: [[f64; 2]; 5] = [[0.8, 0.5], [0.6, -0.6], [-0.8, -0.5], [-0.6, -0.6], [0.5, 0.5]];

const MODULI: [f64; 4] = [0.45, 0.65, 0.8, 0.92];
const ANGLES: [f64; 9] = [18.0, 27.0, 36.0, 54.0, 72.0, 90.0, 108.0, 128.0, 152.0];
const CYCLE_MOVING: [(f64, f64); 3] = [(0.0, 0.5), (-0.5, 0.25), (0.5, 0.25)];
/// Real roots that are with a cycle.
const CYCLE_ROOTS: [f64; 2] = [0.78, 0.93];

/// Weights of the families: real roots, cycles, and cycles with a real root (d = 0) or two moving averages (d = 1).
const REAL: [f64; 2] = [0.77, 0.80];
const CYCLES: f64 = 0.15;
const CYCLES_WITH_ROOT: f64 = 0.08;
const TWO_MOVING_WEIGHT: f64 = 0.05;

/// The dynamics of a model with d differences.
pub fn dynamics(d: usize) -> Vec<Dynamics> {
    let mut all = Family::default();
    match d {
        0 => {
            all.real(&LARGEST, REAL[0], 0);
            all.cycles();
            all.cycles_with_root();
        }
        1 => {
            all.real(&[(0.0, 1.0)], REAL[1], 1);
            all.cycles();
            all.two_moving();
        }
        _ => all.twice(),
    }
    let total: f64 = all.0.iter().map(|one| one.weight).sum();
    for one in &mut all.0 {
        one.weight /= total;
    }
    all.0
}

/// Those of some dynamics whose moving average is shorter than the season, near each other as before.
pub fn shorter(all: &[Dynamics], season: usize) -> Vec<Dynamics> {
    let kept: Vec<usize> = (0..all.len()).filter(|place| all[*place].ma.len() < season).collect();
    let parent = |old: usize, own: usize| kept.binary_search(&old).unwrap_or(own);
    kept.iter()
        .enumerate()
        .map(|(own, old)| Dynamics { parent: parent(all[*old].parent, own), ..all[*old].clone() })
        .collect()
}

#[derive(Default)]
struct Family(Vec<Dynamics>);

impl Family {
    fn add(&mut self, ar: &[f64], ma: &[f64], weight: f64, parent: Option<usize>) -> &mut Dynamics {
        let own = self.0.len();
        self.0.push(Dynamics {
            ar: without_zeros(ar),
            ma: without_zeros(ma),
            weight,
            parent: parent.unwrap_or(own),
            with_seasonal_ar: false,
            is_core: false,
        });
        &mut self.0[own]
    }

    /// `(1 - ρB)(1 - φB) u = (1 + θB) e` with φ at most max(ρ, 0), or without ρ where there is a unit root.
    fn real(&mut self, largest: &[(f64, f64)], share: f64, d: usize) {
        let allowed = |rho: f64, phi: f64| d > 0 || phi <= rho.max(0.0);
        let mut total = 0.0;
        for (rho, first) in largest {
            let second: f64 = SECOND.iter().filter(|(phi, _)| allowed(*rho, *phi)).map(|(_, w)| w).sum();
            total += first * second;
        }
        for (rho, first) in largest {
            for (theta, moving) in MOVING {
                let parent = self.0.len();
                // The coarse point comes first.
                let zero_first = SECOND.iter().filter(|(phi, _)| *phi == 0.0);
                let others = SECOND.iter().filter(|(phi, _)| *phi != 0.0 && allowed(*rho, *phi));
                for (phi, second) in zero_first.chain(others) {
                    let weight = share * first * second * moving / total;
                    let own = self.add(&times(&[*phi], *rho), &[theta], weight, Some(parent));
                    own.with_seasonal_ar = [-0.3, 0.0, 0.35].contains(phi);
                    let moves = CORE_MOVING[..3 + d].contains(&theta);
                    own.is_core = *phi == 0.0 && [0.0, 0.5, 0.78].contains(rho) && moves;
                }
            }
        }
    }

    fn cycles(&mut self) {
        let each = CYCLES / pairs().len() as f64;
        for pair in pairs() {
            let parent = self.0.len();
            for (theta, moving) in CYCLE_MOVING {
                let is_coarse = self.0.len() == parent;
                self.add(&pair, &[theta], each * moving, Some(parent)).with_seasonal_ar = is_coarse;
            }
        }
    }

    fn cycles_with_root(&mut self) {
        let each = CYCLES_WITH_ROOT / (pairs().len() * CYCLE_ROOTS.len()) as f64;
        for pair in pairs() {
            let parent = self.0.iter().position(|one| one.ar == pair);
            for root in CYCLE_ROOTS {
                self.add(&times(&pair, root), &[], each, parent);
            }
        }
    }

    fn two_moving(&mut self) {
        for [a, b] in TWO_MOVING {
            self.add(&[], &[a + b, a * b], TWO_MOVING_WEIGHT / 5.0, None);
        }
    }

    fn twice(&mut self) {
        for (theta, moving) in MOVING_TWICE {
            let parent = self.0.len();
            let zero_first = SECOND_TWICE.iter().filter(|(phi, _)| *phi == 0.0);
            let others = SECOND_TWICE.iter().filter(|(phi, _)| *phi != 0.0);
            for (phi, second) in zero_first.chain(others) {
                for (other, share) in SECOND_MOVING_TWICE {
                    let ma = [theta + other, theta * other];
                    let own = self.add(&[*phi], &ma, moving * second * share, Some(parent));
                    own.with_seasonal_ar = [-0.3, 0.0, 0.35].contains(phi);
                }
            }
        }
    }
}

/// Complex pairs of roots as autoregressive weights.
fn pairs() -> Vec<[f64; 2]> {
    let of = |modulus: f64, angle: f64| [2.0 * modulus * (angle * PI / 180.0).cos(), -modulus * modulus];
    MODULI.iter().flat_map(|modulus| ANGLES.iter().map(|angle| of(*modulus, *angle))).collect()
}

fn without_zeros(weights: &[f64]) -> Vec<f64> {
    let last = weights.iter().rposition(|weight| weight.abs() > 0.0).map_or(0, |place| place + 1);
    weights[..last].to_vec()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_left_for_a_short_season_is_near_what_it_was_near() {
        for d in 0..3 {
            let all = dynamics(d);
            for season in [2, 3, 4, 12] {
                let kept = shorter(&all, season);
                assert!(kept.iter().all(|one| one.ma.len() < season && one.parent < kept.len()));
                for one in &kept {
                    let before = all.iter().find(|other| (&other.ar, &other.ma) == (&one.ar, &one.ma));
                    let near = before.map(|before| &all[before.parent]).expect("it was there");
                    let now = &kept[one.parent];
                    assert_eq!((&near.ar, &near.ma), (&now.ar, &now.ma), "d = {d}, season {season}");
                    assert_eq!(now.parent, one.parent, "what is near is evaluated first");
                }
            }
            assert_eq!(shorter(&all, 3), all);
        }
    }
}
