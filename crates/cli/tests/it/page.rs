//! Pages with figures, in a browser: what the pointer reads, zoom, series switched off, tables.

use std::fmt::Write as _;

use serde_json::{Value, json};

use crate::browser::Browser;
use crate::harness::{Folder, noise};

/// A browser in this folder; none, with a word, where none is installed.
fn browser(folder: &Folder) -> Option<Browser> {
    let browser = Browser::start(&folder.path(""));
    if browser.is_none() {
        eprintln!("no browser is installed: pages are not tried in one");
    }
    browser
}

/// Two series whose numbers differ in size.
fn two_series() -> (String, Vec<f64>) {
    let x: Vec<f64> = noise(96, 5).iter().map(|value| (100.0 * value).round() / 10.0).collect();
    let mut text = String::from("month,x,y\n");
    for (t, value) in x.iter().enumerate() {
        let _ = writeln!(text, "{}-{:02},{value},{}", 2001 + t / 12, t % 12 + 1, 500 + t);
    }
    (text, x)
}

/// Where a share of the first panel is in the window.
const PLACE: &str = "(across, down) => { const svg = document.querySelector('svg[data-figure]'); \
    const [left, top, right, bottom] = JSON.parse(svg.dataset.figure).panels[0].corners; \
    const seen = svg.getBoundingClientRect(); const size = seen.width / svg.viewBox.baseVal.width; \
    return [seen.left + size * (left + across * (right - left)), seen.top + size * (top + down * (bottom - top))]; }";

fn place(browser: &mut Browser, across: f64, down: f64) -> (f64, f64) {
    pair(&browser.value(&format!("({PLACE})({across}, {down})")))
}

fn pair(value: &Value) -> (f64, f64) {
    let at = |k: usize| value[k].as_f64().expect("a place");
    (at(0), at(1))
}

/// The lines of the readout.
fn readout(browser: &mut Browser) -> Vec<String> {
    let text = browser.text(
        "document.querySelector('.readout').hidden ? '' : document.querySelector('.readout').innerText",
    );
    text.lines().map(|line| line.trim().to_owned()).filter(|line| !line.is_empty()).collect()
}

/// What the data say of a period.
fn wanted(period: &str, x: &[f64]) -> Vec<String> {
    let (year, month) = period.split_once('-').expect("a month");
    let number = |text: &str| text.parse::<usize>().expect("a number");
    let t = (number(year) - 2001) * 12 + number(month) - 1;
    [period, "x", &x[t].to_string().replace('-', "−"), "y", &(500 + t).to_string()]
        .map(str::to_owned)
        .to_vec()
}

#[test]
fn a_figure_answers_to_the_pointer_and_asks_for_nothing() {
    let (text, x) = two_series();
    let folder = Folder::with("a.csv", text);
    folder.run("plot a.csv x y --figure a.html").succeeds();
    let Some(mut browser) = browser(&folder) else {
        return;
    };
    browser.open(&folder.path("a.html"));
    for across in [0.02, 0.4, 0.97] {
        let at = place(&mut browser, across, 0.5);
        browser.point(at);
        let read = readout(&mut browser);
        assert_eq!(read, wanted(&read[0], &x));
    }
    zoom_works(&mut browser, &x);
    keys_switch_series(&mut browser);
    let dark = json!({"features": [{"name": "prefers-color-scheme", "value": "dark"}]});
    let paper = "getComputedStyle(document.querySelector('svg[data-figure] > rect')).fill";
    assert_eq!(browser.text(paper), "rgb(255, 255, 255)");
    browser.call("Emulation.setEmulatedMedia", &dark);
    assert_eq!(browser.text(paper), "rgb(36, 38, 36)");
    assert!(browser.faults().is_empty(), "{:?}", browser.faults());
}

fn zoom_works(browser: &mut Browser, x: &[f64]) {
    let points = "document.querySelector('.inside polyline').getAttribute('points')";
    let labels =
        "Array.from(document.querySelectorAll('.zoomed .tick')).map((one) => one.textContent).join(' ')";
    let before = browser.text(points);
    let (from, to) = (place(browser, 0.25, 0.5), place(browser, 0.5, 0.6));
    browser.drag(from, to);
    let zoomed = browser.text(points);
    assert_ne!(before, zoomed);
    // A quarter of eight years, from the third on.
    let seen = browser.text(labels);
    assert!(seen.contains("2003-") && seen.contains("2004-"), "{seen}");
    assert!(!seen.contains("2001-") && !seen.contains("2007-"), "{seen}");
    for across in [0.1, 0.9] {
        let at = place(browser, across, 0.5);
        browser.point(at);
        let read = readout(browser);
        assert_eq!(read, wanted(&read[0], x));
        assert!(("2002-12".."2005-02").contains(&read[0].as_str()), "{read:?}");
    }
    let middle = place(browser, 0.5, 0.5);
    browser.click(middle, 2);
    assert_eq!(browser.text(points), before);
    assert_eq!(browser.text(labels), "");
}

