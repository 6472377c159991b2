//! Figures as files.

use crate::harness::{Folder, monthly, scattered};

fn svg(words: &str) -> String {
    let folder = Folder::new();
    folder.run(&format!("{words} --figure a.svg")).succeeds();
    String::from_utf8(folder.read("a.svg")).expect("UTF-8")
}

#[test]
fn a_figure_is_a_picture_of_the_wanted_size_in_both_forms() {
    let text = svg("acf demo:harbour waiting");
    assert!(text.starts_with("<svg ") && text.ends_with("</svg>\n"));
    assert!(text.contains("width=\"1280\" height=\"800\""));
    let folder = Folder::new();
    folder.run("acf demo:harbour waiting --figure a.png").succeeds();
    let png = folder.read("a.png");
    assert_eq!(&png[..8], b"\x89PNG\r\n\x1a\n");
    let number = |at: usize| u32::from_be_bytes(png[at..at + 4].try_into().expect("four bytes"));
    assert_eq!((number(16), number(20)), (1280, 800));
}

#[test]
fn letters_are_outlines_so_that_no_font_is_needed() {
    let text = svg("acf demo:harbour waiting");
    assert!(!text.contains("<text") && !text.contains("font-family"));
    assert!(text.contains("aria-label=\"Autocorrelation (ACF)\""));
}

#[test]
fn bars_beyond_the_band_are_filled_and_bars_within_it_outlined() {
    let folder = Folder::new();
    let lags = folder.json("acf demo:harbour waiting")["results"][0].clone();
    let band = lags["band"].as_f64().expect("a band");
    let text = svg("acf demo:harbour waiting");
    let bars: Vec<&str> = text.split("<g><title>lag ").skip(1).collect();
    // ACF first, then PACF.
    assert_eq!(bars.len(), 72);
    for (k, bar) in bars.iter().enumerate() {
        let name = if k < 36 { "acf" } else { "pacf" };
        let value = lags["lags"][k % 36][name].as_f64().expect("a number");
        let filled = bar.contains("fill=\"#0f4c5c\"");
        assert_eq!(filled, value.abs() > band, "{name} at lag {}", k % 36 + 1);
        assert!(bar.starts_with(&format!("{}: {value:.3}", k % 36 + 1)), "{bar}");
    }
}

#[test]
fn the_title_says_the_finding_and_hostile_names_are_only_letters() {
    assert!(svg("acf demo:harbour claims").contains("<title>claims shows no autocorrelation.</title>"));
    assert!(svg("stationarity demo:harbour freight:ln").contains("<title>freight:ln has a unit root and"));
    let folder = Folder::with("a.csv", monthly(&scattered(40)).replace(",x", ",<script>&"));
    folder.run_words(&["acf", "a.csv", "--figure", "a.svg"], "").succeeds();
    let text = String::from_utf8(folder.read("a.svg")).expect("UTF-8");
    assert!(text.contains("&lt;script&gt;&amp;") && !text.contains("<script"));
}

#[test]
fn every_shape_stays_inside_the_frame() {
    for words in [
        "acf demo:harbour freight",
        "acf demo:harbour claims --lags 287",
        "acf demo:harbour waiting --lags 1",
        "acf demo:harbour ice:d1,d12 --sample 2020..",
    ] {
        let text = svg(words);
        for (name, most) in
            [("x", 1280.0), ("y", 800.0), ("x1", 1280.0), ("x2", 1280.0), ("y1", 800.0), ("y2", 800.0)]
        {
            for value in attributes(&text, name) {
                assert!((0.0..=most).contains(&value), "{words}: {name} = {value}");
            }
        }
    }
}

/// The values of an attribute of rectangles and lines.
fn attributes(text: &str, name: &str) -> Vec<f64> {
    let wanted = format!(" {name}=\"");
    text.lines()
        .filter(|line| !line.contains("<use"))
        .flat_map(|line| line.split(&wanted).skip(1).map(|rest| rest.split('"').next().unwrap_or("")))
        .map(|value| value.parse().unwrap_or_else(|_| panic!("{name}={value}")))
        .collect()
}
