//! Forms of a document.

mod chart;
mod csv;
mod html;
mod json;
mod latex;
mod markdown;
mod numbers;
mod text;

pub use chart::Charts;
pub use csv::{csv, guarded, unguarded};
pub use html::{escaped, html, html_list};
pub use json::json;
pub use latex::latex;
pub use markdown::markdown;
pub use numbers::{OUTERMOST_LEVEL, number, p_equals, p_value};
pub use text::{Style, plain_text, text};
