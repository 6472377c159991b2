//! The built-in demo data: Osmere Bay, a harbour that exists only here.

/// Name and contents of each set.
const SETS: &[(&str, &[u8])] = &[
    ("harbour", include_bytes!("harbour.csv")),
    ("region", include_bytes!("region.csv")),
    ("charters", include_bytes!("charters.csv")),
    ("timber", include_bytes!("timber.csv")),
    ("gate", include_bytes!("gate.csv")),
    ("messy.csv", include_bytes!("messy.csv")),
    ("messy.xlsx", include_bytes!("messy.xlsx")),
];

/// Name and contents of each study file.
const STUDIES: &[(&str, &str)] = &[("freight.toml", include_str!("freight.toml"))];

/// The study file of that name, without `demo:`.
pub fn study(name: &str) -> Option<&'static str> {
    STUDIES.iter().find(|(known, _)| *known == name).map(|(_, text)| *text)
}

/// The file of that name, without `demo:`.
pub fn find(name: &str) -> Option<&'static [u8]> {
    SETS.iter().find(|(known, _)| *known == name).map(|(_, bytes)| *bytes)
}

/// All names.
pub fn names() -> impl Iterator<Item = &'static str> {
    SETS.iter().map(|(name, _)| *name)
}
