//! Forms of a document.

mod chart;
mod csv;
mod html;
mod json;
mod latex;
mod markdown;
mod text;

pub use chart::Charts;
pub use csv::csv;
pub use html::{escaped, html, html_list};
pub use json::json;
pub use latex::{code as latex_code, escaped as latex_escaped, latex, latex_running};
pub use markdown::markdown;
pub use text::{Style, plain_text, text};

#[cfg(test)]
mod tests;
