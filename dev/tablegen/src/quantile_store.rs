//! Keeps simulated quantiles in a file, so that a surface can be fitted again
//! without simulating again.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use kandrel_core::nulldist::{Family, LEVEL_COUNT};

use crate::sample::{Point, SimulationCell};

/// One line per cell: family, lags, observations, quantiles, errors.
pub fn save(file: &Path, points: &[Point]) -> Result<(), String> {
    let mut text = String::new();
    for point in points {
        // Writing to a string cannot fail.
        let _ = write!(text, "{},{},{}", point.cell.family.name(), point.cell.lags, point.observations);
        for value in point.quantiles.iter().chain(&point.errors) {
            let _ = write!(text, ",{value:e}");
        }
        text.push('\n');
    }
    fs::write(file, text).map_err(|e| format!("{}: {e}", file.display()))
}

/// What [`save`] wrote.
pub fn load(file: &Path) -> Result<Vec<Point>, String> {
    let text = fs::read_to_string(file).map_err(|e| format!("{}: {e}", file.display()))?;
    let families = Family::all();
    text.lines()
        .zip(1..)
        .map(|(line, number)| {
            parse(line, &families).ok_or(format!("{}, line {number}: no cell", file.display()))
        })
        .collect()
}

fn parse(line: &str, families: &[Family]) -> Option<Point> {
    let mut fields = line.split(',');
    let name = fields.next()?;
    let family = *families.iter().find(|family| family.name() == name)?;
    let lags = fields.next()?.parse().ok()?;
    let observations = fields.next()?.parse().ok()?;
    let values: Vec<f64> = fields.map(|field| field.parse().ok()).collect::<Option<_>>()?;
    let (quantiles, errors) = values.split_at_checked(LEVEL_COUNT)?;
    (errors.len() == LEVEL_COUNT).then(|| Point {
        cell: SimulationCell { family, lags },
        observations,
        quantiles: quantiles.to_vec(),
        errors: errors.to_vec(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use kandrel_core::nulldist::{Statistic, Terms};

    #[test]
    fn what_is_saved_comes_back() {
        let cell = SimulationCell { family: Statistic::Adf(Terms::Trend).given(), lags: 4 };
        let rising = |step: f64| (0..LEVEL_COUNT).map(|k| step * k as f64 / 7.0).collect::<Vec<_>>();
        let point = Point { cell, observations: 55, quantiles: rising(-1.0), errors: rising(1e-4) };
        let file = std::env::temp_dir().join(format!("kandrel-null-quantiles-{}.csv", std::process::id()));
        save(&file, &[point.clone(), point.clone()]).expect("a writable folder");
        let back = load(&file).expect("a whole file");
        fs::remove_file(&file).expect("the file just written");
        assert_eq!(back.len(), 2);
        assert_eq!((back[1].cell, back[1].observations), (point.cell, point.observations));
        assert!(back[1].quantiles.iter().zip(&point.quantiles).all(|(a, b)| a.to_bits() == b.to_bits()));
        assert!(back[1].errors.iter().zip(&point.errors).all(|(a, b)| a.to_bits() == b.to_bits()));
    }
}
