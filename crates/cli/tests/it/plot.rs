//! `kandrel plot`.

use crate::harness::{Folder, fits_80_columns, monthly, noise, scattered};

/// A rising series with a season of twelve whose peak is in July.
fn seasonal() -> Vec<f64> {
    (0..60_u32)
        .map(|t| {
            let angle = std::f64::consts::TAU * (f64::from(t % 12) - 6.0) / 12.0;
            100.0 + f64::from(t) + 20.0 * angle.cos()
        })
        .collect()
}

fn folder() -> Folder {
    let folder = Folder::with("x.csv", monthly(&seasonal()));
    let two = monthly(&scattered(40)).replace(",x", ",y");
    folder.write("y.csv", two);
    folder
}

#[test]
fn the_first_sentence_says_where_the_extremes_are() {
    let outcome = folder().run("plot x.csv");
    outcome.succeeds();
    assert!(
        outcome.first_line().starts_with("x lies between 80.00 (2010-01) and 174.0 (2014-07)"),
        "{}",
        outcome.stdout
    );
    fits_80_columns(&outcome.stdout).expect("no wide line");
}

#[test]
fn of_two_series_it_says_which_lies_above() {
    let folder = folder();
    let outcome = folder.run_words(&["plot", "x.csv", "x", "2 * x - 120"], "");
    outcome.succeeds();
    let above = seasonal().iter().filter(|x| **x > 2.0 * **x - 120.0).count();
    let wanted = if 2 * above >= 60 {
        format!("x lies above 2 * x - 120 in {above} of 60 months")
    } else {
        format!("2 * x - 120 lies above x in {} of 60 months", 60 - above)
    };
    let text = outcome.running_text();
    assert!(text.starts_with(&format!("{wanted}, without a change since 2013-03.")), "{text}");
}

#[test]
fn seasons_are_summed_up_by_the_month() {
    let json = folder().json("plot x.csv --by-season");
    let places = json["results"][0]["positions"].as_array().expect("places");
    assert_eq!(places.len(), 12);
    // July of five years: 100 + t + 20 for t = 6, 18, .. 54.
    assert_eq!(places[6]["place"], "Jul");
    assert_eq!((&places[6]["mean"], &places[6]["max_at"]), (&150.0.into(), &"2014-07".into()));
    assert_eq!(places[6]["median"], 150.0);
    let outcome = folder().run("plot x.csv --boxes");
    assert!(outcome.first_line().starts_with("x is highest in Jul (mean 150.0) and lowest in Jan"));
    let json = folder().json("plot x.csv --by-year");
    assert_eq!(json["results"][0]["years"][4]["year"], "2014");
    assert_eq!(json["results"][0]["years"][4]["max_at"], "2014-07");
}

#[test]
fn every_kind_of_figure_is_written_in_both_forms() {
    let folder = folder();
    for (number, kind) in
        ["", "--panels", "--with d12", "--by-season", "--by-year", "--boxes", "--size 900x500 --title Waves"]
            .iter()
            .enumerate()
    {
        for form in ["svg", "png"] {
            let name = format!("f{number}.{form}");
            folder.run(&format!("plot x.csv x x:ln {kind} --figure {name}")).succeeds();
            let bytes = folder.read(&name);
            if form == "png" {
                assert!(bytes.starts_with(b"\x89PNG"), "{kind}");
            } else {
                let text = String::from_utf8(bytes).expect("text");
                assert!(text.contains("aria-label=\"x:ln") && !text.contains("NaN"), "{kind}");
            }
        }
    }
    let text = String::from_utf8(folder.read("f6.svg")).expect("text");
    assert!(text.contains("width=\"900\" height=\"500\"") && text.contains("<title>Waves</title>"));
}

#[test]
fn gaps_are_left_open_in_lines() {
    let folder = Folder::with("x.csv", "year,x\n2000,1\n2001,2\n2003,4\n2004,7\n2005,1\n2007,3\n");
    folder.run("plot x.csv --figure x.svg").succeeds();
    let text = String::from_utf8(folder.read("x.svg")).expect("text");
    assert_eq!(text.matches("<polyline").count(), 2, "two lines and a dot");
    assert!(folder.json("plot x.csv")["results"][0]["missing"] == 2);
    folder.run("plot x.csv --gaps refuse").fails(3, &["missing in 2002, 2006"]);
    folder.run("plot x.csv --gaps linear --figure filled.svg");
    let text = String::from_utf8(folder.read("filled.svg")).expect("text");
    assert_eq!(text.matches("<polyline").count(), 1);
}

