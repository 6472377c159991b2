//! A table of response surfaces, read from its text.

use std::sync::OnceLock;

use super::levels::LEVEL_COUNT;
use super::quantiles::Stretch;
use super::surface::{Steps, Surface};
use super::tables::TEXTS;

/// What has been read of each of the tables.
static READ: [OnceLock<Option<Surface>>; TEXTS.len()] = [const { OnceLock::new() }; TEXTS.len()];

/// The surface of the table of this name. It is read when first asked for.
pub(super) fn find(name: &str) -> Option<&'static Surface> {
    let place = TEXTS.binary_search_by(|(known, _)| (*known).cmp(name)).ok()?;
    READ[place].get_or_init(|| Surface::parse(TEXTS[place].1)).as_ref()
}

impl Surface {
    /// A surface from its table: lines of comment, what it holds for, its powers, then a row of
    /// coefficients for each level. None where the text is no table.
    fn parse(text: &str) -> Option<Self> {
        let mut lines = text.lines().filter(|line| !line.starts_with('#'));
        let mut entry = |name: &str| lines.next()?.strip_prefix(name)?.strip_prefix(' ');
        let steps = match entry("steps")? {
            "Smooth" => Steps::Smooth,
            "Parity" => Steps::Parity,
            "Quarter" => Steps::Quarter,
            _ => return None,
        };
        let stretch = match entry("stretch")? {
            "Plain" => Stretch::Plain,
            "SquareRoot" => Stretch::SquareRoot,
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
        assert!(TEXTS.is_sorted_by(|(a, _), (b, _)| a < b));
        for (name, text) in TEXTS {
            assert!(families.iter().any(|family| family == name), "{name}");
            let surface = Surface::parse(text).unwrap_or_else(|| panic!("{name}"));
            assert_eq!(surface.powers.first(), Some(&[0, 0, 0]), "{name}");
            assert!(surface.coefficients.iter().all(|number| number.is_finite()), "{name}");
            assert!(surface.fewest >= 12 && surface.largest_share < 1.0, "{name}");
        }
    }

    #[test]
    fn what_is_no_table_is_no_surface() {
        let (_, whole) = TEXTS[0];
        assert!(Surface::parse(whole).is_some());
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
