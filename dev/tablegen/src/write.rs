//! Writes the fitted surfaces as source files of the core.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use kandrel_core::nulldist::{Family, ResidualStatistic};

use crate::fit::{Fit, fit};
use crate::part::{FEWEST_DRAWS, Part};
use crate::sample::{Point, points};
use crate::store;

/// Where simulated quantiles are kept, one file for each size of each simulator.
pub struct Kept<'a> {
    pub folder: &'a Path,
    /// Whether what is there already is taken rather than simulated again.
    pub again: bool,
}

/// Simulates the parts and writes one file per family and the list of all there are.
pub fn make(parts: &[Part], draws: usize, seed: u64, kept: &Kept, into: &Path) -> Result<(), String> {
    if draws < FEWEST_DRAWS {
        return Err(format!("{draws} draws do not reach the outermost quantiles: at least {FEWEST_DRAWS}"));
    }
    for folder in [into, kept.folder] {
        fs::create_dir_all(folder).map_err(|e| format!("{}: {e}", folder.display()))?;
    }
    let families = Family::all();
    for part in parts {
        let simulated = simulate(*part, draws, seed, kept)?;
        for family in families.iter().filter(|family| Part::of(**family) == *part) {
            let own: Vec<Point> = simulated.iter().filter(|p| p.cell.family == *family).cloned().collect();
            let surface = fit(*family, &own)?;
            eprintln!("{:24} {:4} cells, worst p error {:.4?}", family.name(), surface.cells, surface.worst);
            let file = into.join(format!("{}.rs", family.name()));
            save(&file, &source(*family, &surface, draws, seed))?;
        }
    }
    let written: Vec<Family> =
        families.into_iter().filter(|family| into.join(format!("{}.rs", family.name())).is_file()).collect();
    save(&into.join("mod.rs"), &list(&written))
}

fn simulate(part: Part, draws: usize, seed: u64, kept: &Kept) -> Result<Vec<Point>, String> {
    let mut all = Vec::new();
    for (simulator, draws, more) in part.runs(draws) {
        let (n, seed) = (simulator.observations(), seed + more);
        let file = kept.folder.join(format!("{part:?}-{n}-{draws}-{seed}.csv").to_lowercase());
        if kept.again && file.is_file() {
            all.extend(store::load(&file)?);
            continue;
        }
        eprintln!("{part:?}, n = {n}, {draws} draws");
        let own = points(simulator.as_ref(), draws, seed);
        store::save(&file, &own)?;
        all.extend(own);
    }
    Ok(all)
}

fn save(file: &Path, text: &str) -> Result<(), String> {
    fs::write(file, text).map_err(|e| format!("{}: {e}", file.display()))
}

fn source(family: Family, fit: &Fit, draws: usize, seed: u64) -> String {
    let null = match family {
        Family::AdfSearched(..) => {
            "random walk from zero, independent standard normal steps; lags searched up to a largest number"
        }
        Family::AdfTermsByDataGiven | Family::AdfTermsByDataSearched(_) => {
            "random walk without drift; normal score of the p-value for terms that the data chose"
        }
        Family::KpssGiven(_) | Family::SeasonStability(..) => {
            "independent standard normal values; given bandwidth"
        }
        Family::KpssAutomatic(_) => "independent standard normal values; automatic bandwidth",
        Family::SeasonalRootsByAic(..) => {
            "a walk in steps of a season, independent standard normal steps; lags by AIC among a season's"
        }
        Family::SeasonalRoots(..) => "a walk in steps of a season, independent standard normal steps",
        Family::PhillipsPerron(..) => {
            "random walk from zero, independent standard normal steps; given bandwidth"
        }
        Family::AdfByMaic(_)
        | Family::AdfByT(_)
        | Family::GlsByMaic(..)
        | Family::ZivotAndrewsByAic(_)
        | Family::LagrangeByAic(_) => {
            "random walk from zero, independent standard normal steps; lags searched up to the default largest number"
        }
        Family::Residual(ResidualStatistic::TauByAic, ..) => {
            "independent random walks, standard normal steps; lags searched up to the default largest number"
        }
        Family::Residual(..) => "independent random walks, standard normal steps; given lags or bandwidth",
        Family::System(..) => "independent random walks, standard normal steps; given lagged changes",
        Family::AdfGiven(_)
        | Family::AdfJoint(_)
        | Family::GlsGiven(..)
        | Family::ZivotAndrews(_)
        | Family::Lagrange(_) => "random walk from zero, independent standard normal steps; given lags",
    };
    let mut out = format!(
        "//! `{}`, written by `kandrel-nulls make --draws {draws} --seed {seed}`, version {}; do not edit.\n\
         //!\n\
         //! Null: {null}.\n\
         //! Fitted to {} cells of {} draws each; largest error of the p-value\n\
         //! over these at 1, 5 and 10 %: {:.4}, {:.4}, {:.4}.\n\n\
         use crate::nulldist::quantiles::Stretch;\n\
         use crate::nulldist::surface::{{Steps, Surface}};\n\n\
         #[rustfmt::skip]\npub(super) static SURFACE: Surface = Surface {{\n    powers: &{:?},\n    coefficients: &COEFFICIENTS,\n    \
         steps: Steps::{:?},\n    stretch: Stretch::{:?},\n    fewest: {},\n    largest_share: {:?},\n    most_lags: {:?},\n}};\n\n\
         #[rustfmt::skip]\nstatic COEFFICIENTS: [f64; {}] = [\n",
        family.name(),
        env!("CARGO_PKG_VERSION"),
        fit.cells,
        Part::draws_in_words(family, draws),
        fit.worst[0],
        fit.worst[1],
        fit.worst[2],
        fit.powers,
        fit.steps,
        fit.stretch,
        fit.fewest,
        fit.largest_share,
        fit.most_lags,
        fit.coefficients.len() * fit.powers.len(),
    );
    for row in &fit.coefficients {
        let cells: Vec<String> = row.iter().map(|c| format!("{c:.6e}")).collect();
        // Writing to a string cannot fail.
        let _ = writeln!(out, "    {},", cells.join(", "));
    }
    out.push_str("];\n");
    out
}

fn list(families: &[Family]) -> String {
    let mut out = String::from(
        "//! The tables by family, written by `kandrel-nulls make`; do not edit.\n\n\
         use super::family::Family;\nuse super::surface::Surface;\n\n",
    );
    let mut modules: Vec<String> = families.iter().map(|family| family.name()).collect();
    modules.sort();
    for name in modules {
        let _ = writeln!(out, "mod {name};");
    }
    let _ = writeln!(out, "\nstatic ALL: [(&str, &Surface); {}] = [", families.len());
    for family in families {
        let name = family.name();
        let _ = writeln!(out, "    (\"{name}\", &{name}::SURFACE),");
    }
    out.push_str(
        "];\n\npub(super) fn find(family: Family) -> Option<&'static Surface> {\n    let name = family.name();\n    \
         ALL.iter().find(|(known, _)| *known == name).map(|(_, surface)| *surface)\n}\n",
    );
    out
}
