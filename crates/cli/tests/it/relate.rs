//! `kandrel relate`.

use serde_json::Value;

use crate::harness::{Folder, fits_80_columns, monthly, scattered};

fn cross(folder: &Folder, call: &str) -> Value {
    folder.json(&format!("relate {call}"))["results"][0]["cross"][0].clone()
}

#[test]
fn the_leader_is_found_raw_and_prewhitened() {
    let folder = Folder::new();
    for (more, raw) in [("--cross", true), ("--prewhiten", false)] {
        let call = format!("demo:harbour bookings sailings {more}");
        let found = cross(&folder, &call);
        assert_eq!(found["strongest"]["lag"], 2);
        assert_eq!(found["strongest"]["leads"], "bookings");
        assert_eq!(found["raw"].is_null(), raw);
        let output = folder.run(&format!("relate {call}"));
        output.succeeds();
        assert!(output.first_line().starts_with("bookings leads sailings by 2 months"), "{}", output.stdout);
        fits_80_columns(&output.stdout).expect("no wide line");
    }
    // The other way round the same lead has the other sign.
    let turned = cross(&folder, "demo:harbour sailings bookings --cross");
    assert_eq!(
        (&turned["strongest"]["lag"], &turned["strongest"]["leads"]),
        (&(-2).into(), &"bookings".into())
    );
}

#[test]
fn lags_run_to_both_sides_and_agree_with_the_autocorrelation() {
    let folder = Folder::new();
    let own = cross(&folder, "demo:harbour claims claims --cross --lags 6");
    let lags = own["lags"].as_array().expect("lags");
    let numbers: Vec<i64> = lags.iter().map(|one| one["lag"].as_i64().expect("a lag")).collect();
    assert_eq!(numbers, (-6..=6).collect::<Vec<_>>());
    let acf = folder.json("acf demo:harbour claims --lags 6")["results"][0]["lags"].clone();
    for k in 1..=6_usize {
        let expected = acf[k - 1]["acf"].as_f64().expect("a number");
        for place in [6 + k, 6 - k] {
            assert!((lags[place]["r"].as_f64().expect("a number") - expected).abs() < 1e-12);
        }
    }
    let band = own["band"].as_f64().expect("a number");
    assert!((band - 1.959_963_985 / 288_f64.sqrt()).abs() < 1e-9);
}

#[test]
fn trends_and_seasons_in_common_are_not_called_a_relation() {
    let folder = Folder::new();
    let season = folder.run("relate demo:harbour freight:ln ice --cross").running_text();
    assert!(season.contains("but both are seasonal with period 12, which alone can cause"), "{season}");
    assert!(season.contains("seasonal repetitions, not another lead-lag relation"), "{season}");
    let trend = folder.run("relate demo:harbour freight:ln berth_fee --cross").running_text();
    assert!(trend.contains("but both are non-stationary, which alone can cause"), "{trend}");
    let white = folder.run("relate demo:harbour freight:ln ice --prewhiten").running_text();
    assert!(
        white.starts_with("No significant cross-correlation of freight:ln and ice, after prewhitening"),
        "{white}"
    );
}

#[test]
fn a_matrix_has_levels_with_their_warning_and_changes() {
    let folder = Folder::new();
    let text = folder.run("relate demo:harbour freight berth_fee claims ice");
    text.succeeds();
    fits_80_columns(&text.stdout).expect("no wide line");
    let running = text.running_text();
    assert!(running.starts_with("The levels of freight, berth_fee and ice are non-stationary"), "{running}");
    assert!(running.contains("freight and ice are seasonal with period 12"), "{running}");
    let result = folder.json("relate demo:harbour freight berth_fee claims ice")["results"][0].clone();
    assert_eq!(result["nonstationary"], serde_json::json!(["freight", "berth_fee", "ice"]));
    assert_eq!(result["correlations"]["names"], serde_json::json!(["freight", "berth_fee", "claims", "ice"]));
    let (levels, changes) = (&result["correlations"], &result["changes"]);
    assert_eq!((&levels["observations"], &changes["observations"]), (&288.into(), &287.into()));
    for row in 0..4 {
        assert_eq!(levels["matrix"][row][row], 1.0);
        for column in 0..4 {
            assert_eq!(levels["matrix"][row][column], levels["matrix"][column][row]);
        }
    }
    // Asked for alone, the changes are the same ones.
    let alone =
        folder.json("relate demo:harbour freight berth_fee claims ice --changes")["results"][0].clone();
    assert_eq!(alone["correlations"]["matrix"], changes["matrix"]);
    assert!(alone["changes"].is_null() && alone["nonstationary"] == serde_json::json!([]));
}

