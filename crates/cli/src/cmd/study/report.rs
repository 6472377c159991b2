//! The report of a study: one page that holds everything, and the same in Markdown.

use std::fmt::Write as _;

use super::chain::{Part, Step};
use crate::figure::Page;
use crate::render;

/// The report except for its parts.
pub struct About {
    pub title: String,
    pub source: String,
    pub sha256: String,
    /// Frequency, span, observations.
    pub span: String,
    pub notes: Vec<String>,
    /// The study file as it was.
    pub study: String,
}

const STYLE: &str = include_str!("page.css");

/// Sentences that answer, with the part each is from; what failed is among them.
pub fn argument(parts: &[Part]) -> Vec<(&str, String)> {
    let mut all = Vec::new();
    for part in parts {
        if part.steps.is_empty() {
            all.push((part.title.as_str(), part.why.clone()));
        }
        for step in &part.steps {
            let failed = step.failure.as_ref().map(|why| format!("Not done: {why}."));
            all.extend(failed.or_else(|| step.answer()).map(|text| (part.title.as_str(), text)));
        }
    }
    all
}

/// The place of a part on the page.
fn anchor(title: &str) -> String {
    let letter = |letter: char| if letter.is_alphanumeric() { letter.to_ascii_lowercase() } else { '-' };
    title.chars().map(letter).collect()
}

/// The page, which needs no other file.
pub fn html(about: &About, parts: &[Part]) -> String {
    let text = render::escaped;
    let mut page = Page::default();
    page.add(&contents(parts));
    page.add(&format!(
        "<main>\n<h1>{}</h1>\n<p class=\"about\">{}, {}.</p>\n",
        text(&about.title),
        text(&about.source),
        text(&about.span)
    ));
    page.add("<div class=\"argument\" id=\"summary\"><h3>Summary of results</h3>\n<ol>\n");
    for (title, sentence) in argument(parts) {
        let anchor = anchor(title);
        page.add(&format!("<li><a href=\"#{anchor}\">{}</a>: {}</li>\n", text(title), text(&sentence)));
    }
    page.add("</ol></div>\n");
    for part in parts {
        page.add(&format!(
            "<section id=\"{}\">\n<h2>{}</h2>\n<p class=\"why\">{}</p>\n",
            anchor(&part.title),
            text(&part.title),
            text(&part.why)
        ));
        for step in &part.steps {
            add_step(&mut page, step);
        }
        page.add("</section>\n");
    }
    page.add(&html_of_end(about, parts));
    page.add("</main>\n");
    page.finish(&text(&about.title), STYLE)
}

/// The parts of the page, to go to.
fn contents(parts: &[Part]) -> String {
    let mut out =
        String::from("<nav aria-label=\"Contents\">\n<a href=\"#summary\">Summary of results</a>\n");
    for part in parts {
        // Writing to a string cannot fail, here and below.
        let _ = writeln!(out, "<a href=\"#{}\">{}</a>", anchor(&part.title), render::escaped(&part.title));
    }
    out.push_str("<a href=\"#how\">How to do it again</a>\n</nav>\n");
    out
}

fn add_step(page: &mut Page, step: &Step) {
    let text = render::escaped;
    page.add(&format!("<pre>{}</pre>\n", text(&step.call.to_string())));
    if let Some(failure) = &step.failure {
        page.add(&format!("<p class=\"failure\">Not done: {}.</p>\n", text(failure)));
    }
    if let Some((_, drawing)) = &step.figure {
        page.figure(drawing);
    }
    for document in &step.documents {
        page.add(&render::html(document));
    }
}

fn html_of_end(about: &About, parts: &[Part]) -> String {
    let text = render::escaped;
    let mut out = String::from("<section id=\"how\">\n<h2>How to do it again</h2>\n");
    let _ = write!(
        out,
        "<p>Kandrel {}. Data: {}, sha256 <code>{}</code>.</p>\n<h4>The study</h4>\n<pre>{}</pre>\n<h4>Its calls</h4>\n<pre>{}</pre>\n",
        env!("CARGO_PKG_VERSION"),
        text(&about.source),
        text(&about.sha256),
        text(about.study.trim_end()),
        text(&calls(parts).join("\n"))
    );
    let notes = notes(about, parts);
    if !notes.is_empty() {
        out.push_str(&render::html_list("Notes", &notes));
    }
    out.push_str("</section>\n");
    out
}

pub(super) fn calls(parts: &[Part]) -> Vec<String> {
    parts.iter().flat_map(|part| &part.steps).map(|step| step.call.to_string()).collect()
}

/// Notes of all calls, each once.
pub(super) fn notes(about: &About, parts: &[Part]) -> Vec<String> {
    let mut all = about.notes.clone();
    for note in parts.iter().flat_map(|part| &part.steps).flat_map(|step| &step.notes) {
        if !all.contains(note) {
            all.push(note.clone());
        }
    }
    all
}

/// The same in Markdown, figures as files next to it.
pub fn markdown(about: &About, parts: &[Part]) -> String {
    let mut out =
        format!("# {}\n\n{}, {}.\n\n## Summary of results\n\n", about.title, about.source, about.span);
    for (number, (title, sentence)) in (1..).zip(argument(parts)) {
        let _ = writeln!(out, "{number}. {title}: {sentence}");
    }
    for part in parts {
        let _ = write!(out, "\n## {}\n\n*{}*\n", part.title, part.why);
        for step in &part.steps {
            let _ = write!(out, "\n```sh\n{}\n```\n\n", step.call);
            if let Some(failure) = &step.failure {
                let _ = writeln!(out, "Not done: {failure}.\n");
            }
            if let Some((name, _)) = &step.figure {
                let _ = writeln!(out, "![{}](figures/{name}.svg)\n", part.title);
            }
            for document in &step.documents {
                out.push_str(&render::markdown(document));
            }
        }
    }
    let _ = write!(
        out,
        "\n## How to do it again\n\nKandrel {}. Data: {}, sha256 `{}`.\n\n```toml\n{}\n```\n\n```sh\n{}\n```\n",
        env!("CARGO_PKG_VERSION"),
        about.source,
        about.sha256,
        about.study.trim_end(),
        calls(parts).join("\n")
    );
    for note in notes(about, parts) {
        let _ = writeln!(out, "\n- {note}");
    }
    out
}
