//! The one palette and the sizes of letters.

pub const PETROL: &str = "#0f4c5c";
pub const SAND: &str = "#efe6d2";
/// Strips within strips, the widest first.
pub const STRIPS: [&str; 2] = [SAND, "#dfcfa6"];
pub const SAND_EDGE: &str = "#cdbb93";
pub const GRID: &str = "#e4e4e0";
pub const AXIS: &str = "#8a8a84";
pub const TEXT: &str = "#22221f";
pub const FAINT_TEXT: &str = "#5c5c56";
pub const PAPER: &str = "#ffffff";
pub const OCHRE: &str = "#b8741a";
pub const BRICK: &str = "#9e4a34";

/// Series take these in turn.
pub const SERIES: [&str; 6] = [PETROL, OCHRE, "#7a3b69", "#5f7a35", "#5b6675", BRICK];

/// From old to new.
pub const AGES: [&str; 7] = ["#d5dfe2", "#b6c8cd", "#93b0b8", "#6d96a1", "#477a88", "#275f6f", PETROL];

/// From little to much of a negative correlation.
pub const NEGATIVE: [&str; 7] = ["#f0e0da", "#e5c6bb", "#d8a899", "#c98a77", "#bb6f5a", "#ac5740", "#9e4a34"];

pub const TITLE: f64 = 22.0;
pub const SUBTITLE: f64 = 15.0;
pub const LABEL: f64 = 14.0;
pub const TICK: f64 = 13.0;

/// Colours of a figure on a dark page in the place of its own.
pub const DARK: [(&str, &str); 26] = [
    (PAPER, "#242624"),
    (TEXT, "#e8e6df"),
    (FAINT_TEXT, "#b3b1a8"),
    (AXIS, "#7d807a"),
    (GRID, "#363936"),
    (SAND, "#37342a"),
    (STRIPS[1], "#4d4733"),
    (SAND_EDGE, "#665d43"),
    (PETROL, "#7fbccb"),
    (OCHRE, "#e0a24a"),
    (BRICK, "#d98a72"),
    (SERIES[2], "#c98ab6"),
    (SERIES[3], "#a9c47d"),
    (SERIES[4], "#a3adbb"),
    (AGES[0], "#2f3a3d"),
    (AGES[1], "#38494e"),
    (AGES[2], "#435b62"),
    (AGES[3], "#507079"),
    (AGES[4], "#5f8893"),
    (AGES[5], "#6fa2af"),
    (NEGATIVE[0], "#3d302c"),
    (NEGATIVE[1], "#503a33"),
    (NEGATIVE[2], "#67473d"),
    (NEGATIVE[3], "#825648"),
    (NEGATIVE[4], "#9e6653"),
    (NEGATIVE[5], "#bc7760"),
];