#[test]
fn many_series_are_shown_as_their_closest_pairs() {
    let folder = Folder::new();
    let columns: Vec<Vec<f64>> = (0..10)
        .map(|k| scattered(60).iter().enumerate().map(|(t, v)| v + ((t * (k + 3)) % 17) as f64).collect())
        .collect();
    let head: String = (0..10).map(|k| format!(",s{k}")).collect();
    let rows: String = (0..60)
        .map(|t| {
            format!(
                "{}-{:02}{}\n",
                2001 + t / 12,
                t % 12 + 1,
                columns.iter().map(|c| format!(",{}", c[t])).collect::<String>()
            )
        })
        .collect();
    folder.write("wide.csv", format!("month{head}\n{rows}"));
    let names: Vec<String> = (0..10).map(|k| format!("s{k}")).collect();
    let text = folder.run(&format!("relate wide.csv {}", names.join(" ")));
    text.succeeds();
    assert!(text.stdout.contains("the closest 20 of 45 pairs"), "{}", text.stdout);
    fits_80_columns(&text.stdout).expect("no wide line");
    folder.run(&format!("relate wide.csv {} --figure m.svg", names.join(" "))).succeeds();
    folder
        .run(&format!("relate wide.csv {} --cross --figure c.svg", names.join(" ")))
        .fails(2, &["45 pairs are too many for one figure"]);
}

#[test]
fn only_the_periods_in_common_are_used() {
    let folder = Folder::new();
    folder.write("x.csv", "month,a,b\n2001-01,1,\n2001-02,4,\n2001-03,2,5\n2001-04,7,3\n2001-05,1,8\n2001-06,6,2\n2001-07,3,4\n2001-08,,9\n");
    let result = folder.json("relate x.csv a b")["results"][0].clone();
    assert_eq!(result["correlations"]["observations"], 5);
    assert_eq!((&result["first"], &result["last"]), (&"2001-03".into(), &"2001-07".into()));
    // 2 7 1 6 3 against 5 3 8 2 4, by hand: Σxy = -18.6, over √(26.8 · 21.2).
    let r = result["correlations"]["matrix"][0][1].as_f64().expect("a number");
    let expected = (10.0 + 21.0 + 8.0 + 12.0 + 12.0 - 5.0 * 3.8 * 4.4) / (26.8_f64 * 21.2).sqrt();
    assert!((r - expected).abs() < 1e-12, "{r} {expected}");
    folder.write("apart.csv", "month,a,b\n2001-01,1,\n2001-02,4,\n2001-03,,5\n2001-04,,3\n");
    folder.run("relate apart.csv a b").fails(3, &["no period in common"]);
}

#[test]
fn scatter_panels_have_their_r_their_line_and_on_request_a_curve() {
    let folder = Folder::new();
    let result =
        folder.json("relate demo:harbour bookings sailings --scatter --lags 3 --curve")["results"][0].clone();
    let panels = result["scatter"]["panels"].as_array().expect("panels");
    assert_eq!(panels.len(), 4);
    assert!(panels[2]["r"].as_f64().expect("a number") > 0.94);
    assert_eq!(panels[2]["observations"], 286);
    // A rising cloud has a rising curve.
    let curve = panels[2]["curve"].as_array().expect("a curve");
    let heights: Vec<f64> = curve.iter().map(|point| point[1].as_f64().expect("a number")).collect();
    assert!(heights.len() > 20 && heights.windows(2).all(|pair| pair[1] > pair[0]));
    // The residuals of a least-squares line sum to zero, by themselves and times the regressor.
    let line = &panels[2]["line"];
    let of = |value: &Value| value.as_f64().expect("a number");
    let points = panels[2]["points"].as_array().expect("points").iter().map(|one| (of(&one[0]), of(&one[1])));
    let (sum, product) = points.fold((0.0, 0.0), |(sum, product), (x, y)| {
        let residual = y - of(&line["intercept"]) - of(&line["slope"]) * x;
        (sum + residual, product + residual * x)
    });
    assert!(sum.abs() < 1e-8 && product.abs() < 1e-6, "{sum} {product}");
    assert!(line["band"].as_array().is_some_and(|band| band.len() == 60));
    // Without lags there are nine panels around the strongest, and no curve.
    let usual = folder.json("relate demo:harbour bookings sailings --scatter")["results"][0].clone();
    let panels = usual["scatter"]["panels"].as_array().expect("panels");
    let lags: Vec<u64> = panels.iter().filter_map(|panel| panel["lag"].as_u64()).collect();
    assert_eq!(lags, (0..9).collect::<Vec<u64>>());
    assert_eq!(panels[0]["curve"].as_array().map(Vec::len), Some(0));
    let own = folder.run("relate demo:harbour waiting --scatter").running_text();
    assert!(own.starts_with("waiting is closest to itself 1 month earlier: r = 0.72."), "{own}");
}

