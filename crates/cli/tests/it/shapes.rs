//! Long tables, SDMX-CSV and JSON records.

use std::fmt::Write as _;

use crate::harness::{Folder, monthly, scattered};

/// Two ports, two kinds of cargo, in shuffled order.
fn long() -> String {
    let mut text = "port,kind,month,tons\n".to_owned();
    for (t, value) in scattered(30).iter().enumerate() {
        for (kind, times) in [("dry", 1.0), ("liquid", 2.0)] {
            let month = format!("{:04}-{:02}", 2010 + t / 12, t % 12 + 1);
            let _ = writeln!(text, "north,{kind},{month},{}\nsouth,{kind},{month},{}", value * times, -value);
        }
    }
    text
}

#[test]
fn a_long_table_gives_the_same_results_as_a_wide_one() {
    let folder = Folder::with("long.csv", long());
    folder.write("wide.csv", monthly(&scattered(30)));
    let long = folder.json("acf long.csv dry --long kind:tons --pick port=north");
    let wide = folder.json("acf wide.csv x");
    assert_eq!(long["results"][0]["lags"], wide["results"][0]["lags"]);
    assert_eq!(long["data"]["first"], "2010-01");
}

#[test]
fn a_long_table_that_is_not_narrowed_says_how() {
    let folder = Folder::with("long.csv", long());
    let told = ["`dry` has two values in 2010-01 (lines 2 and 3)", "--pick port=north"];
    folder.run("acf long.csv dry --long kind:tons").fails(3, &told);
    folder.run("acf long.csv dry --long kindd:tons").fails(3, &["no column `kindd`", "did you mean `kind`?"]);
    for wrong in ["--long kind", "--pick port"] {
        let outcome = folder.run(&format!("acf long.csv dry {wrong}"));
        assert_eq!((outcome.status, outcome.stdout.as_str()), (2, ""), "{}", outcome.stderr);
    }
    let told = ["no row of long.csv has port=nroth", "did you mean port=north?"];
    folder.run("acf long.csv dry --long kind:tons --pick port=nroth").fails(3, &told);
}

#[test]
fn sdmx_csv_is_recognised() {
    let mut text = "DATAFLOW,FREQ,AREA,ADJUSTMENT,TIME_PERIOD,OBS_VALUE,OBS_STATUS,OBS_COM\n".to_owned();
    for (t, value) in scattered(24).iter().enumerate() {
        for area in ["N1", "S2"] {
            let _ =
                writeln!(text, "OB:D(1.0),Q,{area},NSA,{}-Q{},{value},A,\"a, b\"", 2000 + t / 4, t % 4 + 1);
        }
    }
    let folder = Folder::with("s.csv", text);
    let json = folder.json("acf s.csv N1");
    assert_eq!(json["data"]["frequency"], "quarterly");
    assert_eq!(json["results"][0]["observations"], 24);
    let one = folder.json("acf s.csv --pick AREA=S2");
    assert_eq!(one["results"][0]["lags"], json["results"][0]["lags"]);
    folder.run("acf s.csv").fails(2, &["which series?", "`N1` and `S2`"]);
}

#[test]
fn json_records_give_the_same_results_as_csv() {
    let values = scattered(30);
    let record = |(t, value): (usize, &f64)| {
        format!("{{\"month\": \"{:04}-{:02}\", \"x\": {value}}}", 2010 + t / 12, t % 12 + 1)
    };
    let records: Vec<String> = values.iter().enumerate().map(record).collect();
    let folder = Folder::with("list.json", format!("[{}]", records.join(",\n")));
    folder.write("lines.jsonl", records.join("\n"));
    folder.write("wide.csv", monthly(&values));
    let wide = folder.json("acf wide.csv x");
    for file in ["list.json", "lines.jsonl"] {
        assert_eq!(folder.json(&format!("acf {file}"))["results"], wide["results"], "{file}");
    }
    folder.run("transform wide.csv x x:d1 --out back.json").succeeds();
    let back = folder.json("acf back.json x");
    assert_eq!(back["results"], wide["results"]);
    let piped = folder.run_words(&["acf", "-", "--as", "json"], &records.join("\n"));
    assert_eq!(piped.status, 0, "{}", piped.stderr);
}

#[test]
fn bad_json_is_refused_with_its_place() {
    let folder = Folder::with("a.json", "[{\"month\": \"2004-01\", \"x\": 1},\n{\"month\": }]");
    folder.run("inspect a.json").fails(3, &["a.json, line 2", "not JSON"]);
    folder.write("b.json", "[{\"month\": \"2004-01\", \"x\": 1}, {\"month\": \"2004-02\", \"x\": [1]}]");
    folder.run("inspect b.json").fails(3, &["record 2", "`x` has more than one value"]);
    folder.write("c.json", "[{\"month\": \"2004-01\", \"x\": 1}, {\"month\": \"2004-02\", \"x\": \"y\"}]");
    folder.run("acf c.json x").fails(3, &["record 2", "\"y\" is not a number"]);
    folder.write("d.json", "{\"a\": 1, \"b\": [1, 2]}");
    folder.run("inspect d.json").fails(3, &["no list of records"]);
}
