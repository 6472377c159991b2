//! The report of a study as LaTeX, which compiles with the plain article class.

use std::fmt::Write as _;

use super::chain::{Part, Step};
use super::report::{About, argument, calls, notes};
use crate::render::{latex_code, latex_escaped, latex_running};

/// What stands before the text.
const HEAD: &str = "\\documentclass[11pt,a4paper]{article}\n\
                    \\usepackage[T1]{fontenc}\n\
                    \\usepackage{graphicx}\n\
                    \\usepackage{longtable}\n\
                    \\usepackage[margin=25mm]{geometry}\n\
                    \\setlength{\\parindent}{0pt}\n\
                    \\setlength{\\parskip}{6pt}\n\
                    \\setlength{\\LTleft}{0pt}\n\
                    \\sloppy\n";

/// The whole article; its pictures lie in the folder `figures` beside it.
pub fn latex(about: &About, parts: &[Part]) -> String {
    let mut out = format!(
        "{HEAD}\\title{{{}}}\n\\author{{}}\n\\date{{}}\n\\begin{{document}}\n\\maketitle\n{}, {}.\n\n",
        latex_escaped(&about.title),
        latex_escaped(&about.source),
        latex_escaped(&about.span)
    );
    out.push_str("\\section*{Summary of results}\n\\begin{enumerate}\n");
    for (title, sentence) in argument(parts) {
        // Writing to a string cannot fail, here and below.
        let _ = writeln!(out, "\\item {}: {}", latex_escaped(title), latex_escaped(&sentence));
    }
    out.push_str("\\end{enumerate}\n");
    for part in parts {
        let (title, why) = (latex_escaped(&part.title), latex_escaped(&part.why));
        let _ = write!(out, "\n\\section{{{title}}}\n\\textit{{{why}}}\n");
        for step in &part.steps {
            out.push_str(&of_step(step));
        }
    }
    out.push_str(&appendix(about, parts));
    out.push_str("\\end{document}\n");
    out
}

fn of_step(step: &Step) -> String {
    let mut out = format!("\n{}\n", latex_code(&step.call.to_string()));
    if let Some(failure) = &step.failure {
        let _ = writeln!(out, "Not done: {}.\n", latex_escaped(failure));
    }
    if let Some((name, _)) = &step.figure {
        let _ = writeln!(out, "\\includegraphics[width=\\textwidth]{{figures/{name}.png}}\n");
    }
    for document in &step.documents {
        out.push_str(&latex_running(document));
    }
    out
}

fn appendix(about: &About, parts: &[Part]) -> String {
    let mut out = format!(
        "\n\\appendix\n\\section{{How to do it again}}\nKandrel {}. Data: {}, SHA-256\n\n{}\n",
        env!("CARGO_PKG_VERSION"),
        latex_escaped(&about.source),
        latex_code(&about.sha256)
    );
    let _ = write!(out, "\n\\subsection*{{The study}}\n{}\n", latex_code(about.study.trim_end()));
    let _ = write!(out, "\n\\subsection*{{Its calls}}\n{}\n", latex_code(&calls(parts).join("\n")));
    let all = notes(about, parts);
    if !all.is_empty() {
        let items: Vec<String> = all.iter().map(|note| format!("\\item {}\n", latex_escaped(note))).collect();
        let _ =
            write!(out, "\n\\subsection*{{Notes}}\n\\begin{{itemize}}\n{}\\end{{itemize}}\n", items.concat());
    }
    out
}
