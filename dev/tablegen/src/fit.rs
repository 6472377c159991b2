//! Fits a response surface to the simulated quantiles of one family.

use kandrel_core::nulldist::{
    DiscretenessTerm, Family, InterpolationScale, LEVEL_COUNT, LagChoice, Quantiles, SeasonLength, Statistic,
    Tail, levels, monomials,
};
use nalgebra::{DMatrix, DVector};

use crate::sample::Point;

/// A surface has all products of powers of `x = 10/n` and `u = lags/n` up to
/// this degree: what bends more needs more, and what is simulated along a line
/// only bears less.
fn degree(family: Family) -> i32 {
    let is_given = family.lags == LagChoice::Given;
    match family.statistic {
        Statistic::Lagrange(case) if case.two => 3,
        Statistic::AdfTermsByData
        | Statistic::SeasonStability(..)
        | Statistic::SeasonalRoots(SeasonLength::Monthly, ..) => 3,
        Statistic::ZivotAndrews(_) if is_given => 3,
        Statistic::Gls(..) | Statistic::Lagrange(_) if is_given => 4,
        Statistic::PhillipsPerron(..)
        | Statistic::AdfJoint(_)
        | Statistic::Residual(..)
        | Statistic::System(..) => 4,
        Statistic::Adf(_) if matches!(family.lags, LagChoice::Searched(_)) => 7,
        Statistic::Kpss(_) if is_given => 7,
        Statistic::Kpss(_) => 6,
        Statistic::SeasonalRoots(SeasonLength::Quarterly, ..) if is_given => 6,
        Statistic::Adf(_)
        | Statistic::Gls(..)
        | Statistic::ZivotAndrews(_)
        | Statistic::Lagrange(_)
        | Statistic::SeasonalRoots(..) => 5,
    }
}

/// Whether the lags follow from the size, so that only the size varies.
fn is_along_a_line(family: Family) -> bool {
    match family.lags {
        LagChoice::Given | LagChoice::Automatic => false,
        LagChoice::Maic | LagChoice::T => true,
        LagChoice::Searched(_) => !matches!(family.statistic, Statistic::Adf(_) | Statistic::AdfTermsByData),
    }
}

/// A fitted surface and how well it fits.
pub struct Fit {
    pub powers: Vec<[i32; 3]>,
    pub steps: DiscretenessTerm,
    /// One row per level.
    pub coefficients: Vec<Vec<f64>>,
    pub stretch: InterpolationScale,
    pub side: Tail,
    pub fewest: usize,
    pub largest_share: f64,
    pub most_lags: (usize, usize),
    pub cells: usize,
    /// Largest error of the p-value at 1, 5 and 10 % over all cells.
    pub worst: [f64; 3],
}

/// Least squares for each level, weighted by the simulation errors.
pub fn fit(family: Family, points: &[Point]) -> Result<Fit, String> {
    let steps = match (family.statistic, family.lags) {
        (Statistic::Adf(_), LagChoice::Given) => DiscretenessTerm::Parity,
        (Statistic::Kpss(_), LagChoice::Automatic) => DiscretenessTerm::Quarter,
        _ => DiscretenessTerm::Smooth,
    };
    let mut powers = powers(degree(family), steps, is_along_a_line(family));
    let is_given = family.lags == LagChoice::Given;
    if is_given && matches!(family.statistic, Statistic::Lagrange(case) if !case.two) {
        // Four numbers of lags determine no more than a parabola.
        powers.retain(|[_, lags, _]| *lags <= 2);
    }
    if is_given && matches!(family.statistic, Statistic::SeasonalRoots(SeasonLength::Monthly, ..)) {
        // Three numbers of lags determine no more than a straight line between them safely.
        powers.retain(|[_, lags, _]| *lags <= 1);
    }
    if matches!(family.statistic, Statistic::System(..)) {
        // Four numbers of lags.
        powers.retain(|[_, lags, _]| *lags <= 2);
    }
    let terms: Vec<Vec<f64>> =
        points.iter().map(|p| monomials(&powers, steps, p.observations, p.cell.lags)).collect();
    let coefficients = (0..LEVEL_COUNT)
        .map(|level| fit_level(points, &terms, level).ok_or(format!("{}: no fit", family.name())))
        .collect::<Result<Vec<_>, _>>()?;
    let (stretch, side) = (family.stretch(), family.side());
    let shares = points.iter().map(|p| p.cell.lags as f64 / p.observations as f64);
    let mut fit = Fit {
        powers,
        steps,
        coefficients,
        stretch,
        side,
        fewest: points.iter().map(|p| p.observations).min().unwrap_or(0),
        largest_share: shares.fold(0.0, f64::max),
        most_lags: points.iter().map(|p| (p.cell.lags, p.observations)).max().unwrap_or((0, 1)),
        cells: points.len(),
        worst: [0.0; 3],
    };
    for (point, row) in points.iter().zip(&terms) {
        let errors = fit.errors(point, row);
        for (worst, error) in fit.worst.iter_mut().zip(errors) {
            *worst = worst.max(error.abs());
        }
    }
    Ok(fit)
}

impl Fit {
    /// Error of the p-value at 1, 5 and 10 % for one simulated cell.
    fn errors(&self, point: &Point, terms: &[f64]) -> [f64; 3] {
        let mut values = [0.0; LEVEL_COUNT];
        for (value, row) in values.iter_mut().zip(&self.coefficients) {
            *value = row.iter().zip(terms).map(|(c, x)| c * x).sum();
        }
        let fitted = Quantiles::new(values, self.stretch);
        [0.01, 0.05, 0.10].map(|level| {
            let wanted = if self.side == Tail::Upper { 1.0 - level } else { level };
            let place = levels().iter().position(|l| (l - wanted).abs() < 1e-12).unwrap_or(0);
            fitted.p_value(point.quantiles[place], self.side) - level
        })
    }
}

/// All products of powers of the two up to the degree; where the distribution
/// moves in steps, also terms of their size.
fn powers(degree: i32, steps: DiscretenessTerm, only_size: bool) -> Vec<[i32; 3]> {
    let mut all = Vec::new();
    if only_size {
        return (0..=degree).map(|power| [power, 0, 0]).collect();
    }
    for total in 0..=degree {
        all.extend((0..=total).map(|j| [total - j, j, 0]));
    }
    if steps != DiscretenessTerm::Smooth {
        all.extend([[0, 0, 1], [1, 0, 1], [0, 1, 1], [2, 0, 1], [1, 1, 1]]);
    }
    if steps == DiscretenessTerm::Quarter {
        all.push([0, 0, 2]);
    }
    all
}

fn fit_level(points: &[Point], terms: &[Vec<f64>], level: usize) -> Option<Vec<f64>> {
    let columns = terms.first()?.len();
    // The surface itself errs by about this much; without it the most exact
    // cells would pull the fit away from all others.
    let floor = 0.3 * points.iter().map(|p| p.errors[level]).sum::<f64>() / points.len() as f64;
    let weight = |p: &Point| 1.0 / p.errors[level].hypot(floor);
    let design = DMatrix::from_fn(points.len(), columns, |i, j| terms[i][j] * weight(&points[i]));
    let target = DVector::from_fn(points.len(), |i, _| points[i].quantiles[level] * weight(&points[i]));
    let decomposition = design.qr();
    let turned = decomposition.q().transpose() * target;
    let solution = decomposition.unpack_r().solve_upper_triangular(&turned)?;
    solution.iter().all(|c| c.is_finite()).then(|| solution.iter().copied().collect())
}