#[test]
fn every_figure_is_drawn() {
    let folder = Folder::new();
    for (name, call) in [
        ("pair", "bookings sailings --cross --prewhiten"),
        ("raw", "bookings sailings --cross"),
        ("grid", "bookings sailings claims waiting --cross"),
        ("matrix", "bookings sailings claims"),
        ("scatter", "bookings sailings --scatter"),
        ("own", "waiting --scatter"),
    ] {
        folder.run(&format!("relate demo:harbour {call} --figure {name}.svg")).succeeds();
        let text = String::from_utf8(folder.read(&format!("{name}.svg"))).expect("text");
        assert!(text.len() > 5000 && !text.contains("NaN"), "{name}");
    }
    // Each of two functions has 49 bars with their titles.
    let pair = String::from_utf8(folder.read("pair.svg")).expect("text");
    assert_eq!(pair.matches("<title>lag ").count(), 98);
}

#[test]
fn the_terminal_has_the_function_as_bars() {
    let output = Folder::new().run("relate demo:harbour bookings sailings --cross --chart");
    output.succeeds();
    assert!(output.stdout.contains("how many months bookings is ahead of sailings"), "{}", output.stdout);
    fits_80_columns(&output.stdout).expect("no wide line");
}

#[test]
fn what_cannot_be_related_is_refused() {
    let folder = Folder::with("x.csv", monthly(&scattered(40)));
    folder.run("relate x.csv").fails(2, &["at least two series"]);
    folder.run("relate demo:harbour claims waiting ice --scatter").fails(2, &["takes one series, or two"]);
    folder
        .run("relate demo:harbour claims waiting --cross --lags 288")
        .fails(2, &["--lags", "between 1 and 287"]);
    folder.run("relate demo:harbour claims waiting --scatter --lags 30").fails(2, &["at most 24"]);
    folder.write("flat.csv", "t,a,b\n2001,1,3\n2002,4,3\n2003,2,3\n2004,7,3\n2005,1,3\n2006,6,3\n");
    folder.run("relate flat.csv a b").fails(3, &["flat.csv, b", "constant"]);
    let line: String = (0..40).map(|t| format!("{},{t},{}\n", 1950 + t, (t * 7) % 11)).collect();
    folder.write("line.csv", format!("year,a,b\n{line}"));
    folder.run("relate line.csv a b --prewhiten").fails(4, &["exactly predictable", "leave out --prewhiten"]);
}

#[test]
fn of_two_series_the_lead_after_prewhitening_is_in_the_first_sentence() {
    let folder = Folder::new();
    let text = folder.run("relate demo:harbour bookings sailings").running_text();
    assert!(text.starts_with("bookings leads sailings by 2 months (r = 0.89 after prewhitening)"), "{text}");
    // The number is that of the function itself.
    let of = |call: &str| folder.json(call)["results"][0].clone();
    let own = of("relate demo:harbour bookings sailings")["lead"].clone();
    let cross = of("relate demo:harbour bookings sailings --cross --prewhiten")["cross"][0].clone();
    assert_eq!(own["strongest"], cross["strongest"]);
    assert_eq!(own["raw"], cross["raw"]["strongest"]);
    assert_eq!(own["of_differences"], false);
    let turned = folder.run("relate demo:harbour sailings bookings").running_text();
    assert!(turned.starts_with("bookings leads sailings by 2 months"), "{turned}");
    // Levels with unit roots are differenced before.
    let levels = folder.run("relate demo:region wages rents");
    let words = levels.running_text();
    assert!(
        words.contains("non-stationary") && words.contains("in first differences there is no"),
        "{words}"
    );
    assert!(levels.stdout.contains("kandrel cointegration demo:region wages rents"), "{words}");
    assert_eq!(of("relate demo:region wages rents")["lead"]["of_differences"], true);
    assert!(of("relate demo:harbour bookings sailings claims")["lead"].is_null());
}

#[test]
fn a_scatter_of_levels_with_unit_roots_is_no_lead_and_has_the_numbers_of_the_cross_correlation() {
    let folder = Folder::new();
    let text = folder.run("relate demo:region wages rents --scatter").running_text();
    assert!(
        text.starts_with("The levels of wages and rents are non-stationary") && text.contains("--changes"),
        "{text}"
    );
    let result = |more: &str| {
        folder.json(&format!("relate demo:harbour bookings sailings {more}"))["results"][0].clone()
    };
    let (scatter, cross) = (result("--scatter --lags 3"), result("--cross --lags 3"));
    for (lag, panel) in scatter["scatter"]["panels"].as_array().expect("panels").iter().enumerate() {
        let all = cross["cross"][0]["lags"].as_array().expect("lags");
        let same = all.iter().find(|one| one["lag"].as_u64() == Some(lag as u64)).expect("the lag");
        let (ours, theirs) = (panel["r"].as_f64().expect("a number"), same["r"].as_f64().expect("a number"));
        assert!((ours - theirs).abs() < 1e-12, "{lag}: {ours} {theirs}");
    }
}
