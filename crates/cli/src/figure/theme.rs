//! The one palette and the sizes of letters.

pub const PETROL: &str = "#0f4c5c";
pub const SAND: &str = "#efe6d2";
pub const SAND_EDGE: &str = "#cdbb93";
pub const GRID: &str = "#e4e4e0";
pub const AXIS: &str = "#8a8a84";
pub const TEXT: &str = "#22221f";
pub const FAINT_TEXT: &str = "#5c5c56";
pub const PAPER: &str = "#ffffff";
pub const OCHRE: &str = "#b8741a";

pub const TITLE: f64 = 22.0;
pub const SUBTITLE: f64 = 15.0;
pub const LABEL: f64 = 14.0;
pub const TICK: f64 = 13.0;
