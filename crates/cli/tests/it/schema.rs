//! The schemas in `docs/schema` are those of the types, and what the program writes
//! holds to them.

use std::path::Path;

use serde_json::Value;

use crate::harness::Folder;

/// A call of each command that fills as many fields as it can.
const CALLS: [&str; 17] = [
    "inspect demo:harbour",
    "inspect demo:messy.xlsx",
    "plot demo:harbour freight ice:d12",
    "plot demo:harbour ice --boxes",
    "plot demo:harbour ice --by-year",
    "transform demo:messy.csv freight:boxcox waiting[t-1] --gaps keep",
    "acf demo:harbour freight:ln,d1",
    "stationarity demo:harbour berth_fee claims",
    "acf demo:messy.csv waiting --gaps linear",
    "randomness demo:harbour claims waiting",
    "decompose demo:harbour ice",
    "decompose demo:gate lorries --seasons 7,365 --gaps keep",
    "decompose demo:harbour freight --method classical --kind multiplicative",
    "outliers demo:harbour ice tug_hours",
    "fit demo:harbour waiting claims --model (2,0,0)",
    "orders demo:harbour waiting --limit 2,2,1,1",
    "fit demo:harbour freight:ln --model (0,1,1)(0,1,1)12 --residuals",
];

fn schema(name: &str) -> Value {
    let known = kandrel::schemas();
    let text = known.iter().find(|(known, _)| *known == name).map(|(_, text)| text.clone());
    serde_json::from_str(&text.expect("a schema")).expect("JSON")
}

#[test]
fn the_committed_schemas_are_those_of_the_types() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/schema");
    for (name, text) in kandrel::schemas() {
        let committed = std::fs::read_to_string(folder.join(format!("{name}.json"))).unwrap_or_default();
        assert!(committed == text, "{name}: run cargo run -p xtask -- schema");
    }
    let files = std::fs::read_dir(folder).expect("the folder").count();
    assert_eq!(files, kandrel::schemas().len());
}

#[test]
fn what_the_program_writes_holds_to_its_schema() {
    for call in CALLS {
        let command = call.split(' ').next().unwrap_or("");
        let validator = jsonschema::validator_for(&schema(command)).expect("a valid schema");
        let json = Folder::new().json(call);
        let errors: Vec<String> = validator.iter_errors(&json).map(|error| error.to_string()).collect();
        assert!(errors.is_empty(), "{call}: {}", errors.join("; "));
        let mut without = json.clone();
        without["results"][0].as_object_mut().expect("a result").remove("series");
        without["results"][0].as_object_mut().expect("a result").remove("columns");
        assert!(!validator.is_valid(&without), "{call}: a missing field goes unseen");
    }
}
