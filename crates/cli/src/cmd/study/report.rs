//! The report of a study: one page that holds everything, and the same in Markdown.

use std::fmt::Write as _;

use super::chain::{Part, Step};
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
pub fn argument(parts: &[Part]) -> Vec<(&'static str, String)> {
    let mut all = Vec::new();
    for part in parts {
        if part.steps.is_empty() {
            all.push((part.title, part.why.clone()));
        }
        for step in &part.steps {
            let failed = step.failure.as_ref().map(|why| format!("Not done: {why}."));
            all.extend(failed.or_else(|| step.answer()).map(|text| (part.title, text)));
        }
    }
    all
}

fn anchor(title: &str) -> String {
    title.to_lowercase().replace(' ', "-")
}

/// The page, which needs no other file.
pub fn html(about: &About, parts: &[Part]) -> String {
    let text = render::escaped;
    let mut out = format!(
        "<!doctype html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<meta name=\"viewport\" \
         content=\"width=device-width, initial-scale=1\">\n<title>{}</title>\n<style>\n{STYLE}</style>\n</head>\n<body>\n<main>\n\
         <h1>{}</h1>\n<p class=\"about\">{}, {}.</p>\n",
        text(&about.title),
        text(&about.title),
        text(&about.source),
        text(&about.span)
    );
    out.push_str("<div class=\"argument\"><h3>Summary of results</h3>\n<ol>\n");
    for (title, sentence) in argument(parts) {
        // Writing to a string cannot fail, here and below.
        let _ =
            writeln!(out, "<li><a href=\"#{}\">{}</a>: {}</li>", anchor(title), text(title), text(&sentence));
    }
    out.push_str("</ol></div>\n");
    for part in parts {
        let _ = write!(
            out,
            "<section>\n<h2 id=\"{}\">{}</h2>\n<p class=\"why\">{}</p>\n",
            anchor(part.title),
            text(part.title),
            text(&part.why)
        );
        for step in &part.steps {
            out.push_str(&html_of_step(step));
        }
        out.push_str("</section>\n");
    }
    out.push_str(&html_of_end(about, parts));
    out.push_str("</main>\n</body>\n</html>\n");
    out
}

fn html_of_step(step: &Step) -> String {
    let text = render::escaped;
    let mut out = format!("<pre>{}</pre>\n", text(&step.call.to_string()));
    if let Some(failure) = &step.failure {
        let _ = writeln!(out, "<p class=\"failure\">Not done: {}.</p>", text(failure));
    }
    if let Some((name, svg)) = &step.figure {
        let _ = writeln!(out, "<figure>\n{}</figure>", inline(svg, name));
    }
    for document in &step.documents {
        out.push_str(&render::html(document));
    }
    out
}

/// A figure for a page of several: its marks get names of their own.
fn inline(svg: &str, name: &str) -> String {
    svg.replace("id=\"", &format!("id=\"{name}-")).replace("href=\"#", &format!("href=\"#{name}-"))
}

fn html_of_end(about: &About, parts: &[Part]) -> String {
    let text = render::escaped;
    let mut out = String::from("<section>\n<h2 id=\"how\">How to do it again</h2>\n");
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

fn calls(parts: &[Part]) -> Vec<String> {
    parts.iter().flat_map(|part| &part.steps).map(|step| step.call.to_string()).collect()
}

/// Notes of all calls, each once.
fn notes(about: &About, parts: &[Part]) -> Vec<String> {
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