#[test]
fn charts_are_drawn_where_they_are_asked_for() {
    let folder = folder();
    assert!(folder.run("plot x.csv").stdout.lines().count() < 8);
    for kind in ["", "--by-season", "--boxes", "--by-year", "--with d1"] {
        let chart = folder.run(&format!("plot x.csv --ascii {kind}"));
        chart.succeeds();
        assert!(chart.stdout.lines().count() > 18, "{kind}: {}", chart.stdout);
        fits_80_columns(&chart.stdout).expect("no wide line");
    }
    let ascii = folder.run("plot x.csv --ascii").stdout;
    let body: String = ascii.lines().skip(2).take(15).collect();
    assert!(body.is_ascii(), "{body}");
}

#[test]
fn wrong_calls_say_what_to_do() {
    let folder = folder();
    folder.run("plot x.csv --with q7").fails(2, &["q7"]);
    folder.write("year.csv", "year,x\n2000,1\n2001,2\n2002,4\n");
    folder.run("plot year.csv --by-season").fails(2, &["Annual data have no season", "--season"]);
    let many = vec!["x"; 25].join(" ");
    folder.run(&format!("plot x.csv {many}")).fails(2, &["25 series are too many"]);
    let sized = folder.run("plot x.csv --figure a.svg --size 10x10");
    assert_eq!(sized.status, 2, "{}", sized.stderr);
}

#[test]
fn a_season_of_another_length_counts_from_the_start() {
    let json = folder().json("plot x.csv --by-season --season 5");
    let places = json["results"][0]["positions"].as_array().expect("places");
    assert_eq!(places.len(), 5);
    assert_eq!((&places[0]["place"], &places[0]["observations"]), (&"1".into(), &12.into()));
}

#[test]
fn of_two_series_it_says_since_when_the_order_is_what_it_is() {
    let rows: String = (0..24)
        .map(|t| format!("{}-{:02},{},{}\n", 2010 + t / 12, t % 12 + 1, if t < 17 { 5 } else { 1 }, 3))
        .collect();
    let folder = Folder::with("two.csv", format!("month,long,short\n{rows}"));
    let text = folder.run("plot two.csv long short").running_text();
    assert!(
        text.starts_with("long lies above short in 17 of 24 months; short lies above since 2011-06."),
        "{text}"
    );
    let text = folder.run("plot two.csv long short --sample ..2011-05").running_text();
    assert!(text.starts_with("long lies above short in all 17 months."), "{text}");
    let text = folder.run("plot two.csv long short --sample 2011-04..2011-12").running_text();
    assert!(
        text.starts_with("short lies above long in 7 of 9 months, without a change since 2011-06."),
        "{text}"
    );
}

#[test]
fn several_series_are_headed_by_their_differences_and_panels_combine_with_a_step() {
    let folder = folder();
    let text = folder.run("plot demo:harbour freight claims ice --panels").running_text();
    assert!(
        text.starts_with(
            "Differences: (d, D) = (1, 1) for freight; d = 0 for claims; (d, D) = (0, 1) for ice."
        ),
        "{text}"
    );
    folder.run("plot demo:harbour freight claims --panels --with d1 --figure a.svg").succeeds();
    let figure = String::from_utf8(folder.read("a.svg")).expect("UTF-8");
    for panel in ["freight", "freight:d1", "claims", "claims:d1"] {
        assert!(figure.contains(&format!("aria-label=\"{panel}\"")), "{panel}");
    }
}

#[test]
fn the_season_of_a_trending_series_is_read_from_its_average_and_not_from_the_trend() {
    // The first quarter is highest, yet the fourth has the highest mean by the trend alone.
    let rows: String = noise(80, 4)
        .iter()
        .zip(0..)
        .map(|(e, t): (&f64, i32)| {
            let season = [1.0, -1.0, -0.5, 0.5][usize::try_from(t % 4).expect("a quarter")];
            format!("{}-Q{},{:.4}\n", 1990 + t / 4, t % 4 + 1, 2.0 * f64::from(t) + season + 0.1 * e)
        })
        .collect();
    let folder = Folder::with("q.csv", format!("quarter,x\n{rows}"));
    let outcome = folder.run("plot q.csv x --by-season");
    let text = outcome.running_text();
    assert!(text.starts_with("Relative to its centred average over a season x is highest in Q1"), "{text}");
    let json = folder.json("plot q.csv x --by-season");
    let places = json["results"][0]["positions"].as_array().expect("places");
    let of = |field: &str| -> Vec<f64> { places.iter().filter_map(|one| one[field].as_f64()).collect() };
    let highest = |all: &[f64]| (0..all.len()).max_by(|a, b| all[*a].total_cmp(&all[*b]));
    assert_eq!((highest(&of("mean")), highest(&of("deviation"))), (Some(3), Some(0)));
}
