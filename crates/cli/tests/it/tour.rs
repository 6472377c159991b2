//! `kandrel tour`.

use crate::harness::Folder;

#[test]
fn the_tour_walks_through_every_command_and_leaves_figures_and_json() {
    let folder = Folder::new();
    std::fs::create_dir(folder.path("kandrel-tour")).expect("a folder");
    let outcome = folder.run("tour");
    outcome.succeeds();
    assert_eq!(folder.names(), ["kandrel-tour", "kandrel-tour-2"], "the folder there is left alone");
    for command in [
        "$ kandrel inspect",
        "$ kandrel acf",
        "$ kandrel stationarity",
        "$ kandrel plot",
        "$ kandrel decompose",
        "$ kandrel outliers",
        "$ kandrel orders",
        "$ kandrel fit demo:harbour freight:perday,ln --model '(0,1,1)(0,1,1)12'",
        "$ kandrel compare",
        "$ kandrel forecast",
        "$ kandrel cointegration",
        "$ kandrel lags",
        "$ kandrel ols",
        "$ kandrel screen",
        "$ kandrel study",
    ] {
        assert!(outcome.stdout.contains(command), "{command}");
    }
    assert!(outcome.stdout.contains("Every result is in kandrel-tour-2 as JSON"));
    let names = std::fs::read_dir(folder.path("kandrel-tour-2")).expect("the folder it names");
    let mut endings: Vec<String> = names
        .map(|name| {
            name.expect("an entry").path().extension().unwrap_or_default().to_string_lossy().into_owned()
        })
        .collect();
    endings.sort();
    let count = |ending: &str| endings.iter().filter(|e| *e == ending).count();
    assert_eq!(count("json"), 18);
    assert!(!folder.read("kandrel-tour-2/freight-report/report.html").is_empty());
    assert!(count("svg") >= 3 && count("svg") == count("png"));
    // Every JSON names the call that makes it again.
    let json = std::fs::read_to_string(folder.path("kandrel-tour-2/2-acf-waiting.json")).expect("a result");
    let written: serde_json::Value = serde_json::from_str(&json).expect("JSON");
    assert_eq!(written["kandrel"]["arguments"], serde_json::json!(["acf", "demo:harbour", "waiting"]));
    let again = folder.json("acf demo:harbour waiting");
    assert_eq!(written["results"], again["results"]);
}

#[test]
fn a_folder_with_files_in_it_is_left_alone() {
    let folder = Folder::new();
    std::fs::create_dir(folder.path("full")).expect("a folder");
    folder.write("full/precious", "x");
    folder.run("tour --into full").fails(2, &["full exists and is not an empty folder", "--into"]);
    assert_eq!(folder.names(), ["full"]);
    assert_eq!(folder.read("full/precious"), b"x");
}