fn keys_switch_series(browser: &mut Browser) {
    let at = "(() => { const seen = document.querySelector('.key[data-name=\"y\"]').getBoundingClientRect(); \
        return [seen.left + 8, seen.top + seen.height / 2]; })()";
    let key = pair(&browser.value(at));
    let is_seen = "Array.from(document.querySelectorAll('.series')).filter((one) => one.dataset.name === 'y')\
        .every((one) => one.style.display !== 'none')";
    for seen in [false, true] {
        browser.click(key, 1);
        assert_eq!(browser.value(is_seen), json!(seen));
        let middle = place(browser, 0.5, 0.5);
        browser.point(middle);
        assert_eq!(readout(browser).contains(&"y".to_owned()), seen);
    }
}

#[test]
fn the_page_of_a_report_is_small_sorted_and_copied() {
    let folder = Folder::new();
    folder.run("study --new demo:harbour freight --out s.toml").succeeds();
    folder.run("study s.toml --into r").succeeds();
    let size = folder.read("r/report.html").len();
    assert!(size < 700_000, "{size} bytes");
    let Some(mut browser) = browser(&folder) else {
        return;
    };
    browser.open(&folder.path("r/report.html"));
    // Every link of the contents leads somewhere.
    let astray = "Array.from(document.querySelectorAll('nav a, .argument a'))\
        .filter((link) => !document.getElementById(link.hash.slice(1))).length";
    assert_eq!(browser.value(astray), json!(0));
    assert!(browser.value("document.querySelectorAll('nav a').length").as_u64() > Some(8));
    let numbers = "Array.from(document.querySelectorAll('table')[1].tBodies[0].rows).map((row) => \
        parseFloat(row.cells[3].textContent.replace(/[\\u2007\\u2008]/g, '').replace('\\u2212', '-')))";
    let column = |browser: &mut Browser| -> Vec<f64> {
        let all = browser.value(numbers);
        all.as_array().expect("rows").iter().filter_map(Value::as_f64).collect()
    };
    let first = column(&mut browser);
    let click = "document.querySelectorAll('table')[1].querySelectorAll('th')[3].click()";
    let mut sorted = first.clone();
    sorted.sort_by(f64::total_cmp);
    assert_ne!(first, sorted);
    browser.value(click);
    assert_eq!(column(&mut browser), sorted);
    browser.value(click);
    sorted.reverse();
    assert_eq!(column(&mut browser), sorted);
    browser.value(click);
    assert_eq!(column(&mut browser), first);
    // The clipboard of a browser without a window is replaced by one that can be read.
    let copied = browser.text(
        "new Promise((done) => { navigator.clipboard.writeText = (text) => { done(text); return Promise.resolve(); }; \
         document.querySelectorAll('.copy')[1].click(); })",
    );
    let lines: Vec<&str> = copied.lines().collect();
    assert_eq!(lines.len(), first.len() + 1, "{copied}");
    assert!(
        lines.iter().all(|line| line.matches('\t').count() == lines[0].matches('\t').count()),
        "{copied}"
    );
    assert!(!copied.contains(['\u{2007}', '\u{2008}', '\u{2212}']), "{copied}");
    assert!(browser.faults().is_empty(), "{:?}", browser.faults());
}

#[test]
fn nothing_in_a_name_is_run_on_a_page() {
    let name = "</script><script>alert('1')</script>&'\\\"";
    let rows: String = noise(40, 2)
        .iter()
        .enumerate()
        .map(|(t, value)| format!("{}-{:02},{value}\n", 2001 + t / 12, t % 12 + 1))
        .collect();
    let folder = Folder::with("a.csv", format!("month,\"{}\"\n{rows}", name.replace('"', "\"\"")));
    folder.run("plot a.csv --figure a.html").succeeds();
    let page = String::from_utf8(folder.read("a.html")).expect("text");
    assert_eq!(page.matches("<script>").count(), 2, "only its own");
    assert!(page.contains("default-src 'none'"));
    let Some(mut browser) = browser(&folder) else {
        return;
    };
    browser.open(&folder.path("a.html"));
    let at = place(&mut browser, 0.5, 0.5);
    browser.point(at);
    let read = readout(&mut browser);
    assert!(read.iter().any(|line| line.contains("<script>alert")), "{read:?}");
    assert!(browser.faults().is_empty(), "{:?}", browser.faults());
}
