//! Writes the fitted surfaces as tables of the core.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use clap::ValueEnum;
use kandrel_core::nulldist::{Family, LagChoice, Statistic};

use crate::archive;
use crate::fit::{Fit, fit};
use crate::part::{MIN_REPLICATIONS, Part};
use crate::quantile_store;
use crate::sample::{Point, points};

/// Where simulated quantiles are kept, one file for each size of each simulator.
pub struct Kept<'a> {
    pub folder: &'a Path,
    /// Whether what is there already is taken rather than simulated again.
    pub again: bool,
}

/// Simulates the parts and writes an archive of tables for each, and the list of all there are.
pub fn make(parts: &[Part], draws: usize, seed: u64, kept: &Kept, into: &Path) -> Result<(), String> {
    if draws < MIN_REPLICATIONS {
        return Err(format!(
            "{draws} draws do not reach the outermost quantiles: at least {MIN_REPLICATIONS}"
        ));
    }
    for folder in [into, kept.folder] {
        fs::create_dir_all(folder).map_err(|e| format!("{}: {e}", folder.display()))?;
    }
    let families = Family::all();
    for part in parts {
        let simulated = simulate(*part, draws, seed, kept)?;
        let mut tables = Vec::new();
        for family in families.iter().filter(|family| Part::of(**family) == *part) {
            let own: Vec<Point> = simulated.iter().filter(|p| p.cell.family == *family).cloned().collect();
            let surface = fit(*family, &own)?;
            eprintln!("{:24} {:4} cells, worst p error {:.4?}", family.name(), surface.cells, surface.worst);
            tables.push((family.name(), table(*family, &surface, draws, seed)));
        }
        save(&into.join(file_of(*part)), &archive::pack(tables)?)?;
    }
    save(&into.join("mod.rs"), list(into).as_bytes())
}

/// The file of a part's archive.
fn file_of(part: Part) -> String {
    format!("{part:?}.tables").to_lowercase()
}

fn simulate(part: Part, draws: usize, seed: u64, kept: &Kept) -> Result<Vec<Point>, String> {
    let mut all = Vec::new();
    for (simulator, draws, more) in part.runs(draws) {
        let (n, seed) = (simulator.observations(), seed + more);
        let file = kept.folder.join(format!("{part:?}-{n}-{draws}-{seed}.csv").to_lowercase());
        if kept.again && file.is_file() {
            all.extend(quantile_store::load(&file)?);
            continue;
        }
        eprintln!("{part:?}, n = {n}, {draws} draws");
        let own = points(simulator.as_ref(), draws, seed);
        quantile_store::save(&file, &own)?;
        all.extend(own);
    }
    Ok(all)
}

fn save(file: &Path, bytes: &[u8]) -> Result<(), String> {
    fs::write(file, bytes).map_err(|e| format!("{}: {e}", file.display()))
}

fn how(choice: LagChoice, what: &str) -> String {
    match choice {
        LagChoice::Given => format!("given {what}"),
        LagChoice::Automatic => format!("automatic {what}"),
        LagChoice::Searched(_) | LagChoice::Maic | LagChoice::T => {
            "lags searched up to the default largest number".to_owned()
        }
    }
}

fn table(family: Family, fit: &Fit, draws: usize, seed: u64) -> String {
    let null = match family.statistic {
        Statistic::AdfTermsByData => {
            "random walk without drift; normal score of the p-value for terms that the data chose".to_owned()
        }
        Statistic::Kpss(_) | Statistic::SeasonStability(..) => {
            format!("independent standard normal values; {}", how(family.lags, "bandwidth"))
        }
        Statistic::SeasonalRoots(..) => match family.lags {
            LagChoice::Given => "a walk in steps of a season, independent standard normal steps".to_owned(),
            _ => {
                "a walk in steps of a season, independent standard normal steps; lags by AIC among a season's"
                    .to_owned()
            }
        },
        Statistic::Residual(..) => {
            format!(
                "independent random walks, standard normal steps; {}",
                how(family.lags, "lags or bandwidth")
            )
        }
        Statistic::System(..) => {
            "independent random walks, standard normal steps; given lagged changes".to_owned()
        }
        Statistic::PhillipsPerron(..) => {
            "random walk from zero, independent standard normal steps; given bandwidth".to_owned()
        }
        Statistic::Adf(_) if matches!(family.lags, LagChoice::Searched(_)) => {
            "random walk from zero, independent standard normal steps; lags searched up to a largest number"
                .to_owned()
        }
        Statistic::Adf(_)
        | Statistic::AdfJoint(_)
        | Statistic::Gls(..)
        | Statistic::ZivotAndrews(_)
        | Statistic::Lagrange(_) => {
            format!("random walk from zero, independent standard normal steps; {}", how(family.lags, "lags"))
        }
    };
    let powers: Vec<String> = fit.powers.iter().map(|[i, j, k]| format!("{i},{j},{k}")).collect();
    let (most, observations) = fit.most_lags;
    let mut out = format!(
        "# {}, written by `kandrel-nulls make --draws {draws} --seed {seed}`, version {}; do not edit.\n\
         # Null: {null}.\n\
         # Fitted to {} cells of {} draws each; largest error of the p-value over these at 1, 5 and 10 %: \
         {:.4}, {:.4}, {:.4}.\n\
         steps {:?}\nstretch {:?}\nfewest {}\nlargest_share {:?}\nmost_lags {most} {observations}\npowers {}\n",
        family.name(),
        env!("CARGO_PKG_VERSION"),
        fit.cells,
        Part::draws_in_words(family, draws),
        fit.worst[0],
        fit.worst[1],
        fit.worst[2],
        fit.steps,
        fit.stretch,
        fit.fewest,
        fit.largest_share,
        powers.join(" "),
    );
    for row in &fit.coefficients {
        let cells: Vec<String> = row.iter().map(|c| format!("{c:.6e}")).collect();
        // Writing to a string cannot fail.
        let _ = writeln!(out, "{}", cells.join(" "));
    }
    out
}

/// The list of the archives that are there.
fn list(folder: &Path) -> String {
    let there = |part: &&Part| folder.join(file_of(**part)).is_file();
    let files: Vec<String> = Part::value_variants().iter().filter(there).map(|part| file_of(*part)).collect();
    let mut out = format!(
        "//! The archives of tables, written by `kandrel-nulls make`; do not edit.\n\n\
         pub(super) static ARCHIVES: [&[u8]; {}] = [\n",
        files.len()
    );
    for file in files {
        let _ = writeln!(out, "    include_bytes!(\"{file}\"),");
    }
    out.push_str("];\n");
    out
}
