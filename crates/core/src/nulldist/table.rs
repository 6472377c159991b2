//! A table of response surfaces, read from its text.

use std::collections::HashMap;
use std::sync::{LazyLock, OnceLock};

use super::archive::Archive;
use super::levels::LEVEL_COUNT;
use super::quantiles::InterpolationScale;
use super::surface::{DiscretenessTerm, Surface};
use super::tables::ARCHIVES;

/// A table: the archive that holds it, and what has been read of it.
struct Entry {
    archive: usize,
    surface: OnceLock<Option<Surface>>,
}

static OPEN: LazyLock<Vec<Archive<'static>>> =
    LazyLock::new(|| ARCHIVES.iter().filter_map(|bytes| Archive::open(bytes)).collect());

static ENTRIES: LazyLock<HashMap<&'static str, Entry>> = LazyLock::new(|| {
    let named =
        OPEN.iter().enumerate().flat_map(|(archive, own)| own.names().map(move |name| (name, archive)));
    named.map(|(name, archive)| (name, Entry { archive, surface: OnceLock::new() })).collect()
});

/// The surface of the table of this name. It is read when first asked for.
pub(super) fn find(name: &str) -> Option<&'static Surface> {
    let entry = ENTRIES.get(name)?;
    let read = || Surface::parse(&OPEN.get(entry.archive)?.text(name)?);
    entry.surface.get_or_init(read).as_ref()
}

impl Surface {
    /// A surface from its table: lines of comment, what it holds for, its powers, then a row of
    /// coefficients for each level. None where the text is no table.
    fn parse(text: &str) -> Option<Self> {
        let mut lines = text.lines().filter(|line| !line.starts_with('#'));
        let mut entry = |name: &str| lines.next()?.strip_prefix(name)?.strip_prefix(' ');
        let steps = match entry("steps")? {
            "Smooth" => DiscretenessTerm::Smooth,
            "Parity" => DiscretenessTerm::Parity,
            "Quarter" => DiscretenessTerm::Quarter,
            _ => return None,
        };
        let stretch = match entry("stretch")? {
            "Plain" => InterpolationScale::Plain,
            "SquareRoot" => InterpolationScale::SquareRoot,
            _ => return None,
        };
        let fewest = entry("fewest")?.parse().ok()?;
        let largest_share = entry("largest_share")?.parse().ok()?;
        let (most, observations) = entry("most_lags")?.split_once(' ')?;
        let most_lags = (most.parse().ok()?, observations.parse().ok()?);
        let powers: Vec<[i32; 3]> = entry("powers")?.split(' ').map(three).collect::<Option<_>>()?;
        let mut coefficients = Vec::with_capacity(LEVEL_COUNT * powers.len());
        for line in lines {
            for number in line.split(' ') {
                coefficients.push(number.parse().ok()?);
            }
        }
        let is_whole = coefficients.len() == LEVEL_COUNT * powers.len();
        is_whole.then_some(Self { powers, coefficients, steps, stretch, fewest, largest_share, most_lags })
    }
}

fn three(text: &str) -> Option<[i32; 3]> {
    let mut numbers = text.split(',').map(|number| number.parse().ok());
    let all = [numbers.next()??, numbers.next()??, numbers.next()??];
    numbers.next().is_none().then_some(all)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::nulldist::Family;

    #[test]
    fn every_table_is_that_of_a_family_and_can_be_read() {
        let families: Vec<String> = Family::all().into_iter().map(Family::name).collect();
        assert_eq!(OPEN.len(), ARCHIVES.len());
        // No name is in two archives.
        assert_eq!(ENTRIES.len(), OPEN.iter().map(|archive| archive.names().count()).sum::<usize>());
        assert!(ENTRIES.len() > 340, "{}", ENTRIES.len());
        for name in ENTRIES.keys() {
            assert!(families.iter().any(|family| family == name), "{name}");
            let surface = find(name).unwrap_or_else(|| panic!("{name}"));
            assert_eq!(surface.powers.first(), Some(&[0, 0, 0]), "{name}");
            assert!(surface.coefficients.iter().all(|number| number.is_finite()), "{name}");
            assert!(surface.fewest >= 12 && surface.largest_share < 1.0, "{name}");
        }
    }

    #[test]
    fn what_is_no_table_is_no_surface() {
        let whole = OPEN[0].text(OPEN[0].names().next().expect("a table")).expect("its text");
        assert!(Surface::parse(&whole).is_some());
        for (from, to) in [
            ("steps ", "step "),
            ("powers 0,0,0", "powers 0,0"),
            ("powers 0,0,0", "powers 0,0,0,0"),
            ("fewest ", "fewest -"),
            ("stretch Plain", "stretch Wide"),
        ] {
            assert!(whole.contains(from), "{from}");
            assert!(Surface::parse(&whole.replacen(from, to, 1)).is_none(), "{from}");
        }
        let cut = whole.trim_end().rsplit_once('\n').map_or("", |(rest, _)| rest);
        assert!(Surface::parse(cut).is_none());
        assert!(Surface::parse("").is_none());
    }
}
