//! `kandrel man`.

use crate::harness::Folder;

#[test]
fn the_manual_has_a_page_for_each_command() {
    let folder = Folder::new();
    let whole = folder.run("man");
    whole.succeeds();
    assert!(whole.stdout.contains(".TH") && whole.stdout.contains("stationarity"));
    folder.run("man --into pages").succeeds();
    let page = String::from_utf8(folder.read("pages/kandrel-acf.1")).expect("text");
    assert_eq!(page, folder.run("man acf").stdout);
    assert!(page.contains("kandrel\\-acf") || page.contains("kandrel-acf"), "{page}");
    assert!(page.contains("\\-\\-pacf"), "{page}");
    assert!(!folder.read("pages/kandrel-study.1").is_empty());
    folder.run("man --into pages").fails(2, &["exists already"]);
    folder.run("man dance").fails(2, &["there is no command dance"]);
}
